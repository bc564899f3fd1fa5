using YoungFolio.Server;
using YoungFolio.Server.Security;
using YoungFolio.Storage;

try
{
    switch (args)
    {
        case ["backup", "--data", var data, var file]:
            Backup.Make(data, file);
            Console.WriteLine($"Everything in {data} is in {file} now.");
            return 0;
        case ["restore", "--data", var data, var file]:
            string? before = Backup.Restore(file, data, DateTime.Now);
            Console.WriteLine($"{data} holds what {file} holds now.{(before is null ? "" : $" What was there before is in {before}.")}");
            return 0;
        case ["password", "--data", var data, var address]:
            Console.WriteLine($"{address} signs in with {await Accounts.GiveNewPasswordAsync(data, address)} from now on, and can change it under the name at the top of the shelf.");
            return 0;
    }

    ServerOptions options = ServerOptions.Parse(args);
    await using WebApplication app = await FolioServer.CreateAsync(options);
    await app.StartAsync();
    Console.WriteLine($"Young Folio is at {app.Urls.First()}");
    if (options.Demo)
    {
        Console.WriteLine("Sign in with a click as Ilse Marrable, Bao Tremlett, Anton Quill or Perpetua Vane.");
    }

    await app.WaitForShutdownAsync();
    return 0;
}
catch (Exception e) when (e is StoreException or ArgumentException or FormatException or IOException)
{
    Console.Error.WriteLine(e.Message);
    return 1;
}
