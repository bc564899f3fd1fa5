using System.Globalization;
using YoungFolio.Documents;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>The page: paper, margins, page breaks, page styles, the document's beginning and end.</summary>
internal sealed class PageCommands(DocumentBuilder builder) : ReadingFeature(builder)
{
    internal double PaperWidth { get; set; } = 8.5 * Units.Inch;
    internal double PaperHeight { get; set; } = 11 * Units.Inch;

    /// <summary>Whether both sides of the paper are printed.</summary>
    public bool TwoSided { get; internal set; }

    /// <summary>Whether over-full lines are marked and pictures shown as frames.</summary>
    internal bool IsDraft { get; set; }

    /// <summary>Whether numbers of equations stand at the left (<c>leqno</c>).</summary>
    internal bool NumbersLeft { get; set; }

    /// <summary>Whether displays stand at a fixed distance from the left (<c>fleqn</c>).</summary>
    internal bool DisplaysLeft { get; set; }

    internal Scoped<Dimension> MathIndent { get; set; } = null!;

    /// <summary>Space between the rows of a display, beyond the leading, unless <c>\jot</c> says otherwise (The TeXbook, p. 349).</summary>
    internal const double UsualJot = 3;

    internal void DefinePages()
    {
        foreach (string name in (string[])[
            "paperwidth", "paperheight", "textwidth", "textheight", "columnwidth", "hsize", "vsize", "oddsidemargin", "evensidemargin",
            "topmargin", "headheight", "headsep", "footskip", "topskip", "marginparwidth", "marginparsep", "marginparpush", "columnsep",
            "columnseprule", "hoffset", "voffset", "maxdepth", "overfullrule"])
        {
            Machine.Registers.NamedDimension(name, Dimension.FromPoints(name switch
            {
                "headheight" => 12,
                "columnsep" => 10,
                _ => 0,
            }));
        }

        foreach (string name in (string[])["pdfpagewidth", "pdfpageheight"])
        {
            Machine.DefineMeaning(name, Machine.Symbol(name == "pdfpagewidth" ? "paperwidth" : "paperheight").Meaning.Value!);
        }

        MathIndent = Machine.Registers.NamedDimension("mathindent", Dimension.FromPoints(25));
        foreach (string name in (string[])["abovedisplayskip",
            "belowdisplayskip", "abovedisplayshortskip", "belowdisplayshortskip", "abovecaptionskip", "belowcaptionskip", "jot"])
        {
            Machine.Registers.NamedGlue(name, name switch { "abovecaptionskip" => Glue.Of(10), "jot" => Glue.Of(UsualJot), _ => default });
        }

        foreach (string name in (string[])["brokenpenalty", "displaywidowpenalty", "interlinepenalty",
            "predisplaypenalty", "postdisplaypenalty", "interfootnotelinepenalty", "floatingpenalty", "hbadness", "vbadness",
            "language", "lefthyphenmin", "righthyphenmin", "tracingonline",
            "tracingmacros", "showboxdepth", "showboxbreadth", "errorcontextlines", "maxdeadcycles", "pdfoutput", "pdfcompresslevel", "pdfminorversion",
            "binoppenalty", "relpenalty", "escapechar", "endlinechar", "newlinechar", "mag", "hangafter", "time", "day", "month", "year", "fam"])
        {
            Machine.Registers.NamedCount(name);
        }

        foreach (string name in (string[])["hfuzz", "vfuzz", "splittopskip", "prevdepth", "lineskiplimit", "spaceskip", "xspaceskip", "mathsurround",
            "delimitershortfall", "nulldelimiterspace", "scriptspace"])
        {
            Machine.Registers.NamedGlue(name);
        }

        foreach ((string name, int value) in (ReadOnlySpan<(string, int)>)[
            ("year", Builder.Options.Today.Year), ("month", Builder.Options.Today.Month), ("day", Builder.Options.Today.Day), ("time", 720), ("escapechar", 92), ("mag", 1000)])
        {
            Machine.Assign(Machine.Registers.NamedCount(name), value);
        }

        Builder.FloatPlacement.DefineFloatRules();

        Machine.Define("newpage", (_, _) => BreakPage(PageEnd.New));
        Machine.DefineMeaning("eject", Machine.Symbol("newpage").Meaning.Value!);
        Machine.Define("clearpage", (_, _) => BreakPage(PageEnd.Clear));
        Machine.Define("cleardoublepage", (_, _) => BreakPage(PageEnd.ClearDouble));
        Machine.Define("pagebreak", (m, t) => PageEndWish(-TextCommands.Urgency(m.ReadOptionalText(t))));
        Machine.Define("nopagebreak", (m, t) => PageEndWish(TextCommands.Urgency(m.ReadOptionalText(t))));
        Machine.Define("enlargethispage", (m, t) =>
        {
            m.TakeStar();
            if (m.Quantities.ParseGlue(m.ReadArgument(t), t) is { } by)
            {
                AddAfterParagraph(new EnlargeBlock(by.Width.Points));
            }
        });
        Machine.Define("twocolumn", (m, t) => Builder.PageMeasures.SetColumns(2, m.ReadOptional(t)));
        Machine.Define("onecolumn", (_, _) => Builder.PageMeasures.SetColumns(1, null));
        Machine.Define("raggedbottom", (_, _) => FlushBottom = false);
        Machine.Define("flushbottom", (_, _) => FlushBottom = true);
    }

