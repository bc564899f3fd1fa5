using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>Environments: \begin{name} carries out \name in a group, \end{name} carries out \endname and ends the group.</summary>
internal sealed class EnvironmentCommands(DocumentBuilder builder) : ReadingFeature(builder)
{
    private readonly Dictionary<string, (List<Token> Begin, List<Token> End, List<Token> Before, List<Token> After)> _environmentHooks = new(StringComparer.Ordinal);
    internal HashSet<string> EnvironmentNames { get; } = new(StringComparer.Ordinal);

    /// <summary>Defines an environment.</summary>
    internal void DefineEnvironment(string name, Action<Token> begin, Action<Token>? end = null)
    {
        EnvironmentNames.Add(name);
        Machine.Define(name, (_, t) => begin(t));
        Machine.Define("end" + name, (_, t) =>
        {
            // \endequation} is \end{equation} without its brace.
            if (t.Symbol?.Name.Length == name.Length + 3 && Machine.Arguments.SplitRunTogether(t))
            {
                return;
            }

            end?.Invoke(t);
        });
    }

    // Openings whose missing end was said already in other words.
    internal HashSet<int> ReportedOpenings { get; } = [];

    internal void DefineEnvironmentCommands()
    {
        Machine.Define("begin", (_, t) => BeginEnvironment(t));
        Machine.Define("end", (_, t) => EndEnvironment(t));
        Machine.Define("end environment", (_, _) => EndInnermostEnvironment());
        Machine.Definitions.DefineMacro("@currenvir", "document");
        DefineEnvironment("document", _ => Builder.Pages.BeginDocument());
        foreach ((string name, int place) in (ReadOnlySpan<(string, int)>)[
            ("AtBeginEnvironment", 0), ("AtEndEnvironment", 1), ("BeforeBeginEnvironment", 2), ("AfterEndEnvironment", 3)])
        {
            Machine.Define("add hook " + name, (m, t) => AddEnvironmentHook(m.ReadText(t), place, m.ReadArgument(t)));
        }
    }

    internal void AddEnvironmentHook(string environment, int place, List<Token> tokens)
    {
        if (!_environmentHooks.TryGetValue(environment, out (List<Token> Begin, List<Token> End, List<Token> Before, List<Token> After) hooks))
        {
            _environmentHooks[environment] = hooks = ([], [], [], []);
        }

        (place switch { 0 => hooks.Begin, 1 => hooks.End, 2 => hooks.Before, _ => hooks.After }).AddRange(tokens);
    }

    private void BeginEnvironment(Token token)
    {
        List<Token> argument = ReadEnvironmentName(token);
        string name = Machine.ExpandToText(argument).Trim();
        int length = DocumentBuilder.NameLength(token, argument);
        if (name.Length == 0)
        {
            return;
        }

        if (name == "document" && Builder.DocumentBegun && !Builder.MissingBegin)
        {
            Findings.Fix("second-begin-document", token.Position, length, "The document has begun already.", "Delete this line.", new Repair(token.Position, length, ""));
            return;
        }

        if (_environmentHooks.TryGetValue(name, out (List<Token> Begin, List<Token> End, List<Token> Before, List<Token> After) hooks) && hooks.Before.Count > 0)
        {
            Builder.Execute([.. hooks.Before]);
        }

        Machine.BeginGroup(GroupKind.Environment, name, token.Position);
        Machine.Assign(Machine.Symbol("@currenvir").Meaning, new MacroMeaning
        {
            Pattern = [],
            Arity = 0,
            Body = [.. name.Select(c => Token.Character(c, char.IsAsciiLetter(c) ? Category.Letter : Category.Other, token.Position))],
        });
        Symbol symbol = Machine.Symbol(name);
        if (symbol.Meaning.Value is null)
        {
            if (ReportUnknownEnvironment(token, argument, name) is not { } likely)
            {
                ReadAsParagraphs(token, name);
                return;
            }

            // The likely environment's text is read as its own, so that one slip doesn't bring others along.
            Machine.Assign(symbol.Meaning, Machine.Symbol(likely).Meaning.Value);
            Machine.Assign(Machine.Symbol("end" + name).Meaning, Machine.Symbol("end" + likely).Meaning.Value);
        }

        if (hooks.Begin is { Count: > 0 })
        {
            Machine.Push(hooks.Begin);
        }

        // Built-in environments read their own text, so nothing may wait before it.
        if (symbol.Meaning.Value is BuiltInCommand command && hooks.Begin is not { Count: > 0 })
        {
            command.Execute(Machine, token);
        }
        else
        {
            Machine.PutBack(Token.Command(symbol, token.Position));
        }
    }

