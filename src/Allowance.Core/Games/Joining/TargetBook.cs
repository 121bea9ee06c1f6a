using System.Numerics;
using System.Runtime.CompilerServices;
using Allowance.Core.Asks;
using Allowance.Core.Forecasts;
using Allowance.Core.Forms;
using Allowance.Core.Numbers;
using Allowance.Core.Setups;

namespace Allowance.Core.Games;

/// <summary>Which sets of a hand's cards make a target: added they are tried each time, else all that they make is kept.</summary>
/// <param name="most">Cards in an equation.</param>
/// <param name="largest">The largest target.</param>
internal sealed class TargetBook(IReadOnlyList<Operation> signs, int most, int largest, Form form, Support support)
{
    /// <summary>The most cards of a hand.</summary>
    public const int MostCards = 7;

    private readonly HandBook book = HandBook.Of(signs, largest > 127 ? 255 : 127);

    public HandBook Book => book;

    /// <summary>The sets of places that make the target; of cards that are alike the first.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public HandSets Making(OneHand hand, int target)
    {
        if (hand.Count < 2) return default;
        if (!book.OnlyAdds) return HandSets.Making(hand.Count, book.Makes(hand), target, most);
        var sets = HandSets.Joining(hand.Cards, target, most);
        sets.KeepFirstOfAlike(hand.Cards);
        return sets;
    }

    /// <summary>How many cards come into equations at most, and one of the sets by which they do; none where there is none.</summary>
    /// <param name="making">The sets that make the target; of cards that are alike the first.</param>
    public static (int Set, int Used) Plan(in HandSets making, ReadOnlySpan<byte> hand)
    {
        int full = (1 << hand.Length) - 1;
        var all = default(HandSets);
        for (int set = 1; set <= full; set++)
            if (making.Has(HandValues.FirstOfAlike(hand, set))) all.Add(set);
        Span<int> best = stackalloc int[full + 1], first = stackalloc int[full + 1];
        for (int left = 1; left <= full; left++)
            for (int set = left; set > 0; set = set - 1 & left)
            {
                if (!all.Has(set)) continue;
                int used = BitOperations.PopCount((uint)set) + best[left & ~set];
                if (used > best[left]) (best[left], first[left]) = (used, set);
            }
        return (HandValues.FirstOfAlike(hand, first[full]), best[full]);
    }

    public Made How(ReadOnlySpan<byte> hand, int set, int target) => book[hand].How(set, target)!;

    /// <summary>What a set asks that makes the target; of cards that are alike it takes the first.</summary>
    public Ask Asked(OneHand hand, int set, int target)
    {
        if (book.OnlyAdds)
            return hand.Cards[BitOperations.TrailingZeroCount(set)] != HandCards.Wild && BitOperations.PopCount((uint)set) <= 6 ? HandCards.Joined(hand.Cards, set, form, support) : HandCards.Asked(How(hand.Cards, set, target), form, support);
        // The same cards ask the same in any hand.
        ref long known = ref book.Asked(new(Lanes.Without(hand.Lanes, ~set & (1 << hand.Count) - 1), BitOperations.PopCount((uint)set)), target);
        if (known == 0) known = HandCards.Asked(How(hand.Cards, set, target), Form.None, Support.None).Code;
        return Ask.FromCode(known).In(form, support);
    }
}
