using YoungFolio.Documents;
using YoungFolio.Manuscript.Building;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Packages;

/// <summary>Packages that add to the language: tests, arithmetic, argument types, lists, keys.</summary>
internal static class ProgrammingPackages
{
    public static IReadOnlyList<Package> All { get; } =
    [
        new("etoolbox", "Tests, switches, lists, hooks and patches for preambles.")
        {
            Commands = Etoolbox.Commands,
            Definitions = Etoolbox.Definitions,
            Load = static load => Etoolbox.Load(load.Builder),
        },
        new("ifthen", "Conditions with \\ifthenelse, and loops with \\whiledo.")
        {
            Commands = ["ifthenelse", "whiledo", "newboolean", "setboolean", "provideboolean"],
            Load = static load => IfThen.Load(load.Builder),
        },
        new("xifthen", "More conditions for \\ifthenelse.")
        {
            Requires = ["ifthen", "etoolbox", "calc"],
        },
        new("calc", "Sums in \\setlength and \\setcounter.")
        {
            Commands = ["widthof", "heightof", "depthof", "totalheightof", "maxof", "minof"],
            Load = static load => Calc(load.Builder),
        },
        StringPackage.Package,
        .. ArithmeticPackages.All,
        LoopPackage.Package,
        new("expl3", "The programming layer; it isn't run here, and a finding says so."),
        new("l3keys2e", "Options for the programming layer, which isn't run here."),
        new("xparse", "Commands whose arguments are described by letters."),
        new("xspace", "A space after a command where one belongs.")
        {
            Commands = ["xspace"],
            Load = static load => load.Builder.PackageServices.DefineXspace(),
        },
        new("environ", "Environments that take their whole text as an argument.")
        {
            Commands = ["NewEnviron", "RenewEnviron"],
            Load = static load => Environ(load.Builder),
        },
        new("suffix", "Starred variants of one's own commands.")
        {
            Commands = ["WithSuffix"],
            Load = static load => load.Machine.Define("WithSuffix", static (m, t) =>
            {
                // \WithSuffix\newcommand\name*{…}: the star's variant is kept beside the plain one.
                Token definer = m.Next();
                Token name = m.Definitions.ReadCommandToken(t);
                if (name.Symbol is not { } symbol)
                {
                    return;
                }

                bool star = m.TakeStar();
                Symbol plain = m.Symbol("plain " + symbol.Name);
                Symbol starred = m.Symbol("starred " + symbol.Name);
                m.Assign(plain.Meaning, symbol.Meaning.Value);
                m.Assign(symbol.Meaning, new MacroMeaning
                {
                    Pattern = [], Arity = 0,
                    Body = [Token.Command(m.Symbol("@ifstar"), -1), .. TokenLists.Braced([Token.Command(starred, -1)], -1), .. TokenLists.Braced([Token.Command(plain, -1)], -1)],
                });
                m.Push(definer, Token.Command(star ? starred : plain, t.Position));
            }),
        },
        new("letltxmacro", "Copies of commands with an optional argument.")
        {
            Commands = ["LetLtxMacro", "GlobalLetLtxMacro"],
            // Both names may stand in braces (the package's documentation, from memory).
            Definitions = "\\def\\LetLtxMacro#1#2{\\let#1#2}\\def\\GlobalLetLtxMacro#1#2{\\global\\let#1#2}",
        },
        new("forloop", "Loops that count.")
        {
            Commands = ["forloop"],
            Definitions = "\\newcommand{\\forloop}[5][1]{\\setcounter{#2}{#3}\\@whilenum #4\\relax\\do{#5\\addtocounter{#2}{#1}}}",
        },
        new("keyval", "Options of the form key=value.") { Definitions = "" },
        new("xkeyval", "Options of the form key=value, with families."),
        new("kvoptions", "Package options of the form key=value.")
        {
            Commands = ["SetupKeyvalOptions", "DeclareStringOption", "DeclareBoolOption", "DeclareComplementaryOption", "DeclareVoidOption", "ProcessKeyvalOptions"],
            Load = static load => KeyCommands.DefineOptions(load.Builder),
        },
        new("iftex", "Tests for the engine; they answer as a modern Unicode engine with PDF output.")
        {
            Commands = ["ifTUTeX", "RequireTUTeX", "RequireLuaTeX", "RequirePDFTeX", "RequireXeTeX"],
            Load = static load =>
            {
                load.Machine.Conditionals.Define("ifTUTeX", static _ => true);
                foreach (string name in (string[])["RequireTUTeX", "RequireLuaTeX", "RequirePDFTeX", "RequireXeTeX"])
                {
                    load.Machine.Define(name, static (_, _) => { });
                }
            },
        },
        new("chngcntr", "Counters that start anew with another, or don't; the kernel has it."),
        new("remreset", "Counters that don't start anew with another; the kernel has it."),
        new("scrhack", "Nothing to do."),
        new("ifpdf", "A test for PDF output, which is always on."),
        new("ifxetex", "A test for one engine."),
        new("ifluatex", "A test for one engine."),
        new("fix-cm", "Nothing to do: type comes in every size."),
        new("fixltx2e", "Nothing to do."),
        new("silence", "Filters for warnings; findings are shown as they are.")
        {
            Commands = ["WarningFilter", "ErrorFilter", "ActivateWarningFilters"],
            Definitions = "\\newcommand{\\WarningFilter}[3][]{}\\newcommand{\\ErrorFilter}[3][]{}\\newcommand{\\ActivateWarningFilters}[1][]{}",
        },
    ];

