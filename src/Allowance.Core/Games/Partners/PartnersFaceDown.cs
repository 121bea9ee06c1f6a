using System.Numerics;
using System.Runtime.CompilerServices;
using System.Runtime.Intrinsics;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;

namespace Allowance.Core.Games;

/// <summary>Partners face down: <c>memory</c>, two cards at a time, and <c>run</c>, turning and adding.</summary>
internal readonly partial struct PartnersFaceDown<TTurning>(PartnersTable table) : IRules<PartnersFaceDownState> where TTurning : struct, ITurning
{
    private readonly PartnersSeat[] seats = table.Seats;
    private readonly NumberBag all = NumberBag.Of(table.Pack);
    private readonly RunSets? sets = table.RunSets;
    private readonly TurnKinds kinds = table.Kinds;
    private readonly bool spans = table.Seats.Any(s => s.Spans);
    private readonly int places = table.Places, span = table.Span;

    public int Seats => seats.Length;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public ref Head Head(ref PartnersFaceDownState s) => ref s.Head;

    public void Start(ref PartnersFaceDownState s, int first)
    {
        s.Head = Rules.Head.At(first, seats.Length);
        s.Head.Phase = StepKind.Choice;
        s.First = s.Last = 0;
        TurnBack(ref s);
        s.Stock = (short)(table.Refill ? table.Pack.Length - table.Places : 0);
        s.Cards = table.AllPlaces;
        s.Known = s.Shown = 0;
        s.Taken = s.Found = default;
        s.Since.Clear();
        s.Recent = 0;
        ((Span<byte>)s.Places).Fill(PartnersTable.Nothing);
        s.Remain = all;
        s.Pile.Fill(table.Pack);
        s.Hope = byte.MaxValue;
        s.Sure = 0;
        FindHope(ref s);
        Settle(ref s);
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Draw(ref PartnersFaceDownState s, ref Rng rng) => s.Pile.Draw(ref rng);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Deal(ref PartnersFaceDownState s, int outcome)
    {
        s.Pile.Take((byte)outcome);
        s.Places[s.Last] = (byte)outcome;
        s.Known |= 1UL << s.Last;
        if (FewUnknown(in s)) FindHope(ref s);
        Turned(ref s);
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static bool CanMove(in PartnersFaceDownState s) => (s.Hope >> s.Head.Mover & 1) != 0;

    public bool IsBetweenTurns(in PartnersFaceDownState s) => s.Up == 0;

    /// <summary>What was turned is turned back; under other targets, other things may still go.</summary>
    public void Arrange(ref PartnersFaceDownState s, uint before)
    {
        s.Recent = s.Since.Latest(span, places);
        TurnBack(ref s);
        s.Hope = byte.MaxValue;
        s.Sure = 0;
        FindHope(ref s);
        Settle(ref s);
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private void Settle(ref PartnersFaceDownState s)
    {
        s.Target = (short)seats[s.Head.Mover].Target;
        s.Head.Phase = StepKind.Choice;
        for (int tries = 0; tries < 8; tries++)
        {
            if (CanMove(in s)) return;
            if (s.Cards == 0) break;
            s.Head.Stuck = true;
            s.Head.NextMover();
            s.Target = (short)seats[s.Head.Mover].Target;
        }
        s.Head.Phase = StepKind.Over;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private void Lay(ref PartnersFaceDownState s, int number)
    {
        if (sets is null) s.Lying = s.Lying.And(number);
        else s.Set = (short)sets.Next(s.Set, number);
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static void TurnBack(ref PartnersFaceDownState s)
    {
        s.Up = 0;
        s.Sum = s.Set = 0;
        s.Lying = default;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private void EndTurn(ref PartnersFaceDownState s)
    {
        s.Head.Turns++;
        s.Head.NextMover();
        s.Target = (short)seats[s.Head.Mover].Target;
        TurnBack(ref s);
        if (!CanMove(in s)) Settle(ref s);
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public Move Plain(in PartnersFaceDownState s, ref Rng rng)
    {
        if (Forced(in s)) return new(s.Up, -1, s.First);
        if (span > 0) return Turn(in s, s.Known & s.Recent, ref rng);
        int memory = seats[s.Head.Mover].Memory;
        if (memory != MemoryValue.Nothing) return Turn(in s, memory == MemoryValue.Everything ? s.Known : s.Known & s.Since.Latest(memory, places), ref rng);
        ulong down = s.Cards & ~s.Up;
        return new(0, Bits.Nth(down, rng.Below(BitOperations.PopCount(down))));
    }

    /// <summary>What is remembered is no choice: she turns by it as ever, and a pair she knows card by card, as at the table.</summary>
    public Move Best(in PartnersFaceDownState s, ref Rng rng)
    {
        var move = Plain(in s, ref rng);
        return s.Up != 0 || move.Items == 0 ? move : new(0, move.First);
    }

    /// <summary>Turns by what is remembered: what makes the target with it first, else a card that is not remembered.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private Move Turn(in PartnersFaceDownState s, ulong remembered, ref Rng rng)
    {
        var seat = seats[s.Head.Mover];
        ulong known = s.Cards & remembered & ~s.Up, unknown = s.Cards & ~remembered & ~s.Up;
        if (!TTurning.Runs && s.Up == 0)
        {
            if (KnownPair(in s, seat, known) is { Items: not 0 } pair) return pair;
        }
        else
        {
            int wanted = TTurning.Runs ? WantedInRun(in s, seat, known) : PlaceOf(in s, known, seat.Mate(s.Places[s.First]));
            if (wanted < 64) return new(0, wanted);
        }
        ulong from = unknown != 0 ? unknown : known;
        return new(0, Bits.Nth(from, rng.Below(BitOperations.PopCount(from))));
    }

    /// <summary>A pair of cards that are known, both at once; nothing where there is none.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private Move KnownPair(in PartnersFaceDownState s, PartnersSeat seat, ulong known)
    {
        var lie = Lie(in s, known);
        ulong pairs = seat.Pairs(lie.Present, lie.Mirror, lie.Twice);
        if (pairs == 0) return default;
        int low = BitOperations.TrailingZeroCount(pairs), first = PlaceOf(in s, known, low), second = PlaceOf(in s, known & ~(1UL << first), seat.Mate(low));
        return new(1UL << first | 1UL << second, -1, first);
    }

    /// <summary>The numbers at some places, as a bag has them; only their counts are not told.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static (ulong Present, ulong Mirror, ulong Twice) Lie(in PartnersFaceDownState s, ulong at)
    {
        ulong present = 0, mirror = 0, twice = 0;
        for (; at != 0; at &= at - 1)
        {
            int number = s.Places[BitOperations.TrailingZeroCount(at)];
            ulong bit = 1UL << number;
            twice |= present & bit;
            present |= bit;
            mirror |= 1UL << (63 - number);
        }
        return (present, mirror, twice);
    }

    /// <summary>A place whose known card leads to the target with known cards alone; 64 where none does.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static int WantedInRun(in PartnersFaceDownState s, PartnersSeat seat, ulong known)
    {
        int missing = seat.Target - s.Sum;
        if (missing <= 0) return 64;
        ulong reach = 1;
        for (; known != 0; known &= known - 1)
        {
            int place = BitOperations.TrailingZeroCount(known);
            reach |= reach << s.Places[place];
            // With this one, and some of those before it, it is made for the first time.
            if ((reach >> missing & 1) != 0) return place;
        }
        return 64;
    }

    /// <summary>The first of some places where this number lies; 64 where none does. All places are looked at at once.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private int PlaceOf(in PartnersFaceDownState s, ulong among, int number)
    {
        ulong lie = 0;
        for (int from = 0; from < places; from += Vector256<byte>.Count)
            lie |= (ulong)Vector256.Equals(Vector256.LoadUnsafe(in s.Places[from]), Vector256.Create((byte)number)).ExtractMostSignificantBits() << from;
        return BitOperations.TrailingZeroCount(lie & among);
    }

    /// <summary>Cards turned up in this turn settle it: they are kept or turned back.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static bool Forced(in PartnersFaceDownState s) => TTurning.Runs
        ? s.Sum >= s.Target || s.Up != 0 && s.Cards == s.Up
        : BitOperations.PopCount(s.Up) == 2;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Asks(in PartnersFaceDownState s, Move move, Span<SeatAsk> into)
    {
        int mover = s.Head.Mover;
        var seat = seats[mover];
        if (seat.GrownUp || move.IsPass) return 0;
        if (TTurning.Runs)
        {
            int n = 0;
            var lying = sets is null ? s.Lying : sets[s.Set];
            if (lying.Count > 1) into[n++] = new(mover, seat.Together(lying.Lanes, lying.Count, lying.Sum, lying.Last));
            if (lying.Count > 0 && lying.Sum < s.Target) into[n++] = new(mover, seat.Part[lying.Sum]);
            return n;
        }
        if (move.Items == 0) return 0;
        int first = s.Places[move.First];
        into[0] = new(mover, seat.Same ? seat.Match[first] : seat.Part[first]);
        return 1;
    }

    public int TurnKinds => kinds.All;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int TurnKind(in PartnersFaceDownState s, Move move) =>
        TTurning.Runs ? s.Set == 0 ? -1 : kinds[s.Head.Mover] + s.Set : move.Items == 0 ? -1 : kinds[s.Head.Mover] + s.Places[move.First];

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public float DealSeconds(in PartnersFaceDownState s) => 0;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public float MoveSeconds(in PartnersFaceDownState s, Move move) => move.Items != 0 ? seats[s.Head.Mover].Taking + (s.Up == 0 ? 2 * Handling.TurnCard : 0)
        // Every card is turned, also one that was seen before, and what does not go together is turned back. First of all they are laid out.
        : Handling.TurnCard + (s.Up == 0 ? s.Known == 0 ? table.Places * Handling.DealCard : 0 : TTurning.Runs ? 0 : Handling.LayBackTwo);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public bool Seeking(in PartnersFaceDownState s, Move move) => !TTurning.Runs;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Apply(ref PartnersFaceDownState s, Move move, Answered answered)
    {
        s.Shown = 0;
        if (move.Pick >= 0) TurnOver(ref s, move.Pick);
        else if (move.IsPass || !answered.All || TTurning.Runs && s.Sum != s.Target)
        {
            s.Shown = s.Up;
            EndTurn(ref s);
        }
        else
        {
            if (spans && s.Up == 0)
            {
                // She knew both, and turned one after the other.
                s.Since.See(move.First, span, places);
                s.Recent = s.Since.See(BitOperations.TrailingZeroCount(move.Items & ~(1UL << move.First)), span, places);
            }
            Take(ref s, move.Items);
            TurnBack(ref s);
            // Who keeps a run goes on.
            if (!TTurning.Runs || !CanMove(in s)) EndTurn(ref s);
        }
    }

    private void Take(ref PartnersFaceDownState s, ulong items)
    {
        int taken = BitOperations.PopCount(items), refilled = Math.Min(taken, (int)s.Stock);
        s.Taken[s.Head.Mover] += (short)taken;
        s.Found[s.Head.Mover]++;
        s.Known &= ~items;
        s.Stock -= (short)refilled;
        for (; items != 0; items &= items - 1)
        {
            int place = BitOperations.TrailingZeroCount(items);
            s.Remain.Remove(s.Places[place]);
            s.Places[place] = PartnersTable.Nothing;
            if (refilled-- <= 0) s.Cards &= ~(1UL << place);
        }
        s.Sure = 0;
        FindHope(ref s);
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private void TurnOver(ref PartnersFaceDownState s, int place)
    {
        if (s.Up == 0) s.First = (byte)place;
        s.Last = (byte)place;
        s.Up |= 1UL << place;
        if ((s.Known >> place & 1) != 0) Turned(ref s);
        else s.Head.Phase = StepKind.Chance;
    }

    /// <summary>A card has been turned over and its number is known.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private void Turned(ref PartnersFaceDownState s)
    {
        s.Head.Phase = StepKind.Choice;
        if (spans) s.Recent = s.Since.See(s.Last, span, places);
        int number = s.Places[s.Last];
        if (TTurning.Runs)
        {
            s.Sum += (short)number;
            Lay(ref s, number);
            return;
        }
        if (s.First == s.Last) return;
        var seat = seats[s.Head.Mover];
        int first = s.Places[s.First];
        if (seat.Same ? first == number : first + number == seat.Target) return;
        s.Shown = s.Up;
        EndTurn(ref s);
    }

    public int Points(in PartnersFaceDownState s, int seat) => table.CountsSets ? s.Found[seat] : s.Taken[seat];

    public int Things(in PartnersFaceDownState s)
    {
        int things = Left(in s);
        for (int seat = 0; seat < Seats; seat++) things += s.Taken[seat];
        return things;
    }

    public bool AimReached(in PartnersFaceDownState s) => s.Cards == 0 && s.Stock == 0;

    public int Left(in PartnersFaceDownState s) => BitOperations.PopCount(s.Cards) + s.Stock;
}
