namespace YoungFolio.Manuscript.Packages;

/// <summary>Algorithms in lines that are numbered and indented, and the float that holds them. All of it are macros.</summary>
internal static class Algorithms
{
    private static readonly string[] s_modern =
        ["State", "Statex", "If", "ElsIf", "Else", "EndIf", "For", "ForAll", "EndFor", "While", "EndWhile", "Repeat", "Until", "Loop", "EndLoop", "Procedure", "EndProcedure", "Function", "EndFunction", "Call", "Return", "Require", "Ensure", "Comment"];

    public static IReadOnlyList<Package> All { get; } =
    [
        new("algorithm", "A float for algorithms.")
        {
            Requires = ["float"],
            Environments = ["algorithm", "algorithm*"],
            Commands = ["listofalgorithms"],
            Definitions = "\\floatstyle{ruled}\\newfloat{algorithm}{tbp}{loa}\\floatname{algorithm}{Algorithm}\\floatstyle{plain}\\def\\listofalgorithms{\\listof{algorithm}{List of Algorithms}}",
        },
        new("algpseudocode", "Algorithms in numbered, indented lines.") { Environments = ["algorithmic"], Commands = s_modern, Definitions = Lines },
        new("algcompatible", "Algorithms in numbered, indented lines, with the older names too.") { Environments = ["algorithmic"], Commands = s_modern, Definitions = Lines + Older },
        new("algorithmicx", "Algorithms in numbered, indented lines.") { Requires = ["algpseudocode"] },
        new("algorithmic", "Algorithms in numbered, indented lines, by the older names.")
        {
            Environments = ["algorithmic"],
            Commands = ["STATE", "IF", "ELSIF", "ELSE", "ENDIF", "FOR", "FORALL", "ENDFOR", "WHILE", "ENDWHILE", "REPEAT", "UNTIL", "LOOP", "ENDLOOP", "RETURN", "REQUIRE", "ENSURE", "COMMENT", "PRINT"],
            Definitions = Lines + Older,
        },
    ];

