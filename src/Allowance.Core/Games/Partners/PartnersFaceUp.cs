using System.Numerics;
using System.Runtime.CompilerServices;
using System.Runtime.Intrinsics;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;

namespace Allowance.Core.Games;

/// <summary>The table of Partners with cards face up, all at once or as they are called.</summary>
internal struct PartnersFaceUpState
{
    public Head Head;

    /// <summary>In <c>call</c>: the mover has turned up her card.</summary>
    public bool Called;

    /// <summary>Cards that may still come to the table.</summary>
    public short Stock;

    /// <summary>Places as bits: with a card; to be filled.</summary>
    public ulong Cards, ToFill;

    /// <summary>For sets of any number of cards: those that lie open for the mover, as bits.</summary>
    public Vector128<ulong> Sets;
    /// <summary>By seat, cards that she took, and sets.</summary>
    public EightCounts Taken, Found;
    public SixtyFour Places;
    public OpenCards Open;
    public DrawPile Pile;
}

/// <summary>How cards come to lie face up. A type for each, so that the rules are compiled for each.</summary>
internal interface ILaying
{
    /// <summary>Cards are turned up one by one, until somebody calls; else all places are filled.</summary>
    static abstract bool Calls { get; }

    /// <summary>Whoever says it first takes the cards, whoever turned them up.</summary>
    static virtual bool Races => false;
}

internal readonly struct AllLaid : ILaying
{
    public static bool Calls => false;
}

internal readonly struct UntilCalled : ILaying
{
    public static bool Calls => true;
}

internal readonly struct UntilSaidFirst : ILaying
{
    public static bool Calls => true;

    static bool ILaying.Races => true;
}

