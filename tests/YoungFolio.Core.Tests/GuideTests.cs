using System.Text.RegularExpressions;
using YoungFolio.Compiler;
using YoungFolio.Manuscript.Building;
using YoungFolio.Manuscript.Guide;
using YoungFolio.Manuscript.Packages;

namespace YoungFolio.Core.Tests;

/// <summary>What is said of commands and environments to whoever writes.</summary>
public sealed class GuideTests
{
    // What the class letter gives isn't of the kernel nor of a package.
    private static readonly string[] s_ofLetters = ["opening", "closing", "cc", "encl", "ps", "address", "signature", "name", "location", "telephone"];

    private static IEnumerable<GuideName> Names(bool environments) => MarkupGuide.Lines.SelectMany(l => l.Names).Where(n => n.IsEnvironment == environments);

    private static IEnumerable<string> Covered(bool environments) => environments
        ? MarkupRegistry.KernelEnvironments.Concat(PackageCatalogue.All.SelectMany(p => p.Environments)).Append("letter")
        : MarkupRegistry.KernelCommands.Concat(PackageCatalogue.All.SelectMany(p => p.Commands)).Concat(s_ofLetters);

    [Theory]
    [InlineData(false)]
    [InlineData(true)]
    public void Something_is_said_of_all_that_is_covered_and_of_nothing_else(bool environments)
    {
        HashSet<string> said = [.. Names(environments).Select(n => n.Name)];
        HashSet<string> covered = [.. Covered(environments)];
        covered.ExceptWith(environments ? [] : MarkupRegistry.Symbols);
        Assert.Empty(covered.Except(said).Order(StringComparer.Ordinal));
        Assert.Empty(said.Except(covered).Except(MarkupRegistry.Symbols).Order(StringComparer.Ordinal));
    }

    [Fact]
    public void Each_is_said_once_in_a_sentence_that_has_an_end()
    {
        Assert.Empty(MarkupGuide.Lines.SelectMany(l => l.Names).GroupBy(n => (n.Name, n.IsEnvironment)).Where(g => g.Count() > 1).Select(g => g.Key));
        Assert.Empty(MarkupGuide.Lines.Where(l => !l.Says.EndsWith('.') || l.Says.Length > 160 || char.IsLower(l.Says[0])).Select(l => l.Says));
        Assert.Empty(MarkupGuide.Lines.Where(l => string.IsNullOrWhiteSpace(l.Example)).Select(l => l.Says));
    }

    [Fact]
    public void Every_symbol_has_its_sign()
    {
        Assert.True(MarkupGuide.Signs.Count > 500);
        Assert.Empty(MarkupGuide.Signs.Where(s => s.Sign.Length == 0).Select(s => s.Name));
        Assert.Equal("∈", MarkupGuide.Signs.Single(s => s.Name == "in").Sign);
    }

    /// <summary>Names are Unicode's own (UnicodeData.txt: U+27F6, U+2264, U+222E, U+27E8, U+0394).</summary>
    [Theory]
    [InlineData("longrightarrow", "long rightwards arrow", SymbolKind.Arrow)]
    [InlineData("leq", "less-than or equal to", SymbolKind.Relation)]
    [InlineData("oint", "contour integral", SymbolKind.Large)]
    [InlineData("langle", "mathematical left angle bracket", SymbolKind.Delimiter)]
    [InlineData("Delta", "greek capital letter delta", SymbolKind.Greek)]
    [InlineData("oplus", "circled plus", SymbolKind.Operation)]
    public void A_sign_is_found_by_its_words(string name, string words, SymbolKind kind)
    {
        GuideSymbol symbol = MarkupGuide.Signs.Single(s => s.Name == name);
        Assert.Equal((words, kind), (symbol.Words, symbol.Kind));
    }

    [Fact]
    public void Every_sign_has_words() => Assert.Empty(MarkupGuide.Signs.Where(s => s.Words.Length == 0).Select(s => s.Name + " " + s.Sign));

    /// <summary>Examples are typeset with the packages that give what is in them: then every command in them is known.</summary>
    [Fact]
    public void Examples_hold_nothing_that_is_unknown()
    {
        var bad = new List<string>();
        foreach (GuideLine line in MarkupGuide.Lines)
        {
            // What belongs into a formula is typeset in one.
            List<string> unknown = Unknown(line, line.Example);
            bad.AddRange(unknown.Count > 0 ? Unknown(line, $"\\[{line.Example}\\]") : []);
        }

        Assert.True(bad.Count == 0, string.Join("\n", bad));
    }

