using Allowance.Core.Forms;
using Allowance.Core.Setups;

namespace Allowance.Core.Tables;

/// <summary>A piece and where it stands.</summary>
/// <param name="Seat">Whose it is.</param>
/// <param name="At">The place or number.</param>
public sealed record Piece(int Seat, int At);

internal static class PieceShape
{
    /// <summary>Pieces that stand together, in rows within a square.</summary>
    public static void Draw(Sketch sketch, IReadOnlyList<Piece> together, double x, double y, double side)
    {
        int across = together.Count <= 1 ? 1 : together.Count <= 4 ? 2 : 3;
        double each = side / across, radius = Math.Min(.42 * each, 7);
        for (int i = 0; i < together.Count; i++)
        {
            double cx = x + (i % across + .5) * each, cy = y + (i / across + .5) * each;
            int tint = 1 + together[i].Seat % 4;
            sketch.Begin($"piece {together[i].Seat}", together[i].At);
            sketch.Disc(cx, cy, radius, Role.Piece, tint);
            sketch.Words(sketch.Pen.By.Name(together[i].Seat)[..1], cx, cy + .4 * radius, 1.1 * radius, Role.Piece, tint);
            sketch.Begin(null);
        }
    }
}

/// <summary>A track of sections, in rows that run to and fro, with everyone's piece; 0 is the start before the first section.</summary>
/// <param name="First">The number of the first section.</param>
/// <param name="Step">1 where numbers run upwards, −1 where they run downwards.</param>
public sealed record Track(string Label, int Length, int First, int Step, LineLabels Labels, IReadOnlyList<Piece> Pieces) : Zone(Label)
{
    private const double Cell = 26, Gap = 2;

    /// <summary>Of a very long track only the part around the pieces is drawn.</summary>
    private const int MostDrawn = 300;

    public override string Kind => "track";

    public override Sits Sits => Sits.Line;

    internal override Laid Lay(double width, Pen pen)
    {
        int furthest = Pieces.Max(p => p.At), from = Math.Max(0, Math.Min(furthest - MostDrawn / 2, Length - MostDrawn)), to = Math.Min(Length, from + MostDrawn), places = to - from + 1;
        int most = Math.Clamp((int)(width / Cell), Math.Min(places, 4), places), rows = (places + most - 1) / most, inRow = (places + rows - 1) / rows;
        return new(inRow * Cell, rows * (Cell + Gap) - Gap, sketch =>
        {
            for (int place = from; place <= to; place++)
            {
                var (x, y) = At(place - from);
                bool end = place == Length;
                sketch.Begin($"place {place}");
                if (place == 0) sketch.Rect(x + 1, y + 1, Cell - 2, Cell - 2, Role.Place, Cell / 2);
                else sketch.Rect(x + 1, y + 1, Cell - 2, Cell - 2, end ? Role.End : Role.Section, 1);
                sketch.Begin(null);
                if (place > 0 && Bears(place) is { } number) sketch.Words(number, x + Cell / 2, y + Cell - 4, Lettering.Size(number, 9, Cell - 4), Role.Number);
                // Where a row ends, the way goes on to the one below.
                if (place > from && (place - from) % inRow == 0) sketch.Line(x + Cell / 2, y - Gap - 1, x + Cell / 2, y + 1, Role.Heavy);
            }
            foreach (var together in Pieces.Where(p => p.At >= from).GroupBy(p => p.At))
            {
                var (x, y) = At(together.Key - from);
                PieceShape.Draw(sketch, [.. together], x + 6, y + 2, Cell - 12);
            }
        });

        (double X, double Y) At(int index)
        {
            int row = index / inRow, column = index % inRow;
            return ((row % 2 == 0 ? column : inRow - 1 - column) * Cell, row * (Cell + Gap));
        }
    }

    private string? Bears(int place)
    {
        int number = First + Step * (place - 1);
        return Labels switch { LineLabels.All => true, LineLabels.Fives => number % 5 == 0, LineLabels.Ends => place == 1 || place == Length, _ => false } ? number.ToString() : null;
    }
}

/// <param name="By">How many, and which way.</param>
public readonly record struct Jump(int From, int By);

/// <summary>A number line, in one row or in several where it is long, with pieces, a home, flags, a marker, jumps and covered numbers.</summary>
public sealed record NumberLine(string Label, int Low, int High, LineLabels Labels) : Zone(Label)
{
    private const double Space = 15, Above = 30, Below = 17, Apart = 6, Flag = 10, Side = 14, Rise = 12.5;

    /// <summary>So many pieces stand one above the other; more begin another stack.</summary>
    private const int MostStacked = 4;
    private const int MostDrawn = 400, Unbroken = 22, Few = 4, Shared = 3;

    public override string Kind => "line";

    public override Sits Sits => Sits.Line;

    public IReadOnlyList<Piece> Pieces { get; init; } = [];

    /// <summary>The number to come home to.</summary>
    public int? Home { get; init; }

