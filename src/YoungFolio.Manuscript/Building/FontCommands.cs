using System.Globalization;
using YoungFolio.Documents;
using YoungFolio.Documents.Mathematics;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>
/// Fonts by the names of their files (<c>\font</c>, <em>The TeXbook</em>, chapter 9) and the declarations that class files choose fonts with.
/// A font that doesn't ship is the nearest that does; tables that say which file belongs to which shape have no effect here.
/// </summary>
internal sealed class FontCommands(DocumentBuilder builder) : ReadingFeature(builder)
{
    // Beginnings of file names, longest first, with what they stand for (the trade's font file names, from memory).
    private static readonly (string Begin, FontFamily Family, bool Bold, FontShape Shape)[] s_files =
    [
        ("cmssbx", FontFamily.Sans, true, FontShape.Upright),
        ("cmssdc", FontFamily.Sans, true, FontShape.Upright),
        ("cmssi", FontFamily.Sans, false, FontShape.Italic),
        ("cmcsc", FontFamily.Roman, false, FontShape.SmallCaps),
        ("cmbxti", FontFamily.Roman, true, FontShape.Italic),
        ("cmbxsl", FontFamily.Roman, true, FontShape.Slanted),
        ("cmitt", FontFamily.Mono, false, FontShape.Italic),
        ("cmsltt", FontFamily.Mono, false, FontShape.Slanted),
        ("cmtt", FontFamily.Mono, false, FontShape.Upright),
        ("cmss", FontFamily.Sans, false, FontShape.Upright),
        ("cmti", FontFamily.Roman, false, FontShape.Italic),
        ("cmmi", FontFamily.Roman, false, FontShape.Italic),
        ("cmsl", FontFamily.Roman, false, FontShape.Slanted),
        ("cmb", FontFamily.Roman, true, FontShape.Upright),
        ("lmbx", FontFamily.Roman, true, FontShape.Upright),
        ("phvb", FontFamily.Sans, true, FontShape.Upright),
        ("phv", FontFamily.Sans, false, FontShape.Upright),
        ("pcr", FontFamily.Mono, false, FontShape.Upright),
        ("ptmb", FontFamily.Roman, true, FontShape.Upright),
        ("ptmri", FontFamily.Roman, false, FontShape.Italic),
        ("pplb", FontFamily.Roman, true, FontShape.Upright),
    ];

    /// <summary>The dimensions of a font in parts of its size: slant, space, its stretch and shrink, height of x, quad, more space after a sentence.</summary>
    private static readonly double[] s_dimensions = [0, 1 / 3.0, 1 / 6.0, 1 / 9.0, 0.43, 1, 1 / 9.0];

