using YoungFolio.Documents;
using YoungFolio.Manuscript.Building;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Packages;

/// <summary>Packages for glossaries and abbreviations: in full at first use, listed on request.</summary>
internal static class GlossaryPackages
{
    public static IReadOnlyList<Package> All { get; } =
    [
        new("glossaries", "Glossaries and abbreviations, in full at first use.")
        {
            Commands = ["newglossaryentry", "longnewglossaryentry", "newacronym", "newabbreviation", "gls", "Gls", "GLS", "glspl", "Glspl", "acrshort", "acrlong", "acrfull", "Acrlong", "acrshortpl", "acrlongpl",
                "glsentryname", "glsentrytext", "glsentryshort", "glsentrylong", "glsentrydesc", "glsdesc", "glsname", "glslink", "printglossary", "printglossaries", "printacronyms", "makeglossaries", "makenoidxglossaries",
                "printnoidxglossary", "printnoidxglossaries", "glsaddall", "glsadd", "glsresetall", "glsreset", "glsunset", "glsunsetall", "setacronymstyle", "setglossarystyle", "newglossary", "loadglsentries", "setabbreviationstyle"],
            ComesAfter = ["hyperref"],
            Load = static load => Load(load.Builder),
        },
        new("glossaries-extra", "Glossaries and abbreviations.") { Requires = ["glossaries"] },
        new("acronym", "Abbreviations, in full at first use.")
        {
            Commands = ["ac", "Ac", "acp", "acs", "acsp", "acl", "aclp", "acf", "acfp", "acro", "acrodef", "newacro", "acresetall", "acused"],
            Environments = ["acronym"],
            Load = static load => Abbreviations(load.Builder),
        },
        new("acro", "Abbreviations, in full at first use.")
        {
            Commands = ["DeclareAcronym", "acsetup", "ac", "acs", "acl", "acf"],
            Load = static load => Declared(load.Builder),
        },
    ];

    private sealed class GlossaryEntry
    {
        public required string Key { get; init; }

        public required List<Token> Name { get; init; }

        public List<Token> Text { get; init; } = [];

        public List<Token>? Plural { get; init; }

        public List<Token>? Long { get; init; }

        public List<Token>? LongPlural { get; init; }

        /// <summary>What is printed at first use, where that is something of its own.</summary>
        public List<Token>? First { get; init; }

        public List<Token>? FirstPlural { get; init; }

        public List<Token>? Symbol { get; init; }

        public List<Token> Description { get; init; } = [];

        public string Sort { get; init; } = "";

        public string Type { get; init; } = "main";

        public bool Used { get; set; }

        public bool Listed { get; set; }

        public string Anchor => "glossary " + Key;

        public List<string> Places { get; } = [];
    }

    private static GlossaryEntry? Find(DocumentBuilder builder, Dictionary<string, GlossaryEntry> entries, string key, Token token)
    {
        if (entries.TryGetValue(key, out GlossaryEntry? entry))
        {
            return entry;
        }

        string? near = NearestName.Find(key, entries.Keys);
        builder.Findings.Fix("missing-entry", token.Position, token.Length + 2 + key.Length, $"There is no entry “{key}” in the glossary.",
            near is null ? "Define it in the preamble. Its key was printed." : $"Did you mean “{near}”?");
        builder.Text.AddText(key, token.Position);
        return null;
    }

    private static List<Token> Plural(List<Token>? own, List<Token> one, Token token) =>
        own ?? [.. one, Token.Character('s', Category.Letter, token.Position)];

    private static List<Token> Capital(List<Token> words)
    {
        List<Token> result = [.. words];
        int at = result.FindIndex(t => t.Symbol is null && t.Category is Category.Letter or Category.Other);
        if (at >= 0 && result[at].Code < 0x10000)
        {
            result[at] = Token.Character(char.ToUpperInvariant((char)result[at].Code), result[at].Category, result[at].Position);
        }

        return result;
    }

