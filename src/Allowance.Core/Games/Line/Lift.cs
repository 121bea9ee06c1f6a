using System.Runtime.CompilerServices;
using Allowance.Core.Asks;
using Allowance.Core.Forecasts;
using Allowance.Core.Forms;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;

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
        public static readonly Knob<WholeValue> Up = new("up", "Floors above", new WholeKind(1, MostFloors), new WholeValue(6), Belongs.Length, Scope.Table, "centre", "How many floors up to the door at the top.");
        public static readonly Knob<WholeValue> Down = new("down", "Floors below", new WholeKind(1, MostFloors), new WholeValue(6), Belongs.Length, Scope.Table, "centre", "How many floors down to the door at the bottom.");
        public static readonly Knob<DiceValue> UpDice = new("upDice", "Going up", new DiceKind(), OneDie, Belongs.Range, Scope.Table, "cards", "What is rolled for going up; it begins.");
        public static readonly Knob<DiceValue> DownDice = new("downDice", "Going down", new DiceKind(), OneDie, Belongs.Range, Scope.Table, "cards", "What is rolled for going down.");
        public static readonly Knob<ChoiceValue> KeepCount = new("keepCount", "Keep count of", Counts, Counts[Rolls], Belongs.RuleLevel, Scope.Table, "centre", "Whether the rolls are counted, or all dots, those past the door too.");
        public static readonly Knob<ChoiceValue> Winning = CommonKnobs.Winning(null, "all ride together to a door");
        public static readonly OpenKnob<RangeValue> Range = CommonKnobs.Range(2 * MostFloors);
    }

    public override FrameData Data { get; } = new(
        "lift", "Lift", Family.Line, "One die goes up, the next goes down: which door does the lift come out at?", "It ends when the lift is out at the top or at the bottom.", 1, Engine.MostSeats,
        [Knobs.Up, Knobs.Down, Knobs.UpDice, Knobs.DownDice, Knobs.KeepCount, Knobs.Winning, Knobs.Range, CommonKnobs.Support],
        [
            Level.Free("count", "Count the floors", "Say how many, and ride so many floors."),
            Level.Free("say", "Say the floor", "Ride, and say which floor you come to."),
        ],
        "say", [AskKind.Say, AskKind.Join, AskKind.On, AskKind.Back]);

    public override bool ShowsPoints => false;

    protected override IReadOnlyList<Problem> Refusals(Setup setup)
    {
        var problems = new List<Problem>();
        var house = new LiftHouse(setup);
        foreach (var (knob, dice) in new[] { ("upDice", house.Up), ("downDice", house.Down) })
            if (dice.Dice.Most == 0) problems.Add(new($"table.{knob}", "With nothing but zeros the lift never moves this way.", OneDie.ToJson()));
        if (problems.Count == 0 && !LiftFacts.Ends(house))
            problems.Add(new("table.downDice", "The lift might ride for ever: from some floor these dice lead to no door.", OneDie.ToJson()));
        return problems;
    }

    protected internal override Game Compile(Setup setup) => new Game<LiftRules, LiftState>(setup, new(new LiftHouse(setup)));

    public override IReadOnlyList<Need> Needs(Setup setup)
    {
        var house = new LiftHouse(setup);
        return [Need.For(house.Up.Dice.All.Concat(house.Down.Dice.All)), new("sheets of paper", 1, "sheet of paper"), new("pieces", 1)];
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

    protected internal override Facts ExactFacts(Setup setup, Behaviour behaviour, Spending spending) => LiftFacts.Of(new LiftHouse(setup), spending);

    protected internal override Facts PlayedFacts(Setup setup, Behaviour behaviour, Spending spending)
    {
        var house = new LiftHouse(setup);
        if (PlayedGames.Play<LiftRules, LiftState>(new(house), behaviour, _ => 0, 3, ReadEnd, spending) is not [var rolls, var top, var dots]) return new();
        return new()
        {
            ["rollsMean"] = rolls.Mean, ["rollsSd"] = rolls.Sd, ["rollsP90"] = rolls.Quantile(.9), ["pTop"] = top.Mean, ["dotsMean"] = dots.Mean, AimReached = 1,
        };

        void ReadEnd(in LiftState state, bool over, Span<double> figures) =>
            (figures[0], figures[1], figures[2]) = (state.Head.Turns, state.Floor >= house.Top ? 1 : 0, state.Dots);
    }

    protected internal override IReadOnlyList<string> SimulatedFacts(Setup setup) => [];

    protected internal override (string Heading, string Says)? InWords(Setup setup, Facts facts, double secondsATurn, Spending spending) =>
        ("Until a door", $"About {facts.Number("rollsMean"):0.0} rolls, nine times in ten at most {facts.Number("rollsP90"):0}; out at the top in {100 * facts.Number("pTop"):0} of 100 games. {TenMinutesSays(setup, secondsATurn)}");

    private static string TenMinutesSays(Setup setup, double secondsATurn)
    {
        if (secondsATurn <= 0) return "";
        // More floors take more rolls: the fewest that fill ten minutes are found by halving.
        int low = 1, high = MostFloors;
        if (!Fills(high)) return $"With these dice even {MostFloors} floors each way take less than ten minutes.";
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
            return !LiftFacts.Ends(house) || LiftFacts.Means(house).Rolls >= TenMinutes / secondsATurn;
        }
    }

    protected internal override IReadOnlyList<Journey> Journeys(Setup setup, Spending spending) => [LiftFacts.Journey(new LiftHouse(setup))];

    public override IReadOnlyList<SingleChange> RangeSteps(Setup setup, int seat) => [.. Steps(setup, seat, Knobs.UpDice), .. Steps(setup, seat, Knobs.DownDice)];

    public override IReadOnlyList<string> Audit(Setup setup) => [];

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

    /// <summary>A turn is told by the floor, the way, and what was rolled.</summary>
    public TurnKinds Kinds { get; }
}

