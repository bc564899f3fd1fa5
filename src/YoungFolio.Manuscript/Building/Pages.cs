using System.Globalization;
using YoungFolio.Manuscript.Tree;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

// The page: paper, margins, page breaks, page styles, the document's beginning and end.
public sealed partial class DocumentBuilder
{
    private const double Inch = 72.27;
    private double _paperWidth = 8.5 * Inch;
    private double _paperHeight = 11 * Inch;

    /// <summary>Whether both sides of the paper are printed.</summary>
    public bool TwoSided { get; internal set; }

    /// <summary>Whether over-full lines are marked and pictures shown as frames.</summary>
    internal bool IsDraft { get; set; }

    /// <summary>Whether numbers of equations stand at the left (<c>leqno</c>).</summary>
    internal bool NumbersLeft { get; set; }

    /// <summary>Whether displays stand at a fixed distance from the left (<c>fleqn</c>).</summary>
    internal bool DisplaysLeft { get; set; }

    private Scoped<Dimension> _mathIndent = null!;

    private void DefinePages()
    {
        foreach (string name in (string[])[
            "paperwidth", "paperheight", "textwidth", "textheight", "columnwidth", "hsize", "vsize", "oddsidemargin", "evensidemargin",
            "topmargin", "headheight", "headsep", "footskip", "topskip", "marginparwidth", "marginparsep", "marginparpush", "columnsep",
            "columnseprule", "hoffset", "voffset", "maxdepth", "overfullrule"])
        {
            Machine.NamedDimension(name, Dimension.FromPoints(name switch
            {
                "headheight" => 12,
                "headsep" => 25,
                "footskip" => 30,
                "topskip" => 10,
                "columnsep" => 10,
                "marginparsep" => 11,
                "marginparpush" => 5,
                _ => 0,
            }));
        }

        foreach (string name in (string[])["pdfpagewidth", "pdfpageheight"])
        {
            Machine.DefineMeaning(name, Machine.Symbol(name == "pdfpagewidth" ? "paperwidth" : "paperheight").Meaning.Value!);
        }

        _mathIndent = Machine.NamedDimension("mathindent", Dimension.FromPoints(25));
        foreach (string name in (string[])["abovedisplayskip",
            "belowdisplayskip", "abovedisplayshortskip", "belowdisplayshortskip", "abovecaptionskip", "belowcaptionskip", "jot"])
        {
            Machine.NamedGlue(name, Glue.Of(10, 2, 2));
        }

        foreach (string name in (string[])["brokenpenalty", "displaywidowpenalty", "interlinepenalty",
            "predisplaypenalty", "postdisplaypenalty", "interfootnotelinepenalty", "floatingpenalty", "hbadness", "vbadness",
            "language", "lefthyphenmin", "righthyphenmin", "tracingonline",
            "tracingmacros", "showboxdepth", "showboxbreadth", "errorcontextlines", "maxdeadcycles", "pdfoutput", "pdfcompresslevel", "pdfminorversion",
            "binoppenalty", "relpenalty", "escapechar", "endlinechar", "newlinechar", "mag", "hangafter", "time", "day", "month", "year", "fam"])
        {
            Machine.NamedCount(name);
        }

        foreach (string name in (string[])["hfuzz", "vfuzz", "parfillskip", "splittopskip", "prevdepth", "lineskiplimit", "spaceskip", "xspaceskip", "mathsurround",
            "delimitershortfall", "nulldelimiterspace", "scriptspace"])
        {
            Machine.NamedGlue(name);
        }

        foreach ((string name, int value) in (ReadOnlySpan<(string, int)>)[
            ("year", _options.Today.Year), ("month", _options.Today.Month), ("day", _options.Today.Day), ("time", 720), ("escapechar", 92), ("mag", 1000)])
        {
            Machine.Assign(Machine.NamedCount(name), value);
        }

        DefineFloatRules();

        Machine.Define("newpage", (_, _) => BreakPage(PageEnd.New));
        Machine.DefineMeaning("eject", Machine.Symbol("newpage").Meaning.Value!);
        Machine.Define("clearpage", (_, _) => BreakPage(PageEnd.Clear));
        Machine.Define("cleardoublepage", (_, _) => BreakPage(PageEnd.ClearDouble));
        Machine.Define("pagebreak", (m, t) => PageEndWish(-Urgency(m.ReadOptionalText(t))));
        Machine.Define("nopagebreak", (m, t) => PageEndWish(Urgency(m.ReadOptionalText(t))));
        Machine.Define("enlargethispage", (m, t) =>
        {
            m.TakeStar();
            if (m.ParseGlue(m.ReadArgument(t), t) is { } by)
            {
                AddAfterParagraph(new EnlargeBlock(by.Width.Points));
            }
        });
        Machine.Define("twocolumn", (m, t) => SetColumns(2, m.ReadOptional(t)));
        Machine.Define("onecolumn", (_, _) => SetColumns(1, null));
        Machine.Define("raggedbottom", (_, _) => _flushBottom = false);
        Machine.Define("flushbottom", (_, _) => _flushBottom = true);
    }

