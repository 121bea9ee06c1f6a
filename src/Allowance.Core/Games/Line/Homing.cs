using Allowance.Core.Asks;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;

namespace Allowance.Core.Games;

/// <summary>Homing: roll and go up or down, as one likes; after some rounds the nearest to the mark wins.</summary>
public sealed class Homing : Frame
{
    public const int MostRounds = 20, LargestNumber = 1000;

    private static readonly DiceValue OneDie = new(new Dice(Die.Of(6)));

    public static class Knobs
    {
        public static readonly Knob<WholeValue> Start = new("start", "Begin on", new WholeKind(0, LargestNumber), new WholeValue(10), Belongs.Range, Scope.Table, Sits.Line, "The number everyone begins on.");
        public static readonly OpenKnob<WholeValue> Mark = new("mark", "The mark", new WholeKind(0, LargestNumber), Belongs.Range, Scope.Table, Sits.Line, "The number to come home to; the first one where it is left open.");
        public static readonly Knob<WholeValue> Rounds = new("rounds", "Rounds", new WholeKind(1, MostRounds), new WholeValue(5), Belongs.Length, Scope.Table, Sits.Game, "How often each player rolls.");
        public static readonly Knob<DiceValue> Dice = new("dice", "Dice", new DiceKind(), OneDie, Belongs.Range, Scope.Both, Sits.Dice, "What is rolled and added; at a place: her own dice.", KnobRole.Dice);
        public static readonly OpenKnob<RangeValue> Line = new("line", "The line", new RangeKind(-LargestNumber, LargestNumber), Belongs.Range, Scope.Table, Sits.Line, "The numbers on the line; a move off it is not allowed. Endless where it is left open.");
        public static readonly Knob<FlagValue> Sees = new("sees", "The line lies there", new FlagKind(), new FlagValue(true), Belongs.Support, Scope.Both, Sits.Line, "Whether she may look at the line, or keeps her number on a sheet of paper.", KnobRole.Aid);
        public static readonly Knob<LimitValue> Floor = new("floor", "Not below", new LimitKind(0, LargestNumber), new LimitValue(0), Belongs.Range, Scope.Table, Sits.Line, "The lowest number there is; with no limit there are numbers below nothing.");
        public static readonly Knob<FlagValue> Signs = new("signs", "Write + and −", new FlagKind(), new FlagValue(false), Belongs.RuleLevel, Scope.Table, Sits.Game, "Each move is written down with its sign.");
        public static readonly OpenKnob<RangeValue> Range = CommonKnobs.Range(100);
        public static readonly Knob<ChoiceValue> Winning = CommonKnobs.Winning("the nearest", "all together come home");
    }

    public override FrameData Data { get; } = new(
        "homing", "Homing", Family.Line, "Roll and go up or down: who is nearest to the mark in the end?", "It ends after the last round.", 1, Engine.MostSeats,
        [Knobs.Start, Knobs.Mark, Knobs.Rounds, Knobs.Dice, CommonKnobs.Faces, Knobs.Line, Knobs.Sees, Knobs.Floor, Knobs.Signs, Knobs.Range, CommonKnobs.Support, CommonKnobs.First, Knobs.Winning],
        [
            Level.Free("move", "Up or down", "Choose up or down, and say where you land."),
            Level.Free("written", "Written down", "Choose up or down, and write it with plus or minus.", (Knobs.Signs, new FlagValue(true))),
        ],
        "move", [AskKind.On, AskKind.Back, AskKind.Gap]);

    public override bool ShowsPoints(Setup setup) => false;

