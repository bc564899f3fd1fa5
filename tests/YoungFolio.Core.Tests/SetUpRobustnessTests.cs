using YoungFolio.Manuscript.SettingUp;

namespace YoungFolio.Core.Tests;

/// <summary>Set-ups of preambles that are broken, odd or large: they are read without a crash, and what is changed reads back.</summary>
public sealed class SetUpRobustnessTests
{
    private const string Body = "\\begin{document}\n\\maketitle\nText.\n\\end{document}\n";

    private static Dictionary<string, string> Texts(string main) => new(StringComparer.Ordinal) { ["main.tex"] = main, ["house.sty"] = "\\RequirePackage[margin=3cm]{geometry}\n\\doublespacing\n" };

    /// <summary>Preambles with signs taken out, put in and doubled at random.</summary>
    [Fact]
    public void A_broken_preamble_is_read_and_what_is_changed_reads_back()
    {
        var random = new Random(1811);
        string[] signs = ["{", "}", "[", "]", "%", "\\", ",", "=", "\n", "\n\n", "\\fi", "\\iffalse ", "\\usepackage{house}", "\\begin{document}", "\\documentclass", "é", " ", "$", "#1", "\\input{main}"];
        string[] preambles = [.. SetUpTests.Odd.Select(row => (string)row[0])];
        int changed = 0;
        int refused = 0;
        for (int round = 0; round < 1500; round++)
        {
            string main = preambles[round % preambles.Length] + Body;
            for (int i = random.Next(1, 6); i > 0; i--)
            {
                int at = random.Next(main.Length);
                main = random.Next(3) switch
                {
                    0 => main.Remove(at, Math.Min(random.Next(1, 4), main.Length - at)),
                    1 => main.Insert(at, signs[random.Next(signs.Length)]),
                    _ => main.Insert(at, main.Substring(at, Math.Min(random.Next(1, 12), main.Length - at))),
                };
            }

            Dictionary<string, string> texts = Texts(main);
            var setUp = SetUp.Of(texts, "main.tex");
            Assert.All(setUp.Settings.SelectMany(s => s.Places), p => Assert.InRange(p.To, p.From, texts[p.File].Length));
            _ = setUp.Remarks;
            _ = setUp.Packages(new Dictionary<string, int>());
            Setting setting = SettingCatalogue.All[random.Next(SettingCatalogue.All.Count)];
            string value = setting.Form switch { SettingForm.Length => "17mm", SettingForm.Text => "some words", SettingForm.Switch => "on", _ => setting.Choices[random.Next(setting.Choices.Count)].Value };
            try
            {
                IReadOnlyDictionary<string, string> now = SetUp.Apply(texts, setUp.Change(setting.Id, value));
                SettingState state = SetUp.Of(now, "main.tex").State(setting);
                Assert.True(value == (state.Value ?? state.Usual), $"{setting.Id} is {state.Value}, not {value}, in\n{now["main.tex"]}\nwhich was\n{main}");
                Assert.Equal(texts["house.sty"], now["house.sty"]);
                changed++;
            }
            catch (SetUpException e)
            {
                Assert.EndsWith(".", e.Message, StringComparison.Ordinal);
                refused++;
            }
        }

        Assert.True(changed > 300 && refused > 50, $"{changed} changed, {refused} refused");
    }

    /// <summary>All ways in which a field of the heads may be said, and which fields each says (documentation of fancyhdr, from memory).</summary>
    [Theory]
    [InlineData("\\fancyhf{x}", "headL headC headR footL footC footR headLO headRE footCE")]
    [InlineData("\\fancyhead{x}", "headL headC headR headLO headCE")]
    [InlineData("\\fancyhead[L]{x}", "headL headLO headLE")]
    [InlineData("\\fancyhead[LO]{x}", "headL headLO")]
    [InlineData("\\fancyhead[RE,LO]{x}", "headL headLO headRE")]
    [InlineData("\\fancyfoot[C]{x}", "footC footCO footCE")]
    [InlineData("\\fancyhf[HL,FR]{x}", "headL headLO headLE footR footRO footRE")]
    [InlineData("\\lhead{x}", "headL headLO headLE")]
    [InlineData("\\rfoot{x}", "footR footRO footRE")]
    [InlineData("\\chead[y]{x}", "headC headCO")]
    public void Fields_are_read_in_every_way_of_saying_them(string command, string fields)
    {
        var setUp = SetUp.Of(Texts($"\\documentclass[twoside]{{report}}\n\\usepackage{{fancyhdr}}\n\\pagestyle{{fancy}}\n{command}\n{Body}"), "main.tex");
        string[] wanted = fields.Split(' ');
        string[] asked = [.. SettingCatalogue.All.Where(s => s.Within == "pagestyle=fancy" && s.Id is ['h' or 'f', ..] && s.Id.Length is 5 or 6).Select(s => s.Id)];
        string[] found = [.. asked.Where(id => setUp.State(SettingCatalogue.Find(id)!).Value == "x")];
        Assert.All(wanted, id => Assert.Contains(id, found));
        // One that is named is all that is set: nothing on the other side, and nothing in the other place.
        if (command.Contains("[LO]", StringComparison.Ordinal))
        {
            Assert.Equal(["headL", "headLO"], found);
        }
    }

    [Fact]
    public void A_long_preamble_is_read_in_line_with_its_length()
    {
        string Lines(int count) => "\\documentclass{report}\n" + string.Concat(Enumerable.Range(0, count).Select(i => $"\\newcommand{{\\m{(char)('a' + (i % 26))}{(char)('a' + (i / 26 % 26))}}}[1]{{\\emph{{#1}}}} % a macro\n\\usepackage{{package{i}}}\n")) + Body;
        static long Ticks(string main)
        {
            Dictionary<string, string> texts = Texts(main);
            long best = long.MaxValue;
            for (int i = 0; i < 5; i++)
            {
                long start = System.Diagnostics.Stopwatch.GetTimestamp();
                Assert.True(SetUp.Of(texts, "main.tex").HasPreamble);
                best = Math.Min(best, System.Diagnostics.Stopwatch.GetTimestamp() - start);
            }

            return best;
        }

        Ticks(Lines(50));
        // Four times the lines, at most ten times the time: the square would be sixteen.
        Assert.InRange(Ticks(Lines(800)), 0, 10 * Math.Max(Ticks(Lines(200)), 1));
    }

    [Theory]
    [InlineData("2.5cm", 71.13)]
    [InlineData("1in", 72.27)]
    [InlineData("25.4 mm", 72.27)]
    [InlineData("72bp", 72.27)]
    [InlineData("-3pt", -3)]
    [InlineData("2pc", 24)]
    public void Lengths_are_points_as_the_book_has_them(string words, double points)
    {
        // Knuth, The TeXbook, chapter 10.
        Assert.Equal(points, Lengths.Points(words)!.Value, 0.01);
        Assert.True(Lengths.IsLength(words));
    }

    [Theory]
    [InlineData("0.8\\textwidth", true)]
    [InlineData("\\parindent", true)]
    [InlineData("1.5em", true)]
    [InlineData("6pt plus 1pt minus 1pt", true)]
    [InlineData("3", false)]
    [InlineData("cm", false)]
    [InlineData("3 ells", false)]
    [InlineData("", false)]
    public void What_only_a_compile_can_measure_is_a_length_too(string words, bool isLength)
    {
        Assert.Equal(isLength, Lengths.IsLength(words));
        Assert.Null(Lengths.Points(words));
    }
}
