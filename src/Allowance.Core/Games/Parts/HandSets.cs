using System.Numerics;
using System.Runtime.CompilerServices;
using System.Runtime.Intrinsics;
using Allowance.Core.Forecasts;
using Allowance.Core.Numbers;

namespace Allowance.Core.Games;

/// <summary>Some of the sets of cards that a hand of up to eight has. A set is the places of its cards as bits, and has a bit here.</summary>
/// <remarks>What they add up to is found for sixteen sets at a time. With that, and with hands held in one register each, a turn of Target Hand or Balance takes less than half as long.</remarks>
[InlineArray(Words)]
internal struct HandSets
{
    private const int Words = (1 << HandCards.Most) / 64;

    private ulong first;

    public readonly bool Has(int set) => (this[set >> 6] >> set & 1) != 0;

    public void Add(int set) => this[set >> 6] |= 1UL << set;

    public readonly int Count
    {
        [MethodImpl(MethodImplOptions.AggressiveInlining)]
        get
        {
            int count = 0;
            foreach (ulong word in this) count += BitOperations.PopCount(word);
            return count;
        }
    }

    /// <summary>The n-th of them, from 0.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public readonly int Nth(int n)
    {
        for (int word = 0; ; word++)
        {
            int count = BitOperations.PopCount(this[word]);
            if (n < count) return 64 * word + Bits.Nth(this[word], n);
            n -= count;
        }
    }

    /// <summary>Each of them, for people.</summary>
    public readonly IReadOnlyList<int> All
    {
        get
        {
            var all = new int[Count];
            for (int n = 0; n < all.Length; n++) all[n] = Nth(n);
            return all;
        }
    }

    /// <summary>Those for which something holds.</summary>
    private static HandSets Where(Func<int, bool> holds)
    {
        var sets = new HandSets();
        for (int set = 0; set < 64 * Words; set++)
            if (holds(set)) sets.Add(set);
        return sets;
    }

    // By the cards in hand and the most of them, the sets of two and more; by place, those that take what lies there only with the one before it.
    private static readonly HandSets[] Several = [.. Enumerable.Range(0, (HandCards.Most + 1) * (HandCards.Most + 1)).Select(i => (InHand: i / (HandCards.Most + 1), Most: i % (HandCards.Most + 1)))
        .Select(cards => Where(set => set < 1 << cards.InHand && BitOperations.PopCount((uint)set) is var count && count >= 2 && count <= cards.Most))];
    private static readonly HandSets[] NotAlone = [.. Enumerable.Range(0, HandCards.Most).Select(place => Where(set => place == 0 || (set >> place & 1) == 0 || (set >> place - 1 & 1) != 0))];

    /// <summary>All sets of a hand of so many cards that have two and more, up to <paramref name="most"/>.</summary>
    public static ref readonly HandSets Of(int cards, int most) => ref Several[cards * (HandCards.Most + 1) + most];

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private void Keep(in HandSets only)
    {
        for (int word = 0; word < Words; word++) this[word] &= only[word];
    }

    /// <summary>Only those that take the first of cards that are alike; these lie beside each other.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void KeepFirstOfAlike(ReadOnlySpan<byte> hand)
    {
        for (int place = 1; place < hand.Length; place++)
            if (hand[place] == hand[place - 1]) Keep(in NotAlone[place]);
    }

    // Sixteen sets of four places lie side by side; each further card doubles them.
    private const int Side = 16, SidePlaces = 4;

    private static readonly Vector256<short>[] Takes = [.. Enumerable.Range(0, SidePlaces).Select(place => Vector256.Create([.. Enumerable.Range(0, Side).Select(set => (short)-(set >> place & 1))]))];

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static int Blocks(ReadOnlySpan<byte> hand) => 1 << Math.Max(0, hand.Length - SidePlaces);

    /// <summary>What the cards of every set are together.</summary>
    /// <param name="wild">What a wild card counts.</param>
    private static void Sum(ReadOnlySpan<byte> hand, int wild, Span<Vector256<short>> sums)
    {
        for (int place = 0; place < hand.Length; place++)
        {
            var card = Vector256.Create((short)(hand[place] == HandCards.Wild ? wild : hand[place]));
            if (place < SidePlaces) sums[0] += Takes[place] & card;
            else
                for (int block = 0, blocks = 1 << place - SidePlaces; block < blocks; block++) sums[blocks + block] = sums[block] + card;
        }
    }

    /// <summary>Wild cards lie before all numbers.</summary>
    private static bool HasWild(ReadOnlySpan<byte> hand) => hand.Length > 0 && hand[0] == HandCards.Wild;

