using System.IO.Hashing;
using System.Runtime.InteropServices;
using YoungFolio.Markup;

namespace YoungFolio.Documents;

/// <summary>
/// Sums up nodes in a number of 128 bits: the same number means the same content. Positions count from the first one met, so that text that only
/// moved in the source keeps its number.
/// </summary>
public class Fingerprint
{
    // What was added since it was last summed up: a paragraph fits, a formula of a million letters needn't.
    private readonly byte[] _bytes = new byte[16_384];
    private readonly XxHash128 _hash = new();
    private bool _isLong;
    private int _length;

    /// <summary>The first position met; the others are relative to it.</summary>
    public int Base { get; private set; } = PositionTable.None;

    /// <summary>The number of what was added since it began.</summary>
    public UInt128 Sum
    {
        get
        {
            if (!_isLong)
            {
                return XxHash128.HashToUInt128(_bytes.AsSpan(0, _length));
            }

            Drain();
            return _hash.GetCurrentHashAsUInt128();
        }
    }

    /// <summary>The number of one node.</summary>
    public static UInt128 Of(Node node)
    {
        var sum = new Fingerprint();
        sum.Add(node);
        return sum.Sum;
    }

    /// <summary>Begins anew.</summary>
    public void Clear()
    {
        _length = 0;
        _isLong = false;
        _hash.Reset();
        Base = PositionTable.None;
    }

    /// <summary>Adds a node with all below it.</summary>
    public virtual void Add(Node? node)
    {
        Add(node?.NodeKind ?? -1);
        node?.AddTo(this);
    }

    /// <summary>Adds nodes.</summary>
    public void Add(IReadOnlyList<Node>? nodes)
    {
        Add(nodes?.Count ?? -1);
        for (int i = 0; i < nodes?.Count; i++)
        {
            Add(nodes[i]);
        }
    }

    /// <summary>Adds a number.</summary>
    public void Add(int value) => MemoryMarshal.Write(Room(4), value);

    /// <summary>Adds a number.</summary>
    public void Add(double value) => MemoryMarshal.Write(Room(8), value);

    /// <summary>Adds a truth value.</summary>
    public void Add(bool value) => Room(1)[0] = value ? (byte)1 : (byte)0;

    /// <summary>Adds a text, or that there is none.</summary>
    public void Add(string? text)
    {
        if (text is null)
        {
            Add(-1);
            return;
        }

        Add(text.Length);
        ReadOnlySpan<byte> bytes = MemoryMarshal.AsBytes(text.AsSpan());
        while (bytes.Length > 0)
        {
            int part = Math.Min(bytes.Length, _bytes.Length);
            bytes[..part].CopyTo(Room(part));
            bytes = bytes[part..];
        }
    }

    /// <summary>Adds a space.</summary>
    public void Add(Glue glue)
    {
        Add(glue.Width.Scaled);
        Add(glue.Stretch.Scaled);
        Add(glue.StretchOrder);
        Add(glue.Shrink.Scaled);
        Add(glue.ShrinkOrder);
    }

    /// <summary>Adds a place in the source, relative to the first one.</summary>
    public void AddPosition(int position)
    {
        if (position >= 0 && Base < 0)
        {
            Base = position;
        }

        Add(position < 0 ? int.MinValue : position - Base);
    }

    /// <summary>Adds the places of characters: most often one follows another.</summary>
    public void AddPositions(int[] positions)
    {
        bool follows = positions.Length > 0 && positions[0] >= 0;
        for (int i = 1; i < positions.Length && follows; i++)
        {
            follows = positions[i] == positions[0] + i;
        }

        Add(follows);
        if (follows)
        {
            AddPosition(positions[0]);
            return;
        }

        foreach (int position in positions)
        {
            AddPosition(position);
        }
    }

    private void Drain()
    {
        _isLong = true;
        _hash.Append(_bytes.AsSpan(0, _length));
        _length = 0;
    }

    private Span<byte> Room(int count)
    {
        if (_length + count > _bytes.Length)
        {
            Drain();
        }

        Span<byte> room = _bytes.AsSpan(_length, count);
        _length += count;
        return room;
    }
}
