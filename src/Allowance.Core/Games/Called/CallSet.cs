using System.Numerics;
using System.Runtime.CompilerServices;
using System.Runtime.Intrinsics;
using Allowance.Core.Numbers;

namespace Allowance.Core.Games;

/// <summary>A set of calls by their place in the list, up to <see cref="Most"/>, in one wide register.</summary>
internal readonly struct CallSet(Vector256<ulong> bits)
{
    public const int Most = 256;

    private readonly Vector256<ulong> bits = bits;

    public bool IsEmpty
    {
        [MethodImpl(MethodImplOptions.AggressiveInlining)]
        get => bits == Vector256<ulong>.Zero;
    }

    public static CallSet Of(int call) => new(Vector256<ulong>.Zero.WithElement(call >> 6, 1UL << call));

    public static CallSet Of(IEnumerable<int> calls) => calls.Aggregate(default(CallSet), (set, call) => set | Of(call));

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static CallSet operator |(CallSet x, CallSet y) => new(x.bits | y.bits);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static CallSet operator &(CallSet x, CallSet y) => new(x.bits & y.bits);

    /// <summary>Those of the first that are not in the second.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static CallSet operator -(CallSet x, CallSet y) => new(Vector256.AndNot(x.bits, y.bits));

    /// <summary>One of the calls, each equally likely.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Any(ref Rng rng)
    {
        ulong a = bits.GetElement(0), b = bits.GetElement(1);
        int inA = BitOperations.PopCount(a), inB = BitOperations.PopCount(b);
        ulong c = bits.GetElement(2), d = bits.GetElement(3);
        int inC = BitOperations.PopCount(c), n = rng.Below(inA + inB + inC + BitOperations.PopCount(d));
        if (n < inA) return Bits.Nth(a, n);
        if ((n -= inA) < inB) return 64 + Bits.Nth(b, n);
        return (n -= inB) < inC ? 128 + Bits.Nth(c, n) : 192 + Bits.Nth(d, n - inC);
    }
}

/// <summary>What a caller remembers of one player: what was called in this round of all calls, and the numbers called last.</summary>
internal struct CallMemory
{
    public CallSet Covered;

    /// <summary>The numbers called last, the newest first, each one more than it is; 0 where there was none.</summary>
    public short Last, Second, Third;
}

[InlineArray(CallMemories.Seats)]
internal struct CallMemories
{
    public const int Seats = 8;

    private CallMemory first;
}
