using Allowance.Core.Asks;
using Allowance.Core.Numbers;

namespace Allowance.Core.Learner;

/// <summary>
/// A made-up child who plays: she makes the demonstration log and stands in for a player in tests. Her inner workings are
/// different in form from the estimate on purpose: thresholds that rise with practice, facts that are known all or not at
/// all, a slip rate, a preferred method that changes in jumps, good and bad days, forgetting over gaps.
/// </summary>
public sealed class SimulatedChild
{
    private const double Slip = .04, Steepness = 2.2, LearnFact = .05, ForgetPerDay = .004, JumpChance = .004;

    private Rng rng;
    private readonly Dictionary<string, double> reach = [];
    private readonly HashSet<long> known = [];
    private readonly Dictionary<Strand, int> method = [];
    private readonly double age, pace;
    private double mood;
    private DateOnly? today;

    /// <param name="age">In years; decides how far her numbers reach at first.</param>
    public SimulatedChild(long seed, double age)
    {
        rng = Rng.ForGame(seed, 77);
        this.age = age;
        pace = Math.Exp(.3 * rng.Normal());
        foreach (var skill in Skills.All)
        {
            double usual = Constants.UsualAges[skill.Id][0];
            reach[skill.Id] = Math.Max(1, skill.Bands[0] * Math.Exp(.55 * (age - usual) + .15 * rng.Normal()));
        }
        foreach (var strand in Enum.GetValues<Strand>()) method[strand] = age < 4.5 ? 0 : age < 5.6 ? 1 : age < 6.6 ? 2 : 3;
    }

    /// <summary>The chance that she is right without help today, her mood included.</summary>
    public double Right(Ask ask)
    {
        if (known.Contains(ChildModel.FactKey(ask)) && ChildModel.FactKey(ask) != 0) return 1 - Slip;
        double size = Math.Max(1, ask.Largest * (ask.Kind == AskKind.Part ? .75 + .5 * Math.Min(ask[1], ask[0] - ask[1]) / Math.Max(1, ask[0]) : 1));
        double ease = ask.Support == Support.None ? 0 : .25;
        double x = Steepness * (Math.Log2(reach[Lead(ask)] / size) + ease + .25 * mood + .5);
        double floor = ask.Kind == AskKind.More ? .4 : .02;
        return floor + (1 - floor - Slip) / (1 + Math.Exp(-x));
    }

    /// <summary>Answers an ask on a day, and learns from it.</summary>
    public Outcome Answer(Ask ask, DateOnly day)
    {
        Begin(day);
        bool right = rng.Unit() < Right(ask);
        bool fact = known.Contains(ChildModel.FactKey(ask));
        Practise(ask, right);
        if (!right) return rng.Unit() < .6 ? Outcome.WithHelp : Outcome.NotYet;
        if (ask.Kind.Facts().Scale != OutcomeScale.Countable || fact) return Outcome.SawIt;
        int rung = method[Skills.Find(Lead(ask)).Strand] + (rng.Unit() < .2 ? rng.Below(2) == 0 ? -1 : 1 : 0);
        if (ask.Largest <= 5) rung++;
        return (Outcome)(2 + Math.Clamp(rung, 0, 3));
    }

    private static string Lead(Ask ask)
    {
        Span<int> bands = stackalloc int[4];
        Feeding.Of(ask, bands);
        return Feeding.Bands[bands[0]].Skill.Id;
    }

    private void Practise(Ask ask, bool right)
    {
        string skill = Lead(ask);
        double ratio = reach[skill] / Math.Max(1, ask.Largest);
        if (ratio < 1.6) reach[skill] *= 1 + .0012 * pace;
        if (right && ratio > .7 && rng.Unit() < LearnFact * pace && ChildModel.FactKey(ask) is var key && key != 0) known.Add(key);
        var strand = Skills.Find(skill).Strand;
        if (rng.Unit() < JumpChance * pace && method[strand] < 3) method[strand]++;
    }

    private void Begin(DateOnly day)
    {
        if (today == day) return;
        if (today is { } last)
        {
            double keep = Math.Exp(-ForgetPerDay * Math.Max(0, day.DayNumber - last.DayNumber - 2));
            foreach (long fact in known.Order().ToList())
                if (rng.Unit() > keep) known.Remove(fact);
        }
        mood = rng.Normal();
        today = day;
    }

    public override string ToString() => $"a made-up child of {age:0.0}";
}
