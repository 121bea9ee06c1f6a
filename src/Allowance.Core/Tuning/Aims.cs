using Allowance.Core.Asks;
using Allowance.Core.Learner;
using Allowance.Core.Materials;

namespace Allowance.Core.Tuning;

/// <summary>What meeting a skill band would be for.</summary>
public enum AimKind
{
    /// <summary>A gentle first meeting.</summary>
    Open,

    /// <summary>Practice at the edge.</summary>
    Grow,

    /// <summary>The same numbers where counting is slow and seeing is quick.</summary>
    See,

    /// <summary>The same numbers in another form.</summary>
    Widen,

    /// <summary>A short meeting, so that it is not lost.</summary>
    Visit,

    /// <summary>Nothing for now: it comes along in other games.</summary>
    Keep,
}

/// <summary>What a grown-up wishes of an aim.</summary>
public enum Wish
{
    /// <summary>It is left out until it is taken back.</summary>
    Aside,

    /// <summary>It comes before all others for a week.</summary>
    First,
}

/// <param name="Band">The skill band, by its index.</param>
/// <param name="Since">The day on which it was wished.</param>
public sealed record AimWish(int Band, Wish Wish, DateOnly Since)
{
    public bool HoldsOn(DateOnly day) => Wish == Wish.Aside || day.DayNumber - Since.DayNumber < AimConstants.FirstDays;
}

/// <summary>A skill band as an aim, with what it is worth today and why.</summary>
/// <param name="Worth">0 or more; to be compared with the other aims of the same child on the same day.</param>
/// <param name="Weight">How much one good meeting of it counts: what waits for it, and how long it was left.</param>
/// <param name="Why">One sentence with the evidence.</param>
/// <param name="IsFirst">A grown-up put it first this week.</param>
public sealed record Aim(AimKind Kind, BandStanding Standing, double Worth, double Weight, string Why, bool IsFirst = false);

/// <summary>
/// What a child could grow in on a day, over all skills and bands: practice by how much it is likely to bring, by what waits for it, and
/// by how long it was left. A band that was passed long ago, or waits for another, is no aim.
/// </summary>
public static class Aims
{
    public static string Says(this AimKind kind) => kind switch
    {
        AimKind.Open => "to begin", AimKind.Grow => "to grow", AimKind.See => "to see, not count", AimKind.Widen => "in another form", AimKind.Visit => "a visit", _ => "comes along",
    };

    /// <summary>All aims, what was put first before all others, then the worthiest first.</summary>
    public static IReadOnlyList<Aim> Of(IBeliefs model, Approach approach, DateOnly day, IReadOnlyList<AimWish>? wishes = null)
    {
        var wished = (wishes ?? []).Where(w => w.HoldsOn(day)).ToDictionary(w => w.Band, w => w.Wish);
        var standings = Enumerable.Range(0, Feeding.Bands.Count).Select(b => model.Standing(b, day)).ToList();
        var bands = standings.ToLookup(b => b.SkillBand.Skill.Id);
        var unmet = Enum.GetValues<Strand>().ToDictionary(s => s, s => standings.Where(b => b.SkillBand.Skill.Strand == s).Max(b => b.LastMet) is { } last ? day.DayNumber - last.DayNumber : AimConstants.StrandDays);
        var aims = new List<Aim>();
        foreach (var standing in standings)
        {
            Wish? wish = wished.TryGetValue(standing.Band, out var said) ? said : null;
            // What was put first is one, also where it would wait.
            var found = wish == Wish.Aside ? null : KindOf(standing) ?? (wish == Wish.First ? (AimKind.Grow, Practice(standing.Right), $"{NameOf(standing)}: put first this week.") : null);
            if (found is not { } aim) continue;
            double weight = Waiting(standing) * Time(standing) / (1 + standing.Seen / AimConstants.HalfAfterSeen);
            aims.Add(new(aim.Kind, standing, aim.Bare * weight, weight, aim.Why, wish == Wish.First));
        }
        return [.. aims.OrderByDescending(a => a.IsFirst).ThenByDescending(a => a.Worth)];

        (AimKind Kind, double Bare, string Why)? KindOf(BandStanding band)
        {
            string name = NameOf(band);
            string seen = HowOften(band);
            if (band.WasSteady && (band.Word == SkillWord.Resting || InAWeek(band) < AimConstants.VisitBelow || Unmet(band) >= AimConstants.VisitDays))
                return (AimKind.Visit, Visiting(band), $"{name}: was steady, {(Unmet(band) <= AimConstants.LatelyDays ? seen : $"last met {Unmet(band)} days ago")}; a short visit keeps it.");
            switch (band.Word)
            {
                case SkillWord.TakenAsKnown:
                    return null;
                case SkillWord.New or SkillWord.Growing when band.Seen < AimConstants.LittleMet:
                    if (band.Right < AimConstants.OpenFrom || !IsOpen(band)) return null;
                    return (AimKind.Open, Practice(band.Right) * AimConstants.Tells, band.Seen == 0 ? WasSeenToGoWell(band) ? $"{name}: ready to begin; what comes before it goes well." : $"{name}: by age a good place to begin." : $"{name}: met once or twice; a gentle beginning.");
                case SkillWord.Growing:
                    return band.Right is >= AimConstants.GrowFrom and <= AimConstants.GrowTo ? (AimKind.Grow, Practice(band.Right), $"{name}: {seen}; {(GoesWell(band) ? "nearly steady" : "just right to practise")}.") : null;
            }
            if (approach["answers"] == "structure" && band.FluentShare < AimConstants.MostlyCounted) return (AimKind.See, AimConstants.Seeing, $"{name}: {seen}, mostly counted; now look for fives and parts.");
            if (band.Forms == 1 && FormsOf(band.Band) > 1) return (AimKind.Widen, AimConstants.Widening, $"{name}: {seen}, always in the same form; now in another.");
            return (AimKind.Keep, 0, $"{name}: {seen}; it comes along in other games.");
        }

        // What is met next follows on what was met before, in this skill and in those it rests on.
        bool IsOpen(BandStanding band)
        {
            var own = bands[band.SkillBand.Skill.Id].ToList();
            int at = own.IndexOf(band);
            return (at == 0 || own[at - 1].Right >= Readiness.MostlySteady) && Readiness.WaitsFor(band.SkillBand.Skill, band.SkillBand.Band, id => [.. bands[id]], approach) is null;
        }

        // What it follows on was seen to go well, and is not only believed to.
        bool WasSeenToGoWell(BandStanding band)
        {
            var before = bands[band.SkillBand.Skill.Id].Where(b => b.Band < band.Band).Concat(band.SkillBand.Skill.RestsOn.SelectMany(r => bands[r.Split(' ')[0]])).ToList();
            int seen = before.Sum(b => b.Seen);
            return seen > 0 && before.Sum(b => b.RightSeen) >= Readiness.MostlySteady * seen;
        }

        double InAWeek(BandStanding band) => model.Standing(band.Band, day.AddDays(AimConstants.WithinDays)).Right;

        double Visiting(BandStanding band) => AimConstants.Visiting + AimConstants.ForEachTenthLost * 10 * Math.Max(0, AimConstants.VisitBelow - InAWeek(band));

        int Unmet(BandStanding band) => day.DayNumber - band.LastMet!.Value.DayNumber;

        double Waiting(BandStanding band) => 1 + bands[band.SkillBand.Skill.Id].Where(b => b.Band > band.Band && b.Word is SkillWord.New or SkillWord.Growing).Select((_, far) => far == 0 ? AimConstants.NextBandWaiting : AimConstants.FurtherBandWaiting).Sum()
            + AimConstants.NeighbourWaiting * Skills.All.Count(s => s.Strand == band.SkillBand.Skill.Strand && StillGrows(s)) + RestingOn(band.SkillBand.Skill).Sum(s => StillGrows(s) ? AimConstants.EachWaiting : 0)
            + RestingOn(band.SkillBand.Skill).SelectMany(RestingOn).Distinct().Sum(s => StillGrows(s) ? AimConstants.EachWaitingFurther : 0);

        bool StillGrows(Skill skill) => bands[skill.Id].Any(b => b.Word is SkillWord.New or SkillWord.Growing);

        double Time(BandStanding band)
        {
            double strand = 1 + AimConstants.StrandRise * Math.Pow(Math.Min(1, unmet[band.SkillBand.Skill.Strand] / (double)AimConstants.StrandDays), 2);
            return band.LastMet is not null && Unmet(band) <= 1 ? strand * AimConstants.MetJustNow : strand;
        }
    }

