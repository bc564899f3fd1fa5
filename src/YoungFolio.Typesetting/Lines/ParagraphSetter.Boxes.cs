using YoungFolio.Documents;
using YoungFolio.Markup;
using YoungFolio.Typesetting.Fonts;
using YoungFolio.Typesetting.Images;
using YoungFolio.Typesetting.Pages;

namespace YoungFolio.Typesetting.Lines;

// Frames, pictures and what stands for a missing one.
internal sealed partial class ParagraphSetter
{
    private Box Frame(BoxInline inline)
    {
        Box inner = SetBox(inline.Content, inline.Width ?? double.NaN);
        if (inline.IsPhantom)
        {
            inner.Marks.Clear();
        }

        double width = inline.Width ?? inner.Width;
        double line = inline.IsFramed ? inline.FrameLine : 0;
        double pad = inline.IsFramed || inline.Ground is not null ? inline.Padding + line : 0;
        var box = new Box();
        double free = width - inner.Width;
        box.Width = width + (2 * pad);
        double height = Math.Max(inner.Height, 0) + pad;
        double depth = inner.Depth + pad;
        if (inline.Ground is { } ground)
        {
            box.Marks.Add(new Placed(new RuleMark(box.Width, height + depth, ground), 0, inline.Rise - depth));
        }

        box.Add(inner, pad + (inline.Alignment < 0 ? 0 : inline.Alignment > 0 ? free : free / 2), inline.Rise);
        if (pad > 0)
        {
            if (line > 0)
            {
                AddFrame(box, box.Width, height, depth, line, inline.FrameColour);
            }

            box.Height = height + inline.Rise;
            box.Depth = depth - inline.Rise;
        }

        if (inline.IsUnderlined)
        {
            box.Marks.Add(new Placed(new RuleMark(width, 0.4), 0, -inner.Depth - 1.6));
            box.Depth = inner.Depth + 2;
        }

        box.Height = inline.Height ?? box.Height;
        box.Depth = inline.Depth ?? box.Depth;
        return box;
    }

    private static void AddFrame(Box box, double width, double height, double depth, double line, int colour)
    {
        box.Marks.Add(new Placed(new RuleMark(width, line, colour), 0, height - line));
        box.Marks.Add(new Placed(new RuleMark(width, line, colour), 0, -depth));
        box.Marks.Add(new Placed(new RuleMark(line, height + depth, colour), 0, -depth));
        box.Marks.Add(new Placed(new RuleMark(line, height + depth, colour), width - line, -depth));
    }

    // Blocks as one box: lines below one another, with the baseline where the position says.
    private Box SetBlocks(BlockBoxInline inline)
    {
        // What is inside belongs to what is kept of the whole.
        SetCache? cache = _context.Cache;
        _context.Cache = null;
        List<VerticalItem> items = FlowSetter.SetApart(_context, inline.Content, inline.Width);
        _context.Cache = cache;
        double pad = inline.FramePadding ?? 0;
        var inner = new Box { Width = inline.Width };
        double y = 0;
        double firstHeight = double.NaN;
        double lastDepth = 0;
        double stretch = items.OfType<SpaceItem>().Sum(s => s.Infinite);
        double natural = items.Sum(i => i switch { BoxItem b => b.Box.Height + b.Box.Depth, SpaceItem s => s.Width, FloatItem f => f.Height, _ => 0 });
        double shrink = items.OfType<SpaceItem>().Sum(s => s.InfiniteShrink);
        double free = inline.Height is { } wanted ? wanted - natural : 0;
        double fill = free > 0 && stretch > 0 ? free / stretch : 0;
        double squeeze = free < 0 && shrink > 0 ? free / shrink : 0;
        foreach (VerticalItem item in items)
        {
            switch (item)
            {
                case BoxItem box:
                    firstHeight = double.IsNaN(firstHeight) ? y + box.Box.Height : firstHeight;
                    y += box.Box.Height;
                    inner.Add(box.Box, box.Indent, -y, box.Base);
                    y += box.Box.Depth;
                    lastDepth = box.Box.Depth;
                    break;
                case SpaceItem space:
                    y += space.Width + (space.Infinite * fill) + (space.InfiniteShrink * squeeze);
                    break;
            }
        }

        double total = inline.Height ?? y;
        double shift = fill > 0 || squeeze < 0 ? 0 : inline.InnerPosition switch { 'b' => total - y, 'c' => (total - y) / 2, _ => 0 };
        double baseline = inline.Position switch
        {
            't' => double.IsNaN(firstHeight) ? 0 : firstHeight + shift,
            'b' => total - lastDepth,
            // Centred on the mathematical axis, a quarter of the type's size above the baseline (common practice).
            _ => (total / 2) + 2.5,
        };
        var result = new Box { Width = inline.Width + (2 * pad) };
        if (inline.Ground is { } ground)
        {
            result.Marks.Add(new Placed(new RuleMark(result.Width, total + (2 * pad), ground), 0, baseline - total - pad));
        }

        result.Add(inner, pad, baseline - shift);
        result.Height = baseline + pad;
        result.Depth = total - baseline + pad;
        if (inline.FramePadding is not null)
        {
            AddFrame(result, result.Width, result.Height, result.Depth, 0.4, 0);
        }

        return result;
    }

