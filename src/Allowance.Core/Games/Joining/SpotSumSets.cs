using System.Numerics;
using Allowance.Core.Numbers;

namespace Allowance.Core.Games;

/// <summary>Which cards of Sum Search come to a number that is called. Cards that are alike make the same set.</summary>
internal static class SpotSumSets
{
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
    private static ulong Larger(in NumberBag bag, Called op, int number)
    {
        if (op == Called.Difference) return number == 0 ? bag.Twice : bag.Present & bag.Present << number;
        // Of a sum that the mirrored numbers reach, all at once.
        if (op == Called.Sum && number < 64) return bag.Present & bag.Mirror >> 63 - number & ~((2UL << number / 2) - 1) | (number % 2 == 0 ? bag.Twice & 1UL << number / 2 : 0);
        ulong larger = 0;
        for (ulong rest = bag.Present; rest != 0; rest &= rest - 1)
        {
            int b = BitOperations.TrailingZeroCount(rest), a = Smaller(op, number, b);
            if (a >= 0 && a <= b && SpotSumTable.Come(op, 2, a, b, 0) == number && ((a == b ? bag.Twice : bag.Present) >> a & 1) != 0) larger |= 1UL << b;
        }
        return larger;
    }

    /// <summary>What the larger number of a pair needs to come to a number; of 0 times 0, which any would do, 0.</summary>
    private static int Smaller(Called op, int number, int larger) => op switch { Called.Sum => number - larger, Called.Difference => larger - number, _ => larger == 0 ? 0 : number / larger };
}
