using YoungFolio.Manuscript.Diagrams;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Packages;

/// <summary>Packages whose diagrams of formulas and arrows are set. What the second draws beyond matrices is a frame.</summary>
internal static class DiagramPackages
{
    public static IReadOnlyList<Package> All { get; } =
    [
        new("tikz-cd", "Diagrams of formulas and arrows.")
        {
            Requires = ["tikz", "amsmath"],
            Environments = ["tikzcd"],
            Commands = ["tikzcdset"],
            Definitions = "\\long\\def\\tikzcdset#1{}",
            Load = static load => load.Builder.Environments.DefineEnvironment("tikzcd", t =>
            {
                List<Token>? options = load.Machine.ReadOptional(t);
                List<Token> body = load.Machine.DocumentCommands.ReadEnvironmentBody(t);
                load.Builder.Boxes.AddBoxed(DiagramDrawing.Of(KeyedDiagram.Read(options, body, load.Builder, t), load.Builder, t), t);
            }, static _ => { }),
        },
        new("xy", "Diagrams of formulas and arrows, by steps.")
        {
            Commands = ["xymatrix", "xygraph", "xyoption", "xymatrixcolsep", "xymatrixrowsep", "UseComputerModernTips", "SelectTips", "CompileMatrices", "NoCompileMatrices", "entrymodifiers", "objectmargin", "labelmargin"],
            Environments = ["xy"],
            Options = ["all", "matrix", "arrow", "curve", "cmtip", "frame", "graph", "tips", "color", "2cell", "pdf", "dvips", "v2", "knot", "poly", "import", "line", "rotate", "web", "arc", "cmactex", "ps", "xdvi"],
            Definitions = "\\def\\xyoption#1{}\\def\\xymatrixcolsep#1{}\\def\\xymatrixrowsep#1{}\\def\\UseComputerModernTips{}\\def\\SelectTips#1#2{}\\def\\CompileMatrices{}\\def\\NoCompileMatrices{}"
                + "\\def\\entrymodifiers{\\@ifnextchar={\\expandafter\\@gobble\\@gobble}{\\@gobble}}\\def\\objectmargin#1#{\\@gobble}\\def\\labelmargin#1#{\\@gobble}",
            Load = static load =>
            {
                DrawingPackages.DefineEnvironment(load, "xy");
                load.Machine.Define("xygraph", (m, t) => DrawingPackages.Stand(load, t, m.ReadArgument(t)));
                load.Machine.Define("xymatrix", (m, t) =>
                {
                    var settings = new List<Token>();
                    while (m.Peek() is var next && !next.Is(Category.BeginGroup) && !next.Is(Category.Stop) && settings.Count < 40)
                    {
                        settings.Add(m.Next());
                    }

                    Diagram diagram = SteppedDiagram.Read(settings.ToSource(), m.ReadArgument(t), load.Builder, t);
                    load.Builder.Boxes.AddBoxed(DiagramDrawing.Of(diagram, load.Builder, t), t);
                });
            },
        },
    ];
}
