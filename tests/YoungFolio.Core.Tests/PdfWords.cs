using System.Globalization;
using System.Net;
using System.Text.RegularExpressions;
using YoungFolio.Compiler;

namespace YoungFolio.Core.Tests;

/// <summary>A word as poppler finds it in the PDF; lengths in PDF points (1/72 in), from the page's upper left corner.</summary>
internal readonly record struct PdfWord(string Text, int Page, double Left, double Top, double Right, double Bottom)
{
    public double Middle => (Left + Right) / 2;

    public double Centre => (Top + Bottom) / 2;
}

/// <summary>A filled rectangle in a page's content; Y from the page's foot.</summary>
internal readonly record struct PdfRule(double X, double Y, double Width, double Height);

/// <summary>Words and rules out of a PDF, by poppler and qpdf.</summary>
internal static partial class PdfWords
{
    public static List<PdfWord> Of(CompileResult result)
    {
        var words = new List<PdfWord>();
        int page = 0;
        foreach (string line in Compiled.Run("pdftotext", result.Pdf, "-bbox", "FILE", "-").Split('\n'))
        {
            page += line.Contains("<page ", StringComparison.Ordinal) ? 1 : 0;
            if (Word().Match(line) is { Success: true } m)
            {
                double At(int group) => double.Parse(m.Groups[group].Value, CultureInfo.InvariantCulture);
                words.Add(new PdfWord(WebUtility.HtmlDecode(m.Groups[5].Value), page, At(1), At(2), At(3), At(4)));
            }
        }

        return words;
    }

    /// <summary>All words with a space between.</summary>
    public static string Joined(CompileResult result) => string.Join(' ', Of(result).Select(w => w.Text));

    public static PdfWord One(this IEnumerable<PdfWord> words, string text) => words.Single(w => w.Text == text);

    /// <summary>Filled rectangles of all pages, in their order.</summary>
    public static List<PdfRule> Rules(CompileResult result, bool marked = false)
    {
        string content = Compiled.Run("qpdf", marked ? result.WritePdf(marked) : result.Pdf, "--qdf", "--object-streams=disable", "FILE", "-");
        return [.. Rectangle().Matches(content).Select(m =>
        {
            double At(int group) => double.Parse(m.Groups[group].Value, CultureInfo.InvariantCulture);
            return new PdfRule(At(1), At(2), At(3), At(4));
        })];
    }

    [GeneratedRegex("""<word xMin="([\d.]+)" yMin="([\d.]+)" xMax="([\d.]+)" yMax="([\d.]+)">(.*)</word>""")]
    private static partial Regex Word();

    [GeneratedRegex(@"(?m)^(-?[\d.]+) (-?[\d.]+) (-?[\d.]+) (-?[\d.]+) re f$")]
    private static partial Regex Rectangle();
}
