using System.Text;
using System.Text.Encodings.Web;
using System.Text.Json;
using System.Text.Json.Nodes;
using System.Text.RegularExpressions;
using Allowance.Core.Forecasts;
using Allowance.Core.Forms;
using Allowance.Core.Games;
using Allowance.Core.Materials;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Tables;
using Allowance.Core.Tuning;
using Allowance.Store;
using Allowance.Web.Pictures;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Allowance.Web.Pages.Bench;

/// <summary>The bench: a setup seen from above, and beside it what playing it will be like.</summary>
[Computes]
public sealed partial class IndexModel(Household household, Advising advising, Tables tables, SavedSetups saved) : PageModel
{
    private const int Samples = 2_000, SamplesForChanges = 300, ChangesShown = 4;

    /// <summary>A change in the chance of being right that is smaller is not told as one.</summary>

    /// <summary>Fields of the bench itself, which stand beside the setup's in a link or form: no knob begins so.</summary>
    public const string OpenField = "bench.open", WasField = "bench.was", GroupField = "bench.group";

    public Setup Setup { get; private set; } = null!;

    /// <summary>The setup, where nothing is wrong with it.</summary>
    public Playable? Playable { get; private set; }

    public IReadOnlyList<Problem> Problems { get; private set; } = [];

    public Forecast? Forecast { get; private set; }

    /// <summary>What has its knobs open: a thing on the table by its word, a place as s1 … s8, the files; or nothing.</summary>
    public string Open { get; private set; } = "";

    public const string Files = "files";

    /// <summary>The place whose knobs are open.</summary>
    public int? OpenSeat => PlaceKey().IsMatch(Open) && int.TryParse(Open[1..], out int place) && place <= Setup.Seats.Length ? place - 1 : null;

    /// <summary>The facts in words, how far each roll gets, and where the first choice leads; none where that would take too long.</summary>
    public (string Heading, string Says)? Told { get; private set; }

    public IReadOnlyList<Journey> Journeys { get; private set; } = [];

    public ChoiceTree? Choices { get; private set; }

    public Household Household => household;

    private Budget? whole;

    /// <summary>What this page may take.</summary>
    private Budget Budget => whole ??= household.Budget(HttpContext.RequestAborted);

    public IReadOnlyList<SavedSetup> Saved { get; private set; } = [];

    public IReadOnlyList<(string Says, string Was, string Now)> Moved { get; private set; } = [];

    public string Was { get; private set; } = "";

    /// <summary>The same as values that every request from the bench takes along.</summary>
    public string Values => JsonSerializer.Serialize(new Dictionary<string, string> { [WasField] = Was });

    /// <summary>A knob was turned since the figures in <see cref="Was"/> were shown.</summary>
    public bool HasMoved { get; private set; }

    public string? Remark { get; private set; }

    /// <summary>The table as it will be; null where the setup does not go.</summary>
    public Drawing? Drawing { get; private set; }

    /// <summary>The things on the table that have knobs, each with what it is set to, in words; the game itself first.</summary>
    public IReadOnlyList<(Sits Sits, string Says)> Things { get; private set; } = [];

    /// <summary>The knobs of a thing that change anything in this setup.</summary>
    public IReadOnlyList<Knob> KnobsOf(Sits sits) => [.. Setup.Frame.Knobs.Where(k => k.Scope.HasFlag(Scope.Table) && k.Sits == sits && Catalogue.Of(Setup).Matters(Setup, k))];

    public static string Word(Sits sits) => sits.ToString().ToLowerInvariant();

    /// <summary>What a thing is called above its knobs.</summary>
    public string Heading(Sits sits) => sits switch
    {
        Sits.Game => "The game",
        Sits.Deck => Setup.Frame.Knob(KnobRole.Deck) is null ? "What is on the cards" : "The pack",
        Sits.Cards => "What lies there",
        _ => $"The {Word(sits)}",
    };

