using YoungFolio.Documents;
using YoungFolio.Manuscript.Building;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Packages;

/// <summary>
/// The package cleveref: references with the name of what they refer to; several of one kind are sorted, and three or more in a
/// row become a range (its documented behaviour).
/// </summary>
internal static class CleverReferences
{
    private sealed record Names(List<Token>? One, List<Token>? Many);

    private sealed class CleverReferenceState
    {
        public Dictionary<string, Names> Small { get; } = new(StringComparer.Ordinal);

        public Dictionary<string, Names> Capital { get; } = new(StringComparer.Ordinal);

        public Dictionary<string, List<Token>> Formats { get; } = new(StringComparer.Ordinal);

        public Dictionary<string, List<Token>> LabelFormats { get; } = new(StringComparer.Ordinal);

        public Dictionary<string, string> Aliases { get; } = new(StringComparer.Ordinal);

        public bool Capitalises { get; set; }

        public bool NameInLink { get; set; }
    }

    private enum Form
    {
        Full,
        NumberOnly,
        Page,
    }

    public static void Load(PackageLoad load)
    {
        DocumentBuilder builder = load.Builder;
        var state = new CleverReferenceState { Capitalises = load.Has("capitalise") || load.Has("capitalize"), NameInLink = load.Has("nameinlink") };
        foreach ((string command, bool capital, Form form) in (ReadOnlySpan<(string, bool, Form)>)[
            ("cref", false, Form.Full), ("Cref", true, Form.Full), ("labelcref", false, Form.NumberOnly), ("cpageref", false, Form.Page), ("Cpageref", true, Form.Page),
            ("labelcpageref", false, Form.Page)])
        {
            load.Machine.Define(command, (m, t) =>
            {
                m.TakeStar();
                List<Token> argument = m.ReadArgument(t);
                string[] keys = PreambleCommands.Split(m.ExpandToText(argument));
                foreach (string key in keys)
                {
                    builder.References.UseLabel(key, t.Position, t.Length + 2 + argument.Count);
                }

                builder.References.AddReference(builder.References.Defer(() => Print(builder, state, keys, capital, form, t)), t);
            });
        }

        foreach ((string command, bool capital) in (ReadOnlySpan<(string, bool)>)[("crefrange", false), ("Crefrange", true)])
        {
            load.Machine.Define(command, (m, t) =>
            {
                m.TakeStar();
                string first = m.ReadText(t);
                string last = m.ReadText(t);
                builder.References.UseLabel(first, t.Position, t.Length);
                builder.References.UseLabel(last, t.Position, t.Length);
                builder.References.AddReference(builder.References.Defer(() => PrintRange(builder, state, first, last, capital, t)), t);
            });
        }

        // Without a letter's size the package's option says which; "lc" is small whatever it says.
        foreach ((string command, bool? capital, bool many) in (ReadOnlySpan<(string, bool?, bool)>)[
            ("namecref", null, false), ("nameCref", true, false), ("lcnamecref", false, false), ("namecrefs", null, true), ("nameCrefs", true, true), ("lcnamecrefs", false, true)])
        {
            load.Machine.Define(command, (m, t) =>
            {
                string key = m.ReadText(t);
                builder.References.UseLabel(key, t.Position, t.Length);
                builder.References.AddReference(builder.References.Defer(() => builder.References.Labels.TryGetValue(key, out Label? label)
                    ? NameOf(builder, state, KindOf(builder, state, label), many, capital ?? state.Capitalises, t) : [builder.References.MakeReference(key, ReferenceKind.Number, t)]), t);
            });
        }

        foreach ((string command, Dictionary<string, Names> names) in (ReadOnlySpan<(string, Dictionary<string, Names>)>)[("crefname", state.Small), ("Crefname", state.Capital)])
        {
            load.Machine.Define(command, (m, t) =>
            {
                string kind = m.ReadText(t);
                names[kind] = new Names(m.ReadArgument(t), m.ReadArgument(t));
            });
        }

        load.Machine.Define("crefalias", (m, t) => state.Aliases[m.ReadText(t)] = m.ReadText(t));
        load.Machine.Define("creflabelformat", (m, t) => state.LabelFormats[m.ReadText(t)] = m.ReadArgument(t));
        load.Machine.Define("crefdefaultlabelformat", (m, t) => state.LabelFormats[""] = m.ReadArgument(t));
        foreach (string command in (string[])["crefformat", "Crefformat"])
        {
            load.Machine.Define(command, (m, t) => state.Formats[(command[0] == 'C' ? "C " : "") + m.ReadText(t)] = m.ReadArgument(t));
        }

        foreach ((string command, int arguments) in (ReadOnlySpan<(string, int)>)[
            ("crefmultiformat", 5), ("Crefmultiformat", 5), ("crefrangeformat", 2), ("Crefrangeformat", 2), ("crefrangemultiformat", 5), ("crefrangelabelformat", 2)])
        {
            load.Machine.Define(command, (m, t) =>
            {
                for (int i = 0; i < arguments; i++)
                {
                    m.ReadArgument(t);
                }
            });
        }

        // Empty means the language's own words.
        foreach (string name in (string[])["crefpairconjunction", "crefmiddleconjunction", "creflastconjunction", "crefrangeconjunction"])
        {
            load.Machine.Definitions.DefineMacro(name, "");
        }
    }

