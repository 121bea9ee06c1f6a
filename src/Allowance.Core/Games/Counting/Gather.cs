using System.Collections.Immutable;
using Allowance.Core.Asks;
using Allowance.Core.Forecasts;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;

namespace Allowance.Core.Games;

/// <summary>Gather: roll, say how many, and take that many from the heap until it is gone.</summary>
public sealed class Gather : Frame
{
    public const string One = "one", Two = "two", TwoOn = "two-on", Colour = "colour", Sign = "sign";

    public const int MostPieces = 1000, MostColours = 6, UsualOfEach = 6, UsualRounds = 8;

    private static readonly DiceValue OneDie = new(new Dice(Die.Of(6))), TwoDice = new(new Dice(Die.Of(6), Die.Of(6)));
    private static readonly ChoiceKind Takes = ChoiceKind.Of(("partial", "take what is left"), ("exact", "too large a roll takes none"));

    public static class Knobs
    {
        public static readonly Knob<WholeValue> Pool = new("pool", "Things in the heap", new WholeKind(1, MostPieces, 1.25), new WholeValue(30), Belongs.Length, Scope.Table, Sits.Things, "How many things lie in the heap; with colours it is the sum of them.");
        public static readonly Knob<DiceValue> Dice = new("dice", "Dice", new DiceKind(), OneDie, Belongs.Range, Scope.Both, Sits.Dice, "What is rolled; at a place: her own dice.", KnobRole.Dice);
        public static readonly Knob<ChoiceValue> LastTake = new("lastTake", "At the end", Takes, Takes["partial"], Belongs.Length, Scope.Table, Sits.Things, "Whether a roll larger than what is left takes the rest, or none.");
        public static readonly OpenKnob<ColourDieValue> ColourDie = new("colourDie", "Colour die", new ColourDieKind(12), Belongs.RuleLevel, Scope.Table, Sits.Dice, "Rolled with the dice: only things of that colour are taken; with two colours she chooses.");
        public static readonly OpenKnob<ColoursValue> Pieces = new("pieces", "Of each colour", new ColoursKind(MostColours, 200), Belongs.Length, Scope.Table, Sits.Things, "How many things there are of each colour; six where it is left open.");
        public static readonly OpenKnob<SignDieValue> SignDie = new("signDie", "Sign die", new SignDieKind(12), Belongs.RuleLevel, Scope.Table, Sits.Dice, "Rolled with the dice: plus takes, minus gives back to the heap, ×2 takes as many again as she has, ÷2 gives back half.");
        public static readonly OpenKnob<WholeValue> Rounds = new("rounds", "Rounds", new WholeKind(1, 50), Belongs.Length, Scope.Table, Sits.Game, "How often each player rolls; until the heap is gone where it is left open, or eight times with a sign die.");
        public static readonly Knob<FlagValue> Total = new("total", "Says her total", new FlagKind(), new FlagValue(false), Belongs.RuleLevel, Scope.Both, Sits.Game, "Whether she also says how many she has then.");
        public static readonly Knob<WholeValue> HeadStart = new("headStart", "Head start", new WholeKind(0, 200), new WholeValue(0), Belongs.Fairness, Scope.Seat, Sits.Place, "Things she has before it begins, beside the heap.", KnobRole.HeadStart);
        public static readonly OpenKnob<RangeValue> Range = CommonKnobs.Range(MostPieces);
        public static readonly Knob<ChoiceValue> Winning = CommonKnobs.Winning("most things", "all together empty the heap");
    }

    public override FrameData Data { get; } = new(
        "gather", "Gather", Family.Counting, "Roll, say how many, and take that many from the heap.", "It ends when the heap is gone, or after the last round.", 1, Engine.MostSeats,
        [Knobs.Pool, Knobs.Dice, CommonKnobs.Faces, Knobs.LastTake, Knobs.ColourDie, Knobs.Pieces, Knobs.SignDie, Knobs.Rounds, Knobs.Total, Knobs.HeadStart, Knobs.Range, CommonKnobs.Support, CommonKnobs.First, Knobs.Winning],
        [
            Level.Free(One, "One die", "Roll one die, say how many, and take that many.", (Knobs.Dice, OneDie)),
            Level.Free(Two, "Two dice", "Roll two dice, count all the dots, and take that many.", (Knobs.Dice, TwoDice)),
            Level.Free(TwoOn, "Counting on", "Roll two dice, count on from the larger, and take that many.", (Knobs.Dice, TwoDice)),
            Level.Free(Colour, "With a colour", "Roll a number and a colour; take that many of that colour.", (Knobs.Dice, OneDie), (Knobs.ColourDie, new ColourDieValue([["red"], ["red"], ["yellow"], ["yellow"], ["blue"], ["blue"]])), (Knobs.Pieces, new ColoursValue([("red", 8), ("yellow", 8), ("blue", 8)]))),
            Level.Free(Sign, "Plus and minus", "Roll a number and a sign; take that many, or give that many back.", (Knobs.Dice, OneDie), (Knobs.SignDie, new SignDieValue("+++-")), (Knobs.Total, new FlagValue(true))),
        ],
        One, [AskKind.Say, AskKind.Join, AskKind.Take, AskKind.Gone, AskKind.Double, AskKind.Share]);

