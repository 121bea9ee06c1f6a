using Allowance.Core.Games;
using Allowance.Store;

namespace Allowance.Web.Tests;

/// <summary>The shelf: every game as a picture, and what leaves only some of them there.</summary>
public sealed class ShelfTests : IAsyncLifetime
{
    private readonly TestHouse house = new(demo: true);

    public ValueTask InitializeAsync() => ValueTask.CompletedTask;

    public ValueTask DisposeAsync() => house.DisposeAsync();

    private async Task<IReadOnlyList<string>> Shown(string query)
    {
        string page = await house.Page("/shelf" + query);
        return [.. Catalogue.Data.Where(f => page.Contains($"id=\"game-{f.Id}\"", StringComparison.Ordinal)).Select(f => f.Id)];
    }

    [Fact]
    public async Task Every_game_stands_there_as_a_picture_and_leads_to_the_bench_with_the_same_people()
    {
        string page = await house.Page("/shelf?s1=2&s2=1");
        Assert.All(Catalogue.Data, f => Assert.Matches($"/bench\\?game={f.Id}&amp;level=[^\"]*&amp;s1=2&amp;[^\"]*s2=1", page));
        Assert.Equal(Catalogue.Data.Count, page.Split("class=\"drawing\"").Length - 1);
        Assert.Contains("as Otis and Juno would begin", page, StringComparison.Ordinal);
        Assert.Equal(Catalogue.Data.Select(f => f.Family).Distinct().Count(), page.Split("shelf-family").Length - 1);
    }

    /// <summary>Making ten from sixteen cards is no beginning for a child of three.</summary>
    [Fact]
    public async Task A_game_stands_there_as_a_child_would_begin_it()
    {
        Offering.Whole(house.Get<Household>().Cupboard);
        string[] levels = [.. Catalogue.Data.First(f => f.Id == "partners").Levels.Select(l => l.Id)];
        var (juno, mags) = (await Rung("1"), await Rung("3"));
        Assert.InRange(juno, 0, mags - 1);

        async Task<int> Rung(string child)
        {
            string page = await house.Page($"/shelf?s1={child}");
            return Array.FindIndex(levels, l => page.Contains($"/bench?game=partners&amp;level={l}&amp;", StringComparison.Ordinal));
        }
    }

    [Fact]
    public async Task Words_skills_minutes_the_drawer_and_who_knows_it_leave_what_is_wished()
    {
        Assert.Equal(["lookalikes"], await Shown("?words=LOOKAL"));
        Assert.Contains("downline", await Shown("?words=count%20back"));
        Assert.Empty(await Shown("?words=%3Cscript%3E"));
        var line = await Shown("?skill=Line");
        Assert.Contains("linewalk", line);
        Assert.DoesNotContain("topper", line);
        var quick = await Shown("?minutes=5");
        Assert.NotEmpty(quick);
        Assert.True(quick.Count < Catalogue.Data.Count);
        var known = await Shown("?knows=3");
        Assert.Equal(Catalogue.Data.Where(f => house.Get<SittingLog>().LatestOf(3, f.Id) is not null).Select(f => f.Id), known);
        // Rubbish is no wish.
        Assert.Equal(Catalogue.Data.Count, (await Shown("?skill=rubbish&minutes=-3&knows=99&s1=nobody")).Count);
    }

    [Fact]
    public async Task What_the_drawer_lacks_is_said_and_can_be_left_out()
    {
        foreach (var thing in house.Get<Things>().All().Materials) house.Get<Things>().Remove(thing.Id);
        string page = await house.Page("/shelf");
        Assert.Contains("not in the drawer:", page, StringComparison.Ordinal);
        Assert.True((await Shown("?fits=true")).Count < Catalogue.Data.Count);
    }

    [Fact]
    public async Task A_fragment_is_only_the_games_with_the_address_of_what_is_seen()
    {
        string fragment = await house.Fragment("/shelf?words=glimpse&s1=2");
        Assert.DoesNotContain("<html", fragment, StringComparison.Ordinal);
        Assert.Contains("data-say=\"1 game\"", fragment, StringComparison.Ordinal);
    }
}
