using System.Runtime.CompilerServices;
using Allowance.Core.Asks;
using Allowance.Core.Forecasts;
using Allowance.Core.Forms;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;

namespace Allowance.Core.Games;

/// <summary>Nudge: a shared board of cells; put a marker on one that fits the roll, push others off, and lock a cell with the second.</summary>
public sealed class Nudge : Frame
{
    public const string AllLocked = "allLocked", Markers = "markers:";

    private const int MostMarkers = 30, EnoughTurns = 30_000;

    private static readonly DiceValue TwoDice = new(new Dice(Die.Of(6), Die.Of(6)));
    private static readonly ChoiceKind Forms = CommonKnobs.CardForms;
    private static readonly ChoiceKind Ends = new([new(AllLocked, "all cells are locked"), .. Enumerable.Range(1, MostMarkers).Select(m => new ChoiceValue($"{Markers}{m}", $"somebody has {Words.Count(m, "marker")} there"))]);

    public static class Knobs
    {
        public static readonly Knob<CellsValue> Cells = new("cells", "Cells", new CellsKind(CellTable.MostCells, CellTable.LargestNumber), CellsValue.Made(12), Belongs.Length, Scope.Table, Sits.Cards, "The numbers on the board, row by row; or how many cells are made to fit the dice.");
        public static readonly Knob<WholeValue> Board = new("board", "Which board", new WholeKind(1, 1000), new WholeValue(1), Belongs.Length, Scope.Table, Sits.Cards, "Another number makes another board of the same kind.");
        public static readonly Knob<DiceValue> Dice = new("dice", "Dice", new DiceKind(), TwoDice, Belongs.Range, Scope.Both, Sits.Dice, "What is rolled and added; at a place: her own dice.", KnobRole.Dice);
        public static readonly Knob<RelationValue> Map = new("map", "A roll fits", new RelationKind(true), new RelationValue(Relation.Same), Belongs.RuleLevel, Scope.Both, Sits.Game, "The same number, its partner, so many more, the double, or how far it is to a number.");
        public static readonly Knob<ChoiceValue> FormBoard = new("formBoard", "Cells show", Forms, Forms["numeral"], Belongs.Form, Scope.Table, Sits.Cards, "How the numbers stand in the cells.", KnobRole.Form);
        public static readonly Knob<ChoiceValue> Until = new("until", "It ends when", Ends, Ends[$"{Markers}6"], Belongs.Length, Scope.Table, Sits.Game, "All cells are locked, or somebody has so many markers on the board.");
        public static readonly OpenKnob<RangeValue> Range = CommonKnobs.Range(CellTable.LargestNumber);
        public static readonly Knob<ChoiceValue> Winning = CommonKnobs.Winning("most locked cells, or the first with enough markers", "all together fill the board");
    }

    public override FrameData Data { get; } = new(
        "nudge", "Nudge", Family.Partners, "Roll, find a cell that fits, and push the others off.", "It ends when all cells are locked, or somebody has enough markers there.", 1, Engine.MostSeats,
        [Knobs.Cells, Knobs.Board, Knobs.Dice, CommonKnobs.Faces, Knobs.Map, Knobs.FormBoard, Knobs.Until, Knobs.Range, CommonKnobs.Support, CommonKnobs.First, Knobs.Winning],
        [
            Level.Fixed("same", "The same number", "Say what you rolled, and put a marker on a cell with that number.", [(Knobs.Map, new RelationValue(Relation.Same))]),
            Level.Fixed("more", "One more", "Put a marker on a cell with one more than your roll.", [(Knobs.Map, new RelationValue(Relation.Plus, 1))]),
            Level.Fixed("double", "The double", "Put a marker on a cell with twice your roll.", [(Knobs.Map, new RelationValue(Relation.Double))], (Knobs.Dice, new DiceValue(new Dice(Die.Of(6))))),
            Level.Fixed("partner", "The partner", "Put a marker on the partner of your roll: together they make the target.", [(Knobs.Map, new RelationValue(Relation.Partner, 10))], (Knobs.Dice, new DiceValue(new Dice(Die.Of(10))))),
            Level.Fixed("toGo", "How far to go", "Put a marker on how far your roll is from the target.", [(Knobs.Map, new RelationValue(Relation.ToGo, 10))]),
        ],
        "same", [AskKind.Say, AskKind.Join, AskKind.On, AskKind.Back, AskKind.Double, AskKind.Part, AskKind.Gap], GoodFrom: 2);

    internal static CellTable TableOf(Setup setup)
    {
        var cells = setup.Get(Knobs.Cells);
        return new(setup, cells, (int)Math.Ceiling(Math.Sqrt(cells.Count)), setup.Get(Knobs.Board).Number, Knobs.Dice, Knobs.Map, [CommonKnobs.FormAt(setup, Knobs.FormBoard)]);
    }

