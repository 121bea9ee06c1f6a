using Allowance.Core.Asks;
using Allowance.Core.Games;
using Allowance.Core.Learner;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Tuning;

namespace Allowance.Core.Tests;

public class EvenOutTests
{
    /// <summary>Right in eight of ten, whatever is asked.</summary>
    private sealed class EightInTen : IAnswers
    {
        public Answering For(int seat, Ask ask) => new([.2, 0, 0, 0, 0, .8], [2, 2, 2, 2, 2, 2]);
    }

    private static Setup Race(string table, string players)
    {
        var reading = Catalogue.Read($$"""{"format":"allowance-setup/1","game":"downline","table":{{table}},"players":{{players}}}""");
        Assert.Empty(reading.Problems);
        return reading.Setup!;
    }

    private static Evened? Even(Setup setup) => EvenOut.For(setup.Ready(), _ => new EightInTen(), 3_000);

    [Fact]
    public void What_is_even_stays_as_it_is()
    {
        var evened = Even(Race("""{"first":"draw"}""", "[{},{}]"))!;
        Assert.True(evened.IsEven);
        Assert.Empty(evened.Steps);
    }

    [Fact]
    public void Other_dice_are_evened_out_by_few_steps_and_the_chances_say_so()
    {
        var setup = Race("""{"sections":20,"first":"draw"}""", """[{"name":"Juno","allowance":{"dice":[[1,1,2,2,3,3]]}},{"name":"Mags"}]""");
        var evened = Even(setup)!;
        Assert.True(evened.IsEven);
        Assert.InRange(evened.Steps.Count, 1, 4);
        Assert.All(evened.Steps, s => Assert.Matches("^for (Juno|Mags) (a die|two dice|head start:) .* instead of ", s));
        Assert.All(evened.Shares, s => Assert.InRange(s, .45, .55));
        // Exactly, too: within five points and what 3,000 games may be off.
        var exact = (ListFact)evened.Setup.Ready().ExactFacts().Find("winChance")!;
        Assert.All(exact.Items, w => Assert.InRange(((NumberFact)w).Value, .42, .58));
        Assert.Empty(evened.Setup.Problems());
    }

    /// <summary>No single step gives her a chance here, so that only what she has at the end tells which way to go.</summary>
    [Fact]
    public void Where_one_wins_every_game_steps_lead_to_where_she_does_not()
    {
        var race = Even(Race("""{"sections":30,"first":"draw"}""", """[{"allowance":{"dice":["d4"]}},{"allowance":{"dice":["d20"]}}]"""))!;
        Assert.True(race.Shares[0] > .2, $"she wins {race.Shares[0]:P0} after {string.Join(", ", race.Steps)}");
        Assert.NotEmpty(race.Steps);
    }

    [Fact]
    public void Who_begins_is_one_of_the_steps()
    {
        // One section and a coin: the first wins two of three. Drawing who begins is the one step that makes it even.
        var evened = Even(Race("""{"sections":1,"dice":["0-1"],"first":"seat"}""", "[{},{}]"))!;
        Assert.True(evened.IsEven);
        Assert.Matches("^who begins: (drawn|in turn, game by game)$", Assert.Single(evened.Steps));
        Assert.True(evened.Setup.Get<ChoiceValue>("first").Id is "draw" or "alternate");
    }

    [Fact]
    public void Where_a_child_is_outside_what_she_should_meet_the_nearest_is_said_to_be_only_that()
    {
        var setup = Race("""{"sections":20,"first":"draw"}""", """[{"age":3},{"age":7}]""");
        var evened = EvenOut.For(setup.Ready(), s => new LearnerAnswers(s, new DateOnly(2026, 1, 1)), 500)!;
        bool fits = evened.Success.All(s => s is >= EvenOut.LeastSuccess and <= EvenOut.MostSuccess);
        Assert.Equal(fits && evened.Shares.All(s => Math.Abs(s - .5) <= EvenOut.Near), evened.IsEven);
    }

    [Fact]
    public void Where_nobody_wins_or_one_plays_alone_there_is_nothing_to_even_out()
    {
        Assert.Null(Even(Race("{}", "[{}]")));
        Assert.Null(Even(Race("""{"winning":"together"}""", "[{},{}]")));
    }

    [Fact]
    public void Winning_is_even_between_two_alike_though_it_is_too_easy_for_both_and_not_where_one_cannot_keep_up()
    {
        var alike = EvenOut.For(Race("""{"sections":20,"first":"draw"}""", """[{"age":9},{"age":9}]""").Ready(), s => new LearnerAnswers(s, new DateOnly(2026, 1, 1)), 500, most: 0)!;
        Assert.All(alike.Success, s => Assert.True(s > EvenOut.MostSuccess));
        Assert.True(alike.WinsAreEven && !alike.IsEven);
        var apart = EvenOut.For(Race("""{"sections":20,"first":"draw"}""", """[{"allowance":{"dice":["d4"]}},{"allowance":{"dice":["d20"]}}]""").Ready(), s => new LearnerAnswers(s, new DateOnly(2026, 1, 1)), 500, most: 0)!;
        Assert.False(apart.WinsAreEven || apart.IsEven);
    }
}
