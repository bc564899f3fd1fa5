using YoungFolio.Compiler;
using YoungFolio.Markup;
using YoungFolio.Pdf;

namespace YoungFolio.Core.Tests;

/// <summary>Packages that are said in the markup itself, and those that put things at places of the page: what they print, by their documentation (from memory).</summary>
public sealed class LaterPackageTests
{
    private static string Printed(string packages, string body, string preamble = "") => Compiled.Text(Compiled.Clean(body, $"\\usepackage{{amsmath}}{string.Concat(packages.Split(' ').Select(p => p.Contains('[') ? $"\\usepackage{p}" : $"\\usepackage{{{p}}}"))}{preamble}"));

    [Theory]
    [InlineData("tensor", "$\\tensor{R}{^a_{bcd}}$ $\\tensor[^i_j]{M}{^k}$ $\\indices{_m^n}$", "Ra bcd i j M k m n")]
    [InlineData("tensor", "$\\nuclide[14][6]{C}$", "14 6 C")]
    [InlineData("nccmath", "$\\medmath{a}\\mfrac{b}{c}\\mbinom{d}{e}\\medop{f}\\medint{g}\\medintcorr\\begin{mmatrix}h\\end{mmatrix}$\\useshortskip", "b d a ( ) f gh c e")]
    [InlineData("slashed", "\\declareslashed{}{/}{0}{0}{p}$\\slashed{p}$", "p/")]
    [InlineData("esint", "$\\oiint$", "∮∮")]
    [InlineData("esint", "$\\dotsint$", "∫⋯∫")]
    [InlineData("isodate", "{\\isodate\\printdate{24.12.2026} \\isodash{/}\\printdate{2026-1-2}} {\\numdate\\printdate{2026-12-24}} {\\shortdate\\printdate{24.12.2026}} \\origdate\\printdate{24.12.2026}", "2026-12-24 2026/01/02 24. 12. 2026 24. 12. 26 December 24, 2026")]
    [InlineData("isodate", "\\isodate\\today", "2026-11-09")]
    [InlineData("outlines", "\\begin{outline}\\1 Stone \\2 Slate \\3 Thin \\1 Lime\\end{outline}", "• Stone – Slate ∗ Thin • Lime")]
    [InlineData("outlines", "\\begin{outline}[enumerate]\\1 Stone \\2 Slate \\2 Flag\\end{outline}", "1. Stone (a) Slate (b) Flag")]
    [InlineData("ccicons", "\\ccbysa{} \\cczero{} \\ccShare \\ccCopy", "CC BY SA CC 0 share ©")]
    [InlineData("textgreek", "\\textalpha\\textOmega\\textsigma", "αΩσ")]
    [InlineData("fontawesome5", "\\faEnvelope{} \\faIcon{rocket} \\faPhone", "✉•☎")]
    [InlineData("bbding", "\\Checkmark{} \\Envelope{} \\XSolid", "✓✉×")]
    [InlineData("tipa", "\\textipa{[\"\"Ekspl@\"neIS@n]} \\textschwa\\textesh \\begin{IPA}N\\end{IPA}", "[ˌɛkspləˈneɪʃən] əʃŋ")]
    [InlineData("gb4e", "\\begin{exe}\\ex One.\\ex[*]{Two}\\begin{xlist}\\ex a\\ex b\\end{xlist}\\sn Plain\\end{exe}", "(1) One. (2)* Two a. a b. b Plain")]
    [InlineData("gb4e", "\\begin{exe}\\ex\\gll Der {alte Wall} steht\\\\ the old.wall stands\\\\ \\glt It stands.\\end{exe}", "(1) Der alte Wall steht the old.wall stands It stands.")]
    [InlineData("gb4e", "\\begin{exe}\\ex\\glll a b\\\\ c d\\\\ e\\\\ \\trans f\\end{exe}", "(1) a b c d e f")]
    [InlineData("dirtree", "\\dirtree{%\n.1 walls.\n.2 north.tex\\DTcomment{old}.\n.2 south.\n.3 a.b.tex.\n}", "walls north.tex south a.b.tex old")]
    [InlineData("[draft]{fixme}", "Words\\fxnote{mend} and \\fxwarning*{look}{these}\\fixme{x}.", "Words and these. Note: mend Warning: look Fixme: x")]
    [InlineData("fixme", "Words\\fxnote{mend} and \\fxfatal*{look}{these}\\begin{anfxnote}{y}all\\end{anfxnote}.", "Words and theseall.")]
    [InlineData("fixme", "\\fxsetup{draft}\\FXRegisterAuthor{ab}{anab}{Ann}Words\\abnote{mend}.", "Words. Note (Ann): mend")]
    [InlineData("cuted", "\\begin{strip}Over both.\\end{strip}", "Over both.")]
    [InlineData("biblatex-chicago", "Words.", "Words.")]
    public void Prints_what_its_documentation_says(string packages, string body, string printed) => Assert.Equal(printed, Printed(packages, body));

