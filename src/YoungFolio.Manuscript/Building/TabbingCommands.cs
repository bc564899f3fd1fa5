using YoungFolio.Documents;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>The tabbing environment (Lamport, <em>LaTeX</em>, section C.10.1): lines whose words stand at tab stops that the text itself sets.</summary>
internal sealed class TabbingCommands(DocumentBuilder builder) : ReadingFeature(builder)
{
    private Scoped<Dimension> _separation = null!;

    internal void DefineTabbing()
    {
        _separation = Machine.Registers.NamedDimension("tabbingsep", Dimension.FromPoints(5));
        Builder.Environments.DefineEnvironment("tabbing", Read, static _ => { });
        // Their meaning is the environment's; outside it there is no line to leave out.
        Machine.Define("kill", static (_, _) => { });
        Machine.Define("pushtabs", static (_, _) => { });
        Machine.Define("poptabs", static (_, _) => { });
    }

    private void Read(Token token)
    {
        Builder.EndParagraph();
        List<Token> body = Machine.DocumentCommands.ReadEnvironmentBody(token);
        var stops = new TabStops();
        foreach ((List<Token> line, bool isKept) in Lines(body))
        {
            List<Inline> content = Line(line, stops);
            if (isKept)
            {
                Builder.AddBlock(new ParagraphBlock(content, Builder.ParagraphStyleNow(0) with { Alignment = Alignment.Left, SpaceAbove = default }));
            }
        }

        Builder.Frames.Peek().Continues = true;
    }

    // Lines end at \\ and at \kill, outside braces and environments; what follows the last end is a line if there is anything in it.
    private IEnumerable<(List<Token> Line, bool IsKept)> Lines(List<Token> body)
    {
        var line = new List<Token>();
        int depth = 0;
        for (int i = 0; i < body.Count; i++)
        {
            Token token = body[i];
            depth += token.Is(Category.BeginGroup) || token.IsCommand("begin") ? 1 : token.Is(Category.EndGroup) || token.IsCommand("end") ? -1 : 0;
            bool isKill = token.IsCommand("kill");
            if (depth > 0 || !(isKill || token.IsCommand("\\")))
            {
                if (!ReferenceEquals(token.Symbol, Machine.Par))
                {
                    line.Add(token);
                }

                continue;
            }

            // The star and the space that \\ may take mean nothing to lines of their own.
            if (!isKill && i + 1 < body.Count && body[i + 1].IsCharacter('*'))
            {
                i++;
            }

            if (!isKill && i + 1 < body.Count && body[i + 1].IsCharacter('['))
            {
                i = body.FindIndex(i, t => t.IsCharacter(']')) is >= 0 and var end ? end : i;
            }

            yield return (line, !isKill);
            line = [];
        }

        if (line.Exists(t => !t.Is(Category.Space)))
        {
            yield return (line, true);
        }
    }

    private List<Inline> Line(List<Token> tokens, TabStops stops)
    {
        var content = new List<Inline>();
        var field = new List<Token>();
        int stop = stops.Margin;
        double at = stops.At(stop);
        double fieldBegin = at;
        int depth = 0;
        if (at > 0)
        {
            content.Add(new SpaceInline(Glue.Of(at), false));
        }

        foreach (Token token in tokens)
        {
            depth += token.Is(Category.BeginGroup) ? 1 : token.Is(Category.EndGroup) ? -1 : 0;
            string? name = depth == 0 && token.Symbol is { IsActiveCharacter: false } symbol ? symbol.Name : null;
            switch (name)
            {
                case "=":
                    if (field.Count > 0 && field[^1].Is(Category.Space))
                    {
                        // The space before it counts.
                        field[^1] = Token.Command(Machine.Symbols.OfActive('~'), token.Position);
                    }

                    Close();
                    stops.Set(++stop, at);
                    fieldBegin = at;
                    break;
                case ">":
                    Close();
                    if (!stops.IsSet(++stop))
                    {
                        Findings.Fix("no-tab-stop", token.Position, token.Length, "\\> goes to a tab stop that isn't set.",
                            "Set it in a line before with \\=, which may end with \\kill so that it doesn't print.");
                        stops.Set(stop, at + (2 * Builder.Style.Value.Size));
                    }

                    Move(stops.At(stop));
                    break;
                case "<":
                    stop = Math.Max(0, stop - 1);
                    Move(stops.At(stop));
                    break;
                case "+":
                    stops.Margin++;
                    break;
                case "-":
                    stops.Margin = Math.Max(0, stops.Margin - 1);
                    break;
                case "'":
                    // What stands before it ends where the field begins.
                    (List<Inline> before, double width) = Build();
                    content.Add(new SpaceInline(Glue.Of(fieldBegin - _separation.Value.Points - width - at), false));
                    content.AddRange(before);
                    content.Add(new SpaceInline(Glue.Of(_separation.Value.Points), false));
                    at = fieldBegin;
                    break;
                case "`":
                    Close();
                    content.Add(new SpaceInline(new Glue(default, new Dimension(65536), 2), false));
                    break;
                case "pushtabs":
                    stops.Push();
                    break;
                case "poptabs":
                    stops.Pop();
                    break;
                case "a":
                    // \a=, \a' and \a` are the accents that the signs mean elsewhere.
                    break;
                default:
                    field.Add(token);
                    break;
            }
        }

        Close();
        return content;

        void Close()
        {
            (List<Inline> built, double width) = Build();
            content.AddRange(built);
            at += width;
        }

        void Move(double to)
        {
            content.Add(new SpaceInline(Glue.Of(to - at), false));
            (at, fieldBegin) = (to, to);
        }

        (List<Inline> Content, double Width) Build()
        {
            List<Inline> built = Builder.BuildInlines(TokenLists.TrimSpaces(field));
            field = [];
            return (built, Builder.Boxes.Measure(built).Width);
        }
    }

    /// <summary>Tab stops, and at which of them lines begin.</summary>
    private sealed class TabStops
    {
        private readonly Stack<List<double>> _kept = new();
        private List<double> _stops = [0];

        public int Margin { get; set; }

        public bool IsSet(int stop) => stop < _stops.Count;

        public double At(int stop) => _stops[Math.Clamp(stop, 0, _stops.Count - 1)];

        public void Set(int stop, double at)
        {
            while (_stops.Count <= stop)
            {
                _stops.Add(at);
            }

            _stops[stop] = at;
        }

        public void Push() => _kept.Push([.. _stops]);

        public void Pop() => _stops = _kept.TryPop(out List<double>? stops) ? stops : _stops;
    }
}
