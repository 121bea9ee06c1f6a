using System.Numerics;
using System.Runtime.CompilerServices;
using System.Runtime.Intrinsics;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;

namespace Allowance.Core.Games;

/// <summary>Cards lying open: which numbers, and at which places each lies, as bits.</summary>
internal struct OpenCards
{
    public NumberBag Numbers;
    public SixtyFourSets At;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Put(int place, int number)
    {
        Numbers.Add(number);
        At[number] |= 1UL << place;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Lift(int place, int number)
    {
        Numbers.Remove(number);
        At[number] &= ~(1UL << place);
    }

    /// <summary>The lowest places of so many cards with this number, as bits.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public readonly ulong Lowest(int number, int count)
    {
        ulong at = At[number], items = 0;
        for (; count > 0; count--, at &= at - 1) items |= at & (0 - at);
        return items;
    }
}

/// <summary>
/// The sets of two or more cards of a pack that make a target, at most 128, so that one pass over the numbers tells which
/// of them lie open: for each number and each count of it, the sets that need no more are kept as bits.
/// </summary>
internal sealed class SetPatterns
{
    private const int Most = 128, MostOfANumber = 15;

    private readonly int[] numbers;

    // One set in a register: four bits for each number from 0 to 15 say how many of it are needed.
    private readonly ulong[] needs;
    private readonly Vector128<ulong>[] fitting;

    private SetPatterns(int[] numbers, ulong[] needs)
    {
        (this.numbers, this.needs) = (numbers, needs);
        fitting = [.. Enumerable.Range(0, 16 * 16).Select(i => Vector128.Create(Fitting(i >> 4, i & 15, 0), Fitting(i >> 4, i & 15, 64)))];
    }

    /// <summary>Null where the sets are too many, or their numbers too large.</summary>
    public static SetPatterns? Of(IReadOnlyDictionary<int, int> counts, int target)
    {
        if (target > 15 || counts.GetValueOrDefault(0) > MostOfANumber) return null;
        int[] numbers = [.. counts.Keys.Where(n => n <= target).Order()];
        var found = new List<ulong>();
        Extend(0, target, 0, 0);
        return found.Count > Most ? null : new(numbers, [.. found]);

        void Extend(int i, int left, int cards, ulong need)
        {
            if (found.Count > Most) return;
            if (i == numbers.Length)
            {
                if (left == 0 && cards >= 2) found.Add(need);
                return;
            }
            for (int k = 0; k <= counts[numbers[i]] && k * numbers[i] <= left; k++)
                Extend(i + 1, left - k * numbers[i], cards + k, need | (ulong)k << (4 * numbers[i]));
        }
    }

    /// <summary>Those of 64 sets that need no more than so many of a number.</summary>
    private ulong Fitting(int number, int have, int from)
    {
        ulong fit = 0;
        for (int i = from; i < Math.Min(from + 64, needs.Length); i++)
            if ((int)(needs[i] >> (4 * number) & 15) <= have) fit |= 1UL << (i - from);
        return fit;
    }

    public int Count => needs.Length;

    /// <summary>The set of these numbers.</summary>
    public int Find(ReadOnlySpan<byte> set)
    {
        ulong need = 0;
        foreach (byte number in set) need += 1UL << (4 * number);
        return Array.IndexOf(needs, need);
    }

    /// <summary>The sets that lie open, as bits.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public Vector128<ulong> Lying(in NumberBag bag)
    {
        var lying = Vector128<ulong>.AllBitsSet;
        foreach (int number in numbers) lying &= fitting[16 * number + Math.Min(bag[number], MostOfANumber)];
        return lying;
    }

    /// <summary>Draws one of the sets that lie open, each equally likely; its number is the <see cref="Move.Pick"/>.</summary>
    public Move Draw(in OpenCards cards, Vector128<ulong> lying, ref Rng rng)
    {
        ulong lows = lying[0], highs = lying[1];
        int count = BitOperations.PopCount(lows), pick = rng.Below(count + BitOperations.PopCount(highs));
        int set = pick < count ? Bits.Nth(lows, pick) : 64 + Bits.Nth(highs, pick - count), number = 0;
        ulong items = 0;
        for (ulong need = needs[set]; need != 0; need &= ~(15UL << (4 * number)))
        {
            number = BitOperations.TrailingZeroCount(need) >> 2;
            items |= cards.Lowest(number, (int)(need >> (4 * number)) & 15);
        }
        return new(items, set, BitOperations.TrailingZeroCount(cards.At[number]));
    }
}

/// <summary>Sets of two or more cards that make a target, found by counting. Cards that are alike make the same set.</summary>
internal static class CardSets
{
    /// <summary>No screen shows more.</summary>
    private const int MostListed = 500;

    /// <summary>The sums up to the target that one card, and that two or more cards, of these can make, as bits.</summary>
    public static (ulong One, ulong More) Sums(IEnumerable<KeyValuePair<int, int>> counts, int target)
    {
        ulong one = 0, more = 0;
        foreach (var (n, count) in counts)
            for (int copies = n > target ? 0 : Math.Min(count, n == 0 ? 2 : target / n); copies > 0; copies--)
            {
                more |= (more | one) << n;
                one |= 1UL << n;
            }
        return (one, more);
    }

