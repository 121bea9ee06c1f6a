using System.Numerics;
using System.Runtime.CompilerServices;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;

namespace Allowance.Core.Games;

internal struct LookalikesState
{
    public Head Head;

    /// <summary>Places turned in this turn, the first and the last.</summary>
    public byte First, Last;

    /// <summary>Places as bits: with a card; whose card has been seen; turned in this turn; shown from the last turn.</summary>
    public ulong Cards, Known, Up, Shown;

    /// <summary>Places whose card and its mate have both been seen.</summary>
    public ulong Matched;
    public EightCounts Taken;

    /// <summary>The card at each place that was seen, and the place of each card.</summary>
    public SixtyFour Places, At;

    public SeenLast Since;

    /// <summary>The places whose cards were seen last, where all players remember as many.</summary>
    public ulong Recent;

    /// <summary>The cards nobody has seen; with two backs those of the first form, and those of the second.</summary>
    public DrawPile Pile, Second;
}

/// <summary>How the cards lie. A type for each way, so that the rules are compiled for each.</summary>
internal interface ILying
{
    /// <summary>Face down.</summary>
    static virtual bool Down => false;

    /// <summary>Face down with a back for each form.</summary>
    static virtual bool TwoBacks => false;
}

internal readonly struct AllOpen : ILying;

internal readonly struct FromMemory : ILying
{
    static bool ILying.Down => true;
}

internal readonly struct FromMemoryByForm : ILying
{
    static bool ILying.Down => true;

    static bool ILying.TwoBacks => true;
}

