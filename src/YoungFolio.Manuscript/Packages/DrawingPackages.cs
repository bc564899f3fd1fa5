using System.Globalization;
using System.Text.RegularExpressions;
using YoungFolio.Documents;
using YoungFolio.Manuscript.Building;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Packages;

/// <summary>
/// Packages that draw in languages of their own. Those aren't set yet: a frame of about the drawing's size stands for each, so that the pages around are as
/// long as they will be, and a finding names it.
/// </summary>
internal static partial class DrawingPackages
{
    private const double Centimetre = 72.27 / 2.54;

    public static IReadOnlyList<Package> All { get; } =
    [
        Drawing("tikz", ["tikzpicture"]) with
        {
            Requires = ["pgfmath", "pgffor"],
            Commands = ["usetikzlibrary", "tikzset", "tikzstyle", "tikz"],
            Definitions = "\\long\\def\\usetikzlibrary#1{}\\long\\def\\tikzset#1{}\\long\\def\\tikzstyle#1=#2[#3]{}",
            Load = static load =>
            {
                DefineEnvironment(load, "tikzpicture");
                load.Machine.Define("tikz", (m, t) =>
                {
                    m.ReadOptional(t);
                    Stand(load, t, m.Peek().Is(Category.BeginGroup) ? m.ReadArgument(t) : Statement(m));
                });
            },
        },
        Drawing("pgfplots", []) with
        {
            Requires = ["tikz"],
            Commands = ["pgfplotsset", "usepgfplotslibrary"],
            Definitions = "\\long\\def\\pgfplotsset#1{}\\long\\def\\usepgfplotslibrary#1{}",
        },
        Drawing("circuitikz", ["circuitikz"]) with { Requires = ["tikz"], Commands = ["ctikzset"], Definitions = "\\long\\def\\ctikzset#1{}" },
        Drawing("forest", ["forest"]) with { Requires = ["tikz"], Commands = ["forestset", "useforestlibrary"], Definitions = "\\long\\def\\forestset#1{}\\def\\useforestlibrary{\\@ifstar\\@gobble\\@gobble}" },
        Drawing("chemfig", []) with
        {
            Commands = ["chemfig", "setchemfig", "schemestart", "setatomsep", "definesubmol"],
            Definitions = "\\def\\setchemfig#1{}\\def\\setatomsep#1{}\\def\\definesubmol#1{\\@ifnextchar[{\\chemfig@submol}{\\@gobble}}\\def\\chemfig@submol[#1]#2{}",
            Load = static load =>
            {
                load.Machine.Define("chemfig", (m, t) =>
                {
                    m.TakeStar();
                    m.ReadOptional(t);
                    Stand(load, t, m.ReadArgument(t));
                });
                load.Machine.Define("schemestart", (m, t) => Stand(load, t, Until(m, "schemestop")));
            },
        },
        Drawing("qtree", []) with
        {
            Commands = ["Tree", "qroof"],
            Load = static load =>
            {
                load.Machine.Define("Tree", (m, t) => Stand(load, t, Brackets(m)));
                load.Machine.Definitions.Load("\\def\\qroof#1.#2{#1}");
            },
        },
        Drawing("pgfplotstable", []) with
        {
            Requires = ["pgfplots"],
            Commands = ["pgfplotstabletypeset", "pgfplotstableset", "pgfplotstableread", "pgfplotstabletypesetfile"],
            Definitions = "\\long\\def\\pgfplotstableset#1{}\\newcommand\\pgfplotstableread[1][]{\\pgfplotstable@read}\\long\\def\\pgfplotstable@read#1#2{}",
            Load = static load =>
            {
                foreach (string name in (string[])["pgfplotstabletypeset", "pgfplotstabletypesetfile"])
                {
                    load.Machine.Define(name, (m, t) =>
                    {
                        m.ReadOptional(t);
                        Stand(load, t, m.ReadArgument(t));
                    });
                }
            },
        },
        Drawing("pgf", ["pgfpicture"]) with { Requires = ["tikz"] },
        Drawing("tkz-tab", []) with { Requires = ["tikz"] },
        Drawing("tkz-euclide", []) with { Requires = ["tikz"] },
        Drawing("tikz-qtree", []) with { Requires = ["tikz"] },
        Drawing("pstricks", ["pspicture"]) with { Commands = ["psset"], Definitions = "\\long\\def\\psset#1{}" },
    ];

