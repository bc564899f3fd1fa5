using YoungFolio.Manuscript.Searching;

namespace YoungFolio.Spelling;

/// <summary>A word that no dictionary knows.</summary>
/// <param name="Offset">Its first character.</param>
/// <param name="Length">How many characters it takes as typed.</param>
/// <param name="Word">The word as it prints.</param>
/// <param name="Language">The language that it was looked for in.</param>
public sealed record UnknownWord(int Offset, int Length, string Word, string Language);

/// <summary>Looks at the spelling of typed texts.</summary>
public static class SpellCheck
{
    /// <summary>More of them are more than anyone looks at: the language is another one.</summary>
    public const int MostUnknown = 2000;

    /// <summary>The words of a text that aren't known, in order. Those in a language without a dictionary are passed over.</summary>
    /// <param name="text">A file's text.</param>
    /// <param name="language">The manuscript's language.</param>
    /// <param name="known">Words that are right whatever a dictionary says, in small letters.</param>
    public static IReadOnlyList<UnknownWord> Find(string text, string language, IReadOnlySet<string> known)
    {
        ArgumentNullException.ThrowIfNull(known);
        var unknown = new List<UnknownWord>();
        foreach (TypedWord word in TypedWords.Find(text, language))
        {
            string own = word.Language ?? language;
            if (Lexicon.Of(own) is { } dictionary && !dictionary.Knows(word.Word) && !IsKnown(known, word.Word))
            {
                unknown.Add(new UnknownWord(word.Offset, word.Length, word.Word, own));
                if (unknown.Count == MostUnknown)
                {
                    break;
                }
            }
        }

        return unknown;
    }

    // A word that someone added is right with an 's behind it too.
    private static bool IsKnown(IReadOnlySet<string> known, string word)
    {
        if (known.Count == 0)
        {
            return false;
        }

        string small = word.ToLowerInvariant();
        return known.Contains(small) || (small.EndsWith("'s", StringComparison.Ordinal) && known.Contains(small[..^2]));
    }
}
