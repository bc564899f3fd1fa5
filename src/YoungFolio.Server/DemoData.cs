using Microsoft.EntityFrameworkCore;
using YoungFolio.Server.Proofs;
using YoungFolio.Storage;

namespace YoungFolio.Server;

/// <summary>Fills an empty database with the demo people and manuscripts.</summary>
internal static class DemoData
{
    private static readonly (string Folder, string Title, string Description, Role[] Roles)[] s_manuscripts =
    [
        ("thesis", "Reading Walls by Lichen", "MSc thesis · Hollin Edge field group", [Role.Owner, Role.Author, Role.Reviewer, Role.Reader]),
        ("article", "Shade and Slow Growth", "article · Hollin Edge field group", [Role.Author, Role.Owner, Role.Reviewer, Role.Reader]),
        ("letter", "To the Marrow Walls Trust", "letter · Hollin Edge field group", [Role.Owner, Role.Author, Role.Reader, Role.Reader]),
        ("book", "A Field Book of Walls", "book · Hollin Edge field group", [Role.Author, Role.Owner, Role.Author, Role.Reader]),
    ];

    public static async Task FillAsync(IServiceProvider services, string folder)
    {
        FolioDatabase database = services.GetRequiredService<FolioDatabase>();
        if (!await database.People.AnyAsync())
        {
            Person[] people =
            [
                new() { Name = "Ilse Marrable", Colour = "#34567a", IsDemo = true },
                new() { Name = "Bao Tremlett", Colour = "#4f7350", IsDemo = true },
                new() { Name = "Anton Quill", Colour = "#6d4a7e", IsDemo = true },
                new() { Name = "Perpetua Vane", Colour = "#8a5a12", IsDemo = true },
            ];
            database.People.AddRange(people);
            await database.SaveChangesAsync();
            ManuscriptStore store = services.GetRequiredService<ManuscriptStore>();
            foreach ((string name, string title, string description, Role[] roles) in s_manuscripts)
            {
                string root = Path.Combine(folder, name);
                var parts = Directory.EnumerateFiles(root, "*", SearchOption.AllDirectories).Order(StringComparer.Ordinal)
                    .Select(f => (Path.GetRelativePath(root, f).Replace('\\', '/'), File.ReadAllBytes(f))).ToList();
                int owner = people[Array.IndexOf(roles, Role.Owner)].Id;
                ManuscriptEntity made = await store.CreateAsync(title, description, "main.tex", owner, parts);
                for (int i = 0; i < people.Length; i++)
                {
                    if (roles[i] != Role.Owner)
                    {
                        database.Memberships.Add(new Membership { ManuscriptId = made.Id, PersonId = people[i].Id, Role = roles[i] });
                    }
                }

                await database.SaveChangesAsync();
            }
        }

        // First proofs are made at once, so that the shelf shows them.
        foreach (int id in await database.Manuscripts.Select(m => m.Id).ToListAsync())
        {
            services.GetRequiredService<ProofService>().Request(id);
        }
    }
}
