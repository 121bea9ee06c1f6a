namespace Allowance.Core.Numbers;

/// <summary>A distribution over the whole numbers 0, 1, 2 …; <c>this[n]</c> is the chance of n.</summary>
public sealed class Pmf(double[] chances)
{
    /// <summary>The number is certain.</summary>
    public static Pmf Always(int number) => new([.. Enumerable.Repeat(0.0, number), 1]);

    public int Length => chances.Length;

    public double this[int n] => n >= 0 && n < chances.Length ? chances[n] : 0;

    /// <summary>Of the sum of two that do not depend on each other.</summary>
    public Pmf Plus(Pmf other)
    {
        var sum = new double[Length + other.Length - 1];
        for (int n = 0; n < Length; n++)
            for (int m = 0; m < other.Length; m++) sum[n + m] += this[n] * other[m];
        return new(sum);
    }

    public double Mean
    {
        get
        {
            double sum = 0;
            for (int n = 0; n < chances.Length; n++) sum += n * chances[n];
            return sum;
        }
    }

    public double Sd
    {
        get
        {
            double mean = Mean, sum = 0;
            for (int n = 0; n < chances.Length; n++) sum += (n - mean) * (n - mean) * chances[n];
            // Where the number is all but certain, rounding may leave less than nothing.
            return Math.Sqrt(Math.Max(0, sum));
        }
    }

    /// <summary>The smallest n with P(X ≤ n) ≥ <paramref name="q"/>; a rounding error of 1e-12 is forgiven.</summary>
    public int Quantile(double q)
    {
        double sum = 0;
        for (int n = 0; n < chances.Length; n++)
        {
            sum += chances[n];
            if (sum >= q - 1e-12) return n;
        }
        return chances.Length - 1;
    }
}
