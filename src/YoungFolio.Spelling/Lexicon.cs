using System.Collections.Concurrent;
using System.IO.Compression;
using YoungFolio.Manuscript.Searching;

namespace YoungFolio.Spelling;

/// <summary>The words of a language. The dictionaries ship with the application; each is opened when it is first asked for.</summary>
public sealed class Lexicon
{
    private const int MostSuggestions = 7;
    private const int MostRemembered = 200_000;

    private static readonly ConcurrentDictionary<string, Lazy<Lexicon>> s_opened = new(StringComparer.Ordinal);

    private readonly Lock _lock = new();
    private readonly Hunspell _words;
    private readonly Dictionary<string, bool> _known = new(StringComparer.Ordinal);

    private Lexicon(string language) => _words = Open(language);

    /// <summary>The languages that there are dictionaries of.</summary>
    public static IReadOnlyList<string> Languages { get; } = ["en-gb", "en-us", "de", "fr", "es", "it", "nl", "pt"];

    /// <summary>Whether spelling can be looked at on this machine.</summary>
    public static bool CanBeOpened => Hunspell.IsThere;

    /// <summary>The dictionary of a language; null when there is none.</summary>
    /// <param name="language">The language, such as <c>en-gb</c>.</param>
    public static Lexicon? Of(string language) =>
        CanBeOpened && Languages.Contains(language) ? s_opened.GetOrAdd(language, static l => new Lazy<Lexicon>(() => new Lexicon(l))).Value : null;

    /// <summary>Whether a word is spelt as the language spells it.</summary>
    /// <param name="word">The word, as it prints.</param>
    public bool Knows(string word)
    {
        ArgumentNullException.ThrowIfNull(word);
        if (word.Length > TypedWords.LongestWord)
        {
            return true;
        }

        lock (_lock)
        {
            if (_known.TryGetValue(word, out bool known))
            {
                return known;
            }

            if (_known.Count >= MostRemembered)
            {
                _known.Clear();
            }

            return _known[word] = _words.Knows(word);
        }
    }

    /// <summary>Words that may have been meant, the likeliest first.</summary>
    /// <param name="word">A word that isn't known.</param>
    public IReadOnlyList<string> Suggest(string word)
    {
        ArgumentNullException.ThrowIfNull(word);
        lock (_lock)
        {
            return word.Length > TypedWords.LongestWord ? [] : [.. _words.Suggest(word).Distinct(StringComparer.Ordinal).Take(MostSuggestions)];
        }
    }

    // The library reads files: they are unpacked beside each other for as long as that takes.
    private static Hunspell Open(string language)
    {
        DirectoryInfo folder = Directory.CreateTempSubdirectory("folio-words-");
        try
        {
            return Hunspell.Open(Unpack(folder, $"{language}.aff"), Unpack(folder, $"{language}.dic"));
        }
        finally
        {
            folder.Delete(recursive: true);
        }
    }

    private static string Unpack(DirectoryInfo folder, string name)
    {
        using Stream packed = typeof(Lexicon).Assembly.GetManifestResourceStream(name + ".gz") ?? throw new InvalidOperationException($"{name} doesn't ship.");
        using var unpacked = new GZipStream(packed, CompressionMode.Decompress);
        string path = Path.Combine(folder.FullName, name);
        using FileStream file = File.Create(path);
        unpacked.CopyTo(file);
        return path;
    }
}
