using YoungFolio.Bibliography;
using YoungFolio.Manuscript.Building;
using YoungFolio.Manuscript.Sources;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Packages;

/// <summary>Packages that cite by names and years: natbib, and smaller ones. What they print follows their documentation, from memory.</summary>
internal static class SourcePackages
{
    private static readonly (string Name, CitationForm Form)[] s_forms =
    [
        ("citet", CitationForm.Textual), ("citep", CitationForm.Parenthetical), ("citealt", CitationForm.TextualBare), ("citealp", CitationForm.Bare),
        ("citeauthor", CitationForm.Authors), ("citeyear", CitationForm.Year), ("citeyearpar", CitationForm.BracketedYear), ("citenum", CitationForm.Number),
    ];

    public static IReadOnlyList<Package> All { get; } =
    [
        new("natbib", "Citations by names and year, or by numbers: in the sentence or in brackets.")
        {
            Commands =
            [
                "citet", "citep", "citealt", "citealp", "citeauthor", "citeyear", "citeyearpar", "citenum", "citefullauthor", "citetext", "Citet", "Citep", "Citealt", "Citealp", "Citeauthor",
                "setcitestyle", "bibpunct", "citestyle", "defcitealias", "citetalias", "citepalias", "shortcites", "bibsection", "bibpreamble", "bibfont", "bibsep", "bibhang", "citeindextrue",
            ],
            Options =
            [
                "round", "square", "curly", "angle", "semicolon", "colon", "comma", "authoryear", "numbers", "super", "sort", "sort&compress", "compress", "longnamesfirst", "sectionbib", "nonamebreak", "merge", "elide",
            ],
            Clashes = ["cite"],
            Load = static load => Natbib(load),
        },
        new("cite", "Numbers of citations sorted and drawn together.")
        {
            Commands = ["citen", "citenum", "onlinecite"],
            Load = static load =>
            {
                load.Builder.Bibliography.CitationCollector.MannerChanges.Add(static m => m with { Sorts = true, Compresses = true });
                foreach (string name in (string[])["citen", "citenum", "onlinecite"])
                {
                    CitationCommands.Define(load.Builder, name, () => CitationForm.Number);
                }

                if (load.Has("superscript") || load.Has("super"))
                {
                    load.Builder.Bibliography.CitationCollector.MannerChanges.Add(static m => m with { Raises = true });
                }
            },
        },
        new("chapterbib", "Lists of sources for each chapter; here one list is printed."),
        new("bibentry", "References in the text.")
        {
            Commands = ["bibentry", "nobibliography"],
            Load = static load =>
            {
                CitationCommands.Define(load.Builder, "bibentry", () => CitationForm.Full);
                load.Machine.Define("nobibliography", (m, t) =>
                {
                    m.TakeStar();
                    load.Builder.Bibliography.ReadSourceFiles(m.ReadArgument(t), t);
                });
            },
        },
        Biblatex.Package,
    ];

