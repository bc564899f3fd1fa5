using System.Globalization;
using System.Text;
using System.Xml.Linq;
using YoungFolio.Compiler;
using YoungFolio.Manuscript.Building;
using YoungFolio.Documents.Mathematics;
using YoungFolio.Manuscript.Mathematics;
using YoungFolio.Documents;
using YoungFolio.Markup;
using YoungFolio.Typesetting;

namespace YoungFolio.Core.Tests;

/// <summary>What formulas say, against npm mathjax-full and katex as other readers of the same markup.</summary>
public class MathMlTests
{
    private static readonly TypesettingResources s_resources = new();

    private static IEnumerable<string> Everything => Formulas.Handbook.Concat(Formulas.Structures).Concat(Formulas.FromPrograms);

    [Fact]
    public void Formulas_have_the_structure_that_MathJax_reads_in_them()
    {
        // MathJax takes the display's branch of \mathchoice, we that of the line; \sideset's right scripts stand inside or outside.
        string[] formulas = [.. Everything.Where(f => !f.Contains("mathchoice", StringComparison.Ordinal) && !f.Contains("sideset", StringComparison.Ordinal))];
        string?[] theirs = ReferenceTests.Ask<string?[]>(new { what = "mathml", formulas, display = true });
        var wrong = new List<string>();
        int compared = 0;
        for (int i = 0; i < formulas.Length; i++)
        {
            if (theirs[i] is not { } text)
            {
                continue;
            }

            compared++;
            string expected = Shape(XElement.Parse(text));
            string actual = Shape(Read(formulas[i]));
            if (expected != actual)
            {
                wrong.Add($"{formulas[i]}\n    theirs {expected}\n    ours   {actual}");
            }
        }

        Assert.True(compared > 260, $"{compared} compared");
        Assert.True(wrong.Count == 0, string.Join("\n", wrong));
    }

    [Fact]
    public void Symbols_are_the_characters_that_MathJax_takes_for_them()
    {
        string[] names = [.. Symbols.All.Concat(Symbols.Further).Select(s => s.Name).Distinct()];
        string?[] theirs = ReferenceTests.Ask<string?[]>(new { what = "mathml", formulas = names.Select(n => "\\" + n), display = false });
        HashSet<string> different = [.. s_otherSigns];
        List<string> wrong = [.. names.Zip(theirs).Where(p => p.Second is not null && !different.Contains(p.First))
            .Select(p => (Name: p.First, Theirs: Shape(XElement.Parse(p.Second!)), Ours: Shape(Read("\\" + p.First))))
            .Where(p => p.Theirs != p.Ours).Select(p => $"{p.Name}: theirs {p.Theirs} ({Codes(p.Theirs)}), ours {p.Ours} ({Codes(p.Ours)})")];
        Assert.True(theirs.Count(t => t is not null) > 350, $"{theirs.Count(t => t is not null)} known");
        Assert.True(wrong.Count == 0, string.Join("\n", wrong));
    }

    // Where the two differ by design: one character for a sign that MathJax composes, a triangle or square of another size, and negated
    // signs that Unicode lacks with a slanted bar; pieces of arrows and braces that fonts of formulas lack.
    private static readonly string[] s_otherSigns =
    [
        "arrowvert", "bracevert", "coloneqq", "eqqcolon", "dblcolon", "bigtimes", "backslash", "perp", "square", "blacksquare", "Box", "Diamond", "triangleleft", "triangleright",
        "blacktriangle", "blacktriangledown", "blacktriangleleft", "blacktriangleright", "nleqslant", "ngeqslant",
    ];

    [Fact]
    public void What_KaTeX_accepts_is_accepted()
    {
        string[] formulas = [.. Everything];
        bool[] theirs = ReferenceTests.Ask<bool[]>(new { what = "katex", formulas, display = true });
        Assert.True(theirs.Count(a => a) > 250, $"{theirs.Count(a => a)} accepted");
        List<string> refused = [.. formulas.Where((f, i) => theirs[i] && Findings(f).Length > 0).Select(f => f + ": " + string.Join(' ', Findings(f)))];
        Assert.True(refused.Count == 0, string.Join("\n", refused));
    }

