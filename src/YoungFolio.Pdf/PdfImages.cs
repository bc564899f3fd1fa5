using System.Buffers.Binary;
using System.Globalization;
using System.Text.RegularExpressions;
using YoungFolio.Typesetting.Images;

namespace YoungFolio.Pdf;

/// <summary>Puts pictures into the file at full quality (ISO 32000-1, 8.9.5; PNG specification, second edition).</summary>
internal static partial class PdfImages
{
    /// <summary>Adds a picture; returns its object's number, or null when its data are damaged.</summary>
    public static int? Add(PdfObjects objects, Picture picture)
    {
        if (picture.Figure is { } figure)
        {
            return AddFigure(objects, figure);
        }

        string head = $"/Type /XObject /Subtype /Image /Width {picture.PixelWidth} /Height {picture.PixelHeight}";
        if (picture.Format == PictureFormat.Jpeg)
        {
            string space = picture.Components switch { 1 => "/DeviceGray", 4 => "/DeviceCMYK /Decode [1 0 1 0 1 0 1 0]", _ => "/DeviceRGB" };
            return objects.AddStream($"{head} /ColorSpace {space} /BitsPerComponent 8 /Filter /DCTDecode", picture.Part.Bytes.ToArray());
        }

        try
        {
            return AddPng(objects, picture, head);
        }
        catch (Exception e) when (e is InvalidDataException or IndexOutOfRangeException or ArgumentOutOfRangeException or EndOfStreamException)
        {
            return null;
        }
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
        PngPixels png = PngPixels.Read(picture.Part.Bytes.Span);
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
        byte[]? rows = png.IsInterlaced || (png.ColourType == 3 && png.Transparency.Length > 0) ? png.Decode() : null;
        string mask = "";
        if (png.ColourType == 3 && png.Transparency.Length > 0)
        {
            byte[] opacity = [.. png.Samples(rows!).Select(i => i < png.Transparency.Length ? png.Transparency[i] : (byte)255)];
            mask = $" /SMask {objects.AddStream($"{head} /ColorSpace /DeviceGray /BitsPerComponent 8 /Filter /FlateDecode", PdfObjects.Deflate(opacity))} 0 R";
        }
        else if (png.Transparency.Length >= png.Channels * 2)
        {
            // One colour isn't shown: two bytes a sample.
            IEnumerable<int> hidden = Enumerable.Range(0, png.Channels).Select(c => BinaryPrimitives.ReadUInt16BigEndian(png.Transparency.AsSpan(c * 2)) & ((1 << bits) - 1));
            mask = $" /Mask [{string.Join(' ', hidden.Select(v => $"{v} {v}"))}]";
        }

        string form = $"{head} /ColorSpace {space} /BitsPerComponent {bits}{mask} /Filter /FlateDecode";
        return png.IsInterlaced
            ? objects.AddStream(form, PdfObjects.Deflate(rows!))
            : objects.AddStream($"{form} /DecodeParms <</Predictor 15 /Colors {png.Channels} /BitsPerComponent {bits} /Columns {png.Width}>>", png.Data);
    }

    // Colour and opacity are kept in two streams.
    private static int AddWithOpacity(PdfObjects objects, PngPixels png, string head)
    {
        byte[] pixels = png.Decode();
        int sample = png.Bits / 8;
        int colours = png.Channels - 1;
        byte[] colour = new byte[pixels.Length / png.Channels * colours];
        byte[] opacity = new byte[pixels.Length / png.Channels];
        for (int p = 0, c = 0, o = 0; p < pixels.Length; p += png.Channels * sample)
        {
            pixels.AsSpan(p, colours * sample).CopyTo(colour.AsSpan(c));
            pixels.AsSpan(p + (colours * sample), sample).CopyTo(opacity.AsSpan(o));
            c += colours * sample;
            o += sample;
        }

        int mask = objects.AddStream($"{head} /ColorSpace /DeviceGray /BitsPerComponent {png.Bits} /Filter /FlateDecode", PdfObjects.Deflate(opacity));
        return objects.AddStream(
            $"{head} /ColorSpace {(colours == 1 ? "/DeviceGray" : "/DeviceRGB")} /BitsPerComponent {png.Bits} /SMask {mask} 0 R /Filter /FlateDecode",
            PdfObjects.Deflate(colour));
    }
}
