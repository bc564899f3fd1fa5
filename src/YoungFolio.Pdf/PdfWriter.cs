using System.Collections.Concurrent;
using System.Globalization;
using System.IO.Hashing;
using System.Text;
using YoungFolio.Typesetting.Fonts;
using YoungFolio.Typesetting.Images;
using YoungFolio.Typesetting.Pages;

namespace YoungFolio.Pdf;

/// <summary>What is kept from one file to the next: compressed page streams and cut-down fonts. Safe for several threads.</summary>
public sealed class PdfCache
{
    private const int Capacity = 20_000;
    private readonly ConcurrentDictionary<UInt128, byte[]> _streams = new();

    internal byte[] Get(UInt128 key, Func<byte[]> make)
    {
        if (_streams.TryGetValue(key, out byte[]? known))
        {
            return known;
        }

        if (_streams.Count > Capacity)
        {
            _streams.Clear();
        }

        return _streams[key] = make();
    }
}

/// <summary>What the PDF says of itself.</summary>
/// <param name="Title">Title.</param>
/// <param name="Author">Authors.</param>
public sealed record PdfMetadata(string Title, string Author);

/// <summary>Writes pages as a PDF file (ISO 32000-1). The same pages give the same bytes.</summary>
public sealed class PdfWriter
{
    // PDF counts 72 points to the inch, typesetting 72.27.
    private const double Scale = 72 / 72.27;
    private readonly PdfObjects _objects = new();
    private readonly PdfCache _cache;
    private readonly Dictionary<FontFile, FontUse> _fonts = [];
    private readonly Dictionary<Picture, (string Name, int Number)> _images = new(ReferenceEqualityComparer.Instance);

    private PdfWriter(PdfCache cache) => _cache = cache;

    /// <summary>Writes a document.</summary>
    /// <param name="document">The pages.</param>
    /// <param name="metadata">Title and author.</param>
    /// <param name="cache">What earlier files left.</param>
    /// <param name="damaged">Called for each picture whose data are damaged.</param>
    public static byte[] Write(TypesetDocument document, PdfMetadata metadata, PdfCache cache, Action<ImageMark>? damaged = null) =>
        new PdfWriter(cache).WriteFile(document, metadata, damaged ?? (static _ => { }));

    private byte[] WriteFile(TypesetDocument document, PdfMetadata metadata, Action<ImageMark> damaged)
    {
        foreach (Page page in document.Pages)
        {
            foreach (Placed placed in page.Marks)
            {
                if (placed.Mark is GlyphMark glyphs)
                {
                    Use(glyphs);
                }
                else if (placed.Mark is ImageMark image && !_images.ContainsKey(image.Picture))
                {
                    if (PdfImages.Add(_objects, image.Picture) is { } number)
                    {
                        _images[image.Picture] = ($"I{_images.Count + 1}", number);
                    }
                    else
                    {
                        damaged(image);
                    }
                }
            }
        }

        byte[][] contents = new byte[document.Pages.Count][];
        Parallel.For(0, contents.Length, new ParallelOptions { MaxDegreeOfParallelism = 2 }, i => contents[i] = Content(document.Pages[i]));
        int pagesNumber = _objects.Reserve();
        int[] numbers = [.. document.Pages.Select(_ => _objects.Reserve())];
        string resources = Resources();
        for (int i = 0; i < numbers.Length; i++)
        {
            Page page = document.Pages[i];
            int content = _objects.AddStream("/Filter /FlateDecode", contents[i]);
            string annotations = Links(page, document, numbers);
            _objects.Set(numbers[i],
                $"<</Type /Page /Parent {pagesNumber} 0 R /MediaBox [0 0 {N(page.Width * Scale)} {N(page.Height * Scale)}] "
                + $"/Contents {content} 0 R /Resources {resources}{annotations}>>");
        }

        _objects.Set(pagesNumber, $"<</Type /Pages /Count {numbers.Length} /Kids [{string.Join(' ', numbers.Select(n => n + " 0 R"))}]>>");
        int? outline = Outline(document, numbers);
        int info = _objects.Add($"<</Title {PdfObjects.Text(metadata.Title)} /Author {PdfObjects.Text(metadata.Author)} /Producer {PdfObjects.Text("Young Folio")}>>");
        int root = _objects.Add(
            $"<</Type /Catalog /Pages {pagesNumber} 0 R /PageLabels {PageLabels(document.Pages)}"
            + (outline is null ? "" : $" /Outlines {outline} 0 R /PageMode /UseOutlines")
            + (metadata.Title.Length > 0 ? " /ViewerPreferences <</DisplayDocTitle true>>" : "") + ">>");
        return _objects.Write(root, info);
    }

