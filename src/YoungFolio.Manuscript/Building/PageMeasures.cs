using YoungFolio.Documents;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>The page's measures: from the class, from wishes of a package, or lengths set by hand; and their changes on the way.</summary>
internal sealed class PageMeasures(DocumentBuilder builder) : ReadingFeature(builder)
{
    private readonly Dictionary<string, double> _published = new(StringComparer.Ordinal);
    private readonly Dictionary<string, PageGeometry> _savedGeometries = new(StringComparer.Ordinal);
    internal PageGeometry Geometry { get; set; } = null!;
    internal PageGeometry PageNow { get; set; } = null!;

    /// <summary>What the preamble wants of the page.</summary>
    internal PageSpecification PageSpecification { get; set; } = new();

    /// <summary>Columns of text on a page: 1 or 2.</summary>
    internal int Columns { get; set; } = 1;

    /// <summary>Sets a side of the paper in points.</summary>
    internal void SetPaperLength(bool width, double length)
    {
        if (length is > 10 and < 15_000)
        {
            (Builder.Pages.PaperWidth, Builder.Pages.PaperHeight) = width ? (length, Builder.Pages.PaperHeight) : (Builder.Pages.PaperWidth, length);
        }
    }

    /// <summary>Lays the paper across or upright.</summary>
    internal void SetOrientation(bool landscape)
    {
        (double small, double large) = (Math.Min(Builder.Pages.PaperWidth, Builder.Pages.PaperHeight), Math.Max(Builder.Pages.PaperWidth, Builder.Pages.PaperHeight));
        (Builder.Pages.PaperWidth, Builder.Pages.PaperHeight) = landscape ? (large, small) : (small, large);
    }

    // Margins of equal width, or 2 : 3 when both sides are printed, as in the standard classes (their published
    // documentation, from memory). Two columns are twice as wide, which no usual paper has room for.
    internal PageGeometry MakeGeometry(PageSpecification wish)
    {
        (double size, double leading) = TypeSizes.Of("normalsize", Builder.BasicSize);
        double topSkip = Builder.Get("topskip");
        double usualWidth = Math.Floor(Math.Min(Columns * Builder.StandardMeasures.Measures.TextWidth, Builder.Pages.PaperWidth - (2 * Units.Inch)));
        double head = Builder.Get("headheight") + Builder.Get("headsep");
        double footSkip = Builder.Get("footskip");
        double usualHeight = (Math.Floor((Builder.Pages.PaperHeight - (3.5 * Units.Inch)) / leading) * leading) + topSkip;
        double usualTop = WholePoints((Builder.Pages.PaperHeight - usualHeight - head - footSkip) / 2) + head;
        double paper = Builder.Pages.PaperWidth - wish.Binding;
        double ratio = Builder.Pages.TwoSided ? 2.0 / 3 : 1;
        (double left, double width) = wish.Across.Solve(paper, (WholePoints((paper - usualWidth) * ratio / (1 + ratio)), usualWidth), ratio);
        (double top, double height) = wish.Down.Solve(Builder.Pages.PaperHeight, (usualTop, usualHeight), 2.0 / 3);
        if (wish.IncludesHead)
        {
            (top, height) = (top + head, height - head);
        }

        height -= wish.IncludesFoot ? footSkip : 0;
        width -= wish.IncludesNotes ? (wish.NotesWidth ?? Builder.Get("marginparwidth")) + Builder.Get("marginparsep") : 0;
        if (wish.Lines is { } lines)
        {
            height = ((lines - 1) * leading) + topSkip;
        }
        else if (wish.RoundsHeight)
        {
            height = (Math.Round((height - topSkip) / leading) * leading) + topSkip;
        }

        if (width < 3 * size || height < 3 * leading)
        {
            if (wish == new PageSpecification())
            {
                // No margins help paper that holds no line; a sheet of the usual size holds what there is to read.
                Findings.Fix("paper-too-small", Builder.Preamble.ClassPosition, 1, "The paper is too small for text.",
                    "It must be a few lines high and a few letters wide, beyond the class's margins. A4 was used.");
                Builder.Pages.SetPaper("a4");
                return MakeGeometry(wish);
            }

            Findings.Fix("margins-too-wide", Builder.Preamble.ClassPosition, 1, "The margins leave no room for text.",
                "Their sum must be smaller than the paper. The class's own margins were used.");
            PageSpecification = new PageSpecification();
            return MakeGeometry(PageSpecification);
        }

        double right = paper - left - width;
        left += wish.Binding;
        return new PageGeometry
        {
            PaperWidth = Builder.Pages.PaperWidth,
            PaperHeight = Builder.Pages.PaperHeight,
            TextWidth = width,
            TextHeight = height,
            OddLeft = left,
            EvenLeft = Builder.Pages.TwoSided ? right : left,
            Top = top,
            HeadSeparation = Builder.Get("headsep"),
            FootSkip = footSkip,
            TopSkip = topSkip,
            MarginWidth = Math.Max(10, wish.NotesWidth ?? UsualMarginWidth(usualWidth)),
            MarginSeparation = Builder.Get("marginparsep"),
            Columns = Columns,
            ColumnSeparation = Builder.Get("columnsep"),
            ColumnRule = Builder.Get("columnseprule"),
        };
    }

