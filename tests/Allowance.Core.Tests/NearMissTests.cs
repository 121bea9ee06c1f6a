using Allowance.Core.Forecasts;
using Allowance.Core.Games;
using Allowance.Core.Learner;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Tables;

namespace Allowance.Core.Tests;

/// <summary>Near Miss: differences by hand and by trying everything, and as it is played.</summary>
public class NearMissTests
{
    private static Playable Good(string table, string players = "[{}]", string level = "frame")
    {
        var reading = Catalogue.Read($$"""{"format":"allowance-setup/1","game":"nearmiss","level":"{{level}}","table":{{table}},"players":{{players}}}""");
        Assert.Empty(reading.Problems);
        return reading.Playable!;
    }

    [Fact]
    public void Differences_by_hand()
    {
        // A die of six and the number 5: 5 is right on it, 4 and 6 are one off, 3, 2 and 1 two to four.
        var facts = Good("""{"n":5,"dice":["d6"]}""").ExactFacts();
        Assert.Equal([1 / 6.0, 2 / 6.0, 1 / 6.0, 1 / 6.0, 1 / 6.0], Enumerable.Range(0, 5).Select(g => ((MapFact)facts.Find("gapPmf")!)[g]));
        Assert.Null(facts.Find("tieChance"));
        var two = Good("""{"n":5,"dice":["d6"],"rounds":4}""", "[{},{}]").ExactFacts();
        Assert.Equal((4 + 4 * 1) / 36.0, two.Number("tieChance"), 12);
        Assert.Equal((1 - 8 / 36.0) / 2, ((NumberFact)((ListFact)two.Find("winChance")!).Items[0]).Value, 12);
        Assert.Equal(8, two.Turns!.Mean);
        Assert.Equal(1 - Math.Pow(5 / 6.0, 8), two.AimReached!.Value, 12);
    }

    [Fact]
    public void Three_with_dice_of_their_own_by_trying_everything()
    {
        var playable = Good("""{"n":10,"dice":["d6","d6"],"rounds":1}""", """[{},{"allowance":{"dice":["d12"]}},{"allowance":{"dice":["d4","d4","d4"]}}]""");
        int[] two = [.. from a in Enumerable.Range(1, 6) from b in Enumerable.Range(1, 6) select a + b], one = [.. Enumerable.Range(1, 12)], three = [.. from a in Enumerable.Range(1, 4) from b in Enumerable.Range(1, 4) from c in Enumerable.Range(1, 4) select a + b + c];
        var wins = new double[3];
        double ties = 0, all = two.Length * one.Length * three.Length;
        foreach (int a in two)
            foreach (int b in one)
                foreach (int c in three)
                {
                    int[] gaps = [Math.Abs(a - 10), Math.Abs(b - 10), Math.Abs(c - 10)];
                    if (gaps.Count(g => g == gaps.Min()) > 1) ties += 1 / all;
                    else wins[Array.IndexOf(gaps, gaps.Min())] += 1 / all;
                }
        var facts = playable.ExactFacts();
        Assert.Equal(ties, facts.Number("tieChance"), 12);
        Assert.Equal(wins, ((ListFact)facts.Find("winChance")!).Items.Select(i => Math.Round(((NumberFact)i).Value, 12)), (x, y) => Math.Abs(x - y) < 1e-9);
        Assert.IsType<ListFact>(facts.Find("gapPmf"));
        // One round is the game: as it is played.
        var forecast = Forecaster.Make(playable, new LearnerAnswers(playable.Setup, new(2026, 1, 1)), new ForecastOptions(Behaviour.Plain, 1, 20_000));
        for (int s = 0; s < 3; s++) Assert.Equal(wins[s], forecast.Wins[s], .015);
    }

