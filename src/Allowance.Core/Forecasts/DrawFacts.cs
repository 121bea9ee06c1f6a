namespace Allowance.Core.Forecasts;

/// <summary>Exact answers about slips or cards that are drawn without being put back, one by one and two by two.</summary>
public static class DrawFacts
{
    /// <summary>
    /// The chance that nothing drawn goes beyond a limit: of <paramref name="pairs"/> twos, what they make, and of
    /// <paramref name="singles"/> single ones, the number itself. What two make must grow with each of them; then the smallest
    /// number goes with the largest and so with every one, or the largest goes with none. Taken away one after another
    /// from the two ends and put back in reverse, each number is in a pair with a chance of 2k/n, and its partner is any.
    /// </summary>
    /// <param name="numbers">All that can be drawn, rising.</param>
    public static double AllWithin(IReadOnlyList<int> numbers, int pairs, int singles, Func<int, int, long> make, long limit)
    {
        if (2 * pairs + singles > numbers.Count) throw new ArgumentOutOfRangeException(nameof(pairs), "More is drawn than there is.");
        var back = new Stack<(bool WithAll, bool Alone)>();
        for (int low = 0, high = numbers.Count - 1; low <= high;)
        {
            bool goes = low < high && make(numbers[low], numbers[high]) <= limit;
            back.Push((goes, numbers[goes ? low : high] <= limit));
            if (goes) low++;
            else high--;
        }
        var chance = new double[pairs + 1, singles + 1];
        chance[0, 0] = 1;
        for (int n = 1; back.TryPop(out var number); n++)
            for (int k = pairs; k >= 0; k--)
                for (int s = singles; s >= 0; s--)
                {
                    if (2 * k + s > n) continue;
                    double sum = (n - 2.0 * k - s) / n * chance[k, s];
                    if (number.WithAll && k > 0) sum += 2.0 * k / n * chance[k - 1, s];
                    if (number.Alone && s > 0) sum += (double)s / n * chance[k, s - 1];
                    chance[k, s] = sum;
                }
        return chance[pairs, singles];
    }

    /// <summary>The mean of the largest of so many sums of two and single numbers: Σ P(largest > m).</summary>
    public static double MeanLargest(IReadOnlyList<int> numbers, int pairs, int singles)
    {
        double mean = 0;
        int most = pairs > 0 ? numbers[^1] + numbers[Math.Max(0, numbers.Count - 2)] : numbers[^1];
        for (int limit = 0; limit < most; limit++) mean += 1 - AllWithin(numbers, pairs, singles, (a, b) => a + b, limit);
        return mean;
    }
}
