using System.Text.Json;
using YoungFolio.Compiler;
using YoungFolio.Compiler.Sheets;

namespace YoungFolio.Server.Proofs;

/// <summary>A compiled revision.</summary>
/// <param name="Revision">Revision of the manuscript.</param>
/// <param name="Milliseconds">How long the compile took.</param>
/// <param name="Result">What it gave.</param>
/// <param name="Versions">The version of each text that it shows, by path: places in it are of that version.</param>
public sealed record Proof(int Revision, double Milliseconds, CompileResult Result, IReadOnlyDictionary<string, int> Versions)
{
    private readonly Lazy<byte[]> _json = new(() => JsonSerializer.SerializeToUtf8Bytes(
        new ProofView(Revision, Milliseconds, false, null, Result.Report, Versions, ProofSheets.Of(Result.Sheets)), JsonSerializerOptions.Web));

    /// <summary>What browsers know of it, as JSON.</summary>
    public byte[] Json => _json.Value;

    /// <summary>What it takes in memory beside what the compile gave, in bytes.</summary>
    public long Size => _json.IsValueCreated ? _json.Value.Length : 0;
}

/// <summary>The proof's state.</summary>
/// <param name="Revision">Revision that the proof shows.</param>
/// <param name="Milliseconds">How long the compile took.</param>
/// <param name="IsBehind">Whether a newer proof is on its way.</param>
/// <param name="AsOf">When it was made, if it is one that was kept since then while a new one is made; else null.</param>
/// <param name="Report">The compile report.</param>
/// <param name="Versions">The version of each text that the places in the report are of, by path.</param>
/// <param name="Sheets">The pages.</param>
public sealed record ProofView(
    int Revision, double Milliseconds, bool IsBehind, DateTimeOffset? AsOf, CompileReport Report, IReadOnlyDictionary<string, int> Versions, ProofSheets Sheets);

/// <summary>The pages of a proof: what is drawn on them is fetched by their digests.</summary>
/// <param name="Entries">The sheets in order.</param>
/// <param name="Files">Paths of the files that the origins are in.</param>
/// <param name="OriginFiles">The file of each origin, an index of the files.</param>
/// <param name="OriginSteps">How many characters each origin stands behind the one before it in its file.</param>
/// <param name="Anchors">On which sheet each place stands that something on the pages leads to.</param>
public sealed record ProofSheets(
    IReadOnlyList<SheetEntry> Entries, IReadOnlyList<string> Files, IReadOnlyList<int> OriginFiles, IReadOnlyList<int> OriginSteps, IReadOnlyList<SheetAnchor> Anchors)
{
    /// <summary>None.</summary>
    public static ProofSheets None { get; } = new([], [], [], [], []);

    /// <summary>Of a compile.</summary>
    public static ProofSheets Of(SheetList sheets) => new(sheets.Entries, sheets.Files, sheets.OriginFiles, sheets.OriginSteps, sheets.Anchors);
}

/// <summary>Says that a proof is there.</summary>
/// <param name="Revision">The revision that it shows.</param>
/// <param name="IsBehind">Whether a newer one is on its way already.</param>
/// <param name="From">The revision of the proof that the difference is to; null when there was none.</param>
/// <param name="Difference">What makes its state of that one's (<see cref="JsonDifference"/>).</param>
/// <param name="Sheets">The first pages that are new, by their digests.</param>
public sealed record ProofNews(int Revision, bool IsBehind, int? From, JsonElement? Difference, IReadOnlyDictionary<string, SheetNews> Sheets)
{
    // Whoever writes looks at the first page that changed, or at one behind it; the others are fetched by those who see them.
    private const int MostSheets = 3;

    /// <summary>Of a proof.</summary>
    /// <param name="before">The one before; null when there was none.</param>
    /// <param name="proof">The proof.</param>
    /// <param name="isBehind">Whether a newer one is on its way already.</param>
    public static ProofNews Of(Proof? before, Proof proof, bool isBehind)
    {
        var sheets = new Dictionary<string, SheetNews>();
        if (before is null)
        {
            return new ProofNews(proof.Revision, isBehind, null, null, sheets);
        }

        (SheetList old, SheetList now) = (before.Result.Sheets, proof.Result.Sheets);
        for (int i = 0; i < now.Sheets.Count && sheets.Count < MostSheets; i++)
        {
            if (old.Find(now.Sheets[i].Digest) is null)
            {
                // Most often it is the same page with another word.
                Sheet from = old.Sheets[Math.Min(i, old.Sheets.Count - 1)];
                sheets[now.Sheets[i].Digest] = new SheetNews(from.Digest, Between(from.Content, now.Sheets[i].Content));
            }
        }

        return new ProofNews(proof.Revision, isBehind, before.Revision, Between(before.Json, proof.Json), sheets);
    }

    private static JsonElement Between(byte[] before, byte[] after)
    {
        using JsonDocument old = JsonDocument.Parse(before);
        using JsonDocument now = JsonDocument.Parse(after);
        return JsonSerializer.SerializeToElement(JsonDifference.Of(old.RootElement, now.RootElement));
    }
}

/// <summary>A sheet as another one with a difference.</summary>
/// <param name="From">The other one's digest.</param>
/// <param name="Difference">What makes this one of it.</param>
public sealed record SheetNews(string From, JsonElement Difference);
