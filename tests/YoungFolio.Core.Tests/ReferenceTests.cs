using System.Diagnostics;
using System.Runtime.CompilerServices;
using System.Text.Json;
using YoungFolio.Typesetting.Hyphenation;
using YoungFolio.Typesetting.Lines;

namespace YoungFolio.Core.Tests;

/// <summary>Checks against reference libraries from outside the project, run in Node (development dependencies only).</summary>
public class ReferenceTests
{
    private static readonly string[] s_words = ("hyphenation lichen manuscript bibliography typography wonderful reference paragraph measurement mathematics "
        + "geographical boundary enclosure photograph photography photographic university reciprocity throughout committee independence algorithm "
        + "concatenation dictionary supercalifragilistic table present project association declination recognizance").Split(' ');

    // Source: npm hyphen, which carries the published patterns. It keeps two letters at a word's end, we three (common practice);
    // words of the exception list, whose places it counts differently, are checked below.
    [Theory]
    [InlineData("en-gb")]
    [InlineData("en-us")]
    [InlineData("de")]
    [InlineData("fr")]
    [InlineData("es")]
    [InlineData("it")]
    [InlineData("nl")]
    [InlineData("pt")]
    public void Words_are_divided_where_npm_hyphen_divides_them(string language)
    {
        string[] reference = Ask<string[]>(new { what = "hyphen", language, words = s_words });
        Hyphenator hyphenator = Hyphenator.ForLanguage(language)!;
        int compared = 0;
        for (int i = 0; i < s_words.Length; i++)
        {
            if (hyphenator.Exceptions.ContainsKey(s_words[i]))
            {
                continue;
            }

            int[] theirs = [.. Divisions(reference[i]).Where(d => d <= s_words[i].Length - 3)];
            int[] ours = [.. hyphenator.Divide(s_words[i]).Where(d => d <= s_words[i].Length - 3)];
            Assert.True(theirs.SequenceEqual(ours), $"{s_words[i]}: {reference[i]}, ours at {string.Join(',', ours)}");
            compared += theirs.Length;
        }

        Assert.True(compared > 40);
    }

    [Theory]
    [InlineData("en-gb")]
    [InlineData("en-us")]
    public void The_published_exceptions_are_kept(string language)
    {
        Hyphenator hyphenator = Hyphenator.ForLanguage(language)!;
        Assert.NotEmpty(hyphenator.Exceptions);
        Assert.All(hyphenator.Exceptions, e => Assert.Equal(e.Value, hyphenator.Divide(e.Key)));
    }

    // Source: npm tex-linebreak. Without hyphens both minimise the same demerits when all lines are decent.
    [Fact]
    public void Paragraphs_break_where_npm_tex_linebreak_breaks_them()
    {
        var random = new Random(5);
        var paragraphs = new List<(List<Item> Items, double Width)>();
        for (int p = 0; p < 40; p++)
        {
            var items = new List<Item>();
            for (int w = 0; w < 60; w++)
            {
                items.Add(new Item(ItemKind.Box, 10 + random.Next(50)));
                items.Add(new Item(ItemKind.Glue, 10, 5, 3.5));
            }

            items[^1] = new Item(ItemKind.Glue, 0, 1e5);
            items.Add(new Item(ItemKind.Penalty, 0, Penalty: -10_000));
            paragraphs.Add((items, 400 + random.Next(200)));
        }

        int[][] reference = Ask<int[][]>(new
        {
            what = "linebreak",
            ratio = 10,
            paragraphs = paragraphs.Select(p => new
            {
                width = p.Width,
                items = p.Items.Select(i => i.Kind switch
                {
                    ItemKind.Box => (object)new { type = "box", width = i.Width },
                    ItemKind.Glue => new { type = "glue", width = i.Width, stretch = i.Stretch, shrink = i.Shrink },
                    _ => new { type = "penalty", width = i.Width, cost = -1000, flagged = false },
                }),
            }),
        });
        int same = 0;
        for (int p = 0; p < paragraphs.Count; p++)
        {
            var parameters = new BreakParameters { Pretolerance = -1, Tolerance = 10_000, LinePenalty = 1, AdjacentDemerits = 0 };
            int[] ours = [.. LineBreaker.Find(paragraphs[p].Items, _ => paragraphs[p].Width, parameters).Select(b => b.Index)];
            same += reference[p].Where(i => i != 0).SequenceEqual(ours) ? 1 : 0;
        }

        // Badness is rounded here as in The TeXbook and not there, so near ties may fall differently.
        Assert.True(same >= 36, $"{same} of {paragraphs.Count} paragraphs break alike");
    }

    // Source: @codemirror/state itself.
    private static IEnumerable<int> Divisions(string marked)
    {
        int at = 0;
        foreach (char c in marked)
        {
            if (c == '-')
            {
                yield return at;
            }
            else
            {
                at++;
            }
        }
    }

    internal static T Ask<T>(object request, [CallerFilePath] string here = "")
    {
        string script = Path.Combine(Path.GetDirectoryName(here)!, "..", "browser", "reference.mjs");
        var start = new ProcessStartInfo("node", [script]) { RedirectStandardInput = true, RedirectStandardOutput = true };
        using Process node = Process.Start(start)!;
        node.StandardInput.Write(JsonSerializer.Serialize(request, JsonSerializerOptions.Web));
        node.StandardInput.Close();
        string answer = node.StandardOutput.ReadToEnd();
        node.WaitForExit();
        Assert.True(node.ExitCode == 0, "Node.js ended with an error; it says why above.");
        return JsonSerializer.Deserialize<T>(answer, JsonSerializerOptions.Web)!;
    }
}
