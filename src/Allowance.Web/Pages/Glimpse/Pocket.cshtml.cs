using Allowance.Core.Asks;
using Allowance.Core.Learner;
using Allowance.Core.Tuning;
using Allowance.Store;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Allowance.Web.Pages.Glimpse;

/// <summary>Two minutes with nothing but hands: a short list to go by, and a tap for each afterwards.</summary>
public sealed class PocketModel(Household household, Entries entries) : PageModel
{
    public Player Child { get; private set; } = null!;

    public IReadOnlyList<Ask> Asks { get; private set; } = [];

    /// <summary>How many lists were passed over.</summary>
    public int List { get; private set; }

    public string Problem { get; private set; } = "";

    public Household Household => household;

    public IActionResult OnGet(long id, int list)
    {
        if (household.Children.FirstOrDefault(c => c.Id == id) is not { } child) return NotFound();
        Child = child;
        List = Math.Clamp(list, 0, 5);
        var model = household.Model(child);
        Asks = Pocket.For(ask => model.Right(ask, household.Today), List * (Pocket.Length - 2));
        return Page();
    }

    public IActionResult OnPost(long id, int list, string?[]? asks, string?[]? outcomes)
    {
        if (OnGet(id, list) is not PageResult) return NotFound();
        var notes = new List<(long, Observation)>();
        foreach (var (text, outcome) in (asks ?? []).Zip(outcomes ?? []).Take(Pocket.Length))
            if (Ask.Parse(text ?? "", out _) is { } ask && Pocket.Candidates.Contains(ask) && int.TryParse(outcome, out int n) && (n == Seen.RightKey || n is >= 0 and < 6 && Outcomes.Of(ask).Contains((Outcome)n)))
                notes.Add((Child.Id, new(household.Now, ask, Seen.Of(n), null, Source.Typed)));
        if (notes.Count == 0)
        {
            Problem = "Choose for at least one how it went; the others may stay open.";
            return Page();
        }
        return Redirect($"/logbook/entry/{entries.Add(EntryKind.Typed, household.Now, "glimpse", null, "", [Child.Id], notes, Request.PostId())}");
    }
}
