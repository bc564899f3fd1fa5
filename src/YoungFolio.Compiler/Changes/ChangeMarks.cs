using YoungFolio.Documents;
using YoungFolio.Markup;

namespace YoungFolio.Compiler.Changes;

/// <summary>A manuscript at one of the two moments that are compared.</summary>
/// <param name="Document">What was built of it.</param>
/// <param name="Positions">Its positions: they tell what was written from what was counted.</param>
/// <param name="Files">Its files.</param>
public sealed record ComparedState(Document Document, PositionTable Positions, IFileTree Files);

/// <summary>What happened to a passage.</summary>
public enum ChangeKind
{
    /// <summary>It came in.</summary>
    Inserted,

    /// <summary>It was taken out.</summary>
    Deleted,
}

/// <summary>One stretch that came in or was taken out.</summary>
/// <param name="Kind">What happened.</param>
/// <param name="Text">Its words; a formula as its symbols.</param>
/// <param name="Words">Number of words.</param>
/// <param name="Anchor">Name of the anchor that stands before it in the marked document.</param>
public sealed record Change(ChangeKind Kind, string Text, int Words, string Anchor);

/// <summary>A document that shows what changed.</summary>
/// <param name="Document">The later document with what was taken out still in it, all changes marked.</param>
/// <param name="Files">The files that it needs: those of both moments.</param>
/// <param name="Changes">The changes in the order of reading.</param>
public sealed record MarkedDocument(Document Document, IFileTree Files, IReadOnlyList<Change> Changes);

/// <summary>
/// Compares two documents as readers would: by heading, paragraph, row and word, not by lines of source. Numbers that
/// merely moved on (of sections, equations, citations) are no change.
/// </summary>
public static class ChangeMarks
{
    /// <summary>Colour of what came in: the interface's moss.</summary>
    public const int InsertedColour = 0x4F7350;

    /// <summary>Colour of what was taken out: the interface's rubric.</summary>
    public const int DeletedColour = 0xB8382B;

    /// <summary>Marks what changed.</summary>
    public static MarkedDocument Mark(ComparedState before, ComparedState after, CancellationToken cancellation = default)
    {
        var files = new BothTrees(before.Files, after.Files);
        var log = new ChangeLog(before.Document, after.Document);
        var words = new InlineComparison(new WordReader(before.Positions, before.Files), new WordReader(after.Positions, after.Files), log, files);
        var blocks = new BlockComparison(words, cancellation);
        IReadOnlyList<Block> merged = blocks.Merge(before.Document.Blocks, after.Document.Blocks);
        return new MarkedDocument(after.Document with { Blocks = merged }, files, log.Changes);
    }
}

/// <summary>Notes changes as they are met.</summary>
/// <param name="before">The earlier document, whose labels tell what a deleted reference printed.</param>
/// <param name="after">The later document.</param>
internal sealed class ChangeLog(Document before, Document after)
{
    private readonly List<Change> _changes = [];

    /// <summary>All so far.</summary>
    public IReadOnlyList<Change> Changes => _changes;

    /// <summary>What a reference printed in the state that it is of; a page isn't known before there are pages.</summary>
    public string Printed(ReferenceInline reference, ChangeKind kind) =>
        reference.Kind != ReferenceKind.Number ? "…"
        : (kind == ChangeKind.Deleted ? before : after).Labels.TryGetValue(reference.Key, out Label? label) ? label.Number ?? "" : "";

    /// <summary>Notes a stretch and returns the anchor that leads to it.</summary>
    public AnchorInline Note(ChangeKind kind, IReadOnlyList<Inline> content)
    {
        string text = string.Concat(content.Select(i => i switch
        {
            ImageInline image => image.Path,
            ReferenceInline reference => Printed(reference, kind),
            TextRun run => run.Text,
            _ => PlainText.Of([i]),
        })).Trim();
        string anchor = $"change-{_changes.Count + 1}";
        if (text.Length > 0)
        {
            // A note's mark says nothing by itself; the note's own words are a change of theirs.
            _changes.Add(new Change(kind, text, text.Split(' ', StringSplitOptions.RemoveEmptyEntries).Length, anchor));
        }

        return new AnchorInline(anchor);
    }
}

/// <summary>The later files, and the earlier ones under a folder that no file can have.</summary>
internal sealed class BothTrees(IFileTree before, IFileTree after) : IFileTree
{
    private const string Folder = "\u0001/";

    /// <inheritdoc/>
    public IReadOnlyList<string> Paths { get; } = [.. after.Paths, .. before.Paths.Select(p => Folder + p)];

    /// <inheritdoc/>
    public bool IsManuscriptAlone => false;

    /// <summary>Path of an earlier file.</summary>
    public static string Earlier(string path) => Folder + path;

    /// <inheritdoc/>
    public ManuscriptFile? Find(string path) =>
        path.StartsWith(Folder, StringComparison.Ordinal) ? before.Find(path[Folder.Length..]) : after.Find(path);
}
