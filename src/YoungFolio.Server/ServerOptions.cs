using System.Globalization;

namespace YoungFolio.Server;

/// <summary>How the server is started.</summary>
public sealed record ServerOptions
{
    /// <summary>The port; 0 takes any free one.</summary>
    public int Port { get; init; } = 5210;

    /// <summary>The address to listen on.</summary>
    public string Host { get; init; } = "127.0.0.1";

    /// <summary>Names by which the server is reached, beside its own addresses.</summary>
    public IReadOnlyList<string> Names { get; init; } = [];

    /// <summary>The data folder.</summary>
    public string Data { get; init; } = Path.Combine(Environment.CurrentDirectory, ".folio", "data");

    /// <summary>Whether demo people and manuscripts are there.</summary>
    public bool Demo { get; init; }

    /// <summary>Folder of the demo manuscripts.</summary>
    public string DemoFolder { get; init; } = Path.Combine(Environment.CurrentDirectory, "demo");

    /// <summary>Folder of the built web application.</summary>
    public string Web { get; init; } = Path.Combine(Environment.CurrentDirectory, "web", "dist");

    /// <summary>How large the database may grow, in megabytes; 0: as large as the disk allows.</summary>
    public int LargestData { get; init; }

    /// <summary>Address of the catalogue of publications; empty: the stand-in that ships with the application.</summary>
    public string Catalogue { get; init; } = "";

    /// <summary>Reads the command line: --port N --host H --name N --data FOLDER --demo --demo-folder F --web FOLDER --catalogue ADDRESS --largest-data MEGABYTES.</summary>
    /// <exception cref="ArgumentException">An option isn't known.</exception>
    public static ServerOptions Parse(string[] args)
    {
        var options = new ServerOptions();
        for (int i = 0; i < args.Length; i++)
        {
            string Value() => i + 1 < args.Length ? args[++i] : throw new ArgumentException($"{args[i]} needs a value.");
            options = args[i] switch
            {
                "--port" => options with { Port = Number(Value(), 65535, "a port") },
                "--host" => options with { Host = Security.AllowedHosts.CheckHost(Value()) },
                "--name" => options with { Names = [.. options.Names, Value()] },
                "--data" => options with { Data = Value() },
                "--demo" => options with { Demo = true },
                "--demo-folder" => options with { DemoFolder = Value() },
                "--largest-data" => options with { LargestData = Number(Value(), int.MaxValue, "a number of megabytes") },
                "--catalogue" => options with { Catalogue = Value() },
                "--web" => options with { Web = Value() },
                _ => throw new ArgumentException($"The server doesn't know “{args[i]}”."),
            };
        }

        return options;
    }

    private static int Number(string value, int most, string what) =>
        int.TryParse(value, NumberStyles.None, CultureInfo.InvariantCulture, out int number) && number <= most ? number : throw new ArgumentException($"“{value}” isn't {what}.");
}
