using System.Text;
using System.Text.Json;
using System.Text.Json.Serialization;

namespace YoungFolio.Cowriting;

/// <summary>
/// Reads and writes change sets in the JSON form of <c>@codemirror/state</c>: a list of sections; a number keeps that many
/// characters, a list replaces its first number of characters by its other members, which are lines.
/// </summary>
public sealed class ChangeSetConverter : JsonConverter<ChangeSet>
{
    /// <inheritdoc/>
    /// <exception cref="ChangeSetException">It isn't a change set.</exception>
    public override ChangeSet Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) => ChangeSet.Read(ref reader);

    /// <inheritdoc/>
    public override void Write(Utf8JsonWriter writer, ChangeSet value, JsonSerializerOptions options) => value.Write(writer);
}

public sealed partial class ChangeSet
{
    // A text whose length is near the limit of int could make sums run over.
    private const int LongestSection = 1 << 28;

    /// <summary>Reads the JSON form.</summary>
    /// <exception cref="ChangeSetException">It isn't one.</exception>
    public static ChangeSet FromJson(string json)
    {
        try
        {
            var reader = new Utf8JsonReader(Encoding.UTF8.GetBytes(json));
            reader.Read();
            return Read(ref reader);
        }
        catch (JsonException)
        {
            throw new ChangeSetException("A change set is a list of sections.");
        }
    }

    /// <summary>Writes the JSON form.</summary>
    public string ToJson() => JsonSerializer.Serialize(this);

    internal static ChangeSet Read(ref Utf8JsonReader reader)
    {
        if (reader.TokenType != JsonTokenType.StartArray)
        {
            throw new ChangeSetException("A change set is a list of sections.");
        }

        var sections = new List<Section>();
        long before = 0;
        long after = 0;
        while (reader.Read() && reader.TokenType != JsonTokenType.EndArray)
        {
            Section section = reader.TokenType == JsonTokenType.StartArray ? ReadReplacement(ref reader) : new Section(ReadLength(ref reader), null);
            before += section.Length;
            after += section.Text?.Length ?? section.Length;
            if (before > LongestSection || after > LongestSection)
            {
                throw new ChangeSetException("The change set is for a text larger than any file.");
            }

            sections.Add(section);
        }

        return new ChangeSet([.. sections]);
    }

    internal void Write(Utf8JsonWriter writer)
    {
        writer.WriteStartArray();
        foreach (Section section in _sections)
        {
            if (section.IsKept)
            {
                writer.WriteNumberValue(section.Length);
                continue;
            }

            writer.WriteStartArray();
            writer.WriteNumberValue(section.Length);
            if (section.Text!.Length > 0)
            {
                foreach (Range line in section.Text.AsSpan().Split('\n'))
                {
                    writer.WriteStringValue(section.Text.AsSpan()[line]);
                }
            }

            writer.WriteEndArray();
        }

        writer.WriteEndArray();
    }

    private static Section ReadReplacement(ref Utf8JsonReader reader)
    {
        reader.Read();
        int length = ReadLength(ref reader);
        var text = new StringBuilder();
        bool isFirst = true;
        while (reader.Read() && reader.TokenType != JsonTokenType.EndArray)
        {
            if (!isFirst)
            {
                text.Append('\n');
            }

            text.Append(ReadLine(ref reader));
            isFirst = false;
        }

        return new Section(length, text.ToString());
    }

    private static int ReadLength(ref Utf8JsonReader reader) =>
        reader.TokenType == JsonTokenType.Number && reader.TryGetInt32(out int length) && length is >= 0 and <= LongestSection
            ? length
            : throw new ChangeSetException("A section of the change set is neither a length nor a replacement.");

    private static string ReadLine(ref Utf8JsonReader reader)
    {
        string line;
        try
        {
            line = reader.TokenType == JsonTokenType.String
                ? reader.GetString()!
                : throw new ChangeSetException("What a change set brings in is a list of lines.");
        }
        catch (InvalidOperationException)
        {
            throw new ChangeSetException("A line of the change set holds half a character.");
        }

        // A line end within a line would give texts that differ from browser to browser.
        return line.AsSpan().ContainsAny('\n', '\r') ? throw new ChangeSetException("A line of the change set holds a line end.") : line;
    }
}
