using Allowance.Core.Numbers;
using Allowance.Core.Setups;
using Allowance.Core.Tables;

namespace Allowance.Core.Rules;

/// <summary>Plays by any rules, whatever their types.</summary>
internal interface IPlayer
{
    void Play<TRules, TState>(TRules rules) where TRules : struct, ILoopRules<TState> where TState : struct;
}

/// <summary>A setup made ready: it starts runs for the table, and plays games for the forecast.</summary>
public abstract class Game(Setup setup)
{
    public Setup Setup { get; } = setup;

    public abstract Run Start(int first);

    /// <summary>Goes on with a run under this game's setup, at the boundary of a turn: an allowance was changed, somebody joined or left.</summary>
    /// <param name="here">Who plays now, as bits of seats.</param>
    public abstract Run Continue(Run run, uint here);

    /// <summary>Hands its rules to somebody who plays by them.</summary>
    internal abstract void PlayedBy(IPlayer player);
}

/// <summary>A game at a table, changed by chance and moves. Copy it to look ahead.</summary>
public abstract class Run
{
    public abstract Step Next { get; }

    public abstract int Turns { get; }

    public abstract bool Stuck { get; }

    public abstract int Draw(ref Rng rng);

    public abstract IReadOnlyList<Possible> Possibilities { get; }

    public abstract void Deal(int outcome);

    public abstract Move Plain(ref Rng rng);

    public abstract Move Best(ref Rng rng);

    public abstract IReadOnlyList<Move> Moves { get; }

    public abstract bool IsLegal(Move move);

    public abstract Tapped Read(IReadOnlyList<int> items);

    public abstract IReadOnlyList<SeatAsk> Asks(Move move);

    public abstract bool Seeking(Move move);

    public abstract void Apply(Move move, bool found);

    public abstract int Points(int seat);

    public abstract bool AimReached { get; }

    public abstract int Left { get; }

    public abstract int Things { get; }

    public abstract IReadOnlyList<Zone> Zones { get; }

    public abstract IReadOnlyList<string> Helps { get; }

    public abstract string Says { get; }

    /// <summary>Who says it: whoever moves, or holds the card that calls.</summary>
    public abstract int Speaker { get; }

    public abstract string Tells(Move move, bool found);

    /// <summary>
    /// Somebody leaves; another is still there. Where she was to move, what she began is put back and the next one is; else
    /// she is asked nothing more.
    /// </summary>
    public abstract void Leave(int seat);

    /// <summary>The state.</summary>
    internal abstract object Boxed { get; }

    public abstract Run Copy();

    /// <summary>True where both stand in the same state.</summary>
    public abstract bool SameAs(Run other);

    /// <inheritdoc cref="IRules{TState}.IsBetweenTurns"/>
    public abstract bool IsBetweenTurns { get; }
}

public sealed class Game<TRules, TState>(Setup setup, TRules rules) : Game(setup)
    where TRules : struct, IRules<TState>
    where TState : struct
{
    public override Run Start(int first)
    {
        var state = default(TState);
        rules.Start(ref state, first);
        return new Run<TRules, TState>(rules, state);
    }

    public override Run Continue(Run run, uint here)
    {
        var now = rules;
        TState state;
        if (run is Run<TRules, TState> before)
        {
            state = before.State;
            now = (TRules)rules.Over(before.Rules, in state);
        }
        else state = rules.Adopt(run.Boxed);
        ref var head = ref now.Head(ref state);
        uint were = head.Active;
        head.Active = here;
        if (!head.Plays(head.Mover)) head.NextMover();
        // Where nothing went any more, something may go now.
        if (head.Phase != StepKind.Over || head.Stuck) now.Arrange(ref state, were);
        return new Run<TRules, TState>(now, state);
    }

    internal override void PlayedBy(IPlayer player) => player.Play<TRules, TState>(rules);
}

public sealed class Run<TRules, TState>(TRules rules, TState start) : Run
    where TRules : struct, IRules<TState>
    where TState : struct
{
    private TState state = start;

    internal TState State => state;

    internal TRules Rules => rules;

    internal override object Boxed => state;

    public override Step Next => rules.Head(ref state).Next;

    public override int Turns => rules.Head(ref state).Turns;

    public override bool Stuck => rules.Head(ref state).Stuck;

    public override int Draw(ref Rng rng) => rules.Draw(ref state, ref rng);

    public override IReadOnlyList<Possible> Possibilities => rules.Possibilities(in state);

    public override void Deal(int outcome) => rules.Deal(ref state, outcome);

    public override Move Plain(ref Rng rng) => rules.Plain(in state, ref rng);

    public override Move Best(ref Rng rng) => rules.Best(in state, ref rng);

    public override IReadOnlyList<Move> Moves => rules.Moves(in state);

    public override bool IsLegal(Move move) => rules.IsLegal(in state, move);

    public override Tapped Read(IReadOnlyList<int> items) => rules.Read(in state, items);

    public override IReadOnlyList<SeatAsk> Asks(Move move)
    {
        Span<SeatAsk> asks = stackalloc SeatAsk[Engine.MostAsks];
        return asks[..rules.Asks(in state, move, asks)].ToArray();
    }

    public override bool Seeking(Move move) => rules.Seeking(in state, move);

    public override void Apply(Move move, bool found) => rules.Apply(ref state, move, Answered.By(Next.Seat, found));

    public override int Points(int seat) => seat < rules.Seats ? rules.Points(in state, seat) : 0;

    public override bool AimReached => rules.AimReached(in state);

    public override int Left => rules.Left(in state);

    public override int Things => rules.Things(in state);

    public override IReadOnlyList<Zone> Zones => rules.Zones(in state);

    public override IReadOnlyList<string> Helps => rules.Helps(in state);

    public override string Says => rules.Says(in state);

    public override int Speaker => rules.Caller(in state) ?? Next.Seat;

    public override string Tells(Move move, bool found) => rules.Tells(in state, move, found);

    public override void Leave(int seat)
    {
        ref var head = ref rules.Head(ref state);
        uint before = head.Active;
        head.Active &= ~(1u << seat);
        if (head.Phase == StepKind.Over) return;
        if (head.Mover != seat) rules.Recount(ref state);
        else
        {
            head.NextMover();
            rules.Arrange(ref state, before);
        }
    }

    public override bool IsBetweenTurns => rules.IsBetweenTurns(in state);

    public override Run Copy() => new Run<TRules, TState>(rules, state);

    public override bool SameAs(Run other) => other is Run<TRules, TState> run && Bytes(ref state).SequenceEqual(Bytes(ref run.state));

    private static ReadOnlySpan<byte> Bytes(ref TState state) =>
        System.Runtime.InteropServices.MemoryMarshal.AsBytes(System.Runtime.InteropServices.MemoryMarshal.CreateReadOnlySpan(ref state, 1));
}
