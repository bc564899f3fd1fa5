using System.Globalization;
using YoungFolio.Manuscript.Building;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Packages;

/// <summary>Tables out of data files: csvsimple and the basics of datatool.</summary>
internal static class DataPackages
{
    public static IReadOnlyList<Package> All { get; } =
    [
        CsvSimple("csvsimple", "Tables and lists out of data files (.csv)."),
        CsvSimple("csvsimple-l3", "Tables and lists out of data files (.csv)."),
        CsvSimple("csvsimple-legacy", "Tables and lists out of data files (.csv)."),
        new("datatool", "Data files that are read once and gone through as often as wanted; the basics of it.")
        {
            Commands = ["DTLloaddb", "DTLloadrawdb", "DTLforeach", "DTLdisplaydb", "DTLdisplaylongdb", "DTLrowcount", "DTLcolumncount", "DTLsetseparator", "DTLsettabseparator", "DTLsort"],
            Requires = ["ifthen"],
            Load = static load => new DataTool(load.Builder).Define(),
        },
    ];

    private static Package CsvSimple(string name, string purpose) => new(name, purpose)
    {
        Commands = ["csvreader", "csvautotabular", "csvautobooktabular", "csvautolongtable", "csvautobooklongtable", "csvloop", "csvset", "csvstyle"],
        Requires = ["booktabs", "ifthen"],
        Load = static load => new CsvReader(load.Builder).Define(),
    };

    /// <summary>Puts values in the place of commands, at every depth of braces.</summary>
    private static List<Token> Replace(IReadOnlyList<Token> body, IReadOnlyDictionary<Symbol, List<Token>> values)
    {
        var result = new List<Token>();
        foreach (Token token in body)
        {
            if (token.Symbol is { } symbol && values.TryGetValue(symbol, out List<Token>? value))
            {
                result.AddRange(value);
            }
            else
            {
                result.Add(token);
            }
        }

        return result;
    }

    private static List<Token> Number(Machine machine, int number, int position) =>
        [.. machine.Tokenize(number.ToString(CultureInfo.InvariantCulture), position)];

    private static char? Separator(string name) => name switch
    {
        "comma" or "," => ',',
        "semicolon" or ";" => ';',
        "tab" => '\t',
        "pipe" or "|" => '|',
        _ => null,
    };

    /// <summary>The commands of csvsimple. A row's values stand in the place of their commands, so that they may be parted by &amp;.</summary>
    private sealed class CsvReader(DocumentBuilder builder)
    {
        private readonly List<ListedOption> _always = [];
        private readonly Dictionary<string, List<Token>> _styles = new(StringComparer.Ordinal);

        public void Define()
        {
            Machine machine = builder.Machine;
            machine.Define("csvset", (m, t) => _always.AddRange(ListedOption.Of(m, m.ReadArgument(t))));
            machine.Define("csvstyle", (m, t) => _styles[m.ReadText(t)] = m.ReadArgument(t));
            machine.Define("csvreader", (m, t) =>
            {
                Dictionary<string, List<Token>> options = Options(m.ReadOptional(t));
                List<Token> file = m.ReadArgument(t);
                List<Token> columns = m.ReadArgument(t);
                Read(t, options, file, columns, m.ReadArgument(t));
            });
            machine.Define("csvloop", (m, t) =>
            {
                Dictionary<string, List<Token>> options = Options(m.ReadArgument(t));
                Read(t, options, options.GetValueOrDefault("file", []), options.GetValueOrDefault("column names", []), options.GetValueOrDefault("command", []));
            });
            foreach ((string name, string environment, bool lines) in (ReadOnlySpan<(string, string, bool)>)[
                ("csvautotabular", "tabular", false), ("csvautobooktabular", "tabular", true), ("csvautolongtable", "longtable", false), ("csvautobooklongtable", "longtable", true)])
            {
                machine.Define(name, (m, t) =>
                {
                    Dictionary<string, List<Token>> options = Options(m.ReadOptional(t));
                    List<Token> file = m.ReadArgument(t);
                    if (Data(file, t, options) is { } data)
                    {
                        m.Push(Whole(t, data, environment, lines, options));
                    }
                });
            }
        }

