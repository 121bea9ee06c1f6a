using Allowance.Core.Numbers;
using Allowance.Core.Rules;

namespace Allowance.Core.Games;

/// <summary>The table of Partners with cards face down. A card has no number until it is turned.</summary>
internal struct PartnersFaceDownState
{
    public Head Head;

    /// <summary>The seats, as bits, that could still find something; and those for which it was seen lying there.</summary>
    public byte Hope, Sure;

    /// <summary>The first and last places turned in this turn.</summary>
    public byte First, Last;

    /// <summary>What was turned in this turn adds up to; the cards that may still come to the table.</summary>
    public short Sum, Stock;

    /// <summary>The target of the mover.</summary>
    public short Target;

    /// <summary>In <c>run</c>: what was turned in this turn, as the number of its set where sets are numbered.</summary>
    public short Set;
    public RunSet Lying;

    /// <summary>Places as bits: with a card; whose card has been seen; turned in this turn; shown from the last turn.</summary>
    public ulong Cards, Known, Up, Shown;
    /// <summary>By seat, cards that she took, and sets.</summary>
    public EightCounts Taken, Found;
    public SixtyFour Places;
    public SeenLast Since;

    /// <summary>The places whose cards were seen last, where all players remember as many.</summary>
    public ulong Recent;

    /// <summary>The cards that were not taken, on the table or still to come.</summary>
    public NumberBag Remain;
    public DrawPile Pile;
}

/// <summary>How cards that lie face down are turned. A type for each, so that the rules are compiled for each.</summary>
internal interface ITurning
{
    /// <summary>Cards are turned and added up; else two at a time.</summary>
    static abstract bool Runs { get; }
}

internal readonly struct TwoAtATime : ITurning
{
    public static bool Runs => false;
}

internal readonly struct AddingUp : ITurning
{
    public static bool Runs => true;
}
