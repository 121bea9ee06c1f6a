using Allowance.Core.Asks;
using Allowance.Core.Forms;
using Allowance.Core.Materials;
using Allowance.Core.Rules;
using Allowance.Core.Setups;

namespace Allowance.Core.Games;

/// <summary>Nine Panes: everyone has a square of panes; numbers are called, whoever has the answer covers it, and a full line wins.</summary>
public sealed class Panes : Frame
{
    public const int LeastSide = 3, MostSide = 5, MostNumber = 100;

    /// <summary>Games simulated for the facts of several players.</summary>
    private const int Samples = 20_000;

    public const string Laid = "laid";

    private static readonly NumbersKind Values = new(0, MostNumber);
    private static readonly ChoiceKind BoardKinds = ChoiceKind.Of(("made", "made beforehand, as different as can be"), (Laid, "laid by each, as she likes"));

    public static class Knobs
    {
        public static readonly Knob<WholeValue> Side = new("side", "Panes to a side", new WholeKind(LeastSide, MostSide), new WholeValue(3), Belongs.Length, Scope.Table, Sits.Cards, "How many panes a row has.");
        public static readonly Knob<FlagValue> Free = new("free", "Free middle", new FlagKind(), new FlagValue(false), Belongs.Length, Scope.Table, Sits.Cards, "The middle pane is covered from the start; only where there is a middle.");
        public static readonly Knob<NumbersValue> Values = new("values", "Numbers", Panes.Values, NumbersValue.Range(1, 12), Belongs.Range, Scope.Table, Sits.Deck, "The numbers on boards and calls.", KnobRole.Numbers);
        public static readonly Knob<FlagValue> Distinct = new("distinct", "Each number once", new FlagKind(), new FlagValue(true), Belongs.Length, Scope.Table, Sits.Cards, "No number twice on one board; else a call covers all that match.");
        public static readonly Knob<ChoiceValue> FormBoard = new("formBoard", "Panes show", CommonKnobs.CardForms, CommonKnobs.CardForms["numeral"], Belongs.Form, Scope.Table, Sits.Cards, "The form of the numbers on the boards.");
        public static readonly OpenKnob<ChoiceValue> FormCall = new("formCall", "Calls are", CommonKnobs.CallForms, Belongs.Form, Scope.Table, Sits.Deck, "The form of the numbers that are called.");
        public static readonly Knob<RelationValue> Relation = new("relation", "What is covered", new RelationKind(), new RelationValue(Setups.Relation.Same), Belongs.RuleLevel, Scope.Table, Sits.Game, "The same number, so many more or fewer, the partner of a target, or the double.");
        public static readonly Knob<ChoiceValue> Boards = new("boards", "Boards are", BoardKinds, BoardKinds["made"], Belongs.Length, Scope.Table, Sits.Cards, "Made beforehand, or cards that each lays in a square.");
        public static readonly Knob<WholeValue> Shuffle = new("shuffle", "Another making", new WholeKind(1, 999), new WholeValue(1), Belongs.Fairness, Scope.Table, Sits.Cards, "Another number makes other boards.");
        public static readonly Knob<ChoiceValue> Winning = CommonKnobs.Winning("the first line", "all together get a line");
        public static readonly OpenKnob<RangeValue> Range = CommonKnobs.Range(MostNumber);
    }

    public override FrameData Data { get; } = new(
        "panes", "Nine Panes", Family.Seeing, "Cover what is called; a full line wins.", "It ends with the first full line, across, down or from corner to corner; or when all is called.", 1, Engine.MostSeats,
        [Knobs.Side, Knobs.Free, Knobs.Values, Knobs.Distinct, Knobs.FormBoard, Knobs.FormCall, Knobs.Relation, Knobs.Boards, Knobs.Shuffle, Knobs.Winning, Knobs.Range, CommonKnobs.Support],
        [
            Rung("same", "The same", "Cover the number that is called.", new(Relation.Same)),
            Rung("more", "One more", "Cover one more than is called.", new(Relation.Plus, 1)),
            Rung("fewer", "One fewer", "Cover one fewer than is called.", new(Relation.Minus, 1)),
            Rung("partner", "Partners", "Cover what makes the target with the one that is called.", new(Relation.Partner, 10)),
            Rung("double", "Doubles", "Cover twice the one that is called.", new(Relation.Double)),
        ],
        "same", [AskKind.Match, AskKind.On, AskKind.Back, AskKind.Part, AskKind.Double]);

