using Allowance.Core.Forms;
using Allowance.Core.Setups;

namespace Allowance.Core.Tables;

/// <summary>Gates in a row, each with its number on a board above: an open one stands ajar, a shut one is barred.</summary>
/// <param name="Seat">Whose they are; null where they are everybody's.</param>
public sealed record GateFence(string Label, IReadOnlyList<Item> Gates, int? Seat = null) : Zone(Label)
{
    private const double Wide = 40, High = 78, Gap = 8, Sign = 30, Post = 5;

    public override string Kind => "gates";

    public override Sits Sits => Sits.Things;

    public override IReadOnlyList<Item> Items => Gates;

    internal override Laid Lay(double width, Pen pen)
    {
        // A row that is broken more than once is no row any more.
        int columns = Math.Clamp((int)((width + Gap) / (Wide + Gap)), (Gates.Count + 1) / 2, Gates.Count), rows = (Gates.Count + columns - 1) / columns;
        columns = (Gates.Count + rows - 1) / rows;
        double label = Seat is null ? 0 : pen.Line, all = columns * (Wide + Gap) - Gap;
        return new(all, label + rows * (High + Gap) - Gap, sketch =>
        {
            if (Seat is { } seat) sketch.Label(pen.By.Name(seat), all / 2, 0, all);
            for (int i = 0; i < Gates.Count; i++) Draw(sketch, Gates[i], i % columns * (Wide + Gap), label + i / columns * (High + Gap));
        });
    }

    private void Draw(Sketch sketch, Item gate, double x, double y)
    {
        bool open = gate.State == ItemState.Up;
        sketch.Begin($"gate {Seat ?? 0} {gate.Id}", open ? 1 : 0);
        double top = y + Sign + 4, bottom = y + High;
        sketch.Rect(x + 3, y, Wide - 6, Sign, open ? Role.Card : Role.Place, 3);
        if (open) sketch.Number(gate, x + 6, y + 3, Wide - 12, Sign - 6, 0);
        else sketch.Words($"{gate.Value}", x + Wide / 2, y + Sign / 2 + 5, 13, Role.Label);
        sketch.Rect(x, top, Post, bottom - top, Role.Heavy);
        sketch.Rect(x + Wide - Post, top, Post, bottom - top, Role.Heavy);
        if (open)
        {
            // The leaf is swung back to its post, and the way through is free.
            sketch.Path([new(x + Post, top + 6), new(x + Post + 8, top + 12), new(x + Post + 8, bottom), new(x + Post, bottom - 6)], Role.Door, closed: true);
        }
        else
        {
            sketch.Rect(x + Post, top + 6, Wide - 2 * Post, bottom - top - 12, Role.Door);
            for (double bar = x + Post + 7; bar < x + Wide - Post - 3; bar += 8) sketch.Line(bar, top + 8, bar, bottom - 8, Role.Thin);
            sketch.Line(x + Post + 1, bottom - 8, x + Wide - Post - 1, top + 8, Role.Line);
        }
        sketch.Tap(x, y, Wide, High, gate, "gate", open ? $"gate {gate.Value}, open" : $"gate {gate.Value}, shut");
        sketch.Begin(null);
    }
}
