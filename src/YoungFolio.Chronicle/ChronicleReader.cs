using YoungFolio.Cowriting;

namespace YoungFolio.Chronicle;

/// <summary>A file as the reader knows it.</summary>
/// <param name="Id">Identity.</param>
/// <param name="Path">Its path.</param>
/// <param name="Text">Its text; null when it isn't text.</param>
/// <param name="Authors">Who wrote it; null when it isn't text.</param>
/// <param name="IsThere">Whether it is there, or was deleted.</param>
public sealed record ReadFile(int Id, string Path, string? Text, Authorship? Authors, bool IsThere = true);

/// <summary>
/// Reads a manuscript's log into events, step by step. It goes on where it ended: with the files as they were then, and the latest events,
/// which what comes next may still belong to.
/// </summary>
/// <param name="main">The file from which compiling starts.</param>
/// <param name="files">The files as they are where it begins.</param>
/// <param name="latest">The latest events, in order.</param>
public sealed class ChronicleReader(string main, IEnumerable<ReadFile> files, IReadOnlyList<ChronicleEvent> latest)
{
    /// <summary>After a pause of this length a sitting is another one.</summary>
    public static readonly TimeSpan Pause = TimeSpan.FromMinutes(30);

    private static readonly TimeSpan s_longestSitting = TimeSpan.FromHours(4);
    private static readonly TimeSpan s_actPause = TimeSpan.FromSeconds(10);

    private const int MostPlaces = 12;
    private const int MostSaid = 60;

    // The heading is looked for anew when the cursor has gone so far.
    private const int Nearby = 24;

    private readonly Dictionary<int, Known> _files = files.ToDictionary(f => f.Id, f => new Known(f.Path, f.Text, f.Authors) { IsThere = f.IsThere });
    private readonly List<Sitting> _open = [.. latest.Select(e => new Sitting(e))];
    private readonly SortedDictionary<int, ChronicleEvent> _changed = [];
    private int _number = latest.Count == 0 ? 0 : latest.Max(e => e.Number);
    private IReadOnlyDictionary<(string, int), string?>? _numbers;

    /// <summary>The files as they are now.</summary>
    public IEnumerable<ReadFile> Files => _files.Select(f => new ReadFile(f.Key, f.Value.Path, f.Value.Text, f.Value.Authors, f.Value.IsThere));

    /// <summary>The events that are new or have changed since this was asked last, by their numbers.</summary>
    public IReadOnlyList<ChronicleEvent> Take()
    {
        foreach (Sitting sitting in _open)
        {
            Note(sitting);
        }

        ChronicleEvent[] taken = [.. _changed.Values];
        _changed.Clear();
        return taken;
    }

    /// <summary>Reads a step.</summary>
    /// <param name="step">The step; steps come in the order of their numbers.</param>
    /// <param name="text">Of a file that is new or there again: its text; null when it isn't text.</param>
    /// <exception cref="ChangeSetException">The log doesn't fit its texts.</exception>
    public void Read(HistoryStep step, string? text = null)
    {
        ArgumentNullException.ThrowIfNull(step);
        Close(step.At);
        Sitting sitting = _open.Find(s => s.Takes(step)) ?? Open(step);
        sitting.Add(step);
        // An act says what it did, whatever it did with files.
        Action<string> say = sitting.IsAct ? _ => sitting.Say(step.Act!) : sitting.Say;
        switch (step.Kind)
        {
            case RevisionKind.Text:
                Change(step, sitting);
                break;
            case RevisionKind.Create or RevisionKind.BringBack:
                string path = step.Payload.Split('\n')[0];
                // What comes back keeps its writers.
                Authorship? authors = _files.TryGetValue(step.File!.Value, out Known? gone) && gone.Text == text ? gone.Authors : text is null ? null : new Authorship(text.Length, sitting.Number);
                _files[step.File.Value] = new Known(path, text, authors);
                // The words of a sitting are counted where they stand; those of files that came are known.
                sitting.WordsBefore += !sitting.HasText && text is not null && IsProse(path) ? TypedPlaces.Words(text) : 0;
                sitting.Touch(path);
                say(path);
                _numbers = null;
                break;
            case RevisionKind.Rename:
                say($"{PathOf(step.File)} → {step.Payload.Split('\n')[0]}");
                sitting.Touch(step.Payload.Split('\n')[0]);
                _files[step.File!.Value].Path = step.Payload.Split('\n')[0];
                _numbers = null;
                break;
            case RevisionKind.Delete:
                say(PathOf(step.File));
                sitting.Touch(PathOf(step.File));
                _files[step.File!.Value].IsThere = false;
                _numbers = null;
                break;
            default:
                say(step.File is null ? step.Payload.Split('\n')[0] : PathOf(step.File));
                sitting.Touch(PathOf(step.File));
                break;
        }
    }

