namespace YoungFolio.Core.Tests;

/// <summary>What packages give beyond what most use of them: each in print, as its documentation says (from memory).</summary>
public sealed class MoreOfPackagesTests
{
    [Theory]
    [InlineData("hyperref", "\\pdfstringdef\\kept{Walls}\\kept{} \\hypercalcbp{1in}", "Walls 71.99998")]
    [InlineData("hyperref", "\\setcounter{section}{3}\\theHsection\\theHequation", "30")]
    [InlineData("xcolor", "\\definecolorset{rgb}{my}{x}{moss,.3,.5,.2;slate,.4,.4,.5}\\textcolor{mymossx}{green} \\textcolor{myslatex}{grey}", "green grey")]
    [InlineData("xcolor", "\\preparecolor{slate}{rgb}{.4,.4,.5}\\selectcolormodel{rgb}\\blendcolors{!50!red}\\textcolor{slate}{grey}", "grey")]
    [InlineData("natbib", "\\renewcommand\\bibnumfmt[1]{#1.}\\begin{thebibliography}{9}\\bibitem{a} Hale.\\end{thebibliography}", "References 1. Hale.")]
    [InlineData("natbib", "1998\\natexlab{a}", "1998a")]
    [InlineData("listings", "\\lstloadlanguages{C}\\lstalias{x}{C}\\lstMakeShortInline|\\lstDeleteShortInline| a|b", "a|b")]
    [InlineData("fancyvrb", "\\SaveVerb{path}|a_b%c|\\emph{\\UseVerb{path}} \\DefineShortVerb{\\|}|x_y|\\UndefineShortVerb{\\|} a|b", "a_b%c x_y a|b")]
    [InlineData("changes", "\\setauthormarkup{#1}\\setcommentmarkup{#1}words", "words")]
    [InlineData("comment", "\\specialcomment{hint}{[}{]}\\processcomment{tip}{}{<}{>}\\begin{hint}a\\end{hint}\\begin{tip}b\\end{tip}", "[a]<b>")]
    [InlineData("unicode-math", "\\setoperatorfont\\mathrm\\newmathfontface\\mv{Some Font}\\setmathfontface\\mw{Some Font}$\\mv{v}\\mw{w}\\mathup{d}\\symbfscr{A}$", "vwdA")]
    [InlineData("lastpage", "\\lastpageref{LastPage}\\lastpageref*{LastPage}", "11")]
    [InlineData("standalone", "a\\begin{standaloneignore}b\\end{standaloneignore}c", "ac")]
    [InlineData("bookmark", "\\bookmarkget{page}\\bookmarkdefinestyle{s}{bold}x", "x")]
    [InlineData("selnolig", "\\nolig{a}{b}\\keeplig{c}x", "x")]
    [InlineData("abstract", "\\saythanks\\begin{onecolabstract}Short.\\end{onecolabstract}", "Abstract Short.")]
    [InlineData("tocbibind", "\\setlofname{Pictures}\\setlotname{Tables of all}\\settocname{All}\\tocotherhead{section}\\listfigurename; \\listtablename; \\contentsname", "Pictures; Tables of all; All")]
    [InlineData("pifont", "\\Pisymbol{pzd}{52}", "✓")]
    [InlineData("gb4e", "\\begin{exe}\\exi{(1')} Words.\\end{exe}", "(1’) Words.")]
    [InlineData("etoolbox", "\\protecting{a}{\\numgdef\\walls{3*4}}\\walls{} \\newcounter{n}\\whileboolexpr{test {\\ifnumless{\\value{n}}{3}}}{\\stepcounter{n}.}\\unlessboolexpr{test {\\ifnumequal{1}{1}}}{never}", "a12 ...")]
    [InlineData("etoolbox", "\\def\\wall{dry stone}\\ifpatchable\\wall{stone}{yes}{no} \\ifpatchable\\wall{brick}{yes}{no} \\ifpatchable*\\wall{macro}{none} \\wall", "yes no macro dry stone")]
    [InlineData("etoolbox", "\\DeclareListParser\\doparts{;}\\DeclareListParser*\\forwords{+}\\def\\do#1{(\\forwords\\inner{#1})}\\def\\inner#1{[#1]}\\doparts{a+b;c;;d+e}", "([a][b])([c])([d][e])")]
    [InlineData("cleveref", "\\section{Walls}\\label{w}\\lcnamecrefs{w}", "1 Walls sections")]
    [InlineData("mdframed,amsthm", "\\mdtheorem{claim}{Claim}\\begin{claim}So.\\end{claim}", "Claim 1. So.")]
    [InlineData("mhchem", "\\mhchemoptions{version=4}\\ce{H2}", "H2")]
    [InlineData("epigraph", "\\epigraphhead{Few words.}\\epigraphhead[70]{More.}", "Few words. More.")]
    [InlineData("upgreek", "$\\Upgamma\\Updelta\\Uptheta\\Uplambda\\Upxi\\Uppi\\Upsigma\\Upupsilon\\Upphi\\Uppsi\\Upomega$", "ΓΔΘΛΞΠΣΥΦΨΩ")]
    [InlineData("ulem", "\\useunder{\\uline}{\\ul}{}{\\ul words}", "words")]
    [InlineData("isodate", "\\isodate\\daterange{2026-05-04}{2026-05-09}", "2026-05-04 – 2026-05-09")]
    [InlineData("isodate", "\\isodate\\printdateTeX{2026/5/4}", "2026-05-04")]
    [InlineData("wasysym", "\\checked\\currency\\diameter", "✓¤⌀")]
    [InlineData("totcount", "\\newtotcounter{walls}\\newcounter{old}\\regtotcounter{old}Walls: \\total{walls}, of them old: \\totvalue{old}.\\stepcounter{walls}\\addtocounter{walls}{2}\\setcounter{old}{1}", "Walls: 3, of them old: 1.")]
    [InlineData("marvosym", "\\EUR", "€")]
    public void Prints_what_its_documentation_says(string packages, string body, string printed) =>
        Assert.Equal(printed, Compiled.Text(Compiled.Clean("\\pagestyle{empty}\\thispagestyle{empty}\\noindent " + body, $"\\usepackage{{{packages}}}")));

