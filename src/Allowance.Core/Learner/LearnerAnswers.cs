using System.Collections.Concurrent;
using Allowance.Core.Asks;
using Allowance.Core.Rules;
using Allowance.Core.Setups;

namespace Allowance.Core.Learner;

/// <summary>Answers at each seat by what is believed of its child; a child nobody has seen answers like an average one of her age, or of five.</summary>
public sealed class LearnerAnswers : IAnswers
{
    public const double AgeWhereUnknown = 5;

    private readonly IBeliefs?[] children;
    private readonly DateOnly day;

    // The same asks come up in every batch of games and on every core.
    private readonly ConcurrentDictionary<(int Seat, long Ask), Answering> known = new();

    /// <param name="model">What is believed of a seat's child, or null.</param>
    public LearnerAnswers(Setup setup, DateOnly day, Func<Seat, IBeliefs?>? model = null)
    {
        this.day = day;
        children = [.. setup.Seats.Select(s => s.GrownUp ? null : model?.Invoke(s) ?? new ChildModel(s.Age ?? AgeWhereUnknown))];
    }

    public Answering For(int seat, Ask ask)
    {
        if (known.TryGetValue((seat, ask.Code), out var answering)) return answering;
        return known[(seat, ask.Code)] = WorkOut(seat, ask);
    }

    private Answering WorkOut(int seat, Ask ask)
    {
        Span<double> chances = stackalloc double[6], seconds = stackalloc double[6];
        if (children[seat] is not { } child)
        {
            chances.Clear();
            chances[5] = 1;
            seconds.Fill(Seconds.GrownUp);
            return new(chances, seconds);
        }
        child.Chances(ask, day, chances);
        Seconds.Of(ask, seconds);
        return new(chances, seconds);
    }
}
