using YoungFolio.Manuscript.SettingUp;

namespace YoungFolio.Core.Tests;

/// <summary>What preambles set, and the smallest changes of them: preambles as people write them, oddities and all.</summary>
public sealed class SetUpTests
{
    private const string Body = "\\begin{document}\n\\maketitle\nText.\n\\end{document}\n";

    private static Dictionary<string, string> Texts(string preamble, params (string Path, string Text)[] others)
    {
        var texts = new Dictionary<string, string>(StringComparer.Ordinal) { ["main.tex"] = preamble + Body };
        foreach ((string path, string text) in others)
        {
            texts[path] = text;
        }

        return texts;
    }

    private static SetUp Read(IReadOnlyDictionary<string, string> texts) => SetUp.Of(texts, "main.tex");

    private static string? Value(SetUp setUp, string id) => setUp.State(SettingCatalogue.Find(id)!).Value;

    private static IReadOnlyDictionary<string, string> Changed(IReadOnlyDictionary<string, string> texts, string id, string? value) => SetUp.Apply(texts, Read(texts).Change(id, value));

    private static string Preamble(IReadOnlyDictionary<string, string> texts) => texts["main.tex"].Replace(Body, "", StringComparison.Ordinal);

    /// <summary>Preambles, one of a kind each: what a setting is there, what it becomes, and what is written.</summary>
    public static TheoryData<string, string, string?, string, string> Odd => new()
    {
        // Options of the class: in any order, with space, comments and lines between them.
        { "\\documentclass[12pt,a4paper]{report}\n", "size", "12", "11", "\\documentclass[11pt,a4paper]{report}\n" },
        { "\\documentclass[a4paper,12pt]{report}\n", "size", "12", "10", "\\documentclass[a4paper,10pt]{report}\n" },
        { "\\documentclass[ a4paper , 12pt ]{report}\n", "paper", "a4", "a5", "\\documentclass[ a5paper , 12pt ]{report}\n" },
        { "\\documentclass[12pt, % as the office wants it\n  a4paper]{report}\n", "sides", null, "both", "\\documentclass[12pt, % as the office wants it\n  a4paper, twoside]{report}\n" },
        { "\\documentclass[% all of these\n  twoside,\n  11pt, % small\n]{book}\n", "size", "11", "12", "\\documentclass[% all of these\n  twoside,\n  12pt, % small\n]{book}\n" },
        { "\\documentclass{article}\n", "columns", null, "2", "\\documentclass[twocolumn]{article}\n" },
        { "\\documentclass[]{article}\n", "columns", null, "2", "\\documentclass[twocolumn]{article}\n" },
        { "\\documentclass\n[12pt]\n{article}\n", "size", "12", "10", "\\documentclass\n[10pt]\n{article}\n" },
        { "\\documentclass [12pt] {article}\n", "class", "article", "report", "\\documentclass [12pt] {report}\n" },
        { "% \\documentclass[12pt]{book}\n\\documentclass[10pt]{article}\n", "class", "article", "book", "% \\documentclass[12pt]{book}\n\\documentclass[10pt]{book}\n" },
        { "\\PassOptionsToClass{12pt}{article}\n\\documentclass{article}\n", "size", "12", "11", "\\PassOptionsToClass{11pt}{article}\n\\documentclass{article}\n" },
        { "\\documentclass[10pt,12pt]{article}\n", "size", "12", "11", "\\documentclass[10pt,11pt]{article}\n" },
        { "\\documentclass{article}\\usepackage{graphicx}\n", "draft", null, "on", "\\documentclass[draft]{article}\\usepackage{graphicx}\n" },
        // Margins: keys of one or of several sides, options, the command, other packages in the same command.
        { "\\documentclass{report}\n\\usepackage[left=3cm,right=2cm]{geometry}\n", "inner", "3cm", "35mm", "\\documentclass{report}\n\\usepackage[left=35mm,right=2cm]{geometry}\n" },
        { "\\documentclass{report}\n\\usepackage[left = 3cm, right=2cm]{geometry}\n", "inner", "3cm", "35mm", "\\documentclass{report}\n\\usepackage[left = 35mm, right=2cm]{geometry}\n" },
        { "\\documentclass{report}\n\\usepackage[margin=1in]{geometry}\n", "inner", "1in", "35mm", "\\documentclass{report}\n\\usepackage[margin=1in,left=35mm]{geometry}\n" },
        { "\\documentclass{report}\n\\usepackage[margin=1in]{geometry} % wide\n\\geometry{top=2cm}\n", "inner", "1in", "35mm", "\\documentclass{report}\n\\usepackage[margin=1in]{geometry} % wide\n\\geometry{top=2cm,left=35mm}\n" },
        { "\\documentclass{report}\n\\usepackage{graphicx,geometry,xcolor} % these\n\\title{X}\n", "top", null, "2cm", "\\documentclass{report}\n\\usepackage{graphicx,geometry,xcolor} % these\n\\geometry{top=2cm}\n\\title{X}\n" },
        { "\\documentclass{report}\n\\usepackage{geometry}\n", "top", null, "2cm", "\\documentclass{report}\n\\usepackage{geometry}\n\\geometry{top=2cm}\n" },
        { "\\documentclass{report}\n\\usepackage{amsmath}\n\\usepackage{hyperref}\n", "bottom", null, "2cm", "\\documentclass{report}\n\\usepackage{amsmath}\n\\usepackage{hyperref}\n\\usepackage[bottom=2cm]{geometry}\n" },
        { "\\documentclass{report}\n\\usepackage[\n  inner=3cm,   % bound\n  outer=2cm\n]{geometry}\n", "outer", "2cm", "25mm", "\\documentclass{report}\n\\usepackage[\n  inner=3cm,   % bound\n  outer=25mm\n]{geometry}\n" },
        { "\\documentclass{report}\n\\PassOptionsToPackage{bottom=2cm}{geometry}\n\\usepackage{geometry}\n", "bottom", "2cm", "3cm", "\\documentclass{report}\n\\PassOptionsToPackage{bottom=3cm}{geometry}\n\\usepackage{geometry}\n" },
        // Line spacing: the ways there are.
        { "\\documentclass{report}\n\\usepackage{setspace}\n\\onehalfspacing\n", "spacing", "half", "double", "\\documentclass{report}\n\\usepackage{setspace}\n\\doublespacing\n" },
        { "\\documentclass{report}\n\\usepackage[doublespacing]{setspace}\n", "spacing", "double", "half", "\\documentclass{report}\n\\usepackage[onehalfspacing]{setspace}\n" },
        { "\\documentclass{report}\n\\linespread{1.3}\n", "spacing", "half", "double", "\\documentclass{report}\n\\linespread{1.667}\n" },
        { "\\documentclass{report}\n\\usepackage{setspace}\n\\setstretch{1.4}\n", "spacing", "1.4", "single", "\\documentclass{report}\n\\usepackage{setspace}\n\\setstretch{1}\n" },
        { "\\documentclass{report}\n\\renewcommand*{\\baselinestretch}{1.25}\n", "spacing", "half", "double", "\\documentclass{report}\n\\renewcommand*{\\baselinestretch}{1.667}\n" },
        { "\\documentclass{report}\n", "spacing", null, "half", "\\documentclass{report}\n\\usepackage{setspace}\\onehalfspacing\n" },
        { "\\documentclass{report}\n\\AtBeginDocument{\\onehalfspacing}\\usepackage{setspace}\n", "spacing", "half", "single", "\\documentclass{report}\n\\AtBeginDocument{\\singlespacing}\\usepackage{setspace}\n" },
        // Lengths, counters, redefinitions.
        { "\\documentclass{report}\n\\setlength\\parindent{0pt}\n", "indent", "0pt", "1em", "\\documentclass{report}\n\\setlength\\parindent{1em}\n" },
        { "\\documentclass{report}\n\\parindent=0pt \\parskip 6pt plus 1pt\n", "gap", "6pt plus 1pt", "4pt", "\\documentclass{report}\n\\parindent=0pt \\parskip 4pt\n" },
        { "\\documentclass{report}\n\\setcounter{tocdepth}{1}\n\\setcounter{secnumdepth}{3}\n", "depth", "1", "2", "\\documentclass{report}\n\\setcounter{tocdepth}{2}\n\\setcounter{secnumdepth}{3}\n" },
        { "\\documentclass{report}\n\\usepackage{fancyhdr}\n\\pagestyle{fancy}\n\\fancyhead[LE,RO]{\\leftmark}\n", "headRO", "\\leftmark", "\\thepage", "\\documentclass{report}\n\\usepackage{fancyhdr}\n\\pagestyle{fancy}\n\\fancyhead[LE,RO]{\\leftmark}\n\\fancyhead[RO]{\\thepage}\n" },
        { "\\documentclass{report}\n\\usepackage{fancyhdr}\\pagestyle{fancy}\\fancyhf{}\n\\fancyfoot[C]{\\thepage}\n", "footC", "\\thepage", "p.~\\thepage", "\\documentclass{report}\n\\usepackage{fancyhdr}\\pagestyle{fancy}\\fancyhf{}\n\\fancyfoot[C]{p.~\\thepage}\n" },
        { "\\documentclass{report}\n\\usepackage{fancyhdr}\n\\pagestyle{fancy}\n\\lhead{Walls}\n\\renewcommand{\\headrulewidth}{0pt}\n", "headrule", "0pt", "0.4pt", "\\documentclass{report}\n\\usepackage{fancyhdr}\n\\pagestyle{fancy}\n\\lhead{Walls}\n\\renewcommand{\\headrulewidth}{0.4pt}\n" },
        // Language, type, sources, links.
        { "\\documentclass{report}\n\\usepackage[ngerman,british]{babel}\n", "language", "british", "american", "\\documentclass{report}\n\\usepackage[ngerman,american]{babel}\n" },
        { "\\documentclass{report}\n\\usepackage{mathpazo}\n", "family", "pagella", "termes", "\\documentclass{report}\n\\usepackage{tgtermes}\n" },
        { "\\documentclass{report}\n\\usepackage{natbib}\n\\usepackage{hyperref}\n", "cites", null, "numbers", "\\documentclass{report}\n\\usepackage[numbers]{natbib}\n\\usepackage{hyperref}\n" },
        { "\\documentclass{report}\n\\usepackage{amsmath,natbib}\n", "brackets", null, "square", "\\documentclass{report}\n\\PassOptionsToPackage{square}{natbib}\n\\usepackage{amsmath,natbib}\n" },
        { "\\documentclass{report}\n\\usepackage[colorlinks,citecolor=teal]{hyperref}\n", "linklooks", "true", "hide", "\\documentclass{report}\n\\usepackage[hidelinks,citecolor=teal]{hyperref}\n" },
        { "\\documentclass{report}\n\\usepackage{hyperref}\n\\hypersetup{\n  colorlinks = true,\n  linkcolor  = blue,\n}\n", "linkcolour", "blue", "teal", "\\documentclass{report}\n\\usepackage{hyperref}\n\\hypersetup{\n  colorlinks = true,\n  linkcolor  = teal,\n}\n" },
        // Words of the title, with braces and comments in them.
        { "\\documentclass{article}\n\\title{On {Lichen}\\thanks{Paid \\& done.}}\n\\author{A\\and B}\n", "author", "A\\and B", "C", "\\documentclass{article}\n\\title{On {Lichen}\\thanks{Paid \\& done.}}\n\\author{C}\n" },
        { "\\documentclass{article}\n\\title[Short]{Long\n  title}\n", "title", "Long\n  title", "New", "\\documentclass{article}\n\\title[Short]{New}\n" },
        { "\\documentclass{article}\n%\\date{1900}\n\\date{}\n", "date", "", "\\today", "\\documentclass{article}\n%\\date{1900}\n\\date{\\today}\n" },
        // Text as typed, and what is switched off, sets nothing.
        { "\\begin{filecontents}{x.tex}\n\\title{Not this}\n\\end{filecontents}\n\\documentclass{article}\n\\title{This}\n", "title", "This", "That", "\\begin{filecontents}{x.tex}\n\\title{Not this}\n\\end{filecontents}\n\\documentclass{article}\n\\title{That}\n" },
        { "\\documentclass{article}\n\\iffalse\n\\title{Off}\n\\fi\n\\newif\\ifdraft\n\\title{On}\n", "title", "On", "New", "\\documentclass{article}\n\\iffalse\n\\title{Off}\n\\fi\n\\newif\\ifdraft\n\\title{New}\n" },
        // No line of its own for the text's beginning.
        { "\\documentclass{article}\\usepackage{graphicx}", "depth", null, "2", "\\documentclass{article}\\usepackage{graphicx}\\setcounter{tocdepth}{2}" },
        { "\\documentclass{article}\r\n\\usepackage{graphicx}\r\n", "size", null, "12", "\\documentclass[12pt]{article}\r\n\\usepackage{graphicx}\r\n" },
    };

