using YoungFolio.Documents;
using YoungFolio.Documents.Mathematics;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>How an environment of rows and columns inside a formula is set.</summary>
/// <param name="Columns">A letter a column; the last goes on.</param>
internal sealed record GridForm(string Columns = "c")
{
    public string Left { get; init; } = "";

    public string Right { get; init; } = "";

    public double ColumnGap { get; init; } = 1;

    public double SideGap { get; init; }

    public bool InDisplay { get; init; }

    public bool IsPaired { get; init; }

    public double PairGap { get; init; } = 2;

    public bool IsSmall { get; init; }

    public char Vertical { get; init; } = 'c';

    /// <summary>The columns of an array, with what stands between them.</summary>
    public IReadOnlyList<ColumnSetup> Setups { get; init; } = [];

    /// <summary>Whether its gaps and rows follow <c>\\arraycolsep</c> and <c>\\arraystretch</c>.</summary>
    public bool FollowsArray { get; init; }

    public double Stretch { get; init; } = 1;

    /// <summary>Whether its first row and column stand outside parentheses.</summary>
    public bool IsBordered { get; init; }

    public bool IsMultline { get; init; }
}

/// <summary>Matrices, cases, arrays and aligned blocks inside formulas.</summary>
internal sealed class MathGrids(DocumentBuilder builder) : ReadingFeature(builder)
{
    // Matrices part columns by twice \arraycolsep, 5 points at 10 (Lamport, section C.10.2).
    private static readonly (string Suffix, string Left, string Right)[] s_matrices =
        [("", "", ""), ("p", "(", ")"), ("b", "[", "]"), ("B", "{", "}"), ("v", "|", "|"), ("V", "‖", "‖")];

    internal void DefineMathGrids()
    {
        Builder.Environments.DefineEnvironment("array", t =>
        {
            char vertical = Machine.ReadOptionalText(t) is { Length: 1 } v ? v[0] : 'c';
            AddGrid(t, "array", ReadArrayForm(t) with { Vertical = vertical });
        });
        // The plain forms, with \cr between rows.
        Builder.MathCommands.DefineMath("matrix", (_, t) => AddPlainGrid(t, new GridForm()));
        Builder.MathCommands.DefineMath("pmatrix", (_, t) => AddPlainGrid(t, new GridForm { Left = "(", Right = ")" }));
        Builder.MathCommands.DefineMath("cases", (_, t) => AddPlainGrid(t, new GridForm("l") { Left = "{" }));
        Builder.MathCommands.DefineMath("bordermatrix", (_, t) => AddPlainGrid(t, new GridForm("lc") { IsBordered = true }));
        Builder.MathCommands.DefineMath("eqalign", (_, t) => AddPlainGrid(t, new GridForm("rl") { IsPaired = true, InDisplay = true, ColumnGap = 0 }));
        Builder.MathCommands.DefineMath("displaylines", (_, t) => AddPlainGrid(t, new GridForm("c") { InDisplay = true }));
        foreach (string name in (string[])["eqalignno", "leqalignno"])
        {
            Builder.MathCommands.DefineMath(name, (_, t) => AddPlainGrid(t, new GridForm("rlr") { InDisplay = true }));
        }

        foreach (string name in (string[])["cr", "crcr"])
        {
            Machine.Define(name, static (_, _) => { });
        }

        Machine.Define("hdotsfor", (m, t) =>
        {
            m.ReadOptional(t);
            int count = int.TryParse(m.ReadText(t), out int n) ? Math.Clamp(n, 1, 100) : 1;
            if (Builder.Formulas.Math is not null)
            {
                Builder.Formulas.AddSymbol("…", AtomClass.Inner, t.Position, false);
                m.Push(Enumerable.Repeat(m.Tokenize("&\\ldots", t.Position), count - 1).SelectMany(x => x).ToList());
            }
        });
    }

