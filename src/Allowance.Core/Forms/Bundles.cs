using Allowance.Core.Numbers;

namespace Allowance.Core.Forms;

/// <summary>Amounts bundled by fives: tallies, bead racks and bars.</summary>
internal static class Bundles
{
    /// <summary>Strokes in bundles of five, the fifth across the others; two bundles to a row.</summary>
    public static Picture Tally(int n, bool fixedOne, ref Rng rng)
    {
        const double bundle = 54, row = 44;
        var marks = new List<Mark>();
        for (int i = 0; i < n; i++)
        {
            double left = 8 + i / 5 % 2 * (bundle + 12), top = 6 + i / 10 * row;
            double lean = fixedOne ? 0 : 5 * rng.Unit() - 2.5, lift = fixedOne ? 0 : 4 * rng.Unit() - 2;
            marks.Add(i % 5 == 4
                ? new Stroke(left, top + 28 + lift, left + 46, top + 6 + lift, true, true)
                : new Stroke(left + 5 + i % 5 * 12, top + 34 + lift, left + 5 + i % 5 * 12 + lean, top + 2 + lift, true, true));
        }
        return new(2 * bundle + 24, Math.Max(1, (n + 9) / 10) * row + 4, marks);
    }

    /// <summary>Two rods of ten beads. The number is pushed to the left, the rest waits at the right as outlines.</summary>
    public static Picture Rack(int n, bool fixedOne, ref Rng rng)
    {
        int upper = Math.Min(10, n);
        if (!fixedOne) upper = Math.Max(0, n - 10) + rng.Below(Math.Min(10, n) - Math.Max(0, n - 10) + 1);
        return new(246, 76, [.. Rod(upper, 20), .. Rod(n - upper, 56)]);
    }

    private static IEnumerable<Mark> Rod(int pushed, double y)
    {
        yield return new Stroke(4, y, 242, y, false);
        for (int bead = 0; bead < 10; bead++)
        {
            bool counts = bead < pushed;
            yield return new Dot(counts ? 16 + 19 * bead : 230 - 19 * (9 - bead), y, 9, counts, !counts ? Tone.Outline : bead < 5 ? Tone.Ink : Tone.Second);
        }
    }

    /// <summary>A strip of unit squares, a heavier line after each five; lying or upright.</summary>
    public static Picture Bar(int n, bool upright)
    {
        double length = Math.Max(60, 20 * n + 8);
        var marks = new List<Mark>();
        for (int i = 0; i < n; i++) marks.Add(Turned(new Block(4 + 20 * i, 6, 20, 20, 0, Tone.Second, true), upright, length));
        for (int five = 5; five < n; five += 5) marks.Add(upright ? new Stroke(3, length - 4 - 20 * five, 29, length - 4 - 20 * five, true) : new Stroke(4 + 20 * five, 3, 4 + 20 * five, 29, true));
        if (n == 0) marks.Add(upright ? new Stroke(6, length - 4, 26, length - 4, false) : new Stroke(4, 6, 4, 26, false));
        return upright ? new(32, length, marks) : new(length, 32, marks);
    }

    private static Block Turned(Block unit, bool upright, double length) => upright ? unit with { X = 6, Y = length - unit.X - 20 } : unit;
}
