using YoungFolio.Documents;
using YoungFolio.Manuscript.Building;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Packages;

/// <summary>Packages for headings, titles, contents and appendices.</summary>
internal static class HeadingPackages
{
    public static IReadOnlyList<Package> All { get; } =
    [
        new("titlesec", "The look of headings.")
        {
            Commands = ["titleformat", "titlespacing", "titlelabel", "titleclass", "filcenter", "filright", "filleft", "titlerule", "assignpagestyle", "chaptertitlename"],
            Definitions = "\\def\\chaptertitlename{\\@chapapp}",
            Load = static load => Titles(load),
        },
        new("sectsty", "The type of headings.")
        {
            Commands = ["allsectionsfont", "partfont", "chapterfont", "sectionfont", "subsectionfont", "subsubsectionfont", "paragraphfont", "subparagraphfont", "chaptertitlefont", "chapternumberfont"],
            Load = static load => Fonts(load),
        },
        new("tocbibind", "Lists and bibliography as lines of the contents.")
        {
            Commands = ["settocbibname", "setindexname"],
            Options = ["nottoc", "notlot", "notlof", "notbib", "notindex", "numbib", "numindex", "section", "chapter", "none"],
            Definitions = "\\newcommand{\\settocbibname}[1]{\\renewcommand{\\bibname}{#1}\\renewcommand{\\refname}{#1}}\\newcommand{\\setindexname}[1]{\\renewcommand{\\indexname}{#1}}",
            Load = static load =>
            {
                load.Builder.BackMatter.ContentsInContents = !load.Has("nottoc");
                load.Builder.BackMatter.FigureListInContents = !load.Has("notlof");
                load.Builder.BackMatter.TableListInContents = !load.Has("notlot");
                load.Builder.BackMatter.BibliographyInContents = !load.Has("notbib");
                load.Builder.BackMatter.IndexInContents = !load.Has("notindex");
            },
        },
        new("appendix", "Appendices as an environment, with a page or line of their own.")
        {
            Commands = ["appendixpage", "addappheadtotoc", "noappendicestocpagenum", "appendixpagename", "appendixtocname"],
            Environments = ["appendices", "subappendices"],
            Options = ["toc", "page", "title", "titletoc", "header"],
            Load = static load => Appendices(load),
        },
        new("abstract", "The look of the abstract.")
        {
            Commands = ["abstractnamefont", "abstracttextfont", "absnamepos"],
            Definitions = "\\newcommand{\\abstractnamefont}{}\\newcommand{\\abstracttextfont}{}\\newcommand{\\absnamepos}{center}\\newlength{\\absleftindent}\\newlength{\\absrightindent}\\newlength{\\absparindent}\\newlength{\\absparsep}",
        },
        new("titling", "Title, author and date for use again.")
        {
            Commands = ["thetitle", "theauthor", "thedate", "pretitle", "posttitle", "preauthor", "postauthor", "predate", "postdate", "droptitle", "maketitlehooka", "maketitlehookb", "maketitlehookc", "maketitlehookd"],
            // Its own title only where something of it is asked for (titling's documentation, section 2, from memory).
            Definitions = """
                \def\thetitle{\@title}\def\theauthor{\@author}\def\thedate{\@date}\newlength{\droptitle}
                \def\titling@before{\begin{center}\LARGE}\def\titling@behind{\par\end{center}\vskip.5em}
                \def\titling@beforeauthor{\begin{center}\large\lineskip.5em\begin{tabular}[t]{c}}\def\titling@behindauthor{\end{tabular}\par\end{center}}
                \def\titling@beforedate{\begin{center}\large}\def\titling@behinddate{\par\end{center}}
                \def\pretitle#1{\def\titling@before{#1}\titling@own}\def\posttitle#1{\def\titling@behind{#1}\titling@own}
                \def\preauthor#1{\def\titling@beforeauthor{#1}\titling@own}\def\postauthor#1{\def\titling@behindauthor{#1}\titling@own}
                \def\predate#1{\def\titling@beforedate{#1}\titling@own}\def\postdate#1{\def\titling@behinddate{#1}\titling@own}
                \def\maketitlehooka{}\def\maketitlehookb{}\def\maketitlehookc{}\def\maketitlehookd{}
                \def\titling@own{\let\@maketitle\titling@title}
                \def\titling@title{\null\vskip2em\vspace*{\droptitle}\maketitlehooka{\titling@before\@title\titling@behind}\maketitlehookb
                  {\def\and{\end{tabular}\hskip1em\begin{tabular}[t]{c}}\titling@beforeauthor\@author\titling@behindauthor}\maketitlehookc
                  {\titling@beforedate\@date\titling@behinddate}\maketitlehookd\par\vskip1.5em}
                \def\titling@hook#1{\ifx#1\@empty\else\titling@own\fi}
                \AtBeginDocument{\ifdim\droptitle=0pt\else\titling@own\fi
                  \titling@hook\maketitlehooka\titling@hook\maketitlehookb\titling@hook\maketitlehookc\titling@hook\maketitlehookd}
                """,
        },
        new("authblk", "Authors with their institutions.")
        {
            Commands = ["affil", "Authfont", "Affilfont", "Authands", "Authsep", "Authand"],
            Load = static load => Authors(load.Builder),
        },
    ];

