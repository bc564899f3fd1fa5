using System.Reflection;
using System.Text.Json;

namespace YoungFolio.HandIn;

/// <summary>
/// What a house asks of a manuscript that is handed in to it. A rule that isn't given isn't checked. Lengths of the page are millimetres,
/// sizes of type are points (72.27 to the inch).
/// </summary>
public sealed record HouseRules
{
    /// <summary>The dots to the inch that pictures have at least where no rule says another number (common practice for print).</summary>
    public const int UsualDots = 150;

    /// <summary>The paper: <c>a4</c>, <c>a5</c>, <c>b5</c>, <c>letter</c>, <c>legal</c>.</summary>
    public string? Paper { get; init; }

    /// <summary>The least margin beside the spine, or at the left where one side is printed.</summary>
    public double? Inner { get; init; }

    /// <summary>The least margin at the other side.</summary>
    public double? Outer { get; init; }

    /// <summary>The least margin above the text.</summary>
    public double? Top { get; init; }

    /// <summary>The least margin below the text.</summary>
    public double? Bottom { get; init; }

    /// <summary>The fewest pages.</summary>
    public int? FewestPages { get; init; }

    /// <summary>The most pages.</summary>
    public int? MostPages { get; init; }

    /// <summary>The fewest words.</summary>
    public int? FewestWords { get; init; }

    /// <summary>The most words.</summary>
    public int? MostWords { get; init; }

    /// <summary>The fewest words of the abstract.</summary>
    public int? FewestAbstractWords { get; init; }

    /// <summary>The most words of the abstract.</summary>
    public int? MostAbstractWords { get; init; }

    /// <summary>The least size of words, in notes and captions too.</summary>
    public double? LeastType { get; init; }

    /// <summary>The least size of running text.</summary>
    public double? LeastText { get; init; }

    /// <summary>The least distance of lines, in sizes of the type: 1.2 is single, 1.5 one and a half, 2 double.</summary>
    public double? LeastSpacing { get; init; }

    /// <summary>The fewest dots to the inch of pictures as they are printed.</summary>
    public int? LeastDots { get; init; }

    /// <summary>Headings that have to be there, in this order.</summary>
    public IReadOnlyList<string>? Headings { get; init; }

    /// <summary>Whether pictures need words for those who can't see them.</summary>
    public bool WantsAlternatives { get; init; }

    /// <summary>Whether nothing may say whose it is.</summary>
    public bool IsAnonymous { get; init; }

    /// <summary>What the PDF is made for: one of <see cref="Flavours"/>; null: reading and printing.</summary>
    public string? Flavour { get; init; }

    /// <summary>What the PDF is called: <c>{author}</c>, <c>{year}</c>, <c>{title}</c> and signs between them.</summary>
    public string? FileName { get; init; }

    /// <summary>Where it is sent.</summary>
    public string? Address { get; init; }

    /// <summary>The rules that ship, by their keys, with what they are called.</summary>
    public static IReadOnlyList<(string Key, string Name, HouseRules Rules)> Shipped { get; } =
    [
        ("none", "No rules but those of the craft", Read("none")),
        ("thesis", "A thesis, A4", Read("thesis")),
        ("bound-thesis", "A thesis, A4, bound, lines one and a half", Read("bound-thesis")),
        ("paper", "A journal paper", Read("paper")),
        ("blind-paper", "A paper for readers who mustn’t know whose it is", Read("blind-paper")),
    ];

    /// <summary>What doesn't hold together in the rules themselves; null: nothing.</summary>
    public string? Problem()
    {
        (double? Value, double Least, double Most, string Name)[] numbers =
        [
            (Inner, 0, 200, "The inner margin"), (Outer, 0, 200, "The outer margin"), (Top, 0, 200, "The upper margin"), (Bottom, 0, 200, "The lower margin"),
            (FewestPages, 1, 10_000, "The number of pages"), (MostPages, 1, 10_000, "The number of pages"), (FewestWords, 1, 10_000_000, "The number of words"), (MostWords, 1, 10_000_000, "The number of words"),
            (FewestAbstractWords, 1, 10_000, "The abstract’s length"), (MostAbstractWords, 1, 10_000, "The abstract’s length"), (LeastType, 1, 100, "The least type"), (LeastText, 1, 100, "The least type of the text"),
            (LeastSpacing, 0.5, 5, "The line spacing"), (LeastDots, 1, 5000, "The dots of pictures"),
        ];
        foreach ((double? value, double least, double most, string name) in numbers)
        {
            if (value is { } number && !(number >= least && number <= most))
            {
                return $"{name} is a number between {least:0.##} and {most:0.##}.";
            }
        }

        return FewestPages > MostPages || FewestWords > MostWords || FewestAbstractWords > MostAbstractWords ? "The most can’t be less than the fewest."
            : Paper is { Length: > 0 } && !Papers.ContainsKey(Paper) ? $"The paper is one of {string.Join(", ", Papers.Keys)}."
            : Headings is { Count: > 50 } || Headings?.Any(h => h is null || h.Trim().Length is 0 or > 200) == true ? "Name at most 50 headings, each with at most 200 signs."
            : Flavour is { Length: > 0 } && !Flavours.Contains(Flavour) ? $"The PDF is one of {string.Join(", ", Flavours)}."
            : FileName is { Length: > 200 } ? "The file’s name has at most 200 signs."
            : Address is { Length: > 200 } ? "The address has at most 200 signs." : null;
    }

    /// <summary>A PDF for keeping (PDF/A-2).</summary>
    public const string Archival = "archival";

    /// <summary>A PDF for keeping with the sources within it (PDF/A-3).</summary>
    public const string ArchivalWithSources = "archival-with-sources";

    /// <summary>A PDF for those who listen to it, too (PDF/UA-1).</summary>
    public const string Accessible = "accessible";

    /// <summary>A PDF for those who listen to it, and for keeping (PDF/UA-1 and PDF/A-3).</summary>
    public const string AccessibleArchival = "accessible-archival";

    /// <summary>What a PDF may be made for besides reading and printing.</summary>
    public static IReadOnlyList<string> Flavours { get; } = [Accessible, Archival, ArchivalWithSources, AccessibleArchival];

    /// <summary>Whether a PDF is for keeping.</summary>
    public static bool IsArchival(string? flavour) => flavour is Archival or ArchivalWithSources or AccessibleArchival;

    /// <summary>Whether a PDF is for those who listen to it, too.</summary>
    public static bool IsAccessible(string? flavour) => flavour is Accessible or AccessibleArchival;

    /// <summary>Papers by name: width and height in millimetres (ISO 216, and the sizes of North America).</summary>
    internal static IReadOnlyDictionary<string, (double Width, double Height)> Papers { get; } = new Dictionary<string, (double, double)>(StringComparer.Ordinal)
    {
        ["a4"] = (210, 297), ["a5"] = (148, 210), ["b5"] = (176, 250), ["letter"] = (215.9, 279.4), ["legal"] = (215.9, 355.6),
    };

    private static HouseRules Read(string key)
    {
        using Stream stream = Assembly.GetExecutingAssembly().GetManifestResourceStream(key + ".json")!;
        return JsonSerializer.Deserialize<HouseRules>(stream, JsonSerializerOptions.Web)!;
    }
}
