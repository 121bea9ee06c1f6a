using Allowance.Core.Asks;
using Allowance.Core.Forms;

namespace Allowance.Core.Learner;

/// <summary>A mean and a variance in logits.</summary>
public readonly record struct Gaussian(double Mean, double Variance)
{
    public double Sd => Math.Sqrt(Variance);
}

/// <summary>
/// What is believed about one child. Abilities in all skill bands are jointly Gaussian, so that partners of 5 say
/// something about partners of 6; single facts and forms deviate independently. Each observation is one moment-matching
/// step; replaying the log always gives the same. Not safe for use from several threads while it observes.
/// </summary>
public sealed class ChildModel
{
    private static readonly int Size = Feeding.Bands.Count + 1;
    private static readonly int DayIndex = Feeding.Bands.Count;
    private const int Nodes = 17;
    private static readonly double[] NodeAt = [.. Enumerable.Range(0, Nodes).Select(k => -4 + .5 * k)];
    private static readonly double[] NodeWeight = Normalised([.. NodeAt.Select(x => Math.Exp(-x * x / 2))]);
    private static readonly double[] FirstCovariance = BuildFirstCovariance();

    private readonly double[] mean = new double[Size];
    private readonly double[] covariance = (double[])FirstCovariance.Clone();
    private readonly double[] along = new double[Size];
    private readonly Dictionary<long, Gaussian> facts = [];
    private readonly Gaussian[] forms = [.. FormTable.All.Select(_ => new Gaussian(0, Constants.FormSd * Constants.FormSd))];
    private readonly BandHistory[] history = [.. Feeding.Bands.Select(_ => new BandHistory())];
    private DateOnly? today;

    private sealed class BandHistory
    {
        public DateOnly? LastMet, MetBefore;
        public int Returns, Right, Seen, FluentSeen, WatchedRight;
        public bool WasSteady;
        public HashSet<DateOnly> RightDays { get; } = [];
    }

    /// <param name="age">In years, when nothing had been seen yet.</param>
    public ChildModel(double age)
    {
        for (int i = 0; i < DayIndex; i++) mean[i] = Constants.PriorMean(i, age);
    }

    public int Observations { get; private set; }

    /// <summary>The last day on which something was noted.</summary>
    public DateOnly? LastDay => today;

    /// <summary>Takes in an observation; they must come in the order of their days.</summary>
    public void Observe(Observation seen)
    {
        Begin(seen.Day);
        Observations++;
        Span<int> bands = stackalloc int[4];
        int count = Feeding.Of(seen.Ask, bands);
        bands = bands[..count];
        if (seen.Ask.Kind.Facts().Scale != OutcomeScale.Nearness) Learn(seen, bands);
        foreach (int band in bands)
        {
            var past = history[band];
            Remember(past, seen);
            if (!past.WasSteady && past.RightDays.Count >= BandStanding.SteadyDays) past.WasSteady = Standing(band, seen.Day).Careful >= BandStanding.SteadyFrom;
        }
    }

    private void Learn(Observation seen, ReadOnlySpan<int> bands)
    {
        long factKey = FactKey(seen.Ask);
        var fact = FactOf(factKey);
        var form = forms[(int)seen.Ask.Form];
        double variance = Along(bands) + fact.Variance + form.Variance;
        double middle = Middle(seen.Ask, bands, seen.Day) + fact.Mean + form.Mean;
        var (newMiddle, newVariance) = MomentMatch(seen, middle, variance);
        double shift = (newMiddle - middle) / variance, shrink = (variance - newVariance) / (variance * variance);
        for (int i = 0; i < Size; i++)
        {
            mean[i] += along[i] * shift;
            double gain = along[i] * shrink;
            if (gain == 0) continue;
            for (int j = 0, at = i * Size; j < Size; j++) covariance[at + j] -= gain * along[j];
        }
        if (factKey != 0) facts[factKey] = Moved(fact);
        forms[(int)seen.Ask.Form] = Moved(form);

        Gaussian Moved(Gaussian g) => new(g.Mean + g.Variance * shift, g.Variance - g.Variance * g.Variance * shrink);
    }

    /// <summary>
    /// Mean and variance of the ability for this ask after what was seen: never wider, never lower after <em>saw it</em>,
    /// and never lower than a worse outcome would have left it. The last matters where a slip is likelier than not knowing:
    /// there being wrong says next to nothing, and counting all must not say less than that.
    /// </summary>
    private static (double Mean, double Variance) MomentMatch(Observation seen, double middle, double variance)
    {
        double floor = Constants.Floor(seen.Ask);
        var (mean, left) = Moments(seen.Seen, floor, middle, variance);
        if (seen.Seen.Outcome is { } outcome)
            for (var worse = Outcome.NotYet; worse < outcome; worse++) mean = Math.Max(mean, Moments(Seen.How(worse), floor, middle, variance).Mean);
        if (seen.Seen.Outcome == Outcome.SawIt || seen.Seen is { Outcome: null, Right: true }) mean = Math.Max(mean, middle);
        return (mean, Math.Clamp(left, 1e-6, variance));
    }

