using System.Text.Json;
using YoungFolio.Compiler;
using YoungFolio.Compiler.Sheets;

namespace YoungFolio.Server.Proofs;

/// <summary>What the shelf shows of a proof.</summary>
/// <param name="Digest">Digest of its first page.</param>
/// <param name="FirstPage">Its first page.</param>
/// <param name="Pages">How many pages it has.</param>
/// <param name="Words">How many words.</param>
/// <param name="ToFix">How many findings to fix.</param>
/// <param name="Size">What it takes in memory, in bytes.</param>
public sealed record Glance(string Digest, FirstPageView FirstPage, int Pages, int Words, int ToFix, long Size)
{
    private const long SizeWithoutPage = 1000;

    /// <summary>Of a proof.</summary>
    public static Glance Of(Proof proof) => Of(proof.Result.Report, proof.Result.Sheets.Entries[0], proof.Result.Sheets.Sheets[0].Content);

    /// <summary>Of a proof that was kept.</summary>
    /// <param name="proof">The proof.</param>
    /// <param name="firstPage">What is drawn on its first page.</param>
    public static Glance Of(ProofView proof, byte[] firstPage) => Of(proof.Report, proof.Sheets.Entries[0], firstPage);

    /// <summary>A page with what is drawn on it.</summary>
    public static FirstPageView PageOf(SheetEntry page, byte[] content) => new(page.Width, page.Height, JsonSerializer.Deserialize<JsonElement>(content));

    private static Glance Of(CompileReport report, SheetEntry page, byte[] content) => new(
        page.Digest, PageOf(page, content),
        report.Pages, report.Words, report.Findings.Count(f => f.Kind == "fix"), content.Length + SizeWithoutPage);
}

/// <summary>The first page of a proof, as the shelf shows it.</summary>
/// <param name="Width">Width in PDF points (1/72 in).</param>
/// <param name="Height">Height in PDF points.</param>
/// <param name="Content">What is drawn on it.</param>
public sealed record FirstPageView(double Width, double Height, JsonElement Content);

/// <summary>What a manuscript would begin as.</summary>
/// <param name="Page">The page.</param>
/// <param name="Pages">How many pages there are.</param>
public sealed record BeginningView(FirstPageView Page, int Pages);
