using System.Globalization;
using System.Numerics;
using Allowance.Core.Setups;

namespace Allowance.Core.Forecasts;

/// <summary>A number as cards make it: a card, or two parts and what is done with them.</summary>
/// <param name="Sign">Null for a card.</param>
public sealed record Made(long Value, Operation? Sign = null, Made? Left = null, Made? Right = null)
{
    /// <summary>What is joined by plus, from left to right; itself where nothing is.</summary>
    public IEnumerable<Made> Joined => Sign == Operation.Plus ? Left!.Joined.Concat(Right!.Joined) : [this];

    /// <summary>As it is written: 8 + 2 + 3, or (8 + 2) × 3.</summary>
    public override string ToString() => Sign is not { } sign ? Value.ToString(CultureInfo.InvariantCulture) : $"{Within(Left!, sign, false)} {sign.Sign()} {Within(Right!, sign, true)}";

    /// <summary>In brackets where it would be read otherwise.</summary>
    private static string Within(Made part, Operation of, bool right)
    {
        bool strong = of is Operation.Times or Operation.By, weak = part.Sign is Operation.Plus or Operation.Minus;
        bool brackets = part.Sign is not null && (strong ? weak || right && (of == Operation.By || part.Sign == Operation.By) : right && of == Operation.Minus && weak);
        return brackets ? $"({part})" : part.ToString();
    }
}

/// <summary>
/// What some of a hand's cards make, each used once, in any order and with any brackets; every step is a whole number and none is below
/// nothing. A wild card is any whole number from 1 to 10. Exact for hands of up to eight cards.
/// </summary>
/// <remarks>
/// Values of up to <see cref="MostForward"/> cards are all kept; more cards make a number if some of them make a value that leaves
/// the others a number which they make.
/// </remarks>
public sealed class HandEquations
{
    public const int Wild = -1, MostWild = 10;

    private const int MostForward = 4;

    private readonly IReadOnlyList<int> hand;
    private readonly IReadOnlyList<Operation> signs;
    private readonly Dictionary<int, Dictionary<long, Made>> forward = [];
    private readonly Dictionary<(int Set, long Value), Made?> known = [];

    /// <param name="hand">Its cards; <see cref="Wild"/> for a wild one.</param>
    public HandEquations(IReadOnlyList<int> hand, IReadOnlyList<Operation> signs) => (this.hand, this.signs) = (hand, signs);

    /// <summary>How a set of cards makes a value, the gentlest signs first; null where it does not.</summary>
    /// <param name="set">Places in the hand, as bits.</param>
    public Made? How(int set, long value)
    {
        if (value < 0) return null;
        if (signs.Contains(Operation.Plus) && Sum(Cards(set), value) is { } sum) return sum;
        if (signs is [Operation.Plus] && BitOperations.PopCount((uint)set) > 1) return null;
        if (BitOperations.PopCount((uint)set) <= MostForward) return Forward(set).GetValueOrDefault(value);
        if (known.TryGetValue((set, value), out var met)) return met;
        return known[(set, value)] = Search(set, value);
    }

    /// <summary>The cards all added, the larger first.</summary>
    internal static Made? Sum(List<int> cards, long value)
    {
        int wild = cards.Count(c => c == Wild);
        long rest = value - cards.Where(c => c != Wild).Sum(c => (long)c);
        if (rest < wild || rest > (long)MostWild * wild) return null;
        var numbers = cards.Where(c => c != Wild).Select(c => (long)c).ToList();
        // Wild cards are as large as they can be, and leave one for each of the others.
        for (; wild > 0; wild--)
        {
            long number = Math.Min(MostWild, rest - wild + 1);
            numbers.Add(number);
            rest -= number;
        }
        return numbers.OrderDescending().Select(n => new Made(n)).Aggregate((left, right) => new(left.Value + right.Value, Operation.Plus, left, right));
    }

    private List<int> Cards(int set) => [.. hand.Where((_, i) => (set >> i & 1) != 0)];

    /// <summary>Everything that all cards of a set make together.</summary>
    private Dictionary<long, Made> Forward(int set)
    {
        if (forward.TryGetValue(set, out var values)) return values;
        values = [];
        if (BitOperations.PopCount((uint)set) == 1)
        {
            int card = hand[BitOperations.TrailingZeroCount(set)];
            for (int n = card == Wild ? 1 : card; n <= (card == Wild ? MostWild : card); n++) values[n] = new(n);
        }
        else
            // Each way to part the set once: the first card is always on one side.
            foreach (var (part, rest) in Partings(set))
                foreach (var a in Forward(part).Values)
                    foreach (var b in Forward(rest).Values)
                    {
                        var (larger, smaller) = a.Value >= b.Value ? (a, b) : (b, a);
                        foreach (var sign in signs)
                            if (sign.Of((int)larger.Value, (int)smaller.Value) is { } value) values.TryAdd(value, new(value, sign, larger, smaller));
                        // 0 divided by something is 0, which the larger first does not find.
                        if (smaller.Value == 0 && larger.Value > 0 && signs.Contains(Operation.By)) values.TryAdd(0, new(0, Operation.By, smaller, larger));
                    }
        return forward[set] = values;
    }

