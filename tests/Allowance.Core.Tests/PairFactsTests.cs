using Allowance.Core.Forecasts;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using CsCheck;

namespace Allowance.Core.Tests;

/// <summary>The exact figures about pairs, against hand-worked values and against every order of small packs.</summary>
public class PairFactsTests
{
    private static readonly IReadOnlyDictionary<int, int> OneToTen = Deck.Plain(1, 10).Counts;

    [Fact]
    public void Known_by_hand_for_aces_to_tens_making_ten()
    {
        Assert.Equal([(1, 9), (2, 8), (3, 7), (4, 6), (5, 5)], PairFacts.Combos(OneToTen, 10));
        Assert.False(PairFacts.Balanced(OneToTen, 10));
        Assert.Equal(4, PairFacts.Strays(OneToTen, 10)[10]);
        Assert.Single(PairFacts.Strays(OneToTen, 10));
        Assert.Equal(18, PairFacts.PairsMost(OneToTen, 10));
        Assert.True(PairFacts.Balanced(Deck.Plain(1, 9).Counts, 10));
    }

    [Fact]
    public void Two_cards_pair_as_often_as_counted_by_hand()
    {
        // Of C(36, 2) = 630 pairs of aces to nines, 4 · 16 + 6 make ten.
        Assert.Equal(70.0 / 630, PairFacts.MoveBySize(Deck.Plain(1, 9).Counts, 10, 20)[2], 12);
        Assert.Equal(0, PairFacts.MoveBySize(Deck.Plain(1, 9).Counts, 10, 20)[1], 12);
        // Twenty of 36 cards: at most 4 · 4 + 1 can lie without a pair.
        Assert.Equal(1, PairFacts.MoveBySize(Deck.Plain(1, 9).Counts, 10, 20)[20], 12);
    }

    [Fact]
    public void Twenty_places_never_get_stuck_and_four_often_do()
    {
        var twenty = PairFacts.End(Deck.Plain(1, 9).Counts, 10, 20, true, Spending.Unlimited)!;
        Assert.Equal(0, twenty.Stuck, 12);
        Assert.Equal(18, twenty.Pairs.Mean, 12);
        var four = PairFacts.End(Deck.Plain(1, 9).Counts, 10, 4, true, Spending.Unlimited)!;
        Assert.InRange(four.Stuck, .9, 1);
    }

    [Fact]
    public void A_pack_with_strays_is_always_stuck_in_the_end() =>
        Assert.Equal(1, PairFacts.End(OneToTen, 10, 20, true, Spending.Unlimited)!.Stuck, 12);

    [Fact]
    public void Agrees_with_every_order_of_small_packs() => SmallPack.Sample(pack =>
    {
        var (counts, target, places) = pack;
        int n = counts.Values.Sum();
        if (places > n) return;
        var orders = Orders(counts).ToList();
        double all = orders.Sum(o => o.Ways);
        foreach (bool refill in new[] { false, true })
        {
            var ends = orders.Select(o => (o.Ways, End: Play(o.Cards, target, places, refill))).ToList();
            var exact = PairFacts.End(counts, target, places, refill, Spending.Unlimited)!;
            Assert.Equal(ends.Sum(e => e.End.Left > 0 ? e.Ways : 0) / all, exact.Stuck, 9);
            Assert.Equal(ends.Sum(e => e.End.Left * e.Ways) / all, exact.LeftMean, 9);
            Assert.Equal(ends.Sum(e => e.End.Pairs * e.Ways) / all, exact.Pairs.Mean, 9);
        }
        Assert.Equal(orders.Sum(o => HasPair(o.Cards.Take(places), target) ? o.Ways : 0) / all, PairFacts.MoveBySize(counts, target, n)[places], 9);
        Assert.Equal(orders.Sum(o => HasSet(o.Cards.Take(places).ToList(), target) ? o.Ways : 0) / all, PairFacts.SetMoveBySize(counts, target, n, Spending.Unlimited)![places], 9);
        Assert.Equal(orders.Sum(o => Reaches(o.Cards.Take(places), target) ? o.Ways : 0) / all, PairFacts.RunReaches(counts, target, places), 9);
    }, iter: 150);

