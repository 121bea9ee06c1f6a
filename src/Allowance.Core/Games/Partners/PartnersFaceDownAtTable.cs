using System.Numerics;
using Allowance.Core.Materials;
using Allowance.Core.Rules;
using Allowance.Core.Tables;

namespace Allowance.Core.Games;

/// <summary>The same rules for people at a table.</summary>
internal readonly partial struct PartnersFaceDown<TTurning>
{
    public IReadOnlyList<Possible> Possibilities(in PartnersFaceDownState s) => s.Pile.Possibilities;

    public bool IsLegal(in PartnersFaceDownState s, Move move)
    {
        if (s.Head.Phase != StepKind.Choice) return false;
        if (Forced(in s)) return move.Items == s.Up && move.Pick < 0;
        if (move.Items != 0) return s.Up == 0 && !TTurning.Runs && IsKnownPair(in s, move);
        return move.IsPass && s.Up == 0 || move.Items == 0 && move.Pick is >= 0 and < Partners.MostPlaces && ((s.Cards & ~s.Up) >> move.Pick & 1) != 0;
    }

    /// <summary>Two cards that were seen and go together.</summary>
    private bool IsKnownPair(in PartnersFaceDownState s, Move move)
    {
        if (move.Pick >= 0 || move.First is < 0 or >= Partners.MostPlaces || BitOperations.PopCount(move.Items) != 2 || (move.Items >> move.First & 1) == 0 || (move.Items & ~(s.Cards & s.Known)) != 0) return false;
        return seats[s.Head.Mover].Mate(s.Places[move.First]) == s.Places[BitOperations.TrailingZeroCount(move.Items & ~(1UL << move.First))];
    }

    public IReadOnlyList<Move> Moves(in PartnersFaceDownState s)
    {
        if (s.Head.Phase != StepKind.Choice) return [];
        if (Forced(in s)) return [new(s.Up, -1, s.First)];
        var picks = new List<Move>();
        for (ulong down = s.Cards & ~s.Up; down != 0; down &= down - 1) picks.Add(new(0, BitOperations.TrailingZeroCount(down)));
        return picks;
    }

    public Tapped Read(in PartnersFaceDownState s, IReadOnlyList<int> items)
    {
        if (items.Count == 0) return Tapped.NeedsMore;
        ulong cards = s.Cards;
        int places = table.Places;
        if (items.Any(i => i < 0 || i >= places || (cards >> i & 1) == 0)) return Tapped.No("There is no card at that place.");
        var move = Forced(in s) ? new Move(s.Up, -1, s.First) : new Move(0, items[0]);
        return IsLegal(in s, move) ? Tapped.As(move) : Tapped.No("That card is turned already.");
    }

    public IReadOnlyList<Zone> Zones(in PartnersFaceDownState s)
    {
        var state = s;
        var form = table.Form;
        bool choosing = s.Head.Phase == StepKind.Choice, forced = choosing && Forced(in s);
        return table.Zones(Enumerable.Range(0, table.Places).Select(i =>
        {
            bool card = (state.Cards >> i & 1) != 0, turned = (state.Up >> i & 1) != 0;
            bool open = ((state.Up | state.Shown) & state.Known & state.Cards) >> i is var bits && (bits & 1) != 0;
            return new Item(i, open ? state.Places[i] : -1, form, !card ? ItemState.Gone : open ? ItemState.Up : ItemState.Down, choosing && card && turned == forced);
        }), s.Stock);
    }

    public string Says(in PartnersFaceDownState s)
    {
        int target = seats[s.Head.Mover].Target;
        if (s.Head.Phase == StepKind.Over) return AimReached(in s) ? "All cards are taken." : "Nothing goes any more.";
        if (s.Head.Phase == StepKind.Chance) return "Turn up a card.";
        if (Forced(in s)) return !TTurning.Runs ? "A pair: keep it." : s.Sum == target ? $"That makes {target}: keep them." : $"Past {target}: turn them back.";
        if (s.Up != 0) return "Turn one more.";
        return TTurning.Runs ? $"Turn cards to make {target}." : "Turn two cards.";
    }

    public string Tells(in PartnersFaceDownState before, Move move, bool found)
    {
        if (move.IsPass) return "found nothing this time";
        if (move.Items == 0) return before.Places[move.Pick] is not PartnersTable.Nothing and var known ? $"turned {known}, which was seen before" : "turned a card";
        var turned = new List<string>();
        for (ulong items = move.Items; items != 0; items &= items - 1) turned.Add(before.Places[BitOperations.TrailingZeroCount(items)].ToString());
        string cards = Words.List(turned);
        if (TTurning.Runs) return before.Sum == seats[before.Head.Mover].Target ? $"kept {cards}" : $"turned back {cards}";
        return found ? $"took {cards}" : $"passed by {cards}";
    }
}
