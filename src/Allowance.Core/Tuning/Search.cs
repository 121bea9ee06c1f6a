using System.Collections.Immutable;
using System.Runtime.InteropServices;
using Allowance.Core.Asks;
using Allowance.Core.Forecasts;
using Allowance.Core.Forms;
using Allowance.Core.Games;
using Allowance.Core.Learner;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Sittings;

namespace Allowance.Core.Tuning;

/// <summary>A game that a child played, at her place, and how she left it.</summary>
public sealed record PlayedBefore(Setup Setup, int Seat, DateOnly Day, Closing? Closing = null);

/// <summary>A child for whom something to play is looked for.</summary>
/// <param name="Played">Oldest first; one for each sitting.</param>
public sealed record ChildHere(Seat Seat, IBeliefs Beliefs, IReadOnlyList<PlayedBefore> Played, IReadOnlyList<AimWish> Wishes);

/// <summary>When and how is played.</summary>
/// <param name="Minutes">How many there are.</param>
/// <param name="OneChange">The house rule holds: of range, form and rule level one changes at a time.</param>
/// <param name="GrownUp">Who sits down with a child where a game takes two; anybody where nobody is named.</param>
/// <param name="NothingNew">Only what she played before is played, as it was: on a tired day, or where something was new today already.</param>
public sealed record Occasion(DateOnly Day, int Minutes, Approach Approach, bool OneChange = true, bool NothingNew = false, Seat? GrownUp = null);

/// <summary>What an offer comes to for one child.</summary>
/// <param name="Score">0 or more; to be compared with other offers to the same child on the same day.</param>
/// <param name="Right">The mean chance of being right over its asks.</param>
/// <param name="Hard">The share of asks that are hardly right; <paramref name="Easy"/>: nearly always.</param>
/// <param name="Minutes">Of one game.</param>
/// <param name="Band">The band that it brings most to.</param>
internal readonly record struct Fit(double Score, double Right, double Hard, double Easy, double Minutes, int Band);

/// <summary>
/// Looks through everything there is to play for what brings one child most today: practice for her aims in the minutes there are, not
/// too hard and not dull, in a game she knows with one thing changed, or now and then in a new one with numbers she holds.
/// </summary>
public sealed class Search
{
    private readonly ChildHere child;
    private readonly Occasion occasion;
    private readonly AskWorths worths;
    private readonly double hands;

    /// <summary>How often each fact comes in the game that is being weighed.</summary>
    private readonly Dictionary<long, double> same = [];

    /// <summary>The fact of each ask of that game.</summary>
    private readonly List<long> facts = [];

    /// <summary>By frame, what she did in it last, and how many sittings ago.</summary>
    private readonly Dictionary<FrameData, (PlayedBefore Last, Threefold Threefold, int Ago)> known = [];

    /// <summary>The frame of the last two sittings, where it was the same.</summary>
    private readonly FrameData? twice;

    private readonly bool newIsDue;

    /// <summary>She reads number words, or did so before. They come with a game that she knows: who does not read them yet would not meet the new game.</summary>
    private readonly bool readsWords;

    public Search(ChildHere child, Occasion occasion)
    {
        (this.child, this.occasion) = (child, occasion);
        Aims = Tuning.Aims.Of(child.Beliefs, occasion.Approach, occasion.Day, child.Wishes);
        worths = new(child.Beliefs, occasion.Day, Aims, occasion.Approach);
        hands = child.Seat.Hands;
        var played = child.Played;
        for (int i = 0; i < played.Count; i++) known[played[i].Setup.Frame] = (played[i], Threefold.Of(played[i].Setup, played[i].Seat), played.Count - i);
        twice = played.Count > 1 && played[^1].Setup.Frame == played[^2].Setup.Frame ? played[^1].Setup.Frame : null;
        newIsDue = IsNewDue(played);
        readsWords = child.Beliefs.Right(SearchConstants.NumberWord, occasion.Day) >= SearchConstants.ReadsWords || Enumerable.Range(0, Feeding.Bands.Count).Any(b => child.Beliefs.Standing(b, occasion.Day).Met(Form.Word));
    }

    internal ChildHere Child => child;

    internal Occasion Occasion => occasion;

    public IReadOnlyList<Aim> Aims { get; }

    /// <summary>The aim in a band; null where it is none.</summary>
    internal Aim? AimOf(int band) => worths.AimOf(band);

    /// <summary>What a game that is given would be for, at one of its places.</summary>
    public Aim? AimAt(int place, Forecast table) => AimOf(Weigh(table.Players[place], table).Band);

