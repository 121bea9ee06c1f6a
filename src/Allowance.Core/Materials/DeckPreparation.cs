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
            lines.Add("Home-made cards: " + Words.List([.. deck.HomeCounts.Select(c => $"{c.Value} with {c.Key}"), .. deck.HomeWild > 0 ? [$"{deck.HomeWild} wild"] : Array.Empty<string>(), .. deck.HomeBonus > 0 ? [$"{deck.HomeBonus} for the bonus"] : Array.Empty<string>()]) + ".");
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
        var odd = deck.Ranks.Where(r => r.Value.Sort is null && (r.Rank == "A" || r.Value.Number != Deck.OwnNumber(r.Rank))).Reverse().ToList();
        if (odd.Count > 0)
            lines.Add(Words.Sentence(string.Join(", ", odd.Select((r, i) => $"{Deck.RankWords(r.Rank)} {(i == 0 ? "count as" : "as")} {r.Value.Number}"))));
        foreach (var sort in deck.Ranks.Where(r => r.Value.Sort is not null).GroupBy(r => r.Value.Sort))
            lines.Add(Words.Sentence($"{Words.List(sort.Select(r => Deck.RankWords(r.Rank)))} are {sort.Key} cards"));
        return new(lines, deck.Cards);
    }
}
