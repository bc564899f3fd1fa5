using YoungFolio.Documents;
using YoungFolio.Documents.Mathematics;

namespace YoungFolio.Compiler.Changes;

/// <summary>Compares the flow block by block: equal ones stay, like ones are compared inside, the rest came in or went.</summary>
internal sealed class BlockComparison
{
    // Blocks that share fewer of their words than this are other blocks.
    private const double Likeness = 0.4;

    // Stretches longer than this are compared in their order rather than each with each.
    private const int MostPairs = 40_000;

    private readonly InlineComparison _words;
    private readonly CancellationToken _cancellation;

    public BlockComparison(InlineComparison words, CancellationToken cancellation)
    {
        _words = words;
        _cancellation = cancellation;
        words.Blocks = this;
        Tables = new TableComparison(words);
    }

    /// <summary>Compares tables.</summary>
    public TableComparison Tables { get; }

    /// <summary>The later blocks with what was taken out still among them.</summary>
    public IReadOnlyList<Block> Merge(IReadOnlyList<Block> earlier, IReadOnlyList<Block> later)
    {
        _cancellation.ThrowIfCancellationRequested();
        (List<Block> old, List<string> oldKeys) = Seen(earlier, _words.Before);
        (List<Block> now, List<string> keys) = Seen(later, _words.After);
        List<(int Before, int After)> same = SequenceAlignment.Align(oldKeys, keys);
        if (same.Count == old.Count && same.Count == now.Count)
        {
            return later;
        }

        var pairs = new List<(int Before, int After, bool Equal)>();
        int i = 0;
        int j = 0;
        foreach ((int a, int b) in same.Append((old.Count, now.Count)))
        {
            pairs.AddRange(Alike(oldKeys[i..a], keys[j..b]).Select(p => (p.Before + i, p.After + j, false)));
            if (b < now.Count)
            {
                pairs.Add((a, b, true));
            }

            i = a + 1;
            j = b + 1;
        }

        return Write(later, old, now, pairs);
    }

    private static (List<Block> Blocks, List<string> Keys) Seen(IReadOnlyList<Block> blocks, WordReader reader)
    {
        var seen = new List<Block>();
        var keys = new List<string>();
        foreach (Block block in blocks)
        {
            string key = reader.KeyOf(block);
            if (key.Length > 0)
            {
                seen.Add(block);
                keys.Add(key);
            }
        }

        return (seen, keys);
    }

    private List<Block> Write(IReadOnlyList<Block> later, List<Block> old, List<Block> now, List<(int Before, int After, bool Equal)> pairs)
    {
        var result = new List<Block>();
        int written = 0;
        int next = 0;
        int pair = 0;
        foreach (Block block in later)
        {
            bool isSeen = next < now.Count && ReferenceEquals(now[next], block);
            if (!isSeen)
            {
                result.Add(block);
                continue;
            }

            if (pair < pairs.Count && pairs[pair].After == next)
            {
                (int before, _, bool equal) = pairs[pair++];
                result.AddRange(Whole(old[written..before], ChangeKind.Deleted));
                result.Add(equal ? block : Merge(old[before], block));
                written = before + 1;
            }
            else
            {
                result.Add(Whole(block, ChangeKind.Inserted)!);
            }

            next++;
        }

        result.AddRange(Whole(old[written..], ChangeKind.Deleted));
        return result;
    }

    // The best pairs in order: those whose words together are most alike.
    private static List<(int Before, int After)> Alike(List<string> old, List<string> now)
    {
        var pairs = new List<(int, int)>();
        if (old.Count == 0 || now.Count == 0)
        {
            return pairs;
        }

        List<Dictionary<string, int>> oldBags = [.. old.Select(Bag)];
        List<Dictionary<string, int>> bags = [.. now.Select(Bag)];
        if ((long)old.Count * now.Count > MostPairs)
        {
            for (int i = 0; i < Math.Min(old.Count, now.Count); i++)
            {
                if (LikenessOf(i, i) >= Likeness)
                {
                    pairs.Add((i, i));
                }
            }

            return pairs;
        }

        var best = new double[old.Count + 1, now.Count + 1];
        var like = new double[old.Count, now.Count];
        for (int i = old.Count - 1; i >= 0; i--)
        {
            for (int j = now.Count - 1; j >= 0; j--)
            {
                like[i, j] = LikenessOf(i, j);
                double together = like[i, j] >= Likeness ? best[i + 1, j + 1] + like[i, j] : 0;
                best[i, j] = Math.Max(together, Math.Max(best[i + 1, j], best[i, j + 1]));
            }
        }

        for (int i = 0, j = 0; i < old.Count && j < now.Count;)
        {
            if (like[i, j] >= Likeness && best[i, j] == best[i + 1, j + 1] + like[i, j])
            {
                pairs.Add((i++, j++));
            }
            else if (best[i, j] == best[i + 1, j])
            {
                i++;
            }
            else
            {
                j++;
            }
        }

        return pairs;

        // Kinds must agree: keys begin with them.
        double LikenessOf(int i, int j) => old[i][0] == now[j][0] ? Share(oldBags[i], bags[j]) : 0;
    }

