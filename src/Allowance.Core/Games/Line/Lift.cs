using System.Runtime.CompilerServices;
using Allowance.Core.Asks;
using Allowance.Core.Forecasts;
using Allowance.Core.Forms;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Tables;

namespace Allowance.Core.Games;

/// <summary>Lift: one die goes up, the other down, in turn, until the lift is out at the top or at the bottom.</summary>
public sealed class Lift : Frame
{
    public const string Rolls = "rolls", Dots = "dots";

    public const int MostFloors = 100;

    private static readonly DiceValue OneDie = new(new Dice(Die.Of(6)));
    private static readonly ChoiceKind Counts = ChoiceKind.Of((Rolls, "the rolls"), (Dots, "the dots"));

    public static class Knobs
    {
        public static readonly Knob<WholeValue> Up = new("up", "Floors above", new WholeKind(1, MostFloors), new WholeValue(8), Belongs.Length, Scope.Table, Sits.Line, "How many floors up to the door at the top.");
        public static readonly Knob<WholeValue> Down = new("down", "Floors below", new WholeKind(1, MostFloors), new WholeValue(8), Belongs.Length, Scope.Table, Sits.Line, "How many floors down to the door at the bottom.");
        public static readonly Knob<DiceValue> UpDice = new("upDice", "Going up", new DiceKind(), OneDie, Belongs.Range, Scope.Table, Sits.Dice, "What is rolled for going up; it begins.");
        public static readonly Knob<DiceValue> DownDice = new("downDice", "Going down", new DiceKind(), OneDie, Belongs.Range, Scope.Table, Sits.Dice, "What is rolled for going down.");
        public static readonly Knob<ChoiceValue> KeepCount = new("keepCount", "Keep count of", Counts, Counts[Rolls], Belongs.RuleLevel, Scope.Table, Sits.Game, "Whether the rolls are counted, or all dots, those past the door too.");
        public static readonly Knob<ChoiceValue> Winning = CommonKnobs.Winning(null, "all ride together to a door");
        public static readonly OpenKnob<RangeValue> Range = CommonKnobs.Range(2 * MostFloors);
    }

    public override FrameData Data { get; } = new(
        "lift", "Lift", Family.Line, "One die goes up, the next goes down: which door does the lift come out at?", "It ends when the lift is out at the top or at the bottom.", 1, Engine.MostSeats,
        [Knobs.Up, Knobs.Down, Knobs.UpDice, Knobs.DownDice, CommonKnobs.Faces, Knobs.KeepCount, Knobs.Winning, Knobs.Range, CommonKnobs.Support],
        [
            Level.Free("count", "Count the floors", "Say how many, and ride that many floors."),
            Level.Free("say", "Say the floor", "Ride, and say which floor you come to."),
        ],
        "say", [AskKind.Say, AskKind.Join, AskKind.On, AskKind.Back]);

    public override bool ShowsPoints(Setup setup) => false;

    protected override IReadOnlyList<Problem> Refusals(Setup setup)
    {
        var problems = new List<Problem>();
        var house = new LiftHouse(setup);
        foreach (var (knob, dice) in new[] { ("upDice", house.Up), ("downDice", house.Down) })
            if (dice.Dice.Most == 0) problems.Add(new($"table.{knob}", "With nothing but zeros the lift never moves this way.", OneDie.ToJson()));
        if (problems.Count == 0 && !house.Walk.Ends())
            problems.Add(new("table.downDice", "The lift might ride for ever: from some floor these dice lead to no door.", OneDie.ToJson()));
        return problems;
    }

    protected internal override Game Compile(Setup setup) => new Game<RollRules<LiftGame, LiftAt>, RollState<LiftAt>>(setup, new(new(new(setup))));

    public override IReadOnlyList<Need> Needs(Setup setup)
    {
        var house = new LiftHouse(setup);
        return [Need.ForAll(house.Faces.Distinct().SelectMany(f => house.Up.Dice.All.Concat(house.Down.Dice.All).Select(d => (d, f)))), new("sheets of paper", 1, "sheet of paper"), new("pieces", 1)];
    }