    private void AddPages(PagesInline pages, Flow flow, ParagraphStyle? style)
    {
        var seen = new HashSet<string>(StringComparer.Ordinal);
        foreach (string anchor in pages.Anchors)
        {
            if (_context.Known.TryGetValue(anchor, out AnchorPlace place) && seen.Add(place.Label))
            {
                string text = (seen.Count > 1 ? ", " : "") + place.Label;
                Flatten([Made(pages, new LinkInline([new TextRun(text, [.. Enumerable.Repeat(PositionTable.None, text.Length)], pages.Style)], anchor, false))], flow, style, null);
            }
        }
    }

    private void AddPageField(PageFieldInline field, Flow flow, ParagraphStyle? style)
    {
        PageFields? page = _context.Page;
        if (field.Field == PageField.Number)
        {
            string text = page?.NumberAs(field.Format) ?? (field.Anchor is { } anchor && _context.Known.TryGetValue(anchor, out AnchorPlace place)
                ? field.Format.Length == 0 ? place.Label : PageFields.Format(place.Number, field.Format)
                : "0");
            if (text.Length > 0)
            {
                Flatten([new TextRun(text, [.. Enumerable.Repeat(PositionTable.None, text.Length)], field.Style)], flow, style, null);
            }

            return;
        }

        if (_context.IsInMark)
        {
            return;
        }

        IReadOnlyList<Inline>? mark = field.Field == PageField.LeftMark ? page?.LeftMark : page?.RightMark;
        _context.IsInMark = true;
        try
        {
            Flatten([.. (mark ?? []).Select(i => i is TextRun r ? new TextRun(field.IsUppercase ? r.Text.ToUpperInvariant() : r.Text, r.Positions, r.Style with
            {
                Shape = r.Style.Shape == FontShape.Upright ? field.Style.Shape : r.Style.Shape, Bold = r.Style.Bold || field.Style.Bold,
                Size = field.Style.Size, Family = field.Style.Family == FontFamily.Roman ? r.Style.Family : field.Style.Family,
                Colour = field.Style.Colour,
            }) : i)], flow, style, null);
        }
        finally
        {
            // A mark that is left out for its size takes no other along.
            _context.IsInMark = false;
        }
    }

    private Box SetImage(ImageInline inline)
    {
        ManuscriptFile? file = _context.Files.Find(inline.Path);
        bool isSvg = inline.Path.EndsWith(".svg", StringComparison.OrdinalIgnoreCase);
        (SvgFigure? svg, string? svgReason) = isSvg && file is not null ? _context.Resources.Svg(file) : (null, null);
        (Picture? Picture, string? Reason) found = isSvg || file is null ? (null, svgReason) : _context.Resources.Picture(file, inline.Page);
        if (found.Reason is { } reason)
        {
            _context.Findings.Fix("unreadable-picture", inline.Position, 16, $"The picture {inline.Path} can't be read: {reason}.",
                "Export it again as PNG, JPEG, PDF or SVG and put it in place of this one.");
        }

        (double wholeWidth, double wholeHeight) = (svg?.Width ?? found.Picture?.Width ?? 160, svg?.Height ?? found.Picture?.Height ?? 100);
        (double Left, double Bottom, double Right, double Top) trim = inline.Trim ?? default;
        double naturalWidth = Math.Max(1, wholeWidth - trim.Left - trim.Right);
        double naturalHeight = Math.Max(1, wholeHeight - trim.Bottom - trim.Top);
        double width = naturalWidth * inline.Scale;
        double height = naturalHeight * inline.Scale;
        if (inline is { Width: { } w, Height: { } h })
        {
            double factor = Math.Min(w / naturalWidth, h / naturalHeight);
            (width, height) = inline.KeepsAspect ? (naturalWidth * factor, naturalHeight * factor) : (w, h);
        }
        else if (inline.Width is { } onlyWidth)
        {
            (width, height) = (onlyWidth, naturalHeight * onlyWidth / naturalWidth);
        }
        else if (inline.Height is { } onlyHeight)
        {
            (width, height) = (naturalWidth * onlyHeight / naturalHeight, onlyHeight);
        }

        if ((found.Picture is null && svg is null) || _context.Document.IsDraft)
        {
            return Placeholder(inline, width, height);
        }

        double angle = inline.Angle * Math.PI / 180;
        double sin = Math.Sin(angle);
        double cos = Math.Cos(angle);
        double left = Math.Min(0, width * cos) + Math.Min(0, -height * sin);
        double right = Math.Max(0, width * cos) + Math.Max(0, -height * sin);
        double bottom = Math.Min(0, width * sin) + Math.Min(0, height * cos);
        double top = Math.Max(0, width * sin) + Math.Max(0, height * cos);
        var box = new Box { Width = right - left, Height = top - bottom };
        (double across, double up) = (width / naturalWidth, height / naturalHeight);
        if (svg is not null)
        {
            AddSvg(box, svg, inline, (trim.Left, trim.Bottom, naturalWidth, naturalHeight), (across * cos, across * sin, -up * sin, up * cos), -left, -bottom);
            return box;
        }

        box.Marks.Add(new Placed(new ImageMark(found.Picture!, width, height, inline.Angle, inline.Position)
        {
            Whole = inline.Trim is null ? null : (-trim.Left * across, -trim.Bottom * up, wholeWidth * across, wholeHeight * up),
            Clips = inline.Clips,
        }, -left, -bottom));
        return box;
    }

