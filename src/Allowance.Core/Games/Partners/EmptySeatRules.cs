using System.Numerics;
using System.Runtime.CompilerServices;
using Allowance.Core.Asks;
using Allowance.Core.Forecasts;
using Allowance.Core.Forms;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Tables;

namespace Allowance.Core.Games;

internal struct EmptySeatState
{
    public Head Head;

    /// <summary>All is dealt and gathered: the missing cards are named.</summary>
    public bool Reads;

    /// <summary>Places as bits: with an open card; to be covered with the next cards.</summary>
    public ulong Cards, ToCover;
    public EightCounts Covered;
    public SixtyFour Places;
    public OpenCards Open;

    /// <summary>The cards nobody has seen; those that were taken out are the last of them.</summary>
    public DrawPile Pile;
}

/// <summary>The rules of Empty Seats: cards are dealt one by one, and the mover covers what goes together.</summary>
internal readonly struct EmptySeatRules(SeatTable table) : IRules<EmptySeatState>
{
    private const ulong CourtBits = 7UL << SeatFacts.Jack;

    public int Seats => table.Seats;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public ref Head Head(ref EmptySeatState s) => ref s.Head;

    public void Start(ref EmptySeatState s, int first)
    {
        s = default;
        s.Head = Rules.Head.At(first, Seats);
        ((Span<byte>)s.Places).Fill(PartnersTable.Nothing);
        s.Pile.Fill(table.Pack);
    }

    private int ToDeal(in EmptySeatState s) => s.Pile.Count - table.Removed;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Draw(ref EmptySeatState s, ref Rng rng) => s.Pile.Draw(ref rng);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Deal(ref EmptySeatState s, int outcome)
    {
        s.Pile.Take((byte)outcome);
        int place = BitOperations.TrailingZeroCount(s.ToCover != 0 ? s.ToCover : ~s.Cards);
        s.ToCover &= ~(1UL << place);
        s.Cards |= 1UL << place;
        s.Places[place] = (byte)outcome;
        s.Open.Put(place, outcome);
        Settle(ref s);
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private void Settle(ref EmptySeatState s)
    {
        if (ToDeal(in s) <= 0) s.ToCover = 0;
        s.Head.Phase = s.ToCover == 0 && Kinds(in s) != 0 ? StepKind.Choice : StepKind.Chance;
        if (ToDeal(in s) > 0 || s.Head.Phase == StepKind.Choice) return;
        s.Reads = true;
        s.Head.Phase = StepKind.Choice;
    }

    /// <summary>What goes together now: the smaller number of each pair, the target for a card by itself, the jack for three court cards, as bits.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private ulong Kinds(in EmptySeatState s)
    {
        ref readonly var bag = ref s.Open.Numbers;
        ulong half = table.Target % 2 == 0 ? 1UL << table.Target / 2 : 0;
        ulong court = table.Court[0] + table.Court[1] + table.Court[2] > 0 && (bag.Present & CourtBits) == CourtBits ? 1UL << SeatFacts.Jack : 0;
        return bag.Present & bag.Mirror >> (63 - table.Target) & table.LowHalf | bag.Twice & half | bag.Present & 1UL << table.Target | court;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public Move Plain(in EmptySeatState s, ref Rng rng)
    {
        if (s.Reads) return Named;
        ulong kinds = Kinds(in s);
        return Covering(in s, Bits.Nth(kinds, rng.Below(BitOperations.PopCount(kinds))), (rng.Next() & 1) == 0);
    }

    public Move Best(in EmptySeatState s, ref Rng rng) => Plain(in s, ref rng);

    private static Move Named => new(0, 0);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private Move Covering(in EmptySeatState s, int low, bool lowFirst)
    {
        ulong first = s.Open.Lowest(low, 1);
        if (low == table.Target) return new(first, -1, BitOperations.TrailingZeroCount(first));
        if (low == SeatFacts.Jack) return new(first | s.Open.Lowest(SeatFacts.Queen, 1) | s.Open.Lowest(SeatFacts.King, 1), -1, BitOperations.TrailingZeroCount(first));
        int high = table.Target - low;
        ulong second = high == low ? s.Open.Lowest(low, 2) & ~first : s.Open.Lowest(high, 1);
        return new(first | second, -1, BitOperations.TrailingZeroCount(lowFirst ? first : second));
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Asks(in EmptySeatState s, Move move, Span<SeatAsk> into)
    {
        int seat = s.Head.Mover, count = 0;
        if (table.GrownUp[seat]) return 0;
        if (s.Reads)
        {
            // What lies open in the end is one half of what is missing.
            for (ulong rest = s.Open.Numbers.Present & table.Missing; rest != 0 && count < Engine.MostAsksEach; rest &= rest - 1) into[count++] = new(seat, table.Asks[seat][BitOperations.TrailingZeroCount(rest)]);
            return count;
        }
        int first = s.Places[move.First];
        if (first >= table.Target) return 0;
        into[0] = new(seat, table.Asks[seat][first]);
        return 1;
    }

    public int TurnKinds => 0;

    public int TurnKind(in EmptySeatState s, Move move) => 0;

    public float DealSeconds(in EmptySeatState s) => Handling.TurnUpFromPile;

    public float MoveSeconds(in EmptySeatState s, Move move) => 0;

    public bool Seeking(in EmptySeatState s, Move move) => false;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Apply(ref EmptySeatState s, Move move, Answered answered)
    {
        s.Head.Turns++;
        if (s.Reads)
        {
            s.Head.Phase = StepKind.Over;
            return;
        }
        s.Covered[s.Head.Mover] += (short)BitOperations.PopCount(move.Items);
        s.Cards &= ~move.Items;
        s.ToCover = move.Items;
        for (ulong items = move.Items; items != 0; items &= items - 1)
        {
            int place = BitOperations.TrailingZeroCount(items);
            s.Open.Lift(place, s.Places[place]);
            s.Places[place] = PartnersTable.Nothing;
        }
        s.Head.NextMover();
        Settle(ref s);
    }

    public void Arrange(ref EmptySeatState s, uint before)
    {
        if (!s.Reads) Settle(ref s);
    }

    public bool IsBetweenTurns(in EmptySeatState s) => true;

    public int Points(in EmptySeatState s, int seat) => s.Covered[seat];

    /// <summary>What was taken out is settled by what lies open: there is one way only in which so many cards are missing.</summary>
    public bool AimReached(in EmptySeatState s) => s.Reads && table.Facts.Settles(s.Open.Numbers.Counts);

    public int Left(in EmptySeatState s) => BitOperations.PopCount(s.Cards) + s.Pile.Count;

    public int Things(in EmptySeatState s)
    {
        int things = Left(in s);
        for (int seat = 0; seat < Seats; seat++) things += s.Covered[seat];
        return things;
    }

    public IReadOnlyList<Possible> Possibilities(in EmptySeatState s) => [.. s.Pile.Possibilities.Select(p => p with { Label = EmptySeat.Named(p.Outcome) })];

    public bool IsLegal(in EmptySeatState s, Move move)
    {
        if (s.Head.Phase != StepKind.Choice) return false;
        if (s.Reads || move == Named) return s.Reads && move == Named;
        if (move.Items == 0 || (move.Items & ~s.Cards) != 0 || move.First is < 0 or > 63 || (move.Items >> move.First & 1) == 0) return false;
        int sum = 0, count = 0, court = 0;
        for (ulong items = move.Items; items != 0; items &= items - 1, count++)
        {
            int number = s.Places[BitOperations.TrailingZeroCount(items)];
            if (number >= SeatFacts.Jack) court |= 1 << number - SeatFacts.Jack;
            // A card worth nothing goes with nothing.
            else sum += number == 0 ? 1000 : number;
        }
        return court != 0 ? court == 7 && count == 3 && sum == 0 : sum == table.Target && count <= 2;
    }

    public IReadOnlyList<Move> Moves(in EmptySeatState s)
    {
        if (s.Head.Phase != StepKind.Choice) return [];
        if (s.Reads) return [Named];
        var moves = new List<Move>();
        for (ulong kinds = Kinds(in s); kinds != 0; kinds &= kinds - 1) moves.Add(Covering(in s, BitOperations.TrailingZeroCount(kinds), lowFirst: false));
        return moves;
    }

    /// <summary>What may be covered; in the end, which cards are missing and why.</summary>
    public IReadOnlyList<string> Helps(in EmptySeatState s)
    {
        if (s.Head.Phase == StepKind.Chance || !s.Reads) return s.Head.Phase == StepKind.Choice ? TellAll(in s) : [];
        var open = new List<int>();
        for (int place = 0; place < 64; place++)
            if ((s.Cards >> place & 1) != 0) open.Add(s.Places[place]);
        var (missing, target) = (table.Missing, table.Target);
        var why = open.Where(o => (missing >> o & 1) != 0).GroupBy(o => o).OrderBy(g => g.Key).Select(g => g.Count() == 1 ? $"{Words.A(g.Key)} lies open, so {Words.A(target - g.Key)} is missing" : $"{g.Count()} cards with {g.Key} lie open, so {g.Count()} with {target - g.Key} are missing").ToList();
        return table.Facts.Readings(open) is [var only] ? [$"missing: {Words.List(only.Select(EmptySeat.Named))}", .. why] : [.. why, "the others cannot be told for certain"];
    }

    private List<string> TellAll(in EmptySeatState s)
    {
        var told = new List<string>();
        foreach (var move in Moves(in s))
            if (Cards(in s, move) is var cards && !told.Contains(cards)) told.Add(cards);
        return told;
    }

    private static string Cards(in EmptySeatState s, Move move)
    {
        var numbers = new List<int>();
        for (ulong items = move.Items; items != 0; items &= items - 1) numbers.Add(s.Places[BitOperations.TrailingZeroCount(items)]);
        return Words.List(numbers.Order().Select(EmptySeat.Named));
    }

    public Tapped Read(in EmptySeatState s, IReadOnlyList<int> items)
    {
        if (items.Count == 0 || s.Reads) return Tapped.NeedsMore;
        ulong cards = s.Cards, set = 0;
        foreach (int item in items)
        {
            if (item is < 0 or > 63 || (cards >> item & 1) == 0) return Tapped.No("There is no card at that place.");
            set |= 1UL << item;
        }
        var move = new Move(set, -1, items[0]);
        if (IsLegal(in s, move)) return Tapped.As(move);
        var tapped = Numbers(in s, set);
        foreach (var goes in Moves(in s))
            if (!tapped.Except(Numbers(in s, goes.Items)).Any() && items.Count < BitOperations.PopCount(goes.Items)) return Tapped.NeedsMore;
        return Tapped.No(items.Count == 1 ? $"Nothing that lies there goes with {Cards(in s, move)}. Look again together." : $"{Cards(in s, move)} do not make {table.Target}. Look again together.");
    }

    private static List<int> Numbers(in EmptySeatState s, ulong items)
    {
        var numbers = new List<int>();
        for (; items != 0; items &= items - 1) numbers.Add(s.Places[BitOperations.TrailingZeroCount(items)]);
        return numbers;
    }

    public IReadOnlyList<Zone> Zones(in EmptySeatState s)
    {
        var (state, form, choosing) = (s, table.Form, s.Head.Phase == StepKind.Choice && !s.Reads);
        ulong shown = s.Cards | s.ToCover;
        int places = Math.Max(4, 64 - BitOperations.LeadingZeroCount(shown)), columns = Math.Clamp((int)Math.Ceiling(Math.Sqrt(2 * places)), 4, 9);
        var zones = new List<Zone>
        {
            new CardGrid("Cards on the table", columns, [.. Enumerable.Range(0, places).Select(i => (state.Cards >> i & 1) == 0
                ? new Item(i, -1, form, (state.ToCover >> i & 1) != 0 ? ItemState.Down : ItemState.Gone, false)
                : CardOf(i, state.Places[i], form, choosing))]) { Wide = CardGrid.AreWide(form) },
        };
        if (ToDeal(in s) > 0) zones.Add(new Pile("Cards to come", ToDeal(in s)));
        else if (s.Head.Phase == StepKind.Over) zones.Add(new CardGrid("Taken out", Math.Min(4, (int)s.Pile.Count), [.. s.Pile.Cards.Select((card, i) => CardOf(64 + i, card, form, false))]) { Wide = CardGrid.AreWide(form), Caption = "taken out" });
        return zones;
    }

    private static Item CardOf(int id, byte card, Form form, bool canTap) =>
        card >= SeatFacts.Jack ? new(id, card, Form.None, ItemState.Up, canTap) { Words = EmptySeat.Named(card) } : new(id, card, form, ItemState.Up, canTap);

    public string Says(in EmptySeatState s) => s.Head.Phase switch
    {
        StepKind.Over => AimReached(in s) ? "That is who was missing." : "Look at the cards that were taken out.",
        StepKind.Chance => s.ToCover != 0 ? "Cover them with the next cards." : "Deal a card.",
        _ => s.Reads ? "What is missing? What lies open tells it." : $"Which make {table.Target}? Cover them.",
    };

    public string Tells(in EmptySeatState before, Move move, bool found) => before.Reads ? "named the missing cards" : $"covered {Cards(in before, move)}";
}
