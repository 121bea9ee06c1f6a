using System.Collections.Immutable;
using System.Runtime.CompilerServices;
using Allowance.Core.Asks;
using Allowance.Core.Forms;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;

namespace Allowance.Core.Games;

/// <summary>A shared board of cells with a number each, and what each player's rolls fit; for games of rolling and choosing a cell.</summary>
internal sealed record CellTable : Seating
{
    public const int MostCells = 100, LargestNumber = 200;

    // By seat and roll, one seat's after another's.
    private readonly TwoSets<PlaceSet>[] byRoll;
    private readonly int rolls;
    private readonly Ask[]?[] answers;

    /// <summary>By cell, which of several forms it shows, from 1; 0 where there is only one. And by seat, one more than there are where it tells turns apart.</summary>
    private readonly byte[] shown;
    private readonly int[] ways;

    /// <param name="board">Which of the boards that can be made for the dice of the table.</param>
    /// <param name="forms">What stands in the cells, one after another.</param>
    public CellTable(Setup setup, CellsValue cells, int columns, int board, Knob<DiceValue> dice, Knob<RelationValue> map, IReadOnlyList<Form> forms) : base(setup)
    {
        Columns = columns;
        var seats = Enumerable.Range(0, Seats).ToList();
        Maps = [.. seats.Select(s => setup.At(s, map))];
        Cups = [.. seats.Select(s => new DiceCup(setup.At(s, dice).Dice))];
        Numbers = cells.IsMade ? Made(setup.Get(dice).Dice, setup.Get(map), cells.Count, columns, board) : cells.Values;
        Forms = [.. Numbers.Select((n, i) => forms[i % forms.Count] is var form && Pictures.CanDraw(form, n) ? form : Form.Numeral)];
        int most = Cups.Max(c => c.Dice.Most);
        rolls = most + 1;
        byRoll = [.. Maps.SelectMany(own => Enumerable.Range(0, rolls).Select(roll => own.AnswerTo(roll) is { } fits ? Where(n => n == fits) : default))];
        Reached = [.. seats.Select(s => Cups[s].Dice.Likely().Select(l => Maps[s].AnswerTo(l.Roll)).OfType<int>().ToHashSet()).Select(reached => Where(reached.Contains))];
        // Where the same number is looked for, only how it is shown differs: that is seen from the dice.
        answers = [.. seats.Select(s => Maps[s].Relation == Relation.Same ? null : Enumerable.Range(0, most + 1).Select(roll => CommonKnobs.Answering(Maps[s], roll, Faces[s], Form.Numeral, Support[s])).ToArray())];
        // Shown in several ways, the same number is to be found in another form.
        ImmutableArray<Form> several = [.. Forms.Distinct()];
        shown = several.Length > 1 ? [.. Forms.Select(f => (byte)(1 + several.IndexOf(f)))] : [.. Forms.Select(_ => (byte)0)];
        ways = [.. Maps.Select(own => own.Relation == Relation.Same && several.Length > 1 ? several.Length + 1 : 1)];
        Kinds = new(Cups.Select((c, s) => (double)c.Kinds * ways[s]));
    }

    private TwoSets<PlaceSet> Where(Func<int, bool> holds) =>
        Enumerable.Range(0, Cells).Where(cell => holds(Numbers[cell])).Aggregate(default(TwoSets<PlaceSet>), (set, cell) => set | TwoSets<PlaceSet>.Of(cell));

    public int Columns { get; }

    /// <summary>By seat, what a roll of hers fits.</summary>
    public RelationValue[] Maps { get; }

    public DiceCup[] Cups { get; }

    /// <summary>By cell, what stands in it.</summary>
    public ImmutableArray<int> Numbers { get; }

    public ImmutableArray<Form> Forms { get; }

    /// <summary>By seat, the cells that some roll of hers fits.</summary>
    public TwoSets<PlaceSet>[] Reached { get; }

    private TwoSets<PlaceSet> ReachedByAny() => Reached.Aggregate(default(TwoSets<PlaceSet>), (any, own) => any | own);

    /// <summary>How many cells any roll of anybody fits.</summary>
    public int Live => ReachedByAny().Count;

    /// <summary>A turn is told by the roll, and by how the cell shows it that was chosen.</summary>
    public TurnKinds Kinds { get; }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Kind(int seat, in Rolled rolled, Move move) => Kinds[seat] + Cups[seat].Kind(in rolled) * ways[seat] + (move.IsPass || ways[seat] == 1 ? 0 : shown[move.Pick]);

    public int Cells => Numbers.Length;

