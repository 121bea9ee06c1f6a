using System.Collections.Immutable;
using Allowance.Core.Numbers;

namespace Allowance.Core.Materials;

/// <summary>What a thing of the household is good for in a game.</summary>
public enum Use { Packs, Dice, Spinners, Blanks, Pieces, Card, Paper, Plates, Boxes, Cloths, String, Racks, Other }

public enum Shape { Unknown, Ball, Round, Flat }

/// <summary>How large a thing is, in millimetres: the diameter of a ball; diameter and length of something round; else its three sides.</summary>
public readonly record struct Size(Shape Shape, double A = 0, double B = 0, double C = 0)
{
    /// <summary>The width of the small-parts cylinder, and its depth where it is deepest, in millimetres.</summary>
    public const double CylinderAcross = 31.7, CylinderDeep = 57.1;

    /// <summary>A smaller ball is a small part.</summary>
    public const double SmallestBall = 44.5;

    /// <summary>
    /// It fits wholly into the small-parts cylinder, standing or lying, or is a ball that is too small. The cylinder has a sloping floor;
    /// where it is deepest counts, so that in doubt a thing is small. What nobody has measured is small.
    /// </summary>
    public bool IsSmallPart => Shape switch
    {
        Shape.Ball => A < SmallestBall,
        Shape.Round => A <= CylinderAcross && B <= CylinderDeep || Diagonal(A, B) <= CylinderAcross && A <= CylinderDeep,
        Shape.Flat => Sides is [var small, var middle, var large] && Diagonal(small, middle) <= CylinderAcross && large <= CylinderDeep,
        _ => true,
    };

    private double[] Sides => [.. new[] { A, B, C }.Order()];

    private static double Diagonal(double a, double b) => Math.Sqrt(a * a + b * b);
}

/// <summary>Something the household has.</summary>
/// <param name="Faces">Of dice and spinners: what one of them shows.</param>
/// <param name="Missing">Of packs: cards that are missing, by rank.</param>
/// <param name="IsFood">It is eaten, sooner or later.</param>
/// <param name="ByColour">Of small things: how many there are of each colour, where that is known.</param>
public sealed record Material(long Id, string Name, Use Use, int Count, Size Size, Die? Faces = null, ImmutableSortedDictionary<string, int>? Missing = null, bool IsFood = false, ImmutableSortedDictionary<string, int>? ByColour = null)
{
    /// <summary>Whether somebody small could swallow one of them; paper and packs lie flat and count as large.</summary>
    public bool IsSmallPart => Use is Use.Dice or Use.Blanks or Use.Pieces && Size.IsSmallPart;

    public ImmutableSortedDictionary<string, int> Gaps => Missing ?? ImmutableSortedDictionary<string, int>.Empty;

    public ImmutableSortedDictionary<string, int> Colours => ByColour ?? ImmutableSortedDictionary<string, int>.Empty;
}

/// <summary>What each use is called, and what it can stand in for.</summary>
public static class Uses
{
    public static string Says(this Use use) => use switch
    {
        Use.Packs => "packs of cards", Use.Dice => "dice", Use.Spinners => "spinners", Use.Blanks => "blank cubes", Use.Pieces => "small things to count", Use.Card => "sheets of card", Use.Paper => "sheets of paper",
        Use.Plates => "plates", Use.Boxes => "boxes with a lid", Use.Cloths => "cloths", Use.String => "pieces of string", Use.Racks => "bead racks", _ => "something else",
    };

    public static string StandsInFor(this Use use) => use switch
    {
        Use.Packs => "dice, by drawing a card",
        Use.Dice => "smaller dice, by rolling again",
        Use.Spinners => "dice with numerals",
        Use.Blanks => "any die of one, two, three or six faces, colour dice, sign dice",
        Use.Card => "cards, slips, boards, tracks, frames",
        Use.Paper => "cards, slips, boards, tracks, rings, plates, frames",
        Use.Pieces => "markers and counters of any kind",
        Use.String => "rings on the floor",
        Use.Cloths => "a cover",
        _ => "",
    };
}
