using System.Buffers.Binary;
using System.Globalization;
using System.IO.Hashing;
using System.Runtime.CompilerServices;
using System.Text;
using YoungFolio.Typesetting.Fonts;

namespace YoungFolio.Compiler.Sheets;

/// <summary>
/// A font for drawing sheets: the outlines and widths of the engine's own font, with a character map by which every glyph is reached by
/// its number, and without the layout tables, since glyphs and places are decided already (OpenType specification 1.9, chapters cmap,
/// post and “Organization of an OpenType font”).
/// </summary>
public sealed class ScreenFont
{
    /// <summary>The character of glyph 0: the first for private use in Unicode's basic plane.</summary>
    public const int FirstCharacter = 0xE000;

    /// <summary>How many glyphs a font may have: all characters for private use in the basic plane.</summary>
    public const int MostGlyphs = 6400;

    private const uint OpenTypeWithCff = 0x4F54544F;
    private static readonly string[] s_kept = ["CFF ", "OS/2", "head", "hhea", "hmtx", "maxp", "name"];
    private static readonly ConditionalWeakTable<FontFile, ScreenFont> s_made = [];

    private ScreenFont(FontFile font)
    {
        Bytes = Make(font);
        Key = font.Name + "-" + XxHash64.HashToUInt64(Bytes).ToString("x16", CultureInfo.InvariantCulture);
    }

    /// <summary>Its name with a digest of its content: <c>lmroman10-regular-0123456789abcdef</c>.</summary>
    public string Key { get; }

    /// <summary>The file.</summary>
    public byte[] Bytes { get; }

    /// <summary>The font for the screen; made once.</summary>
    public static ScreenFont Of(FontFile font) => s_made.GetValue(font, static f => new ScreenFont(f));

    /// <summary>The name of the engine's font in a key.</summary>
    public static string NameIn(string key) => key.LastIndexOf('-') is > 0 and var at ? key[..at] : key;

    private static byte[] Make(FontFile font)
    {
        int glyphs = BinaryPrimitives.ReadUInt16BigEndian(font.Table("maxp")[4..]);
        if (glyphs > MostGlyphs)
        {
            throw new InvalidOperationException(FormattableString.Invariant($"{font.Name} has {glyphs} glyphs, and {MostGlyphs} are the most that can be reached."));
        }

        var tables = new SortedDictionary<string, byte[]>(StringComparer.Ordinal) { ["cmap"] = CharacterMap(glyphs), ["post"] = Names() };
        foreach (string tag in s_kept)
        {
            tables[tag] = font.Table(tag).ToArray();
        }

        // The sum over the whole file is worked out anew.
        BinaryPrimitives.WriteUInt32BigEndian(tables["head"].AsSpan(8), 0);
        byte[] file = Join(tables, out int head);
        BinaryPrimitives.WriteUInt32BigEndian(file.AsSpan(head + 8), 0xB1B0AFBA - Sum(file));
        return file;
    }

    private static byte[] Join(SortedDictionary<string, byte[]> tables, out int head)
    {
        int count = tables.Count;
        int power = (int)Math.Log2(count);
        byte[] file = new byte[12 + (count * 16) + tables.Values.Sum(t => Padded(t.Length))];
        Span<byte> bytes = file;
        BinaryPrimitives.WriteUInt32BigEndian(bytes, OpenTypeWithCff);
        BinaryPrimitives.WriteUInt16BigEndian(bytes[4..], (ushort)count);
        BinaryPrimitives.WriteUInt16BigEndian(bytes[6..], (ushort)(16 << power));
        BinaryPrimitives.WriteUInt16BigEndian(bytes[8..], (ushort)power);
        BinaryPrimitives.WriteUInt16BigEndian(bytes[10..], (ushort)((count * 16) - (16 << power)));
        int entry = 12;
        int at = 12 + (count * 16);
        head = 0;
        foreach ((string tag, byte[] table) in tables)
        {
            Encoding.ASCII.GetBytes(tag, bytes[entry..]);
            BinaryPrimitives.WriteUInt32BigEndian(bytes[(entry + 4)..], Sum(table));
            BinaryPrimitives.WriteInt32BigEndian(bytes[(entry + 8)..], at);
            BinaryPrimitives.WriteInt32BigEndian(bytes[(entry + 12)..], table.Length);
            table.CopyTo(bytes[at..]);
            head = tag == "head" ? at : head;
            entry += 16;
            at += Padded(table.Length);
        }

        return file;
    }

    // One stretch of characters in order: a map of format 12, and one of format 4 for whoever reads only that.
    private static byte[] CharacterMap(int glyphs)
    {
        byte[] table = new byte[20 + 32 + 28];
        Span<byte> bytes = table;
        Write16(bytes, 0, 2);
        Encoding(bytes[4..], 3, 1, 20);
        Encoding(bytes[12..], 3, 10, 52);
        Span<byte> short4 = bytes[20..];
        Write16(short4, 4, 32, 0, 4, 4, 1, 0, FirstCharacter + glyphs - 1, 0xFFFF, 0, FirstCharacter, 0xFFFF, 0x10000 - FirstCharacter, 1, 0, 0);
        Span<byte> long12 = bytes[52..];
        Write16(long12, 12, 0);
        Write32(long12[4..], 28, 0, 1, FirstCharacter, FirstCharacter + glyphs - 1, 0);
        return table;

        static void Encoding(Span<byte> bytes, int platform, int encoding, int offset)
        {
            Write16(bytes, platform, encoding);
            Write32(bytes[4..], offset);
        }
    }

    // Version 3: glyphs have no names.
    private static byte[] Names()
    {
        byte[] table = new byte[32];
        Write32(table, 0x00030000);
        return table;
    }

    private static void Write16(Span<byte> bytes, params ReadOnlySpan<int> values)
    {
        for (int i = 0; i < values.Length; i++)
        {
            BinaryPrimitives.WriteUInt16BigEndian(bytes[(i * 2)..], (ushort)values[i]);
        }
    }

    private static void Write32(Span<byte> bytes, params ReadOnlySpan<int> values)
    {
        for (int i = 0; i < values.Length; i++)
        {
            BinaryPrimitives.WriteInt32BigEndian(bytes[(i * 4)..], values[i]);
        }
    }

    private static int Padded(int length) => (length + 3) & ~3;

    private static uint Sum(ReadOnlySpan<byte> bytes)
    {
        uint sum = 0;
        Span<byte> last = stackalloc byte[4];
        for (int i = 0; i < bytes.Length; i += 4)
        {
            if (bytes.Length - i >= 4)
            {
                sum += BinaryPrimitives.ReadUInt32BigEndian(bytes[i..]);
            }
            else
            {
                last.Clear();
                bytes[i..].CopyTo(last);
                sum += BinaryPrimitives.ReadUInt32BigEndian(last);
            }
        }

        return sum;
    }
}
