using System.IO.Compression;
using System.Net;

namespace YoungFolio.Server.Tests;

/// <summary>How the page and its code are served.</summary>
public sealed class WebPageTests : RunningServer
{
    private readonly string _web = Directory.CreateTempSubdirectory("folio-web").FullName;

    protected override ServerOptions Options(ServerOptions options)
    {
        Directory.CreateDirectory(Path.Combine(_web, "assets"));
        File.WriteAllText(Path.Combine(_web, "index.html"), "<!doctype html><title>page</title>" + new string(' ', 4000));
        File.WriteAllText(Path.Combine(_web, "assets", "app-1a2b3c.js"), string.Concat(Enumerable.Repeat("const word = 'word';\n", 2000)));
        return options with { Web = _web };
    }

    [Theory]
    [InlineData("/assets/app-1a2b3c.js", "public, max-age=31536000, immutable")]
    [InlineData("/m/1/write?file=main.tex", "no-cache")]
    [InlineData("/", "no-cache")]
    public async Task What_is_fetched_is_compressed_and_kept_when_it_never_changes(string path, string kept)
    {
        using var client = new HttpClient(new HttpClientHandler { AutomaticDecompression = DecompressionMethods.None }) { BaseAddress = new Uri(Address) };
        client.DefaultRequestHeaders.AcceptEncoding.ParseAdd("br");
        using HttpResponseMessage answer = await client.GetAsync(path);
        Assert.Equal(["br"], answer.Content.Headers.ContentEncoding);
        Assert.Equal(kept, answer.Headers.CacheControl!.ToString());
        byte[] sent = await answer.Content.ReadAsByteArrayAsync();
        using var unpacked = new MemoryStream();
        await new BrotliStream(new MemoryStream(sent), CompressionMode.Decompress).CopyToAsync(unpacked);
        Assert.InRange(sent.Length, 1, unpacked.Length / 10);
    }

    [Fact]
    public async Task Code_of_an_earlier_version_is_said_to_be_gone_and_not_answered_with_the_page()
    {
        using HttpClient client = Client();
        using HttpResponseMessage answer = await client.GetAsync("/assets/app-00000000.js");
        Assert.Equal(HttpStatusCode.NotFound, answer.StatusCode);
    }
}
