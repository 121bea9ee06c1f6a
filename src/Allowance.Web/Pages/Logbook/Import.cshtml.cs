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
public sealed class ImportModel(Household household, Imports imports) : PageModel
{
    public const long LargestFile = 16 * 1024 * 1024;

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
        using var stream = file!.OpenReadStream();
        Show(imports.Keep(stream));
        if (Reading!.Lines.Count > 0) return Page();
        imports.Drop(Waiting!);
        Waiting = null;
        return Page();
    }

    /// <param name="names">The names in the file, and for each in <paramref name="players"/> whose notes they are; 0 leaves them out.</param>
    public IActionResult OnPostTake(string? waiting, string?[]? names, long[]? players)
    {
        var whose = (names ?? []).Zip(players ?? []).Where(p => p.First is not null && Children.Any(c => c.Id == p.Second)).DistinctBy(p => p.First).ToDictionary(p => p.First!, p => p.Second);
        if (!imports.Waits(waiting))
        {
            Problem = "That file is not waiting any more: it was brought in, or waited too long. The logbook shows which; else choose it again.";
            return Page();
        }
        if (whose.Count > 0) return Redirect($"/logbook/entry/{imports.BringIn(waiting!, whose)}");
        Show(waiting!);
        Problem = "Say for at least one name whose notes they are.";
        return Page();
    }

    private void Show(string name)
    {
        Waiting = name;
        Reading = imports.Read(name);
        Names = [.. Reading.Lines.GroupBy(l => l.Player).Select(g => new FileName(g.Key, g.Count(), g.Min(l => l.Observation.Day), g.Max(l => l.Observation.Day),
            Children.FirstOrDefault(c => c.Name.Equals(g.Key, StringComparison.OrdinalIgnoreCase))?.Id)).OrderByDescending(n => n.Lines).Take(50)];
    }
}