    private string Says(Sits sits)
    {
        var frame = Catalogue.Of(Setup);
        if (sits == Sits.Game) return Playable is null ? Setup.Level.Label.ToLowerInvariant() : frame.Summary(Setup);
        var set = KnobsOf(sits).Select(k => (Knob: k, Value: Setup.Get(k) ?? (Playable is null ? null : frame.LeftOpen(Setup, k)))).Where(k => k.Value is not null).ToList();
        var shown = set.Where(k => k.Value is FormsValue || k.Value is ChoiceValue choice && FormTable.Find(choice.Id) is not null).Select(k => k.Value!.Says()).Distinct().ToList();
        var others = set.Where(k => k.Knob.Kind is SizeKind or DeckKind or NumbersKind or DiceKind or RangeKind or CountsKind or NounsKind || k.Knob is { Kind: FlagKind, Role: KnobRole.Aid } || k.Knob.Kind is WholeKind && k.Knob.Belongs != Belongs.Fairness)
            .Select(k => k.Value switch { WholeValue n => $"{k.Knob.Label.ToLowerInvariant()} {n}", FlagValue { On: var on } => on ? k.Knob.Label.ToLowerInvariant() : "", var value => value!.Says() }).Where(says => says.Length > 0).Take(MostSaid);
        return string.Join(", ", others.Concat(shown.Count == 0 ? Array.Empty<string>() : ["as " + Words.List(shown)])) is { Length: > 0 } says ? says : "as it is";
    }

    private const int MostSaid = 3;

    /// <summary>A room for the drawing that leaves the places around it theirs.</summary>
    private Room Room => ScreenRoom.Of(Request).Width < NarrowScreen ? new(370, 300) : Setup.Seats.Length switch { 1 => new(800, 430), 2 => new(620, 430), 3 => new(620, 340), _ => new(450, 340) };

    private const int NarrowScreen = 600;

    /// <summary>The same with another rule level.</summary>
    public string AtLevel(Level level) => Link(Setup with { LevelId = level.Id }, Open);

    /// <summary>The shelf, for the people who sit here.</summary>
    public string Shelf => "/shelf?" + string.Join('&', Setup.LinkParts().Where(p => p.Key[0] == 's' && !p.Key.Contains('.') && Setup.Frame.Knob(p.Key) is null).Select(p => $"{p.Key}={Uri.EscapeDataString(p.Value)}"));

    public IReadOnlyList<Player> NotSeated => [.. household.People.Where(p => p.Plays && Setup.Seats.All(s => s.Key != p.Id.ToString()))];

    public bool IsFragment => Request.Headers.ContainsKey("HX-Request");

    public IActionResult OnGet()
    {
        if (!Request.Query.Keys.Any(k => k is "game" or "level" or "s1") && household.Children.FirstOrDefault() is { } child)
            return Redirect("/bench?" + ProposedFor(child).ToLink());
        Read(Request.Query.Select(q => KeyValuePair.Create(q.Key, q.Value.ToString())));
        if (!IsFragment) return Page();
        Response.Headers["HX-Push-Url"] = Link(Setup, Open);
        return Partial("_Bench", this);
    }

    private Setup ProposedFor(Player child) => advising.For(child, null, 1) is [var first, ..] ? first.Setup : Setup.Default(Catalogue.Data[0], household.SeatOf(child));

