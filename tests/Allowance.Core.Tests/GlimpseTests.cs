using Allowance.Core.Asks;
using Allowance.Core.Forms;
using Allowance.Core.Games;
using Allowance.Core.Learner;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;

namespace Allowance.Core.Tests;

public class GlimpseTests
{
    /// <summary>A viewer who is right in so many of 100 glimpses as the time shown allows: .794 at her threshold.</summary>
    private static bool Sees(double seconds, double threshold, ref Rng rng) =>
        rng.Unit() < .02 + .97 / (1 + Math.Exp(-5 * Math.Log(seconds / threshold) - Math.Log((Staircase.Target - .02) / (.99 - Staircase.Target))));

    private static List<Glance> Looks(int number, Form form, double threshold, int count, double start, ref Rng rng)
    {
        var looks = new List<Glance>();
        for (int i = 0; i < count; i++)
        {
            double seconds = Staircase.Next(looks, start);
            looks.Add(new(number, form, seconds, Sees(seconds, threshold, ref rng)));
        }
        return looks;
    }

    [Theory, InlineData(.5, 2), InlineData(.9, 2), InlineData(1.6, .7), InlineData(3, 1)]
    public void The_staircase_settles_where_79_of_100_are_right(double threshold, double start)
    {
        var rng = new Rng(7);
        var late = Looks(5, Form.Scatter, threshold, 6_000, start, ref rng).Skip(100).ToList();
        Assert.InRange(late.Average(l => l.Right ? 1.0 : 0), Staircase.Target - .03, Staircase.Target + .03);
        double middle = Math.Exp(late.Average(l => Math.Log(l.Seconds)));
        Assert.InRange(middle, threshold / ShowTimes.Step, threshold * ShowTimes.Step);
        Assert.All(late, l => Assert.InRange(l.Seconds, ShowTimes.Shortest, ShowTimes.Longest));
    }

    [Fact]
    public void Three_in_a_row_shorten_by_a_step_and_one_wrong_lengthens_by_one()
    {
        double at = Staircase.Nearest(1.3);
        Glance Look(double seconds, bool right) => new(4, Form.Dice, seconds, right);
        Assert.Equal(at, Staircase.Next([], 1.3), 9);
        Assert.Equal(at, Staircase.Next([Look(at, true), Look(at, true)], 1.3), 9);
        Assert.Equal(at / 1.25, Staircase.Next([Look(at, true), Look(at, true), Look(at, true)], 1.3), 9);
        Assert.Equal(at * 1.25, Staircase.Next([Look(at, true), Look(at, true), Look(at, false)], 1.3), 9);
        // A frame more than was meant is still the same step, and does not creep.
        Assert.Equal(at / 1.25, Staircase.Next([Look(at + .016, true), Look(at + .008, true), Look(at + .012, true)], 1.3), 9);
        Assert.Equal(ShowTimes.Shortest, Staircase.Next([Look(.35, true), Look(.35, true), Look(.35, true)], 1), 9);
        Assert.Equal(ShowTimes.Longest, Staircase.Next([Look(5, false)], 1), 9);
    }

    [Fact]
    public void The_threshold_finds_a_viewer_and_calls_few_glimpses_a_guess()
    {
        foreach (double threshold in new[] { .6, 1.2, 2.4 })
        {
            var errors = new List<double>();
            for (int seed = 1; seed <= 40; seed++)
            {
                var rng = new Rng((ulong)seed);
                var found = Assert.Single(GlimpseThreshold.Of(Looks(6, Form.Scatter, threshold, 50, 2, ref rng)));
                Assert.False(found.IsGuess);
                errors.Add(Math.Log(found.Seconds / threshold));
            }
            Assert.InRange(errors.Average(), -.12, .12);
            Assert.True(Math.Sqrt(errors.Average(e => e * e)) < .25, $"{threshold}: {Math.Sqrt(errors.Average(e => e * e))}");
        }
        Assert.True(GlimpseThreshold.Of([new(3, Form.Dice, 1, true)])[0].IsGuess);
    }

    [Fact]
    public void A_threshold_borrows_from_its_neighbours_while_it_is_little_known()
    {
        var rng = new Rng(3);
        var five = Looks(5, Form.Scatter, 3, 40, 2, ref rng);
        Glance[] one = [new(6, Form.Scatter, 1, true)];
        double alone = GlimpseThreshold.Of(one)[0].Seconds, beside = GlimpseThreshold.Of([.. five, .. one]).First(t => t.Number == 6).Seconds;
        Assert.True(beside > 1.5 * alone, $"{alone} alone, {beside} beside a slow five");
        // Many glimpses of her own outweigh the neighbour.
        var own = Looks(6, Form.Scatter, .5, 60, 1, ref rng);
        Assert.True(GlimpseThreshold.Of([.. five, .. own]).First(t => t.Number == 6).Seconds < .8);
        var known = GlimpseThreshold.Of(five);
        Assert.Equal(known[0].Seconds, GlimpseThreshold.Borrowed(6, Form.Scatter, known, 2), 9);
        Assert.Equal(2, GlimpseThreshold.Borrowed(8, Form.Scatter, known, 2));
        Assert.Equal(2, GlimpseThreshold.Borrowed(6, Form.Dice, known, 2));
    }

