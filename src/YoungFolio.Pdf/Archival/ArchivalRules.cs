using System.Runtime.CompilerServices;
using System.Text.RegularExpressions;
using YoungFolio.Typesetting.Images;
using YoungFolio.Typesetting.Pages;

namespace YoungFolio.Pdf;

/// <summary>What keeps a PDF from being archival (ISO 19005-2). Its own text and lines never do; what pictures bring may.</summary>
public static partial class ArchivalRules
{
    // Clause 6.1.13: content streams save the state of graphics at most so deep.
    private const int DeepestGroup = 26;

    private static readonly ConditionalWeakTable<Picture, string> s_looked = [];

    /// <summary>What in a picture an archival file may not have, as the end of a sentence; null: nothing.</summary>
    public static string? ObstacleOf(Picture picture)
    {
        ArgumentNullException.ThrowIfNull(picture);
        // Looked at once: its streams may have to be unpacked for that.
        return s_looked.GetValue(picture, static p => Look(p) ?? "") is { Length: > 0 } obstacle ? obstacle : null;
    }

    /// <summary>What in a picture an accessible file may not have, as the end of a sentence; null: nothing.</summary>
    public static string? AccessObstacleOf(Picture picture)
    {
        ArgumentNullException.ThrowIfNull(picture);
        // Clause 7.21.4.1 of ISO 14289-1: the programs of all fonts are within.
        return picture.Figure?.Objects.Any(LacksFont) == true ? LackingFont : null;
    }

    private const string LackingFont = "it uses a font that it doesn’t bring along";

    private static bool LacksFont(PdfFigureObject one) =>
        (IsFont().IsMatch(one.Text) && IsSimple().IsMatch(one.Text) && !one.Text.Contains("/FontDescriptor", StringComparison.Ordinal)) || (one.Text.Contains("/Type /FontDescriptor", StringComparison.Ordinal) && !one.Text.Contains("/FontFile", StringComparison.Ordinal));

    private static string? Look(Picture picture)
    {
        if (picture is { Format: PictureFormat.Jpeg, Components: 4 })
        {
            return "its colours are those of printing inks (CMYK); archival pages here are in sRGB";
        }

        if (picture.Figure is not { } figure)
        {
            return null;
        }

        foreach (PdfFigureObject one in figure.Objects)
        {
            // Clause 6.2.11.4: the programs of all fonts are within.
            if (LacksFont(one))
            {
                return LackingFont;
            }

            // Clause 6.2.4.3: colours of devices go with the profile of the file, which is sRGB.
            if (one.Text.Contains("/DeviceCMYK", StringComparison.Ordinal) || IsInk(one))
            {
                return "its colours are those of printing inks (CMYK); archival pages here are in sRGB";
            }

            // Clauses 6.2.8 and 6.2.9.
            if (Foreign().IsMatch(one.Text))
            {
                return "it refers to something that isn’t within it";
            }
        }

        return null;
    }

    /// <summary>Whether all text of a picture can be read as text: each of its fonts says what its characters are (clause 6.2.11.7.2).</summary>
    internal static bool HasReadableText(Picture picture) => picture.Figure is not { } figure || figure.Objects.All(static o => !IsFont().IsMatch(o.Text) || o.Text.Contains("/ToUnicode", StringComparison.Ordinal) || IsDescendant().IsMatch(o.Text));

    /// <summary>Whether pages hold something that an archival file may not have.</summary>
    internal static bool AreBroken(IReadOnlyList<Page> pages) => pages.Any(p => IsBroken(p.Marks, 0));

    /// <summary>Whether pages hold something that an accessible file may not have, whatever is told of it: a sign that isn't there (ISO 14289-1, 7.21.8), a font that isn't within.</summary>
    internal static bool AreUnreadable(IReadOnlyList<Page> pages) => pages.Any(p => IsUnreadable(p.Marks));

    private static bool IsUnreadable(IReadOnlyList<Placed> marks) => marks.Any(m => m.Mark switch
    {
        GroupMark group => IsUnreadable(group.Content),
        ImageMark image => AccessObstacleOf(image.Picture) is not null,
        GlyphMark glyphs => glyphs.Glyphs.Contains(0u),
        _ => false,
    });

    private static bool IsBroken(IReadOnlyList<Placed> marks, int depth) => depth > DeepestGroup || marks.Any(m => m.Mark switch
    {
        GroupMark group => IsBroken(group.Content, depth + 1),
        ImageMark image => ObstacleOf(image.Picture) is not null,
        // Clause 6.2.11.8: the sign for a character that isn't there may not be printed.
        GlyphMark glyphs => glyphs.Glyphs.Contains(0u),
        _ => false,
    });

    // Colours of inks are named by operators as well; only streams that aren't packed show them, and forms are unpacked when they are read.
    private static bool IsInk(PdfFigureObject one) => one.Stream is { } stream && one.Text.Contains("/Subtype /Form", StringComparison.Ordinal)
        && InkOperator().IsMatch(System.Text.Encoding.Latin1.GetString(PdfStreams.Plain(one.Text, stream)));

    [GeneratedRegex(@"/Subtype /(?:Type1|TrueType|MMType1)\b")]
    private static partial Regex IsSimple();

    [GeneratedRegex(@"/Type /Font(?![A-Za-z])")]
    private static partial Regex IsFont();

    [GeneratedRegex("/Subtype /CIDFontType[02]")]
    private static partial Regex IsDescendant();

    [GeneratedRegex("/OPI |/Alternates |/Subtype2 /PS|/TR |/Subtype /PS")]
    private static partial Regex Foreign();

    [GeneratedRegex(@"(?:^|\s)(?:-?[\d.]+\s+){4}[kK](?=\s|$)")]
    private static partial Regex InkOperator();
}
