using Allowance.Core.Games;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;

namespace Allowance.Core.Tests;

/// <summary>How far each roll gets, and where the first choice leads.</summary>
public class JourneyTests
{
    private static Setup Good(string game, string table, string players = "[{}]")
    {
        var reading = Catalogue.Read($$"""{"format":"allowance-setup/1","game":"{{game}}","table":{{table}},"players":{{players}}}""");
        Assert.Empty(reading.Problems);
        return reading.Setup!;
    }

    private static IReadOnlyList<Journey> Journeys(Setup setup) => setup.Ready().Journeys(Spending.Unlimited);

    [Fact]
    public void A_track_is_followed_roll_by_roll_for_each_kind_of_dice()
    {
        // With two ones a die goes 1 each time; d2 stands on 1 or 2, then 2 to 4.
        var both = Journeys(Good("downline", """{"sections":4,"dice":["d2"]}""", """[{"name":"Otis"},{"name":"Mags","allowance":{"dice":[[1,1]]}},{"name":"Juno"}]"""));
        Assert.Equal(["Otis and Juno", "Mags"], both.Select(j => j.Whose));
        Assert.Equal([new(1, 1, 2), new(2, 3, 4), new(3, 4, 4), new(4, 4, 4)], both[0].Rolls);
        Assert.Equal([new(1, 1, 1), new(2, 2, 2), new(3, 3, 3), new(4, 4, 4)], both[1].Rolls);
        Assert.Equal("", Assert.Single(Journeys(Good("downline", "{}", "[{},{}]"))).Whose);
        Assert.Equal(Journey.MostRolls, Journeys(Good("downline", """{"sections":1000}"""))[0].Rolls.Count);
    }

    [Fact]
    public void A_lift_goes_up_and_down_in_turn_until_a_door()
    {
        var journey = Assert.Single(Journeys(Good("lift", """{"up":2,"down":2,"upDice":[[1]],"downDice":[[3]]}""")));
        Assert.Equal((0, 4, 2), (journey.From, journey.To, journey.Start));
        Assert.Equal([new(3, 3, 3), new(0, 0, 0)], journey.Rolls);
    }

    [Theory]
    [InlineData("""{"start":10,"mark":12,"rounds":2,"dice":["d3"]}""")]
    [InlineData("""{"start":3,"mark":5,"rounds":3,"dice":["d4"],"line":[1,8]}""")]
    public void The_first_choice_leads_where_trying_all_shows(string table)
    {
        var setup = Good("homing", table);
        int rounds = setup.Get<WholeValue>("rounds").Number, mark = setup.Get<WholeValue>("mark").Number;
        var line = (setup.Get("line") as RangeValue)?.Range ?? new NumberRange(-100, 100);
        var faces = setup.Get<DiceValue>("dice").Dice.All[0].Faces;
        var tree = setup.Ready().Choices!;
        Assert.Equal(faces.Distinct(), tree.Rolls.Select(r => r.Roll));
        foreach (var (roll, branches) in tree.Rolls)
        {
            Assert.Equal(new[] { tree.Root + roll, tree.Root - roll }.Where(line.Contains), branches.Select(b => b.Number));
            Assert.All(branches, b => Assert.Equal(Least(b.Number, rounds - 1), b.Gap, 10));
            Assert.Equal(branches.Min(b => b.Gap), branches.First(b => b.Best).Gap, 10);
        }

        double Least(int at, int left) => left == 0
            ? Math.Abs(at - mark)
            : faces.Average(f => new[] { at + f, at - f }.Where(line.Contains).Select(n => Least(n, left - 1)).DefaultIfEmpty(0).Min() is var best && new[] { at + f, at - f }.Any(line.Contains) ? best : Least(at, left - 1));
    }

    [Fact]
    public void Choosing_best_ends_nearer_than_choosing_anyhow()
    {
        var both = Journeys(Good("homing", """{"start":10,"mark":20,"rounds":6}"""));
        Assert.Equal(6, both[0].Rolls.Count);
        Assert.True(Math.Abs(both[0].Rolls[^1].Middle - 20) < Math.Abs(both[1].Rolls[^1].Middle - 20));
        Assert.True(both[0].Rolls[^1].High - both[0].Rolls[^1].Low < both[1].Rolls[^1].High - both[1].Rolls[^1].Low);
    }
}
