using System.Numerics;
using System.Runtime.CompilerServices;

namespace Allowance.Core.Games;

/// <summary>A set of calls by their place in the list, up to <see cref="Most"/>.</summary>
internal readonly record struct CallSet(ulong A, ulong B, ulong C, ulong D)
{
    public const int Most = 256;

    public bool IsEmpty => (A | B | C | D) == 0;

    public int Count => BitOperations.PopCount(A) + BitOperations.PopCount(B) + BitOperations.PopCount(C) + BitOperations.PopCount(D);

    public static CallSet Of(int call)
    {
        ulong bit = 1UL << call;
        return (call >> 6) switch { 0 => new(bit, 0, 0, 0), 1 => new(0, bit, 0, 0), 2 => new(0, 0, bit, 0), _ => new(0, 0, 0, bit) };
    }

    public static CallSet Of(IEnumerable<int> calls) => calls.Aggregate(default(CallSet), (set, call) => set | Of(call));

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static CallSet operator |(CallSet x, CallSet y) => new(x.A | y.A, x.B | y.B, x.C | y.C, x.D | y.D);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static CallSet operator &(CallSet x, CallSet y) => new(x.A & y.A, x.B & y.B, x.C & y.C, x.D & y.D);

    /// <summary>Those of the first that are not in the second.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static CallSet operator -(CallSet x, CallSet y) => new(x.A & ~y.A, x.B & ~y.B, x.C & ~y.C, x.D & ~y.D);

    /// <summary>The n-th call of the set, counted from 0.</summary>
    public int Nth(int n)
    {
        int here = BitOperations.PopCount(A);
        if (n < here) return Bits.Nth(A, n);
        n -= here;
        here = BitOperations.PopCount(B);
        if (n < here) return 64 + Bits.Nth(B, n);
        n -= here;
        here = BitOperations.PopCount(C);
        return n < here ? 128 + Bits.Nth(C, n) : 192 + Bits.Nth(D, n - here);
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