    // ---- algorithms with braces -------------------------------------------------------------------------------

    [Theory]
    [InlineData("$a$\\;$b$\\;", "a; b;")]
    [InlineData("\\DontPrintSemicolon $a$\\;", "a")]
    [InlineData("\\KwIn{x}\\KwOut{y}\\KwData{d}\\KwResult{r}", "Input: x Output: y Data: d Result: r")]
    [InlineData("\\If{$c$}{go\\;}", "if c then go; end")]
    [InlineData("\\uIf{$c$}{go\\;}\\uElseIf{$d$}{run\\;}\\Else{stay\\;}", "if c then go; else if d then run; else stay; end")]
    [InlineData("\\eIf{$c$}{go\\;}{stay\\;}", "if c then go; else stay; end")]
    [InlineData("\\lIf{$c$}{go}\\lElse{stay}\\lElseIf{$d$}{run}\\leIf{$e$}{one}{two}", "if c then go; else stay; else if d then run; if e then one else two;")]
    [InlineData("\\For{$i \\gets 1$ \\KwTo $n$}{go\\;}\\ForEach{x}{y\\;}\\ForAll{x}{y\\;}", "for i ← 1 to n do go; end foreach x do y; end forall x do y; end")]
    [InlineData("\\lFor{a}{b}\\lForEach{a}{b}\\lForAll{a}{b}\\lWhile{a}{b}\\lRepeat{a}{b}", "for a do b; foreach a do b; forall a do b; while a do b; repeat b until a;")]
    [InlineData("\\While{c}{go\\;}\\Repeat{d}{run\\;}\\uFor{e}{f\\;}\\uWhile{g}{h\\;}", "while c do go; end repeat run; until d; for e do f; while g do h;")]
    [InlineData("\\Switch{x}{\\Case{1}{go\\;}\\lCase{2}{run}\\uCase{3}{sit\\;}\\Other{stay\\;}}", "switch x do case 1 do go; end case 2 do run; case 3 do sit; otherwise do stay; end end")]
    [InlineData("\\uSwitch{x}{\\uOther{a\\;}\\lOther{b}}\\Begin{go\\;}", "switch x do otherwise do a; otherwise do b; end begin go; end")]
    [InlineData("\\ElseIf{c}{go\\;}\\uElse{stay\\;}", "else if c then go; end else stay;")]
    [InlineData("\\Return{$x$}\\;\\KwRet $y$\\;", "return x; return y;")]
    [InlineData("\\tcc{all}$a$\\;\\tcp{some}$b$ \\tcp*{this}", "/* all */ a; // some b // this")]
    [InlineData("\\SetKwFunction{Best}{best}\\SetKwData{Left}{left}\\SetKw{Down}{downto}\\SetKwArray{A}{a}\\Best{\\Left}\\;$i$ \\Down $j$\\;\\A\\;", "best(left); i downto j; a;")]
    [InlineData("\\SetKwProg{Fn}{Function}{:}{end}\\Fn{f(x)}{go\\;}", "Function f(x) : go; end")]
    [InlineData("\\SetKwBlock{Par}{in parallel}{done}\\Par{go\\;}\\SetKwFor{Any}{any}{does}{end any}\\Any{x}{y\\;}", "in parallel go; done any x does y; end any")]
    [InlineData("\\SetKwRepeat{Do}{do}{while}\\Do{c}{go\\;}\\SetKwInput{Needs}{Needs}\\Needs{x}\\SetKwInOut{Gives}{Gives}\\Gives{y}\\SetKwComment{Say}{\\{}{\\}}\\Say{z}", "do go; while c; Needs: x Gives: y {z}")]
    [InlineData("\\SetKwIF{Wenn}{SonstWenn}{Sonst}{wenn}{dann}{sonst wenn}{sonst}{ende}\\Wenn{a}{b\\;}\\SonstWenn{c}{d\\;}\\Sonst{e\\;}", "wenn a dann b; end sonst wenn c dann d; end sonst e; end")]
    [InlineData("\\SetAlgoLongEnd\\If{c}{go\\;}\\SetAlgoNoEnd\\If{c}{go\\;}", "if c then go; end if if c then go;")]
    [InlineData("\\SetArgSty{textbf}\\SetFuncSty{textit}\\SetDataSty{textit}\\SetCommentSty{textit}\\SetProgSty{textit}\\Indp a\\;\\Indm b\\;\\BlankLine c\\;", "b; c; a;")]
    [InlineData("\\SetAlgoLined\\SetAlgoNoLine\\SetAlgoShortEnd\\LinesNumberedHidden\\SetAlgoCaptionSeparator{.}\\SetAlCapSkip{1pt}\\SetAlCapHSkip{1pt}\\SetAlgoInsideSkip{}\\SetAlgoSkip{}\\SetAlFnt{\\small}\\SetAlCapFnt{\\small}\\SetAlCapNameFnt{\\small}\\SetNlSty{}{}{}\\nl\\ShowLn\\ResetInOut{x}\\AlgoDontDisplayBlockMarkers\\SetAlgoVlined\\PrintSemicolon\\KwSty{w}\\;", "w;")]
    public void Algorithms_have_lines_and_blocks(string body, string printed) =>
        Assert.Equal(printed, Printed("algorithm2e", $"\\begin{{algorithm}}[H]\n{body}\n\\end{{algorithm}}"));