    protected override IReadOnlyList<Problem> Refusals(Setup setup)
    {
        var problems = new List<Problem>();
        var line = new HomingLine(setup);
        for (int s = 0; s < setup.Seats.Length; s++)
            if (line.Cups[s].Dice.Most == 0) problems.Add(new(setup.Path(s, Knobs.Dice), "With nothing but zeros nobody moves.", OneDie.ToJson()));
        if (setup.Get(Knobs.Floor).Number is { } floor && (line.Start < floor || line.Mark < floor))
            return [new("table.floor", $"{Math.Min(line.Start, line.Mark)} lies below {floor}.", Math.Min(line.Start, line.Mark))];
        if (setup.Get(Knobs.Line) is RangeValue { Range: var range })
        {
            if (setup.Get(Knobs.Floor).Number is { } lowest && range.Low < lowest)
                return [new("table.line", $"The line begins at {range.Low}, and there is nothing below {lowest}.", new RangeValue(new(lowest, Math.Max(lowest, range.High))).ToJson())];
            if (!range.Contains(line.Start)) problems.Add(new("table.start", $"{line.Start} is not on the line from {range.Low} to {range.High}.", Math.Clamp(line.Start, range.Low, range.High)));
            if (setup.Get(Knobs.Mark) is not null && !range.Contains(line.Mark)) problems.Add(new("table.mark", $"The mark {line.Mark} is not on the line from {range.Low} to {range.High}.", Math.Clamp(line.Mark, range.Low, range.High)));
            for (int s = 0; s < setup.Seats.Length && problems.Count == 0; s++)
                if (line.Cups[s].Dice.Least > range.High - range.Low) problems.Add(new("table.line", $"No roll of {setup.At(s, Knobs.Dice)} has room on this line.", new RangeValue(new(range.Low, range.Low + 2 * line.Cups[s].Dice.Most)).ToJson()));
        }
        else if (line.Start + line.Furthest > LargestNumber)
        {
            int rounds = (LargestNumber - line.Start) / Math.Max(1, line.Cups.Max(c => c.Dice.Most));
            problems.Add(new(rounds > 0 ? "table.rounds" : "table.start", $"One could come beyond {LargestNumber}.", rounds > 0 ? rounds : Math.Max(0, LargestNumber - line.Furthest)));
        }
        return [.. problems.DistinctBy(p => p.Path)];
    }

    protected internal override Game Compile(Setup setup) => new Game<HomingRules, HomingState>(setup, new(new HomingLine(setup)));

    public override IReadOnlyList<Need> Needs(Setup setup)
    {
        var line = new HomingLine(setup);
        int see = line.Sees.Count(sees => sees);
        return
        [
            .. see > 0 ? [new("lines", 1), new("pieces", see)] : Array.Empty<Need>(),
            .. see < setup.Seats.Length ? [new("sheets of paper", setup.Seats.Length - see, "sheet of paper")] : Array.Empty<Need>(),
            Need.For(line.Cups.Select((c, s) => (c.Dice, line.Faces[s]))),
        ];
    }

    public override IReadOnlyList<string> GetReady(Setup setup)
    {
        var line = new HomingLine(setup);
        return
        [
            .. line.Sees.Contains(true) ? [setup.Get(Knobs.Line) is RangeValue { Range: var range } ? $"Draw a line from {range.Low} to {range.High}." : LongEnough(line)] : Array.Empty<string>(),
            .. line.Sees.Contains(false) ? [line.Sees.Contains(true) ? "Who goes without the line writes her number on paper." : "Everyone has a sheet of paper, and writes her number on it."] : Array.Empty<string>(),
            $"Everyone begins on {line.Start}; the mark is {line.Mark}. {Words.Count(line.Rounds, "round")}.",
            .. setup.Get(Knobs.Signs).On ? ["Paper and pencil: each move is written with + or −."] : Array.Empty<string>(),
        ];
    }

    private static string LongEnough(HomingLine line)
    {
        var (low, high) = HomingFacts.Reach(line, 0, false, Spending.Unlimited);
        return $"Draw a line from {low} to {high}: nineteen times in twenty that is long enough.";
    }

    /// <summary>Best play is for oneself alone; what is believed of a child chooses evenly.</summary>
    protected internal override Facts ExactFacts(Setup setup, Behaviour behaviour, Spending spending)
    {
        var line = new HomingLine(setup);
        // Those with the same dice end alike.
        var byDice = new Dictionary<Dice, HomingFacts>();
        for (int s = 0; s < setup.Seats.Length; s++)
            if (!byDice.ContainsKey(line.Cups[s].Dice)) byDice[line.Cups[s].Dice] = HomingFacts.Of(line, s, behaviour == Behaviour.Perfect, spending);
        return Told(setup, line, s => byDice[line.Cups[s].Dice]);
    }

