using YoungFolio.Documents.Mathematics;

namespace YoungFolio.Manuscript.Mathematics;

/// <summary>
/// Symbols beyond Lamport's tables: those of amssymb, and the common ones of its supplements (stmaryrd, wasysym, mathtools).
/// Names are the packages' own (from memory); characters are those of Unicode's mathematical repertoire (UTR #25).
/// </summary>
internal static class SupplementarySymbols
{
    public const string Ordinary =
        "digamma ϝ varkappa ϰ gimel ℷ daleth ℸ Game ⅁ Finv Ⅎ Bbbk 𝕜 hslash ℏ circledS Ⓢ backprime ‵ bigstar ★ blacklozenge ⧫ lozenge ◊ Diamond ◇ Box □ " +
        "blacktriangle ▲ blacktriangledown ▼ triangledown ▽ vartriangle △ measuredangle ∡ sphericalangle ∢ mho ℧ diagup ╱ diagdown ╲ varGamma 𝛤 varDelta 𝛥 " +
        "varTheta 𝛩 varLambda 𝛬 varXi 𝛯 varPi 𝛱 varSigma 𝛴 varUpsilon 𝛶 varPhi 𝛷 varPsi 𝛹 varOmega 𝛺 checkmark ✓ maltese ✠ circledR ® yen ¥ S § P ¶ " +
        "copyright © pounds £ euro € Alpha Α Beta Β Epsilon Ε Zeta Ζ Eta Η Iota Ι Kappa Κ Mu Μ Nu Ν Omicron Ο Rho Ρ Tau Τ Chi Χ";

    public const string Relations =
        "leqq ≦ geqq ≧ eqslantless ⪕ eqslantgtr ⪖ lessapprox ⪅ gtrapprox ⪆ lesseqgtr ⋚ gtreqless ⋛ lesseqqgtr ⪋ gtreqqless ⪌ gtrless ≷ lll ⋘ llless ⋘ ggg ⋙ gggtr ⋙ " +
        "lessdot ⋖ gtrdot ⋗ doteqdot ≑ Doteq ≑ risingdotseq ≓ fallingdotseq ≒ backsimeq ⋍ subseteqq ⫅ supseteqq ⫆ Subset ⋐ Supset ⋑ sqsubset ⊏ sqsupset ⊐ " +
        "preccurlyeq ≼ succcurlyeq ≽ curlyeqprec ⋞ curlyeqsucc ⋟ precsim ≾ succsim ≿ precapprox ⪷ succapprox ⪸ vartriangleleft ⊲ vartriangleright ⊳ " +
        "trianglelefteq ⊴ trianglerighteq ⊵ lhd ⊲ rhd ⊳ unlhd ⊴ unrhd ⊵ Vvdash ⊪ Vdash ⊩ smallsmile ⌣ smallfrown ⌢ shortmid ∣ shortparallel ∥ bumpeq ≏ Bumpeq ≎ " +
        "between ≬ pitchfork ⋔ varpropto ∝ blacktriangleleft ◀ blacktriangleright ▶ backepsilon ∍ eqcirc ≖ circeq ≗ thicksim ∼ thickapprox ≈ Join ⋈ owns ∋ " +
        "nsim ≁ ncong ≇ nprec ⊀ nsucc ⊁ npreceq ⋠ nsucceq ⋡ nleqslant ≰ ngeqslant ≱ nleqq ≰ ngeqq ≱ lneq ⪇ gneq ⪈ lneqq ≨ gneqq ≩ lvertneqq ≨ gvertneqq ≩ " +
        "lnsim ⋦ gnsim ⋧ lnapprox ⪉ gnapprox ⪊ precneqq ⪵ succneqq ⪶ precnsim ⋨ succnsim ⋩ precnapprox ⪹ succnapprox ⪺ subsetneqq ⫋ supsetneqq ⫌ " +
        "varsubsetneq ⊊ varsupsetneq ⊋ varsubsetneqq ⫋ varsupsetneqq ⫌ nsupseteq ⊉ nsubseteqq ⊈ nsupseteqq ⊉ nsubset ⊄ nsupset ⊅ ntriangleleft ⋪ ntriangleright ⋫ " +
        "ntrianglelefteq ⋬ ntrianglerighteq ⋭ nvdash ⊬ nvDash ⊭ nVdash ⊮ nVDash ⊯ nshortmid ∤ nshortparallel ∦ notin ∉ " +
        "leftleftarrows ⇇ rightrightarrows ⇉ leftrightarrows ⇆ rightleftarrows ⇄ upuparrows ⇈ downdownarrows ⇊ Lleftarrow ⇚ Rrightarrow ⇛ twoheadleftarrow ↞ " +
        "leftarrowtail ↢ rightarrowtail ↣ looparrowleft ↫ looparrowright ↬ leftrightharpoons ⇋ leftharpoondown ↽ upharpoonleft ↿ upharpoonright ↾ restriction ↾ " +
        "downharpoonleft ⇃ downharpoonright ⇂ curvearrowleft ↶ curvearrowright ↷ circlearrowleft ↺ circlearrowright ↻ Lsh ↰ Rsh ↱ multimap ⊸ leftrightsquigarrow ↭ " +
        "nleftarrow ↚ nrightarrow ↛ nLeftarrow ⇍ nRightarrow ⇏ nleftrightarrow ↮ nLeftrightarrow ⇎ Updownarrow ⇕ dashrightarrow ⇢ dashleftarrow ⇠ mapsfrom ↤ " +
        "longmapsfrom ⟻ Mapsto ⤇ Longmapsto ⟾ leftarrowtriangle ⇽ rightarrowtriangle ⇾ " +
        "eqqcolon ≕ Coloneqq ⩴ coloncolon ∷ approxcolon ≈ dblcolon ∷ eqsim ≂ eqdot ⩦ lesssim ≲ invneg ⌐ " +
        "vDdash ⊨ arceq ≘ stareq ≛ measeq ≞ questeq ≟ vcentcolon ∶ nequiv ≢ napprox ≉ nsimeq ≄";

