namespace YoungFolio.Bibliography;

/// <summary>What a command of citation asks for.</summary>
public enum CitationForm
{
    /// <summary>The label alone, without brackets where the style has names.</summary>
    Bare,

    /// <summary>In brackets.</summary>
    Parenthetical,

    /// <summary>Names as part of the sentence, the rest in brackets.</summary>
    Textual,

    /// <summary>As <see cref="Textual"/>, without brackets.</summary>
    TextualBare,

    /// <summary>Names alone.</summary>
    Authors,

    /// <summary>The year alone.</summary>
    Year,

    /// <summary>The year in brackets.</summary>
    BracketedYear,

    /// <summary>The title alone.</summary>
    Title,

    /// <summary>The number alone.</summary>
    Number,

    /// <summary>Raised numbers.</summary>
    Raised,

    /// <summary>The address alone.</summary>
    Address,

    /// <summary>The whole reference.</summary>
    Full,
}

/// <summary>How a citation stands to those before it.</summary>
public enum CitationTurn
{
    /// <summary>The source was cited, and others since.</summary>
    Later,

    /// <summary>It is cited for the first time.</summary>
    First,

    /// <summary>It alone was cited last.</summary>
    Same,
}

/// <summary>A source that is cited, with the notes that stand at it.</summary>
/// <param name="Key">Its key.</param>
/// <param name="HasBefore">Whether a note stands before it.</param>
/// <param name="After">The note behind it as plain text; null for none.</param>
/// <param name="Turn">How it stands to the citations before.</param>
public sealed record CitedItem(string Key, bool HasBefore = false, string? After = null, CitationTurn Turn = CitationTurn.Later);

/// <summary>What a part of a citation is.</summary>
public enum CitationPartKind
{
    /// <summary>Markup.</summary>
    Text,

    /// <summary>Markup that leads to the source in the list.</summary>
    Link,

    /// <summary>The note before an item.</summary>
    Before,

    /// <summary>The note behind an item.</summary>
    After,

    /// <summary>A source that isn't there.</summary>
    Missing,
}

/// <summary>A part of a citation.</summary>
/// <param name="Kind">What it is.</param>
/// <param name="Markup">Markup of text and links.</param>
/// <param name="Item">Index of the item that it belongs to.</param>
public readonly record struct CitationPart(CitationPartKind Kind, string Markup, int Item);

/// <summary>Puts citations together.</summary>
public sealed class CitationFormatter
{
    private readonly CitationManner _manner;
    private readonly SourceWords _words;
    private readonly bool _allAuthors;
    private readonly bool _capital;
    private readonly List<CitedSource> _cited;
    private readonly List<CitationPart> _files = [];
    private bool _inBrackets;

    private CitationFormatter(List<CitedSource> cited, CitationManner manner, SourceWords words, bool allAuthors, bool capital) =>
        (_cited, _manner, _words, _allAuthors, _capital) = (cited, manner, words, allAuthors, capital);

    // A source at its place in print. Notes are named by the items that they were written at.
    private readonly record struct CitedSource(int Item, ListedSource? Source, int? Before, int? After, string Note, CitationTurn Turn);

    /// <summary>The parts of a citation.</summary>
    /// <param name="items">What is cited.</param>
    /// <param name="form">What the command asks for.</param>
    /// <param name="find">A source of the list by its key.</param>
    /// <param name="manner">How citations are put together.</param>
    /// <param name="words">The language.</param>
    /// <param name="allAuthors">Whether all names are listed.</param>
    /// <param name="capital">Whether the first letter is a capital, for a sentence's beginning.</param>
    public static IReadOnlyList<CitationPart> Format(
        IReadOnlyList<CitedItem> items, CitationForm form, Func<string, ListedSource?> find, CitationManner manner, SourceWords words, bool allAuthors = false, bool capital = false)
    {
        bool sorts = manner.Sorts && form is CitationForm.Bare or CitationForm.Parenthetical or CitationForm.Raised;
        var formatter = new CitationFormatter(Place(items, find, sorts), manner, words, allAuthors, capital);
        formatter.Write(form);
        return formatter._files;
    }

    // Notes at the ends stay at the ends, whatever the order; where sources have notes of their own nothing is sorted.
    private static List<CitedSource> Place(IReadOnlyList<CitedItem> items, Func<string, ListedSource?> find, bool sorts)
    {
        List<CitedSource> cited = [.. items.Select((item, i) => new CitedSource(i, find(item.Key), item.HasBefore ? i : null, item.After is null ? null : i, (item.After ?? "").Trim(), item.Turn))];
        if (!sorts || cited.Skip(1).Any(c => c.Before is not null) || cited.SkipLast(1).Any(c => c.After is not null))
        {
            return cited;
        }

        (CitedSource first, CitedSource last) = (cited[0], cited[^1]);
        List<CitedSource> sorted = [.. cited.OrderBy(c => c.Source?.Number ?? int.MaxValue).Select(c => c with { Before = null, After = null, Note = "" })];
        sorted[0] = sorted[0] with { Before = first.Before };
        sorted[^1] = sorted[^1] with { After = last.After, Note = last.Note };
        return sorted;
    }

