using System.Buffers.Binary;
using System.Globalization;
using System.IO.Hashing;
using YoungFolio.Markup;

namespace YoungFolio.Typesetting.Images;

/// <summary>Formats of pictures.</summary>
public enum PictureFormat
{
    /// <summary>PNG.</summary>
    Png,

    /// <summary>JPEG.</summary>
    Jpeg,

    /// <summary>A page of a PDF, placed as vectors.</summary>
    Pdf,
}

/// <summary>A picture's measures, read from its head.</summary>
public sealed class Picture
{
    private const int LargestSide = 65_500;

    // A page of A4 at 1200 dots to the inch has 140 million. A picture that has to be unpacked and packed anew may have fewer.
    private const long MostPixels = 160_000_000;
    private const long MostUnpacked = 60_000_000;

    private string? _digest;

    private Picture(ManuscriptFile file, PictureFormat format, int width, int height, double horizontal, double vertical, int components)
    {
        File = file;
        Format = format;
        PixelWidth = width;
        PixelHeight = height;
        Width = width / horizontal * Units.Inch;
        Height = height / vertical * Units.Inch;
        Components = components;
    }

    private Picture(ManuscriptFile file, PdfFigure figure, int page)
    {
        File = file;
        Format = PictureFormat.Pdf;
        Width = figure.Width;
        Height = figure.Height;
        Figure = figure;
        Page = page;
    }

    /// <summary>The file that holds it.</summary>
    public ManuscriptFile File { get; }

    /// <summary>A digest of its content, in hexadecimal digits, with the page of a PDF.</summary>
    public string Digest => _digest ??= XxHash128.HashToUInt128(File.Bytes.Span).ToString("x32", CultureInfo.InvariantCulture) + (Page > 0 ? FormattableString.Invariant($"-{Page}") : "");

    /// <summary>The page of a PDF, or null.</summary>
    public PdfFigure? Figure { get; }

    /// <summary>Which page of a PDF it is, from 1; 0 for other formats.</summary>
    public int Page { get; }

    /// <summary>The format.</summary>
    public PictureFormat Format { get; }

    /// <summary>Width in pixels.</summary>
    public int PixelWidth { get; }

    /// <summary>Height in pixels.</summary>
    public int PixelHeight { get; }

    /// <summary>Natural width in points of 1/72.27 in, by the resolution it states (72 to the inch when it states none).</summary>
    public double Width { get; }

    /// <summary>Natural height.</summary>
    public double Height { get; }

    /// <summary>Whether a PNG's pixels have to be unpacked for a PDF: its opacity stands between its colours, or its rows are woven.</summary>
    public bool IsUnpacked { get; private init; }

    /// <summary>Colour components of a JPEG: 1, 3 or 4.</summary>
    public int Components { get; }

    /// <summary>Reads a picture's head.</summary>
    /// <param name="file">The file.</param>
    /// <param name="page">Page of a PDF, from 1.</param>
    /// <returns>The picture, or null and a reason in plain words.</returns>
    public static (Picture? Picture, string? Reason) Read(ManuscriptFile file, int page = 1)
    {
        ReadOnlySpan<byte> bytes = file.Bytes.Span;
        try
        {
            if (bytes.StartsWith((ReadOnlySpan<byte>)[0x89, 0x50, 0x4E, 0x47, 0x0D, 0x0A, 0x1A, 0x0A]))
            {
                return ReadPng(file, bytes);
            }

            if (bytes.StartsWith("%PDF-"u8))
            {
                (PdfFigure? figure, string? reason) = PdfFigure.Read(file.Bytes.ToArray(), page);
                return (figure is null ? null : new Picture(file, figure, page), reason);
            }

            return bytes.StartsWith((ReadOnlySpan<byte>)[0xFF, 0xD8]) ? ReadJpeg(file, bytes) : (null, "it is neither PNG, JPEG nor PDF");
        }
        catch (Exception e) when (e is ArgumentOutOfRangeException or IndexOutOfRangeException)
        {
            return (null, "it is cut off");
        }
    }

