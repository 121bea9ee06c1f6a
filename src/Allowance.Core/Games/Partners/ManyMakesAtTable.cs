using System.Numerics;
using Allowance.Core.Forecasts;
using Allowance.Core.Forms;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Tables;

namespace Allowance.Core.Games;

/// <summary>The same rules for people at a table.</summary>
internal readonly partial struct MakesRules
{
    /// <summary>No screen shows more.</summary>
    private const int MostListed = 500;

    /// <summary>Bars are told apart by their length and by how many of it lie before them.</summary>
    private const int CopyStep = 64;

    private const int SandKey = CopyStep * CopyStep;

    public IReadOnlyList<Possible> Possibilities(in MakesState s)
    {
        var numbers = new List<Possible>();
        for (ulong rest = s.Makeable & table.Numbers[s.Head.Mover]; rest != 0; rest &= rest - 1)
            if (BitOperations.TrailingZeroCount(rest) is var n) numbers.Add(new(n, 1, $"{n}"));
        return numbers;
    }

    public bool IsLegal(in MakesState s, Move move)
    {
        if (s.Head.Phase != StepKind.Choice) return false;
        if (move.IsPass) return table.HasSand;
        int sum = 0;
        for (int i = 0; i < table.Lengths.Length; i++)
        {
            int used = BarWays.Of(move.Items, i);
            if (used > Bars(in s, i)) return false;
            sum += used * table.Lengths[i];
        }
        return sum == s.Number && move.Items >> BarWays.Bits * table.Lengths.Length == 0 && !(MustDiffer(in s) && s.Used.Holds(move.Items));
    }

    public IReadOnlyList<Move> Moves(in MakesState s)
    {
        if (s.Head.Phase != StepKind.Choice) return [];
        long all = table.Ways.Count(s.Stock, s.Number);
        var moves = new List<Move>();
        bool differ = MustDiffer(in s);
        for (long pick = 0; pick < all && moves.Count < MostListed; pick++)
            if (table.Ways.OneOf(s.Stock, s.Number, pick) is var way && !(differ && s.Used.Holds(way))) moves.Add(new(way));
        return moves;
    }

    /// <summary>How the number is made with the most bars and with the fewest, and in how many ways; before a call, what can be called.</summary>
    public IReadOnlyList<string> Helps(in MakesState s)
    {
        if (s.Head.Phase == StepKind.Chance) return [.. Possibilities(in s).Select(p => p.Label)];
        if (s.Head.Phase == StepKind.Over) return [];
        long all = table.Ways.Count(s.Stock, s.Number);
        var told = Moves(in s);
        var rules = this;
        var (fewest, most) = (told.MinBy(m => BarWays.Bars(m.Items)), told.MaxBy(m => BarWays.Bars(m.Items)));
        return [all == 1 ? "there is one way" : $"there are {all:#,0} ways", .. told.Count < 2 ? [] : new[] { $"the most bars: {Said(most.Items)}", $"the fewest: {Said(fewest.Items)}" }, .. told.Where(m => told.Count < 2 || m != most && m != fewest).Take(5).Select(m => rules.Said(m.Items))];
    }

    /// <summary>The lengths of the bars, the longest first: 5, 2 and 2, or 5 and four 1s.</summary>
    private string Said(ulong way)
    {
        var bars = new List<string>();
        for (int i = table.Lengths.Length - 1; i >= 0; i--)
        {
            int length = table.Lengths[i], used = BarWays.Of(way, i);
            if (used > MostInARow) bars.Add($"{NumberWords.Of(used)} {length}s");
            else bars.AddRange(Enumerable.Repeat($"{length}", used));
        }
        return Words.List(bars);
    }

    /// <summary>So many bars of one length are said one after another; more are counted.</summary>
    private const int MostInARow = 2;

    public Tapped Read(in MakesState s, IReadOnlyList<int> items)
    {
        if (items.Count == 0) return Tapped.NeedsMore;
        if (items.Contains(SandKey)) return Tapped.As(Move.Pass);
        ulong way = 0;
        int sum = 0;
        foreach (int item in items)
        {
            int length = item / CopyStep;
            if (item < 0 || length >= table.Lengths.Length || item % CopyStep >= Bars(in s, length)) return Tapped.No("That bar is taken.");
            way += 1UL << BarWays.Bits * length;
            sum += table.Lengths[length];
        }
        var move = new Move(way);
        if (IsLegal(in s, move)) return Tapped.As(move);
        return sum < s.Number ? Tapped.NeedsMore
            : sum > s.Number ? Tapped.No($"{Said(way)} {(items.Count == 1 ? "is" : "make")} {sum}, not {s.Number}. Look again together.")
            : Tapped.No($"{Said(way)}: somebody made it so. Is there another way?");
    }

    public IReadOnlyList<Zone> Zones(in MakesState s)
    {
        bool making = s.Head.Phase == StepKind.Choice;
        int reach = making ? s.Number : ManyMakes.MostLength;
        var rows = new List<IReadOnlyList<Item>>();
        for (int i = table.Lengths.Length - 1; i >= 0; i--)
        {
            int length = table.Lengths[i], shown = Math.Min(Bars(in s, i), Math.Max(1, reach / length)), at = i;
            if (shown > 0) rows.Add([.. Enumerable.Range(0, shown).Select(copy => new Item(CopyStep * at + copy, length, Form.Bar, ItemState.Up, making && length <= reach) { Words = $"a bar of {length}" })]);
        }
        var zones = new List<Zone>();
        if (making) zones.Add(new BarStrip("The number that was called", s.Number));
        zones.Add(new BarsLying("The bars", rows, Left(in s)));
        if (making && table.HasSand) zones.Add(new ChoiceKeys("The sand", [new(SandKey, 0, Form.None, ItemState.Up, true) { Words = "sand is out" }]) { BreaksOff = true });
        return zones;
    }

    public string Says(in MakesState s) => s.Head.Phase switch
    {
        StepKind.Over => AimReached(in s) ? "All numbers are made." : "These bars make no such number any more.",
        StepKind.Chance => "Somebody calls a number.",
        _ => table.Score[s.Head.Mover] switch
        {
            MakesScore.Fewest => $"Make {s.Number} with as few as can be.",
            MakesScore.Different when s.Used.Count > 0 => $"Make {s.Number} in another way.",
            MakesScore.Most => $"Make {s.Number} with as many as you can.",
            _ => $"Which bars make {s.Number}?",
        },
    };

    public string Tells(in MakesState before, Move move, bool found) => move.IsPass ? $"{before.Number} was not made this time" : $"{before.Number}: {Said(move.Items)}";
}
