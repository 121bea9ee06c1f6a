using Allowance.Core.Asks;

namespace Allowance.Core.Learner;

/// <summary>
/// The constants of the estimate, in one place, each with its reason. Abilities and difficulties are in logits: at equal
/// ability and difficulty an ask without floor and lapse is right half of the time; one logit more makes that 73 %.
/// </summary>
public static class Constants
{
    // How differently children, and the parts of one child, may stand. Tuned on made-up children of one seed of each of two
    // makes and reported on others (./allowance bench learner, and with --world other).
    public const double GeneralSd = 1.2, StrandSd = .7, SkillSd = .42, BandSd = .75, FactSd = 1.2, FormSd = .05;

    /// <summary>A day may be good or bad as a whole.</summary>
    public const double DaySd = .5;

    /// <summary>
    /// What is believed of one kind of ask, in one form and band, may be so far off whatever was noted: without it, sittings that were foretold
    /// to go well nine times in ten and more did so eight and a half times (<c>bench advice</c>, seed 21).
    /// </summary>
    public const double MisfitSd = .63;

    /// <summary>
    /// A child is never made quite like the estimate: one level in twenty lies elsewhere whatever was seen. Without it, made-up children of the
    /// other make stood where it was said nine points in a hundred less often than was said.
    /// </summary>
    public const double Unforeseen = .05;

    /// <summary>Neighbouring bands of a skill, one the double of the other, share this much of what is special to them.</summary>
    public const double BandCorrelation = .46;

    /// <summary>Slips of what is known.</summary>
    public const double Lapse = .046;

    /// <summary>How fast ability rises with age, in logits a year; the table of usual ages is below. A year is about a doubling of her numbers.</summary>
    public const double PerYear = 2.1;

    /// <summary>Ability at the usual age, for an ask of the usual size of its band.</summary>
    public const double AtUsualAge = -.1;

    /// <summary>What makes an ask harder than a usual one of its band: twice the size; crossing ten; a zero; each addend after the second.</summary>
    public const double PerDoubling = 1.7, CrossingTen = .55, Zero = 1.35, FurtherAddend = 1;

    /// <summary>What makes it easier: doubles; something to count with.</summary>
    public const double Double = -.96, Support = -1.08;

    /// <summary>A written word is read about a year after its numeral; how children differ in that is soon seen.</summary>
    public const double WrittenWord = 2, WrittenWordSd = 1.2;

    /// <summary>An ask with one single thing missing is counted small by its size already; this takes a little of that back.</summary>
    public const double ByOne = .25;

    /// <summary>
    /// The ease of a form is that of seeing an amount in it; where the amount is only worked with, this share of it is left.
    /// </summary>
    public const double EaseElsewhere = .1;

    /// <summary>How many a picture shows can be counted where it is not seen.</summary>
    public const double OrCounted = 1.8;

    /// <summary>
    /// The method counts, but less than right or wrong: children choose methods by habit, and at full weight it misleads.
    /// Its likelihood is raised to this power.
    /// </summary>
    public const double MethodPower = .15;

    /// <summary>Given right: from these abilities on, counting on, structure and seeing it become the likelier method.</summary>
    public static readonly double[] MethodFrom = [1.0, 2.4, 3.6];

    /// <summary>What one meeting of an ask adds to the ability in its bands, in logits, where she is right half of the time.</summary>
    public const double Practice = .02;

    /// <summary>
    /// Children have a way of their own in a strand, and of taking help, whatever their ability: a habit moves by so much of each
    /// surprise, more while little was seen, and never further than so many logits.
    /// </summary>
    public const double HabitStep = .08, HabitSlow = 2.5, MostHabit = 4;

    /// <summary>Given not right: from this ability on, help is enough more often than not.</summary>
    public const double HelpFrom = -2;

    /// <summary>
    /// A skill that was not met for d days has faded by size · ln(1 + d / stability) logits. How large that is for a child is
    /// learned: the usual size, and how much children differ. Each return after a gap makes it last longer.
    /// </summary>
    public const double Stability = 20, StabilityPerReturn = 4, FadeSize = .53, FadeSd = .6;

