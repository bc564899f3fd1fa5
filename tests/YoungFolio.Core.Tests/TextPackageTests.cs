using YoungFolio.Compiler;

namespace YoungFolio.Core.Tests;

/// <summary>Packages for text: their documented commands, looked at on the pages.</summary>
public class TextPackageTests
{
    private static string Printed(string body, string preamble)
    {
        CompileResult result = Compiled.Body(body, preamble + "\n");
        Assert.Empty(Compiled.Codes(result));
        string text = Compiled.Text(result, "-layout");
        return text.EndsWith(" 1", StringComparison.Ordinal) ? text[..^2] : text;
    }

    [Theory]
    [InlineData("\\begin{enumerate}\\item a\\begin{enumerate}\\item b\\label{x}\\begin{enumerate}\\item c\\label{y}\\end{enumerate}\\end{enumerate}\\end{enumerate}\\ref{x} \\ref{y}", "1. a (a) b i. c 1a 1(a)i")]
    [InlineData("\\begin{itemize}\\item a\\begin{itemize}\\item b\\begin{itemize}\\item c\\end{itemize}\\end{itemize}\\item[+] d\\end{itemize}", "• a – b ∗ c + d")]
    [InlineData("\\begin{description}\\item[Term] text\\end{description}", "Term text")]
    [InlineData("\\newcounter{q}\\begin{list}{Q\\arabic{q}:}{\\usecounter{q}\\setlength{\\leftmargin}{3em}}\\item one\\item two\\end{list}", "Q1: one Q2: two")]
    [InlineData("\\newenvironment{hints}{\\begin{list}{--}{\\setlength\\itemsep{0pt}}}{\\end{list}}\\begin{hints}\\item x\\end{hints}", "– x")]
    [InlineData("\\begin{trivlist}\\item[A] x\\end{trivlist}", "A x")]
    [InlineData("\\begin{verse}One\\\\two\\end{verse}", "One two")]
    public void Kernel_lists(string body, string printed) => Assert.Equal(printed, Printed(body, ""));

    [Theory]
    [InlineData("\\begin{enumerate}[label=(\\alph*)]\\item x\\label{k}\\item y\\end{enumerate}\\ref{k}", "(a) x (b) y (a)")]
    [InlineData("\\begin{enumerate}[label=\\arabic*.,ref=R\\arabic*,start=3]\\item x\\label{k}\\end{enumerate}\\ref{k}", "3. x R3")]
    [InlineData("\\begin{enumerate}\\item x\\end{enumerate}Words\\begin{enumerate}[resume]\\item y\\end{enumerate}", "1. x Words 2. y")]
    [InlineData("\\setlist[enumerate,1]{label=\\Roman*)}\\begin{enumerate}\\item x\\end{enumerate}", "I) x")]
    [InlineData("\\newlist{steps}{enumerate}{2}\\setlist[steps]{label=Step \\arabic*:}\\begin{steps}\\item x\\item y\\end{steps}", "Step 1: x Step 2: y")]
    [InlineData("In \\begin{enumerate*}[label=(\\roman*)]\\item x, \\item y\\end{enumerate*} line.", "In (i) x, (ii) y line.")]
    [InlineData("\\begin{itemize}[label=$\\star$,noitemsep,leftmargin=*]\\item x\\end{itemize}", "⋆ x")]
    public void Enumitem(string body, string printed) => Assert.Equal(printed, Printed(body, "\\usepackage[inline]{enumitem}"));

    [Theory]
    [InlineData("enumerate", "\\begin{enumerate}[(i)]\\item x\\item y\\end{enumerate}", "(i) x (ii) y")]
    [InlineData("enumerate", "\\begin{enumerate}[{Case} A:]\\item x\\item y\\end{enumerate}", "Case A: x Case B: y")]
    [InlineData("paralist", "\\begin{compactenum}[a.]\\item x\\end{compactenum}\\begin{inparaenum}[1)]\\item p \\item q\\end{inparaenum}", "a. x 1) p 2) q")]
    public void Numbers_by_example(string package, string body, string printed) => Assert.Equal(printed, Printed(body, $"\\usepackage{{{package}}}"));