    internal void DefineFonts()
    {
        Machine.DefineMeaning("font", new QuantityCommand("font", static _ => Quantity.Of(0), (m, t) => ReadFont(t, m.Definitions.ReadCommandToken(t))));
        Machine.Define("nullfont", static (_, _) => { });
        Machine.Define("newfont", (m, t) =>
        {
            Token name = m.Definitions.ReadCommandToken(t);
            List<Token> file = m.ReadArgument(t);
            m.Push([.. file, Token.Command(m.Symbol("relax"), t.Position)]);
            DefineFont(name, ReadFontName());
        });
        Machine.DefineMeaning("fontdimen", new QuantityCommand("fontdimen", _ => Quantity.Of(Dimension.FromPoints(ReadFontDimension())), (m, _) =>
        {
            ReadFontDimension();
            m.Assignments.TakeEquals();
            m.Quantities.ScanDimension();
        }));
        Machine.DefineMeaning("hyphenchar", new QuantityCommand("hyphenchar", m =>
        {
            m.Next();
            return Quantity.Of(Builder.Divides.Value ? '-' : -1);
        }, (m, _) =>
        {
            // A font without a hyphen is one whose words aren't divided.
            m.Next();
            m.Assignments.TakeEquals();
            m.Assign(Builder.Divides, m.Quantities.ScanInteger() >= 0, m.Definitions.TakeGlobal());
        }));
        Machine.DefineMeaning("skewchar", new QuantityCommand("skewchar", static m =>
        {
            m.Next();
            return Quantity.Of(-1);
        }, static (m, _) =>
        {
            m.Next();
            m.Assignments.TakeEquals();
            m.Quantities.ScanInteger();
        }));
        foreach (string family in (string[])["textfont", "scriptfont", "scriptscriptfont"])
        {
            // Formulas take their fonts from the family that goes with the text.
            Machine.Define(family, static (m, _) =>
            {
                m.Quantities.ScanInteger();
                m.Assignments.TakeEquals();
                m.Next();
            });
        }

        foreach ((string name, int part) in (ReadOnlySpan<(string, int)>)[("fontcharwd", 0), ("fontcharht", 1), ("fontchardp", 2), ("fontcharic", 3)])
        {
            Machine.DefineMeaning(name, new QuantityCommand(name, m =>
            {
                m.Next();
                int code = m.Quantities.ScanInteger();
                Extent extent = code is > 0 and < 0xD800
                    ? Builder.Boxes.Measure([new TextRun(((char)code).ToString(), [PositionTable.None], Builder.Style.Value)])
                    : default;
                return Quantity.Of(Dimension.FromPoints(part switch { 0 => extent.Width, 1 => extent.Height, 2 => extent.Depth, _ => 0 }));
            }));
        }

        foreach ((string name, Func<TextStyle, string> of) in (ReadOnlySpan<(string, Func<TextStyle, string>)>)[
            ("f@size", static s => s.Size.ToString("0.##", CultureInfo.InvariantCulture)),
            ("tf@size", static s => s.Size.ToString("0.##", CultureInfo.InvariantCulture)),
            ("f@series", static s => s.Bold ? "b" : "m"), ("f@encoding", static _ => "TU"),
            ("f@shape", static s => s.Shape switch { FontShape.Italic => "it", FontShape.Slanted => "sl", FontShape.SmallCaps => "sc", _ => "n" })])
        {
            Machine.DefineExpandable(name, (m, t) => m.Conversions.PushText(of(Builder.Style.Value), t.Position));
        }

        Machine.DefineExpandable("f@baselineskip", (m, t) => m.Conversions.PushText(Dimension.FromPoints(Builder.Leading.Value).ToString(), t.Position));
        Machine.DefineExpandable("f@family", (m, t) =>
        {
            string family = Builder.Style.Value.Family switch { FontFamily.Sans => "sfdefault", FontFamily.Mono => "ttdefault", _ => "rmdefault" };
            m.Push(Token.Command(m.Symbol(family), t.Position));
        });
        Machine.Definitions.Load("\\def\\scdefault{sc}\\def\\sldefault{sl}\\def\\seriesdefault{m}\\def\\shapedefault{n}\\def\\cur@fontsize{\\f@size}");
        DefineDeclarations();
    }

    private void DefineDeclarations()
    {
        Machine.Definitions.Load("""
            \def\DeclareTextFontCommand#1#2{\DeclareRobustCommand#1[1]{{#2##1}}}
            \def\DeclareOldFontCommand#1#2#3{\DeclareRobustCommand#1{\relax\ifmmode#3\else#2\fi}}
            \def\DeclareFixedFont#1#2#3#4#5#6{\def#1{\usefont{#2}{#3}{#4}{#5}\fontsize{#6}{#6}\selectfont}}
            """);
        Machine.Define("DeclareMathAlphabet", (m, t) =>
        {
            Token name = m.Definitions.ReadCommandToken(t);
            m.ReadArgument(t);
            string family = m.ReadText(t);
            string series = m.ReadText(t);
            string shape = m.ReadText(t);
            // The alphabet that looks most like the family asked for.
            string like = family is "pzc" or "rsfs" or "eus" or "mdugm" ? "mathscr"
                : family is "euf" or "yfrak" ? "mathfrak"
                : family is "msb" or "bbold" or "U" ? "mathbb"
                : TypefaceCatalogue.ByCode(family)?.Kind switch { FontFamily.Sans => "mathsf", FontFamily.Mono => "mathtt", _ => null }
                ?? (series.StartsWith('b') ? "mathbf" : shape is "it" or "sl" ? "mathit" : "mathrm");
            if (name.Symbol is { } symbol)
            {
                m.Assign(symbol.Meaning, m.Symbol(like).Meaning.Value, true);
            }
        });
        foreach ((string name, int arguments) in (ReadOnlySpan<(string, int)>)[
            ("DeclareFontEncoding", 3), ("DeclareFontFamily", 3), ("DeclareFontShape", 6), ("DeclareFontSubstitution", 4), ("DeclareErrorFont", 5),
            ("DeclareEncodingSubset", 3), ("DeclareSymbolFontAlphabet", 2), ("SetSymbolFont", 6), ("SetMathAlphabet", 6),
            ("DeclareMathVersion", 1), ("DeclareMathSizes", 4)])
        {
            Machine.Define(name, (m, t) =>
            {
                m.TakeStar();
                for (int i = 0; i < arguments; i++)
                {
                    m.ReadArgument(t);
                }
            });
        }
    }

