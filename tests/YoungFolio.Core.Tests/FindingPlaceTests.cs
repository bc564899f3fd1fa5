using System.Text.RegularExpressions;
using YoungFolio.Compiler;
using YoungFolio.Markup;

namespace YoungFolio.Core.Tests;

/// <summary>Every check of the language, provoked, and at the place that it names: from ⟦ to ⟧.</summary>
public sealed class FindingPlaceTests
{
    /// <summary>What is wrong in the body of a report, or behind <c>|||</c> in one after a preamble.</summary>
    public static TheoryData<string, string> Bodies => new()
    {
        { "caption-outside-float", "⟦\\caption⟧{Alone.}" },
        { "counter-too-large", "\\newcounter{big}\\setcounter{big}{30}⟦\\alph⟧{big}" },
        { "double-subscript", "$a_1⟦_⟧2$" },
        { "environment-without-begin", "Words ⟦\\verbatim⟧ more." },
        { "drawing-not-set", "\\usepackage{tikz}|||⟦\\begin⟧{tikzpicture}\\draw (0,0) -- (2,1);\\end{tikzpicture}" },
        { "no-tab-stop", "\\begin{tabbing}a ⟦\\>⟧ b\\end{tabbing}" },
        { "float-not-mentioned", "\\begin{figure}x\\caption{C}⟦\\label{fig:alone}⟧\\end{figure}" },
        { "heading-in-argument", "\\mbox{words ⟦\\section⟧{Inside}}" },
        { "label-before-caption", "\\section{S}\\begin{figure}⟦\\label{fig:early}⟧\\caption{C}\\end{figure} \\ref{fig:early}" },
        { "list-too-deep", "\\begin{itemize}\\item\\begin{itemize}\\item\\begin{itemize}\\item\\begin{itemize}\\item ⟦\\begin⟧{itemize}\\item x\\end{itemize}\\end{itemize}\\end{itemize}\\end{itemize}\\end{itemize}" },
        { "missing-bracket", "\\section⟦[⟧Short{Long}" },
        { "missing-fi", "Words ⟦\\iffalse⟧ more." },
        { "missing-left", "$a ⟦\\right⟧) b$" },
        { "missing-unit", "\\hspace{5⟦}⟧x" },
        { "not-a-length", "\\hspace{⟦wide⟧}x" },
        { "not-a-command", "\\newcommand{⟦n⟧}{x}" },
        { "not-computable", "\\fpeval{⟦(1+⟧}" },
        { "not-a-number", "\\setcounter{page}{⟦x⟧}" },
        { "nothing-to-break", "\n\n⟦\\\\⟧ Words." },
        { "straight-quotes", "He said ⟦\"yes\"⟧ at once." },
        { "line-too-loose", "\\hyphenpenalty=10000 \\parbox{6cm}{\\tolerance=10000 ⟦A⟧ Incomprehensibilities-notwithstanding words of it}" },
        { "second-begin-document", "Words. ⟦\\begin{document}⟧ More." },
        { "section-before-chapter", "⟦\\section⟧{First}" },
        { "surplus-fi", "Words ⟦\\fi⟧ more." },
        { "surplus-in-length", "\\setlength{\\parindent}{5pt ⟦x⟧y}" },
        { "unknown-counter", "⟦\\stepcounter⟧{nothing}" },
        { "unknown-length", "\\setlength{⟦\\nolength⟧}{5pt}" },
        { "unknown-page-style", "\\pagestyle{⟦fancie⟧}x" },
        { "unknown-numbering", "\\pagenumbering{⟦stars⟧}x" },
        { "unknown-box", "\\sbox{⟦\\nobox⟧}{x}" },
        { "verb-in-argument", "\\emph{⟦\\verb⟧|x|}" },
        { "verb-not-closed", "⟦\\verb⟧|x words" },
        { "unreadable-character", "Words ⟦\u0001⟧ more." },
        { "wrong-parameter", "⟦\\newcommand⟧{\\many}[12]{x}" },
        { "wrong-use", "\\def\\pair(#1){#1}⟦\\pair⟧ words" },
        { "division-by-zero", "\\newcount\\n \\n=\\numexpr 5⟦/⟧0\\relax \\the\\n" },
        { "empty-index-entry", "\\usepackage{makeidx}\\makeindex|||Words⟦\\index⟧{}." },
        { "missing-entry", "\\usepackage{glossaries}\\newglossaryentry{wall}{name=wall,description={w}}|||The ⟦\\gls{wale}⟧." },
        { "no-such-float", "\\usepackage{float}|||⟦\\floatplacement⟧{sketch}{t}x" },
        { "unknown-colour", "\\usepackage{xcolor}|||\\textcolor{⟦moos⟧}{x}" },
        { "unknown-heading", "\\usepackage{titlesec}|||⟦\\titleformat⟧{\\nohead}{}{}{1em}{}x" },
        { "unknown-switch", "\\usepackage{etoolbox}|||⟦\\iftoggle⟧{draft}{a}{b}" },
        { "table-too-wide", "\\usepackage{longtable}|||⟦\\begin{longtable}⟧{p{30cm}}a\\\\\\end{longtable}" },
        { "said-by-package", "⟦\\PackageError⟧{wall}{It leans.}{Prop it up}" },
    };