    private static string[] Findings(string formula) => [.. Compile("\\[" + formula + "\\]").Report.Findings.Where(f => f.Code != "formula-too-wide").Select(f => f.Message)];

    private const string Preamble = "\\documentclass{article}\\usepackage{amsmath,amssymb,mathtools,xcolor,cancel}\\begin{document}";

    private static CompileResult Compile(string body) => Compiled.Files(("main.tex", Preamble + body + "\\end{document}"));

    internal static XElement Read(string formula)
    {
        var files = new FileTree([ManuscriptFile.FromText("main.tex", Preamble + "\\[" + formula + "\\]\\end{document}")]);
        (Document document, _) = DocumentBuilder.Build(files, new BuildOptions("main.tex", default, new TextMeasure(s_resources)), new FindingLog());
        return document.Blocks.OfType<DisplayBlock>().FirstOrDefault() is { } display ? MathMl.Element(display.Rows[0].Cells[0], true) : new XElement("math");
    }

    private static string Codes(string text) => string.Join(' ', text.EnumerateRunes().Select(r => r.Value.ToString("X4", CultureInfo.InvariantCulture)));

    // Structure and signs alone: rows melt into what holds them, spaces and looks are left out, and a sign counts by what it means.
    private static string Shape(XElement element)
    {
        string name = element.Name.LocalName;
        switch (name)
        {
            case "mi" or "mo" or "mn" or "mtext" or "ms":
                return Sign(element.Value);
            case "mspace" or "mprescripts" or "none" or "annotation" or "malignmark" or "maligngroup":
                return "";
            case "math" or "mrow" or "mstyle" or "mpadded" or "TeXAtom" or "semantics" or "mphantom":
                return string.Concat(element.Elements().Select(Shape));
            case "mtable":
                return "mtable(" + string.Join(';', element.Elements().Select(Shape)) + ")";
            case "mtr" or "mlabeledtr":
                return string.Join('&', element.Elements().Select(Shape));
            case "mtd":
                return string.Concat(element.Elements().Select(Shape));
            case "msqrt" or "menclose":
                return name + "(" + string.Concat(element.Elements().Select(Shape)) + ")";
            default:
                return name + "(" + string.Join(',', element.Elements().Select(Shape)) + ")";
        }
    }

    private static string Sign(string text)
    {
        var result = new StringBuilder();
        foreach (Rune rune in text.Normalize(NormalizationForm.FormKC).EnumerateRunes())
        {
            // Invisible operators, spaces and variation selectors say nothing here; accents come combining or spacing.
            result.Append(rune.Value switch
            {
                >= 0x2061 and <= 0x2064 or >= 0x2000 and <= 0x200B or 0xFE00 or 0xFE0E or ' ' or 0xA0 or 0x2009 => "",
                0x302 => "^",
                0x303 or 0x2DC or 0x223C => "~",
                0x304 or 0xAF or 0x2015 or 0x2013 or 0x203E => "‾",
                0x307 or 0x2D9 => "˙",
                0x308 or 0xA8 => "¨",
                0x20DB => "…",
                0x20D7 => "→",
                0x301 or 0xB4 or 0x2CA => "´",
                0x300 or 0x2CB => "`",
                0x306 or 0x2D8 => "˘",
                0x30C or 0x2C7 => "ˇ",
                0x30A or 0x2DA => "˚",
                '-' => "−",
                '*' => "∗",
                0x2016 => "∥",
                0x2223 => "|",
                0x332 or 0x305 or '_' => "‾",
                0x2216 => "\\",
                _ => rune.ToString(),
            });
        }

        return result.ToString();
    }
}
