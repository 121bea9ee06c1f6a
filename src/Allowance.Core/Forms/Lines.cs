namespace Allowance.Core.Forms;

/// <summary>Number lines: straight, upright, or winding in rows of ten. One place is marked.</summary>
public static class Lines
{
    private static readonly int[] Ends = [10, 20, 30, 100];

    /// <summary>Where the line of this number ends.</summary>
    public static int EndOf(int n, PictureStyle style) => style.LineTo >= Math.Max(1, n) ? style.LineTo : Ends.First(e => e >= n);

    public static Picture Of(int n, PictureStyle style)
    {
        int end = EndOf(n, style), first = style.LineFrom <= n ? style.LineFrom : 0, last = end - first;
        var places = Places(last, style.Shape);
        double right = places.Max(p => p.X) + 18, bottom = places.Max(p => p.Y) + (style.Shape == LineShape.Upright ? 16 : 28);
        var marks = new List<Mark>();
        for (int i = 1; i <= last; i++) marks.Add(new Stroke(places[i - 1].X, places[i - 1].Y, places[i].X, places[i].Y, false));
        for (int i = 0; i <= last; i++) marks.Add(Tick(places[i], first + i, style.Shape));
        for (int i = 0; i <= last; i++)
            if (Bears(first + i, first, end, style) && !(style.HidesPlace && first + i == n) && !style.Away.Contains(first + i)) marks.Add(Label(first + i, Beside(i, places[i], style.Shape), style.Shape));
        marks.Add(Marker(places[n - first], style.Shape));
        return new(right, bottom, marks);
    }

    /// <summary>So many steps, and the place before the first.</summary>
    public static IReadOnlyList<Point> Places(int end, LineShape shape)
    {
        double step = end <= 10 ? 22 : end <= 30 ? 17 : shape == LineShape.Winding ? 17 : 9;
        return [.. Enumerable.Range(0, end + 1).Select(i => shape switch
        {
            LineShape.Upright => new Point(32, 16 + step * (end - i)),
            LineShape.Winding => Winding(i, step, end),
            _ => new Point(18 + step * i, 30),
        })];
    }

    /// <summary>Rows of ten steps, to and fro, each above the last, joined by a step upwards.</summary>
    private static Point Winding(int i, double step, int end)
    {
        int row = i / 11, along = i % 11, rows = end / 11;
        return new(18 + step * (row % 2 == 0 ? along : 10 - along), 30 + 48 * (rows - row));
    }

    private static Stroke Tick(Point at, int i, LineShape shape)
    {
        double half = i % 5 == 0 ? 7 : 4;
        return shape == LineShape.Upright
            ? new(at.X - half, at.Y, at.X + half, at.Y, i % 5 == 0)
            : new(at.X, at.Y - half, at.X, at.Y + half, i % 5 == 0);
    }

    /// <summary>On a long line only every tenth number has room.</summary>
    private static bool Bears(int i, int first, int end, PictureStyle style) => style.Labels switch
    {
        LineLabels.All => end - first <= 30 || i % 10 == 0,
        LineLabels.Fives => i % (end - first <= 30 ? 5 : 10) == 0,
        LineLabels.Ends => i == first || i == end,
        _ => false,
    };

    /// <summary>Where a winding line comes up from the row below, the number stands a little inwards.</summary>
    private static Point Beside(int i, Point at, LineShape shape) =>
        shape == LineShape.Winding && i >= 11 && i % 11 == 0 ? at with { X = at.X + (i / 11 % 2 == 1 ? -8 : 8) } : at;

    private static Glyph Label(int i, Point at, LineShape shape)
    {
        double size = 11;
        return shape == LineShape.Upright ? new(i.ToString(), at.X - 20, at.Y + 4, size) : new(i.ToString(), at.X, at.Y + 22, size);
    }

    /// <summary>A pointer beside the place: from above, or from the right of an upright line.</summary>
    private static Curve Marker(Point at, LineShape shape) => new(shape == LineShape.Upright
        ? [new(at.X + 10, at.Y), new(at.X + 17, at.Y - 6), new(at.X + 17, at.Y + 6), new(at.X + 10, at.Y)]
        : [new(at.X, at.Y - 10), new(at.X - 6, at.Y - 19), new(at.X + 6, at.Y - 19), new(at.X, at.Y - 10)], true);
}
