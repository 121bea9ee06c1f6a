using Allowance.Core.Asks;

namespace Allowance.Core.Learner;

/// <summary>One thing that a first look may be asked to cover.</summary>
/// <param name="Bands">Skills and the upper ends of their bands, the easiest first.</param>
public sealed record LookFocus(string Id, string Says, IReadOnlyList<(string Skill, int Band)> Bands)
{
    public static IReadOnlyList<LookFocus> All { get; } =
    [
        new("seeing-5", "seeing to five", [("glance", 3), ("glance", 4), ("glance", 5)]),
        new("counting-10", "counting to ten", [("words", 5), ("howmany", 5), ("takeout", 3), ("takeout", 5), ("words", 10), ("howmany", 10), ("takeout", 10)]),
        new("numerals-10", "numerals to ten", [("numeral", 5), ("match", 5), ("numeral", 10), ("match", 10)]),
        new("teens", "eleven to twenty", [("words", 20), ("numeral", 20), ("tens", 20), ("place", 20), ("ones", 20)]),
        new("partners-10", "partners of ten", [("partners", 5), ("partners", 9), ("double", 10), ("partners", 10), ("hidden", 10)]),
    ];

    public static LookFocus? Find(string id) => All.FirstOrDefault(f => f.Id == id);

    internal IEnumerable<Ask> Asks => Bands.SelectMany(b => BandAsks.Of(Feeding.BandIndex(b.Skill, b.Band)));

    internal Strand[] Strands => [.. Bands.Select(b => Skills.Find(b.Skill).Strand).Distinct()];
}

/// <summary>An ask of a first look and what was seen.</summary>
public sealed record LookedAt(Ask Ask, Seen Seen);

/// <summary>
/// A first look at a new child, or after a long break: a few asks, each chosen for what it tells most about where she
/// stands, and gently: it begins with something easy, never gives more than two hard ones in a row, and ends on one she can
/// do. What to ask next follows from what was seen so far, so a look can be stopped and taken up again.
/// </summary>
public static class FirstLook
{
    public const int MostAsks = 12, MostAsksUnderFive = 6;

    /// <summary>
    /// Hard: it may well be that she does not manage it. Easy: even a child who stands lower than is believed, as one in ten does,
    /// mostly does. What is only believed to be easy turned out to be none for every seventh child.
    /// </summary>
    private const double HardBelow = .7, EasyFrom = .8, SureFrom = .9;

    private const int HardInARow = 2;

    public static int Length(double age) => age < 5 ? MostAsksUnderFive : MostAsks;

    /// <summary>The next ask, or null where the look is at its end.</summary>
    /// <param name="model">What is believed before the look; it is not changed.</param>
    /// <param name="seen">What was seen so far in this look, in order.</param>
    /// <param name="focus">The one thing to cover; null for all strands.</param>
    public static Ask? Next(ChildModel model, IReadOnlyList<LookedAt> seen, int length, DateTimeOffset at, LookFocus? focus = null)
    {
        if (seen.Count >= length) return null;
        var day = DateOnly.FromDateTime(at.DateTime);
        var now = After(model, seen, at);
        var open = (focus?.Asks.Distinct() ?? Candidates()).Where(a => !seen.Any(s => s.Ask == a)).Select(a => (Ask: a, Right: now.Right(a, day, now: true))).ToList();
        bool last = seen.Count == length - 1;
        if (open.Count == 0) return null;
        bool easy = seen.Count == 0 || HardOnes(model, seen, at) >= HardInARow;
        var fitting = last ? open.Where(c => c.Right >= SureFrom).ToList() : easy ? open.Where(c => now.RightAtLeast(c.Ask, day) >= EasyFrom).ToList() : open;
        // One picture after another to count is dull: where something else fits, no kind of ask comes three times running.
        if (seen is [.., var before, var latest] && before.Ask.Kind == latest.Ask.Kind && fitting.Where(c => c.Ask.Kind != latest.Ask.Kind).ToList() is { Count: > 0 } others) fitting = others;
        if (fitting.Count == 0) fitting = [open.MaxBy(c => last ? c.Right : now.RightAtLeast(c.Ask, day))];
        // The last one is for her: something just right, not a question any more.
        if (last) return fitting.MinBy(c => c.Right).Ask;
        // What a look shall cover is asked all round before anything is asked again.
        int Asked(int band) => seen.Count(s => Band(s.Ask) == band);
        if (focus is not null) fitting = [.. fitting.GroupBy(c => Asked(Band(c.Ask))).MinBy(g => g.Key)!];
        var strands = focus?.Strands ?? Enum.GetValues<Strand>();
        var then = now.Copy();
        return fitting.GroupBy(c => Band(c.Ask)).Select(g => g.MinBy(c => Math.Abs(c.Right - .65)))
            .MinBy(c => StillOpen(now, then, c.Ask, c.Right, strands, at)).Ask;
    }

    /// <summary>What is believed after the look so far.</summary>
    public static ChildModel After(ChildModel model, IReadOnlyList<LookedAt> seen, DateTimeOffset at)
    {
        var now = model.Copy();
        foreach (var (ask, outcome) in seen) now.Observe(new Observation(at, ask, outcome, null, Source.FirstLook));
        return now;
    }

    /// <summary>Where she most likely stands on each strand.</summary>
    public static IReadOnlyList<StrandLevel> Levels(ChildModel model, DateOnly day) => [.. Enum.GetValues<Strand>().Select(s => StrandLevel.Of(model, s, day))];

    /// <summary>How many asks at the end so far were hard: by what was believed then, or because they did not go right.</summary>
    private static int HardOnes(ChildModel model, IReadOnlyList<LookedAt> seen, DateTimeOffset at)
    {
        var then = model.Copy();
        int run = 0;
        foreach (var (ask, outcome) in seen)
        {
            run = !outcome.Right || then.Right(ask, DateOnly.FromDateTime(at.DateTime), now: true) < HardBelow ? run + 1 : 0;
            then.Observe(new Observation(at, ask, outcome, null, Source.FirstLook));
        }
        return run;
    }

    /// <summary>How open the levels will be after this ask, on average, in nats.</summary>
    /// <param name="then">To think ahead with; what it holds is overwritten.</param>
    private static double StillOpen(ChildModel now, ChildModel then, Ask ask, double right, Strand[] strands, DateTimeOffset at)
    {
        double open = 0;
        foreach (bool wasRight in (bool[])[true, false])
        {
            then.Become(now);
            then.Imagine(new Observation(at, ask, Seen.NotWatched(wasRight)));
            open += (wasRight ? right : 1 - right) * strands.Sum(s => StrandLevel.Of(then, s, DateOnly.FromDateTime(at.DateTime)).Entropy);
        }
        return open;
    }

    private static int Band(Ask ask)
    {
        Span<int> bands = stackalloc int[4];
        Feeding.Of(ask, bands);
        return bands[0];
    }

    /// <summary>The published asks of the strands' lead skills.</summary>
    private static IEnumerable<Ask> Candidates() =>
        Enum.GetValues<Strand>().Select(Skills.Lead).SelectMany(s => s.Bands.SelectMany(b => BandAsks.Of(Feeding.BandIndex(s.Id, b)))).Distinct();
}
