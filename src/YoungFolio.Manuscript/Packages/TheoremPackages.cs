using YoungFolio.Manuscript.Building;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Packages;

/// <summary>Packages for theorems.</summary>
internal static class TheoremPackages
{
    public static IReadOnlyList<Package> All { get; } =
    [
        new("amsthm", "Theorems in three styles, and proofs.")
        {
            Commands = ["theoremstyle", "newtheoremstyle", "qed", "qedhere", "qedsymbol", "swapnumbers"],
            Environments = ["proof"],
            ComesAfter = ["amsmath"],
            Load = static load => load.Builder.Theorems.DefineTheoremStyles(),
        },
        new("thmtools", "Theorems by keys.")
        {
            Requires = ["amsthm"],
            Commands = ["declaretheorem", "declaretheoremstyle"],
            Load = static load => Tools(load.Builder),
        },
        new("ntheorem", "Theorems; they take the styles of amsthm.")
        {
            Requires = ["amsthm"],
            Commands = ["theoremheaderfont", "theorembodyfont", "theoremseparator", "theoremsymbol"],
            Definitions = "\\def\\theoremheaderfont#1{}\\def\\theorembodyfont#1{}\\def\\theoremseparator#1{}\\def\\theoremsymbol#1{}",
        },
    ];

    private static void Tools(DocumentBuilder builder)
    {
        builder.Machine.Define("declaretheorem", (m, t) =>
        {
            List<ListedOption> options = ListedOption.Of(m, m.ReadOptional(t));
            string name = m.ReadText(t);
            options.AddRange(ListedOption.Of(m, m.ReadOptional(t)));
            if (name.Length == 0)
            {
                return;
            }

            string? Value(params string[] keys) => options.Find(o => keys.Contains(o.Key))?.Text(m);
            List<Token> title = options.Find(o => o.Key is "name" or "title" or "heading")?.Value
                ?? [.. m.Tokenize(char.ToUpperInvariant(name[0]) + name[1..], t.Position)];
            if (Value("style") is { } style && builder.Theorems.TheoremStyles.ContainsKey(style))
            {
                builder.Execute([Token.Command(m.Symbol("theoremstyle"), t.Position), .. TokenLists.Braced(m.Tokenize(style, t.Position), t.Position)]);
            }

            builder.Theorems.MakeTheorem(name, Value("numbered") is "no" or "false", Value("sibling", "numberlike", "sharenumber"), title,
                Value("parent", "numberwithin", "within"), t);
        });
        builder.Machine.Define("declaretheoremstyle", (m, t) =>
        {
            List<ListedOption> options = ListedOption.Of(m, m.ReadOptional(t));
            string name = m.ReadText(t);
            TheoremStyle plain = builder.Theorems.TheoremStyles["plain"];
            builder.Theorems.TheoremStyles[name] = plain with
            {
                HeadFont = options.Find(o => o.Key == "headfont")?.Value ?? plain.HeadFont,
                BodyFont = options.Find(o => o.Key == "bodyfont")?.Value ?? plain.BodyFont,
                Punctuation = options.Find(o => o.Key == "headpunct")?.Text(m) ?? ".",
            };
        });
    }
}
