namespace YoungFolio.Markup;

/// <summary>Reads numbers and lengths (<em>The TeXbook</em>, chapter 24).</summary>
public sealed class QuantityScanner(Machine machine)
{
    /// <summary>Points in one em and one ex of the font in use; whoever keeps the font sets it.</summary>
    public Func<(double Em, double Ex)> FontUnits { get; set; } = () => (10, 4.3);

    /// <summary>Reads a length out of tokens; null, with a finding, when they hold none.</summary>
    public Glue? ParseGlue(IReadOnlyList<Token> tokens, Token command)
    {
        Glue? result = null;
        machine.Scan(tokens, () =>
        {
            if (StartsQuantity())
            {
                result = machine.Expressions.ScanExpression(asNumber: false).Glue;
                ReportLeftover(command);
            }
        });
        if (result is null)
        {
            machine.Findings.Fix("not-a-length", tokens.Count > 0 ? tokens[0].Position : command.Position, Math.Max(1, tokens.Count),
                $"“{tokens.ToSource()}” is not a length.",
                "A length is a number with a unit, such as 12pt, 2.5cm or 0.8\\linewidth.");
        }

        return result;
    }

    /// <summary>Reads a whole number out of tokens; null, with a finding, when they hold none.</summary>
    public int? ParseInteger(IReadOnlyList<Token> tokens, Token command)
    {
        int? result = null;
        machine.Scan(tokens, () =>
        {
            if (StartsQuantity())
            {
                result = machine.Expressions.ScanExpression(asNumber: true).Number;
                ReportLeftover(command);
            }
        });
        if (result is null)
        {
            machine.Findings.Fix("not-a-number", tokens.Count > 0 ? tokens[0].Position : command.Position, Math.Max(1, tokens.Count),
                $"“{tokens.ToSource()}” is not a whole number.", "Write digits, or a counter's \\value.");
        }

        return result;
    }

    /// <summary>Scans a whole number: digits, octal, hexadecimal, a character's code, or a register.</summary>
    public int ScanInteger()
    {
        int sign = ScanSign();
        Token token = machine.Arguments.NextNonSpaceExpanded();
        long value = 0;
        if (token.Symbol is not null && TryQuantity(token) is { } quantity)
        {
            return sign * quantity.AsNumber;
        }

        if (token.IsCharacter('`'))
        {
            Token character = machine.Next();
            value = character.Symbol is { } s ? char.ConvertToUtf32(s.Name + "\0", 0) : character.Code;
            TakeOneSpace();
        }
        else if (token.IsCharacter('\'') || token.IsCharacter('"'))
        {
            int radix = token.Code == '"' ? 16 : 8;
            for (token = machine.NextExpanded(); Digit(token, radix) is { } digit; token = machine.NextExpanded())
            {
                value = Math.Min((value * radix) + digit, int.MaxValue);
            }

            EndNumber(token);
        }
        else if (Digit(token, 10) is not null)
        {
            for (; Digit(token, 10) is { } digit; token = machine.NextExpanded())
            {
                value = Math.Min((value * 10) + digit, int.MaxValue);
            }

            EndNumber(token);
        }
        else
        {
            machine.PutBack(token);
            machine.Findings.Fix("not-a-number", token.Position >= 0 ? token.Position : machine.Input.CurrentPosition, 1, "A number is missing here.",
                "The command before it needs one, such as 2.");
        }

        return (int)(sign * value);
    }

    /// <summary>Scans a length.</summary>
    public Dimension ScanDimension() => ScanDimension(false, out _);

    /// <summary>Scans glue: a length with <c>plus</c> and <c>minus</c>.</summary>
    public Glue ScanGlue()
    {
        int sign = ScanSign();
        Token token = machine.Arguments.NextNonSpaceExpanded();
        Dimension width;
        if (token.Symbol is not null && TryQuantity(token) is { } quantity)
        {
            if (quantity.IsGlue)
            {
                return sign > 0 ? quantity.Glue : Negate(quantity.Glue);
            }

            width = quantity.IsNumber ? Times(quantity.Number, ScanUnit(false, out _)) : quantity.Glue.Width;
        }
        else
        {
            machine.PutBack(token);
            width = ScanDimension();
        }

        Dimension stretch = default;
        Dimension shrink = default;
        int stretchOrder = 0;
        int shrinkOrder = 0;
        if (TakeKeyword("plus"))
        {
            stretch = ScanDimension(true, out stretchOrder);
        }

        if (TakeKeyword("minus"))
        {
            shrink = ScanDimension(true, out shrinkOrder);
        }

        return new Glue(new(sign * width.Scaled), stretch, stretchOrder, shrink, shrinkOrder);
    }

