using YoungFolio.Compiler;

namespace YoungFolio.Core.Tests;

/// <summary>
/// The macro language in full. Facts are those of Knuth, The TeXbook (chapters 7, 8, 20, 24 and appendix B), Lamport, LaTeX (appendix C),
/// and, for \numexpr and \detokenize, the e-TeX manual (from memory); the examples are our own, and each looks at the printed words.
/// </summary>
public class MacroLanguageTests
{
    [Theory]
    // Definitions: \edef expands now, \gdef and \xdef reach out of groups, delimiters and braces (ch. 20).
    [InlineData("\\def\\a{x}\\edef\\b{[\\a]}\\def\\a{y}\\b\\a", "[x]y")]
    [InlineData("{\\def\\a{in}\\xdef\\b{\\a}}\\b", "in")]
    [InlineData("\\def\\a#1,#2;{#2-#1}\\a one,two;", "two-one")]
    [InlineData("\\def\\a#1#{<#1>}\\a bc{d}", "<bc>d")]
    [InlineData("\\def\\a#1{\\def\\b##1{#1##1}}\\a x\\b y", "xy")]
    [InlineData("\\long\\def\\a#1{(#1)}\\a{one\\par two}", "(one two)")]
    [InlineData("\\protected\\def\\a{x}\\edef\\b{\\a}\\def\\a{y}\\b", "y")]
    [InlineData("\\def\\a{1}\\edef\\b{\\noexpand\\a\\a}\\def\\a{2}\\b", "21")]
    [InlineData("\\let\\a=b\\ifx\\a b yes\\else no\\fi", "yes")]
    [InlineData("\\futurelet\\next\\relax z\\ifx\\next z yes\\fi", "z yes")]
    [InlineData("\\expandafter\\expandafter\\expandafter\\def\\expandafter\\csname a\\endcsname{q}\\csname a\\endcsname", "q")]
    [InlineData("\\edef\\a{\\unexpanded{\\noexpand x}}\\a", "x")]
    // What commands show of themselves (pp. 213-214, 336).
    [InlineData("\\string\\walls", "\\walls")]
    [InlineData("\\def\\a#1{b#1}\\meaning\\a", "macro:#1->b#1")]
    [InlineData("\\meaning a, \\meaning 7", "the letter a, the character 7")]
    [InlineData("\\detokenize{\\a b_#}", "\\a b_##")]
    [InlineData("\\number 0042, \\number\"1F, \\number'17, \\number`A", "42, 31, 15, 65")]
    [InlineData("\\romannumeral 1994", "mcmxciv")]
    [InlineData("\\count1=7 \\the\\count1, \\dimen1=1.5cm \\the\\dimen1", "7, 42.67912pt")]
    [InlineData("\\skip1=1pt plus 2fil minus 3pt\\relax\\the\\skip1", "1.0pt plus 2.0fil minus 3.0pt")]
    [InlineData("\\toks0={a\\relax b}\\the\\toks0", "ab")]
    [InlineData("\\newtoks\\t\\t={x}\\t=\\expandafter{\\the\\t y}\\the\\t", "xy")]
    // Conditionals (ch. 20).
    [InlineData("\\ifnum 1=1\\relax a\\else b\\fi\\ifnum1=2\\else c\\fi", "ac")]
    [InlineData("\\ifnum 3>2 \\ifnum 2>3 a\\else b\\fi\\else c\\fi", "b")]
    [InlineData("\\ifdim 1in>2.5cm in\\else cm\\fi", "in")]
    [InlineData("\\if aa same\\fi\\if ab\\else other\\fi", "sameother")]
    [InlineData("\\ifcat a1 same\\else other\\fi\\ifcat ab same\\fi", "other same")]
    [InlineData("\\ifodd 3 odd\\fi\\unless\\ifodd 4 even\\fi", "oddeven")]
    [InlineData("\\ifcase 0 nought\\or one\\fi\\ifcase 5 \\or\\else many\\fi", "noughtmany")]
    [InlineData("\\ifdefined\\nothing y\\else n\\fi\\ifdefined\\par y\\fi", "ny")]
    [InlineData("\\ifcsname nothing\\endcsname y\\else n\\fi\\ifcsname par\\endcsname y\\fi", "ny")]
    [InlineData("\\def\\a{x}\\def\\b{x}\\ifx\\a\\b same\\fi\\def\\b{y}\\ifx\\a\\b\\else differ\\fi", "samediffer")]
    [InlineData("$\\ifmmode x\\fi$\\ifmmode\\else y\\fi", "xy")]
    [InlineData("a\\ifhmode h\\fi\\par\\ifvmode v\\fi", "ah v")]
    [InlineData("\\count0=0 \\loop\\advance\\count0 by 1 \\the\\count0 \\ifnum\\count0<4 \\repeat", "1234")]
    // Arithmetic (ch. 15; e-TeX).
    [InlineData("\\the\\numexpr 2+3*4\\relax, \\the\\numexpr (2+3)*4\\relax, \\the\\numexpr 7/2\\relax", "14, 20, 4")]
    [InlineData("\\the\\dimexpr 2pt*3 - 1pt\\relax", "5.0pt")]
    [InlineData("\\count0=10 \\divide\\count0 by 3 \\the\\count0 \\multiply\\count0 by -2 \\the\\count0", "3-6")]
    [InlineData("\\parindent=0pt\\newdimen\\d\\d=.5\\textwidth\\ifdim\\d>2cm yes\\fi", "yes")]
    [InlineData("\\newcount\\n\\n=5\\advance\\n-2 \\the\\n", "3")]
    // Groups, categories, case.
    [InlineData("\\def\\b{after}{\\aftergroup\\b in}", "inafter")]
    [InlineData("\\def\\b{!}\\afterassignment\\b\\count0=3 x", "!x")]
    [InlineData("\\catcode`\\|=\\active\\def|{bar}a|b", "abarb")]
    [InlineData("{\\catcode`\\_=12 a_b}", "a_b")]
    [InlineData("\\uppercase{ab\\relax c}\\lowercase{DEF}", "ABCdef")]
    [InlineData("\\begingroup\\lccode`\\~=`\\*\\lowercase{\\endgroup\\def\\a{~}}\\catcode`\\*=\\active\\def*{star}\\a", "star")]
    [InlineData("\\MakeUppercase{walls \\ae{} ß} \\MakeLowercase{ABC}", "WALLS Æ SS abc")]
    [InlineData("^^41^^5a", "AZ")]
    // Boxes and measures (ch. 11, 12).
    [InlineData("\\setbox0=\\hbox{word}\\box0 \\ifvoid0 void\\fi", "word void")]
    [InlineData("\\leavevmode\\setbox0=\\hbox{word}\\copy0 \\unhbox0", "wordword")]
    [InlineData("\\setbox1=\\hbox to 3cm{a\\hfil}\\ifdim\\wd1=3cm yes\\fi", "yes")]
    [InlineData("\\setbox1=\\hbox{x}\\ht1=20pt \\the\\ht1", "20.0pt")]
    [InlineData("\\newbox\\b\\setbox\\b=\\vbox{\\hsize=5cm one\\par two}\\ifdim\\wd\\b=5cm wide\\fi\\ifvbox\\b v\\fi", "widev")]
    [InlineData("\\newsavebox{\\w}\\sbox{\\w}{kept}\\usebox{\\w} and \\usebox{\\w}", "kept and kept")]
    [InlineData("\\newsavebox{\\w}\\begin{lrbox}{\\w}kept\\end{lrbox}\\usebox\\w", "kept")]
    [InlineData("\\newlength{\\w}\\settowidth{\\w}{MM}\\newlength{\\v}\\settowidth{\\v}{M}\\ifdim\\w>1.99\\v double\\fi", "double")]
    [InlineData("\\everypar={¶}one\\par two", "¶one ¶two")]
    public void The_language_means_what_the_books_say(string markup, string printed)
    {
        CompileResult result = Compiled.Body(markup);
        Assert.Empty(Compiled.Codes(result));
        Assert.Equal(printed + " 1", Compiled.Text(result));
    }