    // Margins are whole points beyond an inch (\@settopoint).
    private static double WholePoints(double fromEdge) => Math.Floor(fromEdge - Units.Inch + 0.0001) + Units.Inch;

    // What is left of the margin when notes keep off the text and four tenths of an inch off the paper's edge; at most two inches.
    private double UsualMarginWidth(double textWidth)
    {
        double beside = Builder.Pages.PaperWidth - textWidth;
        double width = Builder.Pages.TwoSided ? (0.6 * beside) - (0.4 * Units.Inch) : (0.5 * beside) - (0.8 * Units.Inch);
        return Math.Clamp(Math.Floor(width - Builder.Get("marginparsep")), 20, 2 * Units.Inch);
    }

    /// <summary>Shows the measures in the lengths that a preamble may read and change.</summary>
    internal void PublishGeometry()
    {
        if (!Builder.DocumentBegun)
        {
            Publish(MakeGeometry(PageSpecification));
        }
    }

    private void Publish(PageGeometry geometry)
    {
        double column = geometry.ColumnWidth;
        foreach ((string name, double value) in (ReadOnlySpan<(string, double)>)[
            ("paperwidth", geometry.PaperWidth), ("paperheight", geometry.PaperHeight), ("textwidth", geometry.TextWidth),
            ("textheight", geometry.TextHeight), ("linewidth", column), ("columnwidth", column), ("hsize", column),
            ("oddsidemargin", geometry.OddLeft - Units.Inch), ("evensidemargin", geometry.EvenLeft - Units.Inch),
            ("topmargin", geometry.Top - Units.Inch - Builder.Get("headheight") - Builder.Get("headsep")), ("marginparwidth", geometry.MarginWidth)])
        {
            Dimension dimension = Dimension.FromPoints(value);
            Machine.Assign(Machine.Registers.NamedDimension(name), dimension, true);
            _published[name] = dimension.Points;
        }
    }

