using Allowance.Core.Asks;
using Allowance.Core.Forecasts;
using Allowance.Core.Forms;
using Allowance.Core.Games;
using Allowance.Core.Learner;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Tables;

namespace Allowance.Core.Tests;

/// <summary>Partners played step by step in each of its ways.</summary>
public class PartnersPlayTests
{
    private static Run Table(string table, string players = "[{}]", string level = "spot", params int[] cards)
    {
        var setup = Setups.FromJson(table, players, level);
        var run = setup.Ready().Compile().Start(0);
        foreach (int card in cards) run.Deal(card);
        return run;
    }

    private static IEnumerable<int> Values(Run run) => run.Zones[0].Items.Select(i => i.Value);

    [Fact]
    public void Called_cards_come_one_by_one_and_the_first_pair_is_taken()
    {
        var run = Table("""{"mode":"call","layout":[2,3]}""", "[{},{}]");
        run.Deal(6);
        Assert.Equal((StepKind.Chance, 1, 1), (run.Next.Kind, run.Next.Seat, run.Turns));
        run.Deal(3);
        run.Deal(4);
        Assert.Equal((StepKind.Choice, 0), (run.Next.Kind, run.Next.Seat));
        Assert.Contains("make 10", run.Says, StringComparison.Ordinal);
        run.Apply(run.Read([0, 2]).Move!.Value, true);
        Assert.Equal((2, 3, StepKind.Chance), (run.Points(0), run.Turns, run.Next.Kind));
        run.Deal(9);
        Assert.Equal([9, 3], Values(run).Where(v => v >= 0));
    }

    [Fact]
    public void A_called_pair_that_was_missed_waits_for_the_next()
    {
        var run = Table("""{"mode":"call","layout":[2,3]}""", "[{},{}]", "spot", 6, 4);
        run.Apply(run.Read([0, 1]).Move!.Value, false);
        Assert.Equal((StepKind.Chance, 0), (run.Next.Kind, run.Next.Seat));
        run.Deal(1);
        Assert.Equal(StepKind.Choice, run.Next.Kind);
        run.Apply(run.Moves[0], true);
        Assert.Equal(2, run.Points(0));
    }

    [Fact]
    public void In_a_race_everybody_is_asked_and_whoever_says_it_first_takes_them()
    {
        var setup = Setups.FromJson("""{"mode":"call","layout":[2,3],"claim":"firstSaid"}""", """[{"age":4},{"age":8}]""");
        var run = setup.Ready().Compile().Start(0);
        run.Deal(6);
        run.Deal(4);
        Assert.Equal("Who sees two that make 10?", run.Says);
        var keys = run.Zones.OfType<ChoiceKeys>().Single();
        Assert.True(run.Read([0, 1]).More);
        var move = run.Read([0, keys.Choices[0].Id, 1]).Move!.Value;
        Assert.Equal([new SeatAsk(0, new Ask(AskKind.Part, 10, 6, Form.Numeral))], run.Asks(move));
        Assert.True(run.IsLegal(move) && run.Moves.All(run.IsLegal));
        run.Apply(move, true);
        // The second one turned up the last card.
        Assert.Equal([2, 0], Enumerable.Range(0, 2).Select(run.Points));
        // An older child says it first far more often.
        var forecast = Forecaster.Make(setup.Ready(), new LearnerAnswers(setup, new DateOnly(2026, 1, 1)), new ForecastOptions(Behaviour.Child, 1, 1_000));
        Assert.True(forecast.Wins[1] > .8, $"{forecast.Wins[1]}");
        Assert.Equal(forecast.Players[0].Asks.Sum(a => a.PerGame), forecast.Players[1].Asks.Sum(a => a.PerGame), 6);
        Assert.True(Catalogue.Of(setup).IsRace(setup));
        var refused = setup.WithSeat(0, setup.Seats[0].With("target", new WholeValue(9))).Problems().Single();
        Assert.Equal(("table.claim", "mover"), (refused.Path, refused.Nearest!.GetValue<string>()));
    }

