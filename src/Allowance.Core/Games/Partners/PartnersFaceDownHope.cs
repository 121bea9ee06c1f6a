using System.Numerics;
using Allowance.Core.Numbers;

namespace Allowance.Core.Games;

/// <summary>The same rules: who could still find something, so that a game ends where nobody can.</summary>
internal readonly partial struct PartnersFaceDown<TTurning>
{
    /// <summary>Hardly a place is left unseen, while more cards are: what was not taken need not lie on the table.</summary>
    private static bool FewUnknown(in PartnersFaceDownState s)
    {
        int unknown = BitOperations.PopCount(s.Cards & ~s.Known);
        return unknown < 2 && s.Pile.Count > unknown;
    }

    /// <summary>
    /// Finds out which seats could still take something, from the cards that were seen and those that may lie unseen. It
    /// only ever shrinks: when cards are taken, or when hardly a place is left unseen while more cards are.
    /// </summary>
    private void FindHope(ref PartnersFaceDownState s)
    {
        bool few = FewUnknown(in s);
        for (int i = 0; i < seats.Length; i++)
        {
            byte bit = (byte)(1 << i);
            if ((s.Hope & ~s.Sure & bit) == 0) continue;
            if (!(few ? HopesOfFew(ref s, seats[i], bit) : Hopes(in s.Remain, seats[i]))) s.Hope &= (byte)~bit;
        }
    }

    private static bool Hopes(in NumberBag cards, PartnersSeat seat) => TTurning.Runs ? cards.Makes(seat.Target) : seat.Pairs(in cards) != 0;

    /// <summary>With one place unseen, any of the unseen cards may lie there; with none, only what was seen lies on the table.</summary>
    private static bool HopesOfFew(ref PartnersFaceDownState s, PartnersSeat seat, byte bit)
    {
        ulong known = s.Cards & s.Known;
        bool one = known != s.Cards;
        if (TTurning.Runs)
        {
            var seen = default(NumberBag);
            for (; known != 0; known &= known - 1) seen.Add(s.Places[BitOperations.TrailingZeroCount(known)]);
            if (!seen.Makes(seat.Target))
                // What may lie there makes it with some that were seen, or by itself.
                return one && (seen.Sums(seat.Target) & s.Pile.Bag.Mirror >> (63 - seat.Target)) != 0;
        }
        else
        {
            var (present, mirror, twice) = Lie(in s, known);
            // No two that were seen go together: of the pairs that are left one card was seen, and the other may lie there.
            if (seat.Pairs(present, mirror, twice) == 0) return one && (seat.Pairs(in s.Remain) & (present | (seat.Same ? 0 : mirror >> (63 - seat.Target)))) != 0;
        }
        s.Sure |= bit;
        return true;
    }
}
