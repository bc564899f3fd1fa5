using YoungFolio.Compiler;

namespace YoungFolio.Core.Tests;

/// <summary>Tables out of data files. What RFC 4180 says of quotation marks and line ends holds; other separators are common practice.</summary>
public class DataTests
{
    private const string Walls = "wall,age,share\r\n\"North, \"\"upper\"\"\",150,12%\r\nSouth_face,98,$x^2$\r\n\r\nWest,210,7\r\n";

    [Theory]
    [InlineData("\\csvautotabular{d.csv}", "wall age share North, \"upper\" 150 12% South_face 98 x2 West 210 7")]
    [InlineData("\\csvautobooktabular{d.csv}", "wall age share North, \"upper\" 150 12% South_face 98 x2 West 210 7")]
    [InlineData("\\csvreader[tabular=lr,table head=\\toprule W & A\\\\\\midrule,table foot=\\bottomrule]{d.csv}{wall=\\w,age=\\a}{\\thecsvrow. \\w & \\a}", "W A 1. North, \"upper\" 150 2. South_face 98 3. West 210")]
    [InlineData("\\csvreader[head to column names,filter equal={\\wall}{West}]{d.csv}{}{\\wall: \\age.}", "West: 210.")]
    [InlineData("\\csvreader[no head]{d.csv}{1=\\w}{(\\w)}", "(wall)(North, \"upper\")(South_face)(West)")]
    [InlineData("\\csvreader[late after line={{, }},late after last line=.]{d.csv}{}{\\csvcoli}", "North, \"upper\", South_face, West.")]
    [InlineData("\\DTLloaddb{w}{d.csv}\\begin{tabular}{lr}W & A\\DTLforeach{w}{\\w=wall,\\a=age}{\\\\ \\w & \\a}\\end{tabular}", "W A North, \"upper\" 150 South_face 98 West 210")]
    [InlineData("\\DTLloaddb{w}{d.csv}\\DTLforeach*[\\equal{\\a}{98}]{w}{\\w=wall,\\a=age}{\\w}", "South_face")]
    [InlineData("\\DTLloaddb{w}{d.csv}\\DTLsort{age=descending}{w}\\DTLforeach{w}{\\a=age}{\\DTLiffirstrow{}{ }\\a} of \\DTLrowcount{w}", "210 150 98 of 3")]
    [InlineData("\\DTLloaddb{w}{d.csv}\\DTLdisplaydb[share]{w}", "wall age North, \"upper\" 150 South_face 98 West 210")]
    public void Data_are_set_as_the_packages_promise(string body, string text)
    {
        CompileResult result = Compile(body, Walls);
        Assert.Empty(result.Report.Findings);
        Assert.Equal(text, Compiled.Text(result, "-layout"));
    }

    [Theory]
    [InlineData("a;b\n1,5;2\n", "a b 1,5 2")]
    [InlineData("a\tb\nx, y\tz\n", "a b x, y z")]
    public void The_separator_is_found_out(string data, string text) => Assert.Equal(text, Compiled.Text(Compile("\\csvautotabular{d.csv}", data), "-layout"));

    [Fact]
    public void Uneven_lines_missing_columns_and_files_are_a_finding_each_and_the_rest_is_set()
    {
        CompileResult uneven = Compile("\\csvautotabular{d.csv}", "a,b\n1\n2,3,4\n5,6\n");
        Assert.Equal(["uneven-data"], uneven.Report.Findings.Select(f => f.Code));
        Assert.Equal(("d.csv", 2), (uneven.Report.Findings[0].File, uneven.Report.Findings[0].Line));
        Assert.Equal("a b 1 2 3 5 6", Compiled.Text(uneven, "-layout"));
        CompileResult column = Compile("\\csvreader{d.csv}{wal=\\w}{(\\w)}", Walls);
        Assert.Equal(["unknown-column"], column.Report.Findings.Select(f => f.Code));
        Assert.Contains("“wall”", column.Report.Findings[0].Advice, StringComparison.Ordinal);
        Assert.Equal(["missing-file"], Compile("\\csvautotabular{e.csv}", Walls).Report.Findings.Select(f => f.Code));
        Assert.Equal(["no-data"], Compile("\\csvautotabular{d.csv}", "\n\n").Report.Findings.Select(f => f.Code));
        Assert.Equal(["unknown-database"], Compile("\\DTLdisplaydb{x}", Walls).Report.Findings.Select(f => f.Code));
    }

    [Fact]
    public void A_value_in_the_proof_leads_to_its_place_in_the_data()
    {
        CompileResult result = Compile("\\csvautotabular{d.csv}", Walls);
        PdfWord west = PdfWords.Of(result).One("West");
        var place = result.Map.FindSource(1, west.Middle, west.Centre);
        Assert.Equal(("d.csv", 5), (place!.Value.File, place.Value.Line));
    }

    private static CompileResult Compile(string body, string data) => Compiled.Files(
        ("main.tex", $"\\documentclass{{article}}\\usepackage{{csvsimple,datatool,booktabs}}\\pagestyle{{empty}}\\begin{{document}}\\noindent {body}\\end{{document}}"), ("d.csv", data));
}
