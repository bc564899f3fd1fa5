using YoungFolio.Documents;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>Text printed as it is typed.</summary>
internal sealed class VerbatimCommands(DocumentBuilder builder) : ReadingFeature(builder)
{
    internal void DefineVerbatim()
    {
        Machine.Define("verb", (_, t) => Verb(t));
        Builder.Environments.DefineEnvironment("verbatim", t => Verbatim(t, false));
        Builder.Environments.DefineEnvironment("verbatim*", t => Verbatim(t, true));
        Builder.Environments.DefineEnvironment("filecontents", WriteFile);
        Builder.Environments.DefineEnvironment("filecontents*", WriteFile);
    }

    // Written once, as the kernel does it: a file that is there stays, unless the option overwrite (or force) replaces it.
    private void WriteFile(Token token)
    {
        string options = Machine.ReadOptionalText(token) ?? "";
        string name = Machine.ReadText(token).Trim();
        if (TakeRawBody(token) is { } body && FileCommands.Normalise(name) is { Length: > 0 } path)
        {
            bool replaces = options.Split(',').Any(o => o.Trim() is "overwrite" or "force");
            Builder.SourceFiles.Write(System.IO.Path.HasExtension(path) ? path : path + ".tex", body.Text, replaces);
        }
    }

    /// <summary>Passes over an environment's text.</summary>
    internal void SkipRaw(Token token) => TakeRawBody(token);

    /// <summary>
    /// Takes the text of the environment being begun as it is typed, up to its <c>\end</c>, which is read as usual.
    /// </summary>
    /// <returns>The text after the line of <c>\begin</c> and its position; null, with a finding, when it has no end.</returns>
    internal (string Text, int Position)? TakeRawBody(Token token)
    {
        // An environment of one's own may begin with \verbatim: then its own end is the text's. The document's is nobody's.
        string name = Machine.Groups.Count > 0 && Machine.Groups[^1] is { Kind: GroupKind.Environment, Name: not "document" } around ? around.Name : token.Symbol?.Name ?? "";
        if (Machine.Input.DirectLexer is not { } lexer)
        {
            Findings.Fix("verb-in-argument", token.Position, token.Length, $"The environment {name} can't stand inside another command's braces.",
                "Its text is printed as typed, and there it has been read already. Move it out of the braces.");
            return null;
        }

        int start = lexer.Position;
        if (lexer.TakeRawBefore($"\\end{{{name}}}") is not { } text)
        {
            // Without its end the text reaches to what looks most like one, or to the next empty line.
            // Called by its bare name (\verbatim) there is no group of its own to end.
            bool hasGroup = Machine.Groups.Count > 0 && Machine.Groups[^1] is { Kind: GroupKind.Environment } own && own.Name == name;
            if (hasGroup)
            {
                Builder.Environments.ReportUnclosed(Machine.Groups[^1]);
            }
            else
            {
                Findings.Fix("environment-without-begin", token.Position, token.Length, $"{token} stands without \\begin.", $"Write \\begin{{{name}}} and \\end{{{name}}}.");
            }

            string? part = lexer.TakeRawUntil($"\\end{{{name}") ?? lexer.TakeRawUntil($"\\end{name}}}") ?? lexer.TakeRawUntil($"\\end {name}}}") ?? lexer.TakeRawBefore("\n\n");
            if (hasGroup)
            {
                Machine.EndGroup();
            }

            return part is null ? null : (part[(part.IndexOf('\n', StringComparison.Ordinal) + 1)..], start + part.IndexOf('\n', StringComparison.Ordinal) + 1);
        }

        int skip = text.IndexOf('\n', StringComparison.Ordinal) + 1;
        string body = text[skip..];
        int last = body.LastIndexOf('\n');
        if (last >= 0 && string.IsNullOrWhiteSpace(body[last..]))
        {
            body = body[..last];
        }

        return (body, start + skip);
    }

    private void Verb(Token token)
    {
        if (Machine.Input.DirectLexer is not { } lexer)
        {
            Findings.Fix("verb-in-argument", token.Position, token.Length, "\\verb can't stand inside another command's braces.",
                "Use \\texttt there, with a backslash before special signs.");
            return;
        }

        bool visible = lexer.PeekRaw() == '*' && lexer.TakeRaw() == '*';
        RawText(token, lexer, visible);
    }

    // Text between two like signs, or between braces.
    internal void RawText(Token token, Lexer lexer, bool visible)
    {
        if (RawDelimited(token, lexer, out int start) is { } text)
        {
            AddTyped(text, start, visible);
        }
    }

