using System.Text;

namespace YoungFolio.Bibliography;

/// <summary>One run of a style's program over the sources of a list: its stack, its variables, and what it writes.</summary>
internal sealed class StyleRun
{
    // What nobody's style reaches on purpose: a loop without an end, a text that doubles itself.
    private const int MostSteps = 1_000_000;
    private const int MostStepsOfOne = 30_000;
    private const int MostStepsOfCharacter = 60;
    private const int MostDeep = 400;
    private const int MostValues = 20_000;
    private const int LongestText = 4_000_000;

    private readonly StyleProgram _program;
    private readonly IReadOnlyList<BibEntry> _cited;
    private readonly string[] _strings;
    private readonly int[] _integers;
    private readonly List<StyleValue> _stack = [];
    private readonly StringBuilder _written = new();
    private readonly Dictionary<string, IReadOnlyList<PersonName>> _names = new(StringComparer.Ordinal);
    private readonly Action _look;
    private readonly long _mostSteps;
    private IReadOnlyList<string>? _letters;
    private List<StyleEntry> _entries = [];
    private int _steps;
    private int _depth;

    private StyleRun(StyleProgram program, IReadOnlyList<BibEntry> cited, BibliographyStyle style, SourceWords words, string preamble, Action look)
    {
        Style = style;
        _program = program;
        _cited = cited;
        _look = look;
        Words = words;
        Preamble = preamble;
        // What styles go through letter by letter, or name by name, takes as long as it is.
        _mostSteps = MostSteps + ((long)MostStepsOfOne * cited.Count) + (MostStepsOfCharacter * cited.Sum(static c => c.Fields.Values.Sum(static v => (long)v.Length)));
        _strings = new string[program.Names.Count(StyleNameKind.String)];
        Array.Fill(_strings, "");
        _integers = new int[program.Names.Count(StyleNameKind.Integer)];
    }

    /// <summary>Runs a program.</summary>
    /// <param name="program">The program.</param>
    /// <param name="cited">The sources, in the order in which they are cited.</param>
    /// <param name="style">What a style of ours is asked to do.</param>
    /// <param name="words">The language, for styles of ours.</param>
    /// <param name="preamble">What the .bib files put before the list.</param>
    /// <param name="look">Called now and then: it may end the work by an exception.</param>
    /// <returns>What it writes, and what it stumbled over: null when over nothing.</returns>
    /// <param name="letters">Letters behind years that are known already, by the sources' places; null: the program finds them.</param>
    public static (string Written, string? Slip) Of(
        StyleProgram program, IReadOnlyList<BibEntry> cited, BibliographyStyle style, SourceWords words, string preamble, Action look, IReadOnlyList<string>? letters = null)
    {
        var run = new StyleRun(program, cited, style, words, preamble, look) { _letters = letters };
        try
        {
            foreach (StyleCommand command in program.Commands)
            {
                run.Do(command);
            }
        }
        catch (StyleFailure failure)
        {
            run.Slip ??= failure.Message;
        }

        return (run._written.ToString(), run.Slip);
    }

    /// <summary>What the style is asked to do.</summary>
    public BibliographyStyle Style { get; }

    /// <summary>The language's words.</summary>
    public SourceWords Words { get; }

    /// <summary>What the .bib files put before the list.</summary>
    public string Preamble { get; }

    /// <summary>The entry that is being worked on, or null.</summary>
    public StyleEntry? Entry { get; private set; }

    /// <summary>The first thing that went wrong.</summary>
    public string? Slip { get; private set; }

    /// <summary>Notes something that is wrong; the first one is said.</summary>
    public void Say(string slip) => Slip ??= Entry is null ? slip : $"{slip} (at {Entry.Source.Key})";

    private void Do(StyleCommand command)
    {
        switch (command.Kind)
        {
            case StyleCommandKind.Read:
                _entries = [.. StyleEntry.Of(_program, _cited, Words)];
                if (_letters is not null && _program.Names.Find("extra.label") is { Kind: StyleNameKind.EntryString } letter)
                {
                    for (int i = 0; i < _letters.Count; i++)
                    {
                        _entries[i].Strings[letter.Place] = _letters[i];
                    }
                }

                break;
            case StyleCommandKind.Sort:
                // Stable, by the characters' numbers, as the sorting of 1988 is.
                _entries = [.. _entries.OrderBy(e => e.SortKey, StringComparer.Ordinal)];
                break;
            case StyleCommandKind.Execute:
                Run(command.Function!);
                break;
            default:
                foreach (StyleEntry entry in command.Kind == StyleCommandKind.Reverse ? _entries.AsEnumerable().Reverse() : _entries)
                {
                    _look();
                    Entry = entry;
                    Run(command.Function!);
                }

                Entry = null;
                break;
        }

        _stack.Clear();
    }

