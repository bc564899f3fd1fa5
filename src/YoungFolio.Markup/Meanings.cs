namespace YoungFolio.Markup;

/// <summary>What a command means.</summary>
public abstract class Meaning
{
    /// <summary>Whether expansion replaces it (macros and expandable commands).</summary>
    public virtual bool IsExpandable => false;

    /// <summary>Whether <c>\ifx</c> finds two meanings the same.</summary>
    public virtual bool SameAs(Meaning? other) => ReferenceEquals(this, other);
}

/// <summary>A character, given to a command by <c>\let</c>.</summary>
public sealed class CharacterMeaning(int code, Category category) : Meaning
{
    /// <summary>The code point.</summary>
    public int Code => code;

    /// <summary>The category.</summary>
    public Category Category => category;

    /// <inheritdoc/>
    public override bool SameAs(Meaning? other) =>
        other is CharacterMeaning c && c.Code == Code && c.Category == Category;
}

/// <summary>A macro: its parameters and its body.</summary>
public sealed class MacroMeaning : Meaning
{
    /// <summary>The text before, between and after the parameters; arguments are numbered tokens.</summary>
    public required Token[] Pattern { get; init; }

    /// <summary>The replacement, with arguments as numbered tokens.</summary>
    public required Token[] Body { get; init; }

    /// <summary>Number of parameters, 0 to 9.</summary>
    public required int Arity { get; init; }

    /// <summary>Value of the first parameter when no bracket gives it; null: the first is not optional.</summary>
    public Token[]? Default { get; init; }

    /// <summary>Whether an argument may hold a paragraph's end; only where the definition says so (The TeXbook, p. 206).</summary>
    public bool IsLong { get; init; }

    /// <summary>Whether <c>\edef</c> and writing leave it alone (robust commands).</summary>
    public bool IsProtected { get; init; }

    /// <summary>Position of its definition.</summary>
    public int Position { get; init; } = PositionTable.None;

    /// <inheritdoc/>
    public override bool IsExpandable => true;

    /// <inheritdoc/>
    public override bool SameAs(Meaning? other) =>
        other is MacroMeaning m && m.Arity == Arity && m.IsLong == IsLong && (m.Default is null) == (Default is null)
        && m.Pattern.AsSpan().SequenceEqual(Pattern) && m.Body.AsSpan().SequenceEqual(Body)
        && m.Default.AsSpan().SequenceEqual(Default.AsSpan());
}

/// <summary>A built-in command that expands: it pushes tokens back for reading.</summary>
public sealed class ExpandableCommand(string name, Action<Machine, Token> expand) : Meaning
{
    /// <summary>The name it was made under.</summary>
    public string Name => name;

    /// <summary>Expands it.</summary>
    public Action<Machine, Token> Expand => expand;

    /// <inheritdoc/>
    public override bool IsExpandable => true;
}

/// <summary>A built-in command that does something: an assignment, or a step of building the document.</summary>
public sealed class BuiltInCommand(string name, Action<Machine, Token> execute) : Meaning
{
    /// <summary>The name it was made under.</summary>
    public string Name => name;

    /// <summary>Carries it out.</summary>
    public Action<Machine, Token> Execute => execute;
}

/// <summary>A number given to a command by <c>\chardef</c> or <c>\mathchardef</c>.</summary>
public sealed class ConstantMeaning(int value) : Meaning
{
    /// <summary>Whether it is the code of a sign in formulas rather than of a character.</summary>
    public bool IsMathCharacter { get; init; }

    /// <summary>The number.</summary>
    public int Value => value;

    /// <inheritdoc/>
    public override bool SameAs(Meaning? other) => other is ConstantMeaning c && c.Value == Value;
}

/// <summary>A register: a number, a dimension, glue or tokens.</summary>
/// <typeparam name="T">int (a number), <see cref="Dimension"/>, <see cref="Glue"/> or a token array.</typeparam>
public sealed class RegisterMeaning<T>(Scoped<T> register) : Meaning
{
    /// <summary>The register.</summary>
    public Scoped<T> Register => register;

    /// <inheritdoc/>
    public override bool SameAs(Meaning? other) =>
        other is RegisterMeaning<T> r && ReferenceEquals(r.Register, Register);
}

/// <summary>A value that the language can compute with: a whole number, or a length with its glue.</summary>
/// <param name="IsNumber">Whether it is a whole number.</param>
/// <param name="Number">The number.</param>
/// <param name="Glue">The length.</param>
public readonly record struct Quantity(bool IsNumber, int Number, Glue Glue)
{
    /// <summary>A whole number.</summary>
    public static Quantity Of(int number) => new(true, number, default);

    /// <summary>A length.</summary>
    public static Quantity Of(Dimension length) => new(false, 0, new Glue(length));

    /// <summary>A glue.</summary>
    public static Quantity Of(Glue glue) => new(false, 0, glue) { IsGlue = true };

    /// <summary>Whether it is a glue, which nothing is added to; a length may be followed by <c>plus</c> and <c>minus</c> (The TeXbook, p. 270).</summary>
    public bool IsGlue { get; init; }

    /// <summary>The value where a whole number is wanted: a length counts in scaled points (The TeXbook, p. 118).</summary>
    public int AsNumber => IsNumber ? Number : Glue.Width.Scaled;
}

