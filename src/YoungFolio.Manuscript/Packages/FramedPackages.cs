using YoungFolio.Manuscript.Building;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Packages;

/// <summary>Packages for text in frames and on grounds.</summary>
internal static class FramedPackages
{
    // The usual measures of the packages, from memory.
    private static readonly FramedLook s_framed = new() { Line = 0.4, Padding = 9 };
    private static readonly FramedLook s_box = new() { Line = 0.8, Padding = 6, Ground = 0xF2F2F2, Frame = 0x404040 };

    public static IReadOnlyList<Package> All { get; } =
    [
        new("framed", "Text in a frame, on a ground, or with a bar at its left.")
        {
            Environments = ["framed", "oframed", "shaded", "shaded*", "snugshade", "snugshade*", "leftbar"],
            Load = static load =>
            {
                FramedText text = load.Builder.Framed;
                text.Define("framed", static _ => s_framed);
                text.Define("oframed", static _ => s_framed);
                text.Define("leftbar", static _ => new FramedLook { Line = 0, Padding = 6, Bar = 3 });
                foreach ((string name, double padding) in (ReadOnlySpan<(string, double)>)[("shaded", 9), ("shaded*", 9), ("snugshade", 3), ("snugshade*", 3)])
                {
                    text.Define(name, _ => new FramedLook { Line = 0, Padding = padding, Ground = ColourNames.Find(load.Builder, "shadecolor") ?? 0xE6E6E6 });
                }
            },
        },
        new("mdframed", "Text in a frame, with a title and colours.")
        {
            Commands = ["mdfsetup", "newmdenv", "surroundwithmdframed"],
            Environments = ["mdframed"],
            Load = static load => Define(load, "mdframed", "mdfsetup", s_framed),
        },
        new("tcolorbox", "Text in a coloured box with a title.")
        {
            Requires = ["xcolor", "listings"],
            Commands = ["newtcblisting", "renewtcblisting", "tcbinputlisting", "tcbset", "tcbuselibrary", "newtcolorbox", "renewtcolorbox", "NewTColorBox", "tcbox"],
            Environments = ["tcolorbox", "tcblisting"],
            Definitions = "\\long\\def\\tcbuselibrary#1{}\\newcommand{\\tcbox}[2][]{\\fbox{#2}}",
            Load = static load =>
            {
                Define(load, "tcolorbox", "tcbset", s_box);
                BoxedListings.Define(load.Builder);
                foreach (string name in (string[])["newtcolorbox", "renewtcolorbox"])
                {
                    load.Machine.Define(name, (_, t) => NewBox(load.Builder, t));
                }

                load.Machine.Define("NewTColorBox", (m, t) =>
                {
                    // Its arguments are described by letters; its look is its last one.
                    string environment = m.ReadText(t);
                    string arguments = m.ReadText(t);
                    List<Token> options = m.ReadArgument(t);
                    string before = $"\\NewDocumentEnvironment{{{environment}}}{{{arguments}}}{{\\begin{{tcolorbox}}[";
                    m.Push(m.Input.Tokenize(before, options, "]}{\\end{tcolorbox}}", t.Position));
                });
            },
        },
    ];

    private static void Define(PackageLoad load, string environment, string setup, FramedLook usual)
    {
        FramedLook look = usual;
        FramedText text = load.Builder.Framed;
        text.Define(environment, t => text.Read(look, load.Machine.ReadOptional(t)));
        load.Machine.Define(setup, (m, t) => look = text.Read(look, m.ReadArgument(t)));
        if (environment == "mdframed")
        {
            load.Machine.Define("newmdenv", (m, t) =>
            {
                List<Token>? options = m.ReadOptional(t);
                string name = m.ReadText(t);
                text.Define(name, u => text.Read(text.Read(look, options), m.ReadOptional(u)));
            });
            load.Machine.Define("surroundwithmdframed", (m, t) =>
            {
                List<Token>? options = m.ReadOptional(t);
                string name = m.ReadText(t);
                load.Builder.Environments.AddEnvironmentHook(name, 2, m.Input.Tokenize("\\begin{mdframed}[", options ?? [], "]", t.Position));
                load.Builder.Environments.AddEnvironmentHook(name, 3, [.. m.Tokenize("\\end{mdframed}", t.Position)]);
            });
        }
    }

    // \newtcolorbox[…]{name}[arguments][standard]{options}: an environment of one's own.
    private static void NewBox(DocumentBuilder builder, Token token)
    {
        Machine machine = builder.Machine;
        machine.ReadOptional(token);
        string name = machine.ReadText(token);
        List<Token>? count = machine.ReadOptional(token);
        List<Token>? standard = machine.ReadOptional(token);
        List<Token> options = machine.ReadArgument(token);
        var definition = new List<Token>(machine.Tokenize($"\\renewenvironment{{{name}}}", token.Position));
        foreach (List<Token> bracket in ((List<Token>?[])[count, standard]).OfType<List<Token>>())
        {
            definition.AddRange(machine.Input.Tokenize("[{", bracket, "}]", token.Position));
        }

        definition.AddRange(machine.Input.Tokenize("{\\begin{tcolorbox}[", options, "]}{\\end{tcolorbox}}", token.Position));
        // Whatever had the name before gives way to it.
        foreach (Symbol symbol in (Symbol[])[machine.Symbol(name), machine.Symbol("end" + name)])
        {
            machine.Assign(symbol.Meaning, symbol.Meaning.Value ?? new MacroMeaning { Pattern = [], Body = [], Arity = 0 });
        }

        machine.Push(definition);
    }
}
