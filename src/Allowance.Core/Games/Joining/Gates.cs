using System.Text.Json;
using Allowance.Core.Asks;
using Allowance.Core.Forecasts;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;

namespace Allowance.Core.Games;

/// <summary>Gates: a row of gates, all open; roll, and shut gates by the roll.</summary>
public sealed class Gates : Frame
{
    public const string Count = "count", On = "on", Know = "know", One = "one", Two = "two", Any = "any", Ops = "ops", Sum = "sum", Solo = "solo", LastIn = "lastIn", Own = "own", AimAll = "all", AimLeast = "least";

    private const int MostGates = 14;

    private const string Never = "never";

    private static readonly DiceValue OneDie = new(new Dice(Die.Of(6))), TwoDice = new(new Dice(Die.Of(6), Die.Of(6)));
    /// <summary>From one to any number.</summary>
    private static readonly ChoiceKind AtOnce = new([.. Enumerable.Range(1, MostGates).Select(n => new ChoiceValue($"{n}", n == 1 ? "one" : $"up to {n}")), new ChoiceValue("0", "any number")]);
    private static readonly ChoiceKind Makes = ChoiceKind.Of((Sum, "open gates that make the roll"), (Ops, "one gate that the two dice come to"));
    private static readonly ChoiceKind Plays = ChoiceKind.Of((Solo, "each her own gates, to the end"), (Own, "each her own gates, in turn"), (LastIn, "one row for all: the last one in wins"));
    private static readonly ChoiceKind Aims = ChoiceKind.Of((AimAll, "shut them all"), (AimLeast, "leave as little as possible"));

    public static class Knobs
    {
        public static readonly Knob<WholeValue> Number = new("gates", "Gates", new WholeKind(1, MostGates), new WholeValue(9), Belongs.Range, Scope.Both, Sits.Things, "The numbers on the gates, from 1; at a place: how many she has.");
        public static readonly Knob<DiceValue> Dice = new("dice", "Dice", new DiceKind(), TwoDice, Belongs.Range, Scope.Both, Sits.Dice, "What is rolled and added; at a place: her own dice.", KnobRole.Dice);
        public static readonly Knob<ChoiceValue> Make = new("make", "Shut are", Makes, Makes[Sum], Belongs.RuleLevel, Scope.Both, Sits.Game, "Gates that add up to the roll, or one that the dice come to by plus, minus, times or divided by.");
        public static readonly Knob<ChoiceValue> MaxGates = new("maxGates", "Gates at once", AtOnce, AtOnce["0"], Belongs.RuleLevel, Scope.Both, Sits.Things, "How many gates a roll may shut at most; 0 for any number.");
        public static readonly Knob<OperationsValue> Ops = new("ops", "Signs", new OperationsKind(), new OperationsValue(Operation.Plus, Operation.Minus), Belongs.RuleLevel, Scope.Both, Sits.Game, "What may be done with the two dice, the larger first.");
        public static readonly Knob<LimitValue> SmallDie = new("smallDie", "One die from", new LimitKind(0, MostGates * (MostGates + 1) / 2, Never), new LimitValue(null, Never), Belongs.RuleLevel, Scope.Table, Sits.Dice, "Once the open gates add up to no more than this, the first die is rolled alone.");
        public static readonly Knob<FlagValue> Again = new("again", "A double rolls again", new FlagKind(), new FlagValue(false), Belongs.Length, Scope.Table, Sits.Dice, "After a double and its move the same player rolls once more.");
        public static readonly Knob<ChoiceValue> Play = new("play", "It is played", Plays, Plays[Solo], Belongs.RuleLevel, Scope.Table, Sits.Game, "Each with gates of her own, or all at one row.");
        public static readonly Knob<ChoiceValue> Aim = new("aim", "Best is to", Aims, Aims[AimAll], Belongs.Fairness, Scope.Table, Sits.Game, "What counts when it is told how well a choice is made.", KnobRole.Aim);
        public static readonly OpenKnob<RangeValue> Range = CommonKnobs.Range(100);
        public static readonly Knob<ChoiceValue> Winning = CommonKnobs.Winning("the smallest sum left, or the last one in", "all together shut them all");
    }

