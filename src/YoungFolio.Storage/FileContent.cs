using System.Text;
using System.Xml;

namespace YoungFolio.Storage;

/// <summary>Looks whether a file's content is what its name says.</summary>
public static class FileContent
{
    private static readonly (string Extension, byte[] Begin, string Says)[] s_kinds =
    [
        (".png", [0x89, (byte)'P', (byte)'N', (byte)'G', 0x0D, 0x0A, 0x1A, 0x0A], "a PNG picture"),
        (".jpg", [0xFF, 0xD8, 0xFF], "a JPEG picture"),
        (".jpeg", [0xFF, 0xD8, 0xFF], "a JPEG picture"),
        (".pdf", "%PDF-"u8.ToArray(), "a PDF"),
    ];

    /// <summary>Checks content that isn't text.</summary>
    /// <exception cref="StoreException">It is something else than its name says.</exception>
    public static void Check(string path, byte[] bytes)
    {
        string extension = Path.GetExtension(path).ToLowerInvariant();
        foreach ((string name, byte[] begin, string says) in s_kinds)
        {
            // A PDF may have a few bytes before its head (ISO 32000-1, annex H.3.4.1: within the first 1024).
            bool fits = name == ".pdf" ? bytes.AsSpan(0, Math.Min(bytes.Length, 1024)).IndexOf(begin) >= 0 : bytes.AsSpan().StartsWith(begin);
            if (extension == name && !fits)
            {
                throw new StoreException($"{path} isn't {says}, though its name says so. It may be damaged: export it again.");
            }
        }

        if (extension == ".svg" && !IsSvg(bytes))
        {
            throw new StoreException($"{path} isn't an SVG picture, though its name says so. It may be damaged: export it again.");
        }
    }

    /// <summary>Bytes as text.</summary>
    /// <exception cref="StoreException">They aren't UTF-8.</exception>
    public static string Decode(string path, byte[] bytes)
    {
        try
        {
            return Lines(new UTF8Encoding(false, true).GetString(bytes));
        }
        catch (DecoderFallbackException)
        {
            throw new StoreException($"{path} is not stored as UTF-8. It can be read as Latin-1 instead.");
        }
    }

    /// <summary>Bytes in the older way of storing, in which every byte is a letter.</summary>
    public static string DecodeLatin1(byte[] bytes) => Lines(Encoding.Latin1.GetString(bytes));

    // Editors count a line end as one character.
    private static string Lines(string text) =>
        (text.StartsWith('\uFEFF') ? text[1..] : text).Replace("\r\n", "\n", StringComparison.Ordinal).Replace('\r', '\n');

    private static bool IsSvg(byte[] bytes)
    {
        try
        {
            using var reader = XmlReader.Create(new MemoryStream(bytes), new XmlReaderSettings { DtdProcessing = DtdProcessing.Ignore, XmlResolver = null });
            return reader.MoveToContent() == XmlNodeType.Element && reader.LocalName == "svg";
        }
        catch (XmlException)
        {
            return false;
        }
    }
}
