using Allowance.Core.Rules;
namespace Allowance.Core.Games;

/// <summary>Seconds of handling: dealing, turning, taking. Answering time is the learner's and comes on top.</summary>
public static class Handling
{
    /// <summary>Partners: dealing or refilling a place; turning up one card; finding and taking; turning cards back.</summary>
    public const float PartnersDeal = 1.5f, PartnersTurnUp = 2.5f, PartnersTake = 5f, PartnersWrite = 15f, PartnersTurnBack = 2f;

    /// <summary>Lookalikes: laying out a card or taking the next; turning one up; taking a pair or putting a card down.</summary>
    public const float LookalikesDeal = 1f, LookalikesTurnUp = 2.5f, LookalikesTake = 4f;

    /// <summary>Chain Call: reading a card out and laying it down.</summary>
    public const float ChainCallTurn = 4f;

    /// <summary>Panes: drawing a call and saying it; laying a counter.</summary>
    public const float PanesCall = 3f, PanesCover = 2f;

    /// <summary>Glimpse: getting ready to look, the look and the cover.</summary>
    public const float GlimpseLook = 5f;

    /// <summary>Fives and Ones: laying out what is shown.</summary>
    public const float CountBoxCall = 8f;

    /// <summary>Dice and tracks: rolling a die; moving a piece along; writing the move down.</summary>
    public const float RollDie = 3f, MovePiece = 4f, WriteMove = 10f;

    /// <summary>Errand: drawing a slip; walking there and back with the things.</summary>
    public const float ErrandSlip = 3f, ErrandWalk = 20f;

    /// <summary>Topper: turning up a card; taking the cards of a round.</summary>
    public const float TopperTurnUp = 1.5f, TopperTake = 4f;

    /// <summary>Gather: taking things from the heap, or giving them back.</summary>
    public const float GatherTake = 3f;

    /// <summary>Games with a caller: laying out what is called, and putting it back.</summary>
    public const float SomeGoneTurn = 8f, EvenPlatesTurn = 12f, AroundTurn = 6f, SpotsTurn = 10f, LineWalkCall = 4f, RollTellTurn = 5f;
}
