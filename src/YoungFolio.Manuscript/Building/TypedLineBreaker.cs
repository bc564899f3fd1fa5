using YoungFolio.Documents;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>Breaks a line of typed text that is too long: at its last space that fits, or else within a word. What goes on stands further in.</summary>
/// <param name="measure">The width of inlines in points.</param>
/// <param name="width">The line's in points.</param>
internal sealed class TypedLineBreaker(Func<List<Inline>, double> measure, double width)
{
    // How far what goes on in another line stands in, in points (the usual value of the package listings).
    private const double Indent = 20;

    // The space of typed text.
    private const char Space = '\u00A0';

    private readonly List<Inline> _result = [];
    private double _x;
    private bool _hasWords;

    /// <summary>The line with its ends.</summary>
    public List<Inline> Break(List<Inline> line)
    {
        if (width < 4 * Indent || measure(line) <= width)
        {
            return line;
        }

        foreach (Inline inline in line)
        {
            if (inline is TextRun run)
            {
                AddWords(run);
            }
            else
            {
                _result.Add(inline);
                _x += measure([inline]);
            }
        }

        return _result;
    }

    private void AddWords(TextRun run)
    {
        int start = 0;
        while (start < run.Text.Length)
        {
            int space = run.Text.IndexOf(Space, start);
            int words = space < 0 ? run.Text.Length : space;
            int end = words;
            while (end < run.Text.Length && run.Text[end] == Space)
            {
                end++;
            }

            if (words > start)
            {
                start = AddBegun(run, start, words);
            }

            Add(Part(run, start, end));
            _hasWords |= words > start;
            start = end;
        }
    }

    // Ends the line before a word that doesn't fit, and in the midst of one that is longer than a line. Where the rest of it begins.
    private int AddBegun(TextRun run, int start, int end)
    {
        double word = measure([Part(run, start, end)]);
        if (_hasWords && _x + word > width)
        {
            EndLine();
        }

        while (start < end && _x + word > width)
        {
            int fits = start + Math.Max(1, (int)((width - _x) / word * (end - start)));
            Add(Part(run, start, fits));
            EndLine();
            start = fits;
            word = measure([Part(run, start, end)]);
        }

        return start;
    }

    private void Add(TextRun part)
    {
        _result.Add(part);
        _x += measure([part]);
    }

    private void EndLine()
    {
        // Spaces at a line's end would run into the margin.
        while (_result is [.., TextRun last] && last.Text.TrimEnd(Space) is var kept && kept.Length < last.Text.Length)
        {
            _result.RemoveAt(_result.Count - 1);
            if (kept.Length > 0)
            {
                _result.Add(Part(last, 0, kept.Length));
            }
        }

        _result.Add(new LineBreakInline(default));
        _result.Add(new SpaceInline(Glue.Of(Indent), false));
        _x = Indent;
        _hasWords = false;
    }

    private static TextRun Part(TextRun run, int from, int to) => run with { Text = run.Text[from..to], Positions = run.Positions[from..to] };
}
