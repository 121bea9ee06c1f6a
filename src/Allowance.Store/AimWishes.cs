using Allowance.Core.Asks;
using Allowance.Core.Tuning;
using Dapper;

namespace Allowance.Store;

/// <summary>Aims of a child that were set aside, or put first.</summary>
public sealed class AimWishes(Database database)
{
    private sealed class Row
    {
        public string Skill { get; init; } = "";
        public int Band { get; init; }
        public string Wish { get; init; } = "";
        public DateOnly Day { get; init; }
    }

    /// <summary>All wishes of a child; of skills that there are no more, none.</summary>
    public IReadOnlyList<AimWish> Of(long player)
    {
        using var connection = database.Connect();
        return [.. connection.Query<Row>("select skill, band, wish, day from aim_wish where player_id = @player", new { player })
            .Select(r => (Row: r, Band: Feeding.Find(r.Skill, r.Band))).Where(r => r.Band >= 0).Select(r => new AimWish(r.Band, Enum.Parse<Wish>(r.Row.Wish, true), r.Row.Day))];
    }

    /// <summary>Wishes something of an aim, or nothing any more; once for each post.</summary>
    public void Put(long player, int band, Wish? wish, DateOnly day, string? post = null) => database.WriteOnce(post, (connection, transaction) =>
    {
        var aim = new { player, skill = Feeding.Bands[band].Skill.Id, band = Feeding.Bands[band].Band, wish = wish?.ToString().ToLowerInvariant(), day };
        if (wish is null) connection.Execute("delete from aim_wish where player_id = @player and skill = @skill and band = @band", aim, transaction);
        else
            connection.Execute("""
                insert into aim_wish (player_id, skill, band, wish, day) select id, @skill, @band, @wish, @day from player where id = @player
                on conflict (player_id, skill, band) do update set wish = excluded.wish, day = excluded.day
                """, aim, transaction);
        return 0;
    });
}
