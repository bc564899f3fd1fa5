using YoungFolio.Manuscript.Building;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Packages;

/// <summary>Displays and structures of mathematics.</summary>
public sealed class AmsmathPackage : Package
{
    /// <inheritdoc/>
    public override string Name => "amsmath";

    /// <inheritdoc/>
    public override string Purpose => "Aligned and numbered displays, matrices, cases and text in formulas.";

    /// <inheritdoc/>
    public override IReadOnlyList<string> Commands { get; } =
        ["text", "eqref", "dfrac", "tfrac", "binom", "operatorname", "DeclareMathOperator", "numberwithin", "tag", "notag"];

    /// <inheritdoc/>
    public override IReadOnlyList<string> Environments { get; } =
        ["align", "align*", "equation*", "gather", "gather*", "matrix", "pmatrix", "bmatrix", "vmatrix", "cases", "aligned", "split"];

    /// <inheritdoc/>
    public override void Load(DocumentBuilder builder, IReadOnlyList<string> options, Token token) => builder.DefineAmsmath();
}

/// <summary>More symbols; all that the fonts have are there anyway.</summary>
public sealed class AmssymbPackage : Package
{
    /// <inheritdoc/>
    public override string Name => "amssymb";

    /// <inheritdoc/>
    public override string Purpose => "More symbols, and blackboard and Fraktur letters.";

    /// <inheritdoc/>
    public override void Load(DocumentBuilder builder, IReadOnlyList<string> options, Token token)
    {
        // Its symbols are part of the symbol table, which is always there.
    }
}

/// <summary>Languages.</summary>
public sealed class BabelPackage : Package
{
    /// <inheritdoc/>
    public override string Name => "babel";

    /// <inheritdoc/>
    public override string Purpose => "The manuscript's language: hyphenation, dates and names of things.";

    /// <inheritdoc/>
    public override void Load(DocumentBuilder builder, IReadOnlyList<string> options, Token token)
    {
        foreach (string option in options)
        {
            builder.SelectLanguage(option.StartsWith("main=", StringComparison.Ordinal) ? option[5..] : option, token);
        }
    }
}

/// <summary>Font encodings: nothing to do, since text is Unicode throughout.</summary>
public sealed class FontencPackage : Package
{
    /// <inheritdoc/>
    public override string Name => "fontenc";

    /// <inheritdoc/>
    public override string Purpose => "Font encodings; text is Unicode here, so it needs none.";

    /// <inheritdoc/>
    public override void Load(DocumentBuilder builder, IReadOnlyList<string> options, Token token)
    {
        // Unicode fonts hold every letter.
    }
}

/// <summary>Input encodings: nothing to do, since parts are UTF-8.</summary>
public sealed class InputencPackage : Package
{
    /// <inheritdoc/>
    public override string Name => "inputenc";

    /// <inheritdoc/>
    public override string Purpose => "The encoding of the parts, which is UTF-8.";

    /// <inheritdoc/>
    public override void Load(DocumentBuilder builder, IReadOnlyList<string> options, Token token)
    {
        foreach (string option in options)
        {
            if (option is not ("utf8" or "utf8x"))
            {
                builder.Findings.Check("other-encoding", token.Position, token.Length, $"Parts are read as UTF-8, not as {option}.",
                    "Store the parts as UTF-8 and write utf8 here, or leave the package out.");
            }
        }
    }
}

/// <summary>Margins and paper.</summary>
public sealed class GeometryPackage : Package
{
    /// <inheritdoc/>
    public override string Name => "geometry";

    /// <inheritdoc/>
    public override string Purpose => "Margins and paper size.";

    /// <inheritdoc/>
    public override IReadOnlyList<string> Commands { get; } = ["geometry"];

    /// <inheritdoc/>
    public override void Load(DocumentBuilder builder, IReadOnlyList<string> options, Token token)
    {
        Apply(builder, options, token);
        builder.Machine.Define("geometry", (m, t) => Apply(builder, DocumentBuilder.Split(m.ReadText(t)), t));
    }

    private static void Apply(DocumentBuilder builder, IReadOnlyList<string> options, Token token)
    {
        (double? left, double? right, double? top, double? bottom) = builder.Margins ?? (null, null, null, null);
        foreach (string option in options)
        {
            string[] pair = option.Split('=', 2, StringSplitOptions.TrimEntries);
            if (pair.Length == 1)
            {
                if (!option.EndsWith("paper", StringComparison.Ordinal) || !builder.SetPaper(option[..^5]))
                {
                    Unknown(builder, option, token);
                }

                continue;
            }

            double? value = builder.Machine.ParseGlue(builder.Machine.Tokenize(pair[1], token.Position), token)?.Width.Points;
            switch (pair[0])
            {
                case "margin":
                    left = right = top = bottom = value;
                    break;
                case "hmargin":
                    left = right = value;
                    break;
                case "vmargin":
                    top = bottom = value;
                    break;
                case "left" or "lmargin" or "inner":
                    left = value;
                    break;
                case "right" or "rmargin" or "outer":
                    right = value;
                    break;
                case "top" or "tmargin":
                    top = value;
                    break;
                case "bottom" or "bmargin":
                    bottom = value;
                    break;
                default:
                    Unknown(builder, pair[0], token);
                    break;
            }
        }

        builder.Margins = (left, right, top, bottom);
    }

