using Allowance.Core.Asks;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Allowance.Web.Pages.Shelf;

/// <summary>The shelf: every game as a picture, by family, in the order in which children grow through them.</summary>
[Computes]
public sealed class IndexModel(Household household, Web.Shelf shelf) : PageModel
{
    public IReadOnlyList<OnShelf> Games { get; private set; } = [];

    public int All { get; private set; }

    /// <summary>Who would play.</summary>
    public IReadOnlyList<Seat> Seats { get; private set; } = [];

    public string Words { get; private set; } = "";

    public bool Fits { get; private set; }

    public int? Minutes { get; private set; }

    public Strand? Skill { get; private set; }

    public long? Knows { get; private set; }

    public Household Household => household;

    public IActionResult OnGet(string? words, bool fits, int? minutes, string? skill, long? knows)
    {
        Words = (words ?? "").Trim();
        Fits = fits;
        Minutes = minutes is >= 1 and <= 240 ? minutes : null;
        Skill = Enum.TryParse<Strand>(skill, true, out var strand) && Enum.IsDefined(strand) ? strand : null;
        Knows = household.Children.FirstOrDefault(c => c.Id == knows)?.Id;
        Seats = [.. Enumerable.Range(1, Engine.MostSeats).Select(i => Request.Query[$"s{i}"].ToString()).Where(k => k.Length > 0).Select(k => household.SeatOf(k) ?? Seat.Child(""))];
        if (Seats.Count == 0) Seats = [.. household.Children.Take(1).Select(household.SeatOf)];
        if (Seats.Count == 0) Seats = [Seat.Child("")];
        var all = shelf.For(Seats, household.Budget(HttpContext.RequestAborted));
        All = all.Count;
        Games = [.. all.Where(Wished)];
        if (!Request.Headers.ContainsKey("HX-Request")) return Page();
        Response.Headers["HX-Replace-Url"] = "/shelf" + Request.QueryString;
        return Partial("_Games", this);
    }

    private bool Wished(OnShelf game) =>
        (!Fits || game.Missing.Count == 0)
        && (Minutes is not { } most || game.Minutes is { P50: var usual } && usual <= most)
        && (Skill is not { } strand || game.Strands.Contains(strand))
        && (Knows is not { } child || game.KnownTo.Any(p => p.Id == child))
        && Words.Split(' ', StringSplitOptions.RemoveEmptyEntries).All(word => TextOf(game).Contains(word, StringComparison.OrdinalIgnoreCase));

    /// <summary>What a game is found by: its name and what it says, its levels, the skills it asks for.</summary>
    private static string TextOf(OnShelf game) => string.Join(' ', [game.Frame.Name, game.Frame.Says, game.Frame.Family.Says(), .. game.Frame.Levels.Select(l => $"{l.Label} {l.Says}"),
        .. Skills.All.Where(s => game.Strands.Contains(s.Strand)).Select(s => s.Says)]);
}