    [Fact]
    public void Only_notes_with_a_shown_time_are_glimpses()
    {
        var at = new DateTimeOffset(2026, 3, 1, 9, 0, 0, TimeSpan.Zero);
        Observation Of(Ask ask, double? seconds, Source source) => new(at, ask, Seen.How(Outcome.SawIt), seconds, source);
        var glances = Glance.Of([Of(new(AskKind.Say, 4, Form.Dice), 1.2, Source.Glimpse), Of(new(AskKind.Part, 10, 6, Form.TenFrame), .8, Source.Glimpse),
            Of(new(AskKind.Say, 4, Form.Dice), null, Source.Glimpse), Of(new(AskKind.Say, 4, Form.Dice), 2, Source.Table)]).ToList();
        Assert.Equal([new(4, Form.Dice, 1.2, true), new(6, Form.TenFrame, .8, true)], glances);
    }

    private static CheckedReading Read(string table, string players = "[{}]", string level = "name") =>
        Catalogue.Read($$"""{"format":"allowance-setup/1","game":"glimpse","level":"{{level}}","table":{{table}},"players":{{players}}}""");

    [Theory]
    [InlineData("name", "say 4 dice")]
    [InlineData("toFive", "part 5 4 dice")]
    [InlineData("toTen", "part 10 4 dice")]
    [InlineData("oneMore", "on 4 1 dice")]
    [InlineData("oneFewer", "back 4 1 dice")]
    [InlineData("howSeen", "say 4 dice")]
    public void Each_level_asks_in_its_way(string level, string ask)
    {
        var setup = Read("""{"range":[4,4],"forms":["dice"]}""", level: level).Setup!;
        Assert.Equal(ask, Assert.Single(((Glimpse)Catalogue.Of(setup)).Calls(setup, 0)).Asks[0].ToString());
    }

    [Theory]
    [InlineData("""{"range":[6,9]}""", "[{}]", "toFive", "table.range", "[0,5]")]
    [InlineData("""{"range":[7,9],"forms":["five-frame"]}""", "[{}]", "name", "table.forms", "[\"scatter\"]")]
    [InlineData("""{"forms":["beads"]}""", "[{}]", "name", "table.forms", null)]
    [InlineData("""{"showMs":200}""", "[{}]", "name", "table.showMs", "350")]
    [InlineData("""{}""", "[{},{},{},{},{},{},{},{},{}]", "name", "table.answers", "\"atOnce\"")]
    [InlineData("""{"answers":"atOnce"}""", "[{},{\"allowance\":{\"range\":[1,3]}}]", "name", "players[1].allowance.range", "[1,5]")]
    public void Refuses_with_the_nearest_that_works(string table, string players, string level, string path, string? nearest)
    {
        var problem = Read(table, players, level).Problems[0];
        Assert.Equal(path, problem.Path);
        if (nearest is not null) Assert.Equal(nearest, problem.Nearest!.ToJsonString());
    }

    [Fact]
    public void A_group_of_thirty_answers_each_picture_at_once()
    {
        var setup = Read("""{"answers":"atOnce","looks":8}""", $"[{string.Join(',', Enumerable.Repeat("{}", 30))}]").Setup!;
        var run = setup.Ready().Compile().Start(0);
        var rng = new Rng(1);
        int turns = 0;
        while (run.Next.Kind != StepKind.Over)
        {
            run.Deal(run.Draw(ref rng));
            var asks = run.Asks(run.Moves[0]);
            Assert.Equal(Enumerable.Range(0, 30), asks.Select(a => a.Seat));
            Assert.Single(asks.Select(a => a.Ask).Distinct());
            run.Apply(run.Moves[0], true);
            turns++;
        }
        Assert.Equal(8, turns);
    }

    [Fact]
    public void A_group_of_thirty_is_asked_one_by_one_and_nobody_is_left_out()
    {
        var setup = Setup.Default(Catalogue.Data.First(f => f.Id == "glimpse"), [.. Enumerable.Range(0, 30).Select(_ => Seat.Child("", 6))]) with { LevelId = "howSeen" };
        setup = setup.With("answers", ((ChoiceKind)setup.Frame.Knob("answers")!.Kind)["atOnce"]);
        foreach (var level in setup.Frame.Levels)
        {
            if ((setup with { LevelId = level.Id }).Problems().Count > 0) continue;
            var run = (setup with { LevelId = level.Id }).Ready().Compile().Start(0);
            var rng = new Rng(1);
            run.Deal(run.Draw(ref rng));
            var asks = run.Asks(run.Moves[0]);
            Assert.Equal(30, asks.Select(a => a.Seat).Distinct().Count());
            Assert.Single(asks.GroupBy(a => a.Seat).Select(g => g.Count()).Distinct());
        }
    }
}
