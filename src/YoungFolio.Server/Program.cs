using YoungFolio.Server;

ServerOptions options = ServerOptions.Parse(args);
await using WebApplication app = await FolioServer.CreateAsync(options);
await app.StartAsync();
Console.WriteLine($"Young Folio is at {app.Urls.First()}");
if (options.Demo)
{
    Console.WriteLine("Sign in with a click as Ilse Marrable, Bao Tremlett, Anton Quill or Perpetua Vane.");
}

await app.WaitForShutdownAsync();
