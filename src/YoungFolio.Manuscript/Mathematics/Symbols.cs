using YoungFolio.Documents.Mathematics;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Mathematics;

/// <summary>What a symbol's command means: a character of a class.</summary>
public sealed class SymbolMeaning(string text, AtomClass atomClass, bool isLarge = false) : Meaning
{
    /// <summary>The character.</summary>
    public string Text => text;

    /// <summary>The class.</summary>
    public AtomClass Class => atomClass;

    /// <summary>Whether it grows in displays.</summary>
    public bool IsLarge => isLarge;

    /// <inheritdoc/>
    public override bool SameAs(Meaning? other) => other is SymbolMeaning s && s.Text == Text && s.Class == Class;
}

/// <summary>
/// The symbols by name. Names are Lamport's (tables 3.3 to 3.8) and those of the amssymb package; characters are
/// those of Unicode's mathematical repertoire (UTR #25).
/// </summary>
public static class Symbols
{
    private const string Ordinary =
        "alpha α beta β gamma γ delta δ epsilon ϵ varepsilon ε zeta ζ eta η theta θ vartheta ϑ iota ι kappa κ lambda λ mu μ nu ν xi ξ " +
        "omicron ο pi π varpi ϖ rho ρ varrho ϱ sigma σ varsigma ς tau τ upsilon υ phi ϕ varphi φ chi χ psi ψ omega ω " +
        "Gamma Γ Delta Δ Theta Θ Lambda Λ Xi Ξ Pi Π Sigma Σ Upsilon Υ Phi Φ Psi Ψ Omega Ω " +
        "infty ∞ partial ∂ nabla ∇ hbar ℏ ell ℓ wp ℘ Re ℜ Im ℑ aleph ℵ beth ℶ emptyset ∅ varnothing ∅ forall ∀ exists ∃ nexists ∄ neg ¬ lnot ¬ " +
        "top ⊤ bot ⊥ angle ∠ triangle △ clubsuit ♣ diamondsuit ♢ heartsuit ♡ spadesuit ♠ flat ♭ natural ♮ sharp ♯ prime ′ " +
        "vert | Vert ‖ arrowvert | Arrowvert ‖ bracevert | mathdollar $ mathsterling £ mathparagraph ¶ mathsection § mathunderscore _ imath 𝚤 jmath 𝚥 square □ blacksquare ■ complement ∁ degree ° backslash \\ surd √ eth ð";

    private const string Relations =
        "leq ≤ le ≤ geq ≥ ge ≥ neq ≠ ne ≠ equiv ≡ sim ∼ simeq ≃ approx ≈ cong ≅ propto ∝ ll ≪ gg ≫ prec ≺ succ ≻ preceq ⪯ succeq ⪰ " +
        "subset ⊂ supset ⊃ subseteq ⊆ supseteq ⊇ subsetneq ⊊ supsetneq ⊋ sqsubseteq ⊑ sqsupseteq ⊒ in ∈ ni ∋ notin ∉ vdash ⊢ dashv ⊣ models ⊨ " +
        "perp ⟂ mid ∣ nmid ∤ parallel ∥ nparallel ∦ asymp ≍ doteq ≐ bowtie ⋈ smile ⌣ frown ⌢ to → rightarrow → leftarrow ← gets ← " +
        "leftrightarrow ↔ Rightarrow ⇒ Leftarrow ⇐ Leftrightarrow ⇔ longrightarrow ⟶ longleftarrow ⟵ longleftrightarrow ⟷ Longrightarrow ⟹ " +
        "Longleftarrow ⟸ Longleftrightarrow ⟺ iff ⟺ implies ⟹ impliedby ⟸ mapsto ↦ longmapsto ⟼ hookrightarrow ↪ hookleftarrow ↩ uparrow ↑ " +
        "downarrow ↓ updownarrow ↕ Uparrow ⇑ Downarrow ⇓ nearrow ↗ searrow ↘ swarrow ↙ nwarrow ↖ rightharpoonup ⇀ rightharpoondown ⇁ " +
        "leftharpoonup ↼ rightleftharpoons ⇌ leqslant ⩽ geqslant ⩾ lesssim ≲ gtrsim ≳ lessgtr ≶ triangleq ≜ therefore ∴ because ∵ " +
        "nleq ≰ ngeq ≱ nless ≮ ngtr ≯ nsubseteq ⊈ coloneqq ≔ approxeq ≊ backsim ∽ rightsquigarrow ⇝ leadsto ⇝ twoheadrightarrow ↠ vDash ⊨";

