using YoungFolio.Bibliography;
using YoungFolio.Cowriting;

namespace YoungFolio.Server.Api;

/// <summary>What rooms change in texts, as the log takes it.</summary>
internal static class TextChanges
{
    /// <summary>Edits of texts as change sets, by path.</summary>
    public static Dictionary<string, ChangeSet> Of<T>(IReadOnlyDictionary<string, string> texts, IReadOnlyDictionary<string, T> edits)
        where T : IReadOnlyList<TextEdit> =>
        edits.ToDictionary(e => e.Key, e => ChangeSet.Of(texts[e.Key].Length, e.Value.Select(t => (t.Offset, t.Length, t.Text))), StringComparer.Ordinal);

    /// <summary>One edit of one text as a change set.</summary>
    public static Dictionary<string, ChangeSet> Of(IReadOnlyDictionary<string, string> texts, string path, TextEdit edit) =>
        Of(texts, new Dictionary<string, IReadOnlyList<TextEdit>>(StringComparer.Ordinal) { [path] = [edit] });
}
