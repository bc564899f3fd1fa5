using System.Globalization;
using System.IO.Hashing;
using System.Text;
using YoungFolio.Documents;
using YoungFolio.Documents.LogicalStructure;
using YoungFolio.Markup;
using YoungFolio.Pdf.Accessible;
using YoungFolio.Typesetting.Fonts;
using YoungFolio.Typesetting.Images;
using YoungFolio.Typesetting.Pages;

namespace YoungFolio.Pdf;

/// <summary>What the PDF says of itself.</summary>
/// <param name="Title">Title.</param>
/// <param name="Author">Authors.</param>
/// <param name="Language">The language, such as <c>en-gb</c>; empty: it isn't said.</param>
public sealed record PdfMetadata(string Title, string Author, string Language = "");

/// <summary>Writes pages as a PDF file (ISO 32000-1). The same pages give the same bytes.</summary>
public sealed class PdfWriter
{
    private const double Scale = PageContent.Scale;
    private const string Producer = "Young Folio";

    private readonly PdfObjects _objects = new();
    private readonly PdfCache _cache;
    private readonly Dictionary<FontFile, Dictionary<uint, string>> _fonts = [];
    private readonly Dictionary<Picture, (string Name, int Number)> _images = new(ReferenceEqualityComparer.Instance);

    private readonly HashSet<Picture> _seen = new(ReferenceEqualityComparer.Instance);
    private readonly GraphicsStates _states = new();

    private readonly PdfFlavour _flavour;

    private readonly StructureTree? _structure;
    private StructureWriter? _tags;

    private PdfWriter(PdfCache cache, PdfFlavour flavour, StructureTree? structure) => (_cache, _flavour, _structure) = (cache, flavour, structure);

    /// <summary>Writes a document.</summary>
    /// <param name="document">The pages.</param>
    /// <param name="metadata">Title and author.</param>
    /// <param name="cache">What earlier files left.</param>
    /// <param name="flavour">What it is for; null: reading and printing.</param>
    /// <param name="structure">What the document is made of, for an accessible one; its marks tell what they show.</param>
    /// <param name="budget">Tells whether the file is still wanted; null: it is.</param>
    public static byte[] Write(TypesetDocument document, PdfMetadata metadata, PdfCache cache, PdfFlavour? flavour = null, StructureTree? structure = null, WorkBudget? budget = null) =>
        new PdfWriter(cache, flavour ?? PdfFlavour.Usual, structure).WriteFile(document, metadata, budget ?? new WorkBudget());

    private byte[] WriteFile(TypesetDocument document, PdfMetadata metadata, WorkBudget budget)
    {
        foreach (LeftOutPicture picture in LeftOutPicture.Of(document.Pages, budget))
        {
            _seen.Add(picture.Mark.Picture);
        }

        AddImages(document, budget);
        TaggedPages? tagged = _structure is null ? null : TaggedPages.Of(_structure, document.Pages);
        var contents = new PageContent[document.Pages.Count];
        SideThread.ForEach(contents.Length, i =>
        {
            budget.Look();
            contents[i] = tagged is null ? PageContent.Of(document.Pages[i], _images, _cache) : PageContent.Tagged(document.Pages[i], _images, tagged.Openings[i]);
        });
        foreach (PageContent content in contents)
        {
            budget.Look();
            Use(content);
        }

        int pagesNumber = _objects.Reserve();
        int[] numbers = [.. document.Pages.Select(_ => _objects.Reserve())];
        _tags = tagged is null ? null : new StructureWriter(_objects, tagged, _structure!.Root, numbers);
        string resources = Resources();
        for (int i = 0; i < numbers.Length; i++)
        {
            budget.Look();
            Page page = document.Pages[i];
            int content = _objects.AddStream("/Filter /FlateDecode", contents[i].Stream);
            string annotations = Links(page, document, numbers);
            _objects.Set(numbers[i],
                $"<</Type /Page /Parent {pagesNumber} 0 R /MediaBox [0 0 {N(page.Width * Scale)} {N(page.Height * Scale)}] "
                + $"/Contents {content} 0 R /Resources {resources}{annotations}{(tagged is null ? "" : StructureWriter.PageEntries(i))}>>");
        }

        _objects.Set(pagesNumber, $"<</Type /Pages /Count {numbers.Length} /Kids [{string.Join(' ', numbers.Select(n => n + " 0 R"))}]>>");
        int? outline = Outline(document, numbers);
        string said = string.Concat(new[] { ("Title", metadata.Title), ("Author", metadata.Author) }.Where(e => !HasPacket || e.Item2.Length > 0).Select(e => $"/{e.Item1} {PdfObjects.Text(e.Item2)} "));
        int info = _objects.Add($"<<{said}/Producer {PdfObjects.Text(Producer)}>>");
        int root = _objects.Add(
            $"<</Type /Catalog /Pages {pagesNumber} 0 R /PageLabels {PageLabels(document.Pages)}"
            + (outline is null ? "" : $" /Outlines {outline} 0 R /PageMode /UseOutlines")
            + (metadata.Language.Length > 0 ? $" /Lang {PdfObjects.Text(LanguageTag.Of(metadata.Language))}" : "")
            + (metadata.Title.Length > 0 ? " /ViewerPreferences <</DisplayDocTitle true>>" : "") + _tags?.Write() + Described(document, metadata) + Attached() + ">>");
        return _objects.Write(root, info);
    }

