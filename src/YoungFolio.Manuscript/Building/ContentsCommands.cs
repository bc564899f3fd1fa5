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
        Machine.Define("addtocontents", (m, t) => AddToContents(m.ReadText(t), m.ReadArgument(t)));
        Machine.Define("@starttoc", (m, t) => AddContents(m.ReadText(t)));
        // The list of what one is in, as \toc@local{toc}{0}{2} has it: which list, the level of what one is in, and the deepest level listed.
        Machine.Define("toc@local", (m, t) => AddContents(m.ReadText(t), m.Quantities.ParseInteger(m.ReadArgument(t), t), m.Quantities.ParseInteger(m.ReadArgument(t), t)));
        Machine.Define("toc@listed", (m, t) => ListItself(m.ReadText(t), t));
        foreach (EntryPart part in Enum.GetValues<EntryPart>())
        {
            Machine.Define(NameOf(part), (_, _) => Builder.AddInline(new EntryPartInline(part, Builder.Style.Value)));
        }
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
        ListItself(kind, token);
        AddContents(kind);
    }

    // The contents and lists of floats are lines of the contents where the manuscript wishes it.
    private void ListItself(string kind, Token token)
    {
        (bool isListed, string name) = kind switch
        {
            "toc" => (Builder.BackMatter.ContentsInContents, "contentsname"),
            "lof" => (Builder.BackMatter.FigureListInContents, "listfigurename"),
            "lot" => (Builder.BackMatter.TableListInContents, "listtablename"),
            _ => (false, ""),
        };
        if (isListed)
        {
            AddContentsLine("toc", Builder.Class.HasChapters ? "chapter" : "section", [Token.Command(Machine.Symbol(name), token.Position)], token);
        }
    }

    private void AddContents(string kind, int? within = null, int? depth = null) => Builder.AddBlock(new ContentsBlock
    {
        Kind = kind,
        Depth = depth ?? Builder.HeadingCommands.ContentsDepth.Value,
        Style = Builder.Style.Value,
        Forms = kind == "toc"
            ? [.. s_levels.SelectMany((name, i) => FormsOf(i - 1, name))]
            : [.. FormsOf(1, EntryOf(kind))],
        Within = within,
    });

    // From the outermost level, −1.
    private static readonly string[] s_levels = ["part", "chapter", "section", "subsection", "subsubsection", "paragraph", "subparagraph"];

    // What a list is of: \toc@entry@EXT says it for a list of one's own.
    private string EntryOf(string kind) => kind switch
    {
        "lof" => "figure",
        "lot" => "table",
        _ => Machine.IsDefined("toc@entry@" + kind) ? Machine.ExpandToText([Token.Command(Machine.Symbol("toc@entry@" + kind), PositionTable.None)]) : "figure",
    };

    private static string NameOf(EntryPart part) => "toc@" + part.ToString().ToLowerInvariant() + "@here";

    // What \l@section and kin make of an entry, with and without a number. Which levels are listed is asked for each entry, not here.
    private IEnumerable<ContentsForm> FormsOf(int level, string name)
    {
        if (!Machine.IsDefined("l@" + name))
        {
            yield break;
        }

        foreach (bool isNumbered in (bool[])[true, false])
        {
            string number = !isNumbered ? "" : level < 0 ? $"\\{NameOf(EntryPart.Number)}\\hspace{{1em}}" : $"\\numberline{{\\{NameOf(EntryPart.Number)}}}";
            Token[] entry = [.. Builder.HeadingCommands.InternalTokens($"\\contentsline{{{name}}}{{{number}\\{NameOf(EntryPart.Title)}}}{{\\{NameOf(EntryPart.Page)}}}")];
            Machine.BeginGroup(GroupKind.Command, "", Machine.Input.CurrentPosition);
            Machine.Assign(Builder.TextAlignment, Alignment.Justified);
            if (Machine.IsDefined("toc@tight"))
            {
                Machine.Assign(Builder.Text.ParSkip, default);
            }

            Machine.Assign(Builder.HeadingCommands.ContentsDepth, int.MaxValue);
            List<Block> lines = Builder.BuildBlocks(entry);
            Machine.EndGroup();
            yield return new ContentsForm(level, isNumbered, lines);
        }
    }

    private void AddToContents(string list, List<Token> tokens)
    {
        if (Builder.Frames.Peek().InlineOnly)
        {
            return;
        }

        Scoped<int> depth = Builder.HeadingCommands.ContentsDepth;
        // Whether it was set is what counts: to what it was at first brings back what another one left out.
        int before = depth.Value;
        Machine.Assign(depth, int.MinValue, true);
        List<Block> lines = Builder.BuildBlocks(tokens);
        int after = depth.Value;
        Machine.Assign(depth, before, true);
        bool afterHeading = Builder.Frames.Peek().AfterHeading;
        Builder.AddBlock(new ContentsInsertBlock(list, lines, after == int.MinValue ? null : after));
        Builder.Frames.Peek().AfterHeading = afterHeading;
    }
}
