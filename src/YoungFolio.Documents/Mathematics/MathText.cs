using System.Text;
using YoungFolio.Documents;

namespace YoungFolio.Documents.Mathematics;

/// <summary>Formulas as plain text: for outlines, findings and the words of changes.</summary>
internal static class MathText
{
    public static void Append(StringBuilder text, MathList list)
    {
        foreach (MathNode node in list.Nodes)
        {
            if (node is Atom atom)
            {
                AppendNucleus(text, atom.Nucleus);
                if (atom.Superscript is { } sup)
                {
                    text.Append('^');
                    Append(text, sup);
                }

                if (atom.Subscript is { } sub)
                {
                    text.Append('_');
                    Append(text, sub);
                }
            }
            else if (node is MathGlue)
            {
                text.Append(' ');
            }
        }
    }

    private static void AppendNucleus(StringBuilder text, Nucleus nucleus)
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
                Append(text, fraction.Numerator);
                text.Append('/');
                Append(text, fraction.Denominator);
                break;
            case RadicalNucleus radical:
                text.Append('√');
                Append(text, radical.Radicand);
                break;
            case DelimitedNucleus delimited:
                text.Append(delimited.Left);
                Append(text, delimited.Content);
                text.Append(delimited.Right);
                break;
            case MiddleNucleus middle:
                text.Append(middle.Text);
                break;
            case ArrowNucleus arrow:
                text.Append(arrow.Sign);
                Append(text, arrow.Above);
                Append(text, arrow.Below);
                break;
            case ChoiceNucleus choice:
                Append(text, choice.Choices[1]);
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
                    Append(text, content);
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