    private void Read(IEnumerable<KeyValuePair<string, string>> pairs)
    {
        var values = pairs.GroupBy(p => p.Key).ToDictionary(g => g.Key, g => g.Last().Value);
        ComposeKnobs(values);
        ComposeGroup(values);
        Open = values.GetValueOrDefault(OpenField, "");
        Was = values.GetValueOrDefault(WasField, "");
        var reading = Catalogue.ReadLink(values, household.SeatOf);
        (Playable, Problems) = (reading.Playable, reading.Problems);
        Setup = reading.Setup ?? Setup.Default(Catalogue.Data[0], Seat.Child(""));
        Saved = saved.All();
        // What a setup that does not go comes to, a frame may not be able to say.
        Things = [.. new[] { Sits.Game }.Concat(Setup.Frame.Knobs.Select(k => k.Sits)).Distinct().Where(s => s != Sits.Place && KnobsOf(s).Count > 0).Order().Select(s => (s, Says(s)))];
        if (Playable is null) return;
        Drawing = Core.Tables.Drawing.Of(Playable.Pictured(), Room, new DrawnBy(household.PictureStyle, SeatName, (_, _) => 0));
        Forecast = household.Forecast(Playable, Samples, Budget);
        Picture(Playable, Forecast);
        HasMoved = Was.Length > 0;
        Moved = Moves(Was, Figures(Forecast));
        Was = Figures(Forecast);
        Remark = HouseRule();
    }

    /// <summary>Facts that are counted elsewhere were played here.</summary>
    public bool WasPlayed { get; private set; }

    private void Picture(Playable playable, Forecast forecast)
    {
        WasPlayed = forecast.Facts.WerePlayed;
        var spending = Budget.Exactly();
        try
        {
            Told = forecast.Facts.All.Count == 0 ? null : playable.InWords(forecast.Facts, 60 * forecast.Minutes.Mean / Math.Max(1, forecast.Turns.Mean), spending);
            Journeys = playable.Journeys(spending);
            Choices = playable.Choices;
        }
        catch (BudgetSpentException)
        {
            // What there was no time for is not drawn; the figures stand.
        }
    }

    /// <summary>Knobs that are turned by several fields, named after the knob with a dot and the part, become one value each.</summary>
    private static void ComposeKnobs(Dictionary<string, string> values)
    {
        if (Catalogue.Data.FirstOrDefault(f => f.Id == values.GetValueOrDefault("game", Catalogue.Data[0].Id)) is not { } frame) return;
        foreach (var knob in frame.Knobs)
        {
            if (knob.Scope.HasFlag(Scope.Table)) Compose(knob, knob.Id);
            if (knob.Scope.HasFlag(Scope.Seat))
                for (int seat = 1; seat <= frame.MostPlayers; seat++) Compose(knob, $"s{seat}.{knob.Id}");
        }

        void Compose(Knob knob, string name)
        {
            if (knob.Kind.FromFields(part => values.GetValueOrDefault($"{name}.{part}")) is { } text) values[name] = text;
        }
    }

    /// <summary>A group of so many: children who are not named take the last places, or leave them.</summary>
    private static void ComposeGroup(Dictionary<string, string> values)
    {
        if (!values.Remove(GroupField, out var text) || !int.TryParse(text, out int wanted) || wanted is < 1 or > Engine.MostInGroup) return;
        for (int i = 1; i <= Engine.MostInGroup; i++)
        {
            if (i <= wanted) values.TryAdd($"s{i}", "child");
            else
                foreach (string key in values.Keys.Where(k => k == $"s{i}" || k.StartsWith($"s{i}.", StringComparison.Ordinal)).ToList()) values.Remove(key);
        }
    }

    /// <summary>Many can answer at once.</summary>
    public bool IsGroup => Setup.Get<ChoiceValue>(KnobRole.Answers)?.Id == Core.Games.Glimpse.AtOnce;

    /// <summary>The figures that are compared when a knob has moved, as text that travels with the form.</summary>
    private static string Figures(Forecast f) => string.Join(';', new[]
    {
        $"minutes={f.Minutes.P10:0}–{f.Minutes.P90:0}", $"turns={f.Turns.Mean:0}", $"nothing goes={Pictures.Curves.Percent(f.Stuck)}",
    }.Concat(f.Players.Where(p => p.Success is not null).Select((p, i) => $"right, {i + 1}={Pictures.Curves.Percent(p.Success!.Value)}")));

