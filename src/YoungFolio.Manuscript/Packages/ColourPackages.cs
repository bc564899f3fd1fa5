using System.Globalization;
using YoungFolio.Documents;
using YoungFolio.Manuscript.Building;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Packages;

/// <summary>Packages for colour.</summary>
internal static class ColourPackages
{
    public static IReadOnlyList<Package> All { get; } =
    [
        new("xcolor", "Colours by name, mixed and defined.")
        {
            Commands = ["color", "textcolor", "colorbox", "fcolorbox", "definecolor", "colorlet", "pagecolor", "nopagecolor", "providecolor"],
            Options = ["dvipsnames", "svgnames", "x11names", "table", "usenames", "hyperref", "rgb", "cmyk", "gray", "natural", "prologue"],
            Load = static load =>
            {
                Load(load.Builder);
                if (load.Has("table"))
                {
                    load.Builder.Preamble.LoadPackage("colortbl", [], load.Token, 1);
                }
            },
        },
        new("color", "Colours by name.")
        {
            Commands = ["color", "textcolor", "colorbox", "fcolorbox", "definecolor", "pagecolor"],
            Load = static load => Load(load.Builder),
        },
    ];

    private static void Load(DocumentBuilder builder)
    {
        Machine machine = builder.Machine;
        machine.Define("color", (m, t) => builder.PackageServices.SetColour(ReadColour(builder, m, t)));
        machine.Define("textcolor", (m, t) =>
        {
            int colour = ReadColour(builder, m, t) ?? 0;
            if (builder.MathStructures.InFormula)
            {
                builder.MathStructures.AddColoured(colour, t);
                return;
            }

            List<Token> text = m.ReadArgument(t);
            string name = "colour " + colour.ToString("x6", CultureInfo.InvariantCulture);
            m.Define(name, (_, _) => builder.PackageServices.SetColour(colour));
            m.Push([Token.Character('{', Category.BeginGroup, t.Position), Token.Command(m.Symbol(name), t.Position), .. text, Token.Character('}', Category.EndGroup, t.Position)]);
        });
        machine.Define("colorbox", (m, t) =>
        {
            int? ground = ReadColour(builder, m, t);
            builder.AddInline(new BoxInline(builder.BuildInlines(m.ReadArgument(t))) { Ground = ground, Padding = builder.Get("fboxsep") });
        });
        machine.Define("fcolorbox", (m, t) =>
        {
            int? frame = ReadColour(builder, m, t);
            int? ground = ReadColour(builder, m, t);
            builder.AddInline(new BoxInline(builder.BuildInlines(m.ReadArgument(t)))
            {
                IsFramed = true,
                FrameColour = frame ?? 0,
                Ground = ground,
                Padding = builder.Get("fboxsep"),
                FrameLine = builder.Get("fboxrule"),
            });
        });
        foreach (string name in (string[])["definecolor", "providecolor"])
        {
            machine.Define(name, (m, t) =>
            {
                m.ReadOptional(t);
                string colour = m.ReadText(t);
                string model = m.ReadText(t);
                string values = m.ReadText(t);
                if (ColourNames.FromModel(model, values) is { } value)
                {
                    builder.PackageServices.Colours[colour] = value;
                    return;
                }

                builder.Findings.Check("unknown-colour", t.Position, t.Length, $"“{values}” is no colour of the model {model}.",
                    "Models: rgb (0 to 1), RGB (0 to 255), HTML (six digits), gray, cmyk.");
            });
        }

        machine.Define("colorlet", (m, t) =>
        {
            string name = m.ReadText(t);
            m.ReadOptional(t);
            string value = m.ReadText(t);
            if (ColourNames.Find(builder, value) is { } colour)
            {
                builder.PackageServices.Colours[name] = colour;
            }
        });
        machine.Define("pagecolor", (m, t) => ReadColour(builder, m, t));
        machine.Define("nopagecolor", static (_, _) => { });
    }

    /// <summary>Reads a colour: a model in brackets or none, and a name, a mix or numbers.</summary>
    internal static int? ReadColour(DocumentBuilder builder, Machine m, Token t)
    {
        string? model = m.ReadOptionalText(t);
        List<Token> argument = m.ReadArgument(t);
        string value = m.ExpandToText(argument).Trim();
        int? colour = model is null ? ColourNames.Find(builder, value) : ColourNames.FromModel(model, value);
        if (colour is null)
        {
            string? near = NearestName.Find(value, ColourNames.All.Concat(builder.PackageServices.Colours.Keys));
            int at = argument.Count > 0 ? argument[0].Position : t.Position;
            builder.Findings.Check("unknown-colour", at, Math.Max(1, value.Length), $"There is no colour “{value}”.",
                near is null ? "Define it with \\definecolor. Black was used." : $"Did you mean {near}? Black was used.",
                near is null ? null : new Repair(at, value.Length, near));
        }

        return colour;
    }
}

