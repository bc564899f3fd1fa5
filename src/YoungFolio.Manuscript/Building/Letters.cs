using YoungFolio.Manuscript.Tree;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

// Letters (Lamport, section 5.1): each begins on a page of its own, numbered from 1.
public sealed partial class DocumentBuilder
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

                Keep(kept, m.ReadArgument(t));
            });
            Keep(kept, []);
        }

        Machine.Define("makelabels", static (_, _) => { });
        Machine.Define("startbreaks", static (_, _) => { });
        Machine.Define("stopbreaks", static (_, _) => { });
        Machine.NamedDimension("longindentation", Dimension.FromPoints(160));
        Machine.NamedDimension("indentedwidth", Dimension.FromPoints(160));
        DefineEnvironment("letter", BeginLetter, _ => EndLetter());
        Machine.Define("opening", (_, t) => Opening(t));
        Machine.Define("closing", (_, t) => Closing(t));
        Machine.Define("cc", (m, t) => LetterNote("ccname", m.ReadArgument(t), t));
        Machine.Define("encl", (m, t) => LetterNote("enclname", m.ReadArgument(t), t));
        Machine.Define("ps", (_, _) =>
        {
            EndParagraph();
            AddBlock(new SpaceBlock(Glue.Of(12, 4, 4)));
            HasNoIndent = true;
        });
        WhenDocumentBegins(() =>
        {
            Machine.Assign(_parIndent, default);
            Machine.Assign(_parSkip, Glue.Of(0.7 * BasicSize, 2));
        });
    }

    private void BeginLetter(Token token)
    {
        List<Token> recipient = Machine.ReadArgument(token);
        if (!_documentBegun && !CanPrint(token.Position))
        {
            return;
        }

        AddBlock(new PageBreakBlock(PageEnd.Clear));
        AddBlock(new PageStyleBlock { Number = 1 });
        (_letterOpen, _letterClosed) = (true, false);
        // The recipient's first line is the name, which heads of later pages show.
        int end = recipient.FindIndex(t => t.IsCommand("\\"));
        Keep("toname", end < 0 ? recipient : recipient.GetRange(0, end));
        Keep("toaddress", end < 0 ? [] : recipient.GetRange(end + 1, recipient.Count - end - 1));
        AddBlock(new MarkBlock(BuildInlines(Kept("@date") ?? [Token.Command(Machine.Symbol("today"), token.Position)]), BuildInlines(Kept("toname")!)));
        Machine.Assign(Machine.Counter("footnote")!, 0, true);
    }

    private void EndLetter()
    {
        EndParagraph();
        (_letterOpen, _letterClosed) = (false, false);
        AddBlock(new PageBreakBlock(PageEnd.Clear));
    }

    private void Opening(Token token)
    {
        List<Token> words = Machine.ReadArgument(token);
        if (!_letterOpen)
        {
            Findings.Fix("outside-letter", token.Position, token.Length, "\\opening belongs in a letter, and none is begun here.",
                "Put \\begin{letter}{…} with the recipient's name and address before it.");
        }

        EndParagraph();
        AddBlock(new PageStyleBlock { ThisPage = MakePageStyle(Kept("fromaddress") is { Count: > 0 } ? "empty" : "firstpage") });
        List<Token> date = Kept("@date") ?? [Token.Command(Machine.Symbol("today"), token.Position)];
        // Sender and date stand at the right, flush left among themselves.
        List<Token> sender = Kept("fromaddress") is { Count: > 0 } address
            ? [.. address, .. LineEnd(token), .. Machine.Tokenize("[6pt]", token.Position), .. date]
            : date;
        AddBlock(new SpaceBlock(new Glue(default, new Dimension(65536), 2), true));
        AddLines(Stack(sender, Alignment.Left, 't'), Alignment.Right);
        AddBlock(new SpaceBlock(Glue.Of(2 * BasicSize)));
        List<Token> to = [.. Kept("toname") ?? []];
        if (Kept("toaddress") is { Count: > 0 } rest)
        {
            to.AddRange([.. LineEnd(token), .. rest]);
        }

        if (to.Count > 0)
        {
            AddLines(Stack(to, Alignment.Left, 't'), Alignment.Left);
            AddBlock(new SpaceBlock(Glue.Of(2 * BasicSize)));
        }

        AddParagraph(words, Alignment.Left, 0);
        AddBlock(new PenaltyBlock(10_000));
    }

    private void Closing(Token token)
    {
        List<Token> words = Machine.ReadArgument(token);
        EndParagraph();
        _letterClosed = true;
        List<Token> signature = Kept("fromsig") is { Count: > 0 } s ? s : Kept("fromname") ?? [];
        if (signature.Count == 0)
        {
            Findings.Check("no-signature", token.Position, token.Length, "\\closing has no signature to print.",
                "Write \\signature{…} before it, in the preamble or the letter.");
        }

        double indent = Machine.NamedDimension("longindentation").Value.Points;
        AddBlock(new PenaltyBlock(10_000));
        AddBlock(new SpaceBlock(Glue.Of(BasicSize)));
        AddParagraph(words, Alignment.Left, indent);
        AddBlock(new PenaltyBlock(10_000));
        AddBlock(new SpaceBlock(Glue.Of(4 * BasicSize)));
        AddParagraph(signature, Alignment.Left, indent);
        AddBlock(new SpaceBlock(Glue.Of(BasicSize)));
        HasNoIndent = true;
    }

    private void LetterNote(string name, List<Token> words, Token token)
    {
        EndParagraph();
        // The names stand under one another beside the word.
        Inline list = Stack(words, Alignment.Left, 't');
        AddBlock(new SpaceBlock(Glue.Of(BasicSize * 0.5)));
        List<Inline> line = [.. BuildInlines([Token.Command(Machine.Symbol(name), token.Position)]), MakeText(": ", token.Position), list];
        AddBlock(new ParagraphBlock(line, ParagraphStyleNow(0) with { Alignment = Alignment.Left }));
    }

    private List<Token> LineEnd(Token token) => [Token.Command(Machine.Symbol("\\"), token.Position)];

    private void AddLines(Inline box, Alignment alignment) =>
        AddBlock(new ParagraphBlock([box], ParagraphStyleNow(0) with { Alignment = alignment, SpaceAbove = default }));

    private void AddParagraph(List<Token> words, Alignment alignment, double indent)
    {
        Machine.BeginGroup(GroupKind.Command, "", Machine.CurrentPosition);
        Machine.Assign(_alignment, alignment);
        Machine.Assign(_leftMargin, indent);
        foreach (Block block in BuildBlocks(words))
        {
            AddBlock(block);
        }

        Machine.EndGroup();
    }

    /// <summary>Commands whose text is printed in a line of its own below the title.</summary>
    internal void KeepFrontLines(IEnumerable<string> names)
    {
        foreach (string name in names)
        {
            Machine.Define(name, (m, t) =>
            {
                m.ReadOptional(t);
                List<Token> text = m.ReadArgument(t);
                if (text.Count > 0)
                {
                    _atEndDocument.AddRange([.. Machine.Tokenize("\\par\\noindent ", t.Position), .. text, Token.Command(m.Par, t.Position)]);
                }
            });
        }
    }
}
