using System.Collections.Concurrent;
using System.Globalization;
using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using System.Text;

namespace YoungFolio.Typesetting.Fonts;

/// <summary>Outlines of glyphs as path data of SVG, in units of the font with y upwards; read by HarfBuzz.</summary>
public static unsafe partial class GlyphOutlines
{
    private static readonly ConcurrentDictionary<(FontFile, uint), string> s_paths = new();
    private static readonly Lazy<IntPtr> s_functions = new(MakeFunctions);

    /// <summary>The outline of a glyph; empty for one without ink.</summary>
    public static string Path(FontFile font, uint glyph) => s_paths.GetOrAdd((font, glyph), static k =>
    {
        var path = new StringBuilder();
        GCHandle handle = GCHandle.Alloc(path);
        try
        {
            hb_font_draw_glyph(k.Item1.Font.Handle, k.Item2, s_functions.Value, GCHandle.ToIntPtr(handle));
        }
        finally
        {
            handle.Free();
        }

        return path.ToString();
    });

    private static IntPtr MakeFunctions()
    {
        IntPtr functions = hb_draw_funcs_create();
        hb_draw_funcs_set_move_to_func(functions, &MoveTo, 0, 0);
        hb_draw_funcs_set_line_to_func(functions, &LineTo, 0, 0);
        hb_draw_funcs_set_cubic_to_func(functions, &CubicTo, 0, 0);
        hb_draw_funcs_set_close_path_func(functions, &ClosePath, 0, 0);
        return functions;
    }

    private static void Add(IntPtr data, char command, ReadOnlySpan<float> numbers)
    {
        var path = (StringBuilder)GCHandle.FromIntPtr(data).Target!;
        path.Append(command);
        for (int i = 0; i < numbers.Length; i++)
        {
            path.Append(i > 0 ? " " : "").Append(numbers[i].ToString("0.##", CultureInfo.InvariantCulture));
        }
    }

    [UnmanagedCallersOnly(CallConvs = [typeof(CallConvCdecl)])]
    private static void MoveTo(IntPtr functions, IntPtr data, IntPtr state, float x, float y, IntPtr user) => Add(data, 'M', [x, y]);

    [UnmanagedCallersOnly(CallConvs = [typeof(CallConvCdecl)])]
    private static void LineTo(IntPtr functions, IntPtr data, IntPtr state, float x, float y, IntPtr user) => Add(data, 'L', [x, y]);

    [UnmanagedCallersOnly(CallConvs = [typeof(CallConvCdecl)])]
    private static void CubicTo(IntPtr functions, IntPtr data, IntPtr state, float x1, float y1, float x2, float y2, float x, float y, IntPtr user) =>
        Add(data, 'C', [x1, y1, x2, y2, x, y]);

    [UnmanagedCallersOnly(CallConvs = [typeof(CallConvCdecl)])]
    private static void ClosePath(IntPtr functions, IntPtr data, IntPtr state, IntPtr user) => Add(data, 'Z', []);

    [LibraryImport("libHarfBuzzSharp")]
    private static partial IntPtr hb_draw_funcs_create();

    [LibraryImport("libHarfBuzzSharp")]
    private static partial void hb_draw_funcs_set_move_to_func(IntPtr functions, delegate* unmanaged[Cdecl]<IntPtr, IntPtr, IntPtr, float, float, IntPtr, void> function, IntPtr user, IntPtr destroy);

    [LibraryImport("libHarfBuzzSharp")]
    private static partial void hb_draw_funcs_set_line_to_func(IntPtr functions, delegate* unmanaged[Cdecl]<IntPtr, IntPtr, IntPtr, float, float, IntPtr, void> function, IntPtr user, IntPtr destroy);

    [LibraryImport("libHarfBuzzSharp")]
    private static partial void hb_draw_funcs_set_cubic_to_func(
        IntPtr functions, delegate* unmanaged[Cdecl]<IntPtr, IntPtr, IntPtr, float, float, float, float, float, float, IntPtr, void> function, IntPtr user, IntPtr destroy);

    [LibraryImport("libHarfBuzzSharp")]
    private static partial void hb_draw_funcs_set_close_path_func(IntPtr functions, delegate* unmanaged[Cdecl]<IntPtr, IntPtr, IntPtr, IntPtr, void> function, IntPtr user, IntPtr destroy);

    [LibraryImport("libHarfBuzzSharp")]
    private static partial void hb_font_draw_glyph(IntPtr font, uint glyph, IntPtr functions, IntPtr data);
}
