using System.Globalization;
using YoungFolio.Manuscript.Building;
using YoungFolio.Manuscript.Packages;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Diagrams;

/// <summary>
/// Reads the environment tikzcd: cells parted by &amp;, arrows by \arrow and \ar with keys in brackets, labels in quotes (tikz-cd's documentation, from memory).
/// </summary>
internal static class KeyedDiagram
{
    private static readonly Dictionary<string, double> s_columns = new(StringComparer.Ordinal)
    {
        ["tiny"] = 0.6, ["scriptsize"] = 0.6, ["small"] = 1.2, ["normal"] = 2.4, ["large"] = 3.6, ["huge"] = 4.8,
    };

    // What a key changes in an arrow.
    private static readonly Dictionary<string, Func<DiagramArrow, DiagramArrow>> s_keys = new(StringComparer.Ordinal)
    {
        ["rightarrow"] = static a => a,
        ["to"] = static a => a,
        ["leftarrow"] = static a => a with { Start = ArrowTip.Head, End = ArrowTip.None },
        ["leftrightarrow"] = static a => a with { Start = ArrowTip.Head, End = ArrowTip.Head },
        ["Rightarrow"] = static a => a with { Line = ArrowLine.Double },
        ["Leftarrow"] = static a => a with { Line = ArrowLine.Double, Start = ArrowTip.Head, End = ArrowTip.None },
        ["Leftrightarrow"] = static a => a with { Line = ArrowLine.Double, Start = ArrowTip.Head, End = ArrowTip.Head },
        ["equal"] = static a => a with { Line = ArrowLine.Double, End = ArrowTip.None },
        ["equals"] = static a => a with { Line = ArrowLine.Double, End = ArrowTip.None },
        ["dash"] = static a => a with { End = ArrowTip.None },
        ["no head"] = static a => a with { End = ArrowTip.None },
        ["no tail"] = static a => a with { Start = ArrowTip.None },
        ["-"] = static a => a with { End = ArrowTip.None },
        ["two heads"] = static a => a with { End = ArrowTip.TwoHeads },
        ["twoheadrightarrow"] = static a => a with { End = ArrowTip.TwoHeads },
        ["hook"] = static a => a with { Start = ArrowTip.Hook },
        ["hook'"] = static a => a with { Start = ArrowTip.HookRight },
        ["hookrightarrow"] = static a => a with { Start = ArrowTip.Hook },
        ["hookleftarrow"] = static a => a with { Start = ArrowTip.Head, End = ArrowTip.Hook },
        ["tail"] = static a => a with { Start = ArrowTip.Tail },
        ["rightarrowtail"] = static a => a with { Start = ArrowTip.Tail },
        ["maps to"] = static a => a with { Start = ArrowTip.Bar },
        ["mapsto"] = static a => a with { Start = ArrowTip.Bar },
        ["harpoon"] = static a => a with { End = ArrowTip.Harpoon },
        ["harpoon'"] = static a => a with { End = ArrowTip.HarpoonRight },
        ["rightharpoonup"] = static a => a with { End = ArrowTip.Harpoon },
        ["rightharpoondown"] = static a => a with { End = ArrowTip.HarpoonRight },
        ["dashed"] = static a => a with { Line = ArrowLine.Dashed },
        ["dashrightarrow"] = static a => a with { Line = ArrowLine.Dashed },
        ["densely dashed"] = static a => a with { Line = ArrowLine.Dashed },
        ["dotted"] = static a => a with { Line = ArrowLine.Dotted },
        ["densely dotted"] = static a => a with { Line = ArrowLine.Dotted },
        ["squiggly"] = static a => a with { Line = ArrowLine.Waves },
        ["rightsquigarrow"] = static a => a with { Line = ArrowLine.Waves },
        ["phantom"] = static a => a with { Line = ArrowLine.Hidden },
        ["draw=none"] = static a => a with { Line = ArrowLine.Hidden },
        ["bend left"] = static a => a with { Bend = 30 },
        ["bend right"] = static a => a with { Bend = -30 },
    };