    /// <summary>Takes raw text between two like signs; null, with a finding, when the second doesn't come on the line.</summary>
    internal string? RawDelimited(Token token, Lexer lexer, out int start)
    {
        start = lexer.Position + 1;
        char delimiter = lexer.TakeRaw();
        char close = delimiter == '{' ? '}' : delimiter;
        string? line = delimiter is '\0' or '\n' ? null : lexer.PeekLine();
        int end = line?.IndexOf(close, StringComparison.Ordinal) ?? -1;
        if (end < 0)
        {
            Findings.Fix("verb-not-closed", token.Position, token.Length, $"{token} isn't closed by {close} on its line.",
                $"The sign right after {token} must come again at the end.");
            return null;
        }

        return lexer.TakeRawUntil(close.ToString());
    }

    /// <summary>Adds text in typewriter type as typed; each character keeps its position.</summary>
    internal void AddTyped(string text, int start, bool visible)
    {
        TextStyle style = Typewriter();
        for (int i = 0; i < text.Length; i++)
        {
            Builder.Paragraph().Append(text[i] == ' ' ? (visible ? '␣' : '\u00A0') : text[i], start + i, style);
        }
    }

    internal TextStyle Typewriter() => Builder.Style.Value with { Family = FontFamily.Mono, Bold = false, Shape = FontShape.Upright };

    private void Verbatim(Token token, bool visible)
    {
        if (TakeRawBody(token) is { } body)
        {
            AddTypedLines(body.Text, body.Position, line => Run(line.Text, line.Position, Typewriter(), visible), new TypedLook());
        }
    }

    /// <summary>How lines of typed text stand.</summary>
    internal sealed record TypedLook
    {
        /// <summary>Distance between baselines in points; null: the text's.</summary>
        public double? Leading { get; init; }

        /// <summary>Left margin in points.</summary>
        public double LeftMargin { get; init; }

        /// <summary>Space above and below.</summary>
        public Glue Space { get; init; } = Glue.Of(8, 2, 4);

        /// <summary>Whether lines that are too long go on in another one, further in.</summary>
        public bool BreaksLines { get; init; }
    }

    /// <summary>Adds lines of typed text, each built by itself.</summary>
    internal void AddTypedLines(string text, int position, Func<(string Text, int Position, int Number), List<Inline>> build, TypedLook look)
    {
        Builder.EndParagraph();
        var lines = new List<Inline>();
        double width = Builder.Boxes.LineWidth - Builder.LeftMargin.Value - Builder.RightMargin.Value - look.LeftMargin;
        int at = position;
        int number = 0;
        foreach (string line in text.Split('\n'))
        {
            if (number++ > 0)
            {
                lines.Add(new LineBreakInline(default));
            }

            List<Inline> built = build((line.TrimEnd('\r'), at, number));
            if (built is [TextRun { Text: ['\u00A0', ..] }, ..])
            {
                // Spaces at a line's beginning stay behind something that has no width.
                built.Insert(0, new RuleInline(0, 0, 0));
            }

            Builder.Budget.Spend(3 + (2 * built.Count) + (line.Length / 16));
            lines.AddRange(look.BreaksLines ? new TypedLineBreaker(inlines => Builder.Boxes.Measure(inlines).Width, width).Break(built) : built);
            at += line.Length + 1;
        }

        Builder.AddBlock(new SpaceBlock(look.Space));
        ParagraphStyle style = Builder.ParagraphStyleNow(0);
        Builder.AddBlock(new ParagraphBlock(lines, style with
        {
            Alignment = Alignment.Left,
            Language = "",
            SpaceAbove = default,
            Leading = look.Leading ?? style.Leading,
            LeftMargin = style.LeftMargin + look.LeftMargin,
        }));
        Builder.AddBlock(new SpaceBlock(look.Space));
        Builder.Frames.Peek().Continues = true;
    }

    /// <summary>A run of typed text; tabs reach to the next multiple of four.</summary>
    internal static List<Inline> Run(string text, int position, TextStyle style, bool visible = false)
    {
        if (text.Length == 0)
        {
            return [];
        }

        var shown = new System.Text.StringBuilder();
        var positions = new List<int>();
        for (int i = 0; i < text.Length; i++)
        {
            int width = text[i] == '\t' ? 4 - (shown.Length % 4) : 1;
            for (int j = 0; j < width; j++)
            {
                shown.Append(text[i] is ' ' or '\t' ? (visible ? '␣' : '\u00A0') : text[i]);
                positions.Add(position + i);
            }
        }

        return [new TextRun(shown.ToString(), [.. positions], style)];
    }
}
