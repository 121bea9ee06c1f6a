using Dapper;

namespace Allowance.Store;

/// <summary>Where in a log an estimate was kept: after so many notes, of which this was the last, with this sum of their ids.</summary>
public sealed record KeptAt(int Notes, DateOnly Day, long LastId, long Sum, string Mark);

/// <summary>Estimates kept so that not everything is replayed after a start, or for an earlier day. Each can be thrown away at any time.</summary>
public sealed class Estimates(Database database)
{
    private sealed class Row
    {
        public int Notes { get; init; }
        public DateOnly Day { get; init; }
        public long LastId { get; init; }
        public long Sum { get; init; }
        public string Mark { get; init; } = "";

        public KeptAt ToKept() => new(Notes, Day, LastId, Sum, Mark);
    }

    /// <summary>Where a player's estimates were kept, the newest first.</summary>
    public IReadOnlyList<KeptAt> All(long player)
    {
        using var connection = database.Connect();
        return [.. connection.Query<Row>("select notes, day, last_id, sum, mark from estimate where player_id = @player order by notes desc", new { player }).Select(r => r.ToKept())];
    }

    public byte[]? Body(long player, int notes)
    {
        using var connection = database.Connect();
        return connection.QueryFirstOrDefault<byte[]>("select body from estimate where player_id = @player and notes = @notes", new { player, notes });
    }

    /// <summary>Keeps one more, and of the others the newest, the newest of an earlier day, and the last of each month.</summary>
    public void Keep(long player, KeptAt at, byte[] body) => database.Write((connection, transaction) =>
    {
        connection.Execute("delete from estimate where player_id = @player and mark <> @Mark", new { player, at.Mark }, transaction);
        connection.Execute("insert or replace into estimate (player_id, notes, day, last_id, sum, mark, body) values (@player, @Notes, @Day, @LastId, @Sum, @Mark, @body)",
            new { player, at.Notes, at.Day, at.LastId, at.Sum, at.Mark, body }, transaction);
        return connection.Execute("""
            delete from estimate where player_id = @player
              and notes <> (select max(notes) from estimate where player_id = @player)
              and notes <> (select coalesce(max(notes), -1) from estimate where player_id = @player and day < (select max(day) from estimate where player_id = @player))
              and notes not in (select max(notes) from estimate where player_id = @player group by substr(day, 1, 7))
            """, new { player }, transaction);
    });
}
