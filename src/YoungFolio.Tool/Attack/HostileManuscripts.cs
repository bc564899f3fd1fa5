using System.Globalization;
using System.Text;
using YoungFolio.Markup;

namespace YoungFolio.Tool.Attack;

/// <summary>A manuscript that is meant to take the compiler's time or memory, or to bring it down.</summary>
/// <param name="Name">What it does.</param>
/// <param name="Make">Makes it.</param>
public sealed record HostileManuscript(string Name, Func<IFileTree> Make);

/// <summary>
/// Hostile manuscripts, one of each kind that we could think of: what grows, what nests, what goes round, what is damaged, and much of
/// anything. Tests hold the compiler's limits against all of them.
/// </summary>
public static class HostileManuscripts
{
    private const string Name = "main.tex";

    /// <summary>All of them.</summary>
    public static IReadOnlyList<HostileManuscript> All { get; } = [.. Macros(), .. Nested(), .. Much(), .. Odd(), .. Pictures(), .. Data()];

    private static IEnumerable<HostileManuscript> Macros()
    {
        yield return Body("a macro that is itself", @"\def\a{\a}\a");
        yield return Body("macros that are one another", @"\def\a{\b}\def\b{\c}\def\c{\a}\a");
        yield return Body("a macro that grows before", @"\def\a{x\a}\a");
        yield return Body("a macro that grows behind", @"\def\a{\a x}\a");
        yield return Body("a macro that grows with its argument", @"\def\a#1{\a{#1#1}}\a{x}");
        yield return Body("doubling macros, 25 deep", Doubling(25, "x "));
        yield return Body("doubling macros of formulas", Doubling(22, "$x$ "));
        yield return Body("doubling macros of paragraphs", Doubling(22, "x\\par "));
        yield return Body("doubling macros in an \\edef", Doubling(25, "x", "\\edef\\z{", "}\\z"));
        yield return Body("doubling macros of nothing", Doubling(30, ""));
        yield return Body("doubling macros in a formula", Doubling(22, "x", "$", "$"));
        yield return Body("doubling macros in a heading", Doubling(20, "x ", "\\section{", "}"));
        yield return Body("doubling macros in a caption", Doubling(20, "x ", "\\begin{figure}\\caption{", "}\\end{figure}\\listoffigures"));
        yield return Body("tenfold macros, 7 deep", Tenfold(7, "x"));
        yield return Body("tenfold macros of rules", Tenfold(7, @"\rule{1pt}{1pt}"));
        yield return Body("tenfold macros of footnotes", Tenfold(6, @"\footnote{x}"));
        yield return Body("tenfold macros of formulas", Tenfold(6, @"$\frac{a}{b}$"));
        yield return Body("a loop without end", @"\newcount\n\loop\advance\n by 1 \ifnum\n>0 \repeat");
        yield return Body("a loop that prints without end", @"\newcount\n\n=1 \loop x\advance\n by 1 \ifnum\n>0 \repeat");
        yield return Body("a loop that boxes without end", @"\newcount\n\n=1 \loop\setbox0=\hbox{\box0 x}\advance\n by 1 \ifnum\n>0 \repeat");
        yield return Body("names without end", @"\newcount\n\n=1 \loop\expandafter\def\csname q\the\n\endcsname{x}\advance\n by 1 \ifnum\n>0 \repeat");
        yield return Body("names that double", @"\def\s{abcdefgh}" + Repeat(24, @"\edef\s{\s\s}") + @"\csname\s\endcsname");
        yield return Body("tokens that double", @"\newtoks\t\t={xxxxxxxx}" + Repeat(26, @"\t=\expandafter{\the\expandafter\t\the\t}") + @"\the\t");
        yield return Body("a hook that grows", @"\makeatletter\def\q{x}" + @"\def\r{\g@addto@macro\q{\q}\r}\r");
        yield return Body("a macro that defines itself anew", @"\def\a{\def\b{\a}\b}\a");
        yield return Body("a command that is renewed by itself", @"\newcommand\a{x}\renewcommand\a{\a\a}\a");
        yield return Body("an active letter that is itself", "\\catcode`\\!=13 \\def!{!!}!");
        yield return Body("each paragraph begins another", @"\everypar{x\par y}x");
        yield return Body("a document command that is itself", @"\NewDocumentCommand\a{o m}{\a[#2]{#2#2}}\a{x}");
        yield return Body("an environment that is itself", @"\newenvironment{e}{\begin{e}}{\end{e}}\begin{e}x\end{e}");
        yield return Body("numbers that grow", @"\newcount\n\n=3 \loop\multiply\n by \n\ifnum\n>0 \repeat\the\n");
        yield return Body("\\expandafter in rows", new string(' ', 0) + Repeat(200_000, @"\expandafter") + "x");
        yield return Body("\\futurelet round itself", @"\def\a{\futurelet\b\a}\a x");
        yield return Body("\\afterassignment round itself", @"\newcount\n\def\a{\afterassignment\a\n=1 }\a");
        yield return Body("\\aftergroup round itself", @"\def\a{{\aftergroup\a}}\a");
        yield return Body("\\uppercase of itself", @"\def\a{\uppercase{\a}}\a");
        yield return Body("\\input of itself", @"x\input{main}");
        yield return new HostileManuscript("files that read one another", () => Files((Name, Document(@"\input{a}")), ("a.tex", @"x\input{b}"), ("b.tex", @"y\input{a}")));
        yield return new HostileManuscript("one file read ten thousand times", () => Files((Name, Document(Repeat(10_000, @"\input{a}"))), ("a.tex", Repeat(200, "word "))));
        yield return new HostileManuscript("a package that loads itself", () => Files((Name, "\\documentclass{article}\\usepackage{own}\\begin{document}x\\end{document}"), ("own.sty", @"\RequirePackage{own}\usepackage{own}\def\a{\a}\a")));
        yield return new HostileManuscript("a class that never ends", () => Files((Name, "\\documentclass{own}\\begin{document}x\\end{document}"), ("own.cls", @"\LoadClass{own}\loop\iftrue\repeat")));
    }