    internal void DefineAmsmathGrids()
    {
        foreach ((string suffix, string left, string right) in s_matrices)
        {
            DefineGrid(suffix + "matrix", new GridForm { Left = left, Right = right, FollowsArray = true });
            DefineGrid(suffix + "matrix*", new GridForm { Left = left, Right = right, FollowsArray = true }, takesColumns: true);
            DefineGrid(suffix + "smallmatrix", new GridForm { Left = left, Right = right, IsSmall = true, ColumnGap = 0.5 });
        }

        // Rows of cases are 1.2 times as high as those of an array; those in displays stand \jot apart (amsmath, mathtools).
        DefineGrid("cases", new GridForm("l") { Left = "{", Stretch = 1.2 });
        DefineGrid("dcases", new GridForm("l") { Left = "{", InDisplay = true });
        DefineGrid("rcases", new GridForm("l") { Right = "}", Stretch = 1.2 });
        DefineGrid("drcases", new GridForm("l") { Right = "}", InDisplay = true });
        var aligned = new GridForm("rl") { IsPaired = true, InDisplay = true, ColumnGap = 0 };
        foreach (string name in (string[])["aligned", "split", "alignedat"])
        {
            Builder.Environments.DefineEnvironment(name, t =>
            {
                char vertical = Machine.ReadOptionalText(t) is { Length: 1 } v ? v[0] : 'c';
                if (name == "alignedat")
                {
                    Machine.ReadArgument(t);
                }

                AddGrid(t, name, aligned with { Vertical = vertical, PairGap = name == "alignedat" ? 0 : 2 });
            });
        }

        Builder.Environments.DefineEnvironment("gathered", t => AddGrid(t, "gathered", new GridForm { InDisplay = true, Vertical = Machine.ReadOptionalText(t) is { Length: 1 } v ? v[0] : 'c' }));
        Builder.Environments.DefineEnvironment("multlined", t =>
        {
            Machine.ReadOptional(t);
            Machine.ReadOptional(t);
            AddGrid(t, "multlined", new GridForm { InDisplay = true, IsMultline = true });
        });
        Builder.Environments.DefineEnvironment("subarray", t => AddGrid(t, "subarray", new GridForm(Machine.ReadText(t) is "l" ? "l" : "c") { IsSmall = true }));
        Builder.MathCommands.DefineMath("substack", (m, t) =>
        {
            List<Token> rows = m.ReadArgument(t);
            m.Scan(rows, () => Builder.Formulas.Math!.Nodes.AddRange(GridOf(t, new GridForm { IsSmall = true }, FormulaReader.MathEnd.ScanCell).Nodes));
        });
    }

    /// <summary>Adds rows that stand where only a part of a formula may.</summary>
    internal void AddRowsInFormula(Token token, bool isCentred) => Builder.Formulas.Math!.Nodes.AddRange(
        GridOf(token, isCentred ? new GridForm { InDisplay = true } : new GridForm("rl") { IsPaired = true, InDisplay = true, ColumnGap = 0 }, FormulaReader.MathEnd.Cell).Nodes);

    private void DefineGrid(string name, GridForm form, bool takesColumns = false) => Builder.Environments.DefineEnvironment(name, t =>
    {
        // \pmatrix{… \cr …} is the plain form of the environment's own name.
        if (Builder.Formulas.Math is not null && !(Machine.Groups.Count > 0 && Machine.Groups[^1] is { Kind: GroupKind.Environment, Name: var open } && open == name))
        {
            AddPlainGrid(t, form);
            return;
        }

        string? columns = takesColumns ? Machine.ReadOptionalText(t) : null;
        AddGrid(t, name, columns is { Length: > 0 } ? form with { Columns = columns } : form);
    });

    private void AddGrid(Token token, string name, GridForm form)
    {
        if (Builder.Formulas.Math is not null)
        {
            Builder.Formulas.Math.Nodes.AddRange(GridOf(token, form, FormulaReader.MathEnd.Cell).Nodes);
            return;
        }

        Findings.Fix("mathematics-outside", token.Position, name.Length + 8, $"The environment {name} belongs in a formula.",
            "Put \\[ before it and \\] after it.");
        Machine.BeginGroup(GroupKind.Formula, "", token.Position);
        MathList list = GridOf(token, form, FormulaReader.MathEnd.Cell);
        Builder.Formulas.EndFormulaGroup();
        Builder.AddInline(new MathInline(list, Builder.Style.Value));
    }

    private void AddPlainGrid(Token token, GridForm form)
    {
        List<Token> rows = Machine.ReadArgument(token);
        Machine.Scan(rows, () => Builder.Formulas.Math!.Nodes.AddRange(GridOf(token, form, FormulaReader.MathEnd.ScanCell).Nodes));
    }

    private GridForm ReadArrayForm(Token token)
    {
        List<ColumnSetup> columns = Builder.TableColumns.ReadColumns(Machine.ReadArgument(token), token, null, inFormula: true);
        return new GridForm(string.Concat(columns.Select(c => LetterOf(c.Look.Alignment)))) { Setups = columns, FollowsArray = true };
    }

    private static char LetterOf(Alignment alignment) => alignment switch { Alignment.Right => 'r', Alignment.Centre => 'c', _ => 'l' };