    /// <summary>What is wrong with a whole document.</summary>
    public static TheoryData<string, string> Documents => new()
    {
        { "already-defined", "\\documentclass{article}\n\\newcommand{⟦\\emph⟧}{x}\n\\begin{document}\na\n\\end{document}\n" },
        { "already-defined", "\\documentclass{article}\n⟦\\newenvironment⟧{itemize}{}{}\n\\begin{document}\na\n\\end{document}\n" },
        { "missing-end-document", "\\documentclass{article}\n\\begin{document}\nWords⟦.⟧" },
        { "old-command", "⟦\\documentstyle⟧{article}\n\\begin{document}\na\n\\end{document}\n" },
        { "second-class", "\\documentclass{article}\n⟦\\documentclass⟧{report}\n\\begin{document}\na\n\\end{document}\n" },
        { "unknown-class", "\\documentclass{⟦nosuchclass⟧}\n\\begin{document}\na\n\\end{document}\n" },
        { "text-in-preamble", "\\documentclass{article}\n⟦W⟧ords.\n\\begin{document}\na\n\\end{document}\n" },
        { "unknown-hook", "\\documentclass{article}\n⟦\\AddToHook⟧{nothing}{x}\n\\begin{document}\na\n\\end{document}\n" },
        { "arrow-to-nowhere", "\\usepackage{tikz-cd}|||\\[\\begin{tikzcd}A ⟦\\arrow⟧[rr] & B\\end{tikzcd}\\]" },
        { "programming-layer", "⟦\\ExplSyntaxOn⟧\\int_new:N \\l_my_int\\ExplSyntaxOff|||Text" },
        { "no-matter", "\\documentclass{article}\n\\begin{document}\n⟦\\frontmatter⟧ a\n\\end{document}\n" },
        { "no-title", "\\documentclass{article}\n\\begin{document}\n⟦\\maketitle⟧\na\n\\end{document}\n" },
        { "style-without-effect", "\\documentclass{article}\n\\usepackage{biblatex}\n\\begin{document}\na⟦\\bibliographystyle⟧{plain}\n\\end{document}\n" },
        { "not-yet-defined", "\\documentclass{article}\n\\renewcommand{⟦\\nothingyet⟧}{x}\n\\begin{document}\na\n\\end{document}\n" },
        { "doubled-source", "\\documentclass{article}\n\\begin{document}\n\\cite{a}\\begin{thebibliography}{9}\\bibitem{a}A. ⟦\\bibitem⟧{a}B.\\end{thebibliography}\n\\end{document}\n" },
    };

