using Allowance.Core.Games;
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
    public long Start(Setup setup, Way way, string? post = null)
    {
        var at = clock.GetLocalNow();
        long seed = at.UtcTicks & 0x7FFF_FFFF_FFFF;
        var sitting = new Sitting(setup, way, seed, null, household.Answers(setup));
        Follow(sitting);
        return log.Start(setup.Frame.Id, setup.ToLink(), way, seed, at, [.. setup.Seats.Select(s => long.TryParse(s.Key, out long player) ? player : (long?)null)], [.. sitting.Events.Select(e => new NewEvent(e, at))], post);
    }

    /// <summary>What chance brings by itself, and the end where it has come.</summary>
    private static void Follow(Sitting sitting)
    {
        while (sitting.DrawsItself && sitting.Next.Kind == StepKind.Chance) sitting.Take(sitting.Draw());
        if (sitting.Game is { } game && game.Next.Kind == StepKind.Over && !sitting.IsStopped) sitting.Take(new Stopped(false));
    }

    public OpenTable? Find(long id)
    {
        if (log.Find(id) is not { } head || SetupOf(head) is not { } setup) return null;
        var sitting = new Sitting(setup, head.Way, head.Seed, log.Events(id), household.Answers(setup));
        // Tables on which somebody joined and that was taken back, in an older version, have kept her place.
        return new(head with { Seats = [.. head.Seats.Take(sitting.Setup.Seats.Length)] }, sitting);
    }

    /// <summary>The setup a sitting began with, with the people as they are now; null where it can no longer be read.</summary>
    public Setup? SetupOf(SittingHead head)
    {
        var reading = Catalogue.ReadLink(Link(head.SetupLink), key => household.SeatOf(key) ?? (long.TryParse(key, out _) ? Seat.Child("", null, key) : null));
        return reading.Problems.Count == 0 ? reading.Setup : null;
    }

    private static IEnumerable<KeyValuePair<string, string>> Link(string text) =>
        Microsoft.AspNetCore.WebUtilities.QueryHelpers.ParseQuery(text).Select(p => KeyValuePair.Create(p.Key, p.Value.ToString()));

    /// <summary>Takes what somebody did, and what chance brings after it on the screen.</summary>
    /// <returns>False where the post was taken already or the table has moved on; then nothing was changed.</returns>
    public bool Append(OpenTable table, string? post, IReadOnlyList<SittingEvent> events)
    {
        var sitting = table.Sitting;
        int known = sitting.EventCount;
        foreach (var e in events) sitting.Take(e);
        Follow(sitting);
        var at = clock.GetLocalNow();
        var added = sitting.Events.Skip(known).Select(e => new NewEvent(e, at, PlayerOf(table, e))).ToList();
        return added.Count == 0 || log.Append(table.Head.Id, known, post, added, table.Seats, sitting.Setup.Seats.Length);
    }

    public bool WasTaken(string post) => log.WasTaken(post);

    private static long? PlayerOf(OpenTable table, SittingEvent e) => e switch
    {
        Noted noted => table.Seats.ElementAtOrDefault(noted.Seat),
        Closed closed => table.Seats.ElementAtOrDefault(closed.Seat),
        _ => null,
    };

    private const int LookedBack = 40;

    /// <summary>The last setup of a frame that a player sat in, and her seat.</summary>
    public (Setup Setup, int Seat)? LastPlayed(long playerId, string frame)
    {
        foreach (var head in log.Latest(LookedBack, 0, playerId).Where(h => h.Game == frame).Take(1))
        {
            int seat = head.Seats.ToList().IndexOf(playerId);
            if (Find(head.Id)?.Sitting.Setup is { } setup && seat >= 0 && seat < setup.Seats.Length) return (setup, seat);
        }
        return null;
    }

    /// <summary>The shortest time in which the same setup was played to its end before, by a player; null where it never was.</summary>
    public TimeSpan? Quickest(OpenTable table, long playerId) =>
        log.Latest(200, 0, playerId).Where(h => h.Id != table.Head.Id && h.SetupLink == table.Head.SetupLink && h.EndedAt is not null && !log.Events(h.Id).OfType<Stopped>().Any(s => s.Early))
            .Select(h => (TimeSpan?)(h.EndedAt!.Value - h.StartedAt)).Min();
}
