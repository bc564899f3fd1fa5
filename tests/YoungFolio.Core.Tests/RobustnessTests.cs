using System.Diagnostics;
using System.Text;
using YoungFolio.Compiler;
using YoungFolio.Manuscript.Building;
using YoungFolio.Manuscript.Classes;
using YoungFolio.Manuscript.Packages;
using YoungFolio.Markup;
using YoungFolio.Typesetting;

namespace YoungFolio.Core.Tests;

/// <summary>Tests that take both processors or look at the clock run alone.</summary>
[CollectionDefinition("alone", DisableParallelization = true)]
public class Alone;

/// <summary>No input crashes, hangs or fills memory: 20,000 manuscripts of random tokens, of random commands, and of demo files with slips.</summary>
[Collection("alone")]
public class RobustnessTests
{
    private static readonly string[] s_soup = ["\\begin{", "\\end{", "equation}", "itemize}", "verbatim}", "quote}", "{", "}", "$", "$$", "&", "\\\\", "#1", "^", "_", "\\frac", "\\left(", "\\right",
        "\\item ", "\\def\\a", "\\a", "\\section{", "\\footnote{", "[", "]", "\n\n", "word ", "%", "\\ifnum1<2 ", "\\else ", "\\fi ", "\\label{x}", "\\ref{x}", "\\csname ", "\\endcsname ",
        "\\expandafter", "\\let\\b=", "\\sqrt[", "align}", "\\[", "\\]", "\\verb|", "~", "\\ ", "\\caption{", "figure}", "\\edef\\b{", "\\noexpand", "\\the", "\\numexpr", "1+", "\\setbox0=\\hbox{", "\\box0 ",
        "\\catcode`\\a=13 ", "\\uppercase{", "\\futurelet\\c", "\\newcommand\\d[1]{", "\\d", "\\loop", "\\repeat", "\\input{x}", "\\NewDocumentCommand\\e{o m}{", "\\e", "\\everypar{", "\\aftergroup",
        "\\hskip 1pt plus ", "1fil ", "\\parshape 2 ", "\\romannumeral", "\\chapter{", "\\appendix ", "\\index{", "\\printindex ", "\\cref{x,y}", "\\lstinline|", "\\gls{", "\\enquote{", "\\begin{thm}", "\\qedhere "];

    [Fact]
    public void Twenty_thousand_damaged_manuscripts_give_a_tree_each()
    {
        string[] commands = Commands();
        List<ManuscriptFile> thesis = DemoManuscripts.Thesis();
        var compiler = new ManuscriptCompiler();
        var measure = new TextMeasure(new TypesettingResources());
        var failures = new System.Collections.Concurrent.ConcurrentQueue<string>();
        long before = GC.GetTotalMemory(true);
        long most = before;
        int next = -1;
        Thread[] workers = [.. Enumerable.Range(0, 2).Select(_ => new Thread(() =>
        {
            for (int i = Interlocked.Increment(ref next); i < 20_000; i = Interlocked.Increment(ref next))
            {
                var random = new Random(i);
                FileTree files = (i % 5) switch
                {
                    0 or 1 => Soup(random),
                    2 => Mixed(random, commands),
                    _ => Mutated(random, thesis),
                };
                var clock = Stopwatch.StartNew();
                try
                {
                    if (i % 40 == 0)
                    {
                        Assert.True(compiler.Compile(new ManuscriptSnapshot(files, "main.tex", new DateOnly(2026, 11, 25))).Report.Pages >= 1);
                    }
                    else
                    {
                        DocumentBuilder.Build(files, new BuildOptions("main.tex", new DateOnly(2026, 11, 25), measure), new FindingLog());
                    }
                }
                catch (Exception e)
                {
                    failures.Enqueue($"MESSAGE case {i}: {e.GetType().Name} {e.Message} {e.StackTrace?.Split('\n').FirstOrDefault(l => l.Contains("YoungFolio", StringComparison.Ordinal))}");
                }

                // Four times the limit: the machine may be busy.
                if (clock.Elapsed > TimeSpan.FromSeconds(40))
                {
                    failures.Enqueue($"MESSAGE case {i}: {clock.Elapsed}");
                }

                if (i % 500 == 0)
                {
                    most = Math.Max(most, GC.GetTotalMemory(false));
                }
            }
        }, 64 * 1024 * 1024))];
        foreach (Thread worker in workers)
        {
            worker.Start();
        }

        foreach (Thread worker in workers)
        {
            worker.Join();
        }

        Assert.True(failures.IsEmpty, $"MESSAGE {failures.Count} failures\n" + string.Join('\n', failures.Take(12)));
        Assert.True(most - before < 1_500_000_000, $"{(most - before) / 1e6} MB");
    }

