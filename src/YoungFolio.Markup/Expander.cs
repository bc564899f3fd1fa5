namespace YoungFolio.Markup;

/// <summary>Replaces commands by what they stand for (<em>The TeXbook</em>, chapter 20), within the compiler's limits.</summary>
public sealed class Expander(Machine machine)
{
    // A macro that has expanded this often without reading anything from a file will not stop by itself.
    private const int RunawayLimit = 100_000;

    // Tokens that macros may make in all.
    private const long MadeLimit = 15_000_000;
    private const int RunawaysLimit = 2;

    // Expansions in all: far beyond what a thesis of a thousand pages needs.
    private const int StepsLimit = 2_000_000;
    private int _runaways;
    private int _steps;
    private long _made;

    /// <summary>The next token after expansion: a character or a command that is to be carried out.</summary>
    public Token NextExpanded()
    {
        while (true)
        {
            Token token = machine.Next();
            if (token.Symbol is not { } symbol || symbol.Meaning.Value is not { IsExpandable: true } meaning || token.IsFrozen)
            {
                machine.Budget.Spend();
                return token;
            }

            Expand(token, meaning);
        }
    }

    /// <summary>Expands one token whose meaning is expandable.</summary>
    internal void Expand(Token token, Meaning meaning)
    {
        CountStep(token);
        if (meaning is MacroMeaning macro)
        {
            ExpandMacro(token, macro);
        }
        else if (meaning is DocumentCommandMeaning documentCommand)
        {
            machine.DocumentCommands.ExpandDocumentCommand(token, documentCommand);
        }
        else if (meaning is ConditionalCommand condition)
        {
            machine.Conditionals.Branch(token, condition, false);
        }
        else
        {
            ((ExpandableCommand)meaning).Expand(machine, token);
        }
    }

    /// <summary>Expands tokens fully, as <c>\edef</c> does.</summary>
    public List<Token> ExpandFully(IReadOnlyList<Token> tokens)
    {
        var result = new List<Token>();
        machine.Scan(tokens, () =>
        {
            for (Token t = NextForEdef(result); !t.Is(Category.Stop); t = NextForEdef(result))
            {
                result.Add(t);
            }
        });
        return result;
    }

    /// <summary>The text of tokens after expansion: for keys, file names and numbers.</summary>
    public string ExpandToText(IReadOnlyList<Token> tokens)
    {
        var text = new System.Text.StringBuilder();
        foreach (Token token in ExpandFully(tokens))
        {
            if (token.Symbol is { IsActiveCharacter: true } active)
            {
                text.Append(active.Name == "~" ? " " : active.Name);
            }
            else if (token.Symbol is { } symbol)
            {
                if (symbol.Name is "_" or "&" or "%" or "#" or "$" or " ")
                {
                    text.Append(symbol.Name);
                }
            }
            else
            {
                text.Append(token.ToString());
            }
        }

        return text.ToString();
    }

    private Token NextForEdef(List<Token> result)
    {
        while (true)
        {
            Token token = machine.Next();
            if (token.IsFrozen)
            {
                return token.Thawed();
            }

            switch (token.Symbol?.Meaning.Value)
            {
                case MacroMeaning { IsProtected: true } or DocumentCommandMeaning { IsProtected: true }:
                    return token;
                case ExpandableCommand { Name: "the" or "unexpanded" }:
                    // What \the gives is not expanded again (The TeXbook, p. 216).
                    int mark = machine.Input.Mark();
                    Expand(token, token.Symbol!.Meaning.Value!);
                    machine.Input.TakeSince(mark, result);
                    continue;
                case { IsExpandable: true } meaning:
                    if (meaning is ExpandableCommand { Name: "noexpand" })
                    {
                        return machine.Next();
                    }

                    Expand(token, meaning);
                    continue;
                default:
                    if (token.IsCommand("protect"))
                    {
                        result.Add(token);
                        return machine.Next();
                    }

                    return token;
            }
        }
    }

