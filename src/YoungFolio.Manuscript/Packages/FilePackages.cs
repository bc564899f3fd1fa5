using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Packages;

/// <summary>Packages for manuscripts of many files.</summary>
internal static class FilePackages
{
    public static IReadOnlyList<Package> All { get; } =
    [
        new("import", "Files from folders that have files of their own.")
        {
            Commands = ["import", "subimport", "inputfrom", "subinputfrom", "includefrom", "subincludefrom"],
            Load = static load =>
            {
                foreach (string name in load.Package.Commands)
                {
                    load.Machine.Define(name, (m, t) =>
                    {
                        m.TakeStar();
                        string folder = m.ReadText(t);
                        List<Token> argument = m.ReadArgument(t);
                        string file = m.ExpandToText(argument).Trim();
                        int at = argument.Count > 0 ? argument[0].Position : t.Position;
                        string start = name.StartsWith("sub", StringComparison.Ordinal) ? load.Builder.Files.FolderNow : "";
                        load.Builder.Files.Import(start + (folder.Length == 0 || folder.EndsWith('/') ? folder : folder + "/"), file, name.Contains("include", StringComparison.Ordinal), t, at);
                    });
                }
            },
        },
        new("pdfpages", "Pages of other files as pages of one's own: whole ones, or several on a sheet.")
        {
            Requires = ["graphicx"],
            Commands = ["includepdf", "includepdfmerge", "includepdfset"],
            Options = ["final", "draft", "enable-survey", "hyperfootnotes"],
            Load = static load => new IncludedPages(load.Builder).Define(),
        },
        new("subfiles", "Files that can also stand alone.")
        {
            Commands = ["subfile", "subfileinclude", "subfix"],
            Load = static load => load.Builder.Files.DefineSubfiles(),
        },
        new("standalone", "Files that can also stand alone.")
        {
            Commands = ["includestandalone", "standaloneconfig"],
            Load = static load => load.Builder.Files.DefineSubfiles(),
        },
        new("docmute", "Files that can also stand alone.") { Load = static load => load.Builder.Files.DefineSubfiles() },
        new("filecontents", "Files that the text itself writes; they are put among the files here."),
        new("newclude", "More ways to take files in."),
        new("currfile", "The name of the file that is being read.")
        {
            Commands = ["currfilename", "currfilebase", "currfileext", "currfiledir", "currfilepath"],
            Load = static load => CurrentFile(load.Machine),
        },
        new("datetime2", "Dates, in the form year-month-day.")
        {
            Commands = ["DTMtoday", "DTMdate", "DTMdisplaydate", "DTMsetup"],
            Definitions = "\\def\\DTMtoday{\\today}\\def\\DTMdate#1{#1}\\def\\DTMdisplaydate#1#2#3#4{#1-\\ifnum#2<10 0\\fi\\number#2-\\ifnum#3<10 0\\fi\\number#3}\\def\\DTMsetup#1{}",
        },
    ];

    private static void CurrentFile(Machine machine)
    {
        foreach ((string name, Func<string, string> part) in (ReadOnlySpan<(string, Func<string, string>)>)[
            ("currfilepath", static p => p), ("currfilename", static p => p[(p.LastIndexOf('/') + 1)..]),
            ("currfiledir", static p => p[..(p.LastIndexOf('/') + 1)]), ("currfileext", static p => p[(p.LastIndexOf('.') + 1)..]),
            ("currfilebase", static p => p[(p.LastIndexOf('/') + 1)..(p.LastIndexOf('.') is var dot && dot > p.LastIndexOf('/') ? dot : p.Length)])])
        {
            machine.DefineExpandable(name, (m, t) => m.Conversions.PushText(part(m.Input.OpenFiles.FirstOrDefault() ?? ""), t.Position));
        }
    }
}
