namespace YoungFolio.Core.Tests;

/// <summary>
/// Formulas to compare with other readers of the markup. Those of the handbooks are named by their number in Abramowitz and Stegun,
/// Handbook of Mathematical Functions (1964), from memory; the rest follows the lists of commands in the documentation of KaTeX and MathJax.
/// </summary>
internal static class Formulas
{
    public static readonly string[] Handbook =
    [
        @"(a+b)^n = a^n + \binom{n}{1} a^{n-1} b + \binom{n}{2} a^{n-2} b^2 + \dots + b^n", // 3.1.1
        @"\sum_{k=0}^{n} \binom{n}{k} = 2^n",
        @"z_{1,2} = \frac{-b \pm \sqrt{b^2 - 4ac}}{2a}", // 3.8.1
        @"\ln z = \int_1^z \frac{dt}{t}", // 4.1.1
        @"e^z = 1 + \frac{z}{1!} + \frac{z^2}{2!} + \frac{z^3}{3!} + \cdots", // 4.2.1
        @"e^{iz} = \cos z + i \sin z",
        @"\sin^2 z + \cos^2 z = 1", // 4.3.10
        @"\tan(z_1 + z_2) = \frac{\tan z_1 + \tan z_2}{1 - \tan z_1 \tan z_2}", // 4.3.18
        @"\arctan z = z - \frac{z^3}{3} + \frac{z^5}{5} - \dotsb",
        @"E_1(z) = \int_z^\infty \frac{e^{-t}}{t}\,dt \qquad (|\arg z| < \pi)", // 5.1.1
        @"\Gamma(z) = \int_0^\infty t^{z-1} e^{-t}\,dt", // 6.1.1
        @"\Gamma(z+1) = z\,\Gamma(z) = z!", // 6.1.15
        @"\Gamma(2z) = (2\pi)^{-\frac12}\, 2^{2z-\frac12}\, \Gamma(z)\, \Gamma\left(z+\tfrac12\right)", // 6.1.18
        @"\psi(z) = \frac{d[\ln\Gamma(z)]}{dz} = \frac{\Gamma'(z)}{\Gamma(z)}", // 6.3.1
        @"\operatorname{erf} z = \frac{2}{\sqrt{\pi}} \int_0^z e^{-t^2}\,dt", // 7.1.1
        @"(1-z^2)\frac{d^2 w}{dz^2} - 2z\frac{dw}{dz} + \left[\nu(\nu+1) - \frac{\mu^2}{1-z^2}\right] w = 0", // 8.1.1
        @"z^2 \frac{d^2 w}{dz^2} + z \frac{dw}{dz} + (z^2 - \nu^2) w = 0", // 9.1.1
        @"J_\nu(z) = \left(\tfrac12 z\right)^\nu \sum_{k=0}^\infty \frac{\left(-\frac14 z^2\right)^k}{k!\,\Gamma(\nu+k+1)}", // 9.1.10
        @"F(a,b;c;z) = \frac{\Gamma(c)}{\Gamma(a)\Gamma(b)} \sum_{n=0}^\infty \frac{\Gamma(a+n)\Gamma(b+n)}{\Gamma(c+n)} \frac{z^n}{n!}", // 15.1.1
        @"F(\varphi\backslash\alpha) = \int_0^\varphi (1 - \sin^2\alpha \sin^2\theta)^{-\frac12}\,d\theta", // 17.2.6
        @"\zeta(s) = \sum_{k=1}^\infty k^{-s} \quad \Re s > 1", // 23.2.1
        @"\zeta(s) = \prod_p (1 - p^{-s})^{-1}", // 23.2.2
        @"B_n(x+1) - B_n(x) = nx^{n-1}", // 23.1.6
        @"Z(x) = \frac{1}{\sqrt{2\pi}} e^{-x^2/2}", // 26.2.1
        @"\lim_{n\to\infty} \left(1 + \frac{z}{n}\right)^n = e^z", // 4.2.21
        @"\int_a^b f(x)\,dx = \frac{h}{2}(f_0 + f_1) - \frac{h^3}{12} f''(\xi)", // 25.4.1
        @"\left| \sum_{k=1}^n a_k b_k \right| \le \left( \sum_{k=1}^n a_k^2 \right)^{1/2} \left( \sum_{k=1}^n b_k^2 \right)^{1/2}", // 3.2.9
        @"\frac{n}{\frac{1}{a_1} + \frac{1}{a_2} + \cdots + \frac{1}{a_n}}",
        @"\sqrt[n]{a_1 a_2 \cdots a_n}",
        @"\nabla \times \mathbf{E} = -\frac{\partial \mathbf{B}}{\partial t}",
    ];

