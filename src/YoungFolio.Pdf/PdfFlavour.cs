namespace YoungFolio.Pdf;

/// <summary>A file that goes along within a PDF.</summary>
/// <param name="Name">What it is called.</param>
/// <param name="MediaType">Its type: <c>application/zip</c>.</param>
/// <param name="Bytes">What it holds.</param>
/// <param name="Date">The day as of which it is.</param>
/// <param name="Says">What it is, in words.</param>
public sealed record AttachedFile(string Name, string MediaType, ReadOnlyMemory<byte> Bytes, DateOnly Date, string Says);

/// <summary>
/// What a PDF is made for. An archival one (PDF/A-2, ISO 19005-2) needs nothing but itself to look the same in many years; one with its sources
/// within is PDF/A-3 (ISO 19005-3), which allows files of any kind. An accessible one (PDF/UA-1, ISO 14289-1) tells those who don't see it what is what.
/// </summary>
/// <param name="IsArchival">Whether it is for keeping.</param>
/// <param name="Attached">The file that goes along; null: none.</param>
public sealed record PdfFlavour(bool IsArchival, AttachedFile? Attached = null)
{
    /// <summary>For reading and printing.</summary>
    public static PdfFlavour Usual { get; } = new(false);

    /// <summary>Whether it tells what is what on its pages.</summary>
    public bool IsAccessible { get; init; }

    /// <summary>For those who don't see it, too.</summary>
    public static PdfFlavour Accessible { get; } = new(false) { IsAccessible = true };

    /// <summary>For keeping.</summary>
    public static PdfFlavour Archival { get; } = new(true);
}
