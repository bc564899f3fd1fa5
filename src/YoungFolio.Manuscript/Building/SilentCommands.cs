using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>
/// Commands by which other engines write, show, read or ask something outside the document. None of that is done while typesetting here; what belongs
/// to such a command is taken with it, so that it doesn't print.
/// </summary>
internal sealed class SilentCommands(DocumentBuilder builder) : ReadingFeature(builder)
{
    internal void DefineSilence()
    {
        foreach ((string name, int arguments) in (ReadOnlySpan<(string, int)>)[
            ("typeout", 1), ("message", 1), ("wlog", 1), ("GenericWarning", 2), ("GenericInfo", 2), ("PackageWarning", 2), ("PackageInfo", 2),
            ("PackageWarningNoLine", 2), ("ClassWarning", 2), ("ClassInfo", 2), ("ClassWarningNoLine", 2), ("special", 1),
            ("immediate", 0), ("nonstopmode", 0), ("batchmode", 0), ("scrollmode", 0), ("errorstopmode", 0),
            ("makeindex", 0), ("nofiles", 0), ("listfiles", 0), ("DisemulatePackage", 1),
            ("tracingall", 0), ("unkern", 0), ("unpenalty", 0), ("displaylimits", 0), ("showhyphens", 1), ("typein", 1), ("pdfinfo", 1), ("pdfcatalog", 1),
            ("makeglossary", 0), ("glossary", 1), ("glossaryentry", 2), ("index", 1), ("indexentry", 2)])
        {
            Machine.Define(name, (m, t) =>
            {
                for (int i = 0; i < arguments; i++)
                {
                    m.ReadArgument(t);
                }
            });
        }

        foreach (string name in (string[])["write", "openout", "closeout", "openin", "closein"])
        {
            Machine.Define(name, (m, t) =>
            {
                m.Quantities.ScanInteger();
                if (name == "write")
                {
                    m.ReadArgument(t);
                }
                else if (name.StartsWith("open", StringComparison.Ordinal))
                {
                    m.Assignments.TakeEquals();
                    for (Token next = m.Next(); next.Category is Category.Letter or Category.Other; next = m.Next())
                    {
                    }
                }
            });
        }

        Machine.Define("show", static (m, _) => m.Next());
        Machine.Define("showthe", static (m, t) => m.Scan([Token.Command(m.Symbol("the"), t.Position), m.Next()], () => m.NextExpanded()));
        foreach (string name in (string[])["showbox", "setlanguage"])
        {
            Machine.Define(name, static (m, _) => m.Quantities.ScanInteger());
        }

        foreach (string name in (string[])["read", "readline"])
        {
            Machine.Define(name, static (m, t) =>
            {
                m.Quantities.ScanInteger();
                m.Quantities.TakeKeyword("to");
                if (m.Definitions.ReadCommandToken(t).Symbol is { } symbol)
                {
                    m.Assign(symbol.Meaning, new MacroMeaning { Pattern = [], Body = [], Arity = 0 }, m.Definitions.TakeGlobal());
                }
            });
        }

        Machine.Define("marks", static (m, t) =>
        {
            m.Quantities.ScanInteger();
            m.ReadArgument(t);
        });
    }
}
