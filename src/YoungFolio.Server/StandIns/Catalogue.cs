using System.Globalization;
using YoungFolio.Bibliography;

namespace YoungFolio.Server.StandIns;

/// <summary>
/// A stand-in for a search service of publications: a few hundred made-up ones, asked over HTTP by words, author or identifier, answering
/// as BibTeX, RIS or CSL-JSON. What begins with “slow:” is answered after half a minute, with nothing, what begins with “fail:” by an error: so the
/// interface is tested with a service as services are.
/// </summary>
public static class Catalogue
{
    private static readonly string[] s_family =
        "Abney Brandreth Calloway Dunnock Eskdale Farrow Gildersome Harkness Ingleby Jessop Kettlewell Lowther Marske Nidd Orme Pell Quarmby Rook Sable Tansel Ulverley Vesterholm Wyke Yarrow Zetland Ståhl Müllner Ødegaard Lézard Łuczak".Split(' ');

    private static readonly string[] s_given = "Ada Bram Clem Dora Edith Fenn Greta Hal Ida Jo Kell Lena Mab Nora Odo Peter Quinn Rhoda Sten Una Vera Wilf".Split(' ');

    private static readonly string[] s_subjects =
        ["crustose lichens", "dry-stone walls", "upland pasture", "lime mortar", "quarry marks", "parish ledgers", "field boundaries", "slow growth", "north faces", "weathered granite", "sheep folds", "drystone repair", "moss and shade", "stone gate posts", "enclosure maps"];

    private static readonly string[] s_views =
        ["A survey of {0}", "{0} in the upper valley", "Measuring {0} with a hand lens", "What {0} remember", "Thirty years of {0}", "{0}: a second look", "On the age of {0}", "Notes on {0} after the flood", "Counting {0}", "How {0} change with height"];

    private static readonly string[] s_journals = ["Annals of Field Botany", "Journal of Upland Studies", "Stone and Season", "Quarterly of Slow Things", "Valley Records"];

    private static readonly string[] s_presses = ["Edgeway", "Hollin Edge Press", "Marrowby Record Society", "Three Gates"];

    private static readonly string[] s_types = ["article", "article", "article", "book", "incollection", "inproceedings", "phdthesis", "techreport", "dataset", "online"];

    /// <summary>All publications.</summary>
    public static IReadOnlyList<BibEntry> All { get; } = [.. Enumerable.Range(0, 320).Select(Make)];

    /// <summary>Adds the service's route.</summary>
    public static void Map(WebApplication app) => app.MapGet("/stand-ins/catalogue", async (HttpContext context, CatalogueKey key, string? q, string? author, string? id, string? format, int? limit, CancellationToken stop) =>
    {
        if (context.User.Identity?.IsAuthenticated != true && !key.IsIn(context.Request))
        {
            return Results.Json(new Problem("Sign in first."), statusCode: 401);
        }

        if (q?.StartsWith("slow:", StringComparison.OrdinalIgnoreCase) == true)
        {
            await Task.Delay(TimeSpan.FromSeconds(30), stop);
        }

        if (q?.StartsWith("fail:", StringComparison.OrdinalIgnoreCase) == true)
        {
            return Results.StatusCode(503);
        }

        List<BibEntry> found = [.. Find(q ?? "", author ?? "", id ?? "").Take(Math.Clamp(limit ?? 20, 1, 100))];
        return format switch
        {
            "ris" => Results.Text(Ris.Write(found), "application/x-research-info-systems"),
            "csl" => Results.Text(CslJson.Write(found), "application/vnd.citationstyles.csl+json"),
            _ => Results.Text(string.Join('\n', found.Select(e => SourceRecordOf(e).ToText())), "application/x-bibtex"),
        };
    }).ExcludeFromDescription();

