using System.Numerics;
using System.Runtime.InteropServices;
using Allowance.Core.Asks;

namespace Allowance.Core.Learner;

/// <summary>A mean and a variance in logits.</summary>
public readonly record struct Gaussian(double Mean, double Variance)
{
    public double Sd => Math.Sqrt(Variance);
}

/// <summary>How a child usually gets there, beside what her ability says, in logits: above 0 further along the methods, or sooner content with help.</summary>
public readonly record struct Habit(double Method, double Help);

/// <summary>
/// From an ability for an ask, in logits, to its outcomes, and back. Right without help: floor + (1 − floor − lapse) · σ(z);
/// the method, given right, is an ordered logistic in the same z, and so is help, given not right.
/// </summary>
internal static class OutcomeModel
{
    // Filled up with nodes of no weight, so that two, four or eight are looked at in one go: choosing for a child takes a seventh less time.
    private const int Nodes = 17, Filled = 24;

    // The normal distribution on an even grid of half standard deviations: exact to four digits for these smooth curves.
    private static readonly double[] NodeAt = [.. Enumerable.Range(0, Filled).Select(k => k < Nodes ? -4 + .5 * k : 0)];
    private static readonly double[] NodeWeight = Normalised([.. NodeAt.Select((x, k) => k < Nodes ? Math.Exp(-x * x / 2) : 0)]);

    public static double Right(double z, double floor) => floor + (1 - floor - Constants.Lapse) * Logistic(z);

    /// <summary>The chance of being right without help.</summary>
    public static double MeanRight(Gaussian ability, double floor)
    {
        var at = MemoryMarshal.Cast<double, Vector<double>>(NodeAt);
        var weights = MemoryMarshal.Cast<double, Vector<double>>(NodeWeight);
        var right = Vector<double>.Zero;
        double sd = ability.Sd;
        for (int k = 0; k < at.Length; k++) right += weights[k] * Right(new Vector<double>(ability.Mean) + sd * at[k], floor);
        return Vector.Sum(right);
    }

    /// <summary>Nearly the same at a fifteenth of the cost: the logistic curve flattened by the spread (MacKay 1992).</summary>
    public static double RoughRight(Gaussian ability, double floor) => Right(ability.Mean / Math.Sqrt(1 + Math.PI / 8 * ability.Variance), floor);

    /// <summary>The chance of each of the six outcomes; a told ask has no methods.</summary>
    public static void Chances(Gaussian ability, double floor, bool told, Habit habit, Span<double> into)
    {
        into.Clear();
        var at = MemoryMarshal.Cast<double, Vector<double>>(NodeAt);
        var weights = MemoryMarshal.Cast<double, Vector<double>>(NodeWeight);
        double sd = ability.Sd;
        for (int k = 0; k < at.Length; k++)
        {
            var z = new Vector<double>(ability.Mean) + sd * at[k];
            var (right, help) = (Right(z, floor), Logistic(z + new Vector<double>(habit.Help - Constants.HelpFrom)));
            var not = weights[k] * (Vector<double>.One - right);
            into[0] += Vector.Sum(not * (Vector<double>.One - help));
            into[1] += Vector.Sum(not * help);
            right *= weights[k];
            if (told)
            {
                into[5] += Vector.Sum(right);
                continue;
            }
            // Each rung is what lies between two thresholds.
            var from = Vector<double>.One;
            for (int rung = 0; rung < 4; rung++)
            {
                var above = rung == 3 ? Vector<double>.Zero : Logistic(z + new Vector<double>(habit.Method - Constants.MethodFrom[rung]));
                into[2 + rung] += Vector.Sum(right * Vector.Max(new Vector<double>(Least), from - above));
                from = above;
            }
        }
        double sum = 0;
        foreach (double p in into) sum += p;
        for (int i = 0; i < 6; i++) into[i] /= sum;
    }

