using Allowance.Core.Forms;
using Allowance.Core.Setups;

namespace Allowance.Core.Tables;

/// <param name="Shown">What she rolled in this round; an empty place where she did not yet.</param>
/// <param name="Gaps">How far she was off in the rounds so far.</param>
/// <param name="Taken">Rounds that were hers.</param>
public sealed record NearPlace(int Seat, Item Shown, IReadOnlyList<int> Gaps, int Taken)
{
    /// <summary>What she plays to herself, where not all play to the same.</summary>
    public int? Own { get; init; }
}

/// <summary>A mark, and each one's number beneath it, with the list of how far off it was; a round that was hers is a filled dot.</summary>
/// <param name="Mark">Null where each plays to her own.</param>
/// <param name="Each">What each one's number is, in words.</param>
public sealed record NearMarks(string Label, int? Mark, IReadOnlyList<NearPlace> Places, string Each) : Zone(Label)
{
    private const double Wide = 96, High = 64, Gap = 12, Sign = 52, Letters = 11, Dots = 3;

    public override string Kind => "near";

    public override Sits Sits => Sits.Things;

    public override IReadOnlyList<Item> Items => [.. Places.Select(p => p.Shown)];

    internal override Laid Lay(double width, Pen pen)
    {
        int columns = Math.Clamp((int)((width + Gap) / (Wide + Gap)), 1, Places.Count), rows = (Places.Count + columns - 1) / columns;
        columns = (Places.Count + rows - 1) / rows;
        double wide = Math.Max(Sign, columns * (Wide + Gap) - Gap), top = Mark is null ? 0 : Sign + Gap, letters = Math.Max(Letters, pen.Letters), list = 1.4 * letters;
        // Longer lists go on in another line.
        int abreast = Math.Max(1, (int)(Wide / (1.9 * letters))), lines = (Places.Max(p => p.Gaps.Count) + abreast - 1) / abreast;
        double each = pen.Line + High + 4 + Math.Max(1, lines) * list + 2 * Dots + Gap;
        return new(wide, top + rows * each - Gap, sketch =>
        {
            if (Mark is { } mark)
            {
                // A flag on the number that is aimed at.
                sketch.Rect((wide - Sign) / 2, 0, Sign, Sign - 14, Role.Card, 3);
                sketch.Line((wide - Sign) / 2, 0, (wide - Sign) / 2, Sign, Role.Heavy);
                sketch.Words($"{mark}", wide / 2, (Sign - 14) / 2 + 8, 22, Role.Strong);
            }
            for (int i = 0; i < Places.Count; i++) Draw(sketch, pen, Places[i], i % columns * (Wide + Gap), top + i / columns * each, letters, list, abreast, lines);
        });
    }

    private void Draw(Sketch sketch, Pen pen, NearPlace place, double x, double y, double letters, double list, int abreast, int lines)
    {
        sketch.Label(pen.By.Name(place.Seat), x + Wide / 2, y, Wide);
        var shown = place.Shown;
        sketch.Begin($"near {place.Seat}", shown.Value);
        sketch.Rect(x, y + pen.Line, Wide, High, shown.State == ItemState.Up ? Role.Card : Role.Place, 3);
        if (shown.State == ItemState.Up) sketch.Number(shown, x + 5, y + pen.Line + 5, Wide - 10, High - 10, 0);
        sketch.Tap(x, y + pen.Line, Wide, High, shown, "near", shown.State == ItemState.Up ? Each : "an empty place");
        sketch.Begin(null);
        double under = y + pen.Line + High + 4, each = Wide / abreast;
        if (place.Own is { } own) sketch.Words($"to {own}", x + Wide / 2, under + letters, letters, Role.Label);
        for (int i = 0; i < place.Gaps.Count; i++) sketch.Words($"{place.Gaps[i]}", x + (i % abreast + .5) * each, under + i / abreast * list + letters, letters, Role.Label);
        for (int i = 0; i < place.Taken; i++) sketch.Disc(x + Dots + i * Math.Min(3 * Dots, (Wide - 2 * Dots) / Math.Max(1, place.Taken - 1)), under + Math.Max(1, lines) * list + Dots, Dots, Role.Cab);
    }
}
