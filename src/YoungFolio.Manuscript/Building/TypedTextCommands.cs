using System.Globalization;
using YoungFolio.Documents;
using YoungFolio.Manuscript.Packages;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>Programs and other text as typed, with languages, numbers, captions and frames; the packages listings and fancyvrb set it up.</summary>
internal sealed class TypedTextCommands(DocumentBuilder builder) : ReadingFeature(builder)
{
    /// <summary>Reads options that stand right after <c>\begin{…}</c> of text as typed; nothing behind them is read.</summary>
    internal List<ListedOption> ReadRawOptions(Token token) =>
        Machine.Input.DirectLexer is { } lexer && lexer.PeekRaw() == '[' ? ListedOption.Of(Machine, Machine.ReadOptional(token)) : [];

    /// <summary>The text style that declarations give here.</summary>
    internal TextStyle StyleOf(IReadOnlyList<Token> declarations, TextStyle start)
    {
        Machine.BeginGroup(GroupKind.Command, "", Machine.Input.CurrentPosition);
        Machine.Assign(Builder.Style, start);
        // Declarations may be commands that take the words, such as \textbf: their group's style is what counts.
        Builder.Execute([.. declarations.Where(t => !t.IsCommand("textbf") && !t.IsCommand("textit"))]);
        TextStyle style = Builder.Style.Value;
        Machine.EndGroup();
        return (declarations.Any(t => t.IsCommand("textbf")), declarations.Any(t => t.IsCommand("textit"))) switch
        {
            (true, _) => style with { Bold = true },
            (_, true) => style with { Shape = FontShape.Italic },
            _ => style,
        };
    }

    /// <summary>Prints the environment being begun as typed.</summary>
    internal void TypedBlock(Token token, ListingSetup setup)
    {
        if (Builder.Verbatim.TakeRawBody(token) is { } body)
        {
            PrintTyped(body.Text, body.Position, setup, token);
        }
    }

    /// <summary>Prints a file as typed; its name is the command's argument.</summary>
    internal void TypedFile(Token token, ListingSetup? setup = null)
    {
        List<Token> argument = Machine.ReadArgument(token);
        string name = Builder.Files.FileName(argument);
        if (Builder.Files.Resolve(name, [""], token, argument.Count > 0 ? argument[0].Position : token.Position) is { } file)
        {
            PrintTyped(file.Text.TrimEnd('\n'), Machine.Positions.Register(file), setup ?? new ListingSetup(), token);
        }
    }

    private void PrintTyped(string text, int position, ListingSetup setup, Token token)
    {
        Builder.EndParagraph();
        Machine.BeginGroup(GroupKind.Command, "", token.Position);
        if (setup.Caption is { } caption)
        {
            TypedCaption(caption, setup, token);
        }
        else if (setup.Title is { } title)
        {
            Builder.AddBlock(new ParagraphBlock(Builder.BuildInlines(title), Builder.PackageServices.PlainParagraph() with { Alignment = Alignment.Centre }));
        }

        Machine.Assign(Builder.Style, Builder.Verbatim.Typewriter());
        Builder.Execute([.. setup.Basic]);
        TextStyle basic = Builder.Style.Value with { Family = setup.Basic.Any(t => t.IsCommand("rmfamily") || t.IsCommand("sffamily")) ? Builder.Style.Value.Family : FontFamily.Mono };
        double leading = Builder.Leading.Value;
        var words = new TypedWords(Builder, setup, basic);
        if (setup.Framed)
        {
            Builder.AddBlock(new SpaceBlock(Glue.Of(4)));
            AddFullRule();
        }

        string[] lines = text.Split('\n');
        int from = Math.Clamp(setup.FirstLine, 1, lines.Length);
        int to = Math.Clamp(setup.LastLine, from, lines.Length);
        int start = position + lines.Take(from - 1).Sum(l => l.Length + 1);
        TextStyle numbers = StyleOf(setup.NumberFont.Count > 0 ? setup.NumberFont : Machine.Tokenize("\\scriptsize ", token.Position), basic with { Bold = false, Shape = FontShape.Upright });
        Builder.Verbatim.AddTypedLines(string.Join('\n', lines[(from - 1)..to]), start, line =>
        {
            List<Inline> content = words.Line(line.Text, line.Position);
            int number = setup.FirstNumber + from - 1 + line.Number - 1;
            if (setup.Numbers)
            {
                string shown = number % setup.NumberStep == 0 || line.Number == 1 ? number.ToString(CultureInfo.InvariantCulture) : "";
                var box = new BoxInline(shown.Length == 0 ? [] : [new TextRun(shown, [.. Enumerable.Repeat(PositionTable.None, shown.Length)], numbers)]) { Width = 18, Alignment = 1 };
                content.InsertRange(0, [box, new SpaceInline(Glue.Of(8), false)]);
            }

            return content;
        }, new VerbatimCommands.TypedLook { BreaksLines = setup.BreaksLines, Leading = leading, LeftMargin = setup.Indent, Space = setup.Framed ? Glue.Of(3) : Glue.Of(8, 2, 4) });
        if (setup.Framed)
        {
            AddFullRule();
            Builder.AddBlock(new SpaceBlock(Glue.Of(8, 2, 2)));
        }

        Machine.EndGroup();
    }