    /// <summary>The diagram that an environment holds.</summary>
    /// <param name="options">What stands in its brackets, or null.</param>
    /// <param name="body">What stands between its begin and its end.</param>
    /// <param name="builder">Knows colours and lengths.</param>
    /// <param name="token">Where it begins.</param>
    public static Diagram Read(IReadOnlyList<Token>? options, IReadOnlyList<Token> body, DocumentBuilder builder, Token token)
    {
        (double columns, double rows) = (2.4, 1.8);
        foreach (string option in TokenLists.SplitAtCommas(options ?? []).Select(o => o.ToSource().Trim()))
        {
            (string key, string value) = Parted(option);
            double gap = s_columns.TryGetValue(value, out double named) ? named : builder.Machine.Quantities.ParseGlue(builder.Machine.Tokenize(value, token.Position), token)?.Width.Points / builder.Style.Value.Size ?? 2.4;
            columns = key is "column sep" ? gap : key is "sep" ? gap : columns;
            rows = key is "row sep" or "sep" ? (s_columns.ContainsKey(value) ? gap * 0.75 : gap) : rows;
        }

        return Diagram.Read(body, (cell, place, arrows) => ReadCell(cell, place, arrows, builder), columns, rows);
    }

    // The formula of a cell; its arrows are taken out.
    private static List<Token> ReadCell(List<Token> cell, (int Row, int Column) place, List<DiagramArrow> arrows, DocumentBuilder builder)
    {
        var formula = new List<Token>();
        for (int i = 0; i < cell.Count; i++)
        {
            if (!cell[i].IsCommand("arrow") && !cell[i].IsCommand("ar"))
            {
                formula.Add(cell[i]);
                continue;
            }

            int open = i + 1;
            while (open < cell.Count && cell[open].Is(Category.Space))
            {
                open++;
            }

            if (open >= cell.Count || !cell[open].IsCharacter('['))
            {
                continue;
            }

            int close = Close(cell, open);
            arrows.Add(ReadArrow(cell.GetRange(open + 1, close - open - 1), new DiagramArrow(place, place, cell[i]), builder));
            i = close;
        }

        return formula;
    }

    // The bracket that closes one, past labels in quotes and groups.
    private static int Close(List<Token> tokens, int open)
    {
        int depth = 0;
        bool quoted = false;
        for (int i = open + 1; i < tokens.Count; i++)
        {
            depth += tokens[i].Is(Category.BeginGroup) ? 1 : tokens[i].Is(Category.EndGroup) ? -1 : 0;
            quoted ^= depth == 0 && tokens[i].Code == '"' && tokens[i].Symbol is null;
            if (depth == 0 && !quoted && tokens[i].IsCharacter(']'))
            {
                return i;
            }
        }

        return tokens.Count;
    }