    private static Dictionary<string, int> Bag(string key)
    {
        var bag = new Dictionary<string, int>(StringComparer.Ordinal);
        foreach (string word in WordReader.WordsOf(key).Skip(1))
        {
            bag[word] = bag.GetValueOrDefault(word) + 1;
        }

        return bag;
    }

    // Dice's measure: twice what is common over the sum of both.
    private static double Share(Dictionary<string, int> one, Dictionary<string, int> other)
    {
        int common = one.Sum(w => Math.Min(w.Value, other.GetValueOrDefault(w.Key)));
        int all = one.Values.Sum() + other.Values.Sum();
        return all == 0 ? 1 : 2.0 * common / all;
    }

    private Block Merge(Block old, Block now) => (old, now) switch
    {
        (ParagraphBlock a, ParagraphBlock b) => b with
        {
            Content = _words.Merge(a.Content, b.Content),
            Label = a.Label is { } label && b.Label is { } newLabel ? newLabel with { Content = _words.Merge(label.Content, newLabel.Content) } : b.Label,
        },
        (HeadingBlock a, HeadingBlock b) => b with { Lines = Merge(a.Lines, b.Lines) },
        (DisplayBlock a, DisplayBlock b) => Merge(a, b),
        (GroupBlock a, GroupBlock b) => b with { Content = Merge(a.Content, b.Content) },
        (FloatBlock a, FloatBlock b) => b with { Content = Merge(a.Content, b.Content) },
        (WrapBlock a, WrapBlock b) => b with { Figure = b.Figure with { Content = Merge(a.Figure.Content, b.Figure.Content) } },
        (ColumnsBlock a, ColumnsBlock b) => b with { Content = Merge(a.Content, b.Content) },
        (SpanningBlock a, SpanningBlock b) => new SpanningBlock(Merge(a.Content, b.Content)),
        (TitlePageBlock a, TitlePageBlock b) => new TitlePageBlock(Merge(a.Content, b.Content)),
        (LongTableBlock a, LongTableBlock b) => b with { Table = Tables.Merge(a.Table, b.Table) },
        _ => now,
    };

    private DisplayBlock Merge(DisplayBlock old, DisplayBlock now)
    {
        var rows = new List<DisplayRow>();
        List<(int Before, int After)> same = SequenceAlignment.Align(
            [.. old.Rows.Select(_words.Before.KeyOf)], [.. now.Rows.Select(_words.After.KeyOf)]);
        int i = 0;
        int j = 0;
        foreach ((int a, int b) in same.Append((old.Rows.Count, now.Rows.Count)))
        {
            rows.AddRange(old.Rows.Skip(i).Take(a - i).Select(r => Whole(r, old.Style, ChangeKind.Deleted)));
            rows.AddRange(now.Rows.Skip(j).Take(b - j).Select(r => Whole(r, now.Style, ChangeKind.Inserted)));
            if (b < now.Rows.Count)
            {
                rows.Add(now.Rows[b]);
            }

            i = a + 1;
            j = b + 1;
        }

        return now with { Rows = rows };
    }

    private DisplayRow Whole(DisplayRow row, TextStyle style, ChangeKind kind)
    {
        List<MathList> cells = [.. row.Cells.Select(c => _words.Whole(c, style, kind))];
        return kind == ChangeKind.Inserted ? row with { Cells = cells } : row with { Cells = cells, Number = null, Anchor = null };
    }

    private FloatBlock Whole(FloatBlock figure, ChangeKind kind) =>
        figure with { Content = Whole(figure.Content, kind), Captions = kind == ChangeKind.Inserted ? figure.Captions : [] };

    /// <summary>Blocks that came in or were taken out.</summary>
    public IReadOnlyList<Block> Whole(IReadOnlyList<Block> blocks, ChangeKind kind) =>
        [.. blocks.Select(b => Whole(b, kind)).OfType<Block>()];

    // What was taken out isn't listed, numbered or referred to any more; page ends, styles and lists made by the compiler go.
    private Block? Whole(Block block, ChangeKind kind)
    {
        bool isIn = kind == ChangeKind.Inserted;
        return block switch
        {
            ParagraphBlock paragraph => paragraph with
            {
                Content = _words.Whole(paragraph.Content, kind),
                Label = paragraph.Label is { } label ? label with { Content = _words.Whole(label.Content, kind) } : null,
            },
            HeadingBlock heading => isIn
                ? heading with { Lines = Whole(heading.Lines, kind) }
                : new GroupBlock([new SpaceBlock(heading.SpaceAbove), .. Whole(heading.Lines, kind), new SpaceBlock(heading.SpaceBelow)]),
            DisplayBlock display => display with { Rows = [.. display.Rows.Select(r => Whole(r, display.Style, kind))] },
            GroupBlock group => group with { Content = Whole(group.Content, kind) },
            FloatBlock figure => Whole(figure, kind),
            WrapBlock wrap => wrap with { Figure = Whole(wrap.Figure, kind) },
            ColumnsBlock columns => columns with { Content = Whole(columns.Content, kind) },
            SpanningBlock across => new SpanningBlock(Whole(across.Content, kind)),
            TitlePageBlock title => new TitlePageBlock(Whole(title.Content, kind)),
            LongTableBlock table => table with { Table = Tables.Whole(table.Table, kind), Captions = isIn ? table.Captions : [] },
            SpaceBlock or PenaltyBlock => block,
            _ => isIn ? block : null,
        };
    }
}
