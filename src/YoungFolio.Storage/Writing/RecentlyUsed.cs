namespace YoungFolio.Storage;

/// <summary>Keeps what was used lately up to so many bytes; what wasn't used for longest goes first. Safe for use by several threads.</summary>
/// <param name="most">How much is kept, in bytes.</param>
/// <param name="sizeOf">About how much a value takes, in bytes.</param>
public sealed class RecentlyUsed<TKey, TValue>(long most, Func<TValue, long> sizeOf)
    where TKey : notnull
    where TValue : class
{
    private readonly Lock _lock = new();
    private readonly Dictionary<TKey, LinkedListNode<(TKey Key, TValue Value, long Size)>> _known = [];
    private readonly LinkedList<(TKey Key, TValue Value, long Size)> _order = new();

    /// <summary>How much is kept, in bytes.</summary>
    public long Size { get; private set; }

    /// <summary>How many values are kept.</summary>
    public int Count
    {
        get
        {
            lock (_lock)
            {
                return _known.Count;
            }
        }
    }

    /// <summary>The value of a key, which counts as used now; null when it isn't kept.</summary>
    public TValue? Find(TKey key)
    {
        lock (_lock)
        {
            if (!_known.TryGetValue(key, out LinkedListNode<(TKey Key, TValue Value, long Size)>? node))
            {
                return null;
            }

            _order.Remove(node);
            _order.AddLast(node);
            return node.Value.Value;
        }
    }

    /// <summary>Keeps a value, in the place of the one that the key had.</summary>
    /// <param name="key">The key.</param>
    /// <param name="value">The value.</param>
    /// <param name="unless">Whether the value there is stays instead.</param>
    /// <returns>The value kept.</returns>
    public TValue Keep(TKey key, TValue value, Func<TValue, bool>? unless = null)
    {
        lock (_lock)
        {
            if (_known.TryGetValue(key, out LinkedListNode<(TKey Key, TValue Value, long Size)>? node) && unless?.Invoke(node.Value.Value) == true)
            {
                return node.Value.Value;
            }

            Remove(node);
            long size = sizeOf(value);
            _known[key] = _order.AddLast((key, value, size));
            Size += size;
            // The newest stays, however large it is: someone just asked for it.
            while (Size > most && _order.Count > 1)
            {
                Remove(_order.First);
            }

            return value;
        }
    }

    /// <summary>Lets a value go.</summary>
    public void Forget(TKey key)
    {
        lock (_lock)
        {
            Remove(_known.GetValueOrDefault(key));
        }
    }

    /// <summary>Lets all go.</summary>
    public void Clear()
    {
        lock (_lock)
        {
            _known.Clear();
            _order.Clear();
            Size = 0;
        }
    }

    private void Remove(LinkedListNode<(TKey Key, TValue Value, long Size)>? node)
    {
        if (node is not null)
        {
            _order.Remove(node);
            _known.Remove(node.Value.Key);
            Size -= node.Value.Size;
        }
    }
}
