using System.Globalization;

namespace YoungFolio.Markup;

/// <summary>Counters (Lamport, section 6.3): their values, what resets them, how they print.</summary>
public sealed class CounterTable(Machine machine)
{
    private readonly Dictionary<string, List<string>> _resetWith = new(StringComparer.Ordinal);

    internal void DefineCounters()
    {
        machine.Define("newcounter", static (m, t) =>
        {
            string name = m.ReadText(t);
            m.Counters.Add(name, m.ReadOptionalText(t));
        });
        machine.Define("setcounter", (_, t) => ChangeCounter(t, static (_, value) => value));
        machine.Define("addtocounter", (_, t) => ChangeCounter(t, static (old, value) => old + value));
        machine.Define("stepcounter", (m, t) => Step(m.ReadText(t), t));
        machine.Define("@addtoreset", (m, t) => ResetWith(m.ReadText(t), m.ReadText(t)));
        machine.Define("counterwithin", static (m, t) =>
        {
            bool star = m.TakeStar();
            string name = m.ReadText(t);
            string within = m.ReadText(t);
            m.Counters.ResetWith(name, within);
            if (!star)
            {
                m.Counters.SetFormat(name, $"\\the{within}.\\arabic{{{name}}}");
            }
        });
        machine.DefineExpandable("value", static (m, t) =>
        {
            string counter = m.ReadText(t);
            if (m.Counters.Require(counter, t) is not null)
            {
                m.PutBack(Token.Command(m.Symbol("c@" + counter), t.Position));
            }
        });
        DefineCounterFormat("arabic", static n => n.ToString(CultureInfo.InvariantCulture));
        DefineCounterFormat("roman", Numerals.Roman);
        DefineCounterFormat("Roman", static n => Numerals.Roman(n).ToUpperInvariant());
        DefineCounterFormat("alph", Numerals.Letter);
        DefineCounterFormat("Alph", static n => Numerals.Letter(n)?.ToUpperInvariant());
        DefineCounterFormat("fnsymbol", Numerals.FootnoteSign);
        machine.Define("counterwithout", static (m, t) =>
        {
            bool star = m.TakeStar();
            string name = m.ReadText(t);
            m.Counters.RemoveReset(name, m.ReadText(t));
            if (!star)
            {
                m.Counters.SetFormat(name, $"\\arabic{{{name}}}");
            }
        });
        machine.Define("@removefromreset", (m, t) => RemoveReset(m.ReadText(t), m.ReadText(t)));
        machine.Define("numberwithin", static (m, t) =>
        {
            string format = m.ReadOptional(t) is { } f ? f.ToSource() : "\\arabic";
            string counter = m.ReadText(t);
            string within = m.ReadText(t);
            if (m.Counters.Require(counter, t) is not null && m.Counters.Require(within, t) is not null)
            {
                m.Counters.ResetWith(counter, within);
                m.Counters.SetFormat(counter, $"\\the{within}.{format}{{{counter}}}");
            }
        });
    }

    private void RemoveReset(string name, string within)
    {
        if (_resetWith.TryGetValue(within, out List<string>? list))
        {
            list.Remove(name);
        }
    }

    /// <summary>Told of each counter that is set or stepped, with its new value.</summary>
    public Action<string, int>? Changed { get; set; }

    /// <summary>Counters whose value is known only when pages are made (<c>page</c>); the command shows them then.</summary>
    public Func<string, string, Token, bool>? ShowLater { get; set; }

    /// <summary>Makes a counter, with <c>\the…</c> in arabic figures.</summary>
    public void Add(string name, string? within = null)
    {
        machine.Registers.NamedCount("c@" + name);
        SetFormat(name, $"\\arabic{{{name}}}");
        machine.Definitions.DefineMacro("p@" + name, "");
        if (within is not null)
        {
            ResetWith(name, within);
        }
    }

    /// <summary>Sets how a counter prints.</summary>
    public void SetFormat(string counter, string markup) => machine.Definitions.DefineMacro("the" + counter, markup);

    /// <summary>The counter of this name, or null.</summary>
    public Scoped<int>? Find(string name) =>
        machine.Symbols.MeaningOf("c@" + name) is RegisterMeaning<int> counter ? counter.Register : null;

    /// <summary>Has a counter return to 0 whenever another is stepped.</summary>
    public void ResetWith(string name, string within)
    {
        if (!_resetWith.TryGetValue(within, out List<string>? list))
        {
            _resetWith[within] = list = [];
        }

        if (!list.Contains(name))
        {
            list.Add(name);
        }
    }

    /// <summary>Adds one to a counter and sets those that depend on it to 0.</summary>
    public void Step(string name, Token command)
    {
        if (Require(name, command) is { } counter)
        {
            machine.Assign(counter, counter.Value + 1, true);
            Changed?.Invoke(name, counter.Value);
            ResetDependents(name, 0);
        }
    }

    /// <summary>The counter of this name; null, with a finding, when there is none.</summary>
    public Scoped<int>? Require(string name, Token command)
    {
        Scoped<int>? counter = Find(name);
        if (counter is null && _missingCounters.Add((name, command.Position)))
        {
            string? near = NearestName.Find(name, machine.Symbols.Names.Where(k => k.StartsWith("c@", StringComparison.Ordinal)).Select(k => k[2..]));
            machine.Findings.Fix("unknown-counter", command.Position, command.Length, $"There is no counter “{name}”.",
                near is null ? "Make it with \\newcounter first." : $"Did you mean “{near}”?");
        }

        return counter;
    }

    private readonly HashSet<(string Name, int Position)> _missingCounters = [];

    private void ResetDependents(string name, int depth)
    {
        if (depth < 20 && _resetWith.TryGetValue(name, out List<string>? dependents))
        {
            foreach (string dependent in dependents)
            {
                if (Find(dependent) is { } counter)
                {
                    machine.Assign(counter, 0, true);
                    ResetDependents(dependent, depth + 1);
                }
            }
        }
    }

    private void DefineCounterFormat(string command, Func<int, string?> format) => machine.DefineExpandable(command, (m, t) =>
    {
        string name = m.ReadText(t);
        if (m.Counters.ShowLater?.Invoke(command, name, t) == true || m.Counters.Require(name, t) is not { } counter)
        {
            return;
        }

        string? text = format(counter.Value);
        if (text is null)
        {
            m.Findings.Fix("counter-too-large", t.Position, t.Length,
                $"{t} can't show the number {counter.Value}.", "Letters go to 26 and footnote signs to 9; use \\arabic.");
        }

        m.Conversions.PushText(text ?? counter.Value.ToString(CultureInfo.InvariantCulture), t.Position);
    });

    private void ChangeCounter(Token command, Func<int, int, int> change)
    {
        string name = machine.ReadText(command);
        List<Token> value = machine.ReadArgument(command);
        if (Require(name, command) is { } counter && machine.Quantities.ParseInteger(value, command) is { } number)
        {
            machine.Assign(counter, change(counter.Value, number), true);
            Changed?.Invoke(name, counter.Value);
        }
    }
}
