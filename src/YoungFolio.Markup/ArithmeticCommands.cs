using System.Globalization;
using System.Text;

namespace YoungFolio.Markup;

/// <summary>Computes expressions that stand in the markup (<c>\fpeval</c>), for packages too.</summary>
public sealed class ArithmeticCommands(Machine machine)
{
    // The same manuscript gives the same numbers each time.
    private Random _random = new(1);

    internal void Define() => machine.DefineExpandable("fpeval", (m, t) =>
        m.Conversions.PushText(Evaluate(m.ReadArgument(t), t, inDegrees: false) is { } value ? Text(value, 16) : "", t.Position));

    /// <summary>Begins the numbers by chance anew.</summary>
    public void Seed(int seed) => _random = new Random(seed);

    /// <summary>Computes an expression; counters and lengths stand for their values, lengths in points.</summary>
    /// <param name="expression">Its tokens; they are expanded.</param>
    /// <param name="command">Who asks, for findings.</param>
    /// <param name="inDegrees">Whether angles are in degrees.</param>
    /// <returns>The value; null when it can't be computed, which is said.</returns>
    public double? Evaluate(IReadOnlyList<Token> expression, Token command, bool inDegrees)
    {
        List<Token> tokens = machine.Expander.ExpandFully(expression);
        var text = new StringBuilder();
        foreach (Token token in tokens)
        {
            if (token.Symbol is null)
            {
                text.Append(token.Category is Category.BeginGroup ? "(" : token.Category is Category.EndGroup ? ")" : token.ToString());
                continue;
            }

            // A length behind a number is so many times as long: 0.5\textwidth.
            double? value = ValueOf(token.Symbol.Meaning.Value);
            bool isFactor = text.Length > 0 && (char.IsAsciiDigit(text[^1]) || text[^1] == '.');
            text.Append(value is { } number ? $"{(isFactor ? "*" : "")}({number.ToString("R", CultureInfo.InvariantCulture)})"
                : token.Symbol.IsActiveCharacter ? " " : $" {token.Symbol.Name} ");
        }

        double? result = new ArithmeticExpression(text.ToString(), inDegrees, _random.NextDouble).Evaluate();
        if (result is null)
        {
            int position = expression.Select(t => t.Position).FirstOrDefault(p => p >= 0, command.Position);
            machine.Findings.Fix("not-computable", position, Math.Max(1, expression.Count),
                $"“{text.ToString().Trim()}” can’t be computed.", "Look for a missing bracket or sign, or a function that isn’t known.");
        }

        return result;
    }

    /// <summary>A number as it prints: with as many decimals as it has, up to a limit.</summary>
    /// <param name="value">The number.</param>
    /// <param name="decimals">Most decimals.</param>
    public static string Text(double value, int decimals)
    {
        if (!double.IsFinite(value))
        {
            return double.IsNaN(value) ? "nan" : value > 0 ? "inf" : "-inf";
        }

        // 0.1+0.2 is 0.3: sixteen digits in all are more than the number has.
        string text = Math.Abs(value) < 1e15 ? value.ToString("G16", CultureInfo.InvariantCulture) : value.ToString("F0", CultureInfo.InvariantCulture);
        text = decimal.TryParse(text, NumberStyles.Float, CultureInfo.InvariantCulture, out decimal exact)
            ? Math.Round(exact, Math.Min(decimals, 20), MidpointRounding.AwayFromZero).ToString("0.####################", CultureInfo.InvariantCulture) : text;
        return text == "-0" ? "0" : text;
    }

    private static double? ValueOf(Meaning? meaning) => meaning switch
    {
        RegisterMeaning<int> count => count.Register.Value,
        RegisterMeaning<Dimension> length => length.Register.Value.Points,
        RegisterMeaning<Glue> space => space.Register.Value.Width.Points,
        _ => null,
    };
}
