using Allowance.Core.Numbers;

namespace Allowance.Core.Forms;

/// <summary>Two hands, and for more than ten two feet under them.</summary>
internal static class Hands
{
    private static readonly double[] FingerTops = [46, 12, 4, 10, 24];

    public static Picture Of(int n, FingerOrder order, bool fixedOne, ref Rng rng)
    {
        int hands = Math.Min(n, 10), toes = n - hands, left = Math.Min(5, hands);
        // Where fingers run across from the left little finger, the right hand goes on with its thumb.
        var (leftOrder, rightOrder) = (order, order == FingerOrder.Little ? FingerOrder.Thumb : order);
        if (!fixedOne)
        {
            left = Math.Max(0, hands - 5) + rng.Below(Math.Min(5, hands) - Math.Max(0, hands - 5) + 1);
            (leftOrder, rightOrder) = ((FingerOrder)rng.Below(3), (FingerOrder)rng.Below(3));
        }
        var marks = new List<Mark>();
        marks.AddRange(Hand(4, left, leftOrder, false));
        marks.AddRange(Hand(108, hands - left, rightOrder, true));
        if (toes == 0) return new(204, 100, marks);
        for (int t = 0; t < 10; t++) marks.Add(new Block(8 + t * 18 + (t >= 5 ? 10 : 0), 106, 15, 20, 7, t < toes ? Tone.Ink : Tone.Outline, t < toes));
        return new(204, 130, marks);
    }

    /// <summary>One hand, thumb inside; lowered fingers are short outlines.</summary>
    private static IEnumerable<Mark> Hand(double left, int up, FingerOrder order, bool right)
    {
        // Fingers from the thumb (0) to the little finger (4).
        int[] rising = order switch { FingerOrder.Thumb => [0, 1, 2, 3, 4], FingerOrder.Index => [1, 2, 3, 4, 0], _ => [4, 3, 2, 1, 0] };
        yield return new Block(left + 10, 62, 72, 34, 12);
        for (int finger = 0; finger < 5; finger++)
        {
            bool raised = Array.IndexOf(rising, finger) < up;
            int place = right ? finger : 4 - finger;
            double top = raised ? FingerTops[finger] : 56;
            yield return new Block(left + 4 + place * 17.5, top, 14, 66 - top, 7, raised ? Tone.Ink : Tone.Outline, raised);
        }
    }
}
