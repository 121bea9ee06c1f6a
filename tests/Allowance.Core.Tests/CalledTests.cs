using Allowance.Core.Asks;
using Allowance.Core.Forecasts;
using Allowance.Core.Forms;
using Allowance.Core.Games;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Sittings;

namespace Allowance.Core.Tests;

/// <summary>What every caller keeps to, and the calls of Fives and Ones.</summary>
public class CalledTests
{
    /// <summary>Right with a chance that depends on the number alone.</summary>
    private sealed class ByNumber(Func<int, double> right) : IAnswers
    {
        public Answering For(int seat, Ask ask) => new([1 - right(ask[0]), 0, 0, 0, 0, right(ask[0])], [1, 1, 1, 1, 1, 1]);
    }

    private static Setup CountBox(string table, string level, string players = "[{}]")
    {
        var reading = Catalogue.Read($$"""{"format":"allowance-setup/1","game":"countbox","level":"{{level}}","table":{{table}},"players":{{players}}}""");
        Assert.Empty(reading.Problems);
        return reading.Setup!;
    }

    private static List<Ask> Played(Setup setup, long seed, IAnswers? beliefs = null)
    {
        var run = setup.Ready().Compile(beliefs).Start(0);
        var rng = Rng.ForGame(seed, 0);
        var asks = new List<Ask>();
        while (run.Next.Kind != StepKind.Over)
        {
            run.Deal(run.Draw(ref rng));
            asks.AddRange(run.Asks(run.Moves[0]).Select(a => a.Ask));
            run.Apply(run.Moves[0], true);
        }
        return asks;
    }

    [Fact]
    public void Every_call_comes_once_before_any_comes_again()
    {
        var setup = CountBox("""{"forms":["tally","rack"],"rounds":20}""", "tell");
        for (int seed = 0; seed < 50; seed++)
        {
            var asks = Played(setup, seed);
            Assert.Equal(20, asks.Count);
            Assert.Equal(20, asks.Distinct().Count());
        }
    }

    [Fact]
    public void No_number_twice_in_a_row_and_never_three_neighbours_in_order()
    {
        var setup = CountBox("""{"forms":["tally","rack"],"rounds":20}""", "tell");
        int inOrder = 0, all = 0;
        for (int seed = 0; seed < 200; seed++)
        {
            // The last few may leave no choice.
            var numbers = Played(setup, seed).Select(a => a[0]).Take(16).ToList();
            for (int i = 1; i < numbers.Count; i++) Assert.NotEqual(numbers[i - 1], numbers[i]);
            for (int i = 2; i < numbers.Count; i++)
            {
                Assert.False(numbers[i] - numbers[i - 1] == numbers[i - 1] - numbers[i - 2] && Math.Abs(numbers[i] - numbers[i - 1]) == 1, string.Join(' ', numbers));
                inOrder += numbers[i] - numbers[i - 1] == 1 ? 1 : 0;
                all++;
            }
        }
        Assert.InRange((double)inOrder / all, .02, .2);
    }

    [Fact]
    public void Calls_begin_at_her_edge()
    {
        var setup = CountBox("""{"forms":["tally"],"rounds":10}""", "tell");
        // 14 to 16 are her edge, what is below she knows, what is above is a stretch.
        var beliefs = new ByNumber(n => n < 14 ? .97 : n <= 16 ? .75 : .3);
        int known = 0, stretch = 0;
        for (int seed = 0; seed < 30; seed++)
        {
            var numbers = Played(setup, seed, beliefs).Select(a => a[0]).ToList();
            Assert.Equal(10, numbers.Distinct().Count());
            Assert.InRange(numbers[0], 14, 16);
            Assert.True(numbers.IndexOf(15) < numbers.IndexOf(18), string.Join(' ', numbers));
            known += numbers.IndexOf(12);
            stretch += numbers.IndexOf(18);
        }
        Assert.True(known < stretch - 30, $"{known} {stretch}");
    }

    [Theory]
    [InlineData("tell", "[13,13]", "say 13 tally")]
    [InlineData("show", "[13,13]", "take 13 tally")]
    [InlineData("joinOnes", "[16,18]", "join 16 1 tally; join 16 2 tally; join 17 1 tally")]
    [InlineData("takeOnes", "[12,12]", "gone 12 1 tally; gone 12 2 tally")]
    [InlineData("takeMost", "[12,13]", "gone 12 10 tally; gone 12 11 tally; gone 13 10 tally; gone 13 11 tally; gone 13 12 tally")]
    [InlineData("cross", "[12,12]", "join 6 6 tally; join 7 5 tally; join 8 4 tally; join 9 3 tally")]
    public void The_levels_of_fives_and_ones_ask_by_structure(string level, string numbers, string asks)
    {
        var setup = CountBox($$"""{"numbers":{{numbers}},"forms":["tally"]}""", level);
        Assert.Equal(asks, string.Join("; ", ((CountBox)Catalogue.Of(setup)).Calls(setup, 0).Select(c => c.Asks[0])));
    }

