using YoungFolio.Compiler;
using YoungFolio.Markup;

namespace YoungFolio.Core.Tests;

/// <summary>Whole manuscripts: the demo thesis, edited, damaged and led through.</summary>
public class ManuscriptTests
{
    private static readonly ManuscriptCompiler s_compiler = new();

    [Fact]
    public void The_demo_thesis_has_its_chapters_and_only_the_findings_left_in()
    {
        CompileReport report = s_compiler.Compile(DemoManuscripts.Snapshot(DemoManuscripts.Thesis())).Report;
        Assert.Equal(["1", "2", "3", "4", "5", "6", "A", "B", "C"], report.Outline.Where(o => o is { Level: 0, Number: not null }).Select(o => o.Number!));
        Assert.Equal(["missing-source", "missing-label", "incomplete-source", "uncited-sources"], report.Findings.Where(f => f.Kind != "layout").Select(f => f.Code));
        Assert.Equal(6, report.Floats.Count(f => f.Kind == "figure"));
        Assert.Equal(["4.1", "B.1", "C.1"], report.Floats.Where(f => f is { Kind: "table", Caption: not "" } && f.Number is not null).Select(f => f.Number!).Distinct());
        Assert.Equal(38, report.Bibliography.Count);
        Assert.All(report.Packages, p => Assert.True(p.Known));
        Assert.Equal("i", report.Outline[0].Page);
    }

    [Theory]
    [InlineData("article", 2, 4)]
    [InlineData("letter", 1, 1)]
    [InlineData("book", 101, 160)]
    public void The_other_demo_manuscripts_have_nothing_to_mend(string name, int fewest, int most)
    {
        CompileReport report = s_compiler.Compile(DemoManuscripts.Snapshot(DemoManuscripts.Of(name))).Report;
        Assert.Equal(name, report.Class);
        Assert.InRange(report.Pages, fewest, most);
        Assert.Empty(report.Findings.Where(f => f.Kind != "layout").Select(f => f.Message));
    }

    [Fact]
    public void The_demo_thesis_without_its_figures_is_a_small_file()
    {
        List<ManuscriptFile> files = [.. DemoManuscripts.Thesis().Where(p => !p.Path.StartsWith("figures/", StringComparison.Ordinal))];
        Assert.InRange(s_compiler.Compile(DemoManuscripts.Snapshot(files)).Pdf.Length, 1, 400_000);
    }

    [Fact]
    public void An_incremental_compile_gives_the_bytes_of_a_cold_one()
    {
        var random = new Random(41);
        List<ManuscriptFile> files = DemoManuscripts.Thesis();
        CompileResult? last = null;
        for (int i = 0; i < 12; i++)
        {
            int chosen = Enumerable.Range(0, files.Count).Where(p => files[p].Path.StartsWith("chapters/", StringComparison.Ordinal)).OrderBy(_ => random.Next()).First();
            string text = files[chosen].Text;
            int at = text.IndexOf(". ", random.Next(text.Length / 2), StringComparison.Ordinal) + 2;
            string insert = (i % 4) switch { 0 => "Added words. ", 1 => "$x^2$ ", 2 => "\n\n\\section{Added}\nIts text. ", _ => "A note\\footnote{Added.} here. " };
            files[chosen] = ManuscriptFile.FromText(files[chosen].Path, text.Insert(at, insert));
            last = s_compiler.Compile(DemoManuscripts.Snapshot(files), last);
            byte[] cold = new ManuscriptCompiler().Compile(DemoManuscripts.Snapshot(files)).Pdf;
            Assert.True(cold.AsSpan().SequenceEqual(last.Pdf), $"edit {i} of {files[chosen].Path}");
        }
    }

    [Fact]
    public void A_damaged_manuscript_still_gives_a_whole_proof()
    {
        var random = new Random(8);
        List<ManuscriptFile> files = DemoManuscripts.Thesis();
        for (int i = 0; i < 60; i++)
        {
            var damaged = new List<ManuscriptFile>(files);
            for (int k = 0; k < 3; k++)
            {
                int chosen = random.Next(files.Count);
                if (files[chosen].Path.EndsWith(".tex", StringComparison.Ordinal))
                {
                    string text = files[chosen].Text;
                    int at = random.Next(text.Length - 20);
                    damaged[chosen] = ManuscriptFile.FromText(files[chosen].Path, random.Next(3) switch
                    {
                        0 => text.Remove(at, random.Next(1, 20)),
                        1 => text.Insert(at, "{}$\\%&^_#~"[random.Next(10)].ToString()),
                        _ => text[..at],
                    });
                }
            }

            CompileResult result = s_compiler.Compile(DemoManuscripts.Snapshot(damaged));
            Assert.True(result.Report.Pages >= 1);
            Assert.True(result.Report.Findings.Count < 400);
        }
    }

