using Allowance.Core.Asks;
using Allowance.Core.Forms;
using Allowance.Core.Numbers;

namespace Allowance.Core.Learner;

/// <summary>What made-up children are like; the defaults are the usual ones, the others shift the bench of the estimate.</summary>
/// <param name="Pace">Growth, as a multiple of the usual.</param>
/// <param name="Slip">The chance of a slip where the answer is known.</param>
/// <param name="Forgetting">Loss over gaps, as a multiple of the usual.</param>
/// <param name="TableError">How far, in years, the true ages of skills lie from the published table (standard deviation).</param>
/// <param name="Spread">How differently children stand, as a multiple of the usual.</param>
public sealed record Nature(double Pace = 1, double Slip = .04, double Forgetting = 1, double TableError = .25, double Spread = 1);

/// <summary>
/// A made-up child who plays: she makes the demonstration log, stands in for a player in tests, and is what the estimate is
/// measured against. Her inner workings differ in form from the estimate on purpose: everything is counted in years of
/// development; each ask has its own threshold, which she passes or not; facts are known all or not at all; amounts are
/// seen <em>or</em> counted; a preferred method changes in jumps; there are good and bad days, and gaps make her forget.
/// </summary>
public sealed class SimulatedChild : IMadeUpChild
{
    // In years of development.
    private const double TalentSd = .7, StrandSd = .4, SkillSd = .35, ThresholdSd = .55, TasteSd = .12, MoodSd = .3, Doubt = .75;
    private const double PractiseGain = .012, PractiseSpill = .25, LearnFact = .10, WordsLater = 1, RustSize = .12, RustKept = .3, JumpChance = .008, Habit = .2;

    private static readonly double[] MethodAges = [4.5, 5.7, 6.9];

    private readonly Nature nature;
    private readonly ulong nameOfHer;
    private readonly Dictionary<string, double> development = [];
    private readonly Dictionary<string, double> tableError = [];

    /// <summary>What gaps took away, in years of development; most of it comes back on the first day of meeting the skill again.</summary>
    private readonly Dictionary<string, double> rust = [];
    private readonly Dictionary<string, DateOnly> lastPractised = [];
    private readonly Dictionary<long, bool> known = [];
    private readonly Dictionary<Strand, int> method = [];
    private readonly double pace;
    private Rng rng;
    private double mood;
    private DateOnly? today;

    /// <param name="seed">The same seed and age give the same child.</param>
    /// <param name="age">In years, on the first day.</param>
    /// <param name="nature">What she is like; usual where null.</param>
    /// <param name="world">Children of one world share how far the published ages are off.</param>
    public SimulatedChild(long seed, double age, Nature? nature = null, long world = 0)
    {
        this.nature = nature ?? new();
        rng = Rng.ForGame(seed, 77);
        nameOfHer = rng.Next();
        pace = this.nature.Pace * Math.Exp(.4 * rng.Normal());
        double talent = TalentSd * rng.Normal();
        var strands = Enum.GetValues<Strand>().ToDictionary(s => s, _ => StrandSd * rng.Normal());
        for (int i = 0; i < Skills.All.Count; i++)
        {
            var skill = Skills.All[i];
            var errors = Rng.ForGame(world, 1000 + i);
            tableError[skill.Id] = this.nature.TableError * errors.Normal();
            rust[skill.Id] = 0;
            development[skill.Id] = age + this.nature.Spread * (talent + strands[skill.Strand] + SkillSd * rng.Normal());
        }
        foreach (var strand in strands.Keys)
            method[strand] = MethodAges.Count(a => age + this.nature.Spread * (talent + strands[strand]) > a);
    }

    /// <summary>The chance that she is right without help today, her mood included.</summary>
    public double Right(Ask ask) => Right(ask, mood, Doubt);

    /// <summary>The chance that she is right without help, over her good and bad days.</summary>
    public double RightOverDays(Ask ask) => Right(ask, 0, Math.Sqrt(Doubt * Doubt + MoodSd * MoodSd));

