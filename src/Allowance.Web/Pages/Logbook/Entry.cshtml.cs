using Allowance.Store;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Allowance.Web.Pages.Logbook;

/// <summary>An entry that is no sitting: a first look, a game typed in later, an import, or a note in words.</summary>
public sealed class EntryModel(Entries entries, Observations observations, Household household) : PageModel
{
    private const int MostShown = 500;

    private IReadOnlyDictionary<long, string> names = new Dictionary<long, string>();

    public Entry Entry { get; private set; } = null!;

    public IReadOnlyList<StoredObservation> Notes { get; private set; } = [];

    public NotesTable Table => new($"/logbook/entry/{Entry.Id}", Notes, false, Name);

    public int Counting { get; private set; }

    public string Name(long? player) => player is { } id && names.TryGetValue(id, out var name) ? name : "somebody";

    public IActionResult OnGet(long id) => Load(id) ? Page() : NotFound();

    public IActionResult OnPostCorrect(long id, long note, int outcome)
    {
        if (observations.Find(note) is { } old && old.EntryId == id) Correction.Apply(observations, Request.PostId(), old, outcome);
        return Redirect($"/logbook/entry/{id}#note-{note}");
    }

    /// <summary>Takes all notes of the entry back; they stay to be seen.</summary>
    public IActionResult OnPostTakeBack(long id)
    {
        observations.WithdrawEntry(id);
        return Redirect($"/logbook/entry/{id}");
    }

    private bool Load(long id)
    {
        if (entries.Find(id) is not { } entry) return false;
        Entry = entry;
        names = household.People.ToDictionary(p => p.Id, p => p.Name);
        var all = observations.OfEntry(id);
        Counting = all.Count(n => n.Counts);
        Notes = [.. all.Take(MostShown)];
        return true;
    }
}
