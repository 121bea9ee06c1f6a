using Allowance.Core.Forms;
using Allowance.Core.Setups;

namespace Allowance.Core.Tables;

/// <summary>How a card is drawn: of the size of a playing card, lying across where all show something wide.</summary>
internal static class CardShape
{
    public const double Short = 60, Long = 84, Gap = 6, Corner = 4;

    /// <summary>Forms whose pictures are much wider than high.</summary>
    public static bool IsWide(Form form) => form is Form.Row or Form.Domino or Form.FiveFrame or Form.TenFrame or Form.Rack or Form.Bar or Form.Line or Form.Fingers or Form.Tally or Form.Equation or Form.Word;

    public static (double Width, double Height) Size(bool wide) => wide ? (Long, Short) : (Short, Long);

    /// <param name="other">It has the other of two backs.</param>
    /// <param name="called">What it is called among its like: card 3.</param>
    /// <param name="held">It is only looked at.</param>
    /// <param name="part">How large it is drawn, 1 as it is.</param>
    public static void Draw(Sketch sketch, Item item, double x, double y, bool wide, string called, bool other = false, bool held = false, double part = 1)
    {
        var (width, height) = Size(wide);
        (width, height) = (part * width, part * height);
        double edge = 6 * part;
        if (item.State == ItemState.Gone) return;
        sketch.Begin($"card {item.Id}", (int)item.State);
        sketch.Rect(x, y, width, height, item.State switch { ItemState.Marked => Role.Place, ItemState.Down => other ? Role.OtherBack : Role.Back, _ => Role.Card }, Corner);
        if (item is { State: ItemState.Up, Form: Form.None, Words: { } words }) sketch.Words(words, x + width / 2, y + height / 2 + .2 * width, words.Length == 1 ? .6 * width : .24 * width, Role.Strong);
        else if (item.State == ItemState.Up && item.Value >= 0) sketch.Number(item.Form, item.Value, x + edge, y + edge, width - 2 * edge, height - 2 * edge, sketch.Pen.By.Picture(item, true));
        string says = item.State switch { ItemState.Marked => called, ItemState.Down => $"{called}, face down", _ when item.Form is Form.Numeral or Form.None => $"{called}: {item.Shows}", _ => $"{called}, {item.Shows}" };
        sketch.Tap(x, y, width, height, item, held ? "held" : "card", says);
        sketch.Begin(null);
    }
}

/// <summary>Cards in rows and columns. Where there is no room for all columns they are laid narrower, or as seen from the side.</summary>
public sealed record CardGrid(string Label, int Columns, IReadOnlyList<Item> Cards) : Zone(Label)
{
    public override string Kind => "grid";

    public override Sits Sits => Sits.Cards;

    public override IReadOnlyList<Item> Items => Cards;

    /// <summary>All cards show wide pictures, or will.</summary>
    public bool Wide { get; init; }

    /// <summary>Cards have two backs; those at the odd places the second.</summary>
    public bool TwoBacks { get; init; }

    /// <summary>What stands above the cards; null for nothing.</summary>
    public string? Caption { get; init; }

    /// <summary>Whether cards in these forms are all wide.</summary>
    public static bool AreWide(params Form[] forms) => Array.TrueForAll(forms, CardShape.IsWide);

    internal override Laid Lay(double width, Pen pen)
    {
        var (w, h) = CardShape.Size(Wide);
        int rows = (Cards.Count + Columns - 1) / Columns, room = Math.Max(1, (int)((width + CardShape.Gap) / (w + CardShape.Gap)));
        int columns = room >= Math.Max(rows, Columns) ? Math.Max(rows, Columns) : Math.Min(room, Columns);
        int deep = (Cards.Count + columns - 1) / columns;
        double all = columns * (w + CardShape.Gap) - CardShape.Gap, top = Caption is null ? 0 : pen.Line + CardShape.Gap;
        return new(all, top + deep * (h + CardShape.Gap) - CardShape.Gap, sketch =>
        {
            if (Caption is not null) sketch.Label(Caption, all / 2, 0, all);
            for (int i = 0; i < Cards.Count; i++)
                CardShape.Draw(sketch, Cards[i], i % columns * (w + CardShape.Gap), top + i / columns * (h + CardShape.Gap), Wide, $"card {Cards[i].Id + 1}", TwoBacks && (Cards[i].Id & 1) == 1);
        });
    }
}