    // In a paragraph the page ends after it, since lines are made when it is whole.
    internal void BreakPage(PageEnd end)
    {
        if (Builder.LongTables.EndsPageBetweenRows(-10_000))
        {
            return;
        }

        if (Builder.Frames.Peek().InlineOnly)
        {
            return;
        }

        Builder.EndParagraph();
        Builder.PageStyles.CheckPageNumberFormat();
        Builder.AddBlock(new PageBreakBlock(end));
    }

    private void PageEndWish(int penalty)
    {
        if (Builder.LongTables.EndsPageBetweenRows(penalty))
        {
            return;
        }

        if (Builder.Frames.Peek().InlineOnly)
        {
            return;
        }

        AddAfterParagraph(penalty <= -10_000 ? new PageBreakBlock(PageEnd.New) : new PenaltyBlock(penalty));
    }

    // What acts between lines waits for the end of the paragraph that it stands in.
    internal void AddAfterParagraph(Block block)
    {
        if (Builder.Frames.Peek().Paragraph is { HasContent: true })
        {
            Builder.Frames.Peek().AfterParagraph.Add(block);
        }
        else if (!Builder.Frames.Peek().InlineOnly)
        {
            Builder.AddBlock(block);
        }
    }

    /// <summary>Sets the factor by which baselines stand further apart.</summary>
    internal void SetSpread(double factor)
    {
        Machine.Assign(Builder.Spread, factor);
        Machine.Assign(Machine.Registers.NamedDimension("baselineskip"), Dimension.FromPoints(Builder.Leading.Value * factor));
    }

    internal bool? FlushBottom { get; set; }

    /// <summary>Sets the paper by its name without <c>paper</c> (ISO 216 and American sizes); false when unknown.</summary>
    internal bool SetPaper(string name)
    {
        if (Papers.Find(name) is not { } s)
        {
            return false;
        }

        (PaperWidth, PaperHeight) = s;
        return true;
    }

    internal void BeginDocument()
    {
        if (Builder.DocumentBegun)
        {
            return;
        }

        Builder.TypefaceCommands.ChooseTypefaces();
        Machine.Assign(Builder.Style, Builder.TypefaceCommands.PlainStyle(Builder.Style.Value.Size));
        Builder.Text.SetSize("normalsize");
        Builder.HeadingCommands.FollowType();
        Builder.PageMeasures.FixGeometry();
        Builder.FloatPlacement.FloatRules = Builder.FloatPlacement.FloatRulesNow();
        string spread = Machine.ExpandToText([Token.Command(Machine.Symbol("baselinestretch"), PositionTable.None)]);
        if (spread != "1" && double.TryParse(spread, NumberStyles.Float, CultureInfo.InvariantCulture, out double factor) && factor is > 0 and < 10)
        {
            SetSpread(factor);
        }

        Builder.Preamble.CheckPackages();
        foreach (Action action in Builder.Hooks.ActionsAtBegin)
        {
            action();
        }

        List<Block> printed = Builder.Frames.Peek().Blocks;
        int before = printed.Count;
        Builder.DocumentBegun = true;
        Builder.Execute([.. Builder.Hooks.AtBeginDocument]);
        _numbering = Builder.PageStyles.NumberingNow();
        Builder.PageStyles.SetPageStyle();
        if (printed.Count > before + 1 && printed[^1] is PageStyleBlock)
        {
            // Hooks may print, most often the title; the page's style holds for that, too.
            printed.Insert(before, printed[^1]);
            printed.RemoveAt(printed.Count - 1);
        }
    }

    private PageNumbering _numbering = new("arabic");

    /// <summary>What comes at the text's end, while all that was set in it still holds.</summary>
    internal void EndText()
    {
        Token[] hooks = [.. Builder.Hooks.AtEndDocument];
        Builder.Hooks.AtEndDocument.Clear();
        Builder.Execute(hooks);
        Builder.EndParagraph();
    }

