using Allowance.Core.Forms;

namespace Allowance.Core.Tables;

/// <summary>Collects the shapes of one zone, from its top left corner.</summary>
internal sealed class Sketch(Pen pen, double left, double top)
{
    private readonly List<DrawnShape> shapes = [];
    private readonly List<Tap> taps = [];

    private (string? Of, int? At) now;

    public Pen Pen => pen;

    /// <summary>What is drawn from here on is a part of this.</summary>
    public void Begin(string? of, int? at = null) => now = (of, at);

    private void Add(DrawnShape shape) => shapes.Add(shape with { Of = now.Of, At = now.At });

    public IReadOnlyList<DrawnShape> Shapes => shapes;

    public IReadOnlyList<Tap> Taps => taps;

    /// <summary>A box by its corner and size.</summary>
    private Extent Box(double x, double y, double width, double height) => new(left + x, top + y, left + x + width, top + y + height);

    public void Rect(double x, double y, double width, double height, Role role, double corner = 0, int tint = 0) => Add(new RectShape(Box(x, y, width, height), corner, role, tint));

    public void Disc(double x, double y, double radius, Role role, int tint = 0) => Add(new DiscShape(left + x, top + y, radius, role, tint));

    public void Path(IEnumerable<Point> points, Role role, bool closed = false, int tint = 0) => Add(new PathShape([.. points.Select(p => new Point(left + p.X, top + p.Y))], closed, role, tint));

    public void Line(double x1, double y1, double x2, double y2, Role role) => Path([new(x1, y1), new(x2, y2)], role);

    public void Words(string words, double x, double y, double size, Role role = Role.Label, int tint = 0) => Add(new WordsShape(words, left + x, top + y, size, role, tint));

    /// <summary>Labels are written so much smaller before they are cut.</summary>
    private const double Smallest = .6;

    /// <summary>A label in the middle of a line of its own: smaller where it is long, and cut where it is too long for that.</summary>
    public void Label(string words, double middle, double y, double width)
    {
        double size = Math.Max(Smallest * pen.Letters, Lettering.Size(words, pen.Letters, width));
        Words(Lettering.Fit(words, size, width), middle, y + pen.Letters, size);
    }

    public void Number(Form form, int n, double x, double y, double width, double height, long seed = 0) =>
        Add(new PictureShape(Pictures.Of(form, n, seed, pen.By.Style), Box(x, y, width, height)));

    /// <summary>An item's number, with what was added to it or goes away.</summary>
    public void Number(Item item, double x, double y, double width, double height, long seed)
    {
        var picture = Pictures.Of(item.Form, item.Value, seed, pen.By.Style);
        Add(new PictureShape(item.Change != 0 && item.Form == Form.Rack ? picture.WithApart(Math.Abs(item.Change)) : item.Change > 0 ? picture.WithAdded(item.Change) : item.Change < 0 ? picture.WithStruck(-item.Change) : picture, Box(x, y, width, height)));
    }

    public void Thing(ThingKind kind, double x, double y, double radius, double turn) => Add(new ThingShape(kind, left + x, top + y, radius, turn));

    public void Tap(double x, double y, double width, double height, Item item, string id, string says, Role role = Role.Card) => taps.Add(new(Box(x, y, width, height), item, id, says, role));

    /// <summary>Things as they lie in a round heap: each next one further out, turned by the golden angle, so that they spread evenly and make no rows.</summary>
    /// <param name="reach">How far the heap may spread from its middle.</param>
    /// <param name="largest">The largest radius of a thing.</param>
    public void Spread(IReadOnlyList<Lot> lots, double x, double y, double reach, double largest)
    {
        int all = lots.Sum(l => l.Count);
        if (all == 0) return;
        // Of such a spiral, neighbours are about 1.7 steps apart.
        double radius = Math.Min(largest, all == 1 ? reach : reach / (1 + 1.2 * Math.Sqrt(all))), step = 1.22 * radius;
        int k = 0;
        for (int lot = 0; lot < lots.Count; lot++)
            for (int n = 0; n < lots[lot].Count; n++, k++)
            {
                double angle = k * 2.39996, out_ = all == 1 ? 0 : step * Math.Sqrt(k + .4);
                Counter(lots[lot].Colour, lot, x + out_ * Math.Cos(angle), y + out_ * Math.Sin(angle), radius, 40 * k);
            }
    }

    /// <summary>Things laid out to be counted: rows of five, two beside each other, in a square from its corner.</summary>
    /// <param name="largest">The largest radius of a thing.</param>
    public void Fives(IReadOnlyList<Lot> lots, double x, double y, double side, double largest)
    {
        int all = lots.Sum(l => l.Count), k = 0;
        if (all == 0) return;
        int across = all <= 25 ? 1 : all <= 100 ? 2 : 4, rows = (all + 5 * across - 1) / (5 * across);
        // Between two fives lies half a thing's room.
        double each = Math.Min(2.1 * largest, Math.Min(side / (5 * across + .5 * (across - 1)), side / rows));
        for (int lot = 0; lot < lots.Count; lot++)
            for (int n = 0; n < lots[lot].Count; n++, k++)
            {
                int five = k / 5, column = five % across;
                Counter(lots[lot].Colour, lot, x + (5 * column + k % 5 + .5 * column + .5) * each, y + (five / across + .5) * each, each / 2.1, 0);
            }
    }

    /// <summary>A thing of the drawer; one of a colour is a counter in it, with a pattern of its own.</summary>
    public void Counter(string colour, int kind, double x, double y, double radius, double turn)
    {
        if (colour.Length == 0)
        {
            Thing(ThingKind.Tag, x, y, radius, turn);
            return;
        }
        Disc(x, y, radius, Role.Counter, 1 + Colours.Of(colour));
        double r = .55 * radius;
        switch (kind % 6)
        {
            case 1: Disc(x, y, .35 * radius, Role.Pattern); break;
            case 2: Line(x - r, y, x + r, y, Role.Pattern); break;
            case 3: Path([new(x - r, y), new(x + r, y)], Role.Pattern); Path([new(x, y - r), new(x, y + r)], Role.Pattern); break;
            case 4: Line(x - r, y - .3 * radius, x + r, y - .3 * radius, Role.Pattern); Line(x - r, y + .3 * radius, x + r, y + .3 * radius, Role.Pattern); break;
            case 5: Path([new(x - r, y + .4 * radius), new(x, y - .5 * radius), new(x + r, y + .4 * radius)], Role.Pattern); break;
        }
    }
}

/// <summary>Colours that a counter can be drawn in, by their words.</summary>
public static class Colours
{
    public static IReadOnlyList<string> Known { get; } = ["other", "red", "yellow", "blue", "green", "orange", "purple", "pink", "brown", "black", "white", "grey"];

    /// <summary>Its place among those; 0 for any other word.</summary>
    public static int Of(string word) => Math.Max(0, Known.ToList().IndexOf(word));
}
