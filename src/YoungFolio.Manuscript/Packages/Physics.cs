using YoungFolio.Manuscript.Building;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Packages;

/// <summary>The package physics: brackets that grow, derivatives, vectors, Dirac's notation. Most of it are macros.</summary>
internal static class Physics
{
    public const string Definitions =
        "\\def\\dd{\\@ifnextchar[{\\yf@dd}{\\yf@dd[]}}\\def\\yf@dd[#1]{\\@ifnextchar({\\yf@dp[#1]}{\\@ifnextchar\\bgroup{\\yf@dg[#1]}{\\mathrm{d}^{#1}}}}"
        + "\\def\\yf@dp[#1](#2){\\mathop{}\\!\\mathrm{d}^{#1}\\left(#2\\right)}\\def\\yf@dg[#1]#2{\\mathop{}\\!\\mathrm{d}^{#1}#2}"
        + "\\NewDocumentCommand{\\dv}{s o m g}{\\IfNoValueTF{#4}{\\frac{\\mathrm{d}\\IfValueT{#2}{^{#2}}}{\\mathrm{d}#3\\IfValueT{#2}{^{#2}}}}{\\frac{\\mathrm{d}\\IfValueT{#2}{^{#2}}#3}{\\mathrm{d}#4\\IfValueT{#2}{^{#2}}}}}"
        + "\\NewDocumentCommand{\\pdv}{s o m g g}{\\IfNoValueTF{#4}{\\frac{\\partial\\IfValueT{#2}{^{#2}}}{\\partial#3\\IfValueT{#2}{^{#2}}}}{\\IfNoValueTF{#5}{\\frac{\\partial\\IfValueT{#2}{^{#2}}#3}{\\partial#4\\IfValueT{#2}{^{#2}}}}{\\frac{\\partial^2#3}{\\partial#4\\,\\partial#5}}}}"
        + "\\NewDocumentCommand{\\fdv}{s o m g}{\\IfNoValueTF{#4}{\\frac{\\delta}{\\delta#3}}{\\frac{\\delta#3}{\\delta#4}}}"
        + "\\NewDocumentCommand{\\vb}{s m}{\\IfBooleanTF{#1}{\\boldsymbol{#2}}{\\mathbf{#2}}}\\NewDocumentCommand{\\va}{s m}{\\vec{#2}}\\NewDocumentCommand{\\vu}{s m}{\\hat{\\mathbf{#2}}}"
        + "\\def\\vdot{\\boldsymbol{\\cdot}}\\def\\cross{\\times}\\def\\cp{\\times}\\def\\grad{\\nabla}\\def\\curl{\\nabla\\times}\\def\\divergence{\\nabla\\cdot}\\def\\laplacian{\\nabla^2}"
        + "\\DeclareMathOperator{\\tr}{tr}\\DeclareMathOperator{\\Tr}{Tr}\\DeclareMathOperator{\\rank}{rank}\\DeclareMathOperator{\\erf}{erf}\\DeclareMathOperator{\\Res}{Res}"
        + "\\NewDocumentCommand{\\ket}{s m}{\\left|#2\\right\\rangle}\\NewDocumentCommand{\\bra}{s m}{\\left\\langle#2\\right|}"
        + "\\NewDocumentCommand{\\braket}{s m g}{\\IfNoValueTF{#3}{\\left\\langle#2\\middle|#2\\right\\rangle}{\\left\\langle#2\\middle|#3\\right\\rangle}}\\let\\ip\\braket"
        + "\\NewDocumentCommand{\\ketbra}{s m g}{\\IfNoValueTF{#3}{\\left|#2\\right\\rangle\\!\\left\\langle#2\\right|}{\\left|#2\\right\\rangle\\!\\left\\langle#3\\right|}}\\let\\op\\ketbra\\let\\dyad\\ketbra"
        + "\\NewDocumentCommand{\\expval}{s m g}{\\IfNoValueTF{#3}{\\left\\langle#2\\right\\rangle}{\\left\\langle#3\\middle|#2\\middle|#3\\right\\rangle}}\\let\\ev\\expval"
        + "\\NewDocumentCommand{\\mel}{s m m m}{\\left\\langle#2\\middle|#3\\middle|#4\\right\\rangle}\\let\\matrixel\\mel"
        + "\\NewDocumentCommand{\\comm}{s m m}{\\left[#2,#3\\right]}\\NewDocumentCommand{\\acomm}{s m m}{\\left\\{#2,#3\\right\\}}\\NewDocumentCommand{\\pb}{s m m}{\\left\\{#2,#3\\right\\}}\\let\\poissonbracket\\pb\\let\\commutator\\comm\\let\\anticommutator\\acomm"
        + "\\def\\mqty(#1){\\begin{pmatrix}#1\\end{pmatrix}}\\def\\qq#1{\\quad\\text{#1}\\quad}\\def\\qcomma{,\\quad}\\def\\qif{\\quad\\text{if}\\quad}\\def\\qand{\\quad\\text{and}\\quad}\\def\\qor{\\quad\\text{or}\\quad}"
        + "\\def\\qthen{\\quad\\text{then}\\quad}\\def\\qfor{\\quad\\text{for}\\quad}\\def\\absolutevalue{\\abs}\\def\\quantity{\\qty}\\def\\derivative{\\dv}\\def\\partialderivative{\\pdv}\\def\\differential{\\dd}\\def\\gradient{\\grad}\\def\\expectationvalue{\\expval}";