    private static IEnumerable<HostileManuscript> Nested()
    {
        yield return Body("groups, 100,000 deep", Repeat(100_000, "{") + "x" + Repeat(100_000, "}"));
        yield return Body("groups that aren't closed", Repeat(100_000, "{"));
        yield return Body("groups that weren't opened", Repeat(100_000, "}"));
        yield return Body("environments, 20,000 deep", Repeat(20_000, "\\begin{center}") + "x" + Repeat(20_000, "\\end{center}"));
        yield return Body("environments that end others", Repeat(20_000, "\\begin{quote}x\\end{center}"));
        yield return Body("fractions, 10,000 deep", "$" + Repeat(10_000, "\\frac{1}{") + "x" + Repeat(10_000, "}") + "$");
        yield return Body("fractions that double", Doubling(16, "x", "$", "$", @"\frac{#}{#}"));
        yield return Body("exponents, 20,000 deep", "$" + Repeat(20_000, "x^{") + Repeat(20_000, "}") + "$");
        yield return Body("brackets, 20,000 deep", "$" + Repeat(20_000, "\\left(") + Repeat(20_000, "\\right)") + "$");
        yield return Body("roots, 10,000 deep", "$" + Repeat(10_000, "\\sqrt{") + "x" + Repeat(10_000, "}") + "$");
        yield return Body("accents, 10,000 deep", "$" + Repeat(10_000, "\\hat{") + "x" + Repeat(10_000, "}") + "$");
        yield return Body("formulas in text in formulas", Repeat(3_000, "$\\text{") + "x" + Repeat(3_000, "}$"));
        yield return Body("lists, 5,000 deep", Repeat(5_000, "\\begin{itemize}\\item ") + "x" + Repeat(5_000, "\\end{itemize}"));
        yield return Body("tables, 1,000 deep", Repeat(1_000, "\\begin{tabular}{l}") + "x" + Repeat(1_000, "\\end{tabular}"));
        yield return Body("boxes, 5,000 deep", Repeat(5_000, "\\parbox{5cm}{") + "x" + Repeat(5_000, "}"));
        yield return Body("pages within pages", Repeat(3_000, "\\begin{minipage}{5cm}") + "x" + Repeat(3_000, "\\end{minipage}"));
        yield return Body("frames, 5,000 deep", Repeat(5_000, "\\fbox{") + "x" + Repeat(5_000, "}"));
        yield return Body("turned boxes, 2,000 deep", Repeat(2_000, "\\rotatebox{10}{") + "x" + Repeat(2_000, "}"), "\\usepackage{graphicx}");
        yield return Body("colours, 20,000 deep", Repeat(20_000, "\\textcolor{red}{") + "x" + Repeat(20_000, "}"), "\\usepackage{xcolor}");
        yield return Body("footnotes in footnotes", Repeat(3_000, "x\\footnote{") + "x" + Repeat(3_000, "}"));
        yield return Body("columns in columns", Repeat(500, "\\begin{multicols}{2}") + "x" + Repeat(500, "\\end{multicols}"), "\\usepackage{multicol}");
        yield return Body("conditionals, 100,000 deep", Repeat(100_000, "\\iftrue ") + "x" + Repeat(100_000, "\\fi "));
        yield return Body("conditionals that aren't closed", Repeat(100_000, "\\iffalse "));
        yield return Body("sums, 20,000 deep", "\\the\\numexpr" + Repeat(20_000, "(1+") + "1" + Repeat(20_000, ")") + "\\relax");
        yield return Body("arguments in arguments", Repeat(20_000, "\\emph{") + "x" + Repeat(20_000, "}"));
        yield return Body("boxes that double", @"\setbox0=\hbox{x}" + Repeat(40, @"\setbox0=\hbox{\copy0\copy0}") + @"\box0");
        yield return Body("standing boxes that double", @"\setbox0=\vbox{x}" + Repeat(40, @"\setbox0=\vbox{\copy0\copy0}") + @"\box0");
        yield return Body("kept boxes that double", @"\newsavebox\b\sbox\b{x}" + Repeat(40, @"\sbox\b{\usebox\b\usebox\b}") + @"\usebox\b");
        yield return Body("kept boxes of twenty doublings, in heads", @"\newsavebox\b\sbox\b{x}" + Repeat(14, @"\sbox\b{\usebox\b\usebox\b}") + Repeat(60, "word\\newpage "), "\\usepackage{fancyhdr}\\pagestyle{fancy}\\fancyhead[L]{\\usebox\\b}\\newsavebox\\b");
        yield return Body("boxes that double in a formula", @"\setbox0=\hbox{x}" + Repeat(40, @"\setbox0=\hbox{$\copy0\frac{\copy0}{\copy0}$}") + @"\box0");
        yield return Body("boxes that double in a table", @"\setbox0=\hbox{x}" + Repeat(30, @"\setbox0=\hbox{\begin{tabular}{ll}\copy0&\copy0\\\copy0&\copy0\end{tabular}}") + @"\box0");
    }

