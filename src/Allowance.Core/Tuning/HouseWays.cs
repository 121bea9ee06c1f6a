using Allowance.Core.Asks;
using Allowance.Core.Games;
using Allowance.Core.Rules;
using Allowance.Core.Setups;

namespace Allowance.Core.Tuning;

/// <summary>What is proposed is played as the household likes it: against each other, together, or without a winner; and in no hurry, unless they like that.</summary>
public static class HouseWays
{
    /// <summary>It is played here: a race only where they race each other.</summary>
    public static bool Allows(Playable playable, Approach approach) => approach["clock"] == "race" || !playable.Frame.IsRace(playable.Setup);

    /// <summary>The setup as the approach has it; as it was where its frame does not go that way.</summary>
    public static Setup Of(Setup setup, Approach approach)
    {
        // Somebody wins, chances evened out: the frame's own ending.
        if (approach["winning"] == "evened" || setup.Frame.Knob(KnobRole.Winning) is not { Kind: ChoiceKind kind } knob || kind.Options.FirstOrDefault(o => o.Id == approach["winning"]) is not { } wished) return setup;
        var changed = setup.With(knob, wished);
        return Catalogue.Check(changed) is null ? setup : changed;
    }
}
