using System.Globalization;
using YoungFolio.Manuscript.Building;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Packages;

/// <summary>The package geometry: margins, paper and what stands in them.</summary>
internal static class Geometry
{
    private static readonly HashSet<string> s_withoutEffect = new(StringComparer.Ordinal)
    {
        "ignorehead", "ignorefoot", "ignoreheadfoot", "ignoremp", "ignoreall", "nomarginpar", "showframe", "showcrop", "verbose", "pass", "reset", "mag",
        "truedimen", "hoffset", "voffset", "offset", "footnotesep", "driver", "marginparpush", "onecolumn", "layout",
    };

    public static void Load(PackageLoad load)
    {
        DocumentBuilder builder = load.Builder;
        builder.PageMeasures.PageSpecification = Read(builder, builder.PageMeasures.PageSpecification, load.Options, load.Token);
        builder.PageMeasures.PublishGeometry();
        load.Machine.Define("geometry", (m, t) =>
        {
            builder.PageMeasures.PageSpecification = Read(builder, builder.PageMeasures.PageSpecification, ListedOption.Of(m, m.ReadArgument(t)), t);
            builder.PageMeasures.PublishGeometry();
        });
        builder.PageMeasures.DefineGeometryChanges((wish, options, t) => Read(builder, wish, ListedOption.Of(builder.Machine, options), t));
    }

    private static PageSpecification Read(DocumentBuilder builder, PageSpecification wish, IReadOnlyList<ListedOption> options, Token token)
    {
        foreach (ListedOption option in options)
        {
            wish = Add(builder, wish, option, token);
        }

        return wish;
    }

    private static PageSpecification Add(DocumentBuilder builder, PageSpecification wish, ListedOption option, Token token)
    {
        double? value = option.Value is { } v && !option.Key.EndsWith("ratio", StringComparison.Ordinal) && !option.Key.EndsWith("scale", StringComparison.Ordinal)
            && option.Key is not ("papersize" or "paper" or "lines" or "hdivide" or "vdivide" or "divide" or "twoside" or "landscape" or "twocolumn" or "layout" or "driver")
            && !option.Key.StartsWith("include", StringComparison.Ordinal) && !option.Key.StartsWith("ignore", StringComparison.Ordinal) && !v.Exists(t => t.IsCharacter(','))
            ? builder.Machine.Quantities.ParseGlue(v, token)?.Width.Points : null;
        (AxisSpecification across, AxisSpecification down) = (wish.Across, wish.Down);
        switch (option.Key)
        {
            case "margin":
                (double? m1, double? m2) = Pair(builder, option, token);
                return wish with { Across = across with { Before = m1, After = m1 }, Down = down with { Before = m2, After = m2 } };
            case "hmargin":
                (double? left, double? right) = Pair(builder, option, token);
                return wish with { Across = across with { Before = left, After = right } };
            case "vmargin":
                (double? top, double? bottom) = Pair(builder, option, token);
                return wish with { Down = down with { Before = top, After = bottom } };
            case "left" or "lmargin" or "inner" or "innermargin":
                return wish with { Across = across with { Before = value } };
            case "right" or "rmargin" or "outer" or "outermargin":
                return wish with { Across = across with { After = value } };
            case "top" or "tmargin":
                return wish with { Down = down with { Before = value } };
            case "bottom" or "bmargin":
                return wish with { Down = down with { After = value } };
            case "textwidth" or "width" or "totalwidth":
                return wish with { Across = across with { Body = value } };
            case "textheight" or "height" or "totalheight":
                return wish with { Down = down with { Body = value }, IncludesHead = option.Key != "textheight" && wish.IncludesHead };
            case "total" or "body" or "text":
                (double? width, double? height) = Pair(builder, option, token);
                return wish with { Across = across with { Body = width }, Down = down with { Body = height } };
            case "scale":
                List<double> scales = Numbers(builder, option);
                return scales.Count == 0 ? wish : wish with { Across = across with { Scale = scales[0] }, Down = down with { Scale = scales[^1] } };
            case "hscale" when Numbers(builder, option) is [var scale, ..]:
                return wish with { Across = across with { Scale = scale } };
            case "vscale" when Numbers(builder, option) is [var scale, ..]:
                return wish with { Down = down with { Scale = scale } };
            case "hmarginratio" or "hratio" when Ratio(builder, option, 0) is { } ratio:
                return wish with { Across = across with { Ratio = ratio } };
            case "vmarginratio" or "vratio" when Ratio(builder, option, 0) is { } ratio:
                return wish with { Down = down with { Ratio = ratio } };
            case "marginratio" or "ratio" when Ratio(builder, option, 0) is { } ratio:
                return wish with { Across = across with { Ratio = ratio }, Down = down with { Ratio = Ratio(builder, option, 1) ?? ratio } };
            case "centering":
                return wish with { Across = across with { Ratio = 1 }, Down = down with { Ratio = 1 } };
            case "hcentering":
                return wish with { Across = across with { Ratio = 1 } };
            case "vcentering":
                return wish with { Down = down with { Ratio = 1 } };
            case "hdivide" or "vdivide" or "divide":
                return Divide(builder, wish, option, token);
            case "includehead" or "includefoot" or "includeheadfoot" or "includemp" or "includeall":
                return wish with
                {
                    IncludesHead = wish.IncludesHead || option.Key is "includehead" or "includeheadfoot" or "includeall",
                    IncludesFoot = wish.IncludesFoot || option.Key is "includefoot" or "includeheadfoot" or "includeall",
                    IncludesNotes = wish.IncludesNotes || option.Key is "includemp" or "includeall",
                };
            case "heightrounded":
                return wish with { RoundsHeight = true };
            case "lines" when int.TryParse(option.Text(builder.Machine), out int lines) && lines is > 0 and < 1_000:
                return wish with { Lines = lines };
            case "bindingoffset" when value is { } binding:
                return wish with { Binding = binding };
            case "marginparwidth" or "marginpar" when value is { } notes:
                builder.Set("marginparwidth", notes);
                return wish with { NotesWidth = notes };
        }

        if (!SetElsewhere(builder, option, value, token) && !s_withoutEffect.Contains(option.Key)
            // Options that say which program makes the PDF.
            && !option.Key.EndsWith("tex", StringComparison.Ordinal) && !option.Key.StartsWith("dvi", StringComparison.Ordinal)
            && !(option.Key.EndsWith("paper", StringComparison.Ordinal) && builder.Pages.SetPaper(option.Key[..^5])))
        {
            builder.Findings.Check("unknown-option", option.Position >= 0 ? option.Position : token.Position, option.Length,
                $"geometry has no option “{option.Key}” here.",
                "Available: margin, hmargin, vmargin, left, right, top, bottom, textwidth, textheight, headsep, footskip and the names of papers.");
        }

        return wish;
    }

