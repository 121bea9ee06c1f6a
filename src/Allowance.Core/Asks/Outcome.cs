namespace Allowance.Core.Asks;

/// <summary>How an answer came about: one ordered scale. Right without help is <see cref="CountedAll"/> or more.</summary>
public enum Outcome { NotYet = 0, WithHelp = 1, CountedAll = 2, CountedOn = 3, Structure = 4, SawIt = 5 }

/// <summary>What was seen: an outcome, or only right or not when nobody watched how.</summary>
public readonly record struct Seen(Outcome? Outcome, bool Right)
{
    public static Seen How(Outcome outcome) => new(outcome, outcome >= Asks.Outcome.CountedAll);

    public static Seen NotWatched(bool right) => new(null, right);
}

public static class Outcomes
{
    /// <summary>The words on screens, from 0 to 5.</summary>
    public static IReadOnlyList<string> Words { get; } = ["not yet", "with help", "counted all", "counted on", "used the structure", "saw it"];

    public static string Says(this Outcome outcome) => Words[(int)outcome];

    public static string Says(this Seen seen) => seen.Outcome?.Says() ?? (seen.Right ? "right, not watched" : "not yet");

    /// <summary>The outcomes an ask can have.</summary>
    public static IReadOnlyList<Outcome> Of(Ask ask) => ask.Scale == OutcomeScale.Countable
        ? [Outcome.NotYet, Outcome.WithHelp, Outcome.CountedAll, Outcome.CountedOn, Outcome.Structure, Outcome.SawIt]
        : [Outcome.NotYet, Outcome.WithHelp, Outcome.SawIt];
}
