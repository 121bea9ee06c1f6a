using Allowance.Core.Asks;
using Allowance.Core.Forecasts;
using Allowance.Core.Forms;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;

namespace Allowance.Core.Games;

/// <summary>Tally Up: pieces of different worth are taken in turn, and the score is kept in bundles of five until somebody has enough.</summary>
public sealed class TallyUp : Frame
{
    public const string Bundles = "tally", OnLine = "line", InNumbers = "numeral", Exactly = "exact", Reach = "reach";

    private const int MostGoal = 500, MostWorth = 100, MostPieces = 400;

    private static readonly ChoiceKind Finishes = ChoiceKind.Of((Reach, "reaching it is enough"), (Exactly, "only the very number counts"));
    private static readonly ChoiceKind Records = ChoiceKind.Of((Bundles, "in bundles of five"), (OnLine, "on a line"), (InNumbers, "in numbers"));

    private const int UsualGoal = 15;

    private static readonly CountsValue UsualWorth = new([new(1, 8), new(2, 8), new(3, 4)]);

    public static class Knobs
    {
        public static readonly Knob<CountsValue> Worth = new("worth", "The pieces", new CountsKind(MostWorth, 200, MostPieces), UsualWorth, Belongs.Range, Scope.Table, Sits.Things, "How many pieces there are of each worth.", KnobRole.Numbers);
        public static readonly Knob<WholeValue> Goal = new("goal", "The goal", new WholeKind(1, MostGoal), new WholeValue(UsualGoal), Belongs.Length, Scope.Both, Sits.Game, "How much it takes to be done.");
        public static readonly Knob<ChoiceValue> Finish = new("finish", "At the end", Finishes, Finishes[Reach], Belongs.RuleLevel, Scope.Both, Sits.Game, "Whether a piece that goes past the goal ends it, or is laid aside.");
        public static readonly Knob<ChoiceValue> Record = new("record", "The score is kept", Records, Records[Bundles], Belongs.Form, Scope.Both, Sits.Cards, "How each one’s score is written.");
        public static readonly Knob<WholeValue> HeadStart = new("headStart", "Head start", new WholeKind(0, MostGoal), new WholeValue(0), Belongs.Fairness, Scope.Seat, Sits.Place, "Points she begins with.", KnobRole.HeadStart);
        public static readonly OpenKnob<RangeValue> Range = CommonKnobs.Range(MostGoal);
        public static readonly Knob<ChoiceValue> Winning = CommonKnobs.Winning("the first who has enough", "all together get somebody there");
    }

    public override FrameData Data { get; } = new(
        "tallyup", "Tally Up", Family.Joining, "Take pieces of different worth, and keep the score: who has enough first?", "It ends when somebody has enough, or the box is empty.", 1, Engine.MostSeats,
        [Knobs.Worth, Knobs.Goal, Knobs.Finish, Knobs.Record, Knobs.HeadStart, Knobs.Range, CommonKnobs.Support, CommonKnobs.First, Knobs.Winning],
        [
            Level.Free("bundles", "Bundles of five", "Take a piece, add as many strokes as it is worth, and say how many you have."),
            Level.Free("line", "On a line", "Take a piece, go on as far as it is worth, and say where you are.", (Knobs.Record, Records[OnLine])),
            Level.Free("numbers", "In numbers", "Take a piece, and write what you have now.", (Knobs.Record, Records[InNumbers])),
            Level.Fixed("exactly", "To the very number", "Only the very number counts: what goes past it is laid aside.", [(Knobs.Finish, Finishes[Exactly])], (Knobs.Record, Records[InNumbers])),
        ],
        "bundles", [AskKind.Say, AskKind.On]);

    protected override IReadOnlyList<Problem> Refusals(Setup setup)
    {
        var table = new TallyTable(setup);
        int all = table.Worths.Sum(w => w);
        for (int s = 0; s < setup.Seats.Length; s++)
        {
            int goal = table.Goals[s];
            if (goal > all) return all == 0 ? [new("table.worth", "With nothing but pieces worth nothing nobody gets anywhere.", new CountsValue([new(1, 8), new(2, 8)]).ToJson())] : [new(setup.Path(s, Knobs.Goal), $"All pieces together are worth {all}; nobody comes to {goal}.", all)];
            if (table.HeadStart[s] >= goal) return [new(setup.Path(s, Knobs.HeadStart), $"With {table.HeadStart[s]} she would have enough before she begins.", goal - 1)];
            if (table.IsExact[s] && table.Facts.Least(goal - table.HeadStart[s], true) is null) return [setup.Unfit(s, Knobs.Finish, $"No pieces make {goal - table.HeadStart[s]} exactly.", Reach)];
        }
        return [];
    }