    [Fact]
    public void Algorithms_have_numbers_captions_and_a_list()
    {
        const string Body = "\\begin{algorithm}[H]\\KwIn{x}$a$\\;\\If{c}{$b$\\;}\\caption{Going}\\label{g}\\end{algorithm}See \\ref{g}. \\listofalgorithms";
        Assert.Equal("Algorithm 1 Going Input: x 1 a; 2 if c then 3 b; 4 end See 1. List of Algorithms 1 Going . . . 1", Compact(Printed("[ruled,linesnumbered]{algorithm2e}", Body)));
        Assert.Equal("Input: x a; if c then b; Algorithm 1: Going", Compact(Printed("[vlined]{algorithm2e}", Body.Split("See")[0].Replace("\\label{g}", "", StringComparison.Ordinal))));
        Assert.Equal("Program 1 Going", Compact(Printed("algorithm2e", "\\RestyleAlgo{ruled}\\LinesNumbered\\LinesNotNumbered\\begin{algorithm}[H]\\caption{Going}\\end{algorithm}", "\\SetAlgorithmName{Program}{program}{Programs}")));
        Assert.Equal("x; y; Algorithm 1: P", Compact(Printed("algorithm2e", "\\begin{procedure}[H]x\\;\\caption{P}\\end{procedure}\\begin{function}[H]y\\;\\end{function}").Replace("Algorithm 1: P y;", "y; Algorithm 1: P", StringComparison.Ordinal)));

        static string Compact(string printed) => System.Text.RegularExpressions.Regex.Replace(printed, @"(\. ?)+1$", ". . . 1");
    }

