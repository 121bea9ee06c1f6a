using System.Net;
using System.Net.Sockets;
using System.Text;
using System.Text.RegularExpressions;
using Allowance.Core.Asks;
using Allowance.Core.Forms;
using Allowance.Core.Learner;
using Allowance.Store;
using Allowance.Web.Files;

namespace Allowance.Web.Tests;

/// <summary>Bad input is told in words, posts may come twice, and nothing that was noted is lost or doubled.</summary>
public sealed class HoldingTests : IAsyncDisposable
{
    private readonly TestHouse house = new();
    private readonly long otis, mags;

    public HoldingTests()
    {
        otis = house.Get<Players>().Add("Otis", "2021-07", PlayerKind.Child);
        mags = house.Get<Players>().Add("Mags", "2019-10", PlayerKind.Child);
    }

    public ValueTask DisposeAsync() => house.DisposeAsync();

    private Entries Entries => house.Get<Entries>();

    private Observations Notes => house.Get<Observations>();

    private static readonly DateTimeOffset Noon = new(2026, 3, 1, 12, 0, 0, TimeSpan.Zero);

    private static Observation Note(int whole, int part, Outcome outcome, DateTimeOffset? at = null) => new(at ?? Noon, new Ask(AskKind.Part, whole, part, Form.Numeral), Seen.How(outcome), null, Source.Typed);

    private async Task<HttpStatusCode> Status(string path) => (await house.Client.GetAsync(new Uri(path, UriKind.Relative))).StatusCode;

    [Theory]
    [InlineData("/logbook?to=9999-12-31", 200)]
    [InlineData("/logbook?from=0001-01-01&at=99999999", 200)]
    [InlineData("/growth/1?day=0001-01-01", 200)]
    [InlineData("/growth/1?day=9999-12-31", 200)]
    [InlineData("/growth/1?handler=File&day=0001-01-01", 200)]
    [InlineData("/bench?game=lift&bench.was=a=1;a=2", 200)]
    [InlineData("/bench?game=lift&bench.was==;=;;=1=2", 200)]
    [InlineData("/bench?game=topper&level=three&s1=child&s2=child&s3=child&s4=child&s5=child", 200)]
    [InlineData("/growth/rubbish", 404)]
    [InlineData("/logbook?player=rubbish", 400)]
    [InlineData("/?handler=Nonsense", 200)]
    public async Task What_was_an_error_is_answered(string path, int status) => Assert.Equal(status, (int)await Status(path));

    [Theory]
    [InlineData("/house?handler=Add", 422, "name=Ada&kind=9")]
    [InlineData("/house?handler=Change&id=1", 422, "name=Ada&kind=other2")]
    [InlineData("/house?handler=Change&id=rubbish", 400, "name=Ada&kind=child")]
    [InlineData("/start?handler=Who", 422, "name=Ada&kind=-1")]
    [InlineData("/house?handler=Nonsense", 404, "")]
    [InlineData("/table/1?handler=Nonsense", 404, "")]
    [InlineData("/guide", 404, "")]
    [InlineData("/glimpse/pocket/1", 200, "outcomes=5")]
    [InlineData("/glimpse/pocket/1", 200, "asks=&outcomes=5")]
    [InlineData("/bench?handler=Play", 302, "")]
    [InlineData("/bench?handler=Play", 200, "game=nonsense")]
    [InlineData("/bench?handler=Forget&id=7", 302, "back=%0D%0Ax")]
    [InlineData("/?handler=Play", 302, "link=game%3Dlift%26level%3D%C3%A9%0D%0A")]
    [InlineData("/?handler=Play", 302, "")]
    [InlineData("/logbook/import?handler=Take", 200, "waiting=00000000000000000000000000000000&names=a&players=1&names=a&players=1")]
    public async Task What_was_an_error_on_a_post_is_answered(string path, int status, string form)
    {
        string token = TestHouse.TokenOf(await house.Page("/house"));
        using var client = new HttpClient(new HttpClientHandler { CookieContainer = house.Cookies, AllowAutoRedirect = false }) { BaseAddress = house.Client.BaseAddress };
        using var content = new StringContent($"{form}&__RequestVerificationToken={Uri.EscapeDataString(token)}", Encoding.UTF8, "application/x-www-form-urlencoded");
        var response = await client.PostAsync(new Uri(path, UriKind.Relative), content);
        Assert.Equal(status, (int)response.StatusCode);
    }

