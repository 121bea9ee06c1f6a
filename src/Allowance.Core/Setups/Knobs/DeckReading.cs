using System.Text.Json;
using System.Text.Json.Nodes;
using Allowance.Core.Materials;

namespace Allowance.Core.Setups;

/// <summary>Reads packs from files and links, and says what is wrong with one.</summary>
internal static class DeckReading
{
    private static readonly string[] Keys = ["packs", "suits", "ranks", "missing", "counts", "wild", "bonus"];

    public static KnobValue? FromJson(JsonElement json, string path, DeckKind kind, List<Problem> problems)
    {
        int before = problems.Count;
        if (json.ValueKind != JsonValueKind.Object)
        {
            problems.Add(new(path, "A pack is an object with \"ranks\" or \"counts\".", new DeckValue(Deck.Plain(1, 9)).ToJson()));
            return null;
        }
        var parts = Fields.Read(json, path, Keys, problems);
        if (parts.ContainsKey("counts") && parts.ContainsKey("ranks"))
            problems.Add(new(path, "A pack has either \"ranks\" or \"counts\", not both.", null));
        int packs = Whole(parts, "packs", 1, 1, Deck.MostPacks), suits = Whole(parts, "suits", 4, 1, 4);
        int wild = Whole(parts, "wild", 0, 0, Deck.MostCards), bonus = Whole(parts, "bonus", 0, 0, Deck.MostCards);
        if (bonus > 0 && !kind.Bonus) problems.Add(new($"{path}.bonus", NoBonus, 0));
        Deck deck;
        if (parts.TryGetValue("counts", out var counts))
        {
            var numbers = new Dictionary<int, int>();
            foreach (var (key, value) in Fields.Read(counts, $"{path}.counts", null, problems))
            {
                string at = $"{path}.counts.{key}";
                if (!int.TryParse(key, out int n) || n < 0 || n > Deck.LargestNumber) problems.Add(new(at, $"A card carries a whole number from 0 to {Deck.LargestNumber}.", null));
                else if (Integer(value, at, 0, Deck.MostCards, problems) is { } c && !numbers.TryAdd(n, c)) problems.Add(new(at, $"{n} is given twice.", null));
            }
            deck = Deck.FromCounts(numbers, wild, bonus);
        }
        else if (parts.TryGetValue("ranks", out var ranks))
        {
            var kept = new List<(string, CardValue)>();
            foreach (var (rank, value) in Fields.Read(ranks, $"{path}.ranks", Deck.RankNames, problems))
            {
                if (value.ValueKind == JsonValueKind.String && value.GetString() is CardValue.Wild or CardValue.Bonus)
                {
                    bool isBonus = value.GetString() == CardValue.Bonus;
                    if (isBonus && !kind.Bonus) problems.Add(new($"{path}.ranks.{rank}", NoBonus, null));
                    kept.Add((rank, new(0, !isBonus, isBonus)));
                }
                else if (Integer(value, $"{path}.ranks.{rank}", 0, Deck.LargestNumber, problems) is { } n) kept.Add((rank, new(n)));
            }
            var missing = new Dictionary<string, int>();
            if (parts.TryGetValue("missing", out var gaps))
                foreach (var (rank, value) in Fields.Read(gaps, $"{path}.missing", Deck.RankNames, problems))
                    if (Integer(value, $"{path}.missing.{rank}", 0, packs * (rank == "joker" ? 2 : suits), problems) is { } n) missing[rank] = n;
            deck = Deck.FromRanks(kept, packs, suits, missing);
        }
        else
        {
            problems.Add(new(path, "A pack needs \"ranks\" or \"counts\".", new DeckValue(Deck.Plain(1, 9)).ToJson()));
            return null;
        }
        return problems.Count == before ? Check(deck, path, kind, problems) : null;

        int Whole(Dictionary<string, JsonElement> from, string key, int fallback, int least, int most) =>
            from.TryGetValue(key, out var value) ? Integer(value, $"{path}.{key}", least, most, problems) ?? fallback : fallback;
    }

