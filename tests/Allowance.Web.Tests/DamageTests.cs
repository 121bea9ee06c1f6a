using System.Net;
using Allowance.Core.Learner;
using Allowance.Store;
using Microsoft.Data.Sqlite;

namespace Allowance.Web.Tests;

/// <summary>A file that is gone, damaged, newer, older or held by somebody else is noticed, told, and left as it is.</summary>
public sealed class DamageTests : IDisposable
{
    private readonly string directory = Directory.CreateTempSubdirectory("allowance-damage-").FullName;

    private string DatabaseFile => Path.Combine(directory, "allowance.db");

    public void Dispose()
    {
        SqliteConnection.ClearAllPools();
        Directory.Delete(directory, true);
    }

    /// <summary>A household with some content, all of it in the one file.</summary>
    private void Fill()
    {
        var database = Database.Open(directory);
        var players = new Players(database);
        for (int n = 0; n < 400; n++) players.Add($"Child number {n} of a very large family", "2021-07", PlayerKind.Child);
        database.Scour();
        database.Close();
        SqliteConnection.ClearAllPools();
        foreach (string companion in (string[])["-wal", "-shm"]) File.Delete(DatabaseFile + companion);
    }

    private string Refused()
    {
        byte[] before = File.Exists(DatabaseFile) ? File.ReadAllBytes(DatabaseFile) : [];
        string says = Assert.Throws<StoreClosedException>(() => Database.Open(directory)).Message;
        SqliteConnection.ClearAllPools();
        Assert.Equal(before, File.Exists(DatabaseFile) ? File.ReadAllBytes(DatabaseFile) : []);
        return says;
    }

    [Fact]
    public void An_empty_file_where_a_household_was_is_no_new_household()
    {
        Fill();
        File.WriteAllBytes(DatabaseFile, []);
        Assert.Contains("is empty", Refused(), StringComparison.Ordinal);
    }

    [Fact]
    public void A_file_that_is_gone_is_no_new_household()
    {
        Fill();
        File.Delete(DatabaseFile);
        Assert.Contains("is gone", Refused(), StringComparison.Ordinal);
        Assert.False(File.Exists(DatabaseFile));
    }

    [Fact]
    public void A_file_that_was_cut_is_told_as_damaged()
    {
        Fill();
        using (var file = new FileStream(DatabaseFile, FileMode.Open)) file.SetLength(file.Length - 100);
        Assert.Contains("is damaged", Refused(), StringComparison.Ordinal);
    }

    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    public void Random_bytes_in_the_middle_are_told_as_damage(int seed)
    {
        Fill();
        byte[] rubbish = new byte[8192];
        new Random(seed).NextBytes(rubbish);
        using (var file = new FileStream(DatabaseFile, FileMode.Open))
        {
            file.Position = file.Length / 2;
            file.Write(rubbish.AsSpan(0, (int)Math.Min(rubbish.Length, file.Length - file.Position)));
        }
        Assert.Contains("is damaged", Refused(), StringComparison.Ordinal);
    }

    [Fact]
    public void What_is_no_database_is_told_as_damage()
    {
        Fill();
        File.WriteAllText(DatabaseFile, new string('x', 5000));
        Assert.Contains("is damaged", Refused(), StringComparison.Ordinal);
    }

    private void Execute(string sql)
    {
        using var connection = new SqliteConnection($"Data Source={DatabaseFile};Pooling=False");
        connection.Open();
        using var command = connection.CreateCommand();
        command.CommandText = sql;
        command.ExecuteNonQuery();
    }

    [Fact]
    public void A_newer_file_is_refused()
    {
        Fill();
        Execute("insert into SchemaVersions (ScriptName, Applied) values ('Allowance.Store.Migrations.0099_tomorrow.sql', '2030-01-01')");
        Execute("pragma wal_checkpoint(truncate)");
        string says = Refused();
        Assert.Contains("newer Allowance", says, StringComparison.Ordinal);
        Assert.Contains("0099_tomorrow", says, StringComparison.Ordinal);
    }

