using System.Collections.Concurrent;
using System.Diagnostics.CodeAnalysis;
using System.Numerics;
using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using Allowance.Core.Asks;
using Allowance.Core.Forecasts;
using Allowance.Core.Forms;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Tables;

namespace Allowance.Core.Games;

[InlineArray(Engine.MostSeats)]
internal struct EightHands
{
    private ulong first;
}

/// <summary>Cards in hands, up to eight for each of eight players, the larger first; alike cards lie beside each other.</summary>
internal struct HandCards
{
    /// <summary>What a wild card and a bonus card go by among numbers up to 60.</summary>
    public const byte Wild = 63, Bonus = 62;

    public const int Most = 8;

    private EightCounts counts;
    private EightHands hands;

    public readonly int Count(int seat) => counts[seat];

    public readonly int this[int seat, int place] => (byte)(hands[seat] >> 8 * place);

    /// <summary>All cards in all hands.</summary>
    public readonly int Total
    {
        get
        {
            int total = 0;
            for (int seat = 0; seat < Engine.MostSeats; seat++) total += counts[seat];
            return total;
        }
    }

    /// <summary>The cards of a hand, the largest first.</summary>
    [UnscopedRef]
    public readonly ReadOnlySpan<byte> Of(int seat) => MemoryMarshal.AsBytes((ReadOnlySpan<ulong>)hands).Slice(seat * Most, counts[seat]);

    public void Add(int seat, byte card)
    {
        counts[seat]++;
        hands[seat] = Lanes.Insert(hands[seat], card);
    }

    /// <summary>Takes cards out.</summary>
    /// <param name="set">Places, as bits.</param>
    public void Take(int seat, int set)
    {
        counts[seat] -= (short)BitOperations.PopCount((uint)set & (1u << counts[seat]) - 1);
        hands[seat] = Lanes.Without(hands[seat], set);
    }

    /// <summary>A card as it lies in a hand.</summary>
    public static Item Shown(int id, int card, Form form, bool canTap) => card switch
    {
        Wild => new(id, 0, Form.None, ItemState.Up, canTap) { Words = "any" },
        Bonus => new(id, 0, Form.None, ItemState.Up, canTap) { Words = "extra" },
        _ => new(id, card, form, ItemState.Up, canTap),
    };

    public static string Named(int card) => card switch { Wild => "any", Bonus => "an extra card", _ => $"{card}" };

    /// <summary>The cards of a deck as a pile holds them.</summary>
    public static byte[] Pack(Deck deck) =>
        [.. deck.Counts.SelectMany(c => Enumerable.Repeat((byte)c.Key, c.Value)), .. Enumerable.Repeat(Wild, deck.Wilds), .. Enumerable.Repeat(Bonus, deck.Bonuses)];

    /// <summary>What some cards of a hand are, for an equation.</summary>
    public static List<int> Cards(ReadOnlySpan<byte> hand, int set)
    {
        var cards = new List<int>();
        for (int i = 0; i < hand.Length; i++)
            if ((set >> i & 1) != 0) cards.Add(hand[i] == Wild ? HandEquations.Wild : hand[i]);
        return cards;
    }

    /// <summary>"How many together" of up to six cards.</summary>
    public static Ask Joined(ReadOnlySpan<byte> hand, int set, Form form, Support support)
    {
        ulong lanes = 0;
        int count = 0;
        for (; set != 0; set &= set - 1) (lanes, count) = (Lanes.Insert(lanes, hand[BitOperations.TrailingZeroCount(set)]), count + 1);
        return Ask.Join(lanes, count, form, support);
    }

    /// <summary>So many numbers can be asked for together.</summary>
    private const int MostJoined = 6;

    /// <summary>What stands in a row as it is read, behind what stands there already: what is put to it, and the complement of what is taken away.</summary>
    /// <returns>How many there are then.</returns>
    private static int InRow(Made made, Span<int> into, int count)
    {
        if (made.Sign == Operation.Plus) return InRow(made.Right!, into, InRow(made.Left!, into, count));
        if (made.Sign == Operation.Minus) into[count = InRow(made.Left!, into, count)] = ~(int)made.Right!.Value;
        else into[count] = (int)made.Value;
        return count + 1;
    }

