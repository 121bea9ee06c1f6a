using System.Runtime.CompilerServices;
using Allowance.Core.Asks;
using Allowance.Core.Forecasts;
using Allowance.Core.Forms;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;

namespace Allowance.Core.Games;

/// <summary>Hedge: a larger board, one marker a cell; four in a row win, and a choice of cells makes it a game of blocking.</summary>
public sealed class Hedge : Frame
{
    private const int MostSide = 10, EnoughTurns = 30_000;

    private static readonly DiceValue TwoDice = new(new Dice(Die.Of(6), Die.Of(6)));

    public static class Knobs
    {
        public static readonly Knob<WholeValue> Rows = new("rows", "Rows", new WholeKind(2, MostSide), new WholeValue(6), Belongs.Length, Scope.Table, Sits.Cards, "How many rows the board has.");
        public static readonly Knob<WholeValue> Columns = new("columns", "Columns", new WholeKind(2, MostSide), new WholeValue(6), Belongs.Length, Scope.Table, Sits.Cards, "How many columns the board has.");
        public static readonly OpenKnob<CellsValue> Cells = new("cells", "Cells", new CellsKind(CellTable.MostCells, CellTable.LargestNumber), Belongs.Range, Scope.Table, Sits.Cards, "The numbers on the board, row by row; made to fit the dice where it is left open.");
        public static readonly Knob<WholeValue> Board = new("board", "Which board", new WholeKind(1, 1000), new WholeValue(1), Belongs.Length, Scope.Table, Sits.Cards, "Another number makes another board of the same kind.");
        public static readonly Knob<WholeValue> InRow = new("inRow", "In a row", new WholeKind(2, MostSide), new WholeValue(4), Belongs.Length, Scope.Table, Sits.Game, "How many markers in a line win: across, down or aslant.");
        public static readonly Knob<DiceValue> Dice = new("dice", "Dice", new DiceKind(), TwoDice, Belongs.Range, Scope.Both, Sits.Dice, "What is rolled and added; at a place: her own dice.", KnobRole.Dice);
        public static readonly Knob<RelationValue> Map = new("map", "A roll fits", new RelationKind(true), new RelationValue(Relation.Same), Belongs.RuleLevel, Scope.Both, Sits.Game, "The same number, its partner, so many more, the double, or how far it is to a number.");
        public static readonly Knob<FormsValue> Forms = new("forms", "Cells show", new FormsKind([.. CommonKnobs.CardForms.Options.Select(o => FormTable.Find(o.Id)!.Value)]), new FormsValue([Form.Numeral]), Belongs.Form, Scope.Table, Sits.Cards, "How the numbers stand in the cells: in one form, or in several that take turns.");
        public static readonly OpenKnob<RangeValue> Range = CommonKnobs.Range(CellTable.LargestNumber);
        public static readonly Knob<ChoiceValue> Winning = CommonKnobs.Winning("the first with a line", "all together make a line");
    }

    public override FrameData Data { get; } = new(
        "hedge", "Hedge", Family.Partners, "Roll, choose a cell that fits, and make a line before the others do.", "It ends with the first line, or when no cell is free that a roll reaches.", 1, Engine.MostSeats,
        [Knobs.Rows, Knobs.Columns, Knobs.Cells, Knobs.Board, Knobs.InRow, Knobs.Dice, CommonKnobs.Faces, Knobs.Map, Knobs.Forms, Knobs.Range, CommonKnobs.Support, CommonKnobs.First, Knobs.Winning],
        [
            Level.Fixed("same", "The same number", "Say what you rolled, and choose a cell with that number.", [(Knobs.Map, new RelationValue(Relation.Same))]),
            Level.Fixed("forms", "In many forms", "Choose a cell with that many, however it is shown.", [(Knobs.Map, new RelationValue(Relation.Same))], (Knobs.Forms, new FormsValue([Form.Numeral, Form.Dice, Form.Tally, Form.DoubleTenFrame]))),
            Level.Fixed("more", "Two more", "Choose a cell with two more than your roll.", [(Knobs.Map, new RelationValue(Relation.Plus, 2))]),
            Level.Fixed("partner", "The partner", "Choose the partner of your roll: together they make the target.", [(Knobs.Map, new RelationValue(Relation.Partner, 10))], (Knobs.Dice, new DiceValue(new Dice(Die.Of(10))))),
        ],
        "same", [AskKind.Say, AskKind.Join, AskKind.Match, AskKind.On, AskKind.Back, AskKind.Double, AskKind.Part, AskKind.Gap], CanBlock: true, GoodFrom: 2);

