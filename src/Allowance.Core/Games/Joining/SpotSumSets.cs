using System.Numerics;
using System.Runtime.CompilerServices;
using Allowance.Core.Numbers;

namespace Allowance.Core.Games;

/// <summary>Which cards of Sum Search come to a number that is called. Cards that are alike make the same set.</summary>
internal static class SpotSumSets
{
    /// <summary>By product, the larger numbers of all pairs below 64 that come to it, as bits.</summary>
    private static readonly ulong[] Factors = FactorsOf();

    private static ulong[] FactorsOf()
    {
        const int largest = 63;
        var factors = new ulong[largest * largest + 1];
        for (int b = 0; b <= largest; b++)
            for (int a = 0; a <= b; a++) factors[a * b] |= 1UL << b;
        return factors;
    }

    /// <summary>One of the sets, each equally likely.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static (int A, int B, int C) Any(in NumberBag bag, Called op, int count, int number, ref Rng rng)
    {
        if (count == 2)
        {
            ulong larger = Larger(in bag, op, number);
            int b = Bits.Nth(larger, rng.Below(BitOperations.PopCount(larger)));
            return (Smaller(op, number, b), b, 0);
        }
        Find(in bag, op, count, number, rng.Below(Find(in bag, op, count, number, -1, out _)), out var set);
        return set;
    }

    /// <summary>The sets of two or three numbers that come to one, counted; and one of them, the numbers rising.</summary>
    /// <param name="wanted">Which of them, from 0; below 0 where they are only counted.</param>
    public static int Find(in NumberBag bag, Called op, int count, int number, int wanted, out (int A, int B, int C) set)
    {
        set = default;
        if (count == 2)
        {
            ulong larger = Larger(in bag, op, number);
            int pairs = BitOperations.PopCount(larger);
            if (wanted >= 0 && wanted < pairs && Bits.Nth(larger, wanted) is var b) set = (Smaller(op, number, b), b, 0);
            return pairs;
        }
        int found = 0;
        for (ulong largest = bag.Present; largest != 0; largest &= largest - 1)
        {
            int c = BitOperations.TrailingZeroCount(largest), rest = op == Called.Sum ? number - c : c == 0 ? number : number / c;
            if (rest < 0 || SpotSumTable.Come(op, 2, rest, c, 0) != number) continue;
            ulong seconds = Larger(in bag, op, rest) & (2UL << c) - 1;
            // A second and a third card of one number must be there.
            if ((seconds >> c & 1) != 0 && bag[c] < (Smaller(op, rest, c) == c ? 3 : 2)) seconds &= ~(1UL << c);
            int sets = BitOperations.PopCount(seconds);
            if (wanted >= found && wanted < found + sets)
            {
                int b = Bits.Nth(seconds, wanted - found);
                set = (Smaller(op, rest, b), b, c);
                return found + 1;
            }
            found += sets;
        }
        return found;
    }

    /// <summary>The larger numbers of the pairs that lie there and come to a number, as bits.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static ulong Larger(in NumberBag bag, Called op, int number)
    {
        if (op == Called.Difference) return number == 0 ? bag.Twice : bag.Present & bag.Present << number;
        // Of a sum that the mirrored numbers reach, all at once.
        if (op == Called.Sum && number < 64) return bag.Present & bag.Mirror >> 63 - number & ~((2UL << number / 2) - 1) | (number % 2 == 0 ? bag.Twice & 1UL << number / 2 : 0);
        return op == Called.Product ? LargerFactors(in bag, number) : LargerAddends(in bag, number);
    }

    private static ulong LargerFactors(in NumberBag bag, int number)
    {
        ulong larger = 0;
        for (ulong rest = number < Factors.Length ? bag.Present & Factors[number] : 0; rest != 0; rest &= rest - 1)
        {
            int b = BitOperations.TrailingZeroCount(rest), a = Smaller(Called.Product, number, b);
            larger |= ((a == b ? bag.Twice : bag.Present) >> a & 1) << b;
        }
        return larger;
    }

    /// <summary>Of a sum that the mirrored numbers do not reach.</summary>
    private static ulong LargerAddends(in NumberBag bag, int number)
    {
        ulong larger = 0;
        for (ulong rest = bag.Present; rest != 0; rest &= rest - 1)
        {
            int b = BitOperations.TrailingZeroCount(rest), a = number - b;
            if (a >= 0 && a <= b) larger |= ((a == b ? bag.Twice : bag.Present) >> a & 1) << b;
        }
        return larger;
    }

    /// <summary>What the larger number of a pair needs to come to a number; of 0 times 0, which any would do, 0.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static int Smaller(Called op, int number, int larger) => op switch { Called.Sum => number - larger, Called.Difference => larger - number, _ => larger == 0 ? 0 : number / larger };
}