    private static string N(double value)
    {
        string text = Math.Round(value, 3).ToString("0.###", CultureInfo.InvariantCulture);
        return text == "-0" ? "0" : text;
    }

    // ---- page content ----------------------------------------------------------------------------------

    private byte[] Content(Page page)
    {
        var text = new StringBuilder();
        var run = new TextLine(this, text);
        int colour = 0;
        foreach (Placed placed in page.Marks)
        {
            double x = placed.X * Scale;
            double y = (page.Height - placed.Y) * Scale;
            switch (placed.Mark)
            {
                case GlyphMark glyphs:
                    if (glyphs.Colour != colour)
                    {
                        run.End();
                        Fill(glyphs.Colour);
                    }

                    run.Add(glyphs, x, y);
                    break;
                case RuleMark rule:
                    run.End();
                    if (rule.Colour != colour)
                    {
                        Fill(rule.Colour);
                    }

                    text.Append(CultureInfo.InvariantCulture, $"{N(x)} {N(y)} {N(rule.Width * Scale)} {N(rule.Height * Scale)} re f\n");
                    break;
                case ImageMark image when _images.TryGetValue(image.Picture, out (string Name, int Number) known):
                    run.End();
                    double angle = image.Angle * Math.PI / 180;
                    double width = image.Width * Scale;
                    double height = image.Height * Scale;
                    text.Append(CultureInfo.InvariantCulture,
                        $"q {N(width * Math.Cos(angle))} {N(width * Math.Sin(angle))} {N(-height * Math.Sin(angle))} {N(height * Math.Cos(angle))} {N(x)} {N(y)} cm /{known.Name} Do Q\n");
                    break;
            }
        }

        run.End();
        void Fill(int wanted)
        {
            colour = wanted;
            text.Append(CultureInfo.InvariantCulture, $"{N((colour >> 16 & 255) / 255.0)} {N((colour >> 8 & 255) / 255.0)} {N((colour & 255) / 255.0)} rg\n");
        }

        byte[] bytes = Encoding.Latin1.GetBytes(text.ToString());
        return _cache.Get(XxHash128.HashToUInt128(bytes), () => PdfObjects.Deflate(bytes));
    }

    /// <summary>Gathers glyphs on one baseline, with real spaces between words so that text copies well.</summary>
    private sealed class TextLine(PdfWriter writer, StringBuilder text)
    {
        private readonly StringBuilder _array = new();
        private bool _open;
        private FontFile? _font;
        private double _size;
        private double _baseline = double.NaN;
        private double _pen;
        private bool _inHex;

        public void Add(GlyphMark mark, double x, double y)
        {
            double size = mark.Size * Scale;
            bool sameLine = _open && Math.Abs(y - _baseline) < size * 0.6;
            bool joins = sameLine && ReferenceEquals(_font, mark.Font) && Math.Abs(_size - size) < 1e-6 && Math.Abs(y - _baseline) < 1e-4
                && x > _pen - size;
            if (sameLine && x - _pen > 0.12 * size && _font is not null)
            {
                Glyph(writer._fonts[_font].Space, _font);
            }

            if (!joins)
            {
                Flush();
                if (!_open)
                {
                    text.Append("BT\n");
                    _open = true;
                }

                text.Append(CultureInfo.InvariantCulture, $"/{writer._fonts[mark.Font].Name} {N(size)} Tf 1 0 0 1 {N(x)} {N(y)} Tm\n");
                (_font, _size, _baseline, _pen) = (mark.Font, size, y, Math.Round(x, 3));
            }

            for (int i = 0; i < mark.Glyphs.Length; i++)
            {
                double at = x + (mark.Edges[i] * Scale);
                double shift = Math.Round((_pen - at) * 1000 / _size);
                if (shift != 0)
                {
                    CloseHex();
                    _array.Append(N(shift));
                    _pen -= shift * _size / 1000;
                }

                Glyph(mark.Glyphs[i], mark.Font);
            }
        }

