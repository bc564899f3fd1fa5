namespace YoungFolio.Documents;

/// <summary>A family of type that ships with the project.</summary>
/// <param name="Name">Its name here: <c>pagella</c>.</param>
/// <param name="Kind">What it is used for.</param>
/// <param name="Shown">Its name for people.</param>
/// <param name="Codes">Codes that markup asks for it by (<c>\fontfamily</c>), and those of families that it stands in for.</param>
/// <param name="Names">Names that <c>\setmainfont</c> and kin may give, and those of families of the same widths.</param>
public sealed record Typeface(string Name, FontFamily Kind, string Shown, IReadOnlyList<string> Codes, IReadOnlyList<string> Names);

/// <summary>The typefaces of a document.</summary>
/// <param name="Roman">For <c>\rmfamily</c>.</param>
/// <param name="Sans">For <c>\sffamily</c>.</param>
/// <param name="Mono">For <c>\ttfamily</c>.</param>
/// <param name="Mathematics">For formulas: a family that has a mathematics companion.</param>
public sealed record TypefaceSet(string Roman, string Sans, string Mono, string Mathematics)
{
    /// <summary>What is set when the preamble says nothing.</summary>
    public static TypefaceSet Default { get; } = new("modern", "modernsans", "modernmono", "modern");

    /// <summary>The typeface of a style.</summary>
    public string Of(TextStyle style) => style.Face ?? style.Family switch { FontFamily.Sans => Sans, FontFamily.Mono => Mono, _ => Roman };
}

/// <summary>The typefaces that ship.</summary>
public static class TypefaceCatalogue
{
    /// <summary>All of them. Codes are those of the trade's font selection scheme (common practice, from memory).</summary>
    public static IReadOnlyList<Typeface> All { get; } =
    [
        new("pagella", FontFamily.Roman, "Pagella", ["ppl", "qpl", "pplx", "pplj", "zpl"], ["tex gyre pagella", "texgyrepagella", "palatino", "palatino linotype", "book antiqua"]),
        new("termes", FontFamily.Roman, "Termes", ["ptm", "qtm", "ptmx", "ztm"], ["tex gyre termes", "texgyretermes", "times", "times new roman", "liberation serif"]),
        new("bonum", FontFamily.Roman, "Bonum", ["pbk", "qbk"], ["tex gyre bonum", "texgyrebonum", "bookman", "bookman old style"]),
        new("schola", FontFamily.Roman, "Schola", ["pnc", "qcs"], ["tex gyre schola", "texgyreschola", "century schoolbook", "new century schoolbook"]),
        new("chorus", FontFamily.Roman, "Chorus", ["pzc", "qzc"], ["tex gyre chorus", "texgyrechorus"]),
        new("modern", FontFamily.Roman, "Latin Modern Roman", ["lmr", "cmr"], ["latin modern roman", "lmroman10", "lmroman10-regular", "cmu serif", "computer modern"]),
        new("heros", FontFamily.Sans, "Heros", ["phv", "qhv"], ["tex gyre heros", "texgyreheros", "helvetica", "arial", "liberation sans"]),
        new("adventor", FontFamily.Sans, "Adventor", ["pag", "qag"], ["tex gyre adventor", "texgyreadventor", "avant garde"]),
        new("modernsans", FontFamily.Sans, "Latin Modern Sans", ["lmss", "cmss"], ["latin modern sans", "lmsans10", "lmsans10-regular", "cmu sans serif"]),
        new("cursor", FontFamily.Mono, "Cursor", ["pcr", "qcr"], ["tex gyre cursor", "texgyrecursor", "courier", "courier new", "liberation mono"]),
        new("modernmono", FontFamily.Mono, "Latin Modern Mono", ["lmtt", "cmtt", "lmvtt"], ["latin modern mono", "lmmono10", "lmmono10-regular", "cmu typewriter text"]),
    ];

    /// <summary>The typeface of a code, or null.</summary>
    public static Typeface? ByCode(string code) => All.FirstOrDefault(t => t.Codes.Contains(code));

    /// <summary>The typeface that a name means, or null.</summary>
    public static Typeface? ByName(string name) => All.FirstOrDefault(t => t.Names.Contains(name.Trim().ToLowerInvariant()));

    /// <summary>The family with a mathematics companion that goes with a text family.</summary>
    public static string MathematicsOf(string roman) => roman is "chorus" ? "pagella" : roman;
}
