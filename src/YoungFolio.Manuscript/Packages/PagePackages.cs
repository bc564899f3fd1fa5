using YoungFolio.Documents;
using YoungFolio.Manuscript.Building;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Packages;

/// <summary>Packages for paper, margins, heads and feet, spacing and columns.</summary>
internal static class PagePackages
{
    public static IReadOnlyList<Package> All { get; } =
    [
        new("geometry", "Margins and paper size.")
        {
            Commands = ["geometry", "newgeometry", "restoregeometry", "savegeometry", "loadgeometry"],
            Load = static load => Geometry.Load(load),
        },
        new("fullpage", "Narrow margins.") { Load = static load => SetMargins(load.Builder, Units.Inch, Units.Inch) },
        new("a4wide", "Narrow margins on A4.")
        {
            Load = static load =>
            {
                load.Builder.Pages.SetPaper("a4");
                SetMargins(load.Builder, Units.Inch, null);
            },
        },
        new("fancyhdr", "Heads and feet in three fields.")
        {
            Commands = ["fancyhead", "fancyfoot", "fancyhf", "lhead", "chead", "rhead", "lfoot", "cfoot", "rfoot", "fancypagestyle", "nouppercase", "fancyheadoffset"],
            Load = static load => load.Builder.PageFields.DefineHeadFields(),
        },
        new("scrlayer-scrpage", "Heads and feet with inner, middle and outer fields.")
        {
            Requires = ["fancyhdr"],
            Commands = ["ihead", "ohead", "ifoot", "ofoot", "lehead", "cehead", "rehead", "lohead", "cohead", "rohead", "lefoot", "cefoot", "refoot", "lofoot", "cofoot", "rofoot",
                "headmark", "pagemark", "automark", "manualmark", "clearpairofpagestyles", "clearscrheadfoot", "clearmainofpairofpagestyles", "clearplainofpairofpagestyles",
                "setheadsepline", "setfootsepline", "ModifyLayer", "AddLayersToPageStyle"],
            Options = ["headsepline", "footsepline", "automark", "autooneside", "manualmark", "plainheadsepline", "plainfootsepline", "headtopline", "footbotline", "markcase", "draft", "singlespacing", "onpsinit", "ilines", "clines", "olines"],
            // Pages with the style plain keep its foot; fields for them alone have no effect.
            Definitions = """
                \fancyhf{}\renewcommand{\headrulewidth}{0pt}\fancyhead[C]{\headmark}\fancyfoot[C]{\pagemark}\pagestyle{fancy}\def\ps@scrheadings{}\def\ps@scrplain{}
                \def\headmark{\if@twoside\ifodd\c@page\rightmark\else\leftmark\fi\else\rightmark\fi}\def\pagemark{\thepage}\providecommand{\pnumfont}{}
                \NewDocumentCommand{\ihead}{som}{\fancyhead[LO,RE]{#3}}\RenewDocumentCommand{\chead}{som}{\fancyhead[C]{#3}}\NewDocumentCommand{\ohead}{som}{\fancyhead[RO,LE]{#3}}
                \NewDocumentCommand{\ifoot}{som}{\fancyfoot[LO,RE]{#3}}\RenewDocumentCommand{\cfoot}{som}{\fancyfoot[C]{#3}}\NewDocumentCommand{\ofoot}{som}{\fancyfoot[RO,LE]{#3}}
                \NewDocumentCommand{\lehead}{som}{\fancyhead[LE]{#3}}\NewDocumentCommand{\cehead}{som}{\fancyhead[CE]{#3}}\NewDocumentCommand{\rehead}{som}{\fancyhead[RE]{#3}}
                \NewDocumentCommand{\lohead}{som}{\fancyhead[LO]{#3}}\NewDocumentCommand{\cohead}{som}{\fancyhead[CO]{#3}}\NewDocumentCommand{\rohead}{som}{\fancyhead[RO]{#3}}
                \NewDocumentCommand{\lefoot}{som}{\fancyfoot[LE]{#3}}\NewDocumentCommand{\cefoot}{som}{\fancyfoot[CE]{#3}}\NewDocumentCommand{\refoot}{som}{\fancyfoot[RE]{#3}}
                \NewDocumentCommand{\lofoot}{som}{\fancyfoot[LO]{#3}}\NewDocumentCommand{\cofoot}{som}{\fancyfoot[CO]{#3}}\NewDocumentCommand{\rofoot}{som}{\fancyfoot[RO]{#3}}
                \def\clearpairofpagestyles{\fancyhf{}}\def\clearscrheadfoot{\fancyhf{}}\def\clearscrheadings{\fancyhf{}}\def\clearmainofpairofpagestyles{\fancyhf{}}\def\clearplainofpairofpagestyles{}
                \NewDocumentCommand{\automark}{som}{}\def\manualmark{}\NewDocumentCommand{\setheadsepline}{om}{\renewcommand{\headrulewidth}{#2}}\NewDocumentCommand{\setfootsepline}{om}{\renewcommand{\footrulewidth}{#2}}
                \NewDocumentCommand{\ModifyLayer}{om}{}\NewDocumentCommand{\AddLayersToPageStyle}{mm}{}
                """,
            Load = static load => load.Machine.Definitions.Load((load.Has("headsepline") ? "\\renewcommand{\\headrulewidth}{.4pt}" : "") + (load.Has("footsepline") ? "\\renewcommand{\\footrulewidth}{.4pt}" : "")),
        },
        new("sphinx", "What manuals of a documentation program use; the class that they have brings it."),
        new("sphinxmessages", "What manuals of a documentation program use; the class that they have brings it."),
        new("fncychap", "Looks of chapter heads; they stay the class's own.") { Commands = ["ChNameVar", "ChNumVar", "ChTitleVar", "ChRuleWidth"], Definitions = "\\def\\ChNameVar#1{}\\def\\ChNumVar#1{}\\def\\ChTitleVar#1{}\\def\\ChRuleWidth#1{}", Options = ["Sonny", "Lenny", "Glenn", "Conny", "Rejne", "Bjarne", "Bjornstrup"] },
        new("hypcap", "Links that lead to the top of a float.") { Commands = ["capstart", "capstartfalse", "capstarttrue"], Definitions = "\\def\\capstart{}\\def\\capstartfalse{}\\def\\capstarttrue{}" },
        new("scrpage2", "Heads and feet with inner, middle and outer fields.") { Requires = ["scrlayer-scrpage"] },
        new("needspace", "A new page where too little room is left.")
        {
            Commands = ["needspace", "Needspace"],
            Definitions = "\\newcommand{\\needspace}[1]{\\par\\vskip 0pt plus #1\\penalty-100\\vskip 0pt plus -#1}\\def\\Needspace{\\@ifstar{\\needspace}{\\needspace}}",
        },
        new("balance", "Columns of equal length on the last page; they end as they fill here.") { Commands = ["balance", "nobalance"], Definitions = "\\def\\balance{}\\def\\nobalance{}" },
        new("flushend", "Columns of equal length on the last page; they end as they fill here.") { Commands = ["flushend", "raggedend"], Definitions = "\\def\\flushend{}\\def\\raggedend{}" },
        new("setspace", "Line spacing: one and a half, double, or any factor.")
        {
            Commands = ["setstretch", "onehalfspacing", "doublespacing", "singlespacing"],
            Environments = ["spacing", "onehalfspace", "doublespace", "singlespace"],
            Options = ["onehalfspacing", "doublespacing", "singlespacing", "nodisplayskipstretch"],
            Load = static load => Spacing(load),
        },
        new("parskip", "Paragraphs parted by space instead of an indent.")
        {
            // The lines of the contents stay together.
            Definitions = "\\def\\toc@tight{}",
            Load = static load =>
            {
                load.Machine.Assign(load.Machine.Registers.NamedDimension("parindent"), default);
                load.Machine.Assign(load.Machine.Registers.NamedGlue("parskip"), Glue.Of(6, 2));
            },
        },
        new("indentfirst", "An indent for the first paragraph below a heading too.") { Load = static load => load.Builder.Text.IndentsFirst = true },
        new("multicol", "Text in several columns of equal length.")
        {
            Commands = ["columnbreak"],
            Environments = ["multicols", "multicols*"],
            Load = static load => load.Builder.PageMeasures.DefineColumns(),
        },
        new("ragged2e", "Ragged text under capital names.")
        {
            Commands = ["RaggedRight", "RaggedLeft", "Centering", "justifying"],
            Environments = ["FlushLeft", "FlushRight", "Center"],
            Load = static load =>
            {
                foreach ((string name, string kernel) in (ReadOnlySpan<(string, string)>)[("RaggedRight", "raggedright"), ("RaggedLeft", "raggedleft"), ("Centering", "centering")])
                {
                    load.Machine.DefineMeaning(name, load.Machine.Symbol(kernel).Meaning.Value!);
                }

                foreach ((string name, string kernel) in (ReadOnlySpan<(string, string)>)[("FlushLeft", "flushleft"), ("FlushRight", "flushright"), ("Center", "center")])
                {
                    load.Machine.DefineMeaning(name, load.Machine.Symbol(kernel).Meaning.Value!);
                    load.Machine.DefineMeaning("end" + name, load.Machine.Symbol("end" + kernel).Meaning.Value!);
                }

                load.Machine.Define("justifying", (_, _) => load.Builder.PackageServices.Justify());
            },
        },
        new("lscape", "Pages that lie across.") { Environments = ["landscape"], Load = static load => load.Builder.PageMeasures.DefineLandscape() },
        new("pdflscape", "Pages that lie across.") { Environments = ["landscape"], Load = static load => load.Builder.PageMeasures.DefineLandscape() },
        new("placeins", "Places that no float may pass.")
        {
            Commands = ["FloatBarrier"],
            Load = static load => load.Builder.Figures.DefineFloatBarrier(load.Has("section")),
        },
        new("changepage", "Margins changed for a stretch of text.")
        {
            Environments = ["adjustwidth", "adjustwidth*"],
            Commands = ["strictpagecheck", "ifoddpage", "checkoddpage"],
            Load = static load => load.Builder.PageFields.DefineAdjustedWidth(),
        },
        new("chngpage", "Margins changed for a stretch of text.") { Requires = ["changepage"] },
        new("emptypage", "Nothing on blank pages; they are always empty."),
        new("nopageno", "Pages without numbers.")
        {
            Definitions = "\\let\\ps@plain\\ps@empty",
        },
        new("afterpage", "Something to be done after the page; it is done after the paragraph.")
        {
            Commands = ["afterpage"],
            Definitions = "\\long\\def\\afterpage#1{\\par#1}",
        },
        new("microtype", "Optical margins, and glyphs a little wider or narrower so that lines come out even.")
        {
            Load = static load =>
            {
                load.Builder.LineBreaking.Protrudes = load.Builder.LineBreaking.Expands = !load.Has("draft");
                SetMicrotypography(load.Builder, load.Options);
                load.Machine.Define("microtypesetup", (m, t) => SetMicrotypography(load.Builder, ListedOption.Of(m, m.ReadArgument(t))));
            },
            Commands = ["microtypesetup", "textls", "lsstyle", "DisableLigatures"],
            Definitions = "\\newcommand{\\textls}[2][]{#2}\\def\\lsstyle{}\\newcommand{\\DisableLigatures}[2][]{}",
        },
        new("ifoddpage", "A test for odd pages; every page counts as an even one.") { Requires = ["changepage"] },
    ];