        public void End()
        {
            Flush();
            if (_open)
            {
                text.Append("ET\n");
                _open = false;
            }

            _baseline = double.NaN;
            _font = null;
        }

        private void Glyph(uint glyph, FontFile font)
        {
            if (!_inHex)
            {
                _array.Append('<');
                _inHex = true;
            }

            _array.Append(CultureInfo.InvariantCulture, $"{glyph:X4}");
            // The viewer moves by the width that the file states, which is rounded.
            _pen += Width(font, glyph) * _size / 1000;
        }

        private void CloseHex()
        {
            if (_inHex)
            {
                _array.Append('>');
                _inHex = false;
            }
        }

        private void Flush()
        {
            CloseHex();
            if (_array.Length > 0)
            {
                text.Append('[').Append(_array).Append("] TJ\n");
                _array.Clear();
            }
        }
    }

    private static int Width(FontFile font, uint glyph) => (int)Math.Round(font.Advance(glyph) * 1000);

    // ---- fonts -----------------------------------------------------------------------------------------

    private sealed record FontUse(string Name, uint Space)
    {
        public SortedDictionary<uint, string> Glyphs { get; } = [];
    }

    private void Use(GlyphMark mark)
    {
        if (!_fonts.TryGetValue(mark.Font, out FontUse? use))
        {
            uint space = mark.Font.GlyphOf(' ');
            _fonts[mark.Font] = use = new FontUse($"F{_fonts.Count + 1}", space);
            use.Glyphs[space] = " ";
        }

        for (int i = 0; i < mark.Glyphs.Length; i++)
        {
            if (!use.Glyphs.TryGetValue(mark.Glyphs[i], out string? known) || known.Length == 0)
            {
                use.Glyphs[mark.Glyphs[i]] = mark.Texts[i];
            }
        }
    }

    private string Resources()
    {
        var fonts = new StringBuilder();
        foreach ((FontFile font, FontUse use) in _fonts)
        {
            fonts.Append(CultureInfo.InvariantCulture, $"/{use.Name} {AddFont(font, use)} 0 R ");
        }

        string images = string.Concat(_images.Values.Select(i => $"/{i.Name} {i.Number} 0 R "));
        int number = _objects.Add($"<</Font <<{fonts}>> /XObject <<{images}>>>>");
        return $"{number} 0 R";
    }

