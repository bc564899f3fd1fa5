using YoungFolio.Manuscript.Tree;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

// Contents and lists of floats.
public sealed partial class DocumentBuilder
{
    private void DefineContents()
    {
        Machine.Define("tableofcontents", (_, t) => Contents(t, "toc", "contentsname"));
        Machine.Define("listoffigures", (_, t) => Contents(t, "lof", "listfigurename"));
        Machine.Define("listoftables", (_, t) => Contents(t, "lot", "listtablename"));
        Machine.Define("addcontentsline", (m, t) =>
        {
            string list = m.ReadText(t);
            string level = m.ReadText(t);
            AddContentsLine(list, level, m.ReadArgument(t), t);
        });
        Machine.Define("addtocontents", (m, t) =>
        {
            m.ReadText(t);
            m.ReadArgument(t);
        });
        Machine.Define("numberline", (_, t) => Machine.ReadArgument(t));
        Machine.Define("@starttoc", (m, t) => AddContents(m.ReadText(t)));
    }

    private void AddContentsLine(string list, string level, List<Token> text, Token token)
    {
        List<Inline>? number = null;
        int at = text.FindIndex(t => t.IsCommand("numberline"));
        if (at >= 0)
        {
            Machine.Scan(text.GetRange(at + 1, text.Count - at - 1), () =>
            {
                number = BuildInlines(Machine.ReadArgument(token));
                text = [];
                for (Token t = Machine.Next(); !t.Is(Category.Stop); t = Machine.Next())
                {
                    text.Add(t);
                }
            });
        }

        List<Inline> title = BuildInlines(text);
        string anchor = NewAnchor(level);
        if (_frames.Peek().InlineOnly)
        {
            return;
        }

        // The line leads to where it was asked for, which is most often right below a heading.
        bool afterHeading = _frames.Peek().AfterHeading;
        AddBlock(new HeadingBlock
        {
            Level = LevelOf(level),
            Number = null,
            ContentsNumber = number,
            ShortTitle = title,
            Anchor = anchor,
            Position = token.Position,
            IsListed = true,
            IsInOutline = false,
            Lines = [],
            SpaceAbove = default,
            SpaceBelow = default,
            List = list,
        });
        _frames.Peek().AfterHeading = afterHeading;
    }

    private void Contents(Token token, string kind, string name)
    {
        if (!_documentBegun && !CanPrint(token.Position))
        {
            return;
        }

        string level = Class.HasChapters ? "chapter" : "section";
        string mark = "\\@mkboth{\\" + name + "}{\\" + name + "}";
        Execute([.. InternalTokens($"\\{level}*{{\\{name} }}{mark}").Select(t => t.At(token.Position))]);
        if (kind switch { "toc" => ContentsInContents, "lof" => FigureListInContents, _ => TableListInContents })
        {
            AddContentsLine("toc", level, [Token.Command(Machine.Symbol(name), token.Position)], token);
        }

        AddContents(kind);
    }

    private void AddContents(string kind) => AddBlock(new ContentsBlock
    {
        Kind = kind,
        Depth = _contentsDepth.Value,
        Style = _style.Value,
        Paragraph = ParagraphStyleNow(0) with { SpaceAbove = default, Alignment = Alignment.Left },
    });
}
