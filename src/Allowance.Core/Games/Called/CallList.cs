using System.Collections.Immutable;
using System.Runtime.CompilerServices;
using Allowance.Core.Asks;
using Allowance.Core.Forecasts;
using Allowance.Core.Numbers;

namespace Allowance.Core.Games;

/// <summary>Something a caller can call.</summary>
/// <param name="Number">What it is about: no number is called twice in a row, nor three in a row in order.</param>
/// <param name="Label">What it is, for the grown-up: "14 as tally".</param>
/// <param name="Says">What is said, in at most eight words and without the answer.</param>
/// <param name="Shown">What is shown with it.</param>
public sealed record Call(ImmutableArray<Ask> Asks, int Number, string Label, string Says, ImmutableArray<Item> Shown)
{
    /// <summary>Of a line: which numbers it bears.</summary>
    public ZoneLabels? Labels { get; init; }

    /// <summary>Numbers that were called are taken away from the line, one after another.</summary>
    public bool TakesAway { get; init; }

    /// <summary>Where dice make the calls: in how many ways they fall so.</summary>
    public int Ways { get; init; } = 1;
}

/// <summary>
/// The calls that one player can get. Every call comes once before any comes again; those at her edge come first, then
/// the firm ones, those she knows, and what is a stretch. No number comes again within <c>apart</c> calls, and three
/// neighbours never follow in order, unless nothing else is left.
/// </summary>
internal sealed class CallList
{
    private readonly CallSet all;
    private readonly CallSet[] byFirmness;
    private readonly CallSet[] byNumber;
    private readonly CallSet[] single;

    /// <summary>By call, one more than its number.</summary>
    private readonly short[] numbers;
    private readonly int apart;
    private readonly bool neverForeseen;

    /// <summary>Where dice make the calls: each call as often as there are ways for it; else null.</summary>
    private readonly short[]? falls;

    /// <param name="right">Her chance of getting an ask right; null where nobody knows.</param>
    /// <param name="apart">How many calls a number stays away, 1 to 3.</param>
    /// <param name="neverForeseen">Where only calls are left that could be foreseen, one that came before comes again.</param>
    public CallList(IReadOnlyList<Call> calls, Func<Ask, double>? right, int apart, bool neverForeseen = false)
    {
        if (calls.Count is 0 or > CallSet.Most) throw new ArgumentException($"A caller has 1 to {CallSet.Most} calls, not {calls.Count}.", nameof(calls));
        Calls = calls;
        this.apart = apart;
        this.neverForeseen = neverForeseen;
        all = CallSet.Of(Enumerable.Range(0, calls.Count));
        byFirmness = [.. Enumerable.Range(0, calls.Count).GroupBy(c => right is null ? 0 : Rank(calls[c].Asks.Min(right))).OrderBy(g => g.Key).Select(CallSet.Of)];
        byNumber = new CallSet[calls.Max(c => c.Number) + 1];
        for (int c = 0; c < calls.Count; c++) byNumber[calls[c].Number] |= CallSet.Of(c);
        single = [.. Enumerable.Range(0, calls.Count).Select(CallSet.Of)];
        numbers = [.. calls.Select(c => (short)(c.Number + 1))];
    }

    private CallList(IReadOnlyList<Call> calls)
    {
        Calls = calls;
        falls = [.. calls.SelectMany((c, i) => Enumerable.Repeat((short)i, c.Ways))];
        (byFirmness, byNumber, single, numbers) = ([], [], [], []);
    }

    /// <summary>Calls that dice make: they come as they fall, and nothing is remembered of them.</summary>
    public static CallList AsTheyFall(IReadOnlyList<Call> calls) => new(calls);

    public IReadOnlyList<Call> Calls { get; }

    /// <summary>The numbers of the calls that were made in this round of all calls.</summary>
    public IReadOnlyCollection<int> Numbers(CallMemory memory) => [.. Enumerable.Range(0, Calls.Count).Where(c => !(memory.Covered & single[c]).IsEmpty).Select(c => Calls[c].Number).Distinct()];

    /// <summary>What is called first: what is at her edge, then what is firm, what she knows, and what is a stretch.</summary>
    internal static int Rank(double right) => FirmnessScale.Of(right) switch { Firmness.Edge => 0, Firmness.Firm => 1, Firmness.Sure => 2, _ => 3 };

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Draw(in CallMemory memory, ref Rng rng)
    {
        if (falls is not null) return falls[rng.Below(falls.Length)];
        var open = all - memory.Covered;
        var stale = Stale(in memory);
        var fresh = open - stale;
        if (fresh.IsEmpty) fresh = neverForeseen && !(all - stale).IsEmpty ? all - stale : open;
        return First(fresh).Any(ref rng);
    }

    /// <summary>What would be easily foreseen: numbers called lately, and the next of two that followed in order.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private CallSet Stale(in CallMemory memory)
    {
        var stale = With(memory.Last - 1);
        if (apart > 1) stale |= With(memory.Second - 1);
        if (apart > 2) stale |= With(memory.Third - 1);
        return memory.Second > 0 && Math.Abs(memory.Last - memory.Second) == 1 ? stale | With(2 * memory.Last - memory.Second - 1) : stale;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private CallSet With(int number) => (uint)number < (uint)byNumber.Length ? byNumber[number] : default;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private CallSet First(CallSet open)
    {
        foreach (var set in byFirmness)
        {
            var here = open & set;
            if (!here.IsEmpty) return here;
        }
        return open;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Take(ref CallMemory memory, int call)
    {
        if (falls is not null) return;
        var covered = memory.Covered | single[call];
        memory.Covered = (all - covered).IsEmpty ? default : covered;
        (memory.Third, memory.Second, memory.Last) = (memory.Second, memory.Last, numbers[call]);
    }
}
