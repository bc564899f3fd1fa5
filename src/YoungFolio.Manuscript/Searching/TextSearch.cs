using System.Text;
using System.Text.RegularExpressions;

namespace YoungFolio.Manuscript.Searching;

/// <summary>What is looked for in typed text.</summary>
/// <param name="Words">The words, or the pattern. A space between words is found as any space, as a line's end and as a tie.</param>
/// <param name="MatchesCase">Capitals and small letters differ.</param>
/// <param name="WholeWords">No letter or digit stands before or after.</param>
/// <param name="IsPattern">The words are a regular expression.</param>
/// <param name="PrintedOnly">Only what prints: no commands, keys, mathematics and comments.</param>
public sealed record SearchQuery(string Words, bool MatchesCase = false, bool WholeWords = false, bool IsPattern = false, bool PrintedOnly = false);

/// <summary>A place where it was found.</summary>
/// <param name="Offset">The first character.</param>
/// <param name="Length">How many characters.</param>
/// <param name="Replacement">What takes its place; empty when nothing was to.</param>
public sealed record SearchHit(int Offset, int Length, string Replacement = "");

/// <summary>Words that can't be looked for, said for people.</summary>
public sealed class SearchException(string message) : Exception(message);

/// <summary>Finds words in files, and says what takes their place. Patterns take time in proportion to the text, whatever they are.</summary>
public sealed class TextSearch
{
    // The engine without steps back takes linear time; its memory is bounded by this size of a pattern.
    private const int LongestPattern = 1000;

    /// <summary>Characters of what takes a place, at most, as it is typed.</summary>
    public const int LongestReplacement = 10_000;

    /// <summary>Characters that may take the place of what was found, at most, in all of it.</summary>
    public const int MostInserted = 16 * 1024 * 1024;

    private const string Space = @"(?:[ \t~]+(?:\n[ \t]*)?|\n[ \t]*)";

    private readonly SearchQuery _query;
    private readonly Regex _pattern;

    /// <summary>Reads what is looked for.</summary>
    /// <exception cref="SearchException">There is nothing to look for, or it is no pattern.</exception>
    public TextSearch(SearchQuery query)
    {
        ArgumentNullException.ThrowIfNull(query);
        if (string.IsNullOrWhiteSpace(query.Words))
        {
            throw new SearchException("Say which words are looked for.");
        }

        if (query.Words.Length > LongestPattern)
        {
            throw new SearchException($"At most {LongestPattern} characters can be looked for at once.");
        }

        _query = query;
        // Plain words never make the other engine go back far, and it finds them sooner.
        RegexOptions options = RegexOptions.CultureInvariant | RegexOptions.Multiline | (query.IsPattern ? RegexOptions.NonBacktracking : 0) | (query.MatchesCase ? 0 : RegexOptions.IgnoreCase);
        try
        {
            _pattern = new Regex(query.IsPattern ? query.Words : Literal(query.Words), options);
        }
        catch (RegexParseException e)
        {
            throw new SearchException($"This is no pattern: {Say(e.Error)}, at character {e.Offset + 1}.");
        }
        catch (NotSupportedException)
        {
            throw new SearchException("Patterns that look ahead, look behind or refer back to a group can't be used here.");
        }
    }

    /// <summary>The places in a text, in order. Nothing empty is found.</summary>
    /// <param name="text">A file's text.</param>
    /// <param name="with">What takes their place; of a pattern with <c>$1</c> for what its first group found. Null: nothing does.</param>
    /// <exception cref="SearchException">What takes their place is too long.</exception>
    public IEnumerable<SearchHit> Find(string text, string? with = null)
    {
        ArgumentNullException.ThrowIfNull(text);
        if (with?.Length > LongestReplacement)
        {
            throw new SearchException($"At most {LongestReplacement:N0} characters can take the place of what is found.");
        }

        return Places(text, with);
    }

    private IEnumerable<SearchHit> Places(string text, string? with)
    {
        IReadOnlyList<(int From, int To)> unprinted = _query.PrintedOnly ? UnprintedMarkup.Find(text) : [];
        int next = 0;
        for (Match match = _pattern.Match(text); match.Success; match = match.NextMatch())
        {
            (int from, int to) = (match.Index, match.Index + match.Length);
            while (next < unprinted.Count && unprinted[next].To <= from)
            {
                next++;
            }

            // A tie between words that were found is markup and yet part of them.
            bool prints = next == unprinted.Count || unprinted[next].From >= to || IsTie(text, unprinted[next], to);
            if (match.Length > 0 && prints && (!_query.WholeWords || IsWhole(text, from, to)))
            {
                yield return new SearchHit(from, match.Length, Replacement(match, with));
            }
        }
    }

    private string Replacement(Match match, string? with)
    {
        if (with is null || !_query.IsPattern)
        {
            return with ?? "";
        }

        // Each sign may stand for all that was found.
        return ((long)with.Count(c => c == '$') * match.Length) + with.Length <= MostInserted ? match.Result(with) : throw TooMuch();
    }

    /// <summary>What is said when more would be put in than can be.</summary>
    public static SearchException TooMuch() => new("That would put in more than a file can hold. Make what takes the place shorter, or look for less.");

    private static bool IsTie(string text, (int From, int To) unprinted, int to) =>
        unprinted.To <= to && text.AsSpan(unprinted.From, unprinted.To - unprinted.From).Trim('~').IsEmpty;

    private static bool IsWhole(string text, int from, int to) =>
        (from == 0 || !char.IsLetterOrDigit(text[from - 1]) || !char.IsLetterOrDigit(text[from])) && (to == text.Length || !char.IsLetterOrDigit(text[to]) || !char.IsLetterOrDigit(text[to - 1]));

    private static string Literal(string words)
    {
        var pattern = new StringBuilder();
        bool isSpace = false;
        foreach (char c in words)
        {
            bool space = c is ' ' or '\t' or '\n' or '\r';
            if (!space)
            {
                pattern.Append(Regex.Escape(c.ToString()));
            }
            else if (!isSpace)
            {
                pattern.Append(Space);
            }

            isSpace = space;
        }

        return pattern.ToString();
    }

    private static string Say(RegexParseError error) => error switch
    {
        RegexParseError.InsufficientClosingParentheses => "a group is left open",
        RegexParseError.InsufficientOpeningParentheses => "a group is closed that wasn't opened",
        RegexParseError.UnterminatedBracket => "a set of characters in brackets is left open",
        RegexParseError.QuantifierAfterNothing => "there is nothing before the sign of repetition",
        RegexParseError.NestedQuantifiersNotParenthesized => "two signs of repetition follow one another",
        RegexParseError.UnescapedEndingBackslash => "it ends in a lone backslash (two of them find one)",
        RegexParseError.UnrecognizedEscape => "the letter after a backslash means nothing",
        RegexParseError.ReversedCharacterRange or RegexParseError.ReversedQuantifierRange => "a range runs backwards",
        _ => "it can't be read",
    };
}