    private bool HasNames => _manner.Label is CitationLabel.AuthorYear or CitationLabel.AuthorTitle;

    private void Write(CitationForm form)
    {
        switch (form)
        {
            case CitationForm.Raised:
                Raised();
                break;
            case CitationForm.Parenthetical or CitationForm.Bare when !HasNames && _manner.Raises:
                Raised();
                break;
            case CitationForm.Bare or CitationForm.Parenthetical when !HasNames:
                Text(_manner.Open);
                Labels();
                Text(_manner.Close);
                break;
            case CitationForm.Bare:
                Named();
                break;
            case CitationForm.Parenthetical:
                Text(_manner.Open);
                _inBrackets = true;
                Named();
                Text(_manner.Close);
                break;
            case CitationForm.Textual:
                Textual(_manner.Open, _manner.Close);
                break;
            case CitationForm.TextualBare:
                Textual("", "");
                break;
            default:
                Single(form);
                break;
        }
    }

    // ---- numbers and letters --------------------------------------------------------------------------------

    // Notes aren't raised: the one before stands before the numbers, the one behind in parentheses behind them.
    private void Raised()
    {
        Before(_cited[0]);
        int start = _files.Count;
        Labels(withNotes: false);
        for (int i = start; i < _files.Count; i++)
        {
            _files[i] = _files[i] with { Markup = _files[i].Kind == CitationPartKind.Missing ? "" : $"\\textsuperscript{{{_files[i].Markup}}}" };
        }

        if (_cited.Find(c => c.After is not null) is { After: not null } noted)
        {
            Text(" (");
            Note(noted);
            Text(")");
        }
    }

    private void Labels(bool withNotes = true)
    {
        for (int at = 0; at < _cited.Count; at++)
        {
            Text(at > 0 ? _manner.Between : "");
            if (withNotes)
            {
                Before(_cited[at]);
            }

            Link(_cited[at], LabelOf);
            int run = Run(at);
            if (run > 2)
            {
                Text(_manner.Range);
                at += run - 1;
                Link(_cited[at], LabelOf);
            }

            if (withNotes)
            {
                After(_cited[at]);
            }
        }
    }

    // How many numbers in a row begin here, without a note between them.
    private int Run(int at)
    {
        if (!_manner.Compresses || _manner.Label != CitationLabel.Number || _cited[at].Source is not { OwnLabel: null } first)
        {
            return 1;
        }

        int run = 1;
        while (at + run < _cited.Count && _cited[at + run] is { Source: { OwnLabel: null } next, Before: null } && next.Number == first.Number + run && _cited[at + run - 1].After is null)
        {
            run++;
        }

        return run;
    }

    private string LabelOf(ListedSource source) => source.OwnLabel ?? (_manner.Label == CitationLabel.Letters ? source.Letters : NumberOf(source));

    private static string NumberOf(ListedSource source) => source.Number.ToString(System.Globalization.CultureInfo.InvariantCulture);

    // ---- names ----------------------------------------------------------------------------------------------

    private void Named()
    {
        for (int at = 0; at < _cited.Count; at++)
        {
            bool joins = JoinsAbove(at);
            Text(at == 0 ? "" : joins ? _manner.BetweenYears : _manner.Between);
            Before(_cited[at]);
            int place = at;
            CitationTurn turn = _cited[at].Turn;
            Link(_cited[at], s => turn == CitationTurn.Same && _manner.NamesTheSameAgain ? Again(place)
                : turn == CitationTurn.First && _manner.WholeAtFirst ? s.CitedWhole.TrimEnd('.')
                : joins ? Rest(s) : NamesWithRest(s));
            After(_cited[at]);
        }
    }

