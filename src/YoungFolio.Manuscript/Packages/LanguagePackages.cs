using YoungFolio.Manuscript.Building;
using YoungFolio.Manuscript.Languages;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Packages;

/// <summary>Packages for languages: names of things, dates, hyphenation, and each language's own signs.</summary>
internal static class LanguagePackages
{
    public static IReadOnlyList<Package> All { get; } =
    [
        new("babel", "The manuscript's languages: hyphenation, dates and names of things.")
        {
            Commands = ["selectlanguage", "foreignlanguage", "iflanguage", "babelprovide", "babelfont", "babelhyphen", "addto", "shorthandoff", "shorthandon", "useshorthands", "babeltags"],
            Environments = ["otherlanguage", "otherlanguage*", "hyphenrules"],
            Load = static load => LoadBabel(load, load.Options.Where(o => o.Key is not ("shorthands" or "activeacute" or "activegrave" or "provide" or "hyphenmap" or "config" or "strings"))),
        },
        new("polyglossia", "The manuscript's languages, under other commands.")
        {
            Commands = ["setmainlanguage", "setdefaultlanguage", "setotherlanguage", "setotherlanguages"],
            Load = static load =>
            {
                LoadBabel(load, []);
                foreach (string name in (string[])["setmainlanguage", "setdefaultlanguage"])
                {
                    load.Machine.Define(name, (m, t) =>
                    {
                        string options = m.ReadOptionalText(t) ?? "";
                        string language = m.ReadText(t);
                        load.Builder.Text.SelectLanguage(language == "english" && options.Contains("british", StringComparison.Ordinal) ? "british" : language, t);
                    });
                }

                foreach (string name in (string[])["setotherlanguage", "setotherlanguages"])
                {
                    load.Machine.Define(name, (m, t) =>
                    {
                        m.ReadOptional(t);
                        foreach (string language in PreambleCommands.Split(m.ReadText(t)))
                        {
                            DefineEnvironment(load.Builder, language, language);
                        }
                    });
                }
            },
        },
        new("translator", "Names of things in other languages; they come with the language."),
    ];

    private static void LoadBabel(PackageLoad load, IEnumerable<ListedOption> options)
    {
        DocumentBuilder builder = load.Builder;
        Machine machine = load.Machine;
        machine.Define("selectlanguage", (m, t) => builder.Text.SelectLanguage(m.ReadText(t), t));
        machine.Define("foreignlanguage", (m, t) =>
        {
            m.ReadOptional(t);
            string name = m.ReadText(t);
            List<Token> text = m.ReadArgument(t);
            m.Push([Token.Character('{', Category.BeginGroup, t.Position), Switch(m, builder, name, t), .. text, Token.Character('}', Category.EndGroup, t.Position)]);
        });
        foreach (string name in (string[])["otherlanguage", "otherlanguage*"])
        {
            builder.Environments.DefineEnvironment(name, t => builder.Text.SelectLanguage(machine.ReadText(t), t), _ => builder.EndParagraph());
        }

        builder.Environments.DefineEnvironment("hyphenrules", t => machine.ReadText(t));
        machine.Definitions.Load("\\def\\shorthandoff#1{}\\def\\shorthandon#1{}\\newcommand{\\babelprovide}[2][]{}\\newcommand{\\babelfont}[3][]{}\\def\\babeltags#1{}\\def\\useshorthands#1{}"
            + "\\def\\babelhyphen#1{-}\\def\\addto#1#2{\\ifdefined#1\\expandafter\\def\\expandafter#1\\expandafter{#1#2}\\else\\def#1{#2}\\fi}");
        machine.Define("iflanguage", (m, t) =>
        {
            bool holds = Language.CodeOf(m.ReadText(t)) == builder.Text.Language;
            List<Token> yes = m.ReadArgument(t);
            List<Token> no = m.ReadArgument(t);
            m.Push(holds ? yes : no);
        });
        var defined = new HashSet<string>(StringComparer.Ordinal);
        builder.Text.LanguageChanged = code =>
        {
            SetShorthands(builder, code);
            if (Language.Of(code).Definitions is { } definitions && defined.Add(code))
            {
                machine.Definitions.Load(definitions);
            }
        };
        // The last language named is the manuscript's, unless one is said to be.
        foreach (ListedOption option in options.OrderBy(o => o.Key == "main"))
        {
            builder.Text.SelectLanguage(option.Key == "main" ? option.Text(machine) : option.Key, load.Token);
        }

        foreach (ListedOption option in load.Builder.Preamble.ClassOptions.Where(o => Language.CodeOf(o.Key) is not null).Take(load.Options.Count == 0 ? 9 : 0))
        {
            builder.Text.SelectLanguage(option.Key, load.Token);
        }

        // What a preamble defines of names for a language holds when that language is chosen (\captionsgerman and its kin).
        builder.Hooks.WhenDocumentBegins(() => SetShorthands(builder, builder.Text.Language));
    }

