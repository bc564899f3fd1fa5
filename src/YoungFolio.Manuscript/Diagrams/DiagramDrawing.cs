using YoungFolio.Documents;
using YoungFolio.Manuscript.Building;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Diagrams;

/// <summary>
/// Draws a diagram: columns as wide as their widest cell, rows as high as their highest, cells around the axis of formulas, arrows from the edge of one cell to
/// that of another. Gaps and shapes of heads as in diagrams of mathematical print (common practice).
/// </summary>
internal sealed class DiagramDrawing
{
    private const double Pen = 0.4;

    private readonly DocumentBuilder _builder;
    private readonly Token _token;
    private readonly double _em;
    private readonly List<DrawingPart> _parts = [];
    private readonly List<List<Cell>> _cells = [];

    private DiagramDrawing(DocumentBuilder builder, Token token)
    {
        (_builder, _token) = (builder, token);
        _em = builder.Style.Value.Size;
    }

    // A cell where it stands: its middle on the axis, half its width, and its reach above and below the axis with the space around it.
    private sealed record Cell(List<Inline> Content, Extent Extent)
    {
        public (double X, double Y) Middle { get; init; }

        public double HalfWidth { get; init; }

        public double Above { get; init; }

        public double Below { get; init; }

        // Where a line from the middle in a direction leaves the cell.
        public (double X, double Y) Edge((double X, double Y) direction)
        {
            double across = direction.X == 0 ? double.MaxValue : HalfWidth / Math.Abs(direction.X);
            double up = direction.Y == 0 ? double.MaxValue : (direction.Y > 0 ? Above : Below) / Math.Abs(direction.Y);
            double far = Math.Min(across, up);
            return (Middle.X + (far * direction.X), Middle.Y + (far * direction.Y));
        }
    }

    /// <summary>The drawing of a diagram; its middle stands on the axis of the formula around it.</summary>
    public static Inline Of(Diagram diagram, DocumentBuilder builder, Token token)
    {
        if (diagram.Rows.Count == 0)
        {
            return new BoxInline([]);
        }

        var drawing = new DiagramDrawing(builder, token);
        (double width, double height) = drawing.Place(diagram);
        foreach (DiagramArrow arrow in diagram.Arrows)
        {
            builder.Budget.Look();
            drawing.Draw(arrow);
        }

        (double left, double foot, double right, double top) = drawing.Reach(width, height);
        return new BoxInline([new DrawingInline([.. drawing._parts.Select(p => DrawingCommands.Moved(p, -left, -foot))]) { Width = right - left, Height = top - foot }])
        {
            Rise = drawing.Axis + foot - (height / 2),
        };
    }

    private double Axis => 0.25 * _em;

    private List<Inline> Formula(IReadOnlyList<Token> tokens) => _builder.BuildInlines(BoxCommands.AsFormula([.. tokens], _token));

    private (double Width, double Height) Place(Diagram diagram)
    {
        (double around, double above) = (0.43 * _em, 0.37 * _em);
        foreach (IReadOnlyList<IReadOnlyList<Token>> row in diagram.Rows)
        {
            _cells.Add([.. row.Select(tokens =>
            {
                List<Inline> content = TokenLists.TrimSpaces(tokens).Count == 0 ? [] : Formula(tokens);
                Extent extent = content.Count == 0 ? new Extent(0, 2 * Axis, 0) : _builder.Boxes.Measure(content);
                return new Cell(content, extent) { HalfWidth = (extent.Width / 2) + around, Above = Math.Max(0, extent.Height - Axis) + above, Below = extent.Depth + Axis + above };
            })]);
        }

        int columns = _cells.Max(r => r.Count);
        double[] widths = [.. Enumerable.Range(0, columns).Select(c => _cells.Max(r => c < r.Count ? 2 * r[c].HalfWidth : 0))];
        double gap = diagram.ColumnGap * _em;
        double height = _cells.Sum(r => r.Max(c => c.Above) + r.Max(c => c.Below)) + (diagram.RowGap * _em * (_cells.Count - 1));
        double top = height;
        foreach (List<Cell> row in _cells)
        {
            double axis = top - row.Max(c => c.Above);
            double left = 0;
            for (int c = 0; c < row.Count; c++)
            {
                row[c] = row[c] with { Middle = (left + (widths[c] / 2), axis) };
                left += widths[c] + gap;
                if (row[c].Content.Count > 0)
                {
                    _parts.Add(new DrawnText(row[c].Middle.X - (row[c].Extent.Width / 2), axis - Axis, row[c].Content));
                }
            }

            top = axis - row.Max(c => c.Below) - (diagram.RowGap * _em);
        }

        return (widths.Sum() + (gap * (columns - 1)), height);
    }