    [Theory]
    // Kernel programming commands (Lamport, appendix C; common practice of class files).
    [InlineData("\\@namedef{odd name}{yes}\\@nameuse{odd name}\\@ifundefined{odd name}{no}{!}", "yes!")]
    [InlineData("\\def\\a{x}\\g@addto@macro\\a{y}\\a", "xy")]
    [InlineData("\\@for\\i:=a,b,c\\do{<\\i>}", "<a><b><c>")]
    [InlineData("\\def\\l{p,q}\\@for\\i:=\\l\\do{\\i.}", "p.q.")]
    [InlineData("\\@tfor\\i:=abc\\do{\\i-}", "a-b-c-")]
    [InlineData("\\@tempcnta=1 \\@whilenum\\@tempcnta<4 \\do{\\the\\@tempcnta\\advance\\@tempcnta\\@ne}", "123")]
    [InlineData("\\def\\t{\\@ifstar{star}{plain}}\\t* \\t", "star plain")]
    [InlineData("\\def\\t{\\@ifnextchar({round}{other}}\\t(x) \\t x", "round(x) otherx")]
    [InlineData("\\@firstoftwo ab\\@secondoftwo ab\\@gobble xz", "abz")]
    [InlineData("\\expandafter\\@car\\@empty wall\\@nil", "w")]
    [InlineData("\\newif\\if@dry\\@drytrue\\if@dry dry\\fi\\@dryfalse\\if@dry\\else wet\\fi", "drywet")]
    [InlineData("\\strip@pt\\dimexpr 12pt\\relax", "12")]
    [InlineData("\\newcounter{w}\\newcounter{s}[w]\\setcounter{s}{4}\\stepcounter{w}\\thew.\\thes", "1.0")]
    [InlineData("\\newcounter{w}\\addtocounter{w}{3}\\setcounter{w}{\\value{w}}\\Roman{w}\\alph{w}\\Alph{w}\\roman{w}\\fnsymbol{w}", "IIIcCiii‡")]
    [InlineData("\\newcounter{w}\\renewcommand{\\thew}{W\\arabic{w}}\\refstepcounter{w}\\label{k}\\ref{k}", "W1")]
    [InlineData("\\newlength{\\a}\\setlength{\\a}{2pt plus 1pt}\\addtolength{\\a}{3pt}\\the\\a", "5.0pt plus 1.0pt")]
    [InlineData("\\providecommand{\\a}{x}\\providecommand{\\a}{y}\\a\\renewcommand\\a{z}\\a", "xz")]
    [InlineData("\\newcommand*\\a[3][d]{#1#2#3}\\a bc \\a[x]bc", "dbc xbc")]
    [InlineData("\\DeclareRobustCommand\\a{x}\\edef\\b{\\a}\\renewcommand\\a{y}\\b", "y")]
    [InlineData("\\newenvironment{n}[2][o]{(#1#2:}{)}\\begin{n}{p}x\\end{n}", "(op:x)")]
    [InlineData("\\newenvironment{n}{[}{]}\\renewenvironment{n}{<}{>}\\begin{n}x\\end{n}", "<x>")]
    [InlineData("\\let\\oldquote\\quote\\let\\endoldquote\\endquote\\renewenvironment{quote}{\\oldquote a}{z\\endoldquote}\\begin{quote}-\\end{quote}", "a-z")]
    [InlineData("\\counterwithin{equation}{section}\\theequation", "0.0")]
    [InlineData("\\secdef\\one\\two*{x}\\def\\t{x}", null)]
    [InlineData("\\AddToHook{env/quote/begin}{>>}\\begin{quote}x\\end{quote}", "»x")]
    [InlineData("\\define@key{f}{c}{[#1]}\\define@key{f}{d}[std]{(#1)}\\setkeys{f}{c=1,d}", "[1](std)")]
    public void Class_files_find_the_kernel_commands(string markup, string? printed)
    {
        CompileResult result = Compiled.Body("\\makeatletter " + markup + "\\makeatother");
        if (printed is null)
        {
            return;
        }

        Assert.Empty(Compiled.Codes(result));
        Assert.Equal(printed + " 1", Compiled.Text(result));
    }

