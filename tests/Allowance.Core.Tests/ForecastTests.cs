using Allowance.Core.Asks;
using Allowance.Core.Forecasts;
using Allowance.Core.Forms;
using Allowance.Core.Learner;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;

namespace Allowance.Core.Tests;

/// <summary>What a forecast counts, on games small enough to work out by hand.</summary>
public class ForecastTests
{
    private static readonly DateOnly Day = new(2026, 1, 1);

    private static Forecast Of(Setup setup, Behaviour behaviour = Behaviour.Plain, int samples = 4_000, IAnswers? answers = null) =>
        Forecaster.Make(setup.Ready(), answers ?? new LearnerAnswers(setup, Day), new ForecastOptions(behaviour, 1, samples));

    /// <summary>Four cards that make two pairs of ten: two turns, one pair each.</summary>
    private const string TwoPairs = """{"layout":[2,2],"refill":false,"deck":{"counts":{"1":1,"9":1,"4":1,"6":1}}}""";

    /// <summary>Everyone is right with the same chance and method.</summary>
    private sealed class Same(double right) : IAnswers
    {
        public Answering For(int seat, Ask ask) => new([1 - right, 0, 0, 0, 0, right], [10, 10, 10, 10, 10, 2]);
    }

    [Fact]
    public void Two_pairs_take_two_turns_and_seconds_that_can_be_added_up()
    {
        var f = Of(Setups.FromJson(TwoPairs), answers: new Same(1));
        Assert.Equal((2, 0, 2, 2), (f.Turns.Mean, f.Turns.Sd, f.Turns.P10, f.Turns.P90));
        // Four cards dealt at 1 s, two pairs taken at 5 s, two answers at 2 s.
        Assert.Equal((4 * 1.0 + 2 * 5 + 2 * 2) / 60, f.Minutes.Mean, 5);
        Assert.Equal([1.0], f.Wins);
        Assert.Equal(0, f.Stuck);
    }

    [Fact]
    public void Two_players_take_a_pair_each_and_share_the_most()
    {
        var f = Of(Setups.FromJson(TwoPairs, "[{},{}]"), answers: new Same(1));
        Assert.Equal(1, f.Tie);
        Assert.Equal([0, 0], f.Wins);
        // Between two turns of one lies one turn of the other: 7 s, and passing on; the first seat's turn holds the dealing too.
        Assert.Equal(8.5, f.Wait[0], 3);
        Assert.Equal(12.5, f.Wait[1], 3);
    }

    /// <summary>By hand: four cards dealt and two pairs taken are 14 s, half as long again in small hands; two answers of 2 s are not.</summary>
    [Theory, InlineData(4.9, 21), InlineData(5, 14)]
    public void Small_hands_are_half_as_fast_again(double age, double handling) =>
        Assert.Equal((handling + 2 * 2) / 60, Of(Setups.FromJson(TwoPairs, $$"""[{"age":{{age}}}]"""), answers: new Same(1)).Minutes.Mean, 5);

    /// <summary>
    /// By hand: of two cards face down the pair is turned at once: laid out 2 s, each turned 3 s, looked at and laid back 4 s, taken 2 s, and
    /// an answer of 2 s. Nothing new turns up in a later turn, and yet it takes time.
    /// </summary>
    [Fact]
    public void Every_turning_is_charged_face_down()
    {
        var f = Of(Setups.FromJson("""{"deck":{"counts":{"4":1,"6":1}},"layout":[1,2],"refill":false}""", level: "memory"), answers: new Same(1));
        Assert.Equal((2 + 3 + 3 + 4 + 2 + 2) / 60.0, f.Minutes.Mean, 5);
    }

    [Fact]
    public void A_player_who_is_right_half_of_the_time_needs_twice_the_turns()
    {
        var f = Of(Setups.FromJson(TwoPairs), Behaviour.Child, 20_000, new Same(.5));
        Assert.InRange(f.Turns.Mean, 4 - 5 * f.Turns.Error, 4 + 5 * f.Turns.Error);
        Assert.Equal(.5, f.Players[0].Success!.Value, 6);
        Assert.InRange(f.Players[0].Asks.Sum(a => a.PerGame), 3.9, 4.1);
    }

    [Fact]
    public void Each_bond_is_asked_from_either_side_alike()
    {
        var asks = Of(Setups.FromJson(TwoPairs), samples: 8_000).Players[0].Asks;
        Assert.Equal(["part 10 1 numeral", "part 10 4 numeral", "part 10 6 numeral", "part 10 9 numeral"], asks.Select(a => a.Ask.ToString()).Order(StringComparer.Ordinal));
        Assert.All(asks, a => Assert.InRange(a.PerGame, .47, .53));
        Assert.All(asks, a => Assert.Equal(a.PerGame, a.Seen, 9));
    }

    /// <summary>By hand: 6 falls in five ways of 36, as 5 + 1 and 4 + 2 both ways and as 3 + 3, each another turn; writing it is one ask.</summary>
    [Fact]
    public void An_ask_of_several_kinds_of_turns_counts_once_a_game()
    {
        var asks = Of(Setups.FromJson("{\"dice\":[\"d6\",\"d6\"],\"faces\":\"numeral\",\"rounds\":3}", level: "write", game: "rolltell"), samples: 40_000).Players[0].Asks;
        var six = Assert.Single(asks, a => a.Ask.ToString() == "trace 6 numeral");
        Assert.InRange(six.PerGame, 3 * 5 / 36.0 - .015, 3 * 5 / 36.0 + .015);
        Assert.InRange(six.Seen, 1 - Math.Pow(31 / 36.0, 3) - .012, 1 - Math.Pow(31 / 36.0, 3) + .012);
    }

