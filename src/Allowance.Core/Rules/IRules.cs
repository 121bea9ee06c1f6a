using Allowance.Core.Tables;

namespace Allowance.Core.Rules;

/// <summary>The same rules for people at a table: what lies on it, in words, and who comes and goes. These may allocate.</summary>
public interface IRules<TState> : ILoopRules<TState> where TState : struct
{
    /// <summary>
    /// Goes on at the boundary of a turn after somebody joined or left, or an allowance was changed; the head says already who
    /// plays. Nothing is dealt again: what lies stays, what was begun of a turn is put back, and who was not among
    /// <paramref name="before"/> (seats, as bits) stands where a beginner stands.
    /// </summary>
    void Arrange(ref TState state, uint before);

    /// <summary>Something was dealt since the last turn ended, and still nothing was done in the next: cards that fill a layout.</summary>
    bool IsBetweenTurns(in TState state) => false;

    /// <summary>Somebody who is not to move has left in the middle of a turn: what is still to come is counted anew.</summary>
    void Recount(ref TState state) { }

    /// <summary>These rules with what was laid out under the ones before; where all lies in the state, just these.</summary>
    IRules<TState> Over(IRules<TState> before, in TState state) => this;

    /// <summary>
    /// The state of a game that went on under rules of another type, where a frame has several; <see cref="Arrange"/> comes
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

    /// <summary>What chance can bring, with how many ways there are.</summary>
    IReadOnlyList<Possible> Possibilities(in TState state);

    bool IsLegal(in TState state, Move move);

    /// <summary>The legal moves; one of each kind where cards are alike.</summary>
    IReadOnlyList<Move> Moves(in TState state);

    /// <summary>What the items tapped so far mean to the mover: a move, more to tap, or words why they do not go.</summary>
    Tapped Read(in TState state, IReadOnlyList<int> items);

    IReadOnlyList<Zone> Zones(in TState state);

    /// <summary>What may be done now and what each choice leads to, for the grown-up who asks; the best first, none where that says nothing.</summary>
    IReadOnlyList<string> Helps(in TState state) => [];

    /// <summary>What the mover does now, in at most eight words.</summary>
    string Says(in TState state);

    /// <summary>Who says it, where that is not whoever moves.</summary>
    int? Caller(in TState state) => null;

    /// <summary>What a move did, in a few words; for the log.</summary>
    string Tells(in TState before, Move move, bool found);
}
