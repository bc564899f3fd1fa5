using YoungFolio.Markup;

namespace YoungFolio.Compiler;

/// <summary>One formula of a manuscript, alone.</summary>
/// <param name="Svg">The formula as an SVG of paths, which needs no fonts.</param>
/// <param name="MathMl">The formula as MathML, for readers who listen.</param>
/// <param name="IsDisplay">Whether it is displayed.</param>
public sealed record FormulaPicture(string Svg, string MathMl, bool IsDisplay);

/// <summary>A formula that someone is making.</summary>
/// <param name="Picture">How it prints; null when there is nothing of it to print.</param>
/// <param name="Problems">What is found in it, in words for people.</param>
public sealed record FormulaDrawing(FormulaPicture? Picture, IReadOnlyList<string> Problems);
