using YoungFolio.Documents.LogicalStructure;
using YoungFolio.Markup;

namespace YoungFolio.Compiler;

/// <summary>Something that keeps a manuscript from being read by those who don't see it, with its place.</summary>
/// <param name="Says">What it is, as a sentence.</param>
/// <param name="File">The file; null: nowhere in particular.</param>
/// <param name="Line">Line from 1.</param>
/// <param name="Offset">The character at which it stands.</param>
public sealed record AccessPlace(string Says, string? File, int? Line, int? Offset)
{
    internal static AccessPlace Of(AccessObstacle obstacle, PositionTable positions)
    {
        (ManuscriptFile File, int Offset)? place = obstacle.Position < 0 ? null : positions.Resolve(obstacle.Position);
        return new AccessPlace(obstacle.Says, place?.File.Path, place is null ? null : positions.Locate(obstacle.Position)?.Line, place?.Offset);
    }
}
