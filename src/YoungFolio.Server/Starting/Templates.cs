using System.Reflection;
using System.Text;
using System.Text.Json;
using System.Text.RegularExpressions;
using YoungFolio.Manuscript.Making;
using YoungFolio.Manuscript.SettingUp;

namespace YoungFolio.Server.Starting;

/// <summary>What a manuscript may begin as.</summary>
/// <param name="Name">Its name: a folder under <c>templates/</c>.</param>
/// <param name="Title">What it is called.</param>
/// <param name="Says">What is in it.</param>
public sealed record TemplateView(string Name, string Title, string Says);

/// <summary>What is filled in where a manuscript begins; null or empty leaves what is there.</summary>
/// <param name="Title">Its title.</param>
/// <param name="Authors">Its authors, parted by commas or lines.</param>
/// <param name="Language">Its language, as babel names it.</param>
/// <param name="Paper">Its paper: a4, letter and so on.</param>
/// <param name="Institute">Where its authors are.</param>
/// <param name="Date">Its date.</param>
public sealed record Beginning(string? Title, string? Authors, string? Language, string? Paper, string? Institute = null, string? Date = null);

/// <summary>The templates that ship with the application: plain folders of markup, whose places are filled by their own settings.</summary>
public static partial class Templates
{
    /// <summary>The file from which compiling starts.</summary>
    public const string MainFile = "main.tex";

    private const string Prefix = "templates/";

    private static readonly Lazy<IReadOnlyDictionary<string, Template>> s_all = new(Read);

    private sealed record Template(int Order, int Page, TemplateView View, IReadOnlyDictionary<string, string> Texts);

    // The page that tells most of it: a title page tells little.
    private sealed record About(int Order, string Title, string Says, int Page = 1);

    /// <summary>The templates, in the order in which they are offered.</summary>
    public static IReadOnlyList<TemplateView> All => [.. s_all.Value.Values.OrderBy(t => t.Order).Select(t => t.View)];

    /// <summary>A template's texts by path; null: there is none of that name.</summary>
    public static IReadOnlyDictionary<string, string>? Find(string? name) => name is not null && s_all.Value.TryGetValue(name, out Template? template) ? template.Texts : null;

    /// <summary>The page that a template is shown by, from 1.</summary>
    public static int PageOf(string name) => s_all.Value[name].Page;

    /// <summary>Texts with what is known filled in, by the preamble's own settings; what can't be set there stays.</summary>
    /// <param name="texts">Texts by path.</param>
    /// <param name="main">The main file.</param>
    /// <param name="beginning">What is known.</param>
    public static IReadOnlyDictionary<string, string> Fill(IReadOnlyDictionary<string, string> texts, string main, Beginning beginning)
    {
        ArgumentNullException.ThrowIfNull(beginning);
        bool isLetter = SetUp.Of(texts, main).State(SettingCatalogue.Find("class")!).Value == "letter";
        string institute = PastedCells.Escape((beginning.Institute ?? "").Trim());
        // The institute is a line of its own below each name.
        string where = isLetter || institute.Length == 0 ? "" : $" \\\\ {institute} ";
        string authors = string.Join(isLetter ? ", " : "\\and ", (beginning.Authors ?? "").Split([',', '\n', ';'], StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries).Select(a => PastedCells.Escape(a) + where)).TrimEnd();
        if (!isLetter)
        {
            texts = With(With(With(texts, "title", PastedCells.Escape((beginning.Title ?? "").Trim())), "author", authors), "date", PastedCells.Escape((beginning.Date ?? "").Trim()));
        }
        else if (authors.Length > 0 && texts.TryGetValue(main, out string? letter))
        {
            texts = new Dictionary<string, string>(texts, StringComparer.Ordinal) { [main] = Signature().Replace(letter, _ => $"\\signature{{{authors}}}", 1) };
        }

        return With(With(texts, "language", beginning.Language ?? ""), "paper", beginning.Paper ?? "");

        IReadOnlyDictionary<string, string> With(IReadOnlyDictionary<string, string> now, string id, string value)
        {
            if (value.Length == 0)
            {
                return now;
            }

            try
            {
                return SetUp.Apply(now, SetUp.Of(now, main).Change(id, value));
            }
            catch (SetUpException)
            {
                // Where the preamble has no place for it, it is written there by hand.
                return now;
            }
        }
    }

    private static Dictionary<string, Template> Read()
    {
        var files = new Dictionary<string, Dictionary<string, string>>(StringComparer.Ordinal);
        Assembly assembly = typeof(Templates).Assembly;
        foreach (string resource in assembly.GetManifestResourceNames().Where(n => n.StartsWith(Prefix, StringComparison.Ordinal)))
        {
            string[] path = resource[Prefix.Length..].Replace('\\', '/').Split('/', 2);
            using var reader = new StreamReader(assembly.GetManifestResourceStream(resource)!, Encoding.UTF8);
            if (!files.TryGetValue(path[0], out Dictionary<string, string>? own))
            {
                files[path[0]] = own = new Dictionary<string, string>(StringComparer.Ordinal);
            }

            own[path[1]] = reader.ReadToEnd();
        }

        return files.ToDictionary(f => f.Key, f =>
        {
            About about = JsonSerializer.Deserialize<About>(f.Value["template.json"], JsonSerializerOptions.Web)!;
            f.Value.Remove("template.json");
            return new Template(about.Order, about.Page, new TemplateView(f.Key, about.Title, about.Says), f.Value);
        }, StringComparer.Ordinal);
    }

    [GeneratedRegex(@"\\signature\{[^{}]*\}")]
    private static partial Regex Signature();
}
