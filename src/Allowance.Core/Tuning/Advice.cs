using Allowance.Core.Forecasts;
using Allowance.Core.Games;
using Allowance.Core.Materials;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Sittings;

namespace Allowance.Core.Tuning;

public enum AdviceKind { Begin, StepUp, Stay, StepBack, Rest, Visit, Another }

public static class AdviceWords
{
    public static string Says(this AdviceKind kind) => kind switch
    {
        AdviceKind.Begin => "To begin with", AdviceKind.StepUp => "A step up", AdviceKind.StepBack => "A step back", AdviceKind.Rest => "Rest this",
        AdviceKind.Visit => "A visit", AdviceKind.Another => "Another way", _ => "Stay",
    };
}

/// <summary>Something to play, with its reasons.</summary>
/// <param name="Why">One sentence: the aim and its evidence.</param>
/// <param name="New">One sentence: what is new about it since she last played it.</param>
public sealed record Advised(AdviceKind Kind, Suggestion Game, string Why, string New)
{
    public Setup Setup => Game.Playable.Setup;

    /// <summary>What is played, in a few words.</summary>
    public string Says => Said(Setup);

    /// <summary>What is played by a setup, in a few words; where there is one child, with what is hers alone.</summary>
    public static string Said(Setup setup)
    {
        var frame = Catalogue.Of(setup);
        return $"{setup.Frame.Name}, {setup.Level.Label.ToLowerInvariant()}: {(setup.Seats.Count(s => !s.GrownUp) == 1 ? frame.Summary(setup, _ => "her") : frame.Summary(setup))}";
    }
}

/// <summary>What to play, and why: the words to what the search finds.</summary>
public static class Advice
{
    /// <summary>A smaller difference in being right is neither a step up nor one back.</summary>
    private const double Step = .02;

    /// <summary>The best things to play, of different games, the best first.</summary>
    public static IReadOnlyList<Advised> For(ChildHere child, Occasion occasion, OfferBook book, int most)
    {
        var search = new Search(child, occasion);
        return [.. search.Best(book, most).Select(game => Told(game, search, LastIn(child, game.Playable.Setup.Frame)))];
    }

    private const int ToBeginWith = 3, LookedAt = 12;

    /// <summary>After so few notes it counts most that a game is surely neither too hard nor dull: so large a share of it goes right.</summary>
    private const double SurelyFrom = .55, SurelyTo = .90;

    /// <summary>Three games to begin with, after a first look, of three families: what fits most surely; fewer where no more fit her.</summary>
    public static IReadOnlyList<Advised> ToBegin(ChildHere child, Occasion occasion, OfferBook book) =>
        [.. For(child, occasion, book, LookedAt).OrderByDescending(a => child.Beliefs.ChanceOfShare(a.Game.Offer.Sample, SurelyFrom, SurelyTo, occasion.Day)).DistinctBy(a => a.Setup.Frame.Family).Take(ToBeginWith)];

    /// <summary>From here on a game brings little more, and may rest.</summary>
    private const double RestFrom = .93;

    /// <summary>What comes after a game that was just played: a step up or back in it, or once more; or it rests, and another is played meanwhile.</summary>
    /// <returns>Null where the drawer allows nothing.</returns>
    public static Advised? After(ChildHere child, Occasion occasion, OfferBook book, FrameData frame)
    {
        var search = new Search(child, occasion);
        var last = LastIn(child, frame);
        var own = search.BestIn(book, frame);
        if (own is { Right: < RestFrom }) return Told(own, search, last);
        if (search.Best(book, 2).FirstOrDefault(g => g.Playable.Setup.Frame != frame) is not { } other) return own is null ? null : Told(own, search, last);
        string why = last?.Closing == Closing.NotToday ? $"{frame.Name} may rest for some days; something else meanwhile." : $"{frame.Name} goes well: let it rest, and play something else meanwhile.";
        var told = Told(other, search, LastIn(child, other.Playable.Setup.Frame));
        return told with { Kind = AdviceKind.Rest, Why = $"{why} {told.Why}" };
    }

