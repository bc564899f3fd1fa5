namespace YoungFolio.Manuscript.Making;

/// <summary>A column as it is typed in a table's beginning.</summary>
/// <param name="Before">What stands before its letter: lines, <c>@{…}</c>, <c>&gt;{…}</c>.</param>
/// <param name="Kind">Its letter, with what belongs to it: <c>l</c>, <c>p{3cm}</c>.</param>
/// <param name="After">What stands behind it: <c>&lt;{…}</c>, and after the last column its lines.</param>
public sealed record TypedColumn(string Before, string Kind, string After);

/// <summary>A cell as it is typed.</summary>
/// <param name="Text">Its markup, in one line.</param>
/// <param name="Columns">How many columns it takes.</param>
/// <param name="Align">How it stands when it takes several, as in <c>\multicolumn</c>; null: as its column says.</param>
/// <param name="Rows">How many rows it takes (<c>\multirow</c>).</param>
public sealed record TypedCell(string Text, int Columns = 1, string? Align = null, int Rows = 1);

/// <summary>A row as it is typed.</summary>
/// <param name="Above">Lines, spaces and comments before it, each as typed.</param>
/// <param name="Cells">Its cells; there may be fewer than columns.</param>
/// <param name="End">What ends it, with what belongs to that: <c>\\</c>, <c>\\[2pt]</c>; empty after a last row.</param>
/// <param name="Origin">Which row of the source it was, from 0; null: a new one.</param>
public sealed record TypedRow(IReadOnlyList<string> Above, IReadOnlyList<TypedCell> Cells, string End, int? Origin = null);

/// <summary>A table as it is typed, as far as a grid can show it: what the grid doesn't know stays in cells and lines as it is.</summary>
/// <param name="Environment">The environment: <c>tabular</c>, <c>tabularx</c> and their kin.</param>
/// <param name="Columns">Its columns.</param>
/// <param name="Rows">Its rows.</param>
/// <param name="Below">Lines and comments after the last row.</param>
/// <param name="Obstacle">Why it can only be looked at, in words for people; null: it can be changed.</param>
public sealed record TypedTable(string Environment, IReadOnlyList<TypedColumn> Columns, IReadOnlyList<TypedRow> Rows, IReadOnlyList<string> Below, string? Obstacle)
{
    /// <summary>Rows that a grid takes.</summary>
    public const int MostRows = 400;

    /// <summary>Columns that a grid takes.</summary>
    public const int MostColumns = 60;

    /// <summary>Characters of source that a grid takes.</summary>
    public const int LongestSource = 200_000;

    /// <summary>The environments that a grid knows.</summary>
    public static IReadOnlyList<string> Environments { get; } = ["tabular", "tabular*", "tabularx", "tabulary", "array", "longtable"];

    /// <summary>
    /// A table of plain cells with lines as books have them: above, below the heads and at the end. Columns in which there are numbers alone
    /// stand to the right (common practice: digits of the same weight below each other).
    /// </summary>
    /// <param name="cells">The cells' words, row by row; signs of markup among them print as they are.</param>
    /// <param name="hasHead">Whether the first row holds the heads.</param>
    public static TypedTable Of(IReadOnlyList<IReadOnlyList<string>> cells, bool hasHead)
    {
        ArgumentNullException.ThrowIfNull(cells);
        int width = cells.Count == 0 ? 0 : cells.Max(r => r.Count);
        List<TypedColumn> columns = [.. Enumerable.Range(0, width).Select(c => new TypedColumn("", cells.Skip(hasHead ? 1 : 0).Select(r => r.ElementAtOrDefault(c) ?? "") is var all && PastedCells.AreNumbers(all) ? "r" : "l", ""))];
        List<TypedRow> rows = [.. cells.Select((r, i) => new TypedRow(
            i == 0 ? ["\\toprule"] : i == 1 && hasHead ? ["\\midrule"] : [],
            [.. Enumerable.Range(0, width).Select(c => new TypedCell(PastedCells.Escape(r.ElementAtOrDefault(c) ?? "")))], "\\\\"))];
        return new TypedTable("tabular", columns, rows, rows.Count == 0 ? [] : ["\\bottomrule"], null);
    }
}
