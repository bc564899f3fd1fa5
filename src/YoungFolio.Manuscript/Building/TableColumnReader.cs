using YoungFolio.Documents;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>A column as a table's specification says it: how cells are set, and what is read before and after each.</summary>
/// <param name="Look">How its cells are set.</param>
/// <param name="Before">Tokens read before each cell (<c>&gt;{…}</c>).</param>
/// <param name="After">Tokens read after each cell (<c>&lt;{…}</c>).</param>
internal sealed record ColumnSetup(TableColumn Look, List<Token> Before, List<Token> After)
{
    /// <summary>The decimal sign in the source and in print, for columns of numbers.</summary>
    public (char Source, string Print)? Decimal { get; init; }
}

/// <summary>A table's specification of columns: {l@{ : }r|p{3cm}}.</summary>
internal sealed class TableColumnReader(DocumentBuilder builder) : ReadingFeature(builder)
{
    private const int MostColumns = 500;
    internal Dictionary<char, (int Arity, List<Token>? Default, List<Token> Body)> ColumnTypes { get; } = [];

    /// <summary>Gives a letter for columns (<c>\newcolumntype</c>).</summary>
    internal void DefineColumnType(Token token)
    {
        string letter = Machine.ReadArgument(token).ToSource().Trim();
        int arity = Machine.ReadOptionalText(token) is { } n && int.TryParse(n, out int parsed) ? Math.Clamp(parsed, 0, 9) : 0;
        List<Token>? standard = Machine.ReadOptional(token);
        List<Token> body = Machine.ReadArgument(token);
        if (letter.Length == 1)
        {
            ColumnTypes[letter[0]] = (arity, standard, body);
        }
    }

    /// <summary>Reads a specification.</summary>
    /// <param name="tokens">Its tokens.</param>
    /// <param name="token">The command that it belongs to.</param>
    /// <param name="total">Width of the whole table in points, or null: an estimate for columns that share it.</param>
    /// <param name="inFormula">Whether it is of an array: its gaps are <c>\arraycolsep</c>, and what stands between columns is a formula.</param>
    internal List<ColumnSetup> ReadColumns(List<Token> tokens, Token token, double? total, bool inFormula = false)
    {
        var reader = new ColumnReader(Builder, token, total, inFormula);
        reader.Read(tokens, 0);
        return reader.Finish();
    }

    private sealed class ColumnReader(DocumentBuilder builder, Token token, double? total, bool inFormula)
    {
        private readonly List<ColumnSetup> _columns = [];
        private List<EdgePiece> _edge = [];
        private List<Token> _before = [];
        private bool _replacesGap;
        private bool _afterRule;
        private double _stretch;

        private Machine Machine => builder.Machine;

        public void Read(List<Token> tokens, int depth)
        {
            for (int i = 0; i < tokens.Count && _columns.Count < MostColumns; i++)
            {
                Token at = tokens[i];
                if (at.Symbol is { } symbol)
                {
                    if (symbol.Meaning.Value is { IsExpandable: true } && depth < 20)
                    {
                        Read(Machine.Expander.ExpandFully([at]), depth + 1);
                    }

                    continue;
                }

                if (at.Category is Category.Space or Category.BeginGroup or Category.EndGroup)
                {
                    continue;
                }

                char letter = (char)(at.Code & 0xFFFF);
                if (builder.TableColumns.ColumnTypes.TryGetValue(letter, out (int Arity, List<Token>? Default, List<Token> Body) own) && depth < 20)
                {
                    Read(Fill(own, tokens, ref i), depth + 1);
                    continue;
                }

                ReadLetter(letter, at, tokens, ref i, depth);
            }
        }

