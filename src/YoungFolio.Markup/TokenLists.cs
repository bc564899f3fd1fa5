namespace YoungFolio.Markup;

/// <summary>What is done with lists of tokens.</summary>
public static class TokenLists
{
    /// <summary>Tokens with braces around.</summary>
    public static List<Token> Braced(IReadOnlyList<Token> tokens, int position) =>
        [Token.Character('{', Category.BeginGroup, position), .. tokens, Token.Character('}', Category.EndGroup, position)];

    /// <summary>Parts tokens at their commas outside braces; blanks around members and braces around whole ones go.</summary>
    public static List<List<Token>> SplitAtCommas(IReadOnlyList<Token> tokens) => SplitAt(tokens, ',');

    /// <summary>Parts tokens at a character outside braces; blanks around members and braces around whole ones go.</summary>
    public static List<List<Token>> SplitAt(IReadOnlyList<Token> tokens, char separator)
    {
        var result = new List<List<Token>>();
        var member = new List<Token>();
        int depth = 0;
        foreach (Token token in tokens)
        {
            depth += token.Is(Category.BeginGroup) ? 1 : token.Is(Category.EndGroup) ? -1 : 0;
            if (depth == 0 && token.IsCharacter(separator))
            {
                Finish();
                continue;
            }

            member.Add(token);
        }

        Finish();
        return result;

        void Finish()
        {
            List<Token> trimmed = TrimSpaces(member);
            if (trimmed.Count > 0)
            {
                result.Add(Unbrace(trimmed));
            }

            member = [];
        }
    }

    /// <summary>The tokens without spaces at both ends.</summary>
    public static List<Token> TrimSpaces(IReadOnlyList<Token> tokens)
    {
        int first = 0;
        int last = tokens.Count;
        while (first < last && tokens[first].Is(Category.Space))
        {
            first++;
        }

        while (last > first && tokens[last - 1].Is(Category.Space))
        {
            last--;
        }

        return [.. tokens.Skip(first).Take(last - first)];
    }

    // {x} given for a delimited argument means x.
    internal static List<Token> Unbrace(List<Token> tokens)
    {
        if (tokens.Count < 2 || !tokens[0].Is(Category.BeginGroup) || !tokens[^1].Is(Category.EndGroup))
        {
            return tokens;
        }

        int depth = 0;
        for (int i = 0; i < tokens.Count; i++)
        {
            depth += tokens[i].Is(Category.BeginGroup) ? 1 : tokens[i].Is(Category.EndGroup) ? -1 : 0;
            if (depth == 0 && i < tokens.Count - 1)
            {
                return tokens;
            }
        }

        return tokens.GetRange(1, tokens.Count - 2);
    }
}
