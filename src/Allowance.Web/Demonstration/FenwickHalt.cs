using System.Collections.Immutable;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;
using Allowance.Core.Sittings;

namespace Allowance.Web.Demonstration;

/// <summary>An evening of the made-up household's weeks: so many days after the week began, who plays, and how.</summary>
/// <param name="Hour">When; <paramref name="Minute"/> past it.</param>
internal sealed record DemoEvening(int Day, string[] Children, string? GrownUp, Way Way, int Minutes = 10, bool IsTired = false, int Hour = 17, int Minute = 30);

/// <summary>What is made up about the family at Fenwick Halt: who they are, what lies in their drawer, and what happened in twelve weeks.</summary>
internal static class FenwickHalt
{
    public const int Weeks = 12;

    /// <summary>Nobody played in these days: they were at the sea.</summary>
    public const int AwayFrom = 43, AwayTo = 53;

    /// <summary>How each week goes; it begins on the weekday of today, so that the two days before today were played.</summary>
    public static readonly DemoEvening[] Evenings =
    [
        new(0, ["Otis", "Mags"], null, Way.Screen), new(1, ["Otis"], "Grandad Pell", Way.Refereed), new(2, ["Juno"], "Ines", Way.Notes, Hour: 9, Minute: 40), new(3, ["Otis"], "Grandad Pell", Way.Notes), new(4, ["Juno"], "Ines", Way.Notes, 5, true),
        new(5, ["Mags"], "Grandad Pell", Way.Refereed, 15), new(6, ["Juno", "Otis", "Mags"], "Ines", Way.Notes, 15),
    ];

    /// <summary>Games around the halt, typed in later.</summary>
    public static readonly string[] Away = ["Tags on the hooks", "Reels along the platform", "Shop with wagons", "Skittles", "Which train is longer"];

    /// <summary>What was written down, by day.</summary>
    public static readonly (int Day, string Child, string Words)[] Remarks =
    [
        (6, "Juno", "Counted the steps down to the platform by herself, up to six."), (20, "Otis", "Said “five and one more” when he saw six fingers."),
        (34, "Mags", "Wants to be quicker than Grandad Pell. No clock for now."), (AwayFrom, "Mags", "Ten days at the sea. We leave the cards at home."),
        (62, "Otis", "Explained to Juno why three and two is the same as two and three."),
        (70, "Juno", "Lined up the reels in two rows and saw that they were the same."), (79, "Otis", "Three and seven will not stay. We laid them out with reels, twice."), (81, "Otis", "Three and seven again. Grandad Pell hid seven reels under his hat, and he laughed."),
    ];

    /// <summary>What the grown-ups put first for a week, by day.</summary>
    public static readonly (int Day, string Child, string Skill, int Band)[] PutFirst =
    [
        (8, "Otis", "partners", 5), (15, "Juno", "glance", 4), (23, "Mags", "cross", 20), (29, "Otis", "partners", 10), (57, "Otis", "partners", 10), (64, "Mags", "cross", 20), (78, "Otis", "partners", 10),
    ];

    /// <summary>What lies in the drawer at the halt: two packs, one of them short of a six, dice, and things from the railway.</summary>
    public static readonly Material[] Drawer =
    [
        new(0, "the blue pack", Use.Packs, 1, new(Shape.Flat, 88, 63, 16)),
        new(0, "the green pack", Use.Packs, 1, new(Shape.Flat, 88, 63, 16), null, ImmutableSortedDictionary<string, int>.Empty.Add("6", 1)),
        new(0, "six-sided dice", Use.Dice, 5, new(Shape.Flat, 16, 16, 16), Die.Of(6)),
        new(0, "the ten-sided die", Use.Dice, 1, new(Shape.Ball, 20), Die.Of(10)),
        new(0, "blank wooden cubes", Use.Blanks, 6, new(Shape.Flat, 20, 20, 20)),
        new(0, "luggage tags", Use.Pieces, 60, new(Shape.Flat, 82, 41, 1)),
        new(0, "cotton reels", Use.Pieces, 40, new(Shape.Round, 30, 34), ByColour: ImmutableSortedDictionary.CreateRange<string, int>([new("red", 14), new("yellow", 12), new("blue", 14)])),
        new(0, "skittles", Use.Pieces, 12, new(Shape.Round, 45, 160)),
        new(0, "string", Use.String, 4, default),
        new(0, "card", Use.Card, 30, new(Shape.Flat, 297, 210, 0.3)),
        new(0, "paper", Use.Paper, 100, new(Shape.Flat, 297, 210, 0.1)),
        new(0, "the egg timer", Use.Other, 1, new(Shape.Round, 60, 90)),
    ];
}
