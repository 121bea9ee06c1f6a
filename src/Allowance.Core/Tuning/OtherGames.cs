using Allowance.Core.Games;
using Allowance.Core.Learner;
using Allowance.Core.Rules;
using Allowance.Core.Setups;

namespace Allowance.Core.Tuning;

/// <summary>Another game for a change: every day another one, at the level and with the numbers that fit her.</summary>
public static class OtherGames
{
    private const double Gentlest = .55, Hardest = .93;

    /// <param name="answers">How she answers in a setup with her at seat 0.</param>
    /// <param name="turn">Which game's turn it is; games that do not fit her are passed over.</param>
    /// <returns>Null where no other game fits her.</returns>
    public static Proposal? For(Seat child, ChildModel model, Func<Setup, IAnswers> answers, DateOnly day, int turn)
    {
        var frames = Catalogue.All.Where(f => f is not Partners).ToList();
        for (int i = 0; i < frames.Count; i++)
        {
            var frame = frames[(turn + i) % frames.Count];
            if (Fitted(frame, child, model, answers, day) is not { } fitted) continue;
            string says = $"{frame.Data.Name}, {fitted.Setup.Level.Label.ToLowerInvariant()}: {frame.Summary(fitted.Setup)}";
            return new(AdviceKind.Another, fitted.Setup, says, $"For a change. {frame.Data.Says} About {Math.Round(10 * fitted.Success):0} in ten should go right.", fitted.Success, []);
        }
        return null;
    }

    /// <summary>The level, and its numbers, with the chance of being right that is nearest to what is wanted.</summary>
    private static (Setup Setup, double Success)? Fitted(Frame frame, Seat child, ChildModel model, Func<Setup, IAnswers> answers, DateOnly day)
    {
        if (frame is Glimpse)
        {
            var (setup, sees) = GlimpseFitting.For(child, model, day);
            return sees is > Gentlest and < Hardest ? (setup, sees) : null;
        }
        return frame.Data.Levels.Select(level => Fitting.Of(Setup.Default(frame.Data, child) with { LevelId = level.Id }, answers)).OfType<(Setup Setup, double Success)>()
            .Where(f => f.Success is > Gentlest and < Hardest).OrderBy(f => Math.Abs(f.Success - Fitting.Wanted)).Select(f => ((Setup, double)?)f).FirstOrDefault();
    }
}
