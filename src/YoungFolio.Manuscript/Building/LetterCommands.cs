using YoungFolio.Documents;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>Letters (Lamport, section 5.1): each begins on a page of its own, numbered from 1.</summary>
internal sealed class LetterCommands(DocumentBuilder builder) : ReadingFeature(builder)
{
    private bool _letterOpen;
    private bool _letterClosed;

    /// <summary>Gives the commands of the class letter.</summary>
    internal void DefineLetters()
    {
        foreach ((string name, string kept) in (ReadOnlySpan<(string, string)>)[
            ("address", "fromaddress"), ("signature", "fromsig"), ("name", "fromname"), ("location", "fromlocation"), ("telephone", "telephonenum")])
        {
            Machine.Define(name, (m, t) =>
            {
                if (name == "signature" && _letterClosed)
                {
                    Findings.Check("late-signature", t.Position, t.Length, "This \\signature stands after its \\closing, so it has no effect.",
                        "\\closing prints the signature. Put \\signature before it, in the preamble or the letter.");
                }

                Builder.Titles.Keep(kept, m.ReadArgument(t));
            });
            Builder.Titles.Keep(kept, []);
        }

        Machine.Define("makelabels", static (_, _) => { });
        Machine.Define("startbreaks", static (_, _) => { });
        Machine.Define("stopbreaks", static (_, _) => { });
        Machine.Registers.NamedDimension("longindentation", Dimension.FromPoints(160));
        Machine.Registers.NamedDimension("indentedwidth", Dimension.FromPoints(160));
        Builder.Environments.DefineEnvironment("letter", BeginLetter, _ => EndLetter());
        Machine.Define("opening", (_, t) => Opening(t));
        Machine.Define("closing", (_, t) => Closing(t));
        Machine.Define("cc", (m, t) => LetterNote("ccname", m.ReadArgument(t), t));
        Machine.Define("encl", (m, t) => LetterNote("enclname", m.ReadArgument(t), t));
        Machine.Define("ps", (_, _) =>
        {
            Builder.EndParagraph();
            Builder.AddBlock(new SpaceBlock(Glue.Of(12, 4, 4)));
            Builder.Text.HasNoIndent = true;
        });
        Builder.Hooks.WhenDocumentBegins(() =>
        {
            Machine.Assign(Builder.Text.ParIndent, default);
            Machine.Assign(Builder.Text.ParSkip, Glue.Of(0.7 * Builder.BasicSize, 2));
        });
    }

    private void BeginLetter(Token token)
    {
        List<Token> recipient = Machine.ReadArgument(token);
        if (!Builder.DocumentBegun && !Builder.CanPrint(token.Position))
        {
            return;
        }

        Builder.AddBlock(new PageBreakBlock(PageEnd.Clear));
        Builder.AddBlock(new PageStyleBlock { Number = 1 });
        (_letterOpen, _letterClosed) = (true, false);
        // The recipient's first line is the name, which heads of later pages show.
        int end = recipient.FindIndex(t => t.IsCommand("\\"));
        Builder.Titles.Keep("toname", end < 0 ? recipient : recipient.GetRange(0, end));
        Builder.Titles.Keep("toaddress", end < 0 ? [] : recipient.GetRange(end + 1, recipient.Count - end - 1));
        Builder.AddBlock(new MarkBlock(Builder.BuildInlines(Builder.Titles.Kept("@date") ?? [Token.Command(Machine.Symbol("today"), token.Position)]), Builder.BuildInlines(Builder.Titles.Kept("toname")!)));
        Machine.Assign(Machine.Counters.Find("footnote")!, 0, true);
    }

    private void EndLetter()
    {
        Builder.EndParagraph();
        (_letterOpen, _letterClosed) = (false, false);
        Builder.AddBlock(new PageBreakBlock(PageEnd.Clear));
    }

