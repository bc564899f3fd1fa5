using System.Globalization;
using YoungFolio.Manuscript.Tree;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

// The page: paper, margins, page breaks, page styles, the document's beginning and end.
public sealed partial class DocumentBuilder
{
    private const double Inch = 72.27;
    private const double Millimetre = Inch / 25.4;
    private double _paperWidth = 8.5 * Inch;
    private double _paperHeight = 11 * Inch;
    private string _pageStyle = "plain";

    /// <summary>Whether both sides of the paper are printed.</summary>
    public bool TwoSided { get; private set; }

    /// <summary>Margins that a package asked for, in points; null leaves the class's own.</summary>
    internal (double? Left, double? Right, double? Top, double? Bottom)? Margins { get; set; }

    /// <summary>The family of the text.</summary>
    public string Typeface { get; set; } = "pagella";

    private void DefinePages()
    {
        foreach (string name in (string[])[
            "paperwidth", "paperheight", "textwidth", "textheight", "linewidth", "columnwidth", "hsize", "oddsidemargin",
            "evensidemargin", "topmargin", "headheight", "headsep", "footskip", "topskip", "marginparwidth", "marginparsep"])
        {
            Machine.NamedDimension(name, Dimension.FromPoints(name switch { "headheight" => 12, "headsep" => 25, "footskip" => 30, "topskip" => 10, _ => 0 }));
        }

        Machine.Define("newpage", (_, _) => AddBlock(new PageBreakBlock(PageEnd.New)));
        Machine.Define("clearpage", (_, _) => AddBlock(new PageBreakBlock(PageEnd.Clear)));
        Machine.Define("cleardoublepage", (_, _) => AddBlock(new PageBreakBlock(PageEnd.ClearDouble)));
        Machine.Define("pagebreak", (m, t) =>
        {
            m.ReadOptional(t);
            AddBlock(new PageBreakBlock(PageEnd.New));
        });
        Machine.Define("nopagebreak", (m, t) =>
        {
            m.ReadOptional(t);
            AddBlock(new PenaltyBlock(10000));
        });
        Machine.Define("pagestyle", (m, t) =>
        {
            string style = m.ReadText(t);
            if (style is not ("plain" or "empty" or "headings"))
            {
                Findings.Check("unknown-page-style", t.Position, t.Length, $"There is no page style “{style}” here.",
                    "Available: plain, empty, headings.");
                return;
            }

            _pageStyle = _documentBegun ? _pageStyle : style;
            AddBlock(new PageStyleBlock { Style = style });
        });
        Machine.Define("thispagestyle", (m, t) => AddBlock(new PageStyleBlock { ThisPage = m.ReadText(t) }));
        Machine.Define("pagenumbering", (m, t) =>
        {
            string numbering = m.ReadText(t);
            AddBlock(new PageStyleBlock { Numbering = numbering, Number = 1 });
        });
        Machine.Define("raggedbottom", (_, _) => _flushBottom = false);
        Machine.Define("flushbottom", (_, _) => _flushBottom = true);
        Machine.Define("onehalfspacing", (m, _) => m.Assign(_spread, 1.25));
        Machine.Define("doublespacing", (m, _) => m.Assign(_spread, 1.667));
        Machine.Define("singlespacing", (m, _) => m.Assign(_spread, 1));
    }

    private bool? _flushBottom;

    /// <summary>Sets the paper by its name without <c>paper</c> (ISO 216 and American sizes); false when unknown.</summary>
    internal bool SetPaper(string name)
    {
        (double Width, double Height)? size = name switch
        {
            "a4" => (210 * Millimetre, 297 * Millimetre),
            "a5" => (148 * Millimetre, 210 * Millimetre),
            "b5" => (176 * Millimetre, 250 * Millimetre),
            "letter" => (8.5 * Inch, 11 * Inch),
            "legal" => (8.5 * Inch, 14 * Inch),
            "executive" => (7.25 * Inch, 10.5 * Inch),
            _ => null,
        };
        if (size is not { } s)
        {
            return false;
        }

        (_paperWidth, _paperHeight) = s;
        return true;
    }

    private PageGeometry _geometry = null!;

    // Margins of equal width, or 2 : 3 when both sides are printed, as in Lamport's classes. The measure is set for the
    // default face: about 73 characters of Pagella a line, within the 45 to 75 of common practice.
    private PageGeometry MakeGeometry()
    {
        (double size, double leading) = TypeSizes.Of("normalsize", BasicSize);
        double measure = BasicSize switch { 11 => 345, 12 => 375, _ => 320 };
        double textWidth = Math.Min(measure, _paperWidth - (2 * Inch));
        double lines = Math.Floor((_paperHeight - (3.5 * Inch)) / leading);
        double textHeight = (lines * leading) + size;
        double left = (_paperWidth - textWidth) / 2;
        double right = left;
        double head = Machine.NamedDimension("headheight").Value.Points;
        double headSeparation = Machine.NamedDimension("headsep").Value.Points;
        double footSkip = Machine.NamedDimension("footskip").Value.Points;
        double top = ((_paperHeight - textHeight - head - headSeparation - footSkip) / 2) + head + headSeparation;
        if (TwoSided)
        {
            left = (_paperWidth - textWidth) * 0.4;
            right = (_paperWidth - textWidth) * 0.6;
        }

        if (Margins is { } m)
        {
            left = m.Left ?? left;
            right = m.Right ?? right;
            top = m.Top ?? top;
            textWidth = _paperWidth - left - right;
            textHeight = _paperHeight - top - (m.Bottom ?? (_paperHeight - top - textHeight));
            if (textWidth < 3 * size || textHeight < 3 * leading)
            {
                Findings.Fix("margins-too-wide", _classPosition, 1, "The margins leave no room for text.",
                    "Their sum must be smaller than the paper. The class's own margins were used.");
                Margins = null;
                return MakeGeometry();
            }
        }

        return new PageGeometry
        {
            PaperWidth = _paperWidth,
            PaperHeight = _paperHeight,
            TextWidth = textWidth,
            TextHeight = textHeight,
            OddLeft = left,
            EvenLeft = TwoSided ? right : left,
            Top = top,
            HeadSeparation = headSeparation,
            FootSkip = footSkip,
            TopSkip = size,
        };
    }

