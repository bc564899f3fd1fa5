using YoungFolio.Compiler;
using YoungFolio.Manuscript.Packages;
using YoungFolio.Markup;

namespace YoungFolio.Core.Tests;

/// <summary>
/// What the kernel and the plain format add to the language, on the page. Facts are those of Knuth, The TeXbook (chapters 9, 22, 24 and appendix B), Lamport,
/// LaTeX (appendix C), and the kernel's published sources (from memory); the examples are our own.
/// </summary>
public sealed class KernelTests
{
    private static readonly string[] s_styles = ["", "\\bfseries", "\\ttfamily", "\\sffamily"];

    private static CompileResult Clean(string body, string preamble = "") => Compiled.Clean(body, preamble);

    private static string Words(string body, string preamble = "") => PdfWords.Joined(Clean(body, preamble));

    [Fact]
    public void Every_sign_of_text_prints_in_every_family_by_each_of_its_commands()
    {
        List<(string Command, string Sign)> all = [.. TextSigns.All.SelectMany(s => s.Commands.Select(c => (c, s.Sign)))];
        Assert.True(all.Count > 125);
        string body = string.Join("\n\n", s_styles.Select(style => $"{{\\sloppy{style} " + string.Join(" ", all.Select(s => $"\\{s.Command}{{}}")) + "\\par}"));
        // A character that no font had would be a finding. What is printed is what copies.
        string printed = string.Concat(PdfWords.Of(Clean(body)).Select(w => w.Text)).Normalize(System.Text.NormalizationForm.FormKC);
        foreach ((string command, string sign) in all)
        {
            Assert.True(printed.Contains(sign.Normalize(System.Text.NormalizationForm.FormKC).Trim(), StringComparison.Ordinal), command);
        }
    }

    [Theory]
    // Characters by number, and in a circle.
    [InlineData("\\char65\\char\"42\\symbol{67}\\char`D", "ABCD")]
    [InlineData("\\textcircled{b} \\textcircled{3}", "ⓑ ③")]
    [InlineData("\\accent19 e\\accent127 u", "éü")]
    [InlineData("shelf\\textcompwordmark ful a\\nobreakspace b", "shelfful a b")]
    // What is typed on two sides of a division, and undivided.
    [InlineData("a\\discretionary{-}{}{}b, c\\discretionary{x}{y}{z}d", "ab, czd")]
    // Marks, hooks, comparisons, the present language and size.
    [InlineData("\\mark{left}\\botmark", "left")]
    [InlineData("\\UseHook{own}", "onetwo", "\\NewHook{own}\\AddToHook{own}{one}\\AddToHook{own}{two}")]
    [InlineData("[\\UseHook{own}]", "[]", "\\NewHook{own}\\AddToHook{own}{one}\\RemoveFromHook{own}")]
    [InlineData("\\pdfstrcmp{a}{b},\\pdfstrcmp{b}{a},\\pdfstrcmp{a}{a}", "-1,1,0")]
    [InlineData("\\languagename", "english")]
    [InlineData("\\languagename", "ngerman", "\\usepackage[ngerman]{babel}")]
    [InlineData("\\makeatletter\\f@size, {\\Large\\itshape\\f@size, \\f@shape}", "10, 14.4, it")]
    [InlineData("\\makeatletter\\@ptsize", "1", "", "11pt")]
    [InlineData("\\magstep0, \\magstep2, \\magstephalf", "1000, 1440, 1095")]
    [InlineData("{\\skip0=3pt plus 2fil minus 1pt \\the\\gluestretch\\skip0, \\the\\glueshrink\\skip0}", "2.0pt, 1.0pt")]
    // Names that class files build on.
    [InlineData("\\makeatletter\\in@{b}{abc}\\ifin@ y\\else n\\fi\\in@{x}{abc}\\ifin@ y\\else n\\fi", "yn")]
    [InlineData("\\makeatletter\\filename@parse{chapters/one.tex}\\filename@area, \\filename@base, \\filename@ext", "chapters/, one, tex")]
    [InlineData("\\makeatletter\\edef\\x{\\zap@space a b c \\@empty}\\x", "abc")]
    [InlineData("\\makeatletter\\@percentchar\\@backslashchar\\@charlb\\@charrb", "%\\{}")]
    [InlineData("\\makeatletter{\\@makeother\\_a_b}", "a_b")]
    [InlineData("\\makeatletter\\def\\x{}\\@cons\\x{{one}}\\@cons\\x{{two}}{\\def\\@elt#1{<#1>}\\x}", "<one><two>")]
    [InlineData("\\makeatletter\\two@digits{7}:\\two@digits{12}", "07:12")]
    [InlineData("\\makeatletter\\@secondoffour1234", "2")]
    [InlineData("\\makeatletter\\hb@xt@ 2em{x\\hfil}y", "x y")]
    [InlineData("\\newif\\ifdraft\\ifx\\ifdraft\\iffalse off\\fi\\drafttrue\\ifx\\ifdraft\\iftrue on\\fi", "offon")]
    // Signs that a preamble declares.
    [InlineData("\\mysign\\ \\pair{x}", "(S) <x>", "\\DeclareTextCommandDefault{\\mysign}{(S)}\\DeclareTextCommand{\\pair}{T1}[1]{<#1>}")]
    [InlineData("\\textdegree\\own", "°new", "\\ProvideTextCommand{\\textdegree}{T1}{old}\\ProvideTextCommandDefault{\\own}{new}")]
    [InlineData("\\mydeg", "°", "\\DeclareTextSymbol{\\mydeg}{T1}{176}")]
    // Nothing is read or shown while typesetting, and what belongs to the commands doesn't print.
    [InlineData("a\\show\\par\\showthe\\parindent\\tracingall\\showhyphens{words}\\read16 to\\x b\\x", "ab")]
    [InlineData("a\\index{lichen}\\glossary{x}b", "ab")]
    public void It_prints(string body, string expected, string preamble = "", string options = "") =>
        Assert.Equal(expected, PdfWords.Joined(Compiled.Clean(body, preamble, options)));

