using Allowance.Core.Numbers;

namespace Allowance.Core.Forms;

/// <summary>Dots in their places: dice, dominoes, rows, twos, and cards with rings.</summary>
internal static class Dots
{
    private const double Pip = 10;

    private static readonly Point[][] Faces =
    [
        [], [new(50, 50)], [new(25, 25), new(75, 75)], [new(25, 25), new(50, 50), new(75, 75)], [new(25, 25), new(75, 25), new(25, 75), new(75, 75)],
        [new(25, 25), new(75, 25), new(50, 50), new(25, 75), new(75, 75)], [new(25, 22), new(75, 22), new(25, 50), new(75, 50), new(25, 78), new(75, 78)],
    ];

    /// <summary>The dots of a face, turned by a quarter where it lies so.</summary>
    private static IEnumerable<Mark> Face(int n, double left, double top, bool turned) =>
        Faces[n].Select(p => turned ? new Dot(left + 100 - p.Y, top + p.X, Pip) : new Dot(left + p.X, top + p.Y, Pip));

    /// <summary>How a number lies on two faces: the larger first and as full as can be, or any way.</summary>
    private static (int First, int Second) Split(int n, int first, bool fixedOne, ref Rng rng)
    {
        if (!fixedOne) first = Math.Max(0, n - 6) + rng.Below(Math.Min(6, n) - Math.Max(0, n - 6) + 1);
        return (first, n - first);
    }

    /// <summary>One die, or two one above the other, as a card is higher than wide.</summary>
    public static Picture Dice(int n, bool fixedOne, ref Rng rng)
    {
        bool turned = !fixedOne && rng.Below(2) == 1;
        if (n <= 6) return new(100, 100, [new Block(3, 3, 94, 94, 16), .. Face(n, 0, 0, turned)]);
        var (upper, lower) = Split(n, 6, fixedOne, ref rng);
        return new(100, 206, [new Block(3, 3, 94, 94, 16), .. Face(upper, 0, 0, turned), new Block(3, 109, 94, 94, 16), .. Face(lower, 0, 106, !fixedOne && rng.Below(2) == 1)]);
    }

    public static Picture Domino(int n, bool fixedOne, ref Rng rng)
    {
        var (left, right) = Split(n, (n + 1) / 2, fixedOne, ref rng);
        return new(196, 100, [new Block(3, 3, 190, 94, 8), new Stroke(98, 3, 98, 97, false), .. Face(left, 0, 0, false), .. Face(right, 96, 0, false)]);
    }

    /// <summary>Dots in a line, evenly apart; in other pictures closer or wider, so that the length does not tell.</summary>
    public static Picture Row(int n, bool fixedOne, ref Rng rng)
    {
        double step = fixedOne ? 30 : 24 + 14 * rng.Unit(), width = Math.Max(100, step * n + 10);
        return new(width, 40, [.. Enumerable.Range(0, n).Select(i => new Dot((width - step * n) / 2 + step / 2 + step * i, 20, 10))]);
    }

    /// <summary>Two by two from below, the odd one on top; or lying, the odd one last.</summary>
    public static Picture Twos(int n, bool lying)
    {
        int pairs = Math.Max(2, (n + 1) / 2);
        double length = 30 * pairs + 6, breadth = 66;
        var dots = Enumerable.Range(0, n).Select(i => (Along: 18 + 30.0 * (i / 2), Across: 18 + 30.0 * (i % 2)));
        return lying
            ? new(length, breadth, [.. dots.Select(d => new Dot(d.Along, d.Across, 11))])
            : new(breadth, length, [.. dots.Select(d => new Dot(d.Across, length - d.Along, 11))]);
    }

    /// <summary>A card with rings to fill, five to a row; in other pictures the rings lie loose.</summary>
    public static Picture Spots(int n, bool fixedOne, ref Rng rng)
    {
        int rows = Math.Max(2, (n + 4) / 5);
        double height = 12 + 34 * rows;
        var rings = fixedOne
            ? Enumerable.Range(0, n).Select(i => new Point(22 + 34 * (i % 5), 23 + 34.0 * (i / 5)))
            : rng.Order(5 * rows).Take(n).Select(i => new Point(22 + 34 * (i % 5), 23 + 34.0 * (i / 5)));
        return new(180, height, [new Block(2, 2, 176, height - 4, 6), .. rings.Select(p => new Dot(p.X, p.Y, 13, true, Tone.Outline))]);
    }
}