    /// <summary>Where one comes is played; how far one can come at all is counted.</summary>
    protected internal override Facts PlayedFacts(Setup setup, Behaviour behaviour, Spending spending)
    {
        var line = new HomingLine(setup);
        var ends = HomingFacts.Played(line, behaviour == Behaviour.Perfect, spending);
        return ends is null ? new() : Told(setup, line, s => ends[s]);
    }

    private static Facts Told(Setup setup, HomingLine line, Func<int, HomingFacts> ends)
    {
        return new Facts
        {
            ["gapMean"] = PerSeat(setup, s => ends(s).GapMean),
            ["pExact"] = PerSeat(setup, s => ends(s).Exactly),
            ["reach"] = PerSeat(setup, s => new MapFact([("low", new(ends(s).Low)), ("high", new(ends(s).High)), ("lowP95", ends(s).LowP95), ("highP95", ends(s).HighP95)])),
            Turns = Pmf.Always(line.Rounds * setup.Seats.Length),
        };
    }

    protected internal override IReadOnlyList<string> SimulatedFacts(Setup setup) => [];

    protected internal override (string Heading, string Says)? InWords(Setup setup, Facts facts, double secondsATurn, Spending spending)
    {
        var line = new HomingLine(setup);
        var best = HomingFacts.Of(line, 0, true, spending);
        var any = HomingFacts.Of(line, 0, false, spending);
        return ("Coming home", $"Who always chooses best ends {Words.About(best.GapMean.Value, "step")} from the mark, and on it in {100 * best.Exactly.Value:0} of 100 games; who chooses by chance ends {Words.About(any.GapMean.Value, "step")} from it. Nineteen games in twenty stay between {any.LowP95.Value:0} and {any.HighP95.Value:0}; none leaves {any.Low} to {any.High}.");
    }

    /// <summary>Choosing best, and choosing anyhow.</summary>
    protected internal override IReadOnlyList<Journey> Journeys(Setup setup, Spending spending)
    {
        var line = new HomingLine(setup);
        return [HomingFacts.Journey(line, true, "choosing best", spending), HomingFacts.Journey(line, false, "choosing anyhow", spending)];
    }

    protected internal override ChoiceTree Choices(Setup setup)
    {
        var line = new HomingLine(setup);
        var plan = line.Best[0].Value;
        var chances = line.Cups[0].Dice.Chances.ToArray();
        var rolls = new List<(int, IReadOnlyList<Branch>)>();
        for (int roll = 1; roll < chances.Length; roll++)
        {
            if (chances[roll] == 0) continue;
            var (up, down) = (line.Start + roll, line.Start - roll);
            bool ups = line.Allows(up), downs = line.Allows(down), best = ups && plan.Prefers(up, down, line.Rounds - 1);
            var branches = new List<Branch>();
            if (ups) branches.Add(new("up", up, plan.Gap(up, line.Rounds - 1), best));
            if (downs) branches.Add(new("down", down, plan.Gap(down, line.Rounds - 1), !best || plan.AreEqual(up, down, line.Rounds - 1)));
            if (branches.Count > 0) rolls.Add((roll, branches));
        }
        return new(line.Start, rolls);
    }

    public override IReadOnlyList<SingleChange> RangeSteps(Setup setup, int seat) => Steps(setup, seat, Knobs.Dice);

    public override KnobValue? LeftOpen(Setup setup, Knob knob) => knob == Knobs.Mark ? setup.Get(Knobs.Start) : null;

    public override string Summary(Setup setup) => $"{(new HomingLine(setup) is var line && line.Mark == setup.Get(Knobs.Start).Number ? $"away from {line.Mark} and home again" : $"from {setup.Get(Knobs.Start)} to {line.Mark}")} in {Words.Count(new HomingLine(setup).Rounds, "round")}";
}
