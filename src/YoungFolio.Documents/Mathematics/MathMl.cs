using System.Globalization;
using System.Xml.Linq;
using YoungFolio.Documents;
using YoungFolio.Markup;

namespace YoungFolio.Documents.Mathematics;

/// <summary>Writes formulas as MathML (W3C, MathML Core): for readers who listen, and to compare formulas by what they say.</summary>
public static class MathMl
{
    private static readonly XNamespace s_space = "http://www.w3.org/1998/Math/MathML";

    /// <summary>The whole <c>math</c> element.</summary>
    /// <param name="formula">The formula.</param>
    /// <param name="isDisplay">Whether it is displayed.</param>
    public static XElement Element(MathList formula, bool isDisplay) => new(s_space + "math",
        isDisplay ? new XAttribute("display", "block") : null, Row(formula));

    /// <summary>The <c>math</c> element of a formula in the line, as text.</summary>
    public static string Of(MathList formula) => Element(formula, false).ToString(SaveOptions.DisableFormatting);

    /// <summary>The <c>math</c> element of a display whose rows are one formula, as text.</summary>
    /// <param name="rows">The cells of each row.</param>
    public static string Of(IReadOnlyList<IReadOnlyList<MathList>> rows)
    {
        ArgumentNullException.ThrowIfNull(rows);
        XElement whole = rows is [var one] ? Element(new MathList([.. one.SelectMany(static c => c.Nodes)]), true)
            : New("math", new XAttribute("display", "block"), New("mtable", new XAttribute("displaystyle", "true"), rows.Select(static r => New("mtr", r.Select(static c => New("mtd", Row(c)))))));
        return whole.ToString(SaveOptions.DisableFormatting);
    }

    private static XElement New(string name, params object?[] content) => new(s_space + name, content);

    // One element stays alone; more of them, or none, stand in a row.
    private static XElement Row(MathList list)
    {
        List<XElement> elements = Elements(list.Nodes);
        return elements.Count == 1 ? elements[0] : New("mrow", elements);
    }

    private static List<XElement> Elements(IReadOnlyList<MathNode> nodes)
    {
        var result = new List<XElement>();
        for (int i = 0; i < nodes.Count; i++)
        {
            switch (nodes[i])
            {
                case Atom atom when IsFigure(atom):
                    i = AddNumber(nodes, i, result);
                    break;
                case Atom atom:
                    result.Add(Scripts(Nucleus(atom), atom));
                    break;
                case MathGlue glue:
                    result.Add(New("mspace", new XAttribute("width",
                        string.Create(CultureInfo.InvariantCulture, $"{(glue.IsInPoints ? glue.Width / 10 : glue.Width / 18):0.###}em"))));
                    break;
                case SizeChange change:
                    result.Add(New("mstyle", new XAttribute("displaystyle", change.Size == MathSize.Display ? "true" : "false"),
                        new XAttribute("scriptlevel", Math.Max(0, (int)change.Size - 1)), Elements([.. nodes.Skip(i + 1)])));
                    return result;
            }
        }

        return result;
    }

    private static bool IsFigure(Atom atom) => atom is { Nucleus: SymbolNucleus { Text: [var c] } } && char.IsAsciiDigit(c);

    // Figures with the points between them are one number; only the last may carry scripts.
    private static int AddNumber(IReadOnlyList<MathNode> nodes, int first, List<XElement> result)
    {
        int last = first;
        string number = Text(first);
        while (IsBare(last) && last + 1 < nodes.Count && nodes[last + 1] is Atom next)
        {
            bool isPoint = Text(last + 1) == "." && IsBare(last + 1) && last + 2 < nodes.Count && nodes[last + 2] is Atom after && IsFigure(after);
            if (!isPoint && !IsFigure(next))
            {
                break;
            }

            last++;
            number += Text(last);
        }

        result.Add(Scripts(New("mn", number), (Atom)nodes[last]));
        return last;

        string Text(int i) => nodes[i] is Atom { Nucleus: SymbolNucleus symbol } ? symbol.Text : "";

        bool IsBare(int i) => nodes[i] is Atom { Superscript: null, Subscript: null };
    }

    private static XElement Scripts(XElement nucleus, Atom atom)
    {
        bool above = atom.Limits == Limits.Always || (atom.Class == AtomClass.Operator && atom.Limits != Limits.Never);
        return (atom.Subscript, atom.Superscript) switch
        {
            ({ } sub, { } sup) => New(above ? "munderover" : "msubsup", nucleus, Row(sub), Row(sup)),
            ({ } sub, null) => New(above ? "munder" : "msub", nucleus, Row(sub)),
            (null, { } sup) => New(above ? "mover" : "msup", nucleus, Row(sup)),
            _ => nucleus,
        };
    }

