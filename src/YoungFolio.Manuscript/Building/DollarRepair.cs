using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>A dollar sign that lacks its partner turns text into formulas and formulas into text to the paragraph's end. Where a paragraph has an odd number of them, the lone one is found by which pairing leaves formulas that look like formulas.</summary>
internal sealed class DollarRepair(DocumentBuilder builder) : ReadingFeature(builder)
{
    private (int Start, int End, int Lone) _dollars = (-1, -1, -1);
    private bool _loneReported;

    internal bool IsLoneDollar(Token token)
    {
        if (!FindLoneDollar(token.Position) || token.Position != _dollars.Lone)
        {
            return false;
        }

        ReportLoneDollar();
        return true;
    }

    internal bool FollowsFromLoneDollar(Token token)
    {
        if (!FindLoneDollar(token.Position))
        {
            return false;
        }

        ReportLoneDollar();
        return true;
    }

    private void ReportLoneDollar()
    {
        if (!_loneReported)
        {
            _loneReported = true;
            if (_brokenPartners.Contains(_dollars.Lone))
            {
                return;
            }

            if (TextCommandInFormula() is var (at, name, partner))
            {
                _brokenPartners.Add(partner);
                Findings.Fix("text-in-formula", at, name.Length, $"{name} belongs in text, and stands inside a formula.",
                    $"End the formula with $ before it, or take {name} out.");
                return;
            }

            Findings.Fix("unclosed-formula", _dollars.Lone, 1, "This $ has no partner in its paragraph.",
                "A formula stands between two of them. Put the missing one, or write \\$ for the sign itself.");
        }
    }

    // Signs whose partner is parted from them by a command that was reported already.
    private readonly HashSet<int> _brokenPartners = [];

    // A command of text between the lone sign and another one in the same line.
    private (int At, string Name, int Partner)? TextCommandInFormula()
    {
        if (Machine.Positions.Resolve(_dollars.Lone) is not { } place || _dollars.End <= _dollars.Lone)
        {
            return null;
        }

        string text = place.File.Text;
        int border = place.Offset + _dollars.End - _dollars.Lone;
        int line = text.IndexOf('\n', place.Offset);
        line = line < 0 ? text.Length : line;
        if (border >= line || text[border] != '\\')
        {
            return null;
        }

        List<int> after = Dollars(text, border, line);
        int end = border + 1;
        while (end < line && char.IsAsciiLetter(text[end]))
        {
            end++;
        }

        end = end < line && text[end] == '{' && text.IndexOf('}', end, line - end) is > 0 and var close && text[border..end] == "\\begin" ? close + 1 : end;
        return after.Count % 2 == 1 && text[border..end] is not ("\\[" or "\\]" or "\\end") ? (_dollars.Lone + border - place.Offset, text[border..end], _dollars.Lone + after[0] - place.Offset) : null;
    }

    // Whether the paragraph around a position has a lone dollar sign.
    private bool FindLoneDollar(int position)
    {
        if (position >= _dollars.Start && position < _dollars.End)
        {
            return _dollars.Lone >= 0;
        }

        if (Machine.Positions.Resolve(position) is not { } place)
        {
            return false;
        }

        string text = place.File.Text;
        int start = ParagraphStart(text, place.Offset);
        int end = ParagraphEnd(text, place.Offset);
        int offset = position - place.Offset;
        List<int> signs = Dollars(text, start, end);
        _loneReported = false;
        _dollars = (offset + start, offset + Math.Max(end, place.Offset + 1), signs.Count % 2 == 0 ? -1 : offset + Lone(text, signs));
        return _dollars.Lone >= 0;
    }

    // Paragraphs end at empty lines and where commands begin something new.
    private static readonly string[] s_borders = ["\n\n", "\n\r\n", "\\begin{", "\\end{", "\\item", "\\section", "\\subsection", "\\chapter", "\\paragraph", "\\[", "\\]", "\\par"];

    // Matrices and their like stand inside formulas and don't part paragraphs; nor does \partial, which only begins like \par.
    private bool StandsInFormula(string text, int at, string border)
    {
        if (!border.EndsWith('{'))
        {
            return char.IsAsciiLetter(border[^1]) && at + border.Length < text.Length && char.IsAsciiLetter(text[at + border.Length]);
        }

        ReadOnlySpan<char> name = text.AsSpan(at + border.Length);
        int end = name.IndexOf('}');
        name = end < 0 ? [] : name[..end];
        return IsPartOfFormula(name) || (char.IsAsciiLetter(name.Length > 0 ? name[0] : ' ') && WrapsPartOfFormula(name.ToString()));
    }

    private static bool IsPartOfFormula(ReadOnlySpan<char> name) =>
        name.EndsWith("matrix") || name.EndsWith("cases") || name.StartsWith("aligned") || name is "array" or "split" or "gathered" or "subarray" or "smallmatrix" or "tabular" or "tabular*" or "tabularx";