    protected override IReadOnlyList<Problem> Refusals(Setup setup)
    {
        var problems = new List<Problem>();
        var heap = new GatherHeap(setup);
        for (int s = 0; s < heap.Seats; s++)
            if (heap.Cups[s].Dice.Most == 0) problems.Add(new(setup.Path(s, Knobs.Dice), "With nothing but zeros nobody takes anything.", OneDie.ToJson()));
        for (int s = 0; s < heap.Seats; s++)
            if (heap.Pool + heap.HeadStart[s] > MostPieces) problems.Add(new($"players[{s}].allowance.headStart", $"With the heap she could come to more than {MostPieces}.", MostPieces - heap.Pool));
        if (heap.ColourFaces.Length > 0 && heap.Signs.Length > 0)
            problems.Add(new("table.signDie", "A colour die and a sign die do not go together here.", null));
        else if (heap.ColourFaces.Length > 0)
        {
            var missing = heap.Colours.Where((_, c) => heap.ColourFaces.All(f => f.One != c && f.Other != c)).ToList();
            if (missing.Count > 0)
                problems.Add(new("table.colourDie", $"No face shows {Words.List(missing)}; those things would lie for ever.", new ColourDieValue(heap.Colours.Select(c => new[] { c })).ToJson()));
            if (setup.Table.ContainsKey("pool") && setup.Get(Knobs.Pool).Number != heap.Pool)
                problems.Add(new("table.pool", $"Of all colours together there are {heap.Pool}.", heap.Pool));
            if (heap.Facts.States > HeapFacts.MostStates)
                problems.Add(new("table.pieces", $"So many colours with so many things can lie in {heap.Facts.States:N0} ways, too many to foresee.", Fewer(heap).ToJson()));
        }
        if (problems.Count == 0 && heap is { Exact: true, Rounds: null } && heap.Facts.NeverTaken() is { } left)
            problems.Add(new("table.lastTake", $"When {left} {(left == 1 ? "is" : "are")} left, these dice never roll so little; it would not end.", "partial"));
        return [.. problems.DistinctBy(p => p.Path)];
    }

    /// <summary>The same colours with the most of each that can be foreseen.</summary>
    private static ColoursValue Fewer(GatherHeap heap)
    {
        int each = 1;
        while (Math.Pow(each + 2, heap.Colours.Length) <= HeapFacts.MostStates) each++;
        return new(heap.Colours.Select((c, i) => (c, Math.Min(each, heap.Pieces[i]))));
    }

    /// <summary>How many there are now, where that is said; else how many the dice show.</summary>
    public override Ask MattersMost(Setup setup, int seat, IReadOnlyList<Ask> asks) => asks[^1].Kind == AskKind.Take ? asks[0] : asks[^1];

    protected internal override Game Compile(Setup setup) => new Game<GatherRules, GatherState>(setup, new(new GatherHeap(setup)));

    public override IReadOnlyList<Need> Needs(Setup setup)
    {
        var heap = new GatherHeap(setup);
        var needs = new List<Need> { heap.Value is { } coloured ? Need.PiecesOf(coloured.Colours, heap.HeadStart.Sum()) : new("pieces", heap.Pool + heap.HeadStart.Sum()), Need.For(heap.Cups.Select((c, s) => (c.Dice, heap.Faces[s]))) };
        if (heap.ColourFaces.Length > 0) needs.Add(Need.Blank("colour dice", "colour die", heap.FaceWords));
        if (heap.Signs.Length > 0) needs.Add(Need.Blank("sign dice", "sign die", heap.Signs.Select(SignDieValue.Says)));
        return needs;
    }

    public override IReadOnlyList<string> GetReady(Setup setup)
    {
        var heap = new GatherHeap(setup);
        var lines = new List<string> { $"A heap of {heap.Pool} small things in the middle{(heap.ColourFaces.Length > 0 ? $": {heap.Value}" : "")}." };
        if (heap.ColourFaces.Length > 0) lines.Add($"The colour die shows {setup.Get(Knobs.ColourDie)}.");
        if (heap.Signs.Length > 0) lines.Add($"The sign die shows {setup.Get(Knobs.SignDie)}.");
        lines.AddRange(Enumerable.Range(0, setup.Seats.Length).Where(s => heap.HeadStart[s] > 0).Select(s => $"{Words.Capital(setup.Who(s))} begins with {heap.HeadStart[s]} of her own."));
        return lines;
    }

    public override string EndsWhen(Setup setup)
    {
        var heap = new GatherHeap(setup);
        string[] ends =
        [
            .. heap.Signs.Length > 0 ? Array.Empty<string>() : ["when the heap is gone"],
            .. heap.Rounds is { } rounds ? [$"when everyone has rolled {Words.Count(rounds, "time")}"] : Array.Empty<string>(),
        ];
        return $"It ends {string.Join(", or ", ends)}.";
    }

