using System.Collections.Immutable;
using System.Numerics;
using System.Runtime.CompilerServices;
using System.Runtime.Intrinsics;
using Allowance.Core.Asks;
using Allowance.Core.Forecasts;
using Allowance.Core.Forms;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Tables;

namespace Allowance.Core.Games;

/// <summary>Nine Panes: everyone has a square of panes; numbers are called, whoever has the answer covers it, and a full line wins.</summary>
public sealed class Panes : Frame
{
    public const int LeastSide = 3, MostSide = 5, MostNumber = 100;

    /// <summary>Games simulated for the facts of several players.</summary>
    private const int Samples = 20_000;

    private static readonly NumbersKind Values = new(0, MostNumber);

    public static class Knobs
    {
        public static readonly Knob<WholeValue> Side = new("side", "Panes to a side", new WholeKind(LeastSide, MostSide), new WholeValue(3), Belongs.Length, Scope.Table, Sits.Cards, "How many panes a row has.");
        public static readonly Knob<FlagValue> Free = new("free", "Free middle", new FlagKind(), new FlagValue(false), Belongs.Length, Scope.Table, Sits.Cards, "The middle pane is covered from the start; only where there is a middle.");
        public static readonly Knob<NumbersValue> Values = new("values", "Numbers", Panes.Values, NumbersValue.Range(1, 12), Belongs.Range, Scope.Table, Sits.Deck, "The numbers on boards and calls.", KnobRole.Numbers);
        public static readonly Knob<FlagValue> Distinct = new("distinct", "Each number once", new FlagKind(), new FlagValue(true), Belongs.Length, Scope.Table, Sits.Cards, "No number twice on one board; else a call covers all that match.");
        public static readonly Knob<ChoiceValue> FormBoard = new("formBoard", "Panes show", CommonKnobs.CardForms, CommonKnobs.CardForms["numeral"], Belongs.Form, Scope.Table, Sits.Cards, "The form of the numbers on the boards.");
        public static readonly OpenKnob<ChoiceValue> FormCall = new("formCall", "Calls are", CommonKnobs.CallForms, Belongs.Form, Scope.Table, Sits.Deck, "The form of the numbers that are called.");
        public static readonly Knob<RelationValue> Relation = new("relation", "What is covered", new RelationKind(), new RelationValue(Setups.Relation.Same), Belongs.RuleLevel, Scope.Table, Sits.Game, "The same number, so many more or fewer, the partner of a target, or the double.");
        public static readonly Knob<WholeValue> Shuffle = new("shuffle", "Boards", new WholeKind(1, 999), new WholeValue(1), Belongs.Fairness, Scope.Table, Sits.Cards, "Another number makes other boards.");
        public static readonly Knob<ChoiceValue> Winning = CommonKnobs.Winning("the first line", "all together get a line");
        public static readonly OpenKnob<RangeValue> Range = CommonKnobs.Range(MostNumber);
    }

    public override FrameData Data { get; } = new(
        "panes", "Nine Panes", Family.Seeing, "Cover what is called; a full line wins.", "It ends with the first full line, across, down or from corner to corner; or when all is called.", 1, Engine.MostSeats,
        [Knobs.Side, Knobs.Free, Knobs.Values, Knobs.Distinct, Knobs.FormBoard, Knobs.FormCall, Knobs.Relation, Knobs.Shuffle, Knobs.Winning, Knobs.Range, CommonKnobs.Support],
        [
            Rung("same", "The same", "Cover the number that is called.", new(Relation.Same)),
            Rung("more", "One more", "Cover one more than is called.", new(Relation.Plus, 1)),
            Rung("fewer", "One fewer", "Cover one fewer than is called.", new(Relation.Minus, 1)),
            Rung("partner", "Partners", "Cover what makes the target with the one that is called.", new(Relation.Partner, 10)),
            Rung("double", "Doubles", "Cover twice the one that is called.", new(Relation.Double)),
        ],
        "same", [AskKind.Match, AskKind.On, AskKind.Back, AskKind.Part, AskKind.Double]);

    public override bool ShowsPoints => false;

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

    public override IReadOnlyList<Need> Needs(Setup setup)
    {
        var table = new PanesTable(setup);
        return [new("boards", setup.Seats.Length), new("cards", table.Calls.Length), new("pieces", setup.Seats.Length * table.Side * table.Side)];
    }

