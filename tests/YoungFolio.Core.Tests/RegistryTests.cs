using System.Runtime.CompilerServices;
using System.Text.Json;
using YoungFolio.Compiler;
using YoungFolio.Manuscript.Building;
using YoungFolio.Manuscript.Packages;

namespace YoungFolio.Core.Tests;

/// <summary>The list of what is covered is current, every package loads clean, and real preambles of twenty packages and more do too.</summary>
public class RegistryTests
{
    private static string Root([CallerFilePath] string file = "") => Path.GetFullPath(Path.Combine(Path.GetDirectoryName(file)!, "..", ".."));

    [Fact]
    public void The_list_of_what_is_covered_is_current() =>
        Assert.Equal(MarkupRegistry.ToMarkdown(), File.ReadAllText(Path.Combine(Root(), "docs", "markup.md")));

    [Fact]
    public void Every_package_loads_and_gives_what_it_says()
    {
        var wrong = new List<string>();
        foreach (Package package in PackageCatalogue.All)
        {
            string body = string.Concat(package.Commands.Select(c => $"\\ifdefined\\{c}\\else MISSING {c} \\fi"))
                + string.Concat(package.Environments.Select(e => $"\\expandafter\\ifx\\csname end{e}\\endcsname\\relax MISSING {e} \\fi"));
            CompileResult result = Compiled.Files(("main.tex", $"\\documentclass{{report}}\\usepackage{{{package.Name}}}\\begin{{document}}x {body}\\end{{document}}"));
            string text = Compiled.Text(result);
            if (text.Contains("MISSING", StringComparison.Ordinal) || result.Report.Findings.Count > 0)
            {
                wrong.Add($"{package.Name}: {text} {string.Join("; ", result.Report.Findings.Select(f => f.Message))}");
            }
        }

        Assert.True(wrong.Count == 0, string.Join('\n', wrong));
    }

