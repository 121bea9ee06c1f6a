using Allowance.Core.Asks;
using Allowance.Core.Forecasts;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Tables;

namespace Allowance.Core.Games;

/// <summary>Numbers next to each other, counted from the lowest, from which one goes the same way.</summary>
internal readonly record struct HomingStretch(int From, int To, int By)
{
    /// <summary>Adds the next number to the last stretch, or begins a new one.</summary>
    public static void Add(List<HomingStretch> stretches, int number, int by)
    {
        if (stretches.Count > 0 && stretches[^1] is var last && last.To == number - 1 && last.By == by) stretches[^1] = last with { To = number };
        else stretches.Add(new(number, number, by));
    }
}

/// <summary>Where one is in the end, and how far one came.</summary>
/// <param name="Low">The lowest number that can be met at all; <paramref name="LowP95"/>: the lowest met is not below it in 95 of 100 games.</param>
internal sealed record HomingFacts(NumberFact GapMean, NumberFact Exactly, int Low, int High, NumberFact LowP95, NumberFact HighP95)
{
    private const int Enough = 20_000;

    public static HomingFacts Of(HomingLine line, int seat, bool best, Spending spending)
    {
        var walk = new HomingWalk(line, seat, best, spending);
        var (ends, low, high) = walk.Along(int.MinValue, int.MaxValue);
        var (lowP95, highP95) = Quantiles(walk, line.Start, low, high);
        return new(new(ends.Sum(e => e.Value * Math.Abs(e.Key - line.Mark))), new(ends.GetValueOrDefault(line.Mark)), low, high, new(lowP95), new(highP95));
    }

    /// <summary>What the lowest number met is not below, and the highest not above, in 95 of 100 games each.</summary>
    public static (int Low, int High) Reach(HomingLine line, int seat, bool best, Spending spending)
    {
        var walk = new HomingWalk(line, seat, best, spending);
        var (_, low, high) = walk.Along(int.MinValue, int.MaxValue);
        return Quantiles(walk, line.Start, low, high);
    }

    private static (int Low, int High) Quantiles(HomingWalk walk, int start, int low, int high)
    {
        return (Quantile(low, bound => walk.Along(bound, int.MaxValue)), Quantile(high, bound => walk.Along(int.MinValue, bound)));

        // The bound nearest to the start that is kept in 95 of 100 games; the chance grows with the distance.
        int Quantile(int extreme, Func<int, (Dictionary<int, double> Ends, int, int)> inside)
        {
            int near = start, far = extreme;
            if (Kept(near)) return near;
            while (Math.Abs(far - near) > 1)
            {
                int middle = near + (far - near) / 2;
                if (Kept(middle)) far = middle;
                else near = middle;
            }
            return far;

            bool Kept(int bound) => inside(bound).Ends.Values.Sum() >= .95 - 1e-12;
        }
    }

    /// <summary>Where one is after each round.</summary>
    public static Journey Journey(HomingLine line, bool best, string whose, Spending spending)
    {
        var rounds = new List<Stretch>();
        var (_, low, high) = new HomingWalk(line, 0, best, spending).Along(int.MinValue, int.MaxValue, (chances, lowest) => rounds.Add(Stretch.Of(chances, lowest)));
        return new(whose, low, high, line.Start, rounds);
    }

    /// <summary>The same by games that are played, by seat; null where none ended in time.</summary>
    public static HomingFacts[]? Played(HomingLine line, bool best, Spending spending)
    {
        // Those with the same dice end alike.
        var played = line.Cups.Select((c, s) => (c.Dice, Seat: s)).DistinctBy(c => c.Dice).ToDictionary(c => c.Dice, c => (c.Seat, Figures: Enumerable.Range(0, 4).Select(_ => new PlayedFigure()).ToArray()));
        int game = 0;
        for (; game < Enough && !spending.IsSpent; game++)
            foreach (var (seat, figures) in played.Values) PlayOne(line, seat, best, game, figures);
        if (game == 0) return null;
        return [.. line.Cups.Select(c =>
        {
            var (seat, figures) = played[c.Dice];
            var (low, high) = Extremes(line, seat, best);
            return new HomingFacts(figures[0].Mean, figures[1].Mean, low, high, figures[2].Quantile(.05), figures[3].Quantile(.95));
        })];
    }

    private static void PlayOne(HomingLine line, int seat, bool best, int game, PlayedFigure[] figures)
    {
        var rng = Rng.ForGame(20 + seat, game);
        var cup = line.Cups[seat];
        int here = line.Start, low = here, high = here;
        for (int left = line.Rounds - 1; left >= 0; left--)
        {
            var rolled = default(Rolled);
            while (rolled.Count < cup.Count) rolled.Add(cup.Draw(in rolled, ref rng));
            var (up, down) = (here + rolled.Total, here - rolled.Total);
            bool ups = line.Allows(up), downs = line.Allows(down);
            if (ups || downs) here = (best ? line.Best[seat].Value.Prefers(up, down, left) : ups && (!downs || rng.Below(2) == 1)) ? up : down;
            (low, high) = (Math.Min(low, here), Math.Max(high, here));
        }
        figures[0].Add(Math.Abs(here - line.Mark));
        figures[1].Add(here == line.Mark ? 1 : 0);
        figures[2].Add(low);
        figures[3].Add(high);
    }

    /// <summary>The lowest and the highest number that can be met at all.</summary>
    private static (int Low, int High) Extremes(HomingLine line, int seat, bool best)
    {
        int[] rolls = [.. Enumerable.Range(0, line.Cups[seat].Dice.Most + 1).Where(r => line.Cups[seat].Dice.Chances[r] > 0)];
        int reach = line.Rounds * line.Cups[seat].Dice.Most, lowest = Math.Max(line.Low, line.Start - reach), n = Math.Min(line.High, line.Start + reach) - lowest + 1;
        bool[] here = new bool[n], next = new bool[n];
        here[line.Start - lowest] = true;
        int low = line.Start, high = line.Start;
        for (int left = line.Rounds - 1; left >= 0; left--)
        {
            Array.Clear(next);
            for (int i = 0; i < n; i++)
            {
                if (!here[i]) continue;
                foreach (int roll in rolls)
                {
                    var (up, down) = (lowest + i + roll, lowest + i - roll);
                    bool ups = line.Allows(up), downs = line.Allows(down);
                    if (best && ups && downs) (ups, downs) = line.Best[seat].Value.Prefers(up, down, left) ? (true, false) : (false, true);
                    if (ups) next[i + roll] = true;
                    if (downs) next[i - roll] = true;
                    if (!ups && !downs) next[i] = true;
                }
            }
            (low, high) = (Math.Min(low, lowest + Array.IndexOf(next, true)), Math.Max(high, lowest + Array.LastIndexOf(next, true)));
            (here, next) = (next, here);
        }
        return (low, high);
    }
}

/// <summary>The chances of all numbers, carried over round by round; the ways of choosing best are kept from walk to walk.</summary>
internal sealed class HomingWalk(HomingLine line, int seat, bool best, Spending spending)
{
    private readonly Dice dice = line.Cups[seat].Dice;
    private readonly Dictionary<(int Left, int Roll), List<HomingStretch>> ways = [];

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
                if (best)
                    foreach (var way in Ways(left, roll)) Carry(way.From, way.To, way.By, chances[roll]);
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

    private List<HomingStretch> Ways(int left, int roll)
    {
        if (ways.TryGetValue((left, roll), out var known)) return known;
        var found = line.Best[seat].Value.Ways(left, roll, dice.Most);
        spending.Hold(16L * found.Capacity + 64);
        return ways[(left, roll)] = found;
    }
}
