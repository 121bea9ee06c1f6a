using Allowance.Core.Materials;
using Allowance.Core.Setups;

namespace Allowance.Core.Tuning;

/// <summary>Fits a setup to the things that are there.</summary>
public static class Drawer
{
    /// <summary>The setup with its pack as the cupboard can give it. See <see cref="Cupboard.Giving"/>.</summary>
    public static Setup Fit(Setup setup, Cupboard cupboard)
    {
        if (setup.Frame.Knob("deck") is null) return setup;
        var deck = setup.Get<DeckValue>("deck").Deck;
        var given = cupboard.Giving(deck);
        return given.Equals(deck) ? setup : setup.With("deck", new DeckValue(given));
    }
}
