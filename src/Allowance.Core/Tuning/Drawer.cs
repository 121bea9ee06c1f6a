using Allowance.Core.Games;
using Allowance.Core.Materials;
using Allowance.Core.Setups;

namespace Allowance.Core.Tuning;

/// <summary>Fits a setup to the things that are there.</summary>
public static class Drawer
{
    /// <summary>The setup with its pack and its colours as the cupboard can give them, and stories about what lies in it. See <see cref="Cupboard.Giving"/> and <see cref="Cupboard.Matching"/>.</summary>
    public static Setup Fit(Setup setup, Cupboard cupboard) => Told(Coloured(Dealt(setup, cupboard), cupboard), cupboard);

    /// <summary>Stories are about the small things of the house, where nobody chose others.</summary>
    private static Setup Told(Setup setup, Cupboard cupboard)
    {
        if (setup.Frame.Knob(KnobRole.Nouns) is not { Kind: NounsKind kind } knob || setup.Table.ContainsKey(knob.Id)) return setup;
        string[] things = [.. cupboard.Materials.Where(m => m is { Use: Use.Pieces, Count: > 0 } && m.Name.EndsWith('s') && kind.IsWord(m.Name)).Select(m => m.Name.ToLowerInvariant()).Distinct().Take(kind.Most)];
        return things.Length == 0 ? setup : setup.With(knob, new NounsValue(things));
    }

    private static Setup Coloured(Setup setup, Cupboard cupboard)
    {
        var colours = Catalogue.Of(setup).Needs(setup).FirstOrDefault(n => !n.Colours.IsEmpty)?.Colours ?? [];
        if (colours.IsEmpty || cupboard.Matching(colours) is not { } matched || matched.All(m => m.Key == m.Value)) return setup;
        foreach (var knob in setup.Frame.Knobs)
            setup = setup.Get(knob) switch
            {
                ColoursValue value => setup.With(knob, new ColoursValue(value.Colours.Select(c => (matched[c.Colour], c.Count)))),
                ColourDieValue value => setup.With(knob, new ColourDieValue(value.Faces.Select(f => f.Select(c => matched[c])))),
                _ => setup,
            };
        return setup;
    }

    private static Setup Dealt(Setup setup, Cupboard cupboard)
    {
        if (setup.Frame.Knob(KnobRole.Deck) is not { } knob || setup.Get(knob) is not DeckValue { Deck: var deck }) return setup;
        var given = cupboard.Giving(deck);
        return given.Equals(deck) ? setup : setup.With(knob, new DeckValue(given));
    }
}
