using System.Collections.Immutable;
using System.Numerics;
using System.Runtime.CompilerServices;
using System.Runtime.Intrinsics;
using Allowance.Core.Numbers;
using Allowance.Core.Setups;

namespace Allowance.Core.Forecasts;

/// <summary>What the dice can show, as far as it matters: rolls that shut the same gates.</summary>
/// <param name="Key">What decides which gates go.</param>
/// <param name="IsDouble">All dice show the same.</param>
/// <param name="Shown">Of sums the total; else each roll, the larger die first.</param>
public sealed record GateRoll(double Chance, int Key, bool IsDouble, IReadOnlyList<ImmutableArray<int>> Shown);

/// <summary>Gates 1 to n in a row, and which of them a roll shuts. A set of gates is a number with bit i for gate i + 1.</summary>
public sealed class GateRow
{
    private readonly int gates, most, faces;
    private readonly IReadOnlyList<Operation>? operations;
    private readonly int? smallDie;
    private readonly int[] sums;

    /// <summary>By key, everything that it shuts where all is open.</summary>
    private readonly int[][] sets;

    /// <summary>The same in words of 16 bits, as many as are looked at at once; filled up with a gate that is never open.</summary>
    private readonly ushort[][] together;

    /// <summary>By set of gates, which of those it is that its roll shuts, from 1.</summary>
    private readonly ushort[] places;

    /// <summary>Under operations, by both faces and behind them by one alone: the key.</summary>
    private readonly int[] keys = [];
    private readonly IReadOnlyList<GateRoll> all, small;
    private readonly double[] allChances, smallChances;
    private readonly (int Key, int Set)[] single = [];

    /// <param name="gates">1 to 14.</param>
    /// <param name="most">So many at once at most; 0 for any number.</param>
    /// <param name="operations">One gate that is equal to what the two dice come to; null where gates add up to the roll.</param>
    /// <param name="smallDie">Once the open gates add up to no more, the first die is rolled alone; null for never.</param>
    public GateRow(int gates, int most, IReadOnlyList<Operation>? operations, Dice dice, int? smallDie)
    {
        (this.gates, this.most, this.operations, this.smallDie) = (gates, most, operations, smallDie);
        faces = dice.All.Max(d => d.Faces[^1]) + 1;
        sums = [.. Enumerable.Range(0, 1 << gates).Select(SumOf)];
        if (operations is null)
        {
            var byTotal = Enumerable.Range(1, Full).Where(set => most == 0 || BitOperations.PopCount((uint)set) <= most).ToLookup(set => sums[set]);
            sets = [.. Enumerable.Range(0, dice.Most + 1).Select(total => byTotal[total].OrderBy(set => BitOperations.PopCount((uint)set)).ThenByDescending(Reversed).ToArray())];
        }
        else
        {
            keys = new int[faces * faces + faces];
            var known = new Dictionary<int, int>();
            for (int roll = 0; roll < keys.Length; roll++)
            {
                int which = 0;
                for (int gate = 1; gate <= gates; gate++)
                    if (roll >= faces * faces ? roll - faces * faces == gate : OperationFor(roll / faces, roll % faces, gate) is not null) which |= 1 << gate - 1;
                if (!known.TryGetValue(which, out keys[roll])) known[which] = keys[roll] = known.Count;
            }
            sets = [.. known.OrderBy(k => k.Value).Select(k => Enumerable.Range(0, gates).Where(g => (k.Key >> g & 1) != 0).Select(g => 1 << g).ToArray())];
        }
        together = [.. sets.Select(of => Enumerable.Range(0, (of.Length + AtOnce - 1) / AtOnce * AtOnce).Select(i => i < of.Length ? (ushort)of[i] : NeverOpen).ToArray())];
        places = new ushort[1 << gates];
        foreach (var of in sets)
            for (int i = 0; i < of.Length; i++) places[of[i]] = (ushort)(IsSum ? i + 1 : BitOperations.TrailingZeroCount(of[i]) + 1);
        MostPlaces = places.Max();
        if (operations is not null) single = [.. sets.SelectMany((of, key) => of.Select(set => (key, set)))];
        all = Of(dice);
        small = Of(new Dice(dice.All[0]));
        (allChances, smallChances) = (ByKey(all), ByKey(small));
    }

    public int Gates => gates;

    /// <summary>All gates.</summary>
    public int Full => (1 << gates) - 1;

    public bool IsSum => operations is null;

    public static int SumOf(int set)
    {
        int sum = 0;
        for (; set != 0; set &= set - 1) sum += BitOperations.TrailingZeroCount(set) + 1;
        return sum;
    }

    /// <summary>What these gates add up to.</summary>
    public int Sum(int set) => sums[set];

    /// <summary>Only the first die is rolled at these open gates.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public bool IsSmall(int open) => Sum(open) <= smallDie;

    /// <summary>How many keys there are.</summary>
    public int Keys => sets.Length;

    /// <summary>The key of dice that were rolled.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Key(int total, int first, int second, int count) =>
        operations is null ? total : keys[count == 1 ? faces * faces + first : Math.Max(first, second) * faces + Math.Min(first, second)];

