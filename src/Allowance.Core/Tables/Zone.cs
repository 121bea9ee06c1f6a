using Allowance.Core.Forms;
using Allowance.Core.Setups;

namespace Allowance.Core.Tables;

/// <summary>
/// A part of a table. Frames describe what lies there in zones; each kind of zone knows how it is drawn, in millimetres, so
/// that one drawing serves thumbnail, bench, table and sheet.
/// </summary>
/// <param name="Label">What it is, for those who do not see it.</param>
public abstract record Zone(string Label)
{
    /// <summary>One word for the kind of zone.</summary>
    public abstract string Kind { get; }

    /// <summary>Whose knobs are turned here.</summary>
    public abstract Sits Sits { get; }

    /// <summary>What lies in it that can be told apart.</summary>
    public virtual IReadOnlyList<Item> Items => [];

    /// <summary>As it looks while somebody picks these, and more are needed until it is a move.</summary>
    public virtual Zone With(IReadOnlyList<Item> picked) => this;

    /// <summary>Laid out so that it is no wider than this, where it can be as narrow as that.</summary>
    /// <param name="width">Millimetres.</param>
    internal abstract Laid Lay(double width, Pen pen);
}

/// <summary>A zone with its size, not drawn yet.</summary>
/// <param name="Draw">Draws it from the top left corner.</param>
internal sealed record Laid(double Width, double Height, Action<Sketch> Draw);

/// <summary>What drawings are made with beside the table itself.</summary>
/// <param name="Style">The household's way of showing numbers.</param>
/// <param name="Name">Who sits at a place.</param>
/// <param name="Picture">Which of the many pictures of its number an item shows, told whether it lies there for several turns; 0 for the fixed one.</param>
public sealed record DrawnBy(PictureStyle Style, Func<int, string> Name, Func<Item, bool, long> Picture)
{
    /// <summary>Without anybody's name, in the fixed pictures.</summary>
    public static DrawnBy Default { get; } = new(PictureStyle.Default, seat => $"{seat + 1}", (_, _) => 0);
}

/// <param name="Letters">How high words are written, in millimetres.</param>
/// <param name="Breaks">What would lie in one row, and too small to be read, may lie in two.</param>
internal sealed record Pen(DrawnBy By, double Letters, bool Breaks = false)
{
    /// <summary>How much room a line of words takes.</summary>
    public double Line => 1.5 * Letters;
}