/// <summary>Cards in a row, each with those beneath it that belong there, small and two by two where they are several, and an empty place for the next.</summary>
public sealed record CardRow(string Label, IReadOnlyList<Item> Above, IReadOnlyList<IReadOnlyList<Item>> Below) : Zone(Label)
{
    public override string Kind => "row";

    public override Sits Sits => Sits.Cards;

    public override IReadOnlyList<Item> Items => [.. Above, .. Below.SelectMany(b => b)];

    /// <summary>So many lie beneath each in the end.</summary>
    public int Most { get; init; } = 1;

    internal override Laid Lay(double width, Pen pen)
    {
        const double w = CardShape.Short, h = CardShape.Long, gap = CardShape.Gap, apart = 3 * CardShape.Gap, close = gap / 2;
        int columns = Math.Clamp((int)((width + gap) / (w + gap)), 1, Above.Count), bands = (Above.Count + columns - 1) / columns, abreast = Math.Min(2, Most);
        columns = (Above.Count + bands - 1) / bands;
        double part = abreast == 1 ? 1 : (w - close) / 2 / w, band = h + gap + (Most + abreast - 1) / abreast * (part * h + close) - close + apart;
        return new(columns * (w + gap) - gap, bands * band - apart, sketch =>
        {
            for (int i = 0; i < Above.Count; i++)
            {
                double x = i % columns * (w + gap), y = i / columns * band;
                CardShape.Draw(sketch, Above[i], x, y, false, $"{(Above[i].State == ItemState.Marked ? "empty place" : "card")} {i + 1}");
                for (int k = 0; k < Below[i].Count; k++)
                    CardShape.Draw(sketch, Below[i][k], x + k % abreast * (part * w + close), y + h + gap + k / abreast * (part * h + close), false, Below[i][k].State == ItemState.Marked ? $"empty place below {i + 1}" : $"card below {i + 1}", part: part);
            }
        });
    }
}

/// <summary>What somebody holds, or has turned up.</summary>
public sealed record Hand(string Label, int Seat, IReadOnlyList<Item> Cards) : Zone(Label)
{
    public override string Kind => "hand";

    public override Sits Sits => Sits.Cards;

    public override IReadOnlyList<Item> Items => Cards;

    /// <summary>So few cards lie in one row, whatever the room.</summary>
    private const int Unbroken = 3;

    /// <summary>A sign is laid after this hand, between it and the next.</summary>
    public bool BeforeSign { get; init; }

    internal override Laid Lay(double width, Pen pen)
    {
        bool wide = Cards.All(c => CardShape.IsWide(c.Form));
        var (w, h) = CardShape.Size(wide);
        double sign = BeforeSign ? SignPlace.Side + 2 * CardShape.Gap : 0;
        int columns = Math.Clamp((int)((width - sign + CardShape.Gap) / (w + CardShape.Gap)), Math.Min(Unbroken, Cards.Count), Cards.Count), rows = (Cards.Count + columns - 1) / columns;
        double hand = columns * (w + CardShape.Gap) - CardShape.Gap;
        return new(hand + sign, pen.Line + rows * (h + CardShape.Gap) - CardShape.Gap, sketch =>
        {
            sketch.Label(pen.By.Name(Seat), hand / 2, 0, hand);
            for (int i = 0; i < Cards.Count; i++) CardShape.Draw(sketch, Cards[i], i % columns * (w + CardShape.Gap), pen.Line + i / columns * (h + CardShape.Gap), wide, $"card {Cards[i].Id + 1}", held: !Cards.Any(c => c.CanTap));
            if (BeforeSign) SignPlace.Draw(sketch, hand + CardShape.Gap, pen.Line + (rows * h - SignPlace.Side) / 2);
        });
    }
}

