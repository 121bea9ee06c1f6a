using System.Runtime.CompilerServices;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;

namespace Allowance.Core.Forecasts;

/// <summary>A line on which each roll goes up or down, as is chosen, so as to end near a mark.</summary>
/// <param name="Low">No number below it is met, and none above <paramref name="High"/>.</param>
/// <param name="Rounds">Rolls of each player.</param>
internal sealed record MarkedLine(int Start, int Mark, int Rounds, int Low, int High)
{
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public bool Allows(int number) => number >= Low && number <= High;
}

/// <summary>Numbers next to each other, counted from the lowest, from which one goes the same way.</summary>
internal readonly record struct SameWay(int From, int To, int By)
{
    /// <summary>Adds the next number to the last stretch, or begins a new one.</summary>
    public static void Add(List<SameWay> stretches, int number, int by)
    {
        if (stretches.Count > 0 && stretches[^1] is var last && last.To == number - 1 && last.By == by) stretches[^1] = last with { To = number };
        else stretches.Add(new(number, number, by));
    }
}

/// <summary>
/// The best choices: least expected distance from the mark in the end, and of equal ones the higher chance of ending on
/// it. A walk backwards over rounds and numbers.
/// </summary>
internal sealed class MarkPlan
{
    private const double Tie = 1e-12;

    private readonly MarkedLine line;
    private readonly int lowest, most;
    private readonly (double Gap, double Exact)[][] value;

    public MarkPlan(MarkedLine line, Dice dice)
    {
        this.line = line;
        most = dice.Most;
        int reach = line.Rounds * most;
        lowest = Math.Max(line.Low, line.Start - reach);
        int highest = Math.Min(line.High, line.Start + reach), n = highest - lowest + 1;
        value = new (double, double)[line.Rounds + 1][];
        value[0] = [.. Enumerable.Range(0, n).Select(i => ((double)Math.Abs(lowest + i - line.Mark), lowest + i == line.Mark ? 1.0 : 0))];
        var chances = dice.Chances.ToArray();
        for (int left = 1; left <= line.Rounds; left++)
        {
            value[left] = new (double, double)[n];
            // Only numbers that can be met by then have their followers in the table.
            int far = (line.Rounds - left) * most;
            for (int i = Math.Max(0, line.Start - far - lowest); i <= Math.Min(n - 1, line.Start + far - lowest); i++)
            {
                double gap = 0, exact = 0;
                for (int roll = 0; roll < chances.Length; roll++)
                {
                    if (chances[roll] == 0) continue;
                    var (up, down) = (lowest + i + roll, lowest + i - roll);
                    int to = !line.Allows(up) && !line.Allows(down) ? i : (Prefers(up, down, left - 1) ? up : down) - lowest;
                    var best = value[left - 1][to];
                    gap += chances[roll] * best.Gap;
                    exact += chances[roll] * best.Exact;
                }
                value[left][i] = (gap, exact);
            }
        }
    }

    /// <summary>From where a roll leads where, choosing best, with so many rounds left after it: numbers that can be met by then, counted from the lowest.</summary>
    public List<SameWay> Ways(int left, int roll, int most)
    {
        var ways = new List<SameWay>();
        int far = (line.Rounds - left - 1) * most, n = value[0].Length;
        for (int i = Math.Max(0, line.Start - far - lowest); i <= Math.Min(n - 1, line.Start + far - lowest); i++)
        {
            var (up, down) = (lowest + i + roll, lowest + i - roll);
            SameWay.Add(ways, i, !line.Allows(up) && !line.Allows(down) ? 0 : Prefers(up, down, left) ? roll : -roll);
        }
        return ways;
    }

    /// <summary>How far from the mark one ends on average from a number that can be met, with so many rounds left.</summary>
    public double Gap(int number, int left) => value[left][number - lowest].Gap;

    /// <summary>Up and down, where both are allowed, lead to the same.</summary>
    public bool AreEqual(int up, int down, int left) =>
        line.Allows(up) && line.Allows(down) && Math.Abs(Gap(up, left) - Gap(down, left)) <= Tie && Math.Abs(value[left][up - lowest].Exact - value[left][down - lowest].Exact) <= Tie;

