using YoungFolio.Compiler;

namespace YoungFolio.Core.Tests;

/// <summary>References: one compile settles all of them. What cleveref prints is its documented behaviour.</summary>
public class ReferencePackageTests
{
    private const string Labels = "\\section{One}\\label{s1}\\section{Two}\\label{s2}\\section{Three}\\label{s3}\\subsection{Inner}\\label{s31}"
        + "\\begin{equation}a\\label{e1}\\end{equation}\\begin{equation}b\\label{e2}\\end{equation}\\begin{figure}[h]f\\caption{Fig}\\label{f1}\\end{figure}"
        + "\\begin{table}[h]t\\caption{Tab}\\label{t1}\\end{table}\\begin{enumerate}\\item i\\label{i1}\\end{enumerate}\\begin{thm}\\label{th1}x\\end{thm}\\begin{lem}\\label{l1}y\\end{lem}"
        + "\\appendix\\section{More}\\label{a1}";

    private static string Last(string body, string preamble)
    {
        CompileResult result = Compiled.Body(Labels + "\n\nXX " + body + " YY", "\\newtheorem{thm}{Theorem}\\newtheorem{lem}[thm]{Lemma}" + preamble + "\n");
        Assert.Empty(Compiled.Codes(result));
        string text = Compiled.Text(result);
        return text[(text.IndexOf("XX ", StringComparison.Ordinal) + 3)..text.IndexOf(" YY", StringComparison.Ordinal)].Replace('\u00A0', ' ');
    }

    [Theory]
    [InlineData("\\cref{s1}", "section 1")]
    [InlineData("\\Cref{s1}", "Section 1")]
    [InlineData("\\cref{s1,s2}", "sections 1 and 2")]
    [InlineData("\\cref{s3,s1,s2}", "sections 1 to 3")]
    [InlineData("\\cref{s1,s3}", "sections 1 and 3")]
    [InlineData("\\cref{e1}", "equation (1)")]
    [InlineData("\\cref{e1,e2}", "equations (1) and (2)")]
    [InlineData("\\cref{f1,t1}", "figure 1 and table 1")]
    [InlineData("\\Cref{f1,t1,s1}", "Figure 1, table 1 and section 1")]
    [InlineData("\\cref{i1}", "item 1")]
    [InlineData("\\cref{th1}", "theorem 1")]
    [InlineData("\\Cref{l1}", "Lemma 2")]
    [InlineData("\\cref{a1}", "appendix A")]
    [InlineData("\\crefrange{s1}{s3}", "sections 1 to 3")]
    [InlineData("\\labelcref{s1,s2}", "1 and 2")]
    [InlineData("\\namecref{f1} \\nameCrefs{f1}", "figure Figures")]
    [InlineData("\\cpageref{s1}", "page 1")]
    [InlineData("\\cref{s31}", "section 3.1")]
    public void Cleveref_names_sorts_and_gathers(string body, string printed) => Assert.Equal(printed, Last(body, "\\usepackage{cleveref}"));

    [Theory]
    [InlineData("\\crefname{section}{§}{§§}", "\\cref{s1} \\cref{s1,s2}", "§ 1 §§ 1 and 2")]
    [InlineData("\\crefname{thm}{fact}{facts}", "\\Cref{th1}", "Fact 1")]
    [InlineData("\\crefformat{figure}{(fig. #2#1#3)}", "\\cref{f1}", "(fig. 1)")]
    [InlineData("\\creflabelformat{figure}{[#2#1#3]}", "\\cref{f1}", "figure [1]")]
    public void Cleveref_can_be_told_other_words(string preamble, string body, string printed) => Assert.Equal(printed, Last(body, "\\usepackage{cleveref}" + preamble));