    private void CountStep(Token token)
    {
        if (token.Position != PositionTable.None)
        {
            machine.Input.CurrentPosition = token.Position;
        }

        machine.Input.SinceSource++;
        if ((++_steps & 0xFFF) == 0 && _steps > StepsLimit)
        {
            throw new MarkupLimitException("too-slow", "The commands of this manuscript take longer than the compiler allows.", machine.Input.CurrentPosition);
        }

        if (machine.Input.SinceSource > RunawayLimit || machine.Input.IsTooDeep)
        {
            machine.Input.SinceSource = 0;
            machine.Findings.Fix("endless-macro", machine.Input.CurrentPosition, 1,
                $"{token} calls itself without end.",
                "Its definition leads back to itself, so it was left out here. Look at its \\newcommand or \\def.");
            if (token.Symbol is { } symbol)
            {
                machine.Assign(symbol.Meaning, new MacroMeaning { Pattern = [], Body = [], Arity = 0 }, true);
            }

            // Drop what the macro still wants to say; go on with the source.
            machine.Input.DropMacros();
            machine.Conditionals.DropTests();
            if (++_runaways > RunawaysLimit)
            {
                throw new MarkupLimitException("endless-macro", "Too many commands here repeat without end.", machine.Input.CurrentPosition);
            }

            throw new RunawayException();
        }
    }

    internal void DefineExpansion()
    {
        machine.DefineExpandable("expandafter", static (m, _) =>
        {
            Token held = m.Next();
            Token next = m.Next();
            if (next.Symbol?.Meaning.Value is { IsExpandable: true } meaning)
            {
                m.Expander.Expand(next, meaning);
            }
            else
            {
                m.PutBack(next);
            }

            m.PutBack(held);
        });
        // Where expanded tokens are carried out, \noexpand makes the next one mean nothing for once (The TeXbook, p. 214).
        machine.DefineExpandable("noexpand", static (m, t) => m.PutBack(m.Next().Frozen()));
        machine.DefineExpandable("csname", static (m, t) => m.PutBack(Token.Command(m.Definitions.ReadCommandName(t), t.Position)));
        machine.Define("endcsname", static (m, t) => m.Findings.Fix("wrong-use", t.Position, t.Length,
            "\\endcsname has no \\csname before it.", "Delete it, or put \\csname where the name begins."));
        machine.DefineExpandable("expanded", static (m, t) => m.Push(m.Expander.ExpandFully(m.ReadArgument(t))));
        machine.DefineExpandable("scantokens", static (m, t) => m.Input.PushMarkup(m.ReadArgument(t).ToSource(), t.Position));
        machine.DefineExpandable("unexpanded", static (m, t) => m.Push(m.ReadArgument(t)));
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
            arguments[0] = machine.ReadOptional(call) ?? [.. standard];
            for (int i = 1; i < arguments.Length; i++)
            {
                arguments[i] = machine.ReadArgument(call);
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

                List<Token>? argument = end == at ? machine.ReadArgument(call) : ReadDelimited(call, pattern.AsSpan(at, end - at), macro.IsLong);
                if (argument is null)
                {
                    return false;
                }

                arguments[number] = argument;
                at = end;
            }
            else
            {
                Token token = machine.Next();
                if (token != pattern[at])
                {
                    machine.PutBack(token);
                    machine.Findings.Fix("wrong-use", call.Position, call.Length,
                        $"{call} must be followed by {pattern[at..].ToSource()} here.",
                        "Its definition asks for exactly that.");
                    return false;
                }

                at++;
            }
        }

        return true;
    }

    internal List<Token>? ReadDelimited(Token call, ReadOnlySpan<Token> delimiter, bool isLong)
    {
        var result = new List<Token>();
        int depth = 0;
        while (true)
        {
            Token token = machine.Next();
            if (token.Is(Category.Stop) || (!isLong && ReferenceEquals(token.Symbol, machine.Par))
                || (token.Is(Category.EndGroup) && depth == 0 && !delimiter.Contains(token)))
            {
                machine.PutBack(token);
                machine.Findings.Fix("wrong-use", call.Position, call.Length,
                    $"{call} needs {delimiter.ToArray().ToSource()} to end what it takes, and it doesn't come.",
                    "Its definition asks for exactly that.");
                machine.Push(result);
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
                return TokenLists.Unbrace(result);
            }
        }
    }

    // The body's own tokens take the call's position, so that a glyph leads back to the words in the text.
    internal void PushBody(Token call, Token[] body, List<Token>[]? arguments)
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
        machine.Input.CountCopied(size);
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

        machine.Input.PushExpansion(tokens);
    }
}
