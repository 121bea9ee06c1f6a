using System.Collections.Immutable;
using System.Runtime.CompilerServices;
using Allowance.Core.Asks;
using Allowance.Core.Numbers;
using Allowance.Core.Tables;

namespace Allowance.Core.Games;

/// <summary>Something a caller can call.</summary>
/// <param name="Number">What it is about: no number is called twice in a row, nor three in a row in order.</param>
/// <param name="Label">What it is, for the grown-up: "14 as tally".</param>
/// <param name="Says">What is said, in at most eight words and without the answer.</param>
/// <param name="Lies">What lies on the table with it.</param>
public sealed record Call(ImmutableArray<Ask> Asks, int Number, string Label, string Says, IReadOnlyList<Zone> Lies)
{
    /// <summary>What lies there instead, where it depends on the calls that came before in this round of all calls.</summary>
    public Func<IReadOnlyList<Call>, IReadOnlyList<Zone>>? LiesAfter { get; init; }

    /// <summary>What came of it, as it is told afterwards; the label where that says it.</summary>
    public string? Tells { get; init; }

    /// <summary>What the grown-up may see of it meanwhile, where the asks have no answer of their own.</summary>
    public string? Helps { get; init; }

    /// <summary>Where dice make the calls: in how many ways they fall so.</summary>
    public int Ways { get; init; } = 1;

    /// <summary>Calls of one group are one when it comes to covering: after one of them, all others come first. 0 for a call by itself.</summary>
    public int Group { get; init; }

    /// <summary>Where she stands after it, on a walk on which each call begins where the last one led; null where calls stand by themselves.</summary>
    public int? Leads { get; init; }
}

/// <summary>In what order a caller calls.</summary>
internal enum CallOrder
{
    /// <summary>What is at her edge first, and so that nothing can be foreseen.</summary>
    Shuffled,
    /// <summary>As they stand in the list.</summary>
    Rising,
    /// <summary>As dice fall.</summary>
    Falling,
}

/// <summary>
/// The calls that one player can get. Every call comes once before any comes again; those at her edge come first, then
/// the firm ones, those she knows, and what is a stretch. No number comes again within <c>apart</c> calls, and three
/// neighbours never follow in order, unless nothing else is left.
/// </summary>
internal sealed class CallList<TSet> where TSet : struct, IPlaceSet<TSet>
{
    private readonly TSet all;

    /// <summary>The calls in the order in which they come: a set of calls speaks of places in it.</summary>
    private readonly short[] order;

    /// <summary>By place, the calls that come as early.</summary>
    private readonly TSet[] alike;

    /// <summary>By one more than the number; nothing at 0, nor beyond the largest.</summary>
    private readonly TSet[] byNumber;

    /// <summary>By call: itself, what is covered with it, and one more than its number.</summary>
    private readonly TSet[] single, covers;
    private readonly ushort[] numbers;
    private readonly int apart;
    private readonly bool neverForeseen;

    /// <summary>Where dice make the calls: each call as often as there are ways for it; else null.</summary>
    private readonly short[]? falls;

    private readonly bool rising;

    /// <summary>On a walk: the calls that lead up, that lead down, and that stay.</summary>
    private readonly TSet up, down, still;
    private readonly bool walks;

    /// <param name="right">Her chance of getting an ask right; null where nobody knows.</param>
    /// <param name="apart">How many calls a number stays away, 1 to 3.</param>
    /// <param name="neverForeseen">Where only calls are left that could be foreseen, one that came before comes again.</param>
    public CallList(IReadOnlyList<Call> calls, Func<Ask, double>? right, int apart, bool neverForeseen = false, CallOrder inOrder = CallOrder.Shuffled)
    {
        if (inOrder == CallOrder.Falling)
        {
            // Dice may fall in any number of ways, and nothing is remembered of them.
            Calls = calls;
            falls = [.. calls.SelectMany((c, i) => Enumerable.Repeat((short)i, c.Ways))];
            (order, alike, byNumber, single, covers, numbers) = ([], [], [], [], [], []);
            return;
        }
        if (calls.Count == 0 || calls.Count > TSet.Most) throw new ArgumentException($"A caller of this kind has 1 to {TSet.Most} calls, not {calls.Count}.", nameof(calls));
        Calls = calls;
        this.apart = apart;
        this.neverForeseen = neverForeseen;
        rising = inOrder == CallOrder.Rising;
        int[] ranks = [.. calls.Select(c => right is null || rising || c.Asks.IsEmpty ? 0 : CalledFrame.Rank(c.Asks.Min(right)))];
        order = [.. Enumerable.Range(0, calls.Count).OrderBy(c => ranks[c]).Select(c => (short)c)];
        single = new TSet[calls.Count];
        for (int at = 0; at < order.Length; at++) single[order[at]] = TSet.Of(at);
        covers = [.. calls.Select((c, i) => c.Group == 0 ? single[i] : Where(other => calls[other].Group == c.Group))];
        all = Where(_ => true);
        alike = [.. order.Select(c => Where(other => ranks[other] == ranks[c]))];
        byNumber = [.. Enumerable.Range(-1, calls.Max(c => c.Number) + 3).Select(n => Where(c => calls[c].Number == n))];
        numbers = [.. calls.Select(c => (ushort)((c.Leads ?? c.Number) + 1))];
        walks = calls[0].Leads is not null;
        (up, down, still) = (Where(c => calls[c].Leads > calls[c].Number), Where(c => calls[c].Leads < calls[c].Number), Where(c => calls[c].Leads == calls[c].Number));

        TSet Where(Func<int, bool> holds) => Enumerable.Range(0, calls.Count).Where(holds).Aggregate(default(TSet), (set, call) => set | single[call]);
    }

