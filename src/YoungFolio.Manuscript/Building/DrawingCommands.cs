using System.Globalization;
using YoungFolio.Documents;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>
/// The picture environment (Lamport, <em>LaTeX</em>, section 7.1, and what the package pict2e adds to it): things put at coordinates, in units of
/// <c>\unitlength</c>. Lines may have any slope.
/// </summary>
internal sealed class DrawingCommands(DocumentBuilder builder) : ReadingFeature(builder)
{
    // Distance of a circle's control points in parts of its radius (4/3 (√2 − 1)).
    private const double Roundness = 0.5522847498;

    // What is put more often than this was meant otherwise.
    private const int MostCopies = 2_000;

    private readonly Stack<List<DrawingPart>> _open = new();
    private Scoped<Dimension> _unit = null!;
    private readonly Scoped<double> _pen = new(0.4);
    private int _within;

    internal void DefineDrawing()
    {
        _unit = Machine.Registers.NamedDimension("unitlength", Dimension.FromPoints(1));
        Builder.Environments.DefineEnvironment("picture", BeginPicture, static _ => { });
        Machine.Define("put", (_, t) => Put(t, 1));
        Machine.Define("multiput", (_, t) => Put(t, MostCopies));
        Machine.Define("line", (_, t) => Line(t, false));
        Machine.Define("vector", (_, t) => Line(t, true));
        Machine.Define("circle", (m, t) =>
        {
            bool isFilled = m.TakeStar();
            double radius = ReadLength(t) / 2;
            Add(Inked(new DrawnCurve(Round(radius, radius, radius, ""))) with { IsFilled = isFilled });
        });
        Machine.Define("oval", (m, t) =>
        {
            double radius = m.ReadOptional(t) is { } most ? Length(most, t) : 20;
            (double width, double height) = ReadPair(t) ?? default;
            string part = m.ReadOptionalText(t) ?? "";
            AddOval(width / 2, height / 2, Math.Min(radius, Math.Min(width, height) / 2), part);
        });
        Machine.Define("qbezier", (m, t) =>
        {
            m.ReadOptional(t);
            Curve(t, 3);
        });
        Machine.Define("bezier", (m, t) =>
        {
            m.ReadArgument(t);
            Curve(t, 3);
        });
        Machine.Define("dashbox", (_, t) =>
        {
            double dash = ReadLength(t);
            BoxAt(t, true, dash);
        });
        Machine.Define("thicklines", (m, _) => m.Assign(_pen, 0.8));
        Machine.Define("thinlines", (m, _) => m.Assign(_pen, 0.4));
        Machine.Define("linethickness", (m, t) => m.Assign(_pen, Math.Clamp(m.Quantities.ParseGlue(m.ReadArgument(t), t)?.Width.Points ?? 0.4, 0, 100)));
    }

    /// <summary>Gives the commands of the package pict2e.</summary>
    internal void DefineMoreCurves()
    {
        Machine.Define("cbezier", (m, t) =>
        {
            m.ReadOptional(t);
            Curve(t, 4);
        });
        Machine.Define("polyline", (_, t) => Polygon(t, false, false));
        Machine.Define("polygon", (m, t) => Polygon(t, true, m.TakeStar()));
        Machine.Define("Line", (_, t) => Polygon(t, false, false));
        Machine.Define("arc", (m, t) =>
        {
            string[] angles = (m.ReadOptionalText(t) ?? "0,360").Split(',');
            double radius = ReadLength(t);
            if (angles.Length == 2 && double.TryParse(angles[0], NumberStyles.Float, CultureInfo.InvariantCulture, out double from)
                && double.TryParse(angles[1], NumberStyles.Float, CultureInfo.InvariantCulture, out double to) && Math.Abs(to - from) <= 3600)
            {
                Add(Inked(new DrawnCurve(Arc(radius, from * Math.PI / 180, to * Math.PI / 180))));
            }
        });
    }

    // Pieces of a circle of at most a quarter each: a control point is 4/3 tan(a/4) of the radius away.
    private static List<(double X, double Y)> Arc(double radius, double from, double to)
    {
        int pieces = Math.Max(1, (int)Math.Ceiling(Math.Abs(to - from) / (Math.PI / 2)));
        double step = (to - from) / pieces;
        double pull = 4 / 3.0 * Math.Tan(step / 4) * radius;
        var points = new List<(double X, double Y)> { (radius * Math.Cos(from), radius * Math.Sin(from)) };
        for (int i = 1; i <= pieces; i++)
        {
            (double a, double b) = (from + ((i - 1) * step), from + (i * step));
            points.AddRange(
            [
                ((radius * Math.Cos(a)) - (pull * Math.Sin(a)), (radius * Math.Sin(a)) + (pull * Math.Cos(a))),
                ((radius * Math.Cos(b)) + (pull * Math.Sin(b)), (radius * Math.Sin(b)) - (pull * Math.Cos(b))),
                (radius * Math.Cos(b), radius * Math.Sin(b)),
            ]);
        }

        return points;
    }

