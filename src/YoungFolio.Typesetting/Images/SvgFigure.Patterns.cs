using System.Globalization;
using System.Xml.Linq;
using YoungFolio.Typesetting.Pages;

namespace YoungFolio.Typesetting.Images;

// Patterns that fill shapes (SVG 1.1, 13.3) and markers at the points of lines (11.6): what hatches and arrowheads of plots are drawn with.
internal sealed partial class SvgFigure
{
    private sealed partial class Painter
    {
        // Tiles of one shape; more would be a tone rather than a pattern.
        private const int MostTiles = 4_000;

        private bool IsPattern(string? id) => id is not null && _byId.TryGetValue(id, out XElement? element) && element.Name.LocalName == "pattern";

        // Whether the shape is filled now; a pattern without a size fills nothing.
        private bool PaintPattern(string id, string operators, SvgMatrix matrix, SvgStyle style, XElement element, List<Placed> marks)
        {
            if (!IsPattern(id))
            {
                return false;
            }

            XElement pattern = _byId[id];
            if (_patternDepth > 2)
            {
                return true;
            }

            XElement tile = pattern.HasElements ? pattern : Reference(pattern) ?? pattern;
            (double left, double top, double wide, double high) = Bounds(element);
            (double x, double y, double width, double height) = (Number(pattern, "x"), Number(pattern, "y"), Share(pattern, tile, "width"), Share(pattern, tile, "height"));
            if ((pattern.Attribute("patternUnits") ?? tile.Attribute("patternUnits"))?.Value != "userSpaceOnUse")
            {
                (x, y, width, height) = (left + (x * wide), top + (y * high), width * wide, height * high);
            }

            var turn = SvgMatrix.Parse((pattern.Attribute("patternTransform") ?? tile.Attribute("patternTransform"))?.Value ?? "");
            SvgMatrix back = turn.Inverse();
            (double X, double Y)[] corners = [back.Map(left, top), back.Map(left + wide, top), back.Map(left, top + high), back.Map(left + wide, top + high)];
            if (!(width > 0 && height > 0) || !corners.All(c => double.IsFinite(c.X) && double.IsFinite(c.Y)))
            {
                return true;
            }

            (int Low, int High) across = Range(corners.Select(c => (c.X - x) / width));
            (int Low, int High) down = Range(corners.Select(c => (c.Y - y) / height));
            if ((long)(across.High - across.Low) * (down.High - down.Low) > MostTiles)
            {
                return true;
            }

            _patternDepth++;
            var inside = new List<Placed> { new(new PathMark(operators + (style.EvenOdd ? "W* n\n" : "W n\n")), 0, 0) };
            for (int row = down.Low; row < down.High; row++)
            {
                for (int column = across.Low; column < across.High; column++)
                {
                    SvgMatrix place = matrix.After(turn).After(new SvgMatrix(1, 0, 0, 1, x + (column * width), y + (row * height)));
                    var edge = new SvgPath(place);
                    edge.Rectangle(0, 0, width, height, 0, 0);
                    var content = new List<Placed> { new(new PathMark(edge.Operators + "W n\n"), 0, 0) };
                    // Content counts from the pattern's own origin.
                    PaintChildren(tile, ViewOf(tile, width, height) is { } view ? place.After(view) : place.After(new SvgMatrix(1, 0, 0, 1, -x, -y)), _styles.Of(tile, new SvgStyle()), content, 1);
                    inside.Add(new Placed(new GroupMark(content, 1, 0, 0, 1), 0, 0));
                }
            }

            _patternDepth--;
            marks.Add(new Placed(new GroupMark(inside, 1, 0, 0, 1), 0, 0));
            return true;

            static (int Low, int High) Range(IEnumerable<double> values) =>
                ((int)Math.Floor(Math.Clamp(values.Min(), -1e6, 1e6)), (int)Math.Ceiling(Math.Clamp(values.Max(), -1e6, 1e6)));
        }

        private int _patternDepth;

        private static double Share(XElement pattern, XElement tile, string name)
        {
            string text = (pattern.Attribute(name) ?? tile.Attribute(name))?.Value ?? "";
            return text.EndsWith('%') && double.TryParse(text[..^1], NumberStyles.Float, CultureInfo.InvariantCulture, out double percent) ? percent / 100 : SvgStyles.Length(text) ?? 0;
        }

        // What a viewBox does to the content of a width and a height.
        private static SvgMatrix? ViewOf(XElement element, double width, double height)
        {
            var reader = new SvgPath.NumberReader(element.Attribute("viewBox")?.Value ?? "");
            return reader.Next() is { } x && reader.Next() is { } y && reader.Next() is > 0 and var wide && reader.Next() is > 0 and var high
                ? new SvgMatrix(width / wide, 0, 0, height / high, -x * width / wide, -y * height / high)
                : null;
        }

