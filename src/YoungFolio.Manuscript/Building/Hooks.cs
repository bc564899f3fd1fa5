using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

// Hooks: what preambles, classes and packages ask to be done later.
public sealed partial class DocumentBuilder
{
    private readonly List<Token> _atBeginDocument = [];
    private readonly List<Token> _atEndDocument = [];
    private readonly List<Action> _whenDocumentBegins = [];
    private readonly List<Action> _whenDocumentEnds = [];

    /// <summary>Asks for something to be done at the beginning of the document, after the preamble's own hooks.</summary>
    internal void WhenDocumentBegins(Action action) => _whenDocumentBegins.Add(action);

    /// <summary>Asks for something to be done when all has been read.</summary>
    internal void WhenDocumentEnds(Action action) => _whenDocumentEnds.Add(action);

    private void DefineHooks()
    {
        Machine.Define("AtBeginDocument", (m, t) =>
        {
            List<Token> tokens = m.ReadArgument(t);
            if (_documentBegun)
            {
                m.Push(tokens);
            }
            else
            {
                _atBeginDocument.AddRange(tokens);
            }
        });
        Machine.Define("AtEndDocument", (m, t) => _atEndDocument.AddRange(m.ReadArgument(t)));
        Machine.Define("AddToHook", (m, t) =>
        {
            string hook = m.ReadText(t);
            m.ReadOptional(t);
            AddToHook(hook, m.ReadArgument(t), t);
        });
        Machine.DefineMeaning("AddToHookNext", Machine.Symbol("AddToHook").Meaning.Value!);
        // Nothing is written to files while typesetting; what a preamble writes or prints to a log has no effect here.
        foreach ((string name, int arguments) in (ReadOnlySpan<(string, int)>)[
            ("typeout", 1), ("message", 1), ("wlog", 1), ("GenericWarning", 2), ("GenericInfo", 2), ("PackageWarning", 2), ("PackageInfo", 2),
            ("PackageWarningNoLine", 2), ("ClassWarning", 2), ("ClassInfo", 2), ("ClassWarningNoLine", 2), ("special", 1),
            ("hyphenchar", 0), ("immediate", 0), ("nonstopmode", 0), ("batchmode", 0), ("scrollmode", 0), ("errorstopmode", 0),
            ("makeindex", 0), ("nofiles", 0), ("listfiles", 0), ("DeclareUnicodeCharacter", 2), ("DisemulatePackage", 1)])
        {
            Machine.Define(name, (m, t) =>
            {
                for (int i = 0; i < arguments; i++)
                {
                    m.ReadArgument(t);
                }
            });
        }

        foreach (string name in (string[])["write", "openout", "closeout", "openin", "closein"])
        {
            Machine.Define(name, (m, t) =>
            {
                m.ScanInteger();
                if (name == "write")
                {
                    m.ReadArgument(t);
                }
                else if (name.StartsWith("open", StringComparison.Ordinal))
                {
                    m.TakeEquals();
                    for (Token next = m.Next(); next.Category is Category.Letter or Category.Other; next = m.Next())
                    {
                    }
                }
            });
        }

        Machine.Define("DeclareUnicodeCharacter", (m, t) =>
        {
            string code = m.ReadText(t);
            List<Token> body = m.ReadArgument(t);
            if (int.TryParse(code, System.Globalization.NumberStyles.HexNumber, System.Globalization.CultureInfo.InvariantCulture, out int number)
                && number is > 0 and < 0x10FFFF)
            {
                m.SetCategory(number, Category.Active, true);
                m.Assign(m.ActiveSymbol(number).Meaning, new MacroMeaning { Pattern = [], Body = [.. body], Arity = 0 }, true);
            }
        });
        foreach (string name in (string[])["PackageError", "ClassError", "errmessage", "GenericError"])
        {
            Machine.Define(name, (m, t) =>
            {
                string source = name is "PackageError" or "ClassError" ? m.ReadText(t) : "The manuscript";
                string message = m.ReadText(t);
                string help = name is "PackageError" or "ClassError" ? m.ReadText(t) : "";
                Findings.Fix("said-by-package", m.CurrentPosition, 1, $"{source} says: {message}", help);
            });
        }
    }

    private void AddToHook(string hook, List<Token> tokens, Token token)
    {
        string[] path = hook.Split('/');
        if (hook is "begindocument" or "begindocument/before" or "begindocument/end")
        {
            _atBeginDocument.AddRange(tokens);
        }
        else if (hook is "enddocument" or "enddocument/afterlastpage")
        {
            _atEndDocument.AddRange(tokens);
        }
        else if (path is ["env", var environment, var place] && Array.IndexOf(["begin", "end", "before", "after"], place) is >= 0 and var index)
        {
            AddEnvironmentHook(environment, index, tokens);
        }
        else
        {
            Findings.Check("unknown-hook", token.Position, token.Length, $"There is no hook “{hook}” here.",
                "Available: begindocument, enddocument, and env/NAME/before, begin, end, after. What was given for it was passed over.");
        }
    }
}
