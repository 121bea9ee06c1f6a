using Allowance.Core.Numbers;

namespace Allowance.Core.Forms;

/// <summary>A mark of a picture, in units of a box 100 high. Only marks with <see cref="Counts"/> make up the number.</summary>
public abstract record Mark(bool Counts);

public sealed record Dot(double X, double Y, double Radius, bool Counts = true) : Mark(Counts);

/// <param name="Filled">Filled, or only an outline.</param>
public sealed record Block(double X, double Y, double Width, double Height, double Corner, bool Filled, bool Counts) : Mark(Counts);

/// <param name="Heavy">A heavier line, as after each five.</param>
public sealed record Stroke(double X1, double Y1, double X2, double Y2, bool Heavy) : Mark(false);

public sealed record Glyph(string Text, double X, double Y, double Size) : Mark(false);

/// <summary>How a number is drawn in a form: marks in a box, without any thought of screen or paper.</summary>
public sealed record Picture(double Width, double Height, IReadOnlyList<Mark> Marks)
{
    /// <summary>How many things the picture shows.</summary>
    public int Count => Marks.Count(m => m.Counts);
}

/// <summary>Which finger goes up first; a full hand before the next.</summary>
public enum FingerOrder { Thumb, Index, Little }

/// <summary>Draws numbers in the forms that cards can carry. The same number and seed give the same picture.</summary>
public static class Pictures
{
    public static bool CanDraw(Form form, int n) => n >= form.Facts().Low && n <= Math.Min(form.Facts().High, form == Form.Dice ? 12 : 20);

    /// <summary>The picture of a number, or the numeral where the form does not reach so far.</summary>
    public static Picture Of(Form form, int n, long seed = 0, FingerOrder fingers = FingerOrder.Thumb) => !CanDraw(form, n) ? Numeral(n) : form switch
    {
        Form.Dice => Dice(n),
        Form.Domino => Domino(n),
        Form.Scatter or Form.Objects => Scatter(n, seed),
        Form.TenFrame => Frame(n, 1),
        Form.DoubleTenFrame => Frame(n, 2),
        Form.Row => Row(n),
        Form.Fingers => Hands(n, fingers),
        _ => Numeral(n),
    };

    private static Picture Numeral(int n) => new(100, 100, [new Glyph(n.ToString(), 50, 76, 74)]);

    private static readonly (double X, double Y)[][] Faces =
    [
        [], [(50, 50)], [(25, 25), (75, 75)], [(25, 25), (50, 50), (75, 75)], [(25, 25), (75, 25), (25, 75), (75, 75)],
        [(25, 25), (75, 25), (50, 50), (25, 75), (75, 75)], [(25, 22), (75, 22), (25, 50), (75, 50), (25, 78), (75, 78)],
    ];

    private static IEnumerable<Mark> Face(int n, double y) =>
        [new Block(3, y + 3, 94, 94, 16, false, false), .. Faces[n].Select(p => new Dot(p.X, y + p.Y, 10))];

    /// <summary>One die, or two one above the other, as a card is higher than wide.</summary>
    private static Picture Dice(int n) => n <= 6
        ? new(100, 100, [.. Face(n, 0)])
        : new(100, 206, [.. Face(6, 0), .. Face(n - 6, 106)]);

    private static Picture Domino(int n)
    {
        int left = (n + 1) / 2;
        return new(196, 100, [new Block(3, 3, 190, 94, 8, false, false), new Stroke(98, 3, 98, 97, false),
            .. Faces[left].Select(p => new Dot(p.X, p.Y, 10)), .. Faces[n - left].Select(p => new Dot(96 + p.X, p.Y, 10))]);
    }

