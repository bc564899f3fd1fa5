using YoungFolio.Bibliography;
using YoungFolio.Compiler;
using YoungFolio.Manuscript.Searching;
using YoungFolio.Manuscript.Sectioning;

namespace YoungFolio.Core.Tests;

/// <summary>Sections that go elsewhere in a manuscript, over the borders of its files, and to other levels.</summary>
public sealed class SectionMoveTests
{
    private static readonly Dictionary<string, string> s_article = new(StringComparer.Ordinal)
    {
        ["main.tex"] = """
            \documentclass{article}
            \newcommand{\x}{\section{not one}}
            \begin{document}
            \maketitle
            \section{A}\label{a}
            Text of A.

            \subsection{A1}
            Text of A1. % \section{not one}

            \section*{B}
            Text of B.

            \section[C]{C}
            Text of C.
            \bibliography{sources}
            \end{document}
            """,
    };

    private static readonly Dictionary<string, string> s_thesis = new(StringComparer.Ordinal)
    {
        ["main.tex"] = """
            \documentclass{report}
            \begin{document}
            \tableofcontents
            \include{chapters/one}
            \input{chapters/two.tex}
            % the third is here
            \chapter{Three}
            Text of three.
            \input{chapters/deep}
            \appendix
            \input{chapters/app}
            \end{document}
            """,
        ["chapters/one.tex"] = "% Chapter one\n\\chapter{One}\nText of one.\n\n\\section{One a}\nText of one a.\n",
        ["chapters/two.tex"] = "\\chapter{Two}\n\\section{Two a}\nText of two a.\n\n\\section{Two b}\nText of two b.\n",
        ["chapters/deep.tex"] = "\\section{Deep}\nText of deep.\n",
        ["chapters/app.tex"] = "\\chapter{App}\nText of app.\n",
        ["unused.tex"] = "\\chapter{Unused}\n",
    };

    private static Dictionary<string, string> Moved(Dictionary<string, string> texts, int section, int? before, int shift = 0)
    {
        var moved = new Dictionary<string, string>(texts, StringComparer.Ordinal);
        foreach ((string path, IReadOnlyList<TextEdit> edits) in TypedSections.Of(texts, "main.tex").Move(section, before, shift))
        {
            string text = texts[path];
            foreach (TextEdit edit in edits.Reverse())
            {
                text = text[..edit.Offset] + edit.Text + text[(edit.Offset + edit.Length)..];
            }

            moved[path] = text;
        }

        return moved;
    }

    /// <summary>The headings as the compiler sees them, with their numbers: nothing else may change by a move.</summary>
    private static string Outline(Dictionary<string, string> texts)
    {
        CompileResult result = Compiled.Files([.. texts.OrderBy(t => t.Key != "main.tex").Select(t => (t.Key, t.Value))]);
        return string.Join(' ', result.Report.Outline.Where(o => o.Title is not ("Contents" or "References" or "Bibliography")).Select(o => $"{o.Number}{(o.Number is null ? "" : ":")}{o.Title}"));
    }

    private static string[] Words(Dictionary<string, string> texts) =>
        [.. texts.Values.SelectMany(t => t.Split([' ', '\n'], StringSplitOptions.RemoveEmptyEntries)).Order(StringComparer.Ordinal)];

    private static string Title(Dictionary<string, string> texts, TypedHeading h) => texts[h.Path][(texts[h.Path].IndexOf('{', h.Offset) + 1)..texts[h.Path].IndexOf('}', h.Offset)];

    [Fact]
    public void Headings_are_read_in_the_order_in_which_files_are_taken_in()
    {
        TypedSections sections = TypedSections.Of(s_thesis, "main.tex");
        Assert.Equal(["0 One", "1 One a", "0 Two", "1 Two a", "1 Two b", "0 Three", "1 Deep", "0 App"], sections.Headings.Select(h => $"{h.Level} {Title(s_thesis, h)}"));
        Assert.Equal(["1 A", "2 A1", "1 B", "1 C"], TypedSections.Of(s_article, "main.tex").Headings.Select(h => $"{h.Level} {Title(s_article, h)}"));
        Assert.Equal(0, sections.Top);
    }

