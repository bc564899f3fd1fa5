namespace YoungFolio.Manuscript.Packages;

/// <summary>Packages for mathematics.</summary>
internal static class MathematicsPackages
{
    public static IReadOnlyList<Package> All { get; } =
    [
        new("amsmath", "Aligned and numbered displays, matrices, cases and text in formulas.")
        {
            Commands = ["text", "eqref", "dfrac", "tfrac", "binom", "operatorname", "DeclareMathOperator", "notag", "allowdisplaybreaks"],
            Environments = ["align", "align*", "equation*", "gather", "gather*", "matrix", "pmatrix", "bmatrix", "vmatrix", "cases", "aligned", "split"],
            Options = ["leqno", "reqno", "fleqn", "intlimits", "nointlimits", "sumlimits", "nosumlimits", "namelimits", "nonamelimits", "centertags", "tbtags"],
            Load = static load =>
            {
                load.Builder.DefineAmsmath();
                load.Machine.LoadDefinitions("\\newcommand{\\allowdisplaybreaks}[1][]{}");
                load.Builder.NumbersLeft |= load.Has("leqno");
                load.Builder.DisplaysLeft |= load.Has("fleqn");
            },
        },
        new("amssymb", "More symbols, and blackboard and Fraktur letters; they are always there."),
        new("amsfonts", "Blackboard and Fraktur letters; they are always there."),
        new("latexsym", "A few symbols; they are always there."),
        new("mathrsfs", "Script letters; they are always there."),
        new("bm", "Bold symbols.") { Commands = ["bm"], Definitions = "\\def\\bm{\\boldsymbol}" },
        new("mathtools", "More for displays; what amsmath gives is there.") { Requires = ["amsmath"], Definitions = "\\def\\mathtoolsset#1{}" },
        new("amstext", "Text in formulas.") { Requires = ["amsmath"] },
        new("amsopn", "Names of operators.") { Requires = ["amsmath"] },
    ];
}