    [Fact]
    public async Task A_referer_that_is_no_address_changes_nothing()
    {
        string token = TestHouse.TokenOf(await house.Page("/house"));
        using var request = new HttpRequestMessage(HttpMethod.Post, "/bench?handler=Forget&id=7") { Content = new FormUrlEncodedContent([KeyValuePair.Create("__RequestVerificationToken", token)]) };
        request.Headers.TryAddWithoutValidation("Referer", "no address");
        Assert.Equal(HttpStatusCode.OK, (await house.Client.SendAsync(request)).StatusCode);
    }

    [Theory]
    [InlineData("""{"format":"allowance-setup/1","game":["x"]}""", 422, "game")]
    [InlineData("""{"format":["x"],"game":"lift"}""", 422, "format")]
    [InlineData("""{"format":"allowance-setup/1","game":"lift","level":{"a":1},"table":[1],"players":{"a":1},"forecast":"x","note":7}""", 422, "level")]
    [InlineData("""{"format":"allowance-setup/1","game":"lift","players":[1,null,"x",[]]}""", 422, "players[0]")]
    [InlineData("""{"format":"allowance-setup/1","game":"lift","note":"\ud800"}""", 400, "")]
    [InlineData("""{"format":"allowance-setup/1","ga\ud800me":"lift"}""", 400, "")]
    [InlineData("[[[[", 400, "")]
    [InlineData("", 400, "")]
    [InlineData("null", 422, "")]
    public async Task The_api_names_what_it_cannot_take(string json, int status, string path)
    {
        using var content = new StringContent(json, Encoding.UTF8, "application/json");
        var response = await house.Client.PostAsync(new Uri("/api/forecast", UriKind.Relative), content);
        Assert.Equal(status, (int)response.StatusCode);
        Assert.Contains($"\"path\":\"{path}\"", await response.Content.ReadAsStringAsync(), StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("text/plain", 415)]
    [InlineData("application/x-www-form-urlencoded", 415)]
    [InlineData("application/json; charset=utf-16", 415)]
    [InlineData(null, 415)]
    [InlineData("application/json; charset=UTF-8", 200)]
    public async Task The_api_takes_json_only(string? type, int status)
    {
        using var content = new ByteArrayContent("""{"format":"allowance-setup/1","game":"lift","forecast":{"samples":100}}"""u8.ToArray());
        if (type is not null) content.Headers.TryAddWithoutValidation("Content-Type", type);
        Assert.Equal(status, (int)(await house.Client.PostAsync(new Uri("/api/forecast", UriKind.Relative), content)).StatusCode);
    }

    [Fact]
    public async Task A_body_that_is_too_large_is_refused_with_words()
    {
        using var content = new StringContent(new string(' ', 300_000) + "{}", Encoding.UTF8, "application/json");
        Assert.Equal(HttpStatusCode.RequestEntityTooLarge, (await house.Client.PostAsync(new Uri("/api/forecast", UriKind.Relative), content)).StatusCode);
        using var huge = new StringContent(new string(' ', 3_000_000), Encoding.UTF8, "application/json");
        Assert.Equal(HttpStatusCode.RequestEntityTooLarge, (await house.Client.PostAsync(new Uri("/api/forecast", UriKind.Relative), huge)).StatusCode);
    }

    [Theory]
    [InlineData("zz\r\n{}\r\n0\r\n\r\n")]
    [InlineData("5\r\n{}\r\n0\r\n\r\n")]
    public async Task A_body_in_bad_chunks_is_refused(string body)
    {
        var address = house.Client.BaseAddress!;
        using var socket = new TcpClient();
        await socket.ConnectAsync(address.Host, address.Port);
        await using var stream = socket.GetStream();
        await stream.WriteAsync(Encoding.ASCII.GetBytes($"POST /api/forecast HTTP/1.1\r\nHost: {address.Host}:{address.Port}\r\nContent-Type: application/json\r\nTransfer-Encoding: chunked\r\nConnection: close\r\n\r\n{body}"));
        using var reader = new StreamReader(stream);
        Assert.Contains(" 400 ", await reader.ReadLineAsync(), StringComparison.Ordinal);
    }

    [Fact]
    public async Task Two_computations_run_and_the_third_waits_its_turn()
    {
        using var computing = new Computing(TimeSpan.FromMilliseconds(50));
        var first = await computing.Enter(default);
        using var second = await computing.Enter(default);
        Assert.Null(await computing.Enter(default));
        var third = computing.Enter(default);
        first!.Dispose();
        Assert.NotNull(await third);
        using var left = new CancellationTokenSource();
        await left.CancelAsync();
        await Assert.ThrowsAnyAsync<OperationCanceledException>(() => computing.Enter(left.Token));
    }

    private async Task<string> Lay(string link = "game=partners&level=spot", string way = "screen") =>
        (await house.Post("/?handler=Play", ("link", $"{link}&s1={otis}"), ("way", way))).At.AbsolutePath;

    [Fact]
    public async Task Who_joined_and_was_taken_back_leaves_the_table_as_it_was()
    {
        string table = await Lay();
        await house.Post($"{table}?handler=Join&player={mags}");
        Assert.Contains("Mags has left", await house.Page(table), StringComparison.Ordinal);
        await house.Post($"{table}?handler=Undo");
        Assert.DoesNotContain("Mags has left", await house.Page(table), StringComparison.Ordinal);
        await house.Post($"{table}?handler=Join&player={mags}");
        Assert.Contains("Mags has left", await house.Page(table), StringComparison.Ordinal);
        long id = long.Parse(table.Split('/')[^1]);
        Assert.Equal([otis, mags], house.Get<SittingLog>().Find(id)!.Seats);
        // A table that an older version has left with one seat too many stands again.
        await house.Post($"{table}?handler=Undo");
        using (var connection = house.Database.Connect())
        {
            using var command = connection.CreateCommand();
            command.CommandText = $"insert into sitting_seat (sitting_id, seat, player_id) values ({id}, 1, {mags})";
            command.ExecuteNonQuery();
        }
        Assert.Contains("Otis", await house.Page(table), StringComparison.Ordinal);
        await house.Post($"{table}?handler=Join&player={mags}");
        Assert.Contains("Mags has left", await house.Page(table), StringComparison.Ordinal);
    }

    [Fact]
    public async Task Every_post_may_come_twice()
    {
        string Id() => Guid.NewGuid().ToString("N");
        async Task Twice(string path, params (string, string)[] fields)
        {
            (string, string)[] all = [.. fields, ("post", Id())];
            var first = await house.Post(path, all);
            var second = await house.Post(path, all);
            Assert.Equal(first.At.AbsolutePath, second.At.AbsolutePath);
        }

        string today = $"{DateTime.Now:yyyy-MM-dd}";
        await Twice("/logbook/type", ("Player", $"{otis}"), ("Day", today), ("Game", "Reels"), ("Lines[0].Kind", "part"), ("Lines[0].Numbers", "10 6"), ("Lines[0].Form", "numeral"), ("Lines[0].Outcome", "5"), ("Lines[0].Times", "3"));
        Assert.Equal(3, Notes.Of(otis).Count);
        await Twice("/logbook?handler=Words", ("player", $"{otis}"), ("note", "Counted the steps."));
        string ask = WebUtility.HtmlDecode(Regex.Match(await house.Page($"/glimpse/pocket/{otis}"), "name=\"asks\" value=\"([^\"]+)\"").Groups[1].Value);
        await Twice($"/glimpse/pocket/{otis}", ("asks", ask), ("outcomes", "5"));
        await Twice("/house?handler=Add", ("name", "Ada"), ("kind", "child"));
        await Twice("/cupboard?handler=Put&id=0", ("name", "buttons"), ("use", "Pieces"), ("count", "30"), ("shape", "Unknown"));
        await Twice("/?handler=Play", ("link", $"game=lift&s1={otis}"), ("way", "screen"));
        await Twice("/bench?handler=Play", ("game", "lift"), ("s1", $"{otis}"), ("bench.way", "screen"));
        Assert.Equal(4, Notes.Of(otis).Count);
        Assert.Equal(3, house.Get<Logbook>().Search(new(), 50, 0).Count(l => l.Kind is not null));
        Assert.Single(house.Get<Players>().All(), p => p.Name == "Ada");
        Assert.Single(house.Get<Things>().All().Materials, m => m.Name == "buttons");
        Assert.Equal(2, house.Get<SittingLog>().Latest(50).Count);
    }

    [Fact]
    public async Task A_correction_that_comes_twenty_times_at_once_leaves_one_note()
    {
        long entry = Entries.Add(EntryKind.Typed, Noon, "Reels", null, "", [otis], [(otis, Note(10, 6, Outcome.NotYet))]);
        long note = Notes.Of(otis)[0].Id;
        await Task.WhenAll(Enumerable.Range(0, 20).Select(n => house.Post($"/logbook/entry/{entry}?handler=Correct&note={note}", ("outcome", n % 2 == 0 ? "5" : "3"), ("post", Guid.NewGuid().ToString("N")))));
        Assert.Single(Notes.Of(otis));
    }

    [Fact]
    public async Task A_first_look_that_is_begun_ten_times_at_once_is_one()
    {
        await Task.WhenAll(Enumerable.Range(0, 10).Select(_ => house.Post($"/first-look/{otis}?handler=Begin", ("post", Guid.NewGuid().ToString("N")))));
        Assert.Single(house.Get<Logbook>().Search(new(), 50, 0), l => l.Kind == EntryKind.FirstLook);
        // Taking back comes twice, too.
        for (int known = 0; known < 2; known++) await house.Post($"/first-look/{otis}?handler=Note", ("outcome", "5"), ("known", $"{known}"), ("post", Guid.NewGuid().ToString("N")));
        string post = Guid.NewGuid().ToString("N");
        for (int n = 0; n < 2; n++) await house.Post($"/first-look/{otis}?handler=Undo", ("post", post));
        Assert.Single(Notes.Of(otis));
    }

    [Fact]
    public async Task A_note_from_an_old_tab_says_that_the_turn_has_passed()
    {
        string table = await Lay("game=partners&level=spot", "notes");
        string old = await house.Page(table);
        string ask = Regex.Match(old, "name=\"ask\" value=\"([^\"]+)\"").Groups[1].Value;
        await house.Post($"{table}?handler=Note", ("seat", "0"), ("ask", ask), ("turn", "0"), ("outcome", "5"), ("post", "first"));
        Assert.Single(Notes.Of(otis));
        var late = await house.Post($"{table}?handler=Note", ("seat", "0"), ("ask", ask), ("turn", "0"), ("outcome", "0"), ("post", "second"));
        Assert.Contains("That turn has passed", late.Body, StringComparison.Ordinal);
        var repeated = await house.Post($"{table}?handler=Note", ("seat", "0"), ("ask", ask), ("turn", "0"), ("outcome", "5"), ("post", "first"));
        Assert.Contains("taken already", repeated.Body, StringComparison.Ordinal);
        Assert.Equal(Outcome.SawIt, Assert.Single(Notes.Of(otis)).Observation.Seen.Outcome);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await house.Post($"{table}?handler=Note", ("seat", "0"), ("turn", "1"), ("outcome", "5"))).Status);
    }

    [Fact]
    public async Task A_note_of_a_child_who_was_removed_meanwhile_is_no_error()
    {
        string table = await Lay("game=partners&level=spot", "notes");
        string ask = Regex.Match(await house.Page(table), "name=\"ask\" value=\"([^\"]+)\"").Groups[1].Value;
        var tables = house.Get<Tables>();
        var open = tables.Find(long.Parse(table.Split('/')[^1]))!;
        house.Get<Players>().Erase(otis);
        Assert.Contains(open.Seats, s => s == otis);
        tables.Append(open, null, [new Allowance.Core.Sittings.Noted(0, WebUtility.HtmlDecode(ask), 5, true, 0)]);
        Assert.Empty(Notes.Of(otis));
        Entries.Add(EntryKind.Typed, Noon, "Reels", null, "", [otis], [(otis, Note(10, 6, Outcome.SawIt))]);
        Assert.Empty(Notes.Of(otis));
    }

    private async Task<string> Export() => await house.Page("/logbook?handler=File");

    private async Task Import(string csv, int times = 1)
    {
        string waiting = Regex.Match(await house.PostFile("/logbook/import?handler=Preview", csv), "name=\"waiting\" value=\"([^\"]+)\"").Groups[1].Value;
        await Task.WhenAll(Enumerable.Range(0, times).Select(_ => house.Post("/logbook/import?handler=Take", ("waiting", waiting), ("names", "Otis"), ("players", $"{otis}"), ("names", "Mags"), ("players", $"{mags}"))));
    }

    [Fact]
    public async Task A_round_trip_is_equal_to_the_last_note()
    {
        var at = new DateTimeOffset(2026, 3, 1, 16, 0, 0, TimeSpan.FromHours(1)).AddTicks(1_234_567);
        Entries.Add(EntryKind.Typed, at, "Shop", null, "", [otis],
            [.. Enumerable.Repeat((otis, Note(10, 6, Outcome.SawIt, at)), 5), (otis, Note(5, 2, Outcome.NotYet, at)), (otis, Note(10, 6, Outcome.SawIt, at)), (otis, Note(5, 2, Outcome.NotYet, at) with { Seconds = 4.125, Source = Source.Glimpse })]);
        Entries.Add(EntryKind.Typed, at.AddDays(-3), "Shop", null, "", [mags], [(mags, Note(7, 3, Outcome.CountedOn, at.AddDays(-3)))]);
        string before = await Export();
        Assert.Equal(10, before.TrimEnd().Split('\n').Length);
        // Nothing is new to this household.
        await Import(before);
        Assert.Equal(before, await Export());
        // Whole to one that has nothing.
        foreach (var line in house.Get<Logbook>().Search(new(), 50, 0)) Notes.WithdrawEntry(line.Id);
        Assert.Single((await Export()).TrimEnd().Split('\n'));
        await Import(before);
        Assert.Equal(before, await Export());
    }

    [Fact]
    public async Task An_import_that_comes_five_times_at_once_is_taken_once()
    {
        string csv = "player,at,ask,outcome\n" + string.Concat(Enumerable.Range(0, 1_300).Select(n => $"Otis,2026-03-01T16:{n / 60 % 60:00}:{n % 60:00},part 10 {n % 5} numeral,5\n"));
        await Import(csv, 5);
        Assert.Equal(1_300, Notes.Of(otis).Count);
        Assert.Single(house.Get<Logbook>().Search(new(), 50, 0));
        await Import(csv);
        Assert.Equal(1_300, Notes.Of(otis).Count);
    }

    [Fact]
    public async Task An_import_that_was_broken_off_goes_on_at_the_next_start()
    {
        var imports = house.Get<Imports>();
        string csv = "player,at,ask,outcome\n" + string.Concat(Enumerable.Range(0, 1_300).Select(n => $"Otis,2026-03-01T16:{n / 60 % 60:00}:{n % 60:00},part 10 {n % 5} numeral,5\n"));
        string name = imports.Keep(new MemoryStream(Encoding.UTF8.GetBytes(csv)));
        // As it stands when the plug was pulled after the first piece.
        await File.WriteAllTextAsync(Path.Combine(house.Directory, "waiting", name + ".json"), $$"""{"Otis":{{otis}}}""", TestContext.Current.CancellationToken);
        var (entry, _) = Entries.BeginImport("import-" + name, Noon, [otis]);
        var notes = imports.Read(name).Lines.Select(l => (otis, l.Observation)).ToList();
        Entries.BringIn(entry, 0, notes[..500]);
        Entries.BringIn(entry, 0, notes[..500]);
        Assert.Equal(500, Notes.Of(otis).Count);
        imports.Resume();
        Assert.Equal(1_300, Notes.Of(otis).Count);
        Assert.Contains("1300 notes of 1300 brought in", Assert.Single(house.Get<Logbook>().Search(new(), 50, 0)).Words, StringComparison.Ordinal);
        Assert.False(imports.Waits(name));
        imports.Resume();
        Assert.Equal(1_300, Notes.Of(otis).Count);
    }
}
