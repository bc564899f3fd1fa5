using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>Hooks: what preambles, classes and packages ask to be done later.</summary>
internal sealed class HookCommands(DocumentBuilder builder) : ReadingFeature(builder)
{
    private readonly Dictionary<string, List<Token>> _hooks = new(StringComparer.Ordinal);

    internal List<Token> AtBeginDocument { get; } = [];
    internal List<Token> AtEndDocument { get; } = [];
    internal List<Action> ActionsAtBegin { get; } = [];
    internal List<Action> ActionsAtEnd { get; } = [];

    /// <summary>Asks for something to be done at the beginning of the document, after the preamble's own hooks.</summary>
    internal void WhenDocumentBegins(Action action) => ActionsAtBegin.Add(action);

    /// <summary>Asks for something to be done when all has been read.</summary>
    internal void WhenDocumentEnds(Action action) => ActionsAtEnd.Add(action);

    internal void DefineHooks()
    {
        Machine.Define("AtBeginDocument", (m, t) =>
        {
            List<Token> tokens = m.ReadArgument(t);
            if (Builder.DocumentBegun)
            {
                m.Push(tokens);
            }
            else
            {
                AtBeginDocument.AddRange(tokens);
            }
        });
        Machine.Define("AtEndDocument", (m, t) => AtEndDocument.AddRange(m.ReadArgument(t)));
        Machine.Define("AddToHook", (m, t) =>
        {
            string hook = m.ReadText(t);
            m.ReadOptional(t);
            AddToHook(hook, m.ReadArgument(t), t);
        });
        Machine.DefineMeaning("AddToHookNext", Machine.Symbol("AddToHook").Meaning.Value!);
        DefineOwnHooks();
        Machine.Define("DeclareUnicodeCharacter", (m, t) =>
        {
            string code = m.ReadText(t);
            List<Token> body = m.ReadArgument(t);
            if (int.TryParse(code, System.Globalization.NumberStyles.HexNumber, System.Globalization.CultureInfo.InvariantCulture, out int number)
                && number is > 0 and < 0x10FFFF)
            {
                m.Categories.Set(number, Category.Active, true);
                m.Assign(m.Symbols.OfActive(number).Meaning, new MacroMeaning { Pattern = [], Body = [.. body], Arity = 0 }, true);
            }
        });
        foreach (string name in (string[])["PackageError", "ClassError", "errmessage", "GenericError"])
        {
            Machine.Define(name, (m, t) =>
            {
                string source = name is "PackageError" or "ClassError" ? m.ReadText(t) : "The manuscript";
                string message = m.ReadText(t);
                string help = name is "PackageError" or "ClassError" ? m.ReadText(t) : "";
                Findings.Fix("said-by-package", t.Position, t.Length, $"{source} says: {message}", help);
            });
        }
    }

    private void AddToHook(string hook, List<Token> tokens, Token token)
    {
        string[] path = hook.Split('/');
        if (hook is "begindocument" or "begindocument/before" or "begindocument/end")
        {
            AtBeginDocument.AddRange(tokens);
        }
        else if (hook is "enddocument" or "enddocument/afterlastpage")
        {
            AtEndDocument.AddRange(tokens);
        }
        else if (path is ["env", var environment, var place] && Array.IndexOf(["begin", "end", "before", "after"], place) is >= 0 and var index)
        {
            Builder.Environments.AddEnvironmentHook(environment, index, tokens);
        }
        else if (!TryAddToHook(hook, tokens))
        {
            Findings.Check("unknown-hook", token.Position, token.Length, $"There is no hook “{hook}” here.",
                "Available: begindocument, enddocument, and env/NAME/before, begin, end, after. What was given for it was passed over.");
        }
    }

    // Hooks that packages and preambles make for one another.
    private void DefineOwnHooks()
    {
        foreach (string name in (string[])["NewHook", "NewReversedHook"])
        {
            Machine.Define(name, (m, t) => _hooks.TryAdd(m.ReadText(t), []));
        }

        foreach (string name in (string[])["UseHook", "UseOneTimeHook"])
        {
            Machine.Define(name, (m, t) =>
            {
                string hook = m.ReadText(t);
                if (_hooks.TryGetValue(hook, out List<Token>? tokens))
                {
                    m.Push([.. tokens]);
                    if (name == "UseOneTimeHook")
                    {
                        tokens.Clear();
                    }
                }
            });
        }

        Machine.Define("RemoveFromHook", (m, t) =>
        {
            string hook = m.ReadText(t);
            m.ReadOptional(t);
            _hooks.GetValueOrDefault(hook)?.Clear();
        });
    }

    // False when nobody made such a hook.
    private bool TryAddToHook(string hook, List<Token> tokens)
    {
        if (!_hooks.TryGetValue(hook, out List<Token>? known))
        {
            return false;
        }

        known.AddRange(tokens);
        return true;
    }
}
