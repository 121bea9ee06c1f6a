using Allowance.Core.Forms;
using Allowance.Core.Setups;

namespace Allowance.Core.Tables;

/// <summary>A house front with two doors, and what is behind them: an open door shows its part, a closed one hides it, and behind an empty one a part is still to be put.</summary>
/// <param name="Whole">The number on the board above; null where nobody has said it.</param>
public sealed record DoorFront(string Label, Item? Whole, Item Left, Item Right) : Zone(Label)
{
    private const double Room = 92, High = 96, Wall = 10, Sign = 44, Lintel = 12;

    public override string Kind => "doors";

    public override Sits Sits => Sits.Things;

    public override IReadOnlyList<Item> Items => Whole is null ? [Left, Right] : [Left, Right, Whole];

    internal override Laid Lay(double width, Pen pen)
    {
        double wide = 2 * Room + 3 * Wall, top = Sign + Lintel;
        return new(wide, top + High + Wall, sketch =>
        {
            sketch.Path([new(0, top), new(wide / 2, 0), new(wide, top)], Role.Wall, closed: true);
            sketch.Rect(0, top, wide, High + Wall, Role.Wall);
            double middle = (wide - Sign) / 2;
            sketch.Rect(middle, 14, Sign, Sign - 6, Whole is null ? Role.Place : Role.Card, 3);
            if (Whole is { } whole)
            {
                sketch.Number(whole, middle + 4, 17, Sign - 8, Sign - 12, 0);
                sketch.Tap(middle, 14, Sign, Sign - 6, whole, "whole", $"{whole.Value} in all");
            }
            Draw(sketch, Left, Wall, top + Wall, leafAtLeft: true, "left");
            Draw(sketch, Right, 2 * Wall + Room, top + Wall, leafAtLeft: false, "right");
        });
    }

    private static void Draw(Sketch sketch, Item part, double x, double y, bool leafAtLeft, string side)
    {
        double high = High - Wall;
        sketch.Begin($"door {part.Id}", (int)part.State);
        if (part.State == ItemState.Down)
        {
            sketch.Rect(x, y, Room, high, Role.Door);
            sketch.Rect(x + 12, y + 10, Room - 24, high / 2 - 16, Role.Thin);
            sketch.Rect(x + 12, y + high / 2 + 4, Room - 24, high / 2 - 16, Role.Thin);
            sketch.Disc(leafAtLeft ? x + Room - 8 : x + 8, y + high / 2, 3, Role.Cab);
        }
        else
        {
            sketch.Rect(x, y, Room, high, part.State == ItemState.Marked ? Role.Place : Role.Card);
            // The leaf stands out into the room before the house.
            double hinge = leafAtLeft ? x : x + Room, edge = leafAtLeft ? x + 9 : x + Room - 9;
            sketch.Path([new(hinge, y), new(edge, y + 8), new(edge, y + high), new(hinge, y + high)], Role.Door, closed: true);
            if (part is { State: ItemState.Up, Words: null }) sketch.Number(part, leafAtLeft ? x + 13 : x + 4, y + 6, Room - 17, high - 12, sketch.Pen.By.Picture(part, true));
        }
        sketch.Tap(x, y, Room, high, part, "door", part.State switch { ItemState.Down => $"the {side} door, closed", ItemState.Marked => $"the {side} door, open and empty", _ => $"the {side} door: {part.Shows}" });
        sketch.Begin(null);
    }
}

/// <summary>How many ways were found: a little pair of rooms for each, filled when it was.</summary>
public sealed record WaysFound(string Label, int Found, int All) : Zone(Label)
{
    private const double Side = 14, Gap = 8;

    public override string Kind => "found";

    public override Sits Sits => Sits.Game;

    internal override Laid Lay(double width, Pen pen)
    {
        int columns = Math.Clamp((int)((width + Gap) / (2 * Side + Gap)), 1, All), rows = (All + columns - 1) / columns;
        return new(columns * (2 * Side + Gap) - Gap, rows * (Side + Gap) - Gap, sketch =>
        {
            for (int i = 0; i < All; i++)
                for (int half = 0; half < 2; half++)
                    sketch.Rect(i % columns * (2 * Side + Gap) + half * Side, i / columns * (Side + Gap), Side, Side, i < Found ? Role.Cab : Role.Place, 2);
        });
    }
}

/// <summary>Two people with a card on the forehead each, as one of them sees it: her own card by its back, the other's open.</summary>
/// <param name="Heads">Whose they are, with the card; null for a grown-up who has no place here.</param>
public sealed record Foreheads(string Label, IReadOnlyList<(int? Seat, Item Card)> Heads) : Zone(Label)
{
    private const double Wide = 116, Card = 44, Tall = 54, Head = 37, Crown = 12, Shoulders = Crown + 2 * Head + 6, Below = 16, Hand = 5.5;

    public override string Kind => "foreheads";

    public override Sits Sits => Sits.Cards;

    public override IReadOnlyList<Item> Items => [.. Heads.Select(h => h.Card)];

    internal override Laid Lay(double width, Pen pen) => new(Heads.Count * Wide, Shoulders + Below + pen.Line, sketch =>
    {
        for (int i = 0; i < Heads.Count; i++)
        {
            var (seat, card) = Heads[i];
            double middle = (i + .5) * Wide, x = middle - Card / 2, held = x + Card;
            // The card covers the forehead, and a hand holds it there.
            sketch.Disc(middle, Crown + Head, Head, Role.Ring);
            sketch.Disc(middle - 11, Crown + Head + 13, 2.6, Role.Cab);
            sketch.Disc(middle + 11, Crown + Head + 13, 2.6, Role.Cab);
            sketch.Path([.. Enumerable.Range(-2, 5).Select(p => new Point(middle + 4 * p, Crown + Head + 27 - .9 * p * p))], Role.Line);
            sketch.Path([new(middle - 40, Shoulders + Below), new(middle - 26, Shoulders), new(middle + 26, Shoulders), new(middle + 40, Shoulders + Below)], Role.Line);
            sketch.Path([new(middle + 32, Shoulders + 6), new(middle + 52, Shoulders - 14), new(held + 3, Tall - 8)], Role.Line);
            sketch.Begin($"card {card.Id}", (int)card.State);
            sketch.Rect(x, 0, Card, Tall, card.State == ItemState.Down ? Role.Back : Role.Card, 4);
            if (card.State == ItemState.Up) sketch.Number(card, x + 5, 5, Card - 10, Tall - 10, 0);
            sketch.Tap(x, 0, Card, Tall, card, "worn", card.State == ItemState.Down ? "her own card, from behind" : $"the other card: {card.Shows}");
            sketch.Begin(null);
            sketch.Disc(held + 1, Tall - 10, Hand, Role.Card);
            sketch.Label(seat is { } at ? pen.By.Name(at) : "you", middle, Shoulders + Below, Wide);
        }
    });
}