    /// <summary>A new game is due once a week; until she knows a few, once a day. One that she did not wish for was none.</summary>
    private bool IsNewDue(IReadOnlyList<PlayedBefore> played)
    {
        var met = played.GroupBy(p => p.Setup.Frame).Where(g => g.First().Closing != Closing.NotToday).ToList();
        if (met.Count == 0) return true;
        var last = met.Max(g => g.First().Day);
        // What was put first since then may ask for a game of its own.
        int days = known.Count < SearchConstants.FewGames || child.Wishes.Any(w => w.Wish == Wish.First && w.HoldsOn(occasion.Day) && w.Since > last) ? 1 : SearchConstants.NewGameDays;
        return occasion.Day.DayNumber - last.DayNumber >= days;
    }

    /// <summary>The best offers, the best first, of different games.</summary>
    /// <param name="most">How many.</param>
    public IReadOnlyList<Suggestion> Best(OfferBook book, int most = 1) =>
        [.. ByGame(book).OrderByDescending(g => g[0].Fit.Score).Take(SearchConstants.Finalists + most - 1).Select(g => Think(g[0].Offer, g[0].Fit)).OrderByDescending(s => s.Score).Take(most)];

    /// <summary>The best offer of one game; null where it is not open to her, or nothing in it brings her anything.</summary>
    public Suggestion? BestIn(OfferBook book, FrameData frame) => ByGame(book, frame) is [var offers] ? Think(offers[0].Offer, offers[0].Fit) : null;

    /// <summary>Of each game that is open to her the best offers, the best first, weighed by all that they ask; what was found is kept while the book is the same.</summary>
    internal IReadOnlyList<IReadOnlyList<(Offer Offer, Fit Fit)>> ByGame(OfferBook book)
    {
        if (found is var (at, offers, games) && at == book && offers == book.Ready.Count) return games;
        games = ByGame(book, null);
        found = (book, book.Ready.Count, games);
        return games;
    }

    private (OfferBook Book, int Offers, IReadOnlyList<IReadOnlyList<(Offer Offer, Fit Fit)>> Games)? found;

    /// <param name="only">Where only one game is of interest.</param>
    private List<List<(Offer Offer, Fit Fit)>> ByGame(OfferBook book, FrameData? only)
    {
        foreach (var frame in known.Keys) BringIn(book, frame);
        return [.. book.Ready.Where(o => (only is null || o.Setup.Frame == only) && IsOpen(o)).Select(o => (Offer: o, Fit: Weigh(o, o.Few))).Where(s => s.Fit.Score > 0).GroupBy(s => s.Offer.Setup.Frame)
            .Select(g => (known.ContainsKey(g.Key) ? g : Gentlest(g)).OrderByDescending(s => s.Fit.Score).Take(SearchConstants.LookedAtClosely)
                .Select(s => (s.Offer, Fit: Carefully(s.Offer))).OrderByDescending(s => s.Fit.Score).ToList()).Where(g => g.Count > 0)];
    }

    private bool IsOpen(Offer offer)
    {
        if (offer.Preparing.IsMissing || !HouseWays.Allows(offer.Playable, occasion.Approach)) return false;
        if (!known.TryGetValue(offer.Setup.Frame, out var last)) return newIsDue && !occasion.NothingNew;
        if (last.Last.Closing == Closing.NotToday && DaysSince(last.Last) < SearchConstants.NotTodayDays) return false;
        return Changes(last.Threefold.Changes(offer.Threefold));
    }

    private bool Changes(int changes) => changes <= (occasion.NothingNew ? 0 : occasion.OneChange ? 1 : 3);

    /// <summary>Has what she played last in this game, and what lies around it, among the offers.</summary>
    internal void BringIn(OfferBook book, FrameData frame)
    {
        if (known.TryGetValue(frame, out var last)) book.AddAround(last.Last.Setup, last.Last.Seat);
    }

    /// <summary>This is what she played last in this game.</summary>
    internal bool WasLeftAt(Offer offer) => WasLeftAt(offer.Setup.Frame, offer.Threefold);

    /// <summary>She played this at her place last, so that what it takes was made then.</summary>
    internal bool WasLeftAt(Setup setup, int seat) => WasLeftAt(setup.Frame, Threefold.Of(setup, seat));

    private bool WasLeftAt(FrameData frame, Threefold threefold) => known.TryGetValue(frame, out var last) && last.Threefold == threefold;

    /// <summary>At this place no more is new to her than may be.</summary>
    internal bool Allows(Setup setup, int seat) => !known.TryGetValue(setup.Frame, out var last) || Changes(last.Threefold.Changes(Threefold.Of(setup, seat)));

