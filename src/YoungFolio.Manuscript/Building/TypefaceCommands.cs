using YoungFolio.Documents;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>Families of type: which ones the preamble chooses, and the commands that choose others within the text.</summary>
internal sealed class TypefaceCommands(DocumentBuilder builder) : ReadingFeature(builder)
{
    internal TypefaceSet Typefaces { get; set; } = TypefaceSet.Default;
    private FontFamily _basicFamily = FontFamily.Roman;

    /// <summary>A family for formulas that a package asks for; null: the one that goes with the text.</summary>
    internal string? MathematicsFace { get; set; }

    /// <summary>Whether figures in running text have ascenders and descenders.</summary>
    internal bool OldFigures { get; set; }

    /// <summary>Running text's style in a size.</summary>
    internal TextStyle PlainStyle(double size) => new(_basicFamily, false, FontShape.Upright, size, OldFigures: OldFigures);

    internal void DefineTypefaces()
    {
        foreach ((string name, string code) in (ReadOnlySpan<(string, string)>)[("rmdefault", "lmr"), ("sfdefault", "lmss"), ("ttdefault", "lmtt"), ("encodingdefault", "TU")])
        {
            Machine.Definitions.DefineMacro(name, code);
        }

        Machine.Definitions.Load("\\def\\familydefault{\\rmdefault}\\def\\bfdefault{b}\\def\\itdefault{it}\\def\\updefault{n}\\def\\mddefault{m}");
        Machine.Define("normalfont", (m, _) => m.Assign(Builder.Style, PlainStyle(Builder.Style.Value.Size)));
        Machine.Define("normalcolor", (_, _) => Builder.PackageServices.SetColour(0));
        Machine.Define("fontfamily", (m, t) => ChooseFamily(m.ReadText(t), t));
        Machine.Define("fontseries", (m, t) => ChooseSeries(m.ReadText(t)));
        Machine.Define("fontshape", (m, t) => ChooseShape(m.ReadText(t)));
        Machine.Define("fontencoding", static (m, t) => m.ReadArgument(t));
        Machine.Define("selectfont", static (_, _) => { });
        Machine.Define("usefont", (m, t) =>
        {
            m.ReadArgument(t);
            ChooseFamily(m.ReadText(t), t);
            ChooseSeries(m.ReadText(t));
            ChooseShape(m.ReadText(t));
        });
        Machine.Define("oldstylenums", (m, t) =>
        {
            List<Token> figures = m.ReadArgument(t);
            m.BeginGroup(GroupKind.Command, "", t.Position);
            m.Assign(Builder.Style, Builder.Style.Value with { OldFigures = true });
            foreach (Inline inline in Builder.BuildInlines(figures))
            {
                Builder.AddInline(inline);
            }

            m.EndGroup();
        });
    }

    private void ChooseFamily(string code, Token token)
    {
        if (FamilyOf(code, token) is { } face)
        {
            Machine.Assign(Builder.Style, Builder.Style.Value with { Family = face.Kind, Face = face.Name, DesignSize = 0 });
        }
    }

    private void ChooseSeries(string series) => Machine.Assign(Builder.Style, Builder.Style.Value with { Bold = series.StartsWith('b') || series is "sb" or "eb" or "ub" });

    private void ChooseShape(string shape) => Machine.Assign(Builder.Style, Builder.Style.Value with
    {
        Shape = shape switch { "it" => FontShape.Italic, "sl" => FontShape.Slanted, "sc" => FontShape.SmallCaps, _ => FontShape.Upright },
    });

    private Typeface? FamilyOf(string code, Token token)
    {
        if (TypefaceCatalogue.ByCode(code.Trim()) is { } face)
        {
            return face;
        }

        Findings.Check("unknown-typeface", token.Position, token.Length, $"The font family “{code.Trim()}” isn't here.",
            "The text stands in the family around it. These are here: " + string.Join(", ", TypefaceCatalogue.All.Select(t => t.Codes[0])) + ".");
        return null;
    }

    // The preamble's last word: what \rmdefault and kin hold when the text begins.
    internal void ChooseTypefaces()
    {
        string roman = Default("rmdefault", TypefaceSet.Default.Roman);
        string sans = Default("sfdefault", TypefaceSet.Default.Sans);
        string mono = Default("ttdefault", TypefaceSet.Default.Mono);
        Typefaces = new TypefaceSet(roman, sans, mono, MathematicsFace ?? TypefaceCatalogue.MathematicsOf(
            TypefaceCatalogue.All.First(t => t.Name == roman).Kind == FontFamily.Roman ? roman : TypefaceSet.Default.Mathematics));
        string basic = Expanded("familydefault");
        _basicFamily = basic == Expanded("sfdefault") ? FontFamily.Sans : basic == Expanded("ttdefault") ? FontFamily.Mono : FontFamily.Roman;

        string Expanded(string name) => Machine.ExpandToText([Token.Command(Machine.Symbol(name), PositionTable.None)]).Trim();

        string Default(string name, string otherwise)
        {
            return FamilyOf(Expanded(name), Token.Command(Machine.Symbol(name), PositionTable.None))?.Name ?? otherwise;
        }
    }
}
