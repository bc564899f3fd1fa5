using YoungFolio.Manuscript.Tree;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

// Footnotes and notes in the margin.
public sealed partial class DocumentBuilder
{
    private readonly Stack<List<Block>> _miniNotes = new();
    private int _footnotes;

    private void DefineNotes()
    {
        Machine.NewCounter("mpfootnote");
        Machine.DefineMacro("thempfootnote", "{\\itshape\\alph{mpfootnote}}");
        Machine.Define("footnote", (_, t) => Footnote(t));
        Machine.Define("footnotemark", (m, t) => AddNoteMark(FootnoteMark(t, m.ReadOptional(t), "footnote"), t));
        Machine.Define("footnotetext", (m, t) =>
        {
            List<Inline> mark = m.ReadOptional(t) is { } number ? Raised(FootnoteNumberTokens("footnote", number, t)) : Raised([TheOf("footnote", t.Position)]);
            AddNote(new NoteInline(mark, FootnoteBody(m.ReadArgument(t)), t.Position) { PrintsMark = false });
        });
        Machine.Define("marginpar", (m, t) =>
        {
            // The optional text for left-hand pages isn't needed: one note stands on either side.
            m.ReadOptional(t);
            AddMarginNote(BuildMarginNote(m.ReadArgument(t)));
        });
        Machine.Define("reversemarginpar", static (_, _) => { });
        Machine.Define("normalmarginpar", static (_, _) => { });
        Machine.NamedDimension("footnotesep", Dimension.FromPoints(6.65));
        Machine.DefineMacro("footnoterule", "");
    }

    /// <summary>Builds a note for the margin, in small type.</summary>
    internal List<Block> BuildMarginNote(List<Token> text)
    {
        Machine.BeginGroup(GroupKind.Command, "", Machine.CurrentPosition);
        Machine.Assign(_style, PlainStyle(_style.Value.Size));
        SetSize("footnotesize");
        EnterColumn(_geometry?.MarginWidth ?? 60);
        Machine.Assign(_alignment, Alignment.Left);
        List<Block> note = BuildBlocks(text);
        Machine.EndGroup();
        return note;
    }

    /// <summary>Puts a note into the margin beside this line.</summary>
    internal void AddMarginNote(List<Block> note)
    {
        if (!_frames.Peek().InlineOnly || _recursion == 0)
        {
            AddInline(new MarginInline(note));
        }
    }

    private void Footnote(Token token)
    {
        bool small = _miniNotes.Count > 0 && _minipages.Count > 0;
        string counter = small ? "mpfootnote" : "footnote";
        List<Inline> mark = FootnoteMark(token, Machine.ReadOptional(token), counter);
        List<Token> text = Machine.ReadArgument(token);
        Machine.BeginGroup(GroupKind.Command, "", token.Position);
        string anchor = StartLabel(counter, token, null, "footnote");
        List<Block> body = FootnoteBody(text);
        Machine.EndGroup();
        if (small)
        {
            AddNoteMark(mark, token);
            _miniNotes.Peek().AddRange(body.Select((b, i) => i == 0 && b is ParagraphBlock p
                ? new ParagraphBlock([.. mark, new AnchorInline(anchor), new SpaceInline(Glue.Of(1.5), false), .. p.Content], p.Style) : b));
        }
        else
        {
            AddInline(new AnchorInline(anchor));
            AddNote(new NoteInline(mark, body, token.Position));
        }
    }

    // A cell has no foot of its own: its notes stand below the page that the table, or the row, is on.
    private void AddNote(NoteInline note)
    {
        if (_tables.TryPeek(out TableState? table) && table.Cell is not null)
        {
            AddInline(new NoteInline(note.Mark, null, note.Position) { PrintsMark = note.PrintsMark });
            table.Notes.Add(new NoteInline(note.Mark, note.Body, note.Position) { PrintsMark = false });
            return;
        }

        AddInline(note);
    }

    private void AddNoteMark(List<Inline> mark, Token token) => AddBoxed(new NoteInline(mark, null, token.Position), token);

    private List<Inline> FootnoteMark(Token token, List<Token>? given, string counter)
    {
        if (given is not null)
        {
            return Raised(FootnoteNumberTokens(counter, given, token));
        }

        Machine.StepCounter(counter, token);
        return Raised([TheOf(counter, token.Position)]);
    }

    // A number given by hand prints as the counter would print it.
    private List<Token> FootnoteNumberTokens(string counter, List<Token> number, Token token)
    {
        Scoped<int> register = Machine.Counter(counter)!;
        if (!int.TryParse(Machine.ExpandToText(number).Trim(), out int value))
        {
            return number;
        }

        int before = register.Value;
        Machine.Assign(register, value, true);
        string text = Machine.ExpandToText([TheOf(counter, token.Position)]);
        Machine.Assign(register, before, true);
        return [.. text.Select(c => Token.Character(c, Category.Other, token.Position))];
    }

    private List<Inline> Raised(List<Token> tokens)
    {
        Machine.BeginGroup(GroupKind.Command, "", Machine.CurrentPosition);
        TextStyle style = _style.Value;
        Machine.Assign(_style, PlainStyle(style.Size * 0.7) with { Rise = 0.36 * style.Size });
        List<Inline> result = BuildInlines(tokens);
        Machine.EndGroup();
        return result;
    }

    private List<Block> FootnoteBody(List<Token> text)
    {
        _footnotes++;
        Machine.BeginGroup(GroupKind.Command, "", Machine.CurrentPosition);
        Machine.Assign(_style, PlainStyle(_style.Value.Size));
        SetSize("footnotesize");
        Machine.Assign(_leftMargin, 0);
        Machine.Assign(_rightMargin, 0);
        Machine.Assign(_alignment, Alignment.Justified);
        Machine.Assign(_parSkip, default);
        Machine.Assign(_spread, 1);
        Machine.Assign(_parIndent, Dimension.FromPoints(_style.Value.Size));
        List<Block> body = BuildBlocks(text);
        if (body.Count == 0)
        {
            body.Add(new ParagraphBlock([], ParagraphStyleNow(_style.Value.Size)));
        }

        Machine.EndGroup();
        return body;
    }
}
