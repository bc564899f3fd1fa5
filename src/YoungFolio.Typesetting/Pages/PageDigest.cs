using System.IO.Hashing;
using System.Runtime.InteropServices;
using YoungFolio.Typesetting.Images;

namespace YoungFolio.Typesetting.Pages;

/// <summary>A digest of all that a page shows: what is made from a page is kept by it.</summary>
public static class PageDigest
{
    [ThreadStatic]
    private static byte[]? s_buffer;

    /// <summary>The digest of a page.</summary>
    /// <param name="page">The page.</param>
    /// <param name="nameOf">What a picture is known by; null when it isn't shown.</param>
    /// <param name="more">What else counts.</param>
    public static UInt128 Of(Page page, Func<Picture, string?> nameOf, ReadOnlySpan<byte> more = default)
    {
        byte[] buffer = s_buffer ??= new byte[1 << 16];
        int length = 0;
        Add(page.Height);
        AddMarks(page.Marks);
        AddBytes(more);
        s_buffer = buffer;
        return XxHash128.HashToUInt128(buffer.AsSpan(0, length));

        void AddMarks(IReadOnlyList<Placed> marks)
        {
            foreach (Placed placed in marks)
            {
                switch (placed.Mark)
                {
                    case GroupMark group:
                        (double a, double b, double c, double d) = group.Matrix;
                        Add(4);
                        Add(a);
                        Add(b);
                        Add(c);
                        Add(d);
                        Add(group.Content.Count);
                        AddMarks(group.Content);
                        break;
                    case PathMark path:
                        Add(5);
                        AddText(path.Operators);
                        Add(path.FillOpacity);
                        Add(path.StrokeOpacity);
                        break;
                    case ShadingMark shading:
                        Add(6);
                        AddText(shading.Path);
                        AddGradient(shading.Gradient);
                        Add(shading.EvenOdd ? 1 : 0);
                        Add(shading.Opacity);
                        foreach (double number in shading.Matrix)
                        {
                            Add(number);
                        }

                        break;
                    case GlyphMark glyphs:
                        Add(1);
                        Add(glyphs.LooksHash);
                        break;
                    case RuleMark rule:
                        Add(2);
                        Add(rule.Width);
                        Add(rule.Height);
                        Add(rule.Colour);
                        break;
                    case ImageMark image when nameOf(image.Picture) is { } name:
                        Add(3);
                        AddText(name);
                        Add(image.Width);
                        Add(image.Height);
                        Add(image.Angle);
                        Add(image.Clips ? 1 : 0);
                        (double left, double foot, double wide, double high) = image.Whole ?? default;
                        Add(left);
                        Add(foot);
                        Add(wide);
                        Add(high);
                        break;
                    default:
                        continue;
                }

                Add(placed.X);
                Add(placed.Y);
            }
        }

        void AddGradient(Gradient gradient)
        {
            Add(gradient.IsRadial ? 1 : 0);
            foreach (double number in gradient.Coordinates)
            {
                Add(number);
            }

            Add(gradient.Stops.Count);
            foreach ((double at, int colour) in gradient.Stops)
            {
                Add(at);
                Add(colour);
            }
        }

        void Add<T>(T value)
            where T : unmanaged
        {
            int size = System.Runtime.CompilerServices.Unsafe.SizeOf<T>();
            Grow(size);
            MemoryMarshal.Write(buffer.AsSpan(length), value);
            length += size;
        }

        void AddText(string text)
        {
            Add(text.Length);
            AddBytes(MemoryMarshal.AsBytes(text.AsSpan()));
        }

        void AddBytes(ReadOnlySpan<byte> bytes)
        {
            Grow(bytes.Length);
            bytes.CopyTo(buffer.AsSpan(length));
            length += bytes.Length;
        }

        void Grow(int size)
        {
            if (length + size > buffer.Length)
            {
                Array.Resize(ref buffer, Math.Max(buffer.Length * 2, length + size));
            }
        }
    }
}
