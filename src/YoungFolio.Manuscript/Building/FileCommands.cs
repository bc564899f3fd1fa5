using YoungFolio.Documents;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>Manuscripts of many files.</summary>
internal sealed class FileCommands(DocumentBuilder builder) : ReadingFeature(builder)
{
    private const int MostFiles = 1_000;
    private int _filesRead;
    internal List<string> GraphicsFolders { get; } = [];
    private HashSet<string>? _includeOnly;

    internal void DefineFiles()
    {
        Machine.Define("input", (_, t) => Input(t, false));
        Machine.Define("@input", (_, t) => Input(t, false));
        Machine.Define("@@input", (_, t) => Input(t, false));
        Machine.Define("include", (_, t) => Input(t, true));
        Machine.Define("includeonly", (m, t) => _includeOnly = [.. PreambleCommands.Split(m.ReadText(t))]);
        foreach ((string name, bool reads) in (ReadOnlySpan<(string, bool)>)[("IfFileExists", false), ("InputIfFileExists", true)])
        {
            Machine.Define(name, (m, t) =>
            {
                string path = m.ReadText(t).Trim('"');
                List<Token> yes = m.ReadArgument(t);
                List<Token> no = m.ReadArgument(t);
                ManuscriptFile? file = Candidates(path, ["", ".tex"]).FirstOrDefault();
                m.Push(file is null ? no : yes);
                if (file is not null && reads)
                {
                    m.Input.OpenFile(file);
                }
            });
        }

        Machine.Define("leave folder", (_, _) => _folders.Pop());
    }

    // Folders that names of files are looked for in first; \import and its kin change them.
    private readonly Stack<string> _folders = new();

    /// <summary>Reads a file from a folder, whose own \input look there first.</summary>
    internal void Import(string folder, string name, bool include, Token token, int at)
    {
        if (Normalise(folder) is not { } path)
        {
            ReportOutside(folder, at);
            return;
        }

        if (_folders.Count > 50)
        {
            Findings.Fix("nested-too-deep", at, 1, "Files are nested more than 50 deep here.", "Flatten their order.");
            return;
        }

        _folders.Push(path.Length == 0 ? "" : path + "/");
        Machine.Push(Token.Command(Machine.Symbol("leave folder"), PositionTable.None));
        Open(name, include, token, at);
    }

    /// <summary>The folder of the file being read, with a slash behind; empty for the manuscript's own.</summary>
    internal string FolderNow => _folders.TryPeek(out string? folder) ? folder : "";

    private void Input(Token token, bool include)
    {
        List<Token> argument;
        Machine.SkipSpaces();
        if (!include && !Machine.Peek().Is(Category.BeginGroup))
        {
            argument = [];
            Token t = Machine.NextExpanded();
            for (; t.Category is Category.Letter or Category.Other; t = Machine.NextExpanded())
            {
                argument.Add(t);
            }

            if (!t.Is(Category.Space))
            {
                Machine.PutBack(t);
            }
        }
        else
        {
            argument = Machine.ReadArgument(token);
        }

        string name = FileName(argument);
        int at = argument.Count > 0 ? argument[0].Position : token.Position;
        if (include && _includeOnly is not null && !_includeOnly.Contains(name))
        {
            return;
        }

        Open(name, include, token, at);
    }

    // In a file's name signs stand for themselves, so that wall_data.tex needs no backslash.
    internal string FileName(List<Token> argument) => Machine.ExpandToText(argument).Trim().Trim('"');

    private void Open(string name, bool include, Token token, int at)
    {
        if (Resolve(name, ["", ".tex"], token, at) is not { } file)
        {
            return;
        }

        if (Machine.Input.OpenFiles.Contains(file.Path))
        {
            Findings.Fix("file-in-itself", at, Math.Max(1, name.Length), $"The file {file.Path} takes itself in.",
                "Take this line out; a file can't stand inside itself.");
            return;
        }

        if (Machine.Input.OpenFiles.Count() > 50)
        {
            Findings.Fix("nested-too-deep", at, Math.Max(1, name.Length), "Files are nested more than 50 deep here.", "Flatten their order.");
            return;
        }

        // A file that takes itself in through an unclosed brace isn't open any more when it is read again.
        if (++_filesRead > MostFiles)
        {
            throw new MarkupLimitException("nested-too-deep", $"Files are taken in more than {MostFiles} times.", at);
        }

        if (include)
        {
            Builder.AddBlock(new PageBreakBlock(PageEnd.Clear));
            Machine.Push(Token.Command(Machine.Symbol("clearpage"), PositionTable.None));
        }

        if (Builder.Class.HasChapters && Builder.DocumentBegun)
        {
            _fileHeadings[file.Path] = new FileReading(include, token.Position, token.Length, Machine.Input.OpenFiles.FirstOrDefault() ?? "");
        }

        Machine.Input.OpenFile(file);
    }

    private readonly Dictionary<string, FileReading> _fileHeadings = new(StringComparer.Ordinal);

    /// <summary>How a file is taken in, and what its first heading is.</summary>
    private sealed record FileReading(bool IsIncluded, int Position, int Length, string From)
    {
        public string? First { get; set; }

        public int FirstPosition { get; set; }
    }

    internal void CheckFileBeginsWithChapter(Token token, HeadingLook look)
    {
        if (Machine.Positions.Locate(token.Position) is { } place && _fileHeadings.TryGetValue(place.File, out FileReading? reading) && reading.First is null)
        {
            reading.First = look.Command;
            reading.FirstPosition = token.Position;
        }
    }

