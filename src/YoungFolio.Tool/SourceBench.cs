using System.Diagnostics;
using System.Globalization;
using System.Text;
using YoungFolio.Bibliography;

namespace YoungFolio.Tool;

/// <summary>Reads a large pool of sources, and sorts and prints those that a long manuscript cites.</summary>
internal static class SourceBench
{
    /// <summary>Medians in milliseconds: reading 5,000 entries, and sorting, labelling and printing 500 of them.</summary>
    public static (double Read, double Print) Run()
    {
        var text = new StringBuilder();
        for (int i = 0; i < 5_000; i++)
        {
            text.Append(CultureInfo.InvariantCulture, $"@article{{key{i},\n  author = {{Author{i % 700}, Ann and M{{\\\"u}}ller{i % 90}, Bo and others}},\n  title = {{Walls and their {{Lichens}} in the Year {i}}},\n")
                .Append(CultureInfo.InvariantCulture, $"  journal = {{Annals of Field Botany}},\n  year = {1900 + (i % 120)},\n  volume = {i % 60},\n  pages = {{{i}--{i + 9}}},\n  doi = {{10.5555/{i}}}\n}}\n\n");
        }

        string bib = text.ToString();
        BibFile file = BibReader.Read(bib);
        BibEntry[] cited = [.. file.Entries.Where((_, i) => i % 10 == 0)];
        BibliographyStyle style = BibliographyStyle.FindClassic("apalike")!;
        SourceWords words = SourceWords.For("en");
        return (Median(() => BibReader.Read(bib)), Median(() => SourceList.Make(cited, style, words)));

        static double Median(Action work) => Enumerable.Range(0, 15).Select(_ =>
        {
            long start = Stopwatch.GetTimestamp();
            work();
            return Stopwatch.GetElapsedTime(start).TotalMilliseconds;
        }).Order().ElementAt(7);
    }
}
