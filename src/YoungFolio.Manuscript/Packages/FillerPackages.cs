using YoungFolio.Manuscript.Building;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Packages;

/// <summary>Packages that fill pages with words, to see how they look.</summary>
internal static class FillerPackages
{
    private static readonly string[] s_latin = ("lorem ipsum dolor sit amet consectetuer adipiscing elit sed diam nonummy nibh euismod tincidunt ut laoreet dolore magna "
        + "aliquam erat volutpat murus lapis lichen saxum vallis collis mons via pratum aqua ventus imber annus aestas hiems lente crescit manet stat iacet "
        + "per inter super sub ad ab cum sine et atque quoque semper saepe numquam quondam hodie paene").Split(' ');

    private static readonly string[] s_english = [
        "This text only shows how a page looks; its words mean little.", "A line should be neither too long nor too short, so that the eye finds the next one.",
        "Look at the grey of the paragraph, at the spaces between words and at the ends of the lines.", "Letters with strokes above and below the line, such as b, g, k and y, stand beside plain ones.",
        "Figures such as 1987 and signs such as & belong to a typeface too.", "Nothing here needs to be remembered.",
    ];

    public static IReadOnlyList<Package> All { get; } =
    [
        new("lipsum", "Paragraphs of Latin-looking words.")
        {
            Commands = ["lipsum", "setlipsum", "SetLipsumDefault"],
            Load = static load => Latin(load.Builder),
        },
        new("blindtext", "Sample text, lists and whole documents.")
        {
            Commands = ["blindtext", "Blindtext", "blinddocument", "Blinddocument", "blinditemize", "blindenumerate", "blinddescription"],
            Load = static load => Blind(load.Builder),
        },
    ];

    private static string Paragraph(int number)
    {
        var text = new System.Text.StringBuilder();
        uint state = (uint)((number * 7919) + 17);
        int at = number == 1 ? 0 : -1;
        for (int sentence = 0; sentence < 6; sentence++)
        {
            int words = 8 + (int)(Next() % 9);
            for (int w = 0; w < words; w++)
            {
                string word = at is >= 0 and < 20 ? s_latin[at++] : s_latin[(int)(Next() % (uint)s_latin.Length)];
                text.Append(w == 0 ? char.ToUpperInvariant(word[0]) + word[1..] : word).Append(w == words - 1 ? ". " : w == words / 2 && words > 12 ? ", " : " ");
            }
        }

        return text.ToString().TrimEnd();

        uint Next() => (state = (state * 1664525) + 1013904223) >> 8;
    }

    private static void Latin(DocumentBuilder builder)
    {
        builder.Machine.Definitions.Load("\\def\\setlipsum#1{}\\def\\SetLipsumDefault#1{}");
        builder.Machine.Define("lipsum", (m, t) =>
        {
            bool joined = m.TakeStar();
            string range = m.ReadOptionalText(t) ?? "1-7";
            string? sentences = m.ReadOptionalText(t);
            string[] ends = range.Split('-');
            int first = int.TryParse(ends[0], out int a) ? a : 1;
            int last = ends.Length > 1 && int.TryParse(ends[1], out int b) ? b : first;
            var text = new System.Text.StringBuilder();
            for (int i = Math.Clamp(first, 1, 150); i <= Math.Clamp(last, 1, 150); i++)
            {
                string paragraph = Paragraph(i);
                if (sentences is not null)
                {
                    string[] all = paragraph.Split(". ");
                    string[] wanted = sentences.Split('-');
                    int from = int.TryParse(wanted[0], out int f) ? f : 1;
                    int to = wanted.Length > 1 && int.TryParse(wanted[1], out int g) ? g : from;
                    paragraph = string.Join(". ", all.Skip(from - 1).Take(to - from + 1)).TrimEnd('.') + ".";
                }

                text.Append(paragraph).Append(joined || sentences is not null ? " " : "\\par ");
            }

            m.Input.PushMarkup(text.ToString(), t.Position);
        });
    }

    private static void Blind(DocumentBuilder builder)
    {
        string Text(int times) => string.Concat(Enumerable.Repeat(string.Join(' ', s_english.Select(s => s.Replace("&", "\\&", StringComparison.Ordinal))) + " ", Math.Clamp(times, 1, 20)));
        builder.Machine.Define("blindtext", (m, t) => m.Input.PushMarkup(Text(m.ReadOptional(t) is { } n ? m.Quantities.ParseInteger(n, t) ?? 1 : 1), t.Position));
        builder.Machine.Define("Blindtext", (m, t) =>
        {
            int paragraphs = Math.Clamp(m.ReadOptional(t) is { } n ? m.Quantities.ParseInteger(n, t) ?? 5 : 5, 1, 100);
            int times = m.ReadOptional(t) is { } k ? m.Quantities.ParseInteger(k, t) ?? 1 : 1;
            m.Input.PushMarkup(string.Concat(Enumerable.Repeat(Text(times) + "\\par ", paragraphs)), t.Position);
        });
        foreach ((string name, string list) in (ReadOnlySpan<(string, string)>)[("blinditemize", "itemize"), ("blindenumerate", "enumerate"), ("blinddescription", "description")])
        {
            builder.Machine.Define(name, (m, t) =>
            {
                string item = list == "description" ? "\\item[A term] what it means" : "\\item An item of the list";
                int count = Math.Clamp(m.ReadOptional(t) is { } n ? m.Quantities.ParseInteger(n, t) ?? 4 : 4, 1, 100);
                m.Input.PushMarkup($"\\begin{{{list}}}{string.Concat(Enumerable.Repeat(item, count))}\\end{{{list}}}", t.Position);
            });
        }

        foreach (string name in (string[])["blinddocument", "Blinddocument"])
        {
            builder.Machine.Define(name, (m, t) => m.Input.PushMarkup(
                (builder.Class.HasChapters ? "\\chapter{A chapter}" : "") + "\\section{A section}" + Text(2) + "\\par\\subsection{A subsection}" + Text(1)
                + "\\par\\blinditemize\\section{Another section}" + Text(2) + "\\par\\blindenumerate\\paragraph{A paragraph}" + Text(1) + "\\par ", t.Position));
        }
    }
}
