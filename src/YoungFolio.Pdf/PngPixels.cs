using System.Buffers.Binary;
using System.IO.Compression;

namespace YoungFolio.Pdf;

/// <summary>The chunks of a PNG that its pixels need, and the pixels themselves (PNG specification, second edition).</summary>
internal sealed class PngPixels
{
    // Adam7: first column and row, and the steps, of each of the seven passes (8.2 of the specification).
    private static readonly (int X, int Y, int StepX, int StepY)[] s_passes =
        [(0, 0, 8, 8), (4, 0, 8, 8), (0, 4, 4, 8), (2, 0, 4, 4), (0, 2, 2, 4), (1, 0, 2, 2), (0, 1, 1, 2)];

    private PngPixels(ReadOnlySpan<byte> bytes)
    {
        Width = BinaryPrimitives.ReadInt32BigEndian(bytes[16..]);
        Height = BinaryPrimitives.ReadInt32BigEndian(bytes[20..]);
        Bits = bytes[24];
        ColourType = bytes[25];
        IsInterlaced = bytes[28] != 0;
    }

    public int Width { get; }

    public int Height { get; }

    /// <summary>Bits a sample: 1, 2, 4, 8 or 16.</summary>
    public int Bits { get; }

    /// <summary>0 grey, 2 colour, 3 palette, 4 grey with opacity, 6 colour with opacity.</summary>
    public int ColourType { get; }

    public bool IsInterlaced { get; }

    /// <summary>Samples a pixel.</summary>
    public int Channels => ColourType switch { 0 or 3 => 1, 2 => 3, 4 => 2, _ => 4 };

    /// <summary>Colours of a palette, three bytes each.</summary>
    public byte[] Palette { get; private set; } = [];

    /// <summary>Opacity of a palette's colours, or the one colour that isn't shown; empty for none.</summary>
    public byte[] Transparency { get; private set; } = [];

    /// <summary>The compressed rows as stored.</summary>
    public byte[] Data { get; private set; } = [];

    /// <summary>Reads the chunks.</summary>
    /// <exception cref="ArgumentOutOfRangeException">When the file is cut off.</exception>
    public static PngPixels Read(ReadOnlySpan<byte> bytes)
    {
        var png = new PngPixels(bytes);
        var data = new MemoryStream();
        for (int at = 8; at + 12 <= bytes.Length;)
        {
            int length = BinaryPrimitives.ReadInt32BigEndian(bytes[at..]);
            ReadOnlySpan<byte> name = bytes.Slice(at + 4, 4);
            ReadOnlySpan<byte> content = bytes.Slice(at + 8, length);
            if (name.SequenceEqual("PLTE"u8))
            {
                png.Palette = content.ToArray();
            }
            else if (name.SequenceEqual("tRNS"u8))
            {
                png.Transparency = content.ToArray();
            }
            else if (name.SequenceEqual("IDAT"u8))
            {
                data.Write(content);
            }

            at += 12 + length;
        }

        png.Data = data.ToArray();
        return png;
    }

    /// <summary>Gives the rows without filters, in their order, each beginning with a new byte. Of a picture that isn't woven one row at a time is in memory.</summary>
    /// <param name="take">Takes a row; it holds until the next one.</param>
    /// <exception cref="EndOfStreamException">When rows are missing.</exception>
    /// <exception cref="InvalidDataException">When they are damaged.</exception>
    public void ReadRows(Action<ReadOnlySpan<byte>> take)
    {
        int stride = Stride(Width);
        if (IsInterlaced)
        {
            byte[] all = Weave();
            for (int y = 0; y < Height; y++)
            {
                take(all.AsSpan(y * stride, stride));
            }

            return;
        }

        using var zip = new ZLibStream(new MemoryStream(Data), CompressionMode.Decompress);
        byte[] above = new byte[stride];
        byte[] row = new byte[stride];
        for (int y = 0; y < Height; y++)
        {
            Unfilter(zip, row, above);
            take(row);
            (row, above) = (above, row);
        }
    }

    private byte[] Weave()
    {
        using var zip = new ZLibStream(new MemoryStream(Data), CompressionMode.Decompress);
        int pixelBits = Channels * Bits;
        int stride = Stride(Width);
        byte[] result = new byte[checked(stride * Height)];
        foreach ((int firstX, int firstY, int stepX, int stepY) in s_passes)
        {
            int wide = (Width - firstX + stepX - 1) / stepX;
            int high = (Height - firstY + stepY - 1) / stepY;
            if (wide <= 0 || high <= 0)
            {
                continue;
            }

            byte[] pass = Rows(zip, wide, high);
            int passStride = Stride(wide);
            for (int y = 0; y < high; y++)
            {
                Span<byte> target = result.AsSpan((firstY + (y * stepY)) * stride, stride);
                ReadOnlySpan<byte> source = pass.AsSpan(y * passStride, passStride);
                for (int x = 0; x < wide; x++)
                {
                    Copy(source, x, target, firstX + (x * stepX), pixelBits);
                }
            }
        }

        return result;
    }

    /// <summary>Samples of a row of a picture of one channel, a byte each.</summary>
    public void Samples(ReadOnlySpan<byte> row, Span<byte> samples)
    {
        for (int x = 0; x < Width; x++)
        {
            int bit = x * Bits;
            samples[x] = Bits >= 8 ? row[x * Bits / 8] : (byte)(row[bit / 8] >> (8 - Bits - (bit % 8)) & ((1 << Bits) - 1));
        }
    }

    private int Stride(int width) => checked((width * Channels * Bits) + 7) / 8;

    private static void Copy(ReadOnlySpan<byte> source, int from, Span<byte> target, int to, int bits)
    {
        if (bits >= 8)
        {
            source.Slice(from * bits / 8, bits / 8).CopyTo(target[(to * bits / 8)..]);
            return;
        }

        int value = source[from * bits / 8] >> (8 - bits - (from * bits % 8)) & ((1 << bits) - 1);
        target[to * bits / 8] |= (byte)(value << (8 - bits - (to * bits % 8)));
    }

    private byte[] Rows(ZLibStream zip, int width, int height)
    {
        int stride = Stride(width);
        byte[] result = new byte[checked(stride * height)];
        byte[] row = new byte[stride];
        byte[] above = new byte[stride];
        for (int y = 0; y < height; y++)
        {
            Unfilter(zip, row, above);
            row.CopyTo(result, y * stride);
            (row, above) = (above, row);
        }

        return result;
    }

    // Undoes the five filters of PNG.
    private void Unfilter(ZLibStream zip, byte[] line, byte[] above)
    {
        int pixelBytes = Math.Max(1, Channels * Bits / 8);
        int filter = zip.ReadByte();
        zip.ReadExactly(line);
        if (filter == 0)
        {
            return;
        }

        for (int x = 0; x < line.Length; x++)
        {
            int left = x >= pixelBytes ? line[x - pixelBytes] : 0;
            int up = above[x];
            int corner = x >= pixelBytes ? above[x - pixelBytes] : 0;
            line[x] += (byte)(filter switch { 1 => left, 2 => up, 3 => (left + up) / 2, 4 => Paeth(left, up, corner), _ => 0 });
        }
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