    private const string Lines =
        "\\newlength{\\algorithmicindent}\\setlength{\\algorithmicindent}{1.5em}\\newcounter{ALG@line}\\newcounter{ALG@depth}\\newlength{\\ALG@space}"
        + "\\newenvironment{algorithmic}[1][0]{\\let\\item\\ALG@item\\def\\ALG@every{#1}\\setcounter{ALG@line}{0}\\setcounter{ALG@depth}{0}\\par\\setlength{\\parindent}{0pt}\\setlength{\\parskip}{0pt}}{\\par}"
        + "\\def\\ALG@item{\\@ifnextchar[{\\ALG@label}{\\ALG@new}}\\def\\ALG@label[#1]{\\par\\noindent#1\\ }"
        + "\\def\\ALG@indent{\\setlength{\\ALG@space}{\\value{ALG@depth}\\algorithmicindent}\\ifnum\\ALG@every>0 \\makebox[1.5em][r]{\\footnotesize\\ALG@number}\\hspace*{0.5em}\\addtolength{\\ALG@space}{2em}\\hspace*{\\value{ALG@depth}\\algorithmicindent}\\else\\hspace*{\\ALG@space}\\fi"
        + "\\addtolength{\\ALG@space}{1em}\\hangindent=\\ALG@space\\hangafter=1\\ignorespaces}"
        + "\\def\\ALG@new{\\par\\refstepcounter{ALG@line}\\def\\ALG@number{\\arabic{ALG@line}:}\\noindent\\ALG@indent}"
        + "\\def\\ALG@in{\\addtocounter{ALG@depth}{1}}\\def\\ALG@out{\\addtocounter{ALG@depth}{-1}}"
        + "\\def\\State{\\ALG@new}\\def\\Statex{\\par\\def\\ALG@number{}\\noindent\\ALG@indent}"
        + "\\def\\algorithmicif{\\textbf{if}}\\def\\algorithmicthen{\\textbf{then}}\\def\\algorithmicelse{\\textbf{else}}\\def\\algorithmicend{\\textbf{end}}\\def\\algorithmicfor{\\textbf{for}}\\def\\algorithmicforall{\\textbf{for all}}\\def\\algorithmicdo{\\textbf{do}}"
        + "\\def\\algorithmicwhile{\\textbf{while}}\\def\\algorithmicrepeat{\\textbf{repeat}}\\def\\algorithmicuntil{\\textbf{until}}\\def\\algorithmicloop{\\textbf{loop}}\\def\\algorithmicfunction{\\textbf{function}}\\def\\algorithmicprocedure{\\textbf{procedure}}"
        + "\\def\\algorithmicreturn{\\textbf{return}}\\def\\algorithmicrequire{\\textbf{Require:}}\\def\\algorithmicensure{\\textbf{Ensure:}}\\def\\algorithmiccomment#1{\\hfill$\\triangleright$ #1}\\def\\algorithmicelsif{\\algorithmicelse\\ \\algorithmicif}"
        + "\\def\\If#1{\\ALG@new\\algorithmicif\\ #1\\ \\algorithmicthen\\ALG@in}\\def\\ElsIf#1{\\ALG@out\\ALG@new\\algorithmicelsif\\ #1\\ \\algorithmicthen\\ALG@in}\\def\\Else{\\ALG@out\\ALG@new\\algorithmicelse\\ALG@in}\\def\\EndIf{\\ALG@out\\ALG@new\\algorithmicend\\ \\algorithmicif}"
        + "\\def\\For#1{\\ALG@new\\algorithmicfor\\ #1\\ \\algorithmicdo\\ALG@in}\\def\\ForAll#1{\\ALG@new\\algorithmicforall\\ #1\\ \\algorithmicdo\\ALG@in}\\def\\EndFor{\\ALG@out\\ALG@new\\algorithmicend\\ \\algorithmicfor}"
        + "\\def\\While#1{\\ALG@new\\algorithmicwhile\\ #1\\ \\algorithmicdo\\ALG@in}\\def\\EndWhile{\\ALG@out\\ALG@new\\algorithmicend\\ \\algorithmicwhile}\\def\\Repeat{\\ALG@new\\algorithmicrepeat\\ALG@in}\\def\\Until#1{\\ALG@out\\ALG@new\\algorithmicuntil\\ #1}"
        + "\\def\\Loop{\\ALG@new\\algorithmicloop\\ALG@in}\\def\\EndLoop{\\ALG@out\\ALG@new\\algorithmicend\\ \\algorithmicloop}"
        + "\\def\\Procedure#1#2{\\ALG@new\\algorithmicprocedure\\ \\textsc{#1}(#2)\\ALG@in}\\def\\EndProcedure{\\ALG@out\\ALG@new\\algorithmicend\\ \\algorithmicprocedure}\\def\\Function#1#2{\\ALG@new\\algorithmicfunction\\ \\textsc{#1}(#2)\\ALG@in}\\def\\EndFunction{\\ALG@out\\ALG@new\\algorithmicend\\ \\algorithmicfunction}"
        + "\\def\\Call#1#2{\\textsc{#1}(#2)}\\def\\Return{\\algorithmicreturn\\ }\\def\\Require{\\par\\noindent\\algorithmicrequire\\ }\\def\\Ensure{\\par\\noindent\\algorithmicensure\\ }\\def\\Comment#1{\\algorithmiccomment{#1}}\\def\\algrenewcommand{\\renewcommand}\\def\\algnewcommand{\\newcommand}";

    private const string Older =
        "\\def\\STATE{\\State}\\newcommand{\\IF}[2][]{\\If{#2}}\\newcommand{\\ELSIF}[2][]{\\ElsIf{#2}}\\newcommand{\\ELSE}[1][]{\\Else}\\def\\ENDIF{\\EndIf}\\newcommand{\\FOR}[2][]{\\For{#2}}\\newcommand{\\FORALL}[2][]{\\ForAll{#2}}\\def\\ENDFOR{\\EndFor}"
        + "\\newcommand{\\WHILE}[2][]{\\While{#2}}\\def\\ENDWHILE{\\EndWhile}\\newcommand{\\REPEAT}[1][]{\\Repeat}\\def\\UNTIL#1{\\Until{#1}}\\newcommand{\\LOOP}[1][]{\\Loop}\\def\\ENDLOOP{\\EndLoop}\\def\\RETURN{\\State\\Return}\\def\\REQUIRE{\\Require}\\def\\ENSURE{\\Ensure}"
        + "\\def\\COMMENT#1{\\{#1\\}}\\def\\PRINT{\\State\\textbf{print}\\ }";
}
