using Allowance.Core.Asks;
using Allowance.Core.Learner;

namespace Allowance.Core.Tuning;

/// <summary>How a skill as a whole stands, and what in it is ready to grow.</summary>
/// <param name="Bands">Its bands, in order.</param>
/// <param name="Next">The first band that is not steady yet; null where all are.</param>
/// <param name="WaitsFor">What should be steadier first, in words; null where the next band is open.</param>
public sealed record SkillStanding(Skill Skill, IReadOnlyList<BandStanding> Bands, BandStanding? Next, string? WaitsFor)
{
    public bool IsOpen => Next is not null && WaitsFor is null;
}

/// <summary>Which skills are open: a skill opens when those it rests on are mostly steady in the band below or the same one.</summary>
public static class Readiness
{
    /// <summary>Mostly steady: believed to go right so often.</summary>
    internal const double MostlySteady = .75;

    public static IReadOnlyList<SkillStanding> Of(ChildModel model, Approach approach, DateOnly day)
    {
        var bands = Enumerable.Range(0, Feeding.Bands.Count).Select(b => model.Standing(b, day)).ToLookup(b => b.SkillBand.Skill.Id);
        return [.. Skills.All.Select(skill =>
        {
            var own = bands[skill.Id].ToList();
            var next = own.FirstOrDefault(b => b.Word is SkillWord.New or SkillWord.Growing);
            return new SkillStanding(skill, own, next, next is null ? null : WaitsFor(skill, next.SkillBand.Band, id => [.. bands[id]], approach));
        })];
    }

    /// <summary>What should be steadier before a band is met, in words; null where nothing is.</summary>
    internal static string? WaitsFor(Skill skill, int band, Func<string, IReadOnlyList<BandStanding>> bandsOf, Approach approach)
    {
        foreach (string rest in skill.RestsOn)
        {
            var words = rest.Split(' ');
            var below = bandsOf(words[0]);
            var needed = words.Length > 1 ? below.First(b => b.SkillBand.Band == int.Parse(words[1])) : below.LastOrDefault(b => b.SkillBand.Band <= band) ?? below[0];
            // Joining is steady, not only mostly, before taking away begins, unless the household mixes them.
            bool strictly = skill.Id == "take" && approach["taking"] == "apart";
            if (strictly ? !WasPassed(needed) : needed.Right < MostlySteady)
                return $"{needed.SkillBand.Skill.Says}, to {needed.SkillBand.Band}";
        }
        return null;
    }

    /// <summary>It is steady, was so once, or is taken as known as she met more.</summary>
    private static bool WasPassed(BandStanding band) => band.WasSteady || band.Word is SkillWord.Steady or SkillWord.Fluent or SkillWord.TakenAsKnown;
}