    private static IEnumerable<HostileManuscript> Much()
    {
        yield return Body("a million words in one paragraph", Lines(1_000_000, "word "));
        yield return Body("one word of five million letters", new string('x', 5_000_000));
        yield return Body("a word of five million without a place to divide", new string('.', 2_000_000));
        yield return Body("four million accents on one letter", "e" + new string('\u0301', 1_000_000));
        yield return Body("200,000 paragraphs", Lines(200_000, "x\n\n"));
        yield return Body("a million empty lines", new string('\n', 4_000_000));
        yield return Body("a line of eight million blanks", "x" + new string(' ', 8_000_000) + "y");
        yield return Body("a remark of eight million letters", "%" + new string('x', 8_000_000));
        yield return Body("100,000 labels with references", NumberedLines(100_000, "\\label{l#}\\ref{l#} "));
        yield return Body("100,000 references to nothing", NumberedLines(100_000, "\\ref{l#} "));
        yield return Body("one label 100,000 times", Lines(100_000, "\\label{l}\\ref{l}"));
        yield return Body("100,000 headings", NumberedLines(100_000, "\\section{Heading #}\n"), "", "\\tableofcontents");
        yield return Body("50,000 notes at the foot", NumberedLines(50_000, "x\\footnote{Note #} "));
        yield return Body("one note that is longer than any page", "x\\footnote{" + Lines(100_000, "word ") + "}");
        yield return Body("20,000 floats", NumberedLines(20_000, "\\begin{figure}\\caption{Figure #}\\end{figure}\n"));
        yield return Body("5,000 floats that fit nowhere", NumberedLines(5_000, "\\begin{figure}[b]\\rule{1cm}{19cm}\\caption{Figure #}\\end{figure}\nx\n\n"));
        yield return Body("100,000 words for the index", NumberedLines(100_000, "\\index{word#}"), "\\usepackage{makeidx}\\makeindex", "", "\\printindex");
        yield return Body("100,000 citations of nothing", NumberedLines(100_000, "\\cite{k#} "), "", "", "\\bibliographystyle{plain}\\bibliography{none}");
        yield return Body("100,000 equations", Lines(50_000, "\\begin{equation}x\\end{equation}"));
        yield return Body("a table of 100,000 rows", "\\begin{tabular}{ll}" + Lines(100_000, "a&b\\\\") + "\\end{tabular}");
        yield return Body("a long table of 100,000 rows", "\\begin{longtable}{ll}" + Lines(100_000, "a&b\\\\") + "\\end{longtable}", "\\usepackage{longtable}");
        yield return Body("a table of 20,000 columns", "\\begin{tabular}{*{20000}{l}}" + Lines(19_999, "a&") + "a\\end{tabular}");
        yield return Body("a table whose columns are said two billion times", "\\begin{tabular}{*{2000000000}{l}}a\\end{tabular}");
        yield return Body("columns that double", "\\begin{tabular}{*{99}{*{99}{*{99}{*{99}{l}}}}}a\\end{tabular}");
        yield return Body("cells that span each other", "\\begin{tabular}{*{100}{l}}" + Lines(2_000, "\\multicolumn{99}{l}{a}&b\\\\\\cline{1-100}") + "\\end{tabular}");
        yield return Body("stretched tables in each other", Lines(12, "\\begin{tabularx}{5cm}{XX}a&") + "x" + Lines(12, "\\end{tabularx}"), "\\usepackage{tabularx}");
        yield return Body("a matrix of 500 by 500", "$$\\begin{matrix}" + Lines(500, Lines(500, "x&") + "\\\\") + "\\end{matrix}$$", "\\usepackage{amsmath}");
        yield return Body("a display of 20,000 lines", "\\begin{align}" + Lines(20_000, "a&=b\\\\") + "\\end{align}", "\\usepackage{amsmath}");
        yield return Body("a formula of a million letters", "$" + Lines(1_000_000, "x+") + "$");
        yield return Body("a million dollars", Lines(1_000_000, "$"));
        yield return Body("a million alignment signs", Lines(1_000_000, "&"));
        yield return Body("200,000 commands that nobody knows", NumberedLines(200_000, "\\qq" + "{#}\\nn "));
        yield return Body("verbatim of 500,000 lines", "\\begin{verbatim}\n" + Lines(500_000, "line\n") + "\\end{verbatim}");
        yield return Body("a listing of 200,000 lines", "\\begin{lstlisting}[language=Python]\n" + Lines(200_000, "for x in y: return 'z'\n") + "\\end{lstlisting}", "\\usepackage{listings}");
        yield return Body("100,000 links", NumberedLines(100_000, "\\href{https://a.example/#}{x} "), "\\usepackage{hyperref}");
        yield return Body("50,000 words in the margin", NumberedLines(50_000, "x\\marginpar{#} "));
        yield return Body("one million rules", Lines(1_000_000, "\\rule{1pt}{1pt}"));
        yield return Body("100,000 pages", Lines(100_000, "x\\newpage "));
        yield return Body("500,000 definitions", NumberedLines(500_000, "\\def\\q{#}"));
        yield return Body("100,000 counters", NumberedLines(20_000, "\\newcount\\c"));
    }

