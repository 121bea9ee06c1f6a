using System.Runtime.InteropServices;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;

namespace Allowance.Core.Forecasts;

/// <summary>What the cards of a hand make, in the order in which they were drawn.</summary>
internal delegate long HandValue(ReadOnlySpan<byte> cards);

/// <summary>Of two hands: the chance that they make the same, the mean difference, and the chance that they are close.</summary>
internal readonly record struct HandComparison(double Tie, double Gap, double Close);

/// <summary>Exact answers about equal hands that are drawn from one pack and compared.</summary>
/// <param name="pack">Numbers and how many cards of each.</param>
/// <param name="cards">In each hand.</param>
/// <param name="inOrder">The order of the cards changes what they make.</param>
/// <param name="joined">What two cards make, where it grows with each of them; null where it does not.</param>
/// <param name="fewer">The smallest is the best, not the largest.</param>
internal sealed class HandFacts(IReadOnlyList<KeyValuePair<int, int>> pack, int cards, HandValue make, bool inOrder, Func<int, int, long>? joined, bool fewer, Spending spending)
{
    /// <summary>So many combinations of hands are gone through; beyond that rounds are sampled.</summary>
    private const double MostCombinations = 4e6;

    /// <summary>With more hands than this, three players have more combinations than that.</summary>
    private const int MostHands = 400;

    private readonly byte[] numbers = [.. pack.Select(c => (byte)c.Key)];
    private readonly int[] counts = [.. pack.Select(c => c.Value)];
    private readonly int all = pack.Sum(c => c.Value);

    /// <summary>The smaller is at least three quarters of the larger.</summary>
    public static bool IsClose(long larger, long smaller) => larger > smaller && 4 * smaller >= 3 * larger;

    /// <summary>The ways to draw so many cards one after another.</summary>
    private static double Ways(int from, int drawn)
    {
        double ways = 1;
        for (int i = 0; i < drawn; i++) ways *= from - i;
        return ways;
    }

    /// <summary>
    /// Two hands. That no card lies in both is written out as Σ (−1)^k over all ways to match k cards of one with k of the
    /// other, those being the same card; then, for each choice of the k shared cards, the rest of the hands are independent:
    /// what one can make, with its ways, is worked out once and compared with itself.
    /// </summary>
    public HandComparison Compare()
    {
        double tie = 0, gap = 0, close = 0, total = Ways(all, 2 * cards);
        var shared = new int[cards];
        var placings = new int[cards + 1][][];
        for (int k = 0; k <= cards; k++) Share(0, k, 0, 1);
        return new(tie / total, gap / total, close / total);

        // Which cards are shared: in order where the order matters, else rising, each combination with its orders.
        void Share(int at, int k, int from, double ways)
        {
            spending.Check();
            if (at == k)
            {
                if (inOrder) AllPlacings(k, ways);
                else
                {
                    double matchings = Counting.Choose(cards, k) * Counting.Choose(cards, k) * Ways(k, k);
                    var made = Rest(shared.AsSpan(0, k), null);
                    Add(made, made, ways * (k % 2 == 0 ? matchings : -matchings));
                }
                return;
            }
            for (int n = from; n < numbers.Length; n++)
            {
                int before = shared.AsSpan(0, at).Count(n);
                if (counts[n] == before) continue;
                shared[at] = n;
                Share(at + 1, k, inOrder ? 0 : n, inOrder ? ways * (counts[n] - before) : ways * (counts[n] - before) * (at + 1) / (before + 1));
            }
        }

        // Every choice of places for the shared cards in the first hand and in the second.
        void AllPlacings(int k, double ways)
        {
            var places = placings[k] ??= [.. Places(k)];
            if (k == cards)
            {
                AllShared(places, k % 2 == 0 ? ways : -ways);
                return;
            }
            var byPlaces = Array.ConvertAll(places, p => Rest(shared.AsSpan(0, k), p));
            // The shared cards are taken in every order, so the places of the first hand may be kept rising.
            for (int p = 0; p < places.Length; p++)
                if (places[p].Zip(places[p].Skip(1)).All(q => q.First < q.Second))
                    foreach (var second in byPlaces) Add(byPlaces[p], second, k % 2 == 0 ? ways : -ways);
        }

        // The same cards in both hands, in the second in every order.
        void AllShared(int[][] places, double ways)
        {
            Span<byte> hand = stackalloc byte[cards];
            for (int i = 0; i < cards; i++) hand[i] = numbers[shared[i]];
            long first = make(hand);
            foreach (int[] orders in places)
            {
                for (int i = 0; i < cards; i++) hand[orders[i]] = numbers[shared[i]];
                AddOne(first, make(hand), ways);
            }
        }

        void AddOne(long one, long other, double ways)
        {
            if (one == other) tie += ways;
            gap += ways * Math.Abs(one - other);
            if (IsClose(Math.Max(one, other), Math.Min(one, other))) close += ways;
        }

        void Add(Made first, Made second, double ways)
        {
            if (first.Values.Length == 1 && second.Values.Length == 1)
            {
                AddOne(first.Values[0], second.Values[0], ways * first.Ways[0] * second.Ways[0]);
                return;
            }
            AddLarger(first, second, ways);
            AddLarger(second, first, ways);
            int low = 0;
            for (int i = 0; i < first.Values.Length; i++)
            {
                while (low < second.Values.Length && second.Values[low] < first.Values[i]) low++;
                if (low < second.Values.Length && second.Values[low] == first.Values[i]) tie += ways * first.Ways[i] * second.Ways[low];
            }
        }

        // Where the first makes more: gaps and close ones. Both rise by value, so that one pass does.
        void AddLarger(Made first, Made second, double ways)
        {
            double below = 0, sumBelow = 0, closeBelow = 0;
            int low = 0, near = 0;
            for (int i = 0; i < first.Values.Length; i++)
            {
                long value = first.Values[i];
                for (; low < second.Values.Length && second.Values[low] < value; low++)
                {
                    below += second.Ways[low];
                    sumBelow += second.Ways[low] * second.Values[low];
                    closeBelow += second.Ways[low];
                }
                for (; near < low && 4 * second.Values[near] < 3 * value; near++) closeBelow -= second.Ways[near];
                gap += ways * first.Ways[i] * (value * below - sumBelow);
                close += ways * first.Ways[i] * closeBelow;
            }
        }
    }