    // ---- for keeping (ISO 19005-2), and for those who don't see it (ISO 14289-1) ---------------------------

    private bool HasPacket => _flavour.IsArchival || _flavour.IsAccessible;

    private string Described(TypesetDocument document, PdfMetadata metadata)
    {
        if (!HasPacket)
        {
            return "";
        }

        // A file in which something isn't as the standard wants it doesn't say that it keeps to it (ISO 19005-2, 6.6.4). Formulas that go along
        // as files are none that PDF/A-2 allows.
        bool isAccessible = _structure is { Obstacles.Count: 0 } && !ArchivalRules.AreUnreadable(document.Pages);
        char level = !_images.Keys.All(ArchivalRules.HasReadableText) ? 'B' : isAccessible ? 'A' : 'U';
        (int, char)? conformance = !_flavour.IsArchival || ArchivalRules.AreBroken(document.Pages) ? null : (_flavour.Attached is null && _structure is null ? 2 : 3, level);
        int packet = _objects.AddStream("/Type /Metadata /Subtype /XML", XmpPacket.Of(metadata with { Language = LanguageTag.Of(metadata.Language) }, Producer, conformance, isAccessible));
        if (!_flavour.IsArchival)
        {
            return $" /Metadata {packet} 0 R";
        }

        int profile = _objects.AddStream("/N 3 /Filter /FlateDecode", PdfObjects.Deflate(ColourProfile.Srgb));
        string name = PdfObjects.Text("sRGB IEC61966-2.1");
        return $" /Metadata {packet} 0 R /OutputIntents [<</Type /OutputIntent /S /GTS_PDFA1 /OutputConditionIdentifier {name} /Info {name} /DestOutputProfile {profile} 0 R>>]";
    }

    private string Attached()
    {
        if (_flavour.Attached is not { } file)
        {
            return "";
        }

        // Clause 6.8 of ISO 19005-3: what kind of data it is, how it belongs to the document, and a list of all at the document's root.
        int data = _objects.AddStream(
            $"/Type /EmbeddedFile /Subtype /{file.MediaType.Replace("/", "#2F", StringComparison.Ordinal)} /Params <</Size {file.Bytes.Length} /ModDate (D:{file.Date:yyyyMMdd}000000Z)>> /Filter /FlateDecode",
            PdfObjects.Deflate(file.Bytes.Span));
        string name = PdfObjects.Text(file.Name);
        int specification = _objects.Add($"<</Type /Filespec /F {name} /UF {name} /Desc {PdfObjects.Text(file.Says)} /AFRelationship /Source /EF <</F {data} 0 R /UF {data} 0 R>>>>");
        return $" /AF [{specification} 0 R] /Names <</EmbeddedFiles <</Names [{name} {specification} 0 R]>>>>";
    }

    private void AddImages(TypesetDocument document, WorkBudget budget)
    {
        foreach (Page page in document.Pages)
        {
            AddImages(page.Marks, budget);
        }
    }

    private void AddImages(IReadOnlyList<Placed> marks, WorkBudget budget)
    {
        foreach (Placed placed in marks)
        {
            if (placed.Mark is GroupMark group)
            {
                AddImages(group.Content, budget);
            }

            _states.Use(placed.Mark);
            if (placed.Mark is ImageMark image && _seen.Add(image.Picture))
            {
                budget.Look();
                _images[image.Picture] = ($"I{_images.Count + 1}", PdfImages.Add(_objects, image.Picture));
            }
        }
    }

    private static string N(double value) => PageContent.N(value);

    // ---- fonts -----------------------------------------------------------------------------------------

    private void Use(PageContent content)
    {
        foreach ((FontFile font, IReadOnlyList<(uint Glyph, string Text)> glyphs) in content.Fonts)
        {
            if (!_fonts.TryGetValue(font, out Dictionary<uint, string>? use))
            {
                _fonts[font] = use = new Dictionary<uint, string> { [font.GlyphOf(' ')] = " " };
            }

            foreach ((uint glyph, string text) in glyphs)
            {
                if (!use.TryGetValue(glyph, out string? known) || known.Length == 0)
                {
                    use[glyph] = text;
                }
            }
        }
    }

    private string Resources()
    {
        var fonts = new StringBuilder();
        foreach ((FontFile font, Dictionary<uint, string> use) in _fonts.OrderBy(f => f.Key.Name, StringComparer.Ordinal))
        {
            fonts.Append(CultureInfo.InvariantCulture, $"/{PageContent.NameOf(font)} {AddFont(font, use)} 0 R ");
        }

        string images = string.Concat(_images.Values.Select(i => $"/{i.Name} {i.Number} 0 R "));
        int number = _objects.Add($"<</Font <<{fonts}>> /XObject <<{images}>>{_states.Entries}>>");
        return $"{number} 0 R";
    }