    private static IEnumerable<HostileManuscript> Odd()
    {
        yield return Body("a page reference that moves itself", Repeat(44, "line\\par ") + "\\ifodd\\pageref{a}\\else\\newpage\\fi x\\label{a} \\pageref{a}");
        yield return Body("measures beyond all", "\\hspace{99999999999pt}\\vspace{99999999999cm}\\rule{16383pt}{16383pt}\\hskip 1000000cm plus 1filll x");
        yield return Body("leading back without end", Lines(20_000, "\\vspace{-16000pt}x\\par "));
        yield return Body("letters of no size", "\\fontsize{0.0001pt}{0.0001pt}\\selectfont " + Lines(50_000, "word "));
        yield return Body("letters larger than pages", "\\fontsize{16000pt}{16000pt}\\selectfont " + Repeat(500, "word "));
        yield return Body("lines of one point", Lines(20_000, "word "), "\\setlength\\textwidth{1pt}");
        yield return Body("pages of one point", Lines(20_000, "word "), "\\setlength\\textheight{1pt}");
        yield return Body("paper of one point", Repeat(2_000, "word "), "\\usepackage[paperwidth=1pt,paperheight=1pt]{geometry}");
        yield return Body("text below nothing", Repeat(2_000, "word "), "\\setlength\\textheight{-100pt}\\setlength\\baselineskip{-12pt}");
        yield return Body("lines that lie on one another", "\\baselineskip=0pt\\lineskip=0pt\\lineskiplimit=-1000pt " + Lines(100_000, "word "));
        yield return Body("all signs are letters", Numbered(126, "\\catcode#=11 ") + "x");
        yield return Body("signs without a category", "\\catcode`\\\\=12 \\catcode`\\{=9 \\catcode`\\}=9 x");
        yield return Body("what never closes", "\\begin{verbatim}" + Repeat(100_000, "x "));
        yield return Body("\\verb without end", Lines(50_000, "\\verb|x "));
        yield return Body("shapes of paragraphs without end", "\\parshape 100000 " + Lines(100_000, "0pt 10cm ") + "word");
        yield return Body("a mark in heads that is itself", "x", "\\pagestyle{myheadings}\\def\\thepage{\\thepage}");
        yield return Body("control signs", string.Concat(Enumerable.Range(0, 32).Select(i => (char)i)) + "\u007f\u0080\ufffe\uffff x");
        yield return new HostileManuscript("bytes that are no text", () => new FileTree([new ManuscriptFile(Name, Noise(3_000_000))]));
        yield return new HostileManuscript("an empty manuscript", () => Files((Name, "")));
        yield return new HostileManuscript("no main file", () => Files(("other.tex", "x")));
        yield return new HostileManuscript("halves of characters", () => Files((Name, Document("x\ud83d y \ude00"))));
    }

