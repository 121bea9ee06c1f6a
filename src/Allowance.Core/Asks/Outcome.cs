namespace Allowance.Core.Asks;

/// <summary>How an answer came about: one ordered scale. Right without help is <see cref="CountedAll"/> or more.</summary>
public enum Outcome { NotYet = 0, WithHelp = 1, CountedAll = 2, CountedOn = 3, Structure = 4, SawIt = 5 }

/// <summary>What was seen: an outcome, or only right or not when nobody watched how.</summary>
public readonly record struct Seen(Outcome? Outcome, bool Right)
{
    public static Seen How(Outcome outcome) => new(outcome, outcome >= Asks.Outcome.CountedAll);

    public static Seen NotWatched(bool right) => new(null, right);

    /// <summary>Right, though nobody watched how, among the numbers of outcomes.</summary>
    public const int RightKey = 6;

    /// <summary>By what a key says: an outcome from 0 to 5, or <see cref="RightKey"/>.</summary>
    public static Seen Of(int key) => key == RightKey ? NotWatched(true) : How((Outcome)key);

    public int Key => Outcome is { } outcome ? (int)outcome : Right ? RightKey : (int)Asks.Outcome.NotYet;
}

public static class Outcomes
{
    /// <summary>The words on screens, from 0 to 5.</summary>
    public static IReadOnlyList<string> Words { get; } = ["not yet", "with help", "counted all", "counted on", "used the structure", "saw it"];

    public static string Says(this Outcome outcome) => Words[(int)outcome];

    /// <summary>What was seen of an ask. Where nothing can be counted, she is right, or near where she guessed.</summary>
    public static string Says(this Seen seen, Ask ask) => !seen.Right ? (seen.Outcome ?? Outcome.NotYet).Says() : ask.Scale switch
    {
        OutcomeScale.Told => "right",
        OutcomeScale.Nearness => "near",
        _ => seen.Outcome?.Says() ?? "right, not watched",
    };

    /// <summary>The outcomes an ask can have.</summary>
    public static IReadOnlyList<Outcome> Of(Ask ask) => ask.Scale == OutcomeScale.Countable
        ? [Outcome.NotYet, Outcome.WithHelp, Outcome.CountedAll, Outcome.CountedOn, Outcome.Structure, Outcome.SawIt]
        : [Outcome.NotYet, Outcome.WithHelp, Outcome.SawIt];

    /// <summary>What can be noted of an ask, the best first. Where nothing can be counted, right is right, watched or not.</summary>
    public static IReadOnlyList<Seen> NotesOf(Ask ask) =>
        [.. Of(ask).Reverse().Select(Seen.How), .. ask.Scale == OutcomeScale.Countable ? [Seen.NotWatched(true)] : Array.Empty<Seen>()];
}