    /// <summary>A number that these dice can bring one to with so many rounds left. Who came with other dice may stand further off: nearer is better there.</summary>
    private bool IsMet(int number, int left) => Math.Abs(number - line.Start) <= (line.Rounds - left) * most;

    /// <summary>Whether up is better than down, of two of which one at least is allowed, with so many rounds left afterwards.</summary>
    public bool Prefers(int up, int down, int left)
    {
        if (!line.Allows(up)) return false;
        if (!line.Allows(down)) return true;
        if (!IsMet(up, left) || !IsMet(down, left)) return Math.Abs(up - line.Mark) <= Math.Abs(down - line.Mark);
        var (a, b) = (value[left][up - lowest], value[left][down - lowest]);
        return Math.Abs(a.Gap - b.Gap) > Tie ? a.Gap < b.Gap : a.Exact >= b.Exact - Tie;
    }
}

/// <summary>The chances of all numbers, carried over round by round; the ways of choosing best are kept from walk to walk.</summary>
internal sealed class MarkWalk(MarkedLine line, Dice dice, MarkPlan? plan, Spending spending)
{
    private readonly Dictionary<(int Left, int Roll), List<SameWay>> ways = [];

    /// <summary>The chances of the last number, of games that never left what lies between two bounds; and the furthest numbers met.</summary>
    /// <param name="after">Is told the chances of all numbers after each round, and the lowest of those numbers.</param>
    public (Dictionary<int, double> Ends, int Low, int High) Along(int from, int to, Action<double[], int>? after = null)
    {
        var chances = dice.Chances.ToArray();
        int reach = line.Rounds * dice.Most, lowest = Math.Max(line.Low, line.Start - reach), n = Math.Min(line.High, line.Start + reach) - lowest + 1;
        double[] here = new double[n], next = new double[n];
        here[line.Start - lowest] = 1;
        int low = line.Start, high = line.Start;
        for (int left = line.Rounds - 1; left >= 0; left--)
        {
            Array.Clear(next);
            for (int roll = 0; roll < chances.Length; roll++)
            {
                if (chances[roll] == 0) continue;
                spending.Check();
                if (plan is not null)
                    foreach (var way in Ways(plan, left, roll)) Carry(way.From, way.To, way.By, chances[roll]);
                else
                {
                    // Either way from the middle; from the ends the only one there is, or none. Beyond what can be met nothing is carried.
                    int ups = n - roll - 1;
                    Carry(roll, ups, roll, chances[roll] / 2);
                    Carry(roll, ups, -roll, chances[roll] / 2);
                    Carry(0, Math.Min(roll - 1, ups), roll, chances[roll]);
                    Carry(Math.Max(roll, ups + 1), n - 1, -roll, chances[roll]);
                    Carry(Math.Max(0, ups + 1), Math.Min(n, roll) - 1, 0, chances[roll]);
                }
            }
            int first = Array.FindIndex(next, c => c > 0), last = Array.FindLastIndex(next, c => c > 0);
            if (first >= 0) (low, high) = (Math.Min(low, lowest + first), Math.Max(high, lowest + last));
            if (from > lowest) Array.Clear(next, 0, Math.Min(n, from - lowest));
            if (to < lowest + n - 1) Array.Clear(next, Math.Max(0, to - lowest + 1), n - Math.Max(0, to - lowest + 1));
            (here, next) = (next, here);
            after?.Invoke(here, lowest);
        }
        return (Enumerable.Range(0, n).Where(i => here[i] > 0).ToDictionary(i => lowest + i, i => here[i]), low, high);

        void Carry(int first, int last, int by, double chance)
        {
            if (last >= first) Walks.Carry(here.AsSpan(first, last - first + 1), chance, next.AsSpan(first + by));
        }
    }

    private List<SameWay> Ways(MarkPlan plan, int left, int roll)
    {
        if (ways.TryGetValue((left, roll), out var known)) return known;
        var found = plan.Ways(left, roll, dice.Most);
        spending.Hold(16L * found.Capacity + 64);
        return ways[(left, roll)] = found;
    }
}