    private static IEnumerable<HostileManuscript> Pictures()
    {
        yield return Svg("an SVG of 100,000 nested groups", Repeat(100_000, "<g>") + Repeat(100_000, "</g>"));
        yield return Svg("an SVG that uses itself twice over, 30 deep", "<defs><g id='g0'><path d='M0 0h1'/></g>" + Numbered(30, "<g id='g{+}'><use href='#g{-}'/><use href='#g{-}'/></g>") + "</defs><use href='#g30'/>");
        yield return Svg("an SVG of 100,000 uses", "<defs><path id='p' d='M0 0h1'/></defs>" + Repeat(100_000, "<use href='#p'/>"));
        yield return Svg("an SVG that uses itself", "<g id='a'><use href='#a'/></g>");
        yield return Svg("an SVG of 300,000 paths", Repeat(300_000, "<path d='M0 0h1'/>"));
        yield return Svg("an SVG path of two million numbers", "<path d='M0 0" + Repeat(1_000_000, "l1 1") + "'/>");
        yield return Svg("an SVG path of 200,000 arcs", "<path d='M0 0" + Repeat(200_000, "a1 1 0 0 1 1 1") + "'/>");
        yield return Svg("an SVG of tiles", "<defs><pattern id='t' width='0.001' height='0.001' patternUnits='userSpaceOnUse'><rect width='1' height='1'/></pattern></defs><rect width='100' height='100' fill='url(#t)'/>");
        yield return Svg("an SVG of 100,000 rules of style", "<style>" + Numbered(100_000, ".c#{fill:red}") + "</style>" + Repeat(2_000, "<rect class='c1 c2 c3' width='1' height='1'/>"));
        yield return Svg("an SVG gradient of 100,000 stops", "<defs><linearGradient id='l'>" + Repeat(100_000, "<stop offset='0.5' stop-color='red'/>") + "</linearGradient></defs><rect width='9' height='9' fill='url(#l)'/>");
        yield return Svg("an SVG text of a million letters", "<text>" + Repeat(1_000_000, "x") + "</text>");
        yield return new HostileManuscript("an SVG whose entities double", () => Pictured("a.svg", Encoding.UTF8.GetBytes("<!DOCTYPE svg [<!ENTITY a 'xxxxxxxxxx'>" + string.Concat(Enumerable.Range(1, 9).Select(i => $"<!ENTITY {(char)('a' + i)} '{Repeat(10, $"&{(char)('a' + i - 1)};")}'>")) + "]><svg xmlns='http://www.w3.org/2000/svg' width='9' height='9'><text>&j;</text></svg>")));
        yield return new HostileManuscript("a PNG of 30,000 by 30,000 with a palette and opacity", () => Pictured("a.png", HostilePictures.Png(30_000, 30_000, 1, 3)));
        yield return new HostileManuscript("a PNG of 20,000 by 20,000 in four colours, woven", () => Pictured("a.png", HostilePictures.Png(20_000, 20_000, 8, 6, isInterlaced: true, rows: 2_000)));
        yield return new HostileManuscript("a PNG of 20,000 by 20,000 with opacity", () => Pictured("a.png", HostilePictures.Png(20_000, 20_000, 8, 4)));
        yield return new HostileManuscript("a PNG of 30,000 by 30,000 of 16 bits, cut off", () => Pictured("a.png", HostilePictures.Png(30_000, 30_000, 16, 6, rows: 10)));
        yield return new HostileManuscript("a PNG woven of 30,000 by 30,000 with one bit", () => Pictured("a.png", HostilePictures.Png(30_000, 30_000, 1, 0, isInterlaced: true)));
        yield return new HostileManuscript("a PNG of half a million chunks", () => Pictured("a.png", HostilePictures.Png(10, 10, 8, 2, chunks: 500_000)));
        yield return new HostileManuscript("a PNG whose chunks have lengths below nothing", () => Pictured("a.png", HostilePictures.Png(10, 10, 8, 2, chunks: 3, chunkLength: -1)));
        yield return new HostileManuscript("a PNG of unheard-of bits", () => Pictured("a.png", HostilePictures.Png(10, 10, 255, 77)));
        yield return new HostileManuscript("a JPEG that claims 65,535 by 65,535", () => Pictured("a.jpg", [0xFF, 0xD8, 0xFF, 0xC0, 0, 17, 8, 0xFF, 0xFF, 0xFF, 0xFF, 3, 1, 0x11, 0, 2, 0x11, 1, 3, 0x11, 1, 0xFF, 0xD9]));
        yield return new HostileManuscript("a JPEG whose parts have no length", () => Pictured("a.jpg", [0xFF, 0xD8, .. Enumerable.Repeat<byte[]>([0xFF, 0xE0, 0, 0], 100_000).SelectMany(b => b)]));
        yield return new HostileManuscript("a PDF whose streams unfold", () => Pictured("a.pdf", HostilePictures.UnfoldingPdf(600_000_000)));
        yield return new HostileManuscript("a PDF whose pages are their own parents", () => Pictured("a.pdf", HostilePictures.Pdf("<</Type/Catalog/Pages 2 0 R>>", "<</Type/Pages/Kids[2 0 R 2 0 R]/Count 9/Parent 2 0 R>>")));
        yield return new HostileManuscript("a PDF whose objects are nested 200,000 deep", () => Pictured("a.pdf", HostilePictures.Pdf("<</Type/Catalog/Pages 2 0 R/X " + Repeat(200_000, "[") + Repeat(200_000, "]") + ">>", "<</Type/Pages/Kids[]/Count 0>>")));
        yield return new HostileManuscript("a PDF whose objects refer in a circle", () => Pictured("a.pdf", HostilePictures.Pdf("<</Type/Catalog/Pages 2 0 R>>", "<</Type/Pages/Kids[3 0 R]/Count 1>>", "<</Type/Page/Parent 2 0 R/MediaBox[0 0 9 9]/Resources 4 0 R>>", "5 0 R", "4 0 R")));
        yield return new HostileManuscript("a PDF with a hundred thousand objects", () => Pictured("a.pdf", HostilePictures.Pdf(["<</Type/Catalog/Pages 2 0 R>>", "<</Type/Pages/Kids[3 0 R]/Count 1>>", "<</Type/Page/Parent 2 0 R/MediaBox[0 0 9 9]/Resources<</X[" + Numbered(100_000, "{+4} 0 R ") + "]>>>>", .. Enumerable.Repeat("<<>>", 100_000)])));
        yield return new HostileManuscript("one picture 20,000 times", () => Files([(Name, Encoding.UTF8.GetBytes(Document(Lines(20_000, "\\includegraphics[width=1mm]{a.png}"), "\\usepackage{graphicx}"))), ("a.png", HostilePictures.Png(100, 100, 8, 6))]));
        yield return new HostileManuscript("a picture of 50 MB in 2 MB, 30 times under other names", () => Files([(Name, Encoding.UTF8.GetBytes(Document(Numbered(30, "\\includegraphics[width=1mm]{a#.png}"), "\\usepackage{graphicx}"))), .. Enumerable.Range(0, 30).Select(i => ($"a{i}.png", HostilePictures.Png(3_600, 3_600, 8, 6)))]));
    }

