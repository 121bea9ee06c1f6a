using System.Collections.Concurrent;
using System.Data;
using Allowance.Core.Asks;
using Allowance.Core.Learner;
using Dapper;
using Microsoft.Data.Sqlite;

namespace Allowance.Store;

/// <summary>A stored note, with where it came from.</summary>
public sealed record StoredObservation(long Id, long PlayerId, Observation Observation, long? SittingId, int? Turn, bool Counts, long? ReplacedBy, long? EntryId);

/// <summary>How often an ask was noted with an outcome.</summary>
public sealed record AskCount(Ask Ask, Seen Seen, int Times);

/// <summary>Where a note belongs: a turn of a sitting, or another entry of the logbook.</summary>
internal readonly record struct Origin(long? SittingId = null, int? Turn = null, int? Event = null, long? EntryId = null);

/// <summary>How often a player's notes changed, and how often of those what had been there before.</summary>
public readonly record struct LogState(long Version, long Rewritten);

/// <summary>The notes. None is ever changed: one that puts another right stands beside it.</summary>
public sealed class Observations(Database database)
{
    private const string Columns = "id, player_id, at, ask, outcome, right, seconds, source, sitting_id, turn, replaced_by, void, entry_id";

    // The same few thousand asks come up again and again.
    private static readonly ConcurrentDictionary<string, Ask?> Asked = new();

    private static Ask? Parsed(string text) => Asked.GetOrAdd(text, t => Ask.Parse(t, out _));

    private sealed class Row
    {
        public long Id { get; init; }
        public long PlayerId { get; init; }
        public DateTimeOffset At { get; init; }
        public string Ask { get; init; } = "";
        public long? Outcome { get; init; }
        public long Right { get; init; }
        public double? Seconds { get; init; }
        public string Source { get; init; } = "";
        public long? SittingId { get; init; }
        public long? Turn { get; init; }
        public long? ReplacedBy { get; init; }
        public long Void { get; init; }
        public long? EntryId { get; init; }

        public StoredObservation? Read() => Parsed(Ask) is not { } ask ? null : new(Id, PlayerId,
            new(At, ask, Outcome is { } o ? Seen.How((Outcome)o) : Seen.NotWatched(Right != 0), Seconds, Enum.Parse<Source>(Source, true)),
            SittingId, (int?)Turn, Void == 0 && ReplacedBy is null, ReplacedBy, EntryId);
    }

    /// <summary>What counts of a player, oldest first.</summary>
    public IReadOnlyList<StoredObservation> Of(long playerId)
    {
        using var connection = database.Connect();
        return Read(connection.Query<Row>($"""
            select {Columns} from observation where player_id = @playerId and void = 0 and replaced_by is null
            order by day, id
            """, new { playerId }));
    }

    /// <summary>What counts of a player after a note, up to a day; read as it is asked for.</summary>
    public IEnumerable<StoredObservation> After(long playerId, DateOnly day, long id, DateOnly upTo)
    {
        using var connection = database.Connect();
        foreach (var row in connection.Query<Row>($"""
            select {Columns} from observation where player_id = @playerId and void = 0 and replaced_by is null and (day, id) > (@day, @id) and day <= @upTo
            order by day, id
            """, new { playerId, day, id, upTo }, buffered: false))
            if (row.Read() is { } note) yield return note;
    }

    /// <summary>How many notes count up to one of them, and the sum of their ids: all that count, without those after it.</summary>
    public (int Notes, long Sum) UpTo(long playerId, DateOnly day, long id)
    {
        using var connection = database.Connect();
        return connection.QueryFirstOrDefault<(int, long)>("""
            select l.notes - a.notes, l.sum - a.sum from log_state l,
              (select count(*) as notes, coalesce(sum(id), 0) as sum from observation where player_id = @playerId and void = 0 and replaced_by is null and (day, id) > (@day, @id)) a
            where l.player_id = @playerId
            """, new { playerId, day, id });
    }

    public int CountUpTo(long playerId, DateOnly day)
    {
        using var connection = database.Connect();
        return connection.ExecuteScalar<int>("select count(*) from observation where player_id = @playerId and void = 0 and replaced_by is null and day <= @day", new { playerId, day });
    }

