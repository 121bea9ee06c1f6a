using System.Numerics;
using Allowance.Core.Forms;
using Allowance.Core.Rules;
using Allowance.Core.Tables;

namespace Allowance.Core.Games;

/// <summary>The same rules for people at a table.</summary>
internal readonly partial struct LookalikesRules<TLying>
{
    public IReadOnlyList<Possible> Possibilities(in LookalikesState s)
    {
        var cards = TLying.TwoBacks && (s.Last & 1) == 1 ? s.Second.Cards : s.Pile.Cards;
        return [.. cards.Order().Select(Possible)];
    }

    private Possible Possible(byte card) => new(card, 1, table.Label(card));

    public bool IsLegal(in LookalikesState s, Move move)
    {
        if (s.Head.Phase != StepKind.Choice) return false;
        if (TLying.Down)
        {
            if (TwoLie(in s)) return move.Pick < 0 && move.Items == s.Up;
            if (move.IsPass) return s.Up == 0;
            if (move.Items != 0) return s.Up == 0 && move.First is >= 0 and < 64 && (s.Matched & s.Cards & 1UL << move.First) != 0 && move == Pair(in s, move.First);
            return move.Pick is >= 0 and < 64 && (Turnable(in s) >> move.Pick & 1) != 0;
        }
        if (move.IsPass) return true;
        return move.Pick < 0 && move.First is >= 0 and < 64 && (s.Cards >> move.First & 1) != 0 && move.Items == Pair(in s, move.First).Items;
    }

    public IReadOnlyList<Move> Moves(in LookalikesState s)
    {
        var state = s;
        if (s.Head.Phase != StepKind.Choice) return [];
        if (!TLying.Down) return [.. Set(s.Cards).Where(i => (state.Places[i] & 1) == 0).Select(i => Pair(in state, i))];
        return TwoLie(in s) ? [new(s.Up, -1, s.First)] : [.. Set(Turnable(in s)).Select(i => new Move(0, i))];
    }

    private static IEnumerable<int> Set(ulong bits) => Enumerable.Range(0, 64).Where(i => (bits >> i & 1) != 0);

    /// <summary>Two that are not the same number need not say how they show it.</summary>
    private string NotTogether(int one, int other) =>
        table.NumberOf(one) == table.NumberOf(other) ? $"{table.Label(one)} and {table.Label(other)}" : $"{table.NumberOf(one)} and {table.NumberOf(other)}";

    public Tapped Read(in LookalikesState s, IReadOnlyList<int> items)
    {
        if (items.Count == 0) return Tapped.NeedsMore;
        ulong cards = s.Cards;
        if (items.Any(i => i is < 0 or > 63 || (cards >> i & 1) == 0)) return Tapped.No("There is no card at that place.");
        if (TLying.Down)
        {
            var pick = TwoLie(in s) ? new Move(s.Up, -1, s.First) : new Move(0, items[0]);
            return IsLegal(in s, pick) ? Tapped.As(pick) : Tapped.No(s.Up >> items[0] % 64 is var up && (up & 1) != 0 ? "That card is turned already." : "Turn one with the other back.");
        }
        if (items.Count < 2) return Tapped.NeedsMore;
        var move = new Move(items.Aggregate(0UL, (bits, i) => bits | 1UL << i), -1, items[0]);
        return IsLegal(in s, move) ? Tapped.As(move) : Tapped.No($"{NotTogether(s.Places[items[0]], s.Places[items[1]])} do not go together. Look again together.");
    }

    public IReadOnlyList<Zone> Zones(in LookalikesState s) =>
        [new CardGrid("Cards on the table", Columns(2 * pairs), Laid(in s, s.Head.Phase == StepKind.Choice)) { Wide = CardGrid.AreWide(table.FormA, table.FormB), TwoBacks = TLying.TwoBacks }];

    private List<Item> Laid(in LookalikesState s, bool choosing)
    {
        bool two = TLying.Down && BitOperations.PopCount(s.Up) == 2;
        ulong legal = two ? s.Up : TLying.Down ? Turnable(in s) : s.Cards, open = s.Cards & s.Known & (TLying.Down ? s.Up | s.Shown : ulong.MaxValue);
        var laid = new List<Item>();
        for (int i = 0; i < 2 * pairs; i++)
        {
            bool there = (s.Cards >> i & 1) != 0, up = (open >> i & 1) != 0;
            var back = !TLying.TwoBacks ? Form.None : (i & 1) == 0 ? table.FormA : table.FormB;
            laid.Add(new(i, up ? table.NumberOf(s.Places[i]) : -1, up ? table.FormOf(s.Places[i]) : back, !there ? ItemState.Gone : up ? ItemState.Up : ItemState.Down, choosing && there && (legal >> i & 1) != 0));
        }
        return laid;
    }

    /// <summary>As near to a square as can be, rather wide than high.</summary>
    private static int Columns(int cards)
    {
        int columns = (int)Math.Ceiling(Math.Sqrt(cards));
        while (cards % columns != 0 && columns < cards && columns < 10) columns++;
        return Math.Min(10, columns);
    }

    public string Says(in LookalikesState s) => (s.Head.Phase, table.Relation) switch
    {
        (StepKind.Over, _) => "All pairs are found.",
        (StepKind.Chance, _) => TLying.Down ? "Turn up a card." : "Lay out the cards.",
        _ when TLying.Down => BitOperations.PopCount(s.Up) switch { 0 => "Turn two cards.", 1 => "Turn one more.", _ => "A pair: keep it." },
        (_, Lookalikes.Partner) => $"Find two that make {table.Target}.",
        (_, Lookalikes.Plus) => $"Find a card and {table.Plus} more.",
        _ => "Find two that show the same.",
    };

    public string Tells(in LookalikesState before, Move move, bool found)
    {
        if (move.IsPass) return "found nothing this time";
        if (move.Items == 0) return before.Places[move.Pick] is not Nothing and var known ? $"turned {table.Label(known)}, which was seen before" : "turned a card";
        int first = before.Places[move.First];
        return $"{(found ? "took" : "passed by")} {table.Label(first)} and {table.Label(first ^ 1)}";
    }
}
