using System.Globalization;
using YoungFolio.Manuscript.Building;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Diagrams;

/// <summary>
/// Reads \xymatrix: cells parted by &amp;, arrows by \ar with their looks behind @, steps in brackets, and labels by ^, _ and | (the usual part of xy's reference
/// for matrices and arrows, from memory).
/// </summary>
internal sealed class SteppedDiagram
{
    private static readonly Dictionary<string, Func<DiagramArrow, DiagramArrow>> s_looks = new(StringComparer.Ordinal)
    {
        ["->"] = static a => a,
        ["<-"] = static a => a with { Start = ArrowTip.Head, End = ArrowTip.None },
        ["<->"] = static a => a with { Start = ArrowTip.Head },
        ["-"] = static a => a with { End = ArrowTip.None },
        ["--"] = static a => a with { Line = ArrowLine.Dashed, End = ArrowTip.None },
        ["-->"] = static a => a with { Line = ArrowLine.Dashed },
        ["."] = static a => a with { Line = ArrowLine.Dotted, End = ArrowTip.None },
        [".>"] = static a => a with { Line = ArrowLine.Dotted },
        ["="] = static a => a with { Line = ArrowLine.Double, End = ArrowTip.None },
        ["=>"] = static a => a with { Line = ArrowLine.Double },
        ["->>"] = static a => a with { End = ArrowTip.TwoHeads },
        ["-->>"] = static a => a with { End = ArrowTip.TwoHeads, Line = ArrowLine.Dashed },
        [">->"] = static a => a with { Start = ArrowTip.Tail },
        [">->>"] = static a => a with { Start = ArrowTip.Tail, End = ArrowTip.TwoHeads },
        ["|->"] = static a => a with { Start = ArrowTip.Bar },
        ["^{(}->"] = static a => a with { Start = ArrowTip.Hook },
        ["_{(}->"] = static a => a with { Start = ArrowTip.HookRight },
        ["^(->"] = static a => a with { Start = ArrowTip.Hook },
        ["_(->"] = static a => a with { Start = ArrowTip.HookRight },
        ["~>"] = static a => a with { Line = ArrowLine.Waves },
        ["~"] = static a => a with { Line = ArrowLine.Waves, End = ArrowTip.None },
        ["-^>"] = static a => a with { End = ArrowTip.Harpoon },
        ["-_>"] = static a => a with { End = ArrowTip.HarpoonRight },
        [""] = static a => a with { Line = ArrowLine.Hidden, End = ArrowTip.None },
    };

    private readonly DocumentBuilder _builder;
    private readonly List<Token> _tokens;
    private readonly (int Row, int Column) _place;
    private readonly Token _start;
    private int _at;

    private SteppedDiagram(DocumentBuilder builder, List<Token> tokens, (int Row, int Column) place, Token start) =>
        (_builder, _tokens, _place, _start) = (builder, tokens, place, start);

    /// <summary>The diagram that \xymatrix holds.</summary>
    /// <param name="settings">What stands between the command and its braces: @C=2pc and the like.</param>
    /// <param name="body">What stands in its braces.</param>
    /// <param name="builder">Knows lengths.</param>
    /// <param name="token">Where it begins.</param>
    public static Diagram Read(string settings, IReadOnlyList<Token> body, DocumentBuilder builder, Token token)
    {
        double em = builder.Style.Value.Size;
        return Diagram.Read(body, (cell, place, arrows) => new SteppedDiagram(builder, cell, place, token).ReadCell(arrows), Gap('C'), Gap('R'));

        // In em; two picas where nothing is said.
        double Gap(char of)
        {
            string? said = settings.Split('@', StringSplitOptions.RemoveEmptyEntries).FirstOrDefault(s => s.StartsWith(of + "=", StringComparison.Ordinal) || s.StartsWith('='));
            return (said is null ? 24 : builder.Machine.Quantities.ParseGlue(builder.Machine.Tokenize(said[(said.IndexOf('=', StringComparison.Ordinal) + 1)..], token.Position), token)?.Width.Points ?? 24) / em;
        }
    }

    private List<Token> ReadCell(List<DiagramArrow> arrows)
    {
        var formula = new List<Token>();
        while (_at < _tokens.Count)
        {
            Token token = _tokens[_at++];
            if (token.IsCommand("ar") || token.IsCommand("arrow"))
            {
                arrows.Add(ReadArrow(token));
            }
            else
            {
                formula.Add(token);
            }
        }

        // What an entry says of its own frame isn't drawn: *+[F]{…}.
        return formula is [var star, ..] && star.IsCharacter('*') ? [.. formula.SkipWhile(t => !t.Is(Category.BeginGroup))] : formula;
    }

