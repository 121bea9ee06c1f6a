using System.Runtime.CompilerServices;

namespace Allowance.Core.Games;

/// <summary>Cards that lie in a turn of <c>run</c>.</summary>
/// <param name="Lanes">The first six numbers.</param>
/// <param name="Count">How many cards lie.</param>
/// <param name="Sum">What they make together.</param>
/// <param name="Last">The number that was turned last.</param>
internal readonly record struct RunSet(ulong Lanes, int Count, int Sum, int Last)
{
    public RunSet And(int number) => new(Count < 6 ? Numbers.Lanes.Insert(Lanes, number) : Lanes, Count + 1, Sum + number, number);

    /// <summary>What it asks hangs on these numbers, in any order; of more than six cards on their sum and the last one.</summary>
    public (ulong, int, int) Told => Count <= 6 ? (Lanes, Count, 0) : (0, Sum, Last + 1);
}

/// <summary>
/// The sets of cards that can lie in a turn of <c>run</c>, each with its number and what it becomes with one more card, so
/// that a turn is told by one number. Set 0 is empty.
/// </summary>
internal sealed class RunSets
{
    private readonly RunSet[] sets;
    private readonly short[] next;
    private readonly int width;

    private RunSets(List<RunSet> sets, List<short[]> next)
    {
        (this.sets, width) = ([.. sets], next[0].Length);
        this.next = [.. next.SelectMany(n => n)];
    }

    /// <summary>All sets; null where there are more than <paramref name="most"/>.</summary>
    /// <param name="numbers">Those of the pack.</param>
    /// <param name="target">The largest; no card is turned once they make it.</param>
    public static RunSets? Of(IEnumerable<int> numbers, int target, int most)
    {
        int[] pack = [.. numbers.Order()];
        var sets = new List<RunSet> { default };
        var next = new List<short[]>();
        var known = new Dictionary<(ulong, int, int), short> { [default(RunSet).Told] = 0 };
        for (int at = 0; at < sets.Count; at++)
        {
            var after = new short[pack[^1] + 1];
            next.Add(after);
            if (sets[at].Sum >= target)
            {
                // Nothing comes after it; where the target became less since, it stays.
                Array.Fill(after, (short)at);
                continue;
            }
            foreach (int number in pack)
            {
                var set = sets[at].And(number);
                if (!known.TryGetValue(set.Told, out after[number]))
                {
                    if (sets.Count == most) return null;
                    known[set.Told] = after[number] = (short)sets.Count;
                    sets.Add(set);
                }
            }
        }
        return new(sets, next);
    }

    public int Count => sets.Length;

    public ref readonly RunSet this[int set] => ref sets[set];

    /// <summary>What a set becomes with one more card.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Next(int set, int number) => next[set * width + number];
}
