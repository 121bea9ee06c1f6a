using System.Collections.Immutable;
using Allowance.Core.Forecasts;
using Allowance.Core.Games;
using Allowance.Core.Learner;
using Allowance.Core.Rules;
using Allowance.Core.Setups;

namespace Allowance.Core.Tuning;

/// <summary>What a table brings one of its children.</summary>
/// <param name="Share">Beside the best that she could play alone in her part of the time; 1 is as much.</param>
public sealed record Served(int Seat, double Right, double Hard, Aim? Aim, double Share);

/// <summary>One game for several children, each with an allowance of her own.</summary>
/// <param name="Prepared">What is left of its worth where things are made for it first.</param>
public sealed record SharedTable(Playable Playable, Forecast Forecast, ImmutableArray<Served> Children, double Prepared = 1)
{
    /// <summary>From here on the least served has enough of it.</summary>
    private const double Enough = .4;

    /// <summary>Good enough for all; else two games side by side are better.</summary>
    public bool IsGood => Children.All(c => c.Share >= Enough);

    /// <summary>One that is good for all goes before any that is not.</summary>
    public bool IsBetterThan(SharedTable other) => IsBetter(Score, other);

    /// <summary>It would be the better one if everybody won as often.</summary>
    internal bool WouldBeBetterEven(SharedTable other) => IsBetter(Score / Together.Fairness(Forecast), other);

    private bool IsBetter(double score, SharedTable other) => IsGood == other.IsGood ? score > other.Score : IsGood;

    /// <summary>The least served counts most.</summary>
    internal double Score => Together.LeastCountsMost([.. Children.Select(c => c.Share)]) * Together.Waiting(Forecast) * Together.Fairness(Forecast) * Prepared;
}

/// <summary>
/// Looks for one game at which several children each meet something of their own: every game that all of them know or could begin,
/// begun from what is best for one of them, with allowances for the others from what is best for them.
/// </summary>
public static class Together
{
    /// <summary>How much the mean of all counts beside the least served.</summary>
    private const double Mean = .25;

    internal static double LeastCountsMost(IReadOnlyList<double> shares) => shares.Min() + Mean * shares.Average();

    /// <summary>Nobody waits much longer, in seconds; each further so many halve what a table is worth.</summary>
    private const double LongestWait = 30;

    /// <summary>So many games are tried, those that promise most to the least served first.</summary>
    private const int MostFrames = 8;

    private const int Games = 40;

    /// <summary>Chances further apart than this are evened out, in so many steps.</summary>
    private const double Uneven = .25;

    private const int EvenedIn = 2;

    /// <summary>So much of a table's worth goes where one of them always wins: whoever never does soon wants to play no more.</summary>
    private const double UnevenCosts = .8;

    /// <summary>The best table; null where no game goes for all of them.</summary>
    /// <param name="grownUps">Sit down too, where there is room.</param>
    /// <param name="without">Games that are passed over, by their ids.</param>
    public static SharedTable? For(IReadOnlyList<ChildHere> children, IReadOnlyList<Seat> grownUps, Occasion occasion, OfferBook book, IReadOnlySet<string>? without = null) =>
        For([.. children.Select(c => new Search(c, occasion))], grownUps, book, without);

