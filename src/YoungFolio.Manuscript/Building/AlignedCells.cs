using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>Parts what stands in an environment into rows and cells, where it is read as a whole: diagrams, and tables whose looks are said by keys.</summary>
internal static class AlignedCells
{
    /// <summary>The rows of cells in a body; what \\ says about space in brackets is passed over.</summary>
    public static List<List<List<Token>>> Of(IReadOnlyList<Token> body)
    {
        var rows = new List<List<List<Token>>> { new() { new List<Token>() } };
        int depth = 0;
        for (int i = 0; i < body.Count; i++)
        {
            Token token = body[i];
            depth += token.Is(Category.BeginGroup) ? 1 : token.Is(Category.EndGroup) ? -1 : 0;
            if (depth == 0 && token.Is(Category.Alignment))
            {
                rows[^1].Add([]);
            }
            else if (depth == 0 && (token.IsCommand("\\") || token.IsCommand("tabularnewline")))
            {
                rows.Add([[]]);
                int next = i + 1;
                while (next < body.Count && body[next].Is(Category.Space))
                {
                    next++;
                }

                int close = next < body.Count && body[next].IsCharacter('[') ? body.Skip(next).TakeWhile(t => !t.IsCharacter(']')).Count() + next : -1;
                i = close > 0 && close < body.Count ? close : i;
            }
            else if (!token.IsCommand("par"))
            {
                rows[^1][^1].Add(token);
            }
        }

        if (rows[^1].Count == 1 && rows[^1][0].All(t => t.Is(Category.Space)))
        {
            rows.RemoveAt(rows.Count - 1);
        }

        return rows;
    }
}
