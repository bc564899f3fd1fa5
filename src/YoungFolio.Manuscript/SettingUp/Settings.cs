using YoungFolio.Manuscript.Languages;

namespace YoungFolio.Manuscript.SettingUp;

/// <summary>What a setting is made of.</summary>
public enum SettingForm
{
    /// <summary>One of some values.</summary>
    Choice,

    /// <summary>A length.</summary>
    Length,

    /// <summary>A number.</summary>
    Number,

    /// <summary>Words.</summary>
    Text,

    /// <summary>On, or not.</summary>
    Switch,
}

/// <summary>A value that a setting may have.</summary>
/// <param name="Value">The value.</param>
/// <param name="Words">What it is called.</param>
/// <param name="Package">The package that is loaded for it, where that alone sets it; null: none.</param>
public sealed record SettingChoice(string Value, string Words, string? Package = null);

/// <summary>Something that a preamble sets.</summary>
/// <param name="Id">Its name in the API.</param>
/// <param name="Group">The group that it stands in.</param>
/// <param name="Title">What it is called.</param>
/// <param name="Does">What it does to the page, in a sentence.</param>
/// <param name="Form">What it is made of.</param>
public sealed record Setting(string Id, string Group, string Title, string Does, SettingForm Form)
{
    /// <summary>The values to choose from; for words and lengths some that are usual.</summary>
    public IReadOnlyList<SettingChoice> Choices { get; init; } = [];

    /// <summary>The value that holds where nothing sets it; null: it depends, or there is none.</summary>
    public string? Usual { get; init; }

    /// <summary>Another setting's value without which this one has no effect, as <c>id=value</c>.</summary>
    public string? Within { get; init; }

    /// <summary>Whether other values are taken too: numbers, names.</summary>
    public bool TakesOthers { get; init; }

    /// <summary>Whether it is a text of its own, of several paragraphs.</summary>
    public bool IsLong { get; init; }

    /// <summary>The ways in which it is set; the first is written where nothing sets it yet.</summary>
    internal IReadOnlyList<Carrier> Carriers { get; init; } = [];
}

/// <summary>The settings there are.</summary>
public static class SettingCatalogue
{
    private const string Manuscript = "The manuscript";
    private const string Page = "The page";
    private const string Heads = "Heads and feet";
    private const string Type = "Type and language";
    private const string Numbering = "Numbering and lists";
    private const string Citing = "Sources and links";
    private const string Front = "Title";
    private const string Drafting = "While it is a draft";

    private static SettingChoice[] Same(params string[] values) => [.. values.Select(v => new SettingChoice(v, v))];

    private static OptionCarrier Class(params (string Option, string Value)[] flags) => new(null) { Flags = flags };

    private static OptionCarrier Margin(string[] keys, params string[] shared) => new("geometry") { Keys = keys, SharedKeys = shared, SetUp = "geometry", Loads = true };

    private static OptionCarrier Hyper(string key, params (string Option, string Value)[] flags) => new("hyperref") { Keys = [key], Flags = flags, SetUp = "hypersetup" };

    // Families that ship, by the packages that choose them, and what stands in for others (common practice).
    private static readonly (string Package, string Value)[] s_families =
    [
        ("lmodern", "modern"), ("tgpagella", "pagella"), ("mathpazo", "pagella"), ("newpxtext", "pagella"), ("palatino", "pagella"), ("tgtermes", "termes"), ("mathptmx", "termes"), ("newtxtext", "termes"), ("times", "termes"),
        ("tgschola", "schola"), ("fouriernc", "schola"), ("tgbonum", "bonum"), ("bookman", "bonum"),
    ];

    /// <summary>What fields of heads and feet usually hold: words of the markup, and what they print.</summary>
    public static IReadOnlyList<SettingChoice> FieldWords { get; } =
        [new("", "nothing"), new("\\thepage", "page number"), new("\\leftmark", "chapter, or section in an article"), new("\\rightmark", "section, or the one below"), new("\\nouppercase{\\leftmark}", "chapter, in small letters")];

