using YoungFolio.Manuscript.Tree;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

// The title, its page, and the abstract.
public sealed partial class DocumentBuilder
{
    private void DefineTitles()
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

        Machine.Define("thanks", (_, t) => Footnote(t));
        Machine.Define("and", (_, _) => AddHorizontalSpace(Glue.Of(2 * _style.Value.Size), false));
        Machine.Define("maketitle", (_, t) => MakeTitle(t));
        DefineEnvironment("titlepage", _ =>
        {
            EndParagraph();
            OpenFrame();
        }, _ =>
        {
            if (_frames.Count > 1)
            {
                AddTitlePage(CloseFrame().Blocks);
            }
        });
        DefineEnvironment("abstract", _ => BeginAbstract(), _ => EndAbstract());
    }

    // Keeps text in a macro that class files and preambles read (\@title and its kin).
    internal void Keep(string name, List<Token> text, bool everywhere = true) =>
        Machine.Assign(Machine.Symbol(name).Meaning, new MacroMeaning { Pattern = [], Body = [.. text], Arity = 0 }, everywhere);

    /// <summary>Tokens that a command kept; null when none did.</summary>
    internal List<Token>? Kept(string name) => Machine.Symbol(name).Meaning.Value is MacroMeaning m ? [.. m.Body] : null;

    private void MakeTitle(Token token)
    {
        if (!_documentBegun && !CanPrint(token.Position))
        {
            return;
        }

        List<Token>? title = Kept("@title");
        if (title is null)
        {
            Findings.Check("no-title", token.Position, token.Length, "\\maketitle has no title to print.",
                "Write \\title{…} before it.");
        }

        EndParagraph();
        int notes = Machine.Counter("footnote")!.Value;
        bool ownPage = HasTitlePage;
        OpenFrame();
        Machine.BeginGroup(GroupKind.Command, "", token.Position);
        Machine.Assign(_alignment, Alignment.Centre);
        Machine.Assign(_divides, false);
        Machine.Assign(Machine.Symbol("thefootnote").Meaning, new MacroMeaning
        {
            Pattern = [],
            Arity = 0,
            Body = Machine.Tokenize("\\fnsymbol{footnote}", token.Position),
        });
        var fill = new Glue(default, new Dimension(65536), 2);
        AddBlock(ownPage ? new SpaceBlock(fill, true) : new SpaceBlock(Glue.Of(24), true));
        TitleLines("LARGE", true, title ?? []);
        AddBlock(new SpaceBlock(Glue.Of(ownPage ? 36 : 18)));
        Authors(Kept("@author") ?? []);
        List<Token> date = Kept("@date") ?? [Token.Command(Machine.Symbol("today"), token.Position)];
        if (date.Exists(t => !t.Is(Category.Space)))
        {
            AddBlock(new SpaceBlock(Glue.Of(ownPage ? 24 : 12)));
            TitleLines(ownPage ? "large" : "normalsize", false, date);
        }

        AddBlock(ownPage ? new SpaceBlock(new Glue(default, new Dimension(65536 * 2), 2), true) : new SpaceBlock(Glue.Of(22)));
        Machine.EndGroup();
        List<Block> blocks = CloseFrame().Blocks;
        if (ownPage)
        {
            AddTitlePage(blocks);
        }
        else
        {
            AddBlock(new PageStyleBlock { ThisPage = MakePageStyle("plain") });
            foreach (Block block in Columns > 1 ? [new AcrossBlock(blocks)] : blocks)
            {
                AddBlock(block);
            }
        }

        Machine.Assign(Machine.Counter("footnote")!, notes, true);
        _frames.Peek().AfterHeading = false;
    }

    // Pages after a title page count from 1 again when one side is printed (Lamport's classes, from memory).
    private void AddTitlePage(List<Block> blocks)
    {
        AddBlock(new TitlePageBlock(blocks));
        if (!TwoSided)
        {
            AddBlock(new PageStyleBlock { Number = 1 });
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

        Machine.BeginGroup(GroupKind.Command, "", Machine.CurrentPosition);
        SetSize("large");
        HasNoIndent = true;
        foreach (List<Token> person in people)
        {
            AddInline(Stack(Machine.TrimSpaces(person), Alignment.Centre, 't'));
            AddInline(new PenaltyInline(0));
            AddInline(new SpaceInline(Glue.Of(2 * _style.Value.Size), true));
        }

        EndParagraph();
        Machine.EndGroup();
    }

    private void TitleLines(string size, bool bold, List<Token> tokens)
    {
        Machine.BeginGroup(GroupKind.Command, "", Machine.CurrentPosition);
        SetSize(size);
        Machine.Assign(_style, _style.Value with { Bold = bold });
        HasNoIndent = true;
        foreach (Block block in BuildBlocks(tokens))
        {
            AddBlock(block);
        }

        Machine.EndGroup();
    }

    private void BeginAbstract()
    {
        EndParagraph();
        bool ownPage = HasTitlePage;
        OpenFrame();
        Machine.Assign(_leftMargin, _leftMargin.Value + (ownPage ? 0 : 25));
        Machine.Assign(_rightMargin, _rightMargin.Value + (ownPage ? 0 : 25));
        if (!ownPage)
        {
            SetSize("small");
        }

        ParagraphStyle centred = ParagraphStyleNow(0) with { Alignment = Alignment.Centre };
        TextStyle style = _style.Value;
        Machine.Assign(_style, style with { Bold = true });
        List<Inline> name = BuildInlines([Token.Command(Machine.Symbol("abstractname"), Machine.CurrentPosition)]);
        Machine.Assign(_style, style);
        if (name.Count > 0)
        {
            AddBlock(new ParagraphBlock(name, centred));
            AddBlock(new PenaltyBlock(10000));
            AddBlock(new SpaceBlock(Glue.Of(6)));
        }
    }

    private void EndAbstract()
    {
        if (_frames.Count < 2)
        {
            return;
        }

        BlockFrame frame = CloseFrame();
        if (HasTitlePage)
        {
            var fill = new SpaceBlock(new Glue(default, new Dimension(65536), 2), true);
            AddTitlePage([fill, .. frame.Blocks, fill]);
            return;
        }

        AddBlock(new GroupBlock(frame.Blocks) { SpaceAround = Glue.Of(6, 2) });
    }

    private static List<Token> WithoutNotes(List<Token> tokens)
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