    private void AddFullRule() => Builder.AddBlock(new ParagraphBlock([new RuleInline(Builder.Boxes.LineWidth, 0.4, 0)], Builder.PackageServices.PlainParagraph() with { Leading = 3 }));

    private void TypedCaption(List<Token> caption, ListingSetup setup, Token token)
    {
        Machine.Counters.Step("lstlisting", token);
        List<Inline> text = Builder.BuildInlines(caption);
        string anchor = Builder.References.StartLabel("lstlisting", token, text);
        Builder.References.AddInlineAnchor(anchor);
        string number = Builder.CurrentLabel.Value!.Number ?? "";
        if (setup.Label.Length > 0)
        {
            Builder.References.Labels.TryAdd(setup.Label, new Label(setup.Label, "lstlisting", number, anchor, token.Position, token.Length, text));
        }

        Builder.BackMatter.AddListLine("lol", number, text, anchor, token.Position);
        List<Inline> line = [.. Builder.BuildInlines([Token.Command(Machine.Symbol("lstlistingname"), token.Position)]), Builder.References.MakeText("\u00A0" + number + ": ", token.Position), .. text];
        Builder.AddBlock(new SpaceBlock(Glue.Of(8, 2, 2)));
        Builder.AddBlock(new ParagraphBlock(line, Builder.PackageServices.PlainParagraph() with { Alignment = Builder.Boxes.Measure(line).Width < Builder.Boxes.LineWidth ? Alignment.Centre : Alignment.Justified }));
        Builder.AddBlock(new PenaltyBlock(10_000));
    }

    /// <summary>Adds words of a program in the line.</summary>
    internal void AddTypedWords(string text, int position, ListingSetup setup)
    {
        TextStyle basic = StyleOf(setup.Basic, Builder.Verbatim.Typewriter());
        foreach (Inline inline in new TypedWords(Builder, setup, basic).Line(text, position))
        {
            Builder.AddInline(inline);
        }
    }

    /// <summary>Sets the words of a program's lines by their kinds.</summary>
    private sealed class TypedWords
    {
        private readonly DocumentBuilder _builder;
        private readonly ListingSetup _setup;
        private readonly ProgramLanguage _language;
        private readonly Dictionary<ProgramWord, TextStyle> _styles = [];
        private bool _inComment;

        public TypedWords(DocumentBuilder builder, ListingSetup setup, TextStyle basic)
        {
            (_builder, _setup) = (builder, setup);
            _language = ProgramLanguage.Find(setup.Language).With(setup.MoreKeywords, setup.FewerKeywords);
            _styles[ProgramWord.Plain] = basic;
            _styles[ProgramWord.Keyword] = setup.Keywords is { } k ? builder.TypedText.StyleOf(k, basic) : basic with { Bold = true };
            _styles[ProgramWord.Comment] = setup.Comments is { } c ? builder.TypedText.StyleOf(c, basic) : basic with { Shape = FontShape.Italic };
            _styles[ProgramWord.Text] = setup.Texts is { } t ? builder.TypedText.StyleOf(t, basic) : basic;
        }

