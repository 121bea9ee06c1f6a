using Allowance.Core.Plans;
using Ical.Net;
using Ical.Net.CalendarComponents;
using Ical.Net.DataTypes;
using Ical.Net.Serialization;

namespace Allowance.Web.Files;

/// <summary>
/// A week as an iCalendar file (RFC 5545). An event is known by its sitting, wherever that is moved, so that bringing the file in
/// again changes what is there and doubles nothing; one that was left out is cancelled. Times are those of the kitchen clock.
/// </summary>
public static class WeekCalendar
{
    /// <param name="calendar">The household's own mark, which stays the same.</param>
    /// <param name="changes">How much has changed so far; it only grows.</param>
    /// <param name="names">The names of people, by their keys.</param>
    public static string Write(IEnumerable<PlannedSitting> sittings, string calendar, DateTimeOffset now, int changes, Func<IEnumerable<string>, string> names)
    {
        var week = new Ical.Net.Calendar { ProductId = "-//Allowance//Week//EN" };
        foreach (var sitting in sittings) week.Events.Add(EventOf(sitting));
        return new CalendarSerializer().SerializeToString(week)!;

        CalendarEvent EventOf(PlannedSitting sitting)
        {
            var (slot, evening) = (sitting.Slot, sitting.Slot.Evening);
            var made = new CalendarEvent
            {
                Uid = $"{slot.Id:yyyyMMdd}@{calendar}.allowance",
                DtStamp = new CalDateTime(now.UtcDateTime),
                Sequence = changes,
                Status = slot.IsOut ? EventStatus.Cancelled : EventStatus.Confirmed,
                Summary = sitting.Games.IsEmpty ? $"Play: {names(evening.Who)}" : $"{string.Join(" and ", sitting.Games.Select(g => g.Setup.Frame.Name).Distinct())}: {names(evening.Who)}",
                Description = string.Join("\n", sitting.Games.SelectMany(g => g.Children.Where(c => c.Aim is not null).Select(c => $"{names([c.Seat.Key])}: {c.Aim!.Why}"))),
            };
            if (evening.At is { } at)
            {
                made.DtStart = new CalDateTime(slot.Day.ToDateTime(at));
                made.Duration = Duration.FromMinutes(evening.Planned);
            }
            else made.DtStart = new CalDateTime(slot.Day);
            return made;
        }
    }
}
