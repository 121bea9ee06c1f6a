using Allowance.Core.Forecasts;
using Allowance.Core.Learner;
using Allowance.Core.Materials;
using Allowance.Core.Plans;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Tuning;
using Allowance.Store;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Allowance.Web.Pages;

/// <summary>A game for one child, planned or found now.</summary>
/// <param name="Kind">What it is for her beside what she played: planned for today, a step up.</param>
/// <param name="Place">Where she sits.</param>
/// <param name="New">What is new about it since she played it last.</param>
public sealed record TodayGame(string Kind, Playable Playable, Forecast Forecast, int Place, string Why, string New)
{
    public Setup Setup => Playable.Setup;

    /// <summary>What is played, in a few words.</summary>
    public string Says => Advised.Said(Setup);
}

/// <summary>What a child could play alone or with one grown-up.</summary>
/// <param name="Game">Null where nothing fits her and the drawer.</param>
/// <param name="Another">The query that passes this game over.</param>
public sealed record TodayChild(Player Child, TodayGame? Game, string Another, IReadOnlyList<string> Changed, int Notes, DateOnly? Last);

/// <summary>The one table for several.</summary>
/// <param name="Kind">For whom it is: all at one table, planned for today.</param>
/// <param name="Whys">By child, where she sits, her name, and why she would play it.</param>
/// <param name="IsGood">It is good enough for all of them.</param>
public sealed record TodayTable(string Kind, Playable Playable, Forecast Forecast, IReadOnlyList<(int Place, string Name, string Why)> Whys, bool IsGood, string Another);

/// <summary>Today: what do we play now? One table for all who are here, and for each child what she could play alone.</summary>
public sealed class IndexModel(Household household, Advising advising, Planning planning, Tables tables, SittingLog log, Entries entries) : PageModel
{
    private const int MostListed = 2, MostPassedOver = 12, MostAlone = 4;

    public static readonly int[] MinuteChoices = [5, 10, 15, 20, 30];

    public IReadOnlyList<TodayChild> Children { get; private set; } = [];

    public IReadOnlyList<Player> Everyone { get; private set; } = [];

    /// <summary>Who was chosen as being here; all children where nobody was chosen.</summary>
    public IReadOnlyList<long> Here { get; private set; } = [];

    public int? Minutes { get; private set; }

    public TodayTable? Together { get; private set; }

    /// <summary>There are several, and no game goes for all of them.</summary>
    public bool IsApart => Children.Count > 1 && Together is null;

    /// <summary>More games are still being looked through.</summary>
    public bool IsLooking => !advising.IsWhole;

    public IReadOnlyList<OpenTable> Open { get; private set; } = [];

    public IReadOnlyList<(Player Child, Entry Look)> OpenLooks { get; private set; } = [];

    public Household Household => household;

    public IActionResult OnGet(long[]? here, int? minutes, string? over)
    {
        var children = household.Children;
        if (children.Count == 0) return Redirect("/start");
        Minutes = minutes is >= 3 and <= 120 ? minutes : null;
        Everyone = [.. household.People.Where(p => p.Plays)];
        Here = [.. (here ?? []).Where(id => Everyone.Any(p => p.Id == id))];
        if (!children.Any(c => Here.Contains(c.Id))) Here = [.. children.Select(c => c.Id)];
        var passedOver = PassedOver.Read(over);
        // What was planned stands first, unless there is another time for it than was thought.
        planned = Minutes is null ? [.. planning.ForToday().Where(g => g.Children.All(c => Here.Any(id => c.Seat.Key == $"{id}")))] : [];
        Children = [.. children.Where(c => Here.Contains(c.Id)).Select(c => Propose(c, passedOver))];
        Open = [.. log.Open().Select(h => tables.Find(h.Id)).OfType<OpenTable>().Take(1)];
        OpenLooks = [.. children.Select(c => (c, entries.LatestFirstLook(c.Id))).Where(l => l.Item2 is { EndedAt: null }).Select(l => (l.c, l.Item2!))];
        Together = AtOneTable(passedOver);
        return Page();
    }

    /// <summary>What the week has for today, for those who are here.</summary>
    private IReadOnlyList<PlannedGame> planned = [];

    private const string AsPlanned = "Planned for today", Along = "Comes along this time.";

    private readonly record struct Pass(string For, string Game);

