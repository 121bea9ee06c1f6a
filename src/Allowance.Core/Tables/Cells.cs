using Allowance.Core.Forms;
using Allowance.Core.Setups;

namespace Allowance.Core.Tables;

/// <param name="Number">What stands in it.</param>
/// <param name="Owner">Whose marker lies there; null where it is free.</param>
/// <param name="Locked">Two markers lie there, and nobody comes in any more.</param>
/// <param name="InLine">It is one of the line that has won.</param>
public sealed record Cell(Item Number, int? Owner, bool Locked, bool InLine = false);

/// <summary>A board of cells that all play on, with everyone's markers: a number stays in view beside its marker, and a lock is drawn around both.</summary>
public sealed record CellBoard(string Label, int Columns, IReadOnlyList<Cell> Cells) : Zone(Label)
{
    private const double Side = 46, Marker = 9;

    public override string Kind => "cells";

    public override Sits Sits => Sits.Cards;

    public override IReadOnlyList<Item> Items => [.. Cells.Select(c => c.Number)];

    internal override Laid Lay(double width, Pen pen)
    {
        int rows = (Cells.Count + Columns - 1) / Columns;
        return new(Columns * Side + 8, rows * Side + 8, sketch =>
        {
            sketch.Rect(0, 0, Columns * Side + 8, rows * Side + 8, Role.Card, 4);
            for (int i = 0; i < Cells.Count; i++) Draw(sketch, Cells[i], i, 4 + i % Columns * Side, 4 + i / Columns * Side);
        });
    }

    private static void Draw(Sketch sketch, Cell cell, int at, double x, double y)
    {
        var item = cell.Number;
        sketch.Rect(x, y, Side, Side, Role.Section);
        if (cell.Owner is null) sketch.Number(item, x + 6, y + 6, Side - 12, Side - 12, sketch.Pen.By.Picture(item, true));
        else sketch.Number(item, x + 4, y + 4, Side - 22, Side - 22, sketch.Pen.By.Picture(item, true));
        string name = "";
        if (cell.Owner is { } owner)
        {
            name = sketch.Pen.By.Name(owner);
            int tint = 1 + owner % 4;
            double cx = x + Side - Marker - 4, cy = y + Side - Marker - 4;
            if (cell.Locked || cell.InLine) sketch.Rect(x + 3, y + 3, Side - 6, Side - 6, Role.Heavy, 3);
            sketch.Begin($"marker {at}", owner);
            sketch.Disc(cx, cy, Marker, Role.Piece, tint);
            sketch.Words(name[..1], cx, cy + .4 * Marker, 1.1 * Marker, Role.Piece, tint);
            sketch.Begin(null);
        }
        sketch.Tap(x, y, Side, Side, item, "cell", $"cell {at + 1}: {item.Shows}{(cell.Owner is null ? "" : cell.Locked ? $", locked by {name}" : cell.InLine ? $", {name}, in the line" : $", {name}")}", Role.Section);
    }
}
