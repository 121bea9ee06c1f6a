using Allowance.Core.Forecasts;
using Allowance.Core.Games;
using Allowance.Core.Learner;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Tables;

namespace Allowance.Core.Tests;

public class GatherTests
{
    private static CheckedReading Read(string table, string players = "[{}]", string level = "one") =>
        Catalogue.Read($$"""{"format":"allowance-setup/1","game":"gather","level":"{{level}}","table":{{table}},"players":{{players}}}""");

    private static Setup Good(string table, string players = "[{}]", string level = "one")
    {
        var reading = Read(table, players, level);
        Assert.Empty(reading.Problems);
        return reading.Setup!;
    }

    private static Facts Facts(string table, string players = "[{}]", string level = "one") => Good(table, players, level).Ready().ExactFacts();

    // By hand. A die of 1 and 2 on two things: 1 + 1/2; exactly, the second needs a 1: 1 + 2/2. On three: E = 1 + (E₂ + E₁)/2.
    [Theory]
    [InlineData("""{"pool":2,"dice":["d2"]}""", 1.5, 2)]
    [InlineData("""{"pool":2,"dice":["d2"],"lastTake":"exact"}""", 2, 4)]
    [InlineData("""{"pool":3,"dice":["d2"]}""", 2.25, 3)]
    [InlineData("""{"pool":10,"dice":[[1]]}""", 10, 10)]
    [InlineData("""{"pool":1,"dice":["0-1"]}""", 2, 4)]
    [InlineData("""{"pool":1000,"dice":[[100]]}""", 10, 10)]
    [InlineData("""{"pool":1000,"dice":["d6"],"rounds":4}""", 4, 4)]
    [InlineData("""{"signDie":["+","-"],"rounds":5}""", 5, 5)]
    // One thing of each of two colours and a die that always shows 1: the first roll takes one, then each misses half the time.
    [InlineData("""{"dice":[[1]],"colourDie":[["red"],["blue"]],"pieces":{"red":1,"blue":1}}""", 3, 5)]
    [InlineData("""{"dice":[[1]],"colourDie":[["red"],["red","blue"]],"pieces":{"red":1,"blue":1}}""", 2.75, 4)]
    public void Rolls_until_the_heap_is_gone_are_right(string table, double mean, double p90)
    {
        var facts = Facts(table);
        Assert.Equal(mean, facts.Number("rollsMean"), 9);
        Assert.Equal(p90, facts.Number("rollsP90"));
    }

    [Fact]
    public void Rolls_that_meet_nothing_of_the_colour_are_counted()
    {
        // After the first one, half of the rolls miss: one on average.
        Assert.Equal(1, Facts("""{"dice":[[1]],"colourDie":[["red"],["blue"]],"pieces":{"red":1,"blue":1}}""").Number("emptyRolls"), 9);
        // A rolled 0 is none of them.
        Assert.Equal(1, Facts("""{"dice":["0-1"],"colourDie":[["red"],["blue"]],"pieces":{"red":1,"blue":1}}""").Number("emptyRolls"), 9);
        Assert.Null(Facts("{}").Find("emptyRolls"));
    }

    [Theory]
    [InlineData("""{"pool":25}""", "[{},{}]", "one")]
    [InlineData("""{"pool":25,"lastTake":"exact"}""", """[{},{"allowance":{"dice":["0-3"]}},{"allowance":{"dice":["d6","d6"]}}]""", "one")]
    [InlineData("""{"pieces":{"red":4,"blue":5},"colourDie":[["red"],["blue"],["red","blue"],["green"]]}""", "[{}]", "colour")]
    [InlineData("""{"pieces":{"red":4,"blue":5,"green":2},"colourDie":[["red"],["blue"],["red","blue"],["green","blue"]],"dice":["0-3"]}""", """[{},{"allowance":{"dice":["d4"]}}]""", "colour")]
    [InlineData("""{"pool":40,"rounds":6,"dice":["d6"]}""", "[{},{}]", "one")]
    public void Exact_and_played_agree(string table, string players, string level)
    {
        var setup = Good(table, players, level);
        foreach (var behaviour in new[] { Behaviour.Plain, Behaviour.Perfect })
        {
            var exact = setup.Ready().ExactFacts(behaviour);
            // Without its exact facts the forecast plays.
            var played = Forecaster.Make(setup.Ready(), new LearnerAnswers(setup, new DateOnly(2026, 1, 1)), new ForecastOptions(behaviour, 4, 20_000), new Facts());
            Assert.InRange(exact.Number("rollsMean"), played.Turns.Mean - 4.5 * played.Turns.Error - 1e-9, played.Turns.Mean + 4.5 * played.Turns.Error + 1e-9);
            Assert.InRange(played.Turns.Sd, exact.Turns!.Sd * .95 - 1e-9, exact.Turns!.Sd * 1.05 + 1e-9);
        }
    }

