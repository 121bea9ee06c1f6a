using Allowance.Core.Asks;
using Allowance.Core.Forms;
using Allowance.Core.Numbers;

namespace Allowance.Core.Learner;

/// <summary>
/// A made-up child of another make, so that what fits one kind of made-up children can be seen to fit others. Nothing in her is a
/// threshold: what she meets falls into small steps (a skill, a size by equal distances, what makes it special), each of which is not
/// known, shaky or firm, and climbs by chance when it is practised, sooner where the step below is firm. Methods compete by strengths that
/// grow with use; slips come with bad days; gaps loosen single steps. Guessing, slips and difficulty differ from those of
/// <see cref="SimulatedChild"/>.
/// </summary>
public sealed class SteppingChild : IMadeUpChild
{
    private enum Step : byte { Unknown, Shaky, Firm }

    // Mental age is age × a factor; a step is known by its usual age, more or less sharply.
    private const double GeneralSd = .14, StrandSd = .08, SkillSd = .05, Width = .5, FirmShare = .75, FirmLacks = .2, ShakyFrom = .4, ShakyRipe = .4, UnknownRipe = .6, Alike = .6;
    private const double BadDays = .3, BadDaySlips = 2.2, BadDayLoss = .1;
    private const double Rise = .07, RiseAlone = .02, Firms = .13, FirmsWrong = .04, Spills = .012, Loosens = .007, Lapses = .003, RestDays = 3;

    private readonly Nature nature;
    private readonly ulong nameOfHer;
    private readonly double age, pace, slip;
    private readonly Dictionary<string, double> factor = [];
    private readonly Dictionary<string, double> tableError = [];
    private readonly Dictionary<long, Step> steps = [];
    private readonly Dictionary<long, DateOnly> met = [];
    private readonly Dictionary<Strand, double[]> strengths = [];
    private Rng rng;
    private bool isBadDay;
    private DateOnly? today;

    /// <inheritdoc cref="SimulatedChild(long, double, Nature, long)"/>
    public SteppingChild(long seed, double age, Nature? nature = null, long world = 0)
    {
        this.nature = nature ?? new();
        this.age = age;
        rng = Rng.ForGame(seed, 177);
        nameOfHer = rng.Next();
        pace = this.nature.Pace * Math.Exp(.5 * rng.Normal());
        slip = this.nature.Slip * (.4 + 1.2 * rng.Unit());
        double general = GeneralSd * rng.Normal();
        var strands = Enum.GetValues<Strand>().ToDictionary(s => s, _ => StrandSd * rng.Normal());
        for (int i = 0; i < Skills.All.Count; i++)
        {
            var skill = Skills.All[i];
            factor[skill.Id] = Math.Exp(this.nature.Spread * (general + strands[skill.Strand] + SkillSd * rng.Normal()));
            var errors = Rng.ForGame(world, 3000 + i);
            tableError[skill.Id] = this.nature.TableError * errors.Normal();
        }
        foreach (var (strand, own) in strands)
        {
            double at = (age * Math.Exp(this.nature.Spread * (general + own)) - 4) / 1.2;
            strengths[strand] = [.. Enumerable.Range(0, 4).Select(m => Math.Exp(-(m - at) * (m - at) / 2) + .05)];
        }
    }

    public double RightOverDays(Ask ask) => (1 - BadDays) * Right(ask, false) + BadDays * Right(ask, true);

    private double Right(Ask ask, bool bad)
    {
        double guess = Guess(ask), slips = slip * (bad ? BadDaySlips : 1);
        double knows = Knows(ask);
        if (ask.Support != Support.None) knows += .45 * (1 - knows);
        if (bad) knows *= 1 - BadDayLoss;
        return guess + (1 - guess) * knows * (1 - slips);
    }

    private static double Guess(Ask ask) => ask.Kind switch { AskKind.More => .5, AskKind.Match => .2, AskKind.Say when IsSign(ask.Form) => .04, AskKind.Place => .1, _ => .03 };

