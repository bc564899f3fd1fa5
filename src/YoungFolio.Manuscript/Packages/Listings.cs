using System.Globalization;
using YoungFolio.Documents;
using YoungFolio.Manuscript.Building;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Packages;

/// <summary>How text printed as typed stands: shared by the packages listings and fancyvrb.</summary>
internal sealed record ListingSetup
{
    /// <summary>Declarations of the whole text.</summary>
    public IReadOnlyList<Token> Basic { get; init; } = [];

    /// <summary>Declarations of keywords.</summary>
    public IReadOnlyList<Token>? Keywords { get; init; }

    /// <summary>Declarations of comments.</summary>
    public IReadOnlyList<Token>? Comments { get; init; }

    /// <summary>Declarations of texts in quotation marks.</summary>
    public IReadOnlyList<Token>? Texts { get; init; }

    /// <summary>Declarations of line numbers.</summary>
    public IReadOnlyList<Token> NumberFont { get; init; } = [];

    /// <summary>Language.</summary>
    public string Language { get; init; } = "";

    /// <summary>Words of the language besides those known.</summary>
    public IReadOnlyList<string> MoreKeywords { get; init; } = [];

    /// <summary>Words of the language that are no keywords.</summary>
    public IReadOnlyList<string> FewerKeywords { get; init; } = [];

    /// <summary>Whether lines are numbered.</summary>
    public bool Numbers { get; init; }

    /// <summary>Number of the first line.</summary>
    public int FirstNumber { get; init; } = 1;

    /// <summary>Every how many lines a number stands.</summary>
    public int NumberStep { get; init; } = 1;

    /// <summary>Whether rules stand above and below.</summary>
    public bool Framed { get; init; }

    /// <summary>Caption, or null.</summary>
    public List<Token>? Caption { get; init; }

    /// <summary>Title without a number, or null.</summary>
    public List<Token>? Title { get; init; }

    /// <summary>Key of a label, or empty.</summary>
    public string Label { get; init; } = "";

    /// <summary>Indent in points.</summary>
    public double Indent { get; init; }

    /// <summary>First line printed.</summary>
    public int FirstLine { get; init; } = 1;

    /// <summary>Last line printed.</summary>
    public int LastLine { get; init; } = int.MaxValue;

    /// <summary>Whether spaces are shown.</summary>
    public bool ShowsSpaces { get; init; }

    /// <summary>Whether lines may break.</summary>
    public bool BreaksLines { get; init; }

    /// <summary>Characters that begin and end what is read as markup, or empty (<c>escapeinside</c>).</summary>
    public string Escape { get; init; } = "";

    /// <summary>Characters that act as backslash and braces, or empty (<c>commandchars</c>).</summary>
    public string CommandCharacters { get; init; } = "";

    /// <summary>Whether the whole is a float.</summary>
    public bool Floats { get; init; }
}

/// <summary>The packages listings and fancyvrb.</summary>
internal static class Listings
{
    private sealed class ListingState
    {
        public List<ListedOption> Standard { get; } = [];

        public Dictionary<string, List<ListedOption>> Styles { get; } = new(StringComparer.Ordinal);
    }

