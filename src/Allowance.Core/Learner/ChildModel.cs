using System.Numerics;
using Allowance.Core.Asks;
using Allowance.Core.Forms;
using Allowance.Core.Numbers;

namespace Allowance.Core.Learner;

/// <summary>
/// What is believed about one child. Abilities in all skill bands, the day, and how fast she forgets are jointly Gaussian,
/// so that partners of 5 say something about partners of 6; single facts and forms deviate independently. Each observation
/// is one moment-matching step; replaying the log always gives the same. Not safe for use from several threads while it
/// observes.
/// </summary>
public sealed partial class ChildModel : IBeliefs
{
    private static readonly int Bands = Feeding.Bands.Count;
    private static readonly int DayIndex = Bands, FadingIndex = Bands + 1, Size = Bands + 2;
    private static readonly int[] SkillOf = [.. Feeding.Bands.Select(b => Skills.All.ToList().IndexOf(b.Skill))];
    private static readonly double[] FirstCovariance = BuildFirstCovariance();

    /// <summary>The most components that one ask's ability is made of: three bands, the day, fading.</summary>
    private const int MostParts = 6;

    private readonly double[] mean = new double[Size];
    private readonly double[] covariance = (double[])FirstCovariance.Clone();
    private readonly double[] along = new double[Size];
    private readonly Dictionary<long, Gaussian> facts = [];
    private readonly Gaussian[] forms = [.. FormTable.All.Select(f => f.Form == Form.Word ? Constants.WrittenWordSd : Constants.FormSd).Select(sd => new Gaussian(0, sd * sd))];
    private readonly Usual[] methods = new Usual[Enum.GetValues<Strand>().Length];
    private readonly BandHistory[] history = new BandHistory[Bands];
    private readonly Meeting[] meetings = new Meeting[Skills.All.Count];
    private readonly bool fades;
    private readonly List<Observation> ofToday = [];
    private Usual help;
    private DateOnly? today;

    /// <summary>What was believed before today; null before the first day.</summary>
    private ChildModel? morning;

    /// <summary>A habit, in logits, and by how many answers it is known.</summary>
    private struct Usual
    {
        public double By;
        public int Seen;

        /// <summary>Moves towards what was seen: far at first, little later; children do change their ways.</summary>
        public void See(double surprise)
        {
            By = Math.Clamp(By + surprise * Math.Max(Constants.HabitStep, 1 / (Constants.HabitSlow + Seen)), -Constants.MostHabit, Constants.MostHabit);
            Seen++;
        }
    }

    private struct BandHistory
    {
        public DateOnly? LastMet, LastRight;
        public int Seen, Right, Days, RightDays, FluentSeen, WatchedRight;
        public bool WasSteady;

        /// <summary>Whether it went right, the newest lowest.</summary>
        public uint Lately;

        /// <summary>The forms in which she was right without a support, as bits.</summary>
        public uint Forms;
    }

    /// <summary>When a skill was met, in whichever band: meeting a part of it keeps the rest alive.</summary>
    private struct Meeting
    {
        public DateOnly? Last, Before;
        public int Returns;
    }

    /// <param name="age">In years, when nothing had been seen yet.</param>
    /// <param name="fades">False only to measure what fading is worth.</param>
    public ChildModel(double age, bool fades = true)
    {
        this.fades = fades;
        for (int i = 0; i < Bands; i++) mean[i] = Constants.PriorMean(i, age);
        mean[FadingIndex] = Constants.FadeSize;
    }

    private ChildModel(bool fades) => this.fades = fades;

    /// <summary>What a log tells, oldest first.</summary>
    /// <param name="age">In years, on the log's first day.</param>
    public static ChildModel Of(double age, IEnumerable<Observation> log)
    {
        var model = new ChildModel(age);
        foreach (var observation in log) model.Observe(observation);
        return model;
    }

    /// <summary>The same beliefs, to think ahead with.</summary>
    public ChildModel Copy()
    {
        var copy = new ChildModel(fades);
        copy.Become(this);
        copy.ofToday.AddRange(ofToday);
        copy.morning = morning?.Copy();
        return copy;
    }

    /// <summary>Believes what another model believes; what was believed before is forgotten. Only <see cref="Imagine"/> may follow.</summary>
    internal void Become(ChildModel other)
    {
        today = other.today;
        Observations = other.Observations;
        other.mean.CopyTo(mean, 0);
        other.covariance.CopyTo(covariance, 0);
        other.forms.CopyTo(forms, 0);
        other.methods.CopyTo(methods, 0);
        help = other.help;
        other.history.CopyTo(history, 0);
        other.meetings.CopyTo(meetings, 0);
        facts.Clear();
        foreach (var (key, fact) in other.facts) facts.Add(key, fact);
    }

