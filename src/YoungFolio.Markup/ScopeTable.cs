namespace YoungFolio.Markup;

/// <summary>The open groups, and what each assignment in them is to be put back to.</summary>
public sealed class ScopeTable(Machine machine)
{
    private const int GroupDepthLimit = 2_000;
    private readonly List<Group> _groups = [];

    private readonly List<(Scoped Target, object? Saved, int Level)> _saved = [];

    /// <summary>The open groups, outermost first.</summary>
    public IReadOnlyList<Group> Groups => _groups;

    /// <summary>Sets a value in the present group, or in all.</summary>
    public void Assign<T>(Scoped<T> target, T value, bool global = false)
    {
        if (global)
        {
            target.Level = 0;
        }
        else if (target.Level != _groups.Count)
        {
            _saved.Add((target, target.Save(), target.Level));
            target.Level = _groups.Count;
        }

        target.Value = value;
        target.Changed?.Invoke();
    }

    /// <summary>Opens a group.</summary>
    public Group BeginGroup(GroupKind kind, string name, int position)
    {
        if (_groups.Count >= GroupDepthLimit)
        {
            throw new MarkupLimitException("nested-too-deep", "Groups are nested more than 2,000 deep here.", position);
        }

        var group = new Group(kind, name, position, _saved.Count);
        _groups.Add(group);
        return group;
    }

    /// <summary>Closes the innermost group and undoes its assignments.</summary>
    public void EndGroup()
    {
        if (_groups.Count == 0)
        {
            return;
        }

        Group group = _groups[^1];
        group.Ending?.Invoke();
        _groups.RemoveAt(_groups.Count - 1);
        for (int i = _saved.Count - 1; i >= group.SaveStart; i--)
        {
            (Scoped target, object? saved, int level) = _saved[i];
            // A global assignment inside the group (level 0) stays.
            if (target.Level != 0)
            {
                target.Restore(saved);
                target.Level = level;
            }
        }

        _saved.RemoveRange(group.SaveStart, _saved.Count - group.SaveStart);
        if (group.After is { } after)
        {
            machine.Push(after);
        }
    }

    internal void DefineGroups()
    {
        machine.Define("relax", static (_, _) => { });
        machine.Define("par", static (_, _) => { });
        machine.Define("begingroup", static (m, t) => m.BeginGroup(GroupKind.Command, "", t.Position));
        machine.Define("endgroup", static (m, t) =>
        {
            if (m.Groups.Count > 0 && m.Groups[^1].Kind == GroupKind.Command)
            {
                m.EndGroup();
            }
        });
        machine.DefineMeaning("bgroup", new CharacterMeaning('{', Category.BeginGroup));
        machine.DefineMeaning("egroup", new CharacterMeaning('}', Category.EndGroup));
        machine.Define("aftergroup", static (m, t) =>
        {
            Token token = m.Next();
            if (m.Groups.Count > 0)
            {
                (m.Groups[^1].After ??= []).Add(token);
            }
        });
    }
}