    // ---- steps ------------------------------------------------------------------------------------------------

    private void Run(IReadOnlyList<StyleStep> steps)
    {
        if (++_depth > MostDeep)
        {
            throw new StyleFailure("Its functions call one another without an end.");
        }

        foreach (StyleStep step in steps)
        {
            if (++_steps > _mostSteps)
            {
                throw new StyleFailure("It doesn't come to an end.");
            }

            if (_steps % 4096 == 0)
            {
                _look();
            }

            if (step is PushStep push)
            {
                Push(push.Value);
            }
            else
            {
                Run(((NameStep)step).Name);
            }
        }

        _depth--;
    }

    /// <summary>Does what a name means: a function runs, a variable gives its value.</summary>
    public void Run(StyleName name)
    {
        switch (name.Kind)
        {
            case StyleNameKind.BuiltIn:
                name.BuiltIn!(this);
                break;
            case StyleNameKind.Function:
                Run(name.Body);
                break;
            case StyleNameKind.Integer:
                Push(_integers[name.Place]);
                break;
            case StyleNameKind.String:
                Push(_strings[name.Place]);
                break;
            case StyleNameKind.Field:
                Push(Entry is { } e && e.Fields[name.Place] is { } value ? value : default(StyleValue));
                break;
            case StyleNameKind.EntryInteger:
                Push(Entry?.Integers[name.Place] ?? 0);
                break;
            case StyleNameKind.EntryString:
                Push(Entry?.Strings[name.Place] ?? "");
                break;
            default:
                Say($"“{name.Text}” is no function of this style.");
                break;
        }
    }

    /// <summary>Runs a function that lies on the stack.</summary>
    public void Run(StyleValue function)
    {
        if (function.Body is { } body)
        {
            Run(body);
        }
        else if (function.Function is { } name)
        {
            Run(name);
        }
        else
        {
            Say("A function is missing.");
        }
    }

    /// <summary>Runs the function of the entry's type, or the one for types without.</summary>
    public void RunType()
    {
        if (Entry is not null && (_program.Names.Find(Entry.Type) ?? _program.Names.Find("default.type")) is { } function)
        {
            Run(function);
        }
    }

    /// <summary>Gives a variable a value.</summary>
    public void Assign(StyleName? name, StyleValue value)
    {
        switch (name?.Kind)
        {
            case StyleNameKind.Integer:
                _integers[name.Place] = value.Number ?? 0;
                break;
            case StyleNameKind.String:
                _strings[name.Place] = value.Text ?? "";
                break;
            case StyleNameKind.EntryInteger when Entry is not null:
                Entry.Integers[name.Place] = value.Number ?? 0;
                break;
            case StyleNameKind.EntryString when Entry is not null:
                Entry.Strings[name.Place] = value.Text ?? "";
                break;
            default:
                Say("A value has no variable to go to.");
                break;
        }
    }

    // ---- the stack --------------------------------------------------------------------------------------------

    /// <summary>Puts a value on the stack.</summary>
    public void Push(StyleValue value)
    {
        if (_stack.Count >= MostValues || value.Content?.Length > LongestText)
        {
            throw new StyleFailure("Its texts grow without an end.");
        }

        _stack.Add(value);
    }

    /// <summary>Takes the topmost value; a missing one when there is none.</summary>
    public StyleValue Pop()
    {
        if (_stack.Count == 0)
        {
            Say("A value is missing.");
            return default;
        }

        StyleValue value = _stack[^1];
        _stack.RemoveAt(_stack.Count - 1);
        return value;
    }

    /// <summary>Takes a number; 0 when it is none.</summary>
    public int PopNumber()
    {
        StyleValue value = Pop();
        if (value.Number is null)
        {
            Say("A number is missing.");
        }

        return value.Number ?? 0;
    }

    /// <summary>Takes a text; an empty one for a field that isn't there.</summary>
    public string PopText()
    {
        StyleValue value = Pop();
        if (value.Text is null && !value.IsMissing)
        {
            Say("A text is missing.");
        }

        return value.Text ?? "";
    }

    /// <summary>Empties the stack.</summary>
    public void Clear() => _stack.Clear();

    /// <summary>Writes a text.</summary>
    public void Write(string text)
    {
        _written.Append(text);
        if (_written.Length > 4L * LongestText)
        {
            throw new StyleFailure("It writes without an end.");
        }
    }

    /// <summary>The names of a list; read once.</summary>
    public IReadOnlyList<PersonName> NamesOf(string list)
    {
        if (!_names.TryGetValue(list, out IReadOnlyList<PersonName>? known))
        {
            _names[list] = known = PersonName.ReadList(list);
        }

        return known;
    }

    // Ends a run whose style goes on without an end.
    private sealed class StyleFailure(string message) : Exception(message);
}
