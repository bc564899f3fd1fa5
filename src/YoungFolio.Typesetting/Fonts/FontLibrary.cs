using System.Collections.Concurrent;
using System.Reflection;
using YoungFolio.Documents;

namespace YoungFolio.Typesetting.Fonts;

/// <summary>The fonts that ship with the project, loaded when first asked for. Share one among compiles.</summary>
public sealed class FontLibrary
{
    // Fonts that have signs which no text font has, in the order in which they are asked.
    private static readonly string[] s_signFonts = ["texgyrepagella-regular", "lmroman10-regular", "stixgeneral-regular", "texgyretermes-math", "latinmodern-math"];

    private readonly ConcurrentDictionary<string, Lazy<FontFile>> _files = new(StringComparer.Ordinal);
    private readonly ConcurrentDictionary<string, Lazy<MathFont>> _mathFonts = new(StringComparer.Ordinal);

    /// <summary>The font of a style.</summary>
    public FontFile Find(TypefaceSet typefaces, TextStyle style) => Load(FileOf(typefaces.Of(style), style));

    /// <summary>The font of a style for characters that its own font lacks: Greek, Cyrillic and many signs.</summary>
    public FontFile Fallback(TextStyle style) => Load($"stixgeneral-{Cut(style)}");

    /// <summary>
    /// Parts a text into stretches that are each in one font: the first that has the characters, of the given one, its fallback and those of signs.
    /// </summary>
    /// <param name="font">The font that the text asks for; it keeps what none has.</param>
    /// <param name="style">The text's style.</param>
    /// <param name="text">The text.</param>
    /// <param name="start">Where it begins.</param>
    /// <param name="end">Where it ends.</param>
    /// <returns>The fonts, each with the end of its stretch.</returns>
    public List<(FontFile Font, int End)> Stretches(FontFile font, TextStyle style, string text, int start, int end)
    {
        FontFile[] fonts = [font, Fallback(style), .. s_signFonts.Select(Load)];
        var stretches = new List<(FontFile Font, int End)>();
        int next;
        for (int i = start; i < end; i = next)
        {
            int code = char.ConvertToUtf32(text, i);
            next = Math.Min(end, i + (code > 0xFFFF ? 2 : 1));
            FontFile of = Array.Find(fonts, f => f.GlyphOf(code) != 0) ?? font;
            if (stretches is [.., var last] && last.Font == of)
            {
                stretches.RemoveAt(stretches.Count - 1);
            }

            stretches.Add((of, next));
        }

        return stretches;
    }

    private static string Cut(TextStyle style, string italic = "italic") => (style.Bold, style.Shape is FontShape.Italic or FontShape.Slanted) switch
    {
        (false, false) => "regular",
        (true, false) => "bold",
        (false, true) => italic,
        _ => "bold" + italic,
    };

    // The families don't all have the same cuts; each style gets the nearest.
    private static string FileOf(string typeface, TextStyle style) => typeface switch
    {
        "chorus" => "texgyrechorus-mediumitalic",
        "modern" => style switch
        {
            { Shape: FontShape.SmallCaps, Bold: false } => "lmromancaps10-regular",
            { Shape: FontShape.Slanted } => style.Bold ? "lmromanslant10-bold" : "lmromanslant10-regular",
            _ => "lmroman10-" + Cut(style),
        },
        "modernsans" => "lmsans10-" + Cut(style, "oblique"),
        "modernmono" => style.Bold ? "lmmonolt10-" + Cut(style, "oblique") : "lmmono10-" + Cut(style),
        _ => $"texgyre{typeface}-{Cut(style)}",
    };

    /// <summary>The mathematics companion of a typeface.</summary>
    public MathFont Mathematics(string typeface) => _mathFonts.GetOrAdd(typeface, t => new Lazy<MathFont>(
        () => new MathFont(Load(t == "modern" ? "latinmodern-math" : $"texgyre{t}-math")))).Value;

    /// <summary>A font by its file's name.</summary>
    public FontFile Load(string name) => _files.GetOrAdd(name, static n => new Lazy<FontFile>(() => new FontFile(n, Resource(n + ".otf")))).Value;

    /// <summary>Whether there is a font of a name.</summary>
    public static bool IsThere(string name) => Assembly.GetExecutingAssembly().GetManifestResourceInfo(name + ".otf") is not null;

    private static byte[] Resource(string name)
    {
        using Stream stream = Assembly.GetExecutingAssembly().GetManifestResourceStream(name)
            ?? throw new InvalidOperationException($"The font {name} is not part of the build.");
        byte[] bytes = new byte[stream.Length];
        stream.ReadExactly(bytes);
        return bytes;
    }
}
