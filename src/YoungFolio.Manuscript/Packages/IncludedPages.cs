using System.Globalization;
using YoungFolio.Documents;
using YoungFolio.Manuscript.Building;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Packages;

/// <summary>Pages of other files as pages of the manuscript (the package pdfpages; its documentation, from memory).</summary>
internal sealed class IncludedPages(DocumentBuilder builder) : ReadingFeature(builder)
{
    // A slip in a range, such as 1-10000, must not make a book of empty pages.
    private const int MostPages = 2_000;

    private static readonly string[] s_options =
        ["pages", "nup", "scale", "width", "height", "angle", "noautoscale", "landscape", "frame", "offset", "delta", "pagecommand", "addtotoc", "trim", "clip"];

    // What leads to places, or turns papers for a printing press, changes no page here.
    private static readonly string[] s_quiet =
        ["link", "linkname", "linkfilename", "thread", "threadname", "linkthread", "openright", "openrighteven", "turn", "rotateoversize", "column", "columnstrict", "fitpaper", "keepaspectratio", "draft", "final", "pagebox", "suppressPageNumber"];

    private readonly List<ImageInline> _pictures = [];
    private List<Token> _always = [];

    /// <summary>Gives the package's commands.</summary>
    internal void Define()
    {
        Machine.Define("includepdf", (m, t) =>
        {
            List<Token>? options = m.ReadOptional(t);
            Include(Options(options, t), [(m.ReadArgument(t), null)], t);
        });
        Machine.Define("includepdfmerge", (m, t) =>
        {
            List<Token>? options = m.ReadOptional(t);
            Include(Options(options, t), Files(m.ReadArgument(t)), t);
        });
        Machine.Define("includepdfset", (m, t) => _always = [.. _always, .. m.ReadArgument(t), Token.Character(',', Category.Other, t.Position)]);
        Machine.Define("included@picture", (m, t) => Builder.AddInline(_pictures[int.Parse(m.ReadText(t), CultureInfo.InvariantCulture)]));
    }

    // Files with their pages: one.pdf,1-3,two.pdf,-
    private List<(List<Token> File, string? Pages)> Files(List<Token> argument)
    {
        var files = new List<(List<Token> File, string? Pages)>();
        foreach ((string part, _) in FigureCommands.KeyValues(argument))
        {
            string text = part.Trim('{', '}', ' ');
            bool isRange = text.Length == 0 || text.All(c => char.IsAsciiDigit(c) || c is '-' or '{' or '}') || text.Contains("last", StringComparison.Ordinal);
            if (!isRange)
            {
                files.Add(([.. Machine.Tokenize(text, argument[0].Position)], null));
            }
            else if (files.Count > 0)
            {
                files[^1] = (files[^1].File, files[^1].Pages is { } before ? before + "," + text : text);
            }
        }

        return files;
    }

    private Dictionary<string, List<Token>> Options(List<Token>? own, Token token)
    {
        var options = new Dictionary<string, List<Token>>(StringComparer.Ordinal);
        foreach ((string key, List<Token> value) in FigureCommands.KeyValues([.. _always, .. own ?? []]))
        {
            options[key.TrimEnd('*')] = value;
            if (!s_options.Contains(key.TrimEnd('*')) && !s_quiet.Contains(key))
            {
                Findings.Check("unknown-option", token.Position, token.Length, $"\\includepdf has no option “{key}” here.", $"Available: {string.Join(", ", s_options)}.");
            }
        }

        return options;
    }

    private void Include(Dictionary<string, List<Token>> options, IReadOnlyList<(List<Token> Name, string? Pages)> files, Token token)
    {
        if (!Builder.DocumentBegun && !Builder.CanPrint(token.Position))
        {
            return;
        }

        // A cell without a picture is left white.
        var cells = new List<(ImageInline? Picture, int Page)>();
        foreach ((List<Token> name, string? pages) in files)
        {
            int at = name.Count > 0 ? name[0].Position : token.Position;
            if (Builder.Figures.FindPicture(Machine.ExpandToText(name).Trim(), token, at) is { } file)
            {
                int count = Builder.Options.Measure.PagesOf(file) ?? 1;
                foreach (int page in PagesOf(pages ?? Text(options, "pages") ?? "1", count, token))
                {
                    cells.Add((page == 0 ? null : new ImageInline(file.Path, token.Position) { Page = page }, page));
                }
            }
        }

        if (cells.Count > 0)
        {
            Set(options, cells, token);
        }
    }

