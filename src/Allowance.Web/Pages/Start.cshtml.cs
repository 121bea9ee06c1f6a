using Allowance.Store;
using Allowance.Web.Demonstration;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Allowance.Web.Pages;

/// <summary>The first three steps of an empty household: who, what is in the drawer, and playing.</summary>
public sealed class StartModel(Household household, Players players, Database database, TimeProvider clock) : PageModel
{
    public IReadOnlyList<Player> People { get; private set; } = [];

    public string Problem { get; private set; } = "";

    public int Packs => household.Cupboard.Packs;

    public void OnGet() => People = household.People;

    public IActionResult OnPostDrawer(int packs)
    {
        household.TellPacks(packs);
        return Redirect("/start");
    }

    public IActionResult OnPostWho(string? name, string? born, string? kind)
    {
        string called = House.IndexModel.Clean(name);
        string? month = House.IndexModel.Month(born);
        Problem = House.IndexModel.PersonProblem(called, month, household.Today, household.Calendar) ?? (House.IndexModel.KindOf(kind) is null ? "Choose a child or a grown-up; nothing was changed." : "");
        if (Problem.Length > 0 || House.IndexModel.KindOf(kind) is not { } as_)
        {
            People = household.People;
            Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
            return Page();
        }
        players.Add(called, month, as_, Request.PostId());
        return Redirect("/start");
    }

    /// <summary>Tries the made-up household first; only an empty household can.</summary>
    public IActionResult OnPostDemo()
    {
        DemoHousehold.Fill(database, clock);
        return Redirect("/");
    }
}
