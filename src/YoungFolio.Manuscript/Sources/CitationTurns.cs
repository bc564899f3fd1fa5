using YoungFolio.Bibliography;

namespace YoungFolio.Manuscript.Sources;

/// <summary>Which sources were cited, and which one last: styles print a source whole at first, and "ibid." for the same again.</summary>
internal sealed class CitationTurns
{
    private readonly HashSet<string> _cited = new(StringComparer.Ordinal);
    private string? _last;

    /// <summary>How a citation of a source stands to those before; it counts from now on.</summary>
    public CitationTurn Next(string key)
    {
        CitationTurn turn = _cited.Add(key) ? CitationTurn.First : key == _last ? CitationTurn.Same : CitationTurn.Later;
        _last = key;
        return turn;
    }

    /// <summary>What comes next is the same as nothing before: a citation of several sources came, or the manuscript asked for it.</summary>
    public void PartFromNext() => _last = null;

    /// <summary>Everything is cited for the first time again.</summary>
    public void Restart()
    {
        _cited.Clear();
        _last = null;
    }
}