    private static void Check(string code, string marked)
    {
        string text = marked.Replace("⟦", "", StringComparison.Ordinal).Replace("⟧", "", StringComparison.Ordinal);
        CompileResult result = Compiled.Files(("main.tex", text));
        FindingLine[] found = [.. result.Report.Findings.Where(f => f.Code == code)];
        Assert.True(found.Length > 0, $"{code} wasn't found, but {string.Join(", ", result.Report.Findings.Select(f => f.Code))}");
        int from = marked.IndexOf('⟦', StringComparison.Ordinal);
        Assert.Contains(found, f => f.Offset == from);
        FindingLine one = found.First(f => f.Offset == from);
        Assert.Equal(marked[(from + 1)..marked.IndexOf('⟧', StringComparison.Ordinal)], text.Substring(from, one.Length));
        // What is said is whole sentences, and nothing in it can't be read.
        Assert.Matches("^[^\\p{Cc}]+[.?!]$", one.Message);
        Assert.DoesNotMatch("\\p{Cc}", one.Advice);
    }

    [Theory]
    [MemberData(nameof(Bodies))]
    public void In_a_body(string code, string written)
    {
        string[] parts = written.Split("|||");
        Check(code, $"\\documentclass{{report}}\n{(parts.Length == 2 ? parts[0] : "")}\n\\begin{{document}}\n{parts[^1]}\n\\end{{document}}\n");
    }

    [Theory]
    [MemberData(nameof(Documents))]
    public void In_a_document(string code, string written) => Check(code, written);

    [Theory]
    [InlineData("unreadable-source", "@article{a, title = {T}, author = {Ann Ash}, journal = {J}, year = 2001}\n@book{b, title = ⟦{⟧Open")]
    [InlineData("undefined-string", "@article{a, title = {T}, author = {Ann Ash}, journal = {J}, year = 2001, month = ⟦Mai⟧}\n@book{b, title={O}, author={B}, publisher={P}, year=2001}")]
    [InlineData("doubled-work", "@article{a, title = {On the Age of Walls}, author = {Ann Ash}, journal = {J}, year = 2001}\n⟦@article⟧{b, title = {On the Age of Walls}, author = {Ann Ash}, journal = {J}, year = 2001}\n")]
    public void In_a_list_of_sources(string code, string marked)
    {
        string text = marked.Replace("⟦", "", StringComparison.Ordinal).Replace("⟧", "", StringComparison.Ordinal);
        CompileResult result = Compiled.Files(("main.tex", "\\documentclass{article}\n\\begin{document}\n\\cite{a}\\cite{b}\\bibliographystyle{plain}\\bibliography{s}\n\\end{document}\n"), ("s.bib", text));
        FindingLine found = Assert.Single(result.Report.Findings, f => f.Code == code);
        Assert.Equal(("s.bib", marked.IndexOf('⟦', StringComparison.Ordinal)), (found.File, found.Offset));
    }

    [Fact]
    public void A_main_file_that_is_not_there_is_said_of_the_whole_manuscript()
    {
        CompileResult result = new ManuscriptCompiler().Compile(new ManuscriptSnapshot(new FileTree([ManuscriptFile.FromText("a.tex", "Words.")]), "main.tex", new DateOnly(2026, 11, 9)));
        FindingLine found = Assert.Single(result.Report.Findings, f => f.Code == "missing-main-file");
        Assert.Null(found.File);
    }

    // Limits whose provocation takes more time than a test has; the hostile manuscripts meet them.
    private static readonly string[] s_limits = ["too-many-pages", "unsettled-numbers"];

    /// <summary>A check that no test provokes may say anything, anywhere: each code stands in some test.</summary>
    [Fact]
    public void Every_code_is_provoked_in_some_test()
    {
        string tests = SourceTree.Text("tests/YoungFolio.Core.Tests");
        string[] codes = [.. Regex.Matches(SourceTree.Text("src"), @"\.(?:Fix|Check|Layout)\(\s*(?<condition>[^;""]*)""(?<code>[a-z]+(?:-[a-z]+)*)""").Select(m => m.Groups["code"].Value).Distinct()];
        Assert.True(codes.Length > 110, codes.Length.ToString(System.Globalization.CultureInfo.InvariantCulture));
        Assert.DoesNotContain(codes.Except(s_limits), c => !tests.Contains($"\"{c}\"", StringComparison.Ordinal));
    }
}
