using System.Collections.Concurrent;
using Allowance.Core.Asks;
using Allowance.Core.Learner;
using Allowance.Store;

namespace Allowance.Web;

/// <summary>What was noted of a child, oldest first, what is believed of her by it, and her notes by ask.</summary>
public sealed class ChildLog
{
    /// <summary>Every so many notes a copy of the beliefs is kept, so that an earlier day need not be worked out from the beginning.</summary>
    private const int Between = 2_000;

    private readonly List<StoredObservation> notes;
    private readonly List<(int Notes, ChildModel Model)> copies;
    private readonly Dictionary<Ask, List<int>> byAsk = [];

    private readonly Func<ChildModel> fresh;
    private ChildModel? beforeLastDay;

    private ChildLog(List<StoredObservation> notes, ChildModel model, List<(int, ChildModel)> copies, Func<ChildModel> fresh)
    {
        (this.notes, Model, this.copies, this.fresh) = (notes, model, copies, fresh);
        for (int i = 0; i < notes.Count; i++) Index(i);
    }

    public IReadOnlyList<StoredObservation> Notes => notes;

    public ChildModel Model { get; private set; }

    public DateOnly? LastDay => notes.Count == 0 ? null : notes[^1].Observation.Day;

    public long LastId => notes.Count == 0 ? 0 : notes.Max(n => n.Id);

    public IEnumerable<Ask> Asks => byAsk.Keys;

    /// <summary>Her notes of an ask up to a day, oldest first.</summary>
    public IEnumerable<StoredObservation> Of(Ask ask, DateOnly upTo) =>
        byAsk.TryGetValue(ask, out var at) ? at.Select(i => notes[i]).TakeWhile(n => n.Observation.Day <= upTo) : [];

    /// <summary>Her notes up to a day.</summary>
    public IReadOnlyList<StoredObservation> UpTo(DateOnly day) => LastDay <= day ? notes : notes[..CountUpTo(day)];

    /// <param name="fresh">What is believed of a child of her age of whom nothing was seen.</param>
    /// <param name="kept">The beliefs after the first <paramref name="from"/> notes, where they were kept.</param>
    public static ChildLog Of(IReadOnlyList<StoredObservation> notes, Func<ChildModel> fresh, ChildModel? kept = null, int from = 0)
    {
        var start = kept ?? fresh();
        var log = new ChildLog([.. notes], start, [(from, start.Copy())], fresh);
        log.Take(from);
        return log;
    }

    /// <summary>The log with newer notes, none of an earlier day than the last.</summary>
    public ChildLog With(IReadOnlyList<StoredObservation> newer)
    {
        var log = new ChildLog([.. notes, .. newer], Model.Copy(), [.. copies], fresh);
        log.Take(notes.Count);
        return log;
    }

    /// <summary>What was believed at the end of a day.</summary>
    public ChildModel At(DateOnly day)
    {
        if (LastDay is null || LastDay <= day) return Model;
        int count = CountUpTo(day);
        var (had, copy) = copies.LastOrDefault(c => c.Notes <= count);
        var model = copy?.Copy() ?? fresh();
        for (int i = had; i < count; i++) model.Observe(notes[i].Observation);
        return model;
    }

    /// <summary>What was believed before the last day on which something was noted; worked out once. Null where that was the first day.</summary>
    public ChildModel? BeforeLastDay()
    {
        if (LastDay is not { } last || notes[0].Observation.Day == last) return null;
        return beforeLastDay ??= At(last.AddDays(-1));
    }

    private int CountUpTo(DateOnly day)
    {
        int low = 0, high = notes.Count;
        while (low < high)
        {
            int middle = (low + high) / 2;
            if (notes[middle].Observation.Day <= day) low = middle + 1;
            else high = middle;
        }
        return low;
    }

    private void Take(int from)
    {
        for (int i = from; i < notes.Count; i++)
        {
            Model.Observe(notes[i].Observation);
            if ((i + 1) % Between == 0) copies.Add((i + 1, Model.Copy()));
        }
    }

    private void Index(int i)
    {
        var ask = notes[i].Observation.Ask;
        if (!byAsk.TryGetValue(ask, out var at)) byAsk[ask] = at = [];
        at.Add(i);
    }
}

/// <summary>The children's logs in memory: read when first needed, and brought up to date when something was noted.</summary>
public sealed class ChildLogs(Observations observations, Estimates estimates)
{
    /// <summary>From so many notes on, an estimate is worth keeping over a restart.</summary>
    private const int WorthKeeping = 1_000;

    private readonly ConcurrentDictionary<long, (LogState State, string? Born, ChildLog Log)> kept = new();

    public ChildLog Of(Player child)
    {
        var state = observations.State(child.Id);
        if (kept.TryGetValue(child.Id, out var had) && had.Born == child.BirthMonth)
        {
            if (had.State == state) return had.Log;
            if (had.State.Rewritten == state.Rewritten)
            {
                var newer = observations.Of(child.Id, had.Log.LastId);
                if (newer.Count == 0 || had.Log.LastDay is null || newer[0].Observation.Day >= had.Log.LastDay) return Keep(had.Log.With(newer));
            }
        }
        return Keep(Read(child, state));

        ChildLog Keep(ChildLog log)
        {
            kept[child.Id] = (state, child.BirthMonth, log);
            return log;
        }
    }

    /// <summary>What is believed of a child of her age, on the day of her first note, of whom nothing was seen.</summary>
    public static ChildModel Fresh(Player child, DateOnly first) => new(child.AgeOn(first) ?? LearnerAnswers.AgeWhereUnknown);

    private ChildLog Read(Player child, LogState state)
    {
        var notes = observations.Of(child.Id);
        string mark = $"{ChildModel.Mark} {child.BirthMonth}";
        int from = 0;
        ChildModel? model = null;
        if (notes.Count >= WorthKeeping && estimates.Find(child.Id) is { } estimate && estimate.Mark == mark && estimate.Rewritten == state.Rewritten)
        {
            // What it has taken in must be the log's beginning; a note of an earlier day may have come since.
            from = notes.Count(n => n.Id <= estimate.LastId);
            if (notes.Take(from).All(n => n.Id <= estimate.LastId)) model = ChildModel.FromBytes(estimate.Body);
        }
        if (model is null) from = 0;
        var log = ChildLog.Of(notes, () => Fresh(child, notes.Count > 0 ? notes[0].Observation.Day : DateOnly.MinValue), model, from);
        if (notes.Count - from >= WorthKeeping) estimates.Keep(child.Id, new(mark, state.Rewritten, log.LastId, log.Model.ToBytes()), notes.Count);
        return log;
    }
}
