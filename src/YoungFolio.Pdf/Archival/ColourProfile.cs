using System.Buffers.Binary;
using System.Text;

namespace YoungFolio.Pdf;

/// <summary>
/// The profile of the colours that pages are in, sRGB, as archival files carry it (ICC.1:2001-04, the format's version 2; the colours and the
/// curve of IEC 61966-2-1, adapted to the profile's white as in the ICC's own profile of it).
/// </summary>
internal static class ColourProfile
{
    private const int CurveSteps = 1024;

    /// <summary>The profile's bytes; the same each time.</summary>
    public static byte[] Srgb { get; } = Make();

    private static byte[] Make()
    {
        byte[] curve = Curve();
        (string Tag, byte[] Data)[] tags =
        [
            ("desc", Description("sRGB IEC61966-2.1")),
            ("cprt", [.. "text\0\0\0\0No copyright: facts of a published standard.\0"u8]),
            ("wtpt", Colour(0.9642, 1, 0.8249)),
            ("rXYZ", Colour(0.43607, 0.22249, 0.01392)),
            ("gXYZ", Colour(0.38515, 0.71687, 0.09708)),
            ("bXYZ", Colour(0.14307, 0.06061, 0.71410)),
            ("rTRC", curve),
            ("gTRC", curve),
            ("bTRC", curve),
        ];
        var body = new MemoryStream();
        int start = 128 + 4 + (12 * tags.Length);
        byte[] table = new byte[4 + (12 * tags.Length)];
        BinaryPrimitives.WriteInt32BigEndian(table, tags.Length);
        var places = new Dictionary<byte[], int>(ReferenceEqualityComparer.Instance);
        for (int i = 0; i < tags.Length; i++)
        {
            (string tag, byte[] data) = tags[i];
            if (!places.TryGetValue(data, out int place))
            {
                places[data] = place = start + (int)body.Position;
                body.Write(data);
                // Each begins at a multiple of four.
                body.Write(new byte[(4 - (data.Length % 4)) % 4]);
            }

            Encoding.ASCII.GetBytes(tag, table.AsSpan(4 + (12 * i)));
            BinaryPrimitives.WriteInt32BigEndian(table.AsSpan(8 + (12 * i)), place);
            BinaryPrimitives.WriteInt32BigEndian(table.AsSpan(12 + (12 * i)), data.Length);
        }

        byte[] header = new byte[128];
        BinaryPrimitives.WriteInt32BigEndian(header, start + (int)body.Length);
        BinaryPrimitives.WriteInt32BigEndian(header.AsSpan(8), 0x02100000);
        Encoding.ASCII.GetBytes("mntrRGB XYZ ", header.AsSpan(12));
        // The day of the standard's publication, since the file must be the same each time.
        foreach ((int at, short value) in ((int, short)[])[(24, 1999), (26, 10), (28, 1)])
        {
            BinaryPrimitives.WriteInt16BigEndian(header.AsSpan(at), value);
        }

        Encoding.ASCII.GetBytes("acsp", header.AsSpan(36));
        Colour(0.9642, 1, 0.8249).AsSpan(8).CopyTo(header.AsSpan(68));
        return [.. header, .. table, .. body.ToArray()];
    }

    private static byte[] Colour(double x, double y, double z)
    {
        byte[] data = new byte[20];
        Encoding.ASCII.GetBytes("XYZ ", data);
        foreach ((int at, double value) in ((int, double)[])[(8, x), (12, y), (16, z)])
        {
            BinaryPrimitives.WriteInt32BigEndian(data.AsSpan(at), (int)Math.Round(value * 65536));
        }

        return data;
    }

    private static byte[] Curve()
    {
        byte[] data = new byte[12 + (2 * CurveSteps)];
        Encoding.ASCII.GetBytes("curv", data);
        BinaryPrimitives.WriteInt32BigEndian(data.AsSpan(8), CurveSteps);
        for (int i = 0; i < CurveSteps; i++)
        {
            double value = i / (CurveSteps - 1.0);
            double linear = value <= 0.04045 ? value / 12.92 : Math.Pow((value + 0.055) / 1.055, 2.4);
            BinaryPrimitives.WriteUInt16BigEndian(data.AsSpan(12 + (2 * i)), (ushort)Math.Round(linear * 65535));
        }

        return data;
    }

    private static byte[] Description(string text)
    {
        // Its text in ASCII; the forms in Unicode and for the oldest systems are empty.
        byte[] data = new byte[12 + text.Length + 1 + 4 + 4 + 2 + 1 + 67];
        Encoding.ASCII.GetBytes("desc", data);
        BinaryPrimitives.WriteInt32BigEndian(data.AsSpan(8), text.Length + 1);
        Encoding.ASCII.GetBytes(text, data.AsSpan(12));
        return data;
    }
}
