using YoungFolio.Compiler;

namespace YoungFolio.Core.Tests;

/// <summary>Letters, in the order of Lamport's LaTeX, section 5.1.</summary>
public class LetterTests
{
    private const string Sender = "\\address{Hollin Edge\\\\Marrow Valley}\\signature{Ilse Marrable}\\date{25 November 2026}\n";

    private static CompileResult Letter(string body, string preamble = Sender) => Compiled.Files(("main.tex",
        $"\\documentclass[11pt,a4paper]{{letter}}\n{preamble}\\begin{{document}}\n{body}\n\\end{{document}}\n"));

    private const string Whole = "\\begin{letter}{The Marrow Walls Trust\\\\Mill Lane 3}\n\\opening{Dear trustees,}\nWords of the letter.\n\n\\closing{Yours sincerely,}\n"
        + "\\cc{Anton Quill\\\\Bao Tremlett}\n\\encl{Two field sheets}\n\\ps{P. S. More.}\n\\end{letter}\n";

    [Fact]
    public void A_letter_has_sender_date_recipient_opening_closing_and_what_follows()
    {
        CompileResult result = Letter(Whole);
        Assert.Empty(result.Report.Findings);
        Assert.Equal("Hollin Edge Marrow Valley 25 November 2026 The Marrow Walls Trust Mill Lane 3 Dear trustees, Words of the letter. Yours sincerely, Ilse Marrable "
            + "cc: Anton Quill Bao Tremlett encl: Two field sheets P. S. More.", Compiled.Text(result, "-layout"));
    }

    [Fact]
    public void Sender_stands_at_the_right_and_the_signature_under_its_closing()
    {
        string boxes = Compiled.Run("pdftotext", Letter(Whole).Pdf, "-bbox", "FILE", "-");
        double X(string word) => double.Parse(System.Text.RegularExpressions.Regex.Match(boxes, $"xMin=\"([0-9.]+)\"[^>]*>{word}<").Groups[1].Value, System.Globalization.CultureInfo.InvariantCulture);
        double Y(string word) => double.Parse(System.Text.RegularExpressions.Regex.Match(boxes, $"yMin=\"([0-9.]+)\"[^>]*>{word}<").Groups[1].Value, System.Globalization.CultureInfo.InvariantCulture);
        Assert.True(X("Hollin") > X("Dear") + 150);
        Assert.Equal(X("Yours"), X("Ilse"), 1);
        // Room for a signature by hand: three lines or more.
        Assert.True(Y("Ilse") - Y("Yours") > 35);
    }

    [Fact]
    public void Each_letter_begins_a_page_numbered_from_one()
    {
        CompileResult result = Letter(Whole + Whole);
        Assert.Equal(2, result.Report.Pages);
        Assert.Contains("Dear trustees", Compiled.Text(result, "-f", "2"));
        CompileResult longer = Letter("\\begin{letter}{Trust\\\\Mill Lane}\\opening{Dear all,}First.\\newpage Second.\\closing{Yours,}\\end{letter}", Sender + "\\pagestyle{headings}");
        Assert.Equal("To Trust 25 November 2026 Page 2 Second. Yours, Ilse Marrable", Compiled.Text(longer, "-f", "2", "-layout"));
    }

    [Theory]
    [InlineData("\\begin{letter}{X}\\opening{Dear X,}a\\closing{Yours,}\\signature{Bao}\\end{letter}", Sender, "late-signature")]
    [InlineData("\\begin{letter}{X}\\opening{Dear X,}a\\closing{Yours,}\\end{letter}", "", "no-signature")]
    [InlineData("\\opening{Dear X,}", Sender, "outside-letter")]
    public void Slips_of_letters_are_said(string body, string preamble, string code) =>
        Assert.Equal([code], Letter(body, preamble).Report.Findings.Select(f => f.Code));
}