    public static bool Open(in NumberBag bag, int target)
    {
        ulong one = 0, more = 0;
        for (ulong rest = bag.Present & ((2UL << target) - 1); rest != 0; rest &= rest - 1)
        {
            int n = BitOperations.TrailingZeroCount(rest);
            for (int copies = n == 0 ? Math.Min(2, bag[n]) : Math.Min(bag[n], target / n); copies > 0; copies--)
            {
                more |= (more | one) << n;
                one |= 1UL << n;
            }
        }
        return (more >> target & 1) != 0;
    }

    /// <summary>The numbers up to the target that lie open, rising.</summary>
    private static int Numbers(in NumberBag bag, int target, Span<int> numbers)
    {
        int n = 0;
        for (ulong rest = bag.Present & ((2UL << target) - 1); rest != 0; rest &= rest - 1) numbers[n++] = BitOperations.TrailingZeroCount(rest);
        return n;
    }

    /// <summary>
    /// Draws one of the sets evenly: ways[i][t] counts the sets of numbers i, i + 1 … that make t. The single card that
    /// equals the target would be the first in this order, and is passed over.
    /// </summary>
    public static Move Draw(in OpenCards cards, int target, ref Rng rng)
    {
        Span<int> numbers = stackalloc int[32];
        int n = Numbers(in cards.Numbers, target, numbers), width = target + 1;
        // At most 31 numbers from 0 to 30, and sums from 0 to 30.
        Span<int> ways = stackalloc int[32 * 31];
        ways[..((n + 1) * width)].Clear();
        ways[n * width] = 1;
        for (int i = n - 1; i >= 0; i--)
        {
            int number = numbers[i], copies = cards.Numbers[number];
            var here = ways.Slice(i * width, width);
            var after = ways.Slice((i + 1) * width, width);
            if (number == 0)
            {
                for (int t = 0; t < width; t++) here[t] = after[t] * (copies + 1);
                continue;
            }
            int drop = (copies + 1) * number;
            for (int t = 0; t < width; t++)
                here[t] = after[t] + (t >= number ? here[t - number] : 0) - (t >= drop ? after[t - drop] : 0);
        }
        int single = cards.Numbers[target] > 0 ? 1 : 0;
        int pick = single + rng.Below(ways[target] - single);
        SixtyFour need = default;
        for (int i = 0, t = target; i < n; i++)
            for (int k = 0; ; k++)
            {
                int w = ways[(i + 1) * width + t - k * numbers[i]];
                if (pick < w)
                {
                    need[numbers[i]] = (byte)k;
                    t -= k * numbers[i];
                    break;
                }
                pick -= w;
            }
        return Collect(in cards, in need);
    }

    /// <summary>A set with the most cards.</summary>
    public static Move Largest(in OpenCards cards, int target)
    {
        Span<int> numbers = stackalloc int[32];
        int n = Numbers(in cards.Numbers, target, numbers), width = target + 1;
        Span<int> most = stackalloc int[32 * 31];
        most[..((n + 1) * width)].Fill(-1000);
        most[n * width] = 0;
        for (int i = n - 1; i >= 0; i--)
            for (int t = 0; t < width; t++)
                for (int k = 0; k <= cards.Numbers[numbers[i]] && k * numbers[i] <= t; k++)
                    most[i * width + t] = Math.Max(most[i * width + t], most[(i + 1) * width + t - k * numbers[i]] + k);
        SixtyFour need = default;
        for (int i = 0, t = target; i < n; i++)
            for (int k = 0; k <= cards.Numbers[numbers[i]] && k * numbers[i] <= t; k++)
            {
                if (most[i * width + t] != most[(i + 1) * width + t - k * numbers[i]] + k) continue;
                need[numbers[i]] = (byte)k;
                t -= k * numbers[i];
                break;
            }
        return Collect(in cards, in need);
    }

    /// <summary>Every set, each once; at most 500 of them.</summary>
    public static IReadOnlyList<Move> All(in OpenCards cards, int target)
    {
        Span<int> open = stackalloc int[32];
        int[] numbers = open[..Numbers(in cards.Numbers, target, open)].ToArray();
        var lying = cards;
        var moves = new List<Move>();
        Extend(0, target, 0, default);
        return moves;

        void Extend(int i, int left, int count, SixtyFour need)
        {
            if (moves.Count >= MostListed) return;
            if (i == numbers.Length)
            {
                if (left == 0 && count >= 2) moves.Add(Collect(in lying, in need));
                return;
            }
            for (int k = 0; k <= lying.Numbers[numbers[i]] && k * numbers[i] <= left; k++)
            {
                need[numbers[i]] = (byte)k;
                Extend(i + 1, left - k * numbers[i], count + k, need);
            }
        }
    }

    /// <summary>The move that takes these cards; the largest is seen first.</summary>
    private static Move Collect(in OpenCards cards, in SixtyFour need)
    {
        ulong items = 0;
        int largest = 0;
        for (ulong rest = cards.Numbers.Present; rest != 0; rest &= rest - 1)
        {
            int number = BitOperations.TrailingZeroCount(rest);
            if (need[number] == 0) continue;
            items |= cards.Lowest(number, need[number]);
            largest = number;
        }
        return new(items, -1, BitOperations.TrailingZeroCount(cards.At[largest]));
    }
}
