using System.Globalization;
using System.Text;
using System.Text.Json;
using System.Text.RegularExpressions;
using System.Xml.Linq;
using YoungFolio.Compiler;
using YoungFolio.Core.Tests.HandIn;
using YoungFolio.HandIn;
using YoungFolio.Markup;
using YoungFolio.Pdf;
using static YoungFolio.Core.Tests.QpdfObjects;

namespace YoungFolio.Core.Tests;

/// <summary>
/// Accessible PDFs, clause by clause of ISO 14289-1:2014 (PDF/UA-1), read from the file's objects as qpdf shows them; what they tell is read back by
/// poppler. The clauses' numbers are from memory.
/// </summary>
public sealed partial class AccessibleTests
{
    private static readonly XNamespace s_pdfuaid = "http://www.aiim.org/pdfua/ns/id/";
    private static readonly XNamespace s_pdfaid = "http://www.aiim.org/pdfa/ns/id/";

    // The standard structure types (ISO 32000-1, 14.8.4).
    private static readonly HashSet<string> s_types =
    [
        "Document", "Part", "Art", "Sect", "Div", "BlockQuote", "Caption", "TOC", "TOCI", "Index", "NonStruct", "Private", "P", "H1", "H2", "H3", "H4", "H5", "H6", "L", "LI", "Lbl", "LBody", "Table", "TR", "TH", "TD",
        "THead", "TBody", "TFoot", "Span", "Quote", "Note", "Reference", "BibEntry", "Code", "Link", "Annot", "Figure", "Formula", "Form",
    ];

    private static readonly Dictionary<string, string[]> s_parents = new()
    {
        ["LI"] = ["L"],
        ["LBody"] = ["LI"],
        ["TR"] = ["Table", "THead", "TBody", "TFoot"],
        ["TH"] = ["TR"],
        ["TD"] = ["TR"],
        ["THead"] = ["Table"],
        ["TBody"] = ["Table"],
        ["TOCI"] = ["TOC"],
        ["Lbl"] = ["LI", "Note"],
    };

    private static CompileResult Tagged(params (string Path, string Text)[] files) =>
        new ManuscriptCompiler().CompileTagged(new ManuscriptSnapshot(new FileTree(files.Select(f => ManuscriptFile.FromText(f.Path, f.Text))), files[0].Path, new DateOnly(2026, 11, 9)));

    private static CompileResult Tagged(string body, string preamble = "") =>
        Tagged(("main.tex", $"\\documentclass{{article}}\\usepackage{{graphicx,amsmath,booktabs,multirow,hyperref}}{preamble}\\hypersetup{{pdftitle={{Walls}}}}\\pagestyle{{empty}}\\begin{{document}}\n{body}\n\\end{{document}}"));

    private static byte[] Pdf(CompileResult result) => result.WritePdf(flavour: PdfFlavour.Accessible);

    private static IEnumerable<XElement> Descriptions(Dictionary<string, JsonElement> objects) =>
        XDocument.Parse(Encoding.UTF8.GetString(StreamOf(Value(objects, Root(objects).GetProperty("/Metadata"))))).Descendants().Where(e => e.Name.LocalName == "Description");

    private static bool Claims(byte[] pdf) => Descriptions(Objects(pdf)).Elements(s_pdfuaid + "part").SingleOrDefault()?.Value == "1";

    public static TheoryData<string> Demos => ["thesis", "article", "letter", "book"];

    [Theory]
    [MemberData(nameof(Demos))]
    public void A_demo_manuscript_keeps_to_the_clauses(string name)
    {
        ManuscriptSnapshot snapshot = DemoManuscripts.Snapshot(DemoManuscripts.Of(name));
        CompileResult result = new ManuscriptCompiler().CompileTagged(snapshot);
        Hold(result);
        // It says that it keeps to the standard when nothing in the manuscript stands against it.
        Assert.Equal(new ManuscriptCompiler().AccessObstacles(snapshot).Count == 0, Claims(Pdf(result)));
    }

    public static TheoryData<string> Templates => [.. Directory.GetDirectories(Path.Combine(SourceTree.Root, "templates")).Select(d => Path.GetFileName(d)!).Order(StringComparer.Ordinal)];

    [Theory]
    [MemberData(nameof(Templates))]
    public void A_template_keeps_to_them(string name)
    {
        string folder = Path.Combine(SourceTree.Root, "templates", name);
        ManuscriptFile[] files = [.. Directory.GetFiles(folder, "*", SearchOption.AllDirectories).Select(f => new ManuscriptFile(Path.GetRelativePath(folder, f), File.ReadAllBytes(f)))];
        string main = files.Single(f => f.Path.EndsWith(".tex", StringComparison.Ordinal) && f.Text.Contains("\\documentclass", StringComparison.Ordinal)).Path;
        Hold(new ManuscriptCompiler().CompileTagged(new ManuscriptSnapshot(new FileTree(files), main, new DateOnly(2026, 11, 9))));
    }

