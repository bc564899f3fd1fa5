namespace YoungFolio.Markup;

// Arithmetic: \numexpr and its kin (the e-TeX manual, section 3.5, facts from memory), and the sums that \setlength and
// \setcounter take with the package calc. Both are one grammar: terms of factors, with parentheses.
public sealed partial class Machine
{
    private const int ExpressionDepthLimit = 100;
    private int _expressionDepth;

    private void DefineExpressions()
    {
        DefineMeaning("numexpr", new QuantityCommand("numexpr", static m => Quantity.Of(m.ScanClosedExpression(true).Number)));
        DefineMeaning("dimexpr", new QuantityCommand("dimexpr", static m => Quantity.Of(m.ScanClosedExpression(false).Glue.Width)));
        foreach (string name in (string[])["glueexpr", "muexpr"])
        {
            DefineMeaning(name, new QuantityCommand(name, static m => Quantity.Of(m.ScanClosedExpression(false).Glue)));
        }
    }

    /// <summary>Scans a sum of products of values; whole numbers when <paramref name="asNumber"/>, else lengths.</summary>
    public Quantity ScanExpression(bool asNumber)
    {
        if (++_expressionDepth > ExpressionDepthLimit)
        {
            _expressionDepth = 0;
            throw new MarkupLimitException("nested-too-deep", "A sum is nested too deeply here.", CurrentPosition);
        }

        Quantity sum = ScanTerm(asNumber);
        while (true)
        {
            Token token = NextNonSpaceExpanded();
            if (token.IsCharacter('+') || token.IsCharacter('-'))
            {
                sum = Add(sum, ScanTerm(asNumber), token.Code == '-' ? -1 : 1);
                continue;
            }

            PutBack(token);
            _expressionDepth--;
            return sum;
        }
    }

    // \relax ends an expression and belongs to it.
    private Quantity ScanClosedExpression(bool asNumber)
    {
        Quantity result = ScanExpression(asNumber);
        Token token = NextNonSpaceExpanded();
        if (!token.IsCommand("relax"))
        {
            PutBack(token);
        }

        return result;
    }

    private Quantity ScanTerm(bool asNumber)
    {
        Quantity product = ScanFactor(asNumber);
        while (true)
        {
            Token token = NextNonSpaceExpanded();
            if (!token.IsCharacter('*') && !token.IsCharacter('/'))
            {
                PutBack(token);
                return product;
            }

            double factor = ScanMultiplier();
            if (token.Code == '/' && factor == 0)
            {
                Findings.Fix("division-by-zero", token.Position >= 0 ? token.Position : CurrentPosition, 1, "A value is divided by 0 here.",
                    "It was left as it is.");
                continue;
            }

            product = Scale(product, token.Code == '/' ? v => v / factor : v => v * factor);
        }
    }

    private Quantity ScanFactor(bool asNumber)
    {
        Token token = NextNonSpaceExpanded();
        if (token.IsCharacter('('))
        {
            Quantity inner = ScanExpression(asNumber);
            Token close = NextNonSpaceExpanded();
            if (!close.IsCharacter(')'))
            {
                PutBack(close);
                Findings.Fix("missing-bracket", token.Position >= 0 ? token.Position : CurrentPosition, 1,
                    "The bracket ( opened here in a sum isn't closed.", "Put ) where it should end.");
            }

            return inner;
        }

        PutBack(token);
        return asNumber ? Quantity.Of(ScanInteger()) : Quantity.Of(ScanGlue());
    }

    // What stands behind * or /: a whole number, a sum in parentheses, or calc's \real and \ratio.
    private double ScanMultiplier()
    {
        Token token = NextNonSpaceExpanded();
        if (token.IsCommand("real") || token.IsCommand("ratio"))
        {
            if (token.IsCommand("ratio"))
            {
                double over = ParseGlue(ReadArgument(token), token)?.Width.Points ?? 0;
                double under = ParseGlue(ReadArgument(token), token)?.Width.Points ?? 0;
                return under == 0 ? 0 : over / under;
            }

            string text = ReadText(token);
            if (double.TryParse(text, System.Globalization.NumberStyles.Float, System.Globalization.CultureInfo.InvariantCulture, out double value))
            {
                return value;
            }

            Findings.Fix("not-a-number", token.Position, token.Length, $"“{text}” is not a number.", "Write digits, such as 0.5.");
            return 1;
        }

        PutBack(token);
        return ScanFactor(asNumber: true).Number;
    }

    private static Quantity Add(Quantity a, Quantity b, int sign) => a.IsNumber
        ? Quantity.Of(Clamp((long)a.Number + (sign * (long)b.Number)))
        : Quantity.Of(new Glue(
            new(Clamp((long)a.Glue.Width.Scaled + (sign * (long)b.Glue.Width.Scaled))),
            new(Clamp((long)a.Glue.Stretch.Scaled + (sign * (long)b.Glue.Stretch.Scaled))), Math.Max(a.Glue.StretchOrder, b.Glue.StretchOrder),
            new(Clamp((long)a.Glue.Shrink.Scaled + (sign * (long)b.Glue.Shrink.Scaled))), Math.Max(a.Glue.ShrinkOrder, b.Glue.ShrinkOrder)));

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

    private static int Clamp(long value) => (int)Math.Clamp(value, -int.MaxValue, int.MaxValue);
}
