using System.Collections.Concurrent;
using System.Runtime.InteropServices;

namespace YoungFolio.Typesetting.Fonts;

/// <summary>Constants of the OpenType MATH table, numbered as in HarfBuzz's <c>hb_ot_math_constant_t</c>.</summary>
public enum MathConstant
{
#pragma warning disable CS1591 // The names are the specification's own.
    ScriptPercentScaleDown = 0,
    ScriptScriptPercentScaleDown = 1,
    DelimitedSubFormulaMinHeight = 2,
    DisplayOperatorMinHeight = 3,
    AxisHeight = 5,
    AccentBaseHeight = 6,
    SubscriptShiftDown = 8,
    SubscriptTopMax = 9,
    SubscriptBaselineDropMin = 10,
    SuperscriptShiftUp = 11,
    SuperscriptShiftUpCramped = 12,
    SuperscriptBottomMin = 13,
    SuperscriptBaselineDropMax = 14,
    SubSuperscriptGapMin = 15,
    SuperscriptBottomMaxWithSubscript = 16,
    SpaceAfterScript = 17,
    UpperLimitGapMin = 18,
    UpperLimitBaselineRiseMin = 19,
    LowerLimitGapMin = 20,
    LowerLimitBaselineDropMin = 21,
    StackTopShiftUp = 22,
    StackTopDisplayStyleShiftUp = 23,
    StackBottomShiftDown = 24,
    StackBottomDisplayStyleShiftDown = 25,
    StackGapMin = 26,
    StackDisplayStyleGapMin = 27,
    StretchStackGapAboveMin = 30,
    StretchStackGapBelowMin = 31,
    FractionNumeratorShiftUp = 32,
    FractionNumeratorDisplayStyleShiftUp = 33,
    FractionDenominatorShiftDown = 34,
    FractionDenominatorDisplayStyleShiftDown = 35,
    FractionNumeratorGapMin = 36,
    FractionNumDisplayStyleGapMin = 37,
    FractionRuleThickness = 38,
    FractionDenominatorGapMin = 39,
    FractionDenomDisplayStyleGapMin = 40,
    OverbarVerticalGap = 43,
    OverbarRuleThickness = 44,
    UnderbarVerticalGap = 46,
    UnderbarRuleThickness = 47,
    RadicalVerticalGap = 49,
    RadicalDisplayStyleVerticalGap = 50,
    RadicalRuleThickness = 51,
    RadicalExtraAscender = 52,
    RadicalKernBeforeDegree = 53,
    RadicalKernAfterDegree = 54,
    RadicalDegreeBottomRaisePercent = 55,
#pragma warning restore CS1591
}

/// <summary>Corners of a glyph where scripts are kerned, numbered as in HarfBuzz's <c>hb_ot_math_kern_t</c>.</summary>
public enum MathCorner
{
    /// <summary>Top right.</summary>
    TopRight = 0,

    /// <summary>Top left.</summary>
    TopLeft = 1,

    /// <summary>Bottom right.</summary>
    BottomRight = 2,

    /// <summary>Bottom left.</summary>
    BottomLeft = 3,
}

/// <summary>A part of a glyph that is put together; lengths are shares of the size.</summary>
public readonly record struct GlyphPart(uint Glyph, double StartConnector, double EndConnector, double FullAdvance, bool IsExtender);

/// <summary>A font with a MATH table, read through HarfBuzz. Lengths are shares of the size.</summary>
public sealed partial class MathFont(FontFile file)
{
    private readonly ConcurrentDictionary<(uint, bool), (uint Glyph, double Advance)[]> _variants = new();
    private readonly ConcurrentDictionary<(uint, bool), GlyphPart[]> _assemblies = new();
    private readonly ConcurrentDictionary<MathConstant, double> _constants = new();
    private readonly ConcurrentDictionary<(int Code, int Level), uint> _scriptGlyphs = new();

    /// <summary>The font itself.</summary>
    public FontFile File => file;

    /// <summary>A constant as a share of the size; percentages as fractions of 1.</summary>
    public double Constant(MathConstant constant) => _constants.GetOrAdd(constant, c =>
    {
        int value = hb_ot_math_get_constant(file.Font.Handle, (int)c);
        bool percent = c is MathConstant.ScriptPercentScaleDown or MathConstant.ScriptScriptPercentScaleDown
            or MathConstant.RadicalDegreeBottomRaisePercent;
        return percent ? value / 100.0 : value / (double)file.UnitsPerEm;
    });

