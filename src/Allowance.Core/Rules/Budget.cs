namespace Allowance.Core.Rules;

/// <summary>The time is up, or the memory: what was not worked out by now is not worked out.</summary>
public sealed class BudgetSpentException() : Exception("This takes longer, or more memory, than there is for it.");

/// <summary>How long a forecast may think: for its exact answers, and for the games it plays.</summary>
public readonly record struct Limits(TimeSpan Exact, TimeSpan Played)
{
    /// <summary>Somebody waits for a page.</summary>
    public static readonly Limits Screen = new(TimeSpan.FromMilliseconds(250), TimeSpan.FromSeconds(1));

    /// <summary>A program waits for an answer.</summary>
    public static readonly Limits Api = new(TimeSpan.FromSeconds(2), TimeSpan.FromSeconds(5));

    /// <summary>A command that may run for a while.</summary>
    public static readonly Limits Command = new(TimeSpan.FromSeconds(2), TimeSpan.FromSeconds(60));
}

/// <summary>What a computation may take, from now on: time, memory, and only while somebody waits for it.</summary>
/// <param name="clock">Tells the time; nothing is foretold by it.</param>
/// <param name="within">What all forecasts together that are made by it may take; no more than the limits say for each where it is left out.</param>
/// <param name="stop">Nobody waits any longer.</param>
public sealed class Budget(Limits limits, TimeProvider clock, TimeSpan? within = null, CancellationToken stop = default)
{
    /// <summary>The most bytes that a computation holds at a time.</summary>
    public const long MostBytes = 200L * 1024 * 1024;

    /// <summary>All of it.</summary>
    public Spending Whole { get; } = new(clock, within ?? TimeSpan.FromDays(1), stop);

    /// <summary>For exact answers.</summary>
    public Spending Exactly() => Part(limits.Exact);

    /// <summary>For games that are played.</summary>
    /// <param name="share">Of the time there is for them.</param>
    public Spending Playing(double share = 1) => Part(limits.Played * share);

    private Spending Part(TimeSpan time) => new(clock, time < Whole.TimeLeft ? time : Whole.TimeLeft, stop);
}

/// <summary>A budget that is being spent, by one or several threads, from when this was made.</summary>
public sealed class Spending
{
    private readonly TimeProvider? clock;
    private readonly CancellationToken stop;
    private readonly long start, end;
    private long bytes;

    private Spending() { }

    internal Spending(TimeProvider clock, TimeSpan time, CancellationToken stop) =>
        (this.clock, this.stop, start, end) = (clock, stop, clock.GetTimestamp(), clock.GetTimestamp() + (long)(time.TotalSeconds * clock.TimestampFrequency));

    /// <summary>Takes what it takes.</summary>
    public static Spending Unlimited { get; } = new();

    /// <summary>What is left of the time.</summary>
    internal TimeSpan TimeLeft => clock is null ? TimeSpan.MaxValue : clock.GetElapsedTime(clock.GetTimestamp(), Math.Max(end, clock.GetTimestamp()));

    /// <summary>The share of the time that is left, from 1 to 0.</summary>
    public double Left => clock is null ? 1 : Math.Clamp((end - clock.GetTimestamp()) / (double)Math.Max(1, end - start), 0, 1);

    /// <summary>The time is up, or the memory.</summary>
    /// <exception cref="OperationCanceledException">Nobody waits any longer.</exception>
    public bool IsSpent
    {
        get
        {
            if (clock is null) return false;
            stop.ThrowIfCancellationRequested();
            return Interlocked.Read(ref bytes) > Budget.MostBytes || clock.GetTimestamp() >= end;
        }
    }

    /// <summary>Asked now and then by whatever takes long; reading the clock takes some 30 ns.</summary>
    /// <exception cref="BudgetSpentException">The time is up, or the memory.</exception>
    /// <exception cref="OperationCanceledException">Nobody waits any longer.</exception>
    public void Check()
    {
        if (IsSpent) throw new BudgetSpentException();
    }

    /// <summary>Says how much memory will be held before it is; negative where it is held no longer.</summary>
    /// <exception cref="BudgetSpentException">That is more than there is.</exception>
    public void Hold(long more)
    {
        if (clock is not null && Interlocked.Add(ref bytes, more) > Budget.MostBytes) throw new BudgetSpentException();
    }
}
