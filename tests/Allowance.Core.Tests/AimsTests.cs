using Allowance.Core.Asks;
using Allowance.Core.Forms;
using Allowance.Core.Learner;
using Allowance.Core.Tuning;

namespace Allowance.Core.Tests;

/// <summary>Aims: which bands a child could grow in, what for, and what each is worth on a day.</summary>
public class AimsTests
{
    private static readonly DateOnly Day = new(2026, 3, 20);

    private static Observation On(int daysAgo, Ask ask, Outcome outcome) => new(new DateTimeOffset(Day.AddDays(-daysAgo).ToDateTime(new TimeOnly(16, 0)), TimeSpan.Zero), ask, Seen.How(outcome));

    private static IEnumerable<Observation> Band(string skill, int band, Outcome outcome, params int[] daysAgo) =>
        daysAgo.SelectMany(d => BandAsks.Of(Feeding.BandIndex(skill, band)).Select(a => On(d, a, outcome)));

    private static ChildModel Model(double age, params IEnumerable<Observation>[] seen) => ChildModel.Of(age, seen.SelectMany(s => s).OrderBy(o => o.Day));

    private static Aim? Of(ChildModel model, string skill, int band, Approach? approach = null) =>
        Aims.Of(model, approach ?? Approach.Default, Day).SingleOrDefault(a => a.Standing.Band == Feeding.BandIndex(skill, band));

    /// <summary>Joining to 10 was right again and again; joining to 5 was never asked, and nobody goes back to it.</summary>
    [Fact]
    public void A_band_under_one_that_is_known_is_taken_as_known_and_hides_nothing()
    {
        var model = Model(6.5, Band("join", 10, Outcome.SawIt, 9, 6, 3));
        Assert.Equal(SkillWord.TakenAsKnown, model.Standing(Feeding.BandIndex("join", 5), Day).Word);
        var join = Readiness.Of(model, Approach.Default, Day).Single(s => s.Skill.Id == "join");
        Assert.Equal(20, join.Next!.SkillBand.Band);
        // Taking away to 5 rests on it, and does not wait.
        Assert.Null(Readiness.Of(model, Approach.Default, Day).Single(s => s.Skill.Id == "take").WaitsFor);
        Assert.Null(Of(model, "join", 5));
        // Where the higher band was only tried, and went wrong, the lower one is new as ever.
        Assert.Equal(SkillWord.New, Model(4, Band("join", 10, Outcome.NotYet, 3)).Standing(Feeding.BandIndex("join", 5), Day).Word);
    }

    [Fact]
    public void What_was_met_often_is_told_by_how_it_goes_of_late()
    {
        var asks = BandAsks.Of(Feeding.BandIndex("takeout", 5)).Concat(BandAsks.Of(Feeding.BandIndex("takeout", 3))).Where(a => a[0] is 3).ToList();
        var model = Model(3.9, [.. Enumerable.Range(0, 9).Select(d => asks.Select(a => On(40 - 2 * d, a, d < 5 ? Outcome.NotYet : Outcome.SawIt)))]);
        var standing = model.Standing(Feeding.BandIndex("takeout", 3), Day);
        Assert.Equal((9 * asks.Count, 4 * asks.Count, 9), (standing.Seen, standing.RightSeen, standing.Days));
        Assert.Equal(4 * asks.Count, standing.RightLately);
        Assert.Contains($"right {4 * asks.Count} of the last 20 times, met on 9 days", Of(model, "takeout", 3)!.Why);
    }

    [Fact]
    public void What_was_met_and_is_not_steady_grows_at_her_edge()
    {
        var model = Model(6.5, Band("partners", 9, Outcome.CountedOn, 6).Take(7), Band("partners", 9, Outcome.NotYet, 3).Take(3));
        Assert.InRange(model.Standing(Feeding.BandIndex("partners", 9), Day).Right, AimConstants.GrowFrom, AimConstants.GrowTo);
        var aim = Of(model, "partners", 9)!;
        Assert.Equal(AimKind.Grow, aim.Kind);
        Assert.Contains("right 7 of 10 times on 2 days", aim.Why);
        // What hardly ever goes right is none.
        Assert.Null(Of(Model(4.2, Band("cross", 20, Outcome.NotYet, 6, 3)), "cross", 20));
    }