        private Dictionary<string, List<Token>> Options(IReadOnlyList<Token>? list)
        {
            var options = new Dictionary<string, List<Token>>(StringComparer.Ordinal);
            foreach (ListedOption option in _always.Concat(ListedOption.Of(builder.Machine, list)))
            {
                if (_styles.TryGetValue(option.Key, out List<Token>? style))
                {
                    foreach (ListedOption inner in ListedOption.Of(builder.Machine, style))
                    {
                        options[inner.Key] = inner.Value ?? [];
                    }
                }
                else
                {
                    options[option.Key] = option.Value ?? [];
                }
            }

            return options;
        }

        private DataRows? Data(List<Token> file, Token token, Dictionary<string, List<Token>> options)
        {
            char? separator = options.TryGetValue("separator", out List<Token>? named) ? Separator(builder.Machine.ExpandToText(named).Trim()) : null;
            bool noHead = options.ContainsKey("no head") || (options.TryGetValue("head", out List<Token>? head) && builder.Machine.ExpandToText(head).Trim() == "false");
            return builder.DataTables.ReadData(file, token, separator, !noHead);
        }

        // All columns and rows as they are.
        private List<Token> Whole(Token token, DataRows data, string environment, bool lines, Dictionary<string, List<Token>> options)
        {
            Machine m = builder.Machine;
            string columns = lines ? new string('l', data.Columns.Count) : "|" + string.Concat(Enumerable.Repeat("l|", data.Columns.Count));
            List<Token> result = [.. options.GetValueOrDefault("before reading", []), .. m.Tokenize($"\\begin{{{environment}}}{{{columns}}}{(lines ? "\\toprule " : "\\hline ")}", token.Position)];
            if (data.Head is { } head)
            {
                result.AddRange(Joined(m, head, token.Position));
                result.AddRange(m.Tokenize(lines ? "\\\\\\midrule " : "\\\\\\hline ", token.Position));
                if (environment == "longtable")
                {
                    result.AddRange(m.Tokenize("\\endhead ", token.Position));
                }
            }

            for (int i = 0; i < data.Rows.Count; i++)
            {
                builder.Budget.Check();
                result.AddRange(Joined(m, data.Rows[i], token.Position));
                result.AddRange(m.Tokenize(lines ? i == data.Rows.Count - 1 ? "\\\\\\bottomrule " : "\\\\ " : "\\\\\\hline ", token.Position));
            }

            result.AddRange(m.Tokenize($"\\end{{{environment}}}", token.Position));
            result.AddRange(options.GetValueOrDefault("after reading", []));
            return result;
        }

        private static List<Token> Joined(Machine machine, IReadOnlyList<List<Token>> cells, int position)
        {
            var result = new List<Token>();
            for (int i = 0; i < cells.Count; i++)
            {
                if (i > 0)
                {
                    result.AddRange(machine.Tokenize("&", position));
                }

                result.AddRange(cells[i]);
            }

            return result;
        }

        private void Read(Token token, Dictionary<string, List<Token>> options, List<Token> file, List<Token> columns, List<Token> body)
        {
            if (Data(file, token, options) is not { } data)
            {
                return;
            }

            Machine m = builder.Machine;
            List<Token> Option(string name) => options.GetValueOrDefault(name, []);
            Dictionary<Symbol, int> named = Columns(columns, data, options, token);
            var result = new List<Token>(Option("before reading"));
            string? environment = null;
            foreach (string name in (string[])["tabular", "longtable", "tabularx", "tabular*", "tabbing", "centered tabular", "centered longtable"])
            {
                if (options.TryGetValue(name, out List<Token>? argument))
                {
                    environment = name.Split(' ')[^1];
                    bool isWide = name is "tabularx" or "tabular*" && argument is [{ Category: Category.BeginGroup }, ..];
                    result.AddRange(m.Tokenize($"\\begin{{{environment}}}", token.Position));
                    result.AddRange(isWide ? argument : name == "tabbing" ? [] : TokenLists.Braced(argument, token.Position));
                    break;
                }
            }

            result.AddRange(Option("before first line").Count > 0 ? Option("before first line") : Option("table head"));
            List<Token> between = options.TryGetValue("late after line", out List<Token>? late) ? late : environment is null ? [] : [.. m.Tokenize("\\\\", token.Position)];
            int row = 0;
            List<IReadOnlyList<List<Token>>> shown = [.. data.Rows.Where(r => Passes(r, named, options))];
            foreach (IReadOnlyList<List<Token>> cells in shown)
            {
                row++;
                Dictionary<Symbol, List<Token>> values = Values(named, cells);
                for (int c = 0; c < cells.Count; c++)
                {
                    values.TryAdd(m.Symbol("csvcol" + Numerals.Roman(c + 1)), cells[c]);
                }

                values[m.Symbol("thecsvrow")] = Number(m, row, token.Position);
                values[m.Symbol("csvlinetotablerow")] = Joined(m, cells, token.Position);
                result.AddRange(Replace(Option("before line"), values));
                result.AddRange(Replace(body, values));
                result.AddRange(Replace(Option("after line"), values));
                result.AddRange(Replace(row == shown.Count && options.TryGetValue("late after last line", out List<Token>? last) ? last
                    : row == 1 && options.TryGetValue("late after first line", out List<Token>? first) ? first : between, values));
            }

            result.AddRange(Option("table foot"));
            if (environment is not null)
            {
                result.AddRange(m.Tokenize($"\\end{{{environment}}}", token.Position));
            }

            result.AddRange(Option("after reading"));
            m.Push(result);
        }

