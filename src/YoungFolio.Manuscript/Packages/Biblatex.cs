using YoungFolio.Bibliography;
using YoungFolio.Manuscript.Building;
using YoungFolio.Manuscript.Sources;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Packages;

/// <summary>The package biblatex: its styles, options, citations and lists (its documentation, from memory).</summary>
internal static class Biblatex
{
    // Options that change nothing here.
    private static readonly string[] s_quiet =
    [
        "backend", "hyperref", "backref", "abbreviate", "language", "autolang", "clearlang", "date", "urldate", "eventdate", "labeldate", "labeldateparts", "block", "refsection", "refsegment", "citereset", "sortcase",
        "sortupper", "sortlocale", "safeinputenc", "bibencoding", "texencoding", "defernumbers", "indexing", "loadfiles", "punctfont", "arxiv", "maxalphanames", "minalphanames", "maxsortnames",
        "minsortnames", "uniquename", "uniquelist", "subentry", "autopunct", "mincrossrefs", "minxrefs", "datamodel", "related", "dateabbrev", "alldates", "singletitle", "pagetracker", "ibidtracker", "idemtracker",
        "loccittracker", "opcittracker", "citetracker", "parentracker", "maxparens", "seconds", "dateera", "timezones", "mergedate", "ibidpage", "labelnumber", "labelalpha", "labeltitle", "labeltitleyear", "bibwarn",
        "terseinits", "sortgiveninits",
        "sortfirstinits", "bibtex8", "debug", "mcite", "nohashothers", "skipbib", "skipbiblist", "skiplab", "dataonly", "julian", "gregorianstart", "datecirca", "dateuncertain", "datezeros", "timezeros", "maxitems", "minitems",
        "natbib",
    ];

    public static Package Package { get; } = new("biblatex", "Sources: citations in many forms, lists by type or keyword, styles with numbers, letters, names and years, or titles.")
    {
        Commands =
        [
            "citereset", "mancite", "addbibresource", "addglobalbib", "addsectionbib", "printbibliography", "printbibheading", "parencite", "Parencite", "textcite", "Textcite", "autocite", "Autocite", "footcite", "footcitetext", "smartcite", "Smartcite",
            "supercite", "Cite", "citeauthor", "Citeauthor", "citetitle", "citeyear", "citedate", "citeurl", "fullcite", "footfullcite", "cites", "Cites", "parencites", "Parencites", "textcites", "Textcites", "autocites",
            "Autocites", "footcites", "smartcites", "supercites", "notecite", "pnotecite", "ExecuteBibliographyOptions", "DefineBibliographyStrings", "DeclareFieldFormat", "DeclareNameAlias", "defbibheading", "defbibnote",
            "defbibfilter", "newrefsection", "endrefsection", "DeclareSourcemap", "AtEveryBibitem", "AtEveryCitekey", "AtBeginBibliography", "bibsetup", "bibfont", "bibparsep", "mkbibemph", "mkbibquote", "mkbibbrackets", "mkbibparens", "addspace", "addcomma",
            "adddot", "DeclareLanguageMapping", "renewbibmacro", "newbibmacro", "clearfield", "bibitemsep", "bibhang", "DeclareBibliographyCategory", "addtocategory", "parentext", "brackettext",
        ],
        Environments = ["refsection", "refsegment"],
        Clashes = ["natbib", "cite"],
        ComesAfter = ["babel", "csquotes"],
        Load = static load => Load(load),
    };

    private static void Load(PackageLoad load)
    {
        DocumentBuilder builder = load.Builder;
        Machine machine = load.Machine;
        CitationCollector desk = builder.Bibliography.CitationCollector;
        if (!desk.IsModern)
        {
            desk.IsModern = true;
            desk.HasStyle = true;
            desk.Style = BibliographyStyle.FindModern("numeric")!;
            DefineCitations(builder, desk);
            DefineLists(builder, desk);
            DefineQuietOnes(machine);
            BiblatexAdjustments.Define(builder, desk);
        }

        SetOptions(load, load.Options);
        machine.Define("ExecuteBibliographyOptions", (m, t) =>
        {
            m.ReadOptional(t);
            SetOptions(load with { Token = t }, ListedOption.Of(m, m.ReadArgument(t)));
        });
    }