    private static string KindOf(DocumentBuilder builder, CleverReferenceState state, Label label)
    {
        string kind = builder.PackageServices.ReferenceKindOf(label);
        return state.Aliases.GetValueOrDefault(kind, kind);
    }

    private static List<Inline> NameOf(DocumentBuilder builder, CleverReferenceState state, string kind, bool many, bool upper, Token token)
    {
        Names? own = upper ? state.Capital.GetValueOrDefault(kind) : state.Small.GetValueOrDefault(kind);
        if (own is null && upper && state.Small.TryGetValue(kind, out Names? small))
        {
            // Only the small form was given: its first letter becomes a capital.
            List<Token> words = [.. (many ? small.Many : small.One) ?? []];
            if (words.Count > 0 && words[0].Is(Category.Letter))
            {
                words[0] = Token.Character(char.ToUpperInvariant((char)words[0].Code), Category.Letter, words[0].Position);
            }

            return builder.BuildInlines(words);
        }

        return own is not null
            ? builder.BuildInlines([.. (many ? own.Many : own.One) ?? []])
            : [builder.References.MakeText(ReferenceNames.Of(builder, kind, many, upper), token.Position)];
    }

    private static List<Inline> Print(DocumentBuilder builder, CleverReferenceState state, string[] keys, bool capital, Form form, Token token)
    {
        var result = new List<Inline>();
        var missing = keys.Where(k => !builder.References.Labels.ContainsKey(k)).ToList();
        // Groups stand in the order in which their first member was written.
        var groups = keys.Where(builder.References.Labels.ContainsKey).Distinct().Select(k => builder.References.Labels[k])
            .GroupBy(l => form == Form.Page ? "page" : KindOf(builder, state, l)).ToList();
        (string and, string to) = Words(builder);
        for (int g = 0; g < groups.Count; g++)
        {
            if (g > 0)
            {
                Add(g == groups.Count - 1 ? and : ", ");
            }

            List<Label> members = [.. groups[g]];
            string kind = groups[g].Key;
            if (form == Form.Full && members.Count == 1 && state.Formats.TryGetValue((capital ? "C " : "") + kind, out List<Token>? format))
            {
                result.AddRange(Formatted(builder, format, members[0], token));
                continue;
            }

            if (form != Form.NumberOnly)
            {
                List<Inline> name = NameOf(builder, state, kind, members.Count > 1, state.Capitalises || (capital && g == 0), token);
                name.Add(builder.References.MakeText("\u00A0", token.Position));
                result.AddRange(state.NameInLink && members.Count == 1 ? [new LinkInline(name, members[0].Anchor, false)] : name);
            }

            List<(Label First, Label Last)> runs = form == Form.Page ? [.. members.Select(l => (l, l))] : Runs(members);
            for (int i = 0; i < runs.Count; i++)
            {
                if (i > 0)
                {
                    Add(i < runs.Count - 1 ? ", " : and);
                }

                result.AddRange(Number(builder, state, kind, runs[i].First, form, token));
                if (runs[i].Last != runs[i].First)
                {
                    Add(to);
                    result.AddRange(Number(builder, state, kind, runs[i].Last, form, token));
                }
            }
        }

        foreach (string key in missing)
        {
            if (result.Count > 0)
            {
                Add(and);
            }

            result.Add(builder.References.MakeReference(key, ReferenceKind.Number, token));
        }

        return result;

        void Add(string text) => result.Add(builder.References.MakeText(text, token.Position));
    }

