using YoungFolio.Documents;
using YoungFolio.Documents.Mathematics;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>
/// What stands around all rows of a display while each keeps its number: a brace with what it belongs to at the left, one at the right, a frame or a ground.
/// It stands beside the first of the columns and takes no height of its own, so that numbers and labels are those of the rows.
/// </summary>
internal sealed class DisplaySurroundings(DocumentBuilder builder)
{
    /// <summary>Tokens at the left, before the rows; empty: none.</summary>
    public List<Token> Left { get; init; } = [];

    /// <summary>Tokens at the right.</summary>
    public List<Token> Right { get; init; } = [];

    /// <summary>Whether a frame is drawn around the rows.</summary>
    public bool IsFramed { get; init; }

    /// <summary>The colour of their ground; null: none.</summary>
    public int? Ground { get; init; }

    private double Axis => builder.Style.Value.Size * 0.25;

    // A column's cells beside each other, and where the rows' baselines stand below the first one's.
    private readonly record struct Measures(double Width, double Above, double Below, double[] Baselines);

    /// <summary>The rows with what stands around them; their columns join without space between pairs.</summary>
    /// <param name="rows">The rows.</param>
    /// <param name="token">Where the display begins.</param>
    public List<DisplayRow> Around(List<DisplayRow> rows, Token token)
    {
        if (rows.Count == 0)
        {
            return rows;
        }

        Measures measures = Measure(rows);
        int middle = (rows.Count - 1) / 2;
        double centre = ((measures.Above - measures.Below) / 2) + measures.Baselines[middle];
        MathList left = Beside([.. Frame(measures, middle), .. Box(Left, measures, centre - Axis, token)]);
        MathList right = Beside(Box(Right, measures, centre - Axis, token));
        int columns = rows.Max(r => r.Cells.Count);
        int even = columns + (columns % 2);
        return [.. rows.Select((row, i) => row with
        {
            Cells =
            [
                i == middle ? left : MathList.Empty, MathList.Empty, .. row.Cells, .. Enumerable.Repeat(MathList.Empty, even - row.Cells.Count),
                .. Right.Count == 0 ? Array.Empty<MathList>() : [MathList.Empty, i == middle ? right : MathList.Empty],
            ],
        })];
    }

    private static MathList Beside(List<Inline> content) => content.Count == 0 ? MathList.Empty : new MathList([new Atom(AtomClass.Ordinary, new TextNucleus(content))]);

    private Measures Measure(List<DisplayRow> rows)
    {
        List<List<Extent>> cells = [.. rows.Select(r => r.Cells.Select(c => builder.Boxes.Measure([new MathInline(Displayed(c), builder.Style.Value)])).ToList())];
        double[] widths = [.. Enumerable.Range(0, cells.Max(r => r.Count)).Select(c => cells.Max(r => c < r.Count ? r[c].Width : 0))];
        double leading = builder.Style.Value.Size * 1.2;
        var baselines = new double[rows.Count];
        for (int i = 1; i < rows.Count; i++)
        {
            double depth = cells[i - 1].Max(c => c.Depth);
            double height = cells[i].Max(c => c.Height);
            // Rows stand a leading apart, or as their heights want it, and \jot more.
            baselines[i] = baselines[i - 1] + Math.Max(leading, depth + height + 1) + 3 + rows[i - 1].SpaceBelow;
        }

        return new Measures(widths.Sum(), cells[0].Max(c => c.Height), baselines[^1] + cells[^1].Max(c => c.Depth), baselines);
    }

    private static MathList Displayed(MathList cell) => new([new SizeChange(MathSize.Display), .. cell.Nodes]);

    // In a box without height, moved so that its axis is the middle of the rows.
    private List<Inline> Box(List<Token> tokens, Measures measures, double rise, Token token)
    {
        if (tokens.Count == 0)
        {
            return [];
        }

        double half = (measures.Above + measures.Below) / 2;
        string strut = string.Create(System.Globalization.CultureInfo.InvariantCulture, $"\\rule[{Axis - half:0.###}pt]{{0pt}}{{{2 * half:0.###}pt}}");
        var formula = new List<Token>();
        foreach (Token one in tokens)
        {
            if (one.Symbol?.Name is { } name && name.StartsWith("empheq", StringComparison.Ordinal) && name.Length > 7)
            {
                string sign = name[6..].Replace("big", "", StringComparison.Ordinal);
                string delimiter = sign switch { "lparen" => "(", "rparen" => ")", _ => "\\" + sign + " " };
                bool isLeft = sign[0] == 'l';
                formula.AddRange(builder.Machine.Tokenize(isLeft ? $"\\left{delimiter}{strut}\\right." : $"\\left.{strut}\\right{delimiter}", token.Position));
            }
            else
            {
                formula.Add(one);
            }
        }

        return [new BoxInline(builder.BuildInlines(BoxCommands.AsFormula([.. builder.Machine.Tokenize("\\displaystyle ", token.Position), .. formula], token))) { Rise = rise, Height = 0, Depth = 0 }];
    }

    // A frame takes no width: it begins where the rows begin.
    private List<Inline> Frame(Measures measures, int middle)
    {
        if (!IsFramed && Ground is null)
        {
            return [];
        }

        const double Padding = 6;
        double start = measures.Baselines[middle];
        (double left, double right, double top, double foot) = (-Padding, measures.Width + Padding, start + measures.Above + Padding, start - measures.Below - Padding);
        DrawnCurve around = DrawnCurve.Through([(left, foot), (right, foot), (right, top), (left, top), (left, foot)]);
        List<DrawingPart> parts = [];
        if (Ground is { } ground)
        {
            parts.Add(around with { IsFilled = true, Colour = ground });
        }

        if (IsFramed)
        {
            parts.Add(around with { Colour = builder.Style.Value.Colour });
        }

        return [new DrawingInline(parts)];
    }
}