    [Theory]
    [InlineData("one", """{"dice":["d6","d6"]}""", "say 8 dice; take 8 objects")]
    [InlineData("two", "{}", "say 8 dice; take 8 objects")]
    [InlineData("two-on", "{}", "join 5 3 dice; take 8 objects")]
    [InlineData("two-on", """{"pool":6}""", "join 5 3 dice; take 6 objects")]
    [InlineData("two-on", """{"pool":6,"lastTake":"exact","rounds":3}""", "join 5 3 dice")]
    [InlineData("two-on", """{"total":true}""", "join 5 3 dice; take 8 objects; join 8 4 objects")]
    public void A_roll_asks_by_level(string level, string table, string asks)
    {
        var setup = Good(table, """[{"allowance":{"headStart":4}}]""", level);
        var run = setup.Ready().Compile().Start(0);
        run.Deal(5);
        run.Deal(3);
        Assert.Equal(asks, string.Join("; ", run.Asks(run.Moves.Single()).Select(a => a.Ask)));
    }

    [Fact]
    public void Twice_takes_as_many_again_as_she_has_and_half_gives_half_of_them_back()
    {
        var run = Good("""{"rounds":4,"pool":12,"signDie":["+","×2","÷2","-"]}""", level: "sign").Ready().Compile().Start(0);
        Assert.Equal("say 5 dice; take 5 objects", Turn(5, 0));
        Assert.Equal("double 5 objects; take 5 objects", Turn(3, 1));
        Assert.Equal(10, run.Points(0));
        // Half of ten go back; then twice five, with seven left, is five again.
        Assert.Equal("share 10 2 objects; take 5 objects", Turn(1, 2));
        Assert.Equal("double 5 objects; take 5 objects", Turn(6, 1));
        Assert.Equal(10, run.Points(0));

        string Turn(int roll, int face)
        {
            run.Deal(roll);
            run.Deal(face);
            string asks = string.Join("; ", run.Asks(run.Moves.Single()).Select(a => a.Ask));
            run.Apply(run.Moves.Single(), true);
            return asks;
        }
    }

    [Fact]
    public void Minus_gives_back_what_she_has_and_never_more()
    {
        var setup = Good("""{"rounds":2,"signDie":"+-"}""", level: "sign");
        var run = setup.Ready().Compile().Start(0);
        run.Deal(3);
        Assert.Equal(["plus", "minus"], run.Possibilities.Select(p => p.Label));
        run.Deal(0);
        run.Apply(run.Moves.Single(), true);
        Assert.Equal(3, run.Points(0));
        run.Deal(5);
        run.Deal(1);
        Assert.Equal("say 5 dice; take 3 objects; gone 3 3 objects", string.Join("; ", run.Asks(run.Moves.Single()).Select(a => a.Ask)));
        run.Apply(run.Moves.Single(), true);
        Assert.Equal((0, 30, StepKind.Over), (run.Points(0), run.Left, run.Next.Kind));
    }

    [Fact]
    public void With_two_colours_she_chooses_and_best_takes_most()
    {
        var setup = Good("""{"dice":["d6"],"colourDie":[["red","blue"]],"pieces":{"red":2,"blue":5}}""");
        var run = setup.Ready().Compile().Start(0);
        run.Deal(4);
        run.Deal(0);
        Assert.Equal(2, run.Moves.Count);
        Assert.Equal([("red", 0), ("blue", 1)], Assert.Single(run.Zones.OfType<DiceRolled>()).Patches);
        var rng = new Allowance.Core.Numbers.Rng(1);
        Assert.Equal(1, run.Best(ref rng).Pick);
        run.Apply(run.Read([0]).Move!.Value, true);
        Assert.Equal((2, 5), (run.Points(0), run.Left));
    }

