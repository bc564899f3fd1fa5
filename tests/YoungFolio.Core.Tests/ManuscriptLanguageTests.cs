using System.Globalization;
using YoungFolio.Bibliography;
using YoungFolio.Manuscript.Languages;
using YoungFolio.Typesetting.Hyphenation;

namespace YoungFolio.Core.Tests;

/// <summary>What a manuscript's language changes: divisions, names of things, dates, signs, words of references.</summary>
public class ManuscriptLanguageTests
{
    public static TheoryData<string> Codes => [.. Language.All.Select(l => l.Code)];

    // The months of the Unicode Common Locale Data Repository, as the operating system's library for languages has them.
    [Theory]
    [MemberData(nameof(Codes))]
    public void Months_are_those_of_the_common_locale_data(string code)
    {
        string[] months = CultureInfo.GetCultureInfo(code == "pt" ? "pt-PT" : code).DateTimeFormat.MonthGenitiveNames;
        for (int month = 1; month <= 12; month++)
        {
            string date = Language.Of(code).Date(new DateOnly(2026, month, 9));
            Assert.Contains(months[month - 1].Replace("de ", "", StringComparison.Ordinal), date, StringComparison.OrdinalIgnoreCase);
            Assert.Contains("2026", date, StringComparison.Ordinal);
            Assert.Contains("9", date.Replace("2026", "", StringComparison.Ordinal), StringComparison.Ordinal);
        }
    }

    // Divided by another implementation with the same published patterns: the npm package hyphenopoly 6.1.0.
    [Theory]
    [InlineData("ru", "ли-шай-ник ис-сле-до-ва-ние уни-вер-си-тет рас-те-ние")]
    [InlineData("uk", "уні-вер-си-тет ро-сли-на")]
    [InlineData("pl", "ma-te-ma-ty-ka uni-wer-sy-tet pod-ręcz-nik do-świad-cze-nie")]
    [InlineData("cs", "ma-te-ma-tika uni-ver-zita nej-krás-nější po-zo-ro-vání")]
    [InlineData("sk", "ma-te-ma-tika uni-ver-zita po-zo-ro-va-nie")]
    [InlineData("sv", "uni-ver-si-tet un-der-sök-ning la-var-na")]
    [InlineData("da", "uni-ver-si-tet un-der-sø-gel-se byg-ning")]
    [InlineData("nb", "uni-ver-si-tet un-der-sø-kel-se byg-ning")]
    [InlineData("nn", "uni-ver-si-tet un-der-sø-king")]
    [InlineData("fi", "yli-opis-to tut-ki-mus kas-va-mi-nen")]
    [InlineData("el", "πα-νε-πι-στή-μιο μα-θη-μα-τι-κά έ-ρευ-να")]
    [InlineData("tr", "üni-ver-si-te araş-tır-ma ma-te-ma-tik")]
    [InlineData("hu", "egye-tem ma-te-ma-ti-ka vizs-gá-lat")]
    [InlineData("ro", "uni-ver-si-ta-te cer-ce-ta-re ma-te-ma-ti-că")]
    [InlineData("hr", "sve-uči-li-šte is-tra-ži-va-nje ma-te-ma-ti-ka")]
    [InlineData("sl", "uni-ver-za raz-i-ska-va ma-te-ma-ti-ka")]
    [InlineData("ca", "uni-ver-si-tat re-cer-ca ma-te-mà-ti-ques")]
    public void Words_are_divided_by_the_published_patterns(string code, string words)
    {
        Hyphenator hyphenator = Hyphenator.ForLanguage(code)!;
        foreach (string divided in words.Split(' '))
        {
            string word = divided.Replace("-", "", StringComparison.Ordinal);
            string made = word;
            foreach (int at in hyphenator.Divide(word).Reverse())
            {
                made = made.Insert(at, "-");
            }

            Assert.Equal(divided, made);
        }
    }

    [Fact]
    public void Every_language_has_patterns_and_words_for_references()
    {
        Assert.All(Language.All, l => Assert.NotNull(Hyphenator.ForLanguage(l.Code)));
        Assert.All(Language.All.Where(l => !l.Code.StartsWith("en", StringComparison.Ordinal)), l => Assert.Equal(l.Code.Split('-')[0], SourceWords.For(l.Code).Language));
        Assert.All(Language.All, l => Assert.Equal(21, l.Captions.Count(c => c.Text.Length > 0)));
        Assert.All(Language.All, l => Assert.NotNull(l.Reference("algorithm")));
        Assert.All(Language.All, l => Assert.All(l.Names, n => Assert.Equal(l.Code, Language.CodeOf(n))));
    }

    [Fact]
    public void A_manuscript_can_be_started_in_each_of_them()
    {
        string dialog = File.ReadAllText(Path.Combine(SourceTree.Root, "web/src/shelf/StartDialog.tsx"));
        Assert.All(Language.Listed, l => Assert.Contains($"['{l.Names[0]}', '{l.Title}'],", dialog, StringComparison.Ordinal));
    }

