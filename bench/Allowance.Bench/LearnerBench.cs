using System.Diagnostics;
using System.Text.Json;
using System.Text.Json.Nodes;
using Allowance.Core.Asks;
using Allowance.Core.Learner;
using Allowance.Core.Numbers;

namespace Allowance.Bench;

/// <summary>
/// How good the estimate is, measured on made-up children it was not tuned on: the figures of <c>docs/learner.md</c>, each
/// with what it must be. The estimate was tuned on seed 1; these are other seeds.
/// </summary>
internal static class LearnerBench
{
    private static readonly long[] Reported = [11, 12, 13, 14, 15];
    private const double StrongForgetting = 6;

    /// <summary>What happens to one child in hundreds is seen among hundreds only.</summary>
    private const int OrderChildren = 600;

    /// <summary>Children unlike those the estimate was tuned on.</summary>
    private static readonly (string Name, Nature Nature)[] Shifted =
    [
        ("faster", new(Pace: 2.5)), ("slower", new(Pace: .4)), ("more slips", new(Slip: .10)), ("strong forgetting", new(Forgetting: StrongForgetting)),
        ("another age table", new(TableError: .7)), ("more alike", new(Spread: .6)), ("less alike", new(Spread: 1.5)),
    ];

    private sealed record Line(string Key, string Says, double Value, string Must, bool Met);

    public static int Run(bool json, string? seeds, string? children)
    {
        var chosen = seeds is null ? Reported : [.. seeds.Split(',').Select(s => long.Parse(s, System.Globalization.CultureInfo.InvariantCulture))];
        int count = children is null ? 200 : int.Parse(children, System.Globalization.CultureInfo.InvariantCulture);
        var lines = new List<Line>();
        void Add(string key, string says, double value, string must, bool met) => lines.Add(new(key, says, value, must, met));

        var studies = chosen.Select(seed => Told($"seed {seed}", () => Study.Play(seed, count, Study.Usual, withSteady: true))).ToList();
        double gain = studies.Average(s => s.Gain), worst = studies.Min(s => s.Gain), elo = studies.Average(s => s.GainElo), share = studies.Average(s => s.PossibleShare);
        Add("gain", "log loss below the best simple way, mean of the seeds", gain, "≥ 0.12", gain >= .12);
        Add("gainWorstSeed", "… in the worst seed", worst, "≥ 0.11", worst >= .11);
        Add("gainElo", "… below ratings by skill, band and fact", elo, "≥ 0.085", elo >= .085);
        Add("possibleShare", "share of the possible gain", share, "≥ 0.50", share >= .50);
        var pooled = studies[0];
        foreach (var other in studies.Skip(1)) pooled.Add(other);
        Add("calibration", "expected calibration error, pooled", pooled.Calibration, "≤ 0.015", pooled.Calibration <= .015);
        Add("calibrationFirst30", "… over each child's first 30", pooled.First30.CalibrationError, "≤ 0.03", pooled.First30.CalibrationError <= .03);
        Add("calibrationWorstStrand", "… in the worst strand", pooled.WorstStrand, "≤ 0.06", pooled.WorstStrand <= .06);

        var shifted = Shifted.Select(s => (s.Name, Study: Told(s.Name, () => Study.Play(chosen[0], count, s.Nature, withSteady: false)))).ToList();
        double shiftedGain = shifted.Min(s => s.Study.Gain), shiftedCalibration = shifted.Max(s => s.Study.Calibration);
        Add("shiftedWorstGain", "worst gain with other children", shiftedGain, "≥ 0.07", shiftedGain >= .07);
        Add("shiftedWorstCalibration", "worst calibration error with other children", shiftedCalibration, "≤ 0.04", shiftedCalibration <= .04);
        double fading = shifted.Single(s => s.Name == "strong forgetting").Study.FadingGain;
        Add("fadingGain", "after gaps, fading against none, strong forgetting", fading, "≥ 0.02", fading >= .02);

        double wrong70 = (double)pooled.SteadyWrong70 / pooled.SteadyCalls, wrong80 = (double)pooled.SteadyWrong80 / pooled.SteadyCalls, recall = (double)pooled.SteadyDueCalled / pooled.SteadyDue;
        Add("wrongSteady70", "called steady below .70", wrong70, "≤ 0.01", wrong70 <= .01);
        Add("wrongSteady80", "called steady below .80", wrong80, "≤ 0.08", wrong80 <= .08);
        Add("steadyRecall", "steady bands that are called so", recall, "≥ 0.70", recall >= .70);

        var looks = Told("first look", () => LookStudy.Play(chosen, count));
        Add("firstLookTwoBands", "first look: the level lies in the two bands named", looks.TwoBands, "≥ 0.86", looks.TwoBands >= .86);
        Add("firstLookExact", "… the likeliest band is right", looks.Exact, "≥ 0.58", looks.Exact >= .58);
        Add("firstLookOverAge", "… above age alone", looks.Exact - looks.ByAge, "≥ 0.07", looks.Exact - looks.ByAge >= .07);
        Add("firstLookHonesty", "… said and true chance differ by", looks.Honesty, "≤ 0.05", looks.Honesty <= .05);
        Add("threeGames", "games proposed then that fit", looks.GamesThatFit, "≥ 0.75", looks.GamesThatFit >= .75);

        var (update, replay) = Told("speed", Speed);
        Add("updateMicroseconds", "one observation, microseconds", update, "≤ 60", update <= 60);
        Add("replay5000Seconds", "replay of 5,000, seconds", replay, "≤ 0.4", replay <= .4);
        var (p99, most) = Told("order", () => Order(chosen[0], count < 200 ? 60 : OrderChildren));
        Add("orderP99", "order within days moves a band by (99 %)", p99, "≤ 0.02", p99 <= .02);
        Add("orderMax", "… at most", most, "≤ 0.05", most <= .05);

        if (json)
        {
            var keys = new JsonObject();
            foreach (var line in lines) keys[line.Key] = Math.Round(line.Value, 5);
            Console.WriteLine(keys.ToJsonString(new JsonSerializerOptions { WriteIndented = true }));
        }
        else
            foreach (var line in lines) Console.WriteLine($"{line.Says,-58} {line.Value,9:0.0000}  {line.Must,-8} {(line.Met ? "" : "not met")}");
        return 0;
    }

