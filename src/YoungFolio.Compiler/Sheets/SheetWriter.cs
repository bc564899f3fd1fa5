using System.Buffers;
using System.Text;
using System.Text.Json;
using YoungFolio.Typesetting.Images;
using YoungFolio.Typesetting.Pages;

namespace YoungFolio.Compiler.Sheets;

/// <summary>What is drawn on a sheet: the first number of each of its items.</summary>
internal enum SheetItem
{
    /// <summary>Glyphs of one font in a row.</summary>
    Glyphs,

    /// <summary>A filled rectangle.</summary>
    Rule,

    /// <summary>A picture.</summary>
    Picture,

    /// <summary>A path that is filled, stroked or clips.</summary>
    Path,

    /// <summary>A path filled with a passage of colours.</summary>
    Shading,

    /// <summary>Items that are scaled or turned together.</summary>
    Group,
}

/// <summary>
/// Writes a page as JSON for the screen (<c>docs/sheets.md</c>). Lengths are whole hundredths of a PDF point from the upper left corner, Y downwards.
/// </summary>
internal sealed class SheetWriter
{
    // Glyphs that stand nearer to where their font's own widths put them aren't placed on their own, in points.
    private const double Nearness = 0.012;

    private readonly Utf8JsonWriter _json;
    private readonly IReadOnlyList<(int Origin, int Offset)> _places;
    private readonly List<(string Font, double Size, double Widening, int Colour)> _styles = [];
    private readonly List<Picture> _pictures = [];
    private readonly StringBuilder _text = new();
    private int _place;

    private readonly HashSet<Picture> _leftOut;

    private SheetWriter(Utf8JsonWriter json, IReadOnlyList<(int, int)> places, HashSet<Picture> leftOut) => (_json, _places, _leftOut) = (json, places, leftOut);

    /// <summary>Writes a page.</summary>
    /// <param name="page">The page.</param>
    /// <param name="places">For each mark with glyphs, in their order, its origin and its first position from there.</param>
    /// <param name="leftOut">Pictures that aren't shown.</param>
    public static byte[] Write(Page page, IReadOnlyList<(int Origin, int Offset)> places, HashSet<Picture> leftOut)
    {
        var buffer = new ArrayBufferWriter<byte>(1 << 15);
        using (var json = new Utf8JsonWriter(buffer))
        {
            new SheetWriter(json, places, leftOut).Write(page);
        }

        return buffer.WrittenSpan.ToArray();
    }

    private void Write(Page page)
    {
        _json.WriteStartObject();
        _json.WriteStartArray("items");
        WriteItems(page.Marks, 1);
        _json.WriteEndArray();
        _json.WriteStartArray("styles");
        foreach ((string font, double size, double widening, int colour) in _styles)
        {
            Array(() =>
            {
                _json.WriteStringValue(font);
                _json.WriteNumberValue(Math.Round(size, 4));
                _json.WriteNumberValue(Math.Round(widening, 5));
                _json.WriteNumberValue(colour);
            });
        }

        _json.WriteEndArray();
        _json.WriteStartArray("pictures");
        foreach (Picture picture in _pictures)
        {
            Array(() =>
            {
                _json.WriteStringValue(picture.Digest);
                _json.WriteStringValue(picture.Format switch { PictureFormat.Png => "png", PictureFormat.Jpeg => "jpeg", _ => "pdf" });
            });
        }

        _json.WriteEndArray();
        _json.WriteStartArray("links");
        foreach (Placed placed in page.Marks)
        {
            if (placed.Mark is LinkMark link)
            {
                Array(() =>
                {
                    Length(placed.X);
                    Length(placed.Y - link.Height);
                    Length(link.Width);
                    Length(link.Height + link.Depth);
                    _json.WriteStringValue(link.Target);
                    _json.WriteNumberValue(link.IsOutside ? 1 : 0);
                });
            }
        }

        _json.WriteEndArray();
        _json.WriteStartArray("anchors");
        foreach (Placed placed in page.Marks)
        {
            if (placed.Mark is AnchorMark anchor)
            {
                Array(() =>
                {
                    _json.WriteStringValue(anchor.Name);
                    Length(placed.Y);
                });
            }
        }

        _json.WriteEndArray();
        _json.WriteEndObject();
    }

    // On a page Y counts downwards, in a group upwards.
    private void WriteItems(IReadOnlyList<Placed> marks, int down)
    {
        foreach (Placed placed in marks)
        {
            switch (placed.Mark)
            {
                case GlyphMark glyphs:
                    Item(SheetItem.Glyphs, placed, down, () => WriteGlyphs(glyphs));
                    break;
                case RuleMark rule:
                    Item(SheetItem.Rule, placed, down, () =>
                    {
                        Length(rule.Width);
                        Length(rule.Height);
                        _json.WriteNumberValue(rule.Colour);
                    });
                    break;
                case ImageMark image when !_leftOut.Contains(image.Picture):
                    Item(SheetItem.Picture, placed, down, () => WritePicture(image));
                    break;
                case PathMark path:
                    Item(SheetItem.Path, placed, down, () =>
                    {
                        _json.WriteStringValue(path.Operators);
                        Share(path.FillOpacity);
                        Share(path.StrokeOpacity);
                    });
                    break;
                case ShadingMark shading:
                    Item(SheetItem.Shading, placed, down, () => WriteShading(shading));
                    break;
                case GroupMark group:
                    Item(SheetItem.Group, placed, down, () =>
                    {
                        (double a, double b, double c, double d) = group.Matrix;
                        // With Y downwards on both sides what goes across and up changes its sign.
                        foreach (double factor in (ReadOnlySpan<double>)[a, -b, -c, d])
                        {
                            _json.WriteNumberValue(Math.Round(factor, 6));
                        }

                        Array(() => WriteItems(group.Content, -1));
                    });
                    break;
            }
        }
    }

