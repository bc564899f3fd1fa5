using System.Text;
using System.Text.RegularExpressions;
using YoungFolio.Compiler;
using YoungFolio.Manuscript.Languages;
using YoungFolio.Manuscript.Searching;
using YoungFolio.Markup;
using static YoungFolio.HandIn.HandInChecks;

namespace YoungFolio.HandIn;

/// <summary>Checks of what a manuscript says: references, citations, figures, abstract, headings, what is left to talk about.</summary>
internal static partial class TextChecks
{
    // Checks of their own speak of these.
    private static readonly HashSet<string> s_apart = new(StringComparer.Ordinal)
    {
        "missing-label", "missing-source", "missing-file", "unreadable-picture", "float-not-mentioned", "uncited-sources", "missing-glyph", "line-too-long", "table-too-wide", "formula-too-wide", "float-too-high", "float-far",
        "unsettled-numbers", "unused-label", "unused-heading-labels", "unused-file", "margins-too-wide", "doubled-work",
    };

    public static IEnumerable<HandInCheck> Run(CompileResult proof, IFileTree files, HouseRules rules, OpenTalk talk)
    {
        CompileReport report = proof.Report;
        yield return Of("references", Places(report, f => f.Code == "missing-label"), "Every reference leads somewhere", n => n == 1 ? "A reference leads nowhere" : $"{n} references lead nowhere");
        yield return Of("citations", Places(report, f => f.Code == "missing-source"), "Every citation has its source", n => n == 1 ? "A citation has no source" : $"{n} citations have no source") with { Room = "sources" };
        yield return Of("to-fix", Places(report, f => f.Kind == "fix" && !s_apart.Contains(f.Code)), "Nothing in the markup is to fix", n => $"{Many(n, "place")} in the markup to fix") with { Room = "write" };
        yield return Of("to-check", Places(report, f => f.Kind == "check" && !s_apart.Contains(f.Code)), "Nothing in the markup is to check", n => $"{Many(n, "place")} in the markup to check", CheckState.Look) with { Room = "write" };
        yield return Of("mentions", Places(report, f => f.Code == "float-not-mentioned"), report.Floats.Count == 0 ? "There are no figures or tables" : "All figures and tables are mentioned",
            n => n == 1 ? "A figure or table is never mentioned" : $"{n} figures and tables are never mentioned", CheckState.Look);
        yield return Of("mention-order", [.. MentionOrder.Early(proof)], report.Floats.Count == 0 ? "There is no order of figures and tables" : "Figures and tables are mentioned in their order",
            n => n == 1 ? "A figure or table is mentioned too early" : $"{n} figures and tables are mentioned too early", CheckState.Look) with { Advice = "Journals ask that they be mentioned in the order of their numbers: move the float, or reword." };
        yield return Of("captions", [.. WithoutCaption(proof.Print)], report.Floats.Count == 0 ? "No figure or table needs a caption" : "All figures and tables have captions", n => n == 1 ? "A figure or table has no caption" : $"{n} figures and tables have no caption", CheckState.Look);
        yield return Abstract(proof, files, rules);
        if (rules.Headings is { Count: > 0 } headings)
        {
            yield return Headings(report, headings);
        }

        yield return new HandInCheck("words", Within(report.Words, rules.FewestWords, rules.MostWords), Many(report.Words, "word")) { Rule = Between(rules.FewestWords, rules.MostWords), Advice = "Words in headings, captions and notes count; formulas, tables and lists of sources don’t." };
        yield return Of("uncited", Places(report, f => f.Code == "uncited-sources"), report.Bibliography.Count == 0 ? "No sources are listed" : "All sources are cited", _ => "Some sources are never cited", CheckState.Look) with { Room = "sources" };
        yield return Of("doubled-sources", Places(report, f => f.Code == "doubled-work"), "No source is listed twice", n => n == 1 ? "A source is listed twice" : $"{n} sources are listed twice", CheckState.Look) with { Room = "sources" };
        yield return new HandInCheck("notes", talk.Notes == 0 ? CheckState.Holds : CheckState.Look, talk.Notes == 0 ? "No note is open" : talk.Notes == 1 ? "One note is open" : $"{talk.Notes} notes are open") { Room = "notes" };
        yield return new HandInCheck("suggestions", talk.Suggestions == 0 ? CheckState.Holds : CheckState.Look, talk.Suggestions == 0 ? "No suggestion waits" : talk.Suggestions == 1 ? "One suggestion waits" : $"{talk.Suggestions} suggestions wait") { Room = "notes" };
        yield return Of("typed-notes", [.. TypedLeft(files)], "No note is left in the text", n => n == 1 ? "A note is left in the text" : $"{n} notes are left in the text", CheckState.Look);
    }