    /// <summary>
    /// Of a game that she has not played, the lowest rung that has something for a first time: numbers that she holds, and yet not dull;
    /// or what was put first, where it has that.
    /// </summary>
    private IEnumerable<(Offer Offer, Fit Fit)> Gentlest(IEnumerable<(Offer Offer, Fit Fit)> offers)
    {
        var open = offers.Where(s => s.Fit.Easy <= SearchConstants.EasyShare && (readsWords || !s.Offer.HasWords)).ToList();
        var wished = open.Where(s => AimOf(s.Fit.Band) is { IsFirst: true } && s.Fit.Right >= SearchConstants.EaseFrom && s.Fit.Hard <= 2 * SearchConstants.HardShare).ToList();
        if (wished.Count == 0) wished = [.. open.Where(s => s.Fit.Right >= SearchConstants.NewGameRight && s.Fit.Hard <= SearchConstants.NewGameHard)];
        // Where nothing is held so well, what is held best.
        return wished.Count > 0 ? wished.GroupBy(s => s.Offer.Rung).OrderBy(g => g.Key).First() : open.OrderByDescending(s => s.Fit.Right).Take(1);
    }

    private int DaysSince(PlayedBefore played) => occasion.Day.DayNumber - played.Day.DayNumber;

    /// <summary>How an offer would go: the mean chance of being right, and the minutes of one game.</summary>
    public (double Right, double Minutes) Tell(Offer offer) => Weigh(offer, offer.Few) is var fit ? (fit.Right, fit.Minutes) : default;

    /// <summary>Her mean chance of being right in a setup of her own; 1 where it asks nothing, or cannot be played.</summary>
    public double RightIn(Setup alone) => Catalogue.Check(alone) is { } playable && AskProfile.Of(playable).Asks is { IsEmpty: false } asks
        ? asks.Sum(a => a.PerGame * worths.Of(a.Ask).Right) / asks.Sum(a => a.PerGame) : 1;

    /// <summary>What an offer would bring her in the minutes there are.</summary>
    /// <param name="asks">Of one game.</param>
    /// <param name="all">They are all that it asks; else a few stand for all.</param>
    private Fit Weigh(Offer offer, ImmutableArray<ProfiledAsk> asks, bool all = false)
    {
        double seconds = offer.Profile.Handling * hands;
        foreach (var (ask, times) in asks) seconds += times * (all ? worths.SecondsOf(ask) : AskWorths.RoughSeconds(worths.Of(ask).Right));
        return Weigh(offer.Setup.Frame, Making(offer), asks, seconds / 60, all ? SearchConstants.HalfAfterSame : double.PositiveInfinity);
    }

    /// <summary>What a game would bring her at a table, of whose seats hers is one.</summary>
    internal Fit Weigh(PlayerForecast player, Forecast table)
    {
        ImmutableArray<ProfiledAsk> asks = [.. player.Asks.Select(a => new ProfiledAsk(a.Ask, a.PerGame))];
        return Carefully(Weigh(table.Setup.Frame, 1, asks, table.Minutes.P50, SearchConstants.HalfAfterSame), AskProfile.Spread(asks));
    }

    /// <summary>What is left of a game's worth where things are made for it first.</summary>
    private double Making(Offer offer) => WasLeftAt(offer) ? 1 : offer.Preparing.Left;

    private Fit Weigh(FrameData frame, double making, ImmutableArray<ProfiledAsk> asks, double minutes, double half)
    {
        double count = 0, right = 0, hard = 0, easy = 0;
        foreach (var (ask, times) in asks)
        {
            var worth = worths.Of(ask);
            count += times;
            right += times * worth.Right;
            if (worth.Right < SearchConstants.TooHard) hard += times;
            if (worth.Right > SearchConstants.TooEasy) easy += times;
        }
        if (count == 0) return default;
        (right, hard, easy) = (right / count, hard / count, easy / count);
        double games = occasion.Minutes / minutes;
        var (brings, band) = Brings(asks, games, half);
        double score = brings * Pleasant(right) * Math.Max(0, 1 - 10 * SearchConstants.EachTenthTooHard * Math.Max(0, hard - SearchConstants.HardShare))
            * Math.Max(0, 1 - 10 * SearchConstants.EachTenthTooEasy * Math.Max(0, easy - SearchConstants.EasyShare)) * (games < .75 ? SearchConstants.TwiceAsLong : 1)
            * Variety(frame) * making;
        return new(score, right, hard, easy, minutes, band);
    }

    /// <summary>The same by all that it asks, with how sure it is that she is at ease.</summary>
    private Fit Carefully(Offer offer) => Carefully(Weigh(offer, offer.Profile.Asks, all: true), offer.Sample);

    private Fit Carefully(Fit fit, ImmutableArray<Ask> sample) =>
        fit with { Score = fit.Score / Math.Max(.01, Pleasant(fit.Right)) * Math.Pow(child.Beliefs.ChanceOfShare(sample, SearchConstants.EaseFrom, SearchConstants.EaseTo, occasion.Day), SearchConstants.EaseCounts) };