    public int Observations { get; private set; }

    /// <summary>The last day on which something was noted.</summary>
    public DateOnly? LastDay => today;

    /// <summary>Takes in an observation; they must come in the order of their days.</summary>
    public void Observe(Observation seen)
    {
        if (seen.Day != today)
        {
            EndDay();
            (morning ??= new(fades)).Become(this);
        }
        ofToday.Add(seen);
        Imagine(seen);
    }

    /// <summary>
    /// A step depends on those before it; a day as a whole should not. When it is over it is gone through again, always in the
    /// same order, so that on any later day it does not matter in which order its notes came.
    /// </summary>
    private void EndDay()
    {
        if (ofToday.Count > 1)
        {
            Become(morning!);
            ofToday.Sort(InADay);
            foreach (var seen in ofToday) Imagine(seen);
        }
        ofToday.Clear();
    }

    /// <summary>By the largest numbers first, whenever the notes were made.</summary>
    private static readonly Comparer<Observation> InADay = Comparer<Observation>.Create((a, b) =>
        (b.Ask.Code, b.Seen.Right, b.Seen.Outcome).CompareTo((a.Ask.Code, a.Seen.Right, a.Seen.Outcome)));

    /// <summary>Takes in what is seen next, or might be: thinking ahead keeps no list of the day.</summary>
    internal void Imagine(Observation seen)
    {
        Begin(seen.Day);
        Observations++;
        if (seen.Ask.Scale != OutcomeScale.Nearness) Learn(seen);
        Span<int> bands = stackalloc int[4];
        foreach (int band in bands[..Feeding.Of(seen.Ask, bands)])
        {
            ref var past = ref history[band];
            Remember(ref past, seen);
            Meet(ref meetings[SkillOf[band]], seen.Day);
            if (!past.WasSteady && past.RightDays >= BandStanding.SteadyDays) past.WasSteady = Careful(BandAsks.Of(band), seen.Day) >= BandStanding.SteadyFrom;
        }
    }

    private void Learn(Observation seen)
    {
        long item = ItemKey(seen.Ask);
        var (fact, form) = (FactOf(item), forms[(int)seen.Ask.Form]);
        Span<int> parts = stackalloc int[MostParts];
        Span<double> weights = stackalloc double[MostParts];
        int count = PartsOf(seen.Ask, seen.Day, true, parts, weights);
        double middle = fact.Mean + form.Mean - Difficulty.Of(seen.Ask), variance = fact.Variance + form.Variance;
        along.AsSpan().Clear();
        for (int k = 0; k < count; k++)
        {
            middle += weights[k] * mean[parts[k]];
            Rows.AddScaled(along, covariance.AsSpan(parts[k] * Size, Size), weights[k]);
        }
        for (int k = 0; k < count; k++) variance += weights[k] * along[parts[k]];
        var before = new Gaussian(middle, variance);
        var after = OutcomeModel.After(seen.Seen, Constants.Floor(seen.Ask), HabitIn(seen.Ask), before);
        double shift = (after.Mean - before.Mean) / before.Variance, shrink = (before.Variance - after.Variance) / (before.Variance * before.Variance);
        Rows.AddScaled(mean, along, shift);
        for (int i = 0; i < Size; i++) Rows.AddScaled(covariance.AsSpan(i * Size, Size), along, -shrink * along[i]);
        // Whose numbers were not noted tells nothing of a fact.
        if (!seen.Ask.IsWithoutNumbers) facts[item] = Moved(fact);
        forms[(int)seen.Ask.Form] = Moved(form);
        Watch(seen, after.Mean);
        Practise(parts[..count], weights, OutcomeModel.RoughRight(before, Constants.Floor(seen.Ask)));

        Gaussian Moved(Gaussian g) => new(g.Mean + g.Variance * shift, g.Variance - g.Variance * g.Variance * shrink);
    }

    /// <summary>What is met is learned a little, most where it is right about half of the time.</summary>
    private void Practise(ReadOnlySpan<int> parts, ReadOnlySpan<double> weights, double right)
    {
        for (int k = 0; k < parts.Length; k++)
            if (parts[k] < Bands) mean[parts[k]] += Constants.Practice * weights[k] * 4 * right * (1 - right);
    }

