using Allowance.Core.Materials;
using Allowance.Core.Setups;

namespace Allowance.Core.Tuning;

/// <summary>Fits a setup to the things that are there.</summary>
public static class Drawer
{
    /// <summary>The setup with its pack as the cupboard can give it. See <see cref="Cupboard.Giving"/>.</summary>
    public static Setup Fit(Setup setup, Cupboard cupboard)
    {
        if (setup.Frame.Knob(KnobRole.Deck) is not { } knob || setup.Get(knob) is not DeckValue { Deck: var deck }) return setup;
        var given = cupboard.Giving(deck);
        return given.Equals(deck) ? setup : setup.With(knob, new DeckValue(given));
    }
}
