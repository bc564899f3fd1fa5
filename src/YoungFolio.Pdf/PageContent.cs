using System.Globalization;
using System.Text;
using YoungFolio.Markup;
using YoungFolio.Typesetting.Fonts;
using YoungFolio.Typesetting.Images;
using YoungFolio.Typesetting.Pages;

namespace YoungFolio.Pdf;

/// <summary>
/// A page's content as the file holds it, and the glyphs that it uses. It depends on the page's marks alone, so that it is kept
/// by their digest.
/// </summary>
/// <param name="Stream">The content stream, compressed.</param>
/// <param name="Fonts">Fonts with their glyphs and the text that each shows.</param>
internal sealed record PageContent(byte[] Stream, IReadOnlyList<(FontFile Font, IReadOnlyList<(uint Glyph, string Text)> Glyphs)> Fonts)
{
    // PDF counts 72 points to the inch, typesetting 72.27.
    internal const double Scale = 72 / Units.Inch;

    /// <summary>The content of a page.</summary>
    public static PageContent Of(Page page, IReadOnlyDictionary<Picture, (string Name, int Number)> images, PdfCache cache) =>
        cache.Get(PageDigest.Of(page, p => images.TryGetValue(p, out (string Name, int Number) known) ? known.Name : null), () =>
        {
            byte[] bytes = Encoding.Latin1.GetBytes(Write(page, images));
            return new PageContent(PdfObjects.Deflate(bytes), Used(page));
        });

    /// <summary>The content of a page whose marks stand in marked sequences.</summary>
    /// <param name="page">The page.</param>
    /// <param name="images">The pictures' names.</param>
    /// <param name="openings">What begins each mark's sequence (<see cref="Accessible.TaggedPages.Openings"/>).</param>
    public static PageContent Tagged(Page page, IReadOnlyDictionary<Picture, (string Name, int Number)> images, IReadOnlyList<string?> openings) =>
        new(PdfObjects.Deflate(Encoding.Latin1.GetBytes(Write(page, images, openings))), Used(page));

    /// <summary>A font's name in content streams.</summary>
    public static string NameOf(FontFile font) => font.Name;

    /// <summary>Width of a glyph in thousandths of the size, as the file states it.</summary>
    public static int Width(FontFile font, uint glyph) => (int)Math.Round(font.Advance(glyph) * 1000);

    /// <summary>A number to three decimals.</summary>
    public static string N(double value)
    {
        string text = Math.Round(value, 3).ToString("0.###", CultureInfo.InvariantCulture);
        return text == "-0" ? "0" : text;
    }

    private static List<(FontFile, IReadOnlyList<(uint, string)>)> Used(Page page)
    {
        var fonts = new Dictionary<FontFile, Dictionary<uint, string>>();
        Use(page.Marks, fonts);
        return [.. fonts.Select(f => (f.Key, (IReadOnlyList<(uint, string)>)[.. f.Value.Select(g => (g.Key, g.Value))]))];
    }

    private static void Use(IReadOnlyList<Placed> marks, Dictionary<FontFile, Dictionary<uint, string>> fonts)
    {
        foreach (Placed placed in marks)
        {
            if (placed.Mark is GroupMark group)
            {
                Use(group.Content, fonts);
            }

            if (placed.Mark is not GlyphMark mark)
            {
                continue;
            }

            if (!fonts.TryGetValue(mark.Font, out Dictionary<uint, string>? glyphs))
            {
                fonts[mark.Font] = glyphs = [];
            }

            for (int i = 0; i < mark.Glyphs.Length; i++)
            {
                if (!glyphs.TryGetValue(mark.Glyphs[i], out string? known) || known.Length == 0)
                {
                    glyphs[mark.Glyphs[i]] = mark.Texts[i] == GlyphMark.SoftHyphen ? "-" : mark.Texts[i];
                }
            }
        }
    }

    private static string Write(Page page, IReadOnlyDictionary<Picture, (string Name, int Number)> images, IReadOnlyList<string?>? openings = null)
    {
        var text = new StringBuilder();
        var writer = new MarkWriter(text, images, openings);
        writer.Write(page.Marks, p => (p.X * Scale, (page.Height - p.Y) * Scale));
        writer.End();
        return text.ToString();
    }

