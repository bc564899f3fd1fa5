using System.Diagnostics;
using System.Net;
using System.Net.Sockets;

namespace YoungFolio.Tool.Attack;

/// <summary>A data folder, and the server on it as a process of its own, so that it can be ended without warning.</summary>
public sealed class ServerProcess : IAsyncDisposable
{
    private Process? _process;

    /// <summary>The data folder; it is gone when this is disposed.</summary>
    public string Data { get; } = Directory.CreateTempSubdirectory("folio").FullName;

    /// <summary>Where the server is, after every start.</summary>
    public Uri Address { get; } = new($"http://127.0.0.1:{FreePort()}");

    /// <summary>The process, while it runs.</summary>
    public Process? Running => _process;

    /// <summary>Starts the server, and waits until it is ready.</summary>
    public async Task StartAsync(params string[] more)
    {
        _process = Launch([.. (string[])["--port", $"{Address.Port}"], .. more]);
        for (string? line = ""; line is not null; line = await _process.StandardOutput.ReadLineAsync())
        {
            if (line.StartsWith("Young Folio is at", StringComparison.Ordinal))
            {
                return;
            }
        }

        throw new InvalidOperationException(await _process.StandardError.ReadToEndAsync());
    }

    /// <summary>Ends the server at once, as a power cut does.</summary>
    public async Task KillAsync()
    {
        if (_process is { } process)
        {
            _process = null;
            process.Kill();
            await process.WaitForExitAsync();
            process.Dispose();
        }
    }

    /// <summary>Asks the server to end, as the system does.</summary>
    /// <returns>How long it took.</returns>
    public async Task<TimeSpan> TerminateAsync()
    {
        Process process = _process!;
        _process = null;
        long start = Stopwatch.GetTimestamp();
        using Process signal = Process.Start("kill", ["-TERM", $"{process.Id}"]);
        await process.WaitForExitAsync();
        process.Dispose();
        return Stopwatch.GetElapsedTime(start);
    }

    /// <summary>Ends the server at once and starts it anew.</summary>
    public async Task RestartAsync(params string[] more)
    {
        await KillAsync();
        await StartAsync(more);
    }

    /// <summary>Starts another server with the demo data, on this folder unless told otherwise.</summary>
    public Process Launch(params string[] arguments)
    {
        string[] data = arguments.Contains("--data") ? [] : ["--data", Data];
        return Begin(["--demo", "--demo-folder", Path.Combine(Root(), "demo"), "--web", Data, .. data, .. arguments]);
    }

    /// <summary>Runs one of the server's commands.</summary>
    /// <param name="code">The exit code that it should end with.</param>
    /// <param name="arguments">The command.</param>
    /// <returns>What it said.</returns>
    public static async Task<string> RunAsync(int code, params string[] arguments)
    {
        using Process tool = Begin(arguments);
        string said = await tool.StandardOutput.ReadToEndAsync() + await tool.StandardError.ReadToEndAsync();
        await tool.WaitForExitAsync();
        return tool.ExitCode == code ? said : throw new InvalidOperationException($"{string.Join(' ', arguments)} ended with {tool.ExitCode} and said: {said}");
    }

    /// <summary>Waits until something holds.</summary>
    public static async Task EventuallyAsync(Func<bool> holds)
    {
        for (int i = 0; i < 4000 && !holds(); i++)
        {
            await Task.Delay(50);
        }

        if (!holds())
        {
            throw new TimeoutException("It never came.");
        }
    }

    /// <inheritdoc/>
    public async ValueTask DisposeAsync()
    {
        await KillAsync();
        Directory.Delete(Data, true);
    }

    private static Process Begin(string[] arguments) =>
        Process.Start(new ProcessStartInfo("dotnet", [Program(), .. arguments]) { RedirectStandardOutput = true, RedirectStandardError = true })!;

    // Another build can be measured: its YoungFolio.Server.dll.
    private static string Program() => Environment.GetEnvironmentVariable("FOLIO_SERVER")
        ?? new[] { Path.Combine(AppContext.BaseDirectory, "YoungFolio.Server.dll"), Path.Combine(Root(), "src", "YoungFolio.Server", "bin", "Release", "net10.0", "YoungFolio.Server.dll") }.First(File.Exists);

    /// <summary>The folder of the project, above the one that we run from.</summary>
    public static string Root()
    {
        DirectoryInfo? folder = new(AppContext.BaseDirectory);
        while (folder is not null && !File.Exists(Path.Combine(folder.FullName, "YoungFolio.slnx")))
        {
            folder = folder.Parent;
        }

        return folder?.FullName ?? Environment.CurrentDirectory;
    }

    // Below the ports that the system gives to outgoing connections: those could take it while the server is down.
    private static int FreePort()
    {
        while (true)
        {
            int port = Random.Shared.Next(20_000, 32_000);
            try
            {
                using var listener = new TcpListener(IPAddress.Loopback, port);
                listener.Start();
                return port;
            }
            catch (SocketException)
            {
                // Somebody has it.
            }
        }
    }
}
