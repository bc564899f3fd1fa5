using System.Globalization;

namespace YoungFolio.Server;

/// <summary>How the server is started.</summary>
public sealed record ServerOptions
{
    /// <summary>The port; 0 takes any free one.</summary>
    public int Port { get; init; } = 5210;

    /// <summary>The address to listen on.</summary>
    public string Host { get; init; } = "127.0.0.1";

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

    /// <summary>Reads the command line: --port N --host H --data FOLDER --demo --demo-folder F --web FOLDER --catalogue ADDRESS --largest-data MEGABYTES.</summary>
    /// <exception cref="ArgumentException">An option isn't known.</exception>
    public static ServerOptions Parse(string[] args)
    {
        var options = new ServerOptions();
        for (int i = 0; i < args.Length; i++)
        {
            string Value() => i + 1 < args.Length ? args[++i] : throw new ArgumentException($"{args[i]} needs a value.");
            options = args[i] switch
            {
                "--port" => options with { Port = int.Parse(Value(), CultureInfo.InvariantCulture) },
                "--host" => options with { Host = Value() },
                "--data" => options with { Data = Value() },
                "--demo" => options with { Demo = true },
                "--demo-folder" => options with { DemoFolder = Value() },
                "--largest-data" => options with { LargestData = int.Parse(Value(), CultureInfo.InvariantCulture) },
                "--catalogue" => options with { Catalogue = Value() },
                "--web" => options with { Web = Value() },
                _ => throw new ArgumentException($"The server doesn't know “{args[i]}”."),
            };
        }

        return options;
    }
}