    [Fact]
    public void Lines_within_a_block_stand_in_and_numbers_stand_left_of_all()
    {
        PdfWord[] words = Words("\\begin{algorithm}[H]\\KwIn{nothing}outer\\;\\If{cond}{inner\\;\\For{range}{deep\\;}}last\\;\\end{algorithm}Text.", "\\usepackage[linesnumbered]{algorithm2e}");
        double Left(string word) => words.Single(w => w.Text == word).Left;
        double step = Left("inner;") - Left("outer;");
        Assert.Equal(1.2 * 10 * 72 / 72.27, step, 0.2);
        Assert.Equal(Left("inner;") + step, Left("deep;"), 0.2);
        Assert.Equal(Left("outer;"), Left("last;"), 0.2);
        PdfWord[] numbers = [.. words.Where(w => w.Text.All(char.IsAsciiDigit) && w.Top < words.Single(x => x.Text == "Text.").Top).OrderBy(w => w.Top)];
        // What goes in isn't counted; what ends a block is.
        Assert.Equal(["1", "2", "3", "4", "5", "6", "7", "8"], numbers.Select(n => n.Text));
        Assert.All(numbers, n => Assert.True(n.Right < Left("outer;")));
        Assert.All(numbers, n => Assert.Equal(numbers[0].Right, n.Right, 0.2));
    }

    [Fact]
    public void A_tree_of_folders_stands_in_by_depth()
    {
        PdfWord[] words = Words("\\dirtree{%\n.1 root.\n.2 one.\n.3 deep.\n.2 two.\n}", "\\usepackage{dirtree}");
        double Left(string word) => words.Single(w => w.Text == word).Left;
        Assert.Equal(Left("one"), Left("two"), 0.1);
        Assert.Equal(Left("one") - Left("root"), Left("deep") - Left("one"), 0.2);
        // Two stems hang from the root, and one from the first folder.
        double[] tops = [.. words.Where(w => w.Text is "root" or "one" or "deep" or "two").Select(w => w.Top)];
        Assert.Equal(12 * 72 / 72.27, tops[1] - tops[0], 0.3);
    }

    [Fact]
    public void Words_of_a_gloss_stand_above_their_meanings()
    {
        PdfWord[] words = Words("\\begin{exe}\\ex\\gll Mauern {sehr hoch} stehen\\\\ walls very.high stand\\\\ \\end{exe}", "\\usepackage{gb4e}");
        foreach ((string above, string below) in ((string, string)[])[("Mauern", "walls"), ("sehr", "very.high"), ("stehen", "stand")])
        {
            Assert.Equal(words.Single(w => w.Text == above).Left, words.Single(w => w.Text == below).Left, 0.3);
            Assert.True(words.Single(w => w.Text == below).Top > words.Single(w => w.Text == above).Top + 5);
        }
    }

    // ---- places of the page -----------------------------------------------------------------------------------

    private static PdfWord[] Words(string body, string preamble) => [.. PdfWords.Of(Compiled.Article(body, preamble))];

    private const double Centimetre = 72 / 2.54;

    [Fact]
    public void Blocks_of_text_stand_at_their_places()
    {
        PdfWord[] words = Words("\\begin{textblock}{5}(2,3)Here\\end{textblock}\\begin{textblock*}{4cm}[1,1](18cm,20cm)\\raggedleft There\\end{textblock*}Text.", "\\usepackage[absolute]{textpos}\\setlength\\TPHorizModule{1cm}\\setlength\\TPVertModule{2cm}");
        PdfWord here = words.Single(w => w.Text == "Here");
        Assert.Equal(2 * Centimetre, here.Left, 0.5);
        Assert.InRange(here.Top, (6 * Centimetre) - 5, (6 * Centimetre) + 3);
        PdfWord there = words.Single(w => w.Text == "There");
        Assert.Equal(18 * Centimetre, there.Right, 0.5);
        Assert.InRange(there.Bottom, (20 * Centimetre) - 4, (20 * Centimetre) + 4);
    }

    [Fact]
    public void A_place_without_an_end_is_said_where_it_begins()
    {
        CompileResult result = Compiled.Article("Before.\n\\begin{textblock}{5}(2,3\n\nWords.\\end{textblock}", "\\usepackage[absolute]{textpos}");
        FindingLine finding = Assert.Single(result.Report.Findings, f => f.Code == "open-parenthesis");
        Assert.Equal((5, 1), (finding.Line, finding.Column));
        Assert.Contains("Before.", Compiled.Text(result), StringComparison.Ordinal);
    }

