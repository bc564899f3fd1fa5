using System.Text.RegularExpressions;
using YoungFolio.Compiler;
using YoungFolio.Manuscript.Building;
using YoungFolio.Manuscript.Guide;
using YoungFolio.Manuscript.Packages;

namespace YoungFolio.Core.Tests;

/// <summary>What is said of commands and environments to whoever writes.</summary>
public sealed class GuideTests
{
    // What the class letter gives isn't of the kernel nor of a package.
    private static readonly string[] s_ofLetters = ["opening", "closing", "cc", "encl", "ps", "address", "signature", "name", "location", "telephone"];

    private static IEnumerable<GuideName> Names(bool environments) => MarkupGuide.Lines.SelectMany(l => l.Names).Where(n => n.IsEnvironment == environments);

    private static IEnumerable<string> Covered(bool environments) => environments
        ? MarkupRegistry.KernelEnvironments.Concat(PackageCatalogue.All.SelectMany(p => p.Environments)).Append("letter")
        : MarkupRegistry.KernelCommands.Concat(PackageCatalogue.All.SelectMany(p => p.Commands)).Concat(s_ofLetters);

    [Theory]
    [InlineData(false)]
    [InlineData(true)]
    public void Something_is_said_of_all_that_is_covered_and_of_nothing_else(bool environments)
    {
        HashSet<string> said = [.. Names(environments).Select(n => n.Name)];
        HashSet<string> covered = [.. Covered(environments)];
        covered.ExceptWith(environments ? [] : MarkupRegistry.Symbols);
        Assert.Empty(covered.Except(said).Order(StringComparer.Ordinal));
        Assert.Empty(said.Except(covered).Except(MarkupRegistry.Symbols).Order(StringComparer.Ordinal));
    }

    [Fact]
    public void Each_is_said_once_in_a_sentence_that_has_an_end()
    {
        Assert.Empty(MarkupGuide.Lines.SelectMany(l => l.Names).GroupBy(n => (n.Name, n.IsEnvironment)).Where(g => g.Count() > 1).Select(g => g.Key));
        Assert.Empty(MarkupGuide.Lines.Where(l => !l.Says.EndsWith('.') || l.Says.Length > 160 || char.IsLower(l.Says[0])).Select(l => l.Says));
        Assert.Empty(MarkupGuide.Lines.Where(l => string.IsNullOrWhiteSpace(l.Example)).Select(l => l.Says));
    }

    [Fact]
    public void Every_symbol_has_its_sign()
    {
        Assert.True(MarkupGuide.Signs.Count > 500);
        Assert.Empty(MarkupGuide.Signs.Where(s => s.Sign.Length == 0).Select(s => s.Name));
        Assert.Equal("∈", MarkupGuide.Signs.Single(s => s.Name == "in").Sign);
    }

    /// <summary>Names are Unicode's own (UnicodeData.txt: U+27F6, U+2264, U+222E, U+27E8, U+0394).</summary>
    [Theory]
    [InlineData("longrightarrow", "long rightwards arrow", SymbolKind.Arrow)]
    [InlineData("leq", "less-than or equal to", SymbolKind.Relation)]
    [InlineData("oint", "contour integral", SymbolKind.Large)]
    [InlineData("langle", "mathematical left angle bracket", SymbolKind.Delimiter)]
    [InlineData("Delta", "greek capital letter delta", SymbolKind.Greek)]
    [InlineData("oplus", "circled plus", SymbolKind.Operation)]
    public void A_sign_is_found_by_its_words(string name, string words, SymbolKind kind)
    {
        GuideSymbol symbol = MarkupGuide.Signs.Single(s => s.Name == name);
        Assert.Equal((words, kind), (symbol.Words, symbol.Kind));
    }

    [Fact]
    public void Every_sign_has_words() => Assert.Empty(MarkupGuide.Signs.Where(s => s.Words.Length == 0).Select(s => s.Name + " " + s.Sign));

    /// <summary>Examples are typeset with the packages that give what is in them: then every command in them is known.</summary>
    [Fact]
    public void Examples_hold_nothing_that_is_unknown()
    {
        var bad = new List<string>();
        foreach (GuideLine line in MarkupGuide.Lines)
        {
            // What belongs into a formula is typeset in one.
            List<string> unknown = Unknown(line, line.Example);
            bad.AddRange(unknown.Count > 0 ? Unknown(line, $"\\[{line.Example}\\]") : []);
        }

        Assert.True(bad.Count == 0, string.Join("\n", bad));
    }

    private static List<string> Unknown(GuideLine line, string example)
    {
        IEnumerable<string?> packages = Regex.Matches(example, @"\\([A-Za-z]+)|\\begin\{([A-Za-z*]+)\}")
            .Select(m => PackageCatalogue.EnvironmentProviderOf(m.Groups[2].Value) ?? PackageCatalogue.ProviderOf(m.Groups[1].Value));
        string className = line.Names.Any(n => s_ofLetters.Contains(n.Name) || n.Name == "letter") ? "letter" : "report";
        // Several packages have a \qty.
        string preamble = $"\\documentclass{{{className}}}\n" + string.Concat(packages.OfType<string>().Distinct().Select(p => $"\\usepackage{{{(p is "physics" or "units" && example.Contains("metre", StringComparison.Ordinal) ? "siunitx" : p)}}}\n"));
        string text = example.Contains("\\documentclass", StringComparison.Ordinal) ? example + "\\begin{document}a\\end{document}" : $"{preamble}\\begin{{document}}\n{example}\n\\end{{document}}\n";
        return [.. Compiled.Files(("main.tex", text)).Report.Findings.Where(f => f.Code is "unknown-command" or "unknown-environment" or "needs-package" or "unknown-package").Select(f => $"{example}: {f.Message}")];
    }
}