    private static List<string> Unknown(GuideLine line, string example)
    {
        IEnumerable<string?> packages = Regex.Matches(example, @"\\begin\{([A-Za-z*]+)\}|\\([A-Za-z]+)")
            .Select(m => PackageCatalogue.EnvironmentProviderOf(m.Groups[1].Value) ?? PackageCatalogue.ProviderOf(m.Groups[2].Value));
        string className = line.Names.Any(n => s_ofLetters.Contains(n.Name) || n.Name == "letter") ? "letter" : "report";
        // Several packages have a \qty.
        string preamble = $"\\documentclass{{{className}}}\n" + string.Concat(packages.OfType<string>().Distinct().Select(p => $"\\usepackage{{{(p is "physics" or "units" && example.Contains("metre", StringComparison.Ordinal) ? "siunitx" : p)}}}\n"));
        string text = example.Contains("\\documentclass", StringComparison.Ordinal) ? example + "\\begin{document}a\\end{document}" : $"{preamble}\\begin{{document}}\n{example}\n\\end{{document}}\n";
        return [.. Compiled.Files(("main.tex", text)).Report.Findings.Where(f => f.Code is "unknown-command" or "unknown-environment" or "package-needed" or "unknown-package").Select(f => $"{example}: {f.Message}")];
    }

    // What stands for a value that can't be listed.
    private static readonly Dictionary<string, string> s_samples = new(StringComparer.Ordinal)
    {
        ["length"] = "7cm", ["lengths"] = "1mm 2mm 3mm 4mm", ["factor"] = "0.7", ["ratio"] = "2:3", ["number"] = "9", ["colour"] = "blue", ["words"] = "abc",
        ["sign"] = "{:}", ["signs"] = "||", ["degrees"] = "30", ["key"] = "lst:one", ["name"] = "own", ["pages"] = "{1,1}", ["shifts"] = "1mm 2mm",
    };

    private static IEnumerable<string> Written(GuideOption option) => option switch
    {
        { Values.Count: > 0 } => option.Values.Select(v => $"{option.Name}={v}"),
        { Name: "paperwidth" or "paperheight" } => [$"{option.Name}=20cm"],
        { Takes.Length: > 0 } => [$"{option.Name}={s_samples[option.Takes]}"],
        _ => [option.Name],
    };

    private static string Load(string package, string options) => $"\\documentclass{{article}}\n\\usepackage[{options}]{{{package}}}\n\\begin{{document}}\nText.\n\\end{{document}}\n";

    private static string Use(string of, string options)
    {
        string packages = "\\usepackage{geometry,hyperref,caption,natbib,microtype,siunitx,enumitem,listings,graphicx,pdfpages}";
        packages = of == "\\ExecuteBibliographyOptions" ? "\\usepackage{biblatex}" : packages;
        string body = of switch
        {
            "{lstlisting}" => $"\\begin{{lstlisting}}[{options}]\nfor\n\\end{{lstlisting}}",
            "\\lstinputlisting" => $"\\lstinputlisting[{options}]{{program.py}}",
            "\\includegraphics" or "\\includepdf" => $"{of}[{options}]{{line.svg}}",
            _ when of[0] == '{' => $"\\begin{of}[{options}]\\item[x] One.\\end{of}",
            _ => "",
        };
        string preamble = body.Length == 0 ? $"{of}{{{options}}}" : "";
        return $"\\documentclass{{article}}\n{packages}\n{(of == "\\newgeometry" ? "" : preamble)}\n\\begin{{document}}\n{(of == "\\newgeometry" ? preamble : "")}Text.\n{body}\n\\end{{document}}\n";
    }

    /// <summary>What the list of options offers is taken, with every value, wherever it is offered.</summary>
    [Fact]
    public void Every_option_that_is_offered_is_known()
    {
        var bad = new List<string>();
        foreach (GuideOptions options in MarkupGuide.Options)
        {
            foreach (string of in options.Of.Select(o => o.TrimEnd('[', ']')))
            {
                bool isPackage = of[0] is not ('\\' or '{');
                Assert.True(!isPackage || PackageCatalogue.Find(of) is not null, of);
                foreach (string written in options.Options.SelectMany(Written))
                {
                    string text = isPackage ? Load(of, written) : Use(of, written);
                    bad.AddRange(Compiled.Files(("main.tex", text), ("program.py", "for"), ("line.svg", "<svg xmlns='http://www.w3.org/2000/svg' width='9' height='9'><path d='M1 1L8 8'/></svg>")).Report.Findings.Where(f => f.Code is "unknown-option" or "unknown-style" or "unknown-language" or "unknown-command" || f.Kind == "fix").Select(f => $"{of} {written}: {f.Message}"));
                }
            }
        }

        Assert.True(bad.Count == 0, string.Join("\n", bad));
    }

