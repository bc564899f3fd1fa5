using YoungFolio.Documents;
using YoungFolio.Manuscript.Building;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Packages;

/// <summary>fontspec and unicode-math: families chosen by name.</summary>
internal static class Fontspec
{
    public static IReadOnlyList<Package> All { get; } =
    [
        new("fontspec", "Families of type by name: those that ship, and for well-known others the one of the same widths.")
        {
            Commands = ["setmainfont", "setromanfont", "setsansfont", "setmonofont", "newfontfamily", "fontspec", "addfontfeatures", "addfontfeature", "defaultfontfeatures"],
            Load = Load,
        },
        new("unicode-math", "Mathematics in the characters of Unicode; it always is.")
        {
            Requires = ["fontspec", "amsmath"],
            Commands = ["setmathfont", "symbf", "symit", "symrm", "symsf", "symtt", "symbb", "symcal", "symscr", "symfrak", "symbfit", "symup"],
            Definitions = "\\def\\symbf{\\mathbf}\\def\\symit{\\mathit}\\def\\symrm{\\mathrm}\\def\\symup{\\csname math@uprightgreek\\endcsname}\\def\\symsf{\\mathsf}\\def\\symtt{\\mathtt}"
                + "\\def\\symbb{\\mathbb}\\def\\symcal{\\mathcal}\\def\\symscr{\\mathscr}\\def\\symfrak{\\mathfrak}\\def\\symbfit{\\boldsymbol}\\def\\unimathsetup#1{}",
            Load = LoadMathematics,
        },
    ];

    private static void Load(PackageLoad load)
    {
        foreach ((string command, string name) in (ReadOnlySpan<(string, string)>)[
            ("setmainfont", "rmdefault"), ("setromanfont", "rmdefault"), ("setsansfont", "sfdefault"), ("setmonofont", "ttdefault")])
        {
            load.Machine.Define(command, (m, t) =>
            {
                (Typeface? face, bool oldFigures) = Read(load.Builder, m, t);
                if (face is not null)
                {
                    m.Definitions.DefineMacro(name, face.Codes[0]);
                }

                load.Builder.TypefaceCommands.OldFigures |= oldFigures && name == "rmdefault";
            });
        }

        load.Machine.Define("newfontfamily", (m, t) =>
        {
            Symbol? command = m.ReadArgument(t) is [{ Symbol: { } symbol }] ? symbol : null;
            (Typeface? face, _) = Read(load.Builder, m, t);
            if (command is not null)
            {
                m.Push(m.Tokenize(face is null ? "\\def\\x{}" : $"\\def\\x{{\\fontfamily{{{face.Codes[0]}}}\\selectfont }}", t.Position)
                    .Select(u => u.IsCommand("x") ? Token.Command(command, t.Position) : u).ToList());
            }
        });
        load.Machine.Define("fontspec", (m, t) =>
        {
            (Typeface? face, _) = Read(load.Builder, m, t);
            if (face is not null)
            {
                m.Push(m.Tokenize($"\\fontfamily{{{face.Codes[0]}}}\\selectfont ", t.Position));
            }
        });
        foreach (string name in (string[])["addfontfeatures", "addfontfeature", "defaultfontfeatures"])
        {
            load.Machine.Define(name, static (m, t) =>
            {
                m.ReadOptional(t);
                m.ReadArgument(t);
            });
        }
    }

    private static void LoadMathematics(PackageLoad load) => load.Machine.Define("setmathfont", (m, t) =>
    {
        m.ReadOptional(t);
        string name = m.ReadText(t);
        m.ReadOptional(t);
        string text = name.Replace(" Math", "", StringComparison.OrdinalIgnoreCase).Replace("-math.otf", "", StringComparison.OrdinalIgnoreCase)
            .Replace("Latin Modern", "Latin Modern Roman", StringComparison.OrdinalIgnoreCase);
        if (TypefaceCatalogue.ByName(text) is { Kind: FontFamily.Roman } face)
        {
            load.Builder.TypefaceCommands.MathematicsFace = TypefaceCatalogue.MathematicsOf(face.Name);
        }
        else
        {
            Report(load.Builder, name, t);
        }
    });

    // Features may stand before the name or, as is usual now, behind it.
    private static (Typeface? Face, bool OldFigures) Read(DocumentBuilder builder, Machine machine, Token token)
    {
        string features = machine.ReadOptional(token) is { } before ? machine.ExpandToText(before) : "";
        string name = machine.ReadText(token);
        features += machine.ReadOptional(token) is { } after ? machine.ExpandToText(after) : "";
        Typeface? face = TypefaceCatalogue.ByName(Path.GetFileNameWithoutExtension(name) is { Length: > 0 } file && name.EndsWith(".otf", StringComparison.Ordinal) ? file : name);
        if (face is null)
        {
            Report(builder, name, token);
        }

        return (face, features.Contains("OldStyle", StringComparison.Ordinal));
    }

    private static void Report(DocumentBuilder builder, string name, Token token) =>
        builder.Findings.Check("unknown-typeface", token.Position, token.Length, $"The typeface “{name}” isn't here.",
            "The default stays. These are here: " + string.Join(", ", TypefaceCatalogue.All.Select(t => t.Shown)) + ".");
}
