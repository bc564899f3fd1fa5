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
        var fill = new Glue(default, new Dimension(65536), 2);
        Builder.AddBlock(ownPage ? new SpaceBlock(fill, true) : new SpaceBlock(Glue.Of(24), true));
        TitleLines("LARGE", true, title ?? []);
        Builder.AddBlock(new SpaceBlock(Glue.Of(ownPage ? 36 : 18)));
        Authors(Kept("@author") ?? []);
        List<Token> date = Kept("@date") ?? [Token.Command(Machine.Symbol("today"), token.Position)];
        if (date.Exists(t => !t.Is(Category.Space)))
        {
            Builder.AddBlock(new SpaceBlock(Glue.Of(ownPage ? 24 : 12)));
            TitleLines(ownPage ? "large" : "normalsize", false, date);
        }

        Builder.AddBlock(ownPage ? new SpaceBlock(new Glue(default, new Dimension(65536 * 2), 2), true) : new SpaceBlock(Glue.Of(22)));
        Machine.EndGroup();
        List<Block> blocks = Builder.CloseFrame().Blocks;
        if (ownPage)
        {
            AddTitlePage(blocks);
        }
        else
        {
            Builder.AddBlock(new PageStyleBlock { ThisPage = Builder.PageStyles.MakePageStyle("plain") });
            foreach (Block block in Builder.PageMeasures.Columns > 1 ? [new SpanningBlock(blocks)] : blocks)
            {
                Builder.AddBlock(block);
            }
        }

        Machine.Assign(Machine.Counters.Find("footnote")!, notes, true);
        Builder.Frames.Peek().AfterHeading = false;
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
            TitleLines("large", false, people[0]);
            return;
        }

        Machine.BeginGroup(GroupKind.Command, "", Machine.Input.CurrentPosition);
        Builder.Text.SetSize("large");
        Builder.Text.HasNoIndent = true;
        foreach (List<Token> person in people)
        {
            Builder.AddInline(Builder.Boxes.Stack(TokenLists.TrimSpaces(person), Alignment.Centre, 't'));
            Builder.AddInline(new PenaltyInline(0));
            Builder.AddInline(new SpaceInline(Glue.Of(2 * Builder.Style.Value.Size), true));
        }

        Builder.EndParagraph();
        Machine.EndGroup();
    }

    private void TitleLines(string size, bool bold, List<Token> tokens)
    {
        Machine.BeginGroup(GroupKind.Command, "", Machine.Input.CurrentPosition);
        Builder.Text.SetSize(size);
        Machine.Assign(Builder.Style, Builder.Style.Value with { Bold = bold });
        Builder.Text.HasNoIndent = true;
        foreach (Block block in Builder.BuildBlocks(tokens))
        {
            Builder.AddBlock(block);
        }

        Machine.EndGroup();
    }

    private void BeginAbstract()
    {
        Builder.EndParagraph();
        bool ownPage = Builder.Preamble.HasTitlePage;
        Builder.OpenFrame();
        Machine.Assign(Builder.LeftMargin, Builder.LeftMargin.Value + (ownPage ? 0 : 25));
        Machine.Assign(Builder.RightMargin, Builder.RightMargin.Value + (ownPage ? 0 : 25));
        if (!ownPage)
        {
            Builder.Text.SetSize("small");
        }

        ParagraphStyle centred = Builder.ParagraphStyleNow(0) with { Alignment = Alignment.Centre };
        TextStyle style = Builder.Style.Value;
        Machine.Assign(Builder.Style, style with { Bold = true });
        List<Inline> name = Builder.BuildInlines([Token.Command(Machine.Symbol("abstractname"), Machine.Input.CurrentPosition)]);
        Machine.Assign(Builder.Style, style);
        if (name.Count > 0)
        {
            Builder.AddBlock(new ParagraphBlock(name, centred));
            Builder.AddBlock(new PenaltyBlock(10000));
            Builder.AddBlock(new SpaceBlock(Glue.Of(6)));
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

        Builder.AddBlock(new GroupBlock(frame.Blocks) { SpaceAround = Glue.Of(6, 2) });
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
