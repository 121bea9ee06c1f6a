using Allowance.Core.Asks;
using Allowance.Core.Forecasts;
using Allowance.Core.Games;
using Allowance.Core.Learner;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Tables;

namespace Allowance.Core.Tests;

/// <summary>Behind the Door: what is called, that every two parts come before any again, and what lies open.</summary>
public class DoorTests
{
    private static CheckedReading Read(string table, string level = "hidden", string players = "[{}]") =>
        Catalogue.Read($$"""{"format":"allowance-setup/1","game":"door","level":"{{level}}","table":{{table}},"players":{{players}}}""");

    private static Setup Good(string table, string level = "hidden", string players = "[{}]")
    {
        var reading = Read(table, level, players);
        Assert.Empty(reading.Problems);
        return reading.Setup!;
    }

    private static IReadOnlyList<Call> Calls(Setup setup, int seat = 0) => ((CalledFrame)Catalogue.Of(setup)).Calls(setup, seat);

    [Theory]
    // 0 to 7 seen; at either door twice as many; the ways 0 + 7, 1 + 6, 2 + 5, 3 + 4.
    [InlineData("hidden", "7", 8, 4)]
    [InlineData("two", "7", 16, 4)]
    [InlineData("peek", "7", 8, 4)]
    [InlineData("ways", "7", 4, 4)]
    [InlineData("ways", "10", 6, 6)]
    [InlineData("split", "7", 1, 1)]
    [InlineData("hidden", "[4,6]", 18, 3 + 3 + 4)]
    public void Every_way_to_part_it_can_be_called(string level, string whole, int calls, int bonds)
    {
        var setup = Good($$"""{"whole":{{whole}}}""", level);
        Assert.Equal(calls, Calls(setup).Count);
        Assert.Equal(bonds, setup.Ready().ExactFacts().Number("bonds"));
    }

