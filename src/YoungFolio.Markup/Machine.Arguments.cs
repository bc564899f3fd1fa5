namespace YoungFolio.Markup;

// Arguments: of macros, and as built-in commands ask for them.
public sealed partial class Machine
{
    private long _readInVain;
    private int _bracesInVain;
    private long _made;

    /// <summary>Skips spaces; with <paramref name="paragraphs"/> also empty lines.</summary>
    public void SkipSpaces(bool paragraphs = false)
    {
        Token token = Next();
        while (token.Is(Category.Space) || (paragraphs && ReferenceEquals(token.Symbol, Par)))
        {
            token = Next();
        }

        PutBack(token);
    }

    /// <summary>Skips spaces after expansion of what follows.</summary>
    internal Token NextNonSpaceExpanded()
    {
        Token token = NextExpanded();
        while (token.Is(Category.Space))
        {
            token = NextExpanded();
        }

        return token;
    }

    /// <summary>Takes a star if one comes next.</summary>
    public bool TakeStar()
    {
        SkipSpaces();
        Token token = Next();
        if (token.IsCharacter('*'))
        {
            return true;
        }

        PutBack(token);
        return false;
    }

    /// <summary>Reads an argument: a group's content, or one token.</summary>
    /// <param name="command">The command that wants it, for findings.</param>
    /// <returns>The tokens without the outer braces; empty, with a finding, when there is none.</returns>
    public List<Token> ReadArgument(Token command)
    {
        SkipSpaces();
        Token first = Next();
        if (first.Is(Category.BeginGroup))
        {
            return ReadBalanced(first, command);
        }

        if (first.Symbol is null && first.Position >= 0 && command.Position >= 0 && DirectLexer is { } lexer
            && ReadUnopened(first, command, lexer) is { } unopened)
        {
            return unopened;
        }

        if (first.Is(Category.Stop) || first.Is(Category.EndGroup) || ReferenceEquals(first.Symbol, Par))
        {
            PutBack(first);
            Findings.Fix("missing-argument", command.Position, command.Length,
                $"{command} lacks what belongs in its braces.",
                "Write it in { } right after the command.");
            return [];
        }

        return [first];
    }

    // An argument whose brace was left out, or typed as a parenthesis: \section(Title) and \section Title}. Only where the line shows
    // that it can't be meant otherwise.
    private List<Token>? ReadUnopened(Token first, Token command, Lexer lexer)
    {
        if (!char.IsLetterOrDigit((char)(first.Code & 0xFFFF)) && !first.IsCharacter('('))
        {
            return null;
        }

        string text = lexer.File.Text;
        int start = first.Position - lexer.Base;
        if (start < 0 || start >= text.Length || command.Position < lexer.Base || command.Position > first.Position)
        {
            return null;
        }

        bool parenthesis = first.IsCharacter('(');
        if (parenthesis && first.Position != command.Position + command.Length)
        {
            return null;
        }

        int end = EndOfUnopened(text, start + 1, parenthesis);
        if (end < 0 || (text[end] == '}' && IsOpenBefore(text, start)))
        {
            return null;
        }

        string inner = text[(parenthesis ? start + 1 : start)..end];
        Findings.Fix("missing-brace", parenthesis ? first.Position : command.Position, parenthesis ? 1 : command.Length,
            parenthesis ? $"{command} is followed by ( where its brace {{ belongs." : $"The brace {{ after {command} is missing.",
            "What belongs to a command stands in { }.", new Repair(first.Position, end + 1 - start, "{" + inner + "}"));
        var result = new List<Token>();
        if (!parenthesis)
        {
            result.Add(first);
        }

        while (Next() is var token && !token.Is(Category.Stop) && token.Position < lexer.Base + end)
        {
            result.Add(token);
        }

        return result;
    }

    // Where an argument without an opening brace ends on its line: at a brace that nothing opens, or at the parenthesis' own end.
    private static int EndOfUnopened(string text, int start, bool parenthesis)
    {
        int depth = 0;
        int rounds = parenthesis ? 1 : 0;
        for (int i = start; i < text.Length && text[i] != '\n'; i++)
        {
            switch (text[i])
            {
                case '\\':
                    i++;
                    break;
                case '{':
                    depth++;
                    break;
                case '}' when --depth < 0:
                case ')' when depth == 0 && parenthesis && --rounds == 0:
                    return i;
                case '(' when depth == 0:
                    rounds++;
                    break;
            }
        }

        return -1;
    }

