using System.Net;
using System.Text;
using System.Text.RegularExpressions;
using Allowance.Core.Asks;
using Allowance.Core.Forms;
using Allowance.Store;
using Microsoft.Data.Sqlite;

namespace Allowance.Web.Tests.Holding;

/// <summary>The plug is pulled again and again under posts of every kind: what was acknowledged is there once, what was not is there once or not at all.</summary>
public sealed class KillTests : IDisposable
{
    private readonly string directory = Directory.CreateTempSubdirectory("allowance-kill-").FullName;

    private readonly Random random = new(7);

    private int Next(int below)
    {
        lock (random) return random.Next(below);
    }

    public void Dispose()
    {
        SqliteConnection.ClearAllPools();
        Directory.Delete(directory, true);
    }

    private T Ask<T>(string sql, params (string Name, object Value)[] parameters)
    {
        using var connection = new SqliteConnection($"Data Source={Path.Combine(directory, "allowance.db")};Mode=ReadWrite;Pooling=False");
        connection.Open();
        using var command = connection.CreateCommand();
        command.CommandText = sql;
        foreach (var (name, value) in parameters) command.Parameters.AddWithValue(name, value);
        return (T)Convert.ChangeType(command.ExecuteScalar()!, typeof(T));
    }

    private enum Kind { Words, Typed, Person, Thing, Laid, Noted, Saved }

    /// <summary>A post as it was sent.</summary>
    private sealed record Sent(Kind Kind, string Mark, string Path, (string, string)[] Fields)
    {
        public bool Acknowledged { get; set; }
    }

    private sealed class Worker(KillTests test, Server server, string token, List<Sent> sent)
    {
        private string? table;

        public async Task Go()
        {
            try
            {
                while (true) await One();
            }
            catch (Exception e) when (e is HttpRequestException or IOException or TaskCanceledException)
            {
                // The plug was pulled.
            }
        }

        private async Task One()
        {
            string mark = "m" + Guid.NewGuid().ToString("N");
            switch ((Kind)test.Next(7))
            {
                case Kind.Words: await Send(Kind.Words, mark, "/logbook?handler=Words", ("player", "1"), ("note", mark)); break;
                case Kind.Typed:
                    await Send(Kind.Typed, mark, "/logbook/type", ("Player", "1"), ("Day", $"{DateTime.Now:yyyy-MM-dd}"), ("Game", mark), ("Lines[0].Kind", "part"), ("Lines[0].Numbers", "10 6"), ("Lines[0].Form", "numeral"), ("Lines[0].Outcome", "5"), ("Lines[0].Times", "3"));
                    break;
                case Kind.Person: await Send(Kind.Person, mark, "/house?handler=Add", ("name", mark[..20]), ("kind", "other")); break;
                case Kind.Thing: await Send(Kind.Thing, mark, "/cupboard?handler=Put&id=0", ("name", mark[..20]), ("use", "Pieces"), ("count", "3"), ("shape", "Unknown")); break;
                case Kind.Saved: await Send(Kind.Saved, mark, "/bench?handler=Save", ("game", "lift"), ("s1", "1"), ("bench.name", mark)); break;
                case Kind.Laid: await Send(Kind.Laid, mark, "/?handler=Play", ("link", "game=partners&level=spot&s1=1&s2=2"), ("way", "screen")); break;
                default: await Note(mark); break;
            }
        }

        private async Task Note(string mark)
        {
            table ??= (await Send(Kind.Laid, mark + "t", "/?handler=Play", ("link", "game=partners&level=spot&s1=1"), ("way", "notes"))).RequestMessage!.RequestUri!.AbsolutePath;
            string page = await server.Client.GetStringAsync(new Uri(table, UriKind.Relative));
            string Field(string name) => WebUtility.HtmlDecode(Regex.Match(page, $"name=\"{name}\" value=\"([^\"]+)\"").Groups[1].Value);
            await Send(Kind.Noted, mark, $"{table}?handler=Note", ("seat", "0"), ("ask", Field("ask")), ("turn", Field("turn")), ("outcome", "5"));
        }

        private async Task<HttpResponseMessage> Send(Kind kind, string mark, string path, params (string, string)[] fields)
        {
            var post = new Sent(kind, mark, path, [.. fields, ("post", mark)]);
            lock (sent) sent.Add(post);
            var response = await server.Post(token, path, post.Fields);
            string body = await response.Content.ReadAsStringAsync();
            Assert.True(response.IsSuccessStatusCode, $"{path}: {response.StatusCode}");
            post.Acknowledged = kind != Kind.Noted || body.Contains("Noted: ", StringComparison.Ordinal);
            return response;
        }
    }

