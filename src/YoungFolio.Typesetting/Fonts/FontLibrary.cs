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
        "modern" => "lmroman" + Modern.Roman(style),
        "modernsans" => "lmsans" + Modern.Sans(style),
        "modernmono" => "lmmono" + Modern.Mono(style),
        _ => $"texgyre{typeface}-{Cut(style)}",
    };

    // Latin Modern is cut for sizes of its own: small type is sturdier, large type finer. Which size takes which cut is what
    // the family's published font definitions say (from memory).
    private static class Modern
    {
        public static string Roman(TextStyle style) => style switch
        {
            { Shape: FontShape.SmallCaps, Bold: false } => "caps10-regular",
            { Shape: FontShape.Slanted, Bold: true } => "slant10-bold",
            { Shape: FontShape.Slanted } => $"slant{Size(style, 8, 9, 10, 12, 17)}-regular",
            { Shape: FontShape.Italic, Bold: true } => "10-bolditalic",
            { Shape: FontShape.Italic } => Size(style, 7, 8, 9, 10, 12) + "-italic",
            { Bold: true } => Size(style, 5, 6, 7, 8, 9, 10, 12) + "-bold",
            _ => Size(style, 5, 6, 7, 8, 9, 10, 12, 17) + "-regular",
        };

        public static string Sans(TextStyle style) => style.Bold ? "10-" + Cut(style, "oblique") : $"{Size(style, 8, 9, 10, 12, 17)}-{Cut(style, "oblique")}";

        public static string Mono(TextStyle style) => style switch
        {
            { Bold: true } => "lt10-" + Cut(style, "oblique"),
            { Shape: FontShape.SmallCaps } => "caps10-regular",
            { Shape: FontShape.Slanted } => "slant10-regular",
            { Shape: FontShape.Italic } => "10-italic",
            _ => Size(style, 8, 9, 10, 12) + "-regular",
        };

        // The largest cut whose range has begun: those of 5 to 9 points reach half a point further, 10 reaches to 11, 12 to 15.
        private static int Size(TextStyle style, params ReadOnlySpan<int> cuts)
        {
            double size = style.DesignSize > 0 ? style.DesignSize : style.Size;
            int found = cuts[0];
            foreach (int cut in cuts)
            {
                double begins = cut switch { 17 => 15, 12 => 11, _ => cut - 0.5 };
                found = size >= begins - 0.001 ? cut : found;
            }

            return found;
        }
    }

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