    // Whether a brace that closes here may belong to one that is open on the line before, or in a group around.
    private bool IsOpenBefore(string text, int start)
    {
        int open = 0;
        for (int i = start == 0 ? 0 : text.LastIndexOf('\n', start - 1) + 1; i < start; i++)
        {
            if (text[i] == '\\')
            {
                i++;
            }
            else
            {
                open += text[i] == '{' ? 1 : text[i] == '}' ? -1 : 0;
            }
        }

        return open > 0 || _groups.Exists(g => g.Kind is GroupKind.Brace or GroupKind.Formula);
    }

    /// <summary>
    /// A command that ran into its argument because the brace between them is missing: \emphword}. Its beginning is taken as the
    /// command, the rest as the argument; false when the line doesn't show that.
    /// </summary>
    public bool SplitRunTogether(Token token)
    {
        if (token.Symbol is not { IsActiveCharacter: false } symbol || DirectLexer is not { } lexer || token.Position < lexer.Base)
        {
            return false;
        }

        string text = lexer.File.Text;
        int start = token.Position - lexer.Base;
        if (start + token.Length > text.Length || EndOfUnopened(text, start + token.Length, false) < 0 || IsOpenBefore(text, start))
        {
            return false;
        }

        for (int length = symbol.Name.Length - 1; length >= 3; length--)
        {
            string name = symbol.Name[..length];
            if (!IsDefined(name) || (name is "begin" or "end" && !IsDefined(symbol.Name[length..])))
            {
                continue;
            }

            int at = token.Position + 1 + length;
            Findings.Fix("missing-brace", token.Position, token.Length, $"The brace {{ after \\{name} is missing.", "What belongs to a command stands in { }.",
                new Repair(at, 0, "{"));
            Push([Token.Command(Symbol(name), token.Position), Token.Character('{', Category.BeginGroup, at),
                .. symbol.Name[length..].Select((c, i) => Token.Character(c, Category.Letter, at + i))]);
            return true;
        }

        return false;
    }

    /// <summary>Reads an argument and expands it to text.</summary>
    public string ReadText(Token command) => ExpandToText(ReadArgument(command)).Trim();

    /// <summary>Reads an optional argument in brackets; null when none comes next.</summary>
    public List<Token>? ReadOptional(Token command, char open = '[', char close = ']')
    {
        var spaces = new List<Token>();
        Token token = Next();
        while (token.Is(Category.Space))
        {
            spaces.Add(token);
            token = Next();
        }

        if (!token.IsCharacter(open))
        {
            PutBack(token);
            for (int i = spaces.Count - 1; i >= 0; i--)
            {
                PutBack(spaces[i]);
            }

            return null;
        }

        var result = new List<Token>();
        int depth = 0;
        while (true)
        {
            Token t = Next();
            if (t.Is(Category.Stop) || (ReferenceEquals(t.Symbol, Par) && depth == 0))
            {
                Findings.Fix("missing-bracket", token.Position, 1,
                    $"The bracket {open} opened here for {command} isn't closed.",
                    $"Put {close} where the option ends.");
                PutBack(t);
                return result;
            }

            if (t.Is(Category.BeginGroup))
            {
                depth++;
            }
            else if (t.Is(Category.EndGroup) && --depth < 0)
            {
                Findings.Fix("missing-bracket", token.Position, 1,
                    $"The bracket {open} opened here for {command} isn't closed.",
                    $"Put {close} where the option ends.");
                PutBack(t);
                return result;
            }
            else if (depth == 0 && t.IsCharacter(close))
            {
                return Unbrace(result);
            }

            result.Add(t);
        }
    }

    /// <summary>Reads an optional argument and expands it to text.</summary>
    public string? ReadOptionalText(Token command) =>
        ReadOptional(command) is { } tokens ? ExpandToText(tokens).Trim() : null;

    /// <summary>
    /// Reads to the brace that closes a group. When there is none, the argument ends with its paragraph
    /// and the missing brace is reported where the group was opened.
    /// </summary>
    public List<Token> ReadBalanced(Token open, Token command)
    {
        // An argument never runs out of the file that it began in.
        _holdAtFileEnd++;
        try
        {
            return ReadBalancedInFile(open, command);
        }
        finally
        {
            _holdAtFileEnd--;
        }
    }