    // Options that don't bear on the text block's place alone; false for another one.
    private static bool SetElsewhere(DocumentBuilder builder, ListedOption option, double? value, Token token)
    {
        switch (option.Key)
        {
            case "paperwidth" or "paperheight" when value is { } length:
                builder.PageMeasures.SetPaperLength(option.Key == "paperwidth", length);
                return true;
            case "papersize" or "paper" when option.Value is not null:
                string name = option.Text(builder.Machine);
                if (!builder.Pages.SetPaper(name.EndsWith("paper", StringComparison.Ordinal) ? name[..^5] : name) && Pair(builder, option, token) is ({ } width, { } height))
                {
                    builder.PageMeasures.SetPaperLength(true, width);
                    builder.PageMeasures.SetPaperLength(false, height);
                }

                return true;
            case "headheight" or "headsep" or "marginparsep" or "columnsep" when value is { } size:
                builder.Set(option.Key, size);
                return true;
            case "foot" or "footskip" when value is { } skip:
                builder.Set("footskip", skip);
                return true;
            case "head" when value is { } head:
                builder.Set("headheight", head);
                return true;
            case "nohead" or "nofoot" or "noheadfoot":
                if (option.Key != "nofoot")
                {
                    builder.Set("headheight", 0);
                    builder.Set("headsep", 0);
                }

                if (option.Key != "nohead")
                {
                    builder.Set("footskip", 0);
                }

                return true;
            case "landscape" or "portrait":
                builder.PageMeasures.SetOrientation((option.Key == "landscape") == option.IsOn(builder.Machine));
                return true;
            case "twoside" or "asymmetric":
                builder.Pages.TwoSided = option.IsOn(builder.Machine);
                return true;
            case "twocolumn":
                builder.PageMeasures.Columns = 2;
                return true;
            default:
                return false;
        }
    }

    // {first margin, text block, second margin}; * leaves one to the others.
    private static PageSpecification Divide(DocumentBuilder builder, PageSpecification wish, ListedOption option, Token token)
    {
        List<List<Token>> values = TokenLists.SplitAtCommas(option.Value ?? []);
        double? At(int i) => i < values.Count && values[i].ToSource().Trim() is not ("*" or "") ? builder.Machine.Quantities.ParseGlue(values[i], token)?.Width.Points : null;
        (double? before, double? body, double? after) = (At(0), At(1), At(2));
        return wish with
        {
            Across = option.Key == "vdivide" ? wish.Across : wish.Across with { Before = before, Body = body, After = after },
            Down = option.Key == "hdivide" ? wish.Down : wish.Down with { Before = before, Body = body, After = after },
        };
    }

    private static List<double> Numbers(DocumentBuilder builder, ListedOption option) =>
        [.. PreambleCommands.Split(option.Text(builder.Machine).Trim('{', '}')).Select(t => double.TryParse(t, CultureInfo.InvariantCulture, out double n) ? n : 0).Where(n => n is > 0 and <= 1)];

    private static double? Ratio(DocumentBuilder builder, ListedOption option, int index)
    {
        string[] ratios = PreambleCommands.Split(option.Text(builder.Machine).Trim('{', '}'));
        string[] sides = index < ratios.Length ? ratios[index].Split(':') : [];
        return sides.Length == 2 && double.TryParse(sides[0], CultureInfo.InvariantCulture, out double a) && double.TryParse(sides[1], CultureInfo.InvariantCulture, out double b) && a > 0 && b > 0
            ? a / b : null;
    }

    private static (double?, double?) Pair(DocumentBuilder builder, ListedOption option, Token token)
    {
        List<List<Token>> values = TokenLists.SplitAtCommas(option.Value ?? []);
        double? first = values.Count > 0 ? builder.Machine.Quantities.ParseGlue(values[0], token)?.Width.Points : null;
        return (first, values.Count > 1 ? builder.Machine.Quantities.ParseGlue(values[1], token)?.Width.Points : first);
    }
}