    [Fact]
    public void A_place_comes_behind_the_headings_before_it()
    {
        TypedSections sections = TypedSections.Of(s_thesis, "main.tex");
        int Before(string path, string words) => sections.CountBefore(path, s_thesis[path].IndexOf(words, StringComparison.Ordinal));
        Assert.Equal([0, 1, 1, 2, 5, 7], [Before("main.tex", "\\tableofcontents"), Before("chapters/one.tex", "Text of one."), Before("chapters/one.tex", "\\section{One a}"), Before("main.tex", "\\input{chapters/two"), Before("main.tex", "\\chapter{Three}"), Before("main.tex", "\\appendix")]);
    }

    [Theory]
    [InlineData(0, 3, "B 1:A 1.1:A1 2:C")]
    [InlineData(0, 4, "B 1:C 2:A 2.1:A1")]
    [InlineData(3, 0, "1:C 2:A 2.1:A1 B")]
    [InlineData(1, 3, "1:A B 1.1:A1 2:C")]
    [InlineData(2, 1, "1:A B 1.1:A1 2:C")]
    [InlineData(1, 0, "0.1:A1 1:A B 2:C")]
    public void A_section_goes_with_all_that_belongs_to_it(int section, int before, string outline)
    {
        Dictionary<string, string> moved = Moved(s_article, section, before);
        Assert.Equal(outline, Outline(moved));
        Assert.Equal(Words(s_article), Words(moved));
        Assert.DoesNotContain("\n\n\n", moved["main.tex"], StringComparison.Ordinal);
    }

    [Theory]
    [InlineData(0, 0)]
    [InlineData(0, 1)]
    [InlineData(0, 2)]
    public void Nothing_happens_where_it_stands_already(int section, int before) => Assert.Equal(s_article["main.tex"], Moved(s_article, section, before)["main.tex"]);

    [Theory]
    [InlineData(3, null, 1, "1:A 1.1:A1 B 1.2:C")]
    [InlineData(1, null, -1, "1:A 2:A1 B 3:C")]
    [InlineData(0, null, 1, "0.1:A 0.1.1:A1 B 1:C")]
    [InlineData(3, 1, 1, "1:A 1.1:C 1.2:A1 B")]
    public void Levels_change_for_all_that_is_below(int section, int? before, int shift, string outline) => Assert.Equal(outline, Outline(Moved(s_article, section, before, shift)));

    [Theory]
    [InlineData(0, 5, "1:Two 1.1:Two a 1.2:Two b 2:One 2.1:One a 3:Three 3.1:Deep A:App", @"\input{chapters/two.tex}|\include{chapters/one}")]
    [InlineData(2, 0, "1:Two 1.1:Two a 1.2:Two b 2:One 2.1:One a 3:Three 3.1:Deep A:App", @"\input{chapters/two.tex}|\include{chapters/one}")]
    [InlineData(5, 2, "1:One 1.1:One a 2:Three 2.1:Deep 3:Two 3.1:Two a 3.2:Two b A:App", @"\chapter{Three}|\input{chapters/deep}|\input{chapters/two.tex}")]
    [InlineData(4, 2, "1:One 1.1:One a 1.2:Two b 2:Two 2.1:Two a 3:Three 3.1:Deep A:App", null)]
    [InlineData(6, 4, "1:One 1.1:One a 2:Two 2.1:Two a 2.2:Deep 2.3:Two b 3:Three A:App", null)]
    [InlineData(1, 7, "1:One 2:Two 2.1:Two a 2.2:Two b 3:Three 3.1:Deep 3.2:One a A:App", null)]
    [InlineData(2, 8, "1:One 1.1:One a 2:Three 2.1:Deep A:App B:Two B.1:Two a B.2:Two b", null)]
    public void Files_go_along_and_sections_cross_their_borders(int section, int before, string outline, string? lines)
    {
        Dictionary<string, string> moved = Moved(s_thesis, section, before);
        Assert.Equal(outline, Outline(moved));
        Assert.Equal(Words(s_thesis), Words(moved));
        if (lines is not null)
        {
            int at = 0;
            foreach (string line in lines.Split('|'))
            {
                at = moved["main.tex"].IndexOf(line, at, StringComparison.Ordinal);
                Assert.True(at >= 0, moved["main.tex"]);
            }
        }
    }

