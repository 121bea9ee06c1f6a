namespace Allowance.Core.Forms;

/// <summary>The times for which a picture can be shown, in seconds: from the shortest to the longest, each so many times the one before.</summary>
public static class ShowTimes
{
    public const double Step = 1.25, Shortest = .35, Longest = 5;
}
