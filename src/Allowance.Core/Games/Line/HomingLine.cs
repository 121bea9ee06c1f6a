using System.Runtime.CompilerServices;
using Allowance.Core.Forecasts;
using Allowance.Core.Forms;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;
using Allowance.Core.Setups;

namespace Allowance.Core.Games;

/// <summary>The line of one setup.</summary>
internal sealed record HomingLine : Seating
{
    public HomingLine(Setup setup) : base(setup)
    {
        Start = setup.Get(Homing.Knobs.Start).Number;
        Mark = setup.Get(Homing.Knobs.Mark) is WholeValue mark ? mark.Number : Start;
        Rounds = setup.Get(Homing.Knobs.Rounds).Number;
        Writes = setup.Get(Homing.Knobs.Signs).On;
        Cups = [.. Enumerable.Range(0, setup.Seats.Length).Select(s => new DiceCup(setup.At(s, Homing.Knobs.Dice).Dice))];
        (Low, High) = setup.Get(Homing.Knobs.Line) is RangeValue { Range: var range } ? (range.Low, range.High) : (int.MinValue, int.MaxValue);
        Furthest = Rounds * Cups.Max(c => c.Dice.Most);
        var plans = Cups.Select(c => c.Dice).Distinct().ToDictionary(d => d, d => new Lazy<HomingPlan>(() => new HomingPlan(this, d)));
        Best = [.. Cups.Select(c => plans[c.Dice])];
    }

    public int Start { get; }

    public int Mark { get; }

    public int Rounds { get; }

    public DiceCup[] Cups { get; }

    public int Low { get; }

    public int High { get; }

    /// <summary>Each move is written down with its sign.</summary>
    public bool Writes { get; }

    /// <summary>By seat, how to choose best; worked out when it is first needed.</summary>
    public Lazy<HomingPlan>[] Best { get; }

    /// <summary>How far one can come from the start.</summary>
    public int Furthest { get; }

    /// <summary>Down, up, or to stay; in the last round or before.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public bool Allows(int number) => number >= Low && number <= High;
}

/// <summary>
/// The best choices: least expected distance from the mark in the end, and of equal ones the higher chance of ending on
/// it. A walk backwards over rounds and numbers.
/// </summary>
internal sealed class HomingPlan
{
    private const double Tie = 1e-12;

    private readonly HomingLine line;
    private readonly int lowest, most;
    private readonly (double Gap, double Exact)[][] value;

    public HomingPlan(HomingLine line, Dice dice)
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
    public List<HomingStretch> Ways(int left, int roll, int most)
    {
        var ways = new List<HomingStretch>();
        int far = (line.Rounds - left - 1) * most, n = value[0].Length;
        for (int i = Math.Max(0, line.Start - far - lowest); i <= Math.Min(n - 1, line.Start + far - lowest); i++)
        {
            var (up, down) = (lowest + i + roll, lowest + i - roll);
            HomingStretch.Add(ways, i, !line.Allows(up) && !line.Allows(down) ? 0 : Prefers(up, down, left) ? roll : -roll);
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
