using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using YoungFolio.Storage;

namespace YoungFolio.Server;

/// <summary>Fills an empty database with the demo people and manuscripts.</summary>
internal static class DemoData
{
    private static readonly (string Name, string Email, string Colour)[] s_people =
    [
        ("Ilse Marrable", "ilse.marrable@hollin-edge.example", "#34567a"),
        ("Bao Tremlett", "bao.tremlett@hollin-edge.example", "#4f7350"),
        ("Anton Quill", "anton.quill@hollin-edge.example", "#6d4a7e"),
        ("Perpetua Vane", "perpetua.vane@hollin-edge.example", "#8a5a12"),
    ];

    private const string HouseRulesOfSchool = """
        { "paper": "a4", "inner": 25, "outer": 20, "top": 20, "bottom": 20, "leastText": 10.5, "leastType": 7, "mostPages": 60, "fewestAbstractWords": 100, "mostAbstractWords": 400, "wantsAlternatives": true }
        """;

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
        ManuscriptStores stores = services.GetRequiredService<ManuscriptStores>();
        if (!await database.Users.AnyAsync())
        {
            UserManager<Person> accounts = services.GetRequiredService<UserManager<Person>>();
            var people = new List<int>();
            foreach ((string name, string email, string colour) in s_people)
            {
                // Without a password: they come in with a click, in demo mode only.
                var person = new Person { Name = name, Email = email, UserName = email, Colour = colour, IsDemo = true, EmailConfirmed = true };
                await accounts.CreateAsync(person);
                people.Add(person.Id);
            }

            foreach ((string name, string title, string description, Role[] roles) in s_manuscripts)
            {
                List<(string Path, byte[] Bytes)> files = ReadFiles(Path.Combine(folder, name));
                int owner = people[Array.IndexOf(roles, Role.Owner)];
                ManuscriptEntity made = name == "thesis"
                    ? await DemoHistory.WriteAsync(stores, title, description, people, files, DateTime.UtcNow)
                    : await stores.Manuscripts.CreateAsync(title, description, "main.tex", new Actor(owner), files);
                for (int i = 0; i < people.Count; i++)
                {
                    if (roles[i] != Role.Owner)
                    {
                        database.Memberships.Add(new Membership { ManuscriptId = made.Id, PersonId = people[i], Role = roles[i], SeenRevision = made.Revision, SeenAt = DateTime.UtcNow });
                    }
                }

                if (name == "thesis")
                {
                    made = await database.Manuscripts.SingleAsync(m => m.Id == made.Id);
                    made.Deadline = DateOnly.FromDateTime(DateTime.Now).AddDays(18);
                    // The house that it is handed in to, as the group sees it: saved by who supervises it.
                    var house = new SavedRules { Name = "School of Hollin Edge, MSc theses", PersonId = people[3], At = DateTime.UtcNow, Values = HouseRulesOfSchool };
                    database.SavedRules.Add(house);
                    await database.SaveChangesAsync();
                    made.Rules = house.Id.ToString(System.Globalization.CultureInfo.InvariantCulture);
                }

                await database.SaveChangesAsync();
                if (name == "thesis")
                {
                    await DemoHistory.SetSeenAsync(database, made.Id, people);
                    await DemoHistory.SetPinsAsync(database, services.GetRequiredService<ChronicleStore>(), made.Id, people);
                    await DemoHistory.SetNotesAsync(stores, services.GetRequiredService<NoteStore>(), made.Id, people);
                    await DemoHistory.SetTalkAsync(stores, services.GetRequiredService<TalkStore>(), made.Id, people);
                    await DemoHistory.SetSuggestionsAsync(stores, services.GetRequiredService<NoteStore>(), made.Id, people);
                }
            }
        }
    }

    private static List<(string Path, byte[] Bytes)> ReadFiles(string root) =>
        [.. Directory.EnumerateFiles(root, "*", SearchOption.AllDirectories).Order(StringComparer.Ordinal)
            .Select(f => (Path.GetRelativePath(root, f).Replace('\\', '/'), File.ReadAllBytes(f)))];
}
