using YoungFolio.Documents;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>Footnotes and notes in the margin.</summary>
internal sealed class NoteCommands(DocumentBuilder builder) : ReadingFeature(builder)
{
    internal Stack<List<Block>> MiniNotes { get; } = new();
    internal int Footnotes { get; set; }

    internal void DefineNotes()
    {
        Machine.Counters.Add("mpfootnote");
        Machine.Definitions.DefineMacro("thempfootnote", "{\\itshape\\alph{mpfootnote}}");
        Machine.Define("footnote", (_, t) => Footnote(t));
        Machine.Define("footnotemark", (m, t) => AddNoteMark(Raised(FootnoteMark(t, m.ReadOptional(t), "footnote")), t));
        Machine.Define("footnotetext", (m, t) =>
        {
            List<Token> mark = m.ReadOptional(t) is { } number ? FootnoteNumberTokens("footnote", number, t) : [Builder.HeadingCommands.TheOf("footnote", t.Position)];
            AddNote(MakeNote(Raised(mark), mark, m.ReadArgument(t), t) with { PrintsMark = false });
        });
        Machine.Define("marginpar", (m, t) =>
        {
            // The optional text for left-hand pages isn't needed: one note stands on either side.
            m.ReadOptional(t);
            AddMarginNote(BuildMarginNote(m.ReadArgument(t)));
        });
        Machine.Define("reversemarginpar", static (_, _) => { });
        Machine.Define("normalmarginpar", static (_, _) => { });
        Machine.Definitions.DefineMacro("footnoterule", "\\hrule");
        Machine.Define("@notetext", (_, _) => Builder.AddInline(new AnchorInline(TextBegins)));
        _standardLayout = Machine.Symbol("@makefntext").Meaning.Value;
    }

    // Where the text of a note begins within what \@makefntext makes of it.
    private const string TextBegins = "text of a note";

    private Meaning? _standardLayout;

    /// <summary>Whether a rule stands above the notes: not where <c>\footnoterule</c> was redefined to print nothing.</summary>
    internal bool HasNoteRule => Builder.Titles.Kept("footnoterule") is not { } rule || rule.Exists(static t => !t.Is(Category.Space) && !t.IsCommand("relax"));

    /// <summary>Adds a note that has no mark.</summary>
    internal void AddUnmarked(List<Token> text, Token token) => AddNote(new NoteInline([], FootnoteBody(text), token.Position) { PrintsMark = false });

    /// <summary>Builds a note for the margin, in small type.</summary>
    internal List<Block> BuildMarginNote(List<Token> text)
    {
        Machine.BeginGroup(GroupKind.Command, "", Machine.Input.CurrentPosition);
        Machine.Assign(Builder.Style, Builder.TypefaceCommands.PlainStyle(Builder.Style.Value.Size));
        Builder.Text.SetSize("footnotesize");
        Builder.Boxes.EnterColumn(Builder.PageMeasures.Geometry?.MarginWidth ?? 60);
        Machine.Assign(Builder.TextAlignment, Alignment.Left);
        List<Block> note = Builder.BuildBlocks(text);
        Machine.EndGroup();
        return note;
    }

    /// <summary>Puts a note into the margin beside this line.</summary>
    internal void AddMarginNote(List<Block> note)
    {
        if (!Builder.Frames.Peek().InlineOnly || Builder.Recursion == 0)
        {
            Builder.AddInline(new MarginInline(note));
        }
    }

    internal void Footnote(Token token)
    {
        bool small = MiniNotes.Count > 0 && Builder.Boxes.Minipages.Count > 0;
        string counter = small ? "mpfootnote" : "footnote";
        List<Token> number = FootnoteMark(token, Machine.ReadOptional(token), counter);
        List<Inline> mark = Raised(number);
        List<Token> text = Machine.ReadArgument(token);
        Machine.BeginGroup(GroupKind.Command, "", token.Position);
        string anchor = Builder.References.StartLabel(counter, token, null, "footnote");
        NoteInline note = MakeNote(mark, number, text, token);
        Machine.EndGroup();
        if (small)
        {
            AddNoteMark(mark, token);
            MiniNotes.Peek().AddRange(note.Body!.Select((b, i) => i == 0 && b is ParagraphBlock p
                ? new ParagraphBlock([.. note.FootMark!, new AnchorInline(anchor), new SpaceInline(Glue.Of(1.5), false), .. p.Content], p.Style) : b));
        }
        else
        {
            Builder.AddInline(new AnchorInline(anchor));
            AddNote(note);
        }
    }

