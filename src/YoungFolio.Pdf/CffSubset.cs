using System.Buffers.Binary;

namespace YoungFolio.Pdf;

/// <summary>
/// Cuts a CFF font down to the glyphs that a document uses, as a CID-keyed font whose CIDs are the original glyph numbers
/// (Adobe Technical Notes 5176 and 5177).
/// </summary>
public static class CffSubset
{
    private const byte Return = 11;

    /// <summary>Makes the subset.</summary>
    /// <param name="cff">The font's CFF table; name-keyed.</param>
    /// <param name="glyphs">Glyph numbers to keep, ascending; 0 is kept anyway.</param>
    /// <param name="name">The subset's name.</param>
    public static byte[] Make(ReadOnlySpan<byte> cff, IReadOnlyList<uint> glyphs, string name)
    {
        byte[] data = cff.ToArray();
        int at = data[2];
        ReadIndex(data, ref at);
        List<(int Start, int Length)> topDicts = ReadIndex(data, ref at);
        ReadIndex(data, ref at);
        List<(int Start, int Length)> globals = ReadIndex(data, ref at);
        Dictionary<int, double[]> top = ReadDict(data.AsSpan(topDicts[0].Start, topDicts[0].Length));
        int charStringsAt = (int)top[17][0];
        List<(int Start, int Length)> charStrings = ReadIndex(data, ref charStringsAt);
        int privateSize = (int)top[18][0];
        int privateAt = (int)top[18][1];
        Dictionary<int, double[]> privateDict = ReadDict(data.AsSpan(privateAt, privateSize));
        List<(int Start, int Length)> locals = [];
        if (privateDict.TryGetValue(19, out double[]? subrs))
        {
            int localsAt = privateAt + (int)subrs[0];
            locals = ReadIndex(data, ref localsAt);
        }

        uint[] kept = [0, .. glyphs.Where(g => g != 0 && g < charStrings.Count)];
        var tracer = new Tracer(data, globals, locals);
        foreach (uint glyph in kept)
        {
            tracer.Trace(charStrings[(int)glyph]);
        }

        byte[] charset = Charset(kept);
        byte[] select = [3, 0, 1, 0, 0, 0, (byte)(kept.Length >> 8), (byte)kept.Length];
        byte[] outlines = Index(kept.Select(g => data.AsSpan(charStrings[(int)g].Start, charStrings[(int)g].Length).ToArray()));
        byte[] globalIndex = Index(Kept(data, globals, tracer.Globals));
        byte[] localIndex = locals.Count == 0 ? [] : Index(Kept(data, locals, tracer.Locals));
        byte[] header = [1, 0, 4, 4];
        byte[] names = Index([System.Text.Encoding.ASCII.GetBytes(name)]);
        byte[] strings = Index(["Adobe"u8.ToArray(), "Identity"u8.ToArray()]);
        byte[] privateBytes = PrivateDict(data.AsSpan(privateAt, privateSize), locals.Count > 0);

        // Offsets are written in five bytes each, so that the sizes don't depend on them.
        byte[] topBytes = Index([TopDict(top, kept, 0, 0, 0, 0)]);
        int offset = header.Length + names.Length + topBytes.Length + strings.Length + globalIndex.Length;
        int charsetAt = offset;
        int selectAt = charsetAt + charset.Length;
        int outlinesAt = selectAt + select.Length;
        int arrayAt = outlinesAt + outlines.Length;
        int arrayLength = Index([FontDict(0, 0)]).Length;
        int newPrivateAt = arrayAt + arrayLength;
        topBytes = Index([TopDict(top, kept, charsetAt, selectAt, outlinesAt, arrayAt)]);
        byte[] array = Index([FontDict(privateBytes.Length, newPrivateAt)]);
        return [.. header, .. names, .. topBytes, .. strings, .. globalIndex, .. charset, .. select, .. outlines, .. array, .. privateBytes, .. localIndex];
    }

    private static IEnumerable<byte[]> Kept(byte[] data, List<(int Start, int Length)> subrs, HashSet<int> used) =>
        subrs.Select((s, i) => used.Contains(i) ? data.AsSpan(s.Start, s.Length).ToArray() : [Return]);