    // An environment of the manuscript's own around one of those, or around a large parenthesis.
    private bool WrapsPartOfFormula(string name)
    {
        Token[]? body = Machine.Symbol(name).Meaning.Value switch { MacroMeaning macro => macro.Body, DocumentCommandMeaning command => command.Body, _ => null };
        if (body is null)
        {
            return false;
        }

        int begin = Array.FindIndex(body, t => t.IsCommand("begin"));
        string inner = begin < 0 ? "" : string.Concat(body.Skip(begin + 2).TakeWhile(t => !t.Is(Category.EndGroup)).Select(t => t.ToString()));
        return Array.Exists(body, t => t.IsCommand("left")) || IsPartOfFormula(inner);
    }

    // The nearest empty line bounds the search for the other borders, so that a long file costs no more than a short one.
    private int ParagraphStart(string text, int at)
    {
        int start = 0;
        foreach (string border in s_borders)
        {
            int found = at <= start ? -1 : text.LastIndexOf(border, at - 1, at - start, StringComparison.Ordinal);
            while (found > start && StandsInFormula(text, found, border))
            {
                found = text.LastIndexOf(border, found - 1, found - start, StringComparison.Ordinal);
            }

            start = found >= 0 && found + border.Length <= at ? Math.Max(start, found + border.Length) : start;
        }

        return start;
    }

    private int ParagraphEnd(string text, int at)
    {
        int end = text.Length;
        foreach (string border in s_borders)
        {
            int found = text.IndexOf(border, at, end - at, StringComparison.Ordinal);
            while (found >= 0 && StandsInFormula(text, found, border))
            {
                found = text.IndexOf(border, found + 1, end - found - 1, StringComparison.Ordinal);
            }

            end = found >= 0 ? found : end;
        }

        return end;
    }

    private static List<int> Dollars(string text, int start, int end)
    {
        var signs = new List<int>();
        for (int i = start; i < end; i++)
        {
            switch (text[i])
            {
                case '\\' when string.CompareOrdinal(text, i, "\\verb", 0, 5) == 0 && i + 5 < end:
                    int close = text.IndexOf(text[i + 5], i + 6);
                    i = close < 0 || close >= end ? end : close;
                    break;
                case '\\':
                    i++;
                    break;
                case '%':
                    int line = text.IndexOf('\n', i);
                    i = line < 0 || line >= end ? end : line;
                    break;
                case '$' when i + 1 < end && text[i + 1] == '$':
                    i++;
                    break;
                case '$':
                    signs.Add(i);
                    break;
            }
        }

        return signs;
    }

    private static int Lone(string text, List<int> signs)
    {
        int best = 0;
        double bestCost = double.PositiveInfinity;
        for (int lone = 0; lone < signs.Count; lone += 2)
        {
            double cost = 0;
            for (int i = 0; i + 1 < signs.Count; i += 2)
            {
                int from = i < lone ? i : i + 1;
                cost += Prose(text.AsSpan(signs[from] + 1, signs[from + 1] - signs[from] - 1));
            }

            // Text between formulas that looks like a formula speaks against a pairing too.
            for (int i = 0; i < signs.Count - 1; i++)
            {
                bool inside = i < lone ? i % 2 == 0 : i > lone && i % 2 == 1;
                if (!inside && i != lone && i + 1 != lone)
                {
                    cost += Formula(text.AsSpan(signs[i] + 1, signs[i + 1] - signs[i] - 1));
                }
            }

            if (cost < bestCost)
            {
                (best, bestCost) = (lone, cost);
            }
        }

        return signs[best];
    }

    // How much a formula looks like prose: words of three letters or more that no backslash begins.
    private static double Prose(ReadOnlySpan<char> text)
    {
        int words = 0;
        int letters = 0;
        bool command = false;
        for (int i = 0; i <= text.Length; i++)
        {
            char c = i < text.Length ? text[i] : ' ';
            if (char.IsLetter(c))
            {
                letters++;
                continue;
            }

            words += letters >= 3 && !command ? 1 : 0;
            letters = 0;
            command = c is '\\' or '{';
        }

        return words + (text.Length > 0 && text[0] == ' ' ? 0.3 : 0) + (text.Length > 0 && text[^1] == ' ' ? 0.3 : 0);
    }

    private static readonly System.Buffers.SearchValues<char> s_formulaSigns = System.Buffers.SearchValues.Create("^_=<>+");

    private static double Formula(ReadOnlySpan<char> text) =>
        (text.ContainsAny(s_formulaSigns) ? 1 : 0) + (text.Length > 0 && text[0] != ' ' && char.IsLetterOrDigit(text[0]) ? 0.5 : 0);
}
