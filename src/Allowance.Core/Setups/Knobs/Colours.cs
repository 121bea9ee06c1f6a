using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Nodes;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;

namespace Allowance.Core.Setups;

/// <summary>How many things there are of each colour, in the order in which they were named.</summary>
public sealed record ColoursValue : KnobValue
{
    public ColoursValue(IEnumerable<(string Colour, int Count)> colours) => Colours = [.. colours.Where(c => c.Count > 0)];

    public ImmutableList<(string Colour, int Count)> Colours { get; }

    public int All => Colours.Sum(c => c.Count);

    public override string ToLink() => string.Join(',', Colours.Select(c => $"{c.Colour}.{c.Count}"));

    public override JsonNode ToJson() => new JsonObject(Colours.Select(c => KeyValuePair.Create(c.Colour, (JsonNode?)c.Count)));

    public override string Says() => Words.List(Colours.Select(c => $"{c.Count} {c.Colour}"));

    public bool Equals(ColoursValue? other) => other is not null && ToLink() == other.ToLink();

    public override int GetHashCode() => ToLink().GetHashCode(StringComparison.Ordinal);
}

/// <summary>How many things there are of each colour; colours are words.</summary>
public sealed record ColoursKind(int MostColours, int MostOfEach) : KnobKind
{
    private static JsonObject Example => new() { ["red"] = 6, ["blue"] = 6 };

    public override string Says => $"how many of each colour, as {{\"red\": 6, \"blue\": 6}}; at most {MostColours} colours with {MostOfEach} each";

    public override JsonObject Schema => new() { ["type"] = "object", ["additionalProperties"] = Schemas.Whole(0, MostOfEach), ["maxProperties"] = MostColours };

    public override Field Field => new TextField("red 6, blue 6");

    public override KnobValue Sample(ref Rng rng)
    {
        var colours = new List<(string, int)>();
        foreach (string colour in ColourWords.Usual.Take(1 + rng.Below(ColourWords.Usual.Count))) colours.Add((colour, 1 + rng.Below(Math.Min(6, MostOfEach))));
        return new ColoursValue(colours);
    }

    public override KnobValue? FromJson(JsonElement json, string path, List<Problem> problems)
    {
        if (json.ValueKind != JsonValueKind.Object) return Refuse(problems, path, "Here stands how many there are of each colour, for example {\"red\": 6, \"blue\": 6}.", Example);
        int before = problems.Count;
        var colours = new List<(string, int)>();
        foreach (var (name, value) in Fields.Read(json, path, null, problems))
        {
            string at = $"{path}.{Closest.Shorten(name)}";
            if (!ColourWords.IsOne(name)) Refuse(problems, at, ColourWords.Says, null);
            else if (new WholeKind(0, MostOfEach).FromJson(value, at, problems) is WholeValue count) colours.Add((name, count.Number));
        }
        return problems.Count == before ? Check(colours, path, problems) : null;
    }

    public override KnobValue? FromLink(string text, string path, List<Problem> problems)
    {
        var colours = new List<(string, int)>();
        foreach (string part in text.Split([',', ';'], StringSplitOptions.RemoveEmptyEntries))
        {
            var pair = part.Split([' ', '.', ':', '×'], StringSplitOptions.RemoveEmptyEntries);
            if (pair.Length != 2 || !ColourWords.IsOne(pair[0]) || !int.TryParse(pair[1], out int count) || count < 0 || count > MostOfEach)
                return Refuse(problems, path, $"\"{Closest.Shorten(part)}\" is no colour with how many of it, up to {MostOfEach}; it is written red 6, blue 6.", "red.6,blue.6");
            colours.Add((pair[0], count));
        }
        return Check(colours, path, problems);
    }

    private KnobValue? Check(List<(string Colour, int Count)> colours, string path, List<Problem> problems)
    {
        if (colours.Sum(c => c.Count) == 0) return Refuse(problems, path, "There is nothing in the heap.", Example);
        if (colours.Count > MostColours) return Refuse(problems, path, $"{colours.Count} colours are too many; {MostColours} at most.", Example);
        return colours.DistinctBy(c => c.Colour).Count() == colours.Count ? new ColoursValue(colours) : Refuse(problems, path, "A colour is given twice.", Example);
    }

    /// <summary>One fewer, or one more, of every colour.</summary>
    public override IEnumerable<KnobValue> Neighbours(KnobValue value)
    {
        var colours = ((ColoursValue)value).Colours;
        if (colours.All(c => c.Count > 1)) yield return new ColoursValue(colours.Select(c => (c.Colour, c.Count - 1)));
        if (colours.All(c => c.Count < MostOfEach)) yield return new ColoursValue(colours.Select(c => (c.Colour, c.Count + 1)));
    }
}

/// <summary>What a colour is called.</summary>
internal static class ColourWords
{
    /// <summary>Some to begin with.</summary>
    public static IReadOnlyList<string> Usual { get; } = ["red", "blue", "green"];

    public const string Says = "A colour is a word of up to twelve letters.";

    public static bool IsOne(string word) => word.Length is >= 1 and <= 12 && word.All(char.IsLetter);
}