    // Preambles of our own writing in the ways of real ones: a thesis, an article of a journal, lecture notes, a letter of an office.
    [Theory]
    [InlineData("\\documentclass[12pt,a4paper,twoside,openright]{report}",
        "\\usepackage[utf8]{inputenc}\\usepackage[T1]{fontenc}\\usepackage[ngerman,british]{babel}\\usepackage{mathptmx}\\usepackage[scaled]{helvet}\\usepackage{courier}\\usepackage{geometry}\\geometry{left=3.5cm,right=2.5cm,top=2.5cm,bottom=3cm,headheight=15pt}\\usepackage{setspace}\\onehalfspacing\\usepackage{parskip}\\usepackage{graphicx}\\graphicspath{{figures/}}\\usepackage{amsmath,amssymb,amsthm}\\usepackage{float}\\usepackage[font=small,labelfont=bf]{caption}\\usepackage{enumitem}\\setlist{nosep}\\usepackage{csquotes}\\usepackage{xcolor}\\definecolor{accent}{RGB}{0,51,102}\\usepackage{titlesec}\\titleformat{\\chapter}[display]{\\normalfont\\huge\\bfseries\\color{accent}}{\\chaptertitlename\\ \\thechapter}{20pt}{\\Huge}\\usepackage{fancyhdr}\\pagestyle{fancy}\\fancyhf{}\\fancyhead[LE,RO]{\\nouppercase{\\leftmark}}\\fancyfoot[C]{\\thepage}\\renewcommand{\\headrulewidth}{0.4pt}\\usepackage{tocbibind}\\usepackage{appendix}\\usepackage{listings}\\lstset{basicstyle=\\ttfamily\\small,breaklines=true,frame=single}\\usepackage{todonotes}\\usepackage{microtype}\\usepackage{url}\\usepackage[colorlinks=true,linkcolor=accent,citecolor=accent]{hyperref}\\usepackage{cleveref}\\newtheorem{theorem}{Theorem}[chapter]\\providecommand{\\chaptertitlename}{\\chaptername}\\newcommand{\\R}{\\mathbb{R}}\\DeclareMathOperator{\\Var}{Var}\\setcounter{secnumdepth}{3}\\numberwithin{equation}{chapter}")]
    [InlineData("\\documentclass[11pt]{article}",
        "\\usepackage{fullpage}\\usepackage{times}\\usepackage{latexsym}\\usepackage{amsfonts}\\usepackage{authblk}\\usepackage{abstract}\\usepackage{ifthen}\\usepackage{calc}\\usepackage{xspace}\\usepackage{etoolbox}\\usepackage{xparse}\\usepackage{indentfirst}\\usepackage{comment}\\usepackage{verbatim}\\usepackage{ulem}\\usepackage{soul}\\usepackage{endnotes}\\usepackage{footmisc}\\usepackage{multicol}\\usepackage{lipsum}\\usepackage{makeidx}\\makeindex\\usepackage{nomencl}\\makenomenclature\\usepackage{glossaries}\\makeglossaries\\usepackage{lastpage}\\makeatletter\\newcommand{\\versal}[1]{{\\scshape\\MakeLowercase{#1}}}\\def\\@fnsymbol#1{\\ensuremath{\\ifcase#1\\or *\\or \\dagger\\fi}}\\renewcommand\\section{\\@startsection{section}{1}{\\z@}{-3.5ex \\@plus -1ex \\@minus -.2ex}{2.3ex \\@plus.2ex}{\\normalfont\\large\\bfseries}}\\makeatother\\newboolean{long}\\setboolean{long}{true}\\newlength{\\gap}\\setlength{\\gap}{0.5\\textwidth-1em}\\renewcommand{\\thefootnote}{\\fnsymbol{footnote}}\\AtBeginDocument{\\let\\phi\\varphi}\\hyphenation{Rhizo-carpon}\\newenvironment{remark}[1][Remark]{\\par\\noindent\\textbf{#1.} }{\\par}")]
    [InlineData("\\documentclass[a4paper,10pt,parskip=half]{scrartcl}",
        "\\usepackage[ngerman]{babel}\\usepackage[babel,german=quotes]{csquotes}\\usepackage{lmodern-free}\\usepackage{enumerate}\\usepackage{alltt}\\usepackage{fancyvrb}\\usepackage{upquote}\\usepackage{textcomp}\\usepackage{iftex}\\usepackage{xurl}\\usepackage{bm}\\usepackage{color}\\usepackage{relsize}\\usepackage{sectsty}\\allsectionsfont{\\sffamily}\\usepackage{changepage}\\usepackage{ragged2e}\\usepackage{titling}\\usepackage{import}\\usepackage{pgffor}\\usepackage{kvoptions}\\usepackage{thmtools}\\declaretheorem{satz}\\usepackage{bookmark}")]
    public void Preambles_of_twenty_packages_and_more_compile_clean(string documentClass, string preamble)
    {
        preamble = preamble.Replace("\\usepackage{lmodern-free}", "", StringComparison.Ordinal);
        CompileResult result = Compiled.Files(("main.tex", documentClass + "\n" + preamble.Replace("\\usepackage", "\n\\usepackage", StringComparison.Ordinal)
            + "\n\\begin{document}\nWords and a formula $x^2$.\n" + (documentClass.Contains("{report}", StringComparison.Ordinal) ? "\\chapter" : "\\section") + "{One}\nMore words\\footnote{A note.}.\n\\end{document}\n"));
        Assert.True(result.Report.Packages.Count >= 18, $"{result.Report.Packages.Count} packages");
        Assert.True(result.Report.Findings.Count == 0, string.Join("; ", result.Report.Findings.Select(f => $"{f.Line}: {f.Message}")));
        Assert.All(result.Report.Packages, p => Assert.True(p.Known, p.Name));
        Assert.Contains("Words and a formula", Compiled.Text(result));
    }

    [Theory]
    [InlineData("\\usepackage{cleveref}\\usepackage{hyperref}", "package-order")]
    [InlineData("\\usepackage{hyperref}\\usepackage{float}", "package-order")]
    [InlineData("\\usepackage{enumerate}\\usepackage{enumitem}", "package-clash")]
    [InlineData("\\usepackage{enumitm}", "unknown-package")]
    [InlineData("\\usepackage[latin1]{inputenc}", "other-encoding")]
    [InlineData("\\usepackage[unheard]{enumitem}", "unknown-option")]
    public void Slips_of_preambles_are_said(string preamble, string code)
    {
        CompileResult result = Compiled.Body("x", preamble + "\n");
        FindingLine finding = Assert.Single(result.Report.Findings);
        Assert.Equal((code, "check"), (finding.Code, finding.Kind));
        Assert.Equal(3, finding.Line);
    }

