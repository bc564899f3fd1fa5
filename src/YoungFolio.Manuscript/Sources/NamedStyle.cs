using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Sources;

/// <summary>A bibliography style as the manuscript names it.</summary>
/// <param name="Place">Where it is named.</param>
/// <param name="Missing">Its name where it neither ships nor came along; null: it is there.</param>
internal readonly record struct NamedStyle(Token Place, string? Missing);
