using System.Runtime.CompilerServices;
using Allowance.Core.Asks;
using Allowance.Core.Forecasts;
using Allowance.Core.Forms;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;

namespace Allowance.Core.Games;

/// <summary>The gates of one setup, with each player's dice.</summary>
internal sealed record GateTable : Seating
{
    public GateTable(Setup setup) : base(setup)
    {
        SmallDie = setup.Get(Core.Games.Gates.Knobs.SmallDie).Number;
        Again = setup.Get(Core.Games.Gates.Knobs.Again).On;
        string play = setup.Get(Core.Games.Gates.Knobs.Play).Id;
        (IsCommon, IsAlone) = (play == Core.Games.Gates.LastIn, play == Core.Games.Gates.Solo);
        AimAll = setup.Get(Core.Games.Gates.Knobs.Aim).Id == Core.Games.Gates.AimAll;
        Gates = setup.Get(Core.Games.Gates.Knobs.Number).Number;
        var seats = Enumerable.Range(0, Seats).Select(s => (Gates: setup.At(s, Core.Games.Gates.Knobs.Number).Number, Most: int.Parse(setup.At(s, Core.Games.Gates.Knobs.MaxGates).Id),
            Signs: setup.At(s, Core.Games.Gates.Knobs.Make).Id == Core.Games.Gates.Sum ? null : setup.At(s, Core.Games.Gates.Knobs.Ops), setup.At(s, Core.Games.Gates.Knobs.Dice).Dice)).ToList();
        Cups = [.. seats.Select(s => new DiceCup(s.Dice))];
        var kinds = seats.Distinct().ToList();
        // Signs go between two dice; more are refused.
        Rows = [.. kinds.Select(k => new GateRow(k.Gates, k.Most, k.Signs?.Operations, k.Signs is null ? k.Dice : new Dice(k.Dice.All.Take(2)), SmallDie))];
        MostSum = Rows.Max(r => r.Sum(r.Full));
        RowOf = [.. seats.Select(s => kinds.IndexOf(s))];
        IsOne = [.. seats.Select(s => s.Most == 1)];
        Plans = [.. Rows.Select(r => new Lazy<GateFacts>(() => new GateFacts(r, true, AimAll)))];
        // One die alone may show what two together do.
        Kinds = new(seats.Select((_, s) => SmallDie is null ? Cups[s].Kinds * (Row(s).MostPlaces + 1.0) : double.PositiveInfinity));
        Counts = [.. Level.Select((l, s) => l == Core.Games.Gates.Count && Faces[s] == Form.Dice)];
    }

    /// <summary>The gates of the table; who has gates of her own may have others.</summary>
    public int Gates { get; }

    /// <summary>What the gates of the longest row add up to.</summary>
    public int MostSum { get; }

    public int? SmallDie { get; }

    /// <summary>A double rolls again after its move.</summary>
    public bool Again { get; }

    /// <summary>One row for all: who cannot move is out.</summary>
    public bool IsCommon { get; }

    /// <summary>Each plays her gates to the end before the next begins.</summary>
    public bool IsAlone { get; }

    public bool AimAll { get; }

    public DiceCup[] Cups { get; }

    /// <summary>The gates of each kind, with the dice that shut them.</summary>
    public GateRow[] Rows { get; }

    public int[] RowOf { get; }

    public Lazy<GateFacts>[] Plans { get; }

    public TurnKinds Kinds { get; }

    /// <summary>By seat: a roll shuts one gate.</summary>
    public bool[] IsOne { get; }

    /// <summary>By seat: she counts all dots together.</summary>
    public bool[] Counts { get; }

    public GateRow Row(int seat) => Rows[RowOf[seat]];

    public GateFacts Plan(int seat) => Plans[RowOf[seat]].Value;

    /// <summary>How many dice a player rolls at these open gates.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int DiceAt(int seat, int open) => SmallDie is not null && Row(seat).IsSmall(open) ? 1 : Cups[seat].Count;

    /// <summary>By seat and key, what a roll shuts where all is open.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int[] Sets(int seat, in Rolled rolled) => Row(seat).Sets(Key(seat, in rolled));

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Key(int seat, in Rolled rolled) => Row(seat).Key(rolled.Total, rolled[0], rolled[1], rolled.Count);

    /// <summary>How one die, or two, come to a gate.</summary>
    public Ask AskFor(int seat, in Rolled rolled, int gate)
    {
        if (rolled.Count == 1) return Cups[seat].Asked(in rolled, Faces[seat], Support[seat]);
        int larger = Math.Max(rolled[0], rolled[1]), smaller = Math.Min(rolled[0], rolled[1]);
        var kind = Row(seat).OperationFor(larger, smaller, gate) switch { Operation.Minus => AskKind.Gap, Operation.Times => AskKind.Times, Operation.By => AskKind.Share, _ => AskKind.Join };
        return new(kind, larger, smaller, Faces[seat], Support[seat]);
    }
}
