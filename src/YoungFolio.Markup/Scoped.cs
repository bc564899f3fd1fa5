namespace YoungFolio.Markup;

/// <summary>Something that an assignment changes and the end of a group puts back.</summary>
public abstract class Scoped
{
    /// <summary>Depth of the group in which the value was last set; 0 outside all groups.</summary>
    internal int Level { get; set; }

    /// <summary>Told of each change, where somebody must know.</summary>
    internal Action? Changed { get; set; }

    internal abstract object? Save();

    internal abstract void Restore(object? saved);
}

/// <summary>A value that belongs to a group. Set it through <see cref="Machine.Assign{T}"/>.</summary>
/// <typeparam name="T">Type of the value.</typeparam>
public sealed class Scoped<T>(T initial) : Scoped
{
    /// <summary>The value now.</summary>
    public T Value { get; internal set; } = initial;

    internal override object? Save() => Value;

    internal override void Restore(object? saved)
    {
        Value = (T)saved!;
        Changed?.Invoke();
    }
}

/// <summary>What opened a group.</summary>
public enum GroupKind
{
    /// <summary>A brace in the source.</summary>
    Brace,

    /// <summary><c>\begingroup</c>, or a group that a built-in command opened.</summary>
    Command,

    /// <summary>An environment.</summary>
    Environment,

    /// <summary>A formula.</summary>
    Formula,

    /// <summary>A cell of a table.</summary>
    Cell,
}

/// <summary>An open group.</summary>
public sealed class Group
{
    internal Group(GroupKind kind, string name, int position, int saveStart)
    {
        Kind = kind;
        Name = name;
        Position = position;
        SaveStart = saveStart;
    }

    /// <summary>What opened it.</summary>
    public GroupKind Kind { get; }

    /// <summary>The environment's name; empty for other groups.</summary>
    public string Name { get; }

    /// <summary>Position of what opened it.</summary>
    public int Position { get; }

    internal int SaveStart { get; }

    /// <summary>Tokens read again after the group.</summary>
    internal List<Token>? After { get; set; }

    /// <summary>Called when the group ends, before its assignments are undone.</summary>
    public Action? Ending { get; set; }
}