    private int AddFont(FontFile font, Dictionary<uint, string> use)
    {
        uint[] glyphs = [.. use.Keys.Order()];
        byte[] key = new byte[glyphs.Length * 4];
        Buffer.BlockCopy(glyphs, 0, key, 0, key.Length);
        UInt128 hash = XxHash128.HashToUInt128([.. Encoding.UTF8.GetBytes(font.Name), .. key]);
        string name = Tag(hash) + "+" + font.Name;
        byte[] program = _cache.Get(hash, () => PdfObjects.Deflate(CffSubset.Make(font.Table("CFF "), glyphs, name)));
        int file = _objects.AddStream("/Subtype /CIDFontType0C /Filter /FlateDecode", program);
        int ascent = (int)Math.Round(font.Ascent * 1000);
        int descent = -(int)Math.Round(font.Descent * 1000);
        bool italic = font.Name.Contains("italic", StringComparison.Ordinal) || font.Name.Contains("oblique", StringComparison.Ordinal) || font.Name.Contains("slant", StringComparison.Ordinal);
        int flags = 4 | (italic ? 64 : 0) | (font.Name.Contains("cursor", StringComparison.Ordinal) || font.Name.Contains("mono", StringComparison.Ordinal) ? 1 : 0);
        int descriptor = _objects.Add(
            $"<</Type /FontDescriptor /FontName /{name} /Flags {flags} /FontBBox [-500 {descent} 1500 {ascent}] /ItalicAngle {(italic ? -10 : 0)} "
            + $"/Ascent {ascent} /Descent {descent} /CapHeight 700 /StemV {(font.Name.Contains("bold", StringComparison.Ordinal) ? 120 : 80)} /FontFile3 {file} 0 R>>");
        string widths = string.Join(' ', glyphs.Select(g => $"{g} [{PageContent.Width(font, g)}]"));
        int descendant = _objects.Add(
            $"<</Type /Font /Subtype /CIDFontType0 /BaseFont /{name} /CIDSystemInfo <</Registry (Adobe) /Ordering (Identity) /Supplement 0>> "
            + $"/FontDescriptor {descriptor} 0 R /DW 1000 /W [{widths}]>>");
        // In such a file every glyph has a character (ISO 19005-2, 6.2.11.7.2; ISO 14289-1, 7.21.7): parts of signs have one without width.
        string TextOf(uint glyph) => use[glyph].Length == 0 && HasPacket ? "\u200B" : use[glyph];
        string texts = string.Join('\0', glyphs.Select(TextOf));
        UInt128 textHash = XxHash128.HashToUInt128([.. key, .. Encoding.UTF8.GetBytes(texts)]);
        int unicode = _objects.AddStream("/Filter /FlateDecode", _cache.Get(textHash, () => PdfObjects.Deflate(Encoding.ASCII.GetBytes(ToUnicode(glyphs, TextOf)))));
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

    private static string ToUnicode(uint[] glyphs, Func<uint, string> text)
    {
        var map = new StringBuilder(
            "/CIDInit /ProcSet findresource begin 12 dict begin begincmap /CIDSystemInfo <</Registry (Adobe) /Ordering (UCS) /Supplement 0>> def "
            + "/CMapName /Adobe-Identity-UCS def /CMapType 2 def 1 begincodespacerange <0000> <FFFF> endcodespacerange\n");
        foreach (uint[] chunk in glyphs.Where(g => text(g).Length > 0).Chunk(100))
        {
            map.Append(CultureInfo.InvariantCulture, $"{chunk.Length} beginbfchar\n");
            foreach (uint glyph in chunk)
            {
                map.Append(CultureInfo.InvariantCulture, $"<{glyph:X4}> <{Convert.ToHexString(Encoding.BigEndianUnicode.GetBytes(text(glyph)))}>\n");
            }

            map.Append("endbfchar\n");
        }

        return map.Append("endcmap CMapName currentdict /CMap defineresource pop end end").ToString();
    }

    // ---- links, outline, labels ------------------------------------------------------------------------

    private string Links(Page page, TypesetDocument document, int[] numbers)
    {
        var links = new List<string>();
        foreach (Placed placed in page.Marks)
        {
            // In an accessible file each link is a part of its structure; heads and feet aren't.
            if (placed.Mark is not LinkMark link || (_structure is not null && _structure.ElementOf(placed.Owner) is null))
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
                int number = _objects.Reserve();
                _objects.Set(number, $"<</Type /Annot /Subtype /Link{(HasPacket ? " /F 4" : "")}{_tags?.LinkEntries(link, number)} /Border [0 0 0] /Rect [{N(x)} {N(y - (link.Depth * Scale))} {N(x + (link.Width * Scale))} {N(y + (link.Height * Scale))}] {action}>>");
                links.Add($"{number} 0 R");
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
