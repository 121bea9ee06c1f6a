using Allowance.Core.Asks;
using Allowance.Core.Forecasts;
using Allowance.Core.Learner;
using Allowance.Core.Setups;
using Allowance.Core.Tuning;

namespace Allowance.Core.Plans;

/// <summary>
/// A child as she will be seen on the days of a plan: what she can is believed as of today, and what was planned so far was met then.
/// What was asked once is kept, as the same asks come on each day. For one thread at a time.
/// </summary>
internal sealed class Foreseen(ChildHere child, DateOnly today) : IBeliefs
{
    /// <summary>An aim comes so often in a week at most, with a day between.</summary>
    private const int MostOften = 3;

    /// <summary>From this day of a plan on, strands that have not come up yet are put first: every open one is met within two weeks.</summary>
    private const int StrandsFrom = 4;

    /// <summary>A band was met where it comes up so often in a game.</summary>
    private const double Met = 1;

    private readonly Dictionary<long, double> right = [];
    private readonly Dictionary<long, double[]> chances = [];
    private readonly Dictionary<(int, DateOnly), BandStanding> standings = [];
    private readonly List<(int Band, DateOnly Day)> planned = [];
    private readonly Dictionary<int, DateOnly> met = [];
    private readonly List<PlayedBefore> played = [.. child.Played];
    private readonly List<DateOnly> newOn = [];

    public Seat Seat => child.Seat;

    /// <summary>The child on a day: an aim has its day between, what was planned was played, and no strand is left out for long.</summary>
    public ChildHere On(DateOnly day, Approach approach)
    {
        List<AimWish> wishes = [.. child.Wishes.Where(w => !Rests(w.Band, day)), .. planned.Select(p => p.Band).Distinct().Where(b => Rests(b, day)).Select(b => new AimWish(b, Wish.Aside, day))];
        // Nobody wished for it: it holds on this day only, and brings no new game before its time.
        wishes.AddRange([.. LeftOut(day, approach, wishes).Select(aim => new AimWish(aim.Standing.Band, Wish.First, day.AddDays(1 - AimConstants.FirstDays)))]);
        return child with { Beliefs = this, Played = [.. played], Wishes = wishes };
    }

    /// <summary>The worthiest aim of each strand that was not met since the plan began, where it is time for them.</summary>
    private IEnumerable<Aim> LeftOut(DateOnly day, Approach approach, IReadOnlyList<AimWish> wishes)
    {
        if (day.DayNumber - today.DayNumber < StrandsFrom) return [];
        var recently = Enumerable.Range(0, Feeding.Bands.Count).Where(b => Standing(b, day).LastMet >= today.AddDays(-1)).Select(b => Feeding.Bands[b].Skill.Strand).ToHashSet();
        return Aims.Of(this, approach, day, wishes).Where(a => a is { Kind: not AimKind.Keep, IsFirst: false } && !recently.Contains(a.Standing.SkillBand.Skill.Strand)).DistinctBy(a => a.Standing.SkillBand.Skill.Strand);
    }

    private bool Rests(int band, DateOnly day)
    {
        var days = planned.Where(p => p.Band == band).Select(p => p.Day).ToList();
        return days.Count(d => Math.Abs(d.DayNumber - day.DayNumber) < 7) >= MostOften || days.Exists(d => Math.Abs(d.DayNumber - day.DayNumber) <= 1);
    }

    /// <summary>Something was new to her on that day already.</summary>
    public bool HadNew(DateOnly day) => newOn.Contains(day);

    /// <summary>A sitting was planned for her.</summary>
    public void Add(Forecast game, int seat, DateOnly day, Aim? aim)
    {
        var setup = game.Setup;
        if (played.FindLast(p => p.Setup.Frame == setup.Frame) is not { } last || Threefold.Of(last.Setup, last.Seat) != Threefold.Of(setup, seat)) newOn.Add(day);
        played.Add(new(setup, seat, day));
        if (aim is { Kind: not AimKind.Keep }) planned.Add((aim.Standing.Band, day));
        Span<int> bands = stackalloc int[4];
        var times = new double[Feeding.Bands.Count];
        foreach (var ask in game.Players[seat].Asks)
            foreach (int band in bands[..Feeding.Of(ask.Ask, bands)]) times[band] += ask.PerGame;
        for (int band = 0; band < times.Length; band++)
            if (times[band] >= Met) met[band] = day;
    }

    public double Right(Ask ask, DateOnly day) => right.TryGetValue(ask.Code, out double known) ? known : right[ask.Code] = child.Beliefs.Right(ask, today);

    public void Chances(Ask ask, DateOnly day, Span<double> into)
    {
        if (!chances.TryGetValue(ask.Code, out var known)) child.Beliefs.Chances(ask, today, chances[ask.Code] = known = new double[6]);
        known.CopyTo(into);
    }

    public double ChanceOfShare(IReadOnlyList<Ask> asks, double low, double high, DateOnly day) => child.Beliefs.ChanceOfShare(asks, low, high, today);

    public BandStanding Standing(int band, DateOnly day)
    {
        if (!standings.TryGetValue((band, day), out var standing)) standings[(band, day)] = standing = child.Beliefs.Standing(band, day);
        return met.TryGetValue(band, out var last) && last <= day && last > (standing.LastMet ?? DateOnly.MinValue) ? standing with { LastMet = last } : standing;
    }
}
