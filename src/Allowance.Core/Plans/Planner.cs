using System.Collections.Immutable;
using Allowance.Core.Forecasts;
using Allowance.Core.Games;
using Allowance.Core.Learner;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Tuning;

namespace Allowance.Core.Plans;

/// <summary>What a child meets at a planned game.</summary>
/// <param name="Place">Where she sits.</param>
/// <param name="Aim">What it is for; null where it comes along.</param>
/// <param name="New">What is other than when she played it last, in a sentence.</param>
public sealed record PlannedChild(int Place, Seat Seat, Aim? Aim, string New);

/// <summary>A game of a planned sitting.</summary>
public sealed record PlannedGame(Playable Playable, Forecast Forecast, ImmutableArray<PlannedChild> Children)
{
    public Setup Setup => Playable.Setup;

    /// <summary>What the child at a place is called.</summary>
    public string NameAt(int place) => Children.FirstOrDefault(c => c.Place == place)?.Seat.Name ?? Setup.Seats[place].Name;
}

/// <summary>A sitting with what is played at it: one game for all, or one each side by side; none where nothing fits, or it is left out.</summary>
public sealed record PlannedSitting(Slot Slot, ImmutableArray<PlannedGame> Games);

/// <summary>Days that were planned.</summary>
/// <param name="Sittings">In the order of their days.</param>
public sealed record Plan(ImmutableArray<PlannedSitting> Sittings)
{
    /// <summary>By child, by her key: the aims of her sittings, those that come most often first.</summary>
    public IEnumerable<(Aim Aim, int Times)> AimsOf(string child) =>
        Sittings.SelectMany(s => s.Games).SelectMany(g => g.Children).Where(c => c.Seat.Key == child && c.Aim is { Kind: not AimKind.Keep })
            .GroupBy(c => c.Aim!.Standing.Band).Select(g => (g.First().Aim!, g.Count())).OrderByDescending(a => a.Item2);
}

/// <summary>
/// Puts a game and each child's aim on the sittings of the days to come, one after the other, as if each had been played before the next
/// is chosen: an aim comes back with a day between, nothing is crowded, and after any change the rest is planned around it.
/// </summary>
public static class Planner
{
    /// <summary>Another family than the day before is taken where it brings nearly as much.</summary>
    private const double NearlyAsMuch = .8;

    private const int LookedAt = 4, Games = 40;

