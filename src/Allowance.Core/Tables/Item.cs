using Allowance.Core.Forms;

namespace Allowance.Core.Tables;

/// <summary>How an item lies; <see cref="Marked"/> is an empty place to be filled.</summary>
public enum ItemState { Up, Down, Gone, Taken, Marked }

/// <summary>A card, a pane, a die: something of a table that can be told apart and, where <paramref name="CanTap"/>, chosen.</summary>
/// <param name="Value">−1 where it cannot be seen.</param>
public sealed record Item(int Id, int Value, Form Form, ItemState State, bool CanTap)
{
    /// <summary>What stands on it where it is no number: up, down, red.</summary>
    public string? Words { get; init; }

    /// <summary>Of the things that its picture shows, so many were added to the others; below zero, so many go away.</summary>
    public int Change { get; init; }

    /// <summary>What it shows, without telling a number that is to be found by looking.</summary>
    internal string Shows => Words ?? (Form == Form.Numeral ? Value.ToString() : Form.Facts().Label);
}

/// <summary>So many things of one colour or kind.</summary>
/// <param name="Colour">A word, or empty where colours do not matter.</param>
public sealed record Lot(string Colour, int Count);
