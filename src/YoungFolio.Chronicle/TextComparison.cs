using System.Text.RegularExpressions;
using DiffPlex;
using DiffPlex.Model;
using YoungFolio.Cowriting;

namespace YoungFolio.Chronicle;

/// <summary>What became of a piece of text.</summary>
public enum PieceKind
{
    /// <summary>It is in both texts.</summary>
    Same,

    /// <summary>It came in.</summary>
    In,

    /// <summary>It went.</summary>
    Out,
}

/// <summary>A piece of two texts that are compared.</summary>
/// <param name="Kind">What became of it.</param>
/// <param name="Text">Its words.</param>
public sealed record ComparedPiece(PieceKind Kind, string Text);

/// <summary>A passage in which two texts differ.</summary>
/// <param name="From">Where it begins in the earlier text.</param>
/// <param name="FromLength">Its length there.</param>
/// <param name="To">Where it begins in the later text.</param>
/// <param name="ToLength">Its length there.</param>
/// <param name="Pieces">The differences, word by word.</param>
public sealed record ComparedPassage(int From, int FromLength, int To, int ToLength, IReadOnlyList<ComparedPiece> Pieces);

/// <summary>Compares two texts: lines first, then the words of those that differ.</summary>
public static partial class TextComparison
{
    // Passages of more words are shown as gone and come: word by word nobody could read them, and comparing takes the square.
    private const int MostWords = 4000;

    // Longer texts that have little in common are shown as gone and come, for the same reason.
    private const long MostLinePairs = 100_000_000;

    private static readonly LineChunks s_lines = new();
    private static readonly WordChunks s_words = new();

    /// <summary>The passages in which a later text differs from an earlier one, in order.</summary>
    public static IReadOnlyList<ComparedPassage> Passages(string before, string after)
    {
        ArgumentNullException.ThrowIfNull(before);
        ArgumentNullException.ThrowIfNull(after);
        int start = before.AsSpan().CommonPrefixLength(after);
        start = start == 0 ? 0 : before.LastIndexOf('\n', start - 1) + 1;
        int tail = SameTail(before, after, start);
        (string earlier, string later) = (before[start..^tail], after[start..^tail]);
        if ((long)Lines(earlier) * Lines(later) > MostLinePairs)
        {
            return [new ComparedPassage(start, earlier.Length, start, later.Length, Pieces(earlier, later))];
        }

        DiffResult lines = Differ.Instance.CreateDiffs(earlier, later, false, false, s_lines);
        int[] from = Starts(lines.PiecesOld, start);
        int[] to = Starts(lines.PiecesNew, start);
        var passages = new List<ComparedPassage>();
        foreach (DiffBlock block in lines.DiffBlocks)
        {
            (int a, int b) = (from[block.DeleteStartA], from[block.DeleteStartA + block.DeleteCountA]);
            (int c, int d) = (to[block.InsertStartB], to[block.InsertStartB + block.InsertCountB]);
            passages.Add(new ComparedPassage(a, b - a, c, d - c, Pieces(before[a..b], after[c..d])));
        }

        return passages;
    }

    /// <summary>The change from one text to another that leaves the words that are in both where they are, so that whoever writes in them goes on.</summary>
    public static ChangeSet Changes(string before, string after) => ChangeSet.Of(before.Length, Passages(before, after).SelectMany(Edits));

    private static IEnumerable<(int From, int Length, string Insert)> Edits(ComparedPassage passage)
    {
        int at = passage.From;
        int length = 0;
        string insert = "";
        foreach (ComparedPiece piece in passage.Pieces)
        {
            switch (piece.Kind)
            {
                case PieceKind.In:
                    insert += piece.Text;
                    break;
                case PieceKind.Out:
                    length += piece.Text.Length;
                    break;
                default:
                    if (length > 0 || insert.Length > 0)
                    {
                        yield return (at, length, insert);
                    }

                    at += length + piece.Text.Length;
                    (length, insert) = (0, "");
                    break;
            }
        }

        if (length > 0 || insert.Length > 0)
        {
            yield return (at, length, insert);
        }
    }