        // Names given by hand, by the head, or by number.
        private Dictionary<Symbol, int> Columns(List<Token> columns, DataRows data, Dictionary<string, List<Token>> options, Token token)
        {
            Machine m = builder.Machine;
            var named = new Dictionary<Symbol, int>();
            if (options.ContainsKey("head to column names"))
            {
                for (int c = 0; c < data.Columns.Count; c++)
                {
                    if (data.Columns[c].Length > 0 && data.Columns[c].All(char.IsAsciiLetter))
                    {
                        named.TryAdd(m.Symbol(data.Columns[c]), c);
                    }
                }
            }

            foreach (ListedOption pair in ListedOption.Of(m, columns))
            {
                int at = data.Columns.ToList().IndexOf(pair.Key);
                at = at < 0 && int.TryParse(pair.Key, NumberStyles.None, CultureInfo.InvariantCulture, out int number) && number >= 1 && number <= data.Columns.Count ? number - 1 : at;
                if (at < 0)
                {
                    string? near = NearestName.Find(pair.Key, data.Columns);
                    builder.Findings.Fix("unknown-column", pair.Position >= 0 ? pair.Position : token.Position, pair.Length, $"The data have no column “{pair.Key}”.",
                        near is null ? "Their columns are: " + string.Join(", ", data.Columns) + "." : $"Did you mean “{near}”?");
                }

                if (pair.Value is [{ Symbol: { } symbol }, ..])
                {
                    named[symbol] = at;
                }
            }

            return named;
        }

        // A column that isn't there is empty.
        private static Dictionary<Symbol, List<Token>> Values(Dictionary<Symbol, int> named, IReadOnlyList<List<Token>> cells) =>
            named.ToDictionary(n => n.Key, n => n.Value < 0 ? [] : cells[n.Value]);

        private bool Passes(IReadOnlyList<List<Token>> cells, Dictionary<Symbol, int> named, Dictionary<string, List<Token>> options)
        {
            Dictionary<Symbol, List<Token>> values = Values(named, cells);
            foreach ((string name, bool equal) in (ReadOnlySpan<(string, bool)>)[("filter equal", true), ("filter not equal", false), ("filter strcmp", true), ("filter not strcmp", false)])
            {
                if (options.TryGetValue(name, out List<Token>? pair))
                {
                    List<List<Token>> two = Groups(pair);
                    string one = builder.Machine.ExpandToText(Replace(two.ElementAtOrDefault(0) ?? [], values)).Trim();
                    string other = builder.Machine.ExpandToText(Replace(two.ElementAtOrDefault(1) ?? [], values)).Trim();
                    if (one == other != equal)
                    {
                        return false;
                    }
                }
            }

            return true;
        }

        private static List<List<Token>> Groups(List<Token> tokens)
        {
            var groups = new List<List<Token>>();
            int depth = 0;
            foreach (Token token in tokens)
            {
                depth -= token.Is(Category.EndGroup) ? 1 : 0;
                if (depth > 0)
                {
                    groups[^1].Add(token);
                }

                if (token.Is(Category.BeginGroup) && depth++ == 0)
                {
                    groups.Add([]);
                }
            }

            return groups;
        }
    }