    [Theory]
    [InlineData("english", "\\babelhyphenation{li-chen}\\languageshorthands{none}\\babelensure{english}\\localedate{2026}{5}{4}", "May 4, 2026")]
    [InlineData("ngerman", "\\babelhyphenation[german]{Flech-te}\\localedate{2026}{5}{4}", "4. Mai 2026")]
    [InlineData("english", "\\setlocalecaption{english}{figure}{Picture}\\figurename", "Picture")]
    public void Languages_have_their_own(string language, string body, string printed) =>
        Assert.Equal(printed, Compiled.Text(Compiled.Clean("\\pagestyle{empty}\\noindent " + body, $"\\usepackage[{language}]{{babel}}")));

    // The kernel's documentation of \NewDocumentCommand (from memory): v takes text as it is typed, between like signs or braces.
    [Theory]
    [InlineData("\\as|a_b%c\\d{|.", "<a_b%c\\d{>.")]
    [InlineData("\\as{a_b%{c}}.", "<a_b%{c}>.")]
    [InlineData("\\with{x}+#&~+.", "x<#&~>.")]
    [InlineData("\\with[o]{x}|y z|.", "x<y z>.")]
    [InlineData("\\emph{\\as{words}}.", "<words>.")]
    public void An_argument_may_be_taken_as_it_is_typed(string body, string printed) =>
        Assert.Equal(printed, Compiled.Text(Compiled.Clean("\\pagestyle{empty}\\noindent " + body, "\\NewDocumentCommand\\as{v}{$<$#1$>$}\\NewDocumentCommand\\with{O{} m v}{#2$<$#3$>$}")));

    [Fact]
    public void Today_is_the_day_that_its_counters_say() =>
        Assert.Equal("May 4, 2025", Compiled.Text(Compiled.Clean("\\pagestyle{empty}\\noindent\\year=2025 \\month=5 \\day=4 \\today")));

    [Fact]
    public void A_head_in_three_parts_fills_its_line()
    {
        List<PdfWord> words = PdfWords.Of(Compiled.Clean("Words.", "\\usepackage{fancyhdr}\\pagestyle{fancy}\\fancyhf{}\\fancyheadinit{\\relax}\\fancyfootinit{\\relax}\\fancyhfinit{\\relax}"
            + "\\fancyhead[C]{\\fancycenter{First}{Second}{Third}}\\fancyfoot[L]{\\fancyplain{plain}{other}\\iftopfloat{a}{b}\\ifbotfloat{c}{d}\\iffootnote{e}{f}}\\renewcommand{\\footruleskip}{2pt}"));
        Assert.True(words.One("First").Left < words.One("Second").Left && words.One("Third").Right - words.One("First").Left > 300);
        Assert.Contains(words, w => w.Text == "otherbdf");
    }

    [Fact]
    public void Floats_of_one_row_stand_beside_one_another_each_with_its_caption()
    {
        List<PdfWord> words = PdfWords.Of(Compiled.Clean(
            "\\begin{figure}[h]\\begin{floatrow}\\ffigbox{under}{\\caption{Wall}}\\tabletoo{\\begin{tabular}{l}cell\\end{tabular}}{\\caption{Lichen}}\\end{floatrow}\\end{figure}"
            + "\\begin{figure}[h]\\RawFloats\\fcapside{\\caption{Beside}}{content}\\end{figure}", "\\usepackage{floatrow}\\newfloatcommand{tabletoo}{table}[][\\FBwidth]"));
        Assert.True(words.One("Lichen").Left > words.One("Wall").Right + 50);
        // The caption of a figure stands below, that of a table above, in whichever braces it is written.
        Assert.True(words.One("Lichen").Top < words.One("cell").Top);
        Assert.True(words.One("Wall").Top > words.One("under").Top);
        Assert.Contains(words, w => w.Text == "Table");
        Assert.True(words.One("content").Left < words.One("Beside").Left);
    }

    [Fact]
    public void A_quotation_in_another_language_stands_apart() =>
        Assert.Equal("Worte genug (Amt)", Compiled.Text(Compiled.Clean("\\pagestyle{empty}\\foreignblockquote{german}[Amt]{Worte genug}", "\\usepackage[german,english]{babel}\\usepackage{csquotes}")).Replace("“", "", StringComparison.Ordinal).Replace("”", "", StringComparison.Ordinal));

    [Fact]
    public void A_line_of_the_contents_has_the_page_that_is_given()
    {
        string text = Compiled.Text(Compiled.Clean("\\tableofcontents\\cftaddtitleline{toc}{section}{Walls}{77}", "\\usepackage{tocloft}"));
        Assert.Contains("Walls", text, StringComparison.Ordinal);
        Assert.Contains("77", text, StringComparison.Ordinal);
    }
}
