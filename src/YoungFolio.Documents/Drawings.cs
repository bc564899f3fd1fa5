namespace YoungFolio.Documents;

/// <summary>A drawing: strokes, filled shapes and text at places of their own. Its origin is its lower left corner, which stands on the baseline.</summary>
/// <param name="Parts">What is drawn, in order.</param>
public sealed partial record DrawingInline(IReadOnlyList<DrawingPart> Parts) : Inline
{
    /// <summary>Width that it takes in the line, in points.</summary>
    public double Width { get; init; }

    /// <summary>Height that it takes above the baseline, in points.</summary>
    public double Height { get; init; }
}

/// <summary>A part of a drawing.</summary>
public abstract record DrawingPart : Node;

/// <summary>A curve, stroked or filled.</summary>
/// <param name="Points">Where it begins, then for each stretch of it the two points that pull it (the control points of a cubic Bézier curve) and its end.</param>
public sealed partial record DrawnCurve(IReadOnlyList<(double X, double Y)> Points) : DrawingPart
{
    /// <summary>Straight lines from corner to corner: a curve whose points that pull lie on it.</summary>
    public static DrawnCurve Through(IReadOnlyList<(double X, double Y)> corners) =>
        new([corners[0], .. corners.Skip(1).SelectMany((to, i) => new[] { corners[i], to, to })]);

    /// <summary>Width of the pen in points.</summary>
    public double Pen { get; init; } = 0.4;

    /// <summary>Whether it is filled instead of stroked.</summary>
    public bool IsFilled { get; init; }

    /// <summary>Lengths of dash and gap in points; 0: an unbroken line.</summary>
    public double Dash { get; init; }

    /// <summary>Red, green and blue, a byte each.</summary>
    public int Colour { get; init; }
}

/// <summary>Text at a place of a drawing: its reference point stands there.</summary>
/// <param name="X">From the drawing's left, in points.</param>
/// <param name="Y">Above its foot, in points.</param>
/// <param name="Content">The text, on one line.</param>
public sealed partial record DrawnText(double X, double Y, IReadOnlyList<Inline> Content) : DrawingPart;