    [Theory]
    [InlineData("split", "split 7 objects")]
    [InlineData("peek", "join 7 0 objects")]
    [InlineData("hidden", "part 7 0 objects")]
    [InlineData("two", "part 7 0 objects")]
    [InlineData("forehead", "part 7 7 objects")]
    [InlineData("ways", "split 7 objects")]
    public void Each_level_asks_its_own(string level, string ask) => Assert.Equal(ask, $"{Assert.Single(Calls(Good("""{"whole":7,"form":"objects"}""", level))[0].Asks)}");

    [Theory]
    [InlineData("hidden", "8")]
    [InlineData("two", "9")]
    [InlineData("hidden", "[3,5]")]
    [InlineData("peek", "6")]
    public void All_pairs_of_parts_come_before_any_comes_again(string level, string whole)
    {
        var setup = Good($$"""{"whole":{{whole}},"rounds":20}""", level);
        int bonds = (int)setup.Ready().ExactFacts().Number("bonds");
        for (int seed = 0; seed < 30; seed++)
        {
            var run = setup.Ready().Compile().Start(0);
            var rng = Rng.ForGame(seed, 0);
            var met = new List<(int, int)>();
            while (run.Next.Kind != StepKind.Over)
            {
                if (run.Next.Kind == StepKind.Chance) run.Deal(run.Draw(ref rng));
                else
                {
                    var ask = run.Asks(run.Moves[0])[0].Ask;
                    met.Add(ask.Kind == AskKind.Part ? (ask[0], Math.Min(ask[1], ask[0] - ask[1])) : (ask.Total, ask[1]));
                    run.Apply(run.Moves[0], true);
                }
            }
            Assert.Equal(20, met.Count);
            foreach (var round in met.Chunk(bonds)) Assert.Equal(round.Length, round.Distinct().Count());
        }
    }

    [Fact]
    public void What_is_hidden_cannot_be_seen()
    {
        foreach (string level in new[] { "hidden", "two" })
            foreach (var call in Calls(Good("""{"whole":6}""", level)))
            {
                var front = Assert.IsType<DoorFront>(Assert.Single(call.Lies));
                Assert.Equal(6, front.Whole!.Value);
                var closed = Assert.Single(front.Items, i => i.State == ItemState.Down);
                Assert.Equal(-1, closed.Value);
                Assert.Equal(call.Asks[0][1], Assert.Single(front.Items, i => i.State == ItemState.Up && i.Id != 2).Value);
            }
        // With both open the whole is what is asked, and stands nowhere.
        Assert.Null(((DoorFront)Calls(Good("""{"whole":6}""", "peek"))[2].Lies[0]).Whole);
    }

    [Fact]
    public void On_foreheads_each_sees_the_others_card_and_a_third_says_the_whole()
    {
        var setup = Good("""{"whole":9,"form":"numeral"}""", "forehead", "[{},{},{}]");
        var (first, third) = (Calls(setup)[2], Calls(setup, 2)[2]);
        Assert.Equal("part 9 7 numeral", $"{first.Asks[0]}");
        Assert.Equal("join 7 2 numeral", $"{third.Asks[0]}");
        var worn = ((Foreheads)first.Lies[0]).Heads;
        Assert.Equal([(0, ItemState.Down, -1), (1, ItemState.Up, 7)], worn.Select(h => (h.Seat!.Value, h.Card.State, h.Card.Value)));
        Assert.All(((Foreheads)third.Lies[0]).Heads, h => Assert.Equal(ItemState.Up, h.Card.State));
        // Times: 12 is 2 × 6, 3 × 4 and back; which fact it was her own card would tell.
        var times = Good("""{"whole":12,"form":"numeral","op":"product"}""", "forehead", "[{},{},{}]");
        Assert.Equal(["2 times 6", "3 times 4", "4 times 3", "6 times 2"], Calls(times).Select(c => c.Label));
        Assert.Equal("times * numeral to 12", $"{Calls(times)[0].Asks[0]}");
        Assert.Equal("times 6 2 numeral", $"{Calls(times, 2)[0].Asks[0]}");
    }

    [Fact]
    public void In_a_race_both_are_asked_for_their_own_card_and_the_first_takes_the_call()
    {
        var setup = Good("""{"whole":9,"claim":"firstSaid","winning":"compete","rounds":4}""", "forehead", "[{},{},{}]");
        Assert.True(Catalogue.Of(setup).IsRace(setup));
        var run = setup.Ready().Compile().Start(0);
        var rng = new Rng(1);
        // 2 and 7: who holds the 2 sees the 7, and the other way round.
        run.Deal(run.Possibilities.Single(p => p.Label == "2 and 7").Outcome);
        Assert.Equal("Together 9: who says her own first?", run.Says);
        Assert.All(((Foreheads)run.Zones[0]).Heads, h => Assert.Equal((ItemState.Down, -1), (h.Card.State, h.Card.Value)));
        Assert.Equal("2 and 7", Assert.Single(run.Helps));
        // In a forecast both are asked, and the third, who says the whole, is not; a tap names who was first.
        Assert.Equal([(0, "part 9 7 numeral"), (1, "part 9 2 numeral")], run.Asks(run.Plain(ref rng)).Select(a => (a.Seat, $"{a.Ask}")));
        Assert.Equal([0, 1], run.Moves.Select(m => m.Pick));
        var second = run.Read([1]).Move!.Value;
        Assert.Equal([(1, "part 9 2 numeral")], run.Asks(second).Select(a => (a.Seat, $"{a.Ask}")));
        run.Apply(second, true);
        Assert.Equal([0, 1, 0], Enumerable.Range(0, 3).Select(run.Points));
        // Nobody knew: the call is nobody's.
        run.Deal(run.Possibilities[0].Outcome);
        run.Apply(Move.Pass, false);
        Assert.Equal([0, 1, 0], Enumerable.Range(0, 3).Select(run.Points));
        Assert.Equal(2, run.Left);
        Assert.Contains("place 3", Assert.Single(Catalogue.Of(setup).Audit(setup)).Says, StringComparison.OrdinalIgnoreCase);
    }

    [Fact]
    public void Of_two_alike_none_is_first_more_often_and_of_others_the_older_one()
    {
        var alike = Raced("""{"age":5}""");
        Assert.Equal(5, alike.Turns.Mean);
        Assert.InRange(alike.Wins[0] - alike.Wins[1], -.03, .03);
        var unlike = Raced("""{"age":8}""");
        Assert.True(unlike.Wins[1] > .6, $"{unlike.Wins[1]}");

        static Forecast Raced(string other)
        {
            var setup = Good("""{"whole":9,"claim":"firstSaid","winning":"compete","rounds":5}""", "forehead", $$"""[{"age":5},{{other}}]""");
            return Forecaster.Make(setup.Ready(), new LearnerAnswers(setup, new(2026, 1, 1)), new ForecastOptions(Behaviour.Child, 1, 20_000));
        }
    }

    [Theory]
    [InlineData("""{"whole":9,"winning":"compete"}""", "forehead", "[{},{}]", "table.winning", "\"together\"")]
    [InlineData("""{"whole":9,"claim":"firstSaid"}""", "forehead", "[{}]", "table.claim", "\"mover\"")]
    [InlineData("""{"whole":9,"claim":"firstSaid"}""", "forehead", """[{},{"allowance":{"whole":8}}]""", "players[1].allowance.whole", "[9,9]")]
    [InlineData("""{"whole":9,"claim":"firstSaid"}""", "forehead", """[{},{"allowance":{"level":"hidden"}}]""", "players[1].allowance.level", "\"forehead\"")]
    public void A_race_is_for_two_who_look_at_one_whole(string table, string level, string players, string path, string nearest)
    {
        var problem = Assert.Single(Read(table, level, players).Problems);
        Assert.Equal((path, nearest), (problem.Path, problem.Nearest!.ToJsonString()));
    }

    [Fact]
    public void Ways_fill_up_until_all_are_found()
    {
        var run = Good("""{"whole":5}""", "ways").Ready().Compile().Start(0);
        var rng = new Rng(3);
        for (int found = 0; found < 3; found++)
        {
            run.Deal(run.Draw(ref rng));
            Assert.Equal((found, 3), Assert.Single(run.Zones.OfType<WaysFound>()) is var ways ? (ways.Found, ways.All) : default);
            run.Apply(run.Moves[0], true);
        }
        Assert.Equal(StepKind.Over, run.Next.Kind);
    }

    [Theory]
    [InlineData("""{"whole":30}""", "hidden", "table.whole", "20")]
    [InlineData("""{"whole":101}""", "hidden", "table.whole", "[100,100]")]
    [InlineData("""{"whole":[12,15],"form":"dice"}""", "hidden", "table.form", "\"numeral\"")]
    [InlineData("""{"whole":7,"form":"numeral","op":"product"}""", "forehead", "table.whole", "12")]
    [InlineData("""{"whole":[2,20],"form":"numeral"}""", "two", "table.whole", "[20,20]")]
    public void What_does_not_go_is_refused_with_what_does(string table, string level, string path, string nearest)
    {
        var problem = Assert.Single(Read(table, level).Problems);
        Assert.Equal(path, problem.Path);
        Assert.Equal(nearest, problem.Nearest!.ToJsonString());
    }
}
