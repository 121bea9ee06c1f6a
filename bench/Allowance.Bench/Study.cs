using System.Collections.Concurrent;
using Allowance.Core.Asks;
using Allowance.Core.Learner;
using Allowance.Core.Numbers;

namespace Allowance.Bench;

/// <summary>Who foretells: the estimate, the truth, the estimate without fading, and the baselines.</summary>
internal enum Oracle { Ours, Truth, Unfaded, Mean, PerSkill, PerAsk, Elo, EloTerms }

/// <summary>Sums over foretold answers.</summary>
internal sealed class Score
{
    public const int Bins = 10;
    private readonly double[] foretold = new double[Bins], right = new double[Bins];

    public double Loss;
    public long Count;

    public void Add(double p, bool wasRight)
    {
        Loss -= Math.Log(Math.Clamp(wasRight ? p : 1 - p, 1e-6, 1));
        int bin = Math.Min(Bins - 1, (int)(p * Bins));
        foretold[bin] += p;
        right[bin] += wasRight ? 1 : 0;
        Count++;
    }

    public void Add(Score other)
    {
        Loss += other.Loss;
        Count += other.Count;
        for (int i = 0; i < Bins; i++)
        {
            foretold[i] += other.foretold[i];
            right[i] += other.right[i];
        }
    }

    public double MeanLoss => Loss / Count;

    /// <summary>Expected calibration error: how far the share right lies from what was foretold, mean over ten equal bins by use.</summary>
    public double CalibrationError => Enumerable.Range(0, Bins).Sum(i => Math.Abs(foretold[i] - right[i])) / Math.Max(1, Count);
}

/// <summary>What many made-up children showed.</summary>
internal sealed class Study
{
    public static readonly Nature Usual = new();

    /// <summary>Children of the other make are studied. Set once, before anything is played.</summary>
    public static bool OtherWorld { get; set; }

    public Score[] Scores { get; } = [.. Enum.GetValues<Oracle>().Select(_ => new Score())];
    public Score First30 { get; } = new();
    public Score[] Strands { get; } = [.. Enum.GetValues<Strand>().Select(_ => new Score())];

    /// <summary>After gaps of ten days and more: with fading and without.</summary>
    public Score AfterGaps { get; } = new();
    public Score AfterGapsUnfaded { get; } = new();
    public int SteadyCalls, SteadyWrong70, SteadyWrong80, SteadyDue, SteadyDueCalled;

    /// <summary>Plays a study: children of 3½ to 8, thirty days over twelve weeks, ten asks a day, a third not watched.</summary>
    public static Study Play(long seed, int children, Nature nature, bool withSteady)
    {
        var parts = new ConcurrentBag<(int Child, Study Part)>();
        Parallel.For(0, children, i =>
        {
            var part = new Study();
            part.PlayChild(seed, i, nature, withSteady);
            parts.Add((i, part));
        });
        var all = new Study();
        foreach (var (_, part) in parts.OrderBy(p => p.Child)) all.Add(part);
        return all;
    }

    public static (double Age, IMadeUpChild Child) Child(long seed, int i, Nature nature)
    {
        var rng = Rng.ForGame(seed, i);
        double age = 3.5 + 4.5 * rng.Unit();
        long own = (long)(rng.Next() >> 1);
        return (age, OtherWorld ? new SteppingChild(own, age, nature, seed) : new SimulatedChild(own, age, nature, seed));
    }

