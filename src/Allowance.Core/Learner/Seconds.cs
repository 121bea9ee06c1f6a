using Allowance.Core.Asks;

namespace Allowance.Core.Learner;

/// <summary>How long an answer takes, by method, in seconds; files always use these figures.</summary>
public static class Seconds
{
    public const double Saw = 2, Structure = 4, CountedOnBase = 3, CountedOnStep = 1.0, CountedAllBase = 3, CountedAllThing = 0.8, Help = 20, NotYet = 12, GrownUp = 2;

    /// <summary>Nobody counts further one by one: larger numbers are compared by their figures.</summary>
    public const int MostCounted = 100;

    /// <summary>The seconds of each of the six outcomes for an ask.</summary>
    public static void Of(Ask ask, Span<double> into)
    {
        into[0] = NotYet;
        into[1] = Help;
        into[2] = CountedAllBase + CountedAllThing * Math.Min(MostCounted, Things(ask));
        into[3] = CountedOnBase + CountedOnStep * Math.Min(MostCounted, Steps(ask));
        into[4] = Structure;
        into[5] = Saw;
    }

    /// <summary>How many things are counted when all are counted.</summary>
    public static int Things(Ask ask) => ask.Kind switch
    {
        AskKind.Join => ask.Total,
        AskKind.Double => 2 * ask[0],
        AskKind.On => ask[0] + ask[1],
        AskKind.More => ask[0] + ask[1],
        AskKind.Times => ask.Answer,
        _ => ask[0],
    };

    /// <summary>How many steps counting on (or back) takes, from the larger number.</summary>
    public static int Steps(Ask ask) => ask.Kind switch
    {
        AskKind.Join => ask.Total - LargestAddend(ask),
        AskKind.Part or AskKind.Gap => ask[0] - ask[1],
        AskKind.On or AskKind.Back or AskKind.Gone => Math.Min(ask[1], Math.Max(1, ask[0] - ask[1])),
        AskKind.Double => ask[0],
        _ => Math.Max(1, ask[0] / 2),
    };

    private static int LargestAddend(Ask ask)
    {
        int largest = 0;
        for (int i = 0; i < ask.Count; i++) largest = Math.Max(largest, ask[i]);
        return largest;
    }
}
