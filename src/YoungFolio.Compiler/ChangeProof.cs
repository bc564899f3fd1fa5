using YoungFolio.Compiler.Changes;
using YoungFolio.Typesetting.Pages;

namespace YoungFolio.Compiler;

/// <summary>A change with its place in the proof.</summary>
/// <param name="Kind"><c>inserted</c> or <c>deleted</c>.</param>
/// <param name="Text">Its words.</param>
/// <param name="Words">Number of words.</param>
/// <param name="Page">Page as printed.</param>
/// <param name="Sheet">Page of the PDF, from 1.</param>
public sealed record ChangeLine(string Kind, string Text, int Words, string? Page, int Sheet)
{
    internal static ChangeLine Of(Change change, TypesetDocument pages)
    {
        bool isPlaced = pages.Anchors.TryGetValue(change.Anchor, out AnchorPlace place);
        return new ChangeLine(change.Kind == ChangeKind.Inserted ? "inserted" : "deleted", change.Text, change.Words,
            isPlaced ? place.Label : null, isPlaced ? place.Sheet : 0);
    }
}

/// <summary>A proof that shows what changed between two states of a manuscript.</summary>
/// <param name="Pdf">The proof: what came in underlined in moss, what was taken out struck through in rubric, a bar at the edge beside both.</param>
/// <param name="Pages">Its number of pages.</param>
/// <param name="Changes">The changes in the order of reading.</param>
public sealed record ChangeProof(byte[] Pdf, int Pages, IReadOnlyList<ChangeLine> Changes);
