using YoungFolio.Manuscript.Mathematics;

namespace YoungFolio.Typesetting.Lines;

// Formulas: lists, atoms and what stands in them.
internal sealed partial class ContentKey
{
    private void Add(MathList? list)
    {
        Add(list?.Nodes.Count ?? -1);
        foreach (MathNode node in list?.Nodes ?? [])
        {
            AddPosition(node.Position);
            switch (node)
            {
                case Atom atom:
                    Add(((int)atom.Class << 8) | (int)atom.Limits);
                    Add(atom.Nucleus);
                    Add(atom.Superscript);
                    Add(atom.Subscript);
                    break;
                case MathGlue glue:
                    Add(-2);
                    Add(glue.Width);
                    Add(glue.IsInPoints);
                    break;
                case SizeChange size:
                    Add(-3);
                    Add((int)size.Size);
                    break;
                default:
                    _isWhole = false;
                    break;
            }
        }
    }

    private void Add(Nucleus nucleus)
    {
        switch (nucleus)
        {
            case SymbolNucleus symbol:
                Add(1);
                Add(symbol.Text);
                Add(symbol.IsLarge);
                Add(symbol.Height);
                break;
            case ListNucleus list:
                Add(2);
                Add(list.Content);
                break;
            case WordNucleus word:
                Add(3);
                Add(word.Text);
                break;
            case TextNucleus text:
                Add(4);
                Add(text.Content, false);
                break;
            case FractionNucleus fraction:
                Add(5);
                Add(fraction.HasRule);
                Add(fraction.Left);
                Add(fraction.Right);
                Add(fraction.Size is { } size ? (int)size : -1);
                Add(fraction.Numerator);
                Add(fraction.Denominator);
                break;
            case RadicalNucleus radical:
                Add(6);
                Add(radical.Radicand);
                Add(radical.Degree);
                break;
            case DelimitedNucleus delimited:
                Add(7);
                Add(delimited.Left);
                Add(delimited.Right);
                Add(delimited.Content);
                break;
            case AccentNucleus accent:
                Add(8);
                Add(accent.Accent);
                Add(accent.Grows);
                Add(accent.Content);
                break;
            case BarNucleus bar:
                Add(9);
                Add(bar.IsOver);
                Add(bar.Content);
                break;
            case GridNucleus grid:
                Add(10);
                Add(grid.Columns);
                Add(grid.ColumnGap);
                Add(grid.InDisplay);
                Add(grid.Rows.Count);
                foreach (IReadOnlyList<MathList> row in grid.Rows)
                {
                    Add(row.Count);
                    foreach (MathList cell in row)
                    {
                        Add(cell);
                    }
                }

                break;
            default:
                _isWhole = false;
                break;
        }
    }
}