    public static void Load(DocumentBuilder builder)
    {
        Machine machine = builder.Machine;
        var state = new ListingState();
        machine.Counters.Add("lstlisting");
        machine.Counters.Add("lstnumber");
        machine.Definitions.DefineMacro("lstlistingname", "Listing");
        machine.Definitions.DefineMacro("lstlistlistingname", "Listings");
        builder.Hooks.WhenDocumentBegins(() =>
        {
            if (builder.Class.HasChapters)
            {
                machine.Counters.ResetWith("lstlisting", "chapter");
                machine.Definitions.Load("\\def\\thelstlisting{\\ifnum\\c@chapter>0 \\thechapter.\\fi\\arabic{lstlisting}}");
            }
        });
        ListingSetup Setup(IEnumerable<ListedOption> options, Token token) =>
            Read(builder, state, new ListingSetup(), state.Standard.Concat(options), token);

        machine.Define("lstset", (m, t) => state.Standard.AddRange(ListedOption.Of(m, m.ReadArgument(t))));
        machine.Define("lstdefinestyle", (m, t) => state.Styles[m.ReadText(t)] = ListedOption.Of(m, m.ReadArgument(t)));
        machine.Define("lstdefinelanguage", (m, t) =>
        {
            m.ReadOptional(t);
            string name = m.ReadText(t);
            m.ReadOptional(t);
            if (!m.Peek().Is(Category.BeginGroup))
            {
                return;
            }

            state.Styles["language " + name] = ListedOption.Of(m, m.ReadArgument(t));
            m.ReadOptional(t);
        });
        builder.Environments.DefineEnvironment("lstlisting", t =>
        {
            List<ListedOption> options = builder.TypedText.ReadRawOptions(t);
            builder.TypedText.TypedBlock(t, Setup(options, t));
        });
        machine.Define("lstnewenvironment", (m, t) =>
        {
            string name = m.ReadText(t);
            int arity = m.ReadOptional(t) is { } number ? m.Quantities.ParseInteger(number, t) ?? 0 : 0;
            List<Token>? standard = m.ReadOptional(t);
            List<Token> begin = m.ReadArgument(t);
            m.ReadArgument(t);
            builder.Environments.DefineEnvironment(name, u =>
            {
                var arguments = new List<Token>[arity];
                for (int i = 0; i < arity; i++)
                {
                    arguments[i] = i == 0 && standard is not null
                        ? m.Input.DirectLexer is { } lexer && lexer.PeekRaw() == '[' ? m.ReadOptional(u) ?? standard : standard
                        : m.ReadArgument(u);
                }

                int count = state.Standard.Count;
                builder.Execute([.. m.Definitions.NumberParameters(begin, arity).SelectMany(b => b.Is(Category.Argument) ? arguments[b.Code - 1] : [b])]);
                ListingSetup setup = Setup([], u);
                state.Standard.RemoveRange(count, state.Standard.Count - count);
                builder.TypedText.TypedBlock(u, setup);
            });
        });
        machine.Define("lstinputlisting", (m, t) =>
        {
            List<ListedOption> options = ListedOption.Of(m, m.ReadOptional(t));
            builder.TypedText.TypedFile(t, Setup(options, t));
        });
        machine.Define("lstinline", (m, t) =>
        {
            if (m.Input.DirectLexer is { } direct && direct.PeekRaw() == '[')
            {
                m.ReadOptional(t);
            }

            ListingSetup setup = Setup([], t);
            if (m.Input.DirectLexer is { } lexer)
            {
                if (builder.Verbatim.RawDelimited(t, lexer, out int start) is { } text)
                {
                    builder.TypedText.AddTypedWords(text, start, setup);
                }
            }
            else
            {
                List<Token> argument = m.ReadOptional(t) is null ? m.ReadArgument(t) : m.ReadArgument(t);
                builder.TypedText.AddTypedWords(argument.ToSource(), t.Position, setup);
            }
        });
        DefineShortVerb(builder, "lstMakeShortInline");
        machine.Define("lstlistoflistings", (m, t) => m.Push([.. builder.HeadingCommands.InternalTokens(
            $"\\{(builder.Class.HasChapters ? "chapter" : "section")}*{{\\lstlistlistingname}}\\@starttoc{{lol}}").Select(u => u.At(t.Position))]));
    }

