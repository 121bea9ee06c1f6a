using System.Runtime.CompilerServices;
using Allowance.Core.Asks;
using Allowance.Core.Forms;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Tables;

namespace Allowance.Core.Games;

/// <summary>Near Miss: roll, and see how far it is from a number; the nearest takes the round.</summary>
public sealed class NearMiss : Frame
{
    public const string OnFrame = "frame", InHead = "head", List = "list", Rounds = "rounds", Sums = "sum";

    internal const int MostRounds = 20;

    private const int MostMark = 100;

    private static readonly DiceValue TwoDice = new(new Dice(Die.Of(6), Die.Of(6)));
    private static readonly ChoiceKind Scores = ChoiceKind.Of((Rounds, "the nearest takes the round"), (Sums, "all differences count in the end"));

    public static class Knobs
    {
        public static readonly Knob<WholeValue> N = new("n", "The number", new WholeKind(1, MostMark), new WholeValue(10), Belongs.Range, Scope.Table, Sits.Things, "The number that all rolls are held against.");
        public static readonly Knob<DiceValue> Dice = new("dice", "Dice", new DiceKind(), TwoDice, Belongs.Range, Scope.Both, Sits.Dice, "What is rolled and added; at a place: her own dice.", KnobRole.Dice);
        public static readonly Knob<WholeValue> Rolls = new("rounds", "Rounds", new WholeKind(1, MostRounds), new WholeValue(5), Belongs.Length, Scope.Table, Sits.Game, "How often each player rolls.");
        public static readonly Knob<ChoiceValue> Score = new("score", "Counted is", Scores, Scores[Rounds], Belongs.RuleLevel, Scope.Table, Sits.Game, "Each round by itself, or all differences together: the smallest sum wins.");
        public static readonly OpenKnob<RangeValue> Range = CommonKnobs.Range(MostMark);
        public static readonly Knob<ChoiceValue> Winning = CommonKnobs.Winning("most rounds, or the smallest sum", "all together hit the number once");
    }

    public override FrameData Data { get; } = new(
        "nearmiss", "Near Miss", Family.Partners, "Roll, and see how far it is from the number: the nearest takes the round.", "It ends after the last round.", 1, Engine.MostSeats,
        [Knobs.N, Knobs.Dice, CommonKnobs.Faces, Knobs.Rolls, Knobs.Score, Knobs.Winning, Knobs.Range, CommonKnobs.Support],
        [
            Level.Free(OnFrame, "On a frame", "Put your roll on the frame, and say how much is missing or too much."),
            Level.Free(InHead, "In the head", "Say how far your roll is from the number."),
            Level.Free(List, "Keep the list", "Say how far it is, and how much that makes with what you have.", (Knobs.Score, Scores[Sums])),
        ],
        OnFrame, [AskKind.Say, AskKind.Join, AskKind.Gap, AskKind.On]);

    protected override IReadOnlyList<Problem> Refusals(Setup setup)
    {
        for (int s = 0; s < setup.Seats.Length; s++)
            if (setup.At(s, Knobs.Dice).Dice.Most == 0) return [new(setup.Path(s, Knobs.Dice), "With nothing but zeros all rolls are the same.", TwoDice.ToJson())];
        return [];
    }

    /// <summary>A sum of which the smallest wins is in the list, for those who add it up.</summary>
    public override bool ShowsPoints(Setup setup) => setup.Get(Knobs.Score).Id != Sums;

    protected internal override Game Compile(Setup setup) => new Game<RollRules<NearGame, NearAt>, RollState<NearAt>>(setup, new(new(new NearTable(setup))));

    /// <summary>In the end it is the difference.</summary>
    public override Ask MattersMost(Setup setup, int seat, IReadOnlyList<Ask> asks) => asks.FirstOrDefault(a => a.Kind == AskKind.Gap, asks[0]);

    public override IReadOnlyList<Need> Needs(Setup setup)
    {
        var table = new NearTable(setup);
        int frames = table.Level.Count(l => l == OnFrame);
        return
        [
            Need.For(table.Cups.Select((c, s) => (c.Dice, table.Faces[s]))),
            .. frames > 0 ? [new("double ten-frames", frames), new(Need.Pieces, table.Level.Select((l, s) => l == OnFrame ? Math.Min(20, table.Cups[s].Dice.Most) : 0).Sum())] : Array.Empty<Need>(),
            new("sheets of paper", 1, "sheet of paper"),
        ];
    }

