using YoungFolio.Manuscript.Building;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Packages;

/// <summary>The package geometry: margins, paper and what stands in them.</summary>
internal static class Geometry
{
    public static void Load(PackageLoad load)
    {
        Apply(load.Builder, load.Options, load.Token);
        load.Machine.Define("geometry", (m, t) => Apply(load.Builder, ListedOption.Of(m, m.ReadArgument(t)), t));
        foreach (string name in (string[])["newgeometry", "savegeometry", "loadgeometry"])
        {
            load.Machine.Define(name, (m, t) =>
            {
                m.ReadArgument(t);
                load.Builder.Findings.Check("geometry-stays", t.Position, t.Length, $"{t} doesn't change margins in the middle of a document yet.",
                    "The margins stay as the preamble sets them.");
            });
        }

        load.Machine.Define("restoregeometry", static (_, _) => { });
    }

    private static void Apply(DocumentBuilder builder, IReadOnlyList<ListedOption> options, Token token)
    {
        (double? left, double? right, double? top, double? bottom) = builder.Margins ?? (null, null, null, null);
        foreach (ListedOption option in options)
        {
            double? Value() => option.Value is { } v ? builder.Machine.ParseGlue(v, token)?.Width.Points : null;
            switch (option.Key)
            {
                case "margin":
                    left = right = top = bottom = Value();
                    break;
                case "hmargin":
                    (left, right) = Pair(builder, option, token);
                    break;
                case "vmargin":
                    (top, bottom) = Pair(builder, option, token);
                    break;
                case "left" or "lmargin" or "inner" or "innermargin":
                    left = Value();
                    break;
                case "right" or "rmargin" or "outer" or "outermargin":
                    right = Value();
                    break;
                case "top" or "tmargin":
                    top = Value();
                    break;
                case "bottom" or "bmargin":
                    bottom = Value();
                    break;
                case "textwidth" or "width" or "textheight" or "height" or "total" or "body" or "text":
                    builder.SetTextSize(option.Key, option.Value ?? [], token);
                    break;
                case "paperwidth" or "paperheight" when Value() is { } length:
                    builder.SetPaperLength(option.Key == "paperwidth", length);
                    break;
                case "papersize" or "paper" when option.Value is { } paper:
                    string name = option.Text(builder.Machine);
                    if (!builder.SetPaper(name.EndsWith("paper", StringComparison.Ordinal) ? name[..^5] : name))
                    {
                        List<List<Token>> pair = Machine.SplitAtCommas(paper);
                        if (pair.Count == 2)
                        {
                            builder.SetPaperLength(true, builder.Machine.ParseGlue(pair[0], token)?.Width.Points ?? 600);
                            builder.SetPaperLength(false, builder.Machine.ParseGlue(pair[1], token)?.Width.Points ?? 800);
                        }
                    }

                    break;
                case "headheight" or "headsep" or "marginparsep" or "marginparwidth" or "marginpar" when Value() is { } size:
                    builder.Set(option.Key == "marginpar" ? "marginparwidth" : option.Key, size);
                    break;
                case "foot" or "footskip" when Value() is { } skip:
                    builder.Set("footskip", skip);
                    break;
                case "head" when Value() is { } head:
                    builder.Set("headheight", head);
                    break;
                case "bindingoffset" when Value() is { } binding:
                    builder.BindingOffset = binding;
                    break;
                case "landscape" or "portrait":
                    builder.SetOrientation(option.Key == "landscape");
                    break;
                case "twoside" or "asymmetric":
                    builder.TwoSided = true;
                    break;
                case "includehead" or "includefoot" or "includeheadfoot" or "includemp" or "includeall" or "ignorehead" or "ignorefoot" or "ignoreheadfoot"
                    or "ignoremp" or "ignoreall" or "nohead" or "nofoot" or "noheadfoot" or "nomarginpar" or "heightrounded" or "centering" or "hcentering"
                    or "vcentering" or "showframe" or "verbose" or "pass" or "scale" or "hscale" or "vscale" or "ratio" or "hratio" or "vratio" or "lines"
                    or "columnsep" or "reset" or "mag" or "truedimen" or "hdivide" or "vdivide" or "divide"
                    or "marginratio" or "hmarginratio" or "vmarginratio" or "hoffset" or "voffset" or "offset" or "twocolumn" or "footnotesep":
                    break;
                default:
                    if (!option.Key.EndsWith("paper", StringComparison.Ordinal) || !builder.SetPaper(option.Key[..^5]))
                    {
                        builder.Findings.Check("unknown-option", option.Position >= 0 ? option.Position : token.Position, option.Length,
                            $"geometry has no option “{option.Key}” here.",
                            "Available: margin, hmargin, vmargin, left, right, top, bottom, textwidth, textheight, headsep, footskip and the names of papers.");
                    }

                    break;
            }
        }

        builder.Margins = (left, right, top, bottom);
    }

    private static (double?, double?) Pair(DocumentBuilder builder, ListedOption option, Token token)
    {
        List<List<Token>> values = Machine.SplitAtCommas(option.Value ?? []);
        double? first = values.Count > 0 ? builder.Machine.ParseGlue(values[0], token)?.Width.Points : null;
        return (first, values.Count > 1 ? builder.Machine.ParseGlue(values[1], token)?.Width.Points : first);
    }
}