    /// <summary>
    /// The glyph of a character as it is drawn for scripts: sturdier letters, primes that stand where scripts do (OpenType, feature
    /// <c>ssty</c>: math script-style alternates).
    /// </summary>
    /// <param name="code">The character.</param>
    /// <param name="level">1 for scripts, 2 for scripts of scripts.</param>
    /// <returns>The font's glyph for the character when it has no other form; 0 when it has none at all.</returns>
    public uint ScriptGlyph(int code, int level) => _scriptGlyphs.GetOrAdd((code, level), k =>
    {
        using var buffer = new HarfBuzzSharp.Buffer();
        buffer.AddUtf16(char.ConvertFromUtf32(k.Item1));
        buffer.Direction = HarfBuzzSharp.Direction.LeftToRight;
        buffer.Script = HarfBuzzSharp.Script.Parse("math");
        lock (file.Font)
        {
            file.Font.Shape(buffer, HarfBuzzSharp.Feature.Parse("ssty=" + k.Item2.ToString(System.Globalization.CultureInfo.InvariantCulture)));
        }

        return buffer.GlyphInfos is [var only] ? only.Codepoint : file.GlyphOf(k.Item1);
    });

    /// <summary>Italic correction of a glyph.</summary>
    public double ItalicCorrection(uint glyph) => hb_ot_math_get_glyph_italics_correction(file.Font.Handle, glyph) / (double)file.UnitsPerEm;

    /// <summary>Where an accent's middle goes, from the glyph's left.</summary>
    public double TopAccent(uint glyph) => hb_ot_math_get_glyph_top_accent_attachment(file.Font.Handle, glyph) / (double)file.UnitsPerEm;

    /// <summary>Kerning at a corner of a glyph, at a height over its baseline; both are shares of the size.</summary>
    public double Kern(uint glyph, MathCorner corner, double height) =>
        hb_ot_math_get_glyph_kerning(file.Font.Handle, glyph, (int)corner, (int)Math.Round(height * file.UnitsPerEm)) / (double)file.UnitsPerEm;

    /// <summary>Larger forms of a glyph, from small to large.</summary>
    public (uint Glyph, double Advance)[] Variants(uint glyph, bool vertical) => _variants.GetOrAdd((glyph, vertical), k =>
    {
        var buffer = new Variant[32];
        uint count = (uint)buffer.Length;
        hb_ot_math_get_glyph_variants(file.Font.Handle, k.Item1, Direction(k.Item2), 0, ref count, buffer);
        return [.. buffer.Take((int)count).Select(v => (v.Glyph, v.Advance / (double)file.UnitsPerEm))];
    });

    /// <summary>The parts that a glyph of any length is put together from, from the foot (or left).</summary>
    public GlyphPart[] Assembly(uint glyph, bool vertical) => _assemblies.GetOrAdd((glyph, vertical), k =>
    {
        var buffer = new Part[32];
        uint count = (uint)buffer.Length;
        hb_ot_math_get_glyph_assembly(file.Font.Handle, k.Item1, Direction(k.Item2), 0, ref count, buffer, out _);
        double em = file.UnitsPerEm;
        return [.. buffer.Take((int)count).Select(p => new GlyphPart(
            p.Glyph, p.StartConnector / em, p.EndConnector / em, p.FullAdvance / em, (p.Flags & 1) != 0))];
    });

    /// <summary>Least overlap of two parts.</summary>
    public double MinConnectorOverlap => hb_ot_math_get_min_connector_overlap(file.Font.Handle, Direction(true)) / (double)file.UnitsPerEm;

    // hb_direction_t: 4 left to right, 7 bottom to top.
    private static int Direction(bool vertical) => vertical ? 7 : 4;

    [StructLayout(LayoutKind.Sequential)]
    private struct Variant
    {
        public uint Glyph;
        public int Advance;
    }

    [StructLayout(LayoutKind.Sequential)]
    private struct Part
    {
        public uint Glyph;
        public int StartConnector;
        public int EndConnector;
        public int FullAdvance;
        public int Flags;
    }

    [LibraryImport("libHarfBuzzSharp")]
    private static partial int hb_ot_math_get_constant(IntPtr font, int constant);

    [LibraryImport("libHarfBuzzSharp")]
    private static partial int hb_ot_math_get_glyph_kerning(IntPtr font, uint glyph, int corner, int height);

    [LibraryImport("libHarfBuzzSharp")]
    private static partial int hb_ot_math_get_glyph_italics_correction(IntPtr font, uint glyph);

    [LibraryImport("libHarfBuzzSharp")]
    private static partial int hb_ot_math_get_glyph_top_accent_attachment(IntPtr font, uint glyph);

    [LibraryImport("libHarfBuzzSharp")]
    private static partial int hb_ot_math_get_min_connector_overlap(IntPtr font, int direction);

    [LibraryImport("libHarfBuzzSharp")]
    private static partial uint hb_ot_math_get_glyph_variants(
        IntPtr font, uint glyph, int direction, uint start, ref uint count, [In, Out] Variant[] variants);

    [LibraryImport("libHarfBuzzSharp")]
    private static partial uint hb_ot_math_get_glyph_assembly(
        IntPtr font, uint glyph, int direction, uint start, ref uint count, [In, Out] Part[] parts, out int italicCorrection);
}
