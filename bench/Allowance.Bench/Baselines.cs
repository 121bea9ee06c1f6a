using Allowance.Core.Asks;
using Allowance.Core.Learner;

namespace Allowance.Bench;

/// <summary>A simple way of foretelling whether an answer will be right, within one child.</summary>
internal interface IBaseline
{
    double Foretell(Ask ask);

    void Learn(Ask ask, bool right);
}

/// <summary>
/// The share that was right so far among asks with the same key, drawn towards the share over all her asks; that is drawn
/// towards seven in ten.
/// </summary>
internal sealed class ShareSoFar(Func<Ask, long> key, double pull) : IBaseline
{
    private readonly Dictionary<long, (double Right, double All)> counts = [];
    private double right = .7 * 4, all = 4;

    public double Foretell(Ask ask)
    {
        double mean = right / all;
        var (r, n) = counts.GetValueOrDefault(key(ask));
        return Math.Clamp((r + pull * mean) / (n + pull), .01, .99);
    }

    public void Learn(Ask ask, bool wasRight)
    {
        var (r, n) = counts.GetValueOrDefault(key(ask));
        counts[key(ask)] = (r + (wasRight ? 1 : 0), n + 1);
        right += wasRight ? 1 : 0;
        all++;
    }
}

/// <summary>
/// A rating a skill, moved after each answer by a step that shrinks with the number of answers; with terms, also one
/// for the band and one for the fact, each shared out of the same surprise.
/// </summary>
internal sealed class Elo(bool withTerms, double step, double settle) : IBaseline
{
    private readonly Dictionary<(int, long), (double Rating, int Met)> ratings = [];

    public double Foretell(Ask ask) => 1 / (1 + Math.Exp(-Terms(ask).Sum(t => ratings.GetValueOrDefault(t).Rating)));

    public void Learn(Ask ask, bool right)
    {
        double surprise = (right ? 1 : 0) - Foretell(ask);
        foreach (var term in Terms(ask))
        {
            var (rating, met) = ratings.GetValueOrDefault(term);
            ratings[term] = (rating + step / (1 + met / settle) * surprise, met + 1);
        }
    }

    private IEnumerable<(int, long)> Terms(Ask ask)
    {
        int band = LeadBand(ask);
        yield return (0, 0);
        yield return (1, SkillOf(band));
        if (!withTerms) yield break;
        yield return (2, band);
        yield return (3, ChildModel.FactKey(ask));
    }

    public static int LeadBand(Ask ask)
    {
        Span<int> bands = stackalloc int[4];
        Feeding.Of(ask, bands);
        return bands[0];
    }

    public static long SkillOf(int band) => Skills.All.ToList().IndexOf(Feeding.Bands[band].Skill);
}
