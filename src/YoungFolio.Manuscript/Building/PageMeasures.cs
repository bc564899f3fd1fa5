using YoungFolio.Manuscript.Tree;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

// The page's measures: from the class, from wishes of a package, or lengths set by hand; and their changes on the way.
public sealed partial class DocumentBuilder
{
    private readonly Dictionary<string, double> _published = new(StringComparer.Ordinal);
    private readonly Dictionary<string, PageGeometry> _savedGeometries = new(StringComparer.Ordinal);
    private PageGeometry _geometry = null!;
    private PageGeometry _pageNow = null!;

    /// <summary>What the preamble wants of the page.</summary>
    internal PageWish PageWish { get; set; } = new();

    /// <summary>Columns of text on a page: 1 or 2.</summary>
    internal int Columns { get; set; } = 1;

    /// <summary>Sets a side of the paper in points.</summary>
    internal void SetPaperLength(bool width, double length)
    {
        if (length is > 10 and < 15_000)
        {
            (_paperWidth, _paperHeight) = width ? (length, _paperHeight) : (_paperWidth, length);
        }
    }

    /// <summary>Lays the paper across or upright.</summary>
    internal void SetOrientation(bool landscape)
    {
        (double small, double large) = (Math.Min(_paperWidth, _paperHeight), Math.Max(_paperWidth, _paperHeight));
        (_paperWidth, _paperHeight) = landscape ? (large, small) : (small, large);
    }

    // Margins of equal width, or 2 : 3 when both sides are printed, as in Lamport's classes. The measure is set for the
    // default face: about 73 characters of Pagella a line, within the 45 to 75 of common practice.
    private PageGeometry MakeGeometry(PageWish wish)
    {
        (double size, double leading) = TypeSizes.Of("normalsize", BasicSize);
        double measure = BasicSize switch { 11 => 345, 12 => 375, _ => 320 };
        double usualWidth = Math.Min(Columns > 1 ? (2 * measure) + Get("columnsep") : measure, _paperWidth - (2 * Inch));
        double head = Get("headheight") + Get("headsep");
        double footSkip = Get("footskip");
        double usualHeight = (Math.Floor((_paperHeight - (3.5 * Inch)) / leading) * leading) + size;
        double usualTop = ((_paperHeight - usualHeight - head - footSkip) / 2) + head;
        double paper = _paperWidth - wish.Binding;
        double ratio = TwoSided ? 2.0 / 3 : 1;
        (double left, double width) = wish.Across.Solve(paper, ((paper - usualWidth) * ratio / (1 + ratio), usualWidth), ratio);
        (double top, double height) = wish.Down.Solve(_paperHeight, (usualTop, usualHeight), 2.0 / 3);
        if (wish.IncludesHead)
        {
            (top, height) = (top + head, height - head);
        }

        height -= wish.IncludesFoot ? footSkip : 0;
        width -= wish.IncludesNotes ? Get("marginparwidth") + Get("marginparsep") : 0;
        if (wish.Lines is { } lines)
        {
            height = ((lines - 1) * leading) + size;
        }
        else if (wish.RoundsHeight)
        {
            height = (Math.Round((height - size) / leading) * leading) + size;
        }

        if (width < 3 * size || height < 3 * leading)
        {
            Findings.Fix("margins-too-wide", _classPosition, 1, "The margins leave no room for text.",
                "Their sum must be smaller than the paper. The class's own margins were used.");
            PageWish = new PageWish();
            return MakeGeometry(PageWish);
        }

        double right = paper - left - width;
        left += wish.Binding;
        return new PageGeometry
        {
            PaperWidth = _paperWidth,
            PaperHeight = _paperHeight,
            TextWidth = width,
            TextHeight = height,
            OddLeft = left,
            EvenLeft = TwoSided ? right : left,
            Top = top,
            HeadSeparation = Get("headsep"),
            FootSkip = footSkip,
            TopSkip = size,
            MarginWidth = Math.Max(20, Math.Min(Math.Max(left, right), 140) - 25),
            MarginSeparation = Get("marginparsep"),
            Columns = Columns,
            ColumnSeparation = Get("columnsep"),
            ColumnRule = Get("columnseprule"),
        };
    }

