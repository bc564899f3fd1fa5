namespace YoungFolio.Bibliography;

/// <summary>What has to be so of an entry.</summary>
/// <param name="Type">The type that it has; null: any.</param>
/// <param name="Field">The field that it has; null: any.</param>
/// <param name="Holds">Whether it has to be so, or mustn't.</param>
public sealed record EntryCondition(string? Type, string? Field, bool Holds)
{
    internal bool Fits(BibEntry entry) => Holds == ((Type is null || entry.Kinds.Contains(Type)) && (Field is null || entry.Field(Field).Length > 0));
}

/// <summary>A field that isn't printed.</summary>
/// <param name="Field">Its name.</param>
/// <param name="When">What has to be so of the entry.</param>
public sealed record ClearedField(string Field, IReadOnlyList<EntryCondition> When);

/// <summary>What a manuscript changes in how a style of biblatex prints sources.</summary>
public sealed record ReferenceAdjustments
{
    // Names that a field has in both vocabularies.
    private static readonly Dictionary<string, string[]> s_same = new(StringComparer.Ordinal)
    {
        ["journaltitle"] = ["journal"], ["location"] = ["address"], ["institution"] = ["school"], ["date"] = ["year", "month"], ["labelyear"] = [], ["urlyear"] = ["urldate"],
    };

    /// <summary>Nothing.</summary>
    public static ReferenceAdjustments None { get; } = new();

    /// <summary>Fields that aren't printed.</summary>
    public IReadOnlyList<ClearedField> Cleared { get; init; } = [];

    /// <summary>Markup in which a field's value stands in the place of <c>#1</c>, by type and field; an empty type is for all.</summary>
    public IReadOnlyDictionary<(string Type, string Field), string> Formats { get; init; } = new Dictionary<(string, string), string>();

    /// <summary>Of which entries the word “in” before a journal or book is left away; null: of none.</summary>
    public IReadOnlyList<EntryCondition>? WithoutIn { get; init; }

    /// <summary>The entry without the fields that aren't printed.</summary>
    public BibEntry Apply(BibEntry entry)
    {
        ArgumentNullException.ThrowIfNull(entry);
        if (Cleared.Count == 0)
        {
            return entry;
        }

        var fields = new Dictionary<string, string>(entry.Fields, StringComparer.OrdinalIgnoreCase);
        foreach (ClearedField cleared in Cleared.Where(c => c.When.All(w => w.Fits(entry))))
        {
            if (cleared.Field is "month" or "day" && fields.TryGetValue("date", out string? date))
            {
                // A date's parts are fields of their own.
                fields["date"] = string.Join('/', date.Split('/').Select(d => string.Join('-', d.Split('-').Take(cleared.Field == "month" ? 1 : 2))));
            }

            foreach (string name in s_same.GetValueOrDefault(cleared.Field, []).Prepend(cleared.Field))
            {
                fields.Remove(name);
            }
        }

        return entry with { Fields = fields };
    }

    /// <summary>Markup for a field of a type, with <c>#1</c> for its value; null: the style's own.</summary>
    internal string? Format(string type, string field) => Formats.GetValueOrDefault((type, field)) ?? Formats.GetValueOrDefault(("", field));

    internal bool LeavesIn(BibEntry entry) => WithoutIn is { } conditions && conditions.All(c => c.Fits(entry));
}