    private static int? Integer(JsonElement value, string path, int least, int most, List<Problem> problems) =>
        (new WholeKind(least, most).FromJson(value, path, problems) as WholeValue)?.Number;

    private const string NoBonus = "Bonus cards are not part of this game.";

    public static KnobValue? FromLink(string text, string path, DeckKind kind, List<Problem> problems)
    {
        var deck = text.StartsWith("h:", StringComparison.Ordinal) ? HomeMade(text[2..]) : Ranked(text);
        if (deck is not null) return Check(deck, path, kind, problems);
        problems.Add(new(path, $"The pack \"{Closest.Shorten(text)}\" cannot be read; one pack with aces to nines is written 1x4:A,2,3,4,5,6,7,8,9.", Deck.Plain(1, 9).ToString()));
        return null;
    }

    private static Deck? HomeMade(string text)
    {
        var counts = new Dictionary<int, int>();
        int wild = 0, bonus = 0;
        foreach (string part in text.Split(',', StringSplitOptions.RemoveEmptyEntries))
        {
            var pair = part.Split('.');
            if (pair.Length != 2 || !int.TryParse(pair[1], out int count) || count is < 0 or > Deck.MostCards) return null;
            if (pair[0] == "w") wild = count;
            else if (pair[0] == "b") bonus = count;
            else if (int.TryParse(pair[0], out int n) && n is >= 0 and <= Deck.LargestNumber) counts[n] = count;
            else return null;
        }
        return Deck.FromCounts(counts, wild, bonus);
    }

    private static Deck? Ranked(string text)
    {
        int colon = text.IndexOf(':');
        var head = colon < 0 ? [] : text[..colon].Split('x');
        if (head.Length != 2 || !int.TryParse(head[0], out int packs) || !int.TryParse(head[1], out int suits)
            || packs is < 1 or > Deck.MostPacks || suits is < 1 or > 4) return null;
        var ranks = new Dictionary<string, CardValue>();
        var missing = new Dictionary<string, int>();
        foreach (string part in text[(colon + 1)..].Split(',', StringSplitOptions.RemoveEmptyEntries))
        {
            if (part[0] == '-')
            {
                var gap = part[1..].Split('.');
                if (gap.Length != 2 || Deck.RankIndex(gap[0]) < 0 || !int.TryParse(gap[1], out int count) || count < 0 || count > packs * suits) return null;
                missing[gap[0]] = count;
                continue;
            }
            bool wild = part[^1] == '*', bonus = part[^1] == '!';
            var pair = part.TrimEnd('*', '!').Split('~');
            string rank = pair[0];
            int number = 0;
            if (Deck.RankIndex(rank) < 0 || pair.Length > 2) return null;
            if (pair.Length == 2 && (!int.TryParse(pair[1], out number) || number is < 0 or > Deck.LargestNumber)) return null;
            if (pair.Length == 1 && !wild && !bonus && (number = Deck.OwnNumber(rank)) < 0) return null;
            ranks[rank] = new(number, wild, bonus);
        }
        return Deck.FromRanks(ranks.Select(r => (r.Key, r.Value)), packs, suits, missing);
    }

    private static DeckValue? Check(Deck deck, string path, DeckKind kind, List<Problem> problems)
    {
        if (deck.Bonuses > 0 && !kind.Bonus)
        {
            problems.Add(new(path, NoBonus, new DeckValue(Deck.Plain(1, 9)).ToJson()));
            return null;
        }
        if (deck.Cards > 0 && deck.Cards <= Deck.MostCards) return new DeckValue(deck);
        problems.Add(deck.Cards == 0
            ? new(path, "No card is left in this pack; keep aces to nines, for example.", new DeckValue(Deck.Plain(1, 9)).ToJson())
            : new(path, $"{deck.Cards} cards are more than {Deck.MostCards}, which is eight packs.", new DeckValue(Deck.Plain(1, 9)).ToJson()));
        return null;
    }
}
