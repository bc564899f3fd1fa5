using System.Text;
using YoungFolio.Compiler;
using YoungFolio.Markup;

namespace YoungFolio.HandIn;

/// <summary>How the sources go out.</summary>
/// <param name="OnlyUsed">Files that the proof doesn't need stay behind.</param>
/// <param name="WithoutComments">Comments and typed notes are taken out.</param>
/// <param name="OnlyCited">Of .bib files only the cited entries go out.</param>
/// <param name="InOneFile">Files that are taken in are put where they are taken in.</param>
/// <param name="ReadyList">The list of sources goes out as it is printed, in place of the .bib files.</param>
public sealed record SourcesWish(bool OnlyUsed = true, bool WithoutComments = false, bool OnlyCited = false, bool InOneFile = false, bool ReadyList = false, bool Anonymous = false);

/// <summary>The sources as they go out, compiled once more from nothing else.</summary>
/// <param name="Files">The files.</param>
/// <param name="LeftBehind">Paths of the files that stay behind.</param>
/// <param name="Pages">How many pages the package gives.</param>
/// <param name="IsSame">Whether its PDF is the manuscript's to the byte.</param>
/// <param name="Remarks">What has to be known of it.</param>
public sealed record SourcePackage(IReadOnlyList<(string Path, ReadOnlyMemory<byte> Bytes)> Files, IReadOnlyList<string> LeftBehind, int Pages, bool IsSame, IReadOnlyList<string> Remarks);

/// <summary>Packs a manuscript's sources so that they compile elsewhere, and tries it.</summary>
/// <param name="compiler">The compiler.</param>
public sealed class SourcePacker(ManuscriptCompiler compiler)
{
    /// <summary>The file that tells a stranger what is what.</summary>
    public const string Readme = "README.txt";

    private const int MostSeen = 5;

    /// <summary>Packs the sources.</summary>
    /// <param name="snapshot">The manuscript.</param>
    /// <param name="wish">How.</param>
    /// <param name="cancellation">Stops the work.</param>
    /// <exception cref="OperationCanceledException">When stopped.</exception>
    public SourcePackage Pack(ManuscriptSnapshot snapshot, SourcesWish wish, CancellationToken cancellation = default)
    {
        ArgumentNullException.ThrowIfNull(snapshot);
        ArgumentNullException.ThrowIfNull(wish);
        snapshot = wish.Anonymous ? AnonymousCopy.Of(snapshot) : snapshot;
        var read = new ReadFiles(snapshot.Files);
        CompileResult whole = compiler.Compile(snapshot with { Files = read }, null, null, cancellation);
        var remarks = new List<string>();
        var texts = snapshot.Files.Paths.Where(p => !wish.OnlyUsed || read.Found.Contains(p)).ToDictionary(p => p, p => snapshot.Files.Find(p)!, StringComparer.Ordinal);
        if (wish.WithoutComments)
        {
            Change(texts, SafeNames.IsMarkup, (_, text) => BareMarkup.Of(text));
        }

        if (wish.InOneFile)
        {
            InOneFile(texts, snapshot.MainFile, remarks);
        }

        if (wish.OnlyCited)
        {
            string[] cited = [.. whole.Report.Bibliography.Select(s => s.Key), .. whole.Report.Citations.Select(c => c.Key)];
            Change(texts, p => p.EndsWith(".bib", StringComparison.OrdinalIgnoreCase), (_, text) => CitedEntries.Of(text, cited));
        }

        if (wish.ReadyList && whole.SourceItems.Count > 0 && PutReadyList(texts, whole) is { } why)
        {
            remarks.Add(why);
        }

        string[] leftBehind = [.. snapshot.Files.Paths.Where(p => !texts.ContainsKey(p))];
        IReadOnlyList<(string Before, string Now)> renamed = SafeNames.Give(texts);
        string main = renamed.FirstOrDefault(r => r.Before == snapshot.MainFile).Now ?? snapshot.MainFile;
        if (renamed.Count > 0)
        {
            remarks.Add($"In the package some files have names that every system reads: {string.Join(", ", renamed.Take(MostSeen).Select(r => $"{r.Before} is {r.Now}"))}{(renamed.Count > MostSeen ? " and so on" : "")}.");
        }

        CompileResult again = compiler.Compile(new ManuscriptSnapshot(new FileTree(texts.Values), main, snapshot.Today), null, null, cancellation);
        if (!texts.ContainsKey(Readme))
        {
            texts[Readme] = ManuscriptFile.FromText(Readme, ReadmeText(whole, again, main, snapshot.Today, texts.Keys));
        }

        return new SourcePackage(
            [.. texts.OrderBy(t => t.Key, StringComparer.Ordinal).Select(t => (t.Key, t.Value.Bytes))], leftBehind, again.Report.Pages,
            again.Pdf.AsSpan().SequenceEqual(whole.Pdf), remarks);
    }

