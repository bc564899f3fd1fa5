using System.Globalization;
using System.Text.RegularExpressions;

namespace YoungFolio.Markup;

/// <summary>
/// An arithmetic expression as people write it for a number that prints or sets something: signs, powers, comparisons, choices, functions,
/// lengths in points (the manuals of the kernel's <c>\fpeval</c> and of pgf's mathematics, from memory).
/// </summary>
/// <param name="text">The expression, expanded.</param>
/// <param name="inDegrees">Whether angles are in degrees; otherwise in radians.</param>
/// <param name="random">Gives numbers from 0 to 1.</param>
public sealed partial class ArithmeticExpression(string text, bool inDegrees, Func<double> random)
{
    private const int MostLength = 20_000;
    private const int Deepest = 200;

    private static readonly Dictionary<string, double> s_units = new(StringComparer.Ordinal)
    {
        ["pt"] = 1, ["cm"] = 72.27 / 2.54, ["mm"] = 7.227 / 2.54, ["in"] = 72.27, ["bp"] = 72.27 / 72, ["pc"] = 12,
        ["dd"] = 1238.0 / 1157, ["cc"] = 12 * 1238.0 / 1157, ["sp"] = 1 / 65536.0,
    };

    private int _at;
    private int _depth;

    /// <summary>Computes it.</summary>
    /// <returns>Its value, in points where lengths stand in it; null when it makes no sense, such as for a missing bracket.</returns>
    public double? Evaluate()
    {
        if (text.Length > MostLength)
        {
            return null;
        }

        (_at, _depth) = (0, 0);
        double? value = Choice();
        SkipSpaces();
        return _at == text.Length ? value : null;
    }

    private double? Choice()
    {
        if (++_depth > Deepest)
        {
            return null;
        }

        double? test = Either();
        if (test is not null && Take("?"))
        {
            double? yes = Choice();
            double? no = Take(":") ? Choice() : null;
            test = no is null ? null : test != 0 ? yes : no;
        }

        _depth--;
        return test;
    }

    private double? Either()
    {
        double? value = Both();
        while (value is not null && Take("||"))
        {
            value = Both() is { } other ? Truth(value != 0 || other != 0) : null;
        }

        return value;
    }

    private double? Both()
    {
        double? value = Comparison();
        while (value is not null && Take("&&"))
        {
            value = Comparison() is { } other ? Truth(value != 0 && other != 0) : null;
        }

        return value;
    }

    private double? Comparison()
    {
        double? left = Sum();
        if (left is not { } a)
        {
            return null;
        }

        foreach (string sign in (ReadOnlySpan<string>)["==", "!=", "<=", ">=", "<", ">", "="])
        {
            if (Take(sign))
            {
                return Sum() is not { } b ? null : Truth(sign switch
                {
                    "==" or "=" => a == b,
                    "!=" => a != b,
                    "<=" => a <= b,
                    ">=" => a >= b,
                    "<" => a < b,
                    _ => a > b,
                });
            }
        }

        return left;
    }

    private double? Sum()
    {
        double? value = Product();
        while (value is not null)
        {
            bool adds = Take("+");
            if (!adds && !Take("-"))
            {
                break;
            }

            value = Product() is { } other ? value + (adds ? other : -other) : null;
        }

        return value;
    }

    private double? Product()
    {
        double? value = Signed();
        while (value is not null)
        {
            SkipSpaces();
            bool isPower = text.AsSpan(_at).StartsWith("**", StringComparison.Ordinal);
            bool multiplies = !isPower && Take("*");
            if (!multiplies && !Take("/"))
            {
                break;
            }

            value = Signed() is { } other ? multiplies ? value * other : value / other : null;
        }

        return value;
    }

    // A sign binds less than a power: -2^2 is -4.
    private double? Signed()
    {
        if (++_depth > Deepest)
        {
            return null;
        }

        double? value = Take("-") ? -Signed() : Take("+") ? Signed() : Take("!") ? Signed() is { } test ? Truth(test == 0) : null : Power();
        _depth--;
        return value;
    }

