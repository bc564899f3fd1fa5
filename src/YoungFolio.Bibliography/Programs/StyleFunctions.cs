using System.Globalization;

namespace YoungFolio.Bibliography;

/// <summary>
/// The functions of the language of styles (<em>Designing BibTeX Styles</em>, section 5.3), and those that give our own styles the words of
/// a manuscript's language.
/// </summary>
internal static class StyleFunctions
{
    // Longest texts of the usual program, which styles cut to.
    private const int LongestEntryText = 250;
    private const int LongestText = 20_000;

    /// <summary>All, by their names.</summary>
    public static IReadOnlyList<(string Name, Action<StyleRun> Function)> All { get; } =
    [
        (">", static r => Compare(r, static (a, b) => a > b)),
        ("<", static r => Compare(r, static (a, b) => a < b)),
        ("=", static r =>
        {
            StyleValue second = r.Pop();
            StyleValue first = r.Pop();
            r.Push(first.Number is { } number ? Is(number == second.Number) : Is((first.Text ?? "") == (second.Text ?? "") && second.Number is null));
        }),
        ("+", static r => r.Push(r.PopNumber() + r.PopNumber())),
        ("-", static r =>
        {
            int second = r.PopNumber();
            r.Push(r.PopNumber() - second);
        }),
        ("*", static r =>
        {
            string second = r.PopText();
            StyleString first = r.Pop().Content ?? new StyleString("");
            r.Push(new StyleValue(null, first.With(second)));
        }),
        (":=", static r =>
        {
            StyleName? name = r.Pop().Function;
            r.Assign(name, r.Pop());
        }),
        ("add.period$", static r => r.Push(StyleText.WithPeriod(r.PopText()))),
        ("call.type$", static r => r.RunType()),
        ("change.case$", static r =>
        {
            string kind = r.PopText();
            r.Push(StyleText.ChangeCase(r.PopText(), kind.Length == 1 ? char.ToLowerInvariant(kind[0]) : 't'));
        }),
        ("chr.to.int$", static r => r.Push(r.PopText() is { Length: > 0 } text ? text[0] : 0)),
        ("cite$", static r => r.Push(r.Entry?.Source.Key ?? "")),
        ("duplicate$", static r =>
        {
            StyleValue value = r.Pop();
            r.Push(value);
            r.Push(value);
        }),
        ("empty$", static r => r.Push(Is(string.IsNullOrWhiteSpace(r.PopText())))),
        ("format.name$", static r =>
        {
            string form = r.PopText();
            int number = r.PopNumber();
            IReadOnlyList<PersonName> names = r.NamesOf(r.PopText());
            r.Push(number >= 1 && number <= names.Count ? NameFormat.Write(names[number - 1], form) : "");
        }),
        ("if$", static r =>
        {
            StyleValue otherwise = r.Pop();
            StyleValue then = r.Pop();
            r.Run(r.PopNumber() > 0 ? then : otherwise);
        }),
        ("int.to.chr$", static r => r.Push(((char)Math.Clamp(r.PopNumber(), 0, 127)).ToString())),
        ("int.to.str$", static r => r.Push(r.PopNumber().ToString(CultureInfo.InvariantCulture))),
        ("missing$", static r => r.Push(Is(r.Pop().IsMissing))),
        ("newline$", static r => r.Write("\n")),
        ("num.names$", static r => r.Push(r.NamesOf(r.PopText()).Count)),
        ("pop$", static r => r.Pop()),
        ("preamble$", static r => r.Push(r.Preamble)),
        ("purify$", static r => r.Push(StyleText.Purify(r.PopText()))),
        ("quote$", static r => r.Push("\"")),
        ("skip$", static _ => { }),
        ("stack$", static r => r.Clear()),
        ("substring$", static r =>
        {
            int length = r.PopNumber();
            int start = r.PopNumber();
            r.Push(StyleText.Substring(r.PopText(), start, length));
        }),
        ("swap$", static r =>
        {
            StyleValue second = r.Pop();
            StyleValue first = r.Pop();
            r.Push(second);
            r.Push(first);
        }),
        ("text.length$", static r => r.Push(StyleText.Length(r.PopText()))),
        ("text.prefix$", static r =>
        {
            int length = r.PopNumber();
            r.Push(StyleText.Prefix(r.PopText(), length));
        }),
        ("top$", static r => r.Pop()),
        ("type$", static r => r.Push(r.Entry?.Type ?? "")),
        // What is wrong with an entry is said by our own checks.
        ("warning$", static r => r.Pop()),
        ("while$", static r =>
        {
            StyleValue body = r.Pop();
            StyleValue condition = r.Pop();
            r.Run(condition);
            while (r.PopNumber() > 0)
            {
                r.Run(body);
                r.Run(condition);
            }
        }),
        // Lists of sources measure their labels themselves: a character counts half an em here.
        ("width$", static r => r.Push(500 * StyleText.Length(r.PopText()))),
        ("write$", static r => r.Write(r.PopText())),
        ("entry.max$", static r => r.Push(LongestEntryText)),
        ("global.max$", static r => r.Push(LongestText)),
        ("style.most.names", static r => r.Push(r.Style.MaxNames)),
        ("style.shown.names", static r => r.Push(r.Style.MinNames)),
        .. OfWords(),
    ];

    private static IEnumerable<(string, Action<StyleRun>)> OfWords() => new (string Name, Func<SourceWords, string> Word)[]
    {
        ("word.and", static w => w.And),
        ("word.editor", static w => w.Editor),
        ("word.editors", static w => w.Editors),
        ("word.others", static w => w.Others),
        ("word.in", static w => w.In),
        ("word.volume", static w => w.Volume.Long),
        ("word.vol", static w => w.Volume.Short),
        ("word.number", static w => w.Number),
        ("word.pages", static w => w.Pages.Long),
        ("word.page", static w => w.Page.Long),
        ("word.pp", static w => w.Pages.Short),
        ("word.p", static w => w.Page.Short),
        ("word.chapter", static w => w.Chapter),
        ("word.edition", static w => w.Edition.Long),
        ("word.ed", static w => w.Edition.Short),
        ("word.phd", static w => w.Doctoral),
        ("word.masters", static w => w.Masters),
        ("word.report", static w => w.Report),
        ("word.of", static w => w.Of),
        ("word.comma.before.and", static w => w.CommaBeforeAnd ? "," : ""),
        ("word.title.case", static w => w.LowersTitles ? "t" : ""),
        ("word.language", static w => w.Language),
    }.Select(static w => (w.Name, (Action<StyleRun>)(r => r.Push(w.Word(r.Words)))));

    private static int Is(bool condition) => condition ? 1 : 0;

    private static void Compare(StyleRun run, Func<int, int, bool> compare)
    {
        int second = run.PopNumber();
        run.Push(Is(compare(run.PopNumber(), second)));
    }
}