    /// <summary>Shows the measures in the lengths that a preamble may read and change.</summary>
    internal void PublishGeometry()
    {
        if (!_documentBegun)
        {
            Publish(MakeGeometry(PageWish));
        }
    }

    private void Publish(PageGeometry geometry)
    {
        double column = geometry.ColumnWidth;
        foreach ((string name, double value) in (ReadOnlySpan<(string, double)>)[
            ("paperwidth", geometry.PaperWidth), ("paperheight", geometry.PaperHeight), ("textwidth", geometry.TextWidth),
            ("textheight", geometry.TextHeight), ("linewidth", column), ("columnwidth", column), ("hsize", column),
            ("oddsidemargin", geometry.OddLeft - Inch), ("evensidemargin", geometry.EvenLeft - Inch),
            ("topmargin", geometry.Top - Inch - Get("headheight") - Get("headsep")), ("marginparwidth", geometry.MarginWidth)])
        {
            Dimension dimension = Dimension.FromPoints(value);
            Machine.Assign(Machine.NamedDimension(name), dimension, true);
            _published[name] = dimension.Points;
        }
    }

    // Lengths that the preamble set by hand win over all else.
    private PageGeometry AdoptLengths(PageGeometry geometry)
    {
        bool Differs(string name) => _published.TryGetValue(name, out double known) && Math.Abs(Get(name) - known) > 0.01;
        if (_published.Count == 0)
        {
            return geometry;
        }

        double width = Differs("textwidth") ? Get("textwidth") : geometry.TextWidth;
        double height = Differs("textheight") ? Get("textheight") : geometry.TextHeight;
        double odd = Differs("oddsidemargin") ? Inch + Get("oddsidemargin") : geometry.OddLeft;
        double even = !TwoSided ? odd : Differs("evensidemargin") ? Inch + Get("evensidemargin") : geometry.EvenLeft;
        double top = Differs("topmargin") ? Inch + Get("topmargin") + Get("headheight") + Get("headsep") : geometry.Top;
        if (width is < 30 or > 10_000 || height is < 30 or > 15_000)
        {
            Findings.Fix("margins-too-wide", _classPosition, 1, "The lengths \\textwidth and \\textheight leave no room for text.",
                "Set them to lengths smaller than the paper. The class's own were used.");
            return geometry;
        }

        return geometry with
        {
            PaperWidth = Differs("paperwidth") && Get("paperwidth") > 50 ? Get("paperwidth") : geometry.PaperWidth,
            PaperHeight = Differs("paperheight") && Get("paperheight") > 50 ? Get("paperheight") : geometry.PaperHeight,
            TextWidth = width,
            TextHeight = height,
            OddLeft = odd + Get("hoffset"),
            EvenLeft = even + Get("hoffset"),
            Top = top + Get("voffset"),
            MarginWidth = Differs("marginparwidth") ? Math.Max(10, Get("marginparwidth")) : geometry.MarginWidth,
        };
    }

    // Narrow columns need wide spaces: Lamport's classes set them loosely, and end them at one height.
    private void SetSloppy(bool everywhere = false)
    {
        Machine.Assign(_tolerance, 9_999, everywhere);
        Machine.Assign(_emergencyStretch, Dimension.FromPoints(3 * _style.Value.Size), everywhere);
    }

    private void FixGeometry()
    {
        if (Columns > 1)
        {
            SetSloppy(true);
            _flushBottom ??= true;
        }

        _geometry = AdoptLengths(MakeGeometry(PageWish));
        _pageNow = _geometry;
        Publish(_geometry);
    }

    // ---- changes on the way ----------------------------------------------------------------------------

    private void ChangeGeometry(PageGeometry geometry)
    {
        BreakPage(PageEnd.Clear);
        _pageNow = geometry;
        AddBlock(new GeometryBlock(geometry));
        Publish(geometry);
        Machine.Assign(_lineWidth, Dimension.FromPoints(geometry.ColumnWidth), true);
    }