    public override FrameData Data { get; } = new(
        "gates", "Gates", Family.Joining, "Roll, and shut the gates that make it: can you shut them all?", "It ends when no roll helps any more, or all gates are shut.", 1, Engine.MostSeats,
        [Knobs.Number, Knobs.Dice, CommonKnobs.Faces, Knobs.Make, Knobs.MaxGates, Knobs.Ops, Knobs.SmallDie, Knobs.Again, Knobs.Play, Knobs.Aim, Knobs.Range, CommonKnobs.Support, CommonKnobs.First, Knobs.Winning],
        [
            Level.Free(Count, "Count the dots", "Count all the dots, and shut the gate with that number.", (Knobs.Number, new WholeValue(6)), (Knobs.Dice, OneDie), (Knobs.MaxGates, AtOnce["1"])),
            Level.Free(On, "Count on", "Start from the larger die and count on; shut the gate with that number.", (Knobs.Number, new WholeValue(12)), (Knobs.MaxGates, AtOnce["1"])),
            Level.Free(Know, "Know it", "Say what both dice make, and shut the gate with that number.", (Knobs.Number, new WholeValue(12)), (CommonKnobs.Faces, Numerals), (Knobs.MaxGates, AtOnce["1"])),
            Level.Fixed(One, "One gate", "Shut the one gate with the number that the dice make.", [(Knobs.MaxGates, AtOnce["1"])], (Knobs.Number, new WholeValue(12))),
            Level.Fixed(Two, "Two gates", "Shut one gate, or two that make the roll.", [(Knobs.MaxGates, AtOnce["2"])]),
            Level.Fixed(Any, "Any gates", "Shut any gates that make the roll together.", [(Knobs.MaxGates, AtOnce["0"])]),
            Level.Fixed(Ops, "Plus or minus", "Join the two dice, or take one from the other, and shut the gate you come to.", [(Knobs.Make, Makes[Ops])], (Knobs.Number, new WholeValue(12))),
        ],
        Any, [AskKind.Say, AskKind.Join, AskKind.Part, AskKind.Gap, AskKind.Times, AskKind.Share]);

    private static ChoiceValue Numerals => ((ChoiceKind)CommonKnobs.Faces.Kind)["numeral"];

    public override bool ShowsPoints(Setup setup) => false;

    protected override IReadOnlyList<Problem> Refusals(Setup setup)
    {
        var problems = new List<Problem>();
        var table = new GateTable(setup);
        int gates = setup.Get(Knobs.Number).Number;
        bool uneven = table.IsCommon && Enumerable.Range(0, setup.Seats.Length).Any(s => table.Row(s).Gates != table.Row(0).Gates);
        for (int s = 0; s < setup.Seats.Length; s++)
        {
            string at = setup.Path(s, Knobs.Dice);
            var dice = table.Cups[s].Dice;
            if (!table.Row(s).IsSum && dice.All.Length > 2) problems.Add(new(at, "Signs go between two dice.", new DiceValue(new Dice(dice.All.Take(2))).ToJson()));
            else if (!table.Row(s).Rolls(table.Row(s).Full).Any(r => table.Row(s).Sets(r.Key).Length > 0)) problems.Add(new(at, "No roll of these dice ever shuts a gate.", OneDie.ToJson()));
            if (uneven && table.Row(s).Gates != gates) problems.Add(setup.Unfit(s, Knobs.Number, "One row is for all: everybody has the same gates.", gates));
            if (table.Again && (dice.All.Length < 2 || dice.All.Distinct().Count() > 1)) problems.Add(new("table.again", "Only dice that are alike, at least two, roll doubles.", false));
        }
        if (table.IsCommon && setup.Seats.Length == 1) problems.Add(new("table.play", "At one row for all somebody else plays too.", Solo));
        return [.. problems.DistinctBy(p => p.Path)];
    }

    protected internal override Game Compile(Setup setup) => new Game<GatesRules, GatesState>(setup, new(new GateTable(setup)));