    [Theory]
    [InlineData("british", "\\enquote{a \\enquote{b} c}", "“a ‘b’ c”")]
    [InlineData("ngerman", "\\enquote{a \\enquote{b} c}", "„a ‚b‘ c“")]
    [InlineData("french", "\\enquote{a}", "«a»")]
    [InlineData("british", "\\textquote[Ilse]{a}", "“a” (Ilse)")]
    [InlineData("british", "\\foreignquote{german}{a}", "„a“")]
    [InlineData("british", "\\begin{displayquote}a\\end{displayquote}", "a")]
    [InlineData("british", "\\MakeOuterQuote{\"}\"a\"", "“a”")]
    public void Csquotes(string language, string body, string printed) => Assert.Equal(printed, Printed(body, $"\\usepackage[{language}]{{babel}}\\usepackage{{csquotes}}"));

    [Theory]
    [InlineData("english", "Contents", "Figure", "November 9, 2026")]
    [InlineData("british", "Contents", "Figure", "9 November 2026")]
    [InlineData("ngerman", "Inhaltsverzeichnis", "Abbildung", "9. November 2026")]
    [InlineData("french", "Table des matières", "Figure 1 –", "9 novembre 2026")]
    [InlineData("spanish", "Índice general", "Figura", "9 de noviembre de 2026")]
    [InlineData("italian", "Indice", "Figura", "9 novembre 2026")]
    [InlineData("dutch", "Inhoudsopgave", "Figuur", "9 november 2026")]
    [InlineData("portuguese", "Conteúdo", "Figura", "9 de novembro de 2026")]
    public void Babel_names_things_and_dates(string language, string contents, string figure, string date)
    {
        string text = Printed("\\tableofcontents\\today\\begin{figure}[h]x\\caption{c}\\end{figure}", $"\\usepackage[{language}]{{babel}}");
        Assert.Contains(contents, text);
        Assert.Contains(figure.Contains('1', StringComparison.Ordinal) ? figure + " c" : figure + " 1: c", text);
        Assert.Contains(date, text);
    }

    [Theory]
    [InlineData("[german,english]", "\\contentsname{} \\selectlanguage{german}\\contentsname", "Contents Inhaltsverzeichnis")]
    [InlineData("[english,main=german]", "\\contentsname", "Inhaltsverzeichnis")]
    [InlineData("[german]", "\"a\"o\"u\"s \"`so\"' Druck\"-sache", "äöüß „so“ Drucksache")]
    [InlineData("[french]", "Oui! Non? \\og Mur\\fg", "Oui ! Non ? « Mur »")]
    [InlineData("[english]", "\\foreignlanguage{german}{Wort} \\iflanguage{english}{y}{n}", "Wort y")]
    [InlineData("[ngerman,english]", "\\begin{otherlanguage}{ngerman}\\figurename\\end{otherlanguage} \\figurename", "Abbildung Figure")]
    public void Babel_changes_languages(string options, string body, string printed) => Assert.Equal(printed, Printed(body, $"\\usepackage{options}{{babel}}").Replace('\u202F', ' ').Replace("\u00AD", "", StringComparison.Ordinal));