    public static readonly string[] Structures =
    [
        @"\frac{a}{b}", @"\dfrac{a}{b}", @"\tfrac ab", @"\cfrac{1}{1+\cfrac{1}{x}}", @"{a \over b}", @"{a+1 \over b+2}", @"{n \choose k}", @"{n \brace k}", @"{n \brack k}", @"{a \atop b}", @"\binom{n}{k}", @"\dbinom nk", @"\tbinom nk",
        @"\genfrac{(}{)}{0pt}{1}{a}{b}", @"\genfrac{[}{]}{}{}{a}{b}", @"\sqrt{x}", @"\sqrt[3]{x+1}", @"\sqrt{\sqrt{x}}", @"x^2", @"x_i", @"x_i^2", @"x^2_i", @"x^{y^z}", @"x_{y_z}", @"{x^a}^b", @"x^{a+b}_{c+d}", @"f'", @"f''", @"f'''", @"f'_n", @"f'^2",
        @"x''_{i}", @"\sum_{i=1}^n i", @"\prod_{k} k", @"\int_0^1 f", @"\int\limits_0^1 f", @"\sum\nolimits_i^n x", @"\oint_C", @"\iint_D", @"\iiint", @"\bigcup_{i\in I} A_i", @"\bigoplus_i V", @"\lim_{x\to 0} f", @"\max_x f", @"\limsup_n", @"\liminf_n", @"\sup_x", @"\gcd(a,b)",
        @"\left( x \right)", @"\left[ \frac ab \right]", @"\left\{ x \right\}", @"\left| x \right|", @"\left\| x \right\|", @"\left\langle x \right\rangle", @"\left\lfloor x \right\rfloor", @"\left\lceil x \right\rceil", @"\left. x \right|_0", @"\left( a \middle| b \right)",
        @"\left/ x \right\backslash", @"\left\uparrow x \right\Downarrow", @"\left\lvert x\right\rvert", @"\left\lgroup x\right\rgroup", @"\bigl( x \bigr)", @"\Bigl[ x \Bigr]", @"\biggl\{ x \biggr\}", @"\Biggl| x \Biggr|", @"\big/ x", @"a \bigm| b",
        @"\begin{matrix} a & b \\ c & d \end{matrix}", @"\begin{pmatrix} a & b \\ c & d \end{pmatrix}", @"\begin{bmatrix} 1 \end{bmatrix}", @"\begin{Bmatrix} 1 & 2 \end{Bmatrix}", @"\begin{vmatrix} a & b \\ c & d \end{vmatrix}", @"\begin{Vmatrix} a \end{Vmatrix}", @"\begin{smallmatrix} a & b \end{smallmatrix}",
        @"\begin{array}{lcr} a & b & c \\ d & e & f \end{array}", @"\begin{array}{c|c} a & b \\ \hline c & d \end{array}", @"\begin{cases} a & x > 0 \\ b & x \le 0 \end{cases}", @"\begin{aligned} a &= b \\ c &= d \end{aligned}", @"\begin{gathered} a \\ b \end{gathered}", @"\begin{alignedat}{2} a &= b & c &= d \end{alignedat}",
        @"\begin{split} a &= b \\ &= c \end{split}", @"\begin{dcases} a \\ b \end{dcases}", @"\begin{rcases} a \\ b \end{rcases}", @"\sum_{\substack{a \\ b}} x", @"\begin{subarray}{l} a \\ b \end{subarray}", @"\hat x", @"\widehat{abc}", @"\tilde x", @"\widetilde{abc}", @"\bar x", @"\dot x", @"\ddot x", @"\dddot x", @"\vec x", @"\acute x", @"\grave x",
        @"\breve x", @"\check x", @"\mathring x", @"\overline{ab}", @"\underline{ab}", @"\overbrace{a+b}^{n}", @"\underbrace{a+b}_{n}", @"\overbrace{x}", @"\overrightarrow{AB}", @"\overleftarrow{AB}", @"\overleftrightarrow{AB}", @"\underrightarrow{AB}", @"\xrightarrow{f}", @"\xleftarrow[g]{f}",
        @"\overset{a}{b}", @"\underset{a}{b}", @"\stackrel{a}{=}", @"\overset{!}{=}", @"\phantom{x}", @"\hphantom{x}y", @"\smash{x}", @"\operatorname{rank} A", @"\operatorname*{arg\,max}_x f", @"\mathop{abc}\limits_x", @"a \mathbin{\#} b", @"a \mathrel{R} b", @"\mathopen{(} x \mathclose{)}", @"\mathord{x}", @"\mathinner{x}",
        @"a \bmod b", @"a \pmod b", @"a \pod b", @"\mathchoice{a}{b}{c}{d}", @"\text{if } x", @"x \text{ or } y", @"\mbox{words} x", @"\textrm{abc}", @"\mathrm{abc}", @"\mathbf{x}", @"\mathit{abc}", @"\mathsf{A}", @"\mathtt{t}", @"\mathbb{R}", @"\mathcal{L}", @"\mathfrak{g}", @"\mathscr{A}", @"\boldsymbol{x}", @"\displaystyle \frac ab",
        @"\textstyle \sum_i", @"\scriptstyle x", @"a \, b \; c \! d \quad e \qquad f \: g \  h", @"a \kern1pt b", @"a \mkern3mu b", @"a \mskip3mu b", @"a \hspace{1em} b", @"x \not= y", @"x \not\in y", @"\not<", @"\ldots", @"\cdots", @"\vdots", @"\ddots", @"\dots", @"a,\dots,b", @"a+\dots+b", @"\dotsc", @"3.14", @"1{,}000", @"10^{-3}", @"12^2", @"a:b", @"f\colon A \to B",
        @"\{ x \}", @"|x|", @"\|x\|", @"n!", @"a/b", @"\%", @"\$", @"\&", @"\#", @"\_", @"a<b>c", @"\langle x, y \rangle", @"{}^{14}_{6}\mathrm{C}", @"\color{red} x", @"\textcolor{blue}{x}", @"\cancel{x}", @"\sideset{_a^b}{_c^d}\prod", @"\underbrace{a}_{\text{first}} + \overbrace{b}^{\text{second}}", @"\prod_{i=1}^{n} \left( 1 - \frac{1}{p_i} \right)",
        @"\root 3 \of x", @"x \equiv y \pmod{n}", @"\overline{\overline{x}}", @"\hat{\hat{x}}", @"\frac{\frac{a}{b}}{\frac{c}{d}}", @"((((x))))", @"{{{x}}}", @"\mathrm{d}x", @"\int\!\!\!\int", @"\lim\limits_{x}", @"\varliminf", @"\varinjlim", @"\injlim", @"\arg\max_x", @"\det A", @"\Pr(X)", @"\ker f", @"\dim V", @"\hom", @"\deg p", @"\exp x", @"\lg x", @"\coth x",
    ];

