using System.Globalization;
using System.Xml;
using System.Xml.Linq;
using YoungFolio.Documents;
using YoungFolio.Markup;
using YoungFolio.Typesetting.Fonts;
using YoungFolio.Typesetting.Pages;

namespace YoungFolio.Typesetting.Images;

/// <summary>An SVG as marks: paths as vectors, text as text (SVG 1.1, as plotting programs write it).</summary>
internal sealed partial class SvgFigure
{
    // Plots are lettered in plain faces, whatever the text around them is set in.
    private static readonly TypefaceSet s_typefaces = TypefaceSet.Default with { Roman = "termes" };

    private const double UserUnit = Units.Inch / 96;

    private SvgFigure(double width, double height, IReadOnlyList<Placed> marks) => (Width, Height, Marks) = (width, height, marks);

    /// <summary>Width in points of 1/72.27 in.</summary>
    public double Width { get; }

    /// <summary>Height in points of 1/72.27 in.</summary>
    public double Height { get; }

    /// <summary>The marks, from the lower left corner.</summary>
    public IReadOnlyList<Placed> Marks { get; }

    /// <summary>Reads a figure.</summary>
    /// <returns>The figure, or null and a reason in plain words.</returns>
    public static (SvgFigure? Figure, string? Reason) Read(ManuscriptFile file, FontLibrary fonts, Shaper shaper)
    {
        try
        {
            if (Measure(file) is { } reason)
            {
                return (null, reason);
            }

            using XmlReader reader = Open(file);
            XElement? root = XDocument.Load(reader).Root;
            return root?.Name.LocalName == "svg" ? new Painter(root, fonts, shaper).Paint() : (null, "it is XML, but no SVG");
        }
        catch (FigureLimitException e)
        {
            return (null, e.Message);
        }
        catch (Exception e) when (e is XmlException or InvalidOperationException or FormatException or OverflowException or ArgumentException)
        {
            return (null, "its markup is damaged");
        }
    }

    // Elements, and letters in attributes and text, of the largest figure that is taken; and how deep elements may nest.
    private const int MostElements = 150_000;
    private const int MostLetters = 20_000_000;
    private const int MostDepth = 100;

    // No outside entities are followed: a figure is what its file holds.
    private static XmlReader Open(ManuscriptFile file) =>
        XmlReader.Create(new StringReader(file.Text), new XmlReaderSettings { DtdProcessing = DtdProcessing.Ignore, XmlResolver = null, MaxCharactersInDocument = MostLetters });

    // Looked through before it is taken into memory; why it isn't taken, or null.
    private static string? Measure(ManuscriptFile file)
    {
        if (file.Bytes.Length > MostLetters)
        {
            return $"it is larger than {MostLetters / 1_000_000} MB";
        }

        using XmlReader reader = Open(file);
        int elements = 0;
        while (reader.Read())
        {
            if (reader.NodeType == XmlNodeType.Element && ++elements > MostElements)
            {
                return FormattableString.Invariant($"it has more than {MostElements:N0} elements; export it as a PNG, or with fewer points");
            }

            if (reader.Depth > MostDepth)
            {
                return FormattableString.Invariant($"its elements are nested more than {MostDepth} deep");
            }
        }

        return null;
    }

    private sealed partial class Painter
    {

        private readonly XElement _root;
        private readonly FontLibrary _fonts;
        private readonly Shaper _shaper;
        private readonly Dictionary<string, XElement> _byId = new(StringComparer.Ordinal);
        private readonly SvgStyles _styles;
        private int _elements;

        public Painter(XElement root, FontLibrary fonts, Shaper shaper)
        {
            (_root, _fonts, _shaper) = (root, fonts, shaper);
            foreach (XElement element in root.DescendantsAndSelf())
            {
                if (element.Attribute("id") is { } id)
                {
                    _byId.TryAdd(id.Value, element);
                }
            }

            _styles = new SvgStyles(root, MeanColour);
        }

        public (SvgFigure?, string?) Paint()
        {
            double[]? box = _root.Attribute("viewBox") is { } view ? new SvgPath.NumberReader(view.Value).Numbers(4) : null;
            double width = Side("width", box?[2] ?? 300);
            double height = Side("height", box?[3] ?? 150);
            if (width is < 0.1 or > 50_000 || height is < 0.1 or > 50_000 || box is [_, _, <= 0, _] or [_, _, _, <= 0])
            {
                return (null, "it has no size that can be set");
            }

            box ??= [0, 0, width, height];
            // The drawing keeps its shape and stands in the middle, unless it says otherwise.
            bool stretches = _root.Attribute("preserveAspectRatio")?.Value.StartsWith("none", StringComparison.Ordinal) == true;
            double across = width / box[2];
            double down = height / box[3];
            double factor = Math.Min(across, down);
            (double sx, double sy) = stretches ? (across, down) : (factor, factor);
            (double left, double top) = ((width - (box[2] * sx)) / 2, (height - (box[3] * sy)) / 2);
            var matrix = new SvgMatrix(UserUnit * sx, 0, 0, -UserUnit * sy, UserUnit * (left - (box[0] * sx)), UserUnit * (height - top + (box[1] * sy)));
            var marks = new List<Placed>();
            PaintChildren(_root, matrix, _styles.Of(_root, new SvgStyle()), marks, 0);
            return (new SvgFigure(width * UserUnit, height * UserUnit, marks), null);
        }

