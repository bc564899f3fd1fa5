using System.Globalization;
using System.IO.Compression;
using System.Text.RegularExpressions;

namespace YoungFolio.Typesetting.Images;

/// <summary>
/// Looks through a foreign PDF before the library reads it, which takes into memory whatever its packed streams unfold to, and goes down
/// as deep as its objects are nested.
/// </summary>
internal static partial class PdfGuard
{
    private const int LargestFile = 50 * 1024 * 1024;
    private const int MostDepth = 200;
    private const long MostUnfolded = 100L * 1024 * 1024;

    /// <summary>Why a file isn't taken; null when it is.</summary>
    public static string? Refusal(byte[] bytes)
    {
        if (bytes.Length > LargestFile)
        {
            return "it is larger than 50 MB";
        }

        long left = MostUnfolded;
        var pages = new PdfPageTree();
        int at = 0;
        int from = 0;
        while ((at = Find(bytes, "stream"u8, at)) >= 0)
        {
            if (IsDeep(bytes.AsSpan(from, at - from)))
            {
                return "its objects are nested too deeply";
            }

            pages.Add(Latin(bytes, from, at));

            int begin = at + "stream"u8.Length;
            int end = Find(bytes, "endstream"u8, begin);
            end = end < 0 ? bytes.Length : end;
            string head = System.Text.Encoding.Latin1.GetString(bytes, Math.Max(from, at - 2000), at - Math.Max(from, at - 2000));
            head = head[Math.Max(0, head.LastIndexOf("obj", StringComparison.Ordinal))..];
            if (Structure().IsMatch(head))
            {
                if (Filter().Count(head) > 1)
                {
                    return "it is packed in a way that isn't read";
                }

                while (begin < end && bytes[begin] is (byte)'\r' or (byte)'\n' or (byte)' ')
                {
                    begin++;
                }

                if (Unfold(bytes.AsMemory(begin, end - begin), head.Contains("/FlateDecode", StringComparison.Ordinal), Objects(head), pages, ref left) is { } reason)
                {
                    return reason;
                }
            }

            at = from = Math.Min(bytes.Length, end + "endstream"u8.Length);
        }

        pages.Add(Latin(bytes, from, bytes.Length));
        return IsDeep(bytes.AsSpan(from)) ? "its objects are nested too deeply" : pages.IsTree ? null : "its pages lead back to themselves";
    }

    private static string Latin(byte[] bytes, int from, int to) => System.Text.Encoding.Latin1.GetString(bytes, from, to - from);

    // Streams of objects and of their places; the others are taken over as they are.
    [GeneratedRegex(@"/Type\s*/(?:ObjStm|XRef)")]
    private static partial Regex Structure();

    [GeneratedRegex(@"/(?:FlateDecode|LZWDecode|ASCIIHexDecode|ASCII85Decode|RunLengthDecode|Fl|LZW|AHx|A85|RL)\b")]
    private static partial Regex Filter();

    [GeneratedRegex(@"/N\s+(\d{1,7})\b[\s\S]*/First\s+(\d{1,8})|/First\s+(\d{1,8})[\s\S]*/N\s+(\d{1,7})\b")]
    private static partial Regex ObjectCount();

    // How many objects are in a stream of them, and where the first begins.
    private static (int Count, int First)? Objects(string head) => ObjectCount().Match(head) is { Success: true } m
        ? (int.Parse(m.Groups[m.Groups[1].Success ? 1 : 4].Value, CultureInfo.InvariantCulture), int.Parse(m.Groups[m.Groups[1].Success ? 2 : 3].Value, CultureInfo.InvariantCulture))
        : null;

    private static string? Unfold(ReadOnlyMemory<byte> packed, bool isFlate, (int Count, int First)? objects, PdfPageTree pages, ref long left)
    {
        using var unfolded = new MemoryStream();
        using Stream source = new MemoryStream(packed.ToArray());
        using Stream content = isFlate ? new ZLibStream(source, CompressionMode.Decompress) : source;
        byte[] buffer = new byte[65536];
        int depth = 0;
        try
        {
            int read;
            while ((read = content.Read(buffer)) > 0)
            {
                left -= read;
                if (left < 0)
                {
                    return "what is packed in it is larger than 100 MB";
                }

                unfolded.Write(buffer, 0, read);
                if (IsDeep(buffer.AsSpan(0, read), ref depth))
                {
                    return "its objects are nested too deeply";
                }
            }
        }
        catch (InvalidDataException)
        {
            // Damaged: the library says so, or mends it.
        }

        if (objects is var (count, first))
        {
            pages.AddPacked(Latin(unfolded.GetBuffer(), 0, (int)unfolded.Length), count, first);
        }

        return null;
    }

    private static bool IsDeep(ReadOnlySpan<byte> bytes)
    {
        int depth = 0;
        return IsDeep(bytes, ref depth);
    }

    // Brackets in strings count too, which does no harm: no file has so many open at once.
    private static bool IsDeep(ReadOnlySpan<byte> bytes, ref int depth)
    {
        foreach (byte b in bytes)
        {
            depth = b switch { (byte)'[' or (byte)'<' => depth + 1, (byte)']' or (byte)'>' => Math.Max(0, depth - 1), _ => depth };
            if (depth > 2 * MostDepth)
            {
                return true;
            }
        }

        return false;
    }

    private static int Find(byte[] bytes, ReadOnlySpan<byte> what, int from)
    {
        int at = bytes.AsSpan(from).IndexOf(what);
        return at < 0 ? -1 : at + from;
    }
}
