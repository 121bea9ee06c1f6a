using Allowance.Core.Learner;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Tuning;
using Allowance.Store;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Allowance.Web.Pages;

/// <summary>Something a child could play now, and how long it takes.</summary>
public sealed record TodayProposal(Proposal Proposal, Playable Playable, double P10, double P90)
{
    public Setup Setup => Playable.Setup;

    public string Link => Setup.ToLink();

    /// <summary>Its cards are written on paper, as the packs do not yield them.</summary>
    public bool OnPaper => Setup.Get<DeckValue>(KnobRole.Deck) is { Deck.HomeMade: true } && Proposal.Setup.Get<DeckValue>(KnobRole.Deck) is { Deck.HomeMade: false };
}

/// <summary>What a child could play now, what changed since last time, and what is due for a visit.</summary>
public sealed record Today(Player Child, IReadOnlyList<TodayProposal> Proposals, IReadOnlyList<string> Changed, IReadOnlyList<string> Due, int Notes, DateOnly? Last);

/// <summary>Today: for each child who is here two or three things to play in the minutes there are, and one for all together.</summary>
public sealed class IndexModel(Household household, Tables tables, SittingLog log, Entries entries) : PageModel
{
    private const int Samples = 400, MostListed = 3;

    public static readonly int[] MinuteChoices = [5, 10, 15, 20, 30];

    public IReadOnlyList<Today> Children { get; private set; } = [];

    public IReadOnlyList<Player> Everyone { get; private set; } = [];

    /// <summary>Who was chosen as being here; all children where nobody was chosen.</summary>
    public IReadOnlyList<long> Here { get; private set; } = [];

    public int? Minutes { get; private set; }

    public Setup? Together { get; private set; }

    public IReadOnlyList<OpenTable> Open { get; private set; } = [];

    public IReadOnlyList<(Player Child, Entry Look)> OpenLooks { get; private set; } = [];

    public Household Household => household;

    public IActionResult OnGet(long[]? here, int? minutes)
    {
        var children = household.Children;
        if (children.Count == 0) return Redirect("/start");
        Minutes = minutes is >= 3 and <= 120 ? minutes : null;
        Everyone = [.. household.People.Where(p => p.Plays)];
        Here = [.. (here ?? []).Where(id => Everyone.Any(p => p.Id == id))];
        if (!children.Any(c => Here.Contains(c.Id))) Here = [.. children.Select(c => c.Id)];
        Children = [.. children.Where(c => Here.Contains(c.Id)).Select(Propose)];
        Open = [.. log.Open().Select(h => tables.Find(h.Id)).OfType<OpenTable>().Take(1)];
        OpenLooks = [.. children.Select(c => (c, entries.LatestFirstLook(c.Id))).Where(l => l.Item2 is { EndedAt: null }).Select(l => (l.c, l.Item2!))];
        Together = AtOneTable();
        return Page();
    }

    /// <summary>The next thing of each, at one table; grown-ups who were chosen sit down too.</summary>
    private Setup? AtOneTable()
    {
        var grownUps = Everyone.Where(p => p.Kind == PlayerKind.GrownUp && Here.Contains(p.Id)).ToList();
        if (Children.Count + grownUps.Count < 2) return null;
        var setup = Drawer.Fit(Gathering.Of([.. Children.Reverse().Select(c => c.Proposals[0].Proposal)], [.. Children.Reverse().Select(c => household.SeatOf(c.Child))]), household.Cupboard);
        foreach (var grownUp in grownUps.Where(_ => setup.Seats.Length < setup.Frame.MostPlayers)) setup = setup with { Seats = setup.Seats.Add(household.SeatOf(grownUp)) };
        return setup;
    }

    private Today Propose(Player child)
    {
        var known = household.Log(child);
        var model = household.Model(child);
        var day = household.Today;
        var proposals = Proposals.All(household.SeatOf(child), model, known.Latest(Proposals.Remembered), tables.LastPlayed(child.Id, Proposals.Frame.Id), household.Approach, day);
        var all = proposals.ToList();
        if (household.OtherGame(child) is { } other) all.Add(other);
        var bands = Enumerable.Range(0, Core.Asks.Feeding.Bands.Count);
        var now = bands.Select(b => model.Standing(b, day)).ToList();
        var due = now.Where(b => b.Word == SkillWord.Resting).OrderBy(b => b.LastMet).Take(MostListed)
            .Select(b => $"{b.SkillBand.Skill.Says}, to {b.SkillBand.Band}, last met {household.Calendar.DayOfYear(b.LastMet!.Value)}");
        return new(child, [.. all.Select(Fitted)], [.. Changed(known, now).Take(MostListed)], [.. due], known.Count, known.LastDay);
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

    /// <summary>Made short enough for the minutes there are, where it can be.</summary>
    private TodayProposal Fitted(Proposal proposal)
    {
        TodayProposal? best = null;
        var fitting = Drawer.Fit(proposal.Setup, household.Cupboard);
        foreach (var setup in (Minutes is null ? [fitting] : Shortening.Of(fitting)).Select(Core.Games.Catalogue.Check).OfType<Playable>())
        {
            var minutes = household.Glance(setup, Samples, household.Budget(HttpContext.RequestAborted)).Minutes;
            if (best is null || minutes.P90 < best.P90) best = new(proposal, setup, minutes.P10, minutes.P90);
            if (Minutes is null || minutes.P50 <= Minutes) break;
        }
        return best!;
    }

    public IActionResult OnPostPlay(string? link, string? way)
    {
        var pairs = Microsoft.AspNetCore.WebUtilities.QueryHelpers.ParseQuery(link).Select(p => KeyValuePair.Create(p.Key, p.Value.ToString())).ToList();
        var reading = Core.Games.Catalogue.ReadLink(pairs, household.SeatOf);
        if (reading.Playable is not { } playable) return Redirect("/bench" + QueryString.Create(pairs.Select(p => KeyValuePair.Create(p.Key, (string?)p.Value))));
        return Redirect($"/table/{tables.Start(playable, Ways.Of(way), Request.PostId())}");
    }
}
