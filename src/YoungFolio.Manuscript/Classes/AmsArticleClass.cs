using YoungFolio.Manuscript.Building;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Classes;

/// <summary>
/// For papers in mathematics: a small bold title in capitals, the abstract below it wherever it is written, the authors' addresses at the end. (What stands
/// where is what the class's published documentation says, from memory.)
/// </summary>
public sealed class AmsArticleClass : ArticleClass
{
    /// <inheritdoc/>
    public override string Name => "amsart";

    /// <inheritdoc/>
    public override string Purpose => "Papers in mathematics: centred headings, theorems and displays at hand.";

    /// <inheritdoc/>
    public override IReadOnlyList<HeadingStyle> Headings { get; } =
    [
        new("part", -1, "\\normalfont\\large\\bfseries ") { Above = "4ex", Below = "3ex", IsCentred = true, Label = "\\partname~\\thepart. " },
        new("section", 1, "\\normalfont\\scshape ") { Above = ".7\\baselineskip plus \\baselineskip", Below = ".5\\baselineskip", IsCentred = true, Label = "\\thesection. " },
        new("subsection", 2, "\\normalfont\\bfseries ") { Above = ".5\\baselineskip plus .7\\baselineskip", Below = ".5em", RunsIn = true, Label = "\\thesubsection. " },
        new("subsubsection", 3, "\\normalfont\\itshape ") { Above = ".5\\baselineskip plus .7\\baselineskip", Below = ".5em", RunsIn = true, Label = "\\thesubsubsection. " },
        new("paragraph", 4, "\\normalfont\\itshape ") { Below = ".33em", RunsIn = true },
        new("subparagraph", 5, "\\normalfont\\itshape ") { Below = ".33em", RunsIn = true },
    ];

    /// <inheritdoc/>
    public override string PageStyle => "headings";

    internal override void Extend(DocumentBuilder builder)
    {
        foreach (string package in (string[])["amsmath", "amsthm", "amssymb"])
        {
            builder.Preamble.LoadPackage(package, [], Token.Command(builder.Machine.Par, PositionTable.None), 1);
        }

        // The class's own default; reqno changes it.
        builder.Pages.NumbersLeft = true;
        builder.Machine.Definitions.Load(Front);
    }

    internal override bool ApplyOption(DocumentBuilder builder, string name, ListedOption option)
    {
        builder.Pages.NumbersLeft &= name != "reqno";
        return name is "reqno" or "centertags" or "tbtags" or "psamsfonts" or "noamsfonts" or "nomath" or "portrait";
    }

    // Authors are gathered from any number of \author; all but the last stand in \ams@first. What belongs to the paper's end waits in
    // \ams@places, what stands below the first page without a mark in \ams@foot.
    private const string Front = """
        \newcount\ams@count \def\ams@first{} \def\ams@last{} \def\ams@all{} \def\ams@places{} \def\ams@foot{} \def\ams@abstract{} \def\ams@dedicatory{} \newif\ifams@made
        \def\subjclassname{\textup{2020} Mathematics Subject Classification} \def\keywordsname{Key words and phrases} \def\datename{Date} \def\emailaddrname{Email address} \def\curraddrname{Current address} \def\urladdrname{URL}
        \date{}
        \let\ams@keep\author
        \renewcommand\author[2][]{\advance\ams@count by 1
          \ifnum\ams@count>1 \ifnum\ams@count>2 \g@addto@macro\ams@first{, }\fi \expandafter\g@addto@macro\expandafter\ams@first\expandafter{\ams@last}\g@addto@macro\ams@all{\and}\fi
          \gdef\ams@last{#2}\g@addto@macro\ams@all{#2}\expandafter\ams@keep\expandafter{\ams@all}}
        \renewcommand\thanks[1]{\g@addto@macro\ams@foot{\ams@note{#1}}}
        \newcommand\address[2][]{\g@addto@macro\ams@places{\ams@address{#1}{#2}}}
        \newcommand\curraddr[2][]{\g@addto@macro\ams@places{\ams@line\curraddrname{#1}{#2}}}
        \newcommand\email[2][]{\g@addto@macro\ams@places{\ams@line\emailaddrname{#1}{\ttfamily #2}}}
        \newcommand\urladdr[2][]{\g@addto@macro\ams@places{\ams@line\urladdrname{#1}{\ttfamily #2}}}
        \newcommand\dedicatory[1]{\gdef\ams@dedicatory{#1}}
        \newcommand\translator[1]{\g@addto@macro\ams@foot{\ams@note{Translated by #1}}}
        \newcommand\subjclass[2][]{\g@addto@macro\ams@foot{\ams@note{\ifx\relax#1\relax\textit{\subjclassname.}\else\textup{#1} \textit{Mathematics Subject Classification.}\fi{} \ams@ended{#2}}}}
        \newcommand\keywords[1]{\g@addto@macro\ams@foot{\ams@note{\textit{\keywordsname.} \ams@ended{#1}}}}
        \def\ams@ended#1{\ams@point#1\@nil.\@nil\@@nil} \def\ams@point#1.\@nil#2\@@nil{#1.}
        \def\ams@note#1{{\def\thefootnote{}\footnotetext{#1}}}
        \def\ams@address#1#2{\par\addvspace{\bigskipamount}\ifx\relax#1\relax\else(\ignorespaces#1\unskip) \fi{\def\\{\unskip, \ignorespaces}\scshape\ignorespaces#2\par}}
        \def\ams@line#1#2#3{\par{\itshape#1}\ifx\relax#2\relax\else, \ignorespaces#2\unskip\fi: {#3\par}}
        \AtEndDocument{\ifx\ams@places\@empty\else\par{\footnotesize\ams@places}\fi}
        \def\ams@capitals#1{\expandafter\MakeUppercase\expandafter{#1}}
        \def\ams@people{\ifnum\ams@count>1 \ams@capitals\ams@first\ifnum\ams@count>2 ,\fi\ AND \fi\ams@capitals\ams@last}
        \RenewDocumentEnvironment{abstract}{+b}{\gdef\ams@abstract{#1}\ifams@made\ams@printabstract\fi}{}
        \def\ams@printabstract{\ifx\ams@abstract\@empty\else\par\vskip20pt {\leftskip=36pt\rightskip=36pt\footnotesize\noindent{\scshape\abstractname.} \ams@abstract\par}\vskip12pt\fi}
        \renewcommand\maketitle{\par\global\ams@madetrue\thispagestyle{plain}\vspace*{32pt}
          {\centering\bfseries\ams@capitals\@title\par}
          \ifnum\ams@count>0 \vspace{18pt}{\centering\footnotesize\def\and{\unskip, }\def\\{ }\ams@people\par}\fi
          \ifx\ams@dedicatory\@empty\else\vspace{14pt}{\centering\footnotesize\itshape\ams@dedicatory\par}\fi
          \ams@printabstract
          \ifx\@date\@empty\else\ams@note{\textit{\datename:} \expandafter\ams@ended\expandafter{\@date}}\fi
          \ams@foot
          \@ifundefined{@shorttitle}{\let\@shorttitle\@title}{}
          \expandafter\markboth\expandafter{\ams@people}{\ams@capitals\@shorttitle}\par}
        \def\ps@headings{\def\@oddfoot{}\let\@evenfoot\@oddfoot\def\@oddhead{\normalfont\scriptsize\ifodd\c@page\hfil\rightmark\hfil\llap{\thepage}\else\rlap{\thepage}\hfil\leftmark\hfil\fi}\let\@evenhead\@oddhead}
        """;
}
