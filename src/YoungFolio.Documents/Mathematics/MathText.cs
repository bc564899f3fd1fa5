using System.Text;
using YoungFolio.Documents;

namespace YoungFolio.Documents.Mathematics;

/// <summary>Formulas as plain text: for outlines, findings and the words of changes.</summary>
internal static class MathText
{
    /// <summary>Adds a formula's signs.</summary>
    /// <param name="text">Takes them.</param>
    /// <param name="list">The formula.</param>
    /// <param name="isWhole">Whether nothing may be lost: what belongs together stands in parentheses, and accents and rows are told.</param>
    public static void Append(StringBuilder text, MathList list, bool isWhole = false)
    {
        foreach (MathNode node in list.Nodes)
        {
            if (node is Atom atom)
            {
                AppendNucleus(text, atom.Nucleus, isWhole);
                if (atom.Superscript is { } sup)
                {
                    text.Append('^');
                    Part(text, sup, isWhole);
                }

                if (atom.Subscript is { } sub)
                {
                    text.Append('_');
                    Part(text, sub, isWhole);
                }
            }
            else if (node is MathGlue)
            {
                text.Append(' ');
            }
        }
    }

    private static void Part(StringBuilder text, MathList list, bool isWhole)
    {
        // A number is one without parentheses, too.
        bool isGroup = isWhole && list.Nodes.Count(static n => n is Atom) > 1 && !list.Nodes.All(static n => n is Atom { Nucleus: SymbolNucleus { Text: [(>= '0' and <= '9') or '.'] }, Superscript: null, Subscript: null });
        text.Append(isGroup ? "(" : "");
        Append(text, list, isWhole);
        text.Append(isGroup ? ")" : "");
    }

    private static void AppendNucleus(StringBuilder text, Nucleus nucleus, bool isWhole)
    {
        switch (nucleus)
        {
            case SymbolNucleus symbol:
                text.Append(symbol.Text.Normalize(NormalizationForm.FormKC));
                break;
            case WordNucleus word:
                text.Append(word.Text);
                break;
            case TextNucleus words:
                text.Append(PlainText.Of(words.Content));
                break;
            case FractionNucleus fraction:
                Part(text, fraction.Numerator, isWhole);
                text.Append(fraction.HasRule || !isWhole ? '/' : ' ');
                Part(text, fraction.Denominator, isWhole);
                break;
            case RadicalNucleus { Degree: { } degree } root when isWhole:
                text.Append("root_");
                Part(text, degree, true);
                Part(text, root.Radicand, true);
                break;
            case RadicalNucleus radical:
                text.Append('√');
                Part(text, radical.Radicand, isWhole);
                break;
            case DelimitedNucleus delimited:
                text.Append(delimited.Left);
                Append(text, delimited.Content, isWhole);
                text.Append(delimited.Right);
                break;
            case MiddleNucleus middle:
                text.Append(middle.Text);
                break;
            case ArrowNucleus arrow:
                text.Append(arrow.Sign);
                Part(text, arrow.Above, isWhole);
                Part(text, arrow.Below, isWhole);
                break;
            case ChoiceNucleus choice:
                Append(text, choice.Choices[1], isWhole);
                break;
            case GridNucleus grid when isWhole:
                for (int row = 0; row < grid.Rows.Count; row++)
                {
                    text.Append(row == 0 ? "" : "; ");
                    for (int cell = 0; cell < grid.Rows[row].Count; cell++)
                    {
                        text.Append(cell == 0 ? "" : ", ");
                        Append(text, grid.Rows[row][cell], true);
                    }
                }

                break;
            case AccentNucleus accent when isWhole:
                Part(text, accent.Content, true);
                text.Append(accent.Accent);
                break;
            case BarNucleus bar when isWhole:
                Part(text, bar.Content, true);
                text.Append(bar.IsOver ? '\u0305' : '\u0332');
                break;
            case LeftScriptsNucleus scripts when isWhole:
                foreach ((char sign, MathList? script) in ((char, MathList?)[])[('^', scripts.Superscript), ('_', scripts.Subscript)])
                {
                    if (script is not null)
                    {
                        text.Append(sign);
                        Part(text, script, true);
                    }
                }

                Append(text, scripts.Content, true);
                break;
            case GridNucleus grid:
                foreach (MathList cell in grid.Rows.SelectMany(r => r))
                {
                    Append(text, cell);
                    text.Append(' ');
                }

                break;
            default:
                if (Inside(nucleus) is { } content)
                {
                    Append(text, content, isWhole);
                }

                break;
        }
    }

    /// <summary>The formula that a nucleus only dresses; null for one of several parts, or one that isn't shown.</summary>
    private static MathList? Inside(Nucleus nucleus) => nucleus switch
    {
        ListNucleus list => list.Content,
        AccentNucleus accent => accent.Content,
        BarNucleus bar => bar.Content,
        StretchNucleus stretch => stretch.Content,
        PhantomNucleus { IsHidden: false } room => room.Content,
        ColourNucleus colour => colour.Content,
        StrikeNucleus strike => strike.Content,
        LeftScriptsNucleus scripts => scripts.Content,
        _ => null,
    };
}
