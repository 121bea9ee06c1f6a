using System.Collections.Immutable;
using System.Text.Json;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;

namespace Allowance.Web.Files;

/// <summary>What there is to play with, as a file: <c>{"format":"allowance-drawer/1","things":[{"use":"dice","count":5,"sides":6}]}</c>; see docs/formats.</summary>
public static class DrawerFile
{
    public const string Format = "allowance-drawer/1";

    private const int MostCount = 10_000;

    /// <returns>The drawer; or null with what is wrong.</returns>
    public static (Cupboard? Drawer, string? Problem) Read(string json)
    {
        try
        {
            using var document = JsonDocument.Parse(json, new() { MaxDepth = 8 });
            var root = document.RootElement;
            if (root.ValueKind != JsonValueKind.Object || !root.TryGetProperty("format", out var format) || format.ValueKind != JsonValueKind.String || format.GetString() != Format)
                return (null, $"A drawer file begins with {{\"format\": \"{Format}\", \"things\": […]}}.");
            if (!root.TryGetProperty("things", out var things) || things.ValueKind != JsonValueKind.Array) return (null, "A drawer file has a list of \"things\".");
            var materials = ImmutableArray.CreateBuilder<Material>();
            foreach (var thing in things.EnumerateArray())
            {
                var (material, problem) = ReadThing(thing, materials.Count + 1);
                if (material is null) return (null, $"things[{materials.Count}]: {problem}");
                materials.Add(material);
            }
            return (new(materials.ToImmutable()), null);
        }
        catch (JsonException e)
        {
            return (null, $"This is not JSON (line {(e.LineNumber ?? 0) + 1}).");
        }
    }

    private static (Material?, string?) ReadThing(JsonElement thing, int id)
    {
        if (thing.ValueKind != JsonValueKind.Object) return (null, "a thing is an object with \"use\" and \"count\".");
        if (!thing.TryGetProperty("use", out var word) || word.ValueKind != JsonValueKind.String || !Enum.TryParse(word.GetString(), true, out Use use) || !Enum.IsDefined(use))
            return (null, $"\"use\" is one of {Words.List(Enum.GetNames<Use>().Select(n => n.ToLowerInvariant()))}.");
        if (!thing.TryGetProperty("count", out var number) || number.ValueKind != JsonValueKind.Number || !number.TryGetInt32(out int count) || count is < 1 or > MostCount) return (null, $"\"count\" is a whole number from 1 to {MostCount}.");
        Die? faces = null;
        if (use == Use.Dice)
        {
            int sides = 6;
            if (thing.TryGetProperty("sides", out var side) && (side.ValueKind != JsonValueKind.Number || !side.TryGetInt32(out sides) || !MadeWith.Contains(sides))) return (null, $"\"sides\" is one of {Words.List(MadeWith.Select(s => $"{s}"))}.");
            faces = Die.Of(sides);
        }
        string name = thing.TryGetProperty("name", out var given) && given.ValueKind == JsonValueKind.String ? given.GetString()! : use.ToString().ToLowerInvariant();
        return (new(id, name, use, count, default, faces), null);
    }

    private static readonly int[] MadeWith = [4, 6, 8, 10, 12, 20];
}