    private IEnumerable<int[]> Places(int k) => k == 0
        ? [[]]
        : Places(k - 1).SelectMany(p => Enumerable.Range(0, cards).Where(place => !p.Contains(place)).Select(place => (int[])[.. p, place]));

    /// <summary>What a hand can make, rising, and in how many ways.</summary>
    private sealed record Made(long[] Values, double[] Ways);

    /// <summary>What hands with these cards make, the rest drawn from what is left of the pack.</summary>
    /// <param name="places">Where the shared cards lie, for digits; else null.</param>
    private Made Rest(ReadOnlySpan<int> shared, int[]? places)
    {
        var left = (int[])counts.Clone();
        var hand = new byte[cards];
        var open = new List<int>();
        for (int i = 0; i < shared.Length; i++)
        {
            left[shared[i]]--;
            hand[places is null ? i : places[i]] = numbers[shared[i]];
        }
        for (int place = 0; place < cards; place++)
            if (places is null ? place >= shared.Length : !places.Contains(place)) open.Add(place);
        // Digits are filled from the largest place on, so that what they make rises by itself, and never comes twice.
        var digits = new List<KeyValuePair<long, double>>();
        var ways = new Dictionary<long, double>();
        int filled = 0, held = 0;
        Fill(0, 0, 1);
        spending.Hold(-held);
        var rising = places is not null ? digits : [.. ways.OrderBy(w => w.Key)];
        return new([.. rising.Select(w => w.Key)], [.. rising.Select(w => w.Value)]);

        // The list, the dictionary and what is made of them come to some sixty bytes a value.
        void Spend()
        {
            spending.Check();
            int now = 64 * (digits.Count + ways.Count);
            spending.Hold(now - held);
            held = now;
        }

        void Fill(int at, int from, double sofar)
        {
            if (at == open.Count)
            {
                long value = make(hand);
                if ((++filled & 1023) == 0) Spend();
                if (places is not null) digits.Add(new(value, sofar));
                else CollectionsMarshal.GetValueRefOrAddDefault(ways, value, out _) += sofar;
                return;
            }
            for (int n = places is null ? from : 0; n < numbers.Length; n++)
            {
                if (left[n] == 0) continue;
                hand[open[at]] = numbers[n];
                int same = 0;
                if (places is null)
                    for (int i = at - 1; i >= 0 && hand[open[i]] == numbers[n]; i--) same++;
                left[n]--;
                Fill(at + 1, n, sofar * (left[n] + 1) * (places is null ? (at + 1.0) / (same + 1) : 1));
                left[n]++;
            }
        }
    }

