using System.Data.Common;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Storage;
using YoungFolio.Cowriting;

namespace YoungFolio.Storage;

/// <summary>What a piece of work may use while it is carried out.</summary>
public sealed class WriteSession : IDisposable
{
    private readonly WriteQueue _writeQueue;
    private readonly Dictionary<int, LiveText> _ownTexts = [];
    private readonly List<StoreChange> _ownChanges = [];
    private readonly List<Func<WriteSession, Task>> _ownLater = [];
    private DbCommand? _insertRevision;

    internal WriteSession(FolioDatabase database, WriteQueue writeQueue)
    {
        Database = database;
        _writeQueue = writeQueue;
    }

    /// <summary>The database, in a transaction.</summary>
    public FolioDatabase Database { get; }

    internal Dictionary<int, LiveText> Texts { get; } = [];

    internal List<StoreChange> Changes { get; } = [];

    internal List<Func<WriteSession, Task>> Later { get; } = [];

    /// <summary>A text as it is now, what this transaction did to it included.</summary>
    public async Task<LiveText> TextAsync(int file) =>
        _ownTexts.TryGetValue(file, out LiveText? own) ? own
        : Texts.TryGetValue(file, out LiveText? other) ? other
        : _writeQueue.Known(file) ?? await TextLog.ReadAsync(Database, file);

    /// <summary>What was typed into a text after a version, by this transaction too.</summary>
    /// <param name="file">The file.</param>
    /// <param name="text">Its text now.</param>
    /// <param name="version">A version of it.</param>
    public async Task<IReadOnlyList<Update>> SinceAsync(int file, LiveText text, int version)
    {
        int missed = text.Version - version;
        return missed <= text.Recent.Count ? [.. text.Recent.Skip(text.Recent.Count - missed)] : await TextLog.SinceAsync(Database, file, version);
    }

    /// <summary>
    /// Adds a step of typing to the log, at once: whoever reads the log in this transaction finds it there, and thousands of
    /// them cost little.
    /// </summary>
    public void AddToLog(Revision revision)
    {
        if (_insertRevision is null)
        {
            _insertRevision = Database.Database.GetDbConnection().CreateCommand();
            _insertRevision.Transaction = Database.Database.CurrentTransaction!.GetDbTransaction();
            _insertRevision.CommandText = """
                INSERT INTO Revisions (ManuscriptId, Number, PersonId, TokenId, At, Kind, FileId, FileVersion, ClientId, Payload, Act)
                VALUES ($0, $1, $2, $3, $4, $5, $6, $7, $8, $9, $10)
                """;
            for (int i = 0; i < 11; i++)
            {
                DbParameter parameter = _insertRevision.CreateParameter();
                parameter.ParameterName = FormattableString.Invariant($"${i}");
                _insertRevision.Parameters.Add(parameter);
            }
        }

        object?[] values =
        [
            revision.ManuscriptId, revision.Number, revision.PersonId, revision.TokenId, revision.At, revision.Kind,
            revision.FileId, revision.FileVersion, revision.ClientId, revision.Payload, revision.Act,
        ];
        for (int i = 0; i < values.Length; i++)
        {
            _insertRevision.Parameters[i].Value = values[i] ?? DBNull.Value;
        }

        _insertRevision.ExecuteNonQuery();
    }

    /// <inheritdoc/>
    public void Dispose() => _insertRevision?.Dispose();

    /// <summary>Says what a text is from now on.</summary>
    public void SetText(int file, LiveText text) => _ownTexts[file] = text;

    /// <summary>Says what has to be told when it is stored.</summary>
    public void Tell(StoreChange change)
    {
        if (change is TextChanged || !_ownChanges.Contains(change))
        {
            _ownChanges.Add(change);
        }
    }

    /// <summary>Says what is to be stored after this, when nobody waits for it: what only makes reading faster.</summary>
    public void After(Func<WriteSession, Task> what) => _ownLater.Add(what);

    internal void Begin()
    {
        _ownLater.Clear();
        _ownTexts.Clear();
        _ownChanges.Clear();
    }

    internal void Accept()
    {
        foreach ((int file, LiveText text) in _ownTexts)
        {
            Texts[file] = text;
        }

        Changes.AddRange(_ownChanges);
        Later.AddRange(_ownLater);
    }
}