    private const string Operations =
        "pm ± mp ∓ times × div ÷ cdot ⋅ ast ∗ star ⋆ circ ∘ bullet ∙ cap ∩ cup ∪ uplus ⊎ sqcap ⊓ sqcup ⊔ vee ∨ lor ∨ wedge ∧ land ∧ " +
        "setminus ∖ smallsetminus ∖ wr ≀ diamond ⋄ oplus ⊕ ominus ⊖ otimes ⊗ oslash ⊘ odot ⊙ dagger † ddagger ‡ amalg ⨿ ltimes ⋉ rtimes ⋊ " +
        "bigtriangleup △ bigtriangledown ▽ triangleleft ◁ triangleright ▷ boxplus ⊞ boxtimes ⊠ barwedge ⊼";

    private const string LargeOperators =
        "sum ∑ prod ∏ coprod ∐ bigcap ⋂ bigcup ⋃ bigsqcup ⨆ bigvee ⋁ bigwedge ⋀ bigodot ⨀ bigotimes ⨂ bigoplus ⨁ biguplus ⨄";

    private const string Integrals = "int ∫ iint ∬ iiint ∭ oint ∮";

    private const string Opening = "langle ⟨ lfloor ⌊ lceil ⌈ lbrace { lbrack [ lvert | lVert ‖ lgroup ⟮";
    private const string Closing = "rangle ⟩ rfloor ⌋ rceil ⌉ rbrace } rbrack ] rvert | rVert ‖ rgroup ⟯";

    /// <summary>Names set upright, with whether limits stand below them in displays.</summary>
    public static IReadOnlyDictionary<string, bool> Words { get; } =
        "arccos arcsin arctan arg cos cosh cot coth csc deg dim exp hom ker lg ln log sec sin sinh tan tanh"
            .Split(' ').Select(n => (n, false))
            .Concat("det gcd inf lim liminf limsup max min Pr sup".Split(' ').Select(n => (n, true)))
            .ToDictionary(p => p.n, p => p.Item2, StringComparer.Ordinal);

    /// <summary>Accents over formulas: (name, combining character, whether it grows).</summary>
    public static IReadOnlyList<(string Name, string Accent, bool Grows)> Accents { get; } =
    [
        ("hat", "\u0302", false), ("widehat", "\u0302", true), ("tilde", "\u0303", false), ("widetilde", "\u0303", true),
        ("bar", "\u0304", false), ("dot", "\u0307", false), ("ddot", "\u0308", false), ("vec", "\u20D7", false), ("acute", "\u0301", false),
        ("grave", "\u0300", false), ("breve", "\u0306", false), ("check", "\u030C", false), ("mathring", "\u030A", false),
    ];

    /// <summary>All symbols with what they mean.</summary>
    public static IEnumerable<(string Name, SymbolMeaning Meaning)> All =>
        Read(Ordinary, AtomClass.Ordinary, false).Concat(Read(Relations, AtomClass.Relation, false))
            .Concat(Read(Operations, AtomClass.Binary, false)).Concat(Read(LargeOperators, AtomClass.Operator, true))
            .Concat(Read(Integrals, AtomClass.Operator, true)).Concat(Read(Opening, AtomClass.Opening, false))
            .Concat(Read(Closing, AtomClass.Closing, false));