    [Theory]
    // Argument types of document commands (m o O s t d r e v b, processors), as documented for the kernel.
    [InlineData("\\NewDocumentCommand\\a{m O{std} m}{#1-#2-#3}\\a{x}{y} \\a{x}[z]{y}", "x-std-y x-z-y")]
    [InlineData("\\NewDocumentCommand\\a{s m}{\\IfBooleanTF{#1}{star}{plain}#2}\\a*{x} \\a{y}", "starx plainy")]
    [InlineData("\\NewDocumentCommand\\a{o m}{\\IfNoValueTF{#1}{none}{#1}#2}\\a{x} \\a[v]{x}", "nonex vx")]
    [InlineData("\\NewDocumentCommand\\a{d() m}{\\IfValueT{#1}{(#1)}#2}\\a(p){q} \\a{q}", "(p)q q")]
    [InlineData("\\NewDocumentCommand\\a{t+ m}{\\IfBooleanT{#1}{plus}#2}\\a+{x}\\a{y}", "plusxy")]
    [InlineData("\\NewDocumentCommand\\a{m e{^_}}{#1\\IfValueT{#2}{up#2}\\IfValueT{#3}{down#3}}\\a{x}_{1}^{2}", "xup2down1")]
    [InlineData("\\NewDocumentEnvironment{n}{m}{<#1>}{</#1>}\\begin{n}{p}x\\end{n}", "<p>x</p>")]
    [InlineData("\\NewDocumentEnvironment{n}{+b}{[#1]}{}\\begin{n} body \\end{n}", "[body]")]
    [InlineData("\\NewDocumentCommand\\a{>{\\SplitArgument{1}{;}}m}{\\bb#1}\\NewDocumentCommand\\bb{mm}{#2,#1}\\a{x;y}", "y,x")]
    [InlineData("\\NewDocumentCommand\\a{>{\\TrimSpaces}m}{[#1]}\\a{ x }", "[x]")]
    [InlineData("\\NewExpandableDocumentCommand\\a{m}{<#1>}\\edef\\b{\\a{x}}\\b", "<x>")]
    public void Document_commands_read_their_arguments_as_described(string markup, string printed)
    {
        CompileResult result = Compiled.Body(markup, "\\usepackage{xparse}\n");
        Assert.Empty(Compiled.Codes(result));
        Assert.Equal(printed + " 1", Compiled.Text(result));
    }

