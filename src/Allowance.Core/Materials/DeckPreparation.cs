namespace Allowance.Core.Materials;

/// <summary>What to do with the pack before the game, in words.</summary>
/// <param name="Sentences">For example "Take out the jacks, kings and jokers (10 cards)." and "Queens count as 0, aces as 1."</param>
/// <param name="CardsLeft">Cards in play.</param>
public sealed record DeckPreparation(IReadOnlyList<string> Sentences, int CardsLeft)
{
    public static DeckPreparation Of(Deck deck)
    {
        var lines = new List<string>();
        if (deck.HomeMade)
        {
            lines.Add("Home-made cards: " + Words.List(deck.HomeCounts.Select(c => $"{c.Value} with {c.Key}")) + ".");
            return new(lines, deck.Cards);
        }
        if (deck.Packs > 1) lines.Add($"Put {deck.Packs} packs together.");
        if (deck.Suits < 4) lines.Add($"Keep {deck.Suits} of the four suits.");
        var kept = deck.Ranks.Select(r => r.Rank).ToHashSet();
        var taken = Deck.RankNames.Where(r => !kept.Contains(r)).ToList();
        int takenCards = taken.Sum(r => deck.Packs * (r == "joker" ? 2 : deck.Suits));
        if (taken.Count > 0) lines.Add($"Take out the {Words.List(taken.Select(Deck.RankWords))} ({takenCards} cards).");
        foreach (var (rank, count) in deck.Missing.Where(m => kept.Contains(m.Key)))
            lines.Add($"{Words.Count(count, "card")} of the {Deck.RankWords(rank)} {(count == 1 ? "is" : "are")} missing.");
        var odd = deck.Ranks.Where(r => r.Value.IsWild || r.Rank == "A" || r.Value.Number != Deck.OwnNumber(r.Rank)).Reverse().ToList();
        if (odd.Count > 0)
            lines.Add(Words.Sentence(string.Join(", ", odd.Select((r, i) => $"{Deck.RankWords(r.Rank)} {(i == 0 ? "count as" : "as")} {(r.Value.IsWild ? "wild" : r.Value.Number)}"))));
        return new(lines, deck.Cards);
    }
}

/// <summary>Small joinings of words for sentences on screens.</summary>
public static class Words
{
    /// <summary>"a", "a and b", "a, b and c".</summary>
    public static string List(IEnumerable<string> words)
    {
        var list = words.ToList();
        return list.Count < 2 ? string.Concat(list) : string.Join(", ", list.Take(list.Count - 1)) + " and " + list[^1];
    }

    /// <summary>Three and more one after the other are told by their ends: "1 to 6", "2, 4 and 6".</summary>
    public static string Numbers(IEnumerable<int> numbers)
    {
        var list = numbers.ToList();
        return list.Count > 2 && list[^1] - list[0] == list.Count - 1 && list.Zip(list.Skip(1)).All(p => p.Second == p.First + 1) ? $"{list[0]} to {list[^1]}" : List(list.Select(n => n.ToString()));
    }

    /// <summary>"1 card", "4 cards".</summary>
    public static string Count(int n, string thing) => n == 1 ? $"1 {thing}" : $"{n} {thing}s";

    /// <summary>A mean as people say it: "about 9 rolls", "less than 1 roll".</summary>
    public static string About(double mean, string thing) => mean < .5 ? $"less than 1 {thing}" : $"about {Count((int)Math.Round(mean, MidpointRounding.AwayFromZero), thing)}";

    /// <summary>With a capital and a full stop.</summary>
    public static string Sentence(string words) => words.Length == 0 ? "" : Capital(words) + ".";

    /// <summary>With a capital.</summary>
    public static string Capital(string words) => words.Length == 0 ? "" : char.ToUpperInvariant(words[0]) + words[1..];
}
