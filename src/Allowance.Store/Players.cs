using System.Text.RegularExpressions;
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

    private readonly Kept<IReadOnlyList<Player>> kept = new(database, () =>
    {
        using var connection = database.Connect();
        return [.. connection.Query<Row>("select id, name, birth_month, kind, mouths from player order by kind = 'other', kind, position, id").Select(r => r.ToPlayer())];
    });

    public IReadOnlyList<Player> All() => kept.Value;

    public Player? Find(long id) => kept.Value.FirstOrDefault(p => p.Id == id);

    /// <param name="post">The id of the post that brings it; a repeated one adds nobody.</param>
    public long Add(string name, string? birthMonth, PlayerKind kind, string? post = null) => kept.After(() => database.WriteOnce(post, (connection, transaction) =>
        connection.ExecuteScalar<long>("insert into player (name, birth_month, kind) values (@name, @birthMonth, @kind) returning id",
            new { name, birthMonth, kind = kind.ToString().ToLowerInvariant() }, transaction))!.Value.Made);

    public void Change(long id, string name, string? birthMonth, PlayerKind kind, bool mouths = false) => kept.After(() => database.Write((connection, transaction) =>
        connection.Execute("update player set name = @name, birth_month = @birthMonth, kind = @kind, mouths = @mouths where id = @id",
            new { id, name, birthMonth, kind = kind.ToString().ToLowerInvariant(), mouths }, transaction)));

    /// <summary>What stands where the name of somebody stood who was removed.</summary>
    private const string Somebody = "somebody";

    /// <summary>
    /// Erases somebody: her notes, how she left each sitting, and her name, also where it stands in what was written of others
    /// and in setups that were kept. Sittings that others played stay, with an empty seat in her place. Nothing of it is left in
    /// the file afterwards.
    /// </summary>
    public void Erase(long id)
    {
        if (Find(id) is not { } player) return;
        kept.After(() => Remove(id, player.Name));
        database.Scour();
    }

    private int Remove(long id, string name) => database.Write((connection, transaction) =>
    {
        foreach (var (entry, game, words) in connection.Query<(long, string, string)>("select id, game, words from entry where instr(game, @name) or instr(words, @name)", new { name }, transaction).ToList())
            connection.Execute("update entry set game = @game, words = @words where id = @entry", new { entry, game = Without(name, game), words = Without(name, words) }, transaction);
        foreach (var (setup, called, json) in connection.Query<(long, string, string)>("select id, name, json from saved_setup", transaction: transaction).ToList())
            connection.Execute("update saved_setup set name = @called, json = @json where id = @setup", new { setup, called = Without(name, called), json = SavedSetups.Without(name, json) }, transaction);
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

    /// <summary>A text without a name, where it stands as a whole word.</summary>
    private static string Without(string name, string text) => Regex.Replace(text, $@"(?<!\w){Regex.Escape(name)}(?!\w)", Somebody);
}

/// <summary>The household's settings: approach, house rule and the like, by key.</summary>
public sealed class Settings(Database database)
{
    private readonly Kept<IReadOnlyDictionary<string, string>> kept = new(database, () =>
    {
        using var connection = database.Connect();
        return connection.Query<(string Key, string Value)>("select key, value from setting").ToDictionary(s => s.Key, s => s.Value);
    });

    public IReadOnlyDictionary<string, string> All() => kept.Value;

    public void Set(string key, string value) => kept.After(() => database.Write((connection, transaction) =>
        connection.Execute("insert into setting (key, value) values (@key, @value) on conflict (key) do update set value = @value", new { key, value }, transaction)));
}