    private void BeginDocument()
    {
        if (_documentBegun)
        {
            return;
        }

        SetSize("normalsize");
        _geometry = MakeGeometry();
        string spread = Machine.ExpandToText([Token.Command(Machine.Symbol("baselinestretch"), PositionTable.None)]);
        if (spread != "1" && double.TryParse(spread, NumberStyles.Float, CultureInfo.InvariantCulture, out double factor) && factor is > 0 and < 10)
        {
            Machine.Assign(_spread, factor, true);
        }

        foreach ((string name, double value) in (ReadOnlySpan<(string, double)>)[
            ("paperwidth", _geometry.PaperWidth), ("paperheight", _geometry.PaperHeight), ("textwidth", _geometry.TextWidth),
            ("textheight", _geometry.TextHeight), ("linewidth", _geometry.TextWidth), ("columnwidth", _geometry.TextWidth),
            ("hsize", _geometry.TextWidth), ("oddsidemargin", _geometry.OddLeft - Inch)])
        {
            Machine.Assign(Machine.NamedDimension(name), Dimension.FromPoints(value), true);
        }

        _documentBegun = true;
    }

    private void EndDocument(Token token)
    {
        EndParagraph();
        _documentEnded = true;
        foreach (Group group in Machine.Groups.Reverse())
        {
            ReportUnclosed(group);
        }

        string rest = Machine.InnermostLexer?.Rest() ?? "";
        if (rest.Length > 0 && !rest.StartsWith('%'))
        {
            Findings.Check("text-after-end", Machine.InnermostLexer!.Position, 1, "Text after \\end{document} isn't printed.",
                "Move it up, or delete it.");
        }

        Machine.DropAllInput();
    }

    private Document MakeDocument(List<Block> blocks)
    {
        (double size, double leading) = TypeSizes.Of("normalsize", BasicSize);
        foreach (LabelUse use in _labelUses)
        {
            if (!_labels.ContainsKey(use.Key) && use.Key.StartsWith("source ", StringComparison.Ordinal))
            {
                string? likely = NearestName.Find(use.Key[7..], _sourceKeys);
                Findings.Fix("missing-source", use.Position, use.Length, $"There is no source “{use.Key[7..]}”.",
                    likely is null ? "Check its key, or add it to the .bib part. Until then ?? is printed." : $"Did you mean “{likely}”?");
            }
            else if (!_labels.ContainsKey(use.Key))
            {
                string? near = NearestName.Find(use.Key, _labels.Keys);
                Findings.Fix("missing-label", use.Position, use.Length, $"There is no label “{use.Key}”.",
                    near is null ? "Put \\label{" + use.Key + "} where it should lead. Until then ?? is printed." : $"Did you mean “{near}”?");
            }
        }

        return new Document
        {
            Blocks = blocks,
            Geometry = _geometry,
            Class = Class.Name,
            TwoSided = TwoSided,
            FlushBottom = _flushBottom ?? TwoSided,
            PageStyle = _pageStyle,
            BodyStyle = new TextStyle(FontFamily.Roman, false, FontShape.Upright, size),
            Leading = leading,
            Typeface = Typeface,
            Language = _language.Value,
            Labels = _labels,
            LabelUses = _labelUses,
            Equations = _equations,
            Packages = _packages,
            Citations = _citations,
            Sources = _sources,
            Footnotes = _footnotes,
            Title = _pdfTitle ?? (_title is null ? "" : PlainText.Of(BuildInlines(WithoutNotes(_title)))),
            Author = _pdfAuthor ?? (_author is null ? "" : PlainText.Of(BuildInlines(WithoutNotes(_author)))),
        };
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

    private static List<Token> WithoutNotes(List<Token> tokens)
    {
        var result = new List<Token>();
        for (int i = 0; i < tokens.Count; i++)
        {
            if (!tokens[i].IsCommand("thanks") && !tokens[i].IsCommand("footnote"))
            {
                result.Add(tokens[i]);
                continue;
            }

            int depth = 0;
            for (i++; i < tokens.Count; i++)
            {
                depth += tokens[i].Is(Category.BeginGroup) ? 1 : tokens[i].Is(Category.EndGroup) ? -1 : 0;
                if (depth == 0)
                {
                    break;
                }
            }
        }

        return result;
    }
}
