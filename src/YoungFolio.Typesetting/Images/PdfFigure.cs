using System.Globalization;
using System.Text;
using UglyToad.PdfPig;
using UglyToad.PdfPig.Core;
using UglyToad.PdfPig.Exceptions;
using UglyToad.PdfPig.Tokens;
using YoungFolio.Markup;

namespace YoungFolio.Typesetting.Images;

/// <summary>An object of a foreign PDF as text, or as a stream with the inside of its dictionary.</summary>
/// <param name="Text">The text of a plain object, or of a stream's dictionary without its brackets. References to other objects stand between <see cref="PdfFigure.Open"/> and <see cref="PdfFigure.Close"/>.</param>
/// <param name="Stream">The stream's bytes, or null.</param>
public sealed record PdfFigureObject(string Text, byte[]? Stream);

/// <summary>A page of a foreign PDF, to be placed as vectors (ISO 32000-1, 8.10).</summary>
public sealed class PdfFigure
{
    /// <summary>Stands before a reference's number.</summary>
    public const char Open = '\uE000';

    /// <summary>Stands after a reference's number.</summary>
    public const char Close = '\uE001';

    private PdfFigure(double width, double height, IReadOnlyList<PdfFigureObject> objects) => (Width, Height, Objects) = (width, height, objects);

    /// <summary>Width in points of 1/72.27 in.</summary>
    public double Width { get; }

    /// <summary>Height in points of 1/72.27 in.</summary>
    public double Height { get; }

    /// <summary>The form that draws the page into a square of one by one, and then what it needs; references count from 0.</summary>
    public IReadOnlyList<PdfFigureObject> Objects { get; }

    /// <summary>Reads a page, counted from 1.</summary>
    /// <returns>The figure, or null and a reason in plain words.</returns>
    public static (PdfFigure? Figure, string? Reason) Read(byte[] bytes, int page) => With(bytes, d => new Reader(d).Read(page), static reason => (null, reason));

    /// <summary>How many pages a file has; null: it can't be read.</summary>
    public static int? CountPages(byte[] bytes) => With<int?>(bytes, static d => d.NumberOfPages, static _ => null);

    private static T With<T>(byte[] bytes, Func<PdfDocument, T> read, Func<string, T> refuse)
    {
        if (PdfGuard.Refusal(bytes) is { } refusal)
        {
            return refuse(refusal);
        }

        try
        {
            using PdfDocument document = PdfDocument.Open(bytes, new ParsingOptions { UseLenientParsing = true });
            return read(document);
        }
        catch (PdfDocumentEncryptedException)
        {
            return refuse("it is protected by a password");
        }
        catch (Exception e) when (e is not OutOfMemoryException)
        {
            // The library that reads foreign files throws whatever a damaged one makes it.
            return refuse("its data are damaged");
        }
    }

    private sealed class Reader(PdfDocument document)
    {
        private const int MostObjects = 100_000;
        private const int MostDepth = 200;

        private readonly List<PdfFigureObject?> _objects = [null];
        private readonly Dictionary<IndirectReference, int> _numbers = [];
        private readonly Queue<(IndirectReference Reference, int Number)> _waiting = new();

