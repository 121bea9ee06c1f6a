using System.Runtime.CompilerServices;
using Allowance.Core.Asks;
using Allowance.Core.Numbers;

namespace Allowance.Core.Rules;

[InlineArray(6)]
internal struct SixSeconds
{
    private float first;
}

/// <summary>How a player answers one ask: the chance of each outcome and the seconds each takes.</summary>
public readonly struct Answering
{
    /// <summary>Cumulated chances in units of 2⁻³², so that one random number picks an outcome without a branch.</summary>
    private readonly uint upTo0, upTo1, upTo2, upTo3, upTo4;
    private readonly SixSeconds seconds;

    /// <summary>The chance of being right without help.</summary>
    public float Right { get; }

    /// <summary>Mean seconds of a right answer.</summary>
    public float SecondsRight { get; }

    /// <param name="chances">The chance of each of the six outcomes; they add to 1.</param>
    /// <param name="seconds">The seconds each outcome takes.</param>
    public Answering(ReadOnlySpan<double> chances, ReadOnlySpan<double> seconds)
    {
        double sum = 0, right = 0, time = 0;
        upTo0 = Bound(ref sum, chances[0]);
        upTo1 = Bound(ref sum, chances[1]);
        upTo2 = Bound(ref sum, chances[2]);
        upTo3 = Bound(ref sum, chances[3]);
        upTo4 = Bound(ref sum, chances[4]);
        for (int i = 0; i < 6; i++)
        {
            this.seconds[i] = (float)seconds[i];
            if (i < (int)Outcome.CountedAll) continue;
            right += chances[i];
            time += chances[i] * seconds[i];
        }
        Right = (float)right;
        SecondsRight = (float)(right > 0 ? time / right : seconds[5]);
    }

    /// <summary>Draws an outcome with one random number.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public Outcome Draw(ref Rng rng)
    {
        uint u = (uint)(rng.Next() >> 32);
        return (Outcome)(AtLeast(u, upTo0) + AtLeast(u, upTo1) + AtLeast(u, upTo2) + AtLeast(u, upTo3) + AtLeast(u, upTo4));
    }

    private static uint Bound(ref double sum, double chance) => (uint)Math.Min(uint.MaxValue, Math.Round((sum += chance) * 4294967296.0));

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static int AtLeast(uint u, uint bound) => u >= bound ? 1 : 0;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public float Seconds(Outcome outcome) => seconds[(int)outcome];
}

/// <summary>Who answers at each seat, and how well.</summary>
public interface IAnswers
{
    Answering For(int seat, Ask ask);
}