    public override IReadOnlyList<string> GetReady(Setup setup) =>
    [
        $"The number is {setup.Get(Knobs.N)}. {Words.Count(setup.Get(Knobs.Rolls).Number, "round")}.",
        setup.Get(Knobs.Score).Id == Sums ? "Everyone’s differences are written in a list; the smallest sum wins." : "Each round everyone rolls once; the smallest difference takes it, and equal ones leave it to nobody.",
    ];

    protected internal override Facts ExactFacts(Setup setup, Behaviour behaviour, Spending spending)
    {
        int mark = setup.Get(Knobs.N).Number, seats = setup.Seats.Length;
        var gaps = Enumerable.Range(0, seats).Select(s => Gaps(setup.At(s, Knobs.Dice).Dice, mark)).ToList();
        double[] wins = [.. gaps.Select((own, s) => own.Select((chance, gap) => chance * gaps.Where((_, other) => other != s).Aggregate(1.0, (all, other) => all * other.Skip(gap + 1).Sum())).Sum())];
        var facts = new Facts
        {
            ["gapPmf"] = PerSeat(setup, s => MapFact.Of(gaps[s].Select((chance, gap) => (gap, chance)).Where(g => g.chance > 0))),
            Turns = Pmf.Always(setup.Get(Knobs.Rolls).Number * seats),
            AimReached = 1 - gaps.Aggregate(1.0, (none, own) => none * Math.Pow(1 - own[0], setup.Get(Knobs.Rolls).Number)),
        };
        if (seats < 2) return facts;
        facts["tieChance"] = new NumberFact(Math.Max(0, 1 - wins.Sum()));
        facts["winChance"] = new ListFact([.. wins.Select(w => new NumberFact(w))]);
        return facts;
    }

    /// <summary>The chance of each difference.</summary>
    private static double[] Gaps(Dice dice, int mark)
    {
        var gaps = new double[Math.Max(mark, Math.Abs(dice.Most - mark)) + 1];
        foreach (var (roll, chance) in dice.Likely()) gaps[Math.Abs(roll - mark)] += chance;
        return gaps;
    }

    protected internal override IReadOnlyList<string> SimulatedFacts(Setup setup) => [];

    protected internal override (string Heading, string Says)? InWords(Setup setup, Facts facts, double secondsATurn, Spending spending)
    {
        double[] gaps = Gaps(setup.At(0, Knobs.Dice).Dice, setup.Get(Knobs.N).Number);
        string tie = setup.Seats.Length > 1 ? $" In {100 * facts.Number("tieChance"):0} of 100 rounds the smallest is shared." : "";
        return ("How near it is", $"Right on {setup.Get(Knobs.N)} in {100 * gaps[0]:0} of 100 rolls; {Words.About(gaps.Select((chance, gap) => chance * gap).Sum(), "step")} off in the mean.{tie}");
    }

    public override IReadOnlyList<SingleChange> RangeSteps(Setup setup, int seat) => [.. Steps(setup, seat, Knobs.N), .. Steps(setup, seat, Knobs.Dice)];

    public override IReadOnlyList<Remark> Audit(Setup setup)
    {
        int mark = setup.Get(Knobs.N).Number;
        var dice = Enumerable.Range(0, setup.Seats.Length).Select(s => setup.At(s, Knobs.Dice).Dice).Distinct().ToList();
        var remarks = new List<Remark>();
        foreach (var own in dice)
            if (Remark(own) is { } remark) remarks.Add(dice.Count == 1 ? Words.Sentence(remark) : $"{Words.Capital(new DiceValue(own).Says())}: {remark}.");
        return remarks;

        string? Remark(Dice dice) =>
            dice.Most < mark || dice.Least > mark ? $"no roll comes to {mark}"
            : Chance(dice, roll => roll <= mark) < Seldom ? $"hardly a roll is as low as {mark}, nearly all go past it"
            : Chance(dice, roll => roll >= mark) < Seldom ? $"hardly a roll is as high as {mark}, nearly all stay below it" : null;
    }