    // A manuscript, a class or a package may say itself how a note's text stands beside its mark (\@makefntext).
    private NoteInline MakeNote(List<Inline> mark, List<Token> number, List<Token> text, Token token)
    {
        Symbol layout = Machine.Symbol("@makefntext");
        if (layout.Meaning.Value == _standardLayout)
        {
            return new NoteInline(mark, FootnoteBody(text), token.Position) { FootMark = RaisedAtFoot(number) };
        }

        Machine.BeginGroup(GroupKind.Command, "", token.Position);
        Machine.Assign(Machine.Symbol("@thefnmark").Meaning, new MacroMeaning { Pattern = [], Body = [.. number], Arity = 0 });
        List<Block> body = FootnoteBody([Token.Command(layout, token.Position), .. TokenLists.Braced([Token.Command(Machine.Symbol("@notetext"), token.Position), .. text], token.Position)]);
        Machine.EndGroup();
        var first = (ParagraphBlock)body[0];
        int at = first.Content.Select((inline, i) => inline is AnchorInline { Name: TextBegins } ? i : -1).FirstOrDefault(i => i >= 0, -1);
        body[0] = first with { Content = [.. first.Content.Skip(at + 1)] };
        return new NoteInline(mark, body, token.Position) { FootMark = [.. first.Content.Take(at)], MarkWidth = null };
    }

    // A cell has no foot of its own: its notes stand below the page that the table, or the row, is on.
    private void AddNote(NoteInline note)
    {
        if (Builder.Tables.Tables.TryPeek(out TableReader.TableState? table) && table.Cell is not null)
        {
            Builder.AddInline(new NoteInline(note.Mark, null, note.Position) { PrintsMark = note.PrintsMark });
            table.Notes.Add(note with { PrintsMark = false });
            return;
        }

        if (_titleNotes is not null)
        {
            Builder.AddInline(new NoteInline(note.Mark, null, note.Position) { PrintsMark = note.PrintsMark });
            _titleNotes.Add(note with { PrintsMark = false });
            return;
        }

        Builder.AddInline(note);
    }

    // Notes of the title that is being made: its parts stand in boxes, which have no foot.
    private List<NoteInline>? _titleNotes;

    /// <summary>Begins to gather notes of a title.</summary>
    internal void BeginTitle() => _titleNotes = [];

    /// <summary>Ends a title.</summary>
    /// <returns>Its notes, to be put onto its page.</returns>
    internal IReadOnlyList<Block> EndTitle()
    {
        List<NoteInline> notes = _titleNotes ?? [];
        _titleNotes = null;
        return notes.Count == 0 ? [] : [new NotesBlock(notes)];
    }

    private void AddNoteMark(List<Inline> mark, Token token) => Builder.Boxes.AddBoxed(new NoteInline(mark, null, token.Position), token);

    private List<Token> FootnoteMark(Token token, List<Token>? given, string counter)
    {
        if (given is not null)
        {
            return FootnoteNumberTokens(counter, given, token);
        }

        Machine.Counters.Step(counter, token);
        return [Builder.HeadingCommands.TheOf(counter, token.Position)];
    }

    // A number given by hand prints as the counter would print it.
    private List<Token> FootnoteNumberTokens(string counter, List<Token> number, Token token)
    {
        Scoped<int> register = Machine.Counters.Find(counter)!;
        if (!int.TryParse(Machine.ExpandToText(number).Trim(), out int value))
        {
            return number;
        }

        int before = register.Value;
        Machine.Assign(register, value, true);
        string text = Machine.ExpandToText([Builder.HeadingCommands.TheOf(counter, token.Position)]);
        Machine.Assign(register, before, true);
        return [.. text.Select(c => Token.Character(c, Category.Other, token.Position))];
    }

    private List<Inline> Raised(List<Token> tokens)
    {
        Machine.BeginGroup(GroupKind.Command, "", Machine.Input.CurrentPosition);
        TextStyle style = Builder.Style.Value;
        Machine.Assign(Builder.Style, Builder.TypefaceCommands.PlainStyle(style.Size * 0.7) with { Rise = 0.36 * style.Size });
        List<Inline> result = Builder.BuildInlines(tokens);
        Machine.EndGroup();
        return result;
    }

    // Whatever the size of the words that have the note, its own mark is as small as its text.
    private List<Inline> RaisedAtFoot(List<Token> tokens)
    {
        Machine.BeginGroup(GroupKind.Command, "", Machine.Input.CurrentPosition);
        Builder.Text.SetSize("footnotesize");
        List<Inline> result = Raised(tokens);
        Machine.EndGroup();
        return result;
    }

    private List<Block> FootnoteBody(List<Token> text)
    {
        Footnotes++;
        Machine.BeginGroup(GroupKind.Command, "", Machine.Input.CurrentPosition);
        Machine.Assign(Builder.Style, Builder.TypefaceCommands.PlainStyle(Builder.Style.Value.Size));
        Builder.Text.SetSize("footnotesize");
        Machine.Assign(Builder.LeftMargin, 0);
        Machine.Assign(Builder.RightMargin, 0);
        Machine.Assign(Builder.TextAlignment, Alignment.Justified);
        Machine.Assign(Builder.Text.ParSkip, default);
        Machine.Assign(Builder.Spread, 1);
        Machine.Assign(Builder.Text.ParIndent, Dimension.FromPoints(Builder.Style.Value.Size));
        List<Block> body = Builder.BuildBlocks(text);
        if (body is not [ParagraphBlock, ..])
        {
            // The mark stands in a line of its own above a list and its like.
            body.Insert(0, new ParagraphBlock([], Builder.ParagraphStyleNow(Builder.Style.Value.Size)));
        }

        Machine.EndGroup();
        return body;
    }
}