    // Returns the environment that was most likely meant, when it is there.
    private string? ReportUnknownEnvironment(Token token, List<Token> argument, string name)
    {
        int at = argument.Count > 0 ? argument[0].Position : token.Position;
        if (Packages.PackageCatalogue.EnvironmentProviderOf(name) is { } provider)
        {
            Findings.Fix("package-needed", at, Math.Max(1, name.Length), $"The environment {name} needs the package {provider}, which the preamble doesn't load.",
                $"Add \\usepackage{{{provider}}} to the preamble. Until then its text was printed as it stands.", Builder.UnknownNames.LoadRepair(provider));
            return null;
        }

        if (!Builder.UnknownNames.NearEnvironments.TryGetValue(name, out string? near))
        {
            Builder.UnknownNames.NearEnvironments[name] = near = NearestName.Find(name, Machine.Symbols.DefinedNames.Where(n => n.Length > 1 && Machine.IsDefined("end" + n))
                .Concat(Packages.PackageCatalogue.AllEnvironments));
        }

        Findings.Fix("unknown-environment", at, Math.Max(1, name.Length), $"There is no environment {name}.",
            near is not null ? $"Did you mean {near}?" : "Its text was printed as it stands.",
            near is not null && argument.Count > 0 ? new Repair(at, name.Length, near) : null);
        return near is not null && Machine.IsDefined(near) && NearestName.IsSlip(name, near) ? near : null;
    }

    // What is in an environment that isn't here stands in paragraphs of its own; options in brackets were meant for it, and don't print.
    private void ReadAsParagraphs(Token token, string name)
    {
        if (Builder.Formulas.Math is not null || Builder.Frames.Peek().InlineOnly)
        {
            return;
        }

        Builder.EndParagraph();
        while (Machine.Peek().IsCharacter('['))
        {
            Machine.ReadOptional(token);
        }

        Machine.Assign(Machine.Symbol("end" + name).Meaning, new BuiltInCommand("end" + name, (_, _) => Builder.EndParagraph()));
    }

    // An environment's name is a word: where its brace isn't closed, it ends with the word.
    private List<Token> ReadEnvironmentName(Token token)
    {
        Machine.SkipSpaces();
        Token open = Machine.Next();
        if (!open.Is(Category.BeginGroup) || Machine.Peek().Symbol is not null)
        {
            Machine.PutBack(open);
            return Machine.ReadArgument(token);
        }

        var name = new List<Token>();
        while (true)
        {
            Token next = Machine.Next();
            switch (next.Category)
            {
                case Category.Letter or Category.Other:
                    name.Add(next);
                    continue;
                case Category.EndGroup:
                    return name;
                case Category.Space when Machine.Peek() is { Category: Category.Letter or Category.Other or Category.EndGroup } && name.Count > 0 && IsNameWithSpace(next):
                    name.Add(next);
                    continue;
            }

            Machine.PutBack(next);
            bool parenthesis = name.Count > 0 && name[^1].IsCharacter(')');
            Token last = name.Count > 0 ? name[^1] : open;
            if (parenthesis)
            {
                name.RemoveAt(name.Count - 1);
            }

            Findings.Fix("missing-brace", open.Position >= 0 ? open.Position : token.Position, 1, $"The brace {{ opened here for {token} isn't closed.",
                "Put } where the environment's name ends.",
                last.Position >= 0 ? parenthesis ? new Repair(last.Position, 1, "}") : new Repair(last.Position + 1, 0, "}") : null);
            return name;
        }
    }

