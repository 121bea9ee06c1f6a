namespace Allowance.Core.Games;

/// <summary>
/// Seconds of handling: what hands do at a kitchen table, whether anything new turns up or not. Answering time is the learner's and
/// comes on top. Estimates of a practised grown-up with a child of six beside her; those of an under-five are half as long
/// again (<see cref="Forecasts.SimulationPlan"/>), as is passing on to the next player.
/// </summary>
public static class Handling
{
    public const float
        DealCard = 1f, TurnCard = 3f, LayBackTwo = 4f, TakePair = 2f, TakeOpenPair = 5f, WriteSentence = 15f,
        ReadChainCard = 4f, DrawCall = 3f, CoverPane = 2f,
        GlimpseLook = 5f, ShowPicture = 8f,
        RollDie = 2.5f, PickUpPiece = 2f, MoveOne = .7f, WriteMove = 10f,
        DrawSlip = 3f, WalkErrand = 20f,
        TurnUpFromPile = 1.5f, TakeRound = 4f,
        TakeThings = 3f, LayThing = .8f, AskForThings = 3f,
        FillCard = 8f, SortCard = 6f, CallOnLine = 4f, LayDice = 2f,
        ShutGate = 1.5f,
        SandCard = 5f, TellStory = 20f;

    /// <summary>No piece is walked longer than this: on long lines it is put down.</summary>
    private const int MostWalked = 20;

    /// <summary>Walking a piece section by section.</summary>
    public static float Walk(int sections) => PickUpPiece + MoveOne * Math.Min(sections, MostWalked);

    /// <summary>All of it, in words, for the published table.</summary>
    public static IReadOnlyList<(string What, float Seconds)> All { get; } =
    [
        ("dealing or laying out a card", DealCard), ("turning a card that lies face down", TurnCard), ("looking at two cards and turning both back", LayBackTwo), ("taking a pair that was turned", TakePair),
        ("taking cards that lie open", TakeOpenPair), ("writing a sentence", WriteSentence), ("reading out a card of a chain", ReadChainCard), ("drawing a call and saying it", DrawCall), ("covering a pane", CoverPane),
        ("getting ready for a glimpse, the look and the cover", GlimpseLook), ("laying out a picture of fives and tens", ShowPicture), ("rolling a die", RollDie), ("picking a piece up", PickUpPiece),
        ("each section it walks, at most twenty", MoveOne), ("writing a move down", WriteMove), ("drawing a slip", DrawSlip), ("an errand, there and back", WalkErrand), ("turning up a card from a pile", TurnUpFromPile),
        ("taking the cards of a round", TakeRound), ("taking from a heap, or giving back", TakeThings), ("laying out or putting back each thing", LayThing), ("calling what is to be laid out", AskForThings),
        ("filling a card and tracing", FillCard), ("sorting a card", SortCard), ("a call on the line", CallOnLine), ("putting dice on paper", LayDice), ("shutting a gate", ShutGate),
        ("a card turned up, answered and laid down while the sand runs", SandCard), ("telling a story", TellStory),
        ("passing on to the next player", Forecasts.SimulationPlan.PassOn),
    ];
}