    public const string Operations =
        "dotplus ∔ ltimes ⋉ rtimes ⋊ Cap ⋒ doublecap ⋒ Cup ⋓ doublecup ⋓ leftthreetimes ⋋ rightthreetimes ⋌ veebar ⊻ doublebarwedge ⩞ curlywedge ⋏ curlyvee ⋎ " +
        "boxminus ⊟ boxdot ⊡ circleddash ⊝ circledast ⊛ circledcirc ⊚ centerdot ⋅ intercal ⊺ divideontimes ⋇ gtrdot ⋗ bigcirc ◯ And & " +
        "varoplus ⊕ varotimes ⊗ varodot ⊙ varominus ⊖ varoslash ⊘ obar ⌽ olessthan ⧀ ogreaterthan ⧁ sslash ⫽ interleave ⫴ talloblong ⫾ boxbar ◫ boxbslash ⧅ " +
        "boxslash ⧄ boxast ⧆ boxcircle ⊚ lbag ⟅ rbag ⟆ nplus ⧺ fatsemi ⨟ fatslash ⧸ fatbslash ⧹ uplus ⊎ bigtimes ⨉";

    public const string LargeOperators = "bigsqcap ⨅ bigcurlyvee ⋎ bigcurlywedge ⋏ bigboxplus ⊞ biginterleave ⫼ bigparallel ∥";

    public const string Integrals = "oiint ∯ oiiint ∰ varointclockwise ∲ ointctrclockwise ∳ fint ⨍ sqint ⨖ ointclockwise ∱ intclockwise ∱ varoiint ∯ varointctrclockwise ∳";

    public const string Opening = "ulcorner ⌜ llcorner ⌞ lmoustache ⎰ llbracket ⟦ llparenthesis ⦇ lAngle ⟪ Lbrack ⟦ lBrace ⦃ lParen ⦅";
    public const string Closing = "urcorner ⌝ lrcorner ⌟ rmoustache ⎱ rrbracket ⟧ rrparenthesis ⦈ rAngle ⟫ Rbrack ⟧ rBrace ⦄ rParen ⦆";
}