    [Theory]
    [InlineData("[1,10]", 0)]
    [InlineData("[1,9]", 1)]
    [InlineData("[4,10]", 1)]
    public void Numbers_outside_her_range_are_counted(string range, double chance) =>
        Assert.Equal(chance, Of(Setups.FromJson(TwoPairs, "[{\"allowance\":{\"range\":" + range + "}}]")).Players[0].BeyondRange, 9);

    [Fact]
    public void Shares_follow_firmness_with_the_lower_end_included()
    {
        Assert.Equal([Firmness.Far, Firmness.Edge, Firmness.Edge, Firmness.Firm, Firmness.Firm, Firmness.Sure], new[] { .599, .60, .849, .85, .949, .95 }.Select(FirmnessScale.Of));
        var f = Of(Setups.FromJson(TwoPairs), Behaviour.Child, answers: new Same(.85));
        Assert.Equal(1, f.Players[0].Share(Firmness.Firm), 9);
    }

    [Theory]
    [InlineData("together", 1)]
    [InlineData("none", 0)]
    [InlineData("compete", 2)]
    public void Winning_changes_what_wins_are(string winning, int count) =>
        Assert.Equal(count, Of(Setups.FromJson(TwoPairs[..^1] + ",\"winning\":\"" + winning + "\"}", "[{},{}]")).Wins.Length);

    [Fact]
    public void The_first_seat_has_the_edge_and_drawing_takes_it_away()
    {
        const string Odd = """{"layout":[2,3],"refill":false,"deck":{"counts":{"1":1,"9":1,"4":1,"6":1,"2":1,"8":1}}""";
        Assert.Equal(1, Of(Setups.FromJson(Odd + "}", "[{},{}]")).Wins[0], 9);
        var drawn = Of(Setups.FromJson(Odd + ""","first":"draw"}""", "[{},{}]"), samples: 8_000);
        Assert.InRange(drawn.Wins[0], .47, .53);
        Assert.Equal([.5, .5], Of(Setups.FromJson(Odd + ""","first":"alternate"}""", "[{},{}]")).Wins);
        Assert.Equal(1, Of(Setups.FromJson(Odd + ""","first":"youngest"}""", """[{"age":7},{"age":4}]""")).Wins[1], 9);
    }

    [Fact]
    public void An_answer_is_drawn_as_often_as_it_is_likely()
    {
        var answering = new Answering([.1, .1, .2, .2, .3, .1], [12, 20, 7, 5, 4, 2]);
        var rng = new Rng(5);
        var drawn = Enumerable.Range(0, 40_000).Select(_ => answering.Draw(ref rng)).CountBy(o => o).ToDictionary(c => c.Key, c => c.Value / 40_000.0);
        Assert.Equal(.3, drawn[Outcome.Structure], 1);
        Assert.InRange(drawn[Outcome.NotYet], .09, .11);
        Assert.InRange(drawn[Outcome.SawIt], .09, .11);
        Assert.Equal(.8f, answering.Right, 5);
        Assert.Equal((.2 * 7 + .2 * 5 + .3 * 4 + .1 * 2) / .8, answering.SecondsRight, 4);
    }

    [Fact]
    public void Quantiles_of_samples_are_the_smallest_that_reach()
    {
        var spread = Spread.Of([5, 1, 4, 2, 3, 6, 7, 8, 9, 10]);
        Assert.Equal((1, 5, 9), (spread.P10, spread.P50, spread.P90));
        Assert.Equal(5.5, spread.Mean, 9);
        Assert.Equal(Math.Sqrt(82.5 / 9) / Math.Sqrt(10), spread.Error, 9);
    }

    [Fact]
    public void The_random_numbers_that_were_drawn_are_counted()
    {
        var rng = Rng.ForGame(3, 4);
        var start = rng;
        for (int i = 0; i < 57; i++) rng.Below(10);
        Assert.Equal(57, rng.DrawsSince(start));
        Assert.NotEqual(Rng.ForGame(3, 5).Next(), Rng.ForGame(3, 4).Next());
        Assert.NotEqual(Rng.ForGame(4, 4).Next(), Rng.ForGame(3, 4).Next());
    }

    [Fact]
    public void Facts_differ_by_seat_where_the_allowances_do()
    {
        var f = Of(Setups.FromJson("{}", """[{},{"allowance":{"target":7}}]"""), samples: 500);
        var most = Assert.IsType<ListFact>(f.Facts.Find("pairsMost"));
        Assert.Equal([18, 12], most.Items.Cast<NumberFact>().Select(n => n.Value));
        Assert.True(f.Facts.Find("pStuck")!.Simulated);
        Assert.Contains("\"error\"", f.ToJson()["facts"]!["leftMean"]!.ToJsonString(), StringComparison.Ordinal);
    }

    [Fact]
    public void Seconds_are_those_of_the_table()
    {
        Span<double> seconds = stackalloc double[6];
        Seconds.Of(new Ask(AskKind.Part, 10, 6, Form.Numeral), seconds);
        Assert.Equal([12, 20, 3 + .8 * 10, 3 + 4, 4, 2], seconds.ToArray());
        Seconds.Of(new Ask(AskKind.Join, 5, 3, Form.Dice), seconds);
        Assert.Equal([12, 20, 3 + .8 * 8, 3 + 3, 4, 2], seconds.ToArray());
    }

    [Fact]
    public void Stopping_when_good_enough_plays_fewer_games_and_says_so()
    {
        var setup = Setups.FromJson("{}");
        var f = Forecaster.Make(setup.Ready(), new LearnerAnswers(setup, Day), new ForecastOptions(Samples: 50_000), goodEnough: .01);
        Assert.InRange(f.Samples, 500, 49_999);
        Assert.True(f.Minutes.Error / f.Minutes.Mean < .0101);
    }
}