    private int AddFont(FontFile font, FontUse use)
    {
        uint[] glyphs = [.. use.Glyphs.Keys];
        byte[] key = new byte[glyphs.Length * 4];
        Buffer.BlockCopy(glyphs, 0, key, 0, key.Length);
        UInt128 hash = XxHash128.HashToUInt128([.. Encoding.UTF8.GetBytes(font.Name), .. key]);
        string name = Tag(hash) + "+" + font.Name;
        byte[] program = _cache.Get(hash, () => PdfObjects.Deflate(CffSubset.Make(font.Table("CFF "), glyphs, name)));
        int file = _objects.AddStream("/Subtype /CIDFontType0C /Filter /FlateDecode", program);
        int ascent = (int)Math.Round(font.Ascent * 1000);
        int descent = -(int)Math.Round(font.Descent * 1000);
        bool italic = font.Name.Contains("italic", StringComparison.Ordinal);
        int flags = 4 | (italic ? 64 : 0) | (font.Name.Contains("cursor", StringComparison.Ordinal) ? 1 : 0);
        int descriptor = _objects.Add(
            $"<</Type /FontDescriptor /FontName /{name} /Flags {flags} /FontBBox [-500 {descent} 1500 {ascent}] /ItalicAngle {(italic ? -10 : 0)} "
            + $"/Ascent {ascent} /Descent {descent} /CapHeight 700 /StemV {(font.Name.Contains("bold", StringComparison.Ordinal) ? 120 : 80)} /FontFile3 {file} 0 R>>");
        string widths = string.Join(' ', glyphs.Select(g => $"{g} [{Width(font, g)}]"));
        int descendant = _objects.Add(
            $"<</Type /Font /Subtype /CIDFontType0 /BaseFont /{name} /CIDSystemInfo <</Registry (Adobe) /Ordering (Identity) /Supplement 0>> "
            + $"/FontDescriptor {descriptor} 0 R /DW 1000 /W [{widths}]>>");
        int unicode = _objects.AddStream("/Filter /FlateDecode", PdfObjects.Deflate(Encoding.ASCII.GetBytes(ToUnicode(use))));
        return _objects.Add(
            $"<</Type /Font /Subtype /Type0 /BaseFont /{name} /Encoding /Identity-H /DescendantFonts [{descendant} 0 R] /ToUnicode {unicode} 0 R>>");
    }

    // Six capital letters mark a subset (ISO 32000-1, 9.6.4).
    private static string Tag(UInt128 hash)
    {
        Span<char> tag = stackalloc char[6];
        for (int i = 0; i < 6; i++)
        {
            tag[i] = (char)('A' + (int)(hash % 26));
            hash /= 26;
        }

        return tag.ToString();
    }

    private static string ToUnicode(FontUse use)
    {
        var text = new StringBuilder(
            "/CIDInit /ProcSet findresource begin 12 dict begin begincmap /CIDSystemInfo <</Registry (Adobe) /Ordering (UCS) /Supplement 0>> def "
            + "/CMapName /Adobe-Identity-UCS def /CMapType 2 def 1 begincodespacerange <0000> <FFFF> endcodespacerange\n");
        foreach (KeyValuePair<uint, string>[] chunk in use.Glyphs.Where(g => g.Value.Length > 0).Chunk(100))
        {
            text.Append(CultureInfo.InvariantCulture, $"{chunk.Length} beginbfchar\n");
            foreach ((uint glyph, string shown) in chunk)
            {
                text.Append(CultureInfo.InvariantCulture, $"<{glyph:X4}> <{Convert.ToHexString(Encoding.BigEndianUnicode.GetBytes(shown))}>\n");
            }

            text.Append("endbfchar\n");
        }

        return text.Append("endcmap CMapName currentdict /CMap defineresource pop end end").ToString();
    }

    // ---- links, outline, labels ------------------------------------------------------------------------

    private string Links(Page page, TypesetDocument document, int[] numbers)
    {
        var links = new List<string>();
        foreach (Placed placed in page.Marks)
        {
            if (placed.Mark is not LinkMark link)
            {
                continue;
            }

            string? action = link.IsOutside
                ? $"/A <</S /URI /URI ({Escape(link.Target)})>>"
                : document.Anchors.TryGetValue(link.Target, out AnchorPlace place) ? "/Dest " + Destination(document, numbers, place) : null;
            if (action is not null)
            {
                double x = placed.X * Scale;
                double y = (page.Height - placed.Y) * Scale;
                links.Add($"{_objects.Add($"<</Type /Annot /Subtype /Link /Border [0 0 0] /Rect [{N(x)} {N(y - (link.Depth * Scale))} {N(x + (link.Width * Scale))} {N(y + (link.Height * Scale))}] {action}>>")} 0 R");
            }
        }

        return links.Count == 0 ? "" : $" /Annots [{string.Join(' ', links)}]";
    }

    private static string Destination(TypesetDocument document, int[] numbers, AnchorPlace place)
    {
        // A little above the baseline, so that the line itself is seen.
        double y = (document.Pages[place.Sheet - 1].Height - place.Y + 16) * Scale;
        return $"[{numbers[place.Sheet - 1]} 0 R /XYZ null {N(y)} null]";
    }

