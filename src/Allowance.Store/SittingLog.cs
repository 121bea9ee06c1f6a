using System.Data;
using System.Text.Json;
using Allowance.Core.Asks;
using Allowance.Core.Learner;
using Allowance.Core.Sittings;
using Dapper;
using Microsoft.Data.Sqlite;

namespace Allowance.Store;

/// <summary>What a sitting began with.</summary>
/// <param name="RulesVersion">The rules it is played by; see <see cref="Sitting.RulesVersion"/>.</param>
public sealed record SittingHead(long Id, string Game, string SetupLink, Way Way, long Seed, int RulesVersion, DateTimeOffset StartedAt, DateTimeOffset? EndedAt, IReadOnlyList<long?> Seats);

/// <summary>An event to be stored, and whose it is where it is one child's alone (a note, how she left).</summary>
public sealed record NewEvent(SittingEvent Event, DateTimeOffset At, long? PlayerId = null);

/// <summary>Sittings and their events. An event that was appended is durable when the call returns.</summary>
public sealed class SittingLog(Database database)
{
    private sealed class Row
    {
        public long Id { get; init; }
        public string Game { get; init; } = "";
        public string Setup { get; init; } = "";
        public string Way { get; init; } = "";
        public long Seed { get; init; }
        public DateTimeOffset StartedAt { get; init; }
        public DateTimeOffset? EndedAt { get; init; }
        public long RulesVersion { get; init; }

        /// <summary>The players in the order of their places, as JSON.</summary>
        public string Seats { get; init; } = "[]";

        public SittingHead ToHead() => new(Id, Game, Setup, Enum.Parse<Way>(Way, true), Seed, (int)RulesVersion, StartedAt, EndedAt, JsonSerializer.Deserialize<long?[]>(Seats)!);
    }

    private const string Columns = """
        select id, game, setup, way, seed, rules_version, started_at, ended_at,
          (select json_group_array(player_id) from (select player_id from sitting_seat where sitting_id = sitting.id order by seat)) as seats
        from sitting
        """;

    /// <summary>Lays a table with what is on it at the beginning, in one transaction; once for each post.</summary>
    /// <returns>The sitting, laid now or by the same post before.</returns>
    public long Start(string game, string setupLink, Way way, long seed, DateTimeOffset at, IReadOnlyList<long?> seats, IReadOnlyList<NewEvent>? events = null, string? post = null) => database.WriteOnce(post, (connection, transaction) =>
    {
        long id = connection.ExecuteScalar<long>("""
            insert into sitting (game, setup, way, seed, rules_version, started_at) values (@game, @setupLink, @way, @seed, @version, @at) returning id
            """, new { game, setupLink, way = way.ToString().ToLowerInvariant(), seed, version = Sitting.RulesVersion, at }, transaction);
        for (int seat = 0; seat < seats.Count; seat++) AddSeat(connection, transaction, id, seat, seats[seat]);
        Add(connection, transaction, id, 0, events ?? [], [.. seats], seats.Count);
        return id;
    })!.Value.Made;

    private static void AddSeat(SqliteConnection connection, IDbTransaction transaction, long id, int seat, long? player) =>
        // Somebody who was removed meanwhile leaves the seat empty.
        connection.Execute("insert or replace into sitting_seat (sitting_id, seat, player_id) values (@id, @seat, (select id from player where id = @player))", new { id, seat, player }, transaction);

    public SittingHead? Find(long id)
    {
        using var connection = database.Connect();
        return connection.QueryFirstOrDefault<Row>(Columns + " where id = @id", new { id })?.ToHead();
    }

    public IReadOnlyList<SittingEvent> Events(long id)
    {
        using var connection = database.Connect();
        return [.. connection.Query<string>("select body from sitting_event where sitting_id = @id order by number", new { id }).Select(SittingEvent.FromJson)];
    }

    /// <summary>The newest sittings first, of one player or of all.</summary>
    public IReadOnlyList<SittingHead> Latest(int count, int skip = 0, long? playerId = null)
    {
        using var connection = database.Connect();
        return [.. connection.Query<Row>(Columns + """
             where @playerId is null or exists (select 1 from sitting_seat s where s.sitting_id = sitting.id and s.player_id = @playerId)
            order by started_at desc, id desc limit @count offset @skip
            """, new { count, skip, playerId }).Select(r => r.ToHead())];
    }

