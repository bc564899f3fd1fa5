using YoungFolio.Manuscript.Searching;

namespace YoungFolio.Core.Tests;

/// <summary>Notes for those who write, as they are typed in texts (the manuals of todonotes and fixme).</summary>
public sealed class TypedNotesTests
{
    private static IReadOnlyList<string> Own(string definition) => [.. TypedNotes.Commands(TypedNames.Of(definition).Definitions).Skip(5)];

    private static IEnumerable<(string Command, string Text)> Found(string text, string definitions = "") =>
        TypedNotes.Of(text, TypedNotes.Commands(TypedNames.Of(definitions + text).Definitions)).Select(n => (n.Command, n.Text));

    [Theory]
    [InlineData(@"\newcommand{\ilse}[1]{\todo[color=moss]{IM: #1}}", "ilse")]
    [InlineData(@"\newcommand{\aq}[1]{\textcolor{red}{[AQ: #1]}}", "aq")]
    [InlineData(@"\newcommand\bao[1]{{\color{blue}(#1)}}", "bao")]
    [InlineData(@"\newcommand{\side}[1]{\marginpar{\tiny #1}}", "side")]
    [InlineData(@"\newcommand{\hidden}[1]{}", "hidden")]
    [InlineData(@"\def\later#1{}", "later")]
    [InlineData(@"\NewDocumentCommand{\ask}{O{red} m}{\todo[color=#1]{#2}}", "ask")]
    // Through one that was made before.
    [InlineData(@"\newcommand{\n}[1]{\todo{#1}}\newcommand{\ilse}[1]{\n{IM: #1}}", "n", "ilse")]
    public void Commands_of_a_group_are_known_by_how_they_are_defined(string definition, params string[] names) => Assert.Equal(names, Own(definition));

    [Theory]
    [InlineData(@"\newcommand{\red}[1]{\textcolor{red}{#1}}")]
    [InlineData(@"\newcommand{\species}[1]{\emph{#1}}")]
    [InlineData(@"\newcommand{\two}[2]{\todo{#1 #2}}")]
    [InlineData(@"\newcommand{\lichen}{\todo{x}}")]
    [InlineData(@"\newcommand{\walls}{}")]
    [InlineData(@"\newcommand{\set}[1]{\gdef\x{y}}")]
    public void Emphasis_and_other_commands_are_none(string definition) => Assert.Empty(Own(definition));

    [Theory]
    [InlineData(@"A wall.\todo{Which \emph{one}?} B", "todo", @"Which \emph{one}?")]
    [InlineData("A\\todo[inline, color=red!20]{Two\n   lines {nested}}.", "todo", "Two lines {nested}")]
    [InlineData(@"A\fxwarning{Look \} here}", "fxwarning", @"Look \} here")]
    public void A_note_is_read_with_all_its_words(string text, string command, string words) => Assert.Equal([(command, words)], Found(text));

    [Theory]
    [InlineData(@"% \todo{in a comment}")]
    [InlineData(@"\begin{verbatim}\todo{as typed}\end{verbatim}")]
    [InlineData(@"\verb|\todo{as typed}|")]
    [InlineData(@"\todo{never closed")]
    [InlineData(@"\todo without braces")]
    [InlineData(@"\newcommand{\ilse}[1]{\todo{#1}}")]
    [InlineData(@"\def\ilse#1{\todo{#1}}")]
    [InlineData(@"\listoftodos")]
    public void What_is_no_note_is_none(string text) => Assert.Empty(Found(text));

    [Theory]
    [InlineData(@"Walls grow old.\todo{Why?} They stand.", "Walls grow old. They stand.", "Walls grow old.")]
    [InlineData(@"Walls grow \todo{Why?} old.", "Walls grow old.", "Walls grow")]
    [InlineData(@"One. Walls grow old \todo{Why?}.", "One. Walls grow old.", "Walls grow old")]
    [InlineData("Walls grow.\n  \\todo{Why?}\nThey stand.", "Walls grow.\nThey stand.", "Walls grow.")]
    [InlineData("Walls grow.\n\n\\todo{Why?}%\nThey stand.", "Walls grow.\n\nThey stand.", "They stand.")]
    [InlineData("\\todo{Why?}\nThey stand.", "They stand.", "They stand.")]
    [InlineData("Стены растут.\\todo{Why?} Они стоят.", "Стены растут. Они стоят.", "Стены растут.")]
    public void Taken_out_it_leaves_no_trace_and_stands_at_the_words_before_it(string text, string without, string passage)
    {
        TypedNote note = Assert.Single(TypedNotes.Of(text, ["todo"]));
        TakenNote taken = Assert.IsType<TakenNote>(TypedNotes.Take(text, note));
        string left = text.Remove(taken.From, taken.To - taken.From);
        Assert.Equal(without, left);
        Assert.Equal(passage, left[taken.Passage.From..taken.Passage.To]);
    }

    [Fact]
    public void Without_any_words_it_can_be_tied_to_nothing() => Assert.Null(TypedNotes.Take("\\todo{x}\n", Assert.Single(TypedNotes.Of("\\todo{x}\n", ["todo"]))));

    [Theory]
    [InlineData("50 % of \\walls & so on\n#1", @"\todo{50 \% of \textbackslash{}walls \& so on \#1}")]
    [InlineData("{open", @"\todo{\{open}")]
    public void Written_it_prints_what_it_says(string words, string typed)
    {
        Assert.Equal(typed, TypedNotes.Typed("todo", words));
        Assert.Single(TypedNotes.Of(typed, ["todo"]));
    }

    /// <summary>Whatever stands around: what goes is the command and white space alone, and the passage lies in what is left.</summary>
    [Fact]
    public void In_any_text_nothing_else_is_taken()
    {
        var random = new Random(29);
        string[] pieces = ["word", " ", "\n", "\n\n", ". ", "{", "}", "\\emph{a}", "%c\n", "\\todo{n o}", "\\todo[x]{}", "\t", "é"];
        int taken = 0;
        for (int round = 0; round < 4000; round++)
        {
            string text = string.Concat(Enumerable.Range(0, random.Next(1, 14)).Select(_ => pieces[random.Next(pieces.Length)]));
            foreach (TypedNote note in TypedNotes.Of(text, ["todo"]))
            {
                Assert.StartsWith("\\todo", text[note.From..note.To], StringComparison.Ordinal);
                if (TypedNotes.Take(text, note) is not { } gone)
                {
                    continue;
                }

                taken++;
                Assert.True(string.IsNullOrWhiteSpace(text[gone.From..note.From]));
                Assert.True(string.IsNullOrWhiteSpace(text[note.To..gone.To].Replace("%", "", StringComparison.Ordinal)));
                string left = text.Remove(gone.From, gone.To - gone.From);
                Assert.InRange(gone.Passage.From, 0, gone.Passage.To - 1);
                Assert.InRange(gone.Passage.To, 1, left.Length);
            }
        }

        Assert.True(taken > 1000);
    }
}
