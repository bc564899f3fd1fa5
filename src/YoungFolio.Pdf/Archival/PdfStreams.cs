using System.IO.Compression;

namespace YoungFolio.Pdf;

/// <summary>Streams of foreign files.</summary>
internal static class PdfStreams
{
    private const int MostUnpacked = 16 * 1024 * 1024;

    /// <summary>A stream's content; of one that is packed otherwise than by Flate, or damaged, what it holds as it is.</summary>
    /// <param name="dictionary">The inside of its dictionary.</param>
    /// <param name="stream">Its bytes.</param>
    public static byte[] Plain(string dictionary, byte[] stream)
    {
        if (!dictionary.Contains("/FlateDecode", StringComparison.Ordinal))
        {
            return stream;
        }

        try
        {
            using var zip = new ZLibStream(new MemoryStream(stream), CompressionMode.Decompress);
            var plain = new MemoryStream();
            byte[] buffer = new byte[65536];
            for (int read; plain.Length < MostUnpacked && (read = zip.Read(buffer)) > 0;)
            {
                plain.Write(buffer, 0, read);
            }

            return plain.ToArray();
        }
        catch (InvalidDataException)
        {
            return stream;
        }
    }
}