    private void PlayChild(long seed, int i, Nature nature, bool withSteady)
    {
        var (age, child) = Child(seed, i, nature);
        var policy = new AskingPolicy(seed * 100_003 + i, age);
        var model = new ChildModel(age);
        var unfaded = new ChildModel(age, fades: false);
        IBaseline[] baselines =
        [
            new ShareSoFar(_ => 0, 6), new ShareSoFar(a => Elo.SkillOf(Elo.LeadBand(a)), 5), new ShareSoFar(a => a.With(Support.None).Code, 4),
            new Elo(false, .7, 12), new Elo(true, .6, 12),
        ];
        var rng = Rng.ForGame(seed, 50_000 + i);
        var lastMet = new Dictionary<int, DateOnly>();
        var called = new HashSet<int>();
        int asked = 0;
        foreach (var day in policy.Days(new DateOnly(2026, 1, 5), 12, 30))
        {
            var met = new HashSet<int>();
            for (int game = 0; game < 2; game++)
                policy.Play(5, ask =>
                {
                    int band = Elo.LeadBand(ask);
                    double ours = model.Right(ask, day, now: true), without = unfaded.Right(ask, day, now: true), truth = child.RightOverDays(ask);
                    double[] foretold = [ours, truth, without, .. baselines.Select(b => b.Foretell(ask))];
                    var outcome = child.Answer(ask, day);
                    bool right = outcome >= Outcome.CountedAll;
                    for (int k = 0; k < foretold.Length; k++) Scores[k].Add(foretold[k], right);
                    if (asked++ < 30) First30.Add(ours, right);
                    Strands[(int)Feeding.Bands[band].Skill.Strand].Add(ours, right);
                    int skill = (int)Elo.SkillOf(band);
                    if (lastMet.TryGetValue(skill, out var before) && day.DayNumber - before.DayNumber >= 10)
                    {
                        AfterGaps.Add(ours, right);
                        AfterGapsUnfaded.Add(without, right);
                    }
                    met.Add(band);
                    var seen = rng.Unit() < 1.0 / 3 ? Seen.NotWatched(right) : Seen.How(outcome);
                    var observation = new Observation(new DateTimeOffset(day.ToDateTime(new TimeOnly(16, 0)), TimeSpan.Zero), ask, seen);
                    model.Observe(observation);
                    unfaded.Observe(observation);
                    foreach (var baseline in baselines) baseline.Learn(ask, right);
                    return right;
                });
            foreach (int band in met) lastMet[(int)Elo.SkillOf(band)] = day;
            if (withSteady) CallSteady(model, child, met, called, day);
        }
        if (!withSteady) return;
        for (int band = 0; band < Feeding.Bands.Count; band++)
        {
            var standing = model.Standing(band, new DateOnly(2026, 3, 30));
            if (standing.RightDays < BandStanding.SteadyDays || Truth(child, band) < .85) continue;
            SteadyDue++;
            if (standing.WasSteady) SteadyDueCalled++;
        }
    }

    private void CallSteady(ChildModel model, IMadeUpChild child, HashSet<int> met, HashSet<int> called, DateOnly day)
    {
        foreach (int band in met.Where(b => !called.Contains(b)))
        {
            if (!model.Standing(band, day).WasSteady) continue;
            called.Add(band);
            SteadyCalls++;
            double truth = Truth(child, band);
            if (truth < .70) SteadyWrong70++;
            if (truth < .80) SteadyWrong80++;
        }
    }

    public static double Truth(IMadeUpChild child, int band) => BandAsks.Of(band).Average(child.RightOverDays);

    public void Add(Study other)
    {
        for (int i = 0; i < Scores.Length; i++) Scores[i].Add(other.Scores[i]);
        for (int i = 0; i < Strands.Length; i++) Strands[i].Add(other.Strands[i]);
        First30.Add(other.First30);
        AfterGaps.Add(other.AfterGaps);
        AfterGapsUnfaded.Add(other.AfterGapsUnfaded);
        SteadyCalls += other.SteadyCalls;
        SteadyWrong70 += other.SteadyWrong70;
        SteadyWrong80 += other.SteadyWrong80;
        SteadyDue += other.SteadyDue;
        SteadyDueCalled += other.SteadyDueCalled;
    }

    private double Loss(Oracle oracle) => Scores[(int)oracle].MeanLoss;

    private double BestBaseline => new[] { Oracle.Mean, Oracle.PerSkill, Oracle.PerAsk, Oracle.Elo }.Min(Loss);

    public double Gain => 1 - Loss(Oracle.Ours) / BestBaseline;

    public double GainElo => 1 - Loss(Oracle.Ours) / Loss(Oracle.EloTerms);

    public double PossibleShare => (BestBaseline - Loss(Oracle.Ours)) / (BestBaseline - Loss(Oracle.Truth));

    public double Calibration => Scores[(int)Oracle.Ours].CalibrationError;

    public double WorstStrand => Strands.Where(s => s.Count >= 500).Max(s => s.CalibrationError);

    public double FadingGain => 1 - AfterGaps.MeanLoss / AfterGapsUnfaded.MeanLoss;

    public override string ToString() => string.Join("  ", Enum.GetValues<Oracle>().Select(o => $"{o} {Loss(o):0.0000}"));
}