    /// <summary>A household of each older version: what its tables were, and something in them.</summary>
    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    public void An_older_file_is_copied_and_brought_up_to_date(int version)
    {
        var store = typeof(Database).Assembly;
        string[] scripts = [.. store.GetManifestResourceNames().Where(n => n.EndsWith(".sql", StringComparison.Ordinal)).Order(StringComparer.Ordinal).Take(version)];
        Execute("create table SchemaVersions (SchemaVersionID integer constraint PK primary key autoincrement not null, ScriptName text not null, Applied datetime not null)");
        foreach (string script in scripts)
        {
            using var reader = new StreamReader(store.GetManifestResourceStream(script)!);
            Execute(reader.ReadToEnd());
            Execute($"insert into SchemaVersions (ScriptName, Applied) values ('{script}', '2026-01-01')");
        }
        Execute("""
            insert into player (name, birth_month, kind) values ('Otis', '2021-07', 'child');
            insert into sitting (game, setup, way, seed, rules_version, started_at) values ('partners', 'game=partners&level=spot&s1=1', 'notes', 7, 1, '2026-03-01T12:00:00.0000000+01:00');
            insert into sitting_seat (sitting_id, seat, player_id) values (1, 0, 1);
            insert into taken_post (id, sitting_id) values ('old', 1);
            insert into observation (player_id, at, day, ask, outcome, right, source, sitting_id, turn) values (1, '2026-03-01T12:00:00.0000000+01:00', '2026-03-01', 'part 10 6 numeral', 5, 1, 'table', 1, 0), (1, '2026-03-01T12:00:00.0000000+01:00', '2026-03-01', 'part 10 6 numeral', 0, 0, 'table', 1, 1);
            """);
        byte[] before = File.ReadAllBytes(DatabaseFile);
        var database = Database.Open(directory);
        Assert.Equal("Otis", Assert.Single(new Players(database).All()).Name);
        var notes = new Observations(database);
        Assert.Equal(2, notes.Of(1).Count);
        Assert.Equal(2, notes.Counts(1, null).Sum(c => c.Times));
        Assert.Equal((2, 3), notes.UpTo(1, new DateOnly(2026, 3, 1), 2));
        Assert.True(new SittingLog(database).WasTaken("old"));
        Assert.Equal([1L], new SittingLog(database).Find(1)!.Seats.Select(s => s!.Value));
        string copy = Assert.Single(Directory.GetFiles(directory, "allowance.before-*"));
        SqliteConnection.ClearAllPools();
        Assert.Equal(before.Length, new FileInfo(copy).Length);
        // The copy is what was there: it opens again as such.
        File.Delete(DatabaseFile);
        foreach (string companion in (string[])["-wal", "-shm"]) File.Delete(DatabaseFile + companion);
        File.Move(copy, DatabaseFile);
        Assert.Equal(2, new Observations(Database.Open(directory)).Of(1).Count);
    }

    [Fact]
    public void One_directory_is_held_by_one_at_a_time()
    {
        using (HouseholdDirectory.Hold(directory)) Assert.Contains("Another Allowance is using", Assert.Throws<StoreClosedException>(() => HouseholdDirectory.Hold(directory)).Message, StringComparison.Ordinal);
        using var again = HouseholdDirectory.Hold(directory);
        File.WriteAllText(Path.Combine(directory, "left behind"), "");
        HouseholdDirectory.Empty(directory);
        Assert.Throws<StoreClosedException>(() => HouseholdDirectory.Hold(directory));
        Assert.Single(Directory.GetFiles(directory));
    }

    [Fact]
    public async Task A_directory_that_is_moved_deleted_or_replaced_while_running_is_told_and_nothing_acknowledged()
    {
        await using var house = new TestHouse();
        await house.Page("/start");
        var moves = new (Action Take, Action Back)[]
        {
            (() => Directory.Move(house.Directory, house.Directory + "-moved"), () => Directory.Move(house.Directory + "-moved", house.Directory)),
            (() => File.Move(house.Database.File, house.Database.File + ".old"), () => File.Move(house.Database.File + ".old", house.Database.File)),
            (() => { File.Move(house.Database.File, house.Database.File + ".old"); File.Copy(house.Database.File + ".old", house.Database.File); }, () => File.Move(house.Database.File + ".old", house.Database.File, true)),
        };
        string token = TestHouse.TokenOf(await house.Page("/start"));
        async Task<HttpResponseMessage> Add(string name)
        {
            using var form = new FormUrlEncodedContent([KeyValuePair.Create("name", name), KeyValuePair.Create("kind", "child"), KeyValuePair.Create("__RequestVerificationToken", token)]);
            return await house.Client.PostAsync(new Uri("/start?handler=Who", UriKind.Relative), form);
        }

        foreach (var (take, back) in moves)
        {
            take();
            var refused = await Add("Nobody");
            Assert.Equal(HttpStatusCode.ServiceUnavailable, refused.StatusCode);
            Assert.Contains("not where it was", WebUtility.HtmlDecode(await refused.Content.ReadAsStringAsync()), StringComparison.Ordinal);
            back();
            Assert.Equal(HttpStatusCode.OK, (await Add("Otis")).StatusCode);
        }
        Assert.Equal(["Otis", "Otis", "Otis"], house.Get<Players>().All().Select(p => p.Name));
    }

