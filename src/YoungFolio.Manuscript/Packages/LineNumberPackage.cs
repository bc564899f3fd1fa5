using YoungFolio.Documents;
using YoungFolio.Manuscript.Building;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Packages;

/// <summary>The package lineno: numbers of lines in the margin (its documentation, from memory).</summary>
internal static class LineNumberPackage
{
    public static Package Package { get; } = new("lineno", "Line numbers in the margin.")
    {
        Commands = ["linenumbers", "nolinenumbers", "modulolinenumbers", "resetlinenumber", "rightlinenumbers", "leftlinenumbers", "switchlinenumbers", "runninglinenumbers", "pagewiselinenumbers", "internallinenumbers"],
        Environments = ["linenumbers"],
        Load = static load => Define(load),
    };

    // Pages number anew nowhere here: lines run on.
    private static void Define(PackageLoad load)
    {
        Scoped<LineNumbering?> now = load.Builder.LineNumbers;
        int series = 0;
        var wish = new LineNumbering(load.Has("modulo") ? 5 : 1, load.Has("right"), 0, 1);
        void Change(Machine m, LineNumbering numbering, bool turnsOn)
        {
            wish = numbering;
            if (turnsOn || now.Value is not null)
            {
                load.Builder.EndParagraph();
                m.Assign(now, wish);
            }
        }

        void Begin(Machine m, Token t, bool isRight) =>
            Change(m, m.ReadOptional(t) is { Count: > 0 } first && m.Quantities.ParseInteger(first, t) is { } n ? wish with { IsRight = isRight, Series = ++series, First = n } : wish with { IsRight = isRight }, true);

        foreach ((string name, bool? isRight) in (ReadOnlySpan<(string, bool?)>)[
            ("linenumbers", null), ("runninglinenumbers", null), ("pagewiselinenumbers", null), ("internallinenumbers", null),
            ("rightlinenumbers", true), ("leftlinenumbers", false), ("switchlinenumbers", false)])
        {
            load.Machine.Define(name, (m, t) =>
            {
                m.TakeStar();
                Begin(m, t, isRight ?? wish.IsRight);
            });
        }

        load.Machine.Define("nolinenumbers", (m, _) =>
        {
            load.Builder.EndParagraph();
            m.Assign(now, null);
        });
        load.Machine.Define("modulolinenumbers", (m, t) =>
        {
            m.TakeStar();
            Change(m, wish with { Every = m.ReadOptional(t) is { } every ? m.Quantities.ParseInteger(every, t) ?? 5 : 5 }, false);
        });
        load.Machine.Define("resetlinenumber", (m, t) => Change(m, wish with { Series = ++series, First = m.ReadOptional(t) is { } first ? m.Quantities.ParseInteger(first, t) ?? 1 : 1 }, false));
        load.Builder.Environments.DefineEnvironment("linenumbers", t => Begin(load.Machine, t, wish.IsRight));
    }
}