    public override Ask MattersMost(Setup setup, int seat, IReadOnlyList<Ask> asks) => setup.At(seat, Knobs.MaxGates).Id == "1" ? asks[0] : asks[^1];

    public override IReadOnlyList<Need> Needs(Setup setup)
    {
        var table = new GateTable(setup);
        int rows = table.IsCommon || table.IsAlone ? 1 : table.Seats, most = table.Rows.Max(r => r.Gates), all = rows == 1 ? most : table.RowOf.Sum(r => table.Rows[r].Gates);
        // A pack has the numbers up to ten in four suits.
        return [most <= 10 && rows <= 4 && all == most * rows ? Need.Pack(Deck.Plain(1, most, suits: rows)) : new(Need.Cards, all), Need.For(table.Cups.Select((c, s) => (c.Dice, table.Faces[s])))];
    }

    public override IReadOnlyList<string> GetReady(Setup setup)
    {
        var table = new GateTable(setup);
        return
        [
            table.Rows.Select(r => r.Gates).Distinct().Count() > 1 ? $"For each player lay cards in a row, from 1 to her own last one ({Words.List(table.RowOf.Select(r => $"{table.Rows[r].Gates}"))}): these are the gates. A gate that is shut is turned over."
                : $"Lay cards from 1 to {table.Row(0).Gates} in a row{(table.IsCommon || table.IsAlone || table.Seats == 1 ? "" : " before each player")}: these are the gates. A gate that is shut is turned over.",
            .. table.SmallDie is { } small ? [$"Once the open gates add up to {small} or less, one die is rolled alone."] : Array.Empty<string>(),
            .. table.Again ? ["After a double and its move the same player rolls once more."] : Array.Empty<string>(),
            .. table.IsCommon ? ["All play at one row; who cannot shut a gate is out."] : Array.Empty<string>(),
        ];
    }

    protected internal override Facts ExactFacts(Setup setup, Behaviour behaviour, Spending spending)
    {
        var table = new GateTable(setup);
        bool best = behaviour == Behaviour.Perfect;
        var facts = new Facts();
        if (table.IsCommon)
        {
            if (best) return facts;
            var beginners = setup.Beginners.Select(first => new GateRace(table.Rows, table.RowOf, table.Again, first, spending).WinChance()).ToList();
            facts["winChance"] = new ListFact([.. Enumerable.Range(0, table.Seats).Select(s => new NumberFact(beginners.Average(b => b[s])))]);
            return facts;
        }
        var alone = table.Rows.Select(row => new GateFacts(row, best, table.AimAll, spending)).ToList();
        var ends = alone.ConvertAll(a => a.Ends(spending));
        facts["pAll"] = PerSeat(setup, s => new NumberFact(alone[table.RowOf[s]].All(table.Row(s).Full)));
        facts["leftMean"] = PerSeat(setup, s => new NumberFact(alone[table.RowOf[s]].Left(table.Row(s).Full)));
        facts["leftPmf"] = PerSeat(setup, s => MapFact.Of(ends[table.RowOf[s]].Left.Select((chance, left) => (left, chance)).Where(p => p.chance > 0)));
        facts.AimReached = table.RowOf.Aggregate(1.0, (all, row) => all * alone[row].All(table.Rows[row].Full));
        facts.Turns = table.RowOf.Select(row => ends[row].Turns).Aggregate((one, other) => one.Plus(other));
        return facts;
    }

    protected internal override Facts PlayedFacts(Setup setup, Behaviour behaviour, Spending spending)
    {
        var table = new GateTable(setup);
        var beginners = setup.Beginners;
        int figures = table.Seats;
        if (PlayedGames.Play<GatesRules, GatesState>(new(table), behaviour, game => beginners[game % beginners.Length], figures, Look, spending) is not { } played) return new();
        if (table.IsCommon) return behaviour == Behaviour.Perfect ? new() : new() { ["winChance"] = new ListFact([.. played.Select(p => p.Mean)]) };
        return new() { ["leftMean"] = PerSeat(setup, s => played[s].Mean) };

        void Look(in GatesState state, bool over, Span<double> figures)
        {
            if (!over) return;
            for (int s = 0; s < table.Seats; s++) figures[s] = table.IsCommon ? state.In == 1u << s ? 1 : 0 : table.Row(s).Sum(state.Open[s]);
        }
    }