    /// <summary>The last day of a note that counts; null where there is none.</summary>
    public DateOnly? LastDay(long playerId)
    {
        using var connection = database.Connect();
        return connection.QueryFirstOrDefault<DateOnly?>("select day from observation where player_id = @playerId and void = 0 and replaced_by is null order by day desc limit 1", new { playerId });
    }

    /// <summary>The newest notes that count, oldest first.</summary>
    public IReadOnlyList<StoredObservation> Latest(long playerId, int most)
    {
        using var connection = database.Connect();
        return [.. Read(connection.Query<Row>($"select {Columns} from observation where player_id = @playerId and void = 0 and replaced_by is null order by day desc, id desc limit @most", new { playerId, most })).Reverse()];
    }

    /// <summary>The notes that count from one day to another, oldest first.</summary>
    public IReadOnlyList<StoredObservation> Between(long playerId, DateOnly from, DateOnly to)
    {
        using var connection = database.Connect();
        return Read(connection.Query<Row>($"select {Columns} from observation where player_id = @playerId and void = 0 and replaced_by is null and day between @from and @to order by day, id", new { playerId, from, to }));
    }

    /// <summary>How often each ask was noted, and with which outcomes.</summary>
    /// <param name="upTo">Only up to this day; null for all.</param>
    public IReadOnlyList<AskCount> Counts(long playerId, DateOnly? upTo)
    {
        using var connection = database.Connect();
        return [.. connection.Query<(string Ask, long Outcome, long Right, int Times)>(upTo is null
            ? "select ask, outcome, right, times from met where player_id = @playerId and times > 0"
            : """
              select ask, coalesce(outcome, -1), right, count(*) from observation indexed by observation_by_player_and_ask
              where player_id = @playerId and void = 0 and replaced_by is null and day <= @upTo group by ask, outcome, right
              """, new { playerId, upTo }).Select(c => (Ask: Parsed(c.Ask), c)).Where(c => c.Ask is not null)
            .Select(c => new AskCount(c.Ask!.Value, c.c.Outcome >= 0 ? Seen.How((Outcome)c.c.Outcome) : Seen.NotWatched(c.c.Right != 0), c.c.Times))];
    }

    /// <summary>How often each ask was noted on each day, and with which outcomes, where somebody watched how.</summary>
    public IReadOnlyList<(DateOnly Day, AskCount Count)> WatchedByDay(long playerId, DateOnly from, DateOnly to)
    {
        using var connection = database.Connect();
        return [.. connection.Query<(DateOnly Day, string Ask, long Outcome, int Times)>("""
            select day, ask, outcome, count(*) from observation indexed by observation_by_player
            where player_id = @playerId and void = 0 and replaced_by is null and day between @from and @to and outcome is not null group by day, ask, outcome
            """, new { playerId, from, to }).Select(c => (c.Day, Ask: Parsed(c.Ask), c)).Where(c => c.Ask is not null)
            .Select(c => (c.Day, new AskCount(c.Ask!.Value, Seen.How((Outcome)c.c.Outcome), c.c.Times)))];
    }

    /// <summary>The newest notes of some asks up to a day, newest first.</summary>
    public IReadOnlyList<StoredObservation> Newest(long playerId, IEnumerable<Ask> asks, DateOnly upTo, int most)
    {
        using var connection = database.Connect();
        return Read(connection.Query<Row>($"""
            select {Columns} from observation where player_id = @playerId and void = 0 and replaced_by is null and day <= @upTo and ask in (select value from json_each(@asks))
            order by id desc limit @most
            """, new { playerId, upTo, most, asks = System.Text.Json.JsonSerializer.Serialize(asks.Select(a => a.ToString())) }));
    }

    /// <summary>The glimpses that count up to a day, in the order in which they were noted: what was asked, for how many seconds, and whether it was right.</summary>
    public IReadOnlyList<(Ask Ask, double Seconds, bool Right)> Glimpses(long playerId, DateOnly upTo)
    {
        using var connection = database.Connect();
        return [.. connection.Query<(string Ask, double Seconds, long Right)>("""
            select ask, seconds, right from observation indexed by observation_glimpse
            where player_id = @playerId and source = 'glimpse' and seconds > 0 and void = 0 and replaced_by is null and day <= @upTo order by id
            """, new { playerId, upTo }).Where(g => Parsed(g.Ask) is not null).Select(g => (Parsed(g.Ask)!.Value, g.Seconds, g.Right != 0))];
    }

