using System.Text.Json;
using System.Text.Json.Nodes;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;

namespace Allowance.Core.Setups;

public sealed record DeckValue(Deck Deck) : KnobValue
{
    public override int? Largest => Deck.Counts.Keys.LastOrDefault();

    public override string ToLink() => Deck.ToString();

    public override JsonNode ToJson()
    {
        var json = new JsonObject();
        if (Deck.HomeMade)
        {
            json["counts"] = new JsonObject(Deck.HomeCounts.Select(c => KeyValuePair.Create(c.Key.ToString(), (JsonNode?)c.Value)));
            if (Deck.HomeWild > 0) json[CardValue.Wild] = Deck.HomeWild;
            if (Deck.HomeBonus > 0) json[CardValue.Bonus] = Deck.HomeBonus;
            return json;
        }
        json["packs"] = Deck.Packs;
        json["suits"] = Deck.Suits;
        json["ranks"] = new JsonObject(Deck.Ranks.Select(r => KeyValuePair.Create(r.Rank, (JsonNode?)(r.Value.Sort is { } sort ? JsonValue.Create(sort) : JsonValue.Create(r.Value.Number)))));
        if (Deck.Missing.Count > 0) json["missing"] = new JsonObject(Deck.Missing.Select(m => KeyValuePair.Create(m.Key, (JsonNode?)m.Value)));
        return json;
    }

    public override string Says() => Words.Count(Deck.Cards, "card");
}

/// <summary>A pack of cards.</summary>
/// <param name="Wild">Wild cards may be in it.</param>
/// <param name="Bonus">Bonus cards may be in it.</param>
public sealed record DeckKind(bool Wild = false, bool Bonus = false) : KnobKind
{
    public override string Says => "a pack by ranks, or home-made cards by number";

    public override JsonObject Schema => Schemas.Any(
        Schemas.Closed(new()
        {
            ["packs"] = Schemas.Whole(1, Deck.MostPacks), ["suits"] = Schemas.Whole(1, 4),
            ["ranks"] = Schemas.Closed(new(Deck.RankNames.Select(r => KeyValuePair.Create(r, (JsonNode?)Schemas.Any(Schemas.Whole(0, Deck.LargestNumber), Schemas.OneOf([CardValue.Wild, CardValue.Bonus])))))),
            ["missing"] = Schemas.Closed(new(Deck.RankNames.Select(r => KeyValuePair.Create(r, (JsonNode?)Schemas.Whole(0, 8 * Deck.MostPacks))))),
        }, "ranks"),
        Schemas.Closed(new() { ["counts"] = Schemas.Counts(Deck.MostCards), ["wild"] = Schemas.Whole(0, Deck.MostCards), ["bonus"] = Schemas.Whole(0, Deck.MostCards) }, "counts"));

    public override Field Field => new PackField();

    public override KnobValue Sample(ref Rng rng)
    {
        if (rng.Below(2) == 0)
        {
            int low = 1 + rng.Below(5);
            return new DeckValue(Deck.Plain(low, Math.Max(low, 5 + rng.Below(9)), 1 + rng.Below(2)));
        }
        var counts = new Dictionary<int, int>();
        for (int n = 2 + rng.Below(8); n > 0; n--) counts[rng.Below(15)] = 1 + rng.Below(6);
        return new DeckValue(Deck.FromCounts(counts));
    }

    /// <summary>The panel has a field for what each rank counts as, and for how many of it are missing; or a line for home-made cards.</summary>
    public override string? FromFields(Func<string, string?> part)
    {
        if (part("home") is { } home && home.Trim().Length > 0)
            return "h:" + string.Join(',', home.Split([',', ' ', ';', '\n'], StringSplitOptions.RemoveEmptyEntries).Select(p => p.Replace('×', '.').Replace('x', '.').Replace('*', '.')));
        if (!Deck.RankNames.Any(r => part("rank." + r) is not null)) return null;
        var kept = new List<string>();
        foreach (string rank in Deck.RankNames)
        {
            if (part("rank." + rank) is not { Length: > 0 } number) continue;
            kept.Add(number switch { CardValue.Wild => $"{rank}*", CardValue.Bonus => $"{rank}!", _ => $"{rank}~{number}" });
            if (part("missing." + rank) is { } gap and not ("" or "0")) kept.Add($"-{rank}.{gap}");
        }
        return $"{part("packs") ?? "1"}x{part("suits") ?? "4"}:{string.Join(',', kept)}";
    }

    public override KnobValue? FromJson(JsonElement json, string path, List<Problem> problems) => DeckReading.FromJson(json, path, this, problems);

    public override KnobValue? FromLink(string text, string path, List<Problem> problems) => DeckReading.FromLink(text, path, this, problems);
}