    private void Textual(string open, string close)
    {
        for (int at = 0; at < _cited.Count; at++)
        {
            bool bare = false;
            if (close.Length > 0 && JoinsAbove(at))
            {
                // Years of the same names share their brackets.
                _files.RemoveAt(_files.Count - 1);
                Text(_manner.BetweenYears);
            }
            else
            {
                Text(at == 0 ? "" : at == _cited.Count - 1 ? _manner.BeforeLastTextual : _manner.BetweenTextual);
                if (_cited[at].Source is { } named)
                {
                    Link(_cited[at], Names);
                    bare = HasNames && Rest(named).Length == 0 && _cited[at] is { Before: null, After: null };
                    Text(bare || IsRaised ? "" : " " + open);
                }

                Before(_cited[at]);
            }

            if (bare)
            {
                continue;
            }

            int start = _files.Count;
            Link(_cited[at], HasNames ? Rest : LabelOf);
            if (IsRaised)
            {
                _files[start] = _files[start] with { Markup = $"\\textsuperscript{{{_files[start].Markup}}}" };
            }

            After(_cited[at], isFirst: HasNames && _cited[at].Source is { } source && Rest(source).Length == 0);
            Text(_cited[at].Source is null || IsRaised ? "" : close);
        }
    }

    private bool IsRaised => _manner.Raises && !HasNames;

    // Whether a source has the names of the one before it, and no note keeps the two apart.
    private bool JoinsAbove(int at) => at > 0 && HasNames && _manner.GroupsNames && _cited[at] is { Source: { } source, Before: null } && _cited[at - 1] is { Source: { } above, After: null }
        && Names(source) is { Length: > 0 } names && names == Names(above);

    private void Single(CitationForm form)
    {
        bool isBracketed = form == CitationForm.BracketedYear;
        for (int at = 0; at < _cited.Count; at++)
        {
            Text(at > 0 ? _manner.Between : "");
            Before(_cited[at]);
            Text(isBracketed ? _manner.Open : "");
            Link(_cited[at], form switch
            {
                CitationForm.Authors => Names,
                CitationForm.Year or CitationForm.BracketedYear => static s => s.Year,
                CitationForm.Title => Titled,
                CitationForm.Full => static s => s.CitedWhole.TrimEnd('.'),
                CitationForm.Address => static s => SourceAddress.Markup(s.Entry.Field("url")),
                _ => NumberOf,
            });
            After(_cited[at]);
            Text(isBracketed ? _manner.Close : "");
        }
    }

    // Where nothing stands before it, it begins a note and has a capital; where nothing follows, a full stop ends the note anyway.
    private string Again(int at)
    {
        string word = (at == 0 && _cited[at].Before is null && !_inBrackets) || _capital ? "Ibid" : "ibid";
        return _cited[at].After is null && !_inBrackets && at == _cited.Count - 1 ? word : word + ".";
    }

    private string NamesWithRest(ListedSource source)
    {
        string names = Names(source);
        names = _manner.AndInBrackets is { } and && _inBrackets ? names.Replace($" {_words.And} ", $" {and} ", StringComparison.Ordinal) : names;
        return Rest(source) is { Length: > 0 } rest ? names + _manner.BeforeYear + rest : names;
    }

    private string Names(ListedSource source)
    {
        string names = _allAuthors ? source.AllAuthors : source.Authors;
        return _capital && names.Length > 0 ? char.ToUpperInvariant(names[0]) + names[1..] : names;
    }

    private string Rest(ListedSource source) => _manner.Label != CitationLabel.AuthorTitle ? source.Year : _manner.TitlesWhereNeeded && source.IsAlone ? "" : Titled(source);

    private string Titled(ListedSource source) =>
        source.Entry.Type is "article" or "inproceedings" or "incollection" or "inbook" or "conference" or "unpublished" ? _words.Quotes.Open + source.Title + _words.Quotes.Close : $"\\emph{{{source.Title}}}";

    // ---- parts ----------------------------------------------------------------------------------------------

    private void Before(CitedSource cited)
    {
        if (cited.Before is { } item)
        {
            _files.Add(new(CitationPartKind.Before, "", item));
            Text(" ");
        }
    }

    private void After(CitedSource cited, bool isFirst = false)
    {
        if (cited.After is not null)
        {
            Text(isFirst ? "" : _manner.BeforeNote);
            Note(cited);
        }
    }

    private void Note(CitedSource cited)
    {
        string note = cited.Note;
        if (_manner.NamesPages && note.Length > 0 && char.IsAsciiDigit(note[0]) && note.All(c => char.IsAsciiDigit(c) || c is '-' or '–' or ',' or ' ' or 'f' or '.'))
        {
            Text((note.AsSpan().IndexOfAny("-–, f") >= 0 ? _words.Pages.Short : _words.Page.Short) + "~");
        }

        _files.Add(new(CitationPartKind.After, "", cited.After!.Value));
    }

    private void Text(string markup)
    {
        if (markup.Length > 0)
        {
            _files.Add(new(CitationPartKind.Text, markup, -1));
        }
    }

    private void Link(CitedSource cited, Func<ListedSource, string> markup) =>
        _files.Add(cited.Source is { } source ? new(CitationPartKind.Link, markup(source), cited.Item) : new(CitationPartKind.Missing, "", cited.Item));
}
