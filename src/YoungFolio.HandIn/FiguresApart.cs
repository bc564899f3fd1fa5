using System.Globalization;
using System.Text;
using YoungFolio.Compiler;
using YoungFolio.Markup;

namespace YoungFolio.HandIn;

/// <summary>The pictures of figures as files of their own, named by the figures' numbers: for houses that ask for them apart.</summary>
public static class FiguresApart
{
    /// <summary>The file that lists all figures with their captions.</summary>
    public const string List = "captions.txt";

    /// <summary>The files, the list first.</summary>
    /// <param name="proof">The proof.</param>
    /// <param name="files">The files that it is of.</param>
    public static IReadOnlyList<(string Path, ReadOnlyMemory<byte> Bytes)> Of(CompileResult proof, IFileTree files)
    {
        ArgumentNullException.ThrowIfNull(proof);
        ArgumentNullException.ThrowIfNull(files);
        var apart = new List<(string Path, ReadOnlyMemory<byte> Bytes)>();
        var list = new StringBuilder();
        foreach (PrintedFloat figure in proof.Print.Floats.Where(f => f.Captions.Count > 0 && (f.Kind == "figure" || f.Pictures.Count > 0)))
        {
            foreach ((string number, string text) in figure.Captions)
            {
                list.Append(CultureInfo.InvariantCulture, $"{char.ToUpperInvariant(figure.Kind[0])}{figure.Kind[1..]} {number}: {text}\n");
            }

            ManuscriptFile[] pictures = [.. figure.Pictures.Select(files.Find).OfType<ManuscriptFile>()];
            for (int i = 0; i < pictures.Length; i++)
            {
                string path = NameOf(figure, i, pictures.Length) + Path.GetExtension(pictures[i].Path).ToLowerInvariant();
                apart.Add((path, pictures[i].Bytes));
                list.Append(CultureInfo.InvariantCulture, $"  {path} ({pictures[i].Path})\n");
            }

            list.Append(pictures.Length == 0 ? "  is drawn in the text, and has no file of its own\n\n" : "\n");
        }

        list.Append(list.Length == 0 ? "No figure has a caption with a number.\n" : "");
        return [(List, Encoding.UTF8.GetBytes(list.ToString())), .. apart];
    }

    // Two figures side by side have a picture each; what belongs to one number has letters.
    private static string NameOf(PrintedFloat figure, int picture, int pictures)
    {
        bool each = figure.Captions.Count > 1 && figure.Captions.Count == pictures;
        string number = figure.Captions[each ? picture : 0].Number;
        string name = $"{figure.Kind}-{string.Concat(number.Select(static c => char.IsAsciiLetterOrDigit(c) ? c : '-'))}";
        return each || pictures == 1 ? name : name + Letters(picture);
    }

    private static string Letters(int index) => (index < 26 ? "" : Letters((index / 26) - 1)) + (char)('a' + (index % 26));
}
