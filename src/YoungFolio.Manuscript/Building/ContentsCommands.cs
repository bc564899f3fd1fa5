using YoungFolio.Documents;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>Contents and lists of floats.</summary>
internal sealed class ContentsCommands(DocumentBuilder builder) : ReadingFeature(builder)
{
    internal void DefineContents()
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

    internal void AddContentsLine(string list, string level, List<Token> text, Token token)
    {
        List<Inline>? number = null;
        int at = text.FindIndex(t => t.IsCommand("numberline"));
        if (at >= 0)
        {
            Machine.Scan(text.GetRange(at + 1, text.Count - at - 1), () =>
            {
                number = Builder.BuildInlines(Machine.ReadArgument(token));
                text = [];
                for (Token t = Machine.Next(); !t.Is(Category.Stop); t = Machine.Next())
                {
                    text.Add(t);
                }
            });
        }

        List<Inline> title = Builder.BuildInlines(text);
        string anchor = Builder.HeadingCommands.NewAnchor(level);
        if (Builder.Frames.Peek().InlineOnly)
        {
            return;
        }

        // The line leads to where it was asked for, which is most often right below a heading.
        bool afterHeading = Builder.Frames.Peek().AfterHeading;
        Builder.AddBlock(new HeadingBlock
        {
            Level = HeadingCommands.LevelOf(level),
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
        Builder.Frames.Peek().AfterHeading = afterHeading;
    }

    private void Contents(Token token, string kind, string name)
    {
        if (!Builder.DocumentBegun && !Builder.CanPrint(token.Position))
        {
            return;
        }

        string level = Builder.Class.HasChapters ? "chapter" : "section";
        string mark = "\\@mkboth{\\" + name + "}{\\" + name + "}";
        Builder.Execute([.. Builder.HeadingCommands.InternalTokens($"\\{level}*{{\\{name} }}{mark}").Select(t => t.At(token.Position))]);
        if (kind switch { "toc" => Builder.BackMatter.ContentsInContents, "lof" => Builder.BackMatter.FigureListInContents, _ => Builder.BackMatter.TableListInContents })
        {
            AddContentsLine("toc", level, [Token.Command(Machine.Symbol(name), token.Position)], token);
        }

        AddContents(kind);
    }

    private void AddContents(string kind) => Builder.AddBlock(new ContentsBlock
    {
        Kind = kind,
        Depth = Builder.HeadingCommands.ContentsDepth.Value,
        Style = Builder.Style.Value,
        Paragraph = Builder.ParagraphStyleNow(0) with { SpaceAbove = default, Alignment = Alignment.Left },
    });
}
