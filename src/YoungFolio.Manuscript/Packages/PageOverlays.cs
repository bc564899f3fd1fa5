using YoungFolio.Documents;
using YoungFolio.Manuscript.Building;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Packages;

/// <summary>What stands at places of the paper: on each page behind or over the text (eso-pic), or once (textpos). Their documentation, from memory.</summary>
internal sealed class PageOverlays(DocumentBuilder builder) : ReadingFeature(builder)
{
    public static IReadOnlyList<Package> All { get; } =
    [
        new("eso-pic", "Pictures and words at places of each page, behind the text or over it.")
        {
            Commands = ["AddToShipoutPicture", "AddToShipoutPictureBG", "AddToShipoutPictureFG", "ClearShipoutPicture", "ClearShipoutPictureBG", "ClearShipoutPictureFG", "LenToUnit", "AtPageUpperLeft", "AtPageLowerLeft", "AtPageCenter", "AtTextUpperLeft", "AtTextLowerLeft", "AtTextCenter", "AtStockLowerLeft", "AtStockUpperLeft", "AtStockCenter", "gridSetup"],
            Definitions = """
                \def\LenToUnit#1{\strip@pt\dimexpr#1\relax}
                \def\AtPageLowerLeft#1{\put(0,0){#1}} \def\AtPageUpperLeft#1{\put(0,\LenToUnit{\paperheight}){#1}} \def\AtPageCenter#1{\put(\LenToUnit{.5\paperwidth},\LenToUnit{.5\paperheight}){#1}}
                \let\AtStockLowerLeft\AtPageLowerLeft \let\AtStockUpperLeft\AtPageUpperLeft \let\AtStockCenter\AtPageCenter \def\gridSetup#1#2#3#4#5#6{}
                \def\eso@left{\dimexpr 1in+\hoffset+\oddsidemargin\relax} \def\eso@top{\dimexpr\paperheight-1in-\voffset-\topmargin-\headheight-\headsep\relax}
                \def\AtTextUpperLeft#1{\put(\LenToUnit{\eso@left},\LenToUnit{\eso@top}){#1}} \def\AtTextLowerLeft#1{\put(\LenToUnit{\eso@left},\LenToUnit{\eso@top-\textheight}){#1}} \def\AtTextCenter#1{\put(\LenToUnit{\eso@left+.5\textwidth},\LenToUnit{\eso@top-.5\textheight}){#1}}
                """,
            Load = static load => new PageOverlays(load.Builder).DefineEachPage(),
        },
        new("textpos", "Blocks of text at places of the page.")
        {
            Commands = ["TPGrid", "TPHorizModule", "TPVertModule", "textblockorigin", "textblocklabel", "TPshowboxestrue", "TPshowboxesfalse", "TPoptions", "TPMargin", "textblockcolour", "textblockcolor", "textblockrulecolour", "textblockrulecolor"],
            Environments = ["textblock", "textblock*"],
            Options = ["absolute", "overlay", "showboxes", "noshowtext", "quiet", "verbose"],
            Definitions = """
                \newlength\TPHorizModule \newlength\TPVertModule \setlength\TPHorizModule{.0625\paperwidth} \setlength\TPVertModule{.0625\paperheight}
                \newcommand\TPGrid[3][]{\setlength\TPHorizModule{\dimexpr\paperwidth/#2\relax}\setlength\TPVertModule{\dimexpr\paperheight/#3\relax}}
                \newlength\textpos@left \newlength\textpos@top \newcommand\textblockorigin[2]{\setlength\textpos@left{#1}\setlength\textpos@top{#2}}
                \newif\ifTPshowboxes \def\textblocklabel#1{} \def\TPoptions#1{} \newcommand\TPMargin{\@ifstar\@gobble\@gobble} \def\textblockcolour#1{} \def\textblockcolor#1{} \def\textblockrulecolour#1{} \def\textblockrulecolor#1{}
                """,
            Load = static load => new PageOverlays(load.Builder).DefineBlocks(load.Has("absolute")),
        },
    ];

    private void DefineEachPage()
    {
        foreach ((string ending, bool isBehind) in ((string, bool)[])[("", true), ("BG", true), ("FG", false)])
        {
            string name = "AddToShipoutPicture" + ending;
            Machine.Define(name, (m, t) =>
            {
                bool isOnce = m.TakeStar();
                AddPicture(name, isOnce, isBehind, m.ReadArgument(t), t);
            });
            Machine.Define("ClearShipoutPicture" + ending, (_, _) => Builder.PageStyles.AddQuietly(new PageStyleBlock { EndsOverlays = true }));
        }
    }

