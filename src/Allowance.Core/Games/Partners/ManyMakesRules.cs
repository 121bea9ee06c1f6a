using System.Numerics;
using System.Runtime.CompilerServices;
using Allowance.Core.Forms;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Tables;

namespace Allowance.Core.Games;

[InlineArray(ManyMakes.MostLengths)]
internal struct BarCounts
{
    private short first;
}

[InlineArray(UsedWays.Most)]
internal struct UsedWaysHeld
{
    private ulong first;
}

/// <summary>The ways in which one number was made since it was called.</summary>
internal struct UsedWays
{
    /// <summary>More people than this do not make a number one after another.</summary>
    public const int Most = 16;

    public short Count;
    private UsedWaysHeld held;

    public void Add(ulong way)
    {
        if (Count < Most) held[Count++] = way;
    }

    public readonly bool Holds(ulong way) => ((ReadOnlySpan<ulong>)held)[..Count].Contains(way);
}

internal struct MakesState
{
    public Head Head;

    /// <summary>The number that was called; 0 while none is.</summary>
    public short Number;

    /// <summary>By length, the bars that nobody has.</summary>
    public BarCounts Bars;
    public EightNumbers Points;
    public EightCounts Calls, Taken;

    /// <summary>The numbers that were called, as bits.</summary>
    public ulong Called;
    public UsedWays Used;
}