/// <summary>Colours: names, models and mixes as red, green and blue in one number.</summary>
internal static class ColourNames
{
    // The basic names, and the widely used named set (values as published for the web and for process inks, from memory).
    private static readonly Dictionary<string, int> s_names = new(StringComparer.Ordinal)
    {
        ["black"] = 0x000000,
        ["white"] = 0xFFFFFF,
        ["red"] = 0xFF0000,
        ["green"] = 0x00FF00,
        ["blue"] = 0x0000FF,
        ["cyan"] = 0x00FFFF,
        ["magenta"] = 0xFF00FF,
        ["yellow"] = 0xFFFF00,
        ["gray"] = 0x808080,
        ["grey"] = 0x808080,
        ["darkgray"] = 0x404040,
        ["lightgray"] = 0xBFBFBF,
        ["brown"] = 0xBF8040,
        ["lime"] = 0xBFFF00,
        ["olive"] = 0x808000,
        ["orange"] = 0xFF8000,
        ["pink"] = 0xFFBFBF,
        ["purple"] = 0xBF0040,
        ["teal"] = 0x008080,
        ["violet"] = 0x800080,
        ["navy"] = 0x000080,
        ["maroon"] = 0x800000,
        ["silver"] = 0xC0C0C0,
        ["Black"] = 0x000000,
        ["White"] = 0xFFFFFF,
        ["Red"] = 0xED1B23,
        ["Green"] = 0x00A64F,
        ["Blue"] = 0x2D2F92,
        ["NavyBlue"] = 0x006EB8,
        ["RoyalBlue"] = 0x0071BC,
        ["MidnightBlue"] = 0x006795,
        ["ForestGreen"] = 0x009B55,
        ["OliveGreen"] = 0x3C8031,
        ["Maroon"] = 0xAF3235,
        ["BrickRed"] = 0xB6321C,
        ["Orange"] = 0xF58137,
        ["Purple"] = 0x99479B,
        ["Violet"] = 0x58429B,
        ["Gray"] = 0x949698,
        ["Brown"] = 0x792500,
        ["Cyan"] = 0x00AEEF,
        ["Magenta"] = 0xEC008C,
        ["Yellow"] = 0xFFF200,
        ["TealBlue"] = 0x00AEB3,
        ["Plum"] = 0x92268F,
        ["RedOrange"] = 0xF26035,
        ["DarkBlue"] = 0x00008B,
        ["DarkGreen"] = 0x006400,
        ["DarkRed"] = 0x8B0000,
        ["SteelBlue"] = 0x4682B4,
        ["SlateGray"] = 0x708090,
        ["Firebrick"] = 0xB22222,
        ["Gold"] = 0xFFD700,
        ["Teal"] = 0x008080,
        ["Navy"] = 0x000080,
        ["Crimson"] = 0xDC143C,
        ["Indigo"] = 0x4B0082,
        ["LightGray"] = 0xD3D3D3,
        ["LightGrey"] = 0xD3D3D3,
        ["DarkGray"] = 0xA9A9A9,
        ["DimGray"] = 0x696969,
        ["Turquoise"] = 0x40E0D0,
    };

    /// <summary>The names.</summary>
    public static IEnumerable<string> All => s_names.Keys;

    /// <summary>A colour by name or as a mix (<c>red!40!black</c>); null when it isn't known.</summary>
    public static int? Find(DocumentBuilder builder, string expression)
    {
        string[] pieces = expression.TrimStart('-').Split('!');
        if (Named(builder, pieces[0]) is not { } colour)
        {
            return null;
        }

        for (int i = 1; i < pieces.Length; i += 2)
        {
            int other = i + 1 < pieces.Length ? Named(builder, pieces[i + 1]) ?? 0xFFFFFF : 0xFFFFFF;
            if (!double.TryParse(pieces[i], NumberStyles.Float, CultureInfo.InvariantCulture, out double percent))
            {
                return null;
            }

            colour = Mix(colour, other, Math.Clamp(percent / 100, 0, 1));
        }

        return colour;
    }

    private static int? Named(DocumentBuilder builder, string name) =>
        builder.PackageServices.Colours.TryGetValue(name, out int own) ? own : s_names.TryGetValue(name, out int known) ? known : name == "." ? builder.Style.Value.Colour : null;

    private static int Mix(int a, int b, double share)
    {
        int Part(int shift) => (int)Math.Round((((a >> shift) & 255) * share) + (((b >> shift) & 255) * (1 - share)));
        return (Part(16) << 16) | (Part(8) << 8) | Part(0);
    }

    /// <summary>A colour of a model; null when the values don't fit it.</summary>
    public static int? FromModel(string model, string values)
    {
        if (model == "HTML")
        {
            return int.TryParse(values.TrimStart('#'), NumberStyles.HexNumber, CultureInfo.InvariantCulture, out int html) ? html & 0xFFFFFF : null;
        }

        var numbers = new List<double>();
        foreach (string part in values.Split([',', ' '], StringSplitOptions.RemoveEmptyEntries))
        {
            if (!double.TryParse(part, NumberStyles.Float, CultureInfo.InvariantCulture, out double number))
            {
                return null;
            }

            numbers.Add(number);
        }

        return (model, numbers) switch
        {
            ("rgb", [var r, var g, var b]) => Rgb(r, g, b),
            ("RGB", [var r, var g, var b]) => Rgb(r / 255, g / 255, b / 255),
            ("gray" or "grey", [var w]) => Rgb(w, w, w),
            ("Gray", [var w]) => Rgb(w / 15, w / 15, w / 15),
            ("cmyk", [var c, var m, var y, var k]) => Rgb((1 - c) * (1 - k), (1 - m) * (1 - k), (1 - y) * (1 - k)),
            ("cmy", [var c, var m, var y]) => Rgb(1 - c, 1 - m, 1 - y),
            _ => null,
        };

        static int Rgb(double r, double g, double b) => (Byte(r) << 16) | (Byte(g) << 8) | Byte(b);

        static int Byte(double share) => (int)Math.Round(Math.Clamp(share, 0, 1) * 255);
    }
}
