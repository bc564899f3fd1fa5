using System.Security.Claims;
using System.Text;
using Microsoft.EntityFrameworkCore;
using YoungFolio.Server.Proofs;
using YoungFolio.Storage;

namespace YoungFolio.Server.Api;

/// <summary>A manuscript on the shelf.</summary>
public sealed record ShelfEntry(int Id, string Title, string Description, int Revision, Role Role, IReadOnlyList<PersonView> People, int? Pages, int? Words, int? ToFix);

/// <summary>A part in a list.</summary>
public sealed record PartView(int Id, string Path, bool IsText, int Version);

/// <summary>A manuscript that is open.</summary>
public sealed record ManuscriptView(
    int Id, string Title, string Description, string MainPart, int Revision, Role Role, IReadOnlyList<PersonView> People, IReadOnlyList<PartView> Parts);

/// <summary>What to start.</summary>
/// <param name="Title">Its title.</param>
/// <param name="Kind">article or report.</param>
public sealed record NewManuscript(string Title, string Kind);

/// <summary>The shelf, and manuscripts as a whole.</summary>
public static class ManuscriptApi
{
    /// <summary>Adds the routes.</summary>
    public static void Map(RouteGroupBuilder api)
    {
        api.MapGet("/manuscripts", async (ClaimsPrincipal user, FolioDatabase database, ProofService proofs) =>
        {
            int person = user.PersonId();
            List<ManuscriptEntity> all = await database.Manuscripts.AsNoTracking().Include(m => m.Members).ThenInclude(m => m.Person)
                .Where(m => m.Members.Any(x => x.PersonId == person)).OrderBy(m => m.Id).ToListAsync();
            return all.Select(m =>
            {
                Proof? proof = proofs.Latest(m.Id);
                return new ShelfEntry(m.Id, m.Title, m.Description, m.Revision, m.Members.First(x => x.PersonId == person).Role, People(m),
                    proof?.Result.Report.Pages, proof?.Result.Report.Words, proof?.Result.Report.Findings.Count(f => f.Kind == "fix"));
            }).ToList();
        });
        api.MapPost("/manuscripts", async (NewManuscript wanted, ClaimsPrincipal user, ManuscriptStore store) =>
        {
            if (string.IsNullOrWhiteSpace(wanted.Title) || wanted.Title.Length > 200 || wanted.Kind is not ("article" or "report"))
            {
                return Results.Json(new Problem("Give the manuscript a title of at most 200 characters."), statusCode: 400);
            }

            ManuscriptEntity made = await store.CreateAsync(wanted.Title, wanted.Kind == "report" ? "thesis or report" : "article", "main.tex", user.PersonId(),
                [("main.tex", Encoding.UTF8.GetBytes(Beginning(wanted)))]);
            return Results.Ok(made.Id);
        }).Produces<int>();
        api.MapGet("/manuscripts/{id:int}", async (int id, ClaimsPrincipal user, FolioDatabase database, ManuscriptStore store) =>
        {
            if (await store.RoleOfAsync(id, user.PersonId()) is not { } role)
            {
                return NotYours();
            }

            ManuscriptEntity manuscript = await database.Manuscripts.AsNoTracking().Include(m => m.Members).ThenInclude(m => m.Person).FirstAsync(m => m.Id == id);
            IReadOnlyList<PartEntity> parts = await store.PartsAsync(id);
            return Results.Ok(new ManuscriptView(id, manuscript.Title, manuscript.Description, manuscript.MainPart, manuscript.Revision, role, People(manuscript),
                [.. parts.Select(PartApi.View)]));
        }).Produces<ManuscriptView>();
    }

    /// <summary>The answer about a manuscript that isn't there, or isn't theirs: the same, so that it tells nothing.</summary>
    internal static IResult NotYours() => Results.Json(new Problem("There is no such manuscript on your shelf."), statusCode: 404);

    private static List<PersonView> People(ManuscriptEntity manuscript) =>
        [.. manuscript.Members.OrderByDescending(m => m.Role).Select(m => SessionApi.View(m.Person!))];

    private static string Beginning(NewManuscript wanted)
    {
        string title = string.Concat(wanted.Title.Trim().Select(c => c is '#' or '$' or '%' or '&' or '_' or '{' or '}' ? "\\" + c : c.ToString()));
        string first = wanted.Kind == "report" ? "\\chapter{The first chapter}" : "\\section{The first section}";
        return $"\\documentclass[11pt,a4paper]{{{wanted.Kind}}}\n\\usepackage[british]{{babel}}\n\\usepackage{{graphicx}}\n\\usepackage{{amsmath}}\n\n"
            + $"\\title{{{title}}}\n\\author{{Your name}}\n\n\\begin{{document}}\n\\maketitle\n\n{first}\nBegin to write here.\n\n\\end{{document}}\n";
    }
}