    /// <summary>What less than so large a share of rolls come to is no mark to be near to.</summary>
    private const double Seldom = .15;

    private static double Chance(Dice dice, Func<int, bool> holds) => dice.Likely().Where(l => holds(l.Roll)).Sum(l => l.Chance);

    public override string WhatWins(Setup setup) => ShowsPoints(setup) ? "most rounds" : "the smallest sum";

    public override string Summary(Setup setup) => $"near {setup.Get(Knobs.N)}, {setup.Get(Knobs.Dice)}";

    public override string Summary(Setup setup, int seat) => OwnDice(setup, seat, OwnLevel(setup, seat));
}

/// <summary>The mark of one setup, with each one's dice.</summary>
internal sealed record NearTable : Seating
{
    public NearTable(Setup setup) : base(setup)
    {
        Mark = setup.Get(NearMiss.Knobs.N).Number;
        Rounds = setup.Get(NearMiss.Knobs.Rolls).Number;
        CountsSums = setup.Get(NearMiss.Knobs.Score).Id == NearMiss.Sums;
        Cups = [.. Enumerable.Range(0, Seats).Select(s => new DiceCup(setup.At(s, NearMiss.Knobs.Dice).Dice))];
        Forms = [.. Level.Select(l => l == NearMiss.OnFrame ? Form.DoubleTenFrame : Form.Numeral)];
        KeepsList = [.. Level.Select(l => l == NearMiss.List)];
        // Who keeps a list is asked by what she has on it.
        Kinds = KeepsList.Contains(true) ? new([double.PositiveInfinity]) : new(Cups.Select(c => (double)c.Kinds));
    }

    public int Mark { get; }

    public int Rounds { get; }

    public bool CountsSums { get; }

    public DiceCup[] Cups { get; }

    /// <summary>By seat, how her roll is shown, where it goes so far.</summary>
    public Form[] Forms { get; }

    public bool[] KeepsList { get; }

    public TurnKinds Kinds { get; }

    public Form Shown(int seat, int roll) => Pictures.CanDraw(Forms[seat], Math.Max(roll, Mark)) ? roll <= 10 && Mark <= 10 && Forms[seat] == Form.DoubleTenFrame ? Form.TenFrame : Forms[seat] : Form.Numeral;
}

[InlineArray(Engine.MostSeats * NearMiss.MostRounds)]
internal struct NearLists
{
    private ushort first;
}

internal struct NearAt
{
    /// <summary>Who has rolled in this round, as bits.</summary>
    public uint Rolled;

    /// <summary>Rounds that are over.</summary>
    public short Round;

    /// <summary>Somebody was right on it.</summary>
    public bool Hit;

    public EightNumbers Sum;
    public EightCounts Taken, Had;
    public NearLists Gaps;

    /// <summary>By seat, the last roll.</summary>
    public EightCounts Last;
}

