using System.Globalization;
using System.Text;
using System.Text.Json.Nodes;
using Allowance.Core.Asks;
using Allowance.Core.Forms;
using Allowance.Core.Learner;
using Allowance.Core.Tuning;
using Allowance.Store;
using Allowance.Web.Pictures;
using CsvHelper;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Allowance.Web.Pages.Growth;

/// <summary>What was chosen to see the evidence of: a heading, how it stands, and the notes.</summary>
public sealed record EvidenceOf(string Heading, double? Right, string Stands, Certainty Certainty, IReadOnlyList<StoredObservation> Notes);

/// <summary>
/// How a child grows, in pictures: the skill path, the number wall, the bond triangle, the path of methods and glimpses, on
/// today or an earlier day, with the evidence behind any cell.
/// </summary>
public sealed class IndexModel(Household household, Advising advising, AimWishes wishes, Entries entries) : PageModel
{
    private const int EvidenceShown = 40, Weeks = 12, MostAims = 6;

    private static readonly Form[] WallForms =
    [
        Form.Scatter, Form.Dice, Form.Domino, Form.Fingers, Form.Row, Form.FiveFrame, Form.TenFrame, Form.DoubleTenFrame, Form.Rack, Form.Tally, Form.Numeral, Form.Word,
    ];

    private ChildModel model = null!;
    private ChildLog log = null!;
    private ILookup<Ask, AskCount>? counts;

    public Player? Child { get; private set; }

    public IReadOnlyList<Player> Children => household.Children;

    /// <summary>The largest number of the wall and the largest whole of the triangle: 10 or 20.</summary>
    public int Most { get; private set; } = 10;

    public DateOnly Day { get; private set; }

    public bool IsToday => Day == household.Today;

    public IReadOnlyList<SkillStanding> Skills { get; private set; } = [];

    public IReadOnlyList<WallCell> Wall { get; private set; } = [];

    public IReadOnlyList<BondCell> Cells { get; private set; } = [];

    public IReadOnlyList<MethodWeek> Methods { get; private set; } = [];

    public IReadOnlyList<GlimpseThreshold> Glimpses { get; private set; } = [];

    private const int MostAdvised = 3;

    public IReadOnlyList<Advised> Advice { get; private set; } = [];

    /// <summary>What she could grow in on that day, the worthiest first; without what only comes along.</summary>
    public IReadOnlyList<Aim> Aims { get; private set; } = [];

    /// <summary>What was just said to be known.</summary>
    public Entry? Known { get; private set; }

    /// <summary>The skill bands that were set aside.</summary>
    public IReadOnlyList<int> SetAside { get; private set; } = [];

    public int Seen { get; private set; }

    public EvidenceOf? Evidence { get; private set; }

    public IActionResult OnGet(long? id, int most = 10, string? day = null, string? cell = null, long? known = null)
    {
        if (id is null) return household.Children.FirstOrDefault() is { } first ? Redirect($"/growth/{first.Id}") : Page();
        if (!Load(id.Value, most, day)) return NotFound();
        Known = known is { } said && entries.Find(said) is { Game: Logbook.EntryWords.Known } entry && entry.Players.Contains(Child!.Id) ? entry : null;
        Evidence = cell is null ? null : EvidenceFor(cell);
        if (Request.Headers.ContainsKey("HX-Request")) return Partial("_Evidence", this);
        Skills = Readiness.Of(model, household.Approach, Day);
        var wished = wishes.Of(Child!.Id);
        Aims = [.. Core.Tuning.Aims.Of(model, household.Approach, Day, wished).Where(a => a.Kind != AimKind.Keep || a.IsFirst).Take(MostAims)];
        SetAside = [.. wished.Where(w => w.Wish == Wish.Aside).Select(w => w.Band)];
        Wall = [.. WallForms.SelectMany(form => Enumerable.Range(0, Most + 1).Where(n => n >= form.Facts().Low && n <= form.Facts().High).Select(n => Stone(form, n)))];
        Cells = [.. from whole in Enumerable.Range(2, Most - 1) from small in Enumerable.Range(0, whole / 2 + 1) select CellOf(whole, small)];
        Seen = log.CountUpTo(Day);
        Methods = MethodWeek.Path(log.WatchedByDay(Day.AddDays(-7 * Weeks - 6), Day).Select(w => (w.Day, w.Count.Ask, w.Count.Seen.Outcome!.Value, w.Count.Times)), Day, Weeks, household.Calendar.FirstDay);
        Glimpses = GlimpseThreshold.Of(log.Glimpses(Day));
        Advice = advising.For(Child!, null, MostAdvised);
        return Page();
    }