    /// <summary>What was passed over for another: <c>all.homing</c> at the one table, <c>2.gather</c> for a child.</summary>
    private sealed record PassedOver(IReadOnlyList<Pass> Games)
    {
        public const string Table = "all";

        public static PassedOver Read(string? text) =>
            new([.. (text ?? "").Split(',').Select(p => p.Split('.')).Where(p => p.Length == 2 && p.All(w => w.Length is > 0 and < 30 && w.All(char.IsAsciiLetterOrDigit))).Select(p => new Pass(p[0], p[1])).TakeLast(MostPassedOver)]);

        public IReadOnlySet<string> Of(string whom) => Games.Where(g => g.For == whom).Select(g => g.Game).ToHashSet();

        public string With(string whom, string game) => string.Join(',', Games.Append(new(whom, game)).Select(g => $"{g.For}.{g.Game}"));

        /// <summary>There is no other any more: from the beginning again.</summary>
        public string Without(string whom) => string.Join(',', Games.Where(g => g.For != whom).Select(g => $"{g.For}.{g.Game}"));
    }

    private string Query(string over) =>
        QueryString.Create([.. Here.Select(id => KeyValuePair.Create("here", (string?)$"{id}")), .. Minutes is { } m ? [KeyValuePair.Create("minutes", (string?)$"{m}")] : Array.Empty<KeyValuePair<string, string?>>(), .. over.Length > 0 ? [KeyValuePair.Create("over", (string?)over)] : Array.Empty<KeyValuePair<string, string?>>()]).ToString();

    private IReadOnlyList<Player> GrownUpsHere => [.. Everyone.Where(p => p.Kind == PlayerKind.GrownUp && Here.Contains(p.Id))];

    private TodayTable? AtOneTable(PassedOver passedOver)
    {
        var here = Children.Select(c => c.Child).Reverse().ToList();
        if (here.Count < 2) return null;
        var over = passedOver.Of(PassedOver.Table);
        if (planned.FirstOrDefault(g => g.Children.Length > 1 && !over.Contains(g.Setup.Frame.Id)) is { } game)
        {
            string kind = game.Children.Length == here.Count ? AsPlanned : $"{AsPlanned}, for {Words.List(game.Children.Select(c => c.Seat.Name))}";
            return new(kind, game.Playable, game.Forecast, [.. game.Children.Select(c => (c.Place, c.Seat.Name, WhyOf(c.Aim)))], true, Query(passedOver.With(PassedOver.Table, game.Setup.Frame.Id)));
        }
        var table = advising.Together(here, GrownUpsHere, Minutes, over) ?? advising.Together(here, GrownUpsHere, Minutes, new HashSet<string>());
        if (table is not { IsGood: true } && OfMost(here, over) is var (most, at) && most is not null)
            return new($"{Words.List(at.Select(c => c.Name))} at one table", most.Playable, most.Forecast, [.. most.Children.Select(c => (c.Seat, at[c.Seat].Name, WhyOf(c.Aim)))], true, Query(passedOver.With(PassedOver.Table, most.Playable.Setup.Frame.Id)));
        // Games side by side were planned, and no table is better: each has hers below.
        if (table is null || over.Count == 0 && !table.IsGood && here.Exists(c => PlannedFor(c) is not null)) return null;
        var frame = table.Playable.Setup.Frame;
        return new(table.IsGood ? "All at one table" : "If you play together", table.Playable, table.Forecast, [.. table.Children.Select(c => (c.Seat, here[c.Seat].Name, WhyOf(c.Aim)))], table.IsGood,
            Query(over.Contains(frame.Id) ? passedOver.Without(PassedOver.Table) : passedOver.With(PassedOver.Table, frame.Id)));
    }

    /// <summary>Where no table is good for three or more: the best of those at which all but one sit, if it is good for them.</summary>
    private (SharedTable? Table, IReadOnlyList<Player> At) OfMost(IReadOnlyList<Player> here, IReadOnlySet<string> over)
    {
        (SharedTable? Table, IReadOnlyList<Player> At) best = (null, []);
        if (here.Count < 3) return best;
        foreach (var alone in here)
        {
            List<Player> others = [.. here.Where(c => c != alone)];
            if (advising.Together(others, GrownUpsHere, Minutes, over) is { IsGood: true } table && (best.Table is null || table.IsBetterThan(best.Table))) best = (table, others);
        }
        return best;
    }

