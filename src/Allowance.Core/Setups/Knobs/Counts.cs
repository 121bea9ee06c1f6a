using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Nodes;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;

namespace Allowance.Core.Setups;

/// <summary>How many there are of each number, by number.</summary>
public sealed record CountsValue : KnobValue
{
    public override int? Largest => Counts.IsEmpty ? null : Counts.Keys.Last();

    public CountsValue(IEnumerable<KeyValuePair<int, int>> counts) => Counts = counts.Where(c => c.Value > 0).ToImmutableSortedDictionary();

    public ImmutableSortedDictionary<int, int> Counts { get; }

    /// <summary>Every one, rising.</summary>
    public IReadOnlyList<int> All => [.. Counts.SelectMany(c => Enumerable.Repeat(c.Key, c.Value))];

    public override string ToLink() => string.Join(',', Counts.Select(c => $"{c.Key}x{c.Value}"));

    public override JsonNode ToJson() => new JsonObject(Counts.Select(c => KeyValuePair.Create(c.Key.ToString(), (JsonNode?)c.Value)));

    public override string Says() => Counts.Count > 1 && Counts.Values.Distinct().Count() == 1
        ? $"{Counts.Values.First()} each of {Words.Numbers(Counts.Keys)}" : string.Join(", ", Counts.Select(c => $"{c.Key}×{c.Value}"));

    public bool Equals(CountsValue? other) => other is not null && ToLink() == other.ToLink();

    public override int GetHashCode() => ToLink().GetHashCode(StringComparison.Ordinal);
}

/// <summary>How many there are of each number: slips, bars, pieces of a worth.</summary>
public sealed record CountsKind(int Most, int MostCopies, int MostInAll) : KnobKind
{
    private static JsonObject Example => new() { ["1"] = 2, ["2"] = 2, ["3"] = 2 };

    public override string Says => $"how many of each number, as {{\"1\": 2, \"2\": 2}}; numbers 0–{Most}, at most {MostInAll} in all";

    public override JsonObject Schema => Schemas.Counts(MostCopies);

    public override Field Field => new TextField("1x2,2x2");

    public override KnobValue Sample(ref Rng rng)
    {
        var counts = new Dictionary<int, int>();
        for (int n = 1 + rng.Below(8); n > 0; n--) counts[rng.Below(Math.Min(13, Most + 1))] = 1 + rng.Below(Math.Min(4, MostCopies));
        return new CountsValue(counts);
    }

    public override KnobValue? FromJson(JsonElement json, string path, List<Problem> problems)
    {
        if (json.ValueKind != JsonValueKind.Object) return Refuse(problems, path, "Here stands how many there are of each number, for example {\"1\": 2, \"2\": 2}.", Example);
        int before = problems.Count;
        var counts = new Dictionary<int, int>();
        foreach (var (key, value) in Fields.Read(json, path, null, problems))
        {
            string at = $"{path}.{Closest.Shorten(key)}";
            if (!int.TryParse(key, System.Globalization.NumberStyles.None, null, out int n) || n > Most) Refuse(problems, at, $"Here stands a number from 0 to {Most}.", null);
            else if (new WholeKind(0, MostCopies).FromJson(value, at, problems) is WholeValue copies && !counts.TryAdd(n, copies.Number)) Refuse(problems, at, $"{n} is given twice.", null);
        }
        return problems.Count == before ? Check(counts, path, problems) : null;
    }

    public override KnobValue? FromLink(string text, string path, List<Problem> problems)
    {
        var counts = new Dictionary<int, int>();
        foreach (string part in text.Split([',', ' ', ';'], StringSplitOptions.RemoveEmptyEntries))
        {
            var pair = part.Split(['x', '×', '.', ':']);
            if (pair.Length > 2 || !int.TryParse(pair[0], out int n) || n < 0 || n > Most) return Unread(part);
            int copies = 1;
            if (pair.Length == 2 && (!int.TryParse(pair[1], out copies) || copies < 0 || copies > MostCopies)) return Unread(part);
            counts[n] = copies;
        }
        return Check(counts, path, problems);

        KnobValue? Unread(string part) => Refuse(problems, path, $"\"{Closest.Shorten(part)}\" is no number up to {Most} with how many of it, up to {MostCopies}; it is written 1×2, 2×2.", "1x2,2x2");
    }

    private KnobValue? Check(Dictionary<int, int> counts, string path, List<Problem> problems)
    {
        int all = counts.Values.Sum();
        if (all == 0) return Refuse(problems, path, "There is nothing in it.", Example);
        return all <= MostInAll ? new CountsValue(counts) : Refuse(problems, path, $"{all} are too many; {MostInAll} at most.", Example);
    }

    /// <summary>So many things a family has: more are never proposed.</summary>
    private const int AtHome = 60;

    /// <summary>Without the largest number, or with the next one, as many of it, within what a family has.</summary>
    public override IEnumerable<KnobValue> Neighbours(KnobValue value)
    {
        var counts = ((CountsValue)value).Counts;
        var (largest, copies) = counts.Last();
        if (counts.Count > 1) yield return new CountsValue(counts.Remove(largest));
        if (largest < Most && counts.Values.Sum() + copies <= Math.Min(MostInAll, AtHome)) yield return new CountsValue(counts.Add(largest + 1, copies));
    }
}