    [Fact]
    public void A_full_table_of_called_cards_without_a_pair_is_the_end()
    {
        var run = Table("""{"mode":"call","layout":[1,3]}""", "[{}]", "spot", 1, 2, 3);
        Assert.Equal(StepKind.Over, run.Next.Kind);
        Assert.True(run.Stuck);
        Assert.Equal("Nothing goes any more.", run.Says);
        Assert.Equal(36, run.Left);
    }

    [Fact]
    public void Clearing_the_table_reaches_the_aim()
    {
        var run = Table("""{"layout":[1,2],"refill":false}""", "[{}]", "spot", 5, 5);
        Assert.False(run.AimReached);
        run.Apply(run.Moves[0], true);
        Assert.True(run.AimReached);
        Assert.False(run.Stuck);
        Assert.Equal("All cards are taken.", run.Says);
    }

    [Fact]
    public void Gaps_are_refilled_where_they_arose()
    {
        var run = Table("""{"layout":[1,4]}""", "[{}]", "spot", 6, 3, 4, 1);
        run.Apply(run.Read([0, 2]).Move!.Value, true);
        Assert.Equal([-1, 3, -1, 1], Values(run));
        run.Deal(8);
        run.Deal(2);
        Assert.Equal([8, 3, 2, 1], Values(run));
        Assert.Equal(30, ((Pile)run.Zones[1]).Count);
    }

    [Fact]
    public void Who_can_take_nothing_is_passed_over()
    {
        var run = Table("""{"layout":[1,4],"refill":false}""", """[{"allowance":{"target":5}},{}]""", "spot", 6, 4, 9, 8);
        Assert.Equal((StepKind.Choice, 1), (run.Next.Kind, run.Next.Seat));
        Assert.True(run.Stuck);
        run.Apply(run.Moves[0], true);
        Assert.Equal(StepKind.Over, run.Next.Kind);
    }

    [Fact]
    public void Unseen_cards_are_a_multiset_and_only_those_can_be_dealt()
    {
        var run = Table("""{"layout":[1,2],"refill":false,"deck":{"counts":{"4":2,"6":1}}}""");
        Assert.Equal([(4, 2), (6, 1)], run.Possibilities.Select(p => (p.Outcome, p.Ways)));
        run.Deal(4);
        Assert.Equal([(4, 1), (6, 1)], run.Possibilities.Select(p => (p.Outcome, p.Ways)));
        var rng = new Rng(1);
        var drawn = Enumerable.Range(0, 4_000).Select(_ => run.Copy().Draw(ref rng)).CountBy(n => n).ToDictionary();
        Assert.InRange(drawn[6], 1_850, 2_150);
    }

    [Fact]
    public void Equals_pair_with_equals_and_nothing_else()
    {
        var run = Table("""{"layout":[1,4],"refill":false,"form":"dice"}""", "[{}]", "same", 3, 7, 3, 4);
        Assert.Contains("not the same", run.Read([0, 1]).Words, StringComparison.Ordinal);
        var pair = run.Read([0, 2]).Move!.Value;
        Assert.Equal("match 3 dice dice", Assert.Single(run.Asks(pair)).Ask.ToString());
        Assert.Equal("took 3 and 3", run.Tells(pair, true));
        Assert.Equal("passed by 3 and 3", run.Tells(pair, false));
        run.Apply(pair, true);
        Assert.Equal(StepKind.Over, run.Next.Kind);
    }

    [Fact]
    public void Any_number_of_cards_waits_until_enough_are_tapped()
    {
        var run = Table("""{"layout":[2,3],"refill":false}""", "[{}]", "any", 5, 3, 2, 9, 8, 1);
        Assert.True(run.Read([0]).More);
        Assert.True(run.Read([0, 1]).More);
        var set = run.Read([0, 1, 2]).Move!.Value;
        Assert.Equal(["join 5 3 numeral", "part 10 8 numeral"], run.Asks(set).Select(a => a.Ask.ToString()));
        Assert.Contains("make 14, not 10", run.Read([0, 3]).Words, StringComparison.Ordinal);
        run.Apply(set, true);
        Assert.Equal(3, run.Points(0));
        Assert.Equal("part 10 9 numeral", Assert.Single(run.Asks(run.Read([3, 5]).Move!.Value)).Ask.ToString());
    }

