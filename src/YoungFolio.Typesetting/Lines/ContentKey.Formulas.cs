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
                    Add(glue.VanishesInScripts);
                    break;
                case MathPenalty penalty:
                    Add(-4);
                    Add(penalty.Penalty);
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
                Add(symbol.IsBold);
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
                Add(fraction.Thickness ?? -1);
                Add(fraction.NumeratorAlignment);
                Add(fraction.IsContinued);
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
                Add(grid.SideGap);
                Add(grid.IsPaired);
                Add(grid.PairGap);
                Add(grid.IsSmall);
                Add(grid.Vertical);
                Add(grid.RowAlignments);
                Add(grid.RowGaps.Count);
                foreach (double gap in grid.RowGaps)
                {
                    Add(gap);
                }

                Add(grid.Lines.Count);
                foreach (int line in grid.Lines)
                {
                    Add(line);
                }

                Add(grid.Rules.Count);
                foreach (int rule in grid.Rules)
                {
                    Add(rule);
                }

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
            case MiddleNucleus middle:
                Add(11);
                Add(middle.Text);
                break;
            case StretchNucleus stretch:
                Add(12);
                Add(stretch.Sign);
                Add(stretch.IsOver);
                Add(stretch.Content);
                break;
            case ArrowNucleus arrow:
                Add(13);
                Add(arrow.Sign);
                Add(arrow.Above);
                Add(arrow.Below);
                break;
            case RoomNucleus room:
                Add(14);
                Add(room.IsHidden);
                Add((room.KeepsWidth ? 1 : 0) | (room.KeepsHeight ? 2 : 0) | (room.KeepsDepth ? 4 : 0));
                Add(room.Side);
                Add(room.Content);
                break;
            case ColourNucleus colour:
                Add(15);
                Add(colour.Colour);
                Add(colour.Content);
                break;
            case StrikeNucleus strike:
                Add(16);
                Add(strike.Strokes);
                Add(strike.Content);
                break;
            case ChoiceNucleus choice:
                Add(17);
                foreach (MathList list in choice.Choices)
                {
                    Add(list);
                }

                break;
            case LeftScriptsNucleus scripts:
                Add(18);
                Add(scripts.Superscript);
                Add(scripts.Subscript);
                Add(scripts.Content);
                break;
            default:
                _isWhole = false;
                break;
        }
    }
}
