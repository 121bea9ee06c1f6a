using Allowance.Core.Forecasts;
using Allowance.Core.Games;
using Allowance.Core.Rules;
using Allowance.Core.Setups;

namespace Allowance.Core.Tuning;

/// <summary>Fits a game to one player by its range: the steps a frame offers, up or down, until about eight in ten go right.</summary>
public static class Fitting
{
    public const double Wanted = .80;

    private const double Low = .74, High = .87;
    private const int Samples = 24, MostSteps = 12;

    /// <param name="start">Where to begin, for one player at seat 0.</param>
    /// <param name="answers">How she answers in a setup.</param>
    /// <returns>The setup nearest to what is wanted, with her mean chance of being right; null where she is asked nothing.</returns>
    public static (Setup Setup, double Success)? Of(Setup start, Func<Setup, IAnswers> answers)
    {
        var frame = Catalogue.Of(start);
        if (frame.Check(start) is not { } playable || Success(playable) is not { } success) return null;
        (Setup Setup, double Success) best = (start, success), now = best;
        var seen = new HashSet<string> { start.ToLink() };
        for (int step = 0; step < MostSteps && now.Success is < Low or > High; step++)
        {
            var next = frame.RangeSteps(now.Setup, 0).Select(c => frame.Check(c.Setup)).OfType<Playable>().Where(p => seen.Add(p.Setup.ToLink()))
                .Select(p => (p.Setup, Success: Success(p) ?? double.NaN)).Where(s => !double.IsNaN(s.Success)).ToList();
            // Gentler where it is too hard, harder where it is too easy.
            var better = next.Where(s => now.Success < Low ? s.Success > now.Success : s.Success < now.Success).ToList();
            if (better.Count == 0) break;
            now = better.MinBy(s => Math.Abs(s.Success - Wanted));
            if (Math.Abs(now.Success - Wanted) < Math.Abs(best.Success - Wanted)) best = now;
        }
        return best;

        double? Success(Playable playable) => Forecaster.Success(playable, answers(playable.Setup), Samples);
    }
}