        private void ReadLetter(char letter, Token at, List<Token> tokens, ref int i, int depth)
        {
            switch (letter)
            {
                case 'l' or 'c' or 'r':
                    Add(new TableColumn { Alignment = AlignmentOf(letter) });
                    break;
                case 'p' or 'm' or 'b':
                    Add(new TableColumn { Alignment = Alignment.Justified, Width = Length(Argument(tokens, ref i), at), Vertical = VerticalOf(letter) });
                    break;
                case 'w' or 'W':
                    string place = Argument(tokens, ref i).ToSource().Trim();
                    double width = Length(Argument(tokens, ref i), at);
                    Add(new TableColumn { Alignment = AlignmentOf(place.Length > 0 ? place[0] : 'l'), Width = width });
                    break;
                case 'X':
                    double share = 1;
                    if (Optional(tokens, ref i) is { } option && double.TryParse(option.ToSource().Split(',')[0], System.Globalization.CultureInfo.InvariantCulture, out double weight))
                    {
                        share = Math.Abs(weight);
                    }

                    Add(new TableColumn { Alignment = Alignment.Justified, Share = TakeShare() ?? share });
                    break;
                case 'L' or 'C' or 'R' or 'J' when total is not null:
                    Add(new TableColumn { Alignment = letter == 'J' ? Alignment.Justified : AlignmentOf(char.ToLowerInvariant(letter)), Share = 1 });
                    break;
                case 'S' or 's':
                    Optional(tokens, ref i);
                    _before.Add(Token.Command(Machine.Symbol("S@signs"), PositionTable.None));
                    Add(new TableColumn { Alignment = Alignment.Centre, IsDecimal = letter == 'S' }, letter == 'S' ? ('.', ".") : null, false);
                    break;
                case 'D':
                    string source = Argument(tokens, ref i).ToSource().Trim();
                    string print = Argument(tokens, ref i).ToSource().Replace("\\cdot", "·", StringComparison.Ordinal).Replace("$", "", StringComparison.Ordinal).Trim();
                    Argument(tokens, ref i);
                    Add(new TableColumn { Alignment = Alignment.Centre, IsDecimal = true }, (source.Length > 0 ? source[0] : '.', print.Length > 0 ? print : "."), true);
                    break;
                case '|' or ':':
                    if (_afterRule)
                    {
                        _edge.Add(new EdgePiece(builder.Get("doublerulesep")));
                    }

                    _edge.Add(new EdgePiece(builder.Get("arrayrulewidth")) { IsRule = true, Colour = builder.Tables.RuleColour.Value });
                    _afterRule = true;
                    return;
                case '@' or '!':
                    AddMaterial(Argument(tokens, ref i), letter == '@');
                    break;
                case '>':
                    _before = [.. Argument(tokens, ref i), .. _before];
                    break;
                case '<':
                    List<Token> after = Argument(tokens, ref i);
                    if (_columns.Count > 0)
                    {
                        _columns[^1] = _columns[^1] with { After = [.. after, .. _columns[^1].After] };
                    }

                    break;
                case '*':
                    int times = Math.Clamp(Machine.Quantities.ParseInteger(Argument(tokens, ref i), at) ?? 0, 0, MostColumns);
                    List<Token> repeated = Argument(tokens, ref i);
                    for (int k = 0; k < times && depth < 20 && _columns.Count < MostColumns; k++)
                    {
                        Read(repeated, depth + 1);
                    }

                    break;
                case ';' or '"' or '#' or '=':
                    break;
                default:
                    builder.Findings.Fix("unknown-column", at.Position, 1, $"There is no kind of column “{letter}”.",
                        "Columns are l, c, r (one line) and p{3cm} (paragraphs); more come with packages or \\newcolumntype. It was set as l.",
                        new Repair(at.Position, 1, "l"));
                    Add(new TableColumn { Alignment = Alignment.Left });
                    break;
            }

            _afterRule = false;
        }

        private void AddMaterial(List<Token> tokens, bool replacesGap)
        {
            int stretch = tokens.FindIndex(t => t.IsCommand("extracolsep"));
            if (stretch >= 0)
            {
                int next = stretch;
                List<Token> amount = Argument(tokens, ref next);
                bool fills = amount.Exists(t => t.IsCommand("fill"));
                _stretch = fills ? 1 : 0;
                double extra = fills ? 0 : Length(amount, token);
                tokens = [.. tokens.Take(stretch), .. tokens.Skip(next + 1)];
                _extra = extra;
            }

            if (replacesGap)
            {
                _replacesGap = true;
            }

            List<Inline> content = inFormula && tokens.Count > 0 ? builder.BuildInlines([.. BoxCommands.AsFormula(tokens, token)]) : Words(tokens);
            if (content.Count > 0)
            {
                _edge.Add(new EdgePiece(0) { Content = content });
            }
        }

        // Spaces at the ends, which a line would drop, part words from the cells.
        private List<Inline> Words(List<Token> tokens)
        {
            int begin = tokens.TakeWhile(IsSpace).Count();
            int end = tokens.Count - tokens.Skip(begin).Reverse().TakeWhile(IsSpace).Count();
            TextRun space = new("\u00A0", [PositionTable.None], builder.Style.Value);
            List<Inline> words = begin < end ? builder.BuildInlines(tokens[begin..end]) : [];
            return [.. begin > 0 ? [space] : (Inline[])[], .. words, .. end < tokens.Count ? [space] : (Inline[])[]];
        }

        private static bool IsSpace(Token token) => token.Is(Category.Space) || token.IsCommand(" ");

        private double _extra;

        private void Add(TableColumn look, (char, string)? decimalSign = null, bool mathematics = false)
        {
            List<EdgePiece> left = TakeEdge(true);
            Token[] dollar = mathematics ? [Token.Character('$', Category.MathShift, PositionTable.None)] : [];
            _columns.Add(new ColumnSetup(look with { Left = left }, [.. _before, .. dollar], [.. dollar]) { Decimal = decimalSign });
            _before = [];
        }

