using System.Runtime.InteropServices;
using System.Text.Json;
using System.Text.Json.Nodes;

namespace YoungFolio.Server.Proofs;

/// <summary>
/// What makes one JSON object of another. A property that changed has one of: <c>is</c>, its value; <c>in</c>, the difference of an object;
/// <c>at</c>, <c>gone</c> and <c>put</c>, the stretch of an array that other elements take the place of; <c>none</c> when it is gone.
/// <c>web/src/live/difference.ts</c> carries it out.
/// </summary>
public static class JsonDifference
{
    /// <summary>The difference between two objects; an empty one when they are the same.</summary>
    public static JsonObject Of(JsonElement before, JsonElement after)
    {
        var result = new JsonObject();
        foreach (JsonProperty property in after.EnumerateObject())
        {
            if (!before.TryGetProperty(property.Name, out JsonElement old))
            {
                result[property.Name] = Is(property.Value);
            }
            else if (!Same(old, property.Value))
            {
                result[property.Name] = (old.ValueKind, property.Value.ValueKind) switch
                {
                    (JsonValueKind.Object, JsonValueKind.Object) => new JsonObject { ["in"] = Of(old, property.Value) },
                    (JsonValueKind.Array, JsonValueKind.Array) => Stretch(old, property.Value),
                    _ => Is(property.Value),
                };
            }
        }

        foreach (JsonProperty property in before.EnumerateObject())
        {
            if (!after.TryGetProperty(property.Name, out _))
            {
                result[property.Name] = new JsonObject { ["none"] = true };
            }
        }

        return result;
    }

    // What is the same at the beginning and at the end stays.
    private static JsonObject Stretch(JsonElement before, JsonElement after)
    {
        JsonElement[] old = [.. before.EnumerateArray()];
        JsonElement[] now = [.. after.EnumerateArray()];
        int shorter = Math.Min(old.Length, now.Length);
        int at = 0;
        while (at < shorter && Same(old[at], now[at]))
        {
            at++;
        }

        int end = 0;
        while (end < shorter - at && Same(old[^(end + 1)], now[^(end + 1)]))
        {
            end++;
        }

        return new JsonObject
        {
            ["at"] = at,
            ["gone"] = old.Length - at - end,
            ["put"] = new JsonArray([.. now[at..^end].Select(Node)]),
        };
    }

    private static JsonObject Is(JsonElement value) => new() { ["is"] = Node(value) };

    private static JsonNode? Node(JsonElement value) => value.ValueKind switch
    {
        JsonValueKind.Null => null,
        JsonValueKind.Object => JsonObject.Create(value),
        JsonValueKind.Array => JsonArray.Create(value),
        _ => JsonValue.Create(value),
    };

    // Both come from the same writer: what is the same is written in the same way.
    private static bool Same(JsonElement a, JsonElement b) => JsonMarshal.GetRawUtf8Value(a).SequenceEqual(JsonMarshal.GetRawUtf8Value(b));
}