    private static PlayedBefore? LastIn(ChildHere child, FrameData frame) => child.Played.LastOrDefault(p => p.Setup.Frame == frame);

    private static Advised Told(Suggestion game, Search search, PlayedBefore? last)
    {
        string why = game.Aim is { Kind: not AimKind.Keep } aim ? aim.Why : $"For a change. {game.Playable.Setup.Frame.Says}";
        return new(KindOf(game, search, last), game, why, WhatIsNew(last, game.Playable.Setup, 0));
    }

    private static AdviceKind KindOf(Suggestion game, Search search, PlayedBefore? last)
    {
        if (last is null) return AdviceKind.Begin;
        if (game.Aim?.Kind == AimKind.Visit) return AdviceKind.Visit;
        if (Threefold.Of(last.Setup, last.Seat) == game.Offer.Threefold) return AdviceKind.Stay;
        // The ladder binds: a higher rung is a step up, whatever is believed of it.
        int rungs = game.Offer.Rung - last.Setup.Frame.Rung(last.Setup.LevelAt(last.Seat));
        if (rungs != 0) return rungs > 0 ? AdviceKind.StepUp : AdviceKind.StepBack;
        double before = search.RightIn(OfferBook.Alone(last.Setup, last.Seat)), harder = before - game.Right;
        // What went well is not stepped back from, though the next may be easier: it is another way.
        return harder > Step ? AdviceKind.StepUp : harder < -Step && before < SearchConstants.PleasantFrom ? AdviceKind.StepBack : AdviceKind.Another;
    }

    /// <summary>What is other than when she last played it, in a sentence.</summary>
    /// <param name="last">Null where she never did.</param>
    public static string WhatIsNew(PlayedBefore? last, Setup now, int seat)
    {
        if (last is null) return "A new game: new rules with old numbers.";
        Threefold was = Threefold.Of(last.Setup, last.Seat), has = Threefold.Of(now, seat);
        if (was.Changes(has) > 1) return "The same game with several changes.";
        if (was.Rule != has.Rule)
            return last.Setup.LevelAt(last.Seat) == now.LevelAt(seat) ? "The same numbers by another rule." : $"The same numbers, now {now.Frame.Level(now.LevelAt(seat))!.Label.ToLowerInvariant()}.";
        if (was.Form != has.Form) return Changed(Belongs.Form) is { } form ? $"The same numbers in another form: {form}." : "The same numbers in another form.";
        if (was.Range != has.Range) return $"The same game with other numbers: {Numbers()}.";
        return "The same as last time.";

        // What is her own alone, or a detail, does not stand in what is said of the table.
        string Numbers()
        {
            var frame = Catalogue.Of(now);
            if (frame.Summary(now) is var table && table != frame.Summary(Frame.OfHers(last.Setup, last.Seat))) return table;
            return Words.List(now.Frame.Knobs.Where(k => k.Belongs == Belongs.Range && k.Role != KnobRole.Range && !Equals(last.Setup.At(last.Seat, k), now.At(seat, k))).Select(k =>
            {
                string label = k.Label.ToLowerInvariant();
                // What is left open has no value to be named.
                return (now.At(seat, k), last.Setup.At(last.Seat, k)) switch { ({ } value, { } before) => SingleChange.Turned(k, value, before, label), ({ } value, null) => $"{label} {value}", var (_, before) => $"no longer {label} {before}" };
            }));
        }

        string? Changed(Belongs belongs) => now.Frame.Knobs.Where(k => k.Belongs == belongs && !Equals(last.Setup.At(last.Seat, k), now.At(seat, k)))
            .Select(k => $"{now.At(seat, k)} instead of {last.Setup.At(last.Seat, k)}").FirstOrDefault();
    }
}