    /// <summary>All settings, in the order of the room.</summary>
    public static IReadOnlyList<Setting> All { get; } =
    [
        new("class", Manuscript, "Document class", "Which headings there are and how pages are built: chapters in report and book only.", SettingForm.Choice)
        {
            Choices = Same("article", "report", "book", "letter", "amsart", "scrartcl", "scrreprt", "scrbook"), TakesOthers = true, Carriers = [new CommandCarrier("documentclass", "\\documentclass{#}")],
        },
        new("size", Manuscript, "Type size", "The size of running text; headings and notes follow it.", SettingForm.Choice)
        {
            Choices = [new("10", "10 pt"), new("11", "11 pt"), new("12", "12 pt")], Usual = "10", Carriers = [Class(("10pt", "10"), ("11pt", "11"), ("12pt", "12"))],
        },
        new("paper", Manuscript, "Paper", "The sheet that is printed on.", SettingForm.Choice)
        {
            Choices = [new("a4", "A4"), new("letter", "Letter"), new("a5", "A5"), new("b5", "B5"), new("legal", "Legal")], Usual = "letter",
            Carriers = [Class(("a4paper", "a4"), ("letterpaper", "letter"), ("a5paper", "a5"), ("b5paper", "b5"), ("legalpaper", "legal")), new OptionCarrier("geometry") { Flags = [("a4paper", "a4"), ("letterpaper", "letter"), ("a5paper", "a5"), ("b5paper", "b5"), ("legalpaper", "legal")], SetUp = "geometry" }],
        },
        new("sides", Manuscript, "Printed on", "On both sides the inner margins differ from the outer ones, and heads may.", SettingForm.Choice)
        {
            Choices = [new("one", "one side"), new("both", "both sides")], Carriers = [Class(("oneside", "one"), ("twoside", "both"))],
        },
        new("columns", Manuscript, "Columns", "Two columns make short lines, which suits small type.", SettingForm.Choice)
        {
            Choices = [new("1", "one"), new("2", "two")], Usual = "1", Carriers = [Class(("onecolumn", "1"), ("twocolumn", "2"))],
        },
        new("titlepage", Manuscript, "Title", "Whether the title has a page to itself.", SettingForm.Choice)
        {
            Choices = [new("page", "on its own page"), new("top", "above the text")], Carriers = [Class(("titlepage", "page"), ("notitlepage", "top"))],
        },
        new("open", Manuscript, "Chapters begin", "On right-hand pages there may be an empty page before a chapter.", SettingForm.Choice)
        {
            Choices = [new("any", "on any page"), new("right", "on right-hand pages")], Carriers = [Class(("openany", "any"), ("openright", "right"))],
        },
        new("inner", Page, "Left margin", "From the paper's edge to the text; the inner one when both sides are printed.", SettingForm.Length) { Carriers = [Margin(["left", "inner", "lmargin", "innermargin"], "margin", "hmargin")] },
        new("outer", Page, "Right margin", "From the text to the paper's edge; the outer one when both sides are printed.", SettingForm.Length) { Carriers = [Margin(["right", "outer", "rmargin", "outermargin"], "margin", "hmargin")] },
        new("top", Page, "Top margin", "Above the text; the head stands in it.", SettingForm.Length) { Carriers = [Margin(["top", "tmargin"], "margin", "vmargin")] },
        new("bottom", Page, "Bottom margin", "Below the text; the foot stands in it.", SettingForm.Length) { Carriers = [Margin(["bottom", "bmargin"], "margin", "vmargin")] },
        new("binding", Page, "For the binding", "What the spine of a bound copy takes from the paper.", SettingForm.Length) { Carriers = [Margin(["bindingoffset"])] },
        new("width", Page, "Text width", "The width of the text block, where the margins don't give it.", SettingForm.Length) { Carriers = [Margin(["textwidth", "width"]), new CommandCarrier("setlength", "\\setlength{\\textwidth}{#}") { First = "\\textwidth", IsMeasure = true, CanAdd = false }] },
        new("height", Page, "Text height", "The height of the text block, where the margins don't give it.", SettingForm.Length) { Carriers = [Margin(["textheight", "height"]), new CommandCarrier("setlength", "\\setlength{\\textheight}{#}") { First = "\\textheight", IsMeasure = true, CanAdd = false }] },
        new("spacing", Page, "Line spacing", "The distance from line to line of running text.", SettingForm.Choice)
        {
            Choices = [new("single", "single"), new("half", "one and a half"), new("double", "double")], Usual = "single", TakesOthers = true,
            Carriers =
            [
                new SwitchCarrier("setspace", ("singlespacing", "single"), ("onehalfspacing", "half"), ("doublespacing", "double")),
                new OptionCarrier("setspace") { Flags = [("singlespacing", "single"), ("onehalfspacing", "half"), ("doublespacing", "double")] },
                new CommandCarrier("setstretch", "\\setstretch{#}") { Meanings = [("1", "single"), ("1.25", "half"), ("1.667", "double")], Needs = "setspace" },
                new CommandCarrier("linespread", "\\linespread{#}") { Meanings = [("1", "single"), ("1.25", "half"), ("1.667", "double"), ("1.3", "half"), ("1.6", "double")], CanAdd = false },
                new CommandCarrier("renewcommand", "\\renewcommand{\\baselinestretch}{#}") { First = "\\baselinestretch", Meanings = [("1", "single"), ("1.25", "half"), ("1.667", "double")], CanAdd = false },
            ],
        },
        new("paragraphs", Page, "Paragraphs", "Parted by an indent, as in books, or by space.", SettingForm.Choice)
        {
            Choices = [new("indent", "indented"), new("space", "parted by space")], Usual = "indent", Carriers = [new PackageCarrier(("parskip", "space"))],
        },
        new("indent", Page, "Indent", "How far a paragraph's first line goes in.", SettingForm.Length)
        {
            Carriers = [new CommandCarrier("setlength", "\\setlength{\\parindent}{#}") { First = "\\parindent", IsMeasure = true }, new CommandCarrier("parindent", "\\parindent=#") { IsMeasure = true, CanAdd = false }],
        },
        new("gap", Page, "Space between paragraphs", "Extra space above each paragraph.", SettingForm.Length)
        {
            Carriers = [new CommandCarrier("setlength", "\\setlength{\\parskip}{#}") { First = "\\parskip", IsMeasure = true }, new CommandCarrier("parskip", "\\parskip=#") { IsMeasure = true, CanAdd = false }],
        },
        new("pagestyle", Heads, "Heads and feet", "What stands above and below the text of every page.", SettingForm.Choice)
        {
            Choices = [new("plain", "page number below"), new("headings", "titles above"), new("empty", "nothing"), new("fancy", "fields of your own")],
            Carriers = [new CommandCarrier("pagestyle", "\\pagestyle{#}") ],
        },
        .. Fields(),
        new("headrule", Heads, "Line below the head", "Its thickness; 0pt for none.", SettingForm.Length)
        {
            Choices = [new("0pt", "none"), new("0.4pt", "thin")], Usual = "0.4pt", Within = "pagestyle=fancy", Carriers = [new CommandCarrier("renewcommand", "\\renewcommand{\\headrulewidth}{#}") { First = "\\headrulewidth", Within = "fancyhdr" }],
        },
        new("footrule", Heads, "Line above the foot", "Its thickness; 0pt for none.", SettingForm.Length)
        {
            Choices = [new("0pt", "none"), new("0.4pt", "thin")], Usual = "0pt", Within = "pagestyle=fancy", Carriers = [new CommandCarrier("renewcommand", "\\renewcommand{\\footrulewidth}{#}") { First = "\\footrulewidth", Within = "fancyhdr" }],
        },
        new("language", Type, "Language", "How words are divided, and what figures, tables and contents are called.", SettingForm.Choice)
        {
            Choices = [.. Language.Listed.Select(l => new SettingChoice(l.Names[0], l.Title))],
            Carriers =
            [
                new OptionCarrier("babel")
                {
                    Flags = [.. Language.Listed.SelectMany(l => l.Names.Select(n => (n, l.Names[0])))],
                    Loads = true,
                },
                new CommandCarrier("setmainlanguage", "\\setmainlanguage{#}") { CanAdd = false }, new CommandCarrier("setdefaultlanguage", "\\setdefaultlanguage{#}") { CanAdd = false },
            ],
        },
        new("family", Type, "Type", "The family of running text and of mathematics.", SettingForm.Choice)
        {
            Choices = [Family("modern", "Latin Modern"), Family("pagella", "Pagella"), Family("termes", "Termes"), Family("schola", "Schola"), Family("bonum", "Bonum")], Usual = "modern",
            Carriers = [new PackageCarrier(s_families), new CommandCarrier("setmainfont", "\\setmainfont{#}") { Meanings = [("TeX Gyre Pagella", "pagella"), ("TeX Gyre Termes", "termes"), ("TeX Gyre Schola", "schola"), ("TeX Gyre Bonum", "bonum"), ("Latin Modern Roman", "modern")], CanAdd = false }],
        },
        new("even", Type, "Even lines", "Signs hang a little into the margin and glyphs give a little, so that lines come out even.", SettingForm.Switch) { Carriers = [new PackageCarrier(("microtype", "on"))] },
        new("fleqn", Type, "Displayed formulas", "In the middle of the line, or at its left.", SettingForm.Switch) { Choices = [new("on", "at the left")], Carriers = [Class(("fleqn", "on"))] },
        new("leqno", Type, "Their numbers", "At the right of the line, or at its left.", SettingForm.Switch) { Choices = [new("on", "at the left")], Carriers = [Class(("leqno", "on"), ("reqno", "right"))] },
        new("within", Type, "Equations count", "Through the manuscript as the class has it, or anew in every section.", SettingForm.Choice)
        {
            Choices = [new("section", "in sections"), new("chapter", "in chapters")], Carriers = [new CommandCarrier("numberwithin", "\\numberwithin{equation}{#}") { First = "equation", Within = "amsmath" }],
        },
        new("numberdepth", Numbering, "Numbers down to", "Which headings have numbers.", SettingForm.Choice) { Choices = Depths, Carriers = [Counter("secnumdepth")] },
        new("depth", Numbering, "Contents down to", "Which headings the contents list.", SettingForm.Choice) { Choices = Depths, Carriers = [Counter("tocdepth")] },
        new("contents", Numbering, "Contents", "The list of headings with their pages.", SettingForm.Switch) { Carriers = [new SwitchCarrier(null, ("tableofcontents", "on")) { InTextBehind = ["maketitle"] }] },
        new("figures", Numbering, "List of figures", "All figures by their captions.", SettingForm.Switch) { Carriers = [new SwitchCarrier(null, ("listoffigures", "on")) { InTextBehind = ["maketitle", "tableofcontents"] }] },
        new("tables", Numbering, "List of tables", "All tables by their captions.", SettingForm.Switch) { Carriers = [new SwitchCarrier(null, ("listoftables", "on")) { InTextBehind = ["maketitle", "tableofcontents", "listoffigures"] }] },
        new("cites", Citing, "Citations", "By number, or by author and year.", SettingForm.Choice)
        {
            Choices = [new("numbers", "numbers"), new("authoryear", "author and year"), new("super", "raised numbers")],
            Carriers = [new OptionCarrier("natbib") { Flags = [("numbers", "numbers"), ("authoryear", "authoryear"), ("super", "super")] }, new OptionCarrier("biblatex") { Keys = ["style"], SetUp = "ExecuteBibliographyOptions" }],
        },
        new("brackets", Citing, "Their brackets", "What stands around citations.", SettingForm.Choice)
        {
            Choices = [new("round", "round"), new("square", "square")], Carriers = [new OptionCarrier("natbib") { Flags = [("round", "round"), ("square", "square")] }],
        },
        new("citeorder", Citing, "Several at once", "In the order in which they are typed, sorted, or sorted with ranges.", SettingForm.Choice)
        {
            Choices = [new("sort", "sorted"), new("sort&compress", "sorted, with ranges")], Carriers = [new OptionCarrier("natbib") { Flags = [("sort", "sort"), ("sort&compress", "sort&compress")] }],
        },
        new("bibstyle", Citing, "List of sources", "How each source is printed, and in which order.", SettingForm.Choice)
        {
            Choices = [new("plain", "plain"), new("abbrv", "names shortened"), new("alpha", "by short keys"), new("unsrt", "in order of citation"), new("plainnat", "author and year"), new("abbrvnat", "author and year, names shortened"), new("unsrtnat", "author and year, in order of citation")], TakesOthers = true,
            Carriers = [new CommandCarrier("bibliographystyle", "\\bibliographystyle{#}") { IsInText = true, CanAdd = false }],
        },
        new("links", Citing, "Links", "References, citations and addresses lead to their places in the PDF.", SettingForm.Switch) { Carriers = [new PackageCarrier(("hyperref", "on"))] },
        new("linklooks", Citing, "Links look", "Coloured words, a thin frame, or like the text around.", SettingForm.Choice)
        {
            Choices = [new("true", "coloured"), new("false", "framed"), new("hide", "like the text")], Within = "links=on",
            Carriers = [new OptionCarrier("hyperref") { Keys = ["colorlinks"], Flags = [("colorlinks", "true"), ("hidelinks", "hide")], SetUp = "hypersetup" }],
        },
        new("linkcolour", Citing, "Colour of references", "Of links within the manuscript.", SettingForm.Text) { Within = "linklooks=true", Choices = Same("black", "blue", "red", "teal", "violet"), Carriers = [Hyper("linkcolor"), Hyper("allcolors")] },
        new("citecolour", Citing, "Colour of citations", "Of links to sources.", SettingForm.Text) { Within = "linklooks=true", Choices = Same("black", "blue", "green", "teal", "violet"), Carriers = [Hyper("citecolor"), Hyper("allcolors")] },
        new("urlcolour", Citing, "Colour of addresses", "Of links to the outside.", SettingForm.Text) { Within = "linklooks=true", Choices = Same("black", "blue", "magenta", "teal", "violet"), Carriers = [Hyper("urlcolor"), Hyper("allcolors")] },
        new("title", Front, "Title", "What \\maketitle prints above all.", SettingForm.Text) { Carriers = [new CommandCarrier("title", "\\title{#}")] },
        new("author", Front, "Authors", "Each with a line of its own below the name, such as an institute, where one is to be printed.", SettingForm.Text) { Carriers = [new CommandCarrier("author", "\\author{#}")] },
        new("date", Front, "Date", "\\today for the day of the proof; empty for none.", SettingForm.Text) { Choices = [new("\\today", "today"), new("", "none")], Carriers = [new CommandCarrier("date", "\\date{#}")] },
        new("abstract", Front, "Abstract", "A short account of the whole, set below the title; an empty line begins a paragraph.", SettingForm.Text) { IsLong = true, Carriers = [new EnvironmentCarrier("abstract")] },
        new("draft", Drafting, "Draft", "Overfull lines are marked, and pictures are frames with their names.", SettingForm.Switch) { Choices = [new("on", "on")], Carriers = [Class(("draft", "on"), ("final", "off"))] },
        new("lines", Drafting, "Line numbers", "Every line is counted in the margin, so that a reader can name it.", SettingForm.Switch) { Carriers = [new SwitchCarrier("lineno", ("linenumbers", "on"))] },
        new("only", Drafting, "Only these chapters", "Files that are taken in by \\include, parted by commas; the others keep their numbers and aren't printed.", SettingForm.Text) { Carriers = [new CommandCarrier("includeonly", "\\includeonly{#}")] },
    ];

