using System.Xml.Linq;
using YoungFolio.Compiler;
using YoungFolio.Markup;

namespace YoungFolio.Core.Tests;

/// <summary>A manuscript as a page of HTML: what it is made of, that its numbers are those that print, and that it needs nothing else.</summary>
public sealed class HtmlTests
{
    private static readonly ManuscriptCompiler s_compiler = new();
    private static readonly XNamespace s_math = "http://www.w3.org/1998/Math/MathML";

    private static ManuscriptSnapshot Snapshot(string body, string preamble = "", params (string Path, string Text)[] files) => new(
        new FileTree([ManuscriptFile.FromText("main.tex", $"\\documentclass{{article}}{preamble}\\begin{{document}}\n{body}\n\\end{{document}}"), .. files.Select(f => ManuscriptFile.FromText(f.Path, f.Text))]), "main.tex", new DateOnly(2026, 11, 9));

    // The page is written so that it can be read as XML, too, but for its first line and the styles.
    private static XElement Page(ManuscriptSnapshot snapshot)
    {
        string html = s_compiler.WriteHtml(snapshot);
        Assert.StartsWith("<!DOCTYPE html>\n<html lang=", html, StringComparison.Ordinal);
        string[] parts = html.Split("<style>", 2);
        return XElement.Parse(parts[0].Split('\n', 2)[1] + "<style>" + parts[1][parts[1].IndexOf("</style>", StringComparison.Ordinal)..], LoadOptions.PreserveWhitespace);
    }

    private static XElement Content(string body, string preamble = "", params (string Path, string Text)[] files) => Page(Snapshot(body, preamble, files)).Descendants("main").Single();

    private static string Inside(XElement element) => string.Concat(element.Nodes().Select(n => n.ToString(SaveOptions.DisableFormatting)));

    [Theory]
    [InlineData("A \\emph{b} \\textbf{c} \\texttt{d} \\textsc{e} x\\textsuperscript{2} \\textcolor{red}{f}.", "<p>A <em>b</em> <strong>c</strong> <code>d</code> <span class=\"small-capitals\">e</span> x<sup>2</sup> <span style=\"color:#ff0000\">f</span>.</p>")]
    [InlineData("``A'' --- b~c \\& < d\\\\e", "<p>“A” — b\u00A0c &amp; &lt; d<br />e</p>")]
    [InlineData("\\begin{itemize}\\item A\\item B\n\nC\\end{itemize}D", "<ul><li><p>A</p></li><li><p>B</p><p>C</p></li></ul><p>D</p>")]
    [InlineData("\\begin{enumerate}\\item A\\item B\\end{enumerate}", "<ul class=\"labelled\"><li><span class=\"label\">1. </span><p>A</p></li><li><span class=\"label\">2. </span><p>B</p></li></ul>")]
    [InlineData("\\begin{enumerate}\\item A\\begin{itemize}\\item B\\end{itemize}\\item C\\end{enumerate}", "<ul class=\"labelled\"><li><span class=\"label\">1. </span><p>A</p><ul><li><p>B</p></li></ul></li><li><span class=\"label\">2. </span><p>C</p></li></ul>")]
    [InlineData("\\href{https://hollin-edge.example/a?b=1&c}{A} \\href{javascript:alert(1)}{B} \\href{file:///etc/x}{C}", "<p><a href=\"https://hollin-edge.example/a?b=1&amp;c\">A</a> B C</p>")]
    [InlineData("A\\phantom{B}\\fbox{C} \\underline{D}\\rotatebox{9}{E}", "<p>A<span class=\"framed\">C</span> <u>D</u>E</p>")]
    [InlineData("\\begin{quote}A\\end{quote}B", "<p class=\"inset\">A</p><p>B</p>")]
    [InlineData("\\begin{description}\\item[A] B\\end{description}", "<ul class=\"labelled\"><li><span class=\"label\"><strong>A</strong> </span><p>B</p></li></ul>")]
    [InlineData("\\begin{minipage}{3cm}A\n\nB\\end{minipage}", "<div class=\"p\"><div class=\"box\"><p>A</p><p>B</p></div></div>")]
    [InlineData("\\begin{verbatim}\n<a> & b\n\\end{verbatim}", "<p><code>&lt;a&gt; &amp; b</code></p>")]
    [InlineData("\\begin{center}A\\end{center}", "<p class=\"centred\">A</p>")]
    [InlineData("\\begin{tabular}{lr}\\hline A&B\\\\\\hline c&1\\\\d&2\\\\\\hline\\end{tabular}", "<div class=\"p\"><table><thead><tr><th scope=\"col\">A</th><th scope=\"col\" style=\"text-align:right\">B</th></tr></thead><tbody><tr><td>c</td><td style=\"text-align:right\">1</td></tr><tr><td>d</td><td style=\"text-align:right\">2</td></tr></tbody></table></div>")]
    [InlineData("\\begin{tabular}{ll}a&b\\\\\\multicolumn{2}{c}{d}\\end{tabular}", "<div class=\"p\"><table><tbody><tr><td>a</td><td>b</td></tr><tr><td colspan=\"2\" style=\"text-align:center\">d</td></tr></tbody></table></div>")]
    // A list that ends another one's last item is within it; a cell over rows takes the empty one below.
    [InlineData("\\begin{itemize}\\item A\\begin{itemize}\\item B\\end{itemize}\\end{itemize}C", "<ul><li><p>A</p><ul><li><p>B</p></li></ul></li></ul><p>C</p>")]
    [InlineData("\\begin{itemize}\\item A\\[x\\]\\end{itemize}B", "<ul><li><p>A</p><div class=\"equation\"><math display=\"block\" xmlns=\"http://www.w3.org/1998/Math/MathML\"><mi>x</mi></math></div></li></ul><p>B</p>")]
    [InlineData("\\begin{tabular}{ll}\\multirow{2}{*}{a}&b\\\\&c\\\\d&e\\end{tabular}", "<div class=\"p\"><table><tbody><tr><td rowspan=\"2\"><div class=\"box\"><p>a</p></div></td><td>b</td></tr><tr><td>c</td></tr><tr><td>d</td><td>e</td></tr></tbody></table></div>")]
    public void Text_lists_and_tables_are_what_they_are(string body, string html) => Assert.Equal(html, Inside(Content(body, "\\usepackage{xcolor,graphicx,multirow,hyperref}")));

