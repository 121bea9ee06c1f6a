using System.Collections.Immutable;
using System.Text;
using Allowance.Core.Numbers;

namespace Allowance.Core.Materials;

/// <summary>A value of one kind of card: a whole number; or, where a frame knows such, a wild card or a bonus card.</summary>
public readonly record struct CardValue(int Number, bool IsWild = false, bool IsBonus = false)
{
    public const string Wild = "wild", Bonus = "bonus";

    /// <summary>What a card counts as without a number; null where it has one.</summary>
    public string? Sort => IsWild ? Wild : IsBonus ? Bonus : null;
}

/// <summary>
/// What a pack is made of: either ordinary packs with the ranks that stay in and what each counts as, or home-made
/// cards by number. Equal packs have the same <see cref="ToString"/>, which is also how a pack is written in a link.
/// </summary>
public sealed class Deck : IEquatable<Deck>
{
    /// <summary>The ranks of an ordinary pack, in order; two jokers a pack, one card a suit of every other rank.</summary>
    public static IReadOnlyList<string> RankNames { get; } = ["A", "2", "3", "4", "5", "6", "7", "8", "9", "10", "J", "Q", "K", "joker"];

    public const int MostPacks = 8, MostCards = 432, LargestNumber = 60;

    public bool HomeMade { get; private init; }

    public int Packs { get; private init; } = 1;

    public int Suits { get; private init; } = 4;

    /// <summary>The ranks that stay in, in the order of <see cref="RankNames"/>, with what each counts as.</summary>
    public ImmutableList<(string Rank, CardValue Value)> Ranks { get; private init; } = [];

    /// <summary>How many cards are missing of a rank (a short pack), or of a number among home-made cards.</summary>
    public ImmutableSortedDictionary<string, int> Missing { get; private init; } = ImmutableSortedDictionary<string, int>.Empty;

    /// <summary>Home-made cards: how many of each number.</summary>
    public ImmutableSortedDictionary<int, int> HomeCounts { get; private init; } = ImmutableSortedDictionary<int, int>.Empty;

    public int HomeWild { get; private init; }

    public int HomeBonus { get; private init; }

    /// <summary>Its numbers as people say them: "cards 1 to 9".</summary>
    public string Says => $"cards {Words.Numbers(Counts.Keys)}";

    public static Deck FromRanks(IEnumerable<(string Rank, CardValue Value)> ranks, int packs = 1, int suits = 4, IReadOnlyDictionary<string, int>? missing = null) => new()
    {
        Packs = packs,
        Suits = suits,
        Ranks = [.. ranks.OrderBy(r => RankIndex(r.Rank))],
        Missing = (missing ?? new Dictionary<string, int>()).Where(m => m.Value > 0).ToImmutableSortedDictionary(m => m.Key, m => m.Value),
    };

    public static Deck FromCounts(IEnumerable<KeyValuePair<int, int>> counts, int wild = 0, int bonus = 0) => new()
    {
        HomeMade = true,
        HomeCounts = counts.Where(c => c.Value > 0).ToImmutableSortedDictionary(c => c.Key, c => c.Value),
        HomeWild = wild,
        HomeBonus = bonus,
    };

    /// <summary>The ranks from <paramref name="low"/> to <paramref name="high"/> (1 is the ace, 11 to 13 are J, Q, K), each counting as itself.</summary>
    public static Deck Plain(int low, int high, int packs = 1, int suits = 4) =>
        FromRanks(Enumerable.Range(low, high - low + 1).Select(n => (RankNames[n - 1], new CardValue(n))), packs, suits);

    public static int RankIndex(string rank) => RankNames.ToList().IndexOf(rank);

    private int Copies(string rank) => Packs * (rank == "joker" ? 2 : Suits);

    private int InPlay(string rank) => Copies(rank) - Missing.GetValueOrDefault(rank);

    /// <summary>How many cards of each number are in play.</summary>
    public ImmutableSortedDictionary<int, int> Counts => HomeMade
        ? HomeCounts
        : Ranks.Where(r => r.Value.Sort is null).GroupBy(r => r.Value.Number)
            .ToImmutableSortedDictionary(g => g.Key, g => g.Sum(r => InPlay(r.Rank)));

    public int Wilds => HomeMade ? HomeWild : Ranks.Where(r => r.Value.IsWild).Sum(r => InPlay(r.Rank));

    /// <summary>Cards that are only laid aside when they come.</summary>
    public int Bonuses => HomeMade ? HomeBonus : Ranks.Where(r => r.Value.IsBonus).Sum(r => InPlay(r.Rank));

    public int Cards => Counts.Values.Sum() + Wilds + Bonuses;

    /// <summary>The same pack with one rank set to a value, or taken out with null.</summary>
    public Deck WithRank(string rank, CardValue? value)
    {
        var others = Ranks.Where(r => r.Rank != rank);
        var missing = value is null ? Missing.Remove(rank) : Missing;
        return FromRanks(value is { } v ? others.Append((rank, v)) : others, Packs, Suits, missing);
    }

    public Deck WithoutWilds() => HomeMade ? FromCounts(HomeCounts, 0, HomeBonus) : FromRanks(Ranks.Where(r => !r.Value.IsWild), Packs, Suits, Missing);

    public Deck WithMissing(string rank, int count) => FromRanks(Ranks, Packs, Suits, Missing.SetItem(rank, count));

    /// <summary>The ranks whose cards count as <paramref name="number"/>, in words: "queens", "aces".</summary>
    public string NameOf(int number) => HomeMade
        ? number == 1 ? "ones" : $"cards with {number}"
        : string.Join(" and ", Ranks.Where(r => r.Value.Sort is null && r.Value.Number == number).Select(r => RankWords(r.Rank)));

    /// <summary>A rank in words, in the plural.</summary>
    public static string RankWords(string rank) => rank switch
    {
        "A" => "aces", "J" => "jacks", "Q" => "queens", "K" => "kings", "joker" => "jokers", "6" => "sixes", _ => NumberWords.Of(int.Parse(rank)) + "s",
    };

    /// <summary>The pack as text for a link: <c>1x4:A,2,3,Q0,-6.1</c>, or home-made <c>h:1.4,2.4</c>.</summary>
    public override string ToString()
    {
        if (HomeMade) return "h:" + string.Join(',', HomeCounts.Select(c => $"{c.Key}.{c.Value}")) + (HomeWild > 0 ? $",w.{HomeWild}" : "") + (HomeBonus > 0 ? $",b.{HomeBonus}" : "");
        var text = new StringBuilder($"{Packs}x{Suits}:");
        text.AppendJoin(',', Ranks.Select(r => r.Rank + (r.Value.IsWild ? "*" : r.Value.IsBonus ? "!" : OwnNumber(r.Rank) == r.Value.Number ? "" : "~" + r.Value.Number)));
        foreach (var (rank, count) in Missing) text.Append($",-{rank}.{count}");
        return text.ToString();
    }

    public static int OwnNumber(string rank) => rank == "joker" ? -1 : RankIndex(rank) + 1;

    public bool Equals(Deck? other) => other is not null && other.ToString() == ToString();

    public override bool Equals(object? obj) => Equals(obj as Deck);

    public override int GetHashCode() => ToString().GetHashCode(StringComparison.Ordinal);
}
