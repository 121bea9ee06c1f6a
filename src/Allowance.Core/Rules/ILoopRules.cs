using Allowance.Core.Numbers;

namespace Allowance.Core.Rules;

/// <summary>
/// The rules of one setup, made ready for the inner loop of a forecast: what chance brings, what a move asks, and what it
/// does. A state is a small value without references that begins with a <see cref="Rules.Head"/>; it can be copied and
/// compared, and the same start, chance and moves give the same state. Nothing here allocates.
/// </summary>
public interface ILoopRules<TState> where TState : struct
{
    int Seats { get; }

    /// <summary>Whose turn it is and what is waited for: a rule changes it, and everyone reads it.</summary>
    ref Head Head(ref TState state);

    /// <summary>Sets a state to the beginning, with <paramref name="first"/> to move. Nothing has been dealt.</summary>
    void Start(ref TState state, int first);

    /// <summary>
    /// Draws what chance brings next; <see cref="Deal"/> takes it, or a number typed in by a referee. It may reorder what is
    /// unseen, so that dealing finds it at once, but changes nothing that a player could tell.
    /// </summary>
    int Draw(ref TState state, ref Rng rng);

    void Deal(ref TState state, int outcome);

    /// <summary>A legal move, each equally likely.</summary>
    Move Plain(in TState state, ref Rng rng);

    /// <summary>A move that serves the frame's aim best; where something is remembered, by what the allowance says of it.</summary>
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
}
