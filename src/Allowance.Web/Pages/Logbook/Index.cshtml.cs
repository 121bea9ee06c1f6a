using Allowance.Core.Learner;
using Allowance.Core.Asks;
using Allowance.Core.Games;
using Allowance.Store;
using Allowance.Web.Files;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Allowance.Web.Pages.Logbook;

/// <summary>What happened, newest first: sittings, first looks, games typed in, imports, notes in words; found by child, skill, game, day and words.</summary>
public sealed class IndexModel(Store.Logbook logbook, Entries entries, Observations observations, Household household) : PageModel
{
    private const int PerPage = 30;
    public const int LongestWords = 2_000;

    public IReadOnlyList<LogLine> Lines { get; private set; } = [];

    public IReadOnlyList<Player> Players { get; private set; } = [];

    public IReadOnlyList<string> Games { get; private set; } = [];

    [BindProperty(SupportsGet = true)]
    public long? Player { get; set; }

    [BindProperty(SupportsGet = true)]
    public string? Skill { get; set; }

    [BindProperty(SupportsGet = true)]
    public string? Game { get; set; }

    [BindProperty(SupportsGet = true)]
    public string? From { get; set; }

    [BindProperty(SupportsGet = true)]
    public string? To { get; set; }

    [BindProperty(SupportsGet = true, Name = "words")]
    public string? Text { get; set; }

    public int At { get; private set; }

    public bool More { get; private set; }

    public string Problem { get; private set; } = "";

    public bool IsSearch => new[] { Skill, Game, From, To, Text }.Any(s => !string.IsNullOrWhiteSpace(s)) || Player is not null;

    public static string GameName(string id) => Catalogue.Data.FirstOrDefault(f => f.Id == id)?.Name ?? id;

    public string Who(LogLine line) => Core.Materials.Words.List(line.Players.Select(s => Players.FirstOrDefault(p => p.Id == s)?.Name ?? "somebody"));

    public void OnGet(int at = 0)
    {
        At = Math.Clamp(at, 0, 1_000_000);
        Players = household.People;
        Games = logbook.Games();
        var found = logbook.Search(new(Player, NullIfBlank(Game), Day(From), Day(To), AsksOf(Skill), NullIfBlank(Text)), PerPage + 1, At * PerPage);
        More = found.Count > PerPage;
        Lines = [.. found.Take(PerPage)];
    }

    private const int LinesAtOnce = 500;

    /// <summary>The notes that count, of one child or of all, as a file of observations; written as it is read.</summary>
    public async Task<IActionResult> OnGetFileAsync(long? player)
    {
        var people = household.People.Where(p => player is null || p.Id == player).ToList();
        var left = HttpContext.RequestAborted;
        Response.ContentType = "text/csv; charset=utf-8";
        Response.Headers.ContentDisposition = $"attachment; filename=observations-{household.Today:yyyy-MM-dd}.csv";
        await Send([], true);
        foreach (var person in people)
            foreach (var lines in observations.Stream(person.Id).Select(o => (NameInFile(person, people), o)).Chunk(LinesAtOnce)) await Send(lines, false);
        return new EmptyResult();

        async Task Send(IEnumerable<(string, Observation)> lines, bool withHeader)
        {
            using var writer = new StringWriter();
            ObservationFile.Write(writer, lines, withHeader);
            await Response.Body.WriteAsync(System.Text.Encoding.UTF8.GetBytes(writer.ToString()), left);
        }
    }

    /// <summary>Two of the same name are told apart in a file.</summary>
    private static string NameInFile(Player person, List<Player> people) =>
        people.Where(p => p.Name == person.Name).ToList() is { Count: > 1 } same ? $"{person.Name} ({same.IndexOf(person) + 1})" : person.Name;

    public IActionResult OnPostWords(long player, string? note)
    {
        string words = (note ?? "").Trim();
        if (household.Children.All(c => c.Id != player) || words.Length == 0) return Redirect("/logbook");
        if (words.Length > LongestWords)
        {
            Problem = $"A note has at most {LongestWords} characters; this one has {words.Length}. Nothing was saved yet.";
            Text = null;
            OnGet();
            Note = words;
            return Page();
        }
        entries.Add(EntryKind.Words, household.Now, "", null, words, [player], [], Request.PostId());
        return Redirect("/logbook");
    }

    /// <summary>A note in words that was too long, to be shortened.</summary>
    public string Note { get; private set; } = "";

    public string Address(int at) => "/logbook?" + string.Join('&', new (string Key, string? Value)[]
    {
        ("player", Player?.ToString()), ("skill", Skill), ("game", Game), ("from", From), ("to", To), ("words", Text), ("at", at == 0 ? null : at.ToString()),
    }.Where(p => !string.IsNullOrWhiteSpace(p.Value)).Select(p => $"{p.Key}={Uri.EscapeDataString(p.Value!)}"));

    private IReadOnlyList<string>? AsksOf(string? skill)
    {
        if (Skills.All.All(s => s.Id != skill)) return null;
        return [.. logbook.Asked().Where(text => Ask.Parse(text, out _) is { } ask && Feeds(ask, skill!))];
    }

    private static bool Feeds(Ask ask, string skill)
    {
        Span<int> bands = stackalloc int[4];
        foreach (int band in bands[..Feeding.Of(ask, bands)])
            if (Feeding.Bands[band].Skill.Id == skill) return true;
        return false;
    }

    private DateOnly? Day(string? text) => household.Calendar.Read(text);

    private static string? NullIfBlank(string? text) => string.IsNullOrWhiteSpace(text) ? null : text.Trim();
}

public static class EntryWords
{
    /// <summary>In the place of a game: a grown-up's word that something is known already.</summary>
    public const string Known = "known";

    public static string Says(this EntryKind kind, string game) => kind switch
    {
        EntryKind.Words when game == Known => "Said to be known already",
        EntryKind.FirstLook => LookFocus.Find(game) is { } focus ? $"First look: {focus.Says}" : "First look", EntryKind.Typed => game.Length > 0 ? IndexModel.GameName(game) : "A game away from the app", EntryKind.Import => "A file of observations", _ => "A note in words",
    };
}