        public (PdfFigure?, string?) Read(int page)
        {
            int left = page;
            if (Find(document.Structure.Catalog.CatalogDictionary.Data.GetValueOrDefault("Pages"), [], ref left, 0) is not { } found)
            {
                return (null, page == 1 ? "it has no pages" : $"it has no page {page}");
            }

            double[]? box = Numbers(found.GetValueOrDefault("CropBox")) ?? Numbers(found.GetValueOrDefault("MediaBox"));
            if (box is not { Length: 4 })
            {
                return (null, "its page has no size");
            }

            (double x0, double y0, double x1, double y1) = (Math.Min(box[0], box[2]), Math.Min(box[1], box[3]), Math.Max(box[0], box[2]), Math.Max(box[1], box[3]));
            (double w, double h) = (x1 - x0, y1 - y0);
            if (w < 1 || h < 1 || w > 20_000 || h > 20_000)
            {
                return (null, "its page has no size that can be set");
            }

            int turn = Resolve(found.GetValueOrDefault("Rotate")) is NumericToken rotate ? (((int)rotate.Double % 360) + 360) % 360 : 0;
            // The page, turned as it says, fills a square of one by one.
            string matrix = turn switch
            {
                90 => $"0 {N(-1 / w)} {N(1 / h)} 0 {N(-y0 / h)} {N(x1 / w)}",
                180 => $"{N(-1 / w)} 0 0 {N(-1 / h)} {N(x1 / w)} {N(y1 / h)}",
                270 => $"0 {N(1 / w)} {N(-1 / h)} 0 {N(y1 / h)} {N(-x0 / w)}",
                _ => $"{N(1 / w)} 0 0 {N(1 / h)} {N(-x0 / w)} {N(-y0 / h)}",
            };
            (byte[] content, string filter) = Content(found.GetValueOrDefault("Contents"));
            string head = $"/Type /XObject /Subtype /Form /BBox [{N(x0)} {N(y0)} {N(x1)} {N(y1)}] /Matrix [{matrix}] /Resources {Write(found.GetValueOrDefault("Resources") ?? NullToken.Instance, 0)}"
                + (found.TryGetValue("Group", out IToken? group) ? " /Group " + Write(group, 0) : "") + filter;
            _objects[0] = new PdfFigureObject(head, content);
            while (_waiting.TryDequeue(out (IndirectReference Reference, int Number) next))
            {
                _objects[next.Number] = Copy(document.Structure.GetObject(next.Reference)?.Data);
            }

            return (new PdfFigure((turn % 180 == 0 ? w : h) * Units.BigPoint, (turn % 180 == 0 ? h : w) * Units.BigPoint, [.. _objects.Select(o => o!)]), null);
        }

        // Walks the tree of pages; what a page doesn't say it has from the nodes above.
        private Dictionary<string, IToken>? Find(IToken? node, Dictionary<string, IToken> above, ref int left, int depth)
        {
            if (depth > MostDepth || Resolve(node) is not DictionaryToken dictionary)
            {
                return null;
            }

            var own = new Dictionary<string, IToken>(above, StringComparer.Ordinal);
            foreach (string key in (string[])["Resources", "MediaBox", "CropBox", "Rotate"])
            {
                if (dictionary.Data.TryGetValue(key, out IToken? value))
                {
                    own[key] = value;
                }
            }

            if (Resolve(dictionary.Data.GetValueOrDefault("Kids")) is ArrayToken kids)
            {
                foreach (IToken kid in kids.Data)
                {
                    if (Find(kid, own, ref left, depth + 1) is { } page)
                    {
                        return page;
                    }

                    if (left <= 0)
                    {
                        return null;
                    }
                }

                return null;
            }

            if (--left > 0)
            {
                return null;
            }

            foreach (string key in (string[])["Contents", "Group"])
            {
                if (dictionary.Data.TryGetValue(key, out IToken? value))
                {
                    own[key] = value;
                }
            }

            return own;
        }

        private IToken? Resolve(IToken? token)
        {
            for (int i = 0; i < 20 && token is IndirectReferenceToken reference; i++)
            {
                token = document.Structure.GetObject(reference.Data)?.Data;
            }

            return token;
        }

        private double[]? Numbers(IToken? token) => Resolve(token) is ArrayToken array
            ? [.. array.Data.Select(t => Resolve(t) is NumericToken n ? n.Double : 0)] : null;

        private (byte[] Bytes, string Filter) Content(IToken? token)
        {
            switch (Resolve(token))
            {
                case StreamToken stream when IsOld(stream):
                    return (Decoded(stream), "");
                case StreamToken stream:
                    return (stream.Data.ToArray(), FilterOf(stream));
                case ArrayToken array:
                    var joined = new MemoryStream();
                    foreach (IToken part in array.Data)
                    {
                        if (Resolve(part) is StreamToken piece)
                        {
                            joined.Write(Decoded(piece));
                            joined.WriteByte((byte)'\n');
                        }
                    }

                    return (joined.ToArray(), "");
                default:
                    return ([], "");
            }
        }

