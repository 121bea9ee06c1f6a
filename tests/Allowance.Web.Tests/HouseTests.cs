using System.Net;
using Allowance.Store;

namespace Allowance.Web.Tests;

/// <summary>People come, change and go; the approach is kept.</summary>
public sealed class HouseTests : IAsyncLifetime
{
    private readonly TestHouse house = new(demo: true);

    public ValueTask InitializeAsync() => ValueTask.CompletedTask;

    public ValueTask DisposeAsync() => house.DisposeAsync();

    [Fact]
    public async Task A_name_with_markup_is_only_a_name()
    {
        await house.Post("/house?handler=Add", ("name", "<b>Eve</b>"), ("born", "2020-02"), ("kind", "Child"));
        foreach (string path in new[] { "/", "/house", "/logbook" })
        {
            string page = await house.Page(path);
            Assert.Contains("&lt;b&gt;Eve", page, StringComparison.Ordinal);
            Assert.DoesNotContain("<b>Eve", page, StringComparison.Ordinal);
        }
    }

    [Theory]
    [InlineData("", "2020-02", "name or nickname is needed")]
    [InlineData("Eve", "2020-13", "for example 05/2021")]
    [InlineData("Eve", "May", "for example 05/2021")]
    [InlineData("Eve", "2999-01", "lies ahead")]
    [InlineData("Eveeveeveeveeveeveeveeveeveeveeveeveeveeveeve", "2020-01", "at most 40")]
    public async Task A_person_that_cannot_be_is_refused_in_words(string name, string born, string words)
    {
        var (status, body, _) = await house.Post("/house?handler=Add", ("name", name), ("born", born), ("kind", "Child"));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, status);
        Assert.Contains(words, body, StringComparison.Ordinal);
        Assert.Equal(5, house.Get<Players>().All().Count);
    }

    [Fact]
    public async Task Removing_asks_once_and_erases()
    {
        var otis = house.Get<Players>().All().Single(p => p.Name == "Otis");
        Assert.Contains("Remove Otis?", await house.Page($"/house?remove={otis.Id}"), StringComparison.Ordinal);
        Assert.NotEmpty(house.Get<Observations>().Of(otis.Id));
        await house.Post($"/house?handler=Remove&id={otis.Id}");
        Assert.Null(house.Get<Players>().Find(otis.Id));
        Assert.Empty(house.Get<Observations>().Of(otis.Id));
        Assert.DoesNotContain("Otis", await house.Page("/"), StringComparison.Ordinal);
        foreach (var head in house.Get<SittingLog>().Latest(200)) await house.Page($"/logbook/{head.Id}");
        Assert.Contains(house.Get<SittingLog>().Latest(200), h => h.Seats.Contains(null));
    }

    [Fact]
    public async Task The_approach_is_kept_and_changes_what_is_said()
    {
        await house.Post("/house?handler=Approach", ("answers", "counting"), ("winning", "nonsense"), ("one", ""));
        Assert.Equal("counting", house.Get<Household>().Approach["answers"]);
        Assert.Equal("evened", house.Get<Household>().Approach["winning"]);
        Assert.False(house.Get<Household>().OneChangeAtATime);
    }

    [Fact]
    public async Task Changing_somebody_keeps_her_notes()
    {
        var juno = house.Get<Players>().All().Single(p => p.Name == "Juno");
        int notes = house.Get<Observations>().Of(juno.Id).Count;
        await house.Post($"/house?handler=Change&id={juno.Id}", ("name", "June"), ("born", "2023-02"), ("kind", "Child"));
        Assert.Equal("June", house.Get<Players>().Find(juno.Id)!.Name);
        Assert.Equal(notes, house.Get<Observations>().Of(juno.Id).Count);
    }
}