    private string PathOf(int? file) => file is { } id && _files.TryGetValue(id, out Known? known) ? known.Path : "";

    private void Change(HistoryStep step, Sitting sitting)
    {
        Known file = _files[step.File!.Value];
        // What another brought in is counted as it left it, not as it is cut up afterwards.
        foreach (Sitting other in _open.Where(o => o != sitting && o.WordsIn is null && o.Paths.Contains(file.Path)))
        {
            other.WordsIn = CountIn(other);
        }

        var change = ChangeSet.FromJson(step.Payload);
        string before = file.Text ?? "";
        file.Text = change.Apply(before);
        file.Authors ??= new Authorship(before.Length, 0);
        file.Authors.Apply(change, sitting.Number, (at, stretch) =>
        {
            if (stretch.Event != sitting.Number && IsProse(file.Path))
            {
                sitting.Removed(step.File.Value, at, before.AsSpan(at, stretch.Length));
            }
        });
        sitting.Say(step.Act ?? "");
        sitting.Paths.Add(file.Path);
        int shift = 0;
        foreach ((int from, int length, string insert) in change.Edits)
        {
            int place = from + shift;
            shift += insert.Length - length;
            bool isStructure = insert.AsSpan().IndexOfAny("\\@{") >= 0 || before.AsSpan(from, length).IndexOfAny("\\@{}") >= 0;
            _numbers = isStructure ? null : _numbers;
            if (isStructure || sitting.LastFile != step.File || Math.Abs(place - sitting.LastPlace) > Nearby)
            {
                if (TypedPlaces.Before(file.Path, file.Text, place) is { } heading)
                {
                    sitting.Places.TryAdd((step.File.Value, heading.Title), 0);
                }

                (sitting.LastFile, sitting.LastPlace) = (step.File, place);
            }
        }
    }

    private Sitting Open(HistoryStep step)
    {
        var sitting = new Sitting(++_number, step);
        _open.Add(sitting);
        return sitting;
    }

    private void Close(DateTime at)
    {
        foreach (Sitting over in _open.FindAll(s => at - s.End > Pause))
        {
            Note(over);
            _open.Remove(over);
        }
    }

    private void Note(Sitting sitting)
    {
        if (sitting.IsChanged)
        {
            _changed[sitting.Number] = sitting.Event(sitting.WordsIn ??= CountIn(sitting), PlacesOf(sitting));
        }
    }

    private int CountIn(Sitting sitting)
    {
        int words = sitting.WordsBefore;
        foreach (Known file in _files.Values.Where(f => sitting.Paths.Contains(f.Path) && IsProse(f.Path) && f.Authors is not null && sitting.HasText))
        {
            int at = 0;
            foreach (AuthoredStretch stretch in file.Authors!.Stretches)
            {
                if (stretch.Event == sitting.Number)
                {
                    words += TypedPlaces.Words(file.Text.AsSpan(at, stretch.Length));
                }

                at += stretch.Length;
            }
        }

        return words;
    }

    // Titles that were still being typed aren't there any more.
    private List<EventPlace> PlacesOf(Sitting sitting)
    {
        var places = new List<EventPlace>(sitting.Known);
        foreach ((int id, string title) in sitting.Places.Keys)
        {
            if (places.Count >= MostPlaces || !_files.TryGetValue(id, out Known? file) || file.Text is null)
            {
                continue;
            }

            int at = file.Text.IndexOf(title, StringComparison.Ordinal);
            if (at < 0 || TypedPlaces.Before(file.Path, file.Text, at) is not { } heading || heading.Title != title)
            {
                continue;
            }

            _numbers ??= TypedPlaces.Numbers(_files.Values.Where(f => f.IsThere && f.Text is not null).DistinctBy(f => f.Path).ToDictionary(f => f.Path, f => f.Text!, StringComparer.Ordinal), main);
            places.RemoveAll(p => p.Title == title);
            places.Add(new EventPlace(_numbers.GetValueOrDefault((file.Path, heading.Offset)), title));
        }

        return places;
    }

    private static bool IsProse(string path) => path.EndsWith(".tex", StringComparison.OrdinalIgnoreCase) || path.EndsWith(".ltx", StringComparison.OrdinalIgnoreCase) || path.EndsWith(".txt", StringComparison.OrdinalIgnoreCase) || path.EndsWith(".md", StringComparison.OrdinalIgnoreCase);

    private sealed class Known(string path, string? text, Authorship? authors)
    {
        public string Path { get; set; } = path;

        public string? Text { get; set; } = text;

        public Authorship? Authors { get; set; } = authors;

        public bool IsThere { get; set; } = true;
    }