    private const string Program = "for a in b: # note\n  \"text\" ||$x^2$||\nabc abc\na b c d e f g h i j k l m n o p q r s t u v w x y z a b c d e f g h i j k l m n o p q r s t u v w x y z\n1\n2\n3\n4\n5\n6\nend\n";

    private const string Sources = """
        @article{ash2001, author = {Ann van Ash and Bo Birch and Cy Cedar and Dee Dogwood}, title = {On Walls}, journal = {Journal of Walls}, year = 2001, volume = 3, pages = {1--9}, doi = {10.5555/12}, url = {https://example.org/a}, urldate = {2020-01-02}}
        @book{elm1999, author = {Eve Elm}, title = {A Book of Stone}, publisher = {Edgeway}, year = 1999, isbn = {978-3-16-148410-0}}
        @book{elm2004, author = {Eve Elm}, title = {Slate}, publisher = {Edgeway}, year = 2004}
        @online{fir2010, author = {Fay de Fir}, title = {Lichen}, year = 2010, url = {https://example.org/f}, eprint = {1001.0001}, eprinttype = {arxiv}}
        """;

    // Text in which an option of each shows.
    private static string BodyFor(string of) => of.Trim('\\', '{', '}') switch
    {
        "geometry" or "newgeometry" => "\\pagestyle{headings}\\section{One}\\lipsum[1-4]\\marginpar{Beside the text, in so many words that they take some lines}\\footnote{Note}\\lipsum[5-9]",
        "hyperref" or "hypersetup" => "\\section{One}\\label{s} See \\ref{s} and \\url{https://example.org}, \\cite{a}.\\begin{thebibliography}{9}\\bibitem{a}A.\\end{thebibliography}",
        "babel" => "\\tableofcontents\\section{One} \\today. \\begin{figure}x\\caption{C}\\end{figure}\\begin{quotation}``Words'' disproportionately wonderful.\\end{quotation}",
        "subcaption" => "\\begin{figure}\\begin{subfigure}{10cm}x\\caption{Short}\\end{subfigure}\\end{figure}\\begin{figure}\\begin{subfigure}{10cm}x\\caption{Long, so that it runs on over more than a single line of the page and shows how its lines stand to one another}\\end{subfigure}\\end{figure}",
        "caption" or "captionsetup" => "\\begin{figure}x\\caption{Short}\\end{figure}\\begin{figure}x\\caption{Long, so that it runs on over more than a single line of the page and shows how its lines stand to one another}\\end{figure}",
        "biblatex" or "ExecuteBibliographyOptions" => "Words\\autocite{ash2001}, \\cite{elm1999,ash2001,elm2004}, \\textcite{fir2010}\\ifdefined\\citet\\citet{elm2004}\\fi. \\printbibliography",
        "setcitestyle" => "\\citep{c,a,b} and \\citet{a}. \\begin{thebibliography}{9}\\bibitem[Ash(2001)]{a}A.\\bibitem[Birch(2002)]{b}B.\\bibitem[Cedar(2003)]{c}C.\\end{thebibliography}",
        "cleveref" => "\\section{One}\\label{s} See \\cref{s}.",
        "microtype" or "microtypesetup" => "\\lipsum[1-9]",
        "siunitx" or "sisetup" => "\\num{12345.678} \\num{3e5} \\unit{\\metre\\per\\second} \\qty{2.5}{\\kilogram\\per\\metre}",
        _ => "",
    };

