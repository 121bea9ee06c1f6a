using Allowance.Core.Numbers;

namespace Allowance.Core.Forms;

/// <summary>Five-frames and ten-frames: boxes in rows of five, filled in an order.</summary>
internal static class Frames
{
    private const double Box = 38, Edge = 5, Counter = 13;

    public static Picture Five(int n, bool fixedOne, ref Rng rng)
    {
        int way = fixedOne ? 0 : rng.Below(3);
        int[] order = way switch { 0 => [0, 1, 2, 3, 4], 1 => [4, 3, 2, 1, 0], _ => rng.Order(5) };
        return new(2 * Edge + 5 * Box, 2 * Edge + Box, [.. Boxes(0, 1), .. Filled(order.Take(n), 0)]);
    }

    /// <summary>Ten-frames one above the other, the first filled before the second begins.</summary>
    public static Picture Tens(int n, int frames, FrameFill fill, bool fixedOne, ref Rng rng)
    {
        var marks = new List<Mark>();
        for (int f = 0; f < frames; f++)
        {
            double top = f * (2 * Box + 16);
            marks.AddRange(Boxes(top, 2));
            marks.AddRange(Filled(Order(fill, fixedOne, ref rng).Take(Math.Clamp(n - 10 * f, 0, 10)), top));
        }
        return new(2 * Edge + 5 * Box, (2 * Box + 16) * frames - 16 + 2 * Edge, marks);
    }

    /// <summary>The boxes of a ten-frame in the order in which they fill.</summary>
    private static int[] Order(FrameFill fill, bool fixedOne, ref Rng rng)
    {
        int[] rows = [0, 1, 2, 3, 4, 5, 6, 7, 8, 9], twos = [0, 5, 1, 6, 2, 7, 3, 8, 4, 9];
        int way = fixedOne ? 0 : rng.Below(5);
        return way switch
        {
            0 => fill == FrameFill.Rows ? rows : twos,
            1 => fill == FrameFill.Rows ? twos : rows,
            2 => [.. rows.Reverse()],
            3 => [.. rows.Select(b => (b + 5) % 10)],
            _ => rng.Order(10),
        };
    }

    private static IEnumerable<Mark> Boxes(double top, int rows)
    {
        for (int box = 0; box < 5 * rows; box++) yield return new Block(Edge + box % 5 * Box, top + Edge + box / 5 * Box, Box, Box, 0);
        if (rows == 2) yield return new Stroke(Edge, top + Edge + Box, Edge + 5 * Box, top + Edge + Box, true);
    }

    private static IEnumerable<Mark> Filled(IEnumerable<int> boxes, double top) =>
        boxes.Select(b => new Dot(Edge + b % 5 * Box + Box / 2, top + Edge + b / 5 * Box + Box / 2, Counter));
}
