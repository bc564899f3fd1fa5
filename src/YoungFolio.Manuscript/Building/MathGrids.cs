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

    public IReadOnlyList<int> Rules { get; init; } = [];

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
            DefineGrid(suffix + "matrix", new GridForm { Left = left, Right = right });
            DefineGrid(suffix + "matrix*", new GridForm { Left = left, Right = right }, takesColumns: true);
            DefineGrid(suffix + "smallmatrix", new GridForm { Left = left, Right = right, IsSmall = true, ColumnGap = 0.5 });
        }

        DefineGrid("cases", new GridForm("l") { Left = "{" });
        DefineGrid("dcases", new GridForm("l") { Left = "{", InDisplay = true });
        DefineGrid("rcases", new GridForm("l") { Right = "}" });
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
        List<ColumnSetup> columns = Builder.TableColumns.ReadColumns(Machine.ReadArgument(token), token, null);
        if (columns.Count == 0)
        {
            return new GridForm { SideGap = 0.5 };
        }

        string letters = string.Concat(columns.Select(c => c.Look.Alignment switch { Alignment.Right => 'r', Alignment.Centre => 'c', _ => 'l' }));
        int[] rules = [.. columns.Select(c => c.Look.Left.Count(p => p.IsRule)), columns[^1].Look.Right.Count(p => p.IsRule)];
        for (int i = 0; i + 1 < columns.Count; i++)
        {
            rules[i + 1] += columns[i].Look.Right.Count(p => p.IsRule);
        }

        bool isBare = columns[0].Look.Left.Sum(p => p.Width) == 0 && columns[0].Look.Left.All(p => !p.IsRule);
        return new GridForm(letters) { SideGap = isBare ? 0 : 0.5, Rules = rules.Any(r => r > 0) ? rules : [] };
    }

    private MathList GridOf(Token token, GridForm form, FormulaReader.MathEnd end)
    {
        var rows = new List<IReadOnlyList<MathList>>();
        var gaps = new List<double>();
        var lines = new List<int> { 0 };
        bool more = true;
        while (more && !Builder.Formulas.MathAborted)
        {
            lines[^1] += TakeLines();
            (List<MathList> cells, more, double gap) = ReadRow(token, form.IsPaired, end);
            if (more || cells.Count > 1 || cells[0].Nodes.Count > 0)
            {
                rows.Add(cells);
                gaps.Add(gap);
                lines.Add(0);
            }
        }

        var grid = new GridNucleus(rows, form.Columns)
        {
            ColumnGap = form.ColumnGap,
            SideGap = form.SideGap,
            IsPaired = form.IsPaired,
            PairGap = form.PairGap,
            InDisplay = form.InDisplay,
            IsSmall = form.IsSmall,
            Vertical = form.Vertical,
            RowGaps = gaps.Exists(g => g != 0) ? gaps : [],
            Lines = lines.Exists(l => l > 0) ? lines : [],
            Rules = form.Rules,
            RowAlignments = form.IsMultline ? string.Concat(rows.Select((_, i) => i == 0 ? 'l' : i == rows.Count - 1 ? 'r' : 'c')) : "",
        };
        var atom = new Atom(AtomClass.Ordinary, grid) { Position = token.Position };
        return form.Left.Length + form.Right.Length == 0
            ? new MathList([atom])
            : new MathList([new Atom(AtomClass.Inner, new DelimitedNucleus(form.Left, new MathList([atom]), form.Right)) { Position = token.Position }]);
    }

    // \hline before a row.
    private int TakeLines()
    {
        int count = 0;
        while (true)
        {
            Machine.SkipSpaces();
            Token next = Machine.Peek();
            if (!(next.IsCommand("hline") || next.IsCommand("toprule") || next.IsCommand("midrule") || next.IsCommand("bottomrule")))
            {
                return count;
            }

            Machine.Next();
            count++;
        }
    }

    // The cells of a row, whether another row follows, and the space that \\[…] asks for below it, in points.
    internal (List<MathList> Cells, bool More, double Gap) ReadRow(Token token, bool aligned, FormulaReader.MathEnd kind)
    {
        var cells = new List<MathList>();
        while (true)
        {
            Machine.BeginGroup(GroupKind.Command, "", token.Position);
            MathList cell = Builder.Formulas.ReadMathList(kind, token);
            if (!Builder.Formulas.MathAborted)
            {
                Machine.EndGroup();
            }

            // An empty atom before a sign at a column's beginning gives it its space (amsmath's own way).
            cells.Add(aligned && cells.Count % 2 == 1 && cell.Nodes.Count > 0
                ? new MathList([new Atom(AtomClass.Ordinary, new ListNucleus(MathList.Empty)), .. cell.Nodes])
                : cell);
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