    private static void Natbib(PackageLoad load)
    {
        DocumentBuilder builder = load.Builder;
        Machine machine = load.Machine;
        CitationCollector desk = builder.Bibliography.CitationCollector;
        desk.IsNatbib = true;
        DefineForms(builder);
        foreach (ListedOption option in load.Options)
        {
            Set(desk, option.Key, option.Text(machine));
        }

        CitationCommands.Define(builder, "cite", () => desk.Effective.Label == CitationLabel.AuthorYear ? CitationForm.Textual : CitationForm.Parenthetical);
        machine.Define("setcitestyle", (m, t) =>
        {
            foreach (ListedOption option in ListedOption.Of(m, m.ReadArgument(t)))
            {
                Set(desk, option.Key, option.Text(m));
            }
        });
        machine.Define("citestyle", (m, t) => Set(desk, m.ReadText(t) is "plain" or "nature" ? "numbers" : "authoryear", ""));
        machine.Define("bibpunct", (m, t) =>
        {
            string? note = m.ReadOptionalText(t);
            string[] signs = [.. Enumerable.Range(0, 6).Select(_ => m.ExpandToText(m.ReadArgument(t)))];
            Set(desk, signs[3] switch { "n" => "numbers", "s" => "super", _ => "authoryear" }, "");
            desk.MannerChanges.Add(c => c with
            {
                Open = MarkupText.Escape(signs[0]),
                Close = MarkupText.Escape(signs[1]),
                Between = signs[2] + " ",
                BetweenTextual = signs[2] + " ",
                BeforeLastTextual = signs[2] + " ",
                BeforeYear = signs[4] + " ",
                BetweenYears = signs[5] + " ",
                BeforeNote = note ?? c.BeforeNote,
            });
        });
        machine.Define("citetext", (m, t) =>
        {
            CitationManner manner = desk.Manner;
            m.Push([.. m.Tokenize(manner.Open, t.Position), .. m.ReadArgument(t), .. m.Tokenize(manner.Close, t.Position)]);
        });
        machine.Define("defcitealias", (m, t) =>
        {
            string key = m.ReadText(t);
            builder.Titles.Keep("citealias " + key, m.ReadArgument(t));
        });
        machine.Define("citetalias", (m, t) => Alias(m, t, false));
        machine.Define("citepalias", (m, t) => Alias(m, t, true));
        machine.Definitions.Load("\\def\\shortcites#1{}\\newlength{\\bibsep}\\setlength{\\bibsep}{\\itemsep}\\addtolength{\\bibsep}{\\parsep}\\newlength{\\bibhang}\\setlength{\\bibhang}{1em}\\def\\bibfont{}\\def\\bibpreamble{}\\def\\bibsection{\\source@heading}\\def\\citeindextrue{}\\def\\citefullauthor{\\citeauthor*}");

        void Alias(Machine m, Token t, bool brackets)
        {
            string key = m.ReadText(t);
            desk.Cite([key], t);
            CitationManner manner = desk.Manner;
            m.Push([.. brackets ? m.Tokenize(manner.Open, t.Position) : [], .. builder.Titles.Kept("citealias " + key) ?? [.. m.Tokenize(MarkupText.Escape(key), t.Position)], .. brackets ? m.Tokenize(manner.Close, t.Position) : []]);
        }
    }

    /// <summary>Gives natbib's commands; biblatex gives them too when asked.</summary>
    public static void DefineForms(DocumentBuilder builder)
    {
        foreach ((string name, CitationForm form) in s_forms)
        {
            CitationCommands.Define(builder, name, () => form);
            CitationCommands.Define(builder, "C" + name[1..], () => form, capital: true);
        }
    }

    private static void Set(CitationCollector desk, string option, string value)
    {
        void Change(Func<CitationManner, CitationManner> change) => desk.MannerChanges.Add(change);
        void Brackets(string open, string close) => Change(m => m with { Open = open, Close = close });
        void Sign(string sign) => Change(m => m with { Between = sign + " ", BetweenTextual = sign + " ", BeforeLastTextual = sign + " " });
        switch (option)
        {
            case "authoryear":
                desk.Label = CitationLabel.AuthorYear;
                break;
            case "numbers":
                desk.Label = CitationLabel.Number;
                break;
            case "super":
                desk.Label = CitationLabel.Number;
                Change(m => m with { Raises = true });
                break;
            case "round":
                Brackets("(", ")");
                break;
            case "square":
                Brackets("[", "]");
                break;
            case "curly":
                Brackets("\\{", "\\}");
                break;
            case "angle":
                Brackets("$\\langle$", "$\\rangle$");
                break;
            case "open":
                Change(m => m with { Open = MarkupText.Escape(value) });
                break;
            case "close":
                Change(m => m with { Close = MarkupText.Escape(value) });
                break;
            case "semicolon":
                Sign(";");
                break;
            case "comma":
                Sign(",");
                break;
            case "colon":
                Sign(":");
                break;
            case "citesep":
                Sign(value);
                break;
            case "aysep":
                Change(m => m with { BeforeYear = value + " " });
                break;
            case "yysep":
                Change(m => m with { BetweenYears = value + " " });
                break;
            case "notesep":
                Change(m => m with { BeforeNote = value });
                break;
            case "sort":
                Change(m => m with { Sorts = true });
                break;
            case "compress":
                Change(m => m with { Compresses = true });
                break;
            case "sort&compress":
                Change(m => m with { Sorts = true, Compresses = true });
                break;
        }
    }
}