    [Fact]
    public void Equals_agree_with_every_order_of_small_packs() => SmallPack.Sample(pack =>
    {
        var (counts, _, places) = pack;
        if (places > counts.Values.Sum()) return;
        var orders = Orders(counts).ToList();
        double all = orders.Sum(o => o.Ways);
        var exact = PairFacts.EndOfEquals(counts, places, true, Spending.Unlimited)!;
        Assert.Equal(orders.Sum(o => PlayEquals(o.Cards, places) > 0 ? o.Ways : 0) / all, exact.Stuck, 9);
    }, iter: 60);

    private static readonly Gen<(IReadOnlyDictionary<int, int> Counts, int Target, int Places)> SmallPack =
        from numbers in Gen.Dictionary(Gen.Int[0, 6], Gen.Int[1, 3])[2, 4]
        from target in Gen.Int[3, 9]
        from places in Gen.Int[2, 6]
        where numbers.Values.Sum() <= 8
        select ((IReadOnlyDictionary<int, int>)numbers, target, places);

    /// <summary>Every different order of a pack; all are equally likely.</summary>
    private static IEnumerable<(List<int> Cards, double Ways)> Orders(IReadOnlyDictionary<int, int> counts)
    {
        var left = counts.ToDictionary(c => c.Key, c => c.Value);
        var cards = new List<int>();
        return Extend();

        IEnumerable<(List<int>, double)> Extend()
        {
            if (left.Values.All(c => c == 0))
            {
                yield return ([.. cards], 1);
                yield break;
            }
            foreach (int number in left.Keys.ToList())
            {
                if (left[number] == 0) continue;
                left[number]--;
                cards.Add(number);
                foreach (var order in Extend()) yield return order;
                cards.RemoveAt(cards.Count - 1);
                left[number]++;
            }
        }
    }

    private static (int Left, int Pairs) Play(List<int> order, int target, int places, bool refill)
    {
        var table = order.Take(places).ToList();
        var stock = new Queue<int>(refill ? order.Skip(places) : []);
        int pairs = 0;
        while (true)
        {
            var pair = (from i in Enumerable.Range(0, table.Count) from j in Enumerable.Range(0, i) where table[i] + table[j] == target select (i, j)).FirstOrDefault((-1, -1));
            if (pair.Item1 < 0) return (table.Count + stock.Count, pairs);
            pairs++;
            table.RemoveAt(pair.Item1);
            table.RemoveAt(pair.Item2);
            while (table.Count < places && stock.Count > 0) table.Add(stock.Dequeue());
        }
    }

    private static int PlayEquals(List<int> order, int places)
    {
        var table = order.Take(places).ToList();
        var stock = new Queue<int>(order.Skip(places));
        while (table.GroupBy(n => n).FirstOrDefault(g => g.Count() > 1) is { } alike)
        {
            table.Remove(alike.Key);
            table.Remove(alike.Key);
            while (table.Count < places && stock.Count > 0) table.Add(stock.Dequeue());
        }
        return table.Count + stock.Count;
    }

    private static bool HasPair(IEnumerable<int> cards, int target)
    {
        var list = cards.ToList();
        return list.Where((a, i) => list.Where((b, j) => j < i && a + b == target).Any()).Any();
    }

    private static bool HasSet(List<int> cards, int target) =>
        Enumerable.Range(1, (1 << cards.Count) - 1).Any(set => int.PopCount(set) > 1 && cards.Where((_, i) => (set >> i & 1) == 1).Sum() == target);

    private static bool Reaches(IEnumerable<int> cards, int target)
    {
        int sum = 0;
        foreach (int card in cards)
        {
            sum += card;
            if (sum >= target) return sum == target;
        }
        return false;
    }

    [Fact]
    public void Quantiles_are_the_smallest_that_reach()
    {
        var pmf = new Pmf([.1, .4, .4, .1]);
        Assert.Equal(0, pmf.Quantile(.1));
        Assert.Equal(1, pmf.Quantile(.5));
        Assert.Equal(2, pmf.Quantile(.9));
    }
}