    private static (double Mean, double Variance) Moments(Seen seen, double floor, double middle, double variance)
    {
        double sd = Math.Sqrt(variance), sum = 0, first = 0, second = 0;
        for (int k = 0; k < Nodes; k++)
        {
            double z = middle + sd * NodeAt[k], weight = NodeWeight[k] * Likelihood(z, floor, seen);
            sum += weight;
            first += weight * z;
            second += weight * z * z;
        }
        double mean = first / sum;
        return (mean, second / sum - mean * mean);
    }

    private static double Likelihood(double z, double floor, Seen seen)
    {
        double right = Right(z, floor);
        if (seen.Outcome is not { } outcome) return seen.Right ? right : 1 - right;
        double method = outcome >= Outcome.CountedAll ? Method(z, (int)outcome - 2) : Help(z, outcome);
        return (outcome >= Outcome.CountedAll ? right : 1 - right) * Math.Pow(method, Constants.MethodPower);
    }

    private static double Right(double z, double floor) => floor + (1 - floor - Constants.Lapse) * Logistic(z);

    private static double Help(double z, Outcome outcome)
    {
        double help = Logistic(z - Constants.HelpFrom);
        return outcome == Outcome.WithHelp ? help : 1 - help;
    }

    /// <summary>Given right: the chance of counting all (0), counting on (1), structure (2), seeing it (3).</summary>
    private static double Method(double z, int rung)
    {
        double from = rung == 0 ? 1 : Logistic(z - Constants.MethodFrom[rung - 1]);
        double above = rung == 3 ? 0 : Logistic(z - Constants.MethodFrom[rung]);
        return Math.Max(1e-6, from - above);
    }

    private static double Logistic(double z) => 1 / (1 + Math.Exp(-z));

    /// <summary>The ability for an ask on a day, without the knowledge of whether that day is a good one.</summary>
    public Gaussian Ability(Ask ask, DateOnly day)
    {
        Span<int> bands = stackalloc int[4];
        bands = bands[..Feeding.Of(ask, bands)];
        var fact = FactOf(FactKey(ask));
        var form = forms[(int)ask.Form];
        double variance = 0;
        for (int i = 0; i < bands.Length; i++)
            for (int j = 0; j < bands.Length; j++)
                variance += Weight(i, bands.Length) * Weight(j, bands.Length) * (covariance[bands[i] * Size + bands[j]] + Drift(bands[i], bands[j], day));
        return new(Middle(ask, bands, day) - mean[DayIndex] + fact.Mean + form.Mean, variance + fact.Variance + form.Variance + Constants.DaySd * Constants.DaySd);
    }

    private double Drift(int i, int j, DateOnly day) =>
        today is { } last && day > last ? Constants.DriftPerDay * (day.DayNumber - last.DayNumber) * FirstCovariance[i * Size + j] : 0;

    /// <summary>The chance of each of the six outcomes on a day.</summary>
    public void Chances(Ask ask, DateOnly day, Span<double> into)
    {
        into.Clear();
        var ability = Ability(ask, day);
        double floor = Constants.Floor(ask), sd = ability.Sd;
        bool told = ask.Kind.Facts().Scale != OutcomeScale.Countable;
        for (int k = 0; k < Nodes; k++)
        {
            double z = ability.Mean + sd * NodeAt[k], weight = NodeWeight[k], right = Right(z, floor);
            into[0] += weight * (1 - right) * Help(z, Outcome.NotYet);
            into[1] += weight * (1 - right) * Help(z, Outcome.WithHelp);
            if (told) into[5] += weight * right;
            else
                for (int rung = 0; rung < 4; rung++) into[2 + rung] += weight * right * Method(z, rung);
        }
        double sum = 0;
        foreach (double p in into) sum += p;
        for (int i = 0; i < 6; i++) into[i] /= sum;
    }

    /// <summary>The chance of being right without help on a day.</summary>
    public double Right(Ask ask, DateOnly day)
    {
        Span<double> chances = stackalloc double[6];
        Chances(ask, day, chances);
        return chances[2] + chances[3] + chances[4] + chances[5];
    }

    /// <summary>The chance of being right that she reaches with nine chances in ten: a careful figure.</summary>
    public double RightAtLeast(Ask ask, DateOnly day)
    {
        var ability = Ability(ask, day);
        return Right(ability.Mean - 1.2816 * Math.Sqrt(Math.Max(0, ability.Variance - Constants.DaySd * Constants.DaySd)), Constants.Floor(ask));
    }

    /// <summary>How a skill band stands on a day.</summary>
    public BandStanding Standing(int band, DateOnly day)
    {
        var past = history[band];
        double right = 0, careful = 0;
        var asks = BandAsks.Of(band);
        foreach (var ask in asks)
        {
            right += Right(ask, day) / asks.Count;
            careful += RightAtLeast(ask, day) / asks.Count;
        }
        return new(band, right, careful, past.Seen, past.Right, past.RightDays.Count,
            past.WatchedRight == 0 ? null : (double)past.FluentSeen / past.WatchedRight, past.LastMet, past.WasSteady);
    }

