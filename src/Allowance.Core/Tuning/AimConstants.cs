namespace Allowance.Core.Tuning;

/// <summary>The constants of aims, in one place, each with its reason. Worths are compared with each other and mean nothing by themselves.</summary>
public static class AimConstants
{
    /// <summary>Practice brings most where she is right about so often: there is something to learn, and she is carried by what she can.</summary>
    public const double BestRight = .75;

    /// <summary>Below the best, practice brings less slowly at first; above it faster, as little is left to learn.</summary>
    public const double SpreadBelow = .18, SpreadAbove = .11;

    /// <summary>What was met less often is little met: a first meeting, gently.</summary>
    public const int LittleMet = 3;

    /// <summary>Between these, what was met and is not steady grows by practice; below it something before it should come first.</summary>
    public const double GrowFrom = .45, GrowTo = .93;

    /// <summary>What nobody has met is begun where about so many would go right.</summary>
    public const double OpenFrom = .40;

    /// <summary>Meeting what little is known of, near where she stands, also tells where she stands.</summary>
    public const double Tells = 1.3;

    /// <summary>Each skill that rests on it and is still to grow makes it worth so much more; one that rests on such a one, less.</summary>
    public const double EachWaiting = .12, EachWaitingFurther = .04;

    /// <summary>The next band of the same skill waits for it too, and those after that.</summary>
    public const double NextBandWaiting = .5, FurtherBandWaiting = .25;

    /// <summary>What grows in a strand helps the other skills of it along: each that still grows makes it worth so much more.</summary>
    public const double NeighbourWaiting = .1;

    /// <summary>Of what was met yesterday or today the next meeting brings less: a day between lets it settle.</summary>
    public const double MetJustNow = .6;

    /// <summary>A strand that was not met for so many days has risen by the whole of <see cref="StrandRise"/>.</summary>
    public const int StrandDays = 11;

    public const double StrandRise = 3;

    /// <summary>After so many notes a further one of the same band brings half of what the first did: what was left meanwhile comes before it.</summary>
    public const double HalfAfterSeen = 100;

    /// <summary>Where fewer of the right answers were seen or structured, it is mostly counted, and seeing is the step.</summary>
    public const double MostlyCounted = .4;

    /// <summary>What seeing instead of counting, and another form, are worth beside practice at its best.</summary>
    public const double Seeing = .7, Widening = .5;

    /// <summary>A visit is due where a week without it takes it below this.</summary>
    public const double VisitBelow = .80;

    public const int WithinDays = 7;

    /// <summary>Of what was met within so many days it is told how it went, and not how long ago that was.</summary>
    public const int LatelyDays = 3;

    /// <summary>What was steady is visited after so many days, whatever is believed: figures forget more slowly than children.</summary>
    public const int VisitDays = 28;

    /// <summary>A visit that is just due, and what each tenth that would be lost adds.</summary>
    public const double Visiting = .45, ForEachTenthLost = .25;

    /// <summary>What a grown-up put first stays so for a week, and before all others; a meeting of it counts so many times.</summary>
    public const int FirstDays = 7;

    public const double PutFirst = 20;

    /// <summary>What is said to be known is believed as so many right answers that nobody watched, of no fact.</summary>
    public const int SaidToBeKnown = 3;
}
