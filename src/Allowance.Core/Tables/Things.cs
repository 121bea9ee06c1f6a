using Allowance.Core.Forms;
using Allowance.Core.Setups;

namespace Allowance.Core.Tables;

/// <summary>Things in a heap, or what somebody has gathered.</summary>
/// <param name="Seat">Whose they are; null for the heap in the middle.</param>
public sealed record Heap(string Label, IReadOnlyList<Lot> Lots, int? Seat = null) : Zone(Label)
{
    /// <summary>Of more things than this only so many are drawn, and their number is written.</summary>
    private const int MostDrawn = 240;

    public override string Kind => Seat is null ? "heap" : "collection";

    public override Sits Sits => Sits.Things;

    internal override Laid Lay(double width, Pen pen)
    {
        int all = Lots.Sum(l => l.Count), drawn = Math.Min(all, MostDrawn);
        double side = Seat is null ? 120 : 84, label = Seat is not null || all > MostDrawn ? pen.Line : 0;
        return new(side, side + label, sketch =>
        {
            if (Seat is { } seat) sketch.Label(pen.By.Name(seat), side / 2, 0, side);
            else if (label > 0) sketch.Label($"{all}", side / 2, 0, side);
            sketch.Rect(0, label, side, side, Seat is null ? Role.Cloth : Role.Tray, Seat is null ? side / 2 : 8);
            if (Seat is not null) sketch.Fives(Fewer(drawn), 5, label + 5, side - 10, 9);
            else sketch.Spread(Fewer(drawn), side / 2, label + side / 2, side / 2 - 6, Seat is null ? 11 : 9);
        });
    }

    private IReadOnlyList<Lot> Fewer(int most)
    {
        int all = Lots.Sum(l => l.Count);
        return all <= most ? Lots : [.. Lots.Select(l => l with { Count = l.Count * most / all })];
    }
}

/// <summary>Plates with things of one kind on them.</summary>
public sealed record Plates(string Label, IReadOnlyList<int> Counts) : Zone(Label)
{
    private const double Side = 110, Gap = 10;

    public override string Kind => "plates";

    public override Sits Sits => Sits.Things;

    internal override Laid Lay(double width, Pen pen)
    {
        int columns = Math.Clamp((int)((width + Gap) / (Side + Gap)), 1, Counts.Count), rows = (Counts.Count + columns - 1) / columns;
        columns = (Counts.Count + rows - 1) / rows;
        return new(columns * (Side + Gap) - Gap, rows * (Side + Gap) - Gap, sketch =>
        {
            for (int i = 0; i < Counts.Count; i++)
            {
                double x = i % columns * (Side + Gap) + Side / 2, y = i / columns * (Side + Gap) + Side / 2;
                sketch.Disc(x, y, Side / 2, Role.Plate);
                sketch.Disc(x, y, Side / 2 - 9, Role.Ring);
                sketch.Spread([new("", Counts[i])], x, y, Side / 2 - 14, 10);
            }
        });
    }
}

/// <param name="Says">What belongs in it.</param>
/// <param name="Holds">Cards that were sorted into it.</param>
/// <param name="IsAsked">A set is wanted in it.</param>
public sealed record SortingRing(string Says, IReadOnlyList<Item> Holds, bool IsAsked = false);

/// <summary>Rings of string with what was sorted into them.</summary>
public sealed record Rings(string Label, IReadOnlyList<SortingRing> All) : Zone(Label)
{
    private const double Side = 104, Gap = 10, Card = 46;

    public override string Kind => "rings";

    public override Sits Sits => Sits.Things;

    internal override Laid Lay(double width, Pen pen)
    {
        int columns = Math.Clamp((int)((width + Gap) / (Side + Gap)), 1, All.Count), rows = (All.Count + columns - 1) / columns;
        double high = Side + 2 * pen.Line;
        return new(columns * (Side + Gap) - Gap, rows * (high + Gap) - Gap, sketch =>
        {
            for (int i = 0; i < All.Count; i++)
            {
                double x = i % columns * (Side + Gap), y = i / columns * (high + Gap);
                var words = Split(All[i].Says, pen.Letters, Side);
                for (int line = 0; line < words.Count; line++) sketch.Label(words[line], x + Side / 2, y + (line + 2 - words.Count) * pen.Line, Side);
                y += 2 * pen.Line;
                if (All[i].IsAsked) sketch.Disc(x + Side / 2, y + Side / 2, Side / 2, Role.Picked);
                sketch.Disc(x + Side / 2, y + Side / 2, Side / 2, Role.Ring);
                var holds = All[i].Holds;
                // Rows of small cards, in the square that the ring has room for.
                int across = Math.Max(1, (int)Math.Ceiling(Math.Sqrt(holds.Count))), deep = (holds.Count + across - 1) / across;
                double each = Math.Min(Card, .7 * Side / across - 2);
                for (int k = 0; k < holds.Count; k++)
                {
                    double inRow = Math.Min(across, holds.Count - k / across * across);
                    double cx = x + Side / 2 + (k % across - (inRow - 1) / 2) * (each + 2) - each / 2, cy = y + Side / 2 + (k / across - (deep - 1) / 2.0) * (each + 2) - each / 2;
                    sketch.Rect(cx, cy, each, each, Role.Card, 1.5);
                    sketch.Number(holds[k].Form, holds[k].Value, cx + 2, cy + 2, each - 4, each - 4, pen.By.Picture(holds[k], true));
                }
            }
        });
    }

