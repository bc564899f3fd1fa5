using System.Buffers.Binary;
using System.Globalization;
using System.IO.Compression;
using System.Text.RegularExpressions;
using YoungFolio.Typesetting.Images;

namespace YoungFolio.Pdf;

/// <summary>Puts pictures into the file at full quality (ISO 32000-1, 8.9.5; PNG specification, second edition).</summary>
internal static partial class PdfImages
{
    /// <summary>Pixels of a picture that have to be unpacked and packed anew; 0 when its data are taken over as they are.</summary>
    public static long Unpacked(Picture picture) => picture is { Format: PictureFormat.Png, IsUnpacked: true } ? (long)picture.PixelWidth * picture.PixelHeight : 0;

    /// <summary>Whether the data of a picture can be read to their end.</summary>
    public static bool IsWhole(Picture picture)
    {
        if (picture.Format != PictureFormat.Png)
        {
            return true;
        }

        try
        {
            PngPixels png = PngPixels.Read(picture.File.Bytes.Span);
            if (picture.IsUnpacked)
            {
                png.ReadRows(static _ => { });
            }

            return true;
        }
        catch (Exception e) when (e is InvalidDataException or IndexOutOfRangeException or ArgumentOutOfRangeException or EndOfStreamException)
        {
            return false;
        }
    }

    /// <summary>Adds a picture whose data are whole; returns its object's number.</summary>
    public static int Add(PdfObjects objects, Picture picture)
    {
        if (picture.Figure is { } figure)
        {
            return AddFigure(objects, figure);
        }

        string head = $"/Type /XObject /Subtype /Image /Width {picture.PixelWidth} /Height {picture.PixelHeight}";
        if (picture.Format == PictureFormat.Jpeg)
        {
            string space = picture.Components switch { 1 => "/DeviceGray", 4 => "/DeviceCMYK /Decode [1 0 1 0 1 0 1 0]", _ => "/DeviceRGB" };
            return objects.AddStream($"{head} /ColorSpace {space} /BitsPerComponent 8 /Filter /DCTDecode", picture.File.Bytes.ToArray());
        }

        return AddPng(objects, picture, head);
    }

    // The objects of a foreign page keep their references, under the numbers of this file.
    private static int AddFigure(PdfObjects objects, PdfFigure figure)
    {
        int[] numbers = [.. figure.Objects.Select(_ => objects.Reserve())];
        for (int i = 0; i < numbers.Length; i++)
        {
            string text = Reference().Replace(figure.Objects[i].Text, m => $"{numbers[int.Parse(m.Groups[1].ValueSpan, CultureInfo.InvariantCulture)]} 0 R");
            if (figure.Objects[i].Stream is { } stream)
            {
                bool isPlain = !text.Contains("/Filter", StringComparison.Ordinal);
                objects.SetStream(numbers[i], isPlain ? text + " /Filter /FlateDecode" : text, isPlain ? PdfObjects.Deflate(stream) : stream);
            }
            else
            {
                objects.Set(numbers[i], text);
            }
        }

        return numbers[0];
    }

    [GeneratedRegex("\uE000(\\d+)\uE001")]
    private static partial Regex Reference();

    private static int AddPng(PdfObjects objects, Picture picture, string head)
    {
        PngPixels png = PngPixels.Read(picture.File.Bytes.Span);
        int bits = png.Bits;
        if (png.ColourType is 4 or 6)
        {
            return AddWithOpacity(objects, png, head);
        }

        string space = png.ColourType switch
        {
            0 => "/DeviceGray",
            2 => "/DeviceRGB",
            _ => $"[/Indexed /DeviceRGB {(png.Palette.Length / 3) - 1} <{Convert.ToHexString(png.Palette)}>]",
        };
        string mask = "";
        if (png.ColourType == 3 && png.Transparency.Length > 0)
        {
            byte[] samples = new byte[png.Width];
            byte[] opacity = Packed(png, (row, packed, _) =>
            {
                png.Samples(row, samples);
                for (int x = 0; x < samples.Length; x++)
                {
                    samples[x] = samples[x] < png.Transparency.Length ? png.Transparency[samples[x]] : (byte)255;
                }

                packed.Write(samples);
            }).First;
            mask = $" /SMask {objects.AddStream($"{head} /ColorSpace /DeviceGray /BitsPerComponent 8 /Filter /FlateDecode", opacity)} 0 R";
        }
        else if (png.Transparency.Length >= png.Channels * 2)
        {
            // One colour isn't shown: two bytes a sample.
            IEnumerable<int> hidden = Enumerable.Range(0, png.Channels).Select(c => BinaryPrimitives.ReadUInt16BigEndian(png.Transparency.AsSpan(c * 2)) & ((1 << bits) - 1));
            mask = $" /Mask [{string.Join(' ', hidden.Select(v => $"{v} {v}"))}]";
        }

        string form = $"{head} /ColorSpace {space} /BitsPerComponent {bits}{mask} /Filter /FlateDecode";
        return png.IsInterlaced
            ? objects.AddStream(form, Packed(png, static (row, packed, _) => packed.Write(row)).First)
            : objects.AddStream($"{form} /DecodeParms <</Predictor 15 /Colors {png.Channels} /BitsPerComponent {bits} /Columns {png.Width}>>", png.Data);
    }

    // Colour and opacity are kept in two streams.
    private static int AddWithOpacity(PdfObjects objects, PngPixels png, string head)
    {
        int sample = png.Bits / 8;
        int colours = (png.Channels - 1) * sample;
        byte[] colour = new byte[png.Width * colours];
        byte[] opacity = new byte[png.Width * sample];
        (byte[] first, byte[] second) = Packed(png, (row, colourStream, opacityStream) =>
        {
            for (int x = 0, at = 0; x < png.Width; x++, at += colours + sample)
            {
                row.Slice(at, colours).CopyTo(colour.AsSpan(x * colours));
                row.Slice(at + colours, sample).CopyTo(opacity.AsSpan(x * sample));
            }

            colourStream.Write(colour);
            opacityStream.Write(opacity);
        });
        int mask = objects.AddStream($"{head} /ColorSpace /DeviceGray /BitsPerComponent {png.Bits} /Filter /FlateDecode", second);
        return objects.AddStream($"{head} /ColorSpace {(png.Channels == 2 ? "/DeviceGray" : "/DeviceRGB")} /BitsPerComponent {png.Bits} /SMask {mask} 0 R /Filter /FlateDecode", first);
    }

    // Row by row out of one packed form and into another: a large picture never stands in memory.
    private static (byte[] First, byte[] Second) Packed(PngPixels png, RowWriter write)
    {
        using var first = new MemoryStream();
        using var second = new MemoryStream();
        using (var firstZip = new ZLibStream(first, CompressionLevel.Optimal, leaveOpen: true))
        using (var secondZip = new ZLibStream(second, CompressionLevel.Optimal, leaveOpen: true))
        {
            png.ReadRows(row => write(row, firstZip, secondZip));
        }

        return (first.ToArray(), second.ToArray());
    }

    private delegate void RowWriter(ReadOnlySpan<byte> row, Stream first, Stream second);
}