    private static IEnumerable<BibEntry> Find(string words, string author, string id)
    {
        string[] wanted = words.Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries);
        return All.Where(e => (id.Length == 0 || e.Field("doi").Equals(id, StringComparison.OrdinalIgnoreCase))
            && (author.Length == 0 || Folded(e.Field("author")).Contains(Folded(author), StringComparison.Ordinal))
            && wanted.All(w => Folded(e.Field("title") + e.Field("author") + e.Field("year") + e.First("journal", "booktitle") + e.Field("doi")).Contains(Folded(w), StringComparison.Ordinal)));
    }

    private static string Folded(string text) => MarkupText.Folded(text);

    private static SourceRecord SourceRecordOf(BibEntry entry)
    {
        var record = new SourceRecord(entry.Type, entry.Key);
        foreach ((string name, string value) in entry.Fields)
        {
            record.Set(name, value);
        }

        return record;
    }

    private static BibEntry Make(int i)
    {
        // The same publications every time.
        var random = new Random(4_000 + i);
        string Pick(string[] list) => list[random.Next(list.Length)];
        string Name() => $"{Pick(s_family)}, {Pick(s_given)}";
        string type = s_types[i % s_types.Length];
        var fields = new Dictionary<string, string>();
        fields["author"] = string.Join(" and ", Enumerable.Range(0, 1 + random.Next(3)).Select(_ => Name()).Distinct());
        string title = string.Format(CultureInfo.InvariantCulture, Pick(s_views), Pick(s_subjects));
        fields["title"] = char.ToUpperInvariant(title[0]) + title[1..];
        int first = 1 + random.Next(300);
        string pages = $"{first}--{first + 4 + random.Next(30)}";
        switch (type)
        {
            case "article":
                fields["journal"] = Pick(s_journals);
                fields["volume"] = (1 + random.Next(60)).ToString(CultureInfo.InvariantCulture);
                fields["number"] = (1 + random.Next(4)).ToString(CultureInfo.InvariantCulture);
                fields["pages"] = pages;
                break;
            case "book":
                fields["publisher"] = Pick(s_presses);
                fields["address"] = "Marrowby";
                break;
            case "incollection":
                fields["booktitle"] = "Slow Things: Essays in Field Dating";
                fields["editor"] = Name();
                fields["publisher"] = Pick(s_presses);
                fields["pages"] = pages;
                break;
            case "inproceedings":
                fields["booktitle"] = $"Proceedings of the {SourceWords.For("en").Ordinal((3 + random.Next(20)).ToString(CultureInfo.InvariantCulture))} Meeting on Walls";
                fields["pages"] = pages;
                break;
            case "phdthesis":
                fields["school"] = "Marrowby College";
                break;
            case "techreport":
                fields["institution"] = "Marrow Walls Trust";
                fields["number"] = (1 + random.Next(90)).ToString(CultureInfo.InvariantCulture);
                break;
            case "dataset":
                fields["publisher"] = "Marrow Valley Archive";
                fields["version"] = "1." + random.Next(9).ToString(CultureInfo.InvariantCulture);
                break;
            default:
                fields["url"] = $"https://marrow-walls.example/notes/{i}";
                break;
        }

        fields["year"] = (1958 + random.Next(66)).ToString(CultureInfo.InvariantCulture);
        fields["doi"] = $"10.5555/marrow.{1000 + i}";
        var entry = new BibEntry(type, "", 0, fields);
        return entry with { Key = SourceRecord.MakeKey(entry, static _ => false) };
    }
}

/// <summary>With this the server asks its own stand-in, which answers nobody else but people who are signed in.</summary>
public sealed class CatalogueKey
{
    private const string Header = "Folio-House";

    private readonly string _value = Convert.ToHexString(System.Security.Cryptography.RandomNumberGenerator.GetBytes(32));

    /// <summary>Puts it into a request.</summary>
    public void AddTo(HttpRequestMessage request) => request.Headers.Add(Header, _value);

    /// <summary>Whether a request has it.</summary>
    public bool IsIn(HttpRequest request) => request.Headers[Header] == _value;
}
