using System.Diagnostics;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;

namespace Allowance.Core.Forecasts;

/// <param name="Seconds">What the loop takes, once all asks have been met.</param>
/// <param name="Draws">Random numbers consumed.</param>
/// <param name="Deals">How many of them dealt something: a card drawn without putting it back is a step of a shuffle.</param>
/// <param name="BytesPerGame">Allocated a game in that time.</param>
public sealed record SimulationCost(double Seconds, long Turns, long Draws, long Deals, double BytesPerGame);

/// <summary>Times the inner loop of the simulator on one core, for <c>./allowance bench forecast</c>.</summary>
public sealed class SimulationBench(Playable playable, IAnswers answers, Behaviour behaviour)
{
    private readonly Game game = playable.Compile(answers);

    public SimulationCost Play(int games)
    {
        var plan = new SimulationPlan(behaviour, 1, answers, FirstSeat.Seat, 0, new NumberRange?[playable.Setup.Seats.Length], SimulationPlan.HandsOf(playable.Setup), games);
        var tally = new GameTally(playable.Setup.Seats.Length, plan);
        game.PlayedBy(new Simulator(plan, tally, 0, games));
        var (turns, draws, deals) = (tally.Turns, tally.Draws, tally.Deals);
        // The same games again: all asks have been met by now, and only the loop is left.
        long before = GC.GetAllocatedBytesForCurrentThread();
        var clock = Stopwatch.StartNew();
        game.PlayedBy(new Simulator(plan, tally, 0, games));
        double seconds = clock.Elapsed.TotalSeconds;
        long bytes = GC.GetAllocatedBytesForCurrentThread() - before;
        return new(seconds, turns, draws, deals, (double)bytes / games);
    }
}