    public override bool ShowsPoints(Setup setup) => false;

    /// <summary>Numbers that are not the usual ones start with as many as a board needs.</summary>
    private static Level Rung(string id, string label, string says, RelationValue relation)
        => Level.Free(id, label, says, [(Knobs.Relation, relation), .. relation.Relation switch
        {
            Relation.Partner => [(Knobs.Values, NumbersValue.Range(0, 10))],
            Relation.Double => [(Knobs.Values, NumbersValue.Range(0, 20))],
            _ => Array.Empty<(Knob, KnobValue)>(),
        }]);

    protected override IReadOnlyList<Problem> Refusals(Setup setup)
    {
        var problems = new List<Problem>();
        var table = new PanesTable(setup);
        int side = table.Side;
        if (table.Free && side % 2 == 0)
            problems.Add(new("table.free", $"A square of {side} × {side} has no middle pane.", false));
        if (table.Possible.Count == 0)
            problems.Add(new("table.relation", $"With {setup.Get(Knobs.Relation)} none of these numbers can be called.", new RelationValue(Relation.Same).ToJson()));
        else if (setup.Get(Knobs.Distinct).On && table.Possible.Count < table.Filled)
            problems.Add(new("table.values", $"A board needs {table.Filled} different numbers, and with {setup.Get(Knobs.Relation)} {Words.Count(table.Possible.Count, "number")} can be covered.", Enough(setup, table)));
        if (CommonKnobs.TooShort("formBoard", table.FormBoard, table.Possible, table.FormCall) is { } board) problems.Add(board);
        if (CommonKnobs.TooShort("formCall", table.FormCall, table.Calls, table.FormBoard) is { } call) problems.Add(call);
        for (int i = 0; i < setup.Seats.Length; i++)
            if (setup.Seats[i].Level is { } own && ((RelationValue)Data.Level(own)![Knobs.Relation]!).Relation != table.Relation.Relation)
                problems.Add(new($"players[{i}].allowance.level", $"One call is for all boards, and here {setup.Get(Knobs.Relation)} is covered.", Data.Levels.First(l => ((RelationValue)l[Knobs.Relation]!).Relation == table.Relation.Relation).Id));
        return [.. problems.DistinctBy(p => p.Path)];
    }

    /// <summary>The shortest run of numbers from the lowest of these that fills a board; else a gentler relation has to do.</summary>
    private static System.Text.Json.Nodes.JsonNode Enough(Setup setup, PanesTable table)
    {
        int low = setup.Get(Knobs.Values).Numbers[0];
        foreach (int from in new[] { low, 0 })
            for (int high = from + 1; high <= MostNumber; high++)
                if (new PanesTable(setup.With(Knobs.Values, NumbersValue.Range(from, high))).Possible.Count >= table.Filled) return NumbersValue.Range(from, high).ToJson();
        return NumbersValue.Range(1, table.Filled).ToJson();
    }

    protected internal override Game Compile(Setup setup) => new Game<PanesRules, PanesState>(setup, new(new PanesTable(setup)));

    private const int HighestCard = 13;

    public override IReadOnlyList<Need> Needs(Setup setup)
    {
        var table = new PanesTable(setup);
        var pieces = new Need("pieces", setup.Seats.Length * table.Side * table.Side);
        if (!table.IsLaid) return [new("boards", setup.Seats.Length), new("cards", table.Calls.Length), pieces];
        return IsOrdinary(table) ? [Need.Pack(FromPacks(setup, table)), pieces] : [new("cards", setup.Seats.Length * table.Filled + table.Calls.Length), pieces];
    }

    /// <summary>Boards and calls can be laid with ordinary cards.</summary>
    private static bool IsOrdinary(PanesTable table) => table is { FormBoard: Form.Numeral, Distinct: true } && table.FormCall is Form.Numeral or Form.Spoken && table.Possible.Concat(table.Calls).All(n => n is >= 1 and <= HighestCard);

    /// <summary>A suit for everyone, and one to call from.</summary>
    private static Deck FromPacks(Setup setup, PanesTable table) =>
        Deck.FromRanks(table.Possible.Union(table.Calls).Order().Select(n => (Deck.RankNames[n - 1], new CardValue(n))), (setup.Seats.Length + 4) / 4);