    /// <summary>
    /// Gives back what was read ahead. Straight from the text it is read again as if for the first time, so that text as typed and the
    /// search for missing braces still work in it.
    /// </summary>
    /// <param name="tokens">The tokens, from the first that was read.</param>
    /// <param name="lexer"><see cref="DirectLexer"/> as it was before.</param>
    public void Unread(List<Token> tokens, Lexer? lexer)
    {
        DropExhausted();
        if (tokens.Count > 0 && !(lexer is not null && ReferenceEquals(DirectLexer, lexer) && tokens[0].Position >= 0 && lexer.Rewind(tokens[0].Position)))
        {
            Push(tokens);
        }
    }

    private List<Token> ReadBalancedInFile(Token open, Token command)
    {
        DropExhausted();
        Lexer? lexer = _depth > 0 ? _input[_depth - 1].Lexer : null;
        var result = new List<Token>();
        int depth = 0;
        int paragraph = -1;
        int environment = -1;
        while (true)
        {
            Token token = Next();
            switch (token.Category)
            {
                case Category.BeginGroup:
                    depth++;
                    break;
                case Category.EndGroup when depth-- == 0:
                    return result;
                case Category.Stop:
                    // The argument most likely ends with its paragraph, or before the next environment's end.
                    int cut = paragraph >= 0 ? paragraph : result.Count;
                    if (environment >= 0 && environment < cut)
                    {
                        cut = environment;
                    }

                    int from = open.Position >= 0 ? open.Position : command.Position;
                    Repair? repair = null;
                    if (cut > 0 && cut <= result.Count && result[cut - 1] is { Position: >= 0 } last)
                    {
                        int line = Positions.Locate(from)?.Line ?? 0;
                        repair = Positions.Locate(last.Position)?.Line == line
                            ? new Repair(AfterWords(last), 0, "}")
                            : null;
                    }

                    Findings.Fix("missing-brace", from, 1,
                        command.Symbol is null
                            ? "The brace { opened here isn't closed."
                            : $"The brace {{ opened here for {command} isn't closed.",
                        "Put } where it should end. Until then it was taken to end with its paragraph.", repair);
                    // Each brace that is never closed reads all that follows; many of them must not cost their square.
                    _readInVain += result.Count;
                    if (_readInVain > 3_000_000 || ++_bracesInVain > 1_000)
                    {
                        throw new MarkupLimitException("nested-too-deep", "Too many braces are opened here and never closed.", from);
                    }

                    if (cut < result.Count)
                    {
                        // What was read in vain is read again as if for the first time, so that text as typed still works in it.
                        if (lexer is null || _depth == 0 || !ReferenceEquals(_input[_depth - 1].Lexer, lexer) || !lexer.Rewind(result[cut].Position))
                        {
                            Push(result.GetRange(cut, result.Count - cut));
                        }

                        result.RemoveRange(cut, result.Count - cut);
                    }

                    return result;
                case Category.Command:
                    if (paragraph < 0 && ReferenceEquals(token.Symbol, Par))
                    {
                        paragraph = result.Count;
                    }
                    else if (environment < 0 && token.Symbol!.Name is "end" or "begin" or "item" or "chapter" or "section" or "subsection" or "subsubsection" or "paragraph" or "[")
                    {
                        environment = result.Count;
                    }

                    break;
            }

            result.Add(token);
        }
    }

    // Where the words end that a token is the last of: a line's end is none of them.
    private int AfterWords(Token last)
    {
        int end = last.Position + last.Length;
        if (Positions.Resolve(last.Position) is not var (file, offset))
        {
            return end;
        }

        for (int at = offset + last.Length; at > offset && at <= file.Text.Length && char.IsWhiteSpace(file.Text[at - 1]); at--)
        {
            end--;
        }

        return end;
    }

    private void ExpandMacro(Token call, MacroMeaning macro)
    {
        if (macro.Arity == 0 && macro.Pattern.Length == 0)
        {
            PushBody(call, macro.Body, null);
            return;
        }

        var arguments = new List<Token>[macro.Arity];
        if (macro.Default is { } standard)
        {
            arguments[0] = ReadOptional(call) ?? [.. standard];
            for (int i = 1; i < arguments.Length; i++)
            {
                arguments[i] = ReadArgument(call);
            }
        }
        else if (!ReadByPattern(call, macro, arguments))
        {
            return;
        }

        PushBody(call, macro.Body, arguments);
    }

