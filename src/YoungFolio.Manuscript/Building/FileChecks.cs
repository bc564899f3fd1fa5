using YoungFolio.Manuscript.Searching;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>What is likely not meant, as the files' texts show it once all has been read: signs that silently hide words, files that nothing takes in.</summary>
internal static class FileChecks
{
    private const int MostRemarks = 20;
    private const int LongestNumber = 12;

    // Each is looked for in all that was read.
    private const int MostLookedFor = 100;
    private const string End = "\\end{document}";

    /// <summary>Looks through the files.</summary>
    /// <param name="files">All files.</param>
    /// <param name="mainFile">The main file's path.</param>
    /// <param name="positions">Those that were read.</param>
    /// <param name="findings">Takes the remarks.</param>
    public static void Run(IFileTree files, string mainFile, PositionTable positions, FindingLog findings)
    {
        List<(int First, ManuscriptFile File)> read = [.. positions.Files.Where(f => IsText(f.File.Path))];
        foreach ((int first, ManuscriptFile file) in read)
        {
            FindHiddenWords(first, file.Text, file.Path == mainFile, findings);
        }

        FindUnused(files, mainFile, read, findings);
    }

    private static bool IsText(string path) => path.EndsWith(".tex", StringComparison.OrdinalIgnoreCase);

    // “50% of them”: a percent sign behind a number hides the rest of its line. Behind a length or in the preamble it is meant.
    private static void FindHiddenWords(int first, string text, bool isMain, FindingLog findings)
    {
        int begin = isMain ? text.IndexOf("\\begin{document}", StringComparison.Ordinal) : 0;
        foreach (int sign in TypedMarkup.Comments(text).Where(s => s > begin && HidesWords(text, s)).Take(MostRemarks))
        {
            findings.Check("hidden-words", first + sign, 1, "What follows this % in its line doesn’t print.", "For a percent sign write \\%.", new Repair(first + sign, 1, "\\%"));
        }
    }

    // Behind a number that stands alone, and before words.
    private static bool HidesWords(string text, int sign)
    {
        int from = sign;
        while (from > 0 && sign - from <= LongestNumber && (char.IsAsciiDigit(text[from - 1]) || text[from - 1] is '.' or ','))
        {
            from--;
        }

        return from < sign && char.IsAsciiDigit(text[from]) && (from == 0 || char.IsWhiteSpace(text[from - 1]) || text[from - 1] is '(' or '~')
            && sign + 2 < text.Length && text[sign + 1] == ' ' && char.IsLetter(text[sign + 2]);
    }

    private static void FindUnused(IFileTree files, string mainFile, List<(int First, ManuscriptFile File)> read, FindingLog findings)
    {
        ManuscriptFile? main = read.Find(f => f.File.Path == mainFile).File;
        int end = main?.Text.LastIndexOf(End, StringComparison.Ordinal) ?? -1;
        if (!files.IsManuscriptAlone || main is null || end < 0)
        {
            return;
        }

        // One that a misspelt name means is said there.
        HashSet<string> known = [.. read.Select(f => f.File.Path), .. findings.All.Where(f => f.Code == "missing-file").Select(f => f.Repair?.Text ?? "")];
        int count = 0;
        foreach (string path in files.Paths.Where(p => IsText(p) && !known.Contains(p)).Take(MostLookedFor))
        {
            string stem = path[..^4];
            string name = stem[(stem.LastIndexOf('/') + 1)..];
            // One that is left out by \includeonly or a condition is named; one with a class of its own is a document of its own.
            if (files.Find(path) is not { Text: var text } || string.IsNullOrWhiteSpace(text) || text.Contains("\\documentclass", StringComparison.Ordinal) || read.Any(f => Names(f.File.Text, name)) || ++count > MostRemarks)
            {
                continue;
            }

            bool includes = main.Text.Contains("\\include{", StringComparison.Ordinal) && text.Contains("\\chapter", StringComparison.Ordinal);
            string line = $"\\{(includes ? "include" : "input")}{{{stem}}}\n";
            int at = read.Find(f => f.File == main).First + end;
            findings.Check("unused-file", at, End.Length, $"Nothing takes in {path}, so it doesn’t print.", $"Put {line.Trim()} where it belongs, or delete the file.", new Repair(at, 0, line));
        }
    }

    private static bool Names(string text, string name)
    {
        for (int at = text.IndexOf(name, StringComparison.Ordinal); at >= 0; at = text.IndexOf(name, at + 1, StringComparison.Ordinal))
        {
            char before = at > 0 ? text[at - 1] : ' ';
            int end = at + name.Length;
            if (before is '{' or '/' or ',' or ' ' && end < text.Length && text[end] is '}' or ',' or '.')
            {
                return true;
            }
        }

        return false;
    }
}