    protected internal override Game Compile(Setup setup) => new Game<TallyRules, TallyState>(setup, new(new TallyTable(setup)));

    public override IReadOnlyList<Need> Needs(Setup setup)
    {
        var records = Enumerable.Range(0, setup.Seats.Length).Select(s => setup.At(s, Knobs.Record).Id).ToList();
        return
        [
            new(Need.Pieces, setup.Get(Knobs.Worth).All.Count), new("boxes", 1, "box"),
            .. records.Contains(OnLine) ? [new Need("lines", 1)] : Array.Empty<Need>(),
            .. records.Exists(r => r != OnLine) ? [new Need("sheets of paper", 1, "sheet of paper")] : Array.Empty<Need>(),
        ];
    }

    public override IReadOnlyList<string> GetReady(Setup setup)
    {
        var worth = setup.Get(Knobs.Worth).Counts;
        return
        [
            $"Mark the pieces with what they are worth: {Words.List(worth.Select(w => $"{w.Value} with {w.Key}"))}. Sticks of different lengths or halves of dominoes do as well.",
            $"They lie in a box; each takes one without looking, and it stays out. {Goals(setup)}",
        ];
    }

    private static string Goals(Setup setup)
    {
        var seats = Enumerable.Range(0, setup.Seats.Length);
        var by = seats.GroupBy(s => setup.At(s, Knobs.Goal).Number).ToList();
        return by.Count == 1 ? $"The goal is {by[0].Key}." : $"The goal is {Words.List(by.Select(g => $"{g.Key} for {Words.List(g.Select(setup.Who))}"))}.";
    }

    protected internal override Facts ExactFacts(Setup setup, Behaviour behaviour, Spending spending)
    {
        var table = new TallyTable(setup);
        var (pick, seats) = (table.Facts, setup.Seats.Length);
        var below = table.Goals.Distinct().ToDictionary(goal => goal, goal => pick.StillBelow(goal, spending));
        var facts = new Facts
        {
            ["ways"] = PerSeat(setup, s => new NumberFact(pick.Ways(table.Goals[s]))),
            ["picksLeast"] = PerSeat(setup, s => new NumberFact(pick.Least(table.Goals[s], table.IsExact[s]) ?? 0)),
            ["picksMean"] = PerSeat(setup, s => new NumberFact(below[table.Goals[s]].Sum())),
        };
        if (seats > 1 || table.IsExact[0]) return facts;
        double[] mine = pick.StillBelow(table.Goals[0] - table.HeadStart[0], spending);
        facts.Turns = new([.. mine.Select((chance, n) => n == 0 ? 1 - chance : mine[n - 1] - chance)]);
        facts.AimReached = 1;
        return facts;
    }

    /// <summary>Only the mean hangs on chance.</summary>
    protected internal override Facts PlayedFacts(Setup setup, Behaviour behaviour, Spending spending)
    {
        var table = new TallyTable(setup);
        return new()
        {
            ["ways"] = PerSeat(setup, s => new NumberFact(table.Facts.Ways(table.Goals[s]))),
            ["picksLeast"] = PerSeat(setup, s => new NumberFact(table.Facts.Least(table.Goals[s], table.IsExact[s]) ?? 0)),
            ["picksMean"] = PerSeat(setup, s => Mean(table, table.Goals[s], spending)),
        };
    }

    private static NumberFact Mean(TallyTable table, int goal, Spending spending)
    {
        const int enough = 20_000;
        var picks = new PlayedFigure();
        int game = 0;
        for (; game == 0 || game < enough && !spending.IsSpent; game++)
        {
            var rng = Rng.ForGame(20, game);
            var pile = default(DrawPile);
            pile.Fill(table.Worths);
            int sum = 0, taken = 0;
            for (; sum < goal; taken++)
            {
                int worth = pile.Draw(ref rng);
                pile.Take((byte)worth);
                sum += worth;
            }
            picks.Add(taken);
        }
        return picks.Mean;
    }

    protected internal override IReadOnlyList<string> SimulatedFacts(Setup setup) => [];