    [Theory]
    [InlineData("\\font\\own=cmbx10 at 20pt", "cmbx10", 20)]
    [InlineData("\\font\\own=cmr10 scaled 1440", "cmr10 at 10pt", 14.4)]
    [InlineData("\\font\\own=cmtt8", "cmtt8 at 10pt", 8)]
    [InlineData("\\font\\own=\"cmr10\" scaled\\magstep2", "cmr10", 14.4)]
    [InlineData("\\newfont{\\own}{cmss17}", "cmss17 at 10pt", 17)]
    [InlineData("\\DeclareFixedFont{\\own}{T1}{ptm}{b}{n}{15}", "ptmb at 10pt", 15)]
    public void A_font_by_its_file_has_the_size_that_is_asked_for(string definition, string file, double size)
    {
        IReadOnlyList<PdfWord> words = PdfWords.Of(Clean("{\\own wallflowers} {\\ten wallflowers}", $"{definition} \\font\\ten={file}"));
        Assert.Equal(size / 10, (words[0].Right - words[0].Left) / (words[1].Right - words[1].Left), 0.005);
    }

    [Fact]
    public void A_font_without_a_hyphen_divides_no_words()
    {
        const string Long = "\\parbox{3cm}{\\sloppy an incomprehensible and extraordinary characterisation}";
        Assert.Contains(PdfWords.Of(Clean(Long)), w => w.Text.EndsWith('-'));
        Assert.DoesNotContain(PdfWords.Of(Clean("\\hyphenchar\\font=-1 " + Long)), w => w.Text.EndsWith('-'));
        Assert.Equal("-1, 45", Words("{\\hyphenchar\\font=-1 \\the\\hyphenchar\\font}, \\hyphenchar\\font=`\\- \\the\\hyphenchar\\font"));
    }

    [Fact]
    public void Skips_at_both_sides_narrow_the_lines_and_those_that_stretch_leave_a_side_ragged()
    {
        string words = string.Concat(Enumerable.Repeat("some words of a paragraph ", 12));
        List<PdfWord> plain = [.. PdfWords.Of(Clean("\\sloppy\\noindent " + words))];
        List<PdfWord> narrow = [.. PdfWords.Of(Clean("\\sloppy\\leftskip=50pt\\rightskip=70pt\\noindent " + words))];
        Assert.Equal(plain.Min(w => w.Left) + (50 * 72 / 72.27), narrow.Min(w => w.Left), 0.2);
        Assert.Equal(plain.Max(w => w.Right) - (70 * 72 / 72.27), narrow.Max(w => w.Right), 0.3);
        List<PdfWord> ragged = [.. PdfWords.Of(Clean("\\rightskip=0pt plus 1fil\\noindent " + words))];
        double space = ragged[1].Left - ragged[0].Right;
        Assert.All(ragged.Zip(ragged.Skip(1)).Where(p => Math.Abs(p.First.Top - p.Second.Top) < 1), p => Assert.Equal(space, p.Second.Left - p.First.Right, 0.1));
    }

