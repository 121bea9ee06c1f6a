using System.Collections.Immutable;
using Allowance.Core.Numbers;

namespace Allowance.Core.Materials;

/// <summary>Something to get out before a game.</summary>
/// <param name="Thing">In the plural, as files have it.</param>
/// <param name="One">A single one, where it is more than the plural without its last letter.</param>
public sealed record Need(string Thing, int Count, string? One = null)
{
    public const string Cards = "cards", OfDice = "dice", Pieces = "pieces";

    public string Says => $"{Count} {(Count == 1 ? One ?? Thing[..^1] : Thing)}";

    /// <summary>Of cards: the pack they are the numbers of.</summary>
    public Deck? Deck { get; private init; }

    /// <summary>Of dice: which, and how many of each.</summary>
    public ImmutableArray<(Die Die, int Count)> Dice { get; private init; } = [];

    /// <summary>Of a die that is made for the game: what stands on its faces.</summary>
    public ImmutableArray<string> Faces { get; private init; } = [];

    public static Need Pack(Deck deck) => new(Cards, deck.Cards) { Deck = deck };

    /// <summary>The dice of hands that are rolled one after another: of each die as many as one hand takes.</summary>
    public static Need For(IEnumerable<Dice> hands) =>
        For(hands.SelectMany(h => h.All.GroupBy(d => d)).GroupBy(g => g.Key).Select(g => (g.Key, g.Max(hand => hand.Count()))));

    /// <summary>All these dice.</summary>
    public static Need For(IEnumerable<Die> dice) => For(dice.GroupBy(d => d).Select(g => (g.Key, g.Count())));

    private static Need For(IEnumerable<(Die Die, int Count)> dice)
    {
        var needed = dice.ToImmutableArray();
        return new(OfDice, needed.Sum(d => d.Count), "die") { Dice = needed };
    }

    public static Need Blank(string thing, string one, IEnumerable<string> faces) => new(thing, 1, one) { Faces = [.. faces] };
}