    /// <summary>Whether what follows is a box of a width and a height, in parentheses; then it is read and placed.</summary>
    internal bool ReadsBox(Token token, bool isFramed)
    {
        Machine.SkipSpaces();
        Token next = Machine.Peek();
        if (!next.IsCharacter('('))
        {
            return false;
        }

        BoxAt(token, isFramed, 0);
        return true;
    }

    private void BeginPicture(Token token)
    {
        (double width, double height) = ReadPair(token) ?? default;
        (double left, double foot) = ReadPair(token) ?? default;
        List<Token> body = Machine.DocumentCommands.ReadEnvironmentBody(token);
        var parts = new List<DrawingPart>();
        _open.Push(parts);
        int within = _within;
        _within = 0;
        // What is put nowhere stands at the origin.
        List<Inline> loose = Builder.BuildInlines(body);
        _within = within;
        _open.Pop();
        if (loose.Exists(static i => i is not (SpaceInline or TextRun { Text: " " or "" })))
        {
            parts.Add(new DrawnText(0, 0, loose));
        }

        Builder.AddInline(new DrawingInline([.. parts.Select(p => Moved(p, -left, -foot))]) { Width = width, Height = height });
    }

    /// <summary>A part at another place.</summary>
    internal static DrawingPart Moved(DrawingPart part, double x, double y) => part switch
    {
        DrawnText text => text with { X = text.X + x, Y = text.Y + y },
        DrawnCurve curve => curve with { Points = [.. curve.Points.Select(p => (p.X + x, p.Y + y))] },
        _ => part,
    };

    // \put(x,y){…}; \multiput(x,y)(dx,dy){n}{…}.
    private void Put(Token token, int most)
    {
        (double x, double y) = ReadPair(token) ?? default;
        (double X, double Y) step = default;
        int copies = 1;
        if (most > 1)
        {
            step = ReadPair(token) ?? default;
            copies = Math.Clamp(Machine.Quantities.ParseInteger(Machine.ReadArgument(token), token) ?? 0, 0, most);
        }

        List<Token> tokens = Machine.ReadArgument(token);
        _within++;
        List<Inline> content = Builder.BuildInlines(tokens);
        _within--;
        for (int i = 0; i < copies; i++)
        {
            Add(new DrawnText(x + (i * step.X), y + (i * step.Y), content));
        }
    }

    // In a picture it stands where the picture says; within what is put, at its reference point.
    private void Add(DrawingPart part)
    {
        if (_within == 0 && _open.TryPeek(out List<DrawingPart>? parts))
        {
            parts.Add(part);
            return;
        }

        Builder.AddInline(new DrawingInline([part]));
    }

    // The length is how far it goes across, or up when it goes straight up.
    private void Line(Token token, bool hasHead)
    {
        if (ReadPair(token) is not { } slope)
        {
            return;
        }

        double length = ReadLength(token);
        double far = Math.Sqrt((slope.X * slope.X) + (slope.Y * slope.Y));
        if (far == 0)
        {
            return;
        }

        double whole = slope.X == 0 ? length : length * far / Math.Abs(slope.X);
        (double x, double y) = (slope.X / far, slope.Y / far);
        // The head's own length is taken off the line, so that its point is the end.
        double head = hasHead ? Math.Min(4 + (2 * _pen.Value), whole) : 0;
        Add(Stroke([(0, 0), (x * (whole - (head / 2)), y * (whole - (head / 2)))]));
        if (hasHead)
        {
            double half = head * 0.35;
            (double bx, double by) = (x * (whole - head), y * (whole - head));
            (double X, double Y) point = (x * whole, y * whole);
            Add(Stroke([point, (bx - (y * half), by + (x * half)), (bx + (y * half), by - (x * half)), point]) with { IsFilled = true });
        }
    }

    private void Curve(Token token, int count)
    {
        var points = new List<(double X, double Y)>();
        while (points.Count < count && ReadPair(token) is { } point)
        {
            points.Add(point);
        }

        if (points.Count < count)
        {
            return;
        }

        // A curve pulled by one point is one pulled by two, at two thirds of the way to it.
        IReadOnlyList<(double X, double Y)> curve = count == 4 ? points
            : [points[0], Between(points[0], points[1]), Between(points[2], points[1]), points[2]];
        Add(Inked(new DrawnCurve(curve)));

        static (double, double) Between((double X, double Y) from, (double X, double Y) to) =>
            (from.X + ((to.X - from.X) * 2 / 3), from.Y + ((to.Y - from.Y) * 2 / 3));
    }

    private void Polygon(Token token, bool isClosed, bool isFilled)
    {
        var points = new List<(double X, double Y)>();
        while (points.Count < MostCopies && ReadPair(token, isNeeded: false) is { } point)
        {
            points.Add(point);
        }

        if (points.Count > 1)
        {
            Add(Stroke(isClosed ? [.. points, points[0]] : points) with { IsFilled = isFilled });
        }
    }

    // In the pen and the colour of now.
    private DrawnCurve Inked(DrawnCurve curve) => curve with { Pen = _pen.Value, Colour = Builder.Style.Value.Colour };

