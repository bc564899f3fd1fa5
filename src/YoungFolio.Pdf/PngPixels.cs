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

    /// <summary>The rows without filters and in their order, each beginning with a new byte.</summary>
    /// <exception cref="EndOfStreamException">When rows are missing.</exception>
    /// <exception cref="InvalidDataException">When they are damaged.</exception>
    public byte[] Decode()
    {
        using var zip = new ZLibStream(new MemoryStream(Data), CompressionMode.Decompress);
        if (!IsInterlaced)
        {
            return Rows(zip, Width, Height);
        }

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

    /// <summary>Samples of a picture of one channel, a byte each.</summary>
    public byte[] Samples(byte[] rows)
    {
        byte[] samples = new byte[checked(Width * Height)];
        int stride = Stride(Width);
        for (int y = 0; y < Height; y++)
        {
            for (int x = 0; x < Width; x++)
            {
                int bit = x * Bits;
                samples[(y * Width) + x] = Bits >= 8
                    ? rows[(y * stride) + (x * Bits / 8)]
                    : (byte)(rows[(y * stride) + (bit / 8)] >> (8 - Bits - (bit % 8)) & ((1 << Bits) - 1));
            }
        }

        return samples;
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

    // Undoes the five filters of PNG.
    private byte[] Rows(ZLibStream zip, int width, int height)
    {
        int stride = Stride(width);
        int pixelBytes = Math.Max(1, Channels * Bits / 8);
        byte[] result = new byte[checked(stride * height)];
        byte[] row = new byte[stride];
        byte[] none = new byte[stride];
        for (int y = 0; y < height; y++)
        {
            int filter = zip.ReadByte();
            zip.ReadExactly(row);
            Span<byte> line = result.AsSpan(y * stride, stride);
            ReadOnlySpan<byte> above = y > 0 ? result.AsSpan((y - 1) * stride, stride) : none;
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
