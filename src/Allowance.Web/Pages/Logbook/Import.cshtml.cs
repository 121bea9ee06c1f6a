using Allowance.Core.Learner;
using Allowance.Store;
using Allowance.Web.Files;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Allowance.Web.Pages.Logbook;

/// <summary>A name in the file, how many lines it has, and which child of the household it most likely is.</summary>
public sealed record FileName(string Name, int Lines, DateOnly First, DateOnly Last, long? Child);

/// <summary>
/// A file of observations: first a preview that names every line that cannot be read, then, when each name has been matched
/// to a child, the file is taken. What is in the logbook already is not taken twice.
/// </summary>
[RequestSizeLimit(LargestFile + 64 * 1024)]
[RequestFormLimits(MultipartBodyLengthLimit = LargestFile + 64 * 1024)]
public sealed class ImportModel(Household household, Entries entries, Observations observations, Database database) : PageModel
{
    public const long LargestFile = 16 * 1024 * 1024;
    private const int MostLines = 100_000;

    public IReadOnlyList<Player> Children => household.Children;

    public string Problem { get; private set; } = "";

    /// <summary>The file that waits for a yes; null before one was chosen.</summary>
    public string? Waiting { get; private set; }

    public IReadOnlyList<FileName> Names { get; private set; } = [];

    public FileReading<FileObservation>? Reading { get; private set; }

    public void OnGet()
    {
    }

    public IActionResult OnPostPreview(IFormFile? file)
    {
        if (file is null || file.Length == 0) Problem = "Choose a file first; an empty one holds nothing to bring in.";
        else if (file.Length > LargestFile) Problem = $"The file is larger than {LargestFile >> 20} MB. Split it, and bring the parts in one after another.";
        if (Problem.Length > 0) return Page();
        Directory.CreateDirectory(Folder);
        foreach (var old in new DirectoryInfo(Folder).GetFiles().Where(f => f.LastWriteTimeUtc < DateTime.UtcNow.AddDays(-1))) old.Delete();
        string name = Guid.NewGuid().ToString("N");
        using (var to = System.IO.File.Create(PathOf(name))) file!.CopyTo(to);
        Show(name);
        if (Reading!.Lines.Count > 0) return Page();
        System.IO.File.Delete(PathOf(name));
        Waiting = null;
        return Page();
    }

    /// <param name="names">The names in the file, and for each in <paramref name="players"/> whose notes they are; 0 leaves them out.</param>
    public IActionResult OnPostTake(string? waiting, string[]? names, long[]? players)
    {
        if (!Guid.TryParseExact(waiting, "N", out _) || !System.IO.File.Exists(PathOf(waiting!)))
        {
            Problem = "That file is not waiting any more; choose it again. Nothing was brought in.";
            return Page();
        }
        Show(waiting!);
        var whose = (names ?? []).Zip(players ?? []).Where(p => Children.Any(c => c.Id == p.Second)).ToDictionary(p => p.First, p => p.Second);
        if (whose.Count == 0)
        {
            Problem = "Say for at least one name whose notes they are.";
            return Page();
        }
        var had = whose.Values.Distinct().ToDictionary(id => id, id => observations.Of(id).Select(o => Same(o.Observation)).ToHashSet());
        var notes = Reading!.Lines.Where(l => whose.ContainsKey(l.Player)).OrderBy(l => l.Observation.At)
            .Select(l => (Player: whose[l.Player], Seen: l.Observation)).Where(n => had[n.Player].Add(Same(n.Seen))).ToList();
        long id = entries.Add(EntryKind.Import, household.Now, "", null, $"{Core.Materials.Words.Count(notes.Count, "note")} of {Reading.Lines.Count} brought in" + (notes.Count < Reading.Lines.Count ? "; the others were here already or left out." : "."), [.. whose.Values], notes);
        System.IO.File.Delete(PathOf(waiting!));
        return Redirect($"/logbook/entry/{id}");
    }

    private static (DateTimeOffset, long, Core.Asks.Seen) Same(Observation o) => (o.At.AddTicks(-(o.At.Ticks % TimeSpan.TicksPerSecond)), o.Ask.Code, o.Seen);

    private void Show(string name)
    {
        Waiting = name;
        using var stream = System.IO.File.OpenRead(PathOf(name));
        Reading = ObservationFile.Read(stream, household.Now.Offset);
        var later = Reading.Lines.Where(l => l.Observation.Day > household.Today).Select(l => new FileProblem(l.Line, $"{l.Observation.Day:d MMMM yyyy} has not come yet."));
        Reading = new([.. Reading.Lines.Where(l => l.Observation.Day <= household.Today).Take(MostLines)],
            [.. Reading.Problems.Concat(later).OrderBy(p => p.Line), .. Reading.Lines.Count > MostLines ? new[] { new FileProblem(0, $"Only the first {MostLines} lines are taken at once.") } : []]);
        Names = [.. Reading.Lines.GroupBy(l => l.Player).Select(g => new FileName(g.Key, g.Count(), g.Min(l => l.Observation.Day), g.Max(l => l.Observation.Day),
            Children.FirstOrDefault(c => c.Name.Equals(g.Key, StringComparison.OrdinalIgnoreCase))?.Id)).OrderByDescending(n => n.Lines).Take(50)];
    }

    private string Folder => Path.Combine(Path.GetDirectoryName(database.File)!, "waiting");

    private string PathOf(string name) => Path.Combine(Folder, name + ".csv");
}
