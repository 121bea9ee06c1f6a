using System.Numerics;
using System.Runtime.CompilerServices;
using System.Runtime.Intrinsics.X86;

namespace Allowance.Core.Numbers;

/// <summary>Choosing among bits.</summary>
internal static class Bits
{
    /// <summary>1 or 0, without a branch: what cards show is hard to foretell.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static ulong If(bool holds) => (ulong)Unsafe.BitCast<bool, byte>(holds);

    /// <summary>The larger of two numbers that are less than 2³¹ apart, without a branch.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static int Max(int a, int b) => a - (a - b & a - b >> 31);

    /// <summary>The smaller of two numbers that are less than 2³¹ apart, without a branch.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static int Min(int a, int b) => b + (a - b & a - b >> 31);

    /// <summary>The position of the n-th set bit, counted from 0.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static int Nth(ulong bits, int n)
    {
        if (Bmi2.X64.IsSupported) return BitOperations.TrailingZeroCount(Bmi2.X64.ParallelBitDeposit(1UL << n, bits));
        for (; n > 0; n--) bits &= bits - 1;
        return BitOperations.TrailingZeroCount(bits);
    }
}

/// <summary>Up to eight numbers below 128 in one register, the largest first.</summary>
internal static class Lanes
{
    /// <summary>Puts a number among those that lie already.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static ulong Insert(ulong lanes, int number)
    {
        // Numbers stay below 128, so the top bit of each byte of the difference tells whether the lane is larger.
        ulong larger = (((ulong)(number | 128) * 0x0101_0101_0101_0101) - lanes & 0x8080_8080_8080_8080) ^ 0x8080_8080_8080_8080;
        int at = 8 * BitOperations.PopCount(larger);
        ulong below = (1UL << at) - 1;
        return lanes & below | (ulong)number << at | (lanes & ~below) << 8;
    }

    /// <summary>Some numbers that lie in bytes, up to eight, the first in the lowest.</summary>
    public static ulong Of(ReadOnlySpan<byte> numbers)
    {
        ulong lanes = 0;
        for (int i = 0; i < numbers.Length; i++) lanes |= (ulong)numbers[i] << 8 * i;
        return lanes;
    }

    /// <summary>Numbers below 64 in six bits each.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static ulong Packed(ulong lanes)
    {
        if (Bmi2.X64.IsSupported) return Bmi2.X64.ParallelBitExtract(lanes, 0x3F3F_3F3F_3F3F_3F3F);
        ulong packed = 0;
        for (int i = 0; i < 8; i++) packed |= (lanes >> 8 * i & 63) << 6 * i;
        return packed;
    }

    /// <summary>Takes numbers out by their places, as bits; those behind them move up.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static ulong Without(ulong lanes, int places)
    {
        if (Bmi2.X64.IsSupported) return Bmi2.X64.ParallelBitExtract(lanes, ~(Bmi2.X64.ParallelBitDeposit((uint)places, 0x0101_0101_0101_0101) * 255));
        ulong left = 0;
        for (int place = 0, at = 0; place < 8; place++)
            if ((places >> place & 1) == 0) left |= (lanes >> 8 * place & 255) << 8 * at++;
        return left;
    }
}
