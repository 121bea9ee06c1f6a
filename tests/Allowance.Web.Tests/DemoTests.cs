using Allowance.Core.Rules;
using Allowance.Store;
using Allowance.Web.Commands;

namespace Allowance.Web.Tests;

/// <summary>The made-up household: twelve weeks that the engine itself has played.</summary>
public sealed class DemoTests : IAsyncLifetime
{
    private readonly TestHouse house = new(demo: true);

    public ValueTask InitializeAsync() => ValueTask.CompletedTask;

    public ValueTask DisposeAsync() => house.DisposeAsync();

    [Fact]
    public void Everybody_is_there_and_every_child_has_played()
    {
        Assert.Equal(["Juno", "Otis", "Mags", "Ines", "Grandad Pell"], house.Get<Players>().All().Select(p => p.Name));
        foreach (var child in house.Get<Household>().Children)
        {
            var notes = house.Get<Observations>().Of(child.Id);
            Assert.InRange(notes.Count, 100, 2_000);
            Assert.InRange(notes.Select(n => n.Observation.Day).Distinct().Count(), 10, 84);
            Assert.Contains(notes, n => n.Observation.Seen.Outcome is null);
            Assert.Contains(notes, n => !n.Observation.Seen.Right);
        }
    }

    [Fact]
    public void It_spans_twelve_weeks_and_ends_before_today()
    {
        var sittings = house.Get<SittingLog>().Latest(200);
        var today = house.Get<Household>().Today;
        Assert.InRange(sittings.Count, 50, 90);
        Assert.All(sittings, s => Assert.InRange(DateOnly.FromDateTime(s.StartedAt.DateTime), today.AddDays(-85), today.AddDays(-1)));
        Assert.All(sittings, s => Assert.NotNull(s.EndedAt));
    }

    [Fact]
    public void Every_sitting_can_be_played_again_from_its_log()
    {
        foreach (var head in house.Get<SittingLog>().Latest(200))
        {
            var table = house.Get<Tables>().Find(head.Id);
            Assert.NotNull(table);
            Assert.Equal(StepKind.Over, table.Sitting.Next.Kind);
            Assert.Equal(table.Sitting.Notes.Count, house.Get<Observations>().OfSitting(head.Id).Count);
        }
    }

    [Fact]
    public void A_household_with_people_in_it_is_left_as_it_is()
    {
        int before = house.Get<SittingLog>().Latest(500).Count;
        DemoHousehold.Fill(house.Database, TimeProvider.System);
        Assert.Equal(before, house.Get<SittingLog>().Latest(500).Count);
    }

    [Fact]
    public async Task The_same_day_gives_the_same_weeks()
    {
        await using var other = new TestHouse(demo: true);
        foreach (var child in house.Get<Household>().Children)
            Assert.Equal(house.Get<Observations>().Of(child.Id).Select(o => (o.Observation.Ask, o.Observation.Seen, o.Observation.Day)), other.Get<Observations>().Of(child.Id).Select(o => (o.Observation.Ask, o.Observation.Seen, o.Observation.Day)));
    }

    [Fact]
    public void A_model_is_kept_until_its_log_changes()
    {
        var household = house.Get<Household>();
        var otis = household.Children.Single(c => c.Name == "Otis");
        var model = household.Model(otis);
        Assert.Same(model, household.Model(otis));
        var last = house.Get<Observations>().Of(otis.Id)[^1];
        house.Get<Observations>().Withdraw(last.Id);
        Assert.NotSame(model, household.Model(otis));
        Assert.Equal(model.Observations - 1, household.Model(otis).Observations);
        var first = house.Get<Observations>().Of(otis.Id)[0].Observation.Day;
        Assert.Equal(house.Get<Observations>().Of(otis.Id).Count(n => n.Observation.Day == first), household.ModelOn(otis, first).Observations);
    }
}