    public IReadOnlyList<Call> Calls { get; }

    /// <summary>The calls that were made before this one in this round of all calls; with the last of them nothing is covered any more.</summary>
    public IReadOnlyList<Call> Before(int call, CallMemory<TSet> memory) => falls is not null ? []
        : [.. Enumerable.Range(0, Calls.Count).Where(c => c != call && (memory.Covered.IsEmpty || !(memory.Covered & single[c]).IsEmpty)).Select(c => Calls[c])];

    /// <summary>The calls that were made in this round of all calls: none where dice make them, nor when all were.</summary>
    public IReadOnlyList<Call> Made(CallMemory<TSet> memory) => falls is not null ? [] : [.. Calls.Where((_, c) => !(memory.Covered & single[c]).IsEmpty)];

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Draw(in CallMemory<TSet> memory, ref Rng rng)
    {
        if (falls is not null) return falls[rng.Below(falls.Length)];
        var open = all - memory.Covered;
        if (rising) return order[open.First];
        if (walks) return Step(in memory, open, ref rng);
        var stale = Stale(in memory);
        var fresh = open - stale;
        if (fresh.IsEmpty) fresh = Foreseen(open, stale);
        var first = fresh & alike[fresh.First];
        return order[first.Nth(rng.Below(first.Count))];
    }

    /// <summary>The next step of a walk: from where she stands, never more than three one way and no two pauses running, rather one that did not come yet.</summary>
    [MethodImpl(MethodImplOptions.NoInlining)]
    private int Step(in CallMemory<TSet> memory, TSet open, ref Rng rng)
    {
        var here = memory.Last == 0 ? all : byNumber[memory.Last];
        // She stood elsewhere on another line.
        if (here.IsEmpty) here = all;
        // Without branches: which way a walk goes cannot be foreseen.
        int step = memory.Last - memory.Second;
        bool three = memory.Fourth > 0 & step * step == 1 & memory.Second - memory.Third == step & memory.Third - memory.Fourth == step;
        var may = here - (still.If(step == 0) | up.If(three & step > 0) | down.If(three & step < 0));
        may |= here.If(may.IsEmpty);
        var fresh = may & open;
        fresh |= may.If(fresh.IsEmpty);
        var first = fresh & alike[fresh.First];
        return order[first.Nth(rng.Below(first.Count))];
    }

    /// <summary>Where all that is still to come could be foreseen.</summary>
    [MethodImpl(MethodImplOptions.NoInlining)]
    private TSet Foreseen(TSet open, TSet stale) => neverForeseen && !(all - stale).IsEmpty ? all - stale : open;

    /// <summary>Numbers of other calls than these are forgotten, and what is covered leaves something to come.</summary>
    public void Fit(ref CallMemory<TSet> memory)
    {
        if (Math.Max(memory.Last, Math.Max(memory.Second, memory.Third)) > byNumber.Length - 2) memory.ForgetNumbers();
        memory.Covered = NotAll(memory.Covered);
    }

    /// <summary>Where nothing is left to come, the next round of all calls begins.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private TSet NotAll(TSet covered) => (all - covered).IsEmpty ? default : covered;

    /// <summary>What would be easily foreseen: numbers called lately, and the next of two that followed in order.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private TSet Stale(in CallMemory<TSet> memory)
    {
        int last = memory.Last, step = last - memory.Second;
        // Without a branch: whether two numbers followed in order cannot be foreseen here either.
        int next = last + step & -(int)Bits.If(memory.Second > 0 & step * step == 1);
        var stale = byNumber[last] | byNumber[next];
        if (apart > 1) stale |= byNumber[memory.Second];
        if (apart > 2) stale |= byNumber[memory.Third];
        return stale;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Take(ref CallMemory<TSet> memory, int call)
    {
        if (falls is not null) return;
        memory.Covered = NotAll(memory.Covered | covers[call]);
        // A walk remembers where it began, too.
        if (walks && memory.Last == 0) memory.Remember((ushort)(Calls[call].Number + 1));
        memory.Remember(numbers[call]);
    }
}