    [Fact]
    public void All_kinds_of_text_keep_to_them() => Hold(Tagged(
        ("main.tex", """
            \documentclass[twoside,twocolumn]{article}\usepackage[ngerman,british]{babel}\usepackage{graphicx,hyperref,xcolor,amsmath,amsthm,booktabs,multirow,longtable,makeidx,marginnote,fancyhdr,listings,pict2e}\makeindex
            \newtheorem{claim}{Claim}\pagestyle{fancy}\fancyhead[L]{\href{https://hollin-edge.example/h}{head}}
            \title{Walls \& Stones}\author{Ann Low\thanks{Of the farm.} \and Bo Ng}
            \begin{document}\maketitle\begin{abstract}In short.\end{abstract}\tableofcontents\listoffigures\section{One}\label{s}
            \textcolor{red}{Red}\footnote{A note\footnote{in a note}, see~\ref{t}.} and \rotatebox{30}{turned \ref{s}}, \fbox{framed}, see \ref{s}, \pageref{s} and \url{https://hollin-edge.example/a}.\index{stone}
            \foreignlanguage{ngerman}{Die Mauer} steht. \marginpar{Beside.} \begin{otherlanguage}{ngerman}Ein Absatz für sich.\end{otherlanguage}
            \[ \left( \sum_{i=1}^n \frac{\sqrt{x}}{\overbrace{a+b}} \right\} \begin{pmatrix} 1 \\ 2 \end{pmatrix} \]
            \begin{align} a &= b \label{e}\\ \intertext{and so} c &= d \end{align}
            \begin{itemize}\item one \begin{enumerate}\item inner\item other\end{enumerate}\item two\end{itemize}\begin{description}\item[Wall] of stone\end{description}
            \begin{claim}It holds.\end{claim}\begin{proof}Surely.\end{proof}
            \begin{figure}\centering\includegraphics[width=2cm,alt={A red square}]{d.svg}\caption{A square}\end{figure}
            \begin{table}\caption{Walls}\label{t}\begin{tabular}{llr}\toprule & \multicolumn{2}{c}{Both}\\ \cmidrule{2-3} Name & Place & Age\\ \midrule \multirow{2}{*}{Low} & Here & 12.5\\ & There & 3\\ \bottomrule\end{tabular}\end{table}
            \subsection{Two}\begin{picture}(20,20)\put(0,0){\line(1,1){20}}\put(2,9){word}\end{picture}
            \begin{lstlisting}[language=C]
            int x = 1;
            \end{lstlisting}
            \onecolumn\begin{longtable}{lr}\caption{Long}\\ \toprule Name & Age\\ \midrule\endhead a & 1\\ b & 2\\ c & 3\\ \bottomrule\end{longtable}
            \begin{minipage}{4cm}In a box.\end{minipage} beside words \cite{k}.
            \begin{thebibliography}{9}\bibitem{k} A. Low, \emph{Walls}.\end{thebibliography}\printindex\end{document}
            """),
        ("d.svg", "<svg xmlns='http://www.w3.org/2000/svg' width='40' height='40'><rect width='40' height='40' fill='red'/><text x='3' y='20'>in it</text></svg>")));

    private static void Hold(CompileResult result)
    {
        byte[] pdf = Pdf(result);
        Dictionary<string, JsonElement> objects = Objects(pdf);
        JsonElement root = Root(objects);
        JsonElement[] pages = [.. Kids(objects, Value(objects, root.GetProperty("/Pages")))];

        // 7.1: the file is tagged, its title is shown and said; 7.2: its language is told.
        Assert.True(root.GetProperty("/MarkInfo").GetProperty("/Marked").GetBoolean());
        Assert.Matches("^u:[a-z]{2}(-[A-Z]{2})?$", Name(root, "/Lang"));
        bool hasTitle = Descriptions(objects).Elements().Any(e => e.Name.LocalName == "title" && e.Value.Length > 0);
        Assert.Equal(hasTitle, root.TryGetProperty("/ViewerPreferences", out JsonElement view) && view.GetProperty("/DisplayDocTitle").GetBoolean());
        Assert.True(hasTitle || !Claims(pdf));
        // 7.11: files within are named in both ways.
        Assert.All(Dictionaries(objects).Where(d => Name(d, "/Type") == "/Filespec"), d => Assert.Equal(Name(d, "/F"), Name(d, "/UF")));
        // 7.21.4.1 and 7.21.7: fonts are within and say what their characters are.
        Assert.All(Dictionaries(objects).Where(d => Name(d, "/Type") == "/Font" && Name(d, "/Subtype") == "/Type0"), d => Assert.True(d.TryGetProperty("/ToUnicode", out _)));

        JsonElement tree = Value(objects, root.GetProperty("/StructTreeRoot"));
        var structure = new Structure(objects, pages);
        structure.Read(tree.GetProperty("/K").GetString()!, null, null);
        HoldSequences(objects, pages, tree, structure);
        HoldLinks(objects, pages, tree, structure);
        // 7.9: notes have names of their own, by which they are found.
        Assert.Equal(structure.Notes.Count, structure.Notes.Distinct().Count());
        if (structure.Notes.Count > 0)
        {
            string[] names = [.. Value(objects, tree.GetProperty("/IDTree")).GetProperty("/Names").EnumerateArray().Where((_, i) => i % 2 == 0).Select(n => n.GetString()!)];
            Assert.Equal(structure.Notes.Order(StringComparer.Ordinal), names);
        }

        // 7.4.2: headings begin at the first level and leave none out on the way down, unless that is said.
        int last = 0;
        foreach (int level in structure.Headings)
        {
            Assert.True(level <= last + 1, $"H{level} behind H{last}");
            last = level;
        }

        Assert.Contains("No syntax or stream encoding errors found", Compiled.Run("qpdf", pdf, "--check", "FILE"), StringComparison.Ordinal);
        Assert.Equal(pdf, Pdf(result));
        // What is told is what is read, and the pages look as they always do.
        Assert.Equal(Words(result.WritePdf()), Words(pdf));
    }