    private static IEnumerable<(int Part, int Others)> Partings(int set)
    {
        int first = set & -set, others = set & ~first;
        for (int some = others; ; some = some - 1 & others)
        {
            // Some of the others lie on the other side, at least one.
            if (some != 0) yield return (set & ~some, some);
            if (some == 0) yield break;
        }
    }

    /// <summary>Parts the set: what the smaller part makes leaves the larger part a value to make.</summary>
    private Made? Search(int set, long value)
    {
        foreach (var parting in Partings(set).OrderBy(p => Math.Min(BitOperations.PopCount((uint)p.Part), BitOperations.PopCount((uint)p.Others))))
        {
            var (small, large) = BitOperations.PopCount((uint)parting.Part) <= BitOperations.PopCount((uint)parting.Others) ? parting : (parting.Others, parting.Part);
            foreach (var a in Forward(small).Values)
                foreach (var sign in signs)
                    if (Leaving(sign, a, large, value) is { } made) return made;
        }
        return null;
    }

    private Made? Leaving(Operation sign, Made a, int large, long value)
    {
        long n = a.Value;
        switch (sign)
        {
            case Operation.Plus: return How(large, value - n) is { } more ? new(value, sign, more, a) : null;
            case Operation.Minus: return How(large, value + n) is { } whole ? new(value, sign, whole, a) : n >= value && How(large, n - value) is { } taken ? new(value, sign, a, taken) : null;
            case Operation.Times:
                if (n == 0) return value == 0 && Anything(large, 0) is { } any ? new(0, sign, any, a) : null;
                return value % n == 0 && How(large, value / n) is { } times ? new(value, sign, times, a) : null;
            default:
                if (n > 0 && value <= long.MaxValue / (MostProduct + n) && How(large, value * n) is { } shared) return new(value, sign, shared, a);
                if (value == 0) return n == 0 && Anything(large, 1) is { } by ? new(0, sign, a, by) : null;
                return n > 0 && n % value == 0 && How(large, n / value) is { } parts ? new(value, sign, a, parts) : null;
        }
    }

    /// <summary>No product of eight cards is larger.</summary>
    private const long MostProduct = 1_000_000;

    /// <summary>Some value that all cards of a set make, no smaller than this.</summary>
    private Made? Anything(int set, long least)
    {
        if (BitOperations.PopCount((uint)set) <= MostForward) return Forward(set).Values.FirstOrDefault(m => m.Value >= least);
        if (signs.Contains(Operation.Plus)) return Cards(set) is var cards && cards.Sum(c => c == Wild ? 1 : c) is var sum && sum >= least ? Sum(cards, sum) : null;
        foreach (var (part, rest) in Partings(set))
            foreach (var sign in signs)
                if (Anything(part, least) is { } a && Anything(rest, sign == Operation.Times ? least : 0) is { } b && sign.Of((int)Math.Min(a.Value, int.MaxValue), (int)Math.Min(b.Value, int.MaxValue)) is { } value && value >= least) return new(value, sign, a, b);
        return null;
    }

    /// <summary>The sets of at least two cards, as bits, that make a value; of cards that are alike the first.</summary>
    public IEnumerable<int> Making(long value) => Sets(hand).Where(set => BitOperations.PopCount((uint)set) >= 2 && How(set, value) is not null);

    /// <summary>The sets of a hand's cards, those of alike cards once: only the first of them are taken.</summary>
    public static IEnumerable<int> Sets(IReadOnlyList<int> hand)
    {
        for (int set = 1; set < 1 << hand.Count; set++)
        {
            bool first = true;
            for (int i = 1; i < hand.Count && first; i++)
                for (int before = 0; before < i && first; before++) first = hand[i] != hand[before] || (set >> i & 1) == 0 || (set >> before & 1) != 0;
            if (first) yield return set;
        }
    }

    /// <summary>The most cards that go into equations for a value, no card twice, and such equations.</summary>
    public IReadOnlyList<(int Set, Made Made)> Best(long value)
    {
        int full = (1 << hand.Count) - 1;
        var best = new (int Cards, int Set, int Left)[full + 1];
        // Sets in their order: all that is less is known before.
        for (int left = 1; left <= full; left++)
            for (int set = left; set > 0; set = set - 1 & left)
            {
                int cards = BitOperations.PopCount((uint)set);
                var rest = best[left & ~set];
                if (cards < 2 || cards + rest.Cards <= best[left].Cards || How(set, value) is null) continue;
                best[left] = (cards + rest.Cards, set, left & ~set);
            }
        var plan = new List<(int, Made)>();
        for (int left = full; best[left].Cards > 0; left = best[left].Left) plan.Add((best[left].Set, How(best[left].Set, value)!));
        return plan;
    }
}
