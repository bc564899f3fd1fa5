using YoungFolio.Documents;
using YoungFolio.Manuscript.Building;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Packages;

/// <summary>Packages for indexes and lists of symbols.</summary>
internal static class IndexPackages
{
    public static IReadOnlyList<Package> All { get; } =
    [
        new("makeidx", "An index.")
        {
            Commands = ["printindex", "see", "seealso"],
            Load = static load => Load(load.Builder),
        },
        new("imakeidx", "Indexes, several if wanted.")
        {
            Commands = ["printindex", "indexsetup", "splitindexoptions", "indexprologue"],
            Definitions = "\\def\\indexsetup#1{}\\def\\splitindexoptions#1{}\\newcommand{\\indexprologue}[2][]{}",
            Load = static load => Load(load.Builder),
        },
        new("index", "Indexes.") { Requires = ["makeidx"], Commands = ["newindex"], Definitions = "\\newcommand{\\newindex}[4]{}" },
        new("nomencl", "A list of symbols.")
        {
            Commands = ["nomenclature", "printnomenclature", "makenomenclature", "nomname", "nompreamble", "nomgroup", "nomlabelwidth"],
            Load = static load => Nomenclature(load.Builder),
        },
    ];

    private static void Load(DocumentBuilder builder)
    {
        Machine machine = builder.Machine;
        var notes = new Dictionary<string, List<IndexNote>>(StringComparer.Ordinal);
        var titles = new Dictionary<string, List<Token>>(StringComparer.Ordinal);
        machine.Definitions.Load("\\def\\see#1#2{\\emph{\\seename} #1}\\def\\seealso#1#2{\\emph{\\alsoname} #1}");
        machine.Define("makeindex", (m, t) =>
        {
            List<ListedOption> options = ListedOption.Of(m, m.ReadOptional(t));
            string name = options.Find(o => o.Key == "name")?.Text(m) ?? "";
            if (options.Find(o => o.Key == "title")?.Value is { } title)
            {
                titles[name] = title;
            }
        });
        machine.Define("index", (m, t) =>
        {
            string name = m.ReadOptionalText(t) ?? "";
            List<Token> entry = m.ReadArgument(t);
            if (!notes.TryGetValue(name, out List<IndexNote>? list))
            {
                notes[name] = list = [];
            }

            if (Parse(builder, entry, t) is { } note)
            {
                list.Add(note);
            }

            builder.References.SkipSpacesAfterMark();
        });
        machine.Define("printindex", (m, t) =>
        {
            string name = m.ReadOptionalText(t) ?? "";
            if (!notes.TryGetValue(name, out List<IndexNote>? list))
            {
                notes[name] = list = [];
            }

            builder.BackMatter.AddIndex(titles.GetValueOrDefault(name) ?? [Token.Command(m.Symbol("indexname"), t.Position)], list, t);
        });
    }

    // walls!dry-stone@Dry stone|textbf: levels parted by !, sorting key before @, what becomes of the page after |, " quotes.
    private static IndexNote? Parse(DocumentBuilder builder, List<Token> entry, Token token)
    {
        Machine m = builder.Machine;
        var levels = new List<(List<Token> Key, List<Token>? Text)>();
        var current = new List<Token>();
        List<Token>? key = null;
        List<Token>? page = null;
        int depth = 0;
        for (int i = 0; i < entry.Count; i++)
        {
            Token t = entry[i];
            depth += t.Is(Category.BeginGroup) ? 1 : t.Is(Category.EndGroup) ? -1 : 0;
            if (t.IsCharacter('"') && i + 1 < entry.Count)
            {
                current.Add(entry[++i]);
            }
            else if (depth == 0 && page is null && t.IsCharacter('!'))
            {
                Finish();
            }
            else if (depth == 0 && page is null && key is null && t.IsCharacter('@'))
            {
                key = current;
                current = [];
            }
            else if (depth == 0 && page is null && t.IsCharacter('|'))
            {
                Finish();
                page = [];
            }
            else
            {
                (page ?? current).Add(t);
            }
        }

        if (page is null)
        {
            Finish();
        }

        if (levels.Count == 0)
        {
            builder.Findings.Check("empty-index-entry", token.Position, token.Length, "This \\index names nothing.", "Write what the index shall list in its braces.");
            return null;
        }

        int range = 0;
        string style = "";
        List<Inline>? see = null;
        if (page is { Count: > 0 })
        {
            if (page[0].IsCharacter('(') || page[0].IsCharacter(')'))
            {
                range = page[0].IsCharacter('(') ? -1 : 1;
                page.RemoveAt(0);
            }

            int brace = page.FindIndex(t => t.Is(Category.BeginGroup));
            style = (brace < 0 ? page : page.GetRange(0, brace)).ToSource().Trim();
            if (style is "see" or "seealso")
            {
                see = builder.BuildInlines([Token.Command(m.Symbol(style), token.Position), .. page.Skip(brace), .. TokenLists.Braced([], token.Position)]);
            }
        }

        string? anchor = null;
        if (see is null)
        {
            anchor = builder.HeadingCommands.NewAnchor("index");
            builder.References.AddInlineAnchor(anchor);
        }

        return new IndexNote([.. levels.Select(l => (m.ExpandToText(l.Key).Trim(), (IReadOnlyList<Inline>)builder.BackMatter.BuildIndexText(l.Text ?? l.Key)))], anchor, style, see, range, token.Position);

        void Finish()
        {
            List<Token> text = TokenLists.TrimSpaces(current);
            if (text.Count > 0 || key is not null)
            {
                levels.Add((key ?? text, key is null ? null : text));
            }

            current = [];
            key = null;
        }
    }

    private static void Nomenclature(DocumentBuilder builder)
    {
        Machine machine = builder.Machine;
        var entries = new List<(string Key, List<Inline> Symbol, List<Token> Text)>();
        machine.Definitions.Load("\\def\\nomname{Nomenclature}\\def\\makenomenclature{}\\def\\nompreamble{}\\def\\nompostamble{}\\def\\nomgroup#1{}\\newlength{\\nomitemsep}\\newdimen\\nomlabelwidth");
        machine.Define("nomenclature", (m, t) =>
        {
            string prefix = m.ReadOptionalText(t) ?? "a";
            List<Token> symbol = m.ReadArgument(t);
            List<Token> text = m.ReadArgument(t);
            entries.Add((prefix + m.ExpandToText(symbol), builder.BuildInlines(symbol), text));
        });
        machine.Define("printnomenclature", (m, t) =>
        {
            double width = m.ReadOptional(t) is { } w ? m.Quantities.ParseGlue(w, t)?.Width.Points ?? 40 : 40;
            builder.Execute([.. builder.HeadingCommands.InternalTokens($"\\{(builder.Class.HasChapters ? "chapter" : "section")}*{{\\nomname}}").Select(u => u.At(t.Position))]);
            builder.BackMatter.AddLater(() => [.. entries.OrderBy(e => e.Key, StringComparer.OrdinalIgnoreCase)
                .SelectMany(e => builder.BackMatter.LabelledParagraph(e.Symbol, e.Text, width))]);
        });
    }
}
