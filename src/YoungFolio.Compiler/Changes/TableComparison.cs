using YoungFolio.Documents;

namespace YoungFolio.Compiler.Changes;

/// <summary>Compares tables row by row, and rows cell by cell.</summary>
internal sealed class TableComparison(InlineComparison words)
{
    // Rows that share fewer cells than this share are other rows.
    private const double Likeness = 0.34;

    /// <summary>The later table with rows that were taken out still in it.</summary>
    public Table Merge(Table old, Table now)
    {
        // With other columns no cell stands where it stood: all of the later table is new.
        if (old.Columns.Count != now.Columns.Count)
        {
            return Whole(now, ChangeKind.Inserted);
        }

        List<TableRow> oldRows = [.. old.Items.OfType<TableRow>()];
        List<TableRow> rows = [.. now.Items.OfType<TableRow>()];
        List<(int Before, int After)> same = SequenceAlignment.Align([.. oldRows.Select(words.Before.KeyOf)], [.. rows.Select(words.After.KeyOf)]);
        var shown = new Dictionary<TableRow, List<TableRow>>(ReferenceEqualityComparer.Instance);
        var last = new List<TableRow>();
        int i = 0;
        int j = 0;
        foreach ((int a, int b) in same.Append((oldRows.Count, rows.Count)))
        {
            List<TableRow> waiting = [];
            while (j < b)
            {
                int like = oldRows.FindIndex(i, a - i, r => Share(r, rows[j]) >= Likeness);
                if (like >= 0)
                {
                    waiting.AddRange(oldRows[i..like].Select(r => Whole(r, ChangeKind.Deleted)));
                    waiting.Add(Merge(oldRows[like], rows[j]));
                    i = like + 1;
                }
                else
                {
                    waiting.Add(Whole(rows[j], ChangeKind.Inserted));
                }

                shown[rows[j]] = waiting;
                waiting = [];
                j++;
            }

            List<TableRow> gone = [.. oldRows[i..a].Select(r => Whole(r, ChangeKind.Deleted))];
            if (b < rows.Count)
            {
                shown[rows[b]] = [.. gone, rows[b]];
            }
            else
            {
                last = gone;
            }

            i = a + 1;
            j = b + 1;
        }

        var items = new List<TableItem>();
        foreach (TableItem item in now.Items)
        {
            items.AddRange(item is TableRow row ? shown[row] : [item]);
        }

        // Rows gone from the end stand above the line that closes the table.
        int foot = items.FindLastIndex(x => x is TableRow) + 1;
        items.InsertRange(foot, last);
        return now with { Items = items };
    }

    /// <summary>A table that came in or was taken out.</summary>
    public Table Whole(Table table, ChangeKind kind) =>
        table with { Items = [.. table.Items.Select(i => i is TableRow row ? Whole(row, kind) : i)] };

    private double Share(TableRow old, TableRow now)
    {
        if (old.Across is not null || now.Across is not null)
        {
            return old.Across is not null && now.Across is not null ? 1 : 0;
        }

        List<string> keys = [.. now.Cells.Select(words.After.KeyOf)];
        int common = old.Cells.Zip(keys).Count(p => words.Before.KeyOf(p.First) == p.Second);
        return (double)common / Math.Max(1, Math.Max(old.Cells.Count, keys.Count));
    }

    private TableRow Merge(TableRow old, TableRow now)
    {
        if (old.Across is { } before && now.Across is { } after)
        {
            return now with { Across = words.Blocks.Merge(before, after) };
        }

        return old.Cells.Count == now.Cells.Count
            ? now with { Cells = [.. old.Cells.Zip(now.Cells).Select(p => Merge(p.First, p.Second))] }
            : Whole(now, ChangeKind.Inserted);
    }

    private TableCell Merge(TableCell old, TableCell now)
    {
        if (words.Before.KeyOf(old) == words.After.KeyOf(now))
        {
            return now;
        }

        if (old.Blocks is { } before && now.Blocks is { } after)
        {
            return now with { Blocks = words.Blocks.Merge(before, after) };
        }

        // A number's two halves are compared as one, and stand where the new one's sign stands.
        return now.Decimals is null && old.Decimals is null
            ? now with { Content = words.Merge(old.Content, now.Content) }
            : now with
            {
                Content = [.. words.Whole([.. old.Content, .. old.Decimals ?? []], ChangeKind.Deleted), .. words.Whole(now.Content, ChangeKind.Inserted)],
                Decimals = now.Decimals is { } decimals ? words.Whole(decimals, ChangeKind.Inserted) : null,
            };
    }

    private TableRow Whole(TableRow row, ChangeKind kind) => row with
    {
        Across = row.Across is { } across ? words.Blocks.Whole(across, kind) : null,
        Cells = [.. row.Cells.Select(c => c with
        {
            Content = words.Whole(c.Content, kind),
            Decimals = c.Decimals is { } decimals ? words.Whole(decimals, kind) : null,
            Blocks = c.Blocks is { } blocks ? words.Blocks.Whole(blocks, kind) : null,
        })],
        Notes = kind == ChangeKind.Inserted ? row.Notes : [],
    };
}
