using YoungFolio.Manuscript.Building;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Packages;

/// <summary>
/// Keys that class and style files declare with their properties: <c>\DeclareKeys</c>, <c>\SetKeys</c>, <c>\ProcessKeyOptions</c>
/// (<em>LaTeX for package and class authors</em>, on key–value options, from memory). They are the keys of keyval, by family.
/// </summary>
internal static class KeyDeclarations
{
    public static void Define(DocumentBuilder builder)
    {
        Machine machine = builder.Machine;
        machine.Define("DeclareKeys", (m, t) =>
        {
            string family = Family(builder, t);
            foreach (ListedOption declared in ListedOption.Of(m, m.ReadArgument(t)))
            {
                Declare(builder, family, declared, t);
            }
        });
        machine.Define("DeclareUnknownKeyHandler", (m, t) =>
            KeyCommands.DefineMacro(m, KeyCommands.UnknownHandler(Family(builder, t)), m.ReadArgument(t), 2));
        machine.Define("SetKeys", (m, t) => KeyCommands.Set(builder, [Family(builder, t)], ListedOption.Of(m, m.ReadArgument(t)), t));
        machine.Define("ProcessKeyOptions", (_, t) =>
        {
            string family = Family(builder, t);
            // What a class doesn't know may be a size or paper for the one that it builds upon.
            KeyCommands.Set(builder, [family], [.. builder.Preamble.GivenOptions.Where(o => !builder.Preamble.ReadsClass || KeyCommands.Takes(machine, family, o.Key))], t);
        });
    }

    // The family that is said, or that of the file which is read.
    private static string Family(DocumentBuilder builder, Token token) => builder.Machine.ReadOptionalText(token) ?? builder.Preamble.NameOfFile;

    private static void Declare(DocumentBuilder builder, string family, ListedOption declared, Token token)
    {
        Machine m = builder.Machine;
        int dot = declared.Key.LastIndexOf('.');
        string key = dot < 0 ? "" : declared.Key[..dot].Trim();
        string property = key.Length == 0 ? "" : declared.Key[(dot + 1)..].Trim();
        string macro = KeyCommands.NameOf(family, key);
        List<Token> value = declared.Value ?? [];
        switch (property)
        {
            case "code":
                KeyCommands.DefineMacro(m, macro, value, 1);
                break;
            case "store" when value is [{ Symbol: { } kept }]:
                builder.Titles.Keep(kept.Name, []);
                m.Define(macro, (n, t) => builder.Titles.Keep(kept.Name, n.ReadArgument(t)));
                break;
            case "if" or "ifnot":
                string name = value.ToSource().Trim();
                bool turnsOn = property == "if";
                m.Conditionals.NewSwitch(name);
                m.Conditionals.SetSwitch(name, !turnsOn, true);
                m.Define(macro, (n, t) => m.Conditionals.SetSwitch(name, (n.ReadText(t).Trim() != "false") == turnsOn, true));
                break;
            case "default":
                KeyCommands.DefineDefault(m, macro, value);
                break;
            case "initial":
                KeyCommands.Set(builder, [family], [declared with { Key = key, Value = value }], token);
                break;
            case "usage" or "pass-to-packages":
                // When a key may be used, and who else hears of it: it makes no difference to what prints.
                break;
            default:
                builder.Findings.Check("unknown-option", declared.Position >= 0 ? declared.Position : token.Position, declared.Length,
                    $"“{declared.Key}” isn’t what a key can be declared with.", "It was passed over. A key has .code, .store with a command, .if or .ifnot with a name, .default, .initial.");
                break;
        }
    }
}