    /// <summary>What was met often is told by how it goes of late: how it went in the beginning says little of today.</summary>
    private static string HowOften(BandStanding band) => band.Seen <= BandStanding.Latest ? $"right {band.RightSeen} of {Words.Count(band.Seen, "time")} on {Words.Count(band.Days, "day")}"
        : $"right {band.RightLately} of the last {BandStanding.Latest} times, met on {Words.Count(band.Days, "day")}";

    /// <summary>It went right nearly every time of late, and often enough to say so.</summary>
    private static bool GoesWell(BandStanding band) => band.Seen >= BandStanding.Latest / 2 && band.RightLately >= .9 * Math.Min(band.Seen, BandStanding.Latest);

    private static string NameOf(BandStanding band) => $"{Words.Capital(band.SkillBand.Skill.Says)}, to {band.SkillBand.Band}";

    /// <summary>What stands for a grown-up's word that she knows a band already: asks of the skill, without their numbers where there are such.</summary>
    public static IReadOnlyList<Ask> SaidToBeKnown(int band)
    {
        var asks = BandAsks.Of(band);
        Span<int> fed = stackalloc int[4];
        foreach (var ask in asks)
        {
            var broad = ask.WithoutNumbers(Feeding.Bands[band].Band);
            if (Feeding.Of(broad, fed) == 1 && fed[0] == band) return [.. Enumerable.Repeat(broad, AimConstants.SaidToBeKnown)];
        }
        // The skill has no ask of its own without numbers: a few of its asks, spread over them.
        return [.. Enumerable.Range(0, AimConstants.SaidToBeKnown).Select(i => asks[i * (asks.Count - 1) / (AimConstants.SaidToBeKnown - 1)])];
    }

    /// <summary>What practice is likely to bring where she is right so often: 1 at its best, next to nothing under .35 and over .97.</summary>
    public static double Practice(double right)
    {
        double off = (right - AimConstants.BestRight) / (right < AimConstants.BestRight ? AimConstants.SpreadBelow : AimConstants.SpreadAbove);
        return Math.Exp(-off * off);
    }

    private static readonly ILookup<string, Skill> Resting = Skills.All.SelectMany(s => s.RestsOn.Select(r => (On: r.Split(' ')[0], Skill: s))).ToLookup(r => r.On, r => r.Skill);

    private static IEnumerable<Skill> RestingOn(Skill skill) => Resting[skill.Id];

    private static readonly int[] Forms = [.. Enumerable.Range(0, Feeding.Bands.Count).Select(b => BandAsks.Of(b).Select(a => a.Form).Distinct().Count())];

    /// <summary>In how many forms a band is asked.</summary>
    private static int FormsOf(int band) => Forms[band];
}