    // What an entry prints: in full at first use, then its short form.
    private static void Print(DocumentBuilder builder, GlossaryEntry entry, Token token, bool plural, bool capital, string form, bool shortFirst = false)
    {
        Machine m = builder.Machine;
        entry.Listed = true;
        List<Token> shortForm = plural ? Plural(entry.Plural, entry.Text, token) : entry.Text;
        List<Token> words = shortForm;
        if (entry.Long is { } full)
        {
            List<Token> longForm = plural ? Plural(entry.LongPlural, full, token) : full;
            bool both = form == "full" || (form.Length == 0 && !entry.Used);
            (List<Token> before, List<Token> within) = shortFirst ? (shortForm, longForm) : (longForm, shortForm);
            words = form == "short" ? shortForm : form == "long" ? longForm
                : both ? [.. before, .. m.Tokenize(" (", token.Position), .. within, .. m.Tokenize(")", token.Position)] : shortForm;
        }
        else if (entry.First is { } first && (form == "full" || (form.Length == 0 && !entry.Used)))
        {
            words = plural ? Plural(entry.FirstPlural, first, token) : first;
        }

        if (form == "symbol")
        {
            words = entry.Symbol ?? [];
        }

        if (form is "" or "full")
        {
            entry.Used = true;
        }

        string place = builder.HeadingCommands.NewAnchor("use");
        entry.Places.Add(place);
        builder.References.AddInlineAnchor(place);
        List<Inline> text = builder.BuildInlines([.. (capital ? Capital(words) : words).Select(t => t.At(token.Position))]);
        builder.AddInline(new LinkInline(text, entry.Anchor, false));
    }

