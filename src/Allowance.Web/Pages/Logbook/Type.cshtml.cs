using System.Globalization;
using Allowance.Core.Asks;
using Allowance.Core.Forms;
using Allowance.Core.Learner;
using Allowance.Store;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Allowance.Web.Pages.Logbook;

/// <summary>One line of a game typed in: what was asked, how she got there, and how often.</summary>
public sealed class TypedLine
{
    public string? Kind { get; set; }
    public string? Numbers { get; set; }
    public string? Form { get; set; }
    public string? Outcome { get; set; }
    public string? Times { get; set; }

    public bool IsEmpty => string.IsNullOrWhiteSpace(Numbers);
}

/// <summary>A game that was played away from the app: who, when, what, how long, and a few of the asks with how she got there.</summary>
public sealed class TypeModel(Household household, Entries entries) : PageModel
{
    public const int LinesShown = 5, MostTimes = 50;

    public IReadOnlyList<Player> Children => household.Children;

    [BindProperty]
    public long Player { get; set; }

    [BindProperty]
    public string? Day { get; set; }

    [BindProperty]
    public string? Game { get; set; }

    [BindProperty]
    public string? Minutes { get; set; }

    [BindProperty]
    public string? Remark { get; set; }

    [BindProperty]
    public List<TypedLine> Lines { get; set; } = [];

    public string Problem { get; private set; } = "";

    public string Today => $"{household.Today:yyyy-MM-dd}";

    public static IReadOnlyList<FormFacts> Forms => [.. FormTable.All.Where(f => f.Form != Form.None)];

    public void OnGet(long? player)
    {
        Player = player ?? Children.FirstOrDefault()?.Id ?? 0;
        Day = Today;
        Fill();
    }

    public IActionResult OnPost()
    {
        var notes = new List<(long, Observation)>();
        if (!Read(notes, out double? minutes, out var at))
        {
            Fill();
            return Page();
        }
        long id = entries.Add(EntryKind.Typed, at, (Game ?? "").Trim(), minutes, (Remark ?? "").Trim(), [Player], notes, Request.PostId());
        return Redirect($"/logbook/entry/{id}");
    }

    private void Fill()
    {
        while (Lines.Count < LinesShown) Lines.Add(new());
    }

    private bool Read(List<(long, Observation)> notes, out double? minutes, out DateTimeOffset at)
    {
        minutes = null;
        at = household.Now;
        if (Children.All(c => c.Id != Player)) return No("Choose a child.");
        if (household.Calendar.Read(Day) is not { Year: >= 1990 } day || day > household.Today) return No($"Write the day it was played, today or before, like {household.Calendar.Written(household.Today)}.");
        if ((Game ?? "").Trim().Length is 0 or > 60) return No("Say in up to 60 characters which game it was.");
        if ((Remark ?? "").Length > IndexModel.LongestWords) return No($"The remark has at most {IndexModel.LongestWords} characters.");
        if (!string.IsNullOrWhiteSpace(Minutes))
        {
            if (!double.TryParse(Minutes, NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture, out double read) || read is <= 0 or > 600) return No("Minutes are a number up to 600, or left empty.");
            minutes = read;
        }
        if (day != household.Today) at = new(day.ToDateTime(new TimeOnly(16, 0)), household.Now.Offset);
        for (int i = 0; i < Lines.Count; i++)
        {
            if (Lines[i].IsEmpty) continue;
            if (ReadLine(Lines[i], at, notes) is { } problem) return No($"Line {i + 1}: {problem}");
        }
        return notes.Count > 0 || (Remark ?? "").Trim().Length > 0 || No("Fill in at least one line, or a remark.");

        bool No(string words)
        {
            Problem = words;
            return false;
        }
    }

    private string? ReadLine(TypedLine line, DateTimeOffset at, List<(long, Observation)> notes)
    {
        var facts = AskKinds.All.FirstOrDefault(k => k.Id == line.Kind);
        if (facts is null) return "choose what was asked.";
        string forms = facts.Forms == 0 ? "" : facts.Forms == 2 ? $" {line.Form} numeral" : $" {line.Form}";
        string text = $"{facts.Id} {string.Join(' ', (line.Numbers ?? "").Split([' ', ',', '+', ';'], StringSplitOptions.RemoveEmptyEntries))}{forms}";
        if (Ask.Parse(text, out string problem) is not { } ask) return problem;
        if (!int.TryParse(line.Outcome, out int n) || n is < 0 or > 6 || n < 6 && !Outcomes.Of(ask).Contains((Outcome)n)) return "there is nothing to count here, so it is right or not: choose not yet, with help, or right, not watched.";
        if (!int.TryParse(string.IsNullOrWhiteSpace(line.Times) ? "1" : line.Times, out int times) || times is < 1 or > MostTimes) return $"how often is a number from 1 to {MostTimes}.";
        for (int k = 0; k < times; k++) notes.Add((Player, new Observation(at, ask, Seen.Of(n), null, Source.Typed)));
        return null;
    }
}