    [Theory]
    [MemberData(nameof(Odd))]
    public void A_setting_is_read_and_changed_and_all_else_stays(string preamble, string id, string? was, string value, string expected)
    {
        Dictionary<string, string> texts = Texts(preamble);
        Assert.Equal(was, Value(Read(texts), id));
        IReadOnlyDictionary<string, string> changed = Changed(texts, id, value);
        Assert.Equal(expected, Preamble(changed));
        Assert.Equal(value, Value(Read(changed), id));
        // What else is set stays so.
        foreach (SettingState state in Read(texts).Settings.Where(s => s.Setting.Id != id && !Follows(id, s.Setting.Id)))
        {
            Assert.Equal((state.Setting.Id, state.Value), (state.Setting.Id, Value(Read(changed), state.Setting.Id)));
        }

        // And what it was brings the first text back.
        bool isShared = preamble.Contains("margin=1in", StringComparison.Ordinal) || preamble.Contains("LE,RO", StringComparison.Ordinal);
        if (!isShared && expected.Contains("[11pt", StringComparison.Ordinal) == preamble.Contains("[11pt", StringComparison.Ordinal))
        {
            Assert.Equal(Normal(Preamble(texts), id), Normal(Preamble(Changed(changed, id, was)), id));
        }
    }

    // A title as it stood, a package of the same family, an empty pair of brackets: said in another way, but said.
    private static string Normal(string preamble, string id) => id is "family" ? preamble.Replace("mathpazo", "tgpagella", StringComparison.Ordinal)
        : id is "spacing" ? preamble.Replace("1.3}", "1.25}", StringComparison.Ordinal).Replace("\\onehalfspacing", "", StringComparison.Ordinal) : preamble.Replace("[]", "", StringComparison.Ordinal);

