namespace YoungFolio.Chronicle;

/// <summary>A file at one of the moments that are compared.</summary>
/// <param name="Id">Identity.</param>
/// <param name="Path">Its path then.</param>
/// <param name="Text">Its text then; null when it isn't text.</param>
/// <param name="Digest">Digest of its content; null for text.</param>
public sealed record FileThen(int Id, string Path, string? Text, string? Digest);

/// <summary>What became of a file.</summary>
public enum FileChange
{
    /// <summary>Its text, its content or its path is another.</summary>
    Changed,

    /// <summary>It came in.</summary>
    New,

    /// <summary>It went.</summary>
    Gone,
}

/// <summary>A passage of a file, under the heading where it stands.</summary>
/// <param name="Place">The heading in the later text, or in the earlier one where it went.</param>
/// <param name="Passage">The differences.</param>
/// <param name="MovedFrom">The file and the heading that its words came from; null: they are new.</param>
/// <param name="MovedTo">The file and the heading that its words went to; null: they are gone.</param>
public sealed record PassageChange(EventPlace? Place, ComparedPassage Passage, string? MovedFrom, string? MovedTo);

/// <summary>A file in which two moments differ.</summary>
/// <param name="Id">Identity.</param>
/// <param name="Path">Its path at the later moment, or at the earlier one where it went.</param>
/// <param name="PathBefore">Its path at the earlier moment, where that was another.</param>
/// <param name="Change">What became of it.</param>
/// <param name="IsText">Whether it is text.</param>
/// <param name="WordsIn">Words that came in.</param>
/// <param name="WordsOut">Words that went.</param>
/// <param name="Passages">Where its text differs; empty for other contents.</param>
public sealed record ComparedFile(int Id, string Path, string? PathBefore, FileChange Change, bool IsText, int WordsIn, int WordsOut, IReadOnlyList<PassageChange> Passages);

/// <summary>Compares a manuscript at two moments: file by file, word by word; what moved is shown as moved.</summary>
public static class ManuscriptComparison
{
    // Shorter words may well stand in two places.
    private const int ShortestMove = 40;

    /// <summary>The files that differ, in the order of their paths.</summary>
    /// <param name="before">The files at the earlier moment.</param>
    /// <param name="after">The files at the later one.</param>
    /// <param name="main">The main file.</param>
    public static IReadOnlyList<ComparedFile> Of(IReadOnlyList<FileThen> before, IReadOnlyList<FileThen> after, string main)
    {
        ArgumentNullException.ThrowIfNull(before);
        ArgumentNullException.ThrowIfNull(after);
        var earlier = before.ToDictionary(f => f.Id);
        var later = after.ToDictionary(f => f.Id);
        IReadOnlyDictionary<(string, int), string?> numbersBefore = Numbers(before, main);
        IReadOnlyDictionary<(string, int), string?> numbersAfter = Numbers(after, main);
        var files = new List<ComparedFile>();
        foreach (int id in earlier.Keys.Union(later.Keys))
        {
            FileThen? then = earlier.GetValueOrDefault(id);
            FileThen? now = later.GetValueOrDefault(id);
            if (then?.Path == now?.Path && then?.Text == now?.Text && then?.Digest == now?.Digest)
            {
                continue;
            }

            FileThen shown = now ?? then!;
            PassageChange[] passages = shown.Text is null ? [] : [.. TextComparison.Passages(then?.Text ?? "", now?.Text ?? "").Select(Placed)];
            files.Add(new ComparedFile(
                id, shown.Path, then is not null && now is not null && then.Path != now.Path ? then.Path : null, then is null ? FileChange.New : now is null ? FileChange.Gone : FileChange.Changed, shown.Text is not null,
                passages.Sum(p => Words(p, PieceKind.In)), passages.Sum(p => Words(p, PieceKind.Out)), passages));

            PassageChange Placed(ComparedPassage passage)
            {
                bool isGone = passage.ToLength == 0;
                FileThen at = isGone ? then! : now!;
                EventPlace? place = TypedPlaces.Before(at.Path, at.Text!, isGone ? passage.From : passage.To) is { } heading
                    ? new EventPlace((isGone ? numbersBefore : numbersAfter).GetValueOrDefault((at.Path, heading.Offset)), heading.Title) : null;
                return new PassageChange(place, passage, null, null);
            }
        }

        return [.. Moved(files).OrderBy(f => f.Path != main).ThenBy(f => f.Path, StringComparer.Ordinal)];
    }

    private static IReadOnlyDictionary<(string Path, int Offset), string?> Numbers(IReadOnlyList<FileThen> files, string main) =>
        TypedPlaces.Numbers(files.Where(f => f.Text is not null).DistinctBy(f => f.Path).ToDictionary(f => f.Path, f => f.Text!, StringComparer.Ordinal), main);

    private static int Words(PassageChange passage, PieceKind kind) => passage.Passage.Pieces.Where(p => p.Kind == kind).Sum(p => TypedPlaces.Words(p.Text));

    // Words that went in one place and came in another.
    private static IEnumerable<ComparedFile> Moved(List<ComparedFile> files)
    {
        Dictionary<string, string> gone = Whole(files, PieceKind.Out);
        Dictionary<string, string> come = Whole(files, PieceKind.In);
        return files.Select(f => f with
        {
            Passages = [.. f.Passages.Select(p => p with
            {
                MovedFrom = Only(p, PieceKind.In) is { } came ? gone.GetValueOrDefault(came) : null,
                MovedTo = Only(p, PieceKind.Out) is { } went ? come.GetValueOrDefault(went) : null,
            })],
        });
    }

    private static Dictionary<string, string> Whole(List<ComparedFile> files, PieceKind kind)
    {
        var found = new Dictionary<string, string>(StringComparer.Ordinal);
        foreach (ComparedFile file in files)
        {
            foreach (PassageChange passage in file.Passages)
            {
                if (Only(passage, kind) is { } words)
                {
                    found.TryAdd(words, passage.Place is { } place ? $"{place.Number} {place.Title}".Trim() : file.Path);
                }
            }
        }

        return found;
    }

    // The words of a passage that is of one kind; null: it isn't, or they are too few.
    private static string? Only(PassageChange passage, PieceKind kind)
    {
        if (passage.Passage.Pieces.Any(p => p.Kind != kind && !string.IsNullOrWhiteSpace(p.Text)))
        {
            return null;
        }

        string words = string.Join(' ', string.Concat(passage.Passage.Pieces.Where(p => p.Kind == kind).Select(p => p.Text)).Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries));
        return words.Length < ShortestMove ? null : words;
    }
}
