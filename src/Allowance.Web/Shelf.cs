using System.Collections.Concurrent;
using Allowance.Core.Asks;
using Allowance.Core.Games;
using Allowance.Core.Materials;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Tuning;
using Allowance.Store;

namespace Allowance.Web;

/// <summary>A game as it stands on the shelf for the people of a table.</summary>
/// <param name="Minutes">From the shortest tenth of games to the longest; null where there was no time to work it out.</param>
/// <param name="Strands">What it asks for.</param>
/// <param name="Missing">What the drawer has neither as it is nor in another way.</param>
/// <param name="KnownTo">Children who have played it.</param>
public sealed record OnShelf(Playable Playable, (double P10, double P50, double P90)? Minutes, IReadOnlySet<Strand> Strands, IReadOnlyList<string> Missing, IReadOnlyList<Player> KnownTo)
{
    public FrameData Frame => Playable.Setup.Frame;
}

/// <summary>All games there are, each as these people would begin it. What is worked out is kept until somebody knows more.</summary>
public sealed class Shelf(Household household, SittingLog log, Advising advising, Offering offering)
{
    private const int Games = 120, MostKept = 400;

    private readonly ConcurrentDictionary<string, IReadOnlyList<Playable>> begun = new();
    private readonly ConcurrentDictionary<string, ((double, double, double) Minutes, IReadOnlySet<Strand> Strands)> kept = new();

    public IReadOnlyList<OnShelf> For(IReadOnlyList<Seat> seats, Budget budget)
    {
        var children = household.Children;
        string knowing = string.Join(' ', children.Select(c => household.Log(c).Count));
        var known = children.ToDictionary(c => c, c => log.PlayedBy(c.Id));
        return [.. Begun(seats).Select(Stand)];

        OnShelf Stand(Playable playable)
        {
            string key = $"{playable.Setup.ToLink()} {knowing} {household.Today:O}";
            if (!kept.TryGetValue(key, out var made) && !budget.Whole.IsSpent)
            {
                var forecast = household.Glance(playable, Games, budget);
                made = ((forecast.Minutes.P10, forecast.Minutes.P50, forecast.Minutes.P90), StrandsOf(forecast.Players.SelectMany(p => p.Asks.Select(a => a.Ask)).Concat(AsksOf(playable.Setup.Frame))));
                if (kept.Count > MostKept) kept.Clear();
                kept[key] = made;
            }
            var missing = household.Cupboard.Fetch(playable.Frame.Needs(playable.Setup)).Where(f => f.Standing == Standing.Missing).Select(f => f.Need.ToString()!).ToList();
            return new(playable, made.Strands is null ? null : made.Minutes, made.Strands ?? new HashSet<Strand>(), missing, [.. children.Where(c => known[c].Contains(playable.Setup.Frame.Id))]);
        }
    }

    /// <summary>Every game as these people would begin it.</summary>
    private IReadOnlyList<Playable> Begun(IReadOnlyList<Seat> seats)
    {
        var here = new List<(Seat Seat, ChildHere Child)>();
        string key = string.Join(' ', seats.Select(s => $"{s.Key} {s.Name}"));
        foreach (var seat in seats)
            if (household.Children.FirstOrDefault(c => household.SeatOf(c).Key == seat.Key) is { } child)
            {
                here.Add((seat, advising.Here(child)));
                key += $" {advising.Key(here[^1].Child, child)}";
            }
        if (begun.TryGetValue(key, out var known)) return known;
        if (begun.Count > MostKept) begun.Clear();
        var (book, searches) = (offering.Book, here.ConvertAll(h => (h.Seat, Search: new Search(h.Child, advising.On(null)))));
        return begun[key] = [.. Catalogue.Data.Select(frame => Begin(frame, [.. seats.Take(frame.MostPlayers)])).OfType<Playable>()];

        Playable? Begin(FrameData frame, IReadOnlyList<Seat> sit) => Catalogue.Check(Beginning.Of(frame, sit, [.. searches.Where(s => sit.Contains(s.Seat)).Select(s => s.Search)], book));
    }

    /// <summary>What a game asks as it is usually played, whoever plays: by that it is found too.</summary>
    private IEnumerable<Ask> AsksOf(FrameData frame) =>
        offering.Book.Ready.FirstOrDefault(o => o.Setup.Frame == frame && o.Setup.LevelId == frame.DefaultLevel)?.Profile.Asks.Select(a => a.Ask) ?? [];

    private static HashSet<Strand> StrandsOf(IEnumerable<Ask> asks)
    {
        var strands = new HashSet<Strand>();
        Span<int> bands = stackalloc int[4];
        foreach (var ask in asks)
            foreach (int band in bands[..Feeding.Of(ask, bands)]) strands.Add(Feeding.Bands[band].Skill.Strand);
        return strands;
    }
}
