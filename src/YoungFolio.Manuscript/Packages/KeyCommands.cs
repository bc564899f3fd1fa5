using YoungFolio.Manuscript.Building;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Packages;

/// <summary>Keys with values: <c>\define@key</c>, <c>\setkeys</c> and package options made of them (keyval, xkeyval, kvoptions).</summary>
internal static class KeyCommands
{
    public static void Define(DocumentBuilder builder)
    {
        Machine machine = builder.Machine;
        machine.Define("define@key", static (m, t) =>
        {
            m.ReadOptional(t);
            string family = m.ReadText(t);
            string key = m.ReadText(t);
            List<Token>? standard = m.ReadOptional(t);
            List<Token> code = m.ReadArgument(t);
            string macro = NameOf(family, key);
            DefineMacro(m, macro, code, 1);
            if (standard is not null)
            {
                DefineDefault(m, macro, standard);
            }
        });
        machine.Define("setkeys", (m, t) =>
        {
            m.TakeStar();
            m.ReadOptional(t);
            string[] families = PreambleCommands.Split(m.ReadText(t));
            Set(builder, families, ListedOption.Of(m, m.ReadArgument(t)), t);
        });
        machine.Define("g@addto@macro", static (m, t) =>
        {
            Token name = m.Definitions.ReadCommandToken(t);
            List<Token> more = m.ReadArgument(t);
            if (name.Symbol is { } symbol)
            {
                Token[] before = symbol.Meaning.Value is MacroMeaning macro ? macro.Body : [];
                m.Input.CountCopied(before.Length + more.Count);
                m.Assign(symbol.Meaning, new MacroMeaning { Pattern = [], Arity = 0, Body = [.. before, .. more] }, true);
            }
        });
    }

    /// <summary>The macro that a key runs.</summary>
    public static string NameOf(string family, string key) => $"KV@{family}@{key}";

    /// <summary>The macro that gets the keys of a family which nothing declared; no key has a comma in its name.</summary>
    public static string UnknownHandler(string family) => NameOf(family, ",");

    /// <summary>Whether a family does something with a key: it is declared, or there is a handler for all others.</summary>
    public static bool Takes(Machine machine, string family, string key) => machine.IsDefined(NameOf(family, key)) || machine.IsDefined(UnknownHandler(family));

    /// <summary>Defines a macro with undelimited arguments.</summary>
    public static void DefineMacro(Machine machine, string name, List<Token> code, int arity) => machine.Assign(machine.Symbol(name).Meaning, new MacroMeaning
    {
        Pattern = [.. Enumerable.Range(1, arity).Select(i => Token.Character(i, Category.Argument, -1))],
        Arity = arity,
        Body = [.. machine.Definitions.NumberParameters(code, arity)],
    });

    /// <summary>Says what a key is set to when it is named without a value.</summary>
    public static void DefineDefault(Machine machine, string macro, List<Token> value) => machine.Assign(machine.Symbol(macro + "@default").Meaning, new MacroMeaning
    {
        Pattern = [],
        Arity = 0,
        Body = [Token.Command(machine.Symbol(macro), -1), .. TokenLists.Braced(value, -1)],
    });

    /// <summary>Sets keys of families; one that none of them has goes to the handler of the first, or is said.</summary>
    public static void Set(DocumentBuilder builder, string[] families, List<ListedOption> options, Token token)
    {
        Machine m = builder.Machine;
        foreach (ListedOption option in options)
        {
            bool found = false;
            foreach (string family in families)
            {
                string name = NameOf(family, option.Key);
                if (option.Value is null && m.IsDefined(name + "@default"))
                {
                    builder.Execute(Token.Command(m.Symbol(name + "@default"), token.Position));
                    found = true;
                }
                else if (m.IsDefined(name))
                {
                    builder.Execute([Token.Command(m.Symbol(name), token.Position), .. TokenLists.Braced(option.Value ?? [], token.Position)]);
                    found = true;
                }
            }

            if (!found && families is [string first, ..] && m.IsDefined(UnknownHandler(first)))
            {
                builder.Execute([Token.Command(m.Symbol(UnknownHandler(first)), token.Position), .. TokenLists.Braced(m.Tokenize(option.Key, token.Position), token.Position),
                    .. TokenLists.Braced(option.Value ?? [], token.Position)]);
            }
            else if (!found)
            {
                builder.Findings.Check("unknown-option", option.Position >= 0 ? option.Position : token.Position, option.Length,
                    $"There is no key “{option.Key}” here.", "It was passed over.");
            }
        }
    }

    /// <summary>Gives the commands of kvoptions.</summary>
    public static void DefineOptions(DocumentBuilder builder)
    {
        Machine machine = builder.Machine;
        string family = "";
        string prefix = "";
        machine.Define("SetupKeyvalOptions", (m, t) =>
        {
            foreach (ListedOption option in ListedOption.Of(m, m.ReadArgument(t)))
            {
                family = option.Key == "family" ? option.Text(m) : family;
                prefix = option.Key == "prefix" ? option.Text(m) : prefix;
            }

            prefix = prefix.Length == 0 ? family + "@" : prefix;
        });
        machine.Define("DeclareStringOption", (m, t) =>
        {
            List<Token>? initial = m.ReadOptional(t);
            string name = m.ReadText(t);
            m.ReadOptional(t);
            builder.Titles.Keep(prefix + name, initial ?? []);
            Key(m, name, value => builder.Titles.Keep(prefix + name, value));
        });
        machine.Define("DeclareBoolOption", (m, t) =>
        {
            string initial = m.ReadOptionalText(t) ?? "false";
            string name = m.ReadText(t);
            m.Conditionals.NewSwitch(prefix + name);
            m.Conditionals.SetSwitch(prefix + name, initial == "true", true);
            Key(m, name, value => m.Conditionals.SetSwitch(prefix + name, value.ToSource().Trim() != "false", true));
        });
        machine.Define("DeclareComplementaryOption", (m, t) =>
        {
            string name = m.ReadText(t);
            string other = m.ReadText(t);
            Key(m, name, value => m.Conditionals.SetSwitch(prefix + other, value.ToSource().Trim() == "false", true));
        });
        machine.Define("DeclareVoidOption", (m, t) =>
        {
            string name = m.ReadText(t);
            List<Token> code = m.ReadArgument(t);
            Key(m, name, _ => builder.Execute([.. code]));
        });
        machine.Define("ProcessKeyvalOptions", (m, t) =>
        {
            m.TakeStar();
            if (m.Peek().Is(Category.BeginGroup))
            {
                family = m.ReadText(t);
            }

            Set(builder, [family], [.. builder.Preamble.GivenOptions], t);
        });

        void Key(Machine m, string name, Action<List<Token>> set)
        {
            m.Define($"KV@{family}@{name}", (n, u) => set(n.ReadArgument(u)));
            m.Define($"KV@{family}@{name}@default", (_, _) => set([]));
        }
    }
}