        public List<Inline> Line(string text, int position)
        {
            if (_setup.Escape.Length >= 2)
            {
                int open = text.IndexOf(_setup.Escape[0], StringComparison.Ordinal);
                int close = open < 0 ? -1 : text.IndexOf(_setup.Escape[^1], open + 1);
                if (close > open)
                {
                    return [.. Line(text[..open], position), .. _builder.BuildInlines(_builder.Machine.Tokenize(text[(open + 1)..close], position + open + 1)),
                        .. Line(text[(close + 1)..], position + close + 1)];
                }
            }

            if (_setup.CommandCharacters.Length == 3 && text.Contains(_setup.CommandCharacters[0], StringComparison.Ordinal))
            {
                return _builder.TypedText.BuildTypedMarkup(text, position, _setup.CommandCharacters, _styles[ProgramWord.Plain]);
            }

            var result = new List<Inline>();
            foreach ((string word, int offset, ProgramWord kind) in _language.Parse(text, ref _inComment))
            {
                result.AddRange(VerbatimCommands.Run(word, position + offset, _styles[kind], _setup.ShowsSpaces));
            }

            return result;
        }
    }

    // Text as typed in which three signs act as backslash and braces.
    internal List<Inline> BuildTypedMarkup(string text, int position, string signs, TextStyle style)
    {
        Machine.BeginGroup(GroupKind.Command, "", position);
        Machine.Assign(Builder.Style, style);
        for (int i = 0; i < 128; i++)
        {
            if (!char.IsLetter((char)i))
            {
                Machine.Categories.Set(i, Category.Other);
            }
        }

        Machine.Categories.Set(signs[0], Category.Escape);
        Machine.Categories.Set(signs[1], Category.BeginGroup);
        Machine.Categories.Set(signs[2], Category.EndGroup);
        Token[] tokens = Machine.Tokenize(text, position);
        for (int i = 0; i < tokens.Length; i++)
        {
            tokens[i] = tokens[i].IsCharacter(' ') ? Token.Character(0xA0, Category.Other, position) : tokens[i];
        }

        List<Inline> result = Builder.BuildInlines(tokens);
        Machine.EndGroup();
        return result;
    }

    /// <summary>Gives the environment alltt: typewriter text in which commands work.</summary>
    internal void DefineAlltt() => Builder.Environments.DefineEnvironment("alltt", _ =>
    {
        Builder.EndParagraph();
        Builder.OpenFrame();
        Builder.AddBlock(new SpaceBlock(Glue.Of(8, 2, 4)));
        Machine.Assign(Builder.Style, Builder.Verbatim.Typewriter());
        Builder.Lists.Align(Alignment.Left);
        foreach (char c in "$&#^_%~\"'`")
        {
            Machine.Categories.Set(c, Category.Other);
        }

        ObeyLines();
        ObeySpaces();
        if (Machine.Input.DirectLexer is { } lexer && lexer.PeekRaw() == '\n')
        {
            lexer.TakeRaw();
        }
    }, _ =>
    {
        if (Builder.Frames.Count > 1)
        {
            BlockFrame frame = Builder.CloseFrame();
            foreach (Block block in frame.Blocks)
            {
                Builder.AddBlock(block);
            }

            Builder.AddBlock(new SpaceBlock(Glue.Of(8, 2, 4)));
            Builder.Frames.Peek().Continues = true;
        }
    });

    private void ObeyLines()
    {
        Machine.Categories.Set('\n', Category.Active);
        Machine.Symbols.DefineActive('\n', (_, _) =>
        {
            // An empty line still takes its room.
            if (Builder.Frames.Peek().Paragraph is null or { HasContent: false })
            {
                Builder.AddCharacter(0xA0, PositionTable.None);
            }

            Builder.Paragraph().Add(new LineBreakInline(default));
        });
    }

    private void ObeySpaces()
    {
        Machine.Categories.Set(' ', Category.Active);
        Machine.Symbols.DefineActive(' ', (_, t) => Builder.AddCharacter(0xA0, t.Position));
    }

    internal void DefineObeying()
    {
        Machine.Define("obeylines", (_, _) => ObeyLines());
        Machine.Define("obeyspaces", (_, _) => ObeySpaces());
    }
}