    private List<(string, string, string)> Moves(string was, string now)
    {
        var before = was.Split(';').Select(p => p.Split('=')).Where(p => p.Length == 2).DistinctBy(p => p[0]).ToDictionary(p => p[0], p => p[1]);
        return [.. now.Split(';').Select(p => p.Split('=')).Where(p => before.TryGetValue(p[0], out var old) && old != p[1]).Select(p => (Says(p[0]), before[p[0]], p[1]))];
    }

    private string Says(string figure) => figure.StartsWith("right, ", StringComparison.Ordinal) && int.TryParse(figure[7..], out int n)
        ? $"{SeatName(Forecast!.Players.Select((p, i) => (p, i)).Where(x => x.p.Success is not null).ElementAt(n - 1).i)} right"
        : figure;

    public string SeatName(int seat) => Setup.Seats[seat].Name is { Length: > 0 } name ? name : Setup.Seats[seat].GrownUp ? "a grown-up" : Setup.Seats[seat].Age is { } age ? $"a child of {age:0.#}" : "a child";

    private string? HouseRule()
    {
        if (!household.OneChangeAtATime) return null;
        for (int i = 0; i < Setup.Seats.Length; i++)
        {
            if (!long.TryParse(Setup.Seats[i].Key, out long id) || Setup.Seats[i].GrownUp || tables.LastPlayed(id, Setup.Frame.Id) is not { } last) continue;
            var changed = Steps.Differences(last.Setup, last.Seat, Setup, i);
            if (changed.Count > 1)
                return $"Since {SeatName(i)} played last, {Words.List(changed.Select(b => b == Belongs.RuleLevel ? "the rule level" : b == Belongs.Form ? "the form" : "the range"))} have changed. One at a time is easier to take in.";
        }
        return null;
    }

    public string Link(Setup setup, string open) => $"/bench?{setup.ToLink()}" + (open.Length > 0 ? $"&{OpenField}={Uri.EscapeDataString(open)}" : "");

    /// <summary>The link that puts the nearest working value in the place of a refused one; null where there is none.</summary>
    public string? Nearest(Problem problem)
    {
        if (problem.Nearest is null) return null;
        string key = LinkKey(problem.Path);
        string knobId = key.Contains('.') ? key[(key.IndexOf('.') + 1)..] : key;
        string? value = knobId is "level" or "game" || key.StartsWith('s') && !key.Contains('.') ? problem.Nearest.ToString() : KnobText(knobId, problem.Nearest);
        if (value is null) return null;
        var values = Request.Query.Where(q => IsOfTheSetup(q.Key)).ToDictionary(q => q.Key, q => q.Value.ToString());
        foreach (var (k, v) in Setup.LinkParts()) values.TryAdd(k, v);
        values[key] = value;
        return "/bench?" + string.Join('&', values.Select(v => $"{v.Key}={Uri.EscapeDataString(v.Value)}"));
    }

    /// <summary>It is the game, the level, a knob, a place or a place's own knob.</summary>
    private bool IsOfTheSetup(string key) => key is "game" or "level" || Setup.Frame.Knob(key) is not null || PlaceKey().IsMatch(key);

    [GeneratedRegex(@"^s\d{1,2}(\.\w+)?$")]
    private static partial Regex PlaceKey();

    /// <summary>The words for a nearest value.</summary>
    public string NearestSays(Problem problem)
    {
        string key = LinkKey(problem.Path), knobId = key.Contains('.') ? key[(key.IndexOf('.') + 1)..] : key;
        if (knobId == "level") return Setup.Frame.Level(problem.Nearest!.ToString())?.Label ?? problem.Nearest!.ToString();
        var reading = new List<Problem>();
        return Setup.Frame.Knob(knobId) is { } knob && KnobText(knobId, problem.Nearest!) is { } text && knob.Kind.FromLink(text, "", reading) is { } value ? value.Says() : problem.Nearest!.ToString();
    }

