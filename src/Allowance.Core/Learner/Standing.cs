using System.Numerics;
using Allowance.Core.Asks;
using Allowance.Core.Forms;

namespace Allowance.Core.Learner;

/// <summary>The words for a skill in a band.</summary>
public enum SkillWord { New, TakenAsKnown, Growing, Steady, Fluent, Resting }

/// <summary>How sure the picture is.</summary>
public enum Certainty { Guess, SomeEvidence, WellKnown }

/// <summary>How a skill band stands on a day.</summary>
/// <param name="Right">Chance of being right without help, mean over the band's published asks.</param>
/// <param name="Careful">The same, reached with nine chances in ten.</param>
/// <param name="FluentShare">Of the right answers whose method was seen, those by <em>saw it</em> or <em>structure</em>; null where none was seen.</param>
/// <param name="HigherMet">A higher band of the same skill was met.</param>
/// <param name="FormBits">The forms in which she was right without a support, as bits.</param>
/// <param name="LatelyBits">Of the last <see cref="Latest"/> times, the newest lowest, whether it went right.</param>
/// <param name="Days">On how many days it was met.</param>
public sealed record BandStanding(int Band, double Right, double Careful, int Seen, int RightSeen, int RightDays, double? FluentShare, DateOnly? LastMet, bool WasSteady, bool HigherMet, uint FormBits, uint LatelyBits, int Days)
{
    public const int SteadyDays = 3;

    /// <summary>So many times are told.</summary>
    public const int Latest = 20;

    public const double SteadyFrom = .80, FluentFrom = .70, RestingBelow = .75;

    /// <summary>
    /// Nothing was seen of a band, but something of a higher one: from this careful figure on nobody goes back to it. What is not so sure
    /// stays new, as a higher band may have been a guess too far.
    /// </summary>
    public const double KnownFrom = .70;

    /// <summary>In how many forms she was right without a support.</summary>
    public int Forms => BitOperations.PopCount(FormBits);

    /// <summary>How often it went right of the last <see cref="Latest"/> times.</summary>
    public int RightLately => BitOperations.PopCount(LatelyBits & (1u << Latest) - 1);

    public bool Met(Form form) => (FormBits >> (int)form & 1) != 0;

    public SkillBand SkillBand => Feeding.Bands[Band];

    public SkillWord Word => Seen == 0 ? HigherMet && Careful >= KnownFrom ? SkillWord.TakenAsKnown : SkillWord.New
        : WasSteady && Right < RestingBelow ? SkillWord.Resting
        : Careful >= SteadyFrom && RightDays >= SteadyDays ? FluentShare >= FluentFrom ? SkillWord.Fluent : SkillWord.Steady
        : SkillWord.Growing;

    public Certainty Certainty => Sureness.Of(Seen);
}

public static class Sureness
{
    /// <summary>By the number of observations: under 3 a guess, under 10 some evidence.</summary>
    public static Certainty Of(int observations) => observations < 3 ? Certainty.Guess : observations < 10 ? Certainty.SomeEvidence : Certainty.WellKnown;

    public static string Says(this Certainty certainty) => certainty switch
    {
        Certainty.Guess => "a guess", Certainty.SomeEvidence => "some evidence", _ => "well known",
    };
}
