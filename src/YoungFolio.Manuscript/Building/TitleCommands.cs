using YoungFolio.Documents;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>The title, its page, and the abstract.</summary>
internal sealed class TitleCommands(DocumentBuilder builder) : ReadingFeature(builder)
{
    internal void DefineTitles()
    {
        foreach (string name in (string[])["title", "author", "date"])
        {
            Machine.Define(name, (m, t) =>
            {
                List<Token>? shortForm = m.ReadOptional(t);
                List<Token> text = m.ReadArgument(t);
                Keep("@" + name, text);
                if (shortForm is not null)
                {
                    Keep("@short" + name, shortForm);
                }
            });
        }

        Machine.Define("thanks", (_, t) => Builder.Notes.Footnote(t));
        Machine.Define("and", (_, _) => Builder.Text.AddHorizontalSpace(Glue.Of(2 * Builder.Style.Value.Size), false));
        Machine.Define("maketitle", (_, t) => MakeTitle(t));
        Builder.Environments.DefineEnvironment("titlepage", _ =>
        {
            Builder.EndParagraph();
            Builder.OpenFrame();
        }, _ =>
        {
            if (Builder.Frames.Count > 1)
            {
                AddTitlePage(Builder.CloseFrame().Blocks);
            }
        });
        Builder.Environments.DefineEnvironment("abstract", _ => BeginAbstract(), _ => EndAbstract());
    }

    // Keeps text in a macro that class files and preambles read (\@title and its kin).
    internal void Keep(string name, List<Token> text, bool everywhere = true) =>
        Machine.Assign(Machine.Symbol(name).Meaning, new MacroMeaning { Pattern = [], Body = [.. text], Arity = 0 }, everywhere);

    /// <summary>Tokens that a command kept; null when none did.</summary>
    internal List<Token>? Kept(string name) => Machine.Symbol(name).Meaning.Value is MacroMeaning m ? [.. m.Body] : null;

    private void MakeTitle(Token token)
    {
        if (!Builder.DocumentBegun && !Builder.CanPrint(token.Position))
        {
            return;
        }

        List<Token>? title = Kept("@title");
        if (title is null)
        {
            Findings.Check("no-title", token.Position, token.Length, "\\maketitle has no title to print.",
                "Write \\title{…} before it.");
        }

        Builder.EndParagraph();
        int notes = Machine.Counters.Find("footnote")!.Value;
        bool ownPage = Builder.Preamble.HasTitlePage;
        Builder.OpenFrame();
        Machine.BeginGroup(GroupKind.Command, "", token.Position);
        Machine.Assign(Builder.TextAlignment, Alignment.Centre);
        Machine.Assign(Builder.Divides, false);
        Machine.Assign(Machine.Symbol("thefootnote").Meaning, new MacroMeaning
        {
            Pattern = [],
            Arity = 0,
            Body = Machine.Tokenize("\\fnsymbol{footnote}", token.Position),
        });
        Builder.Notes.BeginTitle();
        if (!ownPage && Machine.Symbol("@maketitle") is { Meaning.Value: not null } own)
        {
            // A manuscript or a package says itself what the title looks like.
            Builder.Execute([Token.Command(own, token.Position)]);
            Builder.EndParagraph();
        }
        else
        {
            SetTitle(title ?? [], ownPage, token);
        }

        Machine.EndGroup();
        List<Block> blocks = Builder.CloseFrame().Blocks;
        IReadOnlyList<Block> titleNotes = Builder.Notes.EndTitle();
        if (ownPage)
        {
            AddTitlePage([.. blocks, .. titleNotes]);
            AddTitleBack(token);
        }
        else
        {
            Builder.AddBlock(new PageStyleBlock { ThisPage = Builder.PageStyles.MakePageStyle("plain") });
            foreach (Block block in (Block[])[.. Builder.PageMeasures.Columns > 1 ? [new SpanningBlock(blocks)] : blocks, .. titleNotes])
            {
                Builder.AddBlock(block);
            }

            Builder.AddBlock(new PageOpeningBlock());
        }

        Machine.Assign(Machine.Counters.Find("footnote")!, notes, true);
        Builder.Frames.Peek().AfterHeading = false;
    }

