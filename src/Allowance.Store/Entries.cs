using System.Data;
using Allowance.Core.Learner;
using Dapper;
using Microsoft.Data.Sqlite;

namespace Allowance.Store;

/// <summary>What an entry of the logbook is, beside a sitting at the table.</summary>
public enum EntryKind { FirstLook, Typed, Import, Words }

/// <param name="Game">A frame's id, or what the household calls the game; empty where it is none.</param>
/// <param name="Minutes">How long it was played, where known.</param>
public sealed record Entry(long Id, EntryKind Kind, DateTimeOffset At, DateTimeOffset? EndedAt, string Game, double? Minutes, string Words, IReadOnlyList<long> Players);

/// <summary>First looks, games typed in later, imports, and notes in words.</summary>
public sealed class Entries(Database database)
{
    private sealed class Row
    {
        public long Id { get; init; }
        public string Kind { get; init; } = "";
        public DateTimeOffset At { get; init; }
        public DateTimeOffset? EndedAt { get; init; }
        public string Game { get; init; } = "";
        public double? Minutes { get; init; }
        public string Words { get; init; } = "";

        public Entry ToEntry(IReadOnlyList<long> players) => new(Id, Enum.Parse<EntryKind>(Kind, true), At, EndedAt, Game, Minutes, Words, players);
    }

    /// <summary>Writes an entry with its notes, in one transaction.</summary>
    public long Add(EntryKind kind, DateTimeOffset at, string game, double? minutes, string words, IReadOnlyList<long> players, IReadOnlyList<(long Player, Observation Seen)> notes, bool ended = true) =>
        database.Write((connection, transaction) =>
        {
            long id = connection.ExecuteScalar<long>("insert into entry (kind, at, ended_at, game, minutes, words) values (@kind, @at, @endedAt, @game, @minutes, @words) returning id",
                new { kind = kind.ToString().ToLowerInvariant(), at, endedAt = ended ? (DateTimeOffset?)at : null, game, minutes, words }, transaction);
            foreach (long player in players.Distinct())
                connection.Execute("insert into entry_player (entry_id, player_id) values (@id, @player)", new { id, player }, transaction);
            foreach (var (player, seen) in notes) Observations.Insert(connection, transaction, player, seen, new(EntryId: id));
            return id;
        });

    /// <summary>Adds a note to an open entry, where <paramref name="known"/> notes of it count so far.</summary>
    /// <returns>False where it has another number of notes: the same tap came twice, or somebody else wrote in between.</returns>
    public bool Note(long id, int known, long player, Observation seen) => database.Write((connection, transaction) =>
    {
        if (connection.ExecuteScalar<int>("select count(*) from observation where entry_id = @id and void = 0 and replaced_by is null", new { id }, transaction) != known) return false;
        Observations.Insert(connection, transaction, player, seen, new(EntryId: id));
        return true;
    });

    public void End(long id, DateTimeOffset at) => database.Write((connection, transaction) =>
        connection.Execute("update entry set ended_at = @at where id = @id and ended_at is null", new { id, at }, transaction));

    public Entry? Find(long id)
    {
        using var connection = database.Connect();
        return connection.QueryFirstOrDefault<Row>("select id, kind, at, ended_at, game, minutes, words from entry where id = @id", new { id })?.ToEntry(PlayersOf(connection, id));
    }

    /// <summary>A player's newest first look, open or ended; null where she had none.</summary>
    public Entry? LatestFirstLook(long player)
    {
        using var connection = database.Connect();
        var row = connection.QueryFirstOrDefault<Row>("""
            select id, kind, at, ended_at, game, minutes, words from entry
            where kind = 'firstlook' and exists (select 1 from entry_player p where p.entry_id = entry.id and p.player_id = @player) order by id desc limit 1
            """, new { player });
        return row?.ToEntry([player]);
    }

    private static IReadOnlyList<long> PlayersOf(SqliteConnection connection, long id) =>
        [.. connection.Query<long>("select player_id from entry_player where entry_id = @id order by player_id", new { id })];
}
