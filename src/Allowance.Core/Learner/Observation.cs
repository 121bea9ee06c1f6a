using Allowance.Core.Asks;

namespace Allowance.Core.Learner;

/// <summary>Where a note came from.</summary>
public enum Source { Table, FirstLook, Glimpse, Typed, Import }

/// <summary>An ask, what was seen, and when. Its day is the day of <see cref="At"/> in its own offset.</summary>
public sealed record Observation(DateTimeOffset At, Ask Ask, Seen Seen, double? Seconds = null, Source Source = Source.Table)
{
    public DateOnly Day => DateOnly.FromDateTime(At.DateTime);
}
