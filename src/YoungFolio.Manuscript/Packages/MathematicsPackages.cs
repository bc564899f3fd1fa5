using YoungFolio.Manuscript.Building;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Packages;

/// <summary>Packages for mathematics.</summary>
internal static class MathematicsPackages
{
    public static IReadOnlyList<Package> All { get; } =
    [
        new("accents", "Signs set above and below others as accents.")
        {
            Requires = ["amsmath"],
            Commands = ["accentset", "underaccent", "ring"],
            Definitions = "\\newcommand{\\accentset}[2]{\\overset{#1}{#2}}\\newcommand{\\underaccent}[2]{\\underset{#1}{#2}}\\newcommand{\\ring}[1]{\\mathring{#1}}",
        },
        new("amsmath", "Aligned and numbered displays, matrices, cases and text in formulas.")
        {
            Commands = ["text", "eqref", "dfrac", "tfrac", "cfrac", "genfrac", "binom", "dbinom", "tbinom", "operatorname", "DeclareMathOperator", "notag", "tag", "allowdisplaybreaks",
                "displaybreak", "numberwithin", "overset", "underset", "overunderset", "sideset", "substack", "boxed", "xrightarrow", "xleftarrow", "dddot", "ddddot", "iiiint", "idotsint",
                "overleftrightarrow", "underleftarrow", "underrightarrow", "underleftrightarrow", "pmod", "bmod", "pod", "mod", "varinjlim", "varprojlim", "varliminf", "varlimsup", "injlim", "projlim",
                "shoveleft", "shoveright", "intertext", "shortintertext", "dotsc", "dotsb", "dotsm", "dotsi", "dotso"],
            Environments = ["align", "align*", "alignat", "alignat*", "flalign", "flalign*", "xalignat", "xalignat*", "equation*", "gather", "gather*", "multline", "multline*", "matrix", "pmatrix", "bmatrix",
                "Bmatrix", "vmatrix", "Vmatrix", "smallmatrix", "cases", "aligned", "alignedat", "gathered", "split", "subarray"],
            Options = ["leqno", "reqno", "fleqn", "intlimits", "nointlimits", "sumlimits", "nosumlimits", "namelimits", "nonamelimits", "centertags", "tbtags"],
            Load = static load =>
            {
                load.Builder.MathCommands.DefineAmsmath();
                load.Builder.Pages.NumbersLeft = load.Has("leqno") || (load.Builder.Pages.NumbersLeft && !load.Has("reqno"));
                load.Builder.Pages.DisplaysLeft |= load.Has("fleqn");
            },
        },
        new("amssymb", "More symbols, and blackboard and Fraktur letters; they are always there."),
        new("amsfonts", "Blackboard and Fraktur letters; they are always there."),
        new("latexsym", "A few symbols; they are always there."),
        new("esint", "More integrals; they are always there.") { Commands = ["dotsint"], Definitions = "\\def\\dotsint{\\int\\!\\cdots\\!\\int}" },
        new("stmaryrd", "Symbols of theoretical computer science; they are always there."),
        new("mathrsfs", "Script letters; they are always there."),
        new("dsfont", "Blackboard letters.") { Commands = ["mathds"], Definitions = "\\def\\mathds{\\mathbb}" },
        new("bbm", "Blackboard letters.") { Commands = ["mathbbm"], Definitions = "\\def\\mathbbm{\\mathbb}" },
        new("upgreek", "Upright Greek letters.")
        {
            Commands = ["upalpha", "upbeta", "upgamma", "updelta", "upepsilon", "upeta", "uptheta", "upkappa", "uplambda", "upmu", "upnu", "upxi", "uppi", "uprho", "upsigma", "uptau", "upphi", "upchi", "uppsi", "upomega"],
            Definitions = string.Concat("alpha beta gamma delta epsilon eta theta kappa lambda mu nu xi pi rho sigma tau phi chi psi omega".Split(' ').Select(n => $"\\def\\up{n}{{\\csname math@uprightgreek\\endcsname{{\\{n}}}}}")),
        },
        new("bm", "Bold symbols.") { Commands = ["bm"], Definitions = "\\def\\bm{\\boldsymbol}\\def\\hm{\\boldsymbol}" },
        new("amstext", "Text in formulas.") { Requires = ["amsmath"] },
        new("amsopn", "Names of operators.") { Requires = ["amsmath"] },
        new("amsbsy", "Bold symbols.") { Definitions = "\\def\\pmb{\\boldsymbol}" },
        new("mathtools", "More for displays: delimiters that pair, small formulas over wide signs, arrows with text.")
        {
            Requires = ["amsmath"],
            Commands = ["DeclarePairedDelimiter", "DeclarePairedDelimiterX", "prescript", "xleftrightarrow", "xRightarrow", "xLeftarrow", "xLeftrightarrow", "xhookrightarrow", "xhookleftarrow", "xmapsto",
                "smashoperator", "splitfrac", "splitdfrac", "MoveEqLeft", "overbracket", "underbracket", "cramped", "adjustlimits", "nuparrow", "ndownarrow"],
            Environments = ["dcases", "dcases*", "rcases", "drcases", "multlined", "matrix*", "pmatrix*", "bmatrix*", "psmallmatrix", "bsmallmatrix"],
            Load = static load => Mathtools(load.Builder),
            Definitions = "\\def\\mathtoolsset#1{}\\def\\splitfrac#1#2{\\genfrac{}{}{0pt}{1}{#1\\hfill}{\\hfill#2}}\\def\\splitdfrac#1#2{\\genfrac{}{}{0pt}{0}{#1\\hfill}{\\hfill#2}}"
                + "\\newcommand{\\MoveEqLeft}[1][2]{&\\hspace{-#1em}}\\def\\cramped#1{#1}\\def\\adjustlimits#1_#2#3_#4{#1_{#2}#3_{#4}}"
                + "\\def\\nuparrow{\\not\\uparrow}\\def\\ndownarrow{\\not\\downarrow}\\def\\ordinarycolon{:}\\newenvironment{dcases*}{\\begin{dcases}}{\\end{dcases}}\\newenvironment{cases*}{\\begin{cases}}{\\end{cases}}",
        },
        new("extarrows", "Long arrows with text.")
        {
            Commands = ["xlongequal", "xLongrightarrow", "xlongrightarrow", "xLongleftarrow", "xlongleftarrow", "xlongleftrightarrow", "xLongleftrightarrow"],
            Load = static load => load.Builder.MathStructures.DefineArrows([("xlongequal", "="), ("xLongrightarrow", "⇒"), ("xlongrightarrow", "→"), ("xLongleftarrow", "⇐"), ("xlongleftarrow", "←"), ("xlongleftrightarrow", "↔"), ("xLongleftrightarrow", "⇔")]),
        },
        new("cancel", "Strokes through formulas.")
        {
            Commands = ["cancel", "bcancel", "xcancel", "cancelto"],
            Load = static load => load.Builder.MathStructures.DefineStrikes(),
        },
        new("nicefrac", "Slanted fractions.") { Commands = ["nicefrac"], Definitions = NiceFraction },
        new("units", "Slanted fractions, and numbers with units.")
        {
            Commands = ["nicefrac", "unit", "unitfrac"],
            Definitions = NiceFraction + "\\providecommand{\\unit}[2][]{\\ensuremath{#1\\,\\mathrm{#2}}}\\providecommand{\\unitfrac}[3][]{\\ensuremath{#1\\,\\nicefrac{\\mathrm{#2}}{\\mathrm{#3}}}}",
        },
        new("xfrac", "Slanted fractions.") { Commands = ["sfrac"], Definitions = "\\newcommand{\\sfrac}[3][]{\\ensuremath{{}^{#2}\\mkern-2mu/\\mkern-1mu{}_{#3}}}" },
        new("braket", "Brackets of quantum mechanics.")
        {
            Commands = ["bra", "ket", "braket", "Bra", "Ket", "Braket", "set", "Set"],
            Definitions = "\\def\\bra#1{\\langle#1|}\\def\\ket#1{|#1\\rangle}\\def\\braket#1{\\langle#1\\rangle}\\def\\Bra#1{\\left\\langle#1\\right|}\\def\\Ket#1{\\left|#1\\right\\rangle}\\def\\Braket#1{\\left\\langle#1\\right\\rangle}"
                + "\\def\\set#1{\\{\\,#1\\,\\}}\\def\\Set#1{\\left\\{\\,#1\\,\\right\\}}",
        },
        new("physics", "Shorthands of physics: derivatives, brackets that grow, vectors.")
        {
            Requires = ["amsmath"],
            Commands = ["qty", "abs", "norm", "eval", "order", "comm", "acomm", "vb", "va", "vu", "grad", "curl", "laplacian", "dd", "dv", "pdv", "fdv", "bra", "ket", "braket", "ketbra", "expval", "ev", "mel", "tr", "Tr", "rank"],
            Load = static load => Physics.Define(load.Builder),
            Definitions = Physics.Definitions,
        },
        new("derivative", "Derivatives.")
        {
            Commands = ["odv", "pdv"],
            Definitions = "\\NewDocumentCommand{\\odv}{s O{} m m}{\\frac{\\mathrm{d}^{#2}#3}{\\mathrm{d}#4^{#2}}}\\NewDocumentCommand{\\pdv}{s O{} m m}{\\frac{\\partial^{#2}#3}{\\partial#4^{#2}}}",
        },
        new("mhchem", "Chemical formulae and reactions.")
        {
            Commands = ["ce"],
            Load = static load => Chemistry.Define(load.Builder),
        },
    ];