    private MathList GridOf(Token token, GridForm form, FormulaReader.MathEnd end)
    {
        var read = new GridRows(form);
        bool more = true;
        while (more && !Builder.Formulas.MathAborted)
        {
            TakeLines(read);
            (List<MathList> cells, more, double gap) = ReadRow(token, form.IsPaired, end, read);
            if (more || cells.Count > 1 || cells[0].Nodes.Count > 0)
            {
                read.Add(cells, gap);
            }
        }

        double size = Builder.Style.Value.Size;
        double stretch = form.FollowsArray && double.TryParse(
            Machine.ExpandToText([Token.Command(Machine.Symbol("arraystretch"), PositionTable.None)]), System.Globalization.CultureInfo.InvariantCulture, out double factor) ? Math.Clamp(factor, 0.1, 20) : 1;
        var grid = new GridNucleus(read.Rows, form.Columns)
        {
            ColumnGap = form.FollowsArray && size > 0 ? 2 * Builder.Get("arraycolsep") / size : form.ColumnGap,
            SideGap = form.SideGap,
            IsPaired = form.IsPaired,
            PairGap = form.PairGap,
            InDisplay = form.InDisplay,
            IsSmall = form.IsSmall,
            Vertical = form.Vertical,
            RowGaps = read.Gaps.Exists(g => g != 0) ? read.Gaps : [],
            Lines = read.Lines.Exists(l => l > 0) ? read.Lines : [],
            PartialLines = read.PartialLines,
            Spans = read.Spans,
            Edges = Edges(form, read.Rows.Select(r => r.Count).DefaultIfEmpty().Max()),
            Stretch = form.Stretch * stretch,
            Delimiters = form.IsBordered && read.Rows.Count > 1 ? [new GridDelimiters("(", ")", 1, read.Rows.Count - 1, 1, Math.Max(1, read.Rows.Max(r => r.Count) - 1))] : [],
            RowAlignments = form.IsMultline ? string.Concat(read.Rows.Select((_, i) => i == 0 ? 'l' : i == read.Rows.Count - 1 ? 'r' : 'c')) : "",
        };
        var atom = new Atom(AtomClass.Ordinary, grid) { Position = token.Position };
        return form.Left.Length + form.Right.Length == 0
            ? new MathList([atom])
            : new MathList([new Atom(AtomClass.Inner, new DelimitedNucleus(form.Left, new MathList([atom]), form.Right)) { Position = token.Position }]);
    }

    // Columns beyond those that were asked for have plain gaps.
    private List<GridEdge> Edges(GridForm form, int columns)
    {
        if (form.Setups.Count == 0)
        {
            return [];
        }

        double gap = Builder.Get("arraycolsep");
        var edges = new List<GridEdge> { new([.. form.Setups[0].Look.Left]) };
        for (int c = 1; c < form.Setups.Count; c++)
        {
            edges.Add(new GridEdge([.. form.Setups[c - 1].Look.Right, .. form.Setups[c].Look.Left]));
        }

        // A row may end before its last columns do: what stands at the right stands there all the same.
        for (int c = form.Setups.Count; c < columns; c++)
        {
            edges.Add(new GridEdge([new EdgePiece(2 * gap)]));
        }

        edges.Add(new GridEdge([.. form.Setups[^1].Look.Right]));
        return edges;
    }

    // The rows of a grid while they are read.
    internal sealed class GridRows(GridForm form)
    {
        public GridForm Form => form;

        public List<IReadOnlyList<MathList>> Rows { get; } = [];

        public List<double> Gaps { get; } = [];

        /// <summary>Lines across above each row, and below the last.</summary>
        public List<int> Lines { get; } = [0];

        public List<GridLine> PartialLines { get; } = [];

        public List<GridSpan> Spans { get; } = [];

        public void Add(IReadOnlyList<MathList> cells, double gap)
        {
            // An array has all its columns, whether a row fills them or not.
            Rows.Add(form.Setups.Count > cells.Count ? [.. cells, .. Enumerable.Repeat(MathList.Empty, form.Setups.Count - cells.Count)] : cells);
            Gaps.Add(gap);
            Lines.Add(0);
        }
    }

