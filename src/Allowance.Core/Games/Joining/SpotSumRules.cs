using System.Numerics;
using System.Runtime.CompilerServices;
using Allowance.Core.Asks;
using Allowance.Core.Forecasts;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;

namespace Allowance.Core.Games;

internal struct SpotSumState
{
    public Head Head;

    /// <summary>What was called and waits to be found: the number, and what the cards come to; below 0 while nothing is.</summary>
    public int Number;
    public Called Op;

    /// <summary>Cards that may still come to the table; and such as nobody found, which lie aside.</summary>
    public short Stock, Aside;

    /// <summary>Places as bits: with a card; to be filled.</summary>
    public ulong Cards, ToFill;

    /// <summary>Numbers that were called, as bits; larger ones share a bit.</summary>
    public ulong CalledLow, CalledHigh;
    public EightCounts Taken;
    public SixtyFour Places;
    public OpenCards Open;
    public DrawPile Pile;
}

/// <summary>The rules of Sum Search: a number is called that some cards come to, and the mover finds such cards.</summary>
internal readonly partial struct SpotSumRules(SpotSumTable table) : IRules<SpotSumState>
{
    /// <summary>So many sets are looked at before one is called.</summary>
    private const int Looks = 6;

    private readonly ulong allPlaces = (1UL << table.Layout.Places) - 1;

    public int Seats => table.Seats;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public ref Head Head(ref SpotSumState s) => ref s.Head;

    public void Start(ref SpotSumState s, int first)
    {
        s = default;
        s.Head = Rules.Head.At(first, Seats);
        s.Number = -1;
        s.Stock = (short)(table.Refill ? table.Pack.Length : table.Layout.Places);
        s.ToFill = allPlaces;
        ((Span<byte>)s.Places).Fill(PartnersTable.Nothing);
        s.Pile.Fill(table.Pack);
        Settle(ref s);
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static bool Fills(in SpotSumState s) => s.ToFill != 0 && s.Stock > 0;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Draw(ref SpotSumState s, ref Rng rng) => Fills(in s) ? s.Pile.Draw(ref rng) : Call(in s, ref rng);

    private const int OpStep = 1 << 20;

    /// <summary>Somebody looks at some sets of cards, and calls what one of them comes to: what she is to find at her edge, and was not called yet.</summary>
    private int Call(in SpotSumState s, ref Rng rng)
    {
        var seat = table.Places[s.Head.Mover];
        int best = int.MaxValue, call = 0;
        for (int look = 0; look < Looks && best > 0; look++)
        {
            var op = seat.Ops[seat.Ops.Length == 1 ? 0 : rng.Below(seat.Ops.Length)];
            var (a, b, c) = Some(in s, seat.Count, ref rng);
            int number = SpotSumTable.Come(op, seat.Count, a, b, c);
            if (number > seat.CallTo) continue;
            int rank = (seat.Ranks?[table.Kind(seat, op, Lead(seat, op, a, b), Other(seat, op, a, b), c)] ?? 0) + (WasCalled(in s, number) ? 4 : 0);
            if (rank < best) (best, call) = (rank, (int)op * OpStep + number);
        }
        return best < int.MaxValue ? call : Any(in s, seat, ref rng);
    }

    // Of two cards that are added the one seen first leads; else the larger.
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static int Lead(SpotSumSeat seat, Called op, int a, int b) => seat.Count == 3 || op == Called.Sum ? a : Math.Max(a, b);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static int Other(SpotSumSeat seat, Called op, int a, int b) => seat.Count == 3 || op == Called.Sum ? b : Math.Min(a, b);

    /// <summary>Numbers of cards at any places; of three cards they fall.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static (int A, int B, int C) Some(in SpotSumState s, int count, ref Rng rng)
    {
        ulong left = s.Cards;
        int a = s.Places[Take(ref left, ref rng)], b = s.Places[Take(ref left, ref rng)];
        if (count == 2) return (a, b, 0);
        return Falling(a, b, s.Places[Take(ref left, ref rng)]);

        [MethodImpl(MethodImplOptions.AggressiveInlining)]
        static int Take(ref ulong left, ref Rng rng)
        {
            int place = Bits.Nth(left, rng.Below(BitOperations.PopCount(left)));
            left &= ~(1UL << place);
            return place;
        }
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static (int A, int B, int C) Falling(int a, int b, int c)
    {
        if (a < b) (a, b) = (b, a);
        if (b < c) (b, c) = (c, b);
        if (a < b) (a, b) = (b, a);
        return (a, b, c);
    }

    /// <summary>Where few sets come to a number that may be called: one of those, each equally likely.</summary>
    private static int Any(in SpotSumState s, SpotSumSeat seat, ref Rng rng)
    {
        int call = 0, so = 0;
        for (ulong first = s.Cards; first != 0; first &= first - 1)
            for (ulong second = first & first - 1; second != 0; second &= second - 1)
                foreach (var op in seat.Ops)
                {
                    int a = s.Places[BitOperations.TrailingZeroCount(first)], b = s.Places[BitOperations.TrailingZeroCount(second)];
                    if (seat.Count == 2) Look(op, SpotSumTable.Come(op, 2, a, b, 0), ref rng);
                    else
                        for (ulong third = second & second - 1; third != 0; third &= third - 1)
                            Look(op, SpotSumTable.Come(op, 3, a, b, s.Places[BitOperations.TrailingZeroCount(third)]), ref rng);
                }
        return call;

        void Look(Called op, int number, ref Rng rng)
        {
            if (number <= seat.CallTo && rng.Below(++so) == 0) call = (int)op * OpStep + number;
        }
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static bool WasCalled(in SpotSumState s, int number) => (((number & 64) == 0 ? s.CalledLow : s.CalledHigh) >> (number & 63) & 1) != 0;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Deal(ref SpotSumState s, int outcome)
    {
        if (!Fills(in s))
        {
            (s.Op, s.Number) = ((Called)(outcome / OpStep), outcome % OpStep);
            if ((s.Number & 64) == 0) s.CalledLow |= 1UL << (s.Number & 63);
            else s.CalledHigh |= 1UL << (s.Number & 63);
            s.Head.Phase = StepKind.Choice;
            return;
        }
        s.Pile.Take((byte)outcome);
        int place = BitOperations.TrailingZeroCount(s.ToFill);
        s.ToFill &= s.ToFill - 1;
        s.Stock--;
        s.Cards |= 1UL << place;
        s.Places[place] = (byte)outcome;
        s.Open.Put(place, outcome);
        if (!Fills(in s)) Settle(ref s);
    }

    /// <summary>Something lies there that may be called for her.</summary>
    private static bool CanCall(in SpotSumState s, SpotSumSeat seat)
    {
        if (BitOperations.PopCount(s.Cards) < seat.Count) return false;
        if (seat.CallTo == int.MaxValue) return true;
        foreach (var op in seat.Ops)
        {
            if (op == Called.Difference ? s.Open.Numbers.Twice != 0 || NextTo(s.Open.Numbers.Present, seat.CallTo) : Lowest(in s, seat.Count, op) <= seat.CallTo) return true;
        }
        return false;
    }

    private static int Lowest(in SpotSumState s, int count, Called op)
    {
        int come = op == Called.Sum ? 0 : 1;
        for (ulong rest = s.Open.Numbers.Present; rest != 0 && count > 0; rest &= rest - 1)
        {
            int n = BitOperations.TrailingZeroCount(rest);
            for (int copies = s.Open.Numbers[n]; copies > 0 && count > 0; copies--, count--) come = op == Called.Sum ? come + n : come * n;
        }
        return come;
    }

    /// <summary>Two of these numbers are no further apart than this.</summary>
    private static bool NextTo(ulong numbers, int apart)
    {
        for (int d = 1; d <= Math.Min(63, apart); d++)
            if ((numbers & numbers >> d) != 0) return true;
        return false;
    }

    public bool IsBetweenTurns(in SpotSumState s) => s.Number < 0;

    public void Arrange(ref SpotSumState s, uint before)
    {
        s.Number = -1;
        Settle(ref s);
    }

    /// <summary>On to whoever something can be called for.</summary>
    private void Settle(ref SpotSumState s)
    {
        s.Head.Phase = StepKind.Chance;
        if (Fills(in s)) return;
        for (int tries = 0; tries < Engine.MostSeats; tries++)
        {
            if (CanCall(in s, table.Places[s.Head.Mover])) return;
            if (s.Cards == 0) break;
            s.Head.Stuck = true;
            s.Head.NextMover();
        }
        s.Head.Phase = StepKind.Over;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public Move Plain(in SpotSumState s, ref Rng rng)
    {
        int count = table.Places[s.Head.Mover].Count;
        var set = SpotSumSets.Any(in s.Open.Numbers, s.Op, count, s.Number, ref rng);
        return Taking(in s, set, count, (rng.Next() & 1) == 0);
    }

    public Move Best(in SpotSumState s, ref Rng rng) => Plain(in s, ref rng);

    /// <summary>See <see cref="SpotSumSets.Find"/>.</summary>
    private int Set(in SpotSumState s, int wanted, out (int A, int B, int C) set) => SpotSumSets.Find(in s.Open.Numbers, s.Op, table.Places[s.Head.Mover].Count, s.Number, wanted, out set);

    /// <summary>The move that takes the first cards with these numbers.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static Move Taking(in SpotSumState s, (int A, int B, int C) set, int count, bool lowFirst)
    {
        ulong taken = Next(in s, set.A, 0), first = taken, second = Next(in s, set.B, taken);
        taken |= second;
        if (count == 3) taken |= Next(in s, set.C, taken);
        return new(taken, -1, BitOperations.TrailingZeroCount(lowFirst ? first : second));

        [MethodImpl(MethodImplOptions.AggressiveInlining)]
        static ulong Next(in SpotSumState s, int number, ulong but)
        {
            ulong at = s.Open.At[number] & ~but;
            return at & (0 - at);
        }
    }

    /// <summary>The numbers that a move takes: of a sum the one that was seen first, then the other; else they fall.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private (int A, int B, int C) Numbers(in SpotSumState s, Move move)
    {
        var seat = table.Places[s.Head.Mover];
        ulong items = move.Items;
        if (seat.Count == 2)
        {
            int first = s.Places[move.First], other = s.Places[BitOperations.TrailingZeroCount(items & ~(1UL << move.First))];
            return (Lead(seat, s.Op, first, other), Other(seat, s.Op, first, other), 0);
        }
        int a = s.Places[BitOperations.TrailingZeroCount(items)], b = s.Places[BitOperations.TrailingZeroCount(items &= items - 1)];
        return Falling(a, b, s.Places[BitOperations.TrailingZeroCount(items & items - 1)]);
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Asks(in SpotSumState s, Move move, Span<SeatAsk> into)
    {
        var seat = table.Places[s.Head.Mover];
        if (seat.GrownUp || move.IsPass) return 0;
        var (a, b, c) = Numbers(in s, move);
        into[0] = new(s.Head.Mover, SpotSumTable.Asked(seat, s.Op, a, b, c));
        return 1;
    }

    public int TurnKinds => table.Kinds.All;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int TurnKind(in SpotSumState s, Move move)
    {
        if (move.IsPass) return -1;
        var (a, b, c) = Numbers(in s, move);
        return table.Kinds[s.Head.Mover] + table.Kind(table.Places[s.Head.Mover], s.Op, a, b, c);
    }

    public float DealSeconds(in SpotSumState s) => Fills(in s) ? Handling.DealCard : Handling.DrawCall;

    public float MoveSeconds(in SpotSumState s, Move move) => move.IsPass ? 0 : Handling.TakeOpenPair;

    public bool Seeking(in SpotSumState s, Move move) => true;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Apply(ref SpotSumState s, Move move, Answered answered)
    {
        // What was not found is shown by whoever called it, and is nobody's.
        ulong taken = move.IsPass ? Shown(in s).Items : move.Items;
        if (answered.All && !move.IsPass) s.Taken[s.Head.Mover] += (short)BitOperations.PopCount(taken);
        else s.Aside += (short)BitOperations.PopCount(taken);
        s.Cards &= ~taken;
        s.ToFill |= taken;
        for (; taken != 0; taken &= taken - 1)
        {
            int place = BitOperations.TrailingZeroCount(taken);
            s.Open.Lift(place, s.Places[place]);
            s.Places[place] = PartnersTable.Nothing;
        }
        s.Head.Turns++;
        s.Number = -1;
        s.Head.NextMover();
        Settle(ref s);
    }

    /// <summary>Cards that come to what was called.</summary>
    private Move Shown(in SpotSumState s)
    {
        Set(in s, 0, out var set);
        return Taking(in s, set, table.Places[s.Head.Mover].Count, lowFirst: true);
    }

    public int Points(in SpotSumState s, int seat) => s.Taken[seat];

    public bool AimReached(in SpotSumState s) => s.Cards == 0 && s.Stock == 0;

    public int Left(in SpotSumState s) => BitOperations.PopCount(s.Cards) + s.Stock;

    public int Things(in SpotSumState s)
    {
        int things = Left(in s) + s.Aside;
        for (int seat = 0; seat < Seats; seat++) things += s.Taken[seat];
        return things;
    }
}
