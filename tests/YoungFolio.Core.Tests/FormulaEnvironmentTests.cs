namespace YoungFolio.Core.Tests;

/// <summary>Environments within formulas: those of nicematrix (its documentation, from memory), and those that a manuscript makes.</summary>
public sealed class FormulaEnvironmentTests
{
    [Theory]
    [InlineData("$\\begin{pNiceMatrix}1 & \\Cdots\\\\ \\Vdots & 4\\end{pNiceMatrix}$", "1⋯⋮4")]
    [InlineData("$\\begin{bNiceArray}{c|c}[first-row]1 & 2\\end{bNiceArray}$", "12")]
    [InlineData("\\begin{NiceTabular}{lr}[hvlines]\\Block{1-2}{Both} & \\\\\\Hline a & b\\end{NiceTabular}", "Bothab")]
    public void Nicematrix_sets_its_matrices_and_tables(string body, string printed)
    {
        string text = Compiled.Text(Compiled.Clean(body, "\\usepackage{nicematrix}"));
        Assert.Equal(string.Concat(printed.Order()), string.Concat(text.Where(c => char.IsLetterOrDigit(c) || c is '⋯' or '⋮').Order()));
    }

    [Theory]
    [InlineData("\\newenvironment{mine}{\\begin{pmatrix}}{\\end{pmatrix}}", "$\\begin{mine}1 & 2\\end{mine}$ and $x$")]
    [InlineData("\\newenvironment{mine}[1]{\\left(\\begin{array}{#1}}{\\end{array}\\right)}", "$\\begin{mine}{cc}1 & 2\\end{mine}$ and $x$")]
    [InlineData("\\NewDocumentEnvironment{mine}{+b}{\\begin{vmatrix}#1\\end{vmatrix}}{}", "\\[\\begin{mine}1 & 2\\end{mine}\\] and $x$")]
    public void An_environment_of_ones_own_may_stand_in_a_formula(string definition, string body)
    {
        string text = Compiled.Text(Compiled.Clean(body, "\\usepackage{amsmath}" + definition));
        Assert.Equal("12adnx", string.Concat(text.Where(char.IsLetterOrDigit).Order()));
    }

    // One that only begins like \left, or holds text, still parts a paragraph: the lone sign is found before it.
    [Theory]
    [InlineData("\\newenvironment{mine}{\\leftskip1cm }{\\par}")]
    [InlineData("\\newenvironment{mine}{\\begin{quote}}{\\end{quote}}")]
    public void An_environment_of_text_ends_the_paragraph_of_a_lone_sign(string definition)
    {
        string[] codes = Compiled.Codes(Compiled.Article("A price of $5 here\n\\begin{mine}\nand $x$ there\\end{mine}", definition));
        Assert.Equal(["unclosed-formula"], codes);
    }
}
