using YoungFolio.Compiler;
using YoungFolio.Markup;
using static YoungFolio.HandIn.HandInChecks;

namespace YoungFolio.HandIn;

/// <summary>Checks of the pages: paper, margins, number, type, lines that stick out.</summary>
internal static class PageChecks
{
    // Margins are typed in millimetres and points; half a point of another is no other margin.
    private const double MarginTolerance = 0.2;
    private const double SizeTolerance = 0.05;

    public static IEnumerable<HandInCheck> Run(CompileResult proof, HouseRules rules)
    {
        CompileReport report = proof.Report;
        PrintFacts print = proof.Print;
        yield return Paper(print, rules);
        yield return Margins(print, rules);
        yield return new HandInCheck("pages", Within(report.Pages, rules.FewestPages, rules.MostPages), Many(report.Pages, "page")) { Rule = Between(rules.FewestPages, rules.MostPages) };
        yield return Size("text-size", "Running text", print.TypeSize, rules.LeastText, null);
        if (print.Smallest is { } smallest)
        {
            yield return Size("least-type", "Smallest type", smallest.Size, rules.LeastType, new CheckPlace($"“{smallest.Words}”", smallest.Sheet));
        }

        double spacing = print.TypeSize <= 0 ? 0 : print.Leading / print.TypeSize;
        yield return new HandInCheck("spacing", spacing < (rules.LeastSpacing ?? 0) - 0.02 ? CheckState.Mend : CheckState.Holds, $"Lines stand {Words(spacing)}")
        {
            Rule = rules.LeastSpacing is { } least ? $"at least {Words(least)}" : "", Room = "set-up", Advice = "The distance of lines, in sizes of the type.",
        };
        yield return Of("too-wide", Places(report, f => f.Code is "line-too-long" or "table-too-wide" or "formula-too-wide" or "float-too-high"), "Nothing sticks out of the text’s block", n => n == 1 ? "One thing sticks out of the text’s block" : $"{n} things stick out of the text’s block", CheckState.Look);
        yield return Of("lone-lines", [.. print.LoneLines.Select(l => new CheckPlace(l.IsLast ? "a paragraph’s last line at the top" : "a paragraph’s first line at the foot", l.Sheet, l.Place?.File, l.Place?.Line, l.Place?.Offset))],
            "No line of a paragraph stands alone", n => n == 1 ? "A line of a paragraph stands alone on its page" : $"{n} lines of paragraphs stand alone on their pages", CheckState.Look) with { Advice = "Reword the paragraph, or give the page a line more with \\enlargethispage{\\baselineskip}." };
        yield return Of("numbers", Places(report, f => f.Code == "unsettled-numbers"), "All numbers hold", _ => "Numbers of pages didn’t settle");
    }

    private static HandInCheck Paper(PrintFacts print, HouseRules rules)
    {
        if (print.Pages.Count == 0)
        {
            return new HandInCheck("paper", CheckState.Mend, "There is no page");
        }

        PrintedPage first = print.Pages[0];
        string name = NameOf(first);
        if (rules.Paper is not { Length: > 0 } wanted)
        {
            return new HandInCheck("paper", CheckState.Holds, $"Paper: {name}{(print.IsTwoSided ? ", both sides" : "")}") { Room = "set-up" };
        }

        CheckPlace[] other = [.. print.Pages.Select((p, i) => (Page: p, Sheet: i + 1)).Where(p => !IsOf(p.Page, wanted)).Select(p => new CheckPlace(NameOf(p.Page), p.Sheet)).Take(20)];
        return new HandInCheck("paper", other.Length == 0 ? CheckState.Holds : CheckState.Mend, other.Length == 0 || !IsOf(first, wanted) ? $"Paper: {name}{(print.IsTwoSided ? ", both sides" : "")}" : "Some pages are on other paper")
        {
            Rule = Shown(wanted), Room = "set-up", Places = IsOf(first, wanted) ? other : [],
        };
    }

    private static HandInCheck Margins(PrintFacts print, HouseRules rules)
    {
        (string Name, double Is, double? Least)[] margins =
        [
            (print.IsTwoSided ? "inner" : "left", print.Inner, rules.Inner), (print.IsTwoSided ? "outer" : "right", print.Outer, rules.Outer), ("top", print.Top, rules.Top), ("bottom", print.Bottom, rules.Bottom),
        ];
        var small = margins.Where(m => Millimetres(m.Is) < (m.Least ?? double.MinValue) - MarginTolerance).ToArray();
        return new HandInCheck("margins", small.Length == 0 ? CheckState.Holds : CheckState.Mend, "Margins: " + string.Join(", ", margins.Select(m => FormattableString.Invariant($"{m.Name} {Millimetres(m.Is):0.#} mm"))))
        {
            Rule = string.Join(", ", margins.Where(m => m.Least is not null).Select(m => FormattableString.Invariant($"{m.Name} at least {m.Least:0.#} mm"))),
            Room = "set-up",
            Places = [.. small.Select(m => new CheckPlace(FormattableString.Invariant($"The {m.Name} margin is {Millimetres(m.Is):0.#} mm, {m.Least - Millimetres(m.Is):0.#} mm too little")))],
        };
    }

    private static HandInCheck Size(string key, string what, double size, double? least, CheckPlace? place) =>
        new(key, size < (least ?? 0) - SizeTolerance ? CheckState.Mend : CheckState.Holds, FormattableString.Invariant($"{what}: {size:0.#} pt"))
        {
            Rule = least is { } asked ? FormattableString.Invariant($"at least {asked:0.#} pt") : "", Room = place is null ? "set-up" : null, Places = place is null ? [] : [place],
        };

    private static double Millimetres(double points) => points / Units.Millimetre;

    private static string Words(double spacing) => spacing switch
    {
        >= 1.1 and < 1.3 => "single", >= 1.45 and < 1.6 => "one and a half", >= 1.9 and < 2.1 => "double", _ => FormattableString.Invariant($"{spacing:0.00} of their size apart"),
    };

    private static string NameOf(PrintedPage page) =>
        HouseRules.Papers.Keys.FirstOrDefault(k => IsOf(page, k)) is { } name ? Shown(name) + (page.Width > page.Height ? ", lying" : "") : FormattableString.Invariant($"{Millimetres(page.Width):0} × {Millimetres(page.Height):0} mm");

    private static string Shown(string paper) => paper is ['a' or 'b', ..] ? paper.ToUpperInvariant() : char.ToUpperInvariant(paper[0]) + paper[1..];

    // A page that lies across is of the same paper.
    private static bool IsOf(PrintedPage page, string paper)
    {
        (double width, double height) = HouseRules.Papers[paper];
        (double less, double more) = (Millimetres(Math.Min(page.Width, page.Height)), Millimetres(Math.Max(page.Width, page.Height)));
        return Math.Abs(less - width) < 0.6 && Math.Abs(more - height) < 0.6;
    }
}
