using System.Text;
using YoungFolio.Compiler;
using YoungFolio.Manuscript.Building;
using YoungFolio.Compiler.Changes;
using YoungFolio.Documents.Mathematics;
using YoungFolio.Documents;
using YoungFolio.Markup;
using YoungFolio.Typesetting;

namespace YoungFolio.Core.Tests;

/// <summary>A proof with what changed between two states marked in it.</summary>
public class ChangeMarkTests
{
    private static readonly TypesettingResources s_resources = new();

    [Fact]
    public void Changed_words_stand_beside_what_they_replace_and_the_rest_is_left_alone()
    {
        Assert.Equal("The −new +old wall stands.", Shown("The new wall stands.", "The old wall stands."));
        Assert.Equal("The wall stands +here.", Shown("The wall stands.", "The wall stands here."));
        Assert.Equal("The wall −here stands.", Shown("The wall here stands.", "The wall stands."));
        Assert.Equal("One.", Shown("One.", "One."));
    }

    [Fact]
    public void A_word_that_only_looks_otherwise_has_changed() =>
        Assert.Equal("A −wall +wall stands.", Shown("A wall stands.", "A \\emph{wall} stands."), ignoreCase: false);

    [Fact]
    public void Other_line_ends_and_comments_in_the_source_are_no_change() =>
        Assert.Empty(Mark("One two\nthree.\n\nFour.", "One\ntwo three. % said so\n\n\nFour.").Changes);

    [Fact]
    public void Formulas_change_as_wholes_in_lines_and_in_displays()
    {
        MarkedDocument inline = Mark("So $a+b$ holds.", "So $a+c$ holds.");
        Assert.Equal(["Deleted a+b", "Inserted a+c"], inline.Changes.Select(c => $"{c.Kind} {c.Text}"));
        MarkedDocument display = Mark(
            "\\begin{align} a &= b\\label{x}\\\\ c &= d \\end{align} See \\ref{x}.", "\\begin{align} a &= b\\label{x}\\\\ c &= e \\\\ f &= g \\end{align} See \\ref{x}.");
        DisplayBlock rows = display.Document.Blocks.OfType<DisplayBlock>().Single();
        Assert.Equal([true, false, true, true], rows.Rows.Select(r => r.Number is not null));
        Assert.Contains(display.Changes, c => c is { Kind: ChangeKind.Deleted, Text: "=d" });
    }

    [Fact]
    public void A_structure_that_reads_alike_is_still_a_change() =>
        Assert.Equal(2, Mark("$\\frac{a}{b}$", "$a/b$").Changes.Count);

    [Fact]
    public void Table_rows_and_cells_are_marked_where_they_changed()
    {
        const string Table = "\\begin{tabular}{lrr} North & 1 & 2\\\\ South & 3 & 4\\\\ West & 5 & 6 \\end{tabular}";
        MarkedDocument marked = Mark(Table, Table.Replace("& 3", "& 33", StringComparison.Ordinal).Replace("West & 5 & 6", "East & 7 & 8", StringComparison.Ordinal));
        Assert.Equal(
            ["Deleted 3", "Inserted 33", "Inserted East", "Inserted 7", "Inserted 8", "Deleted West", "Deleted 5", "Deleted 6"],
            marked.Changes.Select(c => $"{c.Kind} {c.Text}"));
    }

    [Fact]
    public void A_heading_taken_out_is_shown_but_neither_listed_nor_in_the_outline()
    {
        MarkedDocument marked = Mark("\\section{First}\nOne.\n\\section{Second}\nTwo.\n\\section{Third}\nThree.", "\\section{First}\nOne.\n\\section{Third}\nThree.");
        Assert.Equal(["First", "Third"], marked.Document.Blocks.OfType<HeadingBlock>().Select(h => PlainText.Of(h.ShortTitle)));
        // "3" became "2": the number moved on, nobody changed it.
        Assert.Equal(["2Second", "Two."], marked.Changes.Select(c => c.Text));
    }

    [Fact]
    public void A_citation_of_another_source_is_a_change_and_a_new_number_of_the_same_is_none()
    {
        const string List = "\\begin{thebibliography}{9}\\bibitem{a} Ames.\\bibitem{b} Bell.\\end{thebibliography}";
        const string Turned = "\\begin{thebibliography}{9}\\bibitem{b} Bell.\\bibitem{a} Ames.\\end{thebibliography}";
        Assert.DoesNotContain(Mark("As in \\cite{a}. " + List, "As in \\cite{a}. " + Turned).Changes, c => c.Text == "1" || c.Text == "2");
        Assert.Equal(2, Mark("As in \\cite{a}. " + List, "As in \\cite{b}. " + List).Changes.Count);
    }