    /// <summary>How she got there, beside what her ability leads to expect.</summary>
    private void Watch(Observation seen, double ability)
    {
        if (seen.Seen.Outcome is not { } outcome) return;
        var habit = HabitIn(seen.Ask);
        if (outcome < Outcome.CountedAll) help.See((outcome == Outcome.WithHelp ? 1 : 0) - OutcomeModel.HelpIsEnough(ability, habit));
        else if (seen.Ask.Scale == OutcomeScale.Countable) methods[StrandOf(seen.Ask)].See((int)outcome - (int)Outcome.CountedAll - OutcomeModel.ExpectedMethod(ability, habit));
    }

    private Habit HabitIn(Ask ask) => new(methods[StrandOf(ask)].By, help.By);

    private static int StrandOf(Ask ask)
    {
        Span<int> bands = stackalloc int[4];
        Feeding.Of(ask, bands);
        return (int)Feeding.Bands[bands[0]].Skill.Strand;
    }

    /// <summary>The ability for an ask on a day.</summary>
    /// <param name="now">With what the day itself has shown so far, where it is today; else as on any day, good or bad.</param>
    public Gaussian Ability(Ask ask, DateOnly day, bool now = false)
    {
        bool today = now && day == this.today;
        Span<int> parts = stackalloc int[MostParts];
        Span<double> weights = stackalloc double[MostParts];
        int count = PartsOf(ask, day, today, parts, weights);
        var (fact, form) = (FactOf(ItemKey(ask)), forms[(int)ask.Form]);
        double middle = fact.Mean + form.Mean - Difficulty.Of(ask), variance = fact.Variance + form.Variance + (today ? 0 : Constants.DaySd * Constants.DaySd);
        double drift = Drift(day);
        for (int i = 0; i < count; i++)
        {
            middle += weights[i] * mean[parts[i]];
            for (int j = 0; j < count; j++) variance += weights[i] * weights[j] * (covariance[parts[i] * Size + parts[j]] + drift * FirstCovariance[parts[i] * Size + parts[j]]);
        }
        return new(middle, variance);
    }

    /// <summary>
    /// The covariances of what groups of asks share, each group taken together, row by row; what each ask has of its own
    /// adds its share to the group's variance.
    /// </summary>
    internal void Joint(ReadOnlySpan<IReadOnlyList<Ask>> groups, DateOnly day, Span<double> into)
    {
        int n = groups.Length;
        Span<double> parts = stackalloc double[n * Size];
        double drift = Drift(day);
        for (int g = 0; g < n; g++) MeanParts(groups[g], day, parts.Slice(g * Size, Size));
        for (int g = 0; g < n; g++)
        {
            for (int h = 0; h <= g; h++)
            {
                double sum = 0;
                var other = parts.Slice(h * Size, Size);
                for (int i = 0; i < Size; i++)
                {
                    double weight = parts[g * Size + i];
                    if (weight == 0) continue;
                    sum += weight * Rows.Dot(covariance.AsSpan(i * Size, Size), other);
                    if (drift > 0) sum += weight * drift * Rows.Dot(FirstCovariance.AsSpan(i * Size, Size), other);
                }
                into[g * n + h] = into[h * n + g] = sum;
            }
            double own = 0;
            foreach (var ask in groups[g]) own += FactOf(ItemKey(ask)).Variance;
            into[g * n + g] += own / (groups[g].Count * groups[g].Count);
        }
    }

    /// <summary>The variance of what some asks share.</summary>
    private double Shared(IReadOnlyList<Ask> asks, DateOnly day)
    {
        Span<double> variance = stackalloc double[1];
        Joint([asks], day, variance);
        return Math.Max(1e-9, variance[0]);
    }

    private void MeanParts(IReadOnlyList<Ask> asks, DateOnly day, Span<double> into)
    {
        Span<int> parts = stackalloc int[MostParts];
        Span<double> weights = stackalloc double[MostParts];
        into.Clear();
        foreach (var ask in asks)
            for (int i = PartsOf(ask, day, false, parts, weights) - 1; i >= 0; i--) into[parts[i]] += weights[i] / asks.Count;
    }

    /// <summary>
    /// How likely it is that, of these asks together, a share between two bounds would go right: what they have in common is
    /// uncertain, as is what the model does not know of asks of one kind; what each has of its own is averaged over.
    /// </summary>
    public double ChanceOfShare(IReadOnlyList<Ask> asks, double low, double high, DateOnly day)
    {
        double sd = Math.Sqrt(Shared(asks, day) + Constants.MisfitSd * Constants.MisfitSd * Alike(asks));
        return OutcomeModel.Phi(Needs(asks, high, day) / sd) - OutcomeModel.Phi(Needs(asks, low, day) / sd);
    }

