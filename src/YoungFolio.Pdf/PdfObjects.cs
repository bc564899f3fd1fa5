using System.Globalization;
using System.IO.Compression;
using System.IO.Hashing;
using System.Text;

namespace YoungFolio.Pdf;

/// <summary>Writes numbered objects into a file with object streams and a cross-reference stream (ISO 32000-1, 7.5).</summary>
internal sealed class PdfObjects
{
    private readonly List<(string? Text, string? Head, byte[]? Stream)> _objects = [default];

    /// <summary>Reserves a number.</summary>
    public int Reserve()
    {
        _objects.Add(default);
        return _objects.Count - 1;
    }

    public int Add(string text)
    {
        int number = Reserve();
        Set(number, text);
        return number;
    }

    public void Set(int number, string text) => _objects[number] = (text, null, null);

    public int AddStream(string head, byte[] bytes)
    {
        int number = Reserve();
        _objects[number] = (null, head, bytes);
        return number;
    }

    public void SetStream(int number, string head, byte[] bytes) => _objects[number] = (null, head, bytes);

    public byte[] Write(int root, int info)
    {
        var output = new MemoryStream();
        Ascii(output, "%PDF-1.7\n");
        output.Write([(byte)'%', 0xE2, 0xE3, 0xCF, 0xD3, (byte)'\n']);
        var entries = new (byte Kind, int Place, int Index)[_objects.Count + 64 + (_objects.Count / 100)];
        int count = _objects.Count;
        for (int i = 1; i < count; i++)
        {
            if (_objects[i].Stream is { } stream)
            {
                entries[i] = (1, (int)output.Position, 0);
                WriteStream(output, i, _objects[i].Head!, stream);
            }
        }

        var plain = new List<int>();
        for (int i = 1; i < count; i++)
        {
            if (_objects[i].Text is not null)
            {
                plain.Add(i);
            }
        }

        int number = count;
        foreach (int[] chunk in plain.Chunk(100))
        {
            var head = new StringBuilder();
            var body = new StringBuilder();
            for (int k = 0; k < chunk.Length; k++)
            {
                head.Append(CultureInfo.InvariantCulture, $"{chunk[k]} {body.Length} ");
                body.Append(_objects[chunk[k]].Text).Append('\n');
                entries[chunk[k]] = (2, number, k);
            }

            entries[number] = (1, (int)output.Position, 0);
            byte[] content = Encoding.Latin1.GetBytes(head.ToString() + body);
            WriteStream(output, number, $"/Type /ObjStm /N {chunk.Length} /First {head.Length} /Filter /FlateDecode", Deflate(content));
            number++;
        }

        int start = (int)output.Position;
        entries[number] = (1, start, 0);
        byte[] table = new byte[(number + 1) * 7];
        for (int i = 0; i <= number; i++)
        {
            (byte kind, int place, int index) = entries[i];
            table[i * 7] = kind;
            System.Buffers.Binary.BinaryPrimitives.WriteInt32BigEndian(table.AsSpan((i * 7) + 1), place);
            System.Buffers.Binary.BinaryPrimitives.WriteUInt16BigEndian(table.AsSpan((i * 7) + 5), (ushort)(i == 0 ? 65535 : index));
        }

        // The identity is a digest of the content, so that the same manuscript gives the same bytes.
        string id = Convert.ToHexString(XxHash128.Hash(output.GetBuffer().AsSpan(0, start)));
        WriteStream(output, number,
            $"/Type /XRef /Size {number + 1} /W [1 4 2] /Root {root} 0 R /Info {info} 0 R /ID [<{id}> <{id}>] /Filter /FlateDecode", Deflate(table));
        Ascii(output, $"startxref\n{start}\n%%EOF\n");
        return output.ToArray();
    }

    public static byte[] Deflate(ReadOnlySpan<byte> bytes)
    {
        using var output = new MemoryStream();
        using (var zip = new ZLibStream(output, CompressionLevel.Optimal, true))
        {
            zip.Write(bytes);
        }

        return output.ToArray();
    }

    /// <summary>A text string: UTF-16 with its mark, in hexadecimal.</summary>
    public static string Text(string text) => "<FEFF" + Convert.ToHexString(Encoding.BigEndianUnicode.GetBytes(text)) + ">";

    private static void WriteStream(MemoryStream output, int number, string head, byte[] bytes)
    {
        Ascii(output, $"{number} 0 obj\n<<{head} /Length {bytes.Length}>>\nstream\n");
        output.Write(bytes);
        Ascii(output, "\nendstream\nendobj\n");
    }

    private static void Ascii(MemoryStream output, string text) => output.Write(Encoding.Latin1.GetBytes(text));
}
