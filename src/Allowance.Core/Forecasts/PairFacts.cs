using System.Numerics;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;

namespace Allowance.Core.Forecasts;

/// <summary>How a game of taking pairs ends.</summary>
/// <param name="Stuck">Chance that cards are left and none of them pair.</param>
/// <param name="LeftMean">Mean number of cards then left, the stock included.</param>
/// <param name="Pairs">Distribution of the number of pairs taken.</param>
public sealed record PairEnd(double Stuck, double LeftMean, Pmf Pairs);

/// <summary>
/// Exact figures about pairs in a shuffled pack. Cards fall into groups: two numbers that pair with each other, a number
/// that pairs with itself, and strays that pair with nothing. Which pair is taken first does not matter: of n cards that
/// have been laid out, the unpaired ones number |a − b| in a group of two, a mod 2 in a group of one, and every stray.
/// </summary>
public static class PairFacts
{
    private const int MostStates = 400_000;

    /// <summary>The pairs of numbers [a, b], a ≤ b, of which the pack holds cards that make the target.</summary>
    public static IReadOnlyList<(int A, int B)> Combos(IReadOnlyDictionary<int, int> counts, int target) =>
        [.. counts.Keys.Where(a => 2 * a <= target && (2 * a == target ? counts[a] > 1 : counts.ContainsKey(target - a)))
            .Order().Select(a => (a, target - a))];

    /// <summary>Each number has as many partners as cards, and half the target an even number.</summary>
    public static bool Balanced(IReadOnlyDictionary<int, int> counts, int target) => Strays(counts, target).Count == 0;

    /// <summary>The cards of each number that can never all be paired off.</summary>
    public static IReadOnlyDictionary<int, int> Strays(IReadOnlyDictionary<int, int> counts, int target) =>
        counts.Select(c => (Number: c.Key, Count: 2 * c.Key == target ? c.Value % 2 : Math.Max(0, c.Value - counts.GetValueOrDefault(target - c.Key))))
            .Where(s => s.Count > 0).OrderBy(s => s.Number).ToDictionary(s => s.Number, s => s.Count);

    /// <summary>The largest number of pairs that can be removed from the whole pack.</summary>
    public static int PairsMost(IReadOnlyDictionary<int, int> counts, int target) =>
        (counts.Values.Sum() - Strays(counts, target).Values.Sum()) / 2;

    /// <summary>The chance that n cards hold at least one pair that makes the target, for n from 0 to <paramref name="most"/>.</summary>
    public static double[] MoveBySize(IReadOnlyDictionary<int, int> counts, int target, int most) => Groups.ByTarget(counts, target).MoveBySize(most);

    /// <summary>The same for pairs of equal cards.</summary>
    public static double[] EqualsMoveBySize(IReadOnlyDictionary<int, int> counts, int most) => Groups.OfEquals(counts).MoveBySize(most);

    /// <summary>How a game ends; null where the exact answer would need too many states, or more time than there is.</summary>
    public static PairEnd? End(IReadOnlyDictionary<int, int> counts, int target, int places, bool refill, Spending spending) => Groups.ByTarget(counts, target).End(places, refill, spending);

    /// <summary>The same for pairs of equal cards.</summary>
    public static PairEnd? EndOfEquals(IReadOnlyDictionary<int, int> counts, int places, bool refill, Spending spending) => Groups.OfEquals(counts).End(places, refill, spending);

    /// <summary>
    /// The chance that n cards hold a set of two or more that makes the target, for n from 0 to <paramref name="most"/>;
    /// null where it would need too many states or more time than there is. Counts the hands without such a set: by the sums that their cards below
    /// the target can make, as bits.
    /// </summary>
    public static double[]? SetMoveBySize(IReadOnlyDictionary<int, int> counts, int target, int most, Spending spending)
    {
        var hands = new Dictionary<ulong, double[]> { [1] = [1] };
        foreach (var (number, count) in counts.Where(c => c.Key > 0 && c.Key < target))
        {
            var next = new Dictionary<ulong, double[]>();
            foreach (var (sums, ways) in hands)
            {
                if (spending.IsSpent) return null;
                ulong reach = sums;
                for (int k = 0; k <= count; k++)
                {
                    if (k > 0) reach |= reach << number;
                    reach &= (2UL << target) - 1;
                    if ((reach >> target & 1) != 0) break;
                    var term = new double[k + 1];
                    term[k] = Counting.Choose(count, k);
                    var product = Counting.Combine(ways, term, most);
                    next[reach] = next.TryGetValue(reach, out var sum) ? Add(sum, product) : product;
                }
            }
            if (next.Count > 20_000) return null;
            hands = next;
        }
        double[] none = [0];
        foreach (var ways in hands.Values) none = Add(none, ways);
        double[] zeros = Binomial(counts.GetValueOrDefault(0)), own = Binomial(counts.GetValueOrDefault(target));
        var apart = Add(zeros, own);
        apart[0]--;
        none = Counting.Combine(Counting.Combine(none, apart, most), Binomial(counts.Where(c => c.Key > target).Sum(c => c.Value)), most);
        return Complement(none, counts.Values.Sum(), most);
    }

