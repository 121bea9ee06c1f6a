using Allowance.Core.Asks;

namespace Allowance.Core.Learner;

/// <summary>A made-up child who plays: what the estimate and advice are measured against.</summary>
public interface IMadeUpChild
{
    /// <summary>The chance that she is right without help, over her good and bad days, as she is now.</summary>
    double RightOverDays(Ask ask);

    /// <summary>Answers an ask on a day, and learns from it. Days come in their order.</summary>
    Outcome Answer(Ask ask, DateOnly day);
}
