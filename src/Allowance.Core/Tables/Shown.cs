using Allowance.Core.Forms;
using Allowance.Core.Setups;

namespace Allowance.Core.Tables;

/// <summary>What is shown or called, large.</summary>
public sealed record Stage(string Label, IReadOnlyList<Item> Shown) : Zone(Label)
{
    private const double Edge = 8, High = 96;

    public override string Kind => "stage";

    public override Sits Sits => Sits.Cards;

    public override IReadOnlyList<Item> Items => Shown;

    /// <summary>Signs between the items: 3 + 2. After one that stands last there is a place for what comes out: 3 + 2 =.</summary>
    public IReadOnlyList<string> Between { get; init; } = [];

    internal override Laid Lay(double width, Pen pen)
    {
        var pictures = Shown.Select(i => Pictures.Of(i.Form, i.Value, pen.By.Picture(i, false), pen.By.Style)).ToList();
        const double sign = 26;
        var widths = pictures.ConvertAll(p => Math.Clamp((High - 2 * Edge) * p.Width / p.Height, 60, 260) + 2 * Edge);
        if (Between.Count > 0 && Between.Count == widths.Count) widths.Add(widths.Max());
        // Side by side where there is room, and one below the other where there is none: then a sign stands before the next one.
        double across = widths.Sum() + 6 * (widths.Count - 1) + sign * Between.Count;
        bool stacked = across > width && widths.Count > 1;
        double before = stacked && Between.Count > 0 ? sign : 0;
        return new(stacked ? before + widths.Max() : across, stacked ? widths.Count * (High + 6) - 6 : High, sketch =>
        {
            double x = before, y = 0;
            for (int i = 0; i < widths.Count; i++)
            {
                sketch.Rect(x, y, widths[i], High, i < Shown.Count ? Role.Card : Role.Place, 4);
                if (i < Shown.Count)
                {
                    sketch.Number(Shown[i], x + Edge, y + Edge, widths[i] - 2 * Edge, High - 2 * Edge, pen.By.Picture(Shown[i], false));
                    sketch.Tap(x, y, widths[i], High, Shown[i], "shown", Shown[i].Shows);
                }
                if (i < Between.Count)
                    sketch.Words(Between[i], stacked ? sign / 2 : x + widths[i] + 3 + sign / 2, y + High / 2 + 9 + (stacked ? High + 6 : 0), 26, Role.Strong);
                if (stacked) y += High + 6;
                else x += widths[i] + 6 + (i < Between.Count ? sign : 0);
            }
        });
    }
}

/// <summary>A fist whose thumb points up, down or to the side.</summary>
/// <param name="Way">1 up, −1 down, 0 to the side.</param>
public sealed record Thumb(string Label, int Way) : Zone(Label)
{
    private const double Side = 90, Fist = 38, Wide = 46;

    public override string Kind => "thumb";

    public override Sits Sits => Sits.Game;

    internal override Laid Lay(double width, Pen pen) => new(Side, Side, sketch =>
    {
        double left = (Side - Wide) / 2, top = (Side - Fist) / 2;
        sketch.Begin("thumb", Way);
        if (Way == 0) sketch.Rect(2, Side / 2 - 8, left + 6, 15, Role.Cab, 7);
        else sketch.Rect(Side / 2 - 14, Way > 0 ? 4 : Side / 2, 15, Side / 2 - 4, Role.Cab, 7);
        sketch.Begin(null);
        sketch.Rect(left, top, Wide, Fist, Role.Card, 9);
        for (int finger = 1; finger < 4; finger++) sketch.Line(left + Wide - 20, top + finger * Fist / 4, left + Wide - 2, top + finger * Fist / 4, Role.Heavy);
    });
}

/// <summary>Dice as they lie.</summary>
public sealed record DiceRolled(string Label, IReadOnlyList<Item> Dice) : Zone(Label)
{
    private const double Side = 36, Gap = 8;

    public override string Kind => "dice";

    public override Sits Sits => Sits.Dice;

    public override IReadOnlyList<Item> Items => Dice;

    /// <summary>A sign is laid between the first two.</summary>
    public bool SignBetween { get; init; }

    /// <summary>The colours that the last one shows, each with its place among those of the heap.</summary>
    public IReadOnlyList<(string Colour, int Kind)> Patches { get; init; } = [];

    internal override Laid Lay(double width, Pen pen)
    {
        double sign = SignBetween ? SignPlace.Side + Gap : 0;
        var widths = Dice.Select((d, i) => !IsPatched(i) && d.Words is { } words ? Math.Max(Side, Lettering.Width(words, 12) + 8) : Side).ToList();
        return new(widths.Sum() + Gap * Math.Max(0, Dice.Count - 1) + sign, Side, sketch =>
        {
            double x = 0;
            for (int i = 0; i < Dice.Count; i++)
            {
                var die = Dice[i];
                sketch.Rect(x, 0, widths[i], Side, die.State == ItemState.Marked ? Role.Place : Role.Die, 6);
                if (IsPatched(i))
                    for (int p = 0; p < Patches.Count; p++) sketch.Counter(Patches[p].Colour, Patches[p].Kind, x + (p + 1) * Side / (Patches.Count + 1), Side / 2, Patches.Count == 1 ? 12 : 7, 0);
                else if (die.Words is { } words) sketch.Words(words, x + widths[i] / 2, Side / 2 + 4, 12, Role.Word);
                else if (die.State != ItemState.Marked) sketch.Number(die.Form, die.Value, x + 3, 3, widths[i] - 6, Side - 6);
                sketch.Tap(x, 0, widths[i], Side, die, "die", die.State == ItemState.Marked ? "the die that is turned" : die.Form == Form.Dice ? "a die" : die.Shows, Role.Die);
                x += widths[i] + Gap;
                if (i > 0 || !SignBetween) continue;
                SignPlace.Draw(sketch, x, (Side - SignPlace.Side) / 2);
                x += SignPlace.Side + Gap;
            }
        });
    }

