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

    /// <summary>The whole reference.</summary>
    Full,
}

/// <summary>How citations are put together.</summary>
public sealed record CitationManner(CitationLabel Label)
{
    /// <summary>Opening bracket.</summary>
    public string Open { get; init; } = "[";

    /// <summary>Closing bracket.</summary>
    public string Close { get; init; } = "]";

    /// <summary>Between two sources.</summary>
    public string Between { get; init; } = ", ";

    /// <summary>Between names and year.</summary>
    public string BeforeYear { get; init; } = " ";

    /// <summary>Between two years of the same names.</summary>
    public string BetweenYears { get; init; } = ", ";

    /// <summary>Before the note behind.</summary>
    public string BeforeNote { get; init; } = ", ";

    /// <summary>Whether sources in one citation are sorted as in the list.</summary>
    public bool Sorts { get; init; }

    /// <summary>Whether three numbers in a row are drawn together.</summary>
    public bool Compresses { get; init; }

    /// <summary>Whether years of the same names are drawn together.</summary>
    public bool GroupsNames { get; init; }

    /// <summary>Whether brackets are left away and numbers raised.</summary>
    public bool Raises { get; init; }

    /// <summary>Whether a note behind that is a number gets the word for pages.</summary>
    public bool NamesPages { get; init; }

    /// <summary>Between two sources whose names stand in the sentence.</summary>
    public string BetweenTextual { get; init; } = "; ";

    /// <summary>Before the last of them.</summary>
    public string BeforeLastTextual { get; init; } = "; ";

    /// <summary>The manner of a style: natbib's for classic ones, biblatex' for modern ones (both documentations, from memory).</summary>
    public static CitationManner Of(BibliographyStyle style, SourceWords words) => style.Manner == ReferenceManner.Modern
        ? new(style.Label)
        {
            Open = style.Label is CitationLabel.AuthorYear or CitationLabel.AuthorTitle ? "(" : "[",
            Close = style.Label is CitationLabel.AuthorYear or CitationLabel.AuthorTitle ? ")" : "]",
            Between = style.Label is CitationLabel.AuthorYear or CitationLabel.AuthorTitle ? "; " : ", ",
            BeforeYear = style.Label == CitationLabel.AuthorTitle ? ", " : " ",
            Sorts = style.SortsCitations,
            Compresses = style.Compresses,
            GroupsNames = style.Compresses,
            NamesPages = true,
            BetweenTextual = ", ",
            BeforeLastTextual = $" {words.And} ",
        }
        : style.Label is CitationLabel.AuthorYear
            ? new(style.Label) { Open = "(", Close = ")", Between = "; ", BeforeYear = ", ", GroupsNames = true }
            : new(style.Label) { Sorts = style.SortsCitations, Compresses = style.Compresses };
}

