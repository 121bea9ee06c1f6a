using System.Diagnostics.CodeAnalysis;
using System.Numerics;
using System.Runtime.CompilerServices;
using Allowance.Core.Forecasts;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;

namespace Allowance.Core.Games;

[InlineArray(ManyMakes.MostLengths)]
internal struct BarsBehind
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

    public void Clear()
    {
        while (Count > 0) held[--Count] = 0;
    }

    [UnscopedRef]
    public readonly ReadOnlySpan<ulong> All => ((ReadOnlySpan<ulong>)held)[..Count];

    public readonly bool Holds(ulong way) => BarWays.IsOneOf(way, All);
}

internal struct MakesState
{
    public Head Head;

    /// <summary>The number that was called; 0 while none is.</summary>
    public short Number;

    /// <summary>The bars that nobody has: so many of each length as can be told with few bits (see <see cref="BarWays"/>).</summary>
    public ulong Stock;

    /// <summary>By length, what lies behind those.</summary>
    public BarsBehind Behind;

    /// <summary>The numbers that the stock makes, as bits.</summary>
    public ulong Makeable;
    public EightNumbers Points;
    public EightCounts Calls, Taken;

    /// <summary>The numbers that were called, as bits.</summary>
    public ulong Called;
    public UsedWays Used;
}

/// <summary>The rules of Many Makes: a number, and the bars that make it. A move's items are the bars of a way (see <see cref="BarWays"/>).</summary>
internal readonly partial struct MakesRules(MakesTable table) : IRules<MakesState>
{
    /// <summary>A number that is made in different ways goes round so often, where few play.</summary>
    private const int LeastRound = 3;

    public int Seats => table.Seats;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public ref Head Head(ref MakesState s) => ref s.Head;

    public void Start(ref MakesState s, int first)
    {
        s = default;
        s.Head = Rules.Head.At(first, Seats);
        for (int i = 0; i < table.Lengths.Length; i++) s.Behind[i] = (short)table.Copies[i];
        Fill(ref s);
        for (int seat = 0; seat < Seats; seat++) s.Points[seat] = table.HeadStart[seat];
        Settle(ref s);
    }

    /// <summary>As many of what lies behind come to the front as can be told there.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private void Fill(ref MakesState s)
    {
        for (int i = 0; i < table.Lengths.Length; i++)
        {
            int more = Math.Min(s.Behind[i], BarWays.MostOfOne - BarWays.Of(s.Stock, i));
            s.Behind[i] -= (short)more;
            s.Stock += (ulong)more << BarWays.Bits * i;
        }
    }

    private static int Bars(in MakesState s, int length) => BarWays.Of(s.Stock, length) + s.Behind[length];

    /// <summary>What is called for the mover: what is at her edge, and what was not called yet.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Draw(ref MakesState s, ref Rng rng)
    {
        for (int again = 0; again < 2; again++)
            foreach (ulong ranked in table.Ranked[s.Head.Mover])
            {
                ulong numbers = s.Makeable & ranked & (again == 0 ? ~s.Called : ~0UL);
                if (numbers != 0) return Bits.Nth(numbers, rng.Below(BitOperations.PopCount(numbers)));
            }
        return 0;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Deal(ref MakesState s, int outcome)
    {
        s.Number = (short)outcome;
        s.Called |= 1UL << outcome;
        s.Used.Clear();
        s.Head.Phase = StepKind.Choice;
    }

    private bool MustDiffer(in MakesState s) => table.Score[s.Head.Mover] == MakesScore.Different;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public Move Plain(in MakesState s, ref Rng rng)
    {
        ulong way;
        // There are always more ways than were used: see Settle.
        do way = table.Ways.Any(s.Stock, s.Number, ref rng);
        while (MustDiffer(in s) && s.Used.Holds(way));
        return new(way);
    }

    /// <summary>With the most bars, or else the fewest; any way that is free does where ways must differ.</summary>
    public Move Best(in MakesState s, ref Rng rng) => table.Score[s.Head.Mover] switch
    {
        MakesScore.Different => Plain(in s, ref rng),
        MakesScore.Most => new(table.Ways.Most(s.Stock, s.Number)),
        _ => new(table.Ways.Fewest(s.Stock, s.Number)),
    };

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Asks(in MakesState s, Move move, Span<SeatAsk> into)
    {
        int seat = s.Head.Mover;
        if (table.GrownUp[seat] || move.IsPass) return 0;
        into[0] = new(seat, table.Asked(seat, s.Number, BarWays.Bars(move.Items)));
        return 1;
    }

    public int TurnKinds => table.Kinds.All;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int TurnKind(in MakesState s, Move move) => move.IsPass ? -1 : table.Kinds[s.Head.Mover] + MakesTable.Kind(s.Number, BarWays.Bars(move.Items));

    public float DealSeconds(in MakesState s) => Handling.DrawCall;

    public float MoveSeconds(in MakesState s, Move move) => Handling.LayThing * BarWays.Bars(move.Items) + Handling.TakeThings;

    public bool Seeking(in MakesState s, Move move) => false;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Apply(ref MakesState s, Move move, Answered answered)
    {
        int seat = s.Head.Mover;
        s.Head.Turns++;
        s.Calls[seat]++;
        if (!move.IsPass)
        {
            int bars = BarWays.Bars(move.Items);
            s.Points[seat] += table.Score[seat] switch
            {
                MakesScore.Most => bars,
                MakesScore.Fewest => bars == BarWays.Bars(table.Ways.Fewest(s.Stock, s.Number)) ? 1 : 0,
                _ => 1,
            };
            s.Taken[seat] += (short)bars;
            s.Stock -= move.Items;
            if (table.HasBehind) Fill(ref s);
            if (table.AnyDiffers) s.Used.Add(move.Items);
        }
        s.Head.NextMover();
        // A number that is made in different ways goes round.
        bool round = s.Used.Count > 0 && s.Used.Count < Math.Max(LeastRound, BitOperations.PopCount(s.Head.Active));
        if (round && s.Calls[s.Head.Mover] < table.Calls && MustDiffer(in s) && (table.Numbers[s.Head.Mover] >> s.Number & 1) != 0 && HasNew(in s)) s.Head.Phase = StepKind.Choice;
        else Settle(ref s);
    }

    /// <summary>The number that was called can be made in a way that nobody used.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private bool HasNew(in MakesState s) => table.Ways.OneBut(s.Stock, s.Number, s.Used.All) != 0;

    /// <summary>On to whoever still gets a call that can be made.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private void Settle(ref MakesState s)
    {
        s.Number = 0;
        s.Makeable = table.Ways.Makeable(s.Stock);
        for (int tries = 0; tries < Engine.MostSeats; tries++)
        {
            if (s.Head.Plays(s.Head.Mover) && s.Calls[s.Head.Mover] < table.Calls)
            {
                if ((s.Makeable & table.Numbers[s.Head.Mover]) != 0)
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
        for (int i = 0; i < table.Lengths.Length; i++) left += Bars(in s, i);
        return left;
    }

    public int Things(in MakesState s)
    {
        int things = Left(in s);
        for (int seat = 0; seat < Seats; seat++) things += s.Taken[seat];
        return things;
    }
}