    /// <summary>How many markers end it; null where all cells are to be locked.</summary>
    private static int? Enough(Setup setup) => setup.Get(Knobs.Until).Id is var until && until == AllLocked ? null : int.Parse(until[Markers.Length..]);

    protected override IReadOnlyList<Problem> Refusals(Setup setup)
    {
        var table = TableOf(setup);
        if (Fitless(setup, table, Knobs.Map, setup.Get(Knobs.Cells) is { IsMade: false } given ? given : null, Enough(setup) ?? 1) is { } problem) return [problem];
        if (Enough(setup) is { } enough && enough > table.Live) return [new("table.until", $"There {(table.Live == 1 ? "is" : "are")} only {Words.Count(table.Live, "cell")} that rolls reach.", $"{Markers}{table.Live}")];
        var form = CommonKnobs.FormAt(setup, Knobs.FormBoard);
        return !table.Numbers.All(n => Pictures.CanDraw(form, n)) ? [new("table.formBoard", $"{Words.Sentence(form.Facts().Label).TrimEnd('.')} show {form.Facts().Low} to {form.Facts().High}, and the cells go from {table.Numbers.Min()} to {table.Numbers.Max()}.", "numeral")] : [];
    }

    /// <summary>What refuses a board that no roll of somebody fits.</summary>
    /// <param name="given">The numbers of the board, where they were given.</param>
    /// <param name="least">So many cells are needed.</param>
    internal static Problem? Fitless(Setup setup, CellTable table, Knob map, CellsValue? given, int least = 1)
    {
        int seat = Enumerable.Range(0, table.Seats).FirstOrDefault(s => table.DeadRolls(s).Count == table.Cups[s].Dice.Likely().Length, -1);
        return seat < 0 ? null
            : !Equals(table.Maps[seat], setup.Get(map)) ? setup.Unfit(seat, map, "So no roll of hers fits any cell of this board.", setup.Get(map)!.ToJson())
            : given is not null ? new("table.cells", "No roll fits any cell of this board; one that is made for the dice does.", Math.Max(given.Count, least))
            : new($"table.{map.Id}", "No roll fits any number.", new RelationValue(Relation.Same).ToLink());
    }

    protected internal override Game Compile(Setup setup) => new Game<CellRules<NudgeGame>, CellState>(setup, new(new(TableOf(setup), Enough(setup))));

    public override IReadOnlyList<Need> Needs(Setup setup)
    {
        var table = TableOf(setup);
        int each = Enough(setup) is { } enough ? enough + 1 : (2 * table.Cells + table.Seats - 1) / table.Seats;
        return [new("boards", 1), Need.For(table.Cups.Select((c, s) => (c.Dice, table.Faces[s]))), new(Need.Pieces, each * table.Seats)];
    }

    public override IReadOnlyList<string> GetReady(Setup setup) =>
    [
        $"Draw a board with {Words.Count(setup.Get(Knobs.Cells).Count, "cell")}, as in the picture. Everyone has markers of one kind.",
        "Where somebody else’s marker lies alone, yours pushes it off the board. Your second marker on a cell locks it.",
        .. Enough(setup) is { } enough ? [$"Who first has {Words.Count(enough, "marker")} on the board has won."] : Array.Empty<string>(),
    ];

    protected internal override Facts ExactFacts(Setup setup, Behaviour behaviour, Spending spending)
    {
        var table = TableOf(setup);
        var facts = new Facts();
        AddDead(facts, setup, table);
        var beginners = setup.Beginners;
        int seats = table.Seats;
        var rules = new CellRules<NudgeGame>(new(table, Enough(setup)));
        if (PlayedGames.Play<CellRules<NudgeGame>, CellState>(rules, behaviour, game => beginners[game % beginners.Length], seats + 2, Look, spending, EnoughTurns) is not { } played) return facts;
        facts["turnsMean"] = played[0].Mean;
        facts["pushes"] = played[1].Mean;
        if (seats > 1) facts["winChance"] = new ListFact([.. played.Skip(2).Select(p => p.Mean)]);
        return facts;

        void Look(in CellState state, bool over, Span<double> figures)
        {
            if (!over) return;
            (figures[0], figures[1]) = (state.Head.Turns, state.Pushed);
            int most = 0, best = -1;
            for (int s = 0; s < seats; s++)
            {
                int points = rules.Points(in state, s);
                if (points == most) best = -1;
                else if (points > most) (most, best) = (points, s);
            }
            if (best >= 0) figures[2 + best] = 1;
        }
    }

    /// <summary>How many of all players' rolls fit no cell of the board.</summary>
    internal static double ChanceOfNone(CellTable table) => Enumerable.Range(0, table.Seats).Average(s => table.DeadRolls(s).Sum(r => r.Chance));

