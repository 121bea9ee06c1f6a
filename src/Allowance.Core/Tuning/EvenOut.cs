using Allowance.Core.Forecasts;
using Allowance.Core.Games;
using Allowance.Core.Rules;
using Allowance.Core.Setups;

namespace Allowance.Core.Tuning;

/// <summary>What makes a game fairer.</summary>
/// <param name="Steps">The knobs that were turned, in words, each from where it was to where it is; none where it is even already.</param>
/// <param name="Shares">By seat, the chance to win; a shared win counts in parts.</param>
/// <param name="WinsAreEven">Everyone is within five points of an equal share, however often each is right.</param>
/// <param name="IsEven">Everyone is within five points of an equal share, and every child is right in 75 to 90 of 100; else it is only the nearest.</param>
public sealed record Evened(Setup Setup, IReadOnlyList<string> Steps, IReadOnlyList<double> Shares, IReadOnlyList<double?> Success, bool WinsAreEven, bool IsEven);

/// <summary>
/// Even it out: the fewest steps of dice, range, head start, cards or first seat after which everybody's chance to win is
/// within five points of an equal share, while each child's mean success stays within 75 to 90 %; of equally many steps, the
/// least change of success. Where none is found, the nearest. Steps are tried level by level, the best few of each going on.
/// </summary>
public static class EvenOut
{
    public const double Near = .05, LeastSuccess = .75, MostSuccess = .90;

    private const int MostSteps = 6, Kept = 5, FewerWhereFar = 8;

    /// <summary>So far from an equal share a table is far from even.</summary>
    private const double Far = .15;

    /// <summary>So much nearer to an equal share is nearer.</summary>
    private const double Nearer = .005;

    /// <summary>Chances no further apart than this are as good as alike: so much they wander over 1,500 games.</summary>
    private const double Alike = .02;

    /// <param name="answers">How the players answer in a setup.</param>
    /// <param name="games">Games played for each setup that is tried.</param>
    /// <param name="budget">When it is spent, the nearest so far is the answer.</param>
    /// <param name="most">No more steps than these.</param>
    /// <returns>Null where it is not played against each other.</returns>
    public static Evened? For(Playable playable, Func<Setup, IAnswers> answers, int games = 1_500, Budget? budget = null, int most = MostSteps)
    {
        var setup = playable.Setup;
        if (setup.Seats.Length < 2 || setup.Frame.Knob(KnobRole.Winning) is null || setup.Winning != Winnings.Compete) return null;
        var start = Try(playable);
        var seen = new HashSet<string> { setup.ToLink() };
        var level = new List<Tried> { start };
        var nearest = start;
        for (int step = 0; step <= most; step++)
        {
            if (level.Where(t => t.IsEven).OrderBy(t => Math.Round(t.Changed(start), 4)).ThenBy(t => t.Away).FirstOrDefault() is { } found) return found.As(setup);
            // The nearest takes nobody further from where she should be than she was.
            if (level.Where(t => t.Outside <= start.Outside + .01).MinBy(t => t.Away) is { } best && best.Away < nearest.Away - Nearer) nearest = best;
            if (step == most || IsSpent()) break;
            level = [.. level.OrderBy(t => Math.Round(t.Away / Alike)).ThenBy(t => t.Apart).Take(Kept).SelectMany(t => Around(t.Setup)).TakeWhile(_ => !IsSpent()).Where(s => seen.Add(s.Setup.ToLink())).Select(Try)];
            if (level.Count == 0) break;
        }
        // A few games tell too little of what is advised, or of whether it is any nearer.
        if (nearest.Away > Far)
        {
            var was = Play(start.Playable, games);
            var now = nearest == start ? was : Play(nearest.Playable, games);
            nearest = now.Away < was.Away - Nearer ? now : was;
        }
        return nearest.As(setup);

        bool IsSpent() => budget?.Whole.IsSpent == true;

        // What is far from even shows it in a few games.
        Tried Try(Playable playable) => Play(playable, games / FewerWhereFar) is { Away: > Far } far ? far : Play(playable, games);

        Tried Play(Playable playable, int games)
        {
            var tried = playable.Setup;
            var forecast = Forecaster.Make(playable, answers(tried), new ForecastOptions(Behaviour.Child, 1, games), new Facts(), 0, budget);
            return new(playable, [.. forecast.Wins.Select(w => w + forecast.Tie / tried.Seats.Length)], [.. forecast.Players.Select(p => p.Success)], forecast.Points);
        }
    }

