using System.Collections.Concurrent;
using System.Runtime.InteropServices;
using HarfBuzzSharp;

namespace YoungFolio.Typesetting.Fonts;

/// <summary>Extents of a glyph in points at a size of one point.</summary>
public readonly record struct GlyphBox(double Left, double Right, double Top, double Bottom);

/// <summary>One OpenType font that ships with the project. Safe for use by several threads.</summary>
public sealed class FontFile
{
    private readonly GCHandle _pin;
    private readonly ConcurrentDictionary<uint, GlyphBox> _boxes = new();
    private readonly ConcurrentDictionary<uint, double> _advances = new();

    internal FontFile(string name, byte[] data)
    {
        Name = name;
        NameHash = System.IO.Hashing.XxHash64.HashToUInt64(System.Text.Encoding.UTF8.GetBytes(name));
        Data = data;
        // HarfBuzz reads the bytes for as long as the font lives.
        _pin = GCHandle.Alloc(data, GCHandleType.Pinned);
        var blob = new Blob(_pin.AddrOfPinnedObject(), data.Length, MemoryMode.ReadOnly);
        Face = new Face(blob, 0);
        UnitsPerEm = Face.UnitsPerEm;
        Font = new Font(Face);
        Font.SetScale(UnitsPerEm, UnitsPerEm);
        Font.SetFunctionsOpenType();
        Font.TryGetHorizontalFontExtents(out FontExtents extents);
        Ascent = extents.Ascender / (double)UnitsPerEm;
        Descent = -extents.Descender / (double)UnitsPerEm;
    }

    /// <summary>The file's name without its ending: <c>texgyrepagella-regular</c>.</summary>
    public string Name { get; }

    /// <summary>A digest of the name, for digests of what the font sets.</summary>
    public ulong NameHash { get; }

    /// <summary>The file.</summary>
    public byte[] Data { get; }

    /// <summary>Units of the font's em.</summary>
    public int UnitsPerEm { get; }

    /// <summary>Ascent as a share of the size.</summary>
    public double Ascent { get; }

    /// <summary>Descent below the baseline as a share of the size, positive.</summary>
    public double Descent { get; }

    internal Face Face { get; }

    internal Font Font { get; }

    /// <summary>The glyph of a character; 0 when the font has none.</summary>
    public uint GlyphOf(int code) => Font.TryGetNominalGlyph((uint)code, out uint glyph) ? glyph : 0;

    /// <summary>Advance of a glyph at a size of one point.</summary>
    public double Advance(uint glyph) =>
        _advances.GetOrAdd(glyph, static (g, f) => f.Font.GetHorizontalGlyphAdvance(g) / (double)f.UnitsPerEm, this);

    /// <summary>Extents of a glyph at a size of one point.</summary>
    public GlyphBox Box(uint glyph) => _boxes.GetOrAdd(glyph, static (g, f) =>
    {
        f.Font.TryGetGlyphExtents(g, out GlyphExtents e);
        double em = f.UnitsPerEm;
        return new GlyphBox(e.XBearing / em, (e.XBearing + e.Width) / em, e.YBearing / em, (e.YBearing + e.Height) / em);
    }, this);

    /// <summary>
    /// Whether its licence bits let it stand in a document, cut down to the glyphs that it needs: it isn't restricted to its owner, nor kept from
    /// being cut down, nor given as dots alone (OpenType specification, table OS/2, fsType).
    /// </summary>
    public bool MayBeEmbedded => PermitsEmbedding(Table("OS/2"));

    /// <summary>The same of a table OS/2; where there is none, nothing forbids it.</summary>
    public static bool PermitsEmbedding(ReadOnlySpan<byte> table)
    {
        const int FsType = 8, Permissions = 0xF, Restricted = 2, WholeOnly = 0x100, DotsOnly = 0x200;
        int bits = table.Length < FsType + 2 ? 0 : System.Buffers.Binary.BinaryPrimitives.ReadUInt16BigEndian(table[FsType..]);
        return (bits & Permissions) != Restricted && (bits & (WholeOnly | DotsOnly)) == 0;
    }

    /// <summary>The bytes of one of its tables; empty when it has none.</summary>
    public ReadOnlySpan<byte> Table(string tag)
    {
        int count = (Data[4] << 8) | Data[5];
        for (int i = 0; i < count; i++)
        {
            ReadOnlySpan<byte> entry = Data.AsSpan(12 + (i * 16), 16);
            if (entry[0] == tag[0] && entry[1] == tag[1] && entry[2] == tag[2] && entry[3] == tag[3])
            {
                int offset = System.Buffers.Binary.BinaryPrimitives.ReadInt32BigEndian(entry[8..]);
                int length = System.Buffers.Binary.BinaryPrimitives.ReadInt32BigEndian(entry[12..]);
                return Data.AsSpan(offset, length);
            }
        }

        return [];
    }
}
