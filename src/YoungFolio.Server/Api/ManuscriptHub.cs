using Microsoft.AspNetCore.SignalR;
using YoungFolio.Storage;

namespace YoungFolio.Server.Api;

/// <summary>Tells browsers what happens: <c>proof</c>, <c>updates</c>, <c>parts</c>. One group a manuscript.</summary>
public sealed class ManuscriptHub(ManuscriptStore store) : Hub
{
    /// <summary>Begins to listen to a manuscript.</summary>
    /// <exception cref="HubException">It isn't on the person's shelf.</exception>
    public async Task Join(int manuscript)
    {
        if (await store.RoleOfAsync(manuscript, Context.User!.PersonId()) is null)
        {
            throw new HubException("There is no such manuscript on your shelf.");
        }

        await Groups.AddToGroupAsync(Context.ConnectionId, Group(manuscript));
    }

    /// <summary>Name of a manuscript's group.</summary>
    internal static string Group(int manuscript) => "manuscript " + manuscript.ToString(System.Globalization.CultureInfo.InvariantCulture);
}
