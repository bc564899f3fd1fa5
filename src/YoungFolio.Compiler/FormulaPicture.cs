namespace YoungFolio.Compiler;

/// <summary>One formula of a manuscript, alone.</summary>
/// <param name="Svg">The formula as an SVG of paths, which needs no fonts.</param>
/// <param name="MathMl">The formula as MathML, for readers who listen.</param>
/// <param name="IsDisplay">Whether it is displayed.</param>
public sealed record FormulaPicture(string Svg, string MathMl, bool IsDisplay);
