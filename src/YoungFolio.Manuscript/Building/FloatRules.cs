using System.Globalization;
using YoungFolio.Manuscript.Tree;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

// The preamble's wishes for the placing of floats: counters, shares and distances by their usual names.
public sealed partial class DocumentBuilder
{
    private FloatRules _floatRules = new();

    private void DefineFloatRules()
    {
        var usual = new FloatRules();
        foreach ((string name, int most) in (ReadOnlySpan<(string, int)>)[("topnumber", usual.MostTop), ("bottomnumber", usual.MostBottom), ("totalnumber", usual.Most), ("dbltopnumber", 2)])
        {
            Machine.NewCounter(name);
            Machine.Assign(Machine.Counter(name)!, most, true);
        }

        foreach ((string name, double share) in (ReadOnlySpan<(string, double)>)[
            ("topfraction", usual.TopShare), ("bottomfraction", usual.BottomShare), ("textfraction", usual.TextShare), ("floatpagefraction", 0.5),
            ("dbltopfraction", usual.WideShare), ("dblfloatpagefraction", 0.5)])
        {
            Machine.DefineMacro(name, share.ToString(CultureInfo.InvariantCulture));
        }

        foreach ((string name, double distance) in (ReadOnlySpan<(string, double)>)[
            ("floatsep", usual.Separation), ("textfloatsep", usual.TextSeparation), ("intextsep", usual.InTextSeparation), ("dblfloatsep", usual.Separation), ("dbltextfloatsep", usual.WideSeparation)])
        {
            Machine.NamedGlue(name, Glue.Of(distance, 2, 2));
        }
    }

    private FloatRules FloatRulesNow()
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
            Separation = Distance("floatsep"),
            TextSeparation = Distance("textfloatsep"),
            InTextSeparation = Distance("intextsep"),
            WideSeparation = Distance("dbltextfloatsep"),
        };

        int Number(string name) => Math.Max(0, Machine.Counter(name)?.Value ?? 0);

        double Distance(string name) => Machine.NamedGlue(name).Value.Width.Points;

        double Share(string name)
        {
            string text = Machine.ExpandToText([Token.Command(Machine.Symbol(name), PositionTable.None)]).Trim();
            return double.TryParse(text, NumberStyles.Float, CultureInfo.InvariantCulture, out double share) ? Math.Clamp(share, 0, 1) : 0.7;
        }
    }
}