    [Theory]
    [InlineData("""{"dice":["d6","d6"],"lastTake":"exact"}""", "table.lastTake", "partial")]
    [InlineData("""{"dice":[[0]]}""", "table.dice", null)]
    [InlineData("""{"colourDie":[["red"]],"pieces":{"red":3,"blue":3}}""", "table.colourDie", null)]
    [InlineData("""{"colourDie":[["red"]],"pieces":{"red":3},"pool":7}""", "table.pool", "3")]
    [InlineData("""{"colourDie":[["red"]],"signDie":["+"]}""", "table.signDie", null)]
    [InlineData("""{"colourDie":[["a"],["b"],["c"],["d"]],"pieces":{"a":40,"b":40,"c":40,"d":40}}""", "table.pieces", null)]
    [InlineData("""{"colourDie":[["a","b","c"]]}""", "table.colourDie", null)]
    [InlineData("""{"signDie":["x"]}""", "table.signDie", null)]
    [InlineData("""{"signDie":["+","×3"]}""", "table.signDie", null)]
    [InlineData("""{"pieces":{"r2":4}}""", "table.pieces.r2", null)]
    public void What_would_not_end_or_cannot_be_read_is_refused(string table, string path, string? nearest)
    {
        var problem = Assert.Single(Read(table).Problems);
        Assert.Equal(path, problem.Path);
        if (nearest is not null) Assert.Equal(nearest, problem.Nearest!.ToString());
    }

    [Fact]
    public void Faces_that_show_the_same_are_one_to_a_referee()
    {
        var setup = Good("{}", level: "colour");
        var run = setup.Ready().Compile().Start(0);
        run.Deal(3);
        Assert.Equal([("red", 2), ("yellow", 2), ("blue", 2)], run.Possibilities.Select(p => (p.Label, p.Ways)));
        var sign = Good("{}", level: "sign");
        var plus = sign.Ready().Compile().Start(0);
        plus.Deal(3);
        Assert.Equal([("plus", 3), ("minus", 1)], plus.Possibilities.Select(p => (p.Label, p.Ways)));
    }

    [Theory]
    [InlineData("""{"pool":4}""", 5, "How many? Take all that are left.")]
    [InlineData("""{"pool":4}""", 4, "How many? Take that many.")]
    [InlineData("""{"pool":4,"lastTake":"exact"}""", 5, "How many? More than are left: none this time.")]
    [InlineData("""{"pieces":{"red":2,"blue":2},"colourDie":[["red"],["blue"]],"dice":["d6"]}""", 3, "How many? Take all red that are left.")]
    [InlineData("""{"signDie":["-"],"rounds":2}""", 3, "How many? There is none to give back.")]
    public void A_roll_of_more_than_there_are_is_told_so(string table, int rolled, string says)
    {
        var run = Good(table, level: table.Contains("colour") ? "colour" : "one").Ready().Compile().Start(0);
        run.Deal(rolled);
        if (run.Next.Kind == StepKind.Chance) run.Deal(run.Possibilities[0].Outcome);
        Assert.Equal(says, run.Says);
    }

    [Fact]
    public void Nobody_comes_to_more_than_a_thousand()
    {
        var problem = Assert.Single(Read("""{"pool":990}""", """[{},{"allowance":{"headStart":20}}]""").Problems);
        Assert.Equal(("players[1].allowance.headStart", "10"), (problem.Path, problem.Nearest!.ToJsonString()));
    }

    [Fact]
    public void Ten_minutes_are_told_in_things()
    {
        var setup = Good("""{"pool":20}""", "[{},{}]");
        string Says(double secondsATurn) => setup.Ready().InWords(setup.Ready().ExactFacts(), secondsATurn, Spending.Unlimited)!.Value.Says;
        // Fifteen rolls of 3.5 take about 52.5 things, and the last roll takes fewer.
        Assert.Contains("For about ten minutes put out 51 things.", Says(40));
        Assert.Equal(15, Facts("""{"pool":51}""").Number("rollsMean"), 0);
        // Nobody puts out the 173 that fifty rolls would take: a game of 6.2 rolls at twelve seconds is played eight times.
        Assert.Contains("Ten minutes are about 8 such games.", Says(12));
    }
}
