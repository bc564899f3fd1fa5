using System.Globalization;
using System.Text;
using YoungFolio.Cowriting;

namespace YoungFolio.Chronicle;

/// <summary>A stretch of a text.</summary>
/// <param name="Length">How many characters.</param>
/// <param name="Event">The number of the event that brought it in.</param>
public readonly record struct AuthoredStretch(int Length, int Event);

/// <summary>Who wrote which stretch of a text: the event that each came in with, through all changes since.</summary>
public sealed class Authorship
{
    private List<AuthoredStretch> _stretches = [];
    private List<AuthoredStretch> _next = [];

    /// <summary>Begins with a text that one event brought in.</summary>
    public Authorship(int length, int number) => Add(_stretches, length, number);

    private Authorship()
    {
    }

    /// <summary>The stretches, from the beginning of the text to its end; neighbours of one event are one.</summary>
    public IReadOnlyList<AuthoredStretch> Stretches => _stretches;

    /// <summary>Carries a change out.</summary>
    /// <param name="change">The change.</param>
    /// <param name="number">The event that it belongs to.</param>
    /// <param name="onRemoved">Hears of each stretch that goes: where it was, and whose it was.</param>
    /// <exception cref="ChangeSetException">It is for a text of another length.</exception>
    public void Apply(ChangeSet change, int number, Action<int, AuthoredStretch>? onRemoved = null)
    {
        ArgumentNullException.ThrowIfNull(change);
        if (change.LengthBefore != _stretches.Sum(s => s.Length))
        {
            throw new ChangeSetException("The change is for a text of another length.");
        }

        _next.Clear();
        int at = 0;
        int index = 0;
        int within = 0;
        foreach ((int from, int length, string insert) in change.Edits)
        {
            Walk(from - at, isKept: true);
            Walk(length, isKept: false);
            Add(_next, insert.Length, number);
        }

        Walk(int.MaxValue, isKept: true);
        (_stretches, _next) = (_next, _stretches);

        void Walk(int length, bool isKept)
        {
            while (length > 0 && index < _stretches.Count)
            {
                AuthoredStretch stretch = _stretches[index];
                int taken = Math.Min(length, stretch.Length - within);
                if (isKept)
                {
                    Add(_next, taken, stretch.Event);
                }
                else
                {
                    onRemoved?.Invoke(at, stretch with { Length = taken });
                }

                at += taken;
                length -= taken;
                within += taken;
                if (within == stretch.Length)
                {
                    index++;
                    within = 0;
                }
            }
        }
    }

    /// <summary>As text, to be kept.</summary>
    public override string ToString()
    {
        var text = new StringBuilder();
        foreach ((int length, int number) in _stretches)
        {
            text.Append(CultureInfo.InvariantCulture, $"{(text.Length == 0 ? "" : " ")}{length}:{number}");
        }

        return text.ToString();
    }

    /// <summary>What <see cref="ToString"/> gave.</summary>
    /// <exception cref="FormatException">It isn't that.</exception>
    public static Authorship Parse(string text)
    {
        ArgumentNullException.ThrowIfNull(text);
        var authorship = new Authorship();
        foreach (string stretch in text.Split(' ', StringSplitOptions.RemoveEmptyEntries))
        {
            int colon = stretch.IndexOf(':', StringComparison.Ordinal);
            Add(authorship._stretches, int.Parse(stretch.AsSpan(0, Math.Max(0, colon)), CultureInfo.InvariantCulture), int.Parse(stretch.AsSpan(colon + 1), CultureInfo.InvariantCulture));
        }

        return authorship;
    }

    private static void Add(List<AuthoredStretch> list, int length, int number)
    {
        if (length == 0)
        {
            return;
        }

        if (list.Count > 0 && list[^1].Event == number)
        {
            list[^1] = new AuthoredStretch(list[^1].Length + length, number);
        }
        else
        {
            list.Add(new AuthoredStretch(length, number));
        }
    }
}