    private static List<ComparedPiece> Pieces(string before, string after)
    {
        var pieces = new List<ComparedPiece>();
        if (Word().Count(before) + Word().Count(after) > MostWords)
        {
            Add(PieceKind.Out, before);
            Add(PieceKind.In, after);
            return pieces;
        }

        DiffResult words = Differ.Instance.CreateDiffs(before, after, false, false, s_words);
        int at = 0;
        foreach (DiffBlock block in words.DiffBlocks)
        {
            Add(PieceKind.Same, Join(words.PiecesOld, at, block.DeleteStartA - at));
            Add(PieceKind.Out, Join(words.PiecesOld, block.DeleteStartA, block.DeleteCountA));
            Add(PieceKind.In, Join(words.PiecesNew, block.InsertStartB, block.InsertCountB));
            at = block.DeleteStartA + block.DeleteCountA;
        }

        Add(PieceKind.Same, Join(words.PiecesOld, at, words.PiecesOld.Count - at));
        return Whole(pieces);

        static string Join(IReadOnlyList<string> all, int from, int count) => string.Concat(all.Skip(from).Take(count));

        void Add(PieceKind kind, string text)
        {
            if (text.Length > 0)
            {
                pieces.Add(new ComparedPiece(kind, text));
            }
        }
    }

    // A space that happens to be the same between two words that aren't belongs to them: it reads as one change.
    private static List<ComparedPiece> Whole(List<ComparedPiece> pieces)
    {
        var whole = new List<ComparedPiece>();
        string gone = "";
        string come = "";
        for (int i = 0; i < pieces.Count; i++)
        {
            ComparedPiece piece = pieces[i];
            bool isBetween = piece.Kind == PieceKind.Same && i > 0 && i < pieces.Count - 1 && piece.Text.All(c => c is ' ' or '\t');
            if (piece.Kind == PieceKind.Same && !isBetween)
            {
                Close();
                whole.Add(piece);
                continue;
            }

            gone += piece.Kind == PieceKind.In ? "" : piece.Text;
            come += piece.Kind == PieceKind.Out ? "" : piece.Text;
        }

        Close();
        return whole;

        void Close()
        {
            if (gone.Length > 0)
            {
                whole.Add(new ComparedPiece(PieceKind.Out, gone));
            }

            if (come.Length > 0)
            {
                whole.Add(new ComparedPiece(PieceKind.In, come));
            }

            (gone, come) = ("", "");
        }
    }

    private static int Lines(string text) => text.AsSpan().Count('\n') + 1;

    // How much of whole lines is the same at both ends, behind a place.
    private static int SameTail(string before, string after, int start)
    {
        int most = Math.Min(before.Length, after.Length) - start;
        int same = 0;
        int whole = 0;
        while (same < most && before[^(same + 1)] == after[^(same + 1)])
        {
            same++;
            bool isLineStart = (same == before.Length || before[^(same + 1)] == '\n') && (same == after.Length || after[^(same + 1)] == '\n');
            whole = isLineStart ? same : whole;
        }

        return whole;
    }

    private static int[] Starts(IReadOnlyList<string> pieces, int start)
    {
        int[] starts = new int[pieces.Count + 1];
        starts[0] = start;
        for (int i = 0; i < pieces.Count; i++)
        {
            starts[i + 1] = starts[i] + pieces[i].Length;
        }

        return starts;
    }

    private sealed class LineChunks : IChunker
    {
        public IReadOnlyList<string> Chunk(string text)
        {
            var lines = new List<string>();
            for (int at = 0; at < text.Length;)
            {
                int end = text.IndexOf('\n', at) is >= 0 and var e ? e + 1 : text.Length;
                lines.Add(text[at..end]);
                at = end;
            }

            return lines;
        }
    }

    private sealed class WordChunks : IChunker
    {
        public IReadOnlyList<string> Chunk(string text) => [.. Word().Matches(text).Select(m => m.Value)];
    }

    // A command is one word; characters of two units stay whole.
    [GeneratedRegex(@"\\[A-Za-z@]+|[\p{L}\p{N}\p{M}]+|[^\S\n]+|[\uD800-\uDBFF][\uDC00-\uDFFF]|.", RegexOptions.Singleline)]
    private static partial Regex Word();
}