/// <summary>Exact answers about a walk that goes up by one roll and down by the next until it leaves at either end.</summary>
internal static class LiftFacts
{
    private const int MostSteps = 4_000_000;

    /// <summary>Steps between two looks at the clock.</summary>
    private const int Stretch = 64;

    /// <summary>Floors strictly between the doors, each with the roll that comes next: 2 × floor for up, and one more for down.</summary>
    private static int Floors(LiftHouse house) => house.Top - 1;

    private static int Start(LiftHouse house) => 2 * (house.Below - 1);

    /// <summary>Where a roll leads: another floor, or out (−1).</summary>
    private static int After(LiftHouse house, int at, int roll)
    {
        bool up = (at & 1) == 0;
        int floor = (at >> 1) + 1 + (up ? roll : -roll);
        return floor >= house.Top || floor <= 0 ? -1 : 2 * (floor - 1) + (up ? 1 : 0);
    }

    public static bool Ends(LiftHouse house)
    {
        int n = 2 * Floors(house);
        var rolls = new[] { Rolls(house.Up.Dice), Rolls(house.Down.Dice) };
        var met = Met(house, rolls);
        var leads = new bool[n];
        for (bool changed = true; changed;)
        {
            changed = false;
            for (int at = 0; at < n; at++)
                if (!leads[at] && Array.Exists(rolls[at & 1], r => After(house, at, r.Roll) is var to && (to < 0 || leads[to]))) leads[at] = changed = true;
        }
        return Enumerable.Range(0, n).All(at => !met[at] || leads[at]);
    }

    private static (int Roll, double Chance)[] Rolls(Dice dice)
    {
        var chances = dice.Chances.ToArray();
        return [.. Enumerable.Range(0, chances.Length).Where(r => chances[r] > 0).Select(r => (r, chances[r]))];
    }

    /// <summary>The means from the start: rolls, the chance of the top, dots.</summary>
    public static (double Rolls, double Top, double Dots) Means(LiftHouse house)
    {
        int n = 2 * Floors(house), start = Start(house);
        var rolls = new[] { Rolls(house.Up.Dice), Rolls(house.Down.Dice) };
        // Floors that are never met would have no solution of their own.
        var met = Met(house, rolls);
        var index = new int[n];
        int count = 0;
        for (int at = 0; at < n; at++) index[at] = met[at] ? count++ : -1;
        var rows = new double[count][];
        for (int at = 0; at < n; at++)
        {
            if (!met[at]) continue;
            var row = rows[index[at]] = new double[count + 3];
            row[index[at]] = row[count] = 1;
            foreach (var (roll, chance) in rolls[at & 1])
            {
                row[count + 2] += chance * roll;
                int to = After(house, at, roll);
                if (to >= 0) row[index[to]] -= chance;
                else if ((at & 1) == 0) row[count + 1] += chance;
            }
        }
        LinearEquations.Solve(rows);
        var solved = rows[index[start]];
        return (solved[count], solved[count + 1], solved[count + 2]);
    }