    public override IReadOnlyList<string> GetReady(Setup setup)
    {
        var table = new PanesTable(setup);
        string calls = $"{Words.Count(table.Calls.Length, "card")} to call from, {(table.FormCall == Form.Spoken ? "for you to read" : "as " + table.FormCall.Facts().Label)}: {Words.Numbers(table.Calls.Order())}. Shuffle them, face down.";
        if (table.IsLaid)
            return
            [
                .. IsOrdinary(table) ? DeckPreparation.Of(FromPacks(setup, table)).Sentences : [],
                $"Everyone chooses {Words.Count(table.Filled, "card")} {(IsOrdinary(table) ? "of one suit" : $"with {table.FormBoard.Facts().Label}, from {Words.Numbers(table.Possible)}")} and lays them face up, {table.Side} by {table.Side}{(table.Free ? ", with a joker in the middle" : "")}.",
                calls,
            ];
        return
        [
            $"A board for everyone, {table.Side} × {table.Side} panes with {table.FormBoard.Facts().Label}.",
            .. Enumerable.Range(0, setup.Seats.Length).Select(s => $"{(setup.Seats.Length == 1 ? "The board" : $"Board {s + 1}")}: {string.Join(" | ", table.Boards[s].Chunk(table.Side).Select(row => string.Join(' ', row.Select(n => n < 0 ? "free" : n.ToString()))))}."),
            calls,
        ];
    }

    /// <summary>One player's calls by inclusion and exclusion over the lines; several share boards, so their games are played with everyone finding hers.</summary>
    protected internal override Facts ExactFacts(Setup setup, Behaviour behaviour, Spending spending)
    {
        var facts = new Facts();
        var table = new PanesTable(setup);
        // All boards without a number twice are alike to one player.
        if (setup.Seats.Length == 1 && (table.Distinct || !table.IsLaid))
        {
            var pmf = table.CallsUntilLine(0);
            facts.Turns = pmf;
            facts["callsMean"] = new NumberFact(pmf.Mean);
            facts["tie"] = new NumberFact(0);
            return facts;
        }
        var (mean, meanError, tie, tieError) = table.Played(Samples, spending);
        facts["callsMean"] = new NumberFact(mean, meanError, true);
        facts["tie"] = new NumberFact(tie, tieError, true);
        return facts;
    }

    protected internal override IReadOnlyList<string> SimulatedFacts(Setup setup) => [];

    protected internal override (string Heading, string Says)? InWords(Setup setup, Facts facts, double secondsATurn, Spending spending) => facts.Find("callsMean") is NumberFact calls && facts.Find("tie") is NumberFact tie
        ? ("Until the first line", $"{Words.Capital(Words.About(calls.Value, "call"))} when everyone finds hers."
            + (setup.Seats.Length > 1 ? $" In {100 * tie.Value:0} of 100 games several have a line on the same call." : "")) : null;

    public override IReadOnlyList<SingleChange> RangeSteps(Setup setup, int seat) => Steps(setup, seat, Knobs.Values);

    public override KnobValue? LeftOpen(Setup setup, Knob knob) => knob == Knobs.FormCall ? CommonKnobs.CallForms[new PanesTable(setup).FormCall.Id()] : null;

    public override bool Matters(Setup setup, Knob knob) => knob == Knobs.Free ? setup.Get(Knobs.Side).Number % 2 == 1 : knob != Knobs.Shuffle || setup.Get(Knobs.Boards).Id != Laid;

    public override IReadOnlyList<Remark> Audit(Setup setup)
    {
        var table = new PanesTable(setup);
        if (table.IsLaid) return [];
        int idle = table.Possible.Except(table.Boards.SelectMany(b => b)).Count();
        var remarks = new List<Remark>();
        if (idle > 0) remarks.Add($"{Words.Count(idle, "number")} on no board: {(idle == 1 ? "that call covers" : "those calls cover")} nothing.");
        if (table.Relation.WithoutPartner(setup.Get(Knobs.Values).Numbers) is { } without) remarks.Add(without);
        return remarks;
    }

    public override string Summary(Setup setup) => $"{setup.Get(Knobs.Side)} × {setup.Get(Knobs.Side)} panes, numbers {setup.Get(Knobs.Values)}, {setup.Get(Knobs.Relation)} covered";
}
