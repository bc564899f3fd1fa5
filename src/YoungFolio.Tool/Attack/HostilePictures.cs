using System.Buffers.Binary;
using System.Globalization;
using System.IO.Compression;
using System.Text;

namespace YoungFolio.Tool.Attack;

/// <summary>Pictures that are small files and large pictures, or none at all.</summary>
public static class HostilePictures
{
    /// <summary>A PNG of nothing but the first colour.</summary>
    /// <param name="width">Width in pixels.</param>
    /// <param name="height">Height in pixels.</param>
    /// <param name="bits">Bits a sample.</param>
    /// <param name="colour">Type of colour: 0 grey, 2 colour, 3 palette, 4 and 6 with opacity.</param>
    /// <param name="isInterlaced">Whether its rows come in seven passes.</param>
    /// <param name="rows">How many rows there really are; fewer than it says: it is cut off.</param>
    /// <param name="chunks">How many chunks of no meaning come before the picture.</param>
    /// <param name="chunkLength">What their length is said to be.</param>
    public static byte[] Png(int width, int height, int bits, int colour, bool isInterlaced = false, int rows = int.MaxValue, int chunks = 0, int chunkLength = 0)
    {
        using var file = new MemoryStream();
        file.Write([0x89, 0x50, 0x4E, 0x47, 0x0D, 0x0A, 0x1A, 0x0A]);
        byte[] head = new byte[13];
        BinaryPrimitives.WriteInt32BigEndian(head, width);
        BinaryPrimitives.WriteInt32BigEndian(head.AsSpan(4), height);
        head[8] = (byte)bits;
        head[9] = (byte)colour;
        head[12] = isInterlaced ? (byte)1 : (byte)0;
        Chunk(file, "IHDR", head, head.Length);
        for (int i = 0; i < chunks; i++)
        {
            Chunk(file, "juNk", [], chunkLength);
        }

        if (colour == 3)
        {
            Chunk(file, "PLTE", [1, 2, 3, 4, 5, 6], 6);
            Chunk(file, "tRNS", [0, 128], 2);
        }

        int channels = colour switch { 0 or 3 => 1, 2 => 3, 4 => 2, _ => 4 };
        byte[] row = new byte[(((long)width * channels * bits) + 7) / 8 + 1];
        using var data = new MemoryStream();
        using (var zip = new ZLibStream(data, CompressionLevel.Fastest, leaveOpen: true))
        {
            for (int y = 0; y < Math.Min(height, rows); y++)
            {
                zip.Write(row);
            }
        }

        Chunk(file, "IDAT", data.ToArray(), (int)data.Length);
        Chunk(file, "IEND", [], 0);
        return file.ToArray();
    }

    /// <summary>A PDF of these objects, the first of which is the catalogue.</summary>
    public static byte[] Pdf(params string[] objects)
    {
        var text = new StringBuilder("%PDF-1.4\n");
        var places = new List<int>();
        for (int i = 0; i < objects.Length; i++)
        {
            places.Add(text.Length);
            text.Append(CultureInfo.InvariantCulture, $"{i + 1} 0 obj\n{objects[i]}\nendobj\n");
        }

        int table = text.Length;
        text.Append(CultureInfo.InvariantCulture, $"xref\n0 {objects.Length + 1}\n0000000000 65535 f \n");
        foreach (int place in places)
        {
            text.Append(CultureInfo.InvariantCulture, $"{place:0000000000} 00000 n \n");
        }

        text.Append(CultureInfo.InvariantCulture, $"trailer\n<</Size {objects.Length + 1}/Root 1 0 R>>\nstartxref\n{table}\n%%EOF\n");
        return Encoding.Latin1.GetBytes(text.ToString());
    }

    /// <summary>A PDF whose objects are in a stream that unfolds to so many bytes.</summary>
    public static byte[] UnfoldingPdf(long bytes)
    {
        using var data = new MemoryStream();
        using (var zip = new ZLibStream(data, CompressionLevel.Fastest, leaveOpen: true))
        {
            byte[] blank = new byte[1_000_000];
            Array.Fill(blank, (byte)' ');
            for (long left = bytes; left > 0; left -= blank.Length)
            {
                zip.Write(blank);
            }
        }

        string stream = Encoding.Latin1.GetString(data.ToArray());
        return Pdf(
            "<</Type/Catalog/Pages 2 0 R>>", "<</Type/Pages/Kids[3 0 R]/Count 1>>", "<</Type/Page/Parent 2 0 R/MediaBox[0 0 9 9]/Contents 4 0 R>>",
            $"<</Type/ObjStm/N 9/First 9/Filter/FlateDecode/Length {stream.Length}>>\nstream\n{stream}\nendstream",
            $"<</Type/XRef/W[1 2 1]/Size 9/Filter/FlateDecode/Length {stream.Length}>>\nstream\n{stream}\nendstream");
    }

    private static void Chunk(Stream file, string name, byte[] content, int length)
    {
        Span<byte> number = stackalloc byte[4];
        BinaryPrimitives.WriteInt32BigEndian(number, length);
        file.Write(number);
        file.Write(Encoding.ASCII.GetBytes(name));
        file.Write(content);
        file.Write([0, 0, 0, 0]);
    }
}
