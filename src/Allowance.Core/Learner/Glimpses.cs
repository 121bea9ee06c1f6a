using Allowance.Core.Asks;
using Allowance.Core.Forms;

namespace Allowance.Core.Learner;

/// <summary>A picture that was shown for a moment.</summary>
/// <param name="Seconds">How long it was really shown.</param>
public readonly record struct Glance(int Number, Form Form, double Seconds, bool Right)
{
    /// <summary>The glimpses among notes, in their order.</summary>
    public static IEnumerable<Glance> Of(IEnumerable<Observation> observations) =>
        observations.Where(o => o is { Source: Source.Glimpse, Seconds: > 0, Ask.Count: > 0 }).Select(o => Of(o.Ask, o.Seconds!.Value, o.Seen.Right));

    public static Glance Of(Ask ask, double seconds, bool right) => new(Seen(ask), ask.Form, seconds, right);

    /// <summary>The number that was shown: of "6 and what make 10" it is the 6.</summary>
    private static int Seen(Ask ask) => ask.Kind == AskKind.Part ? ask[1] : ask[0];
}

/// <summary>
/// How long to show a picture next. Three right in a row at one time shorten it by a step, one that was not right lengthens
/// it by one; that settles where right³ = ½, near 79 % (the transformed up-and-down rule, Levitt 1971).
/// </summary>
public static class Staircase
{
    private const double Step = ShowTimes.Step, Shortest = ShowTimes.Shortest, Longest = ShowTimes.Longest;

    public const int InARow = 3;

    /// <summary>What the rule settles at: the cube root of a half.</summary>
    public static double Target { get; } = Math.Cbrt(.5);

    private static int Steps { get; } = (int)Math.Round(Math.Log(Longest / Shortest, Step));

    /// <summary>The step nearest to a time: what was meant, where a screen shows whole frames only.</summary>
    private static int StepOf(double seconds) => (int)Math.Round(Math.Clamp(Math.Log(Math.Max(seconds, Shortest) / Shortest, Step), 0, Steps));

    private static double Time(int step) => Math.Min(Longest, Shortest * Math.Pow(Step, step));

    /// <summary>The time on the ladder of steps that is nearest.</summary>
    public static double Nearest(double seconds) => Time(StepOf(seconds));

    /// <param name="looks">All glimpses of one number in one form, the oldest first.</param>
    /// <param name="start">Seconds, where there are none yet.</param>
    public static double Next(IEnumerable<Glance> looks, double start)
    {
        int step = StepOf(start), inARow = 0;
        foreach (var look in looks)
        {
            int shown = StepOf(look.Seconds);
            if (shown != step) inARow = 0;
            inARow = look.Right ? inARow + 1 : 0;
            step = Math.Clamp(!look.Right ? shown + 1 : inARow == InARow ? shown - 1 : shown, 0, Steps);
            if (inARow == InARow) inARow = 0;
        }
        return Time(step);
    }
}

/// <summary>How long a picture of a number in a form must be shown for a child to be right in about 79 of 100 glimpses.</summary>
/// <param name="Looks">How many glimpses of it this rests on; what is missing is borrowed from its neighbours.</param>
public sealed record GlimpseThreshold(int Number, Form Form, double Seconds, int Looks)
{
    /// <summary>From so many glimpses on it is more than a guess.</summary>
    public const int Enough = 6;

    public bool IsGuess => Looks < Enough;

    // A right answer by guessing, a slip, and how steeply being right rises with the logarithm of the time.
    private const double Guessed = .05, Slip = .02, Slope = 4;
    private const double UsualSeconds = 1.2, UsualSpread = 1.1, NeighbourSpread = .5;
    private const int Grid = 64;

    private static readonly double[] Logs = [.. Enumerable.Range(0, Grid).Select(i => Math.Log(.12) + i * (Math.Log(14) - Math.Log(.12)) / (Grid - 1))];
    private static readonly double Shift = Math.Log((Staircase.Target - Guessed) / (1 - Slip - Staircase.Target));

    /// <summary>The chance of being right when the threshold is met by so many natural logarithms of time.</summary>
    private static double Right(double above) => Guessed + (1 - Guessed - Slip) / (1 + Math.Exp(-(Slope * above + Shift)));

    /// <summary>By form and number, for what was shown at least once.</summary>
    public static IReadOnlyList<GlimpseThreshold> Of(IEnumerable<Glance> glances)
    {
        var seen = glances.GroupBy(g => (g.Number, g.Form)).ToDictionary(g => g.Key, g => g.ToList());
        var alone = seen.ToDictionary(s => s.Key, s => Mean(s.Value, Math.Log(UsualSeconds), UsualSpread));
        return [.. seen.Select(s =>
        {
            var (mean, spread) = Neighbours(s.Key.Number, s.Key.Form, seen, alone);
            return new GlimpseThreshold(s.Key.Number, s.Key.Form, Math.Exp(Mean(s.Value, mean, spread)), s.Value.Count);
        }).OrderBy(t => t.Form).ThenBy(t => t.Number)];
    }

    /// <summary>How long to show a number first that was never shown: as long as its neighbours need; else as long as is usual here.</summary>
    public static double Borrowed(int number, Form form, IReadOnlyCollection<GlimpseThreshold> known, double usual)
    {
        var near = known.Where(t => t.Form == form && Math.Abs(t.Number - number) == 1 && !t.IsGuess).ToList();
        return near.Count == 0 ? usual : Math.Clamp(near.Max(t => t.Seconds), ShowTimes.Shortest, ShowTimes.Longest);
    }

    /// <summary>What the neighbours say before it was looked at: the numbers beside it in the same form, and the same number in other forms half as much.</summary>
    private static (double Mean, double Spread) Neighbours(int number, Form form, Dictionary<(int Number, Form Form), List<Glance>> seen, Dictionary<(int, Form), double> alone)
    {
        double sum = 0, weight = 0;
        foreach (var (key, looks) in seen)
        {
            double near = key.Form == form && Math.Abs(key.Number - number) == 1 ? 1 : key.Number == number && key.Form != form ? .5 : 0;
            if (near == 0) continue;
            near *= Math.Min(looks.Count, Enough);
            sum += near * alone[key];
            weight += near;
        }
        // A few glimpses of neighbours count little, and so does what is usual against many.
        double usual = 1 / (UsualSpread * UsualSpread), theirs = Math.Min(1, weight / Enough) / (NeighbourSpread * NeighbourSpread);
        double mean = weight == 0 ? 0 : sum / weight;
        return ((usual * Math.Log(UsualSeconds) + theirs * mean) / (usual + theirs), 1 / Math.Sqrt(usual + theirs));
    }

    /// <summary>The mean of the logarithm of the threshold after these glimpses, from a normal belief before them.</summary>
    private static double Mean(IReadOnlyList<Glance> looks, double before, double spread)
    {
        var weights = new double[Grid];
        // The same time comes again and again.
        var different = looks.CountBy(l => (l.Seconds, l.Right)).ToList();
        for (int i = 0; i < Grid; i++)
        {
            double away = (Logs[i] - before) / spread;
            weights[i] = -away * away / 2;
            foreach (var (look, times) in different)
            {
                double right = Right(Math.Log(look.Seconds) - Logs[i]);
                weights[i] += times * Math.Log(look.Right ? right : 1 - right);
            }
        }
        double most = weights.Max(), sum = 0, all = 0;
        for (int i = 0; i < Grid; i++)
        {
            double weight = Math.Exp(weights[i] - most);
            sum += weight * Logs[i];
            all += weight;
        }
        return sum / all;
    }
}
