namespace YoungFolio.Markup;

/// <summary>The three kinds of finding (product words: to fix, to check, about the layout).</summary>
public enum FindingKind
{
    /// <summary>The markup is wrong.</summary>
    Fix,

    /// <summary>Probably not meant.</summary>
    Check,

    /// <summary>How something sits on the page.</summary>
    Layout,
}

/// <summary>A mend that is safe to apply: replace a stretch of source by new text.</summary>
/// <param name="Position">Position of the first character to replace.</param>
/// <param name="Length">Number of characters to replace; 0 inserts.</param>
/// <param name="Text">The new text.</param>
public sealed record Repair(int Position, int Length, string Text)
{
    /// <summary>What has to be replaced along with it, in the same file or another one.</summary>
    public Repair? Also { get; init; }

    /// <summary>A file that is made instead, with nothing in it.</summary>
    public string? NewFile { get; init; }
}

/// <summary>One thing that the compiler has to say.</summary>
/// <param name="Kind">How grave it is.</param>
/// <param name="Code">A stable name of the check, such as <c>unknown-command</c>.</param>
/// <param name="Message">What is wrong, in one plain sentence.</param>
/// <param name="Advice">Why it matters or how to mend it; may be empty.</param>
/// <param name="Position">Where, as a position; <see cref="PositionTable.None"/> for the whole manuscript.</param>
/// <param name="Length">Number of characters concerned.</param>
/// <param name="Repair">The one safe mend, where there is one.</param>
public sealed record Finding(
    FindingKind Kind, string Code, string Message, string Advice, int Position, int Length, Repair? Repair = null);

/// <summary>Collects findings; the same finding at the same place is kept once, and the number is bounded.</summary>
public sealed class FindingLog
{
    private const int Limit = 500;

    // Why the proof ends early is told however much there was to say before.
    private static readonly HashSet<string> s_always = new(["too-slow", "too-large", "too-much-text", "too-many-pages", "endless-macro", "nested-too-deep"], StringComparer.Ordinal);

    private readonly List<Finding> _findings = [];
    private readonly HashSet<(string Code, int Position, string Message)> _seen = [];

    /// <summary>What was found, in the order of finding.</summary>
    public IReadOnlyList<Finding> All => _findings;

    /// <summary>Adds a finding unless it is known already.</summary>
    public void Add(Finding finding)
    {
        if ((_findings.Count < Limit || (s_always.Contains(finding.Code) && _findings.Count < 2 * Limit)) && _seen.Add((finding.Code, finding.Position, finding.Message)))
        {
            _findings.Add(finding);
        }
    }

    /// <summary>Adds a <em>to fix</em> finding.</summary>
    public void Fix(string code, int position, int length, string message, string advice, Repair? repair = null) =>
        Add(new Finding(FindingKind.Fix, code, message, advice, position, length, repair));

    /// <summary>Adds a <em>to check</em> finding.</summary>
    public void Check(string code, int position, int length, string message, string advice, Repair? repair = null) =>
        Add(new Finding(FindingKind.Check, code, message, advice, position, length, repair));

    /// <summary>Adds a finding about the layout.</summary>
    public void Layout(string code, int position, int length, string message, string advice) =>
        Add(new Finding(FindingKind.Layout, code, message, advice, position, length));
}
