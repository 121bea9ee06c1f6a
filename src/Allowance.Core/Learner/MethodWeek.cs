using Allowance.Core.Asks;

namespace Allowance.Core.Learner;

/// <summary>How a child got her answers in a week: of the countable asks whose method was watched, how many by each outcome.</summary>
/// <param name="Monday">The first day of the week.</param>
/// <param name="Counts">By outcome, from not yet to saw it.</param>
public sealed record MethodWeek(DateOnly Monday, IReadOnlyList<int> Counts)
{
    public int Watched => Counts.Sum();

    public double Share(Outcome outcome) => Watched == 0 ? 0 : (double)Counts[(int)outcome] / Watched;

    /// <summary>The weeks up to a day, oldest first; a week without a watched answer is there and empty.</summary>
    public static IReadOnlyList<MethodWeek> Path(IEnumerable<Observation> observations, DateOnly upTo, int weeks)
    {
        var last = MondayOf(upTo);
        var counts = Enumerable.Range(0, weeks).Select(_ => new int[6]).ToArray();
        foreach (var o in observations)
        {
            if (o.Seen.Outcome is not { } outcome || o.Day > upTo || o.Ask.Scale != OutcomeScale.Countable) continue;
            int ago = (last.DayNumber - MondayOf(o.Day).DayNumber) / 7;
            if (ago < weeks) counts[weeks - 1 - ago][(int)outcome]++;
        }
        return [.. counts.Select((c, i) => new MethodWeek(last.AddDays(-7 * (weeks - 1 - i)), c))];
    }

    private static DateOnly MondayOf(DateOnly day) => day.AddDays(-(((int)day.DayOfWeek + 6) % 7));
}
