using Allowance.Core.Numbers;

namespace Allowance.Core.Forms;

/// <summary>Which finger goes up first; a full hand before the next.</summary>
public enum FingerOrder { Thumb, Index, Little }

/// <summary>How frames fill: along the row, or two by two.</summary>
public enum FrameFill { Rows, Twos }

/// <summary>Which places of a number line bear their number.</summary>
public enum LineLabels { All, Fives, Ends, None }

public enum LineShape { Straight, Upright, Winding }

/// <summary>Choices that go with a household or a setup, not with a number.</summary>
/// <param name="LineTo">Where a number line ends; 0 for the next of 10, 20, 30 and 100.</param>
/// <param name="LineFrom">Where a number line begins.</param>
/// <param name="HidesPlace">The place that a number line marks does not bear its number.</param>
public sealed record PictureStyle(
    FingerOrder Fingers = FingerOrder.Thumb, FrameFill Fill = FrameFill.Rows,
    LineLabels Labels = LineLabels.Fives, LineShape Shape = LineShape.Straight, int LineTo = 0, int LineFrom = 0, bool HidesPlace = true)
{
    /// <summary>Numbers that were taken away from a line.</summary>
    public IReadOnlyCollection<int> Away { get; init; } = [];

    public static PictureStyle Default { get; } = new();
}

/// <summary>
/// Draws every number in every form. Seed 0 gives the fixed picture, other seeds give many different ones; the same
/// number, seed and style give the same picture.
/// </summary>
public static class Pictures
{
    public static bool CanDraw(Form form, int n) => form != Form.None && n >= form.Facts().Low && n <= form.Facts().High;

    /// <summary>The picture of a number, or the numeral where the form does not reach so far.</summary>
    public static Picture Of(Form form, int n, long seed = 0, PictureStyle? style = null)
    {
        style ??= PictureStyle.Default;
        var rng = Rng.ForGame(seed, 100 * (int)form + n);
        bool fixedOne = seed == 0;
        return !CanDraw(form, n) ? Signs.Numeral(n) : form switch
        {
            Form.Objects => Loose.Things(n, seed),
            Form.Dice => Dots.Dice(n, fixedOne, ref rng),
            Form.Scatter => Loose.Dots(n, seed),
            Form.Row => Dots.Row(n, fixedOne, ref rng),
            Form.Twos => Dots.Twos(n, !fixedOne && rng.Below(2) == 1),
            Form.Domino => Dots.Domino(n, fixedOne, ref rng),
            Form.FiveFrame => Frames.Five(n, fixedOne, ref rng),
            Form.TenFrame => Frames.Tens(n, 1, style.Fill, fixedOne, ref rng),
            Form.DoubleTenFrame => Frames.Tens(n, 2, style.Fill, fixedOne, ref rng),
            Form.Fingers => Hands.Of(n, style.Fingers, fixedOne, ref rng),
            Form.Tally => Bundles.Tally(n, fixedOne, ref rng),
            Form.Rack => Bundles.Rack(n, fixedOne, ref rng),
            Form.Bar => Bundles.Bar(n, !fixedOne && rng.Below(2) == 1),
            Form.Line => Lines.Of(n, style),
            Form.Spots => Dots.Spots(n, fixedOne, ref rng),
            Form.Bond => Signs.Bond(n, fixedOne ? (n + 1) / 2 : rng.Below(n + 1)),
            Form.Word => Signs.Word(n),
            Form.Spoken => Signs.Spoken(),
            Form.Equation => Signs.Sum(n, fixedOne ? (n + 1) / 2 : rng.Below(n + 1)),
            _ => Signs.Numeral(n),
        };
    }
}
