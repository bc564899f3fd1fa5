namespace YoungFolio.Cowriting;

/// <summary>
/// A file as one writer has it: the shared text with the writer's own changes that aren't stored yet. It is what
/// <c>web/src/live/workingCopy.ts</c> is in the browser; scripts and tests write with it.
/// </summary>
/// <param name="clientId">The writer's tab; no other may have the same.</param>
/// <param name="version">Version of the text.</param>
/// <param name="text">The text.</param>
public sealed class WorkingCopy(string clientId, int version, string text)
{
    private readonly List<Update> _unsent = [];
    private string _clientId = clientId;

    /// <summary>The text with one's own changes.</summary>
    public string Text { get; private set; } = text;

    /// <summary>How much of the shared history is in it.</summary>
    public int Version { get; private set; } = version;

    /// <summary>Own changes that the server hasn't confirmed, made on <see cref="Version"/>.</summary>
    public IReadOnlyList<Update> Unsent => _unsent;

    /// <summary>Where the writer's cursor is; it moves as others write.</summary>
    public int Cursor { get; private set; }

    /// <summary>Puts the cursor somewhere.</summary>
    public void MoveTo(int position) => Cursor = Math.Clamp(position, 0, Text.Length);

    /// <summary>Types at the cursor.</summary>
    public void Type(string words)
    {
        Make(ChangeSet.Replace(Text.Length, Cursor, Cursor, words));
        Cursor += words.Length;
    }

    /// <summary>Takes out characters before the cursor.</summary>
    public void Erase(int count)
    {
        int from = Math.Max(0, Cursor - count);
        Make(ChangeSet.Replace(Text.Length, from, Cursor, ""));
        Cursor = from;
    }

    /// <summary>Makes a change of one's own; what changes nothing isn't one.</summary>
    public void Make(ChangeSet changes)
    {
        if (changes.IsEmpty)
        {
            return;
        }

        Text = changes.Apply(Text);
        _unsent.Add(new Update(_clientId, changes));
    }

    /// <summary>Goes on under another tab's name, with all that isn't confirmed: another writer uses the one it had.</summary>
    public void TakeName(string another)
    {
        _clientId = another;
        for (int i = 0; i < _unsent.Count; i++)
        {
            _unsent[i] = _unsent[i] with { ClientId = another };
        }
    }

    /// <summary>Takes in what comes next in the shared history; one's own changes in it are confirmed by it.</summary>
    public void Receive(IReadOnlyList<Update> updates)
    {
        ChangeSet? all = null;
        foreach (Update update in updates)
        {
            Version++;
            // Another writer in this tab's name confirms nothing of one's own.
            if (_unsent is [var own, ..] && update.ClientId == own.ClientId && update.Changes.IsSameAs(own.Changes))
            {
                _unsent.RemoveAt(0);
                continue;
            }

            ChangeSet over = Authority.CarryOver(_unsent, update.Changes);
            Cursor = over.MapPosition(Cursor);
            all = all is null ? over : all.Compose(over);
        }

        Text = all?.Apply(Text) ?? Text;
    }
}
