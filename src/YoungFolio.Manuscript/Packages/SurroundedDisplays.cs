using YoungFolio.Manuscript.Building;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Packages;

/// <summary>Displays whose rows have numbers of their own and something around them all (empheq's and cases' documentations, from memory).</summary>
internal static class SurroundedDisplays
{
    public static IReadOnlyList<Package> All { get; } =
    [
        new("empheq", "Displays with braces, frames and grounds around all their rows.")
        {
            Requires = ["mathtools"],
            Environments = ["empheq"],
            Commands = ["empheqset", "empheqlbrace", "empheqrbrace", "empheqlbrack", "empheqrbrack", "empheqlparen", "empheqrparen", "empheqlvert", "empheqrvert", "empheqbiglbrace", "empheqbigrbrace"],
            Options = ["ntheorem", "overload", "overload2"],
            Definitions = "\\def\\empheqset#1{}" + string.Concat(((string[])["lbrace", "rbrace", "lbrack", "rbrack", "lvert", "rvert"]).Select(static n => $"\\def\\empheq{n}{{\\{n}}}"))
                + "\\def\\empheqlparen{(}\\def\\empheqrparen{)}\\def\\empheqbiglbrace{\\lbrace}\\def\\empheqbigrbrace{\\rbrace}",
            Load = static load => load.Builder.Environments.DefineEnvironment("empheq", t => Begin(load, t), static _ => { }),
        },
        new("cases", "One value or another with a brace at the left, and a number at each.")
        {
            Requires = ["amsmath"],
            Environments = ["numcases", "subnumcases"],
            Options = ["casesstyle", "subnum"],
            Load = static load =>
            {
                Cases(load, "numcases", "", "");
                Cases(load, "subnumcases", "\\begin{subequations}", "\\end{subequations}");
            },
        },
    ];

    // \begin{empheq}[left=…,right=…,box=…]{align}: the rows are those of the environment that is named.
    private static void Begin(PackageLoad load, Token token)
    {
        Machine machine = load.Machine;
        List<ListedOption> options = ListedOption.Of(machine, machine.ReadOptional(token));
        string inner = machine.ReadText(token).Trim();
        // alignat takes its count along.
        string name = inner.Split('=')[0].Trim();
        string count = inner.Contains('=', StringComparison.Ordinal) ? $"{{{inner[(inner.IndexOf('=', StringComparison.Ordinal) + 1)..].Trim()}}}" : "";
        List<Token> body = machine.DocumentCommands.ReadEnvironmentBody(token);
        List<Token> Value(string key) => options.Find(o => o.Key == key)?.Value ?? [];
        string box = Value("box").ToSource().Trim();
        load.Builder.Displays.NextSurroundings = new DisplaySurroundings(load.Builder)
        {
            Left = Value("left"),
            Right = Value("right"),
            IsFramed = box.Length > 0 && !box.Contains("colorbox", StringComparison.Ordinal) || box.Contains("fcolorbox", StringComparison.Ordinal),
            Ground = Ground(load.Builder, box),
        };
        // A formula alone has no rows of its own; gather sets it as it stands.
        name = name is "equation" or "equation*" ? name.Replace("equation", "gather", StringComparison.Ordinal) : name;
        machine.Push([.. machine.Tokenize($"\\begin{{{name}}}{count}", token.Position), .. body, .. machine.Tokenize($"\\end{{{name}}}", token.Position)]);
    }

    // The last colour of \colorbox{…} or \fcolorbox{…}{…}.
    private static int? Ground(DocumentBuilder builder, string box)
    {
        int open = box.LastIndexOf('{');
        return box.Contains("colorbox", StringComparison.Ordinal) && open >= 0 ? ColourNames.Find(builder, box[(open + 1)..].TrimEnd('}')) : null;
    }

    // The second column is words.
    private static void Cases(PackageLoad load, string name, string before, string behind) =>
        load.Builder.Environments.DefineEnvironment(name, t =>
        {
            Machine machine = load.Machine;
            List<Token> left = machine.ReadArgument(t);
            List<List<List<Token>>> rows = AlignedCells.Of(machine.DocumentCommands.ReadEnvironmentBody(t));
            load.Builder.Displays.NextSurroundings = new DisplaySurroundings(load.Builder)
            {
                Left = [.. left, Token.Command(machine.Symbol("empheqlbrace"), t.Position), .. machine.Tokenize("\\,", t.Position)],
            };
            var written = new List<Token>([.. machine.Tokenize(before + "\\begin{alignat}{2}", t.Position)]);
            for (int i = 0; i < rows.Count; i++)
            {
                written.AddRange(i > 0 ? machine.Tokenize("\\\\", t.Position) : []);
                written.AddRange([.. machine.Tokenize("&", t.Position), .. TokenLists.Braced(rows[i][0], t.Position)]);
                if (rows[i].Count > 1)
                {
                    written.AddRange([.. machine.Tokenize("\\quad &&\\text", t.Position), .. TokenLists.Braced(rows[i][1], t.Position)]);
                }
            }

            machine.Push([.. written, .. machine.Tokenize("\\end{alignat}" + behind, t.Position)]);
        }, static _ => { });
}