        // LZW is packed anew: archival files may not have it (ISO 19005-2, 6.1.7.2).
        private bool IsOld(StreamToken stream) => stream.StreamDictionary.Data.TryGetValue("Filter", out IToken? filter)
            && (Resolve(filter) is NameToken { Data: "LZWDecode" or "LZW" } || (Resolve(filter) is ArrayToken all && all.Data.Any(f => Resolve(f) is NameToken { Data: "LZWDecode" or "LZW" })));

        private byte[] Decoded(StreamToken stream) => stream.Decode(document.Structure.FilterProvider, document.Structure.TokenScanner).ToArray();

        private string FilterOf(StreamToken stream) => string.Concat(((string[])["Filter", "DecodeParms"])
            .Where(k => stream.StreamDictionary.Data.ContainsKey(k)).Select(k => $" /{k} {Write(Resolve(stream.StreamDictionary.Data[k])!, 0)}"));

        private PdfFigureObject Copy(IToken? token) => token is StreamToken old && IsOld(old) ? new PdfFigureObject(Inside(old.StreamDictionary, 0, "Length", "Filter", "DecodeParms"), Decoded(old))
            : token is StreamToken stream ? new PdfFigureObject(Inside(stream.StreamDictionary, 0, "Length"), stream.Data.ToArray())
            : new PdfFigureObject(Write(token ?? NullToken.Instance, 0), null);

        private int NumberOf(IndirectReference reference)
        {
            if (_numbers.TryGetValue(reference, out int number))
            {
                return number;
            }

            if (_objects.Count >= MostObjects)
            {
                throw new InvalidOperationException("The file has too many objects.");
            }

            number = _objects.Count;
            _numbers[reference] = number;
            _objects.Add(null);
            _waiting.Enqueue((reference, number));
            return number;
        }

        private string Inside(DictionaryToken dictionary, int depth, params string[] without) => string.Join(' ', dictionary.Data
            .Where(d => !without.Contains(d.Key) && d.Key is not ("StructParents" or "StructParent" or "Parent" or "Metadata" or "PieceInfo"))
            .Select(d => $"{Name(d.Key)} {Write(d.Value, depth + 1)}"));

        private string Write(IToken token, int depth)
        {
            if (depth > MostDepth)
            {
                throw new InvalidOperationException("The file's objects are nested too deeply.");
            }

            switch (token)
            {
                case IndirectReferenceToken reference:
                    // What leads back to the pages would bring the whole file along.
                    return Resolve(reference) is DictionaryToken d && d.Data.GetValueOrDefault("Type") is NameToken { Data: "Page" or "Pages" or "Catalog" }
                        ? "null" : $"{Open}{NumberOf(reference.Data)}{Close}";
                case DictionaryToken dictionary:
                    return $"<<{Inside(dictionary, depth)}>>";
                case ArrayToken array:
                    return $"[{string.Join(' ', array.Data.Select(t => Write(t, depth + 1)))}]";
                case NameToken name:
                    return Name(name.Data);
                case NumericToken number:
                    return N(number.Double);
                case StringToken text:
                    return $"<{Convert.ToHexString(text.GetBytes())}>";
                case HexToken hex:
                    return $"<{Convert.ToHexString(hex.Bytes)}>";
                case BooleanToken boolean:
                    return boolean.Data ? "true" : "false";
                default:
                    return "null";
            }
        }

        private static string N(double value)
        {
            string text = value.ToString("0.#########", CultureInfo.InvariantCulture);
            return text == "-0" ? "0" : text;
        }

        private static string Name(string name)
        {
            var text = new StringBuilder("/");
            foreach (byte b in Encoding.Latin1.GetBytes(name))
            {
                bool plain = b is > 32 and < 127 && !"()<>[]{}/%#".Contains((char)b, StringComparison.Ordinal);
                text.Append(plain ? ((char)b).ToString() : "#" + b.ToString("X2", CultureInfo.InvariantCulture));
            }

            return text.ToString();
        }
    }
}
