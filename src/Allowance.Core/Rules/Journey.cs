using Allowance.Core.Numbers;

namespace Allowance.Core.Rules;

/// <summary>Where one stands after so many rolls: not below <paramref name="Low"/> and not above <paramref name="High"/> in eight games of ten.</summary>
public readonly record struct Stretch(int Low, int Middle, int High)
{
    /// <param name="chances">The chance of each place from <paramref name="first"/> on; they add up to 1.</param>
    public static Stretch Of(double[] chances, int first)
    {
        var places = new Pmf(chances);
        return new(first + places.Quantile(.1), first + places.Quantile(.5), first + places.Quantile(.9));
    }
}

/// <summary>How far each roll gets along a line.</summary>
/// <param name="Whose">Whose journey it is, where they differ; else empty.</param>
/// <param name="From">The line as it is drawn, and where she sets out.</param>
/// <param name="Rolls">After the first roll, the second, and so on.</param>
public sealed record Journey(string Whose, int From, int To, int Start, IReadOnlyList<Stretch> Rolls)
{
    /// <summary>Of a long journey only so many rolls are shown.</summary>
    public const int MostRolls = 12;

    /// <summary>Follows the chances of all places from roll to roll until nine games in ten have ended, or enough was seen.</summary>
    /// <param name="chances">The chance of each place from <paramref name="from"/> on, at the start; it is changed.</param>
    /// <param name="roll">Carries them over one roll; the number of the roll, from 0, is told.</param>
    public static Journey Along(string whose, int from, int to, double[] chances, Func<double[], int, double[]> roll, Func<int, bool> ended)
    {
        int start = from + Array.FindIndex(chances, c => c > 0);
        var rolls = new List<Stretch>();
        for (int n = 0; n < MostRolls; n++)
        {
            chances = roll(chances, n);
            rolls.Add(Stretch.Of(chances, from));
            if (Enumerable.Range(0, chances.Length).Where(i => ended(from + i)).Sum(i => chances[i]) > .9) break;
        }
        return new(whose, from, to, start, rolls);
    }
}

/// <summary>What a choice leads to.</summary>
/// <param name="Number">Where it leads.</param>
/// <param name="Gap">How far from the mark one ends on average, choosing best from there.</param>
public sealed record Branch(string Label, int Number, double Gap, bool Best);

/// <summary>The choices of the first roll, for each thing it can show.</summary>
public sealed record ChoiceTree(int Root, IReadOnlyList<(int Roll, IReadOnlyList<Branch> Branches)> Rolls);