/// <summary>Partners face up: <c>spot</c> and <c>call</c>. Numbers go up to 60, so sets of numbers and of places are 64-bit sets.</summary>
internal readonly partial struct PartnersFaceUp<TLaying>(PartnersTable table) : IRules<PartnersFaceUpState> where TLaying : struct, ILaying
{
    private readonly PartnersSeat[] seats = table.Seats;
    private readonly ulong allPlaces = table.AllPlaces;

    private readonly TurnKinds kinds = table.Kinds;
    private readonly bool alike = table.Seats.DistinctBy(s => (s.Target, s.Same, s.Any)).Count() == 1;

    public int Seats => seats.Length;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public ref Head Head(ref PartnersFaceUpState s) => ref s.Head;

    public void Start(ref PartnersFaceUpState s, int first)
    {
        s.Head = Rules.Head.At(first, seats.Length);
        s.Head.Phase = StepKind.Chance;
        s.Called = false;
        s.Stock = (short)(table.Refill ? table.Pack.Length : table.Places);
        s.Cards = 0;
        s.ToFill = TLaying.Calls ? 0 : allPlaces;
        s.Taken = s.Found = default;
        s.Open = default;
        s.Sets = default;
        ((Span<byte>)s.Places).Fill(PartnersTable.Nothing);
        s.Pile.Fill(table.Pack);
        Settle(ref s);
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Draw(ref PartnersFaceUpState s, ref Rng rng) => s.Pile.Draw(ref rng);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Deal(ref PartnersFaceUpState s, int outcome)
    {
        s.Pile.Take((byte)outcome);
        int place = BitOperations.TrailingZeroCount(TLaying.Calls ? ~s.Cards : s.ToFill);
        s.ToFill &= s.ToFill - 1;
        s.Stock--;
        s.Cards |= 1UL << place;
        s.Places[place] = (byte)outcome;
        s.Open.Put(place, outcome);
        s.Called = true;
        if (s.ToFill == 0 || s.Stock == 0) Settle(ref s);
    }

    private static ulong PairsOpen(in PartnersFaceUpState s, PartnersSeat seat) => seat.Pairs(in s.Open.Numbers);

    /// <summary>Whether something lies open for the mover.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private bool CanMove(ref PartnersFaceUpState s)
    {
        var seat = seats[s.Head.Mover];
        if (!seat.Any) return PairsOpen(in s, seat) != 0;
        if (seat.Patterns is not { } patterns) return CardSets.Open(in s.Open.Numbers, seat.Target);
        s.Sets = patterns.Lying(in s.Open.Numbers);
        return s.Sets != Vector128<ulong>.Zero;
    }

    public bool IsBetweenTurns(in PartnersFaceUpState s) => !TLaying.Calls;

    public void Arrange(ref PartnersFaceUpState s, uint before) => Settle(ref s);

    /// <summary>Where somebody joined one who was alone, it becomes a race.</summary>
    public PartnersFaceUpState Adopt(object other) => (PartnersFaceUpState)other;

    private void Settle(ref PartnersFaceUpState s)
    {
        if (s.ToFill != 0 && s.Stock > 0)
        {
            s.Head.Phase = StepKind.Chance;
            return;
        }
        while (TLaying.Calls)
        {
            if (!s.Called && s.Stock > 0 && s.Cards != allPlaces)
            {
                s.Head.Phase = StepKind.Chance;
                return;
            }
            if (!s.Called) break;
            if (CanMove(ref s))
            {
                s.Head.Phase = StepKind.Choice;
                return;
            }
            EndTurn(ref s);
        }
        s.Head.Phase = StepKind.Choice;
        for (int tries = 0; tries < 8; tries++)
        {
            if (CanMove(ref s)) return;
            if (s.Cards == 0) break;
            s.Head.Stuck = true;
            s.Head.NextMover();
        }
        s.Head.Phase = StepKind.Over;
    }

    private static void EndTurn(ref PartnersFaceUpState s)
    {
        s.Head.Turns++;
        s.Head.NextMover();
        s.Called = false;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public Move Plain(in PartnersFaceUpState s, ref Rng rng) => TLaying.Races ? Said(One(in s, ref rng), Seats) : One(in s, ref rng);

    /// <summary>Somebody said it first; where nobody is named, it shows in the course of play.</summary>
    private static Move Said(Move move, int by) => new(move.Items, by, move.First);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private Move One(in PartnersFaceUpState s, ref Rng rng)
    {
        var seat = seats[s.Head.Mover];
        if (seat.Any) return seat.Patterns is { } patterns ? patterns.Draw(in s.Open, s.Sets, ref rng) : CardSets.Draw(in s.Open, seat.Target, ref rng);
        ulong pairs = PairsOpen(in s, seat);
        int pick = rng.Below(2 * BitOperations.PopCount(pairs));
        int low = Bits.Nth(pairs, pick >> 1);
        return Pair(in s, low, seat.Same ? low : seat.Target - low, (pick & 1) == 1);
    }

    /// <summary>The move that takes the first cards with these numbers; <paramref name="highFirst"/>: the larger was seen first.</summary>
    private static Move Pair(in PartnersFaceUpState s, int low, int high, bool highFirst)
    {
        ulong lows = s.Open.At[low], first = lows & (0 - lows);
        ulong highs = high == low ? lows ^ first : s.Open.At[high], second = highs & (0 - highs);
        return new(first | second, -1, BitOperations.TrailingZeroCount(highFirst ? second : first));
    }

    public Move Best(in PartnersFaceUpState s, ref Rng rng)
    {
        var seat = seats[s.Head.Mover];
        var best = seat.Any ? CardSets.Largest(in s.Open, seat.Target) : One(in s, ref rng);
        return TLaying.Races ? Said(best, Seats) : best;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Asks(in PartnersFaceUpState s, Move move, Span<SeatAsk> into)
    {
        if (!TLaying.Races) return Asks(in s, s.Head.Mover, move, into);
        if (move.Pick < Seats) return move.IsPass ? 0 : Asks(in s, move.Pick, move, into);
        int count = 0;
        for (int seat = 0; seat < Seats; seat++)
            if (s.Head.Plays(seat)) count += Asks(in s, seat, move, into[count..]);
        return count;
    }

    private int Asks(in PartnersFaceUpState s, int mover, Move move, Span<SeatAsk> into)
    {
        var seat = seats[mover];
        if (seat.GrownUp || move.IsPass) return 0;
        if (seat.Any)
        {
            Span<byte> numbers = stackalloc byte[Partners.MostPlaces];
            numbers = numbers[..Numbers(in s, move.Items, numbers)];
            // Of more than six cards it hangs on their order, and must not on where they lie.
            numbers.Sort();
            var (together, missing) = seat.AsksOf(numbers);
            int n = 0;
            if (together != default) into[n++] = new(mover, together);
            into[n++] = new(mover, missing);
            return n;
        }
        int first = s.Places[move.First];
        into[0] = new(mover, seat.Same ? seat.Match[first] : seat.Part[first]);
        return 1;
    }

    public int TurnKinds => TLaying.Races ? 0 : kinds.All;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int TurnKind(in PartnersFaceUpState s, Move move)
    {
        if (move.IsPass) return -1;
        var seat = seats[s.Head.Mover];
        return kinds[s.Head.Mover] + (!seat.Any ? s.Places[move.First] : move.Pick >= 0 ? move.Pick : SetOf(in s, seat, move));
    }

    private static int SetOf(in PartnersFaceUpState s, PartnersSeat seat, Move move)
    {
        Span<byte> numbers = stackalloc byte[Partners.MostPlaces];
        return seat.Patterns!.Find(numbers[..Numbers(in s, move.Items, numbers)]);
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public float DealSeconds(in PartnersFaceUpState s) => TLaying.Calls ? Handling.TurnUpFromPile : Handling.DealCard;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public float MoveSeconds(in PartnersFaceUpState s, Move move) => move.Items == 0 ? 0 : seats[s.Head.Mover].Taking;

    public bool Seeking(in PartnersFaceUpState s, Move move) => true;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Apply(ref PartnersFaceUpState s, Move move, Answered answered)
    {
        // Nobody is named in a forecast: the quickest of those who are right.
        int by = !TLaying.Races ? s.Head.Mover : move.Pick < Seats ? move.Pick : answered.Fastest;
        bool found = !move.IsPass && (TLaying.Races ? by >= 0 && (move.Pick == Seats || answered.All) : answered.All);
        if (found) Take(ref s, by, move.Items);
        EndTurn(ref s);
        // What one missed lies there for another who looks for the same.
        if (found || TLaying.Calls || !alike) Settle(ref s);
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static void Take(ref PartnersFaceUpState s, int by, ulong items)
    {
        s.Taken[by] += (short)BitOperations.PopCount(items);
        s.Found[by]++;
        s.Cards &= ~items;
        if (!TLaying.Calls) s.ToFill |= items;
        for (; items != 0; items &= items - 1)
        {
            int place = BitOperations.TrailingZeroCount(items);
            s.Open.Lift(place, s.Places[place]);
            s.Places[place] = PartnersTable.Nothing;
        }
    }

    public int Points(in PartnersFaceUpState s, int seat) => table.CountsSets ? s.Found[seat] : s.Taken[seat];

    public int Things(in PartnersFaceUpState s)
    {
        int things = Left(in s);
        for (int seat = 0; seat < Seats; seat++) things += s.Taken[seat];
        return things;
    }

    public bool AimReached(in PartnersFaceUpState s) => s.Cards == 0 && s.Stock == 0;

    public int Left(in PartnersFaceUpState s) => BitOperations.PopCount(s.Cards) + s.Stock;
}
