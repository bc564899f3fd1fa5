using System.Buffers.Binary;
using System.IO.Compression;
using System.IO.Hashing;
using YoungFolio.Compiler;

namespace YoungFolio.Core.Tests;

/// <summary>PNG in all its forms (PNG specification, second edition, table 11.1), as poppler paints them.</summary>
public class PngTests
{
    private const int Side = 13;

    // Red left of the middle, half see-through blue right of it, so that a form with opacity shows the paper's white through.
    [Theory]
    [InlineData(0, 1)]
    [InlineData(0, 2)]
    [InlineData(0, 4)]
    [InlineData(0, 8)]
    [InlineData(0, 16)]
    [InlineData(2, 8)]
    [InlineData(2, 16)]
    [InlineData(3, 1)]
    [InlineData(3, 4)]
    [InlineData(3, 8)]
    [InlineData(4, 8)]
    [InlineData(4, 16)]
    [InlineData(6, 8)]
    [InlineData(6, 16)]
    public void Every_form_shows_its_colours_plain_and_interlaced(int type, int bits)
    {
        foreach (bool interlaced in (bool[])[false, true])
        {
            CompileResult result = Page(Encode(type, bits, interlaced));
            Assert.Empty(result.Report.Findings);
            (int left, int right) = type switch { 2 or 3 or 6 => (0xFF0000, type == 2 ? 0x0000FF : 0x7F7FFF), 4 => (0x000000, 0xFFFFFF), _ => (0x000000, 0xFFFFFF) };
            AssertNear(left, Pixel(result, 0.2, 0.5), $"left, interlaced {interlaced}");
            AssertNear(left, Pixel(result, 0.2, 0.95), $"foot, interlaced {interlaced}");
            AssertNear(right, Pixel(result, 0.8, 0.1), $"right, interlaced {interlaced}");
        }
    }

    [Fact]
    public void One_colour_can_be_left_out_of_a_picture_without_opacity()
    {
        CompileResult result = Page(Encode(2, 8, false, [0, 255, 0, 0, 0, 0]));
        AssertNear(0xFFFFFF, Pixel(result, 0.2, 0.5), "the hidden red");
        AssertNear(0x0000FF, Pixel(result, 0.8, 0.5), "the blue");
    }

    internal static void AssertNear(int expected, int actual, string what)
    {
        for (int shift = 0; shift <= 16; shift += 8)
        {
            Assert.True(Math.Abs((expected >> shift & 255) - (actual >> shift & 255)) <= 6, $"{what}: expected {expected:X6}, painted {actual:X6}");
        }
    }

    // The picture fills the page.
    private static CompileResult Page(byte[] png) => Compiled.Bytes(
        ("main.tex", "\\documentclass{article}\\usepackage[paperwidth=100bp,paperheight=100bp,margin=0bp]{geometry}\\usepackage{graphicx}\\pagestyle{empty}\\begin{document}\\noindent\\includegraphics[width=100bp,height=99bp]{p}\\end{document}"u8.ToArray()),
        ("p.png", png));

    internal static int Pixel(CompileResult result, double x, double y)
    {
        string text = System.Text.Encoding.Latin1.GetString(Compiled.Output("pdftoppm", result.Pdf, "-r", "72", "FILE"));
        // P6, width, height, 255, then three bytes a pixel.
        string[] head = text[..40].Split('\n', 4);
        int[] size = [.. head[1].Split(' ').Select(n => int.Parse(n, System.Globalization.CultureInfo.InvariantCulture))];
        int at = head[0].Length + head[1].Length + head[2].Length + 3 + (3 * (((int)(y * size[1]) * size[0]) + (int)(x * size[0])));
        return (text[at] << 16) | (text[at + 1] << 8) | text[at + 2];
    }

    /// <summary>A picture one pixel wide.</summary>
    internal static byte[] Column(params int[] colours) => File(1, colours.Length, 2, 8, false, [], zip =>
    {
        foreach (int colour in colours)
        {
            zip.Write([0, (byte)(colour >> 16), (byte)(colour >> 8), (byte)colour]);
        }
    });

    private static byte[] Encode(int type, int bits, bool interlaced, byte[]? hidden = null) =>
        File(Side, Side, type, bits, interlaced, hidden ?? [], zip =>
        {
            (int, int, int, int)[] passes = interlaced
                ? [(0, 0, 8, 8), (4, 0, 8, 8), (0, 4, 4, 8), (2, 0, 4, 4), (0, 2, 2, 4), (1, 0, 2, 2), (0, 1, 1, 2)]
                : [(0, 0, 1, 1)];
            foreach ((int firstX, int firstY, int stepX, int stepY) in passes)
            {
                for (int y = firstY; y < Side && firstX < Side; y += stepY)
                {
                    zip.WriteByte(0);
                    zip.Write(Row(type, bits, firstX, stepX));
                }
            }
        });

    private static byte[] File(int width, int height, int type, int bits, bool interlaced, byte[] hidden, Action<ZLibStream> write)
    {
        var file = new MemoryStream();
        file.Write([0x89, 0x50, 0x4E, 0x47, 0x0D, 0x0A, 0x1A, 0x0A]);
        byte[] head = new byte[13];
        BinaryPrimitives.WriteInt32BigEndian(head, width);
        BinaryPrimitives.WriteInt32BigEndian(head.AsSpan(4), height);
        (head[8], head[9], head[12]) = ((byte)bits, (byte)type, (byte)(interlaced ? 1 : 0));
        Chunk("IHDR", head);
        if (type == 3)
        {
            Chunk("PLTE", [255, 0, 0, 0, 0, 255]);
            Chunk("tRNS", [255, 128]);
        }
        else if (hidden.Length > 0)
        {
            Chunk("tRNS", hidden);
        }

        var data = new MemoryStream();
        using (var zip = new ZLibStream(data, CompressionLevel.Fastest, true))
        {
            write(zip);
        }

        Chunk("IDAT", data.ToArray());
        Chunk("IEND", []);
        return file.ToArray();

        void Chunk(string name, byte[] content)
        {
            byte[] body = [.. System.Text.Encoding.ASCII.GetBytes(name), .. content];
            byte[] number = new byte[4];
            BinaryPrimitives.WriteInt32BigEndian(number, content.Length);
            file.Write(number);
            file.Write(body);
            BinaryPrimitives.WriteUInt32BigEndian(number, Crc32.HashToUInt32(body));
            file.Write(number);
        }
    }

    private static byte[] Row(int type, int bits, int first, int step)
    {
        List<int> samples = [];
        int most = (1 << bits) - 1;
        for (int x = first; x < Side; x += step)
        {
            bool isLeft = x < Side / 2;
            samples.AddRange(type switch
            {
                0 => [isLeft ? 0 : most],
                2 => isLeft ? [most, 0, 0] : [0, 0, most],
                3 => [isLeft ? 0 : 1],
                4 => isLeft ? [0, most] : [0, 0],
                _ => isLeft ? [most, 0, 0, most] : [0, 0, most, most / 2],
            });
        }

        byte[] row = new byte[((samples.Count * bits) + 7) / 8];
        for (int i = 0; i < samples.Count; i++)
        {
            if (bits == 16)
            {
                BinaryPrimitives.WriteUInt16BigEndian(row.AsSpan(i * 2), (ushort)samples[i]);
            }
            else
            {
                row[i * bits / 8] |= (byte)(samples[i] << (8 - bits - (i * bits % 8)));
            }
        }

        return row;
    }
}