    /// <summary>Numbers with a flag, which somebody plays to.</summary>
    public IReadOnlyCollection<int> Flagged { get; init; } = [];

    /// <summary>Numbers that a finger points at.</summary>
    public IReadOnlyCollection<int> Pointed { get; init; } = [];

    /// <summary>Numbers that lie under a scrap of paper.</summary>
    public IReadOnlyCollection<int> Covered { get; init; } = [];

    /// <summary>Numbers with a ring round them: the steps of a walk, or what was marked.</summary>
    public IReadOnlyCollection<int> Ringed { get; init; } = [];

    /// <summary>Jumps as they are made: arcs from a number, by ones.</summary>
    public IReadOnlyList<Jump> Jumps { get; init; } = [];

    /// <summary>Numbers whose mark is bare, as they are to be found or were taken away.</summary>
    public IReadOnlyCollection<int> Away { get; init; } = [];

    internal override Laid Lay(double width, Pen pen)
    {
        int every = Math.Max(1, (High - Low) / MostDrawn + 1), ticks = (High - Low) / every + 1;
        int most = Math.Max(pen.Breaks ? Unbroken / 2 : Unbroken, (int)(width / Space)), inRow = InRow(ticks, most), rows = (ticks + inRow - 1) / inRow;
        var together = Pieces.GroupBy(p => p.At).ToList();
        // Pieces on one number stand one above the other, each as large as alone.
        double above = Above + Rise * (together.Select(g => Math.Min(g.Count(), MostStacked)).DefaultIfEmpty(1).Max() - 1), band = above + Below + Apart;
        return new(inRow * Space, rows * band - Apart, sketch =>
        {
            for (int row = 0; row < rows; row++)
            {
                int last = Math.Min(inRow, ticks - row * inRow) - 1;
                double y = row * band + above;
                sketch.Line(row == 0 ? Space / 2 : 0, y, row < rows - 1 ? inRow * Space : (last + .5) * Space, y, Role.Line);
            }
            for (int i = 0; i < ticks; i++)
            {
                int n = Low + i * every;
                double x = (i % inRow + .5) * Space, y = i / inRow * band + above;
                bool five = n % (5 * every) == 0, home = Home == n;
                sketch.Begin($"place {n}");
                sketch.Line(x, y - (five ? 5 : 3), x, y + (five ? 5 : 3), home ? Role.Home : five ? Role.Heavy : Role.Line);
                sketch.Begin(null);
                if (home) sketch.Path([new(x - 6, y - 8), new(x - 6, y - 15), new(x, y - 21), new(x + 6, y - 15), new(x + 6, y - 8)], Role.Home, closed: true);
                if (Flagged.Contains(n))
                {
                    sketch.Line(x, y - Above + 2, x, y, Role.Heavy);
                    // It flies towards the line where that ends.
                    double flies = x + Flag > inRow * Space ? -Flag : Flag;
                    sketch.Path([new(x, y - Above + 2), new(x + flies, y - Above + 6), new(x, y - Above + 10)], Role.End, closed: true);
                }
                if (Covered.Contains(n)) sketch.Rect(x - Space / 2 + 1, y + 5.5, Space - 2, Below - 6, Role.Back, 1);
                else if (home || Flagged.Contains(n) || Bears(n, i, ticks, every) && !Away.Contains(n)) sketch.Words(n.ToString(), x, y + Below - 3.1, Lettering.Size(n.ToString(), Labels == LineLabels.All ? 9 : 12, Space - 1), home || Flagged.Contains(n) ? Role.Strong : Role.Number);
                if (Ringed.Contains(n)) sketch.Rect(x - Space / 2 + .4, y + 5.2, Space - .8, Below - 5.4, Role.Ring, 5);
                if (Pointed.Contains(n)) sketch.Path([new(x, y - 7), new(x - 5, y - 19), new(x + 5, y - 19)], Role.Arrow, closed: true);
            }
            foreach (var jump in Jumps)
                for (int k = 0; k < Math.Abs(jump.By); k++) DrawArc(jump.From + Math.Sign(jump.By) * k, Math.Sign(jump.By), k == Math.Abs(jump.By) - 1);

            void DrawArc(int number, int way, bool last)
            {
                int i = number - Low, j = i + way;
                double from = (i % inRow + .5) * Space, to = (j % inRow + .5) * Space;
                if (i / inRow == j / inRow) Arc(from, to, i / inRow, way, last);
                else
                {
                    // From row to row it goes off at one end and comes in at the other.
                    Arc(from, from + way * Space / 2, i / inRow, way, false);
                    Arc(to - way * Space / 2, to, j / inRow, way, last);
                }
            }

            void Arc(double x, double to, int row, int way, bool last)
            {
                double y = row * band + above - 6;
                sketch.Path(Enumerable.Range(0, 9).Select(p => new Point(x + (to - x) * p / 8, y - 9 * Math.Sin(Math.PI * p / 8))), Role.Thin);
                if (last) sketch.Path([new(to - way * 1, y - 4), new(to, y), new(to - way * 4.5, y - 1.5)], Role.Heavy);
            }

            foreach (var group in together)
            {
                int i = Math.Clamp((group.Key - Low) / every, 0, ticks - 1), stacks = (group.Count() + MostStacked - 1) / MostStacked;
                double side = stacks == 1 ? Side : Space / stacks, x = (i % inRow + .5) * Space, foot = i / inRow * band + above - (Home == group.Key ? 16 : 5);
                foreach (var (piece, n) in group.Select((piece, n) => (piece, n)))
                    PieceShape.Draw(sketch, [piece], x + (n / MostStacked - stacks / 2.0) * side, foot - Side - n % MostStacked * Rise + (Side - side) / 2, side);
            }
        });
    }

