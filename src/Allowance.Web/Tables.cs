using Allowance.Core.Games;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Sittings;
using Allowance.Store;

namespace Allowance.Web;

/// <summary>A sitting with what the store knows of it.</summary>
public sealed record OpenTable(SittingHead Head, Sitting Sitting)
{
    /// <summary>The players at the seats, in order; null where somebody was removed or is no one's.</summary>
    public IReadOnlyList<long?> Seats => Head.Seats;

    public bool IsOver => Sitting.Next.Kind == StepKind.Over;
}

/// <summary>The tables that are played at: begins them, finds them again, and makes what happens durable before it is shown.</summary>
public sealed class Tables(SittingLog log, Household household, TimeProvider clock)
{
    /// <summary>Lays a table, with what chance brings at the beginning; once for each post.</summary>
    /// <returns>The sitting.</returns>
    public long Start(Playable playable, Way way, string? post = null)
    {
        var at = clock.GetLocalNow();
        long seed = at.UtcTicks & 0x7FFF_FFFF_FFFF;
        var setup = playable.Setup;
        var sitting = new Sitting(playable, way, seed, null, household.Answers);
        // Where nobody has a turn of her own, the app calls from the beginning.
        if (way == Way.Notes && playable.Frame.AnswersAtOnce(setup)) sitting.Take(new Called(true));
        Follow(sitting);
        return log.Start(setup.Frame.Id, setup.ToLink(), way, seed, at, [.. setup.Seats.Select(PlayerAt)], [.. sitting.Events.Select(e => new NewEvent(e, at))], post);
    }

    private static long? PlayerAt(Seat seat) => long.TryParse(seat.Key, out long player) ? player : null;

    /// <summary>What chance brings by itself, and the end where it has come.</summary>
    private static void Follow(Sitting sitting)
    {
        while (sitting.DrawsItself && sitting.Next.Kind == StepKind.Chance) sitting.Take(sitting.Draw());
        if (sitting.Game is { } game && game.Next.Kind == StepKind.Over && !sitting.IsStopped) sitting.Take(new Stopped(false));
    }

    /// <summary>A table as it stands; null where there is none, or where it was played by rules of an earlier time and is only read (<see cref="Kept"/>).</summary>
    public OpenTable? Find(long id) => log.Find(id) is { } head ? Open(head, log.Events(id)) : null;

    private OpenTable? Open(SittingHead head, IReadOnlyList<SittingEvent> events)
    {
        if (head.RulesVersion != Sitting.RulesVersion || SetupOf(head) is not { } setup || Catalogue.Check(setup) is not { } playable) return null;
        var sitting = new Sitting(playable, head.Way, head.Seed, events, household.Answers);
        if (!sitting.Fits) return null;
        // Tables on which somebody joined and that was taken back, in an older version, have kept her place.
        return new(head with { Seats = [.. head.Seats.Take(sitting.Setup.Seats.Length)] }, sitting);
    }

    /// <summary>What a sitting keeps for ever, whatever has become of its game.</summary>
    public KeptSitting? Kept(long id)
    {
        if (log.Find(id) is not { } head) return null;
        var events = log.Events(id);
        var told = Sitting.Counting(events).Select(n => events[n]).OfType<Moved>().Select(m => m.Told).ToList();
        return new(head, SetupOf(head), [.. told.OfType<string>()], told.Count + events.OfType<Passed>().Count(), Open(head, events) is not null);
    }

    /// <summary>The setup a sitting began with, with the people as they are now, read without a check; null where it can no longer be read.</summary>
    public Setup? SetupOf(SittingHead head) =>
        SetupFile.ReadLink(Link(head.SetupLink), Catalogue.Data, key => household.SeatOf(key) ?? (long.TryParse(key, out _) ? Seat.Child("", null, key) : null)).Setup;

    private static IEnumerable<KeyValuePair<string, string>> Link(string text) =>
        Microsoft.AspNetCore.WebUtilities.QueryHelpers.ParseQuery(text).Select(p => KeyValuePair.Create(p.Key, p.Value.ToString()));

    /// <summary>Takes what somebody did, and what chance brings after it on the screen.</summary>
    /// <returns>The table as it then stands; null where the post was taken already or the table has moved on, and nothing was changed.</returns>
    public OpenTable? Append(OpenTable table, string? post, IReadOnlyList<SittingEvent> events)
    {
        var sitting = table.Sitting;
        int known = sitting.EventCount;
        foreach (var e in events) sitting.Take(e);
        Follow(sitting);
        var at = clock.GetLocalNow();
        var added = sitting.Events.Skip(known).Select(e => new NewEvent(e, at, PlayerOf(table, e))).ToList();
        if (added.Count > 0 && !log.Append(table.Head.Id, known, post, added, table.Seats, sitting.Setup.Seats.Length)) return null;
        return table with { Head = table.Head with { EndedAt = sitting.IsStopped ? table.Head.EndedAt ?? at : null, Seats = [.. sitting.Setup.Seats.Select((s, i) => i < table.Seats.Count ? table.Seats[i] : PlayerAt(s))] } };
    }

    /// <summary>A table whose log ends before what chance brings by itself is gone on with.</summary>
    public OpenTable GoOn(OpenTable table) => table.Sitting is { DrawsItself: true, Next.Kind: StepKind.Chance } ? Append(table, null, []) ?? Find(table.Head.Id) ?? table : table;

    public bool WasTaken(string post) => log.WasTaken(post);

    private static long? PlayerOf(OpenTable table, SittingEvent e) => e switch
    {
        Noted noted => table.Seats.ElementAtOrDefault(noted.Seat),
        Closed closed => table.Seats.ElementAtOrDefault(closed.Seat),
        _ => null,
    };

    /// <summary>The last setup of a frame that a player sat in, and her seat.</summary>
    public (Setup Setup, int Seat)? LastPlayed(long playerId, string frame)
    {
        return log.LatestOf(playerId, frame) is { } head ? SatAt(head, playerId) : null;
    }

    /// <summary>What a player sat at, and her seat; null where it can no longer be read.</summary>
    public (Setup Setup, int Seat)? SatAt(SittingHead head, long playerId)
    {
        int seat = head.Seats.ToList().IndexOf(playerId);
        return (Find(head.Id)?.Sitting.Setup ?? SetupOf(head)) is { } setup && seat >= 0 && seat < setup.Seats.Length ? (setup, seat) : null;
    }

    /// <summary>The shortest time in which the same setup was played to its end before, by a player; null where it never was.</summary>
    public TimeSpan? Quickest(OpenTable table, long playerId) => log.Quickest(playerId, table.Head.SetupLink, table.Head.Id);
}

/// <summary>What stands in the log of a sitting for ever: with whom and how it was begun, and what was told at each move.</summary>
/// <param name="Setup">Null where the game is not known any more, or its setup cannot be read.</param>
/// <param name="Told">Of the moves that count; those of a log from before this was kept have none.</param>
/// <param name="IsReplayed">Today's rules play it as it was played; else it is only read.</param>
public sealed record KeptSitting(SittingHead Head, Setup? Setup, IReadOnlyList<string> Told, int Turns, bool IsReplayed)
{
    public bool GoesOn => IsReplayed && Head.EndedAt is null;
}
