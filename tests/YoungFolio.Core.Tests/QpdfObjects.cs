using System.Text;
using System.Text.Json;

namespace YoungFolio.Core.Tests;

/// <summary>The objects of PDF files as qpdf shows them: read by another program than the one that wrote them.</summary>
internal static class QpdfObjects
{
    /// <summary>The objects of a file by name, and its trailer under <c>trailer</c>.</summary>
    public static Dictionary<string, JsonElement> Objects(byte[] pdf)
    {
        string text = Encoding.UTF8.GetString(Compiled.Output("qpdf", pdf, "--json", "--json-stream-data=inline", "--decode-level=generalized", "FILE"));
        return JsonDocument.Parse(text).RootElement.GetProperty("qpdf")[1].EnumerateObject().ToDictionary(o => o.Name, o => o.Value.Clone());
    }

    public static JsonElement Value(Dictionary<string, JsonElement> objects, JsonElement reference)
    {
        while (reference.ValueKind == JsonValueKind.String && objects.TryGetValue($"obj:{reference.GetString()}", out JsonElement found))
        {
            reference = found.TryGetProperty("value", out JsonElement value) ? value : found.GetProperty("stream");
        }

        return reference;
    }

    public static JsonElement Root(Dictionary<string, JsonElement> objects) => Value(objects, objects["trailer"].GetProperty("value").GetProperty("/Root"));

    public static IEnumerable<JsonElement> Dictionaries(Dictionary<string, JsonElement> objects) =>
        objects.Values.Select(o => o.TryGetProperty("value", out JsonElement v) ? v : o.GetProperty("stream").GetProperty("dict")).Where(d => d.ValueKind == JsonValueKind.Object);

    public static string? Name(JsonElement dictionary, string key) => dictionary.TryGetProperty(key, out JsonElement v) && v.ValueKind == JsonValueKind.String ? v.GetString() : null;

    public static byte[] StreamOf(JsonElement stream) => Convert.FromBase64String(stream.GetProperty("data").GetString()!);
}
