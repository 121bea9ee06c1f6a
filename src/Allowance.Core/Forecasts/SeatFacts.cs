using System.Collections.Immutable;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;

namespace Allowance.Core.Forecasts;

/// <summary>Cards that go together when they lie open: a pair, two alike, one by itself, or three court cards; or one that nothing goes with.</summary>
/// <param name="Numbers">What they show; 0 up are numbers, <see cref="SeatFacts.Jack"/> and beyond court cards.</param>
/// <param name="Counts">How many there are of each.</param>
internal sealed record SeatGroup(SeatGroupKind Kind, ImmutableArray<int> Numbers, ImmutableArray<int> Counts)
{
    /// <summary>Taken besides what lies open tells, so many cards leave the same open again.</summary>
    public int Step { get; } = Kind switch { SeatGroupKind.Pair or SeatGroupKind.Half => 2, SeatGroupKind.Alone => 1, SeatGroupKind.Court => 3, _ => 0 };

    /// <summary>The fewest cards of each that can have been taken where so many lie open of each in the end; null where that cannot be.</summary>
    public int[]? Fewest(IReadOnlyList<int> open)
    {
        switch (Kind)
        {
            case SeatGroupKind.Alone: return open[0] == 0 ? [0] : null;
            case SeatGroupKind.Stray: return open[0] <= Counts[0] ? [Counts[0] - open[0]] : null;
            case SeatGroupKind.Half: return open[0] <= Math.Min(1, Counts[0]) ? [(Counts[0] - open[0]) % 2] : null;
            default:
                if (open.Min() > 0) return null;
                // Each has so many more than the others as lie open; what went in pairs is the same of each.
                int[] taken = [.. Counts.Select((count, i) => count - open[i])];
                int together = taken.Min();
                return together < 0 ? null : [.. taken.Select(t => t - together)];
        }
    }

    /// <summary>How often a step more can have been taken.</summary>
    public int Steps(int[] fewest) => Kind == SeatGroupKind.Stray ? 0 : Kind == SeatGroupKind.Half ? (Counts[0] - fewest[0]) / 2 : Counts.Zip(fewest, (count, few) => count - few).Min();

    /// <summary>Of each so many are taken, a step more each time.</summary>
    public int[] Taken(int[] fewest, int steps) => [.. fewest.Select(f => f + (Kind == SeatGroupKind.Half ? 2 : 1) * steps)];

    /// <summary>All that can be told by what lies open in the end, as the fewest cards that were taken; no more than so many.</summary>
    public IEnumerable<int[]> Readings(int most) => Kind switch
    {
        SeatGroupKind.Alone => [[0]],
        SeatGroupKind.Stray => Enumerable.Range(0, Math.Min(most, Counts[0]) + 1).Select(t => (int[])[t]),
        SeatGroupKind.Half => Enumerable.Range(0, Math.Min(1, Counts[0]) + 1).Select(t => (int[])[t]),
        SeatGroupKind.Pair => [[0, 0], .. Enumerable.Range(1, Math.Min(most, Counts[0])).Select(t => (int[])[t, 0]), .. Enumerable.Range(1, Math.Min(most, Counts[1])).Select(t => (int[])[0, t])],
        _ => from j in Enumerable.Range(0, Math.Min(most, Counts[0]) + 1)
             from q in Enumerable.Range(0, Math.Min(most - j, Counts[1]) + 1)
             from k in Enumerable.Range(0, Math.Min(most - j - q, Counts[2]) + 1)
             where Math.Min(j, Math.Min(q, k)) == 0
             select (int[])[j, q, k],
    };
}

internal enum SeatGroupKind { Pair, Half, Alone, Stray, Court }

/// <summary>What lies open in the end of a game of covering pairs tells of the cards that were taken out before: exactly.</summary>
internal sealed class SeatFacts
{
    /// <summary>What court cards go by where they are kept by rank.</summary>
    public const int Jack = 61, Queen = 62, King = 63;

    private readonly ImmutableArray<SeatGroup> groups;
    private readonly int cards, removed;

    /// <param name="counts">How many cards there are of each number.</param>
    /// <param name="court">How many jacks, queens and kings go three by three; none where they do not.</param>
    public SeatFacts(IReadOnlyDictionary<int, int> counts, int target, IReadOnlyList<int> court, int removed)
    {
        this.removed = removed;
        cards = counts.Values.Sum() + court.Sum();
        var all = new List<SeatGroup>();
        foreach (var (number, count) in counts)
        {
            int other = target - number;
            if (number == target) all.Add(new(SeatGroupKind.Alone, [number], [count]));
            else if (number == other) all.Add(new(SeatGroupKind.Half, [number], [count]));
            else if (number == 0 || other < 0 || !counts.ContainsKey(other)) all.Add(new(SeatGroupKind.Stray, [number], [count]));
            else if (number < other) all.Add(new(SeatGroupKind.Pair, [number, other], [count, counts[other]]));
        }
        if (court.Sum() > 0) all.Add(new(SeatGroupKind.Court, [Jack, Queen, King], [.. court]));
        groups = [.. all];
    }

    public ImmutableArray<SeatGroup> Groups => groups;

