using Allowance.Store;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Allowance.Web.Pages.Table;

/// <summary>Tables that are still laid, and where to lay a new one.</summary>
public sealed class IndexModel(SittingLog log, Tables tables, Household household) : PageModel
{
    public IReadOnlyList<OpenTable> Open { get; private set; } = [];

    public string Who(OpenTable table)
    {
        var people = household.People.ToDictionary(p => p.Id, p => p.Name);
        return Core.Materials.Words.List(table.Seats.Select(s => s is { } id && people.TryGetValue(id, out var name) ? name : "somebody"));
    }

    public void OnGet() => Open = [.. log.Open().Select(h => tables.Find(h.Id)).OfType<OpenTable>()];
}