    // Fields for all pages are read by those for one side too.
    private static bool Follows(string id, string other) => id.Length >= 5 && other.StartsWith(id[..5], StringComparison.Ordinal);

    [Fact]
    public void What_holds_only_under_a_condition_or_in_a_definition_is_shown_and_left_alone()
    {
        Dictionary<string, string> texts = Texts("\\documentclass{article}\n\\newif\\ifprint\n\\ifprint\n  \\usepackage[margin=1in]{geometry}\n\\else\n  \\usepackage[margin=2cm]{geometry}\n\\fi\n\\newcommand{\\house}{\\onehalfspacing}\n\\ifthenelse{\\boolean{x}}{\\setcounter{tocdepth}{1}}{}\n");
        SettingState inner = Read(texts).State(SettingCatalogue.Find("inner")!);
        Assert.Equal(("2cm", false), (inner.Value, inner.CanChange));
        Assert.All(inner.Places, p => Assert.Equal(HeldBecause.Condition, p.Held));
        Assert.Equal(2, inner.Places.Count);
        SettingState spacing = Read(texts).State(SettingCatalogue.Find("spacing")!);
        Assert.Equal(HeldBecause.Definition, Assert.Single(spacing.Places).Held);
        Assert.Equal(HeldBecause.Condition, Assert.Single(Read(texts).State(SettingCatalogue.Find("depth")!).Places).Held);
        Assert.Contains("under a condition", Assert.Throws<SetUpException>(() => Read(texts).Change("inner", "3cm")).Message, StringComparison.Ordinal);
    }

