using System.Globalization;
using System.Text;
using YoungFolio.Compiler;
using YoungFolio.Markup;

namespace YoungFolio.Tool.Attack;

/// <summary>Edits a manuscript of sections, references and floats at random, and holds each proof against one from nothing.</summary>
public static class WarmColdFuzz
{
    /// <summary>What came of it.</summary>
    /// <param name="Cases">How many edits were compared.</param>
    /// <param name="Differs">Those whose proofs differ.</param>
    public sealed record Outcome(int Cases, IReadOnlyList<string> Differs);

    private static readonly string[] s_words = "wall lichen stone moss north shade growth farm gate ledger slope quarry mortar sheep field survey".Split(' ');

    /// <summary>Makes so many edits.</summary>
    public static Outcome Run(int seed, int edits, CancellationToken stop)
    {
        var random = new Random(seed);
        var compiler = new ManuscriptCompiler();
        var cold = new ManuscriptCompiler();
        List<string> blocks = [.. Enumerable.Range(0, 14).Select(i => Block(random, i))];
        var differs = new List<string>();
        CompileResult? last = null;
        int made = blocks.Count;
        int cases = 0;
        for (int edit = 0; edit < edits && !stop.IsCancellationRequested; edit++)
        {
            string what = Edit(random, blocks, ref made);
            ManuscriptSnapshot snapshot = Snapshot(blocks);
            last = compiler.Compile(snapshot, last, stop);
            CompileResult fresh = cold.Compile(snapshot, null, stop);
            cases++;
            if (!last.Pdf.AsSpan().SequenceEqual(fresh.Pdf) || !last.Report.Findings.SequenceEqual(fresh.Report.Findings))
            {
                differs.Add($"seed {seed}, edit {edit}: {what}");
            }
        }

        return new Outcome(cases, differs);
    }

    private static string Edit(Random random, List<string> blocks, ref int made)
    {
        int at = random.Next(blocks.Count);
        switch (random.Next(7))
        {
            case 0 or 1 when blocks.Count > 4:
                blocks.RemoveAt(at);
                return $"block {at} deleted";
            case 2:
                string moved = blocks[at];
                blocks.RemoveAt(at);
                blocks.Insert(random.Next(blocks.Count + 1), moved);
                return $"block {at} moved";
            case 3:
                // The text goes, the heading and what it refers to stay.
                int end = blocks[at].IndexOf('\n', StringComparison.Ordinal);
                blocks[at] = blocks[at][..(end < 0 ? blocks[at].Length : end)];
                return $"text of block {at} deleted";
            case 4:
                blocks[at] = blocks[at].Replace("[t]", "[#]", StringComparison.Ordinal).Replace("[b]", "[t]", StringComparison.Ordinal).Replace("[p]", "[b]", StringComparison.Ordinal)
                    .Replace("[#]", random.Next(2) == 0 ? "[p]" : "[b]", StringComparison.Ordinal).Replace("{3cm}", random.Next(2) == 0 ? "{9cm}" : "{5cm}", StringComparison.Ordinal);
                return $"float of block {at} changed";
            case 5 when blocks[at].Contains(' ', StringComparison.Ordinal):
                blocks[at] = blocks[at].Insert(blocks[at].LastIndexOf(' ') + 1, Words(random, 1 + random.Next(60)));
                return $"words into block {at}";
            default:
                blocks.Insert(at, Block(random, made++));
                return $"block before {at}";
        }
    }

    private static string Block(Random random, int number)
    {
        var text = new StringBuilder();
        text.Append(CultureInfo.InvariantCulture, $"\\{(random.Next(3) == 0 ? "subsection" : "section")}{{{Words(random, 3)}}}\\label{{s{number}}}\n");
        for (int paragraphs = 1 + random.Next(3); paragraphs > 0; paragraphs--)
        {
            text.Append(Words(random, 20 + random.Next(120)));
            text.Append(CultureInfo.InvariantCulture, $"see \\ref{{s{random.Next(20)}}} on page~\\pageref{{s{random.Next(20)}}}");
            text.Append(random.Next(3) == 0 ? string.Create(CultureInfo.InvariantCulture, $" and Figure~\\ref{{f{random.Next(20)}}}, page~\\pageref{{f{random.Next(20)}}}") : "");
            text.Append(random.Next(4) == 0 ? $"\\footnote{{{Words(random, 12)}}}" : "").Append(".\n\n");
        }

        if (random.Next(2) == 0)
        {
            text.Append(CultureInfo.InvariantCulture, $"\\begin{{figure}}[{"tbp"[random.Next(3)]}]\\rule{{4cm}}{{3cm}}\\caption{{{Words(random, 4)}}}\\label{{f{number}}}\\end{{figure}}\n");
        }

        if (random.Next(4) == 0)
        {
            text.Append(CultureInfo.InvariantCulture, $"\\begin{{equation}}x_{{{number}}} = y\\label{{e{number}}}\\end{{equation}}\n");
        }

        return text.ToString();
    }

    private static string Words(Random random, int count) => string.Concat(Enumerable.Range(0, count).Select(_ => s_words[random.Next(s_words.Length)] + " "));

    private static ManuscriptSnapshot Snapshot(List<string> blocks) => new(
        new FileTree([ManuscriptFile.FromText("main.tex", $"\\documentclass{{article}}\n\\begin{{document}}\n\\tableofcontents\\listoffigures\n{string.Join('\n', blocks)}\n\\end{{document}}\n")]),
        "main.tex", new DateOnly(2026, 11, 28));
}