    /// <summary>
    /// The chance that cards of a fresh layout of <paramref name="places"/>, turned one after another and added, make the
    /// target at some time. The sums only rise, so it is the sum over k of P(k cards make it), less those where it had
    /// been made already and the k-th card is a zero.
    /// </summary>
    public static double RunReaches(IReadOnlyDictionary<int, int> counts, int target, int places)
    {
        int cards = counts.Values.Sum(), zeros = counts.GetValueOrDefault(0);
        double[] makes = MakesBySize(counts, target, places), chance = new double[1];
        for (int k = 1; k <= places; k++) chance[0] += makes[k] / Counting.Choose(cards, k);
        if (zeros == 0) return chance[0];
        var fewer = counts.ToDictionary(c => c.Key, c => c.Key == 0 ? c.Value - 1 : c.Value);
        double[] again = MakesBySize(fewer, target, places);
        for (int k = 2; k <= places; k++) chance[0] -= (double)zeros / cards * again[k - 1] / Counting.Choose(cards - 1, k - 1);
        return chance[0];
    }

    /// <summary>The number of sets of k cards that make the target, for k from 0 to <paramref name="most"/>.</summary>
    private static double[] MakesBySize(IReadOnlyDictionary<int, int> counts, int target, int most)
    {
        var ways = new double[most + 1, target + 1];
        ways[0, 0] = 1;
        foreach (var (number, count) in counts.Where(c => c.Key <= target))
            for (int k = most; k >= 0; k--)
                for (int sum = target; sum >= 0; sum--)
                    for (int used = 1; used <= count && used <= k && used * number <= sum; used++)
                        ways[k, sum] += Counting.Choose(count, used) * ways[k - used, sum - used * number];
        return [.. Enumerable.Range(0, most + 1).Select(k => ways[k, target])];
    }

    private static double[] Binomial(int n) => [.. Enumerable.Range(0, n + 1).Select(k => Counting.Choose(n, k))];

    private static double[] Add(double[] a, double[] b)
    {
        var sum = new double[Math.Max(a.Length, b.Length)];
        for (int i = 0; i < sum.Length; i++) sum[i] = (i < a.Length ? a[i] : 0) + (i < b.Length ? b[i] : 0);
        return sum;
    }

    private static double[] Complement(double[] none, int cards, int most) =>
        [.. Enumerable.Range(0, most + 1).Select(n => Math.Max(0, 1 - (n < none.Length ? none[n] / Counting.Choose(cards, n) : 0)))];

    /// <param name="Twos">Cards of two numbers that pair with each other.</param>
    /// <param name="Ones">Cards of a number that pairs with itself.</param>
    /// <param name="Strays">Cards that pair with nothing.</param>
    private sealed record Groups(IReadOnlyList<(int A, int B)> Twos, IReadOnlyList<int> Ones, int Strays)
    {
        public static Groups ByTarget(IReadOnlyDictionary<int, int> counts, int target)
        {
            var twos = counts.Where(c => 2 * c.Key < target && counts.ContainsKey(target - c.Key))
                .Select(c => (c.Value, counts[target - c.Key])).Select(p => (Math.Min(p.Item1, p.Item2), Math.Max(p.Item1, p.Item2))).ToList();
            int[] ones = target % 2 == 0 && counts.TryGetValue(target / 2, out int half) ? [half] : [];
            return new(twos, ones, counts.Values.Sum() - twos.Sum(t => t.Item1 + t.Item2) - ones.Sum());
        }

        public static Groups OfEquals(IReadOnlyDictionary<int, int> counts) => new([], [.. counts.Values], 0);

