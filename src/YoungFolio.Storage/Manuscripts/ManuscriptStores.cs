using Microsoft.EntityFrameworkCore;

namespace YoungFolio.Storage;

/// <summary>What is stored of manuscripts, put together.</summary>
public sealed class ManuscriptStores
{
    private readonly ContentStore _contents;

    /// <summary>Puts it together.</summary>
    public ManuscriptStores(IDbContextFactory<FolioDatabase> databases, WriteQueue writeQueue, RoleCache roles, TimeProvider clock)
    {
        var log = new ManuscriptLog(writeQueue, clock);
        _contents = new ContentStore(databases, writeQueue);
        Texts = new TextStore(databases, writeQueue, log);
        Files = new FileStore(databases, log, Texts, _contents);
        Manuscripts = new ManuscriptStore(databases, writeQueue, roles, log, Files, _contents, new ManuscriptEraser(databases, writeQueue, _contents));
        History = new HistoryReader(databases);
        Suggestions = new SuggestionStore(Texts, log);
        TypedNotes = new TypedNoteStore(Texts, log);
    }

    /// <summary>Manuscripts.</summary>
    public ManuscriptStore Manuscripts { get; }

    /// <summary>Their files.</summary>
    public FileStore Files { get; }

    /// <summary>Their texts.</summary>
    public TextStore Texts { get; }

    /// <summary>The log, and what was.</summary>
    public HistoryReader History { get; }

    /// <summary>Suggestions that are taken and declined.</summary>
    public SuggestionStore Suggestions { get; }

    /// <summary>Notes that go from the text into the margin, and back.</summary>
    public TypedNoteStore TypedNotes { get; }

    /// <summary>Erases what was being brought in when the server ended; before anyone comes.</summary>
    public Task TidyAsync() => _contents.EraseUnfinishedAsync();
}