    public override IReadOnlyList<string> GetReady(Setup setup)
    {
        var table = new PanesTable(setup);
        return
        [
            $"A board for everyone, {table.Side} × {table.Side} panes with {table.FormBoard.Facts().Label}.",
            .. Enumerable.Range(0, setup.Seats.Length).Select(s => $"{(setup.Seats.Length == 1 ? "The board" : $"Board {s + 1}")}: {string.Join(" | ", table.Boards[s].Chunk(table.Side).Select(row => string.Join(' ', row.Select(n => n < 0 ? "free" : n.ToString()))))}."),
            $"{Words.Count(table.Calls.Length, "card")} to call from, {(table.FormCall == Form.Spoken ? "for you to read" : "as " + table.FormCall.Facts().Label)}: {Words.Numbers(table.Calls.Order())}. Shuffle them, face down.",
        ];
    }

    /// <summary>One player's calls by inclusion and exclusion over the lines; several share boards, so their games are played with everyone finding hers.</summary>
    protected internal override Facts ExactFacts(Setup setup, Behaviour behaviour, Spending spending)
    {
        var facts = new Facts();
        var table = new PanesTable(setup);
        if (setup.Seats.Length == 1)
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

    public override bool Matters(Setup setup, Knob knob) => knob != Knobs.Free || setup.Get(Knobs.Side).Number % 2 == 1;

    public override IReadOnlyList<string> Audit(Setup setup)
    {
        var table = new PanesTable(setup);
        int idle = table.Possible.Except(table.Boards.SelectMany(b => b)).Count();
        return idle > 0 ? [$"{Words.Count(idle, "number")} on no board: {(idle == 1 ? "that call covers" : "those calls cover")} nothing."] : [];
    }

    public override string Summary(Setup setup) => $"{setup.Get(Knobs.Side)} × {setup.Get(Knobs.Side)} panes, {setup.Get(Knobs.Relation)} covered";
}

/// <summary>The boards of one setup, as different from each other as the numbers allow, and what is called.</summary>
public sealed class PanesTable
{
    private const int Tries = 400;

    /// <summary>Games between two looks at the clock.</summary>
    private const int Stretch = 32;

    /// <param name="boards">False where only the numbers are wanted.</param>
    public PanesTable(Setup setup)
    {
        var values = setup.Get(Panes.Knobs.Values).Numbers;
        Side = setup.Get(Panes.Knobs.Side).Number;
        Free = setup.Get(Panes.Knobs.Free).On;
        Relation = setup.Get(Panes.Knobs.Relation);
        Possible = [.. values.Where(v => Relation.CalledBy(v) is { } called && values.Contains(called))];
        Calls = [.. Possible.Select(v => Relation.CalledBy(v)!.Value)];
        FormBoard = CommonKnobs.FormAt(setup, Panes.Knobs.FormBoard);
        FormCall = CommonKnobs.SecondForm(setup, Panes.Knobs.FormCall, Calls, FormBoard);
        Lines = LinesOf(Side);
        Seats = setup.Seats.Length;
        seed = setup.Get(Panes.Knobs.Shuffle).Number;
        distinct = setup.Get(Panes.Knobs.Distinct).On;
        boards = new(() => Make([]));
        Asks = [.. Enumerable.Range(0, Seats).Select(s => setup.Seats[s].GrownUp ? null : Calls.Select(called => CommonKnobs.Answering(Relation, called, FormCall, FormBoard, CommonKnobs.SupportAt(setup, s))).ToArray())];
    }

    /// <summary>The same table with boards that are there already, and others for those who have none.</summary>
    public PanesTable Keeping(int[][] laid) => new(this, laid);

    private PanesTable(PanesTable other, int[][] laid)
    {
        (Side, Free, Relation, Possible, Calls, FormBoard, FormCall, Lines, Seats, Asks, seed, distinct) =
            (other.Side, other.Free, other.Relation, other.Possible, other.Calls, other.FormBoard, other.FormCall, other.Lines, other.Seats, other.Asks, other.seed, other.distinct);
        boards = new(() => Make(laid));
    }

    private readonly Lazy<int[][]> boards;
    private readonly long seed;
    private readonly bool distinct;

    public int Side { get; }

    public bool Free { get; }

    public int Seats { get; }

    /// <summary>How many panes bear a number.</summary>
    public int Filled => Side * Side - (Free ? 1 : 0);

    public int Middle => Free ? Side * Side / 2 : -1;

    public RelationValue Relation { get; }

    public Form FormBoard { get; }

    public Form FormCall { get; }

    /// <summary>The numbers that can be covered, and what calls each.</summary>
    public ImmutableList<int> Possible { get; }

