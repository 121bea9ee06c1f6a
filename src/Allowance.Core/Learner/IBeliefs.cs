using Allowance.Core.Asks;

namespace Allowance.Core.Learner;

/// <summary>What is believed of a child; or, of a made-up one, what is so.</summary>
public interface IBeliefs
{
    /// <summary>The chance of being right without help on a day.</summary>
    double Right(Ask ask, DateOnly day);

    /// <summary>The chance of each of the six outcomes on a day.</summary>
    void Chances(Ask ask, DateOnly day, Span<double> into);

    /// <summary>How likely it is that, of these asks together, a share between two bounds would go right.</summary>
    double ChanceOfShare(IReadOnlyList<Ask> asks, double low, double high, DateOnly day);

    /// <summary>How a skill band stands on a day.</summary>
    BandStanding Standing(int band, DateOnly day);
}
