namespace YoungFolio.Markup;

/// <summary>Reads the arguments that built-in commands ask for.</summary>
public sealed class ArgumentReader(Machine machine)
{
    private long _readInVain;
    private int _bracesInVain;

    /// <summary>Skips spaces; with <paramref name="paragraphs"/> also empty lines.</summary>
    public void SkipSpaces(bool paragraphs = false)
    {
        Token token = machine.Next();
        while (token.Is(Category.Space) || (paragraphs && ReferenceEquals(token.Symbol, machine.Par)))
        {
            token = machine.Next();
        }

        machine.PutBack(token);
    }

    /// <summary>Skips spaces after expansion of what follows.</summary>
    public Token NextNonSpaceExpanded()
    {
        Token token = machine.NextExpanded();
        while (token.Is(Category.Space))
        {
            token = machine.NextExpanded();
        }

        return token;
    }

    /// <summary>Takes a star if one comes next.</summary>
    public bool TakeStar()
    {
        SkipSpaces();
        Token token = machine.Next();
        if (token.IsCharacter('*'))
        {
            return true;
        }

        machine.PutBack(token);
        return false;
    }

    /// <summary>Reads an argument: a group's content, or one token.</summary>
    /// <param name="command">The command that wants it, for findings.</param>
    /// <returns>The tokens without the outer braces; empty, with a finding, when there is none.</returns>
    public List<Token> ReadArgument(Token command)
    {
        SkipSpaces();
        Token first = machine.Next();
        if (first.Is(Category.BeginGroup))
        {
            return ReadBalanced(first, command);
        }

        if (first.Symbol is null && first.Position >= 0 && command.Position >= 0 && machine.Input.DirectLexer is { } lexer
            && ReadUnopened(first, command, lexer) is { } unopened)
        {
            return unopened;
        }

        if (first.Is(Category.Stop) || first.Is(Category.EndGroup) || ReferenceEquals(first.Symbol, machine.Par))
        {
            machine.PutBack(first);
            machine.Findings.Fix("missing-argument", command.Position, command.Length,
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
        machine.Findings.Fix("missing-brace", parenthesis ? first.Position : command.Position, parenthesis ? 1 : command.Length,
            parenthesis ? $"{command} is followed by ( where its brace {{ belongs." : $"The brace {{ after {command} is missing.",
            "What belongs to a command stands in { }.", new Repair(first.Position, end + 1 - start, "{" + inner + "}"));
        var result = new List<Token>();
        if (!parenthesis)
        {
            result.Add(first);
        }

        while (machine.Next() is var token && !token.Is(Category.Stop) && token.Position < lexer.Base + end)
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

        return open > 0 || machine.Groups.Any(g => g.Kind is GroupKind.Brace or GroupKind.Formula);
    }

    /// <summary>
    /// A command that ran into its argument because the brace between them is missing: \emphword}. Its beginning is taken as the
    /// command, the rest as the argument; false when the line doesn't show that.
    /// </summary>
    public bool SplitRunTogether(Token token)
    {
        if (token.Symbol is not { IsActiveCharacter: false } symbol || machine.Input.DirectLexer is not { } lexer || token.Position < lexer.Base)
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
            if (!machine.IsDefined(name) || (name is "begin" or "end" && !machine.IsDefined(symbol.Name[length..])))
            {
                continue;
            }

            int at = token.Position + 1 + length;
            machine.Findings.Fix("missing-brace", token.Position, token.Length, $"The brace {{ after \\{name} is missing.", "What belongs to a command stands in { }.",
                new Repair(at, 0, "{"));
            machine.Push([Token.Command(machine.Symbol(name), token.Position), Token.Character('{', Category.BeginGroup, at),
                .. symbol.Name[length..].Select((c, i) => Token.Character(c, Category.Letter, at + i))]);
            return true;
        }

        return false;
    }

    /// <summary>Reads an argument and expands it to text.</summary>
    public string ReadText(Token command) => machine.ExpandToText(ReadArgument(command)).Trim();

    /// <summary>Reads an optional argument in brackets; null when none comes next.</summary>
    public List<Token>? ReadOptional(Token command, char open = '[', char close = ']')
    {
        var spaces = new List<Token>();
        Token token = machine.Next();
        while (token.Is(Category.Space))
        {
            spaces.Add(token);
            token = machine.Next();
        }

        if (!token.IsCharacter(open))
        {
            machine.PutBack(token);
            for (int i = spaces.Count - 1; i >= 0; i--)
            {
                machine.PutBack(spaces[i]);
            }

            return null;
        }

        var result = new List<Token>();
        int depth = 0;
        while (true)
        {
            Token t = machine.Next();
            if (t.Is(Category.Stop) || (ReferenceEquals(t.Symbol, machine.Par) && depth == 0))
            {
                machine.Findings.Fix("missing-bracket", token.Position, 1,
                    $"The bracket {open} opened here for {command} isn't closed.",
                    $"Put {close} where the option ends.");
                machine.PutBack(t);
                return result;
            }

            if (t.Is(Category.BeginGroup))
            {
                depth++;
            }
            else if (t.Is(Category.EndGroup) && --depth < 0)
            {
                machine.Findings.Fix("missing-bracket", token.Position, 1,
                    $"The bracket {open} opened here for {command} isn't closed.",
                    $"Put {close} where the option ends.");
                machine.PutBack(t);
                return result;
            }
            else if (depth == 0 && t.IsCharacter(close))
            {
                return TokenLists.Unbrace(result);
            }

            result.Add(t);
        }
    }

    /// <summary>Reads an optional argument and expands it to text.</summary>
    public string? ReadOptionalText(Token command) =>
        ReadOptional(command) is { } tokens ? machine.ExpandToText(tokens).Trim() : null;

    /// <summary>
    /// Reads to the brace that closes a group. When there is none, the argument ends with its paragraph
    /// and the missing brace is reported where the group was opened.
    /// </summary>
    public List<Token> ReadBalanced(Token open, Token command)
    {
        // An argument never runs out of the file that it began in.
        using TokenInput.FileEndHold hold = machine.Input.HoldFileEnd();
        return ReadBalancedInFile(open, command);
    }

    /// <summary>
    /// Gives back what was read ahead. Straight from the text it is read again as if for the first time, so that text as typed and the
    /// search for missing braces still work in it.
    /// </summary>
    /// <param name="tokens">The tokens, from the first that was read.</param>
    /// <param name="lexer"><see cref="DirectLexer"/> as it was before.</param>
    public void Unread(List<Token> tokens, Lexer? lexer)
    {
        machine.Input.DropExhausted();
        if (tokens.Count > 0 && !(lexer is not null && ReferenceEquals(machine.Input.DirectLexer, lexer) && tokens[0].Position >= 0 && lexer.Rewind(tokens[0].Position)))
        {
            machine.Push(tokens);
        }
    }

    private List<Token> ReadBalancedInFile(Token open, Token command)
    {
        machine.Input.DropExhausted();
        Lexer? lexer = machine.Input.TopLexer;
        var result = new List<Token>();
        int depth = 0;
        int paragraph = -1;
        int environment = -1;
        while (true)
        {
            Token token = machine.Next();
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
                        int line = machine.Positions.Locate(from)?.Line ?? 0;
                        repair = machine.Positions.Locate(last.Position)?.Line == line
                            ? new Repair(AfterWords(last), 0, "}")
                            : null;
                    }

                    machine.Findings.Fix("missing-brace", from, 1,
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
                        if (lexer is null || !ReferenceEquals(machine.Input.TopLexer, lexer) || !lexer.Rewind(result[cut].Position))
                        {
                            machine.Push(result.GetRange(cut, result.Count - cut));
                        }

                        result.RemoveRange(cut, result.Count - cut);
                    }

                    return result;
                case Category.Command:
                    if (paragraph < 0 && ReferenceEquals(token.Symbol, machine.Par))
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
        if (machine.Positions.Resolve(last.Position) is not var (file, offset))
        {
            return end;
        }

        for (int at = offset + last.Length; at > offset && at <= file.Text.Length && char.IsWhiteSpace(file.Text[at - 1]); at--)
        {
            end--;
        }

        return end;
    }
}