    private static void Unknown(DocumentBuilder builder, string option, Token token) =>
        builder.Findings.Check("unknown-option", token.Position, token.Length, $"geometry has no option “{option}” here.",
            "Available: margin, hmargin, vmargin, left, right, top, bottom and the names of papers.");
}

/// <summary>Pictures.</summary>
public sealed class GraphicxPackage : Package
{
    /// <inheritdoc/>
    public override string Name => "graphicx";

    /// <inheritdoc/>
    public override string Purpose => "Pictures from files.";

    /// <inheritdoc/>
    public override IReadOnlyList<string> Commands { get; } = ["includegraphics", "graphicspath"];

    /// <inheritdoc/>
    public override void Load(DocumentBuilder builder, IReadOnlyList<string> options, Token token) => builder.DefinePictures();
}

/// <summary>Links.</summary>
public sealed class HyperrefPackage : Package
{
    /// <inheritdoc/>
    public override string Name => "hyperref";

    /// <inheritdoc/>
    public override string Purpose => "Links to addresses, and the PDF's title and author.";

    /// <inheritdoc/>
    public override IReadOnlyList<string> Commands { get; } = ["href", "hypersetup", "url", "nolinkurl"];

    /// <inheritdoc/>
    public override void Load(DocumentBuilder builder, IReadOnlyList<string> options, Token token)
    {
        Apply(builder, options);
        builder.DefineAddresses();
        builder.Machine.Define("hypersetup", (m, t) => Apply(builder, DocumentBuilder.Split(m.ReadText(t))));
    }

    private static void Apply(DocumentBuilder builder, IReadOnlyList<string> options)
    {
        foreach (string option in options)
        {
            string[] pair = option.Split('=', 2, StringSplitOptions.TrimEntries);
            if (pair.Length == 2)
            {
                builder.SetMetadata(pair[0], pair[1].Trim('{', '}'));
            }
        }
    }
}

/// <summary>Addresses.</summary>
public sealed class UrlPackage : Package
{
    /// <inheritdoc/>
    public override string Name => "url";

    /// <inheritdoc/>
    public override string Purpose => "Addresses that may break over lines.";

    /// <inheritdoc/>
    public override IReadOnlyList<string> Commands { get; } = ["url"];

    /// <inheritdoc/>
    public override void Load(DocumentBuilder builder, IReadOnlyList<string> options, Token token) => builder.DefineAddresses();
}

/// <summary>Paragraphs parted by space.</summary>
public sealed class ParskipPackage : Package
{
    /// <inheritdoc/>
    public override string Name => "parskip";

    /// <inheritdoc/>
    public override string Purpose => "Paragraphs parted by space instead of an indent.";

    /// <inheritdoc/>
    public override void Load(DocumentBuilder builder, IReadOnlyList<string> options, Token token)
    {
        builder.Machine.Assign(builder.Machine.NamedDimension("parindent"), default);
        builder.Machine.Assign(builder.Machine.NamedGlue("parskip"), Glue.Of(6, 2));
    }
}

/// <summary>Line spacing.</summary>
public sealed class SetspacePackage : Package
{
    /// <inheritdoc/>
    public override string Name => "setspace";

    /// <inheritdoc/>
    public override string Purpose => "Line spacing: one and a half, double, or any factor.";

    /// <inheritdoc/>
    public override IReadOnlyList<string> Commands { get; } = ["setstretch"];

    /// <inheritdoc/>
    public override void Load(DocumentBuilder builder, IReadOnlyList<string> options, Token token)
    {
        builder.Machine.DefineMeaning("setstretch", builder.Machine.Symbol("linespread").Meaning.Value!);
        foreach (string option in options)
        {
            if (option is "onehalfspacing" or "doublespacing" or "singlespacing")
            {
                builder.Machine.Push(Token.Command(builder.Machine.Symbol(option), token.Position));
            }
        }
    }
}

/// <summary>A Roman newspaper face.</summary>
public sealed class TimesPackage : Package
{
    /// <inheritdoc/>
    public override string Name => "times";

    /// <inheritdoc/>
    public override string Purpose => "Sets the text in Termes.";

    /// <inheritdoc/>
    public override void Load(DocumentBuilder builder, IReadOnlyList<string> options, Token token) => builder.Typeface = "termes";
}

/// <summary>An old-style face.</summary>
public sealed class PalatinoPackage : Package
{
    /// <inheritdoc/>
    public override string Name => "palatino";

    /// <inheritdoc/>
    public override string Purpose => "Sets the text in Pagella, which is the default.";

    /// <inheritdoc/>
    public override void Load(DocumentBuilder builder, IReadOnlyList<string> options, Token token) => builder.Typeface = "pagella";
}