    private DiagramArrow ReadArrow(Token command)
    {
        var arrow = new DiagramArrow(_place, _place, command);
        var labels = new List<ArrowLabel>();
        while (Peek() is { } token)
        {
            if (token.IsCharacter('@'))
            {
                _at++;
                arrow = Look(arrow);
            }
            else if (token.IsCharacter('['))
            {
                string steps = Until(']');
                arrow = Diagram.Target(_place, steps) is { } target ? arrow with { To = target } : arrow;
            }
            else if (token.Is(Category.Superscript) || token.Is(Category.Subscript) || token.IsCharacter('|'))
            {
                _at++;
                labels.Add(Label(token.Is(Category.Superscript) ? LabelSide.Left : token.Is(Category.Subscript) ? LabelSide.Right : LabelSide.Over));
            }
            else
            {
                break;
            }
        }

        return arrow with { Labels = labels };
    }

    // The next token past spaces.
    private Token? Peek()
    {
        while (_at < _tokens.Count && _tokens[_at].Is(Category.Space))
        {
            _at++;
        }

        return _at < _tokens.Count ? _tokens[_at] : null;
    }

    // What stands up to a sign; the sign that opens it is passed over, and so is the one that closes it.
    private string Until(char close)
    {
        int start = _at + 1;
        int end = start;
        while (end < _tokens.Count && !_tokens[end].IsCharacter(close))
        {
            end++;
        }

        string text = _tokens.GetRange(Math.Min(start, _tokens.Count), Math.Max(0, end - start)).ToSource();
        _at = Math.Min(_tokens.Count, end + 1);
        return text;
    }

    // What stands behind @: {->>} the line and its ends, /^1pc/ a bend, <1ex> a shift, (u,r) a loop, [red] what isn't known here.
    private DiagramArrow Look(DiagramArrow arrow)
    {
        switch (Peek())
        {
            case { } open when open.Is(Category.BeginGroup):
                string look = Group().ToSource().Replace(" ", "", StringComparison.Ordinal);
                return s_looks.TryGetValue(look, out Func<DiagramArrow, DiagramArrow>? change) ? change(arrow) : arrow;
            case { } sign when sign.IsCharacter('/'):
                string bend = Until('/');
                double size = bend.Length > 1 ? Points(bend[1..]) : 6;
                return arrow with { Bend = (bend.StartsWith('_') ? -1 : 1) * Math.Clamp(size * 2.5, -80, 80) };
            case { } sign when sign.IsCharacter('<'):
                return arrow with { Shift = Points(Until('>')) };
            case { } sign when sign.IsCharacter('('):
                Until(')');
                return arrow;
            case { } sign when sign.IsCharacter('['):
                Until(']');
                return arrow;
            case { } sign when sign.IsCharacter('='):
                _at++;
                return arrow with { Line = ArrowLine.Double, End = ArrowTip.None };
            default:
                return arrow;
        }
    }

    private double Points(string length) =>
        _builder.Machine.Quantities.ParseGlue(_builder.Machine.Tokenize(length.Trim() is { Length: > 0 } l ? l : "0pt", _start.Position), _start)?.Width.Points ?? 0;

    // Its place: - the middle of the arrow, < and > nearer to its start and end, (.3) by figures.
    private ArrowLabel Label(LabelSide side)
    {
        double along = 0.5;
        for (Token? sign = Peek(); sign is { } s; sign = Peek())
        {
            if (s.IsCharacter('-'))
            {
                _at++;
            }
            else if (s.IsCharacter('<') || s.IsCharacter('>'))
            {
                along = s.IsCharacter('<') ? along / 2 : (1 + along) / 2;
                _at++;
            }
            else if (s.IsCharacter('('))
            {
                along = double.TryParse(Until(')'), NumberStyles.Float, CultureInfo.InvariantCulture, out double place) ? Math.Clamp(place, 0, 1) : along;
            }
            else
            {
                break;
            }
        }

        // A sign alone, or a group; what stands in a box of its own keeps it.
        if (Peek() is not { } first)
        {
            return new ArrowLabel([], side, along);
        }

        if (first.Is(Category.BeginGroup))
        {
            return new ArrowLabel(Group(), side, along);
        }

        _at++;
        var formula = new List<Token> { first };
        while (first.Symbol is not null && Peek() is { } next && next.Is(Category.BeginGroup))
        {
            formula.AddRange(TokenLists.Braced(Group(), next.Position));
        }

        return new ArrowLabel(formula, side, along);
    }

    // The tokens of a group.
    private List<Token> Group()
    {
        int start = ++_at;
        for (int depth = 1; _at < _tokens.Count; _at++)
        {
            depth += _tokens[_at].Is(Category.BeginGroup) ? 1 : _tokens[_at].Is(Category.EndGroup) ? -1 : 0;
            if (depth == 0)
            {
                return _tokens.GetRange(start, _at++ - start);
            }
        }

        return _tokens.GetRange(start, _tokens.Count - start);
    }
}