    private double Right(Ask ask, double mood, double doubt)
    {
        double slip = nature.Slip;
        long fact = ChildModel.FactKey(ask);
        // What is known by heart helps nobody who cannot read the question.
        if (fact != 0 && !ask.HasWrittenWords && Knows(ask, fact)) return 1 - slip;
        double passes;
        if (ask.Kind == AskKind.Say && ask.Form is not (Form.Numeral or Form.Word))
        {
            // An amount is seen, or else counted.
            double unseen = 1 - Passes(ask, Seeing(ask), mood, doubt), uncounted = 1 - .92 * Passes(ask, "howmany", mood, doubt);
            passes = 1 - unseen * uncounted;
        }
        else passes = Passes(ask, Lead(ask), mood, doubt);
        double guess = ask.Kind == AskKind.More ? .4 : ask.Kind == AskKind.Match ? .1 : .02;
        return guess + (1 - guess - slip) * passes;
    }

    /// <summary>Answers an ask on a day, and learns from it.</summary>
    public Outcome Answer(Ask ask, DateOnly day)
    {
        Begin(day);
        bool right = rng.Unit() < Right(ask);
        long key = ChildModel.FactKey(ask);
        bool knew = key != 0 && !ask.HasWrittenWords && Knows(ask, key);
        var how = right ? Method(ask, knew) : rng.Unit() < .6 ? Outcome.WithHelp : Outcome.NotYet;
        Practise(ask, key, right, day);
        return how;
    }

    private Outcome Method(Ask ask, bool knew)
    {
        if (ask.Scale != OutcomeScale.Countable || knew) return Outcome.SawIt;
        int rung = method[Skills.Find(Lead(ask)).Strand];
        if (ask.Kind == AskKind.Say && ask.Form is not (Form.Numeral or Form.Word)) rung = rng.Unit() < Passes(ask, Seeing(ask), mood, Doubt) ? 3 : 0;
        else if (rng.Unit() < Habit) rung += rng.Below(2) == 0 ? -1 : 1;
        if (ask.Largest <= 4) rung++;
        return (Outcome)(2 + Math.Clamp(rung, 0, 3));
    }

    private void Practise(Ask ask, long key, bool right, DateOnly day)
    {
        string skill = Lead(ask);
        double ahead = development[skill] - Needs(ask, skill);
        // Most is learned near the edge.
        double gain = PractiseGain * pace * Math.Exp(-ahead * ahead);
        var strand = Skills.Find(skill).Strand;
        foreach (var other in Skills.All)
            if (other.Strand == strand) development[other.Id] += other.Id == skill ? gain : gain * PractiseSpill;
        lastPractised[skill] = day;
        if (key != 0 && right && ahead > -.5 && rng.Unit() < LearnFact * pace) known[key] = true;
        if (rng.Unit() < JumpChance * pace && method[strand] < 3) method[strand]++;
    }

    private void Begin(DateOnly day)
    {
        if (today == day) return;
        if (today is { } last && day > last)
        {
            int days = day.DayNumber - last.DayNumber;
            foreach (var skill in Skills.All)
            {
                development[skill.Id] += pace * days / 365.25;
                if (!lastPractised.TryGetValue(skill.Id, out var met)) continue;
                int gap = day.DayNumber - met.DayNumber;
                double left = rust[skill.Id] * (met == last ? RustKept : 1);
                rust[skill.Id] = left + nature.Forgetting * RustSize * (Rusted(gap) - Rusted(gap - days));
            }
            if (days > 4)
                foreach (long fact in known.Where(k => k.Value).Select(k => k.Key).Order().ToList())
                    if (rng.Unit() > Math.Exp(-.006 * nature.Forgetting * days)) known[fact] = false;
        }
        mood = MoodSd * rng.Normal();
        today = day;
    }

    /// <summary>Nothing is lost in four days.</summary>
    private static double Rusted(int days) => Math.Log(1 + Math.Max(0, days - 4) / 10.0);

    private bool Knows(Ask ask, long key)
    {
        if (known.TryGetValue(key, out bool knows)) return knows;
        // Not practised yet: what lies well behind her may be known by heart already.
        var draw = new Rng(nameOfHer ^ (ulong)key * 0x9E3779B97F4A7C15UL);
        return draw.Normal() < (development[Lead(ask)] - Needs(ask, Lead(ask)) - 1.4) / .6;
    }