    private void SetTitle(List<Token> title, bool ownPage, Token token)
    {
        // Spaces of the standard classes' \@maketitle (their published documentation, from memory), in em of the running text.
        double em = Builder.StandardMeasures.Measures.Em;
        Glue around = Builder.Lists.SpaceAround(true);
        var fill = new SpaceBlock(new Glue(default, new Dimension(65536), 2), true);
        if (ownPage)
        {
            Builder.AddBlock(fill);
            Builder.AddBlock(new SpaceBlock(Glue.Of(60), true));
        }
        else
        {
            // An empty line begins the page, so that the title stands as far below it as the leading says.
            Builder.AddBlock(new ParagraphBlock([new BoxInline([])], Builder.ParagraphStyleNow(0)));
            Builder.AddBlock(new SpaceBlock(Glue.Of(2 * em)));
        }

        Builder.AddBlock(new SpaceBlock(around));
        TitlePart("@titlehead", "normalsize", 0, em);
        TitlePart("@subject", "large", 0, 1.5 * em);
        TitleLines("LARGE", title);
        TitlePart("@subtitle", "large", 0.5 * em, 0);
        Builder.AddBlock(new SpaceBlock(Glue.Of((ownPage ? 3 : 1.5) * em)));
        Authors(Kept("@author") ?? []);
        TitlePart("@places", "normalsize", 0.5 * em, 0);
        List<Token> date = Kept("@date") ?? [Token.Command(Machine.Symbol("today"), token.Position)];
        if (date.Exists(t => !t.Is(Category.Space)))
        {
            Builder.AddBlock(new SpaceBlock(Glue.Of((ownPage ? 1.5 : 1) * em)));
            TitleLines("large", date);
        }

        TitlePart("@publishers", "large", 1.5 * em, 0);
        Builder.AddBlock(new SpaceBlock(around));
        Builder.AddBlock(ownPage ? fill : new SpaceBlock(Glue.Of(1.5 * em)));
    }

    // A part that only some classes have, with the space above and below it.
    private void TitlePart(string name, string size, double above, double below)
    {
        if (Kept(name) is { Count: > 0 } words)
        {
            Builder.AddBlock(new SpaceBlock(Glue.Of(above)));
            TitleLines(size, words);
            Builder.AddBlock(new SpaceBlock(Glue.Of(below)));
        }
    }

    // What stands on the back of the title page, and a dedication on a page of its own.
    private void AddTitleBack(Token token)
    {
        var fill = new SpaceBlock(new Glue(default, new Dimension(65536), 2), true);
        List<Block> Part(string name) => Kept(name) is { Count: > 0 } words ? Builder.BuildBlocks([Token.Command(Machine.Symbol("noindent"), token.Position), .. words]) : [];
        (List<Block> upper, List<Block> lower, List<Block> dedication) = (Part("@uppertitleback"), Part("@lowertitleback"), Part("@dedication"));
        if (upper.Count + lower.Count > 0)
        {
            AddTitlePage([.. upper, fill, .. lower]);
        }

        if (dedication.Count > 0)
        {
            AddTitlePage([fill, .. dedication.Select(b => b is ParagraphBlock p ? p with { Style = p.Style with { Alignment = Alignment.Centre } } : b), fill]);
        }
    }

    // Pages after a title page count from 1 again when one side is printed (Lamport's classes, from memory).
    private void AddTitlePage(List<Block> blocks)
    {
        Builder.AddBlock(new TitlePageBlock(blocks));
        if (!Builder.Pages.TwoSided)
        {
            Builder.AddBlock(new PageStyleBlock { Number = 1 });
        }
    }

    // Authors parted by \and stand side by side, each with the lines below the name.
    private void Authors(List<Token> author)
    {
        List<List<Token>> people = [];
        var one = new List<Token>();
        foreach (Token token in author)
        {
            if (token.IsCommand("and"))
            {
                people.Add(one);
                one = [];
            }
            else
            {
                one.Add(token);
            }
        }

        people.Add(one);
        if (people.Count == 1)
        {
            TitleLines("large", people[0]);
            return;
        }

        Machine.BeginGroup(GroupKind.Command, "", Machine.Input.CurrentPosition);
        Builder.Text.SetSize("large");
        Builder.Text.HasNoIndent = true;
        for (int i = 0; i < people.Count; i++)
        {
            if (i > 0)
            {
                // An em, and the edges of two tables (\and of the kernel).
                Builder.AddInline(new PenaltyInline(0));
                Builder.AddInline(new SpaceInline(Glue.Of(Builder.Style.Value.Size + 12), true));
            }

            Builder.AddInline(Builder.Boxes.Stack(TokenLists.TrimSpaces(people[i]), Alignment.Centre, 't'));
        }

        Builder.EndParagraph();
        Machine.EndGroup();
    }