    private string? KnobText(string knobId, JsonNode nearest)
    {
        var problems = new List<Problem>();
        if (Setup.Frame.Knob(knobId) is not { } knob) return null;
        using var json = JsonDocument.Parse(nearest.ToJsonString());
        return knob.Kind.FromJson(json.RootElement, "", problems)?.ToLink() ?? knob.Kind.FromLink(nearest.ToString(), "", [])?.ToLink();
    }

    private static string LinkKey(string path)
    {
        if (path.StartsWith("table.", StringComparison.Ordinal)) return path[6..];
        if (path.StartsWith("players[", StringComparison.Ordinal) && path.IndexOf(']') is var end && end > 0)
            return $"s{int.Parse(path[8..end]) + 1}" + (path.LastIndexOf('.') is var dot && dot > end ? path[dot..] : "");
        return path;
    }

    /// <summary>Easier and harder: single changes, each with what it does, worked out after the bench itself has been shown.</summary>
    /// <param name="best">Only the smallest step each way.</param>
    public IActionResult OnGetChanges(int seat, bool best)
    {
        Read(Request.Query.Where(q => q.Key is not ("seat" or "best")).Select(q => KeyValuePair.Create(q.Key, q.Value.ToString())));
        if (Forecast is null || seat < 0 || seat >= Setup.Seats.Length) return Content("");
        var changes = Around(household, Playable!, Forecast, seat, SamplesForChanges, best ? 1 : ChangesShown, Budget) with { Link = s => Link(s, Open) };
        return best ? Partial("_Best", changes) : Partial("_Changes", changes);
    }

    /// <summary>Even it out: the smallest change of allowances that makes the game fair, worked out when it is asked for.</summary>
    public IActionResult OnGetEven()
    {
        Read(Request.Query.Select(q => KeyValuePair.Create(q.Key, q.Value.ToString())));
        if (Problems.Count > 0) return Content("");
        return EvenOut.For(Playable!, household.Answers, budget: Budget) is { } evened ? Partial("_Even", new Evening(evened, SeatName, Link(evened.Setup, Open))) : Content("");
    }

    /// <summary>Single changes for a seat, easier ones and harder ones, and those that only make it longer or shorter; each with how long it takes then.</summary>
    internal static Changes Around(Household household, Playable playable, Forecast now, int seat, int samples, int shown, Budget budget)
    {
        var changes = Easing.Around(playable, seat, household.Answers, samples, budget.Whole, household.Cupboard);
        return new(now.Minutes.P50, Shown(changes.Nearest(Ease.Easier, shown)), Shown(changes.Nearest(Ease.Harder, shown)), Shown(changes.Where(c => c.Step.Belongs == Belongs.Length).Take(shown)), _ => "");

        IReadOnlyList<ChangeEffect> Shown(IEnumerable<Eased> some) => [.. some.Select(c => new ChangeEffect(c, household.Glance(c.Step.Playable, samples, budget).Minutes.P50))];
    }

    public IActionResult OnPostPlay([FromForm(Name = "bench.way")] string? way)
    {
        Read(Form());
        if (Playable is null) return Page();
        long id = tables.Start(Playable, Ways.Of(way), Request.PostId());
        return Redirect($"/table/{id}");
    }

    public IActionResult OnPostSave([FromForm(Name = "bench.name")] string? name)
    {
        Read(Form());
        string words = (name ?? "").Trim();
        if (Problems.Count > 0) return Page();
        if (words.Length is 0 or > 60)
        {
            Problems = [new("bench.name", words.Length == 0 ? "Give the setup a name to save it under." : "A name has at most 60 letters.")];
            return Page();
        }
        saved.Save(words, Setup.ToJson().ToJsonString(), household.Now);
        return Redirect(Link(Setup, Files));
    }

    /// <param name="back">The setup that lies on the bench, as a link.</param>
    public IActionResult OnPostForget(long id, string? back)
    {
        saved.Remove(id);
        return Redirect("/bench" + QueryString.Create(Microsoft.AspNetCore.WebUtilities.QueryHelpers.ParseQuery(back)));
    }

