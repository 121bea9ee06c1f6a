using Allowance.Core.Asks;
using Allowance.Core.Forms;
using Allowance.Core.Learner;
using Allowance.Core.Setups;
using Allowance.Core.Tuning;

namespace Allowance.Core.Tests;

/// <summary>The first look: gentle, telling, and the same again when it is taken up again.</summary>
public class FirstLookTests
{
    private static readonly DateTimeOffset At = new(2026, 3, 1, 16, 0, 0, TimeSpan.Zero);

    private static List<LookedAt> Look(double age, long seed, int length = FirstLook.MostAsks)
    {
        var child = new SimulatedChild(seed, age);
        var fresh = new ChildModel(age);
        var seen = new List<LookedAt>();
        while (FirstLook.Next(fresh, seen, length, At) is { } ask) seen.Add(new(ask, Seen.How(child.Answer(ask, DateOnly.FromDateTime(At.DateTime)))));
        return seen;
    }

    [Theory]
    [InlineData(3.6)]
    [InlineData(5.2)]
    [InlineData(7.4)]
    public void It_is_gentle(double age)
    {
        var day = DateOnly.FromDateTime(At.DateTime);
        for (long seed = 1; seed <= 6; seed++)
        {
            var seen = Look(age, seed);
            Assert.Equal(FirstLook.MostAsks, seen.Count);
            Assert.Equal(seen.Count, seen.Select(s => s.Ask).Distinct().Count());
            var model = new ChildModel(age);
            Assert.InRange(model.Right(seen[0].Ask, day), .8, 1);
            int hard = 0;
            foreach (var (ask, outcome) in seen)
            {
                double right = model.Right(ask, day, now: true);
                if (hard >= 2) Assert.True(right >= .75, $"after two hard ones came {ask} with {right:0.00}");
                hard = right < .5 || !outcome.Right ? hard + 1 : 0;
                model.Observe(new(At, ask, outcome));
            }
            var before = FirstLook.After(new ChildModel(age), seen[..^1], At);
            Assert.InRange(before.Right(seen[^1].Ask, day, now: true), .85, 1);
        }
    }

    [Theory]
    [InlineData("seeing-5", "glance")]
    [InlineData("teens", "words numeral tens place ones")]
    [InlineData("partners-10", "partners double hidden join")]
    public void A_look_may_cover_one_thing_and_says_of_the_rest_that_it_was_not_asked(string focus, string skills)
    {
        var fresh = new ChildModel(5.5);
        var seen = new List<LookedAt>();
        while (FirstLook.Next(fresh, seen, FirstLook.MostAsks, At, LookFocus.Find(focus)) is { } ask) seen.Add(new(ask, Seen.NotWatched(seen.Count % 3 != 2)));
        Assert.InRange(seen.Count, 6, FirstLook.MostAsks);
        Span<int> bands = stackalloc int[4];
        foreach (var (ask, _) in seen)
        {
            Feeding.Of(ask, bands);
            Assert.Contains(Feeding.Bands[bands[0]].Skill.Id, skills.Split(' '));
        }
        var levels = FirstLook.Levels(FirstLook.After(fresh, seen, At), DateOnly.FromDateTime(At.DateTime));
        Assert.Equal(0, levels.Single(l => l.Strand == Strand.Comparing).Asked);
        Assert.All(levels.Where(l => LookFocus.Find(focus)!.Bands.Any(b => Skills.Find(b.Skill).Strand == l.Strand)), l => Assert.True(l.Asked > 0));
    }

    [Theory]
    [InlineData(3.6, 6)]
    [InlineData(5.5, 12)]
    [InlineData(7.4, 12)]
    public void No_kind_of_ask_comes_again_and_again(double age, int length)
    {
        for (long seed = 1; seed <= 6; seed++)
        {
            AskKind[] kinds = [.. Look(age, seed, length).Select(s => s.Ask.Kind)];
            Assert.True(kinds.Distinct().Count() >= 2, string.Join(" ", kinds));
            // A third one comes only where nothing else is easy enough, and the last is chosen for her.
            for (int i = 3; i < kinds.Length - 1; i++) Assert.True(kinds[(i - 3)..(i + 1)].Distinct().Count() > 1, string.Join(" ", kinds));
        }
    }

