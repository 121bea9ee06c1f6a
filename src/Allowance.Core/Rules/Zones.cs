using Allowance.Core.Forms;

namespace Allowance.Core.Rules;

public enum ZoneKind { Grid, Hand, Pile, Heap, Box, Track, Board, Dice, Plates, Rings, Frame, Line, Stage, Equation, Who, Scores }

/// <summary>How an item lies; <see cref="Marked"/> is an empty place to be filled.</summary>
public enum ItemState { Up, Down, Gone, Taken, Marked }

/// <param name="Value">−1 where it cannot be seen.</param>
public sealed record Item(int Id, int Value, Form Form, ItemState State, bool CanTap)
{
    /// <summary>What stands on it where it is no number: up, down.</summary>
    public string? Words { get; init; }
}

/// <summary>A part of the table: of a line, <see cref="Count"/> is the number that is marked. Frames describe their tables in these, so that one screen draws every game.</summary>
public sealed record Zone(ZoneKind Kind, string Label, int Rows, int Columns, IReadOnlyList<Item> Items, int Count = 0)
{
    /// <summary>Of a track or a line: which numbers its sections bear.</summary>
    public ZoneLabels? Labels { get; init; }

    /// <summary>Of a track with one common piece: what it is; else each piece is a player's.</summary>
    public string? Single { get; init; }
}

/// <param name="First">The number of the first section.</param>
/// <param name="Step">1 where numbers run upwards, −1 where they run downwards.</param>
/// <param name="Shown">Which are written.</param>
public sealed record ZoneLabels(int First, int Step, LineLabels Shown)
{
    /// <summary>Where a line ends that is shown with a number on it.</summary>
    public int To { get; init; }

    /// <summary>Numbers that were taken away.</summary>
    public IReadOnlyCollection<int> Away { get; init; } = [];

    /// <summary>The household's way of drawing, with this line.</summary>
    public PictureStyle Over(PictureStyle style) => style with { Labels = Shown, LineFrom = First, LineTo = To, Away = Away };
}