    /// <summary>One line, or two where one has no room.</summary>
    private static IReadOnlyList<string> Split(string words, double letters, double width)
    {
        if (Lettering.Width(words, letters) <= width) return [words];
        int at = words.LastIndexOf(' ');
        return at < 0 ? [words] : [words[..at], words[(at + 1)..]];
    }
}

/// <summary>Things in a row, of which some have gone to the side: in view, or from under a cloth.</summary>
/// <param name="Gone">How many of them went.</param>
public sealed record ThingRow(string Label, int Things, int Gone, bool Covered) : Zone(Label)
{
    private const double Each = 20;

    public override string Kind => "things";

    public override Sits Sits => Sits.Things;

    internal override Laid Lay(double width, Pen pen)
    {
        int most = Things > 10 ? 10 : Things, columns = Math.Clamp((int)(width / Each), Math.Min(5, most), most), rows = (Things + columns - 1) / columns;
        int beside = (Gone + columns - 1) / columns;
        double wide = columns * Each + 12, high = rows * Each + 12, aside = beside * Each + 6;
        return new(wide, high + 10 + aside, sketch =>
        {
            // Where they lay a trace stays; what is left stays in its place.
            sketch.Rect(0, 0, wide, high, Covered ? Role.Cloth : Role.Tray, 6);
            int left = Things - Gone;
            for (int i = 0; i < Things; i++)
            {
                double x = 6 + Each / 2 + i % columns * Each, y = 6 + Each / 2 + i / columns * Each;
                if (Covered) continue;
                if (i < left) sketch.Thing(ThingKind.Skittle, x, y, 8, 0);
                else sketch.Disc(x, y, 7, Role.Place);
            }
            if (Covered)
                for (double fold = 18; fold < wide - 8; fold += 24) sketch.Path([new(fold, 3), new(fold - 5, high / 2), new(fold + 3, high - 3)], Role.Thin);
            for (int i = 0; i < Gone; i++) sketch.Thing(ThingKind.Skittle, 6 + Each / 2 + i % columns * Each, high + 10 + Each / 2 + i / columns * Each, 8, 90);
        });
    }
}

/// <summary>A lidded box with slips, the way, and the rug with what was brought.</summary>
/// <param name="Rug">What lies on the rug.</param>
/// <param name="Drawn">Slips that were drawn; one that names a colour has its place among the lots of the rug as its value.</param>
public sealed record Trip(string Label, IReadOnlyList<Item> Drawn, IReadOnlyList<Lot> Rug) : Zone(Label)
{
    private const double Box = 70, Deep = 90, Way = 26, Wide = 150;

    public override string Kind => "rug";

    public override Sits Sits => Sits.Things;

    public override IReadOnlyList<Item> Items => Drawn;

    internal override Laid Lay(double width, Pen pen)
    {
        bool stacked = width < Box + Way + Wide;
        double slips = Drawn.Count * 36;
        double left = Math.Max(Box, slips), high = Deep + 52;
        double rugX = stacked ? 0 : left + Way, rugY = stacked ? high + Way : 10;
        double w = stacked ? Math.Max(left, Wide) : rugX + Wide, h = stacked ? rugY + 120 : Math.Max(high, 140);
        return new(w, h, sketch =>
        {
            // The box with its lid and a slot: what is in it is told elsewhere, so that no number stands beside the slip.
            sketch.Rect(0, 52, Box, Deep - 14, Role.Card, 3);
            sketch.Rect(-0.0, 44, Box, 12, Role.Back, 2);
            sketch.Line(Box / 2 - 14, 50, Box / 2 + 14, 50, Role.Heavy);
            for (int i = 0; i < Drawn.Count; i++)
            {
                double x = i * 36;
                sketch.Begin($"card {Drawn[i].Id}", (int)Drawn[i].State);
                sketch.Rect(x, 0, 32, 40, Drawn[i].State == ItemState.Down ? Role.Back : Role.Card, 1);
                if (Drawn[i].State == ItemState.Down) sketch.Path([new(x + 3, 3), new(x + 16, 20), new(x + 29, 3)], Role.Thin);
                else if (Drawn[i].Words is { } colour) sketch.Counter(colour, Drawn[i].Value, x + 16, 20, 11, 0);
                else sketch.Number(Drawn[i].Form, Drawn[i].Value, x + 3, 3, 26, 34);
                sketch.Tap(x, 0, 32, 40, Drawn[i], "slip", Drawn[i].State == ItemState.Down ? "a closed slip" : Drawn[i].Shows);
                sketch.Begin(null);
            }
            // Footsteps lead from the box to the rug.
            for (int step = 0; step < 3; step++)
            {
                if (stacked) sketch.Disc(Box / 2 + (step % 2 == 0 ? -4 : 4), high + 4 + step * 8, 2.5, Role.Arrow);
                else sketch.Disc(left + 4 + step * 8, high / 2 + 20 + (step % 2 == 0 ? -4 : 4), 2.5, Role.Arrow);
            }
            double rugH = stacked ? 120 : h - 20;
            sketch.Rect(rugX, rugY, Wide, rugH, Role.Rug, 2);
            for (double fringe = 6; fringe < Wide - 2; fringe += 9)
            {
                sketch.Line(rugX + fringe, rugY + 2, rugX + fringe, rugY + 8, Role.Thin);
                sketch.Line(rugX + fringe, rugY + rugH - 8, rugX + fringe, rugY + rugH - 2, Role.Thin);
            }
            sketch.Spread(Rug, rugX + Wide / 2, rugY + rugH / 2, Math.Min(Wide, rugH) / 2 - 12, 10);
        });
    }
}