    private static void SetMicrotypography(DocumentBuilder builder, IReadOnlyList<ListedOption> options)
    {
        foreach (ListedOption option in options)
        {
            builder.LineBreaking.Protrudes = option.Key is "protrusion" or "activate" ? option.IsOn(builder.Machine) : builder.LineBreaking.Protrudes;
            builder.LineBreaking.Expands = option.Key is "expansion" or "activate" ? option.IsOn(builder.Machine) : builder.LineBreaking.Expands;
        }
    }

    private static void SetMargins(DocumentBuilder builder, double across, double? down)
    {
        builder.PageMeasures.PageSpecification = new PageSpecification { Across = new AxisSpecification(across, null, across), Down = new AxisSpecification(down, null, down) };
        builder.PageMeasures.PublishGeometry();
    }

    private static void Spacing(PackageLoad load)
    {
        DocumentBuilder builder = load.Builder;
        // The factors that the package sets for each basic size (from memory): baselines one and a half or two lines apart.
        foreach ((string name, string environment, Func<int, double> factor) in (ReadOnlySpan<(string, string, Func<int, double>)>)[
            ("singlespacing", "singlespace", static _ => 1),
            ("onehalfspacing", "onehalfspace", static size => size switch { 11 => 1.213, 12 => 1.241, _ => 1.25 }),
            ("doublespacing", "doublespace", static size => size switch { 11 => 1.618, 12 => 1.655, _ => 1.667 })])
        {
            load.Machine.Define(name, (_, _) => builder.Pages.SetSpread(factor(builder.BasicSize)));
            builder.Environments.DefineEnvironment(environment, _ => builder.Pages.SetSpread(factor(builder.BasicSize)), _ => builder.EndParagraph());
            if (load.Has(name))
            {
                builder.Hooks.WhenDocumentBegins(() => builder.Pages.SetSpread(factor(builder.BasicSize)));
            }
        }

        load.Machine.Define("setstretch", (m, t) => SetFactor(builder, m.ReadText(t), t));
        builder.Environments.DefineEnvironment("spacing", t => SetFactor(builder, load.Machine.ReadText(t), t), _ => builder.EndParagraph());
    }

    private static void SetFactor(DocumentBuilder builder, string text, Token token)
    {
        if (double.TryParse(text, System.Globalization.NumberStyles.Float, System.Globalization.CultureInfo.InvariantCulture, out double factor)
            && factor is > 0 and < 10)
        {
            builder.Pages.SetSpread(factor);
            return;
        }

        builder.Findings.Fix("not-a-number", token.Position, token.Length, $"“{text}” is no factor for line spacing.", "Write a number such as 1.5.");
    }
}
