using System.Globalization;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Packages;

/// <summary>
/// Packages that compute (pgf's manual, part on mathematics; the documentation of fp and xfp; all from memory). What they say in terms of what is
/// here stands in <c>More/</c>.
/// </summary>
internal static class ArithmeticPackages
{
    // pgf computes with five decimals.
    private const int PgfDecimals = 5;
    private const int FixedDecimals = 15;

    public static IReadOnlyList<Package> All { get; } =
    [
        new("pgfmath", "Numbers computed from expressions.")
        {
            Commands = ["pgfmathparse", "pgfmathsetmacro", "pgfmathtruncatemacro", "pgfmathsetseed", "pgfmathprintnumber"],
            Load = static load => DefinePgf(load.Machine),
        },
        new("xfp", "Numbers computed from expressions; they are always there."),
        new("fp", "Numbers with many decimals.")
        {
            Commands = ["FPeval", "FPround"],
            Load = static load =>
            {
                load.Machine.Define("FPeval", static (m, t) => Keep(m, t, static value => ArithmeticCommands.Text(value, FixedDecimals), inDegrees: false));
                load.Machine.Define("FPround", static (m, t) =>
                {
                    Symbol? name = m.Definitions.ReadCommandToken(t).Symbol;
                    List<Token> expression = m.ReadArgument(t);
                    int places = Math.Clamp(m.Quantities.ParseInteger(m.ReadArgument(t), t) ?? 0, 0, FixedDecimals);
                    // As many decimals as are asked for, zeros too.
                    if (name is not null && m.Arithmetic.Evaluate(expression, t, inDegrees: false) is { } value)
                    {
                        Assign(m, t, name, decimal.TryParse(ArithmeticCommands.Text(value, FixedDecimals), CultureInfo.InvariantCulture, out decimal exact)
                            ? Math.Round(exact, places, MidpointRounding.AwayFromZero).ToString("F" + places, CultureInfo.InvariantCulture) : "0");
                    }
                });
            },
        },
    ];

    private static void DefinePgf(Machine machine)
    {
        machine.Define("pgfmathparse", static (m, t) =>
        {
            if (m.Arithmetic.Evaluate(m.ReadArgument(t), t, inDegrees: true) is { } value)
            {
                Assign(m, t, m.Symbol("pgfmathresult"), Decimal(value));
            }
        });
        machine.Define("pgfmathsetmacro", static (m, t) => Keep(m, t, Decimal, inDegrees: true));
        machine.Define("pgfmathtruncatemacro", static (m, t) => Keep(m, t, static value => ArithmeticCommands.Text(Math.Truncate(value), 0), inDegrees: true));
        machine.Define("pgfmathsetseed", static (m, t) => m.Arithmetic.Seed(m.Quantities.ParseInteger(m.ReadArgument(t), t) ?? 0));
        machine.Define("pgfmathprintnumber", static (m, t) =>
        {
            m.ReadOptional(t);
            if (m.Arithmetic.Evaluate(m.ReadArgument(t), t, inDegrees: true) is { } value)
            {
                // Two decimals, and commas between thousands, as its styles are at first.
                string text = Math.Round(value, 2).ToString("#,##0.##", CultureInfo.InvariantCulture).Replace(",", "{,}", StringComparison.Ordinal);
                m.Push(m.Tokenize($"\\ensuremath{{{text}}}", t.Position));
            }
        });
    }

    // What is a whole number by computing has a decimal still, unless a function made it whole.
    private static string Decimal(double value)
    {
        string text = ArithmeticCommands.Text(value, PgfDecimals);
        return text.Contains('.', StringComparison.Ordinal) || !double.IsFinite(value) ? text : text + ".0";
    }

    private static void Keep(Machine machine, Token token, Func<double, string> text, bool inDegrees)
    {
        Symbol? name = machine.Definitions.ReadCommandToken(token).Symbol;
        List<Token> expression = machine.ReadArgument(token);
        if (name is not null && machine.Arithmetic.Evaluate(expression, token, inDegrees) is { } value)
        {
            // int(…) and its like give whole numbers, and so do constants that are written as such.
            bool isWhole = inDegrees && value == Math.Truncate(value) && IsWhole(machine.ExpandToText(expression).Trim());
            Assign(machine, token, name, isWhole ? ArithmeticCommands.Text(value, 0) : text(value));
        }
    }

    private static readonly string[] s_wholeFunctions = ["int(", "round(", "floor(", "ceil(", "div(", "gcd(", "random("];

    private static bool IsWhole(string expression) => expression.All(char.IsAsciiDigit)
        || (expression.IndexOf(')', StringComparison.Ordinal) == expression.Length - 1 && Array.Exists(s_wholeFunctions, f => expression.StartsWith(f, StringComparison.Ordinal)));

    private static void Assign(Machine machine, Token token, Symbol symbol, string text) =>
        machine.Assign(symbol.Meaning, new MacroMeaning { Pattern = [], Body = [.. machine.Tokenize(text, token.Position)], Arity = 0 });
}