    /// <summary>On which floor the lift is after each roll, the doors included.</summary>
    public static Journey Journey(LiftHouse house)
    {
        var rolls = new[] { Rolls(house.Up.Dice), Rolls(house.Down.Dice) };
        var floors = new double[house.Top + 1];
        floors[house.Below] = 1;
        return Rules.Journey.Along("", 0, house.Top, floors, (here, n) =>
        {
            var next = new double[here.Length];
            for (int floor = 0; floor < here.Length; floor++)
                if (here[floor] > 0)
                    foreach (var (roll, chance) in rolls[n % 2])
                        next[floor == 0 || floor == house.Top ? floor : Math.Clamp(floor + (n % 2 == 0 ? roll : -roll), 0, house.Top)] += here[floor] * chance;
            return next;
        }, floor => floor == 0 || floor == house.Top);
    }

    private static bool[] Met(LiftHouse house, (int Roll, double Chance)[][] rolls)
    {
        var met = new bool[2 * Floors(house)];
        var open = new Stack<int>([Start(house)]);
        met[Start(house)] = true;
        while (open.TryPop(out int at))
            foreach (var (roll, _) in rolls[at & 1])
                if (After(house, at, roll) is >= 0 and var to && !met[to])
                {
                    met[to] = true;
                    open.Push(to);
                }
        return met;
    }

    public static Facts Of(LiftHouse house, Spending spending)
    {
        var (mean, top, dots) = Means(house);
        var pmf = Distribution(house, spending);
        return new Facts
        {
            ["rollsMean"] = new NumberFact(mean),
            ["rollsSd"] = new NumberFact(pmf.Sd),
            ["rollsP90"] = new NumberFact(pmf.Quantile(.9)),
            ["pTop"] = new NumberFact(top),
            ["dotsMean"] = new NumberFact(dots),
            Turns = pmf,
            AimReached = 1,
        };
    }

    /// <summary>The distribution of rolls, walked forwards; up and down take turns.</summary>
    private static Pmf Distribution(LiftHouse house, Spending spending)
    {
        int floors = Floors(house);
        var rolls = new[] { Rolls(house.Up.Dice), Rolls(house.Down.Dice) };
        double[] here = new double[floors], next = new double[floors];
        here[house.Below - 1] = 1;
        var endings = new Endings(2, MostSteps);
        double before = 1, left;
        do
        {
            if (endings.Steps % Stretch == 0) spending.Check();
            (before, left) = (Walks.Sum(here), 0);
            Array.Clear(next);
            bool up = endings.Steps % 2 == 0;
            foreach (var (roll, chance) in rolls[up ? 0 : 1])
            {
                int inside = floors - roll;
                if (inside <= 0) continue;
                if (up) Walks.Carry(here.AsSpan(0, inside), chance, next.AsSpan(roll));
                else Walks.Carry(here.AsSpan(roll), chance, next.AsSpan(0, inside));
            }
            left = Walks.Sum(next);
            (here, next) = (next, here);
        }
        while (endings.Step(before - left, left));
        return endings.Chances;
    }
}

internal struct LiftState
{
    public Head Head;
    public Rolled Rolled;
    public short Floor;

    /// <summary>The next roll goes down.</summary>
    public bool Down;
    public int Dots;
}