    [Theory]
    [InlineData("\\usepackage[capitalise]{cleveref}", "\\cref{s1}", "Section 1")]
    [InlineData("\\usepackage[ngerman]{babel}\\usepackage{cleveref}", "\\cref{s1,s2}", "Abschnitte 1 und 2")]
    [InlineData("\\usepackage[french]{babel}\\usepackage{cleveref}", "\\cref{s1,s2,s3}", "sections 1 à 3")]
    [InlineData("\\usepackage{hyperref}", "\\autoref{s1}, \\autoref{f1}, \\autoref{e1}, \\autoref{th1}", "section 1, Figure 1, Equation 1, Theorem 1")]
    [InlineData("\\usepackage{hyperref}\\renewcommand{\\sectionautorefname}{Sec.}", "\\autoref{s1}", "Sec. 1")]
    [InlineData("\\usepackage{hyperref}", "\\hyperref[s2]{there} \\nameref{s2} \\ref*{s2}", "there Two 2")]
    [InlineData("\\usepackage{nameref}", "\\nameref{f1}", "Fig")]
    [InlineData("\\usepackage{varioref}", "\\vref{s1}", "1 on page 1")]
    [InlineData("\\usepackage{varioref}\\labelformat{section}{Section~#1}\\labelformat{equation}{(#1)}\\labelformat{enumi}{step #1}", "\\ref{s1} \\ref{e2} \\ref{i1}", "Section 1 (2) step 1")]
    [InlineData("\\usepackage[capitalise]{cleveref}", "\\namecref{s1} \\lcnamecref{s1} \\lcnamecrefs{s1} \\namecrefs{s1}", "Section section sections Sections")]
    [InlineData("\\usepackage{lastpage}", "\\pageref{LastPage}", "1")]
    [InlineData("\\usepackage{hyperref}", "\\hypertarget{x}{a}\\hyperlink{x}{b}\\texorpdfstring{c}{d}\\phantomsection{}", "abc")]
    public void Other_packages_refer_in_their_ways(string preamble, string body, string printed) => Assert.Equal(printed, Last(body, preamble));

    [Fact]
    public void References_are_links_that_lead_to_their_page()
    {
        CompileResult result = Compiled.Body("\\ref{a} \\autoref{a} \\nameref{a} \\hyperlink{t}{x}\\newpage\\section{A}\\label{a}\\hypertarget{t}{T}", "\\usepackage{hyperref}\n");
        string plain = Compiled.Run("qpdf", result.Pdf, "--qdf", "--object-streams=disable", "FILE", "-");
        Assert.Equal(4, System.Text.RegularExpressions.Regex.Count(plain, "/Subtype /Link"));
        Assert.Contains("No syntax or stream encoding errors found", Compiled.Run("qpdf", result.Pdf, "--check", "FILE"));
    }

    [Fact]
    public void The_document_s_metadata_come_from_hyperref_or_the_title()
    {
        string info = Compiled.Run("pdfinfo", Compiled.Body("x", "\\usepackage{hyperref}\\hypersetup{pdftitle={Walls, and lichens},pdfauthor=Ilse}\n").Pdf, "FILE");
        Assert.Matches("Title: +Walls, and lichens", info);
        Assert.Matches("Author: +Ilse", info);
        Assert.Matches("Title: +Walls", Compiled.Run("pdfinfo", Compiled.Body("x", "\\title{Walls\\thanks{x}}\\author{Bao}\n").Pdf, "FILE"));
    }

    [Theory]
    [InlineData("See \\ref{nowhere}.", "missing-label", "See ??.")]
    [InlineData("See \\cref{nowhere}.", "missing-label", "See ??.")]
    [InlineData("See \\autoref{nowhere}.", "missing-label", "See ??.")]
    [InlineData("\\section{A}\\label{a}\\section{B}\\label{a}\\ref{a}", "doubled-label", "1")]
    public void What_leads_nowhere_shows_question_marks_and_a_finding(string body, string code, string printed)
    {
        CompileResult result = Compiled.Body(body, "\\usepackage{hyperref,cleveref}\n");
        FindingLine finding = Assert.Single(result.Report.Findings);
        Assert.Equal(code, finding.Code);
        Assert.Contains(printed, Compiled.Text(result));
    }

    [Fact]
    public void A_near_key_is_offered_as_a_mend()
    {
        CompileResult result = Compiled.Body("\\section{A}\\label{sec:walls}See \\ref{sec:wals}.");
        FindingLine finding = result.Report.Findings.First(f => f.Code == "missing-label");
        Assert.Equal("sec:walls", finding.Repair!.Text);
        Assert.Equal((4, "\\section{A}\\label{sec:walls}See \\ref{".Length + 1), (finding.Repair.Line, finding.Repair.Column));
    }
}
