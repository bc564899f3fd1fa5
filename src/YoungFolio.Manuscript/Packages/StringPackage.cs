using System.Globalization;
using YoungFolio.Manuscript.Building;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Packages;

/// <summary>Tests and pieces of strings (xstring's documentation, from memory). Arguments are expanded; what a command finds is printed, or kept in a macro that is named last.</summary>
internal static class StringPackage
{
    private static readonly string[] s_tests = ["IfSubStr", "IfSubStrBefore", "IfSubStrBehind", "IfBeginWith", "IfEndWith", "IfInteger", "IfDecimal", "IfStrEq", "IfEq", "IfStrEqCase", "IfEqCase"];

    private static readonly string[] s_pieces =
        ["StrBefore", "StrBehind", "StrCut", "StrBetween", "StrSubstitute", "StrDel", "StrGobbleLeft", "StrGobbleRight", "StrLeft", "StrRight", "StrChar", "StrMid", "StrLen", "StrCount", "StrPosition", "StrCompare"];

    public static Package Package { get; } = new("xstring", "Tests and pieces of strings.")
    {
        Commands = [.. s_tests, .. s_pieces, "fullexpandarg", "expandarg", "noexpandarg", "saveexpandmode", "restoreexpandmode", "normalexpandarg"],
        Definitions = "\\def\\fullexpandarg{}\\def\\expandarg{}\\def\\noexpandarg{}\\def\\saveexpandmode{}\\def\\restoreexpandmode{}\\def\\normalexpandarg{}",
        Load = static load => Define(load.Machine),
    };

    private static void Define(Machine machine)
    {
        foreach (string name in s_tests)
        {
            machine.Define(name, name.EndsWith("Case", StringComparison.Ordinal) ? Choose : (m, t) => Test(m, t, name));
        }

        foreach (string name in s_pieces)
        {
            machine.Define(name, (m, t) => Take(m, t, name));
        }
    }

    private static string Text(Machine machine, Token token) => machine.ExpandToText(machine.ReadArgument(token));

    private static int Number(Machine machine, Token token) => machine.Quantities.ParseInteger(machine.ReadArgument(token), token) ?? 0;

    private static int Count(Machine machine, Token token) =>
        machine.ReadOptional(token) is { } given && machine.Quantities.ParseInteger(given, token) is { } n ? Math.Max(1, n) : 1;

    private static void Test(Machine machine, Token token, string name)
    {
        machine.TakeStar();
        int which = name is "IfSubStr" or "IfSubStrBefore" or "IfSubStrBehind" ? Count(machine, token) : 1;
        string text = Text(machine, token);
        bool holds = name switch
        {
            "IfInteger" => long.TryParse(text.Trim(), NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out _),
            "IfDecimal" => double.TryParse(text.Trim().Replace(',', '.'), NumberStyles.AllowLeadingSign | NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture, out _),
            "IfBeginWith" => text.StartsWith(Text(machine, token), StringComparison.Ordinal),
            "IfEndWith" => text.EndsWith(Text(machine, token), StringComparison.Ordinal),
            "IfStrEq" => text == Text(machine, token),
            "IfEq" => AreEqual(text, Text(machine, token)),
            "IfSubStr" => Find(text, Text(machine, token), which) >= 0,
            _ => Order(machine, token, text, name == "IfSubStrBefore"),
        };
        List<Token> yes = machine.ReadArgument(token);
        List<Token> no = machine.ReadArgument(token);
        machine.Push(holds ? yes : no);
    }

    // Numbers are equal by value, all else by letter.
    private static bool AreEqual(string one, string other) =>
        double.TryParse(one, NumberStyles.Float, CultureInfo.InvariantCulture, out double a) && double.TryParse(other, NumberStyles.Float, CultureInfo.InvariantCulture, out double b) ? a == b : one == other;

    private static bool Order(Machine machine, Token token, string text, bool isBefore)
    {
        int first = text.IndexOf(Text(machine, token), StringComparison.Ordinal);
        int second = text.IndexOf(Text(machine, token), StringComparison.Ordinal);
        return first >= 0 && second >= 0 && (isBefore ? first < second : first > second);
    }

    // \IfStrEqCase{string}{{one}{code}{two}{code}}[code for the rest].
    private static void Choose(Machine machine, Token token)
    {
        machine.TakeStar();
        string text = Text(machine, token);
        List<Token> cases = machine.ReadArgument(token);
        List<Token> rest = machine.ReadOptional(token) ?? [];
        List<Token>? chosen = null;
        machine.Scan(cases, () =>
        {
            for (machine.SkipSpaces(); machine.Peek().Is(Category.BeginGroup); machine.SkipSpaces())
            {
                bool matches = AreEqual(text, Text(machine, token));
                List<Token> code = machine.ReadArgument(token);
                chosen ??= matches ? code : null;
            }
        });
        machine.Push(chosen ?? rest);
    }