    /// <summary>Gives the commands of a package that names the language first.</summary>
    public static void LoadNamed(DocumentBuilder builder)
    {
        Machine machine = builder.Machine;
        // What \setminted says of all languages, under an empty name, and of each.
        var standard = new Dictionary<string, List<ListedOption>>(StringComparer.Ordinal);
        List<ListedOption> Standard(string language) => standard.TryGetValue(language, out List<ListedOption>? options) ? options : standard[language] = [];
        ListingSetup Setup(string language, IEnumerable<ListedOption> options, Token token) =>
            Read(builder, new ListingState(), new ListingSetup { Language = language }, [.. Standard(""), .. Standard(language), .. options], token, strict: false);
        void InLine(Machine m, string language, IEnumerable<ListedOption> options, Token token)
        {
            ListingSetup setup = Setup(language, options, token);
            if (m.Input.DirectLexer is { } lexer && builder.Verbatim.RawDelimited(token, lexer, out int start) is { } text)
            {
                builder.TypedText.AddTypedWords(text, start, setup);
            }
        }

        void SkipRawOptions(Machine m, Token token)
        {
            if (m.Input.DirectLexer is { } direct && direct.PeekRaw() == '[')
            {
                m.ReadOptional(token);
            }
        }

        builder.Environments.DefineEnvironment("minted", t =>
        {
            List<ListedOption> options = builder.TypedText.ReadRawOptions(t);
            builder.TypedText.TypedBlock(t, Setup(machine.ReadText(t), options, t));
        });
        machine.Define("mintinline", (m, t) =>
        {
            SkipRawOptions(m, t);
            InLine(m, m.ReadText(t), [], t);
        });
        machine.DefineMeaning("mint", machine.Symbol("mintinline").Meaning.Value!);
        machine.Define("inputminted", (m, t) =>
        {
            List<ListedOption> options = ListedOption.Of(m, m.ReadOptional(t));
            builder.TypedText.TypedFile(t, Setup(m.ReadText(t), options, t));
        });
        machine.Define("setminted", (m, t) => Standard(m.ReadOptionalText(t) ?? "").AddRange(ListedOption.Of(m, m.ReadArgument(t))));
        // Environments and commands of one language: [name]{language}{options}; each has a usual name.
        void DefineShort(string command, string ending, Action<string, string, List<ListedOption>> define) => machine.Define(command, (m, t) =>
        {
            string? name = m.ReadOptionalText(t);
            string language = m.ReadText(t);
            define(name ?? language + ending, language, ListedOption.Of(m, m.ReadArgument(t)));
        });
        DefineShort("newminted", "code", (name, language, own) =>
        {
            builder.Environments.DefineEnvironment(name, t => builder.TypedText.TypedBlock(t, Setup(language, own.Concat(builder.TypedText.ReadRawOptions(t)), t)));
            builder.Environments.DefineEnvironment(name + "*", t => builder.TypedText.TypedBlock(t, Setup(language, own.Concat(ListedOption.Of(machine, machine.ReadArgument(t))), t)));
        });
        foreach ((string command, string ending) in ((string, string)[])[("newmint", ""), ("newmintinline", "inline")])
        {
            DefineShort(command, ending, (name, language, own) => machine.Define(name, (m, t) =>
            {
                SkipRawOptions(m, t);
                InLine(m, language, own, t);
            }));
        }

        DefineShort("newmintedfile", "file", (name, language, own) => machine.Define(name, (m, t) =>
        {
            List<ListedOption> options = ListedOption.Of(m, m.ReadOptional(t));
            builder.TypedText.TypedFile(t, Setup(language, own.Concat(options), t));
        }));
        machine.Definitions.Load("\\newcommand{\\setmintedinline}[2][]{}\\newcommand{\\usemintedstyle}[2][]{}");
    }

    /// <summary>Gives the commands of fancyvrb.</summary>
    public static void LoadVerbatims(DocumentBuilder builder)
    {
        Machine machine = builder.Machine;
        var state = new ListingState();
        ListingSetup Setup(IEnumerable<ListedOption> options, Token token) => Read(builder, state, new ListingSetup(), state.Standard.Concat(options), token);
        void Define(string name, List<ListedOption> own) => builder.Environments.DefineEnvironment(name, t =>
        {
            List<ListedOption> options = builder.TypedText.ReadRawOptions(t);
            builder.TypedText.TypedBlock(t, Setup(own.Concat(options), t));
        });
        foreach (string name in (string[])["Verbatim", "Verbatim*", "BVerbatim", "LVerbatim"])
        {
            Define(name, []);
        }

        builder.Environments.DefineEnvironment("SaveVerbatim", builder.Verbatim.SkipRaw);
        machine.Define("fvset", (m, t) => state.Standard.AddRange(ListedOption.Of(m, m.ReadArgument(t))));
        foreach (string name in (string[])["DefineVerbatimEnvironment", "RecustomVerbatimEnvironment", "CustomVerbatimEnvironment"])
        {
            machine.Define(name, (m, t) =>
            {
                string environment = m.ReadText(t);
                m.ReadText(t);
                Define(environment, ListedOption.Of(m, m.ReadArgument(t)));
            });
        }

        machine.Define("VerbatimInput", (m, t) =>
        {
            List<ListedOption> options = ListedOption.Of(m, m.ReadOptional(t));
            builder.TypedText.TypedFile(t, Setup(options, t));
        });
        machine.DefineMeaning("Verb", machine.Symbol("verb").Meaning.Value!);
        machine.Define("VerbatimFootnotes", static (_, _) => { });
        DefineShortVerb(builder, "DefineShortVerb");
    }

    /// <summary>Defines a command that makes one sign begin and end text as typed.</summary>
    public static void DefineShortVerb(DocumentBuilder builder, string name)
    {
        builder.Machine.Define(name, (m, t) =>
        {
            m.TakeStar();
            m.ReadOptional(t);
            if (m.ReadArgument(t) is not [var sign, ..])
            {
                return;
            }

            int code = sign.Symbol is { } symbol ? FirstCharacter.Of(symbol.Name) : sign.Code;
            m.Categories.Set(code, Category.Active);
            m.Symbols.DefineActive((char)code, (n, u) =>
            {
                if (n.Input.DirectLexer is not { } lexer || lexer.TakeRawUntil(((char)code).ToString()) is not { } text)
                {
                    builder.Findings.Fix("verb-not-closed", u.Position, 1, $"The text as typed begun here by {(char)code} isn't closed.",
                        "The sign must come again at the end.");
                    return;
                }

                builder.Verbatim.AddTyped(text, u.Position + 1, false);
            });
        });
        builder.Machine.Define("DeleteShortVerb", static (m, t) =>
        {
            if (m.ReadArgument(t) is [{ Symbol: { } symbol }, ..])
            {
                m.Categories.Set(FirstCharacter.Of(symbol.Name), Category.Other);
            }
        });
    }

