namespace YoungFolio.Bibliography;

/// <summary>A field as it stands in the text.</summary>
/// <param name="Name">Its name in small letters.</param>
/// <param name="Value">Its value: strings put in, outer braces or quotes taken off.</param>
/// <param name="Offset">Where its name begins.</param>
/// <param name="ValueOffset">Where its value begins, with its brace or quote.</param>
/// <param name="End">Behind its value; a comma isn't part of it.</param>
public sealed record BibField(string Name, string Value, int Offset, int ValueOffset, int End)
{
    /// <summary>What the value is joined of, where a name that the style gives a meaning stands in it (<c>month = jan</c>); else empty.</summary>
    public IReadOnlyList<BibPiece> Pieces { get; init; } = [];
}

/// <summary>A piece of a joined value.</summary>
/// <param name="Text">Its text, or a name for which the style's text stands.</param>
/// <param name="IsName">Whether it is a name.</param>
/// <param name="Standard">What the name stands for in styles that say nothing of it.</param>
public sealed record BibPiece(string Text, bool IsName = false, string Standard = "");

/// <summary>One entry of a .bib file.</summary>
/// <param name="Type">Its type in small letters: <c>article</c>.</param>
/// <param name="Key">Its key.</param>
/// <param name="Offset">Where it begins: the index of its @ in the text.</param>
/// <param name="Fields">Its fields by name in small letters, inherited ones included when a <see cref="BibPool"/> gave it.</param>
public sealed record BibEntry(string Type, string Key, int Offset, IReadOnlyDictionary<string, string> Fields)
{
    /// <summary>Its fields in the order of the text.</summary>
    public IReadOnlyList<BibField> Written { get; init; } = [];

    /// <summary>Of fields with names that the style gives a meaning: what they are joined of.</summary>
    public IReadOnlyDictionary<string, IReadOnlyList<BibPiece>> Joined { get; init; } = EmptyJoined;

    /// <summary>The work that it is a part of (<c>crossref</c>), or null; a <see cref="BibPool"/> knows.</summary>
    public BibEntry? Whole { get; init; }

    /// <summary>No such fields.</summary>
    internal static IReadOnlyDictionary<string, IReadOnlyList<BibPiece>> EmptyJoined { get; } = new Dictionary<string, IReadOnlyList<BibPiece>>(StringComparer.OrdinalIgnoreCase);

    /// <summary>Where its key begins.</summary>
    public int KeyOffset { get; init; }

    /// <summary>Behind its closing brace.</summary>
    public int End { get; init; }

    /// <summary>Its type, as the standard styles and as biblatex call it.</summary>
    public IReadOnlyList<string> Kinds => Type switch
    {
        "phdthesis" or "mastersthesis" => [Type, "thesis"],
        "techreport" => [Type, "report"],
        "conference" => [Type, "inproceedings"],
        "www" or "electronic" => [Type, "online"],
        _ => [Type],
    };

    /// <summary>A field's value; empty when it isn't there.</summary>
    public string Field(string name) => Fields.TryGetValue(name, out string? value) ? value : "";

    /// <summary>The first of some fields that has a value; empty when none has.</summary>
    public string First(params ReadOnlySpan<string> names)
    {
        foreach (string name in names)
        {
            if (Field(name) is { Length: > 0 } value)
            {
                return value;
            }
        }

        return "";
    }
}

/// <summary>Something in a .bib file that can't be read.</summary>
/// <param name="Offset">Where.</param>
/// <param name="Message">What is wrong.</param>
/// <param name="Key">Key of the entry that it is in; empty between entries.</param>
public sealed record BibProblem(int Offset, string Message, string Key = "")
{
    /// <summary>Of a word that no <c>@string</c> explains: the word; else empty.</summary>
    public string Name { get; init; } = "";
}

/// <summary>What a .bib file holds.</summary>
/// <param name="Entries">The entries, in order.</param>
/// <param name="Problems">What couldn't be read.</param>
/// <param name="Preamble">What <c>@preamble</c> puts before the list.</param>
public sealed record BibFile(IReadOnlyList<BibEntry> Entries, IReadOnlyList<BibProblem> Problems, string Preamble = "");