/// <summary>Near Miss: a round is over when everyone who is here has rolled.</summary>
internal readonly struct NearGame(NearTable table) : IRollGame<NearAt>
{
    public int Seats => table.Seats;

    public int TurnKinds => table.Kinds.All;

    public void Start(ref NearAt at, int first) { }

    public void Join(ref NearAt at, int seat) => (at.Sum[seat], at.Taken[seat], at.Had[seat]) = (0, 0, 0);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public DiceCup Cup(in NearAt at, int seat) => table.Cups[seat];

    public Form Faces(int seat) => table.Faces[seat];

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Asks(int seat, in NearAt at, in Rolled rolled, Span<SeatAsk> into)
    {
        if (table.GrownUp[seat]) return 0;
        int count = 0, roll = rolled.Total, gap = Math.Abs(roll - table.Mark);
        into[count++] = new(seat, table.Cups[seat].Asked(in rolled, table.Faces[seat], table.Support[seat]));
        if (gap > 0) into[count++] = new(seat, new Ask(AskKind.Gap, Math.Max(roll, table.Mark), Math.Min(roll, table.Mark), table.Shown(seat, roll), table.Support[seat]));
        if (gap > 0 && table.KeepsList[seat] && at.Sum[seat] > 0 && at.Sum[seat] + gap <= MostAsked) into[count++] = new(seat, new Ask(AskKind.On, at.Sum[seat], gap, Form.Numeral, table.Support[seat]));
        return count;
    }

    /// <summary>Nobody is asked for larger sums.</summary>
    private const int MostAsked = 1000;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int TurnKind(int seat, in NearAt at, in Rolled rolled) => table.Kinds[seat] + table.Cups[seat].Kind(in rolled);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public bool Move(ref Head head, ref NearAt at, int roll)
    {
        int seat = head.Mover, gap = Math.Abs(roll - table.Mark);
        at.Rolled |= 1u << seat;
        at.Last[seat] = (short)roll;
        at.Gaps[seat * NearMiss.MostRounds + at.Had[seat]] = (ushort)gap;
        at.Had[seat]++;
        at.Sum[seat] += gap;
        at.Hit |= gap == 0;
        head.NextMover();
        if ((head.Active & ~at.Rolled) == 0) EndRound(ref at);
        return at.Round >= table.Rounds;
    }

    /// <summary>A round from which the last to roll has left is nobody's.</summary>
    public bool Settle(ref Head head, ref NearAt at)
    {
        if (at.Rolled != 0 && (head.Active & ~at.Rolled) == 0) (at.Rolled, at.Round) = (0, (short)(at.Round + 1));
        return at.Round >= table.Rounds;
    }

    private void EndRound(ref NearAt at)
    {
        int least = int.MaxValue, nearest = -1;
        for (int seat = 0; seat < Seats; seat++)
        {
            if ((at.Rolled >> seat & 1) == 0) continue;
            int gap = at.Gaps[seat * NearMiss.MostRounds + at.Had[seat] - 1];
            if (gap == least) nearest = -1;
            else if (gap < least) (least, nearest) = (gap, seat);
        }
        if (nearest >= 0) at.Taken[nearest]++;
        at.Rolled = 0;
        at.Round++;
    }

    /// <summary>Rounds that were hers; or how much smaller her sum is than it could be at most.</summary>
    public int Points(in NearAt at, int seat) => table.CountsSums ? NearMiss.MostRounds * MostGap - at.Sum[seat] : at.Taken[seat];

    public bool AimReached(in NearAt at) => at.Hit;

    /// <summary>No difference is larger.</summary>
    private const int MostGap = Dice.MostDice * Die.LargestFace;

    public int Left(int seat, in NearAt at) => table.Rounds - at.Round;

    /// <summary>The number that is aimed at.</summary>
    public int Things => 1;

    public Zone Board(in Head head, in NearAt at)
    {
        var places = new List<NearPlace>();
        for (int seat = 0; seat < Seats; seat++)
        {
            // After a round what was rolled in it lies there until the next roll.
            bool lies = (at.Rolled >> seat & 1) != 0 || at.Rolled == 0 && at.Had[seat] > 0;
            var gaps = new List<int>();
            for (int i = 0; i < at.Had[seat]; i++) gaps.Add(at.Gaps[seat * NearMiss.MostRounds + i]);
            places.Add(new(seat, new(seat, lies ? at.Last[seat] : -1, lies ? table.Shown(seat, at.Last[seat]) : Form.Numeral, lies ? ItemState.Up : ItemState.Marked, false), gaps, table.CountsSums ? 0 : at.Taken[seat]));
        }
        return new NearMarks($"How near to {table.Mark}", table.Mark, places, "what she rolled");
    }

    public string Says(in Head head, in NearAt at) => head.Phase switch
    {
        StepKind.Over when Seats == 1 => table.CountsSums ? "How much is that in all?" : "That was the last one.",
        StepKind.Over => table.CountsSums ? "Who has the smallest sum?" : "Who was nearest most often?",
        StepKind.Chance => "Roll.",
        _ => $"How far is that from {table.Mark}?",
    };

    public string Tells(int seat, in NearAt before, int roll) => roll == table.Mark ? $"rolled {roll}, right on it" : $"rolled {roll}, {Math.Abs(roll - table.Mark)} off";
}