    /// <summary>Rows of tens where it does not go into one; a few too many are no row of their own, and short lines share them out.</summary>
    private static int InRow(int ticks, int most)
    {
        int tens = most / 10 * 10, whole = ticks / tens;
        if (ticks <= most || ticks <= tens + Few) return ticks;
        return whole <= Shared && ticks % tens <= Few ? (ticks + whole - 1) / whole : tens;
    }

    private bool Bears(int n, int tick, int ticks, int every) => Labels switch
    {
        LineLabels.All => every == 1 || n % (5 * every) == 0,
        LineLabels.Fives => n % (5 * every) == 0,
        LineLabels.Ends => tick == 0 || tick == ticks - 1,
        _ => false,
    };
}

/// <summary>A house that stands upright: floors, a door below the lowest and one above the highest, and the lift.</summary>
/// <param name="Top">The door at the top; the one at the bottom is 0.</param>
/// <param name="Cab">The floor where the lift is.</param>
/// <param name="Down">It goes down next.</param>
/// <param name="Count">What is counted so far, in words: 5 rolls.</param>
public sealed record House(string Label, int Top, int Start, int Cab, bool Down, string Count) : Zone(Label)
{
    private const double Wide = 74, DoorHigh = 20, Tall = 16;

    public override string Kind => "house";

    public override Sits Sits => Sits.Line;

    internal override Laid Lay(double width, Pen pen)
    {
        int floors = Top - 1;
        double high = Math.Max(7, Math.Min(Tall, 220.0 / Math.Max(1, floors))), beside = Lettering.Width(Count, Math.Max(pen.Letters, 9)) + 8;
        double roof = 16, all = roof + 2 * DoorHigh + floors * high;
        return new(Wide + beside + 6, all, sketch =>
        {
            sketch.Path([new(0, roof), new(Wide / 2, 1), new(Wide, roof)], Role.Wall, closed: true);
            sketch.Rect(0, roof, Wide, all - roof, Role.Wall);
            Door(roof, Top);
            Door(all - DoorHigh, 0);
            for (int floor = 1; floor < Top; floor++)
            {
                double y = FloorAt(floor);
                sketch.Begin($"place {floor}");
                sketch.Rect(0, y, Wide, high, Role.Floor);
                sketch.Begin(null);
                if (floors <= 20 || floor % 5 == 0) sketch.Words(floor.ToString(), 12, y + high / 2 + Math.Min(9, .8 * high) * .36, Math.Min(9, .8 * high), floor == Start ? Role.Strong : Role.Number);
            }
            // It goes before all floors, also while it moves.
            DrawCab(Cab == Top ? roof : Cab == 0 ? all - DoorHigh : FloorAt(Cab), Cab == Top || Cab == 0 ? DoorHigh : high);
            double letters = Math.Max(pen.Letters, 9);
            sketch.Words(Count, Wide + 6 + beside / 2, all / 2 + letters, letters, Role.Label);

            double FloorAt(int floor) => roof + DoorHigh + (Top - 1 - floor) * high;

            void Door(double y, int floor)
            {
                sketch.Begin($"place {floor}");
                sketch.Rect(0, y, Wide, DoorHigh, Role.End);
                sketch.Begin(null);
                sketch.Rect(Wide / 2 - 8, y + 3, 16, DoorHigh - 3, Role.Door, 1);
                if (Cab != floor) sketch.Disc(Wide / 2 + 4, y + DoorHigh / 2 + 2, 1.3, Role.Arrow);
            }

            void DrawCab(double y, double h)
            {
                sketch.Begin("piece 0", Cab);
                sketch.Rect(Wide - 40, y + 1, 28, h - 2, Role.Cab, 1);
                double x = Wide - 26, middle = y + h / 2, arm = Math.Min(5, .36 * h);
                double tip = Down ? middle + arm : middle - arm, back = Down ? middle - arm / 2 : middle + arm / 2;
                sketch.Path([new(x - 6, back), new(x, tip), new(x + 6, back)], Role.Pattern, closed: true);
                sketch.Begin(null);
            }
        });
    }
}
