using Allowance.Core.Numbers;
using Allowance.Core.Rules;

namespace Allowance.Core.Forecasts;

/// <summary>Exact answers about pieces of different worth that are taken one after another, in any order, until a goal is reached.</summary>
/// <param name="counts">How many there are of each worth.</param>
public sealed class PickFacts(IReadOnlyDictionary<int, int> counts)
{
    /// <summary>In how many ways pieces make the goal exactly, told apart by their worths; pieces worth nothing do not matter.</summary>
    public double Ways(int goal)
    {
        var ways = new double[goal + 1];
        ways[0] = 1;
        foreach (var (worth, many) in counts.Where(c => c.Key > 0))
            for (int sum = goal; sum >= 0; sum--)
                for (int copies = 1; copies <= many && copies * worth <= sum; copies++) ways[sum] += ways[sum - copies * worth];
        return ways[goal];
    }

    /// <summary>The fewest pieces that reach a goal, or make it exactly; null where none do.</summary>
    public int? Least(int goal, bool exactly)
    {
        if (!exactly)
        {
            int sum = 0, picks = 0;
            foreach (int worth in counts.OrderByDescending(c => c.Key).SelectMany(c => Enumerable.Repeat(c.Key, c.Value)).TakeWhile(_ => sum < goal)) (sum, picks) = (sum + worth, picks + 1);
            return sum >= goal ? picks : null;
        }
        const int never = int.MaxValue / 2;
        var least = Enumerable.Repeat(never, goal + 1).ToArray();
        least[0] = 0;
        foreach (var (worth, many) in counts.Where(c => c.Key > 0))
            for (int sum = goal; sum >= 0; sum--)
                for (int copies = 1; copies <= many && copies * worth <= sum; copies++) least[sum] = Math.Min(least[sum], least[sum - copies * worth] + copies);
        return least[goal] == never ? null : least[goal];
    }

    /// <summary>
    /// By number of pieces taken, the chance that they are still below the goal: so many sets of pieces are, of all there are. The
    /// last one is 0 where all of them together reach it.
    /// </summary>
    public double[] StillBelow(int goal, Spending spending)
    {
        int all = counts.Values.Sum();
        // By number and sum, how many sets there are, as a share of all sets of that number: set for set these are too many.
        var share = Enumerable.Range(0, all + 1).Select(_ => new double[goal]).ToArray();
        if (goal > 0) share[0][0] = 1;
        int there = 0;
        foreach (var (worth, many) in counts)
            for (int copy = 0; copy < many; copy++)
            {
                spending.Check();
                there++;
                // With one more piece, a set of so many holds it in so large a share of them.
                for (int number = there; number > 0; number--)
                {
                    double with = (double)number / there;
                    Rows.Scale(share[number], 1 - with);
                    if (worth < goal) Rows.AddScaled(share[number].AsSpan(worth), share[number - 1], with);
                }
            }
        return [.. share.Select(sums => sums.Sum())];
    }
}
