using YoungFolio.Bibliography;
using YoungFolio.Documents;
using YoungFolio.Manuscript.Building;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Sources;

/// <summary>What all commands of citation share: reading notes and keys, and printing what the style makes of them.</summary>
internal static class CitationCommands
{
    /// <summary>Gives a command of citation.</summary>
    /// <param name="builder">The document.</param>
    /// <param name="name">The command.</param>
    /// <param name="form">What it asks for; asked when all has been read, since it may hang on the style.</param>
    /// <param name="capital">Whether it begins a sentence.</param>
    public static void Define(DocumentBuilder builder, string name, Func<CitationForm> form, bool capital = false) =>
        builder.Machine.Define(name, (m, t) =>
        {
            bool star = m.TakeStar();
            (List<Token>? before, List<Token>? after) = ReadNotes(m, t);
            List<Token> argument = m.ReadArgument(t);
            Add(builder, t, form, [new CitedKeys(PreambleCommands.Split(m.ExpandToText(argument)), before, after)], argument, star, capital);
        });

    /// <summary>Gives a command that cites several sources, each with notes of its own: <c>\cites(see)()[12]{a}[34]{b}</c>.</summary>
    public static void DefineMany(DocumentBuilder builder, string name, Func<CitationForm> form, bool capital = false) =>
        builder.Machine.Define(name, (m, t) =>
        {
            List<Token>? first = m.ReadOptional(t, '(', ')');
            List<Token>? second = m.ReadOptional(t, '(', ')');
            (List<Token>? before, List<Token>? after) = second is null ? (null, first) : (first, second);
            var items = new List<CitedKeys>();
            var all = new List<Token>();
            while (true)
            {
                Token next = m.Peek();
                if (!next.IsCharacter('[') && !next.Is(Category.BeginGroup))
                {
                    break;
                }

                (List<Token>? own, List<Token>? behind) = ReadNotes(m, t);
                List<Token> argument = m.ReadArgument(t);
                all.AddRange(argument);
                items.Add(new CitedKeys(PreambleCommands.Split(m.ExpandToText(argument)), own, behind));
            }

            if (items.Count == 0)
            {
                return;
            }

            before = before is { Count: > 0 } ? before : null;
            after = after is { Count: > 0 } ? after : null;
            items[0] = items[0] with { Before = before is null ? items[0].Before : [.. before, .. items[0].Before is { } b ? [Token.Character(' ', Category.Space, t.Position), .. b] : (List<Token>)[]] };
            items[^1] = items[^1] with { After = after is null ? items[^1].After : [.. items[^1].After is { } a ? [.. a, Token.Character(',', Category.Other, t.Position), Token.Character(' ', Category.Space, t.Position)] : (List<Token>)[], .. after] };
            Add(builder, t, form, items, all, false, capital);
        });

    /// <summary>Gives a command whose citation stands in a footnote.</summary>
    public static void DefineFoot(DocumentBuilder builder, string name, string inner, string note = "footnote") =>
        builder.Machine.Define(name, (m, t) =>
        {
            m.TakeStar();
            List<Token>? first = m.ReadOptional(t);
            List<Token>? second = first is null ? null : m.ReadOptional(t);
            List<Token> keys = m.ReadArgument(t);
            var text = new List<Token> { Token.Command(m.Symbol(inner), t.Position) };
            foreach (List<Token>? option in (List<Token>?[])[first, second])
            {
                if (option is not null)
                {
                    text.AddRange([Token.Character('[', Category.Other, t.Position), .. TokenLists.Braced(option, t.Position), Token.Character(']', Category.Other, t.Position)]);
                }
            }

            text.AddRange([.. TokenLists.Braced(keys, t.Position), Token.Character('.', Category.Other, t.Position)]);
            m.Push([Token.Command(m.Symbol(note), t.Position), .. TokenLists.Braced(text, t.Position)]);
        });