    private static HandInCheck Abstract(CompileResult proof, IFileTree files, HouseRules rules)
    {
        (int Words, CheckPlace Place)? found = Find(proof, files);
        bool isAsked = rules.FewestAbstractWords is not null || rules.MostAbstractWords is not null;
        return found is not var (words, place)
            ? new HandInCheck("abstract", isAsked ? CheckState.Mend : CheckState.Holds, isAsked ? "There is no abstract" : "No abstract is asked for") { Rule = Between(rules.FewestAbstractWords, rules.MostAbstractWords), Advice = "Write it between \\begin{abstract} and \\end{abstract}, or as a chapter or section of that name." }
            : new HandInCheck("abstract", Within(words, rules.FewestAbstractWords, rules.MostAbstractWords), $"Abstract: {Many(words, "word")}") { Rule = Between(rules.FewestAbstractWords, rules.MostAbstractWords), Places = [place] };
    }

    // Between begin and end, or below a heading that is called so.
    private static (int Words, CheckPlace Place)? Find(CompileResult proof, IFileTree files)
    {
        foreach ((string path, string text) in Texts(files))
        {
            if (AbstractText().Match(text) is { Success: true } m && !TypedMarkup.IsComment(text, m.Index))
            {
                return (Words(m.Groups[1].Value), new CheckPlace("the abstract", null, path, LineOf(text, m.Index), m.Index));
            }
        }

        Language language = Language.Of(proof.Print.Language);
        string[] names = ["Abstract", "Summary", .. language.Captions.Where(c => c.Command == "abstractname").Select(c => c.Text)];
        OutlineLine? heading = proof.Report.Outline.FirstOrDefault(o => names.Contains(o.Title, StringComparer.OrdinalIgnoreCase));
        return heading is null ? null : (Math.Max(0, heading.Words - Words(heading.Title)), new CheckPlace("the abstract", heading.Sheet, heading.File, heading.Line, heading.Offset));
    }

    // As words are counted elsewhere: what stands between spaces and has a letter or a figure, formulas apart.
    private static int Words(string typed)
    {
        var printed = new StringBuilder(typed);
        foreach ((int from, int to) in UnprintedMarkup.Find(typed))
        {
            for (int i = from; i < to; i++)
            {
                printed[i] = typed[i] is '\n' ? '\n' : '\0';
            }
        }

        return printed.ToString().Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries).Count(w => w.Any(char.IsLetterOrDigit));
    }

    private static HandInCheck Headings(CompileReport report, IReadOnlyList<string> wanted)
    {
        var missing = new List<CheckPlace>();
        int last = -1;
        foreach (string name in wanted)
        {
            int at = -1;
            for (int i = 0; i < report.Outline.Count && at < 0; i++)
            {
                at = report.Outline[i].Title.Trim().Equals(name.Trim(), StringComparison.OrdinalIgnoreCase) ? i : -1;
            }

            if (at < 0)
            {
                missing.Add(new CheckPlace($"“{name}” isn’t there"));
            }
            else if (at < last)
            {
                OutlineLine line = report.Outline[at];
                missing.Add(new CheckPlace($"“{name}” stands too early", line.Sheet, line.File, line.Line, line.Offset));
            }

            last = Math.Max(last, at);
        }

        return Of("headings", [.. missing], "The headings that are asked for are there, in their order", n => n == 1 ? "A heading that is asked for isn’t in its place" : $"{n} headings that are asked for aren’t in their places") with { Rule = string.Join(", ", wanted) };
    }

    private static IEnumerable<CheckPlace> WithoutCaption(PrintFacts print) =>
        print.Floats.Where(f => !f.IsCaptioned).Select(f => new CheckPlace($"a {f.Kind} without words of its own", null, f.Place?.File, f.Place?.Line, f.Place?.Offset));

    private static IEnumerable<CheckPlace> TypedLeft(IFileTree files)
    {
        IReadOnlyList<string> commands = TypedNotes.Commands([]);
        return Texts(files).SelectMany(f => TypedNotes.Of(f.Text, commands).Select(n => new CheckPlace(n.Text, null, f.Path, LineOf(f.Text, n.From), n.From)));
    }

    internal static IEnumerable<(string Path, string Text)> Texts(IFileTree files) =>
        files.Paths.Where(p => p.EndsWith(".tex", StringComparison.OrdinalIgnoreCase)).Select(p => (p, files.Find(p)!.Text));

    internal static int LineOf(string text, int offset) => 1 + text.AsSpan(0, offset).Count('\n');

    [GeneratedRegex(@"\\begin\{abstract\}(.*?)\\end\{abstract\}", RegexOptions.Singleline)]
    private static partial Regex AbstractText();
}
