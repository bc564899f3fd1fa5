using System.Globalization;
using System.Text;
using YoungFolio.Manuscript.Making;

namespace YoungFolio.Chronicle;

/// <summary>An answer to a note or a suggestion, as it is handed on.</summary>
public sealed record ReviewAnswer(string Person, DateTime At, string Text);

/// <summary>A note or a suggestion, as it is handed on.</summary>
/// <param name="Section">The heading that it stands under, with its number; empty: none.</param>
/// <param name="File">The file; empty: it is gone.</param>
/// <param name="Line">The line, from 1.</param>
/// <param name="Words">The words that it is on.</param>
/// <param name="Proposal">What is suggested for them; null: it is a note.</param>
/// <param name="Person">Who wrote it.</param>
/// <param name="At">When, in UTC.</param>
/// <param name="Text">What it says.</param>
/// <param name="State">What became of it: open, settled, taken, declined.</param>
/// <param name="DecidedBy">Who decided; empty: nobody.</param>
/// <param name="Answers">What was answered.</param>
public sealed record ReviewEntry(string Section, string File, int Line, string Words, string? Proposal, string Person, DateTime At, string Text, string State, string DecidedBy, IReadOnlyList<ReviewAnswer> Answers);

/// <summary>The notes and suggestions of a manuscript for those who read them elsewhere: as a table, and as a document that is typeset.</summary>
public static class ReviewSheet
{
    private static readonly string[] s_columns = ["Section", "File", "Line", "Kind", "Words", "Proposal", "By", "At (UTC)", "Says", "State", "Decided by", "Answers"];

    /// <summary>A table of values between commas (RFC 4180), with a row of names. What a spreadsheet would take for a formula is a text there.</summary>
    public static string Csv(IEnumerable<ReviewEntry> entries)
    {
        ArgumentNullException.ThrowIfNull(entries);
        var table = new StringBuilder();
        Row(s_columns);
        foreach (ReviewEntry e in entries)
        {
            Row(
                e.Section, e.File, e.Line.ToString(CultureInfo.InvariantCulture), e.Proposal is null ? "note" : "suggestion", e.Words, e.Proposal ?? "", e.Person, Moment(e.At), e.Text, e.State, e.DecidedBy,
                string.Join('\n', e.Answers.Select(a => $"{a.Person}, {Moment(a.At)}: {a.Text}")));
        }

        return table.ToString();

        void Row(params string[] values) => table.AppendJoin(',', values.Select(Quoted)).Append("\r\n");
    }

    /// <summary>A document in the markup, with the notes under their headings.</summary>
    /// <param name="title">The manuscript's title.</param>
    /// <param name="at">When it was made, in UTC.</param>
    /// <param name="entries">The notes, in the order of the manuscript.</param>
    public static string Markup(string title, DateTime at, IReadOnlyList<ReviewEntry> entries)
    {
        ArgumentNullException.ThrowIfNull(entries);
        var text = new StringBuilder();
        text.Append(CultureInfo.InvariantCulture, $$"""
            \documentclass[11pt,a4paper]{article}
            \usepackage[margin=27mm]{geometry}
            \usepackage{xcolor,ulem}
            \setlength{\parindent}{0pt}
            \setlength{\parskip}{5pt}
            \begin{document}
            {\Large Notes and suggestions}\par
            {{Printed(title)}}, {{Moment(at)}} UTC: {{entries.Count}} in all, {{entries.Count(e => e.State == "open")}} open\par

            """);
        string? section = null;
        foreach (ReviewEntry e in entries)
        {
            if (e.Section != section)
            {
                section = e.Section;
                text.Append("\\section*{").Append(Printed(section.Length > 0 ? section : "Before the first heading")).Append("}\n");
            }

            text.Append("\\textbf{").Append(Printed(e.Person)).Append("}, ").Append(Moment(e.At)).Append(", ").Append(Printed(e.File.Length > 0 ? $"{e.File}, line {e.Line}" : "a file that is gone"))
                .Append(" \\hfill ").Append(Printed(e.DecidedBy.Length > 0 ? $"{e.State}, {e.DecidedBy}" : e.State)).Append("\\par\n");
            text.Append("\\begin{quote}\n");
            // Words are struck out one by one: a line can end between them.
            text.Append(e.Proposal is null ? $"\\emph{{{Printed(e.Words)}}}" : string.Join(' ', Printed(e.Words).Split(' ').Select(w => $"\\sout{{{w}}}")) + (e.Proposal.Trim().Length > 0 ? $"\n\n\\textcolor{{blue!60!black}}{{{Printed(e.Proposal)}}}" : ""));
            text.Append("\n\\end{quote}\n");
            Paragraph(e.Text);
            foreach (ReviewAnswer answer in e.Answers)
            {
                text.Append("\\hspace*{5mm}").Append("\\textbf{").Append(Printed(answer.Person)).Append("}, ").Append(Moment(answer.At)).Append(": ");
                Paragraph(answer.Text);
            }

            text.Append("\\medskip\n\n");
        }

        return text.Append("\\end{document}\n").ToString();

        void Paragraph(string words)
        {
            if (words.Trim().Length > 0)
            {
                text.Append(string.Join("\\par\n", words.Split('\n').Select(Printed).Where(w => w.Trim().Length > 0))).Append("\\par\n");
            }
        }
    }

    private static string Moment(DateTime at) => at.ToString("yyyy-MM-dd HH:mm", CultureInfo.InvariantCulture);

    private static string Quoted(string value)
    {
        // Spreadsheets carry out what begins like a formula (common practice: an apostrophe before it).
        string safe = value.Length > 0 && value[0] is '=' or '+' or '-' or '@' or '\t' or '\r' ? "'" + value : value;
        return safe.AsSpan().IndexOfAny("\",\r\n") >= 0 ? $"\"{safe.Replace("\"", "\"\"", StringComparison.Ordinal)}\"" : safe;
    }

    // Signs of the markup as the signs that they are, and all blanks alike.
    private static string Printed(string words) =>
        PastedCells.Escape(string.Concat(string.Join(' ', words.Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries)).Where(c => !char.IsControl(c))))
            // A quotation mark alone is a straight one in print, too.
            .Replace("\"", "\\textquotedbl{}", StringComparison.Ordinal);
}
