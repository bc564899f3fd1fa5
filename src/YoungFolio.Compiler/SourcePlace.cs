using YoungFolio.Markup;

namespace YoungFolio.Compiler;

/// <summary>A place in a file.</summary>
/// <param name="File">The file's path.</param>
/// <param name="Line">Line from 1.</param>
/// <param name="Offset">Character from 0.</param>
public sealed record SourcePlace(string File, int Line, int Offset)
{
    internal static SourcePlace? Of(PositionTable positions, int position) =>
        positions.Resolve(position) is var (file, offset) && positions.Locate(position) is { } at ? new SourcePlace(file.Path, at.Line, offset) : null;
}
