using System.Globalization;
using System.Text;
using System.Text.Json;
using YoungFolio.Compiler;
using YoungFolio.HandIn;
using YoungFolio.Markup;
using YoungFolio.Pdf;
using YoungFolio.Server.Archives;
using YoungFolio.Server.History;
using YoungFolio.Server.Proofs;
using YoungFolio.Storage;

namespace YoungFolio.Server.HandingIn;

/// <summary>The rules that a manuscript goes by.</summary>
/// <param name="Key">The key of some that ship, or the number of saved ones.</param>
/// <param name="Name">What they are called.</param>
/// <param name="Rules">What they say.</param>
public sealed record ChosenRules(string Key, string Name, HouseRules Rules);

/// <summary>What is to be handed in beside the PDF.</summary>
/// <param name="Name">What it is called.</param>
/// <param name="To">The address; empty: it is kept, and nothing sent.</param>
/// <param name="Note">What is said along with it.</param>
/// <param name="Sources">How the sources go along; null: they don't.</param>
/// <param name="ChangesSince">The pin since which changes are marked in a PDF of their own; null: none.</param>
/// <param name="AsItIs">Whether it goes out although something wants mending.</param>
/// <param name="Flavour">What the PDF is made for: one of <see cref="HouseRules.Flavours"/>; null: reading and printing.</param>
/// <param name="Anonymous">Whether nothing that goes out says whose it is.</param>
public sealed record HandInWish(string? Name, string? To, string? Note, SourcesWish? Sources, int? ChangesSince, bool AsItIs, string? Flavour = null, bool Anonymous = false);

