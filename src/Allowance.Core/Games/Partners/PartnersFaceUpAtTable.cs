using System.Numerics;
using Allowance.Core.Forms;
using Allowance.Core.Materials;
using Allowance.Core.Rules;
using Allowance.Core.Tables;

namespace Allowance.Core.Games;

/// <summary>The same rules for people at a table.</summary>
internal readonly partial struct PartnersFaceUp<TLaying>
{
    public IReadOnlyList<Possible> Possibilities(in PartnersFaceUpState s) => s.Pile.Possibilities;

    public bool IsLegal(in PartnersFaceUpState s, Move move)
    {
        if (s.Head.Phase != StepKind.Choice) return false;
        if (move.IsPass) return true;
        if ((move.Items & ~s.Cards) != 0 || TLaying.Races && !(move.Pick == Seats || move.Pick is >= 0 and < Engine.MostSeats && s.Head.Plays(move.Pick))) return false;
        var seat = seats[s.Head.Mover];
        var numbers = Numbers(in s, move.Items);
        if (seat.Any) return numbers.Count >= 2 && numbers.Sum() == seat.Target;
        return numbers.Count == 2 && move.First is >= 0 and < 64 && (move.Items >> move.First & 1) != 0
            && (seat.Same ? numbers[0] == numbers[1] : numbers[0] + numbers[1] == seat.Target);
    }

    public IReadOnlyList<Move> Moves(in PartnersFaceUpState s)
    {
        if (s.Head.Phase != StepKind.Choice) return [];
        if (!TLaying.Races) return Sets(in s);
        var here = Here(in s).ToList();
        return [.. Sets(in s).SelectMany(set => here.Select(seat => Said(set, seat)))];
    }

    private IEnumerable<int> Here(in PartnersFaceUpState s)
    {
        var head = s.Head;
        return Enumerable.Range(0, Seats).Where(head.Plays);
    }

    private IReadOnlyList<Move> Sets(in PartnersFaceUpState s)
    {
        var seat = seats[s.Head.Mover];
        if (seat.Any) return CardSets.All(in s.Open, seat.Target);
        var moves = new List<Move>();
        for (ulong pairs = PairsOpen(in s, seat); pairs != 0; pairs &= pairs - 1)
        {
            int low = BitOperations.TrailingZeroCount(pairs);
            moves.Add(Pair(in s, low, seat.Same ? low : seat.Target - low, false));
        }
        return moves;
    }

    private static int Numbers(in PartnersFaceUpState s, ulong items, Span<byte> into)
    {
        int n = 0;
        for (; items != 0; items &= items - 1) into[n++] = s.Places[BitOperations.TrailingZeroCount(items)];
        return n;
    }

    private static List<int> Numbers(in PartnersFaceUpState s, ulong items)
    {
        Span<byte> numbers = stackalloc byte[Partners.MostPlaces];
        return [.. numbers[..Numbers(in s, items, numbers)].ToArray()];
    }

    public Tapped Read(in PartnersFaceUpState s, IReadOnlyList<int> items)
    {
        // The cards, and in a race who said it first.
        var keys = items.Where(i => TLaying.Races && i >= FirstKey).ToList();
        if (keys.Count > 0) items = [.. items.Except(keys)];
        if (items.Count == 0) return Tapped.NeedsMore;
        ulong cards = s.Cards;
        int places = table.Places;
        if (items.Any(i => i < 0 || i >= places || (cards >> i & 1) == 0)) return Tapped.No("There is no card at that place.");
        ulong set = items.Aggregate(0UL, (bits, i) => bits | 1UL << i);
        var move = new Move(set, !TLaying.Races ? -1 : keys.Count > 0 ? keys[^1] - FirstKey : Seats, items[0]);
        if (IsLegal(in s, move)) return TLaying.Races && keys.Count == 0 ? Tapped.NeedsMore : Tapped.As(move);
        var seat = seats[s.Head.Mover];
        var numbers = Numbers(in s, set);
        int sum = numbers.Sum();
        if (numbers.Count < 2 || seat.Any && sum < seat.Target) return Tapped.NeedsMore;
        return seat.Same
            ? Tapped.No($"{numbers[0]} and {numbers[1]} are not the same. Look again together.")
            : Tapped.No($"{Words.List(numbers.Select(n => n.ToString()))} make {sum}, not {seat.Target}. Look again together.");
    }

    public IReadOnlyList<Zone> Zones(in PartnersFaceUpState s)
    {
        var state = s;
        var form = table.Form;
        bool choosing = s.Head.Phase == StepKind.Choice;
        var zones = table.Zones(Enumerable.Range(0, table.Places).Select(i =>
        {
            bool card = (state.Cards >> i & 1) != 0;
            return new Item(i, card ? state.Places[i] : -1, form, card ? ItemState.Up : ItemState.Gone, choosing && card);
        }), s.Stock);
        return !TLaying.Races || !choosing ? zones : [.. zones, ChoiceKeys.WhoWasFirst(Here(in s), FirstKey)];
    }

    /// <summary>Items that are no cards: who said it first.</summary>
    private const int FirstKey = 100;

    public string Says(in PartnersFaceUpState s)
    {
        var seat = seats[s.Head.Mover];
        if (s.Head.Phase == StepKind.Over) return AimReached(in s) ? "All cards are taken." : "Nothing goes any more.";
        if (s.Head.Phase == StepKind.Chance) return TLaying.Calls ? "Turn up a card." : s.Head.Turns == 0 ? "Lay out the cards." : "Lay new cards in the gaps.";
        if (TLaying.Races) return seat.Same ? "Who sees two that are the same?" : seat.Any ? $"Who sees cards that make {seat.Target}?" : $"Who sees two that make {seat.Target}?";
        return seat.Same ? "Find two that are the same." : seat.Any ? $"Find cards that make {seat.Target}." : $"Find two that make {seat.Target}.";
    }

    public string Tells(in PartnersFaceUpState before, Move move, bool found)
    {
        if (move.IsPass) return "found nothing this time";
        string cards = Words.List(Numbers(in before, move.Items).Select(n => n.ToString()));
        return found ? $"took {cards}" : $"passed by {cards}";
    }
}