    /// <summary>Gives margins that change on the way (the package geometry).</summary>
    /// <param name="read">Adds options to a wish.</param>
    internal void DefineGeometryChanges(Func<PageWish, List<Token>, Token, PageWish> read)
    {
        Machine.Define("newgeometry", (m, t) =>
        {
            PageWish wish = read(new PageWish(), m.ReadArgument(t), t);
            if (_documentBegun)
            {
                ChangeGeometry(MakeGeometry(wish) with { Columns = _pageNow.Columns });
            }
            else
            {
                PageWish = wish;
                PublishGeometry();
            }
        });
        Machine.Define("restoregeometry", (_, _) => ChangeGeometry(_geometry));
        Machine.Define("savegeometry", (m, t) => _savedGeometries[m.ReadText(t)] = _pageNow ?? MakeGeometry(PageWish));
        Machine.Define("loadgeometry", (m, t) =>
        {
            if (_savedGeometries.TryGetValue(m.ReadText(t), out PageGeometry? saved))
            {
                ChangeGeometry(saved);
            }
        });
    }

    private void SetColumns(int columns, List<Token>? across)
    {
        if (!_documentBegun)
        {
            Columns = columns;
            return;
        }

        Columns = columns;
        Machine.SetSwitch("@twocolumn", columns > 1, true);
        ChangeGeometry(_pageNow with { Columns = columns, ColumnSeparation = Get("columnsep"), ColumnRule = Get("columnseprule") });
        if (across is not null)
        {
            Machine.BeginGroup(GroupKind.Command, "", Machine.CurrentPosition);
            SetLineWidth(_pageNow.TextWidth);
            List<Block> blocks = BuildBlocks(across);
            Machine.EndGroup();
            AddBlock(new AcrossBlock(blocks));
        }
    }

    /// <summary>Gives pages that lie across (the packages lscape and pdflscape).</summary>
    internal void DefineLandscape() => DefineEnvironment("landscape", _ =>
    {
        PageGeometry p = _pageNow;
        _upright.Push(p);
        // The text block turns with the paper: what was its height is its width.
        ChangeGeometry(p with
        {
            PaperWidth = p.PaperHeight,
            PaperHeight = p.PaperWidth,
            TextWidth = p.TextHeight,
            TextHeight = p.TextWidth,
            OddLeft = p.PaperHeight - p.Top - p.TextHeight,
            EvenLeft = p.PaperHeight - p.Top - p.TextHeight,
            Top = Math.Max(p.PaperWidth - p.OddLeft - p.TextWidth, 20 + p.HeadSeparation),
            Columns = 1,
        });
    }, _ =>
    {
        if (_upright.TryPop(out PageGeometry? p))
        {
            ChangeGeometry(p);
        }
    });

    private readonly Stack<PageGeometry> _upright = new();

    /// <summary>Gives text in columns.</summary>
    internal void DefineColumns()
    {
        Machine.NamedGlue("multicolsep", Glue.Of(12, 4, 3));
        Machine.NamedDimension("premulticols", Dimension.FromPoints(50));
        Machine.NamedDimension("postmulticols", Dimension.FromPoints(20));
        var open = new Stack<(int Count, double Width)>();
        foreach (string name in (string[])["multicols", "multicols*"])
        {
            DefineEnvironment(name, t =>
            {
                List<Token> number = Machine.ReadArgument(t);
                List<Token>? across = Machine.ReadOptional(t);
                Machine.ReadOptional(t);
                EndParagraph();
                foreach (Block block in across is null ? [] : BuildBlocks(across))
                {
                    AddBlock(block);
                }

                int count = Math.Clamp(Machine.ParseInteger(number, t) ?? 2, 1, 10);
                open.Push((count, LineWidth));
                OpenFrame();
                SetLineWidth(Math.Max(1, (LineWidth - (Get("columnsep") * (count - 1))) / count));
                SetSloppy();
            }, _ =>
            {
                if (_frames.Count > 1 && open.TryPop(out (int Count, double Width) columns))
                {
                    AddBlock(new ColumnsBlock(CloseFrame().Blocks, columns.Count)
                    {
                        Width = columns.Width,
                        Gap = Get("columnsep"),
                        Rule = Get("columnseprule"),
                        IsUnbalanced = name.EndsWith('*'),
                        SpaceAround = Machine.NamedGlue("multicolsep").Value,
                    });
                }
            });
        }

        Machine.Define("columnbreak", (m, t) =>
        {
            m.ReadOptional(t);
            BreakPage(PageEnd.New);
        });
        Machine.LoadDefinitions("\\def\\raggedcolumns{}\\def\\flushcolumns{}");
    }
}
