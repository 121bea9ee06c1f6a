using System.Numerics;
using System.Runtime.CompilerServices;
using Allowance.Core.Numbers;

namespace Allowance.Core.Forecasts;

/// <summary>
/// The ways in which what is left of a stock of bars makes a number, laid end to end. A way and a stock are how many bars
/// there are of each length, <see cref="Bits"/> bits each, the shortest lowest; what a way takes is within a stock.
/// </summary>
/// <remarks>
/// A number of few ways has them listed, so that one of them is found without counting them anew for each stock. Many Makes
/// at its defaults is simulated three times as fast by it.
/// </remarks>
internal sealed class BarWays
{
    /// <summary>Bits for the bars of one length, and the most of them: no number takes more.</summary>
    public const int Bits = 6, MostOfOne = (1 << Bits) - 1;

    public const int MostLengths = 64 / Bits, MostNumber = 60;

    /// <summary>A number that is made in more ways than this is counted anew each time.</summary>
    private const int MostListed = 400;

    /// <summary>Ways are tried so often before those that fit are counted.</summary>
    private const int Tries = 4;

    private const ulong Ones = 0x0041041041041041, TopOfEach = Ones << Bits - 1;

    private readonly int[] lengths;

    /// <summary>By number, its ways from the fewest bars to the most; null where they are too many.</summary>
    private readonly ulong[]?[] listed = new ulong[]?[MostNumber + 1];

    /// <summary>Up to here numbers are asked for.</summary>
    private readonly int highest;

    /// <summary>By length, the steps that find every sum of as many bars as the highest number takes.</summary>
    private readonly int[] steps;

    /// <param name="lengths">Rising, from 1; at most <see cref="MostLengths"/>.</param>
    /// <param name="numbers">As bits, the numbers up to <see cref="MostNumber"/> that will be asked for.</param>
    public BarWays(int[] lengths, ulong numbers)
    {
        this.lengths = lengths;
        highest = BitOperations.Log2(numbers);
        steps = [.. lengths.Select(l => BitOperations.Log2((uint)(highest / l)) + 1)];
        for (; numbers != 0; numbers &= numbers - 1)
        {
            int number = BitOperations.TrailingZeroCount(numbers);
            var ways = new List<ulong>();
            List(number, lengths.Length - 1, 0, ways);
            if (ways.Count <= MostListed) listed[number] = [.. ways.OrderBy(Bars)];
        }
    }

    private void List(int rest, int length, ulong way, List<ulong> into)
    {
        if (rest == 0) into.Add(way);
        else
            for (int used = 0; length >= 0 && used * lengths[length] <= rest && into.Count <= MostListed; used++)
                List(rest - used * lengths[length], length - 1, way + ((ulong)used << Bits * length), into);
    }

    /// <summary>How many bars a way takes.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static int Bars(ulong way) => (int)(way * Ones >> Bits * (MostLengths - 1)) & MostOfOne;

    /// <summary>How many bars of the <paramref name="length"/>-th length there are.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static int Of(ulong way, int length) => (int)(way >> Bits * length) & MostOfOne;

    /// <summary>No length is taken more often than there are bars of it: taking all away at once borrows from nowhere.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static bool Fits(ulong way, ulong stock) => ((~stock & way | (~stock | way) & stock - way) & TopOfEach) == 0;

    /// <summary>The numbers up to the highest that is asked for that a stock makes, as bits.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public ulong Makeable(ulong stock) => lengths[0] == 1 && Of(stock, 0) >= highest ? (2UL << highest) - 2 : MakeableOfMore(stock);

    private ulong MakeableOfMore(ulong stock)
    {
        // As long as no bar is longer by two than all shorter ones together, every number up to their sum is made.
        int upTo = 0;
        for (int i = 0; i < lengths.Length; i++)
        {
            if (lengths[i] > upTo + 1) break;
            upTo += lengths[i] * Of(stock, i);
            if (upTo >= highest) return (2UL << highest) - 2;
        }
        ulong reach = 1;
        for (int i = 0; i < steps.Length; i++)
        {
            int length = lengths[i], left = Of(stock, i);
            // Twice as many bars at a time, and the rest at once.
            for (int step = 0; step < steps[i]; step++)
            {
                int some = Math.Min(1 << step, left);
                reach |= reach << some * length;
                left -= some;
            }
        }
        return reach & (2UL << highest) - 2;
    }

    /// <summary>Any of the ways, each equally likely; the stock makes the number.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public ulong Any(ulong stock, int number, ref Rng rng)
    {
        if (listed[number] is { } ways)
            for (int i = 0; i < Tries; i++)
                if (ways[rng.Below(ways.Length)] is var way && Fits(way, stock)) return way;
        return OneOf(stock, number, (long)(rng.Unit() * Count(stock, number)));
    }

