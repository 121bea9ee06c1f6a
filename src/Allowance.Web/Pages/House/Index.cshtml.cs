using Allowance.Core.Asks;
using Allowance.Store;
using Allowance.Web.Files;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Allowance.Web.Pages.House;

/// <summary>The house: who lives here, how grown-ups go about it, and where the data is.</summary>
public sealed class IndexModel(Household household, Players players, Imports imports, Database database) : PageModel
{
    public IReadOnlyList<Player> People { get; private set; } = [];

    public Household Household => household;

    public string DataFile => database.File;

    public string Problem { get; private set; } = "";

    /// <summary>The person about whose removal the one clear question is asked.</summary>
    public Player? Asked { get; private set; }

    public void OnGet(long? remove)
    {
        People = household.People;
        Asked = People.FirstOrDefault(p => p.Id == remove);
    }

    public IActionResult OnPostName(string? name)
    {
        household.Name = Clean(name);
        return Redirect("/house");
    }

    public IActionResult OnPostAdd(string? name, string? born, string? kind) => Store(null, name, born, kind);

    public IActionResult OnPostChange(long id, string? name, string? born, string? kind, bool mouths) => Store(id, name, born, kind, mouths);

    private IActionResult Store(long? id, string? name, string? born, string? kind, bool mouths = false)
    {
        string called = Clean(name);
        string? month = Month(born);
        Problem = PersonProblem(called, month, household.Today, household.Calendar) ?? (KindOf(kind) is null ? "Choose a child, a grown-up or somebody else in the home; nothing was changed." : "");
        if (Problem.Length > 0 || KindOf(kind) is not { } as_)
        {
            People = household.People;
            Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
            return Page();
        }
        if (id is { } known) players.Change(known, called, month, as_, mouths);
        else players.Add(called, month, as_, Request.PostId());
        return Redirect("/house");
    }

    internal static PlayerKind? KindOf(string? kind) => Enum.GetValues<PlayerKind>().Select(k => (PlayerKind?)k).FirstOrDefault(k => k.ToString()!.Equals(kind, StringComparison.OrdinalIgnoreCase));

    internal static string Clean(string? name) => (name ?? "").Trim();

    /// <summary>What is wrong with a name or birth month, or null.</summary>
    internal static string? PersonProblem(string name, string? month, DateOnly today, Calendar calendar) =>
        name.Length == 0 ? "A name or nickname is needed; nothing was changed."
        : name.Length > Player.LongestName ? $"A name has at most {Player.LongestName} letters; nothing was changed."
        : month is null ? null
        : !DateOnly.TryParseExact(month + "-01", "yyyy-MM-dd", out var first) ? $"A birth month is written with its year, for example {calendar.MonthExample}; nothing was changed."
        : first > today ? $"The birth month lies ahead; the latest is {calendar.WrittenMonth($"{today:yyyy-MM}")}." : first.Year < 1900 ? "The birth month lies before 1900; nothing was changed." : null;

    /// <summary>A birth month as it is kept; as it was written where it cannot be read, null for none.</summary>
    internal static string? Month(string? born) => string.IsNullOrWhiteSpace(born) ? null : Calendar.ReadMonth(born) ?? born.Trim();

    public IActionResult OnPostCalendar(DateOrder order, DayOfWeek firstDay, Paper paper)
    {
        if (ModelState.IsValid && Enum.IsDefined(order) && Enum.IsDefined(firstDay) && Enum.IsDefined(paper)) household.Calendar = new(order, firstDay, paper);
        return Redirect("/house");
    }

    public IActionResult OnPostRemove(long id)
    {
        imports.DropAll();
        players.Erase(id);
        return Redirect("/house");
    }

    public IActionResult OnPostApproach()
    {
        foreach (var school in Approach.Schools)
            if (Request.Form.TryGetValue(school.Id, out var answer) && school.Options.Any(o => o.Id == answer.ToString())) household.Choose(school.Id, answer.ToString());
        household.OneChangeAtATime = Request.Form["one"].ToString() == "yes";
        household.SignsOnly = Request.Form["signs"].ToString() == "yes";
        return Redirect("/house#approach");
    }
}
