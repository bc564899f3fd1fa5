using YoungFolio.Bibliography;
using YoungFolio.Compiler;

namespace YoungFolio.Core.Tests.Bibliography;

/// <summary>Styles that a manuscript brings: the functions of their language as <em>Designing BibTeX Styles</em> (Patashnik, 1988) has them, and what goes wrong.</summary>
public sealed class StyleProgramTests
{
    private static readonly IReadOnlyList<BibEntry> s_one = BibReader.Read("@misc{k, author={X}, title={T}, note={  }}").Entries;

    private static ListOfSources Run(string program, IReadOnlyList<BibEntry>? entries = null) =>
        SourceList.Make(entries ?? s_one, BibliographyStyle.OfProgram("own", StyleProgram.Read([program])), SourceWords.For("en"));

    // What steps leave on the stack, written as text.
    private static string Result(string steps) => Assert.Single(Run(
        $"ENTRY {{author title note year}} {{}} {{label}} INTEGERS {{n}} STRINGS {{s}} FUNCTION {{x}} {{ \"\\bibitem{{k}} \" write$ {steps} write$ newline$ }} READ ITERATE {{x}}").Sources).Reference;

    [Theory]
    [InlineData("\"ab\" \"cd\" *", "abcd")]
    [InlineData("#3 #4 + int.to.str$", "7")]
    [InlineData("#3 #4 - int.to.str$", "-1")]
    [InlineData("#3 #4 < { \"less\" } { \"more\" } if$", "less")]
    [InlineData("\"a\" \"a\" = { \"same\" } 'title if$", "same")]
    [InlineData("#1 #2 = { \"same\" } 'title if$", "T")]
    [InlineData("\"Done\" add.period$ \"Done.\" add.period$ * \"{Done?}\" add.period$ *", "Done.Done.{Done?}")]
    [InlineData("year missing$ note empty$ + title empty$ + int.to.str$", "2")]
    [InlineData("\"x\" 's := s s *", "xx")]
    [InlineData("#1 'n := { n #4 < } { n #1 + 'n := } while$ n int.to.str$", "4")]
    [InlineData("\"b\" \"a\" swap$ *", "ab")]
    [InlineData("\"b\" duplicate$ *", "bb")]
    [InlineData("\"a\" chr.to.int$ #1 + int.to.chr$", "b")]
    [InlineData("type$ cite$ *", "misck")]
    [InlineData("\"abcdef\" #2 #3 substring$", "bcd")]
    [InlineData("\"abcdef\" #-2 #3 substring$", "cde")]
    [InlineData("\"abc\" #5 #3 substring$ \"!\" *", "!")]
    [InlineData("\"a{\\'e}{bc}\" text.length$ int.to.str$", "4")]
    [InlineData("\"{\\'E}cole {Normale}\" #8 text.prefix$", "{\\'E}cole {No}")]
    [InlineData("\"{\\'E}cole-Su~p! {\\oe}uvre {A$b}\" purify$", "Ecole Su p oeuvre Ab")]
    [InlineData("\"Zoë Łø\" purify$", "Zoe Lo")]
    [InlineData("\"The {TeX} {\\'E}TUDE: A ``Guide'' For\" \"t\" change.case$", "The {TeX} {\\'e}tude: A ``guide'' for")]
    [InlineData("\"The {TeX} {\\OE}\" \"l\" change.case$", "the {TeX} {\\oe}")]
    [InlineData("\"The {TeX} {\\ss}\" \"u\" change.case$", "THE {TeX} {\\ss}")]
    [InlineData("quote$ global.max$ int.to.str$ pop$", "\"")]
    public void Functions_do_what_the_language_says(string steps, string expected) => Assert.Equal(expected, Result(steps));

    // The examples of the description of format.name$ (section 5.4), and names of its section 4.
    [Theory]
    [InlineData("Charles Louis Xavier Joseph de la Vall{\\'e}e Poussin", "{vv~}{ll}{, jj}{, f}?", "de~la Vall{\\'e}e~Poussin, C.~L. X.~J?")]
    [InlineData("Edith M. Rook", "{ff~}{vv~}{ll}{, jj}", "Edith~M. Rook")]
    [InlineData("Jo Rook", "{ff~}{vv~}{ll}", "Jo~Rook")]
    [InlineData("Rook, Jr, Jean-Paul", "{f.~}{vv~}{ll}{, jj}", "J.-P. Rook, Jr")]
    [InlineData("Rook, Jean-Paul", "{f{}}{l}", "JPR")]
    [InlineData("{\\'E}mile van der Zola-Low", "{f. }{v{}}{l{}}", "{\\'E}. vdZL")]
    [InlineData("{World Body}", "{ff~}{ll}", "{World Body}")]
    [InlineData("{World Body}", "{f.~}{l.}", "W.")]
    [InlineData("Ann Maria Low", "{ll}{, ff{ + }}", "Low, Ann + Maria")]
    [InlineData("Ann Low", "{ff~~}{ll}", "Ann~Low")]
    public void Names_are_written_in_a_form(string name, string form, string expected) => Assert.Equal(expected, Result($"\"{name}\" #1 \"{form}\" format.name$"));

    [Fact]
    public void Entries_are_sorted_reversed_and_counted()
    {
        IReadOnlyList<BibEntry> entries = BibReader.Read("@misc{a, title={Two}}@misc{b, title={One}}@misc{c, title={Zwei}}").Entries;
        const string Program = """
            ENTRY {title} {number} {}
            INTEGERS {n}
            FUNCTION {keyed} { title purify$ "l" change.case$ 'sort.key$ := }
            FUNCTION {zero} { #0 'n := }
            FUNCTION {numbered} { n #1 + 'n := n 'number := }
            FUNCTION {printed} { "\bibitem{" cite$ * "} " * title * " " * number int.to.str$ * write$ newline$ }
            READ ITERATE {keyed} SORT EXECUTE {zero} REVERSE {numbered} ITERATE {printed}
            """;
        Assert.Equal(["One 3", "Two 2", "Zwei 1"], Run(Program, entries).Sources.Select(s => s.Reference));
    }