    /// <summary>What so many games of these asks bring to her aims; of one band less and less.</summary>
    /// <param name="half">After so many times in a sitting the same ask brings half; what stands for several has no such end.</param>
    private (double Brings, int Band) Brings(ImmutableArray<ProfiledAsk> asks, double games, double half)
    {
        Span<double> worth = stackalloc double[Feeding.Bands.Count], times = stackalloc double[Feeding.Bands.Count];
        worth.Clear();
        times.Clear();
        same.Clear();
        facts.Clear();
        // One fact in ten forms is still one fact.
        foreach (var (ask, perGame) in asks)
        {
            long fact = double.IsFinite(half) ? ChildModel.FactKey(ask) : 0;
            facts.Add(fact);
            if (fact != 0) CollectionsMarshal.GetValueRefOrAddDefault(same, fact, out _) += perGame * games;
        }
        double brings = 0, all = 0;
        for (int i = 0; i < asks.Length; i++)
        {
            var each = worths.Of(asks[i].Ask);
            double often = asks[i].PerGame * games, counts = often / (1 + same.GetValueOrDefault(facts[i], often) / half);
            all += often;
            worth[each.Lead] += each.Worth * counts;
            times[each.Lead] += counts;
            brings += each.Along * counts;
        }
        int best = 0;
        double most = 0;
        for (int band = 0; band < worth.Length; band++)
        {
            double brought = worth[band] / (1 + times[band] / SearchConstants.HalfAfter);
            brings += brought;
            if (brought > most) (most, best) = (brought, band);
        }
        return (brings * NotMonotonous(all), best);
    }

    /// <summary>Ten minutes with two or three facts are a drill: what is left of the worth of what asks so few.</summary>
    /// <param name="all">How many asks there are in the minutes there are.</param>
    private double NotMonotonous(double all)
    {
        if (same.Count == 0) return 1;
        double facts = 0, squares = 0;
        foreach (double often in same.Values) (facts, squares) = (facts + often, squares + often * often);
        return 1 - facts / all * (1 - Math.Min(1, facts * facts / squares / SearchConstants.FewFacts));
    }

    private static double Pleasant(double right)
    {
        double off = Math.Max(0, Math.Max(SearchConstants.PleasantFrom - right, right - SearchConstants.PleasantTo)) / SearchConstants.PleasantFalls;
        return Math.Exp(-off * off);
    }

    /// <summary>Play lives on variety: what was played lately is worth less, unless it was wished for again.</summary>
    private double Variety(FrameData frame)
    {
        if (!known.TryGetValue(frame, out var last)) return 1;
        if (frame == twice) return SearchConstants.ThirdRunning;
        double lately = last.Ago <= SearchConstants.PlayedLately.Length ? SearchConstants.PlayedLately[last.Ago - 1] : 1;
        int days = DaysSince(last.Last);
        return lately * last.Last.Closing switch
        {
            Closing.Again when days <= SearchConstants.AgainDays => SearchConstants.Again,
            Closing.NotToday when days <= SearchConstants.NotTodayFades => SearchConstants.NotTodayLeft,
            _ => 1,
        };
    }

    /// <summary>Plays an offer through in thought, made shorter where there is no time for it, with her own answers.</summary>
    private Suggestion Think(Offer offer, Fit fit)
    {
        Suggestion? best = null;
        var seated = offer.Setup.WithSeat(0, child.Seat with { Level = offer.Setup.Seats[0].Level, Allowance = offer.Setup.Seats[0].Allowance });
        if (seated.Seats.Length > 1 && occasion.GrownUp is { } beside) seated = seated.WithSeat(1, beside);
        foreach (var setup in Shortening.Of(HouseWays.Of(seated, occasion.Approach)))
        {
            if (Catalogue.Check(setup) is not { } playable) continue;
            var forecast = Forecaster.Make(playable, new LearnerAnswers(setup, occasion.Day, _ => child.Beliefs), new ForecastOptions(Behaviour.Child, 1, SearchConstants.GamesInThought), new Facts());
            if (best is null || forecast.Minutes.P50 < best.Forecast.Minutes.P50)
            {
                var player = forecast.Players[0];
                double right = player.Success ?? fit.Right;
                best = new(offer, playable, forecast, right, worths.AimOf(fit.Band), fit.Score * Pleasant(right) / Math.Max(.01, Pleasant(fit.Right)));
            }
            if (best.Forecast.Minutes.P50 <= occasion.Minutes * 1.2) break;
        }
        return best!;
    }
}

/// <summary>What could be played, as its own forecast tells it.</summary>
/// <param name="Aim">What it is for; null where it only comes along.</param>
public sealed record Suggestion(Offer Offer, Playable Playable, Forecast Forecast, double Right, Aim? Aim, double Score);