    private bool ReadByPattern(Token call, MacroMeaning macro, List<Token>[] arguments)
    {
        Token[] pattern = macro.Pattern;
        int at = 0;
        while (at < pattern.Length)
        {
            if (pattern[at].Is(Category.Argument))
            {
                int number = pattern[at].Code - 1;
                int end = ++at;
                while (end < pattern.Length && !pattern[end].Is(Category.Argument))
                {
                    end++;
                }

                List<Token>? argument = end == at ? ReadArgument(call) : ReadDelimited(call, pattern.AsSpan(at, end - at), macro.IsLong);
                if (argument is null)
                {
                    return false;
                }

                arguments[number] = argument;
                at = end;
            }
            else
            {
                Token token = Next();
                if (token != pattern[at])
                {
                    PutBack(token);
                    Findings.Fix("wrong-use", call.Position, call.Length,
                        $"{call} must be followed by {pattern[at..].ToSource()} here.",
                        "Its definition asks for exactly that.");
                    return false;
                }

                at++;
            }
        }

        return true;
    }

    private List<Token>? ReadDelimited(Token call, ReadOnlySpan<Token> delimiter, bool isLong)
    {
        var result = new List<Token>();
        int depth = 0;
        while (true)
        {
            Token token = Next();
            if (token.Is(Category.Stop) || (!isLong && ReferenceEquals(token.Symbol, Par))
                || (token.Is(Category.EndGroup) && depth == 0 && !delimiter.Contains(token)))
            {
                PutBack(token);
                Findings.Fix("wrong-use", call.Position, call.Length,
                    $"{call} needs {delimiter.ToArray().ToSource()} to end what it takes, and it doesn't come.",
                    "Its definition asks for exactly that.");
                Push(result);
                return null;
            }

            bool before = depth == 0;
            if (token.Is(Category.BeginGroup))
            {
                depth++;
            }
            else if (token.Is(Category.EndGroup))
            {
                depth--;
            }

            result.Add(token);
            // A delimiter may itself end with a brace (#{ in a definition).
            if ((depth == 0 || (before && delimiter[^1].Is(Category.BeginGroup))) && result.Count >= delimiter.Length
                && System.Runtime.InteropServices.CollectionsMarshal.AsSpan(result)[^delimiter.Length..].SequenceEqual(delimiter))
            {
                result.RemoveRange(result.Count - delimiter.Length, delimiter.Length);
                return Unbrace(result);
            }
        }
    }

    // {x} given for a delimited argument means x.
    private static List<Token> Unbrace(List<Token> tokens)
    {
        if (tokens.Count < 2 || !tokens[0].Is(Category.BeginGroup) || !tokens[^1].Is(Category.EndGroup))
        {
            return tokens;
        }

        int depth = 0;
        for (int i = 0; i < tokens.Count; i++)
        {
            depth += tokens[i].Is(Category.BeginGroup) ? 1 : tokens[i].Is(Category.EndGroup) ? -1 : 0;
            if (depth == 0 && i < tokens.Count - 1)
            {
                return tokens;
            }
        }

        return tokens.GetRange(1, tokens.Count - 2);
    }

    // The body's own tokens take the call's position, so that a glyph leads back to the words in the text.
    private void PushBody(Token call, Token[] body, List<Token>[]? arguments)
    {
        if (body.Length == 0)
        {
            return;
        }

        int size = body.Length;
        if (arguments is not null)
        {
            foreach (Token token in body)
            {
                if (token.Is(Category.Argument))
                {
                    size += arguments[token.Code - 1].Count - 1;
                }
            }
        }

        _made += size;
        _budget.Spend(size / TokensOfUnit);
        if (size > 1_000_000 || _made > MadeLimit)
        {
            throw new MarkupLimitException("too-much-text", $"{call} makes more text than the compiler takes.", call.Position);
        }

        var tokens = new Token[size];
        int at = 0;
        foreach (Token token in body)
        {
            if (arguments is not null && token.Is(Category.Argument))
            {
                arguments[token.Code - 1].CopyTo(tokens, at);
                at += arguments[token.Code - 1].Count;
            }
            else
            {
                tokens[at++] = token.At(call.Position);
            }
        }

        DropExhausted();
        PushFrame(new InputFrame { Tokens = tokens });
    }
}