    private void Item(SheetItem kind, Placed placed, int down, Action write) => Array(() =>
    {
        _json.WriteNumberValue((int)kind);
        Length(placed.X);
        Length(placed.Y * down);
        write();
    });

    // The style; the glyphs as characters of the screen font, cut where one stands elsewhere than its font's widths say; the text; the width;
    // the origin and the first place from there; the other places where they don't just follow the text.
    private void WriteGlyphs(GlyphMark mark)
    {
        (string, double, double, int) style = (ScreenFont.Of(mark.Font).Key, mark.Size * Sheet.Scale, mark.Widening, mark.Colour);
        int number = _styles.IndexOf(style);
        if (number < 0)
        {
            number = _styles.Count;
            _styles.Add(style);
        }

        _json.WriteNumberValue(number);
        WritePieces(mark);
        WriteText(mark.Texts);
        Length(mark.Edges[^1]);
        (int origin, int offset) = _places[_place++];
        _json.WriteNumberValue(origin);
        if (origin >= 0)
        {
            _json.WriteNumberValue(offset);
            WriteSteps(mark);
        }
    }

    private void WritePieces(GlyphMark mark)
    {
        var pieces = new List<(double X, string Glyphs)>();
        double pen = mark.Edges[0];
        double begun = pen;
        _text.Clear();
        for (int i = 0; i < mark.Glyphs.Length; i++)
        {
            if (Math.Abs(mark.Edges[i] - pen) > Nearness)
            {
                if (_text.Length > 0)
                {
                    pieces.Add((begun, _text.ToString()));
                    _text.Clear();
                }

                begun = pen = mark.Edges[i];
            }

            _text.Append((char)(ScreenFont.FirstCharacter + mark.Glyphs[i]));
            pen += mark.Font.Advance(mark.Glyphs[i]) * mark.Size * mark.Widening;
        }

        pieces.Add((begun, _text.ToString()));
        if (pieces is [(0, var all)])
        {
            Raw(all);
            return;
        }

        Array(() =>
        {
            foreach ((double x, string glyphs) in pieces)
            {
                Length(x);
                Raw(glyphs);
            }
        });
    }

    // A character a glyph is one text; else each glyph has its own.
    private void WriteText(string[] texts)
    {
        if (System.Array.TrueForAll(texts, static t => t.Length == 1))
        {
            _json.WriteStringValue(string.Concat(texts));
            return;
        }

        Array(() =>
        {
            foreach (string text in texts)
            {
                _json.WriteStringValue(text);
            }
        });
    }

    private void WriteSteps(GlyphMark mark)
    {
        int expected = mark.FirstPosition;
        bool follows = true;
        for (int i = 0; i < mark.Positions.Length && follows; i++)
        {
            follows = mark.Positions[i] == expected;
            expected += mark.Texts[i].Length;
        }

        if (!follows)
        {
            Array(() =>
            {
                foreach (int position in mark.Positions)
                {
                    if (position < 0)
                    {
                        _json.WriteNullValue();
                    }
                    else
                    {
                        _json.WriteNumberValue(position - mark.FirstPosition);
                    }
                }
            });
        }
    }

    // Number, turn, and where the whole picture stands about the origin, Y of its upper edge; then the shown part if the rest is cut off.
    private void WritePicture(ImageMark image)
    {
        int number = _pictures.FindIndex(p => p.Digest == image.Picture.Digest);
        if (number < 0)
        {
            number = _pictures.Count;
            _pictures.Add(image.Picture);
        }

        (double left, double foot, double width, double height) = image.Whole ?? (0, 0, image.Width, image.Height);
        _json.WriteNumberValue(number);
        _json.WriteNumberValue(Math.Round(image.Angle, 4));
        Length(left);
        Length(-foot - height);
        Length(width);
        Length(height);
        if (image.Clips && image.Whole is not null)
        {
            Length(image.Width);
            Length(image.Height);
        }
    }

    private void WriteShading(ShadingMark shading)
    {
        _json.WriteStringValue(shading.Path);
        _json.WriteNumberValue(shading.EvenOdd ? 1 : 0);
        Share(shading.Opacity);
        Numbers(shading.Matrix);
        _json.WriteNumberValue(shading.Gradient.IsRadial ? 1 : 0);
        Numbers(shading.Gradient.Coordinates);
        Array(() =>
        {
            foreach ((double at, int colour) in shading.Gradient.Stops)
            {
                Share(at);
                _json.WriteNumberValue(colour);
            }
        });
    }

    private void Numbers(IReadOnlyList<double> numbers) => Array(() =>
    {
        foreach (double number in numbers)
        {
            _json.WriteNumberValue(Math.Round(number, 6));
        }
    });

    private void Array(Action write)
    {
        _json.WriteStartArray();
        write();
        _json.WriteEndArray();
    }

    // Hundredths of a PDF point.
    private void Length(double points) => _json.WriteNumberValue((long)Math.Round(points * Sheet.Scale * 100));

    private void Share(double share) => _json.WriteNumberValue(Math.Round(share, 4));

    // Characters for private use stand for themselves: nothing in JSON has to be written another way but quotes, backslashes and controls.
    private void Raw(string glyphs) => _json.WriteRawValue("\"" + glyphs + "\"", skipInputValidation: true);
}
