using System.Numerics;
using System.Runtime.CompilerServices;
using System.Runtime.Intrinsics;
using Allowance.Core.Numbers;

namespace Allowance.Core.Games;

/// <summary>A set of calls by their place in the list.</summary>
internal interface ICallSet<TSet> where TSet : struct, ICallSet<TSet>
{
    bool IsEmpty { get; }

    static abstract TSet Of(int call);

    static abstract TSet operator |(TSet x, TSet y);

    static abstract TSet operator &(TSet x, TSet y);

    /// <summary>Those of the first that are not in the second.</summary>
    static abstract TSet operator -(TSet x, TSet y);

    /// <summary>The place of its first call.</summary>
    int First { get; }

    /// <summary>The same set where it holds, else an empty one: without a branch, since what comes up cannot be foreseen.</summary>
    TSet If(bool holds);

    /// <summary>One of the calls, each equally likely.</summary>
    int Any(ref Rng rng);
}

/// <summary>Of up to <see cref="Most"/> calls, as nearly every caller has.</summary>
internal readonly struct FewCalls(ulong bits) : ICallSet<FewCalls>
{
    public const int Most = 64;

    private readonly ulong bits = bits;

    public bool IsEmpty => bits == 0;

    public int First => BitOperations.TrailingZeroCount(bits);

    public FewCalls If(bool holds) => new(bits & (0 - Bits.If(holds)));

    public static FewCalls Of(int call) => new(1UL << call);

    public static FewCalls operator |(FewCalls x, FewCalls y) => new(x.bits | y.bits);

    public static FewCalls operator &(FewCalls x, FewCalls y) => new(x.bits & y.bits);

    public static FewCalls operator -(FewCalls x, FewCalls y) => new(x.bits & ~y.bits);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Any(ref Rng rng) => Bits.Nth(bits, rng.Below(BitOperations.PopCount(bits)));
}

/// <summary>Of up to <see cref="Most"/> calls, in one wide register.</summary>
internal readonly struct ManyCalls(Vector256<ulong> bits) : ICallSet<ManyCalls>
{
    public const int Most = 256;

    private readonly Vector256<ulong> bits = bits;

    public bool IsEmpty
    {
        [MethodImpl(MethodImplOptions.AggressiveInlining)]
        get => bits == Vector256<ulong>.Zero;
    }

    public int First
    {
        [MethodImpl(MethodImplOptions.AggressiveInlining)]
        get
        {
            int word = BitOperations.TrailingZeroCount(~Vector256.Equals(bits, Vector256<ulong>.Zero).ExtractMostSignificantBits());
            return 64 * word + BitOperations.TrailingZeroCount(bits[word & 3]);
        }
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public ManyCalls If(bool holds) => new(bits & Vector256.Create(0 - Bits.If(holds)));

    public static ManyCalls Of(int call) => new(Vector256<ulong>.Zero.WithElement(call >> 6, 1UL << call));

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static ManyCalls operator |(ManyCalls x, ManyCalls y) => new(x.bits | y.bits);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static ManyCalls operator &(ManyCalls x, ManyCalls y) => new(x.bits & y.bits);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static ManyCalls operator -(ManyCalls x, ManyCalls y) => new(Vector256.AndNot(x.bits, y.bits));

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

/// <summary>What a caller remembers of one player.</summary>
internal struct CallMemory<TSet> where TSet : struct, ICallSet<TSet>
{
    /// <summary>What was called in this round of all calls.</summary>
    public TSet Covered;

    /// <summary>The numbers called last, the newest in the lowest 16 bits, each one more than it is; 0 where there was none.</summary>
    private ulong lately;

    public readonly int Last => (ushort)lately;

    public readonly int Second => (ushort)(lately >> 16);

    public readonly int Third => (ushort)(lately >> 32);

    public void Remember(ushort number) => lately = lately << 16 | number;
}

[InlineArray(Engine.MostInGroup)]
internal struct CallsGiven
{
    private byte first;
}

[InlineArray(Engine.MostSeats)]
internal struct CallMemories<TSet> where TSet : struct, ICallSet<TSet>
{
    private CallMemory<TSet> first;
}
