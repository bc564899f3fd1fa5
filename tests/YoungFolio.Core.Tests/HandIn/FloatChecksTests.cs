using System.Text;
using YoungFolio.Compiler;
using YoungFolio.HandIn;
using YoungFolio.Markup;

namespace YoungFolio.Core.Tests.HandIn;

/// <summary>Checks of figures and tables before handing in, and figures as files of their own.</summary>
public class FloatChecksTests
{
    private static readonly ManuscriptCompiler s_compiler = new();

    // Where it begins is told, not where it ends.
    [Theory]
    [InlineData("\\begin{figure}\nx\n\\end{figure}", 4)]
    [InlineData("\n\\begin{table}\n\\begin{center}x\\end{center}\n\\end{table}", 5)]
    [InlineData("\\begin{wrapfigure}{l}{3cm}\nx\n\\end{wrapfigure}", 4)]
    [InlineData("\\begin{shown}\nx\n\\end{shown}", 4)]
    public void A_float_without_a_caption_is_found(string body, int line)
    {
        CheckPlace place = Assert.Single(Check(body, "captions").Places);
        Assert.Equal(("main.tex", line), (place.File, place.Line));
    }

    [Theory]
    [InlineData("\\begin{figure}x\\caption{c}\\end{figure}")]
    [InlineData("\\begin{figure}x\\caption*{c}\\end{figure}")]
    [InlineData("\\begin{figure}\\begin{minipage}{3cm}x\\caption{c}\\end{minipage}\\end{figure}")]
    [InlineData("\\begin{figure}\\parbox{3cm}{\\captionof{table}{c}}\\end{figure}")]
    [InlineData("\\begin{figure}\\subfloat[c]{x}\\end{figure}")]
    [InlineData("\\begin{figure}\\named{c}\\end{figure}")]
    [InlineData("\\begin{wrapfigure}{l}{3cm}x\\caption{c}\\end{wrapfigure}")]
    [InlineData("% \\begin{figure}x\\end{figure}")]
    public void A_caption_counts_in_whatever_box_and_by_whatever_command_it_comes(string body) => Assert.Empty(Check(body, "captions").Places);

    [Theory]
    [InlineData("See \\ref{a} and \\ref{b}.", "")]
    [InlineData("See \\ref{b} and \\ref{a}.", "figure 2 before figure 1")]
    [InlineData("See \\ref{b}.", "")]
    [InlineData("See \\ref{t}, \\ref{a}, \\ref{b}.", "")]
    [InlineData("See \\ref{part} and \\ref{a}.", "figure 3 before figure 1")]
    [InlineData("See \\ref{a}, \\ref{b}, \\ref{part}, \\ref{c}.", "")]
    public void Figures_are_mentioned_in_their_order(string mentions, string says)
    {
        const string Floats = "\\begin{figure}x\\caption{c}\\label{a}\\end{figure}\\begin{figure}x\\caption{c}\\label{b}\\end{figure}\\begin{figure}\\subfloat[p\\label{part}]{x}\\caption{c}\\label{c}\\end{figure}\\begin{table}x\\caption{c}\\label{t}\\end{table}";
        HandInCheck check = Check(mentions + Floats, "mention-order");
        Assert.Equal(says, string.Join(", ", check.Places.Select(p => p.Says)));
        Assert.Equal(says.Length == 0 ? CheckState.Holds : CheckState.Look, check.State);
        Assert.All(check.Places, p => Assert.Equal(4, p.Line));
    }

    // Widow and orphan as The TeXbook, ch. 15, has them: the last line of a paragraph at a page's top, the first at its foot.
    [Theory]
    [InlineData(7, "")]
    [InlineData(8, "a paragraph’s last line at the top")]
    [InlineData(9, "a paragraph’s first line at the foot")]
    [InlineData(10, "")]
    public void A_line_that_stands_alone_is_found(int before, string says)
    {
        // A page of ten lines, of which the paragraph of three comes after so many; costs of lone lines are taken away.
        string lines = string.Concat(Enumerable.Range(0, before).Select(i => $"\\noindent line {i}\\par\n"));
        HandInCheck check = Check($"\\clubpenalty=0 \\widowpenalty=0 \\parskip=0pt {lines}\\noindent one\\\\two\\\\three\\par\n\\noindent rest", "lone-lines", $"\\usepackage[a5paper,lines=10]{{geometry}}\\raggedbottom");
        Assert.Equal(says, string.Join(", ", check.Places.Select(p => p.Says)));
        Assert.All(check.Places, p => Assert.Equal(4 + before, p.Line));
    }