    [Fact]
    public void Under_five_it_is_half_as_long()
    {
        Assert.Equal(6, FirstLook.Length(4.9));
        Assert.Equal(12, FirstLook.Length(5));
        Assert.Equal(6, Look(4, 3, FirstLook.Length(4)).Count);
    }

    [Fact]
    public void Taken_up_again_it_asks_what_it_would_have_asked()
    {
        var seen = Look(5.5, 2);
        for (int n = 0; n < seen.Count; n++) Assert.Equal(seen[n].Ask, FirstLook.Next(new ChildModel(5.5), seen[..n], FirstLook.MostAsks, At));
        Assert.Null(FirstLook.Next(new ChildModel(5.5), seen, FirstLook.MostAsks, At));
    }

    [Fact]
    public void A_look_narrows_the_levels_and_leaves_the_model_it_began_with_alone()
    {
        var day = DateOnly.FromDateTime(At.DateTime);
        var fresh = new ChildModel(5.5);
        double before = FirstLook.Levels(fresh, day).Sum(l => l.Entropy);
        double[] after = [.. Enumerable.Range(1, 6).Select(seed => FirstLook.Levels(FirstLook.After(fresh, Look(5.5, seed), At), day).Sum(l => l.Entropy))];
        Assert.All(after, open => Assert.True(open < before));
        Assert.True(after.Average() < before * .9);
        Assert.Equal(0, fresh.Observations);
        Assert.Equal(before, FirstLook.Levels(fresh, day).Sum(l => l.Entropy), 12);
    }

    [Fact]
    public void A_level_is_a_chance_for_each_band_and_rises_with_age()
    {
        var day = DateOnly.FromDateTime(At.DateTime);
        double last = -1;
        foreach (double age in (double[])[3, 4.5, 6, 8])
        {
            var level = StrandLevel.Of(new ChildModel(age), Strand.Joining, day);
            Assert.Equal(1, level.Chances.Sum(), 9);
            Assert.Equal(level.Bands.Count + 1, level.Chances.Count);
            var (lower, chance) = level.Between;
            // One in twenty stands elsewhere, whatever is believed.
            Assert.Equal(.95 * (level.Chances[lower] + level.Chances[lower + 1]), chance, 12);
            double mean = level.Chances.Select((p, i) => p * i).Sum();
            Assert.True(mean > last);
            last = mean;
        }
    }

    [Fact]
    public void What_she_always_gets_right_is_her_level()
    {
        var day = DateOnly.FromDateTime(At.DateTime);
        var model = new ChildModel(5);
        foreach (var ask in BandAsks.Of(Feeding.BandIndex("numeral", 20)).Concat(BandAsks.Of(Feeding.BandIndex("numeral", 10))))
            for (int k = 0; k < 3; k++) model.Observe(new(At, ask, Seen.How(Outcome.SawIt)));
        foreach (var ask in BandAsks.Of(Feeding.BandIndex("numeral", 100)))
            for (int k = 0; k < 3; k++) model.Observe(new(At, ask, Seen.How(Outcome.NotYet)));
        var level = StrandLevel.Of(model, Strand.Signs, day);
        Assert.InRange(level.Likeliest, 3, 4);
        Assert.Equal(20, level.Bands[2]);
        Assert.True(level.Chances[5] < .02);
    }

    [Fact]
    public void The_chance_of_a_share_is_a_chance_and_knows_what_was_seen()
    {
        var day = new DateOnly(2026, 3, 1);
        var asks = BandAsks.Of(Feeding.BandIndex("join", 10));
        var model = new ChildModel(5.3);
        double all = model.ChanceOfShare(asks, .05, .95, day), middle = model.ChanceOfShare(asks, .5, .9, day);
        Assert.InRange(middle, 0, all);
        Assert.InRange(all, middle, 1);
        for (int k = 0; k < 4; k++)
            foreach (var ask in asks) model.Observe(new(At, ask, Seen.How(Outcome.NotYet)));
        Assert.True(model.ChanceOfShare(asks, .5, .9, day) < .05);
        Assert.True(model.Careful(asks, day) < .3);
    }