    private static void InOneFile(Dictionary<string, ManuscriptFile> texts, string main, List<string> remarks)
    {
        if (!texts.TryGetValue(main, out ManuscriptFile? first))
        {
            return;
        }

        (string text, IReadOnlyList<string> takenIn, string? why) = TakenIn.Of(first.Text, path => texts.GetValueOrDefault(path)?.Text);
        if (why is not null)
        {
            remarks.Add(why);
            return;
        }

        texts[main] = ManuscriptFile.FromText(main, text);
        foreach (string path in takenIn)
        {
            texts.Remove(path);
        }
    }

    // Why it can't be done, or null.
    private static string? PutReadyList(Dictionary<string, ManuscriptFile> texts, CompileResult whole)
    {
        if (whole.Sources.IsModern)
        {
            return "biblatex makes its citations from the .bib files themselves, so a ready list can’t stand for them: they go out as they are.";
        }

        (string Path, string Text)[] put = [.. texts.Where(t => SafeNames.IsMarkup(t.Key)).Select(t => (t.Key, ReadyList.Put(t.Value.Text, whole.SourceItems) ?? "")).Where(t => t.Item2.Length > 0)];
        if (put.Length != 1)
        {
            return put.Length == 0 ? "No \\bibliography{…} stands in the text once, so the list of sources can’t be put there." : "The sources are listed in more than one place, so a ready list can’t stand for them.";
        }

        texts[put[0].Path] = ManuscriptFile.FromText(put[0].Path, put[0].Text);
        foreach (string path in texts.Keys.Where(p => p.EndsWith(".bib", StringComparison.OrdinalIgnoreCase)).ToArray())
        {
            texts.Remove(path);
        }

        return null;
    }

    private static void Change(Dictionary<string, ManuscriptFile> texts, Func<string, bool> isMeant, Func<string, string, string> change)
    {
        foreach (string path in texts.Keys.Where(isMeant).ToArray())
        {
            texts[path] = ManuscriptFile.FromText(path, change(path, texts[path].Text));
        }
    }

    private static string ReadmeText(CompileResult whole, CompileResult again, string main, DateOnly today, IEnumerable<string> paths)
    {
        var text = new StringBuilder();
        string title = whole.Print.Title.Trim();
        text.Append(title.Length == 0 ? "A manuscript" : title).Append('\n').Append('=', Math.Max(1, title.Length == 0 ? 12 : title.Length)).Append("\n\n")
            .Append(System.Globalization.CultureInfo.InvariantCulture, $"Packed on {today:yyyy-MM-dd}. Compile {main}; it gives {HandInChecks.Many(again.Report.Pages, "page")}, {HandInChecks.Many(again.Report.Words, "word")}.\n")
            .Append(System.Globalization.CultureInfo.InvariantCulture, $"Document class: {whole.Report.Class}.\n");
        if (whole.Report.Packages.Count > 0)
        {
            text.Append("Packages: ").AppendJoin(", ", whole.Report.Packages.Select(p => p.Name)).Append(".\n");
        }

        return text.Append("\nFiles:\n").AppendJoin("", paths.Order(StringComparer.Ordinal).Select(p => $"  {p}\n")).ToString();
    }

    // Which files a compile looks at.
    private sealed class ReadFiles(IFileTree files) : IFileTree
    {
        public HashSet<string> Found { get; } = new(StringComparer.Ordinal);

        public IReadOnlyList<string> Paths => files.Paths;

        // Files that nothing takes in would be looked into, if it were.
        public bool IsManuscriptAlone => false;

        public ManuscriptFile? Find(string path)
        {
            ManuscriptFile? file = files.Find(path);
            if (file is not null)
            {
                lock (Found)
                {
                    Found.Add(path);
                }
            }

            return file;
        }
    }
}
