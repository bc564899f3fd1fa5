using System.Globalization;
using System.Text;

namespace YoungFolio.Typesetting.Images;

/// <summary>A change of coordinates: (x, y) goes to (ax + cy + e, bx + dy + f).</summary>
internal readonly record struct SvgMatrix(double A, double B, double C, double D, double E, double F)
{
    public static SvgMatrix Identity { get; } = new(1, 0, 0, 1, 0, 0);

    /// <summary>How lengths grow, in the mean of both directions.</summary>
    public double Growth => Math.Sqrt(Math.Abs((A * D) - (B * C)));

    public (double X, double Y) Map(double x, double y) => ((A * x) + (C * y) + E, (B * x) + (D * y) + F);

    /// <summary>The change back; without a number where there is none.</summary>
    public SvgMatrix Inverse()
    {
        double d = (A * D) - (B * C);
        return new SvgMatrix(D / d, -B / d, -C / d, A / d, ((C * F) - (D * E)) / d, ((B * E) - (A * F)) / d);
    }

    /// <summary>First the other change, then this one.</summary>
    public SvgMatrix After(SvgMatrix o) => new(
        (A * o.A) + (C * o.B), (B * o.A) + (D * o.B), (A * o.C) + (C * o.D), (B * o.C) + (D * o.D), (A * o.E) + (C * o.F) + E, (B * o.E) + (D * o.F) + F);

    /// <summary>Reads a list of transforms (SVG 1.1, 7.6); what isn't one is passed over.</summary>
    public static SvgMatrix Parse(string text)
    {
        SvgMatrix result = Identity;
        foreach (string part in text.Split(')', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries))
        {
            int open = part.IndexOf('(', StringComparison.Ordinal);
            if (open < 0)
            {
                break;
            }

            var reader = new SvgPath.NumberReader(part[(open + 1)..]);
            var n = new List<double>();
            while (n.Count < 6 && reader.Next() is { } value)
            {
                n.Add(value);
            }

            double At(int i, double otherwise = 0) => i < n.Count ? n[i] : otherwise;
            double angle = At(0) * Math.PI / 180;
            (double sin, double cos) = Math.SinCos(angle);
            result = result.After(part[..open].Trim(',', ' ', '\n', '\t', '\r') switch
            {
                "matrix" when n.Count == 6 => new SvgMatrix(n[0], n[1], n[2], n[3], n[4], n[5]),
                "translate" => new SvgMatrix(1, 0, 0, 1, At(0), At(1)),
                "scale" => new SvgMatrix(At(0, 1), 0, 0, At(1, At(0, 1)), 0, 0),
                "rotate" => new SvgMatrix(1, 0, 0, 1, At(1), At(2)).After(new SvgMatrix(cos, sin, -sin, cos, 0, 0)).After(new SvgMatrix(1, 0, 0, 1, -At(1), -At(2))),
                "skewX" => new SvgMatrix(1, 0, Math.Tan(angle), 1, 0, 0),
                "skewY" => new SvgMatrix(1, Math.Tan(angle), 0, 1, 0, 0),
                _ => Identity,
            });
        }

        return result;
    }
}

/// <summary>Paths of SVG (version 1.1, chapter 8) as the path operators of PDF.</summary>
internal sealed class SvgPath(SvgMatrix matrix)
{
    private const int MostSteps = 400_000;

    private const int MostCommands = 2_000_000;
    private readonly StringBuilder _operators = new();
    private int _commands;
    private double _left = double.PositiveInfinity;
    private double _right = double.NegativeInfinity;
    private double _low = double.PositiveInfinity;
    private double _high = double.NegativeInfinity;

    /// <summary>The smallest box around all points, controls of curves included; empty when there are none.</summary>
    public (double X, double Y, double Width, double Height) Bounds =>
        _left > _right ? default : (_left, _low, _right - _left, _high - _low);

    /// <summary>The operators, in the coordinates that the matrix leads to.</summary>
    public string Operators => _operators.ToString();

    public void Move(double x, double y) => Add("m", x, y);

    public void Line(double x, double y) => Add("l", x, y);

    public void Curve(double x1, double y1, double x2, double y2, double x, double y) => Add("c", x1, y1, x2, y2, x, y);

    public void Close() => _operators.Append("h\n");

    public void Rectangle(double x, double y, double width, double height, double rx, double ry)
    {
        if (rx <= 0 || ry <= 0)
        {
            Move(x, y);
            Line(x + width, y);
            Line(x + width, y + height);
            Line(x, y + height);
            Close();
            return;
        }

        (rx, ry) = (Math.Min(rx, width / 2), Math.Min(ry, height / 2));
        const double K = 0.5522847498;
        Move(x + rx, y);
        Line(x + width - rx, y);
        Curve(x + width - rx + (K * rx), y, x + width, y + ry - (K * ry), x + width, y + ry);
        Line(x + width, y + height - ry);
        Curve(x + width, y + height - ry + (K * ry), x + width - rx + (K * rx), y + height, x + width - rx, y + height);
        Line(x + rx, y + height);
        Curve(x + rx - (K * rx), y + height, x, y + height - ry + (K * ry), x, y + height - ry);
        Line(x, y + ry);
        Curve(x, y + ry - (K * ry), x + rx - (K * rx), y, x + rx, y);
        Close();
    }

