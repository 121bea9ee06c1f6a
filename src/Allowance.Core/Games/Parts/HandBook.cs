using System.Collections.Concurrent;
using System.Numerics;
using System.Runtime.CompilerServices;
using Allowance.Core.Forecasts;
using Allowance.Core.Numbers;
using Allowance.Core.Setups;

namespace Allowance.Core.Games;

/// <summary>Ways to use cards of one hand. What each asks is kept once it was asked, in no form yet.</summary>
internal sealed class HandWays(ulong hand, LaidCards[] laid) : KnownOfHand(hand)
{
    private readonly long[] asks = new long[laid.Length];

    public ReadOnlySpan<LaidCards> All => laid;

    /// <summary>The code of what a way asks; 0 until somebody finds it out.</summary>
    public ref long AskOf(LaidCards way)
    {
        int at = 0;
        while (laid[at] != way) at++;
        return ref asks[at];
    }
}

/// <summary>What all cards of a hand together ask, by the number that they make: the codes, in no form; 0 until somebody finds it out.</summary>
internal sealed class HandAsks(ulong hand, int numbers) : KnownOfHand(hand)
{
    public readonly long[] ByNumber = new long[numbers];
}

/// <summary>Everything that every set of a hand's cards makes.</summary>
internal sealed class HandMakes(ulong hand, HandValues values) : KnownOfHand(hand)
{
    public readonly HandValues Values = values;

    // Beside the hand, so that whoever finds the hand need not look further.
    private readonly ulong[] makings = values.Makings;

    /// <summary>The sets of the cards that make a number, put into <paramref name="sets"/>; of cards that are alike they take the first.</summary>
    /// <param name="words">How many words the sets of these cards take.</param>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Making(int number, int words, Span<ulong> sets)
    {
        int at = number * words;
        if (number < 0 || at >= makings.Length) return;
        for (int word = 0; word < words; word++) sets[word] = makings[at + word];
    }
}

/// <summary>
/// What the cards of a hand make, by signs that go between them. It hangs on nothing else, so hands that come again, in this game or in
/// another, are kept. Safe for use from several threads.
/// </summary>
internal sealed class HandBook
{
    /// <summary>What all books keep at most, in sets of cards: some 40 MB. Then they begin anew.</summary>
    private const int MostSets = 640_000;

    private static readonly ConcurrentDictionary<(string Signs, int Most), HandBook> Books = [];
    private static int sets;

    private readonly KeptHands<HandMakes> kept = new();
    private readonly KeptHands<HandWays> balancing = new();
    private readonly KeptHands<HandAsks> asked = new();
    private readonly int most;

    private HandBook(IReadOnlyList<Operation> signs, int most) => (Signs, this.most, OnlyAdds) = (signs, most, signs is [Operation.Plus]);

    /// <param name="most">The largest step on the way; see <see cref="HandValues"/>.</param>
    public static HandBook Of(IReadOnlyList<Operation> signs, int most) => Books.GetOrAdd((string.Join(' ', signs), most), _ => new(signs, most));

    /// <summary>Hands that are dealt to learn how often something goes: fewer where it takes long to see.</summary>
    public int Deals(int cards) => OnlyAdds ? 4_000 : Math.Max(60, (int)(150_000 / Math.Pow(3, cards)));

    public IReadOnlyList<Operation> Signs { get; }

    /// <summary>Nothing but adding.</summary>
    public bool OnlyAdds { get; }

    public HandValues this[ReadOnlySpan<byte> hand] => Makes(OneHand.Of(hand)).Values;

    /// <summary>Everything that the cards of a hand make.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public HandMakes Makes(OneHand hand) => kept.Find(Key(hand)) ?? NewMakes(hand);

    [MethodImpl(MethodImplOptions.NoInlining)]
    private HandMakes NewMakes(OneHand hand)
    {
        Room(1 << hand.Count);
        return kept.Keep(new(Key(hand), new HandValues(HandCards.Cards(hand.Cards, ~0), Signs, most)));
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static ulong Key(OneHand hand) => Lanes.Packed(hand.Lanes) << 4 | (uint)hand.Count;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static ulong Key(OneHand hand, int upTo) => Key(hand) | (ulong)upTo << 56;

    private static void Room(int more)
    {
        if (Interlocked.Add(ref sets, more) <= MostSets) return;
        foreach (var book in Books.Values)
        {
            book.kept.Clear();
            book.balancing.Clear();
            book.asked.Clear();
        }
        Interlocked.Exchange(ref sets, 0);
    }

    /// <summary>The code of what cards ask that make a number, all of them, in no form; 0 until somebody finds it out.</summary>
    public ref long Asked(OneHand cards, int number)
    {
        ulong key = Key(cards);
        if (asked.Find(key) is { } known) return ref known.ByNumber[number];
        Room(most / 8);
        return ref asked.Keep(new(key, most + 1)).ByNumber[number];
    }

    /// <summary>The cards of a hand of which one is as much as others by these signs; of cards that are alike the first.</summary>
    /// <param name="upTo">Cards that are laid at most.</param>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public HandWays Balancing(OneHand hand, int upTo) => balancing.Find(Key(hand, upTo)) ?? NewBalancing(hand, upTo);

    [MethodImpl(MethodImplOptions.NoInlining)]
    private HandWays NewBalancing(OneHand hand, int upTo)
    {
        var all = OnlyAdds ? HandSets.Balancing(hand.Cards, upTo).All(hand.Cards) : Balancing(Makes(hand).Values, hand.Cards, upTo);
        Room(2 + all.Count / 4);
        return balancing.Keep(new(Key(hand, upTo), [.. all]));
    }

    private static List<LaidCards> Balancing(HandValues values, ReadOnlySpan<byte> hand, int upTo)
    {
        var all = new List<LaidCards>();
        var sets = HandSets.Of(hand.Length, upTo);
        sets.KeepFirstOfAlike(hand);
        foreach (int set in sets.All)
        {
            int before = -1;
            for (int rest = set; rest != 0; rest &= rest - 1)
            {
                int at = BitOperations.TrailingZeroCount(rest), whole = hand[at];
                if (whole == before) continue;
                before = whole;
                if (!Makes(values, set & ~(1 << at), whole)) continue;
                all.Add(new(set, at));
                // Two that are the same are laid once, whichever is the whole.
                if (BitOperations.PopCount((uint)set) == 2) break;
            }
        }
        return all;
    }

    private static bool Makes(HandValues values, int others, int whole)
    {
        if (whole != HandCards.Wild) return values.Has(others, whole);
        for (int n = 1; n <= HandEquations.MostWild; n++)
            if (values.Has(others, n)) return true;
        return false;
    }
}