    private static byte[] Charset(uint[] kept)
    {
        byte[] bytes = new byte[1 + ((kept.Length - 1) * 2)];
        for (int i = 1; i < kept.Length; i++)
        {
            BinaryPrimitives.WriteUInt16BigEndian(bytes.AsSpan(1 + ((i - 1) * 2)), (ushort)kept[i]);
        }

        return bytes;
    }

    private static byte[] TopDict(Dictionary<int, double[]> old, uint[] kept, int charset, int select, int outlines, int array)
    {
        var bytes = new List<byte>();
        Number(bytes, 391);
        Number(bytes, 392);
        Number(bytes, 0);
        bytes.AddRange([12, 30]);
        if (old.TryGetValue(5, out double[]? box))
        {
            foreach (double value in box)
            {
                Number(bytes, (int)value);
            }

            bytes.Add(5);
        }

        Number(bytes, (int)kept[^1] + 1);
        bytes.AddRange([12, 34]);
        Offset(bytes, charset);
        bytes.Add(15);
        Offset(bytes, select);
        bytes.AddRange([12, 37]);
        Offset(bytes, outlines);
        bytes.Add(17);
        Offset(bytes, array);
        bytes.AddRange([12, 36]);
        return [.. bytes];
    }

    private static byte[] FontDict(int size, int offset)
    {
        var bytes = new List<byte>();
        Offset(bytes, size);
        Offset(bytes, offset);
        bytes.Add(18);
        return [.. bytes];
    }

    // The private dictionary as it was, but for the place of its subroutines, which now follow it.
    private static byte[] PrivateDict(ReadOnlySpan<byte> old, bool hasSubrs)
    {
        var bytes = new List<byte>();
        int start = 0;
        int i = 0;
        while (i < old.Length)
        {
            byte b = old[i];
            if (b <= 21)
            {
                int length = b == 12 ? 2 : 1;
                if (b != 19)
                {
                    bytes.AddRange(old[start..(i + length)]);
                }

                i += length;
                start = i;
            }
            else
            {
                i += OperandLength(old, i);
            }
        }

        if (hasSubrs)
        {
            int size = bytes.Count + 6;
            Offset(bytes, size);
            bytes.Add(19);
        }

        return [.. bytes];
    }

    private static void Offset(List<byte> bytes, int value) =>
        bytes.AddRange([29, (byte)(value >> 24), (byte)(value >> 16), (byte)(value >> 8), (byte)value]);

    private static void Number(List<byte> bytes, int value)
    {
        switch (value)
        {
            case >= -107 and <= 107:
                bytes.Add((byte)(value + 139));
                break;
            case >= 108 and <= 1131:
                bytes.AddRange([(byte)(((value - 108) >> 8) + 247), (byte)(value - 108)]);
                break;
            case >= -1131 and <= -108:
                bytes.AddRange([(byte)(((-value - 108) >> 8) + 251), (byte)(-value - 108)]);
                break;
            default:
                bytes.AddRange([28, (byte)(value >> 8), (byte)value]);
                break;
        }
    }

    private static byte[] Index(IEnumerable<byte[]> entries)
    {
        byte[][] all = [.. entries];
        if (all.Length == 0)
        {
            return [0, 0];
        }

        int size = all.Sum(e => e.Length) + 1;
        int offsetSize = size < 0x100 ? 1 : size < 0x10000 ? 2 : size < 0x1000000 ? 3 : 4;
        var bytes = new List<byte> { (byte)(all.Length >> 8), (byte)all.Length, (byte)offsetSize };
        int offset = 1;
        Write(offset);
        foreach (byte[] entry in all)
        {
            offset += entry.Length;
            Write(offset);
        }

        foreach (byte[] entry in all)
        {
            bytes.AddRange(entry);
        }

        return [.. bytes];

        void Write(int value)
        {
            for (int shift = (offsetSize - 1) * 8; shift >= 0; shift -= 8)
            {
                bytes.Add((byte)(value >> shift));
            }
        }
    }

