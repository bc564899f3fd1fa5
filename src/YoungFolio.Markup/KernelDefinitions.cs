namespace YoungFolio.Markup;

/// <summary>
/// What the kernel defines in the language itself: loops, registers for scratch, and constants (names and facts of Knuth's
/// <em>The TeXbook</em>, appendix B, and Lamport's <em>LaTeX</em>, from memory).
/// </summary>
internal static class KernelDefinitions
{
    public const string Markup = """
        \long\def\loop#1\repeat{\def\iterate{#1\relax\expandafter\iterate\fi}\iterate\let\iterate\relax}
        \let\repeat\fi
        \def\@plus{plus}\def\@minus{minus}\def\@height{height}\def\@depth{depth}\def\@width{width}
        \let\@relax\relax \let\@@par\par \let\endgraf\par
        \def\@nil{} \def\@nnil{\@nil} \def\space{ } \def\do{} \def\@spaces{\space\space\space\space}
        \let\@undefined\undefined@name
        \newcount\@tempcnta \newcount\@tempcntb \newcount\count@
        \newdimen\@tempdima \newdimen\@tempdimb \newdimen\@tempdimc \newdimen\dimen@ \newdimen\dimen@i \newdimen\dimen@ii
        \newskip\@tempskipa \newskip\@tempskipb \newskip\skip@
        \newtoks\@temptokena \newtoks\toks@
        \newif\if@tempswa \newif\if@twoside \newif\if@twocolumn \newif\if@titlepage \newif\if@openright \newif\if@mainmatter \newif\if@restonecol
        \newif\if@filesw
        \newbox\@tempboxa \newbox\voidb@x
        \chardef\@ne=1 \chardef\tw@=2 \chardef\thr@@=3 \chardef\sixt@@n=16 \chardef\@cclv=255 \chardef\z@count=0
        \mathchardef\@m=1000 \mathchardef\@M=10000 \mathchardef\@MM=20000
        \newcount\m@ne \m@ne=-1
        \newdimen\p@ \p@=1pt \newdimen\z@ \z@=0pt \newskip\z@skip \z@skip=0pt plus0pt minus0pt \newdimen\maxdimen \maxdimen=16383.99999pt
        \newskip\hideskip \hideskip=-1000pt plus 1fill
        \long\def\@whilenum#1\do#2{\ifnum#1\relax\expandafter\@firstofone\else\expandafter\@gobble\fi{#2\@whilenum#1\do{#2}}}
        \long\def\@whiledim#1\do#2{\ifdim#1\relax\expandafter\@firstofone\else\expandafter\@gobble\fi{#2\@whiledim#1\do{#2}}}
        \long\def\@whilesw#1\fi#2{#1\expandafter\@firstofone\else\expandafter\@gobble\fi{#2\@whilesw#1\fi{#2}}}
        \def\@car#1#2\@nil{#1} \def\@cdr#1#2\@nil{#2} \def\@carcube#1#2#3#4\@nil{#1#2#3}
        \def\strip@pt#1{\expandafter\rem@pt\the#1} \begingroup\catcode`\P=12\catcode`\T=12\lowercase{\gdef\rem@pt#1.#2PT{#1\ifnum#2>0 .#2\fi}}\endgroup
        \long\def\@ifempty#1#2#3{\ifx\@nil#1\@nil#2\else#3\fi}
        \def\@arabic#1{\number#1 } \def\@roman#1{\romannumeral#1 } \def\@Roman#1{\uppercase\expandafter{\romannumeral#1}}
        \def\@alph#1{\ifcase#1\or a\or b\or c\or d\or e\or f\or g\or h\or i\or j\or k\or l\or m\or n\or o\or p\or q\or r\or s\or t\or u\or v\or w\or x\or y\or z\fi}
        \def\@Alph#1{\ifcase#1\or A\or B\or C\or D\or E\or F\or G\or H\or I\or J\or K\or L\or M\or N\or O\or P\or Q\or R\or S\or T\or U\or V\or W\or X\or Y\or Z\fi}
        """;
}