        private double Side(string name, double otherwise)
        {
            string text = _root.Attribute(name)?.Value ?? "";
            return text.Length == 0 || text.EndsWith('%') ? otherwise : SvgStyles.Length(text) ?? otherwise;
        }

        private void PaintChildren(XElement parent, SvgMatrix matrix, SvgStyle style, List<Placed> marks, int depth)
        {
            foreach (XElement child in parent.Elements())
            {
                PaintElement(child, matrix, style, marks, depth + 1);
            }
        }

        private void PaintElement(XElement element, SvgMatrix matrix, SvgStyle outer, List<Placed> marks, int depth)
        {
            if (depth > MostDepth || ++_elements > MostElements)
            {
                throw new FigureLimitException("with all that it uses again it has too many elements; export it as a PNG, or with fewer points");
            }

            string name = element.Name.LocalName;
            if (name is "defs" or "style" or "metadata" or "title" or "desc" or "clipPath" or "mask" or "pattern" or "marker" or "symbol" or "linearGradient" or "radialGradient" or "script")
            {
                return;
            }

            SvgStyle style = _styles.Of(element, outer);
            if (style.IsHidden && name is not ("g" or "svg" or "a"))
            {
                return;
            }

            if (element.Attribute("transform") is { } transform)
            {
                matrix = matrix.After(SvgMatrix.Parse(transform.Value));
            }

            if (Clip(element, matrix) is { } clip)
            {
                var inside = new List<Placed> { new(new PathMark(clip + "W n\n"), 0, 0) };
                PaintShape(element, name, matrix, style, inside, depth);
                marks.Add(new Placed(new GroupMark(inside, 1, 0, 0, 1), 0, 0));
                return;
            }

            PaintShape(element, name, matrix, style, marks, depth);
        }

        private void PaintShape(XElement element, string name, SvgMatrix matrix, SvgStyle style, List<Placed> marks, int depth)
        {
            switch (name)
            {
                case "g" or "a" or "switch":
                    PaintChildren(element, matrix, style, marks, depth);
                    break;
                case "svg":
                    PaintChildren(element, matrix.After(Shift(element)), style, marks, depth);
                    break;
                case "use" when Reference(element) is { } target:
                    SvgMatrix placed = matrix.After(Shift(element));
                    if (target.Name.LocalName is "symbol" or "svg")
                    {
                        PaintChildren(target, placed, _styles.Of(target, style), marks, depth + 1);
                    }
                    else
                    {
                        PaintElement(target, placed, style, marks, depth + 1);
                    }

                    break;
                case "image":
                    PaintImage(element, matrix, marks);
                    break;
                case "text":
                    PaintText(element, matrix, style, marks);
                    break;
                default:
                    var path = new SvgPath(matrix);
                    if (AddShape(element, name, path))
                    {
                        AddPath(path.Operators, matrix, name is "line" ? style with { Fill = null } : style, element, marks);
                    }

                    break;
            }
        }

        private static double Number(XElement element, string name, double otherwise = 0) => SvgStyles.Length(element.Attribute(name)?.Value ?? "") ?? otherwise;

        private static SvgMatrix Shift(XElement element) => new(1, 0, 0, 1, Number(element, "x"), Number(element, "y"));

        private XElement? Reference(XElement element)
        {
            string? link = element.Attributes().FirstOrDefault(a => a.Name.LocalName == "href")?.Value;
            return link is { Length: > 1 } && link[0] == '#' ? _byId.GetValueOrDefault(link[1..]) : null;
        }

