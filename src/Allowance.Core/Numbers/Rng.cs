using System.Runtime.CompilerServices;

namespace Allowance.Core.Numbers;

/// <summary>
/// A small, copyable generator of random numbers (SplitMix64, Steele, Lea and Flood 2014). The same seed gives the
/// same numbers on every machine; a copy goes on independently of its original.
/// </summary>
public struct Rng
{
    private const ulong Gamma = 0x9E3779B97F4A7C15UL;

    /// <summary>Gamma times this is 1 modulo 2⁶⁴.</summary>
    private const ulong GammaInverse = 0xF1DE83E19937733DUL;

    private ulong state;

    // Worked out one call ahead, so that nobody waits for it.
    private ulong next;

    public Rng(ulong seed)
    {
        state = seed + Gamma;
        next = Mix(state);
    }

    /// <summary>A generator for the <paramref name="index"/>-th game of a series, unrelated to its neighbours.</summary>
    public static Rng ForGame(long seed, long index) => new(Mix((ulong)seed * Gamma ^ Mix((ulong)index + 0x632BE59BD9B4E019UL)));

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public ulong Next()
    {
        ulong drawn = next;
        next = Mix(state += Gamma);
        return drawn;
    }

    /// <summary>A whole number from 0 to <paramref name="bound"/> − 1; the bias is below 2⁻²⁶ for the bounds used here.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Below(int bound) => (int)(((Next() >> 32) * (ulong)bound) >> 32);

    /// <summary>A number from 0 (included) to 1 (excluded).</summary>
    public double Unit() => (Next() >> 11) * (1.0 / (1UL << 53));

    /// <summary>A normal deviate with mean 0 and standard deviation 1 (Box and Muller).</summary>
    public double Normal() => Math.Sqrt(-2 * Math.Log(1 - Unit())) * Math.Cos(2 * Math.PI * Unit());

    /// <summary>The numbers from 0 to <paramref name="n"/> − 1 in any order, each equally likely.</summary>
    public int[] Order(int n)
    {
        int[] order = [.. Enumerable.Range(0, n)];
        for (int i = n - 1; i > 0; i--)
        {
            int j = Below(i + 1);
            (order[i], order[j]) = (order[j], order[i]);
        }
        return order;
    }

    /// <summary>How many numbers were drawn since <paramref name="start"/>, an earlier copy of this generator.</summary>
    public readonly long DrawsSince(Rng start) => (long)((state - start.state) * GammaInverse);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static ulong Mix(ulong z)
    {
        z = (z ^ (z >> 30)) * 0xBF58476D1CE4E5B9UL;
        z = (z ^ (z >> 27)) * 0x94D049BB133111EBUL;
        return z ^ (z >> 31);
    }
}
