using System.Collections.Concurrent;
using Allowance.Core.Games;
using Allowance.Core.Materials;
using Allowance.Core.Plans;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Store;

namespace Allowance.Web;

/// <summary>A day of a week: what was played, and what is planned.</summary>
/// <param name="Played">The sittings that were begun on it, oldest first.</param>
public sealed record WeekDay(DateOnly Day, IReadOnlyList<SittingHead> Played, IReadOnlyList<PlannedSitting> Planned);

/// <summary>Something to be made beforehand, with the games it is for.</summary>
public sealed record ToMake(Fetched Thing, IReadOnlyList<string> Games);

/// <summary>A week as it stands: days that were, with what was played, and days to come, with what is planned.</summary>
public sealed record Week(IReadOnlyList<WeekDay> Days, Plan Plan)
{
    public DateOnly First => Days[0].Day;

    public DateOnly Last => Days[^1].Day;
}

/// <summary>
/// The weeks of the household. What is planned is worked out from what the grown-ups said, from what is believed and from what was
/// played; it is kept until one of them changes.
/// </summary>
public sealed class Planning(Household household, Advising advising, Offering offering, PlanLog plans, SittingLog log)
{
    /// <summary>So many weeks are planned ahead; further off too much will have changed.</summary>
    public const int WeeksAhead = 2;

    private const int MostKept = 30;

    private readonly ConcurrentDictionary<string, Plan> kept = new();

    public PlanBook Book => plans.Book;

    /// <summary>All games have been looked through, so that there is something to plan with.</summary>
    public bool IsReady => offering.Book.IsWhole;

    /// <summary>The first day of the week in which a day lies, as the household's weeks begin.</summary>
    public DateOnly FirstOf(DateOnly day) => day.AddDays(-(((int)day.DayOfWeek - (int)household.Calendar.FirstDay + 7) % 7));

    /// <summary>The first day of the last week that is planned.</summary>
    public DateOnly Furthest => FirstOf(household.Today).AddDays(7 * WeeksAhead);

    /// <summary>The week that begins on a day.</summary>
    public Week Of(DateOnly first)
    {
        var last = first.AddDays(6);
        var played = log.BegunBetween(first, last).ToLookup(h => DateOnly.FromDateTime(h.StartedAt.DateTime));
        // Weeks to come follow on what is planned before them.
        var plan = last < household.Today ? new([]) : PlanTo(last);
        var planned = plan.Sittings.Where(s => s.Slot.Day >= first).ToLookup(s => s.Slot.Day);
        return new([.. Enumerable.Range(0, 7).Select(n => first.AddDays(n)).Select(day => new WeekDay(day, [.. played[day]], [.. planned[day]]))], new([.. planned.SelectMany(p => p)]));
    }

    /// <summary>The games that are planned for today and were not played yet.</summary>
    public IEnumerable<PlannedGame> ForToday() => IsReady && Book.IsBegun ? PlanTo(household.Today).Sittings.SelectMany(s => s.Games) : [];

    /// <summary>What is planned from today to a day.</summary>
    private Plan PlanTo(DateOnly last)
    {
        var children = household.Children;
        var here = children.Select(advising.Here).ToList();
        string key = $"{last:O} {plans.Book.Count} {string.Join('|', children.Select((c, i) => advising.Key(here[i], c)))} {string.Join(',', household.People.Select(p => p.Id))}";
        if (kept.TryGetValue(key, out var known)) return known;
        if (kept.Count > MostKept) kept.Clear();
        var grownUps = household.People.Where(p => p.Kind == PlayerKind.GrownUp).Select(household.SeatOf).ToList();
        var slots = plans.Book.Between(household.Today, last).Where(s => !IsDone(s)).ToList();
        return kept[key] = Planner.Of(slots, here, grownUps, advising.On(null), offering.Book, ReadKept);
    }

    /// <summary>What was really played replaces what was planned: all who were to play today have played.</summary>
    private bool IsDone(Slot slot)
    {
        if (slot.Day != household.Today) return false;
        var played = log.BegunBetween(slot.Day, slot.Day).SelectMany(h => h.Seats).OfType<long>().Select(id => id.ToString()).ToHashSet();
        var children = household.Children.Select(c => c.Id.ToString()).Where(slot.Evening.Who.Contains).ToList();
        return children.Count > 0 && children.TrueForAll(played.Contains);
    }

    private Playable? ReadKept(string link) =>
        SetupFile.ReadLink(Microsoft.AspNetCore.WebUtilities.QueryHelpers.ParseQuery(link).Select(p => KeyValuePair.Create(p.Key, p.Value.ToString())), Catalogue.Data, household.SeatOf).Setup is { } setup ? Catalogue.Check(setup) : null;

    /// <summary>A planned sitting; null where there is none with that name in the days that are planned.</summary>
    public PlannedSitting? Find(DateOnly id) => plans.Book.Find(id) is { } slot && slot.Day >= household.Today && slot.Day <= Furthest.AddDays(6) ? Of(FirstOf(slot.Day)).Plan.Sittings.FirstOrDefault(s => s.Slot.Id == id) : null;

    /// <summary>What a calendar should know of a week: its sittings from today on, those that were moved out of it, and those that were given up.</summary>
    public IReadOnlyList<PlannedSitting> ForCalendar(Week week)
    {
        var from = week.First > household.Today ? week.First : household.Today;
        var moved = plans.Book.Between(from.AddDays(-PlanBook.Furthest), week.Last.AddDays(PlanBook.Furthest)).Where(s => s.Id >= from && s.Id <= week.Last && (s.Day < week.First || s.Day > week.Last));
        return [.. week.Plan.Sittings, .. moved.Select(s => Find(s.Id) ?? new(s, [])), .. plans.Book.GivenUpBetween(from, week.Last).Select(s => new PlannedSitting(s, []))];
    }

    /// <summary>How much has changed so far, by word or by play; it only grows.</summary>
    public int Changes => plans.Book.Count + log.Count();

    /// <summary>Keeps what was said, once for each post.</summary>
    public void Say(string? post, params PlanEvent[] events) => plans.Add(household.Now, events, post);

    /// <summary>What has to be made for the games of a plan, each thing once.</summary>
    public IReadOnlyList<ToMake> ToMakeFor(Plan plan) =>
        [.. plan.Sittings.SelectMany(s => s.Games).SelectMany(g => household.Cupboard.Fetch(g.Playable.Frame.Needs(g.Setup)).Where(f => f.Standing == Standing.ToMake).Select(f => (Game: g.Setup.Frame.Name, Thing: f)))
            .GroupBy(m => m.Thing.Need).Select(g => new ToMake(g.First().Thing, [.. g.Select(m => m.Game).Distinct()]))];
}
