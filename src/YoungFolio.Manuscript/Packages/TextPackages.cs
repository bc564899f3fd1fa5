using YoungFolio.Documents;
using YoungFolio.Manuscript.Building;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Packages;

/// <summary>Packages for words and their looks.</summary>
internal static class TextPackages
{
    public static IReadOnlyList<Package> All { get; } =
    [
        new("selnolig", "Letters that aren't joined; they are joined as the font does it."),
        new("epigraph", "A saying with its source, at a chapter's beginning.")
        {
            Commands = ["epigraph", "qitem"],
            Environments = ["epigraphs"],
            Definitions = """
                \newlength{\epigraphwidth}\setlength{\epigraphwidth}{.4\textwidth}\newlength{\epigraphrule}\setlength{\epigraphrule}{.4pt}\newcommand{\epigraphsize}{\small}\newcommand{\epigraphflush}{flushright}\newcommand{\textflush}{flushleft}\newcommand{\sourceflush}{flushright}
                \newcommand{\epigraph}[2]{\par\vspace{\baselineskip}\begin{flushright}\epigraphsize\begin{minipage}{\epigraphwidth}\raggedright #1\par\ifdim\epigraphrule>0pt\noindent\rule{\linewidth}{\epigraphrule}\par\fi\raggedleft #2\end{minipage}\end{flushright}}
                \newenvironment{epigraphs}{}{}\newcommand{\qitem}[2]{\epigraph{#1}{#2}}
                """,
        },
        new("changes", "Changes marked by hand: what was added, deleted and replaced.")
        {
            Requires = ["ulem", "xcolor"],
            Commands = ["added", "deleted", "replaced", "highlight", "definechangesauthor", "listofchanges", "setaddedmarkup", "setdeletedmarkup"],
            Definitions = """
                \newcommand{\added}[2][]{\textcolor{blue}{#2}}\newcommand{\deleted}[2][]{\textcolor{blue}{\sout{#2}}}\newcommand{\replaced}[3][]{\textcolor{blue}{#2}\textcolor{blue}{\sout{#3}}}\newcommand{\highlight}[2][]{\textcolor{blue}{#2}}
                \newcommand{\definechangesauthor}[2][]{}\newcommand{\listofchanges}[1][]{}\newcommand{\setaddedmarkup}[1]{}\newcommand{\setdeletedmarkup}[1]{}
                """,
        },
        new("ulem", "Lines under and through words, over the ends of lines.")
        {
            Commands = ["uline", "uuline", "uwave", "sout", "xout", "dashuline", "dotuline", "normalem", "ULforem"],
            Options = ["normalem", "ULforem", "normalbf", "UWforbf"],
            Load = static load =>
            {
                foreach ((string name, Decoration decoration) in (ReadOnlySpan<(string, Decoration)>)[
                    ("uline", Decoration.Underline), ("uuline", Decoration.DoubleUnderline), ("uwave", Decoration.Dots), ("sout", Decoration.StrikeOut),
                    ("xout", Decoration.CrossOut), ("dashuline", Decoration.Dashes), ("dotuline", Decoration.Dots)])
                {
                    load.Builder.PackageServices.DefineDecoration(name, decoration, 0);
                }

                load.Machine.Define("normalem", static (_, _) => { });
                load.Machine.Define("ULforem", static (_, _) => { });
            },
        },
        new("soul", "Letterspacing, and lines under, through and behind words.")
        {
            Commands = ["ul", "st", "hl", "so", "caps", "sethlcolor", "setulcolor", "setstcolor", "setul", "setuldepth"],
            Load = static load =>
            {
                load.Builder.PackageServices.DefineDecoration("ul", Decoration.Underline, 0);
                load.Builder.PackageServices.DefineDecoration("st", Decoration.StrikeOut, 0);
                load.Builder.PackageServices.DefineDecoration("hl", Decoration.Highlight, 0xFFF04D);
                load.Builder.PackageServices.DefineLetterspacing();
                load.Machine.Definitions.Load("\\def\\caps#1{{\\scshape #1}}\\def\\sethlcolor#1{}\\def\\setulcolor#1{}\\def\\setstcolor#1{}\\def\\setul#1#2{}\\def\\setuldepth#1{}");
            },
        },
        new("soulutf8", "As soul.") { Requires = ["soul"] },
        new("csquotes", "Quotation marks of the language, nested as it nests them.")
        {
            Commands = ["enquote", "textquote", "blockquote", "foreignquote", "textcquote", "blockcquote", "MakeOuterQuote", "MakeAutoQuote", "SetBlockThreshold", "textelp", "textins", "ExecuteQuoteOptions", "DeclareQuoteAlias"],
            Environments = ["displayquote", "displaycquote", "quoteblock"],
            Load = static load => Quotations.Load(load),
        },
        new("comment", "Passages switched off.")
        {
            Environments = ["comment"],
            Commands = ["includecomment", "excludecomment"],
            Load = static load =>
            {
                DocumentBuilder builder = load.Builder;
                builder.Environments.DefineEnvironment("comment", builder.Verbatim.SkipRaw);
                load.Machine.Define("excludecomment", (m, t) => builder.Environments.DefineEnvironment(m.ReadText(t), builder.Verbatim.SkipRaw));
                load.Machine.Define("includecomment", (m, t) => builder.Environments.DefineEnvironment(m.ReadText(t), static _ => { }));
            },
        },
        new("verbatim", "Text as typed, passages switched off, and files printed as typed.")
        {
            Environments = ["comment"],
            Commands = ["verbatiminput"],
            Load = static load =>
            {
                DocumentBuilder builder = load.Builder;
                builder.Environments.DefineEnvironment("comment", builder.Verbatim.SkipRaw);
                load.Machine.Define("verbatiminput", (_, t) => builder.TypedText.TypedFile(t));
            },
        },
        new("alltt", "Typewriter text in which commands still work.")
        {
            Environments = ["alltt"],
            Load = static load => load.Builder.TypedText.DefineAlltt(),
        },
        new("moreverb", "More kinds of text as typed.")
        {
            Requires = ["verbatim"],
            Environments = ["verbatimtab"],
            Load = static load => load.Builder.Environments.DefineEnvironment("verbatimtab", t => load.Builder.TypedText.TypedBlock(t, new ListingSetup())),
        },
        new("fancyvrb", "Text as typed, with frames, numbers and sizes.")
        {
            Environments = ["Verbatim", "BVerbatim", "LVerbatim", "SaveVerbatim"],
            Commands = ["DefineVerbatimEnvironment", "RecustomVerbatimEnvironment", "fvset", "VerbatimInput", "DefineShortVerb", "Verb", "VerbatimFootnotes", "CustomVerbatimEnvironment"],
            Load = static load => Listings.LoadVerbatims(load.Builder),
        },
        new("fvextra", "More options for text as typed.") { Requires = ["fancyvrb"] },
        new("shortvrb", "One sign for text as typed.")
        {
            Commands = ["MakeShortVerb", "DeleteShortVerb"],
            Load = static load => Listings.DefineShortVerb(load.Builder, "MakeShortVerb"),
        },
        new("url", "Addresses that may break over lines.")
        {
            Commands = ["url", "path", "urlstyle"],
            Load = static load => load.Builder.Addresses.DefineAddresses(),
        },
        new("xurl", "Addresses that may break anywhere.") { Requires = ["url"] },
        new("hyphenat", "Hyphenation switched off or helped.")
        {
            Commands = ["nohyphens", "hyp"],
            Definitions = "\\def\\nohyphens#1{\\mbox{#1}}\\def\\hyp{-\\allowbreak }",
        },
        new("lettrine", "A large first letter; it is set in the line.")
        {
            Commands = ["lettrine"],
            Definitions = "\\newcommand{\\lettrine}[3][]{{\\Huge #2}{\\scshape #3}}",
        },
        new("nth", "Ordinals.")
        {
            Commands = ["nth"],
            Definitions = """
                \def\nth#1{#1\textsuperscript{\ifnum#1>10 \ifnum#1<14 th\else\nth@end{#1}\fi\else\nth@end{#1}\fi}}
                \def\nth@end#1{\ifcase\numexpr#1-((#1-4)/10)*10\relax th\or st\or nd\or rd\else th\fi}
                """,
        },
    ];
}