    private static XElement Nucleus(Atom atom) => atom.Nucleus switch
    {
        SymbolNucleus symbol => Symbol(symbol.Text, atom.Class),
        WordNucleus word => New("mi", word.Text),
        ListNucleus list => Row(list.Content),
        TextNucleus text => New("mtext", PlainText.Of(text.Content)),
        FractionNucleus fraction => Fraction(fraction),
        RadicalNucleus { Degree: { } degree } radical => New("mroot", Row(radical.Radicand), Row(degree)),
        RadicalNucleus radical => New("msqrt", Row(radical.Radicand)),
        DelimitedNucleus delimited => New("mrow", Fence(delimited.Left), Row(delimited.Content), Fence(delimited.Right)),
        AccentNucleus accent => New("mover", new XAttribute("accent", "true"), Row(accent.Content), New("mo", accent.Accent)),
        BarNucleus bar => New(bar.IsOver ? "mover" : "munder", Row(bar.Content), New("mo", bar.IsOver ? "‾" : "_")),
        GridNucleus grid => New("mtable", grid.Rows.Select(r => New("mtr", r.Select(c => New("mtd", Row(c)))))),
        MiddleNucleus middle => Fence(middle.Text) ?? New("mrow"),
        StretchNucleus stretch => New(stretch.IsOver ? "mover" : "munder", Row(stretch.Content), New("mo", new XAttribute("stretchy", "true"), stretch.Sign)),
        ArrowNucleus arrow => Arrow(arrow),
        PhantomNucleus { IsHidden: true } room => New("mphantom", Row(room.Content)),
        PhantomNucleus room => New("mpadded", Row(room.Content)),
        ColourNucleus colour => New("mstyle", new XAttribute("mathcolor", $"#{colour.Colour:x6}"), Row(colour.Content)),
        StrikeNucleus strike => New("menclose", new XAttribute("notation", strike.Strokes switch { "/" => "updiagonalstrike", "\\" => "downdiagonalstrike", "-" => "horizontalstrike", _ => "updiagonalstrike downdiagonalstrike" }), Row(strike.Content)),
        ChoiceNucleus choice => Row(choice.Choices[1]),
        LeftScriptsNucleus scripts => New("mmultiscripts", Row(scripts.Content), New("mprescripts"),
            scripts.Subscript is { } sub ? Row(sub) : New("mrow"), scripts.Superscript is { } sup ? Row(sup) : New("mrow")),
        _ => New("mrow"),
    };

    private static XElement Arrow(ArrowNucleus arrow)
    {
        XElement sign = New("mo", new XAttribute("stretchy", "true"), arrow.Sign);
        return (arrow.Above.Nodes.Count > 0, arrow.Below.Nodes.Count > 0) switch
        {
            (true, true) => New("munderover", sign, Row(arrow.Below), Row(arrow.Above)),
            (false, true) => New("munder", sign, Row(arrow.Below)),
            _ => New("mover", sign, Row(arrow.Above)),
        };
    }

    private static XElement Fraction(FractionNucleus fraction)
    {
        XElement element = New("mfrac", fraction.HasRule ? null : new XAttribute("linethickness", "0"), Row(fraction.Numerator), Row(fraction.Denominator));
        return fraction.Left.Length + fraction.Right.Length == 0 ? element : New("mrow", Fence(fraction.Left), element, Fence(fraction.Right));
    }

    private static XElement? Fence(string delimiter) => delimiter.Length == 0 ? null : New("mo", new XAttribute("fence", "true"), delimiter);

    // A single italic letter is MathML's own way with one letter; other alphabets keep their characters.
    private static XElement Symbol(string text, AtomClass atomClass)
    {
        int code = FirstCharacter.Of(text);
        if (code is >= 0x1D434 and <= 0x1D467 or >= 0x1D6E2 and <= 0x1D71B or 0x210E)
        {
            return New("mi", text.Normalize(System.Text.NormalizationForm.FormKC));
        }

        bool isLetter = char.IsLetter(text, 0) || code is >= 0x1D400 and <= 0x1D7CB || text is "∞" or "∅" or "∂" or "∇" or "…" or "⋯";
        return isLetter && atomClass is AtomClass.Ordinary or AtomClass.Inner
            ? New("mi", code is >= 0x370 and <= 0x3FF or >= 'A' and <= 'z' ? new XAttribute("mathvariant", "normal") : null, text)
            : New(atomClass == AtomClass.Ordinary && char.IsDigit(text, 0) ? "mn" : "mo", text);
    }
}