/// <summary>A source that is cited, with the notes that stand at it.</summary>
/// <param name="Key">Its key.</param>
/// <param name="HasBefore">Whether a note stands before it.</param>
/// <param name="After">The note behind it as plain text; null for none.</param>
public sealed record CitedItem(string Key, bool HasBefore = false, string? After = null);

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
    private readonly IReadOnlyList<CitedItem> _items;
    private readonly Func<string, ListedSource?> _find;
    private readonly CitationManner _manner;
    private readonly SourceWords _words;
    private readonly bool _allAuthors;
    private readonly bool _capital;
    private readonly List<CitationPart> _parts = [];

    private CitationFormatter(IReadOnlyList<CitedItem> items, Func<string, ListedSource?> find, CitationManner manner, SourceWords words, bool allAuthors, bool capital) =>
        (_items, _find, _manner, _words, _allAuthors, _capital) = (items, find, manner, words, allAuthors, capital);

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
        var formatter = new CitationFormatter(items, find, manner, words, allAuthors, capital);
        formatter.Write(form);
        return formatter._parts;
    }

    private bool HasNames => _manner.Label is CitationLabel.AuthorYear or CitationLabel.AuthorTitle;

    private void Write(CitationForm form)
    {
        int[] order = [.. Enumerable.Range(0, _items.Count)];
        if (_manner.Sorts && form is CitationForm.Bare or CitationForm.Parenthetical or CitationForm.Raised && !_items.Skip(1).Any(i => i.HasBefore))
        {
            // Notes stay at the ends: the one before at the first, the one behind at the last.
            order = [.. order.OrderBy(i => _find(_items[i].Key)?.Number ?? int.MaxValue)];
        }

        switch (form)
        {
            case CitationForm.Raised:
                Raised(order);
                break;
            case CitationForm.Parenthetical or CitationForm.Bare when !HasNames && _manner.Raises:
                Raised(order);
                break;
            case CitationForm.Bare when HasNames:
                Named(order, "", "");
                break;
            case CitationForm.Bare or CitationForm.Parenthetical when !HasNames:
                Text(_manner.Open);
                Labels(order);
                Text(_manner.Close);
                break;
            case CitationForm.Parenthetical:
                Named(order, _manner.Open, _manner.Close);
                break;
            case CitationForm.Textual:
                Textual(order, _manner.Open, _manner.Close);
                break;
            case CitationForm.TextualBare:
                Textual(order, "", "");
                break;
            default:
                Single(order, form);
                break;
        }
    }

    // ---- numbers and letters --------------------------------------------------------------------------------

    private void Raised(int[] order)
    {
        // Notes aren't raised.
        if (_items[order[0]].HasBefore)
        {
            _parts.Add(new(CitationPartKind.Before, "", order[0]));
            Text(" ");
        }

        int start = _parts.Count;
        Labels(order, withNotes: false);
        for (int i = start; i < _parts.Count; i++)
        {
            _parts[i] = _parts[i] with { Markup = _parts[i].Kind == CitationPartKind.Missing ? "" : $"\\textsuperscript{{{_parts[i].Markup}}}" };
        }

        if (LastNote(order) is { } last)
        {
            Text(" (");
            After(last);
            Text(")");
        }
    }

    private int? LastNote(int[] order) => order.Where(i => _items[i].After is not null).Select(i => (int?)i).FirstOrDefault();

    private void Labels(int[] order, bool withNotes = true)
    {
        if (withNotes && order.FirstOrDefault(i => _items[i].HasBefore, -1) is >= 0 and var noted && order.Count(i => _items[i].HasBefore) == 1)
        {
            Before(noted);
        }

        bool manyNotes = _items.Count(i => i.HasBefore || i.After is not null) > 1 && _items.Count > 1;
        for (int at = 0; at < order.Length; at++)
        {
            if (at > 0)
            {
                Text(_manner.Between);
            }

            int run = manyNotes ? 1 : Run(order, at);
            if (withNotes && manyNotes && _items[order[at]].HasBefore && order.Count(i => _items[i].HasBefore) > 1)
            {
                Before(order[at]);
            }

            Label(order[at]);
            if (run > 2)
            {
                Text("--");
                at += run - 1;
                Label(order[at]);
            }

            if (withNotes && manyNotes && _items[order[at]].After is not null)
            {
                Text(_manner.BeforeNote);
                After(order[at]);
            }
        }

        if (withNotes && !manyNotes && LastNote(order) is { } last)
        {
            Text(_manner.BeforeNote);
            After(last);
        }
    }

    // How many numbers in a row begin here.
    private int Run(int[] order, int at)
    {
        if (!_manner.Compresses || _manner.Label != CitationLabel.Number || _find(_items[order[at]].Key) is not { OwnLabel: null } first)
        {
            return 1;
        }

        int run = 1;
        while (at + run < order.Length && _find(_items[order[at + run]].Key) is { OwnLabel: null } next && next.Number == first.Number + run)
        {
            run++;
        }

        return run;
    }

    private void Label(int item)
    {
        if (_find(_items[item].Key) is not { } source)
        {
            _parts.Add(new(CitationPartKind.Missing, "", item));
            return;
        }

        Link(item, LabelOf(source));
    }

    private string LabelOf(ListedSource source) =>
        source.OwnLabel ?? (_manner.Label == CitationLabel.Letters ? source.Letters : source.Number.ToString(System.Globalization.CultureInfo.InvariantCulture));

    // ---- names ----------------------------------------------------------------------------------------------

    private void Named(int[] order, string open, string close)
    {
        Text(open);
        string above = "";
        for (int at = 0; at < order.Length; at++)
        {
            CitedItem item = _items[order[at]];
            ListedSource? source = _find(item.Key);
            string names = source is null ? "" : Names(source);
            bool same = at > 0 && _manner.GroupsNames && names.Length > 0 && names == above && !item.HasBefore && _items[order[at - 1]].After is null;
            if (at > 0)
            {
                Text(same ? _manner.BetweenYears : _manner.Between);
            }

            if (item.HasBefore)
            {
                Before(order[at]);
            }

            if (source is null)
            {
                _parts.Add(new(CitationPartKind.Missing, "", order[at]));
            }
            else if (same)
            {
                Link(order[at], Rest(source));
            }
            else
            {
                Link(order[at], names + _manner.BeforeYear + Rest(source));
            }

            above = names;
            if (item.After is not null)
            {
                Text(_manner.BeforeNote);
                After(order[at]);
            }
        }

        Text(close);
    }

    private void Textual(int[] order, string open, string close)
    {
        string above = "";
        for (int at = 0; at < order.Length; at++)
        {
            CitedItem item = _items[order[at]];
            ListedSource? source = _find(item.Key);
            string names = source is null ? "" : Names(source);
            bool same = at > 0 && _manner.GroupsNames && names.Length > 0 && names == above && !item.HasBefore && _items[order[at - 1]].After is null;
            if (same && close.Length > 0 && _parts[^1].Markup == close)
            {
                // Years of the same names share their brackets.
                _parts.RemoveAt(_parts.Count - 1);
                Text(_manner.BetweenYears);
            }
            else
            {
                if (at > 0)
                {
                    Text(at == order.Length - 1 ? _manner.BeforeLastTextual : _manner.BetweenTextual);
                }

                if (source is not null)
                {
                    Link(order[at], names);
                    Text(" " + open);
                }

                if (item.HasBefore)
                {
                    Before(order[at]);
                }
            }

            if (source is null)
            {
                _parts.Add(new(CitationPartKind.Missing, "", order[at]));
            }
            else
            {
                Link(order[at], HasNames ? Rest(source) : LabelOf(source));
            }

            above = names;
            if (item.After is not null)
            {
                Text(_manner.BeforeNote);
                After(order[at]);
            }

            if (source is not null)
            {
                Text(close);
            }
        }
    }

    private void Single(int[] order, CitationForm form)
    {
        for (int at = 0; at < order.Length; at++)
        {
            CitedItem item = _items[order[at]];
            if (at > 0)
            {
                Text(_manner.Between);
            }

            if (item.HasBefore)
            {
                Before(order[at]);
            }

            if (_find(item.Key) is not { } source)
            {
                _parts.Add(new(CitationPartKind.Missing, "", order[at]));
                continue;
            }

            if (form == CitationForm.BracketedYear)
            {
                Text(_manner.Open);
            }

            Link(order[at], form switch
            {
                CitationForm.Authors => Names(source),
                CitationForm.Year or CitationForm.BracketedYear => source.Year,
                CitationForm.Title => Titled(source),
                CitationForm.Full => source.Reference.TrimEnd('.'),
                _ => source.Number.ToString(System.Globalization.CultureInfo.InvariantCulture),
            });
            if (item.After is not null)
            {
                Text(_manner.BeforeNote);
                After(order[at]);
            }

            if (form == CitationForm.BracketedYear)
            {
                Text(_manner.Close);
            }
        }
    }

    private string Names(ListedSource source)
    {
        string names = _allAuthors ? source.AllAuthors : source.Authors;
        return _capital && names.Length > 0 ? char.ToUpperInvariant(names[0]) + names[1..] : names;
    }

    private string Rest(ListedSource source) => _manner.Label == CitationLabel.AuthorTitle ? Titled(source) : source.Year;

    private string Titled(ListedSource source) =>
        source.Entry.Type is "article" or "inproceedings" or "incollection" or "inbook" or "conference" or "unpublished" ? _words.Quotes.Open + source.Title + _words.Quotes.Close : $"\\emph{{{source.Title}}}";

    // ---- parts ----------------------------------------------------------------------------------------------

    private void Before(int item)
    {
        _parts.Add(new(CitationPartKind.Before, "", item));
        Text(" ");
    }

    private void After(int item)
    {
        string note = (_items[item].After ?? "").Trim();
        if (_manner.NamesPages && note.Length > 0 && char.IsAsciiDigit(note[0]) && note.All(c => char.IsAsciiDigit(c) || c is '-' or '–' or ',' or ' ' or 'f' or '.'))
        {
            Text((note.AsSpan().IndexOfAny("-–, f") >= 0 ? _words.Pages.Short : _words.Page.Short) + "~");
        }

        _parts.Add(new(CitationPartKind.After, "", item));
    }

    private void Text(string markup)
    {
        if (markup.Length > 0)
        {
            _parts.Add(new(CitationPartKind.Text, markup, -1));
        }
    }

    private void Link(int item, string markup) => _parts.Add(new(CitationPartKind.Link, markup, item));
}