    private static void SetOptions(PackageLoad load, IReadOnlyList<ListedOption> options)
    {
        CitationCollector desk = load.Builder.Bibliography.CitationCollector;
        Machine machine = load.Machine;
        // The style comes first, whatever the order: the other options change what it sets.
        foreach (ListedOption option in options.OrderBy(o => o.Key switch { "style" => 0, "bibstyle" => 1, "citestyle" => 2, _ => 3 }))
        {
            string value = option.Text(machine);
            bool isOn = option.IsOn(machine);
            int Count() => int.TryParse(value, out int n) && n > 0 ? n : 3;
            switch (option.Key)
            {
                case "style" or "bibstyle" or "citestyle":
                    BibliographyStyle? style = BibliographyStyle.FindModern(value) ?? BibliographyStyle.FindNearestModern(value);
                    int place = option.Position >= 0 ? option.Position : load.Token.Position;
                    if (style is null)
                    {
                        load.Builder.Findings.Check("unknown-style", place, option.Length, $"biblatex has no style “{value}” here.",
                            $"Sources are printed as by {desk.Style.Name}. There are {string.Join(", ", BibliographyStyle.ModernNames)}.");
                        break;
                    }

                    if (style.Name != value)
                    {
                        load.Builder.Findings.Check("style-stands-in", place, option.Length, $"biblatex' style {value} doesn't ship; {style.Name}, which is most like it, stands in.",
                            $"Sources and citations are printed as by {style.Name}. There are {string.Join(", ", BibliographyStyle.ModernNames)}.");
                    }

                    if (option.Key == "citestyle")
                    {
                        desk.Style = desk.Style with { Label = style.Label, Compresses = style.Compresses, SortsCitations = style.SortsCitations, OwnManner = style.OwnManner };
                    }
                    else
                    {
                        desk.Style = style;
                    }

                    break;
                case "sorting":
                    SourceOrder? order = value switch
                    {
                        "none" => SourceOrder.Cited,
                        "nty" => SourceOrder.Nty,
                        "nyt" => SourceOrder.Nyt,
                        "nyvt" => SourceOrder.Nyvt,
                        "anyt" => SourceOrder.Anyt,
                        "anyvt" => SourceOrder.Anyvt,
                        "ynt" => SourceOrder.Ynt,
                        "ydnt" => SourceOrder.Ydnt,
                        _ => null,
                    };
                    if (order is null)
                    {
                        load.Builder.Findings.Check("unknown-option", option.Position >= 0 ? option.Position : load.Token.Position, option.Length, $"There is no sorting “{value}”.", "There are nty, nyt, nyvt, anyt, anyvt, ynt, ydnt and none.");
                    }

                    desk.Style = desk.Style with { Order = order ?? desk.Style.Order };
                    break;
                case "maxnames":
                    desk.Style = desk.Style with { MaxNames = Count(), MaxCiteNames = Count() };
                    break;
                case "minnames":
                    desk.Style = desk.Style with { MinNames = Count(), MinCiteNames = Count() };
                    break;
                case "maxbibnames":
                    desk.Style = desk.Style with { MaxNames = Count() };
                    break;
                case "minbibnames":
                    desk.Style = desk.Style with { MinNames = Count() };
                    break;
                case "maxcitenames":
                    desk.Style = desk.Style with { MaxCiteNames = Count() };
                    break;
                case "mincitenames":
                    desk.Style = desk.Style with { MinCiteNames = Count() };
                    break;
                case "giveninits" or "firstinits":
                    desk.Style = desk.Style with { Initials = isOn };
                    break;
                case "doi":
                    desk.Style = desk.Style with { ShowsDoi = isOn };
                    break;
                case "url":
                    desk.Style = desk.Style with { ShowsUrl = isOn };
                    break;
                case "isbn":
                    desk.Style = desk.Style with { ShowsIsbn = isOn };
                    break;
                case "eprint":
                    desk.Style = desk.Style with { ShowsEprint = isOn };
                    break;
                case "dashed":
                    desk.Style = desk.Style with { Dashes = isOn };
                    break;
                case "useprefix":
                    desk.Style = desk.Style with { SortsWithParticle = isOn };
                    break;
                case "sortcites":
                    desk.Style = desk.Style with { SortsCitations = isOn };
                    break;
                case "autocite":
                    load.Builder.Titles.Keep("autocite form", [.. machine.Tokenize(value, load.Token.Position)]);
                    break;
                case "natbib" when isOn:
                    SourcePackages.DefineForms(load.Builder);
                    break;
                default:
                    if (!s_quiet.Contains(option.Key))
                    {
                        load.ReportOption(option);
                    }

                    break;
            }
        }
    }

