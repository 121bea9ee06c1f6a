using System.Net;
using System.Text;
using Allowance.Store;
using Allowance.Web.Commands;
using Microsoft.AspNetCore.Http;

namespace Allowance.Web.Tests;

/// <summary>Nobody else reads the household: no page from elsewhere, no other user of the machine, nobody after somebody was removed.</summary>
public sealed class DoorTests : IAsyncDisposable
{
    private readonly TestHouse house = new();

    public ValueTask DisposeAsync() => house.DisposeAsync();

    private int Port => house.Client.BaseAddress!.Port;

    private async Task<HttpResponseMessage> Ask(HttpMethod method, string path, params (string Name, string Value)[] headers)
    {
        var request = new HttpRequestMessage(method, path);
        if (method == HttpMethod.Post) request.Content = new StringContent("""{"format":"allowance-setup/1","game":"lift","forecast":{"samples":100}}""", Encoding.UTF8, "application/json");
        foreach (var (name, value) in headers)
            if (name == "Host") request.Headers.Host = value.Replace("PORT", $"{Port}", StringComparison.Ordinal);
            else request.Headers.TryAddWithoutValidation(name, value.Replace("PORT", $"{Port}", StringComparison.Ordinal));
        return await house.Client.SendAsync(request);
    }

    [Theory]
    [InlineData("localhost:PORT", 200)]
    [InlineData("127.0.0.1:PORT", 200)]
    [InlineData("LOCALHOST:PORT", 200)]
    [InlineData("[::1]:PORT", 200)]
    [InlineData("localhost", 400)]
    [InlineData("localhost:1", 400)]
    [InlineData("127.0.0.2:PORT", 400)]
    [InlineData("elsewhere.example:PORT", 400)]
    [InlineData("localhost.elsewhere.example:PORT", 400)]
    public async Task Only_this_machines_own_names_are_answered(string host, int status)
    {
        foreach (string path in (string[])["/start", "/plaintext", "/app.js", "/openapi/v1.json"])
            Assert.Equal(status, (int)(await Ask(HttpMethod.Get, path, ("Host", host))).StatusCode);
    }

    [Theory]
    [InlineData(80, "localhost", true)]
    [InlineData(80, "localhost:80", true)]
    [InlineData(5210, "localhost", false)]
    public async Task At_the_usual_port_browsers_leave_it_out(int port, string host, bool isLetIn)
    {
        var context = new DefaultHttpContext();
        context.Connection.LocalPort = port;
        context.Request.Host = new(host);
        bool letIn = false;
        await Door.Keep(context, _ =>
        {
            letIn = true;
            return Task.CompletedTask;
        });
        Assert.Equal(isLetIn, letIn);
    }

    [Theory]
    [InlineData("cross-site", "no-cors", "image", "", 403)]
    [InlineData("cross-site", "navigate", "iframe", "?1", 403)]
    [InlineData("cross-site", "navigate", "document", "", 403)]
    [InlineData("same-site", "cors", "empty", "", 403)]
    [InlineData("cross-site", "navigate", "document", "?1", 200)]
    [InlineData("same-origin", "cors", "empty", "", 200)]
    [InlineData("none", "navigate", "document", "?1", 200)]
    public async Task What_another_site_asks_for_is_refused(string site, string mode, string destination, string user, int status)
    {
        (string, string)[] headers = [("Sec-Fetch-Site", site), ("Sec-Fetch-Mode", mode), ("Sec-Fetch-Dest", destination), .. user.Length > 0 ? new[] { ("Sec-Fetch-User", user) } : []];
        foreach (string path in (string[])["/bench?game=lift", "/house", "/sheet?game=lift"]) Assert.Equal(status, (int)(await Ask(HttpMethod.Get, path, headers)).StatusCode);
        // A change, or a forecast, never, whoever pressed what.
        if (site is "cross-site" or "same-site") Assert.Equal(HttpStatusCode.Forbidden, (await Ask(HttpMethod.Post, "/api/forecast", headers)).StatusCode);
    }

    [Theory]
    [InlineData("http://127.0.0.1:PORT", 200)]
    [InlineData("http://elsewhere.example", 403)]
    [InlineData("http://127.0.0.1:1", 403)]
    [InlineData("https://127.0.0.1:PORT", 403)]
    [InlineData("null", 403)]
    public async Task A_post_from_another_origin_is_refused(string origin, int status) =>
        Assert.Equal(status, (int)(await Ask(HttpMethod.Post, "/api/forecast", ("Origin", origin))).StatusCode);

