using Allowance.Core.Forecasts;
using Allowance.Core.Games;
using Allowance.Core.Learner;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Tuning;

namespace Allowance.Core.Tests;

/// <summary>Nothing takes longer, or more memory, than it may; and what had no time to be worked out is played, and says so.</summary>
public sealed class BudgetTests
{
    /// <summary>A clock on which every look at it takes a millisecond: how often somebody looks is how long it took.</summary>
    private sealed class CountingClock : TimeProvider
    {
        private long looks;

        public long Looks => looks;

        public override long TimestampFrequency => 1_000;

        public override long GetTimestamp() => Interlocked.Increment(ref looks);
    }

    private static Budget Of(int exact, int played, CountingClock clock, CancellationToken stop = default) =>
        new(new Limits(TimeSpan.FromMilliseconds(exact), TimeSpan.FromMilliseconds(played)), clock, null, stop);

    private static Setup Good(string game, string table, string players = "[{}]", string level = "")
    {
        var reading = Catalogue.Read($$"""{"format":"allowance-setup/1","game":"{{game}}",{{(level.Length > 0 ? $"\"level\":\"{level}\"," : "")}}"table":{{table}},"players":{{players}}}""");
        Assert.Empty(reading.Problems);
        return reading.Setup!;
    }

    private static Forecast Make(Setup setup, Budget budget, int samples = 20_000, Behaviour behaviour = Behaviour.Plain) =>
        Forecaster.Make(setup.Ready(), new LearnerAnswers(setup, new DateOnly(2026, 1, 1)), new ForecastOptions(behaviour, 1, samples), budget: budget);

    [Fact]
    public void With_time_enough_nothing_changes()
    {
        var setup = Good("lift", "{}");
        Assert.Equal(Make(setup, Of(1_000_000, 1_000_000, new())).ToJson().ToJsonString(), Forecaster.Make(setup.Ready(), new LearnerAnswers(setup, new DateOnly(2026, 1, 1)), new ForecastOptions(Behaviour.Plain)).ToJson().ToJsonString());
    }

    [Fact]
    public void When_the_time_for_playing_is_up_the_games_so_far_are_the_answer()
    {
        var forecast = Make(Good("lift", "{}"), Of(1_000_000, 60, new()), 1_000_000);
        Assert.InRange(forecast.Samples, 1, 999_999);
        Assert.True(forecast.Minutes.Error > 0);
        Assert.Equal(forecast.Samples, (int)forecast.ToJson()["samples"]!);
    }

    [Fact]
    public void Nobody_who_has_left_is_worked_for()
    {
        using var left = new CancellationTokenSource();
        left.Cancel();
        Assert.Throws<OperationCanceledException>(() => Make(Good("lift", "{}"), Of(1_000_000, 1_000_000, new(), left.Token)));
        Assert.Throws<OperationCanceledException>(() => EvenOut.For(Good("downline", "{}", "[{},{\"allowance\":{\"dice\":[\"d4\"]}}]").Ready(), s => new LearnerAnswers(s, new DateOnly(2026, 1, 1)), 200, Of(100, 100, new(), left.Token)));
    }

    /// <summary>Frames whose exact facts may take long, in settings small enough to have both answers.</summary>
    public static TheoryData<string, string, string, string> Both => new()
    {
        { "lift", """{"up":9,"down":7,"upDice":["d6"],"downDice":["d4"]}""", "[{}]", "plain" },
        { "downline", """{"sections":30,"finish":"exact","first":"alternate"}""", """[{},{"allowance":{"dice":["d4"]}},{"allowance":{"headStart":5}}]""", "plain" },
        { "downline", """{"sections":20,"ending":"equalGoes"}""", "[{},{}]", "plain" },
        { "gather", """{"colourDie":[["a","b"],["b","c"],["c"],["a"]],"pieces":{"a":5,"b":6,"c":4}}""", """[{},{"allowance":{"dice":["d3"]}}]""", "plain" },
        { "gather", """{"colourDie":[["a","b"],["b","c"],["c"],["a"]],"pieces":{"a":5,"b":6,"c":4}}""", "[{},{}]", "perfect" },
        { "homing", """{"start":10,"mark":14,"rounds":5,"line":[0,30]}""", """[{},{"allowance":{"dice":["d4"]}}]""", "plain" },
        { "homing", """{"start":10,"mark":14,"rounds":5}""", "[{},{}]", "perfect" },
        { "topper", """{"make":"sum"}""", "[{},{}]", "plain" },
        { "topper", """{"aim":"fewer"}""", "[{},{},{}]", "plain" },
    };