    private void Set(Dictionary<string, List<Token>> options, List<(ImageInline? Picture, int Page)> cells, Token token)
    {
        bool isWide = Is(options, "landscape");
        (int across, int down) = Grid(Text(options, "nup"));
        (double gapAcross, double gapDown) = Pair(options, "delta", token);
        (double right, double up) = Pair(options, "offset", token);
        Builder.EndParagraph();
        PageGeometry before = Builder.PageMeasures.BeginWholePaper(isWide);
        (double paperWidth, double paperHeight) = isWide ? (before.PaperHeight, before.PaperWidth) : (before.PaperWidth, before.PaperHeight);
        double width = (paperWidth - (gapAcross * (across - 1))) / across;
        double height = (paperHeight - (gapDown * (down - 1))) / down;
        List<Token> command = options.GetValueOrDefault("pagecommand") ?? [.. Machine.Tokenize("\\thispagestyle{empty}", token.Position)];
        string[] contents = [.. (Text(options, "addtotoc") ?? "").Split(',').Select(p => p.Trim(' ', '{', '}'))];
        foreach ((ImageInline? Picture, int Page)[] sheet in cells.Chunk(across * down))
        {
            Builder.Execute([.. TokenLists.Braced(command, token.Position)]);
            foreach ((_, int page) in sheet)
            {
                AddContents(contents, page, token);
            }

            IEnumerable<string> rows = sheet.Chunk(across).Select(row => string.Join(Space("hskip", gapAcross), row.Select(c => Cell(c.Picture, width, height, options, token))));
            Run($"\\noindent\\hbox to\\textwidth{{{Space("hskip", right)}\\vbox to\\textheight{{\\offinterlineskip{Space("vskip", -up)}{string.Join(Space("vskip", gapDown), rows.Select(r => $"\\hbox{{{r}}}"))}\\vss}}\\hss}}\\par\\clearpage", token);
        }

        Builder.PageMeasures.EndWholePaper(before);
    }

    // A page in the middle of its part of the paper, as large as fits there.
    private string Cell(ImageInline? picture, double width, double height, Dictionary<string, List<Token>> options, Token token)
    {
        if (picture is null)
        {
            return $"\\vbox to{Length(height)}{{\\vss\\hbox to{Length(width)}{{\\hss}}}}";
        }

        double scale = Text(options, "scale") is { } s ? Builder.Figures.Number(s, token) ?? 1 : 1;
        double angle = Text(options, "angle") is { } a ? Builder.Figures.Number(a, token) ?? 0 : 0;
        bool isAcross = Math.Abs(angle % 180) is > 45 and < 135;
        double? ownWidth = OwnLength(options, "width", token);
        double? ownHeight = OwnLength(options, "height", token);
        bool isFitted = ownWidth is null && ownHeight is null && !Is(options, "noautoscale");
        ImageInline set = Builder.Figures.WithSides(picture, options.GetValueOrDefault("trim"), Is(options, "clip"), token) with
        {
            Width = isFitted ? scale * (isAcross ? height : width) : ownWidth * scale,
            Height = isFitted ? scale * (isAcross ? width : height) : ownHeight * scale,
            KeepsAspect = isFitted,
            Scale = ownWidth is null && ownHeight is null && !isFitted ? scale : 1,
            Angle = angle,
        };
        _pictures.Add(set);
        string shown = $"\\included@picture{{{_pictures.Count - 1}}}";
        string framed = Is(options, "frame") ? $"{{\\fboxsep0pt\\fbox{{{shown}}}}}" : shown;
        // Its size doesn't count: a frame, or a scale above one, reaches over its part.
        return $"\\vbox to{Length(height)}{{\\vss\\hbox to{Length(width)}{{\\hss{framed}\\hss}}\\vss}}";
    }