    /// <summary>An event that is still going on.</summary>
    private sealed class Sitting
    {
        private readonly ChronicleEvent _before;
        private readonly string? _act;
        private readonly HashSet<string> _said = new(StringComparer.Ordinal);
        private readonly HashSet<int> _files = [];
        private readonly List<string> _says = [];
        private int _steps;
        private int _to;
        private int _wordsOut;
        private string _removed = "";
        private int _removedAt;
        private int _removedIn;

        public Sitting(int number, HistoryStep first)
        {
            _act = first.Act;
            _before = new ChronicleEvent(
                number, first.Person, first.Token, first.Act is not null && first.File is not null ? ChronicleEvent.Act : first.Kind, first.File, "", first.Number, first.Number, 0, first.At, first.At, 0, 0, [], "");
            End = first.At;
        }

        public Sitting(ChronicleEvent known)
        {
            _before = known;
            _act = known.Kind == ChronicleEvent.Act ? known.Says.Split('\n')[0] : null;
            _steps = known.Steps;
            _to = known.ToRevision;
            _wordsOut = known.WordsOut;
            End = known.End;
            Known = known.Places;
            // Where a sitting goes on its own stretches are counted anew; what came as a file isn't.
            WordsBefore = HasText ? 0 : known.WordsIn;
            Paths.UnionWith(known.Path.Split('\n', StringSplitOptions.RemoveEmptyEntries));
            foreach (string said in known.Says.Split('\n', StringSplitOptions.RemoveEmptyEntries))
            {
                Say(said);
            }

            if (known.File is { } file)
            {
                _files.Add(file);
            }

            IsChanged = false;
            WordsIn = known.WordsIn;
        }

        public int Number => _before.Number;

        public DateTime End { get; private set; }

        public bool IsChanged { get; private set; }

        /// <summary>Whether a room, or a history from elsewhere, says what it was.</summary>
        public bool IsAct => _before.Kind == ChronicleEvent.Act;

        public bool HasText => _before.Kind is RevisionKind.Text or ChronicleEvent.Act;

        public IReadOnlyList<EventPlace> Known { get; } = [];

        public int WordsBefore { get; set; }

        /// <summary>Words that came in; null: they have to be counted.</summary>
        public int? WordsIn { get; set; }

        public SortedSet<string> Paths { get; } = new(StringComparer.Ordinal);

        public Dictionary<(int File, string Title), int> Places { get; } = [];

        public int? LastFile { get; set; }

        public int LastPlace { get; set; }

        /// <summary>Whether a step belongs to it.</summary>
        public bool Takes(HistoryStep step)
        {
            // A clock that jumps back makes no pause.
            TimeSpan pause = step.At - End;
            if (step.Person != _before.Person || step.Token != _before.Token || step.At - _before.Begin > s_longestSitting)
            {
                return false;
            }

            return _before.Kind switch
            {
                RevisionKind.Text => step.Kind == RevisionKind.Text && step.Act is null && step.File == _before.File && pause <= Pause,
                ChronicleEvent.Act => step.File is not null && step.Act == _act && step.Number == _to + 1 && pause <= s_actPause,
                _ => step.Kind == _before.Kind && (step.Act is null || step.File is null) && step.Number == _to + 1 && pause <= s_actPause,
            };
        }

        public void Add(HistoryStep step)
        {
            _steps++;
            _to = step.Number;
            End = step.At > End ? step.At : End;
            IsChanged = true;
            WordsIn = null;
            if (step.File is { } file)
            {
                _files.Add(file);
            }
        }

        public void Say(string said)
        {
            if (said.Length > 0 && _says.Count < MostSaid && _said.Add(said))
            {
                _says.Add(said);
            }
        }

        /// <summary>Notes a file of an act; other events say theirs.</summary>
        public void Touch(string path)
        {
            if (IsAct && path.Length > 0)
            {
                Paths.Add(path);
            }
        }

        /// <summary>What is deleted letter by letter is one stretch of words.</summary>
        public void Removed(int file, int at, ReadOnlySpan<char> text)
        {
            if (file == _removedIn && at + text.Length == _removedAt)
            {
                _removed = string.Concat(text, _removed);
            }
            else if (file == _removedIn && at == _removedAt)
            {
                _removed = string.Concat(_removed, text);
            }
            else
            {
                _wordsOut += TypedPlaces.Words(_removed);
                _removed = text.ToString();
            }

            (_removedAt, _removedIn) = (at, file);
        }

        public ChronicleEvent Event(int wordsIn, IReadOnlyList<EventPlace> places)
        {
            IsChanged = false;
            return _before with
            {
                File = _files.Count == 1 ? _files.First() : null,
                Path = string.Join('\n', Paths),
                ToRevision = _to,
                Steps = _steps,
                End = End,
                WordsIn = wordsIn,
                WordsOut = _wordsOut + TypedPlaces.Words(_removed),
                Places = places,
                Says = string.Join('\n', _says),
            };
        }
    }
}