    private static void Titles(PackageLoad load)
    {
        DocumentBuilder builder = load.Builder;
        Machine machine = load.Machine;
        builder.HeadingCommands.TakesBreaks = true;
        foreach (ListedOption option in load.Options)
        {
            Func<HeadingLook, HeadingLook>? change = option.Key switch
            {
                "sf" => look => look with { Format = [.. look.Format, Token.Command(machine.Symbol("sffamily"), -1)] },
                "center" or "centering" => look => look with { Alignment = Alignment.Centre },
                "rm" or "bf" or "raggedright" or "compact" or "small" or "medium" or "big" or "tiny" or "uppercase" or "explicit" or "newlinetospace"
                    or "nobottomtitles" or "nobottomtitles*" or "toctitles" or "pagestyles" or "clearempty" or "noindentafter" or "indentafter" or "it" or "sl" or "sc" or "tt" or "md" or "up" or "rightlabels" or "leftlabels" or "outermarks" or "topmarks" or "botmarks" or "innermarks" or "raggedleft" or "aftersep" or "largestsep" or "loadonly" or "calcwidth" => look => look,
                _ => null,
            };
            if (change is null)
            {
                load.ReportOption(option);
                continue;
            }

            foreach (string command in builder.HeadingCommands.Headings.Keys.ToArray())
            {
                builder.HeadingCommands.Headings[command] = change(builder.HeadingCommands.Headings[command]);
            }
        }

        machine.Define("titleformat", (m, t) => Format(builder, m, t));
        machine.Define("titlespacing", (m, t) =>
        {
            bool star = m.TakeStar();
            string command = CommandName(m, t);
            List<Token> left = m.ReadArgument(t);
            List<Token> before = m.ReadArgument(t);
            List<Token> after = m.ReadArgument(t);
            m.ReadOptional(t);
            if (builder.HeadingCommands.Headings.TryGetValue(command, out HeadingLook? look))
            {
                Glue above = Length(m, before, t);
                builder.HeadingCommands.Headings[command] = look with
                {
                    Indent = Length(m, left, t).Width.Points,
                    Above = look.Drop > 0 ? look.Above : above,
                    Drop = look.Drop > 0 ? Math.Max(0, above.Width.Points) : 0,
                    Below = Length(m, after, t),
                    IndentsAfter = !star && look.IndentsAfter,
                };
            }
        });
        machine.Define("titlelabel", (m, t) =>
        {
            List<Token> label = m.ReadArgument(t);
            foreach (string command in builder.HeadingCommands.Headings.Keys.ToArray())
            {
                List<Token> own = [.. label.Select(u => u.IsCommand("thetitle") ? Token.Command(m.Symbol("the" + command), u.Position) : u)];
                builder.HeadingCommands.Headings[command] = builder.HeadingCommands.Headings[command] with { Label = own, LabelSpace = 0 };
            }
        });
        machine.Define("titleclass", (m, t) =>
        {
            m.ReadArgument(t);
            m.ReadArgument(t);
            m.ReadOptional(t);
        });
        machine.Define("assignpagestyle", (m, t) =>
        {
            m.ReadArgument(t);
            m.ReadArgument(t);
        });
        machine.DefineMeaning("filcenter", machine.Symbol("centering").Meaning.Value!);
        machine.DefineMeaning("filright", machine.Symbol("raggedright").Meaning.Value!);
        machine.DefineMeaning("filleft", machine.Symbol("raggedleft").Meaning.Value!);
        machine.Define("titlerule", (m, t) =>
        {
            bool star = m.TakeStar();
            m.ReadOptional(t);
            if (star)
            {
                m.ReadArgument(t);
            }

            m.Push(Token.Command(m.Symbol("hrule"), t.Position));
        });
    }

