using YoungFolio.Cowriting;

namespace YoungFolio.Chronicle;

/// <summary>A step of a manuscript's log.</summary>
/// <param name="Number">Its number, from 1.</param>
/// <param name="Person">Who made it.</param>
/// <param name="Token">The access token with which a script made it.</param>
/// <param name="At">When, in UTC.</param>
/// <param name="Kind">What it is: one of <see cref="RevisionKind"/>.</param>
/// <param name="File">The file.</param>
/// <param name="Payload">The change set, the path, or what was said.</param>
/// <param name="Act">What a room did with it, in words; null: it was typed.</param>
public sealed record HistoryStep(int Number, int Person, int? Token, DateTime At, string Kind, int? File, string Payload, string? Act = null);

/// <summary>A heading under which something was written.</summary>
/// <param name="Number">Its number then; null: it had none.</param>
/// <param name="Title">Its title.</param>
public sealed record EventPlace(string? Number, string Title);

/// <summary>What people recognise of a manuscript's history: a sitting in one file, an act of a room, files that came.</summary>
/// <param name="Number">Its number in the manuscript, from 1.</param>
/// <param name="Person">Who.</param>
/// <param name="Token">The access token, when a script did it.</param>
/// <param name="Kind">What it is: a kind of revision, or <see cref="Act"/>.</param>
/// <param name="File">The file; null: several, or the manuscript.</param>
/// <param name="Path">The file's path then; of several files all, a line each.</param>
/// <param name="FromRevision">Its first revision.</param>
/// <param name="ToRevision">Its last one; others' revisions may lie between.</param>
/// <param name="Steps">How many revisions it has.</param>
/// <param name="Begin">When it began, in UTC.</param>
/// <param name="End">When it ended, in UTC.</param>
/// <param name="WordsIn">Words that came in, and were still there when it ended.</param>
/// <param name="WordsOut">Words of others, or of before, that went.</param>
/// <param name="Places">The headings under which it happened.</param>
/// <param name="Says">What was said: the new path, what was set, what a room did; a line each.</param>
public sealed record ChronicleEvent(
    int Number, int Person, int? Token, string Kind, int? File, string Path, int FromRevision, int ToRevision, int Steps, DateTime Begin, DateTime End, int WordsIn, int WordsOut, IReadOnlyList<EventPlace> Places, string Says)
{
    /// <summary>The kind of an event in which a room changed texts by one act, such as a label that was renamed.</summary>
    public const string Act = "act";
}