    /// <summary>
    /// The ability for an ask after what was seen: never wider, never lower after <em>saw it</em>, and never lower than a
    /// worse outcome would have left it. The last matters where a slip is likelier than not knowing: there being wrong says
    /// next to nothing, and counting all must not say less than that.
    /// </summary>
    public static Gaussian After(Seen seen, double floor, Habit habit, Gaussian before)
    {
        var (mean, variance) = Moments(seen, floor, habit, before);
        if (seen.Outcome is { } outcome)
            for (var worse = Outcome.NotYet; worse < outcome; worse++) mean = Math.Max(mean, Moments(Seen.How(worse), floor, habit, before).Mean);
        if (seen.Outcome == Outcome.SawIt || seen is { Outcome: null, Right: true }) mean = Math.Max(mean, before.Mean);
        return new(mean, Math.Clamp(variance, 1e-6, before.Variance));
    }

    private static Gaussian Moments(Seen seen, double floor, Habit habit, Gaussian before)
    {
        double sd = before.Sd, sum = 0, first = 0, second = 0;
        for (int k = 0; k < Nodes; k++)
        {
            double z = before.Mean + sd * NodeAt[k], weight = NodeWeight[k] * Likelihood(z, floor, habit, seen);
            sum += weight;
            first += weight * z;
            second += weight * z * z;
        }
        double mean = first / sum;
        return new(mean, second / sum - mean * mean);
    }

    private static double Likelihood(double z, double floor, Habit habit, Seen seen)
    {
        double right = Right(z, floor);
        if (seen.Outcome is not { } outcome) return seen.Right ? right : 1 - right;
        double method = outcome >= Outcome.CountedAll ? Method(z, habit, (int)outcome - 2) : Help(z, habit, outcome);
        return (outcome >= Outcome.CountedAll ? right : 1 - right) * Math.Pow(method, Constants.MethodPower);
    }

    private static double Help(double z, Habit habit, Outcome outcome)
    {
        double help = HelpIsEnough(z, habit);
        return outcome == Outcome.WithHelp ? help : 1 - help;
    }

    /// <summary>Given right: the chance of counting all (0), counting on (1), structure (2), seeing it (3).</summary>
    private static double Method(double z, Habit habit, int rung)
    {
        double from = rung == 0 ? 1 : Logistic(z + habit.Method - Constants.MethodFrom[rung - 1]);
        double above = rung == 3 ? 0 : Logistic(z + habit.Method - Constants.MethodFrom[rung]);
        return Math.Max(Least, from - above);
    }

    /// <summary>Given not right: the chance that help was enough.</summary>
    public static double HelpIsEnough(double z, Habit habit) => Logistic(z + habit.Help - Constants.HelpFrom);

    /// <summary>Given right: how far along the methods the answer is expected to come, from 0 (counting all) to 3 (seeing it).</summary>
    public static double ExpectedMethod(double z, Habit habit)
    {
        double sum = 0;
        foreach (double from in Constants.MethodFrom) sum += Logistic(z + habit.Method - from);
        return sum;
    }

    /// <summary>The normal distribution function, to 1e-7 (Abramowitz and Stegun 26.2.17).</summary>
    public static double Phi(double x)
    {
        double t = 1 / (1 + .2316419 * Math.Abs(x));
        double tail = Math.Exp(-x * x / 2) / Math.Sqrt(2 * Math.PI) * t * (.319381530 + t * (-.356563782 + t * (1.781477937 + t * (-1.821255978 + t * 1.330274429))));
        return x > 0 ? 1 - tail : tail;
    }

    /// <summary>No method is quite impossible.</summary>
    private const double Least = 1e-6;

    private static double Logistic(double z) => 1 / (1 + Math.Exp(-z));

    private static Vector<double> Logistic(Vector<double> z) => Vector<double>.One / (Vector<double>.One + Vector.Exp(-z));

    private static Vector<double> Right(Vector<double> z, double floor) => new Vector<double>(floor) + (1 - floor - Constants.Lapse) * Logistic(z);

    private static double[] Normalised(double[] weights)
    {
        double sum = weights.Sum();
        return [.. weights.Select(w => w / sum)];
    }
}
