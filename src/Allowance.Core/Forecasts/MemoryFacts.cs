namespace Allowance.Core.Forecasts;

/// <summary>Exact means of face-down pairs for one player. A flip is two cards turned.</summary>
public static class MemoryFacts
{
    /// <summary>Remembering nothing: with r pairs left a flip finds one with chance 1/(2r − 1), or 1/r where one of each back is turned.</summary>
    public static double WithNone(int pairs, bool twoBacks) => twoBacks ? pairs * (pairs + 1) / 2.0 : (double)pairs * pairs;

    /// <summary>
    /// Remembering everything: a known pair is taken first, else an unknown card is turned, then its known mate, else
    /// another unknown card. A walk over the known single cards and the unknown ones.
    /// </summary>
    public static double WithAll(int pairs, bool twoBacks) => twoBacks ? TwoBacks(pairs) : OneBack(pairs);

    private static double OneBack(int pairs)
    {
        // flips[k, u]: the mean with k known single cards and u unknown ones, k ≤ u.
        var flips = new double[2 * pairs + 3, 2 * pairs + 1];
        for (int u = 1; u <= 2 * pairs; u++)
            for (int k = Math.Min(u, pairs); k >= 0; k--)
            {
                if ((u - k) % 2 != 0) continue;
                double known = (double)k / u, mean = known * (k > 0 ? 1 + flips[k - 1, u - 1] : 0);
                if (u > k)
                {
                    double fresh = 0;
                    if (u > 1)
                    {
                        fresh += 1.0 / (u - 1) * (1 + flips[k, u - 2]);
                        if (k > 0) fresh += (double)k / (u - 1) * (2 + flips[k, u - 2]);
                        if (u - k - 2 > 0) fresh += (double)(u - k - 2) / (u - 1) * (1 + flips[k + 2, u - 2]);
                    }
                    mean += (1 - known) * fresh;
                }
                flips[k, u] = mean;
            }
        return flips[0, 2 * pairs];
    }

    /// <summary>With a back for each form: r pairs left, of which a and b single cards are known. The form with unknown cards is turned first, the first form before the second.</summary>
    private static double TwoBacks(int pairs)
    {
        var flips = new double[pairs + 1, pairs + 2, pairs + 2];
        for (int r = 1; r <= pairs; r++)
            for (int a = r; a >= 0; a--)
                for (int b = r - a; b >= 0; b--)
                {
                    int unknownA = r - a, unknownB = r - b;
                    if (unknownA == 0)
                    {
                        // Every unknown card is the mate of a known one.
                        flips[r, a, b] = 1 + flips[r - 1, a - 1, b];
                        continue;
                    }
                    double mean = b > 0 ? (double)b / unknownA * (1 + flips[r - 1, a, b - 1]) : 0;
                    double fresh = 1.0 / unknownB * (1 + flips[r - 1, a, b]);
                    if (a > 0) fresh += (double)a / unknownB * (2 + flips[r - 1, a, b]);
                    int rest = unknownB - 1 - a;
                    if (rest > 0) fresh += (double)rest / unknownB * (1 + flips[r, a + 1, b + 1]);
                    flips[r, a, b] = mean + (double)(unknownA - b) / unknownA * fresh;
                }
        return flips[pairs, 0, 0];
    }
}
