using YoungFolio.Documents;

namespace YoungFolio.Manuscript.Packages;

/// <summary>Packages for fonts and encodings. Text is Unicode throughout, so encodings need nothing.</summary>
internal static class FontPackages
{
    public static IReadOnlyList<Package> All { get; } =
    [
        new("fontenc", "Font encodings; text is Unicode here, so it needs none."),
        new("inputenc", "The encoding of the files, which is UTF-8.")
        {
            Load = static load =>
            {
                foreach (Building.ListedOption option in load.Options.Where(o => o.Key is not ("utf8" or "utf8x")))
                {
                    load.Builder.Findings.Check("other-encoding", option.Position, option.Length, $"Files are read as UTF-8, not as {option.Key}.",
                        "Store the files as UTF-8 and write utf8 here, or leave the package out.");
                }
            },
        },
        new("textcomp", "Signs for text, such as \\texteuro; they are always there."),
        new("cmap", "Text that copies from the PDF; it always does."),
        .. Families,
        new("upquote", "Straight quotation marks in typed text; they always are."),
        new("relsize", "Larger and smaller type, relative to the text around.")
        {
            Commands = ["larger", "smaller", "relsize", "textlarger", "textsmaller"],
            Load = static load => load.Builder.PackageServices.DefineRelativeSizes(),
        },
        new("anyfontsize", "Nothing to do: type comes in every size."),
        new("scalefnt", "Type larger or smaller by a factor.")
        {
            Commands = ["scalefont"],
            Load = static load => load.Builder.PackageServices.DefineRelativeSizes(),
        },
    ];

    // Each sets the names that the text's families are found by when the document begins.
    private static IEnumerable<Package> Families =>
    [
        Family("times", "Text in Termes, sans serif in Heros, typewriter in Cursor.", "ptm", "phv", "pcr"),
        Family("mathptmx", "Text and formulas in Termes.", "ptm"),
        Family("newtxtext", "Text in Termes.", "ptm", "phv"),
        Family("newtxmath", "Formulas in Termes.", mathematics: "termes"),
        Family("tgtermes", "Text in Termes.", "qtm"),
        Family("stix", "Text and formulas in Termes, the nearest that ships.", "ptm"),
        Family("stix2", "Text and formulas in Termes, the nearest that ships.", "ptm"),
        Family("palatino", "Text in Pagella, sans serif in Heros, typewriter in Cursor.", "ppl", "phv", "pcr"),
        Family("mathpazo", "Text and formulas in Pagella; osf for old-style figures, sc for small capitals.", "ppl"),
        Family("newpxtext", "Text in Pagella.", "ppl"),
        Family("newpxmath", "Formulas in Pagella.", mathematics: "pagella"),
        Family("tgpagella", "Text in Pagella.", "qpl"),
        Family("bookman", "Text in Bonum, sans serif in Adventor, typewriter in Cursor.", "pbk", "pag", "pcr"),
        Family("tgbonum", "Text in Bonum.", "qbk"),
        Family("newcent", "Text in Schola, sans serif in Adventor, typewriter in Cursor.", "pnc", "pag", "pcr"),
        Family("fouriernc", "Text and formulas in Schola.", "pnc"),
        Family("tgschola", "Text in Schola.", "qcs"),
        Family("chancery", "Text in Chorus.", "pzc"),
        Family("tgchorus", "Text in Chorus.", "qzc"),
        Family("lmodern", "Text and formulas in Latin Modern.", "lmr", "lmss", "lmtt"),
        Family("ae", "Text in Latin Modern.", "lmr", "lmss", "lmtt"),
        Family("helvet", "Sans serif type in Heros.", sans: "phv"),
        Family("tgheros", "Sans serif type in Heros.", sans: "qhv"),
        Family("avant", "Sans serif type in Adventor.", sans: "pag"),
        Family("tgadventor", "Sans serif type in Adventor.", sans: "qag"),
        // Families that don't ship are the nearest that does.
        Family("txfonts", "Text and formulas in Termes.", "ptm", "phv"),
        Family("pxfonts", "Text and formulas in Pagella.", "ppl", "phv"),
        Family("newtx", "Text and formulas in Termes.", "ptm", "phv", mathematics: "termes"),
        Family("newpx", "Text and formulas in Pagella.", "ppl", mathematics: "pagella"),
        Family("fourier", "Text and formulas in Schola, the nearest that ships.", "pnc"),
        Family("utopia", "Text in Schola, the nearest that ships.", "pnc"),
        Family("mathdesign", "Text and formulas in Schola, the nearest that ships.", "pnc"),
        Family("charter", "Text in Bonum, the nearest that ships.", "pbk"),
        Family("XCharter", "Text in Bonum, the nearest that ships.", "pbk"),
        Family("kpfonts", "Text and formulas in Pagella, the nearest that ships.", "ppl"),
        Family("libertine", "Text in Termes, the nearest that ships.", "ptm"),
        Family("libertinus", "Text and formulas in Termes, the nearest that ships.", "ptm"),
        Family("ebgaramond", "Text in Pagella, the nearest that ships.", "ppl"),
        Family("garamondx", "Text in Pagella, the nearest that ships.", "ppl"),
        Family("crimson", "Text in Pagella, the nearest that ships.", "ppl"),
        Family("cochineal", "Text in Pagella, the nearest that ships.", "ppl"),
        Family("gentium", "Text in Pagella, the nearest that ships.", "ppl"),
        Family("cmbright", "Text in Latin Modern Sans.", "lmss"),
        Family("concmath", "Text and formulas in Latin Modern.", "lmr"),
        Family("eulervm", "Formulas in the family that goes with the text."),
        Family("euler", "Formulas in the family that goes with the text."),
        Family("classico", "Sans serif type in Heros, the nearest that ships.", sans: "phv"),
        Family("biolinum", "Sans serif type in Heros, the nearest that ships.", sans: "phv"),
        Family("berasans", "Sans serif type in Heros, the nearest that ships.", sans: "phv"),
        Family("sourcesanspro", "Sans serif type in Heros, the nearest that ships.", sans: "phv"),
        Family("opensans", "Sans serif type in Heros, the nearest that ships.", sans: "phv"),
        Family("roboto", "Sans serif type in Heros, the nearest that ships.", sans: "phv"),
        Family("carlito", "Sans serif type in Heros, the nearest that ships.", sans: "phv"),
        Family("beramono", "Typewriter type in Latin Modern Mono, the nearest that ships.", mono: "lmtt"),
        Family("inconsolata", "Typewriter type in Latin Modern Mono, the nearest that ships.", mono: "lmtt"),
        Family("zi4", "Typewriter type in Latin Modern Mono, the nearest that ships.", mono: "lmtt"),
        Family("sourcecodepro", "Typewriter type in Latin Modern Mono, the nearest that ships.", mono: "lmtt"),
        Family("courier", "Typewriter type in Cursor.", mono: "pcr"),
        Family("tgcursor", "Typewriter type in Cursor.", mono: "qcr"),
    ];

    private static Package Family(string name, string purpose, string? roman = null, string? sans = null, string? mono = null, string? mathematics = null) =>
        new(name, purpose)
        {
            Definitions = Default("rmdefault", roman) + Default("sfdefault", sans) + Default("ttdefault", mono),
            Load = load =>
            {
                load.Builder.TypefaceCommands.MathematicsFace = mathematics ?? load.Builder.TypefaceCommands.MathematicsFace;
                load.Builder.TypefaceCommands.OldFigures |= load.Has("osf");
            },
        };

    private static string Default(string name, string? code) => code is null ? "" : $"\\def\\{name}{{{code}}}";
}