    // Page, kind, level, words and label of each line of the contents.
    private void AddContents(string[] contents, int page, Token token)
    {
        for (int i = 0; i + 4 < contents.Length; i += 5)
        {
            if (int.TryParse(contents[i], out int at) && at == page && page > 0)
            {
                Machine.BeginGroup(GroupKind.Command, "", token.Position);
                Builder.BackMatter.StartPhantomSection(token);
                Run($"\\addcontentsline{{toc}}{{{contents[i + 1]}}}{{{contents[i + 3]}}}" + (contents[i + 4].Length > 0 ? $"\\label{{{contents[i + 4]}}}" : ""), token);
                Machine.EndGroup();
            }
        }

        Builder.EndParagraph();
    }

    /// <summary>The pages that a list such as <c>1,3-5,{},last-7</c> names, of so many; 0 is a white one.</summary>
    private List<int> PagesOf(string list, int count, Token token)
    {
        var pages = new List<int>();
        foreach (string part in list.Split(',').Select(p => p.Trim()))
        {
            if (part is "{}" or "")
            {
                pages.Add(0);
                continue;
            }

            string[] ends = [.. part.Split('-', 2).Select(e => e.Trim())];
            int? first = End(ends[0], 1);
            int? last = ends.Length == 1 ? first : End(ends[1], count);
            if (first is not { } from || last is not { } to || Math.Max(from, to) > count)
            {
                Findings.Fix("no-such-page", token.Position, token.Length, $"The file has no pages “{part}”: it has {count}.", "Write pages=1, pages={1,3-5}, or pages=- for all of them.");
                continue;
            }

            int step = from <= to ? 1 : -1;
            for (int page = from; page != to + step && pages.Count < MostPages; page += step)
            {
                pages.Add(page);
            }
        }

        return pages;

        int? End(string text, int open) => text switch
        {
            "" => open,
            "last" => count,
            _ => int.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out int page) && page > 0 ? page : null,
        };
    }

    private static (int Across, int Down) Grid(string? nup) =>
        nup?.Split('x') is [var across, var down] && int.TryParse(across, out int a) && int.TryParse(down, out int d) && a is > 0 and <= 20 && d is > 0 and <= 20 ? (a, d) : (1, 1);

    private string? Text(Dictionary<string, List<Token>> options, string key) =>
        options.TryGetValue(key, out List<Token>? value) ? Bare(value.Any(t => t.Symbol is not null) ? Machine.ExpandToText(value) : value.ToSource()) : null;

    // Without the braces around the whole; those within are kept, as {} is a white page.
    private static string Bare(string value) => value.Trim() is ['{', .. var inner, '}'] && !inner.StartsWith('}') ? inner.Trim() : value.Trim();

    private static bool Is(Dictionary<string, List<Token>> options, string key) => options.TryGetValue(key, out List<Token>? value) && value.ToSource().Trim() != "false";

    private double? OwnLength(Dictionary<string, List<Token>> options, string key, Token token) =>
        options.TryGetValue(key, out List<Token>? value) ? Machine.Quantities.ParseGlue(value, token)?.Width.Points : null;

    // Two lengths with a space between them.
    private (double First, double Second) Pair(Dictionary<string, List<Token>> options, string key, Token token)
    {
        string[] parts = (Text(options, key) ?? "").Split(' ', StringSplitOptions.RemoveEmptyEntries);
        return parts.Length == 2 ? (Of(parts[0]), Of(parts[1])) : default;

        double Of(string length) => Machine.Quantities.ParseGlue(Machine.Tokenize(length, token.Position), token)?.Width.Points ?? 0;
    }

    private static string Space(string command, double length) => length == 0 ? "" : $"\\{command}{Length(length)}\\relax ";

    private static string Length(double points) => points.ToString("0.#####", CultureInfo.InvariantCulture) + "pt ";

    private void Run(string source, Token token) => Builder.Execute([.. Builder.HeadingCommands.InternalTokens(source).Select(t => t.At(token.Position))]);
}