/// <summary>The rules of Many Makes: a number, and the bars that make it. A way is how many bars it takes of each length, six bits for each.</summary>
internal readonly partial struct MakesRules(MakesTable table) : IRules<MakesState>
{
    private const int Bits6 = 6, MostOfOne = 63;

    /// <summary>A number that is made in different ways goes round so often, where few play.</summary>
    private const int LeastRound = 3;

    public int Seats => table.Seats;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public ref Head Head(ref MakesState s) => ref s.Head;

    public void Start(ref MakesState s, int first)
    {
        s = default;
        s.Head = Rules.Head.At(first, Seats);
        for (int i = 0; i < table.Lengths.Length; i++) s.Bars[i] = (short)table.Copies[i];
        for (int seat = 0; seat < Seats; seat++) s.Points[seat] = table.HeadStart[seat];
        Settle(ref s);
    }

    /// <summary>The numbers that the bars can make, as bits.</summary>
    private ulong Makeable(in MakesState s)
    {
        ulong reach = 1;
        for (int i = 0; i < table.Lengths.Length; i++)
        {
            int length = table.Lengths[i];
            // Twice as many copies at a time, and the rest at once.
            for (int left = Math.Min((int)s.Bars[i], ManyMakes.MostNumber / length), some = 1; left > 0; left -= some, some *= 2) reach |= reach << length * Math.Min(some, left);
        }
        return reach & ((2UL << ManyMakes.MostNumber) - 2);
    }

    /// <summary>What is called for the mover: what is at her edge, and what was not called yet.</summary>
    public int Draw(ref MakesState s, ref Rng rng)
    {
        ulong makeable = Makeable(in s);
        for (int again = 0; again < 2; again++)
            foreach (ulong ranked in table.Ranked[s.Head.Mover])
            {
                ulong numbers = makeable & ranked & (again == 0 ? ~s.Called : ~0UL);
                if (numbers != 0) return Bits.Nth(numbers, rng.Below(BitOperations.PopCount(numbers)));
            }
        return 0;
    }

    public void Deal(ref MakesState s, int outcome)
    {
        s.Number = (short)outcome;
        s.Called |= 1UL << outcome;
        s.Used = default;
        s.Head.Phase = StepKind.Choice;
    }

    /// <summary>A number for each length, and for none, and each sum up to the number that was called.</summary>
    private int Cells(in MakesState s) => (table.Lengths.Length + 1) * (s.Number + 1);

    /// <summary>ways[i][sum]: in how many ways bars from the i-th length on make a sum; it comes with nothing but zeros.</summary>
    private void Count(in MakesState s, Span<long> ways)
    {
        int n = table.Lengths.Length, width = s.Number + 1;
        ways[n * width] = 1;
        for (int i = n - 1; i >= 0; i--)
        {
            var here = ways.Slice(i * width, width);
            var after = ways.Slice((i + 1) * width, width);
            int length = table.Lengths[i], drop = (Math.Min((int)s.Bars[i], MostOfOne) + 1) * length;
            for (int sum = 0; sum < width; sum++) here[sum] = after[sum] + (sum >= length ? here[sum - length] : 0) - (sum >= drop ? after[sum - drop] : 0);
        }
    }

    /// <summary>One of the ways, by its number among them.</summary>
    private ulong Way(in MakesState s, ReadOnlySpan<long> ways, long pick)
    {
        int n = table.Lengths.Length, width = s.Number + 1, sum = s.Number;
        ulong way = 0;
        for (int i = 0; i < n; i++)
            for (int used = 0; ; used++)
            {
                long rest = ways[(i + 1) * width + sum - used * table.Lengths[i]];
                if (pick < rest)
                {
                    way |= (ulong)used << Bits6 * i;
                    sum -= used * table.Lengths[i];
                    break;
                }
                pick -= rest;
            }
        return way;
    }

    private bool MustDiffer(in MakesState s) => table.Score[s.Head.Mover] == ManyMakes.Different;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public Move Plain(in MakesState s, ref Rng rng)
    {
        Span<long> ways = stackalloc long[Cells(in s)];
        Count(in s, ways);
        long all = ways[s.Number];
        ulong way = 0;
        // There are always more ways than were used: see Settle.
        do way = Way(in s, ways, (long)(rng.Unit() * all));
        while (MustDiffer(in s) && s.Used.Holds(way));
        return new(way);
    }

    /// <summary>With the most bars, or else the fewest, of the ways that are free; any does where every number counts alike.</summary>
    public Move Best(in MakesState s, ref Rng rng)
    {
        if (MustDiffer(in s)) return Plain(in s, ref rng);
        bool most = table.Score[s.Head.Mover] == ManyMakes.Most;
        int n = table.Lengths.Length, width = s.Number + 1;
        Span<int> bars = stackalloc int[Cells(in s)];
        bars.Fill(-1000);
        bars[n * width] = 0;
        // Fewest bars are the most of bars that count less than nothing.
        int each = most ? 1 : -1;
        for (int i = n - 1; i >= 0; i--)
            for (int sum = 0; sum < width; sum++)
                for (int used = 0; used <= s.Bars[i] && used <= MostOfOne && used * table.Lengths[i] <= sum; used++)
                    bars[i * width + sum] = Math.Max(bars[i * width + sum], bars[(i + 1) * width + sum - used * table.Lengths[i]] + each * used);
        ulong way = 0;
        for (int i = 0, sum = s.Number; i < n; i++)
            for (int used = 0; used <= MostOfOne && used * table.Lengths[i] <= sum; used++)
            {
                if (bars[i * width + sum] != bars[(i + 1) * width + sum - used * table.Lengths[i]] + each * used) continue;
                way |= (ulong)used << Bits6 * i;
                sum -= used * table.Lengths[i];
                break;
            }
        return new(way);
    }

    private static int BarsOf(ulong way)
    {
        int bars = 0;
        for (; way != 0; way >>= Bits6) bars += (int)(way & MostOfOne);
        return bars;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Asks(in MakesState s, Move move, Span<SeatAsk> into)
    {
        int seat = s.Head.Mover;
        if (table.GrownUp[seat] || move.IsPass) return 0;
        into[0] = new(seat, table.Asked(seat, s.Number, BarsOf(move.Items)));
        return 1;
    }

    public int TurnKinds => table.Kinds.All;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int TurnKind(in MakesState s, Move move) => move.IsPass ? -1 : table.Kinds[s.Head.Mover] + MakesTable.Kind(s.Number, BarsOf(move.Items));

    public float DealSeconds(in MakesState s) => Handling.DrawCall;

    public float MoveSeconds(in MakesState s, Move move) => Handling.LayThing * BarsOf(move.Items) + Handling.TakeThings;

    public bool Seeking(in MakesState s, Move move) => false;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Apply(ref MakesState s, Move move, Answered answered)
    {
        int seat = s.Head.Mover;
        s.Head.Turns++;
        s.Calls[seat]++;
        if (!move.IsPass)
        {
            int bars = BarsOf(move.Items);
            s.Points[seat] += table.Score[seat] == ManyMakes.Most ? bars : table.Score[seat] != ManyMakes.Fewest || bars == BarsOf(Best(in s).Items) ? 1 : 0;
            for (int i = 0; i < table.Lengths.Length; i++)
            {
                int used = (int)(move.Items >> Bits6 * i & MostOfOne);
                s.Bars[i] -= (short)used;
                s.Taken[seat] += (short)used;
            }
            s.Used.Add(move.Items);
        }
        s.Head.NextMover();
        // A number that is made in different ways goes round.
        bool round = s.Used.Count > 0 && s.Used.Count < Math.Max(LeastRound, BitOperations.PopCount(s.Head.Active));
        if (round && s.Calls[s.Head.Mover] < table.Calls && MustDiffer(in s) && (table.Numbers[s.Head.Mover] >> s.Number & 1) != 0 && HasNew(in s)) s.Head.Phase = StepKind.Choice;
        else Settle(ref s);
    }

    private Move Best(in MakesState s)
    {
        var none = default(Rng);
        return Best(in s, ref none);
    }

    /// <summary>The number that was called can be made in a way that nobody used.</summary>
    private bool HasNew(in MakesState s)
    {
        Span<long> ways = stackalloc long[Cells(in s)];
        Count(in s, ways);
        for (long pick = 0; pick < ways[s.Number] && pick <= UsedWays.Most; pick++)
            if (!s.Used.Holds(Way(in s, ways, pick))) return true;
        return false;
    }

    /// <summary>On to whoever still gets a call that can be made.</summary>
    private void Settle(ref MakesState s)
    {
        s.Number = 0;
        ulong makeable = Makeable(in s);
        for (int tries = 0; tries < Engine.MostSeats; tries++)
        {
            if (s.Head.Plays(s.Head.Mover) && s.Calls[s.Head.Mover] < table.Calls)
            {
                if ((makeable & table.Numbers[s.Head.Mover]) != 0)
                {
                    s.Head.Phase = StepKind.Chance;
                    return;
                }
                s.Head.Stuck = true;
            }
            s.Head.NextMover();
        }
        s.Head.Phase = StepKind.Over;
    }

    public void Arrange(ref MakesState s, uint before)
    {
        foreach (int seat in s.Head.New(before)) s.Points[seat] = table.HeadStart[seat];
        Settle(ref s);
    }

    public int Points(in MakesState s, int seat) => s.Points[seat];

    public bool AimReached(in MakesState s)
    {
        for (int seat = 0; seat < Seats; seat++)
            if (s.Head.Plays(seat) && s.Calls[seat] < table.Calls) return false;
        return true;
    }

    public int Left(in MakesState s)
    {
        int left = 0;
        for (int i = 0; i < table.Lengths.Length; i++) left += s.Bars[i];
        return left;
    }

    public int Things(in MakesState s)
    {
        int things = Left(in s);
        for (int seat = 0; seat < Seats; seat++) things += s.Taken[seat];
        return things;
    }
}
