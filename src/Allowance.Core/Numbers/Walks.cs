using System.Numerics;
using System.Runtime.InteropServices;

namespace Allowance.Core.Numbers;

/// <summary>What walks over chances have in common: carrying a stretch of them along, and the tail of a walk that ends sooner or later.</summary>
internal static class Walks
{
    /// <summary>Adds <paramref name="factor"/> times one stretch of chances to another, several at a time.</summary>
    public static void Carry(ReadOnlySpan<double> from, double factor, Span<double> to)
    {
        int whole = from.Length - from.Length % Vector<double>.Count;
        var fours = MemoryMarshal.Cast<double, Vector<double>>(from[..whole]);
        var into = MemoryMarshal.Cast<double, Vector<double>>(to[..whole]);
        for (int i = 0; i < fours.Length; i++) into[i] += fours[i] * factor;
        for (int i = whole; i < from.Length; i++) to[i] += from[i] * factor;
    }

    public static double Sum(ReadOnlySpan<double> chances)
    {
        double sum = 0;
        foreach (double chance in chances) sum += chance;
        return sum;
    }
}

/// <summary>Where a walk over numbered places can come to.</summary>
/// <param name="places">How many places there are.</param>
/// <param name="ways">How many ways lead on from a place.</param>
/// <param name="leads">Where each way leads: a place, or the end (below 0).</param>
internal sealed class Reach(int places, Func<int, int> ways, Func<int, int, int> leads)
{
    /// <summary>The places that can be met from one of them on.</summary>
    public bool[] MetFrom(int start)
    {
        var met = new bool[places];
        var open = new Stack<int>([start]);
        met[start] = true;
        while (open.TryPop(out int place))
            for (int way = ways(place) - 1; way >= 0; way--)
                if (leads(place, way) is >= 0 and var to && !met[to])
                {
                    met[to] = true;
                    open.Push(to);
                }
        return met;
    }

    /// <summary>Whether a walk ends for certain: from every place that can be met the end can still be reached.</summary>
    public bool EndsFrom(int start)
    {
        var met = MetFrom(start);
        var ends = new bool[places];
        for (bool changed = true; changed;)
        {
            changed = false;
            for (int place = places - 1; place >= 0; place--)
                if (met[place] && !ends[place] && Leads(place)) ends[place] = changed = true;
        }
        return Enumerable.Range(0, places).All(p => !met[p] || ends[p]);

        bool Leads(int place)
        {
            for (int way = ways(place) - 1; way >= 0; way--)
                if (leads(place, way) is var to && (to < 0 || ends[to])) return true;
            return false;
        }
    }
}

/// <summary>
/// The chances that a walk ends with its first step, its second, and so on. A walk forgets where it began: from some step on
/// the chances of all places shrink by the same factor every time (or every few times, where steps of different kinds take
/// turns), and the rest need not be walked. That what is left shrinks evenly does not tell it: it may do so by chance, or
/// for as long as the end is still far.
/// </summary>
internal sealed class Endings(int period, int most)
{
    private const double Negligible = 1e-14, Settled = 1e-10, Alike = 1e-9;

    private readonly List<double> ends = [0];
    private readonly List<double> left = [1];

    /// <summary>The chances of all places one period ago, where what is left shrank evenly then.</summary>
    private double[]? before;

    /// <summary>Steps walked so far.</summary>
    public int Steps => ends.Count - 1;

    /// <summary>Notes a step.</summary>
    /// <param name="ended">The chance that the walk ends with it.</param>
    /// <param name="here">The chance of each place after it.</param>
    /// <returns>True where it has to be walked on.</returns>
    public bool Step(double ended, ReadOnlySpan<double> here)
    {
        double stillThere = Walks.Sum(here);
        ends.Add(ended);
        left.Add(stillThere);
        if (stillThere <= Negligible || Steps >= most) return false;
        if (Steps % period != 0 || Steps < 2 * period) return true;
        double now = Ratio(0);
        if (now >= 1 || Math.Abs(now - Ratio(period)) > Settled * (1 - now))
        {
            before = null;
            return true;
        }
        if (before is not { } then || !Shrank(then, here, now, Alike * stillThere))
        {
            before = here.ToArray();
            return true;
        }
        // Steps of each kind go on shrinking as they did.
        double rest = stillThere;
        for (; rest > Negligible && Steps < most; rest *= now)
            for (int kind = 0; kind < period; kind++) ends.Add(ends[^period] * now);
        return false;

        double Ratio(int ago) => left[^(1 + ago)] / left[^(1 + ago + period)];
    }

    private static bool Shrank(ReadOnlySpan<double> from, ReadOnlySpan<double> to, double factor, double error)
    {
        for (int place = 0; place < to.Length; place++)
            if (Math.Abs(to[place] - factor * from[place]) > error) return false;
        return true;
    }

    public Pmf Chances => new([.. ends]);
}
