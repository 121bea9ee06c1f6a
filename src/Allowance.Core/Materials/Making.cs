namespace Allowance.Core.Materials;

/// <summary>How things for a game are made by hand, each in one line.</summary>
public static class Making
{
    /// <summary>All of it, for those who look it up: what is made, and how.</summary>
    public static IReadOnlyList<(string Thing, string How)> All { get; } =
    [
        ("cards", "fold a sheet three times and tear it into eight"),
        ("slips", "fold a sheet four times and tear it into sixteen"),
        ("sign cards", "fold a sheet three times, tear it, and write a sign on each"),
        ("boards", "fold a sheet into as many panes as the board has, and draw along the folds"),
        ("tracks", "cut long strips, join them with tape, and draw the sections"),
        ("lines", "cut long strips, join them with tape, and fold for the places; or peg numbers to a string"),
        ("double ten-frames", "draw two rows of five squares, and the same again beneath"),
        ("dice", "write on a blank cube; or stick tape on any cube and write on that"),
        ("colour dice", "stick a scrap of coloured tape on each face of a cube"),
        ("rings", "tie a string into a ring; or draw circles"),
        ("bead racks", "thread ten beads on each of two strings, five dark and five light, between hooks"),
        ("whole-and-parts mats", "draw a broad box, and two smaller boxes beneath it that are as broad together"),
        ("bars", "cut squared paper into strips, as many squares long as the number"),
        ("spinners", "draw a circle with as many parts as numbers; a paper clip round a pencil point is the hand"),
    ];

    /// <summary>How a thing is made; in general words where it is not listed.</summary>
    public static string Of(string thing) => All.FirstOrDefault(m => m.Thing == thing).How ?? "cut and write them";
}
