using Dapper;

namespace Allowance.Store;

/// <summary>An estimate as it stood after a note.</summary>
/// <param name="Mark">What made it; another mark makes it worthless.</param>
/// <param name="Rewritten">How often earlier notes had been changed then; see <see cref="LogState"/>.</param>
/// <param name="LastId">The newest note it has taken in.</param>
public sealed record KeptEstimate(string Mark, long Rewritten, long LastId, byte[] Body);

/// <summary>Estimates kept so that not everything is replayed after a start. Each can be thrown away at any time.</summary>
public sealed class Estimates(Database database)
{
    private sealed class Row
    {
        public string Mark { get; init; } = "";
        public long Rewritten { get; init; }
        public long LastId { get; init; }
        public byte[] Body { get; init; } = [];
    }

    public KeptEstimate? Find(long player)
    {
        using var connection = database.Connect();
        return connection.QueryFirstOrDefault<Row>("select mark, rewritten, last_id, body from estimate where player_id = @player", new { player }) is { } row
            ? new(row.Mark, row.Rewritten, row.LastId, row.Body)
            : null;
    }

    public void Keep(long player, KeptEstimate kept, int observations) => database.Write((connection, transaction) => connection.Execute("""
        insert into estimate (player_id, mark, rewritten, last_id, observations, body) values (@player, @Mark, @Rewritten, @LastId, @observations, @Body)
        on conflict (player_id) do update set mark = @Mark, rewritten = @Rewritten, last_id = @LastId, observations = @observations, body = @Body
        """, new { player, kept.Mark, kept.Rewritten, kept.LastId, observations, kept.Body }, transaction));
}
