using System.Globalization;
using YoungFolio.Markup;

namespace YoungFolio.Core.Tests;

/// <summary>Expressions that are computed: by themselves, and where manuscripts write them.</summary>
public sealed class ArithmeticTests
{
    private static double? Value(string text, bool inDegrees = true) => new ArithmeticExpression(text, inDegrees, static () => 0.5).Evaluate();

    // Values by arithmetic (The examples of pgf's manual and of \fpeval's, from memory, or computed by hand).
    [Theory]
    [InlineData("1+2*3", 7)]
    [InlineData("(1+2)*3", 9)]
    [InlineData("-2^2", -4)]
    [InlineData("2^-1", 0.5)]
    [InlineData("2^3^2", 512)]
    [InlineData("2**3", 8)]
    [InlineData("7/2/2", 1.75)]
    [InlineData("5 - - 3", 8)]
    [InlineData("1.5e2", 150)]
    [InlineData("3!", 6)]
    [InlineData("!0 + !5", 1)]
    [InlineData("1 < 2 && 2 >= 2", 1)]
    [InlineData("1 == 2 || 3 != 3", 0)]
    [InlineData("4 > 3 ? 10 : 20", 10)]
    [InlineData("4 < 3 ? 10 : 5 < 3 ? 20 : 30", 30)]
    [InlineData("sin 30", 0.5)]
    [InlineData("sin(180)", 0)]
    [InlineData("cos(60)*2", 1)]
    [InlineData("atan2(1,1)", 45)]
    [InlineData("deg(pi)", 180)]
    [InlineData("mod(-7,3)", -1)]
    [InlineData("Mod(-7,3)", 2)]
    [InlineData("max(1,5,3)-min(4,2)", 3)]
    [InlineData("int(7/2)+ceil(0.2)+floor(1.9)+round(2.5)", 8)]
    [InlineData("veclen(3,4)", 5)]
    [InlineData("gcd(12,18)", 6)]
    [InlineData("ifthenelse(isodd(3),1,2)", 1)]
    [InlineData("2.54cm", 72.27)]
    [InlineData("1in/1pt", 72.27)]
    [InlineData("factorial(5)", 120)]
    public void An_expression_has_its_value(string text, double value) => Assert.Equal(value, Value(text)!.Value, 1e-9);

    [Theory]
    [InlineData("sin(pi/2)", 1)]
    [InlineData("sind(90)", 1)]
    [InlineData("round(pi,3)", 3.142)]
    [InlineData("trunc(-2.57,1)", -2.5)]
    [InlineData("randint(1,4)", 3)]
    public void Angles_are_in_radians_where_that_is_asked_for(string text, double value) => Assert.Equal(value, Value(text, inDegrees: false)!.Value, 1e-9);

    [Theory]
    [InlineData("")]
    [InlineData("(1+2")]
    [InlineData("1+")]
    [InlineData("1 2")]
    [InlineData("walls(2)")]
    [InlineData("1..2")]
    [InlineData("max(1,")]
    [InlineData("(-1)!")]
    [InlineData("1 ? 2")]
    public void What_makes_no_sense_has_no_value(string text) => Assert.Null(Value(text));

    [Fact]
    public void Brackets_without_end_and_texts_without_end_come_to_one()
    {
        Assert.Null(Value(new string('(', 15_000) + "1"));
        Assert.Null(Value(string.Concat(Enumerable.Repeat("sin ", 4_000)) + "1"));
        Assert.Null(Value(new string('-', 15_000) + "1"));
        Assert.Null(Value(string.Concat(Enumerable.Repeat("1+", 20_000)) + "1"));
        Assert.Equal(5_001, Value(string.Concat(Enumerable.Repeat("1+", 5_000)) + "1"));
    }

    // Against the platform's own arithmetic: sums, products and brackets put together by chance.
    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    public void Expressions_put_together_by_chance_have_the_value_that_decimals_give(int seed)
    {
        var random = new Random(seed);
        for (int i = 0; i < 300; i++)
        {
            (string text, decimal value) = Made(random, 0);
            Assert.Equal((double)value, Value(text)!.Value, 1e-6 * Math.Max(1, Math.Abs((double)value)));
        }
    }

    private static (string Text, decimal Value) Made(Random random, int depth)
    {
        if (depth > 4 || random.Next(3) == 0)
        {
            decimal number = random.Next(1, 100) / 4m;
            return (number.ToString(CultureInfo.InvariantCulture), number);
        }

        (string a, decimal x) = Made(random, depth + 1);
        (string b, decimal y) = Made(random, depth + 1);
        return random.Next(4) switch
        {
            0 => ($"({a} + {b})", x + y),
            1 => ($"({a}-{b})", x - y),
            2 => ($"({a}*({b}))", x * y),
            _ => ($"(-({a})/2+{b})", (-x / 2) + y),
        };
    }

    [Theory]
    [InlineData(1.0 / 3, 16, "0.3333333333333333")]
    [InlineData(0.1 + 0.2, 16, "0.3")]
    [InlineData(2, 5, "2")]
    [InlineData(-0.0000001, 5, "0")]
    [InlineData(1e20, 5, "100000000000000000000")]
    [InlineData(double.PositiveInfinity, 5, "inf")]
    [InlineData(double.NaN, 5, "nan")]
    public void A_number_prints_with_as_many_decimals_as_it_has(double value, int decimals, string text) => Assert.Equal(text, ArithmeticCommands.Text(value, decimals));