    public override IReadOnlyList<string> GetReady(Setup setup)
    {
        var house = new LiftHouse(setup);
        return
        [
            $"Draw a house with {Words.Count(house.Above, "floor")} above the middle and {house.Below} below it, a door at each end; number the floors from 0 at the bottom door to {house.Above + house.Below} at the top.",
            $"The lift stands on the middle floor, {house.Below}. {Words.Sentence($"going up: {setup.Get(Knobs.UpDice)}; going down: {setup.Get(Knobs.DownDice)}")}",
        ];
    }

    protected internal override Facts ExactFacts(Setup setup, Behaviour behaviour, Spending spending)
    {
        var walk = new LiftHouse(setup).Walk;
        var (rolls, top, dots) = walk.Means();
        var turns = walk.Turns(spending);
        return new()
        {
            ["rollsMean"] = new NumberFact(rolls), ["rollsSd"] = new NumberFact(turns.Sd), ["rollsP90"] = new NumberFact(turns.Quantile(.9)),
            ["pTop"] = new NumberFact(top), ["dotsMean"] = new NumberFact(dots), Turns = turns, AimReached = 1,
        };
    }


    protected internal override Facts PlayedFacts(Setup setup, Behaviour behaviour, Spending spending)
    {
        var house = new LiftHouse(setup);
        if (PlayedGames.Play<RollRules<LiftGame, LiftAt>, RollState<LiftAt>>(new(new(house)), behaviour, _ => 0, 3, ReadEnd, spending) is not [var rolls, var top, var dots]) return new();
        return new()
        {
            ["rollsMean"] = rolls.Mean, ["rollsSd"] = rolls.Sd, ["rollsP90"] = rolls.Quantile(.9), ["pTop"] = top.Mean, ["dotsMean"] = dots.Mean, AimReached = 1,
        };

        void ReadEnd(in RollState<LiftAt> state, bool over, Span<double> figures) =>
            (figures[0], figures[1], figures[2]) = (state.Head.Turns, state.At.Floor >= house.Top ? 1 : 0, state.At.Dots);
    }

    protected internal override IReadOnlyList<string> SimulatedFacts(Setup setup) => [];

    protected internal override (string Heading, string Says)? InWords(Setup setup, Facts facts, double secondsATurn, Spending spending) =>
        ("Until a door", $"{Words.Capital(Words.About(facts.Number("rollsMean"), "roll"))}; nine games in ten take at most {facts.Number("rollsP90"):0}. Out at the top in {100 * facts.Number("pTop"):0} of 100 games. {TenMinutesSays(setup, secondsATurn)}");

    /// <summary>More floors than this each way nobody draws.</summary>
    private const int MostDrawn = 20;

    private static string TenMinutesSays(Setup setup, double secondsATurn)
    {
        if (secondsATurn <= 0) return "";
        // More floors take more rolls: the fewest that fill ten minutes are found by halving.
        int low = 1, high = MostDrawn;
        if (!Fills(high)) return SuchGames(new LiftHouse(setup).Walk.Means().Rolls, secondsATurn).Trim();
        while (low < high)
        {
            int middle = (low + high) / 2;
            if (Fills(middle)) high = middle;
            else low = middle + 1;
        }
        return $"For about ten minutes take {Words.Count(low, "floor")} each way.";

        bool Fills(int floors)
        {
            var house = new LiftHouse(setup.With(Knobs.Up, new WholeValue(floors)).With(Knobs.Down, new WholeValue(floors)));
            return !house.Walk.Ends() || house.Walk.Means().Rolls >= TenMinutes / secondsATurn;
        }
    }

    protected internal override IReadOnlyList<Journey> Journeys(Setup setup, Spending spending) => [new LiftHouse(setup).Walk.Journey()];

    public override IReadOnlyList<SingleChange> RangeSteps(Setup setup, int seat) => [.. Steps(setup, seat, Knobs.UpDice), .. Steps(setup, seat, Knobs.DownDice)];

    public override string Summary(Setup setup) => $"{setup.Get(Knobs.Up)} floors up, {setup.Get(Knobs.Down)} down";
}

