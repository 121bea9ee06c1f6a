using System.Data;
using Allowance.Core.Learner;
using Dapper;
using Microsoft.Data.Sqlite;

namespace Allowance.Store;

/// <summary>What an entry of the logbook is, beside a sitting at the table.</summary>
public enum EntryKind { FirstLook, Typed, Import, Words }

/// <param name="Game">A frame's id, or what the household calls the game; of a first look the one thing it covers; else empty.</param>
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

    /// <summary>Writes an entry with its notes, in one transaction; once for each post.</summary>
    /// <param name="post">The id of the post that brings it.</param>
    /// <returns>The entry, made now or by the same post before.</returns>
    public long Add(EntryKind kind, DateTimeOffset at, string game, double? minutes, string words, IReadOnlyList<long> players, IReadOnlyList<(long Player, Observation Seen)> notes, string? post = null) =>
        database.WriteOnce(post, (connection, transaction) =>
        {
            long id = Insert(connection, transaction, kind, at, at, game, minutes, words, players);
            foreach (var (player, seen) in notes) Observations.Insert(connection, transaction, player, seen, new(EntryId: id));
            return id;
        })!.Value.Made;

    private static long Insert(SqliteConnection connection, IDbTransaction transaction, EntryKind kind, DateTimeOffset at, DateTimeOffset? endedAt, string game, double? minutes, string words, IReadOnlyList<long> players)
    {
        long id = connection.ExecuteScalar<long>("insert into entry (kind, at, ended_at, game, minutes, words) values (@kind, @at, @endedAt, @game, @minutes, @words) returning id",
            new { kind = kind.ToString().ToLowerInvariant(), at, endedAt, game, minutes, words }, transaction);
        // Somebody who was removed meanwhile is left out.
        foreach (long player in players.Distinct())
            connection.Execute("insert into entry_player (entry_id, player_id) select @id, id from player where id = @player", new { id, player }, transaction);
        return id;
    }

    /// <summary>Begins a first look; nothing where one is open already.</summary>
    /// <param name="focus">The one thing it covers; empty for all.</param>
    public void BeginLook(string? post, long player, DateTimeOffset at, string focus = "") => database.WriteOnce(post, (connection, transaction) =>
        connection.ExecuteScalar<int>("select count(*) from entry e join entry_player p on p.entry_id = e.id where e.kind = 'firstlook' and e.ended_at is null and p.player_id = @player", new { player }, transaction) > 0 ? null
            : Insert(connection, transaction, EntryKind.FirstLook, at, null, focus, null, "", [player]));

    /// <summary>Adds a note to an open entry, where <paramref name="known"/> notes of it count so far; the last one ends it.</summary>
    /// <returns>False where it has another number of notes: the same tap came twice, or somebody else wrote in between.</returns>
    public bool Note(string? post, long id, int known, long player, Observation seen, bool isLast) => database.WriteOnce(post, (connection, transaction) =>
    {
        if (connection.ExecuteScalar<int>("select count(*) from observation where entry_id = @id and void = 0 and replaced_by is null", new { id }, transaction) != known) return null;
        Observations.Insert(connection, transaction, player, seen, new(EntryId: id));
        if (isLast) connection.Execute("update entry set ended_at = @At where id = @id", new { seen.At, id }, transaction);
        return id;
    }) is { Now: true };

    /// <summary>Takes the last note of an open entry back.</summary>
    public void TakeBackLast(string? post, long id) => database.WriteOnce(post, (connection, transaction) =>
    {
        connection.Execute("""
            update observation set void = 1
            where id = (select max(id) from observation where entry_id = @id and void = 0 and replaced_by is null) and exists (select 1 from entry e where e.id = @id and e.ended_at is null)
            """, new { id }, transaction);
        return id;
    });

    /// <summary>Begins to bring in a file, or finds how far the same post has come with it.</summary>
    /// <returns>The entry, and how many notes are in; null for those where all are.</returns>
    public (long Id, int? BroughtIn) BeginImport(string post, DateTimeOffset at, IReadOnlyList<long> players)
    {
        long id = database.WriteOnce(post, (connection, transaction) =>
        {
            long made = Insert(connection, transaction, EntryKind.Import, at, null, "", null, "", players);
            connection.Execute("update entry set brought_in = 0 where id = @made", new { made }, transaction);
            return made;
        })!.Value.Made;
        using var connection = database.Connect();
        return (id, connection.QueryFirstOrDefault<int?>("select brought_in from entry where id = @id", new { id }));
    }

    /// <summary>Brings in the next notes of a file, after so many; nothing where somebody else did.</summary>
    public void BringIn(long id, int after, IReadOnlyList<(long Player, Observation Seen)> notes) => database.Write((connection, transaction) =>
    {
        if (connection.Execute("update entry set brought_in = @upTo where id = @id and brought_in = @after", new { id, after, upTo = after + notes.Count }, transaction) == 0) return 0;
        foreach (var (player, seen) in notes) Observations.Insert(connection, transaction, player, seen, new(EntryId: id));
        return notes.Count;
    });

    public void EndImport(long id, DateTimeOffset at, string words) => database.Write((connection, transaction) =>
        connection.Execute("update entry set ended_at = @at, words = @words, brought_in = null where id = @id and ended_at is null", new { id, at, words }, transaction));

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