    private double? Power()
    {
        double? value = Primary();
        if (value is not null && Take("!"))
        {
            value = Factorial(value.Value);
        }

        return value is not null && (Take("^") || Take("**")) ? Signed() is { } exponent ? Math.Pow(value.Value, exponent) : null : value;
    }

    private double? Primary()
    {
        SkipSpaces();
        if (Take("("))
        {
            double? inner = Choice();
            return Take(")") ? inner : null;
        }

        if (_at < text.Length && (char.IsAsciiDigit(text[_at]) || text[_at] == '.'))
        {
            return Number();
        }

        string name = Name();
        return name.Length == 0 ? null : Constant(name) ?? Called(name);
    }

    private double? Number()
    {
        Match match = Numeral().Match(text, _at);
        if (!match.Success || !double.TryParse(match.ValueSpan, NumberStyles.Float, CultureInfo.InvariantCulture, out double value))
        {
            return null;
        }

        _at = match.Index + match.Length;
        int before = _at;
        if (s_units.TryGetValue(Name(), out double unit))
        {
            return value * unit;
        }

        _at = before;
        return value;
    }

    [GeneratedRegex(@"\G(?:[0-9]+\.?[0-9]*|\.[0-9]+)(?:[eE][+-]?[0-9]+)?")]
    private static partial Regex Numeral();

    private string Name()
    {
        SkipSpaces();
        int from = _at;
        while (_at < text.Length && (char.IsAsciiLetter(text[_at]) || (_at > from && char.IsAsciiDigit(text[_at]))))
        {
            _at++;
        }

        return text[from.._at];
    }

    private double? Constant(string name) => name switch
    {
        "pi" => Math.PI,
        "e" => Math.E,
        "true" => 1,
        "false" => 0,
        "inf" => double.PositiveInfinity,
        "nan" => double.NaN,
        "rnd" => random(),
        "rand" when !Ahead('(') => inDegrees ? (2 * random()) - 1 : random(),
        "deg" when !inDegrees && !Ahead('(') => Math.PI / 180,
        _ => null,
    };

    // A function's arguments stand in brackets; one alone may do without.
    private double? Called(string name)
    {
        var given = new List<double>();
        if (Take("("))
        {
            while (!Take(")"))
            {
                if ((given.Count > 0 && !Take(",")) || Choice() is not { } value)
                {
                    return null;
                }

                given.Add(value);
            }
        }
        else if (Signed() is { } alone)
        {
            given.Add(alone);
        }

        return given switch
        {
            [] => name is "rand" or "random" ? random() : null,
            [var x] => OfOne(name, x),
            [var x, var y] => OfTwo(name, x, y),
            [var test, var yes, var no] when name == "ifthenelse" => test != 0 ? yes : no,
            _ => name switch { "max" => given.Max(), "min" => given.Min(), _ => null },
        };
    }

    private double? OfOne(string name, double x) => name switch
    {
        "abs" => Math.Abs(x),
        "sqrt" => Math.Sqrt(x),
        "exp" => Math.Exp(x),
        "ln" => Math.Log(x),
        "log10" or "logb" => Math.Log10(x),
        "log2" => Math.Log2(x),
        "sign" => Math.Sign(x),
        "fact" or "factorial" => Factorial(x),
        "int" or "trunc" => Math.Truncate(x),
        "floor" => Math.Floor(x),
        "ceil" => Math.Ceiling(x),
        "round" => Math.Round(x, inDegrees ? MidpointRounding.AwayFromZero : MidpointRounding.ToEven),
        "frac" => x - Math.Truncate(x),
        "real" or "max" or "min" => x,
        "not" => Truth(x == 0),
        "isodd" => Truth(Math.Abs(x % 2) == 1),
        "iseven" => Truth(x % 2 == 0),
        "deg" => x * 180 / Math.PI,
        "rad" => x * Math.PI / 180,
        "random" => Math.Floor(random() * x) + 1,
        "sin" => Round(Math.Sin(Angle(x))),
        "cos" => Round(Math.Cos(Angle(x))),
        "tan" => Round(Math.Tan(Angle(x))),
        "cot" => Round(1 / Math.Tan(Angle(x))),
        "sec" => 1 / Math.Cos(Angle(x)),
        "cosec" or "csc" => 1 / Math.Sin(Angle(x)),
        "sind" => Round(Math.Sin(x * Math.PI / 180)),
        "cosd" => Round(Math.Cos(x * Math.PI / 180)),
        "tand" => Round(Math.Tan(x * Math.PI / 180)),
        "asin" => Turned(Math.Asin(x)),
        "acos" => Turned(Math.Acos(x)),
        "atan" => Turned(Math.Atan(x)),
        "asind" => Math.Asin(x) * 180 / Math.PI,
        "acosd" => Math.Acos(x) * 180 / Math.PI,
        "atand" => Math.Atan(x) * 180 / Math.PI,
        "sinh" => Math.Sinh(x),
        "cosh" => Math.Cosh(x),
        "tanh" => Math.Tanh(x),
        _ => null,
    };

