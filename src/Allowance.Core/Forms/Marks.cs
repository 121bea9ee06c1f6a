namespace Allowance.Core.Forms;

public readonly record struct Point(double X, double Y)
{
    public double To(Point other) => Math.Sqrt((X - other.X) * (X - other.X) + (Y - other.Y) * (Y - other.Y));
}

/// <summary>The corners of the space that a mark takes.</summary>
public readonly record struct Extent(double Left, double Top, double Right, double Bottom)
{
    public bool Within(double width, double height) => Left >= 0 && Top >= 0 && Right <= width && Bottom <= height;
}

/// <summary>How a mark is filled. There is one hue: the second tone marks what comes after five.</summary>
public enum Tone { Outline, Ink, Second }

/// <summary>A mark of a picture. Only marks with <see cref="Counts"/> make up the number.</summary>
public abstract record Mark(bool Counts)
{
    public abstract Extent Extent { get; }
}

public sealed record Dot(double X, double Y, double Radius, bool Counts = true, Tone Tone = Tone.Ink) : Mark(Counts)
{
    public override Extent Extent => new(X - Radius, Y - Radius, X + Radius, Y + Radius);
}

public sealed record Block(double X, double Y, double Width, double Height, double Corner, Tone Tone = Tone.Outline, bool Counts = false) : Mark(Counts)
{
    public override Extent Extent => new(X, Y, X + Width, Y + Height);
}

/// <param name="Heavy">A heavier line, as after each five.</param>
public sealed record Stroke(double X1, double Y1, double X2, double Y2, bool Heavy, bool Counts = false, Tone Tone = Tone.Ink) : Mark(Counts)
{
    public override Extent Extent => new(Math.Min(X1, X2), Math.Min(Y1, Y2), Math.Max(X1, X2), Math.Max(Y1, Y2));
}

/// <summary>A bent line through points close enough to be joined by straight pieces.</summary>
public sealed record Curve(IReadOnlyList<Point> Points, bool Heavy = false) : Mark(false)
{
    public override Extent Extent => new(Points.Min(p => p.X), Points.Min(p => p.Y), Points.Max(p => p.X), Points.Max(p => p.Y));

    public bool Equals(Curve? other) => other is not null && Heavy == other.Heavy && Points.SequenceEqual(other.Points);

    public override int GetHashCode() => HashCode.Combine(Points.Count, Points[0], Heavy);
}

/// <param name="Y">The line the letters stand on.</param>
public sealed record Glyph(string Text, double X, double Y, double Size) : Mark(false)
{
    /// <summary>The width of a letter of the typeface for children, as a share of its size; its widest figures and small letters.</summary>
    public const double LetterWidth = .62;

    public override Extent Extent => new(X - Text.Length * Size * LetterWidth / 2, Y - .74 * Size, X + Text.Length * Size * LetterWidth / 2, Y + .22 * Size);
}

/// <summary>What a household has in its drawer, drawn plainly.</summary>
public enum ThingKind { Tag, Reel, Skittle, Cube }

/// <param name="Size">The radius of the circle it stays within.</param>
/// <param name="Turn">Degrees, clockwise.</param>
public sealed record Thing(ThingKind Kind, double X, double Y, double Size, double Turn) : Mark(true)
{
    public override Extent Extent => new(X - Size, Y - Size, X + Size, Y + Size);
}

/// <summary>How a number is drawn in a form: marks in a box, without any thought of screen or paper.</summary>
public sealed record Picture(double Width, double Height, IReadOnlyList<Mark> Marks)
{
    /// <summary>How many things the picture shows.</summary>
    public int Count => Marks.Count(m => m.Counts);

    /// <summary>The same, where the last so many came to the others: they are in the second tone.</summary>
    public Picture WithAdded(int added) => Changed(added, mark => [Toned(mark, Tone.Second)]);

    /// <summary>The same, where the last so many go away: they are hollow, and struck.</summary>
    public Picture WithStruck(int gone) => Changed(gone, mark => [Toned(mark, Tone.Outline), new Stroke(mark.Extent.Left, mark.Extent.Bottom, mark.Extent.Right, mark.Extent.Top, false)]);

    /// <summary>The same, where the last so many are pushed a little apart, as beads are.</summary>
    public Picture WithApart(int last) => Changed(last, mark => [mark is Dot dot ? dot with { X = dot.X + dot.Radius } : mark]);

    private static Mark Toned(Mark mark, Tone tone) => mark switch
    {
        Dot dot => dot with { Tone = tone },
        Block block => block with { Tone = tone },
        Stroke stroke => stroke with { Tone = tone },
        _ => mark,
    };

    private Picture Changed(int last, Func<Mark, IEnumerable<Mark>> change)
    {
        int stays = Count - last, n = 0;
        return this with { Marks = [.. Marks.SelectMany(m => m.Counts && n++ >= stays ? change(m) : [m])] };
    }
}