    [Theory]
    [MemberData(nameof(Both))]
    public void What_is_played_agrees_with_what_is_exact(string game, string table, string players, string behaviour)
    {
        var setup = Good(game, table, players);
        var how = Enum.Parse<Behaviour>(behaviour, true);
        var exact = setup.Ready().ExactFacts(how);
        var played = setup.Ready().PlayedFacts(how, Spending.Unlimited);
        Assert.Equal(exact.All.Select(f => f.Name), played.All.Select(f => f.Name));
        Assert.Contains(Figures(played), f => f.Simulated);
        foreach (var (one, other) in Figures(exact).Zip(Figures(played)))
        {
            // A quantile is a whole number, and may be the next one.
            double near = other.Simulated ? 5 * other.Error + (other.Value == Math.Floor(other.Value) ? 1 : 0) : 1e-9;
            Assert.InRange(other.Value, one.Value - near, one.Value + near);
        }
    }

    private static List<NumberFact> Figures(Facts facts)
    {
        return [.. facts.All.SelectMany(f => Of(f.Fact))];

        static IEnumerable<NumberFact> Of(Fact fact) => fact switch
        {
            NumberFact number => [number],
            ListFact list => list.Items.SelectMany(Of),
            MapFact map => map.Items.Select(i => i.Value),
            _ => [],
        };
    }

    [Theory]
    [MemberData(nameof(Both))]
    public void What_there_is_no_time_for_is_played_and_says_so(string game, string table, string players, string behaviour)
    {
        var setup = Good(game, table, players);
        var forecast = Make(setup, Of(0, 100_000, new()), 500, Enum.Parse<Behaviour>(behaviour, true));
        Assert.Contains(Figures(forecast.Facts), f => f.Simulated);
        Assert.NotEqual("exact", forecast.Method);
    }

    [Fact]
    public void Partners_without_time_simulates_what_it_cannot_count()
    {
        var forecast = Make(Good("partners", "{}", level: "spot"), Of(0, 100_000, new()));
        Assert.True(((NumberFact)forecast.Facts.Find("pStuck")!).Simulated);
        Assert.False(((NumberFact)forecast.Facts.Find("pMove")!).Simulated);
    }

    /// <summary>A deep recursion ended the process; now there is an answer.</summary>
    [Fact]
    public void A_pack_of_sixty_one_numbers_with_four_cards_each_is_answered()
    {
        string deck = string.Join(',', Enumerable.Range(0, 61).Select(n => $"\"{n}\":7"));
        var forecast = Make(Good("topper", """{"make":"sum","cardsEach":4,"deck":{"counts":{""" + deck + "}}}", "[{},{},{}]"), Of(250, 2_000, new()), 500);
        Assert.InRange(forecast.Facts.Number("tieChance"), .001, .2);
    }

    /// <summary>Five hands of three from an ordinary pack are more than can be gone through; the count of them was not a number, and nothing stopped it.</summary>
    [Fact]
    public void Five_players_with_three_cards_each_are_dealt_not_counted()
    {
        var setup = Good("topper", "{}", "[{},{},{},{},{}]", "three");
        var facts = setup.Ready().ExactFacts();
        Assert.True(((NumberFact)facts.Find("tieChance")!).Simulated);
        Assert.InRange(facts.Number("tieChance"), .05, .3);
    }

    [Fact]
    public void Evening_out_ends_with_its_budget()
    {
        var setup = Good("homing", """{"rounds":20,"dice":["d100"],"line":[0,1000],"start":500}""", """[{},{"allowance":{"dice":["d50","d50"]}},{"allowance":{"dice":["d20"]}},{}]""");
        var clock = new CountingClock();
        var budget = new Budget(Limits.Screen, clock, TimeSpan.FromMilliseconds(400));
        Assert.NotNull(EvenOut.For(setup.Ready(), s => new LearnerAnswers(s, new DateOnly(2026, 1, 1)), 1_500, budget));
        // After its end nobody looks at the clock more than a few times.
        Assert.InRange(clock.Looks, 0, 600);
    }

    [Fact]
    public void Memory_that_is_not_there_is_not_taken()
    {
        var spending = Of(1_000_000, 1_000_000, new()).Exactly();
        spending.Hold(Budget.MostBytes);
        Assert.False(spending.IsSpent);
        Assert.Throws<BudgetSpentException>(() => spending.Hold(1));
        Assert.True(spending.IsSpent);
    }

    [Fact]
    public void A_part_of_a_budget_ends_with_the_whole()
    {
        var clock = new CountingClock();
        var budget = new Budget(new Limits(TimeSpan.FromSeconds(5), TimeSpan.FromSeconds(5)), clock, TimeSpan.FromMilliseconds(20));
        while (!budget.Whole.IsSpent) { }
        Assert.True(budget.Exactly().IsSpent);
        Assert.True(budget.Playing().IsSpent);
    }
}
