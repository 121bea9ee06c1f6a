using System.Numerics;
using System.Runtime.CompilerServices;
using Allowance.Core.Asks;
using Allowance.Core.Forms;
using Allowance.Core.Numbers;

namespace Allowance.Core.Games;

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

/// <summary>What every state begins with.</summary>
public struct Head
{
    /// <summary>Turns ended so far.</summary>
    public int Turns;

    /// <summary>Bit i is set while seat i plays.</summary>
    public uint Active;

    public byte Mover;

    /// <summary>A player to move had no legal move at some time.</summary>
    public bool Stuck;

    /// <summary>The beginning: everybody plays, and <paramref name="first"/> is to move.</summary>
    public static Head At(int first, int seats) => new() { Mover = (byte)first, Active = (1u << seats) - 1 };

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void NextMover()
    {
        if (Active == 0) return;
        uint after = Active >> 1 >> Mover;
        Mover = (byte)(after != 0 ? Mover + 1 + BitOperations.TrailingZeroCount(after) : BitOperations.TrailingZeroCount(Active));
    }
}

/// <summary>
/// The rules of one setup, made ready for play: everything that the simulator, the table, the referee, the rule sheet
/// and the tests run. A state is a small value without references; it can be copied and compared, and the same start,
/// chance and moves give the same state. The methods above the line allocate nothing.
/// </summary>
public interface IRules<TState> where TState : struct
{
    int Seats { get; }

    ref Head Head(ref TState state);

    /// <summary>Sets a state to the beginning, with <paramref name="first"/> to move. Nothing has been dealt.</summary>
    void Start(ref TState state, int first);

    Step Next(in TState state);

    /// <summary>
    /// Draws what chance brings next; <see cref="Deal"/> takes it, or a number typed in by a referee. It may reorder what is
    /// unseen, so that dealing finds it at once, but changes nothing that a player could tell.
    /// </summary>
    int Draw(ref TState state, ref Rng rng);

    void Deal(ref TState state, int outcome);

    /// <summary>A legal move, each equally likely.</summary>
    Move Plain(in TState state, ref Rng rng);

    /// <summary>A move that serves the frame's aim best; it remembers all that was seen.</summary>
    Move Best(in TState state, ref Rng rng);

    /// <summary>What the move asks of whom; at most <see cref="Engine.MostAsks"/>.</summary>
    int Asks(in TState state, Move move, Span<SeatAsk> into);

    /// <summary>
    /// How many kinds of turns there are, up to <see cref="Engine.MostTurnKinds"/>; 0 where there are more, or nobody has
    /// numbered them. While nobody joins or leaves, turns of one kind ask the same of the same players, so that a
    /// simulated game without mistakes counts turns, and need not look up what they ask.
    /// </summary>
    int TurnKinds { get; }

    /// <summary>The kind of the turn that a move makes, from 0; −1 where it asks nothing.</summary>
    int TurnKind(in TState state, Move move);

    /// <summary>Seconds of handling for what chance brings (see <c>Games/Handling.cs</c>).</summary>
    float DealSeconds(in TState state);

    /// <summary>Seconds of handling for a move.</summary>
    float MoveSeconds(in TState state, Move move);

    /// <summary>True where a wrong answer means that nothing was found; false where it is mended together and the move goes on.</summary>
    bool Seeking(in TState state, Move move);

    /// <summary>
    /// Makes the move. Where it does not seek (<see cref="Seeking"/>), the simulator and the table have mended wrong answers
    /// already and say that all were right.
    /// </summary>
    void Apply(ref TState state, Move move, Answered answered);

    int Points(in TState state, int seat);

    /// <summary>The aim of a solitary or common game has been reached.</summary>
    bool AimReached(in TState state);

    /// <summary>Cards or pieces that nobody has taken: on the table and in the stock.</summary>
    int Left(in TState state);

    /// <summary>After somebody joined, left, or got another allowance: finds out anew what comes next.</summary>
    void Settle(ref TState state);

    /// <summary>
    /// The state of a game that went on under rules of another type, where a frame has several; <see cref="Settle"/> comes
    /// after it. Partners, for one, never changes its mode in the middle of a game.
    /// </summary>
    TState Adopt(object other) => throw new ArgumentException("These rules cannot go on from there.", nameof(other));