    /// <summary>Writes marks as the operators of a content stream (ISO 32000-1, annex A).</summary>
    private sealed class MarkWriter(StringBuilder text, IReadOnlyDictionary<Picture, (string Name, int Number)> images, IReadOnlyList<string?>? openings)
    {
        private readonly TextLine _run = new(text, openings is not null);
        private int _colour;
        private int _next;
        private string? _sequence;

        public void End() => Turn(null);

        // Ends the sequence that is open when the mark stands in another one.
        private void Turn(string? opening)
        {
            if (!ReferenceEquals(opening, _sequence))
            {
                _run.End();
                text.Append(_sequence is null ? "" : "EMC\n").Append(opening);
                _sequence = opening;
            }
        }

        public void Write(IReadOnlyList<Placed> marks, Func<Placed, (double X, double Y)> place)
        {
            foreach (Placed placed in marks)
            {
                (double x, double y) = place(placed);
                if (openings is not null)
                {
                    string? opening = openings[_next++];
                    if (!ReferenceEquals(opening, _sequence) && placed.Mark is GlyphMark follows)
                    {
                        _run.EndWord(follows, x, y);
                    }

                    Turn(opening);
                }

                switch (placed.Mark)
                {
                    case GlyphMark glyphs:
                        Fill(glyphs.Colour);
                        _run.Add(glyphs, x, y);
                        break;
                    case RuleMark rule:
                        _run.End();
                        Fill(rule.Colour);
                        text.Append(CultureInfo.InvariantCulture, $"{N(x)} {N(y)} {N(rule.Width * Scale)} {N(rule.Height * Scale)} re f\n");
                        break;
                    case PathMark path:
                        _run.End();
                        // A clip holds for the rest of its group; whatever else a path sets is its own.
                        bool clips = path.Operators.EndsWith("W n\n", StringComparison.Ordinal);
                        string change = $"{N(Scale)} 0 0 {N(Scale)} {N(x)} {N(y)} cm\n";
                        text.Append(clips ? change : "q " + change).Append(GraphicsStates.Operators(path)).Append(path.Operators)
                            .Append(clips ? $"{N(1 / Scale)} 0 0 {N(1 / Scale)} {N(-x / Scale)} {N(-y / Scale)} cm\n" : "Q\n");
                        break;
                    case ShadingMark shading:
                        _run.End();
                        text.Append(CultureInfo.InvariantCulture, $"q {N(Scale)} 0 0 {N(Scale)} {N(x)} {N(y)} cm\n{GraphicsStates.Fill(shading.Opacity)}{shading.Path}")
                            .Append(shading.EvenOdd ? "W* n\n" : "W n\n")
                            .AppendJoin(' ', shading.Matrix.Select(m => m.ToString("0.######", CultureInfo.InvariantCulture)))
                            .Append(CultureInfo.InvariantCulture, $" cm /{GraphicsStates.NameOf(shading)} sh Q\n");
                        break;
                    case GroupMark group:
                        _run.End();
                        (double a, double b, double c, double d) = group.Matrix;
                        text.Append(CultureInfo.InvariantCulture, $"q {M(a)} {M(b)} {M(c)} {M(d)} {N(x)} {N(y)} cm\n");
                        int before = _colour;
                        Write(group.Content, p => (p.X * Scale, p.Y * Scale));
                        _run.End();
                        Turn(null);
                        text.Append("Q\n");
                        _colour = before;
                        break;
                    case ImageMark image when images.TryGetValue(image.Picture, out (string Name, int Number) known):
                        _run.End();
                        Image(image, known.Name, x, y);
                        break;
                }
            }

            _run.End();
        }

        // Factors of a change need more figures than lengths: a small one may scale something large.
        private static string M(double value) => Math.Round(value, 6).ToString("0.######", CultureInfo.InvariantCulture);

        private void Fill(int colour)
        {
            if (colour != _colour)
            {
                _run.End();
                _colour = colour;
                text.Append(CultureInfo.InvariantCulture, $"{N((colour >> 16 & 255) / 255.0)} {N((colour >> 8 & 255) / 255.0)} {N((colour & 255) / 255.0)} rg\n");
            }
        }

