namespace Allowance.Core.Materials;

/// <summary>Somebody in the home, as far as cautions go.</summary>
/// <param name="Age">In years; null where unknown, which counts as under three.</param>
/// <param name="AtTable">Plays this game.</param>
/// <param name="Mouths">Still puts things in the mouth, whatever the age.</param>
public readonly record struct Near(string Name, double? Age, bool GrownUp, bool AtTable, bool Mouths = false)
{
    public bool IsUnder(double years) => !GrownUp && (Age is not { } age || age < years);

    /// <summary>Nothing small may lie where she can reach it.</summary>
    public bool NeedsLargeThings => Mouths || IsUnder(3);
}

/// <summary>One line, where it matters; <paramref name="About"/> is the part of the Guide that says it in full.</summary>
public sealed record Caution(string Says, string About);

/// <summary>Which cautions a game calls for, by what is used and who is near.</summary>
public static class Cautions
{
    private const double WholeFoodAge = 5;

    /// <param name="counts">Small things are gathered, laid out or counted in it, and might be something to eat.</param>
    /// <param name="clock">It is a race.</param>
    public static IReadOnlyList<Caution> For(IReadOnlyList<Fetched> fetched, IReadOnlyList<Near> near, bool counts, bool clock)
    {
        var lines = new List<Caution>();
        var used = fetched.SelectMany(f => f.Used).Distinct().ToList();
        var small = used.Where(t => t.IsSmallPart).ToList();
        if (small.Count > 0 && near.Where(n => n.NeedsLargeThings).ToList() is [_, ..] young)
            lines.Add(new($"{Words.List(small.Select(t => t.Name))} could be swallowed: out of reach of {Words.List(young.Select(n => n.Name))}{(young.Exists(n => n is { Age: null, Mouths: false }) ? " (no age is known, so under three is taken)" : "")}.", "small-parts"));
        if (used.Any(t => t.IsFood))
            lines.Add(new("Food: ask everyone about allergies first; clean hands, and sit while eating.", "food"));
        if (counts && near.Any(n => n.AtTable && n.IsUnder(WholeFoodAge)))
            lines.Add(new("If you count with food: under five no whole nuts, popcorn, hard sweets or marshmallows; grapes in quarters lengthways; allergies asked first.", "food"));
        if (fetched.Any(f => f.Used.Any(t => t.Use == Use.String)))
            lines.Add(new("String: short, never round a neck, and put away afterwards.", "strings"));
        if (fetched.Any(f => f is { Standing: Standing.ToMake } && f.Used.Any(t => t.Use == Use.Blanks)) && near.Any(n => n is { AtTable: true, GrownUp: false }))
            lines.Add(new("Cutting, drilling and strong glue are the grown-up’s.", "making"));
        if (clock) lines.Add(new("A race only if she likes it.", "pressure"));
        return lines;
    }
}
