using System.Net;
using System.Text.Json;
using System.Text;
using System.Text.Json.Nodes;
using Allowance.Store;

namespace Allowance.Web.Tests;

/// <summary>The bench: links, refusals, changes, files, and the forecast API.</summary>
public sealed class BenchTests : IAsyncLifetime
{
    private readonly TestHouse house = new(demo: true);

    public ValueTask InitializeAsync() => ValueTask.CompletedTask;

    public ValueTask DisposeAsync() => house.DisposeAsync();

    [Fact]
    public async Task A_link_reopens_the_setup()
    {
        string page = await house.Page("/bench?game=partners&level=spot&target=9&layout=3x4&deck=1x4%3AA%2C2%2C3%2C4%2C5%2C6%2C7%2C8&s1=2&s2=1&s2.target=5&s2.support=frame");
        Assert.Contains("make 9", page, StringComparison.Ordinal);
        Assert.Contains("makes 5", page, StringComparison.Ordinal);
        Assert.Contains("with a ten-frame", page, StringComparison.Ordinal);
        Assert.Contains("32 cards in play", page, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("target=99", "Use 30")]
    [InlineData("target=25", "Use 18")]
    [InlineData("layout=0x0", "Use 1 × 4")]
    [InlineData("mode=spto", "Use face up")]
    [InlineData("deck=rubbish", "Use 36 cards")]
    [InlineData("s1=2&s1.level=memory", "Use Face up")]
    [InlineData("s1=777", "child of five")]
    [InlineData("level=%3Cscript%3E", "&lt;script&gt;")]
    public async Task What_does_not_go_names_the_nearest(string query, string words)
    {
        string page = await house.Page("/bench?game=partners&" + query);
        Assert.Contains(words, WebUtility.HtmlDecode(page).Contains(words, StringComparison.Ordinal) ? WebUtility.HtmlDecode(page) : page, StringComparison.Ordinal);
        Assert.Contains("class=\"refusal\"", page, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("values=1-20&formB=dice", "Dice show 0 to 12, and the cards go to 20.", "Use loose dots")]
    [InlineData("values=rubbish", "Numbers are written", "Use 1 to 6")]
    [InlineData("formB=numeral", "Both cards of a pair would show numerals", "Use loose dots")]
    [InlineData("pairs=9", "9 pairs need as many numbers, and there are 6.", "Use 6")]
    [InlineData("memory=elephant", "Here stands none, perfect, or how many cards", "Use the 4 cards seen last")]
    public async Task Another_game_is_refused_as_kindly(string query, string words, string nearest)
    {
        string page = WebUtility.HtmlDecode(await house.Page("/bench?game=lookalikes&s1=2&" + query));
        Assert.Contains(words, page, StringComparison.Ordinal);
        Assert.Contains(nearest, page, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Each_game_shows_only_the_knobs_that_matter_and_leads_to_the_others()
    {
        string same = await house.Page("/bench?game=lookalikes&s1=2&s2=1&bench.open=game"), down = await house.Page("/bench?game=lookalikes&level=facedown&s1=2&bench.open=s1");
        Assert.DoesNotContain("name=\"target\"", same, StringComparison.Ordinal);
        Assert.Contains("name=\"target\"", await house.Page("/bench?game=lookalikes&level=partner&s1=2&bench.open=game"), StringComparison.Ordinal);
        Assert.Contains("name=\"s1.memory\"", down, StringComparison.Ordinal);
        Assert.Contains("two that show the same, face up", same, StringComparison.Ordinal);
        Assert.Contains("/shelf?s1=2&amp;s2=1", same, StringComparison.Ordinal);
        Assert.Matches("/bench\\?game=partners&amp;level=[^\"]*&amp;s1=2&amp;[^\"]*s2=1", await house.Page("/shelf?s1=2&s2=1"));
    }

    public static TheoryData<string> Games => [.. Allowance.Core.Games.Catalogue.Data.Select(f => f.Id)];

    [Theory, MemberData(nameof(Games))]
    public async Task Every_panel_of_every_game_opens_and_so_do_its_sheet_and_a_table(string game)
    {
        foreach (string open in new[] { "", "game", "deck", "cards", "dice", "line", "things", "s1", "s2", "files", "s9", "rubbish" })
            Assert.Contains("What it will be like", await house.Page($"/bench?game={game}&s1=2&s2=grown-up&bench.open={open}"), StringComparison.Ordinal);
        Assert.Contains("One turn", await house.Page($"/sheet?game={game}&s1=2"), StringComparison.Ordinal);
        foreach (string way in new[] { "screen", "refereed", "notes" })
        {
            var (_, page, at) = await house.Post("/bench?handler=Play", ("game", game), ("s1", "2"), ("bench.way", way));
            Assert.StartsWith("/table/", at.AbsolutePath, StringComparison.Ordinal);
            Assert.Contains("Stop here", page, StringComparison.Ordinal);
        }
    }

    [Theory]
    [InlineData("game=spots&from=7&to=5")]
    [InlineData("game=linewalk&from=10&to=5")]
    [InlineData("game=evenplates&level=share&max=3&ways=5")]
    [InlineData("game=panes&relation=plus:50")]
    [InlineData("game=lift&upDice=0")]
    [InlineData("game=glimpse&level=toFive&range=7-9")]
    [InlineData("game=downline&direction=down&from=1")]
    public async Task A_setup_that_does_not_go_is_still_shown(string query) => Assert.Contains("class=\"refusal\"", await house.Page($"/bench?{query}&s1=2"), StringComparison.Ordinal);

    [Theory]
    [InlineData("game=downline&s1=2&s2=1", "Otis, who begins, wins more often than Juno.")]
    [InlineData("game=downline&first=youngest&s1=2&s2=1", "Juno, who begins, wins more often than Otis.")]
    [InlineData("game=hedge&s1=2&s2=1", ", who begins, wins a little more often than Juno.")]
    [InlineData("game=downline&s1=2&s2=1&s3=3", ", who begins, wins more often than the others.")]
    [InlineData("game=panes&s1=2", "What you play for is reached in nearly every game.")]
    [InlineData("game=somegone&s1=2&s2=1", "Everyone gets to the end together.")]
    [InlineData("game=partners&level=spot&layout=2x2&s1=2", "there comes a point where nothing goes; about ")]
    [InlineData("game=partners&level=same&s1=2", "Hardly any game comes to a point where nothing goes.")]
    public async Task What_it_will_be_like_is_said_as_a_friend_would(string query, string words)
    {
        string page = WebUtility.HtmlDecode(await house.Page("/bench?" + query));
        Assert.Contains(words, page, StringComparison.Ordinal);
        string said = System.Text.RegularExpressions.Regex.Replace(page, "<svg.*?</svg>", "", System.Text.RegularExpressions.RegexOptions.Singleline);
        Assert.DoesNotContain(" points", said, StringComparison.Ordinal);
        Assert.DoesNotMatch(@"\d\.\d×", said);
    }

    [Fact]
    public async Task A_knob_change_comes_as_a_fragment_with_its_link_and_what_moved()
    {
        string first = await house.Fragment("/bench?game=partners&level=spot&s1=2");
        Assert.DoesNotContain("<html", first, StringComparison.Ordinal);
        string values = first[(first.IndexOf("hx-vals:inherited=\"", StringComparison.Ordinal) + 19)..];
        string was = JsonDocument.Parse(WebUtility.HtmlDecode(values[..values.IndexOf('"', StringComparison.Ordinal)])).RootElement.GetProperty("bench.was").GetString()!;
        string next = await house.Fragment($"/bench?game=partners&level=spot&s1=2&layout=2x3&bench.was={Uri.EscapeDataString(was)}");
        Assert.Contains("Since the last setting", next, StringComparison.Ordinal);
        Assert.Contains("(was ", next, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Ranks_of_the_deck_panel_make_the_pack()
    {
        string page = await house.Page("/bench?game=partners&level=spot&deck.packs=1&deck.suits=4&deck.rank.A=1&deck.rank.9=9&deck.rank.Q=0&deck.rank.5=5&deck.missing.5=1&layout=2x3");
        Assert.Contains("15 cards in play", page, StringComparison.Ordinal);
        Assert.Contains("1 card of the fives is missing", page, StringComparison.Ordinal);
        Assert.Contains("nothing counts as 10", WebUtility.HtmlDecode(page), StringComparison.Ordinal);
    }

    [Fact]
    public async Task Easier_and_harder_say_what_each_does()
    {
        string changes = await house.Page("/bench?handler=Changes&seat=0&game=partners&level=spot&s1=2");
        Assert.Matches(@"(?s)Easier.*\w+ instead of \w+.*about \d+ → \d+ min.*Harder.*right \d+\u00a0% → \d+\u00a0%, about \d+ → \d+ min", WebUtility.HtmlDecode(changes));
    }

    [Fact]
    public async Task More_than_one_change_since_last_time_is_remarked()
    {
        await house.Post("/?handler=Play", ("link", "game=partners&level=spot&target=5&layout=2x4&deck=2x4:A,2,3,4&s1=2"), ("way", "notes"));
        string page = await house.Page("/bench?game=partners&level=memory&target=4&layout=2x3&deck=2x4%3AA%2C2%2C3&form=dice&s1=2");
        Assert.Contains("One at a time is easier to take in", page, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_setup_is_saved_downloaded_and_opened()
    {
        const string Link = "game=partners&level=spot&target=8&deck=1x4%3AA%2C2%2C3%2C4%2C5%2C6%2C7&s1=2";
        await house.Post("/bench?handler=Save", ("game", "partners"), ("level", "spot"), ("target", "8"), ("deck", "1x4:A,2,3,4,5,6,7"), ("s1", "2"), ("bench.name", "Eights"));
        var kept = house.Get<SavedSetups>().All().Single(s => s.Name == "Eights");
        Assert.Contains("make 8", await house.Page($"/bench?handler=Saved&id={kept.Id}"), StringComparison.Ordinal);
        string file = await house.Page("/bench?handler=Download&" + Link);
        Assert.Equal("allowance-setup/1", JsonNode.Parse(file)!["format"]!.GetValue<string>());
        Assert.Contains("make 8", await house.PostFile("/bench?handler=Open", file), StringComparison.Ordinal);
        string refused = await house.PostFile("/bench?handler=Open", file.Replace("\"target\": 8", "\"target\": 80", StringComparison.Ordinal));
        Assert.Contains("80 is outside 3 to 30", refused, StringComparison.Ordinal);
        Assert.Contains("This is not JSON", await house.PostFile("/bench?handler=Open", "\0\u0001 nonsense"), StringComparison.Ordinal);
    }

    private async Task<(HttpStatusCode, JsonNode)> Api(string body)
    {
        using var content = new StringContent(body, Encoding.UTF8, "application/json");
        var response = await house.Client.PostAsync(new Uri("/api/forecast", UriKind.Relative), content);
        return (response.StatusCode, JsonNode.Parse(await response.Content.ReadAsStringAsync())!);
    }

    [Fact]
    public async Task The_api_forecasts_and_refuses()
    {
        var (status, forecast) = await Api("""{"format":"allowance-setup/1","game":"partners","players":[{"age":5}],"forecast":{"samples":500}}""");
        Assert.Equal(HttpStatusCode.OK, status);
        Assert.Equal("allowance-forecast/1", forecast["format"]!.GetValue<string>());
        Assert.Equal(5, forecast["facts"]!["combos"]!.AsArray().Count);
        var (refused, errors) = await Api("""{"format":"allowance-setup/1","game":"partners","table":{"target":1}}""");
        Assert.Equal(HttpStatusCode.UnprocessableEntity, refused);
        Assert.Equal("table.target", errors["errors"]![0]!["path"]!.GetValue<string>());
        Assert.Equal(HttpStatusCode.BadRequest, (await Api("")).Item1);
    }
}