/// <summary>Where a sign card is laid: more, fewer, the same.</summary>
internal static class SignPlace
{
    public const double Side = 34;

    public static void Draw(Sketch sketch, double x, double y)
    {
        sketch.Rect(x, y, Side, Side, Role.Place, 2);
        // More or fewer, not yet said which: the same sign both ways, one over the other.
        foreach (int way in new[] { -1, 1 })
            sketch.Path([new(x + Side / 2 - way * 9, y + 9), new(x + Side / 2 + way * 9, y + Side / 2), new(x + Side / 2 - way * 9, y + Side - 9)], Role.Thin);
    }
}

/// <summary>Small cards linked to a chain, in the order in which they came.</summary>
/// <param name="Closed">The last one leads back to the first.</param>
public sealed record CardChain(string Label, IReadOnlyList<Item> Cards, bool Closed) : Zone(Label)
{
    private const double Size = .55, Link = 8;

    public override string Kind => "chain";

    public override Sits Sits => Sits.Cards;

    public override IReadOnlyList<Item> Items => Cards;

    internal override Laid Lay(double width, Pen pen)
    {
        const double w = CardShape.Short * Size + 8, h = CardShape.Long * Size, each = w + Link;
        int columns = Math.Clamp((int)((width + Link) / each), 1, Cards.Count), rows = (Cards.Count + columns - 1) / columns;
        return new(columns * each - Link, rows * (h + Link) - Link + (Closed ? Link : 0), sketch =>
        {
            for (int i = 0; i < Cards.Count; i++)
            {
                var (x, y) = At(i);
                sketch.Begin($"card {Cards[i].Id}");
                sketch.Rect(x, y, w, h, Role.Card, 2);
                sketch.Number(Cards[i].Form, Cards[i].Value, x + 3, y + 3, w - 6, h - 6, pen.By.Picture(Cards[i], true));
                sketch.Tap(x, y, w, h, Cards[i], "card", $"card {Cards[i].Id + 1}: {Cards[i].Shows}");
                sketch.Begin(null);
                if (i == 0) continue;
                var (bx, by) = At(i - 1);
                // Rows run to and fro, so the next one is beside the last or just below it.
                if (by < y) sketch.Line(x + w / 2, y - Link, x + w / 2, y, Role.Heavy);
                else sketch.Line(Math.Min(bx, x) + w, y + h / 2, Math.Max(bx, x), y + h / 2, Role.Heavy);
            }
            if (!Closed) return;
            var (lastX, lastY) = At(Cards.Count - 1);
            double bottom = rows * (h + Link) - Link + Link / 2;
            sketch.Path([new(lastX + w / 2, lastY + h), new(lastX + w / 2, bottom), new(w / 2, bottom), new(w / 2, rows == 1 ? h : bottom - 1)], Role.Heavy);
        });

        (double X, double Y) At(int index)
        {
            int row = index / columns, column = index % columns;
            return ((row % 2 == 0 ? column : columns - 1 - column) * each, row * (h + Link));
        }
    }
}

/// <summary>Cards that are still to come, face down on each other.</summary>
public sealed record Pile(string Label, int Count) : Zone(Label)
{
    public override string Kind => "pile";

    public override Sits Sits => Sits.Deck;

    /// <summary>Whose pile it is, where everybody has one.</summary>
    public int? Of { get; init; }

    internal override Laid Lay(double width, Pen pen)
    {
        const double w = CardShape.Short * .7, h = CardShape.Long * .7;
        int layers = Math.Min(3, Count);
        return new(w + 6, h + 6 + pen.Line, sketch =>
        {
            if (Count == 0) sketch.Rect(3, 3, w, h, Role.Place, CardShape.Corner);
            for (int i = 0; i < layers; i++) sketch.Rect(2 * (layers - 1 - i), 2 * (layers - 1 - i), w, h, Role.Back, CardShape.Corner);
            string left = Count == 0 ? "none" : $"{Count}";
            sketch.Label(Of is { } seat ? $"{pen.By.Name(seat)}: {left}" : left, (w + 6) / 2, h + 6, w + 6);
        });
    }
}

