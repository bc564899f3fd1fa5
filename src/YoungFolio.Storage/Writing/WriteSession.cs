namespace YoungFolio.Storage;

/// <summary>What a piece of work may use while it is carried out.</summary>
public sealed class WriteSession
{
    private readonly Scribe _scribe;
    private readonly Dictionary<int, LiveText> _ownTexts = [];
    private readonly List<StoreChange> _ownChanges = [];

    internal WriteSession(FolioDatabase database, Scribe scribe)
    {
        Database = database;
        _scribe = scribe;
    }

    /// <summary>The database, in a transaction.</summary>
    public FolioDatabase Database { get; }

    internal Dictionary<int, LiveText> Texts { get; } = [];

    internal List<StoreChange> Changes { get; } = [];

    /// <summary>A text as it is now, what this transaction did to it included.</summary>
    public async Task<LiveText> TextAsync(int part) =>
        _ownTexts.TryGetValue(part, out LiveText? own) ? own
        : Texts.TryGetValue(part, out LiveText? other) ? other
        : _scribe.Known(part) ?? await TextLog.ReadAsync(Database, part);

    /// <summary>Says what a text is from now on.</summary>
    public void SetText(int part, LiveText text) => _ownTexts[part] = text;

    /// <summary>Says what has to be told when it is stored.</summary>
    public void Tell(StoreChange change)
    {
        if (change is TextChanged || !_ownChanges.Contains(change))
        {
            _ownChanges.Add(change);
        }
    }

    internal void Begin()
    {
        _ownTexts.Clear();
        _ownChanges.Clear();
    }

    internal void Accept()
    {
        foreach ((int part, LiveText text) in _ownTexts)
        {
            Texts[part] = text;
        }

        Changes.AddRange(_ownChanges);
    }
}
