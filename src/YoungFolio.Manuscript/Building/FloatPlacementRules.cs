using System.Globalization;
using YoungFolio.Documents;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>The preamble's wishes for the placing of floats: counters, shares and distances by their usual names.</summary>
internal sealed class FloatPlacementRules(DocumentBuilder builder) : ReadingFeature(builder)
{
    internal FloatRules FloatRules { get; set; } = new();

    internal void DefineFloatRules()
    {
        var usual = new FloatRules();
        foreach ((string name, int most) in (ReadOnlySpan<(string, int)>)[("topnumber", usual.MostTop), ("bottomnumber", usual.MostBottom), ("totalnumber", usual.Most), ("dbltopnumber", usual.MostWide)])
        {
            Machine.Counters.Add(name);
            Machine.Assign(Machine.Counters.Find(name)!, most, true);
        }

        foreach ((string name, double share) in (ReadOnlySpan<(string, double)>)[
            ("topfraction", usual.TopShare), ("bottomfraction", usual.BottomShare), ("textfraction", usual.TextShare), ("floatpagefraction", usual.PageShare),
            ("dbltopfraction", usual.WideShare), ("dblfloatpagefraction", usual.WidePageShare)])
        {
            Machine.Definitions.DefineMacro(name, share.ToString(CultureInfo.InvariantCulture));
        }

    }

    internal FloatRules FloatRulesNow()
    {
        return new FloatRules
        {
            MostTop = Number("topnumber"),
            MostBottom = Number("bottomnumber"),
            Most = Number("totalnumber"),
            TopShare = Share("topfraction"),
            BottomShare = Share("bottomfraction"),
            TextShare = Share("textfraction"),
            WideShare = Share("dbltopfraction"),
            MostWide = Number("dbltopnumber"),
            PageShare = Share("floatpagefraction"),
            WidePageShare = Share("dblfloatpagefraction"),
            Separation = Distance("floatsep"),
            TextSeparation = Distance("textfloatsep"),
            InTextSeparation = Distance("intextsep"),
            WideSeparation = Distance("dbltextfloatsep"),
        };

        int Number(string name) => Math.Max(0, Machine.Counters.Find(name)?.Value ?? 0);

        double Distance(string name) => Machine.Registers.NamedGlue(name).Value.Width.Points;

        double Share(string name)
        {
            string text = Machine.ExpandToText([Token.Command(Machine.Symbol(name), PositionTable.None)]).Trim();
            return double.TryParse(text, NumberStyles.Float, CultureInfo.InvariantCulture, out double share) ? Math.Clamp(share, 0, 1) : 0.7;
        }
    }
}