    public int[] Calls { get; }

    /// <summary>By seat, what each call asks of one who has the answer; null for a grown-up.</summary>
    public Ask[]?[] Asks { get; }

    /// <summary>Rows, columns and the two diagonals, as bits of panes.</summary>
    public uint[] Lines { get; }

    /// <summary>By seat, the panes row by row; −1 for the free one.</summary>
    public int[][] Boards => boards.Value;

    /// <summary>The panes of a board that a call covers.</summary>
    public uint Covers(int seat, int call)
    {
        uint panes = 0;
        for (int i = 0; i < Boards[seat].Length; i++)
            if (Boards[seat][i] == Possible[call]) panes |= 1u << i;
        return panes;
    }

    internal static uint[] LinesOf(int side)
    {
        var lines = new List<uint>();
        uint down = 0, up = 0;
        for (int i = 0; i < side; i++)
        {
            uint row = 0, column = 0;
            for (int j = 0; j < side; j++)
            {
                row |= 1u << (i * side + j);
                column |= 1u << (j * side + i);
            }
            lines.AddRange([row, column]);
            down |= 1u << (i * side + i);
            up |= 1u << (i * side + side - 1 - i);
        }
        return [.. lines, down, up];
    }

    /// <summary>
    /// Numbers go to the boards that need them so that each is used as often as any other, give or take one: no choice
    /// makes boards share fewer. Then each board is laid so that as few lines as possible hold what a line of another
    /// board holds, and as few numbers as possible lie where they lie there.
    /// </summary>
    private int[][] Make(int[][] kept)
    {
        var rng = Rng.ForGame(seed, Side * 100 + Seats);
        int n = Possible.Count;
        var used = new int[n];
        var made = new int[Seats][];
        kept.CopyTo(made, 0);
        foreach (int number in kept.SelectMany(board => board).Where(number => number >= 0)) used[Possible.IndexOf(number)]++;
        for (int seat = kept.Length; seat < Seats; seat++)
        {
            int[] numbers = Numbers(used, made.Take(seat).ToArray(), ref rng);
            int[] best = [];
            int least = int.MaxValue;
            for (int t = 0; t < Tries && least > 0; t++)
            {
                int[] laid = Lay(numbers, ref rng);
                int cost = made.Take(seat).Sum(other => Likeness(laid, other));
                if (cost < least) (least, best) = (cost, laid);
            }
            made[seat] = best;
        }
        return made;
    }

    private int[] Numbers(int[] used, int[][] others, ref Rng rng)
    {
        var here = new List<int>();
        var onThis = new int[Possible.Count];
        while (here.Count < Filled)
        {
            int pick = -1;
            (int Here, int Used, int Shared, ulong Chance) least = default;
            for (int i = 0; i < Possible.Count; i++)
            {
                if (distinct && onThis[i] > 0) continue;
                // Of those used least, one that leaves the most similar board as different as it was.
                int shared = others.Where(o => o.Contains(Possible[i])).Select(o => o.Intersect(here).Count()).DefaultIfEmpty(0).Max();
                var cost = (onThis[i], used[i], shared, rng.Next());
                if (pick < 0 || cost.CompareTo(least) < 0) (pick, least) = (i, cost);
            }
            onThis[pick]++;
            used[pick]++;
            here.Add(Possible[pick]);
        }
        return [.. here];
    }

    private int[] Lay(int[] numbers, ref Rng rng)
    {
        int[] order = rng.Order(numbers.Length);
        var board = new int[Side * Side];
        for (int i = 0, next = 0; i < board.Length; i++) board[i] = i == Middle ? -1 : numbers[order[next++]];
        return board;
    }

    /// <summary>Twenty for a line with the same numbers, one for a number in the same place.</summary>
    private int Likeness(int[] a, int[] b)
    {
        var theirs = Lines.Select(l => On(b, l)).ToList();
        return 20 * Lines.Count(l => theirs.Exists(t => t.SequenceEqual(On(a, l)))) + Enumerable.Range(0, a.Length).Count(i => a[i] >= 0 && a[i] == b[i]);
    }

    private static int[] On(int[] board, uint line) => [.. Enumerable.Range(0, board.Length).Where(i => (line >> i & 1) != 0).Select(i => board[i]).Order()];

