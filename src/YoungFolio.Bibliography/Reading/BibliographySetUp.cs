namespace YoungFolio.Bibliography;

/// <summary>The lines of a manuscript that print its sources: whether they are there, and what to put in where they are missing.</summary>
public static class BibliographySetUp
{
    /// <summary>Whether any of these texts prints a list of sources; what a % switches off doesn't.</summary>
    public static bool IsPrinted(IEnumerable<string> texts) => texts.Any(t =>
        TypedCommands.Find(t).Any(c => IsOn(t, c.End) && (c.Name is "bibliography" or "printbibliography"
            || (c.Name == "begin" && t.AsSpan(c.End).StartsWith("{thebibliography}", StringComparison.Ordinal)))));

    /// <summary>The edits of the main file that have the sources of a .bib file printed; none when it doesn't end where one would look for it.</summary>
    /// <param name="main">Text of the main file.</param>
    /// <param name="bib">Path of the .bib file.</param>
    public static IReadOnlyList<TextEdit> Missing(string main, string bib)
    {
        int begin = LastOn(main, "\\begin{document}");
        int end = LastOn(main, "\\end{document}");
        if (end < 0)
        {
            return [];
        }

        string preamble = main[..Math.Max(0, begin)];
        if (!Loads(preamble, "biblatex"))
        {
            string style = Loads(preamble, "natbib") ? "plainnat" : "plain";
            string name = bib.EndsWith(".bib", StringComparison.OrdinalIgnoreCase) ? bib[..^4] : bib;
            return [new TextEdit(end, 0, $"\\bibliographystyle{{{style}}}\n\\bibliography{{{name}}}\n\n")];
        }

        var edits = new List<TextEdit>();
        if (begin >= 0 && !TypedCommands.Find(preamble).Any(c => c.Name == "addbibresource" && IsOn(preamble, c.End)))
        {
            edits.Add(new TextEdit(begin, 0, $"\\addbibresource{{{bib}}}\n"));
        }

        edits.Add(new TextEdit(end, 0, "\\printbibliography\n\n"));
        return edits;
    }

    private static bool Loads(string preamble, string package) => TypedCommands.Find(preamble).Any(c =>
        c.Name is "usepackage" or "RequirePackage" && IsOn(preamble, c.End) && preamble.AsSpan(c.End, Math.Min(300, preamble.Length - c.End)) is var rest
        && rest.IndexOf('{') is >= 0 and var open && rest[open..].IndexOf('}') is > 0 and var close && rest.Slice(open + 1, close - 1).ToString().Split(',', StringSplitOptions.TrimEntries).Contains(package));

    private static int LastOn(string text, string words)
    {
        int at = text.LastIndexOf(words, StringComparison.Ordinal);
        while (at > 0 && !IsOn(text, at))
        {
            at = text.LastIndexOf(words, at - 1, StringComparison.Ordinal);
        }

        return at;
    }

    private static bool IsOn(string text, int at)
    {
        for (int i = at == 0 ? -1 : text.LastIndexOf('\n', Math.Min(at, text.Length) - 1) + 1; i >= 0 && i < at; i++)
        {
            if (text[i] == '%' && (i == 0 || text[i - 1] != '\\'))
            {
                return false;
            }
        }

        return true;
    }
}
