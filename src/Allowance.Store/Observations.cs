using System.Data;
using Allowance.Core.Asks;
using Allowance.Core.Learner;
using Dapper;
using Microsoft.Data.Sqlite;

namespace Allowance.Store;

/// <summary>A stored note, with where it came from.</summary>
public sealed record StoredObservation(long Id, long PlayerId, Observation Observation, long? SittingId, int? Turn, bool Counts, long? ReplacedBy);

/// <summary>The notes. None is ever changed: one that puts another right stands beside it.</summary>
public sealed class Observations(Database database)
{
    private const string Columns = "id, player_id, at, ask, outcome, right, seconds, source, sitting_id, turn, replaced_by, void";

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

        public StoredObservation? Read() => Core.Asks.Ask.Parse(Ask, out _) is not { } ask ? null : new(Id, PlayerId,
            new(At, ask, Outcome is { } o ? Seen.How((Outcome)o) : Seen.NotWatched(Right != 0), Seconds, Enum.Parse<Source>(Source, true)),
            SittingId, (int?)Turn, Void == 0 && ReplacedBy is null, ReplacedBy);
    }

    /// <summary>All that counts of a player, oldest first.</summary>
    public IReadOnlyList<StoredObservation> Of(long playerId)
    {
        using var connection = database.Connect();
        return Read(connection.Query<Row>($"select {Columns} from observation where player_id = @playerId and void = 0 and replaced_by is null order by day, id", new { playerId }));
    }

    /// <summary>All of a sitting, what was put right or taken back included.</summary>
    public IReadOnlyList<StoredObservation> OfSitting(long sittingId)
    {
        using var connection = database.Connect();
        return Read(connection.Query<Row>($"select {Columns} from observation where sitting_id = @sittingId order by id", new { sittingId }));
    }

    private static IReadOnlyList<StoredObservation> Read(IEnumerable<Row> rows) => [.. rows.Select(r => r.Read()).OfType<StoredObservation>()];

    /// <summary>A number that changes whenever what counts of a player changes; models are kept by it.</summary>
    public (long Count, long Last, long Gone) Version(long playerId)
    {
        using var connection = database.Connect();
        return connection.QueryFirst<(long, long, long)>(
            "select count(*), coalesce(max(id), 0), coalesce(sum(void <> 0 or replaced_by is not null), 0) from observation where player_id = @playerId", new { playerId });
    }

    public StoredObservation? Find(long id)
    {
        using var connection = database.Connect();
        return connection.QueryFirstOrDefault<Row>($"select {Columns} from observation where id = @id", new { id })?.Read();
    }

    internal static long Insert(SqliteConnection connection, IDbTransaction transaction, long playerId, Observation seen, long? sittingId, int? turn, int? eventNumber) =>
        connection.ExecuteScalar<long>("""
            insert into observation (player_id, at, day, ask, outcome, right, seconds, source, sitting_id, turn, event)
            values (@playerId, @at, @day, @ask, @outcome, @right, @seconds, @source, @sittingId, @turn, @eventNumber) returning id
            """,
            new
            {
                playerId, at = seen.At, day = seen.Day, ask = seen.Ask.ToString(), outcome = (int?)seen.Seen.Outcome, right = seen.Seen.Right ? 1 : 0,
                seconds = seen.Seconds, source = seen.Source.ToString().ToLowerInvariant(), sittingId, turn, eventNumber,
            }, transaction);

    /// <summary>Puts an entry right: the new one stands in its place, the old one stays to be seen.</summary>
    public void Correct(long id, Seen seen) => database.Write((connection, transaction) =>
    {
        var old = connection.QueryFirst<Row>($"select {Columns} from observation where id = @id", new { id }, transaction);
        var was = old.Read()!;
        long better = Insert(connection, transaction, was.PlayerId, was.Observation with { Seen = seen }, was.SittingId, was.Turn, null);
        return connection.Execute("update observation set replaced_by = @better where id = @id and replaced_by is null", new { id, better }, transaction);
    });

    /// <summary>Says that an entry was a mistake; it no longer counts, and stays to be seen.</summary>
    public void Withdraw(long id) => database.Write((connection, transaction) =>
        connection.Execute("update observation set void = 1 where id = @id", new { id }, transaction));
}