    [Fact]
    public async Task What_was_acknowledged_is_there_once_whenever_the_plug_is_pulled()
    {
        var sent = new List<Sent>();
        using (var first = await Server.Start("serve", directory))
        {
            string token = await first.Token();
            foreach (string name in (string[])["Otis", "Mags"]) await first.Post(token, "/start?handler=Who", ("name", name), ("kind", "child"), ("born", "2021-07"));
        }
        for (int kill = 0; kill < Scale.Of(4, 250); kill++)
        {
            using var server = await Server.Start("serve", directory);
            string token = await server.Token();
            var workers = Enumerable.Range(0, 4).Select(_ => new Worker(this, server, token, sent).Go()).ToArray();
            await Task.Delay(300 + Next(1_200));
            server.Kill();
            await Task.WhenAll(workers);
        }
        using var last = await Server.Start("serve", directory);
        Assert.Equal("ok", Ask<string>("pragma integrity_check"));
        foreach (var post in sent.Where(p => p.Acknowledged)) Assert.True(Times(post) == 1, $"{post.Kind} {post.Mark} was acknowledged and is there {Times(post)} times");
        foreach (var post in sent.Where(p => !p.Acknowledged)) Assert.InRange(Times(post), 0, 1);
        // What was not answered goes again with its id.
        string again = await last.Token();
        foreach (var post in sent.Where(p => p.Kind != Kind.Noted))
        {
            var response = await last.Post(again, post.Path, post.Fields);
            Assert.True(response.IsSuccessStatusCode, $"{post} again: {response.StatusCode} {await response.Content.ReadAsStringAsync()}");
            Assert.Equal(1, Times(post));
        }
        // No table is laid by half, and every one opens.
        Assert.Equal(0, Ask<int>("select count(*) from sitting s where way = 'screen' and not exists (select 1 from sitting_event e where e.sitting_id = s.id)"));
        Assert.Equal(Ask<int>("select count(*) from sitting_event where json_extract(body, '$.kind') = 'noted'"), Ask<int>("select count(*) from observation where sitting_id is not null"));
        for (int id = 1; id <= Ask<int>("select max(id) from sitting"); id += Scale.Of(1, 7)) Assert.Equal(HttpStatusCode.OK, (await last.Client.GetAsync(new Uri($"/table/{id}", UriKind.Relative))).StatusCode);
        Assert.True(sent.Count(p => p.Acknowledged) >= 5, "hardly anything was acknowledged, so that little was tried");
    }

    /// <summary>How often what a post brought is there, whole.</summary>
    private int Times(Sent post) => post.Kind switch
    {
        Kind.Words => Ask<int>("select count(*) from entry where words = @mark", ("@mark", post.Mark)),
        Kind.Typed => Ask<int>("select count(*) from observation o join entry e on e.id = o.entry_id where e.game = @mark", ("@mark", post.Mark)) is var notes && notes % 3 == 0 ? notes / 3 : -1,
        Kind.Person => Ask<int>("select count(*) from player where name = @mark", ("@mark", post.Mark[..20])),
        Kind.Thing => Ask<int>("select count(*) from thing where name = @mark", ("@mark", post.Mark[..20])),
        Kind.Saved => Ask<int>("select count(*) from saved_setup where name = @mark", ("@mark", post.Mark)),
        _ => Ask<int>("select count(*) from post where id = @mark", ("@mark", post.Mark)),
    };