    [Fact]
    public void Pictures_come_apart_by_the_numbers_of_their_figures()
    {
        byte[] one = GreyPng.Of(3, 3), two = GreyPng.Of(4, 4), three = GreyPng.Of(5, 5);
        (FileTree files, CompileResult proof) = Compile(
            "\\includegraphics{one}\\begin{figure}\\includegraphics{one}\\caption{A \\emph{wall}}\\end{figure}"
            + "\\begin{figure}\\subfloat[x]{\\includegraphics{one}}\\subfloat[y]{\\includegraphics{two}}\\caption{Two parts}\\end{figure}"
            + "\\begin{figure}\\parbox{2cm}{\\includegraphics{two}\\caption{Left}}\\parbox{2cm}{\\includegraphics{three}\\caption{Right}}\\end{figure}"
            + "\\begin{figure}drawn\\caption{Words}\\end{figure}\\begin{table}x\\caption{No picture}\\end{table}",
            "", ("one.png", one), ("figures/two.PNG", two), ("three.png", three));
        IReadOnlyList<(string Path, ReadOnlyMemory<byte> Bytes)> apart = FiguresApart.Of(proof, files);
        Assert.Equal(["captions.txt", "figure-1.png", "figure-2a.png", "figure-2b.png", "figure-3.png", "figure-4.png"], apart.Select(f => f.Path));
        Assert.Equal([one, one, two, two, three], apart.Skip(1).Select(f => f.Bytes.ToArray()));
        Assert.Equal(
            "Figure 1: A wall\n  figure-1.png (one.png)\n\nFigure 2: Two parts\n  figure-2a.png (one.png)\n  figure-2b.png (figures/two.PNG)\n\nFigure 3: Left\nFigure 4: Right\n  figure-3.png (figures/two.PNG)\n  figure-4.png (three.png)\n\nFigure 5: Words\n  is drawn in the text, and has no file of its own\n\n",
            Encoding.UTF8.GetString(apart[0].Bytes.Span));
    }

    [Fact]
    public void Without_figures_the_list_says_so()
    {
        (FileTree files, CompileResult proof) = Compile("A");
        Assert.Equal("No figure has a caption with a number.\n", Encoding.UTF8.GetString(Assert.Single(FiguresApart.Of(proof, files)).Bytes.Span));
    }

    private static HandInCheck Check(string body, string key, string preamble = "")
    {
        (FileTree files, CompileResult proof) = Compile(body, preamble);
        return Of(proof, files, key);
    }

    private static HandInCheck Of(CompileResult proof, FileTree files, string key) => HandInChecks.Run(proof, files, new HouseRules(), new OpenTalk(0, 0)).SelectMany(g => g.Checks).Single(c => c.Key == key);

    private static (FileTree Files, CompileResult Proof) Compile(string body, string preamble = "", params (string Path, byte[] Bytes)[] more)
    {
        const string Own = "\\usepackage{graphicx,subfig,caption,wrapfig}\\graphicspath{{figures/}}\\newcommand{\\named}[1]{x\\caption{#1}}\\newenvironment{shown}{\\begin{figure}}{\\end{figure}}";
        var files = new FileTree([ManuscriptFile.FromText("main.tex", $"\\documentclass{{article}}\n{Own}{preamble}\n\\begin{{document}}\n{body}\n\\end{{document}}\n"), .. more.Select(f => new ManuscriptFile(f.Path, f.Bytes))]);
        return (files, s_compiler.Compile(new ManuscriptSnapshot(files, "main.tex", new DateOnly(2026, 11, 9))));
    }
}
