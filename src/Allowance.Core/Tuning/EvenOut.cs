using Allowance.Core.Forecasts;
using Allowance.Core.Games;
using Allowance.Core.Setups;

namespace Allowance.Core.Tuning;

/// <summary>What makes a game fairer.</summary>
/// <param name="Steps">The knobs turned, one step each, in words; none where it is even already.</param>
/// <param name="Shares">By seat, the chance to win; a shared win counts in parts.</param>
/// <param name="IsEven">Everyone is within five points of an equal share, and every child is right in 75 to 90 of 100; else it is only the nearest.</param>
public sealed record Evened(Setup Setup, IReadOnlyList<string> Steps, IReadOnlyList<double> Shares, IReadOnlyList<double?> Success, bool IsEven);

/// <summary>
/// Even it out: the fewest steps of dice, range, head start, cards or first seat after which everybody's chance to win is
/// within five points of an equal share, while each child's mean success stays within 75 to 90 %; of equally many steps, the
/// least change of success. Where none is found, the nearest. Steps are tried level by level, the best few of each going on.
/// </summary>
public static class EvenOut
{
    public const double Near = .05, LeastSuccess = .75, MostSuccess = .90;

    private const int MostSteps = 6, Kept = 5;

    /// <param name="answers">How the players answer in a setup.</param>
    /// <param name="games">Games played for each setup that is tried.</param>
    /// <returns>Null where it is not played against each other.</returns>
    public static Evened? For(Setup setup, Func<Setup, IAnswers> answers, int games = 1_500, CancellationToken stop = default)
    {
        if (setup.Seats.Length < 2 || setup.Frame.Knob("winning") is null || setup.Get<ChoiceValue>("winning").Id != "compete") return null;
        var start = Try(setup, []);
        var seen = new HashSet<string> { setup.ToLink() };
        var level = new List<Tried> { start };
        var nearest = start;
        for (int step = 0; step <= MostSteps; step++)
        {
            if (level.Where(t => t.Away <= Near && t.Fits).OrderBy(t => Math.Round(t.Changed(start), 4)).ThenBy(t => t.Away).FirstOrDefault() is { } found) return found.As(true);
            // The nearest takes nobody further from where she should be than she was.
            if (level.Where(t => t.Outside <= start.Outside + .01).MinBy(t => t.Away) is { } best && best.Away < nearest.Away - .005) nearest = best;
            if (step == MostSteps || stop.IsCancellationRequested) break;
            level = [.. level.OrderBy(t => t.Away).Take(Kept).SelectMany(t => Around(t.Setup).Where(c => seen.Add(c.Setup.ToLink())).Select(c => Try(c.Setup, [.. t.Steps, c.Says]))).ToList()];
            if (level.Count == 0) break;
        }
        return nearest.As(false);

        Tried Try(Setup tried, IReadOnlyList<string> steps)
        {
            var forecast = Forecaster.Make(tried, answers(tried), new ForecastOptions(Behaviour.Child, 1, games), new Facts());
            return new(tried, steps, [.. forecast.Wins.Select(w => w + forecast.Tie / tried.Seats.Length)], [.. forecast.Players.Select(p => p.Success)]);
        }
    }

    /// <summary>The single steps that may even things out: what a seat rolls or draws, her range, her head start, and who begins.</summary>
    private static IEnumerable<(Setup Setup, string Says)> Around(Setup setup)
    {
        var frame = Catalogue.Of(setup);
        var steps = new List<(Setup Setup, string Says)>();
        for (int seat = 0; seat < setup.Seats.Length; seat++)
        {
            string who = setup.Seats[seat].Name.Length > 0 ? setup.Seats[seat].Name : $"place {seat + 1}";
            if (!setup.Seats[seat].GrownUp)
                steps.AddRange(frame.RangeSteps(setup, seat).Where(c => c.Setup.Table.SequenceEqual(setup.Table)).Select(c => (c.Setup, $"{who}: {c.Says}")));
            foreach (var knob in setup.Frame.Knobs.Where(k => k is { Belongs: Belongs.Fairness, Scope: Scope.Seat } && frame.Matters(setup, k)))
                foreach (var value in knob.Kind.Neighbours(setup.At(seat, knob.Id)!))
                    steps.Add((setup.WithSeat(seat, setup.Seats[seat].With(knob.Id, value)), $"{who}: {knob.Label.ToLowerInvariant()} {value} instead of {setup.At(seat, knob.Id)}"));
        }
        if (setup.Frame.Knob("first") is { Kind: ChoiceKind first })
            steps.AddRange(first.Options.Where(o => !Equals(o, setup.Get("first"))).Select(o => (setup.With("first", o), $"{o} begins")));
        return steps.Where(s => frame.Check(s.Setup).Count == 0);
    }

    private sealed record Tried(Setup Setup, IReadOnlyList<string> Steps, IReadOnlyList<double> Shares, IReadOnlyList<double?> Success)
    {
        /// <summary>How far the one who is furthest from it is from an equal share.</summary>
        public double Away { get; } = Shares.Max(s => Math.Abs(s - 1.0 / Shares.Count));

        /// <summary>How far the children are outside 75 to 90 %, together.</summary>
        public double Outside { get; } = Success.Sum(s => s is { } right ? Math.Max(0, Math.Max(LeastSuccess - right, right - MostSuccess)) : 0);

        public bool Fits => Outside == 0;

        public double Changed(Tried start) => Success.Zip(start.Success).Sum(s => Math.Abs((s.First ?? 0) - (s.Second ?? 0)));

        public Evened As(bool even) => new(Setup, Steps, Shares, Success, even);
    }
}
