using System.Collections.Concurrent;
using Buffer = HarfBuzzSharp.Buffer;
using HarfBuzzSharp;

namespace YoungFolio.Typesetting.Fonts;

/// <summary>A word as glyphs, at a size of one point.</summary>
public sealed class ShapedWord
{
    /// <summary>Glyph numbers.</summary>
    public required uint[] Glyphs { get; init; }

    /// <summary>Left edge of each glyph, and at the end the width.</summary>
    public required double[] Edges { get; init; }

    /// <summary>Index in the word of the first character that each glyph shows.</summary>
    public required int[] Clusters { get; init; }

    /// <summary>The characters that each glyph shows.</summary>
    public required string[] Texts { get; init; }

    /// <summary>Width of the whole.</summary>
    public double Width => Edges[^1];

    /// <summary>Width of the first characters, as they stand in the whole word.</summary>
    public double WidthBefore(int character)
    {
        for (int i = 0; i < Clusters.Length; i++)
        {
            if (Clusters[i] >= character)
            {
                return Edges[i];
            }
        }

        return Width;
    }

    /// <summary>Whether the font lacks a character.</summary>
    public bool HasMissing => Array.IndexOf(Glyphs, 0u) >= 0;
}

/// <summary>What a font is asked to do with a word's letters.</summary>
[Flags]
public enum ShapingFeatures
{
    /// <summary>Kerning and ligatures, as usual.</summary>
    None = 0,

    /// <summary>Small letters become small capitals.</summary>
    SmallCaps = 1,

    /// <summary>Letters don't join.</summary>
    Unjoined = 2,

    /// <summary>Figures with ascenders and descenders.</summary>
    OldFigures = 4,
}

/// <summary>Turns words into glyphs by HarfBuzz, with kerning and ligatures; remembers what it did.</summary>
public sealed class Shaper
{
    private const int Capacity = 200_000;

    // Longer ones don't come again, and would fill the memory.
    private const int LongestKept = 60;
    private const int MostAccents = 8;
    private readonly ConcurrentDictionary<(FontFile, string, ShapingFeatures), ShapedWord> _words = new();

    /// <summary>Shapes a word.</summary>
    /// <param name="font">The font.</param>
    /// <param name="text">The word.</param>
    /// <param name="wanted">What the font is asked to do.</param>
    public ShapedWord Shape(FontFile font, string text, ShapingFeatures wanted = ShapingFeatures.None)
    {
        var key = (font, text, wanted);
        if (_words.TryGetValue(key, out ShapedWord? known))
        {
            return known;
        }

        if (_words.Count > Capacity)
        {
            _words.Clear();
        }

        ShapedWord made = Make(font, text, wanted);
        if (text.Length <= LongestKept)
        {
            _words[key] = made;
        }

        return made;
    }

    private static ShapedWord Make(FontFile font, string text, ShapingFeatures wanted)
    {
        using var buffer = new Buffer();
        buffer.AddUtf16(text);
        buffer.Direction = Direction.LeftToRight;
        buffer.Script = Script.Latin;
        buffer.Language = new Language("en");
        var features = new List<Feature>();
        if (wanted.HasFlag(ShapingFeatures.SmallCaps))
        {
            features.Add(new Feature(new Tag('s', 'm', 'c', 'p'), 1));
        }

        if (wanted.HasFlag(ShapingFeatures.OldFigures))
        {
            features.Add(new Feature(new Tag('o', 'n', 'u', 'm'), 1));
        }

        if (wanted.HasFlag(ShapingFeatures.Unjoined))
        {
            features.Add(new Feature(new Tag('l', 'i', 'g', 'a'), 0));
        }

        font.Font.Shape(buffer, [.. features]);
        GlyphInfo[] infos = buffer.GlyphInfos;
        GlyphPosition[] positions = buffer.GlyphPositions;
        var glyphs = new uint[infos.Length];
        var edges = new double[infos.Length + 1];
        var clusters = new int[infos.Length];
        var texts = new string[infos.Length];
        double x = 0;
        for (int i = 0; i < infos.Length; i++)
        {
            glyphs[i] = infos[i].Codepoint;
            clusters[i] = (int)infos[i].Cluster;
            edges[i] = x;
            x += positions[i].XAdvance / (double)font.UnitsPerEm;
            int end = i + 1 < infos.Length ? (int)infos[i + 1].Cluster : text.Length;
            texts[i] = end > clusters[i] ? text[clusters[i]..end] : "";
        }

        edges[^1] = x;
        PartAccents(texts, clusters);
        return new ShapedWord { Glyphs = glyphs, Edges = edges, Clusters = clusters, Texts = texts };
    }

    // A letter that the font has no glyph for may be set as a letter and its accents: each then stands for its own part of it.
    private static void PartAccents(string[] texts, int[] clusters)
    {
        for (int last = 1; last < texts.Length; last++)
        {
            int first = last;
            while (first > 0 && last - first <= MostAccents && clusters[first - 1] == clusters[last])
            {
                first--;
            }

            string parts = first < last ? texts[last].Normalize(System.Text.NormalizationForm.FormD) : "";
            if (parts.Length == last - first + 1)
            {
                for (int k = first; k <= last; k++)
                {
                    texts[k] = parts[k - first].ToString();
                }
            }
        }
    }
}
