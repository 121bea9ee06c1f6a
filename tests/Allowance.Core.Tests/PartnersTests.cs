using Allowance.Core.Asks;
using Allowance.Core.Forecasts;
using Allowance.Core.Games;
using Allowance.Core.Learner;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;

namespace Allowance.Core.Tests;

/// <summary>The rules of Partners, and its exact figures against play.</summary>
public class PartnersTests
{
    private static Forecast Plain(Setup setup, int samples = 20_000) =>
        Forecaster.Make(setup.Ready(), new LearnerAnswers(setup, new DateOnly(2026, 1, 1)), new ForecastOptions(Behaviour.Plain, 3, samples));

    private static Run Table(Setup setup, params int[] cards)
    {
        var run = setup.Ready().Compile().Start(0);
        foreach (int card in cards) run.Deal(card);
        return run;
    }

    [Theory]
    [InlineData("spot", "[2,3]", true)]
    [InlineData("spot", "[3,3]", true)]
    [InlineData("spot", "[3,4]", false)]
    [InlineData("memory", "[2,3]", true)]
    [InlineData("memory", "[2,4]", false)]
    [InlineData("call", "[2,3]", true)]
    public void Simulated_ends_agree_with_exact_ones(string mode, string layout, bool refill)
    {
        var setup = Setups.FromJson($$"""{"mode":"{{mode}}","layout":{{layout}},"refill":{{(refill ? "true" : "false")}}}""");
        var exact = setup.Ready().ExactFacts();
        var f = Plain(setup with { }, 20_000);
        double stuck = exact.Number("pStuck");
        var simulated = Forecaster.Make(setup.Ready(), new LearnerAnswers(setup, new DateOnly(2026, 1, 1)), new ForecastOptions(Behaviour.Plain, 3, 20_000), new Facts());
        Assert.InRange(simulated.Stuck, stuck - 4 * Math.Sqrt(stuck * (1 - stuck) / 20_000) - 1e-9, stuck + 4 * Math.Sqrt(stuck * (1 - stuck) / 20_000) + 1e-9);
        var left = (NumberFact)simulated.Facts.Find("leftMean")!;
        Assert.InRange(left.Value, exact.Number("leftMean") - 4 * left.Error - 1e-9, exact.Number("leftMean") + 4 * left.Error + 1e-9);
        Assert.Equal(stuck, f.Stuck, 12);
    }

    [Fact]
    public void Exact_turns_agree_with_simulated_ones()
    {
        var setup = Setups.FromJson("""{"layout":[2,4]}""");
        var exact = Plain(setup);
        var simulated = Forecaster.Make(setup.Ready(), new LearnerAnswers(setup, new DateOnly(2026, 1, 1)), new ForecastOptions(Behaviour.Plain, 3, 20_000), new Facts());
        Assert.Equal(0, exact.Turns.Error);
        Assert.InRange(exact.Turns.Mean, simulated.Turns.Mean - 4 * simulated.Turns.Error, simulated.Turns.Mean + 4 * simulated.Turns.Error);
        Assert.Equal("exact", exact.Method);
    }

    [Theory]
    [InlineData("{\"mode\":\"run\",\"layout\":[3,4]}", 10)]
    [InlineData("{\"mode\":\"run\",\"layout\":[2,3],\"target\":7,\"deck\":{\"counts\":{\"0\":3,\"1\":4,\"3\":4,\"5\":2}}}", 7)]
    public void A_turn_of_run_reaches_the_target_as_often_as_counted(string table, int target)
    {
        var setup = Setups.FromJson(table, level: "run");
        double exact = setup.Ready().ExactFacts().Number("pRun");
        int reached = 0;
        const int games = 20_000;
        for (int g = 0; g < games; g++)
        {
            var run = Table(setup);
            var rng = Rng.ForGame(4, g);
            while (run.Turns == 0 && run.Points(0) == 0 && run.Next.Kind != StepKind.Over)
            {
                if (run.Next.Kind == StepKind.Chance) run.Deal(run.Draw(ref rng));
                else run.Apply(run.Plain(ref rng), true);
            }
            if (run.Points(0) > 0) reached++;
        }
        Assert.InRange((double)reached / games, exact - 4 * Math.Sqrt(exact * (1 - exact) / games), exact + 4 * Math.Sqrt(exact * (1 - exact) / games));
        Assert.Equal(target, setup.Get<WholeValue>("target").Number);
    }

    [Fact]
    public void Any_number_of_cards_moves_as_often_as_counted()
    {
        var setup = Setups.FromJson("""{"addends":"any","layout":[1,4]}""", level: "any");
        double exact = setup.Ready().ExactFacts().Number("pMove");
        var simulated = (NumberFact)Forecaster.Make(setup.Ready(), new LearnerAnswers(setup, new DateOnly(2026, 1, 1)), new ForecastOptions(Behaviour.Plain, 3, 20_000), new Facts()).Facts.Find("pMove")!;
        Assert.InRange(simulated.Value, exact - 4 * simulated.Error, exact + 4 * simulated.Error);
    }

