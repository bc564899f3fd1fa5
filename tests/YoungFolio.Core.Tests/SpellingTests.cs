using YoungFolio.Manuscript.Searching;
using YoungFolio.Spelling;

namespace YoungFolio.Core.Tests;

/// <summary>Which words of a typed text are looked at, in which language, and what the dictionaries know.</summary>
public sealed class SpellingTests
{
    private static readonly HashSet<string> s_none = [];

    private static IEnumerable<string> Words(string text, string language = "en-gb") => TypedWords.Find(text, language).Select(w => w.Word);

    private static IEnumerable<string> Unknown(string text, string language = "en-gb", IReadOnlySet<string>? known = null) => SpellCheck.Find(text, language, known ?? s_none).Select(w => w.Word);

    [Theory]
    [InlineData(@"Walls \emph{stand} on % hidden words", "Walls stand on")]
    [InlineData(@"See \ref{sec:wals}, \cite{rok} and $wrng + 1$, \[ alsowrng \] done", "See and done")]
    [InlineData(@"\section{Old walls}\label{sec:old} \begin{itemize} \item one \end{itemize}", "Old walls one")]
    [InlineData(@"\url{www.wrng.example} ada@hill.example www.hill.example a/path/here x_y", "")]
    [InlineData(@"NASA 3rd B2B iPhone x y.z walls' it's don’t", "walls it's don't")]
    [InlineData(@"\begin{verbatim} wrng \end{verbatim} \verb|wrng| right", "right")]
    [InlineData(@"\documentclass{article}\usepackage{wrng}\begin{document}word\end{document} behind", "word")]
    [InlineData(@"na\""{\i}ve caf\'e Stra\ss{}e \c{c}a fa\c{c}ade \AA rhus hy\-phen $\omega$ \o re", "naïve café Straße ça façade Århus hyphen øre")]
    [InlineData(@"well-known pre- and un-done", "well known and done")]
    public void Words_that_print_are_looked_at(string text, string words) => Assert.Equal(words, string.Join(' ', Words(text)));

    [Fact]
    public void A_word_stands_where_it_is_typed()
    {
        const string Text = "One caf\\'e, two.";
        Assert.Equal(["One", "caf\\'e", "two"], TypedWords.Find(Text, "en-gb").Select(w => Text.Substring(w.Offset, w.Length)));
    }

    [Fact]
    public void German_umlauts_may_be_typed_with_quotation_marks() => Assert.Equal(["Gärten", "Straße"], Words("G\"arten Stra\"se", "de"));

    [Theory]
    [InlineData(@"\documentclass{article}", null)]
    [InlineData(@"\documentclass[ngerman]{article}\usepackage{babel}", "de")]
    [InlineData(@"\usepackage[ngerman,british]{babel}", "en-gb")]
    [InlineData(@"\usepackage[main=french,english]{babel}", "fr")]
    [InlineData(@"\usepackage[english]{babel}", "en-us")]
    [InlineData(@"\usepackage{polyglossia}\setmainlanguage[variant=british]{english}", "en-gb")]
    [InlineData(@"% \usepackage[ngerman]{babel}", null)]
    public void The_preamble_says_the_language(string preamble, string? language) => Assert.Equal(language, TypedLanguages.Main([preamble]));

    [Fact]
    public void Passages_are_in_their_own_language()
    {
        const string Text = """
            one \foreignlanguage{french}{deux \emph{trois}} four
            \begin{otherlanguage}{ngerman} f\"unf \textfrench{six} sieben \end{otherlanguage} eight
            \begin{quote} \selectlanguage{spanish} nueve \end{quote} \selectlanguage{english} ten
            """;
        Assert.Equal(
            "one deux:fr trois:fr four fünf:de six:fr sieben:de eight nueve:es ten:en-us",
            string.Join(' ', TypedWords.Find(Text, "en-gb").Select(w => w.Word + (w.Language is { } l ? ":" + l : ""))));
    }

    /// <summary>British and American spellings by the Oxford English Dictionary and Merriam-Webster; German by Duden; French by the Académie (from memory).</summary>
    [Theory]
    [InlineData("en-gb", "The colour of lichens was analysed at the centre", "")]
    [InlineData("en-us", "The colour of lichens was analyzed at the center", "colour")]
    [InlineData("en-gb", "We recieved teh walls", "recieved teh")]
    [InlineData("de", "Die Straße führt zu den Trockenmauern, und die Arbeiten sind fertig", "")]
    [InlineData("de", "Die Strase fürt zum Hauss", "Strase fürt Hauss")]
    [InlineData("fr", "Les murs étaient déjà là, et l'âge des lichens", "")]
    [InlineData("fr", "Les mures etaient la", "etaient")]
    [InlineData("es", "Los muros de piedra están aquí", "")]
    [InlineData("it", "I muri di pietra sono qui perché", "")]
    [InlineData("nl", "De muren zijn gebouwd van steen", "")]
    [InlineData("pt", "As paredes são de pedra", "")]
    public void Dictionaries_ship_for_each_language(string language, string text, string unknown) => Assert.Equal(unknown, string.Join(' ', Unknown(text, language)));

    [Fact]
    public void Every_language_of_the_engine_has_a_dictionary() => Assert.All(Lexicon.Languages, l => Assert.NotNull(Lexicon.Of(l)));

    [Fact]
    public void What_was_meant_comes_first()
    {
        Assert.Equal("received", Lexicon.Of("en-gb")!.Suggest("recieved")[0]);
        Assert.Contains("Straße", Lexicon.Of("de")!.Suggest("Strase"));
        Assert.Null(Lexicon.Of("xx"));
    }

    [Fact]
    public void Words_of_a_list_are_right_in_all_their_letters()
    {
        HashSet<string> known = ["tephromela", "hollin"];
        Assert.Empty(Unknown("Tephromela at Hollin's edge, TEPHROMELA and tephromela", known: known));
    }

    [Fact]
    public void A_long_file_is_looked_at_while_nobody_waits()
    {
        // 3,000 lines, as the issue of long files has it: the second look is what happens while someone types.
        string text = string.Concat(Enumerable.Range(0, 3000).Select(i => $"The wall of farm {i} stands on \\emph{{good}} ground, as $x_{i}$ and \\cite{{k{i}}} say, and wrongg words are in it.\n"));
        Assert.Equal(SpellCheck.MostUnknown, SpellCheck.Find(text, "en-gb", s_none).Count);
        Assert.Equal(SpellCheck.MostUnknown, TimeLimit.Within(0.5, () => SpellCheck.Find(text, "en-gb", s_none)).Count);
    }

    [Theory]
    [InlineData("\\foreignlanguage{french}{")]
    [InlineData("\\begin{otherlanguage}{german}")]
    [InlineData("\\selectlanguage{german}")]
    [InlineData("'a")]
    [InlineData("\\-")]
    [InlineData("\"a")]
    public void A_hostile_text_takes_no_longer_than_its_length(string piece)
    {
        string text = string.Concat(Enumerable.Repeat(piece, 200_000 / piece.Length));
        Assert.True(TimeLimit.Within(2, () => TypedWords.Find(text, "de").Count()) < text.Length);
    }
}