    [Fact]
    public void A_picture_with_other_content_under_its_old_name_has_changed()
    {
        byte[] one = Convert.FromBase64String("iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNkYPhfDwAChwGA60e6kgAAAABJRU5ErkJggg==");
        byte[] other = Convert.FromBase64String("iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mP8z8BQDwAEhQGAhKmMIQAAAABJRU5ErkJggg==");
        const string Text = "\\documentclass{article}\\usepackage{graphicx}\\begin{document}\\includegraphics{p.png}\\end{document}";
        ChangeProof proof = new ManuscriptCompiler().CompileChanges(State(one), State(other));
        Assert.Equal(["deleted p.png", "inserted p.png"], proof.Changes.Select(c => $"{c.Kind} {c.Text}"));
        Assert.Equal(2, System.Text.RegularExpressions.Regex.Count(Compiled.Run("pdfimages", proof.Pdf, "-list", "FILE"), @"(?m)^\s+\d+\s+\d+ image "));

        ManuscriptSnapshot State(byte[] picture) =>
            new(new FileTree([ManuscriptFile.FromText("main.tex", Text), new ManuscriptFile("p.png", picture)]), "main.tex", new DateOnly(2026, 11, 25));
    }

    [Fact]
    public void The_proof_underlines_strikes_out_and_sets_a_bar_at_the_edge()
    {
        ChangeProof proof = new ManuscriptCompiler().CompileChanges(Snapshot("A grey wall stands."), Snapshot("A dark wall stands."));
        string content = Compiled.Run("qpdf", proof.Pdf, "--qdf", "--object-streams=disable", "FILE", "-");
        Assert.Equal("Agreydarkwallstands.", string.Concat(
            Compiled.Run("pdftotext", proof.Pdf, "FILE", "-").Where(c => char.IsLetter(c) || c == '.')));
        // A line and a bar in each colour, as shares of 255: #B8382B and #4F7350.
        Assert.Equal(3, System.Text.RegularExpressions.Regex.Count(content, @"0\.722 0\.22 0\.169 rg"));
        Assert.Equal(3, System.Text.RegularExpressions.Regex.Count(content, @"0\.31 0\.451 0\.314 rg"));
        Assert.All(proof.Changes, c => Assert.Equal((1, "1"), (c.Sheet, c.Page)));
    }

    // What is left without the insertions is what there was; without the deletions, what there is now.
    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    [InlineData(4)]
    public void Either_state_can_be_read_out_of_the_marked_one(int seed)
    {
        var random = new Random(seed);
        string[] pieces =
        [
            "quagmire ", "\n\nA new paragraph of some words that was not there before.\n\n", " $x^2 + y$ ", "\\footnote{A note that came late.} ", "\\emph{stressed} ",
            "\n\\section{A section more}\n", "\n\\[ a = \\frac{b}{c} \\]\n", "\n\\begin{tabular}{lr}a & p\\\\ b & q\\end{tabular}\n", "\n\\begin{itemize}\\item One\\item Two\\end{itemize}\n",
        ];
        List<ManuscriptFile> files = DemoManuscripts.Thesis();
        int[] chapters = [.. Enumerable.Range(0, files.Count).Where(p => files[p].Path.StartsWith("chapters/", StringComparison.Ordinal))];
        ComparedState before = Build(DemoManuscripts.Snapshot(files));
        for (int i = 0; i < 6; i++)
        {
            for (int k = 0; k < 5; k++)
            {
                int at = chapters[random.Next(chapters.Length)];
                string text = files[at].Text;
                int place = text.IndexOf(". ", random.Next(text.Length * 3 / 4), StringComparison.Ordinal) + 2;
                int gone = random.Next(2) == 0 ? Math.Max(0, text.IndexOf(' ', place) + 1 - place) : 0;
                gone = text.AsSpan(place, gone).IndexOfAny("\\${}&") >= 0 ? 0 : gone;
                files[at] = ManuscriptFile.FromText(files[at].Path, text[..place] + pieces[random.Next(pieces.Length)] + text[(place + gone)..]);
            }

            ComparedState after = Build(DemoManuscripts.Snapshot(files));
            MarkedDocument marked = ChangeMarks.Mark(before, after);
            Assert.NotEmpty(marked.Changes);
            Assert.Equal(Read(before.Document.Blocks, null), Read(marked.Document.Blocks, ChangeMarks.InsertedColour));
            Assert.Equal(Read(after.Document.Blocks, null), Read(marked.Document.Blocks, ChangeMarks.DeletedColour));
            before = after;
        }
    }