    /// <summary>The sittings that were begun on the days from one to another, both included, oldest first.</summary>
    public IReadOnlyList<SittingHead> BegunBetween(DateOnly from, DateOnly to)
    {
        using var connection = database.Connect();
        return [.. connection.Query<Row>(Columns + " where started_at >= @from and started_at < @after order by started_at, id", new { from, after = to.AddDays(1) }).Select(r => r.ToHead())];
    }

    /// <summary>How many sittings there have been; those that were erased since count too.</summary>
    public int Count()
    {
        using var connection = database.Connect();
        return connection.ExecuteScalar<int>("select coalesce(max(id), 0) from sitting");
    }

    /// <summary>The games that a player has sat at.</summary>
    public IReadOnlySet<string> PlayedBy(long playerId)
    {
        using var connection = database.Connect();
        return connection.Query<string>("select distinct game from sitting where id in (select sitting_id from sitting_seat where player_id = @playerId)", new { playerId }).ToHashSet();
    }

    /// <summary>The newest sitting of a player in a game, however long ago.</summary>
    public SittingHead? LatestOf(long playerId, string game)
    {
        using var connection = database.Connect();
        return connection.QueryFirstOrDefault<Row>(Columns + """
             where game = @game and id in (select sitting_id from sitting_seat where player_id = @playerId)
            order by started_at desc, id desc limit 1
            """, new { playerId, game })?.ToHead();
    }

    /// <summary>What choosing a game looks back on: a player's newest sittings, and her last one in each game, oldest first; with how she left each.</summary>
    public IReadOnlyList<(SittingHead Head, Closing? How)> LookedBackOn(long playerId, int newest)
    {
        using var connection = database.Connect();
        var heads = connection.Query<Row>("with hers as (select sitting_id as id from sitting_seat where player_id = @playerId) " + Columns + """
             where id in (select id from (select id from sitting where id in hers order by started_at desc, id desc limit @newest))
              or id in (select max(id) from sitting where id in hers group by game)
            order by started_at, id
            """, new { playerId, newest }).Select(r => r.ToHead()).ToList();
        var left = connection.Query<(long Sitting, string Body)>("select sitting_id, body from sitting_event where player_id = @playerId and body like '{\"kind\":\"closed\"%' order by sitting_id, number", new { playerId })
            .GroupBy(e => e.Sitting).ToDictionary(g => g.Key, g => ((Closed)SittingEvent.FromJson(g.Last().Body)).How);
        return [.. heads.Select(h => (h, left.TryGetValue(h.Id, out var how) ? how : (Closing?)null))];
    }

    /// <summary>The shortest time in which a player and the same setup came to the end of the game, in another sitting than this.</summary>
    public TimeSpan? Quickest(long playerId, string setupLink, long except)
    {
        using var connection = database.Connect();
        return connection.Query<(DateTimeOffset From, DateTimeOffset To)>("""
            select started_at, ended_at from sitting where setup = @setupLink and id <> @except and ended_at is not null
              and id in (select sitting_id from sitting_seat where player_id = @playerId)
              and not exists (select 1 from sitting_event e where e.sitting_id = sitting.id and e.body like '{"kind":"stopped","Early":true%')
            """, new { playerId, setupLink, except }).Select(t => (TimeSpan?)(t.To - t.From)).Min();
    }

    /// <summary>Sittings that were begun and not ended, newest first.</summary>
    public IReadOnlyList<SittingHead> Open()
    {
        using var connection = database.Connect();
        return [.. connection.Query<Row>(Columns + " where ended_at is null order by id desc limit 5").Select(r => r.ToHead())];
    }