        private static bool AddShape(XElement element, string name, SvgPath path)
        {
            switch (name)
            {
                case "path":
                    path.Data(element.Attribute("d")?.Value ?? "");
                    return true;
                case "rect":
                    double rx = Number(element, "rx", Number(element, "ry"));
                    path.Rectangle(Number(element, "x"), Number(element, "y"), Number(element, "width"), Number(element, "height"), rx, Number(element, "ry", rx));
                    return Number(element, "width") > 0 && Number(element, "height") > 0;
                case "circle" or "ellipse":
                    double r = Number(element, "r");
                    path.Ellipse(Number(element, "cx"), Number(element, "cy"), Number(element, "rx", r), Number(element, "ry", r));
                    return true;
                case "line":
                    path.Move(Number(element, "x1"), Number(element, "y1"));
                    path.Line(Number(element, "x2"), Number(element, "y2"));
                    return true;
                case "polyline" or "polygon":
                    var reader = new SvgPath.NumberReader(element.Attribute("points")?.Value ?? "");
                    bool first = true;
                    while (reader.Next() is { } x && reader.Next() is { } y)
                    {
                        if (first)
                        {
                            path.Move(x, y);
                        }
                        else
                        {
                            path.Line(x, y);
                        }

                        first = false;
                    }

                    if (name == "polygon" && !first)
                    {
                        path.Close();
                    }

                    return !first;
                default:
                    return false;
            }
        }

        private string? Clip(XElement element, SvgMatrix matrix)
        {
            string value = element.Attribute("clip-path")?.Value ?? "";
            int open = value.IndexOf('#', StringComparison.Ordinal);
            if (open < 0 || !_byId.TryGetValue(value[(open + 1)..].TrimEnd(')', '\'', '"', ' '), out XElement? clip))
            {
                return null;
            }

            var path = new SvgPath(matrix);
            foreach (XElement shape in clip.Elements())
            {
                AddShape(shape, shape.Name.LocalName, path);
            }

            return path.Operators.Length == 0 ? null : path.Operators;
        }

        private static string Paint(int colour, string op)
        {
            string Part(int shift) => ((colour >> shift & 255) / 255.0).ToString("0.###", CultureInfo.InvariantCulture);
            return $"{Part(16)} {Part(8)} {Part(0)} {op}\n";
        }

        private void AddPath(string operators, SvgMatrix matrix, SvgStyle style, XElement element, List<Placed> marks)
        {
            double fillOpacity = style.Opacity * style.FillOpacity;
            double strokeOpacity = style.Opacity * style.StrokeOpacity;
            bool fills = (style.Fill is not null || IsPattern(style.FillGradient)) && fillOpacity > 0.001;
            bool strokes = style.Stroke is not null && strokeOpacity > 0.001 && style.StrokeWidth > 0;
            if (operators.Length == 0 || !(fills || strokes))
            {
                return;
            }

            if (fills && style.FillGradient is { } pattern && PaintPattern(pattern, operators, matrix, style, element, marks))
            {
                fills = false;
                if (!strokes)
                {
                    return;
                }
            }

            if (fills && style.FillGradient is { } id && _byId.TryGetValue(id, out XElement? gradient)
                && SvgGradient.Read(gradient, i => _byId.GetValueOrDefault(i), _styles, matrix, Bounds(element)) is { } shading)
            {
                SvgMatrix m = shading.Matrix;
                marks.Add(new Placed(new ShadingMark(operators, style.EvenOdd, shading.Colours, [m.A, m.B, m.C, m.D, m.E, m.F])
                {
                    Opacity = fillOpacity * shading.Opacity,
                }, 0, 0));
                fills = false;
                if (!strokes)
                {
                    return;
                }
            }

            string text = fills ? Paint(style.Fill!.Value, "rg") : "";
            if (strokes)
            {
                string N(double value) => (value * matrix.Growth).ToString("0.###", CultureInfo.InvariantCulture);
                string dashes = style.Dashes.Count > 0 && style.Dashes.Any(d => d > 0) ? $"[{string.Join(' ', style.Dashes.Select(N))}] 0 d\n" : "";
                text += $"{Paint(style.Stroke!.Value, "RG")}{N(style.StrokeWidth)} w {style.Cap} J {style.Join} j\n{dashes}";
            }

            string op = (fills, strokes, style.EvenOdd) switch { (true, true, false) => "B", (true, true, true) => "B*", (true, false, false) => "f", (true, false, true) => "f*", _ => "S" };
            marks.Add(new Placed(new PathMark(text + operators + op + "\n") { FillOpacity = fills ? fillOpacity : 1, StrokeOpacity = strokes ? strokeOpacity : 1 }, 0, 0));
            if (element.Name.LocalName is "path" or "line" or "polyline" or "polygon")
            {
                PaintMarkers(operators, matrix, style, marks);
            }
        }

        private static (double X, double Y, double Width, double Height) Bounds(XElement element)
        {
            var path = new SvgPath(SvgMatrix.Identity);
            AddShape(element, element.Name.LocalName, path);
            return path.Bounds;
        }

