using Allowance.Core.Asks;
using Allowance.Core.Forecasts;
using Allowance.Core.Games;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Tables;
using Allowance.Core.Tuning;

namespace Allowance.Core.Sheets;

/// <summary>An ask of the worked turn: what to say, the answer, and what to say when she is stuck.</summary>
public sealed record WorkedAsk(int Seat, string Question, string Answer, IReadOnlyList<string> Hints);

/// <summary>One turn, played by the frame's own rules with this setup's own numbers.</summary>
/// <param name="Lies">What lies on the table, as it would be drawn.</param>
public sealed record WorkedTurn(int Seat, IReadOnlyList<Zone> Lies, string Says, string Does, IReadOnlyList<WorkedAsk> Asks);

/// <summary>One page for a setup: what is needed, how to get ready, how to play, a worked turn, and what comes next.</summary>
public sealed record RuleSheet(
    Setup Setup, IReadOnlyList<Need> Needs, IReadOnlyList<string> GetReady, IReadOnlyList<(int? Seat, string Says)> Play, WorkedTurn? Turn,
    string Ends, IReadOnlyList<string> Easier, IReadOnlyList<string> Harder)
{
    private const int Tries = 40, Samples = 240, Listed = 3;

    /// <param name="answers">How the players answer in a setup, to tell easier from harder.</param>
    /// <param name="budget">When it is spent, no more changes are looked at.</param>
    /// <param name="drawer">What is there, so that nothing else is proposed.</param>
    public static RuleSheet Of(Playable playable, Approach approach, Func<Setup, IAnswers> answers, Budget? budget = null, Cupboard? drawer = null)
    {
        var (frame, setup) = (playable.Frame, playable.Setup);
        var play = new List<(int?, string)> { (null, setup.Level.Says) };
        for (int i = 0; i < setup.Seats.Length; i++)
            if (setup.Seats[i].Level is { } own && own != setup.LevelId) play.Add((i, setup.Frame.Level(own)!.Says));
        var (easier, harder) = Around(playable, answers, budget?.Whole ?? Spending.Unlimited, drawer);
        return new(setup, frame.Needs(setup), frame.GetReady(setup), play, Work(playable, approach), setup.Frame.Ends, easier, harder);
    }

    /// <summary>The first turn that asks something, of the first few shuffles.</summary>
    private static WorkedTurn? Work(Playable playable, Approach approach)
    {
        var game = playable.Compile();
        for (int shuffle = 1; shuffle <= Tries; shuffle++)
        {
            var rng = Rng.ForGame(shuffle, 0);
            var run = game.Start(0);
            for (int moves = 0; moves < 3 && run.Next.Kind != StepKind.Over; moves++)
            {
                while (run.Next.Kind == StepKind.Chance) run.Deal(run.Draw(ref rng));
                if (run.Next.Kind == StepKind.Over) break;
                var move = run.Best(ref rng);
                if (run.Asks(move) is [_, ..] asks)
                    return new(run.Next.Seat, run.Zones, run.Says, run.Tells(move, true), [.. asks.Select(a => new WorkedAsk(a.Seat, a.Ask.Question(), a.Ask.AnswerWords(), [.. Enumerable.Range(1, 3).Select(step => Hints.Of(a.Ask, step, approach).Says)]))]);
                run.Apply(move, true);
            }
        }
        return null;
    }

    private static (IReadOnlyList<string> Easier, IReadOnlyList<string> Harder) Around(Playable playable, Func<Setup, IAnswers> answers, Spending spending, Cupboard? drawer)
    {
        var setup = playable.Setup;
        int seat = setup.Seats.ToList().FindIndex(s => !s.GrownUp);
        if (seat < 0) return ([], []);
        var changes = Easing.Around(playable, seat, answers, Samples, spending, drawer);
        return (Told(Ease.Easier), Told(Ease.Harder));

        IReadOnlyList<string> Told(Ease ease) => [.. changes.Nearest(ease, int.MaxValue).DistinctBy(c => c.Step.Belongs).Take(Listed).Select(c => Words.Sentence(c.Step.Says))];
    }
}
