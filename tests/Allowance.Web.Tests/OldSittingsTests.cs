using System.Diagnostics;
using System.IO.Compression;
using System.Net;
using System.Runtime.CompilerServices;
using Allowance.Core.Games;
using Allowance.Core.Numbers;
using Allowance.Core.Sittings;
using Allowance.Store;
using Dapper;
using Microsoft.Data.Sqlite;

namespace Allowance.Web.Tests;

/// <summary>
/// A household of every schema and every rules version so far, as it was written then (<c>Old/schema-N-rules-N.sql.gz</c>: what
/// <c>.dump</c> gave): each is brought up to date, and every sitting of it opens, to be played on or to be read.
/// </summary>
public class OldSittingsTests
{
    private static string Directory([CallerFilePath] string here = "") => Path.Combine(Path.GetDirectoryName(here)!, "Old");

    public static TheoryData<string> Households => [.. System.IO.Directory.GetFiles(Directory(), "*.sql.gz").Select(f => Path.GetFileName(f)!).Order(StringComparer.Ordinal)];

    private static TestHouse Open(string name)
    {
        using var text = new StreamReader(new GZipStream(File.OpenRead(Path.Combine(Directory(), name)), CompressionMode.Decompress));
        string sql = text.ReadToEnd();
        return new TestHouse(before: directory =>
        {
            System.IO.Directory.CreateDirectory(directory);
            using var connection = new SqliteConnection($"Data Source={Path.Combine(directory, "allowance.db")};Pooling=False");
            connection.Open();
            connection.Execute(sql);
        });
    }

    [Theory, MemberData(nameof(Households))]
    public async Task Every_sitting_opens_for_ever(string name)
    {
        await using var house = Open(name);
        var log = house.Get<SittingLog>();
        var sittings = log.Latest(1_000);
        Assert.NotEmpty(sittings);
        int playedOn = 0, read = 0;
        foreach (var head in sittings)
        {
            // What it says of the rules it was played by decides: it is played on, or shown with what was told then.
            bool replayed = head.RulesVersion == Sitting.RulesVersion;
            var response = await house.Client.GetAsync(new Uri($"/table/{head.Id}", UriKind.Relative));
            Assert.Equal(HttpStatusCode.OK, response.StatusCode);
            Assert.Equal(replayed ? $"/table/{head.Id}" : $"/logbook/{head.Id}", response.RequestMessage!.RequestUri!.AbsolutePath);
            string page = await house.Page($"/logbook/{head.Id}");
            Assert.Contains("turn", page, StringComparison.Ordinal);
            Assert.Equal(!replayed, page.Contains("rules of an earlier time", StringComparison.Ordinal));
            if (replayed) playedOn++;
            else read++;
            // Nothing more is taken where it is only read.
            int before = log.Events(head.Id).Count;
            if (!replayed)
            {
                await house.Post($"/table/{head.Id}?handler=Pass");
                Assert.Equal(before, log.Events(head.Id).Count);
            }
        }
        Assert.True(name.Contains($"rules-{Sitting.RulesVersion}", StringComparison.Ordinal) ? playedOn > 0 && read == 0 : playedOn == 0);
        foreach (string address in (string[])["/", "/logbook", "/bench"]) await house.Page(address);
    }

    [Fact]
    public void There_is_one_of_this_schema_and_these_rules()
    {
        int schema = typeof(Database).Assembly.GetManifestResourceNames().Count(n => n.EndsWith(".sql", StringComparison.Ordinal));
        Assert.Contains($"schema-{schema}-rules-{Sitting.RulesVersion}.sql.gz", Households.Select(h => h.Data));
    }

