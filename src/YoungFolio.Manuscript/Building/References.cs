using YoungFolio.Manuscript.Tree;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

// Labels, references, footnotes, links.
public sealed partial class DocumentBuilder
{
    private readonly Dictionary<string, Label> _labels = new(StringComparer.Ordinal);
    private readonly List<LabelUse> _labelUses = [];
    private int _footnotes;

    private void DefineReferences()
    {
        Machine.Define("label", (m, t) => ReadLabel(t));
        Machine.Define("ref", (m, t) => Reference(t, ReferenceKind.Number, false));
        Machine.Define("pageref", (m, t) => Reference(t, ReferenceKind.Page, false));
        Machine.Define("refstepcounter", (m, t) =>
        {
            string name = m.ReadText(t);
            m.StepCounter(name, t);
            StartLabel(name, t);
        });
        Machine.Define("footnote", (_, t) => Footnote(t));
        Machine.Define("footnotemark", (m, t) =>
        {
            List<Inline> mark = FootnoteNumber(t, m.ReadOptional(t));
            AddInline(new NoteInline(mark, null, t.Position));
        });
        Machine.Define("footnotetext", (m, t) =>
        {
            List<Inline> mark = m.ReadOptional(t) is { } number ? Raised(number) : Raised(TheFootnote(t));
            AddInline(new NoteInline(mark, FootnoteBody(m.ReadArgument(t)), t.Position) { PrintsMark = false });
        });
    }

    /// <summary>Makes what <c>\label</c> names from here on.</summary>
    private string StartLabel(string counter, Token token)
    {
        List<Token> the = [.. Machine.Tokenize("\\the" + counter + " ", token.Position)];
        the.RemoveAll(t => t.Is(Category.Space));
        string anchor = NewAnchor(counter);
        Machine.Assign(_currentLabel, new CurrentLabel(counter, Machine.ExpandToText(the).Trim(), anchor));
        return anchor;
    }

    private void ReadLabel(Token token)
    {
        List<Token> argument = Machine.ReadArgument(token);
        string key = Machine.ExpandToText(argument).Trim();
        int length = NameLength(token, argument);
        if (key.Length == 0)
        {
            return;
        }

        CurrentLabel current = _currentLabel.Value ?? new CurrentLabel("page", null, NewAnchor("page"));
        if (_currentLabel.Value is null)
        {
            AddInline(new AnchorInline(current.Anchor));
        }

        if (_labels.TryGetValue(key, out Label? other))
        {
            SourceLocation? first = Machine.Positions.Locate(other.Position);
            Findings.Check("doubled-label", token.Position, length, $"The label “{key}” is defined twice.",
                $"It was defined first in {first?.Part}, line {first?.Line}; references lead there. Give this one another key.");
            return;
        }

        if (_floatKind.Value.Length > 0 && current.Kind != _floatKind.Value && _math is null)
        {
            Findings.Check("label-before-caption", token.Position, length,
                $"The label “{key}” stands before its \\caption, so it gets the section's number.",
                "Put \\label after \\caption.");
        }

        _labels.Add(key, new Label(key, current.Kind, current.Number, current.Anchor, token.Position, length));
    }

    private void Reference(Token token, ReferenceKind kind, bool parentheses)
    {
        Machine.TakeStar();
        List<Token> argument = Machine.ReadArgument(token);
        string key = Machine.ExpandToText(argument).Trim();
        int length = NameLength(token, argument);
        _labelUses.Add(new LabelUse(key, token.Position, length));
        var reference = new ReferenceInline(key, kind, _style.Value, token.Position, length);
        if (parentheses)
        {
            AddText("(", token.Position);
        }

        AddInline(reference);
        if (parentheses)
        {
            AddText(")", token.Position);
        }
    }

    private void Footnote(Token token)
    {
        List<Inline> mark = FootnoteNumber(token, Machine.ReadOptional(token));
        List<Token> text = Machine.ReadArgument(token);
        AddInline(new NoteInline(mark, FootnoteBody(text), token.Position));
    }

    private List<Inline> FootnoteNumber(Token token, List<Token>? given)
    {
        if (given is not null)
        {
            return Raised(given);
        }

        Machine.StepCounter("footnote", token);
        List<Token> the = TheFootnote(token);
        return Raised(the);
    }

    private List<Token> TheFootnote(Token token)
    {
        List<Token> the = [.. Machine.Tokenize("\\thefootnote ", token.Position)];
        the.RemoveAll(t => t.Is(Category.Space));
        return the;
    }

    private List<Inline> Raised(List<Token> tokens)
    {
        Machine.BeginGroup(GroupKind.Command, "", Machine.CurrentPosition);
        TextStyle style = _style.Value;
        Machine.Assign(_style, new TextStyle(FontFamily.Roman, false, FontShape.Upright, style.Size * 0.7, 0.36 * style.Size));
        List<Inline> result = BuildInlines(tokens);
        Machine.EndGroup();
        return result;
    }

    private List<Block> FootnoteBody(List<Token> text)
    {
        _footnotes++;
        Machine.BeginGroup(GroupKind.Command, "", Machine.CurrentPosition);
        Machine.Assign(_style, new TextStyle(FontFamily.Roman, false, FontShape.Upright, _style.Value.Size));
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
