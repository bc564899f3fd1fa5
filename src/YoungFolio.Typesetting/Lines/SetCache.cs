using YoungFolio.Markup;
using YoungFolio.Typesetting.Pages;

namespace YoungFolio.Typesetting.Lines;

/// <summary>
/// Lines, displays and tables that are set, kept from one compile to the next by what they were set from. What a compile
/// doesn't use is gone after it.
/// </summary>
public sealed class SetCache
{
    private readonly Dictionary<UInt128, object> _before;
    private readonly Dictionary<UInt128, object> _used = [];

    /// <summary>A cache.</summary>
    /// <param name="last">That of the compile before, or null.</param>
    public SetCache(SetCache? last = null) => _before = last?._used ?? [];

    internal T? Find<T>(UInt128 key)
        where T : class
    {
        if (_used.TryGetValue(key, out object? known))
        {
            return known as T;
        }

        if (_before.TryGetValue(key, out known))
        {
            _used[key] = known;
        }

        return known as T;
    }

    internal void Keep(UInt128 key, object value) => _used[key] = value;

    /// <summary>Has positions in marks count from a base; each mark once.</summary>
    internal static void Rebase(IEnumerable<Box> boxes, int origin)
    {
        var seen = new HashSet<Mark>(ReferenceEqualityComparer.Instance);
        foreach (Box box in boxes)
        {
            Rebase(box.Marks, origin, seen);
        }
    }

    private static void Rebase(IReadOnlyList<Placed> marks, int origin, HashSet<Mark> seen)
    {
        foreach (Placed placed in marks)
        {
            if (placed.Mark is GlyphMark glyphs && seen.Add(glyphs))
            {
                for (int i = 0; i < glyphs.Positions.Length; i++)
                {
                    glyphs.Positions[i] -= glyphs.Positions[i] >= 0 ? origin : 0;
                }
            }
            else if (placed.Mark is GroupMark group && seen.Add(group))
            {
                Rebase(group.Content, origin, seen);
            }
        }
    }
}

/// <summary>Something set, with what was to say about it; positions count from a base.</summary>
internal sealed record SetEntry<T>(T Content, IReadOnlyList<Finding> Findings);