    private static Token Switch(Machine m, DocumentBuilder builder, string name, Token token)
    {
        string command = "language " + name;
        m.Define(command, (_, t) => builder.PackageServices.SelectWords(name, t));
        return Token.Command(m.Symbol(command), token.Position);
    }

    private static void DefineEnvironment(DocumentBuilder builder, string name, string language)
    {
        if (Language.CodeOf(language) is not null)
        {
            builder.Environments.DefineEnvironment(name, t =>
            {
                builder.Machine.ReadOptional(t);
                builder.Text.SelectLanguage(language, t);
            }, _ => builder.EndParagraph());
            builder.Machine.Define("text" + name, (m, t) =>
            {
                m.ReadOptional(t);
                List<Token> text = m.ReadArgument(t);
                m.Push([Token.Character('{', Category.BeginGroup, t.Position), Switch(m, builder, language, t), .. text, Token.Character('}', Category.EndGroup, t.Position)]);
            });
        }
    }

    // Many languages type letters, quotation marks and divisions with "; French puts spaces before high signs.
    private static void SetShorthands(DocumentBuilder builder, string code)
    {
        Machine machine = builder.Machine;
        Language language = Language.Of(code);
        bool quotes = language.HasShorthands;
        machine.Categories.Set('"', quotes ? Category.Active : Category.Other);
        if (quotes)
        {
            machine.Symbols.DefineActive('"', (m, t) => Shorthand(m, t, language));
        }

        builder.PackageServices.SpacesHighSigns = code == "fr";
        machine.Definitions.DefineMacro("og", code == "fr" ? "«~" : "“");
        machine.Definitions.DefineMacro("fg", code == "fr" ? "~»" : "”");
        machine.Definitions.DefineMacro("glqq", "„");
        machine.Definitions.DefineMacro("grqq", "“");
        machine.Definitions.DefineMacro("flqq", "«");
        machine.Definitions.DefineMacro("frqq", "»");
    }

    private static void Shorthand(Machine m, Token token, Language language)
    {
        Token next = m.Next();
        if (ReferenceEquals(next.Symbol, m.Symbols.OfActive('"')))
        {
            m.Push(Token.Command(m.Symbol("allowbreak"), token.Position));
            return;
        }

        string? text = next.Symbol is not null || next.Is(Category.Stop) ? null : language.Shorthand((char)next.Code) ?? (char)next.Code switch
        {
            '`' => "„",
            '\'' => "“",
            '<' => "«",
            '>' => "»",
            '-' => "\u00AD",
            '=' => "-",
            '~' => "\u2011",
            '|' => "\u200C",
            _ => null,
        };
        if (text is null)
        {
            m.PutBack(next);
            m.Conversions.PushText("\"", token.Position);
            return;
        }

        m.Conversions.PushText(text, token.Position);
    }
}
