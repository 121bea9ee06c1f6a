using Allowance.Store;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Allowance.Web.Pages.Logbook;

/// <summary>One sitting: its notes turn by turn. A wrong entry can be put right; the old one stays to be seen.</summary>
public sealed class SittingModel(Tables tables, Observations observations, Household household) : PageModel
{
    public KeptSitting Kept { get; private set; } = null!;

    public IReadOnlyList<StoredObservation> Notes { get; private set; } = [];

    public NotesTable Turns => new($"/logbook/{Kept.Head.Id}", Notes, true, Name);

    private IReadOnlyDictionary<long, string> names = new Dictionary<long, string>();

    public string Name(long? player) => player is { } id && names.TryGetValue(id, out var name) ? name : "somebody";

    public IActionResult OnGet(long id)
    {
        if (tables.Kept(id) is not { } kept) return NotFound();
        Kept = kept;
        names = household.People.ToDictionary(p => p.Id, p => p.Name);
        Notes = observations.OfSitting(id);
        return Page();
    }

    public IActionResult OnPostCorrect(long id, long note, int outcome)
    {
        if (observations.Find(note) is { } old && old.SittingId == id) Correction.Apply(observations, Request.PostId(), old, outcome);
        return Redirect($"/logbook/{id}#note-{note}");
    }
}