    [Theory]
    // Of the language, and of packages that have their branches in braces (etoolbox, ifthen, from memory).
    [InlineData("\\ifnum1=1 \\onehalfspacing\\fi", HeldBecause.Condition)]
    [InlineData("\\ifdefined\\x\\else\\onehalfspacing\\fi", HeldBecause.Condition)]
    [InlineData("\\iftoggle{draft}{\\onehalfspacing}{}", HeldBecause.Condition)]
    [InlineData("\\ifdefstring{\\x}{y}{}{\\onehalfspacing}", HeldBecause.Condition)]
    [InlineData("\\ifthenelse{\\equal{a}{b}}{}{\\onehalfspacing}", HeldBecause.Condition)]
    [InlineData("\\iftoggle{draft}{\\title{X}}{}\n\\onehalfspacing", HeldBecause.No)]
    [InlineData("\\newif\\ifdraft\n\\onehalfspacing", HeldBecause.No)]
    [InlineData("\\ifdraft\\title{X}\\fi\n\\onehalfspacing", HeldBecause.No)]
    public void What_a_condition_holds_ends_with_it(string lines, HeldBecause held) =>
        Assert.Equal(held, Assert.Single(Read(Texts($"\\documentclass{{article}}\n\\usepackage{{setspace}}\n{lines}\n")).State(SettingCatalogue.Find("spacing")!).Places).Held);

