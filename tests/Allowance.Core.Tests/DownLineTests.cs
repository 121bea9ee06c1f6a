using Allowance.Core.Forecasts;
using Allowance.Core.Games;
using Allowance.Core.Learner;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;

namespace Allowance.Core.Tests;

public class DownLineTests
{
    private static CheckedReading Read(string table, string players = "[{}]", string level = "numbers") =>
        Catalogue.Read($$"""{"format":"allowance-setup/1","game":"downline","level":"{{level}}","table":{{table}},"players":{{players}}}""");

    private static Facts Facts(string table, string players = "[{}]")
    {
        var reading = Read(table, players);
        Assert.Empty(reading.Problems);
        return reading.Playable!.ExactFacts();
    }

    private static double Item(Facts facts, string name, int seat = 0) => ((NumberFact)((ListFact)facts.Find(name)!).Items[seat]).Value;

    // Worked by hand. A two-sided die on two sections: 2 ends at once, 1 leaves one roll more: 1 + 1/2.
    // Exactly: from 1 only a 1 ends it, two rolls on average: 1 + 2/2. Bouncing: E₀ = 1 + E₁/2, E₁ = 1 + E₁/2.
    [Theory]
    [InlineData("""{"sections":2,"dice":["d2"]}""", 1.5)]
    [InlineData("""{"sections":2,"dice":["d2"],"finish":"exact"}""", 2)]
    [InlineData("""{"sections":2,"dice":["d2"],"finish":"bounce"}""", 2)]
    [InlineData("""{"sections":1,"dice":["d6"],"finish":"exact"}""", 6)]
    [InlineData("""{"sections":10,"dice":[[1]]}""", 10)]
    [InlineData("""{"sections":3,"dice":["0-1"]}""", 6)]
    [InlineData("""{"sections":1000,"dice":[[100]]}""", 10)]
    // On the first of three there are two to go.
    [InlineData("""{"sections":3,"dice":[[1]],"begin":"on"}""", 2)]
    public void Mean_rolls_to_the_end_are_right(string table, double mean) => Assert.Equal(mean, Item(Facts(table), "turnsMean"), 9);

    [Fact]
    public void Two_equal_players_share_the_chances_by_who_begins()
    {
        // One section, a coin of 0 and 1: the first wins with 1/2 + 1/4 · 1/2 + … = 2/3.
        var facts = Facts("""{"sections":1,"dice":["0-1"]}""", "[{},{}]");
        Assert.Equal(2.0 / 3, Item(facts, "winChance"), 9);
        Assert.Equal(1.0 / 3, Item(facts, "winChance", 1), 9);
        // Together they roll 1/(1/2) = 2 times on average.
        Assert.Equal(2, facts.Turns!.Mean, 9);
        Assert.Equal(.5, Item(Facts("""{"sections":1,"dice":["0-1"],"first":"draw"}""", "[{},{}]"), "winChance"), 9);
    }

    /// <summary>
    /// Ones, or the end at once: 2/3, 2/9, 2/27 of the players are there after one, two, three rolls, and with the fourth
    /// all are. Who begins wins with 2/3 + 2/9 · 1/3 + 2/27 · 1/9 + 1/27 · 1/27.
    /// </summary>
    [Fact]
    public void What_shrinks_evenly_for_a_while_may_end_at_once() =>
        Assert.Equal(547.0 / 729, Item(Facts("""{"sections":4,"dice":[[1,4,4]]}""", "[{},{}]"), "winChance"), 12);

    [Fact]
    public void The_bench_names_who_takes_how_long_and_a_track_for_ten_minutes()
    {
        var setup = Read("""{"sections":20}""", """[{"name":"Otis"},{"allowance":{"dice":[[2]]}}]""").Setup!;
        string says = setup.Ready().InWords(setup.Ready().ExactFacts(), 40, Spending.Unlimited)!.Value.Says;
        Assert.Contains("Otis takes about 6 rolls to the end", says);
        Assert.Contains("place 2 takes about 10 rolls to the end", says);
        int sections = int.Parse(System.Text.RegularExpressions.Regex.Match(says, @"draw (\d+) sections").Groups[1].Value);
        // Ten minutes are fifteen turns of forty seconds.
        var drawn = setup.With("sections", new WholeValue(sections));
        Assert.InRange(drawn.Ready().ExactFacts().Turns!.Mean, 14.2, 15.8);
    }

    [Fact]
    public void With_equal_goes_both_may_be_there_and_nobody_is_first()
    {
        // One section, a coin each: a round ends it with 3/4; alone with 1/4 each, both with 1/4. Of those that end: a third each.
        var setup = Read("""{"sections":1,"dice":["0-1"],"ending":"equalGoes"}""", "[{},{}]").Setup!;
        var facts = setup.Ready().ExactFacts();
        Assert.Equal(1.0 / 3, Item(facts, "winChance"), 9);
        Assert.Equal(1.0 / 3, Item(facts, "winChance", 1), 9);
        Assert.Equal(2 * 4.0 / 3, facts.Turns!.Mean, 9);
        var played = Forecaster.Make(setup.Ready(), new LearnerAnswers(setup, new DateOnly(2026, 1, 1)), new ForecastOptions(Behaviour.Plain, 2, 20_000), new Facts());
        Assert.InRange(played.Wins[0], 1.0 / 3 - .015, 1.0 / 3 + .015);
        Assert.InRange(played.Tie, 1.0 / 3 - .015, 1.0 / 3 + .015);
        Assert.InRange(played.Turns.Mean, 8.0 / 3 - 4.5 * played.Turns.Error, 8.0 / 3 + 4.5 * played.Turns.Error);
    }