    /// <summary>The basics of datatool: databases by name, gone through row by row.</summary>
    private sealed class DataTool(DocumentBuilder builder)
    {
        private readonly Dictionary<string, DataRows> _databases = new(StringComparer.Ordinal);
        private char? _separator = ',';

        public void Define()
        {
            Machine machine = builder.Machine;
            machine.Define("DTLsetseparator", (m, t) => _separator = m.ReadText(t) is [var c, ..] ? c : ',');
            machine.Define("DTLsettabseparator", (_, _) => _separator = '\t');
            foreach (string name in (string[])["DTLloaddb", "DTLloadrawdb"])
            {
                machine.Define(name, Load);
            }

            machine.Define("DTLforeach", ForEach);
            machine.Define("DTLdisplaydb", (m, t) => Display(m, t, "tabular"));
            machine.Define("DTLdisplaylongdb", (m, t) => Display(m, t, "longtable"));
            machine.Define("DTLsort", Sort);
            machine.DefineExpandable("DTLrowcount", (m, t) => m.Push(Number(m, Find(m.ReadText(t), t)?.Rows.Count ?? 0, t.Position)));
            machine.DefineExpandable("DTLcolumncount", (m, t) => m.Push(Number(m, Find(m.ReadText(t), t)?.Columns.Count ?? 0, t.Position)));
        }

        private void Load(Machine machine, Token token)
        {
            List<ListedOption> options = ListedOption.Of(machine, machine.ReadOptional(token));
            string name = machine.ReadText(token);
            List<Token> file = machine.ReadArgument(token);
            bool noHead = options.Exists(o => o.Key == "noheader" && o.IsOn(machine));
            if (builder.DataTables.ReadData(file, token, _separator, !noHead) is { } data)
            {
                if (options.Find(o => o.Key == "keys") is { Value: { } keys })
                {
                    string[] names = PreambleCommands.Split(machine.ExpandToText(keys));
                    data = data with { Columns = [.. data.Columns.Select((c, i) => i < names.Length ? names[i] : c)] };
                }

                _databases[name] = data;
            }
        }

        private DataRows? Find(string name, Token token)
        {
            if (_databases.TryGetValue(name, out DataRows? data))
            {
                return data;
            }

            string? near = NearestName.Find(name, [.. _databases.Keys]);
            builder.Findings.Fix("unknown-database", token.Position, token.Length, $"No data were loaded under the name “{name}”.",
                near is null ? "Load them first: \\DTLloaddb{" + name + "}{file.csv}" : $"Did you mean “{near}”?");
            return null;
        }

        private int? Column(DataRows data, string name, int position, int length)
        {
            int at = data.Columns.ToList().IndexOf(name);
            if (at >= 0)
            {
                return at;
            }

            string? near = NearestName.Find(name, data.Columns);
            builder.Findings.Fix("unknown-column", position, length, $"The data have no column “{name}”.",
                near is null ? "Their columns are: " + string.Join(", ", data.Columns) + "." : $"Did you mean “{near}”?");
            return null;
        }

        private void ForEach(Machine machine, Token token)
        {
            machine.TakeStar();
            List<Token>? condition = machine.ReadOptional(token);
            string name = machine.ReadText(token);
            List<ListedOption> assignments = Assignments(machine, machine.ReadArgument(token));
            List<Token> body = machine.ReadArgument(token);
            if (Find(name, token) is not { } data)
            {
                return;
            }

            var columns = new Dictionary<Symbol, int>();
            foreach (ListedOption pair in assignments)
            {
                if (pair.Source is [{ Symbol: { } symbol }, ..] && Column(data, pair.Text(machine), pair.Position, pair.Length) is { } at)
                {
                    columns[symbol] = at;
                }
            }

            var result = new List<Token>();
            for (int row = 0; row < data.Rows.Count; row++)
            {
                var values = columns.ToDictionary(c => c.Key, c => data.Rows[row][c.Value]);
                values[machine.Symbol("DTLcurrentindex")] = Number(machine, row + 1, token.Position);
                values[machine.Symbol("theDTLrowi")] = Number(machine, row + 1, token.Position);
                values[machine.Symbol("DTLiffirstrow")] = Choice(row == 0);
                values[machine.Symbol("DTLiflastrow")] = Choice(row == data.Rows.Count - 1);
                values[machine.Symbol("DTLifoddrow")] = Choice(row % 2 == 0);
                List<Token> set = Replace(body, values);
                result.AddRange(condition is null
                    ? set
                    : [Token.Command(machine.Symbol("ifthenelse"), token.Position), .. TokenLists.Braced(Replace(condition, values), token.Position), .. TokenLists.Braced(set, token.Position), .. TokenLists.Braced([], token.Position)]);
            }

            machine.Push(result);

            List<Token> Choice(bool yes) => [Token.Command(machine.Symbol(yes ? "@firstoftwo" : "@secondoftwo"), token.Position)];
        }

