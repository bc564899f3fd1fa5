using YoungFolio.Documents;
using YoungFolio.Markup;

namespace YoungFolio.Typesetting.Pages;

/// <summary>Makes the lines of an index: sorted, nested, pages gathered to ranges (common practice).</summary>
internal static class IndexEntries
{
    private sealed class IndexTerm(string key, IReadOnlyList<Inline> text)
    {
        public string Key => key;

        public IReadOnlyList<Inline> Text => text;

        public List<IndexNote> Notes { get; } = [];

        public List<IndexTerm> Children { get; } = [];

        /// <summary>The children by key and by what is shown.</summary>
        public Dictionary<(string Key, string Shown), IndexTerm> Known { get; } = [];
    }

    /// <summary>The paragraphs that print an index.</summary>
    public static List<Block> Of(SettingContext context, IndexBlock index)
    {
        var result = new List<Block>();
        char group = '\0';
        foreach ((IndexTerm entry, int depth) in Entries(context, index))
        {
            char first = depth == 0 ? GroupOf(entry.Key) : group;
            result.Add(Line(context, index, entry, depth, group != '\0' && first != group));
            group = first;
        }

        return result;
    }

    /// <summary>An index as a list of its entries.</summary>
    public static IEnumerable<IndexEntry> ListOf(SettingContext context, IndexBlock index) => Entries(context, index).Select(e => new IndexEntry(
        e.Depth, PlainText.Of(e.Entry.Text), PlainText.Of([.. Places(context, index, e.Entry)]).TrimStart(',', ' '), e.Entry.Notes is [var first, ..] ? first.Position : PositionTable.None));

    // The entries as they are printed one below another.
    private static IEnumerable<(IndexTerm Entry, int Depth)> Entries(SettingContext context, IndexBlock index)
    {
        return Below(Root(context, index), 0);

        static IEnumerable<(IndexTerm Entry, int Depth)> Below(IndexTerm entry, int depth) => Sorted(entry.Children).SelectMany(c => Below(c, depth + 1).Prepend((c, depth)));
    }

    private static IndexTerm Root(SettingContext context, IndexBlock index)
    {
        var root = new IndexTerm("", []);
        foreach (IndexNote note in index.Notes)
        {
            IndexTerm at = root;
            foreach ((string key, IReadOnlyList<Inline> text) in note.Levels)
            {
                string shown = PlainText.Of(text);
                context.Budget.Spend();
                if (!at.Known.TryGetValue((key, shown), out IndexTerm? next))
                {
                    at.Known[(key, shown)] = next = new IndexTerm(key, text);
                    at.Children.Add(next);
                }

                at = next;
            }

            at.Notes.Add(note);
        }

        return root;
    }

    // Letters sort without regard to case and accents; signs come before figures, figures before letters.
    private static IEnumerable<IndexTerm> Sorted(IEnumerable<IndexTerm> entries) => entries
        .OrderBy(e => e.Key.Length == 0 ? 0 : char.IsLetter(e.Key[0]) ? 2 : char.IsDigit(e.Key[0]) ? 1 : 0)
        .ThenBy(e => Plain(e.Key), StringComparer.Ordinal)
        .ThenBy(e => e.Key, StringComparer.Ordinal);

    private static string Plain(string key) => string.Concat(key.ToLowerInvariant().Normalize(System.Text.NormalizationForm.FormD)
        .Where(c => char.GetUnicodeCategory(c) != System.Globalization.UnicodeCategory.NonSpacingMark));

    private static char GroupOf(string key) => Plain(key) is { Length: > 0 } p && char.IsLetter(p[0]) ? p[0] : ' ';

    private static ParagraphBlock Line(SettingContext context, IndexBlock index, IndexTerm entry, int depth, bool begins)
    {
        double em = index.Style.Size;
        return new ParagraphBlock([.. entry.Text, .. Places(context, index, entry)], index.Paragraph with
        {
            LeftMargin = index.Paragraph.LeftMargin + (depth * 1.5 * em),
            HangIndent = 3 * em,
            Language = "",
            Alignment = Alignment.Left,
            SpaceAbove = begins ? Glue.Of(0.9 * em, 0.3 * em) : default,
        });
    }

    private static IEnumerable<Inline> Places(SettingContext context, IndexBlock index, IndexTerm entry)
    {
        TextRun Text(string text, TextStyle style) => new(text, [.. Enumerable.Repeat(PositionTable.None, text.Length)], style);
        var places = new List<(AnchorPlace From, AnchorPlace To, string Anchor, string Style)>();
        var open = new Dictionary<string, (AnchorPlace Place, string Anchor)>(StringComparer.Ordinal);
        foreach (IndexNote note in entry.Notes)
        {
            if (note.Anchor is not { } anchor || !context.Known.TryGetValue(anchor, out AnchorPlace place))
            {
                continue;
            }

            if (note.Range < 0)
            {
                open[note.PageStyle] = (place, anchor);
            }
            else if (note.Range > 0 && open.Remove(note.PageStyle, out (AnchorPlace Place, string Anchor) begun))
            {
                places.Add((begun.Place, place, begun.Anchor, note.PageStyle));
            }
            else
            {
                places.Add((place, place, anchor, note.PageStyle));
            }
        }

        foreach ((string style, (AnchorPlace place, string anchor)) in open)
        {
            places.Add((place, place, anchor, style));
        }

        var merged = new List<(AnchorPlace From, AnchorPlace To, string Anchor, string Style)>();
        foreach ((AnchorPlace From, AnchorPlace To, string Anchor, string Style) next in places.OrderBy(p => p.From.Sheet).ThenBy(p => p.To.Sheet))
        {
            if (merged.Count > 0 && merged[^1].Style == next.Style && next.From.Sheet <= merged[^1].To.Sheet)
            {
                merged[^1] = merged[^1] with { To = next.To.Sheet > merged[^1].To.Sheet ? next.To : merged[^1].To };
            }
            else
            {
                merged.Add(next);
            }
        }

        // Three pages in a row or more become a range.
        for (int i = 0; i < merged.Count; i++)
        {
            int last = i;
            while (last + 1 < merged.Count && merged[last + 1].From.Sheet == merged[last].To.Sheet + 1 && merged[last + 1].Style == merged[i].Style)
            {
                last++;
            }

            if (last - i >= 2)
            {
                merged[i] = merged[i] with { To = merged[last].To };
                merged.RemoveRange(i + 1, last - i);
            }
        }

        foreach ((AnchorPlace from, AnchorPlace to, string anchor, string style) in merged)
        {
            TextStyle looks = style switch
            {
                "textbf" or "bfseries" => index.Style with { Bold = true },
                "textit" or "emph" or "itshape" => index.Style with { Shape = FontShape.Italic },
                _ => index.Style,
            };
            yield return Text(", ", index.Style);
            string pages = from.Sheet == to.Sheet ? from.Label : from.Label + "–" + to.Label;
            yield return new LinkInline([Text(pages, looks)], anchor, false);
        }

        foreach (IndexNote note in entry.Notes)
        {
            if (note.See is { } see)
            {
                yield return Text(", ", index.Style);
                foreach (Inline inline in see)
                {
                    yield return inline;
                }
            }
        }
    }
}