    private double Passes(Ask ask, string skill, double mood, double doubt) => OutcomeModel.Phi((development[skill] - rust[skill] + mood - Needs(ask, skill)) / doubt);

    /// <summary>The development at which she passes this ask half of the time: its own threshold.</summary>
    private double Needs(Ask ask, string skill)
    {
        double age = AgeAt(skill, Math.Log2(Math.Max(1, EffectiveSize(ask)))) + tableError[skill];
        var jitter = new Rng(nameOfHer ^ (ulong)(ChildModel.FactKey(ask) is var key and not 0 ? key : ask.With(Support.None).Code) * 0xD1342543DE82EF95UL);
        var taste = new Rng(nameOfHer + (ulong)ask.Form * 0x632BE59BD9B4E019UL);
        double support = ask.Support == Support.None ? 0 : .4;
        if (ask.HasWrittenWords) age += WordsLater;
        return age + ThresholdSd * jitter.Normal() + TasteSd * taste.Normal() - support;
    }

    /// <summary>How large an ask feels: its numbers, stretched by what makes it harder.</summary>
    private static double EffectiveSize(Ask ask)
    {
        double a = ask[0], b = ask.Count > 1 ? ask[1] : 0;
        switch (ask.Kind)
        {
            case AskKind.Part or AskKind.Gone or AskKind.Gap or AskKind.Join when ask.Count == 2:
                double whole = ask.Kind == AskKind.Join ? a + b : a, small = ask.Kind == AskKind.Join ? Math.Min(a, b) : Math.Min(b, a - b);
                double size = whole * (.65 + .6 * small / Math.Max(1, whole));
                if (small == 0) size = whole * .8;
                if (2 * small == whole) size /= 1.35;
                bool crosses = ask.Kind == AskKind.Join ? a < 10 && b < 10 && whole > 10 : a > 10 && b < 10 && a - b < 10;
                return crosses ? size * 1.3 : size;
            case AskKind.Join: return .7 * ask.Total * Math.Pow(1.3, ask.Count - 2);
            case AskKind.Say when ask.Form is Form.Numeral or Form.Word: return a is > 10 and < 20 ? .85 * a * 1.12 : .85 * a;
            case AskKind.Say or AskKind.Match: return .85 * a * (ask.Form.Facts().Structure is Structure.None ? 1.1 : 1 / 1.15);
            case AskKind.More: return Math.Max(a, b) * (a == b ? .95 : .55 + .45 * Math.Min(a, b) / Math.Max(a, b));
            case AskKind.On: return (a + b) * (.65 + .08 * b) * ((int)a / 10 != (int)(a + b) / 10 ? 1.15 : 1);
            case AskKind.Back: return a * (.65 + .08 * b) * ((int)a / 10 != (int)(a - b) / 10 ? 1.15 : 1);
            case AskKind.Double: return 2 * a * .8;
            case AskKind.Words or AskKind.Place or AskKind.Order: return .8 * ask.Largest;
            default: return .8 * ask.Largest;
        }
    }

    /// <summary>The usual age for a size in octaves: straight between the ends of the bands, and beyond them.</summary>
    private static double AgeAt(string skill, double octaves)
    {
        var bands = Skills.Find(skill).Bands;
        double[] ages = Constants.UsualAges[skill];
        int last = bands.Count - 1;
        double At(int i) => Math.Log2(.8 * bands[i]);
        if (last == 0 || octaves <= At(0)) return ages[0] + .9 * (octaves - At(0));
        for (int i = 1; i <= last; i++)
            if (octaves <= At(i)) return ages[i - 1] + (ages[i] - ages[i - 1]) * (octaves - At(i - 1)) / (At(i) - At(i - 1));
        return ages[last] + .9 * (octaves - At(last));
    }

    private static string Seeing(Ask ask) => ask[0] <= 5 ? "glance" : ask[0] <= 10 ? "fives" : "tens";

    private static string Lead(Ask ask)
    {
        Span<int> bands = stackalloc int[4];
        Feeding.Of(ask, bands);
        return Feeding.Bands[bands[0]].Skill.Id;
    }
}