    private static string Words(byte[] pdf) => string.Concat(Compiled.Run("pdftotext", pdf, "-raw", "FILE", "-").Where(c => !char.IsWhiteSpace(c) && c is not '\u00AD' and not '-' and not '\u200B'));

    private static IEnumerable<JsonElement> Kids(Dictionary<string, JsonElement> objects, JsonElement node) =>
        node.GetProperty("/Kids").EnumerateArray().Select(k => Value(objects, k)).SelectMany(k => Name(k, "/Type") == "/Page" ? [k] : Kids(objects, k));

    // Every mark is in a sequence that belongs to an element, or decorates (7.1); the tree of parents leads back (ISO 32000-1, 14.7.4.4).
    private static void HoldSequences(Dictionary<string, JsonElement> objects, JsonElement[] pages, JsonElement tree, Structure structure)
    {
        Dictionary<int, JsonElement> parents = Numbers(objects, tree);
        for (int i = 0; i < pages.Length; i++)
        {
            // 7.18.3: one goes over the page in the order of its structure.
            Assert.Equal("/S", Name(pages[i], "/Tabs"));
            string content = Encoding.Latin1.GetString(StreamOf(Value(objects, pages[i].GetProperty("/Contents"))));
            var open = new Stack<string>();
            var seen = new List<int>();
            foreach (Match token in Token().Matches(content))
            {
                string text = token.Value;
                if (text.EndsWith("BDC", StringComparison.Ordinal) || text.EndsWith("BMC", StringComparison.Ordinal))
                {
                    bool isInner = text.StartsWith("/Span <</ActualText", StringComparison.Ordinal);
                    // Sequences of elements stand in no other.
                    Assert.Equal(isInner ? 1 : 0, open.Count);
                    open.Push(text);
                    if (Number().Match(text) is { Success: true } id)
                    {
                        seen.Add(int.Parse(id.Groups[1].Value, CultureInfo.InvariantCulture));
                    }
                }
                else if (text == "EMC")
                {
                    open.Pop();
                }
                else
                {
                    Assert.True(open.Count > 0, $"page {i + 1}: {text} stands in no sequence");
                }
            }

            Assert.Empty(open);
            Assert.Equal(Enumerable.Range(0, seen.Count), seen);
            JsonElement[] owners = [.. parents[pages[i].GetProperty("/StructParents").GetInt32()].EnumerateArray()];
            Assert.Equal(seen.Count, owners.Length);
            Assert.All(seen, s => Assert.Equal(owners[s].GetString(), structure.OwnerOf[(i, s)]));
        }
    }

    // 7.18.1: links are parts of link elements; 7.18.5: and say in words where they lead.
    private static void HoldLinks(Dictionary<string, JsonElement> objects, JsonElement[] pages, JsonElement tree, Structure structure)
    {
        Dictionary<int, JsonElement> parents = Numbers(objects, tree);
        foreach (JsonElement reference in pages.SelectMany(p => p.TryGetProperty("/Annots", out JsonElement a) ? a.EnumerateArray() : Enumerable.Empty<JsonElement>()))
        {
            JsonElement link = Value(objects, reference);
            Assert.True(Name(link, "/Contents")?.Length > 2);
            string element = structure.LinkOf[reference.GetString()!];
            Assert.Equal("/Link", Name(Value(objects, objects[$"obj:{element}"].GetProperty("value")), "/S"));
            Assert.Equal(element, parents[link.GetProperty("/StructParent").GetInt32()].GetString());
        }
    }

    private static Dictionary<int, JsonElement> Numbers(Dictionary<string, JsonElement> objects, JsonElement tree)
    {
        JsonElement[] all = [.. Value(objects, tree.GetProperty("/ParentTree")).GetProperty("/Nums").EnumerateArray()];
        return Enumerable.Range(0, all.Length / 2).ToDictionary(i => all[2 * i].GetInt32(), i => all[(2 * i) + 1]);
    }

    /// <summary>The structure as the file tells it.</summary>
    private sealed class Structure(Dictionary<string, JsonElement> objects, JsonElement[] pages)
    {
        public Dictionary<(int Page, int Sequence), string> OwnerOf { get; } = [];

        public Dictionary<string, string> LinkOf { get; } = [];

        public List<string> Notes { get; } = [];

        public List<int> Headings { get; } = [];