    /// <summary>
    /// The number of calls until a board's first line, all orders of the calls alike: the chance that some line lies among
    /// the first k calls, by inclusion and exclusion over sets of lines.
    /// </summary>
    public Pmf CallsUntilLine(int seat)
    {
        int calls = Calls.Length;
        // Which calls a line waits for; the free pane for none.
        var needed = Lines.Select(line => Enumerable.Range(0, calls).Where(c => (Covers(seat, c) & line) != 0).Aggregate(UInt128.Zero, (set, c) => set | UInt128.One << c)).ToArray();
        // signed[m]: sets of lines that wait for m calls, odd ones less even ones.
        var signed = new long[calls + 1];
        Count(0, UInt128.Zero, -1, false);
        // P(line by k) is the sum over m of signed[m] × C(calls − m, k − m) / C(calls, k).
        var by = new double[calls + 1];
        for (int k = 0; k <= calls; k++)
            for (int m = 0; m <= k; m++)
            {
                double chance = 1;
                for (int i = 0; i < m; i++) chance *= (k - i) / (double)(calls - i);
                by[k] += signed[m] * chance;
            }
        return new Pmf([.. by.Select((p, k) => k == 0 ? p : p - by[k - 1])]);

        void Count(int line, UInt128 set, int sign, bool any)
        {
            if (line == needed.Length)
            {
                if (any) signed[(int)UInt128.PopCount(set)] += sign;
                return;
            }
            Count(line + 1, set, sign, any);
            Count(line + 1, set | needed[line], -sign, true);
        }
    }

    /// <summary>Games in which everyone finds what is hers: mean calls until somebody's first line, and how often the best is shared.</summary>
    internal (double Mean, double MeanError, double Tie, double TieError) Played(int most, Spending spending)
    {
        var rules = new PanesRules(this);
        var state = default(PanesState);
        double sum = 0, squares = 0;
        int ties = 0, games = 0;
        // One at least is played, so that there is an answer.
        for (; games < most && (games == 0 || games % Stretch != 0 || !spending.IsSpent); games++)
        {
            int game = games;
            var rng = Rng.ForGame(seed, game);
            rules.Start(ref state, 0);
            while (rules.Head(ref state).Next is { Kind: not StepKind.Over } step)
            {
                if (step.Kind == StepKind.Chance) rules.Deal(ref state, rules.Draw(ref state, ref rng));
                else rules.Apply(ref state, rules.Plain(in state, ref rng), new Answered(true, 0, -1));
            }
            int winners = 0;
            for (int seat = 0; seat < Seats; seat++) winners += rules.Points(in state, seat);
            ties += winners > 1 ? 1 : 0;
            sum += state.Head.Turns;
            squares += (double)state.Head.Turns * state.Head.Turns;
        }
        double mean = sum / games, tie = (double)ties / games;
        return (mean, Math.Sqrt(Math.Max(0, squares / games - mean * mean) / games), tie, Math.Sqrt(tie * (1 - tie) / games));
    }
}

[InlineArray(8)]
internal struct EightBoards
{
    private uint first;
}

internal struct PanesState
{
    public Head Head;

    /// <summary>The call that waits, and those made, as bits.</summary>
    public byte Call;
    public ulong CalledLow, CalledHigh;