    public void Ellipse(double cx, double cy, double rx, double ry)
    {
        // Four curves for a full turn; the constant keeps them within 0.03 % of it.
        const double K = 0.5522847498;
        Move(cx + rx, cy);
        Curve(cx + rx, cy + (K * ry), cx + (K * rx), cy + ry, cx, cy + ry);
        Curve(cx - (K * rx), cy + ry, cx - rx, cy + (K * ry), cx - rx, cy);
        Curve(cx - rx, cy - (K * ry), cx - (K * rx), cy - ry, cx, cy - ry);
        Curve(cx + (K * rx), cy - ry, cx + rx, cy - (K * ry), cx + rx, cy);
        Close();
    }

    /// <summary>Adds the data of a path element; what comes after an error in them is left away, as the specification says.</summary>
    public void Data(string data)
    {
        var reader = new NumberReader(data);
        (double x, double y, double startX, double startY) = (0, 0, 0, 0);
        (double controlX, double controlY) = (0, 0);
        char command = ' ';
        char before = ' ';
        int steps = 0;
        while (reader.Command(ref command))
        {
            if (++steps > MostSteps)
            {
                throw new FigureLimitException(FormattableString.Invariant($"one of its lines has more than {MostSteps:N0} points; draw it with fewer, or export it as a PNG"));
            }

            bool relative = char.IsLower(command);
            (double ox, double oy) = relative ? (x, y) : (0, 0);
            double[]? n = reader.Numbers(char.ToUpperInvariant(command) switch { 'M' or 'L' or 'T' => 2, 'H' or 'V' => 1, 'C' => 6, 'S' or 'Q' => 4, 'A' => 7, _ => 0 }, char.ToUpperInvariant(command) == 'A');
            if (n is null)
            {
                return;
            }

            char upper = char.ToUpperInvariant(command);
            switch (upper)
            {
                case 'M':
                    (x, y) = (ox + n[0], oy + n[1]);
                    (startX, startY) = (x, y);
                    Move(x, y);
                    // Further pairs are lines.
                    command = relative ? 'l' : 'L';
                    break;
                case 'L':
                    (x, y) = (ox + n[0], oy + n[1]);
                    Line(x, y);
                    break;
                case 'H':
                    x = ox + n[0];
                    Line(x, y);
                    break;
                case 'V':
                    y = oy + n[0];
                    Line(x, y);
                    break;
                case 'C':
                    Curve(ox + n[0], oy + n[1], ox + n[2], oy + n[3], ox + n[4], oy + n[5]);
                    (controlX, controlY, x, y) = (ox + n[2], oy + n[3], ox + n[4], oy + n[5]);
                    break;
                case 'S':
                    (double sx, double sy) = before is 'C' or 'S' ? ((2 * x) - controlX, (2 * y) - controlY) : (x, y);
                    Curve(sx, sy, ox + n[0], oy + n[1], ox + n[2], oy + n[3]);
                    (controlX, controlY, x, y) = (ox + n[0], oy + n[1], ox + n[2], oy + n[3]);
                    break;
                case 'Q' or 'T':
                    (double qx, double qy) = upper == 'Q' ? (ox + n[0], oy + n[1]) : before is 'Q' or 'T' ? ((2 * x) - controlX, (2 * y) - controlY) : (x, y);
                    (double ex, double ey) = upper == 'Q' ? (ox + n[2], oy + n[3]) : (ox + n[0], oy + n[1]);
                    Curve(x + (2.0 / 3 * (qx - x)), y + (2.0 / 3 * (qy - y)), ex + (2.0 / 3 * (qx - ex)), ey + (2.0 / 3 * (qy - ey)), ex, ey);
                    (controlX, controlY, x, y) = (qx, qy, ex, ey);
                    break;
                case 'A':
                    Arc(x, y, n[0], n[1], n[2], n[3] != 0, n[4] != 0, ox + n[5], oy + n[6]);
                    (x, y) = (ox + n[5], oy + n[6]);
                    break;
                case 'Z':
                    Close();
                    (x, y) = (startX, startY);
                    command = ' ';
                    break;
            }

            before = upper;
        }
    }