    /// <summary>What counts of a player, oldest first, read as it is asked for.</summary>
    public IEnumerable<Observation> Stream(long playerId)
    {
        using var connection = database.Connect();
        foreach (var row in connection.Query<Row>($"select {Columns} from observation where player_id = @playerId and void = 0 and replaced_by is null order by day, id", new { playerId }, buffered: false))
            if (row.Read() is { } note) yield return note.Observation;
    }

    /// <summary>All of an entry that is no sitting, what was put right or taken back included.</summary>
    public IReadOnlyList<StoredObservation> OfEntry(long entryId)
    {
        using var connection = database.Connect();
        return Read(connection.Query<Row>($"select {Columns} from observation where entry_id = @entryId order by id", new { entryId }));
    }

    /// <summary>All of a sitting, what was put right or taken back included.</summary>
    public IReadOnlyList<StoredObservation> OfSitting(long sittingId)
    {
        using var connection = database.Connect();
        return Read(connection.Query<Row>($"select {Columns} from observation where sitting_id = @sittingId order by id", new { sittingId }));
    }

    private static IReadOnlyList<StoredObservation> Read(IEnumerable<Row> rows) => [.. rows.Select(r => r.Read()).OfType<StoredObservation>()];

    /// <summary>Changes whenever what counts of a player changes; models are kept by it.</summary>
    public LogState State(long playerId)
    {
        using var connection = database.Connect();
        return connection.QueryFirstOrDefault<(long, long)>("select version, rewritten from log_state where player_id = @playerId", new { playerId }) is var (version, rewritten) ? new(version, rewritten) : default;
    }

    public StoredObservation? Find(long id)
    {
        using var connection = database.Connect();
        return connection.QueryFirstOrDefault<Row>($"select {Columns} from observation where id = @id", new { id })?.Read();
    }

    /// <returns>The note; 0 where its player was removed meanwhile, and nothing is kept of her.</returns>
    internal static long Insert(SqliteConnection connection, IDbTransaction transaction, long playerId, Observation seen, Origin from) =>
        connection.ExecuteScalar<long>("""
            insert into observation (player_id, at, day, ask, outcome, right, seconds, source, sitting_id, turn, event, entry_id)
            select id, @at, @day, @ask, @outcome, @right, @seconds, @source, @SittingId, @Turn, @Event, @EntryId from player where id = @playerId returning id
            """,
            new
            {
                playerId, at = seen.At, day = seen.Day, ask = seen.Ask.ToString(), outcome = (int?)seen.Seen.Outcome, right = seen.Seen.Right ? 1 : 0,
                seconds = seen.Seconds, source = seen.Source.ToString().ToLowerInvariant(), from.SittingId, from.Turn, from.Event, from.EntryId,
            }, transaction);

    /// <summary>Puts an entry right: the new one stands in its place, the old one stays to be seen. Nothing where it no longer counts: somebody was quicker.</summary>
    public void Correct(long id, Seen seen, string? post = null) => database.WriteOnce(post, (connection, transaction) =>
    {
        if (connection.QueryFirstOrDefault<Row>($"select {Columns} from observation where id = @id", new { id }, transaction)?.Read() is not { Counts: true } was) return null;
        long better = Insert(connection, transaction, was.PlayerId, was.Observation with { Seen = seen }, new(was.SittingId, was.Turn, null, was.EntryId));
        connection.Execute("update observation set replaced_by = @better where id = @id", new { id, better }, transaction);
        return better;
    });

    /// <summary>Says that an entry was a mistake; it no longer counts, and stays to be seen.</summary>
    public void Withdraw(long id) => database.Write((connection, transaction) =>
        connection.Execute("update observation set void = 1 where id = @id", new { id }, transaction));

    /// <summary>Says of all notes of an entry that they were a mistake; they stay to be seen.</summary>
    public void WithdrawEntry(long entryId) => database.Write((connection, transaction) =>
        connection.Execute("update observation set void = 1 where entry_id = @entryId and void = 0 and replaced_by is null", new { entryId }, transaction));
}
