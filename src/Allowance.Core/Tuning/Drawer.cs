using Allowance.Core.Materials;
using Allowance.Core.Setups;

namespace Allowance.Core.Tuning;

/// <summary>Fits a setup to the things that are there.</summary>
public static class Drawer
{
    /// <summary>Where a setup needs more packs of cards than there are, the same numbers are written on paper.</summary>
    /// <param name="packs">Packs of cards in the drawer, 0 and up.</param>
    public static Setup Fit(Setup setup, int packs)
    {
        if (setup.Frame.Knob("deck") is null) return setup;
        var deck = setup.Get<DeckValue>("deck").Deck;
        return deck.HomeMade || deck.Packs <= packs ? setup : setup.With("deck", new DeckValue(Deck.FromCounts(deck.Counts)));
    }
}
