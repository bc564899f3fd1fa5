using YoungFolio.Compiler;
using YoungFolio.Manuscript.Making;
using YoungFolio.Server.Proofs;
using YoungFolio.Server.Security;
using YoungFolio.Storage;

namespace YoungFolio.Server.Api;

/// <summary>Markup that something is made of.</summary>
public sealed record MadeOf(string Text);

/// <summary>A table as it is to be, and the source that it was read from; null: there was none.</summary>
public sealed record MadeTable(TypedTable Table, string? Text);

/// <summary>What is made with help: tables as grids, formulas as they print. Nothing is stored here; the text is changed where it is written.</summary>
public static class MakingApi
{
    private const int LongestFormula = 4000;

    /// <summary>Adds the routes.</summary>
    public static void Map(RouteGroupBuilder api, RouteGroupBuilder manuscript)
    {
        RouteGroupBuilder making = api.MapGroup("/making");
        making.MapPost("/table", (MadeOf source) => IsShort(source.Text, TypedTable.LongestSource) ? Results.Ok(TypedTableSource.Read(source.Text)) : TooLong()).Produces<TypedTable>();
        making.MapPost("/cells", (MadeOf pasted) =>
        {
            if (!IsShort(pasted.Text, TypedTable.LongestSource))
            {
                return TooLong();
            }

            IReadOnlyList<IReadOnlyList<string>> cells = PastedCells.Read(pasted.Text);
            return cells.Count > TypedTable.MostRows || cells.Any(r => r.Count > TypedTable.MostColumns)
                ? Results.Json(new Problem($"A table takes at most {TypedTable.MostRows} rows and {TypedTable.MostColumns} columns. Copy fewer, or upload them as a .csv file."), statusCode: 409)
                : Results.Ok(TypedTable.Of(cells, PastedCells.HasHead(cells)));
        }).Produces<TypedTable>();
        making.MapPost("/table/source", (MadeTable made) =>
        {
            if (!IsWhole(made.Table))
            {
                return Results.Json(new Problem("This is no table that can be written."), statusCode: 400);
            }

            if (made.Text is not null && !IsShort(made.Text, TypedTable.LongestSource))
            {
                return TooLong();
            }

            try
            {
                return Results.Ok(new MadeOf(TypedTableSource.Write(made.Table, made.Text)));
            }
            catch (InvalidOperationException e)
            {
                return Results.Json(new Problem(e.Message), statusCode: 409);
            }
        }).Produces<MadeOf>();
        manuscript.MapPost("/formula", async (int id, MadeOf formula, ProofService proofs, CancellationToken stop) =>
            IsShort(formula.Text, LongestFormula) ? Results.Ok(await proofs.DrawAsync(id, formula.Text, stop)) : TooLong()).Needs(Role.Reader).Produces<FormulaDrawing>();
    }

    // What comes from outside may lack any of its parts.
    private static bool IsWhole(TypedTable? table) =>
        table is { Environment: not null, Columns.Count: > 0 and <= TypedTable.MostColumns, Rows.Count: <= TypedTable.MostRows, Below: not null }
        && table.Columns.All(c => c is { Before: not null, Kind: not null, After: not null }) && table.Below.All(l => l is not null)
        && table.Rows.All(r => r is { Above: not null, Cells.Count: <= TypedTable.MostColumns, End: not null } && r.Above.All(l => l is not null) && r.Cells.All(c => c is { Text: not null }));

    private static bool IsShort(string? text, int longest) => text is not null && text.Length <= longest;

    private static IResult TooLong() => Results.Json(new Problem("This is too large to be worked on here."), statusCode: 413);
}
