using Allowance.Core.Games;
using Allowance.Core.Materials;
using Allowance.Core.Rules;
using Allowance.Core.Setups;

namespace Allowance.Core.Tuning;

/// <summary>
/// What each frame offers to one child: every level with its numbers, forms and supports, as the single steps of its knobs lead from one
/// to the next. Nothing here knows a frame; a new one is offered as soon as it is in the catalogue.
/// </summary>
public static class Offers
{
    /// <summary>So many settings of a level are offered; more are thinned out evenly, the gentlest and the largest stay.</summary>
    private const int MostOfALevel = 30;

    /// <summary>Steps of range are followed until so many were found.</summary>
    private const int MostRanges = 160;

    /// <summary>So many values of one knob are tried.</summary>
    private const int MostValues = 14;

    /// <summary>
    /// All of them, as the drawer deals and colours them: each level's own beginning first, then the frames by turns, so that what comes
    /// first is soon there and spread over all games.
    /// </summary>
    public static IEnumerable<Playable> All(Cupboard drawer, int cores = 1)
    {
        var levels = Catalogue.All.SelectMany(f => f.Data.Levels.Select(level => (Frame: f, Level: level))).ToList();
        var begins = levels.Select(l => Fitted(l.Frame, Begin(l.Frame, l.Level), drawer)).OfType<Playable>();
        return begins.Concat(levels.AsParallel().AsOrdered().WithDegreeOfParallelism(cores).Select(l => Of(l.Frame, l.Level, drawer)).AsSequential()
            .SelectMany(offers => offers.Skip(1).Select((offer, rank) => (offer, rank))).OrderBy(o => o.rank).Select(o => o.offer));
    }

    private static Setup Begin(Frame frame, Level level) => Setup.Default(frame.Data, SeatsFor(frame)) with { LevelId = level.Id };

    private static Playable? Fitted(Frame frame, Setup setup, Cupboard drawer) => frame.Check(Drawer.Fit(setup, drawer)) ?? frame.Check(setup);

    /// <summary>What a level of a frame offers, its own beginning first.</summary>
    public static IReadOnlyList<Playable> Of(Frame frame, Level level, Cupboard drawer)
    {
        var ranges = Thinned(Ranges(frame, Begin(frame, level)), MostOfALevel);
        var settings = ranges.Concat(ranges.SelectMany(r => Shown(frame, r))).ToList();
        return [.. Thinned(settings, MostOfALevel).Select(s => Fitted(frame, s, drawer)).OfType<Playable>().DistinctBy(p => p.Setup.ToLink())];
    }

    /// <summary>One child; with a grown-up where it takes two to be what it is.</summary>
    public static Seat[] SeatsFor(Frame frame) => frame.Data.GoodFrom > 1 ? [Seat.Child(""), Seat.Child("") with { GrownUp = true }] : [Seat.Child("")];

    /// <summary>The settings that steps of range lead to, the nearest first.</summary>
    private static IReadOnlyList<Setup> Ranges(Frame frame, Setup begin)
    {
        if (frame.Check(begin) is null) return [];
        var found = new List<Setup> { begin };
        var seen = new HashSet<string> { begin.ToLink() };
        for (int i = 0; i < found.Count && found.Count < MostRanges; i++)
            foreach (var step in frame.RangeSteps(found[i], 0))
                if (seen.Add(step.Setup.ToLink()) && frame.Check(step.Setup) is not null && frame.IsSensible(begin, step.Setup)) found.Add(step.Setup);
        return found;
    }

    /// <summary>The same numbers shown in other ways, or with a support: one thing is other than it was.</summary>
    private static IEnumerable<Setup> Shown(Frame frame, Setup setup) =>
        from knob in setup.Frame.Knobs
        where (knob.Belongs == Belongs.Form || knob.Role is KnobRole.Support or KnobRole.Aid) && frame.Matters(setup, knob)
        let seats = !knob.Scope.HasFlag(Scope.Table)
        let now = seats ? setup.At(0, knob) : setup.Get(knob)
        where now is not null
        from value in Others(knob.Kind, now)
        where frame.Helps(setup, 0, knob, value)
        let changed = seats ? setup.WithSeat(0, setup.Seats[0].With(knob, value)) : setup.With(knob, value)
        where frame.Check(changed) is not null
        select changed;

    /// <summary>What steps from value to value lead to, without the first.</summary>
    private static IEnumerable<KnobValue> Others(KnobKind kind, KnobValue now)
    {
        var found = new List<KnobValue> { now };
        for (int i = 0; i < found.Count && found.Count < MostValues; i++) found.AddRange(kind.Neighbours(found[i]).Except(found));
        return found.Skip(1);
    }

    private static IReadOnlyList<Setup> Thinned(IReadOnlyList<Setup> settings, int most) =>
        settings.Count <= most ? settings : [.. Enumerable.Range(0, most).Select(i => settings[(int)((long)i * (settings.Count - 1) / (most - 1))])];
}
