using System.Diagnostics.CodeAnalysis;
using System.Numerics;
using System.Runtime.CompilerServices;
using Allowance.Core.Numbers;

namespace Allowance.Core.Games;

[InlineArray(64)]
internal struct SixtyFourCounts
{
    private short first;
}

/// <summary>How many cards there are of each number from 0 to 63, with sets of numbers as bits.</summary>
internal struct NumberBag
{
    /// <summary>Numbers as bits: there; the same mirrored (bit 63 − n); there at least twice.</summary>
    public ulong Present, Mirror, Twice;
    private SixtyFourCounts counts;

    public readonly int this[int number] => counts[number];

    /// <summary>By number, how many there are.</summary>
    [UnscopedRef]
    public readonly ReadOnlySpan<short> Counts => counts;

    public static NumberBag Of(ReadOnlySpan<byte> numbers)
    {
        var bag = default(NumberBag);
        foreach (byte number in numbers) bag.Add(number);
        return bag;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Add(int number)
    {
        ulong bit = 1UL << number;
        counts[number]++;
        Twice |= Present & bit;
        Present |= bit;
        Mirror |= 1UL << (63 - number);
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Remove(int number)
    {
        int left = --counts[number];
        Twice &= ~(Bits.If(left < 2) << number);
        Present &= ~(Bits.If(left == 0) << number);
        Mirror &= ~(Bits.If(left == 0) << (63 - number));
    }

    /// <summary>Whether one or more of these cards make the total, from 1 to 60.</summary>
    public readonly bool Makes(int total)
    {
        // A card or a pair settles most cases at once.
        ulong smaller = Present & Mirror >> (63 - total) & ((1UL << ((total + 1) / 2)) - 1);
        if (smaller != 0 || (Present >> total & 1) != 0) return true;
        return (Sums(total) >> total & 1) != 0;
    }

    /// <summary>The totals that some of these cards make, none for 0, as bits up to <paramref name="most"/>.</summary>
    public readonly ulong Sums(int most)
    {
        ulong reach = 1;
        for (ulong rest = Present & ((2UL << most) - 2); rest != 0; rest &= rest - 1)
        {
            int n = BitOperations.TrailingZeroCount(rest);
            for (int copies = Math.Min((int)counts[n], most / n); copies > 0; copies--) reach |= reach << n;
        }
        return reach;
    }
}
