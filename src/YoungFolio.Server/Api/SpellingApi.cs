using System.Security.Claims;
using YoungFolio.Manuscript.Searching;
using YoungFolio.Server.Security;
using YoungFolio.Spelling;
using YoungFolio.Storage;

namespace YoungFolio.Server.Api;

/// <summary>The words of a file that no dictionary knows.</summary>
/// <param name="Version">The version of the text that the places are of.</param>
/// <param name="Language">The language that the manuscript is in.</param>
/// <param name="IsSaid">Whether the preamble says so.</param>
/// <param name="Words">The words, in order.</param>
public sealed record SpellingView(int Version, string Language, bool IsSaid, IReadOnlyList<UnknownWord> Words);

/// <summary>The words that were added to the dictionaries.</summary>
/// <param name="Manuscript">For this manuscript.</param>
/// <param name="Mine">For whoever asks, in all manuscripts.</param>
public sealed record KnownWords(IReadOnlyList<string> Manuscript, IReadOnlyList<string> Mine);

/// <summary>A word for a list.</summary>
/// <param name="Word">The word.</param>
/// <param name="IsMine">For the list of whoever asks; otherwise for the manuscript's.</param>
public sealed record ListedWord(string Word, bool IsMine);

/// <summary>Spelling: unknown words, what may have been meant, and words that are right all the same.</summary>
public static class SpellingApi
{
    private const string UsualLanguage = "en-gb";

    /// <summary>Adds the routes.</summary>
    public static void Map(RouteGroupBuilder manuscript)
    {
        RouteGroupBuilder group = manuscript.MapGroup("/spelling");
        group.MapGet("/files/{file:int}", async (int id, int file, string? language, ClaimsPrincipal user, ManuscriptStore store, FileStore files, TextStore texts, WritingStore writing, CancellationToken stop) =>
        {
            if ((await files.FilesAsync(id)).FirstOrDefault(f => f.Id == file) is not { IsText: true } found)
            {
                return Results.NotFound(new Problem("There is no such text."));
            }

            LiveText text = await texts.TextAsync(found.Id);
            string? said = await LanguageAsync(id, store, files, texts);
            // A person's own wish goes before what is usual, and what the manuscript says before both.
            string own = said ?? (language is not null && Lexicon.Languages.Contains(language) ? language : UsualLanguage);
            var known = new HashSet<string>((await writing.WordsAsync(id, null)).Concat(await writing.WordsAsync(null, user.PersonId())).Select(w => w.ToLowerInvariant()), StringComparer.Ordinal);
            IReadOnlyList<UnknownWord> words = await Task.Run(() => SpellCheck.Find(text.Text, own, known), stop);
            return Results.Ok(new SpellingView(text.Version, own, said is not null, words));
        }).Needs(Role.Reader).Produces<SpellingView>();
        group.MapGet("/suggestions", async (int id, string word, string language, CancellationToken stop) =>
            await Task.Run(() => Lexicon.Of(language)?.Suggest(word) ?? [], stop)).Needs(Role.Reader);
        group.MapGet("/words", async (int id, ClaimsPrincipal user, WritingStore writing) =>
            new KnownWords(await writing.WordsAsync(id, null), await writing.WordsAsync(null, user.PersonId()))).Needs(Role.Reader);
        group.MapPost("/words", async (int id, ListedWord word, ClaimsPrincipal user, WritingStore writing) =>
        {
            await writing.AddWordAsync(user.PersonId(), word.IsMine ? null : id, word.IsMine ? user.PersonId() : null, word.Word);
            return Results.NoContent();
        }).Needs(Role.Author);
        group.MapPost("/words/forget", async (int id, ListedWord word, ClaimsPrincipal user, WritingStore writing) =>
        {
            await writing.RemoveWordAsync(user.PersonId(), word.IsMine ? null : id, word.IsMine ? user.PersonId() : null, word.Word);
            return Results.NoContent();
        }).Needs(Role.Author);
    }

    private static async Task<string?> LanguageAsync(int id, ManuscriptStore store, FileStore files, TextStore texts)
    {
        string main = (await store.ManuscriptAsync(id)).MainFile;
        var read = new List<string>();
        // The preamble is in the main file, or in one that it takes in.
        foreach (FileEntity file in (await files.FilesAsync(id)).Where(f => f.IsText && Path.GetExtension(f.Path) is ".tex" or ".sty" or ".cls").OrderBy(f => f.Path != main))
        {
            string text = (await texts.TextAsync(file.Id)).Text;
            int begin = text.IndexOf("\\begin{document}", StringComparison.Ordinal);
            read.Add(begin < 0 ? text : text[..begin]);
            if (TypedLanguages.Main(read[^1..]) is { } said)
            {
                return said;
            }
        }

        return null;
    }
}