    /// <summary>Until the heap is gone; averaged over who begins where that is drawn or goes round.</summary>
    protected internal override Facts ExactFacts(Setup setup, Behaviour behaviour, Spending spending)
    {
        var heap = new GatherHeap(setup);
        var (rolls, empty) = heap.Signs.Length > 0 ? (Pmf.Always(heap.Rounds!.Value * heap.Seats), 0) : heap.Facts.Until(heap.Rounds, Beginners(setup, heap), behaviour == Behaviour.Perfect, spending);
        var facts = new Facts { ["rollsMean"] = new NumberFact(rolls.Mean), ["rollsP90"] = new NumberFact(rolls.Quantile(.9)), Turns = rolls };
        if (heap.ColourFaces.Length > 0) facts["emptyRolls"] = new NumberFact(empty);
        if (heap.Rounds is null) facts.AimReached = 1;
        return facts;
    }

    private static ImmutableArray<int> Beginners(Setup setup, GatherHeap heap)
    {
        var beginners = setup.Beginners;
        // Where all roll alike it is no matter who begins.
        return heap.Cups.Select(c => c.Dice).Distinct().Count() > 1 ? beginners : [beginners[0]];
    }

    protected internal override Facts PlayedFacts(Setup setup, Behaviour behaviour, Spending spending)
    {
        var heap = new GatherHeap(setup);
        var beginners = Beginners(setup, heap);
        var rules = new GatherRules(heap);
        if (PlayedGames.Play<GatherRules, GatherState>(rules, behaviour, game => beginners[game % beginners.Length], 2, Look, spending) is not [var rolls, var empty]) return new();
        var facts = new Facts { ["rollsMean"] = rolls.Mean, ["rollsP90"] = rolls.Quantile(.9) };
        if (heap.ColourFaces.Length > 0) facts["emptyRolls"] = empty.Mean;
        if (heap.Rounds is null) facts.AimReached = 1;
        return facts;

        void Look(in GatherState state, bool over, Span<double> figures)
        {
            if (over) figures[0] = state.Head.Turns;
            else if (rules.IsEmpty(in state)) figures[1]++;
        }
    }

    protected internal override IReadOnlyList<string> SimulatedFacts(Setup setup) => [];

    protected internal override (string Heading, string Says)? InWords(Setup setup, Facts facts, double secondsATurn, Spending spending)
    {
        var heap = new GatherHeap(setup);
        string empty = heap.ColourFaces.Length > 0 ? $" Of those, {Words.About(facts.Number("emptyRolls"), "roll")} {(facts.Number("emptyRolls") < 1.5 ? "meets" : "meet")} a colour that is gone." : "";
        return (heap.Rounds is null ? "Until the heap is gone" : "How many rolls", $"{Words.Capital(Words.About(facts.Number("rollsMean"), "roll"))}{(facts.Number("rollsP90") > Math.Round(facts.Number("rollsMean")) ? $"; nine games in ten take at most {facts.Number("rollsP90"):0}" : "")}.{empty}{ForTenMinutes(heap, facts, secondsATurn)}");
    }

    /// <summary>More small things than this few homes put out.</summary>
    private const int MostAtHome = 60;

    /// <summary>
    /// With more in the heap, each piece takes one roll more in so many as a roll takes on average; so the heap for a number of rolls
    /// follows from the rolls for this one.
    /// </summary>
    private static string ForTenMinutes(GatherHeap heap, Facts facts, double secondsATurn)
    {
        if (heap.Rounds is not null || heap.ColourFaces.Length > 0 || secondsATurn <= 0) return "";
        double more = TenMinutes / secondsATurn - facts.Number("rollsMean");
        int pieces = (int)Math.Round(heap.Pool + more * heap.Cups.Average(c => c.Dice.Total.Mean));
        return pieces is >= 1 and <= MostAtHome ? $" For about ten minutes put out {Words.Count(pieces, "thing")}." : SuchGames(facts.Number("rollsMean"), secondsATurn);
    }

    public override bool Matters(Setup setup, Knob knob) => knob.Id switch
    {
        "pool" => setup.Get(Knobs.ColourDie) is null,
        "pieces" => setup.Get(Knobs.ColourDie) is not null,
        "colourDie" => setup.Get(Knobs.SignDie) is null,
        "signDie" => setup.Get(Knobs.ColourDie) is null,
        _ => true,
    };

    public override KnobValue? LeftOpen(Setup setup, Knob knob) => knob.Id switch
    {
        "pieces" when setup.Get(Knobs.ColourDie) is not null => new GatherHeap(setup).Value,
        "rounds" when setup.Get(Knobs.SignDie) is not null => new WholeValue(UsualRounds),
        _ => null,
    };

    public override IReadOnlyList<SingleChange> RangeSteps(Setup setup, int seat) => Steps(setup, seat, Knobs.Dice);

    public override string Summary(Setup setup) => $"a heap of {new GatherHeap(setup).Pool}, {setup.Get(Knobs.Dice)}";

    public override string Summary(Setup setup, int seat) => OwnDice(setup, seat, OwnLevel(setup, seat));
}
