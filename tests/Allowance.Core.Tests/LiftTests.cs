using Allowance.Core.Games;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;

namespace Allowance.Core.Tests;

public class LiftTests
{
    private static CheckedReading Read(string table, string players = "[{}]") =>
        Catalogue.Read($$"""{"format":"allowance-setup/1","game":"lift","table":{{table}},"players":{{players}}}""");

    private static Facts Facts(string table)
    {
        var reading = Read(table);
        Assert.Empty(reading.Problems);
        return reading.Playable!.ExactFacts();
    }

    // One floor each way and sixes never missing: the first roll is always out at the top, with 3.5 dots.
    // With coins of 0 and 1 one floor each way, up first: top with 1/2 + 1/4 · 1/2 + … = 2/3, two rolls on average.
    [Theory]
    [InlineData("""{"up":1,"down":1}""", 1, 1, 3.5)]
    [InlineData("""{"up":1,"down":1,"upDice":["0-1"],"downDice":["0-1"]}""", 2, 2.0 / 3, 1)]
    [InlineData("""{"up":3,"down":5,"upDice":[[2]],"downDice":[[1]]}""", 3, 1, 5)]
    // Out at once, or two floors up and one down, and out with the fifth time up at the latest: 1/2 · 1 + 1/4 · 3 + 1/8 · 5 + 1/16 · 7 + 1/16 · 9 rolls;
    // 11 dots each time it goes up, 1 each time it goes down: 11 · 31/16 + 15/16.
    [InlineData("""{"up":6,"down":4,"upDice":[[2,20]],"downDice":[[1]]}""", 2.875, 1, 22.25)]
    public void Known_rides_are_right(string table, double rolls, double top, double dots)
    {
        var facts = Facts(table);
        Assert.Equal(rolls, facts.Number("rollsMean"), 9);
        Assert.Equal(top, facts.Number("pTop"), 9);
        Assert.Equal(dots, facts.Number("dotsMean"), 9);
        Assert.Equal(facts.Turns!.Mean, facts.Number("rollsMean"), 8);
    }

    [Theory]
    [InlineData("""{"up":6,"down":6}""")]
    [InlineData("""{"up":10,"down":4,"upDice":["d4"],"downDice":["0-3"]}""")]
    [InlineData("""{"up":9,"down":12,"upDice":["d6","d4"],"downDice":["d10"]}""")]
    public void Exact_and_played_agree(string table)
    {
        var setup = Read(table, "[{},{}]").Setup!;
        var facts = setup.Ready().ExactFacts();
        var game = setup.Ready().Compile();
        double rolls = 0, squares = 0, top = 0, dots = 0;
        const int games = 30_000;
        for (int i = 0; i < games; i++)
        {
            var rng = Rng.ForGame(3, i);
            var run = game.Start(0);
            while (run.Next.Kind != StepKind.Over)
            {
                if (run.Next.Kind == StepKind.Chance) run.Deal(run.Draw(ref rng));
                else
                {
                    dots += run.Moves[0].Pick;
                    run.Apply(run.Moves[0], true);
                }
            }
            rolls += run.Turns;
            squares += (double)run.Turns * run.Turns;
            top += run.Says.Contains("top", StringComparison.Ordinal) ? 1 : 0;
        }
        double mean = facts.Number("rollsMean"), sd = facts.Number("rollsSd"), p = facts.Number("pTop");
        Assert.InRange(rolls / games, mean - 5 * sd / Math.Sqrt(games), mean + 5 * sd / Math.Sqrt(games));
        Assert.Equal(sd, Math.Sqrt(squares / games - rolls / games * (rolls / games)), .1 * sd);
        Assert.InRange(top / games, p - 5 * Math.Sqrt(p * (1 - p) / games), p + 5 * Math.Sqrt(p * (1 - p) / games));
        Assert.Equal(facts.Number("dotsMean"), dots / games, .02 * facts.Number("dotsMean"));
        Assert.Equal(facts.Turns!.Quantile(.9), facts.Number("rollsP90"));
    }

