using Allowance.Core.Numbers;
using Allowance.Core.Rules;

namespace Allowance.Core.Forecasts;

/// <summary>What cards make together that are drawn one after another and not put back: exactly, by number of cards, for as many as <see cref="Most"/>.</summary>
internal sealed class DrawTotals
{
    /// <summary>Of more cards nobody keeps a total.</summary>
    private const int MostCards = 60;

    private readonly Pmf[] byCards;

    /// <summary>
    /// Each set of c cards is as likely as any other. Card by card of the pack, with n of them looked at: a set of c holds the last of them with the
    /// chance c/n, so that only shares of sets are kept, which stay small where their numbers would not.
    /// </summary>
    /// <param name="counts">How many cards there are of each number.</param>
    public DrawTotals(IReadOnlyDictionary<int, int> counts, Spending spending)
    {
        int cards = counts.Values.Sum();
        Most = Math.Min(cards, MostCards);
        int highest = counts.Keys.Max();
        var share = new double[Most + 1][];
        for (int c = 0; c <= Most; c++) share[c] = new double[c * highest + 1];
        share[0][0] = 1;
        int there = 0;
        foreach (var (number, copies) in counts)
            for (int copy = 0; copy < copies; copy++)
            {
                spending.Check();
                there++;
                for (int c = Math.Min(there, Most); c > 0; c--)
                {
                    double with = (double)c / there;
                    double[] now = share[c], before = share[c - 1];
                    for (int sum = now.Length - 1; sum >= 0; sum--)
                        now[sum] = (1 - with) * now[sum] + (sum >= number && sum - number < before.Length ? with * before[sum - number] : 0);
                }
            }
        byCards = [.. share.Select(s => new Pmf(s))];
    }

    /// <summary>The most cards that are told of.</summary>
    public int Most { get; }

    /// <summary>The total of so many cards.</summary>
    public Pmf Of(int cards) => byCards[cards];

    /// <summary>The chance that so many cards make no less and no more than this.</summary>
    public double Within(int cards, int low, int high)
    {
        double sum = 0;
        for (int total = Math.Max(0, low); total <= Math.Min(high, byCards[cards].Length - 1); total++) sum += byCards[cards][total];
        return sum;
    }
}