    /// <summary>An amount is known by its picture, or else counted.</summary>
    private double Knows(Ask ask)
    {
        string skill = Lead(ask);
        double own = At(Key(ask, skill), ask, skill);
        if (ask.Kind != AskKind.Say || IsSign(ask.Form)) return own;
        return Math.Max(own, .9 * At(Key(ask, "howmany"), ask, "howmany"));
    }

    private double At(long key, Ask ask, string skill)
    {
        double ripe = Ripe(ask, skill, 0);
        return StepOf(key, ask, skill) switch { Step.Firm => 1 - FirmLacks * (1 - ripe), Step.Shaky => ShakyFrom + ShakyRipe * ripe, _ => UnknownRipe * ripe };
    }

    /// <summary>How far her age has brought her towards a step, between 0 and 1.</summary>
    private double Ripe(Ask ask, string skill, int lower) => 1 / (1 + Math.Exp(-(age * factor[skill] - UsualAge(ask, skill, lower)) / Width));

    private Step StepOf(long key, Ask ask, string skill, int lower = 0)
    {
        if (steps.TryGetValue(key, out var step)) return step;
        // What was not practised yet stands where her age has brought it: the steps of a row much alike, each a little its own.
        var row = new Rng(nameOfHer ^ (ulong)(key >> 12) * 0xA24BAED4963EE407UL);
        var own = new Rng(nameOfHer + (ulong)key * 0x9FB21C651E98DF25UL);
        double u = OutcomeModel.Phi(Alike * row.Normal() + Math.Sqrt(1 - Alike * Alike) * own.Normal());
        double known = Ripe(ask, skill, lower);
        return u < FirmShare * known ? Step.Firm : u < known ? Step.Shaky : Step.Unknown;
    }

    public Outcome Answer(Ask ask, DateOnly day)
    {
        Begin(day);
        string skill = Lead(ask);
        long key = Key(ask, skill);
        bool right = rng.Unit() < Right(ask, isBadDay);
        var how = right ? Method(ask, StepOf(key, ask, skill)) : rng.Unit() < (StepOf(key, ask, skill) == Step.Unknown ? .45 : .75) ? Outcome.WithHelp : Outcome.NotYet;
        Practise(key, ask, skill, right);
        met[key] = day;
        return how;
    }

    private Outcome Method(Ask ask, Step step)
    {
        if (ask.Scale != OutcomeScale.Countable) return Outcome.SawIt;
        var own = strengths[Skills.Find(Lead(ask)).Strand];
        Span<double> weights = stackalloc double[4];
        double sum = 0;
        for (int m = 0; m < 4; m++) sum += weights[m] = Math.Pow(own[m], 1.5) * (m == 3 ? step == Step.Firm ? 2.5 : .3 : 1) * (m == 0 && ask.Largest > 12 ? .3 : 1);
        double u = rng.Unit() * sum;
        int chosen = 0;
        while (chosen < 3 && u > weights[chosen]) u -= weights[chosen++];
        own[chosen] += .015;
        if (chosen < 3) own[chosen + 1] += .012 * pace;
        return (Outcome)(2 + chosen);
    }

    private void Practise(long key, Ask ask, string skill, bool right)
    {
        var step = StepOf(key, ask, skill);
        bool stands = StepOf(Below(key), ask, skill, 1) == Step.Firm;
        double rises = step switch { Step.Unknown => (stands ? Rise : RiseAlone) * (right ? 1.4 : 1), Step.Shaky => right ? Firms : FirmsWrong, _ => 0 };
        steps[key] = rng.Unit() < rises * pace ? step + 1 : step;
        long above = key + 1;
        var next = StepOf(above, ask, skill, -1);
        if (next == Step.Unknown && steps[key] == Step.Firm && rng.Unit() < Spills * pace) steps[above] = Step.Shaky;
    }

