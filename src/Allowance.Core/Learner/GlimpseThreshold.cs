using Allowance.Core.Asks;
using Allowance.Core.Forms;

namespace Allowance.Core.Learner;

/// <summary>How short a glimpse of a number in a form is enough for a child.</summary>
/// <param name="Seconds">The shortest time shown from which on three of four looks went right; null where none did yet.</param>
/// <param name="Looks">How many glimpses this rests on.</param>
public sealed record GlimpseThreshold(int Number, Form Form, double? Seconds, int Looks)
{
    private const double Enough = .75;

    /// <summary>By number and form, from notes of glimpses: their seconds are how long the picture was shown.</summary>
    public static IReadOnlyList<GlimpseThreshold> Of(IEnumerable<Observation> observations) =>
        [.. observations.Where(o => o is { Source: Source.Glimpse, Seconds: > 0, Ask.Kind: AskKind.Say })
            .GroupBy(o => (Number: o.Ask[0], o.Ask.Form))
            .Select(g => new GlimpseThreshold(g.Key.Number, g.Key.Form, Shortest([.. g.OrderByDescending(o => o.Seconds)]), g.Count()))
            .OrderBy(t => t.Form).ThenBy(t => t.Number)];

    private static double? Shortest(IReadOnlyList<Observation> longestFirst)
    {
        double? shortest = null;
        int right = 0;
        for (int i = 0; i < longestFirst.Count; i++)
        {
            if (longestFirst[i].Seen.Right) right++;
            bool lastOfItsTime = i + 1 == longestFirst.Count || longestFirst[i + 1].Seconds < longestFirst[i].Seconds;
            if (lastOfItsTime && right >= Enough * (i + 1)) shortest = longestFirst[i].Seconds;
        }
        return shortest;
    }
}
