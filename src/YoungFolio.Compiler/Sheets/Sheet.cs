using YoungFolio.Markup;
using YoungFolio.Typesetting.Pages;

namespace YoungFolio.Compiler.Sheets;

/// <summary>A page for the screen. Its content depends on nothing but its digest.</summary>
public sealed class Sheet
{
    /// <summary>PDF points (1/72 in) for a point of 1/72.27 in.</summary>
    internal const double Scale = 72 / Units.Inch;

    private readonly Lazy<byte[]> _content;

    internal Sheet(string digest, Page page, IReadOnlyList<int> origins, Func<byte[]> write, Sheet? known)
    {
        Digest = digest;
        Width = Math.Round(page.Width * Scale, 2);
        Height = Math.Round(page.Height * Scale, 2);
        Label = page.Label;
        Origins = origins;
        _content = known?._content ?? new Lazy<byte[]>(write);
    }

    /// <summary>A digest of all that it holds, in hexadecimal digits.</summary>
    public string Digest { get; }

    /// <summary>Width in PDF points (1/72 in).</summary>
    public double Width { get; }

    /// <summary>Height in PDF points.</summary>
    public double Height { get; }

    /// <summary>The page's number as printed.</summary>
    public string Label { get; }

    /// <summary>
    /// Where in the source its words come from, as positions of the whole manuscript: what is drawn says how far it is from one of these.
    /// They change with every edit before them; the content doesn't.
    /// </summary>
    internal IReadOnlyList<int> Origins { get; }

    /// <summary>The content as JSON, described in <c>docs/sheets.md</c>; made when first asked for.</summary>
    public byte[] Content => _content.Value;
}