    // What babel's modules for the languages have (from memory).
    [Theory]
    [InlineData("russian", "Оглавление", "Рис. 1: c", "9 ноября 2026 г.")]
    [InlineData("ukrainian", "Зміст", "Рис. 1: c", "9 листопада 2026 р.")]
    [InlineData("polish", "Spis treści", "Rysunek 1: c", "9 listopada 2026")]
    [InlineData("czech", "Obsah", "Obrázek 1: c", "9. listopadu 2026")]
    [InlineData("slovak", "Obsah", "Obrázok 1: c", "9. novembra 2026")]
    [InlineData("swedish", "Innehåll", "Figur 1: c", "9 november 2026")]
    [InlineData("danish", "Indhold", "Figur 1: c", "9. november 2026")]
    [InlineData("norsk", "Innhold", "Figur 1: c", "9. november 2026")]
    [InlineData("nynorsk", "Innhald", "Figur 1: c", "9. november 2026")]
    [InlineData("finnish", "Sisältö", "Kuva 1: c", "9. marraskuuta 2026")]
    [InlineData("greek", "Περιεχόμενα", "Σχήμα 1: c", "9 Νοεμβρίου 2026")]
    [InlineData("turkish", "İçindekiler", "Şekil 1: c", "9 Kasım 2026")]
    [InlineData("magyar", "Tartalomjegyzék", "1. ábra: c", "2026. november 9.")]
    [InlineData("romanian", "Cuprins", "Figura 1: c", "9 noiembrie 2026")]
    [InlineData("croatian", "Sadržaj", "Slika 1: c", "9. studenoga 2026.")]
    [InlineData("slovene", "Kazalo", "Slika 1: c", "9. november 2026")]
    [InlineData("catalan", "Índex", "Figura 1: c", "9 de novembre de 2026")]
    [InlineData("brazilian", "Sumário", "Figura 1: c", "9 de novembro de 2026")]
    [InlineData("french", "Table des matières", "Figure 1 – c", "9 novembre 2026")]
    public void Babel_names_things_and_dates(string language, string contents, string caption, string date)
    {
        string text = Print($"[{language}]", "\\tableofcontents\\today\\begin{figure}[h]x\\caption{c}\\end{figure}");
        Assert.Contains(contents, text, StringComparison.Ordinal);
        Assert.Contains(caption, text, StringComparison.Ordinal);
        Assert.Contains(date, text, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("russian", "\"`Стена\"' и \"<камень\">", "„Стена“ и «камень»")]
    [InlineData("polish", "\"`za\"z\"o\"l\"c\"'", "„zażółć“")]
    [InlineData("swedish", "\"a\"o", "äö")]
    [InlineData("french", "le 1\\ier{} mur, la 2\\ieme{} pierre, \\no3, \\bsc{Le Mur}", "le 1 er mur, la 2 e pierre, n o 3, Le Mur")]
    [InlineData("czech", "\"a", "\"a")]
    public void Signs_that_are_typed_short(string language, string body, string printed) => Assert.Equal(printed, Print($"[{language}]", body));

    [Theory]
    [InlineData("polish", "„a «b» c”")]
    [InlineData("czech", "„a ‚b‘ c“")]
    [InlineData("swedish", "”a ’b’ c”")]
    [InlineData("russian", "«a „b“ c»")]
    [InlineData("finnish", "”a ’b’ c”")]
    [InlineData("norsk", "«a ‘b’ c»")]
    public void Quotation_marks(string language, string printed) =>
        Assert.Equal(printed, Print($"[{language}]", "\\enquote{a \\enquote{b} c}", "\\usepackage{csquotes}"));

    [Theory]
    [InlineData("polish", "sekcja 1 rysunek 1 równanie (1)")]
    [InlineData("swedish", "avsnitt 1 figur 1 ekvation (1)")]
    [InlineData("russian", "раздел 1 рис. 1 уравнение (1)")]
    public void Names_in_references(string language, string printed) =>
        Assert.Contains(printed, Print($"[{language}]",
            "\\section{A}\\label{a}\\begin{figure}[h]x\\caption{c}\\label{b}\\end{figure}\\begin{equation}x\\label{e}\\end{equation}\n\n\\cref{a} \\cref{b} \\cref{e}", "\\usepackage{cleveref}"), StringComparison.Ordinal);

    [Fact]
    public void A_reference_has_the_languages_words() =>
        Assert.Contains("Rozprawa doktorska", PdfWords.Joined(Compiled.Files(("main.tex",
            "\\documentclass{article}\\usepackage[polish]{babel}\\begin{document}\\cite{a}\\bibliographystyle{plain}\\bibliography{s}\\end{document}"),
            ("s.bib", "@phdthesis{a, author={Zofia Mur}, title={Porosty}, school={Uniwersytet}, year=2020}"))), StringComparison.Ordinal);

    // The class's indent is 15 pt at 10 pt (article.cls and size10.clo, from memory).
    [Theory]
    [InlineData("\\usepackage[french]{babel}", 15)]
    [InlineData("\\usepackage[spanish]{babel}", 15)]
    [InlineData("\\usepackage{indentfirst}", 15)]
    [InlineData("\\usepackage[italian]{babel}", 0)]
    [InlineData("", 0)]
    public void The_first_paragraph_below_a_heading_has_an_indent_where_the_language_or_a_package_says_so(string preamble, double indent)
    {
        List<PdfWord> words = PdfWords.Of(Compiled.Article("\\section*{Head}\nWord\n\n\\noindent Other", preamble));
        Assert.Equal(indent * 72 / 72.27, words.One("Word").Left - words.One("Other").Left, 2.0);
    }

    private static string Print(string options, string body, string preamble = "") =>
        PdfWords.Joined(Compiled.Body(body + "\\thispagestyle{empty}", $"\\usepackage{options}{{babel}}{preamble}\n")).Replace('\u00A0', ' ').Replace('\u202F', ' ');

    // Names of functions and the number's sign as babel's documentation of Russian has them (from memory).
    [Theory]
    [InlineData("russian")]
    [InlineData("ukrainian")]
    public void Functions_have_their_eastern_names(string language)
    {
        string text = Compiled.Text(Compiled.Clean("\\No 5: $\\tg x + \\arctg y$.", $"\\usepackage[{language}]{{babel}}"));
        Assert.Contains("№", text, StringComparison.Ordinal);
        Assert.Contains("tg", text, StringComparison.Ordinal);
        Assert.Contains("arctg", text, StringComparison.Ordinal);
    }
}