    protected internal override IReadOnlyList<string> SimulatedFacts(Setup setup) => [];

    /// <summary>Which gates may be shut for a roll and what each choice leads to; or, without a roll, which rolls keep her in.</summary>
    protected internal override Facts? At(Setup setup, JsonElement position, List<Problem> problems)
    {
        var table = new GateTable(setup);
        var row = table.Row(0);
        var fields = Fields.Read(position, "forecast.position", ["open", "roll"], problems);
        var gates = Fields.Numbers(fields, "open", "forecast.position.open", 1, row.Gates, problems) ?? [.. Enumerable.Range(1, row.Gates)];
        if (gates.Distinct().Count() < gates.Count) problems.Add(new("forecast.position.open", "A gate stands there once.", Fields.List(gates.Distinct())));
        var roll = Fields.Numbers(fields, "roll", "forecast.position.roll", 0, Die.LargestFace, problems);
        if (problems.Count > 0) return null;
        int open = gates.Aggregate(0, (set, gate) => set | 1 << gate - 1), dice = table.DiceAt(0, open);
        var die = table.Cups[0].Dice.All;
        if (roll is not null && (roll.Count != dice || !Fits([.. roll])))
        {
            problems.Add(new("forecast.position.roll", $"Here {Words.Count(dice, "die", "dice")} {(dice == 1 ? "is" : "are")} rolled: {new DiceValue(new Dice(die.Take(dice)))}.", Fields.List(die.Take(dice).Select(d => d.Faces[0]))));
            return null;
        }
        if (roll is null)
        {
            var goes = row.Rolls(open).Where(r => row.Sets(r.Key).Any(set => (set & ~open) == 0)).ToList();
            return new()
            {
                ["staysIn"] = new NumberFact(goes.Sum(r => r.Chance)),
                ["rolls"] = new ListFact([.. goes.SelectMany(r => r.Shown).DistinctBy(s => (s[0], s[^1])).OrderBy(s => s[0]).ThenBy(s => s[^1]).Select(s => s is [var total] ? (Fact)new NumberFact(total) : Numbers(s))]),
            };
        }
        var plan = table.Plan(0);
        var rolled = default(Rolled);
        foreach (int face in roll) rolled.Add(face);
        var legal = table.Sets(0, in rolled).Where(set => (set & ~open) == 0).ToList();
        return new()
        {
            ["moves"] = new ListFact([.. legal.Select(set => Numbers(Enumerable.Range(1, row.Gates).Where(g => (set >> g - 1 & 1) != 0)))]),
            ["values"] = new ListFact([.. legal.Select(set => new NumberFact(plan.Value(open & ~set)))]),
        };

        // Each number is a face of a die of its own.
        bool Fits(int[] faces, int from = 0)
        {
            if (from == faces.Length) return true;
            for (int i = from; i < faces.Length; i++)
            {
                if (!die[from].Faces.Contains(faces[i])) continue;
                (faces[from], faces[i]) = (faces[i], faces[from]);
                if (Fits(faces, from + 1)) return true;
                (faces[from], faces[i]) = (faces[i], faces[from]);
            }
            return false;
        }

        static ListFact Numbers(IEnumerable<int> numbers) => new([.. numbers.Select(n => new NumberFact(n))]);
    }

