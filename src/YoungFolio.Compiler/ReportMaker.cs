using YoungFolio.Documents;
using YoungFolio.Markup;
using YoungFolio.Typesetting.Pages;

namespace YoungFolio.Compiler;

/// <summary>Makes the report of a compile.</summary>
internal static class ReportMaker
{
    public static CompileReport Make(
        Document document, TypesetDocument pages, PositionTable positions, FindingLog findings, IReadOnlyDictionary<string, double> timings, WordCounter words)
    {
        AnchorPlace? PlaceOf(string anchor) => pages.Anchors.TryGetValue(anchor, out AnchorPlace place) ? place : null;
        (IReadOnlyList<DefinitionLine> definitions, IReadOnlyDictionary<string, int> namesUsed) = Vocabulary.Of(positions);
        Dictionary<string, int> uses = document.LabelUses.GroupBy(u => u.Key).ToDictionary(g => g.Key, g => g.Count());
        return new CompileReport
        {
            Pages = pages.Pages.Count,
            Words = words.Total,
            WordsBy = words.ByKind,
            Class = document.Class,
            Outline = [.. pages.Outline.Select(o => new OutlineLine(o.Level, o.Number, o.Title, PlaceOf(o.Anchor)?.Label, PlaceOf(o.Anchor)?.Sheet,
                positions.Locate(o.Position)?.File, positions.Locate(o.Position)?.Line, positions.Resolve(o.Position)?.Offset, words.InSection(o.Anchor)))],
            Labels = [.. document.Labels.Values.Where(l => l.Kind != "source").OrderBy(l => l.Position).Select(l => new LabelLine(
                l.Key, l.Kind, l.Number, PlaceOf(l.PageAnchor)?.Label, PlaceOf(l.PageAnchor)?.Sheet,
                positions.Locate(l.Position)?.File, positions.Locate(l.Position)?.Line, uses.GetValueOrDefault(l.Key)))],
            Citations = [.. document.Citations.Select(c => new CitationLine(c.Key, positions.Locate(c.Position)?.File, positions.Locate(c.Position)?.Line))],
            Bibliography = [.. document.Sources.Select(s => new SourceLine(s.Key, s.Label, s.Text))],
            Floats = [.. pages.Floats.Select(f => new FloatLine(f.Kind, f.Number.Length == 0 ? null : f.Number, f.Caption, PlaceOf(f.Anchor)?.Label))],
            Index = [.. pages.Index.Select(e => new IndexLine(e.Depth, e.Text, e.Pages, positions.Locate(e.Position)?.File, positions.Locate(e.Position)?.Line))],
            Footnotes = document.Footnotes,
            Equations = [.. document.Equations.Select(e => new EquationLine(e.Number, PlaceOf(e.Anchor)?.Label,
                positions.Locate(e.Position)?.File, positions.Locate(e.Position)?.Line))],
            Packages = [.. document.Packages.Select(p => new PackageLine(p.Name, p.IsKnown))],
            Definitions = definitions,
            Uses = namesUsed,
            Findings = [.. findings.All.OrderBy(f => f.Kind).ThenBy(f => f.Position).Select(f => Line(f, positions))],
            Rounds = pages.Rounds,
            Timings = timings,
        };
    }

    private static FindingLine Line(Finding finding, PositionTable positions)
    {
        SourceLocation? place = positions.Locate(finding.Position);
        string kind = finding.Kind switch { FindingKind.Fix => "fix", FindingKind.Check => "check", _ => "layout" };
        return new FindingLine(kind, finding.Code, finding.Message, finding.Advice, place?.File, place?.Line, place?.Column, positions.Resolve(finding.Position)?.Offset, finding.Length, Mend(finding.Repair, positions));
    }

    // With what stands there: whoever applies it to a newer text sees whether it still fits.
    private static RepairLine? Mend(Repair? repair, PositionTable positions)
    {
        const int Beside = 8;
        if (repair is null || positions.Resolve(repair.Position) is not var (file, offset) || positions.Locate(repair.Position) is not { } at)
        {
            return null;
        }

        string text = file.Text;
        int end = Math.Min(text.Length, offset + repair.Length);
        string before = text[Math.Max(0, offset - Beside)..offset];
        string after = text[end..Math.Min(text.Length, end + Beside)];
        return new RepairLine(at.File, at.Line, at.Column, offset, repair.Length, repair.Text, text[offset..end],
            before[(before.LastIndexOf('\n') + 1)..], after.IndexOf('\n', StringComparison.Ordinal) is >= 0 and var line ? after[..line] : after,
            Mend(repair.Also, positions), repair.NewFile);
    }
}
