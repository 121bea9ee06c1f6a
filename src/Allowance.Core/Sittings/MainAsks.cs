using Allowance.Core.Asks;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;

namespace Allowance.Core.Sittings;

/// <summary>What matters most in the turns of a game, as it is likely to have been asked where nobody told the app.</summary>
public static class MainAsks
{
    /// <summary>So many turns show what comes up.</summary>
    private const int Turns = 40, Steps = 400;

    /// <summary>Of one plain game, what mattered most in each turn of a seat, as asks without numbers; none where she is asked nothing in it.</summary>
    public static IReadOnlySet<Ask> KindsOf(Playable playable, int seat)
    {
        var kinds = new HashSet<Ask>();
        var run = playable.Compile().Start(0);
        var rng = Rng.ForGame(1, 0);
        for (int step = 0; step < Steps && run.Next.Kind != StepKind.Over && run.Turns < Turns; step++)
        {
            if (run.Next.Kind == StepKind.Chance)
            {
                run.Deal(run.Draw(ref rng));
                continue;
            }
            var move = run.Plain(ref rng);
            if (run.Asks(move).Where(a => a.Seat == seat).Select(a => a.Ask).ToList() is [_, ..] asks) kinds.Add(playable.Frame.MattersMost(playable.Setup, seat, asks).WithoutNumbers(0));
            run.Apply(move, true);
        }
        return kinds;
    }
}