    private static List<(int Start, int Length)> ReadIndex(byte[] data, ref int at)
    {
        int count = (data[at] << 8) | data[at + 1];
        var result = new List<(int, int)>(count);
        if (count == 0)
        {
            at += 2;
            return result;
        }

        int size = data[at + 2];
        int offsets = at + 3;
        int start = offsets + ((count + 1) * size) - 1;
        int previous = Offset(0);
        for (int i = 1; i <= count; i++)
        {
            int next = Offset(i);
            result.Add((start + previous, next - previous));
            previous = next;
        }

        at = start + previous;
        return result;

        int Offset(int index)
        {
            int value = 0;
            for (int k = 0; k < size; k++)
            {
                value = (value << 8) | data[offsets + (index * size) + k];
            }

            return value;
        }
    }

    private static int OperandLength(ReadOnlySpan<byte> dict, int at)
    {
        byte b = dict[at];
        if (b == 30)
        {
            int end = at + 1;
            while ((dict[end] & 0x0F) != 0x0F && (dict[end] >> 4) != 0x0F)
            {
                end++;
            }

            return end - at + 1;
        }

        return b switch { 28 => 3, 29 => 5, >= 247 and <= 254 => 2, _ => 1 };
    }

    private static Dictionary<int, double[]> ReadDict(ReadOnlySpan<byte> dict)
    {
        var result = new Dictionary<int, double[]>();
        var operands = new List<double>();
        int i = 0;
        while (i < dict.Length)
        {
            byte b = dict[i];
            if (b <= 21)
            {
                int key = b == 12 ? 1200 + dict[i + 1] : b;
                result[key] = [.. operands];
                operands.Clear();
                i += b == 12 ? 2 : 1;
                continue;
            }

            operands.Add(b switch
            {
                28 => (short)((dict[i + 1] << 8) | dict[i + 2]),
                29 => BinaryPrimitives.ReadInt32BigEndian(dict[(i + 1)..]),
                >= 32 and <= 246 => b - 139,
                >= 247 and <= 250 => ((b - 247) * 256) + dict[i + 1] + 108,
                >= 251 and <= 254 => (-(b - 251) * 256) - dict[i + 1] - 108,
                _ => 0,
            });
            i += OperandLength(dict, i);
        }

        return result;
    }

    /// <summary>Finds the subroutines that outlines call (Technical Note 5177, Type 2 charstrings).</summary>
    private sealed class Tracer(byte[] data, List<(int Start, int Length)> globals, List<(int Start, int Length)> locals)
    {
        private readonly List<int> _stack = [];
        private int _hints;

        public HashSet<int> Globals { get; } = [];

        public HashSet<int> Locals { get; } = [];

        public void Trace((int Start, int Length) charString)
        {
            _stack.Clear();
            _hints = 0;
            Run(charString, 0);
        }

        private static int Bias(int count) => count < 1240 ? 107 : count < 33900 ? 1131 : 32768;

        private void Run((int Start, int Length) code, int depth)
        {
            int i = code.Start;
            int end = code.Start + code.Length;
            while (i < end && depth < 11)
            {
                byte b = data[i++];
                switch (b)
                {
                    case 28:
                        _stack.Add((short)((data[i] << 8) | data[i + 1]));
                        i += 2;
                        break;
                    case >= 32 and <= 246:
                        _stack.Add(b - 139);
                        break;
                    case >= 247 and <= 250:
                        _stack.Add(((b - 247) * 256) + data[i++] + 108);
                        break;
                    case >= 251 and <= 254:
                        _stack.Add((-(b - 251) * 256) - data[i++] - 108);
                        break;
                    case 255:
                        _stack.Add(0);
                        i += 4;
                        break;
                    case 1 or 3 or 18 or 23:
                        _hints += _stack.Count / 2;
                        _stack.Clear();
                        break;
                    case 19 or 20:
                        _hints += _stack.Count / 2;
                        _stack.Clear();
                        i += (_hints + 7) / 8;
                        break;
                    case 10 or 29 when _stack.Count > 0:
                        List<(int Start, int Length)> table = b == 10 ? locals : globals;
                        int number = _stack[^1] + Bias(table.Count);
                        _stack.RemoveAt(_stack.Count - 1);
                        if (number >= 0 && number < table.Count)
                        {
                            (b == 10 ? Locals : Globals).Add(number);
                            Run(table[number], depth + 1);
                        }

                        break;
                    case Return:
                        return;
                    case 12:
                        i++;
                        _stack.Clear();
                        break;
                    default:
                        _stack.Clear();
                        break;
                }
            }
        }
    }
}