    /// <summary>Gives the commands whose argument stands in any brackets.</summary>
    public static void Define(DocumentBuilder builder)
    {
        Machine machine = builder.Machine;
        machine.Define("qty", static (m, t) => Bracketed(m, t, null, null));
        machine.Define("abs", static (m, t) => Bracketed(m, t, "|", "|"));
        machine.Define("norm", static (m, t) => Bracketed(m, t, "\\|", "\\|"));
        machine.Define("order", static (m, t) =>
        {
            List<Token> content = m.ReadArgument(t);
            m.Push([.. m.Tokenize("\\mathcal{O}\\left(", t.Position), .. content, .. m.Tokenize("\\right)", t.Position)]);
        });
        machine.Define("eval", static (m, t) =>
        {
            m.TakeStar();
            List<Token> content = m.Peek().Is(Category.BeginGroup) ? m.ReadArgument(t) : m.ReadOptional(t, '(', '|') ?? m.ReadOptional(t, '[', '|') ?? [];
            m.Push([.. m.Tokenize("\\left.", t.Position), .. content, .. m.Tokenize("\\right|", t.Position)]);
        });
    }

    // \qty(…), \qty[…], \qty{…}: the brackets that stand there grow; \abs{…} has its own. A size such as \big may come before.
    private static void Bracketed(Machine machine, Token token, string? left, string? right)
    {
        bool isPlain = machine.TakeStar();
        machine.SkipSpaces();
        string? size = machine.Peek() is { Symbol.Name: "big" or "Big" or "bigg" or "Bigg" } named ? named.Symbol!.Name : null;
        if (size is not null)
        {
            machine.Next();
        }

        (string open, string close, List<Token> content) = machine.ReadOptional(token, '(', ')') is { } round ? ("(", ")", round)
            : machine.ReadOptional(token) is { } square ? ("[", "]", square)
            : machine.ReadOptional(token, '|', '|') is { } bars ? ("|", "|", bars)
            : ("\\{", "\\}", machine.ReadArgument(token));
        (open, close) = (left ?? open, right ?? close);
        string before = size is not null ? $"\\{size}l" : isPlain ? "" : "\\left";
        string after = size is not null ? $"\\{size}r" : isPlain ? "" : "\\right";
        machine.Push([.. machine.Tokenize(before + open, token.Position), .. content, .. machine.Tokenize(after + close, token.Position)]);
    }
}