    protected internal override (string Heading, string Says)? InWords(Setup setup, Facts facts, double secondsATurn, Spending spending)
    {
        var table = new TallyTable(setup);
        double mean = table.Facts.StillBelow(table.Goals[0], spending).Sum();
        return ("To the goal", $"At least {Words.Count(table.Facts.Least(table.Goals[0], table.IsExact[0]) ?? 0, "piece")}; alone, {Words.About(mean, "piece")} {(table.IsExact[0] ? "until the goal is reached or passed" : "in the mean")}.");
    }

    /// <summary>What pieces are worth from step to step, with a goal that takes some ten of them.</summary>
    private static readonly (CountsValue Worth, int Goal)[] Ladder =
    [
        (new([new(1, 12)]), 8), (new([new(1, 10), new(2, 6)]), 10), (UsualWorth, UsualGoal), (new([new(1, 8), new(2, 6), new(3, 6), new(4, 4)]), 20),
        (new([new(1, 6), new(2, 6), new(3, 4), new(4, 4), new(5, 4)]), 25), (new([new(1, 8), new(2, 6), new(5, 6)]), 30), (new([new(1, 8), new(2, 6), new(5, 6), new(10, 4)]), 50), (new([new(2, 8), new(5, 8), new(10, 8)]), 100),
    ];

    /// <summary>The step before and after; what is none of them goes on from the last that is worth no more. A goal of one's own stays.</summary>
    public override IReadOnlyList<SingleChange> RangeSteps(Setup setup, int seat)
    {
        var now = setup.Get(Knobs.Worth);
        int at = Array.FindIndex(Ladder, step => step.Worth.Equals(now));
        if (at < 0) at = Math.Max(0, Array.FindLastIndex(Ladder, step => step.Worth.Counts.Keys.Last() <= now.Counts.Keys.Last()));
        bool alongside = setup.Get(Knobs.Goal).Number == Ladder[at].Goal;
        return
        [
            .. new[] { at - 1, at + 1 }.Where(to => to >= 0 && to < Ladder.Length).Select(to => new SingleChange(
                $"the pieces: {Ladder[to].Worth} instead of {now}{(alongside ? $", to {Ladder[to].Goal}" : "")}", Belongs.Range, alongside ? setup.With(Knobs.Worth, Ladder[to].Worth).With(Knobs.Goal, new WholeValue(Ladder[to].Goal)) : setup.With(Knobs.Worth, Ladder[to].Worth))),
        ];
    }

    public override string Summary(Setup setup) => $"to {setup.Get(Knobs.Goal)}, pieces worth {Words.Numbers(setup.Get(Knobs.Worth).Counts.Keys)}";

    public override string Summary(Setup setup, int seat) => OwnDice(setup, seat, OwnLevel(setup, seat));
}

/// <summary>The pieces of one setup, and what each player plays to.</summary>
internal sealed record TallyTable : Seating
{
    public TallyTable(Setup setup) : base(setup)
    {
        var worth = setup.Get(TallyUp.Knobs.Worth);
        Worths = [.. worth.All.Select(w => (byte)w)];
        Facts = new(worth.Counts);
        var seats = Enumerable.Range(0, Seats).ToList();
        IsExact = [.. seats.Select(s => setup.At(s, TallyUp.Knobs.Finish).Id == TallyUp.Exactly)];
        Goals = [.. seats.Select(s => setup.At(s, TallyUp.Knobs.Goal).Number)];
        HeadStart = [.. seats.Select(s => setup.At(s, TallyUp.Knobs.HeadStart).Number)];
        Record = [.. seats.Select(s => setup.At(s, TallyUp.Knobs.Record).Id switch { TallyUp.Bundles => Form.Tally, TallyUp.OnLine => Form.Line, _ => Form.Numeral })];
        Most = Worths.Max();
        Kinds = new(Goals.Select(goal => goal * (Most + 1.0)));
    }

    public byte[] Worths { get; }

    public PickFacts Facts { get; }

    /// <summary>By seat: what goes past her goal is laid aside.</summary>
    public bool[] IsExact { get; }

    public int[] Goals { get; }

    public int[] HeadStart { get; }

    /// <summary>By seat, how her score is written.</summary>
    public Form[] Record { get; }

    /// <summary>The largest worth.</summary>
    public int Most { get; }

    /// <summary>A turn is told by what she has and what she takes.</summary>
    public TurnKinds Kinds { get; }
}
