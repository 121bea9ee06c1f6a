using Allowance.Core.Asks;

namespace Allowance.Core.Learner;

/// <summary>How a child got her answers in a week: of the countable asks whose method was watched, how many by each outcome.</summary>
/// <param name="First">The first day of the week.</param>
/// <param name="Counts">By outcome, from not yet to saw it.</param>
public sealed record MethodWeek(DateOnly First, IReadOnlyList<int> Counts)
{
    public int Watched => Counts.Sum();

    public double Share(Outcome outcome) => Watched == 0 ? 0 : (double)Counts[(int)outcome] / Watched;

    /// <summary>The weeks up to a day, oldest first; a week without a watched answer is there and empty.</summary>
    public static IReadOnlyList<MethodWeek> Path(IEnumerable<Observation> observations, DateOnly upTo, int weeks, DayOfWeek firstDay = DayOfWeek.Monday) =>
        Path(observations.Where(o => o.Seen.Outcome is not null).Select(o => (o.Day, o.Ask, o.Seen.Outcome!.Value, 1)), upTo, weeks, firstDay);

    /// <param name="watched">How often an ask was answered in a way on a day.</param>
    public static IReadOnlyList<MethodWeek> Path(IEnumerable<(DateOnly Day, Ask Ask, Outcome Outcome, int Times)> watched, DateOnly upTo, int weeks, DayOfWeek firstDay = DayOfWeek.Monday)
    {
        var last = Begins(upTo);
        var counts = Enumerable.Range(0, weeks).Select(_ => new int[6]).ToArray();
        foreach (var (day, ask, outcome, times) in watched)
        {
            if (day > upTo || ask.Scale != OutcomeScale.Countable) continue;
            int ago = (last.DayNumber - Begins(day).DayNumber) / 7;
            if (ago < weeks) counts[weeks - 1 - ago][(int)outcome] += times;
        }
        return [.. counts.Select((c, i) => new MethodWeek(last.AddDays(-7 * (weeks - 1 - i)), c))];

        DateOnly Begins(DateOnly day) => day.AddDays(-(((int)day.DayOfWeek - (int)firstDay + 7) % 7));
    }
}