    // \font\name=file at 12pt, or scaled 1200.
    private void ReadFont(Token command, Token name)
    {
        Machine.Assignments.TakeEquals();
        DefineFont(name, ReadFontName());
    }

    private (string File, double Size) ReadFontName()
    {
        var file = new System.Text.StringBuilder();
        Token token = Machine.NextExpanded();
        while (token.Is(Category.Space))
        {
            token = Machine.NextExpanded();
        }

        while (token.Category is Category.Letter or Category.Other)
        {
            file.Append(token.ToString());
            token = Machine.NextExpanded();
        }

        Machine.PutBack(token);
        string name = file.ToString().Trim('"');
        string figures = string.Concat(name.Reverse().TakeWhile(char.IsAsciiDigit).Reverse());
        double size = figures.Length is 1 or 2 ? double.Parse(figures, CultureInfo.InvariantCulture) : 10;
        if (Machine.Quantities.TakeKeyword("at"))
        {
            size = Machine.Quantities.ScanDimension().Points;
        }
        else if (Machine.Quantities.TakeKeyword("scaled"))
        {
            size *= Machine.Quantities.ScanInteger() / 1000.0;
        }

        return (name, Math.Clamp(size, 0.1, 2000));
    }

    private void DefineFont(Token name, (string File, double Size) font)
    {
        if (name.Symbol is not { } symbol)
        {
            return;
        }

        (FontFamily family, bool bold, FontShape shape) = (FontFamily.Roman, false, FontShape.Upright);
        foreach ((string begin, FontFamily f, bool b, FontShape s) in s_files)
        {
            if (font.File.StartsWith(begin, StringComparison.Ordinal))
            {
                (family, bold, shape) = (f, b, s);
                break;
            }
        }

        string? face = font.File.StartsWith("cm", StringComparison.Ordinal) || font.File.StartsWith("lm", StringComparison.Ordinal)
            ? family switch { FontFamily.Sans => "modernsans", FontFamily.Mono => "modernmono", _ => "modern" }
            : TypefaceCatalogue.ByCode(font.File[..Math.Min(3, font.File.Length)])?.Name;
        // The figures of a name such as cmr10 are the size that the font is drawn for.
        string figures = new([.. font.File.SkipWhile(c => !char.IsAsciiDigit(c)).TakeWhile(char.IsAsciiDigit)]);
        int drawnFor = face is not null && figures.Length is 1 or 2 ? int.Parse(figures, CultureInfo.InvariantCulture) : 0;
        TextStyle Chosen(TextStyle style) => style with { Family = family, Face = face, Bold = bold, Shape = shape, Size = font.Size, DesignSize = drawnFor };
        var command = new BuiltInCommand(symbol.Name, (m, _) => m.Assign(Builder.Style, Chosen(Builder.Style.Value)));
        Machine.Assign(symbol.Meaning, command, Machine.Definitions.TakeGlobal());
    }

    private double ReadFontDimension()
    {
        int number = Machine.Quantities.ScanInteger();
        Machine.Next();
        return number >= 1 && number <= s_dimensions.Length ? s_dimensions[number - 1] * Builder.Style.Value.Size : 0;
    }
}
