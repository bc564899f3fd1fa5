using System.Text.Json;
using YoungFolio.Cowriting;

namespace YoungFolio.Server.Live;

/// <summary>Change sets as they come from outside.</summary>
internal static class ChangeSets
{
    /// <summary>Reads one.</summary>
    /// <exception cref="ChangeSetException">It isn't one.</exception>
    public static ChangeSet ToChangeSet(this JsonElement json) => ChangeSet.FromJson(json.ValueKind == JsonValueKind.Undefined ? "" : json.GetRawText());
}