    // As computer-algebra systems write them: nests of brackets, matrices without environments of their own, scripts on nothing.
    public static readonly string[] FromPrograms =
    [
        @"\left(\left(x+1\right)\,\left(x-1\right)\right)", @"{{\left({{a}\over{b}}\right)}^{2}}", @"\int {{{e^ {- x^2 }}}{\;dx}}", @"{{\sqrt{\pi}\,\mathrm{erf}\left(x\right)}\over{2}}", @"\left[\begin{matrix}1 & 2\\3 & 4\end{matrix}\right]", @"\left\{\begin{matrix}x & \text{for}\: x > 0 \\0 & \text{otherwise}\end{matrix}\right.",
        @"\operatorname{atan}{\left(x \right)}", @"\sin^{2}{\left(x \right)}", @"\int\limits_{0}^{\infty} e^{- x^{2}}\, dx", @"\sum_{k=1}^{n} \frac{1}{k^{2}}", @"\frac{d}{d x} f{\left(x \right)}", @"\frac{\partial^{2}}{\partial x\partial y}  f{\left(x,y \right)}", @"{}_{2}F_{1}\left(\begin{matrix} a, b \\ c \end{matrix}\middle| {z} \right)",
        @"\left. \frac{d}{d \xi} f{\left(\xi \right)} \right|_{\substack{ \xi=x }}", @"\lim_{x \to 0^+}\left(\frac{\sin{\left(x \right)}}{x}\right)", @"\left|{x}\right|", @"\left\lfloor{x}\right\rfloor", @"\overline{z}", @"{\left(a + b\right)}^{\frac{1}{3}}", @"\log{\left(x \right)}", @"x \cdot 10^{-3}", @"\mathbb{I}", @"\left(-\infty, 1\right]", @"\begin{cases} \frac{x}{y} & \text{for}\: y \neq 0 \\\text{NaN} & \text{otherwise} \end{cases}",
        @"\left[\begin{array}{cc}\frac{1}{2} & x\\ y & z\end{array}\right]", @"\pmatrix{a & b \cr c & d \cr }", @"\cases{a & b \cr c & d}", @"\matrix{1 & 2 \cr 3 & 4}", @"{\it x}^{2}", @"{\rm sin}\left(x\right)", @"\hbox{ if }x", @"\left( {{1}\over{2}} \right)", @"{\frac {a}{b}}", @"\,{\mathrm e}^{x}",
    ];
}