    [Fact]
    public void The_path_of_methods_counts_watched_answers_by_week()
    {
        Observation On(string day, Outcome outcome, AskKind kind = AskKind.Part) =>
            new(new DateTimeOffset(DateOnly.Parse(day).ToDateTime(new TimeOnly(9, 0)), TimeSpan.Zero), kind == AskKind.Part ? new Ask(kind, 5, 2, Form.Numeral) : new Ask(kind, 3, Form.Numeral), Seen.How(outcome));
        // 2 March 2026 is a Monday.
        var weeks = MethodWeek.Path([On("2026-03-01", Outcome.CountedAll), On("2026-03-02", Outcome.SawIt), On("2026-03-08", Outcome.SawIt), On("2026-03-08", Outcome.NotYet), On("2026-03-08", Outcome.SawIt, AskKind.Trace), On("2026-03-09", Outcome.SawIt), On("2026-01-01", Outcome.SawIt)], new DateOnly(2026, 3, 8), 3);
        Assert.Equal([new(2026, 2, 16), new(2026, 2, 23), new(2026, 3, 2)], weeks.Select(w => w.First));
        Assert.Equal([0, 1, 3], weeks.Select(w => w.Watched));
        Assert.Equal(2.0 / 3, weeks[2].Share(Outcome.SawIt), 12);
        Assert.Equal(1, weeks[1].Share(Outcome.CountedAll));
        // Where the week begins on Sunday, the first of March opens it, and the eighth the next.
        var sundays = MethodWeek.Path([On("2026-03-01", Outcome.CountedAll), On("2026-03-02", Outcome.SawIt), On("2026-03-08", Outcome.SawIt)], new DateOnly(2026, 3, 8), 2, DayOfWeek.Sunday);
        Assert.Equal([new(2026, 3, 1), new(2026, 3, 8)], sundays.Select(w => w.First));
        Assert.Equal([2, 1], sundays.Select(w => w.Watched));
    }

    [Fact]
    public void A_kept_model_goes_on_as_if_nothing_had_happened()
    {
        var log = AskingPolicy.Log(new SimulatedChild(4, 5), 4, 5, new DateOnly(2026, 1, 5), 12, 20, 2).ToList();
        var half = ChildModel.Of(5, log[..80]);
        var kept = ChildModel.FromBytes(half.ToBytes())!;
        foreach (var o in log[80..]) kept.Observe(o);
        var whole = ChildModel.Of(5, log);
        var end = log[^1].Day.AddDays(12);
        Assert.Equal(whole.Observations, kept.Observations);
        for (int band = 0; band < Feeding.Bands.Count; band++) Assert.Equal(whole.Standing(band, end), kept.Standing(band, end));
        Assert.Null(ChildModel.FromBytes(half.ToBytes()[..5000]));
        Assert.Equal(ChildModel.Mark, ChildModel.Mark);
        Assert.Equal(16, ChildModel.Mark.Length);
    }

    [Fact]
    public void A_copy_thinks_ahead_without_touching_what_it_was_copied_from()
    {
        var model = ChildModel.Of(5, [new(At, new Ask(AskKind.Join, 3, 2, Form.Dice), Seen.How(Outcome.CountedOn))]);
        var before = model.Standing(Feeding.BandIndex("join", 5), new DateOnly(2026, 3, 2));
        var copy = model.Copy();
        for (int k = 0; k < 20; k++) copy.Observe(new(At.AddDays(k), new Ask(AskKind.Join, 3, 2, Form.Dice), Seen.How(Outcome.SawIt)));
        Assert.Equal(before, model.Standing(Feeding.BandIndex("join", 5), new DateOnly(2026, 3, 2)));
        Assert.NotEqual(before, copy.Standing(Feeding.BandIndex("join", 5), new DateOnly(2026, 3, 21)));
    }
}