        private void Image(ImageMark image, string name, double x, double y)
        {
            double cos = Math.Cos(image.Angle * Math.PI / 180);
            double sin = Math.Sin(image.Angle * Math.PI / 180);
            double width = image.Width * Scale;
            double height = image.Height * Scale;
            if (image.Whole is { } whole)
            {
                // The shown part stands at the origin, with the whole picture about it.
                string clip = image.Clips ? $"0 0 {N(width)} {N(height)} re W n " : "";
                text.Append(CultureInfo.InvariantCulture,
                    $"q {N(cos)} {N(sin)} {N(-sin)} {N(cos)} {N(x)} {N(y)} cm {clip}{N(whole.Width * Scale)} 0 0 {N(whole.Height * Scale)} {N(whole.X * Scale)} {N(whole.Y * Scale)} cm /{name} Do Q\n");
                return;
            }

            text.Append(CultureInfo.InvariantCulture,
                $"q {N(width * cos)} {N(width * sin)} {N(-height * sin)} {N(height * cos)} {N(x)} {N(y)} cm /{name} Do Q\n");
        }
    }

    /// <summary>Gathers glyphs on one baseline, with real spaces between words so that text copies well.</summary>
    private sealed class TextLine(StringBuilder text, bool isTagged)
    {
        private readonly StringBuilder _array = new();
        private bool _open;
        private FontFile? _font;
        private double _size;
        private double _widening = 1;
        private double _baseline = double.NaN;
        private double _pen;
        private bool _inHex;
        private bool _isDivided;

        /// <summary>Ends the word before what comes, where there is room between the two or it is on another line.</summary>
        public void EndWord(GlyphMark mark, double x, double y)
        {
            double size = mark.Size * Scale;
            if (_font is not null && _open && !_isDivided && (Math.Abs(y - _baseline) >= size * 0.6 || x - _pen > 0.12 * size || x < _pen - size))
            {
                Glyph(_font.GlyphOf(' '), _font);
            }
        }

        public void Add(GlyphMark mark, double x, double y)
        {
            double size = mark.Size * Scale;
            bool sameLine = _open && Math.Abs(y - _baseline) < size * 0.6;
            if (isTagged && !sameLine)
            {
                // What is told by its structure has a space at the end of a line, too (ISO 32000-1, 14.8.2.5).
                EndWord(mark, x, y);
            }

            _isDivided = mark.Texts is [.., "-" or "\u00AD"];
            bool joins = sameLine && ReferenceEquals(_font, mark.Font) && Math.Abs(_size - size) < 1e-6 && _widening == mark.Widening && Math.Abs(y - _baseline) < 1e-4
                && x > _pen - size;
            if (sameLine && x - _pen > 0.12 * size && _font is not null)
            {
                Glyph(_font.GlyphOf(' '), _font);
            }

            if (!joins)
            {
                Flush();
                if (!_open)
                {
                    text.Append("BT\n");
                    _open = true;
                }

                text.Append(CultureInfo.InvariantCulture, $"/{NameOf(mark.Font)} {N(size)} Tf {N(mark.Widening)} 0 0 1 {N(x)} {N(y)} Tm\n");
                (_font, _size, _widening, _baseline, _pen) = (mark.Font, size, mark.Widening, y, Math.Round(x, 3));
            }

            for (int i = 0; i < mark.Glyphs.Length; i++)
            {
                double at = x + (mark.Edges[i] * Scale);
                double shift = Math.Round((_pen - at) * 1000 / (_size * _widening));
                if (shift != 0)
                {
                    CloseHex();
                    _array.Append(N(shift));
                    _pen -= shift * _size * _widening / 1000;
                }

                bool isSoft = isTagged && mark.Texts[i] == GlyphMark.SoftHyphen;
                if (isSoft)
                {
                    Flush();
                    text.Append("/Span <</ActualText <FEFF00AD>>> BDC\n");
                }

                Glyph(mark.Glyphs[i], mark.Font);
                if (isSoft)
                {
                    Flush();
                    text.Append("EMC\n");
                }
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
            _pen += Width(font, glyph) * _size * _widening / 1000;
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
}