    /// <summary>Gives a command that cites several sources in one footnote.</summary>
    public static void DefineFootMany(DocumentBuilder builder, string name, string inner) =>
        builder.Machine.Define(name, (m, t) =>
        {
            // Everything that belongs to the citation is carried into the note as it is.
            var text = new List<Token> { Token.Command(m.Symbol(inner), t.Position) };
            void Take(char open, char close)
            {
                while (m.ReadOptional(t, open, close) is { } note)
                {
                    text.AddRange([Token.Character(open, Category.Other, t.Position), .. TokenLists.Braced(note, t.Position), Token.Character(close, Category.Other, t.Position)]);
                }
            }

            Take('(', ')');
            while (m.Peek() is var next && (next.IsCharacter('[') || next.Is(Category.BeginGroup)))
            {
                Take('[', ']');
                text.AddRange(TokenLists.Braced(m.ReadArgument(t), t.Position));
            }

            text.Add(Token.Character('.', Category.Other, t.Position));
            m.Push([Token.Command(m.Symbol("footnote"), t.Position), .. TokenLists.Braced(text, t.Position)]);
        });

    private static (List<Token>? Before, List<Token>? After) ReadNotes(Machine machine, Token token)
    {
        List<Token>? first = machine.ReadOptional(token);
        List<Token>? second = first is null ? null : machine.ReadOptional(token);
        (List<Token>? before, List<Token>? after) = second is null ? (null, first) : (first, second);
        return (before is { Count: > 0 } ? before : null, after is { Count: > 0 } ? after : null);
    }

    private static LinkInline LinkTo(DocumentBuilder builder, string markup, string anchor, Token token) =>
        new(builder.Addresses.WithColour(builder.Bibliography.CitationColour, () => builder.BuildInlines(builder.HeadingCommands.InternalTokens(markup).Select(u => u.At(token.Position)).ToList())), anchor, false);

    private sealed record CitedKeys(string[] Keys, List<Token>? Before, List<Token>? After);

    private static void Add(DocumentBuilder builder, Token token, Func<CitationForm> form, List<CitedKeys> cited, List<Token> argument, bool all, bool capital)
    {
        CitationCollector desk = builder.Bibliography.CitationCollector;
        var items = new List<CitedItem>();
        var before = new Dictionary<int, List<Inline>>();
        var after = new Dictionary<int, List<Inline>>();
        foreach (CitedKeys one in cited)
        {
            desk.Cite(one.Keys, token);
            for (int i = 0; i < one.Keys.Length; i++)
            {
                builder.References.UseLabel("source " + one.Keys[i], token.Position, DocumentBuilder.NameLength(token, argument));
                string? note = null;
                if (i == 0 && one.Before is { } b)
                {
                    before[items.Count] = builder.BuildInlines(b);
                }

                if (i == one.Keys.Length - 1 && one.After is { } a)
                {
                    after[items.Count] = builder.BuildInlines(a);
                    note = PlainText.Of(after[items.Count]);
                }

                items.Add(new CitedItem(one.Keys[i], before.ContainsKey(items.Count), note, desk.Turns.Next(one.Keys[i])));
            }
        }

        if (items.Count == 0)
        {
            builder.Findings.Fix("empty-citation", token.Position, token.Length, $"{token} names no source.", "Put a key into its braces.");
            return;
        }

        if (items.Count > 1)
        {
            // After several, "the same" would be one of them.
            desk.Turns.PartFromNext();
        }

        int section = desk.Section;
        builder.Boxes.AddBoxed(builder.References.Defer(() =>
        {
            // The whole is one stretch of markup, so that spaces between its parts stay; what is set already comes in by number.
            var markup = new List<Token>();
            var pieces = new List<IReadOnlyList<Inline>>();
            foreach (CitationPart part in CitationFormatter.Format(items, form(), k => desk.Find(k, section), desk.Manner, desk.Words, all, capital))
            {
                if (part.Kind == CitationPartKind.Text)
                {
                    markup.AddRange(builder.HeadingCommands.InternalTokens(part.Markup).Select(u => u.At(token.Position)));
                    continue;
                }

                pieces.Add(part.Kind switch
                {
                    CitationPartKind.Before => before[part.Item],
                    CitationPartKind.After => after[part.Item],
                    CitationPartKind.Link => [LinkTo(builder, part.Markup, CitationCollector.AnchorOf(desk.Find(items[part.Item].Key, section)!.Entry.Key, section), token)],
                    _ => [builder.References.MakeText("??", token.Position)],
                });
                markup.AddRange([Token.Command(builder.Machine.Symbol("source@piece"), token.Position), .. TokenLists.Braced([.. builder.Machine.Tokenize((pieces.Count - 1).ToString(System.Globalization.CultureInfo.InvariantCulture), token.Position)], token.Position)]);
            }

            desk.Pieces = pieces;
            return builder.BuildInlines(markup);
        }), token);
    }
}