    private static (Picture?, string?) ReadPng(ManuscriptFile file, ReadOnlySpan<byte> bytes)
    {
        int width = BinaryPrimitives.ReadInt32BigEndian(bytes[16..]);
        int height = BinaryPrimitives.ReadInt32BigEndian(bytes[20..]);
        if (width is <= 0 or > LargestSide || height is <= 0 or > LargestSide)
        {
            return (null, $"it claims {width} by {height} pixels");
        }

        if (bytes[24] is not (1 or 2 or 4 or 8 or 16) || bytes[25] is not (0 or 2 or 3 or 4 or 6))
        {
            return (null, "its head is damaged");
        }

        bool isUnpacked = bytes[25] is 4 or 6 || bytes[28] != 0;
        if (TooLarge(width, height, isUnpacked) is { } reason)
        {
            return (null, reason);
        }

        double horizontal = 72;
        double vertical = 72;
        for (int at = 8; at + 12 <= bytes.Length;)
        {
            int length = BinaryPrimitives.ReadInt32BigEndian(bytes[at..]);
            if (length < 0)
            {
                return (null, "its parts are damaged");
            }

            ReadOnlySpan<byte> type = bytes.Slice(at + 4, 4);
            if (type.SequenceEqual("pHYs"u8) && bytes[at + 16] == 1)
            {
                horizontal = Math.Max(1, BinaryPrimitives.ReadInt32BigEndian(bytes[(at + 8)..]) * 0.0254);
                vertical = Math.Max(1, BinaryPrimitives.ReadInt32BigEndian(bytes[(at + 12)..]) * 0.0254);
            }

            if (type.SequenceEqual("tRNS"u8) && bytes[25] == 3)
            {
                isUnpacked = true;
                if (TooLarge(width, height, isUnpacked) is { } tooLarge)
                {
                    return (null, tooLarge);
                }
            }

            if (type.SequenceEqual("IDAT"u8))
            {
                return (new Picture(file, PictureFormat.Png, width, height, horizontal, vertical, 3) { IsUnpacked = isUnpacked }, null);
            }

            at += 12 + length;
        }

        return (null, "it has no picture data");
    }

    private static string? TooLarge(int width, int height, bool isUnpacked)
    {
        long most = isUnpacked ? MostUnpacked : MostPixels;
        return (long)width * height > most
            ? FormattableString.Invariant($"it has {(long)width * height / 1_000_000} million pixels, and {most / 1_000_000} million are the most{(isUnpacked ? " of its kind" : "")}; make it smaller")
            : null;
    }

    private static (Picture?, string?) ReadJpeg(ManuscriptFile file, ReadOnlySpan<byte> bytes)
    {
        double horizontal = 72;
        double vertical = 72;
        int at = 2;
        while (at + 4 <= bytes.Length)
        {
            if (bytes[at] != 0xFF)
            {
                return (null, "its parts are damaged");
            }

            byte marker = bytes[at + 1];
            if (marker == 0xFF)
            {
                at++;
                continue;
            }

            int length = BinaryPrimitives.ReadUInt16BigEndian(bytes[(at + 2)..]);
            ReadOnlySpan<byte> body = bytes[(at + 4)..];
            if (marker == 0xE0 && body.StartsWith("JFIF"u8) && body[7] is 1 or 2)
            {
                double unit = body[7] == 2 ? 2.54 : 1;
                horizontal = Math.Max(1, BinaryPrimitives.ReadUInt16BigEndian(body[8..]) * unit);
                vertical = Math.Max(1, BinaryPrimitives.ReadUInt16BigEndian(body[10..]) * unit);
            }

            // A frame's head: C0 to CF, but for tables and extensions (ITU-T T.81, table B.1).
            if (marker is >= 0xC0 and <= 0xCF and not 0xC4 and not 0xC8 and not 0xCC)
            {
                int height = BinaryPrimitives.ReadUInt16BigEndian(body[1..]);
                int width = BinaryPrimitives.ReadUInt16BigEndian(body[3..]);
                return width == 0 || height == 0 ? (null, "it has no size")
                    : TooLarge(width, height, isUnpacked: false) is { } reason ? (null, reason)
                    : (new Picture(file, PictureFormat.Jpeg, width, height, horizontal, vertical, body[5]), null);
            }

            at += 2 + length;
        }

        return (null, "it is cut off");
    }
}