    [Fact]
    public void A_block_that_is_not_absolute_counts_from_where_the_text_is_and_takes_no_room()
    {
        PdfWord[] words = Words("Before\\begin{textblock*}{3cm}(5cm,1cm)Lower\\end{textblock*} after.", "\\usepackage{textpos}\\TPGrid{10}{10}\\textblockorigin{1cm}{1cm}\\TPoptions{x}\\textblocklabel{y}\\TPMargin{1pt}\\TPshowboxestrue\\TPshowboxesfalse\\textblockcolour{red}\\textblockcolor{red}\\textblockrulecolour{red}\\textblockrulecolor{red}");
        PdfWord before = words.Single(w => w.Text == "Before");
        PdfWord lower = words.Single(w => w.Text == "Lower");
        Assert.Equal(before.Right + (5 * Centimetre), lower.Left, 1.0);
        Assert.InRange(lower.Top - before.Bottom, Centimetre - 9, Centimetre + 6);
        Assert.InRange(words.Single(w => w.Text == "after.").Left - before.Right, 1, 5);
    }

    [Fact]
    public void What_is_added_to_pages_is_there_on_each_or_on_one_until_it_is_cleared()
    {
        string Page(int page) => Compiled.Run("pdftotext", Compiled.Article("One\\newpage Two\\ClearShipoutPictureBG\\newpage Three", "\\usepackage{eso-pic}\\AddToShipoutPictureBG{\\AtPageUpperLeft{\\put(20,-20){each}}}\\AddToShipoutPictureFG*{\\AtPageCenter{once}}").Pdf, "-f", $"{page}", "-l", $"{page}", "-raw", "FILE", "-").ReplaceLineEndings(" ").Trim();
        Assert.Equal(["each One once", "Two", "Three"], Enumerable.Range(1, 3).Select(Page));
    }

    [Theory]
    [InlineData("\\AtPageUpperLeft", 0, 0)]
    [InlineData("\\AtPageCenter", 306, 396)]
    [InlineData("\\AtStockUpperLeft", 0, 0)]
    [InlineData("\\AtStockCenter", 306, 396)]
    public void Corners_are_those_of_the_paper(string corner, double left, double baseline)
    {
        PdfWord word = Words("Text.", $"\\usepackage{{eso-pic}}\\gridSetup{{}}{{}}{{}}{{}}{{}}{{}}\\AddToShipoutPicture{{{corner}{{\\raisebox{{-12pt}}{{mark}}}}}}").Single(w => w.Text == "mark");
        Assert.Equal(left, word.Left, 0.5);
        Assert.InRange(baseline + 12 - word.Top, 0, 14);
    }

    [Fact]
    public void Corners_of_the_text_are_those_of_its_block()
    {
        PdfWord[] words = Words("\\noindent Text.", "\\usepackage{eso-pic}\\AddToShipoutPictureFG{\\AtTextUpperLeft{upper}\\AtTextLowerLeft{lower}\\AtTextCenter{middle}}\\ClearShipoutPicture\\ClearShipoutPictureFG");
        PdfWord text = words.Single(w => w.Text == "Text.");
        Assert.Equal(text.Left, words.Single(w => w.Text == "upper").Left, 1.0);
        Assert.InRange(text.Top - words.Single(w => w.Text == "upper").Top, -2, 14);
        Assert.Equal(text.Left, words.Single(w => w.Text == "lower").Left, 1.0);
        Assert.True(words.Single(w => w.Text == "middle").Left > text.Left + 100);
    }

    [Theory]
    [InlineData("\\usepackage{draftwatermark}", "DRAFT", 2)]
    [InlineData("\\usepackage[firstpageonly]{draftwatermark}\\SetWatermarkText{TRY}\\SetWatermarkScale{0.5}\\SetWatermarkAngle{60}\\SetWatermarkLightness{0.5}\\SetWatermarkFontSize{2cm}\\SetWatermarkHorCenter{5cm}\\SetWatermarkVerCenter{5cm}", "TRY", 1)]
    [InlineData("\\usepackage{draftwatermark}\\DraftwatermarkOptions{text=TRY,angle=0,scale=0.3,color=red,fontsize=1cm,hpos=5cm,vpos=5cm,firstpageonly}", "TRY", 1)]
    [InlineData("\\usepackage{draftwatermark}\\DraftwatermarkOptions{stamp=false}\\SetWatermarkColor[gray]{0.9}\\DraftwatermarkStdMark{}", "DRAFT", 0)]
    [InlineData("\\usepackage[nostamp]{draftwatermark}", "DRAFT", 0)]
    public void Words_across_the_page_are_there_on_the_pages_that_want_them(string preamble, string word, int pages)
    {
        CompileResult result = Compiled.Clean("One\\newpage Two", preamble);
        string text = string.Concat(Compiled.Run("pdftotext", result.Pdf, "-raw", "FILE", "-").Where(c => !char.IsWhiteSpace(c)));
        Assert.Equal(pages, (text.Length - text.Replace(word, "", StringComparison.Ordinal).Length) / word.Length);
    }