    [Theory]
    [InlineData("ifthen", "\\ifthenelse{1<2 \\and \\not \\equal{a}{b}}{yes}{no}", "yes")]
    [InlineData("ifthen", "\\newboolean{d}\\setboolean{d}{true}\\ifthenelse{\\boolean{d} \\and \\(2>3 \\or \\isodd{3}\\)}{yes}{no}", "yes")]
    [InlineData("ifthen", "\\ifthenelse{\\lengthtest{1in > 2cm}}{in}{cm}", "in")]
    [InlineData("ifthen", "\\newcounter{i}\\whiledo{\\value{i}<3}{x\\stepcounter{i}}", "xxx")]
    [InlineData("calc", "\\newlength{\\a}\\setlength{\\a}{2cm+1cm*2-\\real{0.5}\\textwidth*0}\\ifdim\\a>3.9cm yes\\fi", null)]
    [InlineData("calc", "\\newlength{\\a}\\setlength{\\a}{(1cm+2cm)*2}\\the\\a", "170.71649pt")]
    [InlineData("calc", "\\newlength{\\a}\\setlength{\\a}{10pt*\\real{1.5}}\\the\\a", "15.0pt")]
    [InlineData("calc", "\\newlength{\\a}\\setlength{\\a}{\\widthof{MM}-\\widthof{M}}\\newlength{\\b}\\settowidth{\\b}{M}\\ifdim\\a>.99\\b same\\fi", "same")]
    [InlineData("calc", "\\newcounter{c}\\setcounter{c}{2+3*4}\\thec", "14")]
    [InlineData("calc", "\\newlength{\\a}\\setlength{\\a}{\\maxof{1pt}{3pt}}\\the\\a", "3.0pt")]
    [InlineData("etoolbox", "\\newtoggle{t}\\toggletrue{t}\\iftoggle{t}{on}{off}\\nottoggle{t}{off}{on}", "onon")]
    [InlineData("etoolbox", "\\newbool{b}\\booltrue{b}\\ifbool{b}{y}{n}\\ifb Y\\fi", "yY")]
    [InlineData("etoolbox", "\\csdef{a b}#1{[#1]}\\csuse{a b}{x}\\ifcsdef{a b}{y}{n}\\ifcsundef{zz}{u}{d}", "[x]yu")]
    [InlineData("etoolbox", "\\def\\a{x}\\appto\\a{y}\\preto\\a{w}\\a", "wxy")]
    [InlineData("etoolbox", "\\newcommand\\a[1]{(#1)}\\patchcmd\\a{(}{[}{ok}{bad}\\a{x}", "ok[x)")]
    [InlineData("etoolbox", "\\newcommand\\a[1]{(#1)}\\apptocmd\\a{!#1}{}{}\\pretocmd\\a{?}{}{}\\a{x}", "?(x)!x")]
    [InlineData("etoolbox", "\\renewcommand{\\do}[1]{<#1>}\\docsvlist{a, b,c}", "<a><b><c>")]
    [InlineData("etoolbox", "\\def\\h#1{(#1)}\\forcsvlist\\h{a,b}", "(a)(b)")]
    [InlineData("etoolbox", "\\def\\l{}\\listadd\\l{a}\\listadd\\l{b}\\renewcommand*{\\do}[1]{#1;}\\dolistloop\\l\\ifinlist{b}\\l{in}{out}", "a;b;in")]
    [InlineData("etoolbox", "\\ifstrequal{a}{a}{y}{n}\\ifblank{ }{b}{f}\\ifstrempty{}{e}{f}\\ifnumcomp{3}{>}{2}{g}{l}\\ifdimless{1pt}{2pt}{s}{b}", "ybegs")]
    [InlineData("etoolbox", "\\newbool{p}\\newtoggle{q}\\toggletrue{q}\\ifboolexpr{ bool {p} or ( togl {q} and not test {\\ifblank{x}} ) }{y}{n}", "y")]
    [InlineData("etoolbox", "\\AtBeginEnvironment{quote}{[}\\AtEndEnvironment{quote}{]}\\begin{quote}x\\end{quote}", "[x]")]
    [InlineData("pgffor", "\\foreach \\x in {1,...,4}{\\x;}\\foreach \\a/\\b in {p/q,r/s}{\\a\\b.}", "1;2;3;4;pq.rs.")]
    [InlineData("environ", "\\NewEnviron{n}{[\\BODY]}\\begin{n}text\\end{n}", "[text]")]
    [InlineData("xspace", "\\newcommand\\hol{Hollin Edge\\xspace}\\hol walls, \\hol. \\hol", "Hollin Edge walls, Hollin Edge. Hollin Edge")]
    public void Programming_packages_do_what_their_manuals_say(string package, string markup, string? printed)
    {
        CompileResult result = Compiled.Body(markup, $"\\usepackage{{{package}}}\n");
        if (printed is null)
        {
            Assert.NotNull(result.Pdf);
            return;
        }

        Assert.Empty(Compiled.Codes(result));
        Assert.Equal(printed + " 1", Compiled.Text(result));
    }

    [Fact]
    public void The_programming_layer_is_said_once_and_no_words_are_lost()
    {
        CompileResult result = Compiled.Files(("main.tex", """
            \documentclass{article}\pagestyle{empty}
            \usepackage{expl3}
            \ExplSyntaxOn
            \cs_new:Npn \wall_twice:n #1 { #1 #1 }
            \NewDocumentCommand{\twice}{ s O{x} m }{ \wall_twice:n {#3} }
            \NewDocumentCommand \both { m m } { \tl_set:Nn \l_tmpa_tl {#1} }
            \NewDocumentEnvironment{walled}{ +b }{ #1 }{ }
            \ExplSyntaxOff
            \ExplSyntaxOn \int_new:N \l_wall_int \ExplSyntaxOff
            \begin{document}\twice*[y]{One} \both{two}{three} \begin{walled}four\end{walled}\end{document}
            """));
        Assert.Equal("programming-layer", Assert.Single(result.Report.Findings).Code);
        Assert.Equal("One twothree four", Compiled.Text(result));
    }
}