    // A space within a name's braces on one line.
    private bool IsNameWithSpace(Token space) => Machine.Positions.Resolve(space.Position) is { } place
        && place.File.Text.AsSpan(place.Offset) is var rest && rest.IndexOf('}') is var end and > 0 && (rest.IndexOf('\n') is var line && (line < 0 || end < line));

    private void EndEnvironment(Token token)
    {
        List<Token> argument = ReadEnvironmentName(token);
        string name = Machine.ExpandToText(argument).Trim();
        if (name == "document" && Builder.MissingBegin)
        {
            Builder.Pages.EndDocument();
            return;
        }

        int innermost = -1;
        int open = -1;
        for (int i = Machine.Groups.Count - 1; i >= 0; i--)
        {
            if (Machine.Groups[i].Kind == GroupKind.Environment)
            {
                innermost = innermost < 0 ? i : innermost;
                if (Machine.Groups[i].Name == name)
                {
                    open = i;
                    break;
                }
            }
        }

        // The end of a table, or of what is around it, ends the table's last cell.
        if (Builder.Tables.CurrentTable is { Cell: { } cell } table && (open >= 0 ? open : innermost) < cell.Groups
            && !Builder.Tables.EndTableCell(table, [token, .. TokenLists.Braced(argument, token.Position)]))
        {
            return;
        }

        if (open < 0 && innermost >= 0)
        {
            innermost = Outermost(innermost);
        }

        if (open < 0 && (innermost < 0 || name == "document" || Machine.Groups[innermost].Name == "document"))
        {
            Findings.Fix("surplus-end", token.Position, DocumentBuilder.NameLength(token, argument), $"\\end{{{name}}} has no \\begin{{{name}}} before it.",
                "Delete it, or put the \\begin where it should start.");
            return;
        }

        if (open < 0)
        {
            Group wrong = Machine.Groups[innermost];
            int line = Machine.Positions.Locate(wrong.Position)?.Line ?? 0;
            int at = argument.Count > 0 ? argument[0].Position : token.Position;
            Findings.Fix("wrong-end", at, Math.Max(1, name.Length),
                $"The environment {wrong.Name}, begun on line {line}, is closed here by the name {name}.",
                $"Write \\end{{{wrong.Name}}}.", new Repair(at, name.Length, wrong.Name));
            open = innermost;
        }

        // What the environment's own \begin opened at the same position, its own end closes.
        int position = Machine.Groups[open].Position;
        bool isMacro = Machine.Symbol("end" + Machine.Groups[open].Name).Meaning.Value is not BuiltInCommand;
        while (Machine.Groups.Count - 1 > open
            && !(isMacro && ((position >= 0 && Machine.Groups[^1].Position == position) || Ends(Machine.Groups[open].Name, Machine.Groups[^1].Name))))
        {
            ReportUnclosed(Machine.Groups[^1], token);
            CloseInnermost();
        }

        // What was closed on the way may have closed this one too.
        if (open < Machine.Groups.Count)
        {
            CarryEnd(token, Machine.Groups[open].Name);
        }
    }

    // Whether an environment's own end also ends one that its commands begin: \end{columns} of slides ends the last column.
    private bool Ends(string name, string inner)
    {
        if (Machine.Symbol("end" + name).Meaning.Value is not MacroMeaning end)
        {
            return false;
        }

        for (int i = 0; i < end.Body.Length; i++)
        {
            if (end.Body[i].IsCommand("end") && string.Concat(end.Body.Skip(i + 2).TakeWhile(t => !t.Is(Category.EndGroup)).Select(t => t.ToString())) == inner)
            {
                return true;
            }
        }

        return false;
    }

    // A macro's own \begin opens environments at the macro's position: the writer's is the outermost of them.
    private int Outermost(int index)
    {
        int position = Machine.Groups[index].Position;
        for (int i = index - 1; i >= 0; i--)
        {
            if (Machine.Groups[i].Kind == GroupKind.Environment && Machine.Groups[i].Position == position)
            {
                index = i;
            }
        }

        return index;
    }

