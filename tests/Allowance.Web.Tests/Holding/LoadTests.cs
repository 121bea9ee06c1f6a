using System.Net;
using System.Text;
using Microsoft.Data.Sqlite;

namespace Allowance.Web.Tests.Holding;

/// <summary>A full disk, twenty clients, and settings that once took everything.</summary>
public sealed class LoadTests : IDisposable
{
    private readonly string directory = Directory.CreateTempSubdirectory("allowance-load-").FullName;

    public void Dispose()
    {
        SqliteConnection.ClearAllPools();
        Directory.Delete(directory, true);
    }

    /// <summary>Settings near the limits: each was minutes, gigabytes, or the end of the process.</summary>
    private static readonly string[] Dear =
    [
        "game=topper&level=sum&cardsEach=4&deck=h:" + string.Join(',', Enumerable.Range(0, 61).Select(n => $"{n}.7")) + "&s1=child&s2=child&s3=child",
        "game=topper&level=three&s1=child&s2=child&s3=child&s4=child&s5=child",
        "game=topper&level=digits&cardsEach=4&s1=child&s2=child&s3=child",
        "game=homing&level=move&start=500&mark=480&rounds=20&line=0-1000&dice=d100%2Bd100%2Bd100%2Bd100&s1=child&s2=child&s2.dice=d99%2Bd100%2Bd100%2Bd100&s3=child&s3.dice=d98%2Bd100%2Bd100%2Bd100&s4=child&s4.dice=d97%2Bd100%2Bd100%2Bd100&s5=child&s5.dice=d96%2Bd100%2Bd100&s6=child&s6.dice=d95%2Bd100%2Bd100&s7=child&s7.dice=d94%2Bd100%2Bd100&s8=child&s8.dice=d93%2Bd100",
        "game=gather&level=sign&pool=1000&dice=d100&s1=child&s1.total=yes&s2=child&s2.total=yes",
        "game=downline&level=predict&sections=1000&finish=bounce&dice=d100%2Bd100%2Bd100%2Bd100&s1=child&s2=child&s3=child",
    ];

    [Fact]
    public async Task Twenty_clients_are_answered_while_the_dearest_settings_are_worked_out()
    {
        using var server = await Server.Start("demo", directory);
        double before = server.PeakMegabytes;
        string json = """{"format":"allowance-setup/1","game":"topper","level":"digits","table":{"cardsEach":4},"players":[{},{},{}],"forecast":{"samples":1000000}}""";
        int rounds = Scale.Of(1, 20);
        var clients = Enumerable.Range(0, 20).Select(async n =>
        {
            for (int round = 0; round < rounds; round++)
            {
                var status = n switch
                {
                    < 6 => (await server.Client.GetAsync(new Uri($"/bench?{Dear[n]}", UriKind.Relative))).StatusCode,
                    < 8 => (await server.Client.GetAsync(new Uri($"/bench?handler=Even&{Dear[n == 6 ? 3 : 1]}", UriKind.Relative))).StatusCode,
                    < 10 => (await server.Client.GetAsync(new Uri($"/bench?handler=Changes&seat=0&{Dear[n == 8 ? 4 : 1]}", UriKind.Relative))).StatusCode,
                    < 12 => (await server.Client.PostAsync(new Uri("/api/forecast", UriKind.Relative), new StringContent(json, Encoding.UTF8, "application/json"))).StatusCode,
                    _ => (await server.Client.GetAsync(new Uri(n % 3 == 0 ? "/" : n % 3 == 1 ? "/growth/1" : "/logbook", UriKind.Relative))).StatusCode,
                };
                // Who computes may have to wait for a turn in vain; who only looks never.
                Assert.True(status == HttpStatusCode.OK || n < 12 && status == HttpStatusCode.TooManyRequests, $"client {n}: {status}");
            }
        });
        await Task.WhenAll(clients);
        Assert.False(server.HasEnded);
        // Two at once, each with at most 300 MB more.
        Assert.InRange(server.PeakMegabytes - before, 0, 600);
    }

    [Fact]
    public async Task On_a_full_disk_nothing_is_acknowledged_that_is_not_there()
    {
        int acknowledged = 0;
        bool refused = false;
        using (var server = await Server.Start("serve", directory, largestFile: 600))
        {
            string token = await server.Token();
            await server.Post(token, "/start?handler=Who", ("name", "Otis"), ("kind", "child"));
            for (int n = 0; n < 400 && !refused; n++)
            {
                var response = await server.Post(token, "/logbook?handler=Words", ("player", "1"), ("note", $"{n} {new string('x', 1_900)}"), ("post", $"p{n}"));
                if (response.IsSuccessStatusCode) acknowledged++;
                else
                {
                    refused = true;
                    Assert.Equal(HttpStatusCode.InsufficientStorage, response.StatusCode);
                    Assert.Contains("disk is full", await response.Content.ReadAsStringAsync(), StringComparison.Ordinal);
                    // Pages are still answered.
                    Assert.Equal(HttpStatusCode.OK, (await server.Client.GetAsync(new Uri("/house", UriKind.Relative))).StatusCode);
                }
            }
        }
        Assert.True(refused);
        using var again = await Server.Start("serve", directory);
        using var connection = new SqliteConnection($"Data Source={Path.Combine(directory, "allowance.db")};Mode=ReadWrite;Pooling=False");
        connection.Open();
        using var command = connection.CreateCommand();
        command.CommandText = "select count(*) from entry";
        Assert.Equal(acknowledged, Convert.ToInt32(command.ExecuteScalar()));
        // With room again, the same post is taken.
        string fresh = await again.Token();
        Assert.True((await again.Post(fresh, "/logbook?handler=Words", ("player", "1"), ("note", "room again"), ("post", $"p{acknowledged}"))).IsSuccessStatusCode);
        Assert.Equal(acknowledged + 1, Convert.ToInt32(command.ExecuteScalar()));
    }
}