    /// <summary>A reason never says that something goes well which nobody saw go well, nor calls practice what goes right nearly every time.</summary>
    [Fact]
    public void Reasons_say_no_more_than_was_seen()
    {
        Assert.Contains("by age a good place to begin", Of(Model(3.9), "glance", 3)!.Why);
        // Right 3 of 5 times is no "goes well".
        var some = Model(3.5, Band("glance", 3, Outcome.SawIt, 3).Take(3), Band("glance", 3, Outcome.NotYet, 3).Take(2));
        Assert.All(Aims.Of(some, Approach.Default, Day), a => Assert.DoesNotContain("goes well", a.Why));
        var well = Model(4.2, Band("glance", 3, Outcome.SawIt, 6, 4, 2), Band("words", 5, Outcome.SawIt, 6, 4, 2));
        Assert.Contains(Aims.Of(well, Approach.Default, Day), a => a.Kind == AimKind.Open && a.Why.Contains("what comes before it goes well"));
        var nearly = Of(Model(4.2, Band("partners", 9, Outcome.CountedOn, 6).Take(5), Band("partners", 9, Outcome.CountedOn, 3).Take(5)), "partners", 9)!;
        Assert.Equal(AimKind.Grow, nearly.Kind);
        Assert.EndsWith("right 10 of 10 times on 2 days; nearly steady.", nearly.Why);
        Assert.EndsWith("just right to practise.", Of(Model(6.5, Band("partners", 9, Outcome.CountedOn, 6).Take(7), Band("partners", 9, Outcome.NotYet, 3).Take(3)), "partners", 9)!.Why);
    }

    [Fact]
    public void Steady_by_counting_wants_seeing_only_where_structure_comes_first()
    {
        var model = Model(7, Band("join", 5, Outcome.CountedOn, 9, 7, 5, 3));
        Assert.Equal(AimKind.See, Of(model, "join", 5)!.Kind);
        Assert.NotEqual(AimKind.See, Of(model, "join", 5, Approach.Default.With("answers", "counting"))!.Kind);
    }

    [Fact]
    public void Steady_in_one_form_wants_another()
    {
        var asks = BandAsks.Of(Feeding.BandIndex("join", 5)).Where(a => a.Form == Form.Numeral).ToList();
        IEnumerable<Observation> InNumerals(int daysAgo) => asks.Concat(asks).Select(a => On(daysAgo, a, Outcome.SawIt));
        var aim = Of(Model(7, InNumerals(9), InNumerals(6), InNumerals(4), InNumerals(2)), "join", 5)!;
        Assert.Equal((AimKind.Widen, 1), (aim.Kind, aim.Standing.Forms));
        Assert.Equal(AimKind.Keep, Of(Model(7, Band("join", 5, Outcome.SawIt, 9, 6, 4, 2)), "join", 5)!.Kind);
    }

    [Fact]
    public void What_was_steady_and_fades_wants_a_visit_and_the_more_the_longer_it_was_left()
    {
        IEnumerable<Observation> seen = [.. Band("partners", 5, Outcome.SawIt, 12, 9, 6, 3)];
        double last = 0;
        Assert.Equal(AimKind.Keep, Aims.Of(Model(7, seen), Approach.Default, Day.AddDays(10)).Single(a => a.Standing.Band == Feeding.BandIndex("partners", 5)).Kind);
        foreach (int later in (int[])[26, 120, 240, 450])
        {
            var aim = Aims.Of(Model(7, seen), Approach.Default, Day.AddDays(later)).Single(a => a.Standing.Band == Feeding.BandIndex("partners", 5));
            Assert.Equal(AimKind.Visit, aim.Kind);
            Assert.Contains($"last met {later + 3} days ago", aim.Why);
            Assert.True(aim.Worth >= last);
            last = aim.Worth;
        }
    }

    [Fact]
    public void Of_what_was_steady_and_met_just_now_it_is_told_how_it_went()
    {
        var aim = Of(Model(7, Band("partners", 5, Outcome.SawIt, 30, 27, 24, 21), Band("partners", 5, Outcome.NotYet, 1)), "partners", 5)!;
        Assert.Equal(AimKind.Visit, aim.Kind);
        Assert.Matches(@": was steady, right \d+ of the last 20 times, met on 5 days; a short visit keeps it\.$", aim.Why);
    }

    [Fact]
    public void Practice_is_worth_most_near_three_in_four_and_next_to_nothing_at_the_ends()
    {
        var shares = Enumerable.Range(1, 99).Select(p => p / 100.0).ToList();
        Assert.Equal(.75, shares.MaxBy(Aims.Practice), 9);
        Assert.True(Aims.Practice(.34) < .05 && Aims.Practice(.98) < .05);
        Assert.All(shares.Zip(shares.Skip(1)), p => Assert.Equal(p.Second <= .75, Aims.Practice(p.Second) > Aims.Practice(p.First)));
    }