    private static IEnumerable<HostileManuscript> Data()
    {
        yield return Bib("a .bib of 60,000 sources", Numbered(60_000, "@book{k#,author={A and B},title={T #},year=2000}\n"), "\\nocite{*}");
        yield return Bib("a .bib whose braces never close", "@book{a,title=" + new string('{', 500_000), "\\cite{a}");
        yield return Bib("a .bib whose words double", "@string{s0=\"xxxxxxxxxx\"}\n" + Numbered(30, "@string{s{+}=s{-} # s{-}}\n") + "@book{a,title=s30}", "\\cite{a}");
        yield return Bib("a .bib whose sources inherit in a circle", "@book{a,crossref={b}}@book{b,crossref={c}}@book{c,crossref={a}}", "\\cite{a,b,c}");
        yield return Bib("a source with 50,000 authors", "@book{a,author={" + Lines(50_000, "Ab and ") + "Z},title={T},year=1}", "\\cite{a}");
        yield return Bib("a source with a title of three million letters", "@book{a,author={A},title={" + new string('x', 3_000_000) + "},year=1}", "\\cite{a}");
        yield return Bib("50,000 sources of one author and year", Numbered(50_000, "@book{k#,author={A},title={T},year=2000}\n"), "\\nocite{*}", "natbib");
        yield return new HostileManuscript("a data file of 200,000 rows", () => Files((Name, Document("\\csvautotabular{a.csv}", "\\usepackage{csvsimple}")), ("a.csv", "a,b,c\n" + Repeat(200_000, "1,2,3\n"))));
        yield return new HostileManuscript("a data file of one line of five million signs", () => Files((Name, Document("\\csvautotabular{a.csv}", "\\usepackage{csvsimple}")), ("a.csv", new string(',', 5_000_000))));
        yield return Body("10,000 words in the glossary", Numbered(10_000, "\\newglossaryentry{g{a}}{name=n{a},description={d}}\\gls{g{a}}\n"), "\\usepackage{glossaries}\\makeglossaries", "", "\\printglossaries");
        yield return Body("20,000 theorems", Lines(20_000, "\\begin{thm}x\\end{thm}"), "\\newtheorem{thm}{Theorem}");
    }