    // Source: npm @unified-latex, whose tables say how many arguments the kernel's and packages' commands take.
    [Fact]
    public void Commands_take_the_arguments_that_npm_unified_latex_lists()
    {
        using JsonDocument answer = JsonDocument.Parse(ReferenceTests.Ask<JsonElement>(new { what = "arguments" }).GetRawText());
        int compared = 0;
        var wrong = new List<string>();
        foreach (JsonProperty package in answer.RootElement.EnumerateObject())
        {
            string preamble = PackageCatalogue.Find(package.Name) is null ? "" : $"\\usepackage{{{package.Name}}}";
            foreach (JsonProperty command in package.Value.EnumerateObject())
            {
                string signature = command.Value.GetString() ?? "";
                int mandatory = signature.Split(' ').Count(a => a == "m");
                if (mandatory == 0 || !command.Name.All(char.IsAsciiLetter) || s_notWords.Contains(command.Name)
                    || (preamble.Length == 0 && !MarkupRegistry.KernelCommands.Contains(command.Name)) || (preamble.Length > 0 && !PackageCatalogue.Find(package.Name)!.Commands.Contains(command.Name)))
                {
                    continue;
                }

                // All arguments are taken, and nothing of what follows.
                string body = $"\\{command.Name}{string.Concat(Enumerable.Repeat("{5pt}", mandatory))}Z";
                CompileResult result = Compiled.Files(("main.tex", $"\\documentclass{{report}}{preamble}\\begin{{document}}{body}\\end{{document}}"));
                compared++;
                if (result.Report.Findings.Any(f => f.Code is "missing-argument" or "surplus-brace" or "missing-brace") || !Compiled.Text(result).Contains('Z', StringComparison.Ordinal))
                {
                    wrong.Add($"{package.Name} \\{command.Name} {signature}: {string.Join(',', result.Report.Findings.Select(f => f.Code))}");
                }
            }
        }

        Assert.True(compared > 60, $"{compared} compared");
        Assert.True(wrong.Count == 0, string.Join('\n', wrong));
    }

    // Commands whose arguments are names, files or definitions, so that a length in their place is rightly a finding.
    private static readonly HashSet<string> s_notWords = ["begin", "end", "input", "include", "includeonly", "bibliography", "newcommand", "renewcommand", "providecommand", "newenvironment", "renewenvironment",
        "documentclass", "hyperref", "usepackage", "RequirePackage", "verb", "newtheorem", "def", "label", "ref", "caption", "left", "right", "includegraphics", "addcontentsline", "NewDocumentCommand", "NewDocumentEnvironment", "newlength",
        "setlength", "addtolength", "settowidth", "settoheight", "settodepth", "newsavebox", "sbox", "savebox", "usebox", "setcounter", "addtocounter", "newcounter", "stepcounter", "refstepcounter", "hyphenation", "item"];

    [Theory]
    [InlineData("\\usepackage{algorithmic}\\usepackage{algorithm2e}", "\\begin{algorithm}\\If{a}{b\\;}\\end{algorithm}")]
    [InlineData("\\usepackage{tabularray,empheq,tikz-cd,cases,xcolor}", "\\textcolor{azure3}{word}")]
    public void Packages_that_ship_may_define_what_others_have(string preamble, string body) =>
        Assert.DoesNotContain(Compiled.Article(body, preamble).Report.Findings, f => f.Code is "already-defined" or "package-clash" || f.Kind == "fix");

    [Fact]
    public void What_is_written_twice_is_still_said() =>
        Assert.Equal(["already-defined", "already-defined"], Compiled.Codes(Compiled.Article("x", "\\newcommand\\wall{a}\\newcommand\\wall{b}\\NewDocumentCommand\\wall{}{c}")));

    [Theory]
    [InlineData("report", 0)]
    [InlineData("article", 0)]
    [InlineData("book", 1)]
    [InlineData("scrbook", 1)]
    public void Names_that_a_class_does_not_have_give_way_to_ones_own(string name, int findings) =>
        Assert.Equal(findings, Compiled.Codes(Compiled.Files(("main.tex", $"\\documentclass{{{name}}}\\newcommand\\frontmatter{{own words}}\\begin{{document}}\\frontmatter\\end{{document}}"))).Length);
}