    [Fact]
    public void A_chapter_that_goes_in_takes_along_the_levels_of_the_files_it_takes_in()
    {
        Dictionary<string, string> moved = Moved(s_thesis, 5, null, 1);
        Assert.Equal("1:One 1.1:One a 2:Two 2.1:Two a 2.2:Two b 2.3:Three 2.3.1:Deep A:App", Outline(moved));
        Assert.StartsWith("\\subsection{Deep}", moved["chapters/deep.tex"], StringComparison.Ordinal);
    }

    [Theory]
    [InlineData(0, null, -1, "no higher level")]
    [InlineData(0, null, 5, "no lower level")]
    [InlineData(9, 0, 0, "headings have changed")]
    [InlineData(0, 99, 0, "headings have changed")]
    public void What_can_t_be_is_refused_in_words(int section, int? before, int shift, string why) =>
        Assert.Contains(why, Assert.Throws<SearchException>(() => TypedSections.Of(s_article, "main.tex").Move(section, before, shift)).Message, StringComparison.Ordinal);

    [Fact]
    public void A_section_that_goes_on_behind_its_file_is_refused()
    {
        var texts = new Dictionary<string, string>(StringComparer.Ordinal) { ["main.tex"] = "\\documentclass{article}\\begin{document}\n\\input{a}\nGoes on.\n\\section{B}\n\\end{document}", ["a.tex"] = "Before.\n\\section{A}\nBegins.\n" };
        Assert.Contains("begins in a.tex and ends in main.tex", Assert.Throws<SearchException>(() => TypedSections.Of(texts, "main.tex").Move(0, 2, 0)).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Files_that_take_each_other_in_end_somewhere()
    {
        var texts = new Dictionary<string, string>(StringComparer.Ordinal) { ["main.tex"] = "\\begin{document}\\section{A}\\input{a}\\end{document}", ["a.tex"] = "\\section{B}\\input{main}\\input{a}" };
        Assert.Equal(2, TypedSections.Of(texts, "main.tex").Headings.Count);
        var wide = Enumerable.Range(0, 14).ToDictionary(i => i == 0 ? "main.tex" : $"{i}.tex", i => string.Concat(Enumerable.Repeat($"\\input{{{i + 1}}}", 8)), StringComparer.Ordinal);
        Assert.Empty(TimeLimit.Within(2, () => TypedSections.Of(wide, "main.tex").Headings));
    }

    private static Dictionary<string, string> Split(Dictionary<string, string> texts, int section, string? path = null, bool? included = null)
    {
        SectionSplit split = TypedSections.Of(texts, "main.tex").Split(section, path, included);
        return new(texts, StringComparer.Ordinal) { [split.From] = BibText.Apply(texts[split.From], [split.Edit]), [split.Path] = split.Words };
    }

    private static Dictionary<string, string> Folded(Dictionary<string, string> texts, int section)
    {
        SectionFold fold = TypedSections.Of(texts, "main.tex").Fold(section);
        var now = new Dictionary<string, string>(texts, StringComparer.Ordinal) { [fold.Into] = BibText.Apply(texts[fold.Into], [fold.Edit]) };
        now.Remove(fold.Path);
        return now;
    }

    [Theory]
    [InlineData(0, "sections/a.tex", "\\input{sections/a}")]
    [InlineData(1, "sections/a1.tex", "\\input{sections/a1}")]
    [InlineData(2, "sections/b.tex", "\\input{sections/b}")]
    [InlineData(3, "sections/c.tex", "\\input{sections/c}\n\\bibliography")]
    public void A_section_gets_a_file_of_its_own_and_goes_back_as_it_was(int section, string path, string command)
    {
        Dictionary<string, string> split = Split(s_article, section);
        Assert.Contains(command, split["main.tex"], StringComparison.Ordinal);
        Assert.StartsWith("\\", split[path], StringComparison.Ordinal);
        Assert.Equal(Outline(s_article), Outline(split));
        Assert.Equal(s_article["main.tex"], Folded(split, section)["main.tex"]);
    }

    [Fact]
    public void A_chapter_goes_into_the_folder_of_the_others_and_is_included()
    {
        // What the third chapter takes in goes along: its section stays in its own file.
        Dictionary<string, string> split = Split(s_thesis, 5);
        Assert.Contains("\\include{chapters/three}\n\\appendix", split["main.tex"], StringComparison.Ordinal);
        Assert.Equal("% the third is here\n\\chapter{Three}\nText of three.\n\\input{chapters/deep}\n", split["chapters/three.tex"]);
        Assert.Equal(Outline(s_thesis), Outline(split));
        Assert.Equal(s_thesis["main.tex"], Folded(split, 5)["main.tex"]);
        // A section of a chapter that has a file: beside it, by \input, since what is included can't include.
        Dictionary<string, string> deeper = Split(s_thesis, 4);
        Assert.Contains("\n\\input{chapters/two-b}", deeper["chapters/two.tex"], StringComparison.Ordinal);
        Assert.Equal(Outline(s_thesis), Outline(deeper));
        // As the writer wants it.
        Assert.Contains("\\input{parts/drei}", Split(s_thesis, 5, "parts/drei.tex", included: false)["main.tex"], StringComparison.Ordinal);
    }

    [Fact]
    public void A_file_goes_back_with_its_comments_to_where_it_was_taken_in()
    {
        Dictionary<string, string> folded = Folded(s_thesis, 0);
        Assert.Contains("\\tableofcontents\n% Chapter one\n\\chapter{One}\nText of one.\n\n\\section{One a}\nText of one a.\n\\input", folded["main.tex"], StringComparison.Ordinal);
        Assert.Equal(Outline(s_thesis), Outline(folded));
        Assert.Equal(s_thesis["main.tex"], Split(folded, 0, "chapters/one.tex", included: true)["main.tex"]);
        Assert.False(TypedSections.Of(s_thesis, "main.tex").Fold(6).IsIncluded);
    }

    [Fact]
    public void What_has_a_file_or_none_is_refused_as_are_names_that_are_taken()
    {
        Assert.Contains("chapters/one.tex", Assert.Throws<SearchException>(() => Split(s_thesis, 0)).Message, StringComparison.Ordinal);
        Assert.Contains("no file of its own", Assert.Throws<SearchException>(() => Folded(s_thesis, 5)).Message, StringComparison.Ordinal);
        Assert.Contains("no file of its own", Assert.Throws<SearchException>(() => Folded(s_thesis, 1)).Message, StringComparison.Ordinal);
        Assert.Contains("already", Assert.Throws<SearchException>(() => Split(s_thesis, 5, "unused.tex")).Message, StringComparison.Ordinal);
        var twice = new Dictionary<string, string>(s_thesis, StringComparer.Ordinal) { ["main.tex"] = s_thesis["main.tex"].Replace("\\appendix", "\\appendix\n\\input{chapters/deep}\n", StringComparison.Ordinal) };
        Assert.Contains("more than once", Assert.Throws<SearchException>(() => Folded(twice, 6)).Message, StringComparison.Ordinal);
        Assert.Throws<SearchException>(() => Split(s_thesis, 50));
    }
}