    private static CompileResult Compile(string style, string preamble = "", string body = "\\cite{a}") => Compiled.Files(
        ("main.tex", $"\\documentclass{{article}}{preamble}\\pagestyle{{empty}}\\begin{{document}}{body} \\bibliographystyle{{house}}\\bibliography{{p}}\\end{{document}}"),
        ("p.bib", "@article{a, author={Ann Low and Bo Ng}, title={The Title}, journal={J}, year=2001}@article{b, author={Ann Low and Bo Ng}, title={Other}, journal={J}, year=2001}"), ("house.bst", style));

    private const string House = """
        % A house's own style.
        ENTRY { author journal title year } { } { }
        MACRO {jan} {"I"}
        FUNCTION {article} {
          newline$ "\bibitem{" cite$ * "}" * write$ newline$
          author #1 "{ll}" format.name$ "/" * year * ": \house{" * title * "}. " * write$ newline$
          "{\em " journal * "}" * write$ newline$ }
        FUNCTION {default.type} { article }
        READ
        FUNCTION {begin} { "\newcommand{\house}[1]{<#1>}" write$ newline$ "\begin{thebibliography}{9}" write$ newline$ }
        EXECUTE {begin}
        ITERATE {call.type$}
        FUNCTION {end} { newline$ "\end{thebibliography}" write$ newline$ }
        EXECUTE {end}
        """;

    [Fact]
    public void A_style_that_comes_with_the_manuscript_prints_its_sources()
    {
        CompileResult result = Compile(House);
        Assert.Contains("[1] Low/2001: ¡The Title¿. J", Compiled.Text(result).Replace("<", "¡", StringComparison.Ordinal).Replace(">", "¿", StringComparison.Ordinal), StringComparison.Ordinal);
        Assert.DoesNotContain(result.Report.Findings, f => f.Kind == "fix" || f.Code is "unknown-style" or "style-slip" or "unreadable-style");
    }

    [Fact]
    public void Its_labels_of_names_and_year_are_cited_as_natbib_does()
    {
        string named = House.Replace("\"\\bibitem{\" cite$ * \"}\"", "\"\\bibitem[Low and Ng(\" year * \"{\\natexlab{x}})Low, Ng]{\" * cite$ * \"}\"", StringComparison.Ordinal);
        Assert.StartsWith("Low and Ng (2001x) and Low, Ng (2001x)", Compiled.Text(Compile(named, "\\usepackage{natbib}\\newcommand{\\natexlab}[1]{#1}", "\\citet{a} and \\citet*{a}")), StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("FUNCTION {x} { nothing } READ ITERATE {x}", "unreadable-style", "“nothing” is no function")]
    [InlineData("FUNCTION {x} { { #1 } { } while$ } READ EXECUTE {x}", "style-slip", "doesn't come to an end")]
    [InlineData("FUNCTION {x} { x } READ EXECUTE {x}", "style-slip", "without an end")]
    [InlineData("STRINGS {s} FUNCTION {x} { \"ab\" 's := { #1 } { s s * 's := } while$ } READ EXECUTE {x}", "style-slip", "grow without an end")]
    [InlineData("FUNCTION {x} { + write$ } READ EXECUTE {x}", "style-slip", "is missing")]
    [InlineData("FUNCTION {x} { \"a READ", "unreadable-style", "isn't closed")]
    [InlineData("This is no style.", "unreadable-style", "no command of the language")]
    [InlineData("READ", "style-slip", "prints no source")]
    public void What_is_wrong_with_a_style_is_said_and_the_sources_print(string style, string code, string message)
    {
        CompileResult result = Compile(style);
        Assert.Contains(message, Assert.Single(result.Report.Findings, f => f.Code == code).Message, StringComparison.Ordinal);
        Assert.Contains("Ann Low and Bo Ng. The title. J, 2001.", Compiled.Text(result), StringComparison.Ordinal);
    }

    [Fact]
    public void A_slip_is_said_where_it_stands()
    {
        FindingLine unread = Assert.Single(Compile("READ\nFUNCTION {x} { nothing }\nITERATE {x}").Report.Findings, f => f.Code == "unreadable-style");
        Assert.Equal(("house.bst", 2), (unread.File, unread.Line!.Value));
        FindingLine slip = Assert.Single(Compile("READ").Report.Findings, f => f.Code == "style-slip");
        Assert.Equal(("main.tex", "\\bibliographystyle".Length), (slip.File, slip.Length));
    }

    // Styles with letters gone, doubled or in another's place end, whatever they print.
    [Fact]
    public void Broken_styles_end()
    {
        var random = new Random(5);
        IReadOnlyList<BibEntry> entries = BibReader.Read("@article{a, author={Ann Low and Bo Ng}, title={The Title}, year=2001}@book{b, editor={X and others}, title={{Y}}}").Entries;
        for (int i = 0; i < 2_000; i++)
        {
            char[] signs = House.ToCharArray();
            for (int k = 0; k < 6; k++)
            {
                signs[random.Next(signs.Length)] = random.Next(3) == 0 ? "{}#\"'$ *"[random.Next(8)] : signs[random.Next(signs.Length)];
            }

            Assert.InRange(Run(new string(signs), entries).Sources.Count, 0, 2);
        }
    }
}
