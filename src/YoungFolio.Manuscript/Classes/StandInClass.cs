using YoungFolio.Manuscript.Building;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Classes;

/// <summary>
/// One of ours that stands in for a class that doesn't ship: the same commands, with the page of the standard class that it is
/// based on. Each family is a file of markup whose first lines say which names it stands in for, and on what it is built.
/// </summary>
public sealed class StandInClass
{
    private static readonly string[] s_files =
        ["IEEEtran.tex", "elsarticle.tex", "llncs.tex", "acmart.tex", "revtex.tex", "aastex.tex", "mnras.tex", "aa.tex", "sn-jnl.tex", "iopart.tex", "mdpi.tex",
            "beamer.tex", "exam.tex", "memoir.tex", "moderncv.tex", "scrlttr2.tex", "sphinx.tex", "sphinx-howto.tex", "extended.tex", "extended-report.tex", "extended-book.tex",
            "tufte-handout.tex", "tufte-book.tex", "tikzposter.tex"];

    private static readonly Lazy<Dictionary<string, StandInClass>> s_byName = new(() => s_files.Select(static f => new StandInClass(f))
        .SelectMany(static c => c.Fact("names").Select(n => (Name: n, Class: c))).ToDictionary(static p => p.Name, static p => p.Class, StringComparer.Ordinal));

    private readonly string _file;
    private readonly Dictionary<string, string[]> _facts;

    // “% names: a b” and its like, up to the first line that is something else.
    private StandInClass(string file)
    {
        _file = file;
        _facts = Text(file).Split('\n').TakeWhile(static l => l.StartsWith("% ", StringComparison.Ordinal) && l.Contains(": ", StringComparison.Ordinal))
            .Select(static l => l[2..].Split(':', 2)).ToDictionary(static p => p[0], static p => p[1].Split(' ', StringSplitOptions.RemoveEmptyEntries), StringComparer.Ordinal);
        Base = ClassCatalogue.Find(Fact("base")[0]) ?? throw new InvalidOperationException($"{file} is based on a class that there isn't.");
    }

    /// <summary>What stands in for a class, or null.</summary>
    public static StandInClass? Find(string name) => s_byName.Value.GetValueOrDefault(name);

    /// <summary>The names of all classes that one stands in for.</summary>
    public static IEnumerable<string> Names => s_byName.Value.Keys;

    /// <summary>The class whose page it has.</summary>
    public DocumentClass Base { get; }

    /// <summary>Whether its margins, columns and headings are about those of the class that it stands in for.</summary>
    public bool HasOwnPage => Fact("page") is ["own"];

    /// <summary>Loads files of definitions that ship, after what all of them share.</summary>
    internal static void Load(DocumentBuilder builder, params IEnumerable<string> files)
    {
        foreach (string file in (IEnumerable<string>)["shared.tex", .. files])
        {
            builder.Machine.Definitions.Load(Text(file));
        }
    }

    /// <summary>Gives a document, which has its base, what it has beyond it.</summary>
    internal void Extend(DocumentBuilder builder)
    {
        foreach (string package in (string[])["url", .. Fact("packages")])
        {
            // name[options]
            string[] parts = package.TrimEnd(']').Split('[');
            List<Token> options = [.. builder.Machine.Tokenize(parts.ElementAtOrDefault(1) ?? "", PositionTable.None)];
            builder.Preamble.LoadPackage(parts[0], ListedOption.Of(builder.Machine, options), Token.Command(builder.Machine.Par, PositionTable.None), 1);
        }

        Load(builder, [.. Fact("with"), _file]);
    }

    /// <summary>Whether it sets two columns, by its name and these options.</summary>
    internal bool HasTwoColumns(IEnumerable<string> given) => Fact("two-columns") switch
    {
        ["if", .. string[] any] => given.Intersect(any).Any(),
        ["unless", .. string[] any] => !given.Intersect(any).Any(),
        _ => false,
    };

    private string[] Fact(string name) => _facts.GetValueOrDefault(name, []);

    private static string Text(string file) => ShippedText.Of(typeof(StandInClass).Assembly, file);
}