    /// <summary>A gap after which meeting it again makes it last longer, in days.</summary>
    public const double ReturnGap = 3;

    /// <summary>What is believed grows less sure with time: this share of the first variance a day.</summary>
    public const double DriftPerDay = .004;

    /// <summary>Of an ask that feeds several bands, the leading one carries this share.</summary>
    public const double LeadWeight = .85;

    /// <summary>The chance of being right by guessing.</summary>
    public static double Floor(Ask ask) => ask.Kind switch
    {
        AskKind.More => .40,
        AskKind.Say when ask.Form is Forms.Form.Numeral or Forms.Form.Word => .08,
        AskKind.Match => .06,
        _ => .02,
    };

    /// <summary>
    /// The age, in years, at which a band usually opens, about half of its asks going right: a rough guide for a child nobody
    /// has seen play. A child may be two years off it; a handful of notes outweighs it.
    /// </summary>
    public static readonly IReadOnlyDictionary<string, double[]> UsualAges = new Dictionary<string, double[]>
    {
        ["words"] = [3.3, 4.0, 5.0, 5.6, 6.3], ["touch"] = [3.5, 4.3, 5.3], ["howmany"] = [3.8, 4.6, 5.5],
        ["takeout"] = [3.5, 4.1, 4.9, 5.8], ["hold"] = [3.9, 4.6, 5.4], ["unmoved"] = [4.6, 5.6], ["wordsback"] = [4.5, 5.3, 6.3],
        ["glance"] = [3.3, 4.0, 4.6], ["fives"] = [5.5], ["tens"] = [6.3],
        ["numeral"] = [4.0, 4.7, 5.6, 6.1, 6.8], ["match"] = [4.1, 5.0, 5.9], ["write"] = [4.9, 5.6], ["ordinal"] = [4.7, 5.6],
        ["more"] = [3.7, 4.6, 5.5, 6.6], ["guess"] = [5.0, 6.0], ["even"] = [5.2, 6.1], ["share"] = [5.2, 6.0], ["gap"] = [5.2, 6.0, 6.9],
        ["order"] = [4.4, 5.0, 5.9, 6.9], ["place"] = [4.9, 5.7, 6.2, 7.0], ["next"] = [4.2, 4.9, 5.7],
        ["on"] = [5.3, 6.0, 6.5, 7.2], ["back"] = [5.7, 6.5, 7.0, 7.7], ["steps"] = [5.9, 6.4, 6.9],
        ["partners"] = [5.0, 5.9, 6.0], ["hidden"] = [5.3, 6.1, 7.2], ["ways"] = [5.2, 6.1, 7.2], ["double"] = [5.3, 6.5],
        ["join"] = [4.3, 5.3, 6.4], ["take"] = [4.7, 5.7, 6.8], ["ones"] = [6.5], ["cross"] = [7.0], ["several"] = [5.9, 6.9],
        ["story"] = [4.9, 5.7, 6.8], ["digits"] = [7.0, 8.2], ["ops"] = [8.0],
    };

    /// <summary>Ability of an average child in a band at an age; ages outside 2 to 12 count as these.</summary>
    public static double PriorMean(int band, double age)
    {
        var (skill, upTo) = Feeding.Bands[band];
        double usual = UsualAges[skill.Id][skill.Bands.ToList().IndexOf(upTo)];
        return AtUsualAge + PerYear * (Math.Clamp(age, 2, 12) - usual);
    }

    /// <summary>Two bands' covariance before anything was seen.</summary>
    public static double PriorCovariance(int i, int j)
    {
        var (a, b) = (Feeding.Bands[i], Feeding.Bands[j]);
        double covariance = GeneralSd * GeneralSd;
        if (a.Skill.Strand == b.Skill.Strand) covariance += StrandSd * StrandSd;
        if (a.Skill == b.Skill)
            covariance += SkillSd * SkillSd + BandSd * BandSd * Math.Pow(BandCorrelation, Math.Abs(Math.Log2((double)a.Band / b.Band)));
        return covariance;
    }
}