    private DrawnCurve Stroke(List<(double X, double Y)> corners) => Inked(DrawnCurve.Through(corners));

    // Half an oval is its top, foot, left or right; a quarter two of them.
    private void AddOval(double across, double up, double radius, string part)
    {
        foreach (string corner in (string[])["tr", "tl", "bl", "br"])
        {
            if (part.Length == 0 || part.All(corner.Contains))
            {
                Add(Inked(new DrawnCurve(Round(across, up, radius, corner))));
            }
        }
    }

    // A corner of a rounded rectangle about the origin, or all four when none is named.
    private static List<(double X, double Y)> Round(double across, double up, double radius, string corner)
    {
        double pull = radius * (1 - Roundness);
        var points = new List<(double X, double Y)>();
        foreach ((string name, int right, int top) in (ReadOnlySpan<(string, int, int)>)[("tr", 1, 1), ("tl", -1, 1), ("bl", -1, -1), ("br", 1, -1)])
        {
            if (corner.Length > 0 && corner != name)
            {
                continue;
            }

            // Each begins and ends in the middle of a side, so that the four of them close.
            (double sideX, double sideY) = (right * across, top * up);
            (double, double) fromSide = (sideX, sideY - (top * radius));
            (double, double) toSide = (sideX - (right * radius), sideY);
            (double, double) pullFrom = (sideX, sideY - (top * pull));
            (double, double) pullTo = (sideX - (right * pull), sideY);
            if (right == top)
            {
                Go((sideX, 0), fromSide, pullFrom, pullTo, toSide, (0, sideY));
            }
            else
            {
                Go((0, sideY), toSide, pullTo, pullFrom, fromSide, (sideX, 0));
            }
        }

        return points;

        void Go((double, double) begin, (double, double) a, (double, double) b, (double, double) c, (double, double) d, (double, double) end)
        {
            if (points.Count == 0)
            {
                points.Add(begin);
            }

            points.AddRange([points[^1], a, a, b, c, d, d, end, end]);
        }
    }

    // \makebox(w,h)[place]{…}, \framebox, \dashbox: text in the middle of a rectangle, or at a side of it.
    private void BoxAt(Token token, bool isFramed, double dash)
    {
        (double width, double height) = ReadPair(token) ?? default;
        string place = Machine.ReadOptionalText(token) ?? "";
        List<Token> tokens = Machine.ReadArgument(token);
        _within++;
        List<Inline> content = Builder.BuildInlines(tokens);
        _within--;
        Extent extent = Builder.Boxes.Measure(content);
        double x = place.Contains('l', StringComparison.Ordinal) ? 0
            : place.Contains('r', StringComparison.Ordinal) ? width - extent.Width
            : (width - extent.Width) / 2;
        double y = place.Contains('b', StringComparison.Ordinal) ? extent.Depth
            : place.Contains('t', StringComparison.Ordinal) ? height - extent.Height
            : (height - extent.Height + extent.Depth) / 2;
        var parts = new List<DrawingPart>();
        if (isFramed)
        {
            parts.Add(Stroke([(0, 0), (width, 0), (width, height), (0, height), (0, 0)]) with { Dash = dash });
        }

        parts.Add(new DrawnText(x, y, content));
        var box = new DrawingInline(parts) { Width = width, Height = height };
        if (_within == 0 && _open.TryPeek(out List<DrawingPart>? open))
        {
            open.Add(new DrawnText(0, 0, [box]));
        }
        else
        {
            Builder.AddInline(box);
        }
    }

    private double ReadLength(Token token) => Length(Machine.ReadArgument(token), token);

    // A number counts units; a length is one.
    private double Length(IReadOnlyList<Token> tokens, Token token)
    {
        string text = Machine.ExpandToText(tokens).Trim();
        return double.TryParse(text, NumberStyles.Float, CultureInfo.InvariantCulture, out double number) ? Held(number * _unit.Value.Points)
            : text.Length == 0 ? 0 : Held(Machine.Quantities.ParseGlue(tokens, token)?.Width.Points ?? 0);

        static double Held(double points) => Math.Clamp(points, -16_000, 16_000);
    }

    // (x,y); null, with a finding where one must stand, when none comes.
    private (double X, double Y)? ReadPair(Token token, bool isNeeded = true)
    {
        if (Machine.ReadOptional(token, '(', ')') is not { } tokens)
        {
            if (isNeeded && token.Symbol?.Name is not ("picture" or "begin"))
            {
                Findings.Fix("missing-argument", token.Position, token.Length, $"{token} needs a pair of coordinates in parentheses.",
                    $"Write {token}(3,4), for example.");
            }

            return null;
        }

        int comma = tokens.FindIndex(t => t.IsCharacter(','));
        if (comma < 0)
        {
            Findings.Fix("not-a-number", token.Position, token.Length, $"{token} needs two coordinates with a comma between them.",
                $"Write {token}(3,4), for example.");
            return null;
        }

        Token[] whole = [.. tokens];
        return (Length(whole[..comma], token), Length(whole[(comma + 1)..], token));
    }
}