        private static void PaintImage(XElement element, SvgMatrix matrix, List<Placed> marks)
        {
            string link = element.Attributes().FirstOrDefault(a => a.Name.LocalName == "href")?.Value ?? "";
            int comma = link.IndexOf(',', StringComparison.Ordinal);
            if (!link.StartsWith("data:image/", StringComparison.Ordinal) || comma < 0 || !link[..comma].EndsWith(";base64", StringComparison.Ordinal))
            {
                return;
            }

            byte[] bytes = Convert.FromBase64String(new string([.. link[(comma + 1)..].Where(c => !char.IsWhiteSpace(c))]));
            (double width, double height) = (Number(element, "width"), Number(element, "height"));
            if (Picture.Read(new ManuscriptFile("picture", bytes)).Picture is { Figure: null } picture && width > 0 && height > 0)
            {
                // The picture's own foot lies at the greater y.
                (double x, double y) = matrix.Map(Number(element, "x"), Number(element, "y") + height);
                marks.Add(new Placed(new GroupMark(
                    [new Placed(new ImageMark(picture, 1, 1, 0, PositionTable.None), 0, 0)],
                    matrix.A * width, matrix.B * width, -matrix.C * height, -matrix.D * height), x, y));
            }
        }

        private void PaintText(XElement element, SvgMatrix matrix, SvgStyle style, List<Placed> marks)
        {
            (double x, double y) = (Number(element, "x"), Number(element, "y"));
            foreach (XNode node in element.Nodes())
            {
                if (node is XText plain)
                {
                    x += AddText(plain.Value, x, y, matrix, style, marks);
                }
                else if (node is XElement { Name.LocalName: "tspan" } span)
                {
                    x = Number(span, "x", x) + Number(span, "dx");
                    y = Number(span, "y", y) + Number(span, "dy");
                    x += AddText(span.Value, x, y, matrix, _styles.Of(span, style), marks);
                }
            }
        }

        // Returns how far the text goes, in user units.
        private double AddText(string text, double x, double y, SvgMatrix matrix, SvgStyle style, List<Placed> marks)
        {
            text = string.Join(' ', text.Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries));
            double opacity = style.Opacity * style.FillOpacity;
            if (text.Length == 0 || style.Fill is not { } fill || opacity < 0.001)
            {
                return 0;
            }

            string family = style.FontFamily.ToLowerInvariant();
            bool serif = family.Contains("serif", StringComparison.Ordinal) && !family.Contains("sans", StringComparison.Ordinal) || family.Contains("times", StringComparison.Ordinal);
            bool mono = family.Contains("mono", StringComparison.Ordinal) || family.Contains("courier", StringComparison.Ordinal);
            var looks = new TextStyle(mono ? FontFamily.Mono : serif ? FontFamily.Roman : FontFamily.Sans, style.Bold, style.Italic ? FontShape.Italic : FontShape.Upright, style.FontSize);
            FontFile font = _fonts.Find(s_typefaces, looks);
            ShapedWord shape = _shaper.Shape(font, text);
            if (shape.HasMissing)
            {
                font = _fonts.Fallback(looks);
                shape = _shaper.Shape(font, text);
            }

            double size = style.FontSize;
            double width = shape.Width * size;
            double start = x - (style.Anchor switch { "middle" => width / 2, "end" => width, _ => 0 });
            int Mix(int shift) => (int)Math.Round(((fill >> shift & 255) * opacity) + (255 * (1 - opacity)));
            var glyphs = new GlyphMark
            {
                Font = font,
                Size = size,
                Glyphs = shape.Glyphs,
                Edges = [.. shape.Edges.Select(e => e * size)],
                Positions = [.. Enumerable.Repeat(PositionTable.None, shape.Glyphs.Length)],
                Texts = shape.Texts,
                Colour = (Mix(16) << 16) | (Mix(8) << 8) | Mix(0),
            };
            (double px, double py) = matrix.Map(start, y);
            // Text stands upright in the figure's own coordinates, whose y counts downwards.
            marks.Add(new Placed(new GroupMark([new Placed(glyphs, 0, 0)], matrix.A, matrix.B, -matrix.C, -matrix.D), px, py));
            return style.Anchor == "start" ? width : 0;
        }

        // A gradient is set in the mean of its colours.
        private int? MeanColour(string id)
        {
            for (int i = 0; i < 10 && _byId.TryGetValue(id, out XElement? gradient); i++)
            {
                List<XElement> stops = [.. gradient.Elements().Where(e => e.Name.LocalName == "stop")];
                if (stops.Count > 0)
                {
                    List<int> colours = [.. stops.Select(e => _styles.Of(e, new SvgStyle()).StopColour)];
                    int Mean(int shift) => (int)colours.Average(c => c >> shift & 255);
                    return (Mean(16) << 16) | (Mean(8) << 8) | Mean(0);
                }

                id = gradient.Attributes().FirstOrDefault(a => a.Name.LocalName == "href")?.Value.TrimStart('#') ?? "";
            }

            return null;
        }
    }
}
