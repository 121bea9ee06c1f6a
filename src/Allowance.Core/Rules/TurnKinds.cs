namespace Allowance.Core.Rules;

/// <summary>The kinds of turns of all seats, one seat's after another's (see <see cref="IRules{TState}.TurnKinds"/>).</summary>
internal sealed class TurnKinds
{
    private readonly int[] first;

    /// <param name="bySeat">How many kinds of turns each seat has.</param>
    public TurnKinds(IEnumerable<double> bySeat)
    {
        double[] each = [.. bySeat];
        All = each.Sum() <= Engine.MostTurnKinds ? (int)each.Sum() : 0;
        first = [.. each.Select((_, s) => All == 0 ? 0 : (int)each.Take(s).Sum())];
    }

    /// <summary>How many there are; 0 where they are too many to be numbered.</summary>
    public int All { get; }

    /// <summary>The first one of a seat.</summary>
    public int this[int seat] => first[seat];
}
