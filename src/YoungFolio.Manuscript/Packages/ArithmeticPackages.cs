using System.Globalization;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Packages;

/// <summary>Packages that compute (pgf's manual, part on mathematics; the documentation of fp and xfp; all from memory).</summary>
internal static class ArithmeticPackages
{
    // pgf computes with five decimals.
    private const int PgfDecimals = 5;
    private const int FixedDecimals = 15;

    public static IReadOnlyList<Package> All { get; } =
    [
        new("pgfmath", "Numbers computed from expressions.")
        {
            Commands = ["pgfmathparse", "pgfmathresult", "pgfmathsetmacro", "pgfmathtruncatemacro", "pgfmathsetlength", "pgfmathaddtolength", "pgfmathsetcounter", "pgfmathaddtocounter",
                "pgfmathsetseed", "pgfmathrandominteger", "pgfmathprintnumber", "pgfmathsetlengthmacro"],
            Definitions = "\\def\\pgfmathresult{0.0}\\def\\pgfmathsetlength#1#2{\\pgfmathparse{#2}#1=\\pgfmathresult pt\\relax}\\def\\pgfmathaddtolength#1#2{\\pgfmathparse{#2}\\advance#1 by\\pgfmathresult pt\\relax}"
                + "\\def\\pgfmathsetlengthmacro#1#2{\\pgfmathsetmacro#1{#2}\\edef#1{#1pt}}\\def\\pgfmathsetcounter#1#2{\\pgfmathtruncatemacro\\pgfmath@number{#2}\\setcounter{#1}{\\pgfmath@number}}"
                + "\\def\\pgfmathaddtocounter#1#2{\\pgfmathtruncatemacro\\pgfmath@number{#2}\\addtocounter{#1}{\\pgfmath@number}}\\def\\pgfmathrandominteger#1#2#3{\\pgfmathtruncatemacro#1{random(#2,#3)}}",
            Load = static load => DefinePgf(load.Machine),
        },
        new("xfp", "Numbers computed from expressions; they are always there."),
        new("fp", "Numbers with many decimals.")
        {
            Commands = ["FPeval", "FPset", "FPadd", "FPsub", "FPmul", "FPdiv", "FPpow", "FPround", "FPtrunc", "FPclip", "FPabs", "FPneg", "FPmin", "FPmax", "FPprint"],
            Definitions = "\\def\\FPprint#1{\\FPeval\\fp@printed{#1}\\fp@printed}\\def\\FPset{\\FPeval}\\def\\FPadd#1#2#3{\\FPeval#1{(#2)+(#3)}}\\def\\FPsub#1#2#3{\\FPeval#1{(#2)-(#3)}}"
                + "\\def\\FPmul#1#2#3{\\FPeval#1{(#2)*(#3)}}\\def\\FPdiv#1#2#3{\\FPeval#1{(#2)/(#3)}}\\def\\FPpow#1#2#3{\\FPeval#1{(#2)^(#3)}}\\def\\FPtrunc#1#2#3{\\FPeval#1{trunc(#2,#3)}}"
                + "\\def\\FPclip{\\FPeval}\\def\\FPabs#1#2{\\FPeval#1{abs(#2)}}\\def\\FPneg#1#2{\\FPeval#1{-(#2)}}\\def\\FPmin#1#2#3{\\FPeval#1{min(#2,#3)}}\\def\\FPmax#1#2#3{\\FPeval#1{max(#2,#3)}}",
            Load = static load =>
            {
                load.Machine.Define("FPeval", static (m, t) => Keep(m, t, static value => ArithmeticCommands.Text(value, FixedDecimals), inDegrees: false));
                load.Machine.Define("FPround", static (m, t) =>
                {
                    Symbol? name = m.ReadArgument(t) is [{ Symbol: { } first }, ..] ? first : null;
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
                m.Push(m.Tokenize("\\ensuremath{" + Math.Round(value, 2).ToString("#,##0.##", CultureInfo.InvariantCulture).Replace(",", "{,}", StringComparison.Ordinal) + "}", t.Position));
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
        Symbol? name = machine.ReadArgument(token) is [{ Symbol: { } first }, ..] ? first : null;
        List<Token> expression = machine.ReadArgument(token);
        if (name is not null && machine.Arithmetic.Evaluate(expression, token, inDegrees) is { } value)
        {
            // int(…) and its like give whole numbers, and so do constants that are written as such.
            bool isWhole = inDegrees && value == Math.Truncate(value) && IsWhole(machine.ExpandToText(expression).Trim());
            Assign(machine, token, name, isWhole ? ArithmeticCommands.Text(value, 0) : text(value));
        }
    }

    private static bool IsWhole(string expression) =>
        expression.All(char.IsAsciiDigit) || Array.Exists(["int(", "round(", "floor(", "ceil(", "div(", "gcd(", "random("], f => expression.StartsWith(f, StringComparison.Ordinal) && expression.IndexOf(')', StringComparison.Ordinal) == expression.Length - 1);

    private static void Assign(Machine machine, Token token, Symbol symbol, string text) =>
        machine.Assign(symbol.Meaning, new MacroMeaning { Pattern = [], Body = [.. machine.Tokenize(text, token.Position)], Arity = 0 });
}