    private void Begin(DateOnly day)
    {
        if (today == day) return;
        if (today is { } last)
        {
            double drift = Constants.DriftPerDay * Math.Max(0, day.DayNumber - last.DayNumber);
            for (int i = 0; i < DayIndex; i++)
                for (int j = 0, at = i * Size; j < DayIndex; j++) covariance[at + j] += drift * FirstCovariance[at + j];
        }
        for (int i = 0; i < Size; i++) covariance[i * Size + DayIndex] = covariance[DayIndex * Size + i] = 0;
        covariance[DayIndex * Size + DayIndex] = Constants.DaySd * Constants.DaySd;
        mean[DayIndex] = 0;
        today = day;
    }

    private static void Remember(BandHistory past, Observation seen)
    {
        if (past.LastMet != seen.Day)
        {
            if (past.LastMet is { } last && seen.Day.DayNumber - last.DayNumber >= Constants.ReturnGap) past.Returns++;
            past.MetBefore = past.LastMet;
            past.LastMet = seen.Day;
        }
        past.Seen++;
        if (!seen.Seen.Right) return;
        past.Right++;
        if (seen.Ask.Support != Support.None) return;
        past.RightDays.Add(seen.Day);
        if (seen.Seen.Outcome is not { } outcome) return;
        past.WatchedRight++;
        if (outcome >= Outcome.Structure) past.FluentSeen++;
    }

    /// <summary>How much a band has faded: by the days since it was last met before this one.</summary>
    private double Fading(int band, DateOnly day)
    {
        var past = history[band];
        var met = past.LastMet == day ? past.MetBefore : past.LastMet;
        if (met is not { } last || day <= last) return 0;
        double stability = Constants.Stability + Constants.StabilityPerReturn * past.Returns;
        return Constants.FadeSize * Math.Log(1 + (day.DayNumber - last.DayNumber) / stability);
    }

    private double Middle(Ask ask, ReadOnlySpan<int> bands, DateOnly day)
    {
        double middle = mean[DayIndex] - Difficulty.Of(ask, bands[0]);
        for (int i = 0; i < bands.Length; i++) middle += Weight(i, bands.Length) * (mean[bands[i]] - Fading(bands[i], day));
        return middle;
    }

    /// <summary>Fills <see cref="along"/> with each component's covariance with the ask's ability; returns that ability's variance.</summary>
    private double Along(ReadOnlySpan<int> bands)
    {
        for (int i = 0; i < Size; i++)
        {
            double sum = covariance[i * Size + DayIndex];
            for (int b = 0; b < bands.Length; b++) sum += Weight(b, bands.Length) * covariance[i * Size + bands[b]];
            along[i] = sum;
        }
        double variance = along[DayIndex];
        for (int b = 0; b < bands.Length; b++) variance += Weight(b, bands.Length) * along[bands[b]];
        return variance;
    }

    private static double Weight(int i, int count) => count == 1 ? 1 : i == 0 ? Constants.LeadWeight : (1 - Constants.LeadWeight) / (count - 1);

    private Gaussian FactOf(long key) => key == 0
        ? new(0, 0)
        : facts.TryGetValue(key, out var fact) ? fact : new(0, Constants.FactSd * Constants.FactSd);

    /// <summary>The fact an ask is about: 3 + 4, 4 + 3, and 3 and what make 7 are one. 0 where there is none.</summary>
    public static long FactKey(Ask ask)
    {
        var (family, a, b) = ask.Kind switch
        {
            AskKind.Join when ask.Count == 2 => (1, ask[0], ask[1]),
            AskKind.Part or AskKind.Gone => (1, ask[1], ask[0] - ask[1]),
            AskKind.Double => (1, ask[0], ask[0]),
            AskKind.Times => (2, ask[0], ask[1]),
            AskKind.Say or AskKind.Match or AskKind.Trace or AskKind.Place => (3 + (int)ask.Form, ask[0], 0),
            _ => (0, 0, 0),
        };
        return family == 0 ? 0 : (long)family << 24 | (long)Math.Min(a, b) << 12 | (long)Math.Max(a, b) | 1L << 40;
    }

    private static double[] BuildFirstCovariance()
    {
        var matrix = new double[Size * Size];
        for (int i = 0; i < DayIndex; i++)
            for (int j = 0; j < DayIndex; j++) matrix[i * Size + j] = Constants.PriorCovariance(i, j);
        matrix[DayIndex * Size + DayIndex] = Constants.DaySd * Constants.DaySd;
        return matrix;
    }

    private static double[] Normalised(double[] weights)
    {
        double sum = weights.Sum();
        return [.. weights.Select(w => w / sum)];
    }
}
