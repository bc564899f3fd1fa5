using YoungFolio.Documents;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>What a preamble may set of how paragraphs are broken into lines.</summary>
internal sealed class LineBreakingParameters(DocumentBuilder builder) : ReadingFeature(builder)
{
    private Scoped<int> _pretolerance = null!;
    private Scoped<int> _hyphenPenalty = null!;
    private Scoped<int> _exHyphenPenalty = null!;
    private Scoped<int> _linePenalty = null!;
    private Scoped<int> _adjacentDemerits = null!;
    private Scoped<int> _doubleHyphenDemerits = null!;
    private Scoped<int> _finalHyphenDemerits = null!;
    internal Scoped<int> Looseness { get; set; } = null!;
    private LineCosts _lastCosts = LineCosts.Usual;

    /// <summary>Whether margins are optical.</summary>
    internal bool Protrudes { get; set; }

    /// <summary>Whether glyphs may be a little wider or narrower: by at most 2 in 100, which no eye sees (common practice).</summary>
    internal bool Expands { get; set; }

    internal void DefineLineBreaking()
    {
        LineCosts usual = LineCosts.Usual;
        _pretolerance = Machine.Registers.NamedCount("pretolerance", usual.Pretolerance);
        _hyphenPenalty = Machine.Registers.NamedCount("hyphenpenalty", usual.Hyphen);
        _exHyphenPenalty = Machine.Registers.NamedCount("exhyphenpenalty", usual.ExplicitHyphen);
        _linePenalty = Machine.Registers.NamedCount("linepenalty", usual.Line);
        _adjacentDemerits = Machine.Registers.NamedCount("adjdemerits", usual.Adjacent);
        _doubleHyphenDemerits = Machine.Registers.NamedCount("doublehyphendemerits", usual.DoubleHyphen);
        _finalHyphenDemerits = Machine.Registers.NamedCount("finalhyphendemerits", usual.FinalHyphen);
        Looseness = Machine.Registers.NamedCount("looseness", usual.Looseness);
    }

    internal LineCosts LineCostsNow()
    {
        var now = new LineCosts(_pretolerance.Value, _hyphenPenalty.Value, _exHyphenPenalty.Value, _linePenalty.Value, _adjacentDemerits.Value,
            _doubleHyphenDemerits.Value, _finalHyphenDemerits.Value, Math.Clamp(Looseness.Value, -50, 50));
        return _lastCosts = now == _lastCosts ? _lastCosts : now;
    }
}
