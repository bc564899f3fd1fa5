using System.Collections.Concurrent;
using System.Globalization;
using System.Runtime.InteropServices;
using YoungFolio.Markup;
using YoungFolio.Typesetting.Images;
using YoungFolio.Typesetting.Pages;

namespace YoungFolio.Compiler.Sheets;

/// <summary>The sheets of a proof, with what leads from one to another and to the source.</summary>
public sealed class SheetList
{
    // Positions of words that belong to no paragraph that is kept (running heads) share an origin when they are so near to one another.
    private const int Reach = 400;

    private readonly Dictionary<string, Sheet> _byDigest = new(StringComparer.Ordinal);
    private readonly IReadOnlyDictionary<string, Picture> _pictures;

    private SheetList(IReadOnlyList<Sheet> sheets, PositionTable positions, IReadOnlyList<SheetAnchor> anchors, IReadOnlyDictionary<string, Picture> pictures)
    {
        foreach (Sheet sheet in sheets)
        {
            _byDigest.TryAdd(sheet.Digest, sheet);
        }

        _pictures = pictures;
        Sheets = sheets;
        Anchors = anchors;
        int[] all = [.. sheets.SelectMany(s => s.Origins).Distinct().Order()];
        var files = new List<string>();
        int[] fileOf = new int[all.Length];
        int[] steps = new int[all.Length];
        int before = 0;
        for (int i = 0; i < all.Length; i++)
        {
            (string path, int offset) = positions.Resolve(all[i]) is { } place ? (place.File.Path, place.Offset) : ("", all[i]);
            if (files.Count == 0 || files[^1] != path)
            {
                files.Add(path);
                before = 0;
            }

            fileOf[i] = files.Count - 1;
            steps[i] = offset - before;
            before = offset;
        }

        Files = files;
        OriginFiles = fileOf;
        OriginSteps = steps;
        Entries = [.. sheets.Select(s => new SheetEntry(s.Digest, s.Width, s.Height, s.Label, [.. s.Origins.Select(o => Array.BinarySearch(all, o))]))];
    }

    /// <summary>The sheets in order.</summary>
    public IReadOnlyList<Sheet> Sheets { get; }

    /// <summary>What a browser needs of each sheet to know which it lacks and how large it is.</summary>
    public IReadOnlyList<SheetEntry> Entries { get; }

    /// <summary>Paths of the files that the origins are in.</summary>
    public IReadOnlyList<string> Files { get; }

    /// <summary>The file of each origin, an index of <see cref="Files"/>.</summary>
    public IReadOnlyList<int> OriginFiles { get; }

    /// <summary>
    /// How many characters each origin stands behind the one before it in its file; the first behind the file's beginning. So an
    /// edit changes one number, wherever it is.
    /// </summary>
    public IReadOnlyList<int> OriginSteps { get; }

    /// <summary>On which sheet each place stands that something on the pages leads to.</summary>
    public IReadOnlyList<SheetAnchor> Anchors { get; }

    /// <summary>The sheet of a digest; null when none has it.</summary>
    public Sheet? Find(string digest) => _byDigest.GetValueOrDefault(digest);

    /// <summary>A picture on the sheets; null when none has it.</summary>
    /// <param name="digest">Its digest, as sheets say it.</param>
    public SheetPicture? FindPicture(string digest) => _pictures.TryGetValue(digest, out Picture? picture)
        ? new SheetPicture(picture.File.Bytes, picture.Format switch { PictureFormat.Png => "image/png", PictureFormat.Jpeg => "image/jpeg", _ => "application/pdf" })
        : null;

    /// <summary>Makes the sheets of a proof.</summary>
    /// <param name="document">The pages.</param>
    /// <param name="positions">Where the words came from.</param>
    /// <param name="leftOut">Pictures that aren't shown.</param>
    /// <param name="last">The sheets of the proof before: what is made already stays.</param>
    /// <param name="budget">Tells whether they are still wanted.</param>
    internal static SheetList Make(TypesetDocument document, PositionTable positions, HashSet<Picture> leftOut, SheetList? last, WorkBudget budget)
    {
        var known = new Dictionary<string, Sheet>(StringComparer.Ordinal);
        foreach (Sheet sheet in last?.Sheets ?? [])
        {
            known.TryAdd(sheet.Digest, sheet);
        }

        var pictures = new ConcurrentDictionary<string, Picture>(StringComparer.Ordinal);
        var sheets = new Sheet[document.Pages.Count];
        SideThread.ForEach(sheets.Length, i =>
        {
            budget.Look();
            Page page = document.Pages[i];
            var origins = new OriginFinder(positions);
            var places = new List<ulong>();
            AddPlaces(page.Marks, 0, origins, places, p => pictures.TryAdd(p.Digest, p));
            UInt128 hash = PageDigest.Of(page, p => leftOut.Contains(p) ? null : p.Digest, MemoryMarshal.AsBytes(CollectionsMarshal.AsSpan(places)));
            string digest = hash.ToString("x32", CultureInfo.InvariantCulture);
            sheets[i] = new Sheet(digest, page, origins.Found, Writer(page, origins.Places, leftOut), known.GetValueOrDefault(digest));
        });
        var targets = document.Pages.SelectMany(p => p.Marks).Select(m => m.Mark).OfType<LinkMark>().Where(l => !l.IsOutside).Select(l => l.Target).ToHashSet(StringComparer.Ordinal);
        return new SheetList(sheets, positions, [.. document.Anchors.Where(a => targets.Contains(a.Key))
            .Select(a => new SheetAnchor(a.Key, a.Value.Sheet)).OrderBy(a => a.Sheet).ThenBy(a => a.Name, StringComparer.Ordinal)], pictures);
    }