    private static void Calc(DocumentBuilder builder)
    {
        foreach ((string name, int part) in (ReadOnlySpan<(string, int)>)[("widthof", 0), ("heightof", 1), ("depthof", 2), ("totalheightof", 3)])
        {
            builder.Machine.DefineMeaning(name, new QuantityCommand(name, m =>
            {
                Extent extent = builder.Boxes.Measure(builder.BuildInlines(m.ReadArgument(Token.Command(m.Symbol(name), m.Input.CurrentPosition))));
                return Quantity.Of(Dimension.FromPoints(part switch
                {
                    0 => extent.Width,
                    1 => extent.Height,
                    2 => extent.Depth,
                    _ => extent.Height + extent.Depth,
                }));
            }));
        }

        foreach ((string name, bool most) in (ReadOnlySpan<(string, bool)>)[("maxof", true), ("minof", false)])
        {
            builder.Machine.DefineMeaning(name, new QuantityCommand(name, m =>
            {
                Token command = Token.Command(m.Symbol(name), m.Input.CurrentPosition);
                Glue a = m.Quantities.ParseGlue(m.ReadArgument(command), command) ?? default;
                Glue b = m.Quantities.ParseGlue(m.ReadArgument(command), command) ?? default;
                return Quantity.Of(a.Width.Scaled >= b.Width.Scaled == most ? a : b);
            }));
        }
    }

    private static void Environ(DocumentBuilder builder)
    {
        foreach (string name in (string[])["NewEnviron", "RenewEnviron"])
        {
            builder.Machine.Define(name, (m, t) =>
            {
                string environment = m.ReadText(t);
                List<Token>? arity = m.ReadOptional(t);
                int count = arity is null ? 0 : m.Quantities.ParseInteger(arity, t) ?? 0;
                List<Token>? standard = m.ReadOptional(t);
                List<Token> body = m.ReadArgument(t);
                m.ReadOptional(t);
                builder.Environments.DefineEnvironment(environment, u =>
                {
                    var arguments = new List<Token>[count];
                    for (int i = 0; i < count; i++)
                    {
                        arguments[i] = i == 0 && standard is not null ? m.ReadOptional(u) ?? standard : m.ReadArgument(u);
                    }

                    builder.Titles.Keep("BODY", m.DocumentCommands.ReadEnvironmentBody(u), false);
                    m.Push(m.Definitions.NumberParameters(body, count).SelectMany(b => b.Is(Category.Argument) ? arguments[b.Code - 1] : [b]).ToList());
                });
            });
        }
    }
}
