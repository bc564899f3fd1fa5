using YoungFolio.Documents;
using YoungFolio.Manuscript.Building;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Classes;

/// <summary>
/// Type of a manuscript's elements by their names, and headings and entries of the contents by keys, as the classes with sans serif headings have them
/// (their published manual, from memory).
/// </summary>
internal static class ElementFonts
{
    private static readonly string[] s_all = ["disposition", "sectioning"];

    /// <summary>Gives the commands to a document.</summary>
    public static void Define(DocumentBuilder builder)
    {
        Machine machine = builder.Machine;
        var fonts = new Dictionary<string, List<Token>>(StringComparer.Ordinal);
        foreach (string name in (string[])["setkomafont", "addtokomafont", "newkomafont"])
        {
            machine.Define(name, (m, t) =>
            {
                m.ReadOptional(t);
                string element = m.ReadText(t);
                List<Token> font = m.ReadArgument(t);
                bool adds = name == "addtokomafont";
                fonts[element] = [.. adds ? fonts.GetValueOrDefault(element) ?? [] : [], .. font];
                Apply(builder, element, font, adds);
            });
        }

        machine.Define("usekomafont", (m, t) => m.Push([.. fonts.GetValueOrDefault(m.ReadText(t)) ?? []]));
        foreach (string name in (string[])["RedeclareSectionCommand", "RedeclareSectionCommands"])
        {
            machine.Define(name, (m, t) =>
            {
                List<ListedOption> keys = ListedOption.Of(m, m.ReadOptional(t));
                foreach (string heading in PreambleCommands.Split(m.ReadText(t)))
                {
                    Change(builder, heading, keys);
                }
            });
        }

        foreach (string name in (string[])["DeclareTOCStyleEntry", "RedeclareTOCStyleEntry", "DeclareTOCStyleEntries"])
        {
            machine.Define(name, (m, t) =>
            {
                List<ListedOption> keys = ListedOption.Of(m, m.ReadOptional(t));
                m.ReadText(t);
                foreach (string entry in PreambleCommands.Split(m.ReadText(t)))
                {
                    ChangeEntry(m, entry, keys, "");
                }
            });
        }
    }

    private static void Apply(DocumentBuilder builder, string element, List<Token> font, bool adds)
    {
        Machine machine = builder.Machine;
        Dictionary<string, HeadingLook> headings = builder.HeadingCommands.Headings;
        foreach (string command in s_all.Contains(element) ? headings.Keys.ToArray() : headings.ContainsKey(element) ? [element] : [])
        {
            // What is set for all headings takes the place of their family and series, and leaves them their size.
            Token[] before = !adds && s_all.Contains(element) ? [Token.Command(machine.Symbol("normalfont"), PositionTable.None)] : [];
            headings[command] = headings[command] with { Format = [.. headings[command].Format, .. before, .. font] };
        }

        switch (element)
        {
            case "disposition" or "sectioning" or "chapterentry" or "sectionentry" or "partentry":
                Put("toc@font");
                break;
            case "caption":
                builder.CaptionSetup.AddFonts(font, []);
                break;
            case "captionlabel":
                builder.CaptionSetup.AddFonts([], font);
                break;
        }

        void Put(string macro)
        {
            IReadOnlyList<Token> known = adds && machine.Symbol(macro).Meaning.Value is MacroMeaning { Body: var body } ? body : [];
            machine.Assign(machine.Symbol(macro).Meaning, new MacroMeaning { Pattern = [], Body = [.. known, .. font], Arity = 0 });
        }
    }

    private static void Change(DocumentBuilder builder, string heading, IReadOnlyList<ListedOption> keys)
    {
        Machine machine = builder.Machine;
        if (builder.HeadingCommands.Headings.TryGetValue(heading, out HeadingLook? look))
        {
            foreach (ListedOption key in keys)
            {
                Glue? length = key is { Key: "beforeskip" or "afterskip" or "indent", Value: { } value } ? machine.Quantities.ParseGlue(value, default) : null;
                look = key.Key switch
                {
                    // A negative space above leaves the paragraph below without an indent; a negative one below has the heading run in.
                    "beforeskip" when length is { } above => Above(look, above),
                    "afterskip" when length is { } below => below.Width.Scaled < 0 ? look with { RunsIn = true } : look with { Below = below, RunsIn = false },
                    "runin" => look with { RunsIn = key.IsOn(machine) },
                    "indent" when length is { } indent => look with { Indent = indent.Width.Points },
                    "font" => look with { Format = [.. look.Format, .. key.Value ?? []] },
                    "afterindent" => look with { IndentsAfter = key.IsOn(machine) },
                    _ => look,
                };
            }

            builder.HeadingCommands.Headings[heading] = look;
        }

        ChangeEntry(machine, heading, keys, "toc");
    }

    private static HeadingLook Above(HeadingLook look, Glue above)
    {
        Glue space = above.Width.Scaled < 0 ? new Glue(new(-above.Width.Scaled), new(Math.Abs(above.Stretch.Scaled)), above.StretchOrder, new(Math.Abs(above.Shrink.Scaled)), above.ShrinkOrder) : above;
        return look.Drop > 0 ? look with { Drop = space.Width.Points } : look with { Above = space };
    }

    // An entry of the contents with an indent and a room for its number of its own.
    private static void ChangeEntry(Machine machine, string entry, IReadOnlyList<ListedOption> keys, string prefix)
    {
        int level = HeadingCommands.LevelOf(entry);
        string? Wish(string key) => keys.FirstOrDefault(k => k.Key == prefix + key)?.Value?.ToShownSource();
        if (level < 1 || (Wish("indent") ?? Wish("numwidth")) is null)
        {
            return;
        }

        // The indents and widths of the standard classes (from memory), where only one of them is given.
        (string indent, string width) = level switch { 1 => ("1.5em", "2.3em"), 2 => ("3.8em", "3.2em"), 3 => ("7em", "4.1em"), 4 => ("10em", "5em"), _ => ("12em", "6em") };
        machine.Definitions.Load($"\\def\\l@{entry}{{\\@dottedtocline{{{level}}}{{{Wish("indent") ?? indent}}}{{{Wish("numwidth") ?? width}}}}}");
    }
}