    private void Begin(DateOnly day)
    {
        if (today == day) return;
        if (today is { } last && day > last)
        {
            int days = day.DayNumber - last.DayNumber;
            foreach (var (key, when) in met.OrderBy(m => m.Key).ToList())
            {
                if (day.DayNumber - when.DayNumber <= RestDays || !steps.TryGetValue(key, out var step) || step == Step.Unknown) continue;
                double hazard = nature.Forgetting * (step == Step.Firm ? Loosens : Lapses);
                if (rng.Unit() < 1 - Math.Exp(-hazard * days)) steps[key] = step - 1;
            }
        }
        isBadDay = rng.Unit() < BadDays;
        today = day;
    }

    private static long Below(long key) => key - 1;

    /// <summary>Steps of one skill and sort follow each other by size.</summary>
    private static long Key(Ask ask, string skill)
    {
        int index = Skills.All.ToList().FindIndex(s => s.Id == skill);
        return ((long)index << 24) + ((long)Sort(ask) << 12) + 64 + Rank(Size(ask));
    }

    /// <summary>What makes an ask another one at the same size.</summary>
    private static int Sort(Ask ask)
    {
        int form = IsSign(ask.Form) ? 0 : ask.Form.Facts().Structure == Structure.None ? 1 : 2;
        int special = ask.Count >= 2 && ask.Kind is AskKind.Join or AskKind.Part or AskKind.Gone or AskKind.Gap
            ? Numbers(ask) is var (a, b) && (a == 0 || b == 0) ? 1 : a == b ? 2 : a < 10 && b < 10 && a + b > 10 ? 3 : Math.Min(a, b) == 1 ? 4 : 0 : 0;
        return form * 40 + special * 8 + (ask.Count > 2 ? 1 : 0);
    }

    private static (int A, int B) Numbers(Ask ask) => ask.Kind == AskKind.Join ? (ask[0], ask[1]) : (ask[1], Math.Max(0, ask[0] - ask[1]));

    private static double Size(Ask ask) => ask.Kind switch
    {
        AskKind.Join => ask.Total,
        AskKind.More => Math.Max(ask[0], ask[1]) - .6 * Math.Abs(ask[0] - ask[1]),
        AskKind.On => ask[0] + 1.5 * ask[1],
        AskKind.Back => ask[0] + .5 * ask[1],
        AskKind.Double => 1.5 * ask[0],
        _ => ask.Largest,
    };

    /// <summary>Equal distances: ones to ten, then fives, then twenties.</summary>
    private static int Rank(double size) => size <= 10 ? (int)size : size <= 30 ? 10 + (int)((size - 10) / 4) : 15 + (int)Math.Min(40, (size - 30) / 15);

    /// <summary>The usual age of a step: along the bands by equal distances, with what makes it easier or harder.</summary>
    private double UsualAge(Ask ask, string skill, int lower)
    {
        var bands = Skills.Find(skill).Bands;
        double[] ages = Constants.UsualAges[skill];
        double size = Math.Max(1, Size(ask) - lower * (Size(ask) <= 10 ? 1 : Size(ask) <= 30 ? 4 : 15));
        int i = 0;
        while (i < bands.Count - 1 && size > bands[i]) i++;
        double low = i == 0 ? 0 : bands[i - 1], from = i == 0 ? ages[0] - .9 : ages[i - 1] + .1, to = ages[i] + .1;
        double age = from + (to - from) * Math.Min(1.3, (size - low) / (bands[i] - low)) + tableError[skill];
        if (ask.Kind == AskKind.Say && !IsSign(ask.Form)) age += ask.Form.Facts().Structure == Structure.None ? .25 : -.15;
        if (ask.HasWrittenWords) age += 1;
        if (ask.Count > 2) age += .5;
        if (ask.Count == 2 && ask.Kind is AskKind.Join or AskKind.Part or AskKind.Gone)
        {
            var (a, b) = Numbers(ask);
            if (a == b) age -= .5;
            if (Math.Min(a, b) == 1) age -= .35;
            if (a < 10 && b < 10 && a + b > 10) age += .45;
        }
        return age;
    }

    private static bool IsSign(Form form) => form is Form.Numeral or Form.Word;

    private static string Lead(Ask ask)
    {
        Span<int> bands = stackalloc int[4];
        Feeding.Of(ask, bands);
        return Feeding.Bands[bands[0]].Skill.Id;
    }
}