    private void AddPicture(string name, bool isOnce, bool isBehind, List<Token> content, Token token)
    {
        if (!Builder.DocumentBegun)
        {
            // Said again where the first page begins: only then are its measures known.
            Builder.Execute([.. Machine.Input.Tokenize($"\\AtBeginDocument{{\\{name}{(isOnce ? "*" : "")}{{", content, "}}", token.Position)]);
            return;
        }

        // In points, from the lower left corner of the paper.
        List<Inline> picture = Builder.BuildInlines(Machine.Input.Tokenize("\\setlength\\unitlength{1pt}\\begin{picture}(0,0)", content, "\\end{picture}", token.Position));
        Builder.PageStyles.AddQuietly(new PageStyleBlock { Overlays = [new PageOverlay(picture, 0, Builder.PageMeasures.PageNow.PaperHeight) { IsOnEachPage = !isOnce, IsBehind = isBehind }] });
    }

    private void DefineBlocks(bool isAbsolute)
    {
        foreach (string name in (string[])["textblock", "textblock*"])
        {
            Builder.Environments.DefineEnvironment(name, t => AddTextBlock(name.EndsWith('*'), isAbsolute, t), static _ => { });
        }
    }

    private void AddTextBlock(bool isInLengths, bool isAbsolute, Token token)
    {
        double width = Length(Machine.ReadArgument(token), isInLengths ? "" : "TPHorizModule", token);
        (double across, double down) = (0, 0);
        if (Machine.ReadOptional(token) is { } anchor && Pair(anchor) is var (first, second))
        {
            (across, down) = (Number(first), Number(second));
        }

        (List<Token> Left, List<Token> Right) place = Pair(Parenthesis(token));
        double x = Length(place.Left, isInLengths ? "" : "TPHorizModule", token);
        double y = Length(place.Right, isInLengths ? "" : "TPVertModule", token);
        List<Token> body = Machine.DocumentCommands.ReadEnvironmentBody(token);
        Inline block = new BlockBoxInline(Builder.Boxes.BuildColumn(body, width), width) { Position = 't' };
        if (isAbsolute)
        {
            Builder.PageStyles.AddQuietly(new PageStyleBlock { Overlays = [new PageOverlay([block], x + Of("textpos@left", token), y + Of("textpos@top", token)) { Across = across, Down = down }] });
            return;
        }

        // From where the text is, without room of its own.
        Extent extent = Builder.Boxes.Measure([block]);
        double rise = -y - extent.Height + (down * (extent.Height + extent.Depth));
        Builder.AddInline(new BoxInline([new SpaceInline(Glue.Of(x - (across * width)), false), block]) { Width = 0, Alignment = -1, Rise = rise, Height = 0, Depth = 0 });
    }

    private static double Number(List<Token> tokens) => double.TryParse(tokens.ToSource(), System.Globalization.NumberStyles.Float, System.Globalization.CultureInfo.InvariantCulture, out double number) && Math.Abs(number) < 100 ? number : 0;

    // A length, or a number of modules.
    private double Length(List<Token> tokens, string module, Token token) =>
        module.Length == 0 ? Machine.Quantities.ParseGlue(tokens, token)?.Width.Points ?? 0 : Number([.. Machine.Tokenize(Machine.ExpandToText(tokens).Trim(), token.Position)]) * Of(module, token);

    private double Of(string length, Token token) => Machine.Quantities.ParseGlue([Token.Command(Machine.Symbol(length), token.Position)], token)?.Width.Points ?? 0;

    private List<Token> Parenthesis(Token token)
    {
        var inside = new List<Token>();
        Machine.SkipSpaces();
        if (!Machine.Peek().IsCharacter('('))
        {
            return inside;
        }

        Machine.Next();
        for (Token next = Machine.Next(); !next.IsCharacter(')'); next = Machine.Next())
        {
            if (next.Is(Category.Stop) || next.IsCommand("par") || next.IsCommand("end"))
            {
                Findings.Fix("open-parenthesis", token.Position, token.Length, "The place of this block has no closing parenthesis.", "Write it as (x,y), right behind the width.");
                Machine.PutBack(next);
                break;
            }

            inside.Add(next);
        }

        return inside;
    }

    private static (List<Token> Left, List<Token> Right) Pair(List<Token> tokens)
    {
        int comma = tokens.FindIndex(static t => t.IsCharacter(','));
        return comma < 0 ? (tokens, []) : (tokens[..comma], tokens[(comma + 1)..]);
    }
}