    /// <summary>All there is, on the table, in the stock and with the players; no move changes it.</summary>
    int Things(in TState state)
    {
        int things = Left(in state);
        for (int seat = 0; seat < Seats; seat++) things += Points(in state, seat);
        return things;
    }

    // ---- For screens and referees; these may allocate. ----

    /// <summary>What chance can bring, with how many ways there are.</summary>
    IReadOnlyList<Possible> Possibilities(in TState state);

    bool IsLegal(in TState state, Move move);

    /// <summary>The legal moves; one of each kind where cards are alike.</summary>
    IReadOnlyList<Move> Moves(in TState state);

    /// <summary>What the items tapped so far mean to the mover: a move, more to tap, or words why they do not go.</summary>
    Tapped Read(in TState state, IReadOnlyList<int> items);

    IReadOnlyList<Zone> Zones(in TState state);

    /// <summary>What the mover does now, in at most eight words.</summary>
    string Says(in TState state);

    /// <summary>What a move did, in a few words; for the log.</summary>
    string Tells(in TState before, Move move, bool found);
}

public readonly record struct Possible(int Outcome, int Ways, string Label);

/// <summary>What tapped items mean: a move, "tap more", both where it may stay so, or words why they do not go.</summary>
public readonly record struct Tapped(Move? Move, bool More, string Words)
{
    public static Tapped As(Move move) => new(move, false, "");

    public static Tapped NeedsMore => new(null, true, "");

    /// <summary>More may be tapped; as it stands it is already a move.</summary>
    public static Tapped SoFar(Move move) => new(move, true, "");

    public static Tapped No(string words) => new(null, false, words);
}

public enum ZoneKind { Grid, Hand, Pile, Heap, Box, Track, Board, Dice, Plates, Rings, Frame, Line, Stage, Equation, Who, Scores }

/// <summary>How an item lies; <see cref="Marked"/> is an empty place to be filled.</summary>
public enum ItemState { Up, Down, Gone, Taken, Marked }

/// <param name="Value">−1 where it cannot be seen.</param>
public sealed record Item(int Id, int Value, Form Form, ItemState State, bool CanTap)
{
    /// <summary>What stands on it where it is no number: up, down.</summary>
    public string? Words { get; init; }
}

/// <summary>A part of the table: of a line, <see cref="Count"/> is the number that is marked. Frames describe their tables in these, so that one screen draws every game.</summary>
public sealed record Zone(ZoneKind Kind, string Label, int Rows, int Columns, IReadOnlyList<Item> Items, int Count = 0)
{
    /// <summary>Of a track or a line: which numbers its sections bear.</summary>
    public ZoneLabels? Labels { get; init; }

    /// <summary>Of a track with one common piece: what it is; else each piece is a player's.</summary>
    public string? Single { get; init; }
}

/// <param name="First">The number of the first section.</param>
/// <param name="Step">1 where numbers run upwards, −1 where they run downwards.</param>
/// <param name="Shown">Which are written.</param>
public sealed record ZoneLabels(int First, int Step, LineLabels Shown)
{
    /// <summary>Where a line ends that is shown with a number on it.</summary>
    public int To { get; init; }

    /// <summary>Numbers that were taken away.</summary>
    public IReadOnlyCollection<int> Away { get; init; } = [];

    /// <summary>The household's way of drawing, with this line.</summary>
    public PictureStyle Over(PictureStyle style) => style with { Labels = Shown, LineFrom = First, LineTo = To, Away = Away };
}

public static class Engine
{
    /// <summary>The most asks one move can put, a group of thirty included.</summary>
    public const int MostAsks = 32;

    /// <summary>The most places at a table, and in a group that answers at once.</summary>
    public const int MostSeats = 8, MostInGroup = 30;

    /// <summary>Of more kinds of turns each would come too seldom to be worth numbering.</summary>
    public const int MostTurnKinds = 4_096;

    /// <summary>A simulated game is given up after so many turns and counts as stuck.</summary>
    public const int MostTurns = 2_000;
}
