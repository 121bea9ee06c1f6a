using Allowance.Core.Asks;
using Allowance.Core.Games;
using Allowance.Core.Learner;
using Allowance.Core.Rules;
using Allowance.Core.Setups;

namespace Allowance.Core.Tuning;

/// <summary>Games to begin with, at the level and with the numbers that fit her.</summary>
public static class OtherGames
{
    private const double Gentlest = .55, Hardest = .93;

    private const int ToBeginWith = 3;

    /// <summary>Games to begin with, each of another family, in the order in which children grow through them: the first of a family that fits her.</summary>
    /// <returns>Three; fewer where no more families have anything that fits her.</returns>
    public static IReadOnlyList<Proposal> ToBegin(Seat child, ChildModel model, Func<Setup, IAnswers> answers, Approach approach, DateOnly day) =>
        [.. Catalogue.All.GroupBy(f => f.Data.Family).Select(family => family.Select(f => Begin(f, child, model, answers, approach, day)).FirstOrDefault(p => p is not null)).OfType<Proposal>().Take(ToBeginWith)];

    private static Proposal? Begin(Frame frame, Seat child, ChildModel model, Func<Setup, IAnswers> answers, Approach approach, DateOnly day) => frame is Partners
        ? Proposals.Beginnings(child, model, approach, day).FirstOrDefault()
        : Fitted(frame, child, model, answers, day, gentlest: true) is { } fitted ? new(AdviceKind.Begin, fitted.Setup, Named(frame, fitted.Setup), $"{frame.Data.Says} About {Math.Round(10 * fitted.Success):0} in ten should go right.", fitted.Success, []) : null;

    private static string Named(Frame frame, Setup setup) => $"{frame.Data.Name}, {setup.Level.Label.ToLowerInvariant()}: {frame.Summary(setup)}";

    /// <summary>The level, and its numbers, with the chance of being right that is nearest to what is wanted; or the gentlest level that fits her.</summary>
    private static (Setup Setup, double Success)? Fitted(Frame frame, Seat child, ChildModel model, Func<Setup, IAnswers> answers, DateOnly day, bool gentlest = false)
    {
        if (frame is Glimpse)
        {
            var (setup, sees) = GlimpseFitting.For(child, model, day);
            return sees is > Gentlest and < Hardest ? (setup, sees) : null;
        }
        var fits = frame.Data.Levels.Select(level => Fitting.Of(Setup.Default(frame.Data, child) with { LevelId = level.Id }, answers)).OfType<(Setup Setup, double Success)>()
            .Where(f => f.Success is > Gentlest and < Hardest);
        return (gentlest ? fits : fits.OrderBy(f => Math.Abs(f.Success - Fitting.Wanted))).Select(f => ((Setup, double)?)f).FirstOrDefault();
    }
}