    private double? OfTwo(string name, double x, double y) => name switch
    {
        "pow" => Math.Pow(x, y),
        "mod" => x % y,
        "Mod" => x - (y * Math.Floor(x / y)),
        "div" => Math.Truncate(x / y),
        "round" => Rounded(x, y),
        "trunc" => Math.Truncate(x * Math.Pow(10, y)) / Math.Pow(10, y),
        "floor" => Math.Floor(x * Math.Pow(10, y)) / Math.Pow(10, y),
        "ceil" => Math.Ceiling(x * Math.Pow(10, y)) / Math.Pow(10, y),
        "max" => Math.Max(x, y),
        "min" => Math.Min(x, y),
        "atan2" or "atan" => Turned(Math.Atan2(x, y)),
        "atan2d" or "atand" => Math.Atan2(x, y) * 180 / Math.PI,
        "veclen" => Math.Sqrt((x * x) + (y * y)),
        "gcd" => Gcd(Math.Abs(Math.Truncate(x)), Math.Abs(Math.Truncate(y))),
        "random" or "randint" => x + Math.Floor(random() * (y - x + 1)),
        "and" => Truth(x != 0 && y != 0),
        "or" => Truth(x != 0 || y != 0),
        "equal" => Truth(x == y),
        "notequal" => Truth(x != y),
        "greater" => Truth(x > y),
        "less" => Truth(x < y),
        "notgreater" => Truth(x <= y),
        "notless" => Truth(x >= y),
        "divide" => x / y,
        "multiply" => x * y,
        "add" => x + y,
        "subtract" => x - y,
        _ => null,
    };

    private double Angle(double x) => inDegrees ? x * Math.PI / 180 : x;

    private double Turned(double x) => inDegrees ? x * 180 / Math.PI : x;

    // sin(180) is 0, and not some 1e-16.
    private static double Round(double x) => Math.Abs(x) > 1e15 ? double.PositiveInfinity : Math.Round(x, 15);

    private static double Rounded(double x, double places)
    {
        double scale = Math.Pow(10, Math.Clamp(Math.Truncate(places), -15, 15));
        return Math.Round(x * scale, MidpointRounding.ToEven) / scale;
    }

    private static double? Factorial(double x)
    {
        if (x < 0 || x != Math.Floor(x) || x > 170)
        {
            return null;
        }

        double product = 1;
        for (int i = 2; i <= x; i++)
        {
            product *= i;
        }

        return product;
    }

    private static double Gcd(double a, double b)
    {
        while (b != 0 && double.IsFinite(a))
        {
            (a, b) = (b, a % b);
        }

        return a;
    }

    private static double Truth(bool holds) => holds ? 1 : 0;

    private bool Take(string sign)
    {
        SkipSpaces();
        if (!text.AsSpan(_at).StartsWith(sign, StringComparison.Ordinal) || (sign == "!" && text.AsSpan(_at).StartsWith("!=", StringComparison.Ordinal)))
        {
            return false;
        }

        _at += sign.Length;
        return true;
    }

    private bool Ahead(char sign)
    {
        SkipSpaces();
        return _at < text.Length && text[_at] == sign;
    }

    private void SkipSpaces()
    {
        while (_at < text.Length && char.IsWhiteSpace(text[_at]))
        {
            _at++;
        }
    }
}
