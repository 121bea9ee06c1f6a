using Allowance.Core.Games;
using Allowance.Core.Setups;
using Allowance.Core.Sheets;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Allowance.Web.Pages.Sheet;

/// <summary>The rule sheet of a setup, one page to read at the table or to print.</summary>
[Computes]
public sealed class IndexModel(Household household) : PageModel
{
    public RuleSheet Rules { get; private set; } = null!;

    public Setup Setup => Rules.Setup;

    public Household Household => household;

    public IActionResult OnGet()
    {
        var reading = Catalogue.ReadLink(Request.Query.Select(q => KeyValuePair.Create(q.Key, q.Value.ToString())), household.SeatOf);
        // What does not go is told on the bench, with what does.
        if (reading.Playable is not { } playable) return Redirect("/bench" + Request.QueryString);
        Rules = RuleSheet.Of(playable, household.Approach, household.Answers, household.Budget(HttpContext.RequestAborted), household.Cupboard);
        return Page();
    }

    /// <summary>A question is asked; what is to be done is said to her.</summary>
    public string Puts(WorkedAsk ask) => (ask.Question.EndsWith('?'), Setup.Seats.Length > 1) switch
    {
        (true, true) => $"Ask {Name(ask.Seat)}",
        (true, false) => "Ask",
        (false, true) => $"Say to {Name(ask.Seat)}",
        (false, false) => "Say",
    };

    public string Name(int seat) => Setup.Seats[seat].Name is { Length: > 0 } name ? name : Setup.Seats[seat].GrownUp ? "The grown-up" : Setup.Seats.Length == 1 ? "The child" : $"Place {seat + 1}";
}
