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
        // One letter alone would be italic.
        WordNucleus word => New("mi", word.Text.Length == 1 ? new XAttribute("mathvariant", "normal") : null, word.Text),
        ListNucleus list => Row(list.Content),
        TextNucleus text => Text(text.Content),
        FractionNucleus fraction => Fraction(fraction),
        RadicalNucleus { Degree: { } degree } radical => New("mroot", Row(radical.Radicand), Row(degree)),
        RadicalNucleus radical => New("msqrt", Row(radical.Radicand)),
        DelimitedNucleus delimited => New("mrow", Fence(delimited.Left), Row(delimited.Content), Fence(delimited.Right)),
        AccentNucleus accent => New("mover", new XAttribute("accent", "true"), Row(accent.Content), New("mo", accent.Accent)),
        BarNucleus bar => New(bar.IsOver ? "mover" : "munder", Row(bar.Content), New("mo", bar.IsOver ? "‾" : "_")),
        GridNucleus grid => Grid(grid),
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

    // Words, with the formulas and frames among them.
    private static XElement Text(IReadOnlyList<Inline> content)
    {
        var parts = new List<XElement>();
        var words = new List<Inline>();
        foreach (Inline inline in content)
        {
            XElement? part = inline switch
            {
                MathInline formula => Row(formula.Formula),
                BoxInline { IsFramed: true } box => New("menclose", new XAttribute("notation", "box"), Text(box.Content)),
                BoxInline box when NodeWalk.All(box.Content).Any(n => n is MathInline) => Text(box.Content),
                _ => null,
            };
            if (part is null)
            {
                words.Add(inline);
                continue;
            }

            Flush();
            parts.Add(part);
        }

        Flush();
        return parts.Count == 1 ? parts[0] : New("mrow", parts);

        void Flush()
        {
            if (words.Count > 0)
            {
                parts.Add(New("mtext", PlainText.Of(words)));
                words.Clear();
            }
        }
    }

    private static XElement Grid(GridNucleus grid)
    {
        ILookup<(int Row, int Column), GridSpan> spans = grid.Spans.ToLookup(s => (s.Row, s.Column));
        HashSet<(int Row, int Column)> covered = [.. grid.Spans.SelectMany(s => Enumerable.Range(s.Column + 1, s.Count - 1).Select(c => (s.Row, c)))];
        return New("mtable", grid.Rows.Select((row, r) => New("mtr", row.Select((cell, c) => Cell(cell, r, c)).OfType<XElement>())));

        // Columns that a cell before them takes too have no cell of their own.
        XElement? Cell(MathList cell, int row, int column) =>
            covered.Contains((row, column)) ? null
            : New("mtd", spans[(row, column)].FirstOrDefault() is { } span ? new XAttribute("columnspan", span.Count) : null, Row(cell));
    }

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
            // Letters that are drawn in two ways are two letters.
            return New("mi", code is >= 0x1D716 and <= 0x1D71B ? "ϵϑϰϕϱϖ"[code - 0x1D716].ToString() : text.Normalize(System.Text.NormalizationForm.FormKC));
        }

        bool isLetter = char.IsLetter(text, 0) || code is >= 0x1D400 and <= 0x1D7CB || text is "∞" or "∅" or "∂" or "∇" or "…" or "⋯";
        return isLetter && atomClass is AtomClass.Ordinary or AtomClass.Inner
            ? New("mi", code is >= 0x370 and <= 0x3FF or >= 'A' and <= 'z' ? new XAttribute("mathvariant", "normal") : null, text)
            : New(atomClass == AtomClass.Ordinary && char.IsDigit(text, 0) ? "mn" : "mo", text);
    }
}