    /// <summary>Symbols of amssymb and its usual supplements.</summary>
    public static IEnumerable<(string Name, SymbolMeaning Meaning)> Further =>
        Read(SupplementarySymbols.Ordinary, AtomClass.Ordinary, false).Concat(Read(SupplementarySymbols.Relations, AtomClass.Relation, false))
            .Concat(Read(SupplementarySymbols.Operations, AtomClass.Binary, false)).Concat(Read(SupplementarySymbols.LargeOperators, AtomClass.Operator, true))
            .Concat(Read(SupplementarySymbols.Integrals, AtomClass.Operator, true)).Concat(Read(SupplementarySymbols.Opening, AtomClass.Opening, false))
            .Concat(Read(SupplementarySymbols.Closing, AtomClass.Closing, false));

    /// <summary>Whether an operator's limits stand beside it even in displays, as an integral's do.</summary>
    public static bool IsIntegral(string text) => text.Length == 1 && text[0] is >= '∫' and <= '∳';

    private static readonly Lazy<Dictionary<int, AtomClass>> s_classes = new(() =>
    {
        var classes = new Dictionary<int, AtomClass>();
        foreach ((_, SymbolMeaning meaning) in All.Concat(Further))
        {
            classes.TryAdd(char.ConvertToUtf32(meaning.Text, 0), meaning.Class);
        }

        return classes;
    });

    /// <summary>The class of a character typed directly: as its command's (The TeXbook, p. 154, for those of the keyboard).</summary>
    public static AtomClass ClassOf(int code) => code switch
    {
        '+' or '-' or '*' or '−' or '±' or '×' or '·' or '÷' => AtomClass.Binary,
        '=' or '<' or '>' or ':' or '≤' or '≥' or '≠' or '≈' or '→' or '∈' or '∼' or '⊂' or '⇒' => AtomClass.Relation,
        '(' or '[' => AtomClass.Opening,
        ')' or ']' or '!' or '?' => AtomClass.Closing,
        ',' or ';' => AtomClass.Punctuation,
        <= 0x7F => AtomClass.Ordinary,
        _ => s_classes.Value.GetValueOrDefault(code, AtomClass.Ordinary),
    };

    private static IEnumerable<(string, SymbolMeaning)> Read(string list, AtomClass atomClass, bool large)
    {
        string[] words = list.Split(' ');
        for (int i = 0; i + 1 < words.Length; i += 2)
        {
            yield return (words[i], new SymbolMeaning(words[i + 1], atomClass, large));
        }
    }
}

/// <summary>Alphabets of formulas.</summary>
public enum MathAlphabet
{
    /// <summary>Letters italic, figures upright.</summary>
    Normal,

    /// <summary>Upright, but for small Greek letters, which keep their look.</summary>
    Upright,

    /// <summary>Upright, small Greek letters too.</summary>
    UprightGreek,

    /// <summary>Italic.</summary>
    Italic,

    /// <summary>Bold upright.</summary>
    Bold,

    /// <summary>Bold, letters italic.</summary>
    BoldItalic,

    /// <summary>Blackboard bold.</summary>
    Blackboard,

    /// <summary>Script.</summary>
    Script,

    /// <summary>Fraktur.</summary>
    Fraktur,

    /// <summary>Sans serif.</summary>
    Sans,

    /// <summary>Typewriter.</summary>
    Mono,
}

