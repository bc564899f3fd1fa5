using System.Globalization;
using System.Text.RegularExpressions;
using YoungFolio.Bibliography;

namespace YoungFolio.Manuscript.Searching;

/// <summary>A word as it is typed.</summary>
/// <param name="Offset">Its first character.</param>
/// <param name="Length">How many characters it takes as typed.</param>
/// <param name="Word">The word as it prints: accents that are typed as commands are letters.</param>
/// <param name="Language">The language it is in; null: the manuscript's.</param>
public readonly record struct TypedWord(int Offset, int Length, string Word, string? Language);

/// <summary>The words of a typed text that print: without markup, mathematics, keys, addresses, comments and text as typed.</summary>
public static partial class TypedWords
{
    /// <summary>Longer ones aren't words of a language.</summary>
    public const int LongestWord = 60;

    /// <summary>The words, in order. Numbers, abbreviations in capitals, and names with capitals inside aren't among them.</summary>
    /// <param name="text">A file's text.</param>
    /// <param name="language">The manuscript's language: German has letters that are typed with quotation marks.</param>
    public static IEnumerable<TypedWord> Find(string text, string language)
    {
        ArgumentNullException.ThrowIfNull(text);
        List<(int From, int To)> unprinted = Together(UnprintedMarkup.Find(text), TypedMarkup.AsTyped(text));
        IReadOnlyList<(int From, int To, string Language)> passages = TypedLanguages.Passages(text);
        int next = 0;
        int passage = 0;
        var around = new List<(int From, int To, string Language)>();
        for (Match match = Word().Match(text); match.Success; match = match.NextMatch())
        {
            while (next < unprinted.Count && unprinted[next].To <= match.Index)
            {
                next++;
            }

            if (!Prints(text, match, unprinted, next))
            {
                continue;
            }

            while (passage < passages.Count && passages[passage].From <= match.Index)
            {
                around.Add(passages[passage++]);
            }

            around.RemoveAll(p => p.To <= match.Index);
            string? own = around.Count == 0 ? null : around[^1].Language;
            string word = Printed(match.Value, own ?? language);
            if (IsWord(text, match, word))
            {
                yield return new TypedWord(match.Index, match.Length, word, own);
            }
        }
    }

    // Stretches of two kinds, in order, without overlap.
    private static List<(int From, int To)> Together(IEnumerable<(int From, int To)> one, IEnumerable<(int From, int To)> other)
    {
        var all = new List<(int From, int To)>();
        foreach ((int from, int to) in one.Concat(other).OrderBy(s => s.From))
        {
            if (all is [.., var last] && from <= last.To)
            {
                all[^1] = (last.From, Math.Max(last.To, to));
            }
            else
            {
                all.Add((from, to));
            }
        }

        return all;
    }

    // Commands within a word are markup themselves: it prints when one of its letters does.
    private static bool Prints(string text, Match word, List<(int From, int To)> unprinted, int next)
    {
        for (int at = word.Index; at < word.Index + word.Length; at++)
        {
            while (next < unprinted.Count && unprinted[next].To <= at)
            {
                next++;
            }

            if (char.IsLetter(text[at]) && (next == unprinted.Count || unprinted[next].From > at))
            {
                return true;
            }
        }

        return false;
    }

    private static string Printed(string typed, string language)
    {
        string word = typed.Replace("\\-", "", StringComparison.Ordinal);
        if (word.Contains('"', StringComparison.Ordinal) && language == "de")
        {
            word = Umlaut().Replace(word, m => m.Value[1] switch { 'a' => "ä", 'o' => "ö", 'u' => "ü", 'A' => "Ä", 'O' => "Ö", 'U' => "Ü", 's' => "ß", char c => c.ToString() });
        }

        return (word.Contains('\\', StringComparison.Ordinal) ? MarkupText.Plain(word) : word).Replace('’', '\'');
    }

    private static bool IsWord(string text, Match match, string word)
    {
        int letters = 0;
        int capitals = 0;
        bool hasInnerCapital = false;
        for (int i = 0; i < word.Length; i++)
        {
            letters += char.IsLetter(word[i]) ? 1 : 0;
            capitals += char.IsUpper(word[i]) ? 1 : 0;
            hasInnerCapital |= i > 0 && char.IsUpper(word[i]) && word[i - 1] != '\'';
        }

        if (letters < 2 || word.Length > LongestWord || capitals == letters || hasInnerCapital || word.Any(c => !char.IsLetter(c) && c != '\'' && char.GetUnicodeCategory(c) != UnicodeCategory.NonSpacingMark))
        {
            return false;
        }

        char before = match.Index > 0 ? text[match.Index - 1] : ' ';
        int end = match.Index + match.Length;
        char after = end < text.Length ? text[end] : ' ';
        char second = end + 1 < text.Length ? text[end + 1] : ' ';
        // Parts of numbers, addresses and paths; and what is left of a word before a hyphen.
        return !char.IsAsciiDigit(before) && !char.IsAsciiDigit(after) && before is not ('@' or '/' or '_' or '\\' or '#') && after is not ('@' or '/' or '_')
            && !(after is '.' or ':' && char.IsLetterOrDigit(second)) && !(before == '.' && match.Index > 1 && char.IsLetterOrDigit(text[match.Index - 2]))
            && !(letters <= 3 && (before == '-' || after == '-'));
    }

    // Letters, accents as commands of one sign or one letter, letters that are commands, and places for hyphens.
    [GeneratedRegex(@"(?:[\p{L}\p{M}]|\\[""'`^~=.](?:\{\\?[A-Za-z]\}|\\?[A-Za-z])|\\[cvuHkrdb]\{[A-Za-z]\}|\\(?:ss|ae|oe|AE|OE|aa|AA|o|O|l|L|i|j)(?:\{\}|(?![A-Za-z])[ ]?)|\\-|""[aouAOUs](?=\p{L})|(?<=\p{L})['’](?=\p{L}))+")]
    private static partial Regex Word();

    [GeneratedRegex(@"(?<!\\)""[aouAOUs]")]
    private static partial Regex Umlaut();
}