    private static string WhyOf(Aim? aim) => aim is { Kind: not AimKind.Keep } ? aim.Why : Along;

    /// <summary>The game that is planned for a child alone.</summary>
    private PlannedGame? PlannedFor(Player child) => planned.FirstOrDefault(g => g.Children is [var only] && only.Seat.Key == $"{child.Id}");

    private TodayChild Propose(Player child, PassedOver passedOver)
    {
        var known = household.Log(child);
        string whom = $"{child.Id}";
        var over = passedOver.Of(whom);
        var game = PlannedFor(child) is { } own && !over.Contains(own.Setup.Frame.Id) ? new(AsPlanned, own.Playable, own.Forecast, own.Children[0].Place, WhyOf(own.Children[0].Aim), own.Children[0].New) : Found();
        string next = game is null || over.Contains(game.Setup.Frame.Id) ? passedOver.Without(whom) : passedOver.With(whom, game.Setup.Frame.Id);
        var day = household.Today;
        var model = household.Model(child);
        return new(child, game, Query(next), [.. Changed(known, known.LastDay is null ? [] : [.. Enumerable.Range(0, Core.Asks.Feeding.Bands.Count).Select(b => model.Standing(b, day))]).Take(MostListed)], known.Count, known.LastDay);

        TodayGame? Found()
        {
            var games = advising.For(child, Minutes, MostAlone, GrownUpsHere.FirstOrDefault());
            return (games.FirstOrDefault(g => !over.Contains(g.Setup.Frame.Id)) ?? games.FirstOrDefault()) is { } best ? new(best.Kind.Says(), best.Game.Playable, best.Game.Forecast, 0, best.Why, best.New) : null;
        }
    }

    /// <summary>Bands whose word changed on the last day she played, and has stayed so.</summary>
    private static IEnumerable<string> Changed(ChildLog known, IReadOnlyList<BandStanding> now)
    {
        if (known.LastDay is not { } last || known.BeforeLastDay() is not { } before) yield break;
        foreach (var band in now.Where(b => b.LastMet == last && b.Word is SkillWord.Steady or SkillWord.Fluent or SkillWord.Growing))
        {
            var was = before.Standing(band.Band, last);
            if (was.Word == band.Word || band.Word == SkillWord.Growing && was.Word != SkillWord.New) continue;
            yield return $"{band.SkillBand.Skill.Says}, to {band.SkillBand.Band}: {(band.Word == SkillWord.Growing ? "met for the first time" : $"now {band.Word.ToString().ToLowerInvariant()}")}";
        }
    }

    /// <summary>What to get out, in words.</summary>
    public string GetOut(Setup setup) => FetchedWords.Says(household.GetOut(setup).Fetched);

    /// <summary>Who sits down with a child in a game that takes two; nothing where she plays it alone.</summary>
    public static string Beside(Setup setup) => setup.Seats.FirstOrDefault(s => s.GrownUp) is { } beside ? $", with {(beside.Name.Length > 0 ? beside.Name : "a grown-up")}" : "";

    /// <summary>How long it takes, in words; played again and again where there is time.</summary>
    public string LongSays(Forecast forecast) => Pictures.Curves.MinutesSay(forecast.Minutes.P10, forecast.Minutes.P90)
        + (Minutes is { } most && forecast.Minutes.P90 > most * 1.5 ? "; stop here at any time" : forecast.Minutes.P90 * Short <= (Minutes ?? Advising.UsualMinutes) ? ", several times over" : "");

    /// <summary>A game is short where there is time for it so many times.</summary>
    private const int Short = 3;

    public IActionResult OnPostPlay(string? link, string? way)
    {
        var pairs = Microsoft.AspNetCore.WebUtilities.QueryHelpers.ParseQuery(link).Select(p => KeyValuePair.Create(p.Key, p.Value.ToString())).ToList();
        var reading = Core.Games.Catalogue.ReadLink(pairs, household.SeatOf);
        if (reading.Playable is not { } playable) return Redirect("/bench" + QueryString.Create(pairs.Select(p => KeyValuePair.Create(p.Key, (string?)p.Value))));
        return Redirect($"/table/{tables.Start(playable, Ways.Of(way), Request.PostId())}");
    }
}
