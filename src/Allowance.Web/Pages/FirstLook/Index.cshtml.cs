using Allowance.Core.Asks;
using Allowance.Core.Forms;
using Allowance.Core.Learner;
using Allowance.Core.Tuning;
using Allowance.Store;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Allowance.Web.Pages.FirstLook;

/// <summary>A first look at a child: a few asks, one at a time; it can be stopped and taken up again.</summary>
public sealed class IndexModel(Household household, Advising advising, Entries entries, Observations observations) : PageModel
{
    public Player Child { get; private set; } = null!;

    /// <summary>Her newest look; null where she had none.</summary>
    public Entry? Look { get; private set; }

    public IReadOnlyList<LookedAt> Seen { get; private set; } = [];

    /// <summary>The open ask; null before the look and after it.</summary>
    public Ask? Ask { get; private set; }

    public int Length { get; private set; }

    /// <summary>The one thing this look covers; null for all.</summary>
    public LookFocus? Focus => Look is null ? null : LookFocus.Find(Look.Game);

    public IReadOnlyList<StrandLevel> Levels { get; private set; } = [];

    public IReadOnlyList<Advised> Games { get; private set; } = [];

    public PictureStyle PictureStyle => household.PictureStyle;

    public bool SignsOnly => household.SignsOnly;

    public long PictureSeed => household.PictureSeed(Seen.Count);

    public bool IsOpen => Look is { EndedAt: null };

    /// <summary>Whether the ask's picture is put before her on the screen: an amount to see, or a figure to read.</summary>
    public bool ShowsPicture => Ask is { Kind: AskKind.Say } ask && ask.Form is not (Form.Spoken or Form.None);

    public IActionResult OnGet(long id) => Load(id) ? Page() : NotFound();

    /// <param name="focus">The one thing to cover; empty for all.</param>
    public IActionResult OnPostBegin(long id, string? focus)
    {
        if (!Load(id)) return NotFound();
        if (!IsOpen) entries.BeginLook(Request.PostId(), Child.Id, household.Now, LookFocus.Find(focus ?? "")?.Id ?? "");
        return Redirect(Here);
    }

    /// <param name="known">How many asks had been answered when this one was shown: a tap that comes twice changes nothing.</param>
    public IActionResult OnPostNote(long id, int outcome, int known)
    {
        if (!Load(id)) return NotFound();
        if (!IsOpen || Ask is not { } ask || outcome is < 0 or > 6 || known != Seen.Count) return Redirect(Here);
        var seen = Core.Asks.Seen.Of(outcome);
        entries.Note(Request.PostId(), Look!.Id, known, Child.Id, new Observation(household.Now, ask, seen, null, Source.FirstLook), Seen.Count + 1 >= Length);
        return Redirect(Here);
    }

    public IActionResult OnPostUndo(long id)
    {
        if (!Load(id)) return NotFound();
        if (IsOpen) entries.TakeBackLast(Request.PostId(), Look!.Id);
        return Redirect(Here);
    }

    public IActionResult OnPostStop(long id)
    {
        if (!Load(id)) return NotFound();
        if (IsOpen) entries.End(Look!.Id, household.Now);
        return Redirect(Here);
    }

    private string Here => $"/first-look/{Child.Id}";

    private bool Load(long id)
    {
        if (household.Children.FirstOrDefault(c => c.Id == id) is not { } child) return false;
        Child = child;
        Look = entries.LatestFirstLook(id);
        double age = child.AgeOn(household.Today) ?? LearnerAnswers.AgeWhereUnknown;
        Length = Core.Learner.FirstLook.Length(age);
        if (Look is null) return true;
        var notes = observations.OfEntry(Look.Id).Where(n => n.Counts).ToList();
        Seen = [.. notes.Select(n => new LookedAt(n.Observation.Ask, n.Observation.Seen))];
        if (IsOpen)
        {
            // What was believed before this look: it decides what is asked, with what was seen in the look itself.
            var day = DateOnly.FromDateTime(Look.At.DateTime);
            var before = household.ModelOn(child, day.AddDays(-1)).Copy();
            foreach (var note in observations.Between(child.Id, day, day).Where(n => n.EntryId != Look.Id)) before.Observe(note.Observation);
            Ask = Core.Learner.FirstLook.Next(before, Seen, Length, Look.At, Focus);
            return true;
        }
        var model = household.Model(child);
        Levels = Core.Learner.FirstLook.Levels(model, household.Today);
        Games = advising.ToBegin(child);
        return true;
    }

    /// <summary>Where she stands on a strand, in words.</summary>
    public static string Says(StrandLevel level)
    {
        var skill = Skills.Lead(level.Strand);
        var (lower, _) = level.Between;
        string upper = $"to {level.Bands[lower]}";
        return lower == 0 ? $"{skill.Says}: on the way {upper}" : $"{skill.Says}: to {level.Bands[lower - 1]}, on the way {upper}";
    }

    private const int Few = 3;

    /// <summary>How sure that is. What was never asked is only guessed from the rest, and a few asks make nobody quite sure.</summary>
    public static string Sure(StrandLevel level) => level.Asked switch
    {
        0 => "not asked yet: a guess from the rest",
        < Few => "a first guess",
        _ => level.Between.Chance switch { >= .9 => "quite sure", >= .75 => "fairly sure", _ => "a first guess" },
    };
}