    [Fact]
    public void Headings_references_and_notes_have_the_numbers_that_print()
    {
        XElement main = Content("\\maketitle\\tableofcontents\\section{One}\\label{s}A\\footnote{Note \\emph{x}.} see \\ref{s}, page~\\pageref{s}.\\subsection{Two}B\\newpage\\section*{Three}\\label{t}C \\ref{t2}.\\section{Four}\\label{t2}", "\\title{Walls}\\author{Ann Low}\\date{}");
        Assert.Equal("Walls", main.Descendants("h1").Single().Value);
        Assert.Equal(["Contents", "1 One", "Three", "2 Four"], main.Descendants("h2").Select(h => h.Value.Replace('\u2003', ' ')));
        Assert.Equal(["1.1 Two"], main.Descendants("h3").Select(h => h.Value));
        string[] links = [.. main.Descendants("a").Select(a => a.Attribute("href")!.Value)];
        // Every link within leads to a place that is there once.
        string[] places = [.. main.Descendants().Select(e => e.Attribute("id")?.Value).OfType<string>()];
        Assert.Equal(places.Length, places.Distinct().Count());
        Assert.All(links.Where(l => l.StartsWith('#')), l => Assert.Contains(l[1..], places));
        Assert.Contains("see 1, page\u00A01.", main.Value, StringComparison.Ordinal);
        XElement contents = main.Descendants("nav").Single(n => n.Attribute("role")?.Value == "doc-toc");
        Assert.Equal(["1 One", "1.1 Two", "2 Four"], contents.Descendants("a").Select(a => a.Value));
        Assert.Single(contents.Elements("ol").Elements("li").First().Elements("ol"));
        XElement note = main.Descendants("section").Single(s => s.Attribute("role")?.Value == "doc-endnotes").Descendants("li").Single();
        Assert.Equal(("note-1", "1 Note x."), (note.Attribute("id")!.Value, note.Value));
    }

    [Fact]
    public void Formulas_are_mathml_with_their_numbers()
    {
        XElement main = Content("In $x^2$ \\begin{equation}\\label{e}a=b\\end{equation} \\begin{align}c&=d\\\\e&=f\\nonumber\\end{align} see \\eqref{e}", "\\usepackage{amsmath}");
        Assert.Equal(3, main.Descendants(s_math + "math").Count());
        Assert.Equal("msup", main.Descendants("p").First().Element(s_math + "math")!.Elements().Single().Name.LocalName);
        XElement[] displays = [.. main.Descendants("div").Where(d => d.Attribute("class")?.Value == "equation")];
        Assert.Equal(("block", "a=b(1)"), (displays[0].Element(s_math + "math")!.Attribute("display")!.Value, displays[0].Value));
        XElement[] rows = [.. displays[1].Descendants(s_math + "mtr")];
        Assert.Equal(["c=d(2)", "e=f"], rows.Select(r => r.Value));
        Assert.All(rows, r => Assert.Equal(3, r.Elements(s_math + "mtd").Count()));
        Assert.EndsWith("see (1)", main.Value, StringComparison.Ordinal);
    }