    /// <summary>By seat, the panes that are covered.</summary>
    public EightBoards Covered;
}

/// <summary>The rules of Nine Panes: a call, then one move with everyone who covers it; who misses hers leaves it open.</summary>
internal readonly struct PanesRules : IRules<PanesState>
{
    private readonly PanesTable table;
    private readonly Ask[]?[] asks;
    private readonly uint[] covers;
    private readonly uint[] lines;
    private readonly int calls;

    /// <summary>All calls, as bits.</summary>
    private readonly ulong allLow, allHigh;

    /// <summary>By the number that is called, its place among the calls.</summary>
    private readonly byte[] callOf;

    /// <summary>Of small squares, by the panes that are covered, whether a line is full; empty for larger ones.</summary>
    private readonly bool[] full;

    public PanesRules(PanesTable table)
    {
        this.table = table;
        (lines, asks) = (table.Lines, table.Asks);
        calls = table.Calls.Length;
        allLow = ulong.MaxValue >> Math.Max(0, 64 - calls);
        allHigh = calls <= 64 ? 0 : ulong.MaxValue >> (128 - calls);
        Seats = table.Seats;
        var all = new uint[calls * 8];
        for (int call = 0; call < calls; call++)
            for (int seat = 0; seat < table.Seats; seat++) all[call * 8 + seat] = table.Covers(seat, call);
        covers = all;
        callOf = new byte[Panes.MostNumber + 1];
        for (int call = 0; call < calls; call++) callOf[table.Calls[call]] = (byte)call;
        full = Full[table.Side];
        TurnKinds = calls << Seats <= Engine.MostTurnKinds ? calls << Seats : 0;
    }

    private static readonly bool[][] Full = [.. Enumerable.Range(0, Panes.MostSide + 1).Select(side => side is < 3 or > 4 ? [] : FullOf(PanesTable.LinesOf(side), 1 << (side * side)))];

    private static bool[] FullOf(uint[] lines, int sets) => [.. Enumerable.Range(0, sets).Select(set => Array.Exists(lines, line => ((uint)set & line) == line))];

    public int Seats { get; }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public ref Head Head(ref PanesState s) => ref s.Head;

    public void Start(ref PanesState s, int first)
    {
        s = default;
        s.Head = Rules.Head.At(first, Seats);
        if (table.Free)
            for (int seat = 0; seat < Seats; seat++) s.Covered[seat] = 1u << table.Middle;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private int Open(in PanesState s) => BitOperations.PopCount(allLow & ~s.CalledLow) + BitOperations.PopCount(allHigh & ~s.CalledHigh);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Draw(ref PanesState s, ref Rng rng)
    {
        ulong low = allLow & ~s.CalledLow, high = allHigh & ~s.CalledHigh;
        int inLow = BitOperations.PopCount(low), n = rng.Below(inLow + BitOperations.PopCount(high));
        return table.Calls[n < inLow ? Bits.Nth(low, n) : 64 + Bits.Nth(high, n - inLow)];
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Deal(ref PanesState s, int outcome)
    {
        int call = callOf[outcome];
        s.Call = (byte)call;
        if (call < 64) s.CalledLow |= 1UL << call;
        else s.CalledHigh |= 1UL << (call - 64);
        s.Head.Phase = StepKind.Choice;
    }

    /// <summary>By seat, the pane that the call covers.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private Vector256<uint> Called(in PanesState s) => Vector256.Create(covers.AsSpan(8 * s.Call, 8));

    private static Vector256<uint> SeatBits => Vector256.Create(1u, 2, 4, 8, 16, 32, 64, 128);

    /// <summary>The seats that can cover the call.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private uint Holders(in PanesState s)
    {
        var open = Vector256.AndNot(Called(in s), Vector256.Create<uint>(s.Covered));
        return ~Vector256.Equals(open, Vector256<uint>.Zero).ExtractMostSignificantBits() & s.Head.Active;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public Move Plain(in PanesState s, ref Rng rng) => new(Holders(in s));

    public Move Best(in PanesState s, ref Rng rng) => Plain(in s, ref rng);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Asks(in PanesState s, Move move, Span<SeatAsk> into)
    {
        // Who has a number is hard to foretell: no branch hangs on it.
        int count = 0;
        for (int seat = 0; seat < Seats; seat++)
        {
            if (asks[seat] is not { } mine) continue;
            into[count] = new(seat, mine[s.Call]);
            count += (int)(move.Items >> seat & 1);
        }
        return count;
    }

    /// <summary>A turn is told by its call, and by who covers it.</summary>
    public int TurnKinds { get; }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int TurnKind(in PanesState s, Move move) => s.Call << Seats | (int)move.Items;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public float DealSeconds(in PanesState s) => Handling.PanesCall;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public float MoveSeconds(in PanesState s, Move move) => Handling.PanesCover;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public bool Seeking(in PanesState s, Move move) => true;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Apply(ref PanesState s, Move move, Answered answered)
    {
        var found = Vector256.Create((uint)move.Items & ~answered.Wrong) & SeatBits;
        Span<uint> covered = s.Covered;
        (Vector256.Create<uint>(covered) | Called(in s) & Vector256.Equals(found, SeatBits)).CopyTo(covered);
        bool line = false;
        for (int seat = 0; seat < Seats; seat++) line |= HasLine(s.Covered[seat]);
        s.Head.Turns++;
        s.Head.NextMover();
        s.Head.Phase = line ? StepKind.Over : StepKind.Chance;
        EndAfterTheLastCall(ref s);
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private bool HasLine(uint covered)
    {
        if (full.Length > 0) return full[covered];
        foreach (uint line in lines)
            if ((covered & line) == line) return true;
        return false;
    }

    /// <summary>All calls are made, and nobody has a line: panes were missed.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private void EndAfterTheLastCall(ref PanesState s)
    {
        if (s.Head.Phase == StepKind.Chance && (allLow & ~s.CalledLow | allHigh & ~s.CalledHigh) == 0) s.Head.Phase = StepKind.Over;
    }

    public void Arrange(ref PanesState s, uint before)
    {
        if (!table.Free) return;
        foreach (int seat in s.Head.New(before)) s.Covered[seat] = 1u << table.Middle;
    }

    /// <summary>Boards stay as they are; who is new gets one of her own.</summary>
    public IRules<PanesState> Over(IRules<PanesState> before, in PanesState state) => before is PanesRules rules ? new PanesRules(table.Keeping(rules.table.Boards)) : this;

    public int Points(in PanesState s, int seat) => HasLine(s.Covered[seat]) ? 1 : 0;

    public bool AimReached(in PanesState s)
    {
        for (int seat = 0; seat < Seats; seat++)
            if (HasLine(s.Covered[seat])) return true;
        return false;
    }

    public int Left(in PanesState s) => Open(in s);

    /// <summary>The calls that were made and those to come.</summary>
    public int Things(in PanesState s) => Open(in s) + BitOperations.PopCount(allLow & s.CalledLow) + BitOperations.PopCount(allHigh & s.CalledHigh);

    public IReadOnlyList<Possible> Possibilities(in PanesState s)
    {
        var open = new List<Possible>();
        for (int call = 0; call < calls; call++)
            if ((call < 64 ? s.CalledLow >> call & 1 : s.CalledHigh >> (call - 64) & 1) == 0) open.Add(new(table.Calls[call], 1, table.Calls[call].ToString()));
        return [.. open.OrderBy(p => p.Outcome)];
    }

    public bool IsLegal(in PanesState s, Move move) => s.Head.Phase == StepKind.Choice && move is { Pick: -1, First: -1 } && (move.Items & ~(ulong)Holders(in s)) == 0;

    /// <summary>Everyone who has it covers it; whoever misses hers is left out.</summary>
    public IReadOnlyList<Move> Moves(in PanesState s)
    {
        if (s.Head.Phase != StepKind.Choice) return [];
        uint holders = Holders(in s);
        var moves = new List<Move>();
        for (uint part = holders; ; part = part - 1 & holders)
        {
            moves.Add(new(part));
            if (part == 0) return moves;
        }
    }

    /// <summary>An item is a pane of a board: 32 times the seat and the pane.</summary>
    public Tapped Read(in PanesState s, IReadOnlyList<int> items)
    {
        uint found = 0;
        foreach (int item in items)
        {
            int seat = item >> 5, pane = item & 31;
            if (seat >= Seats || (covers[s.Call * 8 + seat] >> pane & 1) == 0) return Tapped.No("That pane does not go with the call. Look again together.");
            found |= 1u << seat;
        }
        return found == Holders(in s) ? Tapped.As(new(found)) : Tapped.SoFar(new(found));
    }

    public IReadOnlyList<Zone> Zones(in PanesState s)
    {
        bool choosing = s.Head.Phase == StepKind.Choice;
        var zones = new List<Zone>();
        if (choosing) zones.Add(new Stage("The number that is called", [new(s.Call, table.Calls[s.Call], table.FormCall, ItemState.Up, false)]));
        for (int seat = 0; seat < Seats; seat++)
        {
            var panes = new List<Item>();
            for (int pane = 0; pane < table.Boards[seat].Length; pane++)
            {
                bool covered = (s.Covered[seat] >> pane & 1) != 0;
                panes.Add(new(32 * seat + pane, table.Boards[seat][pane], table.FormBoard, covered ? ItemState.Taken : ItemState.Up, choosing && !covered && (s.Head.Active >> seat & 1) != 0));
            }
            zones.Add(new Board($"Board {seat + 1}", seat, table.Side, panes));
        }
        if (!choosing) zones.Add(new Pile("Calls to come", Open(in s)));
        return zones;
    }

    public string Says(in PanesState s)
    {
        if (s.Head.Phase == StepKind.Chance) return "The next number is called.";
        if (s.Head.Phase == StepKind.Choice) return table.Relation.Relation == Relation.Same ? "Who has it?" : table.Relation.Asks;
        return AimReached(in s) ? "A full line." : "All is called, and no line is full.";
    }

    public string Tells(in PanesState before, Move move, bool found)
    {
        int who = BitOperations.PopCount(move.Items);
        return $"called {table.Calls[before.Call]}: {(who == 0 ? "nobody covered it" : $"{who} covered {table.Possible[before.Call]}")}";
    }
}
