using Allowance.Core.Materials;
using Allowance.Core.Tuning;

namespace Allowance.Core.Plans;

/// <summary>What the days of a plan are about, in a sentence.</summary>
public static class PlanWords
{
    private const int MostNamed = 2;

    /// <summary>For one child, by her key; empty where she sits at none of its sittings.</summary>
    public static string About(Plan plan, string child)
    {
        if (!plan.Sittings.Any(s => s.Games.Any(g => g.Children.Any(c => c.Seat.Key == child)))) return "";
        var all = plan.AimsOf(child).ToList();
        var visits = all.Where(a => a.Aim.Kind == AimKind.Visit).Select(a => NameOf(a.Aim)).Take(MostNamed).ToList();
        var aims = all.Where(a => a.Aim.Kind != AimKind.Visit).ToList();
        string visiting = visits.Count == 0 ? "" : $"{Words.List(visits)} {(visits.Count == 1 ? "comes" : "come")} back for a visit";
        if (aims.Count == 0) return visits.Count == 0 ? "Known games, to keep what she can." : Words.Sentence(visiting);
        string also = aims.Count == 1 ? "" : $"; also {Words.List(aims.Skip(1).Take(MostNamed).Select(a => NameOf(a.Aim)))}";
        return $"{Words.Capital(NameOf(aims[0].Aim))}{Often(aims[0].Times)}{also}{(visits.Count == 0 ? "" : $"; {visiting}")}.";
    }

    /// <summary>A skill band, as it stands in a sentence.</summary>
    public static string NameOf(Aim aim) => $"{aim.Standing.SkillBand.Skill.Says}, to {aim.Standing.SkillBand.Band}";

    private static string Often(int times) => times switch { 1 => "", 2 => " (twice)", 3 => " (three times)", _ => $" ({times} times)" };
}