    private static void Load(DocumentBuilder builder)
    {
        Machine machine = builder.Machine;
        var entries = new Dictionary<string, GlossaryEntry>(StringComparer.Ordinal);
        machine.Definitions.Load("""
            \def\acronymname{Acronyms}\def\glossaryname{Glossary}\def\makeglossaries{}\def\makenoidxglossaries{}\def\setglossarystyle#1{}
            \newcommand{\newglossary}[5][]{}\def\loadglsentries{\@ifnextchar[{\gls@load}{\gls@load[]}}
            \def\gls@load[#1]#2{\input{#2}}\def\glsxtrsetup#1{}\def\glssetup#1{}
            """);
        // The styles that put the short form first; all others have it in parentheses.
        bool shortFirst = false;
        foreach (string name in (string[])["setacronymstyle", "setabbreviationstyle"])
        {
            machine.Define(name, (m, t) =>
            {
                m.ReadOptional(t);
                shortFirst = m.ReadText(t).StartsWith("short-long", StringComparison.Ordinal);
            });
        }

        foreach (string name in (string[])["newglossaryentry", "longnewglossaryentry"])
        {
            machine.Define(name, (m, t) =>
            {
                string key = m.ReadText(t);
                List<ListedOption> options = ListedOption.Of(m, m.ReadArgument(t));
                List<Token>? Value(string option) => options.Find(o => o.Key == option)?.Value;
                List<Token> description = name[0] == 'l' ? m.ReadArgument(t) : Value("description") ?? [];
                List<Token> shown = Value("name") ?? [.. m.Tokenize(key, t.Position)];
                entries[key] = new GlossaryEntry
                {
                    Key = key,
                    Name = shown,
                    Text = Value("text") ?? shown,
                    Plural = Value("plural"),
                    First = Value("first"),
                    FirstPlural = Value("firstplural"),
                    Symbol = Value("symbol"),
                    Description = description,
                    Sort = m.ExpandToText(Value("sort") ?? shown),
                    Type = m.ExpandToText(Value("type") ?? []) is { Length: > 0 } type ? type : "main",
                };
            });
        }

        foreach (string name in (string[])["newacronym", "newabbreviation"])
        {
            machine.Define(name, (m, t) =>
            {
                List<ListedOption> options = ListedOption.Of(m, m.ReadOptional(t));
                string key = m.ReadText(t);
                List<Token> shortForm = m.ReadArgument(t);
                List<Token> longForm = m.ReadArgument(t);
                entries[key] = new GlossaryEntry
                {
                    Key = key,
                    Name = shortForm,
                    Text = shortForm,
                    Long = longForm,
                    Plural = options.Find(o => o.Key == "shortplural")?.Value,
                    LongPlural = options.Find(o => o.Key == "longplural")?.Value,
                    Description = options.Find(o => o.Key == "description")?.Value ?? longForm,
                    Sort = m.ExpandToText(shortForm),
                    Type = "acronym",
                };
            });
        }

        foreach ((string name, bool plural, bool capital, string form) in (ReadOnlySpan<(string, bool, bool, string)>)[
            ("gls", false, false, ""), ("Gls", false, true, ""), ("GLS", false, true, ""), ("glspl", true, false, ""), ("Glspl", true, true, ""),
            ("acrshort", false, false, "short"), ("acrshortpl", true, false, "short"), ("acrlong", false, false, "long"), ("Acrlong", false, true, "long"),
            ("acrlongpl", true, false, "long"), ("acrfull", false, false, "full"), ("glstext", false, false, "short"), ("glsfirst", false, false, "full"),
            ("glsxtrshort", false, false, "short"), ("glsxtrlong", false, false, "long"), ("glsxtrfull", false, false, "full"),
            ("Acrshort", false, true, "short"), ("Acrfull", false, true, "full"), ("acrfullpl", true, false, "full"), ("Acrfullpl", true, true, "full"), ("Acrshortpl", true, true, "short"), ("Acrlongpl", true, true, "long"),
            ("glsplural", true, false, "short"), ("Glsplural", true, true, "short"), ("Glstext", false, true, "short"), ("Glsfirst", false, true, "full"), ("glsfirstplural", true, false, "full"), ("glssymbol", false, false, "symbol")])
        {
            machine.Define(name, (m, t) =>
            {
                m.TakeStar();
                m.ReadOptional(t);
                string key = m.ReadText(t);
                List<Token>? after = m.ReadOptional(t);
                if (Find(builder, entries, key, t) is { } entry)
                {
                    Print(builder, entry, t, plural, capital, form, shortFirst);
                }

                if (after is not null)
                {
                    m.Push(after);
                }
            });
        }

        foreach ((string name, Func<GlossaryEntry, List<Token>> part) in (ReadOnlySpan<(string, Func<GlossaryEntry, List<Token>>)>)[
            ("glsentryname", static e => e.Name), ("glsentrytext", static e => e.Text), ("glsentryshort", static e => e.Text), ("glsentrylong", static e => e.Long ?? e.Text),
            ("glsentrydesc", static e => e.Description), ("glsdesc", static e => e.Description), ("glsname", static e => e.Name), ("glsentrysymbol", static e => e.Symbol ?? []),
            ("glsentryfirst", static e => e.First ?? e.Text), ("glsentryplural", static e => Plural(e.Plural, e.Text, e.Text.FirstOrDefault())), ("glsentryshortpl", static e => Plural(e.Plural, e.Text, e.Text.FirstOrDefault())),
            ("glsentrylongpl", static e => Plural(e.LongPlural, e.Long ?? e.Text, e.Text.FirstOrDefault())), ("Glsentryname", static e => Capital(e.Name)), ("Glsentrytext", static e => Capital(e.Text)), ("Glsentrylong", static e => Capital(e.Long ?? e.Text))])
        {
            machine.DefineExpandable(name, (m, t) =>
            {
                if (entries.TryGetValue(m.ReadText(t), out GlossaryEntry? entry))
                {
                    m.Push(part(entry).ConvertAll(u => u.At(t.Position)));
                }
            });
        }

        foreach (string name in (string[])["glslink", "glsdisp"])
        {
            machine.Define(name, (m, t) =>
            {
                m.TakeStar();
                m.ReadOptional(t);
                string key = m.ReadText(t);
                List<Inline> text = builder.BuildInlines(m.ReadArgument(t));
                if (Find(builder, entries, key, t) is { } entry)
                {
                    entry.Listed = true;
                    entry.Used |= name == "glsdisp";
                    builder.AddInline(new LinkInline(text, entry.Anchor, false));
                }
            });
        }

        machine.Define("glsadd", (m, t) =>
        {
            m.ReadOptional(t);
            if (Find(builder, entries, m.ReadText(t), t) is { } entry)
            {
                entry.Listed = true;
            }
        });
        foreach (string name in (string[])["ifglsused", "ifglsentryexists"])
        {
            machine.DefineExpandable(name, (m, t) =>
            {
                bool holds = entries.TryGetValue(m.ReadText(t), out GlossaryEntry? entry) && (name == "ifglsentryexists" || entry.Used);
                List<Token> then = m.ReadArgument(t);
                List<Token> otherwise = m.ReadArgument(t);
                m.Push(holds ? then : otherwise);
            });
        }

        machine.Define("glsaddall", (m, t) =>
        {
            m.ReadOptional(t);
            foreach (GlossaryEntry entry in entries.Values)
            {
                entry.Listed = true;
            }
        });
        foreach ((string name, bool used) in (ReadOnlySpan<(string, bool)>)[("glsresetall", false), ("glsunsetall", true)])
        {
            machine.Define(name, (m, t) =>
            {
                m.ReadOptional(t);
                foreach (GlossaryEntry entry in entries.Values)
                {
                    entry.Used = used;
                }
            });
        }

        foreach ((string name, bool used) in (ReadOnlySpan<(string, bool)>)[("glsreset", false), ("glsunset", true)])
        {
            machine.Define(name, (m, t) =>
            {
                if (entries.TryGetValue(m.ReadText(t), out GlossaryEntry? entry))
                {
                    entry.Used = used;
                }
            });
        }

        foreach (string name in (string[])["printglossary", "printnoidxglossary", "printacronyms", "printglossaries", "printnoidxglossaries"])
        {
            machine.Define(name, (m, t) =>
            {
                List<ListedOption> options = ListedOption.Of(m, m.ReadOptional(t));
                string? type = options.Find(o => o.Key == "type")?.Text(m);
                type = type is "\\acronymtype" ? "acronym" : name == "printacronyms" ? "acronym" : name.EndsWith('y') ? type ?? "main" : null;
                foreach (string one in type is not null ? (IEnumerable<string>)[type] : entries.Values.Select(e => e.Type).Distinct().Order(StringComparer.Ordinal))
                {
                    List<Token> title = options.Find(o => o.Key == "title")?.Value ?? [Token.Command(m.Symbol(one == "acronym" ? "acronymname" : "glossaryname"), t.Position)];
                    List(builder, entries, one, title, t);
                }
            });
        }

        machine.Definitions.DefineMacro("acronymtype", "acronym");
    }