        private int Cards => Twos.Sum(t => t.A + t.B) + Ones.Sum() + Strays;

        private int PairsMost => Twos.Sum(t => Math.Min(t.A, t.B)) + Ones.Sum(c => c / 2);

        public double[] MoveBySize(int most)
        {
            double[] none = Binomial(Strays);
            foreach (var (a, b) in Twos)
            {
                var apart = Add(Binomial(a), Binomial(b));
                apart[0]--;
                none = Counting.Combine(none, apart, most);
            }
            foreach (int c in Ones) none = Counting.Combine(none, [1, c], most);
            return Complement(none, Cards, most);
        }

        public PairEnd? End(int places, bool refill, Spending spending) => refill && places < Cards ? EndWithRefill(places, spending) : EndOfLayout(places);

        /// <summary>Only the layout is played: the distribution of the pairs among so many cards.</summary>
        private PairEnd EndOfLayout(int places)
        {
            int most = places / 2;
            var ways = new double[places + 1, most + 1];
            for (int i = 0; i <= Math.Min(places, Strays); i++) ways[i, 0] = Counting.Choose(Strays, i);
            foreach (var (a, b) in Twos)
                ways = Join(ways, [.. from i in Enumerable.Range(0, a + 1) from j in Enumerable.Range(0, b + 1) select (i + j, Math.Min(i, j), Counting.Choose(a, i) * Counting.Choose(b, j))]);
            foreach (int c in Ones)
                ways = Join(ways, [.. Enumerable.Range(0, c + 1).Select(i => (i, i / 2, Counting.Choose(c, i)))]);
            double all = Counting.Choose(Cards, places);
            var pairs = new Pmf([.. Enumerable.Range(0, most + 1).Select(p => ways[places, p] / all)]);
            double cleared = places % 2 == 0 ? pairs[most] : 0;
            return new(Math.Max(0, 1 - cleared), places - 2 * pairs.Mean, pairs);
        }

        private static double[,] Join(double[,] ways, List<(int Cards, int Pairs, double Ways)> terms)
        {
            var joined = new double[ways.GetLength(0), ways.GetLength(1)];
            foreach (var (cards, pairs, more) in terms)
                for (int n = 0; n + cards < joined.GetLength(0); n++)
                    for (int p = 0; p + pairs < joined.GetLength(1); p++)
                        joined[n + cards, p + pairs] += ways[n, p] * more;
            return joined;
        }

        /// <summary>
        /// With refilling, after p pairs the first places + 2p cards of the pack have been laid out. Nothing goes if all
        /// cards that lie there are unpaired, which is when the unpaired ones of those first cards number as many as the
        /// places. A walk over what has come out of each group, card by card; groups of the same size are alike, so
        /// their states are kept sorted. States from which that number can no longer be reached need not be followed.
        /// </summary>
        private PairEnd? EndWithRefill(int places, Spending spending)
        {
            int cards = Cards, most = PairsMost;
            var pairs = new double[most + 1];
            double stuckEarly = 0, left = 0;
            var kinds = new List<GroupWalk>();
            kinds.AddRange(Twos.Order().Select(t => GroupWalk.OfTwo(t.A, t.B)));
            kinds.AddRange(Ones.Order().Select(GroupWalk.OfOne));
            if (Strays > 0) kinds.Add(GroupWalk.OfStrays(Strays));
            if (kinds.Sum(k => k.Bits) > 64) return kinds.Sum(k => k.Highest[0]) < places ? NeverStuckEarly() : null;
            var walk = new Dictionary<ulong, double> { [0] = 1 };
            int visited = 0;
            Span<int> codes = stackalloc int[kinds.Count], moved = stackalloc int[kinds.Count];
            for (int n = 0; n < cards && walk.Count > 0; n++)
            {
                if (spending.IsSpent) return null;
                bool check = n >= places && (n - places) % 2 == 0;
                var next = new Dictionary<ulong, double>(walk.Count * 2);
                foreach (var (key, chance) in walk)
                {
                    int unpaired = 0, highest = 0;
                    ulong rest = key;
                    for (int g = 0; g < kinds.Count; g++)
                    {
                        codes[g] = (int)(rest & ((1UL << kinds[g].Bits) - 1));
                        rest >>= kinds[g].Bits;
                        unpaired += kinds[g].Unpaired[codes[g]];
                        highest += kinds[g].Highest[codes[g]];
                    }
                    if (check && unpaired == places)
                    {
                        stuckEarly += chance;
                        left += chance * (places + cards - n);
                        pairs[(n - places) / 2] += chance;
                        continue;
                    }
                    if (highest < places) continue;
                    for (int g = 0; g < kinds.Count; g++)
                    {
                        int alike = 1;
                        while (g + 1 < kinds.Count && kinds[g + 1].SameAs(kinds[g]) && codes[g + 1] == codes[g])
                        {
                            alike++;
                            g++;
                        }
                        foreach (var (to, count) in kinds[g].Next[codes[g]])
                        {
                            codes.CopyTo(moved);
                            moved[g] = to;
                            ulong reached = Key(moved, kinds, g);
                            double p = chance * alike * count / (cards - n);
                            System.Runtime.InteropServices.CollectionsMarshal.GetValueRefOrAddDefault(next, reached, out _) += p;
                        }
                    }
                }
                walk = next;
                if ((visited += walk.Count) > MostStates) return null;
            }
            pairs[most] += 1 - stuckEarly;
            int over = cards - 2 * most;
            return new(over > 0 ? 1 : Math.Clamp(stuckEarly, 0, 1), left + (1 - stuckEarly) * over, new(pairs));

            PairEnd NeverStuckEarly()
            {
                pairs[most] = 1;
                return new(cards > 2 * most ? 1 : 0, cards - 2 * most, new(pairs));
            }
        }

