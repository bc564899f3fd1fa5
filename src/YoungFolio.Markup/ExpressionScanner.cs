using System.Globalization;

namespace YoungFolio.Markup;

/// <summary>Reads expressions of numbers and lengths: <c>\numexpr</c> and its kin.</summary>
public sealed class ExpressionScanner(Machine machine)
{
    private const int ExpressionDepthLimit = 100;
    private int _expressionDepth;

    internal void DefineExpressions()
    {
        machine.DefineMeaning("numexpr", new QuantityCommand("numexpr", static m => Quantity.Of(m.Expressions.ScanClosedExpression(true).Number)));
        machine.DefineMeaning("dimexpr", new QuantityCommand("dimexpr", static m => Quantity.Of(m.Expressions.ScanClosedExpression(false).Glue.Width)));
        foreach (string name in (string[])["glueexpr", "muexpr"])
        {
            machine.DefineMeaning(name, new QuantityCommand(name, static m => Quantity.Of(m.Expressions.ScanClosedExpression(false).Glue)));
        }
    }

    /// <summary>Scans a sum of products of values; whole numbers when <paramref name="asNumber"/>, else lengths.</summary>
    public Quantity ScanExpression(bool asNumber)
    {
        if (++_expressionDepth > ExpressionDepthLimit)
        {
            _expressionDepth = 0;
            throw new MarkupLimitException("nested-too-deep", "A sum is nested too deeply here.", machine.Input.CurrentPosition);
        }

        Quantity sum = ScanTerm(asNumber);
        while (true)
        {
            Token token = machine.Arguments.NextNonSpaceExpanded();
            if (token.IsCharacter('+') || token.IsCharacter('-'))
            {
                sum = Add(sum, ScanTerm(asNumber), token.Code == '-' ? -1 : 1);
                continue;
            }

            machine.PutBack(token);
            _expressionDepth--;
            return sum;
        }
    }

    // \relax ends an expression and belongs to it.
    private Quantity ScanClosedExpression(bool asNumber)
    {
        Quantity result = ScanExpression(asNumber);
        Token token = machine.Arguments.NextNonSpaceExpanded();
        if (!token.IsCommand("relax"))
        {
            machine.PutBack(token);
        }

        return result;
    }

    private Quantity ScanTerm(bool asNumber)
    {
        Quantity product = ScanFactor(asNumber);
        while (true)
        {
            Token token = machine.Arguments.NextNonSpaceExpanded();
            if (!token.IsCharacter('*') && !token.IsCharacter('/'))
            {
                machine.PutBack(token);
                return product;
            }

            double factor = ScanMultiplier();
            // What is divided right behind a product may be larger in between than any value (e-TeX manual, section 3.5).
            double divisor = token.Code == '/' ? factor : 1;
            if (token.Code == '*')
            {
                Token next = machine.Arguments.NextNonSpaceExpanded();
                if (next.IsCharacter('/'))
                {
                    token = next;
                    divisor = ScanMultiplier();
                }
                else
                {
                    machine.PutBack(next);
                }
            }
            else
            {
                factor = 1;
            }

            if (divisor == 0)
            {
                machine.Findings.Fix("division-by-zero", token.Position >= 0 ? token.Position : machine.Input.CurrentPosition, 1, "A value is divided by 0 here.",
                    "It was left as it is.");
                divisor = 1;
            }

            product = Scale(product, v => v * factor / divisor);
        }
    }

    private Quantity ScanFactor(bool asNumber)
    {
        Token token = machine.Arguments.NextNonSpaceExpanded();
        if (token.IsCharacter('('))
        {
            Quantity inner = ScanExpression(asNumber);
            Token close = machine.Arguments.NextNonSpaceExpanded();
            if (!close.IsCharacter(')'))
            {
                machine.PutBack(close);
                machine.Findings.Fix("missing-bracket", token.Position >= 0 ? token.Position : machine.Input.CurrentPosition, 1,
                    "The bracket ( opened here in a sum isn't closed.", "Put ) where it should end.");
            }

            return inner;
        }

        machine.PutBack(token);
        return asNumber ? Quantity.Of(machine.Quantities.ScanInteger()) : Quantity.Of(machine.Quantities.ScanGlue());
    }

    // What stands behind * or /: a whole number, a sum in parentheses, or calc's \real and \ratio.
    private double ScanMultiplier()
    {
        Token token = machine.Arguments.NextNonSpaceExpanded();
        if (token.IsCommand("real") || token.IsCommand("ratio"))
        {
            if (token.IsCommand("ratio"))
            {
                double over = machine.Quantities.ParseGlue(machine.ReadArgument(token), token)?.Width.Points ?? 0;
                double under = machine.Quantities.ParseGlue(machine.ReadArgument(token), token)?.Width.Points ?? 0;
                return under == 0 ? 0 : over / under;
            }

            string text = machine.ReadText(token);
            if (double.TryParse(text, System.Globalization.NumberStyles.Float, System.Globalization.CultureInfo.InvariantCulture, out double value))
            {
                return value;
            }

            machine.Findings.Fix("not-a-number", token.Position, token.Length, $"“{text}” is not a number.", "Write digits, such as 0.5.");
            return 1;
        }

        machine.PutBack(token);
        return ScanFactor(asNumber: true).Number;
    }

    internal static Quantity Add(Quantity a, Quantity b, int sign) => a.IsNumber
        ? Quantity.Of(Clamp((long)a.Number + (sign * (long)b.Number)))
        : Quantity.Of(a.Glue.Plus(b.Glue, sign));

    // Results are rounded, halves away from zero, as e-TeX does.
    private static Quantity Scale(Quantity a, Func<double, double> by) => a.IsNumber
        ? Quantity.Of(Round(by(a.Number)))
        : Quantity.Of(a.Glue with
        {
            Width = new(Round(by(a.Glue.Width.Scaled))),
            Stretch = new(Round(by(a.Glue.Stretch.Scaled))),
            Shrink = new(Round(by(a.Glue.Shrink.Scaled))),
        });

    private static int Round(double value) => (int)Math.Clamp(Math.Round(value, MidpointRounding.AwayFromZero), -int.MaxValue, int.MaxValue);

    internal static int Clamp(long value) => (int)Math.Clamp(value, -int.MaxValue, int.MaxValue);
}