    [Fact]
    public void Figures_have_captions_and_pictures_their_words()
    {
        const string Svg = "<svg xmlns='http://www.w3.org/2000/svg' width='40' height='40'><rect width='40' height='40'/></svg>";
        XElement main = Content("\\begin{figure}\\includegraphics[width=.5\\textwidth,alt={A black square}]{d.svg}\\caption{The square}\\label{f}\\end{figure}See \\ref{f}. \\includegraphics{gone}\\begin{table}\\caption{Two}\\begin{tabular}{l}a\\end{tabular}\\end{table}\\listoffigures", "\\usepackage{graphicx}", ("d.svg", Svg));
        XElement figure = main.Descendants("figure").First();
        Assert.Equal("Figure\u00A01: The square", figure.Element("figcaption")!.Value);
        XElement image = figure.Descendants("img").Single();
        Assert.Equal(("A black square", "width:50%"), (image.Attribute("alt")!.Value, image.Attribute("style")!.Value));
        Assert.Equal("data:image/svg+xml;base64," + Convert.ToBase64String(System.Text.Encoding.UTF8.GetBytes(Svg)), image.Attribute("src")!.Value);
        Assert.Equal(["Figure\u00A01: The square", "Table\u00A01: Two"], main.Descendants("figcaption").Select(c => c.Value));
        Assert.Equal("1 The square", main.Descendants("nav").Single().Descendants("a").Single().Value);
    }

    [Fact]
    public void Sources_are_a_list_that_citations_lead_to()
    {
        XElement main = Content("See \\cite{low}.\\bibliographystyle{plain}\\bibliography{p}", "", ("p.bib", "@misc{low, author={Ann Low}, title={On Walls}, year=2001}"));
        XElement item = main.Descendants("li").Single();
        Assert.Equal("[1] Ann Low. On walls, 2001.", item.Value);
        Assert.Contains(item.DescendantsAndSelf(), e => "#" + e.Attribute("id")?.Value == main.Descendants("a").First().Attribute("href")!.Value);
    }

    [Fact]
    public void Plain_text_has_a_line_for_each_thing_and_the_same_numbers()
    {
        string text = s_compiler.WriteText(Snapshot("\\maketitle\\section{One}\\label{s}A \\emph{b}, see \\ref{s}\\footnote{Note.}.\n\nC\\begin{enumerate}\\item D\\item E\\end{enumerate}\\begin{tabular}{ll}f&g\\\\h&i\\end{tabular}", "\\title{Walls}\\author{Ann Low}\\date{}"));
        Assert.Equal("Walls\n\nAnn Low\n\n1 One\n\nA b, see 11.\n\nC\n\n1. D\n2. E\n\nf\tg\nh\ti\n\n1 Note.\n", text);
    }

    [Fact]
    public void Words_are_counted_by_section_in_a_table()
    {
        CompileReport report = Compiled.Article("Zero.\\section{One, two}A b c.\\subsection{=Three}D.\\section{Four}E f.").Report;
        string[] rows = YoungFolio.HandIn.WordReport.Csv(report).Split("\r\n");
        Assert.Equal(["Number,Title,Words,With its sections", "1,\"One, two\",6,9", "1.1,'=Three,3,3", "2,Four,4,4", ",Running text,7,", ",Headings,7,", ",Captions,0,", ",Notes,0,", ",In all,14,", ""], rows);
    }

    public static TheoryData<string> Demos => ["thesis", "article", "letter", "book"];

    /// <summary>All words of the pages are there, but for heads, feet, numbers of pages and divisions of words.</summary>
    [Theory]
    [MemberData(nameof(Demos))]
    public void A_demo_manuscript_is_there_whole(string name)
    {
        ManuscriptSnapshot snapshot = DemoManuscripts.Snapshot(DemoManuscripts.Of(name));
        XElement page = Page(snapshot);
        CompileReport report = s_compiler.Compile(snapshot).Report;
        string[] headings = [.. page.Descendants().Where(e => e.Name.LocalName is "h2" or "h3" or "h4" or "h5" or "h6" or "p").Select(e => e.Value.Replace('\u00A0', ' '))];
        Assert.All(report.Outline, o => Assert.Contains(headings, h => h.Contains(o.Title, StringComparison.Ordinal)));
        // Every picture, table with a caption, note and source.
        Assert.Equal(report.Floats.DistinctBy(f => (f.Kind, f.Number)).Count(), page.Descendants("figcaption").Count());
        Assert.Equal(report.Bibliography.Count, page.Descendants("li").Count(l => l.Descendants("span").Any(s => s.Attribute("id")?.Value.StartsWith("a-source", StringComparison.Ordinal) == true)) + page.Descendants("p").Count(p => p.Parent!.Name != "li" && p.Elements("span").Any(s => s.Attribute("id")?.Value.StartsWith("a-source", StringComparison.Ordinal) == true)));
        string[] places = [.. page.Descendants().Select(e => e.Attribute("id")?.Value).OfType<string>()];
        Assert.Equal(places.Length, places.Distinct().Count());
        Assert.All(page.Descendants("a").Select(a => a.Attribute("href")!.Value).Where(h => h.StartsWith('#')), h => Assert.Contains(h[1..], places));
        Assert.DoesNotContain(page.Descendants().Attributes(), a => a.Name.LocalName is "src" or "data" && !a.Value.StartsWith("data:", StringComparison.Ordinal));
        Assert.Empty(page.Descendants("script"));
    }
}