    [Fact]
    public async Task A_file_that_another_program_holds_is_told_in_time_and_other_pages_go_on()
    {
        await using var house = new TestHouse();
        house.Get<Players>().Add("Otis", "2021-07", PlayerKind.Child);
        await house.Page("/");
        using var other = new SqliteConnection($"Data Source={house.Database.File};Pooling=False");
        other.Open();
        using (var command = other.CreateCommand())
        {
            command.CommandText = "begin immediate";
            command.ExecuteNonQuery();
        }
        var post = house.Post("/house?handler=Add", ("name", "Ada"), ("kind", "child"));
        var second = house.Post("/house?handler=Add", ("name", "Bea"), ("kind", "child"));
        foreach (string page in (string[])["/", "/house", "/growth/1", "/logbook"]) await house.Page(page);
        var (status, body, _) = await post;
        Assert.Equal(HttpStatusCode.ServiceUnavailable, status);
        Assert.Contains("Another program holds", body, StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.ServiceUnavailable, (await second).Status);
        other.Close();
        Assert.Equal(HttpStatusCode.OK, (await house.Post("/house?handler=Add", ("name", "Ada"), ("kind", "child"))).Status);
    }

    [Fact]
    public void The_tables_that_are_taken_over_are_all_there_are()
    {
        var database = Database.Open(directory);
        using var connection = database.Connect();
        using var command = connection.CreateCommand();
        command.CommandText = "select name from sqlite_schema where type = 'table' and name not like 'sqlite_%' and name not in ('SchemaVersions', 'post')";
        using var reader = command.ExecuteReader();
        var tables = new List<string>();
        while (reader.Read()) tables.Add(reader.GetString(0));
        Assert.Equal(tables.Order(), Database.HouseholdTables.Order());
    }

    [Fact]
    public void What_is_counted_by_triggers_is_what_is_there()
    {
        var database = Database.Open(directory);
        long otis = new Players(database).Add("Otis", "2021-07", PlayerKind.Child);
        var notes = new Observations(database);
        var entries = new Entries(database);
        var rng = new Random(5);
        var at = new DateTimeOffset(2026, 3, 1, 12, 0, 0, TimeSpan.Zero);
        for (int n = 0; n < 60; n++)
        {
            var mine = notes.Of(otis);
            if (mine.Count > 3 && rng.Next(3) == 0) notes.Correct(mine[rng.Next(mine.Count)].Id, Core.Asks.Seen.How((Core.Asks.Outcome)rng.Next(6)));
            else if (mine.Count > 3 && rng.Next(4) == 0) notes.Withdraw(mine[rng.Next(mine.Count)].Id);
            else entries.Add(EntryKind.Typed, at, "x", null, "", [otis], [(otis, new Observation(at.AddDays(-rng.Next(5)), new(Core.Asks.AskKind.Part, 10, rng.Next(5), Core.Forms.Form.Numeral), rng.Next(3) == 0 ? Core.Asks.Seen.NotWatched(rng.Next(2) == 0) : Core.Asks.Seen.How((Core.Asks.Outcome)rng.Next(6))))]);
        }
        var all = notes.Of(otis);
        Assert.Equal(all.CountBy(o => (o.Observation.Ask, o.Observation.Seen)).OrderBy(c => c.Key.ToString()).Select(c => (c.Key.Ask, c.Key.Seen, c.Value)),
            notes.Counts(otis, null).OrderBy(c => (c.Ask, c.Seen).ToString()).Select(c => (c.Ask, c.Seen, c.Times)));
        Assert.Equal(notes.Counts(otis, null).Select(c => $"{c}").Order(), notes.Counts(otis, new DateOnly(2026, 3, 1)).Select(c => $"{c}").Order());
        foreach (var note in all)
        {
            var before = all.TakeWhile(o => o.Id != note.Id).Append(note).ToList();
            Assert.Equal((before.Count, before.Sum(o => o.Id)), notes.UpTo(otis, note.Observation.Day, note.Id));
            Assert.Equal(all.Count(o => o.Observation.Day <= note.Observation.Day), notes.CountUpTo(otis, note.Observation.Day));
        }
    }
}
