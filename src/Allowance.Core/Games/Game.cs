using Allowance.Core.Asks;
using Allowance.Core.Forecasts;
using Allowance.Core.Numbers;
using Allowance.Core.Setups;

namespace Allowance.Core.Games;

/// <summary>A setup made ready: it starts runs for the table and simulates games for the forecast.</summary>
public abstract class Game(Setup setup)
{
    public Setup Setup { get; } = setup;

    public abstract Run Start(int first);

    /// <summary>Goes on with a run under this game's setup: an allowance was changed, somebody joined or left.</summary>
    public abstract Run Continue(Run run);

    /// <summary>Plays games of the plan, and adds them to the tally.</summary>
    internal abstract void Simulate(SimulationPlan plan, GameTally tally, int from, int to);
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

    public abstract string Says { get; }

    public abstract string Tells(Move move, bool found);

    public abstract void Seat(int seat, bool active);

    /// <summary>The state.</summary>
    internal abstract object Boxed { get; }

    public abstract Run Copy();

    /// <summary>True where both stand in the same state.</summary>
    public abstract bool SameAs(Run other);
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

    public override Run Continue(Run run)
    {
        var state = run is Run<TRules, TState> same ? same.State : rules.Adopt(run.Boxed);
        rules.Settle(ref state);
        return new Run<TRules, TState>(rules, state);
    }

    internal override void Simulate(SimulationPlan plan, GameTally tally, int from, int to) => Simulator.Play<TRules, TState>(rules, plan, tally, from, to);
}

public sealed class Run<TRules, TState>(TRules rules, TState start) : Run
    where TRules : struct, IRules<TState>
    where TState : struct
{
    private TState state = start;

    internal TState State => state;

    internal override object Boxed => state;

    public override Step Next => rules.Next(in state);

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

    public override void Apply(Move move, bool found) => rules.Apply(ref state, move, Answered.By(rules.Next(in state).Seat, found));

    public override int Points(int seat) => rules.Points(in state, seat);

    public override bool AimReached => rules.AimReached(in state);

    public override int Left => rules.Left(in state);

    public override int Things => rules.Things(in state);

    public override IReadOnlyList<Zone> Zones => rules.Zones(in state);

    public override string Says => rules.Says(in state);

    public override string Tells(Move move, bool found) => rules.Tells(in state, move, found);

    public override void Seat(int seat, bool active)
    {
        ref var head = ref rules.Head(ref state);
        head.Active = active ? head.Active | 1u << seat : head.Active & ~(1u << seat);
        if (head.Active != 0 && (head.Active >> head.Mover & 1) == 0) head.NextMover();
        rules.Settle(ref state);
    }

    public override Run Copy() => new Run<TRules, TState>(rules, state);

    public override bool SameAs(Run other) => other is Run<TRules, TState> run && Bytes(ref state).SequenceEqual(Bytes(ref run.state));

    private static ReadOnlySpan<byte> Bytes(ref TState state) =>
        System.Runtime.InteropServices.MemoryMarshal.AsBytes(System.Runtime.InteropServices.MemoryMarshal.CreateReadOnlySpan(ref state, 1));
}
