using Dapper;

namespace Allowance.Store;

public enum PlayerKind { Child, GrownUp, Other }

/// <summary>Somebody of the household: a child or grown-up who plays, or somebody else in the home (for cautions).</summary>
/// <param name="BirthMonth">"2021-01", or null where unknown.</param>
public sealed record Player(long Id, string Name, string? BirthMonth, PlayerKind Kind)
{
    public const int LongestName = 40;

    /// <summary>Still puts things in the mouth, whatever the age.</summary>
    public bool Mouths { get; init; }

    /// <summary>Age in years on a day, from the middle of the birth month; null where unknown.</summary>
    public double? AgeOn(DateOnly day) => BirthMonth is null ? null : Math.Max(0, (day.DayNumber - DateOnly.ParseExact(BirthMonth + "-15", "yyyy-MM-dd").DayNumber) / 365.25);

    /// <summary>Plays at the table, as against others in the home.</summary>
    public bool Plays => Kind != PlayerKind.Other;
}

public sealed class Players(Database database)
{
    private sealed class Row
    {
        public long Id { get; init; }
        public string Name { get; init; } = "";
        public string? BirthMonth { get; init; }
        public string Kind { get; init; } = "";
        public bool Mouths { get; init; }

        public Player ToPlayer() => new(Id, Name, BirthMonth, Enum.Parse<PlayerKind>(Kind, true)) { Mouths = Mouths };
    }

    public IReadOnlyList<Player> All()
    {
        using var connection = database.Connect();
        return [.. connection.Query<Row>("select id, name, birth_month, kind, mouths from player order by kind = 'other', kind, position, id").Select(r => r.ToPlayer())];
    }

    public Player? Find(long id)
    {
        using var connection = database.Connect();
        return connection.QueryFirstOrDefault<Row>("select id, name, birth_month, kind, mouths from player where id = @id", new { id })?.ToPlayer();
    }

    public long Add(string name, string? birthMonth, PlayerKind kind) => database.Write((connection, transaction) =>
        connection.ExecuteScalar<long>("insert into player (name, birth_month, kind) values (@name, @birthMonth, @kind) returning id",
            new { name, birthMonth, kind = kind.ToString().ToLowerInvariant() }, transaction));

    public void Change(long id, string name, string? birthMonth, PlayerKind kind, bool mouths = false) => database.Write((connection, transaction) =>
        connection.Execute("update player set name = @name, birth_month = @birthMonth, kind = @kind, mouths = @mouths where id = @id",
            new { id, name, birthMonth, kind = kind.ToString().ToLowerInvariant(), mouths }, transaction));

    /// <summary>
    /// Erases somebody: her notes, how she left each sitting, and her name. Sittings that others played stay, with an empty
    /// seat in her place.
    /// </summary>
    public void Erase(long id) => database.Write((connection, transaction) =>
    {
        connection.Execute("update sitting_event set body = '{\"kind\":\"hint\",\"Step\":0}' where player_id = @id", new { id }, transaction);
        connection.Execute("""
            delete from sitting where id in (select sitting_id from sitting_seat where player_id = @id)
              and not exists (select 1 from sitting_seat s where s.sitting_id = sitting.id and s.player_id is not null and s.player_id <> @id)
            """, new { id }, transaction);
        connection.Execute("""
            delete from entry where id in (select entry_id from entry_player where player_id = @id)
              and not exists (select 1 from entry_player p where p.entry_id = entry.id and p.player_id <> @id)
            """, new { id }, transaction);
        return connection.Execute("delete from player where id = @id", new { id }, transaction);
    });
}

/// <summary>The household's settings: approach, house rule and the like, by key.</summary>
public sealed class Settings(Database database)
{
    public IReadOnlyDictionary<string, string> All()
    {
        using var connection = database.Connect();
        return connection.Query<(string Key, string Value)>("select key, value from setting").ToDictionary(s => s.Key, s => s.Value);
    }

    public void Set(string key, string value) => database.Write((connection, transaction) =>
        connection.Execute("insert into setting (key, value) values (@key, @value) on conflict (key) do update set value = @value", new { key, value }, transaction));
}