    internal static CellTable TableOf(Setup setup)
    {
        int rows = setup.Get(Knobs.Rows).Number, columns = setup.Get(Knobs.Columns).Number;
        return new(setup, Own(setup) ?? CellsValue.Made(rows * columns), columns, setup.Get(Knobs.Board).Number, Knobs.Dice, Knobs.Map, setup.Get(Knobs.Forms).Forms);
    }

    /// <summary>The numbers that were given; null where they are made.</summary>
    private static CellsValue? Own(Setup setup) => setup.Get(Knobs.Cells) is { IsMade: false } own ? own : null;

    protected override IReadOnlyList<Problem> Refusals(Setup setup)
    {
        int rows = setup.Get(Knobs.Rows).Number, columns = setup.Get(Knobs.Columns).Number;
        if (setup.Get(Knobs.Cells) is { } cells && cells.Count != rows * columns)
            return [new("table.cells", $"A board of {rows} rows and {columns} columns has {rows * columns} cells, not {cells.Count}.", cells.IsMade ? rows * columns : Fields.List(Enumerable.Range(0, rows * columns).Select(i => cells.Values[i % cells.Count])))];
        if (setup.Get(Knobs.InRow).Number > Math.Max(rows, columns)) return [new("table.inRow", $"No line of this board is longer than {Math.Max(rows, columns)}.", Math.Max(rows, columns))];
        return Nudge.Fitless(setup, TableOf(setup), Knobs.Map, Own(setup)) is { } problem ? [problem] : [];
    }

    /// <summary>Nothing counts but the line.</summary>
    public override bool ShowsPoints(Setup setup) => false;

    protected internal override Game Compile(Setup setup) => new Game<CellRules<HedgeGame>, CellState>(setup, new(GameOf(setup)));

    private static HedgeGame GameOf(Setup setup) => new(TableOf(setup), setup.Get(Knobs.InRow).Number);

    public override IReadOnlyList<Need> Needs(Setup setup)
    {
        var table = TableOf(setup);
        return [new("boards", 1), Need.For(table.Cups.Select((c, s) => (c.Dice, table.Faces[s]))), new(Need.Pieces, table.Cells)];
    }

    public override IReadOnlyList<string> GetReady(Setup setup) =>
    [
        $"Draw a board of {setup.Get(Knobs.Rows)} rows and {setup.Get(Knobs.Columns)} columns, as in the picture. Everyone has markers of one kind.",
        $"{Words.Capital(NumberWords.Of(setup.Get(Knobs.InRow).Number))} in a line win: across, down or aslant. Where several cells fit, look which one stops the others.",
    ];

    protected internal override Facts ExactFacts(Setup setup, Behaviour behaviour, Spending spending)
    {
        var facts = new Facts();
        Nudge.AddDead(facts, setup, TableOf(setup));
        var beginners = setup.Beginners;
        var rules = new CellRules<HedgeGame>(GameOf(setup));
        if (PlayedGames.Play<CellRules<HedgeGame>, CellState>(rules, behaviour, game => beginners[game % beginners.Length], 3, Look, spending, EnoughTurns) is not [var turns, var first, var draw]) return facts;
        (facts["turnsMean"], facts["firstWin"], facts["draw"]) = (turns.Mean, first.Mean, draw.Mean);
        return facts;

        void Look(in CellState state, bool over, Span<double> figures)
        {
            if (!over) return;
            bool won = rules.AimReached(in state);
            (figures[0], figures[1], figures[2]) = (state.Head.Turns, won && rules.Points(in state, 0) > 0 ? 1 : 0, won ? 0 : 1);
        }
    }

    protected internal override IReadOnlyList<string> SimulatedFacts(Setup setup) => [];

    protected internal override (string Heading, string Says)? InWords(Setup setup, Facts facts, double secondsATurn, Spending spending)
    {
        double dead = Nudge.ChanceOfNone(TableOf(setup));
        string draw = facts.Find("draw") is NumberFact drawn ? $" The board fills up without a line {Words.Share(drawn.Value)}." : "";
        return ("On the board", $"{(dead < .0005 ? "At the beginning every roll fits a cell." : $"{100 * dead:0} of 100 rolls fit no cell at all.")}{draw}");
    }