    private static string Rich(string of, string options)
    {
        string lists = $"\\begin{{enumerate}}\\item One, \\label{{i}} with so many words that they run on over more than a single line of the page, where it shows how far lines stand in.\\item Two\n\nand more\\end{{enumerate}} \\ref{{i}}\\begin{{description}}\\item[A long term here] words\\end{{description}}\\begin{{enumerate}}\\item Three\\end{{enumerate}}";
        string body = of switch
        {
            "{lstlisting}" => $"\\lstdefinestyle{{own}}{{numbers=left}}\\begin{{lstlisting}}[{options}]\n{Program}\\end{{lstlisting}} After \\ref{{lst:one}}.",
            "\\lstinputlisting" => $"\\lstdefinestyle{{own}}{{numbers=left}}\\lstinputlisting[{options}]{{program.py}} After \\ref{{lst:one}}.",
            "\\lstset" => $"\\begin{{lstlisting}}\n{Program}\\end{{lstlisting}} After \\ref{{lst:one}}.",
            "\\includegraphics" => $"\\includegraphics[{(options is "keepaspectratio" ? "width=9cm,height=2cm," : options is "clip" ? "trim=1 2 3 4," : "")}{options}]{{line.svg}}",
            "\\includepdf" => $"\\includepdf[{(options is "clip" ? "trim=1 2 3 4," : "")}{options}]{{line.svg}}",
            "\\setlist" => lists,
            _ when of[0] == '{' => lists.Replace("\\begin{enumerate}", $"\\begin{{enumerate}}[{options}]", StringComparison.Ordinal).Replace("\\begin{description}", $"\\begin{{description}}[{options}]", StringComparison.Ordinal),
            _ => BodyFor(of),
        };
        bool isPackage = of[0] is not ('\\' or '{');
        string packages = isPackage ? (options.Length > 0 ? $"\\usepackage[{options}]{{{of}}}" : $"\\usepackage{{{of}}}")
            : of == "\\ExecuteBibliographyOptions" ? "\\usepackage{biblatex}"
            : of is "\\setcitestyle" ? "\\usepackage{natbib}"
            : "\\usepackage{geometry,hyperref,caption,siunitx,enumitem,listings,graphicx,pdfpages}" + (of.StartsWith("\\micro", StringComparison.Ordinal) ? "\\usepackage{microtype}" : "");
        packages += of == "\\lstset" ? "\\lstdefinestyle{own}{numbers=left}" : "";
        string command = !isPackage && of[0] == '\\' && of is not ("\\lstinputlisting" or "\\includegraphics" or "\\includepdf") && options.Length > 0 ? $"{of}{{{options}}}" : "";
        return $"\\documentclass{{article}}\\usepackage{{lipsum}}\n{packages}\n{(packages.Contains("biblatex", StringComparison.Ordinal) ? "\\addbibresource{s.bib}" : "")}\n{(of == "\\newgeometry" ? "" : command)}\n\\begin{{document}}\n{(of == "\\newgeometry" ? command : "")}\n{body}\n\\end{{document}}\n";
    }

    // What has to be said along with an option so that it shows.
    private static string Beside(string of, string option) => (of.Trim('\\', '{', '}'), option) switch
    {
        ("geometry" or "newgeometry", "columnsep") => "twocolumn",
        ("geometry" or "newgeometry", "hcentering" or "centering") => "twoside=true",
        ("geometry" or "newgeometry", "heightrounded") => "textheight=15.1cm",
        ("hyperref" or "hypersetup", "hidelinks") => "colorlinks=true",
        ("babel", "english" or "american") => "german",
        ("biblatex" or "ExecuteBibliographyOptions", "maxcitenames" or "mincitenames") => "style=authoryear",
        ("includepdf", "delta") => "pages={1,1},nup=2x1",
        ("setcitestyle", "authoryear") => "numbers",
        ("setcitestyle", "compress") => "numbers,sort",
        ("setcitestyle", "round") => "square",
        ("setcitestyle", "semicolon") => "comma",
        ("lstset" or "lstlisting" or "lstinputlisting", "firstnumber" or "stepnumber") => "numbers=left",
        ("lstset" or "lstlisting" or "lstinputlisting", "label") => "caption=C",
        ("lstset", "style") => "numbers=none",
        ("lstset" or "lstlisting" or "lstinputlisting", "morekeywords") => "language=Python,keywordstyle=\\bfseries",
        _ => "",
    };

    private static string Printed(string of, string options)
    {
        byte[] pdf = Compiled.Files(("main.tex", Rich(of, options)), ("s.bib", Sources), ("program.py", Program), ("line.svg", "<svg xmlns='http://www.w3.org/2000/svg' width='90' height='60'><path d='M1 1L88 58' stroke='black'/></svg>")).Pdf;
        return Convert.ToHexString(System.Security.Cryptography.SHA256.HashData(pdf));
    }

    /// <summary>What is offered does something: with the option the pages are others than without it, or one of its values is another than the others.</summary>
    [Fact]
    public void Every_option_that_is_offered_changes_what_is_printed()
    {
        var idle = new List<string>();
        foreach (GuideOptions options in MarkupGuide.Options)
        {
            foreach (string of in options.Of.Select(o => o.TrimEnd('[', ']')))
            {
                // A drawing has one page, and a page doesn't change its columns midway.
                foreach (GuideOption option in options.Options.Where(o => o.Name != "page" && (of, o.Name) != ("\\newgeometry", "columnsep")))
                {
                    string beside = Beside(of, option.Name);
                    string without = Printed(of, beside);
                    if (Written(option).All(w => Printed(of, beside.Length > 0 ? $"{beside},{w}" : w) == without))
                    {
                        idle.Add($"{of} {option.Name}");
                    }
                }
            }
        }

        Assert.True(idle.Count == 0, string.Join("\n", idle));
    }

    /// <summary>An option whose name the package itself lists is among those it lists.</summary>
    [Fact]
    public void Options_are_told_in_one_place() =>
        Assert.DoesNotContain(MarkupGuide.Options.SelectMany(o => o.Of), of => PackageCatalogue.Find(of)?.Options is { Count: > 0 });
}