    [Theory]
    [InlineData("""{"upDice":[[1]],"downDice":[[1]]}""", "table.downDice")]
    [InlineData("""{"upDice":[[0]]}""", "table.upDice")]
    [InlineData("""{"up":200}""", "table.up")]
    [InlineData("""{"keepCount":"floors"}""", "table.keepCount")]
    public void What_never_ends_or_cannot_be_is_refused(string table, string path) => Assert.Equal(path, Assert.Single(Read(table).Problems).Path);

    // By following all chances roll by roll.
    [Theory]
    [InlineData("{}", 16.7762652445)]
    [InlineData("""{"up":6,"down":6}""", 8.0167487890)]
    public void As_it_is_left_it_never_ends_with_the_first_roll(string table, double rolls)
    {
        Assert.Equal(rolls, Read(table).Setup!.Ready().ExactFacts().Number("rollsMean"), 8);
        Assert.True(LiftFirst(table) == (table != "{}"));

        static bool LiftFirst(string table)
        {
            var run = Read(table).Setup!.Ready().Compile().Start(0);
            run.Deal(6);
            run.Apply(run.Moves[0], true);
            return run.Next.Kind == StepKind.Over;
        }
    }

    [Fact]
    public void A_ride_is_asked_up_and_down_in_turn_whoever_rolls()
    {
        var setup = Read("""{"up":6,"down":6}""", "[{},{\"allowance\":{\"support\":\"line\"}}]").Setup!;
        var run = setup.Ready().Compile().Start(0);
        run.Deal(2);
        Assert.Equal(["say 2 dice", "on 6 2 line"], run.Asks(run.Moves[0]).Select(a => a.Ask.ToString()));
        run.Apply(run.Moves[0], true);
        run.Deal(5);
        Assert.Equal([(1, "say 5 dice +line"), (1, "back 8 5 line +line")], run.Asks(run.Moves[0]).Select(a => (a.Seat, a.Ask.ToString())));
        run.Apply(run.Moves[0], true);
        run.Deal(6);
        run.Apply(run.Moves[0], true);
        run.Deal(6);
        run.Apply(run.Moves[0], true);
        Assert.Equal(StepKind.Chance, run.Next.Kind);
        run.Deal(6);
        run.Apply(run.Moves[0], true);
        Assert.Equal("Roll: it goes down.", run.Next.Kind == StepKind.Over ? "" : run.Says);
    }

    [Theory, InlineData("rolls", "Out at the top: 1 roll."), InlineData("dots", "Out at the top: 6 dots.")]
    public void What_is_counted_is_told_at_the_door(string keep, string says)
    {
        var setup = Read($$"""{"up":4,"down":4,"keepCount":"{{keep}}"}""").Setup!;
        var run = setup.Ready().Compile().Start(0);
        run.Deal(6);
        run.Apply(run.Moves[0], true);
        Assert.Equal(says, run.Says);
    }

    [Fact]
    public void How_many_floors_fill_ten_minutes_is_said()
    {
        var setup = Read("{}").Setup!;
        Assert.Matches(@"For about ten minutes take \d+ floors each way\.", setup.Ready().InWords(setup.Ready().ExactFacts(), 12, Spending.Unlimited)!.Value.Says);
    }

    [Theory]
    [InlineData("""{"up":30,"down":30,"upDice":["0-1"],"downDice":["0-1"]}""")]
    [InlineData("""{"up":40,"down":25}""")]
    public void The_spread_of_a_long_ride_has_the_mean_that_equations_give(string table)
    {
        var setup = Catalogue.Read($$"""{"format":"allowance-setup/1","game":"lift","table":{{table}}}""").Setup!;
        var facts = setup.Ready().ExactFacts();
        Assert.Equal(1, Enumerable.Range(0, facts.Turns!.Length).Sum(t => facts.Turns[t]), 9);
        Assert.Equal(facts.Number("rollsMean"), facts.Turns.Mean, facts.Number("rollsMean") * 1e-8);
    }
}
