using System.Buffers.Binary;
using System.IO.Compression;
using System.IO.Hashing;

namespace YoungFolio.Core.Tests.HandIn;

/// <summary>A plain grey PNG, written as the Portable Network Graphics specification (W3C, second edition) says.</summary>
internal static class GreyPng
{
    public static byte[] Of(int width, int height)
    {
        using var file = new MemoryStream();
        file.Write([0x89, 0x50, 0x4E, 0x47, 0x0D, 0x0A, 0x1A, 0x0A]);
        byte[] head = new byte[13];
        BinaryPrimitives.WriteInt32BigEndian(head, width);
        BinaryPrimitives.WriteInt32BigEndian(head.AsSpan(4), height);
        head[8] = 8;
        Chunk(file, "IHDR"u8, head);
        using var packed = new MemoryStream();
        using (var zip = new ZLibStream(packed, CompressionLevel.Fastest, leaveOpen: true))
        {
            zip.Write(new byte[(width + 1) * height]);
        }

        Chunk(file, "IDAT"u8, packed.ToArray());
        Chunk(file, "IEND"u8, []);
        return file.ToArray();
    }

    private static void Chunk(Stream file, ReadOnlySpan<byte> type, byte[] content)
    {
        byte[] length = new byte[4];
        BinaryPrimitives.WriteInt32BigEndian(length, content.Length);
        file.Write(length);
        byte[] whole = [.. type, .. content];
        file.Write(whole);
        byte[] sum = new byte[4];
        BinaryPrimitives.WriteUInt32BigEndian(sum, Crc32.HashToUInt32(whole));
        file.Write(sum);
    }
}