    /// <summary>Puts an aim first for a week, sets it aside, or takes either back.</summary>
    public IActionResult OnPostWish(long id, int band, Wish? wish)
    {
        if (household.Children.All(c => c.Id != id) || band < 0 || band >= Feeding.Bands.Count) return NotFound();
        wishes.Put(id, band, wish, household.Today, Request.PostId());
        return Redirect($"/growth/{id}#ready");
    }

    /// <summary>Keeps a grown-up's word that she knows a skill band already, as a note of its own.</summary>
    public IActionResult OnPostKnown(long id, int band)
    {
        if (household.Children.All(c => c.Id != id) || band < 0 || band >= Feeding.Bands.Count) return NotFound();
        var notes = Core.Tuning.Aims.SaidToBeKnown(band).Select(ask => (id, new Observation(household.Now, ask, Core.Asks.Seen.NotWatched(true), null, Source.Typed)));
        long entry = entries.Add(EntryKind.Words, household.Now, Logbook.EntryWords.Known, null, $"{Core.Materials.Words.Capital(Feeding.Bands[band].Skill.Says)}, to {Feeding.Bands[band].Band}.", [id], [.. notes], Request.PostId());
        return Redirect($"/growth/{id}?known={entry}#ready");
    }

    /// <summary>How every skill band stands, as a file.</summary>
    public IActionResult OnGetFile(long id, string? day = null, string format = "csv")
    {
        if (!Load(id, 10, day)) return NotFound();
        var bands = Enumerable.Range(0, Feeding.Bands.Count).Select(b => model.Standing(b, Day)).ToList();
        string name = $"growth-{Day:yyyy-MM-dd}.{(format == "json" ? "json" : "csv")}";
        if (format == "json") return File(Encoding.UTF8.GetBytes(AsJson(bands).ToJsonString()), "application/json", name);
        using var writer = new StringWriter();
        using (var csv = new CsvWriter(writer, CultureInfo.InvariantCulture))
        {
            foreach (string column in new[] { "day", "strand", "skill", "band", "word", "right", "careful", "sure", "observations", "days_right", "last_met" }) csv.WriteField(column);
            csv.NextRecord();
            foreach (var band in bands)
            {
                csv.WriteField($"{Day:yyyy-MM-dd}");
                csv.WriteField(band.SkillBand.Skill.Strand.ToString().ToLowerInvariant());
                csv.WriteField(band.SkillBand.Skill.Id);
                csv.WriteField(band.SkillBand.Band);
                csv.WriteField(band.Word.Says());
                csv.WriteField(band.Right.ToString("0.0000", CultureInfo.InvariantCulture));
                csv.WriteField(band.Careful.ToString("0.0000", CultureInfo.InvariantCulture));
                csv.WriteField(band.Certainty.Says());
                csv.WriteField(band.Seen);
                csv.WriteField(band.RightDays);
                csv.WriteField(band.LastMet is { } met ? $"{met:yyyy-MM-dd}" : "");
                csv.NextRecord();
            }
        }
        return File(Encoding.UTF8.GetBytes(writer.ToString()), "text/csv; charset=utf-8", name);
    }

    private JsonObject AsJson(IReadOnlyList<BandStanding> bands) => new()
    {
        ["format"] = "allowance-growth/1",
        ["day"] = $"{Day:yyyy-MM-dd}",
        ["observations"] = log.CountUpTo(Day),
        ["skills"] = new JsonArray([.. bands.Select(b => (JsonNode)new JsonObject
        {
            ["strand"] = b.SkillBand.Skill.Strand.ToString().ToLowerInvariant(),
            ["skill"] = b.SkillBand.Skill.Id,
            ["band"] = b.SkillBand.Band,
            ["word"] = b.Word.Says(),
            ["right"] = Math.Round(b.Right, 4),
            ["careful"] = Math.Round(b.Careful, 4),
            ["sure"] = b.Certainty.Says(),
            ["observations"] = b.Seen,
            ["daysRight"] = b.RightDays,
            ["lastMet"] = b.LastMet is { } met ? $"{met:yyyy-MM-dd}" : null,
        })]),
    };

    private bool Load(long id, int most, string? day)
    {
        Child = household.Children.FirstOrDefault(c => c.Id == id);
        if (Child is null) return false;
        Most = most == 20 ? 20 : 10;
        Day = household.Calendar.Read(day) is { } chosen ? Nearest(chosen) : household.Today;
        log = household.Log(Child);
        model = household.ModelOn(Child, Day);
        return true;
    }

