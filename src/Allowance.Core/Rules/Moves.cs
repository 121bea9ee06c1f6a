using System.Runtime.CompilerServices;
using Allowance.Core.Asks;

namespace Allowance.Core.Rules;

/// <summary>What a game waits for.</summary>
public enum StepKind : byte { Chance, Choice, Over }

/// <param name="Seat">Whose turn it is; also while chance deals for her.</param>
public readonly record struct Step(StepKind Kind, int Seat);

/// <summary>
/// A move, packed. <see cref="Items"/> is the set of items used of the frame's main zone, by position;
/// <see cref="Pick"/> is one item, a number or an index into whatever the frame lists; <see cref="First"/> is the item
/// that was seen first, where the order matters. A frame says which of them it uses.
/// </summary>
public readonly record struct Move
{
    // Two whole registers: a pair of ints would be put together in memory on every call.
    private readonly ulong pickAndFirst;

    public Move(ulong items, int pick = -1, int first = -1)
    {
        Items = items;
        pickAndFirst = (uint)pick | (ulong)(uint)first << 32;
    }

    public ulong Items { get; }

    public int Pick => (int)(uint)pickAndFirst;

    public int First => (int)(pickAndFirst >> 32);

    /// <summary>The turn passes without anything done.</summary>
    public static Move Pass => new(0);

    public bool IsPass
    {
        [MethodImpl(MethodImplOptions.AggressiveInlining)]
        get => Items == 0 && Pick < 0;
    }
}

public readonly record struct SeatAsk(int Seat, Ask Ask);

/// <summary>How a move's asks were answered. Grown-ups are always right.</summary>
/// <param name="All">Everyone who was asked was right without help.</param>
/// <param name="Wrong">Seats, as bits, with an answer that was not right.</param>
/// <param name="Fastest">Who was right first, where several were asked at once; −1 where nobody was.</param>
public readonly record struct Answered(bool All, uint Wrong, int Fastest)
{
    /// <summary>One mover, who found it or did not.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static Answered By(int seat, bool right) => new(right, right ? 0 : 1u << seat, right ? seat : -1);
}

public readonly record struct Possible(int Outcome, int Ways, string Label)
{
    /// <summary>The two numbers of a call that has two; null of any other.</summary>
    public (int One, int Other)? Numbers { get; init; }

    /// <summary>The number of a call that says how it is come by as well; null of any other.</summary>
    public (int Number, string How)? Called { get; init; }

    /// <summary>Somebody calls it when all cards lie: it is not turned up with them.</summary>
    public bool IsCall { get; init; }
}

/// <summary>What tapped items mean: a move, "tap more", both where it may stay so, or words why they do not go.</summary>
public readonly record struct Tapped(Move? Move, bool More, string Words)
{
    public static Tapped As(Move move) => new(move, false, "");

    public static Tapped NeedsMore => new(null, true, "");

    /// <summary>More may be tapped; as it stands it is already a move.</summary>
    public static Tapped SoFar(Move move) => new(move, true, "");

    public static Tapped No(string words) => new(null, false, words);
}