        public void Read(string reference, string? parent, string? parentType)
        {
            JsonElement element = Value(objects, objects[$"obj:{reference}"].GetProperty("value"));
            string type = Name(element, "/S")![1..];
            // 7.1: standard types, so that none needs to be explained.
            Assert.Contains(type, s_types);
            if (parent is not null)
            {
                Assert.Equal(parent, Name(element, "/P"));
            }

            if (s_parents.TryGetValue(type, out string[]? wanted))
            {
                Assert.Contains(parentType, wanted);
            }

            // 7.3 and 7.7: pictures and formulas are said in words.
            Assert.True(type is not ("Figure" or "Formula") || Name(element, "/Alt")?.Length > 2, type);
            if (type == "Formula")
            {
                HoldFormula(element);
            }

            // 7.5: heads say what they head.
            Assert.True(type != "TH" || Name(element.GetProperty("/A"), "/Scope") == "/Column");
            if (type == "Table")
            {
                HoldTable(element);
            }

            if (type == "Note")
            {
                Notes.Add(Name(element, "/ID")!);
            }

            if (type is ['H', >= '1' and <= '6'])
            {
                Headings.Add(type[1] - '0');
            }

            foreach (JsonElement kid in Parts(element))
            {
                if (kid.ValueKind == JsonValueKind.Number)
                {
                    Assert.True(OwnerOf.TryAdd((PageOf(element), kid.GetInt32()), reference));
                }
                else if (kid.ValueKind == JsonValueKind.Object)
                {
                    if (Name(kid, "/Type") == "/OBJR")
                    {
                        LinkOf[Name(kid, "/Obj")!] = reference;
                    }
                    else
                    {
                        Assert.True(OwnerOf.TryAdd((PageOf(kid), kid.GetProperty("/MCID").GetInt32()), reference));
                    }
                }
                else
                {
                    Read(kid.GetString()!, reference, type);
                }
            }
        }

        private static IEnumerable<JsonElement> Parts(JsonElement element) => !element.TryGetProperty("/K", out JsonElement kids) ? [] : kids.ValueKind == JsonValueKind.Array ? [.. kids.EnumerateArray()] : [kids];

        private int PageOf(JsonElement element) => Array.FindIndex(pages, p => p.ToString() == Value(objects, element.GetProperty("/Pg")).ToString());

        // A formula's structure goes along as MathML.
        private void HoldFormula(JsonElement element)
        {
            JsonElement file = Value(objects, element.GetProperty("/AF")[0]);
            Assert.Equal("/Supplement", Name(file, "/AFRelationship"));
            JsonElement data = Value(objects, file.GetProperty("/EF").GetProperty("/F"));
            Assert.Equal("/application/mathml+xml", Name(data.GetProperty("dict"), "/Subtype"));
            Assert.Equal("{http://www.w3.org/1998/Math/MathML}math", XDocument.Parse(Encoding.UTF8.GetString(StreamOf(data))).Root!.Name.ToString());
        }

        // 7.5: each row has all columns, those counted that cells of rows above take.
        private void HoldTable(JsonElement table)
        {
            JsonElement[] rows = [.. Parts(table).Select(p => Value(objects, p)).SelectMany(p => Name(p, "/S") switch { "/THead" or "/TBody" => Parts(p).Select(r => Value(objects, r)), "/TR" => [p], _ => [] })];
            int[] taken = new int[200];
            int? columns = null;
            foreach (JsonElement row in rows)
            {
                int count = 0;
                foreach (JsonElement cell in Parts(row).Select(c => Value(objects, c)))
                {
                    int Says(string key) => cell.TryGetProperty("/A", out JsonElement a) && a.TryGetProperty(key, out JsonElement v) ? v.GetInt32() : 1;
                    for (int i = 0; i < Says("/ColSpan"); i++)
                    {
                        while (taken[count] > 0)
                        {
                            count++;
                        }

                        taken[count++] = Says("/RowSpan");
                    }
                }

                count += taken.Skip(count).TakeWhile(t => t > 0).Count();
                columns ??= count;
                // A row over the whole width is one cell.
                Assert.True(count == columns || Parts(row).Count() == 1, $"{count} of {columns} columns");
                taken = [.. taken.Select(t => Math.Max(0, t - 1))];
            }
        }
    }

    [GeneratedRegex(@"/\w+ <<.*?>> BDC|/\w+ BMC|\bEMC\b|\bTJ\b|\bTj\b|\bre f\b|\bDo\b|\bsh\b|^(?:[fFSBb]\*?|W n)$", RegexOptions.Multiline)]
    private static partial Regex Token();

    [GeneratedRegex(@"/MCID (\d+)")]
    private static partial Regex Number();

    // ---- what is told, as another reader hears it --------------------------------------------------------------

