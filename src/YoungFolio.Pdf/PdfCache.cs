using System.Collections.Concurrent;

namespace YoungFolio.Pdf;

/// <summary>What is kept from one file to the next: pages' contents and cut-down fonts. Safe for several threads.</summary>
public sealed class PdfCache
{
    private const int Capacity = 1_000;
    private readonly ConcurrentDictionary<UInt128, object> _kept = new();

    internal T Get<T>(UInt128 key, Func<T> make)
        where T : class
    {
        if (_kept.TryGetValue(key, out object? known) && known is T kept)
        {
            return kept;
        }

        if (_kept.Count > Capacity)
        {
            _kept.Clear();
        }

        T made = make();
        _kept[key] = made;
        return made;
    }
}