    private bool IsPatched(int die) => die == Dice.Count - 1 && Patches.Count > 0;
}

/// <summary>Ways to choose from: up or down, a colour, who it was.</summary>
public sealed record ChoiceKeys(string Label, IReadOnlyList<Item> Choices) : Zone(Label)
{
    private const double High = 30, Letters = 13, Gap = 8;

    public override string Kind => "ways";

    public override Sits Sits => Sits.Game;

    public override IReadOnlyList<Item> Items => Choices;

    /// <summary>The ways are players.</summary>
    public bool ArePlayers { get; init; }

    /// <summary>Nothing is chosen here but to break off: without it the turn goes on as it would.</summary>
    public bool BreaksOff { get; init; }

    /// <summary>A key for each who may have been first in a race.</summary>
    /// <param name="from">Item ids are seats from this one on.</param>
    public static ChoiceKeys WhoWasFirst(IEnumerable<int> seats, int from = 0) =>
        new("Who said it first", [.. seats.Select(seat => new Item(from + seat, seat, Form.None, ItemState.Up, true))]) { ArePlayers = true };

    /// <summary>So wide a key may be where there is less room.</summary>
    private const double Least = 84;

    internal override Laid Lay(double width, Pen pen)
    {
        string Says(Item item) => ArePlayers ? pen.By.Name(item.Value) : item.Shows;
        double letters = Math.Max(Letters, pen.Letters), high = Math.Max(High, 3.4 * letters);
        double widest = Choices.Max(c => Lettering.Width(Says(c), letters)), each = Math.Min(Math.Max(60, widest + 16), Math.Max(Least, width));
        // A key says all it says, in smaller letters where there is less room.
        letters *= Math.Min(1, (each - 8) / widest);
        int columns = Math.Clamp((int)((width + Gap) / (each + Gap)), 1, Choices.Count), rows = (Choices.Count + columns - 1) / columns;
        return new(columns * (each + Gap) - Gap, rows * (high + Gap) - Gap, sketch =>
        {
            for (int i = 0; i < Choices.Count; i++)
            {
                double x = i % columns * (each + Gap), y = i / columns * (high + Gap);
                sketch.Rect(x, y, each, high, Role.Key, 2);
                sketch.Words(Says(Choices[i]), x + each / 2, y + high / 2 + .35 * letters, letters, Role.Word);
                sketch.Tap(x, y, each, high, Choices[i], "way", Says(Choices[i]), Role.Key);
            }
        });
    }
}

/// <summary>What is told of each one's place, a line each.</summary>
public sealed record Told(string Label, IReadOnlyList<(int Seat, string Says)> Places) : Zone(Label)
{
    /// <summary>Beyond that width a long name is cut rather than everything else made smaller.</summary>
    private const int MostLetters = 20;

    public override string Kind => "told";

    public override Sits Sits => Sits.Place;

    internal override Laid Lay(double width, Pen pen)
    {
        double letters = Math.Max(pen.Letters, 9), line = 1.5 * letters;
        var says = Places.Select(p => Places.Count == 1 ? p.Says : $"{pen.By.Name(p.Seat)}: {p.Says}").ToList();
        double wide = Math.Min(Math.Max(width, MostLetters * letters), says.Max(s => Lettering.Width(s, letters)) + 4);
        return new(wide, says.Count * line, sketch =>
        {
            for (int i = 0; i < says.Count; i++) sketch.Words(Lettering.Fit(says[i], letters, wide), wide / 2, i * line + letters, letters, Role.Label);
        });
    }
}

/// <summary>Each one's number on a sheet of paper, and the number to come home to.</summary>
public sealed record NumbersOnPaper(string Label, int Home, IReadOnlyList<(int Seat, int Number)> Places) : Zone(Label)
{
    private const double Wide = 52, High = 40, House = 56, Gap = 12, Letters = 20;

    public override string Kind => "paper";

    public override Sits Sits => Sits.Line;

    internal override Laid Lay(double width, Pen pen)
    {
        int columns = Math.Clamp((int)((width - House) / (Wide + Gap)), 1, Places.Count), rows = (Places.Count + columns - 1) / columns;
        double each = pen.Line + High + Gap, high = Math.Max(House, rows * each - Gap);
        return new(House + columns * (Wide + Gap), high, sketch =>
        {
            double top = (high - House) / 2;
            sketch.Path([new(4, top + House - 2), new(4, top + 20), new(House / 2, top + 2), new(House - 4, top + 20), new(House - 4, top + House - 2)], Role.Home, closed: true);
            sketch.Words($"{Home}", House / 2, top + House - 14, Letters, Role.Word);
            for (int i = 0; i < Places.Count; i++)
            {
                double x = House + Gap + i % columns * (Wide + Gap), y = i / columns * each;
                sketch.Label(pen.By.Name(Places[i].Seat), x + Wide / 2, y, Wide);
                sketch.Begin($"paper {Places[i].Seat}", Places[i].Number);
                sketch.Rect(x, y + pen.Line, Wide, High, Role.Card);
                sketch.Words(Places[i].Number < 0 ? $"−{-Places[i].Number}" : $"{Places[i].Number}", x + Wide / 2, y + pen.Line + High / 2 + .35 * Letters, Letters, Role.Word);
                sketch.Begin(null);
            }
        });
    }
}
