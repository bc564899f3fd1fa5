using System.Globalization;
using System.Text;
using YoungFolio.Manuscript.Building;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Packages;

/// <summary>Folders and what is in them, as a tree of lines (the package dirtree; its documentation, from memory).</summary>
internal static class DirectoryTrees
{
    public static IReadOnlyList<Package> All { get; } =
    [
        new("dirtree", "Folders and what is in them, as a tree.")
        {
            Commands = ["dirtree", "DTcomment", "DTstyle", "DTstylecomment"],
            Definitions = "\\def\\DTstyle{\\ttfamily}\\def\\DTstylecomment{\\rmfamily\\sffamily}\\def\\DTcomment#1{\\hfill{\\DTstylecomment #1}}",
            Load = static load => load.Machine.Define("dirtree", (m, t) => Set(load.Builder, m.ReadArgument(t), t)),
        },
    ];

    // “.1 name. .2 name.”: a point and a depth begin a line; a point and a space end it.
    private static List<(int Depth, string Text)> Read(string source)
    {
        var lines = new List<(int, string)>();
        int at = 0;
        while ((at = source.IndexOf('.', at)) >= 0)
        {
            int digits = at + 1;
            while (digits < source.Length && char.IsAsciiDigit(source[digits]))
            {
                digits++;
            }

            if (digits == at + 1 || digits - at > 3)
            {
                at++;
                continue;
            }

            int depth = int.Parse(source.AsSpan(at + 1, digits - at - 1), NumberStyles.None, CultureInfo.InvariantCulture);
            int end = digits;
            int braces = 0;
            while (end < source.Length && !(braces == 0 && source[end] == '.' && (end + 1 == source.Length || char.IsWhiteSpace(source[end + 1]))))
            {
                braces += source[end] == '{' ? 1 : source[end] == '}' ? -1 : 0;
                end++;
            }

            lines.Add((Math.Clamp(depth, 1, 40), source[digits..Math.Min(end, source.Length)].Trim()));
            at = end + 1 > source.Length ? source.Length : end + 1;
        }

        return lines;
    }

    private static void Set(DocumentBuilder builder, List<Token> argument, Token token)
    {
        List<(int Depth, string Text)> lines = Read(argument.ToSource());
        var markup = new StringBuilder("\\par\\begingroup\\parindent0pt\\parskip0pt\\offinterlineskip ");
        for (int i = 0; i < lines.Count; i++)
        {
            markup.Append("\\hbox to\\hsize{\\vrule width0pt height8.4pt depth3.6pt\\relax ");
            for (int depth = 2; depth <= lines[i].Depth; depth++)
            {
                // A stem goes on as long as something hangs from it further down.
                bool goesOn = lines.Skip(i + 1).TakeWhile(l => l.Depth >= depth).Any(l => l.Depth == depth);
                bool isOwn = depth == lines[i].Depth;
                markup.Append("\\hskip 5pt\\relax ");
                markup.Append(goesOn || isOwn ? $"\\vrule width.4pt height8.4pt depth{(goesOn ? "3.6pt" : "-3pt")}\\relax " : "\\hskip.4pt\\relax ");
                markup.Append(isOwn ? "\\vrule width6.6pt height3.4pt depth-3pt\\hskip2pt\\relax " : "\\hskip 8.6pt\\relax ");
            }

            markup.Append("{\\DTstyle ").Append(lines[i].Text).Append("\\strut}\\hfil}");
        }

        markup.Append("\\endgroup\\par ");
        builder.Machine.Input.PushMarkup(markup.ToString(), token.Position);
    }
}