    // Lengths that the preamble set by hand win over all else.
    private PageGeometry AdoptLengths(PageGeometry geometry)
    {
        bool Differs(string name) => _published.TryGetValue(name, out double known) && Math.Abs(Builder.Get(name) - known) > 0.01;
        if (_published.Count == 0)
        {
            return geometry;
        }

        double width = Differs("textwidth") ? Builder.Get("textwidth") : geometry.TextWidth;
        double height = Differs("textheight") ? Builder.Get("textheight") : geometry.TextHeight;
        double odd = Differs("oddsidemargin") ? Units.Inch + Builder.Get("oddsidemargin") : geometry.OddLeft;
        double even = !Builder.Pages.TwoSided ? odd : Differs("evensidemargin") ? Units.Inch + Builder.Get("evensidemargin") : geometry.EvenLeft;
        double top = Differs("topmargin") ? Units.Inch + Builder.Get("topmargin") + Builder.Get("headheight") + Builder.Get("headsep") : geometry.Top;
        if (width is < 30 or > 10_000 || height is < 30 or > 15_000)
        {
            Findings.Fix("margins-too-wide", Builder.Preamble.ClassPosition, 1, "The lengths \\textwidth and \\textheight leave no room for text.",
                "Set them to lengths smaller than the paper. The class's own were used.");
            return geometry;
        }

        return geometry with
        {
            PaperWidth = Differs("paperwidth") && Builder.Get("paperwidth") > 50 ? Builder.Get("paperwidth") : geometry.PaperWidth,
            PaperHeight = Differs("paperheight") && Builder.Get("paperheight") > 50 ? Builder.Get("paperheight") : geometry.PaperHeight,
            TextWidth = width,
            TextHeight = height,
            OddLeft = odd + Builder.Get("hoffset"),
            EvenLeft = even + Builder.Get("hoffset"),
            Top = top + Builder.Get("voffset"),
            MarginWidth = Differs("marginparwidth") ? Math.Max(10, Builder.Get("marginparwidth")) : geometry.MarginWidth,
        };
    }

    // Narrow columns need wide spaces: Lamport's classes set them loosely, and end them at one height.
    private void SetSloppy(bool everywhere = false)
    {
        Machine.Assign(Builder.Text.Tolerance, 9_999, everywhere);
        Machine.Assign(Builder.Text.EmergencyStretch, Dimension.FromPoints(3 * Builder.Style.Value.Size), everywhere);
    }

    internal void FixGeometry()
    {
        if (Columns > 1)
        {
            SetSloppy(true);
            Builder.Pages.FlushBottom ??= true;
        }

        Geometry = AdoptLengths(MakeGeometry(PageSpecification));
        PageNow = Geometry;
        Publish(Geometry);
    }

    // ---- changes on the way ----------------------------------------------------------------------------

    private void ChangeGeometry(PageGeometry geometry)
    {
        Builder.Pages.BreakPage(PageEnd.Clear);
        PageNow = geometry;
        Builder.AddBlock(new GeometryBlock(geometry));
        Publish(geometry);
        Machine.Assign(Builder.Boxes.LineWidthRegister, Dimension.FromPoints(geometry.ColumnWidth), true);
    }

    /// <summary>Gives margins that change on the way (the package geometry).</summary>
    /// <param name="read">Adds options to a wish.</param>
    internal void DefineGeometryChanges(Func<PageSpecification, List<Token>, Token, PageSpecification> read)
    {
        Machine.Define("newgeometry", (m, t) =>
        {
            PageSpecification wish = read(new PageSpecification(), m.ReadArgument(t), t);
            if (Builder.DocumentBegun)
            {
                ChangeGeometry(MakeGeometry(wish) with { Columns = PageNow.Columns });
            }
            else
            {
                PageSpecification = wish;
                PublishGeometry();
            }
        });
        Machine.Define("restoregeometry", (_, _) => ChangeGeometry(Geometry));
        Machine.Define("savegeometry", (m, t) => _savedGeometries[m.ReadText(t)] = PageNow ?? MakeGeometry(PageSpecification));
        Machine.Define("loadgeometry", (m, t) =>
        {
            if (_savedGeometries.TryGetValue(m.ReadText(t), out PageGeometry? saved))
            {
                ChangeGeometry(saved);
            }
        });
    }

    internal void SetColumns(int columns, List<Token>? across)
    {
        if (!Builder.DocumentBegun)
        {
            Columns = columns;
            return;
        }

        Columns = columns;
        Machine.Conditionals.SetSwitch("@twocolumn", columns > 1, true);
        ChangeGeometry(PageNow with { Columns = columns, ColumnSeparation = Builder.Get("columnsep"), ColumnRule = Builder.Get("columnseprule") });
        if (across is not null)
        {
            Machine.BeginGroup(GroupKind.Command, "", Machine.Input.CurrentPosition);
            Builder.Boxes.SetLineWidth(PageNow.TextWidth);
            List<Block> blocks = Builder.BuildBlocks(across);
            Machine.EndGroup();
            // A title is already set over all columns; its notes and what it says of the page belong to the page.
            List<Block> flat = [.. blocks.SelectMany(b => b is SpanningBlock inner ? inner.Content : [b])];
            Builder.AddBlock(new SpanningBlock([.. flat.Where(b => !IsOfPage(b))]));
            flat.Where(IsOfPage).ToList().ForEach(Builder.AddBlock);
        }
    }

