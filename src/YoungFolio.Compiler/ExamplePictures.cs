using System.Globalization;
using YoungFolio.Markup;

namespace YoungFolio.Compiler;

/// <summary>
/// A manuscript's files with the pictures that templates show until there are others: their names are common practice (example-image, example-image-a …),
/// and so are their sizes in points. A file of the manuscript with such a name comes before ours.
/// </summary>
/// <param name="files">The manuscript's files.</param>
public sealed class ExamplePictures(IFileTree files) : IFileTree
{
    private static readonly Dictionary<string, (int Width, int Height, string Words)> s_pictures = new(StringComparer.Ordinal)
    {
        ["example-image.svg"] = (320, 240, "Image"),
        ["example-image-a.svg"] = (320, 240, "A"),
        ["example-image-b.svg"] = (320, 240, "B"),
        ["example-image-c.svg"] = (320, 240, "C"),
        ["example-image-plain.svg"] = (320, 240, ""),
        ["example-image-golden.svg"] = (320, 198, "1.618:1"),
        ["example-image-1x1.svg"] = (240, 240, "1:1"),
        ["example-image-16x9.svg"] = (320, 180, "16:9"),
        ["example-image-16x10.svg"] = (320, 200, "16:10"),
        ["example-image-9x16.svg"] = (180, 320, "9:16"),
        ["example-image-10x16.svg"] = (200, 320, "10:16"),
    };

    /// <inheritdoc/>
    public IReadOnlyList<string> Paths => files.Paths;

    /// <inheritdoc/>
    public bool IsManuscriptAlone => files.IsManuscriptAlone;

    /// <inheritdoc/>
    public ManuscriptFile? Find(string path) => files.Find(path) ?? (s_pictures.TryGetValue(path, out var picture) ? ManuscriptFile.FromText(path, Drawn(picture.Width, picture.Height, picture.Words)) : null);

    // A grey ground with its name in the middle.
    private static string Drawn(int width, int height, string words) => string.Create(CultureInfo.InvariantCulture, $"""
        <svg xmlns="http://www.w3.org/2000/svg" width="{width}pt" height="{height}pt" viewBox="0 0 {width} {height}">
        <rect width="{width}" height="{height}" fill="#d0d0d0"/><rect x="8" y="8" width="{width - 16}" height="{height - 16}" fill="none" stroke="#808080" stroke-width="2"/>
        <text x="{width / 2}" y="{(height / 2) + 16}" font-size="48" text-anchor="middle" fill="#505050">{words}</text></svg>
        """);
}