    [Theory]
    [InlineData("", "\\fpeval{1/4} \\inteval{3*4+1} \\dimeval{1pt+2pt}", "0.25 13 3.0pt")]
    [InlineData("", "\\newcounter{walls}\\setcounter{walls}{7}\\edef\\half{\\fpeval{\\value{walls}/2}}\\half", "3.5")]
    [InlineData("", "\\skipeval{1pt plus 2pt + 1pt}", "2.0pt plus 2.0pt")]
    // What is multiplied and divided at once may be large in between (e-TeX manual, section 3.5).
    [InlineData("", "\\the\\dimexpr 72.27pt*7200/7227\\relax{} \\the\\numexpr 2000000000*3/2*1/3\\relax{} \\the\\dimexpr 10pt/4*2\\relax", "72.0pt 715827882 5.0pt")]
    [InlineData("pgfmath", "\\pgfmathsetmacro{\\r}{sin(30)*2}\\r; \\pgfmathparse{2^3}\\pgfmathresult; \\pgfmathsetmacro\\q{int(7/2)}\\q", "1.0; 8.0; 3")]
    [InlineData("pgfmath", "\\setlength{\\parindent}{10pt}\\pgfmathsetlengthmacro\\w{1.5\\parindent}\\w{} \\pgfmathsetlength{\\parindent}{2*\\parindent}\\the\\parindent", "15.0pt 20.0pt")]
    [InlineData("pgfmath", "\\newcounter{n}\\pgfmathsetcounter{n}{7/2}\\arabic{n}; \\pgfmathaddtocounter{n}{2*3}\\arabic{n}; \\pgfmathtruncatemacro\\t{9.9}\\t", "3; 9; 9")]
    [InlineData("pgfmath", "\\pgfmathaddtolength{\\parindent}{1pt}\\pgfmathprintnumber{12345.678}", "12,345.68")]
    [InlineData("pgfmath", "\\pgfmathsetseed{3}\\pgfmathrandominteger\\a{1}{1}\\a", "1")]
    [InlineData("xfp", "\\fpeval{2*3}", "6")]
    [InlineData("fp", "\\FPeval\\z{1/8}\\z{} \\FPround\\z{2/3}{3}\\z{} \\FPround\\z{2}{2}\\z{} \\FPtrunc\\z{2/3}{2}\\z", "0.125 0.667 2.00 0.66")]
    [InlineData("fp", "\\FPset\\a{3}\\FPadd\\s{\\a}{2}\\FPprint\\s{} \\FPsub\\s{1}{2}\\FPprint{\\s} \\FPmul\\s{3}{4}\\s{} \\FPdiv\\s{1}{4}\\s{} \\FPpow\\s{2}{3}\\s", "5 -1 12 0.25 8")]
    [InlineData("fp", "\\FPabs\\s{-2}\\s{} \\FPneg\\s{2}\\s{} \\FPmin\\s{1}{2}\\s{} \\FPmax\\s{1}{2}\\s{} \\FPclip\\s{2.50}\\s", "2 -2 1 2 2.5")]
    [InlineData("pgffor", "\\foreach \\n [count=\\i from 0, evaluate=\\n as \\m using int(\\n*\\n)] in {0,2,...,8} {\\i:\\n:\\m;}", "0:0:0;1:2:4;2:4:16;3:6:36;4:8:64;")]
    [InlineData("pgffor", "\\foreach \\n [remember=\\n as \\last (initially 0)] in {3,...,1} {\\last>\\n;}\\foreach \\c in {a,c,...,g}{\\c}", "0>3;3>2;2>1;aceg")]
    [InlineData("pgffor", "\\def\\all{x,y,z}\\foreach \\k in \\all {[\\k]}\\foreach \\x in {0,0.1,...,0.3}{\\x,}", "[x][y][z]0,0.1,0.2,0.3,")]
    [InlineData("pgffor", "\\def\\kept{before}\\foreach \\n in {1,2}{\\def\\kept{\\n}}\\kept", "before")]
    [InlineData("tikz", "\\foreach \\n in {1,2}{\\pgfmathsetmacro\\d{\\n*2}\\d;}", "2.0;4.0;")]
    public void A_manuscript_computes(string packages, string body, string printed) =>
        Assert.Equal(printed, Compiled.Text(Compiled.Clean("\\noindent " + body, packages.Length > 0 ? $"\\usepackage{{{packages}}}" : "")).Replace("−", "-", StringComparison.Ordinal));

    [Theory]
    [InlineData("pgfmath", "\\pgfmathsetmacro{walls}{2}x")]
    [InlineData("fp", "\\FPround{walls}{2.5}{0}x")]
    public void What_keeps_a_number_needs_a_name(string package, string body) =>
        Assert.Contains("not-a-command", Compiled.Codes(Compiled.Body(body, $"\\usepackage{{{package}}}")));

    [Fact]
    public void A_loop_without_end_is_said() =>
        Assert.Contains("too-much-text", Compiled.Codes(Compiled.Body("\\foreach \\n in {1,...,100000}{\\n}", "\\usepackage{pgffor}")));
}