    [Theory]
    [InlineData("ulem", "\\uline{under} \\sout{struck} \\emph{stress}", "under struck stress")]
    [InlineData("soul", "\\ul{under} \\st{struck} \\hl{bright} \\so{wide}", "under struck bright w i d e")]
    [InlineData("url", "\\url{https://example.org/a_b?c=1&d=%20#x}", "https://example.org/a_b?c=1&d=%20#x")]
    [InlineData("hyperref", "\\href{https://example.org/%7E}{words} \\nolinkurl{a_b}", "words a_b")]
    [InlineData("comment", "a\\begin{comment}hidden \\broken{ \\end{comment}b", "ab")]
    [InlineData("comment", "\\excludecomment{draft}a\\begin{draft}x\\end{draft}b", "ab")]
    [InlineData("verbatim", "\\begin{comment}hidden\\end{comment}b", "b")]
    [InlineData("alltt", "\\begin{alltt}a  b_$\\emph{c}\nd\\end{alltt}", "a b_$c d")]
    [InlineData("fancyvrb", "\\DefineVerbatimEnvironment{code}{Verbatim}{frame=single}\\begin{code}\na & b % c\n\\end{code}", "a & b % c")]
    [InlineData("fancyvrb", "\\begin{Verbatim}[commandchars=\\\\\\{\\}]\na \\emph{b} $\n\\end{Verbatim}", "a b $")]
    [InlineData("shortvrb", "\\MakeShortVerb{\\|}a |b_%| c", "a b_% c")]
    [InlineData("relsize", "{\\larger a}\\textsmaller{b}", "ab")]
    [InlineData("setspace", "\\begin{spacing}{1.5}a\\end{spacing}\\onehalfspacing b", "a b")]
    [InlineData("xcolor", "\\definecolor{w}{HTML}{336699}\\textcolor{w}{a}{\\color{red!50!black}b}\\colorbox{yellow}{c}", "ab c")]
    [InlineData("nth", "\\nth{1} \\nth{2} \\nth{11} \\nth{23}", "1st 2nd 11th 23rd")]
    public void Words_and_their_looks(string package, string body, string printed) => Assert.Equal(printed, Printed(body, $"\\usepackage{{{package}}}"));

    [Theory]
    [InlineData("\\verb|a_b %| and \\verb*+c d+", "a_b % and c␣d")]
    [InlineData("\\begin{verbatim}\n\\x{y} % z\n  two\n\\end{verbatim}after", "\\x{y} % z two after")]
    [InlineData("\\newenvironment{code}{\\verbatim}{\\endverbatim}\\begin{code}\n$_^\n\\end{code}", "$_^")]
    [InlineData("{\\obeylines a\nb}", "a b")]
    public void Text_as_typed(string body, string printed) => Assert.Equal(printed, Printed(body, ""));

    [Fact]
    public void Colours_reach_the_page()
    {
        CompileResult result = Compiled.Body("\\textcolor[RGB]{255,0,0}{red} \\textcolor[cmyk]{1,0,0,0}{cyan} \\textcolor{blue!50}{pale}", "\\usepackage{xcolor}\n");
        string plain = Compiled.Run("qpdf", result.Pdf, "--qdf", "--object-streams=disable", "FILE", "-");
        Assert.Contains("1 0 0 rg", plain);
        Assert.Contains("0 1 1 rg", plain);
        Assert.Contains("0.502 0.502 1 rg", plain);
    }

    [Theory]
    [InlineData("\\newtheorem{thm}{Theorem}\\newtheorem{lem}[thm]{Lemma}", "\\begin{thm}a\\end{thm}\\begin{lem}b\\end{lem}\\begin{thm}[Big]c\\end{thm}", "Theorem 1. a Lemma 2. b Theorem 3 (Big). c")]
    [InlineData("\\newtheorem{thm}{Theorem}[section]", "\\section{S}\\begin{thm}\\label{t}a\\end{thm}\\section{T}\\begin{thm}b\\end{thm}\\ref{t}", "1 S Theorem 1.1. a 2 T Theorem 2.1. b 1.1")]
    [InlineData("\\theoremstyle{definition}\\newtheorem*{note}{Note}", "\\begin{note}a\\end{note}", "Note. a")]
    [InlineData("\\swapnumbers\\newtheorem{thm}{Theorem}", "\\begin{thm}a\\end{thm}", "1 Theorem. a")]
    [InlineData("\\newtheoremstyle{own}{3pt}{3pt}{}{}{\\scshape}{:}{ }{}\\theoremstyle{own}\\newtheorem{ex}{Example}", "\\begin{ex}a\\end{ex}", "Example 1: a")]
    [InlineData("", "\\begin{proof}Look.\\end{proof}\\begin{proof}[Idea]Think.\\qedhere\\end{proof}", "Proof. Look. □ Idea. Think. □")]
    [InlineData("\\usepackage{thmtools}\\declaretheorem[name=Claim,numberwithin=section]{claim}", "\\section{S}\\begin{claim}a\\end{claim}", "1 S Claim 1.1. a")]
    public void Theorems(string preamble, string body, string printed) => Assert.Equal(printed, Printed(body, "\\usepackage{amsthm}" + preamble));