    // From two ends to a centre and angles (SVG 1.1, appendix F.6.5), then a curve for each quarter turn.
    private void Arc(double x1, double y1, double rx, double ry, double turn, bool large, bool sweep, double x2, double y2)
    {
        (rx, ry) = (Math.Abs(rx), Math.Abs(ry));
        if (rx < 1e-9 || ry < 1e-9 || (x1 == x2 && y1 == y2))
        {
            Line(x2, y2);
            return;
        }

        double phi = turn * Math.PI / 180;
        (double sin, double cos) = Math.SinCos(phi);
        (double dx, double dy) = ((x1 - x2) / 2, (y1 - y2) / 2);
        (double px, double py) = ((cos * dx) + (sin * dy), (cos * dy) - (sin * dx));
        double lambda = (px * px / (rx * rx)) + (py * py / (ry * ry));
        if (lambda > 1)
        {
            (rx, ry) = (rx * Math.Sqrt(lambda), ry * Math.Sqrt(lambda));
        }

        double under = ((rx * rx * ry * ry) - (rx * rx * py * py) - (ry * ry * px * px)) / ((rx * rx * py * py) + (ry * ry * px * px));
        double root = Math.Sqrt(Math.Max(0, under)) * (large == sweep ? -1 : 1);
        (double cx, double cy) = (root * rx * py / ry, -root * ry * px / rx);
        (double mx, double my) = ((cos * cx) - (sin * cy) + ((x1 + x2) / 2), (sin * cx) + (cos * cy) + ((y1 + y2) / 2));
        double start = Math.Atan2((py - cy) / ry, (px - cx) / rx);
        double sweepAngle = Math.Atan2((-py - cy) / ry, (-px - cx) / rx) - start;
        sweepAngle += sweep && sweepAngle < 0 ? 2 * Math.PI : !sweep && sweepAngle > 0 ? -2 * Math.PI : 0;
        int pieces = Math.Max(1, (int)Math.Ceiling(Math.Abs(sweepAngle) / (Math.PI / 2) - 1e-9));
        double step = sweepAngle / pieces;
        double k = 4.0 / 3 * Math.Tan(step / 4);
        for (int i = 0; i < pieces; i++)
        {
            (double s0, double c0) = Math.SinCos(start + (i * step));
            (double s1, double c1) = Math.SinCos(start + ((i + 1) * step));
            (double X, double Y) On(double u, double v) => (mx + (cos * rx * u) - (sin * ry * v), my + (sin * rx * u) + (cos * ry * v));
            (double ax, double ay) = On(c0 - (k * s0), s0 + (k * c0));
            (double bx, double by) = On(c1 + (k * s1), s1 - (k * c1));
            (double ex, double ey) = i == pieces - 1 ? (x2, y2) : On(c1, s1);
            Curve(ax, ay, bx, by, ex, ey);
        }
    }

    private void Add(string op, params ReadOnlySpan<double> places)
    {
        if (++_commands > MostCommands)
        {
            throw new InvalidOperationException("The path is too long.");
        }

        for (int i = 0; i + 1 < places.Length; i += 2)
        {
            (double x, double y) = matrix.Map(places[i], places[i + 1]);
            (_left, _right, _low, _high) = (Math.Min(_left, x), Math.Max(_right, x), Math.Min(_low, y), Math.Max(_high, y));
            _operators.Append(CultureInfo.InvariantCulture, $"{x:0.###} {y:0.###} ");
        }

        _operators.Append(op).Append('\n');
    }

    /// <summary>Reads numbers as SVG writes them: signs and points part them as well as blanks and commas.</summary>
    internal sealed class NumberReader(string text)
    {
        private int _at;

        public bool Command(ref char command)
        {
            Skip();
            if (_at >= text.Length)
            {
                return false;
            }

            if (char.IsAsciiLetter(text[_at]) && text[_at] is not ('e' or 'E'))
            {
                command = text[_at++];
                return true;
            }

            return command != ' ';
        }

        /// <summary>So many numbers, or null when there are fewer.</summary>
        public double[]? Numbers(int count, bool hasFlags = false)
        {
            var result = new double[count];
            for (int i = 0; i < count; i++)
            {
                Skip();
                if (hasFlags && i is 3 or 4 && _at < text.Length && text[_at] is '0' or '1')
                {
                    result[i] = text[_at++] - '0';
                    continue;
                }

                if (Next() is not { } number)
                {
                    return null;
                }

                result[i] = number;
            }

            return result;
        }

        public double? Next()
        {
            Skip();
            int start = _at;
            if (_at < text.Length && text[_at] is '+' or '-')
            {
                _at++;
            }

            bool point = false;
            while (_at < text.Length && (char.IsAsciiDigit(text[_at]) || (text[_at] == '.' && !point)))
            {
                point |= text[_at++] == '.';
            }

            if (_at < text.Length && text[_at] is 'e' or 'E' && _at + 1 < text.Length && (char.IsAsciiDigit(text[_at + 1]) || text[_at + 1] is '+' or '-'))
            {
                _at += 2;
                while (_at < text.Length && char.IsAsciiDigit(text[_at]))
                {
                    _at++;
                }
            }

            return double.TryParse(text.AsSpan(start, _at - start), NumberStyles.Float, CultureInfo.InvariantCulture, out double value) && double.IsFinite(value) ? value : null;
        }

        private void Skip()
        {
            while (_at < text.Length && (char.IsWhiteSpace(text[_at]) || text[_at] == ','))
            {
                _at++;
            }
        }
    }
}

/// <summary>A figure is larger than any that is meant.</summary>
/// <param name="reason">Why, in plain words.</param>
internal sealed class FigureLimitException(string reason) : Exception(reason);
