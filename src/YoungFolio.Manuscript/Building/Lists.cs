using YoungFolio.Manuscript.Tree;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

// Lists, quotations, and text that is centred or flush at one side.
public sealed partial class DocumentBuilder
{
    // Left margins of the four depths in em, and spaces in points (from memory of Lamport's classes, 10pt).
    private static readonly double[] s_listMargins = [2.5, 2.2, 1.87, 1.7, 1, 1];
    private static readonly double[] s_listSpaces = [8, 4, 2, 2, 2, 2];
    private static readonly string[] s_roman = ["i", "ii", "iii", "iv"];

    private readonly Stack<ListState> _lists = new();

    private sealed record ListState(string Kind, string Counter, string LabelMacro, double ItemSpace)
    {
        public bool Begun { get; set; }
    }

    private void DefineLists()
    {
        DefineEnvironment("itemize", t => BeginList(t, "itemize"), _ => EndList());
        DefineEnvironment("enumerate", t => BeginList(t, "enumerate"), _ => EndList());
        DefineEnvironment("description", t => BeginList(t, "description"), _ => EndList());
        Machine.Define("item", (_, t) => Item(t));
        DefineEnvironment("quote", _ => BeginQuote(0), _ => EndDisplayText());
        DefineEnvironment("quotation", _ => BeginQuote(1.5), _ => EndDisplayText());
        DefineEnvironment("verse", _ => BeginQuote(0), _ => EndDisplayText());
        DefineEnvironment("center", _ => BeginAligned(Alignment.Centre), _ => EndDisplayText());
        DefineEnvironment("flushleft", _ => BeginAligned(Alignment.Left), _ => EndDisplayText());
        DefineEnvironment("flushright", _ => BeginAligned(Alignment.Right), _ => EndDisplayText());
        Machine.Define("centering", (m, _) => m.Assign(_alignment, Alignment.Centre));
        Machine.Define("raggedright", (m, _) => m.Assign(_alignment, Alignment.Left));
        Machine.Define("raggedleft", (m, _) => m.Assign(_alignment, Alignment.Right));
    }

    private void BeginList(Token token, string kind)
    {
        EndParagraph();
        OpenFrame();
        int depth = _lists.Count;
        int own = _lists.Count(l => l.Kind == kind);
        if (depth >= 6 || (kind != "description" && own >= 4))
        {
            Findings.Fix("list-too-deep", token.Position, token.Length, $"Lists of this kind go four deep; this is one more.",
                "End a list before this one, or use plain paragraphs.");
            own = Math.Min(own, 3);
        }

        string numeral = s_roman[Math.Min(own, 3)];
        string counter = kind == "enumerate" ? "enum" + numeral : "";
        string label = kind switch { "itemize" => "labelitem" + numeral, "enumerate" => "labelenum" + numeral, _ => "" };
        if (counter.Length > 0)
        {
            Machine.Assign(Machine.Counter(counter)!, 0, true);
        }

        double margin = s_listMargins[Math.Min(depth, 5)] * _style.Value.Size;
        Machine.Assign(_leftMargin, _leftMargin.Value + margin);
        Machine.Assign(_parIndent, default);
        double space = s_listSpaces[Math.Min(depth, 5)] / 2;
        Machine.Assign(_parSkip, Glue.Of(space, 1, 1));
        Machine.Assign(_alignment, Alignment.Justified);
        _lists.Push(new ListState(kind, counter, label, space));
    }

    private void EndList()
    {
        if (_frames.Count < 2 || _lists.Count == 0)
        {
            return;
        }

        ListState list = _lists.Pop();
        BlockFrame frame = CloseFrame();
        AddBlock(new GroupBlock(frame.Blocks) { SpaceAround = Glue.Of(list.ItemSpace * 2, 2, 2) });
        _frames.Peek().Continues = true;
    }

    private void Item(Token token)
    {
        List<Token>? own = Machine.ReadOptional(token);
        if (_lists.Count == 0 || _frames.Peek().InlineOnly)
        {
            Findings.Fix("item-outside-list", token.Position, token.Length, "\\item belongs in a list, and there is none here.",
                "Put \\begin{itemize} before it and \\end{itemize} after the last one.");
            return;
        }

        ListState list = _lists.Peek();
        EndParagraph();
        BlockFrame frame = _frames.Peek();
        if (list.Counter.Length > 0 && own is null)
        {
            Machine.StepCounter(list.Counter, token);
            List<Token> the = [.. Machine.Tokenize("\\the" + list.Counter + " ", token.Position)];
            the.RemoveAll(t => t.Is(Category.Space));
            string anchor = NewAnchor("item");
            Machine.Assign(_currentLabel, new CurrentLabel("item", Machine.ExpandToText(the).Trim(), anchor));
        }

        List<Token> tokens = own ?? [.. Machine.Tokenize("\\" + list.LabelMacro + " ", token.Position)];
        if (own is null && list.LabelMacro.Length == 0)
        {
            tokens = [];
        }

        Machine.BeginGroup(GroupKind.Command, "", token.Position);
        if (list.Kind == "description")
        {
            Machine.Assign(_style, _style.Value with { Bold = true });
        }

        List<Inline> label = BuildInlines(tokens);
        Machine.EndGroup();
        frame.Label = label;
        frame.LabelSpace = list.Begun ? Glue.Of(list.ItemSpace * 1.5, 2, 1) : default;
        list.Begun = true;
        frame.AfterHeading = false;
        if (list.Counter.Length > 0 && own is null)
        {
            Paragraph().Add(new AnchorInline(_currentLabel.Value!.Anchor));
        }

        Machine.SkipSpaces();
    }

    private void BeginQuote(double indent)
    {
        EndParagraph();
        OpenFrame();
        double margin = 2.5 * _style.Value.Size;
        Machine.Assign(_leftMargin, _leftMargin.Value + margin);
        Machine.Assign(_rightMargin, _rightMargin.Value + margin);
        Machine.Assign(_parIndent, Dimension.FromPoints(indent * _style.Value.Size));
        Machine.Assign(_alignment, Alignment.Justified);
    }

    private void BeginAligned(Alignment alignment)
    {
        EndParagraph();
        OpenFrame();
        Machine.Assign(_alignment, alignment);
        Machine.Assign(_parIndent, default);
    }

    private void EndDisplayText()
    {
        if (_frames.Count < 2)
        {
            return;
        }

        BlockFrame frame = CloseFrame();
        AddBlock(new GroupBlock(frame.Blocks) { SpaceAround = Glue.Of(8, 2, 4) });
        _frames.Peek().Continues = true;
    }
}
