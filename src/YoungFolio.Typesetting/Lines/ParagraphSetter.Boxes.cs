using YoungFolio.Manuscript.Tree;
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
        Box inner = SetBox(inline.Content);
        double width = inline.Width ?? inner.Width;
        const double Gap = 3;
        const double Line = 0.4;
        double pad = inline.IsFramed ? Gap + Line : 0;
        var box = new Box();
        double free = width - inner.Width;
        box.Add(inner, pad + (inline.Alignment < 0 ? 0 : inline.Alignment > 0 ? free : free / 2), inline.Rise);
        box.Width = width + (2 * pad);
        if (inline.IsFramed)
        {
            double height = inner.Height + pad;
            double depth = inner.Depth + pad;
            box.Marks.Add(new Placed(new RuleMark(box.Width, Line), 0, height - Line));
            box.Marks.Add(new Placed(new RuleMark(box.Width, Line), 0, -depth));
            box.Marks.Add(new Placed(new RuleMark(Line, height + depth), 0, -depth));
            box.Marks.Add(new Placed(new RuleMark(Line, height + depth), box.Width - Line, -depth));
            box.Height = height;
            box.Depth = depth;
        }

        if (inline.IsUnderlined)
        {
            box.Marks.Add(new Placed(new RuleMark(width, 0.4), 0, -inner.Depth - 1.6));
            box.Depth = inner.Depth + 2;
        }

        return box;
    }

    private Box SetImage(ImageInline inline)
    {
        if (!context.Pictures.TryGetValue(inline.Path, out (Picture? Picture, string? Reason) found))
        {
            found = context.Parts.Find(inline.Path) is { } part ? Picture.Read(part) : (null, null);
            context.Pictures[inline.Path] = found;
        }

        if (found.Reason is { } reason)
        {
            context.Findings.Fix("unreadable-picture", inline.Position, 16, $"The picture {inline.Path} can't be read: {reason}.",
                "Export it again as PNG or JPEG and put it in place of this one.");
        }

        double naturalWidth = found.Picture?.Width ?? 160;
        double naturalHeight = found.Picture?.Height ?? 100;
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

        if (found.Picture is null)
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
        box.Marks.Add(new Placed(new ImageMark(found.Picture, width, height, inline.Angle, inline.Position), -left, -bottom));
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