    [Fact]
    public async Task Others_on_this_machine_read_nothing()
    {
        await house.Page("/start");
        await house.PostFile("/logbook/import?handler=Preview", "player,at,ask,outcome\nOtis,2026-03-01,part 10 6 numeral,5\n");
        house.Get<Files.Imports>().Keep(new MemoryStream([1]));
        foreach (string path in Directory.EnumerateFileSystemEntries(house.Directory, "*", SearchOption.AllDirectories).Append(house.Directory))
            // The keys' directory is closed, whatever rights its files were made with.
            if (!path.Contains("/keys/", StringComparison.Ordinal)) Assert.Equal((UnixFileMode)0, File.GetUnixFileMode(path) & ~(UnixFileMode.UserRead | UnixFileMode.UserWrite | UnixFileMode.UserExecute));
    }

    [Fact]
    public void What_lay_open_is_closed_at_the_next_start()
    {
        string inside = Path.Combine(house.Directory, "waiting");
        Directory.CreateDirectory(inside);
        File.WriteAllText(Path.Combine(inside, "x.csv"), "x");
        const UnixFileMode Open = (UnixFileMode)0b110_110_110;
        foreach (string file in Directory.EnumerateFiles(house.Directory, "*", SearchOption.AllDirectories)) File.SetUnixFileMode(file, Open);
        File.SetUnixFileMode(house.Directory, Open | (UnixFileMode)0b001_001_001);
        Database.Open(house.Directory);
        foreach (string path in Directory.EnumerateFileSystemEntries(house.Directory, "*", SearchOption.AllDirectories).Append(house.Directory))
            Assert.Equal((UnixFileMode)0, File.GetUnixFileMode(path) & (UnixFileMode)0b000_111_111);
    }

    [Fact]
    public async Task Nothing_of_a_removed_child_is_left_in_the_directory()
    {
        const string Name = "Junipera";
        var players = house.Get<Players>();
        long gone = players.Add(Name, "2021-07", PlayerKind.Child), mags = players.Add("Mags", "2019-10", PlayerKind.Child);
        var entries = house.Get<Entries>();
        var now = DateTimeOffset.Now;
        entries.Add(EntryKind.Words, now, "", null, $"{Name} counted the steps. Not {Name}s.", [gone], []);
        entries.Add(EntryKind.Words, now, "", null, $"Explained it to {Name}, twice.", [mags], []);
        entries.Add(EntryKind.Typed, now, $"{Name}'s reels", 10, "", [mags], []);
        await house.Post("/bench?handler=Save", ("game", "lift"), ("s1", $"{gone}"), ("s2", $"{mags}"), ("bench.name", $"Rainy with {Name}"));
        await house.Post("/?handler=Play", ("link", $"game=lift&s1={gone}&s2={mags}"), ("way", "screen"));
        await house.PostFile("/logbook/import?handler=Preview", $"player,at,ask,outcome\n{Name},2026-03-01,part 10 6 numeral,5\n");
        File.Copy(house.Database.File, Path.Combine(house.Directory, "allowance.before-0004_holding.db"));
        // Renamed, so that her name also stands in pages that are free now.
        players.Change(mags, $"{Name} the Second of the Halt", "2019-10", PlayerKind.Child);
        players.Change(mags, "Mags", "2019-10", PlayerKind.Child);
        Assert.NotEmpty(Holding(Name));
        await house.Post($"/house?handler=Remove&id={gone}");
        Assert.Empty(Holding(Name));
        Assert.Contains("Explained it to somebody, twice.", await house.Page("/logbook"), StringComparison.Ordinal);
        Assert.Contains("Rainy with somebody", await house.Page("/bench?game=lift&bench.open=files"), StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.OK, (await house.Client.GetAsync(new Uri($"/bench?handler=Saved&id={house.Get<SavedSetups>().All()[0].Id}", UriKind.Relative))).StatusCode);
    }

    /// <summary>The files in which a name stands.</summary>
    private List<string> Holding(string name) =>
        [.. Directory.EnumerateFiles(house.Directory, "*", SearchOption.AllDirectories).Where(f => Bytes(f).AsSpan().IndexOf(Encoding.UTF8.GetBytes(name)) >= 0)];

    private static byte[] Bytes(string file)
    {
        using var stream = new FileStream(file, FileMode.Open, FileAccess.Read, FileShare.ReadWrite | FileShare.Delete);
        using var all = new MemoryStream();
        stream.CopyTo(all);
        return all.ToArray();
    }
}
