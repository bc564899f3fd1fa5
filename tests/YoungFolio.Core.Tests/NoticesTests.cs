using System.Runtime.CompilerServices;
using YoungFolio.Manuscript.Languages;

namespace YoungFolio.Core.Tests;

/// <summary>NOTICES.md names every family of fonts and every list of patterns that ships.</summary>
public class NoticesTests
{
    private static readonly Dictionary<string, string> s_families = new()
    {
        ["latinmodern"] = "Latin Modern Math", ["lmmono"] = "Mono", ["lmmonocaps"] = "caps", ["lmmonoslant"] = "slanted", ["lmmonolt"] = "Mono Light", ["lmroman"] = "Roman", ["lmromancaps"] = "caps", ["lmromanslant"] = "slanted", ["lmsans"] = "Sans", ["stixgeneral"] = "STIX General",
    };

    [Fact]
    public void All_fonts_and_patterns_that_ship_are_named()
    {
        string root = Root();
        string notices = File.ReadAllText(Path.Combine(root, "NOTICES.md"));
        foreach (string file in Directory.EnumerateFiles(Path.Combine(root, "src/YoungFolio.Typesetting/Fonts/Files")).Select(f => Path.GetFileNameWithoutExtension(f)!))
        {
            string family = new([.. file.Split('-')[0].TakeWhile(c => !char.IsDigit(c))]);
            string named = family.StartsWith("texgyre", StringComparison.Ordinal) ? char.ToUpperInvariant(family[7]) + family[8..] : s_families[family];
            Assert.Contains(named, notices, StringComparison.Ordinal);
        }

        foreach (string file in Directory.EnumerateFiles(Path.Combine(root, "src/YoungFolio.Typesetting/Hyphenation/Patterns")).Select(f => Path.GetFileNameWithoutExtension(f)!))
        {
            Assert.Contains(Language.Of(file).Title, notices, StringComparison.Ordinal);
        }
    }

    [Fact]
    public void All_dictionaries_that_ship_are_named()
    {
        string notices = File.ReadAllText(Path.Combine(Root(), "NOTICES.md"));
        string about = notices[notices.IndexOf("**Spelling dictionaries**", StringComparison.Ordinal)..notices.IndexOf("**Names of signs**", StringComparison.Ordinal)];
        string[] files = Directory.GetFiles(Path.Combine(Root(), "src/YoungFolio.Spelling/Dictionaries"), "*.dic.gz");
        Assert.Equal(8, files.Length);
        Assert.All(files, f => Assert.Contains(Language.Of(Path.GetFileName(f)[..^".dic.gz".Length]).Title, about, StringComparison.Ordinal));
    }

    private static string Root([CallerFilePath] string here = "") => Path.GetFullPath(Path.Combine(Path.GetDirectoryName(here)!, "..", ".."));
}