    private static SettingChoice Family(string value, string words) => new(value, words, s_families.First(f => f.Value == value).Package);

    private static SettingChoice[] Depths => [new("0", "chapters"), new("1", "sections"), new("2", "subsections"), new("3", "subsubsections"), new("5", "all")];

    private static CommandCarrier Counter(string name) => new("setcounter", $"\\setcounter{{{name}}}{{#}}") { First = name, IsMeasure = true };

    /// <summary>Whether other manuscripts may have a setting in common with this one: not its title and people, nor what is switched on for a draft.</summary>
    public static bool IsShared(Setting setting) => setting?.Group is not (Front or Drafting);

    /// <summary>The setting of this name, or null.</summary>
    public static Setting? Find(string id) => All.FirstOrDefault(s => s.Id == id);

    // Three fields above and three below: for all pages, and for right-hand and left-hand ones apart.
    private static IEnumerable<Setting> Fields() =>
        from side in (char[])[' ', 'O', 'E']
        from area in (char[])['H', 'F']
        from field in (char[])['L', 'C', 'R']
        let place = field switch { 'L' => "left", 'C' => "middle", _ => "right" }
        let pages = side switch { 'O' => ", right-hand pages", 'E' => ", left-hand pages", _ => "" }
        select new Setting($"{(area == 'H' ? "head" : "foot")}{field}{side}".Trim(), Heads, $"{(area == 'H' ? "Head" : "Foot")}, {place}{pages}", $"What stands {(area == 'H' ? "above" : "below")} the text, {place}.", SettingForm.Text)
        {
            Choices = FieldWords, Within = "pagestyle=fancy", Carriers = [new HeadFieldCarrier(area, field, side)],
        };
}