    [Fact]
    public void Listings_have_numbers_captions_and_a_list()
    {
        CompileResult result = Compiled.Body(
            "\\lstlistoflistings\\begin{lstlisting}[language=Python,caption={Grow},label=l,numbers=left,firstnumber=7]\ndef f(x): # why\n    return x_1\n\\end{lstlisting}See \\ref{l}, \\lstinline|a_b|.",
            "\\usepackage{listings}\\lstset{basicstyle=\\small\\ttfamily,keywordstyle=\\color{blue}}\\usepackage{xcolor}\n");
        Assert.Empty(result.Report.Findings);
        string text = Compiled.Text(result, "-layout");
        Assert.Equal("Listings 1 Grow . . . . . . . . . . . . . . . . . . . . . . . . . . . . . . . . . 1 Listing 1: Grow 7 def f(x): # why 8 return x_1 See 1, a_b. 1",
            System.Text.RegularExpressions.Regex.Replace(text, "( \\.)+", " . . . . . . . . . . . . . . . . . . . . . . . . . . . . . . . . ."));
        CompileResult file = Compiled.Files(("main.tex", "\\documentclass{article}\\usepackage{listings}\\begin{document}\\lstinputlisting[firstline=2,lastline=2]{code/a.py}\\end{document}"),
            ("code/a.py", "one\ntwo\nthree"));
        Assert.Equal("two 1", Compiled.Text(file));
    }

    [Theory]
    [InlineData("\\usepackage{endnotes}", "A\\endnote{First.} b\\endnote{Second.}\\theendnotes", "A1 b2 Notes 1 First. 2 Second.")]
    [InlineData("\\usepackage{endnotes}\\let\\footnote=\\endnote", "A\\footnote{First.}\\theendnotes", "A1 Notes 1 First.")]
    [InlineData("\\usepackage[symbol]{footmisc}", "A\\footnote{x}", "A* *x")]
    public void Notes_elsewhere(string preamble, string body, string printed) =>
        Assert.Equal(printed, string.Join(' ', Printed(body, preamble).Replace("\u2009", " ", StringComparison.Ordinal).Split(' ', StringSplitOptions.RemoveEmptyEntries)));

    [Fact]
    public void Footnotes_take_numbers_marks_and_their_format()
    {
        string text = Printed("a\\footnote{one}b\\footnotemark c\\footnotetext{two}d\\footnote[9]{nine}\\renewcommand{\\thefootnote}{\\alph{footnote}}e\\footnote{three}", "");
        Assert.Contains("a1b2cd9ec", text);
        Assert.Matches("1 *one 2 *two 9 *nine c *three", text);
        Assert.Contains("xa a inside", Printed("\\begin{minipage}{5cm}x\\footnote{inside}\\end{minipage}", ""));
    }

    [Fact]
    public void Todo_notes_stand_in_the_margin_in_the_line_and_in_their_list()
    {
        string text = Printed("\\listoftodos Text\\todo{Check this} and \\todo[inline]{mend that}.\\missingfigure{A wall}", "\\usepackage{todonotes}");
        Assert.Contains("Todo list", text);
        Assert.Equal(2, System.Text.RegularExpressions.Regex.Count(text, "Check this"));
        Assert.Contains("A wall", text);
        Assert.DoesNotContain("Check", Printed("Text\\todo{Check this}", "\\usepackage[disable]{todonotes}"));
    }

    [Fact]
    public void An_index_is_sorted_nested_and_gathers_pages_to_ranges()
    {
        string text = Printed("\\index{wall}\\index{wall!dry-stone}\\index{alpha@$\\alpha$}\\index{Ångström}\\index{slate|see{stone}}\\index{lichen|(}a\\newpage\\index{wall|textbf}b\\newpage\\index{wall}c\\index{lichen|)}\\newpage\\printindex",
            "\\usepackage{makeidx}\\makeindex");
        Assert.EndsWith("Index α, 1 Ångström, 1 lichen, 1–3 slate, see stone wall, 1, 2, 3 dry-stone, 1 4", text);
    }

