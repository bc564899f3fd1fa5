using YoungFolio.Server;
using YoungFolio.Server.Security;
using YoungFolio.Storage;

try
{
    switch (args)
    {
        case ["backup", "--data", var data, var file]:
            int contents = Backup.Make(data, file);
            Console.WriteLine($"Everything in {data} is in {file} now. It was looked through: its pages, what refers to what, and {contents} pictures and data files by their digests are whole.");
            return 0;
        case ["restore", "--data", var data, var file]:
            string? before = Backup.Restore(file, data, DateTime.Now);
            Console.WriteLine($"{data} holds what {file} holds now.{(before is null ? "" : $" What was there before is in {before}.")}");
            return 0;
        case ["password", "--data", var data, var address]:
            Console.WriteLine($"{address} signs in with {await Accounts.GiveNewPasswordAsync(data, address)} from now on, and can change it under the name at the top of the shelf.");
            return 0;
        case ["verify", "--data", var data, var address]:
            await Accounts.VerifyAsync(data, address);
            Console.WriteLine($"{address} is known as its account's own address now.");
            return 0;
    }

    ServerOptions options = ServerOptions.Parse(args);
    await using WebApplication app = await FolioServer.CreateAsync(options);
    await app.StartAsync();
    _ = Task.Run(() => FirstAnswers.AskAsync(app));
    Console.WriteLine($"Young Folio is at {app.Urls.First()}");
    if (options.Demo)
    {
        Console.WriteLine("Sign in with a click as Ilse Marrable, Bao Tremlett, Anton Quill or Perpetua Vane.");
    }

    await app.WaitForShutdownAsync();
    return 0;
}
catch (Exception e) when (StartFailure.Say(e) is { } why)
{
    Console.Error.WriteLine(why);
    return 1;
}