    /// <summary>The same, of searches for each of them on one occasion.</summary>
    internal static SharedTable? For(IReadOnlyList<Search> searches, IReadOnlyList<Seat> grownUps, OfferBook book, IReadOnlySet<string>? without)
    {
        var children = searches.Select(s => s.Child).ToList();
        var occasion = searches[0].Occasion;
        var games = searches.Select(s => s.ByGame(book).ToDictionary(g => g[0].Offer.Setup.Frame)).ToList();
        var alone = games.Select(g => g.Values.Select(o => o[0].Fit.Score).DefaultIfEmpty().Max()).ToList();
        SharedTable? best = null;
        // No table serves any of them better than she is served in this game alone, as if all the time were hers.
        foreach (var frame in Catalogue.Data.Where(f => f.MostPlayers >= children.Count && without?.Contains(f.Id) != true && games.TrueForAll(g => g.ContainsKey(f))).OrderByDescending(Promise).Take(MostFrames).TakeWhile(f => best is not { IsGood: true } || Promise(f) * children.Count > best.Score))
            if (MadeEven(Better([.. Setups(frame).Select(setup => Seated(Joined(setup)))])) is { } table) best = Better([best, table]);
        return best;

        static SharedTable? Better(IReadOnlyList<SharedTable?> tables) => tables.Aggregate((a, b) => a is null || b is not null && b.IsBetterThan(a) ? b : a);

        // Somebody wins it, and everybody can: the few steps that even it out, where it serves them all as well.
        SharedTable? MadeEven(SharedTable? table) => table is not null && Apart(table.Forecast) > Uneven && (best is null || table.WouldBeBetterEven(best))
            && EvenOut.For(table.Playable, setup => new LearnerAnswers(setup, occasion.Day, BeliefsOf), Games, most: EvenedIn) is { Steps.Count: > 0 } evened ? Better([table, Seated(evened.Setup)]) : table;

        double Promise(FrameData frame) => LeastCountsMost([.. games.Select((g, i) => alone[i] == 0 ? 0 : g[frame][0].Fit.Score / alone[i])]);

        // Begun by each child in turn; the others bring what fits them.
        IEnumerable<Setup> Setups(FrameData frame) =>
            from host in Enumerable.Range(0, children.Count)
            select Gathering.Of(games[host][frame][0].Offer.Setup, host, [.. children.Select((c, i) => (c.Seat, games[i][frame].Select(o => o.Offer.Setup).ToList()))]);

        Setup Joined(Setup setup) => setup with { Seats = [.. setup.Seats, .. grownUps.Take(setup.Frame.MostPlayers - setup.Seats.Length)] };

        SharedTable? Seated(Setup setup)
        {
            SharedTable? table = null;
            foreach (var shorter in Shortening.Of(HouseWays.Of(setup, occasion.Approach)))
            {
                if (Catalogue.Check(shorter) is not { } playable) continue;
                var forecast = Forecaster.Make(playable, new LearnerAnswers(shorter, occasion.Day, BeliefsOf), new ForecastOptions(Behaviour.Child, 1, Games), new Facts());
                if (table is null || forecast.Minutes.P50 < table.Forecast.Minutes.P50) table = new(playable, forecast, [.. children.Select((c, i) => Serve(i, forecast))]);
                if (table.Forecast.Minutes.P50 <= occasion.Minutes * 1.2) break;
            }
            if (table is null || book.Preparing(table.Playable) is not { IsMissing: false } preparing) return null;
            if (!searches.Index().All(s => s.Item.WasLeftAt(table.Playable.Setup, s.Index))) table = table with { Prepared = preparing.Left };
            // Nothing that is too hard for anyone, and no more that is new than may be.
            return table.Children.All(c => searches[c.Seat].Allows(table.Playable.Setup, c.Seat) && c.Right >= SearchConstants.TooHard && c.Hard <= 2 * SearchConstants.HardShare) ? table : null;
        }

        IBeliefs? BeliefsOf(Seat seat) => children.FirstOrDefault(c => c.Seat.Key == seat.Key && c.Seat.Name == seat.Name)?.Beliefs;

        Served Serve(int child, Forecast forecast)
        {
            var fit = searches[child].Weigh(forecast.Players[child], forecast);
            return new(child, fit.Right, fit.Hard, searches[child].AimOf(fit.Band), alone[child] == 0 ? 0 : fit.Score * children.Count / alone[child]);
        }
    }

    internal static double Waiting(Forecast forecast) => forecast.Wait.Max() is > LongestWait and var wait ? Math.Pow(.5, (wait - LongestWait) / LongestWait) : 1;

    /// <summary>Where somebody wins, everybody can: what is far from even is worth less.</summary>
    internal static double Fairness(Forecast forecast) => 1 - UnevenCosts * Apart(forecast);

    /// <summary>How far the chances to win lie apart; 0 where nobody wins.</summary>
    private static double Apart(Forecast forecast) => forecast.Wins.Length < 2 ? 0 : forecast.Wins.Max() - forecast.Wins.Min();
}