    private static void DefineCitations(DocumentBuilder builder, CitationCollector desk)
    {
        bool HasNames() => desk.Effective.Label is CitationLabel.AuthorYear or CitationLabel.AuthorTitle;
        CitationForm Plain() => HasNames() ? CitationForm.Bare : CitationForm.Parenthetical;
        foreach ((string name, Func<CitationForm> form) in (ReadOnlySpan<(string, Func<CitationForm>)>)[
            ("cite", Plain), ("parencite", () => CitationForm.Parenthetical), ("textcite", () => CitationForm.Textual), ("supercite", () => HasNames() ? CitationForm.Parenthetical : CitationForm.Raised),
            ("notecite", () => CitationForm.Bare), ("pnotecite", () => CitationForm.Parenthetical)])
        {
            CitationCommands.Define(builder, name, form);
            CitationCommands.Define(builder, char.ToUpperInvariant(name[0]) + name[1..], form, capital: true);
            CitationCommands.DefineMany(builder, name + "s", form);
            CitationCommands.DefineMany(builder, char.ToUpperInvariant(name[0]) + name[1..] + "s", form, capital: true);
        }

        foreach ((string name, CitationForm form) in (ReadOnlySpan<(string, CitationForm)>)[
            ("citeauthor", CitationForm.Authors), ("citetitle", CitationForm.Title), ("citeyear", CitationForm.Year), ("citedate", CitationForm.Year), ("citeurl", CitationForm.Address), ("fullcite", CitationForm.Full)])
        {
            CitationCommands.Define(builder, name, () => form);
        }

        CitationCommands.Define(builder, "Citeauthor", () => CitationForm.Authors, capital: true);
        builder.Machine.Define("citereset", (_, _) => desk.Turns.Restart());
        builder.Machine.Define("mancite", (_, _) => desk.Turns.PartFromNext());
        CitationCommands.DefineFoot(builder, "footcite", "cite");
        CitationCommands.DefineFoot(builder, "footcitetext", "cite", "footnotetext");
        CitationCommands.DefineFoot(builder, "footfullcite", "fullcite");
        CitationCommands.DefineFoot(builder, "source@footcite", "cite");
        // In a note \smartcite stands in brackets; elsewhere it makes one.
        foreach (string name in (string[])["smartcite", "Smartcite"])
        {
            CitationCommands.DefineFoot(builder, name, "cite");
        }

        foreach (string capital in (string[])["autocite", "Autocite"])
        {
            builder.Machine.Define(capital, (m, t) => m.Push([Token.Command(m.Symbol(AutomaticForm(capital[0] == 'A')), t.Position)]));
            builder.Machine.Define(capital + "s", (m, t) => m.Push([Token.Command(m.Symbol(AutomaticForm(capital[0] == 'A').Replace("source@footcite", "footcite", StringComparison.Ordinal) + "s"), t.Position)]));
        }

        CitationCommands.DefineFootMany(builder, "footcites", "cites");
        CitationCommands.DefineFootMany(builder, "smartcites", "cites");

        string AutomaticForm(bool capital)
        {
            string wish = builder.Titles.Kept("autocite form") is { } kept ? builder.Machine.ExpandToText(kept) : desk.Effective.CitesInNotes ? "footnote" : "inline";
            return wish switch
            {
                "footnote" or "footnotes" => "source@footcite",
                "superscript" => "supercite",
                "plain" => capital ? "Cite" : "cite",
                _ => HasNames() ? capital ? "Parencite" : "parencite" : capital ? "Cite" : "cite",
            };
        }
    }