    private static void List(DocumentBuilder builder, Dictionary<string, GlossaryEntry> entries, string type, List<Token> title, Token token)
    {
        string level = builder.Class.HasChapters ? "chapter" : "section";
        builder.Execute([Token.Command(builder.Machine.Symbol(level), token.Position), Token.Character('*', Category.Other, token.Position), .. TokenLists.Braced(title, token.Position)]);
        builder.Execute([Token.Command(builder.Machine.Symbol("glossarypreamble"), token.Position)]);
        builder.BackMatter.AddLater(() => [.. entries.Values.Where(e => e.Type == type && e.Listed).OrderBy(e => e.Sort, StringComparer.OrdinalIgnoreCase)
            .SelectMany(e => builder.BackMatter.GlossaryParagraph(e.Anchor, e.Name, e.Description, e.Places))]);
        builder.Execute([Token.Command(builder.Machine.Symbol("glossarypostamble"), token.Position)]);
    }

    private static void Abbreviations(DocumentBuilder builder)
    {
        Machine machine = builder.Machine;
        var entries = new Dictionary<string, GlossaryEntry>(StringComparer.Ordinal);
        var used = new HashSet<string>(StringComparer.Ordinal);
        // Abbreviations may be used before the list that defines them, so what prints is made at the end.
        builder.Environments.DefineEnvironment("acronym", t =>
        {
            machine.ReadOptional(t);
            builder.EndParagraph();
        }, _ => builder.EndParagraph());
        machine.Define("acro", (m, t) =>
        {
            GlossaryEntry entry = Define(m, t);
            builder.EndParagraph();
            foreach (Block block in builder.BackMatter.GlossaryParagraph(entry.Anchor, entry.Name, entry.Description, []))
            {
                builder.AddBlock(block);
            }
        });
        machine.Define("acrodef", (m, t) => Define(m, t));
        machine.Define("newacro", (m, t) => Define(m, t));
        machine.Define("acresetall", (_, _) => used.Clear());
        machine.Define("acused", (m, t) => used.Add(m.ReadText(t)));
        foreach ((string name, bool plural, bool capital, string form) in (ReadOnlySpan<(string, bool, bool, string)>)[
            ("ac", false, false, ""), ("Ac", false, true, ""), ("acp", true, false, ""), ("Acp", true, true, ""), ("acs", false, false, "short"), ("acsp", true, false, "short"),
            ("acl", false, false, "long"), ("aclp", true, false, "long"), ("Acl", false, true, "long"), ("acf", false, false, "full"), ("acfp", true, false, "full")])
        {
            machine.Define(name, (m, t) =>
            {
                m.TakeStar();
                string key = m.ReadText(t);
                bool first = form.Length == 0 && used.Add(key);
                string shown = form.Length > 0 ? form : first ? "full" : "short";
                builder.AddInline(builder.References.Defer(() =>
                {
                    if (!entries.TryGetValue(key, out GlossaryEntry? entry))
                    {
                        builder.Findings.Fix("missing-entry", t.Position, t.Length + 2 + key.Length, $"There is no abbreviation “{key}”.",
                            NearestName.Find(key, entries.Keys) is { } near ? $"Did you mean “{near}”?" : "Define it with \\acro or \\acrodef. Its key was printed.");
                        return [builder.References.MakeText(key, t.Position)];
                    }

                    return builder.BuildInlines([.. Words(entry, shown, plural, capital, t).Select(u => u.At(t.Position))]);
                }));
            });
        }

        GlossaryEntry Define(Machine m, Token t)
        {
            string key = m.ReadText(t);
            List<Token> shortForm = m.ReadOptional(t) ?? [.. m.Tokenize(key, t.Position)];
            List<Token> full = m.ReadArgument(t);
            return entries[key] = new GlossaryEntry { Key = key, Name = shortForm, Text = shortForm, Long = full, Description = full };
        }

        List<Token> Words(GlossaryEntry entry, string form, bool plural, bool capital, Token t)
        {
            List<Token> small = plural ? Plural(entry.Plural, entry.Text, t) : entry.Text;
            List<Token> large = plural ? Plural(entry.LongPlural, entry.Long!, t) : entry.Long!;
            List<Token> words = form switch
            {
                "short" => small,
                "long" => large,
                _ => [.. large, .. machine.Tokenize(" (", t.Position), .. small, .. machine.Tokenize(")", t.Position)],
            };
            return capital ? Capital(words) : words;
        }
    }

    private static void Declared(DocumentBuilder builder)
    {
        builder.Machine.Definitions.Load("\\def\\acsetup#1{}");
        Abbreviations(builder);
        builder.Machine.Define("DeclareAcronym", (m, t) =>
        {
            string key = m.ReadText(t);
            List<ListedOption> options = ListedOption.Of(m, m.ReadArgument(t));
            List<Token> shortForm = options.Find(o => o.Key == "short")?.Value ?? [.. m.Tokenize(key, t.Position)];
            List<Token> full = options.Find(o => o.Key == "long")?.Value ?? [];
            m.Push([Token.Command(m.Symbol("acrodef"), t.Position), .. TokenLists.Braced(m.Tokenize(key, t.Position), t.Position),
                Token.Character('[', Category.Other, t.Position), .. shortForm, Token.Character(']', Category.Other, t.Position), .. TokenLists.Braced(full, t.Position)]);
        });
    }
}
