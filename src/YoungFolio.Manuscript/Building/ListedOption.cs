using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>One option of a list: <c>key</c> or <c>key=value</c>.</summary>
/// <param name="Key">The key, expanded.</param>
/// <param name="Value">The value's tokens without outer braces; null when none is given.</param>
/// <param name="Source">The option as written.</param>
/// <param name="Position">Position of its first character.</param>
/// <param name="Length">Characters of source that the key takes.</param>
public sealed record ListedOption(string Key, List<Token>? Value, List<Token> Source, int Position, int Length)
{
    /// <summary>Parts a list of options; null gives none.</summary>
    public static List<ListedOption> Of(Machine machine, IReadOnlyList<Token>? list)
    {
        var result = new List<ListedOption>();
        foreach (List<Token> member in TokenLists.SplitAtCommas([.. list ?? []]))
        {
            List<Token> tokens = TokenLists.TrimSpaces([.. member.Where(t => !ReferenceEquals(t.Symbol, machine.Par))]);
            int sign = -1;
            int depth = 0;
            for (int i = 0; i < tokens.Count && sign < 0; i++)
            {
                depth += tokens[i].Is(Category.BeginGroup) ? 1 : tokens[i].Is(Category.EndGroup) ? -1 : 0;
                sign = depth == 0 && tokens[i].IsCharacter('=') ? i : -1;
            }

            List<Token> keyTokens = TokenLists.TrimSpaces(sign < 0 ? tokens : tokens.GetRange(0, sign));
            string key = machine.ExpandToText(keyTokens).Trim();
            if (key.Length == 0 && sign < 0)
            {
                continue;
            }

            List<Token>? value = sign < 0 ? null : TokenLists.SplitAt(tokens.GetRange(sign + 1, tokens.Count - sign - 1), '\0').FirstOrDefault() ?? [];
            int position = keyTokens.Count > 0 ? keyTokens[0].Position : tokens.Count > 0 ? tokens[0].Position : PositionTable.None;
            result.Add(new ListedOption(key, value, tokens, position, Math.Max(1, key.Length)));
        }

        return result;
    }

    /// <summary>The value as text; empty when there is none.</summary>
    public string Text(Machine machine) => Value is null ? "" : machine.ExpandToText(Value).Trim();

    /// <summary>Whether it switches something on: no value, or anything but <c>false</c>.</summary>
    public bool IsOn(Machine machine) => Value is null || Text(machine) is not ("false" or "no" or "off" or "none");
}