/// <summary>The house of one setup. Floors count from the door at the bottom, 0, to the door at the top.</summary>
internal sealed record LiftHouse : Seating
{
    public LiftHouse(Setup setup) : base(setup)
    {
        (Above, Below) = (setup.Get(Lift.Knobs.Up).Number, setup.Get(Lift.Knobs.Down).Number);
        (Up, Down) = (new(setup.Get(Lift.Knobs.UpDice).Dice), new(setup.Get(Lift.Knobs.DownDice).Dice));
        SaysFloor = [.. Level.Select(l => l == "say")];
        Kinds = new(Level.Select(_ => (Top + 1.0) * (Up.Kinds + Down.Kinds)));
        CountsDots = setup.Get(Lift.Knobs.KeepCount).Id == Lift.Dots;
    }

    /// <summary>All dots are counted, not the rolls.</summary>
    public bool CountsDots { get; }

    public int Above { get; }

    public int Below { get; }

    public DiceCup Up { get; }

    public DiceCup Down { get; }

    public bool[] SaysFloor { get; }

    public int Top => Above + Below;

    public SwingFacts Walk => new(Above, Below, Up.Dice, Down.Dice);

    /// <summary>A turn is told by the floor, the way, and what was rolled.</summary>
    public TurnKinds Kinds { get; }
}

internal struct LiftAt
{
    public short Floor;

    /// <summary>The next roll goes down.</summary>
    public bool Down;
    public int Dots;
}

/// <summary>Lift: rolls go up and down in turn, whoever makes them.</summary>
internal readonly struct LiftGame(LiftHouse house) : IRollGame<LiftAt>
{
    public int Seats => house.Seats;

    public int TurnKinds => house.Kinds.All;

    public void Start(ref LiftAt at, int first) => at.Floor = (short)house.Below;

    public void Join(ref LiftAt at, int seat) { }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public DiceCup Cup(in LiftAt at, int seat) => at.Down ? house.Down : house.Up;

    public Form Faces(int seat) => house.Faces[seat];

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Asks(int seat, in LiftAt at, in Rolled rolled, Span<SeatAsk> into)
    {
        if (house.GrownUp[seat]) return 0;
        into[0] = new(seat, Cup(in at, seat).Asked(in rolled, house.Faces[seat], house.Support[seat]));
        // Beyond a door there is no floor to name.
        int by = Math.Min(rolled.Total, at.Down ? at.Floor : house.Top - at.Floor);
        if (by == 0 || !house.SaysFloor[seat]) return 1;
        into[1] = new(seat, new Ask(at.Down ? AskKind.Back : AskKind.On, at.Floor, by, Form.Line, house.Support[seat]));
        return 2;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int TurnKind(int seat, in LiftAt at, in Rolled rolled) =>
        house.Kinds[seat] + at.Floor * (house.Up.Kinds + house.Down.Kinds) + (at.Down ? house.Up.Kinds + house.Down.Kind(in rolled) : house.Up.Kind(in rolled));

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public bool Move(ref Head head, ref LiftAt at, int roll)
    {
        at.Floor = (short)Math.Clamp(at.Floor + (at.Down ? -roll : roll), 0, house.Top);
        at.Dots += roll;
        at.Down = !at.Down;
        head.NextMover();
        return AimReached(in at);
    }

    public bool Settle(ref Head head, ref LiftAt at) => AimReached(in at);

    public int Points(in LiftAt at, int seat) => 0;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public bool AimReached(in LiftAt at) => at.Floor == 0 || at.Floor == house.Top;

    public int Left(int seat, in LiftAt at) => Math.Min(at.Floor, house.Top - at.Floor);

    public int Things => 1;

    public Zone Board(in Head head, in LiftAt at) => new House("The house", house.Top, house.Below, at.Floor, at.Down, house.CountsDots ? Words.Count(at.Dots, "dot") : Words.Count(head.Turns, "roll"));

    public string Says(in Head head, in LiftAt at) => head.Phase switch
    {
        StepKind.Over => $"Out at the {(at.Floor == 0 ? "bottom" : "top")}: {(house.CountsDots ? Words.Count(at.Dots, "dot") : Words.Count(head.Turns, "roll"))}.",
        StepKind.Chance => at.Down ? "Roll: it goes down." : "Roll: it goes up.",
        _ => house.SaysFloor[head.Mover] ? at.Down ? "How many down? Which floor is that?" : "How many up? Which floor is that?" : at.Down ? "How many floors down?" : "How many floors up?",
    };

    public string Tells(int seat, in LiftAt before, int roll) => $"{(before.Down ? "down" : "up")} {roll} from floor {before.Floor}";
}
