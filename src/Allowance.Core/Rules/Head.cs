using System.Numerics;
using System.Runtime.CompilerServices;

namespace Allowance.Core.Rules;

/// <summary>What every state begins with.</summary>
public struct Head
{
    /// <summary>Turns ended so far.</summary>
    public int Turns;

    /// <summary>Bit i is set while seat i plays.</summary>
    public uint Active;

    /// <summary>Who is to move; also for whom chance deals.</summary>
    public byte Mover;

    /// <summary>What is waited for.</summary>
    public StepKind Phase;

    /// <summary>A player to move had no legal move at some time.</summary>
    public bool Stuck;

    /// <summary>The beginning: everybody plays, and <paramref name="first"/> is to move.</summary>
    public static Head At(int first, int seats) => new() { Mover = (byte)first, Active = (1u << seats) - 1 };

    public readonly Step Next
    {
        [MethodImpl(MethodImplOptions.AggressiveInlining)]
        get => new(Phase, Mover);
    }

    /// <summary>The seats that play now and were not among <paramref name="before"/>.</summary>
    public readonly IEnumerable<int> New(uint before)
    {
        uint come = Active & ~before;
        return Enumerable.Range(0, 32).Where(seat => (come >> seat & 1) != 0);
    }

    public readonly bool Plays(int seat) => (Active >> seat & 1) != 0;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void NextMover()
    {
        if (Active == 0) return;
        uint after = Active >> 1 >> Mover;
        Mover = (byte)(after != 0 ? Mover + 1 + BitOperations.TrailingZeroCount(after) : BitOperations.TrailingZeroCount(Active));
    }
}