    [Theory]
    [InlineData("""{"sections":20,"dice":["d6"]}""", "[{},{}]")]
    [InlineData("""{"sections":12,"dice":["d6"],"finish":"exact"}""", """[{},{"allowance":{"dice":["0-3"]}},{"allowance":{"headStart":5}}]""")]
    [InlineData("""{"sections":15,"dice":["d6","d4"],"finish":"bounce"}""", """[{},{"allowance":{"dice":[[1,1,2,2,3,3]],"headStart":4}}]""")]
    [InlineData("""{"sections":30,"dice":["d6","d6"],"direction":"down"}""", """[{},{"allowance":{"dice":["d10"]}}]""")]
    public void Exact_and_played_agree(string table, string players)
    {
        var setup = Read(table, players).Setup!;
        var facts = setup.Ready().ExactFacts();
        var forecast = Forecaster.Make(setup.Ready(), new LearnerAnswers(setup, new(2026, 1, 1)), new ForecastOptions(Behaviour.Plain, 4, 40_000));
        for (int s = 0; s < setup.Seats.Length; s++)
        {
            double exact = Item(facts, "winChance", s), error = Math.Sqrt(exact * (1 - exact) / 40_000);
            Assert.InRange(forecast.Wins[s], exact - 5 * error, exact + 5 * error);
        }
        Assert.Equal(1, Enumerable.Range(0, setup.Seats.Length).Sum(s => Item(facts, "winChance", s)), 9);
        // The same turns, played: the exact distribution against the simulator's own count.
        var child = Forecaster.Make(setup.Ready(), new LearnerAnswers(setup, new(2026, 1, 1)), new ForecastOptions(Behaviour.Child, 4, 40_000));
        Assert.InRange(child.Turns.Mean, facts.Turns!.Mean - 5 * child.Turns.Error, facts.Turns.Mean + 5 * child.Turns.Error);
        Assert.Equal(facts.Turns.Quantile(.9), child.Turns.P90, 1.01);
    }

    [Fact]
    public void A_player_alone_takes_the_turns_that_the_equations_say()
    {
        foreach (var finish in Enum.GetValues<Finish>())
            foreach (var dice in new[] { new Dice(Die.Of(6)), new Dice(new Die([0, 1, 1, 2])), new Dice(Die.Of(4), new Die([0, 3])), new Dice(new Die([1, 4, 4])), new Dice(new Die([1, 1, 1, 1, 1, 20])) })
                for (int length = 1; length < 25; length++)
                    if (RaceFacts.Ends(dice, 0, length, finish))
                        Assert.Equal(RaceFacts.MeanTurns(dice, 0, length, finish), RaceFacts.Turns(dice, 0, length, finish, Spending.Unlimited).Mean, 1e-8);
    }

    [Theory]
    [InlineData("""{"sections":20,"dice":["d6","d6"],"finish":"exact"}""", "[{}]", "table.finish", "\"reach\"")]
    [InlineData("""{"dice":[[0,0]]}""", "[{}]", "table.dice", "[\"d6\"]")]
    [InlineData("""{"dice":["d6"],"sections":0}""", "[{}]", "table.sections", "1")]
    [InlineData("""{"sections":10}""", """[{},{"allowance":{"headStart":10}}]""", "players[1].allowance.headStart", "9")]
    [InlineData("""{"sections":20,"direction":"down","from":10}""", "[{}]", "table.from", "20")]
    [InlineData("""{"dice":["d200"]}""", "[{}]", "table.dice", "[\"d6\"]")]
    [InlineData("""{"dice":["d6","d6","d6","d6","d6"]}""", "[{}]", "table.dice", "[\"d6\",\"d6\",\"d6\",\"d6\"]")]
    [InlineData("""{}""", """[{"allowance":{"level":"back"}}]""", "players[0].allowance.level", "\"numbers\"")]
    public void Refuses_with_the_nearest_that_works(string table, string players, string path, string nearest)
    {
        var problem = Assert.Single(Read(table, players).Problems);
        Assert.Equal((path, nearest), (problem.Path, problem.Nearest!.ToJsonString()));
    }

    [Theory]
    [InlineData("blank", "{}", "say 4 dice")]
    [InlineData("numbers", "{}", "say 4 dice; on 0 4 line")]
    [InlineData("say", "{}", "say 4 dice; words 0 4")]
    [InlineData("back", "{}", "say 4 dice; back 20 4 line")]
    [InlineData("back", """{"begin":"before"}""", "say 4 dice; back 21 4 line")]
    [InlineData("numbers", """{"begin":"on"}""", "say 4 dice; on 1 4 line")]
    [InlineData("numbers", """{"faces":"numeral"}""", "say 4 numeral; on 0 4 line")]
    [InlineData("two", "{}", "join 4 1 dice; on 0 5 line")]
    [InlineData("numbers", """{"from":0}""", "say 4 dice")]
    [InlineData("numbers", """{"from":11}""", "say 4 dice; on 10 4 line")]
    public void Each_level_asks_in_its_way(string level, string table, string asks)
    {
        var setup = Read(table, level: level).Setup!;
        var run = setup.Ready().Compile().Start(0);
        run.Deal(4);
        if (run.Next.Kind == StepKind.Chance) run.Deal(1);
        Assert.Equal(asks, string.Join("; ", run.Asks(run.Moves[0]).Select(a => a.Ask)));
    }

    [Fact]
    public void The_longest_tracks_are_worked_out_in_time_to_be_read()
    {
        foreach (string finish in new[] { "reach", "exact", "bounce" })
            Assert.InRange(Item(Facts($$"""{"sections":1000,"dice":["d100"],"finish":"{{finish}}"}""", "[{},{},{},{}]"), "turnsMean"), 19, 200);
    }
}
