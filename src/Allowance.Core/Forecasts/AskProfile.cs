using System.Collections.Immutable;
using Allowance.Core.Asks;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;

namespace Allowance.Core.Forecasts;

/// <param name="PerGame">Expected number of times in a game.</param>
public readonly record struct ProfiledAsk(Ask Ask, double PerGame);

/// <summary>
/// What one game asks at a place, and what handling it takes, whoever sits there: answers are right four times in five, as they are
/// where practice pays, and take no time, so that each child's own seconds can be added to it.
/// </summary>
/// <param name="Handling">Seconds of dealing, turning, laying and passing on in a game, with practised hands.</param>
public sealed record AskProfile(double Turns, double Handling, ImmutableArray<ProfiledAsk> Asks)
{
    /// <summary>The chance of being right that profiles are made by.</summary>
    public const double Right = .8;

    /// <summary>Games until there are turns enough, and at most: short games vary more.</summary>
    private const int LeastGames = 16, MostGames = 160, EnoughTurns = 1_200;

    /// <param name="seat">The place; nobody else is asked for.</param>
    public static AskProfile Of(Playable playable, int seat = 0)
    {
        var setup = playable.Setup;
        var plan = new SimulationPlan(Behaviour.Child, 1, new Typical(), setup.First, setup.Youngest, new NumberRange?[setup.Seats.Length], [.. setup.Seats.Select(_ => 1f)], MostGames);
        var tally = new GameTally(setup.Seats.Length, plan);
        var game = playable.Compile();
        int played = 0;
        while (played < LeastGames || played < MostGames && tally.Turns < EnoughTurns)
        {
            game.PlayedBy(new Simulator(plan, tally, played, played + LeastGames));
            played += LeastGames;
        }
        return new((double)tally.Turns / played, plan.Seconds.Take(played).Average(), [.. tally.Asks.Of(seat).OrderBy(a => a.Code).Select(a => new ProfiledAsk(Ask.FromCode(a.Code), (double)a.Count / played))]);
    }

    /// <summary>So many asks stand for all of a game where thousands of them are looked through.</summary>
    private const int Sampled = 10;

    /// <summary>A few of the asks that stand for all: every so many-th of all that is asked in a game.</summary>
    internal static ImmutableArray<Ask> Spread(ImmutableArray<ProfiledAsk> asks)
    {
        double all = asks.Sum(a => a.PerGame), sum = 0;
        var sample = ImmutableArray.CreateBuilder<Ask>(Sampled);
        foreach (var (ask, times) in asks)
            for (sum += times; sample.Count < Sampled && (sample.Count + .5) * all / Sampled < sum;) sample.Add(ask);
        return sample.ToImmutable();
    }

    private sealed class Typical : IAnswers
    {
        private static readonly Answering Answer = new([1 - Right, 0, 0, 0, 0, Right], [0, 0, 0, 0, 0, 0]);

        public Answering For(int seat, Ask ask) => Answer;
    }
}