    private static bool IsOfPage(Block block) => block is NotesBlock or PageStyleBlock or PageOpeningBlock;

    /// <summary>Gives pages that lie across (the packages lscape and pdflscape).</summary>
    internal void DefineLandscape() => Builder.Environments.DefineEnvironment("landscape", _ =>
    {
        PageGeometry p = PageNow;
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

    /// <summary>Begins pages whose text block is the whole paper, turned across if wanted; heads and feet keep their heights.</summary>
    /// <returns>The pages as they were.</returns>
    internal PageGeometry BeginWholePaper(bool isWide)
    {
        PageGeometry p = PageNow;
        (double width, double height) = isWide ? (p.PaperHeight, p.PaperWidth) : (p.PaperWidth, p.PaperHeight);
        ChangeGeometry(p with
        {
            PaperWidth = width,
            PaperHeight = height,
            TextWidth = width,
            TextHeight = height,
            OddLeft = 0,
            EvenLeft = 0,
            Top = 0,
            HeadSeparation = p.HeadSeparation - p.Top,
            FootSkip = p.Top + p.TextHeight + p.FootSkip - p.PaperHeight,
            Columns = 1,
        });
        return p;
    }

    /// <summary>Ends pages that began by <see cref="BeginWholePaper"/>.</summary>
    internal void EndWholePaper(PageGeometry before) => ChangeGeometry(before);

    /// <summary>Gives text in columns.</summary>
    internal void DefineColumns()
    {
        Machine.Registers.NamedGlue("multicolsep", Glue.Of(12, 4, 3));
        Machine.Registers.NamedDimension("premulticols", Dimension.FromPoints(50));
        Machine.Registers.NamedDimension("postmulticols", Dimension.FromPoints(20));
        var open = new Stack<(int Count, double Width)>();
        foreach (string name in (string[])["multicols", "multicols*"])
        {
            Builder.Environments.DefineEnvironment(name, t =>
            {
                List<Token> number = Machine.ReadArgument(t);
                List<Token>? across = Machine.ReadOptional(t);
                Machine.ReadOptional(t);
                Builder.EndParagraph();
                foreach (Block block in across is null ? [] : Builder.BuildBlocks(across))
                {
                    Builder.AddBlock(block);
                }

                int count = Math.Clamp(Machine.Quantities.ParseInteger(number, t) ?? 2, 1, 10);
                open.Push((count, Builder.Boxes.LineWidth));
                Builder.OpenFrame();
                Builder.Boxes.SetLineWidth(Math.Max(1, (Builder.Boxes.LineWidth - (Builder.Get("columnsep") * (count - 1))) / count));
                SetSloppy();
            }, _ =>
            {
                if (Builder.Frames.Count > 1 && open.TryPop(out (int Count, double Width) columns))
                {
                    Builder.AddBlock(new ColumnsBlock(Builder.CloseFrame().Blocks, columns.Count)
                    {
                        Width = columns.Width,
                        Gap = Builder.Get("columnsep"),
                        Rule = Builder.Get("columnseprule"),
                        IsUnbalanced = name.EndsWith('*'),
                        SpaceAround = Machine.Registers.NamedGlue("multicolsep").Value,
                    });
                }
            });
        }

        Machine.Define("columnbreak", (m, t) =>
        {
            m.ReadOptional(t);
            Builder.Pages.BreakPage(PageEnd.New);
        });
        Machine.Definitions.Load("\\def\\raggedcolumns{}\\def\\flushcolumns{}");
    }
}