    internal static void AddDead(Facts facts, Setup setup, CellTable table)
    {
        facts["deadCells"] = new ListFact([.. table.DeadCells.Select(n => new NumberFact(n))]);
        facts["deadRolls"] = PerSeat(setup, s => new ListFact([.. table.DeadRolls(s).Select(r => new NumberFact(r.Roll))]));
        facts["pDead"] = PerSeat(setup, s => new NumberFact(table.DeadRolls(s).Sum(r => r.Chance)));
    }

    protected internal override IReadOnlyList<string> SimulatedFacts(Setup setup) => [];

    protected internal override (string Heading, string Says)? InWords(Setup setup, Facts facts, double secondsATurn, Spending spending)
    {
        double dead = ChanceOfNone(TableOf(setup));
        string pushes = facts.Find("pushes") is NumberFact { Value: >= .05 } pushed ? $" {Words.Capital(Words.About(pushed.Value, "marker"))} {(pushed.Value < 1.5 ? "is" : "are")} pushed off in a game." : "";
        return ("On the board", $"{(dead < .0005 ? "Every roll fits a cell that is not locked." : $"{100 * dead:0} of 100 rolls fit no cell at all.")}{pushes}");
    }

    public override IReadOnlyList<SingleChange> RangeSteps(Setup setup, int seat) => Steps(setup, seat, Knobs.Dice);

    public override bool Matters(Setup setup, Knob knob) => knob != Knobs.Board || setup.Get(Knobs.Cells).IsMade;

    public override IReadOnlyList<Remark> Audit(Setup setup) => Dead(TableOf(setup));

    internal static IReadOnlyList<Remark> Dead(CellTable table)
    {
        var remarks = new List<Remark>();
        if (table.DeadCells.Count > 0) remarks.Add($"No roll reaches {Words.List(table.DeadCells.Select(n => n.ToString()))}; such cells count as filled.");
        int[] rolls = [.. Enumerable.Range(0, table.Seats).SelectMany(table.DeadRolls).Select(r => r.Roll).Distinct().Order()];
        double weight = 1 + ChanceOfNone(table);
        if (rolls is [var one]) remarks.Add(new($"A roll of {one} fits no cell, and passes.", weight));
        else if (rolls.Length > 0) remarks.Add(new($"Rolls of {Words.List(rolls.Select(r => r.ToString()))} fit no cell, and pass.", weight));
        return remarks;
    }

    public override string WhatWins(Setup setup) => Enough(setup) is null ? "most locked cells" : "the first with enough markers";

    public override string Summary(Setup setup) => $"{Words.Count(setup.Get(Knobs.Cells).Count, "cell")}, {setup.Get(Knobs.Dice)}, {setup.Get(Knobs.Map)}";

    public override string Summary(Setup setup, int seat) => Told(OwnDice(setup, seat, OwnLevel(setup, seat)), OwnRule(setup, seat, Knobs.Map));
}

/// <summary>Nudge: one marker can be pushed off, two are a lock.</summary>
/// <param name="enough">So many markers end it; null where all cells are to be locked.</param>
internal readonly struct NudgeGame(CellTable table, int? enough) : ICellGame
{
    private const int Lock = 16;

    public CellTable Table => table;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Put(ref CellState s, int cell, int seat)
    {
        int before = s.Owner[cell];
        s.Markers[seat]++;
        if (before == seat + 1)
        {
            s.Owner[cell] = (byte)(before + Lock);
            s.Closed |= TwoSets<PlaceSet>.Of(cell);
            return;
        }
        s.Owner[cell] = (byte)(seat + 1);
        if (before == 0) return;
        s.Markers[before - 1]--;
        s.Pushed++;
    }

    public bool Wins(in CellState s, int seat, int cell) => enough is { } markers && s.Markers[seat] >= markers;

    /// <summary>A lock first, then somebody pushed off, then a free cell.</summary>
    public int Best(in CellState s, int seat, TwoSets<PlaceSet> open)
    {
        int best = -1, worth = -1;
        for (int n = 0; n < open.Count; n++)
        {
            int cell = open.Nth(n), now = s.Owner[cell] == seat + 1 ? 2 : s.Owner[cell] != 0 ? 1 : 0;
            if (now > worth) (best, worth) = (cell, now);
        }
        return best;
    }

    public int Points(in CellState s, int seat)
    {
        if (enough is not null) return s.Markers[seat];
        int locked = 0;
        for (int cell = 0; cell < table.Cells; cell++) locked += s.Owner[cell] == seat + 1 + Lock ? 1 : 0;
        return locked;
    }

    public bool AimReached(in CellState s) => s.Head.Phase == StepKind.Over;

    public bool IsInLine(in CellState s, int cell) => false;

    public string Says(in CellState s) => s.Head.Phase == StepKind.Over ? s.Winner != 0 ? "That is enough markers." : "All cells are locked." : $"{table.Maps[s.Head.Mover].AsksCell} Put your marker on it.";
}