    private static void Take(Machine machine, Token token, string name)
    {
        machine.TakeStar();
        int which = name is "StrBefore" or "StrBehind" or "StrCut" or "StrPosition" ? Count(machine, token) : name is "StrSubstitute" or "StrDel" && machine.ReadOptional(token) is { } some ? machine.Quantities.ParseInteger(some, token) ?? 0 : 0;
        (int after, int before) = name == "StrBetween" ? Both(machine, token) : (1, 1);
        string text = Text(machine, token);
        string result;
        switch (name)
        {
            case "StrCut":
                int cut = Find(text, Text(machine, token), which);
                Keep(machine, token, cut < 0 ? text : text[..cut]);
                Keep(machine, token, cut < 0 ? "" : text[(cut + 1)..]);
                return;
            case "StrBefore" or "StrBehind":
                string part = Text(machine, token);
                int at = Find(text, part, which);
                result = at < 0 ? "" : name == "StrBefore" ? text[..at] : text[(at + part.Length)..];
                break;
            case "StrBetween":
                (string left, string right) = (Text(machine, token), Text(machine, token));
                int start = Find(text, left, after);
                int end = start < 0 ? -1 : Find(text, right, before);
                result = start < 0 || end < start + left.Length ? "" : text[(start + left.Length)..end];
                break;
            case "StrSubstitute" or "StrDel":
                result = Replace(text, Text(machine, token), name == "StrDel" ? "" : Text(machine, token), which);
                break;
            case "StrLen":
                result = text.Length.ToString(CultureInfo.InvariantCulture);
                break;
            case "StrCount":
                string counted = Text(machine, token);
                result = (counted.Length == 0 ? 0 : text.Split(counted).Length - 1).ToString(CultureInfo.InvariantCulture);
                break;
            case "StrPosition":
                result = (Find(text, Text(machine, token), which) + 1).ToString(CultureInfo.InvariantCulture);
                break;
            case "StrCompare":
                string other = Text(machine, token);
                int same = 0;
                while (same < Math.Min(text.Length, other.Length) && text[same] == other[same])
                {
                    same++;
                }

                result = (text == other ? 0 : same + 1).ToString(CultureInfo.InvariantCulture);
                break;
            default:
                int n = Math.Clamp(Number(machine, token), 0, text.Length);
                result = name switch
                {
                    "StrLeft" => text[..n],
                    "StrRight" => text[^n..],
                    "StrGobbleLeft" => text[n..],
                    "StrGobbleRight" => text[..^n],
                    "StrChar" => n > 0 ? text[n - 1].ToString() : "",
                    _ => Middle(text, n, Number(machine, token)),
                };
                break;
        }

        // A space behind it is the text's.
        if (machine.Peek().IsCharacter('[') && machine.ReadOptional(token) is [{ Symbol: { } kept }, ..])
        {
            Assign(machine, token, kept, result);
        }
        else
        {
            machine.Push([.. machine.Tokenize(result, token.Position)]);
        }
    }

    private static (int After, int Before) Both(Machine machine, Token token)
    {
        string[] counts = (machine.ReadOptionalText(token) ?? "1,1").Split(',');
        return (int.TryParse(counts[0], out int a) ? a : 1, int.TryParse(counts[^1], out int b) ? b : 1);
    }

    private static string Middle(string text, int from, int to) => from < 1 || to < from ? "" : text[(from - 1)..Math.Min(to, text.Length)];

    private static void Keep(Machine machine, Token token, string text)
    {
        if (machine.ReadArgument(token) is [{ Symbol: { } symbol }, ..])
        {
            Assign(machine, token, symbol, text);
        }
    }

    private static void Assign(Machine machine, Token token, Symbol symbol, string text) =>
        machine.Assign(symbol.Meaning, new MacroMeaning { Pattern = [], Body = [.. machine.Tokenize(text, token.Position)], Arity = 0 });

    // Where a part stands for the given time; −1: it doesn't.
    private static int Find(string text, string part, int which)
    {
        int at = -1;
        for (int i = 0; i < which && part.Length > 0; i++)
        {
            at = text.IndexOf(part, at + 1, StringComparison.Ordinal);
            if (at < 0)
            {
                break;
            }
        }

        return at;
    }

    // The first so many; 0: all.
    private static string Replace(string text, string part, string with, int most)
    {
        if (part.Length == 0)
        {
            return text;
        }

        string[] pieces = most > 0 ? text.Split(part, most + 1) : text.Split(part);
        return string.Join(with, pieces);
    }
}