    [Theory]
    [InlineData("[12pt,twoside]", "[12pt]")]
    [InlineData("[twoside,12pt]", "[12pt]")]
    [InlineData("[a4paper, twoside, 12pt]", "[a4paper, 12pt]")]
    [InlineData("[twoside]", "")]
    [InlineData("[12pt, % large\n  twoside]", "[12pt, % large\n  ]")]
    [InlineData("[twoside, % both\n  12pt]", "[ % both\n  12pt]")]
    public void An_option_goes_and_comments_stay(string options, string expected) =>
        Assert.Equal($"\\documentclass{expected}{{article}}\n", Preamble(Changed(Texts($"\\documentclass{options}{{article}}\n"), "sides", null)));

    [Fact]
    public void A_style_file_and_a_class_file_of_ones_own_are_read_and_left_alone()
    {
        Dictionary<string, string> texts = Texts(
            "\\documentclass{house}\n\\usepackage{walls}\n",
            ("house.cls", "\\LoadClass[12pt,a4paper]{report}\n\\RequirePackage[margin=3cm]{geometry}\n"), ("walls.sty", "\\RequirePackage{setspace}\n\\onehalfspacing\n\\def\\x{\\title{no}}\n"));
        SetUp setUp = Read(texts);
        Assert.Equal(("house", "12", "a4", "3cm", "half"), (Value(setUp, "class"), Value(setUp, "size"), Value(setUp, "paper"), Value(setUp, "inner"), Value(setUp, "spacing")));
        SettingPlace place = Assert.Single(setUp.State(SettingCatalogue.Find("spacing")!).Places);
        Assert.Equal(("walls.sty", HeldBecause.Style), (place.File, place.Held));
        Assert.Equal("\\onehalfspacing", texts["walls.sty"][place.From..place.To]);
        Assert.Contains("walls.sty", Assert.Throws<SetUpException>(() => setUp.Change("spacing", "single")).Message, StringComparison.Ordinal);
        // What they don't set can be set.
        Assert.Equal("\\documentclass{house}\n\\usepackage{walls}\n\\setcounter{tocdepth}{2}\n", Preamble(Changed(texts, "depth", "2")));
    }