    /// <summary>
    /// Loose dots that neither touch nor line up by accident: each is tried at random places until it is far enough from
    /// the others; the box is kept, so the spread alone does not tell the number.
    /// </summary>
    private static Picture Scatter(int n, long seed)
    {
        double radius = n <= 6 ? 8 : n <= 12 ? 7 : 6;
        for (int attempt = 0; ; attempt++)
        {
            var rng = Rng.ForGame(seed * 64 + n, attempt);
            var dots = new List<Dot>();
            for (int tries = 0; tries < 400 && dots.Count < n; tries++)
            {
                double x = 12 + 76 * rng.Unit(), y = 12 + 76 * rng.Unit();
                if (dots.TrueForAll(d => Distance(d, x, y) > 2.5 * radius) && !InLine(dots, x, y)) dots.Add(new(x, y, radius));
            }
            if (dots.Count == n || attempt > 200) return new(100, 100, [.. dots]);
        }
    }

    private static double Distance(Dot d, double x, double y) => Math.Sqrt((d.X - x) * (d.X - x) + (d.Y - y) * (d.Y - y));

    /// <summary>Three dots close to one straight line would look like a row; only few dots can keep clear of it.</summary>
    private static bool InLine(List<Dot> dots, double x, double y)
    {
        if (dots.Count is < 2 or > 5) return false;
        for (int i = 0; i < dots.Count; i++)
            for (int j = 0; j < i; j++)
            {
                double area = Math.Abs((dots[j].X - dots[i].X) * (y - dots[i].Y) - (x - dots[i].X) * (dots[j].Y - dots[i].Y));
                if (area < 260) return true;
            }
        return false;
    }

    private static Picture Frame(int n, int frames)
    {
        var marks = new List<Mark>();
        for (int f = 0; f < frames; f++)
        {
            double top = f * 92;
            for (int box = 0; box < 10; box++)
            {
                double x = 5 + box % 5 * 38, y = top + 5 + box / 5 * 38;
                marks.Add(new Block(x, y, 38, 38, 0, false, false));
                if (f * 10 + box < n) marks.Add(new Dot(x + 19, y + 19, 13));
            }
            marks.Add(new Stroke(5, top + 43, 195, top + 43, true));
        }
        return new(200, frames * 92 - 6, marks);
    }

    private static Picture Row(int n)
    {
        double width = Math.Max(100, 30 * n + 10);
        return new(width, 40, [.. Enumerable.Range(0, n).Select(i => new Dot((width - 30 * n) / 2 + 15 + 30 * i, 20, 10))]);
    }

    /// <summary>Two hands, and for more than ten two feet under them. Left hand first, unless fingers run across from its little finger.</summary>
    private static Picture Hands(int n, FingerOrder order)
    {
        int hands = Math.Min(n, 10), toes = n - hands;
        var marks = new List<Mark>();
        marks.AddRange(Hand(4, Math.Min(5, hands), order, false));
        marks.AddRange(Hand(108, Math.Max(0, hands - 5), order == FingerOrder.Little ? FingerOrder.Thumb : order, true));
        if (toes == 0) return new(204, 100, marks);
        for (int t = 0; t < 10; t++)
        {
            bool raised = t < toes;
            marks.Add(new Block(8 + t * 18 + (t >= 5 ? 10 : 0), 106, 15, 20, 7, raised, raised));
        }
        return new(204, 130, marks);
    }

    private static readonly double[] FingerTops = [46, 12, 4, 10, 24];

    /// <summary>One hand, thumb inside; lowered fingers are short outlines.</summary>
    private static IEnumerable<Mark> Hand(double left, int up, FingerOrder order, bool right)
    {
        // Fingers from the thumb (0) to the little finger (4).
        int[] rising = order switch { FingerOrder.Thumb => [0, 1, 2, 3, 4], FingerOrder.Index => [1, 2, 3, 4, 0], _ => [4, 3, 2, 1, 0] };
        yield return new Block(left + 10, 62, 72, 34, 12, false, false);
        for (int finger = 0; finger < 5; finger++)
        {
            bool raised = Array.IndexOf(rising, finger) < up;
            int place = right ? finger : 4 - finger;
            double top = raised ? FingerTops[finger] : 56;
            yield return new Block(left + 4 + place * 17.5, top, 14, 66 - top, 7, raised, raised);
        }
    }
}