    [Fact]
    public void The_index_is_reported_as_it_prints_with_the_first_place_of_each_entry()
    {
        CompileResult result = Compiled.Body("\\index{wall!dry-stone}a\n\nb\\index{slate|see{stone}}\n\n\\index{wall!dry-stone}c\\newpage\\begin{center}\\printindex\\end{center}", "\\usepackage{makeidx}\\makeindex");
        Assert.Equal([new(0, "slate", "see stone", "main.tex", 6), new(0, "wall", "", null, null), new(1, "dry-stone", "1", "main.tex", 4)], result.Report.Index);
        Assert.Empty(Compiled.Body("no index").Report.Index);
    }

    [Theory]
    [InlineData("\\usepackage{glossaries}\\makeglossaries\\newacronym{ols}{OLS}{ordinary least squares}", "\\gls{ols} then \\gls{ols}, \\glsresetall{} \\Gls{ols}", "ordinary least squares (OLS) then OLS, Ordinary least squares (OLS)")]
    [InlineData("\\usepackage{glossaries}\\newglossaryentry{thallus}{name=thallus,plural=thalli,description={a body}}", "\\Gls{thallus}, \\glspl{thallus}\\printglossary[title=Words]", "Thallus, thalli Words thallus a body, 1")]
    [InlineData("\\usepackage{acronym}", "\\ac{eu} and \\ac{eu}; \\acp{mw}\\begin{acronym}\\acro{eu}[EU]{European Union}\\acro{mw}[MW]{Marrow Wall}\\end{acronym}", "European Union (EU) and EU; Marrow Walls (MWs) EU European Union MW Marrow Wall")]
    [InlineData("\\usepackage{nomencl}\\makenomenclature", "\\nomenclature{$v$}{speed}\\nomenclature{$a$}{area}\\printnomenclature", "Nomenclature a area v speed")]
    public void Glossaries(string preamble, string body, string printed) => Assert.Equal(printed, Printed(body, preamble));

    /// <summary>Keywords are bold; more of them, and fewer, also where no language is named and where a keyword stands among other words.</summary>
    [Theory]
    [InlineData("language=Python", "while")]
    [InlineData("language=Python,morekeywords={wall,stone}", "wall while stone")]
    [InlineData("language=Python,deletekeywords={while}", "")]
    [InlineData("morekeywords={wall}", "wall")]
    public void Keywords_of_programs_can_be_added_and_taken_away(string options, string bold)
    {
        CompileResult result = Compiled.Body($"\\begin{{lstlisting}}[{options}]\na wall while stone b\n\\end{{lstlisting}}", "\\usepackage{listings}");
        using var pdf = UglyToad.PdfPig.PdfDocument.Open(result.Pdf);
        Assert.Equal(bold, string.Join(' ', pdf.GetPages().SelectMany(p => p.GetWords()).Where(w => w.FontName!.Contains("Bold", StringComparison.OrdinalIgnoreCase)).Select(w => w.Text)));
    }

    [Fact]
    public void Filler_text_comes_in_the_amount_asked_for()
    {
        string one = Printed("\\lipsum[1]", "\\usepackage{lipsum}");
        string three = Printed("\\lipsum[1-3]", "\\usepackage{lipsum}");
        Assert.StartsWith("Lorem ipsum dolor sit amet", one);
        Assert.InRange(three.Length, one.Length * 2, one.Length * 5);
        Assert.Contains("A section", Printed("\\blinddocument", "\\usepackage{blindtext}"));
    }