/// <summary>The rules of Lookalikes. Of two backs, the first form lies at the even places.</summary>
internal readonly partial struct LookalikesRules<TLying>(LookalikesTable table) : IRules<LookalikesState> where TLying : struct, ILying
{
    private const byte Nothing = 255;
    private const ulong EvenPlaces = 0x5555_5555_5555_5555;

    private readonly LookalikesSeat[] seats = table.Seats;
    private readonly bool again = table.Again;
    private readonly int pairs = table.Numbers.Count;
    private readonly bool spans = table.Seats.Any(s => s.Spans);

    private readonly int span = table.Span;

    public int Seats => seats.Length;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public ref Head Head(ref LookalikesState s) => ref s.Head;

    public void Start(ref LookalikesState s, int first)
    {
        // The piles are as good as empty without being cleared.
        s.Head = Rules.Head.At(first, seats.Length);
        s.First = s.Last = 0;
        s.Known = s.Up = s.Shown = s.Matched = 0;
        s.Since.Clear();
        s.Taken = default;
        ((Span<byte>)s.Places).Fill(Nothing);
        ((Span<byte>)s.At).Fill(Nothing);
        s.Cards = ulong.MaxValue >> (64 - 2 * pairs);
        if (TLying.TwoBacks)
        {
            s.Pile.Fill(table.FirstForm);
            s.Second.Fill(table.SecondForm);
        }
        else s.Pile.Fill(table.Cards);
        s.Head.Phase = TLying.Down ? StepKind.Choice : StepKind.Chance;
        s.Recent = Latest(in s, span);
        EndWhereNothingIsLeft(ref s);
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Draw(ref LookalikesState s, ref Rng rng) => TLying.TwoBacks && (s.Last & 1) == 1 ? s.Second.Draw(ref rng) : s.Pile.Draw(ref rng);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Deal(ref LookalikesState s, int outcome)
    {
        if (TLying.TwoBacks && (s.Last & 1) == 1) s.Second.Take((byte)outcome);
        else s.Pile.Take((byte)outcome);
        int place = TLying.Down ? s.Last : BitOperations.TrailingZeroCount(~s.Known);
        s.Places[place] = (byte)outcome;
        s.At[outcome] = (byte)place;
        s.Known |= 1UL << place;
        int mate = s.At[outcome ^ 1];
        s.Matched |= (1UL << place | 1UL << mate) & (0 - Bits.If(mate != Nothing));
        if (TLying.Down) Turned(ref s);
        else if (s.Pile.Count == 0) s.Head.Phase = StepKind.Choice;
    }

    public bool IsBetweenTurns(in LookalikesState s) => s.Up == 0;

    public void Arrange(ref LookalikesState s, uint before)
    {
        s.Recent = Latest(in s, span);
        if (!TLying.Down) return;
        s.Up = 0;
        s.Head.Phase = StepKind.Choice;
    }

    private static void EndWhereNothingIsLeft(ref LookalikesState s)
    {
        if (s.Cards == 0) s.Head.Phase = StepKind.Over;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public Move Plain(in LookalikesState s, ref Rng rng)
    {
        if (!TLying.Down) return FromOpen(in s, ref rng);
        if (TwoLie(in s)) return new(s.Up, -1, s.First);
        if (span > 0) return Turn(in s, s.Recent, ref rng);
        int memory = seats[s.Head.Mover].Memory;
        return Turn(in s, memory == MemoryValue.Nothing ? 0 : memory == MemoryValue.Everything ? s.Known : Latest(in s, memory), ref rng);
    }

    /// <summary>What is remembered is no choice: she turns by it as ever, and a pair she knows card by card, as at the table.</summary>
    public Move Best(in LookalikesState s, ref Rng rng)
    {
        var move = Plain(in s, ref rng);
        return !TLying.Down || s.Up != 0 || move.Items == 0 ? move : new(0, move.First);
    }

    /// <summary>Two cards lie open that go together: they are taken.</summary>
    private static bool TwoLie(in LookalikesState s) => (s.Up & s.Up - 1) != 0;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static Move FromOpen(in LookalikesState s, ref Rng rng)
    {
        int first = Bits.Nth(s.Cards, rng.Below(BitOperations.PopCount(s.Cards)));
        return Pair(in s, first);
    }

    private static Move Pair(in LookalikesState s, int place) => new(1UL << place | 1UL << s.At[s.Places[place] ^ 1], -1, place);

    private ulong Latest(in LookalikesState s, int span) => s.Since.Latest(span, 2 * pairs);

    /// <summary>
    /// Turns by what is remembered: a known pair first, both cards at once; else an unknown card, then its known mate, else
    /// another unknown one. Of two backs the first form is turned first while it has unknown cards.
    /// </summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static Move Turn(in LookalikesState s, ulong remembered, ref Rng rng)
    {
        remembered &= s.Cards;
        if (s.Up != 0)
        {
            int mate = s.At[s.Places[s.First] ^ 1];
            if (mate != Nothing && (remembered >> mate & 1) != 0) return new(0, mate);
        }
        else
        {
            // The last one is alone, or its pair was found before.
            for (ulong matched = remembered & s.Matched; (matched & matched - 1) != 0; matched &= matched - 1)
            {
                int place = BitOperations.TrailingZeroCount(matched);
                if ((remembered >> s.At[s.Places[place] ^ 1] & 1) != 0) return Pair(in s, place);
            }
        }
        ulong legal = Turnable(in s), unknown = legal & ~remembered;
        if (TLying.TwoBacks && s.Up == 0 && (unknown & EvenPlaces) != 0) unknown &= EvenPlaces;
        ulong from = unknown != 0 ? unknown : legal;
        return new(0, Bits.Nth(from, rng.Below(BitOperations.PopCount(from))));
    }

    /// <summary>The places that may be turned next: with two backs the second card is one of the other form.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static ulong Turnable(in LookalikesState s)
    {
        ulong legal = s.Cards & ~s.Up;
        return TLying.TwoBacks && s.Up != 0 ? legal & ((s.First & 1) == 0 ? ~EvenPlaces : EvenPlaces) : legal;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Asks(in LookalikesState s, Move move, Span<SeatAsk> into)
    {
        var seat = seats[s.Head.Mover];
        if (seat.GrownUp || move.Items == 0) return 0;
        into[0] = new(s.Head.Mover, seat.Asks[s.Places[move.First]]);
        return 1;
    }

    /// <summary>A turn is told by the card that was seen first.</summary>
    public int TurnKinds => seats.Length * 2 * pairs;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int TurnKind(in LookalikesState s, Move move) =>
        move.Items == 0 ? -1 : s.Head.Mover * 2 * pairs + s.Places[move.First];

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public float DealSeconds(in LookalikesState s) => TLying.Down ? 0 : Handling.DealCard;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public float MoveSeconds(in LookalikesState s, Move move) => !TLying.Down ? move.Items == 0 ? 0 : Handling.TakeOpenPair
        // Every card is turned, also one that was seen before, and what does not go together is turned back. First of all they are laid out.
        : move.Pick >= 0 ? Handling.TurnCard + (s.Up == 0 ? s.Known == 0 ? 2 * pairs * Handling.DealCard : 0 : Handling.LayBackTwo)
        : s.Up == 0 ? 2 * Handling.TurnCard + Handling.TakePair : Handling.TakePair;

    public bool Seeking(in LookalikesState s, Move move) => true;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Apply(ref LookalikesState s, Move move, Answered answered)
    {
        s.Shown = 0;
        if (move.Pick >= 0)
        {
            TurnOver(ref s, move.Pick);
            return;
        }
        if (TLying.Down && move.Items != 0 && s.Up == 0)
        {
            // She knows both, and turns one after the other.
            s.Up = move.Items;
            (s.First, s.Last) = ((byte)move.First, s.At[s.Places[move.First] ^ 1]);
            if (spans)
            {
                Remember(ref s, s.First);
                Remember(ref s, s.Last);
            }
        }
        if (move.IsPass || !answered.All)
        {
            s.Shown = s.Up;
            EndTurn(ref s);
            return;
        }
        s.Taken[s.Head.Mover] += 2;
        s.Cards &= ~move.Items;
        s.Known &= ~move.Items;
        if (TLying.Down && again && s.Cards != 0) s.Up = 0;
        else EndTurn(ref s);
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static void EndTurn(ref LookalikesState s)
    {
        s.Head.Turns++;
        s.Head.NextMover();
        s.Up = 0;
        EndWhereNothingIsLeft(ref s);
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private void TurnOver(ref LookalikesState s, int place)
    {
        if (s.Up == 0) s.First = (byte)place;
        s.Last = (byte)place;
        s.Up |= 1UL << place;
        if ((s.Known >> place & 1) != 0) Turned(ref s);
        else s.Head.Phase = StepKind.Chance;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private void Turned(ref LookalikesState s)
    {
        s.Head.Phase = StepKind.Choice;
        if (spans) Remember(ref s, s.Last);
        if (s.First == s.Last || s.Places[s.First] == (s.Places[s.Last] ^ 1)) return;
        s.Shown = s.Up;
        EndTurn(ref s);
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private void Remember(ref LookalikesState s, byte place) => s.Recent = s.Since.See(place, span, 2 * pairs);

    public int Points(in LookalikesState s, int seat) => s.Taken[seat];

    public bool AimReached(in LookalikesState s) => s.Cards == 0;

    public int Left(in LookalikesState s) => BitOperations.PopCount(s.Cards);
}
