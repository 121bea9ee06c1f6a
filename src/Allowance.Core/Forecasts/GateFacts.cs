using System.Numerics;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;

namespace Allowance.Core.Forecasts;

/// <summary>
/// One player alone at her gates, until no roll helps: for every set of open gates the chance to shut them all and the sum that is left
/// open in the mean, worked out from the fewest gates on (each move leaves fewer).
/// </summary>
/// <param name="best">She chooses best for the aim; else evenly among what goes.</param>
/// <param name="aimAll">Most likely to shut all, equal ones by the smallest sum left; else the other way round.</param>
public sealed class GateFacts
{
    /// <summary>Differences below this are none.</summary>
    private const double Same = 1e-12;

    /// <summary>Sets between two looks at the clock.</summary>
    private const int Stretch = 256;

    private readonly GateRow row;
    private readonly bool best, aimAll;
    private readonly double[] all, left;

    public GateFacts(GateRow row, bool best, bool aimAll, Spending? spending = null)
    {
        (this.row, this.best, this.aimAll) = (row, best, aimAll);
        all = new double[row.Full + 1];
        left = new double[row.Full + 1];
        all[0] = 1;
        var (keys, legal) = (new int[row.MostLegal], new int[row.MostLegal]);
        var (count, sumAll, sumLeft) = (new int[row.Keys], new double[row.Keys], new double[row.Keys]);
        for (int open = 1; open <= row.Full; open++)
        {
            if (open % Stretch == 0) spending?.Check();
            int n = row.Legal(open, keys, legal);
            for (int i = 0; i < n; i++)
            {
                int key = keys[i], to = open & ~legal[i];
                if (count[key]++ == 0) (sumAll[key], sumLeft[key]) = (all[to], left[to]);
                else if (!best) (sumAll[key], sumLeft[key]) = (sumAll[key] + all[to], sumLeft[key] + left[to]);
                else if (IsBetter(all[to], left[to], sumAll[key], sumLeft[key])) (sumAll[key], sumLeft[key]) = (all[to], left[to]);
            }
            double toAll = 0, toLeft = 0;
            double[] chances = row.Chances(open);
            for (int key = 0; key < chances.Length; key++)
            {
                if (count[key] == 0) toLeft += chances[key] * row.Sum(open);
                else
                {
                    toAll += chances[key] * sumAll[key] / (best ? 1 : count[key]);
                    toLeft += chances[key] * sumLeft[key] / (best ? 1 : count[key]);
                }
            }
            (all[open], left[open]) = (toAll, toLeft);
            for (int i = 0; i < n; i++) count[keys[i]] = 0;
        }
    }

    private bool IsBetter(double all, double left, double thanAll, double thanLeft) => aimAll
        ? all > thanAll + Same || all > thanAll - Same && left < thanLeft - Same
        : left < thanLeft - Same || left < thanLeft + Same && all > thanAll + Same;

    /// <summary>The chance that all are shut from these open gates.</summary>
    public double All(int open) => all[open];

    /// <summary>What the gates that stay open add up to, in the mean.</summary>
    public double Left(int open) => left[open];

    /// <summary>The aim's figure.</summary>
    public double Value(int open) => aimAll ? all[open] : left[open];

    /// <summary>The best of what a roll shuts; 0 where nothing goes. Of equal ones that with the fewest gates, then the lowest.</summary>
    public int Best(int open, int key)
    {
        int found = 0;
        foreach (int set in row.Sets(key))
        {
            if ((set & ~open) != 0) continue;
            if (found == 0 || IsBetter(all[open & ~set], left[open & ~set], all[open & ~found], left[open & ~found])) found = set;
        }
        return found;
    }

    /// <summary>From all open: the chance of each sum that is left, and of each number of rolls, the last one included.</summary>
    public (double[] Left, Pmf Turns) Ends(Spending spending)
    {
        int full = row.Full;
        var (ends, rolls) = (new double[row.Sum(full) + 1], new double[row.Gates + 2]);
        var here = new double[]?[full + 1];
        here[full] = [1, .. new double[row.Gates + 1]];
        var (keys, legal, count) = (new int[row.MostLegal], new int[row.MostLegal], new int[row.Keys]);
        for (int open = full; open > 0; open--)
        {
            if (here[open] is not { } chances) continue;
            spending.Check();
            double reached = chances.Sum();
            // Each move shuts a gate at least.
            int moves = row.Gates - BitOperations.PopCount((uint)open);
            double[] rolled = row.Chances(open);
            int n = best ? 0 : row.Legal(open, keys, legal);
            for (int i = 0; i < n; i++) count[keys[i]]++;
            for (int key = 0; key < rolled.Length; key++)
            {
                if (rolled[key] == 0) continue;
                if (best && Best(open, key) is > 0 and var set) Go(set, rolled[key]);
                else if (best || count[key] == 0)
                {
                    ends[row.Sum(open)] += rolled[key] * reached;
                    for (int t = 0; t <= moves; t++) rolls[t + 1] += rolled[key] * chances[t];
                }
            }
            for (int i = 0; i < n; i++) Go(legal[i], rolled[keys[i]] / count[keys[i]]);
            for (int i = 0; i < n; i++) count[keys[i]] = 0;
            here[open] = null;

            void Go(int set, double chance)
            {
                if (chance == 0) return;
                int to = open & ~set;
                if (to == 0)
                {
                    ends[0] += chance * reached;
                    for (int t = 0; t <= moves; t++) rolls[t + 1] += chance * chances[t];
                    return;
                }
                var there = here[to] ??= new double[row.Gates + 2];
                for (int t = 0; t <= moves; t++) there[t + 1] += chance * chances[t];
            }
        }
        return (ends, new([.. rolls]));
    }
}