    [Fact]
    public void Leaders_fill_the_line_with_a_rule_or_with_dots()
    {
        CompileResult ruled = Clean("\\noindent A\\leaders\\hrule\\hfill B");
        PdfRule rule = Assert.Single(PdfWords.Rules(ruled), r => r.Width > 200);
        List<PdfWord> ends = PdfWords.Of(ruled);
        Assert.True(rule.X >= ends[0].Right - 1 && rule.X + rule.Width <= ends[1].Left + 1);
        Assert.Contains(". . .", Words("\\noindent A\\leaders\\hbox to 5pt{.}\\hfill B"), StringComparison.Ordinal);
    }

    /// <summary>A page is numbered when it is whole: what is said on it holds for it, whatever stands before (Lamport, section 6.3).</summary>
    [Theory]
    [InlineData("\\pagenumbering{roman}Front\\newpage Second\\newpage\\section{One}\\pagenumbering{arabic}Text\\newpage Last", "i ii 1 2")]
    [InlineData("\\pagenumbering{roman}Front\\newpage\\setcounter{page}{7}Text\\newpage Last", "i vii viii")]
    [InlineData("\\pagenumbering{roman}Front\\newpage Second\\pagenumbering{arabic}\\newpage\\section{One}Text\\newpage Last", "i ii 1 2")]
    public void A_page_has_the_number_that_is_said_on_it(string body, string labels)
    {
        CompileResult result = Compiled.Files(("main.tex", "\\documentclass{article}\\begin{document}" + body + "\\end{document}"));
        Assert.Equal(labels, string.Join(' ', result.Sheets.Entries.Select(e => e.Label)));
    }

    [Fact]
    public void Lines_of_programs_that_are_too_long_go_on_in_another_where_that_is_asked_for()
    {
        const string Program = "\\begin{lstlisting}[breaklines=true]\nfor each of the walls measured in the first summer do what was said before about them and then go on to the next one of them\n  shortline\n\\end{lstlisting}";
        List<PdfWord> words = PdfWords.Of(Clean(Program, "\\usepackage{listings}"));
        double left = words.Min(w => w.Left);
        Assert.Equal(left + (20 * 72 / 72.27), words.Where(w => w.Top > words.One("each").Top + 5).MinBy(w => w.Top)!.Left, 2.0);
        Assert.True(words.Max(w => w.Right) < left + 345);
        Assert.Equal(words.One("for").Left + (2 * 6 * 72 / 72.27), words.One("shortline").Left, 2.0);
        Assert.Equal(3, words.Select(w => Math.Round(w.Top)).Distinct().Count());
        List<PdfWord> typed = PdfWords.Of(Clean("\\begin{verbatim}\nfirst\n  second\n\n    third\n\\end{verbatim}"));
        Assert.Equal([2.0, 4.0], typed.Skip(1).Select(w => Math.Round((w.Left - typed[0].Left) * 72.27 / 72 / 5.25, 1)));
        // A word that is longer than a line is broken where the line ends; nothing of it is lost.
        string whole = new('x', 150);
        List<PdfWord> parts = PdfWords.Of(Clean($"\\begin{{lstlisting}}[breaklines]\n{whole}\n\\end{{lstlisting}}", "\\usepackage{listings}"));
        Assert.Equal(whole, string.Concat(parts.Select(w => w.Text)));
        Assert.True(parts.Count > 2);
    }