    /// <summary>Takes a keyword (letters in any case) if it comes next.</summary>
    public bool TakeKeyword(string keyword)
    {
        var taken = new List<Token>();
        Token token = machine.Arguments.NextNonSpaceExpanded();
        foreach (char c in keyword)
        {
            taken.Add(token);
            if (token.Symbol is not null || char.ToLowerInvariant((char)token.Code) != c
                || token.Category is not (Category.Letter or Category.Other))
            {
                for (int i = taken.Count - 1; i >= 0; i--)
                {
                    machine.PutBack(taken[i]);
                }

                return false;
            }

            if (taken.Count < keyword.Length)
            {
                token = machine.NextExpanded();
            }
        }

        return true;
    }

    private static Glue Negate(Glue g) => g with
    {
        Width = new(-g.Width.Scaled),
        Stretch = new(-g.Stretch.Scaled),
        Shrink = new(-g.Shrink.Scaled),
    };

    private bool StartsQuantity()
    {
        Token token = machine.Arguments.NextNonSpaceExpanded();
        machine.PutBack(token);
        return token.Category switch
        {
            Category.Command => token.Symbol!.Meaning.Value is RegisterMeaning<Dimension> or RegisterMeaning<Glue>
                or RegisterMeaning<int> or ConstantMeaning or RegisterFamily or QuantityCommand,
            Category.Other => token.Code is (>= '0' and <= '9') or '-' or '+' or '.' or ',' or '`' or '\'' or '"' or '(',
            _ => false,
        };
    }

    // What stands behind a length or number in an argument is most often a slip ("12 pts", "3cm2").
    private void ReportLeftover(Token command)
    {
        Token token = machine.Arguments.NextNonSpaceExpanded();
        if (!token.Is(Category.Stop) && !token.IsCommand("relax"))
        {
            machine.Findings.Check("surplus-in-length", token.Position >= 0 ? token.Position : command.Position, token.Length,
                $"“{token}” after the value for {command} has no meaning here.", "Only the value before it was used.");
        }
    }

    private int ScanSign()
    {
        int sign = 1;
        Token token = machine.Arguments.NextNonSpaceExpanded();
        while (token.IsCharacter('-') || token.IsCharacter('+'))
        {
            sign = token.Code == '-' ? -sign : sign;
            token = machine.Arguments.NextNonSpaceExpanded();
        }

        machine.PutBack(token);
        return sign;
    }

    // A register, constant or computed value that a command names.
    private Quantity? TryQuantity(Token token)
    {
        Meaning? meaning = token.Symbol?.Meaning.Value;
        if (meaning is RegisterFamily family)
        {
            meaning = family.Select(machine);
        }

        return meaning switch
        {
            RegisterMeaning<int> count => Quantity.Of(count.Register.Value),
            ConstantMeaning constant => Quantity.Of(constant.Value),
            CharacterMeaning { Category: Category.Letter or Category.Other } character when token.Symbol!.Name.Length > 1
                => Quantity.Of(character.Code),
            RegisterMeaning<Dimension> dimension => Quantity.Of(dimension.Register.Value),
            RegisterMeaning<Glue> skip => Quantity.Of(skip.Register.Value),
            QuantityCommand command => command.Read(machine),
            _ => null,
        };
    }