/// <summary>The rules of Lift: rolls go up and down in turn, whoever makes them.</summary>
internal readonly struct LiftRules(LiftHouse house) : IRules<LiftState>
{
    public int Seats => house.Seats;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public ref Head Head(ref LiftState s) => ref s.Head;

    public void Start(ref LiftState s, int first)
    {
        s = default;
        s.Head = Rules.Head.At(first, Seats);
        s.Floor = (short)house.Below;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private DiceCup Cup(in LiftState s) => s.Down ? house.Down : house.Up;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Draw(ref LiftState s, ref Rng rng) => Cup(in s).Draw(in s.Rolled, ref rng);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Deal(ref LiftState s, int outcome)
    {
        s.Rolled.Add(outcome);
        if (s.Rolled.Count == Cup(in s).Count) s.Head.Phase = StepKind.Choice;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static Move Ride(in LiftState s) => new(0, s.Rolled.Total);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public Move Plain(in LiftState s, ref Rng rng) => Ride(in s);

    public Move Best(in LiftState s, ref Rng rng) => Ride(in s);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Asks(in LiftState s, Move move, Span<SeatAsk> into)
    {
        int seat = s.Head.Mover, count = 0;
        if (house.GrownUp[seat]) return 0;
        into[count++] = new(seat, DiceCup.Asked(in s.Rolled, house.Support[seat]));
        // Beyond a door there is no floor to name.
        int by = s.Down ? Math.Min(move.Pick, s.Floor) : Math.Min(move.Pick, house.Top - s.Floor);
        if (by > 0 && house.SaysFloor[seat]) into[count++] = new(seat, new Ask(s.Down ? AskKind.Back : AskKind.On, s.Floor, by, Form.Line, house.Support[seat]));
        return count;
    }

    public int TurnKinds => house.Kinds.All;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int TurnKind(in LiftState s, Move move) =>
        house.Kinds[s.Head.Mover] + s.Floor * (house.Up.Kinds + house.Down.Kinds) + (s.Down ? house.Up.Kinds + house.Down.Kind(in s.Rolled) : house.Up.Kind(in s.Rolled));

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public float DealSeconds(in LiftState s) => Handling.RollDie;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public float MoveSeconds(in LiftState s, Move move) => Handling.MovePiece;

    public bool Seeking(in LiftState s, Move move) => false;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Apply(ref LiftState s, Move move, Answered answered)
    {
        int floor = Math.Clamp(s.Floor + (s.Down ? -move.Pick : move.Pick), 0, house.Top);
        s.Floor = (short)floor;
        s.Dots += move.Pick;
        s.Down = !s.Down;
        s.Rolled = default;
        s.Head.Turns++;
        s.Head.NextMover();
        s.Head.Phase = floor == 0 || floor == house.Top ? StepKind.Over : StepKind.Chance;
    }

    public void Arrange(ref LiftState s, uint before)
    {
        s.Rolled = default;
        s.Head.Phase = StepKind.Chance;
    }

    public int Points(in LiftState s, int seat) => 0;

    public bool AimReached(in LiftState s) => s.Floor == 0 || s.Floor == house.Top;

    public int Left(in LiftState s) => Math.Min(s.Floor, house.Top - s.Floor);

    /// <summary>The lift.</summary>
    public int Things(in LiftState s) => 1;

    public IReadOnlyList<Possible> Possibilities(in LiftState s) => Cup(in s).Possibilities(in s.Rolled);

    public bool IsLegal(in LiftState s, Move move) => s.Head.Phase == StepKind.Choice && move == Ride(in s);

    public IReadOnlyList<Move> Moves(in LiftState s) => s.Head.Phase == StepKind.Choice ? [Ride(in s)] : [];

    public Tapped Read(in LiftState s, IReadOnlyList<int> items) => Tapped.NeedsMore;

    public IReadOnlyList<Zone> Zones(in LiftState s)
    {
        var shaft = new Zone(ZoneKind.Track, "The house", 1, house.Top, [new(0, s.Floor, Form.None, ItemState.Up, false)]) { Labels = new(1, 1, LineLabels.All), Single = "lift" };
        return s.Rolled.Count == 0 ? [shaft] : [DiceCup.Lying(in s.Rolled), shaft];
    }

    public string Says(in LiftState s) => s.Head.Phase switch
    {
        StepKind.Over => $"Out at the {(s.Floor == 0 ? "bottom" : "top")}: {(house.CountsDots ? Words.Count(s.Dots, "dot") : Words.Count(s.Head.Turns, "roll"))}.",
        StepKind.Chance => s.Down ? "Roll: it goes down." : "Roll: it goes up.",
        _ => house.SaysFloor[s.Head.Mover] ? "How many? Which floor is that?" : "How many floors?",
    };

    public string Tells(in LiftState before, Move move, bool found) => $"{(before.Down ? "down" : "up")} {move.Pick} from floor {before.Floor}";
}