    private static readonly JsonSerializerOptions Readable = new() { WriteIndented = true, Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping };

    public IActionResult OnGetDownload()
    {
        Read(Request.Query.Select(q => KeyValuePair.Create(q.Key, q.Value.ToString())));
        return File(Encoding.UTF8.GetBytes(Setup.ToJson().ToJsonString(Readable)), "application/json", $"{Setup.Frame.Id}-setup.json");
    }

    public IActionResult OnGetSaved(long id) => saved.Find(id) is { } kept ? OpenJson(kept.Json) : Redirect("/bench");

    public async Task<IActionResult> OnPostOpenAsync(IFormFile? file)
    {
        if (file is null || file.Length == 0) return Refuse([new("", "Choose a setup file first.")]);
        if (file.Length > SetupFile.MostBytes) return Refuse([new("", $"{file.FileName} is larger than {SetupFile.MostBytes / 1024} KB; a setup is a page of text.")]);
        using var reader = new StreamReader(file.OpenReadStream(), Encoding.UTF8);
        return OpenJson(await reader.ReadToEndAsync());
    }

    private IActionResult OpenJson(string json)
    {
        var reading = Catalogue.Read(json);
        return reading.Playable is { Setup: var setup } ? Redirect(Link(Recognised(setup), "")) : Refuse(reading.Problems);
    }

    /// <summary>Seats whose names are those of people here become theirs; others stay children of their age.</summary>
    private Setup Recognised(Setup setup)
    {
        var people = household.People.Where(p => p.Plays).ToList();
        return setup with { Seats = [.. setup.Seats.Select(s => people.FirstOrDefault(p => string.Equals(p.Name, s.Name, StringComparison.OrdinalIgnoreCase) && s.Name.Length > 0) is { } p ? s with { Key = p.Id.ToString() } : s)] };
    }

    /// <summary>A file that cannot be opened leaves the bench as it was, with what to do.</summary>
    private PageResult Refuse(IReadOnlyList<Problem> problems)
    {
        Read(household.Children.FirstOrDefault() is { } child ? ProposedFor(child).LinkParts().Select(p => KeyValuePair.Create(p.Key, p.Value)) : []);
        Problems = problems;
        Open = Files;
        return Page();
    }

    private IEnumerable<KeyValuePair<string, string>> Form() => Request.Form.Select(f => KeyValuePair.Create(f.Key, f.Value.ToString()));
}

/// <param name="Minutes">The middle length after the change.</param>
public sealed record ChangeEffect(Eased Change, double Minutes)
{
    public string Says => Change.Step.Says;

    public Setup Setup => Change.Step.Setup;

    /// <summary>How often she is right without it and with it; empty where the ladder alone says which way it goes.</summary>
    public string Right => Change.IsShownBy ? $"right {Curves.Percent(Change.Before)} → {Curves.Percent(Change.After)}" : "";
}

/// <param name="Minutes">The middle length as it is.</param>
public sealed record Changes(double Minutes, IReadOnlyList<ChangeEffect> Easier, IReadOnlyList<ChangeEffect> Harder, IReadOnlyList<ChangeEffect> Length, Func<Setup, string> Link);

public sealed record Evening(Evened Evened, Func<int, string> Name, string Link);

/// <summary>One knob in a panel of the bench.</summary>
/// <param name="Given">The value that was set; null where it was left open.</param>
/// <param name="Otherwise">The value where it is left open; null for none.</param>
/// <param name="OfSeat">It is a seat's own, not the table's.</param>
public sealed record KnobField(Knob Knob, string Name, string Id, KnobValue? Given, KnobValue? Otherwise, bool OfSeat = false);

/// <summary>The knobs of what is open.</summary>
/// <param name="Side">Where they open, beside their thing.</param>
public sealed record KnobsBeside(IndexModel Bench, string Side);
