using System.Runtime.CompilerServices;
using System.Text.Json;
using YoungFolio.Compiler;
using YoungFolio.Compiler.Sheets;
using YoungFolio.Markup;
using YoungFolio.Typesetting.Fonts;

namespace YoungFolio.Core.Tests;

/// <summary>A rectangle on a sheet, in PDF points from its upper left corner.</summary>
internal sealed record PageSpot(int Sheet, double X, double Y, double Width, double Height);

/// <summary>A glyph on a sheet, in PDF points; its place in the source counts in characters.</summary>
internal sealed record SheetGlyph(int Sheet, double X, double Baseline, double Width, double Size, string Text, string? File, int Offset)
{
    public PageSpot Spot => new(Sheet, X, Baseline - (0.75 * Size), Width, Size);
}

/// <summary>Reads the sheets of a proof as a browser does, and leads from their words to the source and back.</summary>
internal sealed class SheetMap
{
    private static readonly FontLibrary s_fonts = new();
    private static readonly ConditionalWeakTable<CompileResult, IFileTree> s_files = [];
    private readonly IFileTree _files;

    private SheetMap(CompileResult result, IFileTree files)
    {
        _files = files;
        for (int i = 0; i < result.Sheets.Sheets.Count; i++)
        {
            Read(result.Sheets, i);
        }
    }

    /// <summary>All glyphs in reading order, also those that are turned or scaled: they have their box's middle and no size.</summary>
    public List<SheetGlyph> Glyphs { get; } = [];

    /// <summary>Notes what a proof was made from.</summary>
    public static CompileResult Remember(CompileResult result, IFileTree files)
    {
        s_files.AddOrUpdate(result, files);
        return result;
    }

    public static SheetMap Of(CompileResult result) => new(result, s_files.TryGetValue(result, out IFileTree? files) ? files : new FileTree([]));

    /// <summary>The source of the glyph nearest to a point.</summary>
    public SourceLocation? FindSource(int sheet, double x, double y) => Glyphs.Where(g => g.Sheet == sheet && g.File is not null)
        .MinBy(g => (16 * Math.Pow(Outside(y, g.Spot.Y, g.Spot.Height), 2)) + Math.Pow(Outside(x, g.X, g.Width), 2)) is { } nearest ? Locate(nearest.File!, nearest.Offset) : null;

    /// <summary>Where a place in the source came to stand: the glyph made by the nearest character at or after it.</summary>
    public PageSpot? FindSpot(string file, int line, int column)
    {
        int wanted = _files.Find(file)!.Text.Split('\n').Take(line - 1).Sum(l => l.Length + 1) + column - 1;
        return Glyphs.Where(g => g.File == file).MinBy(g => g.Offset >= wanted ? g.Offset - wanted : (wanted - g.Offset) * 3)?.Spot;
    }

    private static double Outside(double at, double from, double length) => Math.Max(0, Math.Max(from - at, at - from - length));

    private SourceLocation Locate(string path, int offset)
    {
        string before = _files.Find(path)!.Text[..offset];
        return new SourceLocation(path, before.Count(c => c == '\n') + 1, offset - before.LastIndexOf('\n'));
    }

    private void Read(SheetList list, int index)
    {
        using JsonDocument json = JsonDocument.Parse(list.Sheets[index].Content);
        JsonElement root = json.RootElement;
        ReadItems(root.GetProperty("items"), 1, 0, 0, 1, 0, 0);

        void ReadItems(JsonElement items, double a, double b, double c, double d, double e, double f)
        {
            foreach (JsonElement item in items.EnumerateArray())
            {
                double x = item[1].GetDouble() / 100;
                double y = item[2].GetDouble() / 100;
                if (item[0].GetInt32() == 5)
                {
                    (double a2, double b2, double c2, double d2) = (item[3].GetDouble(), item[4].GetDouble(), item[5].GetDouble(), item[6].GetDouble());
                    ReadItems(item[7], (a * a2) + (c * b2), (b * a2) + (d * b2), (a * c2) + (c * d2), (b * c2) + (d * d2), (a * x) + (c * y) + e, (b * x) + (d * y) + f);
                }
                else if (item[0].GetInt32() == 0)
                {
                    ReadRun(item, (a * x) + (c * y) + e, (b * x) + (d * y) + f, (a, b) is (1, 0) && (c, d) is (0, 1), a, b);
                }
            }
        }

        void ReadRun(JsonElement item, double left, double baseline, bool isPlain, double a, double b)
        {
            JsonElement style = root.GetProperty("styles")[item[3].GetInt32()];
            FontFile font = s_fonts.Load(ScreenFont.NameIn(style[0].GetString()!));
            double size = style[1].GetDouble();
            string[] texts = item[5].ValueKind == JsonValueKind.String ? [.. item[5].GetString()!.Select(t => t.ToString())] : [.. item[5].EnumerateArray().Select(t => t.GetString()!)];
            double[] edges = [.. Edges(item[4], font, size * style[2].GetDouble()), item[6].GetDouble() / 100];
            int origin = item[7].GetInt32();
            int[] global = [.. list.Entries[index].Origins];
            int place = origin < 0 ? 0 : item[8].GetInt32();
            for (int i = 0; i < texts.Length; i++)
            {
                int? step = origin < 0 ? null : item.GetArrayLength() > 9 ? (item[9][i].ValueKind == JsonValueKind.Null ? null : item[8].GetInt32() + item[9][i].GetInt32()) : place;
                (string? file, int start) = step is null ? (null, 0) : Origin(list, global[origin]);
                Glyphs.Add(isPlain
                    ? new SheetGlyph(index + 1, left + edges[i], baseline, edges[i + 1] - edges[i], size, texts[i], file, start + (step ?? 0))
                    : new SheetGlyph(index + 1, left + (a * (edges[i] + edges[i + 1]) / 2), baseline + (b * (edges[i] + edges[i + 1]) / 2), 0, 0, texts[i], file, start + (step ?? 0)));
                place += texts[i].Length;
            }
        }
    }

    // The file and the place of an origin: steps add up within a file.
    private static (string File, int Offset) Origin(SheetList list, int number)
    {
        int offset = 0;
        for (int i = number; i >= 0 && list.OriginFiles[i] == list.OriginFiles[number]; i--)
        {
            offset += list.OriginSteps[i];
        }

        return (list.Files[list.OriginFiles[number]], offset);
    }

    private static IEnumerable<double> Edges(JsonElement glyphs, FontFile font, double size)
    {
        (double X, string Glyphs)[] stretches = glyphs.ValueKind == JsonValueKind.String ? [(0, glyphs.GetString()!)]
            : [.. glyphs.EnumerateArray().Chunk(2).Select(pair => (pair[0].GetDouble() / 100, pair[1].GetString()!))];
        foreach ((double x, string stretch) in stretches)
        {
            double pen = x;
            foreach (char glyph in stretch)
            {
                yield return pen;
                pen += font.Advance((uint)(glyph - ScreenFont.FirstCharacter)) * size;
            }
        }
    }
}

/// <summary>Lets a test ask a proof for its map.</summary>
internal static class SheetMapOfProof
{
    extension(CompileResult result)
    {
        /// <summary>The ways between the proof and the source that it was made from.</summary>
        public SheetMap Map => SheetMap.Of(result);
    }
}
