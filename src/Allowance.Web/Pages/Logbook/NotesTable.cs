using Allowance.Core.Asks;
using Allowance.Store;

namespace Allowance.Web.Pages.Logbook;

/// <summary>The notes of a sitting or another entry, each of which can be put right.</summary>
/// <param name="Path">The page that takes corrections.</param>
public sealed record NotesTable(string Path, IReadOnlyList<StoredObservation> Notes, bool WithTurns, Func<long?, string> Name);

/// <summary>Putting a note right, or taking it back; the old one stays to be seen.</summary>
public static class Correction
{
    /// <param name="outcome">0 to 5; 6 is right, not watched; −1 takes the note back.</param>
    public static void Apply(Observations observations, string? post, StoredObservation note, int outcome)
    {
        if (!note.Counts || outcome is < -1 or > 6) return;
        if (outcome == -1) observations.Withdraw(note.Id);
        else observations.Correct(note.Id, Seen.Of(outcome), post);
    }
}