    [Fact]
    public void Only_the_last_level_goes_over_ten()
    {
        foreach (string level in new[] { "joinOnes", "takeOnes", "takeMost", "cross" })
        {
            var setup = CountBox("""{"crossing":"both"}""", level);
            foreach (var ask in ((CountBox)Catalogue.Of(setup)).Calls(setup, 0).Select(c => c.Asks[0]))
            {
                int ones = ask.Kind == AskKind.Join ? ask[0] % 10 + ask[1] % 10 : ask[0] % 10 - ask[1] % 10;
                bool crosses = ask.Kind == AskKind.Join ? ones > 10 || ones == 10 && ask[0] < 10 : ask[0] != 20 && ones < 0;
                Assert.True(crosses == (level == "cross"), ask.ToString());
                Assert.InRange(ask.Largest, 10, 20);
            }
        }
    }

    [Fact]
    public void The_longest_lists_of_calls_fit()
    {
        foreach (var level in Catalogue.All.OfType<CountBox>().First().Data.Levels)
        {
            var setup = CountBox("""{"crossing":"both","forms":["tally","fingers","double-ten-frame","rack"]}""", level.Id);
            Assert.InRange(((CountBox)Catalogue.Of(setup)).Calls(setup, 0).Count, 1, CalledFrame.MostCalls);
        }
        var all = Setup.Default(Catalogue.Data.First(f => f.Id == "glimpse"), Seat.Child("a")).With("range", new RangeValue(new(0, 20)));
        all = all.With("forms", new FormsValue(((FormsKind)all.Frame.Knob("forms")!.Kind).Offered));
        Assert.InRange(((Glimpse)Catalogue.Of(all)).Calls(all, 0).Count, 100, CalledFrame.MostCalls);
    }

    [Fact]
    public void Nothing_to_add_is_refused_with_numbers_that_work()
    {
        var problem = Assert.Single(Catalogue.Read("""{"format":"allowance-setup/1","game":"countbox","level":"joinOnes","table":{"numbers":[20,20]},"players":[{}]}""").Problems);
        Assert.Equal("table.numbers", problem.Path);
        Assert.Equal("[11,20]", problem.Nearest!.ToJsonString());
    }

    [Fact]
    public void Players_have_calls_of_their_own_and_the_same_number_of_turns()
    {
        var setup = CountBox("""{"rounds":4}""", "tell", """[{},{"allowance":{"level":"cross","forms":["rack"]}},{"grownUp":true}]""");
        var forecast = Forecaster.Make(setup.Ready(), new ByNumber(_ => .9), new ForecastOptions(Behaviour.Plain, Samples: 500));
        Assert.Equal("exact", forecast.Method);
        Assert.Equal(12, forecast.Turns.Mean);
        Assert.All(forecast.Players[0].Asks, a => Assert.Equal(AskKind.Say, a.Ask.Kind));
        Assert.All(forecast.Players[1].Asks, a => Assert.True(a.Ask is { Kind: AskKind.Join, Form: Form.Rack }));
        Assert.Equal(4, forecast.Players[1].Asks.Sum(a => a.PerGame), 9);
        Assert.Empty(forecast.Players[2].Asks);
    }

    [Fact]
    public void With_real_things_the_app_calls_only_where_it_is_asked_to()
    {
        var sitting = new Sitting(CountBox("""{"rounds":2}""", "show").Ready(), Way.Notes, 5);
        Assert.Null(sitting.Game);
        sitting.Take(new Passed());
        Assert.Equal(1, sitting.Turns);
        sitting.Take(new Called(true));
        Assert.True(sitting.DrawsItself);
        Assert.Equal(1, sitting.Turns);
        sitting.Take(sitting.Draw());
        var (move, asks) = sitting.Waiting!.Value;
        Assert.Equal(AskKind.Take, asks[0].Ask.Kind);
        sitting.Take(new Moved(move.Items, move.Pick, move.First, true));
        Assert.Null(sitting.Waiting);
        Assert.Equal(2, sitting.Turns);
        Assert.Equal(1, sitting.Last!.Turn);
        sitting.Take(new Called(false));
        Assert.Null(sitting.Game);
        Assert.Equal(2, sitting.Turns);
        sitting.Take(new Undone(sitting.EventCount - 1));
        Assert.NotNull(sitting.Game);
        var cards = new Sitting(Setups.FromJson("""{"layout":[4,5]}""").Ready(), Way.Notes, 5);
        Assert.Null(cards.Game);
        Assert.False(cards.DrawsItself);
    }
}
