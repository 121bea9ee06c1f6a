using Allowance.Core.Asks;
using Allowance.Core.Forms;
using Allowance.Core.Learner;
using Allowance.Core.Tuning;
using Allowance.Store;
using Allowance.Web.Pictures;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Allowance.Web.Pages.Growth;

/// <summary>How a child's number bonds stand: the bond triangle, the skill bands around it, and the evidence behind any cell.</summary>
public sealed class IndexModel(Household household, Observations observations, Tables tables) : PageModel
{
    private const int EvidenceShown = 40;

    public Player? Child { get; private set; }

    public IReadOnlyList<Player> Children => household.Children;

    public IReadOnlyList<BondCell> Cells { get; private set; } = [];

    public IReadOnlyList<BandStanding> Bands { get; private set; } = [];

    /// <summary>The largest whole shown: 10 or 20.</summary>
    public int Most { get; private set; } = 10;

    public DateOnly Day { get; private set; }

    public Proposal? Proposal { get; private set; }

    public (int Whole, int Small)? Bond { get; private set; }

    public BondCell? Cell { get; private set; }

    public IReadOnlyList<StoredObservation> Evidence { get; private set; } = [];

    public IActionResult OnGet(long? id, int most = 10, string? day = null, string? bond = null)
    {
        Most = most == 20 ? 20 : 10;
        Day = DateOnly.TryParseExact(day, "yyyy-MM-dd", out var chosen) && chosen <= household.Today ? chosen : household.Today;
        if (id is null) return household.Children.FirstOrDefault() is { } first ? Redirect($"/growth/{first.Id}") : Page();
        if (household.Children.FirstOrDefault(c => c.Id == id) is not { } child) return NotFound();
        Child = child;
        var all = observations.Of(child.Id);
        var seen = all.Where(o => o.Observation.Day <= Day).ToList();
        var model = Day == household.Today ? household.Model(child) : household.ModelUpTo(child, seen.Select(o => o.Observation));
        Cells = [.. from whole in Enumerable.Range(2, Most - 1) from small in Enumerable.Range(0, whole / 2 + 1) select CellOf(model, seen, whole, small)];
        Bands = [.. Enumerable.Range(0, Feeding.Bands.Count).Select(b => model.Standing(b, Day)).Where(b => b.Seen > 0)];
        Proposal = Proposals.For(household.SeatOf(child), household.Model(child), [.. all.Select(o => o.Observation)], tables.LastPlayed(child.Id), household.Approach, household.Today);
        ReadBond(bond, seen);
        return Request.Headers.ContainsKey("HX-Request") ? Partial("_Evidence", this) : Page();
    }

    private BondCell CellOf(ChildModel model, List<StoredObservation> seen, int whole, int small)
    {
        var mine = seen.Where(o => IsOf(o.Observation.Ask, whole, small)).Select(o => o.Observation).ToList();
        double right = (model.Right(new Ask(AskKind.Part, whole, small, Form.Numeral), Day) + model.Right(new Ask(AskKind.Part, whole, whole - small, Form.Numeral), Day)) / 2;
        var usually = mine.Where(o => o.Seen.Outcome >= Outcome.CountedAll).GroupBy(o => o.Seen.Outcome).MaxBy(g => g.Count())?.Key;
        return new(whole, small, right, Sureness.Of(mine.Count), mine.Count, usually);
    }

    private static bool IsOf(Ask ask, int whole, int small) => ask.Kind == AskKind.Part && ask[0] == whole && Math.Min(ask[1], whole - ask[1]) == small;

    private void ReadBond(string? bond, List<StoredObservation> seen)
    {
        var parts = (bond ?? "").Split('-');
        if (parts.Length != 2 || !int.TryParse(parts[0], out int whole) || !int.TryParse(parts[1], out int small)) return;
        Bond = (whole, small);
        Cell = Cells.FirstOrDefault(c => c.Whole == whole && c.Small == small);
        Evidence = [.. seen.Where(o => IsOf(o.Observation.Ask, whole, small)).Reverse().Take(EvidenceShown)];
    }

    public string Link(BondCell cell) => $"/growth/{Child!.Id}?most={Most}&day={Day:yyyy-MM-dd}&bond={cell.Whole}-{cell.Small}#evidence";
}
