using Allowance.Store;
using Allowance.Web.Demonstration;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Allowance.Web.Pages;

/// <summary>The first three steps of an empty household: who, what is in the drawer, and playing.</summary>
public sealed class StartModel(Household household, Players players, DemoMaking making) : PageModel
{
    public IReadOnlyList<Player> People { get; private set; } = [];

    public string Problem { get; private set; } = "";

    public int Packs => household.Cupboard.Packs;

    /// <summary>How many weeks of the demonstration are played, of how many; null where none is being made.</summary>
    public (int Week, int Of)? Making => making.Reached;

    /// <param name="made">Somebody waits for the demonstration, and sees it when it is there.</param>
    public IActionResult OnGet(bool made)
    {
        People = household.People;
        if (making.HasFailed) Problem = "The demonstration could not be made. Nothing was changed; begin with your own household, or try it again.";
        if (!made || Making is not null || People.Count == 0) return Page();
        Response.Headers["HX-Redirect"] = "/";
        return Request.Headers.ContainsKey("HX-Request") ? StatusCode(StatusCodes.Status204NoContent) : Redirect("/");
    }

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
        making.Begin();
        return Redirect("/start?made=true");
    }

    public IActionResult OnPostStop()
    {
        making.Stop();
        return Redirect("/start?made=true");
    }
}