    private static HostileManuscript Body(string name, string body, string preamble = "", string before = "", string after = "") =>
        new(name, () => Files((Name, Document($"{before}{body}{after}", preamble))));

    private static HostileManuscript Svg(string name, string content) => new(name, () => Pictured("a.svg", Encoding.UTF8.GetBytes($"<svg xmlns='http://www.w3.org/2000/svg' width='100' height='100'>{content}</svg>")));

    private static HostileManuscript Bib(string name, string sources, string body, string package = "") => new(name, () => Files(
        (Name, Document($"{body}\\bibliographystyle{{{(package.Length > 0 ? "plainnat" : "plain")}}}\\bibliography{{a}}", package.Length > 0 ? $"\\usepackage{{{package}}}" : "")), ("a.bib", sources)));

    private static FileTree Pictured(string name, byte[] bytes) =>
        Files([(Name, Encoding.UTF8.GetBytes(Document($"Before.\n\n\\includegraphics[width=5cm]{{{name}}}\n\nBehind.", "\\usepackage{graphicx}"))), (name, bytes)]);

    private static string Document(string body, string preamble = "") => $"\\documentclass{{article}}{preamble}\n\\begin{{document}}\n{body}\n\\end{{document}}\n";

    private static FileTree Files(params (string Path, string Text)[] files) => new([.. files.Select(p => ManuscriptFile.FromText(p.Path, p.Text))]);

