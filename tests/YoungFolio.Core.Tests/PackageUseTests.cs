using YoungFolio.Compiler;
using YoungFolio.Manuscript.Packages;

namespace YoungFolio.Core.Tests;

/// <summary>
/// Each package as a manuscript uses it: what its commands print, by the package's own documentation (from memory where no other source is named). Packages
/// that have test classes of their own aren't here.
/// </summary>
public sealed class PackageUseTests
{
    /// <summary>Packages (with options), a body, and the words of the pages; … stands for any others.</summary>
    public static TheoryData<string, string, string> Uses => new()
    {
        { "afterpage", "One\\afterpage{Two}", "One Two 1" },
        { "algcompatible", "\\begin{algorithmic}\\STATE $x$\\IF{true}\\STATE y\\ENDIF\\end{algorithmic}", "x if true then y end if 1" },
        { "algorithmicx,algpseudocode", "\\begin{algorithmic}[1]\\State one\\If{two}\\State three\\EndIf\\end{algorithmic}", "1: one 2: if two then 3: three 4: end if 1" },
        { "amsbsy", "$\\boldsymbol{x}$", "x 1" },
        { "amsopn", "\\DeclareMathOperator{\\rank}{rank}$\\rank A$", "…A 1" },
        { "amstext", "$x \\text{ if}$", "x if 1" },
        { "anyfontsize,fix-cm,fixltx2e,epstopdf,flafter,silence", "Words.", "Words. 1" },
        { "bigstrut,multirow", "\\begin{tabular}{l}a\\bigstrut\\\\b\\end{tabular}", "a b 1" },
        { "braket", "$\\bra{a}\\ket{b}\\braket{a|b}$", "⟨a||b⟩⟨a|b⟩ 1" },
        { "capt-of", "\\begin{minipage}{5cm}\\captionof{table}{Outside}\\end{minipage}", "Table 1: Outside 1" },
        { "changebar", "\\begin{changebar}New.\\end{changebar}\\cbstart Words\\cbend.", "New. Words. 1" },
        { "chngpage", "\\begin{adjustwidth}{1cm}{1cm}Words.\\end{adjustwidth}", "Words. 1" },
        { "colortbl,xcolor", "\\begin{tabular}{>{\\columncolor{yellow}}l}a\\\\\\rowcolor{red}b\\end{tabular}", "a b 1" },
        { "currfile", "\\currfilename", "main.tex 1" },
        { "datetime2", "\\DTMdate{2021-03-04}", "2021-03-04 1" },
        { "derivative", "$\\odv{f}{x}$", "df dx 1" },
        { "diagbox", "\\begin{tabular}{l}\\diagbox{Site}{Year}\\end{tabular}", "…Site… 1" },
        { "dsfont", "$\\mathds{N}$", "N 1" },
        { "bbm", "$\\mathbbm{R}$", "R 1" },
        { "emptypage,nopageno", "Words.", "Words." },
        { "extarrows", "$a\\xlongequal{b}c$", "…a…c 1" },
        { "forloop", "\\newcounter{i}\\forloop{i}{1}{\\value{i} < 4}{\\arabic{i},}", "1,2,3, 1" },
        { "glossaries-extra", "\\newabbreviation{eu}{EU}{European Union}\\gls{eu}, \\gls{eu}", "European Union (EU), EU 1" },
        { "hyphenat", "\\nohyphens{disproportionately} electro\\hyp{}magnetic", "disproportionately electro-magnetic 1" },
        { "ifluatex,ifpdf,ifxetex", "\\ifpdf yes\\else no\\fi", "yes 1" },
        { "ifoddpage", "\\checkoddpage Words.", "Words. 1" },
        { "imakeidx", "\\makeindex word\\index{wall}\\printindex", "word…Index wall, 1…" },
        { "keyval", "\\makeatletter\\define@key{w}{stone}{Stone #1.}\\setkeys{w}{stone=slate}\\makeatother", "Stone slate. 1" },
        { "xkeyval", "\\makeatletter\\define@key{w}{stone}[lime]{Stone #1.}\\setkeys{w}{stone}\\makeatother", "Stone lime. 1" },
        { "letltxmacro", "\\newcommand{\\one}[1][x]{(#1)}\\LetLtxMacro{\\copyof}{\\one}\\copyof[y]\\copyof", "(y)(x) 1" },
        { "lettrine", "\\lettrine{T}{he} wall", "T HE wall 1|The wall 1|T he wall 1|THE wall 1" },
        { "ltablex", "\\begin{tabularx}{5cm}{lX}a&b\\end{tabularx}", "a b 1" },
        { "ltcaption,longtable", "\\begin{longtable}{l}\\caption{Long}\\\\a\\end{longtable}", "Table 1: Long a 1" },
        { "marginnote", "Words\\marginnote{Beside}.", "Words. Beside 1|Beside Words. 1|Words. 1 Beside" },
        { "mathrsfs", "$\\mathscr{L}$", "L 1" },
        { "minted", "\\begin{minted}{python}\nfor a in b\n\\end{minted}", "for a in b 1" },
        { "moreverb", "\\begin{verbatimtab}\na b\n\\end{verbatimtab}", "a b 1" },
        { "scrlayer-scrpage", "\\ihead{A}\\ohead{B}\\ofoot{C}\\headmark\\automark{section}x", "A B x 1 C" },
        { "chngcntr,remreset,scrhack,selnolig,stfloats,dblfloatfix", "\\counterwithin{equation}{section}k", "k 1" },
        { "sidecap", "\\begin{SCfigure}[2][h]wall\\caption{Stones}\\end{SCfigure}", "wall Figure 1: Stones 1" },
        { "floatrow", "\\floatsetup[figure]{style=plain}\\begin{figure}[h]\\ffigbox{\\caption{Stones}}{wall}\\end{figure}", "wall Figure 1: Stones 1" },
        { "adjustbox", "\\begin{adjustbox}{max width=\\textwidth}box\\end{adjustbox}", "box 1" },
        { "epigraph", "\\epigraph{A wall is.}{Someone}", "A wall is. Someone 1" },
        { "changes", "\\definechangesauthor[name=A]{a}\\added{new} \\deleted{old} \\replaced{now}{then} \\highlight{this}", "new old nowthen this 1" },
        { "needspace", "a\\needspace{3\\baselineskip}b", "a b 1" },
        { "balance,flushend", "\\balance\\flushend c", "c 1" },
        { "accents", "$\\accentset{a}{b}\\underaccent{c}{d}\\ring{e}$", "a bd e c 1" },
        { "scrpage2", "\\clearscrheadfoot y", "y" },
        { "fncychap", "\\ChNameVar{\\Large}z", "z 1" },
        { "hypcap", "\\capstart w", "w 1" },
        { "sphinx,sphinxmessages", "v", "v 1" },
        { "nicefrac", "\\nicefrac{1}{2}", "1 /2 1" },
        { "xfrac", "\\sfrac{1}{2}", "1 /2 1" },
        { "ntheorem", "\\newtheorem{law}{Law}\\begin{law}Walls stand.\\end{law}", "Law 1…Walls stand. 1" },
        { "pageslts", "\\pageref{LastPage}", "1 1" },
        { "refcount", "\\section{A}\\label{a}Words \\ref{a}.", "1 A Words 1. 1" },
        { "scalefnt", "{\\scalefont{2}Large}", "Large 1" },
        { "soulutf8", "\\hl{Grün} \\st{alt}", "Grün alt 1" },
        { "stmaryrd", "$\\llbracket x\\rrbracket$", "⟦x⟧ 1" },
        { "subfig", "\\begin{figure}\\subfloat[Before]{x}\\subfloat[After]{y}\\caption{Both}\\end{figure}", "…(a)…(b)…Figure 1: Both…" },
        { "supertabular", "\\tablehead{Head\\\\}\\begin{supertabular}{l}a\\\\b\\\\\\end{supertabular}", "Head a b 1" },
        { "tablefootnote", "\\begin{table}\\begin{tabular}{l}a\\tablefootnote{Note}\\end{tabular}\\end{table}Text", "…Note…" },
        { "tabu", "\\begin{tabu} to 5cm {X[2]X}a&b\\end{tabu}", "a b 1" },
        { "tabulary", "\\begin{tabulary}{5cm}{LR}a&b\\end{tabulary}", "a b 1" },
        { "threeparttablex,longtable", "\\begin{ThreePartTable}\\begin{TableNotes}\\item[a] Note\\end{TableNotes}\\begin{longtable}{l}x\\tnote{a}\\\\\\insertTableNotes\\end{longtable}\\end{ThreePartTable}", "…Note…" },
        { "tocloft", "\\renewcommand{\\contentsname}{What}\\tableofcontents\\section{One}", "What…One…1 One…" },
        { "unicode-math", "$\\alpha$", "α 1" },
        { "upgreek", "$\\upalpha$", "α 1" },
        { "wasysym", "$\\smiley$", "☺ 1" },
        { "xifthen", "\\ifthenelse{\\isempty{}}{none}{some} \\ifthenelse{\\equal{a}{b}}{same}{other}", "none other 1" },
        { "xltabular", "\\begin{xltabular}{5cm}{lX}a&b\\end{xltabular}", "a b 1" },
        { "lscape", "\\begin{landscape}Across\\end{landscape}", "…Across…" },
        { "times,standalone,docmute,newclude,xr,translator,titletoc,chapterbib,minitoc,graphics,a4wide,fvextra", "Words.", "Words. 1" },
    };

