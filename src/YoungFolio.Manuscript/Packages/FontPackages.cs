using YoungFolio.Manuscript.Tree;

namespace YoungFolio.Manuscript.Packages;

/// <summary>Packages for fonts and encodings. Text is Unicode throughout, so encodings need nothing.</summary>
internal static class FontPackages
{
    public static IReadOnlyList<Package> All { get; } =
    [
        new("fontenc", "Font encodings; text is Unicode here, so it needs none."),
        new("inputenc", "The encoding of the parts, which is UTF-8.")
        {
            Load = static load =>
            {
                foreach (Building.ListedOption option in load.Options.Where(o => o.Key is not ("utf8" or "utf8x")))
                {
                    load.Builder.Findings.Check("other-encoding", option.Position, option.Length, $"Parts are read as UTF-8, not as {option.Key}.",
                        "Store the parts as UTF-8 and write utf8 here, or leave the package out.");
                }
            },
        },
        new("textcomp", "Signs for text, such as \\texteuro; they are always there."),
        new("cmap", "Text that copies from the PDF; it always does."),
        new("times", "Sets the text in Termes.") { Load = static load => load.Builder.Typeface = "termes" },
        new("mathptmx", "Sets text and formulas in Termes.") { Load = static load => load.Builder.Typeface = "termes" },
        new("newtxtext", "Sets the text in Termes.") { Load = static load => load.Builder.Typeface = "termes" },
        new("newtxmath", "Sets formulas in Termes.") { Load = static load => load.Builder.Typeface = "termes" },
        new("tgtermes", "Sets the text in Termes.") { Load = static load => load.Builder.Typeface = "termes" },
        new("palatino", "Sets the text in Pagella, which is the default.") { Load = static load => load.Builder.Typeface = "pagella" },
        new("mathpazo", "Sets text and formulas in Pagella, which is the default.") { Load = static load => load.Builder.Typeface = "pagella" },
        new("newpxtext", "Sets the text in Pagella, which is the default.") { Load = static load => load.Builder.Typeface = "pagella" },
        new("newpxmath", "Sets formulas in Pagella, which is the default.") { Load = static load => load.Builder.Typeface = "pagella" },
        new("tgpagella", "Sets the text in Pagella, which is the default.") { Load = static load => load.Builder.Typeface = "pagella" },
        new("helvet", "Sans serif type in Heros, which is the default."),
        new("tgheros", "Sans serif type in Heros, which is the default."),
        new("courier", "Typewriter type in Cursor, which is the default."),
        new("tgcursor", "Typewriter type in Cursor, which is the default."),
        new("upquote", "Straight quotation marks in typed text; they always are."),
        new("relsize", "Larger and smaller type, relative to the text around.")
        {
            Commands = ["larger", "smaller", "relsize", "textlarger", "textsmaller"],
            Load = static load => load.Builder.DefineRelativeSizes(),
        },
        new("anyfontsize", "Nothing to do: type comes in every size."),
        new("scalefnt", "Type larger or smaller by a factor.")
        {
            Commands = ["scalefont"],
            Load = static load => load.Builder.DefineRelativeSizes(),
        },
    ];
}