/// <summary>A command that stands for a value, such as <c>\wd0</c> or <c>\numexpr</c>, and may be assigned to.</summary>
/// <param name="name">The name it was made under.</param>
/// <param name="read">Reads what belongs to it and gives the value.</param>
/// <param name="assign">Reads what belongs to it and sets the value; null: it can't be set.</param>
public sealed class QuantityCommand(string name, Func<Machine, Quantity> read, Action<Machine, Token>? assign = null) : Meaning
{
    /// <summary>The name it was made under.</summary>
    public string Name => name;

    /// <summary>Reads what belongs to it and gives the value.</summary>
    public Func<Machine, Quantity> Read => read;

    /// <summary>Reads what belongs to it and sets the value, or null.</summary>
    public Action<Machine, Token>? Assign => assign;
}

/// <summary>A family of numbered registers, such as <c>\count</c>: a number picks one.</summary>
/// <param name="name">The name it was made under.</param>
/// <param name="select">Reads the number and gives the register's meaning.</param>
public sealed class RegisterFamily(string name, Func<Machine, Meaning> select) : Meaning
{
    /// <summary>The name it was made under.</summary>
    public string Name => name;

    /// <summary>Reads the number and gives the register's meaning.</summary>
    public Func<Machine, Meaning> Select => select;
}

/// <summary>A length in scaled points: 65,536 to the point, 72.27 points to the inch (<em>The TeXbook</em>, ch. 10).</summary>
public readonly record struct Dimension(int Scaled)
{
    /// <summary>The largest length: 16383.99998 pt.</summary>
    public const int Max = (1 << 30) - 1;

    /// <summary>The length in points of 1/72.27 in.</summary>
    public double Points => Scaled / 65536.0;

    /// <summary>From points, held within the range.</summary>
    public static Dimension FromPoints(double points) =>
        new((int)Math.Clamp(Math.Round(points * 65536.0), -Max, Max));

    /// <summary>As <c>\the</c> prints it: <c>12.5pt</c>.</summary>
    public override string ToString()
    {
        // The shortest decimal that reads back as the same number of scaled points (TeX: The Program, section 103, from memory).
        var text = new System.Text.StringBuilder(Scaled < 0 ? "-" : "");
        long rest = Math.Abs((long)Scaled);
        text.Append(rest / 65536).Append('.');
        rest = (10 * (rest % 65536)) + 5;
        long precision = 10;
        do
        {
            rest += precision > 65536 ? 32768 - 50000 : 0;
            text.Append(rest / 65536);
            rest = 10 * (rest % 65536);
            precision *= 10;
        }
        while (rest > precision);
        return text.Append("pt").ToString();
    }
}

/// <summary>A space that can stretch and shrink. Orders 1 to 3 stand for fil, fill and filll.</summary>
/// <param name="Width">Natural width.</param>
/// <param name="Stretch">Stretch, in points or, with an order, in units of that order (scaled by 65,536).</param>
/// <param name="StretchOrder">0 finite, 1 fil, 2 fill, 3 filll.</param>
/// <param name="Shrink">Shrink, likewise.</param>
/// <param name="ShrinkOrder">Order of the shrink.</param>
public readonly record struct Glue(
    Dimension Width, Dimension Stretch = default, int StretchOrder = 0, Dimension Shrink = default, int ShrinkOrder = 0)
{
    /// <summary>Glue from points.</summary>
    public static Glue Of(double width, double stretch = 0, double shrink = 0) =>
        new(Dimension.FromPoints(width), Dimension.FromPoints(stretch), 0, Dimension.FromPoints(shrink));

    /// <summary>This with another added, or taken away: of two orders the higher one counts alone (The TeXbook, p. 118), and so does a part that is there.</summary>
    public Glue Plus(Glue other, int sign = 1)
    {
        (Dimension stretch, int stretchOrder) = Sum(Stretch, StretchOrder, other.Stretch, other.StretchOrder, sign);
        (Dimension shrink, int shrinkOrder) = Sum(Shrink, ShrinkOrder, other.Shrink, other.ShrinkOrder, sign);
        return new Glue(Sum(Width, other.Width, sign), stretch, stretchOrder, shrink, shrinkOrder);
    }

    private static (Dimension Part, int Order) Sum(Dimension a, int orderOfA, Dimension b, int orderOfB, int sign)
    {
        if (b.Scaled == 0 || (a.Scaled != 0 && orderOfA > orderOfB))
        {
            return (a, orderOfA);
        }

        return (Sum(a.Scaled != 0 && orderOfA == orderOfB ? a : default, b, sign), orderOfB);
    }

    private static Dimension Sum(Dimension a, Dimension b, int sign) => new((int)Math.Clamp(a.Scaled + (sign * (long)b.Scaled), -Dimension.Max, Dimension.Max));

    /// <summary>As <c>\the</c> prints it.</summary>
    public override string ToString()
    {
        string text = Width.ToString();
        if (Stretch.Scaled != 0)
        {
            text += " plus " + Component(Stretch, StretchOrder);
        }

        return Shrink.Scaled != 0 ? text + " minus " + Component(Shrink, ShrinkOrder) : text;
    }

    private static string Component(Dimension d, int order) =>
        order == 0 ? d.ToString() : string.Concat(d.ToString().AsSpan(0, d.ToString().Length - 2), "fi", new string('l', order));
}

/// <summary>A conditional: what follows it is read or skipped.</summary>
/// <param name="name">The name it was made under.</param>
/// <param name="test">Reads what is tested and tells whether it holds.</param>
internal sealed class ConditionalCommand(string name, Func<Machine, bool> test) : Meaning
{
    public string Name => name;

    public Func<Machine, bool> Test => test;

    public override bool IsExpandable => true;
}
