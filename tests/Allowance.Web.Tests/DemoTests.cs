using Allowance.Core.Asks;
using Allowance.Core.Forms;
using Allowance.Core.Learner;
using Allowance.Core.Rules;
using Allowance.Core.Sittings;
using Allowance.Core.Tuning;
using Allowance.Store;
using Allowance.Web.Demonstration;

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
            Assert.InRange(notes.Count, 300, 2_000);
            Assert.InRange(notes.Select(n => n.Observation.Day).Distinct().Count(), 10, 84);
            Assert.Contains(notes, n => n.Observation.Seen.Outcome is null);
            Assert.Contains(notes, n => !n.Observation.Seen.Right);
        }
    }

    [Fact]
    public void It_spans_twelve_weeks_and_ends_before_today()
    {
        var sittings = Sittings;
        var today = house.Get<Household>().Today;
        Assert.InRange(sittings.Count, 60, 130);
        Assert.All(sittings, s => Assert.InRange(DateOnly.FromDateTime(s.StartedAt.DateTime), today.AddDays(-84), today.AddDays(-1)));
        Assert.All(sittings, s => Assert.NotNull(s.EndedAt));
    }

    private IReadOnlyList<SittingHead> Sittings => house.Get<SittingLog>().Latest(200);

    [Fact]
    public void There_is_something_of_everything_to_see()
    {
        var household = house.Get<Household>();
        var sittings = Sittings;
        Assert.Equal(Enum.GetValues<Way>().Order(), sittings.Select(s => s.Way).Distinct().Order());
        var children = household.Children.Select(c => (long?)c.Id).ToHashSet();
        Assert.Equal([1, 2, 3], sittings.Select(s => s.Seats.Count(children.Contains)).Distinct().Order());
        Assert.InRange(sittings.Select(s => s.Game).Distinct().Count(), 8, 22);
        // A game they tired of, games they wished for again.
        var left = household.Children.SelectMany(c => house.Get<SittingLog>().LookedBackOn(c.Id, 200)).Select(l => l.How).ToList();
        Assert.Contains(Closing.NotToday, left);
        Assert.Contains(Closing.Again, left);
        // A rest of ten days, first looks, glimpses, notes in words, an aim that was put first.
        var days = sittings.Select(s => DateOnly.FromDateTime(s.StartedAt.DateTime)).Distinct().Order().ToList();
        Assert.Contains(days.Zip(days.Skip(1)), d => d.Second.DayNumber - d.First.DayNumber > 10);
        Assert.All(household.Children, c => Assert.NotNull(house.Get<Entries>().LatestFirstLook(c.Id)));
        Assert.Contains(house.Get<Observations>().Of(household.Children[0].Id), o => o.Observation.Source == Source.Glimpse);
        Assert.Contains(house.Get<AimWishes>().Of(household.Children[1].Id), w => w.Wish == Wish.First && w.HoldsOn(household.Today));
        // A week of which two days were played, and the others are planned.
        Offering.Whole(household.Cupboard);
        var planning = house.Get<Planning>();
        var week = planning.Of(planning.FirstOf(household.Today));
        Assert.True(week.Days.Count(d => d.Played.Count > 0) >= 2);
        Assert.Contains(week.Plan.Sittings, s => s.Slot.Day == household.Today && s.Games.Length > 0);
    }

    [Fact]
    public void The_children_become_who_they_are_said_to_be()
    {
        var household = house.Get<Household>();
        BandStanding Stands(string name, string skill, int band) => household.Model(household.Children.Single(c => c.Name == name)).Standing(Feeding.BandIndex(skill, band), household.Today);
        // Juno counts to six and sees one to three; five at once, ten things and the numerals to ten are still to come.
        Assert.True(Stands("Juno", "words", 5).Right > .8 && Stands("Juno", "words", 20).Right < .5 && Stands("Juno", "glance", 3).Right > .8);
        Assert.True(Stands("Juno", "howmany", 5).Right > .7 && Stands("Juno", "howmany", 10).Right < .75 && Stands("Juno", "glance", 5).Right < .85 && Stands("Juno", "numeral", 10).Right < .6);
        // Otis reads numerals to ten, has the partners of five, and works on those of ten.
        Assert.True(Stands("Otis", "numeral", 10).Right > .85 && Stands("Otis", "partners", 5).Right > .8 && Stands("Otis", "partners", 10).Right is > .3 and < .8);
        // Mags is at home within ten and on the way over it.
        Assert.True(Stands("Mags", "join", 10).Right > .9 && Stands("Mags", "join", 20).Right > .7 && Stands("Mags", "cross", 20).Right > .5);
        // One bond of Otis's would not stick: it is less sure than its neighbours.
        var otis = household.Model(household.Children.Single(c => c.Name == "Otis"));
        double Bond(int part) => otis.Right(new Ask(AskKind.Part, 10, part, Form.Numeral), household.Today);
        Assert.Equal(3, Enumerable.Range(1, 5).MinBy(Bond));
    }

    [Fact]
    public async Task Today_has_one_game_for_several_of_them()
    {
        Offering.Whole(house.Get<Household>().Cupboard);
        string page = await house.Page("/");
        Assert.Contains("all-together", page, StringComparison.Ordinal);
        Assert.DoesNotContain("side by side", page, StringComparison.Ordinal);
        // In an hour there is time for any of them again and again.
        Assert.Contains(", several times over", await house.Page("/?minutes=60"), StringComparison.Ordinal);
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
