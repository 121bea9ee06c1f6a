using System.Collections.Immutable;

namespace Allowance.Core.Plans;

/// <summary>A sitting that is to be, as the grown-ups have it; what is played at it is for the planning.</summary>
/// <param name="Id">The day for which it was first planned: it stays the same wherever the sitting is moved.</param>
/// <param name="Kept">The setups that it is to stay with, as links; none where it is planned.</param>
/// <param name="PassedOver">Games that were swapped for others, in order.</param>
public sealed record Slot(DateOnly Id, DateOnly Day, Evening Evening, ImmutableArray<string> Kept, ImmutableArray<string> PassedOver, bool IsOut)
{
    public bool IsMoved => Day != Id;
}

/// <summary>What the grown-ups said about their weeks, read from the beginning.</summary>
public sealed class PlanBook
{
    /// <summary>A sitting is moved by less than a week: further off it is another.</summary>
    public const int Furthest = 6;

    private readonly Dictionary<DayOfWeek, List<Usually>> usual = [];
    private readonly Dictionary<DateOnly, Evening> once = [];
    private readonly Dictionary<DateOnly, DateOnly> moved = [];
    private readonly Dictionary<DateOnly, ImmutableArray<string>> kept = [];
    private readonly Dictionary<DateOnly, ImmutableArray<string>> passedOver = [];
    private readonly HashSet<DateOnly> leftOut = [];

    public PlanBook(IEnumerable<PlanEvent> events)
    {
        foreach (var e in events)
        {
            Count++;
            switch (e)
            {
                case Usually u:
                    if (!usual.TryGetValue(u.Day, out var before)) usual[u.Day] = before = [];
                    before.Add(u);
                    break;
                case ForOnce o: once[o.Sitting] = o.Evening; break;
                case MovedTo m: moved[m.Sitting] = m.Day; break;
                case KeptAs k: kept[k.Sitting] = k.Setups; break;
                case Swapped s:
                    passedOver[s.Sitting] = [.. passedOver.GetValueOrDefault(s.Sitting, []).Remove(s.Game), s.Game];
                    kept.Remove(s.Sitting);
                    break;
                case LeftOut { IsOut: true } l: leftOut.Add(l.Sitting); break;
                case LeftOut l: leftOut.Remove(l.Sitting); break;
            }
        }
    }

    /// <summary>How much was said so far; it only grows.</summary>
    public int Count { get; }

    /// <summary>It was said at least once when there is playing.</summary>
    public bool IsBegun => Count > 0;

    /// <summary>How a day of the week goes from a day on; null where nobody plays.</summary>
    public Evening? UsualOn(DayOfWeek day, DateOnly on) => usual.GetValueOrDefault(day)?.LastOrDefault(u => u.From <= on)?.Evening;

    /// <summary>The sittings of the days from one to another, both included, in their order; those that were left out too.</summary>
    public IReadOnlyList<Slot> Between(DateOnly from, DateOnly to)
    {
        var slots = new List<Slot>();
        // What lies in these days may have been moved there from outside of them.
        for (var id = from.AddDays(-Furthest); id <= to.AddDays(Furthest); id = id.AddDays(1))
            if (Find(id) is { } slot && slot.Day >= from && slot.Day <= to) slots.Add(slot);
        return [.. slots.OrderBy(s => s.Day).ThenBy(s => s.Id)];
    }

    /// <summary>Sittings of the days from one to another that were usual once and are so no more, as ones that are left out.</summary>
    public IEnumerable<Slot> GivenUpBetween(DateOnly from, DateOnly to)
    {
        for (var id = from; id <= to; id = id.AddDays(1))
            if (Find(id) is null && usual.GetValueOrDefault(id.DayOfWeek)?.FindLast(u => u.From <= id && u.Evening is not null)?.Evening is { } evening)
                yield return new(id, moved.GetValueOrDefault(id, id), evening, [], [], true);
    }

    /// <summary>A sitting by the day it was first planned for; null where there is none.</summary>
    public Slot? Find(DateOnly id) => (once.GetValueOrDefault(id) ?? UsualOn(id.DayOfWeek, id)) is { Who.IsEmpty: false } evening
        ? new(id, moved.GetValueOrDefault(id, id), evening, kept.GetValueOrDefault(id, []), passedOver.GetValueOrDefault(id, []), leftOut.Contains(id)) : null;
}