    /// <summary>The chance that the best of several hands is shared; null where it would take too long to count.</summary>
    public double? TieChance(int players)
    {
        bool each = cards == 1 || joined is not null && cards == 2;
        var hands = Hands(each ? int.MaxValue : MostHands);
        if (each) return 1 - players * hands.Sum(h => h.Chance * AllWorse(h, players - 1));
        if (hands.Count > MostHands) return null;
        double combinations = hands.Count * Counting.Choose(hands.Count + players - 2, players - 1) / players;
        if (combinations > MostCombinations) return null;
        // Rising from the worst to the best: all others come from before the hand.
        var rising = hands.OrderBy(h => fewer ? -h.Value : h.Value).ToList();
        double alone = 0;
        var left = (int[])counts.Clone();
        for (int best = 0; best < rising.Count; best++)
        {
            spending.Check();
            int worse = best;
            while (worse > 0 && rising[worse - 1].Value == rising[best].Value) worse--;
            alone += Take(rising[best], left) * Others(worse - 1, players - 1, 0);
            PutBack(rising[best], left);
        }
        return 1 - players * Ways(players - 1, players - 1) * alone / Ways(all, players * cards);

        // The ways for so many hands from the rising list up to here, each combination once.
        double Others(int upTo, int hands, int same)
        {
            if (hands == 0) return 1;
            double sum = 0;
            for (int h = upTo; h >= 0; h--)
            {
                double ways = Take(rising[h], left);
                if (ways > 0) sum += ways / (h == upTo ? same + 1 : 1) * Others(h, hands - 1, h == upTo ? same + 1 : 1);
                PutBack(rising[h], left);
            }
            return sum;
        }
    }

    /// <param name="Cards">Places in the list of numbers.</param>
    /// <param name="Orders">In how many orders the cards make the same.</param>
    private sealed record Hand(int[] Cards, long Value, double Orders, double Chance);

    /// <summary>All hands; of digits each order is one. Where there are more than <paramref name="most"/>, only some more than those.</summary>
    private List<Hand> Hands(int most)
    {
        var hands = new List<Hand>();
        var left = (int[])counts.Clone();
        Fill([]);
        return hands;

        void Fill(int[] taken)
        {
            if (hands.Count > most) return;
            if (taken.Length == cards)
            {
                double orders = inOrder ? 1 : Ways(cards, cards) / taken.GroupBy(n => n).Aggregate(1.0, (product, g) => product * Ways(g.Count(), g.Count()));
                var hand = new Hand(taken, make([.. taken.Select(n => numbers[n])]), orders, 0);
                double chance = Take(hand, left) / Ways(all, cards);
                PutBack(hand, left);
                hands.Add(hand with { Chance = chance });
                return;
            }
            for (int n = inOrder || taken.Length == 0 ? 0 : taken[^1]; n < numbers.Length; n++)
                if (taken.Count(t => t == n) < counts[n]) Fill([.. taken, n]);
        }
    }

    /// <summary>The ways to draw a hand from what is left; it is taken away, as far as that goes.</summary>
    private static double Take(Hand hand, int[] left)
    {
        double ways = hand.Orders;
        foreach (int n in hand.Cards) ways *= Math.Max(0, left[n]--);
        return ways;
    }

    private static void PutBack(Hand hand, int[] left)
    {
        foreach (int n in hand.Cards) left[n]++;
    }

    /// <summary>The chance that so many other hands, drawn from the rest, are all worse than this one.</summary>
    private double AllWorse(Hand hand, int others)
    {
        spending.Check();
        var rest = new List<int>();
        for (int n = 0; n < numbers.Length; n++) rest.AddRange(Enumerable.Repeat((int)numbers[n], counts[n] - hand.Cards.Count(c => c == n)));
        if (cards == 1)
        {
            int worse = rest.Count(n => fewer ? n > hand.Value : n < hand.Value);
            return worse < others ? 0 : Ways(worse, others) / Ways(rest.Count, others);
        }
        if (!fewer) return DrawFacts.AllWithin(rest, others, 0, joined!, hand.Value - 1);
        // Seen from the other end, what is fewer is more.
        rest.Reverse();
        return DrawFacts.AllWithin(rest, others, 0, (a, b) => -joined!(a, b), -hand.Value - 1);
    }
}