    // The figure's marks as a group, moved by what is cut off at its left and foot.
    private static void AddSvg(
        Box box, SvgFigure svg, ImageInline inline, (double Left, double Bottom, double Width, double Height) shown, (double A, double B, double C, double D) matrix, double x, double y)
    {
        var marks = new List<Placed>(svg.Marks.Count + 1);
        if (inline.Clips)
        {
            marks.Add(new Placed(new PathMark(string.Create(System.Globalization.CultureInfo.InvariantCulture, $"0 0 {shown.Width:0.###} {shown.Height:0.###} re\nW n\n")), 0, 0));
        }

        marks.AddRange(svg.Marks.Select(m => m with { X = m.X - shown.Left, Y = m.Y - shown.Bottom }));
        box.Marks.Add(new Placed(new GroupMark(marks, matrix.A, matrix.B, matrix.C, matrix.D), x, y));
    }

    // Scaled, then turned about its left end on the baseline; the box is the smallest upright one around it.
    private Box Transform(TransformInline inline)
    {
        Box inner = SetBox(inline.Content);
        double across = inline.Width is { } w && inner.Width > 0 ? w / inner.Width : inline.ScaleAcross;
        double high = inline.IsTotalHeight ? inner.Height + inner.Depth : inner.Height;
        double up = inline.Height is { } h && high > 0 ? h / high : inline.ScaleUp;
        (across, up) = (inline.Width, inline.Height) switch
        {
            (not null, null) => (across, across),
            (null, not null) => (up, up),
            _ => (across, up),
        };
        double sin = Math.Sin(inline.Angle * Math.PI / 180);
        double cos = Math.Cos(inline.Angle * Math.PI / 180);
        var group = new GroupMark(inner.Marks, across * cos, across * sin, -up * sin, up * cos);
        (double X, double Y)[] corners = [group.Map(0, inner.Height), group.Map(0, -inner.Depth), group.Map(inner.Width, inner.Height), group.Map(inner.Width, -inner.Depth)];
        double left = corners.Min(c => c.X);
        var box = new Box { Width = corners.Max(c => c.X) - left, Height = corners.Max(c => c.Y), Depth = -corners.Min(c => c.Y) };
        box.Marks.Add(new Placed(group, -left, 0));
        // Places that references lead to stay where the page finds them.
        foreach (Placed placed in inner.Marks.Where(p => p.Mark is AnchorMark))
        {
            (double x, double y) = group.Map(placed.X, placed.Y);
            box.Marks.Add(placed with { X = x - left, Y = y });
        }

        return box;
    }

    private Box SetDrawing(DrawingInline drawing)
    {
        var box = new Box { Width = drawing.Width, Height = drawing.Height };
        foreach (DrawingPart part in drawing.Parts)
        {
            switch (part)
            {
                case DrawnText text:
                    box.Add(SetBox(text.Content), text.X, text.Y);
                    break;
                case DrawnCurve curve:
                    box.Marks.Add(new Placed(DrawnPath.Of(curve), 0, 0));
                    break;
            }
        }

        return box;
    }

    // A frame with the file's name stands for a picture that isn't there.
    private Box Placeholder(ImageInline inline, double width, double height)
    {
        var style = new TextStyle(FontFamily.Mono, false, FontShape.Upright, 8);
        Box name = SetBox([new TextRun(inline.Path, [.. Enumerable.Repeat(inline.Position, inline.Path.Length)], style)]);
        var box = new Box { Width = width, Height = height };
        box.Marks.Add(new Placed(new RuleMark(width, 0.4), 0, height - 0.4));
        box.Marks.Add(new Placed(new RuleMark(width, 0.4), 0, 0));
        box.Marks.Add(new Placed(new RuleMark(0.4, height), 0, 0));
        box.Marks.Add(new Placed(new RuleMark(0.4, height), width - 0.4, 0));
        box.Add(name, (width - name.Width) / 2, height / 2);
        return box;
    }
}