    /// <summary>How likely two of them, drawn with putting back, are of one kind, form and band: 1 where all are alike.</summary>
    private static double Alike(IReadOnlyList<Ask> asks)
    {
        Span<int> bands = stackalloc int[4];
        Span<int> kinds = stackalloc int[asks.Count];
        int alike = 0;
        for (int i = 0; i < asks.Count; i++)
        {
            Feeding.Of(asks[i], bands);
            kinds[i] = ((int)asks[i].Kind << 8 | (int)asks[i].Form) << 8 | bands[0];
            for (int other = 0; other < i; other++)
                if (kinds[other] == kinds[i]) alike += 2;
        }
        return (alike + asks.Count) / (double)(asks.Count * asks.Count);
    }

    /// <summary>How far above what is believed of some asks she must stand for a share of them to be right.</summary>
    internal double Needs(IReadOnlyList<Ask> asks, double share, DateOnly day)
    {
        Span<Gaussian> abilities = stackalloc Gaussian[asks.Count];
        for (int i = 0; i < asks.Count; i++) abilities[i] = new(Ability(asks[i], day).Mean, OwnVariance(asks[i]));
        double low = -12, high = 12;
        for (int step = 0; step < 14; step++)
        {
            double middle = (low + high) / 2, right = 0;
            for (int i = 0; i < asks.Count; i++) right += OutcomeModel.RoughRight(new(abilities[i].Mean + middle, abilities[i].Variance), Constants.Floor(asks[i])) / asks.Count;
            if (right < share) low = middle;
            else high = middle;
        }
        return (low + high) / 2;
    }

    /// <summary>The variance of what an ask does not share with its band: its fact, its form, and the day.</summary>
    private double OwnVariance(Ask ask) => FactOf(ItemKey(ask)).Variance + forms[(int)ask.Form].Variance + Constants.DaySd * Constants.DaySd;

    double IBeliefs.Right(Ask ask, DateOnly day) => Right(ask, day);

    void IBeliefs.Chances(Ask ask, DateOnly day, Span<double> into) => Chances(ask, day, into);

    /// <summary>The chance of each of the six outcomes on a day; see <see cref="Ability"/> for <paramref name="now"/>.</summary>
    public void Chances(Ask ask, DateOnly day, Span<double> into, bool now = false) =>
        OutcomeModel.Chances(Ability(ask, day, now), Constants.Floor(ask), ask.Scale != OutcomeScale.Countable, HabitIn(ask), into);

    /// <summary>The chance of being right without help on a day; see <see cref="Ability"/> for <paramref name="now"/>.</summary>
    public double Right(Ask ask, DateOnly day, bool now = false) => OutcomeModel.MeanRight(Ability(ask, day, now), Constants.Floor(ask));

    /// <summary>The chance of being right that she reaches with nine chances in ten: a careful figure.</summary>
    public double RightAtLeast(Ask ask, DateOnly day)
    {
        var ability = Ability(ask, day);
        return OutcomeModel.Right(ability.Mean - 1.2816 * Math.Sqrt(Math.Max(0, ability.Variance - Constants.DaySd * Constants.DaySd)), Constants.Floor(ask));
    }

    /// <summary>The share of some asks that would be right with nine chances in ten: what they have in common is taken low.</summary>
    public double Careful(IReadOnlyList<Ask> asks, DateOnly day)
    {
        double low = 1.2816 * Math.Sqrt(Shared(asks, day)), sum = 0;
        foreach (var ask in asks) sum += OutcomeModel.RoughRight(new(Ability(ask, day).Mean - low, OwnVariance(ask)), Constants.Floor(ask));
        return sum / asks.Count;
    }

    /// <summary>How often something of a skill band was asked.</summary>
    public int Seen(int band) => history[band].Seen;

    /// <summary>How a skill band stands on a day.</summary>
    public BandStanding Standing(int band, DateOnly day)
    {
        var past = history[band];
        return new(band, BandAsks.Of(band).Average(a => Right(a, day)), Careful(BandAsks.Of(band), day), past.Seen, past.Right, past.RightDays,
            past.WatchedRight == 0 ? null : (double)past.FluentSeen / past.WatchedRight, past.LastMet, past.WasSteady, HigherMet(band), past.Forms, past.Lately, past.Days);
    }

