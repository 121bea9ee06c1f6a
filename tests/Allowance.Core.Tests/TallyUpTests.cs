using Allowance.Core.Forecasts;
using Allowance.Core.Games;
using Allowance.Core.Learner;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Tables;

namespace Allowance.Core.Tests;

/// <summary>Tally Up: pieces of different worth by hand, by trying every order, and as it is played.</summary>
public class TallyUpTests
{
    private static CheckedReading Read(string table, string players = "[{}]", string level = "bundles") =>
        Catalogue.Read($$"""{"format":"allowance-setup/1","game":"tallyup","level":"{{level}}","table":{{table}},"players":{{players}}}""");

    private static Playable Good(string table, string players = "[{}]", string level = "bundles")
    {
        var reading = Read(table, players, level);
        Assert.Empty(reading.Problems);
        return reading.Playable!;
    }

    [Theory]
    // 5 of ones and twos: 5 ones; 3 and 1; 1 and 2: but there are only four ones.
    [InlineData("""{"worth":{"1":4,"2":3},"goal":5}""", 2, 3)]
    [InlineData("""{"worth":{"1":5,"2":3},"goal":5}""", 3, 3)]
    [InlineData("""{"worth":{"2":3,"5":1},"goal":6,"finish":"exact"}""", 1, 3)]
    [InlineData("""{"worth":{"2":3,"5":1},"goal":6}""", 1, 2)]
    [InlineData("""{"worth":{"0":6,"1":1,"2":1},"goal":3}""", 1, 2)]
    public void Ways_and_the_fewest_pieces_by_hand(string table, int ways, int least)
    {
        var facts = Good(table).ExactFacts();
        Assert.Equal((ways, least), (facts.Number("ways"), facts.Number("picksLeast")));
    }

    [Theory]
    [InlineData("1,1,2,3", 4)]
    [InlineData("0,0,1,2,2,5", 5)]
    [InlineData("1,1,1,1,4,6,6", 7)]
    public void The_mean_of_pieces_is_that_of_all_orders(string pieces, int goal)
    {
        int[] all = [.. pieces.Split(',').Select(int.Parse)];
        var picks = Orders(all).Select(order =>
        {
            int sum = 0, n = 0;
            while (sum < goal) sum += order[n++];
            return n;
        }).ToList();
        string worth = string.Join(',', all.GroupBy(p => p).Select(g => $"\"{g.Key}\":{g.Count()}"));
        var facts = Good($$"""{"worth":{{{worth}}},"goal":{{goal}}}""").ExactFacts();
        Assert.Equal(picks.Average(), facts.Number("picksMean"), 9);
        Assert.Equal(picks.Average(), facts.Turns!.Mean, 9);
        Assert.Equal(picks.Count(n => n == picks.Max()) / (double)picks.Count, facts.Turns[picks.Max()], 9);
    }

    /// <summary>The chances add up by rounding to something beside one, and the spread is none all the same.</summary>
    [Fact]
    public void Where_every_piece_is_needed_it_always_takes_as_many()
    {
        var turns = Good("""{"worth":{"7":3,"6":2},"goal":33}""").ExactFacts().Turns!;
        Assert.Equal(5, turns.Mean, 6);
        Assert.Equal(0, turns.Sd, 6);
        Assert.Equal((5, 5), (turns.Quantile(.1), turns.Quantile(.9)));
    }

    private static IEnumerable<int[]> Orders(int[] pieces) => pieces.Length == 0 ? [[]]
        : Enumerable.Range(0, pieces.Length).SelectMany(i => Orders([.. pieces[..i], .. pieces[(i + 1)..]]).Select(rest => (int[])[pieces[i], .. rest]));

    [Fact]
    public void Play_and_reckoning_agree()
    {
        var playable = Good("""{"goal":20}""", """[{"allowance":{"headStart":4}}]""");
        var facts = playable.ExactFacts();
        var forecast = Forecaster.Make(playable, new LearnerAnswers(playable.Setup, new(2026, 1, 1)), new ForecastOptions(Behaviour.Plain, 1, 20_000), new Facts());
        Assert.Equal(facts.Turns!.Mean, forecast.Turns.Mean, .05);
        var played = (NumberFact)playable.PlayedFacts(Behaviour.Plain, Spending.Unlimited).Find("picksMean")!;
        Assert.Equal(facts.Number("picksMean"), played.Value, 5 * played.Error);
    }

    [Fact]
    public void Who_has_enough_first_ends_it_and_past_the_very_number_a_piece_is_laid_aside()
    {
        var run = Good("""{"worth":{"2":6,"5":2},"goal":6}""", """[{},{"allowance":{"headStart":1}}]""").Compile().Start(0);
        Assert.Equal("say 5 numeral", Take(run, 5));
        Assert.Equal("on 1 2 tally", Take(run, 2));
        Assert.Equal("on 5 2 tally", Take(run, 2));
        Assert.Equal((StepKind.Over, 7, 3), (run.Next.Kind, run.Points(0), run.Points(1)));
        run = Good("""{"worth":{"2":6,"5":2},"goal":6}""", level: "exactly").Compile().Start(0);
        foreach (int worth in new[] { 2, 5, 2 }) Take(run, worth);
        Assert.Equal(4, run.Points(0));
        run.Deal(5);
        Assert.Equal("Is that past the goal? Lay it aside.", run.Says);
        run.Apply(run.Moves[0], true);
        Take(run, 2);
        Assert.Equal((StepKind.Over, true), (run.Next.Kind, run.AimReached));
    }

