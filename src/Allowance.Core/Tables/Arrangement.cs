using Allowance.Core.Forms;

namespace Allowance.Core.Tables;

/// <summary>
/// Finds how the zones of a table lie so that all is as large as the room allows: in rows from the top, or with the first one
/// beside the others; for many widths, of which the best is taken.
/// </summary>
internal static class Arrangement
{
    private const double Margin = 8, Gap = 12, Narrowest = 90, Widest = 3000, Wider = 1.09;

    /// <summary>A drawing is not smaller than this, so that a single die does not fill a screen.</summary>
    private const double LeastWidth = 150, LeastHeight = 105;

    private static readonly double[] Beside = [.22, .3, .38, .5];

    private sealed record Placed(double Width, double Height, IReadOnlyList<(int Zone, Laid Laid, double X, double Y)> Zones);

    public static Drawing Of(IReadOnlyList<Zone> zones, Room room, DrawnBy by)
    {
        var pen = new Pen(by, 7);
        var best = Best(zones, room, pen);
        // Words that would be too small are written larger, which takes room from the rest; where a room is upright there is some below.
        for (int attempt = 0; attempt < 4 && pen.Letters * Scale(best, room) < Room.LeastLetters && pen.Letters < 40; attempt++)
        {
            pen = pen with { Letters = Math.Min(40, 1.02 * Room.LeastLetters / Scale(best, room)), Breaks = room.Height > room.Width };
            best = Best(zones, room, pen);
        }
        double ratio = room.Width / room.Height, width = Math.Max(best.Width + 2 * Margin, LeastWidth), height = Math.Max(best.Height + 2 * Margin, LeastHeight);
        (width, height) = width / height < ratio ? (height * ratio, height) : (width, width / ratio);
        double left = (width - best.Width) / 2, top = (height - best.Height) / 2;
        return new(width, height, [.. best.Zones.OrderBy(z => z.Zone).Select(z => Draw(zones[z.Zone], z.Laid, left + z.X, top + z.Y, pen))]);
    }

    private static Part Draw(Zone zone, Laid laid, double x, double y, Pen pen)
    {
        var sketch = new Sketch(pen, x, y);
        laid.Draw(sketch);
        return new(zone, new Extent(x, y, x + laid.Width, y + laid.Height), sketch.Shapes, sketch.Taps);
    }

    /// <summary>Points to a millimetre.</summary>
    private static double Scale(Placed placed, Room room) => Math.Min(room.Width / Math.Max(LeastWidth, placed.Width + 2 * Margin), room.Height / Math.Max(LeastHeight, placed.Height + 2 * Margin));

    private static Placed Best(IReadOnlyList<Zone> zones, Room room, Pen pen)
    {
        Placed? best = null;
        double scale = 0, oddness = double.MaxValue;
        for (double width = Narrowest; width < Widest; width *= Wider)
        {
            Consider(Rows(zones, 0, width, pen));
            if (zones.Count < 2) continue;
            foreach (double share in Beside)
            {
                var first = zones[0].Lay(share * width, pen);
                var others = Rows(zones, 1, width - first.Width - Gap, pen);
                double height = Math.Max(first.Height, others.Height);
                Consider(new(first.Width + Gap + others.Width, height,
                    [(0, first, 0, (height - first.Height) / 2), .. others.Zones.Select(z => (z.Zone, z.Laid, z.X + first.Width + Gap, z.Y + (height - others.Height) / 2))]));
            }
        }
        return best!;

        void Consider(Placed placed)
        {
            double its = Scale(placed, room), odd = Math.Abs(Math.Log(placed.Width * room.Height / (placed.Height * room.Width)));
            // Of equally large ones, the one that has the shape of the room.
            if (its > scale * (1 + 1e-9) || its > scale * (1 - 1e-9) && odd < oddness) (best, scale, oddness) = (placed, its, odd);
        }
    }

    /// <summary>From left to right and row by row, each row in the middle.</summary>
    private static Placed Rows(IReadOnlyList<Zone> zones, int from, double width, Pen pen)
    {
        var rows = new List<List<(int Zone, Laid Laid)>>();
        double used = 0;
        for (int zone = from; zone < zones.Count; zone++)
        {
            var own = zones[zone].Lay(width, pen);
            double rest = width - used - Gap;
            if (rows.Count > 0 && (own.Width <= rest ? own : zones[zone].Lay(rest, pen)) is var beside && beside.Width <= rest && beside.Height <= 1.5 * Math.Max(own.Height, rows[^1].Max(z => z.Laid.Height)))
            {
                rows[^1].Add((zone, beside));
                used += Gap + beside.Width;
                continue;
            }
            rows.Add([(zone, own)]);
            used = own.Width;
        }
        double all = rows.Count == 0 ? 0 : rows.Max(r => r.Sum(z => z.Laid.Width) + Gap * (r.Count - 1)), y = 0;
        var placed = new List<(int, Laid, double, double)>();
        foreach (var row in rows)
        {
            double high = row.Max(z => z.Laid.Height), x = (all - row.Sum(z => z.Laid.Width) - Gap * (row.Count - 1)) / 2;
            foreach (var (zone, laid) in row)
            {
                placed.Add((zone, laid, x, y + (high - laid.Height) / 2));
                x += laid.Width + Gap;
            }
            y += high + Gap;
        }
        return new(all, Math.Max(0, y - Gap), placed);
    }
}
