using System.Collections.Immutable;
using Allowance.Core.Forms;
using Allowance.Core.Numbers;

namespace Allowance.Core.Materials;

/// <summary>Dice of one kind.</summary>
/// <param name="Faces">Dots, numerals or words: a die with numerals is another thing than one with dots.</param>
public sealed record DiceNeeded(Die Die, Form Faces, int Count)
{
    public string Says => (Count == 1 ? Die.Says : $"{NumberWords.Of(Count)} dice{Die.Says["a die".Length..]}") + (Faces == Form.Dice ? "" : Faces == Form.Word ? ", in words" : ", in numerals");
}

/// <summary>Something to get out before a game.</summary>
/// <param name="Thing">In the plural, as files have it.</param>
/// <param name="One">A single one, where it is more than the plural without its last letter.</param>
public sealed record Need(string Thing, int Count, string? One = null)
{
    public const string Cards = "cards", OfDice = "dice", Pieces = "pieces";

    public string Says => !Colours.IsEmpty ? $"{Words.List(Colours.Select(c => $"{c.Count} {c.Colour}"))} pieces{(Count - Colours.Sum(c => c.Count) is > 0 and var others ? $", and {others} more" : "")}" : $"{Count} {(Count == 1 ? One ?? Thing[..^1] : Thing)}{(Alike ? " of one kind" : "")}";

    /// <summary>Of cards: the pack they are the numbers of.</summary>
    public Deck? Deck { get; private init; }

    /// <summary>Of dice: which.</summary>
    public ImmutableArray<DiceNeeded> Dice { get; private init; } = [];

    /// <summary>Of a die that is made for the game: what stands on its faces.</summary>
    public ImmutableArray<string> Faces { get; private init; } = [];

    /// <summary>Of pieces: how many of each colour; empty where colours do not matter.</summary>
    public ImmutableArray<(string Colour, int Count)> Colours { get; private init; } = [];

    /// <summary>Of pieces: all of one kind, so that they can be compared.</summary>
    public bool Alike { get; private init; }

    /// <param name="others">Beside those, of whatever colour.</param>
    public static Need PiecesOf(IEnumerable<(string Colour, int Count)> colours, int others = 0)
    {
        ImmutableArray<(string Colour, int Count)> all = [.. colours];
        return new(Pieces, all.Sum(c => c.Count) + others) { Colours = all };
    }

    public static Need PiecesAlike(int count) => new(Pieces, count) { Alike = true };

    public static Need Pack(Deck deck) => new(Cards, deck.Cards) { Deck = deck };

    /// <summary>The dice of hands that are rolled one after another: of each die as many as one hand takes.</summary>
    /// <param name="hands">With what stands on their faces.</param>
    public static Need For(IEnumerable<(Dice Dice, Form Faces)> hands) =>
        For(hands.SelectMany(h => h.Dice.All.GroupBy(d => d).Select(g => new DiceNeeded(g.Key, h.Faces, g.Count()))).GroupBy(d => (d.Die, d.Faces)).Select(g => g.MaxBy(d => d.Count)!));

    /// <summary>The same with dots on them.</summary>
    public static Need For(IEnumerable<Dice> hands) => For(hands.Select(h => (h, Form.Dice)));

    /// <summary>All these dice, which lie there at the same time.</summary>
    public static Need ForAll(IEnumerable<(Die Die, Form Faces)> dice) => For(dice.GroupBy(d => d).Select(g => new DiceNeeded(g.Key.Die, g.Key.Faces, g.Count())));

    private static Need For(IEnumerable<DiceNeeded> dice)
    {
        var needed = dice.ToImmutableArray();
        return new(OfDice, needed.Sum(d => d.Count), "die") { Dice = needed };
    }

    public static Need Blank(string thing, string one, IEnumerable<string> faces) => new(thing, 1, one) { Faces = [.. faces] };
}
