using System.Globalization;

namespace YoungFolio.Bibliography;

/// <summary>
/// Reads a style's program (<em>Designing BibTeX Styles</em>, section 5). A name means what the last definition of it says, also where it
/// was used before: so a style can be another one with some functions of its own.
/// </summary>
internal sealed class StyleProgramReader
{
    private const int MostNested = 200;

    private readonly StyleNames _names = new();
    private readonly List<StyleCommand> _commands = [];
    private readonly Dictionary<string, string> _macros = new(StringComparer.OrdinalIgnoreCase);
    private readonly List<StyleProblem> _problems = [];
    private readonly List<(StyleName Name, int At)> _used = [];
    private string _text = "";
    private int _at;

    public static StyleProgram Read(IEnumerable<string> texts)
    {
        var reader = new StyleProgramReader();
        foreach ((string name, Action<StyleRun> function) in StyleFunctions.All)
        {
            StyleName known = reader._names.Of(name);
            (known.Kind, known.BuiltIn) = (StyleNameKind.BuiltIn, function);
        }

        reader._names.Declare("crossref", StyleNameKind.Field);
        reader._names.Declare("sort.key$", StyleNameKind.EntryString);
        string all = "";
        foreach (string text in texts)
        {
            (reader._text, reader._at) = (text, 0);
            reader._problems.Clear();
            reader._used.Clear();
            reader.ReadCommands();
            all += text;
        }

        reader.SayUndefined();
        return new StyleProgram(reader._names, reader._commands, reader._macros, reader._problems, LabelOf(all));
    }

    // What a list's labels are is written only when it is made; citations are read before. Of natbib's and its kin's styles all count the
    // letters behind years, or call a label what has names and a year.
    private static CitationLabel LabelOf(string text) => !text.Contains("\\bibitem[", StringComparison.Ordinal) ? CitationLabel.Number
        : text.Contains("natexlab", StringComparison.Ordinal) || text.Contains("citeauthoryear", StringComparison.Ordinal) || text.Contains("full.label", StringComparison.Ordinal)
            || text.Contains("full.names", StringComparison.Ordinal) || text.Contains("\"(\" *", StringComparison.Ordinal) ? CitationLabel.AuthorYear
        : CitationLabel.Letters;

    private void SayUndefined()
    {
        foreach ((StyleName name, int at) in _used.Where(u => u.Name.Kind == StyleNameKind.Undefined).DistinctBy(u => u.Name))
        {
            _problems.Add(new StyleProblem(at, $"“{name.Text}” is no function of this style."));
        }
    }

    private void ReadCommands()
    {
        while (SkipSpace())
        {
            int at = _at;
            string command = ReadName();
            switch (command.ToUpperInvariant())
            {
                case "ENTRY":
                    Declare(StyleNameKind.Field);
                    Declare(StyleNameKind.EntryInteger);
                    Declare(StyleNameKind.EntryString);
                    break;
                case "INTEGERS":
                    Declare(StyleNameKind.Integer);
                    break;
                case "STRINGS":
                    Declare(StyleNameKind.String);
                    break;
                case "FUNCTION":
                    StyleName function = _names.Of(ReadGroupedName());
                    IReadOnlyList<StyleStep> body = ReadBody(0);
                    (function.Kind, function.Body) = (StyleNameKind.Function, body);
                    break;
                case "MACRO":
                    string macro = ReadGroupedName();
                    _macros[macro] = ReadGroupedText();
                    break;
                case "READ":
                    _commands.Add(new StyleCommand(StyleCommandKind.Read));
                    break;
                case "SORT":
                    _commands.Add(new StyleCommand(StyleCommandKind.Sort));
                    break;
                case "EXECUTE":
                    Act(StyleCommandKind.Execute);
                    break;
                case "ITERATE":
                    Act(StyleCommandKind.Iterate);
                    break;
                case "REVERSE":
                    Act(StyleCommandKind.Reverse);
                    break;
                default:
                    // One remark for a stretch that is no program.
                    if (_problems.Count == 0)
                    {
                        _problems.Add(new StyleProblem(at, $"“{(command.Length > 0 ? command : _text[at].ToString())}” is no command of the language of styles."));
                    }

                    _at = Math.Max(_at, at + 1);
                    break;
            }
        }
    }

