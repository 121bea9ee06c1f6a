using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;

namespace Allowance.Core.Forecasts;

/// <summary>A figure of games that were played, one value a game.</summary>
internal sealed class PlayedFigure
{
    private readonly List<double> values = [];
    private double[]? sorted;

    public void Add(double value) => values.Add(value);

    private double Average => values.Average();

    /// <summary>The central moment of an order.</summary>
    private double Moment(int order)
    {
        double mean = Average;
        return values.Sum(v => Math.Pow(v - mean, order)) / values.Count;
    }

    public NumberFact Mean => new(Average, Math.Sqrt(Moment(2) / values.Count), true);

    /// <summary>Its error by the fourth moment: Var(s) ≈ (μ₄ − σ⁴) / 4σ²n.</summary>
    public NumberFact Sd
    {
        get
        {
            double variance = Moment(2);
            return new(Math.Sqrt(variance), variance == 0 ? 0 : Math.Sqrt(Math.Max(0, Moment(4) - variance * variance) / values.Count / variance) / 2, true);
        }
    }

    /// <summary>The smallest value that so large a share of the games does not exceed; its error by the values next to it in rank.</summary>
    public NumberFact Quantile(double share)
    {
        sorted ??= [.. values.Order()];
        double rank = share * values.Count, off = Math.Sqrt(share * (1 - share) * values.Count);
        return new(At(rank), (At(rank + off) - At(rank - off)) / 2, true);

        double At(double place) => sorted[Math.Clamp((int)Math.Ceiling(place - 1e-9) - 1, 0, sorted.Length - 1)];
    }
}

/// <summary>Plays games by the rules themselves where an exact answer takes too long: everyone is right.</summary>
internal static class PlayedGames
{
    /// <summary>So many tell enough.</summary>
    private const int Enough = 20_000;

    /// <summary>Turns between two looks at the clock.</summary>
    private const int Stretch = 64;

    /// <summary>Looks at a game before each move, and once more when it is over; the figures of a game begin at 0.</summary>
    public delegate void Reading<TState>(in TState state, bool over, Span<double> figures) where TState : struct;

    /// <param name="figures">How many figures a game has.</param>
    /// <param name="first">Who begins a game.</param>
    /// <param name="enoughTurns">After so many turns it is enough; a game that goes on then is left out.</param>
    /// <returns>The figures; null where no game ended in time.</returns>
    public static PlayedFigure[]? Play<TRules, TState>(TRules rules, Behaviour behaviour, Func<int, int> first, int figures, Reading<TState> read, Spending spending, int enoughTurns = int.MaxValue)
        where TRules : struct, ILoopRules<TState>
        where TState : struct
    {
        var all = Enumerable.Range(0, figures).Select(_ => new PlayedFigure()).ToArray();
        var state = default(TState);
        Span<double> one = stackalloc double[figures];
        int game = 0, turns = 0;
        for (; game < Enough && turns < enoughTurns && !spending.IsSpent; game++)
        {
            var rng = Rng.ForGame(20, game);
            one.Clear();
            rules.Start(ref state, first(game));
            while (rules.Head(ref state).Next is { Kind: not StepKind.Over } step)
            {
                if (step.Kind == StepKind.Chance) rules.Deal(ref state, rules.Draw(ref state, ref rng));
                else
                {
                    read(in state, false, one);
                    rules.Apply(ref state, behaviour is Behaviour.Perfect or Behaviour.Blocking ? rules.Best(in state, ref rng) : rules.Plain(in state, ref rng), new Answered(true, 0, step.Seat));
                    if (++turns % Stretch == 0 && (spending.IsSpent || turns >= enoughTurns)) return game > 0 ? all : null;
                }
            }
            read(in state, true, one);
            for (int i = 0; i < figures; i++) all[i].Add(one[i]);
        }
        return game > 0 ? all : null;
    }
}
