using Allowance.Core.Forms;

namespace Allowance.Core.Tables;

/// <summary>What a shape is there for; screen and paper give it its looks.</summary>
public enum Role
{
    Card, Back, OtherBack, Place, Picked, Covered, Section, End, Wall, Door, Cab, Floor, Thin, Line, Heavy, Home, Cloth, Plate, Ring, Rug, Tray, Die, Key,
    Piece, Counter, Pattern, Label, Number, Strong, Word, Arrow,
}

/// <summary>A shape in millimetres from the top left of its drawing.</summary>
/// <param name="Tint">0, or which of the pieces, places or colours it belongs to, from 1.</param>
public abstract record DrawnShape(Role Role, int Tint)
{
    public abstract Extent Extent { get; }

    /// <summary>What it is a part of, for a screen to show where that went from one drawing to the next: card 3, piece 1, place 7.</summary>
    public string? Of { get; init; }

    /// <summary>Of a piece: the place where it stands.</summary>
    public int? At { get; init; }
}

public sealed record RectShape(Extent Box, double Corner, Role Role, int Tint = 0) : DrawnShape(Role, Tint)
{
    public override Extent Extent => Box;
}

public sealed record DiscShape(double X, double Y, double Radius, Role Role, int Tint = 0) : DrawnShape(Role, Tint)
{
    public override Extent Extent => new(X - Radius, Y - Radius, X + Radius, Y + Radius);
}

/// <summary>Straight pieces through points; closed where it is an area.</summary>
public sealed record PathShape(IReadOnlyList<Point> Points, bool Closed, Role Role, int Tint = 0) : DrawnShape(Role, Tint)
{
    public override Extent Extent => new(Points.Min(p => p.X), Points.Min(p => p.Y), Points.Max(p => p.X), Points.Max(p => p.Y));
}

/// <summary>Words around a point on the line that they stand on.</summary>
/// <param name="Size">The height of the letters.</param>
public sealed record WordsShape(string Words, double X, double Y, double Size, Role Role, int Tint = 0) : DrawnShape(Role, Tint)
{
    public override Extent Extent => new(X - Lettering.Width(Words, Size) / 2, Y - .76 * Size, X + Lettering.Width(Words, Size) / 2, Y + .24 * Size);
}

/// <summary>A number in its form, as large as its box allows.</summary>
public sealed record PictureShape(Picture Picture, Extent Box) : DrawnShape(Role.Number, 0)
{
    public override Extent Extent => Box;
}

/// <summary>One of the drawer's things.</summary>
public sealed record ThingShape(ThingKind Kind, double X, double Y, double Radius, double Turn) : DrawnShape(Role.Counter, 0)
{
    public override Extent Extent => new(X - Radius, Y - Radius, X + Radius, Y + Radius);
}

/// <summary>Where an item can be tapped or is named.</summary>
/// <param name="Id">The word by which its kind of item is known to the page: card, pane, way.</param>
public sealed record Tap(Extent Box, Item Item, string Id, string Says, Role Role);

/// <summary>A zone where it lies.</summary>
public sealed record Part(Zone Zone, Extent Box, IReadOnlyList<DrawnShape> Shapes, IReadOnlyList<Tap> Taps);

/// <summary>The room that a drawing has, in points of the screen or of paper: words stay large enough to be read there.</summary>
public readonly record struct Room(double Width, double Height)
{
    /// <summary>The least height of words that are read, in points.</summary>
    public const double LeastLetters = 13;

    public static Room Sheet { get; } = new(420, 260);

    public static Room Thumbnail { get; } = new(240, 160);

    /// <summary>What a board of this size on some screen comes to; null where it cannot be one.</summary>
    public static Room? Of(int width, int height) => width is >= 200 and <= 4000 && height is >= 150 and <= 4000 ? new(width, height) : null;
}

/// <summary>A table seen from above, in millimetres, in the proportions of its room.</summary>
public sealed record Drawing(double Width, double Height, IReadOnlyList<Part> Parts)
{
    /// <summary>Draws zones as large as the room allows.</summary>
    public static Drawing Of(IReadOnlyList<Zone> zones, Room room, DrawnBy? by = null) => Arrangement.Of(zones, room, by ?? DrawnBy.Default);
}