    private void Act(StyleCommandKind kind)
    {
        int at = _at;
        StyleName name = _names.Of(ReadGroupedName());
        _used.Add((name, at));
        _commands.Add(new StyleCommand(kind, name));
    }

    private void Declare(StyleNameKind kind)
    {
        foreach (string name in ReadGroup(static r => r.ReadName()))
        {
            // What is declared already keeps its place.
            if (_names.Find(name)?.Kind != kind)
            {
                _names.Declare(name, kind);
            }
        }
    }

    private string ReadGroupedName() => ReadGroup(static r => r.ReadName()).FirstOrDefault() ?? "";

    private string ReadGroupedText() => string.Concat(ReadGroup(static r => r._text[r._at] == '"' ? r.ReadQuoted() : r.ReadName()));

    // What stands in braces, part by part.
    private List<string> ReadGroup(Func<StyleProgramReader, string> read)
    {
        var parts = new List<string>();
        if (!Opens())
        {
            return parts;
        }

        while (SkipSpace() && _text[_at] != '}')
        {
            int before = _at;
            parts.Add(read(this));
            _at = Math.Max(_at, before + 1);
        }

        _at++;
        return parts;
    }

    private bool Opens()
    {
        if (SkipSpace() && _text[_at] == '{')
        {
            _at++;
            return true;
        }

        _problems.Add(new StyleProblem(Math.Min(_at, _text.Length), "A { is missing here."));
        return false;
    }

    private List<StyleStep> ReadBody(int depth)
    {
        var steps = new List<StyleStep>();
        int begin = _at;
        if (!Opens())
        {
            return steps;
        }

        while (SkipSpace())
        {
            int at = _at;
            switch (_text[_at])
            {
                case '}':
                    _at++;
                    return steps;
                case '{' when depth >= MostNested:
                    _problems.Add(new StyleProblem(at, "Functions are too deep in one another here."));
                    _at = _text.Length;
                    return steps;
                case '{':
                    steps.Add(new PushStep(new StyleValue(null, null, null, ReadBody(depth + 1))));
                    break;
                case '#':
                    _at++;
                    string number = ReadName();
                    if (!int.TryParse(number, NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out int value))
                    {
                        _problems.Add(new StyleProblem(at, $"“#{number}” is no number."));
                    }

                    steps.Add(new PushStep(value));
                    break;
                case '"':
                    steps.Add(new PushStep(ReadQuoted()));
                    break;
                case '\'':
                    _at++;
                    StyleName quoted = _names.Of(ReadName());
                    _used.Add((quoted, at));
                    steps.Add(new PushStep(new StyleValue(null, null, quoted)));
                    break;
                default:
                    StyleName name = _names.Of(ReadName());
                    _used.Add((name, at));
                    steps.Add(new NameStep(name));
                    _at = Math.Max(_at, at + 1);
                    break;
            }
        }

        _problems.Add(new StyleProblem(Math.Min(begin, _text.Length), "A function that begins here isn't closed by }."));
        return steps;
    }

    private string ReadQuoted()
    {
        int begin = ++_at;
        int end = _text.IndexOf('"', begin);
        if (end < 0)
        {
            _problems.Add(new StyleProblem(begin - 1, "A text that begins here isn't closed by \"."));
            end = _text.Length;
        }

        _at = Math.Min(end + 1, _text.Length);
        return _text[begin..end];
    }

    private string ReadName()
    {
        int begin = _at;
        while (_at < _text.Length && !char.IsWhiteSpace(_text[_at]) && _text[_at] is not ('{' or '}' or '"' or '#' or '%' or '\''))
        {
            _at++;
        }

        return _text[begin.._at];
    }

    // Whether something comes; a remark goes from % to the line's end.
    private bool SkipSpace()
    {
        while (_at < _text.Length && (char.IsWhiteSpace(_text[_at]) || _text[_at] == '%'))
        {
            int end = _text[_at] == '%' ? _text.IndexOf('\n', _at) : _at + 1;
            _at = end < 0 ? _text.Length : end;
        }

        return _at < _text.Length;
    }
}
