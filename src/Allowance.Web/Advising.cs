using System.Collections.Concurrent;
using Allowance.Core.Setups;
using Allowance.Core.Tuning;
using Allowance.Store;

namespace Allowance.Web;

/// <summary>What the people of this household could play now, and why. What was worked out is kept until somebody knows or wishes more.</summary>
public sealed class Advising(Household household, Offering offering, Tables tables, SittingLog log, AimWishes wishes)
{
    /// <summary>How many sittings choosing looks back on, beside the last of each game.</summary>
    private const int LookedBackOn = 12;

    private const int MostKept = 200;

    /// <summary>So long is played where nobody says how long.</summary>
    public const int UsualMinutes = 10;

    private readonly ConcurrentDictionary<(long Sitting, long Player), (Setup Setup, int Seat)?> setups = new();
    private readonly ConcurrentDictionary<string, IReadOnlyList<Advised>> alone = new();
    private readonly ConcurrentDictionary<string, SharedTable?> shared = new();

    /// <summary>All games have been looked through; else there is more to choose from in a few seconds.</summary>
    public bool IsWhole => offering.Book.IsWhole;

    /// <summary>What a child could play alone, or with one grown-up, the best first; of different games.</summary>
    /// <param name="minutes">How many there are; ten where nobody has said.</param>
    /// <param name="grownUp">Who would sit down with her; anybody where nobody is named.</param>
    public IReadOnlyList<Advised> For(Player child, int? minutes, int most, Player? grownUp = null)
    {
        var here = Here(child);
        string key = $"{most} {Key(here, child)} {minutes} {grownUp?.Id}";
        if (alone.TryGetValue(key, out var known)) return known;
        if (alone.Count > MostKept) alone.Clear();
        return alone[key] = Advice.For(here, On(minutes) with { GrownUp = grownUp is null ? null : household.SeatOf(grownUp) }, offering.Book, most);
    }

    /// <summary>Three games of three families to begin with, after a first look.</summary>
    public IReadOnlyList<Advised> ToBegin(Player child) => Advice.ToBegin(Here(child), On(null), offering.Book);

    /// <summary>What a child could play next time, after a game that was just played; null where there is nothing.</summary>
    public Advised? After(Player child, FrameData frame) => Advice.After(Here(child), On(null), offering.Book, frame);

    /// <summary>One game for several children; null where there is none.</summary>
    /// <param name="without">Games that were passed over, by their ids.</param>
    public SharedTable? Together(IReadOnlyList<Player> children, IReadOnlyList<Player> grownUps, int? minutes, IReadOnlySet<string> without)
    {
        var here = children.Select(Here).ToList();
        string key = $"{string.Join('|', children.Select((c, i) => Key(here[i], c)))} {string.Join(',', grownUps.Select(g => g.Id))} {minutes} {string.Join(',', without.Order())}";
        if (shared.TryGetValue(key, out var known)) return known;
        if (shared.Count > MostKept) shared.Clear();
        return shared[key] = Core.Tuning.Together.For(here, [.. grownUps.Select(household.SeatOf)], On(minutes), offering.Book, without);
    }

    /// <summary>An occasion of today.</summary>
    /// <param name="minutes">How many there are; ten where nobody has said.</param>
    public Occasion On(int? minutes) => new(household.Today, minutes ?? UsualMinutes, household.Approach, household.OneChangeAtATime);

    /// <summary>A child as choosing sees her: what is believed of her, what she played, what is wished for her.</summary>
    public ChildHere Here(Player child) => new(household.SeatOf(child), household.Model(child), Played(child), wishes.Of(child.Id));

    private List<PlayedBefore> Played(Player child)
    {
        var played = new List<PlayedBefore>();
        foreach (var (head, how) in log.LookedBackOn(child.Id, LookedBackOn))
        {
            // What goes on may still change.
            if (!setups.TryGetValue((head.Id, child.Id), out var sat) || head.EndedAt is null) setups[(head.Id, child.Id)] = sat = tables.SatAt(head, child.Id);
            if (sat is { } place) played.Add(new(place.Setup, place.Seat, DateOnly.FromDateTime(head.StartedAt.DateTime), how));
        }
        return played;
    }

    /// <summary>What choosing for a child hangs on; another where somebody knows or wishes more.</summary>
    public string Key(ChildHere here, Player child) =>
        $"{child.Id} {household.Log(child).Count} {here.Played.Count} {here.Played.LastOrDefault()?.Setup.ToLink()} {string.Join(',', here.Played.Select(p => p.Closing))} {string.Join(',', here.Wishes)} {household.Today:O} {offering.Book.Ready.Count} {string.Join(',', household.Approach.Chosen)} {household.OneChangeAtATime} {here.Seat}";
}
