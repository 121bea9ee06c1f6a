namespace Allowance.Core.Numbers;

/// <summary>Ways to choose and to draw, in double precision (relative error below 1e-12 for the packs used here).</summary>
public static class Counting
{
    /// <summary>Binomial coefficient: the ways to choose <paramref name="k"/> of <paramref name="n"/> things; 0 outside 0 ≤ k ≤ n.</summary>
    public static double Choose(int n, int k)
    {
        if (k < 0 || k > n) return 0;
        k = Math.Min(k, n - k);
        double ways = 1;
        for (int i = 1; i <= k; i++) ways = ways * (n - k + i) / i;
        return ways;
    }

    /// <summary>The product of two polynomials whose <c>i</c>-th coefficient counts the ways that use i things, cut after <paramref name="max"/>.</summary>
    public static double[] Combine(double[] a, double[] b, int max)
    {
        var product = new double[Math.Min(max, a.Length + b.Length - 2) + 1];
        for (int i = 0; i < a.Length && i < product.Length; i++)
            for (int j = 0; j < b.Length && i + j < product.Length; j++)
                product[i + j] += a[i] * b[j];
        return product;
    }
}