    /// <summary>The cells that a roll of hers fits where all are free.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public TwoSets<PlaceSet> Fitting(int seat, int roll) => byRoll[seat * rolls + roll];

    public int Asks(int seat, in Rolled rolled, Move move, Span<SeatAsk> into)
    {
        if (GrownUp[seat]) return 0;
        into[0] = new(seat, Cups[seat].Asked(in rolled, Faces[seat], Support[seat]));
        if (!move.IsPass && ways[seat] > 1)
        {
            into[1] = new(seat, new(AskKind.Match, rolled.Total, Form.Spoken, Forms[move.Pick], Support[seat]));
            return 2;
        }
        var map = Maps[seat];
        if (answers[seat] is not { } mine || map.AnswerTo(rolled.Total) is null || map.Relation == Relation.ToGo && rolled.Total == map.By) return 1;
        into[1] = new(seat, mine[rolled.Total]);
        return 2;
    }

    /// <summary>Numbers in cells that no roll reaches.</summary>
    public IReadOnlyList<int> DeadCells
    {
        get
        {
            var reached = ReachedByAny();
            return [.. Numbers.Except(Enumerable.Range(0, reached.Count).Select(n => Numbers[reached.Nth(n)])).Order()];
        }
    }

    /// <summary>Totals of a player's dice that fit no cell.</summary>
    public IReadOnlyList<(int Roll, double Chance)> DeadRolls(int seat) => [.. Cups[seat].Dice.Likely().Where(l => Fitting(seat, l.Roll).IsEmpty)];

    /// <summary>
    /// A board made for dice: cells of a number in proportion to its chance, each at least once where there is room, and equal ones never
    /// side by side or one above the other where that is possible.
    /// </summary>
    private static ImmutableArray<int> Made(Dice dice, RelationValue map, int count, int columns, int board)
    {
        var chances = dice.Likely().Where(l => map.AnswerTo(l.Roll) is <= LargestNumber).GroupBy(l => map.AnswerTo(l.Roll)!.Value).Select(g => (Number: g.Key, Chance: g.Sum(l => l.Chance))).OrderByDescending(c => c.Chance).ThenBy(c => c.Number).ToList();
        if (chances.Count == 0) return [.. Enumerable.Repeat(0, count)];
        chances = [.. chances.Take(count)];
        double all = chances.Sum(c => c.Chance);
        // One each, and the rest by largest remainders.
        var shares = chances.Select(c => (c.Number, Exact: c.Chance / all * count)).ToList();
        var many = shares.ToDictionary(s => s.Number, s => Math.Max(1, (int)s.Exact));
        while (many.Values.Sum() < count) many[shares.MaxBy(s => s.Exact - many[s.Number]).Number]++;
        while (many.Values.Sum() > count) many[shares.Where(s => many[s.Number] > 1).MinBy(s => s.Exact - many[s.Number]).Number]--;
        var rng = Rng.ForGame(board, 0);
        int[] best = [];
        int fewest = int.MaxValue;
        for (int tries = 0; tries < 200 && fewest > 0; tries++)
        {
            var laid = Lay(many, count, columns, ref rng);
            int beside = Enumerable.Range(0, count).Count(i => i % columns > 0 && laid[i] == laid[i - 1] || i >= columns && laid[i] == laid[i - columns]);
            if (beside < fewest) (best, fewest) = (laid, beside);
        }
        return [.. best];
    }

    /// <summary>Cell by cell one of those that do not lie beside it, the most frequent ones rather; by chance among them.</summary>
    private static int[] Lay(Dictionary<int, int> many, int count, int columns, ref Rng rng)
    {
        var left = new Dictionary<int, int>(many);
        int[] laid = new int[count];
        for (int i = 0; i < count; i++)
        {
            int before = i % columns > 0 ? laid[i - 1] : -1, above = i >= columns ? laid[i - columns] : -1, rest = 0;
            foreach (var (number, n) in left) rest += number == before || number == above ? 0 : n;
            int pick = rng.Below(Math.Max(1, rest > 0 ? rest : left.Values.Sum()));
            foreach (var (number, n) in left)
            {
                if (rest > 0 && (number == before || number == above)) continue;
                pick -= n;
                if (pick >= 0) continue;
                laid[i] = number;
                break;
            }
            left[laid[i]]--;
        }
        return laid;
    }
}

/// <summary>A hundred cells, and one more that is never anybody’s: there the board ends.</summary>
[InlineArray(Nobodys + 1)]
internal struct HundredCells
{
    public const int Nobodys = CellTable.MostCells;

    private byte first;
}