    [Fact]
    public void Moves_that_are_not_legal_are_told_apart()
    {
        var run = Table("""{"layout":[1,4],"refill":false}""", "[{}]", "spot", 6, 4, 4, 1);
        Assert.True(run.IsLegal(Move.Pass));
        Assert.False(run.IsLegal(new Move(0b1001, -1, 0)));
        Assert.False(run.IsLegal(new Move(0b0011, -1, 3)));
        Assert.False(run.IsLegal(new Move(0b10011, -1, 0)));
        Assert.True(run.IsLegal(new Move(0b0101, -1, 2)));
        Assert.Contains("no card", run.Read([9]).Words, StringComparison.Ordinal);
    }

    [Fact]
    public void A_perfect_player_of_run_turns_what_is_known_to_fit()
    {
        var run = Table("""{"layout":[1,4],"refill":false,"deck":{"counts":{"9":1,"8":1,"2":1,"1":1}}}""", "[{}]", "run");
        foreach (int number in new[] { 9, 8 })
        {
            run.Apply(new Move(0, number == 9 ? 0 : 1), true);
            run.Deal(number);
        }
        run.Apply(run.Moves[0], true);
        run.Apply(new Move(0, 2), true);
        run.Deal(2);
        var rng = new Rng(3);
        Assert.Equal(1, run.Best(ref rng).Pick);
    }

    [Fact]
    public void More_than_six_turned_cards_are_asked_as_the_total_so_far()
    {
        var run = Table("""{"layout":[2,5],"refill":false,"deck":{"counts":{"1":10}}}""", "[{}]", "run");
        for (int i = 0; i < 8; i++)
        {
            run.Apply(new Move(0, i), true);
            run.Deal(1);
        }
        Assert.Equal(["join 7 1 numeral", "part 10 8 numeral"], run.Asks(new Move(0, 8)).Select(a => a.Ask.ToString()));
    }

    [Fact]
    public void Supports_and_help_cards_are_part_of_the_ask()
    {
        var run = Table("""{"layout":[1,2],"refill":false}""", """[{"allowance":{"support":"frame","form":"ten-frame"}}]""", "spot", 6, 4);
        Assert.Equal("part 10 6 ten-frame +frame", Assert.Single(run.Asks(run.Read([0, 1]).Move!.Value)).Ask.ToString());
    }

    [Fact]
    public void Wording_asks_and_never_tells()
    {
        Assert.Equal("6 and what make 10?", new Ask(AskKind.Part, 10, 6, Core.Forms.Form.Numeral).Question());
        Assert.Equal("How many are 5, 3 and 2 together?", new Ask(AskKind.Join, [5, 3, 2], Core.Forms.Form.Dice).Question());
        Assert.Equal("4", new Ask(AskKind.Part, 10, 6, Core.Forms.Form.Numeral).AnswerWords());
        foreach (var kind in AskKinds.All.Where(k => k.Kind is not (AskKind.Match or AskKind.Take or AskKind.Trace or AskKind.Words or AskKind.Split or AskKind.Even)))
        {
            var ask = Ask.Parse(kind.Example, out _)!.Value;
            if (ask.Answer >= 0 && ask.Answer != ask[0] && ask.Answer != (ask.Count > 1 ? ask[1] : -1))
                Assert.DoesNotContain(ask.AnswerWords(), ask.Question().Split(' ', ',', '?', '.', ':'));
        }
    }

    /// <summary>More cards of one number than a byte counts: all of them can be taken, face down as face up.</summary>
    [Theory]
    [InlineData("memory")]
    [InlineData("spot")]
    public void A_pack_of_hundreds_of_one_number_is_played_to_its_end(string mode)
    {
        var setup = Setups.FromJson($$$"""{"deck":{"counts":{"5":430}},"target":10,"mode":"{{{mode}}}","layout":[4,5]}""", level: mode);
        var run = setup.Ready().Compile().Start(0);
        var rng = new Allowance.Core.Numbers.Rng(2);
        while (run.Next.Kind != StepKind.Over)
        {
            if (run.Next.Kind == StepKind.Chance) run.Deal(run.Draw(ref rng));
            else run.Apply(run.Plain(ref rng), true);
        }
        Assert.Equal((430, 0), (run.Points(0), run.Left));
    }
}
