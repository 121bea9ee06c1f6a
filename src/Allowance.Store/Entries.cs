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

/// <summary>What the logbook is searched for; null where anything will do.</summary>
/// <param name="Asks">Notes of these asks: how a skill is searched for.</param>
/// <param name="Words">Text in a note in words, or in the name of a game.</param>
public sealed record LogSearch(long? Player = null, string? Game = null, DateOnly? From = null, DateOnly? To = null, IReadOnlyList<string>? Asks = null, string? Words = null);

/// <summary>A line of the logbook: a sitting (<paramref name="Kind"/> null) or another entry.</summary>
public sealed record LogLine(EntryKind? Kind, long Id, DateTimeOffset At, bool Ended, string Game, string Way, double? Minutes, string Words, IReadOnlyList<long?> Players, int Notes);

/// <summary>The logbook as a whole: sittings and other entries together, newest first.</summary>
public sealed class Logbook(Database database)
{
    private sealed class Row
    {
        public string Kind { get; init; } = "";
        public long Id { get; init; }
        public DateTimeOffset At { get; init; }
        public long Ended { get; init; }
        public string Game { get; init; } = "";
        public string Way { get; init; } = "";
        public double? Minutes { get; init; }
        public string Words { get; init; } = "";
    }

    /// <summary>The asks that were ever noted.</summary>
    public IReadOnlyList<string> Asked()
    {
        using var connection = database.Connect();
        return [.. connection.Query<string>("select ask from asked")];
    }

    /// <summary>Names of games that were typed in and are no frames.</summary>
    public IReadOnlyList<string> Games()
    {
        using var connection = database.Connect();
        return [.. connection.Query<string>("select distinct game from entry where game <> '' union select distinct game from sitting order by 1")];
    }

    public IReadOnlyList<LogLine> Search(LogSearch search, int count, int skip)
    {
        using var connection = database.Connect();
        var rows = connection.Query<Row>("""
            select 'sitting' as kind, s.id, s.started_at as at, s.ended_at is not null as ended, s.game, s.way, null as minutes, '' as words from sitting s
            where (@player is null or exists (select 1 from sitting_seat p where p.sitting_id = s.id and p.player_id = @player))
              and (@game is null or s.game = @game)
              and (@from is null or s.started_at >= @from) and (@upTo is null or s.started_at < @upTo)
              and (@asks is null or s.id in (select o.sitting_id from observation o where o.ask in (select value from json_each(@asks)) and (@player is null or o.player_id = @player)))
              and @like is null
            union all
            select e.kind, e.id, e.at, e.ended_at is not null, e.game, '', e.minutes, e.words from entry e
            where (@player is null or exists (select 1 from entry_player p where p.entry_id = e.id and p.player_id = @player))
              and (@game is null or e.game = @game)
              and (@from is null or e.at >= @from) and (@upTo is null or e.at < @upTo)
              and (@asks is null or e.id in (select o.entry_id from observation o where o.ask in (select value from json_each(@asks)) and (@player is null or o.player_id = @player)))
              and (@like is null or e.words like @like escape '\' or e.game like @like escape '\')
            order by 3 desc, 2 desc limit @count offset @skip
            """,
            new
            {
                player = search.Player, game = search.Game, from = search.From is { } f ? $"{f:yyyy-MM-dd}" : null, upTo = search.To is { } t ? $"{t.AddDays(1):yyyy-MM-dd}" : null,
                asks = search.Asks is null ? null : System.Text.Json.JsonSerializer.Serialize(search.Asks),
                like = search.Words is null ? null : "%" + search.Words.Replace(@"\", @"\\").Replace("%", @"\%").Replace("_", @"\_") + "%", count, skip,
            }).ToList();
        return [.. rows.Select(r => Line(connection, r))];
    }

    private static LogLine Line(SqliteConnection connection, Row row)
    {
        bool sitting = row.Kind == "sitting";
        var players = sitting
            ? connection.Query<long?>("select player_id from sitting_seat where sitting_id = @Id order by seat", new { row.Id })
            : connection.Query<long?>("select player_id from entry_player where entry_id = @Id order by player_id", new { row.Id });
        int notes = sitting
            ? connection.ExecuteScalar<int>("select count(*) from observation where sitting_id = @Id and void = 0 and replaced_by is null", new { row.Id })
            : connection.ExecuteScalar<int>("select count(*) from observation where entry_id = @Id and void = 0 and replaced_by is null", new { row.Id });
        return new(sitting ? null : Enum.Parse<EntryKind>(row.Kind, true), row.Id, row.At, row.Ended != 0, row.Game, row.Way, row.Minutes, row.Words, [.. players], notes);
    }
}