    /// <summary>The largest number in every set; of wild cards alone 0.</summary>
    private static void Largest(ReadOnlySpan<byte> hand, Span<Vector256<short>> largest)
    {
        for (int place = 0; place < hand.Length; place++)
        {
            var card = Vector256.Create((short)(hand[place] == HandCards.Wild ? 0 : hand[place]));
            if (place < SidePlaces) largest[0] = Vector256.Max(largest[0], Takes[place] & card);
            else
                for (int block = 0, blocks = 1 << place - SidePlaces; block < blocks; block++) largest[blocks + block] = Vector256.Max(largest[block], card);
        }
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private void Put(int block, Vector256<short> holds) => this[block >> 2] |= (ulong)holds.ExtractMostSignificantBits() << Side * (block & 3);

    /// <summary>The sets of at least two cards that are a number, joined. A wild card is any number from 1 to 10.</summary>
    public static HandSets Joining(ReadOnlySpan<byte> hand, int number, int most)
    {
        int blocks = Blocks(hand);
        Span<Vector256<short>> least = stackalloc Vector256<short>[blocks], greatest = least;
        Sum(hand, 1, least);
        if (HasWild(hand)) Sum(hand, HandEquations.MostWild, greatest = stackalloc Vector256<short>[blocks]);
        var target = Vector256.Create((short)number);
        var sets = new HandSets();
        for (int block = 0; block < blocks; block++) sets.Put(block, Vector256.LessThanOrEqual(least[block], target) & Vector256.GreaterThanOrEqual(greatest[block], target));
        sets.Keep(in Of(hand.Length, most));
        return sets;
    }

    /// <summary>The sets of at least two cards that make a number; of cards that are alike the first.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static HandSets Making(int cards, HandMakes makes, int number, int most)
    {
        var sets = new HandSets();
        makes.Making(number, (1 << cards) + 63 >> 6, sets);
        sets.Keep(in Of(cards, most));
        return sets;
    }

    /// <summary>
    /// The sets of at least two cards of which one is as much as the others joined: the largest number, as none is below nothing, or a wild card.
    /// Of cards that are alike the first are taken; two cards that are the same are there once, by a wild one where there is one.
    /// </summary>
    public static BalancingSets Balancing(ReadOnlySpan<byte> hand, int most)
    {
        int blocks = Blocks(hand);
        Span<Vector256<short>> least = stackalloc Vector256<short>[blocks], largest = stackalloc Vector256<short>[blocks], greatest = least;
        Sum(hand, 1, least);
        if (HasWild(hand)) Sum(hand, HandEquations.MostWild, greatest = stackalloc Vector256<short>[blocks]);
        Largest(hand, largest);
        var laid = Of(hand.Length, most);
        laid.KeepFirstOfAlike(hand);
        var (byNumber, byWild) = (new HandSets(), new HandSets());
        // What all are together is twice the whole.
        for (int block = 0; block < blocks; block++)
            if (largest[block] + largest[block] is var twice) byNumber.Put(block, Vector256.LessThanOrEqual(least[block], twice) & Vector256.GreaterThanOrEqual(greatest[block], twice));
        byNumber.Keep(in laid);
        if (!HasWild(hand)) return new(byNumber, byWild);
        // The others come to 1 at least and to 10 at most; where nothing is wild, the most is the least.
        var ten = Vector256.Create((short)HandEquations.MostWild);
        for (int block = 0; block < blocks; block++)
            byWild.Put(block, Vector256.GreaterThan(greatest[block], least[block]) & Vector256.LessThanOrEqual(least[block] - Vector256<short>.One, ten) & Vector256.GreaterThan(greatest[block], ten));
        byWild.Keep(in laid);
        ref readonly var two = ref Of(hand.Length, 2);
        for (int word = 0; word < Words; word++) byNumber[word] &= ~(byWild[word] & two[word]);
        return new(byNumber, byWild);
    }
}

/// <summary>Cards of a hand that balance.</summary>
/// <param name="Set">Their places, as bits.</param>
/// <param name="Whole">The place of the one that is as much as the others.</param>
internal readonly record struct LaidCards(int Set, int Whole);

/// <summary>The sets of a hand's cards of which one is as much as the others: by what it is.</summary>
internal readonly struct BalancingSets(HandSets byNumber, HandSets byWild)
{
    private readonly HandSets byNumber = byNumber, byWild = byWild;

    public int Count => byNumber.Count + byWild.Count;

    public List<LaidCards> All(ReadOnlySpan<byte> hand)
    {
        var all = new List<LaidCards>();
        for (int n = 0; n < Count; n++) all.Add(Nth(hand, n));
        return all;
    }

    /// <summary>The n-th of them, from 0, with the place of the one.</summary>
    public LaidCards Nth(ReadOnlySpan<byte> hand, int n)
    {
        int numbers = byNumber.Count, set = n < numbers ? byNumber.Nth(n) : byWild.Nth(n - numbers), whole = BitOperations.TrailingZeroCount(set);
        // Wild cards lie before the numbers, and the largest number before the others.
        while (n < numbers && hand[whole] == HandCards.Wild) whole = BitOperations.TrailingZeroCount(set & -2 << whole);
        return new(set, whole);
    }
}