    private static FileTree Files((string Path, byte[] Bytes)[] files) => new([.. files.Select(p => new ManuscriptFile(p.Path, p.Bytes))]);

    // \a is the content, \b is \a\a, \c is \b\b …
    private static string Doubling(int depth, string content, string before = "", string after = "", string twice = "##")
    {
        var text = new StringBuilder().Append("\\def\\na{").Append(content).Append('}');
        for (int i = 1; i <= depth; i++)
        {
            text.Append("\\def\\n").Append(Letters(i)).Append('{').Append(twice.Replace("#", $"\\n{Letters(i - 1)}", StringComparison.Ordinal)).Append('}');
        }

        return text.Append(before).Append("\\n").Append(Letters(depth)).Append(after).ToString();
    }

    private static string Tenfold(int depth, string content) => Doubling(depth, content, "", "", "##########");

    private static string Letters(int number) => number < 26 ? ((char)('a' + number)).ToString() : $"z{(char)('a' + number - 26)}";

    private static string Repeat(int count, string text) => new StringBuilder(count * text.Length).Insert(0, text, count).ToString();

    // With a line end now and then: the compiler takes no line of any length.
    private static string Lines(int count, string text) => Broken(Enumerable.Repeat(text, count));

    private static string NumberedLines(int count, string text) => Broken(Enumerable.Range(0, count).Select(i => text.Replace("{#}", $"{{{i}}}", StringComparison.Ordinal).Replace("#", i.ToString(CultureInfo.InvariantCulture), StringComparison.Ordinal)));

    private static string Broken(IEnumerable<string> pieces)
    {
        var result = new StringBuilder();
        int line = 0;
        foreach (string piece in pieces)
        {
            result.Append(piece);
            line += piece.Length;
            if (line > 500)
            {
                result.Append('\n');
                line = 0;
            }
        }

        return result.ToString();
    }

    // # is the number, {+} the next one, {-} the number itself again, {+4} four more, {a} the number in letters.
    private static string Numbered(int count, string text)
    {
        var result = new StringBuilder();
        for (int i = 0; i < count; i++)
        {
            string number = i.ToString(CultureInfo.InvariantCulture);
            string line = text.Replace("{+4}", (i + 4).ToString(CultureInfo.InvariantCulture), StringComparison.Ordinal).Replace("{+}", (i + 1).ToString(CultureInfo.InvariantCulture), StringComparison.Ordinal)
                .Replace("{-}", number, StringComparison.Ordinal).Replace("{a}", string.Concat(number.Select(c => (char)('a' + c - '0'))), StringComparison.Ordinal);
            result.Append(text.Contains("href='#", StringComparison.Ordinal) ? line : line.Replace("#", number, StringComparison.Ordinal));
        }

        return result.ToString();
    }

    private static byte[] Noise(int length)
    {
        byte[] bytes = new byte[length];
        new Random(1).NextBytes(bytes);
        return bytes;
    }
}
