using System.Collections.Immutable;
using System.Globalization;
using Allowance.Core.Games;
using Allowance.Core.Materials;
using Allowance.Core.Plans;
using Allowance.Store;
using Allowance.Web.Files;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Allowance.Web.Pages.Week;

/// <summary>The week: when there is playing, what is planned for it, and what was really played.</summary>
[Computes]
public sealed class IndexModel(Household household, Planning planning, Settings settings) : PageModel
{
    private const string CalendarKey = "plan-calendar", DayForm = "yyyy-MM-dd";

    public static readonly int[] MinuteChoices = [5, 10, 15, 20, 30, 45];

    public Household Household => household;

    public PlanBook Book => planning.Book;

    public Web.Week Week { get; private set; } = null!;

    /// <summary>The sitting that is open to be changed.</summary>
    public PlannedSitting? Open { get; private set; }

    /// <summary>What was just done, in words.</summary>
    public string Said { get; private set; } = "";

    public string Problem { get; private set; } = "";

    public bool IsReady => planning.IsReady;

    public bool HasLater => Week.First < planning.Furthest;

    public IReadOnlyList<ToMake> ToMake => planning.ToMakeFor(Week.Plan);

    /// <summary>The day of the first game that something is made for.</summary>
    public DateOnly MakeBy => Week.Plan.Sittings.First(s => planning.ToMakeFor(new([s])).Count > 0).Slot.Day;

    public IReadOnlyList<Player> Players => [.. household.People.Where(p => p.Kind != PlayerKind.Other)];

    /// <summary>The days of the week, as the household's weeks begin.</summary>
    public IEnumerable<DayOfWeek> Weekdays => Enumerable.Range(0, 7).Select(n => (DayOfWeek)(((int)household.Calendar.FirstDay + n) % 7));

    /// <summary>Where in the week one is.</summary>
    public string At(DateOnly? first = null, DateOnly? open = null) => $"/week?from={(first ?? Week.First).ToString(DayForm)}{(open is { } sitting ? $"&open={sitting.ToString(DayForm)}" : "")}";

    /// <summary>Where something is done to a sitting of this week.</summary>
    public string Do(string what, DateOnly sitting) => $"/week?handler={what}&from={Week.First.ToString(DayForm)}&sitting={sitting.ToString(DayForm)}";

    public string NamesOf(IEnumerable<string> keys) => Words.List(Players.Where(p => keys.Contains(p.Id.ToString())).Select(p => p.Name));

    public string GetOut(PlannedGame game) => FetchedWords.Says(household.GetOut(game.Setup).Fetched);

    /// <summary>How an evening goes that nobody has told of: like the last that was told, or ten minutes for all children.</summary>
    public Evening Likely => Weekdays.Select(d => Book.UsualOn(d, household.Today)).OfType<Evening>().LastOrDefault() ?? new(10, [.. household.Children.Select(c => c.Id.ToString())]);

    public IActionResult OnGet(string? from, string? open, string? did)
    {
        if (household.Children.Count == 0) return Redirect("/start");
        Load(DayIn(from));
        Open = DayIn(open) is { } id ? Week.Plan.Sittings.FirstOrDefault(s => s.Slot.Id == id) : null;
        Said = did switch
        {
            "moved" => "Moved. The rest is planned around it.", "kept" => "It stays as it is.", "freed" => "It is planned with the others again.", "swapped" => "Another game is planned.",
            "out" => "Left out. The rest is planned around it.", "in" => "Taken in again.", "once" => "Changed for this once.", "usual" => "Kept for each week.", "put" => "A sitting is put there.", _ => "",
        };
        return Page();
    }

    /// <summary>A day as it stands in the address; null where it is none.</summary>
    private static DateOnly? DayIn(string? text) => DateOnly.TryParseExact(text, DayForm, CultureInfo.InvariantCulture, DateTimeStyles.None, out var day) ? day : null;

    private void Load(DateOnly? from)
    {
        var first = planning.FirstOf(from is { Year: > 1990 and < 9000 } day ? day : household.Today);
        Week = planning.Of(first > planning.Furthest ? planning.Furthest : first);
    }

    /// <summary>How some days of the week usually go, from now on.</summary>
    public IActionResult OnPostUsually(DateOnly? from, DayOfWeek[] days, string? minutes, string[]? who, bool tired, string? at, bool none)
    {
        if (days.Length == 0) return Refuse(from, "Choose at least one day of the week.");
        var evening = none ? null : Read(minutes, who, tired, at);
        if (evening is null && !none) return Refuse(from, Problem);
        planning.Say(Request.PostId(), [.. days.Distinct().Select(d => new Usually(d, evening, household.Today))]);
        return Done(from, null, "usual");
    }