    /// <summary>
    /// Run by itself whenever schema or rules have changed, before that lands: <c>Allowance.Web.Tests -explicit only -method *These_rules_leave*</c>.
    /// Every level of every game is played for a while on the screen and with notes only.
    /// </summary>
    [Fact(Explicit = true)]
    public async Task These_rules_leave_a_household_behind()
    {
        await using var house = new TestHouse();
        foreach (string name in (string[])["Otis", "Juno"]) await house.Post("/start?handler=Who", ("name", name), ("kind", "Child"), ("born", "2021-01"));
        var tables = house.Get<Tables>();
        foreach (var frame in Catalogue.All)
            foreach (var level in frame.Data.Levels)
                foreach (var way in (Way[])[Way.Screen, Way.Notes])
                {
                    string[] seats = [.. house.Get<Players>().All().Select(p => $"{p.Id}").Take(way == Way.Notes || frame.Data.Id is "panes" or "topper" or "chaincall" ? 2 : 1)];
                    var (_, _, at) = await house.Post("/bench?handler=Play", [("game", frame.Data.Id), ("level", level.Id), .. seats.Select((s, i) => ($"s{i + 1}", s)), ("bench.way", way.ToString())]);
                    var table = tables.Find(long.Parse(at.AbsolutePath[7..]))!;
                    var rng = new Rng(7);
                    for (int turn = 0; turn < Kept && !table.IsOver; turn++)
                    {
                        SittingEvent played = table.Sitting.Game is { } game ? Moved.By(game.Plain(ref rng), true) : new Passed();
                        IReadOnlyList<SittingEvent> notes = played is Moved moved ? table.Sitting.NotesShownBy(moved.Move) : [];
                        table = tables.Append(table, null, [.. notes, played])!;
                    }
                }
        int schema = typeof(Database).Assembly.GetManifestResourceNames().Count(n => n.EndsWith(".sql", StringComparison.Ordinal));
        var dump = Process.Start(new ProcessStartInfo("sqlite3", [house.Database.File, ".dump"]) { RedirectStandardOutput = true })!;
        await using var file = new GZipStream(File.Create(Path.Combine(Directory(), $"schema-{schema}-rules-{Sitting.RulesVersion}.sql.gz")), CompressionLevel.SmallestSize);
        await dump.StandardOutput.BaseStream.CopyToAsync(file);
        Assert.Equal(0, dump.ExitCode);
    }

    /// <summary>So many moves of each table.</summary>
    private const int Kept = 8;

    [Fact]
    public async Task Rules_of_another_time_are_read_under_their_own_words()
    {
        await using var house = new TestHouse();
        await house.Post("/start?handler=Who", ("name", "Otis"), ("kind", "Child"), ("born", "2021-01"));
        long otis = house.Get<Players>().All()[0].Id;
        long id = house.Get<SittingLog>().Start("nosuchgame", "game=nosuchgame&s1=" + otis, Way.Screen, 1, DateTimeOffset.Now, [otis],
            [new(new Moved(0, 3, -1, true, "went round the pond"), DateTimeOffset.Now)]);
        using (var connection = house.Get<Database>().Connect()) connection.Execute("update sitting set rules_version = 99");
        string page = await house.Page($"/table/{id}");
        Assert.Contains("Went round the pond.", page, StringComparison.Ordinal);
        Assert.Contains("rules of an earlier time", page, StringComparison.Ordinal);
        Assert.DoesNotContain("Go on playing", page, StringComparison.Ordinal);
        await house.Page("/");
    }

    [Theory]
    [InlineData("game=spots&s1=", 900)]
    [InlineData("game=gather&s1=", 77)]
    [InlineData("game=partners&level=spot&s1=", 250)]
    public async Task What_cannot_have_happened_is_read_and_not_played(string link, int outcome)
    {
        await using var house = new TestHouse();
        await house.Post("/start?handler=Who", ("name", "Otis"), ("kind", "Child"), ("born", "2021-01"));
        long otis = house.Get<Players>().All()[0].Id;
        string game = link[5..link.IndexOf('&', StringComparison.Ordinal)];
        long id = house.Get<SittingLog>().Start(game, link + otis, Way.Screen, 1, DateTimeOffset.Now, [otis], [new(new Dealt(outcome, false), DateTimeOffset.Now)]);
        foreach (string address in (string[])[$"/table/{id}", $"/logbook/{id}"])
        {
            string page = await house.Page(address);
            Assert.Contains("rules of an earlier time", page, StringComparison.Ordinal);
            Assert.DoesNotContain("Go on playing", page, StringComparison.Ordinal);
        }
        await house.Page("/");
        await house.Page("/bench");
    }
}