    private static DiagramArrow ReadArrow(List<Token> options, DiagramArrow arrow, DocumentBuilder builder)
    {
        (int Row, int Column) from = arrow.From;
        var labels = new List<ArrowLabel>();
        foreach (List<Token> option in Options(options))
        {
            if (Label(option) is { } label)
            {
                labels.Add(label);
                continue;
            }

            string text = option.ToSource().Trim();
            (string key, string value) = Parted(text);
            double Number(double usual) => double.TryParse(value.TrimEnd('m', 'e', 'x', 'p', 't', 'c'), NumberStyles.Float, CultureInfo.InvariantCulture, out double n) ? Math.Clamp(n, -1_000, 1_000) : usual;
            if (Diagram.Target(from, text) is { } target && text.Length > 0)
            {
                arrow = arrow with { To = target };
            }
            else if (s_keys.TryGetValue(value.Length > 0 && key.StartsWith("bend", StringComparison.Ordinal) ? "" : text, out Func<DiagramArrow, DiagramArrow>? change))
            {
                arrow = change(arrow);
            }
            else
            {
                arrow = key switch
                {
                    "from" when Place(value, from) is { } place => arrow with { From = place },
                    "to" when Place(value, from) is { } place => arrow with { To = place },
                    "bend left" => arrow with { Bend = Number(30) },
                    "bend right" => arrow with { Bend = -Number(30) },
                    "shift left" => arrow with { Shift = 2.4 * Number(1) },
                    "shift right" => arrow with { Shift = -2.4 * Number(1) },
                    "loop" or "loop right" or "loop left" or "loop above" or "loop below" => arrow with { To = arrow.From },
                    "color" or "draw" or "text" when ColourNames.Find(builder, value) is { } colour => arrow with { Colour = colour },
                    _ when value.Length == 0 && ColourNames.Find(builder, key) is { } named => arrow with { Colour = named },
                    _ => arrow,
                };
            }
        }

        return arrow with { Labels = labels };
    }

    // Keys are parted by commas outside groups and quotes.
    private static IEnumerable<List<Token>> Options(List<Token> tokens)
    {
        var option = new List<Token>();
        int depth = 0;
        bool quoted = false;
        foreach (Token token in tokens)
        {
            depth += token.Is(Category.BeginGroup) ? 1 : token.Is(Category.EndGroup) ? -1 : 0;
            quoted ^= depth == 0 && token.Code == '"' && token.Symbol is null;
            if (depth == 0 && !quoted && token.IsCharacter(','))
            {
                yield return TokenLists.TrimSpaces(option);
                option = [];
                continue;
            }

            option.Add(token);
        }

        yield return TokenLists.TrimSpaces(option);
    }

    // A label in quotes, with ' for the other side and keys in braces behind it.
    private static ArrowLabel? Label(List<Token> option)
    {
        if (option.Count < 2 || option[0].Code != '"' || option[0].Symbol is not null)
        {
            return null;
        }

        int close = option.FindIndex(1, t => t.Code == '"' && t.Symbol is null);
        List<Token> formula = option.GetRange(1, (close < 0 ? option.Count : close) - 1);
        string rest = close < 0 ? "" : option.Skip(close + 1).ToList().ToSource();
        LabelSide side = rest.Contains("description", StringComparison.Ordinal) || rest.Contains("marking", StringComparison.Ordinal) ? LabelSide.Over
            : rest.Contains('\'') || rest.Contains("swap", StringComparison.Ordinal) ? LabelSide.Right : LabelSide.Left;
        int at = rest.IndexOf("pos=", StringComparison.Ordinal);
        double along = rest.Contains("near start", StringComparison.Ordinal) ? 0.25 : rest.Contains("near end", StringComparison.Ordinal) ? 0.75 : 0.5;
        if (at >= 0 && double.TryParse(new string([.. rest.Skip(at + 4).TakeWhile(c => char.IsAsciiDigit(c) || c == '.')]), NumberStyles.Float, CultureInfo.InvariantCulture, out double pos))
        {
            along = Math.Clamp(pos, 0, 1);
        }

        return new ArrowLabel(formula, side, along);
    }

    private static (string Key, string Value) Parted(string option)
    {
        int at = option.IndexOf('=', StringComparison.Ordinal);
        return at < 0 ? (option, "") : (option[..at].Trim(), option[(at + 1)..].Trim());
    }

    // A cell by its row and column, from 1, or by steps.
    private static (int Row, int Column)? Place(string value, (int Row, int Column) from) =>
        value.Split('-') is [var row, var column] && int.TryParse(row, NumberStyles.None, CultureInfo.InvariantCulture, out int r) && int.TryParse(column, NumberStyles.None, CultureInfo.InvariantCulture, out int c)
            ? (r - 1, c - 1)
            : Diagram.Target(from, value);
}