    [Theory]
    [InlineData("\\parbox{4cm}{one two}\\fbox{x}\\makebox[2cm][r]{y}\\raisebox{1ex}{z}", "one two x yz")]
    [InlineData("\\begin{minipage}[t]{3cm}left\\end{minipage}\\hfill\\begin{minipage}[t]{3cm}right\\end{minipage}", "left right")]
    [InlineData("a\\phantom{bbb}c\\hphantom{x}\\vphantom{y}d\\smash{e}", "a c de")]
    [InlineData("a\\hspace{1cm}b\\quad c\\,d\\ e~f\\hfill g", "a b cd e f g")]
    [InlineData("\\centerline{mid}\\shortstack{a\\\\b}", "mid a b")]
    [InlineData("\\`a\\'e\\^o\\~n\\=u\\.z\\\"i\\u g\\v s\\H o\\c c\\r a\\k e", "àéôñūżïğšőçåę")]
    [InlineData("\\oe\\OE\\ae\\AE\\aa\\AA\\o\\O\\l\\L\\ss\\i\\j\\dag\\ddag\\S\\P\\copyright\\pounds\\dots", "œŒæÆåÅøØłŁßıȷ†‡§¶©£…")]
    [InlineData("\\textbf{b}\\textit{i}\\textsl{s}\\textsf{f}\\texttt{t}\\emph{e}{\\bf B}{\\it I}{\\tt T}{\\em E}", "bisfteBITE")]
    [InlineData("``a'' `b' --- -- - ?` !`", "“a” ‘b’ — – - ¿ ¡")]
    [InlineData("\\begin{center}mid\\end{center}\\begin{flushright}right\\end{flushright}", "mid right")]
    [InlineData("\\hyphenation{wall-stone}\\sloppy\\begin{sloppypar}wallstone\\end{sloppypar}", "wallstone")]
    [InlineData("\\hrule\\vrule width 2pt x\\hrulefill y\\dotfill z", "x y z")]
    public void Kernel_text_and_boxes(string body, string printed) =>
        Assert.Equal(printed, System.Text.RegularExpressions.Regex.Replace(Printed(body, ""), "( \\.)+ z", " z"));

    [Fact]
    public void Words_are_divided_by_the_patterns_of_their_language()
    {
        // Narrow columns divide words; the places are those of the published patterns (npm hyphen: checked in ReferenceTests).
        string German(string text) => Compiled.Text(Compiled.Body($"\\parbox{{2.2cm}}{{{text}}}", "\\usepackage[ngerman]{babel}\n"), "-layout");
        Assert.Contains("Flechtenwachs-", German("\\hspace{0pt}Flechtenwachstumsgeschwindigkeit"));
    }

    [Theory]
    [InlineData("textcase", "\\MakeTextUppercase{wall}", "WALL")]
    [InlineData("l3keys2e", "Text", "Text")]
    public void Small_packages_do_what_they_say(string package, string body, string printed) =>
        Assert.Equal(printed, Compiled.Text(Compiled.Clean(body, $"\\usepackage{{{package}}}")));

    [Fact]
    public void Blackened_words_are_not_in_the_file()
    {
        string text = Compiled.Text(Compiled.Clean("Met \\censor{Ilse} here. \\StopCensoring \\censor{Bao} too.", "\\usepackage{censor}"));
        Assert.DoesNotContain("Ilse", text, StringComparison.Ordinal);
        Assert.Contains("Bao too.", text, StringComparison.Ordinal);
    }

    [Fact]
    public void Words_that_came_and_go_are_shown_until_that_is_switched_off()
    {
        Assert.Equal("oldnew here", Compiled.Text(Compiled.Clean("\\replace{old}{new} \\highlight{here}", "\\usepackage{easyReview}")));
        Assert.Equal("new here", Compiled.Text(Compiled.Clean("\\setreviewsoff\\replace{old}{new} \\highlight{here}", "\\usepackage{easyReview}")));
    }

    [Fact]
    public void Notes_figures_and_captions_stand_in_the_margin()
    {
        List<PdfWord> words = PdfWords.Of(Compiled.Clean("Walls\\sidenote{Dry.} and more\\sidenote{Wet.} \\begin{marginfigure}Picture\\caption{Moss}\\label{f}\\end{marginfigure} see \\ref{f}.", "\\usepackage{sidenotes}"));
        double edge = words.Single(w => w.Text.StartsWith("Walls", StringComparison.Ordinal)).Left + 330;
        Assert.All((string[])["Dry.", "Wet.", "Picture", "Moss"], t => Assert.True(words.Single(w => w.Text.EndsWith(t, StringComparison.Ordinal)).Left > edge, t));
        Assert.Contains(words, w => w.Text == "1.");
    }
}