    private static void DefineLists(DocumentBuilder builder, CitationCollector desk)
    {
        Machine machine = builder.Machine;
        foreach (string name in (string[])["addbibresource", "addglobalbib", "addsectionbib"])
        {
            machine.Define(name, (m, t) =>
            {
                m.ReadOptional(t);
                List<Token> argument = m.ReadArgument(t);
                if (builder.DocumentBegun || builder.Bibliography.HasSourceFiles(argument))
                {
                    builder.Bibliography.ReadSourceFiles(argument, t);
                }
                else
                {
                    // The preamble may write the file yet.
                    builder.Hooks.ActionsAtBegin.Add(() => builder.Bibliography.ReadSourceFiles(argument, t));
                }
            });
        }

        machine.Define("printbibliography", (m, t) =>
        {
            List<ListedOption> options = ListedOption.Of(m, m.ReadOptional(t));
            Heading(builder, options, t);
            builder.Bibliography.PrintSources(Filter(m, builder, desk, options), t);
        });
        machine.Define("printbibheading", (m, t) => Heading(builder, ListedOption.Of(m, m.ReadOptional(t)), t));
        machine.Define("DeclareBibliographyCategory", (m, t) => m.ReadArgument(t));
        machine.Define("addtocategory", (m, t) =>
        {
            string category = m.ReadText(t);
            desk.AddToCategory(category, PreambleCommands.Split(m.ExpandToText(m.ReadArgument(t))));
        });
        builder.Environments.DefineEnvironment("refsection", t =>
        {
            if (machine.ReadOptional(t) is { } files)
            {
                builder.Bibliography.ReadSourceFiles(files, t);
            }

            desk.BeginSection();
        }, _ => desk.EndSection());
        builder.Environments.DefineEnvironment("refsegment", static _ => { }, static _ => { });
        machine.Define("newrefsection", (m, t) =>
        {
            if (m.ReadOptional(t) is { } files)
            {
                builder.Bibliography.ReadSourceFiles(files, t);
            }

            desk.BeginSection();
        });
        machine.Define("endrefsection", (_, _) => desk.EndSection());
        machine.Define("defbibheading", (m, t) =>
        {
            string name = m.ReadText(t);
            List<Token> title = m.ReadOptional(t) ?? builder.Bibliography.BibliographyTitle(t);
            builder.Titles.Keep("bibheading title " + name, title);
            builder.Titles.Keep("bibheading " + name, m.ReadArgument(t));
        });
        machine.Define("defbibnote", (m, t) => builder.Titles.Keep("bibnote " + m.ReadText(t), m.ReadArgument(t)));
        machine.Define("defbibfilter", (m, t) => builder.Titles.Keep("bibfilter " + m.ReadText(t), m.ReadArgument(t)));
    }

