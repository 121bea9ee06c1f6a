using System.Numerics;
using System.Runtime.CompilerServices;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;

namespace Allowance.Core.Games;

/// <summary>A set of places, as of calls in a list or of cells on a board, below <see cref="Most"/>.</summary>
internal interface IPlaceSet<TSet> where TSet : struct, IPlaceSet<TSet>
{
    static abstract int Most { get; }

    bool IsEmpty { get; }

    int Count { get; }

    /// <summary>Its first place.</summary>
    int First { get; }

    static abstract TSet Of(int place);

    static abstract TSet operator |(TSet x, TSet y);

    static abstract TSet operator &(TSet x, TSet y);

    /// <summary>Those of the first that are not in the second.</summary>
    static abstract TSet operator -(TSet x, TSet y);

    /// <summary>The same set where it holds, else an empty one, without a branch.</summary>
    TSet If(bool holds);

    /// <summary>Its n-th place, counted from 0.</summary>
    int Nth(int n);
}

/// <summary>Few places in one register, as nearly every caller and board has.</summary>
internal readonly struct PlaceSet(ulong bits) : IPlaceSet<PlaceSet>
{
    private readonly ulong bits = bits;

    public static int Most => 64;

    public bool IsEmpty => bits == 0;

    public int Count => BitOperations.PopCount(bits);

    public int First => BitOperations.TrailingZeroCount(bits);

    public static PlaceSet Of(int place) => new(1UL << place);

    public static PlaceSet operator |(PlaceSet x, PlaceSet y) => new(x.bits | y.bits);

    public static PlaceSet operator &(PlaceSet x, PlaceSet y) => new(x.bits & y.bits);

    public static PlaceSet operator -(PlaceSet x, PlaceSet y) => new(x.bits & ~y.bits);

    public PlaceSet If(bool holds) => new(bits & (0 - Bits.If(holds)));

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Nth(int n) => Bits.Nth(bits, n);
}

/// <summary>Twice as many places.</summary>
internal readonly struct TwoSets<THalf>(THalf low, THalf high) : IPlaceSet<TwoSets<THalf>> where THalf : struct, IPlaceSet<THalf>
{
    private readonly THalf low = low, high = high;

    public static int Most => 2 * THalf.Most;

    public bool IsEmpty
    {
        [MethodImpl(MethodImplOptions.AggressiveInlining)]
        get => (low | high).IsEmpty;
    }

    public int Count
    {
        [MethodImpl(MethodImplOptions.AggressiveInlining)]
        get => low.Count + high.Count;
    }

    public int First
    {
        [MethodImpl(MethodImplOptions.AggressiveInlining)]
        get => low.IsEmpty ? THalf.Most + high.First : low.First;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static TwoSets<THalf> Of(int place) => place < THalf.Most ? new(THalf.Of(place), default) : new(default, THalf.Of(place - THalf.Most));

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static TwoSets<THalf> operator |(TwoSets<THalf> x, TwoSets<THalf> y) => new(x.low | y.low, x.high | y.high);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static TwoSets<THalf> operator &(TwoSets<THalf> x, TwoSets<THalf> y) => new(x.low & y.low, x.high & y.high);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static TwoSets<THalf> operator -(TwoSets<THalf> x, TwoSets<THalf> y) => new(x.low - y.low, x.high - y.high);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public TwoSets<THalf> If(bool holds) => new(low.If(holds), high.If(holds));

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Nth(int n)
    {
        // In which half cannot be foreseen.
        int inLow = low.Count;
        bool further = n >= inLow;
        int beyond = -(int)Bits.If(further);
        return (low.If(!further) | high.If(further)).Nth(n - (inLow & beyond)) + (THalf.Most & beyond);
    }
}

/// <summary>What a caller remembers of one player.</summary>
internal struct CallMemory<TSet> where TSet : struct, IPlaceSet<TSet>
{
    /// <summary>What was called in this round of all calls, which is never all of them.</summary>
    public TSet Covered;

    /// <summary>The numbers called last, the newest in the lowest 16 bits, each one more than it is; 0 where there was none.</summary>
    private ulong lately;

    public readonly int Last => (ushort)lately;

    public readonly int Second => (ushort)(lately >> 16);

    public readonly int Third => (ushort)(lately >> 32);

    public readonly int Fourth => (ushort)(lately >> 48);

    public void Remember(ushort number) => lately = lately << 16 | number;

    public void ForgetNumbers() => lately = 0;
}

[InlineArray(Engine.MostInGroup)]
internal struct CallsGiven
{
    private byte first;
}

[InlineArray(Engine.MostSeats)]
internal struct CallMemories<TSet> where TSet : struct, IPlaceSet<TSet>
{
    private CallMemory<TSet> first;
}
