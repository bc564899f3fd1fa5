using Microsoft.AspNetCore.Hosting.Server;
using Microsoft.AspNetCore.Hosting.Server.Features;

namespace YoungFolio.Server.Sources;

/// <summary>Asks the catalogue over HTTP; what goes wrong there is said in words, and never takes longer than its limit.</summary>
/// <param name="client">The HTTP client.</param>
/// <param name="options">Where the catalogue is.</param>
/// <param name="server">The running server, which has the stand-in.</param>
/// <param name="key">With it the stand-in answers.</param>
public sealed class SourceLookup(HttpClient client, ServerOptions options, IServer server, StandIns.CatalogueKey key)
{
    private static readonly TimeSpan s_longest = TimeSpan.FromSeconds(8);

    private string Address => options.Catalogue.Length > 0 ? options.Catalogue
        : server.Features.Get<IServerAddressesFeature>()!.Addresses.First().Replace("//0.0.0.0", "//127.0.0.1", StringComparison.Ordinal).Replace("//[::]", "//127.0.0.1", StringComparison.Ordinal) + "/stand-ins/catalogue";

    /// <summary>Records that fit, as BibTeX.</summary>
    /// <param name="words">Words of titles, names, years, or an identifier that begins with 10.</param>
    /// <param name="stop">Stops the question.</param>
    /// <exception cref="LookupException">No answer came.</exception>
    public async Task<string> AskAsync(string words, CancellationToken stop)
    {
        if (options.Catalogue.Length == 0 && !options.Demo)
        {
            throw new LookupException("No catalogue is set up here. Whoever keeps the server can name one with --catalogue.");
        }

        string question = words.StartsWith("10.", StringComparison.Ordinal) ? $"id={Uri.EscapeDataString(words.Trim())}" : $"q={Uri.EscapeDataString(words)}";
        using var limit = CancellationTokenSource.CreateLinkedTokenSource(stop);
        limit.CancelAfter(s_longest);
        try
        {
            using var request = new HttpRequestMessage(HttpMethod.Get, new Uri($"{Address}?{question}"));
            if (options.Catalogue.Length == 0)
            {
                key.AddTo(request);
            }

            using HttpResponseMessage answer = await client.SendAsync(request, limit.Token);
            return answer.IsSuccessStatusCode
                ? await answer.Content.ReadAsStringAsync(limit.Token)
                : throw new LookupException("The catalogue can't answer just now. Try again in a while.");
        }
        catch (OperationCanceledException) when (!stop.IsCancellationRequested)
        {
            throw new LookupException("The catalogue took too long. Try again, perhaps with other words.");
        }
        catch (HttpRequestException)
        {
            throw new LookupException("The catalogue can't be reached just now.");
        }
    }
}

/// <summary>The catalogue gave no answer, for a reason that people can read.</summary>
public sealed class LookupException(string message) : Exception(message);