    [Fact]
    public void Any_draws_each_open_set_alike()
    {
        // 1 2 3 4 6 9 make ten as 1 9, 4 6, 1 3 6, 1 2 3 4.
        var setup = Setups.FromJson("""{"addends":"any","layout":[2,3],"refill":false,"deck":{"counts":{"1":1,"2":1,"3":1,"4":1,"6":1,"9":1}}}""", level: "any");
        var run = Table(setup, 1, 2, 3, 4, 6, 9);
        Assert.Equal(4, run.Moves.Count);
        var rng = Rng.ForGame(1, 1);
        var drawn = Enumerable.Range(0, 8_000).Select(_ => run.Plain(ref rng).Items).CountBy(i => i).ToList();
        Assert.Equal(4, drawn.Count);
        Assert.All(drawn, d => Assert.InRange(d.Value, 1_800, 2_200));
        Assert.Equal(4, System.Numerics.BitOperations.PopCount(run.Best(ref rng).Items));
    }

    [Fact]
    public void Large_targets_count_sets_where_patterns_do_not_reach()
    {
        var setup = Setups.FromJson("""{"addends":"any","target":20,"layout":[2,3],"refill":false,"deck":{"counts":{"1":1,"2":1,"3":1,"4":1,"16":1,"19":1,"20":1}}}""", level: "any");
        var run = Table(setup, 20, 2, 3, 4, 16, 19);
        // 4 16 only: 20 alone is one card, and 19 has no one here.
        var move = Assert.Single(run.Moves);
        var rng = Rng.ForGame(1, 1);
        Assert.Equal(move.Items, run.Plain(ref rng).Items);
    }

    [Fact]
    public void Taking_a_pair_asks_for_the_part_that_is_missing()
    {
        var run = Table(Setups.FromJson("""{"layout":[1,4],"refill":false,"form":"dice"}"""), 6, 3, 4, 9);
        var six = run.Read([0]);
        Assert.True(six.More);
        Assert.Contains("make 9, not 10", run.Read([0, 1]).Words, StringComparison.Ordinal);
        var move = run.Read([0, 2]).Move!.Value;
        Assert.Equal("part 10 6 dice", Assert.Single(run.Asks(move)).Ask.ToString());
        Assert.Equal("part 10 4 dice", Assert.Single(run.Asks(run.Read([2, 0]).Move!.Value)).Ask.ToString());
        run.Apply(move, true);
        Assert.Equal(2, run.Points(0));
        Assert.Equal(StepKind.Over, run.Next.Kind);
        Assert.True(run.Stuck);
    }

    [Fact]
    public void What_was_not_found_stays_and_the_turn_passes()
    {
        var run = Table(Setups.FromJson("""{"layout":[1,4],"refill":false}""", "[{},{}]"), 6, 3, 4, 9);
        run.Apply(run.Read([0, 2]).Move!.Value, false);
        Assert.Equal((0, 1, 1), (run.Points(0), run.Next.Seat, run.Turns));
        Assert.Equal(4, run.Left);
    }

    [Fact]
    public void Run_keeps_exactly_the_target_and_turns_back_past_it()
    {
        var run = Table(Setups.FromJson("""{"layout":[2,3],"refill":false}""", level: "run"));
        Turn(0, 6);
        Turn(1, 3);
        Assert.Equal(["join 6 3 numeral", "part 10 9 numeral"], run.Asks(new Move(0, 2)).Select(a => a.Ask.ToString()));
        Turn(2, 1);
        var keep = Assert.Single(run.Moves);
        Assert.Equal("join 6 3 1 numeral", Assert.Single(run.Asks(keep)).Ask.ToString());
        run.Apply(keep, true);
        Assert.Equal((3, 0, 0), (run.Points(0), run.Turns, run.Next.Seat));
        Turn(3, 8);
        Turn(4, 7);
        run.Apply(Assert.Single(run.Moves), true);
        Assert.Equal((3, 1), (run.Points(0), run.Turns));

        void Turn(int place, int number)
        {
            run.Apply(new Move(0, place), true);
            run.Deal(number);
        }
    }

    [Fact]
    public void Memory_shows_two_cards_and_hides_them_again()
    {
        var run = Table(Setups.FromJson("""{"layout":[2,2],"refill":false,"deck":{"counts":{"1":1,"4":1,"6":1,"9":1}}}""", "[{},{}]", "memory"));
        run.Apply(new Move(0, 0), true);
        run.Deal(6);
        run.Apply(new Move(0, 1), true);
        run.Deal(9);
        Assert.Equal((1, 1), (run.Turns, run.Next.Seat));
        Assert.Equal([6, 9, -1, -1], run.Zones[0].Items.Select(i => i.Value));
        run.Apply(new Move(0, 0), true);
        Assert.Equal(StepKind.Choice, run.Next.Kind);
        run.Apply(new Move(0, 2), true);
        run.Deal(4);
        var take = Assert.Single(run.Moves);
        Assert.Equal("part 10 6 numeral", Assert.Single(run.Asks(take)).Ask.ToString());
        run.Apply(take, true);
        Assert.Equal(2, run.Points(1));
    }

