using System.Text.Json;
using System.Text.Json.Nodes;

namespace Allowance.Core.Setups;

/// <summary>Reads the fields of a JSON object: unknown and doubled keys are refused with their path.</summary>
internal static class Fields
{
    public static Dictionary<string, JsonElement> Read(JsonElement json, string path, IReadOnlyList<string>? known, List<Problem> problems)
    {
        var fields = new Dictionary<string, JsonElement>();
        if (json.ValueKind != JsonValueKind.Object)
        {
            problems.Add(new(path, "Here stands an object in braces.", new JsonObject()));
            return fields;
        }
        foreach (var field in json.EnumerateObject())
        {
            string at = path.Length == 0 ? field.Name : $"{path}.{field.Name}";
            if (at.Length > 200) at = at[..200] + "…";
            if (known is not null && !known.Contains(field.Name))
                problems.Add(new(at, known.Count == 0 ? "Nothing can be set here." : $"\"{Closest.Shorten(field.Name)}\" is not known here; known are {string.Join(", ", known)}.", Closest.To(field.Name, known)));
            else if (!fields.TryAdd(field.Name, field.Value)) problems.Add(new(at, $"\"{Closest.Shorten(field.Name)}\" is given twice.", null));
        }
        return fields;
    }

    /// <summary>A list of whole numbers; null where the field is not there or cannot be read.</summary>
    /// <param name="path">Of the list.</param>
    public static IReadOnlyList<int>? Numbers(Dictionary<string, JsonElement> fields, string key, string path, int least, int most, List<Problem> problems)
    {
        if (!fields.TryGetValue(key, out var list)) return null;
        if (list.ValueKind == JsonValueKind.Array)
        {
            var read = list.EnumerateArray().Select(n => n.ValueKind == JsonValueKind.Number && n.TryGetInt32(out int number) && number >= least && number <= most ? number : (int?)null).ToList();
            if (!read.Contains(null)) return [.. read.Select(n => n!.Value)];
        }
        problems.Add(new(path, $"Here stands a list of whole numbers from {least} to {most}.", List([least])));
        return null;
    }

    public static JsonArray List(IEnumerable<int> numbers) => new([.. numbers.Select(n => (JsonNode)n)]);
}