    [Fact]
    public void A_preamble_in_files_of_its_own_is_changed_where_it_stands()
    {
        var texts = new Dictionary<string, string>(StringComparer.Ordinal)
        {
            ["main.tex"] = "\\input{set/class}\n\\input{set/rest.tex}\n\\input{text}\n",
            ["set/class.tex"] = "\\documentclass[12pt]{report}\n",
            ["set/rest.tex"] = "\\usepackage{setspace}\n\\doublespacing\n",
            ["text.tex"] = "\\begin{document}\n\\maketitle\nWords.\n\\end{document}\n",
        };
        Assert.Equal(("12", "double"), (Value(Read(texts), "size"), Value(Read(texts), "spacing")));
        Assert.Equal("\\documentclass[11pt]{report}\n", Changed(texts, "size", "11")["set/class.tex"]);
        Assert.Equal("\\usepackage{setspace}\n\\singlespacing\n", Changed(texts, "spacing", "single")["set/rest.tex"]);
        Assert.StartsWith("\\setcounter{tocdepth}{1}\n\\begin{document}", Changed(texts, "depth", "1")["text.tex"], StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("")]
    [InlineData("Just some words.\n")]
    [InlineData("\\documentclass[12pt{article\n\\begin{document}\nx\n\\end{document}\n")]
    [InlineData("\\documentclass{article}\n\\title{never closed\n")]
    [InlineData("\\input{main}\n\\input{nowhere}\n")]
    [InlineData("\\usepackage[left=\n\\begin{document}")]
    public void What_has_no_preamble_is_read_and_refused_in_words(string main)
    {
        var texts = new Dictionary<string, string>(StringComparer.Ordinal) { ["main.tex"] = main };
        SetUp setUp = Read(texts);
        Assert.False(setUp.HasPreamble);
        Assert.All(setUp.Settings, s => Assert.False(s.CanChange));
        Assert.Contains("no preamble", Assert.Throws<SetUpException>(() => setUp.Change("size", "12")).Message, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("inner", "wide")]
    [InlineData("inner", "3")]
    [InlineData("title", "open {")]
    [InlineData("title", "shut }")]
    [InlineData("title", "50% of it")]
    [InlineData("title", "one\n\ntwo")]
    [InlineData("title", "one\n \ntwo")]
    [InlineData("title", "50\\% and 5% of it")]
    [InlineData("title", "ends so\\")]
    [InlineData("title", "\\} shut }")]
    [InlineData("size", "13")]
    [InlineData("nothing", "x")]
    public void What_can_not_be_said_is_refused(string id, string value) =>
        Assert.Throws<SetUpException>(() => Read(Texts("\\documentclass{article}\n")).Change(id, value));

    [Fact]
    public void The_last_of_several_wins_and_all_are_shown()
    {
        Dictionary<string, string> texts = Texts("\\documentclass{article}\n\\usepackage[left=1cm,left=2cm]{geometry}\n\\geometry{left=3cm}\n");
        SettingState inner = Read(texts).State(SettingCatalogue.Find("inner")!);
        Assert.Equal(["1cm", "2cm", "3cm"], inner.Places.Select(p => p.Value));
        Assert.Equal("\\documentclass{article}\n\\usepackage[left=1cm,left=2cm]{geometry}\n\\geometry{left=4cm}\n", Preamble(Changed(texts, "inner", "4cm")));
    }

    [Fact]
    public void Fields_of_ones_own_come_with_their_package_and_go_without_a_trace()
    {
        Dictionary<string, string> texts = Texts("\\documentclass{report}\n\\usepackage{hyperref}\n");
        IReadOnlyDictionary<string, string> fancy = Changed(texts, "pagestyle", "fancy");
        Assert.Equal("\\documentclass{report}\n\\usepackage{hyperref}\n\\usepackage{fancyhdr}\\pagestyle{fancy}\\fancyhf{}\n", Preamble(fancy));
        IReadOnlyDictionary<string, string> field = Changed(fancy, "headL", "\\leftmark");
        Assert.EndsWith("\\fancyhf{}\n\\fancyhead[L]{\\leftmark}\n", Preamble(field), StringComparison.Ordinal);
        Assert.Equal("", Value(Read(field), "footC"));
        Assert.Equal(texts["main.tex"], Changed(Changed(field, "headL", null), "pagestyle", null)["main.tex"]);
    }

    [Theory]
    [InlineData("article", "one", "top", "any", "plain", "3")]
    [InlineData("report", "one", "page", "any", "plain", "2")]
    [InlineData("book", "both", "page", "right", "headings", "2")]
    public void What_nothing_sets_is_as_the_class_has_it(string name, string sides, string title, string open, string style, string depth)
    {
        // Lamport's classes (LaTeX: A Document Preparation System, C.5), from memory.
        SetUp setUp = Read(Texts($"\\documentclass{{{name}}}\n"));
        string? Usual(string id) => setUp.State(SettingCatalogue.Find(id)!).Usual;
        Assert.Equal((sides, title, open, style, depth), (Usual("sides"), Usual("titlepage"), Usual("open"), Usual("pagestyle"), Usual("depth")));
        Assert.Equal("10", Usual("size"));
    }

    [Fact]
    public void Lists_are_put_behind_the_title_in_their_order()
    {
        Dictionary<string, string> texts = Texts("\\documentclass{report}\n");
        IReadOnlyDictionary<string, string> now = Changed(Changed(Changed(texts, "contents", "on"), "tables", "on"), "figures", "on");
        Assert.Contains("\\maketitle\n\\tableofcontents\n\\listoffigures\n\\listoftables\nText.", now["main.tex"], StringComparison.Ordinal);
        Assert.Equal(texts["main.tex"], Changed(Changed(Changed(now, "figures", null), "tables", null), "contents", null)["main.tex"]);
    }

    /// <summary>Any sequence of settings, then back in the order in which one takes things back, gives the first text again.</summary>
    [Theory]
    [InlineData("\\maketitle\n\\begin{abstract}\n  Moss.\n\\end{abstract}\nText", "Moss.", "Lichen & wall.\n\nMore.", "\\maketitle\n\\begin{abstract}\n  Lichen & wall.\n\nMore.\n\\end{abstract}\nText")]
    [InlineData("\\maketitle\n\\begin{abstract}Moss.\\end{abstract}\nText", "Moss.", "A % note", "\\maketitle\n\\begin{abstract}A % note\n\\end{abstract}\nText")]
    [InlineData("\\maketitle\nText", null, "Moss.", "\\maketitle\n\\begin{abstract}\nMoss.\n\\end{abstract}\nText")]
    [InlineData("\\maketitle\n\\begin{abstract}\nMoss.\n\\end{abstract}\nText", "Moss.", null, "\\maketitle\nText")]
    [InlineData("\\maketitle\n% \\begin{abstract}Old\\end{abstract}\nText", null, "New", "\\maketitle\n% \\begin{abstract}Old\\end{abstract}\nText")]
    public void The_abstract_is_a_text_of_its_own(string body, string? was, string? value, string expected)
    {
        var texts = new Dictionary<string, string>(StringComparer.Ordinal) { ["main.tex"] = $"\\documentclass{{article}}\n\\begin{{document}}\n{body}\n\\end{{document}}\n" };
        Assert.Equal(was, Value(Read(texts), "abstract"));
        string after = Changed(texts, "abstract", value)["main.tex"];
        if (!body.Contains("% \\begin", StringComparison.Ordinal))
        {
            Assert.Equal(expected, after.Split("\\begin{document}\n")[1].Replace("\n\\end{document}\n", "", StringComparison.Ordinal));
        }

        Assert.Equal(value, Value(Read(new Dictionary<string, string> { ["main.tex"] = after }), "abstract"));
    }

    [Theory]
    [InlineData("book", "Moss.")]
    [InlineData("article", "An \\end{abstract} within")]
    [InlineData("article", "An open {brace")]
    [InlineData("article", "A backslash \\")]
    public void What_no_abstract_can_be_is_refused(string name, string value) =>
        Assert.Throws<SetUpException>(() => Read(Texts($"\\documentclass{{{name}}}\n")).Change("abstract", value));

    [Fact]
    public void A_saved_set_up_is_applied_as_far_as_it_goes_and_leaves_titles_and_texts_alone()
    {
        SetUpValues house = SetUpValues.Of(Read(Texts(
            "\\documentclass[12pt,a4paper]{report}\n\\usepackage[british]{babel}\n\\usepackage[left=35mm]{geometry}\n\\usepackage{setspace}\\onehalfspacing\n\\usepackage{booktabs,amsmath}\n\\title{House}\n\\author{Ilse}\n\\usepackage{lineno}\\linenumbers\n")));
        Assert.Equal(["12", "a4", "half"], new[] { "size", "paper", "spacing" }.Select(s => house.Settings[s]));
        Assert.DoesNotContain("title", house.Settings.Keys);
        Assert.DoesNotContain("lines", house.Settings.Keys);
        Assert.Contains("booktabs", house.Packages);

        // Another one, with a condition around one setting and a column of its own.
        Dictionary<string, string> other = Texts("\\documentclass[twocolumn]{article} % mine\n\\newif\\ifwide\n\\ifwide\\usepackage[left=1cm]{geometry}\\fi\n\\title{Mine}\n\\author{Bao}\n");
        var plan = SetUpTransfer.Plan(other, "main.tex", house, null);
        Assert.NotNull(Assert.Single(plan.Steps, s => s.Key == "set:inner").Problem);
        SetUpStep columns = Assert.Single(plan.Steps, s => s.Key == "set:columns");
        Assert.Equal(("two", null, false), (columns.From, columns.To, columns.IsOffered));
        Assert.Contains(plan.Steps, s => s.Key == "load:booktabs");
        string after = plan.After["main.tex"];
        Assert.StartsWith("\\documentclass[twocolumn,", after, StringComparison.Ordinal);
        Assert.Contains("{report} % mine\n", after, StringComparison.Ordinal);
        Assert.Contains("\\title{Mine}\n\\author{Bao}\n", after, StringComparison.Ordinal);
        SetUp read = Read(plan.After);
        Assert.All(house.Settings.Where(s => s.Key != "inner"), s => Assert.Equal(s.Value, Value(read, s.Key)));
        Assert.Equal(["booktabs", "amsmath"], read.Packages(new Dictionary<string, int>()).Select(p => p.Name).Where(n => n is "booktabs" or "amsmath"));

        // Applied again nothing is left to do; and only what is wanted is done.
        Assert.Empty(SetUpTransfer.Plan(plan.After, "main.tex", house, null).Edits);
        Assert.Single(SetUpTransfer.Plan(other, "main.tex", house, new HashSet<string> { "set:size" }).Edits);
    }

    [Fact]
    public void Any_sequence_of_settings_and_then_back_gives_the_first_text()
    {
        var random = new Random(20261129);
        // Empty brackets say nothing, and go with the option that was in them.
        List<string> all = [.. Odd.Select(row => ((string)row[0]).Replace("[]", "", StringComparison.Ordinal)), "\\documentclass{report}\n"];
        int changes = 0;
        for (int round = 0; round < 500; round++)
        {
            IReadOnlyDictionary<string, string> first = Texts(all[round % all.Count]);
            IReadOnlyDictionary<string, string> now = first;
            var back = new Stack<(string Id, string? Value, IReadOnlyDictionary<string, string> Text)>();
            for (int step = 0; step < 6; step++)
            {
                Setting setting = SettingCatalogue.All[random.Next(SettingCatalogue.All.Count)];
                SettingState state = Read(now).State(setting);
                // What stands there in words that only the source says, or along with something else, isn't brought back by its value.
                if (!state.CanChange || state.Places.Any(p => p.IsShared) || Reads(now, setting, state.Value))
                {
                    continue;
                }

                string value = setting.Form switch
                {
                    SettingForm.Length => $"{random.Next(1, 60)}mm",
                    SettingForm.Text => $"words {random.Next(9)}",
                    SettingForm.Switch => "on",
                    _ => setting.Choices[random.Next(setting.Choices.Count)].Value,
                };
                IReadOnlyDictionary<string, string> next = Try(now, setting.Id, value);
                Assert.Equal(value, Value(Read(next), setting.Id) ?? setting.Usual);
                back.Push((setting.Id, state.Value, now));
                now = next;
                changes++;
            }

            foreach ((string id, string? value, IReadOnlyDictionary<string, string> text) in back)
            {
                now = Changed(now, id, value);
                Assert.True(text["main.tex"] == now["main.tex"], $"{id} back to {value ?? "nothing"}:\n{now["main.tex"]}\ninstead of\n{text["main.tex"]}");
            }

            Assert.Equal(first["main.tex"], now["main.tex"]);
        }

        Assert.True(changes > 1200, $"{changes} changes");
    }

    private static IReadOnlyDictionary<string, string> Try(IReadOnlyDictionary<string, string> texts, string id, string value)
    {
        try
        {
            return Changed(texts, id, value);
        }
        catch (SetUpException e)
        {
            throw new InvalidOperationException($"{id} = {value}: {e.Message}\n{texts["main.tex"]}", e);
        }
    }

    // Whether a value is typed in another way than it would be written.
    private static bool Reads(IReadOnlyDictionary<string, string> texts, Setting setting, string? value)
    {
        if (value is null)
        {
            return false;
        }

        SettingPlace last = Read(texts).State(setting).Places[^1];
        string before = texts[last.File];
        string other = setting.Form switch { SettingForm.Length => "17mm", SettingForm.Text => "other", SettingForm.Switch => "on", _ => setting.Choices.First(c => c.Value != value).Value };
        IReadOnlyDictionary<string, string> there = Changed(texts, setting.Id, other);
        return Changed(there, setting.Id, value)[last.File] != before;
    }
}