    [Theory, InlineData("cards", 3), InlineData("sets", 1)]
    public void Cards_are_counted_or_sets(string counted, int points)
    {
        var run = Table(Setups.FromJson($$"""{"layout":[1,3],"refill":false,"wins":"{{counted}}"}""", "[{},{}]", "any"), 2, 3, 5);
        run.Apply(run.Read([0, 1, 2]).Move!.Value, true);
        Assert.Equal(points, run.Points(0));
    }

    /// <summary>Being always right is one thing, remembering another.</summary>
    [Theory]
    [InlineData(Behaviour.Perfect)]
    [InlineData(Behaviour.Plain)]
    public void Who_remembers_more_needs_fewer_turns(Behaviour behaviour)
    {
        double[] turns = [.. new[] { "\"perfect\"", "4", "2", "\"none\"" }.Select(memory => Played(Setups.FromJson($$"""{"layout":[3,4],"refill":false,"memory":{{memory}}}""", level: "memory")))];
        Assert.All(turns.Zip(turns.Skip(1)), t => Assert.True(t.First < .95 * t.Second));

        double Played(Setup setup) => Forecaster.Make(setup.Ready(), new LearnerAnswers(setup, new DateOnly(2026, 1, 1)), new ForecastOptions(behaviour, 1, 2_000)).Turns.Mean;
    }

    [Fact]
    public void Each_place_plays_by_its_own_allowance()
    {
        var setup = Setups.FromJson("""{"layout":[1,4],"refill":false}""", """[{"allowance":{"target":7,"form":"dice"}},{"allowance":{"level":"same"}},{}]""");
        var run = Table(setup, 3, 4, 4, 6);
        Assert.Equal("part 7 3 dice", Assert.Single(run.Asks(run.Read([0, 1]).Move!.Value)).Ask.ToString());
        run.Apply(Move.Pass, false);
        Assert.Equal("match 4 numeral numeral", Assert.Single(run.Asks(run.Read([1, 2]).Move!.Value)).Ask.ToString());
        run.Apply(Move.Pass, false);
        Assert.Equal("part 10 6 numeral", Assert.Single(run.Asks(run.Read([3, 1]).Move!.Value)).Ask.ToString());
    }

    [Fact]
    public void Grown_ups_are_asked_nothing_and_are_always_right()
    {
        var setup = Setups.FromJson("{}", """[{"grownUp":true},{"age":5}]""");
        var f = Forecaster.Make(setup.Ready(), new LearnerAnswers(setup, new DateOnly(2026, 1, 1)), new ForecastOptions(Samples: 500));
        Assert.Empty(f.Players[0].Asks);
        Assert.Null(f.Players[0].Success);
        Assert.NotEmpty(f.Players[1].Asks);
    }

    [Fact]
    public void Turn_by_turn_levels_ask_as_the_table_of_asks_says()
    {
        foreach (var (level, kinds) in new (string, AskKind[])[] { ("same", [AskKind.Match]), ("spot", [AskKind.Part]), ("any", [AskKind.Join, AskKind.Part]), ("run", [AskKind.Join, AskKind.Part]), ("higher", [AskKind.Part]), ("write", [AskKind.Part]) })
        {
            var setup = Setups.FromJson("{}", level: level);
            var f = Plain(setup, 300);
            Assert.Equal(kinds.Order(), f.Players[0].Asks.Select(a => a.Ask.Kind).Distinct().Order());
        }
        Assert.True(Plain(Setups.FromJson("{}", level: "write"), 300).Minutes.Mean > Plain(Setups.FromJson("{}"), 300).Minutes.Mean + 3);
    }

    [Fact]
    public void The_audit_names_cards_that_can_never_be_paired()
    {
        var setup = Setups.FromJson("""{"deck":{"ranks":{"A":1,"2":2,"3":3,"4":4,"5":5,"6":6,"7":7,"8":8,"9":9,"Q":0}}}""");
        Assert.Equal("4 queens can never be paired to 10: they are in as zeros, but nothing counts as 10.", Assert.Single(Catalogue.Of(setup).Audit(setup)).Says);
        var whole = Setups.FromJson("""{"deck":{"ranks":{"A":1,"2":2,"3":3,"4":4,"5":5,"6":6,"7":7,"8":8,"9":9,"10":10,"Q":0}}}""");
        Assert.Empty(Catalogue.Of(whole).Audit(whole));
    }

    [Fact]
    public void Every_proposed_pack_has_a_partner_for_every_card()
    {
        for (int target = 3; target <= 30; target++)
            Assert.True(PairFacts.Balanced(Partners.PackFor(target).Counts, target), $"target {target}");
    }
}