    [Fact]
    public void What_stands_on_each_page_is_no_part_of_the_text_and_blocks_are()
    {
        CompileResult result = Compiled.Article("Two words.\\begin{textblock}{5}(2,3)Three more words.\\end{textblock}", "\\usepackage[absolute]{textpos}\\usepackage{draftwatermark}");
        Assert.Equal(5, result.Report.Words);
        var files = new FileTree([ManuscriptFile.FromText("main.tex", "\\documentclass{article}\\usepackage[absolute]{textpos}\\usepackage{draftwatermark}\\title{T}\\begin{document}Two words.\\begin{textblock}{5}(2,3)Three more words.\\end{textblock}\\end{document}")]);
        string heard = Compiled.Run("pdfinfo", new ManuscriptCompiler().CompileTagged(new ManuscriptSnapshot(files, "main.tex", new DateOnly(2026, 11, 9))).WritePdf(flavour: PdfFlavour.Accessible), "-struct-text", "FILE");
        Assert.Contains("Three more words.", heard, StringComparison.Ordinal);
        Assert.DoesNotContain("DRAFT", heard, StringComparison.Ordinal);
        Assert.Contains("Three more words.", new ManuscriptCompiler().WriteHtml(new ManuscriptSnapshot(files, "main.tex", new DateOnly(2026, 11, 9))), StringComparison.Ordinal);
    }

    // ---- more of packages that are known ----------------------------------------------------------------------