    private static string CommandName(Machine m, Token t) => m.ReadArgument(t) is [{ Symbol: { } symbol }, ..] ? symbol.Name : "";

    private static Glue Length(Machine m, List<Token> tokens, Token t)
    {
        // *3 stands for a length of so many ex, with some give (the package's own way).
        if (tokens is [var star, .. var rest] && star.IsCharacter('*')
            && double.TryParse(rest.ToSource(), System.Globalization.NumberStyles.Float, System.Globalization.CultureInfo.InvariantCulture, out double ex))
        {
            return Glue.Of(ex * 4.5, ex * 0.5, ex * 0.2);
        }

        return m.Quantities.ParseGlue(tokens, t) ?? default;
    }

    private static void Format(DocumentBuilder builder, Machine m, Token t)
    {
        bool star = m.TakeStar();
        string command = CommandName(m, t);
        string shape = star ? "hang" : m.ReadOptionalText(t) ?? "hang";
        List<Token> format = m.ReadArgument(t);
        List<Token> label = star ? [] : m.ReadArgument(t);
        List<Token> separation = star ? [] : m.ReadArgument(t);
        List<Token> before = star ? [] : m.ReadArgument(t);
        List<Token>? after = star ? null : m.ReadOptional(t);
        if (!builder.HeadingCommands.Headings.TryGetValue(command, out HeadingLook? look))
        {
            builder.Findings.Check("unknown-heading", t.Position, t.Length, $"The class {builder.Class.Name} has no heading \\{command}.",
                "Its new look was passed over.");
            return;
        }

        if (star)
        {
            builder.HeadingCommands.Headings[command] = look with { Format = format };
            return;
        }

        double gap = m.Quantities.ParseGlue(separation, t)?.Width.Points ?? 0;
        bool own = shape is "display" or "frame";
        builder.HeadingCommands.Headings[command] = look with
        {
            Format = format,
            Label = label,
            LabelFormat = [],
            LabelGap = own ? gap : null,
            LabelSpace = own ? 0 : gap,
            BeforeTitle = before,
            AfterTitle = after ?? [],
            RunsIn = shape is "runin",
            Alignment = format.Exists(u => u.IsCommand("filcenter") || u.IsCommand("centering")) ? Alignment.Centre
                : format.Exists(u => u.IsCommand("filleft") || u.IsCommand("raggedleft")) ? Alignment.Right : Alignment.Left,
        };
    }

