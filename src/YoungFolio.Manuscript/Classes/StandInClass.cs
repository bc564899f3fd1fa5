using YoungFolio.Manuscript.Building;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Classes;

/// <summary>
/// One of ours that stands in for a class that doesn't ship: the same commands, with the page of the standard class that it is
/// based on. Each family is a file of markup whose first lines say which names it stands in for, and on what it is built.
/// </summary>
public sealed class StandInClass : DocumentClass
{
    // What all of them share, and the families.
    private const string Shared = "shared.tex";

    private static readonly string[] s_files =
        ["IEEEtran.tex", "elsarticle.tex", "llncs.tex", "acmart.tex", "revtex.tex", "aastex.tex", "mnras.tex", "aa.tex", "springer-nature.tex", "iopart.tex", "mdpi.tex",
            "beamer.tex", "exam.tex", "memoir.tex", "moderncv.tex", "scrlttr2.tex", "sphinx.tex", "sphinx-howto.tex", "extended.tex", "extended-report.tex", "extended-book.tex"];

    private static readonly Lazy<IReadOnlyDictionary<string, (string File, IReadOnlyDictionary<string, string[]> Facts)>> s_families = new(ReadFamilies);

    private readonly DocumentClass _base;
    private readonly IReadOnlyDictionary<string, string[]> _facts;
    private readonly string _file;

    private StandInClass(string name, string file, IReadOnlyDictionary<string, string[]> facts)
    {
        Name = name;
        _file = file;
        _facts = facts;
        _base = ClassCatalogue.Find(Fact("base").FirstOrDefault() ?? "article") ?? new ArticleClass();
    }

    /// <summary>What stands in for a class, or null.</summary>
    public static StandInClass? Find(string name) =>
        s_families.Value.TryGetValue(name, out var family) ? new StandInClass(name, family.File, family.Facts) : null;

    /// <summary>The names of all classes that one stands in for.</summary>
    public static IEnumerable<string> Names => s_families.Value.Keys;

    /// <inheritdoc/>
    public override string Name { get; }

    /// <summary>The class whose page it has.</summary>
    public string Base => _base.Name;

    /// <inheritdoc/>
    public override string Purpose => $"Stands in for a class that doesn't ship, with the page of {_base.Name}.";

    /// <inheritdoc/>
    public override bool HasChapters => _base.HasChapters;

    /// <inheritdoc/>
    public override bool HasTitlePage => _base.HasTitlePage;

    /// <inheritdoc/>
    public override bool IsTwoSided => _base.IsTwoSided;

    /// <inheritdoc/>
    public override bool OpensRight => _base.OpensRight;

    /// <inheritdoc/>
    public override string PageStyle => _base.PageStyle;

    /// <inheritdoc/>
    public override int NumberDepth => _base.NumberDepth;

    /// <inheritdoc/>
    public override int ContentsDepth => _base.ContentsDepth;

    /// <inheritdoc/>
    public override IReadOnlyList<HeadingStyle> Headings => _base.Headings;

    /// <inheritdoc/>
    public override string Definitions => _base.Definitions;

    /// <inheritdoc/>
    public override IReadOnlyList<(string Counter, string? Within)> Counters => _base.Counters;

    /// <inheritdoc/>
    public override (double HeadSeparation, double FootSkip) HeadAndFoot(int basicSize) => _base.HeadAndFoot(basicSize);

    /// <summary>Loads files of definitions that ship, after what all of them share.</summary>
    internal static void Load(DocumentBuilder builder, params IEnumerable<string> files)
    {
        foreach (string file in (IEnumerable<string>)[Shared, .. files])
        {
            builder.Machine.Definitions.Load(Text(file));
        }
    }

    internal override void Extend(DocumentBuilder builder)
    {
        _base.Extend(builder);
        foreach (string package in (string[])["url", .. Fact("packages")])
        {
            string[] parts = package.TrimEnd(']').Split('[');
            builder.Preamble.LoadPackage(parts[0], ListedOption.Of(builder.Machine, builder.Machine.Tokenize(parts.ElementAtOrDefault(1) ?? "", PositionTable.None)), Token.Command(builder.Machine.Par, PositionTable.None), 1);
        }

        Load(builder, [.. Fact("with"), _file]);
    }

    /// <summary>Whether it sets two columns with these options.</summary>
    internal bool HasTwoColumns(IEnumerable<string> options)
    {
        var given = options.ToHashSet(StringComparer.Ordinal);
        return Fact("options").Contains("twocolumn") ? !given.Overlaps(Fact("one-column")) : given.Overlaps(Fact("two-column")) || Fact("two-column").Contains(Name);
    }

    private string[] Fact(string name) => _facts.GetValueOrDefault(name, []);

    private static string Text(string file) => ShippedText.Of(typeof(StandInClass).Assembly, file);

    // “% names: a b” and its like, up to the first line that is something else.
    private static Dictionary<string, (string File, IReadOnlyDictionary<string, string[]> Facts)> ReadFamilies()
    {
        var families = new Dictionary<string, (string File, IReadOnlyDictionary<string, string[]> Facts)>(StringComparer.Ordinal);
        foreach (string file in s_files)
        {
            Dictionary<string, string[]> facts = Text(file).Split('\n').TakeWhile(static l => l.StartsWith("% ", StringComparison.Ordinal))
                .Select(static l => l[2..].Split(':', 2)).ToDictionary(static p => p[0].Trim(), static p => p[1].Split(' ', StringSplitOptions.RemoveEmptyEntries), StringComparer.Ordinal);
            foreach (string name in facts["names"])
            {
                families[name] = (file, facts);
            }
        }

        return families;
    }
}
