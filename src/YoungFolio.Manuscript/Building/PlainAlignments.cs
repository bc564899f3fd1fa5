using YoungFolio.Documents;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>
/// Alignments by the language's own primitives (Knuth, <em>The TeXbook</em>, chapter 22): a preamble of templates, then rows that end with <c>\cr</c>.
/// They are read as tables whose columns carry the templates.
/// </summary>
internal sealed class PlainAlignments(DocumentBuilder builder) : ReadingFeature(builder)
{
    // No table of the plain kind is wider; what is, is a slip.
    private const int MostColumns = 60;

    internal void DefineAlignments()
    {
        Machine.Define("halign", (_, t) => ReadAlignment(t));
        Machine.Define("valign", (_, t) => ReadAlignment(t));
        Machine.Define("omit", static (_, _) => { });
        Machine.Define("span", static (_, _) => { });
        Machine.DefineExpandable("multispan", (m, t) =>
        {
            int columns = m.Peek().Is(Category.BeginGroup) ? m.Quantities.ParseInteger(m.ReadArgument(t), t) ?? 1 : m.Quantities.ScanInteger();
            var content = new List<Token>();
            int depth = 0;
            for (Token next = m.Next(); ; next = m.Next())
            {
                depth += next.Is(Category.BeginGroup) ? 1 : next.Is(Category.EndGroup) ? -1 : 0;
                if (next.Is(Category.Stop) || depth < 0 || (depth == 0 && (next.Is(Category.Alignment) || EndsRow(next) || next.IsCommand("end"))))
                {
                    m.PutBack(next);
                    break;
                }

                content.Add(next);
            }

            (List<Token> cell, char alignment) = WithoutFill(content);
            string over = FormattableString.Invariant($"\\multicolumn{{{Math.Clamp(columns, 1, MostColumns)}}}{{@{{}}{alignment}@{{}}}}");
            m.Push([.. m.Tokenize(over, t.Position), .. TokenLists.Braced(cell, t.Position)]);
        });
        Machine.Define("oalign", (_, t) => Overlay(t, false));
        Machine.Define("ooalign", (_, t) => Overlay(t, true));
    }

    private static bool EndsRow(Token token) => token.IsCommand("cr") || token.IsCommand("crcr");

    private void ReadAlignment(Token token)
    {
        if (Machine.Quantities.TakeKeyword("to") || Machine.Quantities.TakeKeyword("spread"))
        {
            Machine.Quantities.ScanDimension();
        }

        List<Token> content = Machine.ReadArgument(token);
        int end = content.FindIndex(EndsRow);
        if (end < 0)
        {
            Findings.Fix("missing-argument", token.Position, token.Length, $"{token} needs a preamble that ends with \\cr.",
                "Write the columns' templates with # in each, then \\cr, then the rows.");
            return;
        }

        List<Token> rows = content.GetRange(end + 1, content.Count - end - 1);
        List<Token> form = Form(content.GetRange(0, end), Columns(rows), token);
        string name = Builder.Formulas.Math is null ? "tabular" : "array";
        Machine.Push(Machine.Input.Tokenize($"\\begin{{{name}}}", [.. TokenLists.Braced(form, token.Position), .. rows], $"\\end{{{name}}}", token.Position));
    }

    // How many cells the longest row has.
    private static int Columns(List<Token> rows)
    {
        int most = 1;
        int now = 1;
        int depth = 0;
        foreach (Token token in rows)
        {
            depth += token.Is(Category.BeginGroup) ? 1 : token.Is(Category.EndGroup) ? -1 : 0;
            now = depth > 0 ? now : EndsRow(token) ? 1 : now + (token.Is(Category.Alignment) ? 1 : 0);
            most = Math.Max(most, now);
        }

        return Math.Min(most, MostColumns);
    }