    // Elements with their depth, and their words in quotes.
    private static string Heard(CompileResult result)
    {
        var lines = new StringBuilder();
        foreach (string line in Compiled.Run("pdfinfo", Pdf(result), "-struct-text", "FILE").Split('\n'))
        {
            string text = line.Trim();
            if (text.Length > 0 && !text.StartsWith("Object", StringComparison.Ordinal))
            {
                lines.Append(text.StartsWith('"') ? $"“{text.Trim('"').Trim()}” " : text.StartsWith('/') ? $"{text} " : $"{Element().Replace(text, "$1")} ");
            }
        }

        return lines.ToString().Replace("“” ", "", StringComparison.Ordinal).Trim();
    }

    [GeneratedRegex(@"^(\w+).*$")]
    private static partial Regex Element();

    [Theory]
    [InlineData("One.\n\nTwo.", "Document P “One.” P “Two.”")]
    [InlineData("\\section{A}\\subsection{B}Words.", "Document H1 “1 A” H2 “1.1 B” P “Words.”")]
    // A heading that runs into its paragraph is words of it.
    // What comes before the first part leaves no level out.
    [InlineData("\\section*{A}\\part{B}\\section{C}", "Document H1 “A” H1 “Part I B” H2 “1 C”")]
    [InlineData("\\section*{A}\\paragraph{B} Words.", "Document H1 “A” P “B Words.”")]
    [InlineData("\\begin{itemize}\\item a\\item b\n\nmore\\end{itemize}After.", "Document L LI Lbl “•” LBody P “a” LI Lbl “•” LBody P “b” P “more” P “After.”")]
    [InlineData("\\begin{enumerate}\\item a\\begin{itemize}\\item in\\end{itemize}\\item b\\end{enumerate}", "Document L LI Lbl “1.” LBody P “a” L LI Lbl “•” LBody P “in” LI Lbl “2.” LBody P “b”")]
    // A list at the end of another one's last item is within it.
    [InlineData("\\begin{enumerate}\\item a\\begin{itemize}\\item in\\end{itemize}\\end{enumerate}After.", "Document L LI Lbl “1.” LBody P “a” L LI Lbl “•” LBody P “in” P “After.”")]
    [InlineData("\\begin{description}\\item[Wall] of stone\\end{description}", "Document L LI Lbl “Wall” LBody P “of stone”")]
    [InlineData("So $x^2$ is.", "Document P “So” Formula “x2” “is.”")]
    [InlineData("So \\[a=b\\] is.", "Document P “So” Div Formula “a = b” P “is.”")]
    [InlineData("\\begin{equation}a=b\\end{equation}", "Document Div Formula “a = b” P “(1)”")]
    [InlineData("\\begin{align*}a&=b\\\\ c&=d\\end{align*}", "Document Div Formula “a = b c = d”")]
    // A note is read where its mark stands, wherever it is printed.
    [InlineData("One\\footnote{A note.} two.", "Document P “One” Reference “1” Note Lbl “1” P “A note.” “two.”")]
    [InlineData("\\label{x}See \\href{https://hollin-edge.example/}{there} now.", "Document P “See” Link “there” “now.”")]
    [InlineData("\\section{A}\\label{x}See~\\ref{x}.", "Document H1 “1 A” P “See” Link “1” “.”")]
    [InlineData("\\begin{tabular}{lr}\\toprule Name & Age\\\\ \\midrule a & 1\\\\ b & 2\\\\ \\bottomrule\\end{tabular}",
        "Document Div Table THead TR TH /Scope /Column “Name” TH /Scope /Column “Age” TBody TR TD “a” TD “1” TR TD “b” TD “2”")]
    [InlineData("\\begin{tabular}{lll}\\hline & \\multicolumn{2}{c}{Both}\\\\ \\hline \\multirow{2}{*}{x} & 1 & 2\\\\ & 3 & 4\\\\ \\hline\\end{tabular}",
        "Document Div Table THead TR TD TH /Scope /Column /ColSpan 2 “Both” TBody TR TD /RowSpan 2 P “x” TD “1” TD “2” TR TD “3” TD “4”")]
    // A table without lines and heads only lines things up.
    [InlineData("\\begin{tabular}{ll}a & b\\\\ c & d\\end{tabular}", "Document Div Div P “a” P “b” P “c” P “d”")]
    [InlineData("\\begin{table}[h]\\caption{Walls}\\begin{tabular}{l}\\toprule N\\\\ \\midrule a\\\\ \\bottomrule\\end{tabular}\\end{table}", "Document Div Caption “Table 1: Walls” Div Table THead TR TH /Scope /Column “N” TBody TR TD “a”")]
    [InlineData("\\tableofcontents\\section{A}", "Document H1 “Contents” TOC TOCI Link “1 A 1” H1 “1 A”")]
    [InlineData("\\begin{minipage}{5cm}In it.\\end{minipage}", "Document Div P “In it.”")]
    [InlineData("\\begin{thebibliography}{9}\\bibitem{k} A. Low.\\end{thebibliography}", "Document H1 “References” L LI Lbl “[1]” LBody BibEntry “A. Low.”")]
    // Rules, frames and dots say nothing; a picture that decorates, neither.
    [InlineData("\\hrule a \\rule{1cm}{1pt} \\dotfill\\ \\fbox{b}", "Document P “a” “b”")]
    [InlineData("a \\begin{picture}(20,20)\\put(0,0){\\line(1,1){20}}\\put(2,9){w}\\end{picture} b", "Document P “a” Figure “w” “b”")]
    [InlineData("a \\phantom{hidden} b", "Document P “a b”")]
    public void A_reader_hears(string body, string expected) => Assert.Equal(expected, Heard(Tagged(body)));

    [Theory]
    [InlineData("x^2", "x^2")]
    [InlineData("\\frac{a+b}{2}", "(a+b)/2")]
    [InlineData("\\frac{12}{0.5}", "12/0.5")]
    [InlineData("e^{-kt}", "e^(−kt)")]
    [InlineData("\\sqrt{x+1}", "√(x+1)")]
    [InlineData("\\sqrt[3]{x}", "root_3x")]
    [InlineData("\\bar d", "d\u0304")]
    [InlineData("\\overline{ab}", "(ab)\u0305")]
    [InlineData("\\begin{pmatrix}1&2\\\\3&4\\end{pmatrix}", "(1, 2; 3, 4)")]
    [InlineData("\\sum_{i=1}^n a_i", "∑^n_(i=1)a_i")]
    [InlineData("\\xrightarrow{n+1}", "→(n+1)")]
    public void A_formula_is_said_in_one_line_with_nothing_lost(string formula, string said) =>
        Assert.Equal($"u:{said}", Name(Assert.Single(Dictionaries(Objects(Pdf(Tagged($"So ${formula}$."))))!, d => Name(d, "/S") == "/Formula"), "/Alt"));

    [Fact]
    public void A_title_is_the_first_heading_and_authors_follow() =>
        Assert.Equal("Document H1 “Walls” Div P “Ann Low” P “Bo Ng” P “May” H2 “1 A” P “Words.”", Heard(Tagged("\\maketitle\\section{A}Words.", "\\title{Walls}\\author{Ann Low \\and Bo Ng}\\date{May}")));

    [Fact]
    public void Words_in_another_language_say_so()
    {
        byte[] pdf = Pdf(Tagged("The \\foreignlanguage{ngerman}{Mauer} stands.\n\n\\begin{otherlanguage}{french}Un mur.\\end{otherlanguage}", "\\usepackage[french,ngerman,british]{babel}"));
        Dictionary<string, JsonElement> objects = Objects(pdf);
        Assert.Equal("u:en-GB", Name(Root(objects), "/Lang"));
        Assert.Equal([("/P", "u:fr"), ("/Span", "u:de")], Dictionaries(objects).Where(d => d.TryGetProperty("/S", out _) && d.TryGetProperty("/Lang", out _)).Select(d => (Name(d, "/S")!, Name(d, "/Lang")!)).Order());
    }

    [Fact]
    public void A_word_that_a_line_divides_has_a_soft_hyphen_and_one_with_its_own_a_hard_one()
    {
        byte[] pdf = Pdf(Tagged("\\parbox{2.2cm}{incomprehensibilities of well-known granite}"));
        string content = string.Concat(Objects(pdf).Values.Where(o => o.TryGetProperty("stream", out JsonElement s) && s.TryGetProperty("data", out _)).Select(o => Encoding.Latin1.GetString(StreamOf(o.GetProperty("stream")))));
        Assert.Contains("/Span <</ActualText <FEFF00AD>>> BDC", content, StringComparison.Ordinal);
        Assert.Matches("well-\n", Compiled.Run("pdftotext", pdf, "-raw", "FILE", "-"));
    }

    [Fact]
    public void Heads_and_feet_are_told_from_the_text()
    {
        byte[] pdf = Pdf(Tagged(("main.tex", "\\documentclass{article}\\usepackage{fancyhdr,hyperref}\\pagestyle{fancy}\\fancyhead[L]{\\href{https://hollin-edge.example/}{Above}}\\title{T}\\begin{document}Words.\\end{document}")));
        Dictionary<string, JsonElement> objects = Objects(pdf);
        string content = string.Concat(objects.Values.Where(o => o.TryGetProperty("stream", out JsonElement s) && s.TryGetProperty("data", out _)).Select(o => Encoding.Latin1.GetString(StreamOf(o.GetProperty("stream")))));
        Assert.Contains("/Artifact <</Type /Pagination /Subtype /Header>> BDC", content, StringComparison.Ordinal);
        Assert.Contains("/Artifact <</Type /Pagination /Subtype /Footer>> BDC", content, StringComparison.Ordinal);
        // A link in a head would be a part of no element: it is none.
        Assert.DoesNotContain(Dictionaries(objects), d => Name(d, "/Subtype") == "/Link");
    }

    [Fact]
    public void Its_pages_look_as_those_of_the_usual_pdf()
    {
        CompileResult result = new ManuscriptCompiler().CompileTagged(DemoManuscripts.Snapshot(DemoManuscripts.Of("article")));
        byte[] Shown(byte[] pdf) => Compiled.Output("pdftoppm", pdf, "-r", "60", "FILE");
        byte[] usual = Shown(result.WritePdf());
        byte[] told = Shown(Pdf(result));
        Assert.Equal(usual.Length, told.Length);
        // Where a line of glyphs is parted, places are rounded to a thousandth of a point, and some glyph falls on the next quarter of a dot.
        Assert.InRange(usual.Zip(told).Count(static p => Math.Abs(p.First - p.Second) > 8) / (double)usual.Length, 0, 0.002);
    }

    [Fact]
    public void A_book_is_at_most_half_as_large_again()
    {
        CompileResult result = new ManuscriptCompiler().CompileTagged(DemoManuscripts.Snapshot(DemoManuscripts.Of("book")));
        Assert.InRange(Pdf(result).Length / (double)result.WritePdf().Length, 1, 1.5);
    }

    [Fact]
    public void The_usual_pdf_of_a_usual_compile_tells_nothing()
    {
        JsonElement root = Root(Objects(Compiled.Article("Words.").WritePdf()));
        Assert.False(root.TryGetProperty("/MarkInfo", out _) || root.TryGetProperty("/StructTreeRoot", out _));
    }

    [Fact]
    public void One_that_is_for_keeping_too_says_both_and_explains_what_the_older_standard_does_not_know()
    {
        Dictionary<string, JsonElement> objects = Objects(Tagged("Words.").WritePdf(flavour: PdfFlavour.Accessible with { IsArchival = true }));
        XElement[] all = [.. Descriptions(objects)];
        Assert.Equal("1", all.Elements(s_pdfuaid + "part").Single().Value);
        // ISO 19005-3, level A: what level U asks for, and the structure (6.7).
        Assert.Equal("3A", all.Elements(s_pdfaid + "part").Single().Value + all.Elements(s_pdfaid + "conformance").Single().Value);
        Assert.Contains(s_pdfuaid.NamespaceName, all.Descendants().Where(e => e.Name.LocalName == "namespaceURI").Select(e => e.Value));
        Assert.True(Root(objects).TryGetProperty("/OutputIntents", out _));
    }

    [Theory]
    [MemberData(nameof(Demos))]
    public void Telling_what_is_what_moves_nothing_on_a_page(string name)
    {
        ManuscriptSnapshot snapshot = DemoManuscripts.Snapshot(DemoManuscripts.Of(name));
        CompileResult usual = new ManuscriptCompiler().Compile(snapshot);
        CompileResult tagged = new ManuscriptCompiler().CompileTagged(snapshot);
        // A hyphen that a line's end makes is another character there.
        static IEnumerable<PdfWord> Of(CompileResult result) => PdfWords.Of(result).Select(w => w with { Text = w.Text.Replace("\u00AD", "-", StringComparison.Ordinal) });
        Assert.Equal(Of(usual), Of(tagged));
        Assert.Equal(usual.Report.Findings.Select(f => f.Message), tagged.Report.Findings.Select(f => f.Message));
        Assert.Equal(usual.Report.Words, tagged.Report.Words);
    }

    [Fact]
    public void A_compile_from_an_earlier_one_gives_the_same_file()
    {
        ManuscriptSnapshot snapshot = DemoManuscripts.Snapshot(DemoManuscripts.Of("thesis"));
        var compiler = new ManuscriptCompiler();
        CompileResult last = compiler.Compile(snapshot);
        Assert.Equal(Pdf(new ManuscriptCompiler().CompileTagged(snapshot)), Pdf(compiler.CompileTagged(snapshot, last)));
        // And leaves the usual one as it was.
        Assert.Equal(last.Pdf, compiler.Compile(snapshot, last).Pdf);
    }

    // Pieces of text that are put together at random: what one leaves open or owns must not become another's.
    private static readonly string[] s_pieces =
    [
        "Words\\footnote{A note with $x$ and \\emph{stress}.} and more.", "\\section{A}", "\\subsection{B}\\label{k}", "See \\ref{k}.", "\\[ a = \\frac{b}{c} \\]", "\\begin{align} a &= b\\\\ c &= d \\end{align}",
        "\\begin{itemize}\\item one\\footnote{In a list.}\\item \\begin{tabular}{l}\\hline N\\\\ \\hline a\\\\ b\\\\ \\hline\\end{tabular}\\end{itemize}", "\\begin{enumerate}\\item a\n\nb\\item \\[ x \\]\\end{enumerate}",
        "\\begin{figure}[t]\\fbox{A}\\caption{C \\ref{k}}\\end{figure}", "\\begin{table}\\caption{T}\\begin{tabular}{lp{2cm}}\\toprule A & B\\\\ \\midrule c & d\\footnotemark{} e\n\nf\\\\ \\bottomrule\\end{tabular}\\end{table}",
        "\\begin{minipage}{4cm}In a box\\footnote{Of the box.}\\end{minipage}", "\\rotatebox{20}{turned \\href{https://hollin-edge.example/}{there}}", "\\marginpar{beside $y$}", "\\begin{quote}Said.\\end{quote}", "\\newpage", "\\begin{center}\\parbox{3cm}{p \\[ q \\]}\\end{center}",
        "\\begin{multicols}{2}\\section*{In}Many words in columns. \\begin{itemize}\\item x\\end{itemize}\\end{multicols}", "\\colorbox{yellow}{\\underline{b}}\\hfill c", "\\begin{verbatim}\nint x;\n\\end{verbatim}", "\\tableofcontents", "\\footnotetext{Late.}", "\\hspace{1cm}\\rule{1cm}{1pt}\\dotfill",
        "\\begin{longtable}{lr}\\hline H & I\\\\ \\hline\\endhead a & b\\footnote{In a long one.}\\\\ c & d\\\\ e & f\\\\ \\hline\\end{longtable}", "$\\text{if \\textbf{so} $n$}$", "\\begin{description}\\item[\\emph{Term}] of it\\end{description}",
    ];

    public static TheoryData<int> Seeds => [.. Enumerable.Range(1, 25)];

    [Theory]
    [MemberData(nameof(Seeds))]
    public void Whatever_is_put_together_keeps_to_the_clauses(int seed)
    {
        var random = new Random(seed);
        string body = string.Join("\n\n", Enumerable.Range(0, random.Next(4, 16)).Select(_ => s_pieces[random.Next(s_pieces.Length)]));
        Hold(Tagged($"\\section{{First}}\\label{{k0}}{body}", "\\usepackage{xcolor,multicol,longtable}" + (random.Next(2) == 0 ? "\\twocolumn" : "")));
    }

    // ---- what stands against it ------------------------------------------------------------------------------

    [Theory]
    [InlineData("\\includegraphics{p.png}", "p.png: no words say what it shows", 2)]
    [InlineData("\\section{A}\n\n\\subsubsection{B}", "“B” stands 2 levels below", 4)]
    [InlineData("Words.\n\n\\begin{tabular}{ll}\\hline a & b\\\\ \\hline c & d\\\\ \\hline e & f \\\\ \\hline\\end{tabular}", "no row of heads", 4)]
    public void What_stands_against_it_is_said_with_its_place_and_the_file_claims_nothing(string body, string says, int line)
    {
        var files = new FileTree([ManuscriptFile.FromText("main.tex", $"\\documentclass{{article}}\\usepackage{{graphicx}}\\title{{T}}\\begin{{document}}\n{body}\n\\end{{document}}"), new ManuscriptFile("p.png", GreyPng.Of(4, 4))]);
        var snapshot = new ManuscriptSnapshot(files, "main.tex", new DateOnly(2026, 11, 9));
        var compiler = new ManuscriptCompiler();
        AccessPlace place = Assert.Single(compiler.AccessObstacles(snapshot));
        Assert.Contains(says, place.Says, StringComparison.Ordinal);
        Assert.Equal(("main.tex", line), (place.File, place.Line));
        CompileResult result = compiler.CompileTagged(snapshot);
        Assert.False(Claims(Pdf(result)));
        Assert.Equal(place.Says, Assert.Single(HandInChecks.Obstacles(result, HouseRules.Accessible, compiler.AccessObstacles(snapshot))).Says);
        Assert.Empty(HandInChecks.Obstacles(result, HouseRules.Archival, compiler.AccessObstacles(snapshot)));
    }

    [Theory]
    [InlineData("\\includegraphics[alt={A wall}]{p.png}")]
    // Empty words say that it only decorates.
    [InlineData("\\includegraphics[alt={}]{p.png}")]
    [InlineData("\\section{A}\\subsection{B}\\section{C}\\subsection{D}")]
    [InlineData("\\begin{tabular}{ll}a & b\\\\ c & d\\end{tabular}")]
    public void What_does_not_stand_against_it_lets_it_claim(string body)
    {
        var files = new FileTree([ManuscriptFile.FromText("main.tex", $"\\documentclass{{article}}\\usepackage{{graphicx}}\\title{{T}}\\begin{{document}}\n{body}\n\\end{{document}}"), new ManuscriptFile("p.png", GreyPng.Of(4, 4))]);
        var snapshot = new ManuscriptSnapshot(files, "main.tex", new DateOnly(2026, 11, 9));
        Assert.Empty(new ManuscriptCompiler().AccessObstacles(snapshot));
        Assert.True(Claims(Pdf(new ManuscriptCompiler().CompileTagged(snapshot))));
    }

    [Fact]
    public void A_manuscript_without_a_title_and_a_sign_in_no_font_stand_against_it()
    {
        var snapshot = new ManuscriptSnapshot(new FileTree([ManuscriptFile.FromText("main.tex", "\\documentclass{article}\\begin{document}Words.\\end{document}")]), "main.tex", new DateOnly(2026, 11, 9));
        AccessPlace place = Assert.Single(new ManuscriptCompiler().AccessObstacles(snapshot));
        Assert.Contains("no title", place.Says, StringComparison.Ordinal);
        Assert.Null(place.File);
        Assert.False(Claims(Pdf(Tagged("A 𓀀"))));
    }

    [Fact]
    public void The_check_is_made_where_the_rules_ask_for_it()
    {
        CompileResult result = Compiled.Article("Words.");
        HandInCheck? Check(string? flavour, params AccessPlace[] access) =>
            HandInChecks.Run(result, new FileTree([ManuscriptFile.FromText("main.tex", "")]), new HouseRules { Flavour = flavour }, new OpenTalk(0, 0), access).SelectMany(g => g.Checks).FirstOrDefault(c => c.Key == "accessible");
        Assert.Null(Check(null));
        Assert.Null(Check("archival"));
        Assert.Equal(CheckState.Holds, Check("accessible")!.State);
        Assert.Equal(CheckState.Mend, Check("accessible-archival", new AccessPlace("Odd.", "main.tex", 1, 0))!.State);
    }
}
