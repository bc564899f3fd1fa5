using System.Globalization;
using System.Text;
using YoungFolio.Cowriting;

namespace YoungFolio.Chronicle;

/// <summary>
/// Writes a history as a stream that <c>git fast-import</c> reads (its manual page gives the format): a commit for each event, with all
/// files as they were when it ended.
/// </summary>
/// <param name="output">Where it goes.</param>
public sealed class HistoryBundle(Stream output)
{
    private readonly ReplayedFiles _files = new();
    private readonly Dictionary<string, string> _committed = new(StringComparer.Ordinal);

    /// <summary>Reads a step of the log.</summary>
    /// <param name="step">The step; steps come in order.</param>
    /// <param name="text">Of a text that is new or there again: its words.</param>
    public void Read(HistoryStep step, string? text) => _files.Read(step, text);

    /// <summary>Writes the state as a commit.</summary>
    /// <param name="author">Who.</param>
    /// <param name="at">When, in UTC.</param>
    /// <param name="message">What it is.</param>
    /// <param name="content">Gives contents that aren't text, by their digests.</param>
    public async Task CommitAsync(string author, DateTime at, string message, Func<string, Task<byte[]>> content)
    {
        ArgumentNullException.ThrowIfNull(content);
        string who = string.Create(CultureInfo.InvariantCulture, $"{Named(author)} {Math.Max(0, new DateTimeOffset(at.Ticks, TimeSpan.Zero).ToUnixTimeSeconds())} +0000");
        await WriteAsync($"commit refs/heads/main\nauthor {who}\ncommitter {who}\n");
        await DataAsync(Encoding.UTF8.GetBytes(message));
        var now = new Dictionary<string, string>(StringComparer.Ordinal);
        foreach ((string path, string? text, string? digest) in _files.All)
        {
            now[path] = digest ?? text ?? "";
        }

        foreach (string gone in _committed.Keys.Where(p => !now.ContainsKey(p)).Order(StringComparer.Ordinal).ToList())
        {
            await WriteAsync($"D {Quoted(gone)}\n");
            _committed.Remove(gone);
        }

        foreach ((string path, string? text, string? digest) in _files.All.OrderBy(f => f.Path, StringComparer.Ordinal))
        {
            if (_committed.TryGetValue(path, out string? known) && known == now[path])
            {
                continue;
            }

            await WriteAsync($"M 100644 inline {Quoted(path)}\n");
            await DataAsync(digest is null ? Encoding.UTF8.GetBytes(text ?? "") : await content(digest));
            _committed[path] = now[path];
        }

        await WriteAsync("\n");
    }

    private async Task DataAsync(byte[] bytes)
    {
        await WriteAsync(string.Create(CultureInfo.InvariantCulture, $"data {bytes.Length}\n"));
        await output.WriteAsync(bytes);
        await WriteAsync("\n");
    }

    private async Task WriteAsync(string words) => await output.WriteAsync(Encoding.UTF8.GetBytes(words));

    private static string Quoted(string path) => $"\"{path.Replace("\\", "\\\\", StringComparison.Ordinal).Replace("\"", "\\\"", StringComparison.Ordinal)}\"";

    // Nobody's real address leaves the house.
    private static string Named(string author)
    {
        string name = string.Concat(author.Where(c => c is not ('<' or '>') && !char.IsControl(c))).Trim();
        string address = string.Join('.', string.Concat(name.Select(c => char.IsAsciiLetterOrDigit(c) ? char.ToLowerInvariant(c) : ' ')).Split(' ', StringSplitOptions.RemoveEmptyEntries));
        return $"{(name.Length == 0 ? "Somebody" : name)} <{(address.Length == 0 ? "somebody" : address)}@young-folio.invalid>";
    }
}