/// <summary>Somebody's board with panes to cover.</summary>
public sealed record Board(string Label, int Seat, int Columns, IReadOnlyList<Item> Panes) : Zone(Label)
{
    public override string Kind => "board";

    public override Sits Sits => Sits.Cards;

    public override IReadOnlyList<Item> Items => Panes;

    internal override Laid Lay(double width, Pen pen)
    {
        const double pane = 42;
        int rows = (Panes.Count + Columns - 1) / Columns;
        double side = Columns * pane + 8;
        return new(side, pen.Line + rows * pane + 8, sketch =>
        {
            sketch.Label(pen.By.Name(Seat), side / 2, 0, side);
            sketch.Rect(0, pen.Line, side, rows * pane + 8, Role.Card, CardShape.Corner);
            for (int i = 0; i < Panes.Count; i++)
            {
                var item = Panes[i];
                double x = 4 + i % Columns * pane, y = pen.Line + 4 + i / Columns * pane;
                bool covered = item.State == ItemState.Taken;
                sketch.Rect(x, y, pane, pane, Role.Section);
                if (item.Value >= 0) sketch.Number(item.Form, item.Value, x + 5, y + 5, pane - 10, pane - 10, pen.By.Picture(item, true));
                if (covered) sketch.Disc(x + pane / 2, y + pane / 2, pane / 2 - 4, Role.Covered);
                string what = item.Value < 0 && item.Words is null ? "free" : item.Shows;
                sketch.Tap(x, y, pane, pane, item, "pane", $"pane {i + 1}: {what}{(covered ? ", covered" : "")}", Role.Section);
            }
        });
    }
}

/// <summary>Cards that were turned up one upon another, the last on top, and beside them a slip with what they make together: open, or turned over.</summary>
/// <param name="Together">Null where that is seen otherwise.</param>
public sealed record TurnedPile(string Label, Item? Top, int Under, Item? Together) : Zone(Label)
{
    private const double Slip = 64, Edge = 6;

    public override string Kind => "turned";

    public override Sits Sits => Sits.Cards;

    public override IReadOnlyList<Item> Items => [.. new[] { Top, Together }.OfType<Item>()];

    internal override Laid Lay(double width, Pen pen)
    {
        bool wide = Top is not null && CardShape.IsWide(Top.Form);
        var (w, h) = CardShape.Size(wide);
        int layers = Math.Min(3, Under);
        double left = 3 * layers, slip = Slip + 26, all = left + w + (Together is null ? 0 : CardShape.Gap + slip);
        return new(all, Math.Max(h + left, Slip), sketch =>
        {
            for (int i = 0; i < layers; i++) sketch.Rect(3 * i, 3 * (layers - i), w, h, Role.Card, CardShape.Corner);
            if (Top is { } top) CardShape.Draw(sketch, top, left, 0, wide, "the card", held: true);
            else sketch.Rect(left, 0, w, h, Role.Place, CardShape.Corner);
            if (Together is not { } together) return;
            double x = left + w + CardShape.Gap, y = (Math.Max(h + left, Slip) - Slip) / 2;
            sketch.Begin("together", together.State == ItemState.Up ? together.Value : -1);
            sketch.Rect(x, y, slip, Slip, together.State == ItemState.Up ? Role.Card : Role.Back, 2);
            if (together.State == ItemState.Up) sketch.Number(together, x + Edge, y + Edge, slip - 2 * Edge, Slip - 2 * Edge, 0);
            // A slip that is turned over is told by its folded corner.
            else sketch.Path([new(x + slip - 16, y), new(x + slip - 16, y + 16), new(x + slip, y + 16)], Role.Line, closed: true);
            sketch.Tap(x, y, slip, Slip, together, "together", together.State == ItemState.Up ? $"what they make together: {together.Shows}" : "what they make together, turned over");
            sketch.Begin(null);
        });
    }
}
