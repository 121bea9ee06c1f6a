using System.Text.Json;
using Dapper;

namespace Allowance.Store;

/// <summary>What the logbook is searched for; null where anything will do.</summary>
/// <param name="Asks">Notes of these asks: how a skill is searched for.</param>
/// <param name="Words">Text in a note in words, or in the name of a game.</param>
public sealed record LogSearch(long? Player = null, string? Game = null, DateOnly? From = null, DateOnly? To = null, IReadOnlyList<string>? Asks = null, string? Words = null);

/// <summary>A line of the logbook: a sitting (<paramref name="Kind"/> null) or another entry.</summary>
public sealed record LogLine(EntryKind? Kind, long Id, DateTimeOffset At, bool Ended, string Game, string Way, double? Minutes, string Words, IReadOnlyList<long?> Players, int Notes);

/// <summary>The logbook as a whole: sittings and other entries together, newest first.</summary>
public sealed class Logbook(Database database)
{
    private const int ManyNotes = 3_000;

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
        public string Players { get; init; } = "[]";
        public long Notes { get; init; }

        public LogLine ToLine() => new(Kind == "sitting" ? null : Enum.Parse<EntryKind>(Kind, true), Id, At, Ended != 0, Game, Way, Minutes, Words, JsonSerializer.Deserialize<long?[]>(Players)!, (int)Notes);
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
        return [.. connection.Query<string>("select distinct game from entry where game <> '' and kind not in ('firstlook', 'words') union select distinct game from sitting order by 1")];
    }

    public IReadOnlyList<LogLine> Search(LogSearch search, int count, int skip)
    {
        using var connection = database.Connect();
        string? asks = search.Asks is null ? null : System.Text.Json.JsonSerializer.Serialize(search.Asks);
        // What is met often is soon found by walking the newest lines; what is met seldom by its notes.
        bool often = asks is not null && connection.ExecuteScalar<int>(
            "select count(*) from (select 1 from observation where ask in (select value from json_each(@asks)) limit @many)", new { asks, many = ManyNotes }) == ManyNotes;
        return [.. connection.Query<Row>("""
            select line.*,
              (select json_group_array(player_id) from (select player_id from sitting_seat where line.kind = 'sitting' and sitting_id = line.id
                union all select player_id from entry_player where line.kind <> 'sitting' and entry_id = line.id)) as players,
              (select count(*) from observation o where o.void = 0 and o.replaced_by is null
                and (line.kind = 'sitting' and o.sitting_id = line.id or line.kind <> 'sitting' and o.entry_id = line.id)) as notes
            from (select 'sitting' as kind, s.id, s.started_at as at, s.ended_at is not null as ended, s.game, s.way, null as minutes, '' as words from sitting s
            where (@player is null or exists (select 1 from sitting_seat p where p.sitting_id = s.id and p.player_id = @player))
              and (@game is null or s.game = @game)
              and (@from is null or s.started_at >= @from) and (@upTo is null or s.started_at < @upTo)
              and (@asks is null
                or @often and exists (select 1 from observation o where o.sitting_id = s.id and o.ask in (select value from json_each(@asks)) and (@player is null or o.player_id = @player))
                or not @often and s.id in (select o.sitting_id from observation o where o.ask in (select value from json_each(@asks)) and (@player is null or o.player_id = @player)))
              and @like is null
            union all
            select e.kind, e.id, e.at, e.ended_at is not null, e.game, '', e.minutes, e.words from entry e
            where (@player is null or exists (select 1 from entry_player p where p.entry_id = e.id and p.player_id = @player))
              and (@game is null or e.game = @game)
              and (@from is null or e.at >= @from) and (@upTo is null or e.at < @upTo)
              and (@asks is null
                or @often and exists (select 1 from observation o where o.entry_id = e.id and o.ask in (select value from json_each(@asks)) and (@player is null or o.player_id = @player))
                or not @often and e.id in (select o.entry_id from observation o where o.ask in (select value from json_each(@asks)) and (@player is null or o.player_id = @player)))
              and (@like is null or e.words like @like escape '\' or e.game like @like escape '\')
            order by 3 desc, 2 desc limit @count offset @skip) line
            """,
            new
            {
                player = search.Player, game = search.Game, from = search.From is { } f ? $"{f:yyyy-MM-dd}" : null, // What is noted on a day is written as the day, a T and the time.
                upTo = search.To is { } t ? $"{t:yyyy-MM-dd}U" : null,
                asks, often,
                like = search.Words is null ? null : "%" + search.Words.Replace(@"\", @"\\").Replace("%", @"\%").Replace("_", @"\_") + "%", count, skip,
            }).Select(r => r.ToLine())];
    }
}