    [Fact]
    public async Task An_import_is_brought_in_wholly_or_not_at_all()
    {
        const int Lines = 8_000;
        string csv = "player,at,ask,outcome\n" + string.Concat(Enumerable.Range(0, Lines).Select(n => $"Otis,{new DateTime(2026, 1, 1).AddMinutes(n):yyyy-MM-ddTHH:mm},part 10 {n % 5} numeral,5\n"));
        new Players(Database.Open(directory)).Add("Otis", "2021-07", PlayerKind.Child);
        SqliteConnection.ClearAllPools();
        int whole = 0;
        for (int kill = 0; kill < Scale.Of(2, 40); kill++)
        {
            using (var server = await Server.Start("serve", directory))
            {
                string token = await server.Token();
                using var form = new MultipartFormDataContent { { new StringContent(token), "__RequestVerificationToken" }, { new StringContent(csv), "file", "notes.csv" } };
                string preview = await (await server.Client.PostAsync(new Uri("/logbook/import?handler=Preview", UriKind.Relative), form)).Content.ReadAsStringAsync();
                var take = server.Post(token, "/logbook/import?handler=Take", ("waiting", Regex.Match(preview, "name=\"waiting\" value=\"([^\"]+)\"").Groups[1].Value), ("names", "Otis"), ("players", "1"));
                await Task.Delay(50 + Next(500));
                server.Kill();
                await take.ContinueWith(_ => { }, TaskScheduler.Default);
            }
            using (await Server.Start("serve", directory))
            {
                int there = Ask<int>("select count(*) from observation");
                Assert.Contains(there, (int[])[whole, Lines]);
                whole = there;
                Assert.Equal(0, Ask<int>("select count(*) from entry where ended_at is null"));
            }
        }
    }

    [Fact]
    public async Task The_demonstration_is_there_wholly_or_not_at_all()
    {
        for (int kill = 0; kill < Scale.Of(2, 40); kill++)
        {
            using var server = Server.Launch("demo", directory);
            await Task.Delay(400 + Next(Scale.Of(1500, 6000)));
            server.Kill();
            if (!File.Exists(Path.Combine(directory, "allowance.db")) || Ask<int>("select count(*) from sqlite_schema where name = 'observation'") == 0) continue;
            Assert.Contains(Ask<int>("select count(*) from player"), (int[])[0, 5]);
        }
        using var last = await Server.Start("demo", directory);
        Assert.Equal(5, Ask<int>("select count(*) from player"));
        Assert.Empty(Directory.GetDirectories(directory, "making"));
        await using var clean = new TestHouse(demo: true);
        Assert.Equal(clean.Get<Players>().All().Sum(p => clean.Get<Observations>().Of(p.Id).Count), Ask<int>("select count(*) from observation"));
        Assert.Contains("Fenwick Halt", await last.Client.GetStringAsync(new Uri("/house", UriKind.Relative)), StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_migration_is_made_wholly_or_not_at_all()
    {
        const int Notes = 20_000;
        var store = typeof(Database).Assembly;
        string[] scripts = [.. store.GetManifestResourceNames().Where(n => n.EndsWith(".sql", StringComparison.Ordinal)).Order(StringComparer.Ordinal).Take(3)];
        var sql = new StringBuilder("create table SchemaVersions (SchemaVersionID integer constraint PK primary key autoincrement not null, ScriptName text not null, Applied datetime not null);");
        foreach (string script in scripts)
        {
            using var reader = new StreamReader(store.GetManifestResourceStream(script)!);
            sql.Append(await reader.ReadToEndAsync()).Append($"; insert into SchemaVersions (ScriptName, Applied) values ('{script}', '2026-01-01');");
        }
        sql.Append("insert into player (name, birth_month, kind) values ('Otis', '2021-07', 'child');");
        sql.Append($"with recursive n (i) as (select 1 union all select i + 1 from n where i < {Notes}) insert into observation (player_id, at, day, ask, outcome, right, source) select 1, '2026-03-01T12:00:00.0000000+01:00', '2026-03-01', 'part 10 6 numeral', 5, 1, 'typed' from n; select 1");
        using (var connection = new SqliteConnection($"Data Source={Path.Combine(directory, "allowance.db")};Pooling=False"))
        {
            connection.Open();
            using var command = connection.CreateCommand();
            command.CommandText = sql.ToString();
            command.ExecuteNonQuery();
        }
        for (int kill = 0; kill < Scale.Of(3, 60); kill++)
        {
            using var server = Server.Launch("serve", directory);
            await Task.Delay(150 + Next(700));
            server.Kill();
            Assert.Equal(Notes, Ask<int>("select count(*) from observation"));
        }
        using var last = await Server.Start("serve", directory);
        Assert.Equal("ok", Ask<string>("pragma integrity_check"));
        Assert.Equal(Notes, Ask<int>("select count(*) from observation"));
        Assert.Equal(Notes, Ask<int>("select times from met"));
        Assert.Equal(new Ask(AskKind.Part, 10, 6, Form.Numeral).ToString(), Ask<string>("select ask from met"));
    }
}