    /// <summary>What can be rolled at these open gates.</summary>
    public IReadOnlyList<GateRoll> Rolls(int open) => IsSmall(open) ? small : all;

    /// <summary>The chance of each key at these open gates.</summary>
    internal double[] Chances(int open) => IsSmall(open) ? smallChances : allChances;

    private double[] ByKey(IReadOnlyList<GateRoll> rolls)
    {
        var chances = new double[sets.Length];
        foreach (var roll in rolls) chances[roll.Key] += roll.Chance;
        return chances;
    }

    private List<GateRoll> Of(Dice rolled)
    {
        // The total so far, the first face, and whether all showed the same, with the number of ways.
        var soFar = new Dictionary<(int Total, int First, bool Alike), double> { [default] = 1 };
        for (int n = 0; n < rolled.All.Length; n++)
        {
            var next = new Dictionary<(int, int, bool), double>();
            foreach (var ((total, first, alike), ways) in soFar)
                foreach (int face in rolled.All[n].Faces)
                {
                    var to = (total + face, n == 0 ? face : first, n == 0 || alike && face == first);
                    next[to] = next.GetValueOrDefault(to) + ways / rolled.All[n].Faces.Length;
                }
            soFar = next;
        }
        int count = rolled.All.Length;
        return [.. soFar.GroupBy(s => (Key: Key(s.Key.Total, s.Key.First, s.Key.Total - s.Key.First, count), Double: count > 1 && s.Key.Alike)).OrderBy(g => g.Key)
            .Select(g => new GateRoll(g.Sum(s => s.Value), g.Key.Key, g.Key.Double, [.. g.Select(s => Shown(s.Key.Total, s.Key.First)).DistinctBy(s => (s[0], s[^1])).OrderBy(s => s[0]).ThenBy(s => s[^1])]))];

        ImmutableArray<int> Shown(int total, int first) => IsSum || count == 1 ? [total] : [Math.Max(first, total - first), Math.Min(first, total - first)];
    }

    /// <summary>Everything that a roll shuts where all is open: fewest gates first, then by number.</summary>
    public int[] Sets(int key) => sets[key];

    private static readonly int AtOnce = Vector256<ushort>.Count;

    private const ushort NeverOpen = 1 << 15;

    /// <summary>How many sets a roll may shut at these open gates.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Goes(int key, int open)
    {
        int count = 0;
        var of = together[key];
        for (int from = 0; from < of.Length; from += AtOnce) count += BitOperations.PopCount(Going(of, from, open));
        return count;
    }

    /// <summary>The n-th of them, counted from 0.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Going(int key, int open, int nth)
    {
        var of = together[key];
        for (int from = 0; from < of.Length; from += AtOnce)
        {
            uint going = Going(of, from, open);
            int here = BitOperations.PopCount(going);
            if (nth < here) return of[from + Bits.Nth(going, nth)];
            nth -= here;
        }
        return 0;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static uint Going(ushort[] of, int from, int open) =>
        Vector256.Equals(Vector256.LoadUnsafe(ref of[from]) & Vector256.Create((ushort)~open), Vector256<ushort>.Zero).ExtractMostSignificantBits();

    /// <summary>Which of the sets that its roll shuts this is, from 1; 0 for none.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int PlaceOf(int set) => places[set];

    /// <summary>The largest <see cref="PlaceOf"/>.</summary>
    public int MostPlaces { get; }

    /// <summary>Sets of as many gates stand in the order of their numbers when the low bits count most.</summary>
    private static uint Reversed(int set)
    {
        uint reversed = 0;
        for (int i = 0; i < 32; i++) reversed |= ((uint)set >> i & 1) << 31 - i;
        return reversed;
    }

    /// <summary>The gentlest operation by which two dice come to a gate; null where none does.</summary>
    /// <param name="larger">Of two dice.</param>
    public Operation? OperationFor(int larger, int smaller, int gate)
    {
        // Each ask of a simulated game comes here.
        for (int i = 0; i < operations!.Count; i++)
            if (operations[i].Of(larger, smaller) == gate) return operations[i];
        return null;
    }

    /// <summary>What may be shut by any roll at these open gates; in no order.</summary>
    /// <param name="into">The key of each.</param>
    /// <returns>How many there are.</returns>
    internal int Legal(int open, int[] into, int[] legal)
    {
        int n = 0;
        if (!IsSum)
        {
            foreach (var (key, set) in single)
                if ((set & ~open) == 0) (into[n], legal[n++]) = (key, set);
            return n;
        }
        int highest = Rolls(open)[^1].Key;
        for (int set = open; set > 0; set = set - 1 & open)
            if (sums[set] <= highest && (most == 0 || BitOperations.PopCount((uint)set) <= most)) (into[n], legal[n++]) = (sums[set], set);
        return n;
    }

    /// <summary>So many can be legal at once.</summary>
    internal int MostLegal => IsSum ? 1 << gates : single.Length;
}