    /// <summary>The most cards that can ever lie open.</summary>
    public int MostOpen => groups.Sum(g => g.Kind switch { SeatGroupKind.Alone => 0, SeatGroupKind.Half => 1, SeatGroupKind.Court => g.Counts.Sum() - g.Counts.Min(), SeatGroupKind.Stray => g.Counts[0], _ => g.Counts.Max() });

    /// <summary>
    /// The chance that what was taken is settled by what lies open together with how many were taken. Group by group: what is told of it,
    /// and in how many ways, none, one or several, it can hide so many more; and of how many sets of cards that holds.
    /// </summary>
    public double Readable(Spending spending)
    {
        var walk = new Dictionary<ulong, double[]> { [1UL << 4] = [1, .. new double[removed]] };
        foreach (var group in groups)
        {
            spending.Check();
            var next = new Dictionary<ulong, double[]>();
            var options = group.Readings(removed).Select(few => (Few: few.Sum(), Ways: Enumerable.Range(0, group.Steps(few) + 1).TakeWhile(s => few.Sum() + s * group.Step <= removed)
                .Select(s => group.Taken(few, s).Select((t, i) => Counting.Choose(group.Counts[i], t)).Aggregate(1.0, (all, ways) => all * ways)).ToArray())).ToList();
            foreach (var (key, sets) in walk)
                foreach (var (few, ways) in options)
                {
                    int told = (int)(key & 15) + few;
                    if (told > removed) continue;
                    ulong kinds = 0;
                    var joined = new double[removed + 1];
                    for (int hidden = 0; hidden <= removed; hidden++)
                    {
                        int all = 0;
                        for (int s = 0; s < ways.Length && s * group.Step <= hidden; s++)
                        {
                            if (s > 0 && group.Step == 0) break;
                            all += (int)(key >> 4 + 2 * (hidden - s * group.Step) & 3);
                            joined[hidden] += ways[s] * sets[hidden - s * group.Step];
                        }
                        kinds |= (ulong)Math.Min(2, all) << 4 + 2 * hidden;
                    }
                    ulong at = kinds | (uint)told;
                    if (!next.TryGetValue(at, out var sum)) next[at] = joined;
                    else
                        for (int i = 0; i <= removed; i++) sum[i] += joined[i];
                }
            walk = next;
        }
        return walk.Sum(w => removed - (int)(w.Key & 15) is var hidden && (w.Key >> 4 + 2 * hidden & 3) == 1 ? w.Value[hidden] : 0) / Counting.Choose(cards, removed);
    }

    /// <summary>There is one way only in which so many cards are missing; for the inner loop, where it is no question whether it can be so.</summary>
    /// <param name="open">By number, how many cards lie open in the end.</param>
    public bool Settles(ReadOnlySpan<short> open)
    {
        int hidden = removed;
        Span<int> steps = stackalloc int[groups.Length];
        for (int g = 0; g < steps.Length; g++)
        {
            (int told, steps[g]) = Told(groups[g], open);
            hidden -= told;
        }
        if (hidden <= 0) return hidden == 0;
        // By how many cards are hidden, in how many ways they can be: none, one, several.
        Span<int> ways = stackalloc int[hidden + 1];
        ways.Clear();
        ways[0] = 1;
        for (int g = 0; g < steps.Length; g++)
        {
            int step = groups[g].Step;
            for (int so = hidden; steps[g] > 0 && so >= step; so--)
                for (int more = 1; more <= steps[g] && more * step <= so; more++) ways[so] = Math.Min(2, ways[so] + ways[so - more * step]);
        }
        return ways[hidden] == 1;
    }

    /// <returns>Of how many missing cards of a group what lies open tells, and how often a step more can be missing.</returns>
    private static (int Cards, int Steps) Told(SeatGroup group, ReadOnlySpan<short> open)
    {
        int first = group.Counts[0] - open[group.Numbers[0]];
        if (group.Kind == SeatGroupKind.Stray) return (first, 0);
        if (group.Kind == SeatGroupKind.Half) return (first & 1, (group.Counts[0] - (first & 1)) / 2);
        int all = first, together = first;
        for (int i = 1; i < group.Counts.Length; i++)
        {
            int gone = group.Counts[i] - open[group.Numbers[i]];
            all += gone;
            together = Math.Min(together, gone);
        }
        return (all - group.Counts.Length * together, together);
    }

    /// <summary>Every set of taken cards that leaves this open, each rising; null where no cards taken can leave it.</summary>
    public IReadOnlyList<IReadOnlyList<int>>? Readings(IReadOnlyCollection<int> open)
    {
        var fewest = groups.Select(g => g.Fewest([.. g.Numbers.Select(n => open.Count(o => o == n))])).ToList();
        if (fewest.Contains(null)) return null;
        var found = new List<IReadOnlyList<int>>();
        Extend(0, []);
        return [.. found.OrderBy(r => string.Concat(r.Select(n => (char)n)), StringComparer.Ordinal)];

        void Extend(int at, IReadOnlyList<int> taken)
        {
            if (taken.Count > removed) return;
            if (at == groups.Length)
            {
                if (taken.Count == removed) found.Add([.. taken.Order()]);
                return;
            }
            var group = groups[at];
            for (int s = 0; s <= group.Steps(fewest[at]!); s++) Extend(at + 1, [.. taken, .. group.Taken(fewest[at]!, s).SelectMany((t, i) => Enumerable.Repeat(group.Numbers[i], t))]);
        }
    }
}
