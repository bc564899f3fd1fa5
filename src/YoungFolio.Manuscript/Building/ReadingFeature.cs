using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>A part of reading: some commands with the state that is theirs alone. What it needs of the whole it asks of the builder.</summary>
/// <param name="builder">The document being read.</param>
internal abstract class ReadingFeature(DocumentBuilder builder)
{
    /// <summary>The document being read.</summary>
    protected DocumentBuilder Builder => builder;

    /// <summary>The token machine.</summary>
    protected Machine Machine => builder.Machine;

    /// <summary>Takes what there is to say.</summary>
    protected FindingLog Findings => builder.Findings;
}
