using Allowance.Core.Forecasts;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;

namespace Allowance.Core.Games;

/// <summary>Where one is in the end, and how far one came.</summary>
/// <param name="Low">The lowest number that can be met at all; <paramref name="LowP95"/>: the lowest met is not below it in 95 of 100 games.</param>
internal sealed record HomingFacts(NumberFact GapMean, NumberFact Exactly, int Low, int High, NumberFact LowP95, NumberFact HighP95)
{
    private const int Enough = 20_000;

    public static HomingFacts Of(HomingLine line, int seat, bool best, Spending spending)
    {
        var walk = line.Walk(seat, best, spending);
        var (ends, low, high) = walk.Along(int.MinValue, int.MaxValue);
        var (lowP95, highP95) = Quantiles(walk, line.Start, low, high);
        return new(new(ends.Sum(e => e.Value * Math.Abs(e.Key - line.Mark))), new(ends.GetValueOrDefault(line.Mark)), low, high, new(lowP95), new(highP95));
    }

    /// <summary>What the lowest number met is not below, and the highest not above, in 95 of 100 games each.</summary>
    public static (int Low, int High) Reach(HomingLine line, int seat, bool best, Spending spending)
    {
        var walk = line.Walk(seat, best, spending);
        var (_, low, high) = walk.Along(int.MinValue, int.MaxValue);
        return Quantiles(walk, line.Start, low, high);
    }

    private static (int Low, int High) Quantiles(MarkWalk walk, int start, int low, int high)
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
        var (_, low, high) = line.Walk(0, best, spending).Along(int.MinValue, int.MaxValue, (chances, lowest) => rounds.Add(Stretch.Of(chances, lowest)));
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