    [Theory]
    [InlineData("tcolorbox", "\\newtcbtheorem[number within=section]{claim}{Claim}{colback=white}{cl}", "\\section{A}\\begin{claim}{Big}{one}It holds.\\end{claim}See \\ref{cl:one}.\\begin{claim*}{Bare}So.\\end{claim*}", "1 A Claim 1.1: Big It holds. See 1.1. Claim: Bare So.")]
    [InlineData("tcolorbox", "\\newtcbtheorem{claim}{Claim}{}{cl}\\newtcbtheorem[use counter from=claim]{fact}{Fact}{}{fa}", "\\begin{claim}{}{}One.\\end{claim}\\begin{fact}{}{}Two.\\end{fact}", "Claim 1 One. Fact 2 Two.")]
    [InlineData("tcolorbox", "\\newtcbox{\\mine}{colback=red}\\newtcbox{\\other}[1][]{#1}", "\\mine{in} \\other[x]{out} \\begin{tcolorbox}Up\\tcblower Low\\tcbsubtitle{S}\\tcbline T\\end{tcolorbox}", "in Up Low S T out")]
    [InlineData("mdframed", "\\newmdtheoremenv{claim}{Claim}\\newmdtheoremenv[linecolor=red]{fact}[claim]{Fact}\\mdfdefinestyle{x}{}", "\\begin{claim}One.\\end{claim}\\begin{fact}[Named]Two.\\mdfsubtitle{S}\\end{fact}", "Claim 1. One. Fact 2 (Named). Two. S")]
    [InlineData("hyperref", "\\pdfstringdefDisableCommands{\\def\\x{}}\\hyperbaseurl{x}\\renewcommand{\\sectionautorefname}{Sec.}\\renewcommand\\figureautorefname{Pic.}", "\\section{A}\\label{s}\\autoref{s} \\hyperimage{x}{pic} \\hyperdef{a}{b}{there} \\Acrobatmenu{x}{menu} \\equationautorefname", "1 A Sec. 1 pic there menu Equation")]
    [InlineData("hyperref", "", "\\begin{Form}\\TextField{Name} \\CheckBox{Yes} \\ChoiceMenu{Which}{a,b}\\\\ \\PushButton{Push} \\Submit{Send} \\Reset{Clear}\\end{Form}", "Name Push Send Yes Clear Which")]
    [InlineData("caption", "\\DeclareCaptionType{map}[Map][List of Maps]\\DeclareCaptionListFormat{x}{}\\DeclareCaptionTextFormat{x}{}\\DeclareCaptionSubType{map}", "\\listofmaps \\begin{map}[H]x\\caption{North}\\captionlistentry{y}\\end{map}", "List of Maps 1 North . . . Map 1: North 1")]
    [InlineData("url", "\\urldef{\\site}\\url{https://hollin-edge.example/a_b}\\DeclareUrlCommand\\path{}", "\\site{} \\path{c_d}", "https://hollin-edge.example/a_b c_d")]
    [InlineData("enumitem", "\\SetLabelAlign{x}{\\parbox{1cm}{#1}}\\SetEnumitemKey{k}{nosep}\\SetEnumitemValue{a}{b}{c}\\SetEnumitemSize{a}{1}\\AddEnumerateCounter*{\\a}{\\b}{1}", "Words.", "Words.")]
    [InlineData("multirow makecell", "", "\\setlength\\rotheadsize{1cm}\\begin{tabular}{l}\\multirowthead{1}{A}\\\\\\gape{b}\\end{tabular}", "A b")]
    [InlineData("xcolor soul", "\\soulregister{\\x}{1}\\soulaccent{\\y}\\capsdef{}{}{}{}{}\\sodef\\wide{}{}{}{}", "\\textul{ul} \\textst{st} \\texthl{hl}", "ul st hl")]
    [InlineData("physics", "", "$\\pqty{a}\\bqty{b}\\Bqty{c}\\vqty{d}\\trace \\flatfrac{e}{f}\\var{g}\\variation{h}\\qcc\\pv{i}\\PV{j}$", "(a) [b] {c} |d| tr e/fδgδh c.c. P {i} P.V. {j}")]
    [InlineData("physics", "", "$\\pmqty{1}\\Pmqty{2}\\bmqty{3}\\vmqty{4}\\smqty{5}\\mdet{6}\\smdet{7}$", "(1) (2) [3] |4| 5 |6| |7|")]
    [InlineData("framed", "", "\\begin{MakeFramed}{\\FrameRestore}In.\\end{MakeFramed}\\FrameCommand{x}", "In. x")]
    [InlineData("lineno", "", "\\section{A}B\\linelabel{l} \\ref{l}", "1 B1 A")]
    [InlineData("mathtools", "\\newtagform{x}{[}{]}\\usetagform{x}", "\\begin{align}a&=b\\raisetag{2pt}\\label{e}\\\\&\\vdotswithin{=}\\ArrowBetweenLines\\pmb{c}\\end{align}\\refeq{e}\\noeqref{e}", "a=b ⋮⇕ c 1 (1) (2)")]
    [InlineData("tabularx", "\\renewcommand\\tabularxcolumn[1]{m{#1}}", "\\begin{tabularx}{5cm}{X}a\\end{tabularx}", "a")]
    [InlineData("siunitx", "", "\\numproduct{2 x 3} \\qtyproduct{2 x 3}{\\m} \\complexnum{1+2i} \\complexqty{1+2i}{\\m}", "2×3 2 m×3 m 1 + 2i (1 + 2i) m")]
    [InlineData("acronym", "\\acrodef{eu}[EU]{European Union}", "\\acroplural{eu}{European Unions}\\acrodefplural{eu}[EUs]{European Unions}\\acsu{eu} \\aclu{eu} \\acfi{eu} \\iac{eu} \\Iac{eu}\\acroextra{x}", "EU European Union European Union (EU) a European Union (EU) A EUx")]
    [InlineData("minted", "\\newminted{python}{}\\newminted[mine]{c}{linenos}", "\\begin{pythoncode}\nx = 1\n\\end{pythoncode}\n\\begin{mine}\nint y;\n\\end{mine}\n\\begin{pythoncode*}{linenos}\nz = 2\n\\end{pythoncode*}", "x = 1 1 int y; 1 z = 2")]
    [InlineData("minted", "\\newmint{python}{}\\newmint[py]{python}{}\\newmintinline{python}{}\\setmintedinline{x}", "a \\python|b_c| \\py|d%e| \\pythoninline|f|", "a b_c d%e f")]
    [InlineData("minted", "\\setminted{linenos}\\setminted[c]{linenos=false}", "\\begin{minted}{python}\nx\n\\end{minted}\n\\begin{minted}{c}\ny\n\\end{minted}", "1 y x")]
    [InlineData("minted", "", "\\begin{listing}[H]\n\\begin{minted}{python}\nx\n\\end{minted}\n\\caption{Ex}\\end{listing}\\listoflistings", "x Listing 1: Ex List of Listings 1 Ex . . .")]
    [InlineData("mhchem", "", "\\cee{H2O} \\cf{CO2}", "H2 O CO2")]
    [InlineData("authblk", "\\author{A}\\author{B\\authorcr C}\\affil{X}\\title{T}\\date{}", "\\maketitle", "T A, B C X 1")]
    [InlineData("csquotes", "\\MakeInnerQuote{x}\\MakeBlockQuote{a}{b}{c}\\SetBlockEnvironment{x}\\SetCiteCommand{\\cite}", "a \\textdel{b} \\foreigntextquote{german}[c]{d}", "a […] „d“ (c)")]
    [InlineData("marginnote threeparttable longtable subcaption", "\\renewcommand\\marginfont{\\small}\\renewcommand\\TPTnoteSettings{}\\LTchunksize=10", "Words.\\begin{figure}[h]\\phantomcaption x\\caption{C}\\end{figure}", "Words. x Figure 1: C")]
    public void More_of_known_packages_prints(string packages, string preamble, string body, string printed) =>
        Assert.Equal(printed, System.Text.RegularExpressions.Regex.Replace(Printed(packages, body, preamble), @"(\. ){4,}\S+", ". . ."));

