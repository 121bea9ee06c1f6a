using System.Text.Json.Nodes;

namespace Allowance.Core.Setups;

/// <summary>The few shapes of which the JSON Schema of setup files is made.</summary>
internal static class Schemas
{
    public static JsonObject Typed(string type) => new() { ["type"] = type };

    public static JsonObject Whole(int least, int most) => new() { ["type"] = "integer", ["minimum"] = least, ["maximum"] = most };

    public static JsonObject OneOf(IEnumerable<string> values) => new() { ["enum"] = new JsonArray([.. values.Select(v => (JsonNode)v)]) };

    public static JsonObject Any(params JsonNode[] shapes) => new() { ["anyOf"] = new JsonArray(shapes) };

    public static JsonObject List(JsonNode of, int least, int most) => new() { ["type"] = "array", ["items"] = of, ["minItems"] = least, ["maxItems"] = most };

    public static JsonObject Pair(int least, int most) => new() { ["type"] = "array", ["prefixItems"] = new JsonArray(Whole(least, most), Whole(least, most)), ["minItems"] = 2, ["maxItems"] = 2 };

    public static JsonObject Counts(int mostCopies) => new() { ["type"] = "object", ["patternProperties"] = new JsonObject { ["^[0-9]+$"] = Whole(0, mostCopies) }, ["additionalProperties"] = false };

    /// <summary>An object with these fields and no others.</summary>
    public static JsonObject Closed(JsonObject properties, params string[] required)
    {
        var closed = new JsonObject { ["type"] = "object", ["additionalProperties"] = false, ["properties"] = properties };
        if (required.Length > 0) closed["required"] = new JsonArray([.. required.Select(r => (JsonNode)r)]);
        return closed;
    }
}