    private static string Shown(string before, string after)
    {
        var text = new StringBuilder();
        foreach (Inline inline in ((ParagraphBlock)Mark(before, after).Document.Blocks.Single(b => b is ParagraphBlock)).Content)
        {
            text.Append(inline switch
            {
                DecoratedInline d => (d.Decoration == Decoration.Underline ? "+" : "−") + PlainText.Of(d.Content),
                SpaceInline => " ",
                TextRun run => run.Text,
                _ => "",
            });
        }

        return text.ToString();
    }

    private static MarkedDocument Mark(string before, string after) => ChangeMarks.Mark(Build(Snapshot(before)), Build(Snapshot(after)));

    private static ManuscriptSnapshot Snapshot(string body) => new(
        new FileTree([ManuscriptFile.FromText("main.tex", "\\documentclass{article}\\usepackage{amsmath}\\pagestyle{plain}\\begin{document}" + body + "\\end{document}")]),
        "main.tex", new DateOnly(2026, 11, 25));

    private static ComparedState Build(ManuscriptSnapshot snapshot)
    {
        (Document document, PositionTable positions) = DocumentBuilder.Build(
            snapshot.Files, new BuildOptions(snapshot.MainFile, snapshot.Today, new TextMeasure(s_resources)), new FindingLog());
        return new ComparedState(document, positions, snapshot.Files);
    }

    // All letters in the order of reading, without what is marked in one colour. Numbers move on by themselves and are left out.
    private static string Read(IEnumerable<Block> blocks, int? without)
    {
        var text = new StringBuilder();
        Add(blocks);
        return text.ToString();

        void Add(IEnumerable<Block> some)
        {
            foreach (Block block in some)
            {
                switch (block)
                {
                    case ParagraphBlock p:
                        AddInlines(p.Label?.Content ?? []);
                        AddInlines(p.Content);
                        break;
                    case HeadingBlock h:
                        Add(h.Lines);
                        break;
                    case GroupBlock g:
                        Add(g.Content);
                        break;
                    case FloatBlock f:
                        Add(f.Content);
                        break;
                    case TitlePageBlock t:
                        Add(t.Content);
                        break;
                    case DisplayBlock d:
                        foreach (MathList cell in d.Rows.SelectMany(r => r.Cells))
                        {
                            AddMath(cell);
                        }

                        break;
                    case LongTableBlock t:
                        AddTable(t.Table);
                        break;
                }
            }
        }

        void AddInlines(IEnumerable<Inline> inlines)
        {
            foreach (Inline inline in inlines)
            {
                switch (inline)
                {
                    // What a reference printed at its time was never written.
                    case TextRun run:
                        text.Append([.. run.Text.Where((c, i) => char.IsLetter(c) && run.Positions[i] != PositionTable.None)]);
                        break;
                    case DecoratedInline d when d.Colour != without:
                        AddInlines(d.Content);
                        break;
                    case LinkInline l:
                        AddInlines(l.Content);
                        break;
                    case DeferredInline d:
                        AddInlines(d.Content);
                        break;
                    case BoxInline b:
                        AddInlines(b.Content);
                        break;
                    case BlockBoxInline b:
                        Add(b.Content);
                        break;
                    case MathInline m:
                        AddMath(m.Formula);
                        break;
                    case NoteInline { Body: { } body }:
                        Add(body);
                        break;
                    case TableInline t:
                        AddTable(t.Table);
                        break;
                }
            }
        }

        void AddTable(Table table)
        {
            foreach (TableCell cell in table.Items.OfType<TableRow>().SelectMany(r => r.Cells))
            {
                AddInlines(cell.Content);
                AddInlines(cell.Decimals ?? []);
                Add(cell.Blocks ?? []);
            }
        }

        void AddMath(MathList list)
        {
            if (list.Nodes is [Atom { Nucleus: TextNucleus { Content: [AnchorInline, DecoratedInline] } marked }])
            {
                AddInlines(marked.Content);
            }
            else
            {
                var formula = new StringBuilder();
                list.AppendText(formula);
                text.Append(formula.Replace(" ", ""));
            }
        }
    }
}