    [Theory]
    [MemberData(nameof(Uses))]
    public void Prints_what_its_documentation_says(string packages, string body, string printed)
    {
        CompileResult result = Compiled.Files(("main.tex", $"\\documentclass{{article}}\n{string.Concat(packages.Split(',').Select(p => $"\\usepackage{{{p}}}\n"))}\\begin{{document}}\n{body}\n\\end{{document}}\n"));
        Assert.Empty(Compiled.Codes(result));
        string text = Compiled.Text(result);
        Assert.True(printed.Split('|').Any(p => Fits(p, text)) || Fits(printed, text), $"expected {printed}, got {text}");
    }

    private static bool Fits(string wanted, string text) =>
        System.Text.RegularExpressions.Regex.IsMatch(text, "^" + System.Text.RegularExpressions.Regex.Escape(wanted).Replace("…", ".*", StringComparison.Ordinal).Replace("\\ ", "\\s?", StringComparison.Ordinal) + "$");

    /// <summary>What packages of type set words and formulas in: the family's name stands in the fonts of the PDF (TeX Gyre's own names).</summary>
    [Theory]
    [InlineData("newtxtext", "words", "Termes")]
    [InlineData("newtxmath", "$x$", "Termes-Math")]
    [InlineData("stix", "words", "Termes")]
    [InlineData("stix2", "words", "Termes")]
    [InlineData("palatino", "words", "Pagella")]
    [InlineData("newpxtext", "words", "Pagella")]
    [InlineData("newpxmath", "$x$", "Pagella-Math")]
    [InlineData("tgbonum", "words", "Bonum")]
    [InlineData("fouriernc", "words", "Schola")]
    [InlineData("tgschola", "words", "Schola")]
    [InlineData("tgchorus", "words", "Chorus")]
    [InlineData("tgheros", "\\textsf{words}", "Heros")]
    [InlineData("tgadventor", "\\textsf{words}", "Adventor")]
    [InlineData("tgcursor", "\\texttt{words}", "Cursor")]
    public void Sets_type_in_its_family(string package, string body, string family)
    {
        CompileResult result = Compiled.Body($"\\thispagestyle{{empty}}{body}", $"\\usepackage{{{package}}}");
        using var pdf = UglyToad.PdfPig.PdfDocument.Open(result.Pdf);
        Assert.All(pdf.GetPage(1).Letters, l => Assert.Contains(family, l.FontName!, StringComparison.OrdinalIgnoreCase));
    }

    [Theory]
    [InlineData("csvsimple-l3")]
    [InlineData("csvsimple-legacy")]
    public void Reads_data_files(string package) =>
        Assert.Equal("wall age North 150 1", Compiled.Text(Compiled.Files(("main.tex", $"\\documentclass{{article}}\\usepackage{{{package}}}\\begin{{document}}\\csvautotabular{{d.csv}}\\end{{document}}"), ("d.csv", "wall,age\nNorth,150\n")), "-layout"));

    /// <summary>No package is without a test that uses it.</summary>
    [Fact]
    public void Every_package_is_used_in_some_test()
    {
        string tests = SourceTree.Text("tests/YoungFolio.Core.Tests");
        string[] unused = [.. PackageCatalogue.All.Select(p => p.Name).Where(n => !System.Text.RegularExpressions.Regex.IsMatch(tests, $"(?<![\\w-]){System.Text.RegularExpressions.Regex.Escape(n)}(?![\\w-])"))];
        Assert.True(unused.Length == 0, string.Join(", ", unused));
    }
}