    // Holds the page and nothing else of the compile.
    private static Func<byte[]> Writer(Page page, IReadOnlyList<(int Origin, int Offset)> places, HashSet<Picture> leftOut) => () => SheetWriter.Write(page, places, leftOut);

    // What counts beside the looks: where words came from, and what leads where.
    private static void AddPlaces(IReadOnlyList<Placed> marks, int origin, OriginFinder origins, List<ulong> places, Action<Picture> found)
    {
        foreach (Placed placed in marks)
        {
            switch (placed.Mark)
            {
                case GlyphMark glyphs:
                    (int index, int offset) = origins.Of(glyphs, placed.Base + origin);
                    places.Add(((ulong)(uint)index << 32) | (uint)offset);
                    places.Add(glyphs.PlacesHash);
                    break;
                case GroupMark group:
                    AddPlaces(group.Content, placed.Base + origin, origins, places, found);
                    break;
                case ImageMark image:
                    found(image.Picture);
                    break;
                case LinkMark link:
                    places.Add(HashOf(link.Target) + (link.IsOutside ? 1UL : 0));
                    AddNumbers(placed.X, placed.Y, link.Width, link.Height, link.Depth);
                    break;
                case AnchorMark anchor:
                    places.Add(HashOf(anchor.Name));
                    AddNumbers(placed.Y);
                    break;
            }
        }

        void AddNumbers(params ReadOnlySpan<double> numbers)
        {
            foreach (double number in numbers)
            {
                places.Add(BitConverter.DoubleToUInt64Bits(number));
            }
        }

        static ulong HashOf(string text) => System.IO.Hashing.XxHash3.HashToUInt64(MemoryMarshal.AsBytes(text.AsSpan()));
    }

    /// <summary>Finds what the places on one sheet count from.</summary>
    private sealed class OriginFinder(PositionTable positions)
    {
        private readonly Dictionary<int, int> _indexes = [];
        private readonly List<int> _found = [];
        private readonly List<(int Origin, int Offset)> _places = [];
        private (int From, int To) _file = (0, -1);
        private int _last = PositionTable.None;

        /// <summary>The origins in the order in which they were met.</summary>
        public IReadOnlyList<int> Found => _found;

        /// <summary>For each mark with glyphs, in their order, the number of its origin and how far its first position is from it.</summary>
        public IReadOnlyList<(int Origin, int Offset)> Places => _places;

        /// <summary>The number of the origin of a mark, and how far its first position is from it; −1 when it came from nowhere.</summary>
        /// <param name="glyphs">The mark.</param>
        /// <param name="start">What its positions count from.</param>
        public (int Origin, int Offset) Of(GlyphMark glyphs, int start)
        {
            (int, int) place = Find(glyphs, start);
            _places.Add(place);
            return place;
        }

        private (int Origin, int Offset) Find(GlyphMark glyphs, int start)
        {
            if (glyphs.FirstPosition < 0)
            {
                return (-1, 0);
            }

            int position = glyphs.FirstPosition + start;
            int origin = start > 0 ? start : _last >= 0 && position >= _last && position - _last < Reach ? _last : position;
            if (start <= 0)
            {
                _last = origin;
            }

            // A paragraph's words may come from another file than its beginning.
            if (position < _file.From || position > _file.To)
            {
                _file = positions.RangeOf(position);
            }

            if (origin < _file.From || origin > _file.To)
            {
                origin = position;
            }

            if (!_indexes.TryGetValue(origin, out int index))
            {
                _indexes[origin] = index = _found.Count;
                _found.Add(origin);
            }

            return (index, position - origin);
        }
    }
}

/// <summary>A sheet in the list.</summary>
/// <param name="Digest">Its digest.</param>
/// <param name="Width">Width in PDF points (1/72 in).</param>
/// <param name="Height">Height in PDF points.</param>
/// <param name="Label">The page's number as printed.</param>
/// <param name="Origins">The origins that its places count from, as indexes of the list's.</param>
public sealed record SheetEntry(string Digest, double Width, double Height, string Label, IReadOnlyList<int> Origins);

/// <summary>A place that something on the pages leads to.</summary>
/// <param name="Name">Its name.</param>
/// <param name="Sheet">Its sheet, from 1.</param>
public sealed record SheetAnchor(string Name, int Sheet);

/// <summary>A picture on sheets.</summary>
/// <param name="Bytes">The file.</param>
/// <param name="MediaType">What it is; of a PDF one page is shown, whose number stands in the digest.</param>
public sealed record SheetPicture(ReadOnlyMemory<byte> Bytes, string MediaType);