    public override IReadOnlyList<SingleChange> RangeSteps(Setup setup, int seat) => Steps(setup, seat, Knobs.Dice);

    public override bool Matters(Setup setup, Knob knob) => knob != Knobs.Board || Own(setup) is null;

    public override KnobValue? LeftOpen(Setup setup, Knob knob) => knob == Knobs.Cells ? CellsValue.Made(setup.Get(Knobs.Rows).Number * setup.Get(Knobs.Columns).Number) : null;

    public override IReadOnlyList<Remark> Audit(Setup setup) => Nudge.Dead(TableOf(setup));

    public override string Summary(Setup setup) => $"{setup.Get(Knobs.Rows)} × {setup.Get(Knobs.Columns)} cells, {setup.Get(Knobs.Dice)}, {setup.Get(Knobs.InRow)} in a row";

    public override string Summary(Setup setup, int seat) => Told(OwnDice(setup, seat, OwnLevel(setup, seat)), OwnRule(setup, seat, Knobs.Map));
}

/// <summary>Hedge: a cell that is taken stays so, and a line ends it.</summary>
internal readonly struct HedgeGame(CellTable table, int inRow) : ICellGame
{
    /// <summary>Across, down and aslant, each followed by the other way of it.</summary>
    private static readonly (int Down, int Right)[] Ways = [(0, 1), (0, -1), (1, 0), (-1, 0), (1, 1), (-1, -1), (1, -1), (-1, 1)];

    private const int WaysOn = 8;

    /// <summary>By cell and way, the next cell; the one that is nobody’s where the board ends.</summary>
    private readonly byte[] next = NextCells(table.Columns, table.Cells / table.Columns);

    private static byte[] NextCells(int columns, int rows)
    {
        byte[] next = new byte[columns * rows * WaysOn];
        for (int i = 0; i < next.Length; i++)
        {
            int cell = i / WaysOn, row = cell / columns + Ways[i % WaysOn].Down, column = cell % columns + Ways[i % WaysOn].Right;
            next[i] = (byte)(row >= 0 && row < rows && column >= 0 && column < columns ? row * columns + column : HundredCells.Nobodys);
        }
        return next;
    }

    public CellTable Table => table;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Put(ref CellState s, int cell, int seat)
    {
        s.Owner[cell] = (byte)(seat + 1);
        s.Closed |= TwoSets<PlaceSet>.Of(cell);
        s.Markers[seat]++;
    }

    public bool Wins(in CellState s, int seat, int cell) => s.Markers[seat] >= inRow && Longest(in s.Owner, seat, cell) >= inRow;

    /// <summary>The longest line of hers through a cell, were her marker there.</summary>
    private int Longest(in HundredCells owners, int seat, int cell)
    {
        int longest = 0;
        for (int way = 0; way < WaysOn; way += 2) longest = Math.Max(longest, 1 + Along(in owners, seat, cell, way) + Along(in owners, seat, cell, way + 1));
        return longest;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private int Along(in HundredCells owners, int seat, int cell, int way)
    {
        int n = 0;
        for (int at = next[cell * WaysOn + way]; owners[at] == seat + 1; at = next[at * WaysOn + way]) n++;
        return n;
    }

    /// <summary>A line of her own if there is one to be had, else one stopped that another would complete next; else any.</summary>
    public int Best(in CellState s, int seat, TwoSets<PlaceSet> open)
    {
        for (int n = 0; n < open.Count; n++)
            if (open.Nth(n) is var cell && Longest(in s.Owner, seat, cell) >= inRow) return cell;
        for (int n = 0; n < open.Count; n++)
            for (int other = 0, cell = open.Nth(n); other < table.Seats; other++)
                if (other != seat && Longest(in s.Owner, other, cell) >= inRow) return cell;
        return -1;
    }

    public int Points(in CellState s, int seat) => s.Winner == seat + 1 ? 1 : 0;

    public bool AimReached(in CellState s) => s.Winner != 0;

    public bool IsInLine(in CellState s, int cell) => s.Winner != 0 && s.Owner[cell] == s.Winner && Longest(in s.Owner, s.Winner - 1, cell) >= inRow;

    public string Says(in CellState s) => s.Head.Phase == StepKind.Over ? AimReached(in s) ? "There is a line." : "The board is full." : $"{table.Maps[s.Head.Mover].AsksCell} Choose such a cell.";
}