    /// <param name="slots">In the order of their days.</param>
    /// <param name="people">Everybody who may be there, children with what is believed of them.</param>
    /// <param name="setupOf">Reads the link of a setup that is to stay; null where it can no longer be played.</param>
    public static Plan Of(IReadOnlyList<Slot> slots, IReadOnlyList<ChildHere> people, IReadOnlyList<Seat> grownUps, Occasion occasion, OfferBook book, Func<string, Playable?> setupOf)
    {
        var children = people.Select(p => new Foreseen(p, occasion.Day)).ToList();
        var sittings = ImmutableArray.CreateBuilder<PlannedSitting>();
        foreach (var slot in slots)
        {
            var here = children.Where(c => slot.Evening.Who.Contains(c.Seat.Key)).ToList();
            var games = slot.IsOut || here.Count == 0 ? [] : GamesAt(slot, here, Last(sittings), slot.Evening.IsTired || here.Exists(c => c.HadNew(slot.Day)));
            // Who knows nothing yet begins with something new, whatever the day.
            if (games.Sum(g => g.Children.Length) < here.Count && !slot.IsOut) games = GamesAt(slot, here, Last(sittings), false);
            foreach (var game in games)
                foreach (var child in game.Children) here.Find(c => c.Seat.Key == child.Seat.Key)!.Add(game.Forecast, child.Place, slot.Day, child.Aim);
            sittings.Add(new(slot, games));
        }
        return new(sittings.ToImmutable());

        ImmutableArray<PlannedGame> GamesAt(Slot slot, IReadOnlyList<Foreseen> here, IReadOnlySet<Family> lately, bool nothingNew)
        {
            var then = occasion with { Day = slot.Day, Minutes = slot.Evening.Planned, NothingNew = nothingNew, GrownUp = grownUps.FirstOrDefault(g => slot.Evening.Who.Contains(g.Key)) };
            var now = here.Select(c => new Search(c.On(slot.Day, occasion.Approach), then)).ToList();
            if (AsKept([.. slot.Kept.Select(setupOf).OfType<Playable>()], now) is { IsEmpty: false } stays) return stays;
            var without = slot.PassedOver.ToHashSet();
            if (now.Count > 1)
            {
                var seats = grownUps.Where(g => slot.Evening.Who.Contains(g.Key)).ToList();
                var table = Table(now, without) ?? (without.Count > 0 ? Table(now, []) : null);
                if (table is { IsGood: true }) return [Shared(table, now)];
                return Apart(now, table) is { Length: > 0 } apart ? apart : table is not null ? [Shared(table, now)] : [.. now.Select(c => Alone(c, lately, without)).OfType<PlannedGame>()];

                SharedTable? Table(IReadOnlyList<Search> all, HashSet<string> passedOver) => Together.For(all, seats, book, passedOver);

                // Two games side by side: one of them has her own, whom the one table served least before the others.
                ImmutableArray<PlannedGame> Apart(IReadOnlyList<Search> all, SharedTable? table)
                {
                    foreach (var single in table is null ? all.Reverse() : table.Children.OrderBy(c => c.Share).Select(c => all[c.Seat]))
                    {
                        Search[] others = [.. all.Where(c => c != single)];
                        if (Alone(single, lately, without) is not { } own) continue;
                        if (others.Length == 1) return Alone(others[0], lately, without) is { } other ? [other, own] : [];
                        if (Table(others, without) is { IsGood: true } rest) return [Shared(rest, others), own];
                    }
                    return [];
                }
            }
            return Alone(now[0], lately, without) is { } alone ? [alone] : [];
        }

        PlannedGame? Alone(Search search, IReadOnlySet<Family> lately, IReadOnlySet<string> without)
        {
            var best = search.Best(book, LookedAt + without.Count).ToList();
            // Of games that were all passed over, the one that was passed over first comes round again.
            var open = best.Where(s => !without.Contains(s.Playable.Setup.Frame.Id)).ToList();
            if (open.Count == 0) open = best;
            if (open.Count == 0) return null;
            var mixed = open.FirstOrDefault(s => !lately.Contains(s.Playable.Setup.Frame.Family));
            var game = mixed is not null && mixed.Score >= NearlyAsMuch * open[0].Score ? mixed : open[0];
            return new(game.Playable, game.Forecast, [Met(search.Child, game.Aim, game.Playable.Setup, 0)]);
        }

        static PlannedGame Shared(SharedTable table, IReadOnlyList<Search> here) =>
            new(table.Playable, table.Forecast, [.. table.Children.Select(c => Met(here[c.Seat].Child, c.Aim, table.Playable.Setup, c.Seat))]);

        static PlannedChild Met(ChildHere child, Aim? aim, Setup setup, int seat) =>
            new(seat, child.Seat, aim, Advice.WhatIsNew(child.Played.LastOrDefault(p => p.Setup.Frame == setup.Frame), setup, seat));

        // Where others are there than it was kept for, it is planned anew.
        static ImmutableArray<PlannedGame> AsKept(IReadOnlyList<Playable> kept, IReadOnlyList<Search> searches)
        {
            var here = searches.Select(s => s.Child).ToList();
            var seated = kept.SelectMany(k => k.Setup.Seats.Where(s => !s.GrownUp && s.Key.Length > 0)).Select(s => s.Key).ToList();
            if (seated.Count != here.Count || !here.All(c => seated.Contains(c.Seat.Key))) return [];
            return [.. kept.Select(playable =>
            {
                var setup = playable.Setup;
                var forecast = Forecaster.Make(playable, new LearnerAnswers(setup, searches[0].Occasion.Day, seat => here.FirstOrDefault(c => c.Seat.Key == seat.Key)?.Beliefs), new ForecastOptions(Behaviour.Child, 1, Games), new Facts());
                return new PlannedGame(playable, forecast, [.. from place in Enumerable.Range(0, setup.Seats.Length)
                    let search = searches.FirstOrDefault(s => s.Child.Seat.Key == setup.Seats[place].Key)
                    where search is not null
                    select Met(search.Child, search.AimAt(place, forecast), setup, place)]);
            })];
        }

        static HashSet<Family> Last(ImmutableArray<PlannedSitting>.Builder sittings) => [.. sittings.LastOrDefault(s => !s.Games.IsEmpty)?.Games.Select(g => g.Setup.Frame.Family) ?? []];
    }
}