    // One slip at a time in random places: the first finding to fix names its line, or the place where it began.
    [Fact]
    public void One_slip_in_the_thesis_is_found_where_it_was_made()
    {
        var random = new Random(3);
        List<ManuscriptFile> clean = [.. DemoManuscripts.Thesis().Select(p => p.Path is "chapters/clock.tex" or "chapters/walls.tex"
            ? ManuscriptFile.FromText(p.Path, p.Text.Replace(",tarn2020", "", StringComparison.Ordinal).Replace("\\ref{sec:rule}", "\\ref{ch:why}", StringComparison.Ordinal)) : p)];
        Assert.DoesNotContain(s_compiler.Compile(DemoManuscripts.Snapshot(clean)).Report.Findings, f => f.Kind == "fix");
        (string Find, string Put)[] slips = [("\\emph{", "\\emhp{"), ("\\end{equation}", ""), ("\\end{itemize}", "\\end{itemise}"), ("\\section{", "\\section("), ("\\textbf{", "\\textbf"), ("\\label{", "\\lable{")];
        int right = 0;
        int tried = 0;
        for (int i = 0; i < 40; i++)
        {
            (string find, string put) = slips[random.Next(slips.Length)];
            int[] places = [.. Enumerable.Range(0, clean.Count).Where(p => clean[p].Path.StartsWith("chapters/", StringComparison.Ordinal) && clean[p].Text.Contains(find, StringComparison.Ordinal))];
            int chosen = places[random.Next(places.Length)];
            string text = clean[chosen].Text;
            int at = text.IndexOf(find, random.Next(text.LastIndexOf(find, StringComparison.Ordinal) + 1), StringComparison.Ordinal);
            int line = text[..at].Count(c => c == '\n') + 1;
            var files = new List<ManuscriptFile>(clean) { [chosen] = ManuscriptFile.FromText(clean[chosen].Path, text.Remove(at, find.Length).Insert(at, put)) };
            FindingLine? first = s_compiler.Compile(DemoManuscripts.Snapshot(files)).Report.Findings.FirstOrDefault(f => f.Kind is "fix");
            if (first is null)
            {
                continue;
            }

            tried++;
            int begin = text[..at].LastIndexOf("\\begin{", StringComparison.Ordinal);
            int beginLine = begin < 0 ? line : text[..begin].Count(c => c == '\n') + 1;
            right += first.File == clean[chosen].Path && (Math.Abs(first.Line!.Value - line) <= 1 || first.Line == beginLine) ? 1 : 0;
        }

        Assert.True(tried > 20, $"{tried} slips gave a finding");
        Assert.True(right >= tried * 0.9, $"{right} of {tried} first findings name the right place");
    }

    [Fact]
    public void Words_lead_to_the_proof_and_back_to_their_line()
    {
        List<ManuscriptFile> files = DemoManuscripts.Thesis();
        ManuscriptSnapshot snapshot = DemoManuscripts.Snapshot(files);
        SheetMap map = SheetMap.Remember(s_compiler.Compile(snapshot), snapshot.Files).Map;
        int asked = 0;
        var lost = new List<string>();
        foreach (ManuscriptFile file in files.Where(p => p.Path.StartsWith("chapters/", StringComparison.Ordinal)))
        {
            string[] lines = file.Text.Split('\n');
            for (int line = 1; line <= lines.Length; line++)
            {
                // Inside a formula's command the nearest glyph is a few columns on.
                if (lines[line - 1].Length < 60 || lines[line - 1][..20].Contains('$', StringComparison.Ordinal) || lines[line - 1].StartsWith('\\') || lines[line - 1].StartsWith(' '))
                {
                    continue;
                }

                asked++;
                PageSpot spot = map.FindSpot(file.Path, line, 10)!;
                SourceLocation place = map.FindSource(spot.Sheet, spot.X + (spot.Width / 2), spot.Y + (spot.Height / 2))!.Value;
                if (place.File != file.Path || place.Line != line || Math.Abs(place.Column - 10) > 2)
                {
                    lost.Add($"{file.Path}:{line}:10 came back as {place}");
                }
            }
        }

        Assert.True(asked > 20);
        Assert.True(lost.Count == 0, string.Join("\n", lost));
    }

    [Fact]
    public void The_PDF_has_outline_links_labels_and_metadata()
    {
        CompileResult result = s_compiler.Compile(DemoManuscripts.Snapshot(DemoManuscripts.Thesis()));
        string info = Compiled.Run("pdfinfo", result.Pdf, "FILE");
        Assert.Matches("Title: +Reading Walls by Lichen", info);
        Assert.Matches("Author: +Ilse Marrable", info);
        string json = Compiled.Run("qpdf", result.Pdf, "--json", "--json-key=outlines", "--json-key=pagelabels", "FILE");
        System.Text.Json.JsonElement root = System.Text.Json.JsonDocument.Parse(json).RootElement;
        System.Text.Json.JsonElement growth = root.GetProperty("outlines").EnumerateArray().First(o => o.GetProperty("title").GetString() == "3 The growth curve");
        Assert.Equal(3, growth.GetProperty("kids").GetArrayLength());
        Assert.Equal(result.Report.Outline.Single(o => o.Title == "The growth curve").Sheet, growth.GetProperty("destpageposfrom1").GetInt32());
        Assert.True(root.GetProperty("pagelabels").GetArrayLength() >= 2);
        string plain = Compiled.Run("qpdf", result.Pdf, "--qdf", "--object-streams=disable", "FILE", "-");
        Assert.True(System.Text.RegularExpressions.Regex.Count(plain, "/Subtype /Link") > 30);
        // The pages without their pictures stay small.
        Assert.True(result.Pdf.Length < 400_000, $"{result.Pdf.Length} bytes");
    }
}
