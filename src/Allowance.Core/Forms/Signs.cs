using Allowance.Core.Numbers;

namespace Allowance.Core.Forms;

/// <summary>Written and spoken numbers: figures, words, sentences, a whole with its parts.</summary>
public static class Signs
{
    public static Picture Numeral(int n)
    {
        string text = n.ToString();
        return new(Math.Max(100, 20 + 46 * text.Length), 100, [new Glyph(text, Math.Max(100, 20 + 46 * text.Length) / 2.0, 76, 74)]);
    }

    public static Picture Word(int n) => Text(NumberWords.Of(n), 40);

    /// <summary>A sentence that makes the number: the parts are written, the number is not.</summary>
    public static Picture Sum(int n, int first) => Text($"{first} + {n - first}", 44);

    private static Picture Text(string text, double size)
    {
        double width = Math.Max(100, text.Length * size * Glyph.LetterWidth + 8);
        return new(width, 60, [new Glyph(text, width / 2, 30 + .3 * size, size)]);
    }

    /// <summary>A whole above its two parts. A number that is to be found is left out.</summary>
    public static Picture Bond(int whole, int part, bool hidesWhole = false, bool hidesOther = false) => new(140, 120,
    [
        new Stroke(58, 46, 38, 74, false), new Stroke(82, 46, 102, 74, false),
        new Dot(70, 30, 27, false, Tone.Outline), new Dot(28, 92, 24, false, Tone.Outline), new Dot(112, 92, 24, false, Tone.Outline),
        .. hidesWhole ? [] : new[] { Inside(whole, 70, 30, 27) },
        Inside(part, 28, 92, 24),
        .. hidesOther ? [] : new[] { Inside(whole - part, 112, 92, 24) },
    ]);

    private static Glyph Inside(int n, double x, double y, double radius)
    {
        double size = n < 10 ? 1.35 * radius : n < 100 ? 1.1 * radius : .8 * radius;
        return new(n.ToString(), x, y + .34 * size, size);
    }

    /// <summary>Sound going out; the number itself is heard, not seen.</summary>
    public static Picture Spoken() => new(100, 100,
    [
        new Dot(26, 50, 10, false),
        .. new[] { 18.0, 32, 46 }.Select(r => new Curve(Arc(26, 50, r, r, -48, 48), true)),
    ]);

    /// <summary>
    /// The strokes of a number as they are written, figure by figure, each from its beginning: lines to trace along.
    /// </summary>
    public static Picture Tracing(int n)
    {
        string figures = n.ToString();
        var marks = new List<Mark>();
        for (int i = 0; i < figures.Length; i++)
            foreach (var stroke in Strokes[figures[i] - '0'])
            {
                List<Point> points = [.. stroke.Select(p => new Point(p.X + 68 * i, p.Y))];
                marks.Add(new Curve(points, true));
                marks.Add(new Dot(points[0].X, points[0].Y, 4.5, false));
            }
        return new(68 * figures.Length, 100, marks);
    }

    /// <summary>How many strokes a figure is written in.</summary>
    public static int StrokesOf(int figure) => Strokes[figure].Count;

    private static readonly IReadOnlyList<IReadOnlyList<IReadOnlyList<Point>>> Strokes =
    [
        [Arc(34, 50, 22, 40, -60, -420)],
        [[new(22, 26), new(38, 10), new(38, 90)]],
        [[.. Arc(33, 31, 20, 21, -170, 40), new(14, 90), new(54, 90)]],
        [[.. Arc(32, 30, 18, 20, -160, 90), .. Arc(32, 69, 21, 21, -90, 150)]],
        [[new(42, 10), new(12, 62), new(56, 62)], [new(44, 40), new(44, 90)]],
        [[new(20, 12), new(18, 44), .. Arc(32, 64, 21, 25, -120, 140)], [new(20, 12), new(50, 12)]],
        [[new(46, 12), .. Arc(34, 64, 21, 26, -160, -520)]],
        [[new(14, 12), new(54, 12), new(28, 90)]],
        [[.. Arc(34, 30, 17, 19, -40, -270), .. Arc(34, 69, 20, 20, -90, 270), .. Arc(34, 30, 17, 19, 90, -40)]],
        [[.. Arc(34, 34, 20, 23, 0, -360), new(50, 90)]],
    ];

    /// <summary>Points of an arc; degrees run clockwise from the right, as on the screen.</summary>
    private static List<Point> Arc(double x, double y, double radiusX, double radiusY, double from, double to)
    {
        int steps = Math.Max(6, (int)(Math.Abs(to - from) / 9));
        return [.. Enumerable.Range(0, steps + 1).Select(i => (from + (to - from) * i / steps) * Math.PI / 180)
            .Select(a => new Point(Math.Round(x + radiusX * Math.Cos(a), 2), Math.Round(y + radiusY * Math.Sin(a), 2)))];
    }
}