    private const string NiceFraction = "\\newcommand{\\nicefrac}[3][]{\\ensuremath{{}^{#2}\\mkern-2mu/\\mkern-1mu{}_{#3}}}";

    private static void Mathtools(DocumentBuilder builder)
    {
        builder.MathStructures.DefinePrescript();
        builder.MathStructures.DefineSmashOperator();
        builder.MathStructures.DefineArrows([
            ("xleftrightarrow", "↔"), ("xRightarrow", "⇒"), ("xLeftarrow", "⇐"), ("xLeftrightarrow", "⇔"), ("xhookrightarrow", "↪"), ("xhookleftarrow", "↩"), ("xmapsto", "↦"),
            ("xrightharpoonup", "⇀"), ("xleftharpoonup", "↼"), ("xrightleftharpoons", "⇌")]);
        foreach (string name in (string[])["DeclarePairedDelimiter", "DeclarePairedDelimiterX", "DeclarePairedDelimiterXPP"])
        {
            builder.Machine.Define(name, (m, t) => Pair(m, t, hasBody: !name.EndsWith('r'), hasAround: name.EndsWith("PP", StringComparison.Ordinal)));
        }
    }

    // A command whose delimiters stand as they are, grow with a star, or have a size in brackets. What stands between them, and what stands before and
    // behind, may be given too; \delimsize is the size of the delimiters there (mathtools' documentation, section 3.6, from memory).
    private static void Pair(Machine machine, Token token, bool hasBody, bool hasAround)
    {
        Symbol? command = machine.ReadArgument(token) is [{ Symbol: { } symbol }, ..] ? symbol : null;
        int arity = hasBody && machine.ReadOptionalText(token) is { } n && int.TryParse(n, out int parsed) ? Math.Clamp(parsed, 1, 9) : 1;
        List<Token> Read() => machine.Definitions.NumberParameters(machine.ReadArgument(token), arity);
        List<Token> before = hasAround ? Read() : [];
        List<Token> left = machine.ReadArgument(token);
        List<Token> right = machine.ReadArgument(token);
        List<Token> behind = hasAround ? Read() : [];
        List<Token>? body = hasBody ? Read() : null;
        if (command is null)
        {
            return;
        }

        Symbol delimiterSize = machine.Symbol("delimsize");
        machine.Define(command.Name, (m, t) =>
        {
            bool grows = m.TakeStar();
            List<Token>? size = grows ? null : m.ReadOptional(t);
            List<List<Token>> arguments = [.. Enumerable.Range(0, arity).Select(_ => m.ReadArgument(t))];
            List<Token> content = body is null ? arguments[0] : Filled(body);
            m.Push(grows
                ? [.. Filled(before), Command("left"), .. left, .. content, Command("right"), .. right, .. Filled(behind)]
                : size is null
                ? [.. Filled(before), .. left, .. content, .. right, .. Filled(behind)]
                : [.. Filled(before), Command("mathopen"), .. TokenLists.Braced([.. size, .. left], t.Position), .. content, Command("mathclose"), .. TokenLists.Braced([.. size, .. right], t.Position), .. Filled(behind)]);

            Token Command(string name) => Token.Command(m.Symbol(name), t.Position);

            List<Token> Filled(List<Token> pattern) =>
                [.. pattern.SelectMany(b => b.Is(Category.Argument) && b.Code >= 1 && b.Code <= arity ? arguments[b.Code - 1] : b.Symbol == delimiterSize ? grows ? [Command("middle")] : size ?? [] : [b])];
        });
    }
}