    /// <summary>The same but for one thing: met yesterday or three days ago; with more or fewer that wait for it.</summary>
    [Fact]
    public void A_day_between_and_what_waits_for_it_count()
    {
        double Worth(int daysAgo) => Of(Model(6.5, Band("partners", 9, Outcome.CountedOn, daysAgo).Take(6), Band("partners", 9, Outcome.NotYet, daysAgo).Take(3)), "partners", 9)!.Worth;
        Assert.True(Worth(1) < Worth(3));
        var aims = Aims.Of(new ChildModel(4), Approach.Default, Day);
        // Of two first meetings that would go alike, the one on which more rests comes first.
        var alike = (from a in aims from b in aims where a.Kind == AimKind.Open && b.Kind == AimKind.Open && Math.Abs(Aims.Practice(a.Standing.Right) - Aims.Practice(b.Standing.Right)) < .02 && Rest(a) > Rest(b) && a.Standing.SkillBand.Skill.Strand == b.Standing.SkillBand.Skill.Strand select (a, b)).ToList();
        Assert.All(alike, pair => Assert.True(pair.a.Worth > pair.b.Worth * .97));

        static int Rest(Aim aim) => Skills.All.Count(s => s.RestsOn.Any(r => r.Split(' ')[0] == aim.Standing.SkillBand.Skill.Id));
    }

    /// <summary>Made-up children of every age, after what they were asked for some weeks.</summary>
    [Theory]
    [InlineData(3.6)]
    [InlineData(5)]
    [InlineData(6.5)]
    [InlineData(8)]
    public void Every_child_has_something_to_grow_in_and_nothing_that_waits_is_an_aim(double age)
    {
        var model = ChildModel.Of(age, AskingPolicy.Log(new SimulatedChild(17, age), 17, age, Day.AddDays(-42), 6, 12, 2).Where(o => o.Day <= Day));
        foreach (var approach in (Approach[])[Approach.Default, Approach.Default.With("taking", "mixed").With("answers", "counting")])
        {
            var aims = Aims.Of(model, approach, Day);
            Assert.Contains(aims, a => a.Kind is AimKind.Open or AimKind.Grow);
            Assert.Equal(aims.Count, aims.Select(a => a.Standing.Band).Distinct().Count());
            Assert.Equal(aims.Select(a => a.Worth).OrderDescending(), aims.Select(a => a.Worth));
            Assert.All(aims, a =>
            {
                Assert.NotEqual(SkillWord.TakenAsKnown, a.Standing.Word);
                Assert.EndsWith(".", a.Why);
                if (a.Kind is AimKind.Open or AimKind.Grow) Assert.InRange(a.Standing.Right, AimConstants.OpenFrom, AimConstants.GrowTo + (a.Kind == AimKind.Open ? .07 : 0));
                if (a.Kind == AimKind.Keep) Assert.Equal(0, a.Worth);
            });
        }
    }

    [Fact]
    public void An_aim_is_set_aside_until_it_is_taken_back_or_put_first_for_a_week()
    {
        var model = new ChildModel(5.3);
        var aims = Aims.Of(model, Approach.Default, Day);
        Aim best = aims[0], last = aims[^1];
        Assert.DoesNotContain(Aims.Of(model, Approach.Default, Day, [new(best.Standing.Band, Wish.Aside, Day.AddDays(-90))]), a => a.Standing.Band == best.Standing.Band);
        AimWish first = new(last.Standing.Band, Wish.First, Day.AddDays(-6));
        Assert.Equal((last.Standing.Band, true), (Aims.Of(model, Approach.Default, Day, [first])[0].Standing.Band, Aims.Of(model, Approach.Default, Day, [first])[0].IsFirst));
        Assert.Equal(best.Standing.Band, Aims.Of(model, Approach.Default, Day.AddDays(1), [first])[0].Standing.Band);
        // Also what would wait for something is first where a grown-up wishes it.
        int waits = Feeding.Find("ops", 100);
        Assert.DoesNotContain(aims, a => a.Standing.Band == waits);
        Assert.Contains("put first this week", Aims.Of(model, Approach.Default, Day, [new(waits, Wish.First, Day)])[0].Why);
    }

    /// <summary>It raises what is believed of the band, and claims no fact that nobody saw.</summary>
    [Fact]
    public void What_is_said_to_be_known_is_believed_with_care()
    {
        Span<int> fed = stackalloc int[4];
        for (int band = 0; band < Feeding.Bands.Count; band++)
        {
            var asks = Aims.SaidToBeKnown(band);
            Assert.Equal(AimConstants.SaidToBeKnown, asks.Count);
            foreach (var ask in asks) Assert.True(fed[..Feeding.Of(ask, fed)].Contains(band), $"{Feeding.Bands[band]}: {ask}");
        }
        int join = Feeding.Find("join", 10);
        Assert.Equal("join * numeral to 10", Aims.SaidToBeKnown(join)[0].ToString());
        var before = new ChildModel(5.3);
        var after = ChildModel.Of(5.3, Aims.SaidToBeKnown(join).Select(a => new Observation(new DateTimeOffset(Day.ToDateTime(new TimeOnly(9, 0)), TimeSpan.Zero), a, Seen.NotWatched(true))));
        Assert.True(after.Standing(join, Day).Right > before.Standing(join, Day).Right + .03);
        Assert.NotEqual(SkillWord.Steady, after.Standing(join, Day).Word);
    }
}
