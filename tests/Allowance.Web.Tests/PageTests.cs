using System.Net;
using Allowance.Store;
using Allowance.Web.Demonstration;

namespace Allowance.Web.Tests;

/// <summary>Every page over the demonstration, over an empty household, and with what should not be asked.</summary>
public sealed class PageTests : IAsyncLifetime
{
    private readonly TestHouse house = new(demo: true);

    public ValueTask InitializeAsync() => ValueTask.CompletedTask;

    public ValueTask DisposeAsync() => house.DisposeAsync();

    [Theory]
    [InlineData("/", "Otis")]
    [InlineData("/bench", "How long")]
    [InlineData("/shelf", "Type to find")]
    [InlineData("/table", "Table")]
    [InlineData("/growth", "Number bonds")]
    [InlineData("/growth/2?most=20", "Number bonds to 20")]
    [InlineData("/logbook", "Logbook")]
    [InlineData("/house", "Grandad Pell")]
    [InlineData("/guide", "Whom to ask")]
    [InlineData("/guide/forms", "Good for:")]
    [InlineData("/guide/forms/fingers?picture=7&size=large", "fingers")]
    [InlineData("/guide/forms/line?labels=rubbish&shape=&picture=-4&size=huge", "A place on a number line.")]
    [InlineData("/guide/forms?every=true", "To trace", false)]
    [InlineData("/look", "Look sheet")]
    [InlineData("/start", "Who plays?")]
    [InlineData("/openapi/v1.json", "/api/forecast")]
    public async Task Every_page_answers(string path, string words, bool there = true) => Assert.Equal(there, (await house.Page(path)).Contains(words, StringComparison.Ordinal));

    [Fact]
    public async Task The_page_of_a_form_shows_every_number_once_and_says_it_for_those_who_do_not_see()
    {
        string page = await house.Page("/guide/forms/ten-frame");
        for (int n = 0; n <= 10; n++) Assert.Single(page.Split($"aria-label=\"{n} as ten-frame\"").Skip(1));
        Assert.Equal(55, page.Split("class=\"mark counts\"").Length - 1);
    }

    [Theory]
    [InlineData("/table/999")]
    [InlineData("/growth/999")]
    [InlineData("/logbook/999")]
    [InlineData("/nowhere")]
    [InlineData("/table/x")]
    [InlineData("/guide/forms/clouds")]
    public async Task What_is_not_there_is_said_kindly(string path)
    {
        var response = await house.Client.GetAsync(new Uri(path, UriKind.Relative));
        Assert.Equal(HttpStatusCode.NotFound, response.StatusCode);
        Assert.Contains("There is nothing here", await response.Content.ReadAsStringAsync(), StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_strict_policy_stands_on_every_answer_and_no_script_is_inline()
    {
        var response = await house.Client.GetAsync(new Uri("/bench", UriKind.Relative));
        Assert.StartsWith("default-src 'self'", response.Headers.GetValues("Content-Security-Policy").Single(), StringComparison.Ordinal);
        string body = await response.Content.ReadAsStringAsync();
        Assert.DoesNotContain(" style=", body, StringComparison.Ordinal);
        Assert.DoesNotContain("onclick", body, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_change_without_a_token_is_not_taken()
    {
        using var form = new FormUrlEncodedContent([KeyValuePair.Create("name", "Eve"), KeyValuePair.Create("kind", "Child")]);
        var response = await house.Client.PostAsync(new Uri("/house?handler=Add", UriKind.Relative), form);
        Assert.Equal(HttpStatusCode.BadRequest, response.StatusCode);
        Assert.DoesNotContain(house.Get<Players>().All(), p => p.Name == "Eve");
    }

    [Fact]
    public async Task Growth_shows_the_evidence_behind_a_bond_and_how_it_was()
    {
        string now = await house.Page("/growth/2?cell=bond-5-1");
        Assert.Contains("1 and 4 make 5", now, StringComparison.Ordinal);
        string before = await house.Page("/growth/2?cell=bond-5-1&day=2020-01-01");
        Assert.Contains("was not seen itself", before, StringComparison.Ordinal);
        Assert.Contains("asks the teacher, the health visitor or doctor", now, StringComparison.Ordinal);
    }

    [Fact]
    public async Task An_empty_household_begins_in_three_steps_and_can_try_the_demonstration()
    {
        await using var empty = new TestHouse();
        Assert.Contains("Begin in three steps", await empty.Page("/"), StringComparison.Ordinal);
        Assert.Contains("Nothing was played yet", await empty.Page("/logbook"), StringComparison.Ordinal);
        Assert.Contains("no child in the household", await empty.Page("/growth"), StringComparison.Ordinal);
        Assert.Contains("How long", await empty.Page("/bench"), StringComparison.Ordinal);
        var (_, after, _) = await empty.Post("/start?handler=Who", ("name", "Juno"), ("born", "2023-01"), ("kind", "Child"));
        Assert.Contains("To the bench with Juno", after, StringComparison.Ordinal);
        Offering.Whole(empty.Get<Household>().Cupboard);
        Assert.Contains("To begin with", await empty.Page("/"), StringComparison.Ordinal);
        await using var other = new TestHouse();
        var (_, making, _) = await other.Post("/start?handler=Demo");
        Assert.Contains("of 12 weeks are played", making, StringComparison.Ordinal);
        // It is stopped, and begun again.
        await other.Post("/start?handler=Stop");
        while (other.Get<DemoMaking>().Reached is not null) await Task.Delay(20, TestContext.Current.CancellationToken);
        Assert.Contains("Try the demonstration", await other.Page("/start?made=true"), StringComparison.Ordinal);
        await other.Post("/start?handler=Demo");
        await other.Get<DemoMaking>().Begin();
        Assert.Contains("Mags", await other.Page("/start?made=true"), StringComparison.Ordinal);
        Assert.Contains("Mags", await other.Page("/"), StringComparison.Ordinal);
    }
}
