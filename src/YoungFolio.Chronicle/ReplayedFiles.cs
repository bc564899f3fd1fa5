using YoungFolio.Cowriting;

namespace YoungFolio.Chronicle;

/// <summary>A file as it was at a step of the log.</summary>
/// <param name="Path">Its path.</param>
/// <param name="Text">Its text; null when it isn't text.</param>
/// <param name="Digest">What isn't text, by its digest.</param>
public sealed record ReplayedFile(string Path, string? Text, string? Digest);

/// <summary>The files of a manuscript, step by step from the beginning of its log.</summary>
public sealed class ReplayedFiles
{
    private readonly SortedDictionary<int, ReplayedFile> _files = [];

    /// <summary>The files that are there, in the order in which they came.</summary>
    public IReadOnlyCollection<ReplayedFile> All => _files.Values;

    /// <summary>A file by its identity; null when it isn't there.</summary>
    public ReplayedFile? Find(int file) => _files.GetValueOrDefault(file);

    /// <summary>Reads a step of the log.</summary>
    /// <param name="step">The step; steps come in order.</param>
    /// <param name="text">Of a text that is new or there again: its words.</param>
    /// <exception cref="ChangeSetException">The log doesn't fit its texts.</exception>
    public void Read(HistoryStep step, string? text)
    {
        ArgumentNullException.ThrowIfNull(step);
        if (step.File is not { } file)
        {
            return;
        }

        string[] payload = step.Kind == RevisionKind.Text ? [] : step.Payload.Split('\n');
        switch (step.Kind)
        {
            case RevisionKind.Text:
                _files[file] = _files[file] with { Text = ChangeSet.FromJson(step.Payload).Apply(_files[file].Text ?? "") };
                break;
            case RevisionKind.Create or RevisionKind.BringBack:
                _files[file] = new ReplayedFile(payload[0], text, payload.ElementAtOrDefault(1));
                break;
            case RevisionKind.Rename:
                _files[file] = _files[file] with { Path = payload[0] };
                break;
            case RevisionKind.Upload:
                _files[file] = _files[file] with { Digest = payload[0] };
                break;
            case RevisionKind.Delete:
                _files.Remove(file);
                break;
        }
    }
}