    [Fact]
    public void Signs_of_packages_print_as_themselves_or_as_the_nearest_that_ships()
    {
        foreach (IGrouping<string, PackageSign> package in PackageSign.All.GroupBy(s => s.Package))
        {
            List<(string Command, string Sign)> signs = [.. package.SelectMany(s => s.Sign.Commands.Select(c => (c, s.Sign.Sign)))];
            string printed = string.Concat(PdfWords.Of(Clean("\\sloppy " + string.Join(' ', signs.Select(s => $"\\{s.Command}{{}}")), $"\\usepackage{{{package.Key}}}")).Select(w => w.Text))
                .Normalize(System.Text.NormalizationForm.FormKC);
            Assert.All(signs, s => Assert.Contains(s.Sign.Normalize(System.Text.NormalizationForm.FormKC), printed, StringComparison.Ordinal));
        }

        Assert.Equal("☎ ✉", Words("\\Telefon{} \\Letter", "\\usepackage{marvosym}"));
        Assert.Equal("20 ° ‰", Words("20\\,\\degree{} \\perthousand", "\\usepackage{gensymb}"));
        Assert.Equal("20 € €", Words("\\EUR{20} \\euro", "\\usepackage{eurosym}").Replace("20€", "20 €", StringComparison.Ordinal));
        Assert.Equal("✓ × ① ★ •", Words("\\ding{51} \\ding{55} \\ding{172} \\ding{72} \\ding{300}", "\\usepackage{pifont}"));
        Assert.Equal("✓ one ✓ two ② a ③ b", Words("\\begin{dinglist}{51}\\item one\\item two\\end{dinglist}\\begin{dingautolist}{173}\\item a\\item b\\end{dingautolist}", "\\usepackage{pifont}"));
        // Every number prints something that a font has.
        Clean("\\sloppy " + string.Join(' ', Enumerable.Range(33, 222).Select(n => $"\\ding{{{n}}}")), "\\usepackage{pifont}");
    }

    [Fact]
    public void A_redefined_rule_above_notes_is_gone_and_what_is_inserted_at_the_foot_has_no_mark()
    {
        const string Note = "Words.\\footnote{A note.}";
        Assert.Contains(PdfWords.Rules(Clean(Note)), r => r.Width > 100);
        Assert.DoesNotContain(PdfWords.Rules(Clean(Note, "\\renewcommand{\\footnoterule}{}")), r => r.Width > 100);
        Assert.Equal("Words. Inserted.", Words("Words.\\insert\\footins{Inserted.}"));
    }

    [Fact]
    public void A_kind_of_caption_that_is_named_outside_floats_counts()
    {
        CompileResult result = Clean("\\begin{minipage}{5cm}\\makeatletter\\def\\@captype{table}\\makeatother\\caption{Sizes}\\label{t}\\end{minipage} \\ref{t}");
        Assert.Contains("Table 1: Sizes", PdfWords.Joined(result), StringComparison.Ordinal);
    }

    [Fact]
    public void A_preamble_may_make_captions_its_own_way()
    {
        const string Own = "\\makeatletter\\long\\def\\@makecaption#1#2{\\vskip5pt\\noindent\\textbf{#1} --- #2\\par}\\makeatother";
        CompileResult result = Clean("\\begin{figure}[h]x\\caption[Short]{Walls in \\emph{May}}\\label{f}\\end{figure} See \\ref{f}.\\listoffigures", Own);
        string words = PdfWords.Joined(result);
        Assert.Contains("Figure 1 — Walls in May", words, StringComparison.Ordinal);
        Assert.Contains("See 1.", words, StringComparison.Ordinal);
        Assert.Contains("1 Short", words, StringComparison.Ordinal);
        Assert.Contains("Figure 1: Walls", PdfWords.Joined(Clean("\\begin{figure}[h]x\\caption{Walls}\\label{f}\\end{figure} \\ref{f}")), StringComparison.Ordinal);
    }

    [Fact]
    public void Every_formula_begins_with_what_the_preamble_says_and_a_comma_may_part_decimals()
    {
        double Height(string preamble)
        {
            List<PdfWord> words = PdfWords.Of(Clean("$\\sum_{i}^{n}$ end", preamble));
            return words.Max(w => w.Bottom) - words.Min(w => w.Top);
        }

        Assert.True(Height("\\everymath{\\displaystyle}") > Height("") + 5);
        double Width(string preamble)
        {
            List<PdfWord> words = PdfWords.Of(Clean("$3,14$end", preamble));
            return words.Max(w => w.Right) - words.Min(w => w.Left);
        }

        // A comma of a list is followed by a thin space of three eighteenths of an em (The TeXbook, p. 170).
        Assert.Equal(10 / 6.0, (Width("") - Width("\\DeclareMathSymbol{,}{\\mathord}{letters}{\"3B}")) * 72.27 / 72, 0.15);
    }
}
