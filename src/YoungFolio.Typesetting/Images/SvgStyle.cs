using System.Globalization;
using System.Text.RegularExpressions;
using System.Xml.Linq;

namespace YoungFolio.Typesetting.Images;

/// <summary>How an element of an SVG is drawn; what it doesn't say it has from the one around it.</summary>
internal sealed record SvgStyle
{
    /// <summary>Red, green and blue, a byte each; null for none.</summary>
    public int? Fill { get; init; } = 0;

    /// <summary>Id of the gradient that fills, or null; the colour above is its mean.</summary>
    public string? FillGradient { get; init; }

    /// <summary>Name of what is drawn at a line's first point.</summary>
    public string? MarkerStart { get; init; }

    /// <summary>Name of what is drawn at a line's points between.</summary>
    public string? MarkerMiddle { get; init; }

    /// <summary>Name of what is drawn at a line's last point.</summary>
    public string? MarkerEnd { get; init; }

    public int StopColour { get; init; }

    public double StopOpacity { get; init; } = 1;

    public int? Stroke { get; init; }

    public double StrokeWidth { get; init; } = 1;

    public double FillOpacity { get; init; } = 1;

    public double StrokeOpacity { get; init; } = 1;

    public double Opacity { get; init; } = 1;

    public bool EvenOdd { get; init; }

    public int Cap { get; init; }

    public int Join { get; init; }

    public IReadOnlyList<double> Dashes { get; init; } = [];

    public double FontSize { get; init; } = 16;

    public string FontFamily { get; init; } = "";

    public bool Bold { get; init; }

    public bool Italic { get; init; }

    public string Anchor { get; init; } = "start";

    public bool IsHidden { get; init; }
}

/// <summary>Reads presentation attributes and the simple rules of style sheets (SVG 1.1, chapter 6).</summary>
internal sealed partial class SvgStyles
{
    private readonly List<(string Tag, string Class, string Id, string Declarations)> _rules = [];
    private readonly Func<string, int?> _gradient;

    // Each element is held against each of them.
    private const int MostRules = 1_000;

    public SvgStyles(XElement root, Func<string, int?> gradient)
    {
        _gradient = gradient;
        foreach (XElement sheet in root.DescendantsAndSelf().Where(e => e.Name.LocalName == "style"))
        {
            foreach (Match rule in Rule().Matches(Comment().Replace(sheet.Value, "")))
            {
                foreach (string selector in rule.Groups[1].Value.Split(',', StringSplitOptions.TrimEntries))
                {
                    if (Selector().Match(selector) is { Success: true } s)
                    {
                        if (_rules.Count == MostRules)
                        {
                            throw new FigureLimitException(FormattableString.Invariant($"it has more than {MostRules:N0} rules of style"));
                        }

                        _rules.Add((s.Groups[1].Value, s.Groups[2].Value, s.Groups[3].Value, rule.Groups[2].Value));
                    }
                }
            }
        }
    }

    /// <summary>The style of an element inside another one's.</summary>
    public SvgStyle Of(XElement element, SvgStyle outer)
    {
        // Opacity and visibility of a group hold for what is in it; the rest is inherited.
        SvgStyle style = outer;
        foreach (XAttribute attribute in element.Attributes())
        {
            style = With(style, attribute.Name.LocalName, attribute.Value);
        }

        string[] classes = (element.Attribute("class")?.Value ?? "").Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries);
        string id = element.Attribute("id")?.Value ?? "";
        foreach ((string tag, string name, string own, string declarations) in _rules)
        {
            if ((tag.Length == 0 || tag == "*" || tag == element.Name.LocalName) && (name.Length == 0 || classes.Contains(name)) && (own.Length == 0 || own == id))
            {
                style = WithDeclarations(style, declarations);
            }
        }

