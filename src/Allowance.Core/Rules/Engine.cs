namespace Allowance.Core.Rules;

/// <summary>The limits of every game.</summary>
public static class Engine
{
    /// <summary>The most asks one move can put, a group of thirty included.</summary>
    public const int MostAsks = MostInGroup * MostAsksEach;

    /// <summary>The most asks that a call puts to one player.</summary>
    public const int MostAsksEach = 4;

    /// <summary>The most places at a table, and in a group that answers at once.</summary>
    public const int MostSeats = 8, MostInGroup = 30;

    /// <summary>Of more kinds of turns each would come too seldom to be worth numbering.</summary>
    public const int MostTurnKinds = 4_096;

    /// <summary>A simulated game is given up after so many turns and counts as stuck.</summary>
    public const int MostTurns = 2_000;
}