    // An included file without its chapter's heading continues the numbers of the one before; among files taken in by \input
    // that is said only where their neighbours begin with chapters.
    internal void CheckFileHeadings()
    {
        foreach ((string path, FileReading reading) in _fileHeadings)
        {
            bool neighbours = reading.IsIncluded || _fileHeadings.Count(p => p.Value.From == reading.From && p.Value.First == "chapter") >= 2;
            if (neighbours && reading.First is "section" or "subsection")
            {
                Findings.Check("file-without-chapter", reading.FirstPosition, reading.First.Length + 1,
                    $"The file {path} begins with a {reading.First}, so it continues the chapter before it.",
                    "Put its \\chapter heading first, if it is a chapter of its own.");
            }
        }
    }

    /// <summary>Finds a file by the name that the source gives; null, with a finding, when there is none.</summary>
    internal ManuscriptFile? Resolve(string name, string[] extensions, Token token, int at)
    {
        if (Normalise(FolderNow + name) is not { } path)
        {
            ReportOutside(name, at);
            return null;
        }

        if (Candidates(name, extensions).FirstOrDefault() is { } file)
        {
            return file;
        }

        string wanted = System.IO.Path.HasExtension(path) ? path : path + extensions[^1];
        string? near = Builder.SourceFiles.Paths.FirstOrDefault(p => string.Equals(p, wanted, StringComparison.OrdinalIgnoreCase)
                || System.IO.Path.GetFileName(p) == System.IO.Path.GetFileName(wanted))
            ?? NearestName.Find(wanted, Builder.SourceFiles.Paths);
        bool canBeMade = wanted.EndsWith(".tex", StringComparison.Ordinal) && wanted.All(c => char.IsLetterOrDigit(c) || c is '/' or '-' or '_' or '.') && !wanted.StartsWith('/');
        Findings.Fix("missing-file", at, Math.Max(1, name.Length), $"The file “{name}” that {token} names isn't there.",
            near is not null ? $"Did you mean {near}?" : canBeMade ? "Make it, upload it, or correct the name." : "Upload it, or correct the name.",
            near is not null ? new Repair(at, name.Length, near) : canBeMade ? new Repair(at, 0, "") { NewFile = wanted } : null);
        return null;
    }

    /// <summary>Whether a name means a file that is there.</summary>
    internal bool IsThere(string name, string[] extensions) => Candidates(name, extensions).Any();

    private void ReportOutside(string name, int at) =>
        Findings.Fix("file-outside", at, Math.Max(1, name.Length), $"“{name}” lies outside the manuscript.",
            "Only the manuscript's own files can be read; put it among them.");

    // Files that a name may mean: in the folders of \import, innermost first, then from the manuscript's top.
    private IEnumerable<ManuscriptFile> Candidates(string name, string[] extensions)
    {
        foreach (string folder in _folders.Append(""))
        {
            if (Normalise(folder + name) is not { } path)
            {
                continue;
            }

            foreach (string extension in extensions)
            {
                if (FindFile(path + extension) is { } file)
                {
                    yield return file;
                }
            }
        }
    }

    // Names with accents may be stored composed or decomposed (Unicode NFC and NFD).
    internal ManuscriptFile? FindFile(string path) =>
        Builder.SourceFiles.Find(path) ?? Builder.SourceFiles.Find(path.Normalize(System.Text.NormalizationForm.FormC)) ?? Builder.SourceFiles.Find(path.Normalize(System.Text.NormalizationForm.FormD));

    // Works out . and .. ; null when the path leaves the manuscript.
    internal static string? Normalise(string name)
    {
        var result = new List<string>();
        foreach (string step in name.Replace('\\', '/').Split('/', StringSplitOptions.RemoveEmptyEntries))
        {
            if (step == "..")
            {
                if (result.Count == 0)
                {
                    return null;
                }

                result.RemoveAt(result.Count - 1);
            }
            else if (step != ".")
            {
                result.Add(step);
            }
        }

        return name.StartsWith('/') ? null : string.Join('/', result);
    }

    /// <summary>Gives files that can also stand alone: their own preamble is passed over.</summary>
    internal void DefineSubfiles()
    {
        foreach (string name in (string[])["subfile", "subfileinclude", "includestandalone"])
        {
            Machine.Define(name, (m, t) =>
            {
                m.ReadOptional(t);
                List<Token> argument = m.ReadArgument(t);
                string path = FileName(argument);
                int at = argument.Count > 0 ? argument[0].Position : t.Position;
                if (name == "subfileinclude")
                {
                    Builder.AddBlock(new PageBreakBlock(PageEnd.Clear));
                }

                ReadSubfile(path, t, at);
            });
        }

        Machine.Define("subfix", (m, t) => m.Push(m.ReadArgument(t)));
        Machine.Define("standaloneconfig", (m, t) => m.ReadArgument(t));
    }

    private void ReadSubfile(string name, Token token, int at)
    {
        if (Resolve(name, ["", ".tex"], token, at) is not { } file || Machine.Input.OpenFiles.Contains(file.Path) || _folders.Count > 50)
        {
            return;
        }

        bool standsAlone = file.Text.Contains("\\begin{document}", StringComparison.Ordinal);
        int slash = file.Path.LastIndexOf('/');
        _folders.Push(slash < 0 ? "" : file.Path[..(slash + 1)]);
        Machine.Input.ScanFile(file, () =>
        {
            if (standsAlone && Machine.Input.DirectLexer is { } lexer)
            {
                lexer.TakeRawUntil("\\begin{document}");
                lexer.EndsAt("\\end{document}");
            }

            Builder.Dispatcher.Run();
        });
        _folders.Pop();
    }
}