    public IActionResult OnPostOnce(DateOnly? from, DateOnly sitting, string? minutes, string[]? who, bool tired, string? at)
    {
        if (sitting < household.Today || sitting > planning.Furthest.AddDays(6)) return Refuse(from, $"A sitting can be put on the days from today to {household.Calendar.Day(planning.Furthest.AddDays(6))}.");
        if (Read(minutes, who, tired, at) is not { } evening) return Refuse(from, Problem);
        bool isNew = Book.Find(sitting) is null;
        planning.Say(Request.PostId(), new ForOnce(sitting, evening));
        return Done(from, sitting, isNew ? "put" : "once");
    }

    public IActionResult OnPostMove(DateOnly? from, DateOnly sitting, DateOnly to)
    {
        if (planning.Find(sitting) is null) return NotThere(from);
        if (to < household.Today || Math.Abs(to.DayNumber - sitting.DayNumber) > PlanBook.Furthest) return Refuse(from, "A sitting can be moved to a day from today on, by less than a week.");
        planning.Say(Request.PostId(), new MovedTo(sitting, to));
        return Done(to, sitting, "moved");
    }

    public IActionResult OnPostKeep(DateOnly? from, DateOnly sitting, bool keep)
    {
        if (planning.Find(sitting) is not { } planned) return NotThere(from);
        if (keep && planned.Games.IsEmpty) return Refuse(from, "There is no game in this sitting that could be kept.");
        planning.Say(Request.PostId(), new KeptAs(sitting, keep ? [.. planned.Games.Select(g => g.Setup.ToLink())] : []));
        return Done(from, sitting, keep ? "kept" : "freed");
    }

    public IActionResult OnPostSwap(DateOnly? from, DateOnly sitting)
    {
        if (planning.Find(sitting) is not { } planned) return NotThere(from);
        planning.Say(Request.PostId(), [.. planned.Games.Select(g => g.Setup.Frame.Id).Distinct().Select(game => new Swapped(sitting, game))]);
        return Done(from, sitting, "swapped");
    }

    public IActionResult OnPostOut(DateOnly? from, DateOnly sitting, bool take)
    {
        if (planning.Find(sitting) is null) return NotThere(from);
        planning.Say(Request.PostId(), new LeftOut(sitting, !take));
        return Done(from, sitting, take ? "in" : "out");
    }

    /// <summary>What is planned for a week, as a calendar file.</summary>
    public IActionResult OnGetCalendar(string? from)
    {
        Load(DayIn(from));
        // The household's calendar keeps its name, so that what is brought in again changes what is there.
        if (settings.All().GetValueOrDefault(CalendarKey) is not { } name) settings.Set(CalendarKey, name = Guid.NewGuid().ToString("N"));
        string text = WeekCalendar.Write(planning.ForCalendar(Week), name, household.Now, planning.Changes, NamesOf);
        return File(System.Text.Encoding.UTF8.GetBytes(text), "text/calendar; charset=utf-8", $"week-{Week.First.ToString(DayForm)}.ics");
    }

    private Evening? Read(string? minutes, string[]? who, bool tired, string? at)
    {
        if (!int.TryParse(minutes, out int many) || many is < Evening.LeastMinutes or > Evening.MostMinutes) Problem = $"Play lasts from {Evening.LeastMinutes} to {Evening.MostMinutes} minutes.";
        var people = (who ?? []).Where(key => Players.Any(p => p.Id.ToString() == key)).ToImmutableSortedSet();
        if (Problem.Length == 0 && !household.Children.Any(c => people.Contains(c.Id.ToString()))) Problem = "Choose at least one child who is there.";
        TimeOnly? time = TimeOnly.TryParseExact(at?.Trim(), ["H:mm", "H.mm", "HHmm", "%H"], CultureInfo.InvariantCulture, DateTimeStyles.None, out var given) ? given : null;
        if (Problem.Length == 0 && time is null && !string.IsNullOrWhiteSpace(at)) Problem = "A time is written as 17:30; or leave it empty.";
        return Problem.Length > 0 ? null : new(many, people, tired, time);
    }

    private RedirectResult Done(DateOnly? from, DateOnly? sitting, string did) => Redirect($"/week?from={(from ?? household.Today).ToString(DayForm)}{(sitting is { } id ? $"&open={id.ToString(DayForm)}" : "")}&did={did}");

    private IActionResult NotThere(DateOnly? from) => Refuse(from, "This sitting is not planned any more.");

    private IActionResult Refuse(DateOnly? from, string problem)
    {
        Load(from);
        Problem = $"{problem} Nothing was changed.";
        // Only what is wrong is shown: what was open and typed stays as it is.
        Response.Headers["HX-Retarget"] = Response.Headers["HX-Reselect"] = "#week-problem";
        return Page();
    }
}