    // The columns of a table: >{before}c<{after}, with \tabskip's space between them. After two & the templates begin again from there.
    private List<Token> Form(List<Token> preamble, int columns, Token token)
    {
        var templates = new List<List<Token>> { new() };
        int depth = 0;
        int repeatsFrom = -1;
        foreach (Token next in preamble)
        {
            depth += next.Is(Category.BeginGroup) ? 1 : next.Is(Category.EndGroup) ? -1 : 0;
            if (depth > 0 || !next.Is(Category.Alignment))
            {
                templates[^1].Add(next);
            }
            else if (templates[^1].TrueForAll(t => t.Is(Category.Space)))
            {
                repeatsFrom = templates.Count - 1;
            }
            else
            {
                templates.Add([]);
            }
        }

        for (int i = 0; repeatsFrom >= 0 && templates.Count < columns; i++)
        {
            templates.Add(templates[repeatsFrom + i]);
        }

        double skip = Machine.Registers.NamedGlue("tabskip").Value.Width.Points;
        List<Token> form = [.. Between(skip, token)];
        foreach (List<Token> template in templates)
        {
            (List<Token> rest, skip) = TakeSkips(template, skip, token);
            int place = rest.FindIndex(t => t.Is(Category.Parameter));
            (List<Token> before, bool fillsBefore) = Filled(rest.GetRange(0, Math.Max(0, place)));
            (List<Token> after, bool fillsAfter) = Filled(place < 0 ? rest : rest.GetRange(place + 1, rest.Count - place - 1));
            form.AddRange(Machine.Input.Tokenize(">", TokenLists.Braced(before, token.Position), fillsBefore && fillsAfter ? "c<" : fillsBefore ? "r<" : "l<", token.Position));
            form.AddRange([.. TokenLists.Braced(after, token.Position), .. Between(skip, token)]);
        }

        return form;
    }

    private List<Token> Between(double skip, Token token) =>
        [.. Machine.Tokenize(skip == 0 ? "@{}" : FormattableString.Invariant($"@{{\\hskip {skip:0.###}pt\\relax}}"), token.Position)];

    // \tabskip=… in a template holds from behind its column on.
    private (List<Token> Kept, double Skip) TakeSkips(List<Token> template, double skip, Token token)
    {
        int at = template.FindIndex(t => t.IsCommand("tabskip"));
        if (at < 0)
        {
            return (template, skip);
        }

        var rest = template.GetRange(0, at);
        Machine.Scan([.. template.Skip(at + 1), Token.Command(Machine.Symbol("relax"), token.Position)], () =>
        {
            Machine.Assignments.TakeEquals();
            skip = Machine.Quantities.ScanGlue().Width.Points;
            for (Token next = Machine.Next(); !next.Is(Category.Stop); next = Machine.Next())
            {
                rest.Add(next);
            }
        });
        return TakeSkips(rest, skip, token);
    }

    private static (List<Token> Kept, bool Fills) Filled(List<Token> tokens)
    {
        List<Token> rest = TokenLists.TrimSpaces([.. tokens.Where(t => !IsFill(t))]);
        return (rest, tokens.Exists(IsFill));
    }

    private static bool IsFill(Token token) => token.Symbol?.Name is "hfil" or "hfill" or "hss";

    private static (List<Token> Cell, char Alignment) WithoutFill(List<Token> content)
    {
        int first = content.FindIndex(t => !t.Is(Category.Space));
        int last = content.FindLastIndex(t => !t.Is(Category.Space));
        bool before = first >= 0 && IsFill(content[first]);
        bool after = last >= 0 && IsFill(content[last]);
        return (Filled(content).Kept, before && after ? 'c' : before ? 'r' : 'l');
    }

    // \ooalign prints its lines over one another, \oalign below one another; \hfil centres one.
    private void Overlay(Token token, bool isOver)
    {
        var parts = new List<DrawingPart>();
        var lines = new List<(List<Inline> Content, Extent Extent, bool Fills)>();
        var line = new List<Token>();
        foreach (Token next in Machine.ReadArgument(token))
        {
            if (!EndsRow(next))
            {
                line.Add(next);
                continue;
            }

            Close();
        }

        Close();
        double width = lines.Select(l => l.Extent.Width).DefaultIfEmpty().Max();
        double y = 0;
        for (int i = 0; i < lines.Count; i++)
        {
            (List<Inline> content, Extent extent, bool fills) = lines[i];
            y -= isOver || i == 0 ? 0 : lines[i - 1].Extent.Depth + extent.Height + 1;
            parts.Add(new DrawnText(fills ? (width - extent.Width) / 2 : 0, y, content));
        }

        Builder.Boxes.AddBoxed(new DrawingInline(parts) { Width = width, Height = lines.Select(l => l.Extent.Height).DefaultIfEmpty().Max() }, token);

        void Close()
        {
            (List<Token> rest, bool fills) = Filled(line);
            line = [];
            if (rest.Count > 0)
            {
                List<Inline> built = Builder.BuildInlines(rest);
                lines.Add((built, Builder.Boxes.Measure(built), fills));
            }
        }
    }
}
