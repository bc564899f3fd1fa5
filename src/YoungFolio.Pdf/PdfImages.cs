using System.Buffers.Binary;
using System.Globalization;
using System.IO.Compression;
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

    private static int? AddPng(PdfObjects objects, Picture picture, string head)
    {
        ReadOnlySpan<byte> bytes = picture.Part.Bytes.Span;
        int bits = bytes[24];
        int type = bytes[25];
        bool interlaced = bytes[28] != 0;
        byte[] palette = [];
        var data = new MemoryStream();
        for (int at = 8; at + 12 <= bytes.Length;)
        {
            int length = BinaryPrimitives.ReadInt32BigEndian(bytes[at..]);
            ReadOnlySpan<byte> name = bytes.Slice(at + 4, 4);
            if (name.SequenceEqual("PLTE"u8))
            {
                palette = bytes.Slice(at + 8, length).ToArray();
            }
            else if (name.SequenceEqual("IDAT"u8))
            {
                data.Write(bytes.Slice(at + 8, length));
            }

            at += 12 + length;
        }

        if (interlaced)
        {
            return null;
        }

        int channels = type switch { 0 or 3 => 1, 2 => 3, 4 => 2, _ => 4 };
        if (type is 0 or 2 or 3)
        {
            string space = type switch
            {
                0 => "/DeviceGray",
                2 => "/DeviceRGB",
                _ => $"[/Indexed /DeviceRGB {(palette.Length / 3) - 1} <{Convert.ToHexString(palette)}>]",
            };
            return objects.AddStream(
                $"{head} /ColorSpace {space} /BitsPerComponent {bits} /Filter /FlateDecode "
                + $"/DecodeParms <</Predictor 15 /Colors {channels} /BitsPerComponent {bits} /Columns {picture.PixelWidth}>>", data.ToArray());
        }

        // Colour and opacity are kept in two streams.
        byte[] pixels = Decode(data.ToArray(), picture.PixelWidth, picture.PixelHeight, channels * bits / 8);
        int sample = bits / 8;
        int colours = channels - 1;
        byte[] colour = new byte[pixels.Length / channels * colours];
        byte[] opacity = new byte[pixels.Length / channels];
        for (int p = 0, c = 0, o = 0; p < pixels.Length; p += channels * sample)
        {
            pixels.AsSpan(p, colours * sample).CopyTo(colour.AsSpan(c));
            pixels.AsSpan(p + (colours * sample), sample).CopyTo(opacity.AsSpan(o));
            c += colours * sample;
            o += sample;
        }

        int mask = objects.AddStream($"{head} /ColorSpace /DeviceGray /BitsPerComponent {bits} /Filter /FlateDecode", PdfObjects.Deflate(opacity));
        return objects.AddStream(
            $"{head} /ColorSpace {(colours == 1 ? "/DeviceGray" : "/DeviceRGB")} /BitsPerComponent {bits} /SMask {mask} 0 R /Filter /FlateDecode",
            PdfObjects.Deflate(colour));
    }

    // Undoes the five filters of PNG.
    private static byte[] Decode(byte[] compressed, int width, int height, int pixelBytes)
    {
        int stride = width * pixelBytes;
        byte[] result = new byte[checked(stride * height)];
        using var zip = new ZLibStream(new MemoryStream(compressed), CompressionMode.Decompress);
        byte[] row = new byte[stride];
        for (int y = 0; y < height; y++)
        {
            int filter = zip.ReadByte();
            zip.ReadExactly(row);
            Span<byte> line = result.AsSpan(y * stride, stride);
            ReadOnlySpan<byte> above = y > 0 ? result.AsSpan((y - 1) * stride, stride) : new byte[stride];
            for (int x = 0; x < stride; x++)
            {
                int left = x >= pixelBytes ? line[x - pixelBytes] : 0;
                int up = above[x];
                int corner = x >= pixelBytes ? above[x - pixelBytes] : 0;
                line[x] = (byte)(row[x] + filter switch { 1 => left, 2 => up, 3 => (left + up) / 2, 4 => Paeth(left, up, corner), _ => 0 });
            }
        }

        return result;
    }

    private static int Paeth(int left, int up, int corner)
    {
        int p = left + up - corner;
        int a = Math.Abs(p - left);
        int b = Math.Abs(p - up);
        int c = Math.Abs(p - corner);
        return a <= b && a <= c ? left : b <= c ? up : corner;
    }
}