/// <summary>Finds letters in Unicode's block of mathematical alphanumeric symbols.</summary>
public static class Alphabets
{
    // Letters that were in Unicode before the block; their places in it are empty.
    private static readonly Dictionary<int, int> s_elsewhere = new()
    {
        [0x1D455] = 0x210E,
        [0x1D49D] = 0x212C,
        [0x1D4A0] = 0x2130,
        [0x1D4A1] = 0x2131,
        [0x1D4A3] = 0x210B,
        [0x1D4A4] = 0x2110,
        [0x1D4A7] = 0x2112,
        [0x1D4A8] = 0x2133,
        [0x1D4AD] = 0x211B,
        [0x1D4BA] = 0x212F,
        [0x1D4BC] = 0x210A,
        [0x1D4C4] = 0x2134,
        [0x1D506] = 0x212D,
        [0x1D50B] = 0x210C,
        [0x1D50C] = 0x2111,
        [0x1D515] = 0x211C,
        [0x1D51D] = 0x2128,
        [0x1D53A] = 0x2102,
        [0x1D53F] = 0x210D,
        [0x1D545] = 0x2115,
        [0x1D547] = 0x2119,
        [0x1D548] = 0x211A,
        [0x1D549] = 0x211D,
        [0x1D551] = 0x2124,
    };

    /// <summary>The character that shows a letter or figure in an alphabet.</summary>
    public static string Map(int code, MathAlphabet alphabet)
    {
        int mapped = code switch
        {
            >= 'A' and <= 'Z' => Latin(code - 'A', alphabet) ?? code,
            >= 'a' and <= 'z' => Latin(code - 'a' + 26, alphabet) ?? code,
            >= '0' and <= '9' => Figure(code - '0', alphabet) ?? code,
            >= 'α' and <= 'ω' => Greek(code - 'α' + 26, alphabet, true) ?? code,
            >= 'Α' and <= 'Ω' => Greek(code - 'Α', alphabet, false) ?? code,
            '∇' when alphabet is MathAlphabet.Bold or MathAlphabet.BoldItalic => 0x1D6C1,
            '∂' => Greek(51, alphabet, true) ?? code,
            'ϵ' => Greek(52, alphabet, true) ?? code,
            'ϑ' => Greek(53, alphabet, true) ?? code,
            'ϰ' => Greek(54, alphabet, true) ?? code,
            'ϕ' => Greek(55, alphabet, true) ?? code,
            'ϱ' => Greek(56, alphabet, true) ?? code,
            'ϖ' => Greek(57, alphabet, true) ?? code,
            '-' => '−',
            '*' => '∗',
            _ => code,
        };
        return char.ConvertFromUtf32(s_elsewhere.GetValueOrDefault(mapped, mapped));
    }

    private static int? Latin(int index, MathAlphabet alphabet) => alphabet switch
    {
        MathAlphabet.Normal or MathAlphabet.Italic => 0x1D434 + index,
        MathAlphabet.Bold => 0x1D400 + index,
        MathAlphabet.BoldItalic => 0x1D468 + index,
        MathAlphabet.Blackboard => 0x1D538 + index,
        MathAlphabet.Script => 0x1D49C + index,
        MathAlphabet.Fraktur => 0x1D504 + index,
        MathAlphabet.Sans => 0x1D5A0 + index,
        MathAlphabet.Mono => 0x1D670 + index,
        _ => null,
    };

    private static int? Figure(int index, MathAlphabet alphabet) => alphabet switch
    {
        MathAlphabet.Bold or MathAlphabet.BoldItalic => 0x1D7CE + index,
        MathAlphabet.Blackboard => 0x1D7D8 + index,
        MathAlphabet.Sans => 0x1D7E2 + index,
        MathAlphabet.Mono => 0x1D7F6 + index,
        _ => null,
    };

    // Small Greek letters are in no alphabet but that of bold symbols; capitals are upright unless italic is asked for (Lamport, table 3.3).
    private static int? Greek(int index, MathAlphabet alphabet, bool small) => alphabet switch
    {
        MathAlphabet.UprightGreek => null,
        MathAlphabet.BoldItalic when small => 0x1D71C + index,
        MathAlphabet.Bold or MathAlphabet.BoldItalic when !small => 0x1D6A8 + index,
        MathAlphabet.Italic => 0x1D6E2 + index,
        _ => small ? 0x1D6E2 + index : null,
    };
}