    // Loops, labels and bent arrows may reach beyond the cells.
    private (double Left, double Foot, double Right, double Top) Reach(double width, double height)
    {
        (double left, double foot, double right, double top) = (0d, 0d, width, height);
        foreach (DrawingPart part in _parts)
        {
            IEnumerable<(double X, double Y)> points = part switch
            {
                DrawnCurve curve => curve.Points,
                DrawnText text when _builder.Boxes.Measure(text.Content) is var e => [(text.X, text.Y - e.Depth), (text.X + e.Width, text.Y + e.Height)],
                _ => [],
            };
            foreach ((double x, double y) in points)
            {
                (left, foot, right, top) = (Math.Min(left, x), Math.Min(foot, y), Math.Max(right, x), Math.Max(top, y));
            }
        }

        return (left, foot, right, top);
    }

    private Cell? Find((int Row, int Column) place) =>
        place.Row >= 0 && place.Row < _cells.Count && place.Column >= 0 && place.Column < _cells[place.Row].Count ? _cells[place.Row][place.Column] : null;

    private void Draw(DiagramArrow arrow)
    {
        if (Find(arrow.From) is not { } from || Find(arrow.To) is not { } to)
        {
            _builder.Findings.Check("arrow-to-nowhere", arrow.Command.Position, arrow.Command.Length,
                Find(arrow.From) is null ? "This arrow comes from a cell that isn't there." : "This arrow leads to a cell that isn't there.",
                "Count its steps: l, r, u and d lead over one cell each; a row needs & for each of its cells.");
            return;
        }

        if (Curve(arrow, from, to) is not { } curve)
        {
            return;
        }

        if (arrow.Line != ArrowLine.Hidden)
        {
            Stroke(arrow, curve);
        }

        foreach (ArrowLabel label in arrow.Labels)
        {
            Label(label, curve);
        }
    }

    // The four points of an arrow's curve; null where its ends are one.
    private static (double X, double Y)[]? Curve(DiagramArrow arrow, Cell from, Cell to)
    {
        (double x, double y) = (to.Middle.X - from.Middle.X, to.Middle.Y - from.Middle.Y);
        double length = Math.Sqrt((x * x) + (y * y));
        if (arrow.From == arrow.To || length == 0)
        {
            // A loop at the cell's right.
            (double right, double middle) = (from.Middle.X + from.HalfWidth, from.Middle.Y);
            return [(right, middle + 3), (right + 18, middle + 14), (right + 18, middle - 14), (right, middle - 3)];
        }

        double angle = Math.Atan2(y, x);
        double bend = arrow.Bend * Math.PI / 180;
        (double X, double Y) start = Moved(from.Edge((Math.Cos(angle + bend), Math.Sin(angle + bend))));
        (double X, double Y) end = Moved(to.Edge((Math.Cos(angle + Math.PI - bend), Math.Sin(angle + Math.PI - bend))));
        double reach = Math.Sqrt(Math.Pow(end.X - start.X, 2) + Math.Pow(end.Y - start.Y, 2)) * 0.3915;
        return
        [
            start,
            (start.X + (reach * Math.Cos(angle + bend)), start.Y + (reach * Math.Sin(angle + bend))),
            (end.X + (reach * Math.Cos(angle + Math.PI - bend)), end.Y + (reach * Math.Sin(angle + Math.PI - bend))),
            end,
        ];

        (double X, double Y) Moved((double X, double Y) p) => (p.X - (arrow.Shift * Math.Sin(angle)), p.Y + (arrow.Shift * Math.Cos(angle)));
    }

    private void Stroke(DiagramArrow arrow, (double X, double Y)[] curve)
    {
        double apart = arrow.Line == ArrowLine.Double ? 1.3 : 0;
        (double X, double Y) forward = Direction(curve, 1);
        (double X, double Y) backward = Direction(curve, 0);
        // The lines of a double arrow end within its head.
        (double X, double Y)[] line = apart > 0 && arrow.End == ArrowTip.Head ? [curve[0], curve[1], curve[2], Step(curve[3], forward, -1.2, 0)] : curve;
        switch (arrow.Line)
        {
            case ArrowLine.Double:
                foreach (double side in (double[])[apart, -apart])
                {
                    Add(new DrawnCurve([.. line.Select(p => Step(p, forward, 0, side))]));
                }

                break;
            case ArrowLine.Waves:
                Add(Wavy(curve));
                break;
            default:
                Add(new DrawnCurve(curve) { Dash = arrow.Line switch { ArrowLine.Dashed => 3, ArrowLine.Dotted => 1, _ => 0 } });
                break;
        }

        Tip(arrow.End, curve[3], forward, apart);
        Tip(arrow.Start, curve[0], arrow.Start is ArrowTip.Head or ArrowTip.TwoHeads ? (-backward.X, -backward.Y) : backward, apart);

        void Add(DrawnCurve drawn) => _parts.Add(drawn with { Pen = Pen, Colour = arrow.Colour });

        void Tip(ArrowTip tip, (double X, double Y) at, (double X, double Y) way, double wider)
        {
            foreach ((double X, double Y)[] points in Strokes(tip, wider))
            {
                Add(new DrawnCurve([.. points.Select(p => Step(at, way, p.X, p.Y))]));
            }
        }
    }

