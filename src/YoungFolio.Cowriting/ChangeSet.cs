using System.Text;
using System.Text.Json;

namespace YoungFolio.Cowriting;

/// <summary>A change set doesn't fit the text it is meant for, or isn't one at all.</summary>
public sealed class ChangeSetException(string message) : Exception(message);

/// <summary>
/// A change of a text as a value, in the JSON form of <c>@codemirror/state</c>: a list of sections; a number keeps that many
/// characters, a list replaces its first number of characters by its other members, which are lines.
/// </summary>
public sealed class ChangeSet
{
    private readonly IReadOnlyList<(int Length, string? Insert)> _sections;

    private ChangeSet(IReadOnlyList<(int, string?)> sections)
    {
        _sections = sections;
        LengthBefore = sections.Sum(s => s.Item1);
        LengthAfter = sections.Sum(s => s.Item2?.Length ?? s.Item1);
    }

    /// <summary>Length in UTF-16 units of the text that it changes.</summary>
    public int LengthBefore { get; }

    /// <summary>Length of the text that it gives.</summary>
    public int LengthAfter { get; }

    /// <summary>A change that replaces a stretch of a text.</summary>
    /// <exception cref="ChangeSetException">The stretch lies outside the text.</exception>
    public static ChangeSet Replace(int textLength, int from, int to, string insert)
    {
        if (from < 0 || to < from || to > textLength)
        {
            throw new ChangeSetException("The change lies outside the text.");
        }

        var sections = new List<(int, string?)>();
        if (from > 0)
        {
            sections.Add((from, null));
        }

        sections.Add((to - from, insert));
        if (to < textLength)
        {
            sections.Add((textLength - to, null));
        }

        return new ChangeSet(sections);
    }

    /// <summary>A change that replaces several stretches of a text at once.</summary>
    /// <param name="textLength">Length of the text.</param>
    /// <param name="edits">The stretches: where, how long, and what comes in; they must not overlap.</param>
    /// <exception cref="ChangeSetException">A stretch lies outside the text or in another one.</exception>
    public static ChangeSet Of(int textLength, IEnumerable<(int From, int Length, string Insert)> edits)
    {
        var sections = new List<(int, string?)>();
        int at = 0;
        foreach ((int from, int length, string insert) in edits.OrderBy(e => e.From).ThenBy(e => e.Length))
        {
            if (from < at || length < 0 || from + length > textLength)
            {
                throw new ChangeSetException("The changes lie outside the text or in each other.");
            }

            if (length == 0 && insert.Length == 0)
            {
                continue;
            }

            if (from > at)
            {
                sections.Add((from - at, null));
            }

            sections.Add((length, insert));
            at = from + length;
        }

        if (at < textLength)
        {
            sections.Add((textLength - at, null));
        }

        return new ChangeSet(sections);
    }

    /// <summary>The change that takes this one back.</summary>
    /// <param name="text">The text before.</param>
    public ChangeSet Invert(string text)
    {
        var sections = new List<(int, string?)>();
        int at = 0;
        foreach ((int length, string? insert) in _sections)
        {
            sections.Add(insert is null ? (length, null) : (insert.Length, text.Substring(at, length)));
            at += length;
        }

        return new ChangeSet(sections);
    }

    /// <summary>Reads the JSON form.</summary>
    /// <exception cref="ChangeSetException">It isn't one.</exception>
    public static ChangeSet FromJson(JsonElement json)
    {
        if (json.ValueKind != JsonValueKind.Array)
        {
            throw new ChangeSetException("A change set is a list of sections.");
        }

        var sections = new List<(int, string?)>();
        foreach (JsonElement section in json.EnumerateArray())
        {
            if (section.ValueKind == JsonValueKind.Number && section.TryGetInt32(out int kept) && kept >= 0)
            {
                sections.Add((kept, null));
            }
            else if (section.ValueKind == JsonValueKind.Array && section.GetArrayLength() > 0
                && section[0].ValueKind == JsonValueKind.Number && section[0].TryGetInt32(out int removed) && removed >= 0
                && section.EnumerateArray().Skip(1).All(l => l.ValueKind == JsonValueKind.String))
            {
                sections.Add((removed, string.Join('\n', section.EnumerateArray().Skip(1).Select(l => l.GetString()))));
            }
            else
            {
                throw new ChangeSetException("A section of the change set is neither a length nor a replacement.");
            }
        }

        return new ChangeSet(sections);
    }

    /// <summary>Writes the JSON form.</summary>
    public string ToJson()
    {
        var text = new StringBuilder("[");
        foreach ((int length, string? insert) in _sections)
        {
            if (text.Length > 1)
            {
                text.Append(',');
            }

            if (insert is null)
            {
                text.Append(length);
            }
            else
            {
                text.Append('[').Append(length);
                foreach (string line in insert.Length == 0 ? [] : insert.Split('\n'))
                {
                    text.Append(',').Append(JsonSerializer.Serialize(line));
                }

                text.Append(']');
            }
        }

        return text.Append(']').ToString();
    }

    /// <summary>The text after the change.</summary>
    /// <exception cref="ChangeSetException">The text has another length than the change expects.</exception>
    public string Apply(string text)
    {
        if (text.Length != LengthBefore)
        {
            throw new ChangeSetException($"The change is for a text of {LengthBefore} characters; this one has {text.Length}.");
        }

        var result = new StringBuilder(LengthAfter);
        int at = 0;
        foreach ((int length, string? insert) in _sections)
        {
            if (insert is null)
            {
                result.Append(text, at, length);
            }
            else
            {
                result.Append(insert);
            }

            at += length;
        }

        return result.ToString();
    }
}