    private static void Heading(DocumentBuilder builder, List<ListedOption> options, Token token)
    {
        Machine machine = builder.Machine;
        List<Token>? Value(string key) => options.LastOrDefault(o => o.Key == key)?.Value;
        List<Token> title = Value("title") ?? builder.Bibliography.BibliographyTitle(token);
        string heading = Value("heading") is { } own ? machine.ExpandToText(own) : "bibliography";
        string below = builder.Class.HasChapters ? "section" : "subsection";
        switch (heading)
        {
            case "none":
                break;
            case "bibintoc":
                builder.Bibliography.PrintSourceHeading(title, false, true, token);
                break;
            case "bibnumbered":
                builder.Bibliography.PrintSourceHeading(title, true, true, token);
                break;
            case "subbibliography":
                builder.Bibliography.PrintSourceHeading(title, false, false, token, below);
                break;
            case "subbibintoc":
                builder.Bibliography.PrintSourceHeading(title, false, true, token, below);
                break;
            case "subbibnumbered":
                builder.Bibliography.PrintSourceHeading(title, true, true, token, below);
                break;
            default:
                if (builder.Titles.Kept("bibheading " + heading) is { } defined)
                {
                    Carry(builder, defined, Value("title") ?? builder.Titles.Kept("bibheading title " + heading) ?? title, token);
                }
                else
                {
                    builder.Bibliography.PrintSourceHeading(title, false, builder.BackMatter.BibliographyInContents, token);
                }

                break;
        }

        if (Value("prenote") is { } note && builder.Titles.Kept("bibnote " + machine.ExpandToText(note)) is { } text)
        {
            builder.Execute([.. text, Token.Command(machine.Par, token.Position)]);
        }
    }

    // “#1” in a heading's definition is the title.
    private static void Carry(DocumentBuilder builder, List<Token> definition, List<Token> title, Token token)
    {
        var result = new List<Token>();
        for (int i = 0; i < definition.Count; i++)
        {
            if (definition[i].Is(Category.Parameter) && i + 1 < definition.Count && definition[i + 1].IsCharacter('1'))
            {
                result.AddRange(title);
                i++;
            }
            else
            {
                result.Add(definition[i]);
            }
        }

        builder.Execute([.. result.Select(t => t.At(token.Position))]);
    }

    private static SourceFilter Filter(Machine machine, DocumentBuilder builder, CitationCollector desk, List<ListedOption> options)
    {
        var tests = new List<Func<BibEntry, bool>>();
        int section = desk.Section;
        foreach (ListedOption option in options)
        {
            string value = option.Text(machine);
            switch (option.Key)
            {
                case "type":
                    tests.Add(e => e.Kinds.Contains(value));
                    break;
                case "nottype":
                    tests.Add(e => !e.Kinds.Contains(value));
                    break;
                case "subtype":
                    tests.Add(e => e.Field("entrysubtype") == value);
                    break;
                case "notsubtype":
                    tests.Add(e => e.Field("entrysubtype") != value);
                    break;
                case "keyword":
                    tests.Add(e => Keywords(e).Contains(value));
                    break;
                case "notkeyword":
                    tests.Add(e => !Keywords(e).Contains(value));
                    break;
                case "category":
                    tests.Add(e => desk.IsInCategory(value, e.Key));
                    break;
                case "notcategory":
                    tests.Add(e => !desk.IsInCategory(value, e.Key));
                    break;
                case "section" when int.TryParse(value, out int number):
                    section = number;
                    break;
                case "filter" when builder.Titles.Kept("bibfilter " + value) is { } filter:
                    tests.Add(Parsed(machine.ExpandToText(filter)));
                    break;
                case "title" or "heading" or "prenote" or "postnote" or "env" or "resetnumbers" or "segment" or "omitnumbers" or "check" or "filter" or "section":
                    break;
                default:
                    builder.Findings.Check("unknown-option", option.Position, option.Length, $"\\printbibliography has no option “{option.Key}” here.", "It was passed over.");
                    break;
            }
        }

        return new SourceFilter(section) { Tests = tests };
    }

    private static string[] Keywords(BibEntry entry) => PreambleCommands.Split(entry.Field("keywords"));