    // In a paragraph the page ends after it, since lines are made when it is whole.
    private void BreakPage(PageEnd end)
    {
        if (EndsPageBetweenRows(-10_000))
        {
            return;
        }

        if (_frames.Peek().InlineOnly)
        {
            return;
        }

        EndParagraph();
        CheckPageNumberFormat();
        AddBlock(new PageBreakBlock(end));
    }

    private void PageEndWish(int penalty)
    {
        if (EndsPageBetweenRows(penalty))
        {
            return;
        }

        if (_frames.Peek().InlineOnly)
        {
            return;
        }

        AddAfterParagraph(penalty <= -10_000 ? new PageBreakBlock(PageEnd.New) : new PenaltyBlock(penalty));
    }

    // What acts between lines waits for the end of the paragraph that it stands in.
    private void AddAfterParagraph(Block block)
    {
        if (_frames.Peek().Paragraph is { HasContent: true })
        {
            _frames.Peek().AfterParagraph.Add(block);
        }
        else if (!_frames.Peek().InlineOnly)
        {
            AddBlock(block);
        }
    }

    /// <summary>Sets the factor by which baselines stand further apart.</summary>
    internal void SetSpread(double factor)
    {
        Machine.Assign(_spread, factor);
        Machine.Assign(Machine.NamedDimension("baselineskip"), Dimension.FromPoints(_leading.Value * factor));
    }

    private bool? _flushBottom;

    /// <summary>Sets the paper by its name without <c>paper</c> (ISO 216 and American sizes); false when unknown.</summary>
    internal bool SetPaper(string name)
    {
        if (Papers.Find(name) is not { } s)
        {
            return false;
        }

        (_paperWidth, _paperHeight) = s;
        return true;
    }

    private void BeginDocument()
    {
        if (_documentBegun)
        {
            return;
        }

        ChooseTypefaces();
        Machine.Assign(_style, PlainStyle(_style.Value.Size));
        SetSize("normalsize");
        FixGeometry();
        _floatRules = FloatRulesNow();
        string spread = Machine.ExpandToText([Token.Command(Machine.Symbol("baselinestretch"), PositionTable.None)]);
        if (spread != "1" && double.TryParse(spread, NumberStyles.Float, CultureInfo.InvariantCulture, out double factor) && factor is > 0 and < 10)
        {
            SetSpread(factor);
        }

        CheckPackages();
        foreach (Action action in _whenDocumentBegins)
        {
            action();
        }

        Execute([.. _atBeginDocument]);
        // What hooks print into nothing stays away; the document begins here.
        _documentBegun = true;
        _numbering = NumberingNow();
        SetPageStyle();
    }

    private PageNumbering _numbering = new("arabic");

    private void EndDocument()
    {
        Execute([.. _atEndDocument]);
        EndParagraph();
        _documentEnded = true;
        foreach (Group group in Machine.Groups.Reverse())
        {
            ReportUnclosed(group);
        }

        while (Machine.Groups.Count > 0)
        {
            CloseInnermost();
        }

        ReportTextAfterEnd();
        Machine.DropAllInput();
    }

    private void ReportTextAfterEnd()
    {
        string rest = Machine.InnermostLexer?.Rest() ?? "";
        string[] lines = rest.Split('\n');
        int line = Array.FindIndex(lines, l => l.Trim().Length > 0 && !l.TrimStart().StartsWith('%'));
        if (line >= 0)
        {
            int restAt = Machine.InnermostLexer!.RestPosition;
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

    private Document MakeDocument(List<Block> blocks)
    {
        (double size, double leading) = TypeSizes.Of("normalsize", BasicSize);
        LabelSources();
        CheckLabels();
        CheckFileHeadings();
        return new Document
        {
            Blocks = blocks,
            Geometry = _geometry,
            Class = Class.Name,
            TwoSided = TwoSided,
            FlushBottom = _flushBottom ?? TwoSided,
            PageStyle = new PageStyle { Name = "empty" },
            Numbering = _numbering,
            FirstPage = _firstPage,
            IsDraft = IsDraft,
            Hyphenation = _hyphenation,
            BodyStyle = PlainStyle(size),
            Leading = leading,
            Typefaces = _typefaces,
            FloatRules = _floatRules,
            Language = _language.Value,
            Labels = _labels,
            Statements = new Dictionary<string, string>(_theoremTitles, StringComparer.Ordinal),
            LabelUses = _labelUses,
            Equations = _equations,
            Packages = _packages,
            Citations = _sourceDesk?.Citations ?? [],
            Sources = _sourceDesk?.Printed ?? [],
            SourceStyle = SourceDesk.Effective,
            IsModernSources = SourceDesk.IsModern,
            Footnotes = _footnotes,
            Title = _pdfTitle ?? PlainOf("@title"),
            Author = _pdfAuthor ?? PlainOf("@author"),
        };
    }

    private string PlainOf(string kept)
    {
        try
        {
            return PlainText.Of(BuildInlines(WithoutNotes(Kept(kept) ?? [])));
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