    private static Package Drawing(string name, IReadOnlyList<string> environments) => new(name, "Drawings; they aren't set yet, and a frame stands for each.")
    {
        Environments = environments,
        Load = load =>
        {
            foreach (string environment in environments)
            {
                DefineEnvironment(load, environment);
            }
        },
    };

    /// <summary>Gives an environment whose drawing isn't set: a frame stands for it.</summary>
    internal static void DefineEnvironment(PackageLoad load, string name) =>
        load.Builder.Environments.DefineEnvironment(name, t => Stand(load, t, load.Machine.DocumentCommands.ReadEnvironmentBody(t)), static _ => { });

    // A drawing in the line is one statement, up to its semicolon.
    private static List<Token> Statement(Machine machine)
    {
        var statement = new List<Token>();
        for (Token token = machine.Next(); !token.Is(Category.Stop) && !token.IsCharacter(';') && !token.IsCommand("par"); token = machine.Next())
        {
            statement.Add(token);
        }

        return statement;
    }

    private static List<Token> Until(Machine machine, string command)
    {
        var tokens = new List<Token>();
        for (Token token = machine.Next(); !token.Is(Category.Stop) && !token.IsCommand(command); token = machine.Next())
        {
            tokens.Add(token);
        }

        return tokens;
    }

    // A tree is what stands in its brackets.
    private static List<Token> Brackets(Machine machine)
    {
        var tokens = new List<Token>();
        int depth = 0;
        machine.SkipSpaces();
        for (Token token = machine.Next(); !token.Is(Category.Stop) && !token.IsCommand("par"); token = machine.Next())
        {
            tokens.Add(token);
            depth += token.IsCharacter('[') ? 1 : token.IsCharacter(']') ? -1 : 0;
            if (depth <= 0)
            {
                break;
            }
        }

        return tokens;
    }

    /// <summary>A frame in the place of a drawing, and its finding.</summary>
    internal static void Stand(PackageLoad load, Token token, List<Token> body)
    {
        load.Builder.Findings.Check("drawing-not-set", token.Position, token.Length,
            $"This drawing in the language of {load.Package.Name} isn't set yet; a frame stands in its place.",
            "Make it a PDF or SVG file and place it with \\includegraphics, or draw it with the picture environment.");
        (double width, double height) = Size(body.ToSource(), load.Builder.Boxes.LineWidth);
        TextStyle style = load.Builder.TypefaceCommands.PlainStyle(8);
        List<Inline> words = [new TextRun("drawing", [.. Enumerable.Repeat(PositionTable.None, 7)], style)];
        Extent extent = load.Builder.Boxes.Measure(words);
        DrawnCurve frame = DrawnCurve.Through([(0, 0), (width, 0), (width, height), (0, height), (0, 0)]) with { Dash = 3, Colour = 0x808080 };
        var name = new DrawnText((width - extent.Width) / 2, (height - extent.Height) / 2, words);
        load.Builder.Boxes.AddBoxed(new DrawingInline([frame, name]) { Width = width, Height = height }, token);
    }

    // About the size that its coordinates span, in centimetres unless a scale says otherwise; a third of the line where it has none.
    private static (double Width, double Height) Size(string source, double line)
    {
        double scale = Scale().Match(source) is { Success: true } match ? Number(match.Groups[1]) : 1;
        List<(double X, double Y)> points = [.. Coordinates().Matches(source).Take(5_000).Select(m => (Number(m.Groups[1]), Number(m.Groups[2])))];
        if (points.Count < 2)
        {
            return (line / 3, line / 6);
        }

        double width = (points.Max(p => p.X) - points.Min(p => p.X)) * scale * Centimetre;
        double height = (points.Max(p => p.Y) - points.Min(p => p.Y)) * scale * Centimetre;
        return (Math.Clamp(width, Math.Min(40, line), line), Math.Clamp(height, 20, 400));

        static double Number(System.Text.RegularExpressions.Group group) =>
            Math.Clamp(double.Parse(group.ValueSpan, NumberStyles.Float, CultureInfo.InvariantCulture), -1_000, 1_000);
    }

    [GeneratedRegex(@"\(\s*(-?[0-9]+(?:\.[0-9]+)?)\s*,\s*(-?[0-9]+(?:\.[0-9]+)?)\s*\)")]
    private static partial Regex Coordinates();

    [GeneratedRegex(@"scale\s*=\s*([0-9]+(?:\.[0-9]+)?)")]
    private static partial Regex Scale();
}