    private static void Fonts(PackageLoad load)
    {
        foreach ((string name, string[] commands) in (ReadOnlySpan<(string, string[])>)[
            ("allsectionsfont", HeadingCommands.Names), ("partfont", ["part"]), ("chapterfont", ["chapter"]), ("sectionfont", ["section"]),
            ("subsectionfont", ["subsection"]), ("subsubsectionfont", ["subsubsection"]), ("paragraphfont", ["paragraph"]),
            ("subparagraphfont", ["subparagraph"]), ("chaptertitlefont", ["chapter"]), ("chapternumberfont", [])])
        {
            load.Machine.Define(name, (m, t) =>
            {
                List<Token> font = m.ReadArgument(t);
                foreach (string command in commands)
                {
                    if (load.Builder.HeadingCommands.Headings.TryGetValue(command, out HeadingLook? look))
                    {
                        load.Builder.HeadingCommands.Headings[command] = look with
                        {
                            Format = [.. look.Format, .. font],
                            Alignment = font.Exists(u => u.IsCommand("centering")) ? Alignment.Centre : look.Alignment,
                        };
                    }
                }
            });
        }
    }

    private static void Appendices(PackageLoad load)
    {
        DocumentBuilder builder = load.Builder;
        bool inContents = load.Has("toc");
        bool page = load.Has("page");
        load.Machine.Definitions.Load("\\def\\appendixpagename{Appendices}\\def\\appendixtocname{Appendices}\\def\\noappendicestocpagenum{}\\def\\appendixpage{\\part*{\\appendixpagename}}"
            + "\\def\\addappheadtotoc{\\addcontentsline{toc}{" + (builder.Class.HasChapters ? "chapter" : "section") + "}{\\appendixtocname}}");
        builder.Environments.DefineEnvironment("appendices", t =>
        {
            builder.Execute(Token.Command(load.Machine.Symbol("appendix"), t.Position));
            if (inContents)
            {
                builder.Execute(Token.Command(load.Machine.Symbol("addappheadtotoc"), t.Position));
            }

            if (page)
            {
                builder.Execute(Token.Command(load.Machine.Symbol("appendixpage"), t.Position));
            }
        });
        builder.Environments.DefineEnvironment("subappendices", _ =>
        {
            string counter = builder.Class.HasChapters ? "section" : "subsection";
            string outer = builder.Class.HasChapters ? "chapter" : "section";
            load.Machine.Counters.SetFormat(counter, $"\\the{outer}.\\Alph{{{counter}}}");
        });
    }

    // \author[1]{…} and \affil[1]{…} gather; the marks lead from one to the other.
    private static void Authors(DocumentBuilder builder)
    {
        Machine machine = builder.Machine;
        var authors = new List<Token>();
        var institutions = new List<Token>();
        machine.Define("author", (m, t) =>
        {
            List<Token>? mark = m.ReadOptional(t);
            List<Token> name = m.ReadArgument(t);
            if (authors.Count > 0)
            {
                authors.AddRange(m.Tokenize(", ", t.Position));
            }

            authors.AddRange(name);
            Mark(authors, mark, t);
            Gather();
        });
        machine.Define("affil", (m, t) =>
        {
            List<Token>? mark = m.ReadOptional(t);
            List<Token> place = m.ReadArgument(t);
            institutions.Add(Token.Command(m.Symbol("\\"), t.Position));
            Mark(institutions, mark, t);
            institutions.AddRange(place);
            Gather();
        });
        machine.Definitions.Load("\\def\\Authfont{}\\def\\Affilfont{}\\def\\Authands{, }\\def\\Authand{ and }\\def\\Authsep{, }\\newlength{\\affilsep}");

        void Mark(List<Token> list, List<Token>? mark, Token t)
        {
            if (mark is not null)
            {
                list.AddRange([Token.Command(machine.Symbol("textsuperscript"), t.Position), .. TokenLists.Braced(mark, t.Position)]);
            }
        }

        void Gather() => builder.Titles.Keep("@author", [.. authors, .. institutions]);
    }
}