    /// <summary>What an equation asks that makes a number: its last step, as it is read.</summary>
    public static Ask Asked(Made made, Form form, Support support)
    {
        const int mostAsked = 1000, mostOfMany = 127;
        if (made.Sign is not { } sign) return new(AskKind.Say, (int)made.Value, form, support: support);
        var (kind, left, right) = (sign == Operation.Times ? AskKind.Times : AskKind.Share, (int)made.Left!.Value, (int)made.Right!.Value);
        if (sign is Operation.Plus or Operation.Minus)
        {
            Span<int> numbers = stackalloc int[Most];
            numbers = numbers[..InRow(made, numbers, 0)];
            if (numbers.ContainsAnyInRange(int.MinValue, -1))
            {
                // 9 + 7 − 2: nine and seven are known when two go away.
                bool away = numbers[^1] < 0;
                right = away ? ~numbers[^1] : numbers[^1];
                (kind, left) = (away ? AskKind.Gone : AskKind.Join, (int)made.Value + (away ? right : -right));
                if (!away && right > left) (left, right) = (right, left);
            }
            else
            {
                numbers.Sort((a, b) => b - a);
                if (numbers.Length == 2 || numbers.Length <= MostJoined && numbers[0] <= mostOfMany) return new(AskKind.Join, numbers, form, support: support);
                kind = AskKind.Join;
            }
        }
        return Math.Max(left, right) > mostAsked ? new Ask(kind, 1, 1, form, support).WithoutNumbers(mostAsked) : new(kind, left, right, form, support);
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

    private readonly ConcurrentDictionary<ulong, HandValues> kept = [];
    private readonly ConcurrentDictionary<ulong, LaidCards[]> balancing = [];
    private readonly int most;

    private HandBook(IReadOnlyList<Operation> signs, int most) => (Signs, this.most, OnlyAdds) = (signs, most, signs is [Operation.Plus]);

    /// <param name="most">The largest step on the way; see <see cref="HandValues"/>.</param>
    public static HandBook Of(IReadOnlyList<Operation> signs, int most) => Books.GetOrAdd((string.Join(' ', signs), most), _ => new(signs, most));

    /// <summary>Hands that are dealt to learn how often something goes: fewer where it takes long to see.</summary>
    public int Deals(int cards) => OnlyAdds ? 4_000 : Math.Max(60, (int)(150_000 / Math.Pow(3, cards)));

    public IReadOnlyList<Operation> Signs { get; }

    /// <summary>Nothing but adding.</summary>
    public bool OnlyAdds { get; }

    public HandValues this[ReadOnlySpan<byte> hand]
    {
        get
        {
            ulong key = Key(hand);
            if (kept.TryGetValue(key, out var known)) return known;
            Room(hand.Length);
            return kept[key] = new HandValues(HandCards.Cards(hand, ~0), Signs, most);
        }
    }

    private static ulong Key(ReadOnlySpan<byte> hand)
    {
        ulong key = (ulong)hand.Length;
        foreach (byte card in hand) key = key << 6 | card;
        return key;
    }

    private static void Room(int cards)
    {
        if (Interlocked.Add(ref sets, 1 << cards) <= MostSets) return;
        foreach (var book in Books.Values)
        {
            book.kept.Clear();
            book.balancing.Clear();
        }
        Interlocked.Exchange(ref sets, 0);
    }

    /// <summary>The cards of a hand of which one is as much as others by these signs; of cards that are alike the first.</summary>
    /// <param name="upTo">Cards that are laid at most.</param>
    public LaidCards[] Balancing(ReadOnlySpan<byte> hand, int upTo)
    {
        ulong key = Key(hand) | (ulong)upTo << 56;
        if (balancing.TryGetValue(key, out var known)) return known;
        var values = this[hand];
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
        return balancing[key] = [.. all];
    }

    private static bool Makes(HandValues values, int others, int whole)
    {
        if (whole != HandCards.Wild) return values.Has(others, whole);
        for (int n = 1; n <= HandEquations.MostWild; n++)
            if (values.Has(others, n)) return true;
        return false;
    }
}

/// <summary>Which sets of a hand's cards make a target: added they are tried each time, else all that they make is kept.</summary>
/// <param name="most">Cards in an equation.</param>
/// <param name="largest">The largest target.</param>
internal sealed class TargetBook(IReadOnlyList<Operation> signs, int most, int largest, Form form, Support support)
{
    /// <summary>The most cards of a hand.</summary>
    public const int MostCards = 7;

    private readonly HandBook book = HandBook.Of(signs, largest > 127 ? 255 : 127);

    public HandBook Book => book;

    /// <summary>The sets of places that make the target.</summary>
    public HandSets Making(ReadOnlySpan<byte> hand, int target)
    {
        if (book.OnlyAdds) return HandSets.Joining(hand, target, most);
        var sets = new HandSets();
        var values = book[hand];
        for (int set = 1; set < 1 << hand.Length; set++)
            if (BitOperations.PopCount((uint)set) is var cards && cards >= 2 && cards <= most && values.Has(set, target)) sets.Add(set);
        return sets;
    }

    /// <summary>How many cards come into equations at most, and one of the sets by which they do; none where there is none.</summary>
    public static (int Set, int Used) Plan(in HandSets sets, int cards)
    {
        int full = (1 << cards) - 1;
        Span<int> best = stackalloc int[1 << cards], first = stackalloc int[1 << cards];
        for (int left = 1; left <= full; left++)
            for (int set = left; set > 0; set = set - 1 & left)
            {
                if (!sets.Has(set)) continue;
                int all = BitOperations.PopCount((uint)set) + best[left & ~set];
                if (all > best[left]) (best[left], first[left]) = (all, set);
            }
        return (first[full], best[full]);
    }

    public Made How(ReadOnlySpan<byte> hand, int set, int target) => book[hand].How(set, target)!;

    /// <summary>What a set asks that makes the target.</summary>
    public Ask Asked(ReadOnlySpan<byte> hand, int set, int target) =>
        book.OnlyAdds && hand[BitOperations.TrailingZeroCount(set)] != HandCards.Wild && BitOperations.PopCount((uint)set) <= 6 ? HandCards.Joined(hand, set, form, support) : HandCards.Asked(How(hand, set, target), form, support);
}