    private void TitleLines(string size, List<Token> tokens)
    {
        Machine.BeginGroup(GroupKind.Command, "", Machine.Input.CurrentPosition);
        Builder.Text.SetSize(size);
        Machine.Assign(Builder.Style, Builder.Style.Value with { Bold = false });
        Builder.Text.HasNoIndent = true;
        foreach (Block block in Builder.BuildBlocks(tokens))
        {
            Builder.AddBlock(block);
        }

        Machine.EndGroup();
    }

    // In small type between the margins of a quotation; on a page of its own as wide as the text; in two columns as a section.
    private void BeginAbstract()
    {
        Builder.EndParagraph();
        bool ownPage = Builder.Preamble.HasTitlePage;
        Token name = Token.Command(Machine.Symbol("abstractname"), Machine.Input.CurrentPosition);
        if (Builder.PageMeasures.Columns > 1 && !ownPage)
        {
            if (Machine.ExpandToText([name]).Trim().Length > 0)
            {
                Builder.Execute([Token.Command(Machine.Symbol("section"), name.Position), Token.Character('*', Category.Other, name.Position), .. TokenLists.Braced([name], name.Position)]);
            }

            Builder.OpenFrame();
            Builder.Frames.Peek().AfterHeading = true;
            return;
        }

        Builder.OpenFrame();
        if (!ownPage)
        {
            Builder.Text.SetSize("small");
        }

        Builder.Frames.Peek().SpaceAround = Builder.Lists.SpaceAround(true);
        ParagraphStyle centred = Builder.ParagraphStyleNow(0) with { Alignment = Alignment.Centre };
        TextStyle style = Builder.Style.Value;
        Machine.Assign(Builder.Style, style with { Bold = true });
        List<Inline> heading = Builder.BuildInlines([name]);
        Machine.Assign(Builder.Style, style);
        if (heading.Count > 0)
        {
            Builder.AddBlock(new ParagraphBlock(heading, centred));
            Builder.AddBlock(new PenaltyBlock(10000));
            Builder.AddBlock(new SpaceBlock(ownPage ? Builder.Frames.Peek().SpaceAround : Glue.Of(Builder.Frames.Peek().SpaceAround.Width.Points - (style.Size / 2))));
        }

        if (!ownPage)
        {
            Builder.Lists.BeginQuotation();
        }
    }

    private void EndAbstract()
    {
        if (Builder.Frames.Count < 2)
        {
            return;
        }

        BlockFrame frame = Builder.CloseFrame();
        if (Builder.Preamble.HasTitlePage)
        {
            var fill = new SpaceBlock(new Glue(default, new Dimension(65536), 2), true);
            AddTitlePage([fill, .. frame.Blocks, fill]);
            return;
        }

        Builder.AddBlock(new GroupBlock(frame.Blocks) { SpaceAround = frame.SpaceAround });
    }

    internal static List<Token> WithoutNotes(List<Token> tokens)
    {
        var result = new List<Token>();
        for (int i = 0; i < tokens.Count; i++)
        {
            if (!tokens[i].IsCommand("thanks") && !tokens[i].IsCommand("footnote") && !tokens[i].IsCommand("label") && !tokens[i].IsCommand("index"))
            {
                result.Add(tokens[i]);
                continue;
            }

            int depth = 0;
            for (i++; i < tokens.Count; i++)
            {
                depth += tokens[i].Is(Category.BeginGroup) ? 1 : tokens[i].Is(Category.EndGroup) ? -1 : 0;
                if (depth == 0 && !tokens[i].Is(Category.Space))
                {
                    break;
                }
            }
        }

        return result;
    }
}