    // The strokes of a tip that points along the first axis, with its point at the origin.
    private static IEnumerable<(double X, double Y)[]> Strokes(ArrowTip tip, double wider)
    {
        double size = 2 + wider;
        (double X, double Y)[] Half(double side, double behind) => [(-size - behind, side * (size + 0.2)), (-(0.8 * size) - behind, side * 0.4 * size), (-(0.35 * size) - behind, side * 0.1 * size), (-behind, 0)];
        switch (tip)
        {
            case ArrowTip.Head:
                return [Half(1, 0), Half(-1, 0)];
            case ArrowTip.TwoHeads:
                return [Half(1, 0), Half(-1, 0), Half(1, 2.2), Half(-1, 2.2)];
            case ArrowTip.Tail:
                return [Half(1, -size), Half(-1, -size)];
            case ArrowTip.Harpoon:
                return [Half(1, 0)];
            case ArrowTip.HarpoonRight:
                return [Half(-1, 0)];
            case ArrowTip.Bar:
                return [[(0, size + 0.2), (0, size + 0.2), (0, -size - 0.2), (0, -size - 0.2)]];
            case ArrowTip.Hook or ArrowTip.HookRight:
                double side = tip == ArrowTip.Hook ? 1 : -1;
                return [[(0, 0), (-2.6, 0), (-2.6, side * 3.4), (0.4, side * 3.4)]];
            default:
                return [];
        }
    }

    // A straight line in waves, with a straight end for the head.
    private static DrawnCurve Wavy((double X, double Y)[] curve)
    {
        (double X, double Y) way = Direction(curve, 1);
        double length = Math.Sqrt(Math.Pow(curve[3].X - curve[0].X, 2) + Math.Pow(curve[3].Y - curve[0].Y, 2));
        var points = new List<(double X, double Y)> { curve[0] };
        double at = 0;
        for (int side = 1; at + 6 < length && points.Count < 3_000; side = -side, at += 3)
        {
            points.AddRange([Step(curve[0], way, at + 1, side * 1.6), Step(curve[0], way, at + 2, side * 1.6), Step(curve[0], way, at + 3, 0)]);
        }

        points.AddRange([points[^1], curve[3], curve[3]]);
        return new DrawnCurve(points);
    }

    private void Label(ArrowLabel label, (double X, double Y)[] curve)
    {
        List<Inline> content = Formula([Token.Command(_builder.Machine.Symbol("scriptstyle"), _token.Position), .. label.Formula]);
        Extent extent = _builder.Boxes.Measure(content);
        (double halfWidth, double halfHeight) = (extent.Width / 2, (extent.Height + extent.Depth) / 2);
        (double X, double Y) at = Point(curve, label.Along);
        (double X, double Y) way = Direction(curve, label.Along);
        double side = label.Side switch { LabelSide.Left => 1, LabelSide.Right => -1, _ => 0 };
        double away = side == 0 ? 0 : (halfWidth * Math.Abs(way.Y)) + (halfHeight * Math.Abs(way.X)) + (0.25 * _em);
        (double x, double y) = Step(at, way, 0, side * away);
        if (side == 0)
        {
            // The line is broken where the label stands on it.
            (double w, double h) = (halfWidth + 1.5, halfHeight + 1.5);
            _parts.Add(DrawnCurve.Through([(x - w, y - h), (x + w, y - h), (x + w, y + h), (x - w, y + h), (x - w, y - h)]) with { IsFilled = true, Colour = 0xFFFFFF });
        }

        _parts.Add(new DrawnText(x - halfWidth, y - halfHeight + extent.Depth, content));
    }

    private static (double X, double Y) Point((double X, double Y)[] c, double t)
    {
        double u = 1 - t;
        (double a, double b, double d, double e) = (u * u * u, 3 * u * u * t, 3 * u * t * t, t * t * t);
        return ((a * c[0].X) + (b * c[1].X) + (d * c[2].X) + (e * c[3].X), (a * c[0].Y) + (b * c[1].Y) + (d * c[2].Y) + (e * c[3].Y));
    }

    // The way that a curve takes at one of its places, of length 1.
    private static (double X, double Y) Direction((double X, double Y)[] c, double t)
    {
        ((double X, double Y) before, (double X, double Y) behind) = (Point(c, Math.Max(0, t - 0.01)), Point(c, Math.Min(1, t + 0.01)));
        (double x, double y) = (behind.X - before.X, behind.Y - before.Y);
        double length = Math.Sqrt((x * x) + (y * y));
        return length == 0 ? (1, 0) : (x / length, y / length);
    }

    // A place that lies along a way and to its left.
    private static (double X, double Y) Step((double X, double Y) from, (double X, double Y) way, double along, double left) =>
        (from.X + (along * way.X) - (left * way.Y), from.Y + (along * way.Y) + (left * way.X));
}
