using System.Runtime.CompilerServices;
using Allowance.Core.Forms;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Tables;

namespace Allowance.Core.Games;

/// <summary>A game in which all dice are rolled, and then there is one move: that of the roll. It says what is its own, and <see cref="RollRules{TGame, TAt}"/> plays it.</summary>
/// <typeparam name="TAt">Where everything stands between two turns; a small value without references.</typeparam>
internal interface IRollGame<TAt> where TAt : struct
{
    int Seats { get; }

    /// <inheritdoc cref="ILoopRules{TState}.TurnKinds"/>
    int TurnKinds { get; }

    void Start(ref TAt at, int first);

    /// <summary>Puts somebody who joins where a beginner stands.</summary>
    void Join(ref TAt at, int seat);

    /// <summary>What is rolled.</summary>
    DiceCup Cup(in TAt at, int seat);

    /// <summary>What stands on her dice.</summary>
    Form Faces(int seat);

    int Asks(int seat, in TAt at, in Rolled rolled, Span<SeatAsk> into);

    int TurnKind(int seat, in TAt at, in Rolled rolled);

    /// <summary>Moves by the roll, and lets the next one move.</summary>
    /// <returns>True where the game is over.</returns>
    bool Move(ref Head head, ref TAt at, int roll);

    /// <summary>Between two turns somebody came or left: a round may be over by it.</summary>
    /// <returns>True where the game is over.</returns>
    bool Settle(ref Head head, ref TAt at);

    int Points(in TAt at, int seat);

    bool AimReached(in TAt at);

    int Left(int seat, in TAt at);

    /// <summary>The pieces.</summary>
    int Things { get; }

    Zone Board(in Head head, in TAt at);

    /// <param name="head">Whose turn it is, and what is waited for.</param>
    string Says(in Head head, in TAt at);

    /// <summary>What a roll did, told from where she stood.</summary>
    string Tells(int seat, in TAt before, int roll);
}

internal struct RollState<TAt> where TAt : struct
{
    public Head Head;
    public Rolled Rolled;
    public TAt At;
}

/// <summary>The rules of every game of rolling all dice and moving by them.</summary>
internal readonly struct RollRules<TGame, TAt>(TGame game) : IRules<RollState<TAt>>
    where TGame : struct, IRollGame<TAt>
    where TAt : struct
{
    public int Seats => game.Seats;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public ref Head Head(ref RollState<TAt> s) => ref s.Head;

    public void Start(ref RollState<TAt> s, int first)
    {
        s = default;
        s.Head = Rules.Head.At(first, Seats);
        game.Start(ref s.At, first);
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private DiceCup Cup(in RollState<TAt> s) => game.Cup(in s.At, s.Head.Mover);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Draw(ref RollState<TAt> s, ref Rng rng) => Cup(in s).Draw(in s.Rolled, ref rng);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Deal(ref RollState<TAt> s, int outcome)
    {
        s.Rolled.Add(outcome);
        if (s.Rolled.Count == Cup(in s).Count) s.Head.Phase = StepKind.Choice;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static Move ByTheRoll(in RollState<TAt> s) => new(0, s.Rolled.Total);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public Move Plain(in RollState<TAt> s, ref Rng rng) => ByTheRoll(in s);

    public Move Best(in RollState<TAt> s, ref Rng rng) => ByTheRoll(in s);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Asks(in RollState<TAt> s, Move move, Span<SeatAsk> into) => game.Asks(s.Head.Mover, in s.At, in s.Rolled, into);

    public int TurnKinds => game.TurnKinds;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int TurnKind(in RollState<TAt> s, Move move) => game.TurnKind(s.Head.Mover, in s.At, in s.Rolled);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public float DealSeconds(in RollState<TAt> s) => Handling.RollDie;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public float MoveSeconds(in RollState<TAt> s, Move move) => Handling.Walk(move.Pick);

    public bool Seeking(in RollState<TAt> s, Move move) => false;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Apply(ref RollState<TAt> s, Move move, Answered answered)
    {
        s.Rolled = default;
        s.Head.Turns++;
        s.Head.Phase = game.Move(ref s.Head, ref s.At, move.Pick) ? StepKind.Over : StepKind.Chance;
    }

    public void Arrange(ref RollState<TAt> s, uint before)
    {
        foreach (int seat in s.Head.New(before)) game.Join(ref s.At, seat);
        s.Rolled = default;
        s.Head.Phase = game.Settle(ref s.Head, ref s.At) ? StepKind.Over : StepKind.Chance;
    }

    public void Recount(ref RollState<TAt> s)
    {
        if (game.Settle(ref s.Head, ref s.At)) s.Head.Phase = StepKind.Over;
    }

    public int Points(in RollState<TAt> s, int seat) => game.Points(in s.At, seat);

    public bool AimReached(in RollState<TAt> s) => game.AimReached(in s.At);

    public int Left(in RollState<TAt> s) => game.Left(s.Head.Mover, in s.At);

    public int Things(in RollState<TAt> s) => game.Things;

    public IReadOnlyList<Possible> Possibilities(in RollState<TAt> s) => Cup(in s).Possibilities(in s.Rolled);

    public bool IsLegal(in RollState<TAt> s, Move move) => s.Head.Phase == StepKind.Choice && move == ByTheRoll(in s);

    public IReadOnlyList<Move> Moves(in RollState<TAt> s) => s.Head.Phase == StepKind.Choice ? [ByTheRoll(in s)] : [];

    public Tapped Read(in RollState<TAt> s, IReadOnlyList<int> items) => Tapped.NeedsMore;

    public IReadOnlyList<Zone> Zones(in RollState<TAt> s)
    {
        var board = game.Board(in s.Head, in s.At);
        return s.Rolled.Count == 0 ? [board] : [DiceCup.Lying(in s.Rolled, game.Faces(s.Head.Mover)), board];
    }

    public string Says(in RollState<TAt> s) => game.Says(in s.Head, in s.At);

    public string Tells(in RollState<TAt> before, Move move, bool found) => game.Tells(before.Head.Mover, in before.At, move.Pick);
}
