using Allowance.Core.Asks;
using Allowance.Core.Sittings;

namespace Allowance.Core.Tuning;

/// <summary>
/// What the last notes of a game say while it is played: three in a row that were not yet right without help call for something easier,
/// eight in a row that were seen at once for something harder.
/// </summary>
public static class MidGame
{
    private const int NotYetInARow = 3, AtOnceInARow = 8;

    /// <summary>What could be offered at a place, by the notes since her allowance was changed last.</summary>
    public static Ease Calls(Sitting sitting, int seat)
    {
        if (sitting.IsStopped || !sitting.IsHere(seat)) return Ease.Neither;
        int changed = -1;
        foreach (int e in Sitting.Counting(sitting.Events))
            if (sitting.Events[e] is AllowanceChanged { Seat: var whose } && whose == seat) changed = e;
        var notes = sitting.Notes.Where(n => n.Seat == seat && n.Event > changed).OrderBy(n => n.Event).ToList();
        if (InARow(notes, n => n.Seen.Outcome is Outcome.NotYet or Outcome.WithHelp) >= NotYetInARow) return Ease.Easier;
        return InARow(notes, n => n.Seen.Outcome == Outcome.SawIt) >= AtOnceInARow ? Ease.Harder : Ease.Neither;
    }

    private static int InARow(List<Note> notes, Predicate<Note> like) => notes.Count - 1 - notes.FindLastIndex(n => !like(n));
}
