using Allowance.Core.Forms;
using Allowance.Core.Setups;

namespace Allowance.Core.Tables;

/// <summary>How bars are drawn: strips of unit squares, a heavier line after each five.</summary>
internal static class BarShape
{
    public const double Unit = 14;

    public static void Draw(Sketch sketch, double x, double y, int length, Role role)
    {
        sketch.Rect(x, y, length * Unit, Unit, role, 1);
        for (int i = 1; i < length; i++) sketch.Line(x + i * Unit, y + 1, x + i * Unit, y + Unit - 1, i % 5 == 0 ? Role.Heavy : Role.Thin);
    }
}

/// <summary>A strip of empty squares, as many as a number, with the number before it: bars are laid on it until it is full.</summary>
public sealed record BarStrip(string Label, int Number) : Zone(Label)
{
    private const double Sign = 40, Gap = 6;

    /// <summary>The bars that lie on it so far.</summary>
    public IReadOnlyList<int> Bars { get; init; } = [];

    public override string Kind => "strip";

    public override Sits Sits => Sits.Game;

    public override Zone With(IReadOnlyList<Item> picked) => this with { Bars = [.. picked.Where(i => i.Form == Form.Bar).Select(i => i.Value)] };

    internal override Laid Lay(double width, Pen pen)
    {
        // Where it is too long it goes on in the next line, after a full five.
        int abreast = Math.Max(5, (int)((width - Sign - Gap) / BarShape.Unit) / 5 * 5), lines = (Number + abreast - 1) / abreast;
        double high = Math.Max(Sign, lines * (BarShape.Unit + Gap) - Gap);
        return new(Sign + Gap + Math.Min(Number, abreast) * BarShape.Unit, high, sketch =>
        {
            sketch.Rect(0, (high - Sign) / 2, Sign, Sign, Role.Card, 3);
            sketch.Words($"{Number}", Sign / 2, high / 2 + 8, 22, Role.Strong);
            double top = (high - lines * (BarShape.Unit + Gap) + Gap) / 2;
            for (int line = 0; line < lines; line++) BarShape.Draw(sketch, Sign + Gap, top + line * (BarShape.Unit + Gap), Math.Min(abreast, Number - line * abreast), Role.Place);
            int at = 0;
            foreach (int bar in Bars)
                // One that does not go into a line goes on in the next.
                for (int end = Math.Min(Number, at + bar), here; at < end; at += here)
                {
                    here = Math.Min(end - at, abreast - at % abreast);
                    BarShape.Draw(sketch, Sign + Gap + at % abreast * BarShape.Unit, top + at / abreast * (BarShape.Unit + Gap), here, Role.Picked);
                }
        });
    }
}

/// <summary>Bars in rows, those of one length beside each other, and how many there are in all.</summary>
public sealed record BarsLying(string Label, IReadOnlyList<IReadOnlyList<Item>> Rows, int All) : Zone(Label)
{
    private const double Gap = 7;

    /// <summary>A finger may land so far beside a bar, which is low.</summary>
    private const double Beside = 2;

    public override string Kind => "bars";

    public override Sits Sits => Sits.Things;

    public override IReadOnlyList<Item> Items => [.. Rows.SelectMany(r => r)];

    internal override Laid Lay(double width, Pen pen)
    {
        var places = new List<(Item Bar, double X, double Y)>();
        double x = Beside, y = Beside, wide = 0;
        foreach (var row in Rows)
        {
            foreach (var bar in row)
            {
                double length = bar.Value * BarShape.Unit;
                if (x > Beside && x + length + Beside > width) (x, y) = (Beside, y + BarShape.Unit + Gap);
                places.Add((bar, x, y));
                wide = Math.Max(wide, x + length + Beside);
                x += length + Gap;
            }
            (x, y) = (Beside, y + BarShape.Unit + Gap);
        }
        string lie = All == 1 ? "1 bar lies there" : $"{All} bars lie there";
        wide = Math.Max(wide, Math.Min(width, Lettering.Width(lie, pen.Letters) + 4));
        return new(wide, y + pen.Line, sketch =>
        {
            foreach (var (bar, left, top) in places)
            {
                sketch.Begin($"bar {bar.Id}");
                BarShape.Draw(sketch, left, top, bar.Value, Role.Card);
                sketch.Tap(left - Beside, top - Beside, bar.Value * BarShape.Unit + 2 * Beside, BarShape.Unit + 2 * Beside, bar, "bar", bar.Shows);
                sketch.Begin(null);
            }
            sketch.Label(lie, wide / 2, y, wide);
        });
    }
}