        private void PaintMarkers(string operators, SvgMatrix matrix, SvgStyle style, List<Placed> marks)
        {
            if (style is { MarkerStart: null, MarkerMiddle: null, MarkerEnd: null } || _patternDepth > 2)
            {
                return;
            }

            List<((double X, double Y) At, double? In, double? Out)> points = PointsOf(operators);
            _patternDepth++;
            for (int i = 0; i < points.Count; i++)
            {
                string? id = i == 0 ? style.MarkerStart : i == points.Count - 1 ? style.MarkerEnd : style.MarkerMiddle;
                if (id is not null && _byId.TryGetValue(id, out XElement? marker) && marker.Name.LocalName == "marker")
                {
                    PaintMarker(marker, points[i], i == 0, matrix, style, marks);
                }
            }

            _patternDepth--;
        }

        private void PaintMarker(XElement marker, ((double X, double Y) At, double? In, double? Out) point, bool isFirst, SvgMatrix matrix, SvgStyle style, List<Placed> marks)
        {
            string orient = marker.Attribute("orient")?.Value ?? "0";
            double angle = Direction(point.In, point.Out);
            if (orient == "auto-start-reverse" && isFirst)
            {
                angle += Math.PI;
            }
            else if (!orient.StartsWith("auto", StringComparison.Ordinal))
            {
                angle = -(SvgStyles.Length(orient) ?? 0) * Math.PI / 180;
            }

            double scale = matrix.Growth * (marker.Attribute("markerUnits")?.Value == "userSpaceOnUse" ? 1 : style.StrokeWidth);
            (double sin, double cos) = Math.SinCos(angle);
            (double width, double height) = (Number(marker, "markerWidth", 3), Number(marker, "markerHeight", 3));
            SvgMatrix view = KeepsShape(ViewOf(marker, width, height));
            (double x, double y) = (Number(marker, "refX"), Number(marker, "refY"));
            // The page's heights count upwards, those of the drawing downwards.
            SvgMatrix place = new SvgMatrix(cos, sin, -sin, cos, point.At.X, point.At.Y).After(new SvgMatrix(scale, 0, 0, -scale, 0, 0));
            (double dx, double dy) = view.Map(x, y);
            PaintChildren(marker, place.After(new SvgMatrix(1, 0, 0, 1, -dx, -dy)).After(view), _styles.Of(marker, new SvgStyle()), marks, 1);

            static SvgMatrix KeepsShape(SvgMatrix? view)
            {
                if (view is not { } v)
                {
                    return SvgMatrix.Identity;
                }

                double factor = Math.Min(v.A, v.D);
                return new SvgMatrix(factor, 0, 0, factor, v.E / v.A * factor, v.F / v.D * factor);
            }
        }

        // At a corner a marker points between both directions.
        private static double Direction(double? before, double? after)
        {
            if (before is not { } a || after is not { } b)
            {
                return before ?? after ?? 0;
            }

            return Math.Atan2(Math.Sin(a) + Math.Sin(b), Math.Cos(a) + Math.Cos(b));
        }

        // The points of a path that is written as PDF's operators, with the directions in which it comes and goes.
        private static List<((double X, double Y) At, double? In, double? Out)> PointsOf(string operators)
        {
            var points = new List<((double X, double Y) At, double? In, double? Out)>();
            (double X, double Y) start = default;
            foreach (string line in operators.Split('\n', StringSplitOptions.RemoveEmptyEntries))
            {
                string[] words = line.Split(' ', StringSplitOptions.RemoveEmptyEntries);
                double[] n = [.. words.SkipLast(1).Select(w => double.Parse(w, CultureInfo.InvariantCulture))];
                switch (words[^1])
                {
                    case "m":
                        start = (n[0], n[1]);
                        points.Add((start, null, null));
                        break;
                    case "l":
                        Go(points[^1].At, (n[0], n[1]), (n[0], n[1]));
                        break;
                    case "c":
                        Go((n[0], n[1]) == points[^1].At ? (n[2], n[3]) : (n[0], n[1]), (n[2], n[3]) == (n[4], n[5]) ? (n[0], n[1]) : (n[2], n[3]), (n[4], n[5]));
                        break;
                    case "h" when points.Count > 0:
                        Go(start, points[^1].At, start);
                        break;
                }
            }

            return points;

            void Go((double X, double Y) leaves, (double X, double Y) arrives, (double X, double Y) end)
            {
                (double X, double Y) from = points[^1].At;
                double outwards = leaves == from ? Angle(from, end) : Angle(from, leaves);
                points[^1] = points[^1] with { Out = outwards };
                points.Add((end, arrives == end ? Angle(from, end) : Angle(arrives, end), null));
            }

            static double Angle((double X, double Y) from, (double X, double Y) to) => Math.Atan2(to.Y - from.Y, to.X - from.X);
        }
    }
}