    private static FileTree Soup(Random random)
    {
        var text = new StringBuilder("\\documentclass{report}\n\\usepackage{amsmath,amsthm,cleveref,listings,makeidx,glossaries,csquotes}\\newtheorem{thm}{T}\\makeindex\n\\begin{document}\n");
        for (int i = 0; i < 60; i++)
        {
            text.Append(s_soup[random.Next(s_soup.Length)]);
        }

        return new FileTree([ManuscriptFile.FromText("main.tex", text.Append("\n\\end{document}\n").ToString())]);
    }

    // Every command that the kernel or a package gives, with random arguments, under a random class.
    private static FileTree Mixed(Random random, string[] commands)
    {
        string[] packages = [.. Enumerable.Range(0, 6).Select(_ => PackageCatalogue.All[random.Next(PackageCatalogue.All.Count)].Name)];
        var text = new StringBuilder($"\\documentclass{{{ClassCatalogue.All[random.Next(ClassCatalogue.All.Count)].Name}}}\n\\usepackage{{{string.Join(',', packages)}}}\n\\begin{{document}}\n");
        for (int i = 0; i < 40; i++)
        {
            text.Append('\\').Append(commands[random.Next(commands.Length)]);
            for (int a = random.Next(4); a > 0; a--)
            {
                text.Append((string[])["{x}", "{3}", "[y]", "{2pt}", "{a,b=c}", " ", "*", "{\\a}", "=", "1", "(1,2)", "{$x$}"] is var arguments ? arguments[random.Next(arguments.Length)] : "");
            }

            text.Append(random.Next(6) == 0 ? "\n\n" : " ");
        }

        return new FileTree([ManuscriptFile.FromText("main.tex", text.Append("\n\\end{document}\n").ToString())]);
    }

    private static FileTree Mutated(Random random, List<ManuscriptFile> files)
    {
        var result = new List<ManuscriptFile>(files);
        for (int slips = 1 + random.Next(4); slips > 0; slips--)
        {
            int at = random.Next(result.Count);
            if (!result[at].Path.EndsWith(".tex", StringComparison.Ordinal) && !result[at].Path.EndsWith(".bib", StringComparison.Ordinal))
            {
                continue;
            }

            string text = result[at].Text;
            int from = random.Next(text.Length);
            int length = Math.Min(random.Next(12), text.Length - from);
            text = random.Next(4) switch
            {
                0 => text.Remove(from, length),
                1 => text.Insert(from, text.Substring(random.Next(text.Length / 2), Math.Min(40, text.Length / 2))),
                2 => text.Insert(from, s_soup[random.Next(s_soup.Length)]),
                _ => text[..from] + text[^Math.Min(200, text.Length)..],
            };
            result[at] = ManuscriptFile.FromText(result[at].Path, text);
        }

        // Most of the chapters that are as they were stay out: they are read in every other case too.
        return new FileTree(result.Select(p => files.Contains(p) && p.Path.StartsWith("chapters/", StringComparison.Ordinal) && random.Next(5) > 0 ? ManuscriptFile.FromText(p.Path, "") : p));
    }

    private static string[] Commands()
    {
        var machine = new Machine(new FindingLog());
        return [.. MarkupRegistry.KernelCommands.Concat(PackageCatalogue.AllCommands).Concat(machine.Symbols.DefinedNames).Where(n => n.All(char.IsAsciiLetter)).Distinct()];
    }

    [Theory]
    [InlineData("\\def\\a{\\a}\\a", "endless-macro")]
    [InlineData("\\def\\a{\\b}\\def\\b{x\\a}\\a", "endless-macro")]
    [InlineData("\\loop\\iftrue\\repeat", "endless-macro")]
    [InlineData("\\newcommand\\a[1]{\\a{#1#1}}\\a{xx}", "endless-macro|too-much-text")]
    [InlineData("\\makeatletter\\@whilenum 1=1\\do{x}", "endless-macro")]
    [InlineData("\\edef\\a{\\csname a\\endcsname}\\def\\b{\\csname b\\endcsname}\\b", "endless-macro")]
    [InlineData("\\everypar{\\par x}x", "endless-macro|nested-too-deep")]
    [InlineData("\\newenvironment{e}{\\begin{e}}{\\end{e}}\\begin{e}x\\end{e}", "endless-macro|nested-too-deep")]
    [InlineData("\\def\\a{{\\a}}\\a", "endless-macro|nested-too-deep")]
    [InlineData("\\def\\a{\\footnote{\\a}}\\a", "endless-macro|nested-too-deep")]
    [InlineData("\\def\\a{$\\a$}\\a", "endless-macro|nested-too-deep")]
    [InlineData("\\count0=0 \\loop\\advance\\count0 by 1 x\\newpage\\ifnum\\count0<2000000 \\repeat", "too-many-pages|endless-macro|too-much-text")]
    public void What_repeats_without_end_is_a_finding_within_two_seconds(string body, string codes)
    {
        Compiled.Body("Warm.");
        CompileResult result = TimeLimit.Within(2, () => Compiled.Body("Before.\n\n" + body + "\n\nAfter."));
        Assert.Contains(result.Report.Findings, f => f.Kind == "fix" && codes.Split('|').Contains(f.Code));
        Assert.Contains("Before.", Compiled.Text(result));
    }