    private bool HigherMet(int band)
    {
        for (int higher = band + 1; higher < Bands && SkillOf[higher] == SkillOf[band]; higher++)
            if (history[higher].Seen > 0) return true;
        return false;
    }

    /// <summary>Fading and growing uncertainty are applied once, at a day's start.</summary>
    private void Begin(DateOnly day)
    {
        if (today == day) return;
        Rows.AddScaled(covariance, FirstCovariance, Drift(day));
        for (int i = 0; i < Size; i++) covariance[i * Size + DayIndex] = covariance[DayIndex * Size + i] = 0;
        covariance[DayIndex * Size + DayIndex] = Constants.DaySd * Constants.DaySd;
        mean[DayIndex] = 0;
        today = day;
    }

    /// <summary>The share of the first variance that has come back since the last day.</summary>
    private double Drift(DateOnly day) => today is { } last && day > last ? Constants.DriftPerDay * (day.DayNumber - last.DayNumber) : 0;

    private static void Remember(ref BandHistory past, Observation seen)
    {
        if (past.LastMet != seen.Day) past.Days++;
        past.LastMet = seen.Day;
        past.Seen++;
        past.Lately = past.Lately << 1 | (seen.Seen.Right ? 1u : 0);
        if (!seen.Seen.Right) return;
        past.Right++;
        if (seen.Ask.Support != Support.None) return;
        if (past.LastRight != seen.Day) past.RightDays++;
        past.LastRight = seen.Day;
        past.Forms |= 1u << (int)seen.Ask.Form;
        if (seen.Seen.Outcome is not { } outcome) return;
        past.WatchedRight++;
        if (outcome >= Outcome.Structure) past.FluentSeen++;
    }

    private static void Meet(ref Meeting skill, DateOnly day)
    {
        if (skill.Last == day) return;
        if (skill.Last is { } last && day.DayNumber - last.DayNumber >= Constants.ReturnGap) skill.Returns++;
        (skill.Before, skill.Last) = (skill.Last, day);
    }

    /// <summary>How long a skill has gone unmet, on the scale on which it fades: by the days since it was last met before this one.</summary>
    private double Gap(int band, DateOnly day)
    {
        ref readonly var skill = ref meetings[SkillOf[band]];
        var met = skill.Last == day ? skill.Before : skill.Last;
        if (met is not { } last || day <= last || !fades) return 0;
        double stability = Constants.Stability + Constants.StabilityPerReturn * skill.Returns;
        return Math.Log(1 + (day.DayNumber - last.DayNumber) / stability);
    }

    /// <summary>The components that make up an ask's ability, with their weights; returns how many.</summary>
    private int PartsOf(Ask ask, DateOnly day, bool withDay, Span<int> parts, Span<double> weights)
    {
        int bands = Feeding.Of(ask, parts), count = bands;
        double faded = 0;
        for (int i = 0; i < bands; i++)
        {
            weights[i] = bands == 1 ? 1 : i == 0 ? Constants.LeadWeight : (1 - Constants.LeadWeight) / (bands - 1);
            faded += weights[i] * Gap(parts[i], day);
        }
        if (faded > 0) (parts[count], weights[count++]) = (FadingIndex, -faded);
        if (withDay) (parts[count], weights[count++]) = (DayIndex, 1);
        return count;
    }

    private Gaussian FactOf(long key) => facts.TryGetValue(key, out var fact) ? fact : new(0, Constants.FactSd * Constants.FactSd);

    /// <summary>What deviates on its own: the fact, or else the very ask, with whatever support.</summary>
    private static long ItemKey(Ask ask) => FactKey(ask) is var fact and not 0 ? fact : ask.With(Support.None).Code;

    /// <summary>The fact an ask is about: 3 + 4, 4 + 3, and 3 and what make 7 are one. 0 where there is none.</summary>
    public static long FactKey(Ask ask)
    {
        if (ask.IsWithoutNumbers) return 0;
        // Of three numbers and four, each counts: 4 × 3 × 2 is not 4 × 3 × 9.
        if (ask.Kind == AskKind.Times && ask.Count > 2)
        {
            long product = 1L << 41;
            foreach (int factor in Enumerable.Range(0, ask.Count).Select(i => ask[i]).Order()) product = product << 10 | (long)factor;
            return product;
        }
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
        for (int i = 0; i < Bands; i++)
            for (int j = 0; j < Bands; j++) matrix[i * Size + j] = Constants.PriorCovariance(i, j);
        matrix[FadingIndex * Size + FadingIndex] = Constants.FadeSd * Constants.FadeSd;
        return matrix;
    }
}