    [Fact]
    public void Boxes_have_numbers_as_well_as_names() => Assert.Equal("a word b word", Compiled.Text(Compiled.Clean("\\sbox0{word}a \\usebox0 b \\usebox 0")));

    // ---- drawings ---------------------------------------------------------------------------------------------

    [Theory]
    [InlineData("forest", "\\forestset{x}\\useforestlibrary{y}\\begin{forest}[a[b][c]]\\end{forest} After")]
    [InlineData("chemfig", "\\setchemfig{x}\\setatomsep{1em}\\definesubmol{x}{y}\\chemfig{A-B} After")]
    [InlineData("chemfig", "\\schemestart A \\arrow B \\schemestop{} After")]
    [InlineData("qtree", "\\Tree [.S [.NP \\qroof{x}.y ] [.VP z ] ] After")]
    [InlineData("pgfplotstable", "\\pgfplotstableset{x}\\pgfplotstableread{a.csv}{\\data}\\pgfplotstabletypeset[x]{a.csv} After")]
    [InlineData("pgfplotstable", "\\pgfplotstabletypesetfile{a.csv} After")]
    public void A_drawing_is_a_frame_and_one_finding(string package, string body)
    {
        CompileResult result = Compiled.Article(body, $"\\usepackage{{{package}}}");
        Assert.Equal("drawing-not-set", Assert.Single(result.Report.Findings).Code);
        Assert.Equal("drawing After", Compiled.Text(result));
    }

    [Theory]
    [InlineData("\\fontsize{2cm}{2cm}", 2)]
    [InlineData("\\newlength\\x\\setlength\\x{1cm}\\fontsize{\\x}{12}", 1)]
    [InlineData("\\fontsize{28.4527}{30}", 1)]
    public void A_size_of_type_is_any_length(string size, double centimetres)
    {
        PdfWord[] words = Words($"{{{size}\\selectfont H}}\n\n{{\\fontsize{{28.4527pt}}{{30pt}}\\selectfont H}}", "");
        Assert.Equal(centimetres, (words[0].Right - words[0].Left) / (words[1].Right - words[1].Left), 0.01);
    }

    [Fact]
    public void A_paragraph_without_a_sign_brings_everypar_along() =>
        Assert.Equal("*One *Two", Compiled.Text(Compiled.Article("\\everypar{*}\\leavevmode One\n\n\\quitvmode Two")));
}