    // Carries out what the innermost environment does at its end, then ends its group.
    private void CarryEnd(Token token, string name)
    {
        bool hooked = _environmentHooks.TryGetValue(name, out (List<Token> Begin, List<Token> End, List<Token> Before, List<Token> After) hooks);
        Symbol end = Machine.Symbol("end" + name);
        if (end.Meaning.Value is BuiltInCommand command && !(hooked && hooks.End.Count > 0))
        {
            // A manuscript may have let \\endNAME be \\end itself.
            if (command.Name != "end")
            {
                command.Execute(Machine, token);
            }

            EndInnermostEnvironment(token);
            return;
        }

        Machine.Push(Token.Command(Builder.Text.CloseEnvironment, token.Position));
        if (end.Meaning.Value is not null)
        {
            Machine.PutBack(Token.Command(end, token.Position));
        }

        if (hooked && hooks.End.Count > 0)
        {
            Machine.Push(hooks.End);
        }
    }

    private void EndInnermostEnvironment(Token token = default)
    {
        while (Machine.Groups.Count > 0 && Machine.Groups[^1].Kind != GroupKind.Environment)
        {
            ReportUnclosed(Machine.Groups[^1], token);
            Machine.EndGroup();
        }

        if (Machine.Groups.Count == 0)
        {
            return;
        }

        string name = Machine.Groups[^1].Name;
        if (name == "document")
        {
            Builder.Pages.EndText();
        }

        Machine.EndGroup();
        if (_environmentHooks.TryGetValue(name, out (List<Token> Begin, List<Token> End, List<Token> Before, List<Token> After) hooks) && hooks.After.Count > 0)
        {
            Machine.Push(hooks.After);
        }

        if (name == "document")
        {
            Builder.Pages.EndDocument();
        }
    }

    // Ends the innermost group by force, with what its environment does at its end.
    internal void CloseInnermost()
    {
        Group group = Machine.Groups[^1];
        int depth = Machine.Groups.Count;
        if (group.Kind == GroupKind.Environment && group.Name != "document" && Machine.Symbol("end" + group.Name).Meaning.Value is { } meaning)
        {
            if (meaning is BuiltInCommand { Name: not "end" } command)
            {
                command.Execute(Machine, Token.Stop().At(group.Position));
            }
            else if (Builder.Recursion < DocumentBuilder.RecursionLimit)
            {
                Builder.Recursion++;
                Builder.Execute(Token.Command(Machine.Symbol("end" + group.Name), group.Position));
                Builder.Recursion--;
            }
        }

        while (Machine.Groups.Count > depth)
        {
            Machine.EndGroup();
        }

        if (Machine.Groups.Count == depth)
        {
            Machine.EndGroup();
        }
    }

    internal void ReportUnclosed(Group group, Token closer = default)
    {
        switch (group.Kind)
        {
            case GroupKind.Brace:
                Findings.Fix("missing-brace", group.Position, 1, "The brace { opened here isn't closed.",
                    "Put } where it should end.");
                break;
            case GroupKind.Environment when !ReportedOpenings.Contains(group.Position) && IsOutermostThere(group):
                Repair? repair = closer.Position > group.Position && Machine.Positions.Locate(closer.Position) is { Column: 1 }
                    ? new Repair(closer.Position, 0, $"\\end{{{group.Name}}}\n")
                    : null;
                Findings.Fix("unclosed-environment", group.Position, group.Name.Length + 8,
                    $"The environment {group.Name} begun here isn't closed.",
                    $"Put \\end{{{group.Name}}} where it should end.", repair);
                break;
        }
    }

    // A macro's own \begin opens environments at the macro's position: only the outermost of them is the writer's.
    private bool IsOutermostThere(Group group)
    {
        foreach (Group other in Machine.Groups)
        {
            if (other.Kind == GroupKind.Environment && other.Position == group.Position)
            {
                return ReferenceEquals(other, group);
            }
        }

        return true;
    }
}
