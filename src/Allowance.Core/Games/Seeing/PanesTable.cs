using System.Collections.Immutable;
using Allowance.Core.Asks;
using Allowance.Core.Forms;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;

namespace Allowance.Core.Games;

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
        Seed = setup.Get(Panes.Knobs.Shuffle).Number;
        Distinct = setup.Get(Panes.Knobs.Distinct).On;
        IsLaid = setup.Get(Panes.Knobs.Boards).Id == Panes.Laid;
        boards = new(() => Make([]));
        Asks = [.. Enumerable.Range(0, Seats).Select(s => setup.Seats[s].GrownUp ? null : Calls.Select(called => CommonKnobs.Answering(Relation, called, FormCall, FormBoard, CommonKnobs.SupportAt(setup, s))).ToArray())];
    }

    /// <summary>The same table with boards that are there already, and others for those who have none.</summary>
    public PanesTable Keeping(int[][] laid) => new(this, laid);

    private PanesTable(PanesTable other, int[][] laid)
    {
        (Side, Free, Relation, Possible, Calls, FormBoard, FormCall, Lines, Seats, Asks, Seed, Distinct) =
            (other.Side, other.Free, other.Relation, other.Possible, other.Calls, other.FormBoard, other.FormCall, other.Lines, other.Seats, other.Asks, other.Seed, other.Distinct);
        boards = new(() => Make(laid));
    }

    private readonly Lazy<int[][]> boards;

    /// <summary>Which boards are made, or laid by chance.</summary>
    public long Seed { get; }

    /// <summary>No number lies twice on one board.</summary>
    public bool Distinct { get; }

    /// <summary>Everyone lays her own board.</summary>
    public bool IsLaid { get; }

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
        var rng = Rng.ForGame(Seed, Side * 100 + Seats);
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
                if (Distinct && onThis[i] > 0) continue;
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
            var rng = Rng.ForGame(Seed, game);
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