    private void Opening(Token token)
    {
        List<Token> words = Machine.ReadArgument(token);
        if (!_letterOpen)
        {
            Findings.Fix("outside-letter", token.Position, token.Length, "\\opening belongs in a letter, and none is begun here.",
                "Put \\begin{letter}{…} with the recipient's name and address before it.");
        }

        Builder.EndParagraph();
        Builder.AddBlock(new PageStyleBlock { ThisPage = Builder.PageStyles.MakePageStyle(Builder.Titles.Kept("fromaddress") is { Count: > 0 } ? "empty" : "firstpage") });
        List<Token> date = Builder.Titles.Kept("@date") ?? [Token.Command(Machine.Symbol("today"), token.Position)];
        // Sender and date stand at the right, flush left among themselves.
        List<Token> sender = Builder.Titles.Kept("fromaddress") is { Count: > 0 } address
            ? [.. address, .. LineEnd(token), .. Machine.Tokenize("[6pt]", token.Position), .. date]
            : date;
        Builder.AddBlock(new SpaceBlock(new Glue(default, new Dimension(65536), 2), true));
        AddLines(Builder.Boxes.Stack(sender, Alignment.Left, 't'), Alignment.Right);
        Builder.AddBlock(new SpaceBlock(Glue.Of(2 * Builder.BasicSize)));
        List<Token> to = [.. Builder.Titles.Kept("toname") ?? []];
        if (Builder.Titles.Kept("toaddress") is { Count: > 0 } rest)
        {
            to.AddRange([.. LineEnd(token), .. rest]);
        }

        if (to.Count > 0)
        {
            AddLines(Builder.Boxes.Stack(to, Alignment.Left, 't'), Alignment.Left);
            Builder.AddBlock(new SpaceBlock(Glue.Of(2 * Builder.BasicSize)));
        }

        AddParagraph(words, Alignment.Left, 0);
        Builder.AddBlock(new PenaltyBlock(10_000));
    }

    private void Closing(Token token)
    {
        List<Token> words = Machine.ReadArgument(token);
        Builder.EndParagraph();
        _letterClosed = true;
        List<Token> signature = Builder.Titles.Kept("fromsig") is { Count: > 0 } s ? s : Builder.Titles.Kept("fromname") ?? [];
        if (signature.Count == 0)
        {
            Findings.Check("no-signature", token.Position, token.Length, "\\closing has no signature to print.",
                "Write \\signature{…} before it, in the preamble or the letter.");
        }

        double indent = Machine.Registers.NamedDimension("longindentation").Value.Points;
        Builder.AddBlock(new PenaltyBlock(10_000));
        Builder.AddBlock(new SpaceBlock(Glue.Of(Builder.BasicSize)));
        AddParagraph(words, Alignment.Left, indent);
        Builder.AddBlock(new PenaltyBlock(10_000));
        Builder.AddBlock(new SpaceBlock(Glue.Of(4 * Builder.BasicSize)));
        AddParagraph(signature, Alignment.Left, indent);
        Builder.AddBlock(new SpaceBlock(Glue.Of(Builder.BasicSize)));
        Builder.Text.HasNoIndent = true;
    }

    private void LetterNote(string name, List<Token> words, Token token)
    {
        Builder.EndParagraph();
        // The names stand under one another beside the word.
        Inline list = Builder.Boxes.Stack(words, Alignment.Left, 't');
        Builder.AddBlock(new SpaceBlock(Glue.Of(Builder.BasicSize * 0.5)));
        List<Inline> line = [.. Builder.BuildInlines([Token.Command(Machine.Symbol(name), token.Position)]), Builder.References.MakeText(": ", token.Position), list];
        Builder.AddBlock(new ParagraphBlock(line, Builder.ParagraphStyleNow(0) with { Alignment = Alignment.Left }));
    }

    private List<Token> LineEnd(Token token) => [Token.Command(Machine.Symbol("\\"), token.Position)];

    private void AddLines(Inline box, Alignment alignment) =>
        Builder.AddBlock(new ParagraphBlock([box], Builder.ParagraphStyleNow(0) with { Alignment = alignment, SpaceAbove = default }));

    private void AddParagraph(List<Token> words, Alignment alignment, double indent)
    {
        Machine.BeginGroup(GroupKind.Command, "", Machine.Input.CurrentPosition);
        Machine.Assign(Builder.TextAlignment, alignment);
        Machine.Assign(Builder.LeftMargin, indent);
        foreach (Block block in Builder.BuildBlocks(words))
        {
            Builder.AddBlock(block);
        }

        Machine.EndGroup();
    }
}