        // The key of each pair is a command that must not be expanded.
        private static List<ListedOption> Assignments(Machine machine, List<Token> list)
        {
            var result = new List<ListedOption>();
            foreach (List<Token> member in TokenLists.SplitAtCommas(list))
            {
                List<Token> tokens = TokenLists.TrimSpaces(member);
                int sign = tokens.FindIndex(t => t.IsCharacter('='));
                if (sign > 0)
                {
                    List<Token> value = TokenLists.TrimSpaces(tokens.GetRange(sign + 1, tokens.Count - sign - 1));
                    result.Add(new ListedOption("", value, tokens, value.Count > 0 ? value[0].Position : tokens[0].Position, Math.Max(1, value.Count)));
                }
            }

            return result;
        }

        private void Display(Machine machine, Token token, string environment)
        {
            string[] omitted = machine.ReadOptional(token) is { } list ? PreambleCommands.Split(machine.ExpandToText(list)) : [];
            if (Find(machine.ReadText(token), token) is not { } data)
            {
                return;
            }

            int[] columns = [.. Enumerable.Range(0, data.Columns.Count).Where(c => !omitted.Contains(data.Columns[c]))];
            // Columns of nothing but numbers stand flush right.
            string kinds = string.Concat(columns.Select(c => data.Rows.All(r => machine.ExpandToText(r[c]) is var v && (v.Length == 0 || double.TryParse(v, NumberStyles.Float, CultureInfo.InvariantCulture, out _))) ? 'r' : 'l'));
            var result = new List<Token>(machine.Tokenize($"\\begin{{{environment}}}{{{kinds}}}", token.Position));
            if (data.Head is { } head)
            {
                AddRow(c => [.. machine.Tokenize("\\textbf", token.Position), .. TokenLists.Braced(head[c], token.Position)]);
                if (environment == "longtable")
                {
                    result.AddRange(machine.Tokenize("\\endhead ", token.Position));
                }
            }

            foreach (IReadOnlyList<List<Token>> row in data.Rows)
            {
                AddRow(c => row[c]);
            }

            result.AddRange(machine.Tokenize($"\\end{{{environment}}}", token.Position));
            machine.Push(result);

            void AddRow(Func<int, List<Token>> cell)
            {
                for (int i = 0; i < columns.Length; i++)
                {
                    result.AddRange(i > 0 ? machine.Tokenize("&", token.Position) : []);
                    result.AddRange(cell(columns[i]));
                }

                result.AddRange(machine.Tokenize("\\\\", token.Position));
            }
        }

        private void Sort(Machine machine, Token token)
        {
            machine.TakeStar();
            machine.ReadOptional(token);
            List<ListedOption> keys = ListedOption.Of(machine, machine.ReadArgument(token));
            string name = machine.ReadText(token);
            if (Find(name, token) is not { } data)
            {
                return;
            }

            IEnumerable<IReadOnlyList<List<Token>>> rows = data.Rows;
            foreach (ListedOption key in Enumerable.Reverse(keys))
            {
                if (Column(data, key.Key, key.Position, key.Length) is { } at)
                {
                    string Text(IReadOnlyList<List<Token>> row) => machine.ExpandToText(row[at]);
                    bool numeric = data.Rows.All(r => double.TryParse(Text(r), NumberStyles.Float, CultureInfo.InvariantCulture, out _));
                    rows = numeric
                        ? rows.OrderBy(r => double.Parse(Text(r), NumberStyles.Float, CultureInfo.InvariantCulture))
                        : rows.OrderBy(Text, StringComparer.InvariantCultureIgnoreCase);
                    rows = key.Text(machine).StartsWith("desc", StringComparison.Ordinal) ? [.. rows.Reverse()] : [.. rows];
                }
            }

            _databases[name] = data with { Rows = [.. rows] };
        }
    }
}