    private static (string And, string To) Words(DocumentBuilder builder)
    {
        (string and, string to) = ReferenceNames.Conjunctions(builder.Text.Language);
        return (Own("creflastconjunction", and), Own("crefrangeconjunction", to));

        string Own(string macro, string standard)
        {
            string text = builder.Machine.ExpandToText([Token.Command(builder.Machine.Symbol(macro), PositionTable.None)]);
            return text.Length > 0 ? text : standard;
        }
    }

    private static IReadOnlyList<Inline> PrintRange(DocumentBuilder builder, CleverReferenceState state, string first, string last, bool capital, Token token)
    {
        if (!builder.References.Labels.TryGetValue(first, out Label? from) || !builder.References.Labels.TryGetValue(last, out Label? to))
        {
            return [builder.References.MakeReference(first, ReferenceKind.Number, token), builder.References.MakeText(Words(builder).To, token.Position),
                builder.References.MakeReference(last, ReferenceKind.Number, token)];
        }

        string kind = KindOf(builder, state, from);
        return [.. NameOf(builder, state, kind, true, state.Capitalises || capital, token), builder.References.MakeText("\u00A0", token.Position),
            .. Number(builder, state, kind, from, Form.Full, token), builder.References.MakeText(Words(builder).To, token.Position),
            .. Number(builder, state, kind, to, Form.Full, token)];
    }

    private static List<Inline> Number(DocumentBuilder builder, CleverReferenceState state, string kind, Label label, Form form, Token token)
    {
        ReferenceInline number = builder.References.MakeReference(label.Key, form == Form.Page ? ReferenceKind.Page : ReferenceKind.Number, token);
        if (form != Form.Page && (state.LabelFormats.TryGetValue(kind, out List<Token>? format) || state.LabelFormats.TryGetValue("", out format)))
        {
            return Formatted(builder, format, label, token);
        }

        return kind == "equation" && form != Form.Page
            ? [builder.References.MakeText("(", token.Position), number, builder.References.MakeText(")", token.Position)]
            : [number];
    }

    // In a format #1 is the number, #2 and #3 stand around the link.
    private static List<Inline> Formatted(DocumentBuilder builder, List<Token> format, Label label, Token token)
    {
        Machine m = builder.Machine;
        string name = "reference number";
        m.Define(name, (_, t) => builder.AddInline(builder.References.MakeReference(label.Key, ReferenceKind.Number, t)));
        var tokens = new List<Token>();
        for (int i = 0; i < format.Count; i++)
        {
            if (format[i].Is(Category.Parameter) && i + 1 < format.Count)
            {
                i++;
                if (format[i].IsCharacter('1'))
                {
                    tokens.Add(Token.Command(m.Symbol(name), token.Position));
                }
            }
            else
            {
                tokens.Add(format[i].At(token.Position));
            }
        }

        return builder.BuildInlines(tokens);
    }

    private static List<(Label First, Label Last)> Runs(List<Label> labels)
    {
        List<(Label Label, string Prefix, int Last)> parsed = [.. labels.Select(l => (l, Prefix(l.Number), LastNumber(l.Number)))];
        parsed = [.. parsed.OrderBy(p => p.Prefix, StringComparer.Ordinal).ThenBy(p => p.Last).ThenBy(p => p.Label.Position)];
        var result = new List<(Label, Label)>();
        int i = 0;
        while (i < parsed.Count)
        {
            int end = i;
            while (end + 1 < parsed.Count && parsed[end + 1].Prefix == parsed[end].Prefix && parsed[end + 1].Last == parsed[end].Last + 1 && parsed[end].Last >= 0)
            {
                end++;
            }

            if (end - i >= 2)
            {
                result.Add((parsed[i].Label, parsed[end].Label));
                i = end + 1;
            }
            else
            {
                result.Add((parsed[i].Label, parsed[i].Label));
                i++;
            }
        }

        return result;
    }

    private static string Prefix(string? number) => number is null ? "" : number[..(number.LastIndexOf('.') + 1)];

    private static int LastNumber(string? number)
    {
        string last = number is null ? "" : number[(number.LastIndexOf('.') + 1)..];
        return int.TryParse(last, out int value) ? value : last is [var c] && char.IsAsciiLetter(c) ? char.ToLowerInvariant(c) : -1;
    }
}
