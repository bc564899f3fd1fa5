using YoungFolio.Manuscript.Building;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Packages;

/// <summary>Packages for pictures, floats and captions.</summary>
internal static class FloatPackages
{
    public static IReadOnlyList<Package> All { get; } =
    [
        new("graphicx", "Pictures from files.")
        {
            Commands = ["includegraphics", "graphicspath", "DeclareGraphicsExtensions", "DeclareGraphicsRule", "setkeys", "scalebox", "resizebox", "rotatebox", "reflectbox"],
            Load = static load =>
            {
                load.Builder.Figures.DefinePictures();
                load.Machine.Definitions.Load("\\def\\DeclareGraphicsExtensions#1{}\\def\\DeclareGraphicsRule#1#2#3#4{}\\def\\reflectbox#1{\\scalebox{-1}[1]{#1}}");
                load.Builder.Transforms.DefineTransforms();
            },
        },
        new("graphics", "Pictures from files.") { Requires = ["graphicx"] },
        new("pict2e", "Polygons, lines from point to point and arcs in drawings.")
        {
            Commands = ["polyline", "polygon", "Line", "cbezier", "arc"],
            Load = static load => load.Builder.Drawings.DefineMoreCurves(),
        },
        new("stfloats", "Wide floats at a page's foot; they stand where the class puts them."),
        new("dblfloatfix", "Wide floats at a page's foot; they stand where the class puts them."),
        new("sidecap", "Captions beside figures; they stand below them here.")
        {
            Environments = ["SCfigure", "SCtable"],
            Definitions = """
                \NewDocumentEnvironment{SCfigure}{O{}O{tbp}}{\begin{figure}[#2]\centering}{\end{figure}}\NewDocumentEnvironment{SCtable}{O{}O{tbp}}{\begin{table}[#2]\centering}{\end{table}}
                """,
        },
        new("floatrow", "Floats with their captions, one beside the other.")
        {
            Commands = ["floatfoot", "floatsetup", "ffigbox", "ttabbox", "floatbox", "thisfloatsetup"],
            Environments = ["floatrow"],
            Definitions = """
                \NewDocumentCommand{\floatfoot}{s +m}{\par\smallskip{\footnotesize #2\par}}\newcommand{\floatsetup}[2][]{}\newcommand{\thisfloatsetup}[1]{}\newlength{\FBwidth}\setlength{\FBwidth}{\linewidth}
                \NewDocumentCommand{\ffigbox}{O{}O{}O{}mm}{{\centering #5\par}#4}\NewDocumentCommand{\ttabbox}{O{}O{}O{}mm}{#4{\centering #5\par}}\NewDocumentCommand{\floatbox}{O{}mO{}O{}O{}mm}{{\centering #7\par}#6}
                \NewDocumentEnvironment{floatrow}{O{}}{}{}
                """,
        },
        new("picture", "Nothing to do: lengths are coordinates of drawings, too."),
        new("epstopdf", "Nothing to do: pictures are PDF, PNG or JPEG."),
        new("svg", "Figures from SVG files; includegraphics takes them too.")
        {
            Commands = ["includesvg"],
            Requires = ["graphicx"],
            Definitions = "\\newcommand{\\includesvg}[2][]{\\includegraphics[#1]{#2}}\\newcommand{\\svgsetup}[1]{}\\newcommand{\\svgpath}[1]{}",
        },
        new("float", "Floats that stay where they are, and kinds of float of one's own.")
        {
            Commands = ["newfloat", "floatname", "listof", "restylefloat", "floatstyle", "floatplacement"],
            Load = static load => Floats(load.Builder),
        },
        new("caption", "The look of captions, and captions outside floats.")
        {
            Commands = ["captionsetup", "captionof", "ContinuedFloat", "DeclareCaptionFont", "DeclareCaptionFormat", "DeclareCaptionLabelFormat", "DeclareCaptionStyle", "clearcaptionsetup"],
            Load = static load => load.Builder.CaptionSetup.DefineCaptionSetup(load.Options),
        },
        new("capt-of", "Captions outside floats.")
        {
            Commands = ["captionof"],
            Load = static load => load.Builder.CaptionSetup.DefineCaptionSetup([]),
        },
        new("ltcaption", "Captions of long tables.") { Requires = ["caption"] },
        new("subcaption", "Figures and tables in parts, each with a caption.")
        {
            Environments = ["subfigure", "subtable"],
            Commands = ["subcaption", "subcaptionbox", "subref"],
            Requires = ["caption"],
            Load = static load =>
            {
                // Its options are those of the package caption.
                load.Builder.CaptionSetup.ApplyCaptionOptions(load.Options, "sub");
                load.Builder.SubFigures.DefineSubFigures();
            },
        },
        new("subfig", "Figures and tables in parts, each with a caption.")
        {
            Commands = ["subfloat"],
            Requires = ["caption"],
            Load = static load => load.Builder.SubFigures.DefineSubFigures(),
        },
        new("wrapfig", "Figures and tables that text runs beside.")
        {
            Environments = ["wrapfigure", "wraptable"],
            Load = static load => load.Builder.SubFigures.DefineWrapFigures(),
        },
        new("rotating", "Floats that lie across, and text turned.")
        {
            Environments = ["sidewaysfigure", "sidewaystable", "sidewaysfigure*", "sidewaystable*", "sideways", "turn", "rotate"],
            Requires = ["graphicx"],
            Load = static load =>
            {
                foreach (string star in (string[])["", "*"])
                {
                    load.Builder.Transforms.DefineSidewaysFloat("sidewaysfigure" + star, "figure", "lof");
                    load.Builder.Transforms.DefineSidewaysFloat("sidewaystable" + star, "table", "lot");
                }

                load.Builder.Transforms.DefineTurned("sideways", false);
                load.Builder.Transforms.DefineTurned("turn", true);
                load.Builder.Transforms.DefineTurned("rotate", true);
            },
        },
        new("flafter", "Floats never before their mention; they never are."),
    ];

    private static void Floats(DocumentBuilder builder)
    {
        Machine machine = builder.Machine;
        machine.Define("newfloat", (m, t) =>
        {
            string kind = m.ReadText(t);
            List<Token> places = m.ReadArgument(t);
            string list = m.ReadText(t);
            string? within = m.ReadOptionalText(t);
            m.Counters.Add(kind, within);
            m.Definitions.DefineMacro(kind + "name", kind);
            m.Definitions.DefineMacro("list " + kind, list);
            builder.Figures.DefineFloatKind(kind, list);
            m.Push([Token.Command(m.Symbol("floatplacement"), t.Position), .. TokenLists.Braced([.. m.Tokenize(kind, t.Position)], t.Position), .. TokenLists.Braced(places, t.Position)]);
        });
        machine.Define("floatname", (m, t) => builder.Titles.Keep(m.ReadText(t) + "name", m.ReadArgument(t)));
        machine.Define("listof", (m, t) =>
        {
            string kind = m.ReadText(t);
            List<Token> title = m.ReadArgument(t);
            string list = m.ExpandToText([Token.Command(m.Symbol("list " + kind), t.Position)]);
            string level = builder.Class.HasChapters ? "chapter" : "section";
            m.Push([Token.Command(m.Symbol(level), t.Position), Token.Character('*', Category.Other, t.Position), .. TokenLists.Braced(title, t.Position),
                .. builder.HeadingCommands.InternalTokens($"\\@starttoc{{{list}}}").Select(u => u.At(t.Position))]);
        });
        builder.FloatStyles.DefineFloatStyles();
    }
}