    // Filters: type=… and keyword=… joined by and, or, not, in parentheses.
    private static Func<BibEntry, bool> Parsed(string text)
    {
        string[] words = text.Replace("(", " ( ", StringComparison.Ordinal).Replace(")", " ) ", StringComparison.Ordinal).Split(' ', StringSplitOptions.RemoveEmptyEntries);
        int at = 0;
        return Or();

        Func<BibEntry, bool> Or()
        {
            Func<BibEntry, bool> left = And();
            while (at < words.Length && words[at] == "or")
            {
                at++;
                Func<BibEntry, bool> first = left;
                Func<BibEntry, bool> second = And();
                left = e => first(e) || second(e);
            }

            return left;
        }

        Func<BibEntry, bool> And()
        {
            Func<BibEntry, bool> left = One();
            while (at < words.Length && words[at] == "and")
            {
                at++;
                Func<BibEntry, bool> first = left;
                Func<BibEntry, bool> second = One();
                left = e => first(e) && second(e);
            }

            return left;
        }

        Func<BibEntry, bool> One()
        {
            if (at >= words.Length)
            {
                return static _ => true;
            }

            string word = words[at++];
            if (word == "not")
            {
                Func<BibEntry, bool> inner = One();
                return e => !inner(e);
            }

            if (word == "(")
            {
                Func<BibEntry, bool> inner = Or();
                at += at < words.Length && words[at] == ")" ? 1 : 0;
                return inner;
            }

            string[] pair = word.Split('=', 2);
            return pair.Length < 2 ? static _ => true : pair[0] switch
            {
                "type" => e => e.Kinds.Contains(pair[1]),
                "keyword" => e => Keywords(e).Contains(pair[1]),
                "subtype" => e => e.Field("entrysubtype") == pair[1],
                _ => static _ => true,
            };
        }
    }

    // Signs that are empty until the preamble says what they are, and what has no effect by itself.
    private static void DefineQuietOnes(Machine machine) => machine.Definitions.Load("""
        \newcommand{\DeclareLanguageMapping}[2]{}\newcommand{\clearfield}[1]{}\newcommand{\clearlist}[1]{}\newcommand{\clearname}[1]{}\def\bibsetup{}
        \newcommand{\nameyeardelim}{}\newcommand{\nametitledelim}{}\newcommand{\multicitedelim}{}\newcommand{\compcitedelim}{}\newcommand{\postnotedelim}{}\newcommand{\finalnamedelim}{}\newcommand{\multinamedelim}{}
        \newcommand{\labelnamepunct}{}\newcommand{\newunitpunct}{}\newcommand{\finentrypunct}{}\newcommand{\bibpagespunct}{}\newcommand{\subtitlepunct}{}\newcommand{\intitlepunct}{}\newcommand{\finallistdelim}{}\newcommand{\supercitedelim}{}
        \newcommand{\mkbibemph}[1]{\emph{#1}}\newcommand{\mkbibquote}[1]{``#1''}\newcommand{\mkbibbold}[1]{\textbf{#1}}\newcommand{\mkbibitalic}[1]{\textit{#1}}\newcommand{\mkbibacro}[1]{\textsc{#1}}\newcommand{\mkbibbrackets}[1]{[#1]}\newcommand{\mkbibparens}[1]{(#1)}\newcommand{\parentext}[1]{(#1)}\newcommand{\brackettext}[1]{[#1]}
        \newlength{\bibitemsep}\setlength{\bibitemsep}{\itemsep}\newlength{\bibparsep}\setlength{\bibparsep}{\parsep}\newlength{\bibhang}\setlength{\bibhang}{\parindent}
        \def\bibfont{}\def\source@begin{}\newcommand{\AtBeginBibliography}[1]{\g@addto@macro\source@begin{#1}}
        \def\addspace{ }\def\addcomma{,}\def\adddot{.}\def\addsemicolon{;}\def\addcolon{:}\def\addnbspace{ }\def\addthinspace{ }\def\addhighpenspace{ }\def\addlowpenspace{ }\def\adddotspace{. }\def\isdot{}
        """);
}