    private static string Take(Run run, int worth)
    {
        run.Deal(worth);
        string ask = $"{run.Asks(run.Moves[0])[0].Ask}";
        run.Apply(run.Moves[0], true);
        return ask;
    }

    [Fact]
    public void An_empty_box_ends_it_without_a_winner()
    {
        var run = Good("""{"worth":{"1":2,"5":1},"goal":6}""", "[{},{}]").Compile().Start(0);
        foreach (int worth in new[] { 1, 1, 5 }) Take(run, worth);
        Assert.Equal((StepKind.Over, true), (run.Next.Kind, run.AimReached));
        run = Good("""{"worth":{"1":2,"5":1},"goal":6}""", "[{},{}]").Compile().Start(0);
        foreach (int worth in new[] { 1, 5, 1 }) Take(run, worth);
        Assert.Equal((StepKind.Over, false, true), (run.Next.Kind, run.AimReached, run.Stuck));
    }

    [Fact]
    public void Where_goals_differ_each_has_her_own_beside_her_score()
    {
        var own = Good("""{"goal":15}""", """[{"name":"Otis"},{"name":"Mags","allowance":{"goal":20}}]""");
        var marks = Assert.Single(own.Compile().Start(0).Zones.OfType<NearMarks>());
        Assert.Null(marks.Mark);
        Assert.Equal([15, 20], marks.Places.Select(p => p.Own));
        Assert.Contains(own.Frame.GetReady(own.Setup), s => s.EndsWith("The goal is 15 for Otis and 20 for Mags.", StringComparison.Ordinal));
        var same = Assert.Single(Good("""{"goal":15}""", "[{},{}]").Compile().Start(0).Zones.OfType<NearMarks>());
        Assert.Equal((15, null, null), (same.Mark, same.Places[0].Own, same.Places[1].Own));
    }

    [Fact]
    public void Steps_lead_from_ones_to_tens_and_the_goal_grows_along()
    {
        var steps = new List<string>();
        for (var now = Good("""{"worth":{"1":12},"goal":8}"""); ;)
        {
            steps.Add($"{now.Setup.Get(TallyUp.Knobs.Worth).ToLink()} to {now.Setup.Get(TallyUp.Knobs.Goal)}");
            Assert.InRange(now.Setup.Get(TallyUp.Knobs.Worth).All.Count, 1, 60);
            var further = now.Frame.RangeSteps(now.Setup, 0)[^1].Setup;
            if (steps.Count > 20 || steps.Any(s => s.StartsWith($"{further.Get(TallyUp.Knobs.Worth).ToLink()} ", StringComparison.Ordinal))) break;
            now = further.Ready();
        }
        Assert.Equal("1x12 to 8", steps[0]);
        Assert.Equal("1x8,2x8,3x4 to 15", steps[2]);
        Assert.Equal("2x8,5x8,10x8 to 100", steps[^1]);
        // A goal that somebody set stays.
        Assert.All(Good("""{"goal":12}""").Frame.RangeSteps(Good("""{"goal":12}""").Setup, 0), s => Assert.Equal(12, s.Setup.Get(TallyUp.Knobs.Goal).Number));
    }

    [Theory]
    [InlineData("bundles", "[{}]", "sheets of paper")]
    [InlineData("line", "[{}]", "lines")]
    [InlineData("line", """[{},{"allowance":{"record":"numeral"}}]""", "lines, sheets of paper")]
    public void What_the_score_is_kept_with_is_got_out(string level, string players, string things)
    {
        var playable = Good("{}", players, level);
        Assert.Equal($"pieces, boxes, {things}", string.Join(", ", playable.Frame.Needs(playable.Setup).Select(n => n.Thing)));
    }

    [Theory]
    [InlineData("""{"worth":{"1":4},"goal":5}""", "[{}]", "table.goal", "4")]
    [InlineData("""{"worth":{"2":4},"goal":5,"finish":"exact"}""", "[{}]", "table.finish", "\"reach\"")]
    [InlineData("""{"goal":5}""", """[{"allowance":{"headStart":5}}]""", "players[0].allowance.headStart", "4")]
    [InlineData("""{"worth":{"0":4}}""", "[{}]", "table.worth", """{"1":8,"2":8}""")]
    public void What_does_not_go_is_refused_with_what_does(string table, string players, string path, string nearest)
    {
        var problem = Assert.Single(Read(table, players).Problems);
        Assert.Equal((path, nearest), (problem.Path, problem.Nearest!.ToJsonString()));
    }

    /// <summary>One line from beginning to end, long enough for a last piece that goes past the goal; who writes otherwise is not on it.</summary>
    [Fact]
    public void On_a_line_everyone_goes_to_a_flag()
    {
        var run = Good("""{"worth":{"3":9,"7":9},"goal":15}""", """[{},{"allowance":{"goal":20}},{"allowance":{"record":"numeral"}}]""", "line").Compile().Start(0);
        Look(0, 0);
        run.Deal(7);
        run.Apply(Assert.Single(run.Moves), true);
        run.Deal(3);
        run.Apply(Assert.Single(run.Moves), true);
        Look(7, 3);

        void Look(int first, int second)
        {
            var line = Assert.Single(run.Zones.OfType<NumberLine>());
            Assert.Equal((0, 26), (line.Low, line.High));
            Assert.Equal([15, 20], line.Flagged);
            Assert.Equal([new(0, first), new(1, second)], line.Pieces);
            Assert.Equal([2], Assert.Single(run.Zones.OfType<NearMarks>()).Places.Select(p => p.Seat));
        }
    }
}