        /// <summary>The states of the groups in one number, those of equal groups sorted; only group <paramref name="changed"/> may be out of order.</summary>
        private static ulong Key(Span<int> codes, List<GroupWalk> kinds, int changed)
        {
            int g = changed;
            for (; g > 0 && kinds[g - 1].SameAs(kinds[g]) && codes[g - 1] > codes[g]; g--) (codes[g - 1], codes[g]) = (codes[g], codes[g - 1]);
            for (; g < codes.Length - 1 && kinds[g + 1].SameAs(kinds[g]) && codes[g + 1] < codes[g]; g++) (codes[g + 1], codes[g]) = (codes[g], codes[g + 1]);
            ulong key = 0;
            for (int i = codes.Length - 1; i >= 0; i--) key = key << kinds[i].Bits | (uint)codes[i];
            return key;
        }
    }

    /// <summary>What can have come out of one group: states, how many cards of each are unpaired, and where the next card leads.</summary>
    private sealed record GroupWalk(int A, int B, int[] Unpaired, int[] Highest, (int To, int Count)[][] Next)
    {
        public int Bits => BitOperations.Log2((uint)Math.Max(1, Unpaired.Length - 1)) + 1;

        public bool SameAs(GroupWalk other) => A == other.A && B == other.B;

        public static GroupWalk OfTwo(int a, int b)
        {
            var states = (from i in Enumerable.Range(0, a + 1) from j in Enumerable.Range(0, b + 1) where a != b || i <= j select (i, j)).ToList();
            var index = states.Select((s, k) => (s, k)).ToDictionary(x => x.s, x => x.k);
            return Build(a, b, states.Count, k => Math.Abs(states[k].i - states[k].j), k =>
            {
                var (i, j) = states[k];
                return [.. new[] { (i + 1, j, a - i), (i, j + 1, b - j) }.Where(n => n.Item3 > 0)
                    .Select(n => (index[a == b && n.Item1 > n.Item2 ? (n.Item2, n.Item1) : (n.Item1, n.Item2)], n.Item3))];
            });
        }

        public static GroupWalk OfOne(int cards) => Build(cards, -1, cards + 1, k => k % 2, k => k < cards ? [(k + 1, cards - k)] : []);

        public static GroupWalk OfStrays(int cards) => Build(cards, -2, cards + 1, k => k, k => k < cards ? [(k + 1, cards - k)] : []);

        private static GroupWalk Build(int a, int b, int states, Func<int, int> unpaired, Func<int, (int, int)[]> next)
        {
            var steps = Enumerable.Range(0, states).Select(next).ToArray();
            var now = Enumerable.Range(0, states).Select(unpaired).ToArray();
            var highest = (int[])now.Clone();
            for (int round = 0; round < states; round++)
                for (int k = states - 1; k >= 0; k--)
                    foreach (var (to, _) in steps[k]) highest[k] = Math.Max(highest[k], highest[to]);
            return new(a, b, now, highest, steps);
        }
    }
}
