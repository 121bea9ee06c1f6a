using Allowance.Core.Setups;

namespace Allowance.Core.Tables;

/// <summary>What was laid: on a beam the one card, and on the other side those that are as much together.</summary>
/// <param name="Cards">The whole one first.</param>
public sealed record BalancedCards(string Label, IReadOnlyList<Item> Cards) : Zone(Label)
{
    private const double Part = .6, Beam = 14, Middle = 34, Signs = 16, Letters = 16, Line = 22;

    /// <summary>How the others make the one, where they are not only added.</summary>
    public string? Equation { get; init; }

    public override string Kind => "balanced";

    public override Sits Sits => Sits.Things;

    public override IReadOnlyList<Item> Items => Cards;

    internal override Laid Lay(double width, Pen pen)
    {
        bool wide = Cards.All(c => CardShape.IsWide(c.Form));
        var (w, h) = CardShape.Size(wide);
        (w, h) = (Part * w, Part * h);
        double gap = Equation is null ? Signs : CardShape.Gap / 2, top = Equation is null ? 0 : Line;
        // The parts go on in another line where there is no room beside each other.
        int parts = Math.Max(1, Cards.Count - 1), abreast = Math.Clamp((int)((width - w - Middle + gap) / (w + gap)), 1, parts), lines = (parts + abreast - 1) / abreast;
        double right = abreast * (w + gap) - gap, high = top + lines * (h + gap) - gap, all = w + Middle + right;
        double says = Equation is null ? 0 : Lettering.Width(Equation, Letters), letters = Letters * Math.Min(1, (width - 4) / Math.Max(1, says)), left = Math.Max(0, (Math.Min(says, width - 4) + 4 - all) / 2);
        return new(all + 2 * left, high + Beam + 16, sketch =>
        {
            for (int i = 0; i < Cards.Count; i++)
            {
                int at = i - 1;
                double x = left + (i == 0 ? 0 : w + Middle + at % abreast * (w + gap)), y = i == 0 ? high - h : high - h - at / abreast * (h + gap);
                CardShape.Draw(sketch, Cards[i], x, y, wide, i == 0 ? "the whole" : "a part", held: true, part: Part);
                if (Equation is null && at > 0) sketch.Words("+", x - gap / 2, y + h / 2 + 6, 16, Role.Strong);
            }
            if (Equation is not null) sketch.Words(Equation, left + all / 2, Line - 6, letters, Role.Strong);
            sketch.Line(left, high + 4, left + all, high + 4, Role.Heavy);
            sketch.Path([new(left + all / 2, high + 4), new(left + all / 2 - 12, high + Beam + 12), new(left + all / 2 + 12, high + Beam + 12)], Role.Wall, closed: true);
            sketch.Words("=", left + w + Middle / 2, high - h / 2 + 8, 24, Role.Strong);
        });
    }
}

/// <summary>What was made last, written as an equation.</summary>
/// <param name="Seat">Who made it; null where it needs not be told.</param>
public sealed record Equation(string Label, string Says, int? Seat) : Zone(Label)
{
    private const double Letters = 18, Edge = 6;

    public override string Kind => "equation";

    public override Sits Sits => Sits.Things;

    internal override Laid Lay(double width, Pen pen)
    {
        // It is read whole: where there is no room it is written smaller.
        double letters = Lettering.Size(Says, Letters, Math.Max(width, Letters * 6) - 2 * Edge), wide = Lettering.Width(Says, letters) + 2 * Edge, top = Seat is null ? 0 : pen.Line;
        return new(wide, top + letters + 2 * Edge, sketch =>
        {
            if (Seat is { } seat) sketch.Label(pen.By.Name(seat), wide / 2, 0, wide);
            sketch.Words(Says, wide / 2, top + Edge + .85 * letters, letters, Role.Strong);
        });
    }
}

/// <summary>A mat with a place for the whole and one for each part: what was laid last lies on it, or it is empty.</summary>
/// <param name="Cards">The whole one first; none where nothing was laid.</param>
public sealed record PartsMat(string Label, IReadOnlyList<Item> Cards) : Zone(Label)
{
    private const double Part = .6, Edge = 8, LeastParts = 2;

    public override string Kind => "mat";

    public override Sits Sits => Sits.Things;

    public override IReadOnlyList<Item> Items => Cards;

    internal override Laid Lay(double width, Pen pen)
    {
        bool wide = Cards.Count > 0 && Cards.All(c => CardShape.IsWide(c.Form));
        var (w, h) = CardShape.Size(wide);
        (w, h) = (Part * w, Part * h);
        int parts = (int)Math.Max(LeastParts, Cards.Count - 1), abreast = Math.Clamp((int)((width - Edge) / (w + Edge)), Math.Min(2, parts), parts), lines = (parts + abreast - 1) / abreast;
        double across = abreast * (w + Edge) + Edge;
        return new(across, h + 2 * Edge + lines * (h + Edge) + Edge, sketch =>
        {
            // The whole is as broad as its parts.
            sketch.Rect(0, 0, across, h + 2 * Edge, Role.Place, 3);
            sketch.Rect(0, h + 2 * Edge, across, lines * (h + Edge) + Edge, Role.Place, 3);
            if (Cards.Count > 0) CardShape.Draw(sketch, Cards[0], (across - w) / 2, Edge, wide, "the whole", held: true, part: Part);
            for (int i = 0; i < parts; i++)
            {
                double x = Edge + i % abreast * (w + Edge), y = h + 3 * Edge + i / abreast * (h + Edge);
                if (i + 1 < Cards.Count) CardShape.Draw(sketch, Cards[i + 1], x, y, wide, "a part", held: true, part: Part);
                else sketch.Rect(x, y, w, h, Role.Section, CardShape.Corner);
            }
        });
    }
}
