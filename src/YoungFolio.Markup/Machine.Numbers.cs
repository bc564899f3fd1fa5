namespace YoungFolio.Markup;

// Numbers, lengths and glue (The TeXbook, chapter 24), and the registers that hold them.
public sealed partial class Machine
{
    private readonly Dictionary<int, Scoped<int>> _counts = [];
    private readonly Dictionary<int, Scoped<Dimension>> _dimensions = [];
    private readonly Dictionary<int, Scoped<Glue>> _skips = [];
    private readonly Dictionary<int, Scoped<Token[]>> _tokenLists = [];

    /// <summary>Points in one em and one ex of the font in use; whoever keeps the font sets it.</summary>
    public Func<(double Em, double Ex)> FontUnits { get; set; } = () => (10, 4.3);

    /// <summary>The numbered count register.</summary>
    public Scoped<int> Count(int number) => Register(_counts, number, 0);

    /// <summary>A named length of the document, made if need be: <c>\textwidth</c>.</summary>
    public Scoped<Dimension> NamedDimension(string name, Dimension initial = default)
    {
        if (Symbol(name).Meaning.Value is RegisterMeaning<Dimension> known)
        {
            return known.Register;
        }

        var register = new Scoped<Dimension>(initial);
        Symbol(name).Meaning.Value = new RegisterMeaning<Dimension>(register);
        return register;
    }

    /// <summary>A named glue of the document, made if need be: <c>\parskip</c>.</summary>
    public Scoped<Glue> NamedGlue(string name, Glue initial = default)
    {
        if (Symbol(name).Meaning.Value is RegisterMeaning<Glue> known)
        {
            return known.Register;
        }

        var register = new Scoped<Glue>(initial);
        Symbol(name).Meaning.Value = new RegisterMeaning<Glue>(register);
        return register;
    }

    /// <summary>A named number of the document, made if need be: <c>\tolerance</c>.</summary>
    public Scoped<int> NamedCount(string name, int initial = 0)
    {
        if (Symbol(name).Meaning.Value is RegisterMeaning<int> known)
        {
            return known.Register;
        }

        var register = new Scoped<int>(initial);
        Symbol(name).Meaning.Value = new RegisterMeaning<int>(register);
        return register;
    }

    /// <summary>Reads a length out of tokens; null, with a finding, when they hold none.</summary>
    public Glue? ParseGlue(IReadOnlyList<Token> tokens, Token command)
    {
        Glue? result = null;
        Scan(tokens, () =>
        {
            if (StartsQuantity())
            {
                result = ScanExpression(asNumber: false).Glue;
                ReportLeftover(command);
            }
        });
        if (result is null)
        {
            Findings.Fix("not-a-length", tokens.Count > 0 ? tokens[0].Position : command.Position, Math.Max(1, tokens.Count),
                $"“{tokens.ToSource()}” is not a length.",
                "A length is a number with a unit, such as 12pt, 2.5cm or 0.8\\linewidth.");
        }

        return result;
    }

    /// <summary>Reads a whole number out of tokens; null, with a finding, when they hold none.</summary>
    public int? ParseInteger(IReadOnlyList<Token> tokens, Token command)
    {
        int? result = null;
        Scan(tokens, () =>
        {
            if (StartsQuantity())
            {
                result = ScanExpression(asNumber: true).Number;
                ReportLeftover(command);
            }
        });
        if (result is null)
        {
            Findings.Fix("not-a-number", tokens.Count > 0 ? tokens[0].Position : command.Position, Math.Max(1, tokens.Count),
                $"“{tokens.ToSource()}” is not a whole number.", "Write digits, or a counter's \\value.");
        }

        return result;
    }