    private static T Told<T>(string what, Func<T> work)
    {
        var clock = Stopwatch.StartNew();
        var result = work();
        Console.Error.WriteLine($"{what}: {clock.Elapsed.TotalSeconds:0.0} s");
        return result;
    }

    private static IReadOnlyList<Observation> LogOf(long seed, int i, int repeat = 1)
    {
        var (age, child) = Study.Child(seed, i, Study.Usual);
        return AskingPolicy.Log(child, seed * 100_003 + i, age, new DateOnly(2026, 1, 5), 12, 30, 2 * repeat);
    }

    /// <summary>Microseconds an observation takes once warm, and seconds for replaying 5,000.</summary>
    private static (double Update, double Replay) Speed()
    {
        var log = LogOf(1, 3, 17).Take(5000).ToList();
        double Replay()
        {
            var clock = Stopwatch.StartNew();
            var model = new ChildModel(5);
            foreach (var o in log) model.Observe(o);
            return clock.Elapsed.TotalSeconds;
        }
        double first = Replay();
        for (int i = 0; i < 2; i++) Replay();
        return (Replay() * 1e6 / log.Count, first);
    }

    /// <summary>How far a band's chance moves when each day's observations come in another order.</summary>
    private static (double P99, double Most) Order(long seed, int children)
    {
        var moves = new List<double>();
        Parallel.For(0, children, i =>
        {
            var (age, _) = Study.Child(seed, i, Study.Usual);
            var log = LogOf(seed, i);
            var rng = Rng.ForGame(seed, 70_000 + i);
            var (one, other) = (new ChildModel(age), new ChildModel(age));
            foreach (var o in log) one.Observe(o);
            foreach (var o in log.GroupBy(o => o.Day).SelectMany(g => g.OrderBy(_ => rng.Next()))) other.Observe(o);
            var day = log[^1].Day;
            var own = Enumerable.Range(0, Feeding.Bands.Count).Select(b => Math.Abs(one.Standing(b, day).Right - other.Standing(b, day).Right)).ToList();
            lock (moves) moves.AddRange(own);
        });
        moves.Sort();
        return (moves[(int)(.99 * moves.Count)], moves[^1]);
    }
}
