using System.Collections.Immutable;

namespace Allowance.Core.Numbers;

/// <summary>A die of any faces, each as likely as the others: 1 to 100 faces with numbers from 0 to 100.</summary>
public sealed class Die : IEquatable<Die>
{
    public const int MostFaces = 100, LargestFace = 100;

    public Die(IEnumerable<int> faces)
    {
        Faces = [.. faces.Order()];
        if (Faces.Length is 0 or > MostFaces || Faces[0] < 0 || Faces[^1] > LargestFace) throw new ArgumentOutOfRangeException(nameof(faces), $"A die has 1 to {MostFaces} faces with numbers from 0 to {LargestFace}.");
    }

    /// <summary>The faces 1 to n.</summary>
    public static Die Of(int faces) => new(Enumerable.Range(1, faces));

    public ImmutableArray<int> Faces { get; }

    /// <summary>A run of faces without a gap or a repetition.</summary>
    private bool IsRun => Faces[^1] - Faces[0] == Faces.Length - 1 && Faces.Distinct().Count() == Faces.Length;

    /// <summary><c>d6</c>, <c>0-5</c>, or the faces with dots between.</summary>
    public override string ToString() => IsRun && Faces[0] == 1 ? $"d{Faces.Length}" : IsRun && Faces.Length > 1 ? $"{Faces[0]}-{Faces[^1]}" : string.Join('.', Faces);

    /// <summary>In words: "a die from 1 to 6".</summary>
    public string Says => IsRun && Faces.Length > 1 ? $"a die from {Faces[0]} to {Faces[^1]}" : $"a die with {string.Join(", ", Faces)}";

    public bool Equals(Die? other) => other is not null && Faces.SequenceEqual(other.Faces);

    public override bool Equals(object? obj) => Equals(obj as Die);

    public override int GetHashCode() => Faces.Aggregate(Faces.Length, HashCode.Combine);
}

/// <summary>One to four dice that are rolled together and added.</summary>
public sealed class Dice : IEquatable<Dice>
{
    public const int MostDice = 4;

    private double[]? chances;

    public Dice(params IEnumerable<Die> dice)
    {
        All = [.. dice];
        if (All.Length is 0 or > MostDice) throw new ArgumentOutOfRangeException(nameof(dice), $"1 to {MostDice} dice are rolled together.");
        (Least, Most) = (All.Sum(d => d.Faces[0]), All.Sum(d => d.Faces[^1]));
    }

    public ImmutableArray<Die> All { get; }

    public int Least { get; }

    public int Most { get; }

    /// <summary>The chance of each total, from 0 to <see cref="Most"/>.</summary>
    public ReadOnlySpan<double> Chances => chances ??= Totals();

    public Pmf Total => new([.. Chances]);

    /// <summary>The totals that can come, each with its chance.</summary>
    public (int Roll, double Chance)[] Likely()
    {
        double[] all = [.. Chances];
        return [.. Enumerable.Range(0, all.Length).Where(total => all[total] > 0).Select(total => (total, all[total]))];
    }

    private double[] Totals()
    {
        double[] sum = [1];
        foreach (var die in All)
        {
            var with = new double[sum.Length + die.Faces[^1]];
            foreach (int face in die.Faces)
                for (int n = 0; n < sum.Length; n++) with[n + face] += sum[n] / die.Faces.Length;
            sum = with;
        }
        return sum;
    }

    public override string ToString() => string.Join('+', All);

    public bool Equals(Dice? other) => other is not null && All.SequenceEqual(other.All);

    public override bool Equals(object? obj) => Equals(obj as Dice);

    public override int GetHashCode() => All.Aggregate(All.Length, HashCode.Combine);
}