    protected internal override (string Heading, string Says)? InWords(Setup setup, Facts facts, double secondsATurn, Spending spending)
    {
        var table = new GateTable(setup);
        if (table.IsCommon) return null;
        return ("At the end", string.Join(" ", table.Rows.Select((row, i) => table.Rows.Length == 1 ? Told(row) : $"{Named(setup, Array.IndexOf(table.RowOf, i))}: {Told(row)}")));

        string Told(GateRow row)
        {
            var (best, any) = (new GateFacts(row, true, table.AimAll, spending), new GateFacts(row, false, table.AimAll, spending));
            int full = row.Full;
            return Math.Abs(best.Left(full) - any.Left(full)) < .05
                ? $"All gates are shut {Words.Share(any.All(full))}; about {any.Left(full):0} of {row.Sum(full)} stay open."
                : $"Who always chooses best shuts all gates {Words.Share(best.All(full))} and leaves about {best.Left(full):0} of {row.Sum(full)} open; who chooses anyhow, {Words.Share(any.All(full))} and about {any.Left(full):0}.";
        }
    }

    /// <summary>By its gates, its dice and how many are shut at once, the row of a place.</summary>
    private static string Named(Setup setup, int seat) => $"{Words.Count(setup.At(seat, Knobs.Number).Number, "gate")}, {setup.At(seat, Knobs.Dice)}" + (setup.At(seat, Knobs.Make).Id == Ops ? ", by signs" : $", {setup.At(seat, Knobs.MaxGates).Says()} at once");

    private static IEnumerable<string> Makers(Setup setup) => setup.Seats.Select((_, s) => setup.At(s, Knobs.Make).Id);

    public override bool Matters(Setup setup, Knob knob) =>
        knob == Knobs.Ops ? Makers(setup).Contains(Ops)
        : knob == Knobs.MaxGates ? Makers(setup).Contains(Sum)
        : knob == Knobs.Again ? setup.Get(Knobs.Play).Id != Solo
        : knob != CommonKnobs.First || setup.Seats.Length > 1;

    public override IReadOnlyList<SingleChange> RangeSteps(Setup setup, int seat) => [.. Steps(setup, seat, Knobs.Number), .. Steps(setup, seat, Knobs.Dice)];

    public override IReadOnlyList<Remark> Audit(Setup setup)
    {
        var table = new GateTable(setup);
        return [.. table.Rows.SelectMany(row => Audit(table, row)).Distinct()];
    }

    private static List<Remark> Audit(GateTable table, GateRow row)
    {
        var dead = Enumerable.Range(1, row.Gates).Where(g => !row.Rolls(row.Full).Concat(table.SmallDie is null ? [] : row.Rolls(0)).Any(r => row.Sets(r.Key).Any(set => (set >> g - 1 & 1) != 0))).ToList();
        // Below what the dice can roll, and beyond it.
        var remarks = dead.GroupBy(g => g < row.Rolls(row.Full)[0].Key).Select(g => new Remark($"No roll shuts {(g.Count() == 1 ? "gate" : "gates")} {Words.List(g.Select(gate => gate.ToString()))}: not all can be shut.")).ToList();
        double none = row.Rolls(row.Full).Where(r => row.Sets(r.Key).Length == 0).Sum(r => r.Chance);
        if (none > Often) remarks.Add(new($"{100 * none:0} of 100 first rolls go with no gate.", 1 + none));
        return remarks;
    }

    /// <summary>Where more rolls than this go with no gate from the first, the dice are too large for the row.</summary>
    private const double Often = 1 / 3.0;

    public override string WhatWins(Setup setup) => setup.Get(Knobs.Play).Id == LastIn ? "the last one in" : "the smallest sum left";

    public override string Summary(Setup setup) => $"{Words.Count(setup.Get(Knobs.Number).Number, "gate")}, {setup.Get(Knobs.Dice)}" + (setup.Get(Knobs.Play).Id == LastIn ? ", the last one in wins" : "");

    public override string Summary(Setup setup, int seat) => Told(
        OwnDice(setup, seat, OwnLevel(setup, seat)),
        setup.At(seat, Knobs.Number) is var own && own != setup.Get(Knobs.Number) ? Words.Count(own.Number, "gate") : "",
        OwnRule(setup, seat, Knobs.MaxGates) is { Length: > 0 } most ? $"{most} at once" : "",
        OwnRule(setup, seat, Knobs.Make),
        OwnRule(setup, seat, Knobs.Ops));
}