    [Theory]
    [InlineData("lichen ")]
    [InlineData("x")]
    [InlineData("{")]
    [InlineData("\\emph{")]
    public void A_line_of_five_megabytes_is_a_finding_within_two_seconds(string piece)
    {
        Compiled.Body("Warm.");
        string line = string.Concat(Enumerable.Repeat(piece, 5_000_000 / piece.Length));
        CompileResult result = TimeLimit.Within(2, () => Compiled.Files(
            ("main.tex", "\\documentclass{article}\n\\begin{document}\n" + line + "\n\nAfter.\n\\end{document}\n")));
        Assert.Contains(result.Report.Findings, f => f.Code is "line-too-large" or "nested-too-deep" && f.Line == 3);
    }

    [Theory]
    [InlineData("\\def\\a{\\a}\\a\n\nafter", "endless-macro")]
    [InlineData("\\def\\a{\\a\\a}\\a\n\nafter", "endless-macro")]
    [InlineData("\\def\\a{x\\a}\\a\n\nafter", "endless-macro")]
    public void A_macro_that_calls_itself_is_a_finding_within_two_seconds(string body, string code)
    {
        CompileResult result = TimeLimit.Within(2, () => Compiled.Body(body));
        Assert.Contains(code, Compiled.Codes(result));
        Assert.Contains("after", Compiled.Text(result));
    }

    [Theory]
    [InlineData("\\pagestyle{headings}\\markboth{\\leftmark}{\\rightmark}")]
    [InlineData("\\pagestyle{headings}\\markboth{\\rightmark x}{\\fbox{\\leftmark}}")]
    [InlineData("\\pagestyle{headings}\\markright{\\mbox{\\rightmark}}\\section{A \\leftmark}")]
    public void A_mark_that_asks_for_marks_does_not_ask_for_itself_without_end(string body)
    {
        CompileResult result = TimeLimit.Within(2, () => Compiled.Body(body + " Before.\\newpage After."));
        Assert.Equal(2, result.Report.Pages);
        Assert.Contains("After.", Compiled.Text(result), StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("")]
    [InlineData("\\mathrm{}")]
    [InlineData("\\mbox{}")]
    [InlineData("\\char0 ")]
    [InlineData("\\symbol{55296}")]
    public void An_accent_over_nothing_is_set(string content)
    {
        foreach (string accent in (string[])["hat", "bar", "vec", "widehat", "dot", "overline"])
        {
            CompileResult result = Compiled.Body($"Before $\\{accent}{{{content}}} \\frac{{\\{accent}{{{content}}}}}{{x}}_{{{content}}}^{{{content}}}$ after.");
            Assert.Contains("after.", Compiled.Text(result), StringComparison.Ordinal);
        }
    }

    [Fact]
    public void The_first_character_of_any_text_has_a_number() =>
        Assert.Equal([0, 'a', 0x1D465, 0xFFFD], ((string[])["", "ab", "\ud835\udc65b", "\ud835"]).Select(FirstCharacter.Of));

    [Theory]
    [InlineData("{", 20_000)]
    [InlineData("$", 20_000)]
    [InlineData("\\begin{quote}", 5_000)]
    [InlineData("\\frac{", 20_000)]
    [InlineData("\\footnote{", 5_000)]
    [InlineData("\\ifnum1=1 ", 20_000)]
    [InlineData("\\left(", 5_000)]
    [InlineData("[", 20_000)]
    [InlineData("\\item", 20_000)]
    [InlineData("\\section{x}", 3_000)]
    public void Deep_nesting_ends_with_a_proof(string piece, int times)
    {
        CompileResult result = TimeLimit.Within(10, () => Compiled.Body("Before.\n\n" + string.Concat(Enumerable.Repeat(piece, times))));
        Assert.Contains("Before.", Compiled.Text(result));
    }
}