    /// <summary>In how many ways the stock makes the number.</summary>
    public long Count(ulong stock, int number)
    {
        if (listed[number] is { } ways)
        {
            int count = 0;
            foreach (ulong way in ways) count += Fits(way, stock) ? 1 : 0;
            return count;
        }
        Span<long> counts = stackalloc long[Cells(number)];
        Count(stock, number, counts);
        return counts[number];
    }

    /// <summary>One of the ways, by its number among them.</summary>
    public ulong OneOf(ulong stock, int number, long pick)
    {
        if (listed[number] is { } ways)
        {
            foreach (ulong way in ways)
                if (Fits(way, stock) && pick-- == 0) return way;
            throw new ArgumentOutOfRangeException(nameof(pick));
        }
        Span<long> counts = stackalloc long[Cells(number)];
        Count(stock, number, counts);
        return Walk(number, counts, pick);
    }

    /// <summary>One of the ways that is none of some; 0 where there is no other.</summary>
    public ulong OneBut(ulong stock, int number, ReadOnlySpan<ulong> some)
    {
        if (listed[number] is { } ways)
        {
            foreach (ulong way in ways)
                if (Fits(way, stock) && !IsOneOf(way, some)) return way;
            return 0;
        }
        Span<long> counts = stackalloc long[Cells(number)];
        Count(stock, number, counts);
        for (long pick = 0; pick < counts[number]; pick++)
            if (Walk(number, counts, pick) is var way && !IsOneOf(way, some)) return way;
        return 0;
    }

    /// <summary>They are few: gone through here, they are found sooner than by a call.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static bool IsOneOf(ulong way, ReadOnlySpan<ulong> some)
    {
        foreach (ulong one in some)
            if (one == way) return true;
        return false;
    }

    /// <summary>A way with the fewest bars; the stock makes the number.</summary>
    public ulong Fewest(ulong stock, int number)
    {
        if (listed[number] is { } ways)
            foreach (ulong way in ways)
                if (Fits(way, stock)) return way;
        return Extreme(stock, number, -1);
    }

    /// <summary>A way with the most bars; the stock makes the number.</summary>
    public ulong Most(ulong stock, int number)
    {
        if (listed[number] is { } ways)
            for (int i = ways.Length - 1; i >= 0; i--)
                if (Fits(ways[i], stock)) return ways[i];
        return Extreme(stock, number, 1);
    }

    /// <summary>A number for each length, and for none, and each sum up to the number.</summary>
    private int Cells(int number) => (lengths.Length + 1) * (number + 1);

    /// <summary>counts[i][sum]: in how many ways bars from the i-th length on make a sum; it comes with nothing but zeros.</summary>
    private void Count(ulong stock, int number, Span<long> counts)
    {
        int width = number + 1;
        counts[lengths.Length * width] = 1;
        for (int i = lengths.Length - 1; i >= 0; i--)
        {
            var here = counts.Slice(i * width, width);
            var after = counts.Slice((i + 1) * width, width);
            int length = lengths[i], drop = (Of(stock, i) + 1) * length;
            for (int sum = 0; sum < width; sum++) here[sum] = after[sum] + (sum >= length ? here[sum - length] : 0) - (sum >= drop ? after[sum - drop] : 0);
        }
    }

    private ulong Walk(int number, ReadOnlySpan<long> counts, long pick)
    {
        int width = number + 1, sum = number;
        ulong way = 0;
        for (int i = 0; i < lengths.Length; i++)
            for (int used = 0; ; used++)
            {
                long rest = counts[(i + 1) * width + sum - used * lengths[i]];
                if (pick < rest)
                {
                    way |= (ulong)used << Bits * i;
                    sum -= used * lengths[i];
                    break;
                }
                pick -= rest;
            }
        return way;
    }

    /// <param name="each">What a bar counts: 1 finds the most bars, −1 the fewest.</param>
    private ulong Extreme(ulong stock, int number, int each)
    {
        int n = lengths.Length, width = number + 1;
        Span<int> bars = stackalloc int[Cells(number)];
        bars.Fill(-1000);
        bars[n * width] = 0;
        for (int i = n - 1; i >= 0; i--)
            for (int sum = 0; sum < width; sum++)
                for (int used = 0; used <= Of(stock, i) && used * lengths[i] <= sum; used++)
                    bars[i * width + sum] = Math.Max(bars[i * width + sum], bars[(i + 1) * width + sum - used * lengths[i]] + each * used);
        ulong way = 0;
        for (int i = 0, sum = number; i < n; i++)
            for (int used = 0; used * lengths[i] <= sum; used++)
            {
                if (bars[i * width + sum] != bars[(i + 1) * width + sum - used * lengths[i]] + each * used) continue;
                way |= (ulong)used << Bits * i;
                sum -= used * lengths[i];
                break;
            }
        return way;
    }
}
