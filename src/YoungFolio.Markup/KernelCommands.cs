namespace YoungFolio.Markup;

/// <summary>What the kernel adds for those who write packages: choices, loops, looks ahead.</summary>
public sealed class KernelCommands(Machine machine)
{
    internal void DefineKernel()
    {
        machine.Define("ignorespaces", static (m, t) => m.SkipSpaces());
        machine.Define("ignorespacesafterend", static (m, t) => m.SkipSpaces());
        machine.Define("endinput", static (m, t) =>
        {
            if (m.Input.InnermostLexer is { } lexer)
            {
                lexer.Ended = true;
            }
        });
        machine.Define("@ifnextchar", (_, t) => IfNextCharacter(t));
        machine.Define("@ifstar", static (m, t) =>
        {
            List<Token> yes = m.ReadArgument(t);
            List<Token> no = m.ReadArgument(t);
            m.Push(m.TakeStar() ? yes : no);
        });
        // A macro, so that \ifx finds it equal to what a preamble defined as empty.
        machine.Definitions.DefineMacro("@empty", "");
        machine.DefineMeaning("empty", machine.Symbol("@empty").Meaning.Value!);
        machine.DefineExpandable("@ifundefined", static (m, t) =>
        {
            bool defined = m.IsDefined(m.ReadText(t));
            List<Token> yes = m.ReadArgument(t);
            List<Token> no = m.ReadArgument(t);
            m.Push(defined ? no : yes);
        });
        machine.DefineMeaning("protect", machine.Symbol("relax").Meaning.Value!);
        machine.DefineMeaning("@typeset@protect", machine.Symbol("relax").Meaning.Value!);
        machine.Define("@for", (_, t) => ForEach(t, true));
        machine.Define("@tfor", (_, t) => ForEach(t, false));
        DefineChoices();
    }

    // Choices and gobblers of the kernel: whole arguments in, one of them out.
    private void DefineChoices()
    {
        foreach ((string name, int count, int chosen) in (ReadOnlySpan<(string, int, int)>)[
            ("@firstofone", 1, 0), ("@iden", 1, 0), ("@firstoftwo", 2, 0), ("@secondoftwo", 2, 1), ("@gobble", 1, -1),
            ("@gobbletwo", 2, -1), ("@gobblethree", 3, -1), ("@gobblefour", 4, -1), ("@thirdofthree", 3, 2)])
        {
            machine.DefineExpandable(name, (m, t) =>
            {
                List<Token>? result = null;
                for (int i = 0; i < count; i++)
                {
                    List<Token> argument = m.ReadArgument(t);
                    result = i == chosen ? argument : result;
                }

                if (result is not null)
                {
                    m.Push(result);
                }
            });
        }
    }

    // \@for\item:=list\do{…}: the list's macro is expanded, its members parted at commas; \@tfor goes token by token.
    internal void ForEach(Token command, bool byCommas)
    {
        Token variable = machine.Definitions.ReadCommandToken(command);
        List<Token>? list = machine.Expander.ReadDelimited(command, [Token.Command(machine.Symbol("do"), PositionTable.None)], true);
        List<Token> body = machine.ReadArgument(command);
        if (variable.Symbol is not { } symbol || list is null)
        {
            return;
        }

        int start = 0;
        while (start < list.Count && (list[start].Is(Category.Space) || list[start].IsCharacter(':') || list[start].IsCharacter('=')))
        {
            start++;
        }

        List<Token> rest = list.GetRange(start, list.Count - start);
        if (rest.Count > 0 && rest[0].Symbol?.Meaning.Value is MacroMeaning { Arity: 0 } macro)
        {
            rest = [.. macro.Body, .. rest.Skip(1)];
        }

        List<List<Token>> members = byCommas ? TokenLists.SplitAtCommas(rest) : [.. rest.Where(t => !t.Is(Category.Space)).Select(t => new List<Token> { t })];
        var tokens = new List<Token>();
        foreach (List<Token> member in members)
        {
            tokens.Add(Token.Command(machine.Symbol("def"), command.Position));
            tokens.Add(Token.Command(symbol, command.Position));
            tokens.Add(Token.Character('{', Category.BeginGroup, command.Position));
            tokens.AddRange(member);
            tokens.Add(Token.Character('}', Category.EndGroup, command.Position));
            tokens.AddRange(body);
        }

        machine.Push(tokens);
    }

    private void IfNextCharacter(Token command)
    {
        machine.SkipSpaces();
        Token wanted = machine.Next();
        List<Token> yes = machine.ReadArgument(command);
        List<Token> no = machine.ReadArgument(command);
        machine.SkipSpaces();
        Token next = machine.Peek();
        bool same = ConversionCommands.MeaningOf(next) is { } meaning && meaning.SameAs(ConversionCommands.MeaningOf(wanted));
        machine.Push(same ? yes : no);
    }
}
