using Allowance.Core.Games;
using Allowance.Core.Setups;

namespace Allowance.Core.Tuning;

/// <summary>Shorter ways to play the same thing: only knobs that belong to length change, never what is asked.</summary>
public static class Shortening
{
    /// <summary>The setup itself, then ever shorter ones; none that its frame refuses.</summary>
    public static IEnumerable<Setup> Of(Setup setup)
    {
        yield return setup;
        foreach (var knob in setup.Frame.Knobs.Where(k => k is { Belongs: Belongs.Length, Kind: FlagKind } && setup.Get(k) is FlagValue { On: true }))
        {
            setup = setup.With(knob, new FlagValue(false));
            if (Fits(setup)) yield return setup;
        }
        foreach (var knob in setup.Frame.Knobs.Where(k => k is { Belongs: Belongs.Length, Kind: SizeKind }))
            foreach (var size in SizeKind.Usual.Where(s => s.Places >= 6 && s.Places < ((SizeValue)setup.Get(knob)!).Places).OrderByDescending(s => s.Places))
            {
                var shorter = setup.With(knob, size);
                if (Fits(shorter)) yield return shorter;
            }
        foreach (var knob in setup.Frame.Knobs.Where(k => k is { Belongs: Belongs.Length, Kind: WholeKind }))
            while ((setup.Get(knob) ?? Catalogue.Of(setup).LeftOpen(setup, knob)) is { } now && knob.Kind.Neighbours(now).FirstOrDefault() is WholeValue less && less.Number < ((WholeValue)now).Number)
            {
                var shorter = setup.With(knob, less);
                if (!Fits(shorter)) break;
                yield return setup = shorter;
            }
    }

    private static bool Fits(Setup setup) => Catalogue.Check(setup) is not null;
}
