using Allowance.Store;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Allowance.Web.Pages.Logbook;

/// <summary>The sittings, newest first.</summary>
public sealed class IndexModel(SittingLog log, Household household) : PageModel
{
    private const int PerPage = 30;

    public IReadOnlyList<SittingHead> Sittings { get; private set; } = [];

    public IReadOnlyList<Player> Players { get; private set; } = [];

    public long? Player { get; private set; }

    public int At { get; private set; }

    public bool More { get; private set; }

    public string Who(SittingHead head) => Core.Materials.Words.List(head.Seats.Select(s => Players.FirstOrDefault(p => p.Id == s)?.Name ?? "somebody"));

    public void OnGet(long? player, int at = 0)
    {
        Players = household.People;
        Player = player;
        At = Math.Clamp(at, 0, 1_000_000);
        var found = log.Latest(PerPage + 1, At * PerPage, player);
        More = found.Count > PerPage;
        Sittings = [.. found.Take(PerPage)];
    }
}