    /// <summary>A day that has come, and on which there were Allowance's dates.</summary>
    private DateOnly Nearest(DateOnly day) => day > household.Today ? household.Today : day.Year < EarliestYear ? new(EarliestYear, 1, 1) : day;

    private const int EarliestYear = 1990;

    /// <summary>How often each ask was noted up to the day.</summary>
    private ILookup<Ask, AskCount> Counts => counts ??= log.Counts(Day).ToLookup(c => c.Ask);

    private int TimesOf(Ask ask) => Counts[ask].Sum(c => c.Times);

    private WallCell Stone(Form form, int n)
    {
        var ask = new Ask(AskKind.Say, n, form);
        return new(form, n, model.Right(ask, Day), TimesOf(ask));
    }

    private ILookup<(int Whole, int Small), AskCount>? bonds;

    private ILookup<(int Whole, int Small), AskCount> Bonds =>
        bonds ??= Counts.Where(a => a.Key is { Kind: AskKind.Part, Count: 2 } && a.Key[1] <= a.Key[0]).SelectMany(a => a).ToLookup(c => (c.Ask[0], Math.Min(c.Ask[1], c.Ask[0] - c.Ask[1])));

    private BondCell CellOf(int whole, int small)
    {
        var mine = Bonds[(whole, small)].ToList();
        double right = (model.Right(new Ask(AskKind.Part, whole, small, Form.Numeral), Day) + model.Right(new Ask(AskKind.Part, whole, whole - small, Form.Numeral), Day)) / 2;
        var usually = mine.Where(c => c.Seen.Outcome >= Outcome.CountedAll).GroupBy(c => c.Seen.Outcome).MaxBy(g => g.Sum(c => c.Times))?.Key;
        int times = mine.Sum(c => c.Times);
        return new(whole, small, right, Sureness.Of(times), times, usually);
    }

    /// <summary>Reads "bond-7-3", "band-partners-10" or "say-5-dice"; null where it is none of them.</summary>
    private EvidenceOf? EvidenceFor(string cell)
    {
        var parts = cell.Split('-', 3);
        if (parts.Length != 3) return null;
        if (parts[0] == "bond" && int.TryParse(parts[1], out int whole) && int.TryParse(parts[2], out int small) && whole is >= 2 and <= 20 && small >= 0 && small <= whole / 2)
        {
            var bond = CellOf(whole, small);
            return new($"{bond.Small} and {bond.Large} make {whole}", bond.Right, bond.Firmness.ToString(), bond.Certainty, Newest(Bonds[(whole, small)].Select(c => c.Ask)));
        }
        if (parts[0] == "say" && int.TryParse(parts[1], out int n) && FormTable.Find(parts[2]) is { } form && n >= form.Facts().Low && n <= form.Facts().High)
        {
            var ask = new Ask(AskKind.Say, n, form);
            return new($"{n} as {form.Facts().Label}", Stone(form, n).Right, "", Sureness.Of(TimesOf(ask)), Newest([ask]));
        }
        if (parts[0] == "band" && Feeding.Bands.ToList().FindIndex(b => b.Skill.Id == parts[1] && b.Band.ToString() == parts[2]) is var band and >= 0)
        {
            var standing = model.Standing(band, Day);
            string stands = standing.Word.Says() + (standing.Word == SkillWord.Steady && standing.FluentShare is null ? "; right, not yet seen how" : "");
            return new($"{Core.Materials.Words.Sentence(standing.SkillBand.Skill.Says).TrimEnd('.')}, to {standing.SkillBand.Band}", standing.Right, stands, standing.Certainty, Newest(Counts.Select(c => c.Key).Where(a => Feeds(a, band))));
        }
        return null;
    }

    private static bool Feeds(Ask ask, int band)
    {
        Span<int> bands = stackalloc int[4];
        return bands[..Feeding.Of(ask, bands)].Contains(band);
    }

    private IReadOnlyList<StoredObservation> Newest(IEnumerable<Ask> asks) => log.Newest(asks.Distinct(), Day, EvidenceShown);

    /// <summary>This page, with nothing chosen.</summary>
    public string Address => $"/growth/{Child!.Id}?most={Most}&day={Day:yyyy-MM-dd}";

    public string Link(string cell) => $"{Address}&cell={cell}";
}