    private static ListingSetup Read(DocumentBuilder builder, ListingState state, ListingSetup setup, IEnumerable<ListedOption> options, Token token, bool strict = true)
    {
        Machine m = builder.Machine;
        foreach (ListedOption option in options)
        {
            List<Token> value = option.Value ?? [];
            string text = value.ToSource().Trim();
            int Number(int standard) => int.TryParse(text, NumberStyles.Integer, CultureInfo.InvariantCulture, out int n) ? n : standard;
            switch (option.Key)
            {
                case "style" when state.Styles.TryGetValue(text, out List<ListedOption>? style):
                    setup = Read(builder, state, setup, style, token, strict);
                    break;
                case "language":
                    setup = setup with { Language = text };
                    if (state.Styles.TryGetValue("language " + text, out List<ListedOption>? language))
                    {
                        setup = Read(builder, state, setup, language, token, strict);
                    }
                    else if (text.Length > 0 && !ProgramLanguage.IsKnown(text) && strict)
                    {
                        builder.Findings.Check("unknown-language", option.Position >= 0 ? option.Position : token.Position, option.Length,
                            $"The programming language “{text}” isn't known.", "Its words are printed alike. Define it with \\lstdefinelanguage.");
                    }

                    break;
                case "deletekeywords":
                    setup = setup with { FewerKeywords = [.. setup.FewerKeywords, .. PreambleCommands.Split(text)] };
                    break;
                case "morekeywords" or "keywords" or "otherkeywords":
                    setup = setup with { MoreKeywords = [.. setup.MoreKeywords, .. PreambleCommands.Split(text)] };
                    break;
                case "basicstyle" or "formatcom":
                    setup = setup with { Basic = value };
                    break;
                case "fontsize" when text != "auto":
                    setup = setup with { Basic = [.. setup.Basic, .. value] };
                    break;
                case "keywordstyle":
                    setup = setup with { Keywords = value };
                    break;
                case "commentstyle":
                    setup = setup with { Comments = value };
                    break;
                case "stringstyle":
                    setup = setup with { Texts = value };
                    break;
                case "numberstyle":
                    setup = setup with { NumberFont = value };
                    break;
                case "numbers":
                    setup = setup with { Numbers = text is "left" or "right" or "both" };
                    break;
                case "linenos":
                    setup = setup with { Numbers = text != "false" };
                    break;
                case "firstnumber":
                    setup = setup with { FirstNumber = Number(1) };
                    break;
                case "stepnumber":
                    setup = setup with { NumberStep = Math.Max(1, Number(1)) };
                    break;
                case "firstline":
                    setup = setup with { FirstLine = Number(1) };
                    break;
                case "lastline":
                    setup = setup with { LastLine = Number(int.MaxValue) };
                    break;
                case "frame":
                    setup = setup with { Framed = text is not ("none" or "") };
                    break;
                case "caption":
                    setup = setup with { Caption = value };
                    break;
                case "title":
                    setup = setup with { Title = value };
                    break;
                case "label":
                    setup = setup with { Label = m.ExpandToText(value).Trim() };
                    break;
                case "xleftmargin":
                    setup = setup with { Indent = m.Quantities.ParseGlue(value, token)?.Width.Points ?? 0 };
                    break;
                case "showspaces":
                    setup = setup with { ShowsSpaces = text != "false" };
                    break;
                case "breaklines":
                    setup = setup with { BreaksLines = text != "false" };
                    break;
                case "escapeinside":
                    setup = setup with { Escape = text.Replace(" ", "", StringComparison.Ordinal) };
                    break;
                case "commandchars":
                    setup = setup with { CommandCharacters = text.Replace("\\\\", "\\", StringComparison.Ordinal).Replace("\\{", "{", StringComparison.Ordinal).Replace("\\}", "}", StringComparison.Ordinal) };
                    break;
                case "float":
                    setup = setup with { Floats = true };
                    break;
            }
        }

        return setup;
    }
}