    /// <summary>The single steps that may even things out: what a seat rolls or draws, her range, her head start, and who begins.</summary>
    private static IEnumerable<Playable> Around(Setup setup)
    {
        var frame = Catalogue.Of(setup);
        var steps = new List<Setup>();
        for (int seat = 0; seat < setup.Seats.Length; seat++)
        {
            if (!setup.Seats[seat].GrownUp) steps.AddRange(frame.RangeSteps(setup, seat).Select(c => c.Setup).Where(s => s.Table.SequenceEqual(setup.Table)));
            foreach (var knob in setup.Frame.Knobs.Where(k => k is { Belongs: Belongs.Fairness, Scope: Scope.Seat } && frame.Matters(setup, k)))
                steps.AddRange(knob.Kind.Neighbours(setup.At(seat, knob)!).Select(value => setup.WithSeat(seat, setup.Seats[seat].With(knob, value))));
        }
        if (setup.Frame.Knob(KnobRole.WhoBegins) is { Kind: ChoiceKind first } knobFirst)
            steps.AddRange(first.Options.Where(o => !Equals(o, setup.Get(knobFirst))).Select(o => setup.With(knobFirst, o)));
        return steps.Select(s => frame.Check(s)).OfType<Playable>().Where(p => frame.IsSensible(setup, p.Setup));
    }

    /// <summary>What is other than it was, in words.</summary>
    private static IReadOnlyList<string> Differences(Setup was, Setup now)
    {
        var found = new List<string>();
        for (int seat = 0; seat < now.Seats.Length; seat++)
            foreach (var knob in now.Frame.Knobs.Where(k => k.Scope.HasFlag(Scope.Seat) && !Equals(was.At(seat, k), now.At(seat, k))))
                found.Add($"for {now.Who(seat)} {SingleChange.Turned(knob, now.At(seat, knob)!, was.At(seat, knob)!, knob.Label.ToLowerInvariant())}");
        if (now.Frame.Knob(KnobRole.WhoBegins) is { } first && !Equals(was.Get(first), now.Get(first))) found.Add($"who begins: {now.Get(first)}");
        return found;
    }

    private sealed record Tried(Playable Playable, IReadOnlyList<double> Shares, IReadOnlyList<double?> Success, IReadOnlyList<double> Points)
    {
        public Setup Setup => Playable.Setup;

        /// <summary>How far the one who is furthest from it is from an equal share.</summary>
        public double Away { get; } = Shares.Max(s => Math.Abs(s - 1.0 / Shares.Count));

        /// <summary>
        /// How far what they have at the end is apart, as a share of it. Where one wins every game, a step or two change nothing in that:
        /// then this tells which of them lead to where it does.
        /// </summary>
        public double Apart { get; } = (Points.Max() - Points.Min()) / (1 + Points.Max(Math.Abs));

        /// <summary>How far the children are outside 75 to 90 %, together.</summary>
        public double Outside { get; } = Success.Sum(s => s is { } right ? Math.Max(0, Math.Max(LeastSuccess - right, right - MostSuccess)) : 0);

        public bool WinsAreEven => Away <= Near;

        public bool IsEven => WinsAreEven && Outside == 0;

        public double Changed(Tried start) => Success.Zip(start.Success).Sum(s => Math.Abs((s.First ?? 0) - (s.Second ?? 0)));

        public Evened As(Setup was) => new(Setup, Differences(was, Setup), Shares, Success, WinsAreEven, IsEven);
    }
}