        // >{\hsize=.5\hsize} and >{\setlength\hsize{.5\hsize}}: the column takes that part of what a column takes otherwise (tabularx' documentation,
        // section 4.3, from memory). \linewidth=\hsize beside it says the same of lines in the cell.
        private double? TakeShare()
        {
            int at = _before.FindIndex(static t => t.IsCommand("hsize"));
            int end = at < 0 ? -1 : _before.FindIndex(at + 1, static t => t.IsCommand("hsize"));
            if (end < 0)
            {
                return null;
            }

            string factor = new([.. _before.GetRange(at + 1, end - at - 1).Where(static t => t.Symbol is null && (char.IsAsciiDigit((char)t.Code) || t.Code == '.')).Select(static t => (char)t.Code)]);
            if (!double.TryParse(factor, System.Globalization.CultureInfo.InvariantCulture, out double share) || share <= 0)
            {
                return null;
            }

            int start = at > 0 && _before[at - 1].IsCommand("setlength") ? at - 1 : at > 1 && _before[at - 1].Is(Category.BeginGroup) && _before[at - 2].IsCommand("setlength") ? at - 2 : at;
            end += start < at && end + 1 < _before.Count && _before[end + 1].Is(Category.EndGroup) ? 1 : 0;
            _before.RemoveRange(start, end - start + 1);
            int width = _before.FindIndex(static t => t.IsCommand("linewidth"));
            if (width >= 0 && _before.FindIndex(width, static t => t.IsCommand("hsize")) is >= 0 and var last)
            {
                _before.RemoveRange(width, last - width + 1);
            }

            return share;
        }

        // What stands between two columns belongs to the left one's right, with half of the gap on either side.
        private List<EdgePiece> TakeEdge(bool column)
        {
            double gap = builder.Get(inFormula ? "arraycolsep" : "tabcolsep");
            List<EdgePiece> between = _edge;
            bool replaced = _replacesGap;
            (_edge, _replacesGap) = ([], false);
            EdgePiece[] stretch = _columns.Count > 0 && column && (_stretch > 0 || _extra != 0) ? [new EdgePiece(_extra, _stretch)] : [];
            EdgePiece[] space = replaced ? [] : [new EdgePiece(gap)];
            if (_columns.Count == 0)
            {
                return [.. between, .. space];
            }

            ColumnSetup last = _columns[^1];
            _columns[^1] = last with { Look = last.Look with { Right = [.. space, .. between] } };
            return [.. stretch, .. column ? space : []];
        }

        public List<ColumnSetup> Finish()
        {
            if (_columns.Count == 0)
            {
                builder.Findings.Fix("no-columns", token.Position, token.Length, "The table has no columns.",
                    "Say them in braces after its name: \\begin{tabular}{lcr} has three.");
                Add(new TableColumn());
            }

            TakeEdge(false);
            return _columns;
        }

        private double Length(List<Token> tokens, Token at)
        {
            double width = Machine.Quantities.ParseGlue(tokens, at)?.Width.Points ?? 0;
            return Math.Clamp(width, 0.5, 5_000);
        }

        private static Alignment AlignmentOf(char letter) => letter switch { 'c' => Alignment.Centre, 'r' => Alignment.Right, _ => Alignment.Left };

        private static char VerticalOf(char letter) => letter switch { 'm' => 'c', 'b' => 'b', _ => 't' };

        private static List<Token> Fill((int Arity, List<Token>? Default, List<Token> Body) type, List<Token> tokens, ref int i)
        {
            var arguments = new List<List<Token>>();
            if (type.Default is not null && type.Arity > 0)
            {
                arguments.Add(Optional(tokens, ref i) ?? type.Default);
            }

            while (arguments.Count < type.Arity)
            {
                arguments.Add(Argument(tokens, ref i));
            }

            var result = new List<Token>();
            for (int k = 0; k < type.Body.Count; k++)
            {
                if (type.Body[k].Is(Category.Parameter) && k + 1 < type.Body.Count)
                {
                    int number = (type.Body[++k].Code & 0xFFFF) - '1';
                    result.AddRange(number >= 0 && number < arguments.Count ? arguments[number] : []);
                }
                else
                {
                    result.Add(type.Body[k]);
                }
            }

            return result;
        }

        // The next argument after an index, which moves to its end.
        private static List<Token> Argument(List<Token> tokens, ref int i)
        {
            int start = i + 1;
            while (start < tokens.Count && tokens[start].Is(Category.Space))
            {
                start++;
            }

            if (start >= tokens.Count)
            {
                i = tokens.Count;
                return [];
            }

            if (!tokens[start].Is(Category.BeginGroup))
            {
                i = start;
                return [tokens[start]];
            }

            int depth = 0;
            for (int k = start; k < tokens.Count; k++)
            {
                depth += tokens[k].Is(Category.BeginGroup) ? 1 : tokens[k].Is(Category.EndGroup) ? -1 : 0;
                if (depth == 0)
                {
                    i = k;
                    return tokens.GetRange(start + 1, k - start - 1);
                }
            }

            i = tokens.Count;
            return tokens.GetRange(start + 1, tokens.Count - start - 1);
        }

        private static List<Token>? Optional(List<Token> tokens, ref int i)
        {
            if (i + 1 >= tokens.Count || !tokens[i + 1].IsCharacter('['))
            {
                return null;
            }

            int end = tokens.FindIndex(i + 1, t => t.IsCharacter(']'));
            if (end < 0)
            {
                return null;
            }

            List<Token> result = tokens.GetRange(i + 2, end - i - 2);
            i = end;
            return result;
        }
    }
}