    [Fact]
    public void A_round_goes_to_the_nearest_and_to_nobody_where_two_are()
    {
        var run = Good("""{"n":10,"rounds":3}""", "[{},{}]").Compile().Start(0);
        Roll(run, 4, 4);
        Assert.Equal("Roll.", run.Says);
        Roll(run, 6, 6);
        Roll(run, 6, 4);
        Roll(run, 3, 4);
        Assert.Equal([1, 0], [run.Points(0), run.Points(1)]);
        Roll(run, 1, 1);
        Roll(run, 5, 5);
        Assert.Equal(StepKind.Over, run.Next.Kind);
        Assert.Equal([1, 1], [run.Points(0), run.Points(1)]);
        Assert.True(run.AimReached);
        var places = Assert.IsType<NearMarks>(Assert.Single(run.Zones)).Places;
        Assert.Equal([[2, 0, 8], [2, 3, 0]], places.Select(p => p.Gaps.ToArray()));
        Assert.Equal([1, 1], places.Select(p => p.Taken));
    }

    private static void Roll(Run run, params int[] dice)
    {
        foreach (int face in dice) run.Deal(face);
        run.Apply(run.Moves[0], true);
    }

    [Fact]
    public void Where_sums_count_the_smallest_has_most()
    {
        var run = Good("""{"n":10,"rounds":2,"score":"sum"}""", "[{},{}]").Compile().Start(0);
        foreach (var dice in new int[][] { [4, 4], [6, 6], [1, 1], [5, 4] }) Roll(run, dice);
        // Ten off against three.
        Assert.Equal(7, run.Points(1) - run.Points(0));
        // No round is anybody's, and no figure of the rules' own is shown.
        Assert.All(Assert.IsType<NearMarks>(Assert.Single(run.Zones)).Places, p => Assert.Equal(0, p.Taken));
    }

    [Theory]
    [InlineData("frame", "join 5 4 dice; gap 10 9 ten-frame")]
    [InlineData("head", "join 5 4 dice; gap 10 9 numeral")]
    [InlineData("list", "join 5 4 dice; gap 10 9 numeral; on 2 1 numeral")]
    public void The_difference_is_asked_and_with_a_list_the_sum(string level, string asks)
    {
        var run = Good("{}", level: level).Compile().Start(0);
        Roll(run, 6, 6);
        run.Deal(5);
        run.Deal(4);
        Assert.Equal(asks, string.Join("; ", run.Asks(run.Moves[0]).Select(a => a.Ask)));
    }

    [Fact]
    public void A_round_from_which_somebody_left_before_her_roll_is_nobodys()
    {
        var run = Good("""{"n":10,"rounds":2}""", "[{},{},{}]").Compile().Start(0);
        Roll(run, 5, 5);
        Roll(run, 1, 1);
        run.Leave(2);
        Assert.Equal(0, run.Next.Seat);
        Assert.Equal([0, 0], [run.Points(0), run.Points(1)]);
        Roll(run, 1, 1);
        Roll(run, 6, 4);
        Assert.Equal(StepKind.Over, run.Next.Kind);
        Assert.Equal([0, 1], [run.Points(0), run.Points(1)]);
    }

    [Theory]
    [InlineData("""{"n":20}""", "No roll comes to 20.")]
    // Three of 36 rolls; ten of a hundred.
    [InlineData("""{"n":11}""", "Hardly a roll is as high as 11, nearly all stay below it.")]
    [InlineData("""{"n":5,"dice":["d10","d10"]}""", "Hardly a roll is as low as 5, nearly all go past it.")]
    public void A_number_that_rolls_hardly_come_near_is_remarked(string table, string says) => Assert.Equal(says, Assert.Single(new NearMiss().Audit(Good(table).Setup)).Says);

    [Theory]
    // Six of 36 are 10 and more.
    [InlineData("""{"n":10}""")]
    [InlineData("""{"n":6,"dice":["d10","d10"]}""")]
    public void A_number_that_rolls_come_near_to_is_not(string table) => Assert.Empty(new NearMiss().Audit(Good(table).Setup));
}
