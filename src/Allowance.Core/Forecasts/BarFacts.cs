using Allowance.Core.Numbers;

namespace Allowance.Core.Forecasts;

/// <summary>What can be made from a stock of bars laid end to end: exactly.</summary>
/// <param name="stock">How many bars there are of each length; lengths are above 0.</param>
internal sealed class BarFacts(IReadOnlyDictionary<int, int> stock)
{
    private const int Never = int.MaxValue / 2;

    /// <summary>In how many ways bars make a number; bars of one length are alike.</summary>
    public double Ways(int number)
    {
        var ways = new double[number + 1];
        ways[0] = 1;
        foreach (var (length, copies) in stock)
            for (int sum = number; sum > 0; sum--)
                for (int used = 1; used <= copies && used * length <= sum; used++) ways[sum] += ways[sum - used * length];
        return ways[number];
    }

    /// <summary>The fewest and the most bars that make a number; null where none do.</summary>
    public (int Fewest, int Most)? Bars(int number)
    {
        var (fewest, most) = (new int[number + 1], new int[number + 1]);
        Array.Fill(fewest, Never, 1, number);
        Array.Fill(most, -Never, 1, number);
        foreach (var (length, copies) in stock)
            for (int sum = number; sum > 0; sum--)
                for (int used = 1; used <= copies && used * length <= sum; used++)
                {
                    fewest[sum] = Math.Min(fewest[sum], fewest[sum - used * length] + used);
                    most[sum] = Math.Max(most[sum], most[sum - used * length] + used);
                }
        return most[number] > 0 ? (fewest[number], most[number]) : null;
    }

    /// <summary>All numbers that the stock can make, rising.</summary>
    public IEnumerable<int> Makeable()
    {
        var reach = new bool[stock.Sum(s => s.Key * s.Value) + 1];
        reach[0] = true;
        // Of each length as many copies in a row as there are, counted from the last sum that needs none of it.
        foreach (var (length, copies) in stock)
        {
            var used = new int[reach.Length];
            for (int sum = length; sum < reach.Length; sum++)
                if (!reach[sum] && reach[sum - length] && used[sum - length] < copies) (reach[sum], used[sum]) = (true, used[sum - length] + 1);
        }
        return Enumerable.Range(1, reach.Length - 1).Where(n => reach[n]);
    }
}