/// <summary>Checks a manuscript against the rules of a house, packs its sources, and hands it in.</summary>
public sealed class HandInService(
    ManuscriptCompiler compiler, ProofService proofs, PastProofs past, TextStore texts, FileStore stored, ManuscriptStore store, NoteStore notes, ChronicleStore pins, HandInStore handIns, TimeProvider clock)
{
    private const long LargestCache = 64L * 1024 * 1024;

    private readonly SourcePacker _packer = new(compiler);
    private readonly RecentlyUsed<(int Manuscript, int Revision, SourcesWish Wish), SourcePackage> _packages = new(LargestCache, static p => p.Files.Sum(f => (long)f.Bytes.Length));

    /// <summary>The rules that a manuscript goes by: those that ask for nothing where none were chosen, or where they are gone.</summary>
    public async Task<ChosenRules> RulesAsync(int manuscript)
    {
        string key = (await store.ManuscriptAsync(manuscript)).Rules;
        return await FindRulesAsync(key) ?? Shipped(HouseRules.Shipped[0]);
    }

    /// <summary>Rules by their key; null: there are none.</summary>
    public async Task<ChosenRules?> FindRulesAsync(string key)
    {
        (string Key, string Name, HouseRules Rules) shipped = HouseRules.Shipped.FirstOrDefault(s => s.Key == key);
        return shipped.Key is not null ? Shipped(shipped)
            : int.TryParse(key, NumberStyles.None, CultureInfo.InvariantCulture, out int id) && await handIns.FindRulesAsync(id) is { } saved ? new ChosenRules(key, saved.Name, Read(saved)) : null;
    }

    /// <summary>What saved rules say.</summary>
    public static HouseRules Read(SavedRules saved) => JsonSerializer.Deserialize<HouseRules>(saved.Values, JsonSerializerOptions.Web)!;

    /// <summary>Looks at the newest proof.</summary>
    public async Task<(Proof Proof, IReadOnlyList<CheckGroup> Groups)> CheckAsync(int manuscript, HouseRules rules, CancellationToken stop)
    {
        Proof proof = await proofs.UpToDateAsync(manuscript, stop);
        IReadOnlyDictionary<string, (int File, LiveText Text)> typed = await texts.AllAsync(manuscript);
        // Of pictures and data it is enough that they are there.
        var files = new FileTree([.. typed.Select(t => ManuscriptFile.FromText(t.Key, t.Value.Text.Text)), .. (await stored.FilesAsync(manuscript)).Where(f => !typed.ContainsKey(f.Path)).Select(f => new ManuscriptFile(f.Path, ReadOnlyMemory<byte>.Empty))]);
        IReadOnlyList<MarginNote> open = await notes.ListAsync(manuscript, isOpen: true);
        IReadOnlyList<AccessPlace> access = await AccessAsync(manuscript, proof, rules.Flavour, stop);
        var talk = new OpenTalk(open.Count(n => n.Proposal is null), open.Count(n => n.Proposal is not null));
        return (proof, await Task.Run(() => HandInChecks.Run(proof.Result, files, rules, talk, access), stop));
    }

    /// <summary>What keeps the newest PDF from saying that it keeps to the standard of its flavour, with its places.</summary>
    /// <exception cref="StoreException">There is no such flavour.</exception>
    public async Task<IReadOnlyList<CheckPlace>> ObstaclesAsync(int manuscript, string? flavour, CancellationToken stop)
    {
        Demand(flavour);
        Proof proof = await proofs.UpToDateAsync(manuscript, stop);
        return HandInChecks.Obstacles(proof.Result, flavour, await AccessAsync(manuscript, proof, flavour, stop));
    }

    // The proof doesn't keep the tree that tells it: it is read anew.
    private async Task<IReadOnlyList<AccessPlace>> AccessAsync(int manuscript, Proof proof, string? flavour, CancellationToken stop)
    {
        if (!HouseRules.IsAccessible(flavour))
        {
            return [];
        }

        ManuscriptSnapshot snapshot = await past.SnapshotAsync(manuscript, proof.Revision);
        return await proofs.BesideAsync(() => compiler.AccessObstacles(snapshot, stop), stop);
    }

    private static void Demand(string? flavour)
    {
        if (flavour is { Length: > 0 } && !HouseRules.Flavours.Contains(flavour))
        {
            throw new StoreException($"The PDF is one of {string.Join(", ", HouseRules.Flavours)}.");
        }
    }

    /// <summary>Packs the sources of the newest state, and compiles the package once more.</summary>
    public async Task<SourcePackage> PackAsync(int manuscript, SourcesWish wish, CancellationToken stop) =>
        await PackAsync(manuscript, (await store.ManuscriptAsync(manuscript)).Revision, wish, stop);

    /// <summary>A package as a .zip.</summary>
    public static byte[] Zip(SourcePackage package)
    {
        ArgumentNullException.ThrowIfNull(package);
        return ManuscriptZip.Write(package.Files.Select(f => (f.Path, f.Bytes.ToArray())));
    }

    /// <summary>Writes the newest proof as a PDF.</summary>
    /// <param name="manuscript">The manuscript.</param>
    /// <param name="name">What the PDF is called, without its ending.</param>
    /// <param name="flavour">What it is made for: one of <see cref="HouseRules.Flavours"/>; null: reading and printing.</param>
    /// <param name="sources">How sources go along within it, and whether the PDF says whose it is; null: as they usually do.</param>
    /// <param name="stop">Ends the work.</param>
    /// <exception cref="StoreException">There is no such flavour.</exception>
    public async Task<byte[]> PdfAsync(int manuscript, string name, string? flavour, SourcesWish? sources, CancellationToken stop) =>
        await PdfAsync(manuscript, await proofs.UpToDateAsync(manuscript, stop), name, flavour, sources, stop);

    /// <summary>Names of the authors that stand in an anonymous copy all the same.</summary>
    public async Task<IReadOnlyList<NameLeft>> NamesLeftAsync(int manuscript, CancellationToken stop)
    {
        Proof proof = await proofs.UpToDateAsync(manuscript, stop);
        ManuscriptSnapshot copy = AnonymousCopy.Of(await past.SnapshotAsync(manuscript, proof.Revision));
        return AnonymousCopy.NamesLeft(await proofs.BesideAsync(() => compiler.WriteText(copy, stop), stop), proof.Result.Print.Author);
    }

    private async Task<byte[]> PdfAsync(int manuscript, Proof proof, string name, string? flavour, SourcesWish? sources, CancellationToken stop)
    {
        Demand(flavour);
        AttachedFile? attached = flavour == HouseRules.ArchivalWithSources
            ? new AttachedFile($"{name}-sources.zip", "application/zip", Zip(await PackAsync(manuscript, proof.Revision, sources ?? new SourcesWish(), stop)), DateOnly.FromDateTime(clock.GetUtcNow().UtcDateTime), "The sources that this was made of")
            : null;
        var made = new PdfFlavour(HouseRules.IsArchival(flavour), attached) { IsAccessible = HouseRules.IsAccessible(flavour) };
        bool isAnonymous = sources?.Anonymous == true;
        if (!isAnonymous && !made.IsAccessible)
        {
            return await Task.Run(() => proof.Result.WritePdf(flavour: made), stop);
        }

        ManuscriptSnapshot newest = await past.SnapshotAsync(manuscript, proof.Revision);
        ManuscriptSnapshot copy = isAnonymous ? AnonymousCopy.Of(newest) : newest;
        CompileResult? last = isAnonymous ? null : proof.Result;
        return await proofs.BesideAsync(() => (made.IsAccessible ? compiler.CompileTagged(copy, last, stop) : compiler.Compile(copy, last, null, stop)).WritePdf(flavour: made), stop);
    }

    /// <summary>The newest state in another form.</summary>
    /// <param name="manuscript">The manuscript.</param>
    /// <param name="form">Which: <c>html</c>, <c>text</c>, <c>words</c> or <c>figures</c>.</param>
    /// <param name="stop">Ends the work.</param>
    /// <returns>The file and its type; null: there is no such form.</returns>
    public async Task<(byte[] Bytes, string MediaType)?> FormAsync(int manuscript, string form, CancellationToken stop)
    {
        if (form == "words")
        {
            return (Encoding.UTF8.GetBytes("\uFEFF" + WordReport.Csv((await proofs.UpToDateAsync(manuscript, stop)).Result.Report)), "text/csv; charset=utf-8");
        }

        if (form == "figures")
        {
            Proof proof = await proofs.UpToDateAsync(manuscript, stop);
            ManuscriptSnapshot of = await past.SnapshotAsync(manuscript, proof.Revision);
            return (ManuscriptZip.Write(FiguresApart.Of(proof.Result, of.Files).Select(f => (f.Path, f.Bytes.ToArray()))), "application/zip");
        }

        if (form is not ("html" or "text"))
        {
            return null;
        }

        ManuscriptSnapshot snapshot = await past.SnapshotAsync(manuscript, (await store.ManuscriptAsync(manuscript)).Revision);
        string written = await proofs.BesideAsync(() => form == "html" ? compiler.WriteHtml(snapshot, stop) : compiler.WriteText(snapshot, stop), stop);
        return (Encoding.UTF8.GetBytes(written), form == "html" ? "text/html; charset=utf-8" : "text/plain; charset=utf-8");
    }

    /// <summary>Hands a manuscript in.</summary>
    /// <returns>Its number; or, when something wants mending and it isn't to go out as it is, how many things do.</returns>
    /// <exception cref="StoreException">The wish can't be met.</exception>
    public async Task<(int Id, int ToMend)> HandInAsync(int manuscript, Person by, HandInWish wish, CancellationToken stop)
    {
        ArgumentNullException.ThrowIfNull(by);
        ArgumentNullException.ThrowIfNull(wish);
        ChosenRules rules = await RulesAsync(manuscript);
        (Proof proof, IReadOnlyList<CheckGroup> groups) = await CheckAsync(manuscript, rules.Rules, stop);
        HandInCheck[] checks = [.. groups.SelectMany(g => g.Checks)];
        int toMend = checks.Count(c => c.State == CheckState.Mend);
        if (toMend > 0 && !wish.AsItIs)
        {
            return (0, toMend);
        }

        string title = (await store.ManuscriptAsync(manuscript)).Title;
        string name = FileName(wish.Anonymous ? rules.Rules with { IsAnonymous = true } : rules.Rules, proof.Result, title);
        SourcesWish packed = (wish.Sources ?? new SourcesWish()) with { Anonymous = wish.Anonymous };
        var files = new List<HandedInFile> { File($"{name}.pdf", "application/pdf", await PdfAsync(manuscript, proof, name, wish.Flavour, packed, stop)) };
        if (wish.Sources is not null)
        {
            files.Add(File($"{name}-sources.zip", "application/zip", Zip(await PackAsync(manuscript, proof.Revision, packed, stop))));
        }

        if (wish.ChangesSince is { } pin)
        {
            if (wish.Anonymous)
            {
                throw new StoreException("A PDF with marked changes says who is behind it. Leave it away, or the anonymous copy.");
            }

            Pin from = await pins.FindPinAsync(manuscript, pin) ?? throw new StoreException("The pin since which changes are to be marked isn’t there any more.");
            files.Add(File($"{name}-changes.pdf", "application/pdf", (await past.ChangesAsync(manuscript, from.Revision, proof.Revision, stop)).Pdf));
        }

        var handIn = new HandedIn
        {
            ManuscriptId = manuscript, Revision = proof.Revision, PersonId = by.Id, Name = wish.Name ?? "", Note = wish.Note ?? "", To = wish.To ?? "", Rules = rules.Name, Pages = proof.Result.Report.Pages,
            Words = proof.Result.Report.Words, ToMend = toMend, ToLook = checks.Count(c => c.State == CheckState.Look), Files = files,
        };
        return (await handIns.HandInAsync(handIn, $"{title}: {handIn.Name}", Letter(by.Name, title, handIn)), toMend);
    }

    /// <summary>What the PDF is called, without its ending.</summary>
    public string FileName(HouseRules rules, CompileResult proof, string shelfTitle)
    {
        ArgumentNullException.ThrowIfNull(proof);
        return HandInName.Of(rules, proof.Print, shelfTitle, clock.GetUtcNow().Year);
    }

    private async Task<SourcePackage> PackAsync(int manuscript, int revision, SourcesWish wish, CancellationToken stop)
    {
        if (_packages.Find((manuscript, revision, wish)) is { } known)
        {
            return known;
        }

        ManuscriptSnapshot snapshot = await past.SnapshotAsync(manuscript, revision);
        return _packages.Keep((manuscript, revision, wish), await proofs.BesideAsync(() => _packer.Pack(snapshot, wish, stop), stop));
    }

    private static HandedInFile File(string name, string type, byte[] content) => new() { Name = name, MediaType = type, Size = content.Length, Content = content };

    private static string Letter(string by, string title, HandedIn handIn)
    {
        var text = new StringBuilder();
        text.Append(by).Append(" hands in “").Append(title).Append("”: ").Append(handIn.Name).Append(".\n");
        if (handIn.Note.Length > 0)
        {
            text.Append('\n').Append(handIn.Note).Append('\n');
        }

        return text.Append(CultureInfo.InvariantCulture, $"\n{handIn.Pages} pages, {handIn.Words:#,0} words. With this letter:\n").AppendJoin("", handIn.Files.Select(f => $"  {f.Name}\n")).ToString();
    }

    private static ChosenRules Shipped((string Key, string Name, HouseRules Rules) rules) => new(rules.Key, rules.Name, rules.Rules);
}
