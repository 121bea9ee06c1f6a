using Allowance.Core.Numbers;

namespace Allowance.Core.Forms;

/// <summary>
/// Things lying loose: they neither touch nor form rows by accident, and how large they are and how far they spread
/// is drawn apart from how many there are, so that neither gives the number away.
/// </summary>
internal static class Loose
{
    /// <summary>The gap between two things, in radii from middle to middle.</summary>
    private const double Apart = 2.35;

    public static Picture Dots(int n, long seed)
    {
        var (places, radius) = Places(n, seed, 4.2, 8.5);
        return new(100, 100, [.. places.Select(p => new Dot(p.X, p.Y, radius))]);
    }

    /// <summary>Things of one kind from the drawer, each turned as it fell.</summary>
    public static Picture Things(int n, long seed)
    {
        var (places, radius) = Places(n, seed, 6.5, 11);
        var rng = Rng.ForGame(seed, -1 - n);
        var kind = (ThingKind)(seed == 0 ? 0 : rng.Below(4));
        return new(100, 100, [.. places.Select(p => new Thing(kind, p.X, p.Y, radius, Math.Round(rng.Unit() * 360)))]);
    }

    private static (List<Point> Places, double Radius) Places(int n, long seed, double least, double most)
    {
        for (int attempt = 0; ; attempt++)
        {
            var rng = Rng.ForGame(seed * 64 + n, attempt);
            // After many attempts things get smaller and lie wider, which always goes.
            double radius = Math.Max(least * .8, (least + (most - least) * rng.Unit()) * Math.Pow(.97, attempt / 4));
            double side = Math.Min(100, (55 + 45 * rng.Unit()) * Math.Pow(1.02, attempt / 4)), edge = radius + 1, room = side - 2 * edge;
            if (room * room < n * Math.Pow(Apart * radius, 2) * .9) continue;
            double left = edge + (100 - side) * rng.Unit(), top = edge + (100 - side) * rng.Unit();
            var places = new List<Point>();
            for (int tries = 0; tries < 20 * n && places.Count < n; tries++)
            {
                var at = new Point(left + room * rng.Unit(), top + room * rng.Unit());
                if (places.TrueForAll(p => p.To(at) > Apart * radius) && !MakesRow(places, at, n, attempt)) places.Add(at);
            }
            if (places.Count == n) return (places, radius);
        }
    }

    /// <summary>
    /// Whether three would stand in a row: nearly straight, the middle one about halfway. Of more than five only neighbours
    /// are looked at; more than ten lie so close that some always do, and less and less is asked of them.
    /// </summary>
    private static bool MakesRow(List<Point> places, Point at, int all, int attempt)
    {
        double reach = all < 6 ? 200 : 30, width = all <= 10 ? .08 : .08 - .01 * attempt;
        if (width <= 0) return false;
        for (int i = 0; i < places.Count; i++)
        {
            if (places[i].To(at) > 2 * reach) continue;
            for (int j = 0; j < places.Count; j++)
                if (i != j && (IsRow(places[i], places[j], at, reach, width) || i < j && IsRow(places[i], at, places[j], reach, width))) return true;
        }
        return false;
    }

    /// <summary>Whether the second of three points lies about halfway between the others and hardly beside the line.</summary>
    private static bool IsRow(Point a, Point middle, Point b, double reach, double width)
    {
        double length = a.To(b);
        if (length > 2 * reach) return false;
        double beside = Math.Abs((b.X - a.X) * (middle.Y - a.Y) - (middle.X - a.X) * (b.Y - a.Y)) / length;
        double along = ((middle.X - a.X) * (b.X - a.X) + (middle.Y - a.Y) * (b.Y - a.Y)) / (length * length);
        return along is > .36 and < .64 && beside < width * length;
    }
}