    private static string Escape(string text)
    {
        var result = new StringBuilder();
        foreach (byte b in Encoding.UTF8.GetBytes(text))
        {
            result.Append(b is (byte)'(' or (byte)')' or (byte)'\\' ? "\\" + (char)b : b is < 33 or > 126 ? "%" + b.ToString("X2", CultureInfo.InvariantCulture) : ((char)b).ToString());
        }

        return result.ToString();
    }

    private sealed class OutlineNode
    {
        public int Number;
        public int Level;
        public string Title = "";
        public string Destination = "";
        public List<OutlineNode> Children { get; } = [];

        public int Count => Children.Count + Children.Sum(c => c.Count);
    }

    private int? Outline(TypesetDocument document, int[] numbers)
    {
        var root = new OutlineNode { Level = -2 };
        var path = new Stack<OutlineNode>([root]);
        foreach (OutlineEntry entry in document.Outline)
        {
            if (!document.Anchors.TryGetValue(entry.Anchor, out AnchorPlace place))
            {
                continue;
            }

            while (path.Peek().Level >= entry.Level)
            {
                path.Pop();
            }

            var node = new OutlineNode
            {
                Number = _objects.Reserve(),
                Level = entry.Level,
                Title = entry.Number is null ? entry.Title : entry.Number + " " + entry.Title,
                Destination = Destination(document, numbers, place),
            };
            path.Peek().Children.Add(node);
            path.Push(node);
        }

        if (root.Children.Count == 0)
        {
            return null;
        }

        root.Number = _objects.Reserve();
        WriteOutline(root);
        _objects.Set(root.Number, $"<</Type /Outlines /First {root.Children[0].Number} 0 R /Last {root.Children[^1].Number} 0 R /Count {root.Count}>>");
        return root.Number;
    }

    private void WriteOutline(OutlineNode parent)
    {
        for (int i = 0; i < parent.Children.Count; i++)
        {
            OutlineNode node = parent.Children[i];
            _objects.Set(node.Number,
                $"<</Title {PdfObjects.Text(node.Title)} /Parent {parent.Number} 0 R /Dest {node.Destination}"
                + (i > 0 ? $" /Prev {parent.Children[i - 1].Number} 0 R" : "")
                + (i + 1 < parent.Children.Count ? $" /Next {parent.Children[i + 1].Number} 0 R" : "")
                + (node.Children.Count > 0 ? $" /First {node.Children[0].Number} 0 R /Last {node.Children[^1].Number} 0 R /Count {node.Count}" : "") + ">>");
            WriteOutline(node);
        }
    }

    // Ranges of pages whose numbers follow each other in one style.
    private static string PageLabels(IReadOnlyList<Page> pages)
    {
        var ranges = new StringBuilder();
        (string Style, int Number)? last = null;
        for (int i = 0; i < pages.Count; i++)
        {
            string label = pages[i].Label;
            (string Style, int Number) now = int.TryParse(label, NumberStyles.None, CultureInfo.InvariantCulture, out int number) ? ("/D", number) : ("/r", RomanValue(label));
            if (last is not { } l || l.Style != now.Style || l.Number + 1 != now.Number)
            {
                ranges.Append(CultureInfo.InvariantCulture, $"{i} <</S {now.Style} /St {Math.Max(1, now.Number)}>> ");
            }

            last = now;
        }

        return $"<</Nums [{ranges}]>>";
    }

    private static int RomanValue(string text)
    {
        int value = 0;
        int before = 0;
        foreach (char c in text.ToLowerInvariant().Reverse())
        {
            int digit = c switch { 'i' => 1, 'v' => 5, 'x' => 10, 'l' => 50, 'c' => 100, 'd' => 500, 'm' => 1000, _ => 0 };
            value += digit < before ? -digit : digit;
            before = Math.Max(before, digit);
        }

        return value;
    }
}
