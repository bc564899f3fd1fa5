using YoungFolio.Manuscript.Tree;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

// What a preamble may set of how paragraphs are broken into lines.
public sealed partial class DocumentBuilder
{
    private Scoped<int> _pretolerance = null!;
    private Scoped<int> _hyphenPenalty = null!;
    private Scoped<int> _exHyphenPenalty = null!;
    private Scoped<int> _linePenalty = null!;
    private Scoped<int> _adjacentDemerits = null!;
    private Scoped<int> _doubleHyphenDemerits = null!;
    private Scoped<int> _finalHyphenDemerits = null!;
    private Scoped<int> _looseness = null!;
    private LineCosts _lastCosts = LineCosts.Usual;

    /// <summary>Whether margins are optical.</summary>
    internal bool Protrudes { get; set; }

    /// <summary>Whether glyphs may be a little wider or narrower: by at most 2 in 100, which no eye sees (common practice).</summary>
    internal bool Expands { get; set; }

    private void DefineLineBreaking()
    {
        LineCosts usual = LineCosts.Usual;
        _pretolerance = Machine.NamedCount("pretolerance", usual.Pretolerance);
        _hyphenPenalty = Machine.NamedCount("hyphenpenalty", usual.Hyphen);
        _exHyphenPenalty = Machine.NamedCount("exhyphenpenalty", usual.ExplicitHyphen);
        _linePenalty = Machine.NamedCount("linepenalty", usual.Line);
        _adjacentDemerits = Machine.NamedCount("adjdemerits", usual.Adjacent);
        _doubleHyphenDemerits = Machine.NamedCount("doublehyphendemerits", usual.DoubleHyphen);
        _finalHyphenDemerits = Machine.NamedCount("finalhyphendemerits", usual.FinalHyphen);
        _looseness = Machine.NamedCount("looseness", usual.Looseness);
    }

    private LineCosts LineCostsNow()
    {
        var now = new LineCosts(_pretolerance.Value, _hyphenPenalty.Value, _exHyphenPenalty.Value, _linePenalty.Value, _adjacentDemerits.Value,
            _doubleHyphenDemerits.Value, _finalHyphenDemerits.Value, Math.Clamp(_looseness.Value, -50, 50));
        return _lastCosts = now == _lastCosts ? _lastCosts : now;
    }
}