    /// <summary>
    /// Appends events after the first <paramref name="known"/>, with the notes they make, in one transaction.
    /// </summary>
    /// <param name="post">The id of the post that brings them; one that was taken already changes nothing.</param>
    /// <param name="seats">Who sat where before.</param>
    /// <param name="seatsNow">How many places there are afterwards: who joined may have been taken back.</param>
    /// <returns>False where the post was taken already, or somebody else wrote in between.</returns>
    public bool Append(long id, int known, string? post, IReadOnlyList<NewEvent> events, IReadOnlyList<long?> seats, int seatsNow = int.MaxValue) => database.WriteOnce(post, (connection, transaction) =>
    {
        // Somebody else wrote in between, or the sitting went with the last of those who played.
        if (connection.QueryFirstOrDefault<int?>("select (select count(*) from sitting_event where sitting_id = @id) from sitting where id = @id", new { id }, transaction) != known) return null;
        Add(connection, transaction, id, known, events, [.. seats], seatsNow);
        return id;
    }) is { Now: true };

    /// <summary>A post that was taken before changes nothing.</summary>
    public bool WasTaken(string post)
    {
        using var connection = database.Connect();
        return connection.QueryFirstOrDefault<long?>("select result from post where id = @post", new { post }) is not null;
    }

    private static void Add(SqliteConnection connection, IDbTransaction transaction, long id, int from, IReadOnlyList<NewEvent> events, List<long?> players, int seatsNow)
    {
        int number = from;
        foreach (var e in events)
        {
            connection.Execute("insert into sitting_event (sitting_id, number, at, body, player_id) values (@id, @number, @at, @body, (select id from player where id = @player))",
                new { id, number, at = e.At, body = e.Event.ToJson(), player = e.PlayerId }, transaction);
            Follow(connection, transaction, id, number, e, players, seatsNow);
            number++;
        }
    }

    /// <summary>What an event means for the notes and the sitting's own row.</summary>
    private static void Follow(SqliteConnection connection, IDbTransaction transaction, long id, int number, NewEvent e, List<long?> players, int seatsNow)
    {
        switch (e.Event)
        {
            case Noted noted when players[noted.Seat] is { } player && Ask.Parse(noted.Ask, out _) is { } ask:
                var seen = noted.Outcome is { } outcome ? Seen.How((Outcome)outcome) : Seen.NotWatched(noted.Right);
                long note = Observations.Insert(connection, transaction, player, new(e.At, ask, seen, noted.Shown / 1000.0, noted.Shown is null ? Source.Table : Source.Glimpse), new(id, noted.Turn, number));
                // What was put right in the logbook meanwhile is put right again.
                if (noted.Replaces is { } old && note > 0)
                    connection.Execute("""
                        with recursive chain (id) as (select id from observation where sitting_id = @id and event = @old
                          union select o.replaced_by from observation o join chain on o.id = chain.id where o.replaced_by is not null)
                        update observation set replaced_by = @note where id in (select id from chain) and replaced_by is null
                        """, new { note, id, old }, transaction);
                break;
            case Undone undone:
                // With a note goes what put it right in the logbook, which has no event of its own; what an undone note had replaced counts again.
                connection.Execute("""
                    update observation set replaced_by = null where sitting_id = @id and coalesce(event, -1) < @From
                      and replaced_by in (select id from observation where sitting_id = @id and event >= @From)
                    """, new { id, undone.From }, transaction);
                connection.Execute("""
                    with recursive undone (id) as (select id from observation where sitting_id = @id and event >= @From
                      union select o.replaced_by from observation o join undone on o.id = undone.id where o.replaced_by is not null)
                    update observation set void = 1 where id in (select id from undone)
                    """, new { id, undone.From }, transaction);
                connection.Execute("update sitting set ended_at = null where id = @id", new { id }, transaction);
                connection.Execute("delete from sitting_seat where sitting_id = @id and seat >= @seatsNow", new { id, seatsNow }, transaction);
                if (players.Count > seatsNow) players.RemoveRange(seatsNow, players.Count - seatsNow);
                break;
            case Joined joined:
                players.Add(long.TryParse(joined.Key, out long key) ? key : null);
                AddSeat(connection, transaction, id, players.Count - 1, players[^1]);
                break;
            case Stopped:
                connection.Execute("update sitting set ended_at = @At where id = @id", new { e.At, id }, transaction);
                break;
        }
    }
}