    internal void EndDocument()
    {
        EndText();
        Builder.DocumentEnded = true;
        foreach (Group group in Machine.Groups.Reverse())
        {
            Builder.Environments.ReportUnclosed(group);
        }

        while (Machine.Groups.Count > 0)
        {
            Builder.Environments.CloseInnermost();
        }

        ReportTextAfterEnd();
        Machine.Input.DropAllInput();
    }

    private void ReportTextAfterEnd()
    {
        string rest = Machine.Input.InnermostLexer?.Rest() ?? "";
        string[] lines = rest.Split('\n');
        int line = Array.FindIndex(lines, l => l.Trim().Length > 0 && !l.TrimStart().StartsWith('%'));
        if (line >= 0)
        {
            int restAt = Machine.Input.InnermostLexer!.RestPosition;
            Findings.Check("text-after-end", restAt + lines.Take(line).Sum(l => l.Length + 1), 1, "Text after \\end{document} isn't printed.", "Move it up, or delete it.", MoveEndBelow(restAt, rest.Length));
        }
    }

    // The end goes from before the rest to behind it.
    private Repair? MoveEndBelow(int restAt, int length)
    {
        const string End = "\\end{document}";
        if (Machine.Positions.Resolve(restAt) is not var (file, offset))
        {
            return null;
        }

        string text = file.Text[..offset];
        int at = text.LastIndexOf(End, StringComparison.Ordinal);
        if (at < 0 || text.AsSpan(at + End.Length).Trim().Length > 0 || text.AsSpan(text.LastIndexOf('\n', at) + 1, at - text.LastIndexOf('\n', at) - 1).Contains('%'))
        {
            return null;
        }

        string before = file.Text.EndsWith('\n') ? "" : "\n";
        return new Repair(restAt - offset + at, End.Length, "") { Also = new Repair(restAt + length, 0, before + End + "\n") };
    }

    internal Document MakeDocument(List<Block> blocks)
    {
        (double size, double leading) = TypeSizes.Of("normalsize", Builder.BasicSize);
        Builder.Bibliography.LabelSources();
        Builder.References.CheckLabels();
        Builder.Files.CheckFileHeadings();
        return new Document
        {
            HasNoteRule = Builder.Notes.HasNoteRule,
            NoteSkip = Builder.StandardMeasures.NoteSkip.Width.Points,
            Blocks = blocks,
            Geometry = Builder.PageMeasures.Geometry,
            Class = Builder.Class.Name,
            TwoSided = TwoSided,
            FlushBottom = FlushBottom ?? TwoSided,
            PageStyle = new PageStyle { Name = "empty" },
            Numbering = _numbering,
            FirstPage = Builder.PageStyles.FirstPage,
            IsDraft = IsDraft,
            Hyphenation = Builder.Text.Hyphenation,
            BodyStyle = Builder.TypefaceCommands.PlainStyle(size),
            Leading = leading,
            Typefaces = Builder.TypefaceCommands.Typefaces,
            FloatRules = Builder.FloatPlacement.FloatRules,
            Language = Builder.Language.Value,
            Labels = Builder.References.Labels,
            Statements = new Dictionary<string, string>(Builder.Theorems.TheoremTitles, StringComparer.Ordinal),
            LabelUses = Builder.References.LabelUses,
            Equations = Builder.Formulas.Equations,
            Packages = Builder.Preamble.Packages,
            Citations = Builder.Bibliography.Collected?.Citations ?? [],
            Sources = Builder.Bibliography.Collected?.Printed ?? [],
            SourceStyle = Builder.Bibliography.CitationCollector.Effective,
            IsModernSources = Builder.Bibliography.CitationCollector.IsModern,
            Footnotes = Builder.Notes.Footnotes,
            Title = _pdfTitle ?? PlainOf("@title"),
            Author = _pdfAuthor ?? PlainOf("@author"),
        };
    }

    private string PlainOf(string kept)
    {
        try
        {
            // Several authors are parted by a sign, which those that ask for one of them look for.
            IEnumerable<Token> words = TitleCommands.WithoutNotes(Builder.Titles.Kept(kept) ?? []).Select(static t => t.IsCommand("and") ? Token.Character(';', Category.Other, t.Position) : t);
            return string.Join("; ", PlainText.Of(Builder.BuildInlines([.. words])).Split(';', StringSplitOptions.TrimEntries));
        }
        catch (Exception e) when (e is MarkupLimitException or RunawayException)
        {
            // The page says it already; the PDF goes without.
            return "";
        }
    }

    private string? _pdfTitle;
    private string? _pdfAuthor;

    internal void SetMetadata(string key, string value)
    {
        if (key == "pdftitle")
        {
            _pdfTitle = value;
        }
        else if (key == "pdfauthor")
        {
            _pdfAuthor = value;
        }
    }
}