    /// <summary>Scans a whole number: digits, octal, hexadecimal, a character's code, or a register.</summary>
    public int ScanInteger()
    {
        int sign = ScanSign();
        Token token = NextNonSpaceExpanded();
        long value = 0;
        if (token.Symbol is not null && TryQuantity(token) is { } quantity)
        {
            return sign * quantity.AsNumber;
        }

        if (token.IsCharacter('`'))
        {
            Token character = Next();
            value = character.Symbol is { } s ? char.ConvertToUtf32(s.Name + "\0", 0) : character.Code;
            TakeOneSpace();
        }
        else if (token.IsCharacter('\'') || token.IsCharacter('"'))
        {
            int radix = token.Code == '"' ? 16 : 8;
            for (token = NextExpanded(); Digit(token, radix) is { } digit; token = NextExpanded())
            {
                value = Math.Min((value * radix) + digit, int.MaxValue);
            }

            EndNumber(token);
        }
        else if (Digit(token, 10) is not null)
        {
            for (; Digit(token, 10) is { } digit; token = NextExpanded())
            {
                value = Math.Min((value * 10) + digit, int.MaxValue);
            }

            EndNumber(token);
        }
        else
        {
            PutBack(token);
            Findings.Fix("not-a-number", token.Position >= 0 ? token.Position : CurrentPosition, 1, "A number is missing here.",
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
        Token token = NextNonSpaceExpanded();
        Dimension width;
        if (token.Symbol is not null && TryQuantity(token) is { } quantity)
        {
            if (!quantity.IsNumber)
            {
                return sign > 0 ? quantity.Glue : Negate(quantity.Glue);
            }

            width = Times(quantity.Number, ScanUnit(false, out _));
        }
        else
        {
            PutBack(token);
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
        Token token = NextNonSpaceExpanded();
        foreach (char c in keyword)
        {
            taken.Add(token);
            if (token.Symbol is not null || char.ToLowerInvariant((char)token.Code) != c
                || token.Category is not (Category.Letter or Category.Other))
            {
                for (int i = taken.Count - 1; i >= 0; i--)
                {
                    PutBack(taken[i]);
                }

                return false;
            }

            if (taken.Count < keyword.Length)
            {
                token = NextExpanded();
            }
        }

        return true;
    }

    private static Scoped<T> Register<T>(Dictionary<int, Scoped<T>> registers, int number, T initial)
    {
        if (!registers.TryGetValue(number, out Scoped<T>? register))
        {
            registers[number] = register = new(initial);
        }

        return register;
    }

    private static Glue Negate(Glue g) => g with
    {
        Width = new(-g.Width.Scaled),
        Stretch = new(-g.Stretch.Scaled),
        Shrink = new(-g.Shrink.Scaled),
    };

    private bool StartsQuantity()
    {
        Token token = NextNonSpaceExpanded();
        PutBack(token);
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
        Token token = NextNonSpaceExpanded();
        if (!token.Is(Category.Stop) && !token.IsCommand("relax"))
        {
            Findings.Check("surplus-in-length", token.Position >= 0 ? token.Position : command.Position, token.Length,
                $"“{token}” after the value for {command} has no meaning here.", "Only the value before it was used.");
        }
    }

    private int ScanSign()
    {
        int sign = 1;
        Token token = NextNonSpaceExpanded();
        while (token.IsCharacter('-') || token.IsCharacter('+'))
        {
            sign = token.Code == '-' ? -sign : sign;
            token = NextNonSpaceExpanded();
        }

        PutBack(token);
        return sign;
    }

    // A register, constant or computed value that a command names.
    private Quantity? TryQuantity(Token token)
    {
        Meaning? meaning = token.Symbol?.Meaning.Value;
        if (meaning is RegisterFamily family)
        {
            meaning = family.Select(this);
        }

        return meaning switch
        {
            RegisterMeaning<int> count => Quantity.Of(count.Register.Value),
            ConstantMeaning constant => Quantity.Of(constant.Value),
            CharacterMeaning { Category: Category.Letter or Category.Other } character when token.Symbol!.Name.Length > 1
                => Quantity.Of(character.Code),
            RegisterMeaning<Dimension> dimension => Quantity.Of(dimension.Register.Value),
            RegisterMeaning<Glue> skip => Quantity.Of(skip.Register.Value),
            QuantityCommand command => command.Read(this),
            _ => null,
        };
    }

    private Dimension ScanDimension(bool infinite, out int order)
    {
        order = 0;
        int sign = ScanSign();
        Token token = NextNonSpaceExpanded();
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

                token = NextExpanded();
            }

            PutBack(token);
        }
        else
        {
            PutBack(token);
            Findings.Fix("not-a-length", token.Position >= 0 ? token.Position : CurrentPosition, 1,
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
        Token token = NextNonSpaceExpanded();
        if (token.Symbol is not null && TryQuantity(token) is { } quantity)
        {
            return quantity.IsNumber ? quantity.Number / 65536.0 : quantity.Glue.Width.Points;
        }

        PutBack(token);
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
        token = NextNonSpaceExpanded();
        PutBack(token);
        (double em, double ex) = FontUnits();
        foreach ((string unit, double points) in (ReadOnlySpan<(string, double)>)[
            ("pt", 1), ("mm", 72.27 / 25.4), ("cm", 72.27 / 2.54), ("in", 72.27), ("em", em), ("ex", ex),
            ("bp", 72.27 / 72), ("pc", 12), ("dd", 1238.0 / 1157), ("cc", 12 * 1238.0 / 1157), ("sp", 1 / 65536.0), ("mu", em / 18), ("px", 72.27 / 72)])
        {
            if (TakeKeyword(unit))
            {
                TakeOneSpace();
                return points;
            }
        }

        Findings.Fix("missing-unit", token.Position >= 0 ? token.Position : CurrentPosition, 1, "A length lacks its unit here; points were taken.",
            "Add pt, mm, cm, in, em or ex after the number.");
        return 1;
    }

    private void EndNumber(Token token)
    {
        if (!token.Is(Category.Space))
        {
            PutBack(token);
        }
    }

    private void TakeOneSpace()
    {
        Token token = NextExpanded();
        EndNumber(token);
    }

    private static int? Digit(Token token, int radix)
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
