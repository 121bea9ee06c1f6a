using Allowance.Core.Tuning;
using Allowance.Store;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Allowance.Web.Pages;

/// <summary>What a child could play now, and why.</summary>
public sealed record Today(Player Child, Proposal Proposal, double P10, double P90, int Notes, DateOnly? Last);

/// <summary>Today: for each child of the household what to play now, and for all of them together.</summary>
public sealed class IndexModel(Household household, Observations observations, Tables tables, SittingLog log) : PageModel
{
    private const int Samples = 400;

    public IReadOnlyList<Today> Children { get; private set; } = [];

    public Core.Setups.Setup? Together { get; private set; }

    public IReadOnlyList<OpenTable> Open { get; private set; } = [];

    public Household Household => household;

    public IActionResult OnGet()
    {
        var children = household.Children;
        if (children.Count == 0) return Redirect("/start");
        Children = [.. children.Select(Propose)];
        Open = [.. log.Open().Take(1).Select(h => tables.Find(h.Id)).OfType<OpenTable>()];
        if (children.Count > 1)
            Together = Gathering.Of([.. Children.Reverse().Select(c => c.Proposal)], [.. Children.Reverse().Select(c => household.SeatOf(c.Child))]);
        return Page();
    }

    private Today Propose(Player child)
    {
        var seen = observations.Of(child.Id).Select(o => o.Observation).ToList();
        var proposal = Proposals.For(household.SeatOf(child), household.Model(child), seen, tables.LastPlayed(child.Id), household.Approach, household.Today);
        var forecast = household.Forecast(proposal.Setup, Samples, 0);
        return new(child, proposal, forecast.Minutes.P10, forecast.Minutes.P90, seen.Count, seen.Count > 0 ? seen[^1].Day : null);
    }

    public IActionResult OnPostPlay(string link, string way)
    {
        var pairs = Microsoft.AspNetCore.WebUtilities.QueryHelpers.ParseQuery(link).Select(p => KeyValuePair.Create(p.Key, p.Value.ToString()));
        var reading = Core.Games.Catalogue.ReadLink(pairs, household.SeatOf);
        if (reading.Setup is not { } setup || reading.Problems.Count > 0) return Redirect("/bench?" + link);
        return Redirect($"/table/{tables.Start(setup, Enum.TryParse<Core.Sittings.Way>(way, true, out var chosen) ? chosen : Core.Sittings.Way.Notes)}");
    }
}
