namespace YoungFolio.Bibliography;

/// <summary>Words that .bib files use without braces and that no <c>@string</c> explains: the standard styles do (btxbst, from memory).</summary>
internal static class StandardNames
{
    /// <summary>The months, in order.</summary>
    public static readonly string[] Months = ["jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec"];

    private static readonly string[] s_monthNames =
        ["January", "February", "March", "April", "May", "June", "July", "August", "September", "October", "November", "December"];

    private static readonly Dictionary<string, string> s_journals = new(StringComparer.OrdinalIgnoreCase)
    {
        ["acmcs"] = "ACM Computing Surveys",
        ["acta"] = "Acta Informatica",
        ["cacm"] = "Communications of the ACM",
        ["ibmjrd"] = "IBM Journal of Research and Development",
        ["ibmsj"] = "IBM Systems Journal",
        ["ieeese"] = "IEEE Transactions on Software Engineering",
        ["ieeetc"] = "IEEE Transactions on Computers",
        ["ieeetcad"] = "IEEE Transactions on Computer-Aided Design of Integrated Circuits",
        ["ipl"] = "Information Processing Letters",
        ["jacm"] = "Journal of the ACM",
        ["jcss"] = "Journal of Computer and System Sciences",
        ["scp"] = "Science of Computer Programming",
        ["sicomp"] = "SIAM Journal on Computing",
        ["tocs"] = "ACM Transactions on Computer Systems",
        ["tods"] = "ACM Transactions on Database Systems",
        ["tog"] = "ACM Transactions on Graphics",
        ["toms"] = "ACM Transactions on Mathematical Software",
        ["toois"] = "ACM Transactions on Office Information Systems",
        ["toplas"] = "ACM Transactions on Programming Languages and Systems",
        ["tcs"] = "Theoretical Computer Science",
    };

    /// <summary>What a word stands for where a style says nothing of it; null when it is none of them.</summary>
    public static string? Find(string name) => Array.FindIndex(Months, m => m.Equals(name, StringComparison.OrdinalIgnoreCase)) is >= 0 and var month
        ? s_monthNames[month] : s_journals.GetValueOrDefault(name);
}
