using System.Collections.Concurrent;
using Allowance.Core.Asks;
using Allowance.Core.Learner;
using Allowance.Store;
using Microsoft.Data.Sqlite;

namespace Allowance.Web;

/// <summary>How far a log goes: so many notes that count, the sum of their ids, and the last of them.</summary>
public readonly record struct LogEnd(int Notes, long Sum, DateOnly Day, long LastId)
{
    public LogEnd And(StoredObservation note) => new(Notes + 1, Sum + note.Id, note.Observation.Day, note.Id);
}

/// <summary>What was noted of a child, and what is believed of her by it. The notes stay in the file; what is asked of them is looked up there.</summary>
/// <param name="Model">What is believed after all of them.</param>
public sealed class ChildLog(ChildLogs logs, Observations observations, Player child, LogEnd end, ChildModel model)
{
    private ChildModel? beforeLastDay;

    public int Count => end.Notes;

    public DateOnly? LastDay => end.Notes == 0 ? null : end.Day;

    public ChildModel Model => model;

    internal LogEnd End => end;

    /// <summary>What was believed at the end of a day.</summary>
    public ChildModel At(DateOnly day) => LastDay is not { } last || last <= day ? Model : logs.Replay(child, day).Model;

    /// <summary>What was believed before the last day on which something was noted; worked out once. Null where that was the first day.</summary>
    public ChildModel? BeforeLastDay() =>
        LastDay is not { } last || observations.CountUpTo(child.Id, last.AddDays(-1)) == 0 ? null : beforeLastDay ??= At(last.AddDays(-1));

    /// <summary>How many notes count up to a day.</summary>
    public int CountUpTo(DateOnly day) => LastDay <= day ? Count : observations.CountUpTo(child.Id, day);

    /// <summary>The newest notes, oldest first.</summary>
    public IReadOnlyList<Observation> Latest(int most) => [.. observations.Latest(child.Id, most).Select(n => n.Observation)];

    /// <summary>How often each ask was noted on each day, with which outcome, where somebody watched how.</summary>
    public IReadOnlyList<(DateOnly Day, AskCount Count)> WatchedByDay(DateOnly from, DateOnly to) => observations.WatchedByDay(child.Id, from, to);

    /// <summary>How often each ask was noted up to a day, and with which outcomes.</summary>
    public IReadOnlyList<AskCount> Counts(DateOnly upTo) => observations.Counts(child.Id, LastDay <= upTo ? null : upTo);

    /// <summary>The newest notes of some asks up to a day, newest first.</summary>
    public IReadOnlyList<StoredObservation> Newest(IEnumerable<Ask> asks, DateOnly upTo, int most) => observations.Newest(child.Id, asks, upTo, most);

    /// <summary>All glimpses up to a day, the oldest first.</summary>
    public IReadOnlyList<Glance> Glimpses(DateOnly upTo) => [.. observations.Glimpses(child.Id, upTo).Select(g => Glance.Of(g.Ask, g.Seconds, g.Right))];
}

/// <summary>The children's logs: what is believed is kept in memory, brought up to date when something was noted, and kept in the file from time to time.</summary>
public sealed class ChildLogs(Observations observations, Estimates estimates)
{
    /// <summary>After so many notes an estimate is worth keeping.</summary>
    private const int WorthKeeping = 200;

    private readonly ConcurrentDictionary<long, (LogState State, string? Born, ChildLog Log)> kept = new();

    public ChildLog Of(Player child)
    {
        var state = observations.State(child.Id);
        if (kept.TryGetValue(child.Id, out var had) && had.Born == child.BirthMonth)
        {
            if (had.State == state) return had.Log;
            if (had.State.Rewritten == state.Rewritten && With(child, had.Log, state.Version - had.State.Version) is { } newer) return Keep(newer);
        }
        var (end, model) = Replay(child, DateOnly.MaxValue);
        return Keep(new(this, observations, child, end, model));

        ChildLog Keep(ChildLog log)
        {
            kept[child.Id] = (state, child.BirthMonth, log);
            return log;
        }
    }

    /// <summary>What is believed of a child of her age, on the day of her first note, of whom nothing was seen.</summary>
    public static ChildModel Fresh(Player child, DateOnly first) => new(child.AgeOn(first) ?? LearnerAnswers.AgeWhereUnknown);

    /// <summary>The log with newer notes; null where some of them are of an earlier day.</summary>
    /// <param name="added">How many notes were added since.</param>
    private ChildLog? With(Player child, ChildLog had, long added)
    {
        if (had.Count == 0) return null;
        var newer = observations.After(child.Id, had.End.Day, had.End.LastId, DateOnly.MaxValue).ToList();
        if (newer.Count != added) return null;
        var model = had.Model.Copy();
        var end = had.End;
        foreach (var note in newer) end = Take(model, end, note);
        return new(this, observations, child, end, model);
    }

    private static LogEnd Take(ChildModel model, LogEnd end, StoredObservation note)
    {
        model.Observe(note.Observation);
        return end.And(note);
    }

    /// <summary>What is believed at the end of a day: from the newest estimate that was kept and still holds, with the notes since.</summary>
    internal (LogEnd End, ChildModel Model) Replay(Player child, DateOnly upTo)
    {
        string mark = $"{ChildModel.Mark} {child.BirthMonth}";
        var (end, model) = Begin(child, mark, upTo);
        var from = end;
        var last = observations.LastDay(child.Id);
        foreach (var note in observations.After(child.Id, end.Day, end.LastId, upTo))
        {
            model ??= Fresh(child, note.Observation.Day);
            var day = note.Observation.Day;
            bool begins = end.Notes > 0 && day != end.Day;
            // At the end of a month, and before the last day, that of the day before is asked for.
            if (begins && end.Notes - from.Notes >= WorthKeeping && (day == last || (day.Year, day.Month) != (end.Day.Year, end.Day.Month))) from = Keep(child, mark, end, model);
            end = Take(model, end, note);
        }
        if (model is not null && end.Day == last && end.Notes - from.Notes >= WorthKeeping) Keep(child, mark, end, model);
        return (end, model ?? Fresh(child, upTo == DateOnly.MaxValue ? DateOnly.MinValue : upTo));
    }

    /// <summary>The newest estimate that holds, up to a day.</summary>
    private (LogEnd End, ChildModel? Model) Begin(Player child, string mark, DateOnly upTo)
    {
        foreach (var at in estimates.All(child.Id).Where(e => e.Mark == mark && e.Day <= upTo))
            // One that has had more notes on its last day holds no longer: a day is gone through anew when it is over.
            if (observations.UpTo(child.Id, at.Day, long.MaxValue) == (at.Notes, at.Sum) && estimates.Body(child.Id, at.Notes) is { } body && ChildModel.FromBytes(body) is { } model)
                return (new(at.Notes, at.Sum, at.Day, at.LastId), model);
        return default;
    }

    private LogEnd Keep(Player child, string mark, LogEnd end, ChildModel model)
    {
        try
        {
            estimates.Keep(child.Id, new(end.Notes, end.Day, end.LastId, end.Sum, mark), model.ToBytes());
        }
        catch (SqliteException)
        {
            // It is only kept to be quicker; whoever looks at a page need not know that it could not be.
        }
        return end;
    }
}