        return element.Attribute("style") is { } inline ? WithDeclarations(style, inline.Value) : style;
    }

    private SvgStyle WithDeclarations(SvgStyle style, string declarations)
    {
        foreach (string declaration in declarations.Split(';'))
        {
            int colon = declaration.IndexOf(':', StringComparison.Ordinal);
            if (colon > 0)
            {
                style = With(style, declaration[..colon].Trim(), declaration[(colon + 1)..].Trim());
            }
        }

        return style;
    }

    private SvgStyle With(SvgStyle style, string name, string value) => name switch
    {
        "fill" => style with { Fill = Colour(value, style.Fill), FillGradient = Reference(value) },
        "marker-start" => style with { MarkerStart = Reference(value) },
        "marker-mid" => style with { MarkerMiddle = Reference(value) },
        "marker-end" => style with { MarkerEnd = Reference(value) },
        "marker" => style with { MarkerStart = Reference(value), MarkerMiddle = Reference(value), MarkerEnd = Reference(value) },
        "stop-color" => style with { StopColour = Colour(value, 0) ?? 0 },
        "stop-opacity" => style with { StopOpacity = Share(value) },
        "stroke" => style with { Stroke = Colour(value, style.Stroke) },
        "stroke-width" => style with { StrokeWidth = Length(value) ?? style.StrokeWidth },
        "opacity" => style with { Opacity = style.Opacity * Share(value) },
        "fill-opacity" => style with { FillOpacity = Share(value) },
        "stroke-opacity" => style with { StrokeOpacity = Share(value) },
        "fill-rule" => style with { EvenOdd = value == "evenodd" },
        "stroke-linecap" => style with { Cap = value switch { "round" => 1, "square" => 2, _ => 0 } },
        "stroke-linejoin" => style with { Join = value switch { "round" => 1, "bevel" => 2, _ => 0 } },
        "stroke-dasharray" => style with { Dashes = value == "none" ? [] : [.. value.Split([',', ' '], StringSplitOptions.RemoveEmptyEntries).Select(v => Length(v) ?? 0)] },
        "font-size" => style with { FontSize = Length(value) is > 0 and var size ? size : style.FontSize },
        "font-family" => style with { FontFamily = value },
        "font-weight" => style with { Bold = value is "bold" or "bolder" || (int.TryParse(value, out int weight) && weight >= 600) },
        "font-style" => style with { Italic = value is "italic" or "oblique" },
        "font" => WithFont(style, value),
        "text-anchor" => style with { Anchor = value },
        "display" => style with { IsHidden = style.IsHidden || value == "none" },
        "visibility" => style with { IsHidden = value is "hidden" or "collapse" },
        _ => style,
    };

    private static SvgStyle WithFont(SvgStyle style, string value)
    {
        Match size = FontSize().Match(value);
        return style with
        {
            Bold = value.Contains("bold", StringComparison.Ordinal),
            Italic = value.Contains("italic", StringComparison.Ordinal),
            FontSize = size.Success ? Length(size.Groups[1].Value) ?? style.FontSize : style.FontSize,
            FontFamily = size.Success ? size.Groups[2].Value : value,
        };
    }

    private static double Share(string value) => value.EndsWith('%') && Length(value[..^1]) is { } p ? Math.Clamp(p / 100, 0, 1) : Math.Clamp(Length(value) ?? 1, 0, 1);

    /// <summary>A length in user units (1/96 in); null when it is none.</summary>
    public static double? Length(string text)
    {
        Match m = Measure().Match(text.Trim());
        if (!m.Success || !double.TryParse(m.Groups[1].Value, NumberStyles.Float, CultureInfo.InvariantCulture, out double value) || !double.IsFinite(value))
        {
            return null;
        }

        return value * m.Groups[2].Value switch { "pt" => 96.0 / 72, "pc" => 16, "in" => 96, "cm" => 96 / 2.54, "mm" => 96 / 25.4, "em" or "ex" => 16, _ => 1 };
    }

    private static string? Reference(string value) =>
        value.IndexOf('#', StringComparison.Ordinal) is var hash && hash > 0 && value.StartsWith("url(", StringComparison.Ordinal)
            ? value[(hash + 1)..].Split(')')[0].TrimEnd('\'', '"', ' ')
            : null;

    private int? Colour(string value, int? before)
    {
        value = value.Trim();
        if (value is "none" or "transparent")
        {
            return null;
        }

        if (value is "inherit" or "currentColor")
        {
            return before ?? 0;
        }

        if (value.StartsWith("url(", StringComparison.Ordinal))
        {
            return _gradient(value[4..].TrimStart('#', '\'', '"').Split(')')[0].Trim('#', '\'', '"'));
        }

        if (value.StartsWith('#') && int.TryParse(value.AsSpan(1), NumberStyles.HexNumber, CultureInfo.InvariantCulture, out int hex))
        {
            return value.Length == 4 ? ((hex >> 8 & 15) * 0x110000) | ((hex >> 4 & 15) * 0x1100) | ((hex & 15) * 0x11) : value.Length == 9 ? hex >> 8 & 0xFFFFFF : hex & 0xFFFFFF;
        }

        if (Rgb().Match(value) is { Success: true } rgb)
        {
            int Part(int group) => (int)Math.Round(Math.Clamp(rgb.Groups[group].Value.EndsWith('%')
                ? (Length(rgb.Groups[group].Value[..^1]) ?? 0) * 2.55 : Length(rgb.Groups[group].Value) ?? 0, 0, 255));
            return (Part(1) << 16) | (Part(2) << 8) | Part(3);
        }

        return s_names.TryGetValue(value.ToLowerInvariant(), out int known) ? known : before;
    }

    // The names that plotting programs write most (CSS Color Module, basic and common extended names, from memory).
    private static readonly Dictionary<string, int> s_names = new(StringComparer.Ordinal)
    {
        ["black"] = 0,
        ["white"] = 0xFFFFFF,
        ["red"] = 0xFF0000,
        ["green"] = 0x008000,
        ["blue"] = 0x0000FF,
        ["yellow"] = 0xFFFF00,
        ["cyan"] = 0x00FFFF,
        ["aqua"] = 0x00FFFF,
        ["magenta"] = 0xFF00FF,
        ["fuchsia"] = 0xFF00FF,
        ["gray"] = 0x808080,
        ["grey"] = 0x808080,
        ["silver"] = 0xC0C0C0,
        ["maroon"] = 0x800000,
        ["olive"] = 0x808000,
        ["lime"] = 0x00FF00,
        ["navy"] = 0x000080,
        ["purple"] = 0x800080,
        ["teal"] = 0x008080,
        ["orange"] = 0xFFA500,
        ["brown"] = 0xA52A2A,
        ["pink"] = 0xFFC0CB,
        ["steelblue"] = 0x4682B4,
        ["darkgray"] = 0xA9A9A9,
        ["darkgrey"] = 0xA9A9A9,
        ["lightgray"] = 0xD3D3D3,
        ["lightgrey"] = 0xD3D3D3,
        ["dimgray"] = 0x696969,
        ["darkblue"] = 0x00008B,
        ["darkgreen"] = 0x006400,
        ["darkred"] = 0x8B0000,
        ["lightblue"] = 0xADD8E6,
        ["lightgreen"] = 0x90EE90,
        ["gold"] = 0xFFD700,
        ["tomato"] = 0xFF6347,
        ["crimson"] = 0xDC143C,
        ["coral"] = 0xFF7F50,
        ["salmon"] = 0xFA8072,
        ["skyblue"] = 0x87CEEB,
        ["royalblue"] = 0x4169E1,
        ["slategray"] = 0x708090,
        ["whitesmoke"] = 0xF5F5F5,
        ["gainsboro"] = 0xDCDCDC,
        ["indigo"] = 0x4B0082,
        ["violet"] = 0xEE82EE,
        ["turquoise"] = 0x40E0D0,
        ["khaki"] = 0xF0E68C,
        ["beige"] = 0xF5F5DC,
    };

    [GeneratedRegex(@"([^{}]+)\{([^{}]*)\}")]
    private static partial Regex Rule();

    [GeneratedRegex(@"/\*.*?\*/", RegexOptions.Singleline)]
    private static partial Regex Comment();

    [GeneratedRegex(@"^([\w*-]*)(?:\.([\w-]+))?(?:#([\w-]+))?$")]
    private static partial Regex Selector();

    [GeneratedRegex(@"^([-+]?[\d.]+(?:[eE][-+]?\d+)?)\s*([a-z]*)")]
    private static partial Regex Measure();

    [GeneratedRegex(@"^rgba?\(\s*([\d.]+%?)[\s,]+([\d.]+%?)[\s,]+([\d.]+%?)")]
    private static partial Regex Rgb();

    [GeneratedRegex(@"([\d.]+(?:px|pt)?)(?:/[\d.]+)?\s+(.+)$")]
    private static partial Regex FontSize();
}