    // Lines before a row.
    private void TakeLines(GridRows read)
    {
        while (true)
        {
            Machine.SkipSpaces();
            Token next = Machine.Peek();
            if (next.IsCommand("hline") || next.IsCommand("toprule") || next.IsCommand("midrule") || next.IsCommand("bottomrule") || next.IsCommand("hdashline"))
            {
                Machine.Next();
                if (!next.IsCommand("hline"))
                {
                    // A thickness; after \hline a bracket is the row's own.
                    Machine.ReadOptional(next);
                }

                read.Lines[^1]++;
            }
            else if (next.IsCommand("cline") || next.IsCommand("cmidrule") || next.IsCommand("cdashline"))
            {
                Machine.Next();
                TakeTrim();
                string[] ends = Machine.ReadText(next).Split('-');
                if (int.TryParse(ends[0], out int first) && int.TryParse(ends[^1], out int last) && first >= 1 && last >= first)
                {
                    read.PartialLines.Add(new GridLine(read.Rows.Count, first - 1, last - 1));
                }
            }
            else
            {
                return;
            }
        }
    }

    // \cmidrule(lr) shortens its line; here it keeps its length.
    private void TakeTrim()
    {
        if (Machine.Peek().IsCharacter('('))
        {
            while (!Machine.Next().IsCharacter(')') && !Machine.Peek().Is(Category.Stop))
            {
            }
        }
    }

    // A cell that takes several columns.
    private MathList ReadSpan(Token token, GridRows read, int column)
    {
        Token command = Machine.Next();
        int count = Math.Clamp(Machine.Quantities.ParseInteger(Machine.ReadArgument(command), command) ?? 1, 1, MostSpan);
        ColumnSetup setup = Builder.TableColumns.ReadColumns(Machine.ReadArgument(command), command, null, inFormula: true)[0];
        List<Token> content = Machine.ReadArgument(command);
        int columns = read.Form.Setups.Count;
        read.Spans.Add(new GridSpan(read.Rows.Count, column, columns > column ? Math.Min(count, columns - column) : count, LetterOf(setup.Look.Alignment), setup.Look.Left.Any(p => p.IsRule), setup.Look.Right.Any(p => p.IsRule)));
        return Builder.MathCommands.MathOf([.. setup.Before, .. content, .. setup.After], token);
    }

    private const int MostSpan = 100;

    // The cells of a row, whether another row follows, and the space that \\[…] asks for below it, in points.
    internal (List<MathList> Cells, bool More, double Gap) ReadRow(Token token, bool aligned, FormulaReader.MathEnd kind, GridRows? read = null)
    {
        var cells = new List<MathList>();
        while (true)
        {
            Machine.BeginGroup(GroupKind.Command, "", token.Position);
            Machine.SkipSpaces();
            ColumnSetup? setup = read?.Form.Setups.ElementAtOrDefault(cells.Count);
            GridSpan? span = null;
            MathList begun = MathList.Empty;
            if (read is not null && Machine.Peek().IsCommand("multicolumn"))
            {
                begun = ReadSpan(token, read, cells.Count);
                (span, setup) = (read.Spans[^1], null);
            }
            else if (setup is { Before.Count: > 0 })
            {
                Machine.Push([.. setup.Before]);
            }

            MathList cell = Builder.Formulas.ReadMathList(kind, token);
            if (begun.Nodes.Count > 0 || setup is { After.Count: > 0 })
            {
                cell = new MathList([.. begun.Nodes, .. cell.Nodes, .. setup is null ? [] : Builder.Formulas.MathAborted ? [] : Builder.MathCommands.MathOf(setup.After, token).Nodes]);
            }

            if (!Builder.Formulas.MathAborted)
            {
                Machine.EndGroup();
            }

            // An empty atom before a sign at a column's beginning gives it its space (amsmath's own way).
            cells.Add(aligned && cells.Count % 2 == 1 && cell.Nodes.Count > 0
                ? new MathList([new Atom(AtomClass.Ordinary, new ListNucleus(MathList.Empty)), .. cell.Nodes])
                : cell);
            cells.AddRange(Enumerable.Repeat(MathList.Empty, (span?.Count ?? 1) - 1));
            if (Builder.Formulas.MathAborted)
            {
                return (cells, false, 0);
            }

            Token end = Machine.NextExpanded();
            if (end.IsCommand("\\") || end.IsCommand("cr") || end.IsCommand("crcr") || end.IsCommand("tabularnewline"))
            {
                double gap = 0;
                if (end.IsCommand("\\"))
                {
                    Machine.TakeStar();
                    gap = Machine.ReadOptional(end) is { } space ? Machine.Quantities.ParseGlue(space, end)?.Width.Points ?? 0 : 0;
                }

                return (cells, true, gap);
            }

            if (!end.Is(Category.Alignment))
            {
                Machine.PutBack(end);
                return (cells, false, 0);
            }
        }
    }
}