    private Dimension ScanDimension(bool infinite, out int order)
    {
        order = 0;
        int sign = ScanSign();
        Token token = machine.Arguments.NextNonSpaceExpanded();
        double factor = 0;
        if (token.Symbol is not null && TryQuantity(token) is { } quantity)
        {
            if (!quantity.IsNumber)
            {
                return new(sign * quantity.Glue.Width.Scaled);
            }

            factor = quantity.Number;
        }
        else if (Digit(token, 10) is not null || token.IsCharacter('.') || token.IsCharacter(','))
        {
            double scale = 0;
            while (Digit(token, 10) is not null || ((token.IsCharacter('.') || token.IsCharacter(',')) && scale == 0))
            {
                if (Digit(token, 10) is { } digit)
                {
                    factor = scale == 0 ? (factor * 10) + digit : factor + (digit * scale);
                    scale /= 10;
                }
                else
                {
                    scale = 0.1;
                }

                token = machine.NextExpanded();
            }

            machine.PutBack(token);
        }
        else
        {
            machine.PutBack(token);
            machine.Findings.Fix("not-a-length", token.Position >= 0 ? token.Position : machine.Input.CurrentPosition, 1,
                "A length is missing here.", "Write a number with a unit, such as 12pt or 2.5cm.");
            return default;
        }

        return Times(sign * factor, ScanUnit(infinite, out order));
    }

    // Decimals of points are rounded to scaled points; of other units the product is cut off (The TeXbook, ch. 10 and 24).
    private static Dimension Times(double factor, double unit) => unit == 1
        ? Dimension.FromPoints(factor)
        : new((int)Math.Clamp(Math.Truncate(Math.Round(factor * 65536) * unit), -Dimension.Max, Dimension.Max));

    // Points in the unit that comes next (The TeXbook, p. 57); or a register as a unit: 0.5\textwidth.
    private double ScanUnit(bool infinite, out int order)
    {
        order = 0;
        Token token = machine.Arguments.NextNonSpaceExpanded();
        if (token.Symbol is not null && TryQuantity(token) is { } quantity)
        {
            return quantity.IsNumber ? quantity.Number / 65536.0 : quantity.Glue.Width.Points;
        }

        machine.PutBack(token);
        if (infinite && TakeKeyword("fil"))
        {
            order = 1;
            while (order < 3 && TakeKeyword("l"))
            {
                order++;
            }

            TakeOneSpace();
            return 1;
        }

        _ = TakeKeyword("true");
        token = machine.Arguments.NextNonSpaceExpanded();
        machine.PutBack(token);
        foreach ((string unit, double points) in (ReadOnlySpan<(string, double)>)[
            ("pt", 1), ("mm", Units.Millimetre), ("cm", Units.Centimetre), ("in", Units.Inch), ("em", double.NaN), ("ex", double.NaN),
            ("bp", Units.BigPoint), ("pc", Units.Pica), ("dd", Units.DidotPoint), ("cc", Units.Cicero), ("sp", Units.ScaledPoint), ("mu", double.NaN), ("px", Units.BigPoint)])
        {
            if (TakeKeyword(unit))
            {
                TakeOneSpace();
                return double.IsNaN(points) ? FontUnit(unit) : points;
            }
        }

        machine.Findings.Fix("missing-unit", token.Position >= 0 ? token.Position : machine.Input.CurrentPosition, 1, "A length lacks its unit here; points were taken.",
            "Add pt, mm, cm, in, em or ex after the number.");
        return 1;
    }

    // Units of the font at hand; fonts are only asked for when such a unit is.
    private double FontUnit(string unit)
    {
        (double em, double ex) = FontUnits();
        return unit switch { "em" => em, "ex" => ex, _ => em / 18 };
    }

    private void EndNumber(Token token)
    {
        if (!token.Is(Category.Space))
        {
            machine.PutBack(token);
        }
    }

    private void TakeOneSpace()
    {
        Token token = machine.NextExpanded();
        EndNumber(token);
    }

    internal static int? Digit(Token token, int radix)
    {
        if (token.Symbol is not null || token.Category is not (Category.Other or Category.Letter))
        {
            return null;
        }

        int digit = token.Code switch
        {
            >= '0' and <= '9' when token.Is(Category.Other) => token.Code - '0',
            >= 'A' and <= 'F' => token.Code - 'A' + 10,
            _ => 99,
        };
        return digit < radix ? digit : null;
    }
}